"""A producer of the shape: storey plans and roofs. Its solid, its rooms, what is asked about it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from nuthatch.core.model.plans import Plans
from nuthatch.core.plans.arrangement import HEATED as HOME
from nuthatch.core.plans.arrangement import Ground, PlanOutline, SlopingGround
from nuthatch.core.plans.linework import NEAR
from nuthatch.core.plans.polygons import Polygon, area_of, volume
from nuthatch.core.plans.reading_plans import Drawing, PlanFault, number, roofs_over
from nuthatch.core.plans.roofs import RoofPart
from nuthatch.core.solid.closure import edges_of
from nuthatch.core.solid.inner import inner_massing
from nuthatch.core.solid.inner_walls import LEDGE
from nuthatch.core.solid.massing import Massing
from nuthatch.core.solid.plan_buildups import ChosenBuildUp, thickness_of_faces, thicknesses
from nuthatch.core.solid.plan_faces import Faces
from nuthatch.core.solid.plan_layout import Layout, SideLine
from nuthatch.core.solid.plan_rooms import Partition, PlanRoom, partitions, rooms_of
from nuthatch.core.solid.solid import Boundary, Edge, Solid, Storey, spaces_of


@dataclass(frozen=True)
class Built:
    """What plans make: the solid, rooms, the heated shell along the inside, volumes by space [m³], faults; `walls`: the line of each
    side of a heated outline on its outer and its inner face, left end first seen from outside; inner walls whose mass counts."""

    solid: Solid = Solid()
    rooms: tuple[PlanRoom, ...] = ()
    inner: Mapping[str, Polygon] = field(default_factory=dict)
    volumes: Mapping[str, float] = field(default_factory=dict)
    shells: Shells | None = None
    faults: tuple[PlanFault, ...] = ()
    drawing: Drawing | None = None
    walls: Mapping[str, tuple[SideLine, SideLine]] = field(default_factory=dict)
    partitions: tuple[Partition, ...] = ()


@dataclass(frozen=True)
class Shells:
    """The faces whose meetings are the edges: of the heated space in the home's dimensions, with the ledges that close it inside; and of
    each unheated space, outward from it."""

    heated: Mapping[str, Polygon]
    ledges: frozenset[str]
    cold: Mapping[str, Mapping[str, Polygon]]

    def edges(self) -> tuple[Edge, ...]:
        """Where the boundaries of the heated space meet; nothing is lost at a ledge."""
        found = edges_of(self.heated)
        return tuple(e for e in found if not self.ledges & set(e.boundaries)) if self.ledges else found

    def cold_edges(self) -> tuple[Edge, ...]:
        """Where the faces around each unheated space meet."""
        return tuple(e for polygons in self.cold.values() for e in edges_of(polygons))


Standing = tuple[tuple[str, str, "Stands"], ...]
"""(floor, wall on its edge, how it stands there)."""


def standing(solid: Solid, edges: tuple[Edge, ...], cold_edges: tuple[Edge, ...]) -> Standing:
    """The walls to outside air, earth or unheated spaces that stand on the edges of floors; an unheated space has its own walls, those
    to the home are none of them."""
    found = []
    for which, boundaries in ((edges, solid.boundaries), (cold_edges, solid.around)):
        walls = {b.id: b for b in boundaries if b.role == "wall"}
        floors = {b.id for b in boundaries if b.role == "floor"}
        for edge in which:
            level = edge.ends[0][2]
            if level != edge.ends[1][2]:
                continue
            for f in floors & set(edge.boundaries):
                w = next((b for b in edge.boundaries if b != f and b in walls), "")
                if w and max(p[2] for p in walls[w].outline or ((0, 0, level),)) > level + NEAR:  # on it, not below it
                    found.append((f, w, Stands(walls[w].name, edge.length, walls[w].buildup)))
    return tuple(found)


def floors_below(rows: Standing) -> dict[str, str]:
    """The floor each wall stands on along most of its length."""
    along: dict[str, dict[str, float]] = {}
    for f, w, stands in rows:
        of_wall = along.setdefault(w, {})
        of_wall[f] = of_wall.get(f, 0.0) + stands.length
    return {w: max(floors, key=lambda f: floors[f]) for w, floors in along.items()}


@dataclass(frozen=True)
class Stands:
    """A wall on the edge of a floor: its name, how long it stands there [m], its build-up."""

    wall: str
    length: float
    buildup: str


def _with_room(rooms: tuple[PlanRoom, ...], cramped: frozenset[str]) -> tuple[tuple[PlanRoom, ...], tuple[PlanFault, ...]]:
    """The rooms of outlines that have room inside their walls, and what is to be said of those that have none."""
    left = tuple(r for r in rooms if r.outline not in cramped)
    says = "walls thinner than the home: no room is left inside"
    return left, tuple(PlanFault(o, "sides", says, not left, False) for o in sorted(cramped))


Lines = tuple[tuple[PlanOutline, ...], tuple[RoofPart, ...], Ground | None]
"""Outlines, roof parts, the ground: what a solid is made from."""


@dataclass(frozen=True)
class Laid:
    """How thick all is, and the outer outlines: those traced, or those traced inside grown by their walls."""

    layout: Layout
    outer: Lines
    grown: bool


def laid_out(plans: Plans, drawing: Drawing, traced: Massing, known: dict[str, float]) -> Laid:
    """The thicknesses that are known put to what was traced. known: thickness of build-ups by id [m]."""
    chosen = ChosenBuildUp(plans)
    own = {o.id: known.get(o.wall_buildup, 0.0) for o in chosen.outlines.values()}
    layout = Layout(drawing, thicknesses(drawing.outlines, traced, chosen, known), own, known)
    if plans.traced != "inner faces":
        return Laid(layout, (drawing.outlines, drawing.parts, drawing.ground), False)
    outlines = layout.grown()
    return Laid(layout, (outlines, roofs_over(plans, outlines)[0], drawing.ground), True)


def inner_outlines(laid: Laid) -> tuple[PlanOutline, ...]:
    """Outlines along the inner faces of their own walls: what the rooms of a storey lie in."""
    return laid.layout.shrunk(laid.outer[0])


def face_thicknesses(plans: Plans, drawing: Drawing, outer: Massing, known: dict[str, float]) -> dict[str, dict[str, float]]:
    """How far each face reaches into each space it bounds [m], by space and the id of the face."""
    return thickness_of_faces(outer, ChosenBuildUp(plans), known, isinstance(drawing.ground, SlopingGround))


def inside(outer: Massing, lines: Lines, thick: Mapping[str, float], space: str = HOME) -> Massing:
    """A space along its inner faces."""
    outlines, parts, ground = lines
    return inner_massing(outer, outlines, parts, ground, lambda f: thick.get(f.id, 0.0), space)


def air_volumes(outer: Massing, lines: Lines, thick: Mapping[str, Mapping[str, float]]) -> dict[str, float]:
    """Air volume of every unheated space, between its inner faces [m³]."""
    spaces = dict.fromkeys(layer.space for c in outer.cells for layer in c.layers if layer.space != HOME)
    return {s: volume(inside(outer, lines, thick.get(s, {}), s).shell(s)) for s in spaces}


def outer_polygons(plans: Plans, drawing: Drawing, outer: Massing) -> dict[str, Polygon]:
    """The outer outlines of the faces around the heated space, by id."""
    return Faces(plans, ChosenBuildUp(plans), drawing).polygons(outer)


def unfit(drawing: Drawing) -> Built:
    """Plans that make no solid: their faults alone."""
    return Built(faults=drawing.faults, drawing=drawing)


def build(plans: Plans, dimensions: str, laid: Laid, outer: Massing, within: tuple[PlanOutline, ...], inner: Massing) -> Built:
    """The shape of plans. outer, inner: what its outlines make along their outer and their inner faces; within: the inner outlines."""
    layout, drawing, chosen, outlines = laid.layout, laid.layout.drawing, ChosenBuildUp(plans), laid.outer[0]
    used = inner if dimensions == "internal" else outer
    faces = Faces(plans, chosen, drawing)
    boundaries, around = faces.of(Massing(tuple(f for f in used.faces if f.role != LEDGE), used.cells))
    if used is not outer:
        around = faces.of(outer)[1]  # what an unheated space loses goes through its own outside
    ledges = {f.id: f.polygon for f in inner.faces if f.role == LEDGE}
    inside = faces.polygons(inner)
    rooms, said = _with_room(rooms_of(plans, drawing, outer, layout, within), layout.cramped(outlines, within))
    names, others = {b.id for b in boundaries}, {b.id for b in around}
    shell = Solid(
        spaces_of((*boundaries, *around)),
        boundaries,
        {k: p for k, p in faces.polygons(outer).items() if k in names},
        inside,
        _storeys(drawing, rooms),
        number(plans.north),
        {b.id: area_of(b.outline) for b in boundaries if b.outline is not None},
        around,
    )
    return Built(
        shell,
        rooms,
        {k: p for k, p in inside.items() if k in names or k not in others},
        {s: volume(outer.shell(s)) for s in dict.fromkeys(f.space for f in outer.faces)},
        Shells(
            {b.id: b.outline for b in boundaries if b.outline is not None} | (ledges if used is inner else {}),
            frozenset(ledges) if used is inner else frozenset(),
            _cold(boundaries if used is outer else faces.of(outer)[0], around),
        ),
        (*drawing.faults, *said),
        drawing,
        _wall_lines(chosen, outlines, within),
        partitions(drawing, outer, layout, within),
    )


def _wall_lines(
    chosen: ChosenBuildUp, outer: tuple[PlanOutline, ...], inner: tuple[PlanOutline, ...]
) -> dict[str, tuple[SideLine, SideLine]]:
    """Each side of a heated outline on its outer and its inner face."""
    found: dict[str, tuple[SideLine, SideLine]] = {}
    for o, i in zip(outer, inner, strict=True):
        if o.space == HOME:
            found |= {side.id: (out, into) for side, out, into in zip(chosen.numbered[o.id], o.sides, i.sides, strict=True)}
    return found


def _cold(boundaries: tuple[Boundary, ...], around: tuple[Boundary, ...]) -> dict[str, dict[str, Polygon]]:
    """The faces of each unheated space, its own and those of the home toward it, outward from it."""
    found: dict[str, dict[str, Polygon]] = {}
    for space in dict.fromkeys(b.inside.id for b in around):
        own = [b for b in (*boundaries, *around) if space in (b.inside.id, b.beyond.id) and b.outline]
        found[space] = {b.id: b.outline if b.inside.id == space else b.outline[::-1] for b in own if b.outline}
    return found


def _storeys(drawing: Drawing, rooms: tuple[PlanRoom, ...]) -> tuple[Storey, ...]:
    found = []
    for floor in drawing.floors:
        own = [r for r in rooms if r.storey == floor.plan.id]
        area = sum(r.area for r in own)
        counted = sum(r.counted for r in own)
        height = sum(r.measure.volume for r in own) / max(sum(r.measure.area for r in own), 1e-9)
        if own:
            found.append(Storey(floor.plan.name, area, counted, height, floor.level))
    return tuple(found)
