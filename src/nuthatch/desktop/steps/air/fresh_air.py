"""Fresh air on the Air board: the plan with its flows, rooms, ventilation units with their ducts, the hours of the day."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QLabel

from nuthatch.core.air.flows import RoomFlow
from nuthatch.core.air.stages import FLOWS, LOSSES
from nuthatch.core.assess import Assessment
from nuthatch.core.edits.air_edits import TEMPLATES, from_template
from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.ventilation import Duct, OperatingHours, VentilationUnit
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import show, unit_of
from nuthatch.core.views.air.drawings import air_flows, flow_plan
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

OF_THE_DRAWING = ("x", "y", "factor", "height", "temperature")
"""Fields of a room that are worked on in Shape."""


class FreshAir:
    """The drawing of the rooms' flows and the lists that belong to it."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.drawing = SketchView("Fresh air, room by room")
        self.drawing.clicked.connect(self.choose_room)
        self.storey = QComboBox()
        self.storey.setAccessibleName("Storey")
        self.storey.activated.connect(lambda _: self._draw())
        board.add_drawing("Fresh air", self.drawing, row_of(self.storey))
        self.storey.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        heads = ("Room", "Storey", "Air", "Asks", "Low", "Normal", "Boost", "Passes")
        self.rooms = ReadTable("Rooms and their flows", heads, (0, 92, 58, 50, 44, 60, 52, 60))
        self.in_units = QLabel(f"flows {unit_of('flow')} · air passes through {unit_of('free_area')}")
        self.in_units.setObjectName("muted")
        self.rooms.chosen.connect(self._room_chosen)
        board.work.lists.add("Rooms", self.rooms, row_of(self.in_units))
        self.room_card = EditCard(board.desk, OF_THE_DRAWING)
        self.room_card.refused.connect(board.message)
        board.work.inspector.add(self.room_card)
        self.units = ListPanel(board, _units_spec(), add="Add a unit")
        self.template = QComboBox()
        self.template.setAccessibleName("Start from a template")
        self.template.addItem("Template …", "")
        for key, (name, _) in TEMPLATES.items():
            self.template.addItem(name, key)
        self.template.setMaximumWidth(150)
        self.template.activated.connect(lambda _: self.use_template())
        self.units.bar.insertWidget(0, self.template)
        self.units.table.selected.connect(lambda _: self.ducts.refresh())
        self.ducts = ListPanel(board, ListSpec("Ducts", self._ducts, DUCTS, sortable=False), add="Add a duct")
        self.hours = ListPanel(board, _hours_spec(), add="Add hours")
        board.add_list(self.units, "Units")
        board.add_list(self.ducts, "Ducts")
        board.add_list(self.hours, "Hours")
        self.flows = SketchView("Flows")
        board.work.lists.add("Flows", self.flows, row_of())
        self.lists = (self.rooms, self.units, self.ducts, self.hours, self.flows)

    def _ducts(self) -> Listing:
        """The ducts of the unit that is current, of the first where none is."""
        units = self.board.home.air.units
        owner = self.units.table.current_id() or (units[0].id if units else "")
        return Listing(owner, "ducts", Duct, f"{owner or 'unit'}.duct")

    def use_template(self) -> None:
        """The unit, ducts and rooms of the chosen template."""
        key = self.template.currentData()
        self.template.setCurrentIndex(0)
        if key:
            self.board.apply(from_template(self.board.home, key))
            self.board.in_front(self.units)

    def _room_chosen(self, ident: str) -> None:
        known = self.board.desk.part(ident) is not None
        self.room_card.show_part(ident if known else "")
        if not known:
            self.board.message.emit("This room has no name yet: name it in Shape, then its air can be said here")
        room = next((r for r in self._flows() if r.room.id == ident), None)
        if room is not None:
            self.storey.setCurrentIndex(max(self.storey.findData(room.room.storey), 0))
        self._draw()

    def choose_room(self, ident: str) -> None:
        """A room of the plan becomes the one worked on."""
        if any(r.room.id == ident for r in self._flows()):
            self.board.work.lists.show_widget(self.rooms)
            self.rooms.select(ident)
            self._room_chosen(ident)

    def _flows(self) -> tuple[RoomFlow, ...]:
        a = self.board.assessment
        return a[FLOWS].rooms if a is not None else ()

    def refresh(self) -> None:
        """Show the snapshot."""
        a = self.board.assessment
        self.units.refresh("No unit: people open windows, or nobody does. Start from a template, or add a unit.")
        unit = self.ducts.model.spec.where.owner
        self.ducts.refresh(
            "The ducts between a unit and the envelope, or through the cold, piece by piece." if unit else "Add a unit first."
        )
        self.ducts.add_button.setEnabled(bool(unit))
        self.hours.refresh("Normal all day and night. Add hours at which the ventilation runs low, at boost, or is off.")
        if a is None:
            return
        plans = a.home.shape.plans
        storeys = [(s.id, s.name) for s in plans.storeys if any(r.room.storey == s.id for r in a[FLOWS].rooms)] if plans else []
        if [(self.storey.itemData(n), self.storey.itemText(n)) for n in range(self.storey.count())] != storeys:
            kept = self.storey.currentData()
            self.storey.clear()
            for ident, name in storeys:
                self.storey.addItem(name, ident)
            self.storey.setCurrentIndex(max(self.storey.findData(kept), 0))
        self.storey.setVisible(bool(storeys))
        self.rooms.show_rows(_room_rows(a), (3, 4, 5, 6, 7))
        self.flows.show_made(lambda w, h: air_flows(a, w, h))
        if self.room_card.part_id:
            self.room_card.show_part(self.room_card.part_id if self.board.desk.part(self.room_card.part_id) is not None else "")
        self._draw()

    def _draw(self) -> None:
        a = self.board.assessment
        if a is None:
            return
        storey, room = str(self.storey.currentData() or ""), self.rooms.current_id()
        if not a[FLOWS].rooms:
            self.drawing.show_made(lambda w, h: _no_rooms(a, w, h))
            return
        self.drawing.show_made(lambda w, h: flow_plan(a, storey, (w, max(h, 160.0)), room))

    def in_front(self, on: bool) -> None:
        """Its cards come with it."""
        self.room_card.setVisible(on and bool(self.room_card.part_id) and self.board.work.lists.current is self.rooms)

    def focus_field(self, part: str, field: str) -> bool:
        """Lead to a field of a room, a unit, a duct, or the hours."""
        if part == "air" and field == "units":
            self.board.in_front(self.units)
            self.units.add_button.setFocus()
            return True
        if any(r.room.id == part for r in self._flows()):
            self.choose_room(part)
            return self.room_card.focus_field(field) or True
        owner = next((u.id for u in self.board.home.air.units if any(d.id == part for d in u.ducts)), "")
        if owner:
            self.units.table.select(owner)
            self.ducts.refresh()
        return any(panel.focus_field(part, field) for panel in (self.units, self.ducts, self.hours))


