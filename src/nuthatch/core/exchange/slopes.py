"""Slopes in space as parts of a roof: each over its own plan, two that make a gable over a rectangle as one."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from math import atan, atan2, degrees, hypot

import shapely

from nuthatch.core.exchange.surfaces import CLOSE, plan_of, ring_of
from nuthatch.core.model.part import Given
from nuthatch.core.model.plans import RoofPlan, Spot
from nuthatch.core.plans.polygons import Polygon, area_vector
from nuthatch.core.plans.roofs import Slopes, roof_part

Reads = Callable[[float], Given]
"""A number of a file as a value that says where it is from."""


class _Slope:
    """A slope over its own plan: how steep [°], which way it rises, how high its lowest corner lies [m]."""

    def __init__(self, polygon: Polygon) -> None:
        vx, vy, vz = area_vector(polygon)
        self.polygon = polygon
        self.corners = tuple(ring_of(plan_of(polygon).exterior)) if polygon else ()
        self.pitch = degrees(atan(hypot(vx, vy) / vz))
        self.ridge = (degrees(atan2(-vy, -vx)) - 90) % 360
        self.eaves = min(p[2] for p in polygon)
        self.kind = "mono"
        self.other: float | None = None

    def plan(self, n: int, read_as: Reads) -> RoofPlan:
        ident = f"read-roof-{n}"
        spots = tuple(Spot(id=f"{ident}.{k}", x=read_as(x), y=read_as(y)) for k, (x, y) in enumerate(self.corners, 1))
        other = read_as(self.other) if self.other is not None else None
        return RoofPlan(id=ident, name=f"Roof {n}", kind=self.kind, pitch=read_as(self.pitch), other_pitch=other,  # type: ignore[arg-type]
                        ridge=read_as(self.ridge % 360), eaves=read_as(self.eaves), corners=spots)  # fmt: skip

    def with_gable(self, other: _Slope) -> _Slope | None:
        """The gable two slopes make over a rectangle; None where they make none."""
        turn = abs((self.ridge - other.ridge) % 360 - 180)
        whole = shapely.union_all([shapely.Polygon(self.corners), shapely.Polygon(other.corners)], grid_size=1e-6)
        if turn > 0.01 or abs(self.eaves - other.eaves) > CLOSE or whole.geom_type != "Polygon":
            return None
        if whole.area < shapely.minimum_rotated_rectangle(whole).area * (1 - 1e-6):
            return None
        made = _Slope(self.polygon)
        made.corners, made.kind = tuple(ring_of(whole.exterior)), "gable"
        made.other = other.pitch if abs(other.pitch - self.pitch) > 1e-6 else None
        part = roof_part("try", "gable", made.corners, made.eaves, Slopes(made.pitch, made.ridge, made.other))
        fits = all(abs(part.at(x, y) - z) < CLOSE for x, y, z in (*self.polygon, *other.polygon))
        return made if fits else None


def roofs_of_slopes(slopes: Iterable[Polygon], read_as: Reads) -> list[RoofPlan]:
    """Slopes as parts of a roof; two that make a gable over a rectangle as one. read_as: how a number of the file is marked."""
    return [p.plan(n, read_as) for n, p in enumerate(_gables([_Slope(p) for p in slopes]), 1)]


def _gables(slopes: list[_Slope]) -> list[_Slope]:
    left, found = list(slopes), []
    while left:
        one = left.pop(0)
        for other in left:
            gable = one.with_gable(other)
            if gable is not None:
                left.remove(other)
                one = gable
                break
        found.append(one)
    return found
