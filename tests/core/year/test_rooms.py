"""Loads of rooms by hand, what lies before each, rooms by the hour: sums that must be the home's, days that must close, odd rooms."""

from __future__ import annotations

import json

import numpy as np
import pytest

from nuthatch import cli
from nuthatch.core.air.stages import FLOWS, LOSSES
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.edits.room_edits import kinds_put_in, usual_kinds
from nuthatch.core.energy.stages import ELEMENTS, LOAD, TO_GROUND
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.patterns import DayPattern, PatternDay
from nuthatch.core.model.plans import InnerWall, Outline, Room, StoreyPlan
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import BOUNDARY, OUTLINES
from nuthatch.core.sun.clear import clear_sky
from nuthatch.core.sun.let_in import Falls
from nuthatch.core.sun.stages import FALLS
from nuthatch.core.views.hours.rooms import (
    TINTS,
    apart,
    apart_told,
    loads_of,
    parts_sheet,
    rooms_drawn,
    rooms_sheet,
    together,
    told,
    values_of,
    worked_out,
)
from nuthatch.core.views.shape.tinting import Tint
from nuthatch.core.year.comfort import night
from nuthatch.core.year.network import AIR_SHARE, of_faces
from nuthatch.core.year.problem import Problem
from nuthatch.core.year.room_hours import cooling_loads, day_of, design_day, gains_of, home_peak, room_problem, rooms_through_the_year
from nuthatch.core.year.room_stages import ROOM_FACES, ROOM_PARTS
from nuthatch.core.year.run import HOURS, Drive, Held, year
from nuthatch.core.year.stages import PROBLEM
from tests.plan_home import L, inner, other_plan_homes, plan_home, sides
from tests.simple_home import g, simple_home

LEFT, RIGHT = 3.65, 5.65
"""Clear widths of the two rooms: 10 m less two walls of 0.3 m, an inner wall of 0.1 m with its middle at x = 4 m."""


def two_rooms(**site: object) -> Home:
    """10 × 6 m, one storey under a flat roof: a bath held at 24 °C on the left, a living room on the right, a window of 2 × 1.5 m in its front."""
    home = plan_home()
    plans = home.shape.plans
    assert plans is not None
    box = Outline(id="low", name="House", sides=sides("low", ((0.0, 0.0), (10.0, 0.0), (10.0, 6.0), (0.0, 6.0))))
    rooms = (
        Room(id="bath", name="Bath", x=g(2), y=g(3), use="bath", temperature=g(24)),
        Room(id="living", name="Living", x=g(7), y=g(3), use="living"),
    )
    wall = (inner("w1", (4.0, 0.3), (4.0, 5.7)),)
    only = StoreyPlan(
        id="ground", name="Ground floor", level=g(0), height=g(3), floor_thickness=g(0.3), outlines=(box,), inner_walls=wall, rooms=rooms
    )
    made = replace(plans, storeys=(only,), roofs=(), ground=None)
    window = replace(home.openings[0], face="low.a", width=g(2.0), height=g(1.5), position=g(6.0), sill=g(0.9))
    return replace(home, shape=replace(home.shape, plans=made), openings=(window,), site=replace(home.site, **site))


def loss(a: Assessment, ident: str) -> float:
    return float(next(e for e in a[ELEMENTS] if e.id == ident).loss.value)  # type: ignore[arg-type]


