"""The same home with its junctions left out, as listed, typical and fallback, side by side."""

from __future__ import annotations

from dataclasses import dataclass

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


@dataclass(frozen=True)
class Way:
    """One way of the four: heating demand [kWh/(m²·a)], heating load [W/m²], heating by month [kWh]; None where it is not known."""

    name: str
    demand: float | None = None
    load: float | None = None
    months: tuple[float, ...] | None = None


def whole_ways(a: Assessment) -> tuple[Way, ...]:
    """The four ways with load and months; unknown while something is computing."""
    return tuple(Way(name) if a.computing else _whole(a, name) for name in NAMES)


def _whole(a: Assessment, name: str) -> Way:
    tried = trial(a, _changes(a.home, name)).whole
    if tried is None:
        return Way(name)
    values = (tried.figures[k].value for k in ("heating_demand", "heating_load"))
    demand, load = (None if v is None else float(v) for v in values)
    months = tried.months["heating_demand"].value
    return Way(name, demand, load, None if months is None else tuple(float(v) for v in months))
