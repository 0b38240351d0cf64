"""Rooms: what inner walls leave of an outline, its area and height below floors and slopes."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

import shapely
from shapely.geometry.polygon import orient

from nuthatch.core.plans.roofs import Point2, RoofPlane

HIGH, LOW = 2.0, 1.0
"""Above the one a floor counts fully, above the other half [m]."""
SLIVER = 0.05
"""What inner walls leave that is smaller is no room [m²]."""


@dataclass(frozen=True)
class Ceiling:
    """What lies above a piece of a storey: clear height over its floor as a plane of the plan [m]."""

    polygon: shapely.Polygon
    height: RoofPlane


@dataclass(frozen=True)
class Measure:
    """A room as measured: its polygon, area higher than 2 m, area of 1 to 2 m, of all above 0 [m²], air volume [m³]."""

    polygon: shapely.Polygon
    high: float
    half: float
    area: float
    volume: float

    @property
    def outline(self) -> tuple[Point2, ...]:
        return tuple((x, y) for x, y in self.polygon.exterior.coords[:-1])

    @property
    def height(self) -> float:
        """Mean clear height [m]."""
        return self.volume / self.area if self.area > 0 else 0.0


def fit(shape: shapely.Polygon) -> shapely.Geometry:
    """A shape that came to cross itself, made fit to be cut by another."""
    return shape if shape.is_valid else shapely.make_valid(shape, method="structure", keep_collapsed=False)


def divided(inner: shapely.Polygon, walls: tuple[tuple[Point2, Point2, float], ...]) -> tuple[shapely.Polygon, ...]:
    """What walls, each a line with a thickness [m], leave of an inner outline: from the left, then from below."""
    inner = fit(inner)
    standing = [shapely.LineString((a, b)).buffer(t / 2, cap_style="square") for a, b, t in walls]
    left = shapely.difference(inner, shapely.union_all(standing)) if standing else inner
    pieces = [orient(p) for p in shapely.get_parts(left) if p.geom_type == "Polygon" and p.area > SLIVER]
    return tuple(sorted(pieces, key=lambda p: (round(p.centroid.x, 3), round(p.centroid.y, 3))))


def measured(polygon: shapely.Polygon, ceilings: tuple[Ceiling, ...], fixed: float | None = None) -> Measure:
    """Areas and volume of a room under its ceilings; `fixed`: one clear height said for all of it [m]."""
    if fixed is not None:
        full, half = (polygon.area, 0.0) if fixed >= HIGH else (0.0, polygon.area if fixed >= LOW else 0.0)
        return Measure(polygon, full, half, polygon.area, polygon.area * fixed)
    high = low = area = volume = 0.0
    within = fit(polygon)
    for ceiling in ceilings:
        shared = shapely.intersection(within, fit(ceiling.polygon))
        for piece in shapely.get_parts(shared):
            if piece.geom_type != "Polygon" or piece.area < 1e-6:
                continue
            over = [_above(piece, ceiling.height, z) for z in (0.0, LOW, HIGH)]
            areas = [p.area for p in over]
            area, low, high = area + areas[0], low + areas[1] - areas[2], high + areas[2]
            volume += sum(q.area * ceiling.height.at(q.centroid.x, q.centroid.y) for q in shapely.get_parts(over[0]) if q.area > 0)
    return Measure(polygon, high, low, area, volume)


def _above(piece: shapely.Polygon, height: RoofPlane, z: float) -> shapely.Geometry:
    """The part of a piece where a plane is higher than a level."""
    size = hypot(height.a, height.b)
    middle = piece.centroid
    if size < 1e-9:
        return piece if height.at(middle.x, middle.y) >= z - 1e-9 else shapely.Polygon()
    reach = 2 * piece.length + 10
    up = height.a / size, height.b / size
    start = (z - height.at(middle.x, middle.y)) / size
    foot = middle.x + up[0] * start, middle.y + up[1] * start
    across = -up[1] * reach, up[0] * reach
    half = shapely.Polygon(
        [
            (foot[0] + across[0], foot[1] + across[1]),
            (foot[0] - across[0], foot[1] - across[1]),
            (foot[0] - across[0] + up[0] * 2 * reach, foot[1] - across[1] + up[1] * 2 * reach),
            (foot[0] + across[0] + up[0] * 2 * reach, foot[1] + across[1] + up[1] * 2 * reach),
        ]
    )
    return shapely.intersection(piece, half)


def lowered(plane: RoofPlane, thickness: float) -> RoofPlane:
    """A slope's inner face: its thickness measured square to it [m]."""
    slope = hypot(plane.a, plane.b)
    return RoofPlane(plane.name, plane.a, plane.b, plane.c - thickness * hypot(1.0, slope))


def label_spot(polygon: shapely.Polygon) -> tuple[Point2, float]:
    """Where words stand best in a room: in its middle, where that is as wide as its widest part; and how wide it is there [m]."""
    widest, middle = shapely.maximum_inscribed_circle(polygon, tolerance=0.1), polygon.centroid
    as_wide = polygon.contains(middle) and middle.distance(polygon.exterior) > 0.95 * widest.length
    spot = middle.coords[0] if as_wide else widest.coords[0]
    x0, _, x1, _ = polygon.bounds
    chord = shapely.intersection(polygon, shapely.LineString([(x0 - 1, spot[1]), (x1 + 1, spot[1])]))
    here = next((c for c in shapely.get_parts(chord) if c.distance(shapely.Point(spot)) < 1e-6), None)
    if here is None:
        return (spot[0], spot[1]), x1 - x0
    x0, _, x1, _ = here.bounds
    return ((x0 + x1) / 2, spot[1]), x1 - x0
