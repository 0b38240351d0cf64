"""Elements of the envelope: what a face, a row of openings and a junction lose."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric import ground, openings
from nuthatch.core.model.home import BuildUp, Junction, Opening, OpeningType, Site
from nuthatch.core.model.plans import Outline
from nuthatch.core.plans.polygons import area_of
from nuthatch.core.results.calculation import calculation, total
from nuthatch.core.results.entries import entered, need, optional
from nuthatch.core.results.figure import Entered, Figure, Known, Node, missing
from nuthatch.core.solid.from_plans import Stands
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.thickness import effective_layers

FABRIC = ("walls", "roof", "floor", "openings", "junctions")
CATEGORIES = (*FABRIC, "fresh air", "leaks")
_CATEGORY = {"floor": "floor", "roof": "roof", "ceiling": "roof"}


@dataclass(frozen=True, eq=False)
class Element:
    """One element of the envelope with its results; `periodic` only for faces on the ground, whose own U-value with films, without
    the soil, is `own_u`; `lag`: by how many months the ground there follows the air."""

    id: str
    name: str
    category: str
    borders: str
    u: Figure | None
    area: Figure | None
    loss: Figure
    boundary: Boundary | None = None
    periodic: Figure | None = None
    own_u: Figure | None = None
    lag: float = 1.0

    @property
    def is_face(self) -> bool:
        return self.boundary is not None and self.category != "openings"


@dataclass(frozen=True, eq=False)
class Slab:
    """A face on the ground, floor or wall: U through the ground and the periodic coefficient; `own`: U of a suspended floor alone."""

    u: Figure
    periodic: Figure
    lag: float = 1.0
    own: Figure | None = None


@calculation(
    "Net area", "area", "A = A_0 − Σ(w·h·n)", "take-off", gross="A_0: area", widths="w: length", heights="h: length", counts="n: count"
)
def net_area(gross: float, widths: tuple[float, ...], heights: tuple[float, ...], counts: tuple[float, ...]) -> float:
    """Area of a face less its openings [m²]."""
    return gross - sum(w * h * n for w, h, n in zip(widths, heights, counts, strict=True))


@calculation("Loss of point bridges", "w_per_k", "H = χ·N·b", "ISO 13789:2017, 5", chi="χ: w_per_k", points="N: count", b="b: fraction")
def point_loss(chi: float, points: float, b: float) -> float:
    """[W/K]."""
    return chi * points * b


@calculation("Loss coefficient", "w_per_k", "H = U·A·b", "ISO 13789:2017, 5", u="U: u", area="A: area", b="b: fraction")
def element_loss(u: float, area: float, b: float) -> float:
    """[W/K]."""
    return u * area * b


@calculation("Loss of a junction", "w_per_k", "H = ψ·L·b", "ISO 14683:2017, 4.2", psi="ψ: psi", length="L: length", b="b: fraction")
def junction_loss(psi: float, length: float, b: float) -> float:
    """[W/K]."""
    return psi * length * b


def reduction(face: Boundary, worked_out: Figure | None = None) -> Node:
    """b of a face: 1 toward outside air and ground; toward unheated space as typed, with its basis, else as worked out."""
    if face.beyond.kind == "unheated":
        if face.b.given is None and worked_out is not None:
            return worked_out
        label = f"b factor of {face.name}"
        return face.b.leaf(label, "fraction", f"{label}, which borders unheated space")
    return Entered(f"borders on {face.borders}", 1.0, "fraction", "rule")


def net(face: Boundary, gross: Figure, holes: tuple[Opening, ...]) -> Figure:
    """Area of a face less its openings."""
    if not holes:
        return gross
    label = f"Net area of {face.name}"
    sized = [openings.sizes(o) for o in holes]
    area = net_area.figure(
        label,
        gross=gross,
        widths=tuple(w for w, _ in sized),
        heights=tuple(h for _, h in sized),
        counts=tuple(openings.number(o) for o in holes),
    )
    if isinstance(area, Known) and area.value < -1e-9:
        return missing(label, "area", f"openings that fit into {face.name}", holes[0].id, "width")
    return area


def bare_r(build: BuildUp, direction: str) -> Figure:
    """R of a build-up on the ground without films."""
    label = f"R of {build.name} without films"
    if build.u_detailed is not None:
        inner = Entered("inner film", fabric.RSI[direction], "resistance", "rule", "ISO 6946:2017, table 7")
        return ground.r_from_u.figure(label, u=entered(build.u_detailed, f"U of {build.name}", "u", build.id, "u_detailed"), film=inner)
    if not build.layers:
        return missing(label, "resistance", f"layers of {build.name}", build.id, "layers")
    if not effective_layers(build):
        last = build.layers[-1]
        return missing(label, "resistance", f"a layer inside of {last.name}, which is well ventilated", last.id, "kind")
    plain, shares, framed = fabric.resistances(build, direction)
    zero = Entered("no film", 0.0, "resistance", "rule", "ISO 13370 adds the films itself")
    return fabric.combined_r.figure(label, inner_film=zero, outer_film=zero, plain=plain, shares=shares, framed=framed)


@dataclass(frozen=True)
class OnGround:
    """The floors on the ground together: their areas and exposed perimeters, and the face that says how deep they lie."""

    areas: tuple[Node, ...]
    perimeters: tuple[Node, ...]
    deepest: Boundary | None

    def depth(self, face: Boundary | None = None) -> Node:
        """How deep they, or this one, lie below ground [m]: 0 where no face says so and no wall stands against the ground."""
        if face is not None and face.depth.given is not None:
            return face.depth.leaf(f"depth of {face.name} below ground", "length")
        if self.deepest is None:
            return Entered("floor level with the ground", 0.0, "length")
        return self.deepest.depth.leaf(f"depth of {self.deepest.name} below ground", "length")


def edge_leaves(site: Site) -> tuple[Node, ...] | None:
    """Edge insulation: R, thickness, reach, 1 lying or 2 standing; None where there is none."""
    r, reach = site.slab_edge_r, site.slab_edge_depth
    if not r or not reach or r.value == 0 or reach.value == 0:
        return None
    standing = site.slab_edge_lies == "standing"
    why = "ISO 13370:2017, annex B"
    side = Entered(f"edge insulation {site.slab_edge_lies}", 2.0 if standing else 1.0, "fraction", "rule", why, "site", "slab_edge_lies")
    thick = optional(site, "slab_edge_thickness", r.value * ground.EDGE_LAMBDA, f"for λ {ground.EDGE_LAMBDA} W/(m·K)")
    return need(site, "slab_edge_r"), thick, need(site, "slab_edge_depth"), side


SHALLOW = 0.5
"""How deep below sloping ground a floor still has its edge insulation [m]."""
PLAIN_WALL = 0.3
"""Thickness of the walls on a floor where the home has none [m]."""
UNCLAD = "from the wall build-up, without ventilated cladding"


def walls_around(floor: Boundary, stands: tuple[Stands, ...], known: Mapping[str, float]) -> Node:
    """How thick the walls drawn on a floor's perimeter are. known: thickness by build-up [m]."""
    lengths = tuple(Entered(f"length of {s.wall}", s.length, "length", "calculated", "from the plans", "plans", "storeys") for s in stands)
    walls = tuple(_thick(s.wall, s.buildup, known) for s in stands)
    return ground.mean_wall.figure(f"thickness of the walls around {floor.name}", lengths=lengths, walls=walls)


