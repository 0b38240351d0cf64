"""The hourly year and the rooms in the dossier: what they say is what the results say, in both unit systems; what is not known says why."""

from __future__ import annotations

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.dossier.hours import hours, rooms
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.model.part import replace
from nuthatch.core.units import INCH_POUND, show, using, with_unit
from nuthatch.core.views.hours.rooms import loads_of, together
from tests.simple_home import simple_home


def test_hours_and_rooms_stand_in_the_dossier(osier_assessed: Assessment) -> None:
    a = osier_assessed
    page = to_html(a, Made(date="2026-12-01"))
    assert "The year by the hour" in page and "Loads of rooms" in page and a.home.charts[0].name in page
    for key in ("hourly_heating_demand", "hourly_cooling_demand"):
        assert with_unit(float(a.figures[key].value), "specific_energy") in page, key  # type: ignore[arg-type]
    told = rooms(a)
    rows = told["rooms"]["rows"]  # type: ignore[index]
    assert len(rows) == len(loads_of(a)) == len(told["parts"]["rows"])  # type: ignore[index, arg-type]
    assert all(show(float(r.load.value), "power") in row for r, row in zip(loads_of(a), rows, strict=True))  # type: ignore[arg-type]
    assert with_unit(float(together(a).value), "power") in page  # type: ignore[arg-type]
    with using(INCH_POUND):
        assert with_unit(float(together(a).value), "power") in to_html(a, Made(date="2026-12-01"))  # type: ignore[arg-type]


def test_what_makes_a_warm_home_warm_is_listed(verrin: Climate) -> None:
    home = simple_home("verrin-plain")
    warm = assess(replace(home, sources=tuple(replace(s, cooling_share=None) for s in home.sources)), verrin)
    page = to_html(warm, Made(date="2026-12-01"))
    assert "The year tried differently" in page and "No air at all" in page and "Loads of rooms" not in page
    unknown = hours(assess(home, None))
    assert (
        unknown["needs"]
        and rooms(assess(home, None))["rooms"] is None
        and "Not known yet: needs" in to_html(assess(home, None), Made(date="2026-12-01"))
    )
