"""An upright cut through drawn plans: build-ups, floors with their levels, unheated spaces, the ground line."""

from __future__ import annotations

from collections.abc import Callable

import shapely

from nuthatch.core.assess import Assessment
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.sketch import PointXY, Sketch
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.cut import Segment, cut
from nuthatch.core.solid.solid import Solid
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import with_unit
from nuthatch.core.views.shape.ground_drawn import heights
from nuthatch.core.views.shape.tinting import BORDERS

BESIDE = 1.2
"""How far beside the home its ground is drawn [m]."""
NEAR = 0.35
"""Heights of the ground nearer to the cut than this share of the home's width are seen in it."""
Place = Callable[[tuple[float, float]], PointXY]


def cut_view(
    a: Assessment,
    axis: int = 0,
    share: float = 0.5,
    size: tuple[float, float] = (560.0, 400.0),
    small: bool = False,
    selected: str | None = None,
) -> Sketch:
    """The home cut by the plane across the plan's x (0) or y (1), a share of its width from its lower end. selected: what is, where it
    is worked on; None where it is only looked at."""
    made = Sketch(*size, "Section")
    solid, built = a[SOLID], a[BUILT]
    everything = [*solid.outer.values(), *(b.outline for b in solid.around if b.outline is not None)]
    if not solid.drawn or not everything:
        made.say("nothing to cut yet")
        return made
    values = [p[axis] for polygon in everything for p in polygon]
    at = min(values) + (max(values) - min(values)) * min(max(share, 0.02), 0.98) + 1e-4
    spread = [(p[1 - axis], p[2]) for polygon in everything for p in polygon]
    place = _placed(spread, size, small)
    if built is not None and built.drawing is not None and built.drawing.ground is not None:
        _ground(made, built.drawing.ground, axis, at, spread, place)
        _inside(made, everything, axis, at, place)
    _faces(made, solid, axis, at, place)
    _levels(made, a, axis, at, spread, place, small)
    if selected is not None and not small:
        near = NEAR * (max(values) - min(values))
        heights(made, a, lambda p: place((p[1 - axis], p[2])), lambda x, y: abs((x, y)[axis] - at) < near, selected)
    if not small:
        made.hint = "drag, or left and right, to cut elsewhere · up or down: the other way"
    return made


def _faces(made: Sketch, solid: Solid, axis: int, at: float, place: Place) -> None:
    """Faces where they are cut: unheated spaces as lines, the home's own between their outer and inner face."""
    for b in solid.around:
        for segment in _cut(b.outline, axis, at):
            made.line(*(place(p) for p in segment), stroke="lichen", width=1.6, id=b.id)
    for face in solid.boundaries:
        outer, inner = (_cut(p.get(face.id), axis, at) for p in (solid.outer, solid.inner))
        fill, pattern = BORDERS[face.borders]
        fill = "stone" if face.borders == "outside air" else fill
        for n, segment in enumerate(outer):
            if n < len(inner):
                ring = [place(p) for p in (*segment, inner[n][1], inner[n][0])]
                made.path(ring, fill=fill, pattern=pattern, stroke="", id=face.id, tip=f"{face.name}, {face.borders}")
            made.line(*(place(p) for p in segment), stroke="ink", width=1.6)
        for segment in inner:
            made.line(*(place(p) for p in segment), stroke="ink", width=0.9)
    known = {face.id for face in solid.boundaries}
    for segment in (s for k, p in solid.inner.items() if k not in known for s in cut(p, axis, at)):
        made.line(*(place(p) for p in segment), stroke="ink", width=0.9)


def _cut(polygon: Polygon | None, axis: int, at: float) -> tuple[Segment, ...]:
    return cut(polygon, axis, at) if polygon is not None else ()


def _placed(points: list[tuple[float, float]], size: tuple[float, float], small: bool) -> Place:
    left, right = min(p[0] for p in points) - BESIDE, max(p[0] for p in points) + BESIDE
    low, high = min(p[1] for p in points), max(p[1] for p in points)
    edge, beside = (10.0, 10.0) if small else (32.0, 92.0)
    scale = max(min((size[0] - edge - beside) / max(right - left, 0.1), (size[1] - 2 * edge) / max(high - low, 0.1)), 0.5)
    x0 = (size[0] - beside + edge - (right - left) * scale) / 2 - left * scale
    y0 = (size[1] - (0 if small else 16) + (high - low) * scale) / 2 + low * scale
    return lambda p: (x0 + p[0] * scale, y0 - p[1] * scale)


def _ground(
    made: Sketch, ground: Callable[[float, float], float], axis: int, at: float, points: list[tuple[float, float]], place: Place
) -> None:
    left, right = min(p[0] for p in points) - BESIDE, max(p[0] for p in points) + BESIDE
    low = min(p[1] for p in points) - 0.3
    steps = [left + (right - left) * n / 40 for n in range(41)]
    line = [(s, ground(at, s) if axis == 0 else ground(s, at)) for s in steps]
    bottom = min(low, *(z for _, z in line)) - 0.2
    made.path([place(p) for p in (*line, (right, bottom), (left, bottom))], fill="chestnut_pale", pattern="hatch", stroke="")
    made.line(*(place(p) for p in line), stroke="chestnut", width=1.8)


def _inside(made: Sketch, polygons: list[Polygon], axis: int, at: float, place: Place) -> None:
    """What the home takes up, free of the earth behind it."""
    lines = [shapely.LineString(segment) for polygon in polygons for segment in cut(polygon, axis, at) if segment[0] != segment[1]]
    for piece in shapely.get_parts(shapely.polygonize(shapely.get_parts(shapely.union_all(lines, grid_size=1e-4)))):
        made.path([place((x, y)) for x, y in piece.exterior.coords[:-1]], fill="paper", stroke="")


def _levels(made: Sketch, a: Assessment, axis: int, at: float, points: list[tuple[float, float]], place: Place, small: bool) -> None:
    """The floors between storeys and the level of each."""
    built = a[BUILT]
    if built is None or built.drawing is None:
        return
    right = max(p[0] for p in points)
    lowest = min((f.level for f in built.drawing.floors if any(r.storey == f.plan.id for r in built.rooms)), default=0.0)
    for floor in built.drawing.floors:
        thick = floor.plan.floor_thickness.value if floor.plan.floor_thickness is not None else 0.0
        rooms = [r for r in built.rooms if r.storey == floor.plan.id]
        for room in rooms:
            ring: Polygon = tuple((x, y, 0.0) for x, y in room.measure.outline)
            spans = cut(ring, axis, at)
            if thick and floor.level > lowest:
                for (s, _), (e, _) in spans:
                    box = [(s, floor.level), (e, floor.level), (e, floor.level - thick), (s, floor.level - thick)]
                    made.path([place(p) for p in box], fill="wood", stroke="ink", width=0.6, id=floor.plan.id, tip=floor.plan.name)
        if not small:
            x, y = place((right + BESIDE, floor.level))
            made.line((x + 4, y), (x + 14, y), stroke="muted", width=0.8)
            made.text(x + 18, y + 4, with_unit(floor.level, "length"), size=10.5, color="muted")
