"""Margins to targets: every way of every target as a bar, all limits on one plumb line; the open questions below."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QFontMetrics, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QToolTip, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.edits.changes import ChangeRefused, SetValue, apply
from nuthatch.core.model.part import specs
from nuthatch.core.questions import assumptions
from nuthatch.core.targets.verdict import WIDEST, WayResult
from nuthatch.core.units import show
from nuthatch.desktop.document import Document
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
        value = show(way.value, way.kind) if way.value is not None else "?"
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


class Margins(QWidget):
    """The right rail. `go(step, part, field)` from an open question, `explain(figure key)` from a bar."""

    go = pyqtSignal(str, str, str)
    explain = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("margins")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(268)
        self._document = document
        self.bars = Bars()
        self.bars.opened.connect(self.explain)
        title, self._sets = QLabel("Margins to targets"), QLabel()
        title.setObjectName("sectionTitle")
        self._sets.setObjectName("muted")
        self._sets.setWordWrap(True)
        self.pin = QPushButton("Pin")
        self.pin.setCheckable(True)
        self.pin.setStyleSheet("padding: 1px 8px; font-size: 11.5px;")
        self.pin.setToolTip("Keep the values of now as the reference of the dashed marks")
        self.pin.clicked.connect(self._pin)
        top = QHBoxLayout()
        top.addWidget(title, 1)
        top.addWidget(self.pin)
        self._questions_title = QLabel("Open questions")
        self._questions_title.setObjectName("sectionTitle")
        self._questions = QVBoxLayout()
        self._questions.setSpacing(7)
        self._assumed = LinkLabel("")
        self._assumed.pressed.connect(self._to_heaviest)
        self._heaviest: tuple[str, str, str] | None = None
        body = QWidget()
        body.setObjectName("marginsBody")
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 2, 0)
        column.setSpacing(8)
        column.addWidget(self.bars)
        column.addWidget(_rule())
        column.addWidget(self._questions_title)
        column.addLayout(self._questions)
        column.addWidget(_rule())
        column.addWidget(self._assumed)
        column.addStretch(1)
        area = QScrollArea()
        area.setObjectName("marginsScroll")
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(body)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(16, 12, 12, 8)
        outer.addLayout(top)
        outer.addWidget(self._sets)
        outer.addWidget(area, 1)
        self._weigh = _Weighing(self, document, self._weighed)

    def _pin(self) -> None:
        self._document.pinned = self._document.assessment if self.pin.isChecked() else None
        self.refresh_bars()

    def refresh_bars(self) -> None:
        """The bars alone: what a keystroke must reach at once."""
        d = self._document
        self.bars.show_rows(d.assessment, d.pinned or d.before)

    def refresh_rest(self) -> None:
        """Names of the sets, open questions, assumptions."""
        d = self._document
        self._sets.setText(" · ".join(s.name for s in d.home.target_sets) or "no target set")
        asked = d.assessment.questions if d.assessment else ()
        self._questions_title.setText(f"Open questions  {len(asked)}" if d.assessment else "Computing …")
        while self._questions.count():
            item = self._questions.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()
        for q in asked[:12]:
            label = LinkLabel(f"<span style='color:{theme.tokens['chestnut']}'>◆</span> <u>{escape(q.item)}</u>: {escape(q.text)}")
            label.setAccessibleName(f"{q.item}: {q.text}")
            label.pressed.connect(lambda q=q: self.go.emit(q.step, q.part, q.field))
            self._questions.addWidget(label)
        if len(asked) > 12:
            self._questions.addWidget(QLabel(f"and {len(asked) - 12} more"))
        number = sum(1 for _ in assumptions(d.home))
        self._heaviest = None
        self._assumed.setText(f"<b>Resting on assumptions</b>  {number} values" if number else "<b>Resting on assumptions</b>  none")
        self._weigh.start()

    def _weighed(self, step: str, part: str, field: str, name: str, effect: float) -> None:
        self._heaviest = (step, part, field)
        number = sum(1 for _ in assumptions(self._document.home))
        self._assumed.setText(
            f"<b>Resting on assumptions</b>  {number} values<br>heaviest: <u>{escape(name)}</u>; 10 % of it moves heating demand {show(effect, 'specific_energy')}"
        )

    def _to_heaviest(self) -> None:
        if self._heaviest is not None:
            self.go.emit(*self._heaviest)


def _rule() -> QFrame:
    line = QFrame()
    line.setFrameShape(QFrame.Shape.HLine)
    line.setFixedHeight(1)
    line.setStyleSheet(f"background: {theme.tokens['line']}; border: none;")
    return line


class _Weighing:
    """Finds the assumption that moves heating demand most, one trial per idle moment, given up when the home changes."""

    def __init__(self, owner: QWidget, document: Document, done: object) -> None:
        self._document, self._done = document, done
        self._queue: list[tuple[str, str, str, str, float]] = []
        self._best: tuple[float, tuple[str, str, str, str]] | None = None
        self._timer = QTimer(owner)  # dies with the rail
        self._timer.setInterval(15)
        self._timer.timeout.connect(self._step)
        self._wait = QTimer(owner)
        self._wait.setSingleShot(True)
        self._wait.setInterval(900)
        self._wait.timeout.connect(self._timer.start)

    def start(self) -> None:
        self._timer.stop()
        self._best = None
        self._base = self._document.assessment
        self._queue = []
        if self._base is None or self._base.figures["heating_demand"].value is None:
            return
        for step, part, field, given in assumptions(self._document.home):
            # a tenth of a temperature in °C means nothing
            if given.value and specs(type(part))[field].kind != "temperature":
                label = specs(type(part))[field].label
                name = f"{getattr(part, 'name', '')} {label[0].lower()}{label[1:]}".strip()
                self._queue.append((step, part.id, field, name, given.value))  # type: ignore[attr-defined]
        self._wait.start()

    def _step(self) -> None:
        base = self._base
        if base is not self._document.assessment or base is None:
            self._timer.stop()
            return
        if not self._queue:
            self._timer.stop()
            if self._best is not None:
                effect, found = self._best
                self._done(*found, effect)  # type: ignore[operator]
            return
        step, part, field, name, value = self._queue.pop()
        try:
            changed = apply(SetValue(part=part, field=field, value={"value": value * 1.1}), base.home)
        except ChangeRefused:
            return
        trial = assess(changed, base.climate, base).figures["heating_demand"].value
        effect = abs(trial - base.figures["heating_demand"].value) if trial is not None else 0.0
        if self._best is None or effect > self._best[0]:
            self._best = (effect, (step, part, field, name))
