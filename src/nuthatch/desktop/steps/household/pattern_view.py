"""A day pattern as 24 bars that are dragged: across for several hours, up and down for their share; by keys, and pasted."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QMouseEvent

from nuthatch.core.views.day import HOURS, PatternFrame
from nuthatch.desktop.widgets.sketch_view import SketchView

NUDGE = 0.05


class PatternView(SketchView):
    """`painted(first hour, last hour, share)` while bars are dragged, `let_go` when they are; `nudged(hour, step)` by keys; `pasted(text)`,
    `copied`; `hour_chosen(hour)`."""

    painted = pyqtSignal(int, int, float)
    let_go = pyqtSignal()
    nudged = pyqtSignal(int, float)
    pasted = pyqtSignal(str)
    copied = pyqtSignal()
    hour_chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__("Day pattern: left and right choose an hour, up and down its share, paste takes 24 numbers")
        self.frame: PatternFrame | None = None
        self.hour = 0
        self._last: int | None = None

    def _at(self, position: QPointF) -> tuple[int, float] | None:
        return self.frame.back(*self.sketch_point(position)) if self.frame is not None and self._sketch is not None else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        at = self._at(event.position()) if event is not None and event.button() == Qt.MouseButton.LeftButton else None
        if at is None:
            return
        self.setFocus()
        self._last, self.hour = at[0], at[0]
        self.painted.emit(at[0], at[0], at[1])

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        at = self._at(event.position()) if event is not None and self._last is not None else None
        if at is None or self._last is None:
            super().mouseMoveEvent(event)
            return
        self.hour = at[0]
        self.painted.emit(self._last, at[0], at[1])
        self._last = at[0]

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._last is not None:
            self._last = None
            self.let_go.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = Qt.Key(event.key())
        clipboard = QGuiApplication.clipboard()
        if event.matches(QKeySequence.StandardKey.Paste) and clipboard is not None:
            self.pasted.emit(clipboard.text())
        elif event.matches(QKeySequence.StandardKey.Copy):
            self.copied.emit()
        elif self.frame is not None and key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and not event.modifiers():
            self.hour = (self.hour + (1 if key == Qt.Key.Key_Right else -1)) % HOURS
            self.hour_chosen.emit(self.hour)
        elif self.frame is not None and key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not event.modifiers():
            self.nudged.emit(self.hour, NUDGE if key == Qt.Key.Key_Up else -NUDGE)
        else:
            super().keyPressEvent(event)
