"""Cuts through a solid: upright sections and plans, from outlines alone, whoever made them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.polygon import orient

from nuthatch.core.plans.linework import net
from nuthatch.core.plans.polygons import Polygon, normal, sides
from nuthatch.core.solid.solid import Solid

Point2 = tuple[float, float]
Segment = tuple[Point2, Point2]


@dataclass(frozen=True)
class Section:
    """An upright cut: outer and inner profile from the left foot over the top to the right foot, (across, up) [m], and the
    walls the cut passes through: id → (outer, inner) position across."""

    outer: tuple[Point2, ...]
    inner: tuple[Point2, ...]
    walls: dict[str, tuple[float, float]]


def cut(polygon: Polygon, axis: int, at: float) -> tuple[Segment, ...]:
    """Where a polygon passes through the plane coordinate[axis] = at: segments in the two other coordinates."""
    kept = [i for i in range(3) if i != axis]
    points: list[Point2] = []
    for a, b in sides(polygon):
        before, after = a[axis] - at, b[axis] - at
        if (before < 0) != (after < 0):
            share = before / (before - after)
            x, y = (a[i] + share * (b[i] - a[i]) for i in kept)
            points.append((x, y))
    points.sort()
    return tuple(zip(points[::2], points[1::2], strict=False))


def _middle(outlines: Mapping[str, Polygon], axis: int) -> float:
    values = [p[axis] for polygon in outlines.values() for p in polygon]
    return (min(values) + max(values)) / 2


def _across(solid: Solid) -> int:
    """The axis the section looks along: the roofs' slopes lie across it."""
    slopes = np.zeros(3)
    for face in solid.boundaries:
        if face.role == "roof" and face.id in solid.outer:
            slopes += np.abs(normal(solid.outer[face.id]))
    return 0 if slopes[1] >= slopes[0] else 1


def _profile(segments: list[Segment]) -> tuple[Point2, ...]:
    """The largest outline segments enclose, as a line from its left foot over the top to its right foot."""
    lines = [shapely.LineString(line) for line in net(segments)]
    found = shapely.union_all(shapely.get_parts(shapely.polygonize(lines)))
    polygons = [p for p in shapely.get_parts(found) if p.geom_type == "Polygon"]
    if not polygons:
        return ()
    ring = orient(max(polygons, key=lambda p: p.area), -1).exterior.simplify(1e-3).coords[:-1]
    points = [(float(x), float(y)) for x, y in ring]
    start = min(range(len(points)), key=lambda n: (round(points[n][1], 4), points[n][0]))
    return tuple(points[start:] + points[:start])


def section(solid: Solid) -> Section | None:
    """The upright section through the middle of a solid; None where it has no outlines, or no room inside."""
    if not solid.drawn or not solid.storeys:
        return None
    axis = _across(solid)
    at = _middle(solid.outer, axis)
    outer = {k: cut(p, axis, at) for k, p in solid.outer.items()}
    inner = {k: cut(p, axis, at) for k, p in solid.inner.items()}
    profiles = [_profile([s for found in cuts.values() for s in found]) for cuts in (outer, inner)]
    upright = {b.id for b in solid.boundaries if b.role in ("wall", "party wall")}
    walls = {k: (outer[k][0][0][0], inner[k][0][0][0]) for k in upright if outer.get(k) and inner.get(k)}
    return Section(profiles[0], profiles[1], walls) if min(map(len, profiles)) > 3 else None


@dataclass(frozen=True)
class WallInPlan:
    """A wall as a plan shows it: left and right end seen from outside, on its outer and inner face (x, y) [m]."""

    id: str
    outer: Segment
    inner: Segment


def walls_in_plan(solid: Solid, above: float = 1.0) -> tuple[WallInPlan, ...]:
    """The walls cut level, so far above the lowest floor."""
    if not solid.drawn or not solid.storeys:
        return ()
    at = solid.storeys[0].level + above
    found = []
    for face in solid.boundaries:
        if face.role not in ("wall", "party wall") or face.id not in solid.outer or face.id not in solid.inner:
            continue
        x, y, _ = (float(v) for v in normal(solid.outer[face.id]))
        cuts = [cut(polygons[face.id], 2, at) for polygons in (solid.outer, solid.inner)]
        if all(cuts):
            ends = [sorted(c[0], key=lambda p: p[0] * -y + p[1] * x) for c in cuts]
            found.append(WallInPlan(face.id, (ends[0][0], ends[0][1]), (ends[1][0], ends[1][1])))
    return tuple(found)
