"""One storey's plan on the drawing table: walls tinted, rooms, inner walls, openings, lengths; corners and walls to be dragged."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.model.home import Opening
from nuthatch.core.model.plans import Outline, Plans, Side, StoreyPlan
from nuthatch.core.plans.reading_plans import corners_of, number, points_of, rings_of, space_of, walls_of
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.plans.room_shapes import label_spot
from nuthatch.core.sketch import Handle, PointXY, Pull, Sketch, Text, fitted, inside, snapping
from nuthatch.core.solid.built_stages import BUILT, THICKNESS
from nuthatch.core.solid.from_plans import Built
from nuthatch.core.solid.opening_places import stands
from nuthatch.core.solid.plan_layout import SideLine
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import INCH_POUND, show, system, with_unit
from nuthatch.core.views.shape.plan_frame import Frame, frame_of
from nuthatch.core.views.shape.plan_handles import Handles, band, belongs, roofs_on, square
from nuthatch.core.views.shape.plans_and_elevations import in_wall, north
from nuthatch.core.views.shape.spaces import spaces
from nuthatch.core.views.shape.tinting import BORDERS, Tint, tint_legend, tints


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
    table.all()
    if small:
        return made
    if worked:
        Handles(made, a.home, floor, frame, selected, table.moves).put()
    tint_legend(made, tints(a, tint or Tint())[1], 4, size[1] - 36)
    north(made, size[0] - 24, 26, float(np.radians(number(plans.north))))
    if not room and not any(o.sides for o in floor.outlines):
        made.say("draw the outline: click its corners, or type a length and an arrow key", -8)
    return made


THIN = 3.0
"""A wall thinner than this on the sheet is taken hold of beside its line too."""


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
        self.courts = {s.id for o in self.floor.outlines for h in o.holes for s in h.sides}
        rings = [(ring, n > 0) for o in self.floor.outlines for n, ring in enumerate(rings_of(o))]
        self.ccw = {s.id: _ccw(points_of(ring)) != hole for ring, hole in rings for s in ring}

    def at(self, p: Point2) -> PointXY:
        return self.frame.at(p)

    def all(self) -> None:
        """Everything of the storey, what lies lowest first."""
        self.below()
        for outline in self.floor.outlines:
            self.outline(outline)
        self.roofs()
        for sides in (ring for o in self.floor.outlines if len(points_of(o.sides)) > 2 for ring in rings_of(o)):
            self._sides(sides)
        self.inner_walls()
        self.roof_names()
        self.rooms()
        self.openings()
        self.ground()

    def ground(self) -> None:
        """The heights of the ground below the lowest storey, each with its level."""
        if self.floor is not self.plans.storeys[0] or self.small:
            return
        for spot in self.plans.heights:
            if spot.x is None or spot.y is None:
                continue
            x, y = self.at((spot.x.value, spot.y.value))
            chosen = spot.id == self.selected
            mark = [(x - 5, y + 4), (x + 5, y + 4), (x, y - 5)]
            says = f"ground {with_unit(spot.z.value, 'length')}" if spot.z is not None else "ground: level not said"
            self.made.path(mark, fill="tide" if chosen else "chestnut", stroke="white", width=0.8, id=spot.id, tip=says)
            level = with_unit(spot.z.value, "length") if spot.z is not None else "?"
            way = self._beside(x, y - 8, 5.9 * len(level))
            self.made.text(
                x + 8 * way,
                y - 8,
                level,
                size=10.5,
                color="tide" if chosen else "chestnut",
                id=spot.id,
                anchor="start" if way > 0 else "end",
            )

    def _beside(self, x: float, y: float, wide: float) -> int:
        """On which side of a point a text has room: outward, unless the sheet ends there or another text stands there."""
        outward = -1 if x < self.made.width / 2 else 1

        def free(way: int) -> bool:
            left, right = sorted((x + 8 * way, x + way * (8 + wide)))
            return left > 2 and right < self.made.width - 2 and not any(_reaches(t, left, right, y) for t in texts)

        texts = [i for i in self.made.items if isinstance(i, Text)]
        return outward if free(outward) or not free(-outward) else -outward

    def below(self) -> None:
        """The storey below, faint."""
        n = self.plans.storeys.index(self.floor)
        for outline in self.plans.storeys[n - 1].outlines if n else ():
            for points in map(points_of, rings_of(outline)):
                if len(points) > 1:
                    self.made.path([self.at(p) for p in points], stroke="line", width=1.0, dash=True)

    def roofs(self) -> None:
        """Parts of the roof with a plan of their own, as thin dashed lines over the storey they lie on; walls lie above them."""
        for roof in roofs_on(self.plans, self.floor):
            points = points_of(roof.corners)
            if len(points) < 3:
                continue
            chosen = belongs(self.selected, roof.id)
            ring = [self.at(p) for p in points]
            self.made.path(ring, stroke="tide" if chosen else "muted", width=2.0 if chosen else 0.9, dash=True)
            for a, b in zip(ring, ring[1:] + ring[:1], strict=True):
                self.made.path(band(a, b), stroke="", id=roof.id, tip=f"{roof.name}: part of the roof")

    def roof_names(self) -> None:
        """The names of the roofs, in their first corners, clear of the walls."""
        for roof in () if self.small else roofs_on(self.plans, self.floor):
            points = points_of(roof.corners)
            if len(points) > 2:
                low, left = min(y for _, y in points), min(x for x, _ in points)
                x, y = self.at((left, low))
                walls = max((self.a[THICKNESS].get(self.plans.wall_buildup, 0.0)), 0.0) * self.frame.scale
                color = "tide" if belongs(self.selected, roof.id) else "muted"
                self.made.text(x + walls + 6, y - walls - 6, roof.name, size=10, color=color, halo=True, id=roof.id)

    def outline(self, outline: Outline) -> None:
        """Walls to scale in the tint of what they border on, or an unheated space with its b."""
        points = points_of(outline.sides)
        if len(points) < 3:
            for p in points:
                self.made.path(square(self.at(p), 3), fill="slate", stroke="")
            return
        heated = outline.kind == "heated"
        fill, pattern = ("white", "") if heated else BORDERS["unheated space"]
        fill = "" if self.clear else fill
        self.made.path([self.at(p) for p in points], fill=fill, pattern=pattern, stroke="ink", width=1.0, id=outline.id)
        for hole in outline.holes:
            ring = [self.at(p) for p in points_of(hole.sides)]
            if len(ring) > 2:
                chosen = hole.id == self.selected
                style = {"stroke": "tide", "width": 2.0} if chosen else {"stroke": "ink", "width": 1.0}
                self.made.path(ring, fill="" if self.clear else "paper", id=hole.id, tip=hole.name, **style)
        if not heated:
            self._space(outline, points)

    def _sides(self, sides: tuple[Side, ...]) -> None:
        """The walls of a ring with their lengths."""
        points = points_of(sides)
        if len(points) < len(sides):
            return
        for n, side in enumerate(sides):
            a, b = points[n], points[(n + 1) % len(points)]
            if side.id in self.built.walls:
                self._wall(side, *self.built.walls[side.id])
            if side.id == self.selected:
                self.made.line(self.at(a), self.at(b), stroke="tide", width=3.2)
            self._length(side, a, b)

    def _wall(self, side: Side, outer: SideLine, inner: SideLine) -> None:
        own = [f for k, f in self.faces.items() if k == side.id or k.startswith(f"{side.id}.")]
        face = max(own, key=lambda f: self.a[SOLID].areas.get(f.id, 0.0), default=None)
        fill, pattern = self.fills.get(face.id, ("white", "")) if face is not None else ("stone", "")
        wide = 2.4 if face is not None and face.borders == "neighbour" else 1.0
        tip = f"{face.name}, {face.borders}" if face is not None else "between heated parts"
        ring = [self.at(p) for p in (*outer, inner[1], inner[0])]
        if hypot(outer[0][0] - inner[0][0], outer[0][1] - inner[0][1]) * self.frame.scale < THIN:  # nothing is said of its thickness yet
            self.made.path(band(self.at(outer[0]), self.at(outer[1])), stroke="", id=side.id, tip=tip)
        self.made.path(ring, fill=fill, pattern=pattern, stroke="ink", width=wide, id=side.id, tip=tip)

    def _length(self, side: Side, a: Point2, b: Point2) -> None:
        """The length of a side beside it, outside; a click leads to where it is typed."""
        long = hypot(b[0] - a[0], b[1] - a[1])
        least = 34 if side.id not in self.courts else 80
        if self.small or ((long * self.frame.scale < least or self._shared(side, a, b)) and side.id != self.selected):
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
        rings = [[r for r in map(points_of, rings_of(o)) if len(r) > 2] for o in self.floor.outlines]
        return any(own and inside(own[0], x, y) and not any(inside(r, x, y) for r in own[1:]) for own in rings)

    def _space(self, outline: Outline, points: tuple[Point2, ...]) -> None:
        if self.small:
            return
        x, y = self.at(_middle(points))
        own = next((r for r in spaces(self.a) if r.id == space_of(outline)), None)
        share = f" · b {show(own.known, 'fraction')}{', typed' if own.typed else ''}" if own is not None and own.known is not None else ""
        self.made.text(x, y - 2, outline.name, size=12, bold=True, anchor="middle", halo=True, id=outline.id)
        self.made.text(x, y + 14, f"unheated{share}", size=10.5, anchor="middle", halo=True, id=outline.id)

    def inner_walls(self) -> None:
        """Inner walls to scale."""
        for wall in self.floor.inner_walls:
            found = walls_of((wall,), self.a[THICKNESS])
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
        """Rooms by name and area; a small plan has no room for words."""
        for room in () if self.small else self.built.rooms:
            if room.storey == self.floor.id:
                self._room(room)

    def _room(self, room: PlanRoom) -> None:
        spot, width = label_spot(room.measure.polygon)
        x, y = self.at(spot)
        wide = width * self.frame.scale - 6
        if wide < 24:
            return
        chosen = room.id == self.selected
        color = "tide" if chosen else "ink"
        above = (room.measure.polygon.bounds[3] - spot[1]) * self.frame.scale - 3
        self.made.name(x, y - 3, room.name, (wide, above - 3), 12, bold=True, anchor="middle", color=color, id=room.id)
        area = with_unit(room.area, "area")
        size = next((s for s in (11.0, 10.0, 9.0) if fitted(area, wide, s) == area), None)
        if size is not None:  # an amount is never cut: half a number is another one
            self.made.text(x, y + 12, area, size=size, anchor="middle", color="muted", id=room.id)

    def openings(self) -> None:
        """The openings of this storey in their walls, each to be dragged along it."""
        step, fine, _ = snapping(False)
        for side in (s for s in corners_of(self.floor) if s.id in self.built.walls):
            for face in (k for k in self.faces if k == side.id or k.startswith(f"{side.id}.")):
                self._row(face, *self.built.walls[side.id], (step, fine))

    def _row(self, face: str, outer: SideLine, inner: SideLine, steps: tuple[float, float]) -> None:
        """The openings of one face."""
        polygon = self.a[SOLID].outer.get(face)
        if polygon is None:
            return
        start, long = along_side(outer, polygon), hypot(outer[1][0] - outer[0][0], outer[1][1] - outer[0][1])
        way = (outer[1][0] - outer[0][0]) / max(long, 1e-9), (outer[1][1] - outer[0][1]) / max(long, 1e-9)
        for stand in stands(self.a.home.openings, face, polygon):
            o: Opening = stand.opening
            ring = tuple(self.at(p) for p in in_wall(outer, inner, start + stand.left, stand.width))
            style = {"stroke": "tide", "width": 2.4} if o.id == self.selected else {"stroke": "ink", "width": 0.8}
            fill, pattern = self.fills.get(o.id, ("glass", ""))
            self.made.path(ring, fill=fill, pattern=pattern, id=o.id, tip=o.name, **style)
            if any(h.id == o.id for h in self.moves):
                continue
            per = (way[0] / self.frame.scale, -way[1] / self.frame.scale)
            pull = Pull(o.id, "position", stand.left, per, *steps, 0.0, max(long - start - stand.width, stand.left))
            self.moves.append(Handle(o.id, ring, (pull,), f"{with_unit(stand.left, 'length')} from the left"))


def _reaches(text: Text, left: float, right: float, y: float) -> bool:
    """Whether a text stands between two places of a line."""
    wide = 0.55 * text.size * len(text.text)
    start = text.x - {"start": 0.0, "middle": wide / 2, "end": wide}[text.anchor]
    return abs(text.y - y) < text.size and start < right and start + wide > left


def _ccw(points: tuple[Point2, ...]) -> bool:
    """Whether an outline is walked with its inside on the left."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, points[1:] + points[:1], strict=True)) > 0


def _middle(points: tuple[Point2, ...]) -> Point2:
    return sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points)


def along_side(outer: SideLine, polygon: tuple[tuple[float, float, float], ...]) -> float:
    """How far along a side the left edge of one of its faces lies, seen from outside [m]: outlines are walked with the inside on
    their left, so the side's first corner is at the left."""
    (ax, ay), (bx, by) = outer
    long = max(hypot(bx - ax, by - ay), 1e-9)
    return float(min(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / long for x, y, _ in polygon))
