"""Homes without details: those are solved anew at every edit of a layer they follow, and are tested by themselves."""

from __future__ import annotations

from nuthatch.core.graph.alive import while_alive
from nuthatch.core.heatflow.following import fixed
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace


@while_alive
def undetailed(home: Home) -> Home:
    """The same home, its junctions by the typical tier where a detail gave their ψ."""
    rows = tuple(replace(j, detail="", tier="typical") if j.detail else j for j in home.junctions)
    return replace(home, details=(), junctions=rows)


@while_alive
def at_rest(home: Home) -> Home:
    """The same home whose details follow no layer: what is tried with them and what is worked out whole are the same."""
    return replace(home, details=tuple(fixed(d) for d in home.details))
