"""The route: the steps in working order as a line with stations; each shows how it stands."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from nuthatch.core.questions import Standing
from nuthatch.core.steps import NAMES, ROUTE
from nuthatch.desktop.theme.style import pixel_font, theme

NOTHING = tuple(s.key for s in ROUTE if not s.settles)
TOP, GAP = 14, 44


class Route(QWidget):
    """`chosen(step key)` on click, Up/Down with the focus on it."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("route")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(152)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Route: the steps")
        self.current = "cutaway"
        self._standings: dict[str, Standing] = {}

    @property
    def gap(self) -> float:
        return min(GAP, (self.height() - TOP) / len(NAMES))

    def show_state(self, current: str, standings: dict[str, Standing]) -> None:
        self.current, self._standings = current, standings
        words = [
            f"{title}: " + (f"{s.questions} open questions, {s.assumed} assumed" if s.entered or s.questions else "nothing entered yet")
            for key, title in NAMES
            if (s := standings.get(key))
        ]
        self.setAccessibleDescription(". ".join(words))
        self.update()

    def _note(self, key: str) -> str:
        s = self._standings.get(key)
        if s is None or key in NOTHING:
            return ""
        return str(s.questions) if s.questions else ""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        gap = self.gap
        painter.setPen(QPen(theme.color("slate_pale"), 2))
        painter.drawLine(QPointF(22, TOP + gap / 2), QPointF(22, TOP + gap * (len(NAMES) - 0.5)))
        for i, (key, title) in enumerate(NAMES):
            y = TOP + gap * (i + 0.5)
            chosen = key == self.current
            if chosen:
                painter.fillRect(QRectF(0, y - gap / 2, self.width() - 1, gap), theme.color("paper"))
                painter.fillRect(QRectF(0, y - 16, 3, 32), theme.color("slate"))
                if self.hasFocus():
                    painter.setPen(QPen(theme.color("slate"), 1.6))
                    painter.setBrush(Qt.BrushStyle.NoBrush)
                    painter.drawRoundedRect(QRectF(5, y - gap / 2 + 3, self.width() - 11, gap - 6), 4, 4)
            self._station(painter, key, y)
            painter.setPen(theme.color("ink"))
            painter.setFont(pixel_font(13, chosen))
            painter.drawText(QPointF(40, y + 5), title)
            note = self._note(key)
            asked = note.isdigit()
            painter.setFont(pixel_font(12 if asked else 11, asked))
            painter.setPen(theme.color("chestnut_text" if asked else "muted"))
            painter.drawText(
                QRectF(0, y - 10, self.width() - 11, 20), int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter), note
            )

    def _station(self, painter: QPainter, key: str, y: float) -> None:
        s = self._standings.get(key)
        painter.setPen(QPen(theme.color("slate"), 2))
        painter.setBrush(theme.color("panel"))
        if s is None or key in NOTHING:
            painter.fillRect(QRectF(16, y - 1.5, 12, 3), theme.color("slate"))
        elif s.questions:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.color("chestnut"))
            painter.drawPolygon(QPolygonF([QPointF(22, y - 7), QPointF(29, y), QPointF(22, y + 7), QPointF(15, y)]))
        elif s.assumed:
            painter.drawEllipse(QPointF(22, y), 5, 5)
        elif not s.entered:
            painter.setPen(QPen(theme.color("muted"), 1.2, Qt.PenStyle.DotLine))
            painter.drawEllipse(QPointF(22, y), 5, 5)
        else:
            painter.setBrush(theme.color("slate"))
            painter.drawEllipse(QPointF(22, y), 5, 5)

    def point_of(self, key: str) -> QPointF:
        """Where the step is drawn."""
        index = [k for k, _ in NAMES].index(key)
        return QPointF(60, TOP + self.gap * (index + 0.5))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        index = int((event.position().y() - TOP) // self.gap)
        if 0 <= index < len(NAMES):
            self.chosen.emit(NAMES[index][0])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        keys = [k for k, _ in NAMES]
        self.chosen.emit(keys[(keys.index(self.current) + step) % len(keys)])