def test_two_rooms_by_hand(marrowby: Climate) -> None:
    """EN 12831-1 in outline, from memory: transmission by the width of each room on a face, ground by its floor, the warmer bath loses to the
    living room through 5.4 m of wall, U 2.0 assumed; supply comes at 20 − (1 − η)(20 − θ_e), leaks stand on one side."""
    a = assess(two_rooms(reheat=g(10)), marrowby)
    bath, living = loads_of(a)
    e = marrowby.winter_design
    part = LEFT / (LEFT + RIGHT)
    roof = next(f for f in a[OUTLINES] if f.startswith("low.") and "floor" not in f and f not in ("low.a", "low.b", "low.c", "low.d"))
    outer = {f: float(next(x for x in a[ELEMENTS] if x.id == f).area.value) for f in ("low.a", "low.b", "low.c", "low.d", roof)}  # type: ignore[union-attr, arg-type]
    of_bath = part * (outer["low.a"] + outer["low.c"] + outer[roof]) + outer["low.d"]
    junctions = part_of = of_bath / sum(outer.values())
    h_bath = part * (loss(a, "low.a") + loss(a, "low.c") + loss(a, roof)) + loss(a, "low.d") + junctions * loss(a, "j-1")
    assert dict(bath.parts)["outside"].value == pytest.approx(h_bath * (24 - e), rel=1e-6)
    h_living = (
        (1 - part) * (loss(a, "low.a") + loss(a, "low.c") + loss(a, roof))
        + loss(a, "low.b")
        + loss(a, "w-1")
        + (1 - part_of) * loss(a, "j-1")
    )
    assert dict(living.parts)["outside"].value == pytest.approx(h_living * (20 - e), rel=1e-6)
    ground = float(a[TO_GROUND][1].value)  # type: ignore[arg-type]
    assert dict(bath.parts)["ground"].value == pytest.approx(part * ground, rel=1e-6)
    area = 5.4 * bath.room.measure.height
    assert dict(bath.parts)["beside"].value == pytest.approx(2.0 * area * 4, rel=1e-6) == -dict(living.parts)["beside"].value
    rate, volume, density = a.figures["infiltration_rate"].value, a.figures["reference_floor_area"].value * 2.5, marrowby.air_density_ratio
    leaks = 2 * rate * volume * part_of
    passed = 100.0  # the unit draws 100 m³/h, all of it from the bath
    assert dict(bath.parts)["air"].value == pytest.approx(0.34 * density * (leaks * (24 - e) + passed * (24 - 20)), rel=1e-4)
    eta = a.figures["effective_heat_recovery"].value
    supplied = e + eta * (20 - e)
    air = 0.34 * density * (2 * rate * volume * (1 - part_of) * (20 - e) + 110 * (20 - supplied))
    assert dict(living.parts)["air"].value == pytest.approx(air, rel=1e-4)
    assert dict(living.parts)["reheat"].value == pytest.approx(10 * living.room.area)
    for r in (bath, living):
        assert r.load.value == pytest.approx(sum(float(v.value) for _, v in r.parts)), r.room.name  # type: ignore[arg-type]
    assert together(a).value == pytest.approx(float(bath.load.value) + float(living.load.value))  # type: ignore[arg-type]


def test_air_without_a_unit_and_by_one_that_only_draws(marrowby: Climate) -> None:
    """Without a unit the larger of leaks and half of a living room's air in an hour; a unit that only draws lets it in as it is outside."""
    home, e = two_rooms(), marrowby.winter_design
    none = assess(replace(home, air=replace(home.air, units=())), marrowby)
    living = next(r for r in loads_of(none) if r.room.id == "living")
    half = 0.34 * marrowby.air_density_ratio * 0.5 * living.room.measure.volume * (20 - e)
    assert dict(living.parts)["air"].value == pytest.approx(half, rel=1e-6)
    bath = next(r for r in loads_of(none) if r.room.id == "bath")
    assert dict(bath.parts)["air"].value < half / 2  # type: ignore[operator]
    draws = replace(home.air.units[0], moves="extract only", supply=None)
    only = assess(replace(home, air=replace(home.air, units=(draws,))), marrowby)
    row = next(r for r in loads_of(only) if r.room.id == "living")
    assert dict(row.parts)["air"].value > 0.34 * marrowby.air_density_ratio * 99 * (20 - e)  # type: ignore[operator]
    frost = replace(home.air.units[0], frost="electric preheating", frost_limit=g(10))
    warmed = next(r for r in loads_of(assess(replace(home, air=replace(home.air, units=(frost,))), marrowby)) if r.room.id == "living")
    plain = next(r for r in loads_of(assess(home, marrowby)) if r.room.id == "living")
    assert dict(warmed.parts)["air"].value < dict(plain.parts)["air"].value  # type: ignore[operator]


