"""What comes into the shape from files, as changes: faces in place of the shape, a backing sheet below a storey and its scale."""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot

import shapely

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.edits.plan_edits import drawn, plans_in, sides_of
from nuthatch.core.model.home import EvidenceFile, Home, fresh_id, walk_parts
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import BackingSheet, Outline
from nuthatch.core.plans.reading_plans import points_of
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.views.shape.plan_frame import bounds

WIDEST_SHEET = 2000.0
SMALLEST = 1.0
"""A closed polyline around less than this is no outline [m²]."""


def taken_in(home: Home, read: Home) -> Batch:
    """The faces of a file in place of the home's own shape, with their openings; build-ups and types it lacks come along."""
    changes: list[Change] = [SetValue(part="shape", field=f, value=None) for f in ("form", "plans") if home.shape[f] is not None]
    kept_types, kept_builds = {t.id for t in home.opening_types}, {b.id for b in home.buildups}
    used = {o.type for o in read.openings}
    named = {f.buildup for f in read.shape.faces}
    types = tuple(t for t in read.opening_types if t.id in used - kept_types)
    builds = tuple(b for b in read.buildups if b.id in named - kept_builds)
    changes += [SetValue(part="home", field="openings", value=())]
    changes += [SetValue(part="home", field="opening_types", value=(*home.opening_types, *types))] if types else []
    changes += [SetValue(part="home", field="buildups", value=(*home.buildups, *builds))] if builds else []
    taken = {p.id for p in walk_parts(home)} - {o.id for o in home.openings} - {f.id for f in home.shape.faces}
    faces = {f.id: f"{'read-' if f.id in taken else ''}{f.id}" for f in read.shape.faces}
    shape = tuple(replace(f, id=faces[f.id]) for f in read.shape.faces)
    openings = tuple(replace(o, id=f"{'read-' if o.id in taken else ''}{o.id}", face=faces[o.face]) for o in read.openings)
    changes += [SetValue(part="shape", field="faces", value=shape), SetValue(part="home", field="openings", value=openings)]
    return Batch(label=f"Shape: {len(shape)} faces from a file", changes=tuple(changes))


def sheet_laid(home: Home, storey: str, file: EvidenceFile, width: float | None = None) -> Batch:
    """A backing sheet beneath a storey; one that does not know its own width [m] is as wide as the home, until its scale is set."""
    plans = plans_in(home)
    known = next((e for e in home.evidence if e.sha256 == file.sha256), None)
    proof = known or replace(file, id=fresh_id(home, "evidence"))
    left, low, right, _ = bounds(plans)
    made = BackingSheet(
        id=fresh_id(home, "sheet"),
        name=proof.name,
        file=proof.id,
        x=drawn(left),
        y=drawn(low),
        width=drawn(min(width or max(right - left, 1.0), WIDEST_SHEET)),
    )
    changes: list[Change] = [] if known is not None else [Insert(owner="home", field="evidence", value=proof)]
    return Batch(label=f"Backing sheet {proof.name}", changes=(*changes, SetValue(part=storey, field="sheet", value=made)))


@refusing
def outlined(home: Home, storey: str, rings: Sequence[tuple[Point2, ...]]) -> Batch:
    """Closed polylines as outlines of a storey: the outermost of them, where nothing is drawn yet. Raises ChangeRefused for none."""
    there = [
        shapely.Polygon(points_of(o.sides))
        for s in plans_in(home).storeys
        for o in s.outlines
        if s.id == storey and len(points_of(o.sides)) > 2
    ]
    shapes = [shapely.Polygon(r) for r in rings if len(r) > 2]
    large = sorted((s for s in shapes if s.is_valid and s.area >= SMALLEST), key=lambda s: -s.area)
    chosen: list[shapely.Polygon] = []
    for shape in large:
        if not any(shapely.intersection(shape, other).area > 0.5 * shape.area for other in (*chosen, *there)):
            chosen.append(shape)
    if not chosen:
        raise ChangeRefused("the drawing has no closed polyline of 1 m² or more where nothing is drawn yet")
    made: list[Change] = []
    for shape, ident in zip(chosen, fresh_ids(home, "outline", len(chosen)), strict=True):
        points = [(x, y) for x, y in shape.simplify(1e-4).exterior.coords[:-1]]
        made.append(Insert(owner=storey, field="outlines", value=Outline(id=ident, name="House", sides=sides_of(ident, points))))
    return Batch(label=f"{len(made)} outline{'s' if len(made) > 1 else ''} from the backing sheet", changes=tuple(made))


@refusing
def sheet_scaled(part: BackingSheet, a: Point2, b: Point2, length: float) -> Batch:
    """A backing sheet, as it was before, made so large that two of its points lie so far apart [m]; the first stays where it is."""
    apart = hypot(b[0] - a[0], b[1] - a[1])
    if part.width is None or part.x is None or part.y is None:
        raise ChangeRefused("the backing sheet has no place yet")
    if apart < 1e-6 or length <= 0:
        raise ChangeRefused("the two points lie on each other; choose two that are far apart")
    k = length / apart
    x, y = a[0] + (part.x.value - a[0]) * k, a[1] + (part.y.value - a[1]) * k
    values = {"x": x, "y": y, "width": part.width.value * k}
    sets = tuple(SetValue(part=part.id, field=f, value=drawn(v)) for f, v in values.items())
    return Batch(label=f"{part.name}: scale", changes=sets)
