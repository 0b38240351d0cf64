"""One ventilation unit: its flows at each operation, its recovery after the ducts, what it loses, its fans and frost protection."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from nuthatch.core.air import rooms as by_room
from nuthatch.core.air import ventilation as calc
from nuthatch.core.air.hours import OPERATIONS
from nuthatch.core.model.ventilation import Air, VentilationUnit
from nuthatch.core.results.calculation import total
from nuthatch.core.results.entries import entered, need
from nuthatch.core.results.figure import Entered, Figure, Node

COLD, WARM = ("outdoor air", "exhaust air"), ("supply air", "extract air")


@dataclass(frozen=True, eq=False)
class UnitFlows:
    """Supply and extract of a unit at normal operation, in the mean over the day, and of the larger side at each operation [m³/h]."""

    unit: VentilationUnit
    supply: Node
    extract: Node
    mean_supply: Node
    mean_extract: Node
    by_operation: dict[str, Node]


class Home(Protocol):
    """What a unit's loss rests on besides itself: supply and extract of all units in the mean of the day [m³/h], hours of a day at each
    operation."""

    @property
    def supply(self) -> Node: ...
    @property
    def extract(self) -> Node: ...
    @property
    def hours(self) -> dict[str, float]: ...


@dataclass(frozen=True, eq=False)
class UnitLoss:
    """What a unit loses with recovery and without [W/K], its recovery after the ducts, fans and frost protection [kWh/a]."""

    unit: VentilationUnit
    recovery: Figure
    loss: Figure
    bypassed: Figure
    fans: Figure
    frost: Figure | None


def way_of(unit: VentilationUnit) -> str:
    """The side a unit's flow is entered at."""
    return "extract" if unit.moves == "extract only" else "supply"


def shares(air: Air, boost: Node, normal: Node) -> dict[str, Node]:
    """Flow of each operation over the normal one. boost, normal: what boost must reach, what all units move at normal operation."""
    found: dict[str, Node] = {"normal": Entered("normal operation", 1.0, "percent"), "off": Entered("off", 0.0, "percent")}
    low = Entered("low operation over normal", by_room.LOW, "percent", "rule", "common practice, no source", "air", "low_share")
    found["low"] = low if air.low_share is None else need(air, "low_share")
    typed = air.boost_share is not None
    found["boost"] = need(air, "boost_share") if typed else calc.boost_over_normal.figure(boost=boost, flow=normal)
    return found


def normal_of(unit: VentilationUnit, demand: Node) -> tuple[Node, Node]:
    """Supply and extract at normal operation as the unit is set, else the part of the demand it serves; one that only supplies or only
    extracts leaves the other way to inlets, outlets and leaks."""
    supply: Node = need(unit, "supply") if unit.supply else demand
    extract: Node = need(unit, "extract") if unit.extract else supply
    if unit.moves != "supply and extract":
        none = Entered(f"the unit moves {unit.moves}", 0.0, "flow", "declared", "", unit.id, "moves")
        moved = need(unit, "extract") if unit.moves == "extract only" and unit.extract else supply
        supply, extract = (none, moved) if unit.moves == "extract only" else (supply, none)
    return supply, extract


def flows_of(unit: VentilationUnit, normal: tuple[Node, Node], share: dict[str, Node], hours: dict[str, float]) -> UnitFlows:
    """Flows of a unit at each operation and in the mean of the day."""
    supply, extract = normal
    larger = extract if unit.moves == "extract only" else supply
    if hours["normal"] == 24.0:
        return UnitFlows(unit, supply, extract, supply, extract, {"normal": larger})
    ops: dict[str, Node] = {
        o: by_room.operated.figure(f"Flow at {o} operation", normal=larger, share=share[o]) for o in OPERATIONS if hours[o] > 0
    }
    return UnitFlows(unit, supply, extract, _mean("supply", supply, share, hours), _mean("extract", extract, share, hours), ops)


def _mean(way: str, flow: Node, share: dict[str, Node], hours: dict[str, float]) -> Figure:
    """The mean of a flow over the day."""
    running = [o for o in OPERATIONS if hours[o] > 0]
    flows = tuple(by_room.operated.figure(f"{way} at {o} operation", normal=flow, share=share[o]) for o in running)
    return calc.mean_flow.figure(f"Mean {way} of the day", flows=flows, shares=tuple(share_leaf(o, hours) for o in running))


