"""What the hourly year of a home, or of a room, rests on: as plain numbers, so that it can be worked out anywhere and found again by its
content. Method: docs/methods (the hourly year)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.fabric.dynamic import dynamic
from nuthatch.core.model.home import BuildUp
from nuthatch.core.results.figure import Array
from nuthatch.core.year.network import Network
from nuthatch.core.year.run import HOURS, Drive, Held, Year, year

AWAKE = (7, 22)
"""Hours in which somebody opens windows: common practice, no source."""


@dataclass(frozen=True)
class Opaque:
    """Parts that let through so much [W/K]: toward outdoor air by a build-up whose mass damps the day's wave, or without one; or toward
    `months`, temperatures beyond them by month [°C]."""

    told_once = True
    loss: float
    build: BuildUp | None = None
    direction: str = ""
    borders: str = ""
    months: tuple[float, ...] = ()


def put_together(found: dict[object, Opaque], part: Opaque) -> None:
    """One more part beside those that are there, or with one that is like it."""
    key = (id(part.build), part.direction, part.borders, part.months)
    found[key] = replace(part, loss=part.loss + found[key].loss) if key in found else part


@dataclass(frozen=True, eq=False)
class Sunlit:
    """Sun through one row of openings: light that counts at its glass by hour past its blind, (8760,) [W/m²], as its own result keeps it; m² of
    glass, its g and dirt counted; `bare`: the light with the blind up, where there is one."""

    told_once = True
    id: str
    name: str
    light: NDArray[np.float32]
    glass: float
    bare: NDArray[np.float32] | None = None

    @property
    def hours(self) -> Array:
        """What comes in, (8760,) [W]."""
        return np.asarray(self.light, float) * self.glass


@dataclass(frozen=True, eq=False)
class Fabric:
    """What of a problem nobody's habits change: see Problem."""

    network: Network
    walls: tuple[Opaque, ...]
    sun: tuple[Sunlit, ...]


@dataclass(frozen=True, eq=False)
class Problem:
    """A home or a room by the hour.

    outside: outdoor air, (8760,) [°C]; gains: inner gains by hour [W]. air, open_air: loss of all air that moves, and with the bypass open,
    leaks: that of leaks among it [W/K]; opens_from: month's mean outdoors from which it opens [°C]; by_hand: the most that windows bring [W/K], in which hours as shares (8760,).
    warm: the heating set-point, of all hours or by hour; cold: the cooling set-point [°C]; served: whether a source cools; most_heat: the
    most that sources give [W]; area: floor [m²].
    """

    told_once = True
    network: Network
    outside: Array
    walls: tuple[Opaque, ...]
    sun: tuple[Sunlit, ...]
    gains: Array
    air: float
    leaks: float
    open_air: float
    opens_from: float
    by_hand: float
    hand_hours: Array
    warm: float | Array
    cold: float
    served: bool
    most_heat: float
    area: float


@dataclass(frozen=True, eq=False)
class Hours:
    """The year of a home or room: its needs with both set-points held, its summer with windows shut and opened by hand; sun and gains by
    hour [W]; floor area [m²]."""

    needs: Year
    comfort: Year
    by_hand: Year
    outside: Array
    sun: Array
    gains: Array
    area: float

    @property
    def heating(self) -> float:
        """[kWh/(m²·a)]."""
        return float(np.maximum(self.needs.held, 0).sum(dtype=float) / 1000 / self.area)

    @property
    def cooling(self) -> float:
        """[kWh/(m²·a)]."""
        return float(np.maximum(-self.needs.held, 0).sum(dtype=float) / 1000 / self.area)


def awake() -> Array:
    """Hours in which windows are opened where no pattern says it, (8760,)."""
    hours = np.arange(24)
    return np.tile(((hours >= AWAKE[0]) & (hours < AWAKE[1])).astype(float), 365)


def damped(wall: Opaque, outside: Array) -> Array:
    """Outdoor air as it comes through a part: the day's wave smaller and later by its build-up (ISO 13786)."""
    if wall.months:
        return np.asarray(wall.months)[MONTH_OF_HOUR]
    if wall.build is None:
        return outside
    day = dynamic(wall.build, wall.direction, wall.borders)
    factor, late = day.decrement.value, day.shift.value
    if factor is None or late is None:
        return outside
    around = np.concatenate([outside[-12:], outside, outside[:11]])
    sums = np.concatenate([[0.0], np.cumsum(around)])
    mean = (sums[24:] - sums[:-24]) / 24
    return np.asarray(mean + min(float(factor), 1.0) * np.roll(outside - mean, int(round(float(late)))))


def drive_of(p: Problem) -> Drive:
    """What acts by hour."""
    weighted, whole = np.zeros(HOURS), 0.0
    for wall in p.walls:
        weighted, whole = weighted + wall.loss * damped(wall, p.outside), whole + wall.loss
    months = np.bincount(MONTH_OF_HOUR, p.outside, minlength=12) / MONTH_HOURS
    sun = np.zeros(HOURS)
    for one in p.sun:
        sun = sun + one.hours
    return Drive(
        p.outside,
        weighted / whole if whole > 0 else p.outside,
        p.outside,
        p.gains,
        sun,
        np.full(HOURS, p.air),
        np.where(months[MONTH_OF_HOUR] >= p.opens_from, max(p.open_air, p.air), p.air),
        p.by_hand * p.hand_hours,
    )


def worked(p: Problem, drive: Drive | None = None) -> Hours:
    """The three runs of a year. Raises CannotKnow where the network cannot be."""
    late = LateHours(p, drive)
    return Hours(late.needs, late.comfort, late.by_hand, late.outside, late.sun, late.gains, late.area)


class LateHours(Hours):
    """The same, each run made when somebody asks for it: a trial is judged by one of the three. Raises CannotKnow where the network cannot be."""

    def __init__(self, p: Problem, drive: Drive | None = None) -> None:
        _ = p.network.h_em
        d = drive if drive is not None else drive_of(p)
        outside, sun, gains = (_single(x) for x in (d.outside, d.sun, d.gains))
        vars(self).update(_problem=p, _drive=d, outside=outside, sun=sun, gains=gains, area=p.area)

    def _run(self, warm: float | Array, cold: float | None, most: float = np.inf, windows: bool = False) -> Year:
        p, d = vars(self)["_problem"], vars(self)["_drive"]
        return small(year(p.network, d if windows else replace(d, windows=np.zeros(HOURS)), Held(warm, cold, most)))

    @cached_property
    def needs(self) -> Year:
        p = vars(self)["_problem"]
        return self._run(p.warm, p.cold)

    @cached_property
    def comfort(self) -> Year:
        p = vars(self)["_problem"]
        return self._run(p.warm, p.cold if p.served else None, p.most_heat)

    @cached_property
    def by_hand(self) -> Year:
        p, d = vars(self)["_problem"], vars(self)["_drive"]
        return self._run(p.warm, p.cold if p.served else None, p.most_heat, True) if d.windows.any() else self.comfort


def small(made: Year) -> Year:
    """A year in half the room: six digits of everything."""
    names = [f for f in Year.__dataclass_fields__ if isinstance(getattr(made, f), np.ndarray)]
    return replace(made, **{f: _single(getattr(made, f)) for f in names})


def _single(values: Any) -> Any:
    return values.astype(np.float32)
