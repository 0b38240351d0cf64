"""Hot water by draw-offs, cold water by its ends, collectors by the f-chart: check values, months by hand, energy kept from sun to taps."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.energy.use_stages import USES
from nuthatch.core.model.home import Home
from nuthatch.core.model.hot_water import DrawOff, SolarField
from nuthatch.core.model.part import replace
from nuthatch.core.model.site import HorizonPoint
from nuthatch.core.options.ready import at_hand
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.results.figure import Unknown
from nuthatch.core.sketch import Path, Text
from nuthatch.core.units import INCH_POUND, kind_of, using
from nuthatch.core.views.hot_water import brought, hot_water, lost, month_rows, saved_by_sun, solar_share, words_of_saved
from nuthatch.core.water import hot_water as water_calc
from nuthatch.core.water import solar
from nuthatch.core.water.stages import WATER
from tests.simple_home import g, simple_home

HOURS = MONTH_HOURS.astype(float)
WATER_HEAT = 4186 / 3.6e6


def with_water(home: Home, **fields: object) -> Home:
    return replace(home, water=replace(home.water, **fields))


def field(**fields: object) -> SolarField:
    values = {
        "area": g(5.0),
        "values": "at the inlet",
        "optical": g(0.75),
        "loss": g(4.0),
        "tilt": g(45.0),
        "azimuth": g(180.0),
        "volume": g(300.0),
    }
    return SolarField(id="solar-1", name="Collectors", **{**values, **fields})  # type: ignore[arg-type]


def test_the_correlation_at_its_check_value_and_within_its_bounds() -> None:
    """X 2, Y 1 → 0.683 (Klein, Beckman and Duffie's polynomial)."""
    assert float(solar.f_chart(np.array(2.0), np.array(1.0))) == pytest.approx(0.683, abs=5e-4)
    assert float(solar.f_chart(np.array(0.0), np.array(0.0))) == 0.0 and float(solar.f_chart(np.array(17.0), np.array(0.1))) == 0.0
    half = float(solar.f_chart(np.array(18.0), np.array(1.5)))
    assert float(solar.f_chart(np.array(36.0), np.array(3.0))) == pytest.approx(half), (
        "outside its range both are divided by the same number"
    )


@pytest.mark.parametrize(("key", "share", "heat"), [("marrowby", 0.635, 1809), ("verrin", 0.89, None)])
def test_a_year_of_the_method(key: str, share: float, heat: float | None, request: pytest.FixtureRequest) -> None:
    """4 people, 25 l at 60 °C, 5 m² south 45°, F_R(τα) 0.75, F_R·U_L 4.0, 300 l, a store of 2 W/K."""
    c: Climate = request.getfixturevalue(key)
    demand = 4 * 25 * HOURS / 24 * WATER_HEAT * (60 - c.cold_water) + 2 * 40 * HOURS / 1000
    found = solar.solar_heat.function(demand, 5.0, 0.75, 4.0, c.plane(45, 180).months(), 60.0, c.cold_water, c.temperature, 300.0, HOURS)
    assert found.sum() / demand.sum() == pytest.approx(share, abs=0.01)
    assert heat is None or found.sum() == pytest.approx(heat, abs=1)
    one = 25 * HOURS / 24 * WATER_HEAT * (60 - c.cold_water)
    large = solar.solar_heat.function(one, 5.0, 0.75, 4.0, c.plane(45, 180).months(), 60.0, c.cold_water, c.temperature, 300.0, HOURS)
    assert key != "marrowby" or large[0] / one[0] == pytest.approx(0.42, abs=0.02), (
        "a field far too large for one person is not at 100 % in January"
    )


def test_one_month_by_hand() -> None:
    """March, 744 h: L 300 kWh, 5 m², H 90 kWh/m², θ_e 6, θ_c 8, θ_h 60 °C, 300 l: M 60 l/m², (60/75)^−0.25."""
    twelve = np.ones(12)
    x, y = solar.x_and_y(300 * twelve, 5.0, 0.75, 4.0, 90 * twelve, 60.0, 8 * twelve, 6 * twelve, 300.0, HOURS)
    assert x[2] == pytest.approx(5 * 4 * 0.97 * (11.6 + 1.18 * 60 + 3.86 * 8 - 2.32 * 6) * 0.744 / 300 * (60 / 75) ** -0.25)
    assert y[2] == pytest.approx(5 * 0.75 * 0.97 * 0.96 * 90 / 300)
    assert solar.tank_factor(10_000, 5.0) == pytest.approx(4**-0.25) and solar.tank_factor(1.0, 5.0) == pytest.approx(0.5**-0.25)


@settings(deadline=None, max_examples=60)
@given(st.floats(0.1, 60), st.floats(0.1, 20), st.floats(1, 800), st.floats(0, 250))
def test_more_collector_never_gives_less_and_never_more_than_is_needed(area: float, more: float, demand: float, sun: float) -> None:
    args = (0.75, 4.0, np.full(12, sun), 55.0, np.full(12, 10.0), np.full(12, 12.0))
    need = np.full(12, demand)
    one, two = (solar.solar_heat.function(need, a, *args, 75 * a, HOURS) for a in (area, area + more))
    assert (two >= one - 1e-9).all() and (two <= need + 1e-9).all() and (one >= 0).all()


def test_nothing_needed_and_no_area_are_nothing_and_finite(marrowby: Climate) -> None:
    zero = solar.solar_heat.function(
        np.zeros(12), 5.0, 0.75, 4.0, np.full(12, 50.0), 60.0, np.full(12, 8.0), np.full(12, 5.0), 300.0, HOURS
    )
    assert (zero == 0).all()
    for made in (with_water(simple_home(), solar=(field(area=g(0.0)),)), with_water(simple_home(), solar=(field(),), litres=g(0.0))):
        a = assess(made, marrowby)
        assert np.isfinite(a[WATER].solar.value).all()  # type: ignore[union-attr]


def test_a_sheet_at_the_mean_is_turned_to_the_inlet(marrowby: Climate) -> None:
    """k 0.97: η₀ 0.78 → 0.757; a₁ 3.7, a₂ 0.012 → 0.97·(3.7 + 0.48) = 4.055."""
    assert solar.optical_at_inlet.function(0.78) == pytest.approx(0.7566) and solar.loss_at_inlet.function(3.7, 0.012) == pytest.approx(
        4.0546
    )
    sheet = field(values="at the mean", optical=g(0.78), loss=g(3.7), loss_second=g(0.012))
    inlet = field(optical=g(0.7566), loss=g(4.0546))
    a, b = (assess(with_water(simple_home(), solar=(f,)), marrowby)[WATER].solar for f in (sheet, inlet))
    assert a is not None and b is not None and a.value == pytest.approx(b.value)


def test_the_sun_comes_first_and_the_sources_make_the_rest(marrowby: Climate) -> None:
    """Energy is kept month by month: what the sun gives and what the sources make is what is drawn and lost."""
    home = with_water(simple_home(), solar=(field(pump=g(40.0)), replace(field(area=g(2.0)), id="solar-2", name="More")))
    a, bare = assess(home, marrowby), assess(simple_home(), marrowby)
    w = a[WATER]
    assert w.solar is not None and w.solar.value + w.rest.value == pytest.approx(w.months.value)
    assert w.months.value == pytest.approx(bare[WATER].months.value), "what is needed is what was needed"
    parts = [h.value for _, h in w.fields]
    assert len(parts) == 2 and sum(parts) == pytest.approx(w.solar.value) and (np.array(parts) >= 0).all()
    used = {u.name: u.energy.value for u in a[USES]}
    before = {u.name: u.energy.value for u in bare[USES]}
    for s in home.sources:
        if s.water_share is not None and s.water_share.value > 0:
            left = w.rest.value.sum() / w.months.value.sum()
            assert used[f"{s.name}, hot water"] == pytest.approx(before[f"{s.name}, hot water"] * left)
    assert used["Collectors, pump"] == 40.0
    saved = sum(v for k, v in before.items() if k.endswith("hot water")) - sum(v for k, v in used.items() if k.endswith("hot water"))
    gained = saved_by_sun(a)
    assert gained is not None and gained.energy == pytest.approx(saved - 40.0) and solar_share(a) == pytest.approx(1 - left)


@pytest.mark.parametrize("own", [True, False], ids=["pump on the carrier of the water", "pump on another"])
def test_what_the_sun_saves_is_the_home_without_it_less_the_home(marrowby: Climate, own: bool) -> None:
    """CO₂ and money by the totals of two whole homes; the pump's electricity is taken off at its own carrier."""
    made = simple_home()
    power = replace(
        made.carriers[0], id="bought", name="Bought power", kind="electricity", co2=g(0.4), price=g(0.31), primary=g(2.0), standing=None
    )
    gas = replace(made.carriers[0], co2=g(0.21), price=g(0.11), standing=g(90.0))
    made = replace(
        made, carriers=(gas, *made.carriers[1:], power), electricity=gas.id if own else "bought",
        sources=tuple(replace(s, carrier=gas.id) for s in made.sources),
    )  # fmt: skip
    home = with_water(made, solar=(field(pump=g(55.0)), replace(field(area=g(2.0), pump=g(25.0)), id="solar-2", name="More")))
    a, bare = assess(home, marrowby), assess(made, marrowby)
    saved = saved_by_sun(a)
    assert saved is not None and saved.co2 is not None and saved.money is not None
    area = a.figures["reference_floor_area"].value
    assert saved.co2 == pytest.approx((bare.figures["co2"].value - a.figures["co2"].value) * area)
    assert saved.money == pytest.approx(bare.figures["energy_cost"].value - a.figures["energy_cost"].value)
    assert dict(saved.carriers).get("Bought power") == (None if own else -80.0)
    assert f"{saved.energy + (0 if own else 80):,.0f}".replace(",", "\u202f")[:3] in words_of_saved(a).replace("\xa0", "\u202f")
    unpriced = replace(home, carriers=tuple(replace(c, price=None) if c.id == gas.id else c for c in home.carriers))
    b = assess(unpriced, marrowby)
    less = saved_by_sun(b)
    assert less is not None and less.money is None and less.co2 == pytest.approx(saved.co2) and "a year" not in words_of_saved(b)
    unknown = replace(home, sources=tuple(replace(s, efficiency=None) for s in home.sources))
    for none in (unknown, replace(home, sources=())):
        c = assess(none, marrowby)
        assert saved_by_sun(c) is None and words_of_saved(c) == "", "pumps alone are no saving"


def test_the_plane_of_collectors_is_typed_or_that_of_their_face(marrowby: Climate) -> None:
    home = simple_home()
    a = assess(home, marrowby)
    from nuthatch.core.solid.stages import BOUNDARY

    face = next(f for f in a.all_of(BOUNDARY).values() if f.role == "roof" and f.tilt > 10) if any(
        f.role == "roof" and f.tilt > 10 for f in a.all_of(BOUNDARY).values()
    ) else next(f for f in a.all_of(BOUNDARY).values() if f.beyond.kind == "outside" and f.role == "wall")  # fmt: skip
    on_face = with_water(home, solar=(field(tilt=None, azimuth=None, face=face.id),))
    typed = with_water(home, solar=(field(tilt=g(face.tilt), azimuth=g(face.azimuth)),))
    one, two = (assess(h, marrowby)[WATER].solar for h in (on_face, typed))
    assert one is not None and two is not None and one.value == pytest.approx(two.value)
    nowhere = assess(with_water(home, solar=(field(tilt=None, azimuth=None),)), marrowby).figures["primary_energy"]
    assert isinstance(nowhere, Unknown) and any("tilt and direction" in n.text for n in nowhere.needs)


def test_a_horizon_and_a_typed_share_take_sun_from_the_collectors(marrowby: Climate) -> None:
    home = with_water(simple_home(), solar=(field(),))
    free = assess(home, marrowby)[WATER].solar
    high = replace(home, site=replace(home.site, horizon=(HorizonPoint(id="h", azimuth=g(180.0), height=g(25.0)),)))
    hidden, half = assess(high, marrowby)[WATER].solar, assess(with_water(home, solar=(field(sunlit=g(0.5)),)), marrowby)[WATER].solar
    assert free is not None and hidden is not None and half is not None
    assert hidden.value.sum() < 0.9 * free.value.sum() and half.value.sum() < hidden.value.sum()


# draw-offs, cold water


def test_draw_offs_by_hand(marrowby: Climate) -> None:
    """Two people: showers of 40 l at 40 °C, 0.8 a person and day; a machine of 12 l at 50 °C once a day for the home."""
    rows = (
        DrawOff(id="d1", name="Shower", litres=g(40), temperature=g(40), number=g(0.8)),
        DrawOff(id="d2", name="Machine", litres=g(12), temperature=g(50), number=g(1), per="the home"),
    )
    home = with_water(simple_home(), demand="by draw-offs", draw_offs=rows, cold=g(10))
    a = assess(replace(home, household=replace(home.household, people=g(2.0))), marrowby)
    useful = a[WATER].months.inputs["useful"].value  # type: ignore[union-attr]
    assert useful == pytest.approx((2 * 0.8 * 40 * 30 + 12 * 40) * WATER_HEAT * HOURS / 24)
    none = assess(with_water(home, draw_offs=()), marrowby).figures["hot_water_demand"]
    assert isinstance(none, Unknown) and none.needs[0].field == "draw_offs"


def test_mixing_at_the_tap() -> None:
    """40 l at 40 °C from a store of 60 °C and cold of 9.6 °C: 24.1 l of the store."""
    assert water_calc.from_store(40, 40, 60, 9.6) == pytest.approx(24.1, abs=0.05)
    assert water_calc.from_store(40, 70, 60, 10) == 40 and water_calc.from_store(40, 12, 60, 15) == 0.0


def test_cold_water_by_its_coldest_and_warmest_month(marrowby: Climate) -> None:
    home = with_water(simple_home(), cold=None, cold_least=g(5.0), cold_most=g(15.0))
    useful = assess(home, marrowby)[WATER].months.inputs["useful"]  # type: ignore[union-attr]
    cold = np.asarray(useful.inputs["cold"].value)  # type: ignore[union-attr]
    assert cold.min() == pytest.approx(5) and cold.max() == pytest.approx(15)
    assert int(cold.argmin()) == int(marrowby.cold_water.argmin())


# reading, units, drawing


def test_a_store_as_its_sheet_says_it() -> None:
    """1 kWh in 24 h at 45 K is 0.926 W/K; 4 W/K is 7.58 Btu/(h·°F); 300 l are 79.3 US gal."""
    assert read("1 kWh/24h", "w_per_k") == pytest.approx(0.926, abs=5e-4) and read("2,4 kWh/d", "w_per_k") == pytest.approx(2.222, abs=5e-4)
    assert read("7.58 Btu/(h·°F)", "w_per_k") == pytest.approx(4, abs=2e-3)
    with using(INCH_POUND):
        assert kind_of("w_per_k").to_shown(4.0) == pytest.approx(7.58, abs=5e-3) and kind_of("litres").to_shown(300.0) == pytest.approx(
            79.3, abs=0.05
        )
    with pytest.raises(BadText):
        read("1 kWh/24h", "u")


def test_gallons_from_fifty_to_a_hundred_and_twenty_degrees() -> None:
    """40 US gal a day from 50 °F to 120 °F all year: 8.5 million Btu."""
    heat = water_calc.useful_heat.function(1.0, 40 * 3.785411784, (120 - 32) / 1.8, np.full(12, (50 - 32) / 1.8), HOURS).sum()
    assert heat * 3412.14 / 1e6 == pytest.approx(8.5, abs=0.05)


def test_a_temperature_that_can_only_be_in_the_other_unit_is_asked_about() -> None:
    def refuse(value: float) -> str:
        return "" if 20 <= value <= 95 else "out of bounds"

    found = read("120", "temperature", refuse)
    assert isinstance(found, Doubt) and found.readings[0][1] == pytest.approx(48.9, abs=0.05) and "120 °C cannot" in found.question
    assert read("60", "temperature", refuse) == 60 and read("120 F", "temperature", refuse) == pytest.approx(48.9, abs=0.05)
    with using(INCH_POUND):
        other = read("55", "temperature", refuse)
        assert isinstance(other, Doubt) and other.readings[0][1] == 55
    assert read("900", "temperature", refuse) == 900, "what fits in neither is refused by the field"


def test_the_way_of_the_water_keeps_its_widths(osier_assessed: Assessment, marrowby: Climate) -> None:
    a = assess(with_water(simple_home(), solar=(field(),)), marrowby)
    whole = float(np.sum(a[WATER].months.value))
    assert sum(b.heat for b in brought(a)) == pytest.approx(whole)
    useful = float(np.sum(a[WATER].months.inputs["useful"].value))  # type: ignore[union-attr]
    assert whole - sum(b.heat for b in lost(a[WATER])) == pytest.approx(useful)
    made = hot_water(a, 600.0, 320.0)
    paths = {i.id: i for i in made.items if isinstance(i, Path) and i.id}

    def high(ident: str) -> float:
        ys = [y for _, y in paths[ident].points]
        return max(ys) - min(ys)

    widths = sum(high(b.id) for b in brought(a))
    assert high("useful") / widths == pytest.approx(useful / whole)
    rows = dict(month_rows(a))
    assert set(rows) >= {"useful", "store", "solar", "rest", "together"} and len(rows["solar"]) == 14
    none = hot_water(assess(with_water(simple_home(), litres=g(0), stores=(), runs=()), marrowby))
    assert "nothing is drawn" in " ".join(i.text for i in none.items if isinstance(i, Text))
    assert "Solar hot water" in " ".join(r.name for r in at_hand(osier_assessed))
