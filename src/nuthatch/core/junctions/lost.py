"""What a junction loses, typed or found, as an element of the envelope."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.fabric.elements import Element, junction_loss, point_loss, reduction
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.junctions.found import Found
from nuthatch.core.junctions.valued import Flank, b_of, converted, from_catalogue
from nuthatch.core.library import psi_rows
from nuthatch.core.model.home import Junction
from nuthatch.core.results.calculation import total
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Computing, Entered, Figure, Node, Unknown, missing

SHAPE = "from the drawn shape"


@dataclass(frozen=True, eq=False)
class Meeting:
    """The faces that may meet, with their results; b of unheated spaces; whole thickness of build-ups [m]; the home's dimensions."""

    faces: dict[str, Element]
    bs: dict[str, Figure]
    thick: dict[str, float]
    dimensions: str

    def flanks(self, found: Found) -> tuple[Flank, ...]:
        """The faces of a junction, as at its longest place."""
        made = []
        for ident in found.places[0].faces:
            element = self.faces.get(ident)
            if element is None or element.boundary is None:
                continue
            face = element.boundary
            u = element.u if element.u is not None else missing(f"U of {face.name}", "u", f"a build-up for {face.name}")
            made.append(Flank(face, u, reduction(face, self.bs.get(face.beyond.id)), self.thick.get(face.buildup, 0.0)))
        return tuple(made)

    def length(self, found: Found) -> float:
        """In the home's dimensions [m]."""
        return found.outer if self.dimensions == "external" else found.inner


def of_row(row: Junction, found: Found | None, meeting: Meeting, solved: Solved | Unknown | Computing | None = None) -> Element:
    """What a row of the list loses; one that stands for what the shape has no longer loses nothing, and is asked about."""
    label = f"Loss of {row.name}"
    if found is None:
        length: Node = Entered("gone from the shape", 0.0, "length") if row.meets else need(row, "length")
        b = optional(row, "b", 1.0, "toward outside air")
        if row.chi is not None and row.length is None and row.psi is None and not row.meets and not row.detail:
            return Element(row.id, row.name, "junctions", "outside air", None, None, _points(row, b, label))
        loss = junction_loss.figure(label, psi=_own(row, solved, meeting.dimensions), length=length, b=b)
        loss = _with_points(row, loss, b, label)
        return Element(row.id, row.name, "junctions", "outside air", None, None, loss)
    flanks = meeting.flanks(found)
    b = THIRD if _in_it(row, solved) else need(row, "b") if row.b is not None else b_of(flanks)
    loss = junction_loss.figure(label, psi=psi_of(row, found, flanks, meeting.dimensions, solved), length=_length(row, found, meeting), b=b)
    return Element(row.id, row.name, "junctions", "outside air", None, None, _with_points(row, loss, b, label))


def _points(row: Junction, b: Node, label: str) -> Figure:
    """χ of each times their number: one where none is said."""
    return point_loss.figure(label, chi=need(row, "chi"), points=optional(row, "points", 1.0, "one of them"), b=b)


def _with_points(row: Junction, loss: Figure, b: Node, label: str) -> Figure:
    """The loss along the junction, and that of the points on it."""
    if row.chi is None and row.points is None:
        return loss
    return total(label, "w_per_k", (loss, _points(row, b, f"{label}, points")))


def _own(row: Junction, solved: Solved | Unknown | Computing | None, dimensions: str) -> Node:
    if row.psi is None and row.meets:
        return Entered("gone from the shape", 0.0, "psi")
    if row.psi is None and row.tier == "detailed" and solved is not None and not isinstance(solved, Unknown):
        return _of_detail(row, solved, dimensions)
    return need(row, "psi")


THIRD = Entered("the unheated space is in the detail", 1.0, "fraction")


def _in_it(row: Junction, solved: Solved | Unknown | Computing | None) -> bool:
    """Whether ψ comes of a detail that has the unheated space in it, with its b: then b is not taken once more."""
    by_detail = row.psi is None and row.tier == "detailed" and isinstance(solved, Solved)
    return by_detail and isinstance(solved, Solved) and any(f.b != 1 for f in solved.flanks)


def _of_detail(row: Junction, solved: Solved | Computing, dimensions: str) -> Node:
    """The ψ its detail gives; one without flanks gives none."""
    if isinstance(solved, Computing):
        return solved
    psi = solved.psi(dimensions)
    if psi is None:
        return missing(f"ψ of {row.name}", "psi", "flanks of its detail, which ψ takes off", row.detail, "name")
    return Entered(f"ψ of {row.name}, by its detail", psi, "psi", "calculated", "ISO 10211:2017, in two dimensions", row.id, "detail")


def psi_of(
    row: Junction, found: Found, flanks: tuple[Flank, ...], dimensions: str, solved: Solved | Unknown | Computing | None = None
) -> Node:
    """ψ of a row in the home's dimensions: as entered, else by its detail, else the catalogue's of its tier (typical until a detailed one is
    known)."""
    if row.psi is not None:
        return converted(need(row, "psi"), row.dimensions, dimensions, flanks, found, f"ψ of {row.name}")
    if row.tier == "detailed" and solved is not None and not isinstance(solved, Unknown):
        return _of_detail(row, solved, dimensions)
    family = row.family if row.family in psi_rows() else found.family or worst(found, dimensions, flanks)
    return from_catalogue(family, row.tier if row.tier != "detailed" else "typical", dimensions, found, flanks)


def _length(row: Junction, found: Found, meeting: Meeting) -> Node:
    if row.length is not None:
        return need(row, "length")
    return Entered(f"length of {row.name}", meeting.length(found), "length", "calculated", SHAPE, row.id, "length")


def of_found(found: Found, tier: str, meeting: Meeting) -> Element:
    """What a junction loses that is in no list; one that is asked about by the largest fallback of its answers."""
    flanks = meeting.flanks(found)
    family = found.family or worst(found, meeting.dimensions, flanks)
    psi = from_catalogue(family, tier if found.family else "fallback", meeting.dimensions, found, flanks)
    name = family[0].upper() + family[1:]
    length = Entered(f"length of {family}", meeting.length(found), "length", "calculated", SHAPE)
    loss = junction_loss.figure(f"Loss of {family}", psi=psi, length=length, b=b_of(flanks))
    return Element(found.key, name, "junctions", "outside air", None, None, loss)


def worst(found: Found, dimensions: str, flanks: tuple[Flank, ...]) -> str:
    """The answer with the largest fallback."""

    def fallback(family: str) -> float:
        value = from_catalogue(family, "fallback", dimensions, found, flanks).value
        return float(value) if value is not None else 0.0

    return max((a for a in found.answers if a != "none"), key=fallback)
