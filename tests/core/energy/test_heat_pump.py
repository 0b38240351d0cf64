"""Heat pumps by the points of their data sheet: the method's check value, curves and months by hand, the whole home by a second way."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.energy import heat_pump as calc
from nuthatch.core.energy.sheets import sheet_questions
from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.energy.use_stages import PERFORMS, USES
from nuthatch.core.model.heat import HeatSource, PerformancePoint
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.results.figure import Known, Unknown
from nuthatch.core.sketch import Path, Text
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.heat_power import heat_by_hour, heat_pump, performance_rows, season
from nuthatch.core.water.stages import WATER
from tests.simple_home import g, simple_home

SHEET = [(7.0, 35.0, 4.6), (2.0, 35.0, 3.6), (-7.0, 35.0, 2.9)]
HIGH = [*SHEET, (7.0, 55.0, 2.8), (2.0, 55.0, 2.3), (-7.0, 55.0, 1.9)]


def at(points: list[tuple[float, float, float]], source: float, flow: float) -> float:
    return float(calc.performance(points, np.array(source), np.array(flow)))


def test_the_check_value_of_the_method() -> None:
    """A7/W35 4.6, A2/W35 3.6, A−7/W35 2.9: at 0/45 °C the share of Carnot 0.388, COP 2.74."""
    assert float(calc.share_at(SHEET, np.array(0.0), np.array(45.0))) == pytest.approx(0.388, abs=5e-4)
    assert at(SHEET, 0, 45) == pytest.approx(2.74, abs=5e-3)


def test_points_come_back_and_what_lies_between_is_linear_in_the_share() -> None:
    for source, flow, cop in HIGH:
        assert at(HIGH, source, flow) == pytest.approx(cop)
    eta35, eta55 = (2.3 * 0 + c * (f - s) / (f + 273.15) for s, f, c in ((2.0, 35.0, 3.6), (2.0, 55.0, 2.3)))
    assert at(HIGH, 2, 45) == pytest.approx((eta35 + eta55) / 2 * (45 + 273.15) / 43), "half way between two flows"
    assert float(calc.share_at(HIGH, np.array(20.0), np.array(70.0))) == pytest.approx(2.8 * 48 / 328.15), "outside the sheet it is held"
    assert at(SHEET, 30, 35) == pytest.approx(4.6 * 28 / 308.15 * 308.15 / 15), "a lift below 15 K counts as 15 K"


@settings(deadline=None, max_examples=80)
@given(st.floats(-25, 35), st.floats(0, 15), st.floats(25, 65))
def test_a_hotter_source_never_makes_it_worse(source: float, more: float, flow: float) -> None:
    assert at(HIGH, source + more, flow) >= at(HIGH, source, flow) - 1e-9
    if flow - source >= calc.LEAST_LIFT:
        assert at(HIGH, source, flow + more) <= at(HIGH, source, flow) + 1e-9, "and a hotter flow never better"


def test_the_heating_curve_by_hand() -> None:
    """Design −4 °C, 45 °C: at 6 °C outdoors half of the way, 35 °C; from 16 °C on 25 °C; colder than the design it stays."""
    assert calc.curve(np.array([-20.0, -4.0, 6.0, 16.0, 30.0]), -4.0, 45.0) == pytest.approx([45, 45, 35, 25, 25])
    assert calc.curve(np.array([-9.0, 20.0]), -4.0, 22.0) == pytest.approx([22, 22]), "a curve never rises with the air"
    assert np.isfinite(calc.curve(np.array([10.0, 20.0]), 18.0, 40.0)).all(), "where it is never cold"


def test_the_ground_loop_by_hand() -> None:
    months = np.array([0.0] * 6 + [12.0] * 6)
    mean = (months * MONTH_HOURS).sum() / 8760
    found = calc.ground(months)
    assert found[0] == pytest.approx(mean + 0.25 * (12 - mean) - 2) and found[7] == pytest.approx(mean + 0.25 * (0 - mean) - 2)
    assert found[8] == pytest.approx(mean + 0.25 * (12 - mean) - 2)


def two_months() -> np.ndarray:
    """January: half of its hours −5 °C, half 5 °C; July 10 °C throughout; else 20 °C."""
    outside = np.full(8760, 20.0)
    january = MONTH_OF_HOUR == 0
    outside[january] = np.tile([-5.0, 5.0], 372)
    outside[MONTH_OF_HOUR == 6] = 10.0
    return outside


def test_a_seasonal_performance_of_two_months_by_hand() -> None:
    """January: mean 0, losses 1000, heating 600 kWh at 20 °C inside: base 12 °C, so its hours weigh 17 to 7. July: all hours alike."""
    outside, heating, losses = two_months(), np.zeros(12), np.full(12, 1e-9)
    heating[0], losses[0], heating[6], losses[6] = 600.0, 1000.0, 50.0, 200.0
    curve = calc.curve(np.array([-5.0, 5.0, 10.0]), -20 / 3, 40.0)
    cold, warm, mild = (at(SHEET, s, float(f)) for s, f in zip((-5.0, 5.0, 10.0), curve, strict=True))
    sources, flows, cops = (tuple(p[n] for p in SHEET) for n in range(3))
    found = calc.on_heating(sources, flows, cops, outside, outside, -20 / 3, 40.0, heating, losses, 20.0)
    assert found[0] == pytest.approx(24 / (17 / cold + 7 / warm)) and found[6] == pytest.approx(mild)
    weight = calc.weights(outside, heating, losses, 20.0)
    assert weight[0] / weight[1] == pytest.approx(17 / 7)
    energy = calc.delivered(heating, found)
    assert energy == pytest.approx(600 * (17 / cold + 7 / warm) / 24 + 50 / mild)


def test_hot_water_goes_by_the_store_and_five_kelvin() -> None:
    outside = np.full(8760, 2.0)
    sources, flows, cops = (tuple(p[n] for p in HIGH) for n in range(3))
    assert calc.on_water(sources, flows, cops, outside, 50.0) == pytest.approx(np.full(12, 2.3))
    by_month = calc.on_water(sources, flows, cops, np.linspace(-7, 7, 12), 50.0)
    assert by_month[0] == pytest.approx(1.9) and by_month[11] == pytest.approx(2.8) and (np.diff(by_month) > 0).all()


def pumped(home: Home, **fields: object) -> Home:
    points = tuple(PerformancePoint(id=f"p{n}", source=g(s), flow=g(f), cop=g(c)) for n, (s, f, c) in enumerate(HIGH))
    source = replace(home.sources[0], kind="heat pump", efficiency=None, flow_design=g(40.0), points=points)
    return replace(home, sources=(replace(source, **fields), *home.sources[1:]))


def test_a_whole_home_by_a_second_way(osier_assessed: Assessment) -> None:
    """Every hour of the year one after the other, in plain numbers, against what the home delivers."""
    a = osier_assessed
    pump = a.home.sources[0]
    points = [(p.source.value, p.flow.value, p.cop.value) for p in pump.points]  # type: ignore[union-attr]
    assert a.site_climate is not None
    air, design = a.site_climate.weather.temperature, a.site_climate.winter_design
    needs, losses = np.asarray(a[BALANCE].heating.value), np.asarray(a[BALANCE].loss.value)

    def share(source: float, flow: float) -> float:
        rows = {f: sorted((s, c * max(f - s, 15) / (f + 273.15)) for s, ff, c in points if ff == f) for f in (35.0, 55.0)}
        ends = [np.interp(source, [s for s, _ in rows[f]], [e for _, e in rows[f]]) for f in (35.0, 55.0)]
        return float(np.interp(flow, (35.0, 55.0), ends))

    total = hour = 0
    for month in range(12):
        count = int(MONTH_HOURS[month])
        temps = air[hour : hour + count]
        hour += count
        if needs[month] <= 0:
            continue
        base = temps.mean() + needs[month] / losses[month] * (20.0 - temps.mean())
        heat = electricity = 0.0
        for t in temps:
            w = max(base - t, 0.0)
            flow = 38.0 if t <= design else 25.0 if t >= 16 else 38 + (25 - 38) * (t - design) / (16 - design)
            heat += w
            electricity += w * max(flow - t, 15) / (share(float(t), flow) * (flow + 273.15))
        total += needs[month] * electricity / heat
    use = next(u for u in a[USES] if u.name.endswith("heating"))
    assert use.energy.value == pytest.approx(total, rel=1e-6)
    water = next(u for u in a[USES] if u.name.endswith("hot water"))
    assert water.energy.value == pytest.approx(
        float((np.asarray(a[WATER].months.value) / a[PERFORMS][(pump.id, "water_share")].factor.value).sum())
    )  # type: ignore[operator]


def test_a_typed_efficiency_wins_and_without_points_it_is_asked(marrowby: Climate) -> None:
    home = simple_home()
    by_sheet, typed = pumped(home), pumped(home, efficiency=g(3.0))
    a, b = assess(by_sheet, marrowby), assess(typed, marrowby)
    assert a[PERFORMS] and not b[PERFORMS]
    use = next(u for u in b[USES] if u.name.endswith("heating"))
    demand = b.figures["heating_demand"].value * b.figures["reference_floor_area"].value  # type: ignore[operator]
    assert use.energy.value == pytest.approx(demand * home.sources[0].heating_share.value / 3)  # type: ignore[union-attr]
    bare = assess(pumped(home, points=()), marrowby).figures["primary_energy"]
    assert isinstance(bare, Unknown) and any(n.field == "efficiency" for n in bare.needs)
    cold = assess(pumped(home, flow_design=None), marrowby).figures["primary_energy"]
    assert isinstance(cold, Unknown) and any(n.field == "flow_design" for n in cold.needs)
    nowhere = assess(pumped(home), None).figures["primary_energy"]
    assert isinstance(nowhere, Unknown)


def test_where_it_takes_its_heat_from(marrowby: Climate) -> None:
    """In the cold of a winter the rooms' air is the warmest source, then the ground, then the air outside."""
    found = {}
    for source in ("outside air", "ground", "exhaust air"):
        a = assess(pumped(simple_home(), takes_from=source), marrowby)
        found[source] = season(a[PERFORMS][(simple_home().sources[0].id, "heating_share")])
    assert found["exhaust air"] > found["ground"] > found["outside air"]  # type: ignore[operator]
    told = assess(pumped(simple_home(), takes_from="ground", ground_temperature=g(2.0)), marrowby)
    assert season(told[PERFORMS][(simple_home().sources[0].id, "heating_share")]) < found["ground"]  # type: ignore[operator]


