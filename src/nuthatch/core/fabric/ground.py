"""Heat flow through the ground: ISO 13370:2017, slab on ground; steady coefficient and periodic part."""

from __future__ import annotations

from math import exp, log, pi, sqrt

import numpy as np

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, CannotKnow

RSI_DOWN, RSI_ACROSS = 0.17, 0.13
RSE = 0.04
YEAR_SECONDS = 3.15e7


def equivalent_thickness(wall: float, floor_r: float, soil: float) -> float:
    """d_t = w + λ (R_si + R_f + R_se) [m]."""
    return wall + soil * (RSI_DOWN + floor_r + RSE)


@calculation(
    "Thickness of the walls around a floor",
    "thickness",
    "w = Σ(L·t)/Σ(L)",
    "ISO 13370:2017, 5.2; of the walls on its own perimeter, mean by length",
    lengths="L: length",
    walls="t: thickness",
)
def mean_wall(lengths: tuple[float, ...], walls: tuple[float, ...]) -> float:
    """w [m]."""
    return sum(a * t for a, t in zip(lengths, walls, strict=True)) / sum(lengths)


@calculation(
    "Thickness of the walls of the home",
    "thickness",
    "w = Σ(A·t)/Σ(A)",
    "ISO 13370:2017, 5.2; where no walls are drawn on a floor, mean by area",
    areas="A: area",
    walls="t: thickness",
)
def mean_wall_by_area(areas: tuple[float, ...], walls: tuple[float, ...]) -> float:
    """w [m]."""
    if sum(areas) <= 0:
        raise CannotKnow("walls with an area")
    return sum(a * t for a, t in zip(areas, walls, strict=True)) / sum(areas)


Floor = tuple[float, float]
"""Thickness of the wall above [m] and R of the floor without films [m²·K/W]."""
Edge = tuple[float, float, float, float]
"""Edge insulation: R [m²·K/W], thickness [m], reach [m], 1 lying or 2 standing."""
EDGE_LAMBDA = 0.035  # W/(m·K), where the thickness of an edge insulation is not given


def characteristic(areas: tuple[float, ...], perimeters: tuple[float, ...]) -> float:
    """B′ of the whole ground floor [m]: A/(0.5 P)."""
    if sum(perimeters) <= 0:
        raise CannotKnow("the exposed perimeter of the slab")
    return sum(areas) / (0.5 * sum(perimeters))


_D = "d = w + λ·(0.17 [m²·K/W] + R_f + 0.04 [m²·K/W])"


@calculation(
    "U of the floor on the ground",
    "u",
    "U = 2·λ/(π·B + t)·ln(π·B/t + 1) if t < B else λ/(0.457·B + t); B = Σ(A)/(0.5·Σ(P)); t = d + z/2; " + _D,
    "ISO 13370:2017, 7.1 and 7.2",
    areas="A: area",
    perimeters="P: length",
    floor="w, R_f: thickness, resistance",
    soil="λ: conductivity",
    depth="z: length",
)
def slab_u(areas: tuple[float, ...], perimeters: tuple[float, ...], floor: Floor, soil: float, depth: float) -> float:
    """U of a slab, or of the floor of a heated basement `depth` below ground, without edge insulation [W/(m²·K)].

    areas, perimeters: of all floors on the ground, in the home's dimensions [m², m]; floor: thickness of the wall [m], R without
    films [m²·K/W]; soil: conductivity [W/(m·K)].
    """
    width = characteristic(areas, perimeters)
    d = equivalent_thickness(*floor, soil) + depth / 2
    if d < width:
        return 2 * soil / (pi * width + d) * log(pi * width / d + 1)
    return soil / (0.457 * width + d)


_EDGE = _D + "; e = d + max(λ·R_n − s, 0); D = x·v"


@calculation(
    "Edge insulation of the slab",
    "psi",
    "ψ = −λ/π·(ln(D/d + 1) − ln(D/e + 1)); " + _EDGE,
    "ISO 13370:2017, annex B",
    floor="w, R_f: thickness, resistance",
    soil="λ: conductivity",
    edge="R_n, s, x, v: resistance, thickness, length, fraction",
)
def edge_psi(floor: Floor, soil: float, edge: Edge) -> float:
    """ψ_ge [W/(m·K)], below 0. edge: R [m²·K/W], thickness, how far it reaches [m], 1 lying or 2 standing."""
    resistance, thickness, width, factor = edge
    d = equivalent_thickness(*floor, soil)
    extra, reach = max(resistance * soil - thickness, 0.0), width * factor
    return -(soil / pi) * (log(reach / d + 1) - log(reach / (d + extra) + 1))


