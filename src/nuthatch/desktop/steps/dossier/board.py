"""Dossier: what it holds, what is still missing, pinned drawings in order, evidence, and the buttons that write it."""

from __future__ import annotations

import tempfile
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QLabel, QScrollArea, QTextBrowser, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.in_worker import warm, written
from nuthatch.core.dossier.report import letterhead, missing_evidence, size_words, waited_for
from nuthatch.core.edits.desk import Listing
from nuthatch.core.files import formats
from nuthatch.core.files.disk import printable
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import cache_folder
from nuthatch.core.model.home import EvidenceFile, Pin, find
from nuthatch.core.office import load_office
from nuthatch.core.views.pictures import PICTURES
from nuthatch.core.workers import Task, Worker
from nuthatch.desktop.attached_files import open_evidence
from nuthatch.desktop.jobs import Jobs, words_of
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.steps.dossier.outline import outline
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.workspace import row_of

PRINT_DPI = 300


def _pins_spec() -> ListSpec:
    def what(a: Assessment, row: Pin) -> str:
        if row.picture == "working":
            return f"How it is worked out: {row.of.replace('/', ' › ').replace('_', ' ')}"
        part = find(a.home, row.of) if row.of else None
        title = PICTURES[row.picture].title if row.picture in PICTURES else row.picture
        gone = bool(row.of) and part is None
        return f"{title}: {'gone' if gone else getattr(part, 'name', '')}" if row.of else title

    columns = (Column("Caption", "name"), Column("Drawing or chart", text=what, width=250))
    return ListSpec("Pinned drawings and charts", Listing("home", "pins", Pin, "pin"), columns, False)


