"""Sections of junctions from the plane parts that meet: corners of two, a wall that goes on past a floor or an inner wall, a wall on a slab on
the ground. Lengths in metres; 0, 0 is the inner corner."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from math import cos, degrees, hypot, radians, sin
from typing import Literal, NamedTuple

import numpy as np
import shapely

from nuthatch.core.heatflow.of_home import Ties
from nuthatch.core.heatflow.plies import Ply
from nuthatch.core.heatflow.section import Block, Flank, Point, Section, Space
from nuthatch.core.junctions.valued import longer
from nuthatch.core.model.details import DetailLie

AIR = 0.3
"""How far the air beside a section is drawn [m]."""
SHORTEST, TIMES = 1.0, 3.0
"""Cut planes lie at the larger of this [m] and so many thicknesses from the corner, ISO 10211:2017, 6.2."""
CARRIES, STURDY = 0.09, 0.1
"""A layer carries floors from this λ [W/(m·K)] and thickness [m] on: masonry, concrete, solid wood."""
BEARING, SLAB = 0.1, 0.5
"""How far a slab lies in the layer that carries it, half of it at most [m]; from this λ on it is one [W/(m·K)]: boards end at the wall."""
PARAPET = 0.5
"""How far a wall rises above a flat roof [m]."""
OUTWARD, DEEP = 2.5, 2.5
"""The ground reaches so many characteristic widths out and down, ISO 10211:2017, 6.3; half of one below the floor."""


@dataclass(frozen=True)
class Arm:
    """One plane part that runs into a junction: its layers from inside to outside, U [W/(m²·K)], film outside [m²·K/W], what lies there, its b;
    ventilated cladding and what is outside it, which a section leaves out and the outer face has; what its blocks are called after; what
    its U-value goes by."""

    name: str
    layers: tuple[Ply, ...]
    u: float
    film: float
    beyond: str = "outside"
    b: float = 1.0
    cladding: tuple[tuple[str, float], ...] = ()
    short: str = ""
    buildup: str = ""
    direction: Literal["up", "across", "down"] = "across"
    borders: str = "outside air"

    @property
    def thickness(self) -> float:
        return sum(p.thickness for p in self.layers)

    @property
    def whole(self) -> float:
        """With its cladding [m]."""
        return self.thickness + sum(t for _, t in self.cladding)

    def called(self, ply: Ply) -> str:
        return f"{ply.name}, {self.short or self.name}"


@dataclass(frozen=True)
class Soil:
    """The ground below a home: characteristic width B′ [m], U of the floor with it [W/(m²·K)], how high it lies outside above the floor's inner
    face [m], λ [W/(m·K)]; edge insulation: thickness, reach [m], λ, whether it stands."""

    width: float
    u: float
    level: float
    conductivity: float
    edge: tuple[float, float, float, bool] | None = None


class Drawn(NamedTuple):
    """A section, and what it follows."""

    section: Section
    ties: Ties


class _Blocks:
    """Blocks with the layers they follow, as they are drawn."""

    def __init__(self) -> None:
        self.blocks: list[Block] = []
        self.follows: list[str] = []
        self.assumed: set[int] = set()

    def add(self, name: str, shape: shapely.Geometry, ply: Ply, assumed: bool = False) -> None:
        """A layer's part of the section; nothing where it has none."""
        for part in shapely.get_parts(shape):
            if isinstance(part, shapely.Polygon) and part.area > 1e-7:
                self.assumed |= {len(self.blocks)} if assumed else set()
                self.blocks.append(Block(name, ring(part), ply.conductivity))
                self.follows.append(ply.id)


def lie_of(
    arm: Arm, away: float, side: Literal[-1, 1], cut: float, inside_first: bool = True, corner: Point = (0.0, 0.0)
) -> DetailLie | None:
    """How an arm lies; None where it has no build-up to follow."""
    if not arm.buildup:
        return None
    layers = [(p.id, p.thickness) for p in arm.layers] + list(arm.cladding)
    return DetailLie(
        buildup=arm.buildup,
        layers=tuple(layers if inside_first else reversed(layers)),
        corner=corner,
        away=away,
        side=side,
        start=0.0 if inside_first else arm.thickness - arm.whole,
        cut=cut,
        inside_first=inside_first,
        direction=arm.direction,
        borders=arm.borders,
    )


