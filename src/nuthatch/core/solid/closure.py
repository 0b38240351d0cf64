"""Whether polygons close a space, and the edges where they meet: sides are cut at every corner that lies on them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from math import atan2, degrees, dist, hypot

import numpy as np

from nuthatch.core.plans.polygons import Point, Polygon, area_vector, length_of, scalar
from nuthatch.core.solid.solid import Edge

CLOSE = 1e-3
"""Corners nearer than this are one, and lie on a side that is nearer than this [m]."""


@dataclass(frozen=True)
class Meeting:
    """A straight edge along which faces meet: their ids, its ends, and the angle between the faces, measured inside [°]: 90 at the
    corner of a box, 180 in one plane, above that re-entrant; 0 where it is not two faces."""

    faces: tuple[str, ...]
    ends: tuple[Point, Point]
    angle: float

    @property
    def length(self) -> float:
        return length_of(self.ends)


def meetings(polygons: Mapping[str, Polygon]) -> tuple[Meeting, ...]:
    """All edges of a shell; one that two faces share in several stretches is one edge where they follow each other in line."""
    corners, rings = _corners(polygons)
    met: dict[tuple[int, int], list[str]] = defaultdict(list)
    walked: set[tuple[str, int, int]] = set()
    for ident, ring in _cut(corners, rings).items():
        own = {(a, b) for a, b in zip(ring, ring[1:] + ring[:1], strict=True)}
        for a, b in own:
            if a != b and (b, a) not in own:  # the way to a hole and back is no edge
                met[min(a, b), max(a, b)].append(ident)
                walked.add((ident, a, b))
    joined: dict[tuple[str, ...], list[tuple[int, int]]] = defaultdict(list)
    for (a, b), faces in met.items():
        who = tuple(sorted(faces))
        joined[who].append((a, b) if (who[0], a, b) in walked else (b, a))  # as the first of them walks it
    found = []
    for who, stretches in joined.items():
        for a, b in _in_line(stretches, corners):
            ends = _point(corners[a]), _point(corners[b])
            found.append(Meeting(who, ends, inner_angle(polygons[who[0]], polygons[who[1]], ends) if len(who) == 2 else 0.0))
    return tuple(found)


def inner_angle(first: Polygon, second: Polygon, ends: tuple[Point, Point]) -> float:
    """Angle between two faces, measured inside [°], along the edge in the direction the first one walks it."""
    (ax, ay, az), (bx, by, bz) = ends
    m, n = area_vector(first), area_vector(second)
    turned = m[1] * n[2] - m[2] * n[1], m[2] * n[0] - m[0] * n[2], m[0] * n[1] - m[1] * n[0]
    length = dist(*ends)
    sine = scalar(turned, (bx - ax, by - ay, bz - az)) / length if length > 0 else 0.0
    return 180.0 - degrees(atan2(sine, scalar(m, n)))


def edges_of(polygons: Mapping[str, Polygon]) -> tuple[Edge, ...]:
    """Where faces meet, each edge with an id from what meets there: it stays when other edges come and go."""
    found = meetings(polygons)
    at: dict[tuple[int, int, int], set[str]] = defaultdict(set)
    for m in found:
        for end in m.ends:
            at[_key(end)].update(m.faces)
    taken: dict[str, int] = defaultdict(int)
    made = []
    for m in sorted(found, key=lambda m: (m.faces, sorted(m.ends))):
        name = _named(m, polygons, at)
        taken[name] += 1
        made.append(Edge(name if taken[name] == 1 else f"{name}.{taken[name]}", m.faces, m.length, m.angle, m.ends))
    return tuple(made)


def _named(m: Meeting, polygons: Mapping[str, Polygon], at: Mapping[tuple[int, int, int], set[str]]) -> str:
    """“a+b” for where two faces meet; “a.left” or “a.right” for an end of a face, seen from outside, that needs no other to be told: an
    upright corner by the wall that begins there, a verge by its roof. A wall that is split keeps its first part, so that such an edge
    stays what it was. Where an edge is only a part of what could meet, what stands at its ends tells it from the rest."""
    name, owners = "+".join(m.faces), list(m.faces)
    if len(m.faces) == 2:
        ends = {f: _end_of(polygons[f], m.ends) for f in m.faces}
        begins = [f for f in m.faces if ends[f] == "left" and _upright(m.ends)]
        verges = [f for f in m.faces if ends[f] and not _upright(m.ends) and abs(area_vector(polygons[f])[2]) > CLOSE]
        for alone in (begins, verges):
            if len(alone) == 1:
                name, owners = f"{alone[0]}.{ends[alone[0]]}", alone
    if any(_whole_side(polygons[f], m.ends) for f in owners):
        return name
    others = sorted((at[_key(m.ends[0])] | at[_key(m.ends[1])]) - set(owners))
    return "~".join((name, *others))


def _upright(ends: tuple[Point, Point]) -> bool:
    (ax, ay, _), (bx, by, _) = ends
    return hypot(bx - ax, by - ay) < CLOSE


def _end_of(polygon: Polygon, ends: tuple[Point, Point]) -> str:
    """“left” or “right”, where an edge is that end of a face that is not level, seen from outside; ''."""
    x, y, _ = area_vector(polygon)
    flat = hypot(x, y)
    if flat < 1e-9:
        return ""
    right = -y / flat, x / flat
    first, last = (right[0] * p[0] + right[1] * p[1] for p in ends)
    along = [right[0] * p[0] + right[1] * p[1] for p in polygon]
    if abs(first - last) > CLOSE:
        return ""
    return "left" if first < min(along) + CLOSE else "right" if first > max(along) - CLOSE else ""


def _whole_side(polygon: Polygon, ends: tuple[Point, Point]) -> bool:
    """Whether an edge is a whole side of a face: no other edge of the two lies in line with it there."""
    (ax, ay, az), b = ends
    long = max(dist(ends[0], b), 1e-12)
    ux, uy, uz = (b[0] - ax) / long, (b[1] - ay) / long, (b[2] - az) / long
    on = []
    for x, y, z in polygon:
        dx, dy, dz = x - ax, y - ay, z - az
        t = dx * ux + dy * uy + dz * uz
        if (dx - t * ux) ** 2 + (dy - t * uy) ** 2 + (dz - t * uz) ** 2 < CLOSE * CLOSE:
            on.append(t)
    return bool(on) and max(on) - min(on) < long + CLOSE


def _key(p: Point) -> tuple[int, int, int]:
    return round(p[0] / CLOSE / 10), round(p[1] / CLOSE / 10), round(p[2] / CLOSE / 10)


def loose(polygons: Mapping[str, Polygon]) -> tuple[Meeting, ...]:
    """The edges that are not shared by exactly two faces: none in a closed shell."""
    return tuple(m for m in meetings(polygons) if len(m.faces) != 2)


def _point(p: np.ndarray) -> Point:
    return float(p[0]), float(p[1]), float(p[2])


AROUND = tuple((i, j, k) for i in (0, 1, -1) for j in (0, 1, -1) for k in (0, 1, -1))


def _corners(polygons: Mapping[str, Polygon]) -> tuple[np.ndarray, dict[str, list[int]]]:
    """(every corner once [n × 3], each polygon as numbers of corners)."""
    known: dict[tuple[int, int, int], int] = {}
    corners: list[Point] = []
    numbers: dict[Point, int] = {}
    for p in (p for polygon in polygons.values() for p in polygon):
        if p in numbers:
            continue
        x, y, z = round(p[0] / CLOSE), round(p[1] / CLOSE), round(p[2] / CLOSE)
        found = next((n for i, j, k in AROUND if (n := known.get((x + i, y + j, z + k))) is not None), None)
        if found is None:
            found = known[x, y, z] = len(corners)
            corners.append(p)
        numbers[p] = found
    return np.array(corners).reshape(-1, 3), {ident: [numbers[p] for p in polygon] for ident, polygon in polygons.items()}


def _cut(corners: np.ndarray, rings: dict[str, list[int]]) -> dict[str, list[int]]:
    """Each polygon with the corners that lie on its sides put in."""
    wanted = {(min(a, b), max(a, b)) for ring in rings.values() for a, b in zip(ring, ring[1:] + ring[:1], strict=True) if a != b}
    between = _on_sides(corners, sorted(wanted))
    found = {}
    for ident, ring in rings.items():
        made: list[int] = []
        for a, b in zip(ring, ring[1:] + ring[:1], strict=True):
            if a != b:
                inner = between[min(a, b), max(a, b)]
                made += [a, *(inner if a < b else inner[::-1])]
        found[ident] = made
    return found


def _on_sides(corners: np.ndarray, sides: list[tuple[int, int]]) -> dict[tuple[int, int], list[int]]:
    """The corners that lie on each side, its ends left out, in order from the first."""
    if not sides:
        return {}
    ends = np.array(sides)
    start = corners[ends[:, 0]]
    along = corners[ends[:, 1]] - start
    length = np.linalg.norm(along, axis=1)
    way = along / length[:, None]
    t = way @ corners.T - np.einsum("ij,ij->i", way, start)[:, None]
    square = (corners**2).sum(axis=1)[None, :] - 2 * start @ corners.T + (start**2).sum(axis=1)[:, None]
    on = (square - t**2 < CLOSE**2) & (t > CLOSE / 4) & (t < length[:, None] - CLOSE / 4)
    found: dict[tuple[int, int], list[int]] = {side: [] for side in sides}
    for n in np.flatnonzero(on.any(axis=1)).tolist():
        found[sides[n]] = sorted(np.flatnonzero(on[n]).tolist(), key=lambda k: float(t[n, k]))
    return found


def _in_line(stretches: list[tuple[int, int]], corners: np.ndarray) -> list[tuple[int, int]]:
    """Stretches that follow each other in line, joined."""
    left = list(stretches)
    found = []
    while left:
        a, b = left.pop()
        grown = True
        while grown:
            grown = False
            for other in left:
                shared = {a, b} & set(other)
                if len(shared) != 1:
                    continue
                (end,) = shared
                far = a if end == b else b
                new = other[0] if other[1] == end else other[1]
                first, second = corners[end] - corners[far], corners[new] - corners[end]
                if first @ second > 0 and np.linalg.norm(np.cross(first, second)) < CLOSE * np.linalg.norm(first + second):
                    (a, b), grown = ((far, new) if end == b else (new, far)), True
                    left.remove(other)
                    break
        found.append((a, b))
    return found