def walls_of_home(walls: tuple[tuple[Boundary, Figure], ...], known: Mapping[str, float]) -> Node:
    """How thick the walls of a home are on whose floors none are drawn. known: thickness by build-up [m]."""
    label = "thickness of the walls of the home"
    if not walls:
        return Entered(label, PLAIN_WALL, "thickness", "assumed", "the home has no walls yet")
    thick = tuple(_thick(f.name, f.buildup, known) for f, _ in walls)
    return ground.mean_wall_by_area.figure(label, areas=tuple(a for _, a in walls), walls=thick)


def _thick(name: str, build: str, known: Mapping[str, float]) -> Node:
    return Entered(f"thickness of {name}", known.get(build, 0.0), "thickness", "calculated", UNCLAD)


def slab(face: Boundary, build: BuildUp, perimeter: Node, floors: OnGround, wall: Node, site: Site) -> Slab:
    """A floor on the ground. Edge insulation stays where the floor lies no deeper than one that counts as level with the ground."""
    floor = (wall, bare_r(build, "down"))
    soil = (need(site, "soil_conductivity"), need(site, "soil_capacity"))
    depth = floors.depth(face)
    edge = edge_leaves(site) if depth.value is not None and float(depth.value) <= SHALLOW else None
    together = {"areas": floors.areas, "perimeters": floors.perimeters}
    u = ground.slab_u.figure(f"U of {face.name}", **together, floor=floor, soil=soil[0], depth=depth)
    if edge is not None:
        psi = ground.edge_psi.figure(floor=floor, soil=soil[0], edge=edge)
        u = ground.edged_u.figure(f"U of {face.name}", plain=u, psi=psi, **together)
    none = tuple(Entered("no edge insulation", 0.0, kind) for kind in ("resistance", "thickness", "length", "fraction"))
    return Slab(u, ground.slab_periodic.figure(perimeter=perimeter, floor=floor, soil=soil, edge=edge or none, depth=depth))


