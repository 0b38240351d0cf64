"""A framed build-up from the R of its cavity and of what is continuous, for those who work that way."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QGridLayout, QLabel, QPushButton, QWidget

from nuthatch.core.model.part import FieldSpec
from nuthatch.desktop.widgets.quantity_field import QuantityField

FIELDS = (
    FieldSpec("cavity", "R of the cavity", "resistance", above=0, most=50, short="Cavity R"),
    FieldSpec("continuous", "R of continuous insulation", "resistance", least=0, most=50, short="Continuous R"),
    FieldSpec("share", "Framing share", "percent", least=0, most=0.89, short="Framing"),
    FieldSpec("depth", "Depth of the framing", "thickness", above=0, most=1, short="Depth"),
)


class ByR(QWidget):
    """Four fields and a button; `make(cavity, continuous, share, depth)` when it is pressed."""

    def __init__(self, make: Callable[[float, float, float, float], None]) -> None:
        super().__init__()
        self._make = make
        self.fields = {spec.name: QuantityField(spec) for spec in FIELDS}
        self.values: dict[str, float | None] = dict.fromkeys(self.fields)
        row = QGridLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setHorizontalSpacing(10)
        for n, (name, field) in enumerate(self.fields.items()):
            field.entered.connect(lambda value, name=name: self._take(name, value))
            row.addWidget(field, n // 2, n % 2)
            row.setColumnStretch(n % 2, 1)
        self.button = QPushButton("Make")
        self.button.setAccessibleName("Make a build-up from these")
        self.button.clicked.connect(self._pressed)
        row.addWidget(self.button, 0, 2)
        self.note = QLabel()
        self.note.setObjectName("muted")
        row.addWidget(self.note, 1, 2)
        self._say()

    def _take(self, name: str, value: float | None) -> None:
        self.values[name] = value
        self._say()

    def _say(self) -> None:
        lost = [spec.brief for spec in FIELDS if self.values[spec.name] is None]
        self.note.setText(f"needs {lost[0]}" if lost else "")
        self.button.setEnabled(not lost)

    def _pressed(self) -> None:
        found = [self.values[spec.name] for spec in FIELDS]
        if all(v is not None for v in found):
            self._make(*found)  # type: ignore[arg-type]  # none is None
