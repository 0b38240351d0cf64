"""What is being drawn on a plan, and the backing sheet beneath it, painted. place: where a point of the plan lies in the widget."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from nuthatch.core.edits.roof_edits import squared
from nuthatch.core.edits.tracing import CLOSED, FRONTS, Tracing
from nuthatch.core.exchange.dxf_lines import DxfLines
from nuthatch.core.plans.roofs import Point2
from nuthatch.desktop.steps.table.backing import Laid
from nuthatch.desktop.theme.style import pixel_font, theme

Place = Callable[[Point2], QPointF]


def paint_trace(widget: QWidget, trace: Tracing, place: Place) -> None:
    """Points and sides so far, the next one at the pointer, what it lines up with, what crosses, length and angle."""
    painter = QPainter(widget)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    line = _line(trace)
    _guides(painter, trace, place)
    points = [place(p) for p in line]
    painter.setPen(QPen(theme.color("tide"), 2.2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(QPolygonF(points))
    if trace.wrong:
        _crossing(painter, trace, place)
    if trace.tool in CLOSED and len(line) > 2:
        painter.setPen(QPen(theme.color("tide"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(points[-1], points[0])
    painter.setPen(QPen(theme.color("tide"), 1.6))
    painter.setBrush(theme.color("white"))
    for point in points:
        painter.drawEllipse(point, 4, 4)
    if points and trace.points:
        _tag(painter, trace.tag(), points[-1], widget)


def _line(trace: Tracing) -> list[Point2]:
    """What is drawn so far, to the pointer; a part of the roof or a block as its rectangle."""
    end = trace.end()
    line = [*trace.points, *([end] if end is not None else [])]
    if trace.tool == "roof part" and len(line) == 2:
        (ax, ay), (bx, by) = line
        return [(ax, ay), (bx, ay), (bx, by), (ax, by), (ax, ay)]
    if trace.tool in FRONTS and len(line) == 3:
        corners = squared((line[0], line[1], line[2]))
        return [*corners, corners[0]]
    return line


def _crossing(painter: QPainter, trace: Tracing, place: Place) -> None:
    """The two sides that cross, and where."""
    found = trace.crossing()
    if found is None:
        return
    points = trace.points
    painter.setPen(QPen(theme.color("chestnut"), 3.0))
    for n in found[:2]:
        painter.drawLine(place(points[n]), place(points[(n + 1) % len(points)]))
    painter.drawEllipse(place(found[2]), 9, 9)


def _guides(painter: QPainter, trace: Tracing, place: Place) -> None:
    """What the point lines up with, each line hung with a small plumb-bob."""
    for a, b in trace.snap.guides if trace.snap is not None and not trace.length else ():
        painter.setPen(QPen(theme.color("tide"), 1, Qt.PenStyle.DotLine))
        start = place(a)
        painter.drawLine(start, place(b))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("tide"))
        x, y = start.x(), start.y()
        painter.drawEllipse(start, 2.5, 2.5)
        painter.drawPolygon(QPolygonF([QPointF(x - 4, y + 4), QPointF(x + 4, y + 4), QPointF(x, y + 12)]))


def _tag(painter: QPainter, said: str, at: QPointF, widget: QWidget) -> None:
    """Length and angle beside the pointer, as typed or as they are."""
    if not said:
        return
    painter.setFont(pixel_font(12, True))
    wide = painter.fontMetrics().horizontalAdvance(said) + 16
    x = min(max(at.x() + 14, 2.0), widget.width() - wide - 2.0)
    y = min(max(at.y() - 30, 2.0), widget.height() - 24.0)
    box = QRectF(x, y, wide, 20)
    painter.setPen(QPen(theme.color("tide"), 1.2))
    painter.setBrush(theme.color("white"))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(theme.color("ink"))
    painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), said)


def paint_sheet(widget: QWidget, sheet: Laid | DxfLines, place: Place) -> None:
    """The backing sheet beneath the drawing."""
    painter = QPainter(widget)
    if isinstance(sheet, DxfLines):
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.color("muted"), 0.8))
        for a, b in sheet.pieces:
            painter.drawLine(QLineF(place(a), place(b)))
        return
    image, x, y, width = sheet.image, sheet.x, sheet.y, sheet.width
    height = width * image.height() / max(image.width(), 1)
    corner, metre = place((x, y)), place((x + 1, y)).x() - place((x, y)).x()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.setOpacity(0.6)
    painter.translate(corner)
    painter.rotate(-sheet.turned)
    painter.scale(-metre if sheet.mirrored else metre, metre)
    painter.drawImage(QRectF(0, -height, width, height), image)
