"""Whether polygons close a space, and the edges where they meet: sides are cut at every corner that lies on them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from nuthatch.core.plans.polygons import Point, Polygon, angle_between, length_of

CLOSE = 1e-3
"""Corners nearer than this are one, and lie on a side that is nearer than this [m]."""


@dataclass(frozen=True)
class Meeting:
    """A straight edge along which faces meet: their ids, its ends, and the angle between their outward directions [°]; 0 where
    it is not two."""

    faces: tuple[str, ...]
    ends: tuple[Point, Point]
    angle: float

    @property
    def length(self) -> float:
        return length_of(self.ends)


def meetings(polygons: Mapping[str, Polygon]) -> tuple[Meeting, ...]:
    """All edges of a shell; one that two faces share in several stretches is one edge where they follow each other in line."""
    corners = _corners(polygons)
    met: dict[tuple[int, int], list[str]] = defaultdict(list)
    for ident, ring in _cut(polygons, corners).items():
        own = {(a, b) for a, b in zip(ring, ring[1:] + ring[:1], strict=True)}
        for a, b in own:
            if a != b and (b, a) not in own:  # the way to a hole and back is no edge
                met[min(a, b), max(a, b)].append(ident)
    joined: dict[tuple[str, ...], list[tuple[int, int]]] = defaultdict(list)
    for ends, faces in met.items():
        joined[tuple(sorted(faces))].append(ends)
    found = []
    for who, stretches in joined.items():
        angle = angle_between(polygons[who[0]], polygons[who[1]]) if len(who) == 2 else 0.0
        found += [Meeting(who, (_point(corners[a]), _point(corners[b])), angle) for a, b in _in_line(stretches, corners)]
    return tuple(found)


def loose(polygons: Mapping[str, Polygon]) -> tuple[Meeting, ...]:
    """The edges that are not shared by exactly two faces: none in a closed shell."""
    return tuple(m for m in meetings(polygons) if len(m.faces) != 2)


def _point(p: np.ndarray) -> Point:
    return float(p[0]), float(p[1]), float(p[2])


def _corners(polygons: Mapping[str, Polygon]) -> np.ndarray:
    """Every corner once [n × 3]."""
    known: dict[tuple[int, int, int], Point] = {}
    for polygon in polygons.values():
        for p in polygon:
            key = round(p[0] / CLOSE), round(p[1] / CLOSE), round(p[2] / CLOSE)
            if not any((key[0] + i, key[1] + j, key[2] + k) in known for i in (0, 1, -1) for j in (0, 1, -1) for k in (0, 1, -1)):
                known[key] = p
    return np.array(list(known.values())) if known else np.zeros((0, 3))


def _cut(polygons: Mapping[str, Polygon], corners: np.ndarray) -> dict[str, list[int]]:
    """Each polygon as numbers of corners, with those that lie on its sides put in."""
    points = np.array([p for polygon in polygons.values() for p in polygon]).reshape(-1, 3)
    nearest = cKDTree(corners).query(points)[1].tolist() if len(corners) else []
    rings, at = {}, 0
    for ident, polygon in polygons.items():
        rings[ident] = nearest[at : at + len(polygon)]
        at += len(polygon)
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
                    a, b, grown = far, new, True
                    left.remove(other)
                    break
        found.append((a, b))
    return found
