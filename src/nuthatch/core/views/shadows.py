"""The shadows of an hour on the faces of the home, for its drawings."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.calendar import day_name
from nuthatch.core.model.site import SiteObject
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.sun.cast import Casting
from nuthatch.core.sun.edges import toward
from nuthatch.core.sun.shares import SunPath
from nuthatch.core.sun.site import to_compass
from nuthatch.core.sun.stages import OWN, PATH, RISE, TURN, things_of

LOWEST = 1.0
"""A sun lower than this [°] casts no shadow that is drawn."""


@dataclass(frozen=True)
class Hour:
    """An hour of the year whose shadows are shown: day 0 is 1 January; the sun stands where it is in the middle of it."""

    day: int = 79
    hour: int = 14

    @property
    def of_year(self) -> int:
        return self.day * 24 + self.hour

    @property
    def says(self) -> str:
        """“21 March, 14:30”."""
        return f"{day_name(self.day)}, {self.hour}:30"


def sun_of(a: Assessment, hour: Hour) -> tuple[float, float] | None:
    """Height and azimuth of the sun [°]; None where they are not known."""
    path = a[PATH]
    return (float(path.height[hour.of_year]), float(path.azimuth[hour.of_year])) if isinstance(path, SunPath) else None


@lru_cache(maxsize=3)
def _casting(own: tuple[tuple[str, Polygon], ...], objects: tuple[SiteObject, ...], turn: float, rise: tuple[float, float]) -> Casting:
    faces = {k: to_compass(np.array(p), turn) for k, p in own}
    return Casting(faces, things_of(own, objects, turn, rise))


def shadows_on(a: Assessment, hour: Hour) -> dict[str, tuple[Polygon, ...]]:
    """The parts of each face that lie in shadow, in the home's own coordinates; empty while the sun is down or not known."""
    sun = sun_of(a, hour)
    if sun is None or sun[0] < LOWEST:
        return {}
    way = toward(np.array(sun[0]), np.array(sun[1]))
    found = _casting(a[OWN], a.home.site.objects, a[TURN], a[RISE]).at(way)
    return {k: tuple(_home(part, a[TURN]) for part in parts) for k, parts in found.items() if parts}


def _home(points: np.ndarray, turn: float) -> Polygon:
    """From east, north, up to the home's own coordinates."""
    return tuple((float(x), float(y), float(z)) for x, y, z in to_compass(points, -turn))
