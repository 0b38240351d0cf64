"""Pictures of the household."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.sketch import WIDTH, Picture, Sketch, bars
from nuthatch.core.views.bars import bar


def household(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Internal gains and electricity of the year [kWh/a]."""
    rows = [
        bar("Internal gains of the year", a.figures["internal_gains"], "lichen_pale"),
        bar("Household electricity", a.figures["household_electricity"], "slate_pale", "energy"),
    ]
    return bars("In a year", rows, width=width, height=height)


PICTURES = (Picture("household", "Internal gains and electricity", lambda a, _: household(a)),)
