"""The hours on the balance board: their drawing with its choices, the charts kept in the home, the hours tried differently."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex
from PyQt6.QtWidgets import QComboBox, QLabel, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Insert
from nuthatch.core.edits.desk import Listing
from nuthatch.core.library import cache_folder
from nuthatch.core.model.charts import HourChart
from nuthatch.core.model.home import fresh_id
from nuthatch.core.model.part import replace, specs
from nuthatch.core.units import unit_of
from nuthatch.core.views.hours.beside import hours_of_option
from nuthatch.core.views.hours.charts import STANDARD, chart_of
from nuthatch.core.views.hours.lines import Other, Span
from nuthatch.core.views.hours.quantities import span_of
from nuthatch.core.views.hours.what_if import HEADS, sheet_of
from nuthatch.core.workers import Task
from nuthatch.core.year.problem import Hours, Problem
from nuthatch.core.year.stages import PROBLEM
from nuthatch.core.year.what_if import Tried, what_if
from nuthatch.desktop.steps.balance.hours_view import HoursView
from nuthatch.desktop.steps.balance.late import Late
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.workspace import row_of

SHORT = [h.label for h in HEADS]
CHOICES = ("kind", "run", "first", "second", "third")


class HoursPart:
    """Declares its drawing and lists on the board and keeps them up to date."""

    def __init__(self, board: Board) -> None:
        self.board, self.desk = board, board.desk
        self.chart = STANDARD["hours-lines"]
        self.view = HoursView()
        self.view.day_chosen.connect(self._day_chosen)
        self.boxes = {name: self._box(name) for name in CHOICES}
        self.beside = QComboBox()
        self.beside.setAccessibleName("Option that lies over it")
        self.beside.setMinimumWidth(110)
        self.beside.setToolTip("An option of the home, dashed over its own lines")
        self.beside.activated.connect(lambda _: self._look_beside())
        self.other = Late(board, "hours of an option", "The hours of the option")
        self.other.came.connect(self.draw)
        self.keep_button = button("Keep", self.keep, "plus", "Keep this chart in the home, to pin it to the dossier")
        board.add_drawing("Hours", self.view, row_of(*self.boxes.values(), self.beside, self.keep_button))
        self.tried = TriedHours(board)
        self.charts = ListPanel(board, _charts(), add="Add a chart")
        self.charts.table.selected.connect(self._chart_chosen)

    def lists(self) -> None:
        """The lists come after those of the months."""
        self.board.work.lists.add("What if", self.tried.panel)
        self.board.add_list(self.charts, "Own charts")
        self.board.work.lists.switched.connect(lambda _: self.tried.look())

    def _box(self, name: str) -> QComboBox:
        box = QComboBox()
        spec = specs(HourChart)[name]
        box.setAccessibleName(spec.label)
        box.setToolTip(spec.label)
        for words in spec.choices:
            box.addItem(words, words)
        box.activated.connect(lambda _: self._changed())
        return box

    def _changed(self) -> None:
        self.chart = replace(self.chart, **{n: box.currentData() for n, box in self.boxes.items()}, id="hours-now", name="")
        self._let_go()
        self.draw()

    def _let_go(self) -> None:
        """No row of the list is current where the drawing shows another chart: choosing it again brings it back."""
        if self.charts.table.current_id() != self.chart.id:
            self.charts.table.setCurrentIndex(QModelIndex())

    def show_chart(self, chart: HourChart, span: Span | None = None) -> None:
        """A chart into the drawing, its choices into the boxes."""
        self.chart = chart
        self._let_go()
        self.draw(span or Span(*span_of(chart)).kept())

    def refresh(self) -> None:
        """Show the snapshot."""
        own = next((c for c in self.board.home.charts if c.id == self.chart.id), None)
        if own is not None and own is not self.chart:
            self.chart = own
            self.view.span = Span(*span_of(own)).kept()
        self.charts.refresh("Charts kept in this home: choose one above, then Keep; the dossier can show them.")
        self.tried.follow()
        self._offer()
        self._look_beside()
        self.draw()

    def _offer(self) -> None:
        """The options that may lie over the home's own hours."""
        rows = [("", "no option"), *((o.id, o.name) for o in self.board.home.options)]
        if [(self.beside.itemData(n), self.beside.itemText(n)) for n in range(self.beside.count())] != rows:
            chosen = self.beside.currentData()
            self.beside.clear()
            for ident, name in rows:
                self.beside.addItem(name, ident)
            self.beside.setCurrentIndex(max(self.beside.findData(chosen), 0))

    def _look_beside(self) -> None:
        """The hours of the option that is chosen, worked out where they are not there."""
        a, option = self.board.assessment, str(self.beside.currentData() or "")
        wanted = (a, option) if a is not None and option and not a.computing else None
        if wanted != self._beside_of:
            self._beside_of = wanted
            self.other.follow(wanted)
        if wanted is not None and a is not None and self.board.isVisible():
            arguments = {"home": a.home, "option": option, "climate": a.state.climate, "cache": cache_folder()}
            self.other.look(Task(hours_of_option, arguments))

    _beside_of: tuple[object, str] | None = None

    def _other(self) -> Other | None:
        found = self.other.found
        return Other(self.beside.currentText(), found) if isinstance(found, Hours) else None

    def draw(self, span: Span | None = None) -> None:
        a = self.board.assessment
        for name, box in self.boxes.items():
            box.setCurrentIndex(box.findData(getattr(self.chart, name)))
        lines = self.chart.kind in ("lines", "duration")
        self.boxes["second"].setVisible(lines)
        self.boxes["third"].setVisible(lines)
        self.beside.setVisible(lines and bool(self.board.home.options))
        self.boxes["first"].setVisible(self.chart.kind not in ("against outdoors", "sums of causes"))
        if a is not None:
            other = self._other()
            self.view.show_chart(lambda chart, size, shown, at: chart_of(a, chart, size, shown, at, other), self.chart, span)

    def keep(self) -> None:
        """The chart as it is shown, into the home."""
        span, chart = self.view.span, self.chart
        ident = fresh_id(self.board.home, "chart")
        name = chart.name or f"{chart.kind.capitalize()}, {chart.first}"
        made = replace(chart, id=ident, name=name)
        if chart.kind == "lines" and span.wide < 8760:
            made = made.with_days(int(span.first) // 24 + 1, int(span.last - 0.5) // 24 + 1)
        index = len(self.board.home.charts)
        self.board.apply(Insert(owner="home", field="charts", index=index, value=made))
        self.chart = made
        self.board.present(self.desk.snapshot)
        self.board.in_front(self.charts)
        self.charts.table.select(ident)

    def _chart_chosen(self, ident: str) -> None:
        chart = next((c for c in self.board.home.charts if c.id == ident), None)
        if chart is not None and chart.id != self.chart.id:
            self.show_chart(chart)

    def _day_chosen(self, day: int) -> None:
        """A day clicked among all days: its hours as lines."""
        lines = replace(self.chart, id="hours-now", kind="lines", name="", start=None, end=None)
        self.show_chart(lines, Span(day * 24.0, day * 24.0 + 24.0).kept())

    def subject(self, picture: str) -> str | None:
        """The chart of the home that is shown, where it is one."""
        return self.chart.id if any(c.id == self.chart.id for c in self.board.home.charts) else None

    def focus_field(self, part: str, field: str) -> bool:
        return self.charts.focus_field(part, field)


def _charts() -> ListSpec:
    columns = (
        Column("Chart", "name"),
        Column("As", "kind", width=130),
        Column("Of", "run", width=130),
        Column("First", "first", width=120),
    )
    return ListSpec("Own charts", Listing("home", "charts", HourChart, "chart"), columns)


class TriedHours:
    """The hours tried differently, worked out while somebody looks."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.late = Late(board, "what if", "The year is tried differently")
        self.late.came.connect(self._show)
        self.waiting = self.late.waiting
        self.table = ReadTable("The hours tried differently", SHORT, (210, 76, 84, 76, 76, 0))
        self.table.opened.connect(self._opened)
        self.panel = QWidget()
        column = QVBoxLayout(self.panel)
        column.setContentsMargins(0, 0, 0, 0)
        self.units = QLabel()
        self.units.setObjectName("muted")
        for widget in (self.waiting, self.units):
            column.addWidget(widget)
        column.addWidget(self.table, 1)

    @property
    def rows(self) -> tuple[Tried, ...]:
        return self.late.found or ()

    @property
    def settled(self) -> bool:
        return self.late.settled

    def _problem(self) -> Problem | None:
        a: Assessment | None = self.board.assessment
        found = a[PROBLEM] if a is not None else None
        return found if isinstance(found, Problem) else None

    def follow(self) -> None:
        """The home may have changed: what is worked out for another one is no longer wanted."""
        problem, counted = self._problem(), self.board.home.household.by_hand == "counted"
        if (problem, counted) != self._of:
            self._of = problem, counted
            self.late.follow(None if problem is None else self._of)
        self.look()

    _of: tuple[object, bool] = (None, False)

    def look(self) -> None:
        """Begin where the list is in front."""
        problem, counted = self._of
        if problem is not None and self.board.work.lists.current is self.panel and self.board.isVisible():
            self.late.look(Task(what_if, {"problem": problem, "counted": counted}))

    def _show(self) -> None:
        per_area, warm = unit_of("specific_energy"), unit_of("temperature")
        self.units.setText(
            f"too warm in % of the year, warmest in {warm}, needs of heating and cooling in {per_area}; Enter leads to what a row leaves out"
        )
        self.units.setVisible(bool(self.rows))
        self.table.show_sheet(sheet_of(self.rows))

    def _opened(self, ident: str) -> None:
        """A row leads to what it leaves out."""
        if any(o.id == ident for o in self.board.home.openings):
            self.board.go.emit("openings", ident, "")
        elif ident in ("bypass", "fresh air", "leaks", "air"):
            self.board.go.emit("air", "air", "")
        elif ident in ("by_hand", "household", "blinds"):
            self.board.go.emit("household", "household", "by_hand" if ident == "by_hand" else "")
