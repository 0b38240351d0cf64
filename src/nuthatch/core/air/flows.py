"""The flows of a home: of every unit by the rooms it serves, of every room at each operation, and the home's in the mean of the day."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.air import rooms as by_room
from nuthatch.core.air import unit as one
from nuthatch.core.air import ventilation as calc
from nuthatch.core.air.demand import Demand, side
from nuthatch.core.air.hours import hours_of
from nuthatch.core.air.unit import UnitFlows, way_of
from nuthatch.core.model.ventilation import Air
from nuthatch.core.results.calculation import calculation, take, total
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Entered, Figure, Known, Node
from nuthatch.core.solid.plan_rooms import PlanRoom

OPEN_WAYS = {("extract only", "supply"): "inlets", ("supply only", "extract"): "outlets"}
"""How air gets in, or out, of rooms on the side a unit does not move."""


@dataclass(frozen=True, eq=False)
class RoomFlow:
    """What a room gets or gives at each operation [m³/h], and the free area its air passes through [m²]; None where it only lets air
    pass, or where nothing moves any. `way`: its role in words, “inlets” where the unit only draws and the air comes in by itself."""

    room: PlanRoom
    role: str
    way: str
    asked: Figure | None
    people: Node
    unit: str = ""
    fills: bool = False
    normal: Figure | None = None
    low: Node | None = None
    boost: Node | None = None
    passes: Figure | None = None


@dataclass(frozen=True, eq=False)
class Flows:
    """Flow by demand at normal operation, what boost must reach and reaches (nothing without a unit), supply and extract of all units in
    the mean of the day [m³/h], the volume behind air changes [m³], units, rooms, hours of each operation."""

    volume: Figure
    demand: Figure
    boost_demand: Figure
    boost: Figure | None
    supply: Node
    extract: Node
    shown: Figure
    units: tuple[UnitFlows, ...]
    rooms: tuple[RoomFlow, ...]
    hours: dict[str, float]
    mean_change: Figure
    least_change: Figure


def flows_of_home(air: Air, needs: Demand) -> Flows:
    """Flows of every unit and room at each operation, and the home's in the mean of the day."""
    hours = hours_of(air.hours)
    parts = _served(air, needs)
    normal = {u.id: one.normal_of(u, parts[u.id]) for u in air.units}
    full = _at_normal(normal)
    share = one.shares(air, needs.boost, full)
    units = tuple(one.flows_of(u, normal[u.id], share, hours) for u in air.units)
    supply: Node = needs.flow
    extract: Node = needs.flow
    if len(units) == 1:
        supply, extract = units[0].mean_supply, units[0].mean_extract
    elif units:
        supply = total("Supply of all units", "flow", tuple(u.mean_supply for u in units))
        extract = total("Extract of all units", "flow", tuple(u.mean_extract for u in units))
    moved = extract if supply.value == 0 else supply
    shown = take("Ventilation flow", "flow", moved)
    change = calc.air_change.figure("Mean air change by ventilation", flow=shown, volume=needs.volume)
    least = calc.air_change.figure("Least air change by ventilation", flow=_least(units, needs), volume=needs.volume)
    boost = by_room.operated.figure("Flow at boost", normal=full, share=share["boost"]) if units else None
    rooms = _room_flows(needs, units, share)
    return Flows(needs.volume, needs.flow, needs.boost, boost, supply, extract, shown, units, rooms, hours, change, least)


def _at_normal(normal: dict[str, tuple[Node, Node]]) -> Node:
    """What all units draw at normal operation; what they supply where they only supply."""
    extract = total("Extract of all units at normal operation", "flow", tuple(x for _, x in normal.values()))
    if extract.value == 0:
        return total("Supply of all units at normal operation", "flow", tuple(s for s, _ in normal.values()))
    return extract


