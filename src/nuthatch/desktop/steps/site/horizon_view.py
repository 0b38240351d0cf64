"""The horizon as it is drawn on: a double click puts a point, Del takes the selected one away."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from nuthatch.core.views.skyline import Panorama
from nuthatch.desktop.widgets.sketch_view import SketchView


class HorizonView(SketchView):
    """`put(azimuth, height)` [°] for a new point; `unwanted` where the selected one is to go."""

    put = pyqtSignal(float, float)
    unwanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__("Horizon")
        self.panorama: Panorama | None = None

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.panorama is not None and self._sketch is not None:
            self.put.emit(*self.panorama.back(*self.sketch_point(event.position())))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.unwanted.emit()
            return
        super().keyPressEvent(event)
