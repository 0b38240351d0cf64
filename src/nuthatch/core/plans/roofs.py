"""Roof parts: each is the lowest of its planes over its own plan; a roof is the highest of its parts, so that valleys, cut gables and
dormers come out by themselves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, hypot, radians, sin, tan
from typing import Literal

import numpy as np
import shapely

LOOKS = 39
"""Points across a part where it is looked at."""
Point2 = tuple[float, float]
RoofKind = Literal["flat", "mono", "gable", "hip", "half-hip", "mansard"]


@dataclass(frozen=True)
class RoofPlane:
    """A plane over the plan, z = a·x + b·y + c [m]."""

    name: str
    a: float
    b: float
    c: float

    def at(self, x: float, y: float) -> float:
        """Its height over a point of the plan."""
        return self.a * x + self.b * y + self.c


@dataclass(frozen=True)
class RoofPart:
    """One part of a roof: a region of the plan and planes, of which the lowest counts; `beyond`: what lies behind it, '' for air."""

    id: str
    outline: tuple[Point2, ...]
    planes: tuple[RoofPlane, ...]
    beyond: str = ""

    def at(self, x: float, y: float) -> float:
        """Height of the part over a point of its plan."""
        return min(p.at(x, y) for p in self.planes)


def roof_below(part: RoofPart, parts: Sequence[RoofPart], shape: shapely.Polygon, z: float) -> float:
    """How much of a shape lies where one part is the roof and lies below a level [m²]."""
    low = shapely.intersection(_low(part, z), shape)
    for other in parts:
        if other is not part and not low.is_empty:
            low = shapely.difference(low, shapely.difference(shapely.Polygon(other.outline), _low(other, z)))
    return float(low.area)


def buried(part: RoofPart, parts: Sequence[RoofPart]) -> bool:
    """Whether a part is the roof nowhere: looked at in points spread evenly over it."""
    region = shapely.Polygon(part.outline)
    others = [(p, shapely.Polygon(p.outline)) for p in parts if p is not part]
    others = [(p, shape) for p, shape in others if shape.intersects(region)]
    if not others:
        return False
    x0, y0, x1, y1 = region.bounds
    xs, ys = (a.ravel() for a in np.meshgrid(np.linspace(x0, x1, LOOKS + 2)[1:-1], np.linspace(y0, y1, LOOKS + 2)[1:-1]))
    inside = shapely.contains_xy(region, xs, ys)
    xs, ys = xs[inside], ys[inside]
    high = np.full(xs.shape, -np.inf)
    for other, shape in others:
        there = shapely.contains_xy(shape, xs, ys)
        high[there] = np.maximum(high[there], _heights(other, xs[there], ys[there]))
    return bool(len(xs)) and bool((_heights(part, xs, ys) < high + 1e-9).all())


def _heights(part: RoofPart, xs: np.ndarray, ys: np.ndarray) -> np.ndarray:
    return np.min([p.a * xs + p.b * ys + p.c for p in part.planes], axis=0)  # type: ignore[no-any-return]


def _low(part: RoofPart, z: float) -> shapely.Geometry:
    """Where a part lies below a level."""
    region = shapely.Polygon(part.outline)
    if all(part.at(x, y) >= z for x, y in part.outline):  # the lowest of planes is lowest at a corner
        return shapely.Polygon()
    x0, y0, x1, y1 = region.bounds
    far = 10 * (x1 - x0 + y1 - y0)
    halves = []
    for plane in part.planes:
        steep = hypot(plane.a, plane.b)
        if steep < 1e-9:
            halves += [region] if plane.c < z else []
            continue
        up = plane.a / steep, plane.b / steep
        middle = (x0 + x1) / 2, (y0 + y1) / 2
        rise = (z - plane.at(*middle)) / steep
        foot = middle[0] + rise * up[0], middle[1] + rise * up[1]
        a, b = ((foot[0] - s * up[1] * far, foot[1] + s * up[0] * far) for s in (-1, 1))
        halves.append(shapely.Polygon([a, b, *((p[0] - far * up[0], p[1] - far * up[1]) for p in (b, a))]))
    return shapely.intersection(region, shapely.union_all(halves))


def level(z: float, name: str = "level") -> RoofPlane:
    """A level plane."""
    return RoofPlane(name, 0.0, 0.0, z)


def _rising(name: str, start: float, at: float, along: Point2, pitch: float) -> RoofPlane:
    """Rises with a pitch [°] in a direction of the plan, from a height where the plan reaches `at` along it."""
    slope = tan(radians(pitch))
    return RoofPlane(name, slope * along[0], slope * along[1], start - slope * at)


@dataclass(frozen=True)
class Slopes:
    """How a part slopes: pitches in degrees, the ridge's direction counter-clockwise from the plan's x. `other` is the second pitch of
    a gable or hip, `ends` that of the hips; None: as `pitch`. `cut` is the share of the height left standing in a half-hip's gable. A
    mansard bends `bend` above its eaves [m] and goes on with the pitch `upper`."""

    pitch: float
    ridge: float = 0.0
    other: float | None = None
    ends: float | None = None
    cut: float = 0.5
    upper: float = 0.0
    bend: float = 0.0


def roof_part(ident: str, kind: RoofKind, outline: tuple[Point2, ...], eaves: float, slopes: Slopes = Slopes(0.0)) -> RoofPart:
    """A part over an outline with its eaves at a level [m]. A mono roof rises to the left of its ridge's direction.

    The planes start at the outline's extent across and along the ridge; a part that is no rectangle is cut out of the same roof.
    """
    if kind == "flat":
        return RoofPart(ident, outline, (level(eaves, "flat"),))
    turn = radians(slopes.ridge)
    along, across = (cos(turn), sin(turn)), (-sin(turn), cos(turn))
    back = (-across[0], -across[1]), (-along[0], -along[1])
    s = [x * across[0] + y * across[1] for x, y in outline]
    t = [x * along[0] + y * along[1] for x, y in outline]
    planes = [_rising("slope-1", eaves, min(s), across, slopes.pitch)]
    if kind == "mono":
        return RoofPart(ident, outline, tuple(planes))
    other = slopes.pitch if slopes.other is None else slopes.other
    planes.append(_rising("slope-2", eaves, -max(s), back[0], other))
    if kind == "mansard":
        for name, at, along_, lower in (("upper-1", min(s), across, slopes.pitch), ("upper-2", -max(s), back[0], other)):
            planes.append(_rising(name, eaves + slopes.bend, at + slopes.bend / tan(radians(lower)), along_, slopes.upper))
    if kind in ("hip", "half-hip"):
        ends = slopes.pitch if slopes.ends is None else slopes.ends
        start = eaves + (slopes.cut * ridge_rise(max(s) - min(s), slopes.pitch, other) if kind == "half-hip" else 0.0)
        planes.append(_rising("hip-1", start, min(t), along, ends))
        planes.append(_rising("hip-2", start, -max(t), back[1], ends))
    return RoofPart(ident, outline, tuple(planes))


def ridge_rise(width: float, pitch: float, other: float) -> float:
    """How far the ridge of two slopes over a width [m] lies above their eaves [m]."""
    first, second = tan(radians(pitch)), tan(radians(other))
    return width * first * second / (first + second) if first + second > 0 else 0.0
