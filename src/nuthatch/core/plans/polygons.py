"""Plane polygons in space: area vector, direction, volume enclosed, edges shared."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from math import atan2, degrees, dist, hypot

import numpy as np
from numpy.typing import NDArray

Point = tuple[float, float, float]
Polygon = tuple[Point, ...]
Vector = NDArray[np.float64]


@lru_cache(maxsize=2048)
def area_vector(polygon: Polygon) -> Point:
    """Area vector of a planar polygon (Newell): direction outward for counter-clockwise seen from outside, length = area."""
    x = y = z = 0.0
    for (ax, ay, az), (bx, by, bz) in zip(polygon, polygon[1:] + polygon[:1], strict=True):
        x += ay * bz - az * by
        y += az * bx - ax * bz
        z += ax * by - ay * bx
    return x / 2, y / 2, z / 2


def normal(polygon: Polygon) -> Vector:
    """The area vector as an array."""
    return np.array(area_vector(polygon))


def area_of(polygon: Polygon) -> float:
    """Area of a planar polygon."""
    return hypot(*area_vector(polygon))


def tilt_and_azimuth(vector: Point, north_turn: float) -> tuple[float, float]:
    """Tilt and azimuth [°] of a direction; plan y looks to azimuth `north_turn`."""
    x, y, z = vector
    flat = hypot(x, y)
    tilt = degrees(atan2(flat, z))
    azimuth = (degrees(atan2(x, y)) + north_turn) % 360 if flat > 1e-9 else 0.0
    return round(tilt, 6), round(azimuth, 6)


def volume(polygons: Iterable[Polygon]) -> float:
    """Volume enclosed by closed outward polygons (divergence theorem)."""
    return sum(scalar(polygon[0], area_vector(polygon)) for polygon in polygons) / 3


def scalar(a: Point, b: Point) -> float:
    """Scalar product of two vectors."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def sides(polygon: Polygon) -> Iterable[tuple[Point, Point]]:
    """The sides of a polygon, the last one closing it."""
    return zip(polygon, polygon[1:] + polygon[:1], strict=True)


def side_key(a: Point, b: Point) -> tuple[Point, Point]:
    """One name for a side, whichever way it is walked; points closer than 0.1 mm are one."""
    first = round(a[0], 4), round(a[1], 4), round(a[2], 4)
    second = round(b[0], 4), round(b[1], 4), round(b[2], 4)
    return (first, second) if first <= second else (second, first)


def length_of(side: tuple[Point, Point]) -> float:
    """Length of a side."""
    return dist(*side)


@lru_cache(maxsize=4096)
def _axes(polygon: Polygon) -> tuple[Point, Point, Point, tuple[tuple[float, float], ...]]:
    """(a corner, to the right seen from outside, up the face, the outline in these axes)."""
    x, y, z = area_vector(polygon)
    size = max(hypot(x, y, z), 1e-12)
    nx, ny, nz = x / size, y / size, z / size
    flat = hypot(nx, ny)
    rx, ry = (-ny / flat, nx / flat) if flat > 1e-9 else (1.0, 0.0)
    ux, uy, uz = -nz * ry, nz * rx, nx * ry - ny * rx
    along = [(px * rx + py * ry, px * ux + py * uy + pz * uz) for px, py, pz in polygon]
    left, low = min(a for a, _ in along), min(u for _, u in along)
    out = nx * polygon[0][0] + ny * polygon[0][1] + nz * polygon[0][2]
    corner = rx * left + ux * low + nx * out, ry * left + uy * low + ny * out, uz * low + nz * out
    return corner, (rx, ry, 0.0), (ux, uy, uz), tuple((a - left, u - low) for a, u in along)


def plane_axes(polygon: Polygon) -> tuple[Vector, Vector, Vector]:
    """(a corner, to the right seen from outside, up the face) of a face that is not level."""
    corner, right, up, _ = _axes(polygon)
    return np.array(corner), np.array(right), np.array(up)


def flat_outline(polygon: Polygon) -> list[tuple[float, float]]:
    """The face's outline in its own plane: from its left edge and above its base [m]."""
    return list(_axes(polygon)[3])
