"""How junctions hang in the graph: the loss of each, and what is asked about them."""

from __future__ import annotations

from nuthatch.core.fabric.elements import Element, junction_element
from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, field, part
from nuthatch.core.model.home import Junction
from nuthatch.core.results.question import Question

STAGES = Stages()
JUNCTION: Family[Element] = Family("element of a junction")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of junctions", asks=True)


@STAGES.stage(JUNCTION, each=part("junctions"), junction=ITEM)
def junction(junction: Junction) -> Element:
    """What one junction loses."""
    return junction_element(junction)


@STAGES.stage(ASKS, rows=part("junctions"), none=field("junctions_none"), dimensions=field("shape.dimensions"))
def asks(rows: tuple[Junction, ...], none: bool, dimensions: str) -> tuple[Question, ...]:
    """No junctions at all, or a ψ that belongs to other dimensions than the home's."""
    if not rows and not none:
        return (Question("home", "junctions", "No junctions are listed; heat lost there is left out", item="Junctions"),)
    return tuple(
        Question(j.id, "dimensions", f"ψ refers to {j.dimensions} dimensions, the home uses {dimensions} ones")
        for j in rows
        if j.dimensions != dimensions
    )
