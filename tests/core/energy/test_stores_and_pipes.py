"""Stores and pipes of hot water: what each loses and to whom, by hand; stops, patterns, months; homes of a former version follow."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.climate.calendar import NAMES
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.model.home import Home
from nuthatch.core.model.hot_water import DrawOff, PipeCorner, PipeRun, Store, WaterMonth
from nuthatch.core.model.migrations import migrate
from nuthatch.core.model.part import replace
from nuthatch.core.model.patterns import DayPattern, PatternDay
from nuthatch.core.results.figure import Unknown, leaves
from nuthatch.core.water import hot_water as calc
from nuthatch.core.water.pipes import round_psi
from nuthatch.core.water.stages import WATER, Water
from tests.plan_home import plan_home
from tests.simple_home import g, simple_home

HOURS = MONTH_HOURS.astype(float)
DAYS = HOURS / 24
KWH = 4186 / 3.6e6


def kept(home: Home, climate: Climate, **fields: object) -> Water:
    return assess(replace(home, water=replace(home.water, **fields)), climate)[WATER]


def losses(w: Water) -> dict[str, np.ndarray]:
    return {k.id: np.asarray(k.loss.value) for k in w.kept}


def ring(**fields: object) -> PipeRun:
    return PipeRun.model_validate({"id": "ring", "name": "Ring", "length": g(10), "psi": g(0.2), "hours": g(24), **fields})


def test_the_pipe_of_the_standard() -> None:
    """18 mm, 20 mm of λ 0.035, 10 W/(m²·K) around: 0.170 W/(m·K) (ISO 12241)."""
    assert round_psi(0.018, 0.02, 0.035, 10.0) == pytest.approx(0.170, abs=5e-4)


def test_a_ring_by_hand(marrowby: Climate) -> None:
    """0.2 W/(m·K), 10 m, 40 K above the rooms: 80 W all day; 6 hours with three stops of 6 hours of 2 litres: 60 W·h/K less is held than
    flows: 2.33 Wh/K at each."""
    home = simple_home()
    whole = losses(kept(home, marrowby, runs=(ring(),)))["ring"]
    assert whole == pytest.approx(80 * HOURS / 1000)
    held = 1000 * KWH * 2.0
    each = min(2.0 * 6, held * (1 - math.exp(-2.0 * 6 / held)))
    found = losses(kept(home, marrowby, runs=(ring(hours=g(6), stops=g(3), content=g(2)),)))["ring"]
    assert found == pytest.approx((2.0 * 6 + 3 * each) * 40 * DAYS / 1000)
    never = losses(kept(home, marrowby, runs=(ring(hours=g(0)),)))["ring"]
    assert (never == 0).all(), "a ring that never runs has nothing to lose"
    once, none = (losses(kept(home, marrowby, runs=(ring(hours=g(6), content=g(2), **s),)))["ring"] for s in ({}, {"stops": g(0)}))
    assert once.sum() > none.sum(), "where nothing is said it stops once a day"
    typed = kept(home, marrowby, runs=(ring(psi=None, diameter=g(0.018), insulation=g(0.02), conductivity=g(0.035)),))
    assert losses(typed)["ring"] == pytest.approx(round_psi(0.018, 0.02, 0.035) * 10 * 40 * HOURS / 1000)
    half = kept(home, marrowby, runs=(ring(psi=None, diameter=g(0.018), insulation=g(0.02)),)).months
    assert isinstance(half, Unknown) and half.needs[0].field == "conductivity"
    bare = kept(home, marrowby, runs=(ring(length=None),)).months
    assert isinstance(bare, Unknown) and bare.needs[0].field == "length"


def test_what_a_pipe_holds() -> None:
    """18 mm outside, 16 inside: 0.201 l a metre; where nothing is known 0.2."""
    assert calc.pipe_content.function(0.018, 10.0) == pytest.approx(math.pi / 4 * 0.016**2 * 10 * 1000)
    assert calc.usual_content.function(10.0) == pytest.approx(2.0)


@settings(deadline=None, max_examples=60)
@given(st.floats(0.05, 1), st.floats(0.1, 40), st.floats(0.01, 20), st.floats(0.1, 23.9), st.integers(1, 12))
def test_a_stop_never_costs_more_than_running_on_nor_than_the_content(
    psi: float, length: float, content: float, daily: float, stops: int
) -> None:
    args = (psi, length, 60.0, 20.0)
    stopped = calc.circulation_loss.function(*args, daily, float(stops), content, HOURS)
    assert (stopped <= calc.circulation_loss.function(*args, 24.0, 0.0, content, HOURS) + 1e-9).all()
    running = calc.circulation_loss.function(*args, daily, 0.0, content, HOURS)
    assert (stopped >= running - 1e-12).all() and (stopped - running <= stops * content * KWH * 40 * DAYS + 1e-9).all()


def test_pipes_to_taps_by_hand(marrowby: Climate) -> None:
    """Three people draw six times a day through half a litre; a pipe of 15 mm and 5 m holds π/4·0.013²·5."""
    home = simple_home()
    tap = PipeRun(id="tap", name="Tap", kind="to a tap", content=g(0.5), draws=g(6))
    assert losses(kept(home, marrowby, runs=(tap,)))["tap"] == pytest.approx(3 * 6 * DAYS * 0.5 * KWH * 40)
    drawn = replace(tap, content=None, diameter=g(0.015), length=g(5.0))
    litres = math.pi / 4 * 0.013**2 * 5 * 1000
    assert losses(kept(home, marrowby, runs=(drawn,)))["tap"] == pytest.approx(3 * 6 * DAYS * litres * KWH * 40)


def test_a_pipe_is_as_long_as_drawn(marrowby: Climate) -> None:
    """3 m across, 4 m up on the plan, then 2.5 m to the storey above; a typed length counts instead."""
    corners = tuple(PipeCorner(id=f"c{n}", x=g(x), y=g(y)) for n, (x, y) in enumerate(((0.0, 0.0), (3.0, 0.0), (3.0, 4.0))))
    drawn = ring(length=None, corners=corners, rise=g(2.5))
    home = simple_home()
    assert losses(kept(home, marrowby, runs=(drawn,)))["ring"] == pytest.approx(0.2 * 9.5 * 40 * HOURS / 1000)
    assert losses(kept(home, marrowby, runs=(replace(drawn, length=g(10)),)))["ring"] == pytest.approx(80 * HOURS / 1000)


def test_a_store_by_its_volume_is_assumed(marrowby: Climate) -> None:
    """300 l of class C (EU 812/2013, from memory): 12 + 5.93·300^0.4 = 70.1 W at 45 K, 1.56 W/K."""
    assert calc.store_by_volume.function(300.0) == pytest.approx(1.557, abs=2e-3)
    store = Store(id="store", name="Store", volume=g(300))
    found = kept(simple_home(), marrowby, stores=(store,))
    assert losses(found)["store"] == pytest.approx(calc.store_by_volume.function(300.0) * 40 * HOURS / 1000)
    neither = kept(simple_home(), marrowby, stores=(replace(store, volume=None),)).months
    assert isinstance(neither, Unknown) and neither.needs[0].field == "loss"


def test_several_stores_and_pipes_add_up_and_only_those_inside_warm(marrowby: Climate) -> None:
    """Energy is kept month by month: all that is lost and drawn is what is needed; inside counts what stands inside."""
    stores = (
        Store(id="a", name="A", loss=g(2), temperature=g(60)),
        Store(id="b", name="B", loss=g(1.5), temperature=g(50), place="outside air"),
    )
    runs = (
        ring(),
        replace(ring(), id="cold", place="outside air"),
        PipeRun(id="tap", name="T", kind="to a tap", content=g(0.5), draws=g(6)),
    )
    w = kept(simple_home(), marrowby, stores=stores, runs=runs)
    each = losses(w)
    useful = np.asarray(w.months.inputs["useful"].value)  # type: ignore[union-attr]
    assert useful + sum(each.values()) == pytest.approx(np.asarray(w.months.value))
    assert np.asarray(w.inside.value) == pytest.approx(each["a"] + each["ring"] + each["tap"])
    assert each["b"] == pytest.approx(1.5 * (50 - marrowby.temperature) * HOURS / 1000)
    assert each["cold"] == pytest.approx(2.0 * (60 - marrowby.temperature) * HOURS / 1000)
    none = kept(simple_home(), marrowby, stores=(), runs=())
    assert np.asarray(none.months.value) == pytest.approx(useful) and (np.asarray(none.inside.value) == 0).all()


def test_in_an_unheated_space_by_its_b(marrowby: Climate) -> None:
    """b of the space as the envelope has it: θ_a = 20 − b (20 − θ_e); without such a space it is asked for."""
    from nuthatch.core.fabric.elements import reduction
    from nuthatch.core.fabric.stages import B
    from nuthatch.core.solid.stages import BOUNDARY

    home = plan_home()
    base = assess(home, marrowby)
    face = next(f for f in base.all_of(BOUNDARY).values() if f.beyond.kind == "unheated")
    b = float(reduction(face, base.all_of(B).get(face.beyond.id)).value)
    store = Store(id="s", name="S", loss=g(2), temperature=g(60), place="unheated space", space=face.beyond.id)
    w = kept(home, marrowby, stores=(store,), temperature=g(60))
    assert losses(w)["s"] == pytest.approx(2 * (60 - (20 - b * (20 - marrowby.temperature))) * HOURS / 1000)
    assert (np.asarray(w.inside.value) == 0).all() or not w.kept[0].inside
    first = kept(home, marrowby, stores=(replace(store, space=""),), temperature=g(60))
    assert losses(first)["s"].sum() > 0
    nowhere = kept(simple_home(), marrowby, stores=(replace(store, space=""),)).months
    assert isinstance(nowhere, Unknown) and (nowhere.needs[0].part, nowhere.needs[0].field) == ("s", "space")


def test_a_heat_pump_heats_the_hottest_store(marrowby: Climate) -> None:
    from nuthatch.core.water.led import kept_at

    stores = tuple(Store(id=f"s{n}", name="S", loss=g(1), temperature=g(t)) for n, t in enumerate((50, 70, 60)))
    water = simple_home().water
    assert kept_at(replace(water, stores=stores)).value == 70 and kept_at(replace(water, stores=())).value == 60


def test_the_space_that_is_named_counts(marrowby: Climate) -> None:
    """Two unheated spaces of another b each: a store in the second loses by the second's."""
    from nuthatch.core.model.home import Face

    faces = tuple(
        Face(id=i, name=i, role="wall", area=g(20), tilt=g(90), azimuth=g(180), borders="unheated space", b=g(b), buildup="wall")
        for i, b in (("cold", 0.9), ("mild", 0.3))
    )
    home = simple_home()
    listed = replace(home, shape=replace(home.shape, form=None, faces=faces), openings=())
    spaces = ("unheated-beside cold", "unheated-beside mild")
    found = [
        losses(
            kept(listed, marrowby, stores=(Store(id="s", name="S", loss=g(2), temperature=g(60), place="unheated space", space=space),))
        )["s"]
        for space in spaces
    ]
    for b, lost in zip((0.9, 0.3), found, strict=True):
        assert lost == pytest.approx(2 * (60 - (20 - b * (20 - marrowby.temperature))) * HOURS / 1000)


