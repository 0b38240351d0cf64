"""Fresh air by hand: flows of rooms and units, four ducts, frost protection, the bypass month by month, air paths, zones.

The rules are those of docs/methods (ISO 13789, ISO 12241; flows by use and person: common practice, no source)."""

from __future__ import annotations

from math import exp, log, pi, sqrt
from typing import Any

import numpy as np
import pytest

from nuthatch.core.air.flows import Flows
from nuthatch.core.air.hours import hours_of
from nuthatch.core.air.rooms import passing_area
from nuthatch.core.air.stages import FLOWS, INFILTRATION, LOSSES
from nuthatch.core.air.unit import UnitLoss
from nuthatch.core.airtest.separation import separations
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.library import climate_for
from nuthatch.core.climate.stages import OUTSIDE
from nuthatch.core.edits.air_edits import TEMPLATES, from_template
from nuthatch.core.energy.stages import LOSS_MONTHS, air_by_month
from nuthatch.core.energy.use_stages import USES
from nuthatch.core.model.air_test import ZonePressure
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.target_set import FreshAir
from nuthatch.core.model.ventilation import OperatingHours, VentilationUnit
from nuthatch.core.results.figure import Entered
from nuthatch.core.sketch import Sketch, Text
from nuthatch.core.views.air.drawings import air_flows, flow_plan
from nuthatch.core.views.air.paths import paths
from nuthatch.core.views.sheets.of_home import schedule
from nuthatch.core.views.sheets.sheet import Sheet
from tests.air_home import air_home, air_test, duct, unit
from tests.simple_home import g, simple_home


def aired(*units: VentilationUnit, home: Home | None = None, **air: Any) -> Assessment:
    base = home or simple_home()
    made = replace(base, air=replace(base.air, units=units, **air))
    return assess(made, climate_for(made, None))


def psi(d: float = 0.16, s: float = 0.05, conductivity: float = 0.035) -> float:
    """An insulated round duct, ISO 12241 with 8 W/(m²·K) outside."""
    outer = d + 2 * s
    return 2 * pi / (log(outer / d) / conductivity + 2 / (8 * outer))


def density(a: Assessment) -> float:
    climate = a.site_climate
    assert climate is not None
    return float(climate.air_density_ratio)


def only(a: Assessment) -> UnitLoss:
    return a[LOSSES].units[0]


@pytest.mark.parametrize(("stands", "lengths"), [("inside the envelope", (2, 3)), ("outside the envelope", (4, 5))])
def test_four_ducts_by_hand(stands: str, lengths: tuple[int, int]) -> None:
    """The cold two lose where the unit stands inside, the warm two where it stands outside, each with its own length."""
    a = aired(unit(stands=stands, supply=g(110), extract=g(110)))
    want = 0.8 * exp(-psi() * lengths[0] / (0.34 * density(a) * 110)) * exp(-psi() * lengths[1] / (0.34 * density(a) * 110))
    assert only(a).recovery.value == pytest.approx(want, rel=1e-12)
    assert only(a).loss.value == pytest.approx(0.34 * density(a) * 110 * (1 - want))
    bare = aired(unit(stands=stands, supply=g(110), extract=g(110), ducts=()))
    assert only(bare).recovery.value == pytest.approx(0.8)


def test_pieces_of_a_duct_add_up_and_one_without_a_size_is_asked_for() -> None:
    two = (duct("a", "outdoor air", 1.0), replace(duct("b", "outdoor air", 2.0), diameter=g(0.2)))
    a = aired(unit(supply=g(100), extract=g(100), ducts=two))
    want = 0.8 * exp(-(psi() * 1 + psi(0.2) * 2) / (0.34 * density(a) * 100))
    assert only(a).recovery.value == pytest.approx(want, rel=1e-12)
    lacking = aired(unit(ducts=(replace(two[0], diameter=None),)))
    assert only(lacking).recovery.value is None and any(q.part == "a" and q.field == "diameter" for q in lacking.questions)


def _leaks(a: Assessment, surplus: float) -> float:
    """ISO 13789:2007 annex C (from memory), several sides, moderate: e 0.07, f 15; n50 1.5 of the simple home."""
    volume, test = a[FLOWS].volume.value, a.figures["air_volume"].value
    return 1.5 * 0.07 * test / volume / (1 + 15 / 0.07 * (surplus / test / 1.5) ** 2)  # type: ignore[no-any-return, operator]