def test_beside_collectors_it_makes_the_rest(marrowby: Climate) -> None:
    """Month by month what the sun leaves, over the performance of that month: summer's good months fall to the sun."""
    from nuthatch.core.model.hot_water import SolarField

    field = SolarField(
        id="s", name="Sun", area=g(4), values="at the inlet", optical=g(0.75), loss=g(4), tilt=g(45), azimuth=g(180), volume=g(300)
    )
    home = pumped(simple_home())
    a = assess(replace(home, water=replace(home.water, solar=(field,))), marrowby)
    share, factor = home.sources[0].water_share.value, np.asarray(a[PERFORMS][(home.sources[0].id, "water_share")].factor.value)  # type: ignore[union-attr]
    use = next(u for u in a[USES] if u.name == f"{home.sources[0].name}, hot water")
    assert share > 0 and use.energy.value == pytest.approx(share * float((np.asarray(a[WATER].rest.value) / factor).sum()))


def test_cooling_has_a_performance_of_its_own(verrin: Climate) -> None:
    home = simple_home("verrin-plain")
    served = pumped(home, cooling_share=g(1.0), cooling_performance=g(3.0))
    others = tuple(replace(s, cooling_share=g(0.0)) for s in served.sources[1:])
    a = assess(replace(served, sources=(served.sources[0], *others)), verrin)
    use = next(u for u in a[USES] if u.name.endswith("cooling"))
    demand = a.figures["cooling_demand"].value * a.figures["reference_floor_area"].value  # type: ignore[operator]
    assert demand > 0 and use.energy.value == pytest.approx(demand / 3)