def _long(*arms: Arm) -> float:
    return max(SHORTEST, *(TIMES * arm.thickness for arm in arms))


# two plane parts that end at each other


def two_arms(name: str, arms: tuple[Arm, Arm], angle: float, first: float, plan: bool) -> Drawn:
    """Two plane parts that meet at an angle, measured inside [°], mitred; the first goes from the inner corner at `first` degrees. The room
    lies to the left of the first arm as it goes away from the corner where that goes up, to its right where it goes down; in a
    corner that points into the room (above 180°) the outside lies in the narrow side."""
    turn = -1 if first > 0 and not plan else 1  # a wall that goes up has the room at its right
    narrow = angle < 180
    wide = angle if narrow else 360 - angle
    ways = [radians(first), radians(first) + turn * radians(wide)]
    sides = (-turn, turn)
    normals = [_turned(w, s) for w, s in zip(ways, sides, strict=True)]  # away from the narrow side
    long = _long(*arms) + (0.0 if narrow else max(arm.thickness for arm in arms))
    miter = _miter(normals, [arm.thickness for arm in arms])
    made, strips = _Blocks(), []
    for n, arm in enumerate(arms):
        cut = _half(miter, normals[1 - n])
        depth = 0.0
        for ply in arm.layers if narrow else arm.layers[::-1]:
            made.add(arm.called(ply), shapely.intersection(_strip(ways[n], normals[n], long, depth, depth + ply.thickness), cut), ply)
            depth += ply.thickness
        strips.append(ring(shapely.intersection(_strip(ways[n], normals[n], long, depth, depth + AIR), cut)))
    spaces = _spaces(arms, ways, long, strips, narrow)
    flanks, lies = [], []
    for n, arm in enumerate(arms):
        reach = float(np.dot(miter, (cos(ways[n]), sin(ways[n]))))  # where the mitre ends, along the arm: below 0 beyond the corner
        inner = long if narrow else long - reach
        more = longer(arm.whole, arms[1 - n].whole, angle)
        flanks.append(Flank(arm.name, inner, inner + more, u=arm.u, to=_behind(arm) if arm.beyond == "unheated" else ""))
        lies.append(lie_of(arm, round(degrees(ways[n]), 9), 1 if sides[n] > 0 else -1, long, narrow))
    section = Section(name, tuple(made.blocks), spaces, tuple(flanks), "horizontal" if plan else "vertical")
    return Drawn(section, Ties(tuple(made.follows), tuple(lies)))


def _behind(arm: Arm) -> str:
    return f"beyond {arm.name}"


def _turned(way: float, side: float) -> Point:
    """The unit vector a quarter turn from a direction."""
    return -side * sin(way), side * cos(way)


def _strip(way: float, normal: Point, long: float, low: float, high: float) -> shapely.Polygon:
    """Part of an arm between two depths, well past the corner."""
    d = cos(way), sin(way)
    ends = [(s, t) for s, t in ((-3 * long, low), (long, low), (long, high), (-3 * long, high))]
    return shapely.Polygon([(s * d[0] + t * normal[0], s * d[1] + t * normal[1]) for s, t in ends])


def _miter(normals: list[Point], thick: list[float]) -> Point:
    """Where the outer faces meet."""
    x, y = np.linalg.solve(np.array(normals), np.array(thick))
    return float(x), float(y)


def _half(miter: Point, other: Point) -> shapely.Polygon:
    """The side of the mitre line on which an arm lies: away from where the other one is."""
    far = 1e3
    long = hypot(*miter)
    d = miter[0] / long, miter[1] / long
    n = -d[1], d[0]
    side = -1.0 if n[0] * other[0] + n[1] * other[1] > 0 else 1.0
    ends = [(-far * d[0], -far * d[1]), (far * d[0], far * d[1])]
    return shapely.Polygon([ends[0], ends[1], *((x + side * far * n[0], y + side * far * n[1]) for x, y in reversed(ends))])


