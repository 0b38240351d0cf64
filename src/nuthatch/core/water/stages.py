"""How hot water hangs in the graph: cold water, useful heat, losses, what of them stays inside."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypedDict, Unpack

import numpy as np

from nuthatch.core.climate.calendar import MONTH_HOURS_LEAF
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, OUTSIDE, STATION, Weathered
from nuthatch.core.climate.sun import by_month
from nuthatch.core.graph.stage import Slot, Stages, part
from nuthatch.core.household.stages import PEOPLE
from nuthatch.core.model.services import HotWater, SolarField
from nuthatch.core.results.calculation import total
from nuthatch.core.results.entries import flagged, need, optional
from nuthatch.core.results.figure import Computing, Entered, Figure, Node, because, missing
from nuthatch.core.results.question import Question
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun.edges import Edges
from nuthatch.core.sun.let_in import by_hours
from nuthatch.core.sun.planes import SunPlane
from nuthatch.core.sun.shares import Skyline, SunPath, shares
from nuthatch.core.sun.stages import GROUND, PATH, SKYLINE
from nuthatch.core.water import hot_water as calc
from nuthatch.core.water import solar
from nuthatch.core.water.pipes import pipe_psi


@dataclass(frozen=True, eq=False)
class Water:
    """Heat for hot water by month [kWh], what its losses leave inside, what the sun gives of it, and what it leaves for the sources; `fields`:
    what each field of collectors gives."""

    months: Figure
    inside: Figure
    rest: Figure
    solar: Figure | None = None
    fields: tuple[tuple[str, Figure], ...] = ()


STAGES = Stages()
WATER: Slot[Water] = Slot("hot water", months={"hot_water_demand": "months", "hot_water_rest": "rest"})
ASKS: Slot[tuple[Question, ...]] = Slot("questions of hot water", asks=True)


SOLAR_SUN: Slot[dict[str, Node]] = Slot("sun on collectors")
"""Sun that reaches each field of collectors by month [kWh/m²]."""
COLLECTORS: Slot[dict[str, SunPlane]] = Slot("planes of collectors")


@STAGES.stage(COLLECTORS, water=part("water"), faces=BOUNDARY)
def collectors(water: HotWater, faces: dict[str, Boundary]) -> dict[str, SunPlane]:
    """The plane of each field that has one: as typed, else that of its face. By the field's id, under ids of planes."""
    found: dict[str, SunPlane] = {}
    for f in water.solar:
        face = faces.get(f.face)
        tilt = f.tilt.value if f.tilt is not None else face.tilt if face is not None else None
        azimuth = f.azimuth.value if f.azimuth is not None else face.azimuth if face is not None else None
        if tilt is not None and azimuth is not None:
            found[f.id] = SunPlane(tilt, azimuth)
    return found


@STAGES.stage(SOLAR_SUN, planes=COLLECTORS, climate=STATION, path=PATH, skyline=SKYLINE, ground=GROUND)
def solar_sun(
    planes: dict[str, SunPlane], climate: Weathered, path: object, skyline: Skyline | None, ground: tuple[float, ...]
) -> dict[str, Node]:
    """Beam, sky and ground on each field past the horizon; what stands near is told by the field itself."""
    found: dict[str, Node] = {}
    for ident, plane in planes.items():
        if not isinstance(climate, Climate):
            found[ident] = because("sun on the collectors", "irradiation", climate)
        elif not isinstance(path, SunPath):
            found[ident] = path if isinstance(path, Computing) else missing("sun on the collectors", "irradiation", "the path of the sun")
        else:
            sun = climate.plane(plane.tilt, plane.azimuth)
            seen = shares(Edges(1.0, 1.0), (plane.tilt, plane.azimuth), path, skyline)
            falls = seen.beam * sun.beam + seen.sky[0] * sun.sky + by_hours(np.array(ground)) * sun.ground * seen.ground[0]
            label = f"sun on a plane {plane.tilt:g}° steep, {plane.azimuth:g}° from north"
            found[ident] = Entered(label, by_month(falls) / 1000, "irradiation", "calculated", f"{climate.name}, past the horizon")
    return found


def _cold(water: HotWater, climate: Weathered) -> Node:
    if water.cold is not None:
        given = water.cold
        return Entered("cold water, all year", np.full(12, given.value), "temperature", given.basis.value, given.source, water.id, "cold")
    if not isinstance(climate, Climate):
        return because("cold water", "temperature", climate)
    of_climate = Entered("cold water by month", climate.cold_water, "temperature", "assumed", "from the climate's months")
    if water.cold_least is not None and water.cold_most is not None:
        return calc.cold_between.figure(coldest=need(water, "cold_least"), warmest=need(water, "cold_most"), climate=of_climate)
    return of_climate


