"""What stands before an opening: bodies and faces in space, and what of the opening they leave in the sun, cell by cell.

A shadow is looked at by rays from points of the opening in ROWS rows and COLUMNS columns: in each row it begins and ends where the edges
of what casts it do.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from nuthatch.core.results.figure import Array
from nuthatch.core.sun.edges import GRAZING, slopes

CELLS = 4
"""An opening is kept in so many cells across and up."""
ROWS, COLUMNS = 32, 64
"""Points of an opening that are looked at; of even light a quarter of the rows."""
BEFORE = 0.02
"""What is nearer to the plane of an opening than this is not before it [m]."""


@dataclass(frozen=True, eq=False)
class Thing:
    """Something that may stand in the way: faces in space (k, 3) [m], east, north, up; `body`: they enclose what is convex, and its shadow is
    one. What of the light passes it with leaves and without."""

    id: str
    faces: tuple[Array, ...]
    body: bool = False
    summer: float = 0.0
    winter: float = 0.0

    @property
    def opaque(self) -> bool:
        return self.summer == 0.0 == self.winter


@dataclass(frozen=True, eq=False)
class Opened:
    """An opening in space: its lower left corner [m], the axes u, v, n of its plane, its size [m]."""

    corner: Array
    axes: Array
    width: float
    height: float

    def local(self, points: Array) -> Array:
        """Points in its own coordinates."""
        return np.asarray((points - self.corner) @ self.axes.T)


@dataclass(frozen=True, eq=False)
class Piece:
    """A convex part of a thing that lies before an opening: its edges in the opening's coordinates, (k, 2, 3)."""

    edges: Array
    thing: Thing


@lru_cache(maxsize=4)
def _points(things: tuple[Thing, ...]) -> Array:
    """All corners of things, (n, 3) [m]."""
    return np.concatenate([f for thing in things for f in thing.faces]) if things else np.empty((0, 3))


def reaches_before(opened: Opened, things: tuple[Thing, ...]) -> bool:
    """Whether anything lies before an opening's plane; what of it, `before` tells, which takes longer."""
    return bool(((_points(things) - opened.corner) @ opened.axes[2] > BEFORE).any())


def before(opened: Opened, things: tuple[Thing, ...]) -> list[Piece]:
    """What of all things lies before an opening's plane."""
    found = []
    for thing in things:
        own = [opened.local(f) for f in thing.faces]
        if all(f[:, 2].max() <= BEFORE for f in own):
            continue
        parts = [p for f in own for p in _cut(f, thing.body)]
        if thing.body:
            edges = np.concatenate([_edges(p) for p in parts])
            found.append(Piece(_once(edges), thing))
        else:
            found += [Piece(_edges(p), thing) for p in parts]
    return found


def _next(ring: Array) -> Array:
    """The corner after each."""
    return np.concatenate([ring[1:], ring[:1]])


def _edges(ring: Array) -> Array:
    return np.stack([ring, _next(ring)], axis=1)


def _once(edges: Array) -> Array:
    """Each edge once, whichever way it goes."""
    keys = {tuple(sorted((tuple(a), tuple(b)))) for a, b in np.round(edges, 6).tolist()}
    return np.array(sorted(keys))


def _cut(face: Array, convex: bool) -> Iterator[Array]:
    """The convex parts of a plane face before the plane n = BEFORE."""
    for part in (face,) if convex else _convex(face):
        n = part[:, 2]
        if n.min() >= BEFORE:
            yield part
        elif n.max() > BEFORE:
            cut = []
            for p, q in zip(part, _next(part), strict=True):
                if p[2] >= BEFORE:
                    cut.append(p)
                if (p[2] >= BEFORE) != (q[2] >= BEFORE):
                    cut.append(p + (q - p) * (BEFORE - p[2]) / (q[2] - p[2]))
            if len(cut) > 2:
                yield np.array(cut)


