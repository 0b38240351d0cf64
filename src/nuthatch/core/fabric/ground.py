"""Heat flow through the ground: ISO 13370:2017, slab on ground; steady coefficient and periodic part."""

from __future__ import annotations

from math import log, pi, sqrt

import numpy as np

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, CannotKnow

RSI_DOWN = 0.17
RSE = 0.04
YEAR_SECONDS = 3.15576e7


def equivalent_thickness(wall: float, floor_r: float, soil: float) -> float:
    """d_t = w + λ (R_si + R_f + R_se) [m]."""
    return wall + soil * (RSI_DOWN + floor_r + RSE)


@calculation(
    "U of the slab on ground",
    "u",
    "U = 2·λ/(π·B + d)·ln(π·B/d + 1) if d < B else λ/(0.457·B + d); B = A/(0.5·P); d = w + λ·(0.17 [m²·K/W] + R_f + 0.04 [m²·K/W])",
    "ISO 13370:2017, 7.1",
    area="A: area",
    perimeter="P: length",
    wall_thickness="w: thickness",
    floor_r="R_f: resistance",
    soil="λ: conductivity",
)
def slab_u(area: float, perimeter: float, wall_thickness: float, floor_r: float, soil: float) -> float:
    """U of a slab without edge insulation [W/(m²·K)]. area, perimeter in the home's dimensions [m², m]; floor_r without
    films [m²·K/W]; soil conductivity [W/(m·K)]."""
    if perimeter <= 0:
        raise CannotKnow("the exposed perimeter of the slab")
    width = area / (0.5 * perimeter)
    d = equivalent_thickness(wall_thickness, floor_r, soil)
    if d < width:
        return 2 * soil / (pi * width + d) * log(pi * width / d + 1)
    return soil / (0.457 * width + d)


@calculation(
    "Outdoor periodic coefficient of the slab",
    "w_per_k",
    "H = 0.37·P·λ·ln(δ/d + 1); δ = √(31557600 [s]·λ/(π·c)); d = w + λ·(0.17 [m²·K/W] + R_f + 0.04 [m²·K/W])",
    "ISO 13370:2017, annex H",
    perimeter="P: length",
    wall_thickness="w: thickness",
    floor_r="R_f: resistance",
    soil="λ: conductivity",
    capacity="c: volumetric_heat",
)
def slab_periodic(perimeter: float, wall_thickness: float, floor_r: float, soil: float, capacity: float) -> float:
    """Periodic coefficient toward outdoor temperature [W/K]; capacity of the soil [MJ/(m³·K)]."""
    depth = sqrt(YEAR_SECONDS * soil / (pi * capacity * 1e6))
    return 0.37 * perimeter * soil * log(depth / equivalent_thickness(wall_thickness, floor_r, soil) + 1)


@calculation(
    "Heat flow to the ground by month",
    "energy_month",
    "[H_g (θ_i − mean of θ_e) + H_pe · half the swing of θ_e · cos(2π (months since the coldest − 1)/12)] · hours: the ground lags a month",
    "ISO 13370:2017, annex H",
    closed=False,
    steady="H_g: w_per_k",
    periodic="H_pe: w_per_k",
    inside="θ_i: temperature",
    outside="θ_e: temperature",
    hours="t: hours",
)
def ground_months(steady: float, periodic: float, inside: float, outside: Array, hours: Array) -> Array:
    """Monthly heat flow [kWh], inside temperature constant; the coldest month's number is counted from 0."""
    mean = float((outside * hours).sum() / hours.sum())
    swing = float(outside.max() - outside.min()) / 2
    month = np.arange(12)
    wave = np.cos(2 * pi * (month - int(outside.argmin()) - 1) / 12)
    return np.asarray((steady * (inside - mean) + periodic * swing * wave) * hours / 1000)


@calculation("R of the floor without films", "resistance", "R_f = 1/U − 0.17 [m²·K/W] − 0.04 [m²·K/W]", "ISO 13370:2017, 7.1", u="U: u")
def floor_r_from_u(u: float) -> float:
    """[m²·K/W] where a detailed U-value was typed: ISO 13370 adds the films itself."""
    return 1 / u - RSI_DOWN - RSE
