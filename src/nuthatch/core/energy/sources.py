"""Delivered energy by source and use, weighted by carrier."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from nuthatch.core.climate.calendar import MONTH_HOURS_LEAF
from nuthatch.core.energy import carriers, heat_pump
from nuthatch.core.model.heat import Carrier, HeatSource
from nuthatch.core.results.calculation import Calculation, take
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Entered, Figure, Known, Node, Unknown, missing
from nuthatch.core.results.question import Question

SERVES = {"heating_share": "heating", "water_share": "hot water", "cooling_share": "cooling"}
OPTIONAL = "cooling_share"
"""A use that no source need serve where there is none of it."""
BILLED = {"m³": 10.0, "therm": 29.3071, "l": 10.0, "kg": 4.8, "stacked m³": 1800.0}
"""Energy in a unit as billed [kWh]: gas, the therm by definition, oil, pellets, air-dried logs; common practice, no source."""


@dataclass(frozen=True, eq=False)
class EnergyUse:
    """One use of delivered energy. `use`: what for; `source`: the id of what makes it, `field`: of which of its shares; `spread`: what it is
    parted by among the months, (12,)."""

    name: str
    carrier: Carrier | None
    energy: Figure
    use: str
    source: str = ""
    field: str = ""
    spread: Node = MONTH_HOURS_LEAF


@dataclass(frozen=True, eq=False)
class Performs:
    """A source on one use, where the months tell it: the heat it makes in each [kWh], heat over energy in it (None: its efficiency), and what
    it leaves to the one that takes over; (12,) each."""

    heat: Figure
    factor: Figure | None = None
    rest: Figure | None = None


Made = Mapping[tuple[str, str], Performs]
"""By the id of the source and the field of its share."""
Demands = Mapping[str, tuple[Figure, Figure]]
"""By field of the share: heat of the year, and of its months."""


def share_total(sources: tuple[HeatSource, ...], field: str) -> float:
    """Sum of one use's shares over the sources."""
    return float(sum(s[field].value for s in sources if s[field] is not None))


@dataclass(frozen=True, eq=False)
class Uses:
    """What delivered energy rests on."""

    sources: tuple[HeatSource, ...]
    by_id: Mapping[str, Carrier]
    current: str
    made: Made

    @property
    def power(self) -> Carrier | None:
        """The carrier of fans, household and auxiliaries."""
        return self.by_id.get(self.current)


def uses(known: Uses, demands: Demands, plain: Mapping[str, tuple[str, Figure]]) -> tuple[EnergyUse, ...]:
    """Delivered energy of all uses; plain: by name (what for, electricity of the year)."""
    found: list[EnergyUse] = []
    for field, (year, months) in demands.items():
        found += _served(known, field, year, months)
    for s in known.sources:
        found += _running(s, known.power)
    found += [EnergyUse(name, known.power, energy, use) for name, (use, energy) in plain.items()]
    return tuple(found)


def _running(s: HeatSource, power: Carrier | None) -> Iterator[EnergyUse]:
    """Pumps and standby of a source."""
    if s.auxiliary is not None:
        energy = take(f"{s.name}, auxiliary electricity", "energy", need(s, "auxiliary"))
        yield EnergyUse(f"{s.name}, auxiliary", power, energy, "auxiliary", s.id)
    if s.standby is not None:
        yield EnergyUse(f"{s.name}, standby", power, carriers.standby.figure(power=need(s, "standby")), "auxiliary", s.id)


def efficiency_of(s: HeatSource, field: str) -> Node:
    """How well a source serves a use where no sheet says it."""
    own = "cooling_performance" if field == OPTIONAL and s.cooling_performance is not None else "efficiency"
    return need(s, own)


def _served(known: Uses, field: str, demand: Figure, months: Figure) -> Iterator[EnergyUse]:
    use = SERVES[field]
    served = [s for s in known.sources if s[field] is not None and s[field].value > 0]
    total = sum(s[field].value for s in served)
    if field == OPTIONAL and not served:
        if isinstance(demand, Known) and demand.value <= 0:
            return
        if not isinstance(demand, Known):
            yield EnergyUse(use, None, demand, use)
            return
    if abs(total - 1) > 1e-6:
        text = f"a heat source for {use}" if not served else f"shares of {use} that total 100 % (now {total * 100:.1f} %)"
        lacking = served or [s for s in known.sources if s[field] is None]
        part, led = (lacking[0].id, field) if lacking else ("home", "sources")
        yield EnergyUse(use, None, missing(f"Energy for {use}", "energy", text, part, led), use)
        return
    for s in served:
        performs = known.made.get((s.id, field))
        if performs is None:
            lost = s.distribution is not None and field == "heating_share"
            heat = carriers.with_distribution.figure(demand=demand, lost=need(s, "distribution")) if lost else demand
            yield from _by_carrier(known, s, field, heat, months)
        else:
            yield from _by_month(known, s, field, performs.heat, f"{s.name}, {use}")
            if performs.rest is not None:
                yield from _taken_over(known, s, field, performs.rest)


def parts_of(s: HeatSource) -> list[tuple[str, Node | None, str]]:
    """(carrier, share of the source's heat or None for all, id of the further carrier or '') of a source."""
    further = [f for f in s.further if f.share is not None and f.share.value > 0]
    if not further:
        return [(s.carrier, None, "")]
    own = carriers.own_share.figure(
        f"Share of the first carrier of {s.name}", further=tuple(need(f, "share", f"share of {s.name}") for f in further)
    )
    return [(s.carrier, own, ""), *((f.carrier, need(f, "share", f"share of {s.name}"), f.id) for f in further)]


def _named(known: Uses, s: HeatSource, use: str, carrier: str, several: bool) -> str:
    held = known.by_id.get(carrier)
    return f"{s.name} by {held.name if held is not None else 'no carrier'}, {use}" if several else f"{s.name}, {use}"


