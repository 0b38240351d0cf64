"""Options: what might be done to the home, as a ladder of upgrades, side by side, and what closes the gap to a target."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.option_edits import by_office, ordered, priced, put_on, shifted, with_upgrade
from nuthatch.core.model.options import Option, Upgrade
from nuthatch.core.office import load_office
from nuthatch.core.options.ladder import MEASURES, cheapest_first, greatest_first, state_of
from nuthatch.core.options.ready import Ready, at_hand
from nuthatch.core.units import with_unit
from nuthatch.core.views.options.ladder_drawn import STEP, ladder_drawing
from nuthatch.core.views.options.rows import SAVINGS, STEP_HEADS, cash, kind_of_measure, name_of_measure, side_by_side, step_cells
from nuthatch.desktop.jobs import Jobs
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.steps.options.asked import Asking
from nuthatch.desktop.steps.options.chances import Chances
from nuthatch.desktop.steps.options.closing import Closing
from nuthatch.desktop.steps.options.comparing import Comparing
from nuthatch.desktop.trying import begin, see
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

MOST_BESIDE = 4
"""So many options stand side by side."""


class OptionsBoard(Board):
    key, title = "options", "Options"
    list_height = 250

    def build(self) -> None:
        self.comparing = Comparing(self)
        self.comparing.moved.connect(self._fill)
        self.asking = Asking(self)
        self.asking.moved.connect(self._fill)
        for worker in (self.comparing, self.asking):
            self.desk.ending.connect(worker.close)
        self._jobs = Jobs(self)
        self._ready: tuple[Ready, ...] = ()
        self.selected = ""
        self.ladder = SketchView("Ladder of upgrades")
        self.ladder.clicked.connect(self._clicked)
        self.option, self.measure = QComboBox(), QComboBox()
        for box, name, does in (
            (self.option, "Option in front", lambda _: self._in_front()),
            (self.measure, "The ladder goes down by", lambda _: self._fill()),
        ):
            box.setAccessibleName(name)
            box.activated.connect(does)
            box.setMinimumWidth(150)
        self.try_button = button("Try something", self._try, "plus", "Then change anything on any board: it goes into a new upgrade")
        self.see_button = button("See it so", self._see, "", "Every board shows the home with the option in front, until you go back")
        self.add_drawing("Ladder", self.ladder, row_of(self.option, self.measure, self.see_button, self.try_button))
        self.beside = ReadTable("Base and options side by side", ("What",))
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.beside)
        self.saving = QComboBox()
        for key, words in SAVINGS.items():
            self.saving.addItem(words[0].upper() + words[1:], key)
        self.saving.setAccessibleName("Savings beside amounts are said in")
        self.saving.activated.connect(lambda _: self._fill())
        self.add_drawing("Side by side", side, row_of(self.saving))
        self._lists()
        self.economy = EditCard(self.desk)
        self.economy.refused.connect(self.message)
        self.work.inspector.add(self.economy)
        self.certainty = EditCard(self.desk)
        self.certainty.refused.connect(self.message)
        self.work.inspector.add(self.certainty)

    def _lists(self) -> None:
        self.steps = ReadTable("Steps of the ladder", STEP_HEADS, (0, 72, 86, 84, 70, 94, 62, 66, 66))
        self.steps.chosen.connect(self.select)
        self.work_button = button(
            "Work on it", self._work_on, "", "Put its changes on the home and change them; keep them in the strip above"
        )
        tools = row_of(
            button("", lambda: self._shift(-1), "arrow-up", "Earlier in this option"),
            button("", lambda: self._shift(1), "arrow-down", "Later in this option"),
            button("Greatest first", self._greatest, "", "Each step the one that lowers the figure most of those left"),
            button("Cheapest first", self._cheapest, "", "By what a saved kilowatt hour costs"),
            self.work_button,
        )
        self.work.lists.add("Ladder", self.steps, tools)
        self.upgrades = ListPanel(self, _upgrades(), add="Add an upgrade")
        self.upgrades.add_button.hide()  # an upgrade comes from what is at hand, from what was tried, from a gap
        self.upgrades.copy_button.hide()
        self.on_button = button("On or off", self._toggle, "", "Put the upgrade on the option in front, or take it off")
        self.upgrades.bar.insertWidget(0, self.on_button)
        own = lambda: self.apply(lambda: by_office(self.desk.home, load_office()[0].office.costs))  # noqa: E731
        self.upgrades.bar.insertWidget(1, button("Office costs", own, "", "Costs of upgrades that have none, by the office's own list"))
        self.upgrades.table.selected.connect(lambda _: self.select(self.upgrades.table.current_id()))
        self.add_list(self.upgrades, "Upgrades")
        self.options = ListPanel(self, _options(), add="Add an option")
        self.options.table.selected.connect(lambda _: self._front(self.options.table.current_id()))
        self.add_list(self.options, "Options")
        self.hand = ReadTable("Upgrades at hand", ("At hand", "On"), (0, 300))
        self.hand.opened.connect(self._take)
        self.work.lists.add("At hand", self.hand, row_of(button("Add to the option", lambda: self._take(self.hand.current_id()), "plus")))
        self.closing = Closing(self, self.asking)
        self.chances = Chances(self, self.asking)

    # what is shown

    def refresh(self) -> None:
        a = self.assessment
        if a is None:
            return
        home = a.home
        front = self.option.currentData()
        if [self.option.itemData(n) for n in range(self.option.count())] != [o.id for o in home.options] or any(
            self.option.itemText(n) != o.name for n, o in enumerate(home.options)
        ):
            self.option.clear()
            for o in home.options:
                self.option.addItem(o.name, o.id)
            self.option.setCurrentIndex(max(self.option.findData(front), 0))
        if not self.measure.count():
            keys = [*MEASURES, *(k for k in a.figures if k.startswith("points_"))]
            for key in keys:
                self.measure.addItem(name_of_measure(a, key), key)
        self.upgrades.refresh("No upgrades yet: take one from “At hand”, or “Try something” on any board and keep it.")
        self.options.refresh("No options yet: an option is a list of upgrades, in order.")
        self._ready = at_hand(a)
        self.hand.show_rows([(str(n), (r.name, r.on)) for n, r in enumerate(self._ready)])
        self.economy.show_part("economy", "Money")
        self.certainty.show_part("certainty", "How far values may lie from what is entered")
        self.comparing.follow(a)
        self._fill()
        if not a.computing:
            self.asking.follow(a)
        self._look()

    def _look(self) -> None:
        """What closes the gap and the chances are worked out when somebody looks."""
        a = self.assessment
        if a is not None and not a.computing and self.asking.base is a:
            self.closing.follow(a, self.front, self.comparing.ladders)
            self.chances.follow(a, self.front)

    def _fill(self) -> None:
        """Ladder, steps and comparison from what is known by now."""
        a = self.assessment
        if a is None:
            return
        front, measure = str(self.option.currentData() or ""), str(self.measure.currentData() or MEASURES[0])
        known = self.comparing.ladders
        one = known.get(front)
        self.sub.setText(self._sentence(a, front, measure))
        selected = self.selected
        self.ladder.show_made(lambda w, h: ladder_drawing(a, known, front, measure, (w, h), selected))
        rows = [(r.upgrade.id, step_cells(r, measure, a.home)) for r in one.rungs] if one is not None else []
        self.steps.show_rows(rows, tuple(range(1, len(STEP_HEADS))))
        self.steps.select(self.selected, quiet=True)
        beside = [(o.name, known[o.id]) for o in a.home.options if o.id in known][:MOST_BESIDE]
        base = beside[0][1].base if beside else state_of(a)
        self._side(side_by_side(a, base, beside, str(self.saving.currentData())), ["As it is", *(name for name, _ in beside)])
        if self.asking.base is not None:
            self.closing.show_known()
            self.chances.show_known()

    def _side(self, rows: list[tuple[str, ...]], heads: list[str]) -> None:
        self.beside.setColumnCount(len(heads) + 1)
        self.beside.setHorizontalHeaderLabels(["What", *heads])
        for n in range(len(heads) + 1):
            self.beside.setColumnWidth(n, 240 if n == 0 else 128)
        self.beside.show_rows([(str(n), r) for n, r in enumerate(rows)], tuple(range(1, len(heads) + 1)))

    def _sentence(self, a: Assessment, front: str, measure: str) -> str:
        options, upgrades = len(a.home.options), len(a.home.upgrades)
        words = f"{options} option{'s' if options != 1 else ''}, differences on one home · {upgrades} upgrade{'s' if upgrades != 1 else ''}"
        one = self.comparing.ladders.get(front)
        if one is None:
            return words + ("" if self.comparing.done else " · being worked out …")
        value = one.end.figures.get(measure)
        end = with_unit(value, kind_of_measure(measure)) if value is not None else "?"
        worth = f" · cost {cash(one.money.cost, a.home.currency)} · net present value {cash(one.money.present, a.home.currency)}"
        return f"{words} · {one.option.name}: {name_of_measure(a, measure)} {end}{worth}" + (
            "" if self.comparing.done else " · being worked out …"
        )

    # selecting

    def select(self, ident: str) -> None:
        """An upgrade is selected, in ladder, steps, list and inspector alike."""
        if not ident or ident == self.selected:
            return
        self.selected = ident
        if self.upgrades.table.current_id() != ident:
            self.upgrades.table.select(ident)
        if self.work.lists.current is self.steps:
            self.upgrades.card.show_part(ident)
            self.upgrades.card.setVisible(True)
        self._fill()

    def _clicked(self, ident: str) -> None:
        if ident.startswith(STEP):
            self.work.lists.show_widget(self.steps)
            self.select(ident.removeprefix(STEP))

    def _in_front(self) -> None:
        self._fill()
        self._look()

    def _front(self, ident: str) -> None:
        at = self.option.findData(ident)
        if at >= 0 and at != self.option.currentIndex() and self.work.lists.current is self.options:
            self.option.setCurrentIndex(at)
            self._in_front()

    @property
    def front(self) -> str:
        """The option in front."""
        return str(self.option.currentData() or "")

    # edits

    def _try(self) -> None:
        reason = begin(self.desk, None, self.front)
        self.message.emit(reason or "Change anything on any board; keep it or give it up in the strip above.")

    def _work_on(self) -> None:
        upgrade = next((u for u in self.desk.home.upgrades if u.id == self.selected), None)
        reason = begin(self.desk, upgrade, self.front) if upgrade is not None else "Select an upgrade first."
        if reason:
            self.message.emit(reason)

    def _toggle(self) -> None:
        ident, front = self.upgrades.table.current_id(), self.front
        option = next((o for o in self.desk.home.options if o.id == front), None)
        if ident and option is not None:
            self.apply(lambda: put_on(self.desk.home, front, ident, ident not in option.upgrades))

    def _shift(self, by: int) -> None:
        if self.front and self.selected:
            self.apply(lambda: shifted(self.desk.home, self.front, self.selected, by))

    def _greatest(self) -> None:
        a, front, measure = self.assessment, self.front, str(self.measure.currentData())
        option = next((o for o in self.desk.home.options if o.id == front), None)
        if a is not None and option is not None:
            done = lambda ids: self.apply(lambda: ordered(self.desk.home, front, ids))  # noqa: E731
            self._jobs.start("greatest first", lambda job: greatest_first(a, option, measure), done)

    def _cheapest(self) -> None:
        one = self.comparing.ladders.get(self.front)
        if one is not None:
            self.apply(lambda: ordered(self.desk.home, self.front, cheapest_first(one)))

    def _take(self, row: str) -> None:
        """An upgrade at hand becomes one of the home's, on the option in front."""
        if row.isdigit() and int(row) < len(self._ready):
            ready = self._ready[int(row)]
            made = priced(ready.upgrade("new"), load_office()[0].office.costs)
            self.apply(lambda: with_upgrade(self.desk.home, made, self.front)[0])

    def _see(self) -> None:
        option = next((o for o in self.desk.home.options if o.id == self.front), None)
        reason = see(self.desk, option) if option is not None else "There is no option yet."
        self.message.emit(reason or f"Every board shows the home with “{option.name}” now; “As it is” in the strip above goes back.")  # type: ignore[union-attr]

    def subject(self, picture: str) -> str | None:
        return self.front or None

    @property
    def settled(self) -> bool:
        return self.comparing.settled and self.asking.settled and not self._jobs.running

    def focus_field(self, part: str, field: str) -> bool:
        return self.upgrades.focus_field(part, field) or self.options.focus_field(part, field)


def _upgrades() -> ListSpec:
    columns = (
        Column("Upgrade", "name"),
        Column("Cost", "cost", width=110),
        Column("For", "per", width=70),
        Column("Kind", "kind", width=130),
        Column("Life", "life", width=84),
        Column("Changes", text=lambda a, u: str(len(u.changes)), width=70),
        Column("On", text=lambda a, u: ", ".join(o.name for o in a.home.options if u.id in o.upgrades), width=150),
    )
    return ListSpec("Upgrades", Listing("home", "upgrades", Upgrade, "upgrade"), columns)


def _options() -> ListSpec:
    columns = (
        Column("Option", "name"),
        Column("Builds on", "after", width=150),
        Column("Upgrades", text=lambda a, o: ", ".join(u.name for i in o.upgrades for u in a.home.upgrades if u.id == i), width=260),
    )
    return ListSpec("Options", Listing("home", "options", Option, "option"), columns)
