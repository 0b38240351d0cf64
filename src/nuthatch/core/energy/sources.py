"""Delivered energy by source and use, weighted by carrier."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from nuthatch.core.energy import carriers, heat_pump
from nuthatch.core.model.services import Carrier, HeatSource
from nuthatch.core.results.calculation import Calculation, take
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Figure, Known, Node, Unknown, missing
from nuthatch.core.results.question import Question

SERVES = {"heating_share": "heating", "water_share": "hot water", "cooling_share": "cooling"}
OPTIONAL = "cooling_share"
"""A use that no source need serve where there is none of it."""


@dataclass(frozen=True, eq=False)
class EnergyUse:
    """One use of delivered energy."""

    name: str
    carrier: Carrier | None
    energy: Figure


@dataclass(frozen=True, eq=False)
class Performs:
    """A heat pump on one use: the demand of each month [kWh], and heat over electricity in it, (12,)."""

    demand: Figure
    months: Figure


def share_total(sources: tuple[HeatSource, ...], field: str) -> float:
    """Sum of one use's shares over the sources."""
    return float(sum(s[field].value for s in sources if s[field] is not None))


def uses(
    sources: tuple[HeatSource, ...],
    known: tuple[Carrier, ...],
    current: str,
    demands: dict[str, Figure],
    plain: dict[str, Figure],
    performs: Mapping[tuple[str, str], Performs] | None = None,
) -> tuple[EnergyUse, ...]:
    """Delivered energy of all uses; `current`: the carrier of auxiliaries and of the plain uses; `performs`: heat pumps by month, by the id of
    the source and the field of the share."""
    by_id = {c.id: c for c in known}
    found: list[EnergyUse] = []
    for field, demand in demands.items():
        found += _served(sources, by_id, field, demand, performs or {})
    for s in sources:
        if s.auxiliary is not None:
            energy = take(f"{s.name}, auxiliary electricity", "energy", need(s, "auxiliary"))
            found.append(EnergyUse(f"{s.name}, auxiliary", by_id.get(current), energy))
    found += [EnergyUse(name, by_id.get(current), energy) for name, energy in plain.items()]
    return tuple(found)


def _served(
    sources: tuple[HeatSource, ...], by_id: dict[str, Carrier], field: str, demand: Figure, performs: Mapping[tuple[str, str], Performs]
) -> Iterator[EnergyUse]:
    use = SERVES[field]
    served = [s for s in sources if s[field] is not None and s[field].value > 0]
    total = sum(s[field].value for s in served)
    if field == OPTIONAL and not served:
        if isinstance(demand, Known) and demand.value <= 0:
            return
        if not isinstance(demand, Known):
            yield EnergyUse(use, None, demand)
            return
    if abs(total - 1) > 1e-6:
        text = f"a heat source for {use}" if not served else f"shares of {use} that total 100 % (now {total * 100:.1f} %)"
        part = sources[0].id if sources else "home"
        yield EnergyUse(use, None, missing(f"Energy for {use}", "energy", text, part, field if sources else "sources"))
        return
    for s in served:
        name = f"{s.name}, {use}"
        known = performs.get((s.id, field))
        if known is not None:
            energy = heat_pump.delivered.figure(name, share=need(s, field), months=known.demand, factor=known.months)
        else:
            own = "cooling_performance" if field == OPTIONAL and s.cooling_performance is not None else "efficiency"
            energy = carriers.delivered.figure(name, share=need(s, field), demand=demand, efficiency=need(s, own))
        yield EnergyUse(name, by_id.get(s.carrier), energy)


def weighted(calc: Calculation, all_uses: tuple[EnergyUse, ...], field: str, reference: Figure | None) -> Figure:
    """Primary energy or CO₂ per floor area, or the cost of the year: every use by a factor of its carrier."""
    factors: list[Node] = []
    for use in all_uses:
        if isinstance(use.energy, Unknown):
            continue
        if use.carrier is None:
            factors.append(missing("carrier", "factor", f"an energy carrier for {use.name}", "home", "electricity"))
        else:
            factors.append(need(use.carrier, field))
    energies = tuple(u.energy for u in all_uses)
    if reference is None:
        return calc.figure(energies=energies, prices=tuple(factors), standing=tuple(_standing(all_uses)))
    return calc.figure(energies=energies, factors=tuple(factors), area=reference)


def _standing(all_uses: tuple[EnergyUse, ...]) -> Iterator[Node]:
    """The standing charge of every carrier of which anything is used."""
    used = {u.carrier.id: u.carrier for u in all_uses if u.carrier is not None and u.energy.value is not None and float(u.energy.value) > 0}
    yield from (need(c, "standing") for c in used.values() if c.standing is not None)


def share_questions(sources: tuple[HeatSource, ...]) -> Iterator[Question]:
    """Uses whose shares do not make 100 %."""
    for field, use in SERVES.items():
        total = share_total(sources, field)
        if sources and abs(total - 1) > 1e-6 and not (field == OPTIONAL and total == 0):
            yield Question(sources[0].id, field, f"Shares of {use} total {total * 100:.1f} %, not 100 %")
