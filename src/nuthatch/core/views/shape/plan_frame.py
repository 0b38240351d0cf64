"""How storey plans lie on the sheet, and what a point drawn on it snaps to."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.model.plans import Plans
from nuthatch.core.plans.reading_plans import points_of, rings_of, walls_of
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.plans.snapping import Drawn
from nuthatch.core.sketch import PointXY
from nuthatch.core.units import INCH_POUND, system

MARGIN, LONG_MARGIN, FOOT = 34.0, 64.0, 40.0
"""Room around the plan for its lengths, also in feet and fractions of an inch, and for the legend below it."""
EMPTY = (-1.0, -1.0, 13.0, 10.0)
"""What an empty sheet shows [m]."""


@dataclass(frozen=True)
class Frame:
    """How the plan lies on the sheet: sheet = left + x·scale, top − y·scale."""

    scale: float
    left: float
    top: float

    def at(self, p: Point2) -> PointXY:
        """A point of the plan on the sheet."""
        return self.left + p[0] * self.scale, self.top - p[1] * self.scale

    def back(self, x: float, y: float) -> Point2:
        """A point of the sheet in the plan [m]."""
        return (x - self.left) / self.scale, (self.top - y) / self.scale


def bounds(plans: Plans) -> tuple[float, float, float, float]:
    """What all storeys and roofs together take up in the plan [m]."""
    points = [p for s in plans.storeys for o in s.outlines for p in points_of(o.sides)]
    points += [p for r in plans.roofs for p in points_of(r.corners)]
    if not points:
        return EMPTY
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def frame_of(plans: Plans, size: tuple[float, float], room: float = 0.0, small: bool = False) -> Frame:
    """All plans in view, every storey at one place; room: metres left free around them."""
    beside, foot = (8.0, 0.0) if small else (LONG_MARGIN if system() == INCH_POUND else MARGIN, FOOT)
    x0, y0, x1, y1 = bounds(plans)
    x0, y0, x1, y1 = x0 - room, y0 - room, x1 + room, y1 + room
    scale = min((size[0] - 3 * beside) / max(x1 - x0, 1.0), (size[1] - 1.4 * min(beside, MARGIN) - foot) / max(y1 - y0, 1.0))
    scale = max(scale, 0.5)  # a view too small to draw in is drawn in all the same
    left = (size[0] - (x1 - x0) * scale) / 2 - x0 * scale
    top = (size[1] - foot + (y1 - y0) * scale) / 2 + y0 * scale
    return Frame(scale, left, top)


def to_snap(plans: Plans, storey: str, frame: Frame, square: bool = True) -> Drawn:
    """What a point drawn in a storey snaps to: its own lines and those of the storey below; the reach is a few pixels."""
    at = next((n for n, s in enumerate(plans.storeys) if s.id == storey), 0)
    corners: list[tuple[Point2, str]] = []
    sides = []
    for s, words in ((plans.storeys[at], ""), *(((plans.storeys[at - 1], " of the storey below"),) if at else ())):
        for o in s.outlines:
            name = f"{o.name or 'the outline'}{words}"
            for points in map(points_of, rings_of(o)):
                corners += [(p, f"a corner of {name}") for p in points]
                sides += [((a, b), f"a wall of {name}") for a, b in zip(points, points[1:] + points[:1], strict=True)]
        for a, b, _ in walls_of(s.inner_walls):
            corners += [(a, "an inner wall"), (b, "an inner wall")]
            sides.append(((a, b), "an inner wall"))
    inch = 0.3048 / 12
    grid = inch if system() == INCH_POUND else 0.05
    return Drawn(tuple(corners), tuple(sides), min(8.0 / frame.scale, 0.5), grid, square)
