"""What `nuthatch options HOME` works out: the ladders of a home's options, and what closes the gap to a target."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from nuthatch.named_home import Refused

if TYPE_CHECKING:
    from nuthatch.core.assess import Assessment
    from nuthatch.core.climate.climate import Climate
    from nuthatch.core.model.home import Home
    from nuthatch.core.model.options import Option
    from nuthatch.core.options.gap import Closed
    from nuthatch.core.options.ladder import Ladder

OVER, UNKNOWN, MET = 1, 3, 0
Answer = tuple[dict[str, object] | str, int]
"""Data where JSON was asked for, else a text; and the exit code."""


def asks(parser: ArgumentParser) -> None:
    """What the command is told."""
    parser.add_argument("file", help="a .nuthatch file, or the name of a demo home")
    parser.add_argument("--option", metavar="NAME", help="one of them, by name or id")
    measures = "heating_demand, heating_load, primary_energy, co2, energy_cost, overheating_share"
    parser.add_argument("--measure", default="heating_demand", help=f"what the ladder goes down by: {measures}")
    parser.add_argument("--gap", metavar="TARGET", help="also what closes the gap to a target, as “set · target”")
    parser.add_argument("--chance", metavar="TARGET", help="also the chance of passing, of a target or of a whole set by its name")
    parser.add_argument(
        "--cheapest", metavar="TARGET", help="also the cheapest set of the home's upgrades that meets a target, or a whole set"
    )
    parser.add_argument("--most", type=int, metavar="N", help="with --cheapest: at most so many upgrades")
    parser.add_argument("--budget", type=float, metavar="MONEY", help="with --cheapest: at most so much")
    parser.add_argument("--json", action="store_true", help="print everything as one JSON object")
    parser.add_argument("--csv", metavar="OUT.csv", help="write the steps; .xlsx writes a spreadsheet")
    parser.add_argument("--climate", metavar="FILE", help="an EPW weather file to use instead of the home's own")


def named(home: Home, file: str, name: str | None) -> tuple[Option, ...]:
    """The options that are meant: one by its name or id, else all. Raises Refused where there is none."""
    chosen = tuple(o for o in home.options if not name or name in (o.name, o.id))
    if not chosen:
        known = ", ".join(o.name for o in home.options) or "none"
        raise Refused(f"{file}: no option “{name}”; it has {known}" if name else f"{file}: the home has no options")
    return chosen


def worked(home: Home, climate: Climate | None, given: Namespace) -> Answer:
    """The ladders of the options, what closes a gap; the exit code is that of the first: 0 all met, 1 some missed, 3 some unknown."""
    from nuthatch.core.assess import assess
    from nuthatch.core.graph.runner import Stores
    from nuthatch.core.library import results_on_disk
    from nuthatch.core.options.gap import closed
    from nuthatch.core.options.ladder import ladder
    from nuthatch.core.views.options.rows import NAMES

    alone = not home.options and not given.option and bool(given.gap or given.chance or given.cheapest)  # asked of the home as it is
    chosen = () if alone else named(home, given.file, given.option)
    a = assess(home, climate, stores=Stores(slow=results_on_disk()))
    if given.measure not in a.figures:
        raise Refused(f"no figure “{given.measure}”: the ladder goes down by {', '.join(NAMES)}")
    targets = {f"{v.set_name} · {v.name}": (v.set_id, v.name) for v in a.verdicts}
    wholes = {s.name: (s.id, "") for s in home.target_sets}
    for asked, keys in ((given.gap, targets), (given.chance, {**targets, **wholes}), (given.cheapest, {**targets, **wholes})):
        if asked and asked not in keys:
            there = "; ".join(keys)
            raise Refused(f"no target “{asked}”: it has {there}")
    known = [ladder(a, o) for o in chosen]
    answers = closed(a, targets[given.gap]) if given.gap else ()
    more = _more(a, chosen, given, {**targets, **wholes})
    if given.csv:
        _write(a, known, given)
    standings = {v.standing for v in (known[0].end.verdicts if known else a.verdicts) if not v.voluntary}
    code = OVER if "over" in standings else UNKNOWN if standings - {"inside"} else MET
    return ({**_data(a, known, answers), **more} if given.json else _text(a, known, answers, given) + _words(more)), code


def _more(a: Assessment, chosen: tuple[Option, ...], given: Namespace, keys: dict[str, tuple[str, str]]) -> dict[str, object]:
    """The chance of passing and the cheapest set, as data, where they are asked for."""
    from nuthatch.core.options.applied import home_with
    from nuthatch.core.options.chance import chance_of, sampled
    from nuthatch.core.options.packages import Within, cheapest
    from nuthatch.core.trials import home_trial

    found: dict[str, object] = {}
    if given.chance:
        key, rows = keys[given.chance], []
        for name, home in (("as it is", a.home), *((o.name, home_with(a.home, o)) for o in chosen)):
            chance = chance_of(sampled(home_trial(a, home, wait=True), of=key[0]), key, a.verdicts)
            firsts = (
                [{"value": f.name, "part": f.part, "field": f.field, "carries": f.share, "then": f.then} for f in chance.firsts]
                if chance
                else []
            )
            rows.append({"home": name, "chance": chance.chance if chance else None, "error": chance.error if chance else None,
                         "words": chance.words if chance else "not known", "measure_first": firsts})  # fmt: skip
        found["chance"] = {"target": given.chance, "homes": rows}
    if given.cheapest:
        one = cheapest(a, a.home.upgrades, keys[given.cheapest], Within(given.most, given.budget))
        names = {u.id: u.name for u in a.home.upgrades}
        found["cheapest"] = {
            "target": given.cheapest, "met": one.met, "upgrades": [names[i] for i in one.upgrades], "cost": one.cost,
            "over_by": one.margin if one.margin < 1e9 else None, "sets_looked_at": one.tried, "every_cheaper_set": one.exhaustive,
            "cost_not_known": [names[i] for i in one.without],
        }  # fmt: skip
    return found


def _words(more: dict[str, object]) -> str:
    """The chance and the cheapest set line by line."""
    lines: list[str] = []
    chance: Any = more.get("chance")
    for row in chance["homes"] if chance else ():
        lines.append(f"Likely to meet {chance['target']}, {row['home']}: {row['words']}")
        lines += [
            f"  measure first: {f['value']} ({100 * f['carries']:.0f} % of it; as entered: {100 * f['then']:.0f} %)"
            for f in row["measure_first"][:3]
        ]
    one: Any = more.get("cheapest")
    if one:
        how = f"{one['sets_looked_at']} sets looked at" + ("" if one["every_cheaper_set"] else ", a search: there may be a cheaper one")
        said = f"{', '.join(one['upgrades']) or 'nothing needs to be done'}: {one['cost']:.0f}" if one["met"] else "no set meets it"
        lines.append(f"The cheapest set for {one['target']}: {said} ({how})")
    return "\n" + "\n".join(lines) + "\n" if lines else ""


def _write(a: Assessment, known: list[Ladder], given: Namespace) -> None:
    from nuthatch.core.exchange.sheet_files import save
    from nuthatch.core.files.homefile import HomeFileError
    from nuthatch.core.views.options.sheets import steps_sheet

    try:
        save(steps_sheet(a, known, given.measure), Path(given.csv))
    except HomeFileError as problem:
        raise Refused(str(problem)) from None


def _data(a: Assessment, known: list[Ladder], answers: tuple[Closed, ...]) -> dict[str, object]:
    from nuthatch.core.views.options.rows import as_data

    gap = [{"lever": x.name, "kind": x.kind, "today": x.today, "at": x.at, "leaves": x.leaves} for x in answers]
    return {"home": a.home.name, "currency": a.home.currency, "options": [as_data(x) for x in known], **({"gap": gap} if gap else {})}


def _text(a: Assessment, known: list[Ladder], answers: tuple[Closed, ...], given: Namespace) -> str:
    from nuthatch.core.views.options.rows import as_text, gap_cells

    text = "\n".join(as_text(x, given.measure, a) for x in known)
    if answers:
        text += f"\nWhat closes the gap to {given.gap}\n" + "".join("  " + ": ".join(c for c in gap_cells(x) if c) + "\n" for x in answers)
    return text
