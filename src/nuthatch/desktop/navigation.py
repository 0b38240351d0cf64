"""Where to go: to a step, a part and its field, to how a result is worked out, and back."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nuthatch.core.steps import STEPS, step_of

if TYPE_CHECKING:
    from nuthatch.desktop.window import MainWindow

    Base = MainWindow
else:
    Base = object


class Guiding(Base):
    """The part of the window that leads somewhere."""

    def go(self, step: str, part: str, field: str) -> None:
        """Go to a step, a part and its field; or to the ledger."""
        if step == "ledger":
            self.show_ledger()
            return
        self.show_step(step)
        if part:
            self.board(step).focus_field(part, field)

    def lead(self, part: str, field: str) -> None:
        """Go to the field an input of a working came from."""
        found = self.document.part(part)
        if found is not None:
            self.go(step_of(found, field), part, field)

    def explain(self, key: str) -> None:
        """Show how a result is worked out: of the home as designed, or, “set id/key”, as that target set judges it."""
        a = self.document.assessment
        set_id, _, name = key.rpartition("/")
        judged = a.under(set_id) if a is not None else None
        if judged is not None and name in judged.figures:
            self.show_working(judged.figures[name])

    def show_working(self, node: object) -> None:
        """How a result is worked out, in the place of the board until it is closed."""
        self.working.show_node(node, self.document.assessment)
        self.center.setCurrentWidget(self.working)
        self.working.inputs.setFocus()

    def close_working(self) -> None:
        """Back to the board."""
        if self.center.currentWidget() is self.working:
            self.center.setCurrentWidget(self.stack)
            self.route.setFocus()

    def _lead_on(self) -> None:
        """The first open question in the order of the work stands at the foot of the window, until somebody does not want it."""
        a = self.document.assessment
        self.change_line.ask(a.questions[0] if a is not None and a.questions else None)

    def drawing_alone(self) -> None:
        """The drawing of the board takes the whole place, or list and inspector come back."""
        work = self.board(self.step).work
        work.drawing_alone(not work.alone)

    def show_ledger(self) -> None:
        """The ledger of assumptions, in the place of the board."""
        self.show_home()
        self.center.setCurrentWidget(self.ledger)
        self.ledger.follow(self.document.assessment)
        self.ledger.table.setFocus()

    def _step(self, by: int) -> None:
        keys = STEPS
        self.show_step(keys[(keys.index(self.step) + by) % len(keys)])

    def toggle_help(self) -> None:
        """The help card of the step."""
        if self.page == "home":
            self.board(self.step).toggle_help()
