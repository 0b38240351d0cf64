"""Heat and power: heat sources with their shares, energy carriers, delivered energy by use."""

from __future__ import annotations

from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.services import Carrier, HeatSource
from nuthatch.core.results.figure import shown
from nuthatch.core.units import show
from nuthatch.core.views.balance.drawings import delivered
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView


class HeatPowerBoard(Board):
    key, title = "heat-power", "Heat and power"
    fields_first = True

    def build(self) -> None:
        self.drawing = SketchView("Delivered energy by use")
        self.add_drawing("", self.drawing)
        self.sources = ListPanel(self, _sources(), add="Add a heat source")
        self.carriers = ListPanel(self, _carriers(), add="Add a carrier")
        self.current = EditCard(self.desk, ("name", "junctions_none", "junctions_from", "junction_tier"))
        self.add_list(self.sources)
        self.add_list(self.carriers)
        self.work.inspector.add(self.current)

    def refresh(self) -> None:
        a = self.assessment
        self.sources.refresh(
            "One source may serve heating and hot water. Shares of a use always total 100 %: changing one moves the others."
        )
        self.carriers.refresh("Energy carriers with their primary-energy and CO₂ factors.")
        self.current.show_part("home", " ")
        if a is None:
            return
        self.show_drawing(self.drawing, delivered)
        primary, co2, cost = a.figures["primary_energy"], a.figures["co2"], a.figures["energy_cost"]
        self.sub.setText(
            " · ".join(f"{f.label} {shown(f)}" for f in (primary, co2))
            + (f" · {cost.label} {show(cost.value, 'money')} {a.home.currency} a year" if cost.value is not None else "")
        )

    def focus_field(self, part: str, field: str) -> bool:
        if field == "sources":
            self.in_front(self.sources)
            self.sources.add_button.setFocus()
            return True
        if part == "home":
            return self.current.focus_field(field)
        return self.sources.focus_field(part, field) or self.carriers.focus_field(part, field)


def _sources() -> ListSpec:
    columns = (
        Column("Heat source", "name"),
        Column("Carrier", "carrier", width=90),
        Column("Heating", "heating_share", width=78),
        Column("Water", "water_share", width=76),
        Column("Cooling", "cooling_share", width=78),
        Column("Efficiency", "efficiency", width=92),
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
