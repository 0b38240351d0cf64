"""How the balance hangs in the graph: the elements together, losses and gains by month, the load, sums of the year."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TypedDict, Unpack

import numpy as np

from nuthatch.core.air.stages import LOSSES, Losses
from nuthatch.core.air.unit import bypass_from
from nuthatch.core.climate.calendar import MONTH_HOURS_LEAF, window_name
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.patterns import days_named, monthly, winter_months
from nuthatch.core.climate.stages import AT_SITE, OUTSIDE, Weathered
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.energy import balance
from nuthatch.core.fabric import ground
from nuthatch.core.fabric.elements import CATEGORIES, FABRIC, Element
from nuthatch.core.fabric.stages import CAPACITY, FACE, OPENING, SUN, Sun
from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.household import people as people_calc
from nuthatch.core.household.stages import USE, HouseholdUse
from nuthatch.core.junctions.stages import JUNCTION, UNLISTED
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.results.calculation import total
from nuthatch.core.results.entries import flagged
from nuthatch.core.results.figure import Entered, Figure, Need, Node, Unknown, because, missing
from nuthatch.core.solid.stages import FACES_WANTED, REFERENCE
from nuthatch.core.water.stages import WATER, Water


@dataclass(frozen=True, eq=False)
class Balance:
    """The monthly balance: losses by category, gains by kind, heating."""

    losses: dict[str, Figure]
    sun: Figure
    internal: Figure
    loss: Figure
    gains: Figure
    heating: Figure
    tau: Figure


@dataclass(frozen=True, eq=False)
class Coefficients:
    """Loss coefficients of the home [W/K]."""

    transmission: Figure
    ventilation: Figure


@dataclass(frozen=True, eq=False)
class Year:
    """Sums of the year [kWh/a], and demands per floor area."""

    heating: Figure
    water: Figure
    water_rest: Figure
    cooling: Figure
    sun: Figure
    internal: Figure
    heating_demand: Figure
    cooling_demand: Figure
    water_demand: Figure


@dataclass(frozen=True, eq=False)
class Load:
    """Heating load [W/m²] and the two calendar days it is of: their dates in words, mean outdoors [°C], sun through all openings [W]."""

    load: Figure
    days: str = ""
    temperature: Node | None = None
    sun: Node | None = None


STAGES = Stages()
HELD: Slot[Node] = Slot("heating set-point in the mean")
"""As it is set, or in the mean of the hours of winter where it is set back."""
ELEMENTS: Slot[tuple[Element, ...]] = Slot("elements")
COEFFICIENTS: Slot[Coefficients] = Slot(
    "loss coefficients", {"transmission_loss_coefficient": "transmission", "ventilation_loss_coefficient": "ventilation"}
)
SUNS: Slot[Figure] = Slot("sun of all openings")
SUNS_COOLED: Slot[Figure] = Slot("sun of all openings, cooling")
INSIDE: Slot[Figure] = Slot("internal gains by month")
STORED: Slot[tuple[Figure, Figure]] = Slot("what stores heat")
TO_GROUND: Slot[tuple[Figure, Figure]] = Slot("flow to the ground")
BALANCE: Slot[Balance] = Slot(
    "balance", {"time_constant": "tau"}, {"heating_demand": "heating", "losses": "loss", "solar_gains": "sun", "internal_gains": "internal"}
)
COOLING: Slot[Figure] = Slot("cooling by month", months={"cooling_demand": ""})
LOSS_MONTHS: Slot[dict[str, Figure]] = Slot("losses by category")
LOAD: Slot[Load] = Slot("heating load", {"heating_load": "load"})
YEAR: Slot[Year] = Slot(
    "sums of the year",
    {
        "heating_demand": "heating_demand",
        "cooling_demand": "cooling_demand",
        "hot_water_demand": "water_demand",
        "solar_gains": "sun",
        "internal_gains": "internal",
    },
)


@STAGES.stage(ELEMENTS, faces=FACE, openings=OPENING, junctions=JUNCTION, unlisted=UNLISTED)
def elements(
    faces: dict[str, Element], openings: dict[str, Element], junctions: dict[str, Element], unlisted: tuple[Element, ...]
) -> tuple[Element, ...]:
    """All elements of the envelope."""
    return (*faces.values(), *openings.values(), *junctions.values(), *unlisted)


@STAGES.stage(COEFFICIENTS, elements=ELEMENTS, air=LOSSES, wanted=FACES_WANTED)
def coefficients(elements: tuple[Element, ...], air: Losses, wanted: Need) -> Coefficients:
    """Transmission and ventilation."""
    label = "Transmission loss coefficient"
    transmission = total(label, "w_per_k", tuple(e.loss for e in elements), "ISO 13789:2017, 5", least=0)
    if not any(e.category != "junctions" for e in elements):
        transmission = Unknown(label, "w_per_k", (wanted,))
    return Coefficients(transmission, total("Ventilation loss coefficient", "w_per_k", (air.unit, air.leaks), "ISO 13789:2017, 8", least=0))


@STAGES.stage(SUNS, suns=SUN)
def suns(suns: dict[str, Sun]) -> Figure:
    """Sun through all openings by month."""
    if not suns:
        return total("Sun", "energy_month", (Entered("no openings", np.zeros(12), "energy_month"),))
    return total("Sun", "energy_month", tuple(s.months for s in suns.values()))


@STAGES.stage(SUNS_COOLED, suns=SUN, whole=SUNS)
def suns_cooled(suns: dict[str, Sun], whole: Figure) -> Figure:
    """The same with what is moved before the openings on warm sunny hours; what counts for cooling."""
    if all(s.cooled is s.months for s in suns.values()):
        return whole
    return total("Sun, cooling", "energy_month", tuple(s.cooled for s in suns.values()))


def category_losses(elements: tuple[Element, ...], inside: Node, outside: Node) -> dict[str, Figure]:
    """Losses of the fabric by category and month at an inside temperature."""
    found: dict[str, Figure] = {}
    for category in FABRIC:
        mine = [e for e in elements if e.category == category]
        h = total(f"Loss coefficient, {category}", "w_per_k", tuple(e.loss for e in mine if e.periodic is None))
        parts: list[Figure] = [
            balance.loss_months.figure(f"Loss, {category}", coefficient=h, inside=inside, outside=outside, hours=MONTH_HOURS_LEAF)
        ]
        for e in mine:
            if e.periodic is not None:
                parts.append(ground_flow(e, inside, outside))
        found[category] = parts[0] if len(parts) == 1 else total(f"Loss, {category}", "energy_month", tuple(parts))
    return found


def ground_flow(e: Element, inside: Node, outside: Node) -> Figure:
    """Heat to the ground by month of one face on it [kWh]."""
    label = f"Heat flow to the ground, {e.name}"
    lag = Entered("months the ground lags", e.lag, "count", "rule", "ISO 13370:2017, annex H")
    return ground.ground_months.figure(
        label, steady=e.loss, periodic=e.periodic, inside=inside, outside=outside, hours=MONTH_HOURS_LEAF, lag=lag
    )


def _air_loss(label: str, coefficient: Figure, inside: Node, outside: Node) -> Figure:
    return balance.loss_months.figure(label, coefficient=coefficient, inside=inside, outside=outside, hours=MONTH_HOURS_LEAF)


@STAGES.stage(
    HELD,
    inside=field("site.heating_setpoint"),
    setback=field("site.setback"),
    by=part("site.heating_hours"),
    patterns=part("patterns"),
    climate=AT_SITE,
)
def held_in_the_mean(inside: Node, setback: Node, by: str, patterns: tuple[DayPattern, ...], climate: Weathered) -> Node:
    """The set-point the months are worked out at."""
    pattern = next((p for p in patterns if p.id == by and days_named(p)), None)
    if pattern is None or isinstance(setback, Unknown) or inside.value is None or setback.value >= inside.value:
        return inside
    southern = isinstance(climate, Climate) and climate.weather.latitude < 0
    winter = list(winter_months(southern))
    share = float(np.average(monthly(pattern, southern)[winter], weights=MONTH_HOURS[winter]))
    mean = Entered(f"{pattern.name}, mean of winter", share, "percent", "declared", "day pattern", pattern.id, "name")
    return balance.set_back.figure(inside=inside, setback=setback, share=mean)


@STAGES.stage(LOSS_MONTHS, elements=ELEMENTS, air=LOSSES, coefficients=COEFFICIENTS, inside=HELD, outside=OUTSIDE)
def loss_months(elements: tuple[Element, ...], air: Losses, coefficients: Coefficients, inside: Node, outside: Node) -> dict[str, Figure]:
    """Losses by category and month at the heating set-point."""
    found = category_losses(elements, inside, outside)
    if not any(e.category != "junctions" for e in elements):
        found = dict.fromkeys(FABRIC, coefficients.transmission)
    found["fresh air"] = _air_loss("Loss, fresh air", air.unit, inside, outside)
    found["leaks"] = _air_loss("Loss, leaks", air.leaks, inside, outside)
    return found


LUMP = Entered("hot-water losses, held by the lump of gains already", np.zeros(12), "energy_month", "rule", "common practice, no source")


@STAGES.stage(INSIDE, kind=field("household.gains"), use=USE, water=WATER)
def inside_gains(kind: str, use: HouseholdUse, water: Water) -> Figure:
    """Internal gains by month; losses of hot water add to itemised gains, the lump already holds them."""
    lost: Node = water.inside if kind == "itemised" else LUMP
    return people_calc.gains_months.figure(power=use.gains, water=lost, hours=MONTH_HOURS_LEAF)


@STAGES.stage(BALANCE, losses=LOSS_MONTHS, sun=SUNS, internal=INSIDE, capacity=CAPACITY, coefficients=COEFFICIENTS)
def month_balance(losses: dict[str, Figure], sun: Figure, internal: Figure, capacity: Figure, coefficients: Coefficients) -> Balance:
    """The monthly balance of the home."""
    loss = total("Losses", "energy_month", tuple(losses.values()))
    gains = total("Gains", "energy_month", (sun, internal))
    tau = balance.time_constant.figure(capacity=capacity, transmission=coefficients.transmission, ventilation=coefficients.ventilation)
    eta = balance.heating_utilisation.figure(gains=gains, losses=loss, tau=tau)
    heating = balance.heating_months.figure(losses=loss, gains=gains, eta=eta)
    return Balance(losses, sun, internal, loss, gains, heating, tau)


class CoolingReads(TypedDict):
    """What cooling rests on besides the elements."""

    air: Losses
    sun: Figure
    internal: Figure
    heat: tuple[Figure, Figure]
    inside: Node
    outside: Node


@STAGES.stage(
    COOLING,
    elements=ELEMENTS,
    air=LOSSES,
    sun=SUNS_COOLED,
    internal=INSIDE,
    heat=STORED,
    inside=field("site.cooling_setpoint"),
    outside=OUTSIDE,
)
def cooling(elements: tuple[Element, ...], **reads: Unpack[CoolingReads]) -> Figure:
    """Cooling by month, with the ventilation and the time constant of each month: a bypass recovers only where it is too warm outside."""
    air, inside, outside = reads["air"], reads["inside"], reads["outside"]
    gains = total("Gains, cooling", "energy_month", (reads["sun"], reads["internal"]))
    by_month = air_by_month(air, inside, outside)
    fresh = _air_loss("Loss at the cooling set-point, fresh air", by_month, inside, outside)
    leaks = _air_loss("Loss, leaks", air.leaks, inside, outside)
    losses = total("Losses at the cooling set-point", "energy_month", (*category_losses(elements, inside, outside).values(), leaks, fresh))
    moved = total("Ventilation loss coefficient by month, cooling", "w_per_k", (by_month, air.leaks))
    capacity, transmission = reads["heat"]
    tau = balance.time_constant_months.figure(capacity=capacity, transmission=transmission, ventilation=moved)
    eta = balance.cooling_utilisation.figure(gains=gains, losses=losses, tau=tau)
    return balance.cooling_months.figure(losses=losses, gains=gains, eta=eta)


def air_by_month(air: Losses, inside: Node, outside: Node) -> Figure:
    """Loss coefficient of the fresh air by month at the cooling set-point: each unit by the rule of its bypass."""
    rows: list[tuple[Figure, Figure, Node, Node]]
    if not air.units:
        rows = [(air.unit, air.bypassed, Entered("no bypass", 0.0, "fraction"), Entered("no bypass", 0.0, "temperature"))]
    else:
        rows = [(u.loss, u.bypassed, flagged(u.unit, "bypass", "summer bypass", "no bypass"), bypass_from(u.unit)) for u in air.units]
    parts = tuple(
        balance.bypassed_coefficient.figure(outside=outside, inside=inside, opens=opens, recovered=h, bypassed=free, bypass=bypass)
        for h, free, bypass, opens in rows
    )
    return parts[0] if len(parts) == 1 else total("Ventilation coefficient by month, all units", "w_per_k", parts)


@STAGES.stage(STORED, capacity=CAPACITY, coefficients=COEFFICIENTS)
def stored(capacity: Figure, coefficients: Coefficients) -> tuple[Figure, Figure]:
    """Heat capacity and transmission: what makes the time constant besides the air."""
    return capacity, coefficients.transmission


@STAGES.stage(TO_GROUND, elements=ELEMENTS, inside=field("site.heating_setpoint"), outside=OUTSIDE)
def to_ground(elements: tuple[Element, ...], inside: Node, outside: Node) -> tuple[Figure, Figure]:
    """(steady coefficient, largest monthly flow) of all faces on the ground."""
    rows = [e for e in elements if e.periodic is not None]
    steady = total("Loss coefficient to the ground", "w_per_k", tuple(e.loss for e in rows))
    return steady, balance.ground_peak.figure(months=tuple(ground_flow(e, inside, outside) for e in rows), hours=MONTH_HOURS_LEAF)


class LoadReads(TypedDict):
    """What the load rests on besides coefficients and sun."""

    reference: Figure
    ground: tuple[Figure, Figure]
    inside: Node


@STAGES.stage(
    LOAD, coefficients=COEFFICIENTS, suns=SUN, reference=REFERENCE, ground=TO_GROUND, inside=field("site.heating_setpoint"), climate=AT_SITE
)
def load(coefficients: Coefficients, suns: dict[str, Sun], climate: Weathered, **reads: Unpack[LoadReads]) -> Load:
    """Heating load: every window of two calendar days is tried, the one with the largest load is worked out."""
    if not isinstance(climate, Climate):
        return Load(because("Heating load", "heat_flux", climate))
    if climate.made:
        return Load(missing("Heating load", "heat_flux", "a weather file with hours: the climate is given by months", "site", "climate"))
    steady, peak = reads["ground"]
    through = [s.two_days for s in suns.values()]
    nodes = (coefficients.transmission, coefficients.ventilation, steady, reads["inside"])
    known = [float(n.value) for n in nodes if n.value is not None]
    suns_known = [np.asarray(s.value) for s in through if s.value is not None]
    first = 0  # something is missing: the load says what, on whichever days
    if len(known) == len(nodes) and len(suns_known) == len(through):
        h_t, h_v, h_g, inside = known
        first = balance.governing(h_t + h_v - h_g, inside, climate.two_days, sum(suns_known, np.zeros(365)))
    days, at = window_name(first), Entered("the first of the two days, of the year", float(first), "count", "calculated", climate.name)
    temperature = Entered(f"mean of {days}", float(climate.two_days[first]), "temperature", "calculated", climate.name)
    sun = total(f"Sun on {days}", "power", tuple(balance.of_two_days.figure(f"{s.label}, {days}", windows=s, first=at) for s in through))
    power = balance.load_on_days.figure(
        f"Load on {days}",
        transmission=coefficients.transmission,
        steady=steady,
        ventilation=coefficients.ventilation,
        inside=reads["inside"],
        day=temperature,
        ground=peak,
        sun=sun,
        area=reads["reference"],
    )
    return Load(balance.heating_load.figure(load=power, area=reads["reference"]), days, temperature, sun)


@STAGES.stage(YEAR, balance=BALANCE, cooling=COOLING, water=WATER, reference=REFERENCE)
def yearly(balance: Balance, cooling: Figure, water: Water, reference: Figure) -> Year:
    """Sums of the year and demands per floor area."""
    total_of, per = _year.figure, _per_area.figure
    return Year(
        total_of("Heating of the year", months=balance.heating),
        total_of("Heat for hot water of the year", months=water.months),
        total_of("Heat for hot water the sources make", months=water.rest),
        total_of("Cooling of the year", months=cooling),
        total_of("Sun of the year", months=balance.sun),
        total_of("Internal gains of the year", months=balance.internal),
        per("Heating demand", months=balance.heating, area=reference),
        per("Cooling demand", months=cooling, area=reference),
        per("Heat for hot water", months=water.months, area=reference),
    )


_year, _per_area = balance.year, balance.per_area


def category_of_months(losses: dict[str, Figure]) -> Iterator[tuple[str, Figure]]:
    """(published key, loss by month) of every category, in their fixed order."""
    return ((f"loss_{c.replace(' ', '_')}", losses[c]) for c in CATEGORIES)
