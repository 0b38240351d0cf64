"""How much of the year it is too warm. Method: docs/methods (the hourly year)."""

from __future__ import annotations

import numpy as np

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array
from nuthatch.core.year.run import too_warm

LIMIT, BEDROOM_LIMIT = 25.0, 26.0
"""Operative temperature above which it is too warm, in bedrooms by night [°C]: common practice, no source."""
NIGHT = (22, 7)
"""Hours between which bedrooms sleep: common practice, no source."""


@calculation(
    "Too warm, of the year",
    "percent",
    "hours whose operative temperature is above the limit by more than 0.01 K, over all hours of the year",
    "hours of the year: ISO 13790:2008, annex C",
    closed=False,
    operative="θ_op: temperature",
    limit="θ_l: temperature",
)
def overheating(operative: Array, limit: float) -> float:
    """Share of 8760 hours."""
    return too_warm(np.asarray(operative, float), limit)


def night() -> np.ndarray:
    """Hours in which bedrooms sleep, (8760,)."""
    hours = np.arange(24)
    return np.tile((hours >= NIGHT[0]) | (hours < NIGHT[1]), 365)


@calculation(
    "Bedrooms too warm, of the nights",
    "percent",
    "of the bedroom that is worst: hours from 22 to 7 whose operative temperature is above the limit by more than 0.01 K, over all hours of the nights",
    "hours of the year room by room: ISO 13790:2008, annex C",
    closed=False,
    operative="θ_op: temperature",
    limit="θ_l: temperature",
)
def bedroom_nights(operative: tuple[Array, ...], limit: float) -> float:
    """Share of the 3285 hours of the nights, of the worst."""
    return max(too_warm(np.asarray(one, float), limit, night()) for one in operative)
