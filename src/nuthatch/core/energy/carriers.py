"""Heat sources, carriers, primary energy and CO₂."""

from __future__ import annotations

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import CannotKnow


@calculation(
    "Delivered energy",
    "energy",
    "E = s·Q/η",
    "ISO 52000-1, delivered energy",
    share="s: percent",
    demand="Q: energy",
    efficiency="η: percent",
)
def delivered(share: float, demand: float, efficiency: float) -> float:
    """[kWh/a]."""
    return share * demand / efficiency


@calculation(
    "Primary energy", "specific_energy", "P = Σ(E·f)/A", "ISO 52000-1, 9.6", energies="E: energy", factors="f: factor", area="A: area"
)
def primary_energy(energies: tuple[float, ...], factors: tuple[float, ...], area: float) -> float:
    """[kWh/(m²·a)]."""
    if area <= 0:
        raise CannotKnow("a reference floor area above 0")
    return sum(e * f for e, f in zip(energies, factors, strict=True)) / area


@calculation("CO₂", "co2", "K = Σ(E·f)/A", "ISO 52000-1, emission factors", energies="E: energy", factors="f: co2_factor", area="A: area")
def co2(energies: tuple[float, ...], factors: tuple[float, ...], area: float) -> float:
    """[kg/(m²·a)]."""
    if area <= 0:
        raise CannotKnow("a reference floor area above 0")
    return sum(e * f for e, f in zip(energies, factors, strict=True)) / area


@calculation("Energy cost", "money", "K = Σ(E·p) + Σ(k)", "arithmetic", energies="E: energy", prices="p: price", standing="k: money")
def cost(energies: tuple[float, ...], prices: tuple[float, ...], standing: tuple[float, ...] = ()) -> float:
    """[currency of the prices a year]."""
    return sum(e * p for e, p in zip(energies, prices, strict=True)) + sum(standing)
