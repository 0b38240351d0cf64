"""A test that runs: what the gauge shows is told to the run, what the run asks for is done, every reading is kept at once."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterable
from dataclasses import replace

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nuthatch.core.airtest.instrument import Sample, Who
from nuthatch.core.airtest.ladder import Act, Aim, Keep, PutRing, SetAside
from nuthatch.core.airtest.run import Run
from nuthatch.core.changes.changes import SetValue
from nuthatch.core.edits.air_tests import kept, next_run
from nuthatch.core.model.air_test import AirTest
from nuthatch.core.model.home import find
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.steps.air.gauge_link import Link, PracticeLink
from nuthatch.standins.practice_gauge import PracticeGauge

UNDER_WAY = "air test"


class Running(QObject):
    """One run with one gauge. `changed` after every reading of the gauge, `kept(words)` when one is kept, `failed(words)`."""

    changed = pyqtSignal()
    kept = pyqtSignal(str)
    failed = pyqtSignal(str)

    def __init__(self, desk: Desk, test: str, run: Run, link: Link) -> None:
        super().__init__(desk)
        self.desk, self.test, self.run, self.link = desk, test, run, link
        link.setParent(self)
        self.sample: Sample | None = None
        self._points: list[str] = []
        self._there: set[int] = set()
        self._ended = self._silent = False
        self._runs = {way: next_run(part, way) for way in run.ways} if (part := self._part()) is not None else {}
        link.sampled.connect(self._sampled)
        link.lost.connect(self._lost)
        link.found.connect(self._found)
        link.refused.connect(self._refused)
        link.read.connect(self.changed)
        desk.changed.connect(self._changed)
        desk.ending.connect(self.end)
        desk.under_way[UNDER_WAY] = self

    # the practice gauge in this program, where it is one

    @property
    def practice(self) -> PracticeGauge | None:
        """The practice gauge of this program; None where lines go elsewhere."""
        return self.link.practice if isinstance(self.link, PracticeLink) else None

    @property
    def timer(self) -> QTimer:
        """The clock of the practice gauge."""
        assert isinstance(self.link, PracticeLink)
        return self.link.timer

    @property
    def speed(self) -> int:
        """How fast the practice gauge runs."""
        return self.link.speed if isinstance(self.link, PracticeLink) else 1

    @speed.setter
    def speed(self, value: int) -> None:
        if isinstance(self.link, PracticeLink):
            self.link.speed = value

    def tick(self) -> None:
        """Read the practice gauge now."""
        if isinstance(self.link, PracticeLink):
            self.link.tick()

    # what goes on

    def start(self) -> None:
        """Begin, or go on."""
        self.link.start()

    @property
    def running(self) -> bool:
        return self.link.reading and not self.run.done

    def tell(self, command: Callable[[], Iterable[Act]]) -> None:
        """A command of the person: pause, again, keep now …"""
        self._do(command())
        if self.link.away:
            self._waits_for_contact(self.link.away)  # who went on too early
        self._after()
        self.changed.emit()

    def _sampled(self, sample: Sample) -> None:
        self.sample, self._silent = sample, False
        self._do(self.run.take(sample))
        self._after()

    def _after(self) -> None:
        """The practice gauge stands while nothing is to be measured; a rung that is taken again at the end sets it going."""
        if isinstance(self.link, PracticeLink):
            self.link.over = self.run.done
            if self.run.done:
                self.link.timer.stop()
            elif self._ended:  # a rung is taken again when all was done
                self.link.timer.start()
            self._ended = self.run.done

    def _lost(self, why: str) -> None:
        """The gauge does not answer: the run waits; the fan is told to stop as soon as there is contact again."""
        self._waits_for_contact(why)
        if not self._silent:
            self._silent = True
            self.failed.emit(f"{why}. The fan cannot be told to stop until it answers")
            self.changed.emit()

    def _waits_for_contact(self, why: str) -> None:
        if not self.run.paused and not self.run.done:
            self._do(self.run.pause(f"{why}: is its cable in? Then go on"))

    def _found(self, who: Who) -> None:
        """First contact, or a new one: whether a person puts the rings on, or turns the fan, is the gauge's to say."""
        self._silent = False
        self.run.hands, self.run.turned = True, not who.held
        name = who.name or "the gauge"
        self.failed.emit(
            f"{name} answers{', simulated' if who.simulated else ''}; the fan stands" if self.run.paused else f"{name} answers"
        )
        self.changed.emit()

    def _refused(self, why: str) -> None:
        if not self.run.paused and not self.run.done:
            self._do(self.run.pause(f"{why}; then go on"))
        self.failed.emit(why)

    @property
    def simulated(self) -> bool:
        """Whether what is read is a practice gauge's."""
        return self.link.who is not None and self.link.who.simulated

    def _do(self, acts: Iterable[Act]) -> None:
        for act in acts:
            if isinstance(act, Aim):
                if not self.run.turned:  # a person turns it: there is nothing to tell
                    self.link.aim(act.pressure)
            elif isinstance(act, PutRing):
                self.link.ring(act.ring)
            elif isinstance(act, SetAside):
                self.desk.apply(SetValue(part=self._points[act.number], field="left_out", value=act.why))
            else:
                self._keep(act)

    def _part(self) -> AirTest | None:
        found = find(self.desk.home, self.test)
        return found if isinstance(found, AirTest) else None

    def _keep(self, act: Keep) -> None:
        """A reading into the home, and the home's work kept at once: nothing measured is lost."""
        reading = replace(act.reading, simulated=self.simulated)
        run = self._runs.get(act.way, 1)
        reason = self.desk.apply(lambda: kept(self.desk.home, self.test, act.way, act.moment, reading, run))
        part = self._part()
        if reason or part is None:
            self._do(self.run.pause(f"not kept: {reason}"))
            self.failed.emit(reason)
            return
        if act.moment == "point":
            self._points.append(part.readings[-1].id)
            self._there.add(len(self._points) - 1)
        self.desk.keep_work()
        flow = f", fan {act.reading.fan_pressure:.0f} Pa, ring {act.reading.ring}" if act.reading.fan_pressure is not None else ""
        self.kept.emit(f"Kept: {act.moment}, {act.reading.pressure:.1f} Pa{flow}".replace("-", "−"))

    def _changed(self, _: str) -> None:
        self._compared()

    def _compared(self) -> None:
        """A reading that was undone takes its rung back, one that is redone gives it again."""
        part = self._part()
        held = {r.id for r in part.readings} if part is not None else set()
        there = {n for n, ident in enumerate(self._points) if ident in held}
        gone, back = self._there - there, there - self._there
        self._there = there
        for n in sorted(gone):
            self._do(self.run.taken_back(n))
        for n in sorted(back):
            self._do(self.run.put_back(n))
        if gone or back:
            self._after()
            self.changed.emit()

    def end(self) -> None:
        """Stop the fan and let go of the gauge."""
        if not self.run.done:
            self.tell(self.run.stop)
        for signal, slot in ((self.desk.changed, self._changed), (self.desk.ending, self.end)):
            with contextlib.suppress(TypeError):
                signal.disconnect(slot)
        if trouble := self.link.close():
            self.failed.emit(trouble)
        if self.desk.under_way.get(UNDER_WAY) is self:
            del self.desk.under_way[UNDER_WAY]
