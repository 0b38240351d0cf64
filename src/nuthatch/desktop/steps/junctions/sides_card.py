"""Where the sides of a block lie, typed; measured from the inner corner of the section."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QGridLayout, QLabel, QLineEdit, QWidget

from nuthatch.core.edits.detail_edits import SIDES
from nuthatch.core.heatflow.reshaped import extent
from nuthatch.core.model.details import DetailBlock
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import show_exact, unit_of

KIND = "thickness"


class SidesCard(QWidget):
    """`typed(side, metres)` for what was entered; `wrong(words)` for what cannot be read."""

    def __init__(self, typed: Callable[[str, float], object], wrong: Callable[[str], object]) -> None:
        super().__init__()
        self._typed, self._wrong = typed, wrong
        self._shown: dict[str, str] = {}
        self.edits: dict[str, QLineEdit] = {}
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        self.head = QLabel()
        self.head.setObjectName("muted")
        self.head.setWordWrap(True)
        grid.addWidget(self.head, 0, 0, 1, 4)
        for n, side in enumerate(SIDES):
            label, edit = QLabel(side.capitalize()), QLineEdit()
            edit.setAccessibleName(f"{side.capitalize()} side of the block")
            edit.setMaximumWidth(74)
            label.setBuddy(edit)
            edit.editingFinished.connect(lambda s=side: self._entered(s))
            grid.addWidget(label, 1 + n // 2, 2 * (n % 2))
            grid.addWidget(edit, 1 + n // 2, 2 * (n % 2) + 1)
            self.edits[side] = edit

    def show_block(self, block: DetailBlock | None) -> None:
        """The sides of a block; nothing without one."""
        self.setVisible(block is not None)
        if block is None or len(block.outline) < 3:
            return
        self.head.setText(f"Sides, {unit_of(KIND)} from the inner corner")
        for side, value in zip(SIDES, extent(block.outline), strict=True):
            self._shown[side] = show_exact(value, KIND)
            self.edits[side].setText(self._shown[side])

    def _entered(self, side: str) -> None:
        text = self.edits[side].text()
        if text == self._shown.get(side):
            return
        try:
            value = read(text, KIND)
        except BadText as fault:
            self._wrong(f"{side.capitalize()} side: {fault}")
            self.edits[side].setText(self._shown.get(side, ""))
            return
        if isinstance(value, Doubt):
            self._wrong(f"{side.capitalize()} side: “{text}” has two readings; type the unit with it")
            self.edits[side].setText(self._shown.get(side, ""))
            return
        self._typed(side, value)
