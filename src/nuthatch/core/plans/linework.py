"""Lines of a plan made into a net: cut wherever they meet, what all but falls together made one, so that cells share their corners."""

from __future__ import annotations

from math import floor

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.plans.roofs import Point2

NEAR = 5e-4
"""Points nearer than this are one, and lie on a line that is nearer than this [m]."""
ROUNDS = 12
Numbers = NDArray[np.int64]
Coordinates = NDArray[np.float64]


BOX = 16 * NEAR
"""Points are looked for in boxes so large, and in the next one where they lie near its border [m]."""


def _beside(offset: float) -> tuple[int, ...]:
    return (0, -1) if offset < NEAR else (0, 1) if offset > BOX - NEAR else (0,)


class Points:
    """Points of a plane, each once: what is nearer than a fraction of a millimetre to one that is known becomes it."""

    def __init__(self) -> None:
        self._cells: dict[tuple[int, int], list[int]] = {}
        self.all: list[Point2] = []

    def number(self, x: float, y: float) -> int:
        """The number of the point here."""
        i, j = floor(x / BOX), floor(y / BOX)
        best, least = -1, NEAR
        for di in _beside(x - i * BOX):
            for dj in _beside(y - j * BOX):
                for n in self._cells.get((i + di, j + dj), ()):
                    far = ((self.all[n][0] - x) ** 2 + (self.all[n][1] - y) ** 2) ** 0.5
                    if far < least:
                        best, least = n, far
        if best < 0:
            best = len(self.all)
            self.all.append((float(x), float(y)))
            self._cells.setdefault((i, j), []).append(best)
        return best

    def at(self, x: float, y: float) -> Point2:
        """The point here."""
        return self.all[self.number(x, y)]


def net(segments: list[tuple[Point2, Point2]]) -> list[tuple[Point2, Point2]]:
    """The segments cut at every point where they meet, each stretch once; what is drawn first gives the corners their place.

    Segments nearer to each other than NEAR along a stretch are one there.
    """
    points = Points()
    edges = _distinct(np.array([[points.number(*a), points.number(*b)] for a, b in segments], dtype=np.int64).reshape(-1, 2))
    for _ in range(ROUNDS):
        cut = _cut_at_points(edges, np.array(points.all, dtype=float).reshape(-1, 2))
        crossed, new = _cut_at_crossings(cut, points)
        if not new and np.array_equal(cut, edges):
            break
        edges = crossed
    return [(points.all[a], points.all[b]) for a, b in edges.tolist()]


def _distinct(edges: Numbers) -> Numbers:
    edges = np.sort(edges[edges[:, 0] != edges[:, 1]], axis=1)
    return np.unique(edges, axis=0) if len(edges) else edges


def _cut_at_points(edges: Numbers, points: Coordinates) -> Numbers:
    """Every edge cut at the points that lie on it."""
    if not len(edges):
        return edges
    start, along = points[edges[:, 0]], points[edges[:, 1]] - points[edges[:, 0]]
    length = np.hypot(along[:, 0], along[:, 1])
    offset = points[None, :, :] - start[:, None, :]
    t = (offset * along[:, None, :]).sum(axis=2) / length[:, None]
    far = np.abs(offset[:, :, 0] * along[:, None, 1] - offset[:, :, 1] * along[:, None, 0]) / length[:, None]
    on = (far < NEAR) & (t > NEAR / 2) & (t < length[:, None] - NEAR / 2)
    rows = np.arange(len(edges))
    on[rows, edges[:, 0]] = on[rows, edges[:, 1]] = False
    hit = on.any(axis=1)
    made = [edges[~hit]]
    for n in np.flatnonzero(hit).tolist():
        between = sorted(np.flatnonzero(on[n]).tolist(), key=lambda k: float(t[n, k]))
        chain = np.array([edges[n, 0], *between, edges[n, 1]])
        made.append(np.stack([chain[:-1], chain[1:]], axis=1))
    return _distinct(np.concatenate(made))


def _cut_at_crossings(edges: Numbers, points: Points) -> tuple[Numbers, bool]:
    """Every edge cut where another crosses it between its ends; whether any was."""
    where = np.array(points.all, dtype=float).reshape(-1, 2)
    a, d = where[edges[:, 0]], where[edges[:, 1]] - where[edges[:, 0]]
    turn = d[:, None, 0] * d[None, :, 1] - d[:, None, 1] * d[None, :, 0]
    gap = a[None, :, :] - a[:, None, :]
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (gap[:, :, 0] * d[None, :, 1] - gap[:, :, 1] * d[None, :, 0]) / turn
    inside = np.isfinite(s) & (s > 1e-9) & (s < 1 - 1e-9)
    both = inside & inside.T
    shared = (edges[:, None, :, None] == edges[None, :, None, :]).any(axis=(2, 3))
    both &= ~shared
    found: dict[int, list[tuple[float, int]]] = {}
    for i, j in np.argwhere(np.triu(both)).tolist():
        x, y = a[i] + s[i, j] * d[i]
        n = points.number(x, y)
        found.setdefault(i, []).append((float(s[i, j]), n))
        found.setdefault(j, []).append((float(s[j, i]), n))
    made = [np.delete(edges, list(found), axis=0)]
    for i, cuts in found.items():
        chain = np.array([edges[i, 0], *(n for _, n in sorted(cuts)), edges[i, 1]])
        made.append(np.stack([chain[:-1], chain[1:]], axis=1))
    return _distinct(np.concatenate(made)), bool(found)