@calculation(
    "U of the floor on the ground, edge insulated",
    "u",
    "U = U_0 + 2·ψ/B; B = Σ(A)/(0.5·Σ(P))",
    "ISO 13370:2017, annex B",
    plain="U_0: u",
    psi="ψ: psi",
    areas="A: area",
    perimeters="P: length",
)
def edged_u(plain: float, psi: float, areas: tuple[float, ...], perimeters: tuple[float, ...]) -> float:
    """[W/(m²·K)] with the insulation along the edge."""
    return plain + 2 * psi / characteristic(areas, perimeters)


_DEPTH = "δ = √(31500000 [s]·λ/(π·c))"


@calculation(
    "Outdoor periodic coefficient of the floor on the ground",
    "w_per_k",
    "H = 0.37·P·λ·((1 − exp(−D/δ))·ln(δ/e + 1) + exp(−D/δ)·ln(δ/d + 1))·exp(−z/δ); " + _EDGE + "; " + _DEPTH,
    "ISO 13370:2017, annex H",
    perimeter="P: length",
    floor="w, R_f: thickness, resistance",
    soil="λ, c: conductivity, volumetric_heat",
    edge="R_n, s, x, v: resistance, thickness, length, fraction",
    depth="z: length",
)
def slab_periodic(perimeter: float, floor: Floor, soil: tuple[float, float], edge: Edge, depth: float) -> float:
    """Periodic coefficient toward outdoor temperature [W/K]; soil: λ [W/(m·K)] and capacity [MJ/(m³·K)]; edge as in `edge_psi`
    (reach 0: none); depth of a basement's floor below ground [m]."""
    conductivity, capacity = soil
    resistance, thickness, width, factor = edge
    delta = sqrt(YEAR_SECONDS * conductivity / (pi * capacity * 1e6))
    d = equivalent_thickness(*floor, conductivity)
    extra, near = max(resistance * conductivity - thickness, 0.0), exp(-width * factor / delta)
    mixed = (1 - near) * log(delta / (d + extra) + 1) + near * log(delta / d + 1)
    return 0.37 * perimeter * conductivity * mixed * exp(-depth / delta)


_WALL = "w = λ·(0.13 [m²·K/W] + R_w + 0.04 [m²·K/W])"


@calculation(
    "U of a wall against the ground",
    "u",
    "U = 2·λ/(π·z)·(1 + 0.5·m/(m + z))·ln(z/w + 1); m = min(d, w); " + _WALL,
    "ISO 13370:2017, 7.2, heated basement",
    wall_r="R_w: resistance",
    floor="d: length",
    soil="λ: conductivity",
    depth="z: length",
)
def basement_wall_u(wall_r: float, floor: float, soil: float, depth: float) -> float:
    """[W/(m²·K)]. wall_r: of the wall without films; floor: equivalent thickness d_t of the basement's floor [m]; depth > 0 [m]."""
    if depth <= 0:
        raise CannotKnow("a depth below ground above 0")
    d_w = soil * (RSI_ACROSS + wall_r + RSE)
    d_t = min(floor, d_w)
    return 2 * soil / (pi * depth) * (1 + 0.5 * d_t / (d_t + depth)) * log(depth / d_w + 1)


@calculation(
    "Outdoor periodic coefficient of a wall against the ground",
    "w_per_k",
    "H = 0.37·A/z·λ·2·(1 − exp(−z/δ))·ln(δ/w + 1); " + _WALL + "; " + _DEPTH,
    "ISO 13370:2017, annex H, heated basement; the wall's part",
    area="A: area",
    wall_r="R_w: resistance",
    soil="λ, c: conductivity, volumetric_heat",
    depth="z: length",
)
def wall_periodic(area: float, wall_r: float, soil: tuple[float, float], depth: float) -> float:
    """[W/K]; the wall's length is its area over the depth."""
    if depth <= 0:
        raise CannotKnow("a depth below ground above 0")
    conductivity, capacity = soil
    delta = sqrt(YEAR_SECONDS * conductivity / (pi * capacity * 1e6))
    d_w = conductivity * (RSI_ACROSS + wall_r + RSE)
    return 0.37 * area / depth * conductivity * 2 * (1 - exp(-depth / delta)) * log(delta / d_w + 1)


@calculation(
    "Equivalent thickness of the floor", "length", _D, "ISO 13370:2017, 7.1", floor="w, R_f: thickness, resistance", soil="λ: conductivity"
)
def floor_thickness(floor: Floor, soil: float) -> float:
    """d_t [m]."""
    return equivalent_thickness(*floor, soil)