@calculation(
    "Demand left for a unit",
    "flow",
    "q = max(q_d − Σ(x), 0)·Σ(s)/Σ(o)",
    "what units with a flow of their own leave, by what the rooms of each ask for, or in equal parts",
    demand="q_d: flow",
    fixed="x: flow",
    mine="s: flow",
    others="o: flow",
)
def served(demand: float, fixed: tuple[float, ...], mine: tuple[float, ...], others: tuple[float, ...]) -> float:
    """[m³/h] of one of several units."""
    whole = sum(others)
    return max(demand - sum(fixed), 0.0) * (sum(mine) / whole if whole > 0 else 0.0)


def _served(air: Air, needs: Demand) -> dict[str, Node]:
    """The part of the demand each unit serves: by what its rooms ask for on the side it moves, or in equal parts."""
    if len(air.units) < 2:
        return {u.id: needs.flow for u in air.units}
    fixed = tuple(need(u, way_of(u)) for u in air.units if u[way_of(u)] is not None)
    open_ones = [u for u in air.units if u[way_of(u)] is None]
    alike = Entered("one of the units", 1.0, "flow")
    found: dict[str, Node] = {u.id: needs.flow for u in air.units}
    for u in open_ones:
        rooms = [a for a in needs.rooms if a.role == way_of(u) and any(a.unit == v.id for v in open_ones)]
        mine = tuple(a.fixed or a.asked for a in rooms if a.unit == u.id) if rooms else (alike,)
        others = tuple(a.fixed or a.asked for a in rooms) or (alike,) * len(open_ones)
        found[u.id] = served.figure(f"Demand served by {u.name}", demand=needs.flow, fixed=fixed, mine=mine, others=others)
    return found


def _least(units: tuple[UnitFlows, ...], needs: Demand) -> Node:
    """The least flow of the day: all units at the operation that moves least."""
    if not units:
        return needs.flow
    names = {o for u in units for o in u.by_operation}
    by = {o: total(f"Flow at {o} operation", "flow", tuple(u.by_operation[o] for u in units if o in u.by_operation)) for o in sorted(names)}
    known = [(float(f.value), f) for f in by.values() if isinstance(f, Known)]
    return min(known, key=lambda k: k[0])[1] if known else next(iter(by.values()))


def _room_flows(needs: Demand, units: tuple[UnitFlows, ...], share: dict[str, Node]) -> tuple[RoomFlow, ...]:
    """What every drawn room gets or gives, nothing where there is no unit. Where air moves one way only, the other side comes in, or
    goes, through openings of its own."""
    known = {u.unit.id: u for u in units}
    flow_of: dict[str, Figure] = {}
    for ident, u in known.items():
        mine = tuple(a for a in needs.rooms if a.unit == ident)
        supply, extract = u.supply, u.extract
        if u.unit.moves != "supply and extract":
            supply = extract = extract if u.unit.moves == "extract only" else supply
        flow_of |= side(mine, "supply", supply) | side(mine, "extract", extract)
    found = []
    for a in needs.rooms:
        normal, moving = flow_of.get(a.room.id), known.get(a.unit)
        way = OPEN_WAYS.get((moving.unit.moves, a.role), a.role) if moving is not None else a.role
        if normal is None:
            asked = a.asked if not units and a.role in ("supply", "extract") else None
            found.append(RoomFlow(a.room, a.role, way, asked, a.people, a.unit))
            continue
        other = {o: _at(a.room, normal, o, share[o]) for o in ("low", "boost")}
        passes = by_room.passing_area.figure(f"Opening for the air of {a.room.name}", flow=normal)
        found.append(RoomFlow(a.room, a.role, way, a.asked, a.people, a.unit, a.fills, normal, other["low"], other["boost"], passes))
    return tuple(found)


def _at(room: PlanRoom, normal: Figure, operation: str, share: Node) -> Node:
    """A room's flow at another operation: as typed, or by the share."""
    if room.part is not None and room.part[f"flow_{operation}"] is not None:
        return need(room.part, f"flow_{operation}")
    return by_room.operated.figure(f"Flow of {room.name} at {operation} operation", normal=normal, share=share)
