"""How sketches are painted: paths, texts, patterns, what lies under the pointer, and the tag of what is being dragged."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF

from nuthatch.core.sketch import Handle, Path, Sketch, Text
from nuthatch.desktop.theme.style import pixel_font, theme


def paint_sketch(painter: QPainter, sketch: Sketch, scale: float, hover: str = "") -> None:
    """Paint the sketch at the painter's origin; the part of this id with a line around it."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(scale, scale)
    for item in sketch.items:
        _path(painter, item) if isinstance(item, Path) else _text(painter, item)
    if hover:
        painter.setPen(QPen(theme.color("tide"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for item in sketch.items:
            if isinstance(item, Path) and item.id == hover and item.closed:
                painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in item.points]))


def paint_faint(painter: QPainter, paths: tuple[Path, ...]) -> None:
    """Lines of a drawing as it was, dashed and faint, on the painter as `paint_sketch` leaves it."""
    color = QColor(theme.color("ink"))
    color.setAlpha(120)
    pen = QPen(color, 1.1, Qt.PenStyle.DashLine)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for item in paths:
        polygon = QPolygonF([QPointF(x, y) for x, y in item.points])
        painter.drawPolygon(polygon) if item.closed else painter.drawPolyline(polygon)


def paint_tag(painter: QPainter, handle: Handle, place: tuple[float, float, float], width: int) -> None:
    """The line being dragged, and its value in a tag above it."""
    scale, dx, dy = place
    points = [QPointF(dx + x * scale, dy + y * scale) for x, y in handle.points]
    painter.setPen(QPen(theme.color("slate"), 2.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawLine(*points) if len(points) == 2 else painter.drawPolygon(QPolygonF(points))
    painter.setFont(pixel_font(12, True))
    wide = painter.fontMetrics().horizontalAdvance(handle.says) + 16
    middle = sum(p.x() for p in points) / len(points)
    left = min(max(middle - wide / 2, 2.0), width - wide - 2.0)
    box = QRectF(left, max(min(p.y() for p in points) - 24, 2), wide, 20)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.color("slate"))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(theme.color("paper"))
    painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), handle.says)


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
