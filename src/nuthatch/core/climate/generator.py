"""Synthetic climates: a seeded generator. Annual and daily harmonics, autocorrelated weather, clear sky × clearness.

Temperature = mean + annual harmonic + daily harmonic + first-order autocorrelated noise. Each day has a clearness
drawn from an autocorrelated series; radiation is a clear-sky estimate (Haurwitz for the horizontal) scaled by it and
split into beam and diffuse by the Erbs correlation. Same seed, same bytes.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from nuthatch.core.climate.epw import HOURS, Weather
from nuthatch.core.climate.sun import MONTH_OF_HOUR, sun_position


@dataclass(frozen=True)
class Recipe:
    """What a synthetic place is like: °C, K, share of clear days, mm of rain a year, and the months that are wet."""

    place: str
    seed: int
    latitude: float
    longitude: float
    time_zone: float
    elevation: float
    mean: float
    annual_swing: float
    daily_swing: float
    noise: float
    clearness: tuple[float, float]
    wind: float
    rain: float
    winter_rain: float


RECIPES = {
    "marrowby-quay": Recipe("Marrowby Quay", 7001, 54.2, -3.1, 0, 8, 9.0, 6.2, 2.2, 2.6, (0.24, 0.50), 5.4, 980, 0.55),
    "hallin-fell": Recipe("Hallin Fell", 7002, 54.5, -2.9, 0, 620, 5.2, 7.6, 2.6, 3.2, (0.26, 0.48), 6.2, 1900, 0.25),
    "verrin-plain": Recipe("Verrin Plain", 7003, 38.0, 23.0, 2, 90, 18.4, 10.4, 5.2, 2.4, (0.48, 0.78), 3.1, 420, 0.8),
}


def _noise(random: np.random.Generator, count: int, keep: float) -> np.ndarray:
    """First-order autocorrelated noise of unit variance."""
    steps = random.standard_normal(count) * np.sqrt(1 - keep**2)
    values = np.empty(count)
    last = random.standard_normal()
    for i, step in enumerate(steps):
        last = keep * last + step
        values[i] = last
    return values


def _sunshine(bare: Weather, clear: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(on the horizontal, direct normal, diffuse) [W/m²] by hour from the clearness; Erbs correlation."""
    sun = sun_position(bare)
    height = np.maximum(np.cos(np.radians(sun["zenith"])), 0)
    total = np.where(height > 0.01, sun["extra"] * height * clear, 0)
    share = np.where(clear <= 0.22, 1 - 0.09 * clear, 0.9511 - 0.1604 * clear + 4.388 * clear**2 - 16.638 * clear**3 + 12.336 * clear**4)
    diffuse = total * np.clip(share, 0.165, 1)
    beam = np.where(height > 0.05, (total - diffuse) / np.maximum(height, 0.05), 0)
    beam = np.minimum(beam, 980)
    return np.round(beam * height + diffuse), beam, diffuse


def make(recipe: Recipe) -> Weather:
    """Hourly weather of a synthetic place."""
    random = np.random.default_rng(recipe.seed)
    hour = np.arange(HOURS)
    day = np.repeat(_noise(random, 365, 0.75), 24)
    season = -np.cos(2 * np.pi * (hour / 24 - 22) / 365)
    low, high = recipe.clearness
    clear = np.clip((low + high) / 2 + (high - low) / 2 * season + 0.16 * np.repeat(_noise(random, 365, 0.45), 24), 0.12, 0.8)
    daily = -np.cos(2 * np.pi * (hour % 24 + 0.5 - 3) / 24) * recipe.daily_swing * (0.4 + clear)
    warmth = day * (1 - 0.35 * season) - season.clip(None, 0) * 0 + 0.15 * _noise(random, HOURS, 0.9)
    temperature = recipe.mean + recipe.annual_swing * season + daily + recipe.noise * warmth
    temperature = temperature - (clear < 0.3) * season * 0.8
    blank = np.zeros(HOURS)
    bare = Weather(
        recipe.place,
        recipe.latitude,
        recipe.longitude,
        recipe.time_zone,
        recipe.elevation,
        temperature,
        blank,
        blank,
        blank,
        blank,
        None,
        (),
    )
    total, beam, diffuse = _sunshine(bare, clear)
    wind = np.maximum(recipe.wind + 1.8 * _noise(random, HOURS, 0.92), 0.2)
    wet = (clear < 0.42) * random.exponential(1.0, HOURS) * (random.random(HOURS) < 0.35)
    monthly = 1 - recipe.winter_rain * np.cos(2 * np.pi * (MONTH_OF_HOUR - 6) / 12)
    rain = wet * monthly
    rain = rain * recipe.rain / rain.sum()
    return replace(bare, global_horizontal=total, direct_normal=beam, diffuse_horizontal=diffuse, wind=wind, rain=rain)
