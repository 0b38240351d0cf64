"""Pictures of the household."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.household.stages import electricity_of
from nuthatch.core.model.home import Appliance
from nuthatch.core.sketch import WIDTH, Bar, Picture, Sketch, bars
from nuthatch.core.units import kind_of, show, unit_of, with_unit
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
    node = electricity_of(part) if part.energy is not None else None
    used = float(node.value) if node is not None and node.value is not None else None
    return Bar(part.name, used, with_unit(used, "energy") if used is not None else "not given", "glass", part.id)


def densities(a: Assessment) -> str:
    """People, gains and electricity in both readings: “3 people, 44.0 m² each (0.023 a m²) · 2.1 W/m² · 1 650 kWh/a, 1.4 W/m²”."""
    people, area, used = (a.figures[k].value for k in ("people", "reference_floor_area", "household_electricity"))
    if people is None:
        return "people not known yet: give the bedrooms in Brief"
    said = [f"{show(float(people), 'count')} people" if float(people) > 0 else "nobody lives here"]
    if area is not None and float(area) > 0:
        if float(people) > 0:
            each = float(area) / float(people)
            square = unit_of("area")
            said[0] += f", {with_unit(each, 'area')} each ({1 / kind_of('area').to_shown(each):.2g} a {square})"
        if used is not None:
            said.append(
                f"electricity {with_unit(float(used), 'energy')}, {with_unit(float(used) / 8.76 / float(area), 'heat_flux')} in the mean"
            )
    return " · ".join(said)


PICTURES = (Picture("household", "Internal gains and electricity", lambda a, _: household(a)),)
