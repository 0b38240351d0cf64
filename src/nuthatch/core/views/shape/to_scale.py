"""Plans, elevations and sections to a stated scale, for paper; every face carries its number, the same in all of them and in the take-off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.plans.polygons import area_vector
from nuthatch.core.sketch import Path, Sketch
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import INCH_POUND, system
from nuthatch.core.views.shape.axonometric import View, shown_solid
from nuthatch.core.views.shape.cut_view import BESIDE, cut_view
from nuthatch.core.views.shape.hidden import view_axes
from nuthatch.core.views.shape.pictures import ELEVATIONS, elevation
from nuthatch.core.views.shape.plan_frame import FOOT, LONG_MARGIN, MARGIN, bounds, frame_of
from nuthatch.core.views.shape.plan_table import storey_plan

PER_MM = 4.0
"""Units of a sketch for each millimetre of paper: its usual texts come out at 7 to 9 points."""
METRIC_SCALES = (20, 50, 100, 200, 500, 1000, 2000)
INCH_SCALES = {24: "1/2″ = 1′", 48: "1/4″ = 1′", 96: "1/8″ = 1′", 192: "1/16″ = 1′", 480: "1″ = 40′", 960: "1″ = 80′", 1920: "1″ = 160′"}


@dataclass(frozen=True)
class Scaled:
    """A drawing to scale: so many millimetres of the home on one of paper, and how wide it is printed [mm]."""

    sketch: Sketch
    scale: int
    width: float

    @property
    def says(self) -> str:
        """The scale in words: “1 : 100”, or as builders say it in feet and inches."""
        return f"{INCH_SCALES[self.scale]} (1 : {self.scale})" if self.scale in INCH_SCALES else f"1 : {self.scale}"


Extent = tuple[float, float]


def _scales() -> tuple[int, ...]:
    return tuple(INCH_SCALES) if system() == INCH_POUND else METRIC_SCALES


def _size(span: Extent, around: Extent, scale: int) -> Extent:
    """How large a drawing is at a scale [units of a sketch]. span [m], around [units]."""
    per_metre = 1000.0 / scale * PER_MM
    return span[0] * per_metre + around[0], span[1] * per_metre + around[1]


def _fitting(spans: Sequence[Extent], around: Extent, paper: Extent, least: int = 1) -> int:
    """The largest of the usual scales, 1 : least at most, at which all of some drawings have room. span [m], around [units], paper [mm]."""

    def room(scale: int) -> bool:
        sizes = (_size(span, around, scale) for span in spans)
        return all(w <= paper[0] * PER_MM and h <= paper[1] * PER_MM for w, h in sizes)

    return next((scale for scale in _scales() if scale >= least and room(scale)), _scales()[-1])


def numbers(a: Assessment) -> dict[str, int]:
    """The number of each face, in the order of the take-off."""
    return {e.id: n for n, e in enumerate((e for e in a[ELEMENTS] if e.is_face), 1)}


def plan_to_scale(a: Assessment, storey: str, paper: Extent, numbered: bool = True) -> Scaled:
    """The plan of a storey as large as its paper lets it be [mm]. Raises KeyError where it is gone."""
    plans = a.home.shape.plans
    if plans is None or storey not in {s.id for s in plans.storeys}:
        raise KeyError(storey)
    x0, y0, x1, y1 = bounds(plans)
    beside = LONG_MARGIN if system() == INCH_POUND else MARGIN
    span, around = (max(x1 - x0, 1.0), max(y1 - y0, 1.0)), (3 * beside, 1.4 * min(beside, MARGIN) + FOOT)
    scale = _fitting([span], around, paper)
    size = _size(span, around, scale)
    made = storey_plan(a, storey, size=size, worked=False)
    if numbered:
        _number_walls(a, made, storey)
    return Scaled(made, scale, size[0] / PER_MM)


def _number_walls(a: Assessment, made: Sketch, storey: str) -> None:
    """The numbers of a storey's walls, outside them beyond their lengths."""
    plans, solid = a.home.shape.plans, a[SOLID]
    assert plans is not None
    floor = next(s for s in plans.storeys if s.id == storey)
    sides = {side.id for o in floor.outlines for ring in (o.sides, *(h.sides for h in o.holes)) for side in ring}
    frame = frame_of(plans, (made.width, made.height))
    for ident, number in numbers(a).items():
        polygon = solid.outer.get(ident)
        if polygon is None or not any(ident == s or ident.startswith(f"{s}.") for s in sides):
            continue
        normal = np.array(area_vector(polygon)[:2], float)
        if not np.hypot(*normal):
            continue
        normal /= np.hypot(*normal)
        xs, ys = [p[0] for p in polygon], [p[1] for p in polygon]
        x, y = frame.at(((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2))
        along = np.array([-normal[1], normal[0]])
        x, y = x + 9 * normal[0] + 30 * along[0], y - 9 * normal[1] - 30 * along[1]
        tag(made, x, y, number)


def tag(made: Sketch, x: float, y: float, number: int) -> None:
    """A number in a small ring."""
    ring = [(x + 8 * np.cos(t), y + 8 * np.sin(t)) for t in np.linspace(0, 2 * np.pi, 17)[:-1]]
    made.path([(float(p), float(q)) for p, q in ring], fill="white", stroke="slate", width=0.9)
    made.text(x, y + 3.4, str(number), size=9.5, bold=True, color="slate", anchor="middle")


def _span(a: Assessment, side: str) -> Extent:
    """How wide and high the home is, seen from one side of the sheet [m]."""
    right, up, _ = view_axes(View(ELEVATIONS[side], 0.0).turn, 0.0)
    points = np.array([p for polygon in shown_solid(a[SOLID]).values() for p in polygon])
    return float(np.ptp(points @ right)), float(np.ptp(points @ up))


def elevations_to_scale(a: Assessment, paper: Extent, numbered: bool = True) -> dict[str, Scaled]:
    """The home seen square on from each side of the sheet, all to one scale, with the numbers of the faces one sees; a section at the same
    scale has room on paper twice as wide."""
    spans = {side: _span(a, side) for side in ELEVATIONS}
    scale = _fitting(list(spans.values()), AROUND, paper, ELEVATION)
    found = {}
    for side, span in spans.items():
        size = _size(span, AROUND, scale)
        made = elevation(a, side, size=size, legend=False)
        if numbered:
            _number_faces(a, made)
        found[side] = Scaled(made, scale, size[0] / PER_MM)
    return found


ELEVATION = 96
"""Elevations and sections are not drawn larger than 1 : 100, or 1/8″ to the foot: they say less than plans."""
AROUND = (24.0, 46.0)
"""Free beside and above an elevation [units of a sketch]."""


def _number_faces(a: Assessment, made: Sketch) -> None:
    """The number of each face where most of it is seen."""
    known = numbers(a)
    covers: list[tuple[str, shapely.Geometry]] = [
        (i.id, shapely.make_valid(shapely.Polygon(i.points)))
        for i in made.items
        if isinstance(i, Path) and i.closed and (i.fill or i.pattern) and len(i.points) > 2
    ]
    seen: dict[str, shapely.Geometry] = {}
    above: shapely.Geometry = shapely.Polygon()
    for ident, flat in reversed(covers):
        if ident in known:
            free = shapely.difference(flat, above)
            seen[ident] = shapely.union(seen.get(ident, shapely.Polygon()), free)
        above = shapely.union(above, flat)
    for ident, flat in seen.items():
        largest = max(shapely.get_parts(flat), key=shapely.area, default=None)
        if largest is not None and shapely.area(largest) > 260:
            spot = shapely.centroid(shapely.maximum_inscribed_circle(largest, tolerance=2.0))
            tag(made, spot.x, spot.y, known[ident])


def section_to_scale(a: Assessment, scale: int) -> Scaled:
    """The section through the middle, at a scale."""
    points = [p for polygon in shown_solid(a[SOLID]).values() for p in polygon]
    along, height = [p[1] for p in points], [p[2] for p in points]
    size = _size((max(along) - min(along) + 2 * BESIDE, max(height) - min(height)), (124.0, 80.0), scale)
    return Scaled(cut_view(a, 0, 0.5, size), scale, size[0] / PER_MM)
