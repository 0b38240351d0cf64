"""How details hang in the graph (slow): each solved in two dimensions, kept by content; what is asked about them."""

from __future__ import annotations

from functools import lru_cache

from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, part
from nuthatch.core.heatflow.of_home import section_of
from nuthatch.core.heatflow.section import Section, SectionFault
from nuthatch.core.heatflow.solved import Solved, solved
from nuthatch.core.heatflow.worked import MOULD_SAFE
from nuthatch.core.model.details import Detail
from nuthatch.core.results.figure import Computing, Unknown, missing
from nuthatch.core.results.question import Question

STAGES = Stages()
SOLVED: Family[Solved | Unknown | Computing] = Family("heat flow in a detail")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of details", asks=True)


def _waiting(since: float) -> Computing:
    return Computing("Heat flow in a detail", "psi", since, "a detail in two dimensions")


@lru_cache(maxsize=64)
def _known(section: Section) -> Solved:
    """The same section is worked out once in a process, whichever home has it."""
    return solved(section)


@STAGES.slow(SOLVED, _waiting, each=part("details"), detail=ITEM)
def heat_flow(detail: Detail) -> Solved | Unknown:
    """A detail solved; what is wrong with its section in words."""
    try:
        return _known(section_of(detail))
    except SectionFault as fault:
        return missing(f"ψ of {detail.name}", "psi", f"a section that can be worked out: {fault}", detail.id, "name")


@STAGES.stage(ASKS, details=part("details"), known=SOLVED)
def asks(details: tuple[Detail, ...], known: dict[str, Solved | Unknown | Computing]) -> tuple[Question, ...]:
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
            if of.f_rsi is not None and of.f_rsi < MOULD_SAFE:
                says = f"{d.name} grows mould at its coldest point: f_Rsi {of.f_rsi:.2f}, it must be at least {MOULD_SAFE:.2f}"
                found.append(Question(d.id, "name", says))
    return tuple(found)
