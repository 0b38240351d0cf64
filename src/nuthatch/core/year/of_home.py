"""The hourly problem of a whole home from its results: network, parts by what lies beyond them, sun, gains, air, set-points."""

from __future__ import annotations

from typing import TypedDict, Unpack

import numpy as np

from nuthatch.core.air.stages import Losses
from nuthatch.core.air.unit import UnitLoss, bypass_from
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.humid_air import AIR_HEAT
from nuthatch.core.climate.patterns import year_of
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.energy.stages import ground_flow
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import Sun, use_of
from nuthatch.core.model.home import BuildUp
from nuthatch.core.results.figure import Array, CannotKnow, Computing, Entered, Figure, Known, Node, Unknown
from nuthatch.core.sun.let_in import LetIn, counted
from nuthatch.core.year.gains import Habits, by_hour
from nuthatch.core.year.network import FACES_PER_FLOOR, Network, of_faces
from nuthatch.core.year.problem import Fabric, Opaque, Problem, Sunlit, awake, put_together

CLEAR_HEIGHT = 2.5
"""The height behind every air change [m]."""


class FabricReads(TypedDict):
    """What the fabric by the hour rests on."""

    elements: tuple[Element, ...]
    capacity: Figure
    buildups: tuple[BuildUp, ...]
    suns: dict[str, Sun]
    light: dict[str, LetIn | Unknown | Computing | None]
    warm: Node


class ProblemReads(TypedDict):
    """What the hours rest on."""

    fabric: Fabric | Unknown | Computing
    habits: Habits | Unknown | Computing
    air: Losses
    reference: Figure
    warm: Node
    cold: Node
    bedrooms: float


class Missing(Exception):  # noqa: N818 — it is no error
    """Something the hours rest on is not there."""

    def __init__(self, why: Unknown | Computing) -> None:
        super().__init__(why.label)
        self.why = why


def known(node: Node) -> float:
    if isinstance(node, Unknown | Computing):
        raise Missing(node)
    return float(node.value)


def fabric_of(climate: Climate, **reads: Unpack[FabricReads]) -> Fabric:
    """Raises Missing, CannotKnow."""
    return Fabric(
        network_of(reads["capacity"], reads["elements"]),
        walls_of(reads["elements"], reads["buildups"], known(reads["warm"]), climate),
        suns_of(reads["suns"], reads["light"]),
    )


def problem_of(climate: Climate, **reads: Unpack[ProblemReads]) -> Problem:
    """Raises Missing, CannotKnow."""
    area, warm, cold = (known(reads[k]) for k in ("reference", "warm", "cold"))
    air, habits, fabric = reads["air"], reads["habits"], reads["fabric"]
    for rests in (fabric, habits):
        if isinstance(rests, Unknown | Computing):
            raise Missing(rests)
    assert isinstance(habits, Habits) and isinstance(fabric, Fabric)
    southern = climate.weather.latitude < 0
    leaks = known(air.leaks)
    free, opens = _free(air)
    hours = year_of(habits.opened_by, southern) if habits.opened_by is not None else awake()
    if habits.night:
        hours = np.maximum(hours, reads["bedrooms"])
    return Problem(
        fabric.network,
        climate.weather.temperature,
        fabric.walls,
        fabric.sun,
        by_hour(habits, southern),
        known(air.unit) + leaks,
        leaks,
        free + leaks,
        opens,
        AIR_HEAT * climate.air_density_ratio * habits.hand_most * area * CLEAR_HEIGHT,
        hours,
        _set_point(warm, habits, southern),
        cold,
        habits.served,
        habits.most_heat,
        area,
    )


def _known_months(node: Node) -> Array:
    if isinstance(node, Unknown | Computing):
        raise Missing(node)
    return np.asarray(node.value, float)


def bypassed(u: UnitLoss) -> bool:
    """Whether a unit has a bypass that matters: without recovery there is nothing to pass by."""
    return u.unit.bypass and u.unit.moves == "supply and extract"


