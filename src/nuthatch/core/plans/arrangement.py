"""The plan cut into cells: in each of them every storey lies under one plane of the roof, and stands on or beside the same others."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import hypot
from typing import Protocol, runtime_checkable

import numpy as np
import shapely

from nuthatch.core.plans.linework import NEAR, net
from nuthatch.core.plans.roofs import Point2, RoofPart, RoofPlane, level

NOTHING = 1e-6
"""Areas below this are none [m²]."""


HEATED, OUTSIDE, GROUND = "home", "outside air", "ground"
"""Spaces that every home has: what no drawn outline is."""
Ground = Callable[[float, float], float]
"""Height of the ground at a place [m]."""


@runtime_checkable
class SlopingGround(Protocol):
    """Ground that is not level: it folds, and comes through levels, along straight lines."""

    def __call__(self, x: float, y: float) -> float: ...

    def lines(self, levels: tuple[float, ...]) -> list[tuple[Point2, Point2]]: ...


@dataclass(frozen=True)
class PlanOutline:
    """A closed outline of a storey: a part of a space between two levels [m]. What stands under a roof ends there at the latest;
    `under_roof`: it reaches up to the roof, whatever its top. `beyond` says what lies behind a side, by its number, where that is
    neither air nor ground; `under` and `over` the same of its floor and top. Holes are not part of it, and walked the other way round;
    sides are numbered along the outline, then along each hole."""

    id: str
    space: str
    points: tuple[Point2, ...]
    bottom: float
    top: float
    under_roof: bool = False
    beyond: tuple[tuple[int, str], ...] = ()
    holes: tuple[tuple[Point2, ...], ...] = ()
    under: str = ""
    over: str = ""

    @property
    def polygon(self) -> shapely.Polygon:
        return shapely.Polygon(self.points, self.holes)

    @property
    def rings(self) -> tuple[tuple[Point2, ...], ...]:
        """The outline, then its holes; the inside lies on the left of all of them."""
        return self.points, *self.holes

    @property
    def sides(self) -> tuple[tuple[Point2, Point2], ...]:
        """Every side by its number."""
        return tuple(pair for ring in self.rings for pair in zip(ring, ring[1:] + ring[:1], strict=True))

    def with_rings(self, rings: Sequence[tuple[Point2, ...]]) -> PlanOutline:
        """The same with its corners elsewhere."""
        return replace(self, points=rings[0], holes=tuple(rings[1:]))


@dataclass(frozen=True)
class SpaceLayer:
    """One storey over a cell: between a plane below and one above; `made_by` names what ends it above: itself, or part and plane."""

    outline: str
    space: str
    low: RoofPlane
    high: RoofPlane
    made_by: str


@dataclass(frozen=True)
class PlanCell:
    """A piece of the plan with what stands on it, from below."""

    polygon: shapely.Polygon
    layers: tuple[SpaceLayer, ...]


def pieces(geometry: shapely.Geometry) -> list[shapely.Polygon]:
    """The polygons in a geometry that are more than nothing, and wider than a hair."""
    return [p for p in shapely.get_parts(geometry) if p.geom_type == "Polygon" and p.area > max(NOTHING, NEAR * p.length / 4)]


def line_between(first: RoofPlane, second: RoofPlane, others: tuple[RoofPlane, ...], reach: float) -> tuple[Point2, Point2] | None:
    """Where two planes meet, as far as neither is above one of the others; none where they run parallel."""
    a, b, c = first.a - second.a, first.b - second.b, first.c - second.c
    size = hypot(a, b)
    if size < 1e-9:
        return None
    foot, along = (-a * c / size**2, -b * c / size**2), (-b / size, a / size)
    low, high = -reach, reach
    for q in others:
        rise = (first.a - q.a) * along[0] + (first.b - q.b) * along[1]
        start = first.at(*foot) - q.at(*foot)
        if abs(rise) > 1e-9:
            low, high = (low, min(high, -start / rise)) if rise > 0 else (max(low, -start / rise), high)
        elif start > NEAR:
            return None
    if high - low < NEAR:
        return None
    return (foot[0] + low * along[0], foot[1] + low * along[1]), (foot[0] + high * along[0], foot[1] + high * along[1])


def folds(parts: tuple[RoofPart, ...], levels: tuple[float, ...], reach: float) -> list[tuple[Point2, Point2]]:
    """Every line where the roof may fold, or comes through a level: ridges, hips, valleys, eaves, within the plan of their parts."""
    regions = [shapely.Polygon(p.outline) for p in parts]
    found: list[tuple[Point2, Point2]] = []

    def keep(line: tuple[Point2, Point2] | None, region: shapely.Geometry) -> None:
        if line is not None and not region.is_empty:
            for piece in shapely.get_parts(shapely.intersection(shapely.LineString(line), region)):
                if piece.geom_type == "LineString" and piece.length > NEAR:
                    found.append((piece.coords[0], piece.coords[-1]))

    for n, (part, region) in enumerate(zip(parts, regions, strict=True)):
        for first, second in combinations(part.planes, 2):
            keep(line_between(first, second, _without(part.planes, first, second), reach), region)
        for plane in part.planes:
            for z in levels:
                keep(line_between(plane, level(z), _without(part.planes, plane), reach), region)
        for other, its in zip(parts[n + 1 :], regions[n + 1 :], strict=True):
            shared = shapely.intersection(region, its)
            for first in part.planes:
                for second in other.planes:
                    rest = _without(part.planes, first) + _without(other.planes, second)
                    keep(line_between(first, second, rest, reach), shared)
    return found


def _without(planes: tuple[RoofPlane, ...], *left: RoofPlane) -> tuple[RoofPlane, ...]:
    return tuple(p for p in planes if not any(p is q for q in left))


LOFT = "loft"
"""The space under a roof above a storey that ends level."""


def layers_over(outlines: list[PlanOutline], roof: RoofPlane | None, made_by: str, x: float, y: float) -> tuple[SpaceLayer, ...]:
    """What stands over a cell, from below; under a roof nothing goes through it, and what is left empty below it is a loft."""
    made: list[SpaceLayer] = []
    for o in sorted(outlines, key=lambda o: o.bottom):
        low, high, by = level(o.bottom), level(o.top), o.id
        if roof is not None and (o.under_roof or roof.at(x, y) < o.top):
            high, by = roof, made_by
        if high.at(x, y) > low.at(x, y):
            made.append(SpaceLayer(o.id, o.space, low, high, by))
    if made and roof is not None and made[-1].made_by != made_by and roof.at(x, y) > made[-1].high.at(x, y) + NEAR:
        made.append(SpaceLayer(LOFT, LOFT, made[-1].high, roof, made_by))
    return tuple(made)


def roof_at(parts: Iterable[RoofPart], x: float, y: float) -> tuple[RoofPlane | None, str]:
    """The plane that is the roof over a point and its name: the lowest of its part, and of all parts the highest."""
    best, made_by, height = None, "", -np.inf
    for part in parts:
        plane = min(part.planes, key=lambda p: p.at(x, y))
        if plane.at(x, y) > height + 1e-9:
            best, made_by, height = plane, f"{part.id}.{plane.name}", plane.at(x, y)
    return best, made_by


def cells_of(
    outlines: tuple[PlanOutline, ...], parts: tuple[RoofPart, ...], more: Sequence[tuple[Point2, Point2]] = ()
) -> tuple[PlanCell, ...]:
    """The plan as cells, each with its layers; neighbouring cells share their corners exactly. more: lines along which they part."""
    if not outlines:
        return ()
    levels = tuple(sorted({z for o in outlines for z in (o.bottom, *(() if o.under_roof else (o.top,)))}))
    rings = [ring for o in outlines for ring in o.rings] + [p.outline for p in parts]
    drawn = [(a, b) for ring in rings for a, b in zip(ring, ring[1:] + ring[:1], strict=True)]
    reach = 2 * max((hypot(x, y) for ring in rings for x, y in ring), default=0.0) + 10
    lines = net([*drawn, *folds(parts, levels, reach), *more])
    made = [
        p for p in shapely.get_parts(shapely.polygonize(shapely.linestrings(np.array(lines, dtype=float).reshape(-1, 2, 2)))) if p.area > 0
    ]
    inside = shapely.point_on_surface(made)
    xs, ys = shapely.get_x(inside), shapely.get_y(inside)
    within = [shapely.contains_xy(o.polygon, xs, ys) for o in outlines]
    above = [shapely.contains_xy(shapely.Polygon(p.outline), xs, ys) for p in parts]
    found: list[PlanCell] = []
    for n, (polygon, x, y) in enumerate(zip(made, xs.tolist(), ys.tolist(), strict=True)):
        here = [o for o, mask in zip(outlines, within, strict=True) if mask[n]]
        if here:
            plane, made_by = roof_at((p for p, mask in zip(parts, above, strict=True) if mask[n]), x, y)
            layers = layers_over(here, plane, made_by, x, y)
            if layers:
                found.append(PlanCell(polygon, layers))
    return tuple(found)
