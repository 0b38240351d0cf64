"""Inner gains by the hour: the month's mean, more while somebody is at home or something runs, less while not; what people do with windows
and heating."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.climate.patterns import days_named, year_of
from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.model.heat import HeatSource
from nuthatch.core.model.household import Household
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.model.site import Site
from nuthatch.core.results.figure import Array

BY_HAND = 3.0
"""The most that windows opened by hand bring [1/h]: common practice, no source."""


@dataclass(frozen=True)
class Habits:
    """What people and sources do, as plain values, so that the hours stay as they are where none of it differs.

    months: inner gains by month [kWh]; runs: (mean of the year [W], pattern) of what follows one; hand_most: the most air by open windows
    [1/h]; opened_by: the pattern of windows; night: bedrooms' windows open by night; setback [°C] and its pattern; served: whether a
    source cools; most_heat: the most that sources give [W].
    """

    months: tuple[float, ...]
    runs: tuple[tuple[float, DayPattern], ...]
    hand_most: float
    opened_by: DayPattern | None
    night: bool
    setback: float | None
    set_by: DayPattern | None
    served: bool
    most_heat: float


def habits_of(
    months: Array, household: Household, energies: dict[str, float], people: float, patterns: tuple[DayPattern, ...], site: Site,
    sources: tuple[HeatSource, ...], southern: bool,
) -> Habits:  # fmt: skip
    """energies: electricity of each appliance in a year [kWh]. The lump of simple gains is the same in all hours."""
    by_id = {p.id: p for p in patterns if days_named(p)}
    runs: list[tuple[float, DayPattern]] = []
    if household.gains != "simple":
        if household.presence in by_id and household.person_heat is not None:
            pattern = by_id[household.presence]
            runs.append((people * household.person_heat.value * float(year_of(pattern, southern).mean()), pattern))
        for a in household.appliances:
            if a.pattern in by_id and a.id in energies:
                inside = a.inside_share.value if a.inside_share is not None else 1.0
                runs.append((energies[a.id] * inside / 8.76, by_id[a.pattern]))
    return Habits(
        tuple(np.asarray(months, float).tolist()),
        tuple(runs),
        household.hand_most.value if household.hand_most is not None else BY_HAND,
        by_id.get(household.window_hours),
        household.night_windows,
        site.setback.value if site.setback is not None else None,
        by_id.get(site.heating_hours),
        any(s.cooling_share is not None and s.cooling_share.value > 0 for s in sources),
        most_heat(sources),
    )


def most_heat(sources: tuple[HeatSource, ...]) -> float:
    """The most heat that the sources of the rooms give together [W]; without bound where one of them has no limit."""
    serving = [s for s in sources if s.heating_share is not None and s.heating_share.value > 0]
    serving += [s for s in sources if s.id in {x.takes_over for x in serving} and s not in serving]
    if not serving or any(s.power is None for s in serving):
        return float("inf")
    return sum(s.power.value / (1 + (s.distribution.value if s.distribution is not None else 0.0)) for s in serving if s.power is not None)


def around_the_mean(amount: float, pattern: DayPattern, southern: bool) -> Array:
    """What so much in the mean of the year [W] is above its mean in every hour by a pattern, (8760,) [W]; the sum of the year is 0."""
    shares = year_of(pattern, southern)
    mean = float(shares.mean())
    return np.asarray(amount * (shares / mean - 1.0)) if mean > 0 else np.zeros(8760)


def by_hour(habits: Habits, southern: bool) -> Array:
    """(8760,) [W]; the sum of the year is that of its months."""
    found: Array = (np.asarray(habits.months) * 1000 / MONTH_HOURS)[MONTH_OF_HOUR]
    for amount, pattern in habits.runs:
        found = found + around_the_mean(amount, pattern, southern)
    return np.asarray(found)
