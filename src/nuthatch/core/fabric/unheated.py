"""b factors of unheated spaces from their own heat balance: ISO 13789:2017."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from nuthatch.core.climate.humid_air import AIR_HEAT
from nuthatch.core.fabric import elements, openings
from nuthatch.core.fabric.elements import OnGround
from nuthatch.core.model.home import BuildUp, Opening, OpeningType, Site
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Computing, Entered, Figure, Node, Unknown, because, missing
from nuthatch.core.solid.from_plans import Stands
from nuthatch.core.solid.plan_figures import face_area, perimeter
from nuthatch.core.solid.solid import Boundary


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


@calculation(
    "b factor beside other unheated spaces",
    "fraction",
    "b = (Σ(H_ue) + Σ(H_uu·b_u))/(Σ(H_iu) + Σ(H_ue) + Σ(H_uu))",
    "ISO 13789:2017, 9; the balances of all unheated spaces together",
    outside="H_ue: w_per_k",
    inside="H_iu: w_per_k",
    beside="H_uu: w_per_k",
    theirs="b_u: fraction",
)
def b_factor_beside(outside: tuple[float, ...], inside: tuple[float, ...], beside: tuple[float, ...], theirs: tuple[float, ...]) -> float:
    """The same where heat flows to other unheated spaces too, whose own b factors are known."""
    whole = sum(inside) + sum(outside) + sum(beside)
    return (sum(outside) + sum(h * b for h, b in zip(beside, theirs, strict=True))) / whole


@dataclass(frozen=True)
class Around:
    """What is around one unheated space: the home's faces toward it with their net areas, its own faces, those between it and other
    unheated spaces with the names of these, its volume [m³], its air, the losses of openings toward it, its b where it is typed."""

    toward: tuple[tuple[Boundary, Figure], ...]
    own: tuple[Boundary, ...]
    beside: tuple[tuple[Boundary, str], ...]
    volume: float
    change: Node
    holes: tuple[Figure, ...] = ()
    typed: Node | None = None


@dataclass(frozen=True)
class _Flows:
    """What flows out of a space, into it from the home, and to which other spaces."""

    outside: tuple[Figure, ...]
    inside: tuple[Figure, ...]
    beside: tuple[tuple[Figure, str], ...]

    @property
    def all(self) -> tuple[Figure, ...]:
        return *self.outside, *self.inside, *(f for f, _ in self.beside)


def factors(spaces: Mapping[str, Around], us: Mapping[str, Figure | None], ground: GroundBelow) -> dict[str, Figure]:
    """b of every unheated space. us: U by face."""
    flows = {name: _flows(name, around, us, ground) for name, around in spaces.items()}
    lost = next((f for flow in flows.values() for f in flow.all if isinstance(f, Unknown | Computing)), None)
    solved = _solved(spaces, flows) if lost is None else {}
    found: dict[str, Figure] = {}
    for name, flow in flows.items():
        label = f"b factor of {name}"
        if not flow.beside:
            found[name] = b_factor.figure(label, outside=flow.outside, inside=flow.inside)
        elif lost is not None:
            found[name] = because(label, "fraction", lost)
        else:
            theirs = tuple(_of(spaces[n].typed, n, solved) for _, n in flow.beside)
            beside = tuple(f for f, _ in flow.beside)
            found[name] = b_factor_beside.figure(label, outside=flow.outside, inside=flow.inside, beside=beside, theirs=theirs)
    return found


def _of(typed: Node | None, name: str, solved: Mapping[str, float]) -> Node:
    return typed or Entered(f"b of {name}, from the balances of all together", solved[name], "fraction", "calculated")


def _solved(spaces: Mapping[str, Around], flows: Mapping[str, _Flows]) -> dict[str, float]:
    """The b factors that fit together: for each space Σ H·b of all around it in balance. A space nothing flows out of takes 0."""
    names = list(flows)
    left, right = np.eye(len(names)), np.zeros(len(names))
    for n, name in enumerate(names):
        given, flow = spaces[name].typed, flows[name]
        if given is not None and given.value is not None:
            right[n] = float(given.value)
            continue
        beside = [(_number(f), other) for f, other in flow.beside]
        outside = sum(map(_number, flow.outside))
        whole = outside + sum(map(_number, flow.inside)) + sum(h for h, _ in beside)
        left[n, n] = whole or 1.0
        right[n] = outside
        for h, other in beside:
            left[n, names.index(other)] -= h
    made = np.linalg.lstsq(left, right, rcond=None)[0]  # spaces that only touch each other have no one answer
    return dict(zip(names, made.tolist(), strict=True))


def _number(figure: Figure) -> float:
    return float(figure.value)  # type: ignore[arg-type]  # only asked for where all are known


def _flows(name: str, around: Around, us: Mapping[str, Figure | None], ground: GroundBelow) -> _Flows:
    inside = tuple(_loss(f, us.get(f.id), area) for f, area in around.toward)
    beside = tuple((_loss(f, us.get(f.id), face_area(f"area of {f.name}", f.outline)), other) for f, other in around.beside if f.outline)
    outside = []
    floors = tuple(
        (f, face_area(f"area of {f.name}", f.outline)) for f in around.own if f.role == "floor" and f.borders == "ground" and f.outline
    )
    together = OnGround(tuple(a for _, a in floors), tuple(ground.edge(f) for f, _ in floors), None)
    for f in around.own:
        if f.beyond.kind not in ("outside", "ground") or f.outline is None:
            continue
        area = face_area(f"area of {f.name}", f.outline)
        u = us.get(f.id) if f.beyond.kind == "outside" else ground.u(f, area, together)
        outside.append(_loss(f, u, area))
    volume = Entered(f"volume of {name}", around.volume, "volume", "calculated", "from the plans")
    outside.append(air_loss.figure(f"Air of {name}", change=around.change, volume=volume))
    return _Flows(tuple(outside), (*inside, *around.holes), beside)


def _loss(face: Boundary, u: Figure | None, area: Figure) -> Figure:
    if u is None:
        u = missing(f"U of {face.name}", "u", f"a build-up for {face.name}", face.buildup_at.part, face.buildup_at.field)
    return plain_loss.figure(f"Loss of {face.name}", u=u, area=area)


@dataclass(frozen=True)
class GroundBelow:
    """What the ground under and beside unheated spaces is worked out from. thick: of build-ups, without ventilated cladding [m]; floors:
    the floor on the ground by its id; stands: the space's own walls on each; under: the floor each wall stands on."""

    buildups: Mapping[str, BuildUp]
    thick: Mapping[str, float]
    floors: Mapping[str, Boundary]
    stands: Mapping[str, tuple[Stands, ...]]
    under: Mapping[str, str]
    site: Site

    def edge(self, floor: Boundary) -> Node:
        """The perimeter of an unheated space's floor: along its own walls, not along those of the home."""
        return perimeter(f"perimeter of {floor.name}", self.stands.get(floor.id, ()))

    def _walls(self, floor: Boundary) -> Node:
        stands = self.stands.get(floor.id, ())
        return elements.walls_around(floor, stands, self.thick) if stands else elements.walls_of_home((), self.thick)

    def u(self, face: Boundary, area: Figure, floors: OnGround) -> Figure | None:
        """U through the ground; None where there is no build-up."""
        build = self.buildups.get(face.buildup)
        if build is None:
            return None
        if face.role == "floor":
            return elements.slab(face, build, self.edge(face), floors, self._walls(face), self.site).u
        floor = self.floors.get(self.under.get(face.id, ""))
        below = self.buildups.get(floor.buildup) if floor is not None else None
        under = elements.Under(below, self._walls(floor)) if floor is not None and below is not None else None
        return elements.basement_wall(face, build, area, under, self.site).u


def hole(opening: Opening, kind: OpeningType | None) -> Figure:
    """Loss of an opening toward an unheated space, without its b [W/K]."""
    label = f"Loss of {opening.name}"
    if kind is None:
        return missing(label, "w_per_k", f"an opening type for {opening.name}", opening.id, "type")
    return openings.loss(opening, kind, openings.transmittance(opening, kind), Entered("to the space", 1.0, "fraction", "rule"))
