"""Heat and power: heat sources with their shares, energy carriers, delivered energy by use."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.services import Carrier, HeatSource, PerformancePoint
from nuthatch.core.results.figure import shown
from nuthatch.core.units import show
from nuthatch.core.views.balance.drawings import delivered
from nuthatch.core.views.heat_power import HEADS, heat_pump, performance_rows
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView


class HeatPowerBoard(Board):
    key, title = "heat-power", "Heat and power"
    fields_first = True

    def build(self) -> None:
        self.drawing = SketchView("Delivered energy by use")
        self.add_drawing("Delivered", self.drawing)
        self.pump = SketchView("Heat pump by outdoor temperature")
        self.add_drawing("Heat pump", self.pump)
        self.sources = ListPanel(self, _sources(), add="Add a heat source")
        self.carriers = ListPanel(self, _carriers(), add="Add a carrier")
        self.current = EditCard(self.desk, ("name", "junctions_none", "junctions_from", "junction_tier"))
        self.sheet = ListPanel(self, self._sheet(), add="Add a point")
        self.performance = ReadTable("Performance by month", HEADS, (112, *[33] * 12, 44))
        self.add_list(self.sources)
        self.add_list(self.carriers)
        self.add_list(self.sheet, "Data sheet")
        self.work.lists.add("Performance", self.performance)
        self.sources.table.selected.connect(lambda _: self._chosen())
        self.work.inspector.add(self.current)

    def refresh(self) -> None:
        a = self.assessment
        self.sources.refresh(
            "One source may serve heating and hot water. Shares of a use always total 100 %: changing one moves the others."
        )
        self.carriers.refresh("Energy carriers with their primary-energy and CO₂ factors.")
        self.sheet.add_button.setEnabled(bool(self._source()))
        self.sheet.refresh("Points of the data sheet of the heat pump chosen in the first list: source, flow, COP, such as 7, 35, 4.5.")
        self.current.show_part("home", " ")
        if a is None:
            return
        self.show_drawing(self.drawing, delivered)
        chosen = self._source()
        self.show_drawing(self.pump, lambda a, w, h: heat_pump(a, chosen, (w, h)))
        self.performance.show_rows(performance_rows(a, chosen), range(1, 14))
        primary, co2, cost = a.figures["primary_energy"], a.figures["co2"], a.figures["energy_cost"]
        self.sub.setText(
            " · ".join(f"{f.label} {shown(f)}" for f in (primary, co2))
            + (f" · {cost.label} {show(cost.value, 'money')} {a.home.currency} a year" if cost.value is not None else "")
        )

    def _source(self) -> str:
        """The heat pump whose sheet is worked on: the source that is chosen, else the first that is one."""
        pumps = [s.id for s in self.home.sources if s.kind == "heat pump"]
        chosen = self.sources.table.current_id()
        return chosen if chosen in pumps else pumps[0] if pumps else ""

    def _sheet(self) -> ListSpec:
        columns = (
            Column("Source", "source", width=120),
            Column("Flow", "flow", width=120),
            Column("COP", "cop", width=120),
            Column("", text=_named),
        )
        return ListSpec("Data sheet", lambda: Listing(self._source(), "points", PerformancePoint, "point"), columns)

    def _chosen(self) -> None:
        if self.assessment is not None:
            self.refresh()

    def subject(self, picture: str) -> str | None:
        return self._source() if picture == "heat-pump" else ""

    def focus_field(self, part: str, field: str) -> bool:
        owner = next((s.id for s in self.home.sources if any(p.id == part for p in s.points)), "")
        if owner:
            self.sources.table.select(owner)
            self.refresh()
            return self.sheet.focus_field(part, field)
        if field == "sources":
            self.in_front(self.sources)
            self.sources.add_button.setFocus()
            return True
        if part == "home":
            return self.current.focus_field(field)
        return self.sources.focus_field(part, field) or self.carriers.focus_field(part, field)


def _named(_: Assessment, point: PerformancePoint) -> str:
    """“A7/W35”, as sheets write it."""
    if point.source is None or point.flow is None:
        return ""
    return f"{point.source.value:.0f}/{point.flow.value:.0f} °C".replace("-", "−")


def _sources() -> ListSpec:
    columns = (
        Column("Heat source", "name"),
        Column("Kind", "kind", width=88),
        Column("Carrier", "carrier", width=84),
        Column("Heating", "heating_share", width=72),
        Column("Water", "water_share", width=70),
        Column("Cooling", "cooling_share", width=72),
        Column("Efficiency", "efficiency", width=84),
    )
    return ListSpec("Heat sources", Listing("home", "sources", HeatSource, "source"), columns)


def _carriers() -> ListSpec:
    columns = (
        Column("Energy carrier", "name"),
        Column("Kind", "kind", width=100),
        Column("Primary", "primary", width=90),
        Column("CO₂", "co2", width=110),
        Column("Price", "price", width=120),
        Column("Standing", "standing", width=96),
    )
    return ListSpec("Energy carriers", Listing("home", "carriers", Carrier, "carrier"), columns)
