"""Sources with limits: power and bivalence by hand over a hand-made climate, several carriers in one, distribution, standby, prices as billed."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.sun import MONTH_OF_HOUR
from nuthatch.core.energy import heat_pump as calc
from nuthatch.core.energy.sources import price_of, share_questions
from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.energy.use_stages import PERFORMS, USES
from nuthatch.core.model.heat import Carrier, FurtherCarrier, HeatSource, PerformancePoint
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.options.money import tariffs_of
from nuthatch.core.results.figure import Unknown
from nuthatch.core.views.heat_power import performance_rows
from nuthatch.core.water.stages import WATER, cold_of
from tests.simple_home import g, simple_home

WOOD = Carrier(id="logs", name="Logs", kind="wood", primary=g(0.2), co2=g(0.02), price=g(0.06))


def january() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Half of the hours −5 °C, half 5 °C; 600 kWh of 1000 at 20 °C inside: base 12 °C, so 17 to 7: 1.142 and 0.470 kWh an hour."""
    outside = np.full(8760, 20.0)
    outside[MONTH_OF_HOUR == 0] = np.tile([-5.0, 5.0], 372)
    heating, losses = np.zeros(12), np.full(12, 1e-9)
    heating[0], losses[0] = 600.0, 1000.0
    return outside, heating, losses


COLD, MILD = 600 * 17 / 24 / 372, 600 * 7 / 24 / 372


def test_a_limit_of_power_by_hand() -> None:
    """At most 0.8 kW: 372 hours of 0.8 and 372 of 0.470; the rest, 372·0.342, is another's."""
    made = calc.made_months.function(*january(), 20.0, power=800.0)
    assert made[0] == pytest.approx(372 * (0.8 + MILD)) and (made[1:] == 0).all()
    half = calc.made_months.function(*january(), 20.0, share=0.5, lost=0.1, power=800.0)
    assert half[0] == pytest.approx(0.55 * 600), "half of it, with a tenth lost on the way, stays below the limit"
    assert calc.left_over.function(np.array([600.0]), made[:1])[0] == pytest.approx(372 * (COLD - 0.8))


def test_bivalence_by_hand() -> None:
    """Alternative at 0 °C: the mild half alone. Parallel at −2 °C without a power: at −2 °C the month wants 14/24 of its cold rate and so on:
    asked·(12 + 2) an hour at most. Parallel with a power: the power alone says it."""
    alone = calc.made_months.function(*january(), 20.0, point=0.0, alone=1.0)
    assert alone[0] == pytest.approx(372 * MILD)
    beside = calc.made_months.function(*january(), 20.0, point=-2.0)
    assert beside[0] == pytest.approx(372 * (MILD * 14 / 7 + MILD))
    powered = calc.made_months.function(*january(), 20.0, point=-2.0, power=700.0)
    assert powered[0] == pytest.approx(372 * (0.7 + MILD))
    ample = calc.made_months.function(*january(), 20.0, point=-2.0, power=1100.0)
    assert ample[0] == pytest.approx(372 * (1.1 + MILD)), "more than at the point, where its power is known"
    above = calc.made_months.function(*january(), 20.0, point=-20.0)
    assert above[0] == pytest.approx(600), "a point colder than every hour takes nothing away"


def test_below_its_point_the_other_makes_all_of_it_in_a_home(marrowby: Climate) -> None:
    """Alternative at 6 °C against both together: less of the pump, more of the boiler, all of it still made."""
    points = (PerformancePoint(id="p", source=g(7.0), flow=g(35.0), cop=g(4.6)),)
    made = {}
    for below in ("both together", "the other alone"):
        home = one_source(
            simple_home(),
            kind="heat pump",
            efficiency=None,
            flow_design=g(40),
            points=points,
            stops_below=g(6.0),
            below=below,
            takes_over="pump",
        )
        known = assess(home, marrowby)[PERFORMS][("boiler", "heating_share")]
        made[below] = float(np.sum(known.heat.value))
        whole = made[below] + float(np.sum(known.rest.value))  # type: ignore[union-attr]
    assert 0 < made["the other alone"] < made["both together"] < whole


