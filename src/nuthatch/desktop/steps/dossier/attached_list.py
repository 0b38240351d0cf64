"""The files attached to a home: looked at, taken out."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from nuthatch.core.dossier.proof import size_words
from nuthatch.core.files.disk import printable
from nuthatch.core.model.home import EvidenceFile, Home
from nuthatch.desktop.steps.board import button


class AttachedList(QScrollArea):
    """`opened(file)`, `dropped(file)`."""

    opened = pyqtSignal(object)
    dropped = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Attached evidence")
        self.setWidgetResizable(True)
        holder = QWidget()
        holder.setObjectName("boardBody")
        self._rows = QVBoxLayout(holder)
        self._rows.setSpacing(3)
        self._rows.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.setWidget(holder)
        self._shown: tuple[EvidenceFile, ...] | None = None

    def show_files(self, home: Home) -> None:
        """The files of a home."""
        if self._shown == home.evidence:
            return
        self._shown = home.evidence
        while self._rows.count():
            item = self._rows.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()
        if not home.evidence:
            self._rows.addWidget(
                _muted(
                    "No files are attached yet: drop them on the list of what is missing, or use the paper clip beside a value’s evidence."
                )
            )
        for file in home.evidence:
            self._rows.addWidget(self._strip(file))
        if home.evidence:
            number = len(home.evidence)
            total = size_words(sum(e.size for e in home.evidence))
            self._rows.addWidget(_muted(f"{number} file{'' if number == 1 else 's'}, {total} in the home file"))

    def _strip(self, file: EvidenceFile) -> QWidget:
        strip = QWidget()
        row = QHBoxLayout(strip)
        row.setContentsMargins(0, 0, 0, 0)
        name = QLabel(f"{printable(file.name)} · {size_words(file.size)}")
        name.setTextFormat(Qt.TextFormat.PlainText)
        row.addWidget(name, 1)
        row.addWidget(button("Open", partial(self.opened.emit, file), tip=f"Open {printable(file.name)}"))
        row.addWidget(button("", partial(self.dropped.emit, file), "trash-2", f"Take {printable(file.name)} out of the home"))
        return strip


def _muted(text: str) -> QLabel:
    made = QLabel(text)
    made.setObjectName("muted")
    made.setWordWrap(True)
    return made
