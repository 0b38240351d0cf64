"""Pictures and lists of place and sun: hours of sun, what is seen from a glass, the site plan; by what they show."""

from __future__ import annotations

import numpy as np
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.report import to_html
from nuthatch.core.exchange.summary import as_data
from nuthatch.core.library import FORMER_CLIMATES, demo_home, shipped_key
from nuthatch.core.model.home import ClimateRef
from nuthatch.core.model.part import replace
from nuthatch.core.model.site import RingSector, SiteObject
from nuthatch.core.sketch import Path, Text
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.shares import SunPath
from nuthatch.core.sun.shelter import rose, sheltered, shielding_of
from nuthatch.core.sun.stages import LET_IN, PATH, SHELTER
from nuthatch.core.views.openings.sun_drawn import day_of, seen, sun_hours, tint_of
from nuthatch.core.views.openings.sun_rows import sun_rows, sun_sheet
from nuthatch.core.views.site_plan import Hour, ground_of, shelter_words, site_plan
from tests.simple_home import g, simple_home


def opening(a: Assessment, ident: str):  # type: ignore[no-untyped-def]
    return next(o for o in a.home.openings if o.id == ident)


def words(made) -> str:  # type: ignore[no-untyped-def]
    return " ".join(i.text for i in made.items if isinstance(i, Text))


def test_strips_are_as_long_as_the_days_and_tinted_by_the_sunlit_share(osier_assessed: Assessment) -> None:
    """Sunrise of 21 June at 54.2° N, 3.1° W by the zone of Greenwich about 3:40, of 21 December about 8:25 (common practice, no source)."""
    a = osier_assessed
    path, let_in = a[PATH], a.all_of(LET_IN)["w-01"]
    assert isinstance(path, SunPath) and isinstance(let_in, LetIn)
    assert day_of(path, 171)[0] == pytest.approx(3.7, abs=0.3) and day_of(path, 354)[0] == pytest.approx(8.4, abs=0.3)
    made = sun_hours(a, opening(a, "w-01"), (420, 300))
    cells = {i.id: i for i in made.items if isinstance(i, Path) and i.id.startswith("hour:")}
    means = let_in.by_hour
    assert cells["hour:2:12"].fill == tint_of(float(means[2, 12])) and f"{100 * means[2, 12]:.0f} %" in cells["hour:2:12"].tip
    assert "hour:11:5" not in cells and "hour:5:5" in cells and cells["hour:5:5"].fill == tint_of(0.0)
    assert [tint_of(s) for s in (0.0, 0.2, 0.4, 0.7, 1.0)] == ["stone", "white", "glass", "tide_pale", "tide"]
    assert np.isnan(means[11, 3]) and np.nanmax(means) <= 1


def test_what_stands_before_a_window_is_seen_where_it_stands(osier_assessed: Assessment) -> None:
    a = osier_assessed
    made = seen(a, opening(a, "w-01"), (420, 300))
    drawn = {i.id for i in made.items if isinstance(i, Path)}
    assert {"birch", "no-5", "shed"} <= drawn and "no-4" not in drawn
    middle = {k: np.mean([p[0] for i in made.items if isinstance(i, Path) and i.id == k for p in i.points]) for k in ("birch", "no-5")}
    assert middle["no-5"] < 210 < middle["birch"], "seen from a south window the east is at the left"
    assert "21 June" in words(made) and "SE" in words(made)
    deep = replace(a.home, openings=tuple(replace(o, overhang=g(0.8)) if o.id == "w-01" else o for o in a.home.openings))
    assert "half of the glass" in words(seen(assess(deep, a.climate, a), opening(assess(deep, a.climate, a), "w-01")))


def test_why_an_opening_has_no_sun(marrowby: Climate) -> None:
    home = simple_home()
    a = assess(replace(home, openings=(replace(home.openings[0], width=None), *home.openings[1:])), marrowby)
    row = sun_rows(a)[0]
    assert row.why and row.winter is None and row.why in words(sun_hours(a, a.home.openings[0]))


