"""Which room lies behind which part of an outer face, which openings are in it, and which rooms lie beside and above it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from math import hypot

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.polygon import orient

from nuthatch.core.graph.alive import while_alive
from nuthatch.core.model.home import Opening
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.solid.opening_places import in_space, stands
from nuthatch.core.solid.plan_rooms import PlanRoom

REACH = 1.0
"""How far behind an outer face, or behind the other side of an inner wall, a room begins at the most [m]."""
PARALLEL = 0.12
"""Sine of the angle by which a room's side may turn from the face before it."""
Levels = Mapping[str, tuple[float, float]]
"""By the id of a storey: its level and that of the next [m]."""
Point2 = tuple[float, float]
Line = tuple[Point2, Point2]


@dataclass(frozen=True)
class RoomFaces:
    """Behind which share of each outer face a room lies, by its id; how many of each row of openings are in it; walls to other rooms and
    floors to those above, (id, area [m²]), each pair once."""

    room: str
    faces: tuple[tuple[str, float], ...]
    openings: tuple[tuple[str, float], ...]
    beside: tuple[tuple[str, float], ...]
    above: tuple[tuple[str, float], ...]


@dataclass(frozen=True, eq=False)
class Behind:
    """Rooms behind faces: shares of each face by room, walls to other rooms, floors to those above."""

    rooms: tuple[PlanRoom, ...]
    levels: Levels
    shares: Mapping[str, Mapping[str, float]]
    beside: Mapping[str, list[tuple[str, float]]]
    above: Mapping[str, list[tuple[str, float]]]


def behind(rooms: tuple[PlanRoom, ...], levels: Levels, outlines: Mapping[str, Polygon]) -> Behind:
    """Shares of every face add up to 1: one that no room is found behind is shared by floor area."""
    whole = sum(r.area for r in rooms)
    by_floor = {r.id: r.area / whole for r in rooms} if whole > 0 else {}
    storeys = tuple(_Storey(*levels[s], tuple(r for r in rooms if r.storey == s)) for s in dict.fromkeys(r.storey for r in rooms))
    shares = {face: _shares(polygon, storeys) or by_floor for face, polygon in outlines.items()}
    return Behind(rooms, levels, shares, dict(_beside(rooms)), dict(_above(rooms, levels)))


def room_faces(found: Behind, outlines: Mapping[str, Polygon], openings: tuple[Opening, ...]) -> tuple[RoomFaces, ...]:
    """Of all rooms, with the openings that are in each."""
    held: dict[str, dict[str, float]] = {}
    with_openings = {o.face for o in openings}
    for face, polygon in outlines.items():
        if face not in with_openings:
            continue
        shares = found.shares[face]
        for stand in stands(openings, face, polygon):
            largest = max(shares, key=shares.__getitem__, default="")
            room = _behind(in_space(polygon, stand), polygon, found.rooms, found.levels) or largest
            row = held.setdefault(stand.opening.id, {})
            row[room] = row.get(room, 0.0) + 1.0
    made = []
    for r in found.rooms:
        own = tuple((f, s[r.id]) for f, s in found.shares.items() if s.get(r.id, 0.0) > 0)
        inside = tuple((o, row[r.id]) for o, row in held.items() if r.id in row)
        made.append(RoomFaces(r.id, own, inside, tuple(found.beside.get(r.id, ())), tuple(found.above.get(r.id, ()))))
    return tuple(made)


@dataclass(frozen=True, eq=False)
class _Storey:
    """The rooms of a storey; its level and that of the next [m]."""

    level: float
    next: float
    rooms: tuple[PlanRoom, ...]

    @cached_property
    def polygons(self) -> NDArray[np.object_]:
        return np.array([r.measure.polygon for r in self.rooms])

    @cached_property
    def taken(self) -> shapely.Geometry:
        """Its floor, with half of the walls round about."""
        return shapely.buffer(shapely.union_all(self.polygons), 0.35, join_style="mitre")


def _shares(polygon: Polygon, storeys: tuple[_Storey, ...]) -> dict[str, float]:
    """Share of a face by room; empty where no room lies behind it."""
    upright = abs(_normal(polygon)[2]) < 0.2
    amounts = _behind_upright(polygon, storeys) if upright else _under_slope(polygon, storeys)
    whole = sum(amounts.values())
    return {k: v / whole for k, v in amounts.items()} if whole > 0 else {}


def _line(polygon: Polygon) -> tuple[Line, float, float]:
    """(its line in the plan, lowest and highest level) of an upright face."""
    points = [(x, y) for x, y, _ in polygon]
    pairs = [(hypot(a[0] - b[0], a[1] - b[1]), a, b) for a in points for b in points]
    _, a, b = max(pairs)
    return (a, b), min(p[2] for p in polygon), max(p[2] for p in polygon)


@while_alive
def _sides(room: PlanRoom) -> list[tuple[Point2, Point2, float]]:
    """Each with its length [m]."""
    ring = list(orient(room.measure.polygon).exterior.coords)
    return [(p, q, hypot(q[0] - p[0], q[1] - p[1])) for p, q in pairwise(ring)]


