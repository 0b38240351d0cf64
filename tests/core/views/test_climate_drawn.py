"""Drawings of the climate, the horizon and the sun by what they show; what takes the sun of an opening against the home without it."""

from __future__ import annotations

import numpy as np
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.library import climate_for
from nuthatch.core.fabric.stages import SUN
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Opening
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Path, Sketch, Text
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.shares import SunPath
from nuthatch.core.sun.stages import LET_IN, PATH
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.climate_drawn import LOOKS, climate_drawn, hours_by_month, steps_of, ticks
from nuthatch.core.views.openings.hour_by_hour import hours_of
from nuthatch.core.views.openings.shaded_by import COLD, EDGES, HOME, shaded_by
from nuthatch.core.views.openings.sun_drawn import SUN as THE_SUN
from nuthatch.core.views.openings.sun_drawn import day_in, reading_of, season_of, seen, sun_hours
from nuthatch.core.views.openings.sun_rows import sun_sheet
from nuthatch.core.views.shadows import Hour
from nuthatch.core.views.shape.axonometric import View, axonometric
from nuthatch.core.views.site import facts_of
from nuthatch.core.views.skyline import panorama_of, skyline


def words(made: Sketch) -> str:
    return " | ".join(i.text for i in made.items if isinstance(i, Text))


def test_hours_by_month_are_means_of_the_days() -> None:
    values = np.arange(8760.0)
    found = hours_by_month(values)
    assert found[0, 5] == pytest.approx(np.mean([24 * d + 5 for d in range(31)]))
    assert found[11, 23] == pytest.approx(np.mean([24 * d + 23 for d in range(334, 365)]))


@pytest.mark.parametrize(("least", "most"), [(4.2, 28.9), (-7.0, 3.0), (0.0, 812.0), (-0.001, 0.002), (5.0, 5.0)])
def test_bounds_of_classes_are_round_and_inside(least: float, most: float) -> None:
    bounds = steps_of(least, most, 6)
    gaps = np.diff(bounds)
    assert len(bounds) == 5 and gaps == pytest.approx(np.full(4, gaps[0]), rel=1e-4) and gaps[0] > 0
    if most > least:
        assert least < bounds[0] < most, "no class at the lower end is empty"


@pytest.mark.parametrize(("least", "most"), [(38.7, 59.6), (-7.2, 16.0), (0.0, 236.0)])
def test_an_axis_is_numbered_from_end_to_end(least: float, most: float) -> None:
    found = ticks(least, most)
    step = found[1] - found[0]
    assert 3 <= len(found) <= 8 and least <= found[0] < least + step and most - step < found[-1] <= most
    assert 0.0 in found or least > 0 or most < 0


def test_every_look_at_one_climate_and_at_two_in_both_systems(marrowby: Climate, verrin: Climate) -> None:
    for system in ("metric", INCH_POUND):
        with using(system):
            for look in LOOKS:
                one, two = climate_drawn((marrowby,), look), climate_drawn((marrowby, verrin), look)
                assert "Verrin Plain" in words(two) and "Marrowby Quay" not in words(one)
                for made in (one, two):
                    xs = [x for i in made.items if isinstance(i, Path) for x, _ in i.points]
                    assert min(xs) >= -1 and max(xs) <= made.width + 1, look


def test_months_are_drawn_to_their_values(marrowby: Climate) -> None:
    made = climate_drawn((marrowby,), "Months")
    bars = {i.id: i for i in made.items if isinstance(i, Path) and i.id.startswith("sun:0:0:")}
    heights = np.array([bars[f"sun:0:0:{m}"].points[2][1] - bars[f"sun:0:0:{m}"].points[0][1] for m in range(12)])
    assert heights / heights.max() == pytest.approx(marrowby.on_planes[0] / marrowby.on_planes[0].max())
    tip = bars["sun:0:0:5"].tip
    assert f"{marrowby.on_planes[0, 5]:.1f}" in tip and "June" in tip


def test_hours_that_nobody_measured_are_not_shown(marrowby: Climate) -> None:
    from dataclasses import replace as changed

    made_up = changed(marrowby, made=True)
    assert "hours are not known" in words(climate_drawn((made_up,), "Hours of the day"))
    assert "not in this file" in words(climate_drawn((changed(marrowby, weather=changed(marrowby.weather, wind_from=None)),), "Wind"))


def test_facts_of_two_climates_and_their_zone_rule(osier_assessed: Assessment, verrin: Climate) -> None:
    a = osier_assessed
    assert a.station is not None
    rows = {r[0]: r[1:] for r in facts_of(a, a.station, verrin)}
    zone = next(k for k in rows if k.startswith("Climate zone"))
    assert "3\u202f270 K·d below 18.3 °C" in zone.replace("\xa0", " ") and rows[zone] == ("5A", "3B")
    assert rows["Winter design, two days"][0].startswith("−2.7")


def test_the_horizon_is_drawn_where_it_is_and_back() -> None:
    home = demo_home("sail-loft")
    a = assess(home, climate_for(home, None))
    made, view = skyline(a), panorama_of(a, (560.0, 260.0))
    handles = {h.id: h for h in made.handles}
    assert len(handles) == len(home.site.horizon)
    for p in home.site.horizon:
        middle = np.mean(handles[p.id].points, axis=0)
        assert view.back(*middle) == pytest.approx((p.azimuth.value, p.height.value), abs=0.01)  # type: ignore[union-attr]
    pull = handles["horizon-3"].pulls[1]
    assert pull.after(0, -10) == pytest.approx(round(9 + 10 * 66 / (260 - 56)))


# the sun


