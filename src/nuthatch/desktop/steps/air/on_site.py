"""The air test on site: big figures and few controls, for a laptop in poor light and one free hand; keys alone suffice."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from nuthatch.core.airtest.of_home import rings_of
from nuthatch.core.airtest.readings import DEPRESSURISING, PRESSURISING, WAYS, Ring
from nuthatch.core.airtest.run import Run
from nuthatch.core.airtest.stages import TESTED, Tested
from nuthatch.core.airtest.validity import valid
from nuthatch.core.changes.changes import Batch, SetValue
from nuthatch.core.edits.air_tests import SIMULATED
from nuthatch.core.model.air_test import AirTest
from nuthatch.core.model.home import find
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import so_many
from nuthatch.core.views.air import on_site as drawn
from nuthatch.core.views.air.test_chart import chart
from nuthatch.desktop.settings import change, load
from nuthatch.desktop.steps.air.gauge_link import PORT, Link, PracticeLink, address, over_network, over_serial, serial_ports
from nuthatch.desktop.steps.air.running import UNDER_WAY, Running
from nuthatch.desktop.steps.air.tests import AirTests
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.standins.practice_gauge import PracticeGauge, PracticeHouse, house_like

SPEEDS = (1, 5, 20)
PRACTICE, NETWORK = "practice", "network"
SERIES = {"both series": WAYS, "depressurising": (DEPRESSURISING,), "pressurising": (PRESSURISING,)}


class OnSite(QWidget):
    """The view of a running test. Space starts, keeps and goes on; A again, P pause, L longer, O leave out, Esc stops the fan."""

    def __init__(self, board: Board, tests: AirTests) -> None:
        super().__init__()
        self.board, self.tests = board, tests
        self.running: Running | None = board.desk.under_way.get(UNDER_WAY)  # it goes on where the board is made anew
        self.quiet = False
        self._asked_about = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Air test on site")
        self.steps, self.figures = SketchView("Where the test stands", 30), SketchView("Pressure and flow", 118)
        self.trace, self.ladder = SketchView("The last minutes", 78), SketchView("Ladder of pressures", 44)
        self.chart, self.results = SketchView("Flow over pressure"), SketchView("Results so far")
        for view in (self.steps, self.figures, self.trace, self.ladder, self.chart, self.results):
            view.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.main = self._big("Start", self.go_on, "Space", "onSiteMain")
        self.again = self._big("Again", lambda: self._tell("again"), "A")
        self.longer = self._big("Longer", lambda: self._tell("longer"), "L")
        self.out = self._big("Leave out", lambda: self._tell("leave_out"), "O")
        self.pause = self._big("Pause", self._pause, "P")
        self.stop = self._big("Stop fan", self.end, "Esc", "onSiteStop")
        self.ladder.clicked.connect(self.rung_clicked)
        if self.running is not None:
            self._follow(self.running)
        self._lay_out()

    def rung_clicked(self, ident: str) -> None:
        """A rung of the ladder that was clicked is taken next, or again."""
        if self.running is not None and ident.startswith("rung-"):
            run, n = self.running.run, int(ident.removeprefix("rung-"))
            self.running.tell(lambda: run.retake(n))

    def _lay_out(self) -> None:
        beside = QHBoxLayout()
        beside.addWidget(self.chart, 10)
        beside.addWidget(self.results, 8)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        for made, wide in ((self.main, 3), (self.again, 2), (self.longer, 2), (self.out, 2), (self.pause, 2), (self.stop, 2)):
            buttons.addWidget(made, wide)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        for view in (self.steps, self.figures, self.trace, self.ladder):
            column.addWidget(view)
        column.addLayout(beside, 1)
        column.addLayout(buttons)

    def _big(self, text: str, do, key: str, name: str = "onSite") -> QPushButton:  # type: ignore[no-untyped-def]  # any slot
        made = QPushButton(f"{text}\n{key}")
        made.setObjectName(name)
        made.setAccessibleName(f"{text} ({key})")
        made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        made.setMinimumHeight(52)
        made.clicked.connect(lambda _=False: do())
        return made

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """In little room the words are smaller and the last minutes lower; pressure and flow stay large."""
        narrow, low = self.width() < 520, self.height() < 540
        self.setStyleSheet("QPushButton { font-size: 12px; padding: 2px 1px; }" if narrow else "")
        self.trace.setFixedHeight(52 if low else 78)
        self.figures.setFixedHeight(102 if low else 118)
        super().resizeEvent(event)

    def tools(self) -> tuple[QWidget, ...]:
        """What stands beside the switch: which series, how fast a practice gauge runs, a tube to pull off."""
        self.series, self.speed = QComboBox(), QComboBox()
        self.series.setAccessibleName("Series to measure")
        self.series.addItems(list(SERIES))
        self.speed.setAccessibleName("Practice gauge: time runs")
        for n in SPEEDS:
            self.speed.addItem(f"time × {n}", n)
        self.speed.activated.connect(lambda _: self._faster())
        self.gauge, self.address = QComboBox(), QLineEdit(load().gauge_address)
        self.gauge.setAccessibleName("Gauge")
        self.gauge.addItem("practice gauge", PRACTICE)
        self.gauge.addItem("gauge in the network", NETWORK)
        for name in serial_ports():
            self.gauge.addItem(f"gauge at {name}", name)
        self.gauge.activated.connect(lambda _: self.refresh())
        self.address.setAccessibleName("Address of the gauge")
        self.address.setToolTip(f"Host and port, as in 192.168.4.1:{PORT}; docs/gauge-lines.md says what is spoken")
        self.address.setFixedWidth(150)
        self.tube = QPushButton("Tube off")
        self.tube.setToolTip("Practice: pull the tube off the gauge, or put it back (T)")
        self.tube.clicked.connect(lambda _=False: self._pull_tube())
        for widget in (self.series, self.gauge, self.address, self.speed, self.tube):
            widget.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        return self.series, self.gauge, self.address, self.speed, self.tube

    # what is done

    def go_on(self) -> None:
        """The main key: start, keep this point, or go on."""
        run = self.running.run if self.running is not None else None
        if run is None or run.done:
            self.start()
        elif run.paused:
            self._tell("resume")
            assert self.running is not None
            self.running.start()
        else:
            self._tell("keep_now")

    def start(self) -> None:
        """Begin a run on the current test; without a test one is prepared first."""
        board = self.board
        if not self.tests.current:
            self.tests.prepare()
            board.work.drawings.show_widget(self)
        test = self.tests.part
        if test is None:
            return
        rings = rings_of(test.fan)
        if not rings:
            board.message.emit("The test has no fan with calibrated rings: choose one in its card")
            return
        try:
            link = self.link(rings)
        except ValueError as why:
            board.message.emit(str(why))
            self.address.setFocus()
            return
        if self._holds_readings(test):
            return
        if self.running is not None:  # a port is had by one at a time
            self.running.end()
        if isinstance(link, PracticeLink):
            self._air_of(link.practice.house, test)
        run = Run(rings, ways=SERIES[self.series.currentText()], hands=not isinstance(link, PracticeLink))
        self.running = Running(board.desk, test.id, run, link)
        self._follow(self.running)
        self.running.tell(lambda: run.take_over())
        self.running.start()
        self.setFocus()

    def link(self, rings: Mapping[str, Ring]) -> Link:
        """The gauge that is chosen. Raises ValueError for an address that is none."""
        chosen = self.gauge.currentData()
        if chosen == PRACTICE:
            return PracticeLink(PracticeGauge(self.house(), rings), int(self.speed.currentData()))
        if chosen == NETWORK:
            found = address(self.address.text())
            change(gauge_address=self.address.text().strip())
            return over_network(*found)
        return over_serial(str(chosen))

    def _air_of(self, house: PracticeHouse, test: AirTest) -> None:
        """What nobody has measured is that of the practice house, as an assumption."""
        missing = [
            SetValue(part=test.id, field=n, value=Given(value=getattr(house, n), basis=Basis.ASSUMED, source=SIMULATED))
            for n in ("inside", "outside", "barometer")
            if getattr(test, n) is None
        ]
        if missing:
            self.board.apply(Batch(label="Air inside and outside, from the practice gauge", changes=tuple(missing)))

    def _holds_readings(self, test: AirTest) -> bool:
        """Whether the test is measured already, so that it is asked once before more is measured into it."""
        number = sum(r.moment == "point" for r in test.readings) + len(test.log)
        if number == 0 or self._asked_about == test.id:
            self._asked_about = ""
            return False
        self._asked_about = test.id
        self.board.message.emit(
            f"“{test.name}” holds {so_many(number, 'reading')}: Space once more measures more into it; “Follow up” makes a new test"
        )
        return True

    def _follow(self, running: Running) -> None:
        """Show what goes on."""
        running.changed.connect(self.refresh)
        running.kept.connect(self.board.message)
        running.failed.connect(self.board.message)

    def house(self) -> PracticeHouse:
        """A practice house that leaks about as this home is thought to."""
        a = self.board.assessment
        known = [a.figures[key].value if a is not None else None for key in ("n50", "air_volume")]
        return house_like(known[0], known[1], self.quiet)

    def _tell(self, command: str) -> None:
        if self.running is not None:
            self.running.tell(getattr(self.running.run, command))

    def _pause(self) -> None:
        if self.running is not None and not self.running.run.paused:
            self._tell("pause")
        else:
            self.go_on()

    def _faster(self) -> None:
        if self.running is not None:
            self.running.speed = int(self.speed.currentData())

    def _pull_tube(self) -> None:
        if self.running is not None and self.running.practice is not None:
            self.running.practice.tube = not self.running.practice.tube
            self.refresh()

    def end(self) -> None:
        """Stop the fan; what was kept stays."""
        if self.running is not None:
            self.running.end()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        known = {
            Qt.Key.Key_Space: self.go_on,
            Qt.Key.Key_A: lambda: self._tell("again"),
            Qt.Key.Key_L: lambda: self._tell("longer"),
            Qt.Key.Key_O: lambda: self._tell("leave_out"),
            Qt.Key.Key_P: self._pause,
            Qt.Key.Key_T: self._pull_tube,
            Qt.Key.Key_Escape: self.end,
        }
        do = known.get(Qt.Key(event.key()))
        if do is None or event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier or event.isAutoRepeat():
            super().keyPressEvent(event)
            return
        do()

    # what is shown

    @property
    def shown(self) -> Tested | None:
        """The test that runs, as worked out by now."""
        a = self.board.assessment
        ident = self.running.test if self.running is not None else self.tests.current
        return a.all_of(TESTED).get(ident) if a is not None else None

    def refresh(self) -> None:
        """Show the run as it stands."""
        if not self.isVisible():
            return
        running, shown = self.running, self.shown
        run = running.run if running is not None else None
        sample = running.sample if running is not None else None
        part = find(self.board.home, running.test) if running is not None else self.tests.part
        prepared = isinstance(part, AirTest) and all(p.done != "not yet" for p in part.preparations)
        holds = valid(shown.lines) if shown is not None and shown.lines else None
        flow = drawn.flow_now(run, sample)
        self.steps.show_made(lambda w, h: drawn.steps(run, prepared, holds, w, h))
        self.figures.show_made(lambda w, h: drawn.figures(run, sample, flow, w, h))
        samples = run.trace() if run is not None else []
        self.trace.show_made(lambda w, h: drawn.trace(samples, w, h))
        self.ladder.show_made(lambda w, h: drawn.ladder(run.rungs if run is not None else (), w, h))
        if shown is not None and shown.result is not None:
            result = shown.result
            self.chart.show_made(lambda w, h: chart(result, w, max(h, 160.0)))
        else:
            self.chart.show_made(_empty)
        going = run is not None and not run.done
        self.results.show_made(lambda w, h: drawn.results(shown, self._limit(), w, h, going))
        self._name_buttons(run)

    def _name_buttons(self, run: Run | None) -> None:
        idle = run is None or run.done
        keep = "Keep this point" if self.width() >= 520 else "Keep"
        word = "Start" if idle else "Go on" if run is not None and run.paused else keep
        self.main.setText(f"{word}\nSpace")
        for made in (self.again, self.longer, self.out, self.pause, self.stop):
            made.setEnabled(not idle)
        practice = self.running.practice if self.running is not None else None
        self.tube.setText("Tube on" if practice is not None and not practice.tube else "Tube off")
        self.tube.setEnabled(not idle)
        for widget in (self.series, self.gauge, self.address):
            widget.setEnabled(idle)
        chosen = self.gauge.currentData()
        self.address.setVisible(chosen == NETWORK)
        self.speed.setVisible(chosen == PRACTICE)
        self.tube.setVisible(chosen == PRACTICE)

    def _limit(self) -> float | None:
        """The limit of n50 of the home's targets."""
        a = self.board.assessment
        limits = [w.limit for v in a.verdicts for w in v.ways if w.key == "n50" and w.limit is not None] if a is not None else []
        return min(limits) if limits else None


def _empty(width: float, height: float) -> Sketch:
    made = Sketch(width, max(height, 80.0), "Flow over pressure")
    made.say("points appear here as they are kept")
    return made
