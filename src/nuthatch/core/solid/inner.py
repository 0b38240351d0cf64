"""The inner solid: the outer one with every face moved inward by its own build-up; neighbours meet where the moved planes meet.

Seen from above the home is a set of cells, over each of which it is heated between some planes and not between others. A face that lies
moves within its own cells. A wall takes away a strip beside it, as high as what is not heated behind it, and as much higher or lower as
what lies there is moved: so a terrace goes on under the wall that stands on its edge, and the two moved planes meet.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from itertools import pairwise
from math import hypot

import numpy as np
import shapely
from shapely.geometry.polygon import orient

from nuthatch.core.plans.arrangement import HEATED, OUTSIDE, Ground, PlanCell, PlanOutline, SpaceLayer, folds, roof_at
from nuthatch.core.plans.linework import NEAR, net
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.plans.roofs import Point2, RoofPart, RoofPlane
from nuthatch.core.plans.room_shapes import lowered
from nuthatch.core.solid.inner_strips import Bound, Strip, Taken, corner, crossings, sloped, without
from nuthatch.core.solid.inner_walls import LEDGE, SAME, Walls, key_of
from nuthatch.core.solid.massing import (
    FaceKey,
    Lying,
    Massing,
    Piece,
    SolidFace,
    between_lines,
    joined_lying,
    joined_standing,
    named,
    rings_of,
)

Thickness = Callable[[SolidFace], float]
FAR = 1e9


@dataclass(frozen=True)
class _Run:
    """What is heated without a break over a cell: its outer planes, those along its inner faces, what made them, its storeys."""

    low: RoofPlane
    high: RoofPlane
    floor: Bound
    top: Bound
    layers: tuple[SpaceLayer, ...]


def inner_massing(
    outer: Massing,
    outlines: tuple[PlanOutline, ...],
    parts: tuple[RoofPart, ...],
    ground: Ground | None,
    thick: Thickness,
    space: str = HEATED,
) -> Massing:
    """A space along its inner faces. thick: how far a face of the outer solid reaches into it [m]."""
    return _Inside(outer, outlines, parts, ground, thick, space).massing()


class _Inside:
    def __init__(
        self,
        outer: Massing,
        outlines: tuple[PlanOutline, ...],
        parts: tuple[RoofPart, ...],
        ground: Ground | None,
        thick: Thickness,
        space: str,
    ) -> None:
        self.outer, self.parts, self.space = outer, {p.id: p for p in parts}, space
        self.thick = {key_of(f): thick(f) for f in outer.faces if self.space in (f.space, f.beyond)}
        self.walls = Walls([(f, thick(f)) for f in outer.faces if f.role == "wall" and self.space in (f.space, f.beyond)], self.space)
        self.lying = Lying(outlines, {p.id: p.beyond for p in parts}, ground)
        self.levels = {
            f.outline: thick(f) for f in outer.faces if f.role in ("roof", "ceiling") and f.space == self.space and "." not in f.made_by
        }
        self.slopes = {
            (f.outline, f.made_by.partition(".")[0]): thick(f)
            for f in outer.faces
            if f.role == "roof" and f.space == self.space and "." in f.made_by
        }
        self.cells = [c for c in outer.cells if any(layer.space == self.space for layer in c.layers)]
        self.tops = {o.id: o.top for o in outlines if not o.under_roof}
        self._inner_parts: dict[tuple[str, str], RoofPart] = {}

    def massing(self) -> Massing:
        self.over = [tuple(p for p in self.parts.values() if _covers(p, c)) for c in self.cells]
        self.runs = [tuple(self._runs(c)) for c in self.cells]
        taken = self._taken()
        cells = self._cut(taken)
        return Massing(named([*self._standing(cells), *self._lying_faces(cells)]), tuple(c.cell for c in cells))

    # what is heated over each cell, and what its floors and tops become

    def _runs(self, cell: PlanCell) -> Iterable[_Run]:
        keys = list(self.lying.keyed(cell))
        layers = [n for n, layer in enumerate(cell.layers) if layer.space == self.space]
        x, y = cell.polygon.representative_point().coords[0]
        groups: list[list[int]] = []
        for n in layers:
            before = cell.layers[groups[-1][-1]] if groups else None
            if before is not None and groups[-1][-1] == n - 1 and abs(before.high.at(x, y) - cell.layers[n].low.at(x, y)) < NEAR:
                groups[-1].append(n)
            else:
                groups.append([n])
        for group in groups:
            own = tuple(cell.layers[n] for n in group)
            below, above = own[0], own[-1]
            floor = next(
                k
                for k, layer, up in keys
                if (not up and layer is below) or (up and k[3] == self.space and k[4].endswith(f"|{below.outline}"))
            )
            top = next(k for k, layer, up in keys if up and layer is above)
            yield _Run(
                below.low,
                above.high,
                (lowered(below.low, -self.thick.get(floor, 0.0)), floor),
                (lowered(above.high, self.thick.get(top, 0.0)), top),
                own,
            )

    def _top(self, n: int, run: _Run, x: float, y: float) -> Bound:
        """What ends a run inside over a point: the roof, or a level top below it."""
        last = run.layers[-1]
        roofs = [self._inner_part(p, last.outline) for p in self.over[n] if (last.outline, p.id) in self.slopes]
        if not roofs:
            return run.top
        plane, made_by = roof_at(roofs, x, y)
        assert plane is not None
        key = run.top[1] if run.top[1] is not None and run.top[1][4] == made_by else self.lying.top(replace(last, made_by=made_by))
        levelled = last.made_by == last.outline
        if not levelled and last.outline not in self.levels:
            return plane, key
        level_top = run.top if levelled else self._level_top(last)
        return level_top if level_top[0].at(x, y) < plane.at(x, y) else (plane, key)

    def _level_top(self, layer: SpaceLayer) -> Bound:
        z = self.tops.get(layer.outline, FAR)
        key = next(k for k in self.thick if k[0] in ("roof", "ceiling") and k[1] == layer.outline and "." not in k[4])
        return RoofPlane("level", 0.0, 0.0, z - self.levels[layer.outline]), key

    def _inner_part(self, part: RoofPart, outline: str) -> RoofPart:
        key = outline, part.id
        if key not in self._inner_parts:
            self._inner_parts[key] = replace(part, planes=tuple(lowered(q, self.slopes[key]) for q in part.planes))
        return self._inner_parts[key]

    # what walls take away

    def _taken(self) -> list[Taken]:
        strips = list(self._strips())
        found = [Taken(s.beside(), s.lows, s.highs) for s in strips if s.t > SAME]
        starts: dict[Point2, list[Strip]] = defaultdict(list)
        for s in strips:
            starts[s.p].append(s)
        for a in strips:
            for b in starts[a.q]:
                low, high = max(a.at_q[0], b.at_p[0]), min(a.at_q[1], b.at_p[1])
                if high - low > NEAR:
                    found += corner(a, b)
        return found

    def _strips(self) -> Iterable[Strip]:
        own = [rings_of(c) for c in self.cells]
        sides = {side: n for n, loops in enumerate(own) for r in loops for side in zip(r, r[1:] + r[:1], strict=True)}
        for (p, q), n in sides.items():
            m = sides.get((q, p))
            if m == n:
                continue
            theirs = self.runs[m] if m is not None else ()
            for run in self.runs[n]:
                for under, over in pairwise((None, *theirs, None)):
                    yield from self._along(p, q, run, under, over)

    def _along(self, p: Point2, q: Point2, run: _Run, under: _Run | None, over: _Run | None) -> Iterable[Strip]:
        """The walls of a run against what is not heated beside it, above one run of the neighbour and below the next."""
        lows: tuple[Bound, ...] = ((run.low, None),) if under is None else ((run.low, None), under.top)
        highs: tuple[Bound, ...] = ((run.high, None),) if over is None else ((run.high, None), over.floor)
        low = [max(run.low.at(*s), under.high.at(*s) if under is not None else -1e9) for s in (p, q)]
        high = [min(run.high.at(*s), over.low.at(*s) if over is not None else 1e9) for s in (p, q)]
        if high[0] - low[0] < NEAR and high[1] - low[1] < NEAR:
            return
        rows = list(self.walls.thick_along(p, q, (low[0], low[1]), (high[0], high[1])))
        for n, (t, start, end) in enumerate(rows):
            below = lows if not n else ((_level_across(p, q, start), None),)
            above = highs if n == len(rows) - 1 else ((_level_across(p, q, end), None),)
            yield Strip(p, q, t, below, above, (start[0], end[0]), (start[1], end[1]))

    # the cells of the inside

    def _cut(self, taken: list[Taken]) -> list[_Cell]:
        lines: list[tuple[Point2, Point2]] = []
        for cell in self.cells:
            for ring in rings_of(cell):
                lines += zip(ring, ring[1:] + ring[:1], strict=True)
        reach = 2 * max((hypot(*s) for line in lines for s in line), default=0.0) + 10
        lines = list({(min(a, b), max(a, b)) for a, b in lines})
        lines += self._inner_folds(reach)
        for t in taken:
            lines += pairwise(t.polygon.exterior.coords)
            if self.slopes or any(map(sloped, (t, *(other for other in taken if sloped(other))))):
                lines += crossings(t, self._near(t, taken), reach)
        cut = net(lines)
        made = [
            p
            for p in shapely.get_parts(shapely.polygonize(shapely.linestrings(np.array(cut, dtype=float).reshape(-1, 2, 2))))
            if p.area > 0
        ]
        spots = shapely.point_on_surface(made)
        xs, ys = shapely.get_x(spots), shapely.get_y(spots)
        owner = np.full(len(made), -1)
        for n, cell in enumerate(self.cells):
            owner[shapely.contains_xy(cell.polygon, xs, ys)] = n
        touched: list[list[Taken]] = [[] for _ in made]
        for t in taken:
            for k in np.flatnonzero(shapely.contains_xy(t.polygon, xs, ys)).tolist():
                touched[k].append(t)
        found = []
        for k, polygon in enumerate(made):
            if owner[k] >= 0:
                layers, ends = self._left(int(owner[k]), float(xs[k]), float(ys[k]), touched[k])
                if layers:
                    found.append(_Cell(PlanCell(polygon, layers), ends))
        return found

    def _inner_folds(self, reach: float) -> list[tuple[Point2, Point2]]:
        """Where inner roofs fold, or come through an inner ceiling."""
        seen: dict[tuple[str, float], RoofPart] = {}
        for (outline, part), by in self.slopes.items():
            if part in self.parts:
                seen[part, by] = self._inner_part(self.parts[part], outline)
        levels = {z - self.levels[o] for o, z in self.tops.items() if o in self.levels}
        levels |= {run.floor[0].c for runs in self.runs for run in runs} | {
            layer.low.c for c in self.cells for layer in c.layers if not layer.low.a and not layer.low.b
        }
        return folds(tuple(seen.values()), tuple(sorted(levels)), reach)

    def _near(self, taken: Taken, every: list[Taken]) -> list[RoofPlane]:
        """The planes that end what is inside where something is taken away."""
        found = [b[0] for b in (*taken.lows, *taken.highs)]
        for other in every:
            if other is not taken and (sloped(other) or sloped(taken)) and shapely.intersects(other.polygon, taken.polygon):
                found += [b[0] for b in (*other.lows, *other.highs)]
        for n, cell in enumerate(self.cells):
            if shapely.intersects(cell.polygon, taken.polygon):
                found += [b for run in self.runs[n] for b in (run.top[0], run.floor[0])]
        return found

    def _left(self, n: int, x: float, y: float, taken: list[Taken]) -> tuple[tuple[SpaceLayer, ...], tuple[tuple[Bound, Bound], ...]]:
        """What is left of the storeys over a point, and what made its ends."""
        inside: list[tuple[Bound, Bound, _Run]] = []
        for run in self.runs[n]:
            rest = [(run.floor, self._top(n, run, x, y))]
            for t in taken:
                low, high = max(t.lows, key=lambda b: b[0].at(x, y)), min(t.highs, key=lambda b: b[0].at(x, y))
                if high[0].at(x, y) > low[0].at(x, y) + SAME:
                    rest = [piece for r in rest for piece in without(r, low, high, x, y)]
            inside += [(a, b, run) for a, b in rest if b[0].at(x, y) - a[0].at(x, y) > SAME]
        layers, ends = [], []
        for low, high, run in inside:
            for layer in run.layers:
                start = low if low[0].at(x, y) > layer.low.at(x, y) - SAME else (layer.low, None)
                end = high if high[0].at(x, y) < layer.high.at(x, y) + SAME else (layer.high, None)
                if end[0].at(x, y) - start[0].at(x, y) > SAME:
                    layers.append(SpaceLayer(layer.outline, self.space, start[0], end[0], layer.made_by))
                    ends.append((start if start is low else (start[0], None), end if end is high else (end[0], None)))
        return tuple(layers), tuple(ends)

    # its faces

    def _lying_faces(self, cells: list[_Cell]) -> Iterable[tuple[FaceKey, Polygon]]:
        found: dict[tuple[FaceKey, bool, tuple[float, float, float]], list[shapely.Polygon]] = defaultdict(list)
        planes: dict[tuple[float, float, float], RoofPlane] = {}
        for c in cells:
            shape = orient(c.cell.polygon)
            for n, (layer, (low, high)) in enumerate(zip(c.cell.layers, c.ends, strict=True)):
                for upward, (plane, key), other in ((False, low, n - 1), (True, high, n + 1)):
                    if _meets(c, layer, other, upward):
                        continue
                    label = key or (LEDGE, layer.outline, self.space, OUTSIDE, f"{layer.outline}-ledge")
                    name = round(plane.a, 6), round(plane.b, 6), round(plane.c, 4)
                    planes.setdefault(name, plane)
                    found[label, upward, name].append(shape)
        for (label, upward, name), shapes in found.items():
            out = upward if label[2] == self.space else not upward
            for ring in joined_lying(shapes, planes[name], out):
                yield label, ring

    def _standing(self, cells: list[_Cell]) -> Iterable[tuple[FaceKey, Polygon]]:
        own = [rings_of(c.cell) for c in cells]
        edges = {side: n for n, loops in enumerate(own) for r in loops for side in zip(r, r[1:] + r[:1], strict=True)}
        found: dict[FaceKey, list[Piece]] = defaultdict(list)
        for (p, q), n in edges.items():
            m = edges.get((q, p))
            theirs = cells[m].cell.layers if m is not None else ()
            if theirs == cells[n].cell.layers:
                continue
            for layer in cells[n].cell.layers:
                low, high = (layer.low.at(*p), layer.low.at(*q)), (layer.high.at(*p), layer.high.at(*q))
                whole = [(0.0, low[0]), (1.0, low[1]), (1.0, high[1]), (0.0, high[0])]
                floor: tuple[float, float] | None = None
                for other in (*theirs, None):
                    start = (other.low.at(*p), other.low.at(*q)) if other is not None else None
                    piece = between_lines(whole, floor, start)
                    if len(piece) > 2:
                        for key, part in self.walls.told(p, q, piece, layer.outline):
                            found[key].append((p, q, part))
                    floor = (other.high.at(*p), other.high.at(*q)) if other is not None else None
        for key, rows in found.items():
            for polygon in joined_standing(rows):
                yield key, polygon if key[2] == self.space else polygon[::-1]


@dataclass(frozen=True)
class _Cell:
    """A cell of the inside; by layer what made its lower and its upper end, None where another storey goes on there."""

    cell: PlanCell
    ends: tuple[tuple[Bound, Bound], ...]


def _meets(c: _Cell, layer: SpaceLayer, other: int, upward: bool) -> bool:
    """Whether another storey goes on where a layer ends."""
    if not 0 <= other < len(c.cell.layers):
        return False
    x, y = c.cell.polygon.representative_point().coords[0]
    beside = c.cell.layers[other]
    gap = beside.low.at(x, y) - layer.high.at(x, y) if upward else layer.low.at(x, y) - beside.high.at(x, y)
    return abs(gap) < NEAR


def _covers(part: RoofPart, cell: PlanCell) -> bool:
    x, y = cell.polygon.representative_point().coords[0]
    return bool(shapely.contains_xy(shapely.Polygon(part.outline), x, y))


def _level_across(p: Point2, q: Point2, z: tuple[float, float]) -> RoofPlane:
    """The plane that holds two heights at the ends of a side and does not rise square to it."""
    dx, dy = q[0] - p[0], q[1] - p[1]
    rise = (z[1] - z[0]) / (dx * dx + dy * dy)
    return RoofPlane("across", rise * dx, rise * dy, z[0] - rise * (dx * p[0] + dy * p[1]))
