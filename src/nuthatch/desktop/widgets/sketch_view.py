"""The one view of drawings: paints a Sketch, reads and selects its parts, drags what is drawn to size, zooms; all by keyboard too."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QNativeGestureEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from nuthatch.core.sketch import Handle, Path, Sketch, Text, handle_at, hit, inside, otherwise
from nuthatch.desktop.theme.style import pixel_font, theme
from nuthatch.desktop.widgets.painting import paint_faint, paint_sketch, paint_tag

Make = Callable[[float, float], Sketch]
ARROWS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
LARGEST, SMALLEST = 12.0, 0.5


class SketchView(QWidget):
    """Shows one sketch. `clicked(id)` for a part; `dragged(handle, values)` while something is dragged, one value for each pull of the
    handle, `dropped(handle)` when it is let go, `let_be(handle)` where the drag was given up; `carried(id, index)` where a part of a row
    was dragged to another place in it; `emptied()` for a click on empty paper, or Esc; `turned(dx, dy)` where the drawing is
    one that is turned. Keys: Ctrl with the arrows goes from part to part, arrows move what can be dragged, Enter selects, + − 0 zoom."""

    clicked = pyqtSignal(str)
    dragged = pyqtSignal(object, object)
    dropped = pyqtSignal(object)
    let_be = pyqtSignal(object)
    turned = pyqtSignal(float, float)
    emptied = pyqtSignal()
    carried = pyqtSignal(str, int)

    def __init__(self, name: str, height: int = 0, turns: bool = False) -> None:
        super().__init__()
        self._sketch: Sketch | None = None
        self._make: Make | None = None
        self._before: Make | None = None
        self.faint: tuple[Path, ...] = ()
        self._wish = QSize(400, height or 240)
        self._turns = turns
        self._zoom, self._pan = 1.0, QPointF()
        self._held: tuple[Handle, QPointF] | None = None
        self._grip: QPointF | None = None
        self._moved = False
        self._hover = ""
        self._by_key = False
        self.current = ""
        self.setAccessibleName(name)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        fixed = QSizePolicy.Policy.Fixed if height else QSizePolicy.Policy.Expanding
        self.setSizePolicy(QSizePolicy.Policy.Expanding, fixed)
        self.setFixedHeight(height) if height else self.setMinimumHeight(70)

    def sizeHint(self) -> QSize:
        return self._wish

    @property
    def sketch(self) -> Sketch | None:
        return self._sketch

    @property
    def held(self) -> Handle | None:
        """What is being dragged."""
        return self._held[0] if self._held else None

    def show_made(self, make: Make, before: Make | None = None) -> None:
        """Show a drawing that is made for the room there is; made anew with every size. before: the same as it was, which shows through faintly
        where it is another."""
        self._make, self._before = make, before
        self._remake()

    def show_sketch(self, sketch: Sketch) -> None:
        """Show a drawing as it is, scaled to fit."""
        self._make = self._before = None
        self._take(sketch)

    def _remake(self) -> None:
        if self._make is not None and self.width() > 60 and self.height() > 15:
            size = float(self.width()), float(self.height())
            self._take(self._make(*size))
            was = self._before(*size) if self._before is not None else None
            self.faint = otherwise(was, self._sketch) if was is not None and self._sketch is not None else ()

    def _take(self, sketch: Sketch) -> None:
        self._sketch, self.faint = sketch, ()
        self.setAccessibleDescription(". ".join(i.text for i in sketch.items if isinstance(i, Text)))
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._remake()
        super().resizeEvent(event)

    # where things are

    def _place(self) -> tuple[float, float, float]:
        """(scale, left, top) of the sheet in the view."""
        assert self._sketch is not None
        scale = min(self.width() / self._sketch.width, self.height() / self._sketch.height)
        left = (self.width() - self._sketch.width * scale * self._zoom) / 2 + self._pan.x()
        return scale * self._zoom, left, self._pan.y()

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

    def point_of_handle(self, ident: str) -> QPointF | None:
        """A point of the widget on the handle of a part."""
        handle = next((h for h in self._sketch.handles if h.id == ident), None) if self._sketch is not None else None
        if handle is None:
            return None
        scale, dx, dy = self._place()
        number = len(handle.points)
        return QPointF(dx + sum(p[0] for p in handle.points) / number * scale, dy + sum(p[1] for p in handle.points) / number * scale)

    def sketch_point(self, position: QPointF) -> tuple[float, float]:
        """The point of the drawing beneath a place of the widget."""
        scale, x, y = self._place()
        return (position.x() - x) / scale, (position.y() - y) / scale

    def _handle(self, position: QPointF) -> Handle | None:
        assert self._sketch is not None
        return handle_at(self._sketch, *self.sketch_point(position), 6.0 / self._place()[0])

    # painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._sketch is None:
            return
        painter = QPainter(self)
        scale, x, y = self._place()
        painter.save()
        painter.translate(x, y)
        paint_sketch(painter, self._sketch, scale, self._hover)
        paint_faint(painter, self.faint)
        painter.restore()
        if self._held is not None and self._sketch.handles:
            now = next((h for h in self._sketch.handles if h.id == self._held[0].id), self._held[0])
            paint_tag(painter, now, (scale, x, y), self.width())
        if self.hasFocus() and self._by_key:
            painter.setPen(QPen(theme.color("slate"), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        if self._sketch.hint:
            painter.setFont(pixel_font(11))
            painter.setPen(theme.color("muted"))
            hint = painter.fontMetrics().elidedText(self._sketch.hint, Qt.TextElideMode.ElideRight, self.width() - 8)
            painter.drawText(QPointF(4, self.height() - 5), hint)

    # mouse

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if self._sketch is None or event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self._moved = False
        self._grip = event.position()
        handle = self._handle(event.position())
        self._held = (handle, event.position()) if handle is not None else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if self._sketch is None or event is None:
            return
        if self._grip is None:
            self._read(event)
            return
        gone = event.position() - self._grip
        if not self._moved and abs(gone.x()) + abs(gone.y()) < 4:
            return
        self._moved = True
        if self._held is not None:
            handle, start = self._held
            scale = self._place()[0]
            by = (event.position() - start) / scale
            self.dragged.emit(handle, tuple(p.after(by.x(), by.y()) for p in handle.pulls))
        elif self._turns and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._grip = event.position()
            self.turned.emit(gone.x(), gone.y())
        elif self._zoom != 1.0:
            self._grip = event.position()
            self._pan += gone
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._sketch is None or event is None:
            return
        held, grip, self._held, self._grip = self._held, self._grip, None, None
        if self._moved:
            if held is None and grip is not None:
                self._put_down(grip, event.position())
            if held is not None:
                self.dropped.emit(held[0])
                self.current = held[0].id
                self.clicked.emit(self.current)
            self.update()
            return
        found = hit(self._sketch, *self.sketch_point(event.position())) or (held[0].id if held else "")
        if found:
            self.current = found
            self.clicked.emit(found)
        else:
            self._let_go()

    def _let_go(self) -> bool:
        """Nothing is selected any more, where somebody asks for that; False where nobody does."""
        if not self.receivers(self.emptied):
            return False
        self.current = ""
        self.emptied.emit()
        return True

    def _put_down(self, start: QPointF, end: QPointF) -> None:
        """A part of a row carried past the middle of another."""
        row = self._sketch.carries if self._sketch is not None else ()
        x0, x1 = self.sketch_point(start)[0], self.sketch_point(end)[0]
        taken = next((n for n, (_, left, right) in enumerate(row) if left <= x0 <= right), -1)
        if taken < 0 or self._zoom != 1.0:
            return
        index = sum(1 for n, (_, left, right) in enumerate(row) if n != taken and (left + right) / 2 < x1)
        if index != taken:
            self.carried.emit(row[taken][0], index)

    def _read(self, event: QMouseEvent) -> None:
        """What lies under the pointer: its cursor, its tip, a line around it."""
        assert self._sketch is not None
        x, y = self.sketch_point(event.position())
        handle = self._handle(event.position())
        found = hit(self._sketch, x, y)
        shape = Qt.CursorShape.PointingHandCursor if found else Qt.CursorShape.ArrowCursor
        if handle is not None:
            (across, down) = handle.pulls[0].per
            shape = Qt.CursorShape.SizeHorCursor if not down else Qt.CursorShape.SizeVerCursor if not across else shape
            shape = Qt.CursorShape.SizeAllCursor if len(handle.pulls) > 1 else shape
        elif not found and self._turns:
            shape = Qt.CursorShape.OpenHandCursor
        self.setCursor(shape)
        if found != self._hover:
            self._hover = found
            self.update()
        tips = [i.tip for i in self._sketch.items if isinstance(i, Path) and i.tip and i.closed and inside(i.points, x, y)]
        if handle is not None and handle.says:
            tips.append(f"{handle.says}: drag to change")
        if tips:
            QToolTip.showText(event.globalPosition().toPoint(), tips[-1], self)

    def leaveEvent(self, event: QEvent | None) -> None:
        self._hover = ""
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())
        event.accept()

    def zoom(self, by: float, around: QPointF | None = None) -> None:
        """Larger or smaller around a point of the view."""
        if self._sketch is None:
            return
        point = around if around is not None else QPointF(self.width() / 2, self.height() / 2)
        before = self.sketch_point(point)
        self._zoom = min(max(self._zoom * by, SMALLEST), LARGEST)
        if abs(self._zoom - 1) < 0.03:
            self._zoom, self._pan = 1.0, QPointF()
        else:
            scale, x, y = self._place()
            self._pan += point - QPointF(x + before[0] * scale, y + before[1] * scale)
        self.update()

    def fit(self) -> None:
        """The whole drawing again."""
        self._zoom, self._pan = 1.0, QPointF()
        self.update()

    @property
    def zoomed(self) -> float:
        return self._zoom

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QNativeGestureEvent) and event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture:
            self.zoom(1 + event.value(), event.position())
            return True
        return super().event(event)

    # keyboard

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self._by_key = event is not None and event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason)
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if self._sketch is None:
            return
        key, ctrl = Qt.Key(event.key()), bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if key in ARROWS and ctrl:
            self._next(sum(ARROWS[key]))
        elif key in ARROWS and self._nudge(*ARROWS[key]):
            pass
        elif key in ARROWS and self._turns:
            self.turned.emit(8.0 * ARROWS[key][0], 8.0 * ARROWS[key][1])
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_0):
            self.fit() if key == Qt.Key.Key_0 else self.zoom(1.25 if key == Qt.Key.Key_Plus else 0.8)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.current:
            self.clicked.emit(self.current)
        elif key == Qt.Key.Key_Escape and self._held is not None:
            held, self._held, self._grip = self._held[0], None, None
            self.let_be.emit(held)
        elif key == Qt.Key.Key_Escape and self.current and self._let_go():
            pass
        else:
            super().keyPressEvent(event)

    def _next(self, by: int) -> None:
        """Select the next part of the drawing, in the order it is drawn."""
        assert self._sketch is not None
        parts = list(dict.fromkeys(i.id for i in self._sketch.items if i.id))
        if parts:
            at = parts.index(self.current) if self.current in parts else -1 if by > 0 else 0
            self.current = parts[(at + by) % len(parts)]
            self.clicked.emit(self.current)

    def _nudge(self, right: int, down: int) -> bool:
        """Move what is selected by a fine step; False where it cannot be moved that way."""
        assert self._sketch is not None
        for handle in self._sketch.handles:
            if handle.id == self.current:
                ways = [p.per[0] * right or p.per[1] * down for p in handle.pulls]
                if any(ways):
                    self.dragged.emit(
                        handle, tuple(p.nudged(right, down) if w else p.value for p, w in zip(handle.pulls, ways, strict=True))
                    )
                    self.dropped.emit(handle)
                    return True
        return False

    def changeEvent(self, event: QEvent | None) -> None:
        if event is not None and event.type() == QEvent.Type.StyleChange:
            self.update()
        super().changeEvent(event)
