"""One storey's plan on the drawing table: walls tinted, rooms, inner walls, openings, lengths; corners and walls to be dragged."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

import numpy as np
import shapely

from nuthatch.core.assess import Assessment
from nuthatch.core.fabric.stages import B
from nuthatch.core.model.home import Opening
from nuthatch.core.model.plans import Outline, Plans, Side, StoreyPlan
from nuthatch.core.shape.drawings import BORDERS, Tint, in_wall, north, tint_legend, tints
from nuthatch.core.shape.finding import on_wall, together
from nuthatch.core.shape.from_plans import Built
from nuthatch.core.shape.placing import stands
from nuthatch.core.shape.plan_layout import Line
from nuthatch.core.shape.plan_rooms import PlanRoom
from nuthatch.core.shape.reading_plans import number, points_of, space_of, walls_of
from nuthatch.core.shape.roofs import Point2
from nuthatch.core.shape.snapping import Drawn
from nuthatch.core.shape.stages import BUILT, SOLID
from nuthatch.core.sketch import Handle, PointXY, Pull, Sketch, fitted, inside, snapping
from nuthatch.core.units import INCH_POUND, show, system, with_unit

MARGIN, FOOT = 34.0, 40.0
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
    beside, foot = (8.0, 0.0) if small else (MARGIN, FOOT)
    x0, y0, x1, y1 = bounds(plans)
    x0, y0, x1, y1 = x0 - room, y0 - room, x1 + room, y1 + room
    scale = min((size[0] - 3 * beside) / max(x1 - x0, 1.0), (size[1] - 1.4 * beside - foot) / max(y1 - y0, 1.0))
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
            points = points_of(o.sides)
            name = f"{o.name or 'the outline'}{words}"
            corners += [(p, f"a corner of {name}") for p in points]
            sides += [((a, b), f"a wall of {name}") for a, b in zip(points, points[1:] + points[:1], strict=True)]
        for a, b, _ in walls_of(s.inner_walls):
            corners += [(a, "an inner wall"), (b, "an inner wall")]
            sides.append(((a, b), "an inner wall"))
    inch = 0.3048 / 12
    grid = inch if system() == INCH_POUND else 0.05
    return Drawn(tuple(corners), tuple(sides), min(8.0 / frame.scale, 0.5), grid, square)


def storey_plan(
    a: Assessment,
    storey: str,
    tint: Tint | None = None,
    size: tuple[float, float] = (560.0, 400.0),
    selected: str = "",
    room: float = 0.0,
    small: bool = False,
    worked: bool = True,
    clear: bool = False,
) -> Sketch:
    """The plan of one storey, the storey below it faint. selected: a side, outline, room, inner wall or opening; worked: whether it
    can be dragged, with what says so; clear: rooms are not filled, so that a sheet below shows."""
    made = Sketch(*size, "Plan")
    plans, built = a.home.shape.plans, a[BUILT]
    if plans is None or built is None:
        made.say("no storey plans yet")
        return made
    floor = next((s for s in plans.storeys if s.id == storey), plans.storeys[0] if plans.storeys else None)
    frame = frame_of(plans, size, room, small)
    if not small:
        _grid(made, frame)
    if floor is None:
        made.say("no storey yet: add the first one")
        return made
    table = _Table(made, a, plans, built, floor, frame, selected, tint or Tint(), small, clear)
    table.below()
    table.roofs()
    for outline in floor.outlines:
        table.outline(outline)
    table.inner_walls()
    table.rooms()
    table.openings()
    if small:
        return made
    if worked:
        table.handles()
    tint_legend(made, tints(a, tint or Tint())[1], 4, size[1] - 36)
    north(made, size[0] - 24, 26, float(np.radians(number(plans.north))))
    if not room and not any(o.sides for o in floor.outlines):
        made.say("draw the outline: click its corners, or type a length and an arrow key", -8)
    return made


def _grid(made: Sketch, frame: Frame) -> None:
    """A line each metre, or each ten feet."""
    step = 10 * 0.3048 if system() == INCH_POUND else 1.0
    while step * frame.scale < 14:
        step *= 5
    (x0, y1), (x1, y0) = frame.back(0, 0), frame.back(made.width, made.height)
    for n in range(int(np.ceil(x0 / step)), int(np.floor(x1 / step)) + 1):
        made.line(frame.at((n * step, y0)), frame.at((n * step, y1)), stroke="grid", width=0.6)
    for n in range(int(np.ceil(y0 / step)), int(np.floor(y1 / step)) + 1):
        made.line(frame.at((x0, n * step)), frame.at((x1, n * step)), stroke="grid", width=0.6)


@dataclass
class _Table:
    """What is put on the sheet for one storey."""

    made: Sketch
    a: Assessment
    plans: Plans
    built: Built
    floor: StoreyPlan
    frame: Frame
    selected: str
    tint: Tint
    small: bool = False
    clear: bool = False

    def __post_init__(self) -> None:
        self.fills, _ = tints(self.a, self.tint)
        self.faces = {b.id: b for b in self.a[SOLID].boundaries}
        self.moves: list[Handle] = []
        self.ccw = {s.id: _ccw(points_of(o.sides)) for o in self.floor.outlines for s in o.sides}

    def at(self, p: Point2) -> PointXY:
        return self.frame.at(p)

    def below(self) -> None:
        """The storey below, faint."""
        n = self.plans.storeys.index(self.floor)
        for outline in self.plans.storeys[n - 1].outlines if n else ():
            points = points_of(outline.sides)
            if len(points) > 1:
                self.made.path([self.at(p) for p in points], stroke="line", width=1.0, dash=True)

    def roofs(self) -> None:
        """Parts of the roof with a plan of their own, as thin dashed lines over the topmost storey."""
        if self.floor is not self.plans.storeys[-1]:
            return
        for roof in self.plans.roofs:
            points = points_of(roof.corners)
            if len(points) > 2:
                chosen = self.selected in (roof.id, *(s.id for s in roof.corners))
                self.made.path([self.at(p) for p in points], stroke="slate" if chosen else "muted", width=2.0 if chosen else 0.9, dash=True)
                x, y = self.at(points[0])
                self.made.text(x + 4, y - 5, roof.name, size=10, color="muted", halo=True, id=roof.id)

    def outline(self, outline: Outline) -> None:
        """Walls to scale in the tint of what they border on, or an unheated space with its b."""
        points = points_of(outline.sides)
        if len(points) < 3:
            for p in points:
                self.made.path(_square(self.at(p), 3), fill="slate", stroke="")
            return
        heated = outline.kind == "heated"
        fill, pattern = ("white", "") if heated else BORDERS["unheated space"]
        fill = "" if self.clear else fill
        self.made.path([self.at(p) for p in points], fill=fill, pattern=pattern, stroke="ink", width=1.0, id=outline.id)
        for n, side in enumerate(outline.sides):
            a, b = points[n], points[(n + 1) % len(points)]
            if side.id in self.built.walls:
                self._wall(side, *self.built.walls[side.id])
            if side.id == self.selected:
                self.made.line(self.at(a), self.at(b), stroke="tide", width=3.2)
            self._length(side, a, b)
        if not heated:
            self._space(outline, points)

    def _wall(self, side: Side, outer: Line, inner: Line) -> None:
        own = [f for k, f in self.faces.items() if k == side.id or k.startswith(f"{side.id}.")]
        face = max(own, key=lambda f: self.a[SOLID].areas.get(f.id, 0.0), default=None)
        fill, pattern = self.fills.get(face.id, ("white", "")) if face is not None else ("stone", "")
        wide = 2.4 if face is not None and face.borders == "neighbour" else 1.0
        tip = f"{face.name}, {face.borders}" if face is not None else "between heated parts"
        ring = [self.at(p) for p in (*outer, inner[1], inner[0])]
        self.made.path(ring, fill=fill, pattern=pattern, stroke="ink", width=wide, id=side.id, tip=tip)

    def _length(self, side: Side, a: Point2, b: Point2) -> None:
        """The length of a side beside it, outside; a click leads to where it is typed."""
        long = hypot(b[0] - a[0], b[1] - a[1])
        if self.small or ((long * self.frame.scale < 34 or self._shared(side, a, b)) and side.id != self.selected):
            return
        outer = self.built.walls[side.id][0] if side.id in self.built.walls else (a, b)
        (ax, ay), (bx, by) = self.at(outer[0]), self.at(outer[1])
        sign = 1.0 if self.ccw.get(side.id, True) else -1.0
        away = sign * (b[1] - a[1]) / max(long, 1e-9), sign * (b[0] - a[0]) / max(long, 1e-9)
        x, y = (ax + bx) / 2 + away[0] * 13, (ay + by) / 2 + away[1] * 13
        anchor = "start" if away[0] > 0.7 else "end" if away[0] < -0.7 else "middle"
        chosen = side.id == self.selected
        text = with_unit(long, "length") if chosen else show(long, "length")
        color = "ink" if chosen else "muted"
        self.made.text(
            x, y + 4, text, size=12 if chosen else 10.5, bold=chosen, color=color, anchor=anchor, halo=True, id=f"length:{side.id}"
        )

    def _shared(self, side: Side, a: Point2, b: Point2) -> bool:
        """Whether another outline of the storey lies just outside a side."""
        long = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
        sign = 1.0 if self.ccw.get(side.id, True) else -1.0
        x = (a[0] + b[0]) / 2 + sign * (b[1] - a[1]) / long * 0.05
        y = (a[1] + b[1]) / 2 - sign * (b[0] - a[0]) / long * 0.05
        rings = [points_of(o.sides) for o in self.floor.outlines]
        return any(len(r) > 2 and inside(r, x, y) for r in rings)

    def _space(self, outline: Outline, points: tuple[Point2, ...]) -> None:
        if self.small:
            return
        x, y = self.at(_middle(points))
        b = self.a.all_of(B).get(space_of(outline))
        typed = outline.b
        share = (
            f" · b {show(typed.value, 'fraction')}, typed"
            if typed
            else f" · b {show(float(b.value), 'fraction')}"
            if b and b.value is not None
            else ""
        )
        self.made.text(x, y - 2, outline.name, size=12, bold=True, anchor="middle", halo=True, id=outline.id)
        self.made.text(x, y + 14, f"unheated{share}", size=10.5, anchor="middle", halo=True, id=outline.id)

    def inner_walls(self) -> None:
        """Inner walls to scale."""
        for wall in self.floor.inner_walls:
            found = walls_of((wall,))
            if not found:
                continue
            a, b, thick = found[0]
            long = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
            n = -(b[1] - a[1]) / long * thick / 2, (b[0] - a[0]) / long * thick / 2
            ring = [(a[0] + n[0], a[1] + n[1]), (b[0] + n[0], b[1] + n[1]), (b[0] - n[0], b[1] - n[1]), (a[0] - n[0], a[1] - n[1])]
            chosen = wall.id == self.selected
            fill = "tide" if chosen else "ink"
            self.made.path([self.at(p) for p in ring], fill=fill, stroke=fill, width=0.8, id=wall.id, tip="inner wall")

    def rooms(self) -> None:
        """Rooms by name and area."""
        for room in self.built.rooms:
            if room.storey == self.floor.id:
                self._room(room)

    def _room(self, room: PlanRoom) -> None:
        spot = shapely.maximum_inscribed_circle(room.measure.polygon, tolerance=0.1).coords[0]  # in the widest part of a room with corners
        x, y = self.at((spot[0], spot[1]))
        x0, _, x1, _ = room.measure.polygon.bounds
        chord = shapely.intersection(room.measure.polygon, shapely.LineString([(x0 - 1, spot[1]), (x1 + 1, spot[1])]))
        here = next((c for c in shapely.get_parts(chord) if c.distance(shapely.Point(spot)) < 1e-6), None)
        if here is not None:
            x0, _, x1, _ = here.bounds
            x, _ = self.at(((x0 + x1) / 2, spot[1]))
        wide = (x1 - x0) * self.frame.scale - 6
        if wide < 24:
            return
        chosen = room.id == self.selected
        color = "tide" if chosen else "ink"
        if self.small:
            return
        self.made.text(x, y - 3, fitted(room.name, wide, 12), size=12, bold=True, anchor="middle", color=color, id=room.id)
        area = with_unit(room.area, "area")
        self.made.text(x, y + 12, fitted(area, wide, 11), size=11, anchor="middle", color="muted", id=room.id)

    def openings(self) -> None:
        """The openings of this storey in their walls, each to be dragged along it."""
        step, fine, _ = snapping(False)
        for side in (s for o in self.floor.outlines for s in o.sides if s.id in self.built.walls):
            for face in (k for k in self.faces if k == side.id or k.startswith(f"{side.id}.")):
                self._row(face, *self.built.walls[side.id], (step, fine))

    def _row(self, face: str, outer: Line, inner: Line, steps: tuple[float, float]) -> None:
        """The openings of one face."""
        polygon = self.a[SOLID].outer.get(face)
        if polygon is None:
            return
        start, long = _along(outer, polygon), hypot(outer[1][0] - outer[0][0], outer[1][1] - outer[0][1])
        way = (outer[1][0] - outer[0][0]) / max(long, 1e-9), (outer[1][1] - outer[0][1]) / max(long, 1e-9)
        for stand in stands(self.a.home.openings, face, polygon):
            o: Opening = stand.opening
            ring = tuple(self.at(p) for p in in_wall(outer, inner, start + stand.left, stand.width))
            style = {"stroke": "tide", "width": 2.4} if o.id == self.selected else {"stroke": "ink", "width": 0.8}
            self.made.path(ring, fill="glass", id=o.id, tip=o.name, **style)
            if any(h.id == o.id for h in self.moves):
                continue
            per = (way[0] / self.frame.scale, -way[1] / self.frame.scale)
            pull = Pull(o.id, "position", stand.left, per, *steps, 0.0, max(long - start - stand.width, stand.left))
            self.moves.append(Handle(o.id, ring, (pull,), f"{with_unit(stand.left, 'length')} from the left"))

    def handles(self) -> None:
        """What can be dragged: walls square to themselves, corners anywhere, openings along their wall, inner walls by their ends."""
        step, fine, _ = snapping(False)
        for outline in self.floor.outlines:
            sides = outline.sides
            if any(s.x is None or s.y is None for s in sides):
                continue
            for n, side in enumerate(sides):
                after = sides[(n + 1) % len(sides)]
                self._wall_handle(side, after, step, fine)
        for outline in self.floor.outlines:
            for side in outline.sides:
                if side.x is not None and side.y is not None:
                    self._corner_handle(side, step, fine)
        self.made.handles += self.moves
        for wall in self.floor.inner_walls:
            for names in (("x", "y"), ("to_x", "to_y")):
                self._end_handle(wall, names, step, fine)
        self.made.hint = "drag a wall or a corner · type a length beside it · arrow keys move what is selected"

    def _pull(self, part: str, field: str, value: float, per: PointXY, step: float, fine: float) -> Pull:
        return Pull(part, field, value, per, step, fine, -1000.0, 1000.0)

    def _corner_handle(self, side: Side, step: float, fine: float) -> None:
        x, y = self.at((number(side.x), number(side.y)))
        scale = self.frame.scale
        pulls = []
        for s in together(self.a.home, side):
            pulls += [
                self._pull(s.id, "x", number(s.x), (1 / scale, 0.0), step, fine),
                self._pull(s.id, "y", number(s.y), (0.0, -1 / scale), step, fine),
            ]
        ring = tuple(_square((x, y), 6))
        chosen = f"corner:{side.id}" == self.selected
        if chosen or side.id == self.selected:
            self.made.path(_square((x, y), 5), fill="tide" if chosen else "white", stroke="tide", width=1.6)
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
        corners = on_wall(self.a.home, side.id)
        straight = abs(nx) > 0.999 or abs(ny) > 0.999
        for s in corners:
            for field, share in (("x", nx), ("y", ny)):
                if abs(share) > 1e-3:
                    per = (share * nx / scale, -share * ny / scale)
                    pulls.append(self._pull(s.id, field, number(getattr(s, field)), per, step if straight else 1e-4, fine))
        points = (self.at(a), self.at(b))
        self.made.handles.append(Handle(side.id, points, tuple(pulls), with_unit(long, "length")))

    def _end_handle(self, wall: object, names: tuple[str, str], step: float, fine: float) -> None:
        x, y = getattr(wall, names[0]), getattr(wall, names[1])
        if x is None or y is None:
            return
        scale = self.frame.scale
        ident = str(getattr(wall, "id", ""))
        pulls = (
            self._pull(ident, names[0], x.value, (1 / scale, 0.0), step, fine),
            self._pull(ident, names[1], y.value, (0.0, -1 / scale), step, fine),
        )
        if ident == self.selected:
            self.made.path(_square(self.at((x.value, y.value)), 5), fill="white", stroke="tide", width=1.6)
        says = f"{show(x.value, 'length')}, {show(y.value, 'length')}"
        self.made.handles.append(Handle(f"end:{ident}:{names[0]}", tuple(_square(self.at((x.value, y.value)), 6)), pulls, says, True))


def _square(p: PointXY, half: float) -> list[PointXY]:
    x, y = p
    return [(x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)]


def _ccw(points: tuple[Point2, ...]) -> bool:
    """Whether an outline is walked with its inside on the left."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, points[1:] + points[:1], strict=True)) > 0


def _middle(points: tuple[Point2, ...]) -> Point2:
    return sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points)


def _along(outer: Line, polygon: tuple[tuple[float, float, float], ...]) -> float:
    """How far along a side the left edge of one of its faces lies, seen from outside [m]: outlines are walked with the inside on
    their left, so the side's first corner is at the left."""
    (ax, ay), (bx, by) = outer
    long = max(hypot(bx - ax, by - ay), 1e-9)
    return float(min(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / long for x, y, _ in polygon))
