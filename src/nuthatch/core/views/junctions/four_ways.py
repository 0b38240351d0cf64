"""The same home with its junctions left out, as listed, typical and fallback, side by side."""

from __future__ import annotations

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.graph.memo import Memo
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import psi_catalogue
from nuthatch.core.model.home import Home, Junction
from nuthatch.core.model.part import Given, replace


def _with_tier(home: Home, tier: str) -> Home:
    catalogue = psi_catalogue()

    def put(j: Junction) -> Junction:
        return replace(j, psi=Given(value=catalogue[j.family][tier], source="ψ catalogue"))

    return replace(home, junctions=tuple(put(j) for j in home.junctions))


def ways(assessment: Assessment) -> list[tuple[str, float | None]]:
    """(name, heating demand [kWh/(m²·a)] or None) of the four ways."""
    home = assessment.home
    if assessment.computing:
        return [(name, None) for name in ("left out", "as listed", "typical", "fallback")]
    homes = [
        ("left out", replace(home, junctions=())),
        ("as listed", home),
        ("typical", _with_tier(home, "typical")),
        ("fallback", _with_tier(home, "fallback")),
    ]
    found: list[tuple[str, float | None]] = []
    for name, variant in homes:
        result = assessment if variant is home else assess(variant, assessment.climate, assessment, wait=False, stores=Stores(Memo(0)))
        value = result.figures["heating_demand"].value
        found.append((name, None if value is None else float(value)))
    return found