@pytest.mark.parametrize(
    ("supply", "extract", "moves"),
    [(110, 110, "supply and extract"), (110, 80, "supply and extract"), (90, 110, "supply and extract"), (None, 100, "extract only"), (100, None, "supply only")],
)  # fmt: skip
def test_balanced_unbalanced_extract_only_and_supply_only_by_hand(supply: float | None, extract: float | None, moves: str) -> None:
    """min(s, e)·(1 − η) + |s − e|, and the leaks less where more moves one way."""
    a = aired(unit(moves=moves, supply=g(supply) if supply else None, extract=g(extract) if extract else None, ducts=()))
    s, e = supply or 0.0, extract or 0.0
    eta = 0.8 if moves == "supply and extract" else 0.0
    assert a[LOSSES].unit.value == pytest.approx(0.34 * density(a) * (min(s, e) * (1 - eta) + abs(s - e)))
    assert a[INFILTRATION].value == pytest.approx(_leaks(a, abs(s - e)))
    assert a[LOSSES].leaks.value == pytest.approx(0.34 * density(a) * _leaks(a, abs(s - e)) * a[FLOWS].volume.value)  # type: ignore[operator]
    assert a.figures["heating_demand"].value is not None


def test_natural_and_no_ventilation_by_hand() -> None:
    """Natural: the larger of demand and leaks, not their sum; none: the leaks alone, and it is asked about."""
    natural, none = aired(), aired(without="leaks alone")
    volume, demand = float(natural[FLOWS].volume.value), float(natural[FLOWS].demand.value)  # type: ignore[arg-type]
    leaks = _leaks(natural, 0.0) * volume
    assert demand > leaks
    assert natural[LOSSES].unit.value == pytest.approx(0.34 * density(natural) * (demand - leaks))
    assert natural[LOSSES].leaks.value == pytest.approx(0.34 * density(natural) * leaks)
    assert none[LOSSES].unit.value == 0.0 and none[LOSSES].leaks.value == pytest.approx(natural[LOSSES].leaks.value)
    assert any(q.field == "without" and "damp" in q.text for q in none.questions)
    assert not any(q.field == "without" for q in natural.questions)
    assert none.figures["heating_demand"].value < natural.figures["heating_demand"].value


def test_frost_protection_by_hand_over_the_hours() -> None:
    """0.34·V·Σ max(0, θ_frost − θ_e), as electricity of its own beside the fans."""
    a = aired(unit(supply=g(110), extract=g(110), frost="electric preheating", frost_limit=g(3.0)))
    climate = a.site_climate
    assert isinstance(climate, Climate)
    want = 0.34 * density(a) * 110 * sum(max(0.0, 3.0 - t) for t in climate.weather.temperature) / 1000
    assert want > 5 and a.figures["frost_protection"].value == pytest.approx(want)
    assert {u.name for u in a[USES]} >= {"fans", "frost protection"}
    bare = aired(unit(supply=g(110), extract=g(110)))
    more = (a.figures["primary_energy"].value - bare.figures["primary_energy"].value) * a.figures["reference_floor_area"].value  # type: ignore[operator]
    current = next(c for c in a.home.carriers if c.id == a.home.electricity)
    assert current.primary is not None and more == pytest.approx(want * current.primary.value)
    night = aired(
        unit(supply=g(110), extract=g(110), frost="electric preheating", frost_limit=g(3.0)),
        hours=(OperatingHours(id="off", runs="off", start=g(0), end=g(12)),),
    )
    assert night.figures["frost_protection"].value == pytest.approx(want / 2), "by the mean flow of the day"
    assert night.figures["air_change_least"].value == 0 and night.figures["air_change_mean"].value == pytest.approx(
        55 / night[FLOWS].volume.value
    )  # type: ignore[operator]
    high = replace(a.home, site=replace(a.home.site, elevation=g(1000.0)))
    assert assess(high, a.climate).figures["frost_protection"].value > want, "it is colder up there"  # type: ignore[operator]


def test_the_bypass_month_by_month() -> None:
    """Open where it is cooler outside than the cooling set-point and warmer than the bypass begins at."""
    a = aired(unit(supply=g(110), extract=g(110), ducts=(), bypass_from=g(9.0)))
    outside = np.asarray(a[OUTSIDE].value)
    months = air_by_month(a[LOSSES], Entered("set-point", 25.0, "temperature"), a[OUTSIDE]).value
    assert months is not None and (outside < 9).any() and (outside > 9).any()
    for t, h in zip(outside, months, strict=True):
        assert h == pytest.approx(0.34 * density(a) * 110 * (1.0 if 9.0 <= t < 25.0 else 0.2))
    low = air_by_month(a[LOSSES], Entered("set-point", 12.0, "temperature"), a[OUTSIDE]).value
    assert [h == pytest.approx(0.34 * density(a) * 110) for h in low] == [9.0 <= t < 12.0 for t in outside]  # type: ignore[union-attr]
    shut = aired(unit(supply=g(110), extract=g(110), ducts=(), bypass=False))
    assert np.allclose(air_by_month(shut[LOSSES], Entered("set-point", 25.0, "temperature"), shut[OUTSIDE]).value, 0.34 * density(a) * 22)


