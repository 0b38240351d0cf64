"""What is shown over the section of a build-up: temperatures that are chosen, or the vapour of a month."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.model.home import BuildUp
from nuthatch.core.units import kind_of, unit_of
from nuthatch.core.views.build_ups.section import INSIDE, MONTHS, Seen, vapour_of, winter_of

OVER = ("temperature", "moisture")


class SectionTools(QObject):
    """`changed` when something else is to be shown; its widgets stand in the board's row."""

    changed = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.over = QComboBox()
        self.over.addItems(OVER)
        self.over.setAccessibleName("Shown over the section")
        self.over.currentIndexChanged.connect(lambda _: self._switched())
        self.month = QComboBox()
        self.month.setAccessibleName("Month of the moisture")
        self.month.addItem("wettest month", None)
        for n, name in enumerate(MONTHS):
            self.month.addItem(name, n)
        self.month.currentIndexChanged.connect(lambda _: self.changed.emit())
        self.outside, self.inside = QDoubleSpinBox(), QDoubleSpinBox()
        for box, name in ((self.outside, "Temperature outside"), (self.inside, "Temperature inside")):
            box.setRange(-100, 200)
            box.setDecimals(1)
            box.setAccessibleName(name)
            box.setToolTip(f"{name}, for the line in the section")
            box.valueChanged.connect(lambda _: self._typed())
        self._own = False
        self._unit = ""
        self.month.hide()  # the others are shown with the row they come to stand in

    @property
    def widgets(self) -> tuple[QWidget, ...]:
        return self.over, self.month, self.outside, self.inside

    def _switched(self) -> None:
        moist = self.over.currentText() == "moisture"
        self.month.setVisible(moist)
        self.outside.setVisible(not moist)
        self.inside.setVisible(not moist)
        self.changed.emit()

    def _typed(self) -> None:
        self._own = True
        self.changed.emit()

    def seen(self, a: Assessment, build: BuildUp, selected: str) -> Seen:
        """What is to be shown of a build-up: on the winter design day until something is typed."""
        unit = unit_of("temperature")
        if not self._own or unit != self._unit:
            self._unit, self._own = unit, False
            for box, value in ((self.outside, winter_of(a)), (self.inside, INSIDE)):
                box.blockSignals(True)
                box.setSuffix(f" {unit}")
                box.setValue(kind_of("temperature").to_shown(value))
                box.blockSignals(False)
        out, into = (kind_of("temperature").to_stored(box.value()) for box in (self.outside, self.inside))
        moist = self.over.currentText() == "moisture"
        return Seen(out, into, selected, True, vapour_of(a, build) if moist else None, self.month.currentData())
