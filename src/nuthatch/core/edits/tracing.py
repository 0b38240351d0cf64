"""Something being drawn on a plan: its points, what is typed of the next one, and what is said meanwhile."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import combinations
from math import hypot, inf, isfinite

import shapely

from nuthatch.core.plans.roofs import Point2
from nuthatch.core.plans.snapping import Drawn, Snap, length_and_angle, polar, snap
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import show, with_unit

OPEN = ("pipe",)
"""Tools that draw a line of any number of corners until Enter, or a double click."""
CLOSED = ("outline", "unheated space", "court", "plot")
"""Tools that draw until what they draw closes."""
FRONTS = ("roof front", "block", "row of trees")
"""Tools that draw a rectangle at any angle: the two ends of its front, then how deep it is."""
FREE = ("roof part", *FRONTS, "scale", "window", "distance", "tree")
"""Tools whose second point lies anywhere from the first."""
NEEDS = {
    "outline": 0,
    "unheated space": 0,
    "court": 0,
    "inner wall": 2,
    "roof part": 2,
    "roof front": 3,
    "plot": 0,
    "block": 3,
    "row of trees": 3,
    "tree": 1,
    "room": 1,
    "scale": 2,
    "window": 1,
    "distance": 3,
    "pipe": 0,
}
AGAIN = ("inner wall", "window", "tree")
"""Tools that stay in hand: what they draw mostly comes in numbers."""
"""How many points end what is drawn; 0: until it closes."""
BEGIN = {
    "outline": "Outline: click its first corner, or press Enter to begin at the origin",
    "unheated space": "Unheated space: click the first corner of its outline, or press Enter to begin at the origin",
    "court": "Court: click the first corner of what is cut out of an outline",
    "inner wall": "Inner wall: click where it begins",
    "roof part": "Part of the roof: click one corner, then the opposite one",
    "roof front": "Part of the roof: click the two ends of its front, then how deep it is",
    "plot": "Plot: click the first corner of its boundary",
    "block": "Block: click the two ends of one side, then how deep it is",
    "row of trees": "Row of trees: click its two ends, then how broad it is",
    "tree": "Tree: click where it stands",
    "room": "Room: click into it to name it",
    "window": "Window: click into an outer wall where its middle is to stand",
    "distance": "Distance: click what stays, then what is to move",
    "pipe": "Pipe: click where it begins, then its corners; Enter ends it",
    "scale": "Scale of the backing sheet: click two of its points whose distance you know",
}
LENGTH, ANGLE = "length", "angle"


@dataclass
class Tracing:
    """What is being drawn: the tool, its points [m], what is typed (a length, then an angle), where the pointer would put the next."""

    tool: str = ""
    points: list[Point2] = field(default_factory=list)
    length: str = ""
    angle: str = ""
    typing: str = LENGTH
    pointer: Point2 | None = None
    snap: Snap | None = None
    wrong: str = ""
    """Why what was drawn was not taken, or what cannot be read."""
    _before: list[tuple[Point2, ...]] = field(default_factory=list)
    _after: list[tuple[Point2, ...]] = field(default_factory=list)

    @property
    def closing(self) -> bool:
        """Whether enough is drawn for an outline to close."""
        return self.tool in CLOSED and len(self.points) > 2

    @property
    def ending(self) -> bool:
        """Whether what is drawn may end here."""
        return self.closing or (self.tool in OPEN and len(self.points) > 1)

    def add(self, point: Point2) -> bool:
        """The next point; True where it ends what is drawn. The first again closes an outline, the last again is nothing."""
        if self.points and point == self.points[-1]:
            return False
        if self.closing and point == self.points[0]:
            return True
        self.remember()
        self.points.append(point)
        self.forget()
        return NEEDS[self.tool] == len(self.points)

    # steps of its own

    def remember(self) -> None:
        """The points as they are can be had back."""
        self._before.append(tuple(self.points))
        self._after.clear()
        self.wrong = ""

    def take_back(self) -> bool:
        """The points before the last of them was put, moved or taken out; False where there are none."""
        return self._step(self._before, self._after)

    def bring_back(self) -> bool:
        """The points that were taken back."""
        return self._step(self._after, self._before)

    @property
    def behind(self) -> bool:
        """Whether there is something to take back."""
        return bool(self._before)

    @property
    def ahead(self) -> bool:
        """Whether there is something to bring back."""
        return bool(self._after)

    def _step(self, source: list[tuple[Point2, ...]], other: list[tuple[Point2, ...]]) -> bool:
        if not source:
            return False
        other.append(tuple(self.points))
        self.points = list(source.pop())
        self.forget()
        self.wrong = ""
        return True

    def near(self, place: Point2, reach: float) -> int | None:
        """The number of the point drawn within reach of a place."""
        found = [(hypot(x - place[0], y - place[1]), n) for n, (x, y) in enumerate(self.points)]
        far, n = min(found, default=(inf, 0))
        return n if far <= reach else None

    def put(self, n: int, place: Point2) -> None:
        """A point already drawn somewhere else."""
        self.points[n] = place

    def crossing(self) -> tuple[int, int, Point2] | None:
        """Two sides of a closed tracing that cross, by the numbers of the points they begin at, and where; None where none do."""
        count = len(self.points)
        if self.tool not in CLOSED or count < 3:
            return None
        rows = [shapely.LineString([p, self.points[(n + 1) % count]]) for n, p in enumerate(self.points)]
        for n, m in combinations(range(count), 2):
            met = shapely.intersection(rows[n], rows[m])
            beside = m == n + 1 or (n == 0 and m == count - 1)
            if not met.is_empty and (not beside or met.geom_type != "Point"):
                where = met.representative_point()
                return n, m, (where.x, where.y)
        return None

    def fault(self) -> str:
        """Why what is drawn cannot be taken, and what to do about it; '' where it can."""
        found = self.crossing()
        if found is None:
            return ""
        sides = f"sides {found[0] + 1} and {found[1] + 1} cross"
        return f"{sides} where it is marked: drag a corner, or take corners back with Ctrl+Z, then Enter"

    def forget(self) -> None:
        """What is typed is given up."""
        self.length, self.angle, self.typing = "", "", LENGTH

    def back(self) -> bool:
        """The last character typed taken back, or the last point; True where it was a point."""
        if self.typing == ANGLE and self.angle:
            self.angle = self.angle[:-1]
        elif self.length:
            self.length = self.length[:-1]
        elif self.points:
            self.remember()
            self.points.pop()
            return True
        return False

    def aim(self, targets: Drawn, zoomed: float, square: bool) -> None:
        """Where the pointer would put the next point, by what it is near to."""
        if self.pointer is None:
            return
        free = self.tool in FREE
        own = tuple((p, "the first corner" if n == 0 else "a corner drawn") for n, p in enumerate(self.points))
        near = Drawn(
            (*targets.corners, *own), targets.sides, targets.reach / max(zoomed, 1.0), targets.grid, square and not free, targets.sheet
        )
        last = self.points[-1] if self.points and (not free or self.tool in FRONTS) else None
        self.snap = snap(self.pointer, near, last, self.points[0] if self.closing else None)

    def typed(self, angle: float | None = None) -> Point2 | None:
        """The next point as typed: so long, in a direction given, typed, or the pointer's [°]. None where nothing is typed. Raises
        BadText with what would be right."""
        if not self.length or not self.points:
            return None
        long = read(self.length, "length")
        if isinstance(long, Doubt):
            raise BadText(long.question)
        if self._apart:
            return polar(self.points[0], long, length_and_angle(*self.points)[1]) if long > 0 else None
        way = angle if angle is not None else self._behind() if self._deep else self._angle()
        return polar(self.points[-1], long, way) if long > 0 else None

    @property
    def _apart(self) -> bool:
        """Whether what is typed is how far two points are to lie apart."""
        return self.tool == "distance" and len(self.points) == 2

    def other_end(self) -> bool:
        """The other of two points is to move; False where none are chosen."""
        if self._apart and not self.length:
            self.remember()
            self.points.reverse()
            return True
        return False

    @property
    def _deep(self) -> bool:
        """Whether the next point says how deep a rectangle is, square to its front."""
        return self.tool in FRONTS and len(self.points) == 2

    def _behind(self) -> float:
        """The direction square to the front on the side of the pointer, else to its left [°]."""
        (ax, ay), (bx, by) = self.points
        x, y = self.snap.at if self.snap is not None else (ax - (by - ay), ay + bx - ax)
        left = (bx - ax) * (y - ay) - (by - ay) * (x - ax) >= 0
        return (length_and_angle((ax, ay), (bx, by))[1] + (90 if left else -90)) % 360

    def _angle(self) -> float:
        if self.angle:
            try:
                way = float(self.angle.replace(",", "."))
            except ValueError:
                way = float("nan")
            if not isfinite(way):
                raise BadText(f"“{self.angle}” is no angle; degrees from the right, counter-clockwise, such as 45")
            return way
        return length_and_angle(self.points[-1], self.snap.at)[1] if self.snap is not None else 0.0

    def end(self) -> Point2 | None:
        """Where the next point would be: as typed, else at the pointer; None where that cannot be read."""
        try:
            return self.typed() if self.length else self.snap.at if self.snap is not None else None
        except BadText:
            return None

    def measure(self) -> str:
        """Length, angle and area of what is drawn, in words."""
        if self._apart:
            return with_unit(length_and_angle(*self.points)[0], "length")
        at = self.snap.at if self.snap is not None else None
        if not self.points or at is None or at == self.points[-1]:
            return ""
        long, way = length_and_angle(self.points[-1], at)
        said = f"{with_unit(long, 'length')} · {show(way, 'angle')}°"
        if self.tool in CLOSED and len(self.points) > 1:
            shape = shapely.Polygon([*self.points, at])
            said += f" · {with_unit(shape.area, 'area')}" if shape.is_valid else " · crosses itself"
        return said

    def tag(self) -> str:
        """What stands beside the pointer: length and angle as typed, or as they are."""
        if not self.length:
            return self.measure()
        said = f"{self.length}{'|' if self.typing == LENGTH else ''}"
        if self.typing == ANGLE or self.angle:
            said += f"  ∠ {self.angle}{'|' if self.typing == ANGLE else ''}°"
        return said

    def says(self) -> str:
        """What is said while it is drawn: what to do, what is measured, what it snaps to."""
        if not self.tool:
            return ""
        near = self.snap.says if self.snap is not None else ""
        if self.wrong:
            return self.wrong
        if not self.points:
            return BEGIN[self.tool] + (f" · {near}" if near else "")
        if self._apart:
            hint = "type how far they are to lie apart, then Enter · Tab: the other one moves · Esc gives up"
        elif self.tool in CLOSED:
            hint = (
                "type a length, Tab an angle, arrow keys a direction · Enter closes · drag a corner · Ctrl+Z takes one back · Esc gives up"
            )
        else:
            hint = "type a length, Tab an angle, arrow keys a direction · Esc gives up"
            hint += " · Enter ends it" if self.tool in OPEN else ""
        return " · ".join(w for w in (self.measure(), near, hint) if w)
