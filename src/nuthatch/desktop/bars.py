"""The painted rail of margins: every way of every target as a bar, all limits on one plumb line."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QFontMetrics, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QToolTip, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.targets.verdict import WIDEST, WayResult
from nuthatch.core.units import show
from nuthatch.desktop.theme.style import pixel_font, theme

PLUMB = 0.80


class Bars(QWidget):
    """The painted rail. `opened(figure key)` on click or Enter."""

    opened = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[tuple[str, WayResult]] = []
        self.ghosts: dict[str, float] = {}
        self.met: dict[str, str] = {}
        self.current = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Margins to targets")
        self.painted = 0

    def show_rows(self, assessment: Assessment | None, reference: Assessment | None) -> None:
        """Take the ways of all targets; the reference gives the ghost marks."""
        self.rows, self.met = [], {}
        if assessment is not None:
            for verdict in assessment.verdicts:
                for way in verdict.ways:
                    self.rows.append((verdict.set_id, way))
                    if verdict.points is not None and way.value is not None:
                        gives = (
                            f"{show(verdict.points, 'points')} point{'' if verdict.points == 1 else 's'}"
                            if verdict.standing == "inside"
                            else "no points"
                        )
                        self.met[f"{verdict.set_id}/{way.key}"] = gives
                    if way.standing == "over" and verdict.standing == "inside":
                        by = next(w.label.lower() for w in verdict.ways if w.standing == "inside")
                        self.met[f"{verdict.set_id}/{way.key}"] = f"met by {by.split()[-1]}"
        self.ghosts = {}
        if reference is not None:
            self.ghosts = {f"{v.set_id}/{w.key}": w.ratio for v in reference.verdicts for w in v.ways if w.ratio is not None}
        self.setAccessibleDescription(
            ". ".join(f"{w.label} {show(w.value, w.kind)} {w.unit}, {w.words()}, {w.standing}" for _, w in self.rows)
        )
        self.updateGeometry()
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    @property
    def row_height(self) -> int:
        return 60 if len(self.rows) <= 7 else 40

    def sizeHint(self) -> QSize:
        return QSize(230, max(40, self.row_height * len(self.rows) + 12))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.rows:
            painter.setFont(pixel_font(12))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(0, 4, self.width(), 40), int(Qt.TextFlag.TextWordWrap), "No target set chosen: choose one in Brief.")
            return
        plumb = self.width() * PLUMB
        for i, (set_id, way) in enumerate(self.rows):
            self._row(painter, i, f"{set_id}/{way.key}", way, plumb)
        bottom = self.row_height * len(self.rows) + 2
        painter.setPen(QPen(theme.color("ink"), 1.6))
        painter.setBrush(theme.color("panel"))
        painter.drawLine(QPointF(plumb, 6), QPointF(plumb, bottom))
        painter.drawEllipse(QPointF(plumb, 5), 3, 3)
        painter.setBrush(theme.color("ink"))
        painter.drawPolygon(QPolygonF([QPointF(plumb - 4, bottom), QPointF(plumb + 4, bottom), QPointF(plumb, bottom + 8)]))
        self.painted += 1

    def _row(self, painter: QPainter, index: int, key: str, way: WayResult, plumb: float) -> None:
        y, tall = index * self.row_height, self.row_height > 50
        if self.hasFocus() and index == self.current:
            painter.setPen(QPen(theme.color("slate"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(1, y + 1, self.width() - 2, self.row_height - 2), 4, 4)
        painter.setPen(theme.color("ink"))
        painter.setFont(pixel_font(12))
        value = show(way.value, way.kind) if way.value is not None else "…" if way.standing == "computing" else "?"
        bold = pixel_font(17 if tall else 13, True)
        width = QFontMetrics(bold).horizontalAdvance(value)
        space = plumb - 8 if tall else plumb - width - 18
        painter.drawText(QPointF(2, y + 13), painter.fontMetrics().elidedText(way.label, Qt.TextElideMode.ElideRight, int(space)))
        painter.setFont(bold)
        base = y + 31 if tall else y + 13
        x = 2.0 if tall else plumb - 8 - width
        painter.drawText(QPointF(x, base), value)
        if tall:
            painter.setFont(pixel_font(11))
            painter.setPen(theme.color("muted"))
            painter.drawText(QPointF(x + width + 5, base), way.unit)
        self._bar(painter, y + (36 if tall else 18), way, key, plumb)
        painter.setFont(pixel_font(11))
        words = way.words(with_units=not tall)
        short = words.replace("limit ", "≤ " if way.sense == "max" else "≥ ", 1)
        more = f"; {self.met[key]}" if key in self.met else ""
        room = int(plumb) - 8
        line = ""
        for text, size in ((words + more, 11.0), (short + more, 10.5), (short, 10.5)):  # what has no room stands in the tip
            painter.setFont(pixel_font(size))
            line = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room)
            if line == text:
                break
        over = way.standing == "over"
        painter.setPen(theme.color("chestnut_text" if over else "muted"))
        painter.drawText(QPointF(2, y + (56 if tall else 37)), line)

    def _bar(self, painter: QPainter, y: float, way: WayResult, key: str, plumb: float) -> None:
        height = 8.0 if self.row_height > 50 else 6.0
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("line"))
        track = QColor(theme.color("line"))
        track.setAlpha(130)
        painter.setBrush(track)
        painter.drawRect(QRectF(0, y, self.width(), height))
        ratio = way.bar
        if ratio is not None:
            bar = QRectF(0, y, ratio * plumb, height)
            if way.standing == "over":
                painter.setBrush(theme.color("chestnut_pale"))
                painter.setPen(QPen(theme.color("chestnut"), 1))
                painter.drawRect(bar)
                painter.setBrush(QBrush(theme.color("chestnut"), Qt.BrushStyle.BDiagPattern))
                painter.drawRect(bar)
            else:
                painter.setBrush(theme.color("slate"))
                painter.drawRect(bar)
        elif way.standing == "computing":
            painter.setPen(QPen(theme.color("slate"), 1, Qt.PenStyle.DotLine))
            painter.setBrush(QBrush(theme.color("slate_pale"), Qt.BrushStyle.Dense6Pattern))
            painter.drawRect(QRectF(0.5, y, plumb - 1, height))
        ghost = self.ghosts.get(key)
        if ghost is not None and (way.ratio is None or abs(ghost - way.ratio) > 1e-9):
            painter.setPen(QPen(theme.color("ink"), 1.2, Qt.PenStyle.DashLine))
            x = min(ghost, WIDEST) * plumb
            painter.drawLine(QPointF(x, y - 3), QPointF(x, y + height + 3))

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            index = int(event.pos().y() // self.row_height)
            way = self.rows[index][1] if 0 <= index < len(self.rows) else None
            QToolTip.showText(event.globalPos(), self._tip(index) if way else "", self)
            return True
        return super().event(event)

    def _tip(self, index: int) -> str:
        """A row in full."""
        set_id, way = self.rows[index]
        more = self.met.get(f"{set_id}/{way.key}", "")
        return f"{way.label}: {way.words(True)}" + (f"; {more}" if more else "")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        index = int(event.position().y() // self.row_height)
        if 0 <= index < len(self.rows):
            self.current = index
            self.opened.emit(self.rows[index][1].key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.rows:
            self.current = (self.current + (1 if event.key() == Qt.Key.Key_Down else -1)) % len(self.rows)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.rows:
            self.opened.emit(self.rows[self.current][1].key)
        else:
            super().keyPressEvent(event)
