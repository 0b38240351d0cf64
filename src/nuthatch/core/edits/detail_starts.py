"""A detail that starts from the very build-ups that meet at a junction, with the films of their U-values; and one drawn anew."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.fabric.buildup import flow_direction
from nuthatch.core.fabric.elements import Element, edge_leaves
from nuthatch.core.fabric.ground import characteristic
from nuthatch.core.fabric.stages import FACE, FLOORS
from nuthatch.core.heatflow.of_home import detail_of
from nuthatch.core.heatflow.plies import Lacking, Ply, plies
from nuthatch.core.junctions.families import kind_of
from nuthatch.core.junctions.found import Found
from nuthatch.core.junctions.sections import Arm, Drawn, Soil, Stem, mirrored, on_ground, stem, storey_floor, turned, two_arms
from nuthatch.core.model.details import Detail
from nuthatch.core.model.home import Junction
from nuthatch.core.model.part import Basis
from nuthatch.core.results.figure import Known
from nuthatch.core.solid.built_stages import DRAWING
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import AROUND, BOUNDARY

FILE = "draw its section, and take it in as a file"
DRY = 0.15
"""How far below the floor's inner face the ground lies where no plan says it [m], common practice."""
USUAL_FLOOR = 0.3
"""How thick a storey's floor is where no plan says it [m], common practice."""


@refusing
def started(a: Assessment, row: Junction, found: Found) -> Batch:
    """A detail drawn from what meets at a junction; its row takes its ψ from it from now on."""
    ident = fresh_ids(a.home, "detail", 1)[0]
    changes: list[Insert | SetValue] = [Insert(owner="home", field="details", value=_made(a, row, found, ident))]
    wanted: dict[str, object] = {"detail": ident, "tier": "detailed", "psi": None, "dimensions": a.home.shape.dimensions}
    changes += [SetValue(part=row.id, field=f, value=v) for f, v in wanted.items() if row[f] != v]
    return Batch(label=f"{row.name}: a detail from its build-ups", changes=tuple(changes))


@refusing
def redrawn(a: Assessment, row: Junction, found: Found) -> Batch:
    """The detail of a junction drawn anew from what meets there now; what was changed in it by hand goes with it."""
    made = _made(a, row, found, row.detail)
    fields = ("plane", "blocks", "spaces", "flanks", "beside", "ground_width")
    return Batch(
        label=f"{row.name}: its detail drawn anew", changes=tuple(SetValue(part=row.detail, field=f, value=made[f]) for f in fields)
    )


def _made(a: Assessment, row: Junction, found: Found, ident: str) -> Detail:
    drawn = section_for(a, row.name, found)
    return detail_of(drawn.section, ident, Basis.CALCULATED, "from the build-ups that meet", drawn.ties)


def section_for(a: Assessment, name: str, found: Found) -> Drawn:
    """The section of a junction of two faces. Raises ChangeRefused with what it lacks."""
    every = a.all_of(BOUNDARY)
    faces = [every[f] for f in found.places[0].faces if f in every]
    if found.bend == "coplanar":
        return _past_storey(a, name, faces, found)
    if len(faces) != 2:
        raise ChangeRefused(f"{name} is no corner of two faces: {FILE}")
    if any(f.beyond.kind == "neighbour" for f in faces):
        return _to_the_axis(a, name, faces, found)
    faces.sort(key=lambda f: ("wall", "slope", "flat roof", "ceiling", "floor").index(kind_of(f)))
    if any(f.beyond.kind == "ground" for f in faces):
        return _slab(a, name, faces, found)
    first, second = faces
    kinds = (kind_of(first), kind_of(second))
    if found.bend == "convex" and found.way == "level" and kinds[0] == "wall":
        if kinds[1] == "floor" and second.beyond.kind == "unheated":
            return _goes_on(a, name, first, second, "unheated")
        if kinds[1] == "ceiling" and "gable at ceiling" in found.answers:
            return mirrored(_goes_on(a, name, first, second, "unheated"))
        if kinds[1] == "flat roof" and "parapet" in found.answers:
            return mirrored(_goes_on(a, name, first, second, "outside"))
    arms = [replace(arm_of(a, f), short=s) for f, s in zip(faces, _shorts(faces), strict=True)]
    return two_arms(name, (arms[0], arms[1]), found.angle, _first(faces, found), found.way == "upright")