def test_hours_by_a_pattern_are_its_mean(marrowby: Climate) -> None:
    """On working days 6 of 24 hours, at weekends 12: 7.71 a day; in summer nothing at all."""
    half = (1.0,) * 12 + (0.0,) * 12
    days = (
        PatternDay(id="p.1", days="working days", hours=(1.0,) * 6 + (0.0,) * 18),
        PatternDay(id="p.2", days="weekends", hours=half),
        PatternDay(id="p.3", season="summer", days="weekends", hours=(0.0,) * 24),
        PatternDay(id="p.4", season="summer", days="working days", hours=(0.0,) * 24),
    )
    home = replace(simple_home(), patterns=(DayPattern(id="p", name="P", kind="circulation", days=days),))
    found = losses(kept(home, marrowby, runs=(ring(hours=None, pattern="p", stops=g(0)),)))["ring"]
    winter = np.isin(np.arange(12), (0, 1, 2, 3, 9, 10, 11))
    assert found == pytest.approx(np.where(winter, (5 * 6 + 2 * 12) / 7, 0.0) * 2.0 * 40 * DAYS / 1000)
    silent = replace(home, patterns=(DayPattern(id="p", name="P"),))
    a = assess(replace(silent, water=replace(silent.water, runs=(ring(pattern="p"),))), marrowby)
    assert losses(a[WATER])["ring"] == pytest.approx(80 * HOURS / 1000) and any("says nothing" in q.text for q in a.questions)


