"""Synthetic climates: a seeded generator steered to stated monthly normals. Same seed, same bytes.

Cloud is an autocorrelated series, day by day and hour by hour; it dims a clear sky (the lower of two clear-sky models), so the direct
sun is never stronger than under one, and clearness follows the sun's height. Clouds of each month are shifted until its sun on the
horizontal is the stated normal. Temperature follows the months' normals, weather of some days' length, and a daily swing that
grows with the day's sun; each month then has its stated mean. Rain falls on cloudy days and adds up to the month's normal.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from nuthatch.core.climate.epw import HOURS_OF_YEAR, Weather, standard_pressure
from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR, by_month, on_plane, sun_position

DAYS = 365
MID = np.cumsum(MONTH_HOURS) - MONTH_HOURS / 2
Months = tuple[float, ...]


@dataclass(frozen=True)
class Recipe:
    """What a synthetic place is like: where it lies, its monthly normals of temperature [°C], sun on the horizontal [kWh/m²] and rain
    [mm], how far its weather [K] and its days [K under a full summer sun] swing, mean wind [m/s], how far the dew point of a dry
    day lies below its coldest hour [K], and where the wind comes from in winter, in summer and on clear days [°]."""

    place: str
    seed: int
    latitude: float
    longitude: float
    time_zone: float
    elevation: float
    temperature: Months
    sun: Months
    rain: Months
    weather_swing: float
    day_swing: float
    wind: float
    dryness: float
    winds: tuple[float, float, float]


RECIPES = {
    "marrowby-quay": Recipe(
        "Marrowby Quay", 7001, 54.2, -3.1, 0, 8,
        (4.4, 4.3, 5.9, 7.9, 10.8, 13.4, 15.2, 15.2, 13.4, 10.4, 7.0, 4.9),
        (17, 33, 74, 117, 156, 160, 152, 126, 87, 48, 22, 13),
        (95, 72, 70, 55, 58, 66, 72, 88, 88, 110, 108, 108),
        3.7, 9.0, 5.4, 1.0, (225, 255, 60),
    ),
    "hallin-fell": Recipe(
        "Hallin Fell", 7002, 54.5, -2.9, 0, 620,
        (-0.9, -1.0, 0.6, 2.9, 6.3, 9.2, 11.0, 10.9, 8.7, 5.6, 2.2, -0.2),
        (14, 29, 66, 108, 146, 150, 142, 116, 78, 42, 18, 10),
        (205, 150, 145, 110, 105, 115, 130, 160, 165, 205, 205, 205),
        4.2, 7.5, 6.8, 0.6, (235, 260, 70),
    ),
    "verrin-plain": Recipe(
        "Verrin Plain", 7003, 38.0, 23.0, 2, 90,
        (9.0, 9.8, 12.0, 16.0, 21.0, 26.0, 28.8, 28.4, 24.2, 19.0, 14.2, 10.4),
        (65, 78, 120, 155, 195, 214, 222, 200, 155, 106, 68, 56),
        (42, 38, 34, 24, 16, 8, 5, 6, 12, 36, 50, 56),
        2.6, 12.5, 3.1, 5.0, (200, 350, 20),
    ),
}  # fmt: skip


def _noise(random: np.random.Generator, count: int, keep: float) -> np.ndarray:
    """First-order autocorrelated noise of unit variance."""
    steps = random.standard_normal(count) * np.sqrt(1 - keep**2)
    values = np.empty(count)
    last = random.standard_normal()
    for i, step in enumerate(steps):
        last = keep * last + step
        values[i] = last
    return values


def _by_hour(daily: np.ndarray) -> np.ndarray:
    """Daily values as hourly ones that pass through them at noon, without steps at midnight."""
    noon = np.arange(DAYS) * 24 + 12.0
    return np.asarray(np.interp(np.arange(HOURS_OF_YEAR) + 0.5, noon, daily, period=HOURS_OF_YEAR))


def _through_months(values: np.ndarray) -> np.ndarray:
    """Monthly values as an hourly line through the middle of each month."""
    return np.asarray(np.interp(np.arange(HOURS_OF_YEAR) + 0.5, MID, values, period=HOURS_OF_YEAR))


def _clear_sky(bare: Weather) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(direct normal, on the horizontal, height factor) of a clear sky by hour [W/m²]: the lower of two models of pvlib."""
    from pvlib import atmosphere, clearsky

    sun = sun_position(bare)
    pressure = atmosphere.alt2pres(bare.elevation)
    solis = clearsky.simplified_solis(90 - sun["zenith"], aod700=0.1, precipitable_water=1.5, pressure=pressure)
    air = np.nan_to_num(sun["airmass"], nan=40.0) * pressure / 101325
    with np.errstate(divide="ignore", invalid="ignore"):  # below the horizon, where neither counts
        ineichen = clearsky.ineichen(sun["zenith"], air, 3.0, altitude=bare.elevation, dni_extra=sun["extra"])
    up = sun["zenith"] < 89
    direct, total = (np.where(up, np.minimum(solis[k], ineichen[k]), 0.0) for k in ("dni", "ghi"))
    return direct, total, np.where(up, np.cos(np.radians(sun["zenith"])), 0.0)


