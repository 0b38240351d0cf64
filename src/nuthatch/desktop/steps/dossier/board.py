"""Dossier: its pages as they are by now, chapters, what is still missing as proof, pins, revisions; written, issued, printed."""

from __future__ import annotations

import datetime
import shutil
import tempfile
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog, QFileDialog

from nuthatch import __version__
from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import ChangeRefused
from nuthatch.core.dossier.chapters import CHAPTERS
from nuthatch.core.dossier.in_worker import asked, pages, warm, written
from nuthatch.core.dossier.links import read
from nuthatch.core.dossier.report import Made, letterhead, shown_files, waited_for
from nuthatch.core.dossier.revisions import issue, kept_state, standing_of
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.files import formats
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import cache_folder
from nuthatch.core.model.home import EvidenceFile, Home, find
from nuthatch.core.office import load_office
from nuthatch.core.steps import step_of
from nuthatch.core.units import system
from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.attached_files import open_evidence
from nuthatch.desktop.jobs import Jobs, words_of
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.steps.dossier.attached_list import AttachedList
from nuthatch.desktop.steps.dossier.chapters_list import ChaptersList
from nuthatch.desktop.steps.dossier.evidence_list import EvidenceList
from nuthatch.desktop.steps.dossier.lists import issued_spec, pins_spec
from nuthatch.desktop.steps.dossier.print_pdf import print_pdf
from nuthatch.desktop.steps.dossier.reader import DossierReader
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.workspace import row_of

IDLE = 700
"""Milliseconds a home is left alone before its pages are made anew."""


