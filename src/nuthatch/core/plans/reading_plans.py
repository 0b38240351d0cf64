"""Storey plans as entered, read as plain geometry: levels, outlines, roof parts, ground; and what of them is still missing or wrong."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np
import shapely

from nuthatch.core.model.part import Given
from nuthatch.core.model.plans import InnerWall, Plans, RoofPlan, Side, Spot, StoreyPlan
from nuthatch.core.model.plans import Outline as DrawnOutline
from nuthatch.core.plans.arrangement import GROUND, LOFT, OUTSIDE, Ground, PlanOutline
from nuthatch.core.plans.arrangement import HEATED as HOME
from nuthatch.core.plans.ground import Level, Slope
from nuthatch.core.plans.roofs import Point2, RoofPart, Slopes, buried, roof_below, roof_part

BEYOND = {
    "as drawn": "",
    "outside air": "outside air",
    "ground": "ground",
    "unheated space": "unheated space",
    "neighbour": "neighbour",
    "suspended floor": "ground",
}
TAKEN = (HOME, OUTSIDE, GROUND, LOFT, "neighbour", "unheated space")
"""What no unheated space is called: it would be taken for that."""
INNER_WALL = 0.1
"""Thickness of an inner wall of which nothing is said [m]."""
TOUCHING = 0.01
"""Overlaps smaller than this are none [m²]."""
LOW = 0.01
"""A roof nearer to a level than this lies on it [m]."""


@dataclass(frozen=True)
class PlanFault:
    """What is missing in, or wrong with, the plans: the very part and field, and in words."""

    part: str
    field: str
    says: str
    fatal: bool = False
    missing: bool = True

    @property
    def sentence(self) -> str:
        """As a question is worded."""
        return f"{self.says[0].upper()}{self.says[1:]}" + (" is needed" if self.missing else "")


@dataclass(frozen=True)
class StoreyLevels:
    """One storey with its levels [m]."""

    plan: StoreyPlan
    level: float
    height: float


@dataclass(frozen=True)
class Drawing:
    """The plans read: storeys from below, outlines and roof parts for the solid, the ground, and their faults."""

    floors: tuple[StoreyLevels, ...]
    outlines: tuple[PlanOutline, ...]
    parts: tuple[RoofPart, ...]
    ground: Ground | None
    faults: tuple[PlanFault, ...]

    @property
    def fits(self) -> bool:
        """Whether a solid can be made."""
        return bool(self.outlines) and not any(f.fatal for f in self.faults)


def number(given: Given | None, default: float = 0.0) -> float:
    """The value of an entry, or another where it is empty."""
    return given.value if given is not None else default


def points_of(spots: tuple[Spot, ...]) -> tuple[Point2, ...]:
    """The places of spots that have one."""
    return tuple((s.x.value, s.y.value) for s in spots if s.x is not None and s.y is not None)


def ends(a: Spot, b: Spot) -> tuple[Point2, Point2] | None:
    """Two places; None where one of them is not said."""
    found = points_of((a, b))
    return (found[0], found[1]) if len(found) == 2 else None


def floors_of(plans: Plans) -> tuple[StoreyLevels, ...]:
    """Storeys with their levels: each on the one before, where nothing else is said."""
    found: list[StoreyLevels] = []
    top = 0.0
    for storey in plans.storeys:
        level = storey.level.value if storey.level is not None else top
        height = number(storey.height)
        found.append(StoreyLevels(storey, level, height))
        top = level + height
    return tuple(found)


def space_of(outline: DrawnOutline) -> str:
    """The space an outline is a part of: the heated one, or the unheated one of its name."""
    if outline.kind == "heated":
        return HOME
    name = outline.name.strip() or outline.id
    return f"{name} (unheated)" if name.lower() in TAKEN else name


def rings_of(outline: DrawnOutline) -> tuple[tuple[Side, ...], ...]:
    """The sides of an outline, then those of each of its holes, as entered."""
    return outline.sides, *(h.sides for h in outline.holes)


def corners_of(storey: StoreyPlan) -> tuple[Side, ...]:
    """Every corner of a storey's outlines and their holes."""
    return tuple(s for o in storey.outlines for ring in rings_of(o) for s in ring)


