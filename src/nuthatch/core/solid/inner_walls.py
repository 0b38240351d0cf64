"""The walls of an outer solid by the planes they stand in, and those they are moved to."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from math import hypot

import numpy as np
import shapely
from shapely.geometry.polygon import orient

from nuthatch.core.plans.arrangement import OUTSIDE, pieces
from nuthatch.core.plans.linework import NEAR
from nuthatch.core.plans.polygons import area_vector
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.solid.massing import FaceKey, SolidFace

LEDGE = "ledge"
"""Where a thicker wall stands beside a thinner one: a face of the inside that no face outside is moved to."""
SAME = 1e-6
RUN_OUT = 2.0
"""How far at most a wall that runs out goes on inside [m]."""
TURNED = 2e-2
"""Ways that differ by less are one: a wall whose ends are a hair off [rad]."""


def key_of(f: SolidFace) -> FaceKey:
    return f.role, f.outline, f.space, f.beyond, f"{f.made_by}|{f.above}" if f.above else f.made_by


class Walls:
    """The walls of the outer solid by the planes they stand in, and those they are moved to."""

    def __init__(self, faces: list[tuple[SolidFace, float]], space: str) -> None:
        self._rows = [Wall.of(f, t, space) for f, t in faces]
        self._space = space
        self._found: dict[tuple[Point2, Point2, bool], list[Wall]] = {}
        self._by_way: list[tuple[Point2, list[Wall]]] = []
        for row in self._rows:
            alike = next((rows for way, rows in self._by_way if hypot(way[0] - row.way[0], way[1] - row.way[1]) < 1e-4), None)
            if alike is None:
                self._by_way.append((row.way, [row]))
            else:
                alike.append(row)

    def _in_plane(self, p: Point2, q: Point2, moved: bool) -> list[Wall]:
        known = self._found.get((p, q, moved))
        if known is not None:
            return known
        long = hypot(q[0] - p[0], q[1] - p[1])
        x, y = (q[0] - p[0]) / long, (q[1] - p[1]) / long
        offset = (p[0] + q[0]) / 2 * y - (p[1] + q[1]) / 2 * x
        found: list[Wall] = []
        for way, rows in self._by_way:
            if hypot(way[0] - x, way[1] - y) < TURNED:
                found += [r for r in rows if -4 * NEAR < (r.offset - r.thick if moved else r.offset) - offset < 4 * NEAR]
        start, end = p[0] * x + p[1] * y - RUN_OUT, q[0] * x + q[1] * y + RUN_OUT
        near = [r for r in found if r.bounds[0] < end and r.bounds[2] > start] or found
        self._found[p, q, moved] = near
        return near

    def thick_along(
        self, p: Point2, q: Point2, low: tuple[float, float], high: tuple[float, float]
    ) -> Iterable[tuple[float, tuple[float, float], tuple[float, float]]]:
        """(thickness, lower ends, upper ends) of the walls along a side between two lines, from below; alike ones are one."""
        rows = self._in_plane(p, q, False)
        if not rows:
            return
        way = rows[0].way
        start, end = p[0] * way[0] + p[1] * way[1], q[0] * way[0] + q[1] * way[1]
        bottom, top = min(low), max(high)
        rows = [r for r in rows if r.overlaps(start, end, bottom, top)]
        if len({r.thick for r in rows}) <= 1:
            if rows:
                yield rows[0].thick, low, high
            return
        piece = _valid(shapely.Polygon([(start, low[0]), (end, low[1]), (end, high[1]), (start, high[0])]))
        parts = [(r.thick, shapely.intersection(piece, r.shape)) for r in rows]
        stretches = sorted(((g.bounds[1], g.bounds[3], t, g) for t, g in parts if g.area > SAME), key=lambda r: r[0] + r[1])
        made: list[tuple[float, tuple[float, float], tuple[float, float]]] = []
        for _, _, t, g in stretches:
            ends = _ends(g, start, end)
            if made and abs(made[-1][0] - t) < SAME:
                made[-1] = (t, made[-1][1], ends[1])
            else:
                made.append((t, ends[0], ends[1]))
        for n, (t, _, b) in enumerate(made):
            yield t, low if not n else made[n - 1][2], high if n == len(made) - 1 else b

    def told(self, p: Point2, q: Point2, piece: list[Point2], outline: str) -> Iterable[tuple[FaceKey, list[Point2]]]:
        """(what made it, its part) of a standing piece of the inside: the outer walls that are moved to its plane."""
        rows = self._in_plane(p, q, True)
        if not rows:
            yield (LEDGE, outline, self._space, OUTSIDE, f"{outline}-ledge"), piece
            return
        way = rows[0].way
        start, end = p[0] * way[0] + p[1] * way[1], q[0] * way[0] + q[1] * way[1]
        ends, heights = [start + s * (end - start) for s, _ in piece], [z for _, z in piece]
        box = min(ends), max(ends), min(heights), max(heights)
        here = [r for r in rows if r.overlaps(*box)]
        if not here:  # where a wall goes on past its end to meet another
            here = [min(rows, key=lambda r: (r.away(*box), r.key))]
        if len({r.key for r in here}) == 1:
            yield here[0].key, piece
            return
        shape = shapely.Polygon([(s, z) for s, (_, z) in zip(ends, piece, strict=True)])
        near, here = here, [r for r in here if shapely.intersection(r.shape, shape).area > SAME]
        if len(here) <= 1:
            yield (here[0] if here else _nearest(near, shape)).key, piece
            return
        rest: shapely.Geometry = shape
        told: dict[FaceKey, list[shapely.Geometry]] = defaultdict(list)
        for r in here:
            told[r.key].append(shapely.intersection(rest, r.shape))
            rest = shapely.difference(rest, r.shape)
        for left in pieces(rest):
            told[_nearest(here, left).key].append(left)
        for key, shapes in told.items():
            for polygon in pieces(shapely.union_all(shapes)):
                yield key, [((s - start) / (end - start), z) for s, z in orient(polygon).exterior.coords[:-1]]


@dataclass(frozen=True)
class Wall:
    """A wall of the outer solid: the way it is walked with the space on its left, how far to the right of the origin, its thickness; its
    shape along that way and in height."""

    key: FaceKey
    way: Point2
    offset: float
    thick: float
    shape: shapely.Geometry
    bounds: tuple[float, float, float, float]

    @classmethod
    def of(cls, f: SolidFace, thick: float, space: str) -> Wall:
        """A face of the outer solid, seen from a space it bounds."""
        x, y, _ = area_vector(f.polygon if f.space == space else f.polygon[::-1])
        size = max(hypot(x, y), 1e-12)
        way = -y / size, x / size
        shape = _valid(shapely.Polygon([(x * way[0] + y * way[1], z) for x, y, z in f.polygon]))
        offset = f.polygon[0][0] * way[1] - f.polygon[0][1] * way[0]
        return cls(key_of(f), way, offset, thick, shape, shape.bounds)

    def overlaps(self, start: float, end: float, low: float, high: float) -> bool:
        """Whether a box along the way and in height shares more than a hair with it."""
        left, bottom, right, top = self.bounds
        return right - start > NEAR and end - left > NEAR and top - low > NEAR and high - bottom > NEAR

    def away(self, start: float, end: float, low: float, high: float) -> tuple[float, float]:
        """How far such a box lies from the box around it [m]; of those as near, which shares most of its height."""
        left, bottom, right, top = self.bounds
        far = max(start - right, left - end, 0.0) + max(low - top, bottom - high, 0.0)
        return round(far, 6), -round(min(top, high) - max(bottom, low), 6)


def _nearest(rows: list[Wall], shape: shapely.Geometry) -> Wall:
    middle = shape.representative_point()
    return min(rows, key=lambda r: (r.shape.distance(middle), r.key))


def _valid(shape: shapely.Geometry) -> shapely.Geometry:
    return shape if shape.is_valid else shapely.make_valid(shape)


def _ends(shape: shapely.Geometry, start: float, end: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """(lower, upper) heights of a piece of a wall at both its ends."""
    points = shapely.get_coordinates(shape)
    low, high = [], []
    for at in (start, end):
        nearest = np.abs(points[:, 0] - at).min()
        here = points[np.abs(points[:, 0] - at) < nearest + NEAR, 1]
        low.append(float(here.min()))
        high.append(float(here.max()))
    return (low[0], low[1]), (high[0], high[1])
