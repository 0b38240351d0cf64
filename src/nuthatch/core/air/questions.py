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
        yield from _rooms_of(u, flows)
    yield from _of_boost(air, flows)
    for r in flows.rooms:
        yield from _of_room(r)


WORDS = {
    "supply": ("supplies", "take"),
    "extract": ("extracts", "give"),
    "inlets": ("draws in by inlets", "take"),
    "outlets": ("presses out by outlets", "give"),
}
"""What a unit does with its flow on a side, and what rooms do with it."""


def _rooms_of(u: UnitFlows, flows: Flows) -> Iterator[Question]:
    """A unit against its rooms, side by side: what is fixed and what is asked for must make what it moves."""
    for role, flow, field in (("supply", u.supply, "supply"), ("extract", u.extract, "extract")):
        mine = [r for r in flows.rooms if r.role == role and r.unit == u.unit.id]
        own = flow.value if flow.value or u.unit.moves == "supply and extract" else (u.extract if role == "supply" else u.supply).value
        if not flows.rooms or own is None:
            continue
        if not mine:
            if own and flow.value:
                yield _no_room(u, field, float(own), len(flows.units))
            continue
        does, rooms_do = WORDS[mine[0].way]
        known = [float(r.normal.value) for r in mine if r.normal is not None and r.normal.value is not None]
        left = float(own) - sum(known)
        if len(known) < len(mine) or abs(left) <= TOLERANCE:
            continue
        fixed = [r for r in mine if r.room.part is not None and r.room.part.flow is not None]
        largest = max(fixed, key=lambda r: float(r.normal.value), default=mine[0])  # type: ignore[union-attr,arg-type]
        amounts = ((sum(known), "flow"), (float(own), "flow"), (abs(left), "flow"))
        says = f"The rooms {rooms_do} {{0}} in all, {u.unit.name} {does} {{1}}: {{2}} "
        more = "more must go to a room" if role == "supply" else "more must come from a room"
        yield Question(largest.room.id, "flow", says + (more if left > 0 else "too much is set"), amounts)


def _no_room(u: UnitFlows, field: str, flow: float, units: int) -> Question:
    does = "supplies {0}, no room gets" if field == "supply" else "extracts {0}, no room gives"
    more = ": say of rooms which unit they have" if units > 1 else ": say of a room that it gets supply air" if field == "supply" else ""
    more = more or ": say of a room that air is drawn from it"
    return Question(u.unit.id, field, f"{u.unit.name} {does} any of it{more}", ((flow, "flow"),))


def _of_boost(air: Air, flows: Flows) -> Iterator[Question]:
    """Boost against what it must reach, and against what the units can."""
    reached, must = flows.boost, flows.boost_demand.value
    if reached is None or reached.value is None or must is None:
        return
    if air.boost_share is not None and reached.value < must - TOLERANCE:
        says = "At boost the units move {0}; normal flow and extract rooms ask for {1}"
        yield Question("air", "boost_share", says, ((float(reached.value), "flow"), (must, "flow")))
    if all(u.unit.most_flow is not None for u in flows.units):
        can = sum(u.unit.most_flow.value for u in flows.units if u.unit.most_flow is not None)
        if can < must - TOLERANCE and not any(_over(u) for u in flows.units):
            says = "At most {0} can be moved; boost must reach {1}"
            yield Question(flows.units[0].unit.id, "most_flow", says, ((can, "flow"), (must, "flow")))


def _over(u: UnitFlows) -> bool:
    moved = u.extract.value if way_of(u.unit) == "extract" else u.supply.value
    return moved is not None and u.unit.most_flow is not None and moved > u.unit.most_flow.value + TOLERANCE


def _of_unit(u: UnitFlows, demand: float | None) -> Iterator[Question]:
    unit = u.unit
    way = way_of(unit)
    given = unit[way]
    moved, mean = (u.extract.value, u.mean_extract.value) if way == "extract" else (u.supply.value, u.mean_supply.value)
    if demand is not None and moved and mean == 0:
        says = "The unit is off all day by its hours: leaks alone bring fresh air, the home asks for {0}"
        yield Question("air", "hours", says, ((demand, "flow"),))
    elif given is not None and demand is not None and given.value < demand - TOLERANCE:
        amounts = ((given.value, "flow"), (demand, "flow"))
        if given.value == 0:
            yield Question(unit.id, way, "The unit moves no air: leaks alone would bring fresh air, the home asks for {1}", amounts)
        else:
            yield Question(unit.id, way, f"{way.capitalize()} flow {{0}} is below the demand of {{1}}", amounts)
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
    people, wanted = r.people.value, r.asked.value if r.asked is not None else None
    if r.role == "supply" and wanted is not None and not r.fills and r.normal.value < wanted - TOLERANCE:
        whose = "its people ask" if people and wanted == PER_PERSON * people else "it asks"
        yield Question(r.room.id, "flow", f"{r.room.name} gets {{0}}; {whose} for {{1}}", ((r.normal.value, "flow"), (wanted, "flow")))
    part = r.room.part
    fixed = part is not None and part.flow is not None
    boost = r.boost.value if r.boost is not None else None
    if r.role == "extract" and fixed and wanted is not None and boost is not None and boost < wanted - TOLERANCE:
        amounts = ((float(boost), "flow"), (wanted, "flow"))
        yield Question(r.room.id, "flow_boost", f"{r.room.name} gives {{0}} at boost; by its use it asks for {{1}}", amounts)
    needed = r.passes.value if r.passes is not None else None
    if part is not None and part.passes is not None and needed is not None and part.passes.value < needed * 0.95:
        amounts = ((part.passes.value, "free_area"), (needed, "free_area"))
        yield Question(part.id, "passes", f"The air of {r.room.name} passes through {{0}}; at 1 Pa it needs {{1}}", amounts)
