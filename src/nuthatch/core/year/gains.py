"""Inner gains by the hour: the month's mean, more while somebody is at home or something runs, less while not."""

from __future__ import annotations

import numpy as np

from nuthatch.core.climate.patterns import days_named, year_of
from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.model.household import Household
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.results.figure import Array


def around_the_mean(amount: float, pattern: DayPattern, southern: bool) -> Array:
    """What so much in the mean of the year [W] is above its mean in every hour by a pattern, (8760,) [W]; the sum of the year is 0."""
    shares = year_of(pattern, southern)
    mean = float(shares.mean())
    return np.asarray(amount * (shares / mean - 1.0)) if mean > 0 else np.zeros(8760)


def by_hour(
    months: Array, household: Household, energies: dict[str, float], people: float, patterns: tuple[DayPattern, ...], southern: bool
) -> Array:
    """(8760,) [W]. months: inner gains by month [kWh]; energies: electricity of each appliance in a year [kWh]. The lump of simple gains is
    the same in all hours; itemised ones follow the patterns of people and appliances."""
    found: Array = (np.asarray(months) * 1000 / MONTH_HOURS)[MONTH_OF_HOUR]
    if household.gains == "simple":
        return np.asarray(found)
    by_id = {p.id: p for p in patterns if days_named(p)}
    if household.presence in by_id and household.person_heat is not None:
        pattern = by_id[household.presence]
        mean = people * household.person_heat.value * float(year_of(pattern, southern).mean())
        found = found + around_the_mean(mean, pattern, southern)
    for a in household.appliances:
        if a.pattern in by_id and a.id in energies:
            inside = a.inside_share.value if a.inside_share is not None else 1.0
            found = found + around_the_mean(energies[a.id] * inside / 8.76, by_id[a.pattern], southern)
    return np.asarray(found)
