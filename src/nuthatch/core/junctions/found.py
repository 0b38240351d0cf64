"""The junctions of a home, found from its shape: every edge where envelope faces meet, and every storey's floor along the walls it meets.
Equal ones are one junction at several places."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from nuthatch.core.junctions.families import SHORTEST, Bend, Lying, Told, Way, bend_of, kind_of, told, way_of
from nuthatch.core.plans.polygons import Point, Polygon
from nuthatch.core.solid.solid import Boundary, Edge, Storey

NEAR = 0.02
"""Within this a wall ends at a storey's floor, or a face of the loft stands on an edge [m]."""
STARTS, BESIDE = 1.0, 0.6
"""A slope of the loft that begins so high above a ceiling's edge, so far beside it, makes it an eaves [m]."""
UPPER_FLOOR = "upper floor"


@dataclass(frozen=True)
class Place:
    """One stretch of a junction: the edge's id, the faces that meet, its ends [m], its length along outer and inner faces [m]."""

    edge: str
    faces: tuple[str, ...]
    ends: tuple[Point, Point]
    outer: float
    inner: float


@dataclass(frozen=True)
class Found:
    """A junction by what meets there. key: stays while the same build-ups meet in the same way; answers: its family, or those a person
    chooses among; borders: what lies behind each build-up; angle between the faces inside [°]."""

    key: str
    answers: tuple[str, ...]
    buildups: tuple[str, ...]
    borders: tuple[str, ...]
    way: Way
    bend: Bend
    angle: float
    places: tuple[Place, ...]

    @property
    def outer(self) -> float:
        """Length along the outer faces [m]."""
        return sum(p.outer for p in self.places)

    @property
    def inner(self) -> float:
        """Length along the inner faces [m]."""
        return sum(p.inner for p in self.places)

    @property
    def family(self) -> str:
        """'' while it is asked."""
        return self.answers[0] if len(self.answers) == 1 else ""


@dataclass(frozen=True)
class Shape:
    """What junctions are found in: faces by id, edges and which dimensions they are in, outer and inner outlines, storeys, the faces of unheated
    spaces."""

    faces: Mapping[str, Boundary]
    edges: tuple[Edge, ...]
    external: bool
    outer: Mapping[str, Polygon]
    inner: Mapping[str, Polygon]
    storeys: tuple[Storey, ...] = ()
    around: tuple[Boundary, ...] = ()


def found(shape: Shape, other: tuple[Edge, ...]) -> tuple[Found, ...]:
    """Every junction, the longest first within its kind. other: the edges along the other side of the faces, by which a length in both
    dimensions is known."""
    levels = [s.level for s in shape.storeys]
    beside = _Lengths(other)
    rows: list[tuple[Told, Lying, tuple[Boundary, ...], Place]] = []
    for edge in shape.edges:
        faces = tuple(shape.faces[f] for f in edge.boundaries if f in shape.faces)
        if len(faces) != len(edge.boundaries) or len(faces) < 2 or edge.length < SHORTEST:  # an open edge is the shape's question
            continue
        lying = _lying(edge, faces, levels, shape.around)
        kind = told(faces, lying)
        if kind.answers != ("",):
            far = beside(edge)
            lengths = (edge.length, far) if shape.external else (far, edge.length)
            rows.append((kind, lying, faces, Place(edge.id, edge.boundaries, edge.ends, *lengths)))
    rows += _floors(shape)
    return _grouped(rows)


def _lying(edge: Edge, faces: tuple[Boundary, ...], levels: list[float], around: tuple[Boundary, ...]) -> Lying:
    way, bend = way_of(edge.ends, edge.length), bend_of(edge.angle)
    height = edge.ends[0][2]
    storey = way == "level" and any(abs(height - level) < 0.6 for level in levels[1:])
    above = _above(edge, around) if way == "level" and any(kind_of(f) == "ceiling" for f in faces) else ""
    return Lying(way, bend, edge.angle, storey, above)


def _above(edge: Edge, around: tuple[Boundary, ...]) -> str:
    """What of the loft stands on an edge of its floor: “slope”, “wall”, '' for neither."""
    a, b = (np.array(p) for p in edge.ends)
    run = (b - a) / max(edge.length, 1e-9)
    middle = (a + b) / 2
    slope = False
    for face in around:
        if face.outline is None or face.tilt > 120:
            continue
        ring = np.array(face.outline)
        off = ring - middle
        along = off @ run
        if along.min() > 0 or along.max() < 0:
            continue
        aside = np.linalg.norm(off[:, :2] - np.outer(along, run[:2]), axis=1)
        low = ring[:, 2] < edge.ends[0][2] + STARTS
        if face.tilt >= 60 and (aside < BESIDE).all() and ring[:, 2].max() > edge.ends[0][2] + STARTS:
            return "wall"
        slope = slope or (face.tilt < 60 and bool((low & (aside < BESIDE)).sum() >= 2))
    return "slope" if slope else ""


