"""What walls take away from a space: strips beside them, corners where the moved planes meet."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import hypot

import shapely
from shapely.geometry.polygon import orient

from nuthatch.core.plans.arrangement import line_between
from nuthatch.core.plans.linework import NEAR
from nuthatch.core.plans.roofs import Point2, RoofPlane
from nuthatch.core.solid.inner_walls import RUN_OUT, SAME
from nuthatch.core.solid.massing import FaceKey

Bound = tuple[RoofPlane, FaceKey | None]


@dataclass(frozen=True)
class Strip:
    """A wall along a side of a cell from p to q, heated on its left, t thick: between the highest of `lows` and the lowest of `highs`."""

    p: Point2
    q: Point2
    t: float
    lows: tuple[Bound, ...]
    highs: tuple[Bound, ...]
    at_p: tuple[float, float]
    at_q: tuple[float, float]

    @property
    def way(self) -> Point2:
        long = hypot(self.q[0] - self.p[0], self.q[1] - self.p[1])
        return (self.q[0] - self.p[0]) / long, (self.q[1] - self.p[1]) / long

    def beside(self) -> shapely.Polygon:
        """The plan of what it takes away. A wall that runs out where a slope reaches its top goes on inside to where the moved planes meet."""
        x, y = self.way
        p = (self.p[0] - RUN_OUT * x, self.p[1] - RUN_OUT * y) if self.at_p[1] - self.at_p[0] < NEAR else self.p
        q = (self.q[0] + RUN_OUT * x, self.q[1] + RUN_OUT * y) if self.at_q[1] - self.at_q[0] < NEAR else self.q
        return shapely.Polygon([p, q, self.inner(q), self.inner(p)])

    def inner(self, at: Point2) -> Point2:
        """A point moved to the wall's inner face."""
        x, y = self.way
        return at[0] - y * self.t, at[1] + x * self.t


@dataclass(frozen=True)
class Taken:
    """A part of the plan that is not inside between two heights: the highest of `lows`, the lowest of `highs`."""

    polygon: shapely.Polygon
    lows: tuple[Bound, ...]
    highs: tuple[Bound, ...]


def corner(a: Strip, b: Strip) -> Iterable[Taken]:
    """What two walls in a corner take away beyond the strips beside them, out to where their inner faces meet."""
    (ax, ay), (bx, by) = a.way, b.way
    turn = ax * by - ay * bx
    if abs(turn) < 1e-4:
        return
    start, other = a.inner(a.q), b.inner(b.p)
    t = ((other[0] - start[0]) * by - (other[1] - start[1]) * bx) / turn
    meet = start[0] + t * ax, start[1] + t * ay
    lows, highs = (*a.lows, *b.lows), (*a.highs, *b.highs)
    for ring, past in (
        ((a.q, meet, start), (meet[0] - a.q[0]) * ax + (meet[1] - a.q[1]) * ay),
        ((b.p, other, meet), -((meet[0] - b.p[0]) * bx + (meet[1] - b.p[1]) * by)),
    ):
        if past > NEAR:
            polygon = orient(shapely.Polygon(ring))
            if polygon.area > SAME:
                yield Taken(polygon, lows, highs)


def crossings(taken: Taken, near: list[RoofPlane], reach: float) -> list[tuple[Point2, Point2]]:
    """Where the planes that bound what is taken away cross those that bound what is inside."""
    found: list[tuple[Point2, Point2]] = []
    corners = taken.polygon.exterior.coords[:-1]
    planes = list({(p.a, p.b, p.c): p for p in near}.values())
    for n, first in enumerate(planes):
        for second in planes[n + 1 :]:
            over = [first.at(x, y) - second.at(x, y) for x, y in corners]
            if min(over) > -SAME or max(over) < SAME:
                continue
            line = line_between(first, second, (), reach)
            if line is not None:
                cut = shapely.intersection(shapely.LineString(line), taken.polygon)
                found += [(c.coords[0], c.coords[-1]) for c in shapely.get_parts(cut) if c.geom_type == "LineString" and c.length > NEAR]
    return found


def sloped(taken: Taken) -> bool:
    """Whether a plane that bounds it is not level."""
    return any(plane.a or plane.b for plane, _ in (*taken.lows, *taken.highs))


def without(rest: tuple[Bound, Bound], low: Bound, high: Bound, x: float, y: float) -> Iterable[tuple[Bound, Bound]]:
    """What is left of a stretch over a point without another."""
    start, end, a, b = (s[0].at(x, y) for s in (*rest, low, high))
    if b <= start + SAME or a >= end - SAME:
        yield rest
        return
    if a > start + SAME:
        yield rest[0], low
    if b < end - SAME:
        yield high, rest[1]
