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
from nuthatch.core.energy.stages import COEFFICIENTS
from nuthatch.core.fabric.stages import SUN
from nuthatch.core.model.part import replace
from nuthatch.core.results.figure import CannotKnow
from nuthatch.core.views.hourly import HEADS, beside_the_month, hourly
from nuthatch.core.views.openings.hour_by_hour import sun_of_year
from tests.simple_home import g, simple_home


@pytest.fixture(scope="module")
def osier(osier_assessed: Assessment):  # type: ignore[no-untyped-def]
    return hourly(osier_assessed)


def test_the_demo_home_beside_its_month(osier_assessed: Assessment, osier) -> None:  # type: ignore[no-untyped-def]
    """The prototype of the method found Osier Lane 7 9 % above the month; more than 15 % would be a question."""
    rows = {what: (hour, month) for what, hour, month in beside_the_month(osier_assessed, osier)}
    hour, month = rows["heating"]
    assert 0.0 < hour / month - 1 < 0.15
    assert osier.needs.operative.min() > 20 - 1e-6


def test_the_sun_of_the_hours_is_the_sun_of_the_months(osier_assessed: Assessment) -> None:
    """Without a blind the hours of each opening add up to its months for heating."""
    for o in osier_assessed.home.openings:
        through, months = sun_of_year(osier_assessed, o), np.asarray(osier_assessed.all_of(SUN)[o.id].months.value)
        assert through is not None and float(through.sum()) / 1000 <= months.sum() * (1 + 1e-9)
        if o.blind == "none" and o.shade_summer is None:
            assert float(through.sum()) / 1000 == pytest.approx(months.sum(), rel=1e-9)


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
        through = sun_of_year(a, one)
        assert through is not None
        assert float(through.sum()) / 1000 == pytest.approx(float(np.sum(a.all_of(SUN)["south"].cooled.value)), rel=1e-6)


def test_what_acts_is_what_the_balance_counts(osier_assessed: Assessment, osier) -> None:  # type: ignore[no-untyped-def]
    """Windows and opaque parts together are the home's transmission, the ground with it; all gains and sun are in the hours."""
    n = osier.network
    assert n.windows + n.opaque == pytest.approx(float(osier_assessed[COEFFICIENTS].transmission.value))  # type: ignore[arg-type]
    inside = float(osier.drive.gains.sum()) / 1000
    assert inside == pytest.approx(float(np.sum(osier_assessed.figures["internal_gains"].value)), rel=1e-9)
    losses = osier.needs.by_windows + osier.needs.by_opaque + osier.needs.by_air + osier.needs.by_glass
    kept = n.capacity / 3600 * (osier.needs.ends[1] - osier.needs.ends[0])
    came = osier.drive.gains.sum() + osier.drive.sun.sum() + osier.needs.held.sum()
    assert came - losses.sum() == pytest.approx(kept, abs=1e-6 * (abs(came) + abs(losses.sum())))


def test_a_plain_home_in_both_climates(marrowby: Climate, verrin: Climate) -> None:
    for climate, key, near in ((marrowby, "marrowby-quay", 0.15), (verrin, "verrin-plain", 0.25)):
        a = assess(simple_home(key), climate)
        h = hourly(a)
        (_, hour, month), _ = beside_the_month(a, h)
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
    assert cli.main(["hours", "osier-lane-7", "--csv", str(out), "--run", "by-hand", "--json"]) == 0
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
    assert cli.main(["hours", "osier-lane-7", "--csv", str(tmp_path / "no" / "such" / "hours.csv")]) == 2
