"""A producer of the shape: storey plans and roofs. Its solid, its rooms, what is asked about it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from math import hypot

import shapely

from nuthatch.core.model.part import Basis, Given
from nuthatch.core.model.plans import Outline as DrawnOutline
from nuthatch.core.model.plans import Plans, Room, Side
from nuthatch.core.results.entries import Entry
from nuthatch.core.shape import massing as mass
from nuthatch.core.shape.arrangement import LOFT, Layer, Outline
from nuthatch.core.shape.closure import loose, meetings
from nuthatch.core.shape.massing import GROUND, OUTSIDE, Massing
from nuthatch.core.shape.massing import HEATED as HOME
from nuthatch.core.shape.offset import inward
from nuthatch.core.shape.polygons import Polygon, area_of, area_vector, tilt_and_azimuth, volume
from nuthatch.core.shape.reading_plans import Drawing, Fault, number, read, roofs_over, space_of, walls_of
from nuthatch.core.shape.roofs import Plane, Point2, RoofPart, level
from nuthatch.core.shape.rooms import Ceiling, Measure, divided, lowered, measured
from nuthatch.core.shape.solid import HEATED, Boundary, Edge, Solid, Space, Storey, spaces_of

COMPASS = ("North", "North-east", "East", "South-east", "South", "South-west", "West", "North-west")
PLAN_LINE = "from the plans"
Line = tuple[Point2, Point2]


@dataclass(frozen=True)
class PlanRoom:
    """A room of the plans: which outline and storey it is of, how it counts, and what it measures."""

    id: str
    name: str
    storey: str
    outline: str
    use: str
    measure: Measure
    factor: float
    share: float
    part: Room | None = None


@dataclass(frozen=True)
class Built:
    """What plans make: the solid, rooms, the heated shell along the inside, volumes by space [m³], faults; `walls`: the line of each
    side of a heated outline on its outer and its inner face, left end first seen from outside."""

    solid: Solid = Solid()
    rooms: tuple[PlanRoom, ...] = ()
    inner: Mapping[str, Polygon] = field(default_factory=dict)
    volumes: Mapping[str, float] = field(default_factory=dict)
    edges: tuple[Edge, ...] = ()
    open_edges: int = 0
    faults: tuple[Fault, ...] = ()
    drawing: Drawing | None = None
    walls: Mapping[str, tuple[Line, Line]] = field(default_factory=dict)

    def exposed(self, face: str) -> tuple[tuple[str, float], ...]:
        """(wall beside it, length [m]) of the edges of a floor that walls to outside air, earth or unheated spaces stand on."""
        walls = {b.id: b for b in self.solid.boundaries if b.role == "wall"}
        found = []
        for edge in self.edges:
            other = next((b for b in edge.boundaries if b != face and b in walls), "")
            if face in edge.boundaries and other and edge.ends[0][2] == edge.ends[1][2]:
                found.append((walls[other].name, edge.length))
        return tuple(found)


@lru_cache(maxsize=64)
def _massing(outlines: tuple[Outline, ...], parts: tuple[RoofPart, ...], ground: mass.Ground | None) -> Massing:
    return mass.massing(outlines, parts, ground)


def build(plans: Plans, known: dict[str, float], dimensions: str) -> Built:
    """The shape of plans; empty with its faults where they do not make one. known: thickness of build-ups by id [m]."""
    drawing = read(plans)
    if not drawing.fits:
        return Built(Solid(walls=(plans.wall_buildup,)), faults=drawing.faults, drawing=drawing)
    traced = _massing(drawing.outlines, drawing.parts, drawing.ground)
    chosen = _Chosen(plans)
    layout = _Layout(drawing, _thicknesses(traced, chosen, known))
    outlines, parts, outer = drawing.outlines, drawing.parts, traced
    if plans.traced == "inner faces":
        outlines = layout.grown()
        parts, _ = roofs_over(plans, outlines)
        outer = _massing(outlines, parts, drawing.ground)
    within, slopes = layout.shrunk(outlines), layout.lowered_parts(parts)
    inner = _massing(within, slopes, drawing.ground)
    used = inner if dimensions == "internal" else outer
    faces = _Faces(plans, chosen, drawing)
    boundaries, around = faces.of(used)
    names = {b.id: b for b in boundaries}
    outside = {k: p for k, p in faces.polygons(outer).items() if k in names}
    inside = faces.polygons(inner)
    rooms = _rooms(plans, drawing, outer, layout, within)
    shells = [{b.id: p for b, p in zip(faces_of, polygons, strict=True)} for faces_of, polygons in _shells(boundaries, around)]
    walls = tuple(dict.fromkeys(b.buildup for b in boundaries if b.role == "wall" and b.beyond.kind == "outside")) or (plans.wall_buildup,)
    solid = Solid(
        spaces_of((*boundaries, *around)),
        boundaries,
        outside,
        {k: inside[k] for k in outside if k in inside},
        _storeys(drawing, rooms),
        number(plans.north),
        walls,
        {b.id: area_of(b.outline) for b in boundaries if b.outline is not None},
        around,
    )
    return Built(
        solid,
        rooms,
        {k: p for k, p in inside.items() if k in names or k not in {a.id for a in around}},
        {s: volume(outer.shell(s)) for s in dict.fromkeys(f.space for f in outer.faces)},
        _edges(boundaries),
        sum(len(loose(shell)) for shell in shells),
        drawing.faults,
        drawing,
        _wall_lines(chosen, outlines, within),
    )


def _wall_lines(chosen: _Chosen, outer: tuple[Outline, ...], inner: tuple[Outline, ...]) -> dict[str, tuple[Line, Line]]:
    """Each side of a heated outline on its outer and its inner face."""
    found = {}
    for o, i in zip(outer, inner, strict=True):
        if o.space == HOME:
            for n, side in enumerate(_numbered(chosen.outlines()[o.id])):
                m = (n + 1) % len(o.points)
                found[side.id] = ((o.points[n], o.points[m]), (i.points[n], i.points[m]))
    return found


def _shells(boundaries: tuple[Boundary, ...], around: tuple[Boundary, ...]) -> list[tuple[list[Boundary], list[Polygon]]]:
    """The faces around each space, outward from it."""
    found = []
    for space in dict.fromkeys(b.inside.id for b in (*boundaries, *around)):
        own = [b for b in (*boundaries, *around) if space in (b.inside.id, b.beyond.id) and b.outline]
        found.append((own, [b.outline if b.inside.id == space else b.outline[::-1] for b in own if b.outline]))
    return found


def _edges(boundaries: tuple[Boundary, ...]) -> tuple[Edge, ...]:
    """Where faces of the heated space meet."""
    found = meetings({b.id: b.outline for b in boundaries if b.outline is not None})
    return tuple(Edge(f"edge-{n}", m.faces, m.length, m.angle, m.ends) for n, m in enumerate(found, 1))


def _storeys(drawing: Drawing, rooms: tuple[PlanRoom, ...]) -> tuple[Storey, ...]:
    found = []
    for floor in drawing.floors:
        own = [r for r in rooms if r.storey == floor.plan.id]
        area = sum(r.measure.area * r.share for r in own)
        counted = sum((r.measure.high + 0.5 * r.measure.half) * r.share * r.factor for r in own)
        height = sum(r.measure.volume for r in own) / max(sum(r.measure.area for r in own), 1e-9)
        if own:
            found.append(Storey(floor.plan.name, area, counted, height, floor.level))
    return tuple(found)


# build-ups


@dataclass(frozen=True)
class _Chosen:
    """Which build-up a face has, and where that is, or would be, said."""

    plans: Plans

    def sides(self) -> dict[str, Side]:
        return {s.id: s for o in self.outlines().values() for s in o.sides}

    def outlines(self) -> dict[str, DrawnOutline]:
        return {o.id: o for storey in self.plans.storeys for o in storey.outlines}

    def of(self, role: str, inside: str, beyond: str, outline: str, side: Side | None) -> tuple[str, Entry]:
        """(id of the build-up, where it is said) of a face of a space."""
        plans = self.plans
        if side is not None and side.buildup:
            return side.buildup, Entry(side.id, "buildup")
        drawn = self.outlines().get(outline)
        if inside == LOFT:
            name = "loft_gable" if role == "wall" else "loft_roof"
            return getattr(plans, name), Entry("plans", name)
        if drawn is not None and role in ("floor",) and drawn.floor_buildup:
            return drawn.floor_buildup, Entry(drawn.id, "floor_buildup")
        if drawn is not None and role in ("roof", "ceiling") and drawn.top_buildup:
            return drawn.top_buildup, Entry(drawn.id, "top_buildup")
        if drawn is not None and inside != HOME:
            field = {"floor": "floor_buildup", "wall": "wall_buildup"}.get(role, "top_buildup")
            return getattr(drawn, field), Entry(drawn.id, field)
        around = beyond in (OUTSIDE, GROUND, "neighbour")
        field = {
            "wall": {OUTSIDE: "wall_buildup", GROUND: "earth_buildup", "neighbour": "party_buildup"}.get(beyond, "inner_buildup"),
            "roof": "roof_buildup",
            "ceiling": "ceiling_buildup",
            "floor": {GROUND: "ground_buildup", OUTSIDE: "air_buildup"}.get(beyond, "cellar_buildup" if not around else "ground_buildup"),
        }[role]
        return getattr(plans, field), Entry("plans", field)


def _thicknesses(made: Massing, chosen: _Chosen, known: dict[str, float]) -> dict[str, float]:
    """Thickness of what stands along each side (“outline:number”), below an outline (“outline.floor”), above it (“outline.top”) and of
    each roof part (“part.roof”), each as most of it is [m]; 0 toward the heated space."""
    sides = chosen.sides()
    shares: dict[str, dict[float, float]] = defaultdict(lambda: defaultdict(float))
    for f in made.faces:
        for role, outline, space, beyond in _seen_from(f):
            if space != HOME:
                continue
            side = sides.get(_side_id(chosen, f.made_by)) if f.role == "wall" else None
            thick = known.get(chosen.of(role, space, beyond, outline, side)[0], 0.0)
            key = {"wall": f.made_by, "floor": f"{outline}.floor"}.get(role, f"{outline}.top")
            if role == "roof" and "." in f.made_by:
                key = f"{f.made_by.partition('.')[0]}.roof"
            shares[key][thick] += area_of(f.polygon)
    return {key: max(parts, key=lambda t: parts[t]) for key, parts in shares.items()}


def _seen_from(f: mass.Face) -> list[tuple[str, str, str, str]]:
    """(role, outline, space, beyond) of a face from each side that is a space of the home."""
    if f.role == "ceiling":  # between a space below and one above
        return [("ceiling", f.outline, f.space, f.beyond), ("floor", f.above, f.beyond, f.space)]
    found = [(f.role, f.outline, f.space, f.beyond)]
    if f.role == "wall" and f.beyond not in (OUTSIDE, GROUND, "neighbour", "unheated space"):
        found.append((f.role, f.outline, f.beyond, f.space))
    return found


def _side_id(chosen: _Chosen, made_by: str) -> str:
    """The id of the side a wall was made by, '' where a roof made it."""
    outline, _, n = made_by.partition(":")
    drawn = chosen.outlines().get(outline)
    return _numbered(drawn)[int(n)].id if drawn is not None and n.isdigit() and int(n) < len(drawn.sides) else ""


def _numbered(outline: DrawnOutline) -> tuple[Side, ...]:
    """The sides in the order the solid walks them."""
    points = [(number(s.x), number(s.y)) for s in outline.sides]
    if len(points) < 3 or shapely.is_ccw(shapely.LinearRing(points)):
        return outline.sides
    back = outline.sides[::-1]
    return (*back[1:], back[0])


@dataclass(frozen=True)
class _Layout:
    """Outlines and roofs moved between their outer and inner faces."""

    drawing: Drawing
    thick: Mapping[str, float]

    def _by(self, o: Outline) -> tuple[float, ...]:
        return tuple(self.thick.get(f"{o.id}:{n}", 0.0) for n in range(len(o.points)))

    def _moved(self, o: Outline, sign: float) -> Outline:
        if o.space != HOME:
            return o
        points = inward(o.points, tuple(sign * t for t in self._by(o)))
        low, high = (self.thick.get(f"{o.id}.{k}", 0.0) for k in ("floor", "top"))
        bottom, top = o.bottom + sign * low, o.top - (0.0 if o.under_roof else sign * high)
        return replace(o, points=points, bottom=bottom, top=max(top, bottom) if o.under_roof else top)

    def grown(self) -> tuple[Outline, ...]:
        """Traced inner faces moved out."""
        return tuple(self._moved(o, -1) for o in self.drawing.outlines)

    def shrunk(self, outer: tuple[Outline, ...]) -> tuple[Outline, ...]:
        """Outer faces moved in; an outline whose walls leave no room inside stays."""
        found = []
        for o in outer:
            moved = self._moved(o, 1)
            shape = shapely.Polygon(moved.points)
            fits = shape.is_valid and shape.area > 0 and shapely.is_ccw(shapely.LinearRing(moved.points))
            found.append(moved if fits and (moved.top > moved.bottom or moved.under_roof) else o)
        return tuple(found)

    def lowered_parts(self, parts: tuple[RoofPart, ...]) -> tuple[RoofPart, ...]:
        """The roofs along their inner faces."""
        return tuple(replace(p, planes=tuple(lowered(q, self.thick.get(f"{p.id}.roof", 0.0)) for q in p.planes)) for p in parts)


# faces


@dataclass(frozen=True)
class _Faces:
    """Boundaries of a solid: their names, what they border on, their build-ups."""

    plans: Plans
    chosen: _Chosen
    drawing: Drawing

    def ids(self, made: Massing) -> dict[str, str]:
        """The id of each face as the rest of the program knows it: its side, or its roof's plane; pieces behind something else than
        outside air say so."""
        found: dict[str, str] = {}
        taken: dict[str, int] = defaultdict(int)
        ranked = sorted(made.faces, key=lambda f: (f.made_by, f.beyond != OUTSIDE, -area_of(f.polygon)))
        for f in ranked:
            side = _side_id(self.chosen, f.made_by) if f.role == "wall" else ""
            plain = side or (f.made_by.replace(":", ".") if "." in f.made_by or ":" in f.made_by else f"{f.outline}.{f.role}")
            if f.role == "roof" and "." in f.made_by and f.space == LOFT:
                plain = f"{plain}.loft"
            behind = "" if f.beyond == OUTSIDE and f.role != "floor" or (f.beyond == GROUND and f.role == "floor") else f".{slug(f.beyond)}"
            name = plain + behind
            taken[name] += 1
            found[f.id] = name if taken[name] == 1 else f"{name}.{taken[name]}"
        return found

    def polygons(self, made: Massing) -> dict[str, Polygon]:
        """The faces of the heated space by id, outward from it."""
        ids = self.ids(made)
        return {ids[f.id]: f.polygon if f.space == HOME else f.polygon[::-1] for f in made.faces if HOME in (f.space, f.beyond)}

    def of(self, made: Massing) -> tuple[tuple[Boundary, ...], tuple[Boundary, ...]]:
        """(boundaries of the heated space, those of unheated spaces toward what is around the home or another of them)."""
        ids = self.ids(made)
        rows = [(f, *self._seen(f)) for f in made.faces]
        heated: list[Boundary] = []
        around: list[Boundary] = []
        for f, role, outline, space, beyond, polygon in rows:
            made_one = self._boundary(ids[f.id], f, (role, outline, space, beyond), polygon)
            (heated if space == HOME else around).append(made_one)
        return _named(heated), _named(around)

    def _seen(self, f: mass.Face) -> tuple[str, str, str, str, Polygon]:
        """A face as the heated space sees it, or the space it belongs to."""
        if f.beyond == HOME:
            role = {"ceiling": "floor"}.get(f.role, f.role)
            return role, f.above or f.outline, HOME, f.space, f.polygon[::-1]
        return f.role, f.outline, f.space, f.beyond, f.polygon

    def _boundary(self, ident: str, f: mass.Face, seen: tuple[str, str, str, str], polygon: Polygon) -> Boundary:
        role, outline, space, beyond = seen
        side = self.chosen.sides().get(_side_id(self.chosen, f.made_by)) if f.role == "wall" else None
        tilt, azimuth = tilt_and_azimuth(area_vector(polygon), number(self.plans.north))
        if role == "wall":
            tilt = 90.0
        buildup, at = self.chosen.of(role, space, beyond, outline, side)
        behind = self._behind(beyond, side)
        return Boundary(
            ident,
            self._title(role, beyond, outline, azimuth, f.made_by),
            "party wall" if role == "wall" and beyond == "neighbour" else role,
            HEATED if space == HOME else Space(space, space, "unheated"),
            behind,
            tilt,
            azimuth,
            buildup,
            at,
            self._b(role, beyond, side, self.chosen.outlines().get(outline)),
            Entry("plans", "storeys"),
            depth=Entry("", "", self._depth(role, beyond, polygon)),
            outline=polygon,
        )

    def _behind(self, beyond: str, side: Side | None) -> Space:
        if beyond == OUTSIDE:
            return Space("outside", beyond, "outside")
        if beyond == GROUND:
            return Space("ground", beyond, "ground")
        if beyond == "neighbour":
            return Space("neighbour", beyond, "neighbour")
        if beyond == "unheated space" and side is not None:
            return Space(f"behind-{side.id}", beyond, "unheated")
        if beyond == "unheated space":
            return Space("unheated", beyond, "unheated")
        return Space(beyond, beyond, "unheated") if beyond != HOME else HEATED

    def _b(self, role: str, beyond: str, side: Side | None, outline: DrawnOutline | None) -> Entry:
        """Where a b factor is typed: at the side, floor or top, at the outline of the space, at the loft."""
        if role in ("floor", "ceiling") and beyond == "unheated space" and outline is not None:
            name = "b_below" if role == "floor" else "b_above"
            return Entry(outline.id, name, getattr(outline, name))
        if side is not None and (side.b is not None or beyond == "unheated space"):
            return Entry(side.id, "b", side.b)
        if beyond == LOFT:
            return Entry("plans", "loft_b", self.plans.loft_b)
        owner = next((o for o in self.chosen.outlines().values() if space_of(o) == beyond), None)
        return Entry(owner.id, "b", owner.b) if owner is not None else Entry("plans", "loft_b")

    def _depth(self, role: str, beyond: str, polygon: Polygon) -> Given | None:
        """How far a face on the ground lies below it, as drawn [m]."""
        if beyond != GROUND:
            return None
        value = 0.0
        if role == "wall":
            xs = [(p[0], p[1]) for p in polygon]
            length = max(hypot(a[0] - b[0], a[1] - b[1]) for a in xs for b in xs)
            value = area_of(polygon) / max(length, 1e-9)
        elif self.drawing.ground is not None:
            lows = [self.drawing.ground(x, y) - z for x, y, z in polygon]
            value = max(sum(lows) / len(lows), 0.0)
        return Given(value=round(value, 6), basis=Basis.CALCULATED, source=PLAN_LINE)

    def _title(self, role: str, beyond: str, outline: str, azimuth: float, made_by: str) -> str:
        storey = next((s for s in self.plans.storeys if any(o.id == outline for o in s.outlines)), None)
        where = storey.name if storey is not None else ""
        words = COMPASS[round(azimuth / 45) % 8]
        drawn = self.chosen.outlines().get(outline)
        part = f", {drawn.name}" if storey is not None and drawn is not None and drawn.name and len(storey.outlines) > 1 else ""
        toward = "" if beyond in (OUTSIDE, GROUND) else f" to {'the ' if beyond not in ('neighbour',) else 'a '}{beyond.lower()}"
        if role == "wall":
            below = " below ground" if beyond == GROUND else ""
            return f"{words} wall{toward}{below}, {where}{part}" if where else f"{words} gable{toward}"
        if role == "roof":
            roof = next((r for r in self.plans.roofs if r.id == made_by.partition(".")[0]), None)
            if roof is None:
                return f"Flat roof, {where}{part}"
            return f"{roof.name}, flat" if roof.kind == "flat" else f"{roof.name}, {words.lower()} slope"
        if role == "ceiling":
            return f"Ceiling{toward}, {where}{part}"
        return {GROUND: f"Floor on the ground, {where}{part}", OUTSIDE: f"Floor above outside air, {where}{part}"}.get(
            beyond, f"Floor{toward}, {where}{part}"
        )


def _named(found: list[Boundary]) -> tuple[Boundary, ...]:
    """Names that stand more than once numbered."""
    count: dict[str, int] = defaultdict(int)
    many = {b.name for b in found if sum(1 for o in found if o.name == b.name) > 1}
    made = []
    for b in found:
        count[b.name] += 1
        made.append(replace(b, name=f"{b.name} {count[b.name]}") if b.name in many else b)
    return tuple(made)


def slug(words: str) -> str:
    """Words as part of an id."""
    return "".join(c if c.isalnum() else "-" for c in words.lower()).strip("-")


# rooms


def _rooms(plans: Plans, drawing: Drawing, outer: Massing, layout: _Layout, within: tuple[Outline, ...]) -> tuple[PlanRoom, ...]:
    """The rooms of all heated outlines."""
    inside = {o.id: shapely.Polygon(o.points) for o in within}
    found: list[PlanRoom] = []
    for floor in drawing.floors:
        walls = walls_of(floor.plan.inner_walls)
        named = {r.id: shapely.Point(r.x.value, r.y.value) for r in floor.plan.rooms if r.x and r.y}
        for o in floor.plan.outlines:
            if o.kind != "heated" or o.id not in inside:
                continue
            ceilings = _ceilings(drawing, outer, layout, o.id)
            own = tuple(w for w in walls if shapely.LineString(w[:2]).intersects(inside[o.id]))
            for n, piece in enumerate(divided(inside[o.id], own), 1):
                room = next((r for r in floor.plan.rooms if r.id in named and piece.contains(named[r.id])), None)
                fixed = room.height.value if room is not None and room.height is not None else None
                use = room.use if room is not None else "other"
                found.append(
                    PlanRoom(
                        room.id if room is not None else f"{o.id}.room-{n}",
                        room.name if room is not None and room.name else f"Room {n}" if own else o.name or floor.plan.name,
                        floor.plan.id,
                        o.id,
                        use,
                        measured(piece, ceilings, fixed),
                        room.factor.value if room is not None and room.factor is not None else 0.0 if use == "stairs" else 1.0,
                        1.0 if own else 1 - number(plans.partition_share),
                        room,
                    )
                )
    return tuple(found)


def _ceilings(drawing: Drawing, outer: Massing, layout: _Layout, outline: str) -> tuple[Ceiling, ...]:
    """What lies above each piece of an outline, measured from its floor."""
    between = {o.id: number(f.plan.floor_thickness) for f in drawing.floors for o in f.plan.outlines}
    found = []
    for cell in outer.cells:
        for n, layer in enumerate(cell.layers):
            if layer.outline == outline:
                above = cell.layers[n + 1] if n + 1 < len(cell.layers) else None
                base = layer.low.c + (
                    layout.thick.get(f"{outline}.floor", 0.0) if not n or cell.layers[n - 1].space != layer.space else 0.0
                )
                found.append(Ceiling(cell.polygon, _clear(layer, above, base, layout, between)))
    return tuple(found)


def _clear(layer: Layer, above: Layer | None, floor: float, layout: _Layout, between: dict[str, float]) -> Plane:
    """Clear height over the plan: up to the floor above, the ceiling's build-up, or the roof's inner face."""
    top = layer.high
    if layer.made_by != layer.outline:
        top = lowered(top, layout.thick.get(f"{layer.made_by.partition('.')[0]}.roof", 0.0))
    elif above is not None and above.space == layer.space:
        top = level(top.c - between.get(above.outline, 0.0))
    else:
        top = level(top.c - layout.thick.get(f"{layer.outline}.top", 0.0))
    return Plane("clear", top.a, top.b, top.c - floor)
