"""A matplotlib figure on a board: drawn off the keystroke's path, coalesced."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget


class ChartCanvas(QWidget):
    """Renders `make(width, height) -> Figure` into an image when idle."""

    def __init__(self, name: str, height: int = 260) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setFixedHeight(height)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._make: Callable[[float, float], Any] | None = None
        self._image: QImage | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(30)
        self._timer.timeout.connect(self._render)

    @property
    def pending(self) -> bool:
        return self._timer.isActive()

    def show_chart(self, make: Callable[[float, float], Any]) -> None:
        self._make = make
        self._timer.start()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if self._make is not None:
            self._timer.start()

    def _render(self) -> None:
        if self._make is None or self.width() < 50 or not self.isVisible():
            return
        from matplotlib.backends.backend_agg import FigureCanvasAgg

        ratio = self.devicePixelRatioF()
        figure = self._make(self.width() / 100, self.height() / 100)
        figure.set_dpi(100 * ratio)
        canvas = FigureCanvasAgg(figure)
        canvas.draw()
        data = bytes(canvas.buffer_rgba())
        width, height = canvas.get_width_height(physical=True)
        image = QImage(data, width, height, QImage.Format.Format_RGBA8888).copy()
        image.setDevicePixelRatio(ratio)
        self._image = image
        self.update()

    def showEvent(self, event: Any) -> None:
        if self._make is not None:
            self._timer.start()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._image is not None:
            QPainter(self).drawImage(0, 0, self._image)
