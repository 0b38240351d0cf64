"""Pictures of the air: every path and what it loses, the flows."""

from __future__ import annotations

from nuthatch.core.air.stages import FLOWS, INFILTRATION, LOSSES
from nuthatch.core.assess import Assessment
from nuthatch.core.results.bars import bar
from nuthatch.core.sketch import WIDTH, Bar, Picture, Sketch, bars
from nuthatch.core.units import show, with_unit


def air_paths(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Every air path and what it loses [W/K]; the bypass where a unit has one to pass by."""
    air, unit = a[LOSSES], a.home.air.unit
    rows = [bar("Ventilation unit" if unit else "Windows opened by hand", air.unit, "slate_pale"), bar("Leaks", air.leaks, "chestnut_pale")]
    if unit is not None:
        rows.append(bar("Unit, if bypassed", air.bypassed, "stone"))
    return bars("Every air path and what it loses", rows, width=width, height=height)


def air_flows(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """What is needed and what brings it [m³/h]: the unit, or leaks and opened windows."""
    flows, people, unit = a[FLOWS], a.figures["people"], a.home.air.unit
    needed = f"Demand for {show(people.value, 'count')} people" if people.value is not None else "Demand"
    rows = [bar(needed, flows.demand, "lichen_pale")]
    if unit is not None:
        rows += [bar("Supply", flows.supply, "slate_pale"), bar("Extract", flows.extract, "slate_pale")]
    else:
        rate, volume, demand = a[INFILTRATION].value, flows.volume.value, flows.demand.value
        leaks = rate * volume if rate is not None and volume is not None else None
        windows = max(demand - leaks, 0.0) if leaks is not None and demand is not None else None
        for name, value, token in (("Leaks, in the mean", leaks, "chestnut_pale"), ("Windows opened by hand", windows, "slate_pale")):
            rows.append(Bar(name, value, with_unit(value, "flow") if value is not None else "not known yet", token))
    return bars("Flows", rows, width=width, height=height)


PICTURES = (
    Picture("air-paths", "Air paths and what they lose", lambda a, _: air_paths(a)),
    Picture("flows", "Air flows", lambda a, _: air_flows(a)),
)
