"""The solid of storey plans and roofs: every face between two spaces, or between a space and what lies around it, as a polygon."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise
from math import atan2, degrees
from typing import ClassVar

import shapely
from shapely.geometry.polygon import orient

from nuthatch.core.plans.arrangement import (
    GROUND,
    HEATED,
    NOTHING,
    OUTSIDE,
    Ground,
    PlanCell,
    PlanOutline,
    SlopingGround,
    SpaceLayer,
    cells_of,
    pieces,
)
from nuthatch.core.plans.linework import NEAR, Points
from nuthatch.core.plans.polygons import Point, Polygon
from nuthatch.core.plans.roofs import Point2, RoofPart, RoofPlane
from nuthatch.core.plans.room_shapes import fit

SUNK = 0.5
"""How far a floor may lie above the ground beneath it and still stand on it [m]."""
STRAIGHT = 1e-5
"""A point nearer to a side than this lies on it: more, and what is left out would be felt in an area [m]."""
SNUG = 1e-9
"""Heights that differ by less are one [m]."""
FaceKey = tuple[str, str, str, str, str]
"""(role, layer's outline, its space, beyond, what made it)."""


@dataclass(frozen=True)
class SolidFace:
    """A plane face of a space, outward from it: `beyond` is another space, outside air, ground, or what its side of the outline says.
    `made_by` names what it comes from: “outline:side”, an outline for a floor or ceiling, “part.plane” for a roof. `above` is the outline on top of a ceiling."""

    id: str
    role: str
    outline: str
    space: str
    beyond: str
    made_by: str
    polygon: Polygon
    above: str = ""


@dataclass(frozen=True)
class Massing:
    """All faces, each once; between two spaces it stands outward from the one whose name is in `space`."""

    told_once: ClassVar[bool] = True

    faces: tuple[SolidFace, ...]
    cells: tuple[PlanCell, ...]

    def shell(self, space: str) -> tuple[Polygon, ...]:
        """All faces around a space, outward from it."""
        own = [f.polygon for f in self.faces if f.space == space]
        return (*own, *(f.polygon[::-1] for f in self.faces if f.beyond == space))


def massing(outlines: tuple[PlanOutline, ...], parts: tuple[RoofPart, ...], ground: Ground | None = None) -> Massing:
    """The faces of storey plans [m]. Without a ground everything stands in the air but the lowest floors."""
    cells = cells_of(outlines, parts, _ground_lines(outlines, ground))
    own = [rings_of(c) for c in cells]
    edges = {side: cell for cell, loops in zip(cells, own, strict=True) for r in loops for side in zip(r, r[1:] + r[:1], strict=True)}
    sides = _sides(outlines)
    faces = Lying(outlines, {p.id: p.beyond for p in parts}, ground).faces(cells, own)
    standing = _Standing(sides, ground)
    for (p, q), cell in edges.items():
        other = edges.get((q, p))
        standing.meet(p, q, cell.layers, other.layers if other is not None else ())
    return Massing(named([*standing.faces(), *faces]), cells)


def _ground_lines(outlines: tuple[PlanOutline, ...], ground: Ground | None) -> list[tuple[Point2, Point2]]:
    """Where sloping ground folds below the home, and where floors no longer stand on it."""
    if not isinstance(ground, SlopingGround):
        return []
    around = shapely.union_all(_valid([o.polygon for o in outlines]))
    levels = tuple(dict.fromkeys(o.bottom - SUNK for o in outlines))
    found: list[tuple[Point2, Point2]] = []
    for line in ground.lines(levels):
        for piece in shapely.get_parts(shapely.intersection(shapely.LineString(line), around)):
            if piece.geom_type == "LineString" and piece.length > NEAR:
                found.append((piece.coords[0], piece.coords[-1]))
    return found


def rings_of(cell: PlanCell) -> list[list[Point2]]:
    polygon = orient(cell.polygon)
    return [[(x, y) for x, y in r.coords[:-1]] for r in (polygon.exterior, *polygon.interiors)]


def _sides(outlines: tuple[PlanOutline, ...]) -> dict[str, list[tuple[Point2, Point2, str]]]:
    """Each outline's sides with what is said to lie behind them."""
    found: dict[str, list[tuple[Point2, Point2, str]]] = {}
    for o in outlines:
        said = dict(o.beyond)
        found[o.id] = [(a, b, said.get(n, "")) for n, (a, b) in enumerate(o.sides)]
    return found


# what lies: floors, ceilings, roofs


class Lying:
    """Floors, ceilings and roofs: cells of one plane between the same two neighbours are one face."""

    def __init__(self, outlines: tuple[PlanOutline, ...], roofs: dict[str, str], ground: Ground | None) -> None:
        self._lowest = min((o.bottom for o in outlines), default=0.0)
        self._under = {o.id: o.under for o in outlines}
        self._over = {o.id: o.over for o in outlines}
        self._roofs = roofs
        self._ground = ground

    def faces(self, cells: tuple[PlanCell, ...], rings: list[list[list[Point2]]]) -> list[tuple[FaceKey, Polygon]]:
        found: dict[FaceKey, list[shapely.Polygon]] = defaultdict(list)
        planes: dict[FaceKey, tuple[RoofPlane, bool]] = {}
        for cell, loops in zip(cells, rings, strict=True):
            shape = shapely.Polygon(loops[0], loops[1:])
            for key, layer, upward in self.keyed(cell):
                found[key].append(shape)
                planes.setdefault(key, (layer.high if upward else layer.low, upward))
        return [(key, polygon) for key, shapes in found.items() for polygon in joined_lying(shapes, *planes[key])]

    def keyed(self, cell: PlanCell) -> Iterable[tuple[FaceKey, SpaceLayer, bool]]:
        """What makes each floor, ceiling and roof over a cell, from below: of which layer, and whether it lies above it."""
        x, y = cell.polygon.representative_point().coords[0]
        below: SpaceLayer | None = None
        for layer in cell.layers:
            touches = below is not None and abs(layer.low.at(x, y) - below.high.at(x, y)) < NEAR
            if below is not None and touches and below.space != layer.space:
                yield ("ceiling", below.outline, below.space, layer.space, f"{below.outline}|{layer.outline}"), below, True
            elif not touches:
                if below is not None:
                    yield self.top(below), below, True
                plain = self._beneath(layer.low.at(x, y), x, y) if below is None else OUTSIDE
                yield ("floor", layer.outline, layer.space, self._under.get(layer.outline) or plain, layer.outline), layer, False
            below = layer
        if below is not None:
            yield self.top(below), below, True

    def top(self, layer: SpaceLayer) -> FaceKey:
        """A top with nothing on it: a roof below what its part says, or a ceiling below what its outline says."""
        level = layer.made_by == layer.outline
        said = self._over.get(layer.outline, "") if level else self._roofs.get(layer.made_by.partition(".")[0], "")
        role = "ceiling" if level and said and said != OUTSIDE else "roof"
        return role, layer.outline, layer.space, said or OUTSIDE, layer.made_by

    def _beneath(self, z: float, x: float, y: float) -> str:
        if self._ground is None:
            return GROUND if z < self._lowest + NEAR else OUTSIDE
        return GROUND if self._ground(x, y) > z - SUNK else OUTSIDE


def joined_lying(shapes: list[shapely.Polygon], plane: RoofPlane, upward: bool) -> Iterable[Polygon]:
    """Cells of one face joined; seen from above where they lie above their space."""
    joined = shapely.union_all(_valid(shapes)) if len(shapes) > 1 else _valid(shapes)[0]
    for piece in pieces(joined):
        ring = tuple((x, y, plane.at(x, y)) for x, y in keyhole(orient(piece)))
        if len(ring) > 2:  # else it was a hair
            yield ring if upward else ring[::-1]


def _valid(shapes: list[shapely.Polygon]) -> list[shapely.Geometry]:
    """Shapes whose hole came to lie on their border, made fit to be joined."""
    return list(map(fit, shapes))


def keyhole(polygon: shapely.Polygon) -> list[Point2]:
    """A polygon with holes as one ring that walks to each hole and back."""
    ring = _straight([(x, y) for x, y in polygon.exterior.coords[:-1]])
    for hole in polygon.interiors:
        inner = _straight([(x, y) for x, y in hole.coords[:-1]])
        if len(inner) < 3:
            continue
        n, m = min(
            ((n, m) for n in range(len(ring)) for m in range(len(inner))),
            key=lambda k: (ring[k[0]][0] - inner[k[1]][0]) ** 2 + (ring[k[0]][1] - inner[k[1]][1]) ** 2,
        )
        ring = [*ring[: n + 1], *inner[m:], *inner[: m + 1], *ring[n:]]
    return ring


def _straight(ring: list[Point2]) -> list[Point2]:
    """Without repeated points and those in the middle of a straight side."""
    return [ring[n] for n in _corners(ring)]


def _corners(ring: list[Point2]) -> list[int]:
    """The numbers of the points of a ring that are corners: of points nearer than a hair to each other one, none on a straight side. Each
    is seen from the last that was kept: two near each other must not both give way to the other."""
    apart = [n for n in range(len(ring)) if _far(ring[n], ring[n - 1]) > 2 * NEAR]
    found: list[int] = []
    for k, n in enumerate(apart):
        (ax, ay), (x, y), (bx, by) = ring[found[-1] if found else apart[-1]], ring[n], ring[apart[(k + 1) % len(apart)]]
        base = _far((ax, ay), (bx, by))
        if base < NEAR or abs((x - ax) * (by - ay) - (y - ay) * (bx - ax)) / base > STRAIGHT:
            found.append(n)
    return found


def _far(a: Point2, b: Point2) -> float:
    return float(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5)


# what stands: walls


class _Standing:
    """Walls: pieces in one upright plane between the same two neighbours are one face."""

    def __init__(self, sides: dict[str, list[tuple[Point2, Point2, str]]], ground: Ground | None) -> None:
        self._sides, self._ground = sides, ground
        self._known: dict[tuple[str, Point2, Point2], tuple[str, str]] = {}
        self._found: dict[FaceKey, list[tuple[Point2, Point2, list[Point2]]]] = defaultdict(list)

    def meet(self, p: Point2, q: Point2, mine: tuple[SpaceLayer, ...], theirs: tuple[SpaceLayer, ...]) -> None:
        """What stands along a side, seen from the cell on its left: against the layers on its right and the gaps between them."""
        for layer in mine:
            low, high = (layer.low.at(*p), layer.low.at(*q)), (layer.high.at(*p), layer.high.at(*q))
            whole = [(0.0, low[0]), (1.0, low[1]), (1.0, high[1]), (0.0, high[0])]
            floor: tuple[float, float] | None = None
            for other in theirs:
                start, end = (other.low.at(*p), other.low.at(*q)), (other.high.at(*p), other.high.at(*q))
                self._gap(p, q, layer, between_lines(whole, floor, start))
                if other.space != layer.space and _rank(layer.space) < _rank(other.space):
                    self._take(p, q, layer, other.space, between_lines(whole, start, end))
                floor = end
            self._gap(p, q, layer, between_lines(whole, floor, None))

    def _gap(self, p: Point2, q: Point2, layer: SpaceLayer, piece: list[Point2]) -> None:
        """Nothing of the home behind it: what its side says, or air above the ground and earth below."""
        if len(piece) < 3:
            return
        said = self._side_of(layer.outline, p, q)[1]
        if said or self._ground is None:
            self._take(p, q, layer, said or OUTSIDE, piece)
            return
        line = self._ground(*p), self._ground(*q)
        self._take(p, q, layer, OUTSIDE, between_lines(piece, line, None))
        self._take(p, q, layer, GROUND, between_lines(piece, None, line))

    def _side_of(self, outline: str, p: Point2, q: Point2) -> tuple[str, str]:
        """(its number, what it says) of the side of an outline two points lie on; a wall a roof makes has none."""
        key = outline, p, q
        if key not in self._known:
            self._known[key] = self._looked_up(outline, p, q)
        return self._known[key]

    def _looked_up(self, outline: str, p: Point2, q: Point2) -> tuple[str, str]:
        for n, (a, b, said) in enumerate(self._sides.get(outline, ())):
            if _on(p, a, b) and _on(q, a, b):
                return str(n), said
        return "", ""

    def _take(self, p: Point2, q: Point2, layer: SpaceLayer, beyond: str, piece: list[Point2]) -> None:
        if len(piece) > 2:
            side = self._side_of(layer.outline, p, q)[0]
            part = layer.made_by.partition(".")[0]
            number = f"{layer.outline}:{side}" if side else f"{part}:{round(_direction(p, q)) % 360}"
            self._found["wall", layer.outline, layer.space, beyond, number].append((p, q, piece))

    def faces(self) -> list[tuple[FaceKey, Polygon]]:
        """The pieces joined in their planes."""
        return [(key, polygon) for key, rows in self._found.items() for polygon in joined_standing(rows)]


def _rank(space: str) -> tuple[bool, str]:
    """Walls between two spaces are those of the heated one, else of the first by name."""
    return space != HEATED, space


def _direction(p: Point2, q: Point2) -> float:
    return degrees(atan2(q[1] - p[1], q[0] - p[0])) % 360


def _on(p: Point2, a: Point2, b: Point2) -> bool:
    along = b[0] - a[0], b[1] - a[1]
    length = (along[0] ** 2 + along[1] ** 2) ** 0.5
    if length < NEAR:
        return False
    t = ((p[0] - a[0]) * along[0] + (p[1] - a[1]) * along[1]) / length
    far = abs((p[0] - a[0]) * along[1] - (p[1] - a[1]) * along[0]) / length
    return bool(far < 2 * NEAR and -2 * NEAR < t < length + 2 * NEAR)


def between_lines(piece: list[Point2], low: tuple[float, float] | None, high: tuple[float, float] | None) -> list[Point2]:
    """A convex piece of (share along a side, height) above one line and below another, each given by its heights at both ends."""
    if low is not None and high is not None and low[0] >= high[0] and low[1] >= high[1]:
        return []
    if piece and (
        (high is not None and max(high) <= min(z for _, z in piece)) or (low is not None and min(low) >= max(z for _, z in piece))
    ):
        return []
    for line, sign in ((low, 1.0), (high, -1.0)):
        if line is None or not piece:
            continue
        over = [sign * (z - line[0] - (line[1] - line[0]) * t) for t, z in piece]
        kept: list[Point2] = []
        for n, (a, b) in enumerate(zip(piece, piece[1:] + piece[:1], strict=True)):
            va, vb = over[n], over[(n + 1) % len(piece)]
            if va >= 0:
                kept.append(a)
            if (va > 0 > vb) or (va < 0 < vb):
                share = va / (va - vb)
                kept.append((a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])))
        piece = kept
    area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(piece, piece[1:] + piece[:1], strict=True)) / 2 if len(piece) > 2 else 0.0
    return piece if abs(area) > 1e-7 else []


