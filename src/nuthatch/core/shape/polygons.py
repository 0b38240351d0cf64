"""Plane polygons in space: area vector, direction, volume enclosed, edges shared."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from math import acos, atan2, degrees, dist, hypot

import numpy as np
from numpy.typing import NDArray

Point = tuple[float, float, float]
Polygon = tuple[Point, ...]
Vector = NDArray[np.float64]


@lru_cache(maxsize=2048)
def normal(polygon: Polygon) -> Vector:
    """Area vector of a planar polygon (Newell): direction outward for counter-clockwise seen from outside, length = area.

    Read-only, for it is kept: every edge asks for those of its two faces.
    """
    x = y = z = 0.0
    for (ax, ay, az), (bx, by, bz) in zip(polygon, polygon[1:] + polygon[:1], strict=True):
        x += ay * bz - az * by
        y += az * bx - ax * bz
        z += ax * by - ay * bx
    vector = np.array((x / 2, y / 2, z / 2))
    vector.flags.writeable = False
    return vector


def area_of(polygon: Polygon) -> float:
    """Area of a planar polygon."""
    vector = normal(polygon)
    return float((vector @ vector) ** 0.5)


def tilt_and_azimuth(vector: Vector, north_turn: float) -> tuple[float, float]:
    """Tilt and azimuth [°] of a direction; plan y looks to azimuth `north_turn`."""
    x, y, z = (float(v) for v in vector)
    flat = hypot(x, y)
    tilt = degrees(atan2(flat, z))
    azimuth = (degrees(atan2(x, y)) + north_turn) % 360 if flat > 1e-9 else 0.0
    return round(tilt, 6), round(azimuth, 6)


def volume(polygons: Iterable[Polygon]) -> float:
    """Volume enclosed by closed outward polygons (divergence theorem)."""
    total = 0.0
    for polygon in polygons:
        total += float(np.dot(np.asarray(polygon[0]), normal(polygon))) / 3
    return total


def sides(polygon: Polygon) -> Iterable[tuple[Point, Point]]:
    """The sides of a polygon, the last one closing it."""
    return zip(polygon, polygon[1:] + polygon[:1], strict=True)


def side_key(a: Point, b: Point) -> tuple[Point, Point]:
    """One name for a side, whichever way it is walked; points closer than 0.1 mm are one."""
    first, second = sorted(tuple(round(v, 4) for v in p) for p in (a, b))
    return first, second  # type: ignore[return-value]  # three numbers each


def angle_between(first: Polygon, second: Polygon) -> float:
    """Angle between the outward directions of two faces [°]: 0 in one plane, 90 at an upright corner."""
    a, b = normal(first), normal(second)
    length = float(np.linalg.norm(a) * np.linalg.norm(b))
    return degrees(acos(max(-1.0, min(1.0, float(a @ b) / length)))) if length > 0 else 0.0


def length_of(side: tuple[Point, Point]) -> float:
    """Length of a side."""
    return dist(*side)
