"""Openings stay where they stand: edits of the plans that part, join, mirror or turn the walls they stand in."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

import numpy as np
import shapely

from nuthatch.core.assess import whole_plan
from nuthatch.core.changes.changes import Batch, Change, SetValue, apply
from nuthatch.core.edits.desk import moved_value
from nuthatch.core.graph.plan import narrowed
from nuthatch.core.graph.runner import run
from nuthatch.core.model.home import Home, Opening
from nuthatch.core.plans.polygons import Point, Polygon, Vector, flat_outline, normal, plane_axes
from nuthatch.core.solid import from_plans
from nuthatch.core.solid.built_stages import DRAWING, GROWN_MASSING, PLANS, TRACED
from nuthatch.core.solid.opening_places import in_space, stands

NEAR = 0.02
"""How far from its plane or past its edge an opening may lie and still stand in a face [m]."""
ALIKE = 0.999
"""Cosine of the angle between faces that look the same way."""
Place = Callable[[Point], Point]


MADE = frozenset(slot.name for slot in (PLANS, DRAWING, TRACED, GROWN_MASSING))


def outlines_of(home: Home) -> Mapping[str, Polygon]:
    """The outer outlines of the faces of drawn plans by id; none where they make no solid."""
    known = run(narrowed(whole_plan(), MADE, frozenset()), home, None).values
    plans, drawing = known[PLANS.name], known[DRAWING.name]
    outer = known[GROWN_MASSING.name] or known[TRACED.name]
    return from_plans.outer_polygons(plans, drawing, outer) if outer is not None else {}


def kept_in_place(home: Home, label: str, changes: tuple[Change, ...], place: Place = lambda p: p) -> Batch:
    """Changes of the plans, and openings put where they stood in space. place: where a point of the home comes to stand.

    An opening that no face holds any more stays with its face, or goes to the nearest one that looks the same way, and is asked about there.
    """
    whole = Batch(label=label, changes=changes)
    if not home.openings:
        return whole
    after_home: Home = apply(whole, home)
    before, after = outlines_of(home), outlines_of(after_home)
    moves = tuple(_moves(home, {o.id: o for o in after_home.openings}, before, after, place)) if before and after else ()
    return Batch(label=label, changes=(*changes, *moves))


def _moves(
    home: Home, now: Mapping[str, Opening], before: Mapping[str, Polygon], after: Mapping[str, Polygon], place: Place
) -> Iterator[Change]:
    by_face = {face: stands(home.openings, face, before[face]) for face in {o.face for o in home.openings} & before.keys()}
    for o in home.openings:
        own = [s for s in by_face.get(o.face, ()) if s.opening.id == o.id]
        if not own or o.id not in now:
            continue
        row = [p for s in own for p in in_space(before[o.face], s, 0.0)]
        if _holds(before[o.face], row):
            face = _best(list(map(place, row)), _looks(before[o.face], place), o.face, after)
        else:
            face = o.face if o.face in after else ""  # it stood nowhere: it stays with its wall
        if face and face != now[o.id].face:
            yield SetValue(part=o.id, field="face", value=face)
        if face and o.position is not None:
            left = min(_along(after[face], place(p)) for p in row)
            if left > -NEAR and abs(left - o.position.value) > 1e-9:
                yield SetValue(part=o.id, field="position", value=moved_value(o.position, round(max(left, 0.0), 9)))


def _looks(polygon: Polygon, place: Place) -> Vector:
    """The direction a face looks to once its points are placed."""
    (x, y, z), out = polygon[0], normal(polygon)
    a, b, c = out / np.linalg.norm(out)
    moved: Vector = np.array(place((x + a, y + b, z + c))) - np.array(place((x, y, z)))
    return moved


def _along(polygon: Polygon, point: Point) -> float:
    """How far from a face's left edge a point lies [m]."""
    corner, right, _ = plane_axes(polygon)
    return float((np.array(point) - corner) @ right)


def _holds(polygon: Polygon, row: list[Point]) -> bool:
    """Whether points lie in a face."""
    corner, right, up = plane_axes(polygon)
    rest = np.array(row) - corner
    spots = shapely.points(rest @ right, rest @ up)
    return bool(shapely.distance(shapely.Polygon(flat_outline(polygon)), spots).max() < NEAR)


def _best(row: list[Point], looks: Vector, face: str, after: Mapping[str, Polygon]) -> str:
    """The face in whose plane a row lies and that holds it, or the middle of it, or is nearest; its own where that is as good."""
    middle = np.mean(np.array(row), axis=0)
    ranked = []
    for name, polygon in after.items():
        out = normal(polygon)
        if out @ looks / np.linalg.norm(out) < ALIKE:
            continue
        corner, right, up = plane_axes(polygon)
        off = abs(float((middle - corner) @ np.cross(right, up)))
        spot = shapely.Point(float((middle - corner) @ right), float((middle - corner) @ up))
        far = float(shapely.distance(shapely.Polygon(flat_outline(polygon)), spot))
        before_it = min(_along(polygon, p) for p in row) < -NEAR  # no place is left of a face's edge
        ranked.append((off > NEAR, not _holds(polygon, row), before_it, off + far, name != face, name))
    return min(ranked)[-1] if ranked else face if face in after else ""
