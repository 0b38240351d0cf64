"""The hours of a year, one after the other: temperatures of air, surfaces and mass, heating and cooling that hold the set-points for the
operative temperature, the bypass and windows opened by hand when it grows too warm. Method: docs/methods (the hourly year).

What an hour does to the mass is a straight line in its temperature, for each way the air may move: all lines are made at once, the hours
then only choose among them. Few hours are not so: windows opened part of the way, and what is held beside them.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from nuthatch.core.results.figure import Array
from nuthatch.core.year.network import AIR_SHARE, Network

HOURS = 8760
RUN_IN = 720
"""The last thirty days are run first, then the year again until its ends agree."""
AGREE = 0.01
MOST_YEARS = 8
OPEN_ABOVE = 23.0
"""Air above this [°C] is cooled by bypass and windows where it is cooler outside: common practice, no source."""
NEVER = np.inf


@dataclass(frozen=True, eq=False)
class Drive:
    """What acts on the home hour by hour, (8760,): outdoor air, what lies beyond opaque parts in the mean, the air that is brought [°C]; inner
    gains and sun [W]. `air`: loss of the air that moves [W/K], recovery taken off; `open_air`: the same with the bypass open; `windows`: the
    most that windows opened by hand may add; 0 in hours when nobody opens them."""

    outside: Array
    beyond: Array
    brought: Array
    gains: Array
    sun: Array
    air: Array
    open_air: Array
    windows: Array


@dataclass(frozen=True, eq=False)
class Held:
    """What is held for the operative temperature [°C], of all hours or by hour, None for nothing, and the most that sources give and take
    [W]."""

    heating: float | Array | None = 20.0
    cooling: float | Array | None = None
    most_heat: float = np.inf
    most_cold: float = np.inf


@dataclass(frozen=True, eq=False)
class Year:
    """By hour, (8760,): temperatures of air, surfaces, mass (mean of the hour) and operative [°C]; heating above 0 and cooling below [W]; what
    the air moves and what of it windows by hand [W/K]; heat that goes by windows and doors, by opaque parts, by the air, and of the sun and
    gains out through the glass again [W]. `ends`: the mass at the year's two ends [°C]."""

    air: Array
    surface: Array
    mass: Array
    operative: Array
    held: Array
    moved: Array
    opened: Array
    by_windows: Array
    by_opaque: Array
    by_air: Array
    by_glass: Array
    ends: tuple[float, float]
    years: int = field(default=1)


class Lines(NamedTuple):
    """With so much air in every hour, (8760,): mass at its end, operative and air temperature as lines of the mass at its beginning, each
    slope and level [°C], and what a watt of heat adds to the first two [K/W]."""

    end: Array
    end_at: Array
    end_heat: Array
    felt: Array
    felt_at: Array
    felt_heat: Array
    air: Array
    air_at: Array


def _given(n: Network, d: Drive, move: Array) -> tuple[Array, Array, Array]:
    """(k, H2, what is given to the surfaces without heat [W]) with so much air."""
    k = n.h_is / (move + n.h_is)
    h1 = move * k
    both = 0.5 * d.gains + d.sun
    return k, h1 + n.windows, n.to_surface * both + n.windows * d.outside + h1 * d.brought + k * 0.5 * d.gains


def lines(n: Network, d: Drive, move: Array) -> Lines:
    """ISO 13790 annex C, in closed form for each hour."""
    c = n.capacity / 3600
    k, h2, given = _given(n, d, move)
    part = n.h_ms / (h2 + n.h_ms)
    half = 0.5 * (h2 * part + n.h_em)
    total = n.to_mass * (0.5 * d.gains + d.sun) + n.h_em * d.beyond + part * given
    end, end_at, end_heat = (c - half) / (c + half), total / (c + half), part * k / (c + half)
    s = n.h_ms + h2
    surface, surface_at, surface_heat = n.h_ms * 0.5 * (1 + end) / s, (n.h_ms * 0.5 * end_at + given) / s, (n.h_ms * 0.5 * end_heat + k) / s
    a = n.h_is + move
    air, air_at = n.h_is * surface / a, (n.h_is * surface_at + move * d.brought + 0.5 * d.gains) / a
    air_heat = (n.h_is * surface_heat + 1) / a
    r, q = AIR_SHARE, 1 - AIR_SHARE
    return Lines(
        end, end_at, end_heat, r * air + q * surface, r * air_at + q * surface_at, r * air_heat + q * surface_heat, air, air_at
    )  # fmt: skip


class Way(NamedTuple):
    """One way the air may move, and what is held with it, (8760,): the mass below which is heated and above which is cooled [°C]; mass at the
    end as a line of that at the beginning: with nothing held, with a set-point held (one slope, two levels), with the most a source gives
    below `heat_most`, takes above `cool_most`."""

    heat: Array
    cool: Array
    end: Array
    end_at: Array
    hold: Array
    warm_at: Array
    cold_at: Array
    heat_most: Array
    heated_at: Array
    cool_most: Array
    cooled_at: Array


