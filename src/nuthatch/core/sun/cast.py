"""The shadows of one hour on the faces of the home: what stands before each plane, projected along the sun, joined, cut to the face."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from nuthatch.core.results.figure import Array
from nuthatch.core.sun.edges import GRAZING
from nuthatch.core.sun.standing import Opened, Piece, Thing, before

SMALL = 0.01
"""A shadow smaller than this is not shown [m²]."""


@dataclass(frozen=True, eq=False)
class _Faced:
    """A face in its own plane, and what stands before it."""

    opened: Opened
    flat: shapely.Geometry
    pieces: tuple[Piece, ...]


class Casting:
    """The faces of a home and what may cast a shadow on them, in east, north, up [m]; worked out once, for any sun."""

    def __init__(self, faces: Mapping[str, Array], things: tuple[Thing, ...]) -> None:
        self._faces = {k: f for k, p in faces.items() if (f := _faced(p, things)) is not None}

    def at(self, sun: Array) -> dict[str, tuple[Array, ...]]:
        """The parts of each face (k, 3) that lie in shadow under a sun in this direction; a face turned away from it whole. The light
        that passes a tree is not told from its shadow."""
        return {k: _in_shadow(f, sun) for k, f in self._faces.items()}


def _faced(ring: Array, things: tuple[Thing, ...]) -> _Faced | None:
    """A face by its outline, outward counter-clockwise; None where it has no area."""
    normal = np.sum(np.cross(ring - ring[0], np.roll(ring, -1, axis=0) - ring[0]), axis=0)
    long = np.linalg.norm(normal)
    if long < 1e-6:
        return None
    n = normal / long
    along = np.array([-n[1], n[0], 0.0]) if abs(n[2]) < 0.999 else np.array([1.0, 0.0, 0.0])
    u = along / np.linalg.norm(along)
    opened = Opened(ring[0], np.array([u, np.cross(n, u), n]), 1.0, 1.0)
    flat = shapely.make_valid(shapely.Polygon(opened.local(ring)[:, :2]))
    return _Faced(opened, flat, tuple(before(opened, things)))


def _in_shadow(face: _Faced, sun: Array) -> tuple[Array, ...]:
    own = face.opened.axes @ sun
    if own[2] <= GRAZING:
        return _back(face, face.flat)
    shadows = []
    for piece in face.pieces:
        ends = piece.edges - piece.edges[..., 2:] * (own / own[2])
        if piece.thing.body:
            shadows.append(shapely.MultiPoint(ends.reshape(-1, 3)[:, :2]).convex_hull)
        else:
            shadows.append(shapely.make_valid(shapely.Polygon(ends[:, 0, :2])))
    near = [s for s in shadows if s.intersects(face.flat)]
    return _back(face, shapely.intersection(shapely.union_all(near), face.flat)) if near else ()


def _back(face: _Faced, flat: shapely.Geometry) -> tuple[Array, ...]:
    """Polygons of the plane in space; a hole is joined to its ring by a cut."""
    found = []
    for part in shapely.get_parts(flat):
        if not isinstance(part, shapely.Polygon) or part.area < SMALL:
            continue
        for whole in shapely.get_parts(shapely.constrained_delaunay_triangles(part)) if part.interiors else (part,):
            points = np.array(whole.exterior.coords)[:-1, :2]
            found.append(face.opened.corner + points @ face.opened.axes[:2])
    return tuple(found)
