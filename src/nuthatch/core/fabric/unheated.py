"""b factors of unheated spaces from their own heat balance: ISO 13789:2017."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from nuthatch.core.air.ventilation import AIR_HEAT
from nuthatch.core.fabric import elements, openings
from nuthatch.core.fabric.elements import OnGround
from nuthatch.core.model.home import BuildUp, Opening, OpeningType, Site
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Entered, Figure, Node, missing
from nuthatch.core.shape.plan_figures import face_area
from nuthatch.core.shape.solid import Boundary


@calculation("Loss of a face", "w_per_k", "H = U·A", "ISO 13789:2017, 5", u="U: u", area="A: area")
def plain_loss(u: float, area: float) -> float:
    """[W/K]."""
    return u * area


@calculation("Air of an unheated space", "w_per_k", "H = 0.34 [Wh/(m³·K)]·n·V", "ISO 13789:2017, 8", change="n: ach", volume="V: volume")
def air_loss(change: float, volume: float) -> float:
    """To outside [W/K]."""
    return AIR_HEAT * change * volume


@calculation(
    "b factor", "fraction", "b = Σ(H_ue)/(Σ(H_iu) + Σ(H_ue))", "ISO 13789:2017, 9", outside="H_ue: w_per_k", inside="H_iu: w_per_k"
)
def b_factor(outside: tuple[float, ...], inside: tuple[float, ...]) -> float:
    """Share of the difference of temperatures that lies between the heated and the unheated space."""
    return sum(outside) / (sum(inside) + sum(outside))


@dataclass(frozen=True)
class Around:
    """What is around one unheated space: the home's faces toward it with their net areas, its own faces, its volume [m³], its air."""

    toward: tuple[tuple[Boundary, Figure], ...]
    own: tuple[Boundary, ...]
    volume: float
    change: Node


def factor(name: str, around: Around, us: Mapping[str, Figure | None], holes: tuple[Figure, ...], ground: Ground) -> Figure:
    """b of one unheated space. us: U by face; holes: losses of openings in the faces toward it."""
    inside = [_loss(f, us.get(f.id), area) for f, area in around.toward]
    outside = []
    floors = tuple(
        (f, face_area(f"area of {f.name}", f.outline)) for f in around.own if f.role == "floor" and f.borders == "ground" and f.outline
    )
    together = OnGround(tuple(a for _, a in floors), tuple(_edge(f) for f, _ in floors), None)
    for f in around.own:
        if f.beyond.kind not in ("outside", "ground") or f.outline is None:
            continue
        area = face_area(f"area of {f.name}", f.outline)
        u = us.get(f.id) if f.beyond.kind == "outside" else ground.u(f, area, together)
        outside.append(_loss(f, u, area))
    volume = Entered(f"volume of {name}", around.volume, "volume", "calculated", "from the plans")
    outside.append(air_loss.figure(f"Air of {name}", change=around.change, volume=volume))
    return b_factor.figure(f"b factor of {name}", outside=tuple(outside), inside=(*inside, *holes))


def _edge(face: Boundary) -> Node:
    """The edge of an unheated space's floor, all of it [m]."""
    points = face.outline or ()
    length = sum(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5 for a, b in zip(points, points[1:] + points[:1], strict=True))
    return Entered(f"perimeter of {face.name}", length, "length", "calculated", "from the plans")


def _loss(face: Boundary, u: Figure | None, area: Figure) -> Figure:
    if u is None:
        u = missing(f"U of {face.name}", "u", f"a build-up for {face.name}", face.buildup_at.part, face.buildup_at.field)
    return plain_loss.figure(f"Loss of {face.name}", u=u, area=area)


@dataclass(frozen=True)
class Ground:
    """What the ground under and beside an unheated space is worked out from."""

    buildups: Mapping[str, BuildUp]
    wall: float
    site: Site

    def u(self, face: Boundary, area: Figure, floors: OnGround) -> Figure | None:
        """U through the ground; None where there is no build-up."""
        build = self.buildups.get(face.buildup)
        if build is None:
            return None
        if face.role == "floor":
            return elements.slab(face, build, _edge(face), floors, self.wall, self.site).u
        return elements.basement_wall(face, build, area, None, self.wall, self.site).u


def hole(opening: Opening, kind: OpeningType | None) -> Figure:
    """Loss of an opening toward an unheated space, without its b [W/K]."""
    label = f"Loss of {opening.name}"
    if kind is None:
        return missing(label, "w_per_k", f"an opening type for {opening.name}", opening.id, "type")
    return openings.loss(opening, kind, openings.transmittance(opening, kind), Entered("to the space", 1.0, "fraction", "rule"))