Piece = tuple[Point2, Point2, list[Point2]]
"""A part of a side from p to q: corners as (share of the way, height)."""


def joined_standing(rows: list[Piece]) -> Iterable[Polygon]:
    """Pieces of a side, or of several in a line, joined; outward to the right of the way they are walked. What lies in another plane,
    beside the first or turned by a hair, is joined by itself."""
    while rows:
        p, q, _ = rows[0]
        length = ((q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2) ** 0.5
        along = (q[0] - p[0]) / length, (q[1] - p[1]) / length

        def beside(s: Point2, p: Point2 = p, along: Point2 = along) -> bool:
            return abs((s[0] - p[0]) * along[1] - (s[1] - p[1]) * along[0]) < 4 * NEAR

        here = [row for row in rows if beside(row[0]) and beside(row[1])]
        yield from _in_plane(here, p, along)
        rows = [row for row in rows if not (beside(row[0]) and beside(row[1]))]


def _in_plane(rows: list[tuple[Point2, Point2, list[Point2]]], p: Point2, along: Point2) -> Iterable[Polygon]:
    """Pieces of one upright plane joined."""
    whole = _in_a_row(rows, p, along) if len(rows) > 1 else None
    if whole is not None:
        yield from (whole,) if len(whole) > 2 else ()
        return
    if len(rows) == 1:
        a, b, piece = rows[0]
        alone: Polygon = tuple((a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), z) for t, z in piece)
        if _wide(rows[0]):
            yield alone if _turn(piece) > 0 else alone[::-1]
        return
    levels, places = Points(), dict[Point2, Point2]()
    shapes = []
    for a, b, piece in rows:
        start, end = ((s[0] - p[0]) * along[0] + (s[1] - p[1]) * along[1] for s in (a, b))
        ring = []
        for t, z in piece:
            at = levels.at(start + t * (end - start), z)
            places.setdefault(at, (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])))
            ring.append(at)
        shapes.append(shapely.Polygon(ring))
    for polygon in pieces(shapely.union_all(_valid(shapes))):
        ring = keyhole(orient(polygon))
        if len(ring) > 2:
            yield tuple((*_place(s, z, places, p, along), z) for s, z in ring)