def _shorts(faces: list[Boundary]) -> list[str]:
    kinds = [kind_of(f) for f in faces]
    return [f"{k} {n}" if kinds.count(k) > 1 else k for n, k in enumerate(kinds, 1)]


def arm_of(a: Assessment, face: Boundary, borders: str = "") -> Arm:
    """A face with λ of its layers so that they have its own U."""
    build = next((b for b in a.home.buildups if b.id == face.buildup), None)
    if build is None:
        raise ChangeRefused(f"{face.name} has no U-value yet: give it a build-up with its layers first")
    direction, borders = flow_direction(face.tilt), borders or face.borders
    try:
        of = plies(build, direction, borders)
    except Lacking as fault:
        raise ChangeRefused(str(fault)) from None
    element = a.all_of(FACE).get(face.id)
    b = _b_of(element) if element is not None else 1.0
    return Arm(
        face.name, of.layers, of.u, of.film, face.beyond.kind, b, of.cladding, kind_of(face), build.id, direction, borders  # type: ignore[arg-type]
    )  # fmt: skip


def _b_of(element: Element) -> float:
    node = element.loss.inputs.get("b") if isinstance(element.loss, Known) else None
    return float(node.value) if node is not None and not isinstance(node, tuple) and node.value is not None else 1.0


def _first(faces: list[Boundary], found: Found) -> float:
    """Which way the first arm goes from the corner [°]: a wall down below a roof, up above a floor; a slope down from a ridge."""
    if found.way == "upright":
        return 0.0
    if kind_of(faces[0]) == "wall":
        return 90.0 if kind_of(faces[1]) == "floor" else -90.0
    return -90.0 - found.angle / 2


def _past_storey(a: Assessment, name: str, faces: list[Boundary], found: Found) -> Drawn:
    """A wall past the floor of a storey, above and below perhaps of other layers."""
    height = found.places[0].ends[0][2]
    storey = _storey_at(a, height)
    if found.way != "level" or storey is None or any(kind_of(f) != "wall" or f.beyond.kind != "outside" for f in faces):
        raise ChangeRefused(f"{name} is no wall past the floor of a storey: {FILE}")
    faces = sorted(faces, key=_middle, reverse=True)
    upper, lower = (arm_of(a, f) for f in (faces[0], faces[-1]))
    upper, lower = (
        replace(arm, short="wall" if upper.buildup == lower.buildup else s) for arm, s in ((upper, "wall above"), (lower, "wall below"))
    )
    floor = storey_floor(lower.layers, storey)
    return stem(name, upper, Stem(floor, "inside", lower=lower, assumed=True))


def _middle(face: Boundary) -> float:
    return float(np.mean([p[2] for p in face.outline])) if face.outline else 0.0


def _storey_at(a: Assessment, height: float) -> float | None:
    """How thick the floor of the storey at a height is [m]; None where no storey begins there."""
    drawing = a[DRAWING]
    if drawing is None:
        return USUAL_FLOOR if a.home.shape.form is not None else None
    for floor in drawing.floors[1:]:
        if abs(floor.level - height) < 0.6:
            given = floor.plan.floor_thickness
            return given.value if given is not None and given.value > 0 else USUAL_FLOOR
    return None


