"""How the hourly year hangs in the graph: what it rests on, its hours (slow), comfort, needs beside the month, what makes it too warm."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypedDict, Unpack

import numpy as np

from nuthatch.core.air.stages import DRAWN, LOSSES
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, Weathered
from nuthatch.core.climate.sun import MONTH_OF_HOUR
from nuthatch.core.energy import stages as month
from nuthatch.core.energy.balance import per_area
from nuthatch.core.fabric.stages import CAPACITY, SUN
from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.household.stages import PEOPLE, electricity_of
from nuthatch.core.model.heat import HeatSource
from nuthatch.core.model.household import Household
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.model.site import Site
from nuthatch.core.results.figure import Array, CannotKnow, Computing, Entered, Figure, Need, Unknown, because
from nuthatch.core.results.question import Question
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.stages import REFERENCE
from nuthatch.core.sun.stages import LET_IN
from nuthatch.core.year import comfort as calc
from nuthatch.core.year.gains import Habits, habits_of
from nuthatch.core.year.of_home import FabricReads, Missing, ProblemReads, fabric_of, problem_of
from nuthatch.core.year.problem import Fabric, Hours, LateHours, Problem, worked

APART, APART_AREA = 0.15, 1.0
"""Share, and amount [kWh/(m²·a)], by which hours and months may differ before it is asked why."""


@dataclass(frozen=True, eq=False)
class Sums:
    """What the home needs by the hours."""

    heating: Figure
    cooling: Figure


STAGES = Stages()
BEDROOMS: Slot[float] = Slot("share of the floor that is bedrooms")
PROBLEM: Slot[Problem | Unknown | Computing] = Slot("what acts on the home by hour")
FABRIC: Slot[Fabric | Unknown | Computing] = Slot("the fabric by hour")
HABITS: Slot[Habits | Unknown | Computing] = Slot("what people and sources do by hour")
HOURS: Slot[Any] = Slot("the hours of the year")
"""Hours, or why there are none."""
SHARE_OF_HOURS: Slot[Figure] = Slot("hours too warm", {"overheating_share": ""})
NEEDS_OF_HOURS: Slot[Sums] = Slot("sums of the hours", {"hourly_heating_demand": "heating", "hourly_cooling_demand": "cooling"})
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the hours", asks=True)


@STAGES.stage(BEDROOMS, rooms=DRAWN)
def bedrooms(rooms: tuple[PlanRoom, ...]) -> float:
    """All of it where no rooms are drawn: nothing says how much of the home sleeps."""
    whole = sum(r.area for r in rooms)
    return sum(r.area for r in rooms if r.use == "bedroom") / whole if whole > 0 else 1.0


class HabitReads(TypedDict):
    """What people and sources do rests on."""

    inside: Figure
    household: Household
    people: Figure
    patterns: tuple[DayPattern, ...]
    site: Site
    sources: tuple[HeatSource, ...]
    climate: Weathered


@STAGES.stage(
    HABITS,
    inside=month.INSIDE,
    household=part("household"),
    people=PEOPLE,
    patterns=part("patterns"),
    site=part("site"),
    sources=part("sources"),
    climate=AT_SITE,
)
def habits(**reads: Unpack[HabitReads]) -> Habits | Unknown | Computing:
    """As plain values: another efficiency or a litre more of hot water changes no hour."""
    inside, household, climate = reads["inside"], reads["household"], reads["climate"]
    if isinstance(inside, Unknown | Computing):
        return inside
    energies = {a.id: float(n.value) for a in household.appliances if a.energy is not None and (n := electricity_of(a)).value is not None}
    southern = isinstance(climate, Climate) and climate.weather.latitude < 0
    people = float(reads["people"].value or 0.0)
    return habits_of(
        np.asarray(inside.value), household, energies, people, reads["patterns"], reads["site"], reads["sources"], southern
    )  # fmt: skip


@STAGES.stage(
    FABRIC,
    elements=month.ELEMENTS,
    capacity=CAPACITY,
    buildups=part("buildups"),
    climate=AT_SITE,
    suns=SUN,
    light=LET_IN,
    warm=field("site.heating_setpoint"),
)
def fabric(climate: Weathered, **reads: Unpack[FabricReads]) -> Fabric | Unknown | Computing:
    """Network, parts and sun of the home by hour; what of it is missing."""
    if not isinstance(climate, Climate):
        return climate
    if climate.made:
        return Unknown("the hours", "text", (Need("a weather file with hours: the climate is given by months", "site", "climate"),))
    try:
        return fabric_of(climate, **reads)
    except Missing as missing:
        return missing.why
    except CannotKnow as why:
        return Unknown("the hours", "text", (Need(str(why), "home", "buildups"),))


@STAGES.stage(
    PROBLEM,
    fabric=FABRIC,
    habits=HABITS,
    climate=AT_SITE,
    air=LOSSES,
    reference=REFERENCE,
    warm=field("site.heating_setpoint"),
    cold=field("site.cooling_setpoint"),
    bedrooms=BEDROOMS,
)
def problem(climate: Weathered, **reads: Unpack[ProblemReads]) -> Problem | Unknown | Computing:
    """What acts on the home by hour; what of it is missing."""
    if not isinstance(climate, Climate):
        return climate
    try:
        return problem_of(climate, **reads)
    except Missing as missing:
        return missing.why


def _waiting(since: float) -> Computing:
    return Computing("The hourly year", "percent", since, "the hours of the year")


def _no_problem(problem: Problem | Unknown | Computing) -> bool:
    return not isinstance(problem, Problem)


def hours_of_a_trial(problem: Problem | Unknown | Computing) -> Hours | Unknown | Computing:
    """The hours of a home tried differently: what of them is asked for."""
    return LateHours(problem) if isinstance(problem, Problem) else problem


@STAGES.slow(HOURS, _waiting, at_hand=_no_problem, prompt=hours_of_a_trial, problem=PROBLEM)
def hours(problem: Problem | Unknown | Computing) -> Hours | Unknown | Computing:
    """The hours of the home."""
    return worked(problem) if isinstance(problem, Problem) else problem


SOURCE = "hours of the year: ISO 13790:2008, annex C"


@STAGES.stage(SHARE_OF_HOURS, hours=HOURS, by_hand=part("household.by_hand"))
def share_of_hours(hours: Hours | Unknown | Computing, by_hand: str) -> Figure:
    """Comfort by the hour."""
    if not isinstance(hours, Hours):
        return because("Too warm, of the year", "percent", hours)
    run, how = (hours.by_hand, "windows opened by hand") if by_hand == "counted" else (hours.comfort, "windows shut")
    felt = Entered(f"operative temperature by hour, {how}", run.operative, "temperature", "calculated", SOURCE)
    return calc.overheating.figure(operative=felt, limit=Entered("too warm above", calc.LIMIT, "temperature", "rule", "common practice"))


@STAGES.stage(NEEDS_OF_HOURS, hours=HOURS, reference=REFERENCE)
def needs_of_hours(hours: Hours | Unknown | Computing, reference: Figure) -> Sums:
    """Needs by the hour."""
    labels = ("Heating demand, by the hour", "Cooling demand, by the hour")
    if not isinstance(hours, Hours):
        return Sums(*(because(label, "specific_energy", hours) for label in labels))
    months = (_months(np.maximum(sign * hours.needs.held, 0)) for sign in (1, -1))
    leaves = (
        Entered(f"{what} by month, of the hours", m, "energy_month", "calculated", SOURCE)
        for what, m in zip(("heating", "cooling"), months, strict=True)
    )
    return Sums(*(per_area.figure(label, months=leaf, area=reference) for label, leaf in zip(labels, leaves, strict=True)))


def _months(power: Array) -> Array:
    """[kWh] by month of [W] by hour."""
    return np.asarray(np.bincount(MONTH_OF_HOUR, power, minlength=12) / 1000)


@STAGES.stage(ASKS, hours=NEEDS_OF_HOURS, months=month.YEAR)
def asks(hours: Sums, months: month.Year) -> tuple[Question, ...]:
    """Hours and months that lie far apart."""
    found = []
    for what, ours, theirs in (("Heating", hours.heating, months.heating_demand), ("Cooling", hours.cooling, months.cooling_demand)):
        if ours.value is None or theirs.value is None:
            continue
        by_hour_, by_month = float(ours.value), float(theirs.value)
        apart = by_hour_ - by_month
        if abs(apart) > APART_AREA and abs(apart) > APART * max(by_month, by_hour_):
            says = f"{what} is {{0}} by the hour and {{1}} by the month: {why_apart(what, apart, by_month)}"
            found.append(
                Question(
                    "site",
                    "heating_setpoint" if what == "Heating" else "cooling_setpoint",
                    says,
                    ((by_hour_, "specific_energy"), (by_month, "specific_energy")),
                )
            )
    return tuple(found)


def why_apart(what: str, apart: float, by_month: float) -> str:
    """What usually parts hours from months (docs/methods, the hourly year beside the month)."""
    if what == "Cooling":
        if apart > 0:
            return "hot hours that the month’s mean hides"
        return "cool nights, the bypass by the hour and blinds by each day’s sun take away what the month counts"
    if apart > 0:
        little = (
            "the little that is asked for lies in few cold days"
            if by_month < 5.0
            else "a month’s mean takes its cold and its warm days together"
        )
        return f"{little}; blinds that are down on warm days keep sun out that the month counts"
    return "sun of single hours is used that the month loses"
