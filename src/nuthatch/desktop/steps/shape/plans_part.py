"""What the shape board shows of storey plans: the drawing table, its lists, and the inspector of what is selected."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import shapely
from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.changes.changes import Change, ChangeRefused, Remove, SetValue
from nuthatch.core.edits import measured, plan_edits, plan_files, plan_storeys, roof_edits
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.tracing import CLOSED, NEEDS
from nuthatch.core.model.home import EvidenceFile, Opening, find
from nuthatch.core.model.part import Part
from nuthatch.core.model.plans import BackingSheet, Hole, Outline, Plans, RoofPlan, Side, Spot, StoreyPlan
from nuthatch.core.plans.plan_parts import owner_of, side_of_face
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.plans.reading_plans import floors_of, space_of
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.from_plans import Built
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.views.shape.plan_handles import belongs
from nuthatch.core.views.shape.tinting import Tint
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.steps.shape.drawing_table import DrawingTable
from nuthatch.desktop.steps.shape.plan_inspector import Chosen, PlanInspector
from nuthatch.desktop.steps.shape.plan_lists import PlanLists
from nuthatch.desktop.steps.table.backing import Backing
from nuthatch.desktop.steps.table.wall_card import WallCard
from nuthatch.desktop.trying import tried
from nuthatch.desktop.widgets.reading import Reading


class PlansPart(QObject):
    """Drawing table, lists and inspector of the plans. `chosen(id)`: something else is selected; `redraw`: what is seen has changed.
    beside: what the board does for the table's menu, by name."""

    chosen = pyqtSignal(str)
    redraw = pyqtSignal()

    def __init__(self, board: Board, reading: Reading, beside: Mapping[str, Callable[[], None]]) -> None:
        super().__init__(board)
        self.board, self.desk = board, board.desk
        self._beside = {**beside, "sheet": self._choose_sheet}
        self.selected = ""
        self.table = DrawingTable()
        self.table.plan.half_drawn = self.desk.under_way.setdefault("drawing", {})
        for view in self.table.views:
            view.clicked.connect(self.select)
            view.emptied.connect(lambda: self.select(""))
        for view in (self.table.plan, self.table.elevation, self.table.section):
            board.let_drag(view)
        self.table.plan.drawn.connect(self.take_drawn)
        self.table.plan.said.connect(lambda words: board.message.emit(words) if words else None)
        self.table.storey_chosen.connect(lambda _: self.select(""))
        self.table.asked.connect(self.do)
        self.table.plan.unwanted.connect(self.remove)
        self.backing = Backing(board, reading, self.redraw.emit)

    def declare(self) -> None:
        """Put lists and inspector into the board's workspace."""
        self.lists = PlanLists(self.board, self._row_chosen, self._room_chosen, self._space_chosen)
        wall = WallCard(self._set_length)
        wall.length.left.connect(self._length_typed)
        buttons = (
            button("Window", self._add_window, "plus", "Add a window to this wall or slope"),
            button("Split", self._split, "", "Put a corner into the middle of this wall"),
            button("", self.remove, "trash-2", "Remove what is selected (Del)"),
        )
        self.inspector = PlanInspector(self.desk, wall, buttons)
        self.inspector.card.refused.connect(self.board.message)
        for widget in self.inspector.widgets:
            self.board.work.inspector.add(widget)

    # shown

    @property
    def plans(self) -> Plans:
        """The plans of the home; there are some whenever this part is shown."""
        plans = self.board.home.shape.plans
        assert isinstance(plans, Plans)
        return plans

    @property
    def built(self) -> Built | None:
        """What the plans make, as far as it is worked out."""
        a = self.board.assessment
        return a[BUILT] if a is not None else None

    def show(self, on: bool, tint: Tint, glass: bool) -> None:
        """Show the plans, or hide all that belongs to them."""
        self.lists.set_visible(on)
        for widget in self.inspector.widgets:
            widget.setVisible(on)
        a = self.board.assessment
        if not on or a is None:
            return
        part, face = self._part(), self._face()
        if self.selected and part is None and face is None:
            self.selected = ""
        for view in self.table.views:
            view.current = self.selected  # what arrow keys move is what is selected, wherever it was
        self.table.show_storeys(self.plans)  # a new table has no storey in view yet, and so no sheet
        self.table.plan.sheet = self.backing.laid(self.board.home, self._sheet())
        what = tried(self.board.desk)
        self.table.before = what.assessment if what is not None and what.assessment is not a else None
        self.table.present(a, tint, self.selected, glass)
        self.lists.fill(a)
        self.lists.follow(str(part["id"]) if part is not None else "")
        shown = part if part is not None or face is None else self._owner_of_face(face.id)
        apart = self.backing.apart(shown) if isinstance(shown, BackingSheet) else None
        self.inspector.fill(Chosen(self.board.home, a, shown, face, apart))

    def _storey(self) -> StoreyPlan | None:
        """The storey in view."""
        return next((s for s in self.plans.storeys if s.id == self.table.storey), None)

    def _outlines(self) -> tuple[Outline, ...]:
        storey = self._storey()
        return storey.outlines if storey is not None else ()

    def _sheet(self) -> BackingSheet | None:
        storey = self._storey()
        return storey.sheet if storey is not None else None

    def _choose_sheet(self) -> None:
        storey = self.table.storey

        def lay(file: EvidenceFile, width: float | None) -> None:
            if self.apply(lambda: plan_files.sheet_laid(self.board.home, storey, file, width)):
                more = "“Outlines from its closed lines”, or trace its lines" if width else "“Scale the backing sheet by two points”"
                self.board.message.emit(f"{'It lies in its own scale' if width else 'Set its scale'}: More, {more}")

        self.backing.choose(lay)

    def _part(self) -> Part | None:
        """The part that is selected: a corner's marker names its side, an edge of a roof its roof."""
        if self.selected.startswith("edge:"):
            return next((r for r in self.plans.roofs if belongs(self.selected, r.id)), None)
        ident = self.selected.removeprefix("corner:").removeprefix("end:").partition(":")[0]
        return find(self.board.home, ident) if ident else None

    def _face(self) -> Boundary | None:
        a = self.board.assessment
        if a is None:
            return None
        return next((b for b in (*a[SOLID].boundaries, *a[SOLID].around) if b.id == self.selected), None)

    def _owner_of_face(self, face: str) -> Part | None:
        """The part a face comes from: its outline, or the part of the roof."""
        found = find(self.board.home, face.partition(".")[0])
        return found if isinstance(found, Outline | RoofPlan) else None

    def select(self, ident: str) -> None:
        """Select a part, a face, an opening or a corner, in the drawings, the list and the inspector alike."""
        if ident.startswith("length:"):
            self.selected = ident.removeprefix("length:")
            self.redraw.emit()
            self.inspector.type_length()
            return
        if ident.startswith("field:"):
            _, part, field = ident.split(":")
            self.board.focus_field(part, field)
            return
        self.selected = side_of_face(self.board.home, ident) or ident
        found = owner_of(self.board.home, self.selected.removeprefix("corner:"))
        if found is not None and self.table.in_front == 0:
            self.table.storey = found[0].id
        self.chosen.emit(ident)
        self.redraw.emit()

    # edits

    def apply(self, make: Callable[[], Change | None], merge: str = "", refused: Callable[[str], object] | None = None) -> bool:
        """Apply what an edit makes; False where it was refused, and says why. merge: keystrokes of one field are one step; refused:
        what is done with the reason, else it is said."""
        say = refused if refused is not None else self.board.message.emit
        try:
            change = make()
        except ChangeRefused as why:
            say(str(why))
            return False
        if change is None:
            return False
        reason = self.desk.apply(change, merge)
        if reason:
            say(reason)
            return False
        self.board.present(self.desk.snapshot)
        return True

    def do(self, what: str) -> None:
        """A button or menu of the table."""
        home, storey = self.board.home, self.table.storey
        if what in NEEDS and what != "scale":
            self.table.show_large(0)
            self.table.plan.stop()
            self.table.plan.start(what)
            return
        if what in self._beside:
            self._beside[what]()
            return
        sheet = self._sheet()
        if what in ("scale", "no sheet", "sheet outlines") and sheet is None:
            self.board.message.emit("this storey has no backing sheet")
            return
        if what == "scale":
            self.table.show_large(0)
            self.table.plan.start("scale")
            return
        edits: dict[str, Callable[[], Change | None]] = {
            "sheet outlines": lambda: self.backing.outlines(home, storey, sheet),
            "no sheet": lambda: SetValue(part=storey, field="sheet", value=None),
            "roof": lambda: roof_edits.roof_over(home, storey),
            "copy up": lambda: plan_storeys.copied_up(home, storey),
            "storey": lambda: plan_storeys.empty_storey(home),
            "cellar": lambda: plan_storeys.cellar(home),
            "ground": lambda: plan_storeys.ground_heights(home),
            "mirror": lambda: plan_storeys.mirrored(home),
            "turn": lambda: plan_storeys.turned(home),
        }
        before = {s.id for s in self.plans.storeys}
        if self.apply(edits[what]):
            new = [s.id for s in self.plans.storeys if s.id not in before]
            if new:
                self.table.storey = new[0]
                self.select("")
            if what == "ground":
                self.lists.show_ground()
            if what == "roof":
                self.select(self.plans.roofs[-1].id)

    def take_drawn(self, tool: str, points: tuple[Point2, ...]) -> None:
        """What a tool has drawn becomes part of the home."""
        home, storey = self.board.home, self.table.storey
        if tool == "court":
            before = {h.id for o in self._outlines() for h in o.holes}
            if self._drawn_in(tool, points, lambda: plan_edits.holed(home, storey, points)):
                self.select(next((h.id for o in self._outlines() for h in o.holes if h.id not in before), ""))
        elif tool in CLOSED:
            kind = "heated" if tool == "outline" else tool
            if self._drawn_in(tool, points, lambda: plan_edits.traced(home, storey, points, kind)):
                self._select_newest()
        elif tool == "inner wall":
            self._drawn_in(tool, points, lambda: plan_edits.inner_wall(home, storey, *points))
        elif tool == "room":
            self.name_room(points[0])
        elif tool == "window":
            if self.apply(lambda: measured.window_at(home, storey, points[0], self._outer())):
                self.select(self.board.desk.home.openings[-1].id)
        elif tool == "distance":
            self._drawn_in(tool, points, lambda: measured.apart(home, storey, points[0], points[1], points[2]))
        elif tool == "scale":
            sheet = self._sheet()
            self.backing.scale_from(sheet, points)
            self.select(sheet.id if sheet is not None else "")
            self.inspector.type_length()
            self.board.message.emit("Type how far the two points are from each other")
        elif tool in ("roof part", "roof front"):
            top = next((f.level + f.height for f in floors_of(self.plans) if f.plan.id == storey), None)

            def make() -> Change:
                if tool == "roof front":
                    return roof_edits.roof_front(home, storey, (points[0], points[1], points[2]), top)
                return roof_edits.roof_part(home, storey, points[0], points[1], top)

            if self._drawn_in(tool, points, make):
                self.select(self.plans.roofs[-1].id)

    def _outer(self) -> Mapping[str, Polygon]:
        """The outer outlines of the faces, as far as they are worked out."""
        a = self.board.assessment
        return a[SOLID].outer if a is not None else {}

    def _drawn_in(self, tool: str, points: tuple[Point2, ...], make: Callable[[], Change | None]) -> bool:
        """What is drawn becomes part of the home; what is refused stays on the table, with why."""
        why: list[str] = []
        if self.apply(make, refused=why.append):
            return True
        self.table.plan.refuse(tool, points, why[0] if why else "this cannot be taken")
        return False

    def _select_newest(self) -> None:
        storey = self._storey()
        if storey is not None and storey.outlines:
            self.select(storey.outlines[-1].id)

    def name_room(self, at: Point2) -> None:
        """Name the room a point lies in; one that has a name is selected."""
        point = shapely.Point(at)
        rooms = self.built.rooms if self.built is not None else ()
        room = next((r for r in rooms if r.storey == self.table.storey and r.measure.polygon.contains(point)), None)
        if room is None:
            self.board.message.emit("there is no room here: click inside the walls of a heated outline")
            return
        if room.part is None and not self.apply(lambda: plan_edits.named_room(self.board.home, self.table.storey, at)):
            return
        storey = self._storey()
        self.select(room.part.id if room.part is not None else storey.rooms[-1].id if storey is not None else "")
        self.inspector.name_it()

    def _set_length(self, value: float) -> None:
        part = self._part()
        if isinstance(part, BackingSheet):
            self.apply(lambda: self.backing.scaled(value), f"scale.{part.id}")
        elif isinstance(part, Side):
            side = part.id
            self.apply(lambda: plan_edits.with_length(self.board.home, side, value), f"length.{side}")

    def _length_typed(self) -> None:
        """The length is typed to its end: the next one is a step of its own."""
        self.backing.done()
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

    def _row_chosen(self, ident: str) -> None:
        """A storey or a roof of the list in front."""
        if ident and ident != self.selected:
            if any(s.id == ident for s in self.plans.storeys):
                self.table.storey = ident
            self.select(ident)

    def _room_chosen(self, ident: str) -> None:
        room = next((r for r in self.built.rooms if r.id == ident), None) if self.built is not None else None
        if room is not None:
            self.table.storey = room.storey
        self.selected = ident
        self.redraw.emit()

    def _space_chosen(self, space: str) -> None:
        owner = next((o for s in self.plans.storeys for o in s.outlines if space_of(o) == space), None)
        self.select(owner.id if owner is not None else "")

    def focus_field(self, part: str, field: str) -> bool:
        """Lead to a field of the plans."""
        found = find(self.board.home, part)
        if not isinstance(found, Spot | Outline | Hole | StoreyPlan | RoofPlan) and part != "plans":
            return False
        if isinstance(found, Outline | Hole):
            own = (s.id for s in self.plans.storeys for o in s.outlines if found is o or found in o.holes)
            self.table.storey = next(own, self.table.storey)
        self.select("" if part == "plans" else part)
        if part == "plans" and field in ("storeys", "roofs"):
            if field == "storeys":
                self.table.pick("outline")
            else:
                self.lists.show_roofs()
            return True
        return self.inspector.card.focus_field(field) or True
