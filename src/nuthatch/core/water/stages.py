"""How hot water hangs in the graph: cold water, useful heat, losses, what of them stays inside."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.climate.calendar import MONTH_HOURS_LEAF
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, Weathered
from nuthatch.core.graph.stage import Slot, Stages, part
from nuthatch.core.household.stages import PEOPLE
from nuthatch.core.model.services import HotWater
from nuthatch.core.results.entries import flagged, need, optional
from nuthatch.core.results.figure import Entered, Figure, Node, because
from nuthatch.core.results.question import Question
from nuthatch.core.water import hot_water as calc


@dataclass(frozen=True, eq=False)
class Water:
    """Heat for hot water by month [kWh], and what its losses leave inside."""

    months: Figure
    inside: Figure


STAGES = Stages()
WATER: Slot[Water] = Slot("hot water", months={"hot_water_demand": "months"})
ASKS: Slot[tuple[Question, ...]] = Slot("questions of hot water", asks=True)


def _cold(water: HotWater, climate: Weathered) -> Node:
    if water.cold is not None:
        given = water.cold
        return Entered("cold water, all year", np.full(12, given.value), "temperature", given.basis.value, given.source, water.id, "cold")
    if not isinstance(climate, Climate):
        return because("cold water", "temperature", climate)
    return Entered("cold water by month", climate.cold_water, "temperature", "assumed", "from the climate's months")


@STAGES.stage(WATER, water=part("water"), people=PEOPLE, climate=AT_SITE)
def water(water: HotWater, people: Figure, climate: Weathered) -> Water:
    """Useful heat and losses of hot water."""
    hot = need(water, "temperature")
    useful = calc.useful_heat.figure(
        people=people, litres=need(water, "litres"), hot=hot, cold=_cold(water, climate), hours=MONTH_HOURS_LEAF
    )

    def given(field: str) -> Node:
        return optional(water, field, 0, "none")

    store = calc.store_loss.figure(
        loss=given("store_loss"), hours=MONTH_HOURS_LEAF, store=need(water, "store_temperature") if water.store_loss else hot
    )
    circulation = calc.circulation_loss.figure(
        psi=given("circulation_psi"), length=given("circulation_length"), hot=hot, daily=given("circulation_hours"), hours=MONTH_HOURS_LEAF
    )
    draw = calc.draw_off_loss.figure(people=people, draws=given("draws"), hot=hot, hours=MONTH_HOURS_LEAF, content=given("draw_content"))
    place = flagged(water, "store_inside", "store inside the envelope", "store outside the envelope")
    return Water(
        calc.hot_water_months.figure(useful=useful, store=store, circulation=circulation, draw_off=draw),
        calc.losses_inside.figure(store=store, inside=place, circulation=circulation, draw_off=draw),
    )


@STAGES.stage(ASKS, water=part("water"))
def asks(water: HotWater) -> tuple[Question, ...]:
    """A store that is cooler than the water drawn from it."""
    store, drawn = water.store_temperature, water.temperature
    if water.store_loss is None or store is None or drawn is None or store.value >= drawn.value:
        return ()
    amounts = ((store.value, "temperature"), (drawn.value, "temperature"))
    return (Question(water.id, "store_temperature", "The store is kept at {0}, water is drawn at {1}: what heats it further?", amounts),)