def test_performance_counts_the_hours_it_runs() -> None:
    """Alternative at 0 °C: only the mild hours' COP; at 0.8 kW their weights are 0.8 and 0.470."""
    sheet = ((7.0, 2.0, -7.0), (35.0, 35.0, 35.0), (4.6, 3.6, 2.9))
    points = list(zip(*sheet, strict=True))
    outside, heating, losses = january()
    curve = calc.curve(np.array([-5.0, 5.0]), -5.0, 40.0)
    cold, mild = (float(calc.performance(points, np.array(s), f)) for s, f in zip((-5.0, 5.0), curve, strict=True))
    args = (*sheet, outside, outside, -5.0, 40.0, heating, losses, 20.0)
    assert calc.on_heating.function(*args, point=0.0, alone=1.0)[0] == pytest.approx(mild)
    limited = calc.on_heating.function(*args, power=800.0)[0]
    assert limited == pytest.approx((0.8 + MILD) / (0.8 / cold + MILD / mild))


@settings(deadline=None, max_examples=50)
@given(st.floats(1, 20_000), st.floats(1, 20_000), st.floats(-25, 20), st.booleans())
def test_more_power_never_makes_less_and_never_more_than_is_asked(power: float, more: float, point: float, alone: bool) -> None:
    one, two = (calc.made_months.function(*january(), 20.0, power=p, point=point, alone=float(alone)) for p in (power, power + more))
    assert (two >= one - 1e-9).all() and two.sum() <= 600 + 1e-9 and (one >= 0).all()


def one_source(home: Home, **fields: object) -> Home:
    """All by one source; the other stands by."""
    first = replace(home.sources[0], heating_share=g(1), water_share=g(1), cooling_share=g(0), **fields)
    return replace(home, sources=(first, replace(home.sources[1], heating_share=g(0), water_share=g(0), cooling_share=g(1))))


def energies(a: Assessment) -> dict[str, float | None]:
    return {u.name: None if u.energy.value is None else float(u.energy.value) for u in a[USES]}


def test_what_takes_over_makes_the_rest(marrowby: Climate) -> None:
    """A boiler of 1 kW; the other source at its COP of 3. What both make is what is needed; without one that takes over it is asked for."""
    home = one_source(simple_home(), power=g(1000.0), takes_over="pump")
    a = assess(home, marrowby)
    known, needed = a[PERFORMS][("boiler", "heating_share")], float(np.sum(a[BALANCE].heating.value))
    made, left = float(np.sum(known.heat.value)), float(np.sum(known.rest.value))  # type: ignore[union-attr]
    assert made + left == pytest.approx(needed) and left > 0
    found = energies(a)
    assert found["Boiler, heating"] == pytest.approx(made / 0.9) and found["Heat pump for Boiler, heating"] == pytest.approx(left / 3.0)
    nobody = assess(one_source(simple_home(), power=g(1000.0)), marrowby).figures["primary_energy"]
    assert isinstance(nobody, Unknown) and (nobody.needs[0].part, nobody.needs[0].field) == ("boiler", "takes_over")
    itself = assess(one_source(simple_home(), power=g(1000.0), takes_over="boiler"), marrowby).figures["primary_energy"]
    assert isinstance(itself, Unknown)
    both = replace(home, sources=(home.sources[0], replace(home.sources[1], power=g(500.0))))
    limited = assess(both, marrowby).figures["primary_energy"]
    assert isinstance(limited, Unknown) and "without a limit" in limited.needs[0].text
    ample = energies(assess(one_source(simple_home(), power=g(50_000.0)), marrowby))
    assert ample["Boiler, heating"] == pytest.approx(needed / 0.9), "enough power asks for nobody"


