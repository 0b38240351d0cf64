"""Where openings stand in their faces, in the face's plane and in space; and those that stand where they cannot."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations

import numpy as np
import shapely

from nuthatch.core.model.home import Opening
from nuthatch.core.plans.polygons import Point, Polygon, flat_outline, plane_axes

GAP = 0.4
"""Metres between openings that are given no place."""


@dataclass(frozen=True)
class Stand:
    """Where one opening of a row stands in its face: from the left edge and up from the face's lower edge [m], its size, whether
    somebody said so; `sill` is its level above the home's base, as it is entered."""

    opening: Opening
    left: float
    up: float
    sill: float
    width: float
    height: float
    placed: bool


def rise_of(polygon: Polygon) -> tuple[float, float]:
    """(level of a face's lower edge [m], how much higher a metre up the face is: 1 upright, less on a slope)."""
    return min(p[2] for p in polygon), max(float(plane_axes(polygon)[2][2]), 0.05)


def stands(openings: tuple[Opening, ...], face: str, polygon: Polygon) -> tuple[Stand, ...]:
    """All openings of a face, one by one; those without a place stand side by side from the left."""
    found: list[Stand] = []
    length = max(x for x, _ in flat_outline(polygon))
    low, lift = rise_of(polygon)
    free = GAP
    for o in openings:
        if o.face != face or o.width is None or o.height is None:
            continue
        w, h = o.width.value, o.height.value
        sill = o.sill.value if o.sill else low + lift * (0.9 if h < 2.0 else 0.0)
        left = o.position.value if o.position else free
        step = w + (o.apart.value if o.apart is not None else GAP)
        for n in range(max(round(o.count.value), 1) if o.count else 1):
            found.append(Stand(o, left + n * step, (sill - low) / lift, sill, w, h, o.position is not None))
        if o.position is None:
            free = min(found[-1].left + w + GAP, max(length - GAP, GAP))
    return tuple(found)


def in_space(polygon: Polygon, stand: Stand, out: float = 0.02) -> Polygon:
    """An opening's four corners in space, a little outside its face."""
    corner, right, up = plane_axes(polygon)
    n = np.cross(right, up) * out
    x, y = stand.left, stand.up

    def at(a: float, b: float) -> Point:
        p = corner + right * a + up * b + n
        return float(p[0]), float(p[1]), float(p[2])

    return at(x, y), at(x + stand.width, y), at(x + stand.width, y + stand.height), at(x, y + stand.height)


TOUCH = 0.002
"""Edges nearer than this to an edge of the face, or of another opening, are on it [m]."""


@lru_cache(maxsize=4096)
def _room(polygon: Polygon) -> tuple[tuple[float, float, float, float], shapely.Polygon | None]:
    """(the extent of a face in its own plane [m], the face where it is no rectangle), each a hair larger."""
    flat = flat_outline(polygon)
    xs, ys = [x for x, _ in flat], [y for _, y in flat]
    extent = min(xs) - TOUCH, min(ys) - TOUCH, max(xs) + TOUCH, max(ys) + TOUCH
    plain = len(flat) == 4 and all(
        min(x - extent[0], extent[2] - x) < 2 * TOUCH and min(y - extent[1], extent[3] - y) < 2 * TOUCH for x, y in flat
    )
    if plain:
        return extent, None
    shape = shapely.Polygon(flat).buffer(TOUCH, join_style="mitre")
    shapely.prepare(shape)
    return extent, shape


def _fits(stand: Stand, polygon: Polygon) -> bool:
    """Whether an opening lies within its face."""
    (left, low, right, high), shape = _room(polygon)
    ends = stand.left, stand.up, stand.left + stand.width, stand.up + stand.height
    if ends[0] < left or ends[1] < low or ends[2] > right or ends[3] > high:
        return False
    return shape is None or bool(shape.contains(shapely.box(*ends)))


def _over(one: Stand, other: Stand) -> bool:
    """Whether two openings of a face lie over each other by more than a hair."""
    across = min(one.left + one.width, other.left + other.width) - max(one.left, other.left)
    upward = min(one.up + one.height, other.up + other.height) - max(one.up, other.up)
    return min(across, upward) > 2 * TOUCH


def misplaced(openings: tuple[Opening, ...], outlines: Mapping[str, Polygon]) -> Iterator[tuple[str, str]]:
    """(opening, why) for those that are given a place past the edge of their face, or over another."""
    by_face: dict[str, list[Opening]] = defaultdict(list)
    for o in openings:
        if o.position is not None and o.sill is not None and o.face in outlines:
            by_face[o.face].append(o)
    for face, rows in by_face.items():
        polygon = outlines[face]
        found = stands(tuple(rows), face, polygon)
        told = set()
        for s in found:
            if s.opening.id not in told and not _fits(s, polygon):
                told.add(s.opening.id)
                yield s.opening.id, f"{s.opening.name or 'An opening'} stands past the edge of its face"
        for first, second in combinations(found, 2):
            one, other = first.opening, second.opening
            if other.id not in told and _over(first, second):
                told.add(other.id)
                yield (
                    other.id,
                    f"{other.name or 'An opening'} stands over {'another of its row' if one is other else one.name or 'another opening'}",
                )
