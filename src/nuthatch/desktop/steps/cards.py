"""Boards that are a drawing of bars, a list and a card each: air, hot water, household, heat and power."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout

from nuthatch.core import step_drawings as draw
from nuthatch.core.results.figure import Unknown
from nuthatch.core.edits.changes import SetValue
from nuthatch.core.model.home import Appliance, Carrier, HeatSource, VentilationUnit
from nuthatch.core.units import show, with_unit
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.list_table import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView


class AirBoard(Board):
    key, title = "air", "Air"

    def build(self) -> None:
        self.drawing = SketchView("Air paths and what they lose", 190)
        self.flows = SketchView("Flows", 120)
        self.column.addWidget(self.drawing)
        self.column.addWidget(self.flows)
        self.card = EditCard(self.document, 6)
        self.column.addWidget(self.card)
        line = QHBoxLayout()
        self.add_unit = button("Add a ventilation unit", self._add, "plus")
        self.drop_unit = button("Remove the unit", self._drop, "trash-2")
        line.addWidget(self.add_unit)
        line.addWidget(self.drop_unit)
        line.addStretch(1)
        self.column.addLayout(line)
        self.unit_card = EditCard(self.document, 5)
        self.column.addWidget(self.unit_card)
        self.column.addStretch(1)

    def pictures(self) -> list[tuple[str, str]]:
        return [("air-paths", ""), ("flows", "")]

    def refresh(self) -> None:
        a, home = self.document.assessment, self.document.home
        self.card.show_part("air", "Airtightness and rooms")
        self.unit_card.show_part("unit" if home.air.unit else "")
        self.add_unit.setVisible(home.air.unit is None)
        self.drop_unit.setVisible(home.air.unit is not None)
        if a is None:
            return
        rate = a.figures["infiltration_rate"]
        recovery = a.figures["effective_heat_recovery"]
        said = [f"infiltration {with_unit(rate.value, 'ach', 3)}" if rate.value is not None else "infiltration not known yet"]
        if recovery.value is not None:
            said.append(f"effective recovery {with_unit(recovery.value, 'percent')} after ducts")
        self.sub.setText(" · ".join(said))
        self.drawing.show_sketch(draw.air_paths(a))
        self.drawing.setFixedHeight(130)
        self.flows.show_sketch(draw.air_flows(a))
        self.flows.setFixedHeight(100)

    def _add(self) -> None:
        self.apply(SetValue(part="air", field="unit", value=VentilationUnit()))
        self.refresh()
        self.focus_field("unit", "recovery")  # the focus would vanish with the button

    def _drop(self) -> None:
        self.card.focus_field("n50")
        self.apply(SetValue(part="air", field="unit", value=None))

    def focus_field(self, part: str, field: str) -> bool:
        return (self.unit_card if part == "unit" else self.card).focus_field(field)


class HotWaterBoard(Board):
    key, title = "hot-water", "Hot water"

    def build(self) -> None:
        self.drawing = SketchView("Heat for hot water in a year", 170)
        self.card = EditCard(self.document, 5)
        self.column.addWidget(self.drawing)
        self.column.addWidget(self.card)
        self.column.addStretch(1)

    def pictures(self) -> list[tuple[str, str]]:
        return [("hot-water", "")]

    def refresh(self) -> None:
        a = self.document.assessment
        self.card.show_part("hot-water", "Demand, store, pipes")
        if a is None:
            return
        self.drawing.show_sketch(draw.hot_water(a))
        months = a.months["hot_water_demand"]
        if isinstance(months, Unknown):
            self.sub.setText("Needs " + months.needs[0].text)
            return
        f = a.figures["hot_water_demand"]
        self.sub.setText(f"{with_unit(f.value, f.kind)} · losses inside the envelope count as gains")

    def focus_field(self, part: str, field: str) -> bool:
        return self.card.focus_field(field)


class HouseholdBoard(Board):
    key, title = "household", "Household"

    def build(self) -> None:
        self.drawing = SketchView("Internal gains and electricity", 110)
        self.card = EditCard(self.document, 5)
        self.list = ListPanel(self, _appliances(), Appliance, 4, add="Add an appliance")
        for widget in (self.drawing, self.list, self.list.card, self.card):
            self.column.addWidget(widget)
        self.column.addStretch(1)

    def pictures(self) -> list[tuple[str, str]]:
        return [("household", "")]

    def refresh(self) -> None:
        a, home = self.document.assessment, self.document.home
        self.list.refresh("Household electricity may be typed as one number below, or itemised here by appliance.")
        self.card.show_part("household", "People and gains")
        if a is None:
            return
        people = a.figures["people"]
        self.sub.setText(
            (f"{show(people.value, 'count')} people" if people.value is not None else "people not known yet: give the bedrooms in Brief")
            + f" · gains {home.household.gains}"
        )
        self.drawing.show_sketch(draw.household(a))

    def focus_field(self, part: str, field: str) -> bool:
        return self.card.focus_field(field) if part == "household" else self.list.focus_field(part, field)


def _appliances() -> ListSpec:
    columns = (
        Column("Appliance or light", "name"),
        Column("Electricity", "energy", width=140),
        Column("Heat left in the home", "inside_share", width=170),
    )
    return ListSpec(
        "Appliances and lights",
        lambda: "household",
        "appliances",
        lambda h: h.household.appliances,
        columns,
        lambda: "appliance",
        lambda h: {"name": "New appliance"},
    )


class HeatPowerBoard(Board):
    key, title = "heat-power", "Heat and power"

    def build(self) -> None:
        self.drawing = SketchView("Delivered energy by use", 190)
        self.sources = ListPanel(self, _sources(), HeatSource, 6, add="Add a heat source")
        self.carriers = ListPanel(self, _carriers(), Carrier, 4, add="Add a carrier")
        self.current = EditCard(self.document, 4, ("name", "junctions_none"))
        for widget in (self.drawing, self.sources, self.sources.card, self.carriers, self.carriers.card, self.current):
            self.column.addWidget(widget)
        self.column.addStretch(1)

    def pictures(self) -> list[tuple[str, str]]:
        return [("delivered", "")]

    def refresh(self) -> None:
        a = self.document.assessment
        self.sources.refresh(
            "One source may serve heating and hot water. Shares of a use always total 100 %: changing one moves the others."
        )
        self.carriers.refresh("Energy carriers with their primary-energy and CO₂ factors.")
        self.current.show_part("home", " ")
        if a is None:
            return
        made = draw.delivered(a)
        self.drawing.setFixedHeight(int(made.height))
        self.drawing.show_sketch(made)
        primary, co2, cost = a.figures["primary_energy"], a.figures["co2"], a.figures["energy_cost"]
        self.sub.setText(
            " · ".join(
                f"{f.label} {with_unit(f.value, f.kind)}" if f.value is not None else f"{f.label} not known yet" for f in (primary, co2)
            )
            + (f" · {cost.label} {show(cost.value, 'money')} {a.home.currency} a year" if cost.value is not None else "")
        )

    def focus_field(self, part: str, field: str) -> bool:
        if field == "sources":
            self.sources.add_button.setFocus()
            return True
        if part == "home":
            return self.current.focus_field(field)
        return self.sources.focus_field(part, field) or self.carriers.focus_field(part, field)


def _sources() -> ListSpec:
    columns = (
        Column("Heat source", "name"),
        Column("Carrier", "carrier", width=110),
        Column("Heating", "heating_share", width=92),
        Column("Hot water", "water_share", width=98),
        Column("Cooling", "cooling_share", width=92),
        Column("Efficiency", "efficiency", width=106),
    )

    def fresh(home: Any) -> dict[str, Any]:
        rest = 1.0 if not home.sources else 0.0
        given = {"value": rest, "basis": "declared", "source": "the rest to 100 %"}
        return {
            "name": "New heat source",
            "carrier": home.carriers[0].id if home.carriers else "",
            "heating_share": given,
            "water_share": given,
        }

    return ListSpec("Heat sources", lambda: "home", "sources", lambda h: h.sources, columns, lambda: "source", fresh)


def _carriers() -> ListSpec:
    columns = (
        Column("Energy carrier", "name"),
        Column("Primary energy factor", "primary", width=160),
        Column("CO₂ factor", "co2", width=130),
        Column("Price", "price", width=120),
    )
    return ListSpec(
        "Energy carriers", lambda: "home", "carriers", lambda h: h.carriers, columns, lambda: "carrier", lambda h: {"name": "New carrier"}
    )