def test_each_room_has_the_air_of_its_own_unit(marrowby: Climate) -> None:
    """A good unit for the living room, one of recovery 0.5 with frost protection to 0 °C and no bypass for the bedroom beside it."""
    home, e = two_rooms(), marrowby.winter_design
    plans, good = home.shape.plans, home.air.units[0]
    assert plans is not None and e < 0
    (only,) = plans.storeys
    beds = tuple(replace(r, use="bedroom", temperature=None, unit="poor") if r.id == "bath" else r for r in only.rooms)
    poor = replace(good, id="poor", name="Poor", ducts=(), recovery=g(0.5), frost="electric preheating", frost_limit=g(0), bypass=False)
    good = replace(good, bypass=True)
    made = replace(home, shape=replace(home.shape, plans=replace(plans, storeys=(replace(only, rooms=beds),))))
    a = assess(replace(made, air=replace(home.air, units=(good, poor))), marrowby)
    flows = {f.room.id: f for f in a[FLOWS].rooms}
    units = {u.unit.id: u for u in a[LOSSES].units}
    assert [flows[i].unit for i in ("bath", "living")] == ["poor", good.id]
    density = marrowby.air_density_ratio
    for row in loads_of(a):
        u, entering = (units["poor"], 0.0) if row.room.id == "bath" else (units[good.id], e)
        supplied = entering + float(u.recovery.value) * (20 - entering)  # type: ignore[arg-type]
        air = dict(row.parts)["air"]
        leaks = 0.34 * density * float(air.inputs["leaks"].value) * (20 - e)
        assert air.value == pytest.approx(leaks + 0.34 * density * float(flows[row.room.id].normal.value) * (20 - supplied), rel=1e-6)  # type: ignore[union-attr, arg-type]
    parts = {r.id: r for r in a[ROOM_PARTS]}
    shut, free = (
        sum(float(v) for v in x)
        for x in (((u.loss.value) for u in units.values()), (units["poor"].loss.value, units[good.id].bypassed.value))
    )  # type: ignore[union-attr, arg-type]
    assert parts["bath"].fresh == pytest.approx(units["poor"].loss.value / shut) and parts["living"].fresh == pytest.approx(
        units[good.id].loss.value / shut
    )
    assert parts["bath"].free == pytest.approx(units["poor"].loss.value / free) and parts["living"].free == pytest.approx(
        units[good.id].bypassed.value / free
    )


@pytest.fixture(scope="module")
def rooms(marrowby: Climate) -> Assessment:
    """An L of two storeys with a garage."""
    return assess(plan_home(), marrowby)


@pytest.mark.parametrize("which", ["osier", "l-shape"])
def test_rooms_are_the_home_in_parts(which: str, rooms: Assessment, osier_assessed: Assessment) -> None:
    """Faces, openings, losses, mass, leaks and supply of all rooms are the home's, whatever its shape: a wing, a roof over rooms, a garage."""
    a = rooms if which == "l-shape" else osier_assessed
    shares: dict[str, float] = {}
    for f in a[ROOM_FACES]:
        for ident, share in f.faces:
            shares[ident] = shares.get(ident, 0.0) + share
    assert shares == pytest.approx(dict.fromkeys(a[OUTLINES], 1.0))
    counts: dict[str, float] = {}
    for f in a[ROOM_FACES]:
        for ident, n in f.openings:
            counts[ident] = counts.get(ident, 0.0) + n
    assert counts == {o.id: o.count.value if o.count is not None else 1.0 for o in a.home.openings}
    problem, parts = a[PROBLEM], a[ROOM_PARTS]
    assert isinstance(problem, Problem) and isinstance(parts, tuple)
    for name in ("windows", "opaque", "capacity"):
        assert sum(getattr(r.network, name) for r in parts) == pytest.approx(getattr(problem.network, name)), name
    for name in ("leaks", "fresh", "free", "floor"):
        assert sum(getattr(r, name) for r in parts) == pytest.approx(1.0), name
    outside = sum(float(dict(r.parts)["outside"].inputs["loss"].value) for r in loads_of(a))
    ground = sum(float(e.loss.value) for e in a[ELEMENTS] if e.periodic is not None)
    assert outside + ground == pytest.approx(a.figures["transmission_loss_coefficient"].value)


def test_every_face_of_any_plan_is_some_rooms(marrowby: Climate) -> None:
    """Slopes, courts, cellars, storeys at typed levels, tops no room reaches."""
    for home in other_plan_homes():
        a = assess(home, marrowby)
        sums: dict[str, float] = {}
        for f in a[ROOM_FACES]:
            for ident, share in f.faces:
                sums[ident] = sums.get(ident, 0.0) + share
        assert sums == pytest.approx(dict.fromkeys(a[OUTLINES], 1.0))


