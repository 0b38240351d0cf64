"""The home as a solid, turned, from above or below, tinted, see-through, cut open; roofs with their overhangs."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np
import shapely

from nuthatch.core.assess import Assessment
from nuthatch.core.plans.polygons import Point, Polygon, Vector, area_vector, scalar, sides
from nuthatch.core.sketch import PointXY, Sketch
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.opening_places import in_space, stands
from nuthatch.core.solid.overhang import with_overhang
from nuthatch.core.solid.solid import Solid
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.views.shadows import Hour, shadows_on
from nuthatch.core.views.shape.ground_drawn import ground_drawn, heights
from nuthatch.core.views.shape.hidden import painted, view_axes
from nuthatch.core.views.shape.plans_and_elevations import say_why
from nuthatch.core.views.shape.tinting import BORDERS, Fill, Tint, legend_lines, tint_legend, tints

EDGE_ON = 1e-6
"""A face that shows less than this is seen edge on [m²]."""
LEVEL = 2
"""The axis of a level cut; 0 and 1 cut across the plan's x and y."""
Place = Callable[[Polygon], list[PointXY]]


@dataclass(frozen=True)
class Cut:
    """A plane that cuts the solid open: across the plan's x (0), its y (1), or level (2), a share of its extent from the lower end; or,
    where `at` is given, there [m]. What lies on the viewer's side of it is taken away."""

    axis: int = LEVEL
    share: float = 0.5
    at: float | None = None


@dataclass(frozen=True)
class View:
    """How a solid is looked at: turned and from how high [°], near faces see-through; the face or wall that is selected; cut open; with the shadows of an hour."""

    turn: float = 30.0
    height: float = 28.0
    see_through: bool = False
    selected: str = ""
    cut: Cut | None = None
    hour: Hour | None = None

    def dragged(self, dx: float, dy: float) -> View:
        """Turned and lifted by dragging so many pixels."""
        return replace(self, turn=(self.turn - dx * 0.5 + 180) % 360 - 180, height=min(max(self.height + dy * 0.4, -60.0), 75.0))


def axonometric(
    a: Assessment,
    view: View | None = None,
    tint: Tint | None = None,
    size: tuple[float, float] = (420, 330),
    legend: bool = True,
    worked: bool = False,
) -> Sketch:
    """The home as a solid; see-through leaves the near faces as outlines. worked: seen square on, heights of the ground can be dragged."""
    view = view or View()
    made = Sketch(*size, "Axonometric")
    if not a[SOLID].drawn:
        say_why(made, a, size)
        return made
    fills, rows = tints(a, tint or Tint())
    below = 13.0 + 18 * max(len(legend_lines(rows, size[0] - 8)[0]), 2) if legend else 16.0
    solid = DrawnSolid(a, view, fills, made, below)
    solid.put()
    if view.height == 0 and worked:
        solid.heights()
    if legend:
        tint_legend(made, rows, 4, size[1] - 18)
    return made