def _spans(line: Line, room: PlanRoom, reach: float = REACH) -> Iterator[tuple[float, float, float]]:
    """(from, to, distance) along a line of each side of a room that looks at it from nearby."""
    (ax, ay), (bx, by) = line
    length = hypot(bx - ax, by - ay)
    if length < 1e-6:
        return
    ux, uy = (bx - ax) / length, (by - ay) / length
    for (px, py), (qx, qy), side in _sides(room):
        dx, dy = qx - px, qy - py
        if side < 1e-6 or abs(ux * dy - uy * dx) / side > PARALLEL:
            continue
        mx, my = (px + qx) / 2 - ax, (py + qy) / 2 - ay
        away = mx * -uy + my * ux  # to the left of the line
        outward = -(dy * uy + dx * ux) / side  # the side's outer normal (dy, −dx) along the line's left
        if abs(away) > reach or away * outward > 0:
            continue
        s, t = sorted(((px - ax) * ux + (py - ay) * uy, (qx - ax) * ux + (qy - ay) * uy))
        s, t = max(s, 0.0), min(t, length)
        if t - s > 1e-6:
            yield s, t, abs(away)


def _nearest(line: Line, rooms: Iterable[PlanRoom]) -> list[tuple[float, float, str]]:
    """Pieces of a line with the room that is nearest behind each."""
    rows = [(s, t, away, r.id) for r in rooms for s, t, away in _spans(line, r)]
    cuts = sorted({x for s, t, _, _ in rows for x in (s, t)})
    found = []
    for s, t in zip(cuts[:-1], cuts[1:], strict=True):
        here = [(away, ident) for a, b, away, ident in rows if a <= s + 1e-9 and b >= t - 1e-9]
        if here and t - s > 1e-9:
            found.append((s, t, min(here)[1]))
    return found


def _behind_upright(polygon: Polygon, storeys: tuple[_Storey, ...]) -> dict[str, float]:
    line, low, high = _line(polygon)
    found: dict[str, float] = {}
    for storey in storeys:
        tall = min(high, storey.next) - max(low, storey.level)
        if tall <= 0.05:
            continue
        for s, t, ident in _nearest(line, storey.rooms):
            found[ident] = found.get(ident, 0.0) + (t - s) * tall
    return found


def _under_slope(polygon: Polygon, storeys: tuple[_Storey, ...]) -> dict[str, float]:
    """Rooms below a roof or ceiling, the highest first; above a floor, the lowest first."""
    flat = shapely.Polygon([(x, y) for x, y, _ in polygon])
    left = flat if flat.is_valid else shapely.make_valid(flat)
    looks_up = _normal(polygon)[2] > 0
    top, foot = max(p[2] for p in polygon), min(p[2] for p in polygon)
    found: dict[str, float] = {}
    for storey in sorted(storeys, key=lambda s: s.level, reverse=looks_up):
        if (looks_up and storey.level > top - 0.3) or (not looks_up and storey.level < foot - 0.6):
            continue
        for r, area in zip(storey.rooms, shapely.area(shapely.intersection(left, storey.polygons)).tolist(), strict=True):
            if area > 1e-4:
                found[r.id] = found.get(r.id, 0.0) + area
        left = shapely.difference(left, storey.taken)
        if shapely.area(left) < 0.02:
            break
    return found


def _normal(polygon: Polygon) -> tuple[float, float, float]:
    """Unit normal of a face, outward."""
    sums = [0.0, 0.0, 0.0]
    for a, b in zip(polygon, (*polygon[1:], polygon[0]), strict=True):
        for k, (i, j) in enumerate(((1, 2), (2, 0), (0, 1))):
            sums[k] += (a[i] - b[i]) * (a[j] + b[j])
    length = max((sums[0] ** 2 + sums[1] ** 2 + sums[2] ** 2) ** 0.5, 1e-12)
    return sums[0] / length, sums[1] / length, sums[2] / length


def _behind(where: Polygon, face: Polygon, rooms: tuple[PlanRoom, ...], levels: Levels) -> str:
    """The room an opening belongs to, by its middle; '' where none is found."""
    n = len(where)
    x, y, z = (sum(p[k] for p in where) / n for k in range(3))
    if abs(_normal(face)[2]) < 0.2:
        line, *_ = _line(face)
        (ax, ay), (bx, by) = line
        length = hypot(bx - ax, by - ay)
        at = ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / max(length, 1e-9)
        here = [r for r in rooms if levels[r.storey][0] - 0.05 <= z < levels[r.storey][1]]
        return next((ident for s, t, ident in _nearest(line, here) if s - 0.15 <= at <= t + 0.15), "")
    spot = shapely.Point(x, y)
    under = sorted((r for r in rooms if levels[r.storey][0] < z), key=lambda r: -levels[r.storey][0])
    return next((r.id for r in under if r.measure.polygon.distance(spot) < 0.4), "")


def _beside(rooms: tuple[PlanRoom, ...]) -> Iterator[tuple[str, list[tuple[str, float]]]]:
    """Walls between rooms of a storey, each pair once."""
    for n, one in enumerate(rooms):
        rows = []
        for other in rooms[n + 1 :]:
            if other.storey != one.storey or one.measure.polygon.distance(other.measure.polygon) > 0.6:
                continue
            shared = 0.0
            for p, q, _ in _sides(one):
                shared += sum(t - s for s, t, away in _spans((p, q), other, 0.6) if away > 1e-6)
            if shared > 0.05:
                rows.append((other.id, shared * min(one.measure.height, other.measure.height)))
        if rows:
            yield one.id, rows


def _above(rooms: tuple[PlanRoom, ...], levels: Levels) -> Iterator[tuple[str, list[tuple[str, float]]]]:
    """Floors between a room and those right above it."""
    for one in rooms:
        top = levels[one.storey][1]
        over = [r for r in rooms if abs(levels[r.storey][0] - top) < 0.05]
        rows = [(r.id, float(shapely.area(shapely.intersection(one.measure.polygon, r.measure.polygon)))) for r in over]
        rows = [(i, area) for i, area in rows if area > 0.05]
        if rows:
            yield one.id, rows
