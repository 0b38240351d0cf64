"""A test as it runs: zero, the ladder of pressures down and up again, zero, for each series. Pure: samples go in, what is to be done comes out.

Nothing of it knows the clock or the screen: it counts the seconds of the samples.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from statistics import fmean, pstdev

from nuthatch.core.airtest.instrument import COVERED, Sample
from nuthatch.core.airtest.ladder import (
    AGAIN,
    DISTURBED,
    DISTURBED_SHARE,
    HOLD,
    LADDER,
    PATIENCE,
    PHASES,
    SETTLE,
    STEADY,
    TUBE_PRESSURE,
    TUBE_SECONDS,
    ZERO_SECONDS,
    ZEROS,
    Act,
    Aim,
    Keep,
    PutRing,
    Rung,
    SetAside,
    most_flow,
    ring_for,
    tight,
)
from nuthatch.core.airtest.readings import DEPRESSURISING, WAYS, Reading, Ring


@dataclass
class Run:
    """One run over one or both series. `say`: what the person is told; `paused`: why it waits, '' where it goes on."""

    rings: Mapping[str, Ring]
    ways: tuple[str, ...] = WAYS
    ladder: tuple[float, ...] = LADDER
    hold: float = HOLD
    way: str = DEPRESSURISING
    phase: str = PHASES[0]
    ring: str | None = None
    rungs: list[Rung] = field(default_factory=list)
    say: str = ""
    paused: str = ""
    done: bool = False
    held: float = 0.0
    _acts: list[Act] = field(default_factory=list)
    _recent: deque[Sample] = field(default_factory=lambda: deque(maxlen=2000))
    _averaged: list[Sample] = field(default_factory=list)
    _zeros: int = 0
    _points: int = 0
    _began: float | None = None
    _lost: float | None = None
    _known: tuple[float, float] | None = None

    def __post_init__(self) -> None:
        self.way = self.ways[0]
        self._enter(PHASES[0])

    # what goes in

    def take_over(self) -> list[Act]:
        """What is to be done at the very beginning."""
        return self._given()

    def take(self, sample: Sample) -> list[Act]:
        """One sample of the gauge; what is to be done about it."""
        self._recent.append(sample)
        if not self.done and not self.paused:
            if self.phase == "readings":
                self._rung(sample)
            else:
                self._zero(sample)
        return self._given()

    def pause(self, why: str = "paused") -> list[Act]:
        """Stop the fan and wait; the reading begun is begun again."""
        if not self.done:
            self.paused, self.held = why, 0.0
            self._averaged.clear()
            self._acts.append(Aim(0.0))
        return self._given()

    def resume(self) -> list[Act]:
        """Go on where it stopped."""
        if self.paused and not self.done:
            self.paused, self._lost, self._began = "", None, None
            self._aim_now()
        return self._given()

    def keep_now(self) -> list[Act]:
        """Keep what has been averaged so far, at least for a second."""
        if not self.paused and not self.done and self.phase == "readings" and self.held >= 1.0:
            self._keep()
        return self._given()

    def again(self) -> list[Act]:
        """Take the rung begun, or else the last one kept, again."""
        kept = [n for n, r in enumerate(self.rungs) if r.state == "kept"]
        return self.retake(self._at() if self._averaged or not kept else kept[-1])

    def retake(self, n: int) -> list[Act]:
        """Take a rung of the ladder again, now; its reading stays in the record and does not count."""
        if self.phase == "readings" and 0 <= n < len(self.rungs) and not self.paused and not self.done:
            if self.rungs[n].state == "kept":
                self._acts.append(SetAside(self.rungs[n].number, AGAIN))
            self.rungs = [replace(r, state="to come") if i == n or r.state == "now" else r for i, r in enumerate(self.rungs)]
            self._next()
        return self._given()

    def longer(self, seconds: float = HOLD) -> list[Act]:
        """Hold this rung longer."""
        n = self._at()
        if self.phase == "readings" and n < len(self.rungs):
            self.rungs[n] = replace(self.rungs[n], hold=self.rungs[n].hold + seconds)
        return self._given()

    def leave_out(self) -> list[Act]:
        """Go past this rung without a reading."""
        n = self._at()
        if self.phase == "readings" and n < len(self.rungs) and not self.paused:
            self.rungs[n] = replace(self.rungs[n], state="left out")
            self._averaged.clear()
            self._next()
        return self._given()

    def stop(self) -> list[Act]:
        """Stop the fan; the run is over, what was kept stays."""
        self.done, self.say = True, "stopped; every reading kept stays in the test"
        self._averaged.clear()
        self._acts.append(Aim(0.0))
        return self._given()

    # what is to be seen

    @property
    def now(self) -> Rung | None:
        """The rung being held."""
        n = self._at()
        return self.rungs[n] if self.phase == "readings" and n < len(self.rungs) else None

    @property
    def spread(self) -> float | None:
        """How much the pressure moved in the last seconds [Pa]; None for too few samples."""
        last = [s.pressure for s in self._last(SETTLE)]
        return pstdev(last) if len(last) > 2 else None

    def trace(self, seconds: float = 180.0) -> list[Sample]:
        """The samples of the last seconds."""
        return self._last(seconds)

    # how it goes

    def _given(self) -> list[Act]:
        acts, self._acts = self._acts, []
        return acts

    def _last(self, seconds: float) -> list[Sample]:
        if not self._recent:
            return []
        since = self._recent[-1].seconds - seconds
        return [s for s in self._recent if s.seconds >= since]

    def _at(self) -> int:
        return next((n for n, r in enumerate(self.rungs) if r.state in ("now", "to come")), len(self.rungs))

    def _enter(self, phase: str) -> None:
        self.phase, self._zeros, self._began = phase, 0, None
        self._averaged.clear()
        self.held = 0.0
        if phase == "readings":
            self.rungs = [Rung(p, hold=self.hold) for p in self.ladder]
            self._fit(max(self.rings, key=lambda name: most_flow(self.rings[name]), default=COVERED))
            self._next()
        else:
            self._acts.append(Aim(0.0))
            self._fit(COVERED)
            self.say = f"{phase}: the fan is covered, {ZEROS} readings of {ZERO_SECONDS:.0f} s"

    def _fit(self, ring: str) -> None:
        if ring != self.ring:
            self.ring = ring
            self._acts.append(PutRing(ring))

    def _zero(self, sample: Sample) -> None:
        if self._began is None:
            self._began = sample.seconds + SETTLE  # the fan runs out first
        if sample.seconds < self._began:
            return
        self._averaged.append(sample)
        self.held = sample.seconds - self._began
        if self.held >= ZERO_SECONDS:
            mean = fmean(s.pressure for s in self._averaged)
            self._acts.append(Keep(self.way, self.phase, Reading(round(mean, 3), seconds=ZERO_SECONDS)))
            self._zeros += 1
            self._averaged.clear()
            self._began, self.held = sample.seconds, 0.0
            if self._zeros >= ZEROS:
                self._after_zero()

    def _after_zero(self) -> None:
        if self.phase == PHASES[0]:
            self._enter("readings")
        elif self.way != self.ways[-1]:
            self.way = self.ways[self.ways.index(self.way) + 1]
            self._known = None
            self._enter(PHASES[0])
        else:
            self.done, self.say = True, "done: every series is measured"

    def _next(self) -> None:
        """Aim at the next rung, or go on to the zero after."""
        self._averaged.clear()
        self.held, self._began = 0.0, None
        n = self._at()
        if n >= len(self.rungs):
            self._enter("zero after")
            return
        self.rungs[n] = replace(self.rungs[n], state="now")
        self._aim_now()

    def _aim_now(self) -> None:
        rung = self.now
        if rung is None:
            self._acts.append(Aim(0.0))
            return
        ring = self._ring_for(rung.target)
        if ring is not None:
            self._fit(ring)
        self._acts.append(Aim(self._sign * rung.target))
        self.say = f"ring {self.ring}: aiming at {rung.target:.0f} Pa"

    @property
    def _sign(self) -> float:
        return -1.0 if self.way == DEPRESSURISING else 1.0

    def _ring_for(self, target: float) -> str | None:
        """The ring whose range holds the flow expected at a pressure best; None before any flow is known."""
        if self._known is None:
            return None
        pressure, flow = self._known
        return ring_for(self.rings, flow * (target / pressure) ** 0.65) or self.ring

    def _rung(self, sample: Sample) -> None:
        rung = self.now
        if rung is None:
            return
        aim = self._sign * rung.target
        if self._tube_is_off(sample, aim):
            self.paused = "the pressure fell to nothing while the fan runs on: is a tube off? Put it back, then go on"
            self._averaged.clear()
            self.held = 0.0
            self._acts.append(Aim(0.0))
            return
        if self._began is None:
            self._began = sample.seconds
        if self._averaged and abs(sample.pressure - aim) > max(DISTURBED, DISTURBED_SHARE * abs(aim)):
            self._averaged.clear()  # a door, a gust: what was averaged before it would be of another pressure
            self.held, self._began = 0.0, sample.seconds
            self.say = "disturbed: the reading is begun again"
        if not self._averaged and not self._settled(aim):
            self._out_of_reach(sample, rung)
            return
        if not self._averaged and self._other_ring(sample, rung):
            return
        self._averaged.append(sample)
        self.held = self._averaged[-1].seconds - self._averaged[0].seconds
        self.say = f"ring {self.ring}: held {self.held:.0f} s of {rung.hold:.0f}"
        if self.held >= rung.hold:
            self._keep()

    def _settled(self, aim: float) -> bool:
        last = self._last(SETTLE)
        if len(last) < 3 or last[-1].seconds - last[0].seconds < SETTLE * 0.8 or last[0].seconds < (self._began or 0.0):
            return False
        mean, spread = fmean(s.pressure for s in last), self.spread or 0.0
        return abs(mean - aim) < max(4.0, 0.15 * abs(aim)) and spread < max(STEADY, 0.08 * abs(aim))

    def _out_of_reach(self, sample: Sample, rung: Rung) -> None:
        """A pressure the fan cannot hold is not waited for for ever: the highest it can hold is taken instead, once."""
        if sample.seconds - (self._began or sample.seconds) < PATIENCE:
            return
        n = self._at()
        last = self._last(SETTLE)
        reached = abs(fmean(s.pressure for s in last))
        steady = self.spread is not None and self.spread < max(STEADY, 0.08 * reached)
        lower = [t for t in self.ladder[n + 1 :] if t < 0.95 * reached]
        if steady and lower and reached > 1.05 * lower[0]:
            skipped = {i for i, r in enumerate(self.rungs) if i > n and r.target >= 0.95 * reached}
            self.rungs = [replace(r, state="left out") if i in skipped else r for i, r in enumerate(self.rungs)]
            self.rungs[n] = replace(rung, target=round(reached, 1))
            self._began = sample.seconds
            self.say = f"{rung.target:.0f} Pa is not reached: {reached:.0f} Pa is taken"
        else:
            self.rungs[n] = replace(rung, state="left out")
            self._next()

    def _other_ring(self, sample: Sample, rung: Rung) -> bool:
        """Whether the fan's pressure asks for another ring, which is then put on."""
        ring = self.rings.get(self.ring or "")
        if ring is None:
            return False
        last = self._last(SETTLE)
        fan = fmean(s.fan_pressure for s in last)
        self._known = (rung.target, ring.flow(fan))
        better = ring_for(self.rings, ring.flow(fan))
        if better is None or better == self.ring or ring.holds(fan) and not tight(ring, fan):
            return False
        self._fit(better)
        self._acts.append(Aim(self._sign * rung.target))
        self._began = sample.seconds
        return True

    def _tube_is_off(self, sample: Sample, aim: float) -> bool:
        if abs(sample.pressure) > max(TUBE_PRESSURE * abs(aim), 1.0) or sample.fan_pressure < 2.0:
            self._lost = None
            return False
        if self._lost is None:
            self._lost = sample.seconds
        known = self._known is not None or bool(self._averaged)
        return sample.seconds - self._lost >= TUBE_SECONDS and (known or sample.seconds - (self._began or 0) > 6.0)

    def _keep(self) -> None:
        ring = self.rings.get(self.ring or "")
        fan = fmean(s.fan_pressure for s in self._averaged)
        reading = Reading(round(fmean(s.pressure for s in self._averaged), 3), None, round(fan, 3), self.ring or "", round(self.held, 1))
        n = self._at()
        if ring is None or not ring.holds(fan):
            refused = f"the fan's pressure of {fan:.0f} Pa is not for ring {self.ring}: not kept"
            self.rungs[n] = replace(self.rungs[n], state="left out")
            self._next()
            self.say = f"{refused}; {self.say}"
            return
        self._known = (abs(reading.pressure), ring.flow(fan))
        self._acts.append(Keep(self.way, "point", reading))
        self.rungs[n] = replace(self.rungs[n], state="kept", number=self._points)
        self._points += 1
        self._next()
