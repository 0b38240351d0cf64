"""Faces of a home, whoever made them: planar, outward normal, one build-up, one 'borders on'."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, hypot, sqrt

import numpy as np

from nuthatch.core.units import with_unit

Point = tuple[float, float, float]


@dataclass(frozen=True)
class Surface:
    """One face as calculations see it. area gross [m²], tilt 0 up/90 upright/180 down, azimuth from north [°];
    b is the typed reduction factor or None; perimeter is the exposed edge of a ground floor [m]."""

    id: str
    name: str
    role: str
    area: float
    tilt: float
    azimuth: float
    borders: str
    buildup: str
    b: float | None = None
    perimeter: float | None = None
    polygon: tuple[Point, ...] | None = None
    width: float = 0.0


def normal(polygon: tuple[Point, ...]) -> np.ndarray:
    """Area vector of a planar polygon (Newell): direction outward for counter-clockwise seen from outside, length = area."""
    x = y = z = 0.0
    for (ax, ay, az), (bx, by, bz) in zip(polygon, polygon[1:] + polygon[:1], strict=True):
        x += ay * bz - az * by
        y += az * bx - ax * bz
        z += ax * by - ay * bx
    return np.array((x / 2, y / 2, z / 2))


def tilt_and_azimuth(vector: np.ndarray, north_turn: float) -> tuple[float, float]:
    """Tilt and azimuth [°] of a direction; plan y looks to azimuth `north_turn`."""
    x, y, z = (float(v) for v in vector)
    flat = hypot(x, y)
    tilt = degrees(atan2(flat, z))
    azimuth = (degrees(atan2(x, y)) + north_turn) % 360 if flat > 1e-9 else 0.0
    return round(tilt, 6), round(azimuth, 6)


def volume(polygons: list[tuple[Point, ...]]) -> float:
    """Volume enclosed by closed outward polygons [m³] (divergence theorem)."""
    total = 0.0
    for polygon in polygons:
        total += float(np.dot(np.asarray(polygon[0]), normal(polygon))) / 3
    return total


def gaps(surfaces: tuple[Surface, ...]) -> list[str]:
    """Why the shape is not closed; empty where it is. Faces with polygons: every edge shared by two faces and
    Σ A·n = 0 within 0.5 %; a list without polygons is checked by Σ A·n per direction, which is weaker."""
    if not surfaces:
        return []
    found = []
    with_polygon = [s.polygon for s in surfaces if s.polygon]
    if len(with_polygon) == len(surfaces):
        edges: dict[object, int] = {}
        for polygon in with_polygon:
            for a, b in zip(polygon, polygon[1:] + polygon[:1], strict=True):
                first, second = sorted((tuple(round(v, 4) for v in a), tuple(round(v, 4) for v in b)))
                edges[(first, second)] = edges.get((first, second), 0) + 1
        loose = sum(1 for n in edges.values() if n != 2)
        if loose:
            found.append(f"{loose} edges are not shared by two faces")
    vectors = np.zeros(3)
    for s in surfaces:
        t, a = np.radians(s.tilt), np.radians(s.azimuth)
        vectors += s.area * np.array([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)])
    envelope = sum(s.area for s in surfaces)
    for axis, amount in zip(("east–west", "north–south", "up–down"), vectors, strict=True):
        if envelope and abs(amount) > 0.005 * envelope:
            found.append(f"{axis} faces do not balance: {with_unit(abs(amount), 'area')} more on one side")
    return found


def slope_length(run: float, rise: float) -> float:
    """Length along a slope [m]."""
    return sqrt(run * run + rise * rise)
