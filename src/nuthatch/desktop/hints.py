"""The first home explains itself: five hints in a strip, one after the other, each leading to its step; put away for good by a click."""

from __future__ import annotations

import json

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from nuthatch.core.library import DATA
from nuthatch.desktop import settings


class Hints(QWidget):
    """`go(step)` where a hint leads."""

    go = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("banner")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("Hints")
        self._hints: list[dict[str, str]] = json.loads((DATA / "hints.json").read_text(encoding="utf-8"))
        self.at = -1
        self.text = QLabel()
        self.text.setTextFormat(Qt.TextFormat.PlainText)
        self.text.setWordWrap(True)
        self.next, self.away = QPushButton("Next"), QPushButton("Put away")
        self.next.clicked.connect(lambda _=False: self.show_hint(self.at + 1))
        self.away.clicked.connect(lambda _=False: self.put_away())
        self.away.setToolTip("No more hints; Home ▾, Hints brings them back")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 5, 14, 5)
        row.addWidget(self.text, 1)
        row.addWidget(self.next)
        row.addWidget(self.away)
        self.setVisible(False)

    @property
    def number(self) -> int:
        """How many there are."""
        return len(self._hints)

    def begin(self, again: bool = False) -> None:
        """The first hint, unless they were put away. again: they were asked for."""
        if again:
            settings.change(hints=True)
        if settings.load().hints:
            self.show_hint(0)

    def show_hint(self, at: int) -> None:
        """One hint, with the step it speaks of; after the last they are put away."""
        if at >= self.number:
            self.put_away()
            return
        self.at = at
        hint = self._hints[at]
        self.text.setText(f"{at + 1} of {self.number}  ·  {hint['say']}")
        self.next.setText("Next" if at + 1 < self.number else "Done")
        self.setVisible(True)
        self.go.emit(hint["step"])

    def put_away(self) -> None:
        """No more hints, in this window and the next."""
        self.setVisible(False)
        self.at = -1
        settings.change(hints=False)
