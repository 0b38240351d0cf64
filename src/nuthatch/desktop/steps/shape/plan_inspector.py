"""The inspector of storey plans: head, length, what is worked out, buttons and entries of what is selected."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Part
from nuthatch.core.model.plans import BackingSheet, GroundSpot, Hole, InnerWall, Outline, Plans, RoofPlan, Room, Side, Spot, StoreyPlan
from nuthatch.core.plans.plan_parts import length_of
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import SOLID
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.steps.shape.plan_lists import worked_out
from nuthatch.desktop.steps.table.wall_card import WallCard
from nuthatch.desktop.widgets.edit_card import EditCard

TITLES = {
    BackingSheet: "Backing sheet",
    Side: "Wall",
    Outline: "Outline",
    Hole: "Court",
    StoreyPlan: "Storey",
    Room: "Room",
    InnerWall: "Inner wall",
    RoofPlan: "Roof",
    Spot: "Corner of a roof",
    GroundSpot: "Height of the ground",
}


@dataclass(frozen=True)
class Chosen:
    """What is selected: a part of the plans, a face of the solid, or all plans; `apart`: how far the two points that set the scale of
    a backing sheet lie from each other now [m]."""

    home: Home
    assessment: Assessment
    part: Part | None
    face: Boundary | None
    apart: float | None = None

    @property
    def plans(self) -> Plans:
        plans = self.home.shape.plans
        assert plans is not None
        return plans

    def title(self) -> str:
        """What the head says."""
        part, face = self.part, self.face
        if isinstance(part, Side):
            own = [b.name for b in self.assessment[SOLID].boundaries if b.id == part.id or b.id.startswith(f"{part.id}.")]
            return own[0] if own else "Wall between heated parts"
        if part is None:
            return face.name if face is not None else "All plans"
        kind, name = TITLES.get(type(part), ""), str(getattr(part, "name", ""))
        return f"{kind}: {name}" if kind and name else name or kind

    def long(self) -> float | None:
        """The length that can be typed [m]."""
        if isinstance(self.part, BackingSheet):
            return self.apart
        return length_of(self.home, self.part.id) if isinstance(self.part, Side) else None


class PlanInspector:
    """Its widgets, in the order they stand."""

    def __init__(self, desk: Desk, wall: WallCard, buttons: tuple[QWidget, ...]) -> None:
        self.head = QLabel()
        self.head.setObjectName("sectionTitle")
        self.head.setTextFormat(Qt.TextFormat.PlainText)
        self.head.setWordWrap(True)
        self.wall = wall
        self.card = EditCard(desk)
        self.card.setAccessibleName("What is selected")
        self.buttons = QWidget()
        row = QHBoxLayout(self.buttons)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(4)
        self.window_button, self.split_button, self.remove_button = buttons
        for made in buttons:
            row.addWidget(made)
        row.addStretch(1)
        self.widgets: tuple[QWidget, ...] = (self.head, self.wall, self.buttons, self.card)

    def fill(self, chosen: Chosen) -> None:
        """Show what is selected."""
        part, face = chosen.part, chosen.face
        self.head.setText(chosen.title())
        long, rows = chosen.long(), worked_out(chosen.assessment, part, face)
        self.wall.setVisible(long is not None or bool(rows))
        self.wall.present(long, rows)
        shown: Any = part if part is not None else chosen.plans
        self.card.show_part(shown.id, " ")
        wall = isinstance(part, Side)
        self.window_button.setVisible(wall or (face is not None and face.role == "roof"))
        self.split_button.setVisible(wall)
        self.remove_button.setVisible(part is not None)
        self.buttons.setVisible(part is not None or face is not None)

    def name_it(self) -> None:
        """Lead to the name, to be typed over."""
        inner = getattr(self.card.fields.get("name"), "inner", None)
        if inner is not None:
            inner.setFocus()
            inner.selectAll()

    def type_length(self) -> None:
        """Lead to the length, to be typed over."""
        self.wall.length.edit.setFocus()
        self.wall.length.edit.selectAll()