def test_what_is_hotter_than_a_heat_pump_can_another_makes(marrowby: Climate) -> None:
    """55 °C of flow heats to 50: (50 − θ_c)/(60 − θ_c) of the month; the COP is that at 55 °C."""
    points = tuple(
        PerformancePoint(id=f"p{n}", source=g(s), flow=g(f), cop=g(c)) for n, (s, f, c) in enumerate(((7.0, 35.0, 4.6), (7.0, 55.0, 2.8)))
    )
    home = one_source(
        simple_home(), kind="heat pump", efficiency=None, flow_design=g(40), points=points, flow_most=g(55.0), takes_over="pump"
    )
    a = assess(home, marrowby)
    cold = np.asarray(cold_of(home.water, a.site_climate).value)  # type: ignore[arg-type]
    asked = np.asarray(a[WATER].rest.value)
    share = (50 - cold) / (60 - cold)
    known = a[PERFORMS][("boiler", "water_share")]
    assert np.asarray(known.heat.value) == pytest.approx(asked * share)
    left = float((asked * (1 - share)).sum())
    assert energies(a)["Heat pump for Boiler, hot water"] == pytest.approx(left / 3.0)
    hot = np.asarray(a[PERFORMS][("boiler", "water_share")].factor.value)  # type: ignore[union-attr]
    free = assess(replace(home, sources=(replace(home.sources[0], flow_most=None), home.sources[1])), marrowby)
    assert (hot > np.asarray(free[PERFORMS][("boiler", "water_share")].factor.value)).all(), "55 °C instead of 65"  # type: ignore[union-attr]
    listed = dict(performance_rows(a, "boiler"))
    assert set(listed) == {"heating_share", "heating_share:used", "water_share", "water_share:used"}


def test_two_carriers_in_one_source(marrowby: Climate) -> None:
    """Wood 70 % at 75 %, the boiler's own gas 30 % at 90 %; they always make all of it."""
    mixed = (FurtherCarrier(id="f", carrier="logs", share=g(0.7), efficiency=g(0.75)),)
    home = one_source(simple_home(), further=mixed)
    home = replace(home, carriers=(*home.carriers, WOOD))
    a = assess(home, marrowby)
    heat, water = float(np.sum(a[BALANCE].heating.value)), float(np.sum(a[WATER].rest.value))
    found = {(u.name, u.carrier.id if u.carrier else ""): float(u.energy.value) for u in a[USES]}  # type: ignore[arg-type]
    assert found[("Boiler by Gas, heating", "gas")] == pytest.approx(0.3 * heat / 0.9)
    assert found[("Boiler by Logs, heating", "logs")] == pytest.approx(0.7 * heat / 0.75)
    assert found[("Boiler by Logs, hot water", "logs")] == pytest.approx(0.7 * water / 0.75)
    limited = replace(home, sources=(replace(home.sources[0], power=g(1000.0), takes_over="pump"), home.sources[1]))
    b = assess(limited, marrowby)
    made = float(np.sum(b[PERFORMS][("boiler", "heating_share")].heat.value))
    by_name = energies(b)
    assert by_name["Boiler, heating by Logs"] == pytest.approx(0.7 * made / 0.75) and by_name["Boiler, heating by Gas"] == pytest.approx(
        0.3 * made / 0.9
    )
    odd = HeatSource(id="s", name="S", heating_share=g(1), water_share=g(1), further=(replace(mixed[0], share=g(0.7)), replace(mixed[0], id="h", share=g(0.6)), replace(mixed[0], id="n", share=None)))  # fmt: skip
    asked = {(q.part, q.field) for q in share_questions((odd,))}
    assert asked == {("s", "further"), ("n", "share")}


def test_a_heat_pump_s_sheet_is_of_its_own_carrier(marrowby: Climate) -> None:
    """A fifth of its heat by a rod at 98 %: the rod's part is not at the pump's COP."""
    points = (PerformancePoint(id="p", source=g(7.0), flow=g(35.0), cop=g(4.6)),)
    rod = (FurtherCarrier(id="f", carrier="logs", share=g(0.2), efficiency=g(0.98)),)
    home = one_source(simple_home(), kind="heat pump", efficiency=None, flow_design=g(40), points=points, carrier="power", further=rod)
    home = replace(home, carriers=(*home.carriers, WOOD))
    a = assess(home, marrowby)
    heat = np.asarray(a[BALANCE].heating.value)
    found = energies(a)
    assert found["Boiler, heating by Logs"] == pytest.approx(0.2 * heat.sum() / 0.98)
    factor = np.asarray(a[PERFORMS][("boiler", "heating_share")].factor.value)  # type: ignore[union-attr]
    assert found["Boiler, heating by Electricity"] == pytest.approx(float((0.8 * heat / factor).sum()))


