"""A place that several widgets share by a switch of plain words."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtGui import QFont, QFontMetrics
from PyQt6.QtWidgets import QHBoxLayout, QLayout, QPushButton, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

LEAST = 300
"""The least width of a place [px]."""


def laid_out_anew(widget: QWidget) -> None:
    """The sizes of a layout are worked out anew."""
    layout = widget.layout()
    if layout is not None:
        layout.invalidate()
        layout.activate()


class Place(QWidget):
    """A place several widgets share by a switch of plain words; what belongs to one of them stands beside the switch."""

    switched = pyqtSignal(int)
    asked = pyqtSignal(bool)
    """A tab was pressed: True where it was in front already."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self._switch, self._tools = QHBoxLayout(), QStackedWidget()
        self._switch.setSpacing(2)
        self.stack = QStackedWidget()
        self.buttons: list[QPushButton] = []
        self._head = QWidget()
        self._top = QHBoxLayout(self._head)
        self._top.setContentsMargins(0, 0, 0, 0)
        self._top.setSpacing(4)
        holder = QWidget()
        holder.setLayout(self._switch)
        self._switch.setContentsMargins(0, 0, 0, 0)
        self._switch.addStretch(1)
        self._top.addWidget(holder)
        self._top.addWidget(self._tools, 1)
        self._texts: dict[QPushButton, str] = {}
        self.setMinimumWidth(LEAST)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self._head)
        column.addWidget(self.stack, 1)
        self._head.setVisible(False)

    def add(self, title: str, widget: QWidget, tools: QLayout | None = None) -> None:
        """One more widget that shares the place."""
        self.stack.addWidget(widget)
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.addStretch(1)
        if tools is not None:
            row.addLayout(tools)
        self._tools.addWidget(holder)
        self._only_current()
        made = QPushButton(title)
        made.setObjectName("switch")
        made.setCheckable(True)
        made.setAccessibleName(title)
        bold = made.font()
        bold.setWeight(QFont.Weight.DemiBold)
        made.setMinimumWidth(QFontMetrics(bold).horizontalAdvance(title) + 18 if title else 0)  # it is bold while it is in front
        made.clicked.connect(partial(self._pressed, len(self.buttons)))
        self._switch.insertWidget(len(self.buttons), made)
        self.buttons.append(made)
        self._head.setVisible(bool(title) or tools is not None)
        made.setVisible(bool(title))
        made.setChecked(len(self.buttons) == 1)

    @property
    def head_height(self) -> int:
        """How much the switch and the tools take."""
        self._top.invalidate()
        return self._head.sizeHint().height() + 10 if not self._head.isHidden() else 6

    def refit(self) -> None:
        """A tool has come or gone: find room for the rest."""
        self._fit()

    def _only_current(self) -> None:
        """Tools that are not in front take no room."""
        for n in range(self._tools.count()):
            page = self._tools.widget(n)
            if page is not None:
                wide = QSizePolicy.Policy.Preferred if n == self._tools.currentIndex() else QSizePolicy.Policy.Ignored
                page.setSizePolicy(wide, QSizePolicy.Policy.Preferred)

    def resizeEvent(self, event: object) -> None:
        self._fit()

    def showEvent(self, event: object) -> None:
        QTimer.singleShot(0, self._fit)  # once the style sheet has said how wide words are

    def _fit(self) -> None:
        """Switch and tools share a line where there is room; else buttons show their icon alone, then the tools take a line of their own."""
        tools = self._tools.currentWidget()
        if tools is None:
            return
        self._say_all(tools)
        switch = sum(max(b.minimumWidth(), b.sizeHint().width()) + 2 for b in self.buttons if not b.isHidden())
        room = self.width() - 20
        if switch + tools.sizeHint().width() > room:
            self._icons_only(tools)
        below = switch + tools.sizeHint().width() > room
        if below:  # a line of their own may have room for the words again
            self._say_all(tools)
            if tools.sizeHint().width() > room:
                self._icons_only(tools)
        self._top.setDirection(QHBoxLayout.Direction.TopToBottom if below else QHBoxLayout.Direction.LeftToRight)
        self._tools.setFixedHeight(max(tools.sizeHint().height(), 8))

    def _say_all(self, tools: QWidget) -> None:
        for made in tools.findChildren(QPushButton):
            if not made.icon().isNull() and (made.text() or made in self._texts):
                made.setText(self._texts.setdefault(made, made.text()))
                made.setMaximumWidth(16777215)
        laid_out_anew(tools)

    def _icons_only(self, tools: QWidget) -> None:
        for made in tools.findChildren(QPushButton):
            if made in self._texts:
                made.setText("")
                made.setMaximumWidth(34)
        laid_out_anew(tools)

    def _pressed(self, index: int, *_: object) -> None:
        again = index == self.stack.currentIndex()
        self.show_index(index)
        self.asked.emit(again)

    def show_index(self, index: int, *_: object) -> None:
        """Put one of them in front."""
        self.stack.setCurrentIndex(index)
        self._tools.setCurrentIndex(index)
        self._only_current()
        self._fit()
        for n, made in enumerate(self.buttons):
            made.setChecked(n == index)
        self.switched.emit(index)

    def show_widget(self, widget: QWidget) -> None:
        """Put this one in front, where it is not already."""
        at = self.stack.indexOf(widget)
        if at >= 0 and at != self.stack.currentIndex():
            self.show_index(at)

    def offer(self, widgets: Sequence[QWidget]) -> None:
        """Only these are offered now; the first comes in front where none of them is."""
        wanted = {self.stack.indexOf(w) for w in widgets}
        for n, made in enumerate(self.buttons):
            made.setVisible(n in wanted and bool(made.text()))
        if widgets and self.stack.currentIndex() not in wanted:
            self.show_widget(widgets[0])
        self._fit()

    @property
    def current(self) -> QWidget | None:
        return self.stack.currentWidget()