def test_months_and_days_of_the_week(marrowby: Climate) -> None:
    """August away, five days a week: 5/7 of the water, none in August; losses go on."""
    plain = kept(simple_home(), marrowby)
    less = kept(simple_home(), marrowby, days_a_week=g(5), months=(WaterMonth(id="m", month="August", share=g(0)),))
    useful, other = (np.asarray(w.months.inputs["useful"].value) for w in (plain, less))  # type: ignore[union-attr]
    share = np.where(np.arange(12) == 7, 0.0, 1.0)
    assert other == pytest.approx(useful * share * 5 / 7) and losses(less)["store"] == pytest.approx(losses(plain)["store"])


def test_cold_water_typed_by_month(marrowby: Climate) -> None:
    """July typed at 15 °C, the others by the climate; all twelve need no climate at all; it wins over a value for all year."""
    one = (WaterMonth(id="m", month="July", cold=g(15)),)
    useful = kept(simple_home(), marrowby, months=one).months.inputs["useful"]  # type: ignore[union-attr]
    cold = marrowby.cold_water.copy()
    cold[6] = 15.0
    assert np.asarray(useful.value) == pytest.approx(3 * 25 * DAYS * KWH * (60 - cold))  # type: ignore[union-attr]
    fixed = kept(simple_home(), marrowby, months=one, cold=g(8)).months.inputs["useful"]  # type: ignore[union-attr]
    assert np.asarray(fixed.value)[[5, 6]] == pytest.approx(3 * 25 * DAYS[[5, 6]] * KWH * np.array([52, 45]))  # type: ignore[union-attr]
    twelve = tuple(WaterMonth(id=f"m{n}", month=name, cold=g(5 + n)) for n, name in enumerate(NAMES))  # type: ignore[arg-type]
    home = simple_home()
    alone = assess(replace(home, water=replace(home.water, months=twelve)), None)[WATER].months
    lost = 2.0 * 40 * HOURS / 1000
    assert alone.value is not None and (np.asarray(alone.value) > lost).all()