def test_hours_of_the_day_by_hand() -> None:
    """Low from 22 to 6, past midnight; boost an hour on working days; off at weekends from 8 to 20."""
    rows = (
        OperatingHours(id="a", runs="low", start=g(22), end=g(6)),
        OperatingHours(id="b", runs="boost", start=g(18), end=g(19), days="working days"),
        OperatingHours(id="c", runs="off", start=g(8), end=g(20), days="weekends"),
    )
    want = {"low": 8.0, "boost": 5 / 7, "off": 12 * 2 / 7, "normal": 24 - 8 - 5 / 7 - 12 * 2 / 7}
    assert hours_of(rows) == pytest.approx(want) and hours_of(()) == {"normal": 24.0, "low": 0.0, "boost": 0.0, "off": 0.0}
    assert hours_of((replace(rows[0], start=g(6), end=g(6)),))["low"] == 24.0, "the whole day round"
    assert hours_of((replace(rows[0], end=None),))["normal"] == 24.0
    fan = {"least_flow": g(50), "most_flow": g(250), "power_least": g(0.2), "power_most": g(0.6)}
    a = aired(unit(supply=g(110), extract=g(110), ducts=(), **fan), hours=rows, low_share=g(0.5), boost_share=g(1.5))
    mean = 110 * (want["normal"] + 0.5 * want["low"] + 1.5 * want["boost"]) / 24
    assert a[FLOWS].shown.value == pytest.approx(mean) and a[LOSSES].unit.value == pytest.approx(0.34 * density(a) * mean * 0.2)

    def power(flow: float) -> float:
        return 0.2 + 0.4 * (flow - 50) / 200

    fans = sum(power(110 * s) * 110 * s * want[o] * 0.365 for o, s in (("normal", 1.0), ("low", 0.5), ("boost", 1.5)))
    assert a.figures["fan_electricity"].value == pytest.approx(fans)
    plain = aired(unit(supply=g(110), extract=g(110), power=g(0.4)))
    assert plain.figures["fan_electricity"].value == pytest.approx(0.4 * 110 * 8.76)
    beyond, under = (aired(unit(supply=g(q), extract=g(q), **fan)) for q in (300, 40))
    assert beyond.figures["fan_electricity"].value == pytest.approx(0.6 * 300 * 8.76)
    assert under.figures["fan_electricity"].value == pytest.approx(0.2 * 40 * 8.76)
    for found, word, other in ((beyond, "above the most", "below the least"), (under, "below the least", "above the most")):
        says = " ".join(q.text for q in found.questions)
        assert word in says and other not in says


def _rooms(a: Assessment) -> dict[str, Any]:
    return {r.room.id: r for r in a[FLOWS].rooms}


def test_rooms_share_the_flow_by_hand() -> None:
    """Bedrooms ask 30 m³/h a person, what states area and air changes its largest part, extract by use; all scaled to the units' flow."""
    a = assess(air_home(), climate_for(air_home(), None))
    rooms, living = _rooms(a), _rooms(a)["ground.living"].room
    # two of the home's people are said to sleep in the large room, one bedroom is left for the others
    assert rooms["upper.living"].asked.value == 60 and rooms["upper.kitchen"].asked.value == 30 * (float(a.figures["people"].value) - 2)
    stated = max(1.2 * living.area, 0.4 * living.area * living.measure.height)
    assert rooms["ground.living"].asked.value == pytest.approx(stated)
    assert [rooms[i].asked.value for i in ("ground.kitchen", "ground.study", "upper.study")] == [60, 40, 20]
    flows: Flows = a[FLOWS]
    total = {u.unit.id: float(u.supply.value) for u in flows.units}  # type: ignore[arg-type]
    supply = sum(float(r.normal.value) for r in flows.rooms if r.role == "supply")  # type: ignore[union-attr,arg-type]
    extract = sum(float(r.normal.value) for r in flows.rooms if r.role == "extract")  # type: ignore[union-attr,arg-type]
    assert supply == pytest.approx(sum(total.values())) == pytest.approx(float(flows.demand.value))  # type: ignore[arg-type]
    assert extract == pytest.approx(total["unit"]), "the second unit has no extract room of its own"
    assert rooms["upper.living"].normal.value == pytest.approx(total["unit"] * 60 / (60 + stated))
    assert rooms["upper.living"].low.value == pytest.approx(0.6 * rooms["upper.living"].normal.value)
    assert rooms["upper.living"].boost.value == pytest.approx(1.5 * rooms["upper.living"].normal.value)


