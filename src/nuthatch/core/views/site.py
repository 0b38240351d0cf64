"""Pictures of the climate."""

from __future__ import annotations

from collections.abc import Mapping

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.climate import PlaneSun
from nuthatch.core.sketch import Picture
from nuthatch.core.sun.planes import FLAT, SOUTH
from nuthatch.core.sun.stages import PLANE_SUN
from nuthatch.core.views.charts import empty, site_months


def months(a: Assessment, width: float, height: float, colors: Mapping[str, str]) -> object:
    """Temperature and sun by month; a sentence where there is no climate, or while its sun is computing."""
    climate, known = a.climate, a.all_of(PLANE_SUN)
    if climate is None:
        return empty(width, height, colors, "computing …" if a.computing else "no climate is chosen yet")
    flat, south = known.get(FLAT.id), known.get(SOUTH.id)
    if not isinstance(flat, PlaneSun) or not isinstance(south, PlaneSun):
        return empty(width, height, colors, f"the sun: {a.blank}")
    return site_months(a.site_climate or climate, (flat, south), width, height, colors)


PICTURES = (Picture("climate", "Climate by month", chart=months, size=(7.4, 2.6)),)