def _way(at: Lines, warm: Array, cold: Array, held: Held) -> Way:
    by = at.end_heat / at.felt_heat
    hold = at.end - by * at.felt
    wanted = [np.where(np.isfinite(w), w, 0.0) for w in (warm, cold)]
    warm_at, cold_at = (at.end_at + by * (w - at.felt_at) for w in wanted)
    most, least = (p if np.isfinite(p) else 0.0 for p in (held.most_heat, held.most_cold))
    heat_most = (warm - at.felt_at - at.felt_heat * most) / at.felt if np.isfinite(held.most_heat) else np.full(HOURS, -NEVER)
    cool_most = (cold - at.felt_at + at.felt_heat * least) / at.felt if np.isfinite(held.most_cold) else np.full(HOURS, NEVER)
    return Way(
        (warm - at.felt_at) / at.felt, (cold - at.felt_at) / at.felt, at.end, at.end_at, hold, warm_at, cold_at,
        heat_most, at.end_at + at.end_heat * most, cool_most, at.end_at - at.end_heat * least,
    )  # fmt: skip


class Part(NamedTuple):
    """Windows opened just so far that the air is at OPEN_ABOVE, (8760,): mass at the end, operative temperature and the air that moves [W/K]
    as lines of the mass at the beginning."""

    end: Array
    end_at: Array
    felt: Array
    felt_at: Array
    move: Array
    move_at: Array


def _part(n: Network, d: Drive) -> Part:
    c = n.capacity / 3600
    s = n.h_ms + n.windows + n.h_is
    both = 0.5 * d.gains + d.sun
    given = n.to_surface * both + n.windows * d.outside + n.h_is * OPEN_ABOVE
    half = 0.5 * (n.h_em + n.h_ms * (1 - n.h_ms / s))
    total = n.to_mass * both + n.h_em * d.beyond + n.h_ms * given / s
    end, end_at = np.full(HOURS, (c - half) / (c + half)), total / (c + half)
    surface, surface_at = n.h_ms * 0.5 * (1 + end) / s, (n.h_ms * 0.5 * end_at + given) / s
    colder = np.maximum(OPEN_ABOVE - d.brought, 1e-9)
    q = 1 - AIR_SHARE
    return Part(
        end, end_at, q * surface, AIR_SHARE * OPEN_ABOVE + q * surface_at,
        n.h_is * surface / colder, (n.h_is * (surface_at - OPEN_ABOVE) + 0.5 * d.gains) / colder,
    )  # fmt: skip


def year(network: Network, drive: Drive, held: Held) -> Year:
    """A settled year. Raises CannotKnow where the network cannot be."""
    drive = Drive(*(np.broadcast_to(np.asarray(getattr(drive, f), float), HOURS) for f in Drive.__dataclass_fields__))
    hours = _Hours(network, drive, held)
    start, years = 20.0, 0
    start = hours.run(HOURS - RUN_IN, start)[1]
    found: tuple[list[float], float] = ([], start)
    for years in range(1, MOST_YEARS + 1):  # noqa: B007
        found = hours.run(0, start)
        if abs(found[1] - start) < AGREE:
            break
        start = found[1]
    return hours.told(np.array(found[0]), found[1], years)


def _wanted(given: float | Array | None, none: float) -> Array:
    return np.broadcast_to(np.asarray(none if given is None else given, float), HOURS)


def _warmer(at: Lines, outside: Array) -> Array:
    """The mass above which the air is warmer than OPEN_ABOVE and than it is outside [°C]."""
    return (np.maximum(OPEN_ABOVE, outside) - at.air_at) / at.air


