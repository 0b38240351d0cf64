"""Heat sources, carriers, primary energy and CO₂."""

from __future__ import annotations

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, CannotKnow


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
    "Heat to make, with distribution",
    "energy",
    "Q = Q_d·(1 + d)",
    "what distribution and control lose, on top of the demand",
    demand="Q_d: energy",
    lost="d: percent",
)
def with_distribution(demand: float, lost: float) -> float:
    """[kWh/a]."""
    return demand * (1 + lost)


@calculation(
    "Share of a source's own carrier", "percent", "c = max(1 − Σ(c_i), 0)", "the rest of its further carriers", further="c_i: percent"
)
def own_share(further: tuple[float, ...]) -> float:
    """What the first carrier of a source makes of its heat."""
    return max(1.0 - sum(further), 0.0)


@calculation(
    "Share of a carrier",
    "percent",
    "s = s_1·c",
    "share of the source by share of the carrier in it",
    source="s_1: percent",
    carrier="c: percent",
)
def share_of_carrier(source: float, carrier: float) -> float:
    """Of the demand."""
    return source * carrier


@calculation(
    "Heat by a carrier", "energy_month", "Q = Q_s·c", "share of the carrier in its source", heat="Q_s: energy_month", carrier="c: percent"
)
def heat_of_carrier(heat: Array, carrier: float) -> Array:
    """(12,) [kWh]."""
    return heat * carrier


@calculation("Standby electricity", "energy", "E = P·8760 [h]", "all hours of the year", power="P: electric_power")
def standby(power: float) -> float:
    """[kWh/a]; power [W]."""
    return power * 8.76


@calculation("Price of a kWh", "price", "p = p_u/e", "as billed", unit="p_u: factor", energy="e: energy_month")
def price_of_energy(unit: float, energy: float) -> float:
    """[currency per kWh]; price of a unit, energy in it [kWh]."""
    return unit / energy


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
