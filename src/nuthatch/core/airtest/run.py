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
    DEAD,
    DEAD_SPREAD,
    DISTURBED,
    DISTURBED_SHARE,
    FEWEST,
    HOLD,
    LADDER,
    PATIENCE,
    PATIENCE_BY_HAND,
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
    ladder_for,
    lowest_for,
    most_flow,
    ring_for,
    tight,
)
from nuthatch.core.airtest.readings import DEPRESSURISING, WAYS, Reading, Ring
from nuthatch.core.airtest.worked import ONE_PRESSURE, zero_of
from nuthatch.core.units import with_unit


@dataclass
class Run:
    """One run over one or both series. `say`: what the person is told; `paused`: why it waits, '' where it goes on. ladder: pressures to aim
    at, as the zero-flow pressure and the fan allow where None. hands: a person puts the rings on and covers the fan, so that the run waits
    for it; turned: a person turns the fan too."""

    rings: Mapping[str, Ring]
    ways: tuple[str, ...] = WAYS
    ladder: tuple[float, ...] | None = None
    hold: float = HOLD
    hands: bool = False
    turned: bool = False
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
    _zeros_read: list[float] = field(default_factory=list)
    _putting: str | None = None
    _short: bool = False
    _stopped: bool = False
    _still: bool = False
    _shift: float = 0.0
    _undone: dict[int, int] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.way = self.ways[0]
        self._enter(PHASES[0])

    # what goes in

    def take_over(self) -> list[Act]:
        """What is to be done at the very beginning."""
        return self._given()

    def take(self, sample: Sample) -> list[Act]:
        """One sample of the gauge; what is to be done about it. A clock of the gauge that begins again goes on where it was."""
        at = sample.seconds + self._shift
        if self._recent and at < self._recent[-1].seconds:
            self._shift += self._recent[-1].seconds - at + 0.25
            at = sample.seconds + self._shift
            self._averaged.clear()
            self.held, self._began, self._lost = 0.0, None, None
        sample = Sample(at, sample.pressure, sample.fan_pressure)
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
        if not self.paused or self.done:
            return self._given()
        self.paused, self._lost, self._began = "", None, None
        if self._putting is not None:
            self.ring, self._putting = self._putting, None
            self._acts.append(PutRing(self.ring))
        if self._short:
            self._short = False
            self.rungs = [replace(r, state="to come") if r.state == "left out" else r for r in self.rungs]
            self._next()
        else:
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
        if self.phase == PHASES[0] or not 0 <= n < len(self.rungs) or self.paused or self._stopped:
            return self._given()
        if self.rungs[n].state == "kept":
            self._acts.append(SetAside(self.rungs[n].number, AGAIN))
        self._to_come(n)
        return self._given()

    def _to_come(self, n: int) -> None:
        """A rung is to be taken (again), now, whatever of the series was done."""
        self.done = False
        self.phase = "readings"
        self.rungs = [
            replace(r, state="to come", number=-1) if i == n else replace(r, state="to come") if r.state == "now" else r
            for i, r in enumerate(self.rungs)
        ]
        self._next()

    def taken_back(self, number: int) -> list[Act]:
        """A reading kept before was undone: its rung is to be taken again."""
        n = next((i for i, r in enumerate(self.rungs) if r.number == number and r.state == "kept"), None)
        if n is not None and not self._stopped and self.done:  # a fan never starts because something is undone
            self._undone[number] = n
            self.rungs[n] = replace(self.rungs[n], state="to come", number=-1)
        elif n is not None and not self._stopped:
            self._undone[number] = n
            waits = self.paused
            self.paused = ""
            self._to_come(n)
            if waits:
                self._wait(waits)
        return self._given()

    def put_back(self, number: int) -> list[Act]:
        """A reading that was undone is there again: so is its rung."""
        n = self._undone.pop(number, None)
        if n is not None and not self._stopped and n < len(self.rungs) and self.rungs[n].state in ("now", "to come"):
            was_now = self.rungs[n].state == "now" and not self.done
            self.rungs[n] = replace(self.rungs[n], state="kept", number=number)
            if was_now and not self.paused:
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
        if self._short:  # it is enough for the person
            self._short, self.paused = False, ""
            self._enter("zero after")
        elif self.phase == "readings" and n < len(self.rungs) and not self.paused:
            self.rungs[n] = replace(self.rungs[n], state="left out")
            self._averaged.clear()
            self._next()
        return self._given()

    def stop(self) -> list[Act]:
        """Stop the fan; the run is over, what was kept stays."""
        self.done = self._stopped = True
        self.say = "stopped; every reading kept stays in the test"
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
            self.rungs = [Rung(p, hold=self.hold) for p in self._ladder(LADDER[0])]
            self._fit(max(self.rings, key=lambda name: most_flow(self.rings[name]), default=COVERED))
            self._next()
        else:
            self._acts.append(Aim(0.0))
            if phase == PHASES[0]:
                self._zeros_read, self.rungs = [], []
            self._fit(COVERED)
            self.say = f"{phase}: the fan is covered, {ZEROS} readings of {ZERO_SECONDS:.0f} s"

    def _ladder(self, highest: float) -> tuple[float, ...]:
        """The pressures of this series from one down."""
        return self.ladder or ladder_for(self._lowest, highest) or (highest,)

    @property
    def _lowest(self) -> float:
        return lowest_for(zero_of(tuple(self._zeros_read)))

    def _fit(self, ring: str) -> None:
        """Another ring, or none: put on by a person, who says when it is done, or told to the fan."""
        if ring == self.ring:
            return
        if not self.hands:
            self.ring = ring
            self._acts.append(PutRing(ring))
            return
        self._putting = ring
        self._wait(f"put ring {ring} on the fan, then go on" if ring else "stop the fan and cover it, then go on")

    def _wait(self, why: str) -> None:
        """The fan stands until the person goes on."""
        self.paused, self.held = why, 0.0
        self._averaged.clear()
        self._acts.append(Aim(0.0))

    def _zero(self, sample: Sample) -> None:
        if self._began is None:
            self._began = sample.seconds + SETTLE  # the fan runs out first
        if sample.seconds < self._began:
            return
        self._averaged.append(sample)
        self.held = sample.seconds - self._began
        if self.held >= ZERO_SECONDS:
            if self._dead():
                self._still = True
                self._wait("the zero-flow pressure is nothing and does not move at all: is a tube off? Look, then go on")
                return
            mean = fmean(s.pressure for s in self._averaged)
            self._zeros_read.append(mean)
            self._acts.append(Keep(self.way, self.phase, Reading(round(mean, 3), seconds=ZERO_SECONDS)))
            self._zeros += 1
            self._averaged.clear()
            self._began, self.held = sample.seconds, 0.0
            if self._zeros >= ZEROS:
                self._after_zero()

    def _dead(self) -> bool:
        """Whether a zero looks like a tube that is off; asked once a run."""
        values = [s.pressure for s in self._averaged]
        return not self._still and max(map(abs, values)) < DEAD and pstdev(values) < DEAD_SPREAD

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
            if not self._too_few():
                self._enter("zero after")
            return
        self.rungs[n] = replace(self.rungs[n], state="now")
        self._aim_now()

    def _too_few(self) -> bool:
        """Whether the series would end with nothing, or with too few points: then the run waits and says so."""
        kept = sum(r.state == "kept" for r in self.rungs)
        if kept >= FEWEST or (kept and len(self.rungs) < FEWEST) or all(r.state == "kept" for r in self.rungs):
            return False
        self._short = True
        words = "no reading was kept" if not kept else f"only {kept} of {FEWEST} readings were kept"
        self._wait(f"{words}: go on to take what was left out again, or leave it out to end the series")
        return True

    def _aim_now(self) -> None:
        rung = self.now
        if rung is None:
            self._acts.append(Aim(0.0))
            return
        ring = self._ring_for(rung.target)
        if ring is not None:
            self._fit(ring)
        if self.paused:
            return
        self._acts.append(Aim(self._sign * rung.target))
        aim = with_unit(self._sign * rung.target, "pascal", 0)
        self.say = f"turn the fan until it holds {aim}" if self.turned else f"ring {self.ring}: aiming at {aim}"

    @property
    def _sign(self) -> float:
        return -1.0 if self.way == DEPRESSURISING else 1.0

    def _ring_for(self, target: float) -> str | None:
        """The ring whose range holds the flow expected at a pressure best; None before any flow is known."""
        if self._known is None:
            return None
        pressure, flow = self._known
        return ring_for(self.rings, flow * (target / pressure) ** ONE_PRESSURE) or self.ring

    def _rung(self, sample: Sample) -> None:
        rung = self.now
        if rung is None:
            return
        aim = self._sign * rung.target
        if self._tube_is_off(sample, aim):
            self._wait("the pressure fell to nothing while the fan runs on: is a tube off? Put it back, then go on")
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
        """A pressure the fan cannot hold is not waited for for ever: the ladder is made anew from the highest it can hold, or, where five
        points do not fit below that, the run waits."""
        if sample.seconds - (self._began or sample.seconds) < (PATIENCE_BY_HAND if self.turned else PATIENCE):
            return
        reached = abs(fmean(s.pressure for s in self._last(SETTLE)))
        steady = self.spread is not None and self.spread < max(STEADY, 0.08 * reached)
        if not steady or reached > 0.95 * rung.target or not self._lower(rung, min(reached, self._in_range(reached, sample.fan_pressure))):
            self._leave(rung)

    def _leave(self, rung: Rung) -> None:
        self.rungs[self._at()] = replace(rung, state="left out")
        self._next()

    def _in_range(self, pressure: float, fan: float) -> float:
        """The pressure at which the ring that is on would hold the flow it has now at another [Pa]."""
        ring = self.rings.get(self.ring or "")
        if ring is None or fan <= ring.most:
            return pressure
        return float(pressure * (ring.most / fan) ** (ring.exponent / ONE_PRESSURE))

    def _lower(self, rung: Rung, highest: float) -> bool:
        """The ladder anew from the highest pressure that can be measured down, or a wait where five points do not fit below it. False
        where a point is kept already, or the ladder was given: then only the rung is left out."""
        if self.ladder or any(r.state == "kept" for r in self.rungs):
            return False
        short = f"{with_unit(rung.target, 'pascal', 0)} is not reached: {with_unit(highest, 'pascal', 0)} is the most"
        lower = ladder_for(self._lowest, 0.97 * highest)
        if not lower:
            low = with_unit(self._lowest, "pascal", 0)
            self._wait(f"{short}, and five points do not fit from {low} up: close what stands open or take a larger ring, then go on")
            return True
        self.rungs = [Rung(p, hold=self.hold) for p in lower]
        self._next()
        self.say = f"{short}; the ladder goes down from there"
        return True

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
        if not self.paused:
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
            refused = f"the fan's pressure of {with_unit(fan, 'pascal', 0)} is not for ring {self.ring}: not kept"
            if ring is None or fan < ring.least or not self._lower(self.rungs[n], self._in_range(self.rungs[n].target, fan)):
                self._leave(self.rungs[n])
            self.say = f"{refused}; {self.say}"
            return
        self._known = (abs(reading.pressure), ring.flow(fan))
        self._acts.append(Keep(self.way, "point", reading))
        self.rungs[n] = replace(self.rungs[n], state="kept", number=self._points)
        self._points += 1
        self._next()