def _clouds(recipe: Recipe, random: np.random.Generator, total: np.ndarray) -> np.ndarray:
    """Cloud cover by hour, 0 to 1, so that every month's sun on the horizontal is its normal."""
    from scipy.optimize import brentq  # a slow library: only where it is used
    from scipy.special import ndtr

    spread = _by_hour(_noise(random, DAYS, 0.45)) + 0.45 * _noise(random, HOURS_OF_YEAR, 0.8)
    cover = np.zeros(HOURS_OF_YEAR)
    for month, wanted in enumerate(recipe.sun):
        mine = month == MONTH_OF_HOUR

        most, least = (_short(end, total[mine], spread[mine], wanted) for end in (-6.0, 6.0))
        # a normal beyond a clear or a wholly clouded sky: as near as it gets
        shift = (-6.0 if most < 0 else 6.0) if most * least >= 0 else brentq(_short, -6, 6, (total[mine], spread[mine], wanted))
        cover[mine] = ndtr(1.3 * spread[mine] + shift)
    return cover


def _short(shift: float, total: np.ndarray, spread: np.ndarray, wanted: float) -> float:
    """How much more sun there is under clouds shifted so than is wanted [kWh/m²]."""
    from scipy.special import ndtr

    return float((total * _dimmed(ndtr(1.3 * spread + shift))).sum() / 1000 - wanted)


def _dimmed(cover: np.ndarray) -> np.ndarray:
    """The share of a clear sky's sun on the horizontal under cloud: Kasten and Czeplak 1980."""
    return np.asarray(1 - 0.75 * cover**3.4)


def _temperature(recipe: Recipe, random: np.random.Generator, total: np.ndarray, cover: np.ndarray) -> np.ndarray:
    """Air temperature by hour; the range of a day follows its sun, a clear winter day is cold and a clear summer day warm."""
    normal = np.array(recipe.temperature)
    summer = _through_months((normal - normal.mean()) / max(np.ptp(normal), 1e-6) * 2)
    sun = (total * _dimmed(cover)).reshape(DAYS, 24).sum(axis=1) / 1000
    swing = _by_hour(recipe.day_swing * (0.12 + 0.88 * sun / 8.0)) / 2
    day = -np.cos(2 * np.pi * ((np.arange(HOURS_OF_YEAR) % 24) + 0.5 - 3) / 24)
    spell = _by_hour(_noise(random, DAYS, 0.78))
    warm = np.maximum(summer, 0) * np.maximum(spell, 0)  # a hot spell goes further up than a cool one goes down
    weather = (spell * (1 - 0.4 * summer) + 0.5 * warm) * recipe.weather_swing
    clear = _by_hour((1 - cover).reshape(DAYS, 24).mean(axis=1))
    found = _through_months(normal) + swing * day + weather + 0.25 * _noise(random, HOURS_OF_YEAR, 0.9)
    found = found + 1.6 * summer * (clear - clear.mean())
    for _ in range(60):
        found = found + _through_months(normal - by_month(found) / MONTH_HOURS)
    return np.asarray(found)


def _rain(recipe: Recipe, random: np.random.Generator, cover: np.ndarray) -> np.ndarray:
    """Rain by hour [mm] in tenths, out of thick cloud; every month adds up to its normal."""
    found = np.zeros(HOURS_OF_YEAR)
    falls = random.random(HOURS_OF_YEAR) * cover**2
    amount = random.exponential(1.0, HOURS_OF_YEAR)
    for month, wanted in enumerate(recipe.rain):
        hours = np.flatnonzero(month == MONTH_OF_HOUR)
        count = int(np.clip(wanted / 0.9, 6, 0.3 * len(hours)))
        wet = hours[np.argsort(falls[hours])[-count:]]
        tenths = np.maximum(np.round(amount[wet] / amount[wet].sum() * wanted * 10), 1)
        tenths[int(np.argmax(tenths))] += round(wanted * 10) - tenths.sum()
        found[wet] = tenths / 10
    return found


def _dew_point(recipe: Recipe, random: np.random.Generator, temperature: np.ndarray, cover: np.ndarray) -> np.ndarray:
    """Dew point by hour [°C]: about the day's coldest hour, lower on clear days, never above the air."""
    lowest = temperature.reshape(DAYS, 24).min(axis=1)
    clear = (1 - cover).reshape(DAYS, 24).mean(axis=1)
    daily = lowest - recipe.dryness * 2 * clear + 0.6 * _noise(random, DAYS, 0.6)
    return np.asarray(np.minimum(_by_hour(daily), temperature - 0.1))


