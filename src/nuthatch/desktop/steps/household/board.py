"""Household: people, appliances and lights, internal gains."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.household.stages import electricity_of
from nuthatch.core.model.household import Appliance
from nuthatch.core.units import with_unit
from nuthatch.core.views.household import densities, household
from nuthatch.core.views.room_loads import LOADS, room_loads
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.steps.household.office_sets import OfficeSets
from nuthatch.desktop.steps.household.patterns_part import PatternsPart
from nuthatch.desktop.steps.shape.tint_row import TintRow
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

ENDS = {"electricity": ("heat_flux", 0.0, 10.0), "heat inside": ("heat_flux", 0.0, 10.0), "people": ("count", 0.0, 4.0)}
"""Where the legends begin and end at first."""


class HouseholdBoard(Board):
    key, title = "household", "Household"
    fields_first = True
    list_height = 330

    def build(self) -> None:
        self.drawing = SketchView("Internal gains and electricity")
        self.add_drawing("The year", self.drawing)
        self.list = ListPanel(self, _appliances(), add="Add an appliance")
        self.sets = OfficeSets(self)
        self.list.bar.insertWidget(0, self.sets.button)
        self.add_list(self.list)
        self.patterns = PatternsPart(self)
        self.rooms = SketchView("Loads of rooms")
        self.rooms.clicked.connect(lambda ident: self.go.emit("shape", ident, "use"))
        self.tint = TintRow(self, LOADS, ENDS)
        self.tint.changed.connect(self._draw_rooms)
        self.tint.fits_anew.connect(self.work.drawings.refit)
        self.storey = QComboBox()
        self.storey.setAccessibleName("Storey of the rooms")
        self.storey.activated.connect(lambda _: self._draw_rooms())
        self.add_drawing("Rooms", self.rooms, row_of(self.tint.range, self.tint.by, self.storey))
        self.tint.placed()
        self.card = EditCard(self.desk)
        self.work.inspector.add(self.card)

    def refresh(self) -> None:
        a, home = self.assessment, self.home
        self.list.refresh("Household electricity may be typed as one number beside, or itemised here by appliance.")
        self.card.show_part("household", "People and gains")
        self.patterns.refresh()
        if a is None:
            return
        self.sub.setText(f"{densities(a)} · gains {home.household.gains}")
        self.show_drawing(self.drawing, household)
        plans = home.shape.plans
        rows = [(s.id, s.name) for s in plans.storeys if s.rooms] if plans is not None else []
        if [self.storey.itemData(n) for n in range(self.storey.count())] != [i for i, _ in rows]:
            self.storey.clear()
            for ident, name in rows:
                self.storey.addItem(name, ident)
        self._draw_rooms()

    def _draw_rooms(self) -> None:
        storey, tint = str(self.storey.currentData() or ""), self.tint.chosen()
        self.show_drawing(self.rooms, lambda a, w, h: room_loads(a, storey, tint, (w, h)))

    def subject(self, picture: str) -> str | None:
        return str(self.storey.currentData() or "") if picture == "room-loads" else ""

    def focus_field(self, part: str, field: str) -> bool:
        if part == "household":
            return self.card.focus_field(field)
        if field == "patterns":
            self.in_front(self.patterns.patterns)
            self.patterns.patterns.add_button.setFocus()
            return True
        return self.list.focus_field(part, field) or self.patterns.focus_field(part, field)


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
