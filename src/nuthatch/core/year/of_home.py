"""The hourly problem of a whole home from its results: network, parts by what lies beyond them, sun, gains, air, set-points."""

from __future__ import annotations

from dataclasses import replace
from typing import TypedDict, Unpack

import numpy as np

from nuthatch.core.air.stages import Losses
from nuthatch.core.air.unit import bypass_from
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.patterns import days_named, year_of
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.energy.stages import Coefficients, ground_flow
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import Sun, use_of
from nuthatch.core.household.stages import electricity_of
from nuthatch.core.model.heat import HeatSource
from nuthatch.core.model.home import BuildUp
from nuthatch.core.model.household import Household
from nuthatch.core.model.part import Given
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.results.entries import optional
from nuthatch.core.results.figure import Array, Computing, Entered, Figure, Known, Node, Unknown
from nuthatch.core.sun.let_in import LetIn, counted
from nuthatch.core.year.gains import by_hour
from nuthatch.core.year.network import FACES_PER_FLOOR, Network, of_faces
from nuthatch.core.year.problem import Opaque, Problem, Sunlit, awake

BY_HAND = 3.0
"""The most that windows opened by hand bring [1/h]: common practice, no source."""
AIR_HEAT, CLEAR_HEIGHT = 0.34, 2.5
"""Heat a cubic metre of air carries [Wh/(m³·K)]; the height behind every air change [m]."""


class ProblemReads(TypedDict):
    """What the hours rest on."""

    elements: tuple[Element, ...]
    coefficients: Coefficients
    capacity: Figure
    buildups: tuple[BuildUp, ...]
    suns: dict[str, Sun]
    light: dict[str, LetIn | Unknown | Computing | None]
    inside: Figure
    air: Losses
    reference: Figure
    warm: Node
    cold: Node
    setback: Given | None
    heating_hours: str
    household: Household
    people: Figure
    patterns: tuple[DayPattern, ...]
    sources: tuple[HeatSource, ...]
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


def problem_of(climate: Climate, **reads: Unpack[ProblemReads]) -> Problem:
    area, warm, cold = (known(reads[k]) for k in ("reference", "warm", "cold"))
    air, household, patterns = reads["air"], reads["household"], reads["patterns"]
    southern = climate.weather.latitude < 0
    leaks = known(air.leaks)
    free, opens = _free(air)
    most = known(optional(household, "hand_most", BY_HAND, "usual"))
    by_id = {p.id: p for p in patterns if days_named(p)}
    hours = year_of(by_id[household.window_hours], southern) if household.window_hours in by_id else awake()
    if household.night_windows:
        hours = np.maximum(hours, reads["bedrooms"])
    energies = {a.id: float(n.value) for a in household.appliances if a.energy is not None and (n := electricity_of(a)).value is not None}
    people = float(reads["people"].value or 0.0)
    _known_months(reads["inside"])
    return Problem(
        network_of(reads["capacity"], reads["elements"], reads["coefficients"]),
        climate.weather.temperature,
        walls_of(reads["elements"], reads["buildups"], warm, climate),
        suns_of(reads["suns"], reads["light"]),
        by_hour(np.asarray(reads["inside"].value), household, energies, people, patterns, southern),
        known(air.unit) + leaks,
        leaks,
        free + leaks,
        opens,
        AIR_HEAT * climate.air_density_ratio * most * area * CLEAR_HEIGHT,
        hours,
        _set_point(warm, reads["setback"], by_id.get(reads["heating_hours"]), southern),
        cold,
        any(s.cooling_share is not None and s.cooling_share.value > 0 for s in reads["sources"]),
        _most_heat(reads["sources"]),
        area,
    )


def _known_months(node: Node) -> Array:
    if isinstance(node, Unknown | Computing):
        raise Missing(node)
    return np.asarray(node.value, float)


def _free(air: Losses) -> tuple[float, float]:
    """(loss of the fresh air with every bypass open [W/K], month's mean outdoors from which the first of them opens [°C])."""
    if not air.units:
        return known(air.unit), -100.0
    rows = [u for u in air.units if u.unit.bypass and u.unit.moves == "supply and extract"]
    free = sum(known(u.bypassed if u in rows else u.loss) for u in air.units)
    return free, min((known(bypass_from(u.unit)) for u in rows), default=-100.0)


def _set_point(warm: float, setback: Given | None, pattern: DayPattern | None, southern: bool) -> float | Array:
    """The heating set-point, by hour where it is set back."""
    if setback is None or pattern is None or setback.value >= warm:
        return warm
    return np.asarray(setback.value + (warm - setback.value) * year_of(pattern, southern))


def _most_heat(sources: tuple[HeatSource, ...]) -> float:
    """The most heat that the sources of the rooms give together [W]; without bound where one of them has no limit."""
    serving = [s for s in sources if s.heating_share is not None and s.heating_share.value > 0]
    serving += [s for s in sources if s.id in {x.takes_over for x in serving} and s not in serving]
    if not serving or any(s.power is None for s in serving):
        return float("inf")
    return sum(s.power.value / (1 + (s.distribution.value if s.distribution is not None else 0.0)) for s in serving if s.power is not None)


def network_of(capacity: Figure, elements: tuple[Element, ...], coefficients: Coefficients) -> Network:
    """The home's five resistances and one capacity. Raises CannotKnow."""
    known(capacity)
    assert isinstance(capacity, Known)
    inputs = capacity.inputs
    areas, kappas = ([float(n.value) for n in inputs[k]] for k in ("areas", "capacities"))
    floor, lump = float(inputs["floor"].value), 1000 * float(inputs["inner"].value)
    holes = sum(known(e.area) for e in elements if e.category == "openings" and e.area is not None)
    rows = [(area, 1000 * kappa) for area, kappa in zip(areas, kappas, strict=True) if kappa > 0]
    bare = sum(area for area, kappa in zip(areas, kappas, strict=True) if kappa <= 0)
    within = max(FACES_PER_FLOOR * floor - sum(areas) - holes, floor if lump > 0 else 0.0)
    if lump > 0:
        rows.append((within, lump * floor / within))
    else:
        bare += within
    windows = sum(known(e.loss) for e in elements if e.category == "openings")
    return of_faces(rows, bare + holes, windows, known(coefficients.transmission) - windows)


def walls_of(elements: tuple[Element, ...], buildups: tuple[BuildUp, ...], inside: float, climate: Climate) -> tuple[Opaque, ...]:
    """Opaque parts: those of one build-up in one use together; what lies on the ground by its months."""
    by_id = {b.id: b for b in buildups}
    monthly, held = Entered("outdoors by month", climate.temperature, "temperature"), Entered("inside", inside, "temperature")
    sums: dict[Opaque, float] = {}
    for e in elements:
        h = known(e.loss)
        if e.category == "openings" or h == 0:
            continue
        kind = Opaque(0.0)
        if e.periodic is not None:
            flow = _known_months(ground_flow(e, held, monthly))
            kind = Opaque(0.0, months=tuple((inside - flow * 1000 / MONTH_HOURS / h).tolist()))
        elif e.boundary is not None and e.boundary.beyond.kind == "outside" and e.boundary.buildup in by_id:
            use = use_of(e.boundary)
            kind = Opaque(0.0, by_id[e.boundary.buildup], use.direction, use.borders)
        sums[kind] = sums.get(kind, 0.0) + h
    return tuple(replace(kind, loss=h) for kind, h in sums.items())


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
