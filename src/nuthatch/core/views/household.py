"""Pictures of the household."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.model.home import Appliance
from nuthatch.core.sketch import WIDTH, Bar, Picture, Sketch, bars
from nuthatch.core.units import with_unit
from nuthatch.core.views.bars import bar


def household(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Internal gains and electricity of the year, and what each appliance uses of it [kWh/a]."""
    rows = [
        bar("Internal gains of the year", a.figures["internal_gains"], "lichen_pale"),
        bar("Household electricity", a.figures["household_electricity"], "slate_pale", "energy"),
    ]
    rows += [_appliance(p) for p in a.home.household.appliances]
    return bars("In a year", rows, width=width, height=height)


def _appliance(part: Appliance) -> Bar:
    """What one appliance or light uses."""
    used = part.energy.value if part.energy is not None else None
    return Bar(part.name, used, with_unit(used, "energy") if used is not None else "not given", "glass", part.id)


PICTURES = (Picture("household", "Internal gains and electricity", lambda a, _: household(a)),)