def ring(shape: shapely.Geometry) -> tuple[Point, ...]:
    made = max(shapely.get_parts(shape), key=lambda p: p.area)
    return tuple((round(float(x), 7) + 0.0, round(float(y), 7) + 0.0) for x, y in made.exterior.coords[:-1])


def _spaces(arms: tuple[Arm, Arm], ways: list[float], long: float, strips: list[tuple[Point, ...]], narrow: bool) -> tuple[Space, ...]:
    """The air in the narrow side, and beside each arm on its other side."""
    ends = [(long * cos(w), long * sin(w)) for w in ways]
    middle: tuple[Point, ...] = ((0.0, 0.0), ends[0], ends[1])
    if narrow:
        return (Space("heated space", "inside", middle, WARM), *(_beside(arm, strip) for arm, strip in zip(arms, strips, strict=True)))
    rooms = (Space(f"heated space, {arm.name}", "inside", strip, WARM) for arm, strip in zip(arms, strips, strict=True))
    return (Space("outside", "outside", middle, COLD, max(arm.film for arm in arms)), *rooms)


WARM, COLD = 20.0, -5.0
"""Inside and outside of a section [°C]; ψ and f_Rsi do not depend on them."""


def _beside(arm: Arm, strip: tuple[Point, ...]) -> Space:
    """The air behind an arm: outside, or an unheated space at its b."""
    if arm.beyond == "unheated":
        return Space(_behind(arm), "unheated", strip, _between(arm.b), arm.film, arm.b)
    return Space(_behind(arm), "outside", strip, COLD, arm.film)


def _between(b: float) -> float:
    """Temperature of an unheated space [°C]."""
    return round(COLD + (WARM - COLD) * (1 - b), 3)


# a wall that goes on past what meets it from inside


def carrying(layers: tuple[Ply, ...]) -> tuple[int, bool]:
    """Which layer carries, and whether it is sturdy enough that floors lie in it: the thickest of those, else the thickest of all."""
    sturdy = [n for n, p in enumerate(layers) if p.conductivity >= CARRIES and p.thickness >= STURDY]
    found = max(sturdy or range(len(layers)), key=lambda n: layers[n].thickness)
    return found, bool(sturdy)


def storey_floor(wall: tuple[Ply, ...], thickness: float) -> tuple[Ply, ...]:
    """The floor of a storey whose layers no plan says: concrete in a wall that carries, else timber."""
    name, k = ("Storey floor, concrete", 2.3) if carrying(wall)[1] else ("Storey floor, timber", 0.13)
    return (Ply("", name, thickness, k),)


def _box(x0: float, y0: float, x1: float, y1: float) -> shapely.Polygon:
    return shapely.box(x0, y0, x1, y1)


def _across(x0: float, y0: float, x1: float, y1: float) -> tuple[Point, ...]:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


@dataclass(frozen=True)
class Stem:
    """What meets a wall from inside, as if from below the room: layers downward, as an arm where heat is lost through it; the wall that goes on
    beyond it; what lies there: inside, unheated, outside, or the section ends at its axis (“axis”)."""

    layers: tuple[Ply, ...]
    beyond: Literal["inside", "unheated", "outside", "axis"]
    arm: Arm | None = None
    lower: Arm | None = None
    short: str = "floor"
    assumed: bool = False

    @property
    def thickness(self) -> float:
        return sum(p.thickness for p in self.layers)


