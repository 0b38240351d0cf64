"""The plan as it is drawn on: outlines, inner walls and parts of the roof traced by mouse or keyboard, to exact lengths and angles."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent

from nuthatch.core.edits.tracing import AGAIN, ANGLE, LENGTH, NEEDS, Tracing
from nuthatch.core.exchange.dxf_lines import DxfLines
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.plans.snapping import Drawn, snap
from nuthatch.core.reading import BadText
from nuthatch.core.views.shape.plan_frame import Frame
from nuthatch.desktop.steps.table.backing import Laid
from nuthatch.desktop.steps.table.tracing_paint import paint_sheet, paint_trace
from nuthatch.desktop.widgets.sketch_view import SketchView

WAYS = {Qt.Key.Key_Right: 0.0, Qt.Key.Key_Up: 90.0, Qt.Key.Key_Left: 180.0, Qt.Key.Key_Down: 270.0}
TOOLS = {Qt.Key.Key_O: "outline", Qt.Key.Key_I: "inner wall", Qt.Key.Key_R: "room", Qt.Key.Key_W: "window", Qt.Key.Key_D: "distance"}


class PlanView(SketchView):
    """`drawn(tool, points)` when something is traced to its end; `said(words)` while it is drawn; `tool_changed(tool)`;
    `unwanted` where what is selected is to go."""

    drawn = pyqtSignal(str, object)
    said = pyqtSignal(str)
    tool_changed = pyqtSignal(str)
    unwanted = pyqtSignal()

    def __init__(self, name: str = "Plan", keys: Mapping[Qt.Key, str] = TOOLS) -> None:
        super().__init__(name)
        self._keys = keys
        self.trace = Tracing()
        self._given, self._storey = self.trace, ""
        self.half_drawn: dict[str, Tracing] = {}
        """What is being drawn on each storey, until it is part of the home."""
        self._held_point: int | None = None
        self.frame: Frame | None = None
        self.targets = Drawn()
        self.square = True
        self.sheet: Laid | DxfLines | None = None
        """The backing sheet."""

    # begin and end

    @property
    def tool(self) -> str:
        return self.trace.tool

    def start(self, tool: str) -> None:
        """Draw with a tool; the same again puts it away."""
        self._begin(Tracing("" if tool == self.trace.tool else tool))
        self.setFocus()

    def _begin(self, trace: Tracing) -> None:
        self.trace, self._held_point = trace, None
        self.half_drawn[self._storey] = trace
        self.setCursor(Qt.CursorShape.CrossCursor if trace.tool else Qt.CursorShape.ArrowCursor)
        self.tool_changed.emit(trace.tool)
        self._say()
        self.update()

    def stop(self) -> None:
        """Put the tool away; what is half drawn is given up."""
        if self.trace.tool:
            self.start(self.trace.tool)

    def on_storey(self, storey: str) -> None:
        """Draw on another storey: what is half drawn waits on its own."""
        if storey == self._storey:
            return
        self._storey = storey
        waiting = self.half_drawn.get(storey)
        tool = "" if self.trace.points else self.trace.tool
        if waiting is not None and waiting.points:
            self._begin(waiting)
        elif tool != self.trace.tool:
            self._begin(Tracing(tool))

    def _finish(self) -> None:
        """What is drawn is given to the home; what cannot be taken stays to be mended."""
        self.trace.wrong = self.trace.fault()
        if self.trace.wrong:
            self._say()
            self.update()
            return
        self._given = self.trace
        tool = self.trace.tool
        self._begin(Tracing(tool if tool in AGAIN else ""))
        self.drawn.emit(tool, tuple(self._given.points))

    def refuse(self, tool: str, points: tuple[Point2, ...], why: str) -> None:
        """What was drawn was not taken: it is there again, with what was wrong."""
        same = self._given.tool == tool and tuple(self._given.points) == points
        trace = self._given if same else Tracing(tool, list(points))
        trace.wrong = trace.fault() or f"{why}: drag a corner, or take corners back with Ctrl+Z, then Enter"
        if NEEDS[tool]:
            trace.points.pop()  # the point that ended it
        self._begin(trace)

    def own_steps(self) -> tuple[str, str]:
        """What can be taken back and brought back of what is being drawn."""
        return ("last corner drawn" if self.trace.behind else ""), ("corner drawn" if self.trace.ahead else "")

    def take_back(self) -> bool:
        """One step of what is being drawn taken back; False where nothing is."""
        return self._stepped(self.trace.take_back)

    def bring_back(self) -> bool:
        """One step of what is being drawn done again."""
        return self._stepped(self.trace.bring_back)

    def _stepped(self, step: Callable[[], bool]) -> bool:
        if not self.tool or not step():
            return False
        self._aim()
        self.update()
        return True

    # points

    def add(self, point: Point2) -> None:
        """The next point; the first again closes an outline."""
        if self.trace.add(point):
            self._finish()
            return
        self._aim()
        self.update()

    def _aim(self) -> None:
        """Where the pointer would put the next point."""
        self.trace.aim(self.targets, self.zoomed, self.square)
        self._say()

    def _typed(self, angle: float | None = None) -> Point2 | None:
        """The next point as typed; what cannot be read is said, with what would be right."""
        try:
            return self.trace.typed(angle)
        except BadText as why:
            self.trace.wrong = str(why)
            return None

    def _say(self) -> None:
        self.said.emit(self.trace.says())

    # mouse

    def _world(self, position: QPointF) -> Point2:
        assert self.frame is not None
        return self.frame.back(*self.sketch_point(position))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if not self.tool or event is None or self.frame is None:
            super().mousePressEvent(event)
            return
        if event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self.trace.pointer = self._world(event.position())
            self._held_point = self.trace.near(self.trace.pointer, self.targets.reach / max(self.zoomed, 1.0))
            if self._held_point is None:
                self._click()  # it may end what is drawn: the release that follows is no click on what lies below
            else:
                self._grip, self._moved = event.position(), False

    def _click(self) -> None:
        self._aim()
        if self.trace.snap is not None:
            self.add(self.trace.snap.at)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if not self.tool or event is None or self.frame is None:
            super().mouseMoveEvent(event)
            return
        self.trace.pointer = self._world(event.position())
        if self._held_point is not None and self._grip is not None:
            self._drag_point(event.position() - self._grip)
        self._aim()
        self.update()

    def _drag_point(self, gone: QPointF) -> None:
        """A corner already drawn goes with the pointer."""
        t, n = self.trace, self._held_point
        if n is None or t.pointer is None or (not self._moved and abs(gone.x()) + abs(gone.y()) < 4):
            return
        if not self._moved:
            t.remember()
            self._moved = True
        t.put(n, snap(t.pointer, replace(self.targets, square=False)).at)
        t.wrong = t.fault()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if not self.tool:
            if self._grip is not None:
                super().mouseReleaseEvent(event)
            return
        held, moved = self._held_point, self._moved
        self._held_point, self._grip, self._moved = None, None, False
        if held is not None and not moved:
            self._click()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if self.trace.ending:
            self._finish()

    # keyboard

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab leads from the length to the angle while something is typed."""
        if self.tool and (self.trace.length or (forward and self.trace.other_end())):
            self._say()
            self.update()
            return bool(not self.trace.length)
        return super().focusNextPrevChild(forward)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if self.tool:
            if not self._key(event):
                super().keyPressEvent(event)
        elif Qt.Key(event.key()) in self._keys and not event.modifiers():
            self.start(self._keys[Qt.Key(event.key())])
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.unwanted.emit()
        else:
            super().keyPressEvent(event)

    def _key(self, event: QKeyEvent) -> bool:
        """What a key means while something is drawn; False where nothing."""
        t, key, text = self.trace, Qt.Key(event.key()), event.text()
        t.wrong = ""
        if key == Qt.Key.Key_Escape:
            if t.length or t.angle:
                t.forget()
            else:
                self.stop()
        elif key == Qt.Key.Key_Tab and t.length:
            t.typing = ANGLE if t.typing == LENGTH else LENGTH
        elif key == Qt.Key.Key_Backspace:
            if t.back():
                self._aim()
        elif key in WAYS and t.length:
            point = self._typed(WAYS[key])
            if point is not None:
                self._put(point)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._enter()
        elif text and text in "0123456789.,'\"½¼¾ -/ftinmc" and t.points:
            if t.typing == ANGLE:
                t.angle += text
            else:
                t.length += text
        else:
            return False
        self._say()
        self.update()
        return True

    def _put(self, point: Point2) -> None:
        """A typed point; one that comes back to the first closes the outline."""
        first = self.trace.points[0] if self.trace.points else None
        close = first is not None and abs(point[0] - first[0]) < 1e-6 and abs(point[1] - first[1]) < 1e-6
        self.add(first if close and first is not None else point)

    def _enter(self) -> None:
        t = self.trace
        point = self._typed()
        if point is not None:
            self._put(point)
        elif t.ending and not t.length:
            self._finish()
        elif t.tool == "window" and t.snap is not None:
            self.add(t.snap.at)
        elif not t.points:
            self.add(t.snap.at if t.snap is not None else (0.0, 0.0))

    # painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        ready = self._sketch is not None and self.frame is not None
        if ready and self.sheet is not None:
            paint_sheet(self, self.sheet, self.on_screen)
        super().paintEvent(event)
        if ready and self.trace.tool:
            paint_trace(self, self.trace, self.on_screen)

    def on_screen(self, p: Point2) -> QPointF:
        """Where a point of the plan lies in the widget."""
        assert self.frame is not None
        scale, dx, dy = self._place()
        x, y = self.frame.at(p)
        return QPointF(dx + x * scale, dy + y * scale)
