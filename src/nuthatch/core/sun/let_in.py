"""What of the sun an opening lets in: by month for heating and for cooling, and on every two days; docs/methods (sun)."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.climate.climate import PlaneSun, two_days
from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.results.figure import Array
from nuthatch.core.sun.edges import axes
from nuthatch.core.sun.glazing import Glazing, at_angle, diffuse
from nuthatch.core.sun.shares import Shares, SunPath, leaves_out

BLINDS = {"outside": 0.25, "between the panes": 0.5, "inside": 0.7, "awning": 0.4}
"""What a blind lets through: common practice, no source."""
STRONG, WARM = 200.0, 14.0
"""A blind is down above this sun at the glass [W/m²], on days warmer than this [°C]: common practice, no source."""
_FIRST = np.concatenate([[0], np.cumsum(MONTH_HOURS)[:-1]])


@dataclass(frozen=True)
class Blind:
    """What a blind lets through, above which sun at the glass [W/m²] and which mean of the day [°C] it is down."""

    passes: float = 1.0
    sun: float = STRONG
    warm: float = WARM


@dataclass(frozen=True)
class Typed:
    """Sun let through as entered for winter and summer; None: worked out."""

    winter: float | None = None
    summer: float | None = None


@dataclass(frozen=True, eq=False)
class Falls:
    """What decides how light comes through one row of openings, besides the light itself: tilt and azimuth of its plane, where the sun is, what
    of the light reaches the glass, the glass or one factor for every angle, ground reflectance by month, what is typed, its blind and the
    hours it is moved in (None: all)."""

    at: tuple[float, float]
    path: SunPath
    shares: Shares
    glazing: Glazing | float
    ground: Array
    typed: Typed
    blind: Blind | None
    moved: Array | None = None

    def light(self, plane: PlaneSun, day_mean: Array) -> Light:
        """Light by hour; day_mean: of the air outdoors, (365,) [°C]."""
        return light_of(plane, self.at, self.path, self.shares, self.glazing, self.ground, day_mean, self.typed, self.blind, self.moved)


@dataclass(frozen=True, eq=False)
class Season:
    """What reaches the glass in a season's way of counting: factors of beam, sky and ground on the plane by month, the angle of the beam
    counted, (3, 12); and the plain share of all three, (12,). Where a value is entered that counts, factors are `rest` + it × `parts`."""

    factors: Array
    share: Array
    entered: Literal["", "winter", "summer"] = ""
    rest: Array = field(default_factory=lambda: np.zeros((3, 12)))
    parts: Array = field(default_factory=lambda: np.zeros((3, 12)))


@dataclass(frozen=True, eq=False)
class LetIn:
    """Sun on one opening: what falls on its plane [kWh/m²] as beam, sky and ground by month (3, 12); how much of it counts for heating and
    for cooling; what would, were nothing typed; g of even light over g; the mean at the glass on every two days, angle counted (365,)
    [W/m²]; hours of the year with more than half of the glass in the sun, beam that reaches it [kWh/m²]; hours the blind is down by
    month; sunlit share of the glass by month and hour of day, the mean of the days on which the sun is up then, (12, 24), NaN where it
    never is; share of the sky without leaves and with them; what counts at the glass in every hour, past the blind (8760,) [W/m²], and what would without it where there is
    one, as float32: many of these are held for undo."""

    falls: Array
    heating: Season
    cooling: Season
    worked: tuple[Array, Array]
    g_d: float
    two_days: Array
    sunlit: float
    direct: float
    down: Array
    by_hour: Array
    sky: tuple[float, float]
    hours: NDArray[np.float32]
    bare: NDArray[np.float32] | None = None


def counted(let: LetIn) -> Array:
    """What reaches the glass for heating by month, the angle counted for all of it, (12,) [kWh/m²]."""
    effective = np.array([1.0, let.g_d, let.g_d])[:, None]
    return np.asarray((let.heating.factors * let.falls * effective).sum(axis=0))


def by_hours(months: float | Array) -> Array:
    """A value of the year or of its months (12,) by hour."""
    return np.broadcast_to(np.asarray(months, float), 12)[MONTH_OF_HOUR]


def monthly(hourly: Array) -> Array:
    """Sums of (…, 8760) by month."""
    return np.add.reduceat(hourly, _FIRST, axis=-1)


@dataclass(frozen=True, eq=False)
class Light:
    """Light on one opening by hour: beam, sky and ground on its plane (3, h) [W/m²]; how the angle counts for the beam (h,), g of even light
    over g; shares that reach the glass as worked out, and as they count where one is typed for winter (3, h); what the blind lets through
    (h,); hours of strong sun on warm days."""

    falls: Array
    angle: Array
    g_d: float
    open_: Array
    fixed: Array
    passes: Array
    strong: NDArray[np.bool_]

    def at_glass(self, shares: Array) -> Array:
        """What of given shares (3, h) counts at the glass, (h,) [W/m²]."""
        return np.asarray(shares[0] * self.falls[0] * self.angle + self.g_d * (shares[1] * self.falls[1] + shares[2] * self.falls[2]))

    def in_summer(self, typed: Typed) -> Array:
        """Shares that count for cooling: past the blind, or as typed in hours of strong sun on warm days, (3, h)."""
        return np.where(self.strong, typed.summer, self.fixed) if typed.summer is not None else self.passes * self.fixed


@lru_cache(maxsize=16)
def _falls(plane: PlaneSun, ground: tuple[float, ...]) -> Array:
    """Beam, sky and ground on a plane, (3, h) [W/m²]: the same for all openings in it."""
    made = np.stack([plane.beam, plane.sky, by_hours(np.array(ground)) * plane.ground])
    made.flags.writeable = False
    return made


@lru_cache(maxsize=16)
def _angle(glazing: Glazing, at: tuple[float, float], path: SunPath) -> Array:
    """How the angle of the beam counts by hour, (h,)."""
    made = at_angle(glazing, np.degrees(np.arccos(np.clip(path.ways @ axes(*at)[2], 0.0, 1.0))))
    made.flags.writeable = False
    return made


def light_of(
    plane: PlaneSun, at: tuple[float, float], path: SunPath, shares: Shares, glazing: Glazing | float, ground: float | Array, day_mean: Array,
    typed: Typed, blind: Blind | None, moved: Array | None = None,
) -> Light:  # fmt: skip
    """See `let_in` for what it takes."""
    falls = _falls(plane, tuple(np.broadcast_to(np.asarray(ground, float), 12).tolist()))
    if isinstance(glazing, Glazing):
        angle, g_d = _angle(glazing, at, path), diffuse(glazing)
    else:
        angle, g_d = np.full(plane.beam.shape, glazing), glazing
    leaves = np.repeat(leaves_out(path.latitude), 24)
    open_ = np.stack([shares.beam, *(np.where(leaves, s, w) for w, s in (shares.sky, shares.ground))])
    warm = np.repeat(day_mean, 24)
    shade = blind if blind is not None else Blind()
    down = (np.sum(open_ * falls, axis=0) > shade.sun) & (warm > shade.warm) & (shade.passes < 1)
    if moved is not None:
        down &= moved >= 0.5
    fixed = open_ if typed.winter is None else np.full_like(open_, typed.winter)
    strong = (falls.sum(axis=0) > STRONG) & (warm > WARM)
    return Light(falls, angle, g_d, open_, fixed, np.where(down, shade.passes, 1.0), strong)


def let_in(
    plane: PlaneSun, at: tuple[float, float], path: SunPath, shares: Shares, glazing: Glazing | float, ground: float | Array, day_mean: Array,
    typed: Typed | None = None, blind: Blind | None = None, moved: Array | None = None,
) -> LetIn:  # fmt: skip
    """at: tilt and azimuth of the plane [°]. glazing: or the one factor that stands for every angle. ground: its reflectance, for all of
    the year or by month (12,). day_mean: of the
    air outdoors, (365,) [°C]. moved: in which hours blinds are moved, (8760,), from 0.5 on; None: in all."""
    said = typed if typed is not None else Typed()
    return let_in_by(Falls(at, path, shares, glazing, np.asarray(ground), said, blind, moved), plane, day_mean)


def let_in_by(row: Falls, plane: PlaneSun, day_mean: Array) -> LetIn:
    """What a row of openings lets in of the sun on its plane."""
    said, shares, path = row.typed, row.shares, row.path
    light = row.light(plane, day_mean)
    falls, fixed, down = light.falls, light.fixed, light.passes < 1
    sums = monthly(falls)
    reach = _Reach(falls, np.stack([light.angle, *[np.ones_like(light.angle)] * 2]), sums)
    heating, cooling = _seasons(light, said, reach)
    open_ = heating.share if fixed is light.open_ else _share(light.open_, falls, sums)
    if not down.any():
        worked = open_, open_
    elif fixed is light.open_ and said.summer is None:
        worked = open_, cooling.share
    else:
        worked = open_, _share(light.passes * light.open_, falls, sums)
    bare = light.at_glass(fixed)
    apart = said.summer is not None or down.any()
    return LetIn(
        sums / 1000,
        heating,
        cooling,
        worked,
        light.g_d,
        two_days(bare),
        float(((shares.beam > 0.5) & (path.height > 0)).sum()),
        float((fixed[0] * falls[0]).sum() / 1000),
        monthly(down.astype(float)),
        _by_hour(shares.beam, path.height > 0),
        shares.sky,
        (light.at_glass(light.in_summer(said)) if apart else bare).astype(np.float32),
        bare.astype(np.float32) if down.any() else None,
    )


def _seasons(light: Light, said: Typed, reach: _Reach) -> tuple[Season, Season]:
    """For heating and for cooling; the same one where nothing moved or typed sets them apart."""
    ones = np.ones_like(light.open_)
    heating = reach.season(light.fixed) if said.winter is None else reach.entered("winter", said.winter, ones, 0.0 * ones)
    if said.summer is not None:
        return heating, reach.entered("summer", said.summer, light.strong * ones, np.where(light.strong, 0.0, light.fixed))
    if (light.passes == 1.0).all():
        return heating, heating
    if said.winter is None:
        return heating, reach.season(light.passes * light.fixed)
    return heating, reach.entered("winter", said.winter, light.passes * ones, 0.0 * ones)


def _by_hour(share: Array, up: NDArray[np.bool_]) -> Array:
    """Mean of the days on which the sun is up, by month and hour of day, (12, 24)."""
    days = _FIRST // 24
    sums, number = (np.add.reduceat(x.reshape(365, 24), days, axis=0) for x in (share * up, up.astype(float)))
    return np.asarray(np.where(number > 0, sums / np.where(number > 0, number, 1.0), np.nan))


@dataclass(frozen=True, eq=False)
class _Reach:
    """What falls on the plane by hour, how the angle counts, sums of what falls by month; each (3, …)."""

    falls: Array
    effective: Array
    sums: Array

    def season(self, shares: Array) -> Season:
        """A season by its shares by hour."""
        return Season(self._by_month(shares), _share(shares, self.falls, self.sums))

    def entered(self, which: Literal["winter", "summer"], value: float, where: Array, rest: Array) -> Season:
        """A season in which an entered value stands, by as much as `where` says by hour, beside the rest."""
        parts, others = self._by_month(where), self._by_month(rest)
        return Season(others + value * parts, _share(rest + value * where, self.falls, self.sums), which, others, parts)

    def _by_month(self, shares: Array) -> Array:
        reaches = monthly(shares * self.falls * self.effective)
        return np.where(self.sums > 0, reaches / np.where(self.sums > 0, self.sums, 1.0), 0.0)


def _share(shares: Array, falls: Array, sums: Array) -> Array:
    """Share of all that falls on the plane that reaches the glass, by month; 1 where nothing falls."""
    total = sums.sum(axis=0)
    return np.where(total > 0, monthly(shares * falls).sum(axis=0) / np.where(total > 0, total, 1.0), 1.0)