def walked(sides: tuple[Side, ...], hole: bool = False) -> tuple[Side, ...]:
    """Sides in the order the solid walks them, the inside of the home on their left; walked the other way, a side begins at its other
    corner."""
    points = points_of(sides)
    if len(points) < 3 or len(points) < len(sides) or shapely.is_ccw(shapely.LinearRing(points)) != hole:
        return sides
    back = sides[::-1]
    return (*back[1:], back[0])


def numbered(outline: DrawnOutline) -> tuple[Side, ...]:
    """All sides of an outline by the number the solid gives them."""
    return tuple(s for n, ring in enumerate(rings_of(outline)) for s in walked(ring, n > 0))


def walls_of(walls: tuple[InnerWall, ...], known: Mapping[str, float] | None = None) -> tuple[tuple[Point2, Point2, float], ...]:
    """Inner walls that have both ends: (start, end, thickness as said, else of their build-up); known: thickness of build-ups [m]."""
    found = []
    for w in walls:
        if w.x and w.y and w.to_x and w.to_y:
            found.append(
                ((w.x.value, w.y.value), (w.to_x.value, w.to_y.value), number(w.thickness, (known or {}).get(w.buildup) or INNER_WALL))
            )
    return tuple(found)


def read(plans: Plans) -> Drawing:
    """The plans as geometry."""
    floors = floors_of(plans)
    faults = [*_storey_faults(plans, floors)]
    outlines = tuple(_outline(o, f) for f in floors for o in f.plan.outlines if len(points_of(o.sides)) > 2)
    parts, lacking = roofs_over(plans, outlines)
    faults += lacking
    spots = tuple((s.x.value, s.y.value, s.z.value) for s in plans.heights if s.x and s.y and s.z)
    ground: Ground | None = Slope(spots) if spots else Level(plans.ground.value) if plans.ground is not None else None
    drawing = Drawing(floors, outlines, parts, ground, tuple(faults))
    return replace(drawing, faults=(*faults, *_between(drawing), *_cut_by_roofs(plans, drawing)))


def _outline(outline: DrawnOutline, floor: StoreyLevels) -> PlanOutline:
    beyond = tuple((n, BEYOND[s.borders]) for n, s in enumerate(numbered(outline)) if BEYOND[s.borders])
    points, *rings = (_ring(ring, n > 0) for n, ring in enumerate(rings_of(outline)))
    holes = (ring for ring in rings if len(ring) > 2)
    return PlanOutline(
        outline.id,
        space_of(outline),
        points,
        floor.level,
        floor.level + number(outline.height, floor.height),
        outline.reaches == "the roof",
        beyond,
        tuple(holes),
        under=BEYOND[outline.below],
        over=BEYOND[outline.above],
    )


def _ring(sides: tuple[Side, ...], hole: bool) -> tuple[Point2, ...]:
    """The corners of a ring, an outline's counter-clockwise, a hole's clockwise."""
    points = points_of(sides)
    return points if len(points) < 3 or shapely.is_ccw(shapely.LinearRing(points)) != hole else points[::-1]


def _storey_faults(plans: Plans, floors: tuple[StoreyLevels, ...]) -> Iterator[PlanFault]:
    if not any(o.sides for f in floors for o in f.plan.outlines):
        yield PlanFault("plans", "storeys", "the outline of a storey", True)
        return
    if plans.north is None:
        yield PlanFault("plans", "north", "where the top of the sheet looks to", True)
    for floor in floors:
        if floor.height <= 0 and any(o.reaches != "the roof" and o.height is None for o in floor.plan.outlines):
            yield PlanFault(floor.plan.id, "height", f"the height of {floor.plan.name or 'a storey'}", True)
        for o in floor.plan.outlines:
            points = points_of(o.sides)
            lost = next(((s, f) for ring in rings_of(o) for s in ring for f in ("x", "y") if s[f] is None), None)
            if lost is not None:
                yield PlanFault(lost[0].id, lost[1], f"the place of a corner of {o.name or 'an outline'}", True)
            elif len(points) < 3:
                yield PlanFault(o.id, "sides", f"three corners at least of {o.name or 'an outline'}", bool(o.sides))
            elif not shapely.Polygon(points).is_valid:
                yield PlanFault(
                    o.id, "sides", f"an outline that does not cross itself: {o.name or 'an outline'} of {floor.plan.name}", True
                )
            else:
                yield from _hole_faults(o, shapely.Polygon(points))