def _no_rooms(a: Assessment, width: float, height: float) -> Sketch:
    """The flows of a home without drawn rooms, and where rooms come from."""
    made = Sketch(width, max(height, 160.0), "Flows")
    made.add(air_flows(a, width, min(height - 40, 200.0)), 0, 0)
    made.text(0, made.height - 10, "Rooms are drawn in Shape; then every room has its flow here.", size=12, color="muted")
    return made


def _number(value: object, kind: str = "flow") -> str:
    found = getattr(value, "value", None)
    return show(float(found), kind) if found is not None else "" if value is None else "?"


def _room_rows(a: Assessment) -> list[tuple[str, tuple[str, ...]]]:
    return [
        (
            r.room.id,
            (
                r.room.name,
                r.room.storey_name,
                r.way if r.role != "none" else "–",
                _number(r.asked),
                _number(r.low),
                _number(r.normal),
                _number(r.boost),
                _number(r.passes, "free_area"),
            ),
        )
        for r in a[FLOWS].rooms
    ]


def _effective(a: Assessment, row: VentilationUnit) -> str:
    u = next((u for u in a[LOSSES].units if u.unit.id == row.id), None)
    if row.moves != "supply and extract":
        return "–"
    return show(float(u.recovery.value), "percent") if u is not None and u.recovery.value is not None else "?"


def _loss(a: Assessment, row: VentilationUnit) -> str:
    u = next((u for u in a[LOSSES].units if u.unit.id == row.id), None)
    return show(float(u.loss.value), "w_per_k") if u is not None and u.loss.value is not None else "?"


def _units_spec() -> ListSpec:
    columns = (
        Column("Unit", "name"),
        Column("Moves", "moves", width=116),
        Column("Supply", "supply", width=76),
        Column("Extract", "extract", width=76),
        Column("Recovery", "recovery", width=84),
        Column("after ducts", text=_effective, right=True, width=76),
        Column("H", text=_loss, kind="w_per_k", width=60),
    )
    return ListSpec("Units", Listing("air", "units", VentilationUnit, "unit"), columns)


DUCTS = (
    Column("Duct", "way"),
    Column("Length", "length", width=84),
    Column("Diameter", "diameter", width=96),
    Column("Insulation", "insulation", width=104),
    Column("λ", "conductivity", width=120),
)


def _hours_spec() -> ListSpec:
    columns = (Column("Runs", "runs"), Column("From", "start", width=84), Column("To", "end", width=84), Column("On", "days", width=120))
    return ListSpec("Hours", Listing("air", "hours", OperatingHours, "hours"), columns, sortable=False)