class DossierBoard(Board):
    key, title = "dossier", "Dossier"
    list_height = 190

    def build(self) -> None:
        self.sub.setText(
            "The documentation of compliance builds itself from the home. It can be written at any time and says what is still missing."
        )
        self.write_button = button("Write …", self._ask, "file-text", "Write the dossier as PDF, page or spreadsheet")
        self.print_button = button("Print …", self.print_dialog, tip="Print the dossier (Ctrl P)")
        self.state = QLabel()
        self.state.setObjectName("muted")
        self.state.setWordWrap(True)
        self.preview = QTextBrowser()
        self.preview.setAccessibleName("Preview of the dossier")
        self.preview.setOpenLinks(False)
        self.work.drawings.add("What it says", self.preview, row_of(self.state, self.write_button, self.print_button))
        self.pins = ListPanel(self, _pins_spec(), hide=("picture", "of"), ordered=True)
        self.pins.add_button.setVisible(False)
        self.work.lists.add("Pinned drawings and charts", self.pins, self.pins.bar)
        holder = QWidget()
        self.files = QVBoxLayout(holder)
        self.files.setSpacing(3)
        self.files.setAlignment(Qt.AlignmentFlag.AlignTop)
        scrolled = QScrollArea()
        scrolled.setWidgetResizable(True)
        scrolled.setWidget(holder)
        holder.setObjectName("boardBody")
        self.work.lists.add("Attached evidence", scrolled)
        self._shown: tuple[object, ...] | None = None
        self._jobs = Jobs(self)
        self._worker = Worker(warm)
        self.destroyed.connect(self._worker.stop)
        self._waiting: Path | None = None
        self._printing: QPrinter | None = None

    def refresh(self) -> None:
        a = self.assessment
        if a is None:
            return
        if self.isVisible():
            self._jobs.start("dossier’s libraries", lambda job: self._worker.start())
        self.preview.setHtml(outline(a))
        lacking = len(missing_evidence(a.home))
        self.state.setText(f"{len(a.questions)} open questions · {lacking} declared values without evidence")
        self.pins.refresh("Pin a drawing or chart on any board with the pin beside its title; it follows the home.")
        if self._waiting is not None and not a.computing:
            path, self._waiting = self._waiting, None
            self.write(path)
        if self._shown != a.home.evidence:
            self._shown = a.home.evidence
            self._show_files()

    def _show_files(self) -> None:
        while self.files.count():
            item = self.files.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()
        home = self.home
        if not home.evidence:
            none = QLabel("No files are attached yet: put the focus into a value and use the paper clip beside its evidence.")
            none.setObjectName("muted")
            none.setWordWrap(True)
            self.files.addWidget(none)
        for file in home.evidence:
            strip = QWidget()
            row = QHBoxLayout(strip)
            row.setContentsMargins(0, 0, 0, 0)
            name = QLabel(f"{printable(file.name)} · {size_words(file.size)}")
            name.setTextFormat(Qt.TextFormat.PlainText)
            row.addWidget(name, 1)
            row.addWidget(button("Open", partial(self.look_into, file), tip=f"Open {printable(file.name)}"))
            row.addWidget(button("", partial(self.drop_evidence, file), "trash-2", f"Take {printable(file.name)} out of the home"))
            self.files.addWidget(strip)
        if home.evidence:
            total = QLabel(
                f"{len(home.evidence)} file{'' if len(home.evidence) == 1 else 's'}, {size_words(sum(e.size for e in home.evidence))} in the home file"
            )
            total.setObjectName("muted")
            self.files.addWidget(total)

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

    def _ask(self) -> None:
        name = self.home.name.replace("/", "-") + ".pdf"
        name, chosen = QFileDialog.getSaveFileName(self, "Write the dossier", name, formats.dialog_filter("dossier"))
        if name:
            self.write(formats.named("dossier", name, chosen))

    def write(self, path: Path) -> None:
        """Write the dossier in the background, in the form its name asks for; while something is computing, it waits."""
        a = self.desk.snapshot.assessment
        if a is None:
            return
        self.write_button.setEnabled(False)
        if a.computing:
            self._waiting = path
            self.state.setText(f"waits for {waited_for(a)}, then it is written")
            return
        self.state.setText("writing …")
        said = {"home": a.home, "climate": a.climate, "path": path, "cache": cache_folder()}
        self._jobs.start(
            "dossier",
            lambda job: self._worker.run(Task(written, {**said, "office": letterhead(load_office()[0])})),
            lambda _: self._written(str(path), ""),
            lambda error: self._written(str(path), words_of(error, (HomeFileError,))),
        )

    def _written(self, path: str, error: str) -> None:
        self.write_button.setEnabled(True)
        if self._printing is not None and not error:
            printer, self._printing = self._printing, None
            self.state.setText(print_pdf(Path(path), printer) or "sent to the printer")
            Path(path).unlink(missing_ok=True)
            return
        self.state.setText(f"could not be written: {error}" if error else f"written: {path}")
        self.message.emit(f"Dossier could not be written: {error}" if error else f"Dossier written: {Path(path).name}")

    def print_dialog(self) -> None:
        """Ask for a printer, write the dossier and send it there."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if QPrintDialog(printer, self).exec() == QDialog.DialogCode.Accepted:
            self._printing = printer
            self.write(Path(tempfile.mkdtemp(prefix="nuthatch-")) / "dossier.pdf")

    def focus_field(self, part: str, field: str) -> bool:
        return self.pins.focus_field(part, field)


def print_pdf(path: Path, printer: QPrinter) -> str:
    """Print a PDF page by page; returns what went wrong, or ''."""
    sheet = QPdfDocument(None)
    if sheet.load(str(path)) != QPdfDocument.Error.None_:
        return "the dossier could not be read for printing"
    painter = QPainter()
    if not painter.begin(printer):
        return "the printer does not answer"
    for number in range(sheet.pageCount()):
        if number:
            printer.newPage()
        area = painter.viewport()
        size = sheet.pagePointSize(number)
        scale = min(area.width() / size.width(), area.height() / size.height())
        dots = min(scale, PRINT_DPI / 72)  # finer than a printed sheet shows only costs memory
        image = sheet.render(number, QSize(int(size.width() * dots), int(size.height() * dots)))
        painter.drawImage(QRect(0, 0, int(size.width() * scale), int(size.height() * scale)), image)
    painter.end()
    return ""
