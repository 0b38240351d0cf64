"""Edits of the roof as changes: roofs over outlines, parts drawn in plan; and drawn parts that follow the walls they hang on."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from math import atan2, cos, degrees, hypot, radians, sin

import shapely

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, apply, refusing
from nuthatch.core.changes.words import describe
from nuthatch.core.edits.desk import moved_value
from nuthatch.core.edits.plan_edits import assumed, drawn, letters, plans_in
from nuthatch.core.model.home import Home, fresh_id
from nuthatch.core.model.plans import Outline, Plans, RoofPlan, Spot
from nuthatch.core.plans.arrangement import roof_at
from nuthatch.core.plans.plan_parts import SAME
from nuthatch.core.plans.reading_plans import points_of, read, rings_of
from nuthatch.core.plans.roofs import Point2

Line = tuple[Point2, Point2]
CHEEK = 1.2
"""How high the eaves of a dormer stand above the roof at its front where nothing is said [m] (common practice, no source)."""
SET_BACK = 3.0
"""A part that lies on no wall hangs on the nearest one it looks to, not farther away than this [m]."""
SQUARE = 1e-3
"""Sine of the angle below which two lines run alike."""


def roof_over(home: Home, storey: str, outline: str = "") -> Insert:
    """A gable roof over an outline of a storey, the first heated one where none is said."""
    plans = plans_in(home)
    source = next((s for s in plans.storeys if s.id == storey), None)
    outlines = source.outlines if source is not None else ()
    over = outline or next((o.id for o in outlines if o.kind == "heated"), outlines[0].id if outlines else "")
    ident = fresh_id(home, "roof")
    made = RoofPlan(id=ident, name=f"Roof {ident.rpartition('-')[2]}", over=over, pitch=assumed(35.0))
    return Insert(owner="plans", field="roofs", value=made)


@refusing
def roof_part(home: Home, storey: str, a: Point2, b: Point2, top: float | None) -> Insert:
    """A part of the roof over the rectangle between two opposite corners, its eaves at the top of its storey [m]."""
    (x0, x1), (y0, y1) = sorted((a[0], b[0])), sorted((a[1], b[1]))
    if x1 - x0 < 0.1 or y1 - y0 < 0.1:
        raise ChangeRefused("a part of the roof is larger than that")
    return _part(home, storey, ((x0, y0), (x1, y0), (x1, y1), (x0, y1)), top, None)


@refusing
def roof_front(home: Home, storey: str, points: tuple[Point2, Point2, Point2], top: float | None) -> Insert:
    """A part of the roof at any angle: the two ends of its front and a point as far behind it as the part is deep; its ridge runs back
    from the front."""
    corners = squared(points)
    (ax, ay), (bx, by), (cx, cy), _ = corners
    if hypot(bx - ax, by - ay) < 0.1 or hypot(cx - bx, cy - by) < 0.1:
        raise ChangeRefused("a part of the roof is larger than that")
    return _part(home, storey, corners, top, round(degrees(atan2(cy - by, cx - bx)) % 180, 6) % 180)


def squared(points: tuple[Point2, Point2, Point2]) -> tuple[Point2, Point2, Point2, Point2]:
    """The rectangle on a front that reaches as far as a third point, walked with its inside on the left."""
    a, b, p = points
    long = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
    left = -(b[1] - a[1]) / long, (b[0] - a[0]) / long
    deep = (p[0] - b[0]) * left[0] + (p[1] - b[1]) * left[1]
    if deep < 0:
        a, b = b, a
    c, d = ((q[0] + deep * left[0], q[1] + deep * left[1]) for q in (b, a))
    return a, b, c, d


def _part(home: Home, storey: str, corners: tuple[Point2, ...], top: float | None, ridge: float | None) -> Insert:
    under = _below(plans_in(home), storey, corners)
    ident = fresh_id(home, "roof")
    eaves = drawn(top) if top is not None and under is None else None
    over = _roof_over(plans_in(home), corners)
    walls = dict(_walls(plans_in(home)))
    free = not any(_on(edge, walls) for edge in zip(corners, corners[1:] + corners[:1], strict=True))
    if free and over is not None and top is not None and over > top + CHEEK / 2:
        eaves = assumed(round(over + CHEEK, 2))  # at the eaves of its storey it would lie inside the roof that is there
    made = RoofPlan(
        id=ident,
        name=f"Roof {ident.rpartition('-')[2]}",
        over=under.id if under is not None else "",
        pitch=assumed(35.0),
        ridge=drawn(ridge) if ridge is not None else None,
        eaves=eaves,
        corners=tuple(Spot(id=f"{ident}.{letters(n)}", x=drawn(x), y=drawn(y)) for n, (x, y) in enumerate(corners)),
    )
    return Insert(owner="plans", field="roofs", value=made)


def _roof_over(plans: Plans, corners: tuple[Point2, ...]) -> float | None:
    """The level of the roof that is there already, over the middle of a part's front; None where there is none [m]."""
    (ax, ay), (bx, by) = corners[:2]
    x, y = (ax + bx) / 2, (ay + by) / 2
    parts = (p for p in read(plans).parts if shapely.Polygon(p.outline).intersects(shapely.Point(x, y)))
    plane, _ = roof_at(parts, x, y)
    return plane.at(x, y) if plane is not None else None