@calculation(
    "Heat flow to the ground by month",
    "energy_month",
    "[H_g (θ_i − mean of θ_e) + H_pe · half the swing of θ_e · cos(2π (months since the coldest − β)/12)] · hours; the ground lags by β: a month, none below a suspended floor",
    "ISO 13370:2017, annex H",
    closed=False,
    steady="H_g: w_per_k",
    periodic="H_pe: w_per_k",
    inside="θ_i: temperature",
    outside="θ_e: temperature",
    hours="t: hours",
    lag="β: count",
)
def ground_months(steady: float, periodic: float, inside: float, outside: Array, hours: Array, lag: float = 1.0) -> Array:
    """Monthly heat flow [kWh], inside temperature constant; the coldest month's number is counted from 0."""
    mean = float((outside * hours).sum() / hours.sum())
    swing = float(outside.max() - outside.min()) / 2
    month = np.arange(12)
    wave = np.cos(2 * pi * (month - int(outside.argmin()) - lag) / 12)
    return np.asarray((steady * (inside - mean) + periodic * swing * wave) * hours / 1000)


@calculation(
    "R without films", "resistance", "R = 1/U − R_si − 0.04 [m²·K/W]", "ISO 13370:2017, 7.1", least=0, u="U: u", film="R_si: resistance"
)
def r_from_u(u: float, film: float) -> float:
    """[m²·K/W] where a detailed U-value was typed: ISO 13370 adds the films itself."""
    return 1 / u - film - RSE


@calculation(
    "U of a suspended floor",
    "u",
    "U = 1/(1/U_f + 1/(G + X)); G = 2·λ/(π·B + d)·ln(π·B/d + 1) if d < B else λ/(0.457·B + d); "
    "X = 2·h·U_w/B + 0.00145 [J/(m·mm²·K)]·e·v·f/B; B = Σ(A)/(0.5·Σ(P)); d = w + λ·0.21 [m²·K/W]",
    "ISO 13370:2017, 7.4",
    floor="U_f: u",
    areas="A: area",
    perimeters="P: length",
    wall="w: thickness",
    soil="λ: conductivity",
    crawl="h, U_w, e, v, f: length, u, vent_area, speed, fraction",
)
def suspended_u(floor: float, areas: tuple[float, ...], perimeters: tuple[float, ...], wall: float, soil: float, crawl: Crawl) -> float:
    """[W/(m²·K)]; floor: U of the floor between inside and the space below; the ground there is bare. crawl as `Crawl`."""
    width = characteristic(areas, perimeters)
    return 1 / (1 / floor + 1 / (_bare(width, wall, soil) + _aired(width, crawl)))


Crawl = tuple[float, float, float, float, float]
"""The space below a suspended floor: height of the floor above the ground [m], U of its walls, area of its vents [mm² per m of
perimeter], wind speed at 10 m [m/s], share of the wind that reaches the vents."""


def _bare(width: float, wall: float, soil: float) -> float:
    """U of bare ground below, as a slab."""
    d = equivalent_thickness(wall, 0.0, soil)
    return 2 * soil / (pi * width + d) * log(pi * width / d + 1) if d < width else soil / (0.457 * width + d)


def _aired(width: float, crawl: Crawl) -> float:
    """U_x through the walls and by the air of the space below [W/(m²·K)]."""
    height, walls, vents, wind, reach = crawl
    return 2 * height * walls / width + 0.00145 * vents * wind * reach / width


@calculation(
    "Outdoor periodic coefficient of a suspended floor",
    "w_per_k",
    "H = U_f·(0.37·P·λ·ln(δ/d + 1) + X·A)/(λ/δ + X + U_f); X = 2·h·U_w/B + 0.00145 [J/(m·mm²·K)]·e·v·f/B; B = A/(0.5·P); "
    "d = w + λ·0.21 [m²·K/W]; " + _DEPTH,
    "ISO 13370:2017, annex H, suspended floor; no lag",
    floor="U_f: u",
    area="A: area",
    perimeter="P: length",
    wall="w: thickness",
    soil="λ, c: conductivity, volumetric_heat",
    crawl="h, U_w, e, v, f: length, u, vent_area, speed, fraction",
)
def suspended_periodic(floor: float, area: float, perimeter: float, wall: float, soil: tuple[float, float], crawl: Crawl) -> float:
    """[W/K]; soil: λ [W/(m·K)] and capacity [MJ/(m³·K)]."""
    if perimeter <= 0:
        raise CannotKnow("the exposed perimeter of the floor")
    conductivity, capacity = soil
    delta = sqrt(YEAR_SECONDS * conductivity / (pi * capacity * 1e6))
    aired = _aired(area / (0.5 * perimeter), crawl)
    d = equivalent_thickness(wall, 0.0, conductivity)
    return floor * (0.37 * perimeter * conductivity * log(delta / d + 1) + aired * area) / (conductivity / delta + aired + floor)
