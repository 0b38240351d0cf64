"""A formula typeset: lines of mathtext set by matplotlib, painted in the ink of the theme."""

from __future__ import annotations

from functools import lru_cache
from threading import Lock
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from nuthatch.desktop.theme.style import pixel_font, theme

GAP = 7.0
DOTS = 100


@lru_cache(maxsize=1)
def _parser() -> Any:
    from matplotlib.mathtext import MathTextParser

    return MathTextParser("agg")


_ONE_AT_A_TIME = Lock()
"""The parser and its fonts are not made for two threads."""


def warm() -> None:
    """Load what typesetting needs, so that the first working opens as fast as the next; may run beside the work."""
    typeset(r"\frac{x}{2}", 16.0, 1.0)


@lru_cache(maxsize=256)
def typeset(line: str, size: float, ratio: float) -> np.ndarray:
    """How dark each dot of a typeset line is, 0 to 255."""
    from matplotlib.font_manager import FontProperties

    with _ONE_AT_A_TIME:
        made = _parser().parse(f"${line}$", DOTS * ratio, FontProperties(size=size * 72 / DOTS))
        return np.asarray(made.image, np.uint8)


def _image(line: str, size: float, ratio: float, ink: QColor) -> QImage:
    """A typeset line in a colour, on nothing."""
    dark = typeset(line, size, ratio)
    dots = np.empty((*dark.shape, 4), np.uint8)
    dots[..., 0], dots[..., 1], dots[..., 2] = ink.red(), ink.green(), ink.blue()
    dots[..., 3] = dark
    image = QImage(dots.tobytes(), dark.shape[1], dark.shape[0], dark.shape[1] * 4, QImage.Format.Format_RGBA8888).copy()
    image.setDevicePixelRatio(ratio)
    return image


class FormulaView(QWidget):
    """Lines of (mathtext, size in pixels), or words where there is no closed form; a line too long is set smaller."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Formula")
        self._lines: tuple[tuple[str, float], ...] = ()
        self._words = ""
        self.setMinimumHeight(34)

    def show_lines(self, lines: tuple[tuple[str, float], ...], words: str = "") -> None:
        """Show these lines; `words` where the formula is told in words, and for those who do not see the picture."""
        self._lines, self._words = lines, words
        self.setAccessibleDescription(words)
        self.setFixedHeight(self._height())
        self.update()

    def _fitted(self) -> list[QImage]:
        found = []
        ratio = self.devicePixelRatioF()
        room = max(self.width() - 24, 200)
        for line, size in self._lines:
            image = _image(line, size, ratio, theme.color("ink"))
            wide = image.width() / ratio
            if wide > room:
                image = _image(line, max(size * room / wide, 7.0), ratio, theme.color("ink"))
            found.append(image)
        return found

    def _height(self) -> int:
        if not self._lines:
            metrics = self.fontMetrics()
            rect = metrics.boundingRect(0, 0, max(self.width() - 24, 200), 1000, int(Qt.TextFlag.TextWordWrap), self._words)
            return rect.height() + 20
        ratio = self.devicePixelRatioF()
        return round(sum(i.height() / ratio + GAP for i in self._fitted()) + 10)

    def sizeHint(self) -> QSize:
        return QSize(400, self._height())

    def resizeEvent(self, event: object) -> None:
        self.setFixedHeight(self._height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if not self._lines:
            painter.setFont(pixel_font(13))
            painter.setPen(theme.color("ink"))
            painter.drawText(self.rect().adjusted(12, 8, -12, -4), int(Qt.TextFlag.TextWordWrap), self._words)
            return
        y = 6.0
        for image in self._fitted():
            painter.drawImage(QPointF(12, y), image)
            y += image.height() / self.devicePixelRatioF() + GAP
