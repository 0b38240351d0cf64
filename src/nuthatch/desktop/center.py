"""The middle of the window: the boards, how a result is worked out, the ledger of assumptions; and the ways between them."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QApplication, QStackedWidget, QWidget

from nuthatch.core.steps import STEPS, step_of
from nuthatch.desktop.document import Document
from nuthatch.desktop.ledger_view import LedgerView
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.steps.boards import BoardStack
from nuthatch.desktop.widgets.chart_canvas import charts_wait
from nuthatch.desktop.widgets.focus_order import order_focus
from nuthatch.desktop.working_view import WorkingView


class Center(QStackedWidget):
    """`stepped()` when another step is shown, `said(text, detail)`, `leaving()` when what has the focus goes: it is to go elsewhere;
    `elsewhere(page)` where a board leads to what is no step."""

    stepped = pyqtSignal()
    said = pyqtSignal(str, str)
    leaving = pyqtSignal()
    elsewhere = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.step = ""
        self.stack, self.working = BoardStack(document.desk), WorkingView()
        self.ledger = LedgerView(document, document.weighing)
        for widget in (self.stack, self.working, self.ledger):
            self.addWidget(widget)
        self.working.lead.connect(self.lead)
        self.working.left.connect(self.close_working)
        self.working.said.connect(lambda text: self.said.emit(text, ""))
        self.working.pin.connect(lambda path, caption: self.board(self.step).pin("working", path, caption))
        self.stack.go.connect(self.go)
        self.stack.explain.connect(self.show_working)
        self.stack.said.connect(self.said)
        self.ledger.go.connect(self.go)
        self.ledger.left.connect(lambda: self.show_step(self.step))
        self.ledger.said.connect(lambda text: self.said.emit(text, ""))

    def board(self, key: str) -> Board:
        """The board of a step, made when first needed."""
        return self.stack.board(key)

    def show_step(self, key: str) -> None:
        """Go to a step."""
        self.setCurrentWidget(self.stack)
        focused = QApplication.focusWidget()
        if focused is not None and key != self.step and self.stack.isAncestorOf(focused):
            self.leaving.emit()  # else the focus would vanish with the old board
        self.step = key
        board = self.board(key)
        self.stack.setCurrentWidget(board)
        board.present(self._document.snapshot)
        order_focus(board)
        self.stepped.emit()

    def step_on(self, by: int) -> None:
        """So many steps on in the order of the work."""
        self.show_step(STEPS[(STEPS.index(self.step) + by) % len(STEPS)])

    def go(self, step: str, part: str = "", field: str = "") -> None:
        """Go to a step, a part and its field; or to the ledger."""
        if step == "ledger":
            self.show_ledger()
            return
        if step not in STEPS:
            self.elsewhere.emit(step)
            return
        self.show_step(step)
        if part:
            self.board(step).focus_field(part, field)

    def lead(self, part: str, field: str) -> None:
        """Go to the field an input of a working came from."""
        found = self._document.desk.part(part)
        if found is not None:
            self.go(step_of(found, field), part, field)

    def explain(self, key: str) -> None:
        """Show how a result is worked out: of the home as designed, or, “set id/key”, as that target set judges it."""
        a = self._document.assessment
        set_id, _, name = key.rpartition("/")
        judged = a.under(set_id) if a is not None else None
        if judged is not None and name in judged.figures:
            self.show_working(judged.figures[name])

    def show_working(self, node: object) -> None:
        """How a result is worked out, in the place of the board until it is closed."""
        self.working.show_node(node, self._document.assessment)
        self.setCurrentWidget(self.working)
        self.working.inputs.setFocus()

    def close_working(self) -> None:
        """Back to the board."""
        if self.currentWidget() is self.working:
            self.setCurrentWidget(self.stack)
            self.leaving.emit()

    def in_work(self) -> Board | None:
        """The board that is shown; None while something else is."""
        return self.board(self.step) if self.currentWidget() is self.stack else None

    def show_ledger(self) -> None:
        """The ledger of assumptions, in the place of the board."""
        self.setCurrentWidget(self.ledger)
        self.ledger.follow(self._document.assessment)
        self.ledger.table.setFocus()

    def drawing_alone(self) -> None:
        """The drawing of the board takes the whole place, or list and inspector come back."""
        work = self.board(self.step).work
        work.drawing_alone(not work.alone)

    def refresh(self) -> None:
        """Show the home as it is now."""
        if self.currentWidget() is self.working and not self.working.follow(self._document.assessment):
            self.close_working()
        if self.ledger.isVisible():
            self.ledger.follow(self._document.assessment)
        board = self.board(self.step)
        board.present(self._document.snapshot)
        order_focus(board)

    def take_down(self, other: QWidget) -> None:
        """Remove the boards; each is made again when it is shown. other: who has the focus where nobody has."""
        if self.stack.isAncestorOf(QApplication.focusWidget() or other):
            self.leaving.emit()
        self.stack.take_down()

    @property
    def settled(self) -> bool:
        """Whether nothing shown is still being worked out or waits to be drawn."""
        board = self.board(self.step)
        return board.settled and not charts_wait(board) and not (self.ledger.isVisible() and not self.ledger.settled)
