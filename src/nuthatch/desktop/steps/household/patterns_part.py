"""Day patterns on the household board: their lists, the bars of the day chosen, the day of the household they make."""

from __future__ import annotations

from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QComboBox

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.patterns import mean
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.pattern_edits import hours_painted, hours_pasted
from nuthatch.core.model.patterns import DayPattern, PatternDay
from nuthatch.core.sketch import Sketch
from nuthatch.core.views.day import KindOfDay, pattern_drawn, pattern_frame, the_day
from nuthatch.desktop.desk import Edit
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.steps.household.pattern_view import PatternView
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

DAYS = (
    ("Working day, winter", False, True),
    ("Weekend, winter", True, True),
    ("Working day, summer", False, False),
    ("Weekend, summer", True, False),
)


class PatternsPart:
    """Declares its drawings and lists on the board and keeps them up to date."""

    def __init__(self, board: Board) -> None:
        self.board, self.desk = board, board.desk
        self.day = SketchView("The day of the household, hour by hour")
        self.day.clicked.connect(self._clicked)
        self.which = QComboBox()
        self.which.setAccessibleName("Day that is shown")
        for words, *_ in DAYS:
            self.which.addItem(words)
        self.which.activated.connect(lambda _: self.draw())
        board.add_drawing("The day", self.day, row_of(self.which))
        self.bars = PatternView()
        self.bars.painted.connect(self._painted)
        self.bars.let_go.connect(self.desk.settle)
        self.bars.nudged.connect(self._nudged)
        self.bars.pasted.connect(self._pasted)
        self.bars.copied.connect(self._copied)
        self.bars.hour_chosen.connect(lambda _: self.draw())
        board.add_drawing("Day pattern", self.bars)
        self.patterns = ListPanel(board, _patterns(), add="Add a day pattern")
        self.days = ListPanel(board, self._days(), add="Add a kind of day", ordered=True)
        board.add_list(self.patterns, "Day patterns")
        board.add_list(self.days, "Days of it")
        self.patterns.table.selected.connect(lambda _: self._pattern_chosen())
        self.days.table.selected.connect(lambda _: self.draw())

    def refresh(self) -> None:
        """Show the snapshot."""
        self.patterns.refresh(
            "No day patterns: all hours alike. Add one, and say at people, appliances, draw-offs or pipes that they go by it."
        )
        self.days.add_button.setEnabled(bool(self.pattern))
        self.days.refresh("This pattern says nothing yet: add a kind of day, then drag its hours.")
        self.draw()

    @property
    def pattern(self) -> str:
        """The pattern worked on: the chosen one, else the first."""
        chosen, known = self.patterns.table.current_id(), [p.id for p in self.board.home.patterns]
        return chosen if chosen in known else known[0] if known else ""

    @property
    def shown(self) -> tuple[DayPattern | None, PatternDay | None]:
        """The pattern, and its day that is dragged."""
        pattern = next((p for p in self.board.home.patterns if p.id == self.pattern), None)
        rows = pattern.days if pattern is not None else ()
        chosen = self.days.table.current_id()
        return pattern, next((d for d in rows if d.id == chosen), rows[0] if rows else None)

    def _pattern_chosen(self) -> None:
        if self.board.assessment is not None:
            self.refresh()

    def draw(self) -> None:
        """The day, and the bars of the pattern."""
        _, weekend, winter = DAYS[max(self.which.currentIndex(), 0)]
        self.board.show_drawing(self.day, lambda a, w, h: the_day(a, KindOfDay(weekend, winter), (w, h)))
        pattern, day = self.shown

        def drawn(_: Assessment, w: float, h: float) -> Sketch:
            self.bars.frame = pattern_frame((w, h)) if day is not None else None
            return pattern_drawn(pattern, day, (w, h), self.bars.hour)

        self.board.show_drawing(self.bars, drawn)

    # hours

    def _apply(self, make: Edit, merge: str = "") -> None:
        refused = self.desk.apply(make, merge)
        if refused:
            self.board.message.emit(refused)
        self.board.present(self.desk.snapshot)

    def _painted(self, first: int, last: int, share: float) -> None:
        _, day = self.shown
        if day is not None:
            self._apply(lambda: hours_painted(self.desk.home, day.id, first, last, share), f"hours.{day.id}")

    def _nudged(self, hour: int, step: float) -> None:
        _, day = self.shown
        if day is not None:
            share = min(max(day.hours[hour] + step, 0.0), 1.0)
            self._apply(lambda: hours_painted(self.desk.home, day.id, hour, hour, share), f"hours.{day.id}.{hour}")

    def _pasted(self, text: str) -> None:
        _, day = self.shown
        if day is not None:
            self._apply(lambda: hours_pasted(self.desk.home, day.id, text))

    def _copied(self) -> None:
        _, day = self.shown
        clipboard = QGuiApplication.clipboard()
        if day is not None and clipboard is not None:
            clipboard.setText("\t".join(f"{h:g}" for h in day.hours))

    # leading there

    def _clicked(self, ident: str) -> None:
        """A strip of the day leads to the pattern it goes by, else to what it is."""
        home = self.board.home
        by = {a.id: a.pattern for a in home.household.appliances} | {d.id: d.pattern for d in home.water.draw_offs}
        by |= {"household": home.household.presence, "hot-water": home.water.pattern}
        wanted = by.get(ident, "")
        if any(p.id == wanted for p in home.patterns):
            self.board.in_front(self.patterns)
            self.patterns.table.select(wanted)
            self.board.work.drawings.show_widget(self.bars)
        else:
            self.board.go.emit(
                "hot-water" if ident == "hot-water" or any(d.id == ident for d in home.water.draw_offs) else "household", ident, "pattern"
            )

    def focus_field(self, part: str, field: str) -> bool:
        """Lead to a pattern, or a day of one."""
        owner = next((p.id for p in self.board.home.patterns if any(d.id == part for d in p.days)), "")
        if owner:
            self.patterns.table.select(owner)
            self.refresh()
            return self.days.focus_field(part, field)
        return self.patterns.focus_field(part, field)

    def _days(self) -> ListSpec:
        columns = (
            Column("On", "days", width=130),
            Column("In", "season", width=110),
            Column("Mean", text=lambda a, d: f"{100 * sum(d.hours) / 24:.0f} %", right=True, width=70),
            Column("", text=lambda a, d: ""),
        )
        return ListSpec("Days of a pattern", lambda: Listing(self.pattern, "days", PatternDay, "day"), columns, sortable=False)