def opening(a: Assessment, ident: str = "w-01") -> Opening:
    return next(o for o in a.home.openings if o.id == ident)


def test_season_and_day_are_each_others_inverse() -> None:
    for day in range(0, 365, 7):
        assert day_in(season_of(day), day) == day
    assert season_of(354) == 0 and season_of(171) == 182


def test_the_hours_of_an_opening_add_up_to_its_beam(osier_assessed: Assessment) -> None:
    """Beam of all hours [kWh] over the area that counts is the beam the list tells; the sunlit share by month is that of the strips."""
    a, o = osier_assessed, opening(osier_assessed)
    known, let_in = hours_of(a, o), a.all_of(LET_IN)[o.id]
    assert known is not None and isinstance(let_in, LetIn)
    months = np.asarray(a.all_of(SUN)[o.id].months.value)
    parts = (let_in.heating.factors * let_in.falls).sum(axis=1) * np.array([1.0, let_in.g_d, let_in.g_d])
    share = parts[0] / parts.sum()
    assert known.beam.sum() / 1000 == pytest.approx(months.sum() * share, rel=1e-6)
    path = a[PATH]
    assert isinstance(path, SunPath)
    up = path.height[: 31 * 24].reshape(31, 24)[:, 12] > 0
    assert known.sunlit[: 31 * 24].reshape(31, 24)[up, 12].mean() == pytest.approx(let_in.by_hour[0, 12])


def test_the_sun_of_an_hour_is_drawn_on_its_arc_and_can_be_pulled(osier_assessed: Assessment) -> None:
    a, o = osier_assessed, opening(osier_assessed)
    made = seen(a, o, hour=Hour(79, 14))
    handle = next(h for h in made.handles if h.id == THE_SUN)
    assert [p.field for p in handle.pulls] == ["hour", "season"]
    assert handle.pulls[0].after(40, 0) > 14 and handle.pulls[1].after(0, -40) > season_of(79)
    said = reading_of(a, o, Hour(79, 14))
    known = hours_of(a, o)
    assert known is not None and f"{100 * known.sunlit[79 * 24 + 14]:.0f} % of the glass" in said and "21 March, 14:30" in said
    assert "down" in reading_of(a, o, Hour(79, 1))
    strips = sun_hours(a, o, hour=Hour(79, 14), heat=True)
    assert "beam let in, W" in words(strips) and any(isinstance(i, Path) and "of beam in the mean" in i.tip for i in strips.items)


def test_the_solid_shows_the_shadows_of_an_hour_and_none_by_night(osier_assessed: Assessment) -> None:
    def dark(view: View) -> int:
        return sum(
            1 for i in axonometric(osier_assessed, view).items if isinstance(i, Path) and i.fill in ("stone", "slate_pale") and not i.stroke
        )

    plain = dark(View(32, 26))
    assert dark(View(32, 26, hour=Hour(79, 14))) > plain == dark(View(32, 26, hour=Hour(79, 0)))


def test_what_takes_the_sun_is_what_comes_back_without_it() -> None:
    """Left out of the home itself, an object gives back what is told of it: the whole calculation beside ours, for each of them."""
    home = demo_home("osier-lane-7")
    home = replace(home, site=replace(home.site, ring=()))  # what is left out of the site would wake what is assumed there
    a = assess(home, climate_for(home, None))
    rows = {t.id: t for t in shaded_by(a, opening(a))}
    assert {"birch", "no-5"} <= set(rows) and EDGES in rows
    cold = list(COLD)
    for ident in ("birch", "no-5"):
        without = replace(home, site=replace(home.site, objects=tuple(o for o in home.site.objects if o.id != ident)))
        b = assess(without, climate_for(home, None), a)
        gain = np.asarray(b.all_of(SUN)["w-01"].months.value) - np.asarray(a.all_of(SUN)["w-01"].months.value)
        assert rows[ident].winter == pytest.approx(gain[cold].sum(), rel=1e-6, abs=1e-6)
        assert rows[ident].summer == pytest.approx(gain.sum() - gain[cold].sum(), rel=1e-6, abs=1e-6)
    bare = replace(opening(a), reveal=replace_given(0.0), overhang=None, fin_left=None, fin_right=None)
    c = assess(replace(home, openings=tuple(bare if o.id == "w-01" else o for o in home.openings)), climate_for(home, None), a)
    gain = np.asarray(c.all_of(SUN)["w-01"].months.value) - np.asarray(a.all_of(SUN)["w-01"].months.value)
    assert rows[EDGES].winter == pytest.approx(gain[cold].sum(), rel=1e-6)
    assert [t.winter for t in shaded_by(a, opening(a))] == sorted((t.winter for t in rows.values()), reverse=True)


def replace_given(value: float):  # type: ignore[no-untyped-def]
    from tests.simple_home import g

    return g(value)


def test_where_a_share_is_typed_nothing_takes_any(osier_assessed: Assessment) -> None:
    a = osier_assessed
    typed = replace(opening(a), shade_winter=replace_given(0.7))
    b = assess(replace(a.home, openings=tuple(typed if o.id == "w-01" else o for o in a.home.openings)), a.climate, a)
    assert shaded_by(b, opening(b)) == ()
    told = {o.id: shaded_by(a, o) for o in a.home.openings}
    heads = [h.text for h in sun_sheet(a, told).heads]
    row = dict(zip(heads, sun_sheet(a, told).texts()[0], strict=True))
    assert "−" in row["Shaded most by"] and row["Shaded most by"].split(" −")[0] in ("No. 5", "Birch", "own edges", "own shape")
    assert HOME in {t.id for rows in told.values() for t in rows}
