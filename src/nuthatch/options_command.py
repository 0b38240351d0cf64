"""`nuthatch options HOME`: the ladders of a home's options, side by side, and what closes the gap to a target."""

from __future__ import annotations

from pathlib import Path

from nuthatch.core.files.disk import printable
from nuthatch.core.units import METRIC, use
from nuthatch.named_home import Refused, read_home

OVER, UNKNOWN, MET = 1, 3, 0


def options_of(arguments: list[str]) -> int:
    """Work the options of a home; exit code of the option asked for, or of the first: 0 all met, 1 some missed, 3 some unknown."""
    from nuthatch import cli

    parser = cli._parser("nuthatch options", "The options of a home: their ladders, side by side, and what closes a gap.")
    parser.add_argument("file", help="a .nuthatch file, or the name of a demo home")
    parser.add_argument("--option", metavar="NAME", help="one of them, by name or id")
    parser.add_argument(
        "--measure",
        default="heating_demand",
        help="what the ladder goes down by: heating_demand, heating_load, primary_energy, co2, energy_cost",
    )
    parser.add_argument("--gap", metavar="TARGET", help="also what closes the gap to a target, as “set · target”")
    parser.add_argument("--json", action="store_true", help="print everything as one JSON object")
    parser.add_argument("--csv", metavar="OUT.csv", help="write the steps; .xlsx writes a spreadsheet")
    parser.add_argument("--climate", metavar="FILE", help="an EPW weather file to use instead of the home's own")
    cli._units_option(parser)
    given = parser.parse_args(arguments)
    from nuthatch.core.assess import assess
    from nuthatch.core.exchange.sheet_files import save
    from nuthatch.core.files.homefile import HomeFileError
    from nuthatch.core.graph.runner import Stores
    from nuthatch.core.library import results_on_disk
    from nuthatch.core.options.gap import closed
    from nuthatch.core.options.ladder import ladder
    from nuthatch.core.views.options import rows as seen
    from nuthatch.core.views.options.sheets import steps_sheet

    content, _ = read_home(given.file)
    home = content.home
    chosen = [o for o in home.options if not given.option or given.option in (o.name, o.id)]
    if not chosen:
        known = ", ".join(o.name for o in home.options) or "none"
        raise Refused(
            f"{given.file}: no option “{given.option}”; it has {known}" if given.option else f"{given.file}: the home has no options"
        )
    a = assess(home, cli._climate(home, content.weather, given.climate), stores=Stores(slow=results_on_disk()))
    if given.measure not in a.figures:
        raise Refused(f"no figure “{given.measure}”: the ladder goes down by {', '.join(seen.NAMES)}")
    use(METRIC if given.json else given.units)
    known_ladders = [ladder(a, o) for o in chosen]
    targets = {f"{v.set_name} · {v.name}": (v.set_id, v.name) for v in a.verdicts}
    if given.gap and given.gap not in targets:
        raise Refused(f"no target “{given.gap}”: it has {'; '.join(targets)}")
    answers = closed(a, targets[given.gap]) if given.gap else ()
    if given.csv:
        try:
            save(steps_sheet(a, known_ladders, given.measure), Path(given.csv))
        except HomeFileError as problem:
            raise Refused(str(problem)) from None
    if given.json:
        data: dict[str, object] = {"home": home.name, "currency": home.currency, "options": [seen.as_data(x) for x in known_ladders]}
        if given.gap:
            data["gap"] = [{"lever": x.name, "kind": x.kind, "today": x.today, "at": x.at, "leaves": x.leaves} for x in answers]
        cli._say(cli._json(data))
    else:
        text = "\n".join(seen.as_text(x, given.measure, a) for x in known_ladders)
        if answers:
            text += f"\nWhat closes the gap to {given.gap}\n" + "".join(
                "  " + ": ".join(c for c in seen.gap_cells(x) if c) + "\n" for x in answers
            )
        cli._say("".join(printable(line) + "\n" for line in text.splitlines()))
    standings = {v.standing for v in known_ladders[0].end.verdicts if not v.voluntary}
    return OVER if "over" in standings else UNKNOWN if standings - {"inside"} else MET
