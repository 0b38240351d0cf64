"""Hot water: where its heat goes, demand, store and pipes."""

from __future__ import annotations

from nuthatch.core.results.figure import Known, Unknown, state_words
from nuthatch.core.units import with_unit
from nuthatch.core.water.drawings import hot_water
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.sketch_view import SketchView


class HotWaterBoard(Board):
    key, title = "hot-water", "Hot water"

    def build(self) -> None:
        self.drawing = SketchView("Heat for hot water in a year", 170)
        self.card = EditCard(self.desk, 5)
        self.column.addWidget(self.drawing)
        self.column.addWidget(self.card)
        self.column.addStretch(1)

    def refresh(self) -> None:
        a = self.assessment
        self.card.show_part("hot-water", "Demand, store, pipes")
        if a is None:
            return
        self.drawing.show_sketch(hot_water(a))
        months = a.months["hot_water_demand"]
        if not isinstance(months, Known):
            self.sub.setText("Needs " + months.needs[0].text if isinstance(months, Unknown) else state_words(months))
            return
        f = a.figures["hot_water_demand"]
        self.sub.setText(f"{with_unit(f.value, f.kind)} · losses inside the envelope count as gains")

    def focus_field(self, part: str, field: str) -> bool:
        return self.card.focus_field(field)
