"""Surfaces in space, whoever wrote them: which way they look, where they lie, and what of plane geometry making plans of them needs."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin

import shapely

from nuthatch.core.plans.polygons import Point, Polygon, area_vector
from nuthatch.core.plans.roofs import Point2

CLOSE = 0.005
"""Levels and places nearer than this are one [m]."""
LITTLE = 0.02
"""Less than this is no face [m²]."""
LEVEL, UPRIGHT = 0.01, 0.999
"""Sine of the tilt below which a face is level, and above which it stands upright."""


@dataclass(frozen=True)
class Space:
    """A space of the file: its name, and heated, unheated or neighbour; `left`: a loft that comes by itself under its roof."""

    id: str
    name: str
    kind: str
    left: bool = False


@dataclass(frozen=True)
class Hole:
    """An opening as the file has it: its corners in space [m] where it has a loop, its size [m], its type."""

    name: str
    polygon: Polygon | None
    width: float
    height: float
    type: str


@dataclass(frozen=True)
class Surface:
    """A surface outward from its space [m]; beyond: another space, '' for outside; said: what kind the file calls it."""

    name: str
    polygon: Polygon
    space: str
    beyond: str
    said: str
    buildup: str
    holes: tuple[Hole, ...] = ()

    @property
    def vector(self) -> Point:
        return area_vector(self.polygon)

    @property
    def area(self) -> float:
        return hypot(*self.vector)

    @property
    def up(self) -> float:
        """The upward part of its direction, −1 to 1."""
        return self.vector[2] / max(self.area, 1e-12)

    @property
    def is_level(self) -> bool:
        return hypot(*self.vector[:2]) < LEVEL * self.area

    @property
    def is_upright(self) -> bool:
        return hypot(*self.vector[:2]) > UPRIGHT * self.area

    @property
    def low(self) -> float:
        return min(p[2] for p in self.polygon)

    @property
    def high(self) -> float:
        return max(p[2] for p in self.polygon)

    def turned_round(self) -> Surface:
        """The same seen from the other space."""
        return Surface(self.name, self.polygon[::-1], self.beyond, self.space, self.said, self.buildup)


def straightened(points: Iterable[Polygon]) -> float:
    """How far plans are turned so that most of their walls run along the sheet [°, counter-clockwise]."""
    long: dict[float, float] = defaultdict(float)
    for polygon in points:
        for a, b in zip(polygon, polygon[1:] + polygon[:1], strict=True):
            flat = hypot(b[0] - a[0], b[1] - a[1])
            if flat > 0.1 and abs(a[2] - b[2]) < CLOSE:
                long[round(degrees(atan2(b[1] - a[1], b[0] - a[0])) % 90, 4) % 90] += flat
    if not long:
        return 0.0
    way = max(long, key=lambda k: long[k])
    return -way if way <= 45 else 90 - way


def turned(polygon: Polygon, angle: float) -> Polygon:
    """A polygon turned about the origin [°]."""
    if not angle:
        return polygon
    c, s = cos(radians(angle)), sin(radians(angle))
    return tuple((c * x - s * y, s * x + c * y, z) for x, y, z in polygon)


def clusters(values: Iterable[float]) -> list[float]:
    """Values nearer than a hair as one, rising."""
    found: list[float] = []
    for z in sorted(values):
        if not found or z - found[-1] > CLOSE:
            found.append(z)
    return found


def rounded(p: Point2) -> Point2:
    return round(p[0], 6), round(p[1], 6)


def polygons(shape: shapely.Geometry) -> list[shapely.Polygon]:
    return [p for p in shapely.get_parts(shape) if p.geom_type == "Polygon" and p.area > LITTLE]


def plan_of(polygon: Polygon) -> shapely.Geometry:
    """A face seen from above."""
    made = shapely.Polygon([(x, y) for x, y, _ in polygon])
    return made if made.is_valid else shapely.make_valid(made, method="structure", keep_collapsed=False)


def ring_of(ring: shapely.LinearRing) -> list[Point2]:
    """The corners of a ring, none in the middle of a straight side."""
    points = [(x, y) for x, y in ring.coords[:-1]]
    kept = []
    for n, p in enumerate(points):
        a, b = points[n - 1], points[(n + 1) % len(points)]
        base = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
        if abs((p[0] - a[0]) * (b[1] - a[1]) - (p[1] - a[1]) * (b[0] - a[0])) / base > 1e-5:
            kept.append(p)
    return kept


def within(point: shapely.Point, lines: Sequence[tuple[Point2, Point2]]) -> bool:
    """Whether a point lies inside what lines enclose, by how many a ray from it crosses."""
    x, y = point.x, point.y
    crossed = 0
    for (ax, ay), (bx, by) in lines:
        if (ay > y) != (by > y) and x < ax + (y - ay) / (by - ay) * (bx - ax):
            crossed += 1
    return crossed % 2 == 1


def on_side(walls: Iterable[Surface], a: Point2, b: Point2, low: float, high: float) -> Surface | None:
    """The wall that makes most of a side between two levels."""
    long = hypot(b[0] - a[0], b[1] - a[1])
    ux, uy = (b[0] - a[0]) / max(long, 1e-9), (b[1] - a[1]) / max(long, 1e-9)
    best: tuple[float, Surface | None] = (LITTLE, None)
    for wall in walls:
        if any(abs((x - a[0]) * uy - (y - a[1]) * ux) > CLOSE for x, y, _ in wall.polygon):
            continue
        along = [(x - a[0]) * ux + (y - a[1]) * uy for x, y, _ in wall.polygon]
        wide = min(max(along), long) - max(min(along), 0.0)
        tall = min(wall.high, high) - max(wall.low, low)
        if wide > 0 and tall > 0 and wide * tall > best[0]:
            best = wide * tall, wall
    return best[1]


def most_used(rows: Iterable[Surface]) -> str:
    """The build-up of most of the area."""
    areas: dict[str, float] = defaultdict(float)
    for s in rows:
        if s.buildup:
            areas[s.buildup] += s.area
    return max(areas, key=lambda k: areas[k]) if areas else ""


def unusual(own: str, usual: str) -> str:
    """A build-up that has to be said because it is not the usual one."""
    return own if own != usual else ""
