"""The hours of a year as a drawing one moves through: the wheel zooms from the year to a day, dragging moves, the pointer reads."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent

from nuthatch.core.model.charts import HourChart
from nuthatch.core.sketch import Sketch
from nuthatch.core.views.hours.charts import grid_of
from nuthatch.core.views.hours.lines import Span, plot_of
from nuthatch.desktop.widgets.sketch_view import SketchView

MakeChart = Callable[[HourChart, tuple[float, float], Span, float | None], Sketch]


class HoursView(SketchView):
    """`day_chosen(day)` where a day is clicked in the drawing of hours by day."""

    day_chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__("Hours of the year: wheel or + and − zoom, left and right move, 0 shows the whole year")
        self.chart = HourChart(id="hours-lines")
        self.span = Span()
        self._pointer: float | None = None
        self._from: tuple[float, Span] | None = None
        self._chart_of: MakeChart | None = None

    def show_chart(self, make: MakeChart, chart: HourChart, span: Span | None = None) -> None:
        """Show a chart; span: the hours it begins with."""
        self._chart_of, self.chart = make, chart
        if span is not None:
            self.span = span
        self.draw()

    def draw(self) -> None:
        make, chart = self._chart_of, self.chart
        if make is not None:
            self.show_made(lambda w, h: make(chart, (w, h), self.span, self._pointer))

    def _hour_at(self, position: QPointF) -> float | None:
        """The hour beneath a place; None beside the drawing."""
        size, (x, y) = (
            (float(self.width()), float(self.height())),
            self.sketch_point(position) if self._sketch is not None else (-1.0, -1.0),
        )
        if self.chart.kind == "lines":
            plot = plot_of(size, self.span)
            return plot.hour(x) if plot.left <= x <= plot.left + plot.wide else None
        if self.chart.kind == "hour by day":
            found = grid_of(size, self.chart).at(x, y)
            return None if found is None else float(found)
        return None

    @property
    def _in_lines(self) -> bool:
        return self.chart.kind == "lines" and self._sketch is not None

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None or not self._in_lines:
            super().wheelEvent(event)
            return
        turned, aside = event.angleDelta().y(), event.angleDelta().x()
        if aside and not turned:
            self.move_by(-aside / 120 * 0.1)
        else:
            hour = self._hour_at(event.position())
            self.zoom_hours(1.0025**turned, hour)
        event.accept()

    def zoom_hours(self, by: float, around: float | None = None) -> None:
        """Fewer or more hours about one of them."""
        middle = (self.span.first + self.span.last) / 2
        self.span = self.span.zoomed(by, around if around is not None else middle)
        self.draw()

    def move_by(self, share: float) -> None:
        """By a share of what is shown."""
        self.span = self.span.moved(share * self.span.wide)
        self.draw()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._in_lines and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self._from = event.position().x(), self.span
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._from is not None:
            start, span = self._from
            plot = plot_of((float(self.width()), float(self.height())), span)
            self.span = span.moved(-(event.position().x() - start) / plot.wide * span.wide)
            self._pointer = None
            self.draw()
            return
        self.point_at(self._hour_at(event.position()))
        if not self._in_lines:
            super().mouseMoveEvent(event)

    def point_at(self, hour: float | None) -> None:
        """Read an hour, or none."""
        if hour != self._pointer:
            self._pointer = hour
            self.draw()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._from is not None:
            self._from = None
            return
        hour = self._hour_at(event.position()) if event is not None else None
        if self.chart.kind == "hour by day" and hour is not None:
            self.day_chosen.emit(int(hour) // 24)
            return
        super().mouseReleaseEvent(event)

    def leaveEvent(self, event: QEvent | None) -> None:
        self.point_at(None)
        super().leaveEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self._in_lines:
            super().keyPressEvent(event)
            return
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self.zoom_hours(0.5 if key == Qt.Key.Key_Minus else 2.0)
        elif key == Qt.Key.Key_0:
            self.span = Span()
            self.draw()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            now = self._pointer if self._pointer is not None else (self.span.first + self.span.last) / 2
            self.point_at(min(max(int(now) + (1 if key == Qt.Key.Key_Right else -1) + 0.5, self.span.first), self.span.last - 0.5))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.move_by(0.25 if key == Qt.Key.Key_Right else -0.25)
        else:
            super().keyPressEvent(event)
