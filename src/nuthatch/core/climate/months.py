"""A climate by months: values given by hand put in the place of a weather file's, or twelve of them as a climate of their own.

Air: every hour of a month is shifted by as much as its mean differs. Sun: what falls on a plane in a month is scaled, its parts
alike, so that the horizontal and the four walls have the sums given; planes between follow in between.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from nuthatch.core.climate.calendar import NAMES
from nuthatch.core.model.site import ClimateMonth
from nuthatch.core.results.figure import Array, Need

PLANES = (("sun_flat", 0.0, 0.0), ("sun_north", 90.0, 0.0), ("sun_east", 90.0, 90.0), ("sun_south", 90.0, 180.0), ("sun_west", 90.0, 270.0))
"""Field of a month, tilt and azimuth [°] of its plane."""
FLAT = 0
NEEDED = ("temperature", *(p[0] for p in PLANES))
"""What all twelve months need to be a climate."""


@dataclass(frozen=True, eq=False)
class Months:
    """What is given by month, NaN where nothing is: mean air temperature (12,) [°C]; sun on PLANES (5, 12) [kWh/m²]."""

    temperature: Array
    sun: Array

    def content(self) -> tuple[bytes, bytes]:
        """What tells them from others."""
        return self.temperature.tobytes(), self.sun.tobytes()

    @property
    def whole(self) -> bool:
        """Whether they are a climate of their own."""
        return bool(np.isfinite(self.temperature).all() and np.isfinite(self.sun).all())


def months_of(rows: Iterable[ClimateMonth]) -> Months | None:
    """What the rows give; the first row of a month counts. None where nothing is given of air or sun."""
    made = Months(np.full(12, np.nan), np.full((len(PLANES), 12), np.nan))
    for row in reversed(tuple(rows)):
        m = NAMES.index(row.month)
        if row.temperature is not None:
            made.temperature[m] = row.temperature.value
        for n, (field, _, _) in enumerate(PLANES):
            given = row[field]
            if given is not None:
                made.sun[n, m] = given.value
    return made if np.isfinite(made.temperature).any() or np.isfinite(made.sun).any() else None


def gives_sun(rows: Iterable[ClimateMonth]) -> bool:
    """Whether any row says how much sun there is."""
    return any(row[field] is not None for row in rows for field, _, _ in PLANES)


def reflectances(rows: Iterable[ClimateMonth], usual: float) -> Array:
    """Ground reflectance by month, (12,)."""
    made = np.full(12, usual)
    for row in reversed(tuple(rows)):
        if row.reflectance is not None:
            made[NAMES.index(row.month)] = row.reflectance.value
    return made


def wanting(rows: tuple[ClimateMonth, ...]) -> tuple[Need, ...]:
    """What twelve months still lack to be a climate, where it can be given."""
    found: list[Need] = []
    there: dict[str, ClimateMonth] = {row.month: row for row in reversed(rows)}
    for name in NAMES:
        row = there.get(name)
        if row is None:
            found.append(Need(f"{name} of the climate by hand", "site", "months"))
        else:
            found += [Need(f"{name}: {words}", row.id, field) for field, words in _WORDS if row[field] is None]
    return tuple(found)


_WORDS = (("temperature", "air temperature"), *((f, f"sun, {f.removeprefix('sun_').replace('flat', 'horizontal')}") for f, _, _ in PLANES))


def factors(given: Array, own: Array, tilt: float, azimuth: float) -> Array:
    """By how much the sun on a plane is more than in the file, (12,). given: sums on PLANES, NaN where not; own: those of the file."""
    with np.errstate(divide="ignore", invalid="ignore"):
        known = np.where(own > 0, given / own, np.nan)
    return np.array([_between(known[:, m], tilt, azimuth) for m in range(12)])


def _between(known: Array, tilt: float, azimuth: float) -> float:
    """One month's factor: the horizontal's and the walls' weighed by how far the plane leans and where it looks; what is not given follows
    what is."""
    said = np.isfinite(known)
    if not said.any():
        return 1.0
    flat = known[FLAT] if said[FLAT] else float(known[said].mean())
    walls = [known[n] if said[n] else flat for n in range(1, len(PLANES))]
    quarter, along = int(azimuth % 360 // 90), np.radians(azimuth % 90)
    wall = np.cos(along) ** 2 * walls[quarter] + np.sin(along) ** 2 * walls[(quarter + 1) % 4]
    upright = np.sin(np.radians(tilt)) ** 2
    return float((1 - upright) * flat + upright * wall)
