"""How the solid is looked at: from which side, see-through, cut open."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction, QActionGroup
from PyQt6.QtWidgets import QMenu, QPushButton, QWidget

from nuthatch.core.views.shape.axonometric import LEVEL

FROM = (
    ("From above", 32.0, 26.0),
    ("From below", 32.0, -30.0),
    ("From the front", 0.0, 14.0),
    ("From the right", 90.0, 14.0),
    ("From the back", 180.0, 14.0),
    ("From the left", -90.0, 14.0),
)
CUTS = (("Whole", None), ("Cut open level", LEVEL), ("Cut open across its length", 0), ("Cut open across its depth", 1))


class LookMenu(QPushButton):
    """`looked(turn, lift)` [°] from the menu; `cut(axis)`, None for whole; `changed` for see-through."""

    looked = pyqtSignal(float, float)
    cut = pyqtSignal(object)
    changed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__("View", parent)
        self.setAccessibleName("How the solid is looked at")
        menu = QMenu(self)
        for name, turn, lift in FROM:
            menu.addAction(name, partial(self.looked.emit, turn, lift))
        menu.addSeparator()
        self.glass = QAction("See-through", menu)
        self.glass.setCheckable(True)
        self.glass.toggled.connect(lambda _: self.changed.emit())
        menu.addAction(self.glass)
        self.shadows = QAction("Shadows of the hour chosen in Site", menu)
        self.shadows.setCheckable(True)
        self.shadows.toggled.connect(lambda _: self.changed.emit())
        menu.addAction(self.shadows)
        menu.addSeparator()
        group = QActionGroup(menu)
        self.cuts: dict[int | None, QAction] = {}
        for name, axis in CUTS:
            made = QAction(name, group)
            made.setCheckable(True)
            made.setChecked(axis is None)
            made.triggered.connect(partial(self._cut, axis))
            menu.addAction(made)
            self.cuts[axis] = made
        self.setMenu(menu)

    def _cut(self, axis: int | None, *_: object) -> None:
        self.cut.emit(axis)

    @property
    def see_through(self) -> bool:
        return self.glass.isChecked()
