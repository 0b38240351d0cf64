"""The ladder of an option: its upgrades in order as steps, each alone, in order and taken last, with what it costs and saves."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.use_stages import USES
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import FACE, OPENING
from nuthatch.core.graph.progress import tell
from nuthatch.core.household.stages import PEOPLE
from nuthatch.core.model.home import BuildUp, Home, OpeningType
from nuthatch.core.model.options import Option, Upgrade
from nuthatch.core.options.applied import Put, all_on, in_order, put, put_all
from nuthatch.core.options.money import Money, Rates, Tariff, cost_of, money, rates_of, tariffs_of
from nuthatch.core.solid.stages import REFERENCE
from nuthatch.core.targets.verdict import Verdict
from nuthatch.core.trials import asked_for, figures_trial, home_trial

MEASURES = ("heating_demand", "heating_load", "primary_energy", "co2", "energy_cost", "overheating_share")
"""What a ladder may go down by; points of sets join them."""
USE_NAMES = ("heating", "hot water", "cooling", "fans and pumps", "lights and appliances", "own electricity")


Figures = Mapping[str, float | None]


@dataclass(frozen=True, eq=False)
class State:
    """A home as an option leaves it: figures by key, final energy [kWh] by (use, carrier), verdicts, what can be counted of its faces."""

    figures: Mapping[str, float | None]
    energy: Mapping[tuple[str, str], float | None]
    verdicts: tuple[Verdict, ...] = ()
    faces: Mapping[str, tuple[str, float]] = field(default_factory=dict)
    """Build-up and net area [m²] by face."""
    openings: Mapping[str, tuple[str, float, float]] = field(default_factory=dict)
    """Type, area [m²] and number by row of openings."""
    around: Mapping[str, float | None] = field(default_factory=dict)
    """What is to be alike in base and option: people, reference floor area [m²], hot water drawn [l/d]."""
    made_of: Mapping[str, BuildUp | OpeningType] = field(default_factory=dict)
    """Build-ups and opening types by id."""

    @property
    def final(self) -> float | None:
        """All final energy [kWh/a]; None where a use is not known."""
        return None if any(v is None for v in self.energy.values()) else float(sum(v or 0.0 for v in self.energy.values()))


@dataclass(frozen=True, eq=False)
class Rung:
    """One upgrade of a ladder: why it cannot be put (else ''); its effect on each measure alone, in order and taken last (below 0: less), None
    where it is not known; the state after it; cost and what it saves, in order."""

    upgrade: Upgrade
    why: str
    alone: Mapping[str, float | None]
    ordered: Mapping[str, float | None]
    last: Mapping[str, float | None]
    after: State
    money: Money
    area: float = 0.0
    pieces: float = 0.0


@dataclass(frozen=True, eq=False)
class Ladder:
    """An option on its base: where it starts, its steps, what all of it comes to."""

    option: Option
    base: State
    rungs: tuple[Rung, ...]
    money: Money
    home: Home | None = None
    """The home with all of it; None where there is nothing on it."""

    @property
    def end(self) -> State:
        return self.rungs[-1].after if self.rungs else self.base


NAMED = {
    "heating": "heating", "hot water": "hot water", "cooling": "cooling", "household": "lights and appliances", "own electricity": "own electricity",
}  # fmt: skip
"""What energy is used for, as savings are told by."""


def state_of(a: Assessment) -> State:
    """What is compared of an assessed home."""
    keys = [*(k for k in MEASURES if k in a.figures), *(k for k in a.figures if k.startswith("points_"))]
    figures = {k: _number(a.figures[k].value) for k in keys}
    energy: dict[tuple[str, str], float | None] = {}
    for use in a[USES]:
        key = (NAMED.get(use.use, "fans and pumps"), use.carrier.id if use.carrier is not None else "")
        value, known = _number(use.energy.value), energy.get(key, 0.0)
        energy[key] = None if value is None or known is None else known + value
    faces = {i: (e.boundary.buildup if e.boundary is not None else "", _area(e)) for i, e in a.all_of(FACE).items()}
    rows = {o.id: o for o in a.home.openings}
    openings = {
        i: (rows[i].type, _area(e), float(count.value) if (count := rows[i].count) is not None else 1.0)
        for i, e in a.all_of(OPENING).items()
        if i in rows
    }
    made_of: dict[str, BuildUp | OpeningType] = {b.id: b for b in a.home.buildups}
    made_of |= {t.id: t for t in a.home.opening_types}
    return State(figures, energy, a.verdicts, faces, openings, _around(a), made_of)


def _around(a: Assessment) -> dict[str, float | None]:
    people, area, litres = _number(a[PEOPLE].value), _number(a[REFERENCE].value), a.home.water.litres
    drawn = None if people is None or litres is None else people * litres.value
    return {"people": people, "reference floor area": area, "hot water drawn": drawn}


def _number(value: object) -> float | None:
    return None if value is None else float(value)  # type: ignore[arg-type]


def _area(element: Element) -> float:
    value = element.area.value if element.area is not None else None
    return 0.0 if value is None else float(value)


def _needed(home: Home) -> frozenset[str]:
    """The figures a state of a ladder rests on: the measures, and what targets judge."""
    return frozenset(MEASURES) | asked_for(home.target_sets)


def figures_of(a: Assessment, home: Home) -> Figures:
    """The measures of a home differently: those of the home as designed alone, where no set gives points."""
    if any(s.points_needed is not None for s in home.target_sets):
        return state_of(home_trial(a, home, True, _needed(home))).figures
    found = figures_trial(a, home, frozenset(MEASURES))
    return {k: _number(found[k].value) for k in MEASURES if k in found}


def compared(before: Figures, after: Figures) -> dict[str, float | None]:
    """By how much each measure moves."""
    return {k: _minus(after.get(k), v) for k, v in before.items()}


def _minus(a: float | None, b: float | None) -> float | None:
    return None if a is None or b is None else a - b


def saved(before: State, after: State, tariffs: Mapping[str, Tariff]) -> tuple[float | None, float | None]:
    """(money, kWh) of final energy saved in a year, standing charges of carriers come and gone included; None where a use, or a price that
    would tell, is not known."""
    total: float | None = sum(t.standing * (uses(before, c) - uses(after, c)) for c, t in tariffs.items() if t.standing)
    energy = 0.0
    for key in before.energy.keys() | after.energy.keys():
        old, new = before.energy.get(key, 0.0), after.energy.get(key, 0.0)
        if old is None or new is None:
            return None, None
        energy += old - new
        price = tariffs[key[1]].price if key[1] in tariffs else None
        if abs(old - new) > 1e-9:
            total = None if price is None or total is None else total + price * (old - new)
    return total, energy


def uses(state: State, carrier: str) -> bool:
    """Whether anything of a carrier is used."""
    return any(v > 0 for k, v in state.energy.items() if k[1] == carrier and v is not None)


def touches(before: State, after: State) -> tuple[float, float]:
    """(net area [m²] of faces and openings that are made otherwise, or are new; number of such openings)."""

    def otherwise(kind: str, was: str) -> bool:
        return kind != was or after.made_of.get(kind) != before.made_of.get(kind)

    area = sum(a for i, (kind, a) in after.faces.items() if otherwise(kind, before.faces.get(i, ("-", 0.0))[0]))
    changed = [(a, n) for i, (kind, a, n) in after.openings.items() if otherwise(kind, before.openings.get(i, ("-", 0.0, 0.0))[0])]
    return area + sum(a for a, _ in changed), sum(n for _, n in changed)


def ladder(a: Assessment, option: Option, effects: bool = True) -> Ladder:
    """An option on a home. effects: also each upgrade alone and taken last; without, only in order."""
    base, rates = state_of(a), rates_of(a.home.economy)
    upgrades = in_order(a.home, option)
    puts = put_all(a.home, upgrades)
    tariffs = {**(tariffs_of(puts[-1].home) if puts else {}), **tariffs_of(a.home)}  # one that comes with an upgrade has its own
    states, last_of = [base], a
    for n, one in enumerate(puts):  # each from the one before: only what the upgrade touches is worked out
        last_of = last_of if one.why else home_trial(last_of, one.home, True, _needed(one.home))
        states.append(states[-1] if one.why else state_of(last_of))
        tell((n + 1) / (3 * len(puts)))

    rungs = []
    for n, one in enumerate(puts):
        before, after = states[n], states[n + 1]
        none = dict.fromkeys(base.figures)
        alone = last = none
        if effects:
            single = put(a.home, one.upgrade)
            alone = compared(base.figures, figures_of(a, single.home)) if not single.why else none
            last = _taken_last(a, puts, n, states[-1], last_of) if not one.why else none
            tell((len(puts) + 2 * (n + 1)) / (3 * len(puts)))
        area, pieces = touches(before, after)
        cost = cost_of(one.upgrade, area, pieces)
        gained = saved(before, after, tariffs)
        rungs.append(
            Rung(
                one.upgrade, one.why, alone, compared(before.figures, after.figures) if not one.why else none, last, after,
                _money(rates, ((one.upgrade, 0.0 if one.why else cost),), gained), area, pieces,
            )
        )  # fmt: skip
    parts = tuple((r.upgrade, r.money.cost) for r in rungs if not r.why)
    whole = puts[-1].home if puts else None
    return Ladder(option, base, tuple(rungs), _money(rates, parts, saved(base, states[-1], tariffs)), whole)


def _money(rates: Rates, parts: tuple[tuple[Upgrade, float | None], ...], gained: tuple[float | None, float | None]) -> Money:
    """Without a known saving nothing but the cost is known."""
    cash, energy = gained
    made = money(rates, parts, cash or 0.0, energy or 0.0)
    if cash is None:
        made = replace(made, saved_money=None, present=None, payback=None)
    return made if energy is not None else replace(made, saved_energy=None, per_kwh=None)


def _taken_last(a: Assessment, puts: tuple[Put, ...], n: int, end: State, whole: Assessment) -> dict[str, float | None]:
    """All but one, then that one; worked out from the home with all, `whole`."""
    others = (*puts[:n], *puts[n + 1 :])
    home = all_on(a.home, [p.upgrade for p in others])
    if home is None:
        rest = put_all(a.home, (p.upgrade for p in others))
        if any(p.why and not q.why for p, q in zip(rest, others, strict=True)):
            return dict.fromkeys(end.figures)  # another stands on what this one brings: it cannot come last
        home = rest[-1].home
    return compared(figures_of(whole, home), end.figures)


def greatest_first(a: Assessment, option: Option, measure: str) -> tuple[str, ...]:
    """The ids of an option's upgrades so that each step lowers a measure the most of those that are left, each step anew."""
    left, here, order = list(in_order(a.home, option)), a, []
    while left:
        tries: list[tuple[float, int, Home]] = []
        for n, upgrade in enumerate(left):
            one = put(here.home, upgrade)
            value = None if one.why else figures_of(here, one.home).get(measure)
            tries.append((float("inf") if value is None else value, n, one.home))
        _, n, home = min(tries, key=lambda t: t[:2])
        here = home_trial(here, home, True, _needed(home))
        order.append(left.pop(n).id)
    return tuple(order)


def cheapest_first(made: Ladder) -> tuple[str, ...]:
    """By cost of a saved kilowatt hour; what has none comes last."""
    ranked: Iterable[Rung] = sorted(made.rungs, key=lambda r: r.money.per_kwh if r.money.per_kwh is not None else float("inf"))
    return tuple(r.upgrade.id for r in ranked)
