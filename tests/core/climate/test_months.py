"""Months of the climate by hand: in the place of a file's, or as a climate of their own; ground by depth; headers that do not fit."""

from __future__ import annotations

import numpy as np
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import apply
from nuthatch.core.climate.calendar import NAMES
from nuthatch.core.climate.climate import Climate, climate_from_bytes
from nuthatch.core.climate.generator import year_of
from nuthatch.core.climate.months import PLANES, Months, factors, months_of
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.edits.climate_edits import filled_from, twelve
from nuthatch.core.library import demo_home, library_climate
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.site import ClimateMonth
from nuthatch.core.results.figure import Unknown
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.stages import LET_IN, PLANE_SUN
from tests.simple_home import g, simple_home


def rows_of(climate: Climate) -> tuple[ClimateMonth, ...]:
    home = apply(filled_from(simple_home(), climate), simple_home())
    assert isinstance(home, Home)
    return home.site.months


def sited(home: Home, **fields: object) -> Home:
    return replace(home, site=replace(home.site, **fields))


@pytest.fixture(scope="module")
def by_months(marrowby: Climate) -> Assessment:
    """Osier Lane 7 with the months of its file and no file."""
    where = {"latitude": g(marrowby.weather.latitude), "elevation": g(marrowby.weather.elevation)}
    return assess(sited(demo_home("osier-lane-7"), climate=None, months=rows_of(marrowby), **where), None)


def test_twelve_months_of_a_file_heat_as_the_file_does(osier_assessed: Assessment, by_months: Assessment) -> None:
    """The rule of the method: heating within 0.5 % of the hourly file, as designed and as judged; trees, neighbours and all."""
    mine, theirs = by_months, osier_assessed
    assert mine.under("passive-house").home.site.incidence is not None
    for a, b in ((mine, theirs), (mine.under("passive-house"), theirs.under("passive-house"))):
        assert a.figures["heating_demand"].value == pytest.approx(b.figures["heating_demand"].value, rel=5e-3)


def test_a_cold_high_place_by_its_months(osier: Home) -> None:
    file = climate_from_bytes(library_climate("hallin-fell"))
    where = {"latitude": g(file.weather.latitude), "elevation": g(file.weather.elevation)}
    a = assess(sited(osier, climate=None, months=rows_of(file), **where), None)
    assert a.figures["heating_demand"].value == pytest.approx(assess(osier, file).figures["heating_demand"].value, rel=5e-3)


def test_what_months_cannot_give_is_unknown_and_leads_to_the_climate(by_months: Assessment) -> None:
    load = by_months.figures["heating_load"]
    assert isinstance(load, Unknown) and load.needs[0].field == "climate" and "hours" in load.needs[0].text
    station = by_months.station
    assert station is not None and station.made
    assert station.weather.wind_from is None and station.weather.rain is None and station.weather.dew_point is None


def test_months_that_are_not_all_there_say_which_lack(marrowby: Climate) -> None:
    home = sited(simple_home(), climate=None, months=rows_of(marrowby)[:10], latitude=g(54.2))
    found = assess(home, None).figures["heating_demand"]
    assert isinstance(found, Unknown)
    said = [n.text for n in found.needs]
    assert any("November" in s for s in said) and any("December" in s for s in said) and not any("March" in s for s in said)
    nowhere = assess(sited(home, months=rows_of(marrowby), latitude=None), None).figures["heating_demand"]
    assert isinstance(nowhere, Unknown) and nowhere.needs[0].field == "latitude"
    half = (*rows_of(marrowby)[:11], replace(rows_of(marrowby)[11], sun_east=None))
    one = assess(sited(home, months=half), None).figures["heating_demand"]
    assert isinstance(one, Unknown) and [n.field for n in one.needs] == ["sun_east"]


def test_one_month_of_a_file_is_corrected_and_no_other(marrowby: Climate) -> None:
    march = ClimateMonth(id="m", month="March", temperature=g(9.5), sun_flat=g(100.0), sun_south=g(90.0))
    found = marrowby.corrected(months_of((march,)))
    gap = found.temperature - marrowby.temperature
    assert found.temperature[2] == pytest.approx(9.5) and np.abs(np.delete(gap, 2)).max() < 1e-9
    assert found.plane(0, 0).months()[2] == pytest.approx(100.0) and found.plane(90, 180).months()[2] == pytest.approx(90.0)
    assert found.on_planes[:, 2] == pytest.approx([found.plane(t, z).months()[2] for _, t, z in PLANES])
    assert np.delete(found.plane(90, 180).months(), 2) == pytest.approx(np.delete(marrowby.plane(90, 180).months(), 2))
    east = found.plane(90, 90).months()[2] / marrowby.plane(90, 90).months()[2]
    assert east == pytest.approx(100 / marrowby.on_planes[0, 2]), "a wall nothing is said of follows the horizontal"
    assert found.weather.global_horizontal[(31 + 28) * 24 : (31 + 28 + 31) * 24].sum() / 1000 == pytest.approx(100.0, rel=1e-4), (
        "and the charts show it"
    )
    again = found.corrected(months_of((march,)))
    assert again.temperature == pytest.approx(found.temperature) and again.on_planes == pytest.approx(found.on_planes)


