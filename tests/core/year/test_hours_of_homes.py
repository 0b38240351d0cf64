"""The hourly year of whole homes: beside the month, what is missing, the command and its table."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import numpy as np
import pytest

from nuthatch import cli
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.library import climate_for
from nuthatch.core.energy.stages import COEFFICIENTS
from nuthatch.core.fabric.stages import SUN
from nuthatch.core.model.household import Appliance
from nuthatch.core.model.part import replace
from nuthatch.core.model.patterns import DayPattern, PatternDay
from nuthatch.core.results.figure import CannotKnow
from nuthatch.core.views.hours.told import HEADS, beside_the_month, hourly
from nuthatch.core.year.problem import Problem, Sunlit
from nuthatch.core.year.stages import HOURS, PROBLEM
from tests.core.year.random_homes import CLIMATES, by_chance
from tests.simple_home import g, simple_home


@pytest.fixture(scope="module")
def osier(osier_assessed: Assessment):  # type: ignore[no-untyped-def]
    return hourly(osier_assessed)


def test_the_demo_home_beside_its_month(osier_assessed: Assessment, osier) -> None:  # type: ignore[no-untyped-def]
    """The prototype of the method found Osier Lane 7 9 % above the month; more than 15 % would be a question."""
    rows = {what: (hour, month) for what, hour, month in beside_the_month(osier_assessed)}
    hour, month = rows["heating"]
    assert 0.0 < hour / month - 1 < 0.15
    assert osier.needs.operative.min() > 20 - 1e-5


def suns(a: Assessment) -> dict[str, Sunlit]:
    problem = a[PROBLEM]
    assert isinstance(problem, Problem)
    return {s.id: s for s in problem.sun}


def test_the_sun_of_the_hours_is_the_sun_of_the_months(osier_assessed: Assessment) -> None:
    """Without a blind the hours of each opening add up to its months for heating."""
    found = suns(osier_assessed)
    for o in osier_assessed.home.openings:
        months = float(np.sum(osier_assessed.all_of(SUN)[o.id].months.value))
        through = float(found[o.id].hours.sum()) / 1000 if o.id in found else 0.0
        assert through <= months * (1 + 1e-6)
        if o.blind == "none" and o.shade_summer is None:
            assert through == pytest.approx(months, rel=1e-6)


def test_typed_shares_and_blinds_count_by_the_hour_as_by_the_month(marrowby: Climate) -> None:
    """Whatever is typed or moved, the hours add up to what the month counts for cooling, where its own rule is the same."""
    home = simple_home()
    south = next(o for o in home.openings if o.id == "south")
    bare = replace(south, shade_winter=None, shade_summer=None)
    for one in (
        replace(bare, shade_winter=g(0.5), blind="outside"),
        replace(bare, shade_summer=g(0.2)),
        replace(bare, shade_winter=g(0.7), shade_summer=g(0.3)),
        replace(bare, blind="awning"),
    ):
        a = assess(replace(home, openings=(one,)), marrowby)
        through = suns(a)["south"].hours
        assert float(through.sum()) / 1000 == pytest.approx(float(np.sum(a.all_of(SUN)["south"].cooled.value)), rel=1e-6)


def test_what_acts_is_what_the_balance_counts(osier_assessed: Assessment, osier) -> None:  # type: ignore[no-untyped-def]
    """Windows and opaque parts together are the home's transmission, the ground with it; all gains and sun are in the hours."""
    problem = osier_assessed[PROBLEM]
    n = problem.network
    assert n.windows + n.opaque == pytest.approx(float(osier_assessed[COEFFICIENTS].transmission.value))  # type: ignore[arg-type]
    assert sum(w.loss for w in problem.walls) == pytest.approx(n.opaque)
    inside = float(osier.gains.sum(dtype=float)) / 1000
    assert inside == pytest.approx(float(np.sum(osier_assessed.figures["internal_gains"].value)), rel=1e-6)
    losses = osier.needs.by_windows + osier.needs.by_opaque + osier.needs.by_air + osier.needs.by_glass
    kept = n.capacity / 3600 * (osier.needs.ends[1] - osier.needs.ends[0])
    came = float((osier.gains + osier.sun + osier.needs.held).sum(dtype=float))
    went = float(losses.sum(dtype=float))
    assert came - went == pytest.approx(kept, abs=1e-5 * (abs(came) + abs(went)))


def even(share: float, hours: tuple[int, ...] = ()) -> PatternDay:
    return PatternDay(id=f"d-{share}", hours=tuple(1.0 if h in hours else share for h in range(24)))


