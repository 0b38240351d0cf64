"""Hot water: useful heat, store and pipe losses by month."""

from __future__ import annotations

import numpy as np

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array

WATER_HEAT = 4186.0 / 3.6e6  # kWh/(kg·K), 1 kg a litre
ROOM = 20.0


@calculation(
    "Hot water, useful heat",
    "energy_month",
    "Q = n·l·t/(24 [h])·4186 [J/(l·K)]·max(θ_h − θ_c, 0)",
    "EN 12831-3, useful energy",
    people="n: count",
    litres="l: litres",
    hot="θ_h: temperature",
    cold="θ_c: temperature",
    hours="t: hours",
)
def useful_heat(people: float, litres: float, hot: float, cold: Array, hours: Array) -> Array:
    """[kWh] by month; litres per person and day at the hot temperature."""
    return people * litres * hours / 24 * WATER_HEAT * np.maximum(hot - cold, 0)


@calculation(
    "Hot water, useful heat",
    "energy_month",
    "the water of each draw-off, so many times a day, warmed from the cold of the month to its own temperature",
    "each draw-off at its own temperature; EN 12831-3, useful energy",
    closed=False,
    litres="V: litres",
    numbers="n: factor",
    drawn="θ_d: temperature",
    persons="p: count",
    cold="θ_c: temperature",
    hours="t: hours",
)
def drawn_heat(
    litres: tuple[float, ...], numbers: tuple[float, ...], drawn: tuple[float, ...], persons: tuple[float, ...], cold: Array, hours: Array
) -> Array:
    """[kWh] by month; persons: by how many each counts, 1 for the home."""
    found = np.zeros(12)
    for volume, times, warm, people in zip(litres, numbers, drawn, persons, strict=True):
        found = found + people * volume * times * hours / 24 * WATER_HEAT * np.maximum(warm - cold, 0.0)
    return found


def from_store(volume: float, drawn: float, store: float, cold: float) -> float:
    """Litres a store gives for a draw-off [l]: what mixes with cold water to its temperature, at most all of it, none where the cold is warmer."""
    if drawn <= cold:
        return 0.0
    return volume * min((drawn - cold) / (store - cold), 1.0) if store > cold else volume


@calculation(
    "Cold water by month",
    "temperature",
    "between its coldest and its warmest month as the climate's cold water lies between its own",
    "as entered",
    closed=False,
    coldest="θ_1: temperature",
    warmest="θ_2: temperature",
    climate="θ_k: temperature",
)
def cold_between(coldest: float, warmest: float, climate: Array) -> Array:
    """(12,) [°C]."""
    low, high = float(climate.min()), float(climate.max())
    part = (climate - low) / (high - low) if high > low else np.full(12, 0.5)
    return np.asarray(coldest + part * (warmest - coldest))


@calculation(
    "Store loss",
    "energy_month",
    "Q = H·max(θ_s − 20 [°C], 0)·t",
    "store loss coefficient",
    loss="H: w_per_k",
    store="θ_s: temperature",
    hours="t: hours",
)
def store_loss(loss: float, store: float, hours: Array) -> Array:
    """[kWh] by month; loss [W/K], the room at 20 °C."""
    return loss * max(store - ROOM, 0.0) * hours / 1000


@calculation(
    "Circulation loss",
    "energy_month",
    "Q = ψ·L·max(θ_h − 20 [°C], 0)·t·h/(24 [h])",
    "pipe loss per length",
    psi="ψ: psi",
    length="L: length",
    hot="θ_h: temperature",
    daily="h: hours",
    hours="t: hours",
)
def circulation_loss(psi: float, length: float, hot: float, daily: float, hours: Array) -> Array:
    """[kWh] by month; daily: hours of circulation a day."""
    return psi * length * max(hot - ROOM, 0.0) * hours * daily / 24 / 1000


@calculation(
    "Draw-off pipe loss",
    "energy_month",
    "Q = p·n·t/(24 [h])·V·4186 [J/(l·K)]·max(θ_h − 20 [°C], 0)",
    "content left to cool after each draw-off",
    people="p: count",
    draws="n: count",
    content="V: litres",
    hot="θ_h: temperature",
    hours="t: hours",
)
def draw_off_loss(people: float, draws: float, content: float, hot: float, hours: Array) -> Array:
    """[kWh] by month; content in litres."""
    return people * draws * hours / 24 * content * WATER_HEAT * max(hot - ROOM, 0.0)


@calculation(
    "Heat for hot water",
    "energy_month",
    "Q = Q_u + Q_s + Q_c + Q_d",
    "sum",
    useful="Q_u: energy_month",
    store="Q_s: energy_month",
    circulation="Q_c: energy_month",
    draw_off="Q_d: energy_month",
)
def hot_water_months(useful: Array, store: Array, circulation: Array, draw_off: Array) -> Array:
    """[kWh] by month."""
    return useful + store + circulation + draw_off


@calculation(
    "Hot-water losses inside",
    "energy_month",
    "Q = Q_s·i + Q_c + Q_d",
    "losses inside count as gains; i is 1 for a store inside the envelope",
    store="Q_s: energy_month",
    inside="i: fraction",
    circulation="Q_c: energy_month",
    draw_off="Q_d: energy_month",
)
def losses_inside(store: Array, inside: float, circulation: Array, draw_off: Array) -> Array:
    """[kWh] by month; inside is 1 where the store stands in the envelope."""
    return store * inside + circulation + draw_off