def test_largest_or_sum_as_the_target_set_says() -> None:
    first = air_home()
    plans = first.shape.plans
    assert plans is not None
    more = tuple(
        replace(s, rooms=tuple(replace(r, per_area=g(4)) if r.id == "ground.living" else r for r in s.rooms)) for s in plans.storeys
    )
    home = replace(first, shape=replace(first.shape, plans=replace(plans, storeys=more)))
    summed = replace(home, target_sets=tuple(replace(s, room_air="sum") for s in home.target_sets))
    a, b = (assess(h, climate_for(h, None)) for h in (home, summed))
    living = _rooms(a)["ground.living"].room
    assert _rooms(b)["ground.living"].asked.value == pytest.approx(4 * living.area + 0.4 * living.area * living.measure.height)
    assert float(a[FLOWS].demand.value) == pytest.approx(60 + 4 * living.area), "what rooms state is more than the home asks for"  # type: ignore[arg-type]
    assert float(b[FLOWS].demand.value) > float(a[FLOWS].demand.value)  # type: ignore[arg-type]


def test_a_set_may_fix_the_normal_flow() -> None:
    home = simple_home()
    a = assess(home, climate_for(home, None))
    people, volume = (float(a.figures[k].value) for k in ("people", "reference_floor_area"))  # type: ignore[arg-type]
    volume *= 2.5
    assert float(a[FLOWS].demand.value) == pytest.approx(max(30 * people, 0.3 * volume))  # type: ignore[arg-type]
    for each, least in ((47.0, 0.0), (0.0, 0.55), (20.0, 0.1)):
        fixed = tuple(replace(s, fresh_air=FreshAir(per_person=each, per_volume=least)) for s in home.target_sets)
        b = assess(replace(home, target_sets=fixed), climate_for(home, None))
        assert float(b[FLOWS].demand.value) == pytest.approx(max(each * people, least * volume))  # type: ignore[arg-type]


def test_a_set_that_fixes_the_normal_flow_judges_the_home_with_it() -> None:
    """The home as designed goes by its first set, so that a second one is an assessment of its own."""
    base = simple_home()
    home = replace(base, air=replace(base.air, units=()))
    strict = replace(home.target_sets[0], id="strict", name="Strict", fresh_air=FreshAir(per_person=190, per_volume=0.0))
    both = replace(home, target_sets=(*home.target_sets, strict))
    one, alone, a = (assess(h, climate_for(h, None)) for h in (home, replace(home, target_sets=(strict,)), both))

    def heating(a: Assessment, of: str) -> float:
        return float(a.under(of).figures["heating_demand"].value)  # type: ignore[arg-type]

    assert heating(a, home.target_sets[0].id) == pytest.approx(heating(one, home.target_sets[0].id))
    assert heating(a, "strict") == pytest.approx(heating(alone, "strict"))
    assert heating(a, "strict") > 1.02 * heating(a, home.target_sets[0].id)


def test_fixed_flows_stay_and_the_others_take_the_rest() -> None:
    home = air_home()
    plans = home.shape.plans
    assert plans is not None

    def with_rooms(**fields: Any) -> Assessment:
        storeys = tuple(
            replace(s, rooms=tuple(replace(r, **fields.get(r.id.replace(".", "_"), {})) for r in s.rooms)) for s in plans.storeys
        )
        one = replace(home.air, units=(unit(supply=g(120), extract=g(120)),), hours=())
        made = replace(home, shape=replace(home.shape, plans=replace(plans, storeys=storeys)), air=one)
        return assess(made, climate_for(made, None))

    bare = {"per_area": None, "changes": None}
    a = with_rooms(upper_living={"flow": g(25)}, ground_living=bare)
    rooms = _rooms(a)
    asks = float(a.figures["people"].value) - 2  # type: ignore[arg-type]
    assert rooms["upper.living"].normal.value == 25
    assert rooms["upper.kitchen"].normal.value == pytest.approx(min(30 * asks, 95)), "people come first"
    assert rooms["ground.living"].normal.value == pytest.approx(max(120 - 25 - 30 * asks, 0)), "the rest fills up the room without people"
    assert any("gets 25" in q.text and "60" in q.text and q.part == "upper.living" for q in a.questions)
    more = with_rooms(upper_living={"flow": g(60), "flow_low": g(33), "flow_boost": g(77)})
    large = _rooms(more)["upper.living"]
    assert (large.low.value, large.boost.value) == (33, 77) and not any(q.part == "upper.living" for q in more.questions)


