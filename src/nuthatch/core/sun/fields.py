"""Fields in the sun: collectors and modules, their plane, where they lie, what falls on them past what stands in the way."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from math import sqrt

import numpy as np

from nuthatch.core.climate.climate import PlaneSun
from nuthatch.core.climate.sun import by_month
from nuthatch.core.model.heat import Modules
from nuthatch.core.model.hot_water import SolarField
from nuthatch.core.plans.polygons import Polygon, plane_axes
from nuthatch.core.results.figure import Array
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.sun.edges import Edges, axes
from nuthatch.core.sun.let_in import by_hours
from nuthatch.core.sun.openings import Stood
from nuthatch.core.sun.planes import SunPlane
from nuthatch.core.sun.shares import Far, Skyline, SunPath, leaves_out, shares
from nuthatch.core.sun.site import to_compass

PEAK_PER_AREA = 200.0
"""Watts of modules on a square metre: common practice, no source."""
LARGEST = 3.0
"""The middle of a field of at most this side [m] stands for all of it where what stands in the way is looked at."""


@dataclass(frozen=True)
class Lies:
    """Where a field lies: its id, its plane, and its middle in space where it lies flat on a drawn face."""

    id: str
    plane: SunPlane
    stood: Stood | None


@dataclass(frozen=True, eq=False)
class FieldSun:
    """Sun on a field by hour, (8760,) [W/m²]: beam, and what comes from sky and ground; the cosine of the beam on it."""

    told_once = True
    beam: Array
    diffuse: Array
    cosine: Array

    @property
    def months(self) -> Array:
        """[kWh/m²], (12,)."""
        return np.asarray(by_month(self.beam + self.diffuse) / 1000)


def lie(
    fields: Iterable[SolarField | Modules], faces: Mapping[str, Boundary], outlines: Mapping[str, Polygon], turn: float
) -> dict[str, Lies]:
    """By the id of each field that has a plane: as typed, else that of its face."""
    found: dict[str, Lies] = {}
    for f in fields:
        face = faces.get(f.face)
        tilt = f.tilt.value if f.tilt is not None else face.tilt if face is not None else None
        azimuth = f.azimuth.value if f.azimuth is not None else face.azimuth if face is not None else None
        if tilt is None or azimuth is None:
            continue
        flat = face is not None and f.tilt is None and f.azimuth is None and face.beyond.kind == "outside" and 1.0 < face.tilt < 179.0
        polygon = outlines.get(f.face) if flat and f.sunlit is None else None
        plane = SunPlane(tilt, azimuth)
        found[f.id] = Lies(f.id, plane, _middle(f, polygon, plane, turn) if polygon is not None else None)
    return found


def _middle(f: SolarField | Modules, polygon: Polygon, plane: SunPlane, turn: float) -> Stood:
    """A square about the middle of its face."""
    corner, right, up = plane_axes(polygon)
    flat = np.array([((np.array(p) - corner) @ right, (np.array(p) - corner) @ up) for p in polygon])
    low, high = flat.min(axis=0), flat.max(axis=0)
    size = f.area if isinstance(f, SolarField) else f.peak
    wanted = size.value if size is not None else 1.0
    side = float(min(sqrt(max(wanted if isinstance(f, SolarField) else wanted / PEAK_PER_AREA, 0.01)), LARGEST, *(high - low)))
    middle = _centroid(flat) - side / 2
    at = to_compass(corner + right * middle[0] + up * middle[1], turn)
    place = (round(float(at[0]), 3), round(float(at[1]), 3), round(float(at[2]), 3))
    return Stood(f.id, (place,), plane.tilt, plane.azimuth, (side, side))


def _centroid(flat: Array) -> Array:
    """Of a plane polygon, (k, 2)."""
    after = np.roll(flat, -1, axis=0)
    cross = flat[:, 0] * after[:, 1] - after[:, 0] * flat[:, 1]
    area = cross.sum()
    return np.asarray(((flat + after) * cross[:, None]).sum(axis=0) / (3 * area)) if abs(area) > 1e-9 else flat.mean(axis=0)


def falls(
    plane: SunPlane, sun: PlaneSun, path: SunPath, skyline: Skyline | None, ground: tuple[float, ...], far: Far | None = None
) -> FieldSun:
    """Beam, sky and ground on a field past the horizon and what stands before it."""
    seen = shares(Edges(1.0, 1.0), (plane.tilt, plane.azimuth), path, skyline, far)
    leaves = np.repeat(leaves_out(path.latitude), 24)
    sky, below = (np.where(leaves, s[1], s[0]) for s in (seen.sky, seen.ground))
    cosine = (path.ways @ axes(plane.tilt, plane.azimuth).T)[:, 2]
    return FieldSun(seen.beam * sun.beam, sky * sun.sky + by_hours(np.array(ground)) * sun.ground * below, cosine)