def stem(name: str, wall: Arm, of: Stem, plan: bool = False) -> Drawn:
    """A wall, at the left of the room, past a floor at its foot: the wall's linings stop at the floor, the layer of the floor that carries lies in
    the layer of the wall that carries; the wall goes on below, its outer face in line."""
    t, deep = wall.thickness, of.thickness
    long = _long(wall, *(a for a in (of.arm, of.lower) if a is not None))
    linings, ends = _reach(wall, of.layers)
    made = _Blocks()
    floor, y = [], 0.0
    for ply, end in zip(of.layers, ends, strict=True):
        floor.append((ply, _box(-linings - end, y - ply.thickness, long, y)))
        y -= ply.thickness
    taken = shapely.union_all([s for _, s in floor])
    x = 0.0
    for ply in wall.layers:
        made.add(wall.called(ply), shapely.difference(_box(x - ply.thickness, -deep, x, long), taken), ply)
        x -= ply.thickness
    for ply, shape in floor:
        made.add(f"{ply.name}, {of.short}" if ply.id else ply.name, shape, ply, of.assumed)
    low = -deep - (PARAPET if of.beyond == "outside" else long if of.lower is not None else 0.0)
    if of.lower is not None:
        x = -t + of.lower.thickness
        for ply in of.lower.layers:
            made.add(of.lower.called(ply), _box(x - ply.thickness, low, x, -deep), ply)
            x -= ply.thickness
    spaces = [Space("heated space", "inside", _across(0, 0, long, long), WARM)]
    spaces.append(Space(_behind(wall), "outside", _across(-t - AIR, low, -t, long), COLD, wall.film))
    spaces += _below(of, -t, low, long)
    section = Section(name, tuple(made.blocks), tuple(spaces), tuple(_flanks(wall, of, long)), "horizontal" if plan else "vertical")
    lies = [lie_of(wall, 90.0, -1, long, False, (-t, 0.0))]
    beside: tuple[DetailLie | None, ...] = ()
    if of.arm is not None:
        lies.append(lie_of(of.arm, 0.0, -1, long))
    if of.lower is not None:
        below = lie_of(of.lower, -90.0, 1, long if of.beyond != "outside" else PARAPET, False, (-t, -deep))
        beside, lies = ((), [*lies, below]) if of.beyond == "inside" else ((below,), lies)
    return Drawn(section, Ties(tuple(made.follows), tuple(lies), tuple(b for b in beside if b is not None), frozenset(made.assumed)))


def _reach(wall: Arm, layers: tuple[Ply, ...]) -> tuple[float, list[float]]:
    """How thick the wall's linings are [m], and how far each layer of the floor reaches beyond them."""
    n, sturdy = carrying(wall.layers)
    lies_in, _ = carrying(layers)
    linings = sum(p.thickness for p in wall.layers[:n])
    heavy = sturdy and layers[lies_in].conductivity >= SLAB
    bearing = min(BEARING, wall.layers[n].thickness / 2) if heavy else 0.0
    return linings, [bearing if m == lies_in else 0.0 for m in range(len(layers))]


def _below(of: Stem, outer: float, low: float, long: float) -> Iterable[Space]:
    """What lies beyond the floor."""
    inner = outer + (of.lower.thickness if of.lower is not None else 0.0)
    deep = -of.thickness
    if of.beyond == "inside":
        yield Space("heated space beyond", "inside", _across(inner, low, long, deep), WARM)
    elif of.beyond == "unheated" and of.arm is not None:
        yield Space(_behind(of.arm), "unheated", _across(inner, low, long, deep), _between(of.arm.b), None, of.arm.b)
    elif of.beyond == "outside" and of.arm is not None:
        around = ((outer - AIR, low - AIR), (long, low - AIR), (long, deep), (inner, deep), (inner, low), (outer - AIR, low))
        yield Space(_behind(of.arm), "outside", around, COLD, of.arm.film)


def _flanks(wall: Arm, of: Stem, long: float) -> Iterable[Flank]:
    """Outside a wall is longer by what meets it, but for a floor between two rooms: there the lower one goes up to its surface."""
    deep = of.thickness if of.arm is None else of.arm.whole
    yield Flank(wall.name, long, long + (0.0 if of.beyond == "inside" else deep), u=wall.u)
    if of.arm is not None:
        yield Flank(of.arm.name, long, long + wall.whole, u=of.arm.u, to=_behind(of.arm) if of.beyond == "unheated" else "")
    if of.beyond == "inside" and of.lower is not None:
        name = of.lower.name if of.lower.name != wall.name else f"{wall.name}, below"
        yield Flank(name, long + deep, long + deep, u=of.lower.u)


# a wall on a slab


