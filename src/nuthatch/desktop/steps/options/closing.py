"""What closes the gap to a target: each lever by itself, two together as a curve, the cheapest set of upgrades. Each answer becomes an
upgrade, or an option, with a click."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QComboBox, QLineEdit, QSpinBox

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.option_edits import with_option, with_upgrade
from nuthatch.core.model.options import Upgrade
from nuthatch.core.options import beside
from nuthatch.core.options.gap import Closed, Key, nearest_first
from nuthatch.core.options.ladder import Ladder
from nuthatch.core.options.packages import Package, Within, best_of
from nuthatch.core.options.pairs import Curve, joined
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import with_unit
from nuthatch.core.views.options.odds_drawn import POINT, levers_drawing, name_of_target, said_of
from nuthatch.core.views.options.rows import gap_cells, package_rows
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.steps.options.asked import Asked, Asking
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

PAIR_WAITS = "Choose a target and two levers: the curve shows where both together just meet it."


class Closing(QObject):
    """The drawing of two levers, and the lists “Closing the gap” and “Cheapest set”."""

    def __init__(self, board: Board, asking: Asking) -> None:
        super().__init__(board)
        self.board, self.asking = board, asking
        self.front = ""
        self.target, self.on, self.first, self.second = QComboBox(), QComboBox(), QComboBox(), QComboBox()
        names = ("Target whose gap is to be closed", "Home whose gap is to be closed", "First lever", "Second lever")
        for box, name in zip((self.target, self.on, self.first, self.second), names, strict=True):
            box.setAccessibleName(name)
            box.setMinimumWidth(120)
            box.setMaximumWidth(230)
            box.activated.connect(lambda _: self.look())
        self.pair = SketchView("Two levers together")
        self.pair.clicked.connect(self._pointed)
        self.point = -1
        self.take_pair = button("Make it an upgrade", self._take_pair, "plus", "Of the point that is chosen on the curve")
        board.add_drawing("Two levers", self.pair, row_of(self.first, self.second, self.take_pair))
        self.gap = ReadTable("What closes the gap", ("Lever", "Closes the gap at", "Else"), (0, 210, 150))
        self.gap.opened.connect(self.take_answer)
        self.gap_button = button("Make it an upgrade", lambda: self.take_answer(self.gap.current_id()), "plus")
        board.work.lists.add("Closing the gap", self.gap, row_of(self.on, self.target, self.gap_button))
        self._sets()
        board.work.lists.switched.connect(lambda _: self.look())
        board.work.drawings.switched.connect(lambda _: self.look())

    def _sets(self) -> None:
        self.sets = ReadTable("The cheapest set of upgrades", ("Upgrade", "Cost"), (0, 140))
        self.most, self.budget = QSpinBox(), QLineEdit()
        self.most.setAccessibleName("At most so many upgrades")
        self.most.setRange(0, 16)
        self.most.setSpecialValueText("any number")
        self.most.setPrefix("at most ")
        self.budget.setAccessibleName("Budget")
        self.budget.setPlaceholderText("budget: any")
        self.budget.setMaximumWidth(120)
        self.find_button = button("Find it", self._find, "", "The cheapest of all sets of these upgrades that meets the target")
        self.option_button = button("Make it an option", self._take_set, "plus")
        self.board.work.lists.add("Cheapest set", self.sets, row_of(self.most, self.budget, self.find_button, self.option_button))
        self._within: Within | None = None

    # what is shown

    def follow(self, a: Assessment, front: str, known: Mapping[str, Ladder]) -> None:
        """The home, and the option in front, may have changed."""
        name = next((o.name for o in a.home.options if o.id == front), "")
        if front != self.front:
            self.on.clear()  # what is in front is meant
        fill(self.on, [*([(front, f"with {name}")] if name else []), ("", "as it is")])
        self.front = front
        judged = known[self.option].end.verdicts if self.option in known else a.verdicts
        rows = sorted((v for v in judged if v.standing in ("over", "inside") and not v.voluntary), key=lambda v: v.standing != "over")
        fill(self.target, [((v.set_id, v.name), f"{v.set_name} · {v.name}{'' if v.standing == 'over' else ', met'}") for v in rows])
        self.look()

    @property
    def key(self) -> Key | None:
        """The target that is chosen."""
        found = self.target.currentData()
        return tuple(found) if found is not None else None

    def look(self) -> None:
        """Ask what somebody looks at; show what is known."""
        key = self.key
        if key is None:
            return
        if self.board.work.lists.current is self.gap:
            self.asking.ask(
                self._gap_name,
                Asked(beside.gap, {"key": key, "option": self.option}, lambda parts: nearest_first(r for p in parts for r in p)),
            )
        if self.board.work.drawings.current is self.pair:
            self.asking.ask(("levers", self.option), Asked(beside.levers_of, {"option": self.option}, lambda parts: parts[0]))
            self._fill_levers()
        if self.board.work.drawings.current is self.pair and self._levers[0] != self._levers[1]:
            self.asking.ask(self._pair_name, Asked(beside.pair, {"key": key, "option": self.option, "levers": self._levers}, joined))
        self.show_known()

    @property
    def option(self) -> str:
        """The option whose gap is to be closed; '' for the home as it is."""
        return str(self.on.currentData() or "")

    @property
    def _gap_name(self) -> object:
        return "gap", self.option, self.key

    @property
    def _pair_name(self) -> object:
        return "pair", self.option, self.key, self._levers

    @property
    def _levers(self) -> tuple[str, str]:
        return str(self.first.currentData() or ""), str(self.second.currentData() or "")

    def _fill_levers(self) -> None:
        levers = self.asking.answers.get(("levers", self.option), ())
        for n, box in enumerate((self.first, self.second) if levers else ()):
            fresh = box.count() == 0
            fill(box, list(levers))
            if fresh and len(levers) > n:
                box.setCurrentIndex(n)

    def show_known(self) -> None:
        """Lists and drawing from what is known by now."""
        if self.board.work.drawings.current is self.pair and not self.first.count() and ("levers", self.option) in self.asking.answers:
            self.look()  # now that there are levers to choose from
            return
        answers = self.answers
        waits = self._waits(self._gap_name, 3)
        self.gap.show_rows([(str(n), gap_cells(r)) for n, r in enumerate(answers)] if answers is not None else waits)
        one = self.curve
        said = PAIR_WAITS if self._levers[0] != self._levers[1] else "Choose two levers that are not the same."
        name = self._pair_name
        if one is None and self.asking.asked(name):
            said = (
                self.asking.failed.get(name) or f"Being worked out, {100 * self.asking.far:.0f} %"
                if self.asking.running == name
                else "Waits."
            )
        point = self.point
        self.pair.show_made(lambda w, h: levers_drawing(one, said, (w, h), point))
        found = self.package
        self.sets.show_rows(
            package_rows(found, self.board.home) if found is not None else self._waits(self._set_name, 2) or self._invites(), (1,)
        )

    def _said(self, name: object) -> str:
        """How a question stands that is not answered; '' where nobody asked."""
        if not self.asking.asked(name):
            return ""
        return self.asking.failed.get(name) or (
            f"being worked out, {100 * self.asking.far:.0f} %" if self.asking.running == name else "waits"
        )

    def _waits(self, name: object, columns: int) -> list[tuple[str, tuple[str, ...]]]:
        said = self._said(name)
        return [("", (said, *("" for _ in range(columns - 1))))] if said else []

    def _invites(self) -> list[tuple[str, tuple[str, ...]]]:
        priced = sum(u.cost is not None for u in self.board.home.upgrades)
        key = self.key
        if not priced or key is None or self.board.assessment is None:
            return [("", ("No upgrade has a cost yet: type costs in “Upgrades”.", ""))]
        return [("", (f"Of {priced} upgrades the cheapest set that meets {name_of_target(self.board.assessment, key)}.", ""))]

    @property
    def answers(self) -> tuple[Closed, ...] | None:
        """What closes the gap, once it is known."""
        return self.asking.answers.get(self._gap_name)

    @property
    def curve(self) -> Curve | None:
        """The curve of the two levers, once it is known."""
        return self.asking.answers.get(self._pair_name)

    @property
    def _set_name(self) -> object:
        return "set", self.key, self._within

    @property
    def package(self) -> Package | None:
        """The cheapest set, once it is asked for and known."""
        return self.asking.answers.get(self._set_name)

    # what is done with it

    def take_answer(self, row: str) -> None:
        """A value that closes the gap becomes an upgrade."""
        answers = self.answers or ()
        if not row.isdigit() or int(row) >= len(answers):
            return
        answer = answers[int(row)]
        if answer.at is None or not answer.changes:
            self.board.message.emit(f"{answer.name} does not close the gap alone: there is nothing to make an upgrade of.")
            return
        self._add(Upgrade(id="new", name=f"{answer.name}: {with_unit(answer.at, answer.kind)}", changes=answer.changes))

    def _add(self, made: Upgrade) -> None:
        self.board.apply(lambda: with_upgrade(self.board.desk.home, made, self.front)[0])

    def _pointed(self, ident: str) -> None:
        if ident.startswith(POINT):
            self.point = int(ident.removeprefix(POINT))
            self.show_known()

    def _take_pair(self) -> None:
        one = self.curve
        if one is None or not 0 <= self.point < len(one.points) or one.points[self.point].second is None:
            self.board.message.emit("Choose a point of the curve first.")
            return
        point = one.points[self.point]
        self._add(Upgrade(id="new", name=said_of(one, point), changes=point.changes))

    def _find(self) -> None:
        key, text = self.key, self.budget.text().strip()
        if key is None:
            return
        budget: float | None = None
        if text:
            try:
                found = read(text, "cost")
            except BadText as problem:
                self.board.message.emit(f"Budget: {problem}")
                return
            if isinstance(found, Doubt):
                self.board.message.emit(f"Budget: {found.question}")
                return
            budget = found
        self._within = Within(self.most.value() or None, budget)
        self.asking.ask(self._set_name, Asked(beside.package, {"key": key, "within": self._within}, best_of))
        self.show_known()

    def _take_set(self) -> None:
        found, key, a = self.package, self.key, self.board.assessment
        if found is None or key is None or a is None or not found.upgrades:
            self.board.message.emit("Find a set of upgrades first.")
            return
        name = f"Cheapest for {name_of_target(a, key)}"
        self.board.apply(lambda: with_option(self.board.desk.home, name, found.upgrades))


def fill(box: QComboBox, rows: list[tuple[object, str]]) -> None:
    """The entries of a closed list anew where they are others; what was chosen stays so."""
    if [(box.itemData(n), box.itemText(n)) for n in range(box.count())] == rows:
        return
    chosen = box.currentData()
    box.clear()
    for data, text in rows:
        box.addItem(text, data)
    at = next((n for n, (data, _) in enumerate(rows) if data == chosen), 0)
    box.setCurrentIndex(at if rows else -1)
