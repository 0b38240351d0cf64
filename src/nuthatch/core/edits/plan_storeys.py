"""Edits of whole storeys and of all plans together as changes: copied up, added, mirrored, turned."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue
from nuthatch.core.edits.desk import fresh_ids, typed_value
from nuthatch.core.edits.plan_edits import assumed, letters, plans_in
from nuthatch.core.model.home import Home, fresh_id
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import Plans, Side, StoreyPlan
from nuthatch.core.plans.plan_parts import length_of, side_of_face
from nuthatch.core.plans.reading_plans import corners_of, floors_of, number
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.solid.opening_places import GAP


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
    for outline in source.outlines:
        if outline.reaches == "the roof" and outline.id in names:
            changes.append(SetValue(part=outline.id, field="reaches", value="its ceiling"))
    return Batch(label=f"{source.name} copied up", changes=tuple(changes))


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


# all plans


def mirrored(home: Home) -> Batch:
    """All plans mirrored left to right about their middle."""
    plans = plans_in(home)
    xs = [number(s.x) for st in plans.storeys for o in st.outlines for s in o.sides if s.x]
    middle = min(xs) + max(xs) if xs else 0.0
    changes = _placed(plans, lambda x, y: (middle - x, y))
    for roof in plans.roofs:
        if roof.ridge is not None:
            turned = (360 - roof.ridge.value) % 360 if roof.kind != "mono" else (360 - roof.ridge.value + 180) % 360
            changes.append(SetValue(part=roof.id, field="ridge", value=typed_value(roof.ridge, turned)))
    return Batch(label="Plans mirrored", changes=(*changes, *_openings_mirrored(home)))


def _openings_mirrored(home: Home) -> list[Change]:
    """Openings stay where they were in their mirrored walls: as far from the right as they were from the left."""
    changes: list[Change] = []
    for o in home.openings:
        long = length_of(home, side_of_face(home, o.face))
        if long is not None and o.position is not None and o.width is not None:
            number_of = max(round(number(o.count, 1.0)), 1)
            between = number(o.apart, GAP)
            wide = number_of * (o.width.value + between) - between
            changes.append(
                SetValue(part=o.id, field="position", value=typed_value(o.position, round(max(long - o.position.value - wide, 0), 6)))
            )
    return changes


def turned(home: Home) -> Batch:
    """All plans turned a quarter to the left on the sheet; where they look to stays."""
    plans = plans_in(home)
    changes = _placed(plans, lambda x, y: (-y, x))
    for roof in plans.roofs:
        if roof.ridge is not None:
            changes.append(SetValue(part=roof.id, field="ridge", value=typed_value(roof.ridge, (roof.ridge.value + 90) % 360)))
    if plans.north is not None:
        changes.append(SetValue(part="plans", field="north", value=typed_value(plans.north, (plans.north.value + 90) % 360)))
    return Batch(label="Plans turned", changes=tuple(changes))


def _placed(plans: Plans, where: Callable[[float, float], Point2]) -> list[Change]:
    """Every point of the plans somewhere else."""
    changes: list[Change] = []

    def put(part: Any, x: str, y: str) -> None:
        old = part[x], part[y]
        if old[0] is not None and old[1] is not None:
            for name, was, now in zip((x, y), old, where(old[0].value, old[1].value), strict=True):
                changes.append(SetValue(part=part.id, field=name, value=typed_value(was, round(now, 6))))

    for storey in plans.storeys:
        for part in (*corners_of(storey), *storey.inner_walls, *storey.rooms):
            put(part, "x", "y")
        for wall in storey.inner_walls:
            put(wall, "to_x", "to_y")
    for spot in (*(s for r in plans.roofs for s in r.corners), *plans.heights):
        put(spot, "x", "y")
    return changes