def test_what_lies_beside_and_above(rooms: Assessment) -> None:
    """The living room of the L by hand: 4.65 m of wall to the kitchen, 4.65 m to the study behind it, its twin above."""
    f = next(x for x in rooms[ROOM_FACES] if x.room == "ground.living")
    low = next(r for r in rooms[BUILT].rooms if r.id == "ground.living")  # type: ignore[union-attr]
    xs, ys = zip(*low.measure.outline, strict=True)
    wide, deep = max(xs) - min(xs), max(ys) - min(ys)
    beside = dict(f.beside)
    assert beside["ground.kitchen"] == pytest.approx(deep * low.measure.height, rel=0.03)
    assert beside["ground.study"] == pytest.approx(wide * low.measure.height, rel=0.03)
    assert dict(f.above) == pytest.approx({"upper.living": low.measure.polygon.area})
    assert dict(f.faces)["low.f"] == pytest.approx(deep / 9.2, rel=0.02)


def test_a_garage_and_a_neighbour(rooms: Assessment, marrowby: Climate) -> None:
    """Toward the garage with its b; a neighbour is kept at 15 °C unless it is said."""
    kitchen = next(r for r in loads_of(rooms) if r.room.id == "ground.kitchen")
    assert "low.b.garage" in dict(next(f for f in rooms[ROOM_FACES] if f.room == "ground.kitchen").faces)
    names = [n.label for n in dict(kitchen.parts)["outside"].inputs["loss"].inputs["terms"]]
    assert any("garage" in n.lower() for n in names), names
    home = two_rooms()
    plans = home.shape.plans
    assert plans is not None
    (only,) = plans.storeys
    box = replace(only.outlines[0], sides=tuple(replace(s, borders="neighbour") if s.id == "low.d" else s for s in only.outlines[0].sides))
    party = replace(home, shape=replace(home.shape, plans=replace(plans, storeys=(replace(only, outlines=(box,)),))))
    loads = {}
    for at in (None, 5.0, 24.0):
        site = replace(party.site, neighbours=g(at) if at is not None else None)
        a = assess(replace(party, site=site), marrowby)
        loads[at] = dict(next(r for r in loads_of(a) if r.room.id == "bath").parts)["beside"].value
    assert loads[5.0] > loads[None] > loads[24.0]
    per_kelvin = (loads[5.0] - loads[24.0]) / 19
    assert loads[None] == pytest.approx(loads[24.0] + 9 * per_kelvin)


def test_the_sum_beside_the_home_is_explained(osier_assessed: Assessment) -> None:
    a = osier_assessed
    rows = dict(apart(a))
    whole = together(a).value - a[LOAD].load.value * a.figures["reference_floor_area"].value
    assert sum(rows.values()) == pytest.approx(whole, abs=3) and any("neighbours" in n for n in rows)
    assert "Rooms together" in told(a) and "inner gains" in apart_told(a)
    assert told(assess(simple_home(), None)) == "" and apart(assess(plan_home(), None)) == [] and "needs" in told(assess(plan_home(), None))


# by the hour


def test_cooling_of_a_steady_room_by_hand() -> None:
    """Air, surfaces and mass as three nodes solved at once: 30 °C outside, 400 W inside, 25 °C held for the operative temperature."""
    n = of_faces(((80.0, 150e3),), 12.0, 8.0, 15.0)
    one = np.ones(HOURS)
    made = year(n, Drive(30 * one, 30 * one, 30 * one, 400 * one, 0 * one, 20 * one, 20 * one, 0 * one), Held(None, 25.0))
    half = 200.0
    # unknown: air, surface, mass, heat
    rows = np.array(
        [
            [n.h_is + 20.0, -n.h_is, 0.0, -1.0],
            [-n.h_is, n.h_is + n.windows + n.h_ms, -n.h_ms, 0.0],
            [0.0, -n.h_ms, n.h_ms + n.h_em, 0.0],
            [AIR_SHARE, 1 - AIR_SHARE, 0.0, 0.0],
        ]
    )
    right = np.array([20.0 * 30 + half, n.windows * 30 + n.to_surface * half, n.h_em * 30 + n.to_mass * half, 25.0])
    heat = np.linalg.solve(rows, right)[3]
    assert made.held[-1] == pytest.approx(heat, rel=1e-6) and heat < -400


def cooled(a: Assessment, **how: bool):  # type: ignore[no-untyped-def]
    falls = {i: f for i, f in a.all_of(FALLS).items() if isinstance(f, Falls)}
    assert a.site_climate is not None
    return cooling_loads(a[PROBLEM], a[ROOM_PARTS], falls, a.site_climate, **how)