def test_a_plane_between_those_given_follows_in_between() -> None:
    """By hand: half way from south to west by cos² 45°; a slope of 30° is a quarter wall, three quarters horizontal."""
    own, given = np.ones((5, 12)), np.full((5, 12), np.nan)
    given[0], given[3], given[4] = 1.2, 0.8, 1.0
    assert factors(given, own, 90, 225) == pytest.approx(np.full(12, 0.9))
    assert factors(given, own, 30, 180) == pytest.approx(np.full(12, 0.75 * 1.2 + 0.25 * 0.8))
    assert factors(given, own, 90, 350) == pytest.approx(np.full(12, np.sin(np.radians(80)) ** 2 * 1.2 + np.cos(np.radians(80)) ** 2 * 1.0))
    assert factors(np.full((5, 12), np.nan), own, 45, 10) == pytest.approx(np.ones(12))


def test_a_correction_moves_the_home_and_its_zone(marrowby: Climate) -> None:
    home = demo_home("weir-cottage")
    cold = tuple(ClimateMonth(id=f"m{n}", month=name, temperature=g(float(marrowby.temperature[n]) - 4)) for n, name in enumerate(NAMES))  # type: ignore[arg-type]
    a, b = assess(home, marrowby), assess(sited(home, months=cold), marrowby)
    assert b.figures["heating_demand"].value > 1.3 * a.figures["heating_demand"].value  # type: ignore[operator]
    assert int(b.zone[0]) > int(a.zone[0])
    lower = 4 * (a.figures["heating_load"].value / (20 - a.station.winter_design))  # type: ignore[operator,union-attr]
    assert b.figures["heating_load"].value > a.figures["heating_load"].value + 0.7 * lower  # type: ignore[operator]


def test_ground_reflectance_of_a_month(marrowby: Climate) -> None:
    """Snow in January: 0.6 over 0.2, the ground's part of that month three times as large, nothing else moved."""
    home = simple_home()
    a = assess(home, marrowby)
    b = assess(sited(home, months=(ClimateMonth(id="m", month="January", reflectance=g(0.6)),)), marrowby)
    one, two = a.all_of(LET_IN)["south"], b.all_of(LET_IN)["south"]
    assert isinstance(one, LetIn) and isinstance(two, LetIn)
    ratio = two.falls / one.falls
    assert ratio[2, 0] == pytest.approx(3.0) and ratio[2, 1:] == pytest.approx(np.ones(11)) and ratio[:2] == pytest.approx(np.ones((2, 12)))
    assert b.all_of(PLANE_SUN)["90/180"] is a.all_of(PLANE_SUN)["90/180"] or b.station.temperature == pytest.approx(a.station.temperature)  # type: ignore[union-attr]


def test_a_month_twice_is_asked_about_and_the_first_counts(marrowby: Climate) -> None:
    rows = (ClimateMonth(id="a", month="May", temperature=g(5.0)), ClimateMonth(id="b", month="May", temperature=g(25.0)))
    a = assess(sited(simple_home(), months=rows), marrowby)
    assert a.station is not None and a.station.temperature[4] == pytest.approx(5.0)
    assert [q.part for q in a.questions if "twice" in q.text] == ["b"]


def test_all_twelve_at_once(marrowby: Climate) -> None:
    home = simple_home()
    some = sited(home, months=(ClimateMonth(id="m", month="April", temperature=g(8.0)),))
    batch = twelve(some)
    assert batch is not None
    full = apply(batch, some)
    assert isinstance(full, Home) and [m.month for m in full.site.months] == list(NAMES)
    assert full.site.months[3].temperature is not None and twelve(full) is None
    taken = rows_of(marrowby)
    assert taken[6].temperature.value == pytest.approx(marrowby.temperature[6], abs=1e-3)  # type: ignore[union-attr]
    assert taken[6].sun_west.value == pytest.approx(marrowby.plane(90, 270).months()[6], abs=1e-3)  # type: ignore[union-attr]