def _mean(a: Assessment, pattern: DayPattern) -> str:
    southern = a.site_climate is not None and a.site_climate.weather.latitude < 0
    return f"{100 * mean(pattern, southern):.0f} %" if pattern.days else "says nothing"


def _used(a: Assessment, pattern: DayPattern) -> str:
    """What goes by it."""
    home = a.home
    rows = [("people", home.household.presence), ("hot water", home.water.pattern)]
    rows += [(x.name, x.pattern) for x in home.household.appliances]
    rows += [(d.name, d.pattern) for d in home.water.draw_offs]
    rows += [(r.name, r.pattern) for r in home.water.runs]
    rows += [("heating", home.site.heating_hours), ("windows", home.household.window_hours), ("blinds", home.household.blind_hours)]
    rows += [(f"rooms used as {k.use}", k.pattern) for k in home.room_kinds]
    names = [name for name, by in rows if by == pattern.id]
    return ", ".join(names) if names else "nothing yet"


def _patterns() -> ListSpec:
    columns = (
        Column("Day pattern", "name"),
        Column("For", "kind", width=90),
        Column("Mean", text=_mean, right=True, width=90),
        Column("Goes by it", text=_used, width=220),
    )
    return ListSpec("Day patterns", Listing("home", "patterns", DayPattern, "pattern"), columns)
