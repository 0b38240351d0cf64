"""Edits of storey plans as changes: outlines traced, corners and walls moved, storeys copied up, rooms divided, plans turned and mirrored."""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot

import shapely

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, Remove, SetValue, refusing
from nuthatch.core.edits.desk import typed_value
from nuthatch.core.edits.form_to_plans import moved_to, plans_of
from nuthatch.core.edits.openings_kept import kept_in_place
from nuthatch.core.model.home import Home, find, fresh_id, walk_parts
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.model.plans import Hole, InnerWall, Outline, Plans, Room, Side, StoreyPlan
from nuthatch.core.plans.plan_parts import ends_of, length_of, on_wall, owner_of, together
from nuthatch.core.plans.reading_plans import points_of
from nuthatch.core.plans.roofs import Point2

PRACTICE = "common practice"
INNER_WALL = 0.1


def drawn(value: float) -> Given:
    """A number that was drawn."""
    return Given(value=round(value, 6), basis=Basis.DECLARED, source="drawn")


def assumed(value: float) -> Given:
    """A number of common practice."""
    return Given(value=value, source=PRACTICE)


def plans_in(home: Home) -> Plans:
    """The storey plans of a home. Raises ChangeRefused where there are none."""
    plans = home.shape.plans
    if plans is None:
        raise ChangeRefused("there are no storey plans yet")
    return plans