def _in_a_row(rows: list[Piece], p: Point2, along: Point2) -> Polygon | None:
    """Pieces that follow each other and meet in the same heights, as one; None where they do not."""
    found = []
    for a, b, piece in rows:
        left, right = (sorted(z for t, z in piece if t == end) for end in (0.0, 1.0))
        if not left or not right or len(left) + len(right) != len(piece):
            return None
        start, end = ((s[0] - p[0]) * along[0] + (s[1] - p[1]) * along[1] for s in (a, b))
        way = ((a, left), (b, right)) if start < end else ((b, right), (a, left))
        found.append((min(start, end), way))
    found.sort(key=lambda r: r[0])
    ways = [way for _, way in found]
    for (_, (q, ends)), ((r, starts), _) in pairwise(ways):
        if q != r or abs(ends[0] - starts[0]) > SNUG or abs(ends[-1] - starts[-1]) > SNUG:
            return None
    line = [ways[0][0], *(way[1] for way in ways)]
    low = [(*s, zs[0]) for s, zs in line]
    high = [(*s, zs[-1]) for s, zs in line if zs[-1] - zs[0] > SNUG or 0 < line.index((s, zs)) < len(line) - 1]
    return tuple(_bends([*low, *high[::-1]], p, along))


def _bends(ring: list[Point], p: Point2, along: Point2) -> list[Point]:
    """The corners of an upright ring that are no points of a straight side."""
    return [ring[n] for n in _corners([((x - p[0]) * along[0] + (y - p[1]) * along[1], z) for x, y, z in ring])]


