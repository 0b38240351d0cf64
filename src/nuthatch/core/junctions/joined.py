"""Which row of the list stands for which junction of the shape, so that nothing counts twice and what a person decided stays."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import dist

from nuthatch.core.junctions.found import NEAR, Found, Place
from nuthatch.core.model.home import Junction

TYPED = {
    "wall · floor": (
        "ground floor",
        "cellar floor",
        "step of a part cellar",
        "floor over cold",
        "floor over air",
        "inner edge of an overhang",
    ),
    "wall · roof eaves": ("eaves", "high edge of a lean-to", "eaves at floor"),
    "wall · roof verge": ("verge",),
    "wall · ceiling": ("eaves at ceiling", "gable at ceiling", "abutment in the loft"),
    "wall · upper floor": ("upper floor",),
    "party wall": ("party wall with wall", "party wall with roof", "party wall with ceiling", "party wall with floor"),
}
"""What a family of typed lists may stand for in a shape; any other for its own name."""


@dataclass(frozen=True)
class Joined:
    """rows: what each row of the list stands for, by its id; left: what no row stands for."""

    rows: Mapping[str, Found]
    left: tuple[Found, ...]

    def of(self, row: Junction) -> Found | None:
        """What a row stands for; None where it is typed, or where the shape has it no longer."""
        return self.rows.get(row.id)


def joined(found: tuple[Found, ...], rows: tuple[Junction, ...]) -> Joined:
    """Rows that name places have those; one that names none has what the others leave of its junction. A place belongs to the first row that
    names it."""
    left = {f.key: {p.edge: p for p in f.places} for f in found}
    by_key = {f.key: f for f in found}
    made: dict[str, Found] = {}
    for row in sorted((r for r in rows if r.meets in by_key), key=lambda r: not r.places):  # those that name places first
        there = left[row.meets]
        wanted = [p for p in (row.places or tuple(there)) if p in there]
        if wanted:
            made[row.id] = replace(by_key[row.meets], places=tuple(there.pop(p) for p in wanted))
    for ident, of in made.items():
        grown = _continued(of.places, left[of.key])
        made[ident] = replace(of, places=grown)
    rest = (replace(f, places=tuple(p for p in f.places if p.edge in left[f.key])) for f in found)
    return Joined(made, tuple(f for f in rest if f.places))


def _continued(places: tuple[Place, ...], left: dict[str, Place]) -> tuple[Place, ...]:
    """The places with those that go on from one of them in line: the other part of a wall that was split. They are taken from what is left."""
    found = list(places)
    for place in found:  # it grows while it is gone through
        for other in [p for p in left.values() if _in_line(place, p)]:
            found.append(left.pop(other.edge))
    return tuple(found)


def _in_line(first: Place, second: Place) -> bool:
    """Whether a stretch goes on where another ends, in the same direction."""
    (a, b), (c, d) = first.ends, second.ends
    shared = min(dist(p, q) for p in (a, b) for q in (c, d))
    long = dist(a, b) * dist(c, d)
    along = abs(sum((q - p) * (s - r) for p, q, r, s in zip(a, b, c, d, strict=True)))
    return shared < NEAR and long > 0 and along > 0.9999 * long


def may_be(row: Junction) -> tuple[str, ...]:
    """The families of a shape that a typed row may stand for."""
    return TYPED.get(row.family, (row.family,))


def twice(row: Junction, of: Joined) -> bool:
    """Whether a typed row may count what the shape has as well."""
    families = {a for f in (*of.left, *of.rows.values()) for a in f.answers}
    return bool(families & set(may_be(row)))