def test_air_passes_from_room_to_room_at_one_pascal() -> None:
    """q = C_d·A·√(2Δp/ρ), sharp edges 0.6, 1 Pa, 1.2 kg/m³ (handbook equation, from memory)."""
    assert passing_area(40.0) == pytest.approx(40 / 3600 / (0.6 * sqrt(2 / 1.2)))
    a = assess(air_home(), climate_for(air_home(), None))
    asked = [q for q in a.questions if q.part == "ground.living" and q.field == "passes"]
    assert asked and "10 cm²" in asked[0].text.replace("\u00a0", " ")


def test_several_units_share_the_demand() -> None:
    """Without rooms in equal parts of what units with a flow of their own leave; recovery in the mean by flow."""
    a = aired(
        unit("one", supply=g(40), extract=g(40), ducts=()), unit("two", recovery=g(0.6), ducts=()), unit("three", recovery=g(0.6), ducts=())
    )
    demand = float(a[FLOWS].demand.value)  # type: ignore[arg-type]
    each = (demand - 40) / 2
    assert [u.supply.value for u in a[FLOWS].units] == pytest.approx([40, each, each])
    assert a.figures["effective_heat_recovery"].value == pytest.approx((0.8 * 40 + 0.6 * 2 * each) / demand)
    assert a[LOSSES].unit.value == pytest.approx(0.34 * density(a) * (40 * 0.2 + 2 * each * 0.4))


@pytest.mark.parametrize(
    ("rows", "moved", "recovered"),
    [
        (((140, 120, 0.8), (None, 20, 0.0)), 140, 0.8 * 120),  # what the unit supplies too much the fan draws
        (((140, 120, 0.8), (None, 60, 0.0)), 180, 0.8 * 120),  # the fan draws more than that
        (((80, 120, 0.8), (60, None, 0.0)), 140, 0.8 * 80),
        (((100, 60, 0.8), (60, 100, 0.5)), 160, 0.8 * 60 + 0.5 * 60),
        (((100, 100, 0.8), (None, 0, 0.0), (30, None, 0.0)), 130, 0.8 * 100),
    ],
)
def test_what_one_unit_supplies_and_another_extracts_is_lost_once(rows: tuple, moved: float, recovered: float) -> None:
    """Method 8: V̇ = max(ΣV̇_s, ΣV̇_x) − Σ η_u min(V̇_s,u, V̇_x,u); leaks by the difference of the totals; with the bypass open
    nothing is taken off."""
    units = tuple(
        unit(
            f"u{n}",
            ducts=(),
            supply=g(s) if s is not None else None,
            extract=g(x) if x is not None else None,
            recovery=g(eta) if eta else None,
            moves="supply and extract" if s is not None and x is not None else "extract only" if s is None else "supply only",
        )
        for n, (s, x, eta) in enumerate(rows)
    )
    a = aired(*units)
    assert a[LOSSES].unit.value == pytest.approx(0.34 * density(a) * (moved - recovered))
    supply, extract = (sum(r[i] or 0 for r in rows) for i in (0, 1))
    assert a[INFILTRATION].value == pytest.approx(_leaks(a, abs(supply - extract)))
    assert a[LOSSES].bypassed.value == pytest.approx(0.34 * density(a) * moved)
    counted = [p for p in paths(a) if p.counts]
    assert sum(float(p.loss.value) for p in counted) == pytest.approx(a.figures["ventilation_loss_coefficient"].value)  # type: ignore[arg-type]
    assert all(float(p.loss.value) >= 0 for p in counted)  # type: ignore[arg-type]