def _below(plans: Plans, storey: str, corners: tuple[Point2, ...]) -> Outline | None:
    """The outline of a storey that most of a part lies over."""
    shape = shapely.Polygon(corners)
    found = [
        (shapely.intersection(shape, ring).area, o)
        for s in plans.storeys
        for o in s.outlines
        if s.id == storey and len(points_of(o.sides)) > 2 and (ring := shapely.Polygon(points_of(o.sides))).is_valid
    ]
    area, outline = max(found, key=lambda f: f[0], default=(0.0, None))
    return outline if area > SAME else None


# parts follow walls


def followed(home: Home, change: Change) -> Change:
    """The change, and with walls it moves the drawn parts of the roof that hang on them.

    Each edge of a part that lies on a wall goes where the wall goes. A part that hangs on one wall only, or lies behind the wall it looks
    to, keeps its size and moves as a whole.
    """
    plans = home.shape.plans
    parts = change.changes if isinstance(change, Batch) else (change,)
    moves = any(isinstance(c, SetValue) and c.field in ("x", "y") for c in parts)
    if plans is None or not moves or not any(r.corners for r in plans.roofs):
        return change
    try:
        after = apply(change, home).shape.plans
    except ChangeRefused:
        return change  # why is said where it is applied
    more = tuple(_follow(plans, after)) if after is not None else ()
    return Batch(label=describe(change, home), changes=(*parts, *more)) if more else change


def _follow(before: Plans, after: Plans) -> Iterator[Change]:
    """What drawn parts of the roof do as walls go from where they were to where they are."""
    now = {r.id: r for r in after.roofs}
    there = dict(_walls(after))
    for roof in before.roofs:
        points = points_of(roof.corners)
        kept = roof.id in now and now[roof.id].corners == roof.corners
        if len(points) < 3 or len(points) < len(roof.corners) or not kept:
            continue
        walls = {k: line for k, line in _walls_below(before, roof, points).items() if k in there}
        moved = _placed(points, walls, there)
        if moved is None:
            continue
        corners, turn = moved
        for spot, (x, y) in zip(roof.corners, corners, strict=True):
            for field, old, value in (("x", spot.x, x), ("y", spot.y, y)):
                if old is not None and abs(old.value - value) > 1e-6:
                    yield SetValue(part=spot.id, field=field, value=moved_value(old, round(value, 6)))
        if roof.ridge is not None and abs(turn) > 1e-6 and now[roof.id].ridge == roof.ridge:
            yield SetValue(part=roof.id, field="ridge", value=moved_value(roof.ridge, round((roof.ridge.value + turn) % 360, 6) % 360))


def _walls(plans: Plans) -> Iterator[tuple[str, Line]]:
    """Every wall with its ends, the inside of the home on their left."""
    for outline in (o for s in plans.storeys for o in s.outlines):
        for n, ring in enumerate(rings_of(outline)):
            points = points_of(ring)
            if len(points) < 3 or len(points) < len(ring):
                continue
            inside_left = shapely.is_ccw(shapely.LinearRing(points)) != (n > 0)
            for k, side in enumerate(ring):
                a, b = points[k], points[(k + 1) % len(points)]
                yield side.id, ((a, b) if inside_left else (b, a))


def _walls_below(plans: Plans, roof: RoofPlan, points: tuple[Point2, ...]) -> dict[str, Line]:
    """The walls of the outline a part lies over: the one it names, else those of the highest storey it covers."""
    outlines = {o.id: o for s in plans.storeys for o in s.outlines}
    if roof.over in outlines:
        ids = {roof.over}
    else:
        shape = shapely.Polygon(points)
        over = [
            {o.id for o in s.outlines if len(points_of(o.sides)) > 2 and shape.intersects(shapely.Polygon(points_of(o.sides)))}
            for s in plans.storeys
        ]
        ids = next((found for found in reversed(over) if found), set())
    own = {s.id for o in ids for ring in rings_of(outlines[o]) for s in ring}
    return {k: line for k, line in _walls(plans) if k in own}


