"""Heat flow through the ground: ISO 13370:2017, slab on ground; steady coefficient and periodic part."""

from __future__ import annotations

from math import log, pi, sqrt

import numpy as np

from nuthatch.core.figure import CannotKnow, calculation

RSI_DOWN = 0.17
RSE = 0.04
YEAR_SECONDS = 3.15576e7


def equivalent_thickness(wall: float, floor_r: float, soil: float) -> float:
    """d_t = w + λ (R_si + R_f + R_se) [m]."""
    return wall + soil * (RSI_DOWN + floor_r + RSE)


@calculation(
    "U of the slab on ground",
    "u",
    "B′ = A / ½P;  U = 2λ/(πB′+d_t) · ln(πB′/d_t + 1), or λ/(0.457B′+d_t) if d_t ≥ B′",
    "ISO 13370:2017, 7.1",
    area="A",
    perimeter="P",
    wall_thickness="w",
    floor_r="R_f",
    soil="λ",
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
    "H_pe = 0.37 P λ ln(δ/d_t + 1),  δ = √(t λ / (π ρc))",
    "ISO 13370:2017, annex H",
    perimeter="P",
    wall_thickness="w",
    floor_r="R_f",
    soil="λ",
    capacity="ρc",
)
def slab_periodic(perimeter: float, wall_thickness: float, floor_r: float, soil: float, capacity: float) -> float:
    """Periodic coefficient toward outdoor temperature [W/K]; capacity of the soil [MJ/(m³·K)]."""
    depth = sqrt(YEAR_SECONDS * soil / (pi * capacity * 1e6))
    return 0.37 * perimeter * soil * log(depth / equivalent_thickness(wall_thickness, floor_r, soil) + 1)


@calculation(
    "Heat flow to the ground by month",
    "energy_month",
    "Q = [H_g (θ_i − θ̄_e) + H_pe θ̂_e cos(2π(m − τ − 1)/12)] · t",
    "ISO 13370:2017, annex H",
    steady="H_g",
    periodic="H_pe",
    inside="θ_i",
    outside="θ_e",
)
def ground_months(steady: float, periodic: float, inside: float, outside: np.ndarray, hours: np.ndarray) -> np.ndarray:
    """Monthly heat flow [kWh], inside temperature constant; τ is the coldest month, the ground lags one month behind it."""
    mean = float((outside * hours).sum() / hours.sum())
    swing = float(outside.max() - outside.min()) / 2
    month = np.arange(12)
    wave = np.cos(2 * pi * (month - int(outside.argmin()) - 1) / 12)
    return (steady * (inside - mean) + periodic * swing * wave) * hours / 1000
