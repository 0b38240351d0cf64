"""What comes into the shape from files, as changes: faces in place of the shape, a backing sheet below a storey and its scale."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import combinations
from math import hypot
from typing import TypeVar

import shapely

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.edits.plan_edits import drawn, plans_in, sides_of
from nuthatch.core.edits.site_edits import site_bounds
from nuthatch.core.library import new_home
from nuthatch.core.model.home import EvidenceFile, Home, fresh_id, walk_parts
from nuthatch.core.model.part import IdentifiedPart, inner_fields, replace, specs
from nuthatch.core.model.plans import BackingSheet, Outline
from nuthatch.core.model.site import SiteSheet
from nuthatch.core.plans.reading_plans import points_of
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.views.shape.plan_frame import bounds

P = TypeVar("P", bound=IdentifiedPart)
WIDEST_SHEET = 2000.0
SMALLEST = 1.0
"""A closed polyline around less than this is no outline [m²]."""


def taken_in(home: Home, read: Home) -> Batch:
    """The shape of a file in place of the home's own, with its openings; build-ups and types it lacks come along under names of their
    own where theirs are taken."""
    changes: list[Change] = [SetValue(part="shape", field="form", value=None)] if home.shape.form is not None else []
    own = {p.id for p in walk_parts(home)} - {p.id for part in (home.shape, *home.openings) for p in walk_parts(part)}
    used = {o.type for o in read.openings}
    named = {b.id for b in read.buildups} - {b.id for b in new_home().buildups}
    names: dict[str, str] = {}
    types, builds = (_brought(rows, kept, wanted, own, names) for rows, kept, wanted in (
        (read.opening_types, home.opening_types, used), (read.buildups, home.buildups, named)))  # fmt: skip
    changes += [SetValue(part="home", field="openings", value=())]
    changes += [SetValue(part="home", field="opening_types", value=(*home.opening_types, *types))] if types else []
    changes += [SetValue(part="home", field="buildups", value=(*home.buildups, *builds))] if builds else []
    for part in (*read.shape.faces, *(walk_parts(read.shape.plans) if read.shape.plans is not None else ()), *read.openings):
        if part.id in own and part.id != "plans":
            names[part.id] = next(i for n in range(10_000) if (i := f"read-{n or ''}{part.id}") not in own)
    plans = renamed(read.shape.plans, names) if read.shape.plans is not None else None
    changes += [
        SetValue(part="shape", field="plans", value=plans),
        SetValue(part="shape", field="faces", value=tuple(renamed(f, names) for f in read.shape.faces)),
        SetValue(part="home", field="openings", value=tuple(renamed(o, names) for o in read.openings)),
    ]
    what = f"{len(plans.storeys)} storeys" if plans is not None else f"{len(read.shape.faces)} faces"
    return Batch(label=f"Shape: {what} from a file", changes=tuple(changes))


def _brought(rows: Sequence[P], kept: Sequence[P], wanted: set[str], taken: set[str], names: dict[str, str]) -> tuple[P, ...]:
    """The parts of a list that are wanted and not there yet, under whatever id; one whose id is taken by another is named anew. What goes
    by another id than in the file is kept in names."""
    found = []
    for part in (p for p in rows if p.id in wanted):
        there = next((k for k in kept if renamed(part, {part.id: k.id}) == k), None)
        if there is not None:
            names[part.id] = there.id
            continue
        if part.id in taken:
            names[part.id] = next(i for n in range(2, 10_000) if (i := f"{part.id}-{n}") not in taken)
        found.append(renamed(part, names))
    return tuple(found)


def renamed(part: P, names: Mapping[str, str]) -> P:
    """A part whose ids, and references to others, are named anew; a face of plans is named by the part it comes from."""
    if not names:
        return part

    def of(name: str) -> str:
        head, dot, rest = name.partition(".")
        return names.get(name) or (f"{names[head]}{dot}{rest}" if head in names else name)

    changed: dict[str, object] = {"id": of(part.id)}
    changed |= {field: of(part[field]) for field, spec in specs(type(part)).items() if spec.kind == "ref"}
    for field in inner_fields(type(part)):
        value = part[field]
        if isinstance(value, tuple):
            changed[field] = tuple(renamed(p, names) for p in value)
        elif isinstance(value, IdentifiedPart):
            changed[field] = renamed(value, names)
    return replace(part, **{k: v for k, v in changed.items() if v != part[k]})


def sheet_laid(home: Home, owner: str, file: EvidenceFile, width: float | None = None) -> Batch:
    """A backing sheet beneath a storey, or beneath the site; one that does not know its own width [m] is as wide as the home, or as what
    stands on the site, until its scale is set."""
    site = owner == "site"
    left, low, right, _ = site_bounds(home) if site else bounds(plans_in(home))
    known = next((e for e in home.evidence if e.sha256 == file.sha256), None)
    proof = known or replace(file, id=fresh_id(home, "evidence"))
    made = (SiteSheet if site else BackingSheet)(
        id=fresh_id(home, "sheet"),
        name=proof.name,
        file=proof.id,
        x=drawn(left),
        y=drawn(low),
        width=drawn(min(width or max(right - left, 1.0), WIDEST_SHEET)),
    )
    changes: list[Change] = [] if known is not None else [Insert(owner="home", field="evidence", value=proof)]
    return Batch(label=f"Backing sheet {proof.name}", changes=(*changes, SetValue(part=owner, field="sheet", value=made)))


def outlines_to_choose(home: Home, storey: str, rings: Sequence[tuple[Point2, ...]]) -> list[tuple[Point2, ...]]:
    """The closed lines of a drawing that may be outlines of a storey, where nothing is drawn yet; the largest first."""
    there = [
        shapely.Polygon(points_of(o.sides))
        for s in plans_in(home).storeys
        for o in s.outlines
        if s.id == storey and len(points_of(o.sides)) > 2
    ]
    shapes = [(shapely.Polygon(r), r) for r in rings if len(r) > 2]
    large = sorted(((s, r) for s, r in shapes if s.is_valid and s.area >= SMALLEST), key=lambda f: -f[0].area)
    return [r for s, r in large if not any(shapely.intersection(s, other).area > 0.5 * min(s.area, other.area) for other in there)]


def nested(rings: Sequence[tuple[Point2, ...]]) -> bool:
    """Whether one of several closed lines lies in another, so that it has to be said which is meant."""
    shapes = [shapely.Polygon(r) for r in rings]
    return any(a.contains(b.representative_point()) or b.contains(a.representative_point()) for a, b in combinations(shapes, 2))


def likely_outline(rings: Sequence[tuple[Point2, ...]]) -> int:
    """The number of the closed line most likely meant, of several with the largest first: not the frame of a sheet around all others."""
    shapes = [shapely.Polygon(r) for r in rings]
    frame = len(rings) > 1 and len(rings[0]) == 4 and all(shapes[0].contains(s.representative_point()) for s in shapes[1:])
    return 1 if frame and shapes[1].area < 0.7 * shapes[0].area and shapes[1].area > 20 else 0


@refusing
def outlined(home: Home, storey: str, rings: Sequence[tuple[Point2, ...]]) -> Batch:
    """Closed polylines as outlines of a storey: the outermost of them, where nothing is drawn yet. Raises ChangeRefused for none."""
    chosen: list[shapely.Polygon] = []
    for shape in map(shapely.Polygon, outlines_to_choose(home, storey, rings)):
        if not any(shapely.intersection(shape, other).area > 0.5 * shape.area for other in chosen):
            chosen.append(shape)
    if not chosen:
        raise ChangeRefused("the drawing has no closed lines around 1 m² or more where nothing is drawn yet")
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
