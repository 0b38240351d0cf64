"""Household: people, appliances and lights, internal gains."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.household_edits import usual_set
from nuthatch.core.household.stages import electricity_of
from nuthatch.core.model.services import Appliance
from nuthatch.core.units import with_unit
from nuthatch.core.views.household import densities, household
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView


class HouseholdBoard(Board):
    key, title = "household", "Household"
    fields_first = True
    list_height = 330

    def build(self) -> None:
        self.drawing = SketchView("Internal gains and electricity")
        self.add_drawing("", self.drawing)
        self.list = ListPanel(self, _appliances(), add="Add an appliance")
        self.usual = button(
            "As usual", self._usual, "", "Add what a usual home has that is not there: by people and floor area, each assumed"
        )
        self.list.bar.insertWidget(0, self.usual)
        self.add_list(self.list)
        self.card = EditCard(self.desk)
        self.work.inspector.add(self.card)

    def refresh(self) -> None:
        a, home = self.assessment, self.home
        self.list.refresh("Household electricity may be typed as one number beside, or itemised here by appliance.")
        self.card.show_part("household", "People and gains")
        if a is None:
            return
        self.sub.setText(f"{densities(a)} · gains {home.household.gains}")
        self.show_drawing(self.drawing, household)

    def _usual(self) -> None:
        a = self.assessment
        if a is None:
            return
        people, area = a.figures["people"].value, a.figures["reference_floor_area"].value
        self.apply(lambda: usual_set(self.desk.home, people, area))

    def focus_field(self, part: str, field: str) -> bool:
        return self.card.focus_field(field) if part == "household" else self.list.focus_field(part, field)


def _year(_: Assessment, part: Appliance) -> str:
    """What all of its kind use in a year."""
    used = electricity_of(part).value if part.energy is not None else None
    return with_unit(float(used), "electricity") if used is not None else ""


def _appliances() -> ListSpec:
    columns = (
        Column("Appliance or light", "name"),
        Column("Electricity", "energy", width=92),
        Column("Uses", "uses", width=50),
        Column("Number", "number", width=60),
        Column("In a year", text=_year, right=True, width=86),
        Column("Heat inside", "inside_share", width=98),
    )
    return ListSpec("Appliances and lights", Listing("household", "appliances", Appliance, "appliance"), columns)
