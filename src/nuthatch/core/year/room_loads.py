"""Heating loads of rooms: EN 12831-1 in outline (from memory), at the winter design, without sun or inner gains. Method: docs/methods (loads
of rooms)."""

from __future__ import annotations

from nuthatch.core.climate.humid_air import AIR_HEAT
from nuthatch.core.results.calculation import calculation

LEAST_AIR = 0.5
"""Air change of living and sleeping rooms without a unit [1/h]: EN 12831-1, annex B, from memory."""
ONE_SIDE = 2.0
"""How much more leaks into a room than its part of the home's mean: the wind stands on one side."""
NEIGHBOUR = 15.0
"""Where a neighbour's rooms are not known to be warmer [°C]: common practice, no source."""
INNER_WALL, INNER_FLOOR = 2.0, 1.0
"""U between rooms without a build-up of their own [W/(m²·K)]: common practice, no source."""
EXHAUST_AT = 20.0
"""Mean temperature of the air that warms the supply in a unit [°C]."""


@calculation(
    "Load through outer parts",
    "power",
    "Φ = H·(θ_i − θ_e)",
    "EN 12831-1, transmission to outside and through unheated spaces; b counted in H",
    loss="H: w_per_k",
    inside="θ_i: temperature",
    outside="θ_e: temperature",
)
def through_outside(loss: float, inside: float, outside: float) -> float:
    """[W]"""
    return loss * (inside - outside)


@calculation(
    "Load toward other rooms",
    "power",
    "Φ = Σ(H_a·(θ_i − θ_a))",
    "EN 12831-1, rooms and neighbours at another temperature",
    losses="H_a: w_per_k",
    inside="θ_i: temperature",
    others="θ_a: temperature",
)
def toward_rooms(losses: tuple[float, ...], inside: float, others: tuple[float, ...]) -> float:
    """[W], below 0 where the others are warmer."""
    return sum(h * (inside - t) for h, t in zip(losses, others, strict=True))


@calculation(
    "Load of the air",
    "power",
    "Φ = c·d·(V_l·(θ_i − θ_e) + V_s·(θ_i − θ_s) + V_t·(θ_i − θ_t)); c = 0.34 [Wh/(m³·K)]",
    "EN 12831-1: leaks, air that is brought, air from other rooms",
    density="d: fraction",
    leaks="V_l: flow",
    brought="V_s: flow",
    passed="V_t: flow",
    inside="θ_i: temperature",
    outside="θ_e: temperature",
    supplied="θ_s: temperature",
    other="θ_t: temperature",
)
def of_the_air(
    density: float, leaks: float, brought: float, passed: float, inside: float, outside: float, supplied: float, other: float
) -> float:
    """[W]; flows [m³/h]."""
    return AIR_HEAT * density * (leaks * (inside - outside) + brought * (inside - supplied) + passed * (inside - other))


@calculation(
    "Air as the unit brings it",
    "temperature",
    "θ_s = θ_n + η·(20 [°C] − θ_n)",
    "recovery from air of 20 °C; θ_n outdoors, or as far as frost protection warms it",
    entering="θ_n: temperature",
    recovery="η: percent",
)
def supplied(entering: float, recovery: float) -> float:
    """[°C]"""
    return entering + recovery * (EXHAUST_AT - entering)


@calculation(
    "Leaks of a room",
    "flow",
    "V = 2·V_h·A/A_h",
    "EN 12831-1: by its outer faces, wind on one side",
    home="V_h: flow",
    area="A: area",
    whole="A_h: area",
)
def leaks_of(home: float, area: float, whole: float) -> float:
    """[m³/h] of the home's infiltration."""
    return ONE_SIDE * home * area / whole if whole > 0 else 0.0


@calculation(
    "Heating load of a room",
    "power",
    "Φ = max(Φ_e + Φ_g + Φ_a + Φ_v + Φ_r, 0 [W])",
    "EN 12831-1: outside, ground, other rooms, air, power to warm up again",
    outside="Φ_e: power",
    ground="Φ_g: power",
    beside="Φ_a: power",
    air="Φ_v: power",
    reheat="Φ_r: power",
)
def load_of(outside: float, ground: float, beside: float, air: float, reheat: float) -> float:
    """[W]"""
    return max(outside + ground + beside + air + reheat, 0.0)
