"""Edits of whole storeys and of all plans together as changes: copied up, added, mirrored, turned."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import shapely

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids, moved_value
from nuthatch.core.edits.openings_kept import kept_in_place
from nuthatch.core.edits.plan_edits import assumed, drawn, letters, plans_in
from nuthatch.core.model.home import Home, fresh_id
from nuthatch.core.model.part import Given, replace
from nuthatch.core.model.plans import BackingSheet, GroundSpot, Outline, Plans, Side, StoreyPlan
from nuthatch.core.plans.reading_plans import TOUCHING, corners_of, floors_of, longer, number, points_of
from nuthatch.core.plans.roofs import Point2


def copied_up(home: Home, storey: str) -> Batch:
    """A storey copied on top of itself: what stood on it moves up; roofs over it go along."""
    plans = plans_in(home)
    at = next((n for n, s in enumerate(plans.storeys) if s.id == storey), None)
    if at is None:
        raise ChangeRefused("there is no such storey any more")
    source = plans.storeys[at]
    ident = fresh_id(home, "storey")
    outlines, names = [], {}
    heated = [o for o in source.outlines if o.kind == "heated"] or list(source.outlines)
    for outline, new in zip(heated, fresh_ids(home, "outline", len(heated)), strict=True):
        names[outline.id] = new
        holes = tuple(
            replace(h, id=f"{new}-court-{n}", sides=_renumbered(h.sides, f"{new}-court-{n}")) for n, h in enumerate(outline.holes, 1)
        )
        sides = _renumbered(outline.sides, new)
        outlines.append(replace(outline, id=new, sides=sides, holes=holes, below="as drawn", b_below=None))
    walls = _renamed(home, source.inner_walls, "inner-wall")
    rooms = _renamed(home, source.rooms, "room")
    name = f"Storey {at + 1}"
    new_one = StoreyPlan(
        id=ident,
        name=name,
        height=source.height,
        floor_thickness=source.floor_thickness or assumed(0.3),
        outlines=tuple(outlines),
        inner_walls=walls,
        rooms=rooms,
    )
    changes: list[Change] = [Insert(owner="plans", field="storeys", index=at + 1, value=new_one)]
    changes += [SetValue(part=r.id, field="over", value=names[r.over]) for r in plans.roofs if r.over in names]
    changes += _raised(plans, source, heated)
    for outline in source.outlines:
        if outline.reaches == "the roof" and outline.id in names:
            changes.append(SetValue(part=outline.id, field="reaches", value="its ceiling"))
    return Batch(label=f"{source.name} copied up", changes=tuple(changes))


def _raised(plans: Plans, source: StoreyPlan, copied: Sequence[Outline]) -> list[Change]:
    """Eaves that are typed, of all roofs above the outlines that are copied, as much higher as the storey is high."""
    level = next(f.level for f in floors_of(plans) if f.plan is source)
    rings = {o.id: shapely.Polygon(points_of(o.sides)) for s in plans.storeys for o in s.outlines if len(points_of(o.sides)) > 2}
    below = shapely.union_all([rings[o.id] for o in copied if o.id in rings and rings[o.id].is_valid])
    changes: list[Change] = []
    for roof in (r for r in plans.roofs if r.eaves is not None and r.eaves.value > level):
        points = points_of(roof.corners)
        over = shapely.Polygon(points) if len(points) > 2 else rings.get(roof.over)
        if roof.eaves is not None and over is not None and over.is_valid and shapely.intersection(over, below).area > TOUCHING:
            changes.append(
                SetValue(part=roof.id, field="eaves", value=moved_value(roof.eaves, round(roof.eaves.value + number(source.height), 6)))
            )
    return changes


def _renumbered(sides: Sequence[Side], stem: str) -> tuple[Side, ...]:
    return tuple(replace(s, id=f"{stem}.{letters(n)}") for n, s in enumerate(sides))


def _renamed(home: Home, parts: Sequence[Any], stem: str) -> tuple[Any, ...]:
    return tuple(replace(p, id=i) for p, i in zip(parts, fresh_ids(home, stem, len(parts)), strict=True))


def empty_storey(home: Home) -> Insert:
    """One more storey on top, to be traced."""
    plans = plans_in(home)
    height = plans.storeys[-1].height if plans.storeys else assumed(2.8)
    made = StoreyPlan(id=fresh_id(home, "storey"), name=f"Storey {len(plans.storeys)}", height=height, floor_thickness=assumed(0.3))
    return Insert(owner="plans", field="storeys", value=made)


def cellar(home: Home) -> Insert:
    """A storey below the lowest, to be traced."""
    plans = plans_in(home)
    lowest = min((f.level for f in floors_of(plans)), default=0.0)
    made = StoreyPlan(id=fresh_id(home, "storey"), name="Cellar", level=assumed(lowest - 2.4), height=assumed(2.4))
    return Insert(owner="plans", field="storeys", index=0, value=made)


@refusing
def ground_heights(home: Home) -> Batch:
    """A height of the ground at each corner of what stands lowest, as high as the ground is now: each is set to what it is there."""
    plans = plans_in(home)
    floors = [f for f in floors_of(plans) if any(len(points_of(o.sides)) > 2 for o in f.plan.outlines)]
    if not floors:
        raise ChangeRefused("draw the outline of a storey first: heights of the ground stand at its corners")
    lowest = min(floors, key=lambda f: f.level)
    shapes = [shapely.Polygon(points_of(o.sides)) for o in lowest.plan.outlines if len(points_of(o.sides)) > 2]
    there = {(round(number(s.x), 3), round(number(s.y), 3)) for s in plans.heights}
    corners = [(x, y) for x, y in shapely.union_all(shapes).convex_hull.exterior.coords[:-1] if (round(x, 3), round(y, 3)) not in there]
    if not corners:
        raise ChangeRefused("there is a height at every corner already")
    level = plans.ground.value if plans.ground is not None else lowest.level
    made = [
        Insert(owner="plans", field="heights", value=GroundSpot(id=ident, x=drawn(x), y=drawn(y), z=assumed(level)))
        for (x, y), ident in zip(corners, fresh_ids(home, "ground", len(corners)), strict=True)
    ]
    return Batch(label="Ground: a height at each corner", changes=tuple(made))


# all plans


FOLLOWS = "along the longer side"
"""Where a ridge comes from that nobody typed: it is said only where the longer side alone would turn the roof round."""


def mirrored(home: Home) -> Batch:
    """All plans mirrored left to right about their middle."""
    plans = plans_in(home)
    xs = [number(s.x) for st in plans.storeys for o in st.outlines for s in o.sides if s.x]
    middle = min(xs) + max(xs) if xs else 0.0
    changes = _placed(plans, lambda x, y: (middle - x, y)) + _pipes(home, lambda x, y: (middle - x, y))
    changes += _ridges(plans, lambda x, y: (middle - x, y), lambda angle: -angle)
    for sheet in (s.sheet for s in plans.storeys if s.sheet is not None):
        changes += _sheet(sheet, -number(sheet.turned), not sheet.mirrored)
    return kept_in_place(home, "Plans mirrored", tuple(changes), lambda p: (middle - p[0], p[1], p[2]))


def turned(home: Home) -> Batch:
    """All plans turned a quarter to the left on the sheet; where they look to stays."""
    plans = plans_in(home)
    changes = _placed(plans, lambda x, y: (-y, x)) + _pipes(home, lambda x, y: (-y, x))
    changes += _ridges(plans, lambda x, y: (-y, x), lambda angle: angle + 90)
    for sheet in (s.sheet for s in plans.storeys if s.sheet is not None):
        changes += _sheet(sheet, number(sheet.turned) + 90, sheet.mirrored)
    if plans.north is not None:
        changes.append(SetValue(part="plans", field="north", value=moved_value(plans.north, (plans.north.value + 90) % 360)))
    return kept_in_place(home, "Plans turned", tuple(changes), lambda p: (-p[1], p[0], p[2]))


def _ridges(plans: Plans, where: Callable[[float, float], Point2], angle: Callable[[float], float]) -> list[Change]:
    """Every ridge in its new direction; one that nobody typed is said only where the longer side alone would not give it."""
    outlines = {o.id: points_of(o.sides) for s in plans.storeys for o in s.outlines}
    changes: list[Change] = []
    for roof in plans.roofs:
        points = points_of(roof.corners) or outlines.get(roof.over, ())
        if roof.kind == "flat" or (roof.ridge is None and len(points) < 3):
            continue
        free = roof.ridge is None or roof.ridge.source == FOLLOWS
        before = longer(points) if roof.ridge is None else roof.ridge.value
        after = round(angle(before) % 360, 6) % 360
        either = 180 if roof.kind != "mono" and roof.other_pitch is None else 360
        off = (after - longer(tuple(where(x, y) for x, y in points))) % either if len(points) > 2 else 1.0
        if free and min(off, either - off) < 1e-6:
            if roof.ridge is not None:
                changes.append(SetValue(part=roof.id, field="ridge", value=None))
        else:
            value = moved_value(roof.ridge, after) if roof.ridge is not None else Given(value=after, source=FOLLOWS)
            changes.append(SetValue(part=roof.id, field="ridge", value=value))
    return changes


def _sheet(sheet: BackingSheet, turned: float, mirrored: bool) -> list[Change]:
    """A backing sheet turned about its own corner, or seen from behind."""
    angle = round(turned % 360, 6) % 360
    value = None if not angle else drawn(angle)
    return [SetValue(part=sheet.id, field="turned", value=value), SetValue(part=sheet.id, field="mirrored", value=mirrored)]


def _pipes(home: Home, where: Callable[[float, float], Point2]) -> list[Change]:
    """The corners of pipes drawn on the plans, elsewhere."""
    changes: list[Change] = []
    for corner in (c for r in home.water.runs for c in r.corners):
        if corner.x is not None and corner.y is not None:
            for field, value in zip(("x", "y"), where(corner.x.value, corner.y.value), strict=True):
                changes.append(SetValue(part=corner.id, field=field, value=moved_value(corner[field], round(value, 6))))
    return changes


def _placed(plans: Plans, where: Callable[[float, float], Point2]) -> list[Change]:
    """Every point of the plans somewhere else."""
    changes: list[Change] = []

    def put(part: Any, x: str, y: str) -> None:
        old = part[x], part[y]
        if old[0] is not None and old[1] is not None:
            for name, was, now in zip((x, y), old, where(old[0].value, old[1].value), strict=True):
                changes.append(SetValue(part=part.id, field=name, value=moved_value(was, round(now, 9))))

    for storey in plans.storeys:
        for part in (*corners_of(storey), *storey.inner_walls, *storey.rooms):
            put(part, "x", "y")
        for wall in storey.inner_walls:
            put(wall, "to_x", "to_y")
    sheets = (s.sheet for s in plans.storeys if s.sheet is not None)
    for spot in (*(s for r in plans.roofs for s in r.corners), *plans.heights, *sheets):
        put(spot, "x", "y")
    return changes
