"""Every junction of a home as a row: those of the list, those of the shape that are in none, those of openings; board, drawing, sheet and JSON
show the same ones."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.openings import installation, number, sizes
from nuthatch.core.fabric.stages import FACE, B
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import SOLVED
from nuthatch.core.junctions.found import Found
from nuthatch.core.junctions.lost import Meeting
from nuthatch.core.junctions.stages import JOINED
from nuthatch.core.junctions.valued import converted
from nuthatch.core.model.home import Junction, Opening, OpeningType
from nuthatch.core.results.figure import Known, Node
from nuthatch.core.solid.built_stages import THICKNESS
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.units import so_many
from nuthatch.core.views.sheets.sheet import Column, Sheet, of_node, sheet


@dataclass(frozen=True, eq=False)
class Row:
    """One junction: the part of the list, None where the shape alone has it; what was found, None where it is typed; its element, None where it
    does not count; tier; where it is."""

    id: str
    name: str
    family: str
    tier: str
    where: str
    part: Junction | None
    found: Found | None
    element: Element | None

    @property
    def asked(self) -> bool:
        """Whether a person is to say what it is."""
        return self.part is None and self.found is not None and not self.found.family

    def node(self, name: str) -> Node | None:
        """An input of its loss: psi, length, b."""
        loss = self.element.loss if self.element is not None else None
        if isinstance(loss, Known) and isinstance(terms := loss.inputs.get("terms"), tuple) and isinstance(terms[0], Known):
            loss = terms[0]  # along the junction; the points on it stand beside
        found = loss.inputs.get(name) if isinstance(loss, Known) else None
        return found if not isinstance(found, tuple) else None

    def number(self, name: str) -> float | None:
        """The same as a number [SI]; None where it is not known."""
        node = self.node(name)
        return float(node.value) if node is not None and node.value is not None else None

    @property
    def loss(self) -> float | None:
        """[W/K]."""
        value = self.element.loss.value if self.element is not None else None
        return float(value) if value is not None else None

    @property
    def edges(self) -> tuple[str, ...]:
        return tuple(p.edge for p in self.found.places) if self.found is not None else ()


def rows(a: Assessment) -> tuple[Row, ...]:
    """What is asked first, then the list in its order, then what the shape has besides, the heaviest first."""
    elements = {e.id: e for e in a[ELEMENTS] if e.category == "junctions"}
    joined = a[JOINED]
    listed = [_listed(a, j, joined.of(j), elements.get(j.id)) for j in a.home.junctions]
    left = [_left(a, f, elements.get(f.key)) for f in joined.left]
    left.sort(key=lambda r: -abs(r.loss or 0.0))
    return (*(r for r in left if r.asked), *listed, *(r for r in left if not r.asked))


def _listed(a: Assessment, part: Junction, found: Found | None, element: Element | None) -> Row:
    return Row(part.id, part.name, part.family, part.tier, where(a, found) if found is not None else "", part, found, element)


def _left(a: Assessment, found: Found, element: Element | None) -> Row:
    family = found.family or " or ".join(f for f in found.answers if f != "none")
    name = family[0].upper() + family[1:] + ("?" if not found.family else "")
    tier = "fallback" if not found.family else a.home.junction_tier
    return Row(found.key, name, family, tier, where(a, found), None, found, element)


def where(a: Assessment, found: Found) -> str:
    """The faces at its one place, or at how many places it is and on which sides."""
    faces = a.all_of(BOUNDARY)
    if len(found.places) == 1:
        return " · ".join(dict.fromkeys(faces[f].name for f in found.places[0].faces if f in faces))
    named = [next((faces[f].name for f in p.faces if f in faces and faces[f].role in ("wall", "party wall")), "") for p in found.places]
    sides = dict.fromkeys(n.partition(" ")[0].lower() for n in named if n)
    return so_many(len(found.places), "place") + (f": {', '.join(sides)}" if 0 < len(sides) <= 4 else "")


def places(a: Assessment, found: Found) -> Iterator[tuple[str, float]]:
    """Each place of a junction by its faces, with its length in the home's dimensions [m]."""
    faces = a.all_of(BOUNDARY)
    external = a.home.shape.dimensions == "external"
    for p in found.places:
        yield " · ".join(dict.fromkeys(faces[f].name for f in p.faces if f in faces)), p.outer if external else p.inner


