"""Heat and power: heat sources with their shares, energy carriers, delivered energy by use."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.energy.use_stages import OWN
from nuthatch.core.model.heat import Carrier, FurtherCarrier, HeatSource, Modules, PerformancePoint
from nuthatch.core.results.figure import shown
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.balance.drawings import delivered
from nuthatch.core.views.energy_way import OWN_POWER, SUN, energy_way, own_rows, own_words
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
        self.way = SketchView("The way of the energy through a year")
        self.way.clicked.connect(self._clicked)
        self.add_drawing("The way", self.way)
        self.drawing = SketchView("Delivered energy by use")
        self.add_drawing("Delivered", self.drawing)
        self.pump = SketchView("Heat pump by outdoor temperature")
        self.add_drawing("Heat pump", self.pump)
        self.sources = ListPanel(self, _sources(), add="Add a heat source")
        self.carriers = ListPanel(self, _carriers(), add="Add a carrier")
        self.current = EditCard(self.desk, ("name", "junctions_none", "junctions_from", "junction_tier"))
        self.sheet = ListPanel(self, self._sheet(), add="Add a point")
        self.further = ListPanel(self, self._further(), add="Add a carrier of it")
        self.modules = ListPanel(self, _modules(), add="Add modules")
        self.own = EditCard(self.desk)
        self.by_month = ReadTable("Performance and own electricity by month", HEADS, (112, *[33] * 12, 44))
        self.add_list(self.sources, "Sources")
        self.add_list(self.carriers, "Carriers")
        self.add_list(self.sheet, "Data sheet")
        self.add_list(self.further, "Mixed")
        self.add_list(self.modules, "Modules")
        self.work.lists.add("By month", self.by_month)
        self.sources.table.selected.connect(lambda _: self._chosen())
        self.work.inspector.add(self.current)
        self.work.inspector.add(self.own)

    def refresh(self) -> None:
        a = self.assessment
        self.sources.refresh(
            "One source may serve heating and hot water. Shares of a use always total 100 %: changing one moves the others."
        )
        self.carriers.refresh("Energy carriers with their primary-energy and CO₂ factors.")
        self.sheet.add_button.setEnabled(bool(self._source()))
        self.sheet.refresh("Points of the data sheet of the heat pump chosen in the first list: source, flow, COP, such as 7, 35, 4.5.")
        self.further.add_button.setEnabled(bool(self.home.sources))
        self.further.refresh(
            "One carrier alone. Add another to the source chosen in the first list: it makes its share of the heat, the first the rest."
        )
        self.modules.refresh("No modules on the roof. Add a field: peak power, tilt and direction or its face.")
        self.current.show_part("home", " ")
        self.own.show_part("own-power", "Own electricity")
        if a is None:
            return
        self.show_drawing(self.way, energy_way)
        self.show_drawing(self.drawing, delivered)
        chosen = self._source()
        self.show_drawing(self.pump, lambda a, w, h: heat_pump(a, chosen, (w, h)))
        self.by_month.show_rows([*performance_rows(a, chosen), *own_rows(a)], range(1, 14))
        primary, co2, cost = a.figures["primary_energy"], a.figures["co2"], a.figures["energy_cost"]
        self.sub.setText(
            " · ".join(f"{f.label} {shown(f)}" for f in (primary, co2))
            + (f" · {cost.label} {show(cost.value, 'money')} {a.home.currency} a year" if cost.value is not None else "")
            + (f" · {own_words(a)}" if own_words(a) else "")
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

    def _of_source(self) -> str:
        """The source whose further carriers are worked on: the chosen one, else the first."""
        chosen = self.sources.table.current_id()
        return chosen if any(s.id == chosen for s in self.home.sources) else self.home.sources[0].id if self.home.sources else ""

    def _further(self) -> ListSpec:
        columns = (
            Column("Carrier", "carrier", width=150),
            Column("Share", "share", width=100),
            Column("Efficiency", "efficiency", width=110),
            Column("", text=lambda a, f: ""),
        )
        return ListSpec("Further carriers", lambda: Listing(self._of_source(), "further", FurtherCarrier, "further"), columns)

    def _clicked(self, ident: str) -> None:
        """A block of the way leads to what it is."""
        for rows, panel in (
            (self.home.sources, self.sources),
            (self.home.carriers, self.carriers),
            (self.home.power.modules, self.modules),
        ):
            if any(p.id == ident for p in rows):
                self.in_front(panel)
                panel.table.select(ident)
                return
        if ident == OWN_POWER:
            self.in_front(self.modules)
        elif ident == SUN or any(f.id == ident for f in self.home.water.solar):
            self.go.emit("hot-water", "hot-water", "solar")

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
        if part == "own-power" and field == "modules":
            self.in_front(self.modules)
            self.modules.add_button.setFocus()
            return True
        if part == "own-power":
            return self.own.focus_field(field)
        owner = next((s.id for s in self.home.sources if any(f.id == part for f in s.further)), "") or (part if field == "further" else "")
        if owner:
            self.sources.table.select(owner)
            self.refresh()
            self.in_front(self.further)
            return field == "further" or self.further.focus_field(part, field)
        if field == "sources":
            self.in_front(self.sources)
            self.sources.add_button.setFocus()
            return True
        if part == "home":
            return self.current.focus_field(field)
        return any(p.focus_field(part, field) for p in (self.sources, self.carriers, self.modules))


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


def _gives(a: Assessment, m: Modules) -> str:
    """What a field gives in a year."""
    own = a[OWN]
    months = next((f.value for i, f in own.fields if i == m.id), None) if own is not None else None
    return with_unit(float(months.sum()), "electricity") if months is not None else ""


def _modules() -> ListSpec:
    columns = (
        Column("Modules", "name"),
        Column("Peak", "peak", width=80),
        Column("Tilt", "tilt", width=60),
        Column("Direction", "azimuth", width=78),
        Column("Face", "face", width=120),
        Column("Gives", text=_gives, right=True, width=96),
    )
    return ListSpec("Modules", Listing("own-power", "modules", Modules, "modules"), columns)


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
