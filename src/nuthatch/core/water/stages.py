"""How hot water hangs in the graph: cold water, useful heat, losses, what of them stays inside."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypedDict, Unpack

import numpy as np

from nuthatch.core.climate.calendar import MONTH_HOURS_LEAF
from nuthatch.core.climate.calendar import NAMES as MONTH_NAMES
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, OUTSIDE, Weathered
from nuthatch.core.fabric.elements import reduction
from nuthatch.core.fabric.stages import B
from nuthatch.core.graph.stage import Slot, Stages, part
from nuthatch.core.household.stages import PEOPLE
from nuthatch.core.model.hot_water import HotWater, PipeRun, SolarField, Store
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.results.calculation import total
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Computing, Entered, Figure, Node, Unknown, because, missing
from nuthatch.core.results.question import Question
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun.fields import FieldSun
from nuthatch.core.sun.stages import FIELD_SUN
from nuthatch.core.water import hot_water as calc
from nuthatch.core.water import solar
from nuthatch.core.water.led import PARTS, Kept, Surroundings, of_run, of_store

NO_COLLECTORS = missing("Solar share of hot water", "percent", "collectors", "hot-water", "solar")


@dataclass(frozen=True, eq=False)
class Water:
    """Heat for hot water by month [kWh], what its losses leave inside, what the sun gives of it, and what it leaves for the sources; `fields`:
    what each field of collectors gives; `share`: which part of the year the sun gives; `kept`: stores and pipes one by one."""

    months: Figure
    inside: Figure
    rest: Figure
    solar: Figure | None = None
    fields: tuple[tuple[str, Figure], ...] = ()
    kept: tuple[Kept, ...] = ()
    share: Figure = NO_COLLECTORS


STAGES = Stages()
WATER: Slot[Water] = Slot("hot water", {"solar_share": "share"}, {"hot_water_demand": "months", "hot_water_rest": "rest"})
ASKS: Slot[tuple[Question, ...]] = Slot("questions of hot water", asks=True)


def cold_of(water: HotWater, climate: Weathered) -> Node:
    """Cold water by month: of a month where that is said, else all year, between its ends, or by the climate."""
    told = {m.month: m for m in water.months if m.cold is not None}
    if len(told) == len(MONTH_NAMES):
        usual: Node = Entered("cold water of no other month", np.zeros(12), "temperature", "rule")
    else:
        usual = _usual_cold(water, climate)
    if not told:
        return usual
    rows = [(n, told[name]) for n, name in enumerate(MONTH_NAMES) if name in told]
    at = tuple(Entered(m.month, float(n), "count", "rule", "", m.id, "month") for n, m in rows)
    return calc.cold_typed.figure(usual=usual, at=at, typed=tuple(need(m, "cold", f"cold water in {m.month}") for _, m in rows))


def _usual_cold(water: HotWater, climate: Weathered) -> Node:
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


SPACES: Slot[dict[str, Node]] = Slot("b of the spaces that stores and pipes stand in")


@STAGES.stage(SPACES, stores=part("water.stores"), runs=part("water.runs"), faces=BOUNDARY, bs=B)
def spaces(stores: tuple[Store, ...], runs: tuple[PipeRun, ...], faces: dict[str, Boundary], bs: dict[str, Figure]) -> dict[str, Node]:
    """By the id of each that stands in an unheated space: of the one it names, else of the home's first."""
    toward = [f for f in faces.values() if f.beyond.kind == "unheated"]
    found: dict[str, Node] = {}
    parts: tuple[Store | PipeRun, ...] = (*stores, *runs)
    for p in parts:
        face = next((f for f in toward if f.beyond.id == p.space), toward[0] if toward and not p.space else None)
        if p.place == "unheated space" and face is not None:
            found[p.id] = reduction(face, bs.get(face.beyond.id))
    return found


class WaterReads(TypedDict):
    """What hot water rests on besides itself."""

    people: Figure
    climate: Weathered
    suns: dict[str, FieldSun | Unknown | Computing]
    outside: Node
    spaces: dict[str, Node]
    patterns: tuple[DayPattern, ...]