def test_odd_sheets_are_asked_about() -> None:
    points = (
        PerformancePoint(id="a", source=g(7.0), flow=g(35.0), cop=g(4.6)),
        PerformancePoint(id="b", source=g(7.0), flow=g(35.0), cop=g(4.1)),
        PerformancePoint(id="c", source=g(2.0), flow=g(35.0), cop=g(9.0)),
        PerformancePoint(id="d", source=g(2.0), flow=g(55.0)),
    )
    found = {q.part: q.text for q in sheet_questions((HeatSource(id="s", name="Pump", kind="heat pump", points=points),))}
    assert set(found) == {"b", "c", "d"} and "two COPs at 7.0" in found["b"] and "96 % of what Carnot" in found["c"]
    assert not list(sheet_questions((HeatSource(id="s", name="Boiler", kind="boiler", points=points),)))


def test_the_heat_of_the_hours_is_the_heat_of_the_months(osier_assessed: Assessment) -> None:
    known = osier_assessed[PERFORMS][("heat-pump", "heating_share")].factor
    assert isinstance(known, Known)
    heat = heat_by_hour(osier_assessed, known)
    assert np.bincount(MONTH_OF_HOUR, heat, minlength=12) == pytest.approx(np.asarray(osier_assessed[BALANCE].heating.value), abs=1e-9)


def test_its_drawing_and_its_list(osier_assessed: Assessment) -> None:
    for system in ("metric", INCH_POUND):
        with using(system):
            made = heat_pump(osier_assessed)
            assert sum(1 for i in made.items if isinstance(i, Path) and i.id.startswith("bin:")) > 10
            assert any(isinstance(i, Text) and i.text == "COP" for i in made.items)
    rows = dict(performance_rows(osier_assessed))
    assert rows["heating_share"][-1] == "3.91" and rows["heating_share"][7] == "", "no performance in a month without heating"
    bare = apply(SetValue(part="heat-pump", field="efficiency", value=declared(2.5)), osier_assessed.home)
    assert isinstance(bare, Home)
    words = " ".join(i.text for i in heat_pump(assess(bare, osier_assessed.climate, osier_assessed)).items if isinstance(i, Text))
    assert "data sheet" in words
