"""Pictures of the shape: plan, elevation, section, solid, losses, take-off; of drawn plans storey by storey and side by side."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.sketch import Picture, Sketch
from nuthatch.core.solid.plan_faces import COMPASS
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.views.shadows import Hour
from nuthatch.core.views.shape.axonometric import View, axonometric
from nuthatch.core.views.shape.cut_view import cut_view
from nuthatch.core.views.shape.plan_table import storey_plan
from nuthatch.core.views.shape.plans_and_elevations import face_losses, plan, take_off
from nuthatch.core.views.shape.tinting import Tint

ELEVATIONS = {"south": 0.0, "east": 90.0, "north": 180.0, "west": -90.0}
"""How a view is turned to see each side of the sheet [°]."""


def plan_of(a: Assessment, storey: str = "") -> Sketch:
    """The plan of a storey; of the lowest where none is named. Raises KeyError where it is gone."""
    plans = a.home.shape.plans
    if plans is None:
        return plan(a)
    ids = [s.id for s in plans.storeys]
    if storey and storey not in ids:
        raise KeyError(storey)
    return storey_plan(a, storey or next(iter(ids), ""), size=(470.0, 380.0), worked=False)


def elevation(
    a: Assessment,
    side: str = "",
    tint: Tint | None = None,
    size: tuple[float, float] = (420, 300),
    legend: bool = True,
    selected: str | None = None,
    hour: Hour | None = None,
) -> Sketch:
    """The home seen square on from one side of the sheet, called by where that side looks: south is the side at its foot. selected:
    what is, where it is worked on; None where it is only looked at."""
    turn = ELEVATIONS[side or "south"]
    made = axonometric(a, View(turn, 0.0, selected=selected or "", hour=hour), tint, size, legend, selected is not None)
    made.title = f"{COMPASS[round((180 - turn + a[SOLID].north) / 45) % 8]} elevation"
    if legend:
        made.text(6, 14, made.title, size=12, color="muted")
    return made


def section_of(a: Assessment) -> Sketch:
    """The section through the middle."""
    return cut_view(a, 0, 0.5, (420.0, 300.0))


PICTURES = (
    Picture("plan", "Plan", plan_of),
    Picture("elevation", "Elevation", elevation),
    Picture("upright", "Section", lambda a, _: section_of(a)),
    Picture("solid", "The home from above", lambda a, _: axonometric(a)),
    Picture("below", "The home from below", lambda a, _: axonometric(a, View(height=-30))),
    Picture("faces", "Loss by face", lambda a, _: face_losses(a)),
    Picture("take-off", "Take-off", lambda a, _: take_off(a)),
)
