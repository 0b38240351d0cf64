"""Rows of a paste that could not be read, kept as text until they are mended or given up."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPlainTextEdit, QPushButton, QVBoxLayout

from nuthatch.desktop.widgets.pasting import Aside


class Mending(QFrame):
    """`again(text)` to paste the mended rows; what is given up is gone only then."""

    again = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("group")
        self.why = QLabel()
        self.why.setWordWrap(True)
        self.text = QPlainTextEdit()
        self.text.setAccessibleName("Rows to be mended")
        self.text.setTabChangesFocus(False)
        self.text.setFixedHeight(58)
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        again = QPushButton("Paste them again")
        again.clicked.connect(lambda _=False: self.paste_again())
        give_up = QPushButton("Give them up")
        give_up.clicked.connect(lambda _=False: self.clear())
        buttons = QHBoxLayout()
        buttons.addWidget(self.why, 1)
        buttons.addWidget(again)
        buttons.addWidget(give_up)
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 4, 6, 4)
        column.setSpacing(3)
        column.addLayout(buttons)
        column.addWidget(self.text)
        self.hide()

    def keep(self, rows: tuple[Aside, ...]) -> None:
        """Keep rows with why they were not read, after those kept before."""
        if not rows:
            return
        before = self.text.toPlainText().rstrip("\n") if self.isVisibleTo(self.parentWidget()) else ""
        self.text.setPlainText("\n".join([*([before] if before else []), *(r.text for r in rows)]))
        more = f" · and {len(rows) - 1} more" if len(rows) > 1 else ""
        self.why.setText(f"{len(rows)} row{'s' if len(rows) > 1 else ''} kept here as text. {rows[0].why}{more}")
        self.why.setToolTip("\n".join(r.why for r in rows))
        self.show()

    def clear(self) -> None:
        """Nothing is kept any more."""
        self.text.clear()
        self.hide()

    def paste_again(self) -> None:
        """Hand the mended rows back to the list."""
        text = self.text.toPlainText()
        self.clear()
        self.again.emit(text)
