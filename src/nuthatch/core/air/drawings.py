"""Pictures of the air: every path and what it loses, the flows."""

from __future__ import annotations

from nuthatch.core.air.stages import FLOWS, LOSSES
from nuthatch.core.assess import Assessment
from nuthatch.core.results.bars import bar
from nuthatch.core.sketch import WIDTH, Picture, Sketch, bars
from nuthatch.core.units import show


def air_paths(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Every air path and what it loses [W/K]."""
    air = a[LOSSES]
    rows = [
        bar("Ventilation unit" if a.home.air.unit else "Windows opened by hand", air.unit, "slate_pale"),
        bar("Leaks", air.leaks, "chestnut_pale"),
        bar("Unit, if bypassed", air.bypassed, "stone"),
    ]
    return bars("Every air path and what it loses", rows, width=width, height=height)


def air_flows(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Demand and supply [m³/h]."""
    flows, people = a[FLOWS], a.figures["people"]
    needed = f"Demand for {show(people.value, 'count')} people" if people.value is not None else "Demand"
    return bars("Flows", [bar(needed, flows.demand, "lichen_pale"), bar("Supply", flows.supply, "slate_pale")], width=width, height=height)


PICTURES = (
    Picture("air-paths", "Air paths and what they lose", lambda a, _: air_paths(a)),
    Picture("flows", "Air flows", lambda a, _: air_flows(a)),
)
