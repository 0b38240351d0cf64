"""Pictures of the junctions: the home with them treated four ways."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.sketch import WIDTH, Bar, Picture, Sketch, bars
from nuthatch.core.units import show, unit_of
from nuthatch.core.views.junctions.four_ways import Ways, ways


def junction_ways(a: Assessment, known: Ways, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """The home with its junctions treated four ways, with the limit where there is one."""
    rows = [
        Bar(n, v, show(v, "specific_energy") if v is not None else a.blank, "slate" if n == "as listed" else "slate_pale") for n, v in known
    ]
    limit = next((w.limit for v in a.verdicts for w in v.ways if w.key == "heating_demand" and w.limit), None)
    title = f"Heating demand with junctions treated four ways, {unit_of('specific_energy')}"
    return bars(
        title, rows, limit=limit, limit_label=f"limit {show(limit, 'specific_energy')}" if limit else "", width=width, height=height
    )


PICTURES = (Picture("junctions", "Junctions treated four ways", lambda a, _: junction_ways(a, ways(a))),)
