"""Single steps of the balance worked by hand, each with its clause: what a changed sign, factor or flag would move."""

from __future__ import annotations

from math import log, pi

import numpy as np
import pytest

from nuthatch.core.assess import assess
from nuthatch.core.edits.changes import Batch, SetValue, apply
from nuthatch.core.energy.stages import COOLING
from nuthatch.core.fabric import buildup
from nuthatch.core.fabric.openings import shade_by_month
from nuthatch.core.fabric.stages import SLAB
from nuthatch.core.household.people import itemised_gains
from nuthatch.core.household.stages import USE
from nuthatch.core.model.home import Appliance, BuildUp, Home, Layer
from nuthatch.core.model.part import replace
from nuthatch.core.water.stages import WATER
from tests.simple_home import g, layer, simple_home

DAYS = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])


def changed(home: Home, **fields: object) -> Home:
    """A home with fields set, written part__field."""
    sets = tuple(SetValue(part=k.split("__")[0].replace("_", "-"), field=k.split("__")[1], value=v) for k, v in fields.items())
    return apply(Batch(label="x", changes=sets), home)


def test_fasteners_and_gaps_correct_u() -> None:
    """ISO 6946:2017, annex F (form from memory): ΔU counts where it is at least 3 % of U. 200 mm λ 0.035: R_T 5.884, U 0.16995."""
    wall = BuildUp(id="w", name="W", layers=(layer("w.1", 200, 0.035),))
    r = 0.13 + 0.2 / 0.035 + 0.04
    plain = buildup.transmittance(wall, "across", "outside air").value
    assert plain == pytest.approx(1 / r)
    pinned = buildup.transmittance(replace(wall, fasteners=g(0.02)), "across", "outside air").value
    assert pinned == pytest.approx(1 / r + 0.02)
    assert buildup.transmittance(replace(wall, fasteners=g(0.004)), "across", "outside air").value == pytest.approx(1 / r), "below 3 %"
    gaps = buildup.transmittance(replace(wall, gap_level="2", fasteners=g(0.02)), "across", "outside air").value
    assert gaps == pytest.approx(1 / r + 0.02 + 0.04 * (0.2 / 0.035 / r) ** 2)


def test_heat_capacity_counts_the_inner_ten_centimetres() -> None:
    """ISO 13786 simplified rule: at most 10 cm, at most half, up to the first insulation, without air and films."""

    def kappa(*layers: Layer) -> float:
        return float(buildup.areal_capacity(BuildUp(id="b", name="B", layers=layers)).value or 0.0)

    concrete = layer("c", 250, 2.0, 2400, 1000)
    plaster = layer("p", 15, 0.5, 1200, 1000)
    wool = layer("i", 200, 0.035, 30, 1030)
    air = replace(layer("a", 40, 0.2), kind="air layer", conductivity=None)
    assert kappa(wool, concrete) == pytest.approx(0.10 * 2400) and kappa(concrete) == pytest.approx(240), "kJ/(m²·K)"
    assert kappa(layer("thin", 120, 2.0, 2400, 1000)) == pytest.approx(0.06 * 2400), "half of a thin one"
    assert kappa(wool, concrete, plaster) == pytest.approx(0.015 * 1200 + 0.085 * 2400)
    assert kappa(concrete, wool, plaster) == pytest.approx(0.015 * 1200), "nothing behind the insulation"
    assert kappa(concrete, air, plaster) == pytest.approx(0.015 * 1200 + 0.085 * 2400) and kappa(wool) == 0


def test_a_typed_slab_value_gives_up_its_films(marrowby) -> None:
    """ISO 13370:2017, 7.1: R_f = 1/U − 0.17 − 0.04, for the ground adds them itself. 10 × 8 m, soil 2.0, wall 0.3 m."""
    a = assess(changed(simple_home(), slab__u_detailed=g(0.25)), marrowby)
    width, d = 80 / (0.5 * 36), 0.3 + 2.0 * (0.17 + (4.0 - 0.21) + 0.04)
    by_hand = 2 * 2.0 / (pi * width + d) * log(pi * width / d + 1) if d < width else 2.0 / (0.457 * width + d)
    found = a.all_of(SLAB)["floor"]
    assert found is not None and found.u.value == pytest.approx(by_hand, rel=1e-12)


