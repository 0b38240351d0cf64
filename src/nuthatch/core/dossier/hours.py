"""The hourly year, and the rooms, in the dossier: comfort, what makes it too warm, charts kept in the home, loads of rooms with their plans."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.pictures import drawing, picture
from nuthatch.core.results.figure import CannotKnow
from nuthatch.core.views.hours.rooms import apart_told, parts_sheet, rooms_drawn, rooms_sheet, told, worked_out
from nuthatch.core.views.hours.told import hourly, in_words
from nuthatch.core.views.hours.what_if import sheet_of
from nuthatch.core.views.sheets.sheet import Sheet
from nuthatch.core.year.problem import Problem
from nuthatch.core.year.stages import PROBLEM
from nuthatch.core.year.what_if import what_if

CHARTS = ("hours-by-day", "hours-duration", "hours-against", "hours-sums")
CAPTIONS = {
    "hours-by-day": "The temperature felt, hour by day: a column a day, a row an hour",
    "hours-duration": "For how many hours of the year it is how warm",
    "hours-against": "Heating by the temperature outdoors, with the line a heat meter would give",
    "hours-sums": "Causes of heat and cold by month",
}
SHORT = ("Room", "held", "area", "heating", "heating", "cooling", "at", "too warm", "nights", "warmest")
WORTH = 0.002
"""A share of the year too warm below which nobody asks what makes it so."""


def hours(a: Assessment) -> dict[str, object]:
    """What the template shows of them; `needs` says what is missing."""
    try:
        h = hourly(a)
    except CannotKnow as missing:
        return {"needs": str(missing), "lines": [], "charts": [], "own": [], "tried": None}
    share = a.figures["overheating_share"].value
    warm = share is not None and float(share) >= WORTH
    problem = a[PROBLEM]
    counted = a.home.household.by_hand == "counted"
    tried = sheet_of(what_if(problem, counted)) if warm and isinstance(problem, Problem) else None
    return {
        "needs": "",
        "lines": in_words(a, h),
        "charts": [(picture(a, key), CAPTIONS[key]) for key in CHARTS],
        "own": [{"name": c.name, "drawing": picture(a, "hours-own", c.id)} for c in a.home.charts],
        "tried": _told(tried) if tried is not None else None,
    }


def _told(sheet: Sheet) -> dict[str, object]:
    return {"heads": [h.text for h in sheet.heads], "rows": sheet.texts(), "numeric": sheet.numeric}


def _with_storeys(sheet: Sheet, short: tuple[str, ...] = ()) -> dict[str, object]:
    """A sheet of rooms with the storey behind the room's name, as narrow as a page; short: heads in the place of its own."""
    heads = [h.text for n, h in enumerate(sheet.heads) if n != 1]
    units = [h.partition(" [")[2] for h in heads]
    if short:
        heads = [f"{s} [{u}" if u else s for s, u in zip(short, units, strict=True)]
    rows = [(f"{r[0]}, {r[1].lower()}", *r[2:]) for r in sheet.texts()]
    return {"heads": heads, "rows": rows, "numeric": [n - 1 for n in sheet.numeric]}


def rooms(a: Assessment) -> dict[str, object]:
    """Loads of drawn rooms, storey by storey."""
    plans, by_hour = a.home.shape.plans, worked_out(a)
    sheet = rooms_sheet(a, by_hour)
    if plans is None or not sheet.rows:
        return {"rooms": None, "parts": None, "plans": [], "rooms_told": "", "apart": ""}
    drawn = [s for s in plans.storeys if s.rooms]
    return {
        "rooms": _with_storeys(sheet, SHORT[: len(sheet.heads) - 1]),
        "parts": _with_storeys(parts_sheet(a), ("Room", "outer parts", "ground", "rooms beside", "air", "reheat", "load")),
        "plans": [{"name": s.name, "drawing": drawing(rooms_drawn(a, by_hour, s.id, size=(560.0, 440.0)))} for s in drawn],
        "rooms_told": told(a, by_hour),
        "apart": apart_told(a),
    }
