"""What openings win and lose in the months with heating, row by row; glazing to floor area by room and by direction."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

import shapely

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric import openings as calc
from nuthatch.core.fabric.elements import Element
from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.plans.plan_parts import side_of_face
from nuthatch.core.plans.polygons import plane_axes
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.opening_places import stands
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY, SOLID
from nuthatch.core.views.openings.season import heating_season
from nuthatch.core.views.shape.tinting import direction
from nuthatch.core.views.sheets.sheet import Cell, Column, Sheet, sheet

INSIDE = 0.6
"""How far inside of its wall the room of an opening is looked for [m]."""


@dataclass(frozen=True)
class Gain:
    """A row of openings: U with its installation [W/(m²·K)], glass area × g over its area, loss and sun in the months with heating
    [kWh/a]; None where that is not known."""

    id: str
    name: str
    looks: str
    room: str
    area: float | None
    installed: float | None
    effective_g: float | None
    loss: float | None
    sun: float | None

    @property
    def net(self) -> float | None:
        """Sun less loss [kWh/a]."""
        return self.sun - self.loss if self.sun is not None and self.loss is not None else None

    @property
    def net_per_area(self) -> float | None:
        """[kWh/(m²·a)]."""
        return self.net / self.area if self.net is not None and self.area else None


def gains(a: Assessment) -> tuple[Gain, ...]:
    """All rows of openings, the best first; those that are not known last."""
    faces, elements = a.all_of(BOUNDARY), {e.id: e for e in a[ELEMENTS]}
    types = {t.id: t for t in a.home.opening_types}
    found = [_gain(a, o, types.get(o.type), faces.get(o.face), elements) for o in a.home.openings]
    return tuple(sorted(found, key=lambda g: -(g.net if g.net is not None else float("-inf"))))


def _gain(a: Assessment, o: Opening, kind: OpeningType | None, face: Boundary | None, elements: dict[str, Element]) -> Gain:
    e = elements[o.id]
    area = float(e.area.value) if e.area is not None and e.area.value is not None else None
    season = heating_season(a, o.id)
    installed = g = None
    if kind is not None and face is not None and area:
        whole = calc.loss(o, kind, calc.transmittance(o, kind, face.tilt), calc.UNREDUCED)
        installed = float(whole.value) / area if whole.value is not None else None
        glass, solar = calc.glass(o, kind)
        number = o.count.value if o.count is not None else 1.0
        opaque = calc.opaque(kind).value
        if glass.value is not None and solar.value is not None and opaque is not None:
            g = float(glass.value) * number / area * float(solar.value) * (1 - float(opaque))
    looks = direction(face) if face is not None else ""
    loss, sun = season if season is not None else (None, None)
    return Gain(o.id, o.name, looks, room_of(a, o) or "", area, installed, g, loss, sun)


def room_of(a: Assessment, opening: Opening) -> str | None:
    """The name of the room an opening of drawn plans belongs to; None where there are no rooms."""
    room = _room(a, opening)
    return f"{room.name}, {room.storey_name}" if room is not None else None


def _room(a: Assessment, opening: Opening) -> PlanRoom | None:
    built, polygon = a[BUILT], a[SOLID].outer.get(opening.face)
    if built is None or polygon is None or built.drawing is None:
        return None
    stand = next((s for s in stands(a.home.openings, opening.face, polygon) if s.opening.id == opening.id), None)
    if stand is None:
        return None
    corner, right, up = plane_axes(polygon)
    middle = corner + right * (stand.left + stand.width / 2) + up * (stand.up + stand.height / 2)
    inward = (float(right[1]) * -1.0, float(right[0]))  # square to the wall, toward the inside
    level = float(middle[2])
    floor = next((f for f in reversed(built.drawing.floors) if f.level <= level + 1e-6), None)
    if floor is None:
        return None
    at = shapely.Point(float(middle[0]) + inward[0] * INSIDE, float(middle[1]) + inward[1] * INSIDE)
    own = [r for r in built.rooms if r.storey == floor.plan.id]
    near = min(own, key=lambda r: r.measure.polygon.distance(at), default=None)
    return near if near is not None and (side_of_face(a.home, opening.face) or near.measure.polygon.distance(at) < 1.0) else None


@dataclass(frozen=True)
class Glazing:
    """Glass area [m²] of a room or a direction, its floor area [m²] or that of the home, and their share."""

    of: str
    what: str
    glass: float
    floor: float

    @property
    def share(self) -> float | None:
        return self.glass / self.floor if self.floor > 0 else None


def glazing(a: Assessment) -> tuple[Glazing, ...]:
    """Glass to floor area, by room where rooms are drawn, then by direction over the whole floor area."""
    types = {t.id: t for t in a.home.opening_types}
    faces = a.all_of(BOUNDARY)
    rooms: dict[str, float] = defaultdict(float)
    ways: dict[str, float] = defaultdict(float)
    built = a[BUILT]
    for o in a.home.openings:
        kind, face = types.get(o.type), faces.get(o.face)
        if kind is None or face is None:
            continue
        glass = calc.glass(o, kind)[0].value
        opaque = calc.opaque(kind).value
        if glass is None or opaque is None:
            continue
        area = float(glass) * (o.count.value if o.count is not None else 1.0) * (1 - float(opaque))
        ways[direction(face)] += area
        room = _room(a, o)
        if room is not None:
            rooms[room.id] += area
    found = [
        Glazing("room", f"{r.name}, {r.storey_name}", rooms[r.id], r.area)
        for r in (built.rooms if built is not None else ())
        if r.id in rooms
    ]
    reference = a.figures["reference_floor_area"].value
    whole = float(reference) if reference is not None else 0.0
    return (*found, *(Glazing("direction", way, area, whole) for way, area in sorted(ways.items())))


def gain_sheet(a: Assessment) -> Sheet:
    """What openings win and lose, as a sheet."""

    def or_open(value: float | None) -> Cell:
        return "?" if value is None else value

    columns: tuple[Column[Gain], ...] = (
        Column("Opening", lambda g: g.name),
        Column("Looks", lambda g: g.looks),
        Column("U installed", lambda g: or_open(g.installed), "u"),
        Column("g of the whole", lambda g: or_open(g.effective_g), "fraction"),
        Column("Loss", lambda g: or_open(g.loss), "energy"),
        Column("Sun", lambda g: or_open(g.sun), "energy"),
        Column("Net", lambda g: or_open(g.net), "energy"),
        Column("Net by area", lambda g: or_open(g.net_per_area), "specific_energy"),
    )
    return sheet("gains", "What openings win and lose", columns, gains(a))


def glazing_sheet(a: Assessment) -> Sheet:
    """Glass to floor area, as a sheet."""
    columns: tuple[Column[Glazing], ...] = (
        Column("Room or direction", lambda g: g.what),
        Column("Glass", lambda g: g.glass, "area"),
        Column("Floor", lambda g: g.floor, "area"),
        Column("Share", lambda g: g.share, "percent"),
    )
    return sheet("glazing", "Glass to floor area", columns, glazing(a))
