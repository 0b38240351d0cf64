"""Appliances and lights of a usual home, as changes."""

from __future__ import annotations

from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.model.home import Home
from nuthatch.core.model.household import Appliance, ApplianceSet
from nuthatch.core.model.part import Given, replace

SOURCE = "a usual home, common practice, no source"
EACH_HOME = (
    ("Fridge-freezer", 170.0, 1.0),
    ("Dishwasher", 200.0, 0.6),
    ("Washing machine", 110.0, 0.4),
    ("Dryer", 220.0, 0.5),
    ("Cooking", 420.0, 0.6),
    ("Small things", 100.0, 1.0),
)
"""Name, electricity [kWh/a], and the share of its heat that stays in the home."""
MEDIA, LIGHTS = 190.0, 260.0
"""Media and work of a person [kWh/a]; lights of 100 m² [kWh/a]."""


@refusing
def own_set(home: Home, own: ApplianceSet) -> Batch:
    """The appliances of an office's own set, those that are not there by name, each with the set as its source. Raises ChangeRefused."""
    there = {a.name.casefold() for a in home.household.appliances}
    rows = [a for a in own.appliances if a.name.casefold() not in there]
    if not rows:
        raise ChangeRefused(f"all of “{own.name}” is there already")
    ids = fresh_ids(home, "appliance", len(rows))
    kept = {p.id for p in home.patterns}
    made = (replace(a, id=i, room="", pattern=a.pattern if a.pattern in kept else "") for i, a in zip(ids, rows, strict=True))
    return Batch(label=f"{len(rows)} of “{own.name}”", changes=tuple(Insert(owner="household", field="appliances", value=a) for a in made))


def set_of(home: Home, ident: str, name: str) -> ApplianceSet:
    """The appliances of a home as a set for the office."""
    rows = tuple(replace(a, id=f"{ident}.{n}", room="", pattern="") for n, a in enumerate(home.household.appliances, 1))
    return ApplianceSet(id=ident, name=name, appliances=rows)


@refusing
def usual_set(home: Home, people: float | None, area: float | None) -> Batch:
    """The appliances and lights of a usual home by its people and floor area [m²], those that are not there by name; each assumed. Raises
    ChangeRefused."""
    if people is None or area is None:
        raise ChangeRefused("people and floor area are needed first: bedrooms in Brief, sizes in Shape")

    def given(value: float) -> Given:
        return Given(value=round(value, 1), source=SOURCE)

    rows = [*EACH_HOME, ("Media and work", MEDIA * people, 1.0), ("Lights", LIGHTS * area / 100, 1.0)]
    there = {a.name.casefold() for a in home.household.appliances}
    rows = [r for r in rows if r[0].casefold() not in there]
    if not rows:
        raise ChangeRefused("all of a usual home's appliances are there already")
    ids = fresh_ids(home, "appliance", len(rows))
    made = (
        Appliance(id=i, name=name, energy=given(energy), inside_share=Given(value=inside, source=SOURCE))
        for i, (name, energy, inside) in zip(ids, rows, strict=True)
    )
    return Batch(
        label=f"{len(rows)} appliances and lights", changes=tuple(Insert(owner="household", field="appliances", value=a) for a in made)
    )
