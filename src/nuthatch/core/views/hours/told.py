"""The hourly year of an assessed home: beside the month, as rows, in words."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.sun import MONTH_OF_HOUR
from nuthatch.core.results.figure import CannotKnow, Unknown
from nuthatch.core.units import with_unit
from nuthatch.core.year.comfort import LIMIT
from nuthatch.core.year.problem import Hours
from nuthatch.core.year.run import Year, too_warm
from nuthatch.core.year.stages import HOURS


def hourly(a: Assessment) -> Hours:
    """The hours of a home. Raises CannotKnow with what is missing."""
    found = a[HOURS]
    if not isinstance(found, Hours):
        raise CannotKnow(found.needs[0].text if isinstance(found, Unknown) else found.of)
    return found


def beside_the_month(a: Assessment) -> Iterator[tuple[str, float | None, float | None]]:
    """(what, by the hour, by the month) [kWh/(m²·a)]."""
    for what in ("heating", "cooling"):
        yield what, a.figures[f"hourly_{what}_demand"].value, a.figures[f"{what}_demand"].value


HEADS = (
    "hour", "month", "outdoors °C", "air °C", "surfaces °C", "operative °C", "heating W", "cooling W", "sun W", "gains W", "by windows W",
    "by opaque parts W", "by air W", "out through the glass W", "air moved W/K", "windows by hand W/K",
)  # fmt: skip


def rows_of(h: Hours, run: str = "needs") -> list[tuple[float, ...]]:
    """The hours of one run (needs, comfort, by_hand) as rows of HEADS."""
    y: Year = getattr(h, run)
    columns = (
        np.arange(1, 8761), MONTH_OF_HOUR + 1, h.outside, y.air, y.surface, y.operative, np.maximum(y.held, 0), np.maximum(-y.held, 0),
        h.sun, h.gains, y.by_windows, y.by_opaque, y.by_air, y.by_glass, y.moved, y.opened,
    )  # fmt: skip
    return list(zip(*(c.tolist() for c in columns), strict=True))


def in_words(a: Assessment, h: Hours) -> list[str]:
    """What the hours say, a line each."""
    lines = [
        f"{what}: {with_unit(hour, 'specific_energy')} by the hour, "
        f"{'unknown' if month is None else with_unit(month, 'specific_energy')} by the month"
        for what, hour, month in beside_the_month(a)
        if hour is not None
    ]
    limit = with_unit(LIMIT, "temperature", 0)
    for words, run in (("windows shut", h.comfort), ("windows opened by hand", h.by_hand)):
        share, most = too_warm(run.operative, LIMIT), with_unit(float(run.operative.max()), "temperature")
        lines.append(f"above {limit} with {words}: {100 * share:.1f} % of the year, at most {most}")
    lines.append(f"largest heating in an hour: {with_unit(max(float(h.needs.held.max()), 0.0) / h.area, 'heat_flux')}")
    return lines
