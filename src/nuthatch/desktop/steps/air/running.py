"""A test that runs: the gauge read by a clock, the run told what it shows, what it asks for done, every reading kept at once."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nuthatch.core.airtest.instrument import Gauge, NoAnswer, Sample
from nuthatch.core.airtest.ladder import Act, Aim, Keep, PutRing, SetAside
from nuthatch.core.airtest.run import Run
from nuthatch.core.changes.changes import SetValue
from nuthatch.core.edits.air_tests import kept
from nuthatch.core.model.home import find
from nuthatch.desktop.desk import Desk
from nuthatch.standins.practice_gauge import PracticeGauge

TICK_MS, STEP = 250, 0.25
"""The gauge is read so often; a practice gauge that runs faster passes this many seconds a reading."""

UNDER_WAY = "air test"


class Running(QObject):
    """One run with one gauge. `changed` after every reading of the gauge, `kept(words)` when one is kept, `failed(words)`."""

    changed = pyqtSignal()
    kept = pyqtSignal(str)
    failed = pyqtSignal(str)

    def __init__(self, desk: Desk, test: str, run: Run, practice: PracticeGauge, speed: int = 1) -> None:
        super().__init__(desk)
        self.desk, self.test, self.run, self.practice, self.speed = desk, test, run, practice, speed
        self.gauge = Gauge(practice)
        self.sample: Sample | None = None
        self._points: list[str] = []
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self.tick)
        desk.ending.connect(self.end)
        desk.under_way[UNDER_WAY] = self

    def start(self) -> None:
        """Begin, or go on."""
        self.timer.start()
        self.tick()

    @property
    def running(self) -> bool:
        return self.timer.isActive()

    def tick(self) -> None:
        """Read the gauge once for every quarter of a second that has passed."""
        try:
            for _ in range(self.speed):
                self.practice.advance(STEP)
                self.sample = self.gauge.read()
                self._do(self.run.take(self.sample))
                if self.run.done:
                    break
        except NoAnswer as why:
            self._lost(str(why))
        if self.run.done:
            self.timer.stop()
        self.changed.emit()

    def tell(self, command: Callable[[], Iterable[Act]]) -> None:
        """A command of the person: pause, again, keep now …"""
        try:
            self._do(command())
        except NoAnswer as why:
            self._lost(str(why))
        if self.run.done:
            self.timer.stop()
        self.changed.emit()

    def _lost(self, why: str) -> None:
        """The gauge does not answer: the run waits, the fan cannot be told."""
        if not self.run.paused and not self.run.done:
            self.run.pause(f"{why}: is its cable in? Then go on")
            self.failed.emit(why)

    def _do(self, acts: Iterable[Act]) -> None:
        for act in acts:
            if isinstance(act, Aim):
                self.gauge.aim(act.pressure)
            elif isinstance(act, PutRing):
                self.gauge.ring(act.ring)
            elif isinstance(act, SetAside):
                self.desk.apply(SetValue(part=self._points[act.number], field="left_out", value=act.why))
            else:
                self._keep(act)

    def _keep(self, act: Keep) -> None:
        """A reading into the home, and the home's work kept at once: nothing measured is lost."""
        reason = self.desk.apply(lambda: kept(self.desk.home, self.test, act.way, act.moment, act.reading))
        if reason:
            self.run.pause(f"not kept: {reason}")
            self.failed.emit(reason)
            return
        if act.moment == "point":
            test = find(self.desk.home, self.test)
            self._points.append(test.readings[-1].id)  # type: ignore[union-attr]  # the test the reading was just put into
        self.desk.keep_work()
        flow = f", fan {act.reading.fan_pressure:.0f} Pa, ring {act.reading.ring}" if act.reading.fan_pressure is not None else ""
        self.kept.emit(f"Kept: {act.moment}, {act.reading.pressure:.1f} Pa{flow}".replace("-", "−"))

    def end(self) -> None:
        """Stop the clock and the fan."""
        self.timer.stop()
        if not self.run.done:
            self.tell(self.run.stop)
        if self.desk.under_way.get(UNDER_WAY) is self:
            del self.desk.under_way[UNDER_WAY]
