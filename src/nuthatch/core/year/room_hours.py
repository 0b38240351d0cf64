"""Rooms by the hour: each with its part of the faces, openings, air and gains, inner walls adiabatic; nights of bedrooms, cooling loads on a
cloudless day of the hottest three. Method: docs/methods (loads of rooms)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.patterns import year_of
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.graph.progress import tell
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.results.figure import Array
from nuthatch.core.sun.clear import clear_planes
from nuthatch.core.sun.let_in import Falls
from nuthatch.core.year.comfort import BEDROOM_LIMIT, LIMIT, night
from nuthatch.core.year.network import Network
from nuthatch.core.year.problem import Opaque, Problem, drive_of
from nuthatch.core.year.run import HOURS, Drive, Held, Year, too_warm, year


@dataclass(frozen=True)
class RoomPart:
    """A room's part of the home: its network, parts toward outside, how much of each row of openings, of the home's leaks, of the air
    units bring, with bypasses shut and open, and of its floor; what it is held at [°C]; inner gains for each m² against other rooms, and the hours they come by."""

    told_once = True
    id: str
    name: str
    use: str
    area: float
    network: Network
    walls: tuple[Opaque, ...]
    openings: tuple[tuple[str, float], ...]
    leaks: float
    fresh: float
    free: float
    floor: float
    warm: float
    weight: float = 1.0
    pattern: DayPattern | None = None
    southern: bool = False


@dataclass(frozen=True, eq=False)
class RoomYear:
    """A room through the year with windows as they count: share of it too warm, of the nights above the limit of bedrooms, its warmest hour;
    operative temperature by hour, (8760,) float32 [°C]."""

    id: str
    share: float
    nights: float
    warmest: float
    operative: NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class CoolingLoad:
    """Cooling by hour of the design day, (24,) [W]; what comes in each hour, (24,) [W] each: sun, gains, windows, opaque parts, air."""

    id: str
    hours: Array
    parts: tuple[tuple[str, Array], ...]

    @property
    def hour(self) -> int:
        """In which it is largest."""
        return int(self.hours.argmax())

    @property
    def peak(self) -> float:
        """[W]"""
        return float(self.hours.max())


@dataclass(frozen=True, eq=False)
class RoomsByHour:
    """All rooms through the year, and on the design day."""

    years: tuple[RoomYear, ...]
    cooling: tuple[CoolingLoad, ...]


def gains_of(p: Problem, rooms: tuple[RoomPart, ...], day: slice | None = None) -> dict[str, Array]:
    """The home's inner gains in each room by hour, (8760,) [W]: by floor area, weight and pattern; all of them in every hour. day: hours of a
    day that is repeated through the year."""

    def hours(r: RoomPart) -> Array:
        shares = year_of(r.pattern, r.southern) if r.pattern is not None else np.ones(HOURS)
        return shares if day is None else whole_year(shares[day])

    weights = {r.id: r.floor * r.weight * hours(r) for r in rooms}
    whole = np.sum(list(weights.values()), axis=0)
    floors = {r.id: r.floor for r in rooms}
    return {i: p.gains * np.where(whole > 0, w / np.where(whole > 0, whole, 1.0), floors[i]) for i, w in weights.items()}


def room_problem(p: Problem, r: RoomPart, gains: Array) -> Problem:
    """The home's problem as it is for one room with these inner gains [W]."""
    shares = dict(r.openings)
    sun = tuple(replace(s, glass=s.glass * shares[s.id]) for s in p.sun if s.id in shares)
    fresh, free = p.air - p.leaks, p.open_air - p.leaks
    leaks = p.leaks * r.leaks
    warm = p.warm if np.ndim(p.warm) and abs(r.warm - float(np.max(p.warm))) < 1e-9 else r.warm
    return replace(
        p, network=r.network, walls=r.walls, sun=sun, gains=gains, leaks=leaks, air=leaks + fresh * r.fresh,
        open_air=leaks + free * r.free, by_hand=p.by_hand * r.floor, warm=warm, area=r.area, most_heat=float("inf"),
    )  # fmt: skip


def comfort_of(p: Problem, r: RoomPart, gains: Array, counted: bool, nights: bool) -> Year:
    """A room's year without and with windows, cooled only where a source cools; nights: windows of bedrooms open by night too."""
    own = room_problem(p, r, gains)
    drive = drive_of(own)
    hours = np.maximum(own.hand_hours, 1.0) if nights and r.use == "bedroom" else own.hand_hours
    windows = own.by_hand * hours if counted else np.zeros(HOURS)
    return year(own.network, replace(drive, windows=windows), Held(own.warm, own.cold if own.served else None))


