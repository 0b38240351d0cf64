"""Appliances by use and number, the set of a usual home, densities in both readings, an office's values left in a home."""

from __future__ import annotations

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.edits.household_edits import usual_set
from nuthatch.core.household.stages import USE
from nuthatch.core.model.home import Home
from nuthatch.core.model.household import Appliance
from nuthatch.core.model.part import replace
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.household import densities
from tests.simple_home import g, simple_home


def lived_in(**fields: object) -> Home:
    home = simple_home()
    return replace(home, household=replace(home.household, **{"electricity": None, "appliances": (), **fields}))


def asked(a: Assessment) -> list[str]:
    return [q.field for q in a.questions if q.part == "household" and "?" in q.text]


def test_an_appliance_by_its_uses_and_number(marrowby: Climate) -> None:
    """Washing 0.9 kWh a use, 180 uses, two of them: 324 kWh; half of its heat stays."""
    washing = Appliance(id="a", name="Washing", energy=g(0.9), uses=g(180), number=g(2), inside_share=g(0.5))
    a = assess(lived_in(appliances=(washing,), gains="itemised", person_heat=g(80), people=g(0)), marrowby)
    assert a.figures["household_electricity"].value == pytest.approx(324)
    assert a[USE].gains.value == pytest.approx(0.5 * 324 / 8.76)
    once = assess(lived_in(appliances=(replace(washing, number=None),)), marrowby)
    assert once.figures["household_electricity"].value == pytest.approx(162), "one, where the number is not given"
    several = assess(lived_in(appliances=(replace(washing, uses=None),)), marrowby)
    assert several.figures["household_electricity"].value == pytest.approx(1.8), "the energy of a year, where its uses are not given"
    none = assess(lived_in(appliances=(replace(washing, number=g(0)),)), marrowby)
    assert none.figures["household_electricity"].value == 0.0, "zero is zero"
    assert assess(lived_in(), marrowby).figures["household_electricity"].value is None, "unknown is unknown"


def test_the_set_of_a_usual_home(marrowby: Climate) -> None:
    """170 + 200 + 110 + 220 + 420 + 100, 190 a person, 260 for each 100 m² (common practice, no source)."""
    home = lived_in()
    made = apply(usual_set(home, 3.0, 120.0), home)
    assert isinstance(made, Home)
    total = assess(made, marrowby).figures["household_electricity"].value
    assert total == pytest.approx(1220 + 3 * 190 + 1.2 * 260)
    assert all(a.energy is not None and a.energy.basis.value == "assumed" for a in made.household.appliances)
    with pytest.raises(ChangeRefused, match="there already"):
        usual_set(made, 3.0, 120.0)
    some = replace(home, household=replace(home.household, appliances=made.household.appliances[:2]))
    assert len(usual_set(some, 3.0, 120.0).changes) == 6
    with pytest.raises(ChangeRefused, match="needed first"):
        usual_set(home, None, 120.0)


def test_densities_stand_in_both_readings(marrowby: Climate) -> None:
    a = assess(lived_in(people=g(3.0), electricity=None), marrowby)
    area = a.figures["reference_floor_area"].value
    assert f"{3 / area:.2g} a m²" in densities(a) and "3 people" in densities(a)  # type: ignore[operator]
    with using(INCH_POUND):
        assert f"{3 / area * 0.3048**2:.2g} a ft²" in densities(a)  # type: ignore[operator]
    assert "nobody" in densities(assess(lived_in(people=g(0.0)), marrowby))


def test_an_offices_values_left_in_a_home_are_asked_about(marrowby: Climate) -> None:
    assert asked(assess(lived_in(), marrowby)) == []
    area = assess(lived_in(), marrowby).figures["reference_floor_area"].value
    assert asked(assess(lived_in(people=g(area / 10)), marrowby)) == ["people"]  # type: ignore[operator]
    assert asked(assess(lived_in(people=None, floor_per_person=g(10.0)), marrowby)) == ["floor_per_person"]
    assert asked(assess(lived_in(simple_gains=g(11.0)), marrowby)) == ["simple_gains"]
    bright = Appliance(id="a", name="Lights", energy=g(20 * 8.76 * area))  # type: ignore[operator]
    assert asked(assess(lived_in(appliances=(bright,)), marrowby)) == ["appliances"]
    usual = apply(usual_set(lived_in(), 3.0, float(area)), lived_in())  # type: ignore[arg-type]
    assert isinstance(usual, Home) and asked(assess(usual, marrowby)) == []
