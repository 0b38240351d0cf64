"""A new home like another: what is carried over is chosen; what was measured never is."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QLabel, QLineEdit, QVBoxLayout, QWidget

from nuthatch.core.model.home import Home
from nuthatch.core.office import CARRIED, RESTS_ON, carried, like, load_office, measured_in


class NewLike(QDialog):
    """`made(home)` when the choice is taken."""

    made = pyqtSignal(object)

    def __init__(self, other: Home, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("New home like this one")
        self._other = other
        self.name = QLineEdit("New home")
        self.name.setAccessibleName("Name of the new home")
        column = QVBoxLayout(self)
        column.addWidget(QLabel(f"A new home like “{other.name}”. Its name:"))
        column.addWidget(self.name)
        column.addWidget(QLabel("Carried over:"))
        self.boxes: dict[str, QCheckBox] = {}
        for key, (title, _) in CARRIED.items():
            box = QCheckBox(title)
            box.setChecked(True)
            box.toggled.connect(lambda _: self._follow())
            self.boxes[key] = box
            column.addWidget(box)
        number = measured_in(other)
        note = QLabel(
            f"Never carried over: {number} measured value{'' if number == 1 else 's'}, attached files, the plot, the visit and the notes. "
            "What is left out starts from the office profile."
        )
        note.setObjectName("muted")
        note.setWordWrap(True)
        column.addWidget(note)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        self.ok = buttons.button(QDialogButtonBox.StandardButton.Ok)
        assert self.ok is not None
        self.ok.setText("Make the home")
        buttons.accepted.connect(self.take)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.name.selectAll()
        self.name.setFocus()

    def _chosen(self) -> set[str]:
        return {key for key, box in self.boxes.items() if box.isChecked()}

    def _follow(self) -> None:
        """A group brings along what it rests on."""
        for key in carried(self._chosen()):
            self.boxes[key].setChecked(True)
        needed = {n for key in self._chosen() for n in RESTS_ON.get(key, ())}
        for key, box in self.boxes.items():
            box.setEnabled(key not in needed)

    def take(self) -> None:
        """Make the home of what is chosen."""
        self.accept()
        self.made.emit(like(self._other, self._chosen(), load_office()[0].office.start, self.name.text().strip() or "New home"))