def letters(n: int) -> str:
    """a, b, … z, aa, ab, …"""
    return (letters(n // 26 - 1) if n >= 26 else "") + "abcdefghijklmnopqrstuvwxyz"[n % 26]


def sides_of(stem: str, points: Sequence[Point2]) -> tuple[Side, ...]:
    """Corners walked with the inside on their left, their ids lettered."""
    if not shapely.is_ccw(shapely.LinearRing(points)):
        points = list(reversed(points))
    return tuple(Side(id=f"{stem}.{letters(n)}", x=drawn(x), y=drawn(y)) for n, (x, y) in enumerate(points))


# to begin with


def first_plans(home: Home) -> Plans:
    """Plans to begin with: one storey without an outline, the rest assumed and marked so."""
    ground = StoreyPlan(id=fresh_id(home, "storey"), name="Ground floor", level=assumed(0.0), height=assumed(2.8))
    kept = home.shape.form
    names = {
        "wall_buildup": "wall_buildup",
        "party_buildup": "party_buildup",
        "roof_buildup": "top_buildup",
        "ground_buildup": "base_buildup",
    }
    said = {field: kept[of] for field, of in names.items()} if kept is not None else {}
    return Plans(north=assumed(0.0), partition_share=assumed(0.06), ground=None, loft_air=assumed(3.0), storeys=(ground,), **said)


def as_plans(home: Home) -> Batch:
    """The quick form, as far as it goes, as plans that can be edited on; openings stay in their walls."""
    form = home.shape.form
    try:
        taken = {p.id for p in walk_parts(home)}
        plans = plans_of(form, taken) if form is not None else first_plans(home)
    except ValueError:
        plans = first_plans(home)
        form = None
    changes: list[Change] = [SetValue(part="shape", field="form", value=None), SetValue(part="shape", field="plans", value=plans)]
    if form is not None:
        changes += [
            SetValue(part=o.id, field="face", value=moved_to(form, plans, o)) for o in home.openings if moved_to(form, plans, o) != o.face
        ]
    return Batch(label="Shape: quick form → storey plans" if form is not None else "Shape: storey plans begun", changes=tuple(changes))


# outlines


@refusing
def traced(home: Home, storey: str, points: Sequence[Point2], kind: str = "heated", name: str = "") -> Insert:
    """A new outline of a storey. Raises ChangeRefused where it crosses itself or is too small."""
    shape = shapely.Polygon(points) if len(points) > 2 else None
    if shape is None or not shape.is_valid or shape.area < 0.01:
        raise ChangeRefused("an outline needs at least three corners and must not cross itself")
    ident = fresh_id(home, "outline")
    air = assumed(1.0) if kind != "heated" else None
    called = name or ("House" if kind == "heated" else "Unheated space")
    made = Outline(id=ident, name=called, kind=kind, air_change=air, sides=sides_of(ident, points))  # type: ignore[arg-type]
    return Insert(owner=storey, field="outlines", value=made)


@refusing
def holed(home: Home, storey: str, points: Sequence[Point2], name: str = "") -> Insert:
    """A court cut out of the outline it lies in. Raises ChangeRefused where it does not lie inside one."""
    shape = shapely.Polygon(points) if len(points) > 2 else None
    if shape is None or not shape.is_valid or shape.area < 0.01:
        raise ChangeRefused("a court needs at least three corners and must not cross itself")
    outlines = next((s.outlines for s in plans_in(home).storeys if s.id == storey), ())
    around = next((o for o in outlines if len(o.sides) > 2 and shapely.Polygon(points_of(o.sides)).contains_properly(shape)), None)
    if around is None:
        raise ChangeRefused("a court lies inside an outline, clear of its walls")
    if any(shapely.Polygon(points_of(h.sides)).intersects(shape) for h in around.holes if len(points_of(h.sides)) > 2):
        raise ChangeRefused("a court is clear of the others")
    ident = fresh_id(home, "court")
    return Insert(owner=around.id, field="holes", value=Hole(id=ident, name=name or "Court", sides=sides_of(ident, points)))


def _shifted(home: Home, corners: Sequence[Side], by: Point2) -> list[Change]:
    changes: list[Change] = []
    for corner in dict.fromkeys(c for side in corners for c in together(home, side)):
        for name, d in (("x", by[0]), ("y", by[1])):
            old = corner[name]
            if old is not None and abs(d) > 1e-9:
                changes.append(SetValue(part=corner.id, field=name, value=typed_value(old, round(old.value + d, 6))))
    return changes


@refusing
def with_length(home: Home, side: str, length: float) -> Batch | None:
    """A side made so long [m]: the wall at its end moves along, and stays parallel."""
    ends, found = ends_of(home, side), owner_of(home, side)
    now = length_of(home, side)
    if ends is None or found is None or not now:
        return None
    if length <= 0:
        raise ChangeRefused("a wall is longer than nothing")
    (ax, ay), (bx, by) = points_of(ends)
    share = (length - now) / now
    move = (bx - ax) * share, (by - ay) * share
    sides = found[1].sides
    moved = on_wall(home, ends[1].id) if len(sides) > 3 else (ends[1],)
    return Batch(label=f"Wall: length {now:.2f} → {length:.2f} m", changes=tuple(_shifted(home, moved, move)))


def moved(home: Home, side: str, by: Point2) -> Batch:
    """A whole wall moved [m]."""
    return Batch(label="Wall moved", changes=tuple(_shifted(home, on_wall(home, side), by)))


@refusing
def split(home: Home, side: str, share: float = 0.5) -> Batch:
    """A corner put into a side; both parts border on what the whole did, and openings stay where they stand."""
    ends, found = ends_of(home, side), owner_of(home, side)
    if ends is None or found is None:
        raise ChangeRefused("there is no such wall any more")
    (ax, ay), (bx, by) = points_of(ends)
    outline = found[1]
    used = {s.id for s in outline.sides}
    ident = next(i for n in range(10_000) if (i := f"{outline.id}.{letters(n)}") not in used and find(home, i) is None)
    new = replace(ends[0], id=ident, x=drawn(ax + share * (bx - ax)), y=drawn(ay + share * (by - ay)))
    parted = Insert(owner=outline.id, field="sides", index=[s.id for s in outline.sides].index(side) + 1, value=new)
    return kept_in_place(home, "Corner put into a wall", (parted,))


@refusing
def without_corner(home: Home, side: str) -> Batch:
    """A corner taken out of its outline; openings stay where they stand, or go with the wall that is left and are asked about there."""
    found = owner_of(home, side)
    if found is None:
        raise ChangeRefused("there is no such corner any more")
    if len(found[1].sides) < 4:
        what, whole = ("an outline", "the outline") if isinstance(found[1], Outline) else ("a court", "the court")
        raise ChangeRefused(f"{what} keeps at least three corners; remove {whole} instead")
    return kept_in_place(home, "Corner taken out", (Remove(part=side),))


# rooms


@refusing
def inner_wall(home: Home, storey: str, a: Point2, b: Point2) -> Insert:
    """A wall between two points of a storey."""
    if hypot(b[0] - a[0], b[1] - a[1]) < 0.05:
        raise ChangeRefused("an inner wall is longer than that")
    made = InnerWall(
        id=fresh_id(home, "inner-wall"), x=drawn(a[0]), y=drawn(a[1]), to_x=drawn(b[0]), to_y=drawn(b[1]), thickness=assumed(INNER_WALL)
    )
    return Insert(owner=storey, field="inner_walls", value=made)


def named_room(home: Home, storey: str, at: Point2, name: str = "") -> Insert:
    """A name for the room a point lies in."""
    ident = fresh_id(home, "room")
    made = Room(id=ident, name=name or f"Room {ident.rpartition('-')[2]}", x=drawn(at[0]), y=drawn(at[1]))
    return Insert(owner=storey, field="rooms", value=made)
