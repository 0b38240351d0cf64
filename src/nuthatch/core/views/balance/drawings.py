"""Pictures of energy: delivered energy by use, the balance by month as list and charts, the cutaway and the year's account."""

from __future__ import annotations

from collections.abc import Iterable

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.sources import EnergyUse
from nuthatch.core.energy.use_stages import USES
from nuthatch.core.fabric.elements import CATEGORIES
from nuthatch.core.results.figure import MONTHS, Known, Unknown, state_words
from nuthatch.core.sketch import WIDTH, Picture, Sketch, bars, fitted
from nuthatch.core.units import show, unit_of
from nuthatch.core.views.bars import bar
from nuthatch.core.views.charts import balance_amounts, balance_shares
from nuthatch.core.views.cutaway import cutaway, year_account


def delivered(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Delivered energy by source and use [kWh/a]."""
    rows = [bar(_use_first(u), u.energy, "slate_pale", "energy") for u in a[USES]]
    return bars("Delivered energy in a year", rows, width=width, height=height)


def _use_first(u: EnergyUse) -> str:
    """“Heating · Air-to-water heat pump”: what the energy is used for, before its source."""
    source, _, _ = u.name.rpartition(", ")
    text = f"{u.use} · {source}" if source and u.source else u.name
    return f"{text[0].upper()}{text[1:]}"


def _amounts(a: Assessment, keys: Iterable[str]) -> dict[str, list[str]]:
    """What is shown of each row that is known: its months, and the year."""
    known = {key: node for key in keys if isinstance(node := a.months[key], Known)}
    return {key: [show(float(v), "energy_month") for v in (*node.value, node.value.sum())] for key, node in known.items()}


def months_table(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Every category by month and in the year; a zero stays, at zero."""
    rows = [(f"Loss, {c}", f"loss_{c.replace(' ', '_')}") for c in CATEGORIES]
    rows += [
        ("Losses", "losses"),
        ("Sun", "solar_gains"),
        ("People, appliances, water", "internal_gains"),
        ("Heating", "heating_demand"),
        ("Cooling", "cooling_demand"),
    ]
    unit = unit_of("energy_month")
    width = max(width, 600.0)
    made = Sketch(width, 30 + 21 * len(rows), f"Balance by month, {unit}")
    first, step = 152.0, (width - 152 - 62) / 12
    told = _amounts(a, [key for _, key in rows])
    longest = max((len(t) for texts in told.values() for t in texts[:12]), default=1)
    size = min(11.0, max((step - 6) / (0.58 * longest), 8.5))  # months never run into each other
    made.text(0, 12, f"{unit} · click a line to open it", size=11, color="muted")
    xs = [first + (i + 1) * step for i in range(12)] + [width - 6]
    for x, month in zip(xs, (*MONTHS, "year"), strict=True):
        made.text(x, 12, month, size=11, color="muted", anchor="end")
    for n, (name, key) in enumerate(rows):
        y = 32 + n * 21
        made.rect(0, y - 14, width, 20, stroke="", id=key)
        bold = key in ("losses", "heating_demand")
        made.line((0, y + 6), (width, y + 6), stroke="line", width=0.7)
        made.text(0, y, name, size=11.5, bold=bold, id=key)
        result = a.months[key]
        if not isinstance(result, Known):
            made.text(
                first + 12,
                y,
                f"needs {result.needs[0].text}" if isinstance(result, Unknown) else state_words(result),
                size=11,
                color="muted",
                id=key,
            )
            continue
        for x, text in zip(xs, told[key], strict=True):
            made.text(x, y, text, size=size, anchor="end", bold=bold, id=key)
    return made


def what_it_needs(a: Assessment, width: float, height: float) -> Sketch:
    """In the place of the charts: what the balance still needs, each leading to its field. ids “part:field”."""
    made = Sketch(width, height, "What the balance needs")
    figure = a.figures["heating_demand"]
    needs = figure.needs if isinstance(figure, Unknown) else ()
    left, top = max(width * 0.12, 16.0), max(height / 2 - 16 - 13 * len(needs), 40.0)
    made.text(left, top, "The balance is not known yet. It needs:", size=15, bold=True)
    for n, need in enumerate(needs):
        ident = f"{need.part}:{need.field}" if need.part else ""
        y = top + 30 + 26 * n
        made.rect(left - 6, y - 17, width - 2 * left, 25, stroke="", id=ident, tip="to the field" if ident else "")
        made.text(
            left + 8,
            y,
            fitted(f"{need.text[:1].upper()}{need.text[1:]}", width - 2 * left, 13.5),
            size=13.5,
            color="slate" if ident else "ink",
            id=ident,
        )
    return made


PICTURES = (
    Picture("cutaway", "Cutaway of the home", lambda a, _: cutaway(a)),
    Picture("account", "The year’s account", lambda a, _: year_account(a)),
    Picture("delivered", "Delivered energy by use", lambda a, _: delivered(a)),
    Picture("amounts", "Balance by month", chart=balance_amounts, size=(7.4, 3.4)),
    Picture("shares", "Shares of the year’s losses", chart=balance_shares, size=(7.4, 2.6)),
    Picture("months", "Balance by month, list", lambda a, _: months_table(a)),
)
