"""How air hangs in the graph: flows by demand, recovery, infiltration, what the unit and the leaks lose."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nuthatch.core.air import ventilation as calc
from nuthatch.core.climate.stages import DENSITY
from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.household.stages import PEOPLE
from nuthatch.core.model.services import Air, VentilationUnit
from nuthatch.core.questions import Question
from nuthatch.core.results.calculation import take, total
from nuthatch.core.results.entries import chosen, need, optional
from nuthatch.core.results.figure import Entered, Figure, Node
from nuthatch.core.shape.stages import AIR_VOLUME, INNER_SHELL, REFERENCE


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
    """What the unit (or open windows), the bypassed unit and the leaks lose [W/K], with recovery and fans."""

    recovery: Figure
    unit: Figure
    bypassed: Figure
    leaks: Figure
    fans: Figure


@dataclass(frozen=True, eq=False)
class Tightness:
    """Air change at 50 Pa [1/h] and permeability [m³/(h·m²)]."""

    n50: Figure
    q50: Figure


STAGES = Stages()
FLOWS: Slot[Flows] = Slot("air flows", {"ventilation_flow": "shown"})
TIGHTNESS: Slot[Tightness] = Slot("airtightness", {"n50": "n50", "q50": "q50"})
INFILTRATION: Slot[Figure] = Slot("infiltration", {"infiltration_rate": ""})
LOSSES: Slot[Losses] = Slot("air losses", {"effective_heat_recovery": "recovery"})
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the air", asks=True)


@STAGES.stage(FLOWS, air=part("air"), people=PEOPLE, reference=REFERENCE)
def flows(air: Air, people: Figure, reference: Figure) -> Flows:
    """Flows by demand, or as the unit is set; a unit that only supplies or only extracts leaves the other way to the leaks."""
    volume = calc.reference_volume.figure(area=reference)
    rooms = {k: optional(air, k, 0, "none") for k in ("kitchens", "baths", "wcs")}
    demand = calc.demand_flow.figure(people=people, **rooms, volume=volume)
    unit = air.unit
    supply: Node = need(unit, "supply") if unit and unit.supply else demand
    extract: Node = need(unit, "extract") if unit and unit.extract else supply
    if unit is not None and unit.moves != "supply and extract":
        none = Entered(f"the unit moves {unit.moves}", 0.0, "flow", "declared", "", unit.id, "moves")
        supply, extract = (none, extract) if unit.moves == "extract only" else (supply, none)
    moved = extract if supply.value == 0 else supply
    return Flows(volume, demand, supply, extract, take("Ventilation flow", "flow", moved))


def _recovery(unit: VentilationUnit | None, flows: Flows, density: Node) -> Figure:
    if unit is None or flows.supply.value == 0 or flows.extract.value == 0:
        return calc.no_recovery.figure(flow=flows.shown)
    psi: Node = Entered("no duct", 0.0, "psi")
    length = optional(unit, "duct_length", 0.0, "no ducts")
    if unit.duct_length and unit.duct_length.value > 0:
        psi = calc.duct_psi.figure(
            diameter=need(unit, "duct_diameter"), insulation=need(unit, "duct_insulation"), conductivity=need(unit, "duct_conductivity")
        )
    recovery = need(unit, "recovery")
    return calc.effective_recovery.figure(recovery=recovery, psi=psi, length=length, flow=flows.supply, density=density)


@STAGES.stage(INFILTRATION, air=part("air"), flows=FLOWS, test_volume=AIR_VOLUME)
def leaking(air: Air, flows: Flows, test_volume: Figure) -> Figure:
    """Air change by infiltration, less where the unit blows or draws more than the other way."""
    source = "ISO 13789:2007, annex C"
    shield = calc.SHIELD[(air.exposed, air.shielding)]
    e = Entered(f"e: {air.exposed}, {air.shielding} shielding", shield, "fraction", "rule", source, "air", "shielding")
    moved = (flows.demand, flows.demand) if air.unit is None else (flows.supply, flows.extract)
    f = chosen(air, "exposed", calc.WIND_F[air.exposed], source=source)
    return calc.infiltration.figure(n50=need(air, "n50"), e=e, f=f, test_volume=test_volume, volume=flows.volume, flows=moved)


@STAGES.stage(TIGHTNESS, n50=field("air.n50"), volume=AIR_VOLUME, shell=INNER_SHELL)
def tightness(n50: Node, volume: Figure, shell: Figure) -> Tightness:
    """What an air test says of the home."""
    return Tightness(take("Air change at 50 Pa", "ach", n50), calc.permeability.figure(n50=n50, volume=volume, envelope=shell))


@STAGES.stage(LOSSES, unit=part("air.unit"), flows=FLOWS, rate=INFILTRATION, density=DENSITY)
def losses(unit: VentilationUnit | None, flows: Flows, rate: Figure, density: Node) -> Losses:
    """All air paths of the home: the unit, or the windows people open, and the leaks."""
    recovery = _recovery(unit, flows, density)
    leaks = calc.infiltration_loss.figure(rate=rate, volume=flows.volume, density=density)
    if unit is None:
        fresh = calc.window_loss.figure(demand=flows.demand, rate=rate, volume=flows.volume, density=density)
        return Losses(recovery, fresh, fresh, leaks, total("Fan electricity", "energy", (), "no ventilation unit"))
    moved = {"supply": flows.supply, "extract": flows.extract, "density": density}
    return Losses(
        recovery,
        calc.unit_loss.figure(**moved, recovery=recovery),
        calc.unit_loss.figure("Ventilation loss, bypassed", **moved, recovery=Entered("bypassed", 0.0, "percent")),
        leaks,
        calc.fan_electricity.figure(power=need(unit, "power"), flow=flows.shown),
    )


@STAGES.stage(ASKS, unit=part("air.unit"), flows=FLOWS)
def asks(unit: VentilationUnit | None, flows: Flows) -> tuple[Question, ...]:
    """Flows that do not fit, a recovery nobody reaches."""
    return tuple(_asks(unit, flows.demand.value)) if unit is not None else ()


def _asks(unit: VentilationUnit, demand: float | None) -> Iterator[Question]:
    way = "extract" if unit.moves == "extract only" else "supply"
    given = getattr(unit, way)
    if given is not None and demand is not None and given.value < demand - 0.5:
        amounts = ((given.value, "flow"), (demand, "flow"))
        yield Question(unit.id, way, f"{way.capitalize()} flow {{0}} is below the demand of {{1}}", amounts)
    if unit.moves != "supply and extract":
        return
    supply = unit.supply.value if unit.supply else None
    extract = unit.extract.value if unit.extract else supply
    if supply is not None and extract is not None and abs(extract - supply) > 0.1 * max(supply, extract):
        yield Question(unit.id, "extract", "Supply and extract flow differ by more than 10 %")
    if unit.recovery is not None and unit.recovery.value > 0.95:
        yield Question(unit.id, "recovery", "Heat recovery above 95 % is implausible")
