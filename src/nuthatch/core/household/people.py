"""People, appliances and internal gains."""

from __future__ import annotations

import numpy as np

from nuthatch.core.figure import calculation


@calculation(
    "People",
    "count",
    "people = bedrooms + 1; a studio by the target set",
    "common practice, no source",
    bedrooms="bedrooms",
    studio="studio",
)
def people_from_bedrooms(bedrooms: float, studio: float) -> float:
    """Design occupants of one dwelling; bedrooms 0 is a studio."""
    return bedrooms + 1 if bedrooms > 0 else studio


@calculation("People", "count", "people as typed", "entered", people="people")
def people_typed(people: float) -> float:
    """A typed number of people."""
    return people


@calculation("Internal gains", "power", "Φ_i = q_i · A_ref", "common practice: a mean per floor area", density="q_i", area="A_ref")
def simple_gains(density: float, area: float) -> float:
    """Mean internal gains [W]."""
    return density * area


@calculation(
    "Internal gains", "power", "Φ_i = people · q_p + Σ E · share / 8.76", "itemised: people and appliances", people="people", heat="q_p"
)
def itemised_gains(people: float, heat: float, energies: tuple[float, ...], shares: tuple[float, ...]) -> float:
    """Mean internal gains [W]; energies [kWh/a] with the share left in the home."""
    return people * heat + sum(e * s for e, s in zip(energies, shares, strict=True)) / 8.76


@calculation(
    "Internal gains by month",
    "energy_month",
    "Q_i = Φ_i · t + hot-water losses inside",
    "ISO 13790:2008, 10",
    power="Φ_i",
    water="Q_W,inside",
)
def gains_months(power: float, water: np.ndarray, hours: np.ndarray) -> np.ndarray:
    """[kWh] by month; water: hot-water losses left inside [kWh]."""
    return power * hours / 1000 + water


@calculation("Household electricity", "energy", "E = Σ appliances", "itemised")
def household_electricity(energies: tuple[float, ...]) -> float:
    """[kWh/a] of all listed appliances and lights."""
    return sum(energies)