def test_summer_is_in_other_months_south_of_the_equator() -> None:
    """Common practice, no source: the summer value from May to September in the north, November to March in the south."""
    north, south = shade_by_month(0.9, 0.5, 1.0), shade_by_month(0.9, 0.5, 0.0)
    assert [m for m in range(12) if north[m] == 0.5] == [4, 5, 6, 7, 8]
    assert [m for m in range(12) if south[m] == 0.5] == [0, 1, 2, 10, 11]


def test_itemised_gains_and_electricity_by_hand(marrowby) -> None:
    """876 kWh/a all left inside are 100 W; three people at 55 W, less 25 W evaporated and 5 W in cold water each, are 75 W."""
    assert itemised_gains(3, 55.0, (876.0, 438.0), (1.0, 0.5)) == pytest.approx(75 + 100 + 25)
    home = changed(simple_home(), household__gains="itemised", household__person_heat=g(55), household__electricity=None)
    rows = (Appliance(id="a", name="A", energy=g(876)), Appliance(id="b", name="B", energy=g(438), inside_share=g(0.5)))
    use = assess(apply(SetValue(part="household", field="appliances", value=rows), home), marrowby)[USE]
    assert use.gains.value == pytest.approx(200) and use.electricity.value == pytest.approx(1314)


def test_a_store_outside_is_a_loss_and_no_gain(marrowby) -> None:
    """2 W/K at 60 °C in rooms of 20 °C: 80 W, by the hours of the month; inside it is a gain, outside none."""
    home = simple_home()
    inside, outside = assess(home, marrowby)[WATER], assess(changed(home, hot_water__store_inside=False), marrowby)[WATER]
    assert np.asarray(inside.months.value) == pytest.approx(np.asarray(outside.months.value)), "lost all the same"
    assert np.asarray(inside.inside.value) - np.asarray(outside.inside.value) == pytest.approx(2.0 * 40 * DAYS * 24 / 1000)


def test_typed_cold_water_holds_all_year(marrowby) -> None:
    """3 people, 25 l of 60 °C a day from 12 °C: 3 · 25 · 4186 J/(l·K) · 48 K = 4.186 kWh a day."""
    home = changed(
        simple_home(), hot_water__cold=g(12), hot_water__store_loss=None, hot_water__circulation_length=g(0), hot_water__draws=g(0)
    )
    months = assess(home, marrowby)[WATER].months.value
    assert np.asarray(months) == pytest.approx(3 * 25 * 4186 * 48 / 3.6e6 * DAYS)
    colder = assess(changed(home, hot_water__cold=g(6)), marrowby)[WATER].months.value
    assert np.asarray(colder) == pytest.approx(3 * 25 * 4186 * 54 / 3.6e6 * DAYS)


def test_a_bypass_opens_where_it_is_cooler_outside_than_the_cooling_set_point(verrin) -> None:
    """Method, cooling balance: recovery counts only where the month is warmer than 25 °C; heating of a month does not matter."""
    home = changed(simple_home("verrin-plain"), south__count=g(9))
    with_one, without = (assess(changed(home, unit__bypass=on), verrin) for on in (True, False))
    outside = np.asarray(verrin.temperature)
    assert (outside > 25).sum() == 3 and np.asarray(with_one.months["heating_demand"].value)[9] == 0
    fresh = [np.asarray(losses_of(a)) for a in (with_one, without)]
    assert (fresh[0][outside >= 25] == fresh[1][outside >= 25]).all()
    eta = float(with_one.figures["effective_heat_recovery"].value or 0)
    # supply 110, extract 100: 100 recovered in part, 10 not at all
    cool = outside < 25
    assert fresh[0][cool] / fresh[1][cool] == pytest.approx(110 / (100 * (1 - eta) + 10))


def losses_of(a):  # type: ignore[no-untyped-def]
    """Loss of fresh air at the cooling set-point by month, from the working of the cooling."""
    losses = a[COOLING].inputs["losses"]
    return next(n for n in losses.inputs["terms"] if "fresh air" in n.label).value