def test_months_beyond_what_a_sky_gives_are_still_theirs() -> None:
    """More sun than a clear sky and a polar night: the sums given hold, the split is as near as it gets."""
    flat = np.array([0.0, 0.0, 40, 120, 220, 260, 250, 160, 70, 15, 0.0, 0.0])
    months = Months(np.linspace(-20, 10, 12), np.stack([flat, 0.3 * flat, 0.6 * flat, 0.9 * flat, 0.6 * flat]))
    rows = tuple(
        ClimateMonth(
            id=f"m{n}", month=name, temperature=g(months.temperature[n]), **{f: g(months.sun[k, n]) for k, (f, _, _) in enumerate(PLANES)}
        )  # type: ignore[arg-type]
        for n, name in enumerate(NAMES)
    )
    a = assess(sited(simple_home(), climate=None, months=rows, latitude=g(74.0)), None)
    assert a.station is not None and a.station.on_planes == pytest.approx(months.sun)
    assert a.station.plane(90, 180).months()[3:9] == pytest.approx(months.sun[3, 3:9], rel=1e-6)
    assert a.figures["heating_demand"].value is not None and np.isfinite(a.figures["heating_demand"].value)


def test_the_light_of_a_made_year_is_parted_so_that_its_walls_fit(marrowby: Climate) -> None:
    """Before it is corrected: the horizontal within a thousandth, the south wall within 5 % in every month, all walls within 10 %."""
    w, given = marrowby.weather, marrowby.on_planes
    made = year_of("x", (w.latitude, w.longitude, w.elevation), tuple(marrowby.temperature), tuple(given[0]), given[1:])
    off = Climate(made, "made for this test").on_planes / given - 1
    assert np.abs(off[0]).max() < 2e-3 and np.abs(off[3]).max() < 0.05 and np.abs(off).max() < 0.1


# ground, headers


def test_ground_by_depth_against_its_closed_form(marrowby: Climate) -> None:
    """A plain yearly wave in deep ground: damped by exp(−z √(π/(αP))) and as late (Kusuda and Achenbach 1965, from memory)."""
    when = (np.arange(8760) + 0.5) / 8760 * 2 * np.pi
    wave = replace_temperature(marrowby, 10 - 8 * np.cos(when - 0.4))
    alpha, z = 5e-7, 1.7
    damping = z * np.sqrt(np.pi / (alpha * 365 * 24 * 3600))
    middle = (np.cumsum(MONTH_HOURS) - MONTH_HOURS / 2) / 8760 * 2 * np.pi
    assert wave.ground_at(z, alpha) == pytest.approx(10 - 8 * np.exp(-damping) * np.cos(middle - 0.4 - damping), abs=0.12)
    assert wave.ground_at(60.0, alpha) == pytest.approx(np.full(12, 10.0), abs=1e-3)
    assert np.ptp(wave.ground_at(0.0, alpha)) > np.ptp(wave.ground_at(1.0, alpha)) > np.ptp(wave.ground_at(3.0, alpha))


def replace_temperature(climate: Climate, hourly: np.ndarray) -> Climate:
    from dataclasses import replace as changed

    return Climate(changed(climate.weather, temperature=hourly), "made for this test")


def test_a_header_whose_time_zone_does_not_fit_its_hours(marrowby: Climate) -> None:
    data = library_climate("marrowby-quay").replace(b",54.200,-3.100,0.0,", b",54.200,-3.100,2.0,", 1)
    off = climate_from_bytes(data)
    right = marrowby.light_gap(marrowby.path()[0])
    assert abs(right) < 0.1 and off.light_gap(off.path()[0]) == pytest.approx(right - 2, abs=0.05)
    asked = [q.text for q in assess(simple_home(), off).questions if q.field == "climate"]
    assert (
        len(asked) == 1
        and "2.0 h earlier" in asked[0]
        and not [q for q in assess(simple_home(), marrowby).questions if q.field == "climate"]
    )


def test_the_zone_a_header_names_is_compared_with_the_one_that_is_derived() -> None:
    data = library_climate("verrin-plain").replace(b"COMMENTS 2,", b"COMMENTS 2, ASHRAE climate zone: 5A", 1)
    found = climate_from_bytes(data)
    assert found.weather.said_zone == "5A" and found.zone()[0] == "3"
    assert any("5A" in q.text and found.zone() in q.text for q in assess(simple_home(), found).questions)
    same = climate_from_bytes(library_climate("verrin-plain").replace(b"COMMENTS 2,", b"COMMENTS 2, Climate Zone 3B", 1))
    assert same.weather.said_zone == "3B" and not any("climate zone" in q.text for q in assess(simple_home(), same).questions)


def test_ground_temperatures_of_the_header_are_read() -> None:
    line = b"GROUND TEMPERATURES,2,.5,,,," + b",".join(b"%d" % n for n in range(12)) + b",2,,,," + b",".join(b"9" for _ in range(12))
    found = climate_from_bytes(library_climate("marrowby-quay").replace(b"GROUND TEMPERATURES,0", line, 1)).weather.ground
    assert [d for d, _ in found] == [0.5, 2.0] and found[0][1] == tuple(float(n) for n in range(12))
    bad = climate_from_bytes(library_climate("marrowby-quay").replace(b"GROUND TEMPERATURES,0", line.replace(b",9,", b",x,", 1), 1))
    assert [d for d, _ in bad.weather.ground] == [2.0]
