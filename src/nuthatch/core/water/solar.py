"""Solar heat for hot water by the f-chart correlation for liquids (Klein, Beckman, Duffie), month by month."""

from __future__ import annotations

import numpy as np

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, CannotKnow

TANK = 75.0
"""Litres of store for each m² of collector the correlation was made for."""
LEAST_TANK, MOST_TANK = 37.5, 300.0
EXCHANGER = 0.97
"""What a heat exchanger leaves of what the collector gives, and what 0.97 stands for where the flow through it is unknown: common practice."""
ASLANT = 0.96
"""What glass and absorber take less of the sun of a month than of a sun straight on: common practice."""
MOST_X, MOST_Y = 18.0, 3.0
"""As far as the correlation holds."""


def f_chart(x: Array, y: Array) -> Array:
    """The share of a month's demand the sun covers. Outside the range of the correlation both are divided by the same number, as for a smaller
    field, so that one far too large never comes out too good."""
    far = np.maximum(np.maximum(x / MOST_X, y / MOST_Y), 1.0)
    a, b = x / far, y / far
    return np.asarray(np.clip(1.029 * b - 0.065 * a - 0.245 * b**2 + 0.0018 * a**2 + 0.0215 * b**3, 0.0, 1.0))


def tank_factor(volume: float, area: float) -> float:
    """How another store than TANK litres a m² changes X."""
    each = min(max(volume / area, LEAST_TANK), MOST_TANK)
    return float((each / TANK) ** -0.25)


def x_and_y(
    demand: Array,
    area: float,
    optical: float,
    loss: float,
    sun: Array,
    hot: float,
    cold: Array,
    outside: Array,
    volume: float,
    hours: Array,
) -> tuple[Array, Array]:
    """X and Y of the correlation by month, (12,) each; 0 where nothing is needed. demand [kWh]; optical F_R(τα), loss F_R·U_L [W/(m²·K)]; sun on
    the plane [kWh/m²]; temperatures [°C]; volume of the store [l]."""
    needed = np.where(demand > 0, demand, 1.0)
    away = 11.6 + 1.18 * hot + 3.86 * cold - 2.32 * outside
    x = area * loss * EXCHANGER * away * hours / 1000 / needed * tank_factor(volume, area)
    y = area * optical * EXCHANGER * ASLANT * sun / needed
    return np.where(demand > 0, np.maximum(x, 0.0), 0.0), np.where(demand > 0, y, 0.0)


@calculation(
    "Solar heat for hot water",
    "energy_month",
    "the share f of each month's heat for hot water by the f-chart correlation; outside X 18 and Y 3 as of a smaller field",
    "Klein, Beckman and Duffie 1976, liquid, with the correction for hot water alone and for the size of the store",
    closed=False,
    demand="L: energy_month",
    area="A: area",
    optical="F_R(τα): fraction",
    loss="F_R·U_L: u",
    sun="H: irradiation",
    hot="θ_h: temperature",
    cold="θ_c: temperature",
    outside="θ_e: temperature",
    volume="V: litres",
    hours="t: hours",
)
def solar_heat(
    demand: Array,
    area: float,
    optical: float,
    loss: float,
    sun: Array,
    hot: float,
    cold: Array,
    outside: Array,
    volume: float,
    hours: Array,
) -> Array:
    """[kWh] by month."""
    if area <= 0:
        return np.zeros(12)
    x, y = x_and_y(demand, area, optical, loss, sun, hot, cold, outside, volume, hours)
    return f_chart(x, y) * demand


@calculation("Sun that reaches the collectors", "irradiation", "H = H_0·s", "as entered", sun="H_0: irradiation", share="s: fraction")
def past(sun: Array, share: float) -> Array:
    """[kWh/m²] by month."""
    return sun * share


@calculation(
    "Optical value at the inlet", "fraction", "F_R(τα) = k·η_0; k = 0.97", "common practice, where the flow is unknown", eta="η_0: fraction"
)
def optical_at_inlet(eta: float) -> float:
    """From the value of a sheet at the mean temperature of the collector."""
    return EXCHANGER * eta


@calculation(
    "Loss value at the inlet",
    "u",
    "F_R·U_L = k·(a_1 + 40·a_2); k = 0.97",
    "common practice, where the flow is unknown",
    first="a_1: u",
    second="a_2: u",
)
def loss_at_inlet(first: float, second: float) -> float:
    """[W/(m²·K)] from the two values of a sheet."""
    return EXCHANGER * (first + 40.0 * second)


@calculation(
    "Heat for hot water the sources make",
    "energy_month",
    "Q = max(L − Q_s, 0 [kWh])",
    "what the sun leaves",
    demand="L: energy_month",
    solar="Q_s: energy_month",
)
def rest(demand: Array, solar: Array) -> Array:
    """[kWh] by month."""
    return np.maximum(demand - solar, 0.0)


@calculation(
    "Solar share of hot water",
    "percent",
    "f = Σ(Q_s)/Σ(L)",
    "heat the sun gives over all heat for hot water, of the year",
    solar="Q_s: energy_month",
    demand="L: energy_month",
)
def share_of_year(solar: Array, demand: Array) -> float:
    """Within 0 and 1."""
    if not float(np.sum(demand)) > 0:
        raise CannotKnow("heat for hot water: there is none in this year")
    return float(np.sum(solar) / np.sum(demand))