class DrawnSolid:
    """What is put on the sheet, from back to front."""

    def __init__(self, a: Assessment, view: View, fills: Mapping[str, Fill], made: Sketch, below: float) -> None:
        self.a, self.view, self.fills, self.made = a, view, fills, made
        solid = a[SOLID]
        right, up, toward = view_axes(view.turn, view.height)
        self.way: Point = float(toward[0]), float(toward[1]), float(toward[2])
        self.cold = {b.id: b for b in solid.around if b.outline is not None}
        self.faces = {b.id: b for b in solid.boundaries} | self.cold
        whole = shown_solid(solid)
        self.ground = ground_drawn(a) if view.height >= 0 else None
        around = {"ground": self.ground.border} if self.ground is not None and view.height > 0 else {}
        self.place = _placed({**whole, **around}, right, up, (made.width, made.height), below, 30.0 if view.height == 0 else 13.0)
        party = frozenset(k for k, f in self.faces.items() if f.borders == "neighbour")
        self.outlines = with_overhang(whole, a.home.shape.plans, party)
        self.panes = _panes(a, solid)
        self.floors: dict[str, Polygon] = {}
        if view.cut is not None:
            self._open(view.cut, whole)
        self.shadows = shadows_on(a, view.hour) if view.hour is not None and view.cut is None and not view.see_through else {}
        self._dark: dict[str, shapely.Geometry] = {}
        self.near = {k for k, p in self.outlines.items() if scalar(area_vector(p), self.way) > 0}
        self.toward = toward

    def _open(self, cut: Cut, whole: Mapping[str, Polygon]) -> None:
        """Take away what lies on the viewer's side of a plane, and show the rooms behind it on their floors."""
        at, sign = plane_of(cut, whole, self.way)
        kept = {k: beyond(p, cut.axis, at, sign) for k, p in self.outlines.items()}
        self.outlines = {k: p for k, p in kept.items() if len(p) > 2}
        self.panes = [(k, p) for k, p in self.panes if all(sign * (q[cut.axis] - at) <= 0 for q in p)]
        rooms = _floors(self.a, at if cut.axis == LEVEL else None)
        self.floors = {k: p for k, p in ((k, beyond(p, cut.axis, at, sign)) for k, p in rooms.items()) if len(p) > 2}

    def put(self) -> None:
        """Faces, openings and floors in painting order, then what is see-through or selected."""
        made, view = self.made, self.view
        self._ground()
        tips = {o.id: o.name for o in self.a.home.openings}
        owners = {o.id: o.face for o in self.a.home.openings}
        for piece in painted((*self.outlines.items(), *self.floors.items(), *self.panes), self.toward):
            if piece.id in self.floors:
                made.path(self.place(piece.polygon), fill="stone", stroke="ink", width=0.7, id=piece.id, tip="room")
            elif piece.id in self.faces:
                self._face(piece.id, piece.polygon)
            elif not view.see_through:
                fill, pattern = self.fills.get(piece.id, ("glass", ""))
                made.path(
                    self.place(piece.polygon), fill=fill, pattern=pattern, stroke="ink", width=0.8, id=piece.id, tip=tips.get(piece.id, "")
                )
                self._dark_pane(owners.get(piece.id, ""), piece.polygon)
        self._ground_line()
        for k in self.near if view.see_through else ():
            made.path(self.place(self.outlines[k]), stroke="slate", width=1.0, dash=True)
        for k in (k for k in self.outlines if view.selected and (k == view.selected or k.startswith(f"{view.selected}."))):
            self._edges(self.outlines[k], stroke="tide", width=2.4)

    def heights(self) -> None:
        """The heights of the ground on the side that is seen."""
        ground = self.ground
        if ground is None:
            return
        middle = (ground.left + ground.right) / 2, (ground.low + ground.high) / 2

        def shown(x: float, y: float) -> bool:
            return (x - middle[0]) * self.way[0] + (y - middle[1]) * self.way[1] > 0

        heights(self.made, self.a, lambda p: self.place((p,))[0], shown, self.view.selected)

    def _ground(self) -> None:
        """The ground behind everything; its line is where the walls change."""
        ground, made = self.ground, self.made
        if ground is None:
            return
        if self.view.height == 0:
            made.line(*self.place(tuple(ground.front(self.view.turn))), stroke="chestnut", width=1.8)
            return
        made.path(self.place(ground.border), fill="chestnut_pale", pattern="hatch", stroke="chestnut", width=0.8, tip="ground")
        for line in ground.lines():
            made.line(*self.place(tuple(line)), stroke="chestnut", width=0.5)

    def _ground_line(self) -> None:
        """Where the walls that are seen come out of the ground."""
        if self.ground is None or self.view.height <= 0:
            return
        upright = (k for k in self.near if k in self.faces and self.faces[k].role == "wall")
        for a, b in {tuple(sorted(side)) for k in upright for side in sides(self.outlines[k])}:
            if self.ground.on(a, b):
                self.made.line(*self.place((a, b)), stroke="chestnut", width=2.0)

    def _face(self, ident: str, polygon: Polygon) -> None:
        f, outline, cold = self.faces[ident], self.outlines[ident], ident in self.cold
        if self.view.see_through and ident in self.near:
            return
        if abs(scalar(area_vector(outline), self.way)) < EDGE_ON:
            return
        fill, pattern = self.fills.get(ident, BORDERS["unheated space"] if cold else ("white", ""))
        tip = f"{f.name}, of the unheated {f.inside.name}" if cold else f"{f.name}, {f.borders}"
        self.made.path(self.place(polygon), fill=fill, pattern=pattern, stroke="", id=ident, tip=tip)
        self._shade(ident)
        if len(polygon) == len(outline):
            self._edges(polygon, stroke="ink", width=2.2 if f.borders == "neighbour" else 1.2)
        else:
            self._edges(outline, stroke="ink", width=0.9)

    def _shade(self, ident: str) -> None:
        """What of a face lies in shadow, where one sees it."""
        if ident not in self.near or ident not in self.shadows:
            return
        flat = shapely.union_all([shapely.make_valid(shapely.Polygon(self.place(p))) for p in self.shadows[ident]])
        self._dark[ident] = flat
        self._filled(flat, "stone")

    def _dark_pane(self, face: str, polygon: Polygon) -> None:
        """What of a pane lies in the shadow on its face."""
        if face in self._dark:
            self._filled(shapely.intersection(self._dark[face], shapely.make_valid(shapely.Polygon(self.place(polygon)))), "slate_pale")

    def _filled(self, flat: shapely.Geometry, fill: str) -> None:
        for part in shapely.get_parts(flat):
            if isinstance(part, shapely.Polygon) and part.area > 0.5:
                self.made.path([(float(x), float(y)) for x, y in part.exterior.coords[:-1]], fill=fill, stroke="")

    def _edges(self, polygon: Polygon, **style: object) -> None:
        """The edges of a face; the way its ring walks to a hole and back is none."""
        if len(set(polygon)) == len(polygon):
            self.made.path(self.place(polygon), **style)
            return
        ways = set(sides(polygon))
        for a, b in sides(polygon):
            if (b, a) not in ways:
                self.made.line(*self.place((a, b)), **style)


