"""What the register says where no folder is chosen yet: three lines on how to begin, each with its way in."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from nuthatch.desktop.steps.board import button
from nuthatch.desktop.theme.style import pixel_font

LINES = (
    "<p><b>1</b>&nbsp;&nbsp;Make a new home: empty, from a starter home, or like another.</p>"
    "<p><b>2</b>&nbsp;&nbsp;Say where it stands and what it must meet; “next” at the foot of the window leads from question to question.</p>"
    "<p><b>3</b>&nbsp;&nbsp;Choose the folder where you keep your home files, and all of them stand here with their tightest margin.</p>"
)


class EmptyRegister(QWidget):
    """Stands in the place of the table as long as that has no row."""

    def __init__(self, new: Callable[[], object], choose: Callable[[], object], demo: Callable[[], object]) -> None:
        super().__init__()
        text = QLabel(LINES)
        text.setWordWrap(True)
        text.setFont(pixel_font(15))
        self.first = button("New home …", new, "plus", "Empty, from a starter home, or like another (Ctrl N)")
        first = QHBoxLayout()
        tip = "Three homes and a scheme of 24 plots, all made up"
        first.addWidget(self.first)
        first.addWidget(button("Choose a folder …", choose, "folder-open", "A folder with home files"))
        first.addWidget(button("Show the demo homes", demo, tip=tip))
        first.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 36, 0, 0)
        column.setSpacing(14)
        column.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(text)
        column.addLayout(first)
