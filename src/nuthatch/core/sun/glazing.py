"""How much of the sun a glass lets through aslant: Karlsson and Roos 2000, "Modelling the angular behaviour of the total solar energy
transmittance of windows" (coefficients from memory)."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np

from nuthatch.core.results.figure import Array


class Glazing(NamedTuple):
    """What the angle counts by: number of panes, and q: 4 uncoated, 2 with a low-emissivity coating."""

    panes: float
    q: float


def at_angle(glazing: Glazing, degrees: Array) -> Array:
    """g(θ)/g at angles of incidence [°], 1 straight on, 0 along the glass."""
    p, q = glazing
    z = np.clip(np.asarray(degrees) / 90.0, 0.0, 1.0)
    alpha, gamma = 5.2 + 0.7 * q, 5.26 + 0.06 * p + (0.73 + 0.04 * p) * q
    a, b = 8.0, 0.25 / q
    return np.asarray(np.maximum(1 - a * z**alpha - b * z**2 - (1 - a - b) * z**gamma, 0.0))


@lru_cache(maxsize=64)
def diffuse(glazing: Glazing) -> float:
    """g_d/g: even light from the whole half sphere, 2 ∫ (g(θ)/g) cos θ sin θ dθ."""
    x, weights = np.polynomial.legendre.leggauss(64)
    theta = (x + 1) * np.pi / 4
    return float(np.sum(weights * at_angle(glazing, np.degrees(theta)) * np.sin(2 * theta)) * np.pi / 4)


LOW_E_BELOW = {1: 0.0, 2: 2.0, 3: 1.4}
"""A glass of so many panes whose U_g [W/(m²·K)] lies below has a coating: common practice, no source."""
PANES_BELOW = ((0.95, 3), (3.5, 2))
"""Number of panes by U_g where it is not said: common practice, no source."""


def of_u(u: float, panes: int | None = None) -> Glazing:
    """A glazing by its U_g [W/(m²·K)], and its number of panes where that is known."""
    number = panes if panes is not None else next((n for most, n in PANES_BELOW if u < most), 1)
    return Glazing(float(number), 2.0 if u < LOW_E_BELOW[min(max(number, 1), 3)] else 4.0)
