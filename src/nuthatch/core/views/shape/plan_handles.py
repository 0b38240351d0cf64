"""What can be dragged on a storey's plan: walls square to themselves, corners anywhere, openings along their wall, inner walls by
their ends."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from nuthatch.core.model.home import Home
from nuthatch.core.model.plans import InnerWall, Plans, RoofPlan, Side, Spot, StoreyPlan
from nuthatch.core.plans.plan_parts import on_wall, together
from nuthatch.core.plans.reading_plans import corners_of, number, points_of, rings_of
from nuthatch.core.sketch import Handle, PointXY, Pull, Sketch, snapping
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.shape.plan_frame import Frame


@dataclass(frozen=True)
class Handles:
    """Put on the sheet for one storey; openings: the handles of its openings, which lie above walls and corners."""

    made: Sketch
    home: Home
    floor: StoreyPlan
    frame: Frame
    selected: str
    openings: list[Handle]

    def put(self) -> None:
        """All handles, those drawn first below the others; what is selected shows its corners."""
        step, fine, _ = snapping(False)
        for sides in (ring for outline in self.floor.outlines for ring in rings_of(outline)):
            if any(s.x is None or s.y is None for s in sides):
                continue
            for n, side in enumerate(sides):
                after = sides[(n + 1) % len(sides)]
                self._wall_handle(side, after, step, fine)
        for side in corners_of(self.floor):
            if side.x is not None and side.y is not None:
                self._corner_handle(side, step, fine)
        self.made.handles += self.openings
        for wall in self.floor.inner_walls:
            for names in (("x", "y"), ("to_x", "to_y")):
                self._end_handle(wall, names, step, fine)
        plans = self.home.shape.plans
        if plans is not None:
            for spot in plans.heights if self.floor is plans.storeys[0] else ():
                self._spot_handle(spot, step, fine)
            for roof in roofs_on(plans, self.floor):
                if belongs(self.selected, roof.id) and len(points_of(roof.corners)) == len(roof.corners) > 2:
                    self._roof_handles(roof, step, fine)
        self.made.hint = "drag a wall or a corner · type a length beside it · arrow keys move what is selected"

    def _pull(self, part: str, field: str, value: float, per: PointXY, step: float, fine: float) -> Pull:
        return Pull(part, field, value, per, step, fine, -1000.0, 1000.0)

    def _corner_handle(self, side: Side, step: float, fine: float) -> None:
        x, y = self.frame.at((number(side.x), number(side.y)))
        pulls: list[Pull] = []
        for s in together(self.home, side):
            pulls += self._both(s, step, fine)
        ring = tuple(square((x, y), 6))
        chosen = f"corner:{side.id}" == self.selected
        if chosen or side.id == self.selected:
            self.made.path(square((x, y), 5), fill="tide" if chosen else "white", stroke="tide", width=1.6)
        says = f"{show(number(side.x), 'length')}, {show(number(side.y), 'length')}"
        self.made.handles.append(Handle(f"corner:{side.id}", ring, tuple(pulls), says, True))

    def _wall_handle(self, side: Side, after: Side, step: float, fine: float) -> None:
        a, b = (number(side.x), number(side.y)), (number(after.x), number(after.y))
        long = hypot(b[0] - a[0], b[1] - a[1])
        if long < 1e-6:
            return
        nx, ny = (b[1] - a[1]) / long, -(b[0] - a[0]) / long
        scale = self.frame.scale
        pulls = []
        corners = on_wall(self.home, side.id)
        straight = abs(nx) > 0.999 or abs(ny) > 0.999
        for s in corners:
            for field, share in (("x", nx), ("y", ny)):
                if abs(share) > 1e-3:
                    per = (share * nx / scale, -share * ny / scale)
                    pulls.append(self._pull(s.id, field, number(s[field]), per, step if straight else 1e-4, fine))
        points = (self.frame.at(a), self.frame.at(b))
        self.made.handles.append(Handle(side.id, points, tuple(pulls), with_unit(long, "length")))

    def _end_handle(self, wall: InnerWall, names: tuple[str, str], step: float, fine: float) -> None:
        x, y = wall[names[0]], wall[names[1]]
        if x is None or y is None:
            return
        scale = self.frame.scale
        ident = wall.id
        pulls = (
            self._pull(ident, names[0], x.value, (1 / scale, 0.0), step, fine),
            self._pull(ident, names[1], y.value, (0.0, -1 / scale), step, fine),
        )
        if ident == self.selected:
            self.made.path(square(self.frame.at((x.value, y.value)), 5), fill="white", stroke="tide", width=1.6)
        says = f"{show(x.value, 'length')}, {show(y.value, 'length')}"
        self.made.handles.append(Handle(f"end:{ident}:{names[0]}", tuple(square(self.frame.at((x.value, y.value)), 6)), pulls, says, True))

    def _roof_handles(self, roof: RoofPlan, step: float, fine: float) -> None:
        """A part of the roof: its middle moves it whole, its edges go square to themselves, its corners anywhere."""
        corners = roof.corners
        points = points_of(corners)
        scale = self.frame.scale
        pulls = [p for s in corners for p in self._both(s, 1e-4, fine)]  # each by the same, whether it lies on the grid or not
        middle = self.frame.at((sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points)))
        self.made.path(square(middle, 5), fill="white", stroke="tide", width=1.6)
        self.made.handles.append(Handle(roof.id, tuple(square(middle, 7)), tuple(pulls), roof.name, True))
        for n, (spot, after) in enumerate(zip(corners, (*corners[1:], corners[0]), strict=True)):
            (ax, ay), (bx, by) = points[n], points[(n + 1) % len(points)]
            long = max(hypot(bx - ax, by - ay), 1e-9)
            normal = (by - ay) / long, -(bx - ax) / long
            straight = max(map(abs, normal)) > 0.999
            edge = [
                self._pull(
                    s.id, field, number(s[field]), (share * normal[0] / scale, -share * normal[1] / scale), step if straight else 1e-4, fine
                )
                for s in (spot, after)
                for field, share in zip(("x", "y"), normal, strict=True)
                if abs(share) > 1e-3
            ]
            self.made.handles.append(
                Handle(f"edge:{spot.id}", (self.frame.at(points[n]), self.frame.at((bx, by))), tuple(edge), with_unit(long, "length"))
            )
        for spot, point in zip(corners, points, strict=True):
            at = self.frame.at(point)
            self.made.path(square(at, 5), fill="tide" if self.selected == f"corner:{spot.id}" else "white", stroke="tide", width=1.6)
            says = f"{show(point[0], 'length')}, {show(point[1], 'length')}"
            self.made.handles.append(Handle(f"corner:{spot.id}", tuple(square(at, 6)), self._both(spot, step, fine), says, True))

    def _both(self, spot: Spot, step: float, fine: float) -> tuple[Pull, Pull]:
        """Both coordinates of a point."""
        scale = self.frame.scale
        return (
            self._pull(spot.id, "x", number(spot.x), (1 / scale, 0.0), step, fine),
            self._pull(spot.id, "y", number(spot.y), (0.0, -1 / scale), step, fine),
        )

    def _spot_handle(self, spot: Spot, step: float, fine: float) -> None:
        if spot.x is None or spot.y is None:
            return
        x, y = self.frame.at((spot.x.value, spot.y.value))
        says = f"{show(spot.x.value, 'length')}, {show(spot.y.value, 'length')}"
        self.made.handles.append(Handle(spot.id, tuple(square((x, y), 7)), self._both(spot, step, fine), says, True))


def roofs_on(plans: Plans, floor: StoreyPlan) -> tuple[RoofPlan, ...]:
    """The parts of the roof with a plan of their own that lie on a storey: that of the outline they name, else the topmost."""
    names = {o.id: s.id for s in plans.storeys for o in s.outlines}
    top = plans.storeys[-1].id
    return tuple(r for r in plans.roofs if r.corners and names.get(r.over, top) == floor.id)


def belongs(selected: str, roof: str) -> bool:
    """Whether what is selected is a roof, one of its corners or edges, or one of its faces."""
    ident = selected.rpartition(":")[2]
    return ident == roof or ident.startswith(f"{roof}.")


def band(a: PointXY, b: PointXY, half: float = 4.0) -> list[PointXY]:
    """A narrow strip around a line of the sheet, to be pointed at."""
    long = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
    x, y = -(b[1] - a[1]) / long * half, (b[0] - a[0]) / long * half
    return [(a[0] + x, a[1] + y), (b[0] + x, b[1] + y), (b[0] - x, b[1] - y), (a[0] - x, a[1] - y)]


def square(p: PointXY, half: float) -> list[PointXY]:
    """A small square around a point of the sheet."""
    x, y = p
    return [(x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)]