def test_normal_is_people_and_air_change_and_boost_what_the_rooms_ask() -> None:
    """Method 8: normal the larger of 30 m³/h a person and 0.3 1/h of V_ref, boost the larger of that and kitchen 60, bath 40, WC 20."""
    many = {"kitchens": g(1), "baths": g(2), "wcs": g(2)}
    a = aired(unit(ducts=()), **many)
    people, volume = float(a.figures["people"].value), float(a[FLOWS].volume.value)  # type: ignore[arg-type]
    normal = max(30 * people, 0.3 * volume)
    assert a[FLOWS].demand.value == pytest.approx(normal) and a[FLOWS].shown.value == pytest.approx(normal)
    assert a[FLOWS].boost_demand.value == 60 + 80 + 40 and a[FLOWS].boost.value == pytest.approx(180)  # type: ignore[union-attr]
    cook = (OperatingHours(id="cook", runs="boost", start=g(18), end=g(20)),)
    b = aired(unit(ducts=()), hours=cook, **many)
    assert b[FLOWS].shown.value == pytest.approx((22 * normal + 2 * 180) / 24)
    typed = aired(unit(ducts=(), supply=g(150), extract=g(150)), hours=cook, **many)
    assert typed[FLOWS].shown.value == pytest.approx((22 * 150 + 2 * 180) / 24), "a typed flow is the normal one"
    plenty = aired(unit(ducts=(), supply=g(200), extract=g(200)), hours=cook, **many)
    assert plenty[FLOWS].shown.value == pytest.approx(200), "boost is never below normal"
    low = aired(unit(ducts=(), supply=g(100), extract=g(100)), boost_share=g(1.2), **many)
    assert low[FLOWS].boost.value == pytest.approx(120)  # type: ignore[union-attr]
    assert any(q.field == "boost_share" and "120" in q.text and "180" in q.text for q in low.questions)
    assert not any(q.field == "boost_share" for q in typed.questions)
    weak = aired(unit(ducts=(), supply=g(100), extract=g(100), most_flow=g(160)), **many)
    assert any(q.field == "most_flow" and "180" in q.text for q in weak.questions)


def test_a_unit_that_is_off_is_a_flow_of_zero_and_is_explained() -> None:
    off = (OperatingHours(id="off", runs="off", start=g(0), end=g(0)),)
    low = (OperatingHours(id="low", runs="low", start=g(0), end=g(0)),)
    leaks = aired(unit(supply=g(110), extract=g(110)), hours=off)
    for a in (leaks, aired(unit(supply=g(110), extract=g(110)), hours=low, low_share=g(0))):
        assert a[LOSSES].unit.value == 0 and a.figures["fan_electricity"].value == 0
        assert a.figures["effective_heat_recovery"].value == 0
        assert a.figures["heating_demand"].value == pytest.approx(aired(without="leaks alone").figures["heating_demand"].value, rel=1e-12)
        assert any("off all day" in q.text for q in a.questions), [q.text for q in a.questions]
        assert "no flow" in {p.key: p.says for p in paths(a)}["unit"]
    assert not any("off all day" in q.text for q in aired(unit(supply=g(110), extract=g(110))).questions)
    pair = aired(unit("one", supply=g(0), extract=g(0)), unit("two", supply=g(90), extract=g(90)))
    assert pair.figures["heating_demand"].value is not None


def drawn(unit_: VentilationUnit | None, drop: tuple[str, ...] = (), **rooms: Any) -> Assessment:
    """The drawn home with one unit and fields of its rooms; `drop`: rooms that neither get nor give air."""
    home = air_home()
    plans = home.shape.plans
    assert plans is not None
    bare: dict[str, Any] = {"per_area": None, "changes": None, "people": None, "passes": None}

    def of(r: Any) -> Any:
        if r.id in drop:
            return replace(r, **bare, use="hall")
        return replace(r, **{**bare, **rooms.get(r.id.replace(".", "_"), {})})

    storeys = tuple(replace(s, rooms=tuple(map(of, s.rooms))) for s in plans.storeys)
    units = (unit_,) if unit_ is not None else ()
    made = replace(
        home,
        shape=replace(home.shape, plans=replace(plans, storeys=storeys)),
        air=replace(home.air, units=units, hours=(), boost_share=None),
    )
    return assess(made, climate_for(made, None))


def rows_of(sheet: Sheet) -> list[dict[str, Any]]:
    return [dict(zip((h.label for h in sheet.heads), row, strict=True)) for row in sheet.rows]


def words_of(made: Sketch) -> str:
    return " | ".join(i.text for i in made.items if isinstance(i, Text))


def told(a: Assessment, words: str) -> list[str]:
    return [q.text.replace("\u00a0", " ") for q in a.questions if words in q.text]


