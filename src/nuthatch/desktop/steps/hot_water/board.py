"""Hot water: its way from the cold main to the taps, demand, store and pipes, draw-offs, collectors."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.hot_water import DrawOff, SolarField, Store, WaterMonth
from nuthatch.core.results.figure import Unknown
from nuthatch.core.units import with_unit
from nuthatch.core.views.hot_water import HEADS, hot_water, month_rows, solar_share, words_of_saved
from nuthatch.core.water.stages import WATER
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.steps.hot_water.pipes_part import PipesPart
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
        self.add_drawing("The way", self.drawing)
        self.months = ReadTable("Hot water by month", HEADS, (96, *[31] * 12, 50))
        self.stores = ListPanel(self, _stores(), add="Add a store")
        self.draw_offs = ListPanel(self, _draw_offs(), add="Add a draw-off")
        self.away = ListPanel(self, _months(), add="Add a month")
        self.solar = ListPanel(self, _solar(), add="Add collectors")
        self.work.lists.add("By month", self.months)
        self.add_list(self.stores, "Stores")
        self.pipes = PipesPart(self)
        self.add_list(self.draw_offs, "Draw-offs")
        self.add_list(self.away, "Months")
        self.add_list(self.solar, "Sun")
        self.card = EditCard(self.desk)
        self.work.inspector.add(self.card)

    def refresh(self) -> None:
        a = self.assessment
        self.card.show_part("hot-water", "Demand")
        self.stores.refresh("No store: water is heated as it is drawn. Add one with the loss of its sheet, or its volume alone.")
        self.pipes.refresh()
        self.away.refresh("Every month as usual. Add a month in which more or less is drawn: 0 % while nobody is there.")
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
        kinds = {"store": self.stores, "circulation": self.pipes.list, "draw_off": self.pipes.list}
        if ident in kinds:
            self.in_front(kinds[ident])
            first = next((k.id for k in self.assessment[WATER].kept if k.part == ident), "") if self.assessment is not None else ""
            kinds[ident].table.select(first) if first else kinds[ident].add_button.setFocus()
        elif any(s.id == ident for s in self.home.water.solar):
            self.in_front(self.solar)
            self.solar.table.select(ident)
        elif any(s.id == ident for s in self.home.sources):
            self.go.emit("heat-power", ident, "water_share")
        elif ident == "useful":
            self.card.focus_field("litres")

    def focus_field(self, part: str, field: str) -> bool:
        lists = {"draw_offs": self.draw_offs, "solar": self.solar, "stores": self.stores, "runs": self.pipes.list, "months": self.away}
        if field in lists:
            self.in_front(lists[field])
            lists[field].add_button.setFocus()
            return True
        rows = (self.stores, self.draw_offs, self.away, self.solar)
        return any(p.focus_field(part, field) for p in rows) or self.pipes.focus_field(part, field) or self.card.focus_field(field)


def _loses(a: Assessment, store: Store) -> str:
    """What it loses in a year."""
    loss = next((k.loss.value for k in a[WATER].kept if k.id == store.id), None)
    return with_unit(float(loss.sum()), "energy") if loss is not None else ""


def _stores() -> ListSpec:
    columns = (
        Column("Store", "name"),
        Column("Volume", "volume", width=70),
        Column("Loss", "loss", width=96),
        Column("Kept at", "temperature", width=70),
        Column("Stands", "place", width=108),
        Column("Loses", text=_loses, right=True, width=82),
    )
    return ListSpec("Stores", Listing("hot-water", "stores", Store, "store"), columns)


def _months() -> ListSpec:
    columns = (
        Column("Month", "month", width=140),
        Column("Of the usual", "share", width=110),
        Column("Cold water", "cold", width=110),
        Column("", text=lambda a, m: ""),
    )
    return ListSpec("Months of hot water", Listing("hot-water", "months", WaterMonth, "month"), columns)


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
