"""Pictures of the climate."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from nuthatch.core.assess import Assessment
from nuthatch.core.sketch import Picture
from nuthatch.core.views.charts import empty, site_months


def _months(a: Assessment, width: float, height: float, colors: Mapping[str, str]) -> Any:
    return (
        empty(width, height, colors, "no climate is chosen yet")
        if a.site_climate is None
        else site_months(a.site_climate, width, height, colors)
    )


PICTURES = (Picture("climate", "Climate by month", chart=_months, size=(7.4, 2.6)),)