def _hole_faults(outline: DrawnOutline, around: shapely.Polygon) -> Iterator[PlanFault]:
    """Holes that are none: too few corners, crossing themselves or each other, not inside their outline."""
    before: list[shapely.Polygon] = []
    for hole in outline.holes:
        points = points_of(hole.sides)
        name = hole.name or "a court"
        if len(points) < 3:
            yield PlanFault(hole.id, "sides", f"three corners at least of {name}", True)
            continue
        shape = shapely.Polygon(points)
        if not shape.is_valid:
            yield PlanFault(hole.id, "sides", f"a court that does not cross itself: {name}", True)
        elif not around.contains_properly(shape) or any(shapely.intersects(shape, other) for other in before):
            yield PlanFault(
                hole.id, "sides", f"{name} inside {outline.name or 'its outline'}, clear of its walls and of other courts", True
            )
        before.append(shape)


def roofs_over(plans: Plans, outlines: tuple[PlanOutline, ...]) -> tuple[tuple[RoofPart, ...], list[PlanFault]]:
    """The parts of the roof over outlines, and what they lack."""
    made = [_roof(roof, outlines) for roof in plans.roofs]
    return tuple(r for r in made if isinstance(r, RoofPart)), [r for r in made if isinstance(r, PlanFault)]


def _roof(roof: RoofPlan, outlines: tuple[PlanOutline, ...]) -> RoofPart | PlanFault:
    under = next((o for o in outlines if o.id == roof.over), None)
    points = points_of(roof.corners) or (under.points if under is not None else ())
    if len(points) < 3 or not shapely.Polygon(points).is_valid:
        return PlanFault(roof.id, "over", f"an outline below {roof.name or 'a roof'}", True)
    eaves = number(roof.eaves) if roof.eaves is not None else (under.top if under is not None else None)
    if eaves is None:
        return PlanFault(roof.id, "eaves", f"the level of the eaves of {roof.name or 'a roof'}", True)
    if roof.kind != "flat" and roof.pitch is None:
        return PlanFault(roof.id, "pitch", f"the pitch of {roof.name or 'a roof'}", True)
    ridge = number(roof.ridge) if roof.ridge is not None else longer(points)
    other = roof.other_pitch.value if roof.other_pitch is not None else None
    if roof.kind == "mansard":
        for field, what in (("upper_pitch", "the pitch above the bend"), ("bend", "how far above its eaves the bend lies")):
            if roof[field] is None:
                return PlanFault(roof.id, field, f"{what} of {roof.name or 'a roof'}", True)
        if number(roof.pitch) < 1:
            return PlanFault(roof.id, "pitch", f"a steeper pitch below the bend of {roof.name or 'a roof'}", True)
    ends = roof.end_pitch.value if roof.end_pitch is not None else None
    share, upper, bend = number(roof.hip_share, 0.5), number(roof.upper_pitch), number(roof.bend)
    made = roof_part(roof.id, roof.kind, points, eaves, Slopes(number(roof.pitch), ridge, other, ends, share, upper, bend))
    return replace(made, beyond=BEYOND[roof.borders])


def longer(points: tuple[Point2, ...]) -> float:
    """The direction of the longer side of the smallest rectangle around points, from x [°]."""
    box = shapely.minimum_rotated_rectangle(shapely.MultiPoint(points))
    if box.geom_type != "Polygon":
        return 0.0
    c = np.array(box.exterior.coords)
    a, b = c[1] - c[0], c[2] - c[1]
    way = a if np.hypot(*a) >= np.hypot(*b) - 1e-9 else b
    return float(np.degrees(np.arctan2(way[1], way[0]))) % 180