def test_patterns_move_hours_not_the_year(marrowby: Climate) -> None:
    """Gains by a pattern come when it says, and are as many; a setback saves heat by the hour and by the month; windows and blinds follow
    theirs."""
    evening = DayPattern(id="evening", name="Evening", days=(even(0.1, (18, 19, 20, 21)),))
    never = DayPattern(id="never", name="Never", days=(even(0.0),))
    home = simple_home()
    all_in = Appliance(id="all", name="All", energy=g(2000))
    itemised = replace(home.household, gains="itemised", person_heat=g(44), electricity=None, appliances=(all_in,))
    plain = replace(home, household=itemised, patterns=(evening, never))
    by_evening = replace(plain, household=replace(itemised, appliances=(replace(all_in, pattern="evening"),)))
    a, b = assess(plain, marrowby), assess(by_evening, marrowby)
    one, other = a[PROBLEM].gains, b[PROBLEM].gains
    assert other.sum() == pytest.approx(one.sum()) and other[19] > 3 * other[3] and one[19] == pytest.approx(one[3])
    back = replace(plain, site=replace(plain.site, setback=g(16), heating_hours="evening"))
    c = assess(back, marrowby)
    for key in ("hourly_heating_demand", "heating_demand"):
        assert c.figures[key].value < 0.95 * a.figures[key].value, key
    assert c[HOURS].needs.operative.min() < 18 and c[HOURS].needs.operative[19] >= 20 - 1e-4
    shut = replace(plain, household=replace(itemised, window_hours="never"))
    assert not assess(shut, marrowby)[HOURS].by_hand.opened.any() and a[HOURS].by_hand.opened.any()
    night = replace(plain, household=replace(itemised, night_windows=True))
    assert (
        assess(night, marrowby)[HOURS].by_hand.opened.reshape(365, 24)[:, 23].max()
        > 0
        == a[HOURS].by_hand.opened.reshape(365, 24)[:, 23].max()
    )
    south = replace(plain.openings[0], shade_summer=None, blind="outside")
    shaded = replace(plain, openings=(south, plain.openings[1]))
    still = replace(shaded, household=replace(itemised, blind_hours="never"))
    d, e, f = (assess(h, marrowby) for h in (shaded, still, replace(plain, openings=(replace(south, blind="none"), plain.openings[1]))))
    assert d.figures["overheating_share"].value <= e.figures["overheating_share"].value
    assert np.array_equal(suns(e)["south"].hours, suns(f)["south"].hours) and suns(d)["south"].hours.sum() < suns(e)["south"].hours.sum()


def test_a_plain_home_in_both_climates(marrowby: Climate, verrin: Climate) -> None:
    for climate, key, near in ((marrowby, "marrowby-quay", 0.15), (verrin, "verrin-plain", 0.25)):
        a = assess(simple_home(key), climate)
        h = hourly(a)
        (_, hour, month), _ = beside_the_month(a)
        assert hour == pytest.approx(month, rel=near), "the little a warm place asks for lies in few cold nights: 1.5 kWh/(m²·a) more"
        assert h.by_hand.operative.mean() <= h.comfort.operative.mean() + 1e-9, "windows opened by hand never make it warmer in the mean"


def test_what_is_missing_is_said(marrowby: Climate) -> None:
    home = simple_home()
    for made, words in (
        (replace(home, household=replace(home.household, simple_gains=None)), "gains"),
        (replace(home, site=replace(home.site, cooling_setpoint=None)), "set-point"),
        (replace(home, shape=replace(home.shape, inner_mass=None)), "capacity"),
    ):
        with pytest.raises(CannotKnow, match=words):
            hourly(assess(made, marrowby))
    with pytest.raises(CannotKnow):
        hourly(assess(home, None))
    light = tuple(replace(b, layers=tuple(replace(x, density=None, specific_heat=None) for x in b.layers)) for b in home.buildups)
    with pytest.raises(CannotKnow):
        hourly(assess(replace(home, buildups=light, shape=replace(home.shape, inner_mass=g(0))), marrowby))


def test_the_command_and_its_table(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "hours.csv"
    assert cli.main(["hours", "osier-lane-7", str(out), "--run", "by-hand", "--json"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert (
        said["heating"]["by_hour"] > said["heating"]["by_month"] > 5 and 0 <= said["too_warm"]["by_hand"] <= said["too_warm"]["shut"] <= 1
    )
    rows = list(csv.reader(out.open(encoding="utf-8")))
    assert tuple(rows[0]) == HEADS and len(rows) == 8761 and rows[1][0] == "1" and rows[-1][1] == "12"
    assert max(float(r[5]) for r in rows[1:]) == pytest.approx(said["warmest"]["by_hand"], abs=1e-3)
    assert cli.main(["hours", "osier-lane-7"]) == 0
    assert "by the hour" in capsys.readouterr().out
    assert cli.main(["hours", "sail-loft"]) == 3
    assert "need" in capsys.readouterr().out
    assert cli.main(["hours", "osier-lane-7", str(tmp_path / "no" / "such" / "hours.csv")]) == 2


@pytest.mark.parametrize("climate", CLIMATES)
def test_hours_and_months_of_homes_by_chance(climate: str) -> None:
    """Ten homes in each of three climates (thirty in each: docs/methods): heating within 15 %, or within 1 kWh/(m²·a), or the question says what
    parts them; in the cool climates all of them are within 8 %."""
    apart = []
    for seed in range(10):
        home = by_chance(seed, climate)
        a = assess(home, climate_for(home, None))
        hour, month = (float(a.figures[k].value) for k in ("hourly_heating_demand", "heating_demand"))  # type: ignore[arg-type]
        asked = any("by the hour" in q.text and q.text.startswith("Heating") for q in a.questions)
        far = abs(hour - month) > 1.0 and abs(hour - month) > 0.15 * max(hour, month)
        assert asked == far, (seed, hour, month)
        apart.append(hour / month - 1)
    assert climate == "verrin-plain" or max(abs(x) for x in apart) < 0.08
