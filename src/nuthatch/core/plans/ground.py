"""The ground as it lies: level, or through given heights."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from nuthatch.core.plans.roofs import Point2


@dataclass(frozen=True)
class Slope:
    """The ground through given heights: plane between three of them each time, as high as at its border beyond them."""

    spots: tuple[tuple[float, float, float], ...]

    @cached_property
    def _mesh(self) -> Any:
        """The triangles between the places of the heights; None where they lie in one line."""
        from scipy.spatial import Delaunay  # slow to load, and few homes have such ground

        points = np.array(self.spots)[:, :2]
        spread = len(points) > 2 and np.linalg.matrix_rank(points[1:] - points[0], tol=1e-6) == 2
        return Delaunay(points) if spread else None

    @cached_property
    def _border(self) -> shapely.Geometry:
        return shapely.MultiPoint([s[:2] for s in self.spots]).convex_hull

    def __call__(self, x: float, y: float) -> float:
        if not shapely.contains_xy(self._border, x, y):
            on = self._border.boundary if self._mesh is not None else self._border
            spot = on.interpolate(on.project(shapely.Point(x, y))) if on.geom_type == "LineString" else shapely.Point(*self.spots[0][:2])
            x, y = spot.x, spot.y
        return self._between(x, y)

    def _between(self, x: float, y: float) -> float:
        if self._mesh is None:
            return self._along(x, y)
        n = int(self._mesh.find_simplex((x, y), tol=1e-9))
        if n < 0:  # a hair outside: the triangle whose middle is nearest
            middles = self._mesh.points[self._mesh.simplices].mean(axis=1)
            n = int(np.hypot(*(middles - (x, y)).T).argmin())
        a, b, c = self.plane(n)
        return a * x + b * y + c

    def _along(self, x: float, y: float) -> float:
        """Between heights in one line."""
        ends = np.array(self.spots)
        way = ends[-1, :2] - ends[0, :2] if len(ends) > 1 else np.zeros(2)
        far = (ends[:, :2] - ends[0, :2]) @ way
        order = np.argsort(far)
        return float(np.interp((np.array((x, y)) - ends[0, :2]) @ way, far[order], ends[order, 2]))

    def plane(self, n: int) -> tuple[float, float, float]:
        """A triangle as z = a·x + b·y + c."""
        corners = np.array([self.spots[k] for k in self._mesh.simplices[n]])
        a, b, c = np.linalg.solve(np.column_stack([corners[:, :2], np.ones(3)]), corners[:, 2])
        return float(a), float(b), float(c)

    def lines(self, levels: tuple[float, ...]) -> list[tuple[Point2, Point2]]:
        """Where the ground folds, and where it comes through a level, as far as it is known."""
        if self._mesh is None:
            return []
        found: list[tuple[Point2, Point2]] = []
        for corners in ([self.spots[k] for k in simplex] for simplex in self._mesh.simplices):
            found += [(p[:2], q[:2]) for p, q in zip(corners, corners[1:] + corners[:1], strict=True)]
            for level in levels:
                cut = []
                for p, q in zip(corners, corners[1:] + corners[:1], strict=True):
                    if (p[2] - level) * (q[2] - level) < 0:
                        share = (level - p[2]) / (q[2] - p[2])
                        cut.append((p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1])))
                cut += [p[:2] for p in corners if p[2] == level]
                if len(cut) == 2:
                    found.append((cut[0], cut[1]))
        return list(dict.fromkeys((min(s), max(s)) for s in found))


@dataclass(frozen=True)
class Level:
    """Level ground."""

    z: float

    def __call__(self, x: float, y: float) -> float:
        return self.z
