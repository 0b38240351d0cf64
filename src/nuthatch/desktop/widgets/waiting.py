"""A line that says what is being worked on in the background, with a way to stop it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QWidget


class Waiting(QWidget):
    """Hidden until something begins. stop: called when it is to be given up."""

    def __init__(self, stop: Callable[[], object]) -> None:
        super().__init__()
        self._stop = stop
        self.words = QLabel()
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedWidth(160)
        self.bar.setAccessibleName("How far it is")
        self.button = QPushButton("Stop")
        self.button.setAccessibleName("Stop reading")
        self.button.clicked.connect(self.give_up)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 2)
        for widget in (self.words, self.bar, self.button):
            row.addWidget(widget)
        row.addStretch(1)
        self.hide()

    def begin(self, words: str) -> None:
        """Something begins; how far it is, is not known yet."""
        self.words.setText(f"{words} …")
        self.bar.setRange(0, 0)
        self.show()

    def tell(self, share: float) -> None:
        """How far it is, 0 to 1."""
        self.bar.setRange(0, 100)
        self.bar.setValue(round(share * 100))

    def give_up(self) -> None:
        """No longer wanted."""
        self._stop()
        self.hide()
