"""Air: every path and what it loses, the flows, airtightness and the ventilation unit."""

from __future__ import annotations

from nuthatch.core.air.drawings import air_flows, air_paths
from nuthatch.core.edits.changes import SetValue
from nuthatch.core.model.services import VentilationUnit
from nuthatch.core.results.figure import shown
from nuthatch.core.units import with_unit
from nuthatch.desktop.steps.air.air_test_view import AirTestView
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.sketch_view import SketchView


class AirBoard(Board):
    key, title = "air", "Air"
    list_height = 240

    def build(self) -> None:
        self.drawing = SketchView("Air paths and what they lose")
        self.flows = SketchView("Flows")
        self.test = AirTestView(self, self._say)
        self.add_drawing("Air paths", self.drawing)
        self.add_drawing("Air test", self.test.drawing, self.test.bar)
        self.work.lists.add("Flows", self.flows)
        self.work.lists.add("Readings", self.test.readings)
        self.work.lists.add("Validity", self.test.validity)
        self.card = EditCard(self.desk)
        self.unit_card = EditCard(self.desk)
        self.add_unit = button("Add a ventilation unit", self._add, "plus")
        self.drop_unit = button("Remove the unit", self._drop, "trash-2")
        for widget in (self.card, self.unit_card, self.add_unit, self.drop_unit):
            self.work.inspector.add(widget)

    def refresh(self) -> None:
        a, home = self.assessment, self.home
        self.card.show_part("air", "Airtightness and rooms")
        self.unit_card.show_part("unit" if home.air.unit else "")
        self.add_unit.setVisible(home.air.unit is None)
        self.drop_unit.setVisible(home.air.unit is not None)
        if a is None:
            return
        self.test.refresh()
        self._say()
        self.drawing.show_made(lambda w, h: air_paths(a, w, h))
        self.flows.show_made(lambda w, h: air_flows(a, w, h))

    @property
    def settled(self) -> bool:
        return self.test.settled

    def _say(self) -> None:
        a = self.assessment
        if a is None:
            return
        rate = a.figures["infiltration_rate"]
        recovery = a.figures["effective_heat_recovery"]
        said = [f"infiltration {shown(rate, 3)}"]
        if recovery.value is not None:
            said.append(f"effective recovery {with_unit(recovery.value, 'percent')} after ducts")
        self.sub.setText(" · ".join((*said, *filter(None, (self.test.said(),)))))

    def _add(self) -> None:
        self.apply(SetValue(part="air", field="unit", value=VentilationUnit()))
        self.present(self.desk.snapshot)
        self.focus_field("unit", "recovery")  # the focus would vanish with the button

    def _drop(self) -> None:
        self.card.focus_field("n50")
        self.apply(SetValue(part="air", field="unit", value=None))

    def focus_field(self, part: str, field: str) -> bool:
        return (self.unit_card if part == "unit" else self.card).focus_field(field)
