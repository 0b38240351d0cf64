"""Finding one's way in plans: the outline of a side, its ends and length, corners that lie on each other."""

from __future__ import annotations

from math import hypot

from nuthatch.core.model.home import Home
from nuthatch.core.model.plans import Hole, Outline, Side, StoreyPlan
from nuthatch.core.plans.reading_plans import corners_of, points_of

SAME = 1e-3
"""Corners nearer than this lie on each other [m]."""


def owner_of(home: Home, part: str) -> tuple[StoreyPlan, Outline | Hole] | None:
    """The storey, and the outline or hole, a side belongs to."""
    plans = home.shape.plans
    for storey in plans.storeys if plans is not None else ():
        for outline in storey.outlines:
            rings: tuple[Outline | Hole, ...] = (outline, *outline.holes)
            for ring in rings:
                if any(s.id == part for s in ring.sides):
                    return storey, ring
    return None


def ends_of(home: Home, side: str) -> tuple[Side, Side] | None:
    """The corner a side begins at and the one it ends at."""
    found = owner_of(home, side)
    if found is None:
        return None
    sides = found[1].sides
    n = next(i for i, s in enumerate(sides) if s.id == side)
    return sides[n], sides[(n + 1) % len(sides)]


def length_of(home: Home, side: str) -> float | None:
    """Length of a side [m]."""
    ends = ends_of(home, side)
    if ends is None:
        return None
    a, b = points_of(ends) if len(points_of(ends)) == 2 else ((0.0, 0.0), (0.0, 0.0))
    return hypot(b[0] - a[0], b[1] - a[1])


def together(home: Home, side: Side) -> tuple[Side, ...]:
    """The corners of its storey that lie on this one: they move together."""
    found = owner_of(home, side.id)
    if found is None or side.x is None or side.y is None:
        return (side,)
    x, y = side.x.value, side.y.value
    near = [s for s in corners_of(found[0]) if s.id != side.id and s.x and s.y and abs(s.x.value - x) < SAME and abs(s.y.value - y) < SAME]
    return (side, *near)


def side_of_face(home: Home, face: str) -> str:
    """The side of an outline a wall's face belongs to, '' for other faces."""
    plans = home.shape.plans
    sides = (s.id for storey in plans.storeys for s in corners_of(storey)) if plans is not None else ()
    return next((s for s in sides if face == s or face.startswith(f"{s}.")), "")


def on_wall(home: Home, side: str) -> tuple[Side, ...]:
    """The corners of its storey that lie on a wall, its own ends first: they move with it."""
    ends, found = ends_of(home, side), owner_of(home, side)
    if ends is None or found is None or len(points_of(ends)) < 2:
        return ends or ()
    (ax, ay), (bx, by) = points_of(ends)
    long = max(hypot(bx - ax, by - ay), 1e-9)
    lies = []
    for corner in (s for s in corners_of(found[0]) if s.x is not None and s.y is not None and s not in ends):
        (x, y) = points_of((corner,))[0]
        along = ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / long
        off = abs((x - ax) * (by - ay) - (y - ay) * (bx - ax)) / long
        if off < SAME and -SAME < along < long + SAME:
            lies.append(corner)
    return (*ends, *lies)
