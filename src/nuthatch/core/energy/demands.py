"""Strings people, hot water, appliances and internal gains together for one home."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.fabric.openings import need, optional
from nuthatch.core.figure import Entered, Node, Result, missing
from nuthatch.core.household import people as people_calc
from nuthatch.core.model.home import Brief, HotWater, Household
from nuthatch.core.shape.envelope import take
from nuthatch.core.water import hot_water as water_calc

HOURS = Entered("hours of the month", MONTH_HOURS.astype(float), "hours", "rule", "8760 h")


def people_figure(brief: Brief, household: Household, studio: int) -> Result:
    """Design occupants, typed or from bedrooms; unknown where neither is given."""
    if household.people is not None:
        return people_calc.people_typed.figure(people=need(household, "people", "household"))
    rule = Entered("people of a studio, by the target sets", float(studio), "count", "rule")
    return people_calc.people_from_bedrooms.figure(bedrooms=need(brief, "bedrooms", "brief", "bedrooms"), studio=rule)


@dataclass(frozen=True, eq=False)
class WaterFigures:
    """Hot water by month [kWh] and what its losses leave inside."""

    months: Result
    inside: Result
    useful: Result


def water_figures(water: HotWater, people: Result, climate: Climate | None) -> WaterFigures:
    """Useful heat and losses of hot water."""
    hot = need(water, "temperature", "hot-water")
    if water.cold is not None:
        cold: Node = Entered(
            "cold water, all year", np.full(12, water.cold.value), "temperature", water.cold.basis.value, "", water.id, "cold"
        )
    elif climate is None:
        cold = missing("cold water", "temperature", "a climate", "site", "site", "climate")
    else:
        cold = Entered("cold water by month", climate.cold_water, "temperature", "assumed", "from the climate's months")
    useful = water_calc.useful_heat.figure(people=people, litres=need(water, "litres", "hot-water"), hot=hot, cold=cold, hours=HOURS)
    nothing = "none"
    store = water_calc.store_loss.figure(
        loss=optional(water, "store_loss", "hot-water", 0, nothing),
        hours=HOURS,
        store=need(water, "store_temperature", "hot-water") if water.store_loss else hot,
    )
    circulation = water_calc.circulation_loss.figure(
        psi=optional(water, "circulation_psi", "hot-water", 0, nothing),
        length=optional(water, "circulation_length", "hot-water", 0, nothing),
        hot=hot,
        daily=optional(water, "circulation_hours", "hot-water", 0, nothing),
        hours=HOURS,
    )
    draw = water_calc.draw_off_loss.figure(
        people=people,
        draws=optional(water, "draws", "hot-water", 0, nothing),
        hot=hot,
        hours=HOURS,
        content=optional(water, "draw_content", "hot-water", 0, nothing),
    )
    place = Entered(
        "store inside the envelope" if water.store_inside else "store outside the envelope",
        1.0 if water.store_inside else 0.0,
        "fraction",
        "declared",
        "",
        water.id,
        "store_inside",
    )
    return WaterFigures(
        water_calc.hot_water_months.figure(useful=useful, store=store, circulation=circulation, draw_off=draw),
        water_calc.losses_inside.figure(store=store, inside=place, circulation=circulation, draw_off=draw),
        useful,
    )


def household_figures(household: Household, people: Result, reference: Result) -> tuple[Result, Result]:
    """(mean internal gains [W], household electricity [kWh/a])."""
    listed = [a for a in household.appliances if a.energy is not None]
    energies = tuple(need(a, "energy", "household") for a in listed)
    if household.gains == "simple":
        gains = people_calc.simple_gains.figure(density=need(household, "simple_gains", "household"), area=reference)
    else:
        gains = people_calc.itemised_gains.figure(
            people=people,
            heat=need(household, "person_heat", "household"),
            energies=energies,
            shares=tuple(optional(a, "inside_share", "household", 1.0, "all") for a in listed),
        )
    if household.electricity is not None:
        electricity = take("Household electricity", "energy", need(household, "electricity", "household"))
    elif energies:
        electricity = people_calc.household_electricity.figure(energies=energies)
    else:
        electricity = missing(
            "Household electricity",
            "energy",
            "household electricity, typed or itemised by appliance",
            "household",
            "household",
            "electricity",
        )
    return gains, electricity
