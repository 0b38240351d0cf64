"""What the shape board shows of storey plans: the drawing table, its lists, and the inspector of what is selected."""

from __future__ import annotations

from collections.abc import Callable
from math import hypot
from pathlib import Path
from typing import TYPE_CHECKING, Any

import shapely
from PyQt6.QtCore import QObject, Qt
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QWidget

from nuthatch.core.edits import plan_edits
from nuthatch.core.edits.changes import ChangeRefused, Remove, SetValue
from nuthatch.core.edits.desk import Listing
from nuthatch.core.exchange.homefile import HomeFileError
from nuthatch.core.model.home import Opening, find
from nuthatch.core.model.part import Part
from nuthatch.core.model.plans import BackingSheet, InnerWall, Outline, RoofPlan, Room, Side, Spot, StoreyPlan
from nuthatch.core.shape.drawings import Tint
from nuthatch.core.shape.finding import length_of, owner_of, side_of_face
from nuthatch.core.shape.reading_plans import space_of
from nuthatch.core.shape.roofs import Point2
from nuthatch.core.shape.stages import BUILT, SOLID
from nuthatch.core.shape.take_off import rows as take_off_rows
from nuthatch.core.shape.take_off import save
from nuthatch.core.units import unit_of
from nuthatch.desktop.steps.board import ListPanel, button
from nuthatch.desktop.steps.shape.backing import picture
from nuthatch.desktop.steps.shape.drawing_table import DrawingTable
from nuthatch.desktop.steps.shape.plan_lists import roofs_spec, room_rows, space_rows, storeys_spec, worked_out
from nuthatch.desktop.steps.shape.plan_view import CLOSED
from nuthatch.desktop.steps.shape.wall_card import WallCard
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.workspace import row_of

if TYPE_CHECKING:
    from nuthatch.desktop.steps.shape.board import ShapeBoard

TITLES = {
    BackingSheet: "Backing sheet",
    Side: "Wall",
    Outline: "Outline",
    StoreyPlan: "Storey",
    Room: "Room",
    InnerWall: "Inner wall",
    RoofPlan: "Roof",
    Spot: "Corner of a roof",
}


