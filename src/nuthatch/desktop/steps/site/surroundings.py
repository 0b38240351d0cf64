"""What stands around the home: the site drawn on a sheet with the shadows of an hour, the horizon, lists of objects, ring and horizon."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QLabel, QMenu, QPushButton, QSlider

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Change, ChangeRefused, Remove, SetValue
from nuthatch.core.edits import plan_files, site_edits
from nuthatch.core.edits.desk import Listing
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.model.home import EvidenceFile
from nuthatch.core.model.site import HorizonPoint, RingSector, SiteObject, SiteSheet
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.plans.snapping import Drawn
from nuthatch.core.sketch import Sketch
from nuthatch.core.sun.site import ring_of
from nuthatch.core.views.openings.sun_drawn import compass
from nuthatch.core.views.shadows import Hour
from nuthatch.core.views.site_plan import ground_of, site_plan
from nuthatch.core.views.skyline import panorama_of, skyline
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.steps.site.horizon_view import HorizonView
from nuthatch.desktop.steps.table.backing import Backing
from nuthatch.desktop.steps.table.plan_view import PlanView
from nuthatch.desktop.steps.table.wall_card import WallCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.reading import Reading
from nuthatch.desktop.widgets.workspace import row_of

LARGEST_TABLE = 2_000_000
"""Bytes of a table of a horizon."""
KEYS = {Qt.Key.Key_B: "block", Qt.Key.Key_T: "tree", Qt.Key.Key_P: "plot"}
TOOLS = (("Block (B)", "block"), ("Tree (T)", "tree"), ("Row of trees", "row of trees"), ("Plot (P)", "plot"))
REACH = 6.0
"""Pixels from which a point that is drawn snaps to a corner."""


class Surroundings:
    """Declares its drawings and lists on the site board and keeps them up to date."""

    def __init__(self, board: Board, reading: Reading) -> None:
        self.board, self.desk = board, board.desk
        self.plan = PlanView("Site plan", KEYS)
        self.plan.square = False
        self.plan.half_drawn = self.desk.under_way.setdefault("drawing on the site", {})
        self.plan.clicked.connect(self._clicked)
        self.plan.emptied.connect(lambda: self._select(""))
        self.plan.drawn.connect(self._drawn)
        self.plan.said.connect(lambda words: board.message.emit(words) if words else None)
        self.plan.unwanted.connect(self._remove)
        self.backing = Backing(board, reading, self._draw)
        self.day, self.hour = QSlider(Qt.Orientation.Horizontal), QSlider(Qt.Orientation.Horizontal)
        for slider, name, most in ((self.day, "Day of the shadows", 364), (self.hour, "Hour of the shadows", 23)):
            slider.setAccessibleName(name)
            slider.setRange(0, most)
            slider.setMinimumWidth(70)
            slider.valueChanged.connect(lambda _: self._hour_moved())
        self.draw_button = QPushButton("Draw")
        self.draw_button.setAccessibleName("Draw on the site")
        menu = QMenu(self.draw_button)
        for words, tool in TOOLS:
            menu.addAction(words, partial(self.draw_with, tool))
        menu.addSeparator()
        menu.addAction("Backing sheet from a picture, PDF or DXF …", self._choose_sheet)
        menu.addAction("Scale the backing sheet by two points", partial(self.draw_with, "scale"))
        menu.addAction("Take the backing sheet away", self._no_sheet)
        menu.addAction("Take the plot's boundary away", partial(self._apply, lambda: SetValue(part="site", field="plot", value=())))
        self.draw_button.setMenu(menu)
        board.add_drawing("Place", self.plan, row_of(QLabel("Shadows"), self.day, self.hour, self.draw_button))
        self.horizon_view = HorizonView()
        self.horizon_view.put.connect(self._put)
        self.horizon_view.unwanted.connect(self._remove_point)
        self.horizon_view.clicked.connect(self._point_clicked)
        board.add_drawing("Horizon", self.horizon_view)
        self.length = WallCard(self._set_scale)
        self.length.length.left.connect(self._scale_typed)
        board.work.inspector.add(self.length)
        self.length.hide()
        self.objects = ListPanel(board, _objects(), add="Add a block")
        self.ring = ListPanel(board, _ring(), add="Add a sector")
        self.horizon = ListPanel(board, _horizon(), add="Add a point")
        self.table_button = QPushButton("From a table …")
        self.table_button.setToolTip("A CSV file of directions and heights in degrees")
        self.table_button.clicked.connect(lambda _: self._ask_table())
        self.horizon.bar.insertWidget(0, self.table_button)
        self.selected = ""
        for panel, title in ((self.objects, "Objects"), (self.ring, "Ring"), (self.horizon, "Horizon")):
            board.add_list(panel, title)
        self.objects.table.selected.connect(lambda _: self._from_list())
        self.horizon.table.selected.connect(lambda _: self._draw())

    # what is shown

    @property
    def shown_hour(self) -> Hour:
        """The hour whose shadows are shown, here and on the other boards."""
        found = self.desk.under_way.get("hour")
        return found if isinstance(found, Hour) else Hour()

    def refresh(self) -> None:
        """Show the snapshot."""
        self.objects.refresh("Nothing drawn yet: draw a neighbour or a tree on the plan, or say on the ring what to assume.")
        self.ring.refresh("Nothing assumed: add sectors that are shaded, or sheltered from wind, until something is drawn there.")
        self.horizon.refresh("No horizon: double-click it in the drawing, add points, or take them from a table; the ring then rests.")
        self.plan.sheet = self.backing.laid(self.board.home, self._sheet())
        sheet = self._sheet()
        apart = self.backing.apart(sheet) if sheet is not None else None
        self.length.setVisible(apart is not None)
        if apart is not None:
            self.length.present(apart, [("the two points of the sheet lie so far apart", "")])
        self._draw()

    def _sheet(self) -> SiteSheet | None:
        found = self.board.home.site.sheet
        return found if isinstance(found, SiteSheet) else None

    def _hour_moved(self) -> None:
        self.desk.under_way["hour"] = Hour(self.day.value(), self.hour.value())
        self._draw()

    def _draw(self) -> None:
        hour, chosen = self.shown_hour, self.selected
        for slider, value in ((self.day, hour.day), (self.hour, hour.hour)):
            slider.blockSignals(True)
            slider.setValue(value)
            slider.blockSignals(False)
        corners = tuple(
            ((float(x), float(y)), o.name or "an object")
            for o in self.board.home.site.objects
            if (ring := ring_of(o)) is not None and o.kind == "block"
            for x, y in ring
        )

        def drawn(a: Assessment, w: float, h: float) -> Sketch:
            ground = ground_of(a, (w, h))
            self.plan.frame = ground.frame
            self.plan.targets = Drawn(corners, (), REACH / ground.scale, 0.1, False)
            return site_plan(a, (w, h), chosen, hour, self.plan.sheet is not None)

        self.plan.on_storey("site")
        self.board.show_drawing(self.plan, drawn)
        point = self.horizon.table.current_id()

        def horizon(a: Assessment, w: float, h: float) -> Sketch:
            self.horizon_view.panorama = panorama_of(a, (w, h))
            return skyline(a, (w, h), point)

        self.board.show_drawing(self.horizon_view, horizon)

    # drawing

    def draw_with(self, tool: str) -> None:
        """Take a tool in hand, the plan in front."""
        if tool == "scale" and self._sheet() is None:
            self.board.message.emit("the site has no backing sheet")
            return
        self.board.work.drawings.show_widget(self.plan)
        self.plan.stop()
        self.plan.start(tool)

    def _drawn(self, tool: str, points: tuple[Point2, ...]) -> None:
        """What a tool has drawn becomes part of the home; what is refused stays on the table, with why."""
        home = self.board.home
        if tool == "scale":
            self.backing.scale_from(self._sheet(), points)
            self.board.refresh()
            self.length.length.setFocus()
            self.board.message.emit("Type how far the two points are from each other")
            return
        refused: list[str] = []
        make: Callable[[], Change | None] = (
            partial(site_edits.plot_drawn, home, points) if tool == "plot" else partial(site_edits.object_drawn, home, tool, points)
        )
        if not self._apply(make, refused.append):
            self.plan.refuse(tool, points, refused[0] if refused else "this cannot be taken")
        elif tool != "plot":
            self._clicked(self.board.home.site.objects[-1].id)

    def _apply(self, make: Callable[[], Change | None], refused: Callable[[str], object] | None = None, merge: str = "") -> bool:
        say = refused if refused is not None else self.board.message.emit
        try:
            change = make()
        except ChangeRefused as reason:
            say(str(reason))
            return False
        said = self.desk.apply(change, merge) if change is not None else ""
        if said:
            say(said)
        self.board.present(self.desk.snapshot)
        return not said

    def _remove(self) -> None:
        """What is selected on the plan is taken away."""
        if any(o.id == self.selected for o in self.board.home.site.objects):
            self._apply(lambda: Remove(part=self.selected))
            self._select("")

    def _choose_sheet(self) -> None:
        def lay(file: EvidenceFile, width: float | None) -> None:
            if self._apply(lambda: plan_files.sheet_laid(self.board.home, "site", file, width)):
                own = "It lies in its own scale" if width else "Set its scale: Draw, “Scale the backing sheet by two points”"
                self.board.message.emit(own)

        self.backing.choose(lay)

    def _no_sheet(self) -> None:
        self._apply(lambda: SetValue(part="site", field="sheet", value=None) if self._sheet() is not None else None)

    def _set_scale(self, value: float) -> None:
        self._apply(lambda: self.backing.scaled(value), merge="scale.site")

    def _scale_typed(self) -> None:
        self.backing.done()
        self.desk.settle()
        self.board.refresh()

    # the horizon

    def _put(self, azimuth: float, height: float) -> None:
        self._apply(lambda: site_edits.horizon_point(self.board.home, azimuth, height))

    def _point_clicked(self, ident: str) -> None:
        panel = self.horizon if any(p.id == ident for p in self.board.home.site.horizon) else self.objects
        self.board.in_front(panel)
        panel.table.select(ident)

    def _remove_point(self) -> None:
        ident = self.horizon_view.current
        if any(p.id == ident for p in self.board.home.site.horizon):
            self._apply(lambda: Remove(part=ident))

    def _ask_table(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.board, "Horizon from a table", "", "Tables (*.csv *.txt *.hor);;All files (*)")
        if name:
            self.take_table(Path(name))

    def take_table(self, path: Path) -> None:
        """The horizon of a file; what is wrong in it is said."""
        try:
            text = read_file(path, LARGEST_TABLE, "table of a horizon").decode("utf-8-sig", "replace")
        except OSError as error:
            self.board.message.emit(f"{printable(path.name)}: {why(error)}")
            return
        self._apply(lambda: site_edits.horizon_of(self.board.home, text, printable(path.name)))

    # what is selected

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


def _looks(_: Assessment, point: HorizonPoint) -> str:
    return compass(point.azimuth.value) if point.azimuth is not None else ""


def _horizon() -> ListSpec:
    columns = (Column("Direction", "azimuth", width=120), Column("Height", "height", width=120), Column("Looks", text=_looks))
    return ListSpec("Horizon", Listing("site", "horizon", HorizonPoint, "horizon"), columns)
