"""The quick form: a plain house from a few dimensions, as real 3D faces, volumes and room areas.

Plan coordinates: x along the front from left to right, y into the depth, z up from the underside of the lowest floor.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, radians, tan

from nuthatch.core.model.home import QuickForm
from nuthatch.core.shape.faces import Point, Surface, normal, tilt_and_azimuth, volume

SIDES = ("front", "right", "back", "left")


@dataclass(frozen=True)
class Thicknesses:
    """Build-up thicknesses at each side, top and base [m]."""

    front: float = 0.0
    right: float = 0.0
    back: float = 0.0
    left: float = 0.0
    top: float = 0.0
    base: float = 0.0


@dataclass(frozen=True)
class Box:
    """Dimensions of the form on one set of surfaces (outer or inner) [m]; z0 is the level of its lowest floor."""

    length: float
    depth: float
    eaves: float
    x0: float = 0.0
    y0: float = 0.0
    z0: float = 0.0


@dataclass(frozen=True)
class Storey:
    """Rooms of one storey: net internal area, the part counting by height, and the clear height [m², m², m]."""

    name: str
    area: float
    counted: float
    height: float


def _v(given: object) -> float:
    return float(given.value) if given is not None else 0.0  # type: ignore[attr-defined]


def slope(form: QuickForm) -> float:
    """Tangent of the roof pitch, 0 for a flat roof or an insulated ceiling."""
    if form.roof == "flat" or form.under_roof == "insulated ceiling":
        return 0.0
    return tan(radians(_v(form.pitch)))


def boxes(form: QuickForm, t: Thicknesses) -> tuple[Box, Box]:
    """(outer, inner) boxes. The traced side stays: with outer faces traced the rooms shrink, with inner ones the home grows."""
    length, depth = _v(form.length), _v(form.depth)
    storeys, height = _v(form.storeys), _v(form.storey_height)
    rise = slope(form)
    lid = 0.0 if rise else t.top
    if form.traced == "outer faces":
        outer = Box(length, depth, storeys * height)
    else:
        outer = Box(length + t.left + t.right, depth + t.front + t.back, storeys * height + t.base + lid)
    inner_length = outer.length - t.left - t.right
    inner_depth = outer.depth - t.front - t.back
    inner_eaves = outer.eaves - t.base - lid
    if rise:
        drop = t.top / cos(radians(_v(form.pitch)))
        wall = t.front if form.ridge == "along the length" else t.left
        inner_eaves = outer.eaves - t.base + wall * rise - drop
    return outer, Box(inner_length, inner_depth, inner_eaves, t.left, t.front, t.base)


def _top_points(form: QuickForm, box: Box) -> tuple[list[tuple[str, list[Point]]], dict[str, list[Point]]]:
    """Top faces (name, polygon) and the upper outline of each side from its left to its right corner seen from outside."""
    l, d, e = box.length, box.depth, box.z0 + box.eaves
    x0, y0 = box.x0, box.y0
    rise = slope(form)
    a, b, c, f = (x0, y0, e), (x0 + l, y0, e), (x0 + l, y0 + d, e), (x0, y0 + d, e)
    tops: dict[str, list[Point]] = {"front": [a, b], "right": [b, c], "back": [c, f], "left": [f, a]}
    if not rise:
        return [("top", [a, b, c, f])], tops
    along = form.ridge == "along the length"
    if form.roof == "mono":
        if along:  # low at the front, high at the back
            c, f = (c[0], c[1], e + d * rise), (f[0], f[1], e + d * rise)
        else:
            b, c = (b[0], b[1], e + l * rise), (c[0], c[1], e + l * rise)
        return [("roof", [a, b, c, f])], {"front": [a, b], "right": [b, c], "back": [c, f], "left": [f, a]}
    if along:
        h = e + d / 2 * rise
        r1, r2 = (x0, y0 + d / 2, h), (x0 + l, y0 + d / 2, h)
        tops["right"], tops["left"] = [b, r2, c], [f, r1, a]
        return [("front roof", [a, b, r2, r1]), ("back roof", [c, f, r1, r2])], tops
    h = e + l / 2 * rise
    r1, r2 = (x0 + l / 2, y0, h), (x0 + l / 2, y0 + d, h)
    tops["front"], tops["back"] = [a, r1, b], [c, r2, f]
    return [("left roof", [f, a, r1, r2]), ("right roof", [b, c, r2, r1])], tops


def solid(form: QuickForm, box: Box) -> dict[str, tuple[Point, ...]]:
    """Closed outward polygons of the form by face id."""
    tops, outlines = _top_points(form, box)
    faces: dict[str, tuple[Point, ...]] = {}
    for side in SIDES:
        upper = outlines[side]
        first, last = upper[0], upper[-1]
        faces[f"wall-{side}"] = ((first[0], first[1], box.z0), (last[0], last[1], box.z0), *reversed(upper))
    for name, polygon in tops:
        faces[name.replace(" ", "-")] = tuple(polygon)
    x, y, l, d = box.x0, box.y0, box.length, box.depth
    faces["floor"] = ((x, y, box.z0), (x, y + d, box.z0), (x + l, y + d, box.z0), (x + l, y, box.z0))
    return faces


def _wall(form: QuickForm, side: str, polygon: tuple[Point, ...], area: float, turn: float) -> Surface:
    borders = getattr(form, side)
    _, azimuth = tilt_and_azimuth(normal(polygon), turn)
    party = borders == "neighbour"
    b = form.b_side.value if borders == "unheated space" and form.b_side else None
    buildup = form.party_buildup if party else form.wall_buildup
    width = abs(polygon[1][0] - polygon[0][0]) + abs(polygon[1][1] - polygon[0][1])
    return Surface(
        f"wall-{side}",
        f"{'Party wall' if party else 'Wall'}, {side}",
        "party wall" if party else "wall",
        area,
        90.0,
        azimuth,
        borders,
        buildup,
        b,
        None,
        polygon,
        width,
    )


def surfaces(form: QuickForm, box: Box) -> tuple[Surface, ...]:
    """The faces of the form on one box, with what they border and their build-ups."""
    turn = (_v(form.front_azimuth) + 180) % 360
    made = []
    polygons = solid(form, box)
    for name, polygon in polygons.items():
        vector = normal(polygon)
        area = float((vector @ vector) ** 0.5)
        tilt, azimuth = tilt_and_azimuth(vector, turn)
        if name.startswith("wall-"):
            made.append(_wall(form, name.removeprefix("wall-"), polygon, area, turn))
        elif name == "floor":
            lengths = {"front": box.length, "back": box.length, "left": box.depth, "right": box.depth}
            edge = sum(lengths[s] for s in SIDES if getattr(form, s) != "neighbour")
            b = form.b_base.value if form.base == "unheated space" and form.b_base else None
            made.append(Surface("floor", "Lowest floor", "floor", area, 180.0, 0.0, form.base, form.base_buildup, b, edge, polygon))
        else:
            loft = form.under_roof == "insulated ceiling" and form.roof != "flat"
            role = "ceiling" if loft else "roof"
            b = form.b_top.value if loft and form.b_top else None
            title = {"top": "Ceiling under the loft" if loft else "Flat roof", "roof": "Roof"}.get(name, name.capitalize())
            made.append(
                Surface(
                    name, title, role, area, tilt, azimuth, "unheated space" if loft else "outside air", form.top_buildup, b, None, polygon
                )
            )
    return tuple(made)


def box_volume(form: QuickForm, box: Box) -> float:
    """Volume of the form on one box [m³]."""
    return volume(list(solid(form, box).values()))


def _width_above(form: QuickForm, span: float, low: float, level: float) -> float:
    """Width across the slope where the inner height is above `level` [m]; low is the height at the inner wall."""
    rise = slope(form)
    start = min(max((level - low) / rise, 0.0), span) if rise else (0.0 if low >= level else span)
    return max(span - (2 if form.roof == "gable" else 1) * start, 0.0)


def storeys(form: QuickForm, outer: Box, inner: Box) -> tuple[Storey, ...]:
    """Room areas by storey: internal area less partitions; under a slope half counts at 1–2 m height, none below 1 m."""
    net = inner.length * inner.depth * (1 - _v(form.partition_share))
    number, upper = round(_v(form.storeys)), _v(form.floor_thickness)
    clear = (outer.eaves - inner.z0 - (number - 1) * upper) / number if slope(form) else (inner.eaves - (number - 1) * upper) / number
    found = [Storey("Ground floor" if i == 0 else f"Storey {i}", net, net if clear >= 2 else net * 0.5, clear) for i in range(number)]
    if slope(form) and form.under_roof == "room in the roof":
        along = form.ridge == "along the length"
        span, run = (inner.depth, inner.length) if along else (inner.length, inner.depth)
        low = inner.z0 + inner.eaves - outer.eaves
        high, half = _width_above(form, span, low, 2.0), _width_above(form, span, low, 1.0)
        share = 1 - _v(form.partition_share)
        counted = (high + 0.5 * (half - high)) * run * share
        peak = low + slope(form) * span / (2 if form.roof == "gable" else 1)
        found.append(Storey("Room in the roof", half * run * share, counted, peak))
    return tuple(found)


def air_volume(form: QuickForm, outer: Box, inner: Box) -> float:
    """Internal volume of the heated space without the upper floors [m³]."""
    floors = round(_v(form.storeys)) - 1 + (1 if slope(form) and form.under_roof == "room in the roof" else 0)
    return box_volume(form, inner) - floors * _v(form.floor_thickness) * inner.length * inner.depth