class _Hours:
    """The lines of all hours and what chooses among them: nothing opened, the bypass, windows all the way; or windows part of the way."""

    def __init__(self, network: Network, drive: Drive, held: Held) -> None:
        n, d = network, drive
        self.n, self.d, self.held = n, d, held
        self.warm, self.cold = _wanted(held.heating, -NEVER), _wanted(held.cooling, NEVER)
        free = np.maximum(d.open_air, d.air)
        self.moves = d.air, free, free + d.windows
        opens, by_hand = free > d.air, d.windows > 0
        shut = lines(n, d, d.air)
        bypass = lines(n, d, free) if opens.any() else shut
        self.lines = shut, bypass, lines(n, d, self.moves[2]) if by_hand.any() else bypass
        self.ways = [_way(x, self.warm, self.cold, held) for x in self.lines]
        self.open = np.where(opens | by_hand, _warmer(shut, d.outside), NEVER)
        self.hand = np.where(by_hand, _warmer(bypass, d.outside), NEVER)
        self.full = (OPEN_ABOVE - self.lines[2].air_at) / self.lines[2].air
        self.part = _part(n, d)
        cool = self.ways[0].cool
        self.calm = np.minimum(self.open, cool)
        """The mass above which something is done beside heating [°C]."""
        one_way = self.ways[0].heat <= self.calm
        self.calm = np.where(one_way, self.calm, -NEVER)
        first = self.ways[0]._replace(heat=np.where(one_way, self.ways[0].heat, -NEVER))
        quick = (first.heat, self.calm, first.end, first.end_at, first.hold, first.warm_at, first.heat_most, first.heated_at)
        self.quick = _floats(quick)
        self.acts = _floats((self.open, self.hand, self.full))
        self.of_way = [_floats(w) for w in self.ways]
        self.of_part = _floats(self.part)

    def run(self, first: int, mass: float) -> tuple[list[float], float]:
        """The mass at the beginning of each hour from `first` on, and at the end [°C]."""
        begins: list[float] = []
        hour = first - 1
        for heat, calm, end, end_at, hold, warm_at, most, heated_at in zip(*(x[first:] for x in self.quick), strict=True):
            hour += 1
            begins.append(mass)
            if mass < heat:
                mass = hold * mass + warm_at if mass >= most else end * mass + heated_at
            elif mass <= calm:
                mass = end * mass + end_at
            else:
                mass = self._busy(hour, mass)
        return begins, mass

    def _busy(self, hour: int, mass: float) -> float:
        """The mass at the end of an hour in which it is too warm."""
        open_, hand, full = self.acts
        way = 0 if mass <= open_[hour] else 1 if mass <= hand[hour] else 2
        if way == 2 and mass < full[hour]:
            return self._part_open(hour, mass)[0]
        heat, cool, end, end_at, hold, warm_at, cold_at, heat_most, heated_at, cool_most, cooled_at = self.of_way[way]
        if mass < heat[hour]:
            return hold[hour] * mass + warm_at[hour] if mass >= heat_most[hour] else end[hour] * mass + heated_at[hour]
        if mass > cool[hour]:
            return hold[hour] * mass + cold_at[hour] if mass <= cool_most[hour] else end[hour] * mass + cooled_at[hour]
        return end[hour] * mass + end_at[hour]

    def _part_open(self, hour: int, mass: float) -> tuple[float, float]:
        """(mass at the end, heating or cooling) where windows are opened part of the way; what is held then is held with that air."""
        end, end_at, felt, felt_at, move, move_at = (x[hour] for x in self.of_part)
        now, after = felt * mass + felt_at, end * mass + end_at
        if self.warm[hour] <= now <= self.cold[hour]:
            return after, 0.0
        one = Drive(*(getattr(self.d, f)[hour : hour + 1] for f in Drive.__dataclass_fields__))
        found = lines(self.n, one, np.array([move * mass + move_at]))
        phi = _phi(np.array([now]), found.felt_heat, self.warm[hour], self.cold[hour], self.held)
        return after + float(found.end_heat[0] * phi[0]), float(phi[0])

    def told(self, begins: Array, last: float, years: int) -> Year:
        """Everything of a year whose masses are known."""
        n, d = self.n, self.d
        way = np.where(begins <= self.open, 0, np.where(begins <= self.hand, 1, 2))
        phi, move, opened = np.zeros(HOURS), np.zeros(HOURS), np.zeros(HOURS)
        for k, at in enumerate(self.lines):
            here = way == k
            if here.any():
                felt = at.felt * begins + at.felt_at
                phi[here] = _phi(felt, at.felt_heat, self.warm, self.cold, self.held)[here]
                move[here] = self.moves[k][here]
        opened[way == 2] = d.windows[way == 2]
        for hour in np.flatnonzero((way == 2) & (begins < self.full)):
            phi[hour] = self._part_open(int(hour), float(begins[hour]))[1]
            move[hour] = self.part.move[hour] * begins[hour] + self.part.move_at[hour]
            opened[hour] = move[hour] - self.moves[1][hour]
        k_, h2, given = _given(n, d, move)
        given = given + k_ * phi
        mass = 0.5 * (begins + np.append(begins[1:], last))
        surface = (n.h_ms * mass + given) / (n.h_ms + h2)
        air = (n.h_is * surface + move * d.brought + 0.5 * d.gains + phi) / (n.h_is + move)
        return Year(
            air, surface, mass, AIR_SHARE * air + (1 - AIR_SHARE) * surface, phi, move, opened,
            n.windows * (surface - d.outside), n.h_em * (mass - d.beyond), move * (air - d.brought),
            n.out * (0.5 * d.gains + d.sun), (float(begins[0]), last), years,
        )  # fmt: skip


def _phi(felt: Array, by_heat: Array, warm: Array, cold: Array, held: Held) -> Array:
    """Heating or cooling that holds what is wanted [W]."""
    heat = np.minimum((warm - felt) / by_heat, held.most_heat)
    cool = np.maximum((cold - felt) / by_heat, -held.most_cold)
    return np.where(felt < warm, heat, np.where(felt > cold, cool, 0.0))


def _floats(arrays: tuple[Array, ...]) -> list[memoryview[float]]:
    """Arrays whose elements are read one by one as plain floats."""
    return [memoryview(np.ascontiguousarray(x, float)) for x in arrays]  # type: ignore[arg-type]


def too_warm(operative: Array, limit: float = 25.0, hours: Array | None = None) -> float:
    """Share of hours above a limit by more than 0.01 K; hours: those that count, all where None."""
    above = operative > limit + 0.01
    counted = np.ones(len(operative), bool) if hours is None else hours
    return float(above[counted].sum() / counted.sum()) if counted.any() else 0.0