class PlansPart(QObject):
    """Drawing table, lists and cards of the plans, for the shape board."""

    def __init__(self, board: ShapeBoard) -> None:
        super().__init__(board)
        self.board, self.desk = board, board.desk
        self.selected = ""
        self.table = DrawingTable()
        for view in self.table.views:
            view.clicked.connect(self.select)
        board.let_drag(self.table.plan)
        self.table.plan.drawn.connect(self._drawn)
        self.table.plan.said.connect(lambda words: board.message.emit(words) if words else None)
        self.table.storey_chosen.connect(lambda _: self.select(""))
        self.table.asked.connect(self.do)
        self._two: tuple[Point2, ...] = ()
        self._unscaled: BackingSheet | None = None
        self.table.plan.unwanted.connect(self.remove)

    # declared

    def declare(self) -> None:
        """Put lists and cards into the board's workspace."""
        self._lists()
        self._inspector()

    def _lists(self) -> None:
        board = self.board
        self.rooms = ReadTable(
            "Rooms", ("Room", "Storey", "Use", f"Area {unit_of('area')}", "Counts", f"Height {unit_of('length')}"), (0, 104, 70, 84, 70, 84)
        )
        self.rooms.chosen.connect(self._room_chosen)
        self.storeys = ListPanel(board, storeys_spec(), add="Add a storey", ordered=True, carded=False)
        self.roofs = ListPanel(board, roofs_spec(), add="Add a roof", carded=False)
        self.spaces = ReadTable("Spaces", ("Space", "Kind", f"Volume {unit_of('volume')}", "b factor", "b is"), (0, 100, 96, 76, 110))
        self.spaces.chosen.connect(self._space_chosen)
        self.amounts = ReadTable("Take-off", ("Of", "What", "Amount", "Unit"), (150, 0, 90, 60))
        board.work.lists.add("Rooms", self.rooms, row_of())
        board.work.lists.add("Storeys", self.storeys, self.storeys.bar)
        board.work.lists.add("Roofs", self.roofs, self.roofs.bar)
        board.work.lists.add("Spaces", self.spaces, row_of())
        board.work.lists.add(
            "Take-off", self.amounts, row_of(button("Save as CSV or XLSX", self._export, "save", "Save the take-off as a spreadsheet"))
        )
        self.places = [board.work.lists.stack.indexOf(w) for w in (self.rooms, self.storeys, self.roofs, self.spaces, self.amounts)]
        for panel in (self.storeys, self.roofs):
            panel.table.selected.connect(lambda _, p=panel: self._row_chosen(p))

    def _inspector(self) -> None:
        self.head = QLabel()
        self.head.setObjectName("sectionTitle")
        self.head.setTextFormat(Qt.TextFormat.PlainText)
        self.head.setWordWrap(True)
        self.wall = WallCard(self._set_length)
        self.wall.length.left.connect(self._length_typed)
        self.card = EditCard(self.desk)
        self.card.refused.connect(self.board.message)
        self.card.setAccessibleName("What is selected")
        self.buttons = QWidget()
        row = QHBoxLayout(self.buttons)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(4)
        self.window_button = button("Window", self._add_window, "plus", "Add a window to this wall or slope")
        self.split_button = button("Split", self._split, "", "Put a corner into the middle of this wall")
        self.remove_button = button("", self.remove, "trash-2", "Remove what is selected (Del)")
        for made in (self.window_button, self.split_button, self.remove_button):
            row.addWidget(made)
        row.addStretch(1)
        for widget in (self.head, self.wall, self.buttons, self.card):
            self.board.work.inspector.add(widget)

    # shown

    @property
    def plans(self) -> Any:
        return self.board.home.shape.plans

    def show(self, on: bool, tint: Tint, glass: bool) -> None:
        """Show the plans, or hide all that belongs to them."""
        for index in self.places:
            self.board.work.lists.buttons[index].setVisible(on)
        for widget in (self.head, self.wall, self.card, self.buttons):
            widget.setVisible(on)
        a = self.board.assessment
        if not on or a is None:
            return
        if self.selected and self._part() is None and self._face() is None:
            self.selected = ""
        self._lay_sheet()
        self.table.present(a, tint, self.selected, glass)
        self._fill_lists()
        self._fill_inspector()

    def _sheet(self) -> BackingSheet | None:
        """The backing sheet of the storey in view."""
        storey = next((s for s in self.plans.storeys if s.id == self.table.storey), None)
        return storey.sheet if storey is not None else None

    def _lay_sheet(self) -> None:
        """Put the storey's backing sheet below the plan."""
        sheet = self._sheet()
        self.table.plan.sheet = None
        if sheet is not None and sheet.x and sheet.y and sheet.width:
            file = next((e for e in self.board.home.evidence if e.id == sheet.file), None)
            data = self.desk.evidence_bytes(file.sha256) if file is not None else None
            image = picture(data) if data is not None else None
            if image is not None:
                self.table.plan.sheet = (image, sheet.x.value, sheet.y.value, sheet.width.value)

    def _choose_sheet(self) -> None:
        """A picture or the first page of a PDF, laid below the storey in view."""
        name, _ = QFileDialog.getOpenFileName(self.table, "Backing sheet", "", "Pictures and PDF (*.png *.jpg *.jpeg *.pdf)")
        if not name:
            return
        file = self.desk.taken(Path(name))
        if isinstance(file, str):
            self.board.message.emit(file)
            return
        data = self.desk.evidence_bytes(file.sha256)
        if data is None or picture(data) is None:
            self.board.message.emit(f"{file.name} is no picture or PDF that can be shown")
            return
        if self.apply(lambda: plan_edits.sheet_laid(self.board.home, self.table.storey, file)):
            self.board.message.emit("Set its scale: More, “Scale the backing sheet by two points”")

    def _part(self) -> Part | None:
        """The part that is selected: a corner's marker names its side."""
        ident = self.selected.removeprefix("corner:").removeprefix("end:").partition(":")[0]
        return find(self.board.home, ident) if ident else None

    def _face(self) -> Any:
        a = self.board.assessment
        known = {b.id: b for b in (*a[SOLID].boundaries, *a[SOLID].around)} if a is not None else {}
        return known.get(self.selected)

    def select(self, ident: str) -> None:
        """Select a part, a face, an opening or a corner, in the drawings, the list and the inspector alike."""
        board = self.board
        if ident.startswith("length:"):
            self.selected = ident.removeprefix("length:")
            board.redraw()
            self.wall.length.edit.setFocus()
            self.wall.length.edit.selectAll()
            return
        if ident.startswith("field:"):
            board._clicked(ident)
            return
        self.selected = ident
        side = side_of_face(board.home, ident)
        if side:
            self.selected = side
        found = owner_of(board.home, self.selected.removeprefix("corner:"))
        if found is not None and self.table.in_front == 0:
            self.table.storey = found[0].id
        board.drawn_faces.blockSignals(True)
        board.drawn_faces.select(ident)
        board.drawn_faces.blockSignals(False)
        board.redraw()

    def _fill_inspector(self) -> None:
        part, a = self._part(), self.board.assessment
        face = self._face()
        if part is None and face is not None:
            part = self._owner_of_face(face.id)
        shown = part if part is not None else self.plans
        kind = TITLES.get(type(shown), "")
        name = getattr(shown, "name", "") if shown is not None else ""
        self.head.setText(self._title(shown, face, kind, name))
        long = length_of(self.board.home, part.id) if isinstance(part, Side) and type(part) is Side else None  # type: ignore[attr-defined]
        if isinstance(part, BackingSheet):
            long = self._apart(part)
        rows = worked_out(a, part, face) if a is not None else []
        self.wall.setVisible(long is not None or bool(rows))
        self.wall.present(long, rows)
        self.card.show_part(shown.id, " ")  # type: ignore[union-attr]
        wall = isinstance(part, Side)
        self.window_button.setVisible(wall or (face is not None and face.role == "roof"))
        self.split_button.setVisible(wall)
        self.remove_button.setVisible(part is not None)
        self.buttons.setVisible(part is not None or face is not None)

    def _apart(self, sheet: BackingSheet) -> float | None:
        """How far the two points that set the scale are from each other now [m]."""
        before = self._unscaled
        if before is None or not self._two or before.width is None or sheet.width is None:
            return None
        (ax, ay), (bx, by) = self._two
        return hypot(bx - ax, by - ay) * sheet.width.value / before.width.value

    def _title(self, part: Any, face: Any, kind: str, name: str) -> str:
        a = self.board.assessment
        if isinstance(part, Side) and a is not None:
            own = [b.name for b in a[SOLID].boundaries if b.id == part.id or b.id.startswith(f"{part.id}.")]
            return own[0] if own else "Wall between heated parts"
        if face is not None and part is None:
            return str(face.name)
        if part is self.plans:
            return "All plans"
        return f"{kind}: {name}" if kind and name else name or kind

    def _owner_of_face(self, face: str) -> Part | None:
        """The part a face comes from: its outline, or the part of the roof."""
        stem = face.partition(".")[0]
        found = find(self.board.home, stem)
        return found if isinstance(found, Outline | RoofPlan) else None

    def _fill_lists(self) -> None:
        a = self.board.assessment
        if a is None or a[BUILT] is None:
            return
        self.rooms.show_rows(room_rows(a), (3, 4, 5))
        self.storeys.refresh("No storeys yet.")
        self.roofs.refresh("No roof yet: a storey that ends level has a flat one.")
        self.spaces.show_rows(space_rows(a), (2, 3))
        self.amounts.show_rows([(str(n), row) for n, row in enumerate(take_off_rows(a))], (2,))

    # edits

    def apply(self, make: Callable[[], Any], merge: str = "") -> bool:
        """Apply what an edit makes; False where it was refused, and says why. merge: keystrokes of one field are one step."""
        try:
            change = make()
        except ChangeRefused as why:
            self.board.message.emit(str(why))
            return False
        if change is None:
            return False
        reason = self.desk.apply(change, merge)
        if reason:
            self.board.message.emit(reason)
            return False
        self.board.present(self.desk.snapshot)
        return True

    def do(self, what: str) -> None:
        """A button or menu of the table."""
        home, storey = self.board.home, self.table.storey
        if what in ("unheated space", "roof part"):
            self.table.show_large(0)
            self.table.plan.stop()
            self.table.plan.start(what)
            return
        beside = {"list": self.board._to_list, "save": self.board.save_shape, "take in": self.board.take_in, "sheet": self._choose_sheet}
        if what in beside:
            beside[what]()
            return
        sheet = self._sheet()
        if what in ("scale", "no sheet") and sheet is None:
            self.board.message.emit("this storey has no backing sheet")
            return
        if what == "scale":
            self.table.show_large(0)
            self.table.plan.start("scale")
            return
        edits: dict[str, Callable[[], Any]] = {
            "no sheet": lambda: SetValue(part=storey, field="sheet", value=None),
            "roof": lambda: plan_edits.roof_over(home, storey),
            "copy up": lambda: plan_edits.copied_up(home, storey),
            "storey": lambda: plan_edits.empty_storey(home),
            "cellar": lambda: plan_edits.cellar(home),
            "mirror": lambda: plan_edits.mirrored(home),
            "turn": lambda: plan_edits.turned(home),
        }
        before = {s.id for s in self.plans.storeys}
        if self.apply(edits[what]):
            new = [s.id for s in self.plans.storeys if s.id not in before]
            if new:
                self.table.storey = new[0]
                self.select("")

    def _drawn(self, tool: str, points: tuple[Point2, ...]) -> None:
        home, storey = self.board.home, self.table.storey
        if tool in CLOSED:
            kind = "heated" if tool == "outline" else tool
            if self.apply(lambda: plan_edits.traced(home, storey, points, kind)):
                self._select_newest()
        elif tool == "inner wall":
            self.apply(lambda: plan_edits.inner_wall(home, storey, *points))
        elif tool == "room":
            self._name_room(points[0])
        elif tool == "scale":
            sheet = self._sheet()
            self._two, self._unscaled = points, sheet
            self.select(sheet.id if sheet is not None else "")
            self.wall.length.edit.setFocus()
            self.wall.length.edit.selectAll()
            self.board.message.emit("Type how far the two points are from each other")
        elif tool == "roof part":
            a = self.board.assessment
            floors = a[BUILT].drawing.floors if a is not None and a[BUILT] is not None and a[BUILT].drawing is not None else ()
            top = next((f.level + f.height for f in floors if f.plan.id == storey), None)
            if self.apply(lambda: plan_edits.roof_part(home, *points, top)):
                self.select(self.plans.roofs[-1].id)

    def _select_newest(self) -> None:
        storey = next(s for s in self.plans.storeys if s.id == self.table.storey)
        if storey.outlines:
            self.select(storey.outlines[-1].id)

    def _name_room(self, at: Point2) -> None:
        """Name the room a point lies in; one that has a name is selected."""
        a = self.board.assessment
        built = a[BUILT] if a is not None else None
        point = shapely.Point(at)
        room = (
            next((r for r in built.rooms if r.storey == self.table.storey and r.measure.polygon.contains(point)), None)
            if built is not None
            else None
        )
        if room is None:
            self.board.message.emit("there is no room here: click inside the walls of a heated outline")
            return
        if room.part is None and not self.apply(lambda: plan_edits.named_room(self.board.home, self.table.storey, at)):
            return
        ident = room.part.id if room.part is not None else next(s for s in self.plans.storeys if s.id == self.table.storey).rooms[-1].id
        self.select(ident)
        field = self.card.fields.get("name")
        inner = getattr(field, "inner", None)
        if inner is not None:
            inner.setFocus()
            inner.selectAll()

    def _set_length(self, value: float) -> None:
        part = self._part()
        if isinstance(part, BackingSheet) and self._unscaled is not None and self._two:
            (a, b), before = self._two, self._unscaled
            self.apply(lambda: plan_edits.sheet_scaled(before, a, b, value), f"scale.{part.id}")
        elif isinstance(part, Side):
            side = part.id
            self.apply(lambda: plan_edits.with_length(self.board.home, side, value), f"length.{side}")

    def _length_typed(self) -> None:
        """The length is typed to its end: the next one is a step of its own."""
        self._two, self._unscaled = (), None
        self.desk.settle()

    def _split(self) -> None:
        part = self._part()
        if isinstance(part, Side):
            self.apply(lambda: plan_edits.split(self.board.home, part.id))

    def _add_window(self) -> None:
        """A window in the wall or slope that is selected."""
        part, face = self._part(), self._face()
        ident = part.id if isinstance(part, Side) else face.id if face is not None else ""
        if not ident:
            return
        new, why = self.desk.add(Listing("home", "openings", Opening, "w"), face=ident)
        if why:
            self.board.message.emit(why)
            return
        self.board.present(self.desk.snapshot)
        self.board.go.emit("openings", new, "width")

    def remove(self) -> None:
        """Remove what is selected: a corner of an outline, an inner wall, a name of a room, an outline, a roof."""
        part = self._part()
        if part is None:
            return
        ident: str = part.id  # type: ignore[attr-defined]
        if isinstance(part, Side):
            done = self.apply(lambda: plan_edits.without_corner(self.board.home, ident))
        else:
            done = self.apply(lambda: Remove(part=ident))
        if done:
            self.select("")

    def _row_chosen(self, panel: ListPanel) -> None:
        """A storey or a roof of the list in front."""
        ident = panel.table.current_id()
        if self.board.work.lists.current is panel and ident and ident != self.selected:
            if any(s.id == ident for s in self.plans.storeys):
                self.table.storey = ident
            self.select(ident)

    def _room_chosen(self, ident: str) -> None:
        a = self.board.assessment
        built = a[BUILT] if a is not None else None
        room = next((r for r in built.rooms if r.id == ident), None) if built is not None else None
        if room is not None:
            self.table.storey = room.storey
        self.selected = ident
        self.board.redraw()

    def _space_chosen(self, space: str) -> None:
        owner = next((o for s in self.plans.storeys for o in s.outlines if space_of(o) == space), None)
        self.select(owner.id if owner is not None else "")

    def _export(self) -> None:
        """Save the take-off as CSV or XLSX."""
        a = self.board.assessment
        if a is None:
            return
        name, _ = QFileDialog.getSaveFileName(
            self.table, "Save the take-off", f"{a.home.name} take-off.xlsx", "Spreadsheets (*.xlsx *.csv)"
        )
        if name:
            try:
                save(a, Path(name))
                self.board.message.emit(f"Take-off saved as {Path(name).name}")
            except HomeFileError as why:
                self.board.message.emit(str(why))

    def focus_field(self, part: str, field: str) -> bool:
        """Lead to a field of the plans."""
        found = find(self.board.home, part)
        if not isinstance(found, Spot | Outline | StoreyPlan | RoofPlan) and part != "plans":
            return False
        if isinstance(found, Outline):
            self.table.storey = next((s.id for s in self.plans.storeys if found in s.outlines), self.table.storey)
        self.select("" if part == "plans" else part)
        if part == "plans" and field in ("storeys", "roofs"):
            if field == "storeys":
                self.table._pick("outline")
            else:
                self.board.work.lists.show_index(self.places[2])
            return True
        return self.card.focus_field(field) or True
