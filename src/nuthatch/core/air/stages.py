"""How air hangs in the graph: flows by demand, recovery, infiltration, what the unit and the leaks lose."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nuthatch.core.air import ventilation as calc
from nuthatch.core.climate.stages import DENSITY
from nuthatch.core.graph.stage import Slot, Stages, part
from nuthatch.core.household.stages import PEOPLE
from nuthatch.core.model.home import Air, VentilationUnit
from nuthatch.core.questions import Question
from nuthatch.core.results.calculation import take, total
from nuthatch.core.results.entries import chosen, need, optional
from nuthatch.core.results.figure import Computing, Entered, Figure, Node, Unknown, because
from nuthatch.core.shape.stages import AIR_VOLUME, REFERENCE, SHELL


@dataclass(frozen=True, eq=False)
class Flows:
    """Flow by demand, supply and extract [m³/h], and the volume behind air changes [m³]."""

    volume: Figure
    demand: Figure
    supply: Node
    extract: Node
    shown: Figure


@dataclass(frozen=True, eq=False)
class Losses:
    """What the unit, the bypassed unit and the leaks lose [W/K], with recovery, infiltration and fans."""

    n50: Figure
    q50: Figure
    infiltration: Figure
    recovery: Figure
    unit: Figure
    bypassed: Figure
    leaks: Figure
    fans: Figure


STAGES = Stages()
FLOWS: Slot[Flows] = Slot("air flows", {"ventilation_flow": "shown"})
LOSSES: Slot[Losses] = Slot(
    "air losses", {"n50": "n50", "q50": "q50", "infiltration_rate": "infiltration", "effective_heat_recovery": "recovery"}
)
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the air", asks=True)


@STAGES.stage(FLOWS, air=part("air"), people=PEOPLE, reference=REFERENCE)
def flows(air: Air, people: Figure, reference: Figure) -> Flows:
    """Flows by demand, or as the unit is set."""
    volume = calc.reference_volume.figure(area=reference)
    rooms = {k: optional(air, k, 0, "none") for k in ("kitchens", "baths", "wcs")}
    demand = calc.demand_flow.figure(people=people, **rooms, volume=volume)
    unit = air.unit
    supply: Node = need(unit, "supply") if unit and unit.supply else demand
    extract: Node = need(unit, "extract") if unit and unit.extract else supply
    return Flows(volume, demand, supply, extract, take("Ventilation flow", "flow", supply))


def _recovery(unit: VentilationUnit | None, supply: Node) -> Figure:
    none = Entered("no duct", 0.0, "psi")
    if unit is None:
        if isinstance(supply, Unknown | Computing):
            return because("Effective heat recovery", "percent", supply)
        zero = Entered("no ventilation unit", 0.0, "percent")
        return calc.effective_recovery.figure(recovery=zero, psi=none, length=Entered("no duct", 0.0, "length"), flow=supply)
    psi: Node = none
    length = optional(unit, "duct_length", 0.0, "no ducts")
    if unit.duct_length and unit.duct_length.value > 0:
        psi = calc.duct_psi.figure(
            diameter=need(unit, "duct_diameter"), insulation=need(unit, "duct_insulation"), conductivity=need(unit, "duct_conductivity")
        )
    return calc.effective_recovery.figure(recovery=need(unit, "recovery"), psi=psi, length=length, flow=supply)


@STAGES.stage(LOSSES, air=part("air"), flows=FLOWS, test_volume=AIR_VOLUME, shell=SHELL, density=DENSITY)
def losses(air: Air, flows: Flows, test_volume: Figure, shell: Figure, density: Node) -> Losses:
    """All air paths of the home: the unit and the leaks."""
    n50 = need(air, "n50")
    shield = calc.SHIELD[(air.exposed, air.shielding)]
    source = "ISO 13789:2007, annex C"
    e = Entered(f"e: {air.exposed}, {air.shielding} shielding", shield, "fraction", "rule", source, "air", "shielding")
    rate = calc.infiltration.figure(
        n50=n50,
        e=e,
        f=chosen(air, "exposed", calc.WIND_F[air.exposed], source=source),
        test_volume=test_volume,
        volume=flows.volume,
        flows=(flows.supply, flows.extract),
    )
    recovery = _recovery(air.unit, flows.supply)
    moved = {"supply": flows.supply, "extract": flows.extract, "density": density}
    zero = Entered("bypassed", 0.0, "percent")
    fans: Figure = total("Fan electricity", "energy", (), "no ventilation unit")
    if air.unit is not None:
        fans = calc.fan_electricity.figure(power=need(air.unit, "power"), flow=flows.supply)
    return Losses(
        take("Air change at 50 Pa", "ach", n50),
        calc.permeability.figure(n50=n50, volume=test_volume, envelope=shell),
        rate,
        recovery,
        calc.unit_loss.figure(**moved, recovery=recovery),
        calc.unit_loss.figure("Ventilation loss, bypassed", **moved, recovery=zero),
        calc.infiltration_loss.figure(rate=rate, volume=flows.volume, density=density),
        fans,
    )


@STAGES.stage(ASKS, unit=part("air.unit"), flows=FLOWS)
def asks(unit: VentilationUnit | None, flows: Flows) -> tuple[Question, ...]:
    """Flows that do not fit, a recovery nobody reaches."""
    return tuple(_asks(unit, flows.demand.value)) if unit is not None else ()


def _asks(unit: VentilationUnit, demand: float | None) -> Iterator[Question]:
    supply = unit.supply.value if unit.supply else None
    if supply is not None and demand is not None and supply < demand - 0.5:
        amounts = ((supply, "flow"), (demand, "flow"))
        yield Question(unit.id, "supply", "Supply flow {0} is below the demand of {1}", amounts)
    extract = unit.extract.value if unit.extract else supply
    if supply is not None and extract is not None and abs(extract - supply) > 0.1 * max(supply, extract):
        yield Question(unit.id, "extract", "Supply and extract flow differ by more than 10 %")
    if unit.recovery is not None and unit.recovery.value > 0.95:
        yield Question(unit.id, "recovery", "Heat recovery above 95 % is implausible")