def test_the_design_day_closes_and_the_home_peaks_once(osier_assessed: Assessment) -> None:
    """What comes over the repeated day is what is taken away; the home's peak is the largest hour, less than the sum of peaks."""
    loads = cooled(osier_assessed)
    for x in loads:
        came = sum(v for _, v in x.parts).sum()  # type: ignore[attr-defined]
        assert came == pytest.approx(x.hours.sum(), abs=0.02 * max(x.hours.sum(), 20.0)) or x.hours.min() == 0
    full = [x for x in loads if x.hours.min() > 0]
    assert full
    for x in full:
        assert sum(v for _, v in x.parts).sum() == pytest.approx(x.hours.sum(), rel=1e-6)  # type: ignore[attr-defined]
    peak, hour = home_peak(loads)
    assert peak == pytest.approx(sum(x.hours[hour] for x in loads)) and peak < sum(x.peak for x in loads)
    without = home_peak(cooled(osier_assessed, infiltration=False, unit=False))[0]
    assert without != pytest.approx(peak, rel=1e-3)
    assert home_peak(()) == (0.0, 0)


def test_the_hottest_days_and_their_clear_sky(marrowby: Climate) -> None:
    """Three days in a row, by hand; the clear sky at 54° N on 21 June at noon about 900 W/m² direct (handbook order, from memory)."""
    month, air = design_day(marrowby)
    hours = marrowby.weather.temperature.reshape(365, 24)
    means = [np.mean([hours[(d + n) % 365].mean() for n in range(3)]) for d in range(365)]
    first = int(np.argmax(means))
    assert air == pytest.approx(np.mean([hours[(first + n) % 365] for n in range(3)], axis=0)) and 4 <= month <= 8
    assert day_of(5) == 31 + 28 + 31 + 30 + 31 + 20 and day_of(0) == 20
    direct, whole, diffuse = clear_sky(np.array([59.0, 10.0, -3.0]), np.array([1322.0, 1322.0, 1322.0]), 1.0)
    assert 820 < direct[0] < 960 and 60 < diffuse[0] < 160 and direct[2] == whole[2] == 0
    assert whole[0] == pytest.approx(direct[0] * np.sin(np.radians(59.0)) + diffuse[0], rel=0.03)


def test_nights_of_bedrooms(verrin: Climate, rooms: Assessment) -> None:
    """The worst bedroom tells the figure; more people's warmth or shut windows never make it less; without bedrooms it is asked for them."""
    home = plan_home()
    plans = home.shape.plans
    assert plans is not None
    beds = tuple(replace(s, rooms=tuple(replace(r, use="bedroom") if r.name == "Study" else r for r in s.rooms)) for s in plans.storeys)
    sleeping = replace(home, shape=replace(home.shape, plans=replace(plans, storeys=beds)), site=simple_home("verrin-plain").site,
                       sources=tuple(replace(s, cooling_share=None) for s in home.sources))  # fmt: skip
    a = assess(sleeping, verrin)
    share = a.figures["bedroom_night_share"].value
    years = {y.id: y for y in rooms_through_the_year(a[PROBLEM], a[ROOM_PARTS], False, False)}
    assert share == pytest.approx(max(y.nights for i, y in years.items() if "study" in i), abs=3e-4) and share > 0.01
    cooler = assess(replace(sleeping, household=replace(home.household, by_hand="counted", night_windows=True)), verrin)
    assert cooler.figures["bedroom_night_share"].value < share
    assert "bedrooms drawn" in rooms.figures["bedroom_night_share"].needs[0].text


def test_rooms_told_and_drawn(osier_assessed: Assessment) -> None:
    a = osier_assessed
    hours = worked_out(a)
    assert hours is not None and "cooling at most" in told(a, hours)
    sheet = rooms_sheet(a, hours)
    assert len(sheet.rows) == len(loads_of(a)) and len(sheet.heads) == 11 and len(rooms_sheet(a).heads) == 6
    assert sum(r[-1] for r in parts_sheet(a).rows) == pytest.approx(together(a).value)  # type: ignore[misc]
    for by in TINTS:
        known, _ = values_of(a, hours, by, 4000)
        assert by == "used as" or known and (by in ("heating load", "heating load by area") or not values_of(a, None, by, 4000)[0])
        assert rooms_drawn(a, hours, "upper", Tint(by, decimals=1)).items
    assert worked_out(assess(simple_home(), None)) is None


