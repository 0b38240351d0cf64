"""Strings fabric calculations to the elements of the envelope: U, net area, reduction, loss coefficient."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric import ground, openings
from nuthatch.core.fabric.openings import need, optional
from nuthatch.core.figure import Entered, Figure, Node, Result, calculation, missing, total
from nuthatch.core.model.home import BuildUp, Home, Junction, Opening, OpeningType, Site
from nuthatch.core.shape.envelope import Envelope
from nuthatch.core.shape.faces import Surface
from nuthatch.core.stages import Stages

CATEGORIES = ("walls", "roof", "floor", "openings", "junctions", "fresh air", "leaks")


@dataclass(frozen=True, eq=False)
class Element:
    """One element of the envelope with its figures; `periodic` only for faces on the ground."""

    id: str
    name: str
    category: str
    step: str
    borders: str
    u: Result | None
    area: Result | None
    loss: Result
    surface: Surface | None = None
    periodic: Result | None = None


@calculation("Net area", "area", "A = A_gross − Σ openings", "take-off", gross="A_gross", widths="b", heights="h", counts="n")
def net_area(gross: float, widths: tuple[float, ...], heights: tuple[float, ...], counts: tuple[float, ...]) -> float:
    """Area of a face less its openings [m²]."""
    return gross - sum(w * h * n for w, h, n in zip(widths, heights, counts, strict=True))


@calculation("Loss coefficient", "w_per_k", "H = U · A · b", "ISO 13789:2017, 5", u="U", area="A", b="b")
def element_loss(u: float, area: float, b: float) -> float:
    """[W/K]."""
    return u * area * b


@calculation("Loss of a junction", "w_per_k", "H = ψ · L · b", "ISO 14683:2017, 4.2", psi="ψ", length="L", b="b")
def junction_loss(psi: float, length: float, b: float) -> float:
    """[W/K]."""
    return psi * length * b


@calculation("R of the floor without films", "resistance", "R_f = 1/U − 0.17 − 0.04", "ISO 13370:2017, 7.1", u="U")
def floor_r_from_u(u: float) -> float:
    """[m²·K/W] where a detailed U-value was typed."""
    return 1 / u - ground.RSI_DOWN - ground.RSE


def reduction(surface: Surface) -> Node:
    """b of a face: 1 toward outside air and ground, typed toward unheated space."""
    if surface.borders == "unheated space":
        label = f"b factor of {surface.name}"
        if surface.b is None:
            part = "form" if surface.polygon else surface.id
            field = "b" if not surface.polygon else "b_base" if surface.role == "floor" else "b_side" if surface.role == "wall" else "b_top"
            return missing(label, "fraction", f"b factor of {surface.name}, which borders unheated space", "shape", part, field)
        part = "form" if surface.polygon else surface.id
        field = "b" if not surface.polygon else "b_base" if surface.role == "floor" else "b_side" if surface.role == "wall" else "b_top"
        return Entered(label, surface.b, "fraction", "declared", "", part, field)
    return Entered(f"borders on {surface.borders}", 1.0, "fraction", "rule")


def _floor_r(build: BuildUp) -> Result:
    label = f"R of {build.name} without films"
    if build.u_detailed is not None:
        return floor_r_from_u.figure(label, u=fabric.entered(build.u_detailed, f"U of {build.name}", "u", build.id, "u_detailed"))
    if not build.layers:
        return missing(label, "resistance", f"layers of {build.name}", "build-ups", build.id, "layers")
    if not fabric.effective_layers(build):
        last = build.layers[-1]
        text = f"a layer inside of {last.name}, which is well ventilated"
        return missing(label, "resistance", text, "build-ups", last.id, "kind")
    plain, shares, framed = fabric.resistances(build, "down")
    zero = Entered("no film", 0.0, "resistance", "rule", "ISO 13370 adds the films itself")
    return fabric.combined_r.figure(label, inner_film=zero, outer_film=zero, plain=plain, shares=shares, framed=framed)


def _slab(surface: Surface, build: BuildUp, area: Result, site: Site, wall: float) -> tuple[Result, Result]:
    """(U, periodic coefficient) of a slab on ground."""
    floor_r = _floor_r(build)
    part, field = ("form", "length") if surface.polygon else (surface.id, "perimeter")
    perimeter: Node = missing(
        f"exposed perimeter of {surface.name}", "length", f"exposed perimeter of {surface.name}", "shape", part, field
    )
    if surface.perimeter is not None:
        perimeter = Entered(
            f"exposed perimeter of {surface.name}",
            surface.perimeter,
            "length",
            "calculated" if surface.polygon else "declared",
            "",
            part,
            field,
        )
    thickness = Entered("wall thickness", wall, "thickness", "calculated", "from the wall build-up")
    soil = need(site, "soil_conductivity", "site")
    u = ground.slab_u.figure(f"U of {surface.name}", area=area, perimeter=perimeter, wall_thickness=thickness, floor_r=floor_r, soil=soil)
    capacity = need(site, "soil_capacity", "site")
    return u, ground.slab_periodic.figure(perimeter=perimeter, wall_thickness=thickness, floor_r=floor_r, soil=soil, capacity=capacity)


def face_element(
    surface: Surface, gross: Result, build: BuildUp | None, u: Result | None, site: Site, wall: float, *holes: Opening
) -> Element:
    """The element of one face less its openings."""
    area: Result = gross
    if holes:
        sized = [openings.sizes(o) for o in holes]
        area = net_area.figure(
            f"Net area of {surface.name}",
            gross=gross,
            widths=tuple(s["width"] for s in sized),
            heights=tuple(s["height"] for s in sized),
            counts=tuple(optional(o, "count", "openings", 1, "one") for o in holes),
        )
    if isinstance(area, Figure) and area.value < -1e-9:
        area = missing(f"Net area of {surface.name}", "area", f"openings that fit into {surface.name}", "openings", holes[0].id, "width")
    category = {"floor": "floor", "roof": "roof", "ceiling": "roof"}.get(surface.role, "walls")
    periodic = None
    if build is None or u is None:
        part, field = (
            ("form", {"floor": "base_buildup", "walls": "wall_buildup"}.get(category, "top_buildup"))
            if surface.polygon
            else (surface.id, "buildup")
        )
        u = missing(f"U of {surface.name}", "u", f"a build-up for {surface.name}", "shape", part, field)
    elif surface.borders == "ground" and surface.role == "floor":
        u, periodic = _slab(surface, build, area, site, wall)
    if surface.borders == "neighbour":
        loss = total(f"Loss of {surface.name}", "w_per_k", (), "a heated neighbour behind it: no loss")
    else:
        loss = element_loss.figure(f"Loss of {surface.name}", u=u, area=area, b=reduction(surface))
    return Element(surface.id, surface.name, category, "shape", surface.borders, u, area, loss, surface, periodic)


def opening_element(opening: Opening, kind: OpeningType | None, surface: Surface | None) -> Element:
    """The element of one row of openings."""
    if kind is None or surface is None:
        field, what = ("type", "an opening type") if kind is None else ("face", "a face it stands in")
        gap = missing(f"Loss of {opening.name}", "w_per_k", f"{what} for {opening.name}", "openings", opening.id, field)
        return Element(opening.id, opening.name, "openings", "openings", "outside air", None, None, gap)
    u = openings.transmittance(opening, kind)
    if surface.borders == "neighbour":
        loss = total(f"Loss of {opening.name}", "w_per_k", (), "a heated neighbour behind it: no loss")
    else:
        loss = openings.loss(opening, kind, u, reduction(surface))
    return Element(opening.id, opening.name, "openings", "openings", surface.borders, u, None, loss, surface)


def junction_element(junction: Junction) -> Element:
    """The element of one junction."""
    loss = junction_loss.figure(
        f"Loss of {junction.name}",
        psi=need(junction, "psi", "junctions"),
        length=need(junction, "length", "junctions"),
        b=optional(junction, "b", "junctions", 1.0, "toward outside air"),
    )
    return Element(junction.id, junction.name, "junctions", "junctions", "outside air", None, None, loss)


def elements(home: Home, env: Envelope, by_id: dict[str, Surface], stages: Stages) -> tuple[Element, ...]:
    """All elements of the envelope; each is a stage of its own."""
    builds = {b.id: b for b in home.buildups}
    types = {t.id: t for t in home.opening_types}
    made = []
    for s in by_id.values():
        build = builds.get(s.buildup)
        direction = fabric.flow_direction(s.tilt)
        u = None
        if build is not None:
            u = stages.run(
                f"u/{build.id}/{direction}/{s.borders}", lambda b, d=direction, to=s.borders: fabric.transmittance(b, d, to), build
            )
        holes = tuple(o for o in home.openings if o.face == s.id)
        wall = stages.run("wall thickness", float, env.wall_thickness)
        made.append(stages.run(f"face/{s.id}", face_element, s, env.areas[s.id], build, u, home.site, wall, *holes))
    for o in home.openings:
        made.append(stages.run(f"opening/{o.id}", opening_element, o, types.get(o.type), by_id.get(o.face)))
    for j in home.junctions:
        made.append(stages.run(f"junction/{j.id}", junction_element, j))
    return tuple(made)
