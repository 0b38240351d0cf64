"""The air test on the Air board: its chart, its readings, and whether it holds, from the file that proves n50."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout

from nuthatch.core.airtest.at_home import Tested, found, taken_in
from nuthatch.core.airtest.chart import chart
from nuthatch.core.airtest.readings import AirTest
from nuthatch.core.airtest.summary import off_in_words
from nuthatch.core.dossier import air_test_report
from nuthatch.core.dossier.report import letterhead
from nuthatch.core.edits.changes import ChangeRefused
from nuthatch.core.exchange import formats, readings
from nuthatch.core.exchange.homefile import HomeFileError
from nuthatch.core.model.home import EvidenceFile
from nuthatch.core.office import load_office
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import show, unit_of
from nuthatch.desktop.jobs import Job, Jobs, words_of
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView

ENDINGS = (".csv", ".json")
NONE_YET = "No air test yet. Take in a file of readings: n50 is then measured, with the file as its evidence."


class AirTestView:
    """Chart, readings and validity of a test; a file of readings is taken in."""

    def __init__(self, board: Board, changed: Callable[[], None]) -> None:
        self.board, self.changed = board, changed
        self.drawing = SketchView("Flow over pressure")
        self.readings = ReadTable(
            "Readings", ("Series", unit_of("pascal"), unit_of("flow"), "Off the line", "Left out"), (120, 80, 90, 100, 0)
        )
        self.validity = ReadTable("Whether the test holds", ("", "What is asked", "Found"), (60, 230, 0))
        self.bar = QHBoxLayout()
        self.bar.addWidget(button("Take in readings …", self._ask, "folder-open", "An air test as CSV or JSON: n50 is measured by it"))
        self.report_button = button("Write report …", self._ask_report, "file-text", "The report of the test as PDF or page")
        self.bar.addWidget(self.report_button)
        self._jobs = Jobs(board)
        self._reading: Job | None = None
        self.shown: Tested | None = None
        self.fault = ""
        self._known: tuple[object, ...] = ()

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.board, "Take in readings", "", formats.dialog_filter("readings"))
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> None:
        """n50 from a file of readings, as one step; a fault in it is said and nothing changes."""
        proof = self.board.desk.taken(path)
        if isinstance(proof, str):
            self.board.message.emit(proof)
            return
        data = self.board.desk.evidence_bytes(proof.sha256) or b""
        self._jobs.start(
            "take in",
            lambda job: readings.read(data, path.name),
            lambda test: self._taken(test, proof),
            lambda error: self.board.message.emit(words_of(error, (HomeFileError,))),
        )

    def _taken(self, test: AirTest, proof: EvidenceFile) -> None:
        """Into the home as it is by now."""
        a = self.board.assessment
        if a is None:
            return
        try:
            self.board.apply(taken_in(a, test, proof))
        except ChangeRefused as why:
            self.board.message.emit(str(why))

    def _ask_report(self) -> None:
        name, chosen = QFileDialog.getSaveFileName(self.board, "Write the report", "air-test.pdf", formats.dialog_filter("air test report"))
        if name:
            self.write_report(formats.named("air test report", name, chosen))

    def write_report(self, path: Path) -> None:
        """The report of the test in view, written in the background."""
        shown, name = self.shown, self.board.home.name
        if shown is None:
            return
        office = letterhead(load_office()[0])
        self.board.message.emit("Writing the report …")
        self._jobs.start(
            "report",
            lambda job: air_test_report.write(shown.test, shown.result, path, name, office),
            lambda _: self.board.message.emit(f"Written: {path}"),
            lambda error: self.board.message.emit(words_of(error, (HomeFileError,))),
        )

    def refresh(self) -> None:
        """The test of the file that proves n50, read again only where file or sizes have changed."""
        a = self.board.assessment
        if a is None:
            return
        key = (a.home.air.n50, a.home.evidence, a.figures["air_volume"].value, a.figures["inner_envelope_area"].value, unit_of("flow"))
        if key == self._known:
            return
        self._known = key
        if self._reading is not None:
            self._reading.cancel()
        names = {e.id: e for e in a.home.evidence}
        proofs = [names[i] for i in (a.home.air.n50.files or () if a.home.air.n50 else ()) if i in names]
        wanted = [(e.name, self.board.desk.evidence_bytes(e.sha256)) for e in proofs if e.name.lower().endswith(ENDINGS)]
        files = [(name, data) for name, data in wanted if data is not None]
        if files:
            self._reading = self._jobs.start("read", lambda job: found(a, files), lambda made: self._show(*made))
        else:
            self._show(None, "")

    def _show(self, shown: Tested | None, fault: str) -> None:
        self.shown, self.fault = shown, fault
        self._fill()
        self.changed()

    @property
    def settled(self) -> bool:
        """Whether nothing is being read or written."""
        return not self._jobs.running

    def _fill(self) -> None:
        shown = self.shown
        self.report_button.setEnabled(shown is not None)
        if shown is None:
            text = self.fault or NONE_YET
            self.drawing.show_made(lambda w, h: _saying(text, w, h))
            self.readings.show_rows([])
            self.validity.show_rows([])
            return
        self.drawing.show_made(lambda w, h: chart(shown.result, w, max(h, 200.0)))
        rows = []
        for half in shown.result.halves:
            for n, p in enumerate(half.points):
                cells = (half.series.way, show(p.pressure, "pascal"), show(p.flow, "flow"), off_in_words(half, p))
                rows.append((f"{half.series.way}-{n}", (*cells, p.reading.left_out)))
        self.readings.show_rows(rows, (1, 2, 3))
        signs = {True: "holds", False: "fails", None: "?"}
        asked = shown.lines
        order = sorted(range(len(asked)), key=lambda n: (asked[n].holds is not False, asked[n].holds is not None, n))
        self.validity.show_rows([(asked[n].name, (signs[asked[n].holds], asked[n].name, asked[n].says)) for n in order])

    def said(self) -> str:
        """The test in a line; '' where there is none."""
        if self.shown is None:
            return ""
        result = self.shown.result
        failing = self.shown.failing
        spread = f" ± {show(result.n50_half, 'ach')}" if result.n50_half is not None else ""
        told = f"tested: {show(result.n50, 'ach')}{spread} {unit_of('ach')}" if result.n50 is not None else "tested"
        return (
            told if not failing else f"{told}, {failing} line{'s' if failing > 1 else ''} of its validity fail{'s' if failing == 1 else ''}"
        )


def _saying(text: str, width: float, height: float) -> Sketch:
    made = Sketch(width, max(height, 80.0), "Flow over pressure")
    made.say(text)
    return made
