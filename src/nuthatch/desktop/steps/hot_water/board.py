"""Hot water: its way from the cold main to the taps, demand, store and pipes, draw-offs, collectors."""

from __future__ import annotations

from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.services import DrawOff, SolarField
from nuthatch.core.results.figure import Unknown
from nuthatch.core.units import with_unit
from nuthatch.core.views.hot_water import HEADS, hot_water, month_rows, solar_share, words_of_saved
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView


class HotWaterBoard(Board):
    key, title = "hot-water", "Hot water"
    fields_first = True
    list_height = 200

    def build(self) -> None:
        self.drawing = SketchView("The way of the hot water through a year")
        self.drawing.clicked.connect(self._clicked)
        self.add_drawing("", self.drawing)
        self.months = ReadTable("Hot water by month", HEADS, (98, *[34] * 12, 50))
        self.draw_offs = ListPanel(self, _draw_offs(), add="Add a draw-off")
        self.solar = ListPanel(self, _solar(), add="Add collectors")
        self.work.lists.add("By month", self.months)
        self.add_list(self.draw_offs, "Draw-offs")
        self.add_list(self.solar, "Sun")
        self.card = EditCard(self.desk)
        self.work.inspector.add(self.card)

    def refresh(self) -> None:
        a = self.assessment
        self.card.show_part("hot-water", "Demand, store, pipes")
        self.draw_offs.refresh(
            "Showers, baths, basins: litres each time, how warm, how often. They count where hot water is told by draw-offs."
        )
        self.solar.refresh("No collectors. Add a field: area, the values of its sheet, tilt and direction or its face, the store it heats.")
        if a is None:
            return
        self.show_drawing(self.drawing, hot_water)
        self.months.show_rows(month_rows(a), range(1, 14))
        f = a.figures["hot_water_demand"]
        if f.value is None:
            self.sub.setText("Needs " + f.needs[0].text if isinstance(f, Unknown) else a.blank)
            return
        share, saved = solar_share(a), words_of_saved(a)
        sun = f" · the sun gives {100 * share:.0f} %" if share is not None else ""
        sun += f", saving {saved}" if saved else ""
        more = "" if saved else " · losses inside count as gains where gains are itemised"
        self.sub.setText(f"{with_unit(f.value, f.kind)}{sun}{more}")

    def _clicked(self, ident: str) -> None:
        field = {"store": "store_loss", "circulation": "circulation_length", "draw_off": "draw_content", "useful": "litres"}.get(ident)
        if any(s.id == ident for s in self.home.water.solar):
            self.in_front(self.solar)
            self.solar.table.select(ident)
        elif any(s.id == ident for s in self.home.sources):
            self.go.emit("heat-power", ident, "water_share")
        elif field is not None:
            self.card.focus_field(field)

    def focus_field(self, part: str, field: str) -> bool:
        if field in ("draw_offs", "solar"):
            panel = self.draw_offs if field == "draw_offs" else self.solar
            self.in_front(panel)
            panel.add_button.setFocus()
            return True
        return self.draw_offs.focus_field(part, field) or self.solar.focus_field(part, field) or self.card.focus_field(field)


def _draw_offs() -> ListSpec:
    columns = (
        Column("Draw-off", "name"),
        Column("Each time", "litres", width=90),
        Column("At", "temperature", width=80),
        Column("A day", "number", width=80),
        Column("For", "per", width=100),
    )
    return ListSpec("Draw-offs", Listing("hot-water", "draw_offs", DrawOff, "draw"), columns)


def _solar() -> ListSpec:
    columns = (
        Column("Collectors", "name"),
        Column("Area", "area", width=70),
        Column("Optical", "optical", width=70),
        Column("Loss", "loss", width=110),
        Column("Tilt", "tilt", width=60),
        Column("Direction", "azimuth", width=78),
        Column("Store", "volume", width=70),
    )
    return ListSpec("Collectors", Listing("hot-water", "solar", SolarField, "solar"), columns)
