"""The shapes of an IFC model's elements: what they cover, where they slope, in which face of the home a window or door stands."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from nuthatch.core.plans.polygons import Polygon, flat_outline, normal, plane_axes

DEEP = 0.7
"""How far behind the outer face a window may lie [m]."""
SLOPE = 0.035
"""Sine of the tilt above which a roof slopes."""


@dataclass(frozen=True)
class Body:
    """The shape of an element: triangles [m], and its plan."""

    element: Any
    triangles: np.ndarray

    @property
    def low(self) -> float:
        return float(self.triangles[:, :, 2].min())

    @property
    def high(self) -> float:
        return float(self.triangles[:, :, 2].max())

    @property
    def name(self) -> str:
        return str(self.element.Name or self.element.is_a())

    def plan(self) -> shapely.Geometry:
        """What it covers, seen from above."""
        flat = [shapely.Polygon(t[:, :2]) for t in self.triangles]
        return shapely.union_all([p for p in flat if p.area > 1e-7], grid_size=1e-6)

    def slopes(self) -> list[Polygon]:
        """Its upward faces that slope, those of one plane as one, seen from above."""
        a, b, c = (self.triangles[:, k] for k in range(3))
        out = np.cross(b - a, c - a)
        size = np.linalg.norm(out, axis=1)
        rows: dict[tuple[float, ...], list[int]] = defaultdict(list)
        for n in np.flatnonzero(size > 1e-9):
            way = out[n] / size[n]
            if way[2] > SLOPE and np.hypot(way[0], way[1]) > SLOPE:
                rows[(*np.round(way, 3).tolist(), round(float(way @ a[n]), 2))].append(int(n))
        found: list[Polygon] = []
        for members in rows.values():
            way, at = out[members[0]] / size[members[0]], a[members[0]]
            joined = shapely.union_all([shapely.Polygon(self.triangles[n][:, :2]) for n in members], grid_size=1e-6)
            for part in shapely.get_parts(joined):
                ring = [(x, y) for x, y in shapely.geometry.polygon.orient(part.simplify(1e-4)).exterior.coords[:-1]]
                found.append(tuple((x, y, float(at[2] - ((x - at[0]) * way[0] + (y - at[1]) * way[1]) / way[2])) for x, y in ring))
        return found


def clipped(polygon: Polygon, outer: shapely.Geometry) -> Iterable[Polygon]:
    """A slope as far as it lies over the home: what reaches over the walls is no part of the envelope."""
    a, b, c = (np.array(p) for p in polygon[:3])
    out = np.cross(b - a, c - a)
    n = 2
    while np.linalg.norm(out) < 1e-9 and n + 1 < len(polygon):
        n += 1
        out = np.cross(b - a, np.array(polygon[n]) - a)
    if abs(out[2]) < 1e-9:
        return
    for part in shapely.get_parts(shapely.intersection(shapely.Polygon([(x, y) for x, y, _ in polygon]), outer, grid_size=1e-6)):
        if part.geom_type == "Polygon" and part.area > 0.1:
            ring = shapely.geometry.polygon.orient(part.simplify(1e-4)).exterior.coords[:-1]
            yield tuple((x, y, float(a[2] - ((x - a[0]) * out[0] + (y - a[1]) * out[1]) / out[2])) for x, y in ring)


def place_of(body: Body, outlines: Any) -> tuple[str, float, float, float, float] | None:
    """(face, from its left edge, sill, width, height) of a window or door [m]; None where it stands in no outer face."""
    points = np.unique(body.triangles.reshape(-1, 3).round(6), axis=0)
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    best: tuple[float, str] = (DEEP, "")
    for name, polygon in outlines.items():
        out = normal(polygon)
        if abs(out[2]) > 0.999 * np.linalg.norm(out):
            continue
        corner, right, up = plane_axes(polygon)
        way = np.cross(right, up)
        thin = np.ptp((points - corner) @ way)
        if thin > 0.7 * min(np.ptp((points - corner) @ right), np.ptp((points - corner) @ up)):
            continue  # it looks another way
        rest = middle - corner
        behind = -float(rest @ way)
        spot = shapely.Point(float(rest @ right), float(rest @ up))
        far = shapely.distance(shapely.Polygon(flat_outline(polygon)), spot) + abs(behind)
        if behind > -0.3 and far < best[0]:
            best = float(far), name
    if not best[1]:
        return None
    polygon = outlines[best[1]]
    corner, right, up = plane_axes(polygon)
    along, upward = (points - corner) @ right, (points - corner) @ up
    sill = float(points[:, 2].min())
    return best[1], float(along.min()), sill, float(np.ptp(along)), float(np.ptp(upward))
