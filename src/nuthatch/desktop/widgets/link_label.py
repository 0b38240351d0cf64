"""A wrapped text that acts as a link, reachable by Tab."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QLabel


class LinkLabel(QLabel):
    """A wrapped text that acts as a link, reachable by Tab."""

    pressed = pyqtSignal()

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self.setWordWrap(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(text)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.pressed.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.pressed.emit()
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            self.setStyleSheet("text-decoration: underline;" if event.type() == QEvent.Type.FocusIn else "")
        return super().event(event)
