"""How the household hangs in the graph: people, internal gains, electricity."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.household import people as calc
from nuthatch.core.model.part import Given
from nuthatch.core.model.services import Household
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.calculation import take
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Entered, Figure, Node, Unknown, missing
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


@STAGES.stage(USE, household=part("household"), people=PEOPLE, reference=REFERENCE)
def use(household: Household, people: Figure, reference: Figure) -> HouseholdUse:
    """Internal gains and electricity."""
    listed = [a for a in household.appliances if a.energy is not None]
    energies = tuple(need(a, "energy") for a in listed)
    if household.gains == "simple":
        gains = calc.simple_gains.figure(density=need(household, "simple_gains"), area=reference)
    else:
        shares = tuple(optional(a, "inside_share", 1.0, "all") for a in listed)
        gains = calc.itemised_gains.figure(people=people, heat=need(household, "person_heat"), energies=energies, shares=shares)
    label, text = "Household electricity", "household electricity, typed or itemised by appliance"
    if household.electricity is not None:
        return HouseholdUse(gains, take(label, "energy", need(household, "electricity")))
    if energies:
        return HouseholdUse(gains, calc.household_electricity.figure(energies=energies))
    return HouseholdUse(gains, missing(label, "energy", text, "household", "electricity"))
