"""Pictures of hot water."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.results.figure import Known
from nuthatch.core.sketch import WIDTH, Picture, Sketch, bars
from nuthatch.core.views.bars import bar
from nuthatch.core.water.stages import WATER


def hot_water(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Heat for hot water of the year by where it goes [kWh/a]."""
    months = a[WATER].months
    title = "Heat for hot water in a year"
    if not isinstance(months, Known):
        return bars(title, [bar("Heat for hot water", months, "slate_pale")], width=width, height=height)
    parts = (
        ("Water drawn", "useful", "tide_pale"),
        ("Store loss", "store", "chestnut_pale"),
        ("Circulation loss", "circulation", "chestnut_pale"),
        ("Pipes after draw-off", "draw_off", "chestnut_pale"),
    )
    rows = [bar(name, months.inputs[key], token, "energy") for name, key, token in parts]
    return bars(title, [*rows, bar("Together", months, "slate_pale", "energy")], width=width, height=height)


PICTURES = (Picture("hot-water", "Heat for hot water", lambda a, _: hot_water(a)),)
