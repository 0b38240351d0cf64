"""The quick form: a plain house from a few dimensions, as real 3D faces, volumes and room areas.

Plan coordinates: x along the front from left to right, y into the depth, z up from the underside of the lowest floor.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from math import cos, radians, tan

from nuthatch.core.plans.polygons import Point, Polygon, volume
from nuthatch.core.solid.solid import Storey

SIDES = ("front", "right", "back", "left")
ALONG = "along the length"


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
class Dims:
    """What a plain house is made from: sizes [m], pitch [°] (0 for a level top), the roof and what is traced."""

    length: float
    depth: float
    storeys: int
    storey_height: float
    pitch: float = 0.0
    roof: str = "gable"
    ridge: str = ALONG
    under_roof: str = "insulated ceiling"
    traced: str = "outer faces"
    partition_share: float = 0.0
    floor_thickness: float = 0.0

    @property
    def rise(self) -> float:
        """Tangent of the roof pitch, 0 for a flat roof or an insulated ceiling."""
        level = self.roof == "flat" or self.under_roof == "insulated ceiling"
        return 0.0 if level else tan(radians(self.pitch))

    @property
    def along(self) -> bool:
        return self.ridge == ALONG

    @property
    def attic(self) -> bool:
        """Whether there is a room in the roof."""
        return bool(self.rise) and self.under_roof == "room in the roof"


@dataclass(frozen=True)
class Box:
    """Dimensions of the form on one set of surfaces (outer or inner) [m]; z0 is the level of its lowest floor."""

    length: float
    depth: float
    eaves: float
    x0: float = 0.0
    y0: float = 0.0
    z0: float = 0.0


def boxes(d: Dims, t: Thicknesses) -> tuple[Box, Box]:
    """(outer, inner) boxes. The traced side stays: with outer faces traced the rooms shrink, with inner ones the home grows."""
    lid = 0.0 if d.rise else t.top
    if d.traced == "outer faces":
        outer = Box(d.length, d.depth, d.storeys * d.storey_height)
    else:
        outer = Box(d.length + t.left + t.right, d.depth + t.front + t.back, d.storeys * d.storey_height + t.base + lid)
    inner_length = outer.length - t.left - t.right
    inner_depth = outer.depth - t.front - t.back
    inner_eaves = outer.eaves - t.base - lid
    if d.rise:
        drop = t.top / cos(radians(d.pitch))
        wall = t.front if d.along else t.left
        inner_eaves = outer.eaves - t.base + wall * d.rise - drop
    return outer, Box(inner_length, inner_depth, inner_eaves, t.left, t.front, t.base)


def _top_points(d: Dims, box: Box) -> tuple[list[tuple[str, list[Point]]], dict[str, list[Point]]]:
    """Top faces (name, polygon) and the upper outline of each side from its left to its right corner seen from outside."""
    l, w, e = box.length, box.depth, box.z0 + box.eaves
    x0, y0, rise = box.x0, box.y0, d.rise
    a, b, c, f = (x0, y0, e), (x0 + l, y0, e), (x0 + l, y0 + w, e), (x0, y0 + w, e)
    tops: dict[str, list[Point]] = {"front": [a, b], "right": [b, c], "back": [c, f], "left": [f, a]}
    if not rise:
        return [("top", [a, b, c, f])], tops
    if d.roof == "mono":
        if d.along:  # low at the front, high at the back
            c, f = (c[0], c[1], e + w * rise), (f[0], f[1], e + w * rise)
        else:
            b, c = (b[0], b[1], e + l * rise), (c[0], c[1], e + l * rise)
        return [("roof", [a, b, c, f])], {"front": [a, b], "right": [b, c], "back": [c, f], "left": [f, a]}
    if d.along:
        h = e + w / 2 * rise
        r1, r2 = (x0, y0 + w / 2, h), (x0 + l, y0 + w / 2, h)
        tops["right"], tops["left"] = [b, r2, c], [f, r1, a]
        return [("front-roof", [a, b, r2, r1]), ("back-roof", [c, f, r1, r2])], tops
    h = e + l / 2 * rise
    r1, r2 = (x0 + l / 2, y0, h), (x0 + l / 2, y0 + w, h)
    tops["front"], tops["back"] = [a, r1, b], [c, r2, f]
    return [("left-roof", [f, a, r1, r2]), ("right-roof", [b, c, r2, r1])], tops


@lru_cache(maxsize=64)
def solid(d: Dims, box: Box) -> Mapping[str, Polygon]:
    """Closed outward polygons of the form by face id."""
    tops, outlines = _top_points(d, box)
    faces: dict[str, Polygon] = {}
    for side in SIDES:
        upper = outlines[side]
        first, last = upper[0], upper[-1]
        faces[f"wall-{side}"] = ((first[0], first[1], box.z0), (last[0], last[1], box.z0), *reversed(upper))
    for name, polygon in tops:
        faces[name] = tuple(polygon)
    x, y, l, w = box.x0, box.y0, box.length, box.depth
    faces["floor"] = ((x, y, box.z0), (x, y + w, box.z0), (x + l, y + w, box.z0), (x + l, y, box.z0))
    return faces


def box_volume(d: Dims, box: Box) -> float:
    """Volume of the form on one box [m³]."""
    return volume(solid(d, box).values())


def exposed_edge(box: Box, exposed: tuple[str, ...]) -> float:
    """Length of the lowest floor's edge along the exposed sides [m]."""
    lengths = {"front": box.length, "back": box.length, "left": box.depth, "right": box.depth}
    return sum(lengths[s] for s in SIDES if s in exposed)


def _width_above(d: Dims, span: float, low: float, level: float) -> float:
    """Width across the slope where the inner height is above `level` [m]; low is the height at the inner wall."""
    start = min(max((level - low) / d.rise, 0.0), span) if d.rise else (0.0 if low >= level else span)
    return max(span - (2 if d.roof == "gable" else 1) * start, 0.0)


def storeys(d: Dims, outer: Box, inner: Box) -> tuple[Storey, ...]:
    """Room areas by storey: internal area less partitions; under a slope half counts at 1–2 m height, none below 1 m."""
    net = inner.length * inner.depth * (1 - d.partition_share)
    number, upper = d.storeys, d.floor_thickness
    clear = (outer.eaves - inner.z0 - (number - 1) * upper) / number if d.rise else (inner.eaves - (number - 1) * upper) / number
    found = []
    for i in range(number):
        name = "Ground floor" if i == 0 else f"Storey {i}"
        found.append(Storey(name, net, net if clear >= 2 else net * 0.5, clear, i * d.storey_height if i else inner.z0))
    if d.attic:
        span, run = (inner.depth, inner.length) if d.along else (inner.length, inner.depth)
        low = inner.z0 + inner.eaves - outer.eaves
        high, half = _width_above(d, span, low, 2.0), _width_above(d, span, low, 1.0)
        share = 1 - d.partition_share
        counted = (high + 0.5 * (half - high)) * run * share
        peak = low + d.rise * span / (2 if d.roof == "gable" else 1)
        found.append(Storey("Room in the roof", half * run * share, counted, peak, number * d.storey_height))
    return tuple(found)


def air_volume(d: Dims, outer: Box, inner: Box) -> float:
    """Internal volume of the heated space without upper floors and partitions [m³]."""
    floors = d.storeys - 1 + (1 if d.attic else 0)
    return (box_volume(d, inner) - floors * d.floor_thickness * inner.length * inner.depth) * (1 - d.partition_share)