def test_boost_reaches_what_the_drawn_extract_rooms_ask_for() -> None:
    """Kitchen 60, bath 40, WC 20, another room that air is drawn from 20; a typed flow at boost counts in the place of its room's."""
    a = drawn(unit(), upper_kitchen={"use": "other", "air": "extract"})
    asked = [float(r.asked.value) for r in a[FLOWS].rooms if r.role == "extract" and r.asked is not None]  # type: ignore[arg-type]
    assert sorted(asked) == [20, 20, 40, 60] and a[FLOWS].boost_demand.value == pytest.approx(140)
    b = drawn(unit(), upper_kitchen={"use": "other", "air": "extract"}, ground_kitchen={"flow_boost": g(100)})
    assert b[FLOWS].boost_demand.value == pytest.approx(180)
    by_room = sum(float(r.boost.value) for r in a[FLOWS].rooms if r.role == "extract" and r.boost is not None)  # type: ignore[arg-type]
    assert by_room == pytest.approx(140), "the rooms' flows at boost add up to what boost reaches"


def test_rooms_against_the_unit() -> None:
    """What is fixed, asked for and supplied must add up; else it is asked which room and how much."""
    fixed = {"ground_kitchen": {"flow": g(30)}, "ground_study": {"flow": g(20)}, "upper_study": {"flow": g(10)}}
    a = drawn(unit(supply=g(120), extract=g(120)), **fixed)
    assert any("60 m³/h in all" in t and "120 m³/h: 60 m³/h more must come from a room" in t for t in told(a, "in all")), told(a, "in all")
    over = drawn(unit(supply=g(120), extract=g(120)), **{**fixed, "ground_study": {"flow": g(110)}})
    assert any("150 m³/h in all" in t and "30 m³/h too much" in t for t in told(over, "in all"))
    even = drawn(unit(supply=g(120), extract=g(120)), **{**fixed, "ground_study": {"flow": g(80)}})
    assert not told(even, "in all") and not told(drawn(unit(supply=g(120), extract=g(120))), "in all")
    stated = drawn(unit(supply=g(120), extract=g(120)), ground_living={"per_area": g(9)})
    assert told(stated, "it asks for"), "a room that asks by its floor area and gets less"


@pytest.mark.parametrize("role", ["supply", "extract"])
def test_a_unit_without_any_room_on_a_side_is_asked_about(role: str) -> None:
    a = drawn(unit(supply=g(120), extract=g(120)))
    drop = tuple(r.room.id for r in a[FLOWS].rooms if r.role == role)
    b = drawn(unit(supply=g(120), extract=g(120)), drop)
    word = "no room gets any of it" if role == "supply" else "no room gives any of it"
    assert told(b, word) and not told(a, "any of it")


def test_words_of_a_unit_that_only_extracts_and_of_none() -> None:
    """Rooms of an extract fan get their air by inlets, there is no exchanger to blame; without a unit no flow is printed."""
    only_out = drawn(unit(moves="extract only", supply=None, extract=g(120), recovery=None, bypass=False))
    ways = {r.way for r in only_out[FLOWS].rooms}
    assert "inlets" in ways and "supply" not in ways and "extract" in ways
    says = {p.key: p.says for p in paths(only_out)}
    assert "exchanger" not in says["bypass"] and "brings" not in says["windows"] and "nothing to recover" in says["unit"]
    assert [r["Air"] for r in rows_of(schedule(only_out))].count("inlets") == sum(r.way == "inlets" for r in only_out[FLOWS].rooms) > 0
    assert "Supply" not in words_of(air_flows(only_out)) and "Extract" in words_of(air_flows(only_out))
    none = drawn(None)
    assert all(r.normal is None for r in none[FLOWS].rooms)
    sheet = schedule(none)
    assert {"Normal", "Boost"}.isdisjoint(h.label for h in sheet.heads) and "Asks" in [h.label for h in sheet.heads]
    assert all(r["Asks"] for r in rows_of(sheet)) and "schedule" not in sheet.title.lower()
    said = words_of(flow_plan(none)).replace("\u00a0", " ").split(" | ")
    assert any(t.startswith("asks ") for t in said) and not any(t.endswith("m³/h") and not t.startswith("asks ") for t in said)


