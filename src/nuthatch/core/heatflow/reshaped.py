"""Drawing in a section: a block takes room, what it takes gives way; what it leaves goes to what lies beyond. The section stays whole."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
import shapely

from nuthatch.core.heatflow.section import SMALL, TOUCH, Point, SectionFault

ON = 1e-6
"""Within this a side lies on another [m]."""
LEAN = 0.2
"""Sine of the angle from which on the sides beside a moved one are drawn out with it."""
THINNEST = 0.001
"""No block is made thinner [m]."""


@dataclass
class Areas:
    """The areas of a section by name of what they are: blocks, then spaces; several where one was cut in two."""

    shapes: dict[str, shapely.Geometry]
    spaces: frozenset[str]
    changed: set[str] = field(default_factory=set)
    rings: dict[str, tuple[Point, ...]] = field(default_factory=dict)
    """Outlines that keep their corners in order."""

    def put(self, name: str, shape: shapely.Geometry) -> None:
        self.shapes[name] = _clean(shape)
        self.changed.add(name)


class Moved(NamedTuple):
    """An outline with a side moved: the area, its corners in order where none came or went, the strip between where the side was and is:
    p, q, q′, p′."""

    shape: shapely.Polygon
    ring: tuple[Point, ...] | None
    strip: tuple[Point, Point, Point, Point]


def moved_side(outline: Sequence[Point], n: int, by: float) -> Moved:
    """An outline with its n-th side moved outward [m]. Raises SectionFault where nothing would be left."""
    ring = _turning_left(outline)
    number = len(ring)
    p, q = ring[n % number], ring[(n + 1) % number]
    run = (q - p) / np.hypot(*(q - p))
    out = np.array((run[1], -run[0]))
    ends, leaning = [], True
    for corner, beside in ((p, ring[(n - 1) % number]), (q, ring[(n + 2) % number])):
        way = (corner - beside) / max(np.hypot(*(corner - beside)), SMALL)
        lean = float(way @ out)
        leaning = leaning and abs(lean) > LEAN
        ends.append(corner + (way * by / lean if abs(lean) > LEAN else out * by))
    strip = shapely.Polygon([p, q, ends[1], ends[0]])
    whole = shapely.Polygon(ring)
    new = shapely.union(whole, strip, grid_size=SMALL) if by > 0 else shapely.difference(whole, strip, grid_size=SMALL)
    if new.is_empty or not isinstance(new, shapely.Polygon) or new.area < TOUCH or float((ends[1] - ends[0]) @ run) <= 0:
        raise SectionFault("nothing would be left of it: move the side less far")
    a, b, c, d = ((float(x), float(y)) for x, y in (p, q, ends[1], ends[0]))
    drawn = ring.copy()
    drawn[n % number], drawn[(n + 1) % number] = ends
    exact = leaning and shapely.Polygon(drawn).is_valid and abs(shapely.Polygon(drawn).area - new.area) < ON
    return Moved(new, tuple((round(float(x), 7), round(float(y), 7)) for x, y in drawn) if exact else None, (a, b, c, d))


def side_of(outline: Sequence[Point], n: int) -> tuple[Point, Point, Point]:
    """Ends of a side as an outline that turns left goes along it, and the unit vector outward."""
    ring = _turning_left(outline)
    p, q = ring[n % len(ring)], ring[(n + 1) % len(ring)]
    run = (q - p) / max(np.hypot(*(q - p)), SMALL)
    return (float(p[0]), float(p[1])), (float(q[0]), float(q[1])), (float(run[1]), float(-run[0]))


def extent(outline: Sequence[Point]) -> tuple[float, float, float, float]:
    """Left, right, bottom, top [m]."""
    xs, ys = [p[0] for p in outline], [p[1] for p in outline]
    return min(xs), max(xs), min(ys), max(ys)


def take_room(areas: Areas, name: str, shape: shapely.Geometry) -> None:
    """An area is this from now on; all others give way."""
    areas.put(name, shape)
    for other, old in list(areas.shapes.items()):
        if other != name and shapely.intersection(old, shape).area > ON:
            areas.put(other, shapely.difference(old, shape, grid_size=SMALL))


def leave_room(areas: Areas, name: str, freed: shapely.Geometry, side: tuple[Point, Point, Point, Point] | None = None) -> None:
    """What an area left goes to what touches it: beyond each stretch of the side that moved, to what lay there; else to what has the longest
    line with it."""
    left = freed
    if side is not None:
        for other, part in _beyond(areas, name, side):
            mine = shapely.intersection(left, part)
            if mine.area > ON * 0.01:
                areas.put(other, shapely.union(areas.shapes[other], mine, grid_size=SMALL))
                left = shapely.difference(left, mine, grid_size=SMALL)
    for part in shapely.get_parts(left):
        if part.area > TOUCH:
            there = {o: _shared(s, part) for o, s in areas.shapes.items() if o != name}
            other = max(there, key=lambda o: there[o], default="")
            if other and there[other] > SMALL:
                areas.put(other, shapely.union(areas.shapes[other], part, grid_size=SMALL))


def _beyond(areas: Areas, name: str, side: tuple[Point, Point, Point, Point]) -> Iterator[tuple[str, shapely.Polygon]]:
    """What touches a side from beyond, blocks before spaces, and the part of the strip behind each."""
    p, q, q2, p2 = (np.array(c) for c in side)
    run = q - p
    length = float(np.hypot(*run))
    line = shapely.LineString([p, q])
    taken: list[tuple[float, float]] = []
    for other, shape in sorted(areas.shapes.items(), key=lambda i: i[0] in areas.spaces):
        if other == name:
            continue
        for piece in shapely.get_parts(shapely.intersection(line, shapely.buffer(shape, ON))):
            if piece.length < 10 * ON:
                continue
            at = sorted(float((np.array(c) - p) @ run) / length**2 for c in (piece.coords[0], piece.coords[-1]))
            low, high = (0.0 if at[0] * length < 5 * ON else at[0]), (1.0 if (1 - at[1]) * length < 5 * ON else at[1])
            if any(a < (low + high) / 2 < b for a, b in taken):
                continue
            taken.append((low, high))
            ends = [p + run * low, p + run * high, p2 + (q2 - p2) * high, p2 + (q2 - p2) * low]
            yield other, shapely.Polygon(ends)


def _shared(shape: shapely.Geometry, part: shapely.Geometry) -> float:
    return float(shapely.intersection(shapely.buffer(shape, ON), part.boundary).length)


def outlines(shape: shapely.Geometry) -> list[tuple[Point, ...]]:
    """The outlines of an area: one for each of its parts, none with a hole in it: what has one is cut in two through it."""
    found = []
    for part in shapely.get_parts(shape):
        if not isinstance(part, shapely.Polygon) or part.area < TOUCH:
            continue
        if part.interiors:
            x = shapely.Polygon(part.interiors[0]).representative_point().x
            low, bottom, high, top = part.bounds
            for half in (shapely.box(low - 1, bottom - 1, x, top + 1), shapely.box(x, bottom - 1, high + 1, top + 1)):
                found += outlines(shapely.intersection(part, half, grid_size=SMALL))
        else:
            ring = shapely.remove_repeated_points(part.exterior, 2 * ON)
            found.append(tuple((round(float(x), 7) + 0.0, round(float(y), 7) + 0.0) for x, y in ring.coords[:-1]))
    return found


def _clean(shape: shapely.Geometry) -> shapely.Geometry:
    """Without slivers and without corners in the middle of a side."""
    parts = [p for p in shapely.get_parts(shape) if isinstance(p, shapely.Polygon) and p.area > TOUCH * 0.01]
    return shapely.union_all([shapely.simplify(p, ON * 0.1) for p in parts]) if parts else shapely.Polygon()


def _turning_left(outline: Sequence[Point]) -> np.ndarray:
    ring = np.array(outline, dtype=float)
    area = float(np.sum(ring[:, 0] * np.roll(ring[:, 1], -1) - np.roll(ring[:, 0], -1) * ring[:, 1]))
    return ring if area > 0 else ring[::-1]
