"""Something being drawn on a plan: its points, what is typed of the next one, and what is said meanwhile."""

from __future__ import annotations

from dataclasses import dataclass, field
from math import isfinite

import shapely

from nuthatch.core.plans.roofs import Point2
from nuthatch.core.plans.snapping import Drawn, Snap, length_and_angle, polar, snap
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import show, with_unit

CLOSED = ("outline", "unheated space", "court")
"""Tools that draw until what they draw closes."""
FREE = ("roof part", "scale")
"""Tools whose second point lies anywhere from the first."""
NEEDS = {"outline": 0, "unheated space": 0, "court": 0, "inner wall": 2, "roof part": 2, "room": 1, "scale": 2}
"""How many points end what is drawn; 0: until it closes."""
BEGIN = {
    "outline": "Outline: click its first corner, or press Enter to begin at the origin",
    "unheated space": "Unheated space: click the first corner of its outline, or press Enter to begin at the origin",
    "court": "Court: click the first corner of what is cut out of an outline",
    "inner wall": "Inner wall: click where it begins",
    "roof part": "Part of the roof: click one corner, then the opposite one",
    "room": "Room: click into it to name it",
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

    @property
    def closing(self) -> bool:
        """Whether enough is drawn for an outline to close."""
        return self.tool in CLOSED and len(self.points) > 2

    def add(self, point: Point2) -> bool:
        """The next point; True where it ends what is drawn. The first again closes an outline, the last again is nothing."""
        if self.points and point == self.points[-1]:
            return False
        if self.closing and point == self.points[0]:
            return True
        self.points.append(point)
        self.forget()
        return NEEDS[self.tool] == len(self.points)

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
        last = self.points[-1] if self.points and not free else None
        self.snap = snap(self.pointer, near, last, self.points[0] if self.closing else None)

    def typed(self, angle: float | None = None) -> Point2 | None:
        """The next point as typed: so long, in a direction given, typed, or the pointer's [°]. None where nothing is typed. Raises
        BadText with what would be right."""
        if not self.length or not self.points:
            return None
        long = read(self.length, "length")
        if isinstance(long, Doubt):
            raise BadText(long.question)
        way = angle if angle is not None else self._angle()
        return polar(self.points[-1], long, way) if long > 0 else None

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
        if not self.points:
            return BEGIN[self.tool] + (f" · {near}" if near else "")
        hint = "type a length, Tab an angle, arrow keys a direction · Enter closes · Esc gives up"
        return " · ".join(w for w in (self.measure(), near, hint) if w)
