"""Paints a Sketch with QPainter, scaled to fit; tells which item was clicked."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from nuthatch.core.sketch import Path, Sketch, Text, hit, inside
from nuthatch.desktop.theme.style import pixel_font, theme


def paint_sketch(painter: QPainter, sketch: Sketch, scale: float) -> None:
    """Paint the sketch at the painter's origin."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(scale, scale)
    for item in sketch.items:
        _path(painter, item) if isinstance(item, Path) else _text(painter, item)


def _path(painter: QPainter, item: Path) -> None:
    polygon = QPolygonF([QPointF(x, y) for x, y in item.points])
    pen = QPen(theme.color(item.stroke), item.width) if item.stroke else QPen(Qt.PenStyle.NoPen)
    if item.dash:
        pen.setStyle(Qt.PenStyle.DashLine)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    painter.setPen(pen)
    painter.setBrush(theme.color(item.fill) if item.fill else Qt.BrushStyle.NoBrush)
    if not item.closed:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(polygon)
        return
    painter.drawPolygon(polygon)
    if item.pattern:
        style = Qt.BrushStyle.BDiagPattern if item.pattern == "hatch" else Qt.BrushStyle.Dense6Pattern
        color = QColor(theme.color("chestnut" if item.pattern == "hatch" else "lichen"))
        color.setAlpha(150)
        painter.setBrush(QBrush(color, style))
        painter.drawPolygon(polygon)


def _text(painter: QPainter, item: Text) -> None:
    painter.setFont(pixel_font(item.size, item.bold))
    metrics = painter.fontMetrics()
    width = metrics.horizontalAdvance(item.text)
    x = item.x - {"start": 0.0, "middle": width / 2, "end": float(width)}[item.anchor]
    if item.halo:
        back = QColor(theme.color("white"))
        back.setAlpha(225)
        painter.fillRect(QRectF(x - 2, item.y - metrics.ascent(), width + 4, metrics.ascent() + metrics.descent()), back)
    painter.setPen(theme.color(item.color))
    painter.drawText(QPointF(x, item.y), item.text)


class SketchView(QWidget):
    """Shows one sketch; `clicked(id)` and keyboard access to its parts by Tab and Enter."""

    clicked = pyqtSignal(str)

    def __init__(self, name: str, height: int = 300) -> None:
        super().__init__()
        self._sketch: Sketch | None = None
        self._wish = QSize(400, height)
        self.setAccessibleName(name)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(height)

    def sizeHint(self) -> QSize:
        return self._wish

    @property
    def sketch(self) -> Sketch | None:
        return self._sketch

    def show_sketch(self, sketch: Sketch) -> None:
        self._sketch = sketch
        self.setAccessibleDescription(". ".join(i.text for i in sketch.items if isinstance(i, Text)))
        self.update()

    def _place(self) -> tuple[float, float, float]:
        assert self._sketch is not None
        scale = min(self.width() / self._sketch.width, self.height() / self._sketch.height)
        return scale, (self.width() - self._sketch.width * scale) / 2, 0.0

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._sketch is None:
            return
        painter = QPainter(self)
        scale, x, y = self._place()
        painter.translate(x, y)
        paint_sketch(painter, self._sketch, scale)

    def point_of(self, ident: str) -> QPointF | None:
        """A point of the widget inside the item with this id."""
        if self._sketch is None:
            return None
        scale, dx, dy = self._place()
        for item in self._sketch.items:
            if isinstance(item, Path) and item.id == ident and item.closed:
                xs, ys = [p[0] for p in item.points], [p[1] for p in item.points]
                middle = (sum(xs) / len(xs), sum(ys) / len(ys))
                if inside(item.points, *middle) and hit(self._sketch, *middle) == ident:
                    return QPointF(dx + middle[0] * scale, dy + middle[1] * scale)
        return None

    def _at(self, event: QMouseEvent) -> tuple[float, float]:
        scale, x, y = self._place()
        return (event.position().x() - x) / scale, (event.position().y() - y) / scale

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if self._sketch is not None and event is not None:
            found = hit(self._sketch, *self._at(event))
            if found:
                self.clicked.emit(found)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if self._sketch is None or event is None:
            return
        x, y = self._at(event)
        found = hit(self._sketch, x, y)
        self.setCursor(Qt.CursorShape.PointingHandCursor if found else Qt.CursorShape.ArrowCursor)
        tips = [i.tip for i in self._sketch.items if isinstance(i, Path) and i.tip and i.closed and inside(i.points, x, y)]
        if tips:
            QToolTip.showText(event.globalPosition().toPoint(), tips[-1], self)

    def changeEvent(self, event: QEvent | None) -> None:
        if event is not None and event.type() == QEvent.Type.StyleChange:
            self.update()
        super().changeEvent(event)
