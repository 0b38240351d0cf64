"""Hot water: useful heat, store and pipe losses by month."""

from __future__ import annotations

import numpy as np

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array

WATER_HEAT = 4186.0 / 3.6e6  # kWh/(kg·K), 1 kg a litre
ROOM = 20.0
WALL = 0.001
"""Wall of a pipe [m]: common practice."""
USUAL_CONTENT = 0.2
"""Litres in a metre of pipe where nothing is known of it."""


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
    "Hot water, useful heat by month and day",
    "energy_month",
    "Q = Q_u·m·d/7",
    "as entered: shares of months, days a week",
    useful="Q_u: energy_month",
    share="m: percent",
    days="d: factor",
)
def of_months(useful: Array, share: Array, days: float) -> Array:
    """[kWh] by month; share of the usual by month, days a week on which it is drawn."""
    return useful * share * days / 7


@calculation(
    "Around it, by month",
    "temperature",
    "θ_a = 20 [°C] − b·(20 [°C] − θ_e)",
    "ISO 13789:2017, 9",
    b="b: fraction",
    outside="θ_e: temperature",
)
def around(b: float, outside: Array) -> Array:
    """(12,) [°C] in an unheated space of factor b."""
    return ROOM - b * (ROOM - outside)


@calculation(
    "Cold water by month",
    "temperature",
    "as entered in the months that are told, else as in the others",
    "as entered",
    closed=False,
    usual="θ_c: temperature",
    at="month: count",
    typed="θ_m: temperature",
)
def cold_typed(usual: Array, at: tuple[float, ...], typed: tuple[float, ...]) -> Array:
    """(12,) [°C]; at: the months told, from 0."""
    found = np.array(usual, float)
    for month, warm in zip(at, typed, strict=True):
        found[int(month)] = warm
    return found


@calculation(
    "Store loss by its volume",
    "w_per_k",
    "(12 W + 5.93 V^0.4) over 45 K, V in litres: the worst of class C",
    "upper limit of class C for storage tanks, EU regulation 812/2013 (from memory)",
    closed=False,
    volume="V: litres",
)
def store_by_volume(volume: float) -> float:
    """[W/K], litres."""
    return float((12.0 + 5.93 * volume**0.4) / 45.0)


@calculation(
    "Store loss",
    "energy_month",
    "Q = H·max(θ_s − θ_a, 0)·t",
    "store loss coefficient",
    loss="H: w_per_k",
    store="θ_s: temperature",
    air="θ_a: temperature",
    hours="t: hours",
)
def store_loss(loss: float, store: float, air: Array | float, hours: Array) -> Array:
    """[kWh] by month; loss [W/K], the air around it [°C]."""
    return np.asarray(loss * np.maximum(store - air, 0.0) * hours / 1000)


@calculation(
    "Content of a pipe",
    "litres",
    "V = π/4·max(d − 0.002 [m], 0)^2·L",
    "geometry; a wall of 1 mm of copper or steel, common practice",
    diameter="d: width",
    length="L: length",
)
def pipe_content(diameter: float, length: float) -> float:
    """[l]; outer diameter and length [m]."""
    return float(np.pi / 4 * max(diameter - 2 * WALL, 0.0) ** 2 * length * 1000)


@calculation(
    "Content of a pipe",
    "litres",
    "V = 0.2 [l/m]·L",
    "a pipe of 18 mm where nothing is known of it: common practice, no source",
    length="L: length",
)
def usual_content(length: float) -> float:
    """[l]."""
    return USUAL_CONTENT * length


@calculation(
    "Length of a pipe, drawn",
    "length",
    "L = Σ(l) + h",
    "as drawn on the plan, and what goes up and down",
    pieces="l: length",
    rise="h: length",
)
def drawn_length(pieces: tuple[float, ...], rise: float) -> float:
    """[m]."""
    return sum(pieces) + rise


def stop_loss(psi: float, length: float, content: float, off: Array | float) -> Array:
    """What a pipe loses for each degree while it stands still for some hours [Wh/K]: never more than its content holds."""
    held, flow = WATER_HEAT * 1000 * content, psi * length
    whole = flow * np.asarray(off, float)
    return np.asarray(np.minimum(whole, held * (1 - np.exp(-whole / held)) if held > 0 else 0.0))


@calculation(
    "Circulation loss",
    "energy_month",
    "ψ·L·(θ_h − θ_a) for the hours it runs; at each stop the smaller of the same for the hours it stands and of what its content gives "
    "away meanwhile, 4186 J/(l·K)·V·(θ_h − θ_a)·(1 − e^(−ψ·L·t/(4186·V)))",
    "pipe loss per length; stops by the content that cools",
    closed=False,
    psi="ψ: psi",
    length="L: length",
    hot="θ_h: temperature",
    air="θ_a: temperature",
    daily="h: hours",
    stops="n: count",
    content="V: litres",
    hours="t: hours",
)
def circulation_loss(
    psi: float, length: float, hot: float, air: Array | float, daily: float, stops: float, content: float, hours: Array
) -> Array:
    """[kWh] by month; daily: hours of circulation a day, stops a day, content in litres."""
    stands = stops * stop_loss(psi, length, content, (24.0 - daily) / stops) if stops > 0 else 0.0
    return np.asarray((psi * length * daily + stands) * np.maximum(hot - air, 0.0) * hours / 24 / 1000)


@calculation(
    "Draw-off pipe loss",
    "energy_month",
    "Q = p·n·t/(24 [h])·V·4186 [J/(l·K)]·max(θ_h − θ_a, 0)",
    "content left to cool after each draw-off",
    people="p: count",
    draws="n: count",
    content="V: litres",
    hot="θ_h: temperature",
    air="θ_a: temperature",
    hours="t: hours",
)
def draw_off_loss(people: float, draws: float, content: float, hot: float, air: Array | float, hours: Array) -> Array:
    """[kWh] by month; content in litres."""
    return np.asarray(people * draws * hours / 24 * content * WATER_HEAT * np.maximum(hot - air, 0.0))


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
