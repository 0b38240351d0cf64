"""Margins to targets: the rail of bars, the open questions below, and what rests on assumptions."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from nuthatch.core.questions import assumptions
from nuthatch.core.results.entries import lowered
from nuthatch.core.results.question import Question
from nuthatch.core.units import so_many
from nuthatch.desktop import settings
from nuthatch.desktop.bars import Bars
from nuthatch.desktop.document import Document
from nuthatch.desktop.theme.style import theme
from nuthatch.desktop.trying import tried
from nuthatch.desktop.weights import Weighing
from nuthatch.desktop.widgets.link_label import LinkLabel


class Margins(QWidget):
    """The right rail. `go(step, part, field)` from an open question, `explain(“set id/figure key”)` from a bar."""

    go = pyqtSignal(str, str, str)
    explain = pyqtSignal(str)
    ledger = pyqtSignal()

    def __init__(self, document: Document, weighing: Weighing) -> None:
        super().__init__()
        self.setObjectName("margins")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._document, self._weighing = document, weighing
        self.bars = Bars()
        self.bars.opened.connect(self.explain)
        self._questions_title = QLabel("Open questions")
        self._questions_title.setObjectName("sectionTitle")
        self.question_links = QVBoxLayout()
        self.question_links.setSpacing(7)
        self._assumed = LinkLabel("")
        self._assumed.pressed.connect(self._to_heaviest)
        self._asked: tuple[tuple[str, ...], ...] | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(14, 12, 8, 8)
        self.head = self._head()
        outer.addWidget(self.head)
        self._with = QLabel()
        self._with.setObjectName("muted")
        self._with.setWordWrap(True)
        self._with.hide()
        outer.addWidget(self._with)
        outer.addWidget(self._scrolled(), 1)
        self._view()
        weighing.moved.connect(self._show_assumed)

    def _head(self) -> QWidget:
        """The title, the pin, and how the lines are shown."""
        holder = QWidget()
        title = QLabel("Margins to targets")
        title.setObjectName("sectionTitle")
        self.pin = QPushButton("Pin")
        self.pin.setCheckable(True)
        self.pin.setStyleSheet("padding: 1px 8px; font-size: 11.5px;")
        self.pin.setToolTip("Keep the values of now as the reference of the dashed marks")
        self.pin.clicked.connect(self._pin)
        menu = QMenu(self)
        kept = settings.load()
        self.switches: dict[str, QAction] = {}
        for key, text in (("tightest", "Tightest first"), ("folded", "Fold met lines"), ("strip", "Bars only (F9)")):
            action = menu.addAction(text)
            assert action is not None
            action.setCheckable(True)
            action.setChecked(getattr(kept, key))
            action.toggled.connect(lambda on, key=key: self._switch(key, on))
            self.switches[key] = action
        view = QPushButton("View")
        view.setAccessibleName("How the margins are shown")
        view.setStyleSheet("padding: 1px 8px; font-size: 11.5px;")
        view.setMenu(menu)
        top = QHBoxLayout(holder)
        top.setContentsMargins(0, 0, 4, 0)
        top.addWidget(title, 1)
        top.addWidget(view)
        top.addWidget(self.pin)
        return holder

    def _switch(self, key: str, on: bool) -> None:
        settings.change(**{key: on})
        self._view()

    def toggle_strip(self) -> None:
        """Fold the rail to a strip with only its bars, or unfold it."""
        self.switches["strip"].toggle()

    def _view(self) -> None:
        on = {key: action.isChecked() for key, action in self.switches.items()}
        self.bars.view(**on)
        for widget in (self.head, *self._below):
            widget.setVisible(not on["strip"])
        self.setFixedWidth(64 if on["strip"] else 250)

    def _scrolled(self) -> QScrollArea:
        """Bars, questions and assumptions, as long as they need."""
        body = QWidget()
        body.setObjectName("marginsBody")
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 2, 0)
        column.setSpacing(8)
        column.addWidget(self.bars)
        asked = QWidget()
        asked.setLayout(self.question_links)
        self.question_links.setContentsMargins(0, 0, 0, 0)
        self._all = LinkLabel("<u>All of them, heaviest first</u>")
        self._all.setAccessibleName("Ledger of assumptions")
        self._all.pressed.connect(self.ledger)
        self._below = (_rule(), self._questions_title, asked, _rule(), self._assumed, self._all)
        for widget in self._below:
            column.addWidget(widget)
        column.addStretch(1)
        area = QScrollArea()
        area.setObjectName("marginsScroll")
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(body)
        return area

    def _pin(self) -> None:
        self._document.pinned = self._document.assessment if self.pin.isChecked() else None
        self.refresh_bars()

    def refresh_bars(self) -> None:
        """The bars alone: what a keystroke must reach at once."""
        d = self._document
        what = tried(d.desk)
        base = what.assessment if what is not None else None
        self.bars.show_rows(d.assessment, d.pinned or base or d.before)
        self._with.setVisible(what is not None)
        if what is not None:
            self._with.setText(f"with {f'“{what.seen}”' if what.seen else 'what is tried'} · dashed: as it is")

    def refresh_rest(self) -> None:
        """Open questions, assumptions."""
        d = self._document
        asked = d.assessment.questions if d.assessment else ()
        self.show_progress()
        self._show_questions(asked)
        self._show_assumed()
        self._weighing.follow()

    def _show_assumed(self) -> None:
        """How much rests on assumptions, and what to find out first, as the ledger has it."""
        number = sum(1 for _ in assumptions(self._document.home))
        self._all.setVisible(number > 0 and not self.switches["strip"].isChecked())
        first = self._weighing.first
        said = f"<b>Resting on assumptions</b>  {so_many(number, 'value')}" if number else "<b>Resting on assumptions</b>  none"
        if first is not None:
            row, margin, weight = first
            name = f"{row.name} {lowered(row.spec.label)}".strip()
            said += f"<br>first to find out: <u>{escape(name)}</u>; {weight.way} moves {escape(margin)} by {100 * weight.change:.2f} %"
        self._assumed.setText(said)

    @property
    def assumed(self) -> str:
        """What is said of assumptions."""
        return self._assumed.text()

    @property
    def questions_title(self) -> str:
        """What stands over the open questions."""
        return self._questions_title.text()

    def show_progress(self) -> None:
        """Whether something is computing, and how far it is."""
        d = self._document
        asked = d.assessment.questions if d.assessment else ()
        waits = d.assessment is None or d.assessment.computing
        far = f" · computing, {100 * d.progress:.0f} %" if waits and d.progress is not None else " · computing …" if waits else ""
        self._questions_title.setText(f"Open questions  {len(asked)}{far}")

    def _show_questions(self, asked: Sequence[Question]) -> None:
        """A link for each; made anew only where they differ from those that are there."""
        rows = tuple((q.step, q.part, q.field, q.item, q.text) for q in asked)
        if rows == self._asked:
            return
        self._asked = rows
        while self.question_links.count():
            item = self.question_links.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()
        for q in asked[:12]:
            label = LinkLabel(f"<span style='color:{theme.tokens['chestnut']}'>◆</span> <u>{escape(q.item)}</u>: {escape(q.text)}")
            label.setAccessibleName(f"{q.item}: {q.text}")
            label.pressed.connect(lambda q=q: self.go.emit(q.step, q.part, q.field))
            self.question_links.addWidget(label)
        if len(asked) > 12:
            self.question_links.addWidget(QLabel(f"and {len(asked) - 12} more"))

    def _to_heaviest(self) -> None:
        first = self._weighing.first
        if first is not None:
            self.go.emit(first[0].step, first[0].part, first[0].field)


def _rule() -> QFrame:
    line = QFrame()
    line.setFrameShape(QFrame.Shape.HLine)
    line.setFixedHeight(1)
    line.setStyleSheet(f"background: {theme.tokens['line']}; border: none;")
    return line
