"""Where a point being drawn comes to lie: on what is drawn already, in line with it, square to it, or on the grid; and what it lines up with."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from math import atan2, cos, degrees, hypot, radians, sin

import shapely

from nuthatch.core.plans.roofs import Point2

Segment = tuple[Point2, Point2]
NEAREST = 40


@dataclass(frozen=True)
class Snap:
    """Where the point comes to lie, what holds it there in words, and the point or line it lines up with (for a guide)."""

    at: Point2
    says: str = ""
    guides: tuple[Segment, ...] = ()


@dataclass(frozen=True)
class Drawn:
    """What can be snapped to: corners and sides with their names, the reach of a snap and the grid [m], 0 for none; `square`: only
    along the sheet's axes from the last point; the lines of a drawing below."""

    corners: tuple[tuple[Point2, str], ...] = ()
    sides: tuple[tuple[Segment, str], ...] = ()
    reach: float = 0.2
    grid: float = 0.05
    square: bool = True
    sheet: BackingLines | None = None

    def near(self, point: Point2) -> Drawn:
        """The same with the lines of the sheet that are near a point."""
        pieces = self.sheet.near(point, self.reach) if self.sheet is not None else ()
        if not pieces:
            return self
        ends = tuple((p, "an end of a line of the sheet") for piece in pieces for p in piece)
        return replace(
            self, corners=(*self.corners, *ends), sides=(*self.sides, *((piece, "a line of the sheet") for piece in pieces)), sheet=None
        )


class BackingLines:
    """The lines of a drawing below the plan, found by where they are."""

    def __init__(self, pieces: tuple[Segment, ...]) -> None:
        self.pieces = pieces
        self._tree = shapely.STRtree([shapely.LineString(p) for p in pieces])

    def near(self, point: Point2, reach: float) -> tuple[Segment, ...]:
        """The lines nearer than this to a point [m], not more than a few dozen."""
        found = self._tree.query(shapely.Point(point), predicate="dwithin", distance=reach)
        return tuple(self.pieces[n] for n in sorted(found.tolist())[:NEAREST])


def snap(point: Point2, drawn: Drawn, last: Point2 | None = None, first: Point2 | None = None) -> Snap:
    """The place meant by a point near it. last: the corner drawn before; first: the one that closes the outline."""
    drawn = drawn.near(point)
    if first is not None and _apart(point, first) < drawn.reach:
        return Snap(first, "closes the outline")
    near = min(drawn.corners, key=lambda c: _apart(point, c[0]), default=None)
    if near is not None and _apart(point, near[0]) < drawn.reach:
        return Snap(near[0], f"on {near[1]}")
    if last is not None and drawn.square:
        return _square(point, drawn, last)
    for middle, name in _middles(drawn.sides):
        if _apart(point, middle) < drawn.reach:
            return Snap(middle, f"middle of {name}")
    for (a, b), name in drawn.sides:
        foot = _foot(point, a, b)
        if foot is not None and _apart(point, foot) < drawn.reach:
            if last is not None and (drop := _foot(last, a, b)) is not None and _apart(drop, point) < drawn.reach:
                return Snap(drop, f"square to {name}", ((last, drop),))
            return Snap(_on_grid_along(foot, a, b, drawn.grid), f"on {name}")
    return _lined_up(point, drawn, free=(True, True))


def _square(point: Point2, drawn: Drawn, last: Point2) -> Snap:
    """Along the axis that is nearer, in line with a corner where one is near."""
    across = abs(point[0] - last[0]) >= abs(point[1] - last[1])
    held = (point[0], last[1]) if across else (last[0], point[1])
    for (a, b), name in drawn.sides:
        met = _meeting(last, held, a, b)
        if met is not None and _apart(met, held) < drawn.reach:
            return Snap(met, f"on {name}", ((last, met),))
    found = _lined_up(held, drawn, free=(across, not across))
    return found if found.says else Snap(found.at, "level" if across else "upright")


def _lined_up(point: Point2, drawn: Drawn, free: tuple[bool, bool]) -> Snap:
    """In line with corners, each coordinate by itself, else on the grid."""
    at, says, guides = list(point), [], []
    for axis in (0, 1):
        if not free[axis]:
            continue
        close = min(drawn.corners, key=lambda c: abs(c[0][axis] - point[axis]), default=None)
        if close is not None and abs(close[0][axis] - point[axis]) < drawn.reach:
            at[axis] = close[0][axis]
            says.append(f"in line with {close[1]}")
            guides.append(close[0])
        elif drawn.grid:
            at[axis] = round(round(point[axis] / drawn.grid) * drawn.grid, 6)
    made = at[0], at[1]
    return Snap(made, ", ".join(dict.fromkeys(says)), tuple((g, made) for g in guides))


def polar(last: Point2, length: float, angle: float) -> Point2:
    """The point so far from another [m] at an angle counter-clockwise from the right [°]."""
    x, y = last[0] + length * cos(radians(angle)), last[1] + length * sin(radians(angle))
    return round(x, 6), round(y, 6)


def length_and_angle(a: Point2, b: Point2) -> tuple[float, float]:
    """(length [m], angle counter-clockwise from the right [°, 0 to 360])."""
    return _apart(a, b), degrees(atan2(b[1] - a[1], b[0] - a[0])) % 360


def _apart(a: Point2, b: Point2) -> float:
    return hypot(a[0] - b[0], a[1] - b[1])


def _middles(sides: Iterable[tuple[Segment, str]]) -> list[tuple[Point2, str]]:
    return [(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), name) for (a, b), name in sides]


def _foot(p: Point2, a: Point2, b: Point2) -> Point2 | None:
    """The point of a side nearest to another, None beyond its ends."""
    d = b[0] - a[0], b[1] - a[1]
    size = d[0] ** 2 + d[1] ** 2
    t = ((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / size if size > 0 else -1.0
    return (a[0] + t * d[0], a[1] + t * d[1]) if 0 <= t <= 1 else None


def _on_grid_along(p: Point2, a: Point2, b: Point2, grid: float) -> Point2:
    """A point of a side at a round distance from its first end."""
    long = _apart(a, b)
    if not grid or long <= 0:
        return p
    t = min(round(_apart(a, p) / grid) * grid, long) / long
    return round(a[0] + t * (b[0] - a[0]), 6), round(a[1] + t * (b[1] - a[1]), 6)


def _meeting(a: Point2, b: Point2, c: Point2, d: Point2) -> Point2 | None:
    """Where the line through a and b meets the side from c to d."""
    r, s = (b[0] - a[0], b[1] - a[1]), (d[0] - c[0], d[1] - c[1])
    turn = r[0] * s[1] - r[1] * s[0]
    if abs(turn) < 1e-12:
        return None
    t = ((c[0] - a[0]) * s[1] - (c[1] - a[1]) * s[0]) / turn
    u = ((c[0] - a[0]) * r[1] - (c[1] - a[1]) * r[0]) / turn
    return (a[0] + t * r[0], a[1] + t * r[1]) if 0 <= u <= 1 else None
