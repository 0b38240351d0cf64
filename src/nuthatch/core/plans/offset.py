"""Outlines moved in or out by the thickness of what stands along each side."""

from __future__ import annotations

from math import hypot

from nuthatch.core.plans.roofs import Point2


def inward(points: tuple[Point2, ...], by: tuple[float, ...]) -> tuple[Point2, ...]:
    """An outline, walked with its inside on the left, with every side moved inward by its distance [m]; outward where negative.

    Neighbouring sides meet where their moved lines cross; two in one line meet halfway between their distances.
    """
    lines = []
    for (ax, ay), (bx, by_), d in zip(points, points[1:] + points[:1], by, strict=True):
        length = max(hypot(bx - ax, by_ - ay), 1e-12)
        along = (bx - ax) / length, (by_ - ay) / length
        lines.append(((ax - along[1] * d, ay + along[0] * d), along, d))
    found = []
    for n, (start, along, d) in enumerate(lines):
        before, way, other = lines[n - 1]
        turn = way[0] * along[1] - way[1] * along[0]
        if abs(turn) < 1e-6:
            x, y = points[n]
            mean = (d + other) / 2
            found.append((x - along[1] * mean, y + along[0] * mean))
            continue
        t = ((start[0] - before[0]) * along[1] - (start[1] - before[1]) * along[0]) / turn
        found.append((before[0] + t * way[0], before[1] + t * way[1]))
    return tuple(found)
