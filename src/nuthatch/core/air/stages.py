"""How air hangs in the graph: what is asked for, flows by unit and room, recovery, infiltration, what each path loses."""

from __future__ import annotations

from dataclasses import dataclass
from dataclasses import replace as again

from nuthatch.core.air import unit as one
from nuthatch.core.air import ventilation as calc
from nuthatch.core.air.demand import AirRule, Demand, demand_of, rule_of
from nuthatch.core.air.flows import Flows, flows_of_home
from nuthatch.core.air.questions import asked
from nuthatch.core.air.unit import UnitLoss
from nuthatch.core.airtest.stages import N50
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, DENSITY, Weathered
from nuthatch.core.graph.stage import Slot, Stages, part
from nuthatch.core.household.stages import PEOPLE
from nuthatch.core.model.plans import Plans
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.model.ventilation import Air
from nuthatch.core.results.calculation import calculation, take, total
from nuthatch.core.results.entries import chosen
from nuthatch.core.results.figure import Entered, Figure, Node, because
from nuthatch.core.results.question import Question
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.from_plans import Built
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.stages import AIR_VOLUME, INNER_SHELL, REFERENCE
from nuthatch.core.sun.shelter import Shelter
from nuthatch.core.sun.stages import SHELTER


@dataclass(frozen=True, eq=False)
class Losses:
    """What the units (or open windows), the bypassed units and the leaks lose [W/K], with recovery, fans and frost protection."""

    recovery: Figure
    unit: Figure
    bypassed: Figure
    leaks: Figure
    fans: Figure
    frost: Figure
    units: tuple[UnitLoss, ...]


@dataclass(frozen=True, eq=False)
class Tightness:
    """Air change at 50 Pa [1/h] and permeability [m³/(h·m²)]."""

    n50: Figure
    q50: Figure


STAGES = Stages()
RULE: Slot[AirRule] = Slot("how fresh air is counted")
DRAWN: Slot[tuple[PlanRoom, ...]] = Slot("drawn rooms")
DEMAND: Slot[Demand] = Slot("demand of fresh air")
FLOWS: Slot[Flows] = Slot("air flows", {"ventilation_flow": "shown", "air_change_mean": "mean_change", "air_change_least": "least_change"})
TIGHTNESS: Slot[Tightness] = Slot("airtightness", {"n50": "n50", "q50": "q50"})
INFILTRATION: Slot[Figure] = Slot("infiltration", {"infiltration_rate": ""})
FROST: Slot[dict[str, Figure]] = Slot("cold below frost limits")
LOSSES: Slot[Losses] = Slot("air losses", {"effective_heat_recovery": "recovery", "fan_electricity": "fans", "frost_protection": "frost"})
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the air", asks=True)


@STAGES.stage(RULE, sets=part("target_sets"))
def rule(sets: tuple[TargetSet, ...]) -> AirRule:
    """As the first target set of the home fixes it."""
    return rule_of(sets)


@STAGES.stage(DRAWN, built=BUILT, plans=part("shape.plans"))
def drawn_rooms(built: Built | None, plans: Plans | None) -> tuple[PlanRoom, ...]:
    """The rooms of drawn plans with what they ask of the air, which makes no face anew."""
    whole = {r.id: r for s in plans.storeys for r in s.rooms} if plans is not None else {}
    return tuple(again(r, part=whole.get(r.id, r.part)) for r in built.rooms) if built is not None else ()


@STAGES.stage(DEMAND, air=part("air"), people=PEOPLE, reference=REFERENCE, drawn=DRAWN, rule=RULE)
def demand(air: Air, people: Figure, reference: Figure, drawn: tuple[PlanRoom, ...], rule: AirRule) -> Demand:
    """What the home and each of its rooms ask for."""
    return demand_of(air, people, reference, drawn, rule)


@STAGES.stage(FLOWS, air=part("air"), needs=DEMAND)
def flows(air: Air, needs: Demand) -> Flows:
    """Flows of every unit and room at each operation, and the home's in the mean of the day."""
    return flows_of_home(air, needs)


