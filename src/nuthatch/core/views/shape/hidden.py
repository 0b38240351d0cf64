"""Hidden faces: a binary space partition orders convex polygons from back to front for a parallel view."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
import shapely.geometry.polygon

from nuthatch.core.plans.polygons import Point, Vector, normal

EPS = 1e-7


@dataclass(frozen=True, eq=False)
class Piece:
    """A face or a part of one, with the face's id."""

    id: str
    polygon: tuple[Point, ...]


@dataclass(frozen=True, eq=False)
class _Node:
    plane: tuple[Vector, float]
    here: tuple[Piece, ...]
    front: _Node | None
    back: _Node | None


def _split(piece: Piece, n: Vector, d: float) -> tuple[Piece | None, Piece | None]:
    """(part in front, part behind) of a plane."""
    front: list[Point] = []
    back: list[Point] = []
    points = piece.polygon
    sides = [float(n @ np.asarray(p)) - d for p in points]
    for i, (p, s) in enumerate(zip(points, sides, strict=True)):
        q, t = points[(i + 1) % len(points)], sides[(i + 1) % len(points)]
        if s >= -EPS:
            front.append(p)
        if s <= EPS:
            back.append(p)
        if (s > EPS and t < -EPS) or (s < -EPS and t > EPS):
            k = s / (s - t)
            cut = (p[0] + k * (q[0] - p[0]), p[1] + k * (q[1] - p[1]), p[2] + k * (q[2] - p[2]))
            front.append(cut)
            back.append(cut)
    return (Piece(piece.id, tuple(front)) if len(front) > 2 else None, Piece(piece.id, tuple(back)) if len(back) > 2 else None)


def _tree(pieces: list[Piece]) -> _Node | None:
    if not pieces:
        return None
    vector = normal(pieces[0].polygon)
    length = float(np.linalg.norm(vector))
    if length < EPS:
        return _tree(pieces[1:])
    n = vector / length
    d = float(n @ np.asarray(pieces[0].polygon[0]))
    here, front, back = [pieces[0]], [], []
    for piece in pieces[1:]:
        sides = np.asarray(piece.polygon) @ n - d
        if np.all(np.abs(sides) <= EPS):
            here.append(piece)
        elif np.all(sides >= -EPS):
            front.append(piece)
        elif np.all(sides <= EPS):
            back.append(piece)
        else:
            a, b = _split(piece, n, d)
            front += [a] if a else []
            back += [b] if b else []
    return _Node((n, d), tuple(here), _tree(front), _tree(back))


def back_to_front(pieces: list[Piece], toward_viewer: Vector) -> list[Piece]:
    """Convex polygons in painting order for a viewer far away in direction `toward_viewer`; some may be split."""
    return _in_order(_tree(pieces), toward_viewer)


@lru_cache(maxsize=8)
def _tree_of(outlines: tuple[tuple[str, tuple[Point, ...]], ...]) -> _Node | None:
    """The partition of outlines: it does not depend on where they are looked at from, so turning keeps it."""
    return _tree([part for ident, polygon in outlines for part in convex_parts(Piece(ident, polygon))])


def painted(outlines: tuple[tuple[str, tuple[Point, ...]], ...], toward_viewer: Vector) -> list[Piece]:
    """Outlines, convex or not, in painting order."""
    return _in_order(_tree_of(outlines), toward_viewer)


def _in_order(tree: _Node | None, toward_viewer: Vector) -> list[Piece]:
    found: list[Piece] = []

    def visit(node: _Node | None) -> None:
        if node is None:
            return
        facing = float(node.plane[0] @ toward_viewer) >= 0
        visit(node.back if facing else node.front)
        found.extend(node.here)
        visit(node.front if facing else node.back)

    visit(tree)
    return found


def view_axes(turn: float, height: float) -> tuple[Vector, Vector, Vector]:
    """(right, up, toward the viewer) for a view turned by `turn` ° and seen from `height` ° above the horizon."""
    t, h = np.radians(turn), np.radians(height)
    toward = np.array([np.sin(t) * np.cos(h), -np.cos(t) * np.cos(h), np.sin(h)])
    right = np.array([np.cos(t), np.sin(t), 0.0])
    return right, np.cross(toward, right), toward


def convex_parts(piece: Piece) -> list[Piece]:
    """A polygon as convex parts: itself where it is convex, else triangles between its own corners."""
    n = normal(piece.polygon)
    points = np.array(piece.polygon)
    turns = np.cross(np.roll(points, -1, axis=0) - points, np.roll(points, -2, axis=0) - np.roll(points, -1, axis=0)) @ n
    if np.all(turns >= -EPS):
        return [piece]
    flat, away = _flattened(points, n)
    made = shapely.constrained_delaunay_triangles(shapely.Polygon(flat))
    corners = {tuple(np.round(f, 9)): p for f, p in zip(flat, piece.polygon, strict=True)}
    found = []
    for triangle in shapely.get_parts(made):
        ring = list(shapely.geometry.polygon.orient(triangle, away).exterior.coords)[:-1]
        found.append(Piece(piece.id, tuple(corners[tuple(np.round(p, 9))] for p in ring)))
    return found or [piece]


def _flattened(points: Vector, n: Vector) -> tuple[Vector, float]:
    """(points without the coordinate their plane says least of, how a ring that is walked as they are turns there)."""
    out = int(np.argmax(np.abs(n)))
    kept = [axis for axis in range(3) if axis != out]
    turn = float(np.sign(n[out])) * (-1.0 if out == 1 else 1.0)
    return points[:, kept], turn