def test_odd_rooms_are_right_or_say_why(marrowby: Climate) -> None:
    """A room without outer walls, one of hardly any floor, sixty of them, a home without mass."""
    home = two_rooms()
    plans = home.shape.plans
    assert plans is not None
    (only,) = plans.storeys
    walls = (*only.inner_walls, InnerWall(id="p", x=g(5), y=g(2), to_x=g(6.5), to_y=g(2), thickness=g(0.1)), InnerWall(id="q", x=g(6.5), y=g(2), to_x=g(6.5), to_y=g(4), thickness=g(0.1)),
             InnerWall(id="r", x=g(6.5), y=g(4), to_x=g(5), to_y=g(4), thickness=g(0.1)), InnerWall(id="s", x=g(5), y=g(4), to_x=g(5), to_y=g(2), thickness=g(0.1)))  # fmt: skip
    core = Room(id="core", name="Core", x=g(5.7), y=g(3), use="storage")
    made = replace(
        home, shape=replace(home.shape, plans=replace(plans, storeys=(replace(only, inner_walls=walls, rooms=(*only.rooms, core)),)))
    )
    a = assess(made, marrowby)
    inside = next(r for r in loads_of(a) if r.room.id == "core")
    assert not any(f.startswith("low.") and f[4:] in "abcd" for f, _ in next(x for x in a[ROOM_FACES] if x.room == "core").faces)
    assert 0 <= inside.load.value < 300 and np.isfinite(gains_of(a[PROBLEM], a[ROOM_PARTS])[a[ROOM_PARTS][0].id]).all()
    many = tuple(
        InnerWall(id=f"m{n}", x=g(0.3), y=g(0.3 + 0.17 * n), to_x=g(9.7), to_y=g(0.3 + 0.17 * n), thickness=g(0.05)) for n in range(1, 31)
    )
    crowd = replace(home, shape=replace(home.shape, plans=replace(plans, storeys=(replace(only, inner_walls=(*only.inner_walls, *many)),))))
    b = assess(crowd, marrowby)
    assert len(loads_of(b)) >= 60 and all(np.isfinite(r.load.value) for r in loads_of(b))
    light = tuple(replace(x, layers=tuple(replace(y, density=None, specific_heat=None) for y in x.layers)) for x in home.buildups)
    c = assess(replace(home, buildups=light, shape=replace(home.shape, inner_mass=g(0))), marrowby)
    assert not isinstance(c[ROOM_PARTS], tuple) and loads_of(c)[0].load.value is not None and worked_out(c) is None
    assert L  # the other shape of these tests is an L


def test_the_command_tells_loads_of_rooms(capsys: pytest.CaptureFixture[str]) -> None:
    cli.main(["check", "osier-lane-7", "--json"])
    found = json.loads(capsys.readouterr().out)["rooms"]
    assert (
        all(r["heating_load"] is not None and r["cooling_load"] is not None for r in found) and max(r["cooling_load"] for r in found) > 100
    )


def test_shares_of_rooms_by_hand(marrowby: Climate) -> None:
    """Leaks by outer faces, gains by floor area, both all of the home's; nights are nine hours of every day; thin air lets more sun through."""
    a = assess(two_rooms(), marrowby)
    bath, living = a[ROOM_PARTS]
    outer = {}
    for f in a[ROOM_FACES]:
        areas = {e.id: e for e in a[ELEMENTS]}
        outer[f.room] = sum(s * float(areas[i].area.value) for i, s in f.faces if areas[i].boundary.beyond.kind == "outside")
    assert bath.leaks == pytest.approx(outer["bath"] / sum(outer.values())) and abs(bath.leaks - bath.floor) > 0.01
    problem = a[PROBLEM]
    shared = gains_of(problem, (bath, living))
    gains = [room_problem(problem, r, shared[r.id]).gains for r in (bath, living)]
    assert sum(gains) == pytest.approx(problem.gains) and gains[0][5] == pytest.approx(problem.gains[5] * bath.floor)
    assert night().sum() == 3285 and night()[22] and night()[3] and not night()[12]
    height, extra = np.array([50.0]), np.array([1350.0])
    assert clear_sky(height, extra, 0.75)[0][0] > clear_sky(height, extra, 1.0)[0][0] + 5


