"""What `nuthatch hours HOME` works out: the hourly year of a home beside its monthly balance, and every hour as a table."""

from __future__ import annotations

import csv
import io
from argparse import ArgumentParser, Namespace
from pathlib import Path
from typing import TYPE_CHECKING

from nuthatch.named_home import Refused

if TYPE_CHECKING:
    from nuthatch.core.assess import Assessment
    from nuthatch.core.climate.climate import Climate
    from nuthatch.core.model.home import Home
    from nuthatch.core.year.problem import Hours

UNKNOWN, MADE = 3, 0
RUNS = {"needs": "needs", "comfort": "comfort", "by-hand": "by_hand"}


def asks(parser: ArgumentParser) -> None:
    """What the command is told."""
    parser.add_argument("file", help="a .nuthatch file, or the name of a demo home")
    parser.add_argument(
        "--run",
        choices=tuple(RUNS),
        default="needs",
        help="which run the table holds: both set-points held, the summer with windows shut, or opened by hand",
    )
    parser.add_argument("csv", nargs="?", metavar="OUT.csv", help="write every hour of the run as a table, metric")
    parser.add_argument("--json", action="store_true", help="print the sums as one JSON object")
    parser.add_argument("--climate", metavar="FILE", help="an EPW weather file to use instead of the home's own")


def worked(home: Home, climate: Climate | None, given: Namespace) -> tuple[dict[str, object] | str, int]:
    """The sums as data or text, and the exit code: 0 made, 3 where something is missing still."""
    from nuthatch.core.assess import assess
    from nuthatch.core.results.figure import CannotKnow
    from nuthatch.core.views.hours.told import hourly, in_words

    a = assess(home, climate)
    try:
        h = hourly(a)
    except CannotKnow as missing:
        said = f"the hours of {home.name} need {missing}"
        return ({"home": home.name, "needs": str(missing)} if given.json else said), UNKNOWN
    if given.csv:
        _write(h, RUNS[given.run], Path(given.csv))
    return (_data(a, h) if given.json else "\n".join([home.name, *(f"  {line}" for line in in_words(a, h))])), MADE


def _data(a: Assessment, h: Hours) -> dict[str, object]:
    from nuthatch.core.views.hours.told import beside_the_month
    from nuthatch.core.year.comfort import LIMIT
    from nuthatch.core.year.run import too_warm

    summers = {"shut": h.comfort, "by_hand": h.by_hand}
    return {
        "home": a.home.name,
        **{what: {"by_hour": hour, "by_month": month} for what, hour, month in beside_the_month(a)},
        "too_warm": {name: too_warm(y.operative, LIMIT) for name, y in summers.items()},
        "warmest": {name: float(y.operative.max()) for name, y in summers.items()},
        "largest_heating": max(float(h.needs.held.max()), 0.0) / h.area,
    }


def _write(h: Hours, run: str, path: Path) -> None:
    from nuthatch.core.files.homefile import HomeFileError, put
    from nuthatch.core.views.hours.told import HEADS, rows_of

    text = io.StringIO()
    table = csv.writer(text, lineterminator="\n")
    table.writerow(HEADS)
    table.writerows([f"{v:.4f}".rstrip("0").rstrip(".") for v in row] for row in rows_of(h, run))
    try:
        put(path, text.getvalue().encode())
    except HomeFileError as problem:
        raise Refused(str(problem)) from None