def _convex(face: Array) -> Iterator[Array]:
    """A plane face as convex parts: itself, or triangles."""
    if len(face) < 4:
        yield face
        return
    spans = _next(face) - face
    turns = np.cross(spans, _next(spans))
    normal = np.sum(np.cross(face - face[0], _next(face) - face[0]), axis=0)
    if (turns @ normal >= -1e-12).all():
        yield face
        return
    long = np.linalg.norm(normal)
    along = spans[int(np.argmax(np.linalg.norm(spans, axis=1)))]
    along = along / np.linalg.norm(along)
    across = np.cross(normal / long, along)
    flat = shapely.Polygon(np.stack([(face - face[0]) @ along, (face - face[0]) @ across], axis=-1))
    for part in shapely.get_parts(shapely.constrained_delaunay_triangles(flat if flat.is_valid else shapely.make_valid(flat))):
        xy = np.asarray(part.exterior.coords)[:3]
        yield face[0] + xy[:, :1] * along + xy[:, 1:] * across


def cells_lit(opened: Opened, pieces: list[Piece], directions: Array, passing: Array, rows: int = ROWS) -> Array:
    """Share of the light of each direction that reaches each cell of an opening, (ways, directions, CELLS up, CELLS across). directions:
    toward the light, in the opening's own coordinates, (k, 3); passing: what of the light passes each piece, (ways, pieces, directions)."""
    lit = np.ones((len(passing), len(directions), rows, COLUMNS), np.float32)
    ways = slopes(directions)
    usable = directions[:, 2] > GRAZING
    for n, piece in enumerate(pieces):
        at, dark = _shadow(opened, piece.edges, ways, usable, rows)
        if at.size:
            for way, part in enumerate(passing):
                lit[way, at] *= np.where(dark, part[n][at].astype(np.float32)[:, None, None], np.float32(1.0))
    whole = lit.reshape(len(passing), len(directions), CELLS, rows // CELLS, CELLS, COLUMNS // CELLS)
    return np.asarray(whole.mean(axis=(3, 5)), float)


def _shadow(
    opened: Opened, edges: Array, way: tuple[Array, Array], usable: NDArray[np.bool_], rows: int
) -> tuple[NDArray[np.intp], NDArray[np.bool_]]:
    """(directions whose shadow falls on the opening, which points of its rows and columns it takes)."""
    a, b = (w.astype(np.float32) for w in way)  # a shadow far off to a millimetre: half the memory to go through
    edges = edges.astype(np.float32)
    u = edges[..., 0] - edges[..., 2] * a[:, None, None]
    v = edges[..., 1] - edges[..., 2] * b[:, None, None]
    flat_u, flat_v = u.reshape(len(a), -1), v.reshape(len(a), -1)
    near = usable & (flat_u.max(1) > 0) & (flat_u.min(1) < opened.width) & (flat_v.max(1) > 0) & (flat_v.min(1) < opened.height)
    at = np.flatnonzero(near)
    if not at.size:
        return at, np.zeros((0, rows, COLUMNS), bool)
    u, v = u[at], v[at]
    level = ((np.arange(rows) + 0.5) / rows * opened.height).astype(np.float32)
    low, high = v.min(2)[..., None], v.max(2)[..., None]
    run = np.where(np.abs(v[..., 1] - v[..., 0]) > 1e-12, v[..., 1] - v[..., 0], np.float32(1.0))
    slope = (u[..., 1] - u[..., 0]) / run
    here = u[..., 0, None] + (level - v[..., 0, None]) * slope[..., None]
    crosses = (low <= level) & (level <= high) & (high - low > 1e-12)
    left = np.where(crosses, here, np.float32(np.inf)).min(1)
    right = np.where(crosses, here, np.float32(-np.inf)).max(1)
    column = ((np.arange(COLUMNS) + 0.5) / COLUMNS * opened.width).astype(np.float32)
    return at, (left[..., None] <= column) & (column < right[..., None])