def share_leaf(operation: str, hours: dict[str, float]) -> Entered:
    """The share of the time an operation runs as a leaf."""
    return Entered(f"share of the time at {operation} operation", hours[operation] / 24, "percent", "declared", "", "air", "hours")


def recovery_of(flows: UnitFlows, density: Node) -> Figure:
    """Recovery after the ducts that lose: the cold ones of a unit inside, the warm ones of one outside."""
    unit = flows.unit
    if flows.supply.value == 0 or flows.extract.value == 0:
        return calc.no_recovery.figure(flow=flows.mean_supply)
    lose = COLD if unit.stands == "inside the envelope" else WARM
    counting = [d for d in unit.ducts if d.way in lose and not (d.length is not None and d.length.value == 0)]
    psis, lengths = [], []
    for d in counting:
        name = f"{d.way} duct of {unit.name}"
        psis.append(
            calc.duct_psi.figure(
                f"Loss of the {d.way} duct per metre",
                **{f: need(d, f, f"{f} of the {name}") for f in ("diameter", "insulation", "conductivity")},
            )
        )
        lengths.append(need(d, "length", f"length of the {name}"))
    ducts = calc.ducts_loss.figure(psis=tuple(psis), lengths=tuple(lengths))
    return calc.effective_recovery.figure(recovery=need(unit, "recovery"), ducts=ducts, flow=flows.mean_supply, density=density)


def loss_of(flows: UnitFlows, home: Home, density: Node, degrees: Figure | None) -> UnitLoss:
    """All a unit costs. degrees: cold below its frost limit [K·d], None where it has no frost protection."""
    unit, recovery = flows.unit, recovery_of(flows, density)
    moved = {"supply": flows.mean_supply, "extract": flows.mean_extract, "density": density}
    moved |= {"all_supply": home.supply, "all_extract": home.extract}
    loss = calc.unit_loss.figure(f"Ventilation loss of {unit.name}", **moved, recovery=recovery)
    open_ = calc.unit_loss.figure(f"Ventilation loss of {unit.name}, bypassed", **moved, recovery=Entered("bypassed", 0.0, "percent"))
    frost = None
    if degrees is not None:
        way = flows.mean_supply
        frost = calc.frost_energy.figure(f"Frost protection of {unit.name}", flow=way, degrees=degrees, density=density)
    return UnitLoss(unit, recovery, loss, open_, _fans(flows, home.hours), frost)


def _fans(flows: UnitFlows, hours: dict[str, float]) -> Figure:
    """Fan electricity over all operations that run."""
    unit = flows.unit
    parts = tuple(
        calc.fan_electricity.figure(f"Fans of {unit.name}, {o} operation", power=_power(unit, flow), flow=flow, share=share_leaf(o, hours))
        for o, flow in flows.by_operation.items()
        if o != "off"
    )
    return parts[0] if len(parts) == 1 else total(f"Fans of {unit.name}", "energy", parts)


def _power(unit: VentilationUnit, flow: Node) -> Node:
    """Fan power at a flow: between the two known ones, or the one for all flows."""
    least, most, low, high = unit.least_flow, unit.most_flow, unit.power_least, unit.power_most
    if least and most and low and high and most.value > least.value:
        return calc.fan_power.figure(
            flow=flow,
            low=need(unit, "least_flow"),
            high=need(unit, "most_flow"),
            at_low=need(unit, "power_least"),
            at_high=need(unit, "power_most"),
        )
    return need(unit, "power")


def frost_limit(unit: VentilationUnit) -> Node | None:
    """The temperature outdoor air is warmed to; None where there is no frost protection."""
    return need(unit, "frost_limit") if unit.frost != "none" else None


def bypass_from(unit: VentilationUnit) -> Node:
    """The outdoor mean from which the bypass opens; below any where none is said."""
    if unit.bypass_from is None:
        return Entered("the bypass opens at any outdoor mean", -100.0, "temperature", "rule", "", unit.id, "bypass_from")
    return entered(unit.bypass_from, f"outdoor mean from which the bypass of {unit.name} opens", "temperature", unit.id, "bypass_from")