def _turn(piece: list[Point2]) -> float:
    """Twice the area of a piece [share × m], above 0 where it is walked counter-clockwise."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(piece, piece[1:] + piece[:1], strict=True))


def _wide(row: tuple[Point2, Point2, list[Point2]]) -> bool:
    """Whether a piece is more than a hair: as `pieces` tells."""
    a, b, piece = row
    long = float(((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) ** 0.5)
    around = sum((((t - s) * long) ** 2 + (z - y) ** 2) ** 0.5 for (s, y), (t, z) in zip(piece, piece[1:] + piece[:1], strict=True))
    return bool(abs(_turn(piece)) / 2 * long > max(NOTHING, NEAR * around / 4))


def _place(s: float, z: float, places: dict[Point2, Point2], p: Point2, along: Point2) -> Point2:
    known = places.get((s, z))
    return known if known is not None else (p[0] + s * along[0], p[1] + s * along[1])


def named(found: list[tuple[FaceKey, Polygon]]) -> tuple[SolidFace, ...]:
    """Faces with names of their own: what makes them, what lies behind, and a number where that is not enough."""
    seen: dict[str, int] = defaultdict(int)
    made = []
    for (role, outline, space, beyond, made_by), polygon in sorted(found, key=lambda f: (f[0], f[1])):
        made_by, _, above = made_by.partition("|")
        name = f"{role}.{made_by}.{outline}.{beyond}" if role == "roof" else f"{role}.{made_by}.{beyond}"
        seen[name] += 1
        ident = name if seen[name] == 1 else f"{name}.{seen[name]}"
        made.append(SolidFace(ident, role, outline, space, beyond, made_by, polygon, above))
    return tuple(made)
