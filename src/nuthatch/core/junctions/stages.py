"""How junctions hang in the graph: those found in the shape, which rows of the list stand for them, the loss of each, and what is asked."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import TypedDict, Unpack

from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import FACE, B
from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, field, part
from nuthatch.core.heatflow.following import follows
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import AS_DRAWN, FOLLOWED, SOLVED
from nuthatch.core.junctions import joined as join
from nuthatch.core.junctions.found import Found, Shape, found
from nuthatch.core.junctions.joined import Joined
from nuthatch.core.junctions.lost import Meeting, of_found, of_row
from nuthatch.core.model.details import Detail
from nuthatch.core.model.home import BuildUp, Junction, OpeningType
from nuthatch.core.results.figure import Computing, Figure, Unknown
from nuthatch.core.results.question import Question
from nuthatch.core.solid.built_stages import THICKNESS
from nuthatch.core.solid.closure import edges_of
from nuthatch.core.solid.solid import Edge, Solid
from nuthatch.core.solid.stages import EDGES, SOLID

STAGES = Stages()
FOUND: Slot[tuple[Found, ...]] = Slot("junctions of the shape")
JOINED: Slot[Joined] = Slot("which rows stand for junctions of the shape")
JUNCTION: Family[Element] = Family("element of a junction")
UNLISTED: Slot[tuple[Element, ...]] = Slot("elements of junctions that are in no list")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of junctions", asks=True)
INSTALLED: Slot[tuple[Question, ...]] = Slot("installation ψ that is not that of its detail", asks=True)
DRIFTED: Slot[tuple[Question, ...]] = Slot("details drawn for other build-ups", asks=True)


@STAGES.stage(FOUND, solid=SOLID, edges=EDGES, dimensions=field("shape.dimensions"))
def found_in(solid: Solid, edges: tuple[Edge, ...], dimensions: str) -> tuple[Found, ...]:
    """Every junction the shape has; a list of faces has none."""
    if not solid.drawn:
        return ()
    external = dimensions == "external"
    faces = {b.id: b for b in solid.boundaries}
    shape = Shape(faces, edges, external, solid.outer, solid.inner, solid.storeys, solid.around)
    return found(shape, edges_of(solid.inner if external else solid.outer))


@STAGES.stage(JOINED, found=FOUND, rows=part("junctions"))
def joined(found: tuple[Found, ...], rows: tuple[Junction, ...]) -> Joined:
    """Which row stands for which places."""
    return join.joined(found, rows)


class MeetingReads(TypedDict):
    """What a ψ follows from besides its own row."""

    faces: dict[str, Element]
    bs: dict[str, Figure]
    thick: dict[str, float]
    dimensions: str


Found2D = Solved | Unknown | Computing | None


@STAGES.stage(
    JUNCTION,
    each=part("junctions"),
    junction=ITEM,
    joined=JOINED,
    solved=SOLVED.at("detail"),
    drawn=SOLVED.at(lambda row: f"{row.detail}{AS_DRAWN}"),
    faces=FACE,
    bs=B,
    thick=THICKNESS,
    dimensions=field("shape.dimensions"),
)
def junction(junction: Junction, joined: Joined, solved: Found2D, drawn: Found2D, **reads: Unpack[MeetingReads]) -> Element:
    """What one junction of the list loses. While its detail is worked out for build-ups of now, ψ as it was drawn holds: margins never wait."""
    known = drawn if isinstance(solved, Computing) and isinstance(drawn, Solved) else solved
    return of_row(junction, joined.of(junction), _meeting(reads), known)


@STAGES.stage(
    UNLISTED,
    joined=JOINED,
    counts=field("junctions_from"),
    none=field("junctions_none"),
    tier=field("junction_tier"),
    faces=FACE,
    bs=B,
    thick=THICKNESS,
    dimensions=field("shape.dimensions"),
)
def unlisted(joined: Joined, counts: str, none: bool, tier: str, **reads: Unpack[MeetingReads]) -> tuple[Element, ...]:
    """What junctions lose that the shape has and no row stands for, where the shape counts and nobody says that there are none."""
    if counts != "shape" or none:
        return ()
    return tuple(of_found(f, tier, _meeting(reads)) for f in joined.left)


def _meeting(reads: Mapping[str, object]) -> Meeting:
    return Meeting(**reads)  # type: ignore[arg-type]


@STAGES.stage(
    ASKS,
    rows=part("junctions"),
    none=field("junctions_none"),
    dimensions=field("shape.dimensions"),
    joined=JOINED,
    counts=field("junctions_from"),
)
def asks(rows: tuple[Junction, ...], none: bool, dimensions: str, joined: Joined, counts: str) -> tuple[Question, ...]:
    """No junctions at all, a ψ that belongs to other dimensions than the home's, what the shape cannot tell, what is counted twice or gone."""
    if not rows and not none and not (counts == "shape" and joined.left):
        return (Question("home", "junctions", "No junctions are listed; heat lost there is left out", item="Junctions"),)
    return (*_of_rows(rows, dimensions, joined, counts), *_of_left(joined, "list" if none else counts))