SHELTER = {"sheltered": 0.02, "average": 0.05, "exposed": 0.10}
"""Share of the wind that reaches the vents of a space below a floor: ISO 13370:2017, 7.4."""


def suspended(face: Boundary, build: BuildUp, below: Outline, perimeter: Node, floors: OnGround, wall: Node, site: Site) -> Slab:
    """A floor above an aired space of its own; `below` is the outline that says how the space is."""
    floor = fabric.transmittance(build, "down", "unheated space")
    reach = Entered(
        f"the space below stands {below.crawl_stands}",
        SHELTER[below.crawl_stands],
        "fraction",
        "rule",
        "ISO 13370:2017, 7.4",
        below.id,
        "crawl_stands",
    )
    crawl = (*(need(below, n) for n in ("crawl_height", "crawl_u", "crawl_vents", "crawl_wind")), reach)
    soil = (need(site, "soil_conductivity"), need(site, "soil_capacity"))
    u = ground.suspended_u.figure(
        f"U of {face.name}", floor=floor, areas=floors.areas, perimeters=floors.perimeters, wall=wall, soil=soil[0], crawl=crawl
    )
    area = total(f"area of {face.name}", "area", (Entered("as drawn", polygon_area(face), "area", "calculated", "from the plans"),))
    periodic = ground.suspended_periodic.figure(floor=floor, area=area, perimeter=perimeter, wall=wall, soil=soil, crawl=crawl)
    return Slab(u, periodic, 0.0, floor)


def polygon_area(face: Boundary) -> float:
    """Area of a face's outline [m²]."""
    return area_of(face.outline) if face.outline is not None else 0.0


@dataclass(frozen=True)
class Under:
    """The floor a wall against the ground stands on: its build-up, and how thick the walls around it are."""

    build: BuildUp
    wall: Node


def basement_wall(face: Boundary, build: BuildUp, area: Figure, under: Under | None, site: Site) -> Slab:
    """A wall against the ground; under: the floor it stands on, the wall's own thickness of soil where there is none."""
    soil = (need(site, "soil_conductivity"), need(site, "soil_capacity"))
    wall_r, depth = bare_r(build, "across"), face.depth.leaf(f"depth of {face.name} below ground", "length")
    below: Node = Entered("no floor on the ground", 1e3, "length")
    if under is not None:
        below = ground.floor_thickness.figure(floor=(under.wall, bare_r(under.build, "down")), soil=soil[0])
    u = ground.basement_wall_u.figure(f"U of {face.name}", wall_r=wall_r, floor=below, soil=soil[0], depth=depth)
    return Slab(u, ground.wall_periodic.figure(area=area, wall_r=wall_r, soil=soil, depth=depth))


def face_element(face: Boundary, area: Figure, u: Figure | None, slab: Slab | None, b: Figure | None = None) -> Element:
    """The element of one face."""
    own = u
    if slab is not None:
        u, own = slab.u, slab.own or u
    if u is None:
        u = missing(f"U of {face.name}", "u", f"a build-up for {face.name}", face.buildup_at.part, face.buildup_at.field)
    label = f"Loss of {face.name}"
    if face.beyond.kind == "neighbour":
        loss = total(label, "w_per_k", (), "a heated neighbour behind it: no loss")
    else:
        loss = element_loss.figure(label, u=u, area=area, b=reduction(face, b))
    category = _CATEGORY.get(face.role, "walls")
    return Element(
        face.id, face.name, category, face.borders, u, area, loss, face, slab.periodic if slab else None, own, slab.lag if slab else 1.0
    )


def opening_element(opening: Opening, kind: OpeningType | None, face: Boundary | None, b: Figure | None = None) -> Element:
    """The element of one row of openings."""
    label = f"Loss of {opening.name}"
    if kind is None or face is None:
        field, what = ("type", "an opening type") if kind is None else ("face", "a face")
        gap = missing(label, "w_per_k", f"{what} for {opening.name}", opening.id, field)
        return Element(opening.id, opening.name, "openings", "outside air", None, openings.area(opening), gap)
    u = openings.transmittance(opening, kind, face.tilt)
    if face.beyond.kind == "neighbour":
        loss = total(label, "w_per_k", (), "a heated neighbour behind it: no loss")
    else:
        loss = openings.loss(opening, kind, u, reduction(face, b))
    return Element(opening.id, opening.name, "openings", face.borders, u, openings.area(opening), loss, face)


def junction_element(junction: Junction) -> Element:
    """The element of one junction."""
    loss = junction_loss.figure(
        f"Loss of {junction.name}",
        psi=need(junction, "psi"),
        length=need(junction, "length"),
        b=optional(junction, "b", 1.0, "toward outside air"),
    )
    return Element(junction.id, junction.name, "junctions", "outside air", None, None, loss)
