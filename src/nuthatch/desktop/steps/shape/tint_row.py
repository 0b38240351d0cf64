"""What the drawings are tinted by, with range and decimals of the legend."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QHBoxLayout, QLabel, QSpinBox, QWidget

from nuthatch.core.units import kind_of, system, unit_of
from nuthatch.core.views.shape.tinting import TINTS, Tint, round_above

Ends = Mapping[str, tuple[str, float, float]]
"""By tint that goes by numbers: their kind, where its range begins and ends at first, as stored."""
ENDS: Ends = {"U-value": ("u", 0.0, 0.6), "heat loss": ("w_per_k", 0.0, 12.0), "net gain": ("specific_energy", -100.0, 150.0)}


class TintRow(QObject):
    """`changed` when something else is asked for; `fits_anew` when fields come or go. `by` and `range` stand in the board's row. The range is
    held as it is stored, shown in the units in use."""

    changed = pyqtSignal()
    fits_anew = pyqtSignal()

    def __init__(self, parent: QObject, tints: Sequence[str] = TINTS, ends: Ends = ENDS) -> None:
        super().__init__(parent)
        self._ends, self._range, self._in = ends, (0.0, 0.0), system()
        self.by = QComboBox()
        self.by.setAccessibleName("Tint by")
        self.by.addItems(list(tints))
        self.by.currentTextChanged.connect(self._another)
        self.low, self.high, self.decimals = QDoubleSpinBox(), QDoubleSpinBox(), QSpinBox()
        self.range = QWidget()
        inner = QHBoxLayout(self.range)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(3)
        for n, (box, name) in enumerate(((self.low, "from"), (self.high, "to"))):
            box.setRange(-1000, 100000)
            box.setAccessibleName(f"Legend {name}")
            box.valueChanged.connect(lambda number, n=n: self._typed(n, number))
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
        if system() != self._in:
            self._show()
        low, high = self._range if by in self._ends else (None, None)
        return Tint(by, low, high, self.decimals.value())

    def end_above(self, most: float) -> None:
        """The range from 0 to a round number, in the unit shown, above the largest value as it is stored."""
        kind = kind_of(self._kind)
        self._range = (0.0, kind.to_stored(round_above(kind.to_shown(most))))
        self._show()
        self.changed.emit()

    @property
    def _kind(self) -> str:
        return self._ends[self.by.currentText()][0]

    def _typed(self, n: int, number: float) -> None:
        """One end; the other stays what it is, not what is left of it when it is shown."""
        typed = kind_of(self._kind).to_stored(number)
        self._range = (typed, self._range[1]) if n == 0 else (self._range[0], typed)
        self.changed.emit()

    def _show(self) -> None:
        """The range in the units in use."""
        self._in = system()
        if self.by.currentText() not in self._ends:
            return
        kind = kind_of(self._kind)
        shown = [kind.to_shown(v) for v in self._range]
        for box, value in zip((self.low, self.high), shown, strict=True):
            box.blockSignals(True)
            box.setDecimals(max(kind.decimals, 1))
            box.setSingleStep(round_above((shown[1] - shown[0]) / 12))
            box.setValue(value)
            box.setToolTip(unit_of(self._kind))
            box.blockSignals(False)

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
        self._range = self._ends.get(by, ("", 0.0, 0.0))[1:]
        self._show()