def on_ground(name: str, wall: Arm, floor: Arm, soil: Soil) -> Drawn:
    """A wall that stands on the layer of a slab that carries; what lies on that ends at the wall, it and what lies below go on to the wall's outer
    face. Floor to half a characteristic width from the wall, ground to 2.5 of it."""
    t, deep = wall.thickness, floor.thickness
    long, cut, far = _long(wall), 0.5 * soil.width, OUTWARD * soil.width
    stands, _ = carrying(floor.layers)
    foot = -sum(p.thickness for p in floor.layers[:stands])
    level = min(max(soil.level, -deep), long / 2)
    made = _Blocks()
    x = 0.0
    for ply in wall.layers:
        made.add(wall.called(ply), _box(x - ply.thickness, foot, x, long), ply)
        x -= ply.thickness
    y = 0.0
    for n, ply in enumerate(floor.layers):
        made.add(floor.called(ply), _box(-t if n >= stands else 0.0, y - ply.thickness, cut, y), ply)
        y -= ply.thickness
    edge = _edge(soil, t, deep, max(foot, level), level)
    bottom = -deep - DEEP * soil.width
    earth = shapely.union(_box(-t - far, bottom, -t, level), _box(-t - 1e-9, bottom, cut, -deep))
    air = _box(-t - far, level, -t, long)
    if edge is not None and soil.edge is not None:
        made.add("Edge insulation", edge, Ply("", "", 0.0, soil.edge[2]))
    clear = edge if edge is not None else shapely.Polygon()
    made.add("Ground", _squared(shapely.difference(earth, clear)), Ply("", "", 0.0, soil.conductivity))
    spaces = (
        Space("heated space", "inside", _across(0, 0, cut, long), WARM),
        Space(_behind(wall), "outside", ring(shapely.difference(air, clear)), COLD, wall.film),
    )
    flanks = (Flank(wall.name, long, long + floor.whole, u=wall.u), Flank(floor.name, cut, cut + wall.whole, u=soil.u))
    lies = (lie_of(wall, 90.0, 1, long), lie_of(replace(floor, borders="ground"), 0.0, -1, cut))
    return Drawn(Section(name, tuple(made.blocks), spaces, flanks), Ties(tuple(made.follows), lies, width=soil.width))


def _edge(soil: Soil, t: float, deep: float, top: float, level: float) -> shapely.Polygon | None:
    if soil.edge is None:
        return None
    thick, reach, _, standing = soil.edge
    return _box(-t - thick, level - reach, -t, top) if standing else _box(-t, -deep - thick, -t + reach, -deep)


def _squared(shape: shapely.Geometry) -> shapely.Geometry:
    return shapely.set_precision(shape, 1e-7)


# turned


def mirrored(drawn: Drawn) -> Drawn:
    """Upside down: what was at the foot of a wall is at its head."""

    def lie(of: DetailLie | None) -> DetailLie | None:
        return None if of is None else _relaid(of, (of.corner[0], -of.corner[1]), -of.away, -1 if of.side > 0 else 1)

    return _moved(drawn, lambda p: (p[0], -p[1]), lie)


def turned(drawn: Drawn, quarters: int) -> Drawn:
    """Turned to the left by quarters."""
    c, s = ((1, 0), (0, 1), (-1, 0), (0, -1))[quarters % 4]

    def move(p: Point) -> Point:
        return c * p[0] - s * p[1], s * p[0] + c * p[1]

    def lie(of: DetailLie | None) -> DetailLie | None:
        return None if of is None else _relaid(of, move(of.corner), of.away + 90.0 * quarters, of.side)

    return _moved(drawn, move, lie)


def _relaid(lie: DetailLie, corner: Point, away: float, side: int) -> DetailLie:
    return lie.model_copy(update={"corner": corner, "away": away, "side": side})


Lying = Callable[[DetailLie | None], DetailLie | None]


def _moved(drawn: Drawn, move: Callable[[Point], Point], lie: Lying) -> Drawn:
    s = drawn.section
    blocks = tuple(replace(b, outline=tuple(map(move, b.outline))) for b in s.blocks)
    spaces = tuple(replace(x, outline=tuple(map(move, x.outline))) for x in s.spaces)
    ties = replace(drawn.ties, lies=tuple(map(lie, drawn.ties.lies)), beside=tuple(b for b in map(lie, drawn.ties.beside) if b is not None))
    return Drawn(replace(s, blocks=blocks, spaces=spaces), ties)
