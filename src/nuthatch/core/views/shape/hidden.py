"""Hidden faces: a binary space partition orders convex polygons from back to front for a parallel view."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

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
    """A polygon as convex parts: itself where convex, else a fan of triangles by ear clipping in its plane."""
    points = [np.asarray(p) for p in piece.polygon]
    n = normal(piece.polygon)
    indices = list(range(len(points)))

    def turn(i: int, j: int, k: int) -> float:
        return float(np.cross(points[j] - points[i], points[k] - points[j]) @ n)

    size = len(indices)
    if all(turn(indices[i - 1], indices[i], indices[(i + 1) % size]) >= -EPS for i in range(size)):
        return [piece]
    triangles = []
    while len(indices) > 3:
        for at in range(len(indices)):
            i, j, k = indices[at - 1], indices[at], indices[(at + 1) % len(indices)]
            if turn(i, j, k) <= EPS:
                continue
            others = [m for m in indices if m not in (i, j, k)]
            if any(min(_area_sign(points, a, b, m, n) for a, b in ((i, j), (j, k), (k, i))) >= -EPS for m in others):
                continue
            triangles.append(Piece(piece.id, (piece.polygon[i], piece.polygon[j], piece.polygon[k])))
            indices.pop(at)
            break
        else:
            break
    triangles.append(Piece(piece.id, tuple(piece.polygon[m] for m in indices)))
    return triangles


def _area_sign(points: list[Vector], a: int, b: int, m: int, n: Vector) -> float:
    return float(np.cross(points[b] - points[a], points[m] - points[a]) @ n)
