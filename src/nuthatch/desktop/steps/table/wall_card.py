"""The card of a wall: its length to be typed, and what is worked out of its faces."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QLabel, QVBoxLayout

from nuthatch.core.model.part import Basis, FieldSpec, Given
from nuthatch.desktop.widgets.quantity_field import ElidedLabel, QuantityField

LENGTH = FieldSpec("length", "Length of the wall", "length", above=0.0, most=1000.0, short="Length", help="the wall at its end moves along")


class WallCard(QFrame):
    """Length of a wall to be typed, and what is worked out of its faces."""

    def __init__(self, do: Callable[[float], None]) -> None:
        super().__init__()
        self.setObjectName("group")
        self.length = QuantityField(LENGTH)
        self.length.entered.connect(lambda value: do(value) if value is not None else None)
        self._rows = QGridLayout()
        self._rows.setHorizontalSpacing(8)
        self._rows.setVerticalSpacing(2)
        self._rows.setColumnStretch(0, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.length)
        column.addLayout(self._rows)
        self._labels: list[tuple[ElidedLabel, QLabel]] = []

    def present(self, long: float | None, rows: list[tuple[str, str]]) -> None:
        """Show a wall; rows of (what, how much) worked out."""
        self.length.setVisible(long is not None)
        if long is not None:
            self.length.show_value(Given(value=round(long, 6), basis=Basis.DECLARED, source="drawn"))
        while len(self._labels) < len(rows):
            n = len(self._labels)
            what, much = ElidedLabel(""), QLabel()
            much.setTextFormat(Qt.TextFormat.PlainText)
            self._rows.addWidget(what, n, 0)
            self._rows.addWidget(much, n, 1, Qt.AlignmentFlag.AlignRight)
            self._labels.append((what, much))
        for n, (what, much) in enumerate(self._labels):
            for label in (what, much):
                label.setVisible(n < len(rows))
            what.put(rows[n][0] if n < len(rows) else "")
            much.setText(rows[n][1] if n < len(rows) else "")