def both_ways(a: Assessment, row: Row) -> tuple[float | None, float | None]:
    """ψ for external and for internal dimensions [W/(m·K)]; None where it is not known, or nothing is known of what meets."""
    psi, own = row.node("psi"), a.home.shape.dimensions
    if psi is None or psi.value is None:
        return None, None
    of = solved_of(a, row)
    if of is not None and row.part is not None and row.part.psi is None and row.tier == "detailed":
        return of.psi_external, of.psi_internal
    if row.found is None:
        given = row.part.dimensions if row.part is not None else own
        return (float(psi.value), None) if given == "external" else (None, float(psi.value))
    meeting = Meeting(a.all_of(FACE), a.all_of(B), a[THICKNESS], own)
    other = converted(psi, own, "internal" if own == "external" else "external", meeting.flanks(row.found), row.found, row.name).value
    turned = float(other) if other is not None else None
    return (float(psi.value), turned) if own == "external" else (turned, float(psi.value))


@dataclass(frozen=True)
class Installed:
    """Installation of an opening: counted once, with the opening."""

    id: str
    name: str
    family: str
    length: float
    psi: float | None


def installed(a: Assessment) -> Iterator[Installed]:
    """Sill, jambs and head of every row of openings whose type is known, with the ψ that counts there."""
    kinds = {k.id: k for k in a.home.opening_types}
    for o in a.home.openings:
        kind = kinds.get(o.type)
        if kind is not None:
            yield from _sides(o, kind)


def _sides(o: Opening, kind: OpeningType) -> Iterator[Installed]:
    width, height = (float(n.value) if n.value is not None else None for n in sizes(o))
    count = number(o).value
    if width is None or height is None or count is None:
        return
    left, right, head, sill = installation(o, kind)
    for family, psi, long in (("jamb", left, height), ("jamb", right, height), ("head", head, width), ("sill", sill, width)):
        side = "" if family != "jamb" else ", left" if psi is left else ", right"
        yield Installed(
            f"{o.id}.{family}{side[2:3]}",
            f"{o.name}, {family}{side}",
            family,
            long * float(count),
            float(psi.value) if psi.value is not None else None,
        )


def as_sheet(a: Assessment) -> Sheet:
    """The junctions that count, as lists and documents show them."""
    columns: tuple[Column[Row], ...] = (
        Column("Junction", lambda r: r.name),
        Column("Family", lambda r: r.family),
        Column("Where", lambda r: r.where or "typed"),
        Column("L", lambda r: of_node(r.node("length")), "length"),
        Column("ψ", lambda r: of_node(r.node("psi")), "psi"),
        Column("b", lambda r: of_node(r.node("b")), "fraction"),
        Column("Tier", lambda r: r.tier),
        Column("H", lambda r: of_node(r.element.loss) if r.element is not None else None, "w_per_k"),
    )
    return sheet("meetings", "Junctions that count", columns, tuple(r for r in rows(a) if r.element is not None))


def f_rsi(a: Assessment, row: Row) -> float | None:
    """Of the detail a junction has; None where it has none that is worked out."""
    of = solved_of(a, row)
    return of.f_rsi if of is not None else None


def solved_of(a: Assessment, row: Row) -> Solved | None:
    """The detail of a junction, where it is worked out."""
    found = a.all_of(SOLVED).get(row.part.detail) if row.part is not None and row.part.detail else None
    return found if isinstance(found, Solved) else None


def as_data(a: Assessment) -> list[dict[str, object]]:
    """Every junction for JSON, metric: lengths in the home's dimensions [m], ψ [W/(m·K)], loss [W/K]."""
    found: list[dict[str, object]] = []
    for r in rows(a):
        external, internal = both_ways(a, r)
        found.append(
            {
                "id": r.id, "name": r.name, "family": None if r.asked else r.family, "edges": list(r.edges), "length": r.number("length"),
                "psi": r.number("psi"), "psi_external": external, "psi_internal": internal, "tier": r.tier, "loss": r.loss, "f_rsi": f_rsi(a, r),
                "counted_with_openings": False,
            }
        )  # fmt: skip
    for i in installed(a):
        loss = i.psi * i.length if i.psi is not None else None
        found.append(
            {
                "id": i.id, "name": i.name, "family": i.family, "edges": [], "length": i.length, "psi": i.psi, "psi_external": i.psi,
                "psi_internal": i.psi, "tier": "detailed", "loss": loss, "f_rsi": None, "counted_with_openings": True,
            }
        )  # fmt: skip
    return found