def _between(drawing: Drawing) -> Iterator[PlanFault]:
    """What does not go together: outlines of a storey over each other, storeys that stand on nothing, spaces that want a roof."""
    shapes = {o.id: o.polygon for o in drawing.outlines}
    if any(not s.is_valid for s in shapes.values()):
        return
    below: list[shapely.Polygon] = []
    for floor in drawing.floors:
        own = [(o, shapes[o.id]) for o in floor.plan.outlines if o.id in shapes]
        for n, (o, shape) in enumerate(own):
            if any(shapely.intersection(shape, other).area > TOUCHING for _, other in own[:n]):
                yield PlanFault(
                    o.id, "sides", f"{o.name or 'An outline'} of {floor.plan.name} lies over another outline of its storey", missing=False
                )
            if below and not any(shapely.intersection(shape, other).area > TOUCHING for other in below):
                beside = any(floor.level < f.level + f.height for f in drawing.floors if f.plan is not floor.plan)
                if not beside:
                    yield PlanFault(
                        floor.plan.id,
                        "outlines",
                        f"{floor.plan.name} stands on nothing: no outline lies below {o.name or 'it'}",
                        missing=False,
                    )
            if o.reaches == "the roof" and not any(
                shapely.intersection(shape, shapely.Polygon(p.outline)).area > TOUCHING for p in drawing.parts
            ):
                yield PlanFault(
                    "plans", "roofs", f"{o.name or 'An outline'} of {floor.plan.name} reaches up to a roof, and there is none", True, False
                )
        below = [s for _, s in own] or below
    yield from _one_in_the_other(drawing, shapes)


def _one_in_the_other(drawing: Drawing, shapes: Mapping[str, shapely.Polygon]) -> Iterator[PlanFault]:
    """Storeys that take up the same place: two that both reach up to the roof, or one that begins below the top of another."""
    rows = [(f, o, next(p for p in drawing.outlines if p.id == o.id)) for f in drawing.floors for o in f.plan.outlines if o.id in shapes]
    for n, (floor, outline, one) in enumerate(rows):
        for f, o, other in rows[n + 1 :]:
            low, high = (one, other) if one.bottom <= other.bottom else (other, one)
            clear = f is floor or not (low.under_roof or low.top > high.bottom + LOW)
            if clear or shapely.intersection(shapes[one.id], shapes[other.id]).area <= TOUCHING:
                continue
            first, second = (outline, o) if low is one else (o, outline)
            below, above = (floor, f) if low is one else (f, floor)
            names = [f"{x.name or 'an outline'} of {s.plan.name or 'a storey'}" for x, s in ((first, below), (second, above))]
            if low.under_roof:
                says = f"{names[0]} reaches up to the roof through {names[1]}: only what lies highest does"
                yield PlanFault(first.id, "reaches", f"{says[0].upper()}{says[1:]}", True, False)
            else:
                says = f"{names[1]} begins below the top of {names[0]}: mend a level or a height"
                yield PlanFault(above.plan.id, "level", f"{says[0].upper()}{says[1:]}", True, False)


def _cut_by_roofs(plans: Plans, drawing: Drawing) -> Iterator[PlanFault]:
    """Roofs that end below the floor of what stands there, or go through a storey that ends at its ceiling above the one they lie over."""
    if not drawing.parts or not all(o.polygon.is_valid for o in drawing.outlines):
        return
    tops = {o.id: o.top for o in drawing.outlines}
    roofs = {r.id: r for r in plans.roofs}
    names = {o.id: f"{o.name or 'an outline'} of {f.plan.name or 'a storey'}" for f in drawing.floors for o in f.plan.outlines}
    for part in drawing.parts:
        roof = roofs[part.id]
        name, lowest = roof.name or "A roof", min(part.at(x, y) for x, y in part.outline)
        if len(drawing.parts) > 1 and buried(part, drawing.parts):
            yield PlanFault(part.id, "eaves", f"{name} lies below the rest of the roof and shows nowhere: raise its eaves", missing=False)
            continue
        for o in drawing.outlines:
            above = tops[roof.over] < o.bottom + LOW if roof.over in tops else lowest < o.bottom - LOW
            if lowest < o.bottom - LOW and roof_below(part, drawing.parts, o.polygon, o.bottom - LOW) > TOUCHING:
                says = f"{name} ends below the floor of {names[o.id]}: raise its eaves, or let it end at the wall"
                yield PlanFault(part.id, "eaves", says, missing=False)
            elif above and not o.under_roof and roof_below(part, drawing.parts, o.polygon, o.top - LOW) > TOUCHING:
                says = f"{name} goes through {names[o.id]}: let it end at the wall, or say that the outline reaches the roof"
                yield PlanFault(part.id, "eaves", says, missing=False)