@settings(deadline=None, max_examples=40)
@given(st.floats(0, 0.2), st.floats(0.001, 0.2))
def test_more_insulation_never_raises_what_a_pipe_loses(thick: float, more: float) -> None:
    """Beyond the critical radius, which lies within a pipe of 18 mm at λ 0.035 and 8 W/(m²·K)."""
    assert round_psi(0.018, thick + more, 0.035) <= round_psi(0.018, thick, 0.035) + 1e-12


def test_homes_of_the_last_version_follow() -> None:
    """Single fields become lists; an upgrade's change follows onto the store, or makes one where there was none."""

    def raw(**water: object) -> dict[str, object]:
        change = {"op": "set", "part": "hot-water", "field": "store_loss", "value": {"value": 1.0}}
        return {"id": "home", "water": {"id": "hot-water", **water}, "upgrades": [{"id": "u", "changes": [change]}]}

    there = migrate(raw(store_loss={"value": 2.0}, store_inside=False, draws={"value": 5.0}), 7)
    assert there["water"]["stores"] == [{"id": "store", "name": "Store", "loss": {"value": 2.0}, "place": "outside air"}]
    assert there["upgrades"][0]["changes"][0] == {"op": "set", "part": "store", "field": "loss", "value": {"value": 1.0}}
    assert there["water"]["runs"][0]["draws"] == {"value": 5.0} and there["water"]["runs"][0]["content"]["value"] == 0.0
    new = migrate(raw(), 7)
    assert "stores" not in new["water"]
    made = new["upgrades"][0]["changes"][0]
    assert made["op"] == "insert" and made["value"] == {"id": "store", "name": "Store", "loss": {"value": 1.0}}
    taken = migrate({"id": "home", "carriers": [{"id": "store"}], "water": {"id": "hot-water", "store_loss": {"value": 2.0}}}, 7)
    assert taken["water"]["stores"][0]["id"] == "store-1"
    warm = migrate({"id": "home", "water": {"id": "hot-water", "store_temperature": {"value": 55.0}}}, 7)
    assert warm["water"]["stores"][0]["loss"]["value"] == 0.0, "a store without a loss lost nothing"


def test_draw_offs_and_a_ring_lead_down_to_what_was_entered(osier_assessed: Assessment, marrowby: Climate) -> None:
    home = simple_home()
    rows = (DrawOff(id="d1", name="Shower", litres=g(40), temperature=g(40), number=g(0.8)),)
    w = kept(home, marrowby, demand="by draw-offs", draw_offs=rows)
    named = {(leaf.part, leaf.field) for leaf in leaves(w.months)}
    assert {("d1", "litres"), ("store", "loss"), ("ring", "psi"), ("taps", "draws")} <= named
    warmer = apply(SetValue(part="store", field="temperature", value=g(70)), osier_assessed.home)
    again = assess(warmer, osier_assessed.climate, osier_assessed)  # type: ignore[arg-type]
    assert again.figures["primary_energy"].value > osier_assessed.figures["primary_energy"].value, "the heat pump makes it hotter"  # type: ignore[operator]