def test_the_room_right_behind_a_face_has_it(marrowby: Climate) -> None:
    """A cupboard of 0.45 m along the front: the room behind it, less than a metre from the face, has nothing of it."""
    home = two_rooms()
    plans = home.shape.plans
    assert plans is not None
    (only,) = plans.storeys
    shelf = inner("shelf", (4.05, 0.8), (9.7, 0.8))
    made = replace(
        only,
        inner_walls=(*only.inner_walls, shelf),
        rooms=(*only.rooms, Room(id="shelf-room", name="Cupboard", x=g(7), y=g(0.5), use="storage")),
    )
    a = assess(replace(home, shape=replace(home.shape, plans=replace(plans, storeys=(made,)))), marrowby)
    faces = {f.room: dict(f.faces) for f in a[ROOM_FACES]}
    assert "low.a" not in faces["living"] and faces["shelf-room"]["low.a"] == pytest.approx(RIGHT / (LEFT + RIGHT))
    assert faces["living"]["low.b"] > 0.8 and faces["living"]["low.c"] == pytest.approx(RIGHT / (LEFT + RIGHT))


def test_a_roof_belongs_to_the_rooms_right_below_it(osier_assessed: Assessment) -> None:
    """Also where storeys lie below those rooms; a floor on the ground to the rooms of the lowest."""
    built = osier_assessed[BUILT]
    assert built is not None
    levels = {r.id: r.storey for r in built.rooms}
    tilts = {i: f.tilt for i, f in osier_assessed.all_of(BOUNDARY).items()}
    under = {levels[f.room] for f in osier_assessed[ROOM_FACES] for i, share in f.faces if tilts[i] < 60 and share > 0.01}
    over = {levels[f.room] for f in osier_assessed[ROOM_FACES] for i, share in f.faces if tilts[i] > 120 and share > 0.01}
    assert len(set(levels.values())) > 1 and len(under) == 1 and len(over) == 1 and under != over, (under, over)


def test_kinds_of_rooms(marrowby: Climate) -> None:
    """What a kind says holds for its rooms unless they say otherwise; gains by weight and pattern, all of the home's in every hour."""
    home = two_rooms()
    plans = home.shape.plans
    assert plans is not None
    (only,) = plans.storeys
    plain = replace(only, rooms=tuple(replace(r, temperature=None) for r in only.rooms))
    home = replace(home, shape=replace(home.shape, plans=replace(plans, storeys=(plain,))))
    evening = DayPattern(
        id="evening", name="Evening", days=(PatternDay(id="e.1", hours=tuple(1.0 if 18 <= h < 23 else 0.0 for h in range(24))),)
    )
    bath = RoomKind(id="k-bath", use="bath", temperature=g(24), weight=g(0.5))
    living = RoomKind(id="k-living", use="living", weight=g(3.0), pattern="evening")
    a = assess(replace(home, room_kinds=(bath, living), patterns=(evening,)), marrowby)
    first, second = loads_of(a)
    assert first.inside.value == 24 and second.inside.value == 20 and dict(first.parts)["beside"].value > 0
    problem, (b, c) = a[PROBLEM], a[ROOM_PARTS]
    shared = gains_of(problem, (b, c))
    assert shared["bath"] + shared["living"] == pytest.approx(problem.gains)
    assert shared["living"][3] == 0 and shared["bath"][3] == pytest.approx(problem.gains[3])
    part = 3.0 * c.floor / (3.0 * c.floor + 0.5 * b.floor)
    assert shared["living"][19] == pytest.approx(part * problem.gains[19])
    own = replace(plain, rooms=tuple(replace(r, temperature=g(22)) if r.id == "bath" else r for r in plain.rooms))
    typed = replace(home, room_kinds=(bath, living), shape=replace(home.shape, plans=replace(plans, storeys=(own,))))
    assert loads_of(assess(typed, marrowby))[0].inside.value == 22


def test_usual_kinds_are_put_in_once() -> None:
    home = plan_home()
    made = apply(kinds_put_in(home, usual_kinds(), "usual"), home)
    assert {k.use for k in made.room_kinds} >= {"living", "bedroom", "bath"} and len({k.id for k in made.room_kinds}) == len(
        made.room_kinds
    )
    held = next(k for k in made.room_kinds if k.use == "bath").temperature
    assert held is not None and held.value == 24 and held.basis.value == "assumed"
    with pytest.raises(ChangeRefused, match="there already"):
        kinds_put_in(made, usual_kinds(), "usual")
