"""What stands at an opening itself: its reveal, an overhang, fins. They leave a rectangle of the glass in the sun, at any hour.

Coordinates of a pane: u to the right seen from outside, v up the plane, n outward; 0, 0, 0 is the lower left corner of the opening in
the face. A direction toward the sun or the sky is told by its slopes a = u/n and b = v/n.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.results.figure import Array


@dataclass(frozen=True)
class Edges:
    """Sizes [m]: the opening; how far the glass lies within it at the left, below, at the right, above; how deep the glass lies behind the
    face; overhang and how far above the opening it is; fins at the left and right edge. Overhang and fins go on beyond the opening as
    far as it matters."""

    width: float
    height: float
    frame: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    reveal: float = 0.0
    overhang: float = 0.0
    above: float = 0.0
    fins: tuple[float, float] = (0.0, 0.0)

    @property
    def glass(self) -> float:
        """Area of the glass [m²]."""
        left, low, right, top = self.frame
        return (self.width - left - right) * (self.height - low - top)


Window = tuple[Array, Array, Array, Array]
"""Where the sun passes through the plane of the face to reach the glass: from u, from v, to u, to v [m]; nothing where to is below from."""


def window(edges: Edges, a: Array, b: Array) -> Window:
    """The part of the face's plane through which light of slopes a, b reaches the glass."""
    e, r = edges, edges.reveal
    left, low, right, top = e.frame
    u0, u1 = np.maximum(left + r * a, 0.0), np.minimum(e.width - right + r * a, e.width)
    v0, v1 = np.maximum(low + r * b, 0.0), np.minimum(e.height - top + r * b, e.height)
    if e.overhang:
        v1 = np.where(b > 0, np.minimum(v1, e.height + e.above - e.overhang * b), v1)
    if e.fins[0]:
        u0 = np.where(a < 0, np.maximum(u0, -e.fins[0] * a), u0)
    if e.fins[1]:
        u1 = np.where(a > 0, np.minimum(u1, e.width - e.fins[1] * a), u1)
    return u0, v0, u1, v1


def lit(edges: Edges, a: Array, b: Array) -> Array:
    """Sunlit share of the glass for light of slopes a, b."""
    u0, v0, u1, v1 = window(edges, a, b)
    return np.asarray(np.minimum(np.maximum(u1 - u0, 0.0) * np.maximum(v1 - v0, 0.0) / edges.glass, 1.0))


def axes(tilt: float, azimuth: float) -> Array:
    """Rows u, v, n of a plane in east, north, up; tilt 0 up, 90 upright, azimuth from north [°]."""
    t, z = np.radians(tilt), np.radians(azimuth)
    n = np.array([np.sin(t) * np.sin(z), np.sin(t) * np.cos(z), np.cos(t)])
    u = np.array([-np.cos(z), np.sin(z), 0.0])
    return np.array([u, np.cross(n, u), n])


def toward(height: Array, azimuth: Array) -> Array:
    """Unit vectors in east, north, up, (…, 3), of heights above the horizon and azimuths from north [°]."""
    h, z = np.radians(height), np.radians(azimuth)
    return np.stack([np.cos(h) * np.sin(z), np.cos(h) * np.cos(z), np.sin(h)], axis=-1)


GRAZING = 0.01
"""Light that falls along the glass closer than this cosine is not looked at: half a degree."""


def slopes(directions: Array) -> tuple[Array, Array]:
    """a and b of directions in a pane's own coordinates (…, 3)."""
    n = np.maximum(directions[..., 2], GRAZING)
    return directions[..., 0] / n, directions[..., 1] / n


COUNT = 1024


def _half_sphere() -> Array:
    """Directions before a pane, each of the same weight to it (cos θ dΩ): even points of the unit disc along a spiral, raised to the half
    sphere."""
    i = np.arange(COUNT) + 0.5
    r, turn = np.sqrt(i / COUNT), i * np.pi * (3 - np.sqrt(5))
    return np.stack([r * np.cos(turn), r * np.sin(turn), np.sqrt(1 - r * r)], axis=-1)


DIRECTIONS = _half_sphere()
"""(COUNT, 3) directions in a pane's own coordinates."""
WIDE = np.degrees(np.sqrt(np.pi / (COUNT * np.maximum(DIRECTIONS[:, 2], 0.05))))
"""How wide a part of the half sphere each direction stands for [°]."""
