"""How the household hangs in the graph: people, internal gains, electricity."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.patterns import days_named, mean
from nuthatch.core.climate.stages import AT_SITE, Weathered
from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.household import people as calc
from nuthatch.core.model.household import Appliance, Household
from nuthatch.core.model.part import Given
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.calculation import take
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Entered, Figure, Node, Unknown, missing
from nuthatch.core.results.question import Question
from nuthatch.core.solid.stages import REFERENCE


@dataclass(frozen=True, eq=False)
class HouseholdUse:
    """Mean internal gains [W] and household electricity [kWh/a]."""

    gains: Figure
    electricity: Figure


STAGES = Stages()
STUDIO: Slot[int] = Slot("people of a studio")
COUNTED_BY: Slot[Figure | None] = Slot("floor area people are counted by")
PEOPLE: Slot[Figure] = Slot("people", {"people": ""})
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the household", asks=True)
USE: Slot[HouseholdUse] = Slot("use of the household", {"household_electricity": "electricity"})


@STAGES.stage(STUDIO, sets=part("target_sets"))
def studio(sets: tuple[TargetSet, ...]) -> int:
    """People of a studio by the first target set of the home, 1 where there is none."""
    return sets[0].studio_people if sets else 1


@STAGES.stage(COUNTED_BY, each_has=part("household.floor_per_person"), reference=REFERENCE)
def counted_by(each_has: Given | None, reference: Figure) -> Figure | None:
    """The floor area people are counted by; None where they are not, so that another area does not count them anew."""
    return reference if each_has is not None else None


@STAGES.stage(
    PEOPLE,
    typed=field("household.people"),
    floor=field("household.floor_per_person"),
    bedrooms=field("brief.bedrooms"),
    studio=STUDIO,
    reference=COUNTED_BY,
)
def people(typed: Node, floor: Node, bedrooms: Node, studio: int, reference: Figure | None) -> Figure:
    """Design occupants: typed, by floor area, or from bedrooms; unknown where none is given."""
    if not isinstance(typed, Unknown):
        return calc.people_typed.figure(people=typed)
    if reference is not None:
        return calc.people_by_area.figure(area=reference, each=floor)
    rule = Entered("people of a studio, by the target sets", float(studio), "count", "rule")
    return calc.people_from_bedrooms.figure(bedrooms=bedrooms, studio=rule)


def electricity_of(a: Appliance) -> Node:
    """What an appliance uses in a year, all of its kind."""
    if a.number is None and a.uses is None:
        return need(a, "energy")
    number, uses = optional(a, "number", 1.0, "one"), optional(a, "uses", 1.0, "the year's electricity")
    return calc.appliance_electricity.figure(f"{a.name}: electricity", energy=need(a, "energy"), number=number, uses=uses)


PRESENCE: Slot[Node | None] = Slot("presence by a day pattern")
"""Mean of the year; None where no pattern says it."""


@STAGES.stage(PRESENCE, by=part("household.presence"), patterns=part("patterns"), climate=AT_SITE)
def presence(by: str, patterns: tuple[DayPattern, ...], climate: Weathered) -> Node | None:
    """How much of the time somebody is at home."""
    pattern = next((p for p in patterns if p.id == by), None)
    if pattern is None or not days_named(pattern):
        return None
    southern = isinstance(climate, Climate) and climate.weather.latitude < 0
    return Entered(f"{pattern.name}, mean", mean(pattern, southern), "percent", "declared", "day pattern", pattern.id, "name")


@STAGES.stage(USE, household=part("household"), people=PEOPLE, reference=REFERENCE, presence=PRESENCE)
def use(household: Household, people: Figure, reference: Figure, presence: Node | None) -> HouseholdUse:
    """Internal gains and electricity."""
    listed = [a for a in household.appliances if a.energy is not None]
    energies = tuple(electricity_of(a) for a in listed)
    if household.gains == "simple":
        gains = calc.simple_gains.figure(density=need(household, "simple_gains"), area=reference)
    else:
        shares = tuple(optional(a, "inside_share", 1.0, "all") for a in listed)
        heat = need(household, "person_heat")
        if presence is not None:
            heat = calc.person_mean.figure(heat=heat, presence=presence)
        gains = calc.itemised_gains.figure(people=people, heat=heat, energies=energies, shares=shares)
    label, text = "Household electricity", "household electricity, typed or itemised by appliance"
    if household.electricity is not None:
        return HouseholdUse(gains, take(label, "energy", need(household, "electricity")))
    if energies:
        return HouseholdUse(gains, calc.household_electricity.figure(energies=energies))
    return HouseholdUse(gains, missing(label, "energy", text, "household", "electricity"))


FEWEST, MOST = 15.0, 150.0
"""Floor area of a person [m²] outside of which it is asked: half of the usual 30, more than twice the usual 60 (common practice, no source)."""
MOST_GAINS, MOST_ELECTRIC = 8.0, 14.0
"""Internal gains, and electricity as a mean power, above which it is asked [W/m²]: offices have 10 and more (common practice, no source)."""


@STAGES.stage(ASKS, household=part("household"), people=PEOPLE, use=USE, reference=REFERENCE)
def asks(household: Household, people: Figure, use: HouseholdUse, reference: Figure) -> tuple[Question, ...]:
    """People, gains and electricity that are far from those of a dwelling: an office's values left in a home."""
    area, number = reference.value, people.value
    if area is None or not float(area) > 0:
        return ()
    found = []
    if number is not None and float(number) > 0 and not FEWEST <= float(area) / float(number) <= MOST:
        each = float(area) / float(number)
        field = "floor_per_person" if household.people is None and household.floor_per_person is not None else "people"
        says = f"{float(number):.3g} people have {{0}} each ({1 / each:.3f} a m²); in dwellings 30 to 60 m² are usual: are they right?"
        found.append(Question("household", field, says, ((each, "area"),)))
    gains = household.simple_gains
    if household.gains == "simple" and gains is not None and gains.value > MOST_GAINS:
        says = "Internal gains of {0} are those of an office; dwellings have 2 to 5 W/m²: are they right?"
        found.append(Question("household", "simple_gains", says, ((gains.value, "heat_flux"),)))
    used = use.electricity.value
    if used is not None and float(used) / 8.76 / float(area) > MOST_ELECTRIC:
        power = float(used) / 8.76 / float(area)
        field = "electricity" if household.electricity is not None else "appliances"
        says = "Household electricity is {0} in the mean; lights and plugs of dwellings take 3 to 7 W/m²: is it right?"
        found.append(Question("household", field, says, ((power, "heat_flux"),)))
    return tuple(found)
