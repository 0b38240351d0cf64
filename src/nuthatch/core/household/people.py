"""People, appliances and internal gains."""

from __future__ import annotations

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array


@calculation(
    "People",
    "count",
    "n = b + 1 if b > 0 else s",
    "common practice, no source; a studio by the target set",
    bedrooms="b: count",
    studio="s: count",
)
def people_from_bedrooms(bedrooms: float, studio: float) -> float:
    """Design occupants of one dwelling; bedrooms 0 is a studio."""
    return bedrooms + 1 if bedrooms > 0 else studio


@calculation("People", "count", "n = p", "entered", people="p: count")
def people_typed(people: float) -> float:
    """A typed number of people."""
    return people


@calculation("People", "count", "n = A/a", "floor area per person", area="A: area", each="a: area")
def people_by_area(area: float, each: float) -> float:
    """From the reference floor area and the floor area of a person [m²]."""
    return area / each


@calculation("Heat of a person, mean", "power", "q̄ = q·p", "day pattern of people at home", heat="q: power", presence="p: percent")
def person_mean(heat: float, presence: float) -> float:
    """[W] over the whole day; heat while somebody is at home."""
    return heat * presence


EVAPORATED, COLD_WATER = 25.0, 5.0  # W per person


@calculation("Internal gains", "power", "Φ = q·A", "common practice: a mean per floor area", density="q: heat_flux", area="A: area")
def simple_gains(density: float, area: float) -> float:
    """Mean internal gains [W]."""
    return density * area


@calculation(
    "Internal gains",
    "power",
    "Φ = n·(q − 25 [W] − 5 [W]) + Σ(E·s)/(8760 [h])",
    "itemised: people and appliances, less what evaporates and what warms cold water; common practice, no source",
    least=0,
    people="n: count",
    heat="q: power",
    energies="E: electricity",
    shares="s: percent",
)
def itemised_gains(people: float, heat: float, energies: tuple[float, ...], shares: tuple[float, ...]) -> float:
    """Mean internal gains [W]; energies [kWh/a] with the share left in the home."""
    return people * (heat - EVAPORATED - COLD_WATER) + sum(e * s for e, s in zip(energies, shares, strict=True)) / 8.76


@calculation(
    "Internal gains by month",
    "energy_month",
    "Q = Φ·t + Q_w",
    "ISO 13790:2008, 10; Q_w hot-water losses inside",
    power="Φ: power",
    water="Q_w: energy_month",
    hours="t: hours",
)
def gains_months(power: float, water: Array, hours: Array) -> Array:
    """[kWh] by month; water: hot-water losses left inside [kWh]."""
    return power * hours / 1000 + water


@calculation(
    "Electricity of an appliance", "electricity", "E = e·n·u", "entered", energy="e: electricity", number="n: count", uses="u: count"
)
def appliance_electricity(energy: float, number: float, uses: float) -> float:
    """[kWh/a]; energy of a year, or of one use with its uses a year."""
    return energy * number * uses


@calculation("Household electricity", "energy", "E = Σ(E_i)", "itemised", energies="E_i: electricity")
def household_electricity(energies: tuple[float, ...]) -> float:
    """[kWh/a] of all listed appliances and lights."""
    return sum(energies)
