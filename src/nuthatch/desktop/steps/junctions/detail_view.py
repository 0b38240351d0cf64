"""The drawing of a detail: sides are dragged, a rectangle is drawn where a block is added."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from nuthatch.desktop.theme.style import theme
from nuthatch.desktop.widgets.sketch_view import SketchView


class DetailView(SketchView):
    """`drawn(a, b)`: a rectangle was drawn, by two points of the sheet; `gave_up()`: none will be."""

    drawn = pyqtSignal(object, object)
    gave_up = pyqtSignal()

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self._drawing = False
        self._from: QPointF | None = None
        self._to: QPointF | None = None

    @property
    def drawing(self) -> bool:
        """Whether the next drag draws a rectangle."""
        return self._drawing

    @drawing.setter
    def drawing(self, on: bool) -> None:
        self._drawing, self._from, self._to = on, None, None
        self.setCursor(Qt.CursorShape.CrossCursor if on else Qt.CursorShape.ArrowCursor)
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if not self._drawing or event is None or self.sketch is None:
            super().mousePressEvent(event)
        elif event.button() == Qt.MouseButton.LeftButton:
            self._from = self._to = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if not self._drawing or event is None:
            super().mouseMoveEvent(event)
        elif self._from is not None:
            self._to = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if not self._drawing or event is None or self._from is None:
            super().mouseReleaseEvent(event)
            return
        a, b = self.sketch_point(self._from), self.sketch_point(event.position())
        self._from = self._to = None
        self.update()
        self.drawn.emit(a, b)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if self._drawing and event is not None and event.key() == Qt.Key.Key_Escape:
            self.drawing = False
            self.gave_up.emit()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if self._from is not None and self._to is not None:
            painter = QPainter(self)
            painter.setPen(QPen(theme.color("tide"), 1.6, Qt.PenStyle.DashLine))
            painter.drawRect(QRectF(self._from, self._to).normalized())
