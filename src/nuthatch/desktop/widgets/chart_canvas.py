"""A matplotlib figure on a board: drawn by a worker, coalesced, so that neither keystroke nor switch waits for it."""

from __future__ import annotations

from collections.abc import Callable
from weakref import WeakSet

from PyQt6 import sip
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nuthatch.core.views.charts import drawn
from nuthatch.desktop.jobs import Jobs, words_of

_CANVASES: WeakSet[ChartCanvas] = WeakSet()


def charts_wait(board: QWidget) -> bool:
    """Whether a chart of a board is still to be drawn; Qt's own search would make a Python object of each widget of it."""
    return any(not sip.isdeleted(c) and c.pending and board.isAncestorOf(c) for c in tuple(_CANVASES))


class ChartCanvas(QWidget):
    """Renders `make(width, height) -> Figure` into an image off the interface's thread."""

    def __init__(self, name: str) -> None:
        super().__init__()
        _CANVASES.add(self)
        self.setAccessibleName(name)
        self.setMinimumHeight(80)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._make: Callable[[float, float], object] | None = None
        self._image: QImage | None = None
        self._number = self._arrived = 0
        self._jobs = Jobs(self)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(30)
        self._timer.timeout.connect(self._render)

    @property
    def pending(self) -> bool:
        return self._timer.isActive() or self._arrived < self._number

    def show_chart(self, make: Callable[[float, float], object]) -> None:
        self._make = make
        self._timer.start()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if self._make is not None:
            self._timer.start()

    def _render(self) -> None:
        make = self._make
        if make is None or self.width() < 120 or self.height() < 70 or not self.isVisible():
            return
        if self._arrived < self._number:  # one at a time; the newest is drawn next
            self._timer.start()
            return
        self._number += 1
        width, height = self.width() / 100, self.height() / 100
        number, ratio = self._number, self.devicePixelRatioF()
        self._jobs.start(
            "chart",
            lambda job: drawn(lambda: make(width, height), ratio),
            lambda made: self._take(number, made),
            lambda error: self._failed(number, error),
        )

    def _failed(self, number: int, error: Exception) -> None:
        """A chart that cannot be drawn leaves its place empty, with a note in the log; the list below says the numbers."""
        words_of(error)
        self._take(number, None)

    def _take(self, number: int, made: object) -> None:
        self._arrived = number
        if not isinstance(made, tuple):
            return
        data, width, height = made
        image = QImage(data, width, height, QImage.Format.Format_RGBA8888).copy()
        image.setDevicePixelRatio(self.devicePixelRatioF())
        self._image = image
        self.update()

    def showEvent(self, event: object) -> None:
        if self._make is not None:
            self._timer.start()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._image is not None:
            QPainter(self).drawImage(0, 0, self._image)
