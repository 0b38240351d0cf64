"""The ground as it is drawn around the home: its surface in the solid, its line in elevations, its heights to be dragged."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil, cos, radians, sin

from nuthatch.core.assess import Assessment
from nuthatch.core.model.plans import GroundSpot
from nuthatch.core.plans.arrangement import Ground
from nuthatch.core.plans.ground import Slope
from nuthatch.core.plans.polygons import Point, Polygon
from nuthatch.core.sketch import Handle, PointXY, Pull, Sketch, snapping
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.units import with_unit

AROUND = 1.6
"""How far around the home its ground is drawn [m]."""
EVERY = 2.0
"""Between the lines of sloping ground [m]."""
CLOSE = 0.002
"""What is nearer to the ground than this lies on it [m]."""
FINE = 12
"""Pieces of a line over sloping ground."""


@dataclass(frozen=True)
class GroundDrawn:
    """The ground over a rectangle around the home [m]."""

    ground: Ground
    left: float
    low: float
    right: float
    high: float

    @property
    def border(self) -> Polygon:
        """Its edge, as it lies."""
        corners = self._corners
        return tuple(p for a, b in zip(corners, corners[1:] + corners[:1], strict=True) for p in self._line(a, b)[:-1])

    @property
    def _corners(self) -> tuple[tuple[float, float], ...]:
        return (self.left, self.low), (self.right, self.low), (self.right, self.high), (self.left, self.high)

    def on(self, a: Point, b: Point) -> bool:
        """Whether an edge of the home lies on it."""
        return all(abs(p[2] - self.ground(p[0], p[1])) < CLOSE for p in (a, b))

    def lines(self) -> list[list[Point]]:
        """A net over ground that slopes; level ground needs none."""
        if not isinstance(self.ground, Slope):
            return []
        across, along = (max(ceil((b - a) / EVERY), 2) for a, b in ((self.left, self.right), (self.low, self.high)))
        xs = [self.left + (self.right - self.left) * n / across for n in range(1, across)]
        ys = [self.low + (self.high - self.low) * n / along for n in range(1, along)]
        upright = [self._line((x, self.low), (x, self.high)) for x in xs]
        return upright + [self._line((self.left, y), (self.right, y)) for y in ys]

    def front(self, turn: float) -> list[Point]:
        """The line of the ground along the side that is seen square on, from left to right; turn: of the view [°]."""
        corners = [(x, y) for x in (self.left, self.right) for y in (self.low, self.high)]
        t = radians(turn)
        right, toward = (cos(t), sin(t)), (sin(t), -cos(t))
        near = sorted(corners, key=lambda p: -(p[0] * toward[0] + p[1] * toward[1]))[:2]
        a, b = sorted(near, key=lambda p: p[0] * right[0] + p[1] * right[1])
        return self._line(a, b)

    def _line(self, a: tuple[float, float], b: tuple[float, float]) -> list[Point]:
        steps = FINE if isinstance(self.ground, Slope) else 1
        places = ((a[0] + (b[0] - a[0]) * n / steps, a[1] + (b[1] - a[1]) * n / steps) for n in range(steps + 1))
        return [(x, y, self.ground(x, y)) for x, y in places]


def ground_drawn(a: Assessment) -> GroundDrawn | None:
    """The ground of drawn plans whose level is said; None for others."""
    built = a[BUILT]
    drawing = built.drawing if built is not None else None
    if drawing is None or drawing.ground is None or not drawing.outlines:
        return None
    points = [p for o in drawing.outlines for p in o.points]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return GroundDrawn(drawing.ground, min(xs) - AROUND, min(ys) - AROUND, max(xs) + AROUND, max(ys) + AROUND)


def heights(
    made: Sketch, a: Assessment, place: Callable[[Point], PointXY], shown: Callable[[float, float], bool], selected: str = ""
) -> None:
    """The typed heights of the ground seen from the side, each with its level, to be dragged up and down. place: of a point in space on
    the sheet; shown: whether a height at a place of the plan is."""
    plans = a.home.shape.plans
    step, fine, _ = snapping(False)
    for spot in plans.heights if plans is not None else ():
        if spot.x is not None and spot.y is not None and spot.z is not None and shown(spot.x.value, spot.y.value):
            at = place((spot.x.value, spot.y.value, spot.z.value))
            per = 1 / max(at[1] - place((spot.x.value, spot.y.value, spot.z.value + 1))[1], 1e-6)
            _height(made, spot, at, Pull(spot.id, "z", spot.z.value, (0.0, -per), step, fine, -100.0, 500.0), spot.id == selected)


def _height(made: Sketch, spot: GroundSpot, at: PointXY, pull: Pull, chosen: bool) -> None:
    x, y = at
    level = with_unit(pull.value, "length")
    color = "tide" if chosen else "chestnut"
    made.path([(x - 5, y + 9), (x + 5, y + 9), (x, y)], fill=color, stroke="white", width=0.8, id=spot.id, tip=f"ground {level}")
    left = x > made.width / 2
    made.text(x + (-8 if left else 8), y + 14, level, size=10.5, color=color, anchor="end" if left else "start", halo=True, id=spot.id)
    made.handles.append(
        Handle(spot.id, ((x - 7, y - 4), (x + 7, y - 4), (x + 7, y + 11), (x - 7, y + 11)), (pull,), f"ground {level}", True)
    )