def _to_the_axis(a: Assessment, name: str, faces: list[Boundary], found: Found) -> Drawn:
    """A party wall to its axis, where it meets a face; nothing flows across the axis."""
    party, face = sorted(faces, key=lambda f: f.beyond.kind != "neighbour")
    if face.beyond.kind in ("neighbour", "ground") or abs(found.angle - 90) > 1:
        raise ChangeRefused(f"{name} is no party wall square to a face in air: {FILE}")
    whole = arm_of(a, party).layers
    half = _half_of(whole)
    drawn = stem(name, replace(arm_of(a, face), short=kind_of(face)), Stem(half, "axis", short="party wall"), plan=kind_of(face) == "wall")
    return drawn if kind_of(face) == "wall" else turned(drawn, 1 if kind_of(face) == "floor" else -1)


def _half_of(layers: tuple[Ply, ...]) -> tuple[Ply, ...]:
    """The layers of a wall from inside to its axis."""
    left, found = sum(p.thickness for p in layers) / 2, []
    for ply in layers:
        if left > 1e-6:
            found.append(ply._replace(id="", thickness=min(ply.thickness, left), name=f"{ply.name}, party wall"))
            left -= ply.thickness
    return tuple(found)


def _goes_on(a: Assessment, name: str, wall: Boundary, level: Boundary, beyond: str) -> Drawn:
    """A wall past a floor or a ceiling below or above which it is cold."""
    arm = replace(arm_of(a, level), short=kind_of(level))
    first = replace(arm_of(a, wall), short="wall")
    lower = first
    if beyond == "unheated":
        further = _further(a, wall, level)
        lower = replace(arm_of(a, further), short="wall beyond") if further is not None else first
    return stem(name, first, Stem(arm.layers, "unheated" if beyond == "unheated" else "outside", arm, lower, arm.short))


def _further(a: Assessment, wall: Boundary, level: Boundary) -> Boundary | None:
    """The wall of the unheated space beyond a floor that stands in line with a wall of the home."""
    around = [f for f in a[AROUND] if f.inside.id == level.beyond.id and kind_of(f) == "wall" and f.buildup]
    in_line = [f for f in around if abs((f.azimuth - wall.azimuth + 180) % 360 - 180) < 5]
    return max(in_line, key=lambda f: f.beyond.kind == "outside", default=None)


def _slab(a: Assessment, name: str, faces: list[Boundary], found: Found) -> Drawn:
    """A wall on a slab on the ground."""
    wall, floor = faces
    if found.family != "ground floor" or wall.beyond.kind != "outside" or floor.crawl or kind_of(floor) != "floor":
        raise ChangeRefused(f"{name} is no wall on a slab level with the ground: {FILE}")
    of = a.all_of(FACE)[floor.id].u
    floors = a[FLOORS]
    areas, lengths = (tuple(float(n.value) for n in nodes if n.value is not None) for nodes in (floors.areas, floors.perimeters))
    soil = a.home.site.soil_conductivity
    if of is None or of.value is None or soil is None or sum(lengths) <= 0:
        raise ChangeRefused(f"{floor.name} has no U-value yet: give its build-up and the ground first")
    arm = arm_of(a, floor)
    width = characteristic(areas, lengths)
    return on_ground(
        name,
        replace(arm_of(a, wall), short="wall"),
        replace(arm, short="floor"),
        Soil(width, float(of.value), _lies(a, found, arm), soil.value, _edge(a)),
    )


def _lies(a: Assessment, found: Found, floor: Arm) -> float:
    """How high the ground lies above the floor's inner face [m]."""
    drawing = a[DRAWING]
    if drawing is None or drawing.ground is None:
        return -DRY
    (x0, y0, z0), (x1, y1, _) = found.places[0].ends
    top = z0 + (floor.whole if a.home.shape.dimensions == "external" else 0.0)
    return float(drawing.ground((x0 + x1) / 2, (y0 + y1) / 2)) - top


def _edge(a: Assessment) -> tuple[float, float, float, bool] | None:
    """The home's edge insulation: thickness, reach [m], λ [W/(m·K)], whether it stands."""
    leaves = edge_leaves(a.home.site)
    if leaves is None:
        return None
    r, thick, reach, side = (float(n.value or 0.0) for n in leaves)
    return (thick, reach, thick / r, side == 2.0) if r > 0 and thick > 0 else None