class DossierBoard(Board):
    key, title = "dossier", "Dossier"
    list_height = 150

    def build(self) -> None:
        self.sub.setVisible(False)
        self.reader = DossierReader()
        self.reader.followed.connect(self._follow)
        self.write_button = button("Write …", self._ask, "file-text", "Write a draft as PDF, page, spreadsheet or JSON")
        self.issue_button = button(
            "Issue …", self._ask_issue, "", "Write the PDF as the next revision, and remember what the home was then"
        )
        self.print_button = button("Print …", self.print_dialog, tip="Print the dossier (Ctrl P)")
        self.work.drawings.add("Pages", self.reader, row_of(*self.reader.tools(), self.write_button, self.issue_button, self.print_button))
        self._lists()
        self._jobs = Jobs(self)
        self._worker = Worker(warm)
        self.destroyed.connect(self._worker.stop)
        self._waiting: tuple[Path, str] | None = None
        self._printing: QPrinter | None = None
        self._seen: tuple[object, ...] | None = None
        self._making = False
        self._again = QTimer(self)
        self._again.setSingleShot(True)
        self._again.timeout.connect(self._make)

    def _lists(self) -> None:
        """Chapters, what is missing, what is attached, pins, revisions; the make-up beside them."""
        self.chapters = ChaptersList(self.desk)
        self.chapters.refused.connect(self.message)
        self.chapters.chosen.connect(self._show_chapter)
        self.work.lists.add("Chapters", self.chapters, self.chapters.bar)
        self.missing = EvidenceList(self.desk)
        self.missing.lead.connect(self._lead)
        self.missing.said.connect(self.message)
        self.missing.asking.connect(self._ask_requests)
        self.destroyed.connect(self.missing.stop)
        self.work.lists.add("Evidence", self.missing, self.missing.bar)
        self.files = AttachedList()
        self.files.opened.connect(self.look_into)
        self.files.dropped.connect(self.drop_evidence)
        self.work.lists.add("Attached", self.files)
        self.pins = ListPanel(self, pins_spec(), hide=("picture", "of"), ordered=True)
        self.pins.add_button.setVisible(False)
        self.add_list(self.pins, "Pinned")
        self.issued = ListPanel(self, issued_spec(), hide=("profile", "date"), carded=True)
        self.issued.add_button.setVisible(False)
        self.issued.copy_button.setVisible(False)
        self.add_list(self.issued, "Revisions")
        self.make_up = EditCard(self.desk, ("profile",))
        self.make_up.refused.connect(self.message)
        self.work.inspector.add(self.make_up)
        self.work.lists.switched.connect(lambda _: self._front())

    def _front(self) -> None:
        """What belongs to the list in front."""
        if self.work.lists.current is self.missing and self.assessment is not None:
            self.missing.follow(self.assessment)
        self.make_up.setVisible(self.work.lists.current is self.chapters)

    @property
    def settled(self) -> bool:
        """Whether the pages shown are those of the home as it is, and drawn."""
        return not self._making and not self._again.isActive() and self.reader.drawn

    def refresh(self) -> None:
        a = self.assessment
        if a is None:
            return
        self.chapters.refresh()
        self.make_up.show_part("dossier", "Make-up")
        self.pins.refresh("Pin a drawing or chart on any board with the pin beside its title; it follows the home.")
        self.issued.refresh("No revision went out yet: “Issue …” writes one and remembers the home as it was then.")
        self.files.show_files(a.home)
        self.value.setText(standing_of(a.home) if a.home.issued else "")
        self._front()
        if self._waiting is not None and not a.computing:
            (path, state), self._waiting = self._waiting, None
            self.write(path, state)
        self._follow_home()

    def showEvent(self, event: object) -> None:
        self._follow_home()

    # the pages

    def _wanted(self) -> tuple[object, ...]:
        """What the pages depend on."""
        a = self.assessment
        return (a.home, a.state.climate, system(), load_office()[0].office) if a is not None else ()

    def _follow_home(self) -> None:
        """The home may be another: its pages are made anew when it has been left alone for a moment."""
        a = self.assessment
        if a is None or not self.isVisible():
            return
        self._jobs.start("dossier’s libraries", lambda job: self._worker.start())
        if self._wanted() == self._seen:
            return
        self.reader.say("waits for " + waited_for(a) if a.computing else "being made anew …")
        if not self._making and not a.computing:
            self._again.start(IDLE if self.reader.pages else 0)

    def _make(self) -> None:
        a = self.assessment
        if a is None or a.computing or self._making or not self.isVisible():
            return
        self._making, wanted = True, self._wanted()
        path = Path(tempfile.mkdtemp(prefix="nuthatch-")) / "pages.pdf"
        said = {"home": a.home, "climate": a.climate, "path": path, "cache": cache_folder(), "made": self._made()}
        self._jobs.start(
            "pages",
            lambda job: self._worker.run(Task(pages, said)),
            lambda _: self._made_anew(path, wanted),
            lambda error: self._failed(error, path, wanted),
        )

    def _made_anew(self, path: Path, wanted: tuple[object, ...]) -> None:
        self._making, self._seen = False, wanted
        if not self.reader.show_data(path.read_bytes()):
            self.reader.say("the pages could not be read")
        path.unlink(missing_ok=True)
        path.parent.rmdir()
        self._follow_home()

    def _failed(self, error: Exception, path: Path, wanted: tuple[object, ...]) -> None:
        self._making, self._seen = False, wanted
        shutil.rmtree(path.parent, ignore_errors=True)
        if not isinstance(error, Stopped):
            self.reader.say(f"could not be made: {words_of(error, (HomeFileError,))}")

    def _made(self, state: str = "draft") -> Made:
        """How pages are made: the office's letterhead, the files they show."""
        home: Home = self.home
        return Made(
            letterhead(load_office()[0]), state=state, files=shown_files(home, self.desk.evidence_bytes), weather=self.desk.weather_bytes()
        )

    def _follow(self, address: str) -> None:
        """Where a number of a page leads: to its working, or to its field."""
        found, a = read(address), self.assessment
        if found is None or a is None:
            return
        what, ident, field = found
        if what == "result":
            node = a.figures.get(ident) or a.months.get(ident)
            if node is not None:
                self.explain.emit(node)
        else:
            self._lead(ident, field)

    def _lead(self, ident: str, field: str) -> None:
        part = find(self.home, ident)
        if part is not None:
            self.go.emit(step_of(part, field), ident, field)

    def _show_chapter(self, key: str) -> None:
        """Bring the pages to a chapter."""
        row = next((c for c in self.chapters.rows() if c.chapter == key), None)
        if row is not None:
            self.reader.go_to_heading(row.name or CHAPTERS[key].title)

    # evidence

    def look_into(self, file: EvidenceFile) -> None:
        """Open an attached file with the program for its kind."""
        reason = open_evidence(self.desk, file, self)
        if reason:
            self.message.emit(reason)

    def drop_evidence(self, file: EvidenceFile) -> None:
        self.write_button.setFocus()
        reason = self.desk.detach(file.id)
        if reason:
            self.message.emit(reason)

    def _ask_requests(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Sheets for suppliers", f"{self._file_name()}, evidence asked for.pdf", "PDF (*.pdf)")
        if name:
            self.write_requests(Path(name))

    def write_requests(self, path: Path) -> None:
        """What is asked of whom, a sheet for each supplier."""
        a = self.assessment
        if a is None:
            return
        said = {"home": a.home, "climate": a.climate, "path": path, "cache": cache_folder(), "made": self._made()}
        self._jobs.start(
            "sheets for suppliers",
            lambda job: self._worker.run(Task(asked, said)),
            lambda _: self.message.emit(f"Written: {path.name}"),
            lambda error: self.message.emit(f"Could not be written: {words_of(error, (HomeFileError,))}"),
        )

    # writing

    def _file_name(self) -> str:
        return str(self.home.name).replace("/", "-")

    def _ask(self) -> None:
        name, chosen = QFileDialog.getSaveFileName(self, "Write the dossier", f"{self._file_name()}.pdf", formats.dialog_filter("dossier"))
        if name:
            self.write(formats.named("dossier", name, chosen))

    def _ask_issue(self) -> None:
        number = len(self.home.issued) + 1
        name, _ = QFileDialog.getSaveFileName(
            self, f"Issue revision {number}", f"{self._file_name()}, revision {number}.pdf", "PDF (*.pdf)"
        )
        if name:
            self.issue(Path(name) if name.lower().endswith(".pdf") else Path(f"{name}.pdf"))

    def issue(self, path: Path) -> None:
        """Write the next revision, and remember it in the home."""
        self.write(path, f"revision {len(self.home.issued) + 1}")

    def write(self, path: Path, state: str = "draft") -> None:
        """Write the dossier in the background, in the form its name asks for; while something is computing, it waits."""
        a = self.desk.snapshot.assessment
        if a is None:
            return
        self.write_button.setEnabled(False)
        self.issue_button.setEnabled(False)
        if a.computing:
            self._waiting = path, state
            self.reader.say(f"waits for {waited_for(a)}, then it is written")
            return
        self.reader.say("writing …")
        said = {"home": a.home, "climate": a.climate, "path": path, "cache": cache_folder(), "made": self._made(state)}
        self._jobs.start(
            "dossier",
            lambda job: self._worker.run(Task(written, said)),
            lambda _: self._written(path, a, state, ""),
            lambda error: self._written(path, a, state, words_of(error, (HomeFileError,))),
        )

    def _written(self, path: Path, a: Assessment, state: str, error: str) -> None:
        self.write_button.setEnabled(True)
        self.issue_button.setEnabled(True)
        printer, self._printing = self._printing, None  # also where it failed: the next file written is no print
        if printer is not None and not error:
            self.reader.say(print_pdf(path, printer) or "sent to the printer")
            path.unlink(missing_ok=True)
            return
        self.reader.say(f"could not be written: {error}" if error else f"written: {path.name}")
        if error:
            self.message.emit(f"Dossier could not be written: {error}")
        elif state == "draft":
            self.message.emit(f"Dossier written: {path.name}")
        else:
            self._remember(path, a, state)

    def _remember(self, path: Path, a: Assessment, state: str) -> None:
        """A revision that was written stands in the home, with the home as it was."""
        folder = Path(tempfile.mkdtemp(prefix="nuthatch-"))
        kept = folder / f"{self._file_name()}, {state}.json"
        kept.write_bytes(kept_state(a.home))
        taken = self.desk.taken(kept)
        kept.unlink()
        folder.rmdir()

        def change() -> object:
            if isinstance(taken, str):
                raise ChangeRefused(taken)
            file = taken.model_copy(update={"id": fresh_ids(self.home, "evidence", 1)[0]})
            return issue(a, path.name, datetime.date.today().isoformat(), "", __version__, file)

        reason = self.desk.apply(change)  # type: ignore[arg-type]
        self.message.emit(reason or f"Issued as {state}: {path.name}; save the home to keep that")

    def print_dialog(self) -> None:
        """Ask for a printer, write the dossier and send it there."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if QPrintDialog(printer, self).exec() == QDialog.DialogCode.Accepted:
            self._printing = printer
            self.write(Path(tempfile.mkdtemp(prefix="nuthatch-")) / "dossier.pdf")

    def focus_field(self, part: str, field: str) -> bool:
        return self.pins.focus_field(part, field) or self.issued.focus_field(part, field)
