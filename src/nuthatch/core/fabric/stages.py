"""How build-ups and openings hang in the graph: U-values, net areas, the ground, elements, capacity, sun on openings."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypedDict, Unpack

import numpy as np

from nuthatch.core.climate.calendar import TWO_DAYS
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, Weathered
from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric import elements, openings, unheated
from nuthatch.core.fabric.dynamic import areal_capacity
from nuthatch.core.fabric.elements import Element, OnGround, Slab, Under
from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, field, named, part, those
from nuthatch.core.model.home import BuildUp, Opening, OpeningType, Site
from nuthatch.core.model.part import Given, replace
from nuthatch.core.model.plans import Outline, Plans
from nuthatch.core.results.calculation import calculation, total
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Array, Computing, Entered, Figure, Node, Unknown, because, missing
from nuthatch.core.solid.built_stages import AIR_OF_COLD, BUILT, PLANS, WALL_THICKNESS
from nuthatch.core.solid.from_plans import Built
from nuthatch.core.solid.plan_rooms import Partition
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import (
    AIR_OF_SPACES,
    AREA,
    AROUND,
    BOUNDARY,
    CRAWLS,
    EXPOSED,
    FLOOR_BELOW,
    PARTITIONS,
    PERIMETER,
    REFERENCE,
    Exposed,
)
from nuthatch.core.sun.let_in import LetIn, Season
from nuthatch.core.sun.stages import LET_IN


@dataclass(frozen=True)
class BuildUpUse:
    """A build-up as used: toward what, with the heat flowing up, across or down."""

    id: str
    buildup: str
    direction: str
    borders: str


@dataclass(frozen=True, eq=False)
class Sun:
    """Sun through one row of openings: months [kWh] for heating, past what is fixed; mean of every window of two calendar days, (365,) [W];
    months for cooling, with what is moved before it."""

    months: Figure
    two_days: Figure
    cooled: Figure


STAGES = Stages()
USE: Family[BuildUpUse] = Family("uses of build-ups")
U: Family[Figure] = Family("U-value")
NET: Family[Figure] = Family("net area")
BURIED: Family[Boundary] = Family("boundary on the ground")
FLOORS: Slot[OnGround] = Slot("floors on the ground")
FLOOR_WALL: Family[Node] = Family("walls around a floor on the ground")
UNDER: Family[Under | None] = Family("floor below a wall against the ground")
GROUND_SITE: Slot[Site] = Slot("the site's ground")
SLAB: Family[Slab | None] = Family("slab")
HOLES: Slot[tuple[Opening, ...]] = Slot("openings toward unheated spaces")
B: Family[Figure] = Family("b factor of a space")
FACE: Family[Element] = Family("element of a face")
OPENING: Family[Element] = Family("element of an opening")
KAPPA: Family[Figure] = Family("heat capacity of a build-up")
WITHIN: Slot[tuple[tuple[Node, Node], ...]] = Slot("mass of drawn inner walls")
CAPACITY: Slot[Figure] = Slot("heat capacity of the home")
SUN: Family[Sun] = Family("sun through an opening")
ON_GROUND: Slot[bool] = Slot("a slab lies on the ground")


def use_of(face: Boundary) -> BuildUpUse:
    """How a face uses its build-up."""
    direction = fabric.flow_direction(face.tilt)
    return BuildUpUse(f"{face.buildup}/{direction}/{face.borders}", face.buildup, direction, face.borders)


@STAGES.stage(USE, faces=BOUNDARY, around=AROUND)
def uses(faces: dict[str, Boundary], around: tuple[Boundary, ...]) -> dict[str, BuildUpUse]:
    """Every use of a build-up once."""
    return {u.id: u for u in map(use_of, (*faces.values(), *around))}


@STAGES.stage(U, each=USE, use=ITEM, build=named("buildups", by="buildup"))
def u_value(use: BuildUpUse, build: BuildUp | None) -> Figure | None:
    """U-value of a build-up in one use."""
    return fabric.transmittance(build, use.direction, use.borders) if build is not None else None


@STAGES.stage(NET, each=BOUNDARY, face=ITEM, gross=AREA.at(), holes=those("openings", by="face"))
def net_area(face: Boundary, gross: Figure, holes: tuple[Opening, ...]) -> Figure:
    """Area of a face less its openings."""
    return elements.net(face, gross, holes)


@STAGES.stage(FLOORS, faces=BURIED, areas=NET, perimeters=PERIMETER)
def floors(faces: dict[str, Boundary], areas: dict[str, Figure], perimeters: dict[str, Node]) -> OnGround:
    """The floors on the ground together: B′ is theirs, and they lie as deep as they say, or as the walls beside them."""
    rows = [f for f in faces.values() if f.role == "floor"]
    walls = [f for f in faces.values() if f.role != "floor"]
    deepest = next((f for f in (*rows, *walls) if f.depth.given is not None), next(iter(walls), None))
    return OnGround(tuple(areas[f.id] for f in rows), tuple(perimeters[f.id] for f in rows), deepest)


@STAGES.stage(BURIED, faces=BOUNDARY)
def buried(faces: dict[str, Boundary]) -> dict[str, Boundary]:
    """The faces on the ground."""
    return {k: f for k, f in faces.items() if f.beyond.kind == "ground"}


class SlabReads(TypedDict):
    """What a floor or wall on the ground rests on besides itself."""

    perimeter: Node
    floors: OnGround
    under: Under | None
    wall: Node | None
    crawls: dict[str, Outline]


@STAGES.stage(
    SLAB,
    each=BURIED,
    face=ITEM,
    build=named("buildups", by="buildup"),
    area=NET.at(),
    perimeter=PERIMETER.at(),
    floors=FLOORS,
    under=UNDER.at(),
    wall=FLOOR_WALL.at(),
    site=GROUND_SITE,
    crawls=CRAWLS,
)
def slab(face: Boundary, build: BuildUp | None, area: Figure, site: Site, **reads: Unpack[SlabReads]) -> Slab | None:
    """A floor or wall on the ground."""
    if build is None:
        return None
    wall = reads["wall"]
    if wall is None:
        return elements.basement_wall(face, build, area, reads["under"], site)
    if face.crawl in reads["crawls"]:
        return elements.suspended(face, build, reads["crawls"][face.crawl], reads["perimeter"], reads["floors"], wall, site)
    return elements.slab(face, build, reads["perimeter"], reads["floors"], wall, site)


@STAGES.stage(FLOOR_WALL, faces=BURIED, every=BOUNDARY, areas=AREA, stands=EXPOSED, known=WALL_THICKNESS)
def walls_around_floors(
    faces: dict[str, Boundary], every: dict[str, Boundary], areas: dict[str, Figure], stands: dict[str, Exposed], known: dict[str, float]
) -> dict[str, Node]:
    """How thick the walls on each floor on the ground are."""
    uprights = [f for f in every.values() if f.role in ("wall", "party wall")]
    walls = tuple((f, areas[f.id]) for f in [f for f in uprights if f.beyond.kind == "outside"] or uprights)
    floors = {k: f for k, f in faces.items() if f.role == "floor"}
    whole = elements.walls_of_home(walls, known) if any(not stands.get(k) for k in floors) else None
    return {k: elements.walls_around(f, stands[k], known) if stands.get(k) or whole is None else whole for k, f in floors.items()}


@STAGES.stage(UNDER, faces=BURIED, drawn=PLANS, below=FLOOR_BELOW, widths=FLOOR_WALL, known=part("buildups"))
def floors_under(
    faces: dict[str, Boundary], drawn: Plans | None, below: dict[str, str], widths: dict[str, Node], known: tuple[BuildUp, ...]
) -> dict[str, Under | None]:
    """The floor each wall against the ground stands on; in a home that is not drawn, its first."""
    builds, first = {b.id: b for b in known}, next(iter(widths), "")
    found: dict[str, Under | None] = {}
    for ident in (k for k, f in faces.items() if f.role != "floor"):
        floor = below.get(ident, "") if drawn is not None else first
        build = builds.get(faces[floor].buildup) if floor in widths else None
        found[ident] = Under(build, widths[floor]) if build is not None else None
    return found


class GroundValues(TypedDict):
    """Fields of the site that concern the ground."""

    soil_conductivity: Given | None
    soil_capacity: Given | None
    slab_edge_r: Given | None
    slab_edge_depth: Given | None
    slab_edge_thickness: Given | None
    slab_edge_lies: Literal["standing", "lying"]


@STAGES.stage(GROUND_SITE, **{n: part(f"site.{n}") for n in GroundValues.__annotations__})
def ground_site(**values: Unpack[GroundValues]) -> Site:
    """What of the site concerns the ground, so that a set-point typed does not work out the ground anew."""
    return Site(**values)


@STAGES.stage(HOLES, faces=BOUNDARY, rows=part("openings"))
def holes_to_spaces(faces: dict[str, Boundary], rows: tuple[Opening, ...]) -> tuple[Opening, ...]:
    """The openings that stand in faces toward unheated spaces."""
    return tuple(o for o in rows if o.face in faces and faces[o.face].beyond.kind == "unheated")


class SpaceReads(TypedDict):
    """What the balance of unheated spaces rests on besides their faces."""

    us: dict[str, Figure]
    holes: tuple[Opening, ...]
    kinds: tuple[OpeningType, ...]
    buildups: tuple[BuildUp, ...]
    built: Built | None
    air: dict[str, Node]
    volumes: dict[str, float]
    stands: dict[str, Exposed]
    below: dict[str, str]
    thick: dict[str, float]
    site: Site


@STAGES.stage(
    B,
    around=AROUND,
    faces=BOUNDARY,
    areas=NET,
    us=U,
    holes=HOLES,
    kinds=part("opening_types"),
    buildups=part("buildups"),
    built=BUILT,
    air=AIR_OF_SPACES,
    volumes=AIR_OF_COLD,
    stands=EXPOSED,
    below=FLOOR_BELOW,
    thick=WALL_THICKNESS,
    site=GROUND_SITE,
)
def b_factors(
    around: tuple[Boundary, ...], faces: dict[str, Boundary], areas: dict[str, Figure], **reads: Unpack[SpaceReads]
) -> dict[str, Figure]:
    """b of every unheated space that has faces of its own; the others have it typed."""
    us, built = reads["us"], reads["built"]
    if not around or built is None:
        return {}
    of_face = {f.id: us.get(use_of(f).id) for f in (*faces.values(), *around)}
    buried = {f.id: f for f in around if f.beyond.kind == "ground"}
    ground = unheated.GroundBelow(
        {b.id: b for b in reads["buildups"]},
        reads["thick"],
        {k: f for k, f in buried.items() if f.role == "floor"},
        reads["stands"],
        reads["below"],
        reads["site"],
    )
    kinds = {k.id: k for k in reads["kinds"]}
    known = dict.fromkeys(f.inside.id for f in around)
    spaces = {}
    for space in known:
        toward = tuple((f, areas[f.id]) for f in faces.values() if f.beyond.id == space)
        own = tuple(f for f in around if f.inside.id == space)
        beside = tuple((f, f.beyond.id if f.inside.id == space else f.inside.id) for f in around if space in (f.inside.id, f.beyond.id))
        ids = {f.id for f, _ in toward}
        holes = tuple(unheated.hole(o, kinds.get(o.type)) for o in reads["holes"] if o.face in ids)
        typed = next((f.b.leaf(f"b of {space}", "fraction") for f, _ in toward if f.b.given is not None), None)
        air = reads["air"][space]
        between = tuple((f, other) for f, other in beside if other in known)
        spaces[space] = unheated.Around(toward, own, between, reads["volumes"].get(space, 0.0), air, holes, typed)
    found = unheated.factors(spaces, of_face, ground)
    return {space: b for space, b in found.items() if spaces[space].toward}


@STAGES.stage(
    FACE, each=BOUNDARY, face=ITEM, area=NET.at(), u=U.at(lambda face: use_of(face).id), slab=SLAB.at(), b=B.at(lambda face: face.beyond.id)
)
def face(face: Boundary, area: Figure, u: Figure | None, slab: Slab | None, b: Figure | None) -> Element:
    """What one face loses."""
    return elements.face_element(face, area, u, slab, b)


@STAGES.stage(OPENING, each=part("openings"), opening=ITEM, kind=named("opening_types", by="type"), face=BOUNDARY.at("face"), bs=B)
def opening(opening: Opening, kind: OpeningType | None, face: Boundary | None, bs: dict[str, Figure]) -> Element:
    """What one row of openings loses."""
    return elements.opening_element(opening, kind, face, bs.get(face.beyond.id) if face is not None else None)


@STAGES.stage(KAPPA, each=part("buildups"), build=ITEM)
def kappa(build: BuildUp) -> Figure:
    """Heat capacity of a build-up."""
    return areal_capacity(build)


@calculation(
    "Heat capacity of the home",
    "capacity",
    "C = Σ(A·κ) + c·A_f",
    "ISO 13790:2008, 12.3.1; ISO 13786:2017; inner walls with a build-up from both sides",
    areas="A: area",
    capacities="κ: heat_capacity",
    inner="c: heat_capacity",
    floor="A_f: area",
)
def capacity(areas: tuple[float, ...], capacities: tuple[float, ...], inner: float, floor: float) -> float:
    """Heat capacity of the home [kJ/K]: faces, and inner parts per floor area [kJ/(m²·K)]."""
    return sum(a * c for a, c in zip(areas, capacities, strict=True)) + inner * floor


@STAGES.stage(WITHIN, walls=PARTITIONS, buildups=part("buildups"))
def mass_within(walls: tuple[Partition, ...], buildups: tuple[BuildUp, ...]) -> tuple[tuple[Node, Node], ...]:
    """(area, heat capacity) of each side of the inner walls that have a build-up."""
    known = {b.id: b for b in buildups}
    found: list[tuple[Node, Node]] = []
    for wall in (w for w in walls if w.wall.buildup in known):
        build = known[wall.wall.buildup]
        area = Entered(f"inner wall of {build.name}, one side", wall.area, "area", "calculated", "from the plans", wall.wall.id, "buildup")
        sides = (build, replace(build, layers=build.layers[::-1]))
        found += [(area, areal_capacity(side)) for side in sides]
    return tuple(found)


@STAGES.stage(CAPACITY, faces=FACE, kappas=KAPPA, within=WITHIN, inner=field("shape.inner_mass"), reference=REFERENCE)
def home_capacity(
    faces: dict[str, Element], kappas: dict[str, Figure], within: tuple[tuple[Node, Node], ...], inner: Node, reference: Figure
) -> Figure:
    """Heat capacity of all faces, of drawn inner walls, and of the other inner parts."""
    none = Entered("no build-up, no mass", 0.0, "heat_capacity")
    rows = [e for e in faces.values() if e.boundary is not None]
    values = tuple(kappas.get(e.boundary.buildup, none) if e.boundary else none for e in rows)
    areas = (*(e.area for e in rows), *(a for a, _ in within))
    return capacity.figure(areas=areas, capacities=(*values, *(k for _, k in within)), inner=inner, floor=reference)


@STAGES.stage(ON_GROUND, floors=FLOORS)
def on_ground(floors: OnGround) -> bool:
    """Whether a slab lies on the ground, not below it."""
    return bool(floors.areas) and floors.depth().value == 0


class SunReads(TypedDict):
    """What the sun through an opening rests on besides the opening."""

    let_in: LetIn | Unknown | Computing | None
    climate: Weathered


@STAGES.stage(
    SUN,
    each=part("openings"),
    opening=ITEM,
    kind=named("opening_types", by="type"),
    face=BOUNDARY.at("face"),
    let_in=LET_IN.at("id"),
    climate=AT_SITE,
)
def sun(opening: Opening, kind: OpeningType | None, face: Boundary | None, **reads: Unpack[SunReads]) -> Sun:
    """Solar gains of one row of openings; none where it does not face outside air."""
    label, climate, let_in = f"Sun through {opening.name}", reads["climate"], reads["let_in"]
    if kind is None or face is None:
        what = ("an opening type", opening.id, "type") if kind is None else ("a face", opening.id, "face")
        gap: Figure = missing(label, "energy_month", *what)
        return Sun(gap, gap, gap)
    if isinstance(climate, Unknown | Computing):
        gap = because(label, "energy_month", climate)
        return Sun(gap, gap, gap)
    if face.beyond.kind != "outside":
        zero = total(label, "energy_month", (Entered("no sun from this side", np.zeros(12), "energy_month"),))
        return Sun(zero, total(label, "power", (Entered("no sun from this side", 0.0, "power"),)), zero)
    area, g = openings.glass(opening, kind)
    common: dict[str, object] = {"number": openings.number(opening), "area": area, "g": g, "opaque": openings.opaque(kind)}
    if not isinstance(let_in, LetIn):
        rests = because(label, "irradiation", let_in) if let_in is not None else missing(label, "irradiation", "the size of its glass")
        gap = openings.sun_months.figure(label, **common, sun=rests)
        return Sun(gap, gap, gap)
    return _sun(opening, face, climate, let_in, common)


def _sun(opening: Opening, face: Boundary, climate: Climate, let_in: LetIn, common: dict[str, object]) -> Sun:
    label = f"Sun through {opening.name}"
    at_glass = _at_glass(opening, face, climate, let_in, "heating")
    months = openings.sun_months.figure(label, **common, sun=at_glass)
    means = Entered("mean sun at the glass in every two days", let_in.two_days, "heat_flux", "calculated", climate.name)
    two_days = openings.sun_of_two_days.table((TWO_DAYS,), label, **common, sun=means)
    if let_in.cooling is let_in.heating:
        return Sun(months, two_days, months)
    shaded = openings.sun_months.figure(f"{label}, cooling", **common, sun=_at_glass(opening, face, climate, let_in, "cooling"))
    return Sun(months, two_days, shaded)


def _at_glass(opening: Opening, face: Boundary, climate: Climate, let_in: LetIn, use: Literal["heating", "cooling"]) -> Figure:
    """Sun at the glass, with where each of its parts comes from."""
    season: Season = let_in.heating if use == "heating" else let_in.cooling
    plane = f"on the plane, tilt {face.tilt:.0f}°, looks to {face.azimuth:.0f}°"

    def leaves(what: str, values: Array, kind: str, source: str) -> tuple[Entered, ...]:
        parts = zip(("beam", "sky", "ground"), values, strict=True)
        return tuple(Entered(what.format(part=p), v, kind, "calculated", source) for p, v in parts)

    falls = leaves(f"{{part}} {plane}", let_in.falls, "irradiation", f"{climate.name}, Perez sky")
    source = "Karlsson and Roos 2000, or as the incidence is entered"
    even = Entered("even light over straight light through the glass", let_in.g_d, "fraction", "calculated", source)
    label = f"Sun at the glass of {opening.name}, {use}"
    worked = "worked out by hour from what stands in the way"
    if not season.entered:
        shares = leaves("share of the {part} that reaches the glass", season.factors, "fraction", worked)
        return openings.at_glass.figure(label, falls=falls, shares=shares, even=even)
    entered = need(opening, f"shade_{season.entered}")
    where = leaves(
        "part of the {part} for which the entered share stands", season.parts, "fraction", "hours of strong sun on warm days, or all"
    )
    rest = leaves("share of the {part} in all other hours", season.rest, "fraction", worked)
    return openings.at_glass_entered.figure(label, falls=falls, rest=rest, where=where, entered=entered, even=even)
