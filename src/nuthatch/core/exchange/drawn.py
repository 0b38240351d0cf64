"""Drawings out: plans and elevations to scale as DXF (ezdxf), pictures as SVG."""

from __future__ import annotations

import io
from math import cos, radians, sin

import numpy as np

from nuthatch import look
from nuthatch.core.assess import Assessment
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import Opening
from nuthatch.core.model.plans import StoreyPlan
from nuthatch.core.plans.polygons import Polygon, normal
from nuthatch.core.plans.reading_plans import corners_of, number, points_of, walls_of
from nuthatch.core.sketch import to_svg
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.from_plans import Built
from nuthatch.core.solid.opening_places import in_space, stands
from nuthatch.core.solid.plan_layout import SideLine
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.views.shape.pictures import ELEVATIONS, plan_of
from nuthatch.core.views.shape.plan_handles import roofs_on
from nuthatch.core.views.shape.plan_table import along_side
from nuthatch.core.views.shape.plans_and_elevations import in_wall

LAYERS = {"WALLS": 5, "INNER-WALLS": 8, "WINDOWS": 4, "DOORS": 30, "ROOFLIGHTS": 140, "ROOMS": 7, "UNHEATED": 3, "ROOF": 1, "ELEVATIONS": 7}
KINDS = {"door": "DOORS", "rooflight": "ROOFLIGHTS"}
"""The layer of an opening by its use; others are windows."""
APART = 4.0
"""Between drawings side by side [m]."""


def _layer(a: Assessment, opening: Opening) -> str:
    """The layer of an opening."""
    use = next((t.use for t in a.home.opening_types if t.id == opening.type), "window")
    return KINDS.get(use, "WINDOWS")


def _openings(a: Assessment, ring, side: str, lines: tuple[SideLine, SideLine], dx: float) -> None:  # type: ignore[no-untyped-def]  # the closure below
    """The openings in a wall of a plan, each through the whole wall."""
    outer, inner = lines
    faces = {k: p for k, p in a[SOLID].outer.items() if k == side or k.startswith(f"{side}.")}
    for face, polygon in faces.items():
        start = along_side(outer, polygon)
        for stand in stands(a.home.openings, face, polygon):
            ring(in_wall(outer, inner, start + stand.left, stand.width), _layer(a, stand.opening), dx, 0.0)


def _storey(space, ring, storey: StoreyPlan, a: Assessment, built: Built, dx: float) -> None:  # type: ignore[no-untyped-def]  # ezdxf's own types
    """The plan of one storey, so far to the right [m]."""
    space.add_text(storey.name, height=0.3, dxfattribs={"layer": "ROOMS"}).set_placement((dx, -1.2))
    for side in corners_of(storey):
        if side.id in built.walls:
            (p, q), (r, s) = built.walls[side.id]
            ring((p, q, s, r), "WALLS", dx, 0.0)
            _openings(a, ring, side.id, built.walls[side.id], dx)
    for roof in roofs_on(a.home.shape.plans, storey) if a.home.shape.plans is not None else ():
        ring(points_of(roof.corners), "ROOF", dx, 0.0)
    for outline in storey.outlines:
        if outline.kind != "heated":
            ring([(number(s.x), number(s.y)) for s in outline.sides], "UNHEATED", dx, 0.0)
    for start, end, _ in walls_of(storey.inner_walls):
        space.add_line((start[0] + dx, start[1]), (end[0] + dx, end[1]), dxfattribs={"layer": "INNER-WALLS"})
    for room in built.rooms:
        if room.storey == storey.id:
            ring(room.measure.outline, "ROOMS", dx, 0.0)
            at = room.measure.polygon.representative_point()
            space.add_text(room.name, height=0.2, dxfattribs={"layer": "ROOMS"}).set_placement((at.x + dx, at.y))


def as_dxf(a: Assessment) -> bytes:
    """Every storey's plan beside each other, the four elevations above them, in metres. Raises HomeFileError where nothing is drawn."""
    import ezdxf
    from ezdxf import units

    solid, built, plans = a[SOLID], a[BUILT], a.home.shape.plans
    if not solid.drawn:
        raise HomeFileError("there are no outlines to draw: the faces of this home are a list, or nothing is drawn yet")
    document = ezdxf.new("R2010")  # type: ignore[attr-defined]
    document.units = units.M
    for name, color in LAYERS.items():
        document.layers.add(name, color=color)
    space = document.modelspace()

    def ring(points, layer: str, dx: float, dy: float) -> None:  # type: ignore[no-untyped-def]  # pairs of numbers
        space.add_lwpolyline([(x + dx, y + dy) for x, y, *_ in points], close=True, dxfattribs={"layer": layer})

    everything = [p for polygon in solid.outer.values() for p in polygon]
    wide = max(p[0] for p in everything) - min(p[0] for p in everything) + APART
    deep = max(p[1] for p in everything) + APART
    if plans is not None and built is not None:
        for n, storey in enumerate(plans.storeys):
            _storey(space, ring, storey, a, built, n * wide)
    _elevations(a, ring, deep)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


def _elevations(a: Assessment, ring, dy: float) -> None:  # type: ignore[no-untyped-def]  # the closure above
    """Each side seen square on, faces and their openings."""
    solid = a[SOLID]
    dx = 0.0
    for angle in ELEVATIONS.values():
        t = radians(angle)
        right, toward = np.array([cos(t), sin(t), 0.0]), np.array([sin(t), -cos(t), 0.0])

        def flat(polygon: Polygon, right=right) -> list[tuple[float, float]]:  # type: ignore[no-untyped-def]
            return [(float(np.asarray(p) @ right), p[2]) for p in polygon]

        seen = {k: p for k, p in solid.outer.items() if float(normal(p) @ toward) > 1e-6}
        seen |= {b.id: b.outline for b in solid.around if b.outline is not None and float(normal(b.outline) @ toward) > 1e-6}
        if not seen:
            continue
        left = min(x for p in seen.values() for x, _ in flat(p))
        for ident, polygon in seen.items():
            ring(flat(polygon), "ELEVATIONS", dx - left, dy)
            for stand in stands(a.home.openings, ident, polygon):
                ring(flat(in_space(polygon, stand, 0.0)), _layer(a, stand.opening), dx - left, dy)
        dx += max(x for p in seen.values() for x, _ in flat(p)) - left + APART


def as_svg(a: Assessment) -> bytes:
    """The plan of the lowest storey as SVG."""
    if not a[SOLID].drawn:
        raise HomeFileError("there are no outlines to draw: the faces of this home are a list, or nothing is drawn yet")
    return to_svg(plan_of(a), look.palette(), look.FONT).encode()
