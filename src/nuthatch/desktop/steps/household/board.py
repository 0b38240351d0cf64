"""Household: people, appliances and lights, internal gains."""

from __future__ import annotations

from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.services import Appliance
from nuthatch.core.units import show
from nuthatch.core.views.household import household
from nuthatch.desktop.steps.board import Board, ListPanel
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
        self.add_list(self.list)
        self.card = EditCard(self.desk)
        self.work.inspector.add(self.card)

    def refresh(self) -> None:
        a, home = self.assessment, self.home
        self.list.refresh("Household electricity may be typed as one number beside, or itemised here by appliance.")
        self.card.show_part("household", "People and gains")
        if a is None:
            return
        people = a.figures["people"]
        self.sub.setText(
            (f"{show(people.value, 'count')} people" if people.value is not None else "people not known yet: give the bedrooms in Brief")
            + f" · gains {home.household.gains}"
        )
        self.show_drawing(self.drawing, household)

    def focus_field(self, part: str, field: str) -> bool:
        return self.card.focus_field(field) if part == "household" else self.list.focus_field(part, field)


def _appliances() -> ListSpec:
    columns = (
        Column("Appliance or light", "name"),
        Column("Electricity", "energy", width=130),
        Column("Heat left inside", "inside_share", width=130),
    )
    return ListSpec("Appliances and lights", Listing("household", "appliances", Appliance, "appliance"), columns)
