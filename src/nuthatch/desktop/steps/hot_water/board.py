"""Hot water: where its heat goes, demand, store and pipes."""

from __future__ import annotations

from nuthatch.core.results.figure import MONTHS, Known, Unknown, state_words
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.hot_water import hot_water
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView

PARTS = {"useful": "Water drawn", "store": "Store", "circulation": "Circulation", "draw_off": "After draw-off"}


def _cells(result: Known) -> list[str]:
    return [show(float(v), "energy_month") for v in (*result.value, result.value.sum())]


class HotWaterBoard(Board):
    key, title = "hot-water", "Hot water"
    fields_first = True
    list_height = 190

    def build(self) -> None:
        self.drawing = SketchView("Heat for hot water in a year")
        self.add_drawing("", self.drawing)
        self.months = ReadTable("Hot water by month", ("", *MONTHS, "year"), (92, *[34] * 12, 50))
        self.work.lists.add("By month", self.months)
        self.card = EditCard(self.desk)
        self.work.inspector.add(self.card)

    def refresh(self) -> None:
        a = self.assessment
        self.card.show_part("hot-water", "Demand, store, pipes")
        if a is None:
            return
        self.show_drawing(self.drawing, hot_water)
        months = a.months["hot_water_demand"]
        if not isinstance(months, Known):
            self.sub.setText("Needs " + months.needs[0].text if isinstance(months, Unknown) else state_words(months))
            return
        f = a.figures["hot_water_demand"]
        rows = [(name, months.inputs[key]) for key, name in PARTS.items()] + [("Together", months)]
        self.months.show_rows([(n, (n, *_cells(v))) for n, v in rows if isinstance(v, Known)], range(1, 14))
        self.sub.setText(f"{with_unit(f.value, f.kind)} · losses inside count as gains where gains are itemised")

    def focus_field(self, part: str, field: str) -> bool:
        return self.card.focus_field(field)