def rooms_through_the_year(
    p: Problem, rooms: tuple[RoomPart, ...], counted: bool, nights: bool, uses: frozenset[str] | None = None
) -> tuple[RoomYear, ...]:
    """Every room by itself, or those of some uses; tells how far it is. rooms: all of the home."""
    found = []
    dark, gains = night(), gains_of(p, rooms)
    wanted = [r for r in rooms if uses is None or r.use in uses]
    for n, r in enumerate(wanted):
        felt = comfort_of(p, r, gains[r.id], counted, nights).operative
        row = RoomYear(r.id, too_warm(felt, LIMIT), too_warm(felt, BEDROOM_LIMIT, dark), float(felt.max()), felt.astype(np.float32))
        found.append(row)
        tell((n + 1) / len(wanted))
    return tuple(found)


# cooling loads


def design_day(climate: Climate) -> tuple[int, Array]:
    """(month from 0, mean profile of the three hottest days in a row, (24,) [°C])."""
    daily = climate.daily
    threes = (daily + np.roll(daily, -1) + np.roll(daily, -2)) / 3
    first = int(threes.argmax())
    hours = climate.weather.temperature.reshape(365, 24)
    month = int(np.searchsorted(np.cumsum(MONTH_HOURS) // 24, (first + 1) % 365, side="right"))
    return month, np.asarray(np.mean([hours[(first + n) % 365] for n in range(3)], axis=0))


def day_of(month: int) -> int:
    """The 21st of a month, day of the year from 0."""
    return int(np.concatenate([[0], np.cumsum(MONTH_HOURS)])[month] // 24) + 20


def whole_year(day: Array) -> Array:
    """A day repeated."""
    return np.tile(np.asarray(day, float), 365)


def cooling_loads(
    p: Problem, rooms: tuple[RoomPart, ...], falls: Mapping[str, Falls], climate: Climate, infiltration: bool = True, unit: bool = True
) -> tuple[CoolingLoad, ...]:
    """Of every room on the design day, repeated until nothing changes: sun without clouds, gains of that weekday, blinds by their rule, leaks
    and unit or not."""
    month, air = design_day(climate)
    day = day_of(month)
    planes = clear_planes(climate, (f.at for f in falls.values()))
    at = slice(day * 24, day * 24 + 24)
    means = np.full(365, float(air.mean()))
    light = {}
    for ident, f in falls.items():
        found = f.light(planes[f.at], means)
        light[ident] = whole_year(found.at_glass(found.in_summer(f.typed))[at])
    outside, gains = whole_year(air), whole_year(p.gains[at])
    hot = replace(
        p, outside=outside, gains=gains, sun=tuple(replace(s, light=light[s.id].astype(np.float32)) for s in p.sun if s.id in light)
    )
    if not infiltration:
        hot = replace(hot, air=hot.air - hot.leaks, open_air=hot.open_air - hot.leaks, leaks=0.0)
    if not unit:
        hot = replace(hot, air=hot.leaks, open_air=hot.leaks)
    own = gains_of(hot, rooms, at)
    return tuple(_cooling(hot, r, month, own[r.id]) for r in rooms)


def _cooling(p: Problem, r: RoomPart, month: int, gains: Array) -> CoolingLoad:
    own = room_problem(p, r, gains)
    walls = tuple(replace(w, months=(w.months[month],) * 12) if w.months else w for w in own.walls)
    drive: Drive = drive_of(replace(own, walls=walls))
    made = year(own.network, replace(drive, windows=np.zeros(HOURS)), Held(None, own.cold))
    last = slice(HOURS - 24, HOURS)
    parts = (
        ("sun", drive.sun[last]), ("people and machines", drive.gains[last]), ("windows", -(made.by_windows + made.by_glass)[last]),
        ("opaque parts", -made.by_opaque[last]), ("air", -made.by_air[last]),
    )  # fmt: skip
    return CoolingLoad(r.id, np.maximum(-made.held[last], 0.0), parts)


def home_peak(loads: tuple[CoolingLoad, ...]) -> tuple[float, int]:
    """(largest sum of one hour [W], that hour): not the sum of the rooms' own peaks."""
    whole = np.sum([x.hours for x in loads], axis=0) if loads else np.zeros(24)
    return float(whole.max()), int(whole.argmax())


def rooms_by_hour(
    problem: Problem, rooms: tuple[RoomPart, ...], falls: Mapping[str, Falls], climate: Climate, counted: bool, nights: bool
) -> RoomsByHour:
    """Whatever is told of rooms by the hour."""
    return RoomsByHour(rooms_through_the_year(problem, rooms, counted, nights), cooling_loads(problem, rooms, falls, climate))