def test_an_extract_fan_beside_a_unit_serves_its_own_rooms() -> None:
    """The fan takes the part of the demand its extract rooms have of all; a unit that draws from no room is asked about."""
    home = air_home()
    fan = VentilationUnit(id="second", name="Fan", moves="extract only", power=g(0.2), bypass=False)
    plans = home.shape.plans
    assert plans is not None
    own = {"upper.study": {"unit": "second"}, "upper.kitchen": {"unit": ""}}
    storeys = tuple(replace(s, rooms=tuple(replace(r, **own.get(r.id, {})) for r in s.rooms)) for s in plans.storeys)
    air = replace(home.air, units=(home.air.units[0], fan), hours=())
    a = assess(replace(home, air=air, shape=replace(home.shape, plans=replace(plans, storeys=storeys))), climate_for(home, None))
    fans = {u.unit.id: u for u in a[FLOWS].units}
    demand = float(a[FLOWS].demand.value)  # type: ignore[arg-type]
    assert fans["second"].supply.value == 0 and fans["second"].extract.value == pytest.approx(demand * 20 / 120), (
        "a WC beside kitchen and bath"
    )
    assert _rooms(a)["upper.study"].normal.value == pytest.approx(float(fans["second"].extract.value))  # type: ignore[arg-type]
    typed = replace(fan, extract=g(25))
    b = assess(replace(a.home, air=replace(air, units=(home.air.units[0], typed))), a.climate, a)
    assert b[FLOWS].units[0].supply.value == pytest.approx(float(b[FLOWS].demand.value) - 25)  # type: ignore[arg-type]
    assert not any("no room" in q.text for q in a.questions)
    lonely = assess(air_home(), climate_for(home, None))
    assert any(q.part == "second" and "no room gives any" in q.text for q in lonely.questions)


def test_every_air_path_is_named_and_zero_is_told() -> None:
    """H of the paths is the home's; kWh are those of the months with heating; a path set to nothing says what follows."""
    a = aired(unit(supply=g(110), extract=g(110)))
    found = {p.key: p for p in paths(a)}
    assert list(found) == ["unit", "windows", "leaks", "bypass"]
    assert sum(float(p.loss.value) for p in found.values() if p.counts) == pytest.approx(a.figures["ventilation_loss_coefficient"].value)  # type: ignore[arg-type]
    hot = aired(unit(supply=g(110), extract=g(110)), home=simple_home("verrin-plain"))
    months, on = hot[LOSS_MONTHS], np.asarray(hot.months["heating_demand"].value) > 0
    ways = {p.key: p for p in paths(hot)}
    assert 0 < on.sum() < 12, "no heating in summer"
    assert ways["unit"].energy == pytest.approx(float(np.asarray(months["fresh air"].value)[on].sum()))
    assert ways["leaks"].energy == pytest.approx(float(np.asarray(months["leaks"].value)[on].sum()))
    off = aired(unit(supply=g(0), extract=g(0)))
    says = {p.key: p.says for p in paths(off)}
    assert "moisture" in says["unit"] and "summer" in says["unit"] and any("moves no air" in q.text for q in off.questions)
    assert "none" in {p.key: p.says for p in paths(aired(unit(bypass=False)))}["bypass"]
    assert "moisture" in {p.key: p.says for p in paths(aired(without="leaks alone"))}["windows"]
    assert "no unit" in {p.key: p.says for p in paths(aired())}["unit"]
    tight = aired(unit(), n50=g(0))
    assert {p.key: p.says for p in paths(tight)}["leaks"] == "none: n50 is 0"


@pytest.mark.parametrize("key", sorted(TEMPLATES))
def test_every_template_computes_at_once(key: str) -> None:
    home = replace(simple_home(), air=replace(simple_home().air, units=()))
    made = apply(from_template(home, key), home)
    a = assess(made, climate_for(made, None))
    assert a.figures["heating_demand"].value is not None and a.figures["fan_electricity"].value > 0
    assert all(v.basis.value == "assumed" for v in (made.air.units[0].power,) if v is not None)


def test_how_well_a_zone_is_separated() -> None:
    """A_hz/A_zo = (p_zo/p_hz)^0.65 (common practice): 45 and 5 Pa, 5 and 45 Pa, alike."""
    zones = [("a", 45, 5), ("b", 5, 45), ("c", 25, 25), ("d", 0, 50), ("e", 0, 0)]
    test = air_test(zones=tuple(ZonePressure(id=i, name=i, across=g(h), out=g(o)) for i, h, o in zones))
    found = separations(replace(test, zones=(*test.zones, ZonePressure(id="f", name="f"))))
    assert [s.ratio for s in found[:3]] == pytest.approx([(5 / 45) ** 0.65, (45 / 5) ** 0.65, 1.0])
    assert "partly" in found[2].says and "not separated at all" in found[3].says and "again" in found[4].says and "wanted" in found[5].says
    ends = tuple(ZonePressure(id=i, name=i, across=g(h), out=g(o)) for i, h, o in (("x", 49.5, 0.5), ("y", 0.5, 49.5)))
    assert [s.says.rpartition(": ")[2] for s in separations(replace(test, zones=ends))] == [
        "it behaves as outside",
        "it behaves as part of the home",
    ]
