"""How the keyboard leaves a table: Tab past its last cell, Shift+Tab before its first, Ctrl+Tab at once."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractItemView, QWidget


def leaves_table(table: QAbstractItemView, event: QKeyEvent) -> bool:
    """Tab past the last cell and Shift+Tab before the first leave the table, Ctrl+Tab at once; the rest goes cell by cell."""
    at, model = table.currentIndex(), table.model()
    assert model is not None
    at_once = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
    if event.key() == Qt.Key.Key_Tab:
        last = not at.isValid() or (at.row(), at.column()) == (model.rowCount() - 1, model.columnCount() - 1)
        return (last or at_once) and _move_focus(table, True)
    if event.key() == Qt.Key.Key_Backtab:
        first = not at.isValid() or (at.row(), at.column()) == (0, 0)
        return (first or at_once) and _move_focus(table, False)
    return False


def _move_focus(table: QAbstractItemView, forward: bool) -> bool:
    """To the next widget in the order of focus."""
    widget: QWidget | None = table
    while widget is not None:
        widget = widget.nextInFocusChain() if forward else widget.previousInFocusChain()
        if widget is table or widget is None:
            return False
        inside = table.isAncestorOf(widget)
        if not inside and widget.isVisible() and widget.isEnabled() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
            widget.setFocus(Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason)
            return True
    return False
