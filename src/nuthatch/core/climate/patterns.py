"""Day patterns worked out: the share of an hour on a day of the year, means by month, hours a day."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.model.patterns import EVEN, DayPattern, PatternDay
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, Entered, Node

WINTER = (0, 1, 2, 3, 9, 10, 11)
"""Months of winter north of the equator: October to April."""
SUMMER = tuple(m for m in range(12) if m not in WINTER)
WORKING, WEEKEND = 5, 2


def winter_months(southern: bool) -> tuple[int, ...]:
    """Months that count as winter, from 0: October to April, or April to October."""
    return tuple(sorted((m + 6) % 12 for m in WINTER)) if southern else WINTER


def day_of(pattern: DayPattern, weekend: bool, winter: bool) -> tuple[float, ...]:
    """The 24 shares of one kind of day: those of the row that says most of it; where none fits, all of it at every hour."""

    def fits(d: PatternDay) -> bool:
        return d.days in ("every day", "weekends" if weekend else "working days") and d.season in (
            "all year",
            "winter" if winter else "summer",
        )

    rows = [d for d in pattern.days if fits(d)]
    return max(rows, key=lambda d: (d.days != "every day") + (d.season != "all year"), default=None).hours if rows else EVEN  # type: ignore[union-attr]


@lru_cache(maxsize=64)
def year_of(pattern: DayPattern, southern: bool = False) -> Array:
    """Shares of every hour of the year, (8760,); the year begins on a Monday."""
    weekend = np.arange(365) % 7 >= WORKING
    cold = np.isin(MONTH_OF_HOUR[::24], winter_months(southern))
    shares = np.array([[day_of(pattern, w, c) for c in (False, True)] for w in (False, True)])
    made = shares[weekend.astype(int), cold.astype(int)].ravel()
    made.flags.writeable = False
    return np.asarray(made)


def monthly(pattern: DayPattern, southern: bool = False) -> Array:
    """Its mean by month, (12,), five working days and two of the weekend in a week."""
    cold = np.isin(np.arange(12), winter_months(southern))
    means = [[float(np.mean(day_of(pattern, w, c))) for c in (False, True)] for w in (False, True)]
    return np.array([(WORKING * means[0][c] + WEEKEND * means[1][c]) / 7 for c in cold.astype(int)])


def mean(pattern: DayPattern, southern: bool = False) -> float:
    """Its mean over the year."""
    return float((monthly(pattern, southern) * MONTH_HOURS).sum() / MONTH_HOURS.sum())


def days_named(pattern: DayPattern) -> bool:
    """Whether anything is said in it."""
    return bool(pattern.days)


def leaf(pattern: DayPattern, southern: bool) -> Node:
    """Its mean by month as a leaf that leads to it."""
    return Entered(f"{pattern.name}, mean by month", monthly(pattern, southern), "percent", "declared", "day pattern", pattern.id, "name")


@calculation("Hours a day by a pattern", "hours", "h = 24 [h]·p", "mean of the day pattern", pattern="p: percent")
def _hours(pattern: Array) -> Array:
    """(12,) [h]."""
    return 24.0 * pattern


def daily_hours(pattern: DayPattern, southern: bool) -> Node:
    """Hours a day by month, (12,)."""
    return _hours.figure(f"Hours a day by {pattern.name}", pattern=leaf(pattern, southern))