class _Lengths:
    """How long an edge is along the other side of its faces: the stretch that the same faces share there nearest to it."""

    def __init__(self, other: tuple[Edge, ...]) -> None:
        self._by_faces: dict[tuple[str, ...], list[Edge]] = defaultdict(list)
        for edge in other:
            self._by_faces[edge.boundaries].append(edge)

    def __call__(self, edge: Edge) -> float:
        there = self._by_faces.get(edge.boundaries, [])
        if not there:
            return 0.0
        middle = np.mean(edge.ends, axis=0)
        return min(there, key=lambda e: float(np.linalg.norm(np.mean(e.ends, axis=0) - middle))).length


def _floors(shape: Shape) -> Iterator[tuple[Told, Lying, tuple[Boundary, ...], Place]]:
    """A wall that passes a storey's floor without ending there, as those of a quick form: an upper floor along it."""
    for storey in shape.storeys[1:]:
        for face in shape.faces.values():
            polygon = shape.outer.get(face.id)
            if polygon is None or kind_of(face) != "wall":
                continue
            inner = shape.inner.get(face.id)
            for n, (a, b) in enumerate(across(polygon, storey.level)):
                outer = float(np.hypot(b[0] - a[0], b[1] - a[1]))
                if outer < SHORTEST:
                    continue
                within = list(across(inner, storey.level)) if inner is not None else []
                inside = float(np.hypot(*(np.array(within[n][1][:2]) - within[n][0][:2]))) if n < len(within) else outer
                place = Place(f"{face.id}@{storey.name}" + (f".{n + 1}" if n else ""), (face.id,), (a, b), outer, inside)
                yield Told((UPPER_FLOOR,)), Lying("level", "coplanar", 180.0, True), (face, face), place


def across(polygon: Polygon, level: float) -> Iterator[tuple[Point, Point]]:
    """Where a level passes through an upright face, not along its top or foot."""
    heights = [p[2] for p in polygon]
    if not min(heights) + NEAR < level < max(heights) - NEAR:
        return
    points = []
    for a, b in zip(polygon, polygon[1:] + polygon[:1], strict=True):
        if (a[2] > level) != (b[2] > level):
            t = (level - a[2]) / (b[2] - a[2])
            points.append((a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), level))
    points.sort()
    for n, (a, b) in enumerate(pairwise(points)):
        if n % 2 == 0:
            yield a, b


def _grouped(rows: Iterable[tuple[Told, Lying, tuple[Boundary, ...], Place]]) -> tuple[Found, ...]:
    """Equal ones together."""
    groups: dict[str, list[tuple[Told, Lying, tuple[Boundary, ...], Place]]] = defaultdict(list)
    for row in rows:
        groups[_key(row[0], row[1], row[2])].append(row)
    made = []
    for key, same in groups.items():
        kind, lying, faces, _ = same[0]
        sides = _sides(faces)
        made.append(
            Found(
                key, kind.answers, tuple(b for b, _ in sides), tuple(w for _, w in sides), lying.way, lying.bend, lying.angle,
                tuple(sorted((r[3] for r in same), key=lambda p: -p.outer)),
            )
        )  # fmt: skip
    return tuple(sorted(made, key=lambda f: (-len(f.answers), f.answers, -f.outer)))


def _sides(faces: tuple[Boundary, ...]) -> list[tuple[str, str]]:
    """(build-up, what lies behind it) of the faces, in an order that does not depend on which came first."""
    return sorted((f.buildup, f.beyond.id if f.beyond.kind in ("unheated", "neighbour") else f.beyond.kind) for f in faces)


def _key(kind: Told, lying: Lying, faces: tuple[Boundary, ...]) -> str:
    """What meets there: the answers, the build-ups with what lies behind them, the angle where it is not square or flat."""
    sides = "+".join(f"{buildup}>{beyond}" for buildup, beyond in _sides(faces))
    turned = "" if min(abs(lying.angle - a) for a in (90, 180, 270)) < 1 else f"@{round(lying.angle)}"
    return f"{'|'.join(kind.answers)}:{sides}{turned}"
