"""Options in rows: the steps of a ladder, base and options side by side, what closes a gap; in words and as data."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.sources import factor_of
from nuthatch.core.model.home import Home
from nuthatch.core.options.chance import First
from nuthatch.core.options.gap import Closed
from nuthatch.core.options.ladder import USE_NAMES, Ladder, Rung, State, uses
from nuthatch.core.options.packages import Package
from nuthatch.core.units import show, unit_of, with_unit

KINDS = {
    "heating_demand": "specific_energy",
    "heating_load": "heat_flux",
    "primary_energy": "specific_energy",
    "co2": "co2",
    "energy_cost": "money",
    "overheating_share": "percent",
}
NAMES = {
    "heating_demand": "Heating demand",
    "heating_load": "Heating load",
    "primary_energy": "Primary energy",
    "co2": "CO₂",
    "energy_cost": "Cost of energy",
    "overheating_share": "Too warm",
}
STEP_HEADS = ("Upgrade", "Cost", "Saves kWh/a", "Saves a year", "Payback", "A saved kWh", "Alone", "In order", "Last")


def kind_of_measure(key: str) -> str:
    return KINDS.get(key, "points")


def name_of_measure(a: Assessment, key: str) -> str:
    """“Heating demand”, or what a figure calls itself."""
    return NAMES.get(key) or (a.figures[key].label if key in a.figures else key)


def moved(value: float | None, kind: str) -> str:
    """“−16.2”, “+0.3”, “?”."""
    if value is None:
        return "?"
    words = show(abs(value), kind)
    zero = not any(c in "123456789" for c in words)
    return words if zero else f"{'−' if value < 0 else '+'}{words}"


def cash(value: float | None, currency: str) -> str:
    """“£ 9 500”, “−£ 300”, “?”."""
    if value is None:
        return "?"
    sign = "−" if value < -0.5 else ""
    return f"{sign}{currency}\u202f{show(abs(value), 'cost')}" if currency else f"{sign}{show(abs(value), 'cost')}"


def years(value: float | None, saves: float | None) -> str:
    """A payback: “12 a”, “never”, “?” where the cost is not known."""
    if value is not None:
        return f"{value:.0f} a" if value >= 1 else f"{value:.1f} a"
    return "never" if saves is not None and saves <= 0 else "?"


def step_cells(rung: Rung, measure: str, home: Home) -> tuple[str, ...]:
    """A step of a ladder as a row of STEP_HEADS."""
    m, kind, currency = rung.money, kind_of_measure(measure), home.currency
    if rung.why:
        return (rung.upgrade.name, "", "", "", "", "", "", rung.why, "")
    return (
        rung.upgrade.name,
        cash(m.cost, currency),
        show(m.saved_energy, "energy") if m.saved_energy is not None else "?",
        cash(m.saved_money, currency),
        years(m.payback, m.saved_money if m.extra is not None else None),
        f"{currency}{m.per_kwh:.2f}"
        if m.per_kwh is not None
        else "none"
        if m.saved_energy is not None and m.saved_energy <= 0 and m.extra is not None
        else "?",
        *(moved(e.get(measure), kind) for e in (rung.alone, rung.ordered, rung.last)),
    )


SAVINGS = {"%": "savings in %", "energy": "savings in energy", "money": "savings in money", "co2": "savings in CO₂"}
"""Ways a saving beside an amount is said."""


def side_by_side(a: Assessment, base: State, known: Sequence[tuple[str, Ladder]], saving: str = "%") -> list[tuple[str, ...]]:
    """Rows (what, base, each option …): measures, end uses, carriers, cost, targets. What falls to zero stays in its place. saving: one of
    SAVINGS, for what stands in brackets beside end uses and carriers."""
    said = _saving(a, known, saving)
    states = [base, *(made.end for _, made in known)]
    rows: list[tuple[str, ...]] = []
    for key in base.figures:
        kind = kind_of_measure(key)
        unit = unit_of(kind)
        rows.append((f"{name_of_measure(a, key)}{', ' + unit if unit else ''}", *(_shown(s.figures.get(key), kind) for s in states)))
    for use in USE_NAMES:
        rows.append((f"{use.capitalize()}, {unit_of('energy')}", *(said.of(s, base, 0, use) for s in states)))
    names = {c.id: c.name for home in (*_homes(known), a.home) for c in home.carriers}
    for carrier in dict.fromkeys(k[1] for s in states for k in s.energy):
        rows.append((f"{names.get(carrier, 'no carrier')}, {unit_of('energy')}", *(said.of(s, base, 1, carrier) for s in states)))
    for what in base.around:
        values = [s.around.get(what) for s in states]
        if any(_differs(v, values[0]) for v in values):
            kind = "area" if "area" in what else "count" if what == "people" else "litres"
            rows.append(
                (f"Not alike besides: {what}", *("?" if v is None else f"{v:.2f}" if kind == "count" else show(v, kind) for v in values))
            )
    rows.append((f"All final energy, {unit_of('energy')}", *(said.of(s, base, -1, "") for s in states)))
    currency = a.home.currency
    rows.append(("Cost", "", *(cash(made.money.cost, currency) for _, made in known)))
    rows.append(("Saved in the first year", "", *(cash(made.money.saved_money, currency) for _, made in known)))
    rows.append(("Net present value", "", *(cash(made.money.present, currency) for _, made in known)))
    for v in base.verdicts:
        after = [next((x.standing for x in s.verdicts if (x.set_id, x.name) == (v.set_id, v.name)), "") for s in states]
        rows.append((f"{v.set_name} · {v.name}", *after))
    return rows


def _shown(value: float | None, kind: str) -> str:
    return "?" if value is None else show(value, kind)


def _differs(value: float | None, base: float | None) -> bool:
    return (value is None) != (base is None) or (value is not None and base is not None and abs(value - base) > 1e-6 * max(abs(base), 1.0))


@dataclass(frozen=True)
class _Saving:
    """How a saving is said: by which of SAVINGS; what a kilowatt hour of each carrier counts (None where that is not known), and having the
    carrier at all; the currency."""

    by: str
    worth: Mapping[str, float | None]
    standing: Mapping[str, float]
    currency: str

    def of(self, state: State, base: State, at: int, name: str) -> str:
        """“6 240 (−87 %)”, “6 240 (−£ 512)”: an amount of a use (at 0), a carrier (1) or all, with the change from the base beside it."""
        now = _total([v for k, v in state.energy.items() if at < 0 or k[at] == name])
        change = self.change(state, base, at, name) if state is not base else ""
        return "?" if now is None else show(now, "energy") + (f" ({change})" if change else "")

    def change(self, state: State, base: State, at: int, name: str) -> str:
        """By how much it changes; '' where it does not."""
        keys = [k for k in {**base.energy, **state.energy} if at < 0 or k[at] == name]
        moves = {k: _minus(state.energy.get(k, 0.0), base.energy.get(k, 0.0)) for k in keys}
        if all(m is not None and abs(m) < 0.5 for m in moves.values()):
            return ""
        if self.by == "%":
            was, change = _total([base.energy.get(k, 0.0) for k in keys]), _total(list(moves.values()))
            return "?" if was is None or change is None else f"{100 * change / was:+.0f} %".replace("-", "−") if was else "from none"
        amount = _total([_times(m, self.worth.get(k[1])) for k, m in moves.items()])
        if amount is not None and at != 0:  # what it costs to have a carrier goes with no use of its own
            amount += sum(s * (uses(state, c) - uses(base, c)) for c, s in self.standing.items() if at < 0 or c == name)
        return self._said(amount)

    def _said(self, change: float | None) -> str:
        if self.by == "money":
            words = cash(change, self.currency)
            return words if change is None or change <= 0.5 else f"+{words}"
        kind = "energy" if self.by == "energy" else "co2_mass"
        return f"{moved(change, kind)} {unit_of(kind)}"


def _saving(a: Assessment, known: Sequence[tuple[str, Ladder]], by: str) -> _Saving:
    """What a kilowatt hour of each carrier counts in a way of saying a saving; a carrier that comes with an upgrade has its own."""
    field = {"money": "price", "co2": "co2"}.get(by)
    every = {c.id: c for home in (*_homes(known), a.home) for c in home.carriers}
    worth = {i: 1.0 if field is None else float(v) if (v := factor_of(c, field).value) is not None else None for i, c in every.items()}
    standing = {i: c.standing.value for i, c in every.items() if c.standing is not None} if by == "money" else {}
    return _Saving(by, worth, standing, a.home.currency)


SAVED_HEADS = ("What", "Energy", "Money", "CO₂", "%")


def saved_rows(a: Assessment, name: str, made: Ladder) -> list[tuple[str, ...]]:
    """What an option saves, by end use, by carrier and in all: rows of SAVED_HEADS, what does not change “0”."""
    ways = [_saving(a, [(name, made)], by) for by in ("energy", "money", "co2", "%")]
    carriers = {c.id: c.name for home in (*_homes([(name, made)]), a.home) for c in home.carriers}
    used = dict.fromkeys(k[1] for s in (made.base, made.end) for k in s.energy)
    asked = [*((use.capitalize(), 0, use) for use in USE_NAMES), *((carriers.get(c, "no carrier"), 1, c) for c in used), ("All", -1, "")]
    return [(what, *(w.change(made.end, made.base, at, key) or "0" for w in ways)) for what, at, key in asked]


def _homes(known: Sequence[tuple[str, Ladder]]) -> list[Home]:
    """The homes of options, as far as their ladders keep them."""
    return [made.home for _, made in known if made.home is not None]


def _minus(a: float | None, b: float | None) -> float | None:
    return None if a is None or b is None else a - b


def _times(move: float | None, worth: float | None) -> float | None:
    """What does not move counts nothing, even where it is not known what it would."""
    return 0.0 if move is not None and abs(move) < 1e-9 else None if move is None or worth is None else move * worth


def _total(values: Sequence[float | None]) -> float | None:
    return None if any(v is None for v in values) else float(sum(v or 0.0 for v in values))


def gap_cells(row: Closed) -> tuple[str, str, str]:
    """(lever, what would close the gap, what it leaves)."""
    kind = KINDS.get(row.figure, "ach" if row.figure == "n50" else "")
    left = (
        ""
        if row.leaves is None
        else f"{show(abs(row.leaves), kind) if kind else f'{abs(row.leaves):.2f}'} {'over' if row.leaves > 0 else 'inside'}"
    )
    if row.unknown:
        return row.name, "cannot be tried here", ""
    if row.at is None:
        words = "not by this alone" if row.leaves is None or row.leaves > 0 else "met at any value"
        return row.name, words, f"at its best {left}"
    step = ", in a jump" if row.jumps else ""
    return row.name, f"{show(row.today, row.kind)} → {with_unit(row.at, row.kind)}{step}", ""


FIRST_HEADS = ("Value", "Is", "Carries", "As entered, it passes")


def first_cells(row: First) -> tuple[str, str, str, str]:
    """A value worth measuring as a row of FIRST_HEADS."""
    return row.name, row.basis, f"{100 * row.share:.0f} %", f"{100 * row.then:.0f} %"


def package_rows(made: Package, home: Home) -> list[tuple[str, tuple[str, str]]]:
    """What a set of upgrades consists of, and what it costs: (id, (words, money))."""
    names = {u.id: u.name for u in home.upgrades}
    rows = [(i, (names.get(i, i), cash(c, home.currency))) for i, c in zip(made.upgrades, made.costs, strict=True)]
    if made.met and not rows:
        return [("", ("It is met as it is: nothing needs to be done.", ""))]
    how = f"{made.tried} sets looked at" + (
        ", every cheaper one among them"
        if made.exhaustive and made.met
        else ""
        if made.exhaustive
        else ": a search, there may be a cheaper one"
    )
    over = f"{100 * made.margin:.1f} % over at the nearest" if not made.met and made.margin < 1e9 else ""
    said = (
        f"Together, {how}"
        if made.met
        else f"Not met by any set; this comes nearest, {over} ({how})"
        if rows
        else f"No set can be had within this ({how})"
    )
    left = [("", (f"Left out, for its cost is not known: {', '.join(names.get(i, i) for i in made.without)}", ""))] if made.without else []
    return [*rows, ("", (said, cash(made.cost, home.currency) if rows else "")), *left]


def as_data(made: Ladder) -> dict[str, object]:
    """A ladder as JSON: money in the home's currency, energy in kWh, figures in their metric units."""
    return {
        "option": made.option.name,
        "base": dict(made.base.figures),
        "end": dict(made.end.figures),
        "cost": made.money.cost,
        "saved_energy": made.money.saved_energy,
        "saved_money": made.money.saved_money,
        "net_present_value": made.money.present,
        "payback": made.money.payback,
        "upgrades": [
            {
                "name": r.upgrade.name,
                "why_not": r.why or None,
                "cost": r.money.cost,
                "saved_energy": r.money.saved_energy,
                "saved_money": r.money.saved_money,
                "payback": r.money.payback,
                "cost_of_a_saved_kwh": r.money.per_kwh,
                "area": r.area,
                "alone": dict(r.alone),
                "in_order": dict(r.ordered),
                "last": dict(r.last),
            }
            for r in made.rungs
        ],
        "targets": [{"set": v.set_name, "target": v.name, "standing": v.standing} for v in made.end.verdicts],
    }


