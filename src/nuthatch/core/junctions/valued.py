"""ψ of a junction in the home's dimensions: from the catalogue by family and tier, or as entered, converted between outer and inner
dimensions by what meets there."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, radians, sin

from nuthatch.core.junctions.families import COPLANAR
from nuthatch.core.junctions.found import Found
from nuthatch.core.library import PsiRow, psi_rows, psi_sources
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Entered, Figure, Node
from nuthatch.core.solid.solid import Boundary

TIERS = ("fallback", "typical")
SIDES = "EN ISO 14683:2017, 6"


@dataclass(frozen=True, eq=False)
class Flank:
    """A face that runs into a junction: U, b, whole thickness of its build-up [m]."""

    face: Boundary
    u: Node
    b: Node
    thickness: float


@calculation("U·t of what meets", "conductivity", "S = Σ(U·t)", "method: catalogue of junctions", us="U: u", thick="t: thickness")
def through(us: tuple[float, ...], thick: tuple[float, ...]) -> float:
    """[W/(m·K)] of the faces that meet."""
    return sum(u * t for u, t in zip(us, thick, strict=True))


@calculation(
    "ψ of a corner", "psi", "ψ = max(c, k·S)·f", "method: catalogue of junctions; f: how far it turns, 1 for a right angle",
    floor="c: psi", share="k: fraction", through="S: conductivity", turned="f: fraction",
)  # fmt: skip
def corner_psi(floor: float, share: float, through: float, turned: float) -> float:
    """[W/(m·K)] by what meets there."""
    return max(floor, share * through) * turned


@calculation(
    "ψ for external dimensions", "psi", "ψ = ψ_i − Σ(b·U·l)", "EN ISO 14683:2017; lengths by the edge's own geometry",
    psi="ψ_i: psi", bs="b: fraction", us="U: u", lengths="l: length",
)  # fmt: skip
def to_external(psi: float, bs: tuple[float, ...], us: tuple[float, ...], lengths: tuple[float, ...]) -> float:
    """[W/(m·K)]; lengths: by how much each face is longer outside [m]."""
    return psi - sum(b * u * l for b, u, l in zip(bs, us, lengths, strict=True))


@calculation(
    "ψ for internal dimensions", "psi", "ψ = ψ_e + Σ(b·U·l)", "EN ISO 14683:2017; lengths by the edge's own geometry",
    psi="ψ_e: psi", bs="b: fraction", us="U: u", lengths="l: length",
)  # fmt: skip
def to_internal(psi: float, bs: tuple[float, ...], us: tuple[float, ...], lengths: tuple[float, ...]) -> float:
    """[W/(m·K)]; lengths: by how much each face is longer outside [m]."""
    return psi + sum(b * u * l for b, u, l in zip(bs, us, lengths, strict=True))


FOLDED = 1e-3
"""Faces folded onto each other closer than this have no corner that could be longer at one side."""


def longer(own: float, other: float, angle: float) -> float:
    """By how much a face is longer outside than inside at an edge [m]: its own thickness and the other's [m], the angle between them measured
    inside [°]. A right angle adds the other's thickness, an inner corner takes it off, one plane adds nothing."""
    if abs(angle - 180) < COPLANAR:
        return 0.0
    a = radians(angle)
    if abs(sin(a)) < FOLDED:
        return 0.0
    return (other + own * cos(a)) / sin(a)


def converted(psi: Node, given: str, wanted: str, flanks: tuple[Flank, ...], found: Found, label: str) -> Node:
    """A ψ in the dimensions that are wanted. A party wall counts to its axis, and loses nothing itself."""
    if given == wanted or len(flanks) != 2:
        return psi
    lengths = []
    for own, other in (flanks, flanks[::-1]):
        party = other.face.beyond.kind == "neighbour"
        reach = longer(own.thickness, other.thickness / 2 if party else other.thickness, found.angle)
        lengths.append(Entered(f"{own.face.name} is longer outside by", reach, "length", "calculated", "from the shape"))
    rule = to_external if wanted == "external" else to_internal
    return rule.figure(f"{label}, {wanted} dimensions", psi=psi, bs=_bs(flanks), us=_us(flanks), lengths=tuple(lengths))


def _bs(flanks: tuple[Flank, ...]) -> tuple[Node, ...]:
    none = Entered("a heated neighbour behind it", 0.0, "fraction")
    return tuple(none if f.face.beyond.kind == "neighbour" else f.b for f in flanks)


def _us(flanks: tuple[Flank, ...]) -> tuple[Node, ...]:
    none = Entered("loses nothing", 0.0, "u")
    return tuple(none if f.face.beyond.kind == "neighbour" else f.u for f in flanks)


def from_catalogue(family: str, tier: str, wanted: str, found: Found, flanks: tuple[Flank, ...]) -> Node:
    """The catalogue's ψ of a family in the home's dimensions, converted where it has none for those."""
    row = psi_rows()[family]
    given = wanted if wanted in row.values else "external"
    label = f"ψ of {family}, {tier}"
    return converted(_of_row(row, tier, given, found, flanks, label), given, wanted, flanks, found, label)


def _of_row(row: PsiRow, tier: str, given: str, found: Found, flanks: tuple[Flank, ...], label: str) -> Node:
    value = row.values[given][tier]
    source = f"{tier}; {psi_sources()[given]}"
    least = Entered(f"{label}: at least" if value.share else label, value.value, "psi", "assumed", source)
    if not value.share:
        return _turned(row, least, found, label) if row.turned and not _square(found) else least
    through_all = through.figure(
        us=_us(flanks), thick=tuple(Entered(f"thickness of {f.face.name}", f.thickness, "thickness") for f in flanks)
    )
    floor = least if value.least else Entered("no least", NONE_BELOW, "psi")
    share = Entered("share of U·t", value.share, "fraction", "assumed", source)
    return corner_psi.figure(label, floor=floor, share=share, through=through_all, turned=_turn(row, found))


NONE_BELOW = -100.0
"""A ψ no junction has [W/(m·K)]."""


def _square(found: Found) -> bool:
    return abs(abs(found.angle - 180) - 90) < 1


def _turn(row: PsiRow, found: Found) -> Entered:
    if not row.turned or _square(found):
        return Entered("a right angle", 1.0, "fraction")
    return Entered(f"turns by {abs(180 - found.angle):.0f}°", abs(180 - found.angle) / 90, "fraction", "calculated", "from the shape")


def _turned(row: PsiRow, least: Entered, found: Found, label: str) -> Figure:
    none = Entered("no share of U·t", 0.0, "fraction")
    zero = Entered("U·t is not asked for", 0.0, "conductivity")
    return corner_psi.figure(label, floor=least, share=none, through=zero, turned=_turn(row, found))


def b_of(flanks: tuple[Flank, ...]) -> Node:
    """b of a junction with two temperatures: its unheated face's, the larger of two; beside a neighbour the other face's; else 1."""
    cold = [f.b for f in flanks if f.face.beyond.kind == "unheated"]
    known = [b for b in cold if b.value is not None]
    if cold and len(known) < len(cold):
        return next(b for b in cold if b.value is None)
    if known:
        return max(known, key=lambda b: float(b.value))  # type: ignore[arg-type]
    return Entered("toward outside air or ground", 1.0, "fraction")
