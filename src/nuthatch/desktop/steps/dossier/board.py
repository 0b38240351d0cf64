"""Dossier: what it holds, what is still missing, and the button that writes it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QTextBrowser

from nuthatch.core.dossier.report import missing_evidence, outline, write_pdf
from nuthatch.desktop.steps.board import Board, button


class _Signals(QObject):
    done = pyqtSignal(str, str)


class _Writing(QRunnable):
    def __init__(self, assessment: object, path: Path, signals: _Signals) -> None:
        super().__init__()
        self._assessment, self._path, self._signals = assessment, path, signals

    def run(self) -> None:
        try:
            write_pdf(self._assessment, self._path)  # type: ignore[arg-type]
            self._signals.done.emit(str(self._path), "")
        except Exception as error:
            self._signals.done.emit(str(self._path), str(error))


class DossierBoard(Board):
    key, title = "dossier", "Dossier"

    def build(self) -> None:
        self.sub.setText(
            "The documentation of compliance builds itself from the home. It can be written at any time and says what is still missing."
        )
        line = QHBoxLayout()
        self.write_button = button("Write PDF …", self._ask, "file-text")
        self.state = QLabel()
        self.state.setObjectName("muted")
        line.addWidget(self.write_button)
        line.addWidget(self.state, 1)
        self.column.addLayout(line)
        self.preview = QTextBrowser()
        self.preview.setAccessibleName("Preview of the dossier")
        self.preview.setMinimumHeight(520)
        self.preview.setOpenLinks(False)
        self.column.addWidget(self.preview, 1)
        self._signals = _Signals()
        self._signals.done.connect(self._written)

    def refresh(self) -> None:
        a = self.document.assessment
        if a is None:
            return
        self.preview.setHtml(outline(a))
        lacking = len(missing_evidence(a.home))
        self.state.setText(f"{len(a.questions)} open questions · {lacking} declared values without evidence")

    def _ask(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the dossier", self.document.home.name.replace("/", "-") + ".pdf", "PDF (*.pdf)")
        if name:
            self.write(Path(name))

    def write(self, path: Path) -> None:
        """Write the PDF in the background."""
        a = self.document.assessment
        if a is None:
            return
        self.write_button.setEnabled(False)
        self.state.setText("writing …")
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(_Writing(a, path, self._signals))

    def _written(self, path: str, error: str) -> None:
        self.write_button.setEnabled(True)
        self.state.setText(f"could not be written: {error}" if error else f"written: {path}")
        self.message.emit(f"Dossier could not be written: {error}" if error else f"Dossier written: {Path(path).name}")

    def focus_field(self, part: str, field: str) -> bool:
        return False
