"""Roofs that reach over their walls: drawn, in the way of the sun, no part of the envelope."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from nuthatch.core.model.plans import Plans
from nuthatch.core.plans.offset import inward
from nuthatch.core.plans.polygons import Point, Polygon, Vector, area_vector, flat_outline, plane_axes, side_key, sides


def with_overhang(outlines: Mapping[str, Polygon], plans: Plans | None, party: frozenset[str] = frozenset()) -> dict[str, Polygon]:
    """The outlines with slopes reaching over their walls, as far as their part of the roof says; where two slopes meet they stay, and
    they do not reach over a neighbour. party: the faces toward neighbours."""
    reach = {r.id: r.overhang.value for r in plans.roofs if r.overhang is not None and r.overhang.value > 0} if plans is not None else {}
    if not reach:
        return dict(outlines)
    roofs = {k: p for k, p in outlines.items() if k.partition(".")[0] in reach and abs(area_vector(p)[2]) > 1e-6}
    shared: dict[object, int] = {}
    for polygon in (*roofs.values(), *(outlines[k] for k in party if k in outlines)):
        for side in sides(polygon):
            shared[side_key(*side)] = shared.get(side_key(*side), 0) + 1
    found = dict(outlines)
    for k, polygon in roofs.items():
        corner, right, up = plane_axes(polygon)
        lift = float(np.hypot(up[0], up[1])) or 1.0  # level metres to a metre up the slope
        flat = tuple(flat_outline(polygon))
        by = []
        for (p, q), (a, b) in zip(sides(polygon), zip(flat, flat[1:] + flat[:1], strict=True), strict=True):
            along = abs(b[0] - a[0]) / max(float(np.hypot(b[0] - a[0], b[1] - a[1])), 1e-9)
            free = shared[side_key(p, q)] == 1
            by.append(-reach[k.partition(".")[0]] * (along / lift + 1 - along) if free else 0.0)
        found[k] = tuple(_point(corner + right * x + up * y) for x, y in inward(flat, tuple(by)))
    return found


def _point(p: Vector) -> Point:
    return float(p[0]), float(p[1]), float(p[2])
