"""The same home with its junctions left out, as listed, typical and fallback, side by side."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Change, Remove, SetValue
from nuthatch.core.edits.junction_edits import by_tier
from nuthatch.core.model.home import Home
from nuthatch.core.trials import trial

NAMES = ("left out", "as listed", "typical", "fallback")
Ways = tuple[tuple[str, float | None], ...]
"""(name, heating demand [kWh/(m²·a)] or None) of the four ways."""
DEMAND = frozenset({"heating_demand"})


def _changes(home: Home, way: str) -> tuple[Change, ...]:
    if way == "as listed":
        return ()
    if way == "left out":
        none = SetValue(part="home", field="junctions_from", value="list")
        return (*(Remove(part=j.id) for j in home.junctions), *((none,) if home.junctions_from == "shape" else ()))
    rest = (SetValue(part="home", field="junction_tier", value=way),) if home.junctions_from == "shape" else ()
    return (*by_tier(home.junctions, way).changes, *rest) if home.junctions else rest


def ways(a: Assessment) -> Ways:
    """The four ways of a home; unknown while something is computing."""
    if a.computing:
        return tuple((name, None) for name in NAMES)
    values = ((name, trial(a, _changes(a.home, name), DEMAND).figures["heating_demand"].value) for name in NAMES)
    return tuple((name, None if value is None else float(value)) for name, value in values)