def test_distribution_and_standby(marrowby: Climate) -> None:
    """A tenth lost on the way to the rooms, not of the water; 5 W all year are 43.8 kWh."""
    plain = energies(assess(one_source(simple_home()), marrowby))
    more = energies(assess(one_source(simple_home(), distribution=g(0.1), standby=g(5.0)), marrowby))
    assert more["Boiler, heating"] == pytest.approx(1.1 * plain["Boiler, heating"])  # type: ignore[operator]
    assert more["Boiler, hot water"] == pytest.approx(plain["Boiler, hot water"]) and more["Boiler, standby"] == pytest.approx(43.8)


def test_prices_as_billed(marrowby: Climate) -> None:
    """Gas at 1.10 a m³ of 10 kWh, a therm at 2.93 (29.3071 kWh), logs at 90 a stacked m³ of 1800 kWh."""
    base = Carrier(id="c", name="C", price=g(5.0))
    assert price_of(base).value == 5.0
    assert price_of(replace(base, billed="m³", unit_price=g(1.1))).value == pytest.approx(0.11)
    assert price_of(replace(base, billed="m³", unit_price=g(1.1), unit_energy=g(11.0))).value == pytest.approx(0.1)
    assert price_of(replace(base, billed="therm", unit_price=g(2.93071))).value == pytest.approx(0.1)
    assert price_of(replace(base, billed="stacked m³", unit_price=g(90))).value == pytest.approx(0.05)
    home = simple_home()
    gas = replace(home.carriers[0], billed="m³", unit_price=g(1.2), standing=g(100))
    home = replace(home, carriers=(gas, replace(home.carriers[1], price=g(0.3))))
    a = assess(home, marrowby)
    used = {c.id: sum(float(u.energy.value) for u in a[USES] if u.carrier is c) for c in home.carriers}  # type: ignore[arg-type, misc]
    assert a.figures["energy_cost"].value == pytest.approx(used["gas"] * 0.12 + used["power"] * 0.3 + 100)
    assert tariffs_of(home)["gas"].price == pytest.approx(0.12), "options count the same price"
    unpriced = assess(replace(home, carriers=(replace(gas, unit_price=None), home.carriers[1])), marrowby).figures["energy_cost"]
    assert isinstance(unpriced, Unknown) and unpriced.needs[0].field == "unit_price"


def test_air_that_leaves_the_unit_and_ground_water(marrowby: Climate) -> None:
    """A compact unit: 20 − η (20 − θ_e) by the hour; ground water as warm as the year's mean outdoors."""
    points = (PerformancePoint(id="p", source=g(7.0), flow=g(35.0), cop=g(4.6)),)
    found = {}
    for takes in ("outside air", "air leaving the unit", "ground water", "exhaust air"):
        home = one_source(simple_home(), kind="heat pump", efficiency=None, flow_design=g(40), points=points, takes_from=takes)
        a = assess(home, marrowby)
        factor = a[PERFORMS][("boiler", "heating_share")].factor
        found[takes] = float(np.asarray(factor.value)[0])  # type: ignore[union-attr]
        if takes == "air leaving the unit":
            eta, out = float(a.figures["effective_heat_recovery"].value), a.site_climate.weather.temperature  # type: ignore[union-attr, arg-type]
            assert np.asarray(factor.inputs["source"].value) == pytest.approx(20 - eta * (20 - out))  # type: ignore[union-attr]
            bare = assess(replace(home, air=replace(home.air, units=())), marrowby)
            assert any("there is no such unit" in q.text for q in bare.questions)
        if takes == "ground water":
            assert factor.inputs["source"].value == pytest.approx(marrowby.annual_mean)  # type: ignore[union-attr]
    assert found["exhaust air"] > found["ground water"] > found["outside air"] and found["air leaving the unit"] > found["outside air"]


def test_a_fire_that_burns_the_air_of_rooms_is_asked_about(marrowby: Climate) -> None:
    home = one_source(simple_home(), kind="stove", stove_air="room air")
    assert any(q.field == "stove_air" for q in assess(home, marrowby).questions)
    outside = one_source(simple_home(), kind="stove")
    assert not any(q.field == "stove_air" for q in assess(outside, marrowby).questions)
