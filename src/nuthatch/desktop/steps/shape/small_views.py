"""Views of the drawing table: the small drawings below the large one, the section, and what moves a cut through the solid."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QSlider

from nuthatch.core.views.shape.axonometric import LEVEL
from nuthatch.desktop.widgets.sketch_view import SketchView

SMALL = 86


class SmallView(SketchView):
    """A drawing shown small: a click puts it in front."""

    pressed = pyqtSignal()

    def __init__(self, name: str) -> None:
        super().__init__(f"{name}, small", SMALL)
        self.setToolTip(f"{name}: put it in front")
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.pressed.emit()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        pass

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.pressed.emit()
        else:
            super().keyPressEvent(event)


class SectionView(SketchView):
    """The section; arrow keys move where it cuts, up and down which way."""

    moved = pyqtSignal(float, int)

    def __init__(self) -> None:
        super().__init__("Section", turns=True)
        self.turned.connect(lambda dx, _: self.moved.emit(dx * 0.004, 0))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        ways = {Qt.Key.Key_Left: -0.02, Qt.Key.Key_Right: 0.02}
        held = event is not None and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not event.modifiers()
        if event is not None and held and self._nudge(0, -1 if event.key() == Qt.Key.Key_Up else 1):
            return  # a height of the ground that is selected
        if event is not None and not event.modifiers() and Qt.Key(event.key()) in ways:
            self.moved.emit(ways[Qt.Key(event.key())], 0)
        elif event is not None and not event.modifiers() and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.moved.emit(0.0, 1)
        else:
            super().keyPressEvent(event)


class CutSlider(QSlider):
    """Where the solid is cut open, as a share of its extent; arrow keys move it. `moved(share)`."""

    moved = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__(Qt.Orientation.Vertical)
        self.setRange(0, 200)
        self.setPageStep(20)
        self.setAccessibleName("Where the solid is cut open")
        self.valueChanged.connect(lambda n: self.moved.emit(n / 200))
        self.hide()

    def show_cut(self, axis: int | None, share: float) -> None:
        """Stand where the cut is; away where there is none."""
        self.setVisible(axis is not None)
        self.setToolTip("Height of the cut" if axis == LEVEL else "Where the cut goes through")
        self.blockSignals(True)
        self.setValue(round(share * 200))
        self.blockSignals(False)
