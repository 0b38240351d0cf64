"""Files of air tests: readings taken in, photos as evidence, the report written."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from nuthatch.core.airtest.readings import Measurement as Measured
from nuthatch.core.airtest.stages import Tested
from nuthatch.core.changes.changes import Batch, ChangeRefused
from nuthatch.core.dossier import air_test_report
from nuthatch.core.dossier.air_test_body import record
from nuthatch.core.dossier.report import letterhead
from nuthatch.core.edits.air_edits import with_photo
from nuthatch.core.edits.air_tests import taken_in
from nuthatch.core.exchange import readings
from nuthatch.core.files import formats
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.air_test import AirTest
from nuthatch.core.model.home import EvidenceFile
from nuthatch.core.office import load_office
from nuthatch.core.workers import LONGEST_READING, Task, Worker, WorkerEnded
from nuthatch.desktop.jobs import Job, Jobs, words_of
from nuthatch.desktop.steps.board import Board, ListPanel

ENDINGS = (".csv", ".json")


class TestFiles:
    """What goes in and out of the tests of a home as files, in the background."""

    __test__ = False

    def __init__(self, board: Board, current: Callable[[], tuple[Tested | None, AirTest | None]], select: Callable[[str], object]) -> None:
        """current: the test that is worked on, as worked out and as it lies in the home; select: make one of an id that."""
        self.board, self._current, self._select = board, current, select
        self._jobs = Jobs(board)

    @property
    def running(self) -> bool:
        return bool(self._jobs.running)

    def ask_photo(self, panel: ListPanel) -> None:
        ident = panel.table.current_id()
        if not ident:
            self.board.message.emit("Choose the row the photo belongs to")
            return
        name, _ = QFileDialog.getOpenFileName(self.board, "Photo", "", "Pictures (*.png *.jpg *.jpeg)")
        if name:
            self.take_photo(ident, Path(name))

    def take_photo(self, ident: str, path: Path) -> None:
        """A photo of something prepared or found, among the evidence."""
        proof = self.board.desk.taken(path)
        if isinstance(proof, str):
            self.board.message.emit(proof)
        else:
            self.board.apply(with_photo(self.board.home, ident, proof))

    def ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.board, "Take in readings", "", formats.dialog_filter("readings"))
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> None:
        """A test from a file of readings, as one step; a fault in it is said and nothing changes."""
        proof = self.board.desk.taken(path)
        if isinstance(proof, str):
            self.board.message.emit(proof)
            return
        self._take(proof)

    def proofs(self) -> list[EvidenceFile]:
        """The files that prove n50 and may hold readings, while the home has no test: how a test was kept before tests were parts."""
        home = self.board.home
        if home.air_tests or home.air.n50 is None:
            return []
        return [e for e in home.evidence if e.id in (home.air.n50.files or ()) and e.name.lower().endswith(ENDINGS)]

    def take_evidence(self) -> None:
        """A test of the file that proves n50."""
        for proof in self.proofs()[:1]:
            self._take(proof)

    def _take(self, proof: EvidenceFile) -> None:
        """A test from a file among the evidence, or to be; read in the background."""
        data = self.board.desk.evidence_bytes(proof.sha256) or b""
        home = self.board.home

        def read(job: Job) -> tuple[Measured, Batch]:
            worker = Worker()
            try:
                test = worker.run(Task(readings.read, {"data": data, "name": proof.name}, LONGEST_READING))
            finally:
                worker.stop()
            assert isinstance(test, Measured)
            return test, taken_in(home, test, proof)

        def failed(error: Exception) -> None:
            words = f"reading it broke off, {error}" if isinstance(error, WorkerEnded) else words_of(error, (HomeFileError, ChangeRefused))
            self.board.message.emit(words if proof.name in words else f"{proof.name}: {words}")

        self._jobs.start("take in", read, lambda made: self._taken(made[0], made[1], proof, home), failed)

    def _taken(self, test: Measured, change: Batch, proof: EvidenceFile, home: object) -> None:
        """Into the home as it is by now."""
        try:
            self.board.apply(change if self.board.home is home else taken_in(self.board.home, test, proof))
        except ChangeRefused as why:
            self.board.message.emit(f"{proof.name}: {why}")
            return
        self._select(self.board.home.air.test)

    def ask_report(self) -> None:
        name, chosen = QFileDialog.getSaveFileName(self.board, "Write the report", "air-test.pdf", formats.dialog_filter("air test report"))
        if name:
            self.write_report(formats.named("air test report", name, chosen))

    def write_report(self, path: Path) -> None:
        """The report of the current test, written in the background."""
        (shown, part), home = self._current(), self.board.home
        if shown is None or shown.result is None:
            return
        office, result = letterhead(load_office()[0]), shown.result
        kept = record(part, home, self.board.desk.evidence_bytes)
        self.board.message.emit("Writing the report …")
        self._jobs.start(
            "report",
            lambda job: air_test_report.write(shown.test, result, path, home.name, office, kept),
            lambda _: self.board.message.emit(f"Written: {path}"),
            lambda error: self.board.message.emit(words_of(error, (HomeFileError,))),
        )
