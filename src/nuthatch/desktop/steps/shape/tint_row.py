"""What the drawings are tinted by, with range and decimals of the legend."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QHBoxLayout, QLabel, QSpinBox, QWidget

from nuthatch.core.views.shape.tinting import TINTS, Tint

ENDS = {"U-value": (0.0, 0.6), "heat loss": (0.0, 12.0), "net gain": (-100.0, 150.0)}
"""Where the range of a tint by numbers begins and ends at first."""


class TintRow(QObject):
    """`changed` when something else is asked for; `fits_anew` when fields come or go. `by` and `range` stand in the board's row."""

    changed = pyqtSignal()
    fits_anew = pyqtSignal()

    def __init__(self, parent: QObject, tints: Sequence[str] = TINTS, ends: Mapping[str, tuple[float, float]] = ENDS) -> None:
        super().__init__(parent)
        self._ends = ends
        self.by = QComboBox()
        self.by.setAccessibleName("Tint by")
        self.by.addItems(list(tints))
        self.by.currentTextChanged.connect(self._another)
        self.low, self.high, self.decimals = QDoubleSpinBox(), QDoubleSpinBox(), QSpinBox()
        self.range = QWidget()
        inner = QHBoxLayout(self.range)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(3)
        for box, name in ((self.low, "from"), (self.high, "to")):
            box.setRange(-1000, 100000)
            box.setDecimals(2)
            box.setSingleStep(0.05)
            box.setAccessibleName(f"Legend {name}")
            box.valueChanged.connect(lambda _: self.changed.emit())
            inner.addWidget(QLabel(name))
            inner.addWidget(box)
        self.decimals.setRange(0, 4)
        self.decimals.setValue(2)
        self.decimals.setAccessibleName("Legend decimals")
        self.decimals.setToolTip("Decimals of the legend")
        self.decimals.valueChanged.connect(lambda _: self.changed.emit())
        inner.addWidget(self.decimals)
        self.range.hide()
        self._fit(tints[0])

    def placed(self) -> None:
        """The row stands on its board: the range of the first tint is shown, where it has one (before, it would be a window of its own)."""
        self.range.setVisible(self.by.currentText() in self._ends)

    def chosen(self) -> Tint:
        """The tint asked for."""
        by = self.by.currentText()
        low, high = (self.low.value(), self.high.value()) if by in self._ends else (None, None)
        return Tint(by, low, high, self.decimals.value())

    def _another(self, by: str) -> None:
        self.range.setVisible(by in self._ends)
        self.decimals.blockSignals(True)
        self.decimals.setValue(0 if by == "net gain" else 2)
        self.decimals.blockSignals(False)
        self.fits_anew.emit()
        self._fit(by)
        self.changed.emit()

    def _fit(self, by: str) -> None:
        """The range a tint begins with."""
        for box, value in zip((self.low, self.high), self._ends.get(by, (0.0, 0.0)), strict=True):
            box.blockSignals(True)
            box.setSingleStep(0.05 if by == "U-value" else 5.0 if by == "net gain" else 1.0)
            box.setValue(value)
            box.blockSignals(False)