def _useful(water: HotWater, people: Figure, cold: Node) -> Figure:
    """What is drawn, by person or by draw-offs."""
    if water.demand == "by person":
        return calc.useful_heat.figure(
            people=people, litres=need(water, "litres"), hot=need(water, "temperature"), cold=cold, hours=MONTH_HOURS_LEAF
        )
    if not water.draw_offs:
        return missing("Hot water, useful heat", "energy_month", "a draw-off: litres, temperature, times a day", "hot-water", "draw_offs")
    once = Entered("counted for the home", 1.0, "count", "rule")
    rows = {
        k: tuple(need(d, f) for d in water.draw_offs) for k, f in (("litres", "litres"), ("numbers", "number"), ("drawn", "temperature"))
    }
    persons = tuple(people if d.per == "a person" else once for d in water.draw_offs)
    return calc.drawn_heat.figure(**rows, persons=persons, cold=cold, hours=MONTH_HOURS_LEAF)


def _circulation_psi(water: HotWater) -> Node:
    """Of the circulation pipe: as typed, else by the pipe and its insulation, none where neither is given."""
    if water.circulation_psi is not None or water.circulation_diameter is None:
        return optional(water, "circulation_psi", 0, "none")
    fields = (("diameter", "circulation_diameter"), ("insulation", "circulation_insulation"), ("conductivity", "circulation_lambda"))
    return pipe_psi.figure(**{name: need(water, field) for name, field in fields})


class WaterReads(TypedDict):
    """What hot water rests on besides itself."""

    people: Figure
    climate: Weathered
    suns: dict[str, Node]
    outside: Node


@STAGES.stage(WATER, water=part("water"), people=PEOPLE, climate=AT_SITE, suns=SOLAR_SUN, outside=OUTSIDE)
def water(water: HotWater, **reads: Unpack[WaterReads]) -> Water:
    """Useful heat and losses of hot water, and what the sun gives of it."""
    people, climate = reads["people"], reads["climate"]
    hot, cold = need(water, "temperature"), _cold(water, climate)
    useful = _useful(water, people, cold)

    def given(field: str) -> Node:
        return optional(water, field, 0, "none")

    store = calc.store_loss.figure(
        loss=given("store_loss"), hours=MONTH_HOURS_LEAF, store=need(water, "store_temperature") if water.store_loss else hot
    )
    circulation = calc.circulation_loss.figure(
        psi=_circulation_psi(water), length=given("circulation_length"), hot=hot, daily=given("circulation_hours"), hours=MONTH_HOURS_LEAF
    )
    draw = calc.draw_off_loss.figure(people=people, draws=given("draws"), hot=hot, hours=MONTH_HOURS_LEAF, content=given("draw_content"))
    place = flagged(water, "store_inside", "store inside the envelope", "store outside the envelope")
    months = calc.hot_water_months.figure(useful=useful, store=store, circulation=circulation, draw_off=draw)
    inside = calc.losses_inside.figure(store=store, inside=place, circulation=circulation, draw_off=draw)
    if not water.solar:
        return Water(months, inside, months)
    left, rows = months, []
    for f in water.solar:
        given_sun = reads["suns"].get(f.id) or missing(
            "sun on the collectors", "irradiation", "tilt and direction of the collectors", f.id, "tilt"
        )
        heat = _field(f, left, given_sun, (hot, cold, reads["outside"]))
        left = solar.rest.figure(demand=left, solar=heat)
        rows.append((f.id, heat))
    whole = rows[0][1] if len(rows) == 1 else total("Solar heat for hot water", "energy_month", tuple(h for _, h in rows))
    return Water(months, inside, left, whole, tuple(rows))


def _field(f: SolarField, demand: Figure, sun: Node, at: tuple[Node, Node, Node]) -> Figure:
    """What one field of collectors gives of what is needed still."""
    hot, cold, outside = at
    optical, loss = need(f, "optical"), need(f, "loss")
    if f.values == "at the mean":
        optical = solar.optical_at_inlet.figure(eta=optical)
        loss = solar.loss_at_inlet.figure(first=loss, second=optional(f, "loss_second", 0.0, "none"))
    if f.sunlit is not None:
        sun = solar.past.figure(sun=sun, share=need(f, "sunlit"))
    return solar.solar_heat.figure(
        f"{f.name}: solar heat", demand=demand, area=need(f, "area"), optical=optical, loss=loss, sun=sun, hot=hot, cold=cold, outside=outside,
        volume=need(f, "volume"), hours=MONTH_HOURS_LEAF,
    )  # fmt: skip


@STAGES.stage(ASKS, water=part("water"))
def asks(water: HotWater) -> tuple[Question, ...]:
    """A store that is cooler than the water drawn from it."""
    store, drawn = water.store_temperature, water.temperature
    if water.store_loss is None or store is None or drawn is None or store.value >= drawn.value:
        return ()
    amounts = ((store.value, "temperature"), (drawn.value, "temperature"))
    return (Question(water.id, "store_temperature", "The store is kept at {0}, water is drawn at {1}: what heats it further?", amounts),)