def as_text(made: Ladder, measure: str, a: Assessment) -> str:
    """A ladder line by line, in the units shown."""
    kind = kind_of_measure(measure)
    lines = [f"{made.option.name}: {name_of_measure(a, measure)} {_shown(made.base.figures.get(measure), kind)} → {_unit(made, measure)}"]
    rows = [STEP_HEADS, *(step_cells(r, measure, a.home) for r in made.rungs)]
    wide = [max(len(r[n]) for r in rows) for n in range(len(STEP_HEADS))]
    for r in rows:
        lines.append("  " + "  ".join(c.ljust(w) if n == 0 else c.rjust(w) for n, (c, w) in enumerate(zip(r, wide, strict=True))).rstrip())
    m = made.money
    lines.append(
        f"  all: cost {cash(m.cost, a.home.currency)}, saved a year {cash(m.saved_money, a.home.currency)}, net present value {cash(m.present, a.home.currency)}"
    )
    missed = [f"{v.set_name} · {v.name}" for v in made.end.verdicts if v.standing == "over"]
    lines.append("  missed after it: " + (", ".join(missed) if missed else "none"))
    return "\n".join(lines) + "\n"


def _unit(made: Ladder, measure: str) -> str:
    value = made.end.figures.get(measure)
    return "?" if value is None else with_unit(value, kind_of_measure(measure))
