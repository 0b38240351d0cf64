"""What stands around the home: the site plan with the shadows of an hour, lists of neighbours and trees, of the ring, of the horizon."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QSlider

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.calendar import day_name
from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.site import HorizonPoint, RingSector, SiteObject
from nuthatch.core.results.figure import Computing
from nuthatch.core.sun.shares import SunPath
from nuthatch.core.sun.stages import PATH
from nuthatch.core.views.site_plan import Hour, site_plan
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of


class Surroundings:
    """Declares its drawing and lists on the site board and keeps them up to date."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.plan = SketchView("Site plan")
        self.plan.clicked.connect(self._clicked)
        self.plan.emptied.connect(lambda: self._select(""))
        self.day, self.hour = QSlider(Qt.Orientation.Horizontal), QSlider(Qt.Orientation.Horizontal)
        for slider, name, most, value in ((self.day, "Day of the shadows", 364, 79), (self.hour, "Hour of the shadows", 23, 14)):
            slider.setAccessibleName(name)
            slider.setRange(0, most)
            slider.setValue(value)
            slider.setMinimumWidth(90)
            slider.valueChanged.connect(lambda _: self._draw())
        self.when = QLabel()
        board.add_drawing("Place", self.plan, row_of(QLabel("Shadows of"), self.when, self.day, self.hour))
        self.objects = ListPanel(board, _objects(), add="Add a block")
        self.ring = ListPanel(board, _ring(), add="Add a sector")
        self.horizon = ListPanel(board, _horizon(), add="Add a point")
        self.selected = ""
        for panel, title in ((self.objects, "Objects"), (self.ring, "Ring"), (self.horizon, "Horizon")):
            board.add_list(panel, title)
        self.objects.table.selected.connect(lambda _: self._from_list())

    def refresh(self) -> None:
        """Show the snapshot."""
        self.objects.refresh("Nothing drawn yet: add a neighbour or a tree, then drag it to its place; or say on the ring what to assume.")
        self.ring.refresh("Nothing assumed: add sectors that are shaded, or sheltered from wind, until something is drawn there.")
        self.horizon.refresh("No horizon: add points by direction and height, or paste them from a sheet; the ring then rests.")
        self._draw()

    def _draw(self) -> None:
        a = self.board.assessment
        hour, chosen = Hour(self.day.value(), self.hour.value()), self.selected
        self.when.setText(f"{day_name(hour.day)}, {hour.hour}:30{self._sun(a, hour)}")
        self.board.show_drawing(self.plan, lambda a, w, h: site_plan(a, (w, h), chosen, hour))

    def _sun(self, a: Assessment | None, hour: Hour) -> str:
        path = a[PATH] if a is not None else None
        if isinstance(path, SunPath):
            height = float(path.height[hour.day * 24 + hour.hour])
            return f" · sun {height:.0f}° high" if height > 0 else " · sun below"
        return " · …" if isinstance(path, Computing) else ""

    def _clicked(self, ident: str) -> None:
        sector = ident.partition(":")[0]
        if any(o.id == ident for o in self.board.home.site.objects):
            self.board.in_front(self.objects)
            self.objects.table.select(ident)
            self._select(ident)
        elif any(s.id == sector for s in self.board.home.site.ring):
            self.board.in_front(self.ring)
            self.ring.table.select(sector)

    def _from_list(self) -> None:
        self._select(self.objects.table.current_id())

    def _select(self, ident: str) -> None:
        if ident != self.selected:
            self.selected = ident
            self._draw()

    def focus_field(self, part: str, field: str) -> bool:
        """Lead to a field of one of its lists."""
        return any(panel.focus_field(part, field) for panel in (self.objects, self.ring, self.horizon))


def _objects() -> ListSpec:
    columns = (
        Column("Object", "name"),
        Column("Kind", "kind", width=84),
        Column("East", "east", width=66),
        Column("North", "north", width=68),
        Column("Length", "length", width=68),
        Column("Depth", "depth", width=64),
        Column("Height", "height", width=66),
    )
    return ListSpec("Objects of the site", Listing("site", "objects", SiteObject, "object"), columns)


def _ring() -> ListSpec:
    columns = (
        Column("From", "start"),
        Column("To", "end", width=90),
        Column("Shaded", "shade", width=120),
        Column("Wind", "sheltered", width=120),
    )
    return ListSpec("Ring", Listing("site", "ring", RingSector, "sector"), columns)


def _horizon() -> ListSpec:
    columns = (Column("Direction", "azimuth"), Column("Height", "height", width=140))
    return ListSpec("Horizon", Listing("site", "horizon", HorizonPoint, "horizon"), columns)
