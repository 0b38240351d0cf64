"""The air test on the Air board: its chart, its readings, and whether it holds, from the file that proves n50."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout

from nuthatch.core.airtest.at_home import sized, taken_in
from nuthatch.core.airtest.chart import chart
from nuthatch.core.airtest.readings import AirTest
from nuthatch.core.airtest.summary import off_in_words
from nuthatch.core.airtest.validity import lines
from nuthatch.core.airtest.worked import Result, worked
from nuthatch.core.dossier import air_test_report
from nuthatch.core.dossier.report import letterhead
from nuthatch.core.edits.changes import ChangeRefused
from nuthatch.core.exchange import formats, readings
from nuthatch.core.exchange.homefile import HomeFileError
from nuthatch.core.office import load_office
from nuthatch.core.results.figure import CannotKnow
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import show, unit_of
from nuthatch.desktop.jobs import Jobs, words_of
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView

ENDINGS = (".csv", ".json")
NONE_YET = "No air test yet. Take in a file of readings: n50 is then measured, with the file as its evidence."


@dataclass(frozen=True)
class Shown:
    """The test that proves n50, worked out with the sizes of the home."""

    test: AirTest
    result: Result


class AirTestView:
    """Chart, readings and validity of a test; a file of readings is taken in."""

    def __init__(self, board: Board) -> None:
        self.board = board
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
        self.shown: Shown | None = None
        self.fault = ""
        self._known: tuple[object, ...] = ()

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.board, "Take in readings", "", formats.dialog_filter("readings"))
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> None:
        """n50 from a file of readings, as one step; a fault in it is said and nothing changes."""
        a = self.board.assessment
        if a is None:
            return
        proof = self.board.desk.taken(path)
        if isinstance(proof, str):
            self.board.message.emit(proof)
            return
        try:
            test = readings.read(self.board.desk.evidence_bytes(proof.sha256) or b"", path.name)
            self.board.apply(taken_in(a, test, proof))
        except (HomeFileError, ChangeRefused) as why:
            self.board.message.emit(str(why))

    def _ask_report(self) -> None:
        name, chosen = QFileDialog.getSaveFileName(self.board, "Write the report", "air-test.pdf", formats.dialog_filter("air test report"))
        if name:
            path = Path(name)
            known = formats.writes("air test report", path)
            self.write_report(path if known else path.with_name(path.name + formats.suffix_of("air test report", chosen)))

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
        self.shown = self._found()
        self._fill()

    def _found(self) -> Shown | None:
        a, self.fault = self.board.assessment, ""
        given = a.home.air.n50 if a is not None else None
        if a is None or given is None:
            return None
        names = {e.id: e for e in a.home.evidence}
        for ident in given.files or ():
            file = names.get(ident)
            data = self.board.desk.evidence_bytes(file.sha256) if file and file.name.lower().endswith(ENDINGS) else None
            if file is None or data is None:
                continue
            try:
                test = sized(a, readings.read(data, file.name))
                return Shown(test, worked(test))
            except HomeFileError:
                continue  # another table that proves it in its own way
            except CannotKnow as why:
                self.fault = f"{file.name}: {why} is wanted"
        return None

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
        asked = lines(shown.test, shown.result)
        order = sorted(range(len(asked)), key=lambda n: (asked[n].holds is not False, asked[n].holds is not None, n))
        self.validity.show_rows([(asked[n].name, (signs[asked[n].holds], asked[n].name, asked[n].says)) for n in order])

    def said(self) -> str:
        """The test in a line; '' where there is none."""
        if self.shown is None:
            return ""
        result = self.shown.result
        failing = sum(line.holds is False for line in lines(self.shown.test, result))
        spread = f" ± {show(result.n50_half, 'ach')}" if result.n50_half is not None else ""
        told = f"tested: {show(result.n50, 'ach')}{spread} {unit_of('ach')}" if result.n50 is not None else "tested"
        return (
            told if not failing else f"{told}, {failing} line{'s' if failing > 1 else ''} of its validity fail{'s' if failing == 1 else ''}"
        )


def _saying(text: str, width: float, height: float) -> Sketch:
    made = Sketch(width, max(height, 80.0), "Flow over pressure")
    made.say(text)
    return made
