"""How details hang in the graph (slow): each solved in two dimensions, kept by content; what is asked about them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from nuthatch.core.fabric.elements import OnGround, Slab
from nuthatch.core.fabric.ground import characteristic
from nuthatch.core.fabric.moisture_stages import AIRS
from nuthatch.core.fabric.stages import BURIED, FLOORS, SLAB
from nuthatch.core.fabric.vapour import MONTH_NAMES, Airs
from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, part
from nuthatch.core.heatflow.following import Under, drawn_from, followed, outlines
from nuthatch.core.heatflow.of_home import section_of
from nuthatch.core.heatflow.section import Section, SectionFault
from nuthatch.core.heatflow.solved import Solved, solved
from nuthatch.core.heatflow.surfaces import Needs, needs
from nuthatch.core.model.details import Detail
from nuthatch.core.model.home import BuildUp
from nuthatch.core.results.figure import Computing, Unknown, missing
from nuthatch.core.results.question import Question
from nuthatch.core.solid.solid import Boundary

AS_DRAWN = " as drawn"
"""Ends the id of a detail as it was drawn, where its build-ups are others by now: its ψ holds until that of now is worked out."""


@dataclass(frozen=True)
class Named:
    """Something to be worked out, by its id."""

    id: str


STAGES = Stages()
UNDER: Slot[Under | None] = Slot("ground below the floors, for details")
ITS_BUILD_UPS: Family[tuple[BuildUp, ...]] = Family("build-ups a detail was drawn from")
OUTLINES: Family[tuple[np.ndarray, ...]] = Family("outlines of a detail with the corners on their sides")
FOLLOWED: Family[Detail] = Family("a detail as its build-ups are now")
NAMED: Family[Named] = Family("details to be worked out")
DRAWN: Family[Section | Unknown] = Family("section of a detail as drawn")
NOW: Family[Section | Unknown] = Family("section of a detail as its build-ups are now")
SECTION: Family[Section | Unknown] = Family("section of a detail")
SOLVED: Family[Solved | Unknown | Computing] = Family("heat flow in a detail")
NEEDS: Slot[Needs] = Slot("what the coldest surface of a detail needs by month")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of details", asks=True)


def _waiting(since: float) -> Computing:
    return Computing("Heat flow in a detail", "psi", since, "a detail in two dimensions")


@lru_cache(maxsize=64)
def _known(section: Section) -> Solved:
    """The same section is worked out once in a process, whichever home has it."""
    return solved(section)


@STAGES.stage(UNDER, floors=FLOORS, faces=BURIED, slabs=SLAB)
def under(floors: OnGround, faces: dict[str, Boundary], slabs: dict[str, Slab | None]) -> Under | None:
    """Characteristic width and U-values of the floors on the ground; None where there are none."""
    areas, lengths = (tuple(float(n.value) for n in nodes if n.value is not None) for nodes in (floors.areas, floors.perimeters))
    if sum(lengths) <= 0:
        return None
    us: dict[str, float] = {}
    for ident, face in faces.items():
        of = slabs.get(ident)
        if face.tilt > 120 and of is not None and of.u.value is not None:
            us.setdefault(face.buildup, float(of.u.value))
    return Under(characteristic(areas, lengths), us)


@STAGES.stage(ITS_BUILD_UPS, each=part("details"), detail=ITEM, buildups=part("buildups"))
def its_build_ups(detail: Detail, buildups: tuple[BuildUp, ...]) -> tuple[BuildUp, ...]:
    """What of the home a detail goes along with: another build-up is nothing to it."""
    wanted = drawn_from(detail)
    return tuple(b for b in buildups if b.id in wanted)


@STAGES.stage(OUTLINES, each=part("details"), detail=ITEM)
def full_outlines(detail: Detail) -> tuple[np.ndarray, ...]:
    """The same as long as the detail is drawn as it is; one that goes along with nothing needs none."""
    return outlines(detail) if drawn_from(detail) else ()


@STAGES.stage(FOLLOWED, each=part("details"), detail=ITEM, buildups=ITS_BUILD_UPS.at(), under=UNDER, full=OUTLINES.at())
def as_now(detail: Detail, buildups: tuple[BuildUp, ...], under: Under | None, full: tuple[np.ndarray, ...]) -> Detail:
    """A detail that goes with its build-ups."""
    return followed(detail, {b.id: b for b in buildups}, under, full)


@STAGES.stage(DRAWN, each=part("details"), detail=ITEM)
def section_drawn(detail: Detail) -> Section | Unknown:
    """The section of a detail as it was drawn."""
    return _section(detail)


@STAGES.stage(NOW, each=part("details"), detail=ITEM, now=FOLLOWED.at(), drawn=DRAWN.at())
def section_now(detail: Detail, now: Detail, drawn: Section | Unknown) -> Section | Unknown:
    """The section of a detail as its build-ups are now."""
    return drawn if now is detail else _section(now)


@STAGES.stage(SECTION, now=NOW, drawn=DRAWN)
def sections(now: dict[str, Section | Unknown], drawn: dict[str, Section | Unknown]) -> dict[str, Section | Unknown]:
    """The sections of details: what heat sees of them, and all that their heat flow is kept by; also as drawn, where that is another."""
    return now | {f"{ident}{AS_DRAWN}": one for ident, one in drawn.items() if now[ident] is not one}


@STAGES.stage(NAMED, sections=SECTION)
def named(sections: dict[str, Section | Unknown]) -> dict[str, Named]:
    """What is to be worked out."""
    return {ident: Named(ident) for ident in sections}


def _section(detail: Detail) -> Section | Unknown:
    try:
        return replace(section_of(detail), name="")
    except SectionFault as fault:
        return _faulty(detail.id, detail.name, fault)


def _faulty(ident: str, name: str, fault: SectionFault) -> Unknown:
    return missing(f"ψ of {name}", "psi", f"a section that can be worked out: {fault}", ident, "name")


@STAGES.slow(SOLVED, _waiting, each=NAMED, section=SECTION.at())
def heat_flow(section: Section | Unknown) -> Solved | Unknown:
    """A section solved; what is wrong with it in words."""
    if isinstance(section, Unknown):
        return section
    try:
        return _known(section)
    except SectionFault as fault:
        return missing("ψ of a detail", "psi", f"a section that can be worked out: {fault}")


@STAGES.stage(NEEDS, airs=AIRS)
def needed(airs: Airs) -> Needs:
    """The least f_Rsi by month in the air of the home."""
    return needs(airs)


@STAGES.stage(ASKS, details=part("details"), known=SOLVED, needed=NEEDS)
def asks(details: tuple[Detail, ...], known: dict[str, Solved | Unknown | Computing], needed: Needs) -> tuple[Question, ...]:
    """Sections that cannot be worked out, or not finely enough, and surfaces that grow mould."""
    found: list[Question] = []
    for d in details:
        of = known.get(d.id)
        if isinstance(of, Unknown):
            found.append(Question(d.id, "name", f"{d.name}: {'; '.join(n.text for n in of.needs)}"))
        elif isinstance(of, Solved):
            if not of.grid.enough:
                found.append(
                    Question(d.id, "name", f"{d.name} is not worked out finely enough: its ψ still moves by {of.grid.psi:.4f} W/(m·K)")
                )
            if of.f_rsi is not None and of.f_rsi < needed.least:
                says = f"{d.name} grows mould at its coldest point: f_Rsi {of.f_rsi:.2f}, it must be at least {needed.least:.2f}"
                month = f" in the air of this home in {MONTH_NAMES[needed.worst]}" if needed.worst is not None else ""
                found.append(Question(d.id, "name", says + month))
    return tuple(found)