class DriftReads(TypedDict):
    """What tells whether a detail still belongs to its junction."""

    details: dict[str, Detail]
    solved: dict[str, Solved | Unknown | Computing]
    faces: dict[str, Element]
    buildups: tuple[BuildUp, ...]


@STAGES.stage(DRIFTED, rows=part("junctions"), joined=JOINED, details=FOLLOWED, solved=SOLVED, faces=FACE, buildups=part("buildups"))
def drifted(rows: tuple[Junction, ...], joined: Joined, **reads: Unpack[DriftReads]) -> tuple[Question, ...]:
    """Details that do not go with their build-ups any more: those have other layers by now, or other ones meet there."""
    found: list[Question] = []
    builds = {b.id: b for b in reads["buildups"]}
    for row in rows:
        of, known, detail = joined.of(row), reads["solved"].get(row.detail), reads["details"].get(row.detail)
        if of is None or not isinstance(known, Solved) or detail is None or row.tier != "detailed" or row.psi is not None:
            continue
        lost = next((f.lie for f in detail.flanks if f.lie is not None and not follows(f, builds)), None)
        if lost is not None:
            name = builds[lost.buildup].name if lost.buildup in builds else "a build-up that is gone"
            found.append(Question(row.id, "detail", f"{row.name}: its detail was drawn for other layers of {name}: draw it anew"))
            continue
        then, now = (sorted(us) for us in ([f.u for f in known.flanks], us_now(of, reads["faces"])))
        off = next(((a, b) for a, b in zip(then, now, strict=False) if len(then) == len(now) and abs(a - b) > DRIFT * a), None)
        if off is not None:
            says = f"{row.name}: its detail was drawn for a U-value of {{0}}, which is {{1}} now: draw it anew"
            found.append(Question(row.id, "detail", says, ((off[0], "u"), (off[1], "u"))))
    return tuple(found)


@STAGES.stage(INSTALLED, details=FOLLOWED, types=part("opening_types"), solved=SOLVED)
def installation_asks(
    details: dict[str, Detail], types: tuple[OpeningType, ...], solved: dict[str, Solved | Unknown | Computing]
) -> tuple[Question, ...]:
    """Installation ψ of types that is not that of their detail."""
    found: list[Question] = []
    known = {k.id: k for k in types}
    for d in details.values():
        of, kind = solved.get(d.id), known.get(d.of_type)
        if kind is None or d.side == "none" or not isinstance(of, Solved) or of.psi_external is None:
            continue
        field = f"install_{d.side}"
        given = kind[field] if kind[field] is not None else kind.install_psi
        if given is None or abs(given.value - of.psi_external) > INSTALLED_NEAR:
            says = f"{d.name}: its detail gives ψ {{0}}, the type has {{1}}: take it over in “Details”, or remove the detail"
            now = given.value if given is not None else 0.0
            found.append(Question(kind.id, field, says, ((of.psi_external, "psi"), (now, "psi"))))
    return tuple(found)


INSTALLED_NEAR = 0.002
"""So near ψ of a type and of its detail are the same [W/(m·K)]."""
DRIFT = 0.01
"""By how much a U-value may differ from that of a detail's plane part [share]."""


def us_now(found: Found, faces: dict[str, Element]) -> list[float]:
    """U of the faces that meet and lose heat [W/(m²·K)]."""
    met = [faces[f] for f in found.places[0].faces if f in faces and faces[f].borders != "neighbour"]
    return [float(e.u.value) for e in met if e.u is not None and e.u.value is not None]


def _of_rows(rows: tuple[Junction, ...], dimensions: str, joined: Joined, counts: str) -> Iterator[Question]:
    for j in rows:
        of = joined.of(j)
        if j.meets and of is None:
            yield Question(
                j.id, "meets", f"{j.name} stands for what the shape has no longer, and does not count: remove it, or join it anew"
            )
        elif of is None and j.dimensions != dimensions:
            yield Question(j.id, "dimensions", f"ψ refers to {j.dimensions} dimensions, the home uses {dimensions} ones")
        elif of is None and counts == "shape" and not j.own and join.twice(j, joined):
            yield Question(
                j.id, "meets", f"{j.name} counts beside what the shape has: join it to what it stands for, or say that it is its own"
            )
        if j.tier == "detailed" and j.psi is None and not j.detail:
            yield Question(j.id, "psi", f"{j.name} is to be worked out in detail; until then its typical ψ counts")


def _of_left(joined: Joined, counts: str) -> Iterator[Question]:
    if counts != "shape":
        return
    for f in joined.left:
        if len(f.answers) > 1:
            words = " or ".join(a for a in f.answers if a != "none")
            yield Question(
                "home",
                "junctions",
                f"What is this junction of {{0}}: {words}? Until then the largest fallback counts",
                ((f.outer, "length"),),
                item="Junctions",
            )
    new = sum(len(f.answers) == 1 for f in joined.left)
    if new:
        says = f"{new} junction{'s' if new > 1 else ''} of the shape {'are' if new > 1 else 'is'} not in the list; what is not looked at counts by its tier"
        yield Question("home", "junctions", says, item="Junctions")
