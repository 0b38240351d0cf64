"""Storey plans from surfaces in space: cut level by level into outlines, roofs from slopes, openings put where they stood.

What comes from a file of surfaces, whoever wrote it, becomes plans where it can; whether it did is checked against the surfaces.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from math import hypot

import shapely

from nuthatch.core.exchange.gbxml_fabric import read_as
from nuthatch.core.exchange.slopes import roofs_of_slopes
from nuthatch.core.exchange.surfaces import (
    CLOSE,
    LEVEL,
    LITTLE,
    Space,
    Surface,
    clusters,
    most_used,
    on_side,
    plan_of,
    polygons,
    ring_of,
    rounded,
    unusual,
    within,
)
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import Hole as Court
from nuthatch.core.model.plans import InnerWall, Outline, Plans, RoofPlan, Room, Side, StoreyPlan
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.solid.cut import cut

ABOVE = 1e-4
"""How far above its floor a storey is cut [m]."""
DEEP = -1.2
"""What begins lower is a cellar [m]."""
NAMED = 0.1
"""How far the level a storey is said to have may lie from where it begins [m]."""
GROUND_KINDS = frozenset({"SlabOnGrade", "UndergroundWall", "UndergroundSlab", "UndergroundCeiling"})


class NoPlans(ValueError):
    """The surfaces do not make storeys; the message says why."""


@dataclass
class Piece:
    """An outline to be: its region, the spaces in it with their own regions, its floor and top [m]; top None: up to the roof."""

    region: shapely.Polygon
    level: float
    top: float | None
    kind: str
    name: str
    rooms: list[tuple[Space, shapely.Polygon]] = field(default_factory=list)


class Storeys:
    """Surfaces being made into plans. Raises NoPlans. `notes`: what the plans cannot hold."""

    def __init__(self, spaces: Mapping[str, Space], surfaces: Iterable[Surface], called: Mapping[float, str] | None = None) -> None:
        """called: what storeys are called by their level [m], as far as the file says so."""
        self.spaces = spaces
        self._called = called or {}
        self.notes: list[str] = []
        self.of: dict[str, list[Surface]] = defaultdict(list)
        self.all = [s for s in surfaces if s.area > LITTLE]
        for s in self.all:
            if s.space in spaces:
                self.of[s.space].append(s)
            if s.beyond in spaces:
                self.of[s.beyond].append(s.turned_round())
        known = [s for s in spaces.values() if s.kind in ("heated", "unheated") and self.of[s.id]]
        self.own = [s for s in known if self._closed(s)]
        loose = next((s for s in known if s.kind == "heated" and s not in self.own), None)
        if loose is not None:
            raise NoPlans(f"the surfaces of “{loose.name}” do not close")
        self.drawn = [s for s in self.own if not s.left]
        self._names = {s.id for s in self.own}
        if not any(s.kind == "heated" for s in self.drawn):
            raise NoPlans("no heated space has surfaces of its own")

    def _closed(self, space: Space) -> bool:
        """Whether the surfaces of a space go all the way round: Σ A·n = 0 within 0.5 %."""
        faces = self.of[space.id]
        off = hypot(*(sum(s.vector[k] for s in faces) for k in range(3)))
        return off < 0.005 * sum(s.area for s in faces)

    def plans(self) -> Plans:
        """The storeys, outlines, rooms and roofs."""
        levels = {s.id: self._levels(s) for s in self.drawn}
        steps = clusters([z for own in levels.values() for z in own])
        storeys: list[StoreyPlan] = []
        pieces = {n: self._pieces(z, levels) for n, z in enumerate(steps)}
        ground = self._ground()
        chosen = self._usual(ground)
        number = 0
        for n, z in enumerate(steps):
            outlines = []
            for piece in pieces[n]:
                number += 1
                outlines.append(self._outline(piece, f"read-outline-{number}", chosen, z))
            if outlines:
                storeys.append(self._storey(n, z, outlines, pieces[n], self._name(z, steps)))
        if not storeys:
            raise NoPlans("no outline closes at any level")
        roofs = self._roofs(chosen["roof_buildup"])
        made = Plans(ground=read_as(ground) if ground is not None else None, storeys=tuple(storeys), roofs=tuple(roofs))
        return replace(made, **{k: v for k, v in chosen.items() if v})

    # levels and outlines

    def _levels(self, space: Space) -> list[float]:
        """Where the storeys of a space begin: at its lowest, and where at least half as long a row of walls begins again."""
        lowest = min(s.low for s in self.of[space.id])
        long: dict[float, float] = defaultdict(float)
        for s in self.of[space.id]:
            if s.is_upright:
                long[s.low] += max(hypot(a[0] - b[0], a[1] - b[1]) for a in s.polygon for b in s.polygon)
        starts = clusters([*long, lowest])
        total = {z: sum(v for at, v in long.items() if abs(at - z) < CLOSE) for z in starts}
        base = min(starts)
        return [z for z in starts if z == base or (total[z] >= 0.5 * total[base] and not self._ground_line(space, z))]

    def _ground_line(self, space: Space, z: float) -> bool:
        """Whether walls begin anew at a level only because they come out of the ground there."""
        walls = [s for s in self.of[space.id] if s.is_upright]
        ended = [s for s in walls if abs(s.high - z) < CLOSE]
        begun = [s for s in walls if abs(s.low - z) < CLOSE]
        return bool(ended) and all(s.said in GROUND_KINDS for s in ended) and not any(s.said in GROUND_KINDS for s in begun)

    def _pieces(self, z: float, levels: Mapping[str, list[float]]) -> list[Piece]:
        """The outlines that begin at a level."""
        found: list[Piece] = []
        heated: dict[float | None, list[tuple[Space, shapely.Polygon]]] = defaultdict(list)
        for space in self.drawn:
            own = [at for at in levels[space.id] if abs(at - z) < CLOSE]
            if not own:
                continue
            after = min((at for at in levels[space.id] if at > z + CLOSE), default=None)
            for region in self._section(space, own[0] + ABOVE):
                for part, top in self._tops(space, region, own[0], after):
                    if space.kind == "heated":
                        heated[top].append((space, part))
                    else:
                        found.append(Piece(part, own[0], top, space.kind, space.name))
        for top, rows in heated.items():
            joined = shapely.union_all([p for _, p in rows], grid_size=1e-6)
            for region in polygons(joined):
                rooms = [(s, p) for s, p in rows if shapely.intersection(p, region).area > 0.5 * p.area]
                found.append(Piece(region, z, top, "heated", "House", rooms))
        return sorted(found, key=lambda p: (p.kind != "heated", -p.region.area))

    def _section(self, space: Space, z: float) -> list[shapely.Polygon]:
        """What a space takes up at a level."""
        lines = [s for face in self.of[space.id] if not face.is_level for s in cut(face.polygon, 2, z)]
        lines = [(rounded(a), rounded(b)) for a, b in lines if hypot(a[0] - b[0], a[1] - b[1]) > ABOVE]
        if not lines:
            return []
        noded = shapely.union_all([shapely.LineString(line) for line in lines], grid_size=1e-6)
        cells = polygons(shapely.polygonize(shapely.get_parts(noded)))
        inside = [c for c in cells if within(c.representative_point(), lines)]
        return polygons(shapely.union_all(inside, grid_size=1e-6)) if inside else []

    def _tops(self, space: Space, region: shapely.Polygon, low: float, after: float | None) -> list[tuple[shapely.Polygon, float | None]]:
        """A region in parts by where they end: at a level, or at the roof."""
        level: dict[float, list[shapely.Polygon]] = defaultdict(list)
        sloped = 0.0
        for face in self.of[space.id]:
            if face.up < LEVEL or face.low < low + 0.1 and face.is_level or (after is not None and face.low > after - CLOSE):
                continue
            over = shapely.intersection(plan_of(face.polygon), region)
            if over.area < LITTLE:
                continue
            if face.is_level:
                at = next((z for z in level if abs(z - face.high) < CLOSE), face.high)
                level[at].append(over)
            else:
                sloped += over.area
        rest: shapely.Geometry = region
        parts: list[tuple[shapely.Polygon, float | None]] = []
        single = after is None and (len(level) == 1 or (len(level) == 0 and sloped > LITTLE))
        if single:
            return [(region, next(iter(level)) if level else None)]
        if after is None and not level:
            raise NoPlans(f"“{space.name}” has no top at {low:.2f} m")
        for z, shapes in level.items():
            shape = shapely.union_all(shapes, grid_size=1e-6)
            parts += [(p, z) for p in polygons(shape)]
            rest = shapely.difference(rest, shape, grid_size=1e-6)
        parts += [(p, after) for p in polygons(rest)]
        return parts

    def _storey(self, n: int, z: float, outlines: list[Outline], pieces: list[Piece], name: str) -> StoreyPlan:
        tops = [p.top - z for p in pieces if p.top is not None and p.kind == "heated"] or [p.top - z for p in pieces if p.top is not None]
        height = max(tops, default=None)
        kept = []
        for outline, piece in zip(outlines, pieces, strict=True):
            same = piece.top is None or height is None or abs(piece.top - z - height) < CLOSE
            kept.append(outline if same else replace(outline, height=read_as(piece.top - z)))  # type: ignore[operator]
        return StoreyPlan(
            id=f"read-storey-{n + 1}",
            name=name,
            level=read_as(z),
            height=read_as(height) if height is not None else None,
            outlines=tuple(kept),
            inner_walls=tuple(_inner_walls(pieces, n)),
            rooms=tuple(_rooms(pieces, n)),
        )

    def _name(self, z: float, steps: Sequence[float]) -> str:
        return next((name for at, name in self._called.items() if abs(at - z) < NAMED), "") or _called(z, steps)

    def _outline(self, piece: Piece, ident: str, chosen: Mapping[str, str], z: float) -> Outline:
        names = {p.id: p for p in self.drawn}
        walls = [f for s in self._spaces_of(piece) for f in self.of[s.id] if f.is_upright]
        rings = [ring_of(piece.region.exterior), *(ring_of(r) for r in piece.region.interiors)]
        high = piece.top if piece.top is not None else 1e6
        made = []
        for k, ring in enumerate(rings):
            stem = ident if not k else f"{ident}-court-{k}"
            sides = []
            for n, (a, b) in enumerate(zip(ring, ring[1:] + ring[:1], strict=True)):
                wall = on_side(walls, a, b, piece.level, high)
                sides.append(self._side(f"{stem}.{n + 1}", a, wall, chosen, names))
            made.append(tuple(sides))
        floor, top = self._flat(piece, -1), self._flat(piece, 1)
        outer = most_used(s for s in walls if not s.beyond and s.buildup) if piece.kind == "unheated" else ""
        return Outline(
            id=ident,
            name=piece.name,
            kind="heated" if piece.kind == "heated" else "unheated space",
            reaches="the roof" if piece.top is None else "its ceiling",
            below=self._below(floor, z),  # type: ignore[arg-type]
            above=self._above(top),  # type: ignore[arg-type]
            floor_buildup=unusual(most_used(floor), self._default(floor, chosen, True)),
            top_buildup=unusual(most_used(top), self._default(top, chosen, False)),
            wall_buildup=outer,
            sides=made[0],
            holes=tuple(Court(id=f"{ident}-court-{k}", sides=s) for k, s in enumerate(made[1:], 1)),
        )

    def _spaces_of(self, piece: Piece) -> list[Space]:
        return [s for s, _ in piece.rooms] or [s for s in self.drawn if s.name == piece.name and s.kind == piece.kind]

    def _side(self, ident: str, at: Point2, wall: Surface | None, chosen: Mapping[str, str], drawn: Mapping[str, Space]) -> Side:
        borders, usual = "as drawn", "wall_buildup"
        if wall is not None and self._neighbour(wall):
            borders, usual = "neighbour", "party_buildup"
        elif wall is not None and self._not_drawn(wall):
            borders, usual = "unheated space", "inner_buildup"
        elif wall is not None and wall.beyond in drawn:
            usual = "inner_buildup" if drawn[wall.beyond].kind == "unheated" else ""
        elif wall is not None and wall.said in GROUND_KINDS:
            usual = "earth_buildup"
        own = unusual(wall.buildup, chosen.get(usual, "")) if wall is not None and usual else ""
        return Side(id=ident, x=read_as(at[0]), y=read_as(at[1]), borders=borders, buildup=own)  # type: ignore[arg-type]

    def _neighbour(self, s: Surface) -> bool:
        return s.beyond in self.spaces and self.spaces[s.beyond].kind == "neighbour"

    def _not_drawn(self, s: Surface) -> bool:
        """Whether an unheated space lies behind a surface that has too few surfaces to be drawn."""
        return s.beyond in self.spaces and self.spaces[s.beyond].kind == "unheated" and s.beyond not in self._names

    def _flat(self, piece: Piece, way: int) -> list[Surface]:
        """The level faces at the floor (−1) or the top (1) of an outline that do not lie inside it."""
        at = piece.level if way < 0 else piece.top
        own = {s.id for s in self._spaces_of(piece)}
        return [
            f
            for ident in own
            for f in self.of[ident]
            if f.is_level and f.up * way > 0 and at is not None and abs(f.low - at) < CLOSE
            and (piece.kind != "heated" or f.beyond not in self.spaces or self.spaces[f.beyond].kind != "heated")
            and shapely.intersection(plan_of(f.polygon), piece.region).area > LITTLE
        ]  # fmt: skip

    def _below(self, floor: list[Surface], z: float) -> str:
        """What lies below, where the plans alone would not say so."""
        lowest = min(s.low for s in self.drawn_surfaces())
        if floor and all(self._neighbour(s) for s in floor):
            return "neighbour"
        if floor and all(self._not_drawn(s) for s in floor):
            return "unheated space"
        outside = [s for s in floor if not s.beyond]
        if not outside or len(outside) < len(floor):
            return "as drawn"
        ground = all(s.said in GROUND_KINDS for s in outside)
        plain = z < lowest + CLOSE if self._ground() is None else True
        return "as drawn" if ground == plain else "ground" if ground else "outside air"

    def _above(self, top: list[Surface]) -> str:
        if top and all(self._neighbour(s) for s in top):
            return "neighbour"
        return "unheated space" if top and all(self._not_drawn(s) for s in top) else "as drawn"

    def drawn_surfaces(self) -> Iterable[Surface]:
        return (s for space in self.drawn for s in self.of[space.id])

    def _ground(self) -> float | None:
        """The level of the ground where walls stand in it."""
        earth = [s.high for s in self.drawn_surfaces() if s.is_upright and s.said in GROUND_KINDS]
        return max(earth) if earth else None

    # build-ups

    def _usual(self, ground: float | None) -> dict[str, str]:
        """The build-up most used in each place."""
        rows: dict[str, list[Surface]] = defaultdict(list)
        for space in self.own:
            for s in self.of[space.id]:
                key = self._place(space, s)
                if key:
                    rows[key].append(s)
        return {key: most_used(rows[key]) for key in PLACES}

    def _place(self, space: Space, s: Surface) -> str:
        other = self.spaces.get(s.beyond)
        kind = other.kind if other is not None else ""
        if space.left:
            outer = {"": "loft_gable" if s.is_upright else "loft_roof"}
            return outer.get(kind, "")
        if space.kind != "heated" or kind == "heated":
            return ""
        if s.is_upright:
            return {"neighbour": "party_buildup", "unheated": "inner_buildup"}.get(
                kind, "earth_buildup" if s.said in GROUND_KINDS else "wall_buildup"
            )
        if s.up > 0:
            return "ceiling_buildup" if kind == "unheated" else "roof_buildup" if not kind else ""
        if kind:
            return "cellar_buildup" if kind == "unheated" else ""
        return "ground_buildup" if s.said in GROUND_KINDS else "air_buildup"

    def _default(self, rows: Sequence[Surface], chosen: Mapping[str, str], floor: bool) -> str:
        if not rows:
            return ""
        space = self.spaces[rows[0].space]
        return chosen.get(self._place(space, rows[0]), "") if space.kind == "heated" else ""

    # roofs

    def _roofs(self, usual: str) -> list[RoofPlan]:
        """Each slope as a part of the roof; two that make a gable over a rectangle as one."""
        slopes = [s for space in self.own for s in self.of[space.id] if s.up > LEVEL and not s.is_level and not s.beyond]
        for s in slopes:
            loft = self.spaces[s.space].left
            if not loft and usual and s.buildup and s.buildup != usual:
                self.notes.append(f"the build-up of {s.name}: all slopes of a home have one, that of the largest")
        return roofs_of_slopes([s.polygon for s in slopes], read_as)


PLACES = (
    "wall_buildup", "earth_buildup", "party_buildup", "inner_buildup", "roof_buildup", "ceiling_buildup", "ground_buildup",
    "cellar_buildup", "air_buildup", "loft_roof", "loft_gable",
)  # fmt: skip


def _called(z: float, steps: Sequence[float]) -> str:
    """What a storey is called by where it lies: the first that is not deep below level 0 is the ground floor."""
    up = [s for s in steps if s > DEEP]
    if z <= DEEP:
        return "Cellar"
    return "Ground floor" if z == up[0] else f"Storey {up.index(z)}"


# rooms


def _rooms(pieces: Iterable[Piece], n: int) -> Iterable[Room]:
    rows = [(s, p) for piece in pieces if piece.kind == "heated" for s, p in piece.rooms]
    if len(rows) < 2:
        return
    for k, (space, region) in enumerate(rows, 1):
        at = region.representative_point()
        yield Room(id=f"read-room-{n + 1}-{k}", name=space.name, x=read_as(at.x), y=read_as(at.y))


def _inner_walls(pieces: Iterable[Piece], n: int) -> Iterable[InnerWall]:
    """Lines between rooms of one outline."""
    found = 0
    for piece in pieces:
        regions = [p for _, p in piece.rooms]
        for k, one in enumerate(regions):
            for other in regions[k + 1 :]:
                shared = shapely.line_merge(shapely.intersection(one.boundary, other.boundary, grid_size=1e-6))
                for line in shapely.get_parts(shared):
                    if line.geom_type != "LineString" or line.length < 0.05:
                        continue
                    points = list(shapely.simplify(line, 1e-4).coords)
                    for a, b in zip(points, points[1:], strict=False):
                        found += 1
                        yield InnerWall(
                            id=f"read-inner-{n + 1}-{found}", x=read_as(a[0]), y=read_as(a[1]), to_x=read_as(b[0]), to_y=read_as(b[1])
                        )