def _own_efficiency(s: HeatSource, field: str, further: str) -> Node:
    other = next((f for f in s.further if f.id == further and f.efficiency is not None), None)
    return need(other, "efficiency", f"efficiency of {s.name}") if other is not None else efficiency_of(s, field)


def _by_carrier(known: Uses, s: HeatSource, field: str, demand: Figure, months: Figure) -> Iterator[EnergyUse]:
    use, rows = SERVES[field], parts_of(s)
    for carrier, part, further in rows:
        share: Node = need(s, field)
        if part is not None:
            share = carriers.share_of_carrier.figure(source=share, carrier=part)
        name = _named(known, s, use, carrier, len(rows) > 1)
        energy = carriers.delivered.figure(name, share=share, demand=demand, efficiency=_own_efficiency(s, field, further))
        yield EnergyUse(name, known.by_id.get(carrier), energy, use, s.id, field, months)


def _by_month(known: Uses, s: HeatSource, field: str, heat: Figure, name: str) -> Iterator[EnergyUse]:
    """Energy for heat a source makes by month, carrier by carrier; a heat pump by its sheet at the performance of the month."""
    performs, rows, use = known.made.get((s.id, field)), parts_of(s), SERVES[field]
    for carrier, part, further in rows:
        made = heat if part is None else carriers.heat_of_carrier.figure(heat=heat, carrier=part)
        by_sheet = performs.factor if performs is not None and not further else None
        factor = by_sheet or _own_efficiency(s, field, further)
        held = known.by_id.get(carrier)
        said = name if len(rows) == 1 else f"{name} by {held.name if held is not None else 'no carrier'}"
        energy = heat_pump.delivered.figure(said, months=made, factor=factor)
        spread = heat_pump.delivered_months.figure(said, months=made, factor=factor) if by_sheet is not None else made
        yield EnergyUse(said, held, energy, use, s.id, field, spread)


NOTHING = 1e-6


def _taken_over(known: Uses, s: HeatSource, field: str, rest: Figure) -> Iterator[EnergyUse]:
    """What a source cannot make, made by the one that takes over."""
    use, left = SERVES[field], rest.value
    if left is not None and float(np.sum(left)) <= NOTHING:
        return
    name = f"what {s.name} leaves, {use}"
    other = next((o for o in known.sources if o.id == s.takes_over and o.id != s.id), None)
    if left is None or other is None:
        wanted = missing(name, "energy", f"a source that takes over what {s.name} cannot make", s.id, "takes_over")
        yield EnergyUse(name, None, rest if left is None else wanted, use, s.id, field)
        return
    limit = known.made.get((other.id, field))
    if limit is not None and limit.rest is not None:
        text = f"a source without a limit of its own that takes over what {s.name} cannot make"
        yield EnergyUse(name, None, missing(name, "energy", text, s.id, "takes_over"), use, s.id, field)
        return
    yield from _by_month(known, other, field, rest, f"{other.name} for {s.name}, {use}")


def price_of(c: Carrier) -> Node:
    """Price of a kWh: as typed, or of the unit it is billed by."""
    if c.billed == "kWh":
        return need(c, "price")
    usual = f"usual of a {c.billed}"
    energy = (
        optional(c, "unit_energy", BILLED[c.billed], usual)
        if c.billed != "therm"
        else Entered("a therm", BILLED["therm"], "energy_month", "rule")
    )
    return carriers.price_of_energy.figure(f"Price of a kWh of {c.name}", unit=need(c, "unit_price"), energy=energy)


def factor_of(c: Carrier, field: str) -> Node:
    """A factor of a carrier, or its price of a kWh."""
    return price_of(c) if field == "price" else need(c, field)


def weighted(calc: Calculation, all_uses: tuple[EnergyUse, ...], field: str, reference: Figure | None) -> Figure:
    """Primary energy or CO₂ per floor area, or the cost of the year: every use by a factor of its carrier."""
    factors: list[Node] = []
    for use in all_uses:
        if isinstance(use.energy, Unknown):
            continue
        if use.carrier is None:
            factors.append(missing("carrier", "factor", f"an energy carrier for {use.name}", "home", "electricity"))
        else:
            factors.append(factor_of(use.carrier, field))
    energies = tuple(u.energy for u in all_uses)
    if reference is None:
        return calc.figure(energies=energies, prices=tuple(factors), standing=tuple(_standing(all_uses)))
    return calc.figure(energies=energies, factors=tuple(factors), area=reference)


def _standing(all_uses: tuple[EnergyUse, ...]) -> Iterator[Node]:
    """The standing charge of every carrier of which anything is used."""
    used = {u.carrier.id: u.carrier for u in all_uses if u.carrier is not None and u.energy.value is not None and float(u.energy.value) > 0}
    yield from (need(c, "standing") for c in used.values() if c.standing is not None)


def share_questions(sources: tuple[HeatSource, ...]) -> Iterator[Question]:
    """Uses whose shares do not make 100 %; further carriers that make more than all of a source's heat, or none of it."""
    for field, use in SERVES.items():
        total = share_total(sources, field)
        if sources and abs(total - 1) > 1e-6 and not (field == OPTIONAL and total == 0):
            yield Question(sources[0].id, field, f"Shares of {use} total {total * 100:.1f} %, not 100 %")
    for s in sources:
        more = sum(f.share.value for f in s.further if f.share is not None)
        if more > 1 + 1e-9:
            yield Question(s.id, "further", f"Further carriers of {s.name} make {more * 100:.0f} % of its heat, more than all of it")
        for f in s.further:
            if f.share is None:
                yield Question(f.id, "share", f"A further carrier of {s.name} has no share and does not count")
