"""The steps of ladders as a sheet for CSV and spreadsheet."""

from __future__ import annotations

from collections.abc import Sequence

from nuthatch.core.assess import Assessment
from nuthatch.core.options.ladder import Ladder, Rung
from nuthatch.core.views.options.rows import kind_of_measure, name_of_measure
from nuthatch.core.views.sheets.sheet import Column, Sheet, sheet

Step = tuple[Ladder, Rung]


def steps_sheet(a: Assessment, known: Sequence[Ladder], measure: str) -> Sheet:
    """Every step of every option; effects below 0 are less."""
    kind, name = kind_of_measure(measure), name_of_measure(a, measure)
    columns: tuple[Column[Step], ...] = (
        Column("option", lambda s: s[0].option.name),
        Column("upgrade", lambda s: s[1].upgrade.name),
        Column("cannot be put", lambda s: s[1].why),
        Column("cost", lambda s: s[1].money.cost, "cost"),
        Column("saved energy", lambda s: s[1].money.saved_energy, "energy"),
        Column("saved money", lambda s: s[1].money.saved_money, "money"),
        Column("payback", lambda s: s[1].money.payback, "years"),
        Column(f"{name}, alone", lambda s: s[1].alone.get(measure), kind),
        Column(f"{name}, in order", lambda s: s[1].ordered.get(measure), kind),
        Column(f"{name}, last", lambda s: s[1].last.get(measure), kind),
        Column(f"{name} after it", lambda s: s[1].after.figures.get(measure), kind),
    )
    return sheet("options", "Options", columns, [(one, r) for one in known for r in one.rungs])
