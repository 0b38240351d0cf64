"""Which kind of junction an edge of the shape is: by the faces that meet, how the edge lies, and the angle of the air inside.

The rules are those of docs/methods (junctions): the first that fits. What they cannot tell has several answers, and a person says which.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import asin, cos, degrees, radians
from typing import Literal, NamedTuple

from nuthatch.core.plans.polygons import Point
from nuthatch.core.solid.solid import Boundary

LEVEL, UPRIGHT = 2.0, 88.0
"""An edge that rises by less is level, by more upright [°]."""
COPLANAR = 10.0
"""Faces whose angle differs from 180° by less lie in one plane [°]."""
SHORTEST = 0.1
"""Shorter edges are no junctions [m]."""
WALL_TILT, FLAT_TILT = 60.0, 3.0
"""Faces that lean by more are walls, roofs that lean by less are flat [° from the horizontal]."""

Way = Literal["level", "rising", "upright"]
Bend = Literal["convex", "re-entrant", "coplanar"]
Kind = Literal["neighbour", "wall", "slope", "flat roof", "ceiling", "floor"]


class Told(NamedTuple):
    """What an edge is: one family, none ('' alone), or several answers of which a person takes one."""

    answers: tuple[str, ...]

    @property
    def family(self) -> str:
        return self.answers[0] if len(self.answers) == 1 else ""

    @property
    def asked(self) -> bool:
        return len(self.answers) > 1


NONE = Told(("",))
OTHER = Told(("other", "none"))


@dataclass(frozen=True)
class Lying:
    """How an edge lies: its way, the bend of the air inside, the angle [°]; whether a storey's floor meets it; what stands on it in the loft
    (“slope”, “wall”, '' for neither)."""

    way: Way
    bend: Bend
    angle: float
    storey: bool = False
    above: str = ""


Rule = Callable[[Boundary, Boundary, Lying], Told]


def way_of(ends: tuple[Point, Point], length: float) -> Way:
    """How an edge lies."""
    rise = degrees(asin(min(abs(ends[1][2] - ends[0][2]) / length, 1.0))) if length > 0 else 0.0
    return "level" if rise < LEVEL else "upright" if rise > UPRIGHT else "rising"


def bend_of(angle: float) -> Bend:
    """The bend of the air inside at an edge."""
    return "coplanar" if abs(angle - 180) < COPLANAR else "convex" if angle < 180 else "re-entrant"


def kind_of(face: Boundary) -> Kind:
    """What a face is to the junctions at its edges."""
    if face.beyond.kind == "neighbour":
        return "neighbour"
    if face.tilt > 180 - WALL_TILT:
        return "floor"
    if face.tilt >= WALL_TILT:
        return "wall"
    if face.beyond.kind == "unheated" and face.tilt <= FLAT_TILT:
        return "ceiling"
    return "flat roof" if face.tilt <= FLAT_TILT else "slope"


def told(faces: tuple[Boundary, ...], lying: Lying) -> Told:
    """The family of an edge where faces meet."""
    if len(faces) != 2:
        return OTHER
    first, second = sorted(faces, key=lambda f: ORDER.index(kind_of(f)))
    if kind_of(first) == "neighbour":
        return _party(kind_of(second))
    rule = RULES.get((kind_of(first), kind_of(second)))
    return rule(first, second, lying) if rule is not None else OTHER


ORDER: tuple[Kind, ...] = ("neighbour", "wall", "slope", "flat roof", "ceiling", "floor")


def _party(kind: Kind) -> Told:
    if kind == "neighbour":
        return NONE
    return Told((f"party wall with {'roof' if kind in ('slope', 'flat roof') else kind}",))


def _changed(a: Boundary, b: Boundary) -> Told:
    """In one plane: nothing, or another build-up or border beyond the edge."""
    same = a.buildup == b.buildup and a.beyond.kind == b.beyond.kind
    ground = {a.beyond.kind, b.beyond.kind} == {"ground", "outside"} and a.buildup == b.buildup
    return NONE if same or ground else Told(("change of build-up",))


def _wall_floor(wall: Boundary, floor: Boundary, lying: Lying) -> Told:
    if lying.way != "level" or lying.bend == "coplanar":
        return OTHER
    if floor.beyond.kind == "ground":
        if lying.bend == "re-entrant":
            return Told(("step of a part cellar",))
        return Told(("cellar floor" if wall.beyond.kind == "ground" else "ground floor",))
    if lying.bend == "re-entrant":
        return Told(("inner edge of an overhang",))
    return Told(("floor over air" if floor.beyond.kind == "outside" else "floor over cold",))


def _wall_wall(a: Boundary, b: Boundary, lying: Lying) -> Told:
    if lying.way == "upright":
        if lying.bend == "coplanar":
            return _changed(a, b)
        return Told(("outer corner" if lying.bend == "convex" else "inner corner",))
    if lying.way != "level":
        return OTHER if lying.bend != "coplanar" else _changed(a, b)
    if lying.bend != "coplanar":
        return Told(("set-back", "jetty", "other"))
    if _changed(a, b) != NONE:
        return _changed(a, b)
    return Told(("upper floor",)) if lying.storey else NONE


def _wall_slope(wall: Boundary, roof: Boundary, lying: Lying) -> Told:
    if wall.beyond.kind == "unheated" and lying.way == "level":
        return Told(("slope with knee wall",))
    if lying.bend == "coplanar":
        return OTHER
    if lying.way == "rising":
        return Told(("verge" if lying.bend == "convex" else "abutment, side",))
    if lying.way != "level":
        return OTHER
    if lying.bend == "re-entrant":
        return Told(("abutment, front",))
    outward = cos(radians(roof.azimuth - wall.azimuth))
    return Told(("eaves" if outward > 0 else "high edge of a lean-to",))


def _wall_flat(wall: Boundary, roof: Boundary, lying: Lying) -> Told:
    if lying.way != "level" or lying.bend == "coplanar":
        return OTHER
    return Told(("parapet", "flat roof edge")) if lying.bend == "convex" else Told(("abutment, front",))


def _wall_ceiling(wall: Boundary, ceiling: Boundary, lying: Lying) -> Told:
    if lying.way != "level" or lying.bend == "coplanar":
        return OTHER
    if lying.bend == "re-entrant":
        return Told(("abutment in the loft",))
    at = {"slope": ("eaves at ceiling",), "wall": ("gable at ceiling",)}
    return Told(at.get(lying.above, ("eaves at ceiling", "gable at ceiling", "upper floor")))


def _slope_slope(a: Boundary, b: Boundary, lying: Lying) -> Told:
    if lying.bend == "coplanar":
        return _changed(a, b)
    if lying.way == "level":
        return Told(("ridge" if lying.bend == "convex" else "valley",))
    return Told(("hip" if lying.bend == "convex" else "valley",)) if lying.way == "rising" else OTHER


def _slope_level(name: str) -> Rule:
    def rule(slope: Boundary, other: Boundary, lying: Lying) -> Told:
        if lying.way != "level":
            return OTHER
        return Told((f"slope with {name}",)) if lying.bend == "convex" else Told(("abutment, front",))

    return rule


def _slope_floor(slope: Boundary, floor: Boundary, lying: Lying) -> Told:
    if lying.way == "level" and lying.bend == "convex":
        return Told(("eaves at floor",))
    return OTHER


def _flat(a: Boundary, b: Boundary, lying: Lying) -> Told:
    """Two ceilings, two floors, two flat roofs: in one plane nothing, or a change."""
    return _changed(a, b) if lying.bend == "coplanar" else OTHER


RULES: dict[tuple[Kind, Kind], Rule] = {
    ("wall", "wall"): _wall_wall,
    ("wall", "slope"): _wall_slope,
    ("wall", "flat roof"): _wall_flat,
    ("wall", "ceiling"): _wall_ceiling,
    ("wall", "floor"): _wall_floor,
    ("slope", "slope"): _slope_slope,
    ("slope", "flat roof"): _slope_level("flat roof"),
    ("slope", "ceiling"): _slope_level("ceiling"),
    ("slope", "floor"): _slope_floor,
    ("flat roof", "flat roof"): _flat,
    ("ceiling", "ceiling"): _flat,
    ("floor", "floor"): _flat,
}
