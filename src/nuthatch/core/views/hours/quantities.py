"""What the hours of a year tell: each quantity with its name, unit, colour, and where it is found."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.epw import MONTH_DAYS
from nuthatch.core.model.charts import HourChart
from nuthatch.core.results.figure import Array, Computing, Unknown, state_words
from nuthatch.core.units import kind_of
from nuthatch.core.year.problem import Hours
from nuthatch.core.year.run import Year
from nuthatch.core.year.stages import HOURS

RUNS = {"needs": "needs", "windows shut": "comfort", "windows by hand": "by_hand"}
FIRST_DAYS = tuple(1 + sum(MONTH_DAYS[:n]) for n in range(12))
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


@dataclass(frozen=True)
class Quantity:
    """`get` takes the hours and one of their years; values are SI, of `kind`."""

    name: str
    kind: str
    token: str
    get: Callable[[Hours, Year], Array]


_ALL = (
    Quantity("outdoors", "temperature", "tide", lambda h, y: h.outside),
    Quantity("air", "temperature", "lichen", lambda h, y: y.air),
    Quantity("operative", "temperature", "ink", lambda h, y: y.operative),
    Quantity("surfaces", "temperature", "slate", lambda h, y: y.surface),
    Quantity("mass", "temperature", "muted", lambda h, y: y.mass),
    Quantity("heating", "power", "chestnut", lambda h, y: np.maximum(y.held, 0)),
    Quantity("cooling", "power", "tide", lambda h, y: np.maximum(-y.held, 0)),
    Quantity("sun", "power", "wood", lambda h, y: h.sun),
    Quantity("inner gains", "power", "lichen", lambda h, y: h.gains),
    Quantity("by windows and doors", "power", "slate_pale", lambda h, y: y.by_windows + y.by_glass),
    Quantity("by opaque parts", "power", "chestnut_pale", lambda h, y: y.by_opaque),
    Quantity("by the air", "power", "muted", lambda h, y: y.by_air),
    Quantity("air that moves", "w_per_k", "slate", lambda h, y: y.moved),
    Quantity("windows by hand", "w_per_k", "tide", lambda h, y: y.opened),
)
QUANTITIES = {q.name: q for q in _ALL}


@dataclass(frozen=True)
class Series:
    """A quantity of one run in the units shown, (8760,)."""

    quantity: Quantity
    values: Array
    unit: str
    token: str


def chosen(chart: HourChart) -> tuple[str, ...]:
    """The quantities a chart shows, each once."""
    return tuple(dict.fromkeys(n for n in (chart.first, chart.second, chart.third) if n != "none"))


def series(h: Hours, chart: HourChart) -> list[Series]:
    """What a chart shows, in the units in use; lines of one colour get others."""
    year = getattr(h, RUNS[chart.run])
    found, used = [], set()
    for name in chosen(chart):
        q = QUANTITIES[name]
        token = q.token if q.token not in used else next(t for t in ("chestnut", "slate", "lichen", "tide") if t not in used)
        used.add(token)
        kind = kind_of(q.kind)
        found.append(Series(q, np.asarray(kind.to_shown(np.asarray(q.get(h, year), float))), kind.unit, token))
    return found


def hours_of(a: Assessment) -> Hours | str:
    """The hours, or why there are none, in words."""
    found = a[HOURS]
    if isinstance(found, Hours):
        return found
    if isinstance(found, Unknown):
        return f"needs {found.needs[0].text}"
    return state_words(found) if isinstance(found, Computing) else a.blank


def span_of(chart: HourChart) -> tuple[float, float]:
    """(first, last) hour of a chart's days."""
    start = chart.start.value if chart.start is not None else 1.0
    end = chart.end.value if chart.end is not None else 365.0
    return (start - 1) * 24, max(end, start) * 24


def date_of(hour: float, with_hour: bool = True) -> str:
    """“12 July, 14 to 15 h” of an hour of the year."""
    day = int(min(max(hour, 0), 8759)) // 24 + 1
    month = max(n for n, first in enumerate(FIRST_DAYS) if first <= day)
    said = f"{day - FIRST_DAYS[month] + 1} {MONTHS[month]}"
    at = int(hour) % 24
    return f"{said}, {at} to {at + 1} h" if with_hour else said
