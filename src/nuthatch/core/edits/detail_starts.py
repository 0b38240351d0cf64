"""A detail that starts from the very build-ups that meet at a junction: both as layers, mitred where they meet, with the films of their U-values."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import cos, hypot, radians, sin

import numpy as np
import shapely

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.fabric.buildup import RSE, RSI, flow_direction, layer_nodes
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import FACE
from nuthatch.core.heatflow.of_home import detail_of
from nuthatch.core.heatflow.section import Block, Flank, Point, Section, Space
from nuthatch.core.junctions.families import kind_of
from nuthatch.core.junctions.found import Found
from nuthatch.core.junctions.valued import longer
from nuthatch.core.model.home import BuildUp, Junction, Layer
from nuthatch.core.model.part import Basis
from nuthatch.core.results.figure import Known
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.solid.thickness import effective_layers

AIR = 0.3
"""How far the air beside a section is drawn [m]."""
SHORTEST, TIMES = 1.0, 3.0
"""Cut planes lie at the larger of this [m] and so many thicknesses from the corner, ISO 10211:2017, 6.2."""
ON_GROUND = "stands on the ground: draw its section with the ground in it, and take it in as a file"


@dataclass(frozen=True)
class Arm:
    """One of two plane parts that meet: layers from inside to outside as (name, thickness [m], λ), U [W/(m²·K)], film outside [m²·K/W], what lies
    there, its b; ventilated cladding and what is outside it [m], which the section leaves out and the outer face has;
    what its blocks are called after, its name where empty."""

    name: str
    layers: tuple[tuple[str, float, float], ...]
    u: float
    film: float
    beyond: str = "outside"
    b: float = 1.0
    clad: float = 0.0
    short: str = ""

    @property
    def thickness(self) -> float:
        return sum(t for _, t, _ in self.layers)


@refusing
def started(a: Assessment, row: Junction, found: Found) -> Batch:
    """A detail drawn from what meets at a junction; its row takes its ψ from it from now on."""
    section = section_for(a, row.name, found)
    ident = fresh_ids(a.home, "detail", 1)[0]
    made = detail_of(section, ident, Basis.CALCULATED, "from the build-ups that meet")
    changes: list[Insert | SetValue] = [Insert(owner="home", field="details", value=made)]
    wanted: dict[str, object] = {"detail": ident, "tier": "detailed", "psi": None, "dimensions": a.home.shape.dimensions}
    changes += [SetValue(part=row.id, field=f, value=v) for f, v in wanted.items() if row[f] != v]
    return Batch(label=f"{row.name}: a detail from its build-ups", changes=tuple(changes))


@refusing
def redrawn(a: Assessment, row: Junction, found: Found) -> Batch:
    """The detail of a junction drawn anew from what meets there now; what was changed in it by hand goes with it."""
    made = detail_of(section_for(a, row.name, found), row.detail, Basis.CALCULATED, "from the build-ups that meet")
    changes = tuple(SetValue(part=row.detail, field=f, value=made[f]) for f in ("plane", "blocks", "spaces", "flanks"))
    return Batch(label=f"{row.name}: its detail drawn anew", changes=changes)


def section_for(a: Assessment, name: str, found: Found) -> Section:
    """The section of a junction where two faces meet in air. Raises ChangeRefused with what it lacks."""
    faces = [a.all_of(BOUNDARY)[f] for f in found.places[0].faces if f in a.all_of(BOUNDARY)]
    if len(faces) != 2 or found.bend == "coplanar":
        raise ChangeRefused(f"{name} is no corner of two faces: take its section in as a file")
    if any(f.beyond.kind == "ground" for f in faces):
        raise ChangeRefused(f"{name} {ON_GROUND}")
    if any(f.beyond.kind == "neighbour" for f in faces):
        raise ChangeRefused(f"{name} has a heated neighbour behind it: take its section in as a file")
    plan = found.way == "upright"
    if not plan:  # the wall first, and a floor below it, not above
        faces.sort(key=lambda f: ("wall", "slope", "flat roof", "ceiling", "floor").index(kind_of(f)))
    kinds = [kind_of(f) for f in faces]
    shorts = [f"{k} {n}" if kinds.count(k) > 1 else k for n, k in enumerate(kinds, 1)]
    arms = tuple(replace(_arm(a, f), short=s) for f, s in zip(faces, shorts, strict=True))
    return two_arms(name, (arms[0], arms[1]), found.angle, _first(faces, found), plan)


def _arm(a: Assessment, face: Boundary) -> Arm:
    """A face with λ of its layers so that they have its own U."""
    build = next((b for b in a.home.buildups if b.id == face.buildup), None)
    element = a.all_of(FACE)[face.id]
    if build is None or element.u is None or element.u.value is None:
        raise ChangeRefused(f"{face.name} has no U-value yet: give its build-up its layers first")
    direction = flow_direction(face.tilt)
    outer = RSI[direction] if face.beyond.kind == "unheated" or _clad(build) else RSE
    u, layers = float(element.u.value), effective_layers(build)
    plain = [(layer, float(n.value)) for layer, n in zip(layers, layer_nodes(layers, direction), strict=True) if n.value is not None]
    if len(plain) != len(layers) or not layers:
        raise ChangeRefused(f"{build.name} has a layer without thickness or λ: a section needs both")
    mean = [_mean(layer, r) for layer, r in plain]
    whole = 1 / u - RSI[direction] - outer
    factor = sum(t / k for _, t, k in mean) / whole if whole > 0 else 1.0
    b = _b_of(element)
    rows = tuple((n, t, round(k * factor, 6)) for n, t, k in reversed(mean))
    clad = sum(l.thickness.value for l in build.layers if l.thickness is not None) - sum(t for _, t, _ in rows)
    return Arm(face.name, rows, u, outer, face.beyond.kind, float(b), max(clad, 0.0))


def _b_of(element: Element) -> float:
    node = element.loss.inputs.get("b") if isinstance(element.loss, Known) else None
    return float(node.value) if node is not None and not isinstance(node, tuple) and node.value is not None else 1.0


def _clad(build: BuildUp) -> bool:
    return len(effective_layers(build)) < len(build.layers)


def _mean(layer: Layer, r: float) -> tuple[str, float, float]:
    """(name, thickness [m], mean λ over its framing)."""
    t = layer.thickness.value if layer.thickness is not None else 0.0
    k = t / r if r > 0 else 1.0
    share = layer.framing_share.value if layer.framing_share is not None else 0.0
    framed = layer.framing_conductivity.value if layer.framing_conductivity is not None else k
    return layer.name, t, (1 - share) * k + share * framed


def _first(faces: list[Boundary], found: Found) -> float:
    """Which way the first arm goes from the corner [°]: a wall down below a roof, up above a floor; a slope down from a ridge."""
    if found.way == "upright":
        return 0.0
    if kind_of(faces[0]) == "wall":
        return 90.0 if kind_of(faces[1]) == "floor" else -90.0
    return -90.0 - found.angle / 2


def two_arms(name: str, arms: tuple[Arm, Arm], angle: float, first: float, plan: bool) -> Section:
    """Two plane parts that meet at an angle, measured inside [°], mitred; the first goes from the inner corner, 0, 0, at `first` degrees. The
    room lies to the left of the first arm as it goes away from the corner where that goes up, to its right where it goes down; in a
    corner that points into the room (above 180°) the outside lies in the narrow side."""
    turn = -1.0 if first > 0 and not plan else 1.0  # a wall that goes up has the room at its right
    narrow = angle < 180
    wide = angle if narrow else 360 - angle
    ways = [radians(first), radians(first) + turn * radians(wide)]
    normals = [_turned(ways[0], -turn), _turned(ways[1], turn)]  # away from the narrow side
    long = max(SHORTEST, *(TIMES * arm.thickness for arm in arms)) + (0.0 if narrow else max(arm.thickness for arm in arms))
    miter = _miter(ways, normals, [arm.thickness for arm in arms])
    blocks, strips = [], []
    for n, arm in enumerate(arms):
        other = normals[1 - n]
        cut = _half(miter, other)
        depth = 0.0
        for layer, t, k in arm.layers if narrow else tuple(reversed(arm.layers)):
            piece = shapely.intersection(_strip(ways[n], normals[n], long, depth, depth + t), cut)
            blocks.append(Block(f"{layer}, {arm.short or arm.name}", _ring(piece), k))
            depth += t
        strips.append(_ring(shapely.intersection(_strip(ways[n], normals[n], long, depth, depth + AIR), cut)))
    spaces = _spaces(arms, ways, long, strips, narrow)
    flanks = []
    for n, arm in enumerate(arms):
        reach = float(np.dot(miter, (cos(ways[n]), sin(ways[n]))))  # where the mitre ends, along the arm: below 0 beyond the corner
        inner = long if narrow else long - reach
        more = longer(arm.thickness + arm.clad, arms[1 - n].thickness + arms[1 - n].clad, angle)
        flanks.append(Flank(arm.name, inner, inner + more, u=arm.u, to=f"beyond {arm.name}" if arm.beyond == "unheated" else ""))
    return Section(name, tuple(blocks), spaces, tuple(flanks), "horizontal" if plan else "vertical")


def _turned(way: float, side: float) -> Point:
    """The unit vector a quarter turn from a direction."""
    return -side * sin(way), side * cos(way)


def _strip(way: float, normal: Point, long: float, low: float, high: float) -> shapely.Polygon:
    """Part of an arm between two depths, well past the corner."""
    d = cos(way), sin(way)
    ends = [(s, t) for s, t in ((-3 * long, low), (long, low), (long, high), (-3 * long, high))]
    return shapely.Polygon([(s * d[0] + t * normal[0], s * d[1] + t * normal[1]) for s, t in ends])


def _miter(ways: list[float], normals: list[Point], thick: list[float]) -> Point:
    """Where the outer faces meet."""
    matrix = np.array(normals)
    x, y = np.linalg.solve(matrix, np.array(thick))
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


def _ring(shape: shapely.Geometry) -> tuple[Point, ...]:
    made = max(shapely.get_parts(shape), key=lambda p: p.area)
    return tuple((round(float(x), 7) + 0.0, round(float(y), 7) + 0.0) for x, y in made.exterior.coords[:-1])


def _spaces(arms: tuple[Arm, Arm], ways: list[float], long: float, strips: list[tuple[Point, ...]], narrow: bool) -> tuple[Space, ...]:
    """The air in the narrow side, and beside each arm on its other side."""
    ends = [(long * cos(w), long * sin(w)) for w in ways]
    middle: tuple[Point, ...] = ((0.0, 0.0), ends[0], ends[1])
    if narrow:
        return (Space("heated space", "inside", middle, 20.0), *(_beside(arm, strip) for arm, strip in zip(arms, strips, strict=True)))
    rooms = (Space(f"heated space, {arm.name}", "inside", strip, 20.0) for arm, strip in zip(arms, strips, strict=True))
    return (Space("outside", "outside", middle, -5.0, max(arm.film for arm in arms)), *rooms)


def _beside(arm: Arm, strip: tuple[Point, ...]) -> Space:
    """The air behind an arm: outside, or an unheated space at its b."""
    name = f"beyond {arm.name}"
    if arm.beyond == "unheated":
        return Space(name, "unheated", strip, round(-5.0 + 25.0 * (1 - arm.b), 3), arm.film, arm.b)
    return Space(name, "outside", strip, -5.0, arm.film)
