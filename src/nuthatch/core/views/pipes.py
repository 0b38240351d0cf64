"""Pipes of hot water on the plan of a storey: each as wide as what it loses, its corners to be dragged."""

from __future__ import annotations

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.model.hot_water import PipeRun
from nuthatch.core.plans.reading_plans import points_of, rings_of, walls_of
from nuthatch.core.results.figure import Figure
from nuthatch.core.sketch import Handle, Picture, Pull, Sketch, snapping
from nuthatch.core.units import with_unit
from nuthatch.core.views.shape.plan_frame import Frame, frame_of
from nuthatch.core.water.stages import WATER

THINNEST, WIDEST = 2.0, 9.0
"""Width of a pipe that loses nothing, and of the one that loses most [px]."""


def storey_shown(a: Assessment, storey: str) -> str:
    """The storey asked for, else the first that has a pipe, else the first."""
    plans = a.home.shape.plans
    ids = [s.id for s in plans.storeys] if plans is not None else []
    drawn = [r.storey for r in a.home.water.runs if r.corners and r.storey in ids]
    return storey if storey in ids else drawn[0] if drawn else ids[0] if ids else ""


def pipe_plan(a: Assessment, storey: str = "", size: tuple[float, float] = (560.0, 400.0), selected: str = "") -> Sketch:
    """The pipes of one storey over its walls and rooms."""
    made = Sketch(*size, "Pipes of hot water")
    plans = a.home.shape.plans
    if plans is None or not plans.storeys:
        made.say("pipes are drawn on storey plans: draw them in Shape, or list pipes with their lengths")
        return made
    shown = storey_shown(a, storey)
    floor = next(s for s in plans.storeys if s.id == shown)
    frame = frame_of(plans, size)
    for outline in floor.outlines:
        for ring in map(points_of, rings_of(outline)):
            if len(ring) > 2:
                made.path([frame.at(p) for p in ring], fill="stone" if outline.kind == "heated" else "", stroke="ink", width=1.0)
    for start, end, _ in walls_of(floor.inner_walls):
        made.line(frame.at(start), frame.at(end), stroke="muted", width=1.2)
    for room in floor.rooms:
        if room.x is not None and room.y is not None:
            x, y = frame.at((room.x.value, room.y.value))
            made.text(x, y, room.name, size=10.5, color="muted", anchor="middle")
    lost = {k.id: k.loss for k in a[WATER].kept}
    most = max((_year(f) for f in lost.values()), default=0.0)
    runs = [r for r in a.home.water.runs if r.storey == shown and len(r.corners) > 1]
    for run in runs:
        _pipe(made, frame, run, lost.get(run.id), (most, run.id == selected))
    made.text(4, 14, _legend(runs), size=11, color="muted")
    made.hint = "P draws a pipe; drag its corners" if runs else "P draws a pipe: click its corners, then Enter"
    return made


def _legend(runs: list[PipeRun]) -> str:
    return "as wide as what a pipe loses in a year" if runs else "no pipe is drawn on this storey: press P, click its corners, then Enter"


def _year(loss: Figure | None) -> float:
    return float(np.sum(loss.value)) if loss is not None and loss.value is not None else 0.0


def _pipe(made: Sketch, frame: Frame, run: PipeRun, loss: Figure | None, how: tuple[float, bool]) -> None:
    most, chosen = how
    amount = _year(loss)
    points = [frame.at((c.x.value if c.x else 0.0, c.y.value if c.y else 0.0)) for c in run.corners]
    wide = THINNEST + (WIDEST - THINNEST) * (amount / most if most > 0 else 0.0)
    tip = f"{run.name}: " + (
        f"{with_unit(amount, 'energy')} lost" if loss is not None and loss.value is not None else "what it loses is not known yet"
    )
    color = "tide" if chosen else "chestnut" if run.kind == "circulation" else "slate"
    made.path(points, stroke=color, width=wide, id=run.id, tip=tip, closed=False)
    x, y = points[len(points) // 2]
    made.text(x + 6, y - 7, run.name, size=10.5, halo=True, bold=chosen)
    step, fine, _ = snapping(False)
    for n, (corner, (px, py)) in enumerate(zip(run.corners, points, strict=True)):
        square = tuple((px + dx, py + dy) for dx, dy in ((-4, -4), (4, -4), (4, 4), (-4, 4)))
        made.path(square, fill="paper", stroke=color, width=1.0, id=run.id)
        at = (corner.x.value if corner.x else 0.0, corner.y.value if corner.y else 0.0)
        pulls = (
            Pull(corner.id, "x", at[0], (1 / frame.scale, 0.0), step, fine, -1000.0, 1000.0),
            Pull(corner.id, "y", at[1], (0.0, -1 / frame.scale), step, fine, -1000.0, 1000.0),
        )
        made.handles.append(Handle(corner.id, square, pulls, f"corner {n + 1} of {run.name}", True))


PICTURES = (Picture("pipes", "Pipes of hot water", lambda a, of: pipe_plan(a, of)),)
