"""The painted rail of margins: a heading for each target set, every way of every target as a bar, all limits on one plumb line."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QFontMetrics, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QToolTip, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.targets.conditions import words
from nuthatch.core.targets.verdict import WIDEST, Verdict, WayResult
from nuthatch.core.units import show
from nuthatch.desktop.theme.style import pixel_font, theme

PLUMB = 0.80
HEAD, NOTE, ROW, STRIP = 22, 15, 45, 15


@dataclass(frozen=True)
class Head:
    """The heading of one set: its name, what it does not cover, how many of its lines are folded away, under what it judges."""

    name: str
    scope: str
    folded: int
    conditions: tuple[str, ...]


class Bars(QWidget):
    """The painted rail. `opened(“set id/figure key”)` on click or Enter."""

    opened = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[tuple[str, WayResult]] = []
        self.heads: dict[int, Head] = {}
        self.ghosts: dict[str, float] = {}
        self.met: dict[str, str] = {}
        self.current = 0
        self.tightest = self.folded = self.strip = False
        self._given: tuple[Assessment | None, Assessment | None] = (None, None)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Margins to targets")
        self.painted = 0

    def view(self, *, tightest: bool, folded: bool, strip: bool) -> None:
        """The tightest line of a set first; met lines folded; bars only."""
        self.tightest, self.folded, self.strip = tightest, folded, strip
        self.show_rows(*self._given)

    def show_rows(self, assessment: Assessment | None, reference: Assessment | None) -> None:
        """Take the ways of all targets; the reference gives the ghost marks."""
        self._given = (assessment, reference)
        self.rows, self.met, self.heads = [], {}, {}
        for chosen in assessment.home.target_sets if assessment is not None else ():
            verdicts = [v for v in assessment.verdicts if v.set_id == chosen.id] if assessment is not None else []
            for verdict in verdicts:
                self._remarks(verdict)
            shown = [v for v in verdicts if not (self.folded and v.standing == "inside")]
            self.heads[len(self.rows)] = Head(chosen.name, chosen.scope, len(verdicts) - len(shown), words(chosen))
            ways = [(chosen.id, w) for v in shown for w in v.ways]
            if self.tightest:
                ways.sort(key=lambda row: (row[1].standing != "over", -(row[1].bar or 0.0)))
            self.rows += ways
        self.ghosts = {}
        if reference is not None:
            self.ghosts = {f"{v.set_id}/{w.key}": w.ratio for v in reference.verdicts for w in v.ways if w.ratio is not None}
        self.setAccessibleDescription(
            ". ".join(f"{w.label} {show(w.value, w.kind)} {w.unit}, {w.words()}, {w.standing}" for _, w in self.rows)
        )
        self.current = min(self.current, max(len(self.rows) - 1, 0))
        self.updateGeometry()
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def _remarks(self, verdict: Verdict) -> None:
        """What stands beside a line besides its limit: points, or that another way meets the target."""
        for way in verdict.ways:
            key = f"{verdict.set_id}/{way.key}"
            if verdict.points is not None and way.value is not None:
                points = f"{show(verdict.points, 'points')} point{'' if verdict.points == 1 else 's'}"
                self.met[key] = points if verdict.standing == "inside" else "no points"
            if way.standing == "over" and verdict.standing == "inside":
                by = next(w.label.lower() for w in verdict.ways if w.standing == "inside")
                self.met[key] = f"met by {by.split()[-1]}"

    # where things are

    def _tops(self) -> tuple[list[int], int]:
        """(top of every row, height of all)."""
        tops, y = [], 2
        for n in range(len(self.rows) + 1):
            head = self.heads.get(n)
            if head is not None:
                y += 6 if self.strip else HEAD + (NOTE if head.scope else 0) + (NOTE if head.folded else 0) + (4 if n else 0)
            if n < len(self.rows):
                tops.append(y)
                y += STRIP if self.strip else ROW
        return tops, y

    def _at(self, y: float) -> int:
        tops, _ = self._tops()
        tall = STRIP if self.strip else ROW
        return next((n for n, top in enumerate(tops) if top <= y < top + tall), -1)

    def top_of(self, index: int) -> int:
        """Where a row begins."""
        return self._tops()[0][index]

    def sizeHint(self) -> QSize:
        return QSize(50 if self.strip else 230, max(40, self._tops()[1] + 10))

    # painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.heads:
            painter.setFont(pixel_font(12))
            painter.setPen(theme.color("muted"))
            text = "No target set chosen: choose one in Brief."
            painter.drawText(QRectF(0, 4, self.width(), 40), int(Qt.TextFlag.TextWordWrap), text)
            return
        plumb = self.width() * PLUMB
        tops, bottom = self._tops()
        if not self.strip:
            for n, head in self.heads.items():
                self._head(painter, head, tops[n] if n < len(tops) else bottom)
        for i, (set_id, way) in enumerate(self.rows):
            draw = self._slim if self.strip else self._row
            draw(painter, i, f"{set_id}/{way.key}", way, plumb)
        if self.rows:
            self._plumb_line(painter, plumb, tops[0], bottom)
        self.painted += 1

    def _plumb_line(self, painter: QPainter, plumb: float, top: float, bottom: float) -> None:
        painter.setPen(QPen(theme.color("ink"), 1.6))
        painter.setBrush(theme.color("panel"))
        painter.drawLine(QPointF(plumb, top + 2), QPointF(plumb, bottom))
        painter.drawEllipse(QPointF(plumb, top + 1), 3, 3)
        painter.setBrush(theme.color("ink"))
        painter.drawPolygon(QPolygonF([QPointF(plumb - 4, bottom), QPointF(plumb + 4, bottom), QPointF(plumb, bottom + 8)]))

    def _head(self, painter: QPainter, head: Head, bottom: int) -> None:
        """A set's name, above its first line."""
        notes = [head.scope] if head.scope else []
        notes += [f"{head.folded} met, folded away"] if head.folded else []
        top = bottom - HEAD - NOTE * len(notes)
        painter.setFont(pixel_font(12, True))
        painter.setPen(theme.color("muted"))
        name = painter.fontMetrics().elidedText(head.name, Qt.TextElideMode.ElideRight, self.width() - 4)
        painter.drawText(QPointF(1, top + 15), name)
        painter.setFont(pixel_font(11))
        for n, note in enumerate(notes):
            painter.drawText(QPointF(1, top + 15 + NOTE * (n + 1)), note)

    def _row(self, painter: QPainter, index: int, key: str, way: WayResult, plumb: float) -> None:
        y = self.top_of(index)
        if self.hasFocus() and index == self.current:
            painter.setPen(QPen(theme.color("slate"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(0, y - 1, self.width() - 1, ROW - 5), 4, 4)
        value = show(way.value, way.kind) if way.value is not None else "…" if way.standing == "computing" else "?"
        bold = pixel_font(13, True)
        width = QFontMetrics(bold).horizontalAdvance(value)
        painter.setPen(theme.color("ink"))
        painter.setFont(pixel_font(12))
        room = int(plumb - width - 18)
        painter.drawText(QPointF(2, y + 13), painter.fontMetrics().elidedText(way.label, Qt.TextElideMode.ElideRight, room))
        painter.setFont(bold)
        painter.drawText(QPointF(plumb - 8 - width, y + 13), value)
        self.paint_bar(painter, y + 17, way, key, plumb, 6.0)
        self._limit(painter, y + 35, way, key, int(plumb) - 8)

    def _limit(self, painter: QPainter, y: float, way: WayResult, key: str, room: int) -> None:
        line, size = self.limit_words(way, key, room)
        painter.setFont(pixel_font(size))
        painter.setPen(theme.color("chestnut_text" if way.standing == "over" else "muted"))
        painter.drawText(QPointF(2, y), line)

    def limit_words(self, way: WayResult, key: str, room: int) -> tuple[str, int]:
        """Limit and margin in as many words, and as large [px], as have room; what has none stands in the tip."""
        words_ = way.words(with_units=True)
        short = words_.replace("limit ", "≤ " if way.sense == "max" else "≥ ", 1)
        more = f"; {self.met[key]}" if key in self.met else ""
        line, size = "", 11
        for text, size in ((words_ + more, 11), (short + more, 10), (short, 10), (short, 9)):
            line = QFontMetrics(pixel_font(size)).elidedText(text, Qt.TextElideMode.ElideRight, room)
            if line == text:
                break
        return line, size

    def _slim(self, painter: QPainter, index: int, key: str, way: WayResult, plumb: float) -> None:
        self.paint_bar(painter, self.top_of(index) + 4, way, key, plumb, 7.0)

    def paint_bar(self, painter: QPainter, y: float, way: WayResult, key: str, plumb: float, height: float) -> None:
        """One bar, its ratio to the plumb line; hatched where it is over."""
        painter.setPen(Qt.PenStyle.NoPen)
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

    # reading and opening

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            index = self._at(event.pos().y())
            QToolTip.showText(event.globalPos(), self._tip(index) if index >= 0 else self._said_of_heads(), self)
            return True
        return super().event(event)

    def _tip(self, index: int) -> str:
        """A row in full."""
        set_id, way = self.rows[index]
        more = self.met.get(f"{set_id}/{way.key}", "")
        value = f"{show(way.value, way.kind)} {way.unit}, " if way.value is not None else ""
        return f"{way.label}: {value}{way.words(True)}" + (f"; {more}" if more else "")

    def _said_of_heads(self) -> str:
        """Under which conditions the sets judge."""
        return "\n".join(f"{h.name} judges with {', '.join(h.conditions)}" for h in self.heads.values() if h.conditions)

    def _open(self, index: int) -> None:
        set_id, way = self.rows[index]
        self.opened.emit(f"{set_id}/{way.key}")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        index = self._at(event.position().y())
        if index >= 0:
            self.current = index
            self._open(index)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.rows:
            self.current = (self.current + (1 if event.key() == Qt.Key.Key_Down else -1)) % len(self.rows)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.rows:
            self._open(self.current)
        else:
            super().keyPressEvent(event)
