"""What the lists of storey plans show, and what is worked out of a selected wall or face."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QFileDialog

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.exchange import sheet_files
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.part import Part
from nuthatch.core.model.plans import GroundSpot, RoofPlan, Side, StoreyPlan
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import EDGES, SOLID
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.shape.spaces import spaces
from nuthatch.core.views.shape.take_off import take_off
from nuthatch.core.views.sheets.of_home import rooms
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.workspace import row_of

Row = tuple[str, tuple[str, ...]]
AIR_WORDS = {"supply": "supply", "extract": "extract", "transfer": "transfer", "none": "–"}


def space_rows(a: Assessment) -> list[Row]:
    """Spaces with their volume and b."""
    found: list[Row] = []
    for s in spaces(a):
        b = show(s.known, "fraction") if s.known is not None else "" if s.heated else "?"
        found.append((s.id, (s.name, "heated" if s.heated else "unheated", show(s.volume, "volume"), b, s.says)))
    return found


def worked_out(a: Assessment, part: Part | None, face: Any) -> list[tuple[str, str]]:
    """What is worked out of the faces of a part."""
    ident = getattr(part, "id", "") if isinstance(part, Side) else ""
    own = [
        e
        for e in a[ELEMENTS]
        if e.is_face and (e.id == ident or (ident and e.id.startswith(f"{ident}.")) or (face is not None and e.id == face.id))
    ]
    rows: list[tuple[str, str]] = []
    for e in own:
        area = float(a[SOLID].areas.get(e.id, 0.0))
        rows.append((f"{e.borders}: gross area", with_unit(area, "area")))
        if e.area is not None and e.area.value is not None:
            rows.append(("net area", with_unit(float(e.area.value), "area")))
        if e.u is not None and e.u.value is not None:
            rows.append(("U", with_unit(float(e.u.value), "u")))
        if e.loss.value is not None:
            rows.append(("loses", with_unit(float(e.loss.value), "w_per_k")))
    names = {b.id: b.name for b in a[SOLID].boundaries}
    ids = {e.id for e in own}
    for edge in a[EDGES] if own else ():
        if ids & set(edge.boundaries) and len(edge.boundaries) == 2 and abs(edge.angle - 180) > 1:
            other = next((names.get(b, b) for b in edge.boundaries if b not in ids), "itself")
            rows.append(
                (
                    f"edge with {other}",
                    f"{with_unit(edge.length, 'length')}, {show(edge.angle, 'angle')}°{', re-entrant' if edge.angle > 180 else ''}",
                )
            )
    return rows[:14]


def storeys_spec() -> ListSpec:
    columns = (
        Column("Storey", "name"),
        Column("Level", "level", width=90),
        Column("Height", "height", width=90),
        Column("Floor", "floor_thickness", width=90),
    )
    return ListSpec("Storeys", Listing("plans", "storeys", StoreyPlan, "storey"), columns, sortable=False)


def roofs_spec() -> ListSpec:
    columns = (
        Column("Roof", "name"),
        Column("Kind", "kind", width=80),
        Column("Over", "over", width=110),
        Column("Pitch", "pitch", width=64),
        Column("Ridge", "ridge", width=64),
        Column("Eaves", "eaves", width=80),
    )
    return ListSpec("Roofs", Listing("plans", "roofs", RoofPlan, "roof"), columns)


def ground_spec() -> ListSpec:
    columns = (
        Column("Level of the ground", "z"),
        Column("Right of the origin", "x", width=140),
        Column("Up from the origin", "y", width=140),
    )
    return ListSpec("Heights of the ground", Listing("plans", "heights", GroundSpot, "ground"), columns)


class PlanLists:
    """Rooms, storeys, roofs, ground, spaces and take-off in the board's list area; the callables take the id of a chosen row."""

    def __init__(self, board: Board, row_chosen: Callable[[str], None], room: Callable[[str], None], space: Callable[[str], None]) -> None:
        self.board = board
        self.rooms = ReadTable(
            "Rooms",
            ("Room", "Storey", "Use", "Air", f"Area {unit_of('area')}", "Counts", f"Height {unit_of('length')}"),
            (0, 104, 70, 64, 84, 70, 84),
        )
        self.rooms.chosen.connect(room)
        self.storeys = ListPanel(board, storeys_spec(), add="Add a storey", ordered=True, carded=False)
        self.roofs = ListPanel(board, roofs_spec(), add="Add a roof", carded=False)
        self.ground = ListPanel(board, ground_spec(), add="Add a height", carded=False)
        self.spaces = ReadTable("Spaces", ("Space", "Kind", f"Volume {unit_of('volume')}", "b factor", "b is"), (0, 100, 96, 76, 110))
        self.spaces.chosen.connect(space)
        self.amounts = ReadTable("Take-off", ("Of", "What", "Amount"), (150, 0, 120))
        lists = board.work.lists
        lists.add("Rooms", self.rooms, row_of())
        lists.add("Storeys", self.storeys, self.storeys.bar)
        lists.add("Roofs", self.roofs, self.roofs.bar)
        lists.add("Ground", self.ground, self.ground.bar)
        lists.add("Spaces", self.spaces, row_of())
        lists.add(
            "Take-off", self.amounts, row_of(button("Save as CSV or XLSX", self.export, "save", "Save the take-off as a spreadsheet"))
        )
        self._places = [lists.stack.indexOf(w) for w in (self.rooms, self.storeys, self.roofs, self.ground, self.spaces, self.amounts)]
        for panel in (self.storeys, self.roofs, self.ground):
            panel.table.selected.connect(partial(self._row_chosen, panel, row_chosen))

    def _row_chosen(self, panel: ListPanel, chosen: Callable[[str], object], _: str) -> None:
        if self.board.work.lists.current is panel:
            chosen(panel.table.current_id())

    def set_visible(self, on: bool) -> None:
        """Offer the lists, or none of them."""
        for index in self._places:
            self.board.work.lists.buttons[index].setVisible(on)

    def fill(self, a: Assessment) -> None:
        """Show an assessment."""
        if a[BUILT] is None:
            return
        self.rooms.show_sheet(rooms(a))
        self.storeys.refresh("No storeys yet.")
        self.roofs.refresh("No roof yet: a storey that ends level has a flat one.")
        self.ground.refresh(
            "The ground is level. Where it slopes: More, “Ground that slopes”, then set each corner's height here or drag it in the plan."
        )
        self.spaces.show_rows(space_rows(a), (2, 3))
        self.amounts.show_sheet(take_off(a))

    def follow(self, ident: str) -> None:
        """What is selected in the drawings, in every list that has it."""
        self.rooms.select(ident, quiet=True)
        for panel in (self.storeys, self.roofs, self.ground):
            if ident and ident != panel.table.current_id():
                panel.table.blockSignals(True)
                panel.table.select(ident)
                panel.table.blockSignals(False)

    def show_roofs(self) -> None:
        """Bring the list of roofs to the front."""
        self.board.work.lists.show_widget(self.roofs)

    def show_ground(self) -> None:
        """Bring the heights of the ground to the front."""
        self.board.work.lists.show_widget(self.ground)

    def export(self) -> None:
        """Save the take-off as CSV or XLSX."""
        a = self.board.assessment
        if a is None:
            return
        name, _ = QFileDialog.getSaveFileName(
            self.board, "Save the take-off", f"{a.home.name} take-off.xlsx", "Spreadsheets (*.xlsx *.csv)"
        )
        if name:
            try:
                sheet_files.save(take_off(a), Path(name))
                self.board.message.emit(f"Take-off saved as {Path(name).name}")
            except HomeFileError as why:
                self.board.message.emit(str(why))