def free_loss(u: UnitLoss) -> float:
    """What the air of a unit loses with the bypass open, where it has one [W/K]."""
    return known(u.bypassed if bypassed(u) else u.loss)


def _free(air: Losses) -> tuple[float, float]:
    """(loss of the fresh air with every bypass open [W/K], month's mean outdoors from which the first of them opens [°C])."""
    if not air.units:
        return known(air.unit), -100.0
    rows = [u for u in air.units if bypassed(u)]
    return sum(free_loss(u) for u in air.units), min((known(bypass_from(u.unit)) for u in rows), default=-100.0)


def _set_point(warm: float, habits: Habits, southern: bool) -> float | Array:
    """The heating set-point, by hour where it is set back."""
    if habits.setback is None or habits.set_by is None or habits.setback >= warm:
        return warm
    return np.asarray(habits.setback + (warm - habits.setback) * year_of(habits.set_by, southern))


def network_of(capacity: Figure, elements: tuple[Element, ...]) -> Network:
    """The home's five resistances and one capacity. Raises CannotKnow."""
    known(capacity)
    assert isinstance(capacity, Known)
    inputs = capacity.inputs
    areas, kappas = ([float(n.value) for n in inputs[k]] for k in ("areas", "capacities"))
    floor, lump = float(inputs["floor"].value), 1000 * float(inputs["inner"].value)
    if not floor > 0:
        raise CannotKnow("a floor area")
    holes = sum(known(e.area) for e in elements if e.category == "openings" and e.area is not None)
    rows = [(area, 1000 * kappa) for area, kappa in zip(areas, kappas, strict=True) if kappa > 0]
    bare = sum(area for area, kappa in zip(areas, kappas, strict=True) if kappa <= 0)
    within = max(FACES_PER_FLOOR * floor - sum(areas) - holes, floor if lump > 0 else 0.0)
    if lump > 0 and within > 0:
        rows.append((within, lump * floor / within))
    else:
        bare += within
    windows = sum(known(e.loss) for e in elements if e.category == "openings")
    return of_faces(rows, bare + holes, windows, sum(known(e.loss) for e in elements if e.category != "openings"))


def walls_of(elements: tuple[Element, ...], buildups: tuple[BuildUp, ...], inside: float, climate: Climate) -> tuple[Opaque, ...]:
    """Opaque parts: those of one build-up in one use together; what lies on the ground by its months."""
    by_id = {b.id: b for b in buildups}
    monthly, held = Entered("outdoors by month", climate.temperature, "temperature"), Entered("inside", inside, "temperature")
    found: dict[object, Opaque] = {}
    for e in elements:
        h = known(e.loss)
        if e.category == "openings" or h == 0:
            continue
        kind = Opaque(h)
        if e.periodic is not None:
            flow = _known_months(ground_flow(e, held, monthly))
            kind = Opaque(h, months=tuple((inside - flow * 1000 / MONTH_HOURS / h).tolist()))
        elif e.boundary is not None and e.boundary.beyond.kind == "outside" and e.boundary.buildup in by_id:
            use = use_of(e.boundary)
            kind = Opaque(h, by_id[e.boundary.buildup], use.direction, use.borders)
        put_together(found, kind)
    return tuple(found.values())


def suns_of(suns: dict[str, Sun], light: dict[str, LetIn | Unknown | Computing | None]) -> tuple[Sunlit, ...]:
    """Sun through every row of openings by hour: light at its glass, times what of it comes in."""
    found = []
    for ident, sun in suns.items():
        months, let_in = _known_months(sun.months), light.get(ident)
        if not isinstance(let_in, LetIn) or not months.sum() > 0:
            continue
        reach = float(counted(let_in).sum())
        if reach > 0:  # m² of glass, its g and dirt counted
            found.append(Sunlit(ident, sun.months.label, let_in.hours, float(months.sum()) / reach, let_in.bare))
    return tuple(found)
