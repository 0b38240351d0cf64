"""Heat sources, carriers, primary energy and CO₂."""

from __future__ import annotations

from nuthatch.core.figure import CannotKnow, calculation
from nuthatch.core.model.changes import Batch, SetValue, typed
from nuthatch.core.model.home import Home

USES = {"heating_share": "heating", "water_share": "hot water", "cooling_share": "cooling"}


@calculation(
    "Delivered energy", "energy", "E = share · Q / efficiency", "ISO 52000-1, delivered energy", share="share", demand="Q", efficiency="η"
)
def delivered(share: float, demand: float, efficiency: float) -> float:
    """[kWh/a]."""
    return share * demand / efficiency


@calculation("Primary energy", "specific_energy", "PE = Σ E · f_P / A_ref", "ISO 52000-1, 9.6", energies="E", factors="f_P", area="A_ref")
def primary_energy(energies: tuple[float, ...], factors: tuple[float, ...], area: float) -> float:
    """[kWh/(m²·a)]."""
    if area <= 0:
        raise CannotKnow("a reference floor area above 0")
    return sum(e * f for e, f in zip(energies, factors, strict=True)) / area


@calculation("CO₂", "co2", "Σ E · f_CO₂ / A_ref", "ISO 52000-1, emission factors", energies="E", factors="f_CO₂", area="A_ref")
def co2(energies: tuple[float, ...], factors: tuple[float, ...], area: float) -> float:
    """[kg/(m²·a)]."""
    if area <= 0:
        raise CannotKnow("a reference floor area above 0")
    return sum(e * f for e, f in zip(energies, factors, strict=True)) / area


@calculation("Energy cost", "money", "Σ E · price", "arithmetic", energies="E", prices="price")
def cost(energies: tuple[float, ...], prices: tuple[float, ...]) -> float:
    """[currency of the prices a year]."""
    return sum(e * p for e, p in zip(energies, prices, strict=True))


def share_total(home: Home, field: str) -> float:
    """Sum of one use's shares over the sources."""
    return sum(getattr(s, field).value for s in home.sources if getattr(s, field) is not None)


def share_change(home: Home, source: str, field: str, value: float) -> Batch:
    """Set one source's share and let the others make up the rest in proportion: shares always total 100 %."""
    value = min(max(value, 0.0), 1.0)
    others = [s for s in home.sources if s.id != source]
    held = {s.id: getattr(s, field).value if getattr(s, field) else 0.0 for s in others}
    total = sum(held.values())
    changes = []
    if not others:
        value = 1.0 if value > 0 or field != "cooling_share" else 0.0
    for s in others:
        part = held[s.id] / total if total > 0 else 1 / len(others)
        changes.append(SetValue(part=s.id, field=field, value=typed((1 - value) * part, "the rest to 100 %")))
    changes.insert(0, SetValue(part=source, field=field, value=typed(value)))
    name = next((s.name for s in home.sources if s.id == source), source)
    return Batch(label=f"{name}: share of {USES[field]} {value * 100:.0f} %, all total 100 %", changes=tuple(changes))
