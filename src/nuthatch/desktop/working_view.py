"""How it is worked out, inside the window: the trail, the formula typeset and with its numbers, months, inputs, where it comes from."""

from __future__ import annotations

from calendar import month_name
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.results.figure import Computing, Known, Unknown
from nuthatch.core.results.formulas import Unreadable, put_in, typeset
from nuthatch.core.units import unit_of
from nuthatch.core.views.working import as_text, in_short, is_monthly, key_of, path_to, sources, trail_of, working
from nuthatch.desktop.steps.board import button
from nuthatch.desktop.widgets.formula_view import FormulaView
from nuthatch.desktop.widgets.link_label import LinkLabel
from nuthatch.desktop.widgets.sketch_view import SketchView

LARGE, SMALL = 18.0, 15.0


class WorkingView(QWidget):
    """`lead(part, field)` where an entered value is to be changed, `pin(path, caption)`, `said(text)`, `left()` when it is closed."""

    lead = pyqtSignal(str, str)
    pin = pyqtSignal(str, str)
    said = pyqtSignal(str)
    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("board")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.trail: list[Any] = []
        self.month = 0
        self._assessment: Assessment | None = None
        self._paths: list[str] = []
        self.heading, self.value, self.clause = QLabel(), QLabel(), QLabel()
        for label in (self.heading, self.value):
            label.setObjectName("boardTitle")
        for label in (self.heading, self.value, self.clause):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.clause.setObjectName("muted")
        self._crumbs = QHBoxLayout()
        self._crumbs.setSpacing(4)
        self.formula = FormulaView()
        self.inputs = SketchView("What was put in", 100)
        self.inputs.clicked.connect(self.take_click)
        self.sources = SketchView("Where it comes from", 100)
        self.sources.clicked.connect(self.take_click)
        self._lay_out()

    def _lay_out(self) -> None:
        what = QLabel("how it is worked out")
        what.setObjectName("muted")
        head = QHBoxLayout()
        head.addWidget(self.heading)
        head.addWidget(what)
        head.addStretch(1)
        head.addWidget(self.value)
        card = QFrame()
        card.setObjectName("card")
        inside = QVBoxLayout(card)
        inside.setContentsMargins(6, 4, 10, 6)
        inside.setSpacing(2)
        inside.addWidget(self.formula)
        self.clause.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.clause.setWordWrap(True)
        inside.addWidget(self.clause)
        left = QVBoxLayout()
        left.addWidget(card)
        left.addWidget(_scrolled(self.inputs), 1)
        left.addLayout(self._foot())
        middle = QHBoxLayout()
        middle.setSpacing(9)
        middle.addLayout(left, 1)
        middle.addWidget(self._beside())
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 12, 10, 8)
        outer.setSpacing(6)
        outer.addLayout(head)
        outer.addLayout(self._crumbs)
        outer.addLayout(middle, 1)

    def _foot(self) -> QHBoxLayout:
        """What can be done with a working, and the way back."""
        foot = QHBoxLayout()
        for text, do in (("Copy as text", self.copy_text), ("Copy as picture", self.copy_picture), ("Pin to the dossier", self.pin_it)):
            foot.addWidget(button(text, do))
        foot.addStretch(1)
        self.back_button = button("Back", self.back, tip="One step back (Backspace)")
        foot.addWidget(self.back_button)
        foot.addWidget(button("Close", self.left.emit, tip="Back to the board (Esc)"))
        return foot

    def _beside(self) -> QScrollArea:
        """What the result rests on, in a column of its own."""
        beside = QScrollArea()
        beside.setObjectName("inspector")
        beside.setWidgetResizable(True)
        beside.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        beside.setFixedWidth(284)
        holder = QWidget()
        holder.setObjectName("inspectorBody")
        column = QVBoxLayout(holder)
        column.setContentsMargins(12, 8, 10, 8)
        column.addWidget(self.sources)
        column.addStretch(1)
        beside.setWidget(holder)
        return beside

    def show_node(self, node: object, assessment: Assessment | None) -> None:
        """Start at a result of an assessment."""
        self._assessment = assessment
        self.trail, self.month = [node], 0
        self._render()

    def follow(self, assessment: Assessment | None) -> bool:
        """Show the same working in a newer assessment; False where it is not to be found there any more."""
        if not self.trail or assessment is None or assessment is self._assessment:
            return bool(self.trail)
        path = self._path()
        self._assessment = assessment
        try:
            self.trail = list(trail_of(assessment, path))
        except KeyError:
            return False
        self._render()
        return True

    def _path(self) -> str:
        """Where the working shown stands among the published results, '' where nowhere."""
        if self._assessment is None or not self.trail:
            return ""
        key = key_of(self._assessment, self.trail[0])
        return path_to(key, tuple(self.trail)) if key else ""

    def back(self) -> None:
        """One step back in the trail."""
        if len(self.trail) > 1:
            self.trail.pop()
            self._render()
        else:
            self.left.emit()

    def open_input(self, index: int) -> None:
        """Open an input: its own working, or the field it was entered in."""
        node = self.trail[-1]
        item = list(node.rows())[index][1] if isinstance(node, Known) else None
        if isinstance(item, Known | Unknown | Computing):
            self.trail.append(item)
            self._render()
        elif item is not None and item.part:
            self.lead.emit(item.part, item.field)

    def take_click(self, ident: str) -> None:
        """Open the input, the month or the field that was clicked."""
        kind, _, rest = ident.partition(":")
        if kind == "input":
            self.open_input(int(rest))
        elif kind == "month":
            self.month = int(rest)
            self._render()
        elif kind == "lead":
            part, _, field = rest.partition(":")
            self.lead.emit(part, field)

    # showing

    def _render(self) -> None:
        node = self.trail[-1]
        self.heading.setText(self.trail[0].label)
        self.value.setText(in_short(self.trail[0]))
        self.back_button.setEnabled(len(self.trail) > 1)
        self._show_trail()
        self._show_formula(node)
        self._show_inputs()
        self._show_sources()

    def _show_trail(self) -> None:
        while self._crumbs.count():
            item = self._crumbs.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.hide()  # at once: it is deleted with the next event only
                widget.deleteLater()
        for n, node in enumerate(self.trail):
            last = n == len(self.trail) - 1
            label: QLabel
            if last:
                label = QLabel(f"{node.label}  {in_short(node)}")
                label.setStyleSheet("font-weight: 600;")
            else:
                link = LinkLabel(f"<u>{node.label}</u>  ›")
                link.pressed.connect(lambda n=n: self._cut(n))
                label = link
            self._crumbs.addWidget(label)
        self._crumbs.addStretch(1)

    def _cut(self, length: int) -> None:
        del self.trail[length + 1 :]
        self._render()

    def _show_formula(self, node: object) -> None:
        if not isinstance(node, Known):
            needs = "\n".join(f"It needs {n.text}." for n in node.needs) if isinstance(node, Unknown) else "computing …"
            self.formula.show_lines((), needs)
            self.clause.setText("")
            return
        try:
            lines = tuple((line, LARGE) for line in typeset(node.calc.formula))
            lines += tuple((line, SMALL) for line in put_in(node, self.month))
        except Unreadable:
            lines = ()
        self.formula.show_lines(lines, node.calc.formula)
        of_month = f"in {month_name[self.month + 1]}, " if is_monthly(node) else ""
        self.clause.setText(f"{of_month}{unit_of(node.kind)}   ·   {node.calc.clause}")

    def _show_inputs(self) -> None:
        root, node, month = self.trail[0], self.trail[-1], self.month
        width = float(max(self.inputs.width(), 420))
        made = working(root, node, width, month)
        self.inputs.setFixedHeight(max(int(made.height), 80))
        self.inputs.show_sketch(made)

    def _show_sources(self) -> None:
        made = sources(self.trail[-1], float(max(self.sources.width(), 230)))
        self.sources.setFixedHeight(int(made.height))
        self.sources.show_sketch(made)

    def resizeEvent(self, event: object) -> None:
        if self.trail:
            self._show_inputs()
            self._show_sources()

    # taking it along

    def copy_text(self) -> None:
        """The working as text, for a letter or a spreadsheet."""
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(as_text(tuple(self.trail)))
            self.said.emit("The working is copied as text.")

    def copy_picture(self) -> None:
        """What is shown as a picture."""
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setPixmap(self.grab())
            self.said.emit("The working is copied as a picture.")

    def pin_it(self) -> None:
        """Pin the working that is shown to the dossier."""
        path = self._path()
        if path:
            self.pin.emit(path, f"How it is worked out: {self.trail[-1].label}")
        else:
            self.said.emit("This working belongs to no result that stands in the dossier.")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        elif event.key() == Qt.Key.Key_Backspace:
            self.back()
        else:
            super().keyPressEvent(event)


def _scrolled(widget: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setObjectName("boardScroll")
    area.setWidgetResizable(True)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    holder = QWidget()
    holder.setObjectName("boardBody")
    column = QVBoxLayout(holder)
    column.setContentsMargins(2, 6, 8, 4)
    column.addWidget(widget)
    column.addStretch(1)
    area.setWidget(holder)
    return area