def _wind_from(recipe: Recipe, cover: np.ndarray) -> np.ndarray:
    """Where the wind comes from by hour, in tens of degrees: by season, turning to that of clear days as the cloud goes, and to and fro."""
    random = np.random.default_rng([recipe.seed, 20])  # of its own, so that nothing else of the weather changes
    winter, summer, clear = np.radians(recipe.winds)
    season = (1 - np.cos(2 * np.pi * (np.arange(HOURS_OF_YEAR) / 24 - 15) / DAYS)) / 2
    bright = _by_hour((1 - cover).reshape(DAYS, 24).mean(axis=1)) ** 2
    weights = np.stack([(1 - season) * (1 - bright), season * (1 - bright), bright])
    ways = np.array([winter, summer, clear])[:, None]
    mean = np.arctan2((weights * np.sin(ways)).sum(axis=0), (weights * np.cos(ways)).sum(axis=0))
    swings = np.radians(55) * _by_hour(_noise(random, DAYS, 0.6)) + np.radians(20) * _noise(random, HOURS_OF_YEAR, 0.8)
    return np.asarray(np.round(np.degrees(mean + swings) / 10) * 10 % 360)


def make(recipe: Recipe) -> Weather:
    """Hourly weather of a synthetic place."""
    random = np.random.default_rng(recipe.seed)
    blank = np.zeros(HOURS_OF_YEAR)
    bare = Weather(
        recipe.place, recipe.latitude, recipe.longitude, recipe.time_zone, recipe.elevation, blank, blank, blank, blank, blank, None, ()
    )
    direct, total, height = _clear_sky(bare)
    cover = _clouds(recipe, random, total)
    horizontal = np.round(total * _dimmed(cover))
    beam = np.floor(np.minimum(direct * (1 - cover), horizontal / np.maximum(height, 0.05)))
    temperature = _temperature(recipe, random, total, cover)
    calm = 1 + 0.22 * np.cos(2 * np.pi * (np.arange(HOURS_OF_YEAR) / 24 - 15) / DAYS)
    return Weather(
        recipe.place,
        recipe.latitude,
        recipe.longitude,
        recipe.time_zone,
        recipe.elevation,
        temperature,
        horizontal,
        beam,
        np.maximum(horizontal - beam * height, 0.0),
        np.maximum(recipe.wind * calm + 1.8 * _noise(random, HOURS_OF_YEAR, 0.92), 0.2),
        _rain(recipe, random, cover),
        (),
        _dew_point(recipe, random, temperature, cover),
        standard_pressure(recipe.elevation) + 850 * _by_hour(_noise(random, DAYS, 0.75)),
        _wind_from(recipe, cover),
    )


SPELLS, SWING, SEED = 3.2, 9.0, 24
"""How far the weather and the days of a year made of months swing [K], and the seed of its clouds: invented, the same for every place."""
TRIED, MOST_BEAM = 1.15, 1.6
"""How much more beam is tried to see what the walls make of it, and the most that is taken."""
WALLS = (0.0, 90.0, 180.0, 270.0)


def year_of(place: str, at: tuple[float, float, float], temperature: Months, sun: Months, walls: np.ndarray) -> Weather:
    """An hourly year whose months have these means [°C] and sums on the horizontal [kWh/m²], its light parted into beam and sky so that walls
    to north, east, south and west have theirs (4, 12) as near as may be. Its hours are invented: it has no wind, rain or humidity.

    at: latitude, longitude [°], elevation [m].
    """
    latitude, longitude, elevation = at
    none = (0.0,) * 12
    recipe = Recipe(
        place, SEED, latitude, longitude, longitude / 15, elevation, temperature, sun, none, SPELLS, SWING, 0.0, 0.0, (0.0,) * 3
    )
    bare = replace(make(recipe), wind=np.zeros(HOURS_OF_YEAR), rain=None, dew_point=None, pressure=None, wind_from=None)
    where = sun_position(bare)
    height = np.maximum(np.cos(np.radians(where["zenith"])), 0.05)

    def with_beam(more: np.ndarray) -> Weather:
        beam = np.minimum(bare.direct_normal * more[MONTH_OF_HOUR], bare.global_horizontal / height)
        return replace(bare, direct_normal=beam, diffuse_horizontal=np.maximum(bare.global_horizontal - beam * height, 0.0))

    def sums(weather: Weather) -> np.ndarray:
        falls = (sum(part * share for part, share in zip(on_plane(weather, where, 90.0, w), (1.0, 1.0, 0.2), strict=True)) for w in WALLS)
        return np.stack([by_month(np.asarray(f)) / 1000 for f in falls])

    first = sums(bare)
    slope = (sums(with_beam(np.full(12, TRIED))) - first) / (TRIED - 1)
    steep = (slope**2).sum(axis=0)
    step = (slope * (walls - first)).sum(axis=0) / np.where(steep > 0, steep, 1.0)
    return with_beam(np.clip(1 + step, 0.0, MOST_BEAM))