@STAGES.stage(INFILTRATION, air=part("air"), n50=N50, flows=FLOWS, test_volume=AIR_VOLUME, shelter=SHELTER)
def leaking(air: Air, n50: Node, flows: Flows, test_volume: Figure, shelter: Shelter | None) -> Figure:
    """Air change by infiltration, less where the unit blows or draws more than the other way."""
    source = "ISO 13789:2007, annex C"
    shielding, how = air.shielding, source
    if shielding == "as the site shows":
        shielding = shelter.shielding if shelter is not None else "moderate"
        kept = (
            f"{100 * float(shelter.share.value or 0.0):.0f} % of the wind from sheltered directions"
            if shelter is not None
            else "nothing drawn"
        )
        how = f"{source}; as the site shows: {kept}"
    e = Entered(
        f"e: {air.exposed}, {shielding} shielding", calc.SHIELD[(air.exposed, shielding)], "fraction", "rule", how, "air", "shielding"
    )
    f = chosen(air, "exposed", calc.WIND_F[air.exposed], source=source)
    moved = (flows.supply, flows.extract)
    return calc.infiltration.figure(n50=n50, e=e, f=f, test_volume=test_volume, volume=flows.volume, flows=moved)


@STAGES.stage(TIGHTNESS, n50=N50, volume=AIR_VOLUME, shell=INNER_SHELL)
def tightness(n50: Node, volume: Figure, shell: Figure) -> Tightness:
    """What an air test says of the home."""
    return Tightness(take("Air change at 50 Pa", "ach", n50), calc.permeability.figure(n50=n50, volume=volume, envelope=shell))


@STAGES.stage(FROST, air=part("air"), climate=AT_SITE)
def cold_below(air: Air, climate: Weathered) -> dict[str, Figure]:
    """Cold below the frost limit of each unit that has one [K·d]."""
    found: dict[str, Figure] = {}
    for u in air.units:
        limit = one.frost_limit(u)
        if limit is None:
            continue
        if isinstance(climate, Climate):
            leaf = Entered("outdoor temperature by hour", climate.weather.temperature, "temperature", "calculated", climate.name)
            found[u.id] = calc.frost_degrees.figure(limit=limit, outside=leaf)
        else:
            found[u.id] = because("Cold below the frost limit", "degree_days", climate)
    return found


@STAGES.stage(LOSSES, air=part("air"), flows=FLOWS, rate=INFILTRATION, density=DENSITY, cold=FROST)
def losses(air: Air, flows: Flows, rate: Figure, density: Node, cold: dict[str, Figure]) -> Losses:
    """All air paths of the home: the units, or the windows people open, and the leaks."""
    leaks = calc.infiltration_loss.figure(rate=rate, volume=flows.volume, density=density)
    if not flows.units:
        none = total("Electricity of ventilation", "energy", (), "no ventilation unit")
        if air.without == "leaks alone":
            fresh = total("Loss, fresh air through windows", "w_per_k", (), "nobody opens windows: as chosen")
        else:
            fresh = calc.window_loss.figure(demand=flows.demand, rate=rate, volume=flows.volume, density=density)
        return Losses(calc.no_recovery.figure(flow=flows.shown), fresh, fresh, leaks, none, none, ())
    units = tuple(one.loss_of(u, flows, density, cold.get(u.unit.id)) for u in flows.units)
    frosts = tuple(u.frost for u in units if u.frost is not None)
    frost = total("Frost protection", "energy", frosts, "no frost protection" if not frosts else "sum over the units")
    if len(units) == 1:
        u = units[0]
        return Losses(u.recovery, u.loss, u.bypassed, leaks, u.fans, frost, units)
    return Losses(
        _mean_recovery(flows, units),
        total("Ventilation loss, all units", "w_per_k", tuple(u.loss for u in units)),
        total("Ventilation loss, all units bypassed", "w_per_k", tuple(u.bypassed for u in units)),
        leaks,
        total("Fan electricity", "energy", tuple(u.fans for u in units)),
        frost,
        units,
    )


@calculation(
    "Effective heat recovery of all units",
    "percent",
    "η = Σ(η_u·q_u)/Σ(q_u)",
    "mean over the units by their flow",
    recoveries="η_u: percent",
    flows="q_u: flow",
)
def mean_recovery(recoveries: tuple[float, ...], flows: tuple[float, ...]) -> float:
    """0–1 of several units."""
    whole = sum(flows)
    return sum(r * q for r, q in zip(recoveries, flows, strict=True)) / whole if whole > 0 else 0.0


def _mean_recovery(flows: Flows, units: tuple[UnitLoss, ...]) -> Figure:
    moved = tuple(f.by_operation.get("normal", f.mean_supply) for f in flows.units)
    return mean_recovery.figure(recoveries=tuple(u.recovery for u in units), flows=moved)


@STAGES.stage(ASKS, air=part("air"), flows=FLOWS)
def asks(air: Air, flows: Flows) -> tuple[Question, ...]:
    """Flows that do not fit, rooms that get too little, a recovery nobody reaches."""
    return tuple(asked(air, flows))