def test_the_list_tells_typed_from_worked_out(osier_assessed: Assessment) -> None:
    a = osier_assessed
    typed = replace(a.home, openings=tuple(replace(o, shade_winter=g(0.5)) if o.id == "w-01" else o for o in a.home.openings))
    rows = {r.id: r for r in sun_rows(assess(typed, a.climate, a))}
    assert rows["w-01"].winter == pytest.approx(0.5) and rows["w-01"].typed == "winter" and rows["w-01"].worked[0] > 0.55  # type: ignore[index]
    assert rows["w-02"].typed == "" and rows["w-02"].summer < rows["w-02"].winter  # type: ignore[operator]
    sheet = sun_sheet(assess(typed, a.climate, a))
    column = [h.label for h in sheet.heads].index("Worked out")
    assert sheet.rows[0][column] and not sheet.rows[1][column]
    found = next(e for e in as_data(a)["elements"] if e["id"] == "w-01")  # type: ignore[index]
    assert len(found["sun_winter"]) == 12 == len(found["sun_summer"]) and found["sun_summer"][6] < found["sun_winter"][6]


def test_the_site_plan_places_what_stands_there(osier_assessed: Assessment) -> None:
    """A drag of ten pixels to the right moves a thing east by ten over the scale; shadows of the afternoon fall to the north-east."""
    a = osier_assessed
    size = (420.0, 420.0)
    made, ground = site_plan(a, size, "birch", Hour(79, 14)), ground_of(a, size)
    handle = next(h for h in made.handles if h.id == "birch")
    east, north = handle.pulls
    assert (east.field, north.field) == ("east", "north")
    assert east.after(10, 0) == pytest.approx(-7.5 + 10 / ground.scale, abs=0.06) and north.after(0, 10) == pytest.approx(
        -11 - 10 / ground.scale, abs=0.06
    )
    shadow = [p for i in made.items if isinstance(i, Path) and i.id == "shadow" for p in i.points]
    home = [p for i in made.items if isinstance(i, Path) and i.id == "the-home" for p in i.points]
    assert max(p[0] for p in shadow) > max(p[0] for p in home) and min(p[1] for p in shadow) < min(p[1] for p in home)
    assert not any(isinstance(i, Path) and i.id == "shadow" for i in site_plan(a, size, "", Hour(79, 2)).items), "by night there is none"
    rests = [i for i in made.items if isinstance(i, Path) and i.id.startswith("ring-e:") and i.dash]
    stands = [i for i in made.items if isinstance(i, Path) and i.id.startswith("ring-nw:") and not i.dash]
    assert rests and stands and any(i.id.startswith("wind:") for i in made.items if isinstance(i, Path))


def test_shelter_by_the_wind(osier_assessed: Assessment, marrowby: Climate) -> None:
    """All wind from the west, the west sheltered: high; sheltered in the east only: open; nobody says where it comes from: by directions alike."""
    west = np.full(8760, 270.0)
    wind = rose(np.ones(8760), west)
    assert wind[6] == 1 and rose(np.ones(8760), None) == pytest.approx(1 / 8)
    kept = sheltered((RingSector(id="w", start=g(247.5), end=g(292.5), sheltered=True),), (), (0.0, 0.0))
    assert kept[6] == pytest.approx(1, abs=0.03) and kept[2] == 0
    assert shielding_of(float(wind @ kept)) == "high" and shielding_of(0.0) == "open" and shielding_of(0.5) == "moderate"
    near = SiteObject(id="o", name="o", east=g(-30), north=g(0), length=g(10), depth=g(40), height=g(4))
    assert sheltered((), (near,), (0.0, 0.0))[6] > 0.9 and sheltered((), (replace(near, height=g(2)),), (0.0, 0.0))[6] == 0
    a = osier_assessed
    assert a[SHELTER] is not None and a[SHELTER].told and "moderate" in shelter_words(a)
    assert marrowby.weather.wind_from is not None and rose(marrowby.weather.wind, marrowby.weather.wind_from)[4:7].sum() > 0.6
    exposed = replace(a.home, site=replace(a.home.site, ring=(), objects=()))
    assert assess(exposed, a.climate, a)[SHELTER] is None
    open_home = replace(a.home, air=replace(a.home.air, shielding="open"))
    assert assess(open_home, a.climate, a).figures["infiltration_rate"].value > a.figures["infiltration_rate"].value  # type: ignore[operator]


def test_the_dossier_has_place_and_sun(osier_assessed: Assessment) -> None:
    page = to_html(osier_assessed)
    assert ">Sun on the openings</h2>" in page and "Birch" in page and "moderate shielding" in page
    assert "Moderate shielding: " in page and "% of the wind from sheltered directions" in page


def test_homes_that_name_a_shipped_climate_of_before_find_it() -> None:
    for sha, key in FORMER_CLIMATES.items():
        assert shipped_key(sha) == key
        home = demo_home("osier-lane-7")
        before = replace(home, site=replace(home.site, climate=ClimateRef(name="x", sha256=sha)))
        found = climate_for(before, None)
        assert found is not None and found.weather.wind_from is not None
