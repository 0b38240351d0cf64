"""The hours as drawn: what is thinned keeps its ends, axes tell days, charts say what the numbers are; the year tried differently."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Insert, apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.edits.whole_parts import pinned
from nuthatch.core.model.charts import HourChart
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Path, Sketch, Text
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.hours.charts import LEFT, STANDARD, chart_of, grid_of, meter_line, sums_by_month
from nuthatch.core.views.hours.lines import SHORTEST, Plot, Span, line_chart, plot_of, thinned
from nuthatch.core.views.hours.quantities import QUANTITIES, date_of, hours_of
from nuthatch.core.views.hours.what_if import sheet_of
from nuthatch.core.views.pictures import PICTURES
from nuthatch.core.year.problem import Hours
from nuthatch.core.year.stages import HOURS, PROBLEM
from nuthatch.core.year.what_if import Tried, what_if
from tests.simple_home import g, simple_home

SIZE = (700.0, 360.0)


@pytest.fixture(scope="module")
def warm(verrin: Climate) -> Assessment:
    """A home of a warm place that nothing cools, a bypass in its unit."""
    home = simple_home("verrin-plain")
    return assess(replace(home, sources=tuple(replace(s, cooling_share=None) for s in home.sources)), verrin)


def words(made: Sketch) -> str:
    return " ".join(i.text for i in made.items if isinstance(i, Text))


@given(st.floats(0, 8760), st.floats(0.01, 200), st.floats(-9000, 9000))
def test_a_span_stays_in_the_year(around: float, by: float, moved: float) -> None:
    span = Span().zoomed(by, around).moved(moved).zoomed(2.0, around)
    assert -1e-9 <= span.first < span.last <= 8760 + 1e-6 and span.wide >= SHORTEST - 1e-9


def test_zooming_keeps_the_hour_under_the_pointer() -> None:
    span = Span(1000, 3000).zoomed(4.0, 1500.0)
    assert span.wide == 500 and (1500 - span.first) / span.wide == pytest.approx(0.25)
    plot = plot_of(SIZE, span)
    assert plot.hour(plot.x(1234.5)) == pytest.approx(1234.5)


def test_thinned_lines_keep_what_is_least_and_most() -> None:
    values = np.random.default_rng(4).normal(20, 2, 8760)
    values[5000], values[123] = 60.0, -40.0
    rows = thinned(values, Plot(Span(), 0, 500))
    assert len(rows) <= 1100 and max(v for _, v in rows) == 60.0 and min(v for _, v in rows) == -40.0
    hours = [h for h, _ in rows]
    assert hours == sorted(hours)
    day = thinned(values, Plot(Span(4992, 5016), 0, 500))
    assert [v for _, v in day] == pytest.approx(values[4992:5016]) and day[8] == (5000.5, 60.0)


def test_dates_are_those_of_the_calendar() -> None:
    assert date_of(0) == "1 Jan, 0 to 1 h" and date_of(8759) == "31 Dec, 23 to 24 h" and date_of(31 * 24, False) == "1 Feb"
    assert date_of((31 + 28) * 24 + 13) == "1 Mar, 13 to 14 h"


def test_lines_read_an_hour_and_say_their_days(warm: Assessment) -> None:
    h = warm[HOURS]
    chart = replace(STANDARD["hours-lines"], third="sun")
    made = line_chart(warm, chart, SIZE, Span(4700, 4800), 4750.2)
    assert "16 Jul, 22 to 23 h" not in words(made) and date_of(4750) in words(made)
    assert f"operative {h.comfort.operative[4750]:.1f} °C" in words(made) and f"sun {h.sun[4750]:.0f} W" in words(made)
    with using(INCH_POUND):
        assert f"operative {h.comfort.operative[4750] * 1.8 + 32:.1f} °F" in words(line_chart(warm, chart, SIZE, Span(4700, 4800), 4750.2))
    assert "Jan" in words(line_chart(warm, chart, SIZE)) and "12 h" in words(line_chart(warm, chart, SIZE, Span(4704, 4728)))
    three = replace(chart, second="air that moves")
    assert "no third scale" in words(line_chart(warm, three, SIZE))
    assert "choose what" in words(line_chart(warm, replace(chart, first="none", second="none", third="none"), SIZE))


def test_so_many_hours_too_warm(warm: Assessment) -> None:
    """The duration counts what the verdict counts; the drawing of hours by day has as many warm cells."""
    share = warm.figures["overheating_share"].value
    assert share > 0.02
    assert f"{round(share * 8760)} h above 25 °C" in words(chart_of(warm, STANDARD["hours-duration"], SIZE))
    made = chart_of(warm, STANDARD["hours-by-day"], SIZE)
    grid = grid_of(SIZE, STANDARD["hours-by-day"])
    cell = grid.wide / 365
    cells = [i for i in made.items if isinstance(i, Path) and i.fill == "chestnut" and i.points[0][1] > 31]
    count = sum(round((i.points[1][0] - i.points[0][0] - 0.6) / cell) for i in cells)
    assert count == round(share * 8760)
    assert grid.at(LEFT + cell * 100.5, grid.top + grid.high * 0.5) == 100 * 24 + 12 and grid.at(2, 2) is None


def test_the_line_of_a_heat_meter() -> None:
    """Days that ask for 120 W a degree below 17 °C: the line says so, whatever days without heating there are."""
    outside = np.linspace(-8, 28, 365)
    slope, level = meter_line(outside, np.maximum(120 * (17 - outside), 0))
    assert slope == pytest.approx(-120, rel=1e-6) and -level / slope == pytest.approx(17, rel=1e-6)
    assert meter_line(outside, np.zeros(365)) == (0.0, 0.0)


def test_sums_of_causes_balance(warm: Assessment) -> None:
    """Gains and heating are losses and cooling over the year, but for what the mass holds."""
    h = warm[HOURS]
    for run in ("needs", "windows shut", "windows by hand"):
        sums = sums_by_month(h, run)
        came = sum(sums[n].sum() for n in ("heating", "sun", "inner gains"))
        went = sum(sums[n].sum() for n in ("by windows and doors", "by opaque parts", "by the air", "cooling"))
        assert came == pytest.approx(went, rel=2e-3)
    assert f"{sums_by_month(h, 'needs')['heating'].sum():.0f}" in words(chart_of(warm, STANDARD["hours-sums"], SIZE)).replace(
        "\u202f", ""
    ).replace(" ", "")


def test_every_quantity_and_kind_is_drawn(warm: Assessment, marrowby: Climate) -> None:
    h = hours_of(warm)
    assert isinstance(h, Hours)
    for name in QUANTITIES:
        for kind in ("lines", "hour by day", "duration"):
            made = chart_of(warm, HourChart(id="c", kind=kind, first=name, second="none"), SIZE)  # type: ignore[arg-type]
            assert name in words(made), (name, kind)
    unknown = assess(replace(warm.home, household=replace(warm.home.household, simple_gains=None)), warm.climate)
    for key in STANDARD:
        assert "needs" in words(chart_of(unknown, STANDARD[key], SIZE))


def test_a_chart_of_ones_own_is_pinned(warm: Assessment) -> None:
    chart = HourChart(id="mine", name="Two weeks of July", first="operative", second="windows by hand", run="windows by hand").with_days(
        190, 203
    )
    home = apply(Insert(owner="home", field="charts", index=0, value=chart), warm.home)
    home = apply(pinned(home, "hours-own", "mine", "July"), home)
    a = assess(home, warm.climate, warm)
    sketch = PICTURES["hours-own"].sketch
    assert sketch is not None and "9 Jul to 22 Jul" in words(sketch(a, "mine"))
    with pytest.raises(KeyError):
        sketch(warm, "mine")


@pytest.fixture(scope="module")
def tried(warm: Assessment) -> dict[str, Tried]:
    return {t.id: t for t in what_if(warm[PROBLEM], False)}


def test_tried_differently(warm: Assessment, tried: dict[str, Tried]) -> None:
    """Common practice, no source: no air at all, heating vanishes and it grows hot; dark windows and no gains are cooler; what takes the
    place of a way that is shut is named."""
    base = tried[""]
    assert base.share == pytest.approx(warm.figures["overheating_share"].value, abs=2e-4)
    assert base.heating == pytest.approx(warm.figures["hourly_heating_demand"].value, rel=1e-4)
    assert tried["air"].heating < 0.4 * base.heating and tried["air"].share > base.share + 0.1 and tried["air"].cooling > base.cooling
    assert tried["bypass"].share > base.share and tried["by_hand"].share < base.share
    assert tried["south"].share < base.share and tried["household"].share < base.share and tried["household"].heating > base.heating
    assert "windows open in" in tried["by_hand"].instead
    assert "the bypass opens" in tried["fresh air"].instead, "free cooling left on: air flows although the rate is zero"
    sheet = sheet_of(tuple(tried.values()))
    assert sheet.rows[0][0] == "As it is" and sheet.ids[0] == "as-it-is" and len(sheet.rows) == len(tried)
    said = {r[0]: r[-1] for r in sheet.rows}
    assert "nothing:" in str(said["No air at all"]) and "% of the year more is too warm" in str(said["Bypass shut"])
    assert sheet_of(()).rows == ()


def test_no_air_in_a_cool_place(osier_assessed: Assessment) -> None:
    """Common practice, no source: without any air heating falls to little and cooling multiplies."""
    found = {t.id: t for t in what_if(osier_assessed[PROBLEM], False)}
    base, none = found[""], found["air"]
    assert none.heating < 0.5 * base.heating and none.cooling > 5 * base.cooling


def test_blinds_and_cooling_are_tried_where_there_are_any(verrin: Climate, tried: dict[str, Tried]) -> None:
    assert "blinds" not in tried and "cooling" not in tried
    home = simple_home("verrin-plain")
    south = replace(home.openings[0], shade_summer=None, shade_winter=None, blind="outside", blind_passes=g(0.1))
    a = assess(replace(home, openings=(south, home.openings[1])), verrin)
    found = {t.id: t for t in what_if(a[PROBLEM], False)}
    assert found["blinds"].cooling > found[""].cooling and found["cooling"].share > found[""].share == 0
