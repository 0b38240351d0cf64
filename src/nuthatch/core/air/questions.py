"""What is asked about the air of a home: flows that do not fit, rooms that get too little, units at their limits."""

from __future__ import annotations

from collections.abc import Iterator

from nuthatch.core.air.flows import Flows, RoomFlow
from nuthatch.core.air.unit import UnitFlows, way_of
from nuthatch.core.air.ventilation import PER_PERSON
from nuthatch.core.model.ventilation import Air
from nuthatch.core.results.question import Question

TOLERANCE = 0.5
"""Flows closer than this are alike [m³/h]."""


def asked(air: Air, flows: Flows) -> Iterator[Question]:
    """All questions of the air."""
    if not air.units and air.without == "leaks alone":
        yield Question("air", "without", "Nothing but leaks brings fresh air: it gets damp and, in summer, too warm inside")
    demand = flows.demand.value
    for u in flows.units:
        yield from _of_unit(u, demand if len(flows.units) == 1 else None)
        yield from _without_rooms(u, flows)
    for r in flows.rooms:
        yield from _of_room(r)


def _without_rooms(u: UnitFlows, flows: Flows) -> Iterator[Question]:
    """A unit that moves air to, or from, no room that is drawn."""
    mine = {r.role for r in flows.rooms if r.unit == u.unit.id}
    for way, flow, words in (("supply", u.supply, "brings {0} to no room"), ("extract", u.extract, "draws {0} from no room")):
        if flows.rooms and way not in mine and flow.value and len(flows.units) > 1:
            yield Question(u.unit.id, way, f"{u.unit.name} {words}: say of rooms which unit they have", ((float(flow.value), "flow"),))


def _of_unit(u: UnitFlows, demand: float | None) -> Iterator[Question]:
    unit = u.unit
    way = way_of(unit)
    given = unit[way]
    if given is not None and demand is not None and given.value < demand - TOLERANCE:
        amounts = ((given.value, "flow"), (demand, "flow"))
        if given.value == 0:
            yield Question(unit.id, way, "The unit moves no air: leaks alone would bring fresh air, the home asks for {1}", amounts)
        else:
            yield Question(unit.id, way, f"{way.capitalize()} flow {{0}} is below the demand of {{1}}", amounts)
    moved = u.extract.value if way == "extract" else u.supply.value
    for limit, field, over in ((unit.least_flow, "least_flow", False), (unit.most_flow, "most_flow", True)):
        if limit is not None and moved is not None and (moved - limit.value) * (1 if over else -1) > TOLERANCE:
            word = "above the most" if over else "below the least"
            yield Question(unit.id, field, f"The flow of {{0}} is {word} the unit can, {{1}}", ((moved, "flow"), (limit.value, "flow")))
    if unit.moves != "supply and extract":
        return
    supply = unit.supply.value if unit.supply else None
    extract = unit.extract.value if unit.extract else supply
    if supply is not None and extract is not None and abs(extract - supply) > 0.1 * max(supply, extract):
        yield Question(unit.id, "extract", "Supply and extract flow differ by more than 10 %")
    if unit.recovery is not None and unit.recovery.value > 0.95:
        yield Question(unit.id, "recovery", "Heat recovery above 95 % is implausible")


def _of_room(r: RoomFlow) -> Iterator[Question]:
    if r.normal is None or r.normal.value is None:
        return
    people = r.people.value
    if r.role == "supply" and people and r.normal.value < PER_PERSON * people - TOLERANCE:
        amounts = ((r.normal.value, "flow"), (PER_PERSON * people, "flow"))
        yield Question(r.room.id, "flow", f"{r.room.name} gets {{0}}; its people ask for {{1}}", amounts)
    part = r.room.part
    asked = r.asked.value if r.asked is not None else None
    fixed = part is not None and part.flow is not None
    if r.role == "extract" and fixed and asked is not None and r.normal.value < asked - TOLERANCE:
        amounts = ((r.normal.value, "flow"), (asked, "flow"))
        yield Question(r.room.id, "flow", f"{r.room.name} gives {{0}}; by its use it asks for {{1}}", amounts)
    needed = r.passes.value if r.passes is not None else None
    if part is not None and part.passes is not None and needed is not None and part.passes.value < needed * 0.95:
        amounts = ((part.passes.value, "free_area"), (needed, "free_area"))
        yield Question(part.id, "passes", f"The air of {r.room.name} passes through {{0}}; at 1 Pa it needs {{1}}", amounts)
