"""Edits by what is pointed at in a plan: a window put where a wall is clicked, a distance between two points typed."""

from __future__ import annotations

from collections.abc import Mapping
from math import hypot

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids, typed_value
from nuthatch.core.edits.plan_edits import assumed, drawn, moved, plans_in
from nuthatch.core.model.home import Home, Opening
from nuthatch.core.model.plans import InnerWall, Side, StoreyPlan
from nuthatch.core.plans.plan_parts import SAME, together
from nuthatch.core.plans.polygons import Polygon, flat_outline, plane_axes
from nuthatch.core.plans.reading_plans import corners_of, ends, floors_of, number, rings_of
from nuthatch.core.plans.roofs import Point2

WIDE, HIGH, SILL = 1.2, 1.2, 0.9
"""Size of a window, and its sill above the floor, where nothing is known yet [m] (common practice, no source)."""
REACH = 0.6
"""How far from the outer face of a wall a click still means it [m]."""
STEP = 0.05


def _storey(home: Home, storey: str) -> StoreyPlan:
    found = next((s for s in plans_in(home).storeys if s.id == storey), None)
    if found is None:
        raise ChangeRefused("there is no such storey any more")
    return found


@refusing
def window_at(home: Home, storey: str, at: Point2, outlines: Mapping[str, Polygon]) -> Insert:
    """A window in the wall of a storey a point lies in: as large and of the type of the last one drawn, its middle at the point. outlines:
    the outer outlines of the faces."""
    floor = next(f for f in floors_of(plans_in(home)) if f.plan is _storey(home, storey))
    before = next((o for o in reversed(home.openings) if o.width is not None and o.height is not None), None)
    wide, high = (number(before.width), number(before.height)) if before is not None else (WIDE, HIGH)
    sill = floor.level + (number(before.sill) - _floor_of(home, before) if before is not None and before.sill is not None else SILL)
    best: tuple[float, str, float] = (REACH, "", 0.0)
    for side in corners_of(floor.plan):
        for face in (k for k in outlines if k == side.id or k.startswith(f"{side.id}.")):
            off, along, long = _from_face(outlines[face], at, (sill, sill + high))
            if off < best[0] and -SAME < along < long + SAME:
                best = off, face, min(max(round((along - wide / 2) / STEP) * STEP, 0.0), max(long - wide, 0.0))
    if not best[1]:
        raise ChangeRefused("there is no outer wall here that has room for a window: click into a wall")
    ident = fresh_ids(home, "w", 1)[0]
    kind = before.type if before is not None else next((t.id for t in home.opening_types if t.use == "window"), "")
    size = (before.width, before.height) if before is not None else (assumed(wide), assumed(high))
    light = {f: before[f] for f in ("shade_winter", "shade_summer")} if before is not None else {}
    made = Opening(id=ident, name=f"W{ident.rpartition('-')[2]}", face=best[1], type=kind, width=size[0], height=size[1], count=drawn(1.0),
                   position=drawn(best[2]), sill=drawn(sill) if before is not None else assumed(sill), **light)  # fmt: skip
    return Insert(owner="home", field="openings", value=made)


def _floor_of(home: Home, opening: Opening) -> float:
    """The level of the floor an opening stands above."""
    levels = [f.level for f in floors_of(plans_in(home)) if f.level <= number(opening.sill) + 0.3]
    return max(levels, default=0.0)


def _from_face(polygon: Polygon, at: Point2, between: tuple[float, float]) -> tuple[float, float, float]:
    """(how far a point of the plan lies behind an upright face, how far along it from its left edge, how long it is) [m]; too far for a
    face that does not reach over the levels between which a window would stand."""
    corner, right, up = plane_axes(polygon)
    flat = flat_outline(polygon)
    low, high = min(p[2] for p in polygon), max(p[2] for p in polygon)
    if up[2] < 0.99 or low > between[0] + SAME or high < between[1] - SAME:
        return REACH, 0.0, 0.0
    rest = at[0] - corner[0], at[1] - corner[1]
    off = abs(rest[0] * right[1] - rest[1] * right[0])
    return float(off), float(rest[0] * right[0] + rest[1] * right[1]), max(x for x, _ in flat)


@refusing
def apart(home: Home, storey: str, fixed: Point2, point: Point2, to: Point2) -> Change:
    """What a point of a storey lies on moved so that it comes to another place: the wall through it that runs most across, whole; an inner
    wall whole; a corner where no wall runs across. fixed: where it is measured from."""
    plan = _storey(home, storey)
    way = point[0] - fixed[0], point[1] - fixed[1]
    share = ((to[0] - point[0]) * way[0] + (to[1] - point[1]) * way[1]) / max(way[0] ** 2 + way[1] ** 2, 1e-12)
    by = share * way[0], share * way[1]  # along the line between the two
    if hypot(*by) < 1e-9:
        raise ChangeRefused("the distance is as it was")
    rows = [(ring[n], ring[(n + 1) % len(ring)]) for o in plan.outlines for ring in rings_of(o) for n in range(len(ring))]
    sides = [(_across(a, b, way), a) for a, b in rows if ends(a, b) is not None and _lies_on(point, a, b)]
    best = max(sides, key=lambda s: s[0], default=None)
    if best is not None and best[0] > 0.5:
        return moved(home, best[1].id, by)
    corner = next((s for s in corners_of(plan) if _at(s, point)), None)
    if corner is not None:
        return Batch(label="Corner moved", changes=tuple(c for s in together(home, corner) for c in _by(s, by, ("x", "y"))))
    inner = next((w for w in plan.inner_walls if _on_inner(point, w)), None)
    if inner is None:
        raise ChangeRefused("the second point lies on no wall and no corner: click on what is to move")
    return Batch(label="Inner wall moved", changes=(*_by(inner, by, ("x", "y")), *_by(inner, by, ("to_x", "to_y"))))


def _by(part: Side | InnerWall, by: Point2, names: tuple[str, str]) -> list[Change]:
    made: list[Change] = []
    for name, d in zip(names, by, strict=True):
        old = part[name]
        if old is not None and abs(d) > 1e-9:
            made.append(SetValue(part=part.id, field=name, value=typed_value(old, round(old.value + d, 6))))
    return made


def _at(side: Side, p: Point2) -> bool:
    return hypot(number(side.x) - p[0], number(side.y) - p[1]) < SAME


def _across(a: Side, b: Side, way: Point2) -> float:
    """How square a wall stands to a direction, 0 to 1."""
    found = ends(a, b)
    if found is None:
        return 0.0
    (ax, ay), (bx, by) = found
    size = hypot(bx - ax, by - ay) * hypot(*way)
    return abs((bx - ax) * way[1] - (by - ay) * way[0]) / size if size > 1e-9 else 0.0


def _lies_on(p: Point2, a: Side, b: Side) -> bool:
    found = ends(a, b)
    return found is not None and _near(p, *found)


def _on_inner(p: Point2, wall: InnerWall) -> bool:
    return _near(p, (number(wall.x), number(wall.y)), (number(wall.to_x), number(wall.to_y)), 0.1)


def _near(p: Point2, a: Point2, b: Point2, reach: float = 0.01) -> bool:
    long = hypot(b[0] - a[0], b[1] - a[1])
    if long < 1e-9:
        return False
    t = ((p[0] - a[0]) * (b[0] - a[0]) + (p[1] - a[1]) * (b[1] - a[1])) / long
    off = abs((p[0] - a[0]) * (b[1] - a[1]) - (p[1] - a[1]) * (b[0] - a[0])) / long
    return off < reach and -reach < t < long + reach