@STAGES.stage(
    WATER, water=part("water"), people=PEOPLE, climate=AT_SITE, suns=FIELD_SUN, outside=OUTSIDE, spaces=SPACES, patterns=part("patterns")
)
def water(water: HotWater, **reads: Unpack[WaterReads]) -> Water:
    """Useful heat and losses of hot water, and what the sun gives of it."""
    people, climate = reads["people"], reads["climate"]
    hot, cold = need(water, "temperature"), cold_of(water, climate)
    useful = _in_months(water, _useful(water, people, cold))
    southern = isinstance(climate, Climate) and climate.weather.latitude < 0
    place = Surroundings(reads["outside"], reads["spaces"], southern, reads["patterns"])
    kept = (*(of_store(s, hot, place) for s in water.stores), *(of_run(r, people, hot, place) for r in water.runs))
    lost = {name: _together(LOSSES[name], [k.loss for k in kept if k.part == name]) for name in PARTS}
    months = calc.hot_water_months.figure(useful=useful, **lost)
    inside = _together("Hot-water losses inside", [k.loss for k in kept if k.inside])
    if not water.solar:
        return Water(months, inside, months, kept=kept)
    left, rows = months, []
    for f in water.solar:
        heat = _field(f, left, _sun_on(f, reads["suns"].get(f.id), climate), (hot, cold, reads["outside"]))
        left = solar.rest.figure(demand=left, solar=heat)
        rows.append((f.id, heat))
    whole = rows[0][1] if len(rows) == 1 else total("Solar heat for hot water", "energy_month", tuple(h for _, h in rows))
    return Water(months, inside, left, whole, tuple(rows), kept, solar.share_of_year.figure(solar=whole, demand=months))


def _sun_on(f: SolarField, sun: FieldSun | Unknown | Computing | None, climate: Weathered) -> Node:
    """What falls on a field by month [kWh/m²]."""
    label = f"sun on {f.name}"
    if sun is None:
        return missing(label, "irradiation", "tilt and direction of the collectors", f.id, "tilt")
    if not isinstance(sun, FieldSun):
        return because(label, "irradiation", sun)
    source = f"{climate.name}, past the horizon and what stands near" if isinstance(climate, Climate) else ""
    return Entered(f"{label} by month", sun.months, "irradiation", "calculated", source)


LOSSES = {"store": "Store loss", "circulation": "Circulation loss", "draw_off": "Draw-off pipe loss"}
NOTHING = np.zeros(12)


def _together(label: str, losses: list[Figure]) -> Figure:
    """What several lose together, by month."""
    if len(losses) == 1:
        return losses[0]
    return total(label, "energy_month", tuple(losses) or (Entered("none", NOTHING, "energy_month"),))


def _in_months(water: HotWater, useful: Figure) -> Figure:
    """Less on some days of the week, or in some months, where that is said."""
    if not water.months and water.days_a_week is None:
        return useful
    shares: dict[str, float] = {m.month: m.share.value for m in water.months if m.share is not None}
    leaf = Entered(
        "share of the usual by month",
        np.array([shares.get(name, 1.0) for name in MONTH_NAMES]),
        "percent",
        "declared",
        "as entered",
        water.id,
        "months",
    )
    return calc.of_months.figure(useful=useful, share=leaf, days=optional(water, "days_a_week", 7.0, "every day"))


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


@STAGES.stage(ASKS, water=part("water"), spaces=SPACES, patterns=part("patterns"))
def asks(water: HotWater, spaces: dict[str, Node], patterns: tuple[DayPattern, ...]) -> tuple[Question, ...]:
    """Stores cooler than the water drawn from them; shares of one month given twice; patterns that say nothing."""
    found = []
    drawn = water.temperature
    for s in water.stores:
        if s.temperature is not None and drawn is not None and s.temperature.value < drawn.value:
            amounts = ((s.temperature.value, "temperature"), (drawn.value, "temperature"))
            found.append(
                Question(s.id, "temperature", f"{s.name} is kept at {{0}}, water is drawn at {{1}}: what heats it further?", amounts)
            )
    seen: set[str] = set()
    for m in water.months:
        if m.month in seen:
            found.append(Question(m.id, "month", f"{m.month} stands twice among the months of hot water; the last counts"))
        seen.add(m.month)
    said = {p.id: bool(p.days) for p in patterns}
    for r in water.runs:
        if r.pattern and not said.get(r.pattern, False):
            found.append(Question(r.id, "pattern", f"{r.name} runs by a day pattern that says nothing; its hours count"))
    return tuple(found)
