"""Outlines and roofs of drawn plans moved between their outer and inner faces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from math import hypot

import shapely

from nuthatch.core.plans.arrangement import HEATED as HOME
from nuthatch.core.plans.arrangement import PlanOutline
from nuthatch.core.plans.linework import NEAR
from nuthatch.core.plans.offset import inward
from nuthatch.core.plans.reading_plans import Drawing
from nuthatch.core.plans.roofs import Point2

SideLine = tuple[Point2, Point2]


@dataclass(frozen=True)
class Layout:
    """Outlines and roofs moved between their outer and inner faces; known: thickness of build-ups [m]."""

    drawing: Drawing
    thick: Mapping[str, float]
    own: Mapping[str, float]
    known: Mapping[str, float] = field(default_factory=dict)

    def _by(self, o: PlanOutline) -> tuple[float, ...]:
        return tuple(self.thick.get(f"{o.id}:{n}", 0.0) for n in range(len(o.sides)))

    def _moved(self, o: PlanOutline, sign: float) -> PlanOutline:
        if o.space != HOME:
            return o
        moved = _inward(o, tuple(sign * t for t in self._by(o)))
        low, high = (self.thick.get(f"{o.id}.{k}", 0.0) for k in ("floor", "top"))
        bottom, top = o.bottom + sign * low, o.top - (0.0 if o.under_roof else sign * high)
        return replace(moved, bottom=bottom, top=max(top, bottom) if o.under_roof else top)

    def grown(self) -> tuple[PlanOutline, ...]:
        """Traced inner faces moved out; unheated spaces give way to the walls and floors of the heated one, and have their own outside."""
        heated = {o.id: self._moved(o, -1) for o in self.drawing.outlines if o.space == HOME}
        return tuple(heated.get(o.id) or self._around(o) for o in self.drawing.outlines)

    def _around(self, o: PlanOutline) -> PlanOutline:
        """An unheated outline beside, below or above grown heated ones."""
        warm = [h for h in self.drawing.outlines if h.space == HOME]
        by = []
        for side in o.sides:
            inner = next(
                (self.thick.get(f"{h.id}:{m}", 0.0) for h in warm for m in range(len(h.sides)) if _along_each_other(side, h, m, o)), None
            )
            by.append(inner if inner is not None else -self.own.get(o.id, 0.0))
        bottom, top = o.bottom, o.top
        for h in warm:
            if shapely.intersection(h.polygon, o.polygon).area > 0.01:
                top = h.bottom - self.thick.get(f"{h.id}.floor", 0.0) if abs(h.bottom - o.top) < NEAR else top
                bottom = h.top + self.thick.get(f"{h.id}.top", 0.0) if abs(h.top - o.bottom) < NEAR and not h.under_roof else bottom
        return replace(_inward(o, tuple(by)), bottom=bottom, top=top)

    def shrunk(self, outer: tuple[PlanOutline, ...]) -> tuple[PlanOutline, ...]:
        """Outer faces moved in; an outline whose walls leave no room inside stays."""
        found = []
        for o in outer:
            if o.space != HOME:
                found.append(o)
                continue
            moved = self._moved(o, 1)
            shape = moved.polygon
            turns = tuple(shapely.is_ccw(shapely.LinearRing(ring)) for ring in moved.rings)
            fits = shape.is_valid and shape.area > 0 and turns == (True, *(False for _ in moved.holes))
            found.append(moved if fits and (moved.top > moved.bottom or moved.under_roof) else o)
        return tuple(found)

    def cramped(self, outer: tuple[PlanOutline, ...], inner: tuple[PlanOutline, ...]) -> frozenset[str]:
        """The heated outlines that have no room inside their walls."""
        thick = {o.id: any(self._by(o)) or self.thick.get(f"{o.id}.floor", 0.0) > 0 for o in outer}
        return frozenset(o.id for o, i in zip(outer, inner, strict=True) if o.space == HOME and i == o and thick[o.id])


def _inward(o: PlanOutline, by: tuple[float, ...]) -> PlanOutline:
    """Every side of an outline and its holes moved toward its inside by its distance [m]."""
    rings, at = [], 0
    for ring in o.rings:
        rings.append(inward(ring, by[at : at + len(ring)]))
        at += len(ring)
    return o.with_rings(rings)


def _along_each_other(side: SideLine, warm: PlanOutline, m: int, cold: PlanOutline) -> bool:
    """Whether a side of a heated outline runs along one of an unheated outline beside it."""
    if warm.bottom >= cold.top - NEAR or (warm.top <= cold.bottom + NEAR and not warm.under_roof):
        return False
    (ax, ay), (bx, by) = side
    long = max(hypot(bx - ax, by - ay), 1e-9)
    way = (bx - ax) / long, (by - ay) / long
    spans = []
    for x, y in warm.sides[m]:
        if abs((x - ax) * way[1] - (y - ay) * way[0]) > 0.005:
            return False
        spans.append((x - ax) * way[0] + (y - ay) * way[1])
    return min(max(spans), long) - max(min(spans), 0.0) > 0.01 and spans[0] > spans[1]  # beside each other they are walked opposite ways
