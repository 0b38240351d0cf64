"""The order Tab goes through a board: as it is laid out."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLayout, QScrollArea, QWidget


def in_layout_order(item: QWidget | QLayout) -> Iterator[QWidget]:
    """Widgets that take the focus, in the order they stand on the board."""
    layout: QLayout | None
    if isinstance(item, QWidget):
        if item.focusPolicy() != Qt.FocusPolicy.NoFocus:
            yield item
        inner = item.widget() if isinstance(item, QScrollArea) else None
        if inner is not None:
            yield from in_layout_order(inner)
        layout = item.layout()
    else:
        layout = item
    for i in range(layout.count() if layout is not None else 0):
        child = layout.itemAt(i) if layout is not None else None
        found = (child.widget() or child.layout()) if child is not None else None
        if found is not None:
            yield from in_layout_order(found)


def order_focus(board: QWidget) -> None:
    """Make Tab follow the layout: cards are rebuilt for other parts, and new fields would come last."""
    before: QWidget | None = None
    for widget in in_layout_order(board):
        if before is not None and before.nextInFocusChain() is not widget:
            QWidget.setTabOrder(before, widget)
        before = widget
