"""Every way air crosses the envelope by name, what it costs, and in words why it costs nothing where it does not."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.air.flows import Flows
from nuthatch.core.air.stages import FLOWS, INFILTRATION, LOSSES, Losses
from nuthatch.core.air.unit import UnitFlows, UnitLoss
from nuthatch.core.assess import Assessment
from nuthatch.core.climate.calendar import MONTH_HOURS_LEAF
from nuthatch.core.energy.balance import loss_months
from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.results.calculation import total
from nuthatch.core.results.figure import Figure, Known, Node
from nuthatch.core.units import show, with_unit

ZERO = 1e-9
DAMP = "moisture stays inside and mould grows on cold corners; in summer the warmth of the day stays in"


@dataclass(frozen=True, eq=False)
class AirPath:
    """One named air path: its flow [m³/h], what it loses [W/K] and in the months with heating [kWh/a], whether it counts in the heating
    balance, what is to be said of it."""

    key: str
    name: str
    flow: Node | None
    loss: Figure
    energy: float | None
    counts: bool
    says: str


def paths(a: Assessment) -> tuple[AirPath, ...]:
    """All air paths of a home, the same ones always: units, windows opened by hand, leaks, the bypass."""
    air, flows = a[LOSSES], a[FLOWS]
    found = [_unit(a, f, u) for f, u in zip(flows.units, air.units, strict=True)]
    if not found:
        found = [AirPath("unit", "Ventilation unit", None, _nothing(), 0.0, True, "none: no unit moves air")]
    return (*found, _windows(a, air, flows), _leaks(a, air, flows), _bypass(a, air, flows))


def energy_of(a: Assessment, loss: Figure) -> float | None:
    """What a coefficient loses in the months with heating [kWh/a]; None where it is not known yet."""
    heating, inside, climate = a[BALANCE].heating, a.home.site.heating_setpoint, a.site_climate
    if not isinstance(heating, Known) or not isinstance(loss, Known) or inside is None or climate is None:
        return None
    on = np.asarray(heating.value) > 0
    months = np.asarray(loss_months(float(loss.value), inside.value, climate.temperature, MONTH_HOURS_LEAF.value))
    return float(months[on].sum())


def _nothing() -> Figure:
    return total("Nothing", "w_per_k", (), "there is no such path")


def _is_zero(node: Node | Figure | None) -> bool:
    return node is not None and isinstance(node.value, int | float) and abs(float(node.value)) < ZERO


def _unit(a: Assessment, f: UnitFlows, u: UnitLoss) -> AirPath:
    flow = f.mean_extract if u.unit.moves == "extract only" else f.mean_supply
    says = (
        f"recovers {with_unit(u.recovery.value, 'percent')} after its ducts" if u.recovery.value is not None else "recovery not known yet"
    )
    if _is_zero(flow):
        says = f"no flow, as set: leaks alone bring fresh air; {DAMP}"
    elif _is_zero(u.loss):
        says = "its air is counted with what the other units move the other way"
    elif u.unit.moves != "supply and extract":
        says = f"{u.unit.moves}: nothing to recover from"
    elif _is_zero(u.recovery):
        says = "recovers nothing: all its air is warmed by the heating"
    return AirPath(u.unit.id, u.unit.name, flow, u.loss, energy_of(a, u.loss), True, says)


def _windows(a: Assessment, air: Losses, flows: Flows) -> AirPath:
    name = "Windows opened by hand"
    if flows.units:
        says = "none counted: the unit brings what is needed"
        if all(u.unit.moves == "extract only" for u in flows.units):
            says = "none counted: what the unit draws comes in by inlets"
        moved = flows.shown.value
        if moved is not None and flows.demand.value is not None and moved < flows.demand.value - 0.5:
            says = "none counted, though the unit moves less than is asked for: what is missing is not in the balance"
        return AirPath("windows", name, None, _nothing(), 0.0, True, says)
    if a.home.air.without == "leaks alone":
        return AirPath("windows", name, None, air.unit, energy_of(a, air.unit), True, f"nobody opens windows, as chosen: {DAMP}")
    says = "what the leaks leave of the demand"
    if _is_zero(air.unit):
        says = "none: the leaks bring more than is asked for"
    return AirPath("windows", name, None, air.unit, energy_of(a, air.unit), True, says)


def _leaks(a: Assessment, air: Losses, flows: Flows) -> AirPath:
    rate = a[INFILTRATION].value
    says = f"{show(rate, 'ach', 3)} 1/h by wind and warmth" if rate is not None else "n50 is not known yet"
    if _is_zero(air.leaks):
        says = "none: n50 is 0" if rate == 0 else "none"
    elif rate is not None and not _is_zero(flows.shown) and flows.supply.value != flows.extract.value:
        says += "; less of it where the unit moves more one way than the other"
    return AirPath("leaks", "Leaks", None, air.leaks, energy_of(a, air.leaks), True, says)


def _bypass(a: Assessment, air: Losses, flows: Flows) -> AirPath:
    name = "Bypass in summer"
    with_one = [u for u in air.units if u.unit.bypass and u.unit.moves == "supply and extract"]
    if not with_one:
        says = "none: the heat stays in by the exchanger in summer too; it gets warmer inside"
        if not air.units:
            says = "none: windows do it by hand"
        elif all(u.unit.moves != "supply and extract" for u in air.units):
            says = "none needed: nothing is recovered"
        return AirPath("bypass", name, None, _nothing(), 0.0, False, says)
    rule = "open in months cooler outside than the cooling set-point"
    starts = [u.unit.bypass_from for u in with_one if u.unit.bypass_from is not None]
    if starts:
        rule += f", from a mean of {with_unit(starts[0].value, 'temperature')}"
    return AirPath("bypass", name, None, air.bypassed, None, False, f"{rule}; costs no heating")