def _placed(points: tuple[Point2, ...], walls: Mapping[str, Line], there: Mapping[str, Line]) -> tuple[list[Point2], float] | None:
    """Where the corners of a part come to lie and how far it turns [°]; None where it stays."""
    count = len(points)
    edges = [(points[n], points[(n + 1) % count]) for n in range(count)]
    held = [_on(edge, walls) for edge in edges]
    hung = [n for n, wall in enumerate(held) if wall]
    if len(hung) < 2:
        wall = held[hung[0]] if hung else _looked_to(edges, walls)
        if not wall or _alike(walls[wall], there[wall]):
            return None
        return _whole(points, walls[wall], there[wall])
    if all(_alike(walls[held[n]], there[held[n]]) for n in hung):
        return None
    lines = [_carried(edge, walls[wall], there[wall]) if wall else edge for edge, wall in zip(edges, held, strict=True)]
    made = [_crossing(lines[n - 1], lines[n]) for n in range(count)]
    corners = [p for p in made if p is not None]
    fits = len(corners) == count and shapely.Polygon(corners).is_valid and shapely.Polygon(corners).area > SAME
    return (corners, 0.0) if fits else None


def _on(edge: Line, walls: Mapping[str, Line]) -> str:
    """The wall an edge lies on, the longest where it lies on several; '' for none."""
    best, name = SAME, ""
    for wall, line in walls.items():
        long, share = _beside(edge, line)
        if share is not None and max(abs(d) for d in share) < SAME and long > best:
            best, name = long, wall
    return name


def _beside(edge: Line, line: Line) -> tuple[float, tuple[float, float] | None]:
    """How long an edge runs beside a wall [m], and how far its ends lie inward of the wall's line; None where it does not run alike."""
    (ax, ay), (bx, by) = line
    long = hypot(bx - ax, by - ay)
    if long < SAME:
        return 0.0, None
    ux, uy = (bx - ax) / long, (by - ay) / long
    along = sorted((p[0] - ax) * ux + (p[1] - ay) * uy for p in edge)
    inward = tuple((p[1] - ay) * ux - (p[0] - ax) * uy for p in edge)
    if abs(inward[0] - inward[1]) > SQUARE * max(along[1] - along[0], SAME):
        return 0.0, None
    return min(along[1], long) - max(along[0], 0.0), (inward[0], inward[1])


def _looked_to(edges: list[Line], walls: Mapping[str, Line]) -> str:
    """The wall nearest in front of an edge that looks out to it."""
    best, name = SET_BACK, ""
    ccw = sum(a[0] * b[1] - b[0] * a[1] for a, b in edges) > 0
    for a, b in edges:
        way = (b[0] - a[0], b[1] - a[1]) if ccw else (a[0] - b[0], a[1] - b[1])
        for wall, line in walls.items():
            long, inward = _beside((a, b), line)
            same = way[0] * (line[1][0] - line[0][0]) + way[1] * (line[1][1] - line[0][1]) > 0
            if inward is not None and same and long > SAME and 0 <= inward[0] < best:
                best, name = inward[0], wall
    return name


def _alike(before: Line, after: Line) -> bool:
    """Whether a wall still lies in the same line."""
    return all(abs(_off(p, after)) < 1e-6 for p in before)


def _off(p: Point2, line: Line) -> float:
    """How far a point lies to the left of a line [m]."""
    (ax, ay), (bx, by) = line
    long = max(hypot(bx - ax, by - ay), 1e-9)
    return ((p[1] - ay) * (bx - ax) - (p[0] - ax) * (by - ay)) / long


def _carried(edge: Line, before: Line, after: Line) -> Line:
    """An edge on a wall, on the wall where it is now."""
    corners, _ = _whole(edge, before, after)
    return corners[0], corners[1]


def _whole(points: tuple[Point2, ...], before: Line, after: Line) -> tuple[list[Point2], float]:
    """Points as rigidly tied to a wall's line, the middle of them square across from where it was; and the turn [°]."""
    middle = sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points)
    feet = [_foot(middle, before), _foot(_foot(middle, before), after)]
    turn = _way(after) - _way(before)
    c, s = cos(radians(turn)), sin(radians(turn))
    made = []
    for x, y in points:
        dx, dy = x - feet[0][0], y - feet[0][1]
        made.append((feet[1][0] + c * dx - s * dy, feet[1][1] + s * dx + c * dy))
    return made, (turn + 180) % 360 - 180


def _way(line: Line) -> float:
    return degrees(atan2(line[1][1] - line[0][1], line[1][0] - line[0][0]))


def _foot(p: Point2, line: Line) -> Point2:
    (ax, ay), (bx, by) = line
    size = max((bx - ax) ** 2 + (by - ay) ** 2, 1e-12)
    t = ((p[0] - ax) * (bx - ax) + (p[1] - ay) * (by - ay)) / size
    return ax + t * (bx - ax), ay + t * (by - ay)


def _crossing(first: Line, second: Line) -> Point2 | None:
    """Where two lines cross; None where they run alike."""
    (ax, ay), (bx, by) = first
    (cx, cy), (dx, dy) = second
    r, s = (bx - ax, by - ay), (dx - cx, dy - cy)
    turn = r[0] * s[1] - r[1] * s[0]
    if abs(turn) < SQUARE * hypot(*r) * hypot(*s):
        return None
    t = ((cx - ax) * s[1] - (cy - ay) * s[0]) / turn
    return ax + t * r[0], ay + t * r[1]
