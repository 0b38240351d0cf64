"""Hot water: useful heat, store and pipe losses by month."""

from __future__ import annotations

import numpy as np

from nuthatch.core.figure import calculation

WATER_HEAT = 4186.0 / 3.6e6  # kWh/(kg·K), 1 kg a litre
ROOM = 20.0


@calculation(
    "Hot water, useful heat",
    "energy_month",
    "Q = people · l · days · ρc (θ_hot − θ_cold)",
    "EN 12831-3, useful energy",
    people="people",
    litres="l",
    hot="θ_hot",
    cold="θ_cold",
)
def useful_heat(people: float, litres: float, hot: float, cold: np.ndarray, hours: np.ndarray) -> np.ndarray:
    """[kWh] by month; litres per person and day at the hot temperature."""
    return people * litres * hours / 24 * WATER_HEAT * np.maximum(hot - cold, 0)


@calculation(
    "Store loss", "energy_month", "Q = H_store (θ_store − θ_room) t", "store loss coefficient", loss="H", store="θ_store", hours="t"
)
def store_loss(loss: float, store: float, hours: np.ndarray) -> np.ndarray:
    """[kWh] by month; loss [W/K], the room at 20 °C."""
    return loss * max(store - ROOM, 0.0) * hours / 1000


@calculation(
    "Circulation loss",
    "energy_month",
    "Q = ψ L (θ_hot − θ_room) t · h/24",
    "pipe loss per length",
    psi="ψ",
    length="L",
    hot="θ_hot",
    daily="h",
)
def circulation_loss(psi: float, length: float, hot: float, daily: float, hours: np.ndarray) -> np.ndarray:
    """[kWh] by month; daily: hours of circulation a day."""
    return psi * length * max(hot - ROOM, 0.0) * hours * daily / 24 / 1000


@calculation(
    "Draw-off pipe loss",
    "energy_month",
    "Q = people · draws · days · V ρc (θ_hot − θ_room)",
    "content left to cool after each draw-off",
    people="people",
    draws="n",
    content="V",
    hot="θ_hot",
)
def draw_off_loss(people: float, draws: float, content: float, hot: float, hours: np.ndarray) -> np.ndarray:
    """[kWh] by month; content in litres."""
    return people * draws * hours / 24 * content * WATER_HEAT * max(hot - ROOM, 0.0)


@calculation("Heat for hot water", "energy_month", "Q_W = useful heat + store + circulation + draw-off losses", "sum")
def hot_water_months(useful: np.ndarray, store: np.ndarray, circulation: np.ndarray, draw_off: np.ndarray) -> np.ndarray:
    """[kWh] by month."""
    return useful + store + circulation + draw_off


@calculation("Hot-water losses inside", "energy_month", "store (if inside) + circulation + draw-off", "losses inside count as gains")
def losses_inside(store: np.ndarray, inside: float, circulation: np.ndarray, draw_off: np.ndarray) -> np.ndarray:
    """[kWh] by month; inside is 1 where the store stands in the envelope."""
    return store * inside + circulation + draw_off