def shown_solid(solid: Solid) -> dict[str, Polygon]:
    """The outer outlines of all faces, those of unheated spaces too."""
    return {**solid.outer, **{b.id: b.outline for b in solid.around if b.outline is not None}}


def plane_of(cut: Cut, outlines: Mapping[str, Polygon], way: Point) -> tuple[float, float]:
    """(where the plane lies along its axis [m], 1 where what is greater is taken away, else −1)."""
    values = [p[cut.axis] for polygon in outlines.values() for p in polygon]
    low, high = min(values, default=0.0), max(values, default=1.0)
    share = low + (high - low) * min(max(cut.share, 0.0), 1.0)
    return (cut.at if cut.at is not None else share) + 1e-4, 1.0 if way[cut.axis] >= 0 else -1.0


def beyond(polygon: Polygon, axis: int, at: float, sign: float) -> Polygon:
    """What of a polygon lies below a plane across an axis, or above it where sign is −1."""
    kept: list[Point] = []
    for a, b in sides(polygon):
        if sign * (a[axis] - at) <= 0:
            kept.append(a)
        if (sign * (a[axis] - at) <= 0) != (sign * (b[axis] - at) <= 0):
            t = (at - a[axis]) / (b[axis] - a[axis])
            kept.append((a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])))
    return tuple(kept)


def _floors(a: Assessment, level: float | None) -> dict[str, Polygon]:
    """The rooms on their floors: of the storey a level cuts, of all where none does."""
    built = a[BUILT]
    if built is None or built.drawing is None:
        return {}
    floors = (f for f in built.drawing.floors if level is None or f.level < level <= f.level + (f.height or 3.0))
    cut = {f.plan.id: f.level for f in floors}
    return {r.id: tuple((x, y, cut[r.storey] + 0.01) for x, y in r.measure.outline) for r in built.rooms if r.storey in cut}


def _panes(a: Assessment, solid: Solid) -> list[tuple[str, Polygon]]:
    """The openings in space, a little outside their faces."""
    found = []
    for face, polygon in solid.outer.items():
        found += [(s.opening.id, in_space(polygon, s)) for s in stands(a.home.openings, face, polygon)]
    return found


def _placed(shown: Mapping[str, Polygon], right: Vector, up: Vector, size: tuple[float, float], below: float, above: float) -> Place:
    """A function from points in space to the sheet, the whole solid in view; below, above: what is left free of its height."""
    points = np.array([p for polygon in shown.values() for p in polygon])
    flat = np.stack([points @ right, -(points @ up)], axis=1)
    low, high = flat.min(axis=0), flat.max(axis=0)
    if below <= 26:  # nothing is written below it
        below, above = below / 2, below / 2
    room = size[1] - below - above
    scale = float(min((size[0] - 24) / max(high[0] - low[0], 0.1), room / max(high[1] - low[1], 0.1)))
    origin = np.array([size[0] / 2, above + room / 2]) - scale * (low + high) / 2

    (rx, ry, rz), (ux, uy, uz) = right.tolist(), up.tolist()
    ox, oy = float(origin[0]), float(origin[1])

    def place(polygon: Polygon) -> list[PointXY]:
        return [(ox + scale * (x * rx + y * ry + z * rz), oy - scale * (x * ux + y * uy + z * uz)) for x, y, z in polygon]

    return place
