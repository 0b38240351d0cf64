"""Elements of the envelope: what a face, a row of openings and a junction lose."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric import ground, openings
from nuthatch.core.model.home import BuildUp, Junction, Opening, OpeningType
from nuthatch.core.results.calculation import calculation, total
from nuthatch.core.results.entries import entered, need, optional
from nuthatch.core.results.figure import Entered, Figure, Known, Node, missing
from nuthatch.core.shape.solid import Boundary

FABRIC = ("walls", "roof", "floor", "openings", "junctions")
CATEGORIES = (*FABRIC, "fresh air", "leaks")
_CATEGORY = {"floor": "floor", "roof": "roof", "ceiling": "roof"}


@dataclass(frozen=True, eq=False)
class Element:
    """One element of the envelope with its results; `periodic` only for faces on the ground."""

    id: str
    name: str
    category: str
    borders: str
    u: Figure | None
    area: Figure | None
    loss: Figure
    boundary: Boundary | None = None
    periodic: Figure | None = None

    @property
    def is_face(self) -> bool:
        return self.boundary is not None and self.category != "openings"


@dataclass(frozen=True, eq=False)
class Slab:
    """A face on the ground: U toward the ground and the periodic coefficient."""

    u: Figure
    periodic: Figure


@calculation(
    "Net area", "area", "A = A_0 − Σ(w·h·n)", "take-off", gross="A_0: area", widths="w: length", heights="h: length", counts="n: count"
)
def net_area(gross: float, widths: tuple[float, ...], heights: tuple[float, ...], counts: tuple[float, ...]) -> float:
    """Area of a face less its openings [m²]."""
    return gross - sum(w * h * n for w, h, n in zip(widths, heights, counts, strict=True))


@calculation("Loss coefficient", "w_per_k", "H = U·A·b", "ISO 13789:2017, 5", u="U: u", area="A: area", b="b: fraction")
def element_loss(u: float, area: float, b: float) -> float:
    """[W/K]."""
    return u * area * b


@calculation("Loss of a junction", "w_per_k", "H = ψ·L·b", "ISO 14683:2017, 4.2", psi="ψ: psi", length="L: length", b="b: fraction")
def junction_loss(psi: float, length: float, b: float) -> float:
    """[W/K]."""
    return psi * length * b


def reduction(face: Boundary) -> Node:
    """b of a face: 1 toward outside air and ground, entered toward unheated space, with the basis it was entered with."""
    if face.beyond.kind == "unheated":
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


def floor_r(build: BuildUp) -> Figure:
    """R of a floor build-up without films."""
    label = f"R of {build.name} without films"
    if build.u_detailed is not None:
        return ground.floor_r_from_u.figure(label, u=entered(build.u_detailed, f"U of {build.name}", "u", build.id, "u_detailed"))
    if not build.layers:
        return missing(label, "resistance", f"layers of {build.name}", build.id, "layers")
    if not fabric.effective_layers(build):
        last = build.layers[-1]
        return missing(label, "resistance", f"a layer inside of {last.name}, which is well ventilated", last.id, "kind")
    plain, shares, framed = fabric.resistances(build, "down")
    zero = Entered("no film", 0.0, "resistance", "rule", "ISO 13370 adds the films itself")
    return fabric.combined_r.figure(label, inner_film=zero, outer_film=zero, plain=plain, shares=shares, framed=framed)


def slab(face: Boundary, build: BuildUp, area: Figure, perimeter: Node, wall: float, soil: tuple[Node, Node]) -> Slab:
    """A slab on ground; soil: its conductivity and heat capacity."""
    common = {
        "perimeter": perimeter,
        "wall_thickness": Entered("wall thickness", wall, "thickness", "calculated", "from the wall build-up"),
        "floor_r": floor_r(build),
        "soil": soil[0],
    }
    return Slab(ground.slab_u.figure(f"U of {face.name}", area=area, **common), ground.slab_periodic.figure(**common, capacity=soil[1]))


def face_element(face: Boundary, area: Figure, u: Figure | None, slab: Slab | None) -> Element:
    """The element of one face."""
    if slab is not None:
        u = slab.u
    if u is None:
        u = missing(f"U of {face.name}", "u", f"a build-up for {face.name}", face.buildup_at.part, face.buildup_at.field)
    label = f"Loss of {face.name}"
    if face.beyond.kind == "neighbour":
        loss = total(label, "w_per_k", (), "a heated neighbour behind it: no loss")
    else:
        loss = element_loss.figure(label, u=u, area=area, b=reduction(face))
    category = _CATEGORY.get(face.role, "walls")
    return Element(face.id, face.name, category, face.borders, u, area, loss, face, slab.periodic if slab else None)


def opening_element(opening: Opening, kind: OpeningType | None, face: Boundary | None) -> Element:
    """The element of one row of openings."""
    label = f"Loss of {opening.name}"
    if kind is None or face is None:
        field, what = ("type", "an opening type") if kind is None else ("face", "a face it stands in")
        gap = missing(label, "w_per_k", f"{what} for {opening.name}", opening.id, field)
        return Element(opening.id, opening.name, "openings", "outside air", None, openings.area(opening), gap)
    u = openings.transmittance(opening, kind)
    if face.beyond.kind == "neighbour":
        loss = total(label, "w_per_k", (), "a heated neighbour behind it: no loss")
    else:
        loss = openings.loss(opening, kind, u, reduction(face))
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
