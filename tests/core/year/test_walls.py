"""The network against a wall followed layer by layer in time; odd weather; the hours in options and trials."""

from __future__ import annotations

from dataclasses import replace as changed

import numpy as np
import pytest
from scipy.linalg import solve_banded

from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.fabric.dynamic import dynamic, inner_capacity
from nuthatch.core.model.heat import HeatSource
from nuthatch.core.model.home import Household
from nuthatch.core.model.part import replace, specs
from nuthatch.core.trials import trial
from nuthatch.core.year import problem
from nuthatch.core.year.gains import most_heat
from nuthatch.core.year.network import MASS, SURFACE, of_faces
from nuthatch.core.year.problem import LateHours, Opaque, damped
from nuthatch.core.year.run import HOURS, Drive, Held, year
from nuthatch.core.year.stages import HOURS as HOURS_SLOT
from nuthatch.core.year.stages import PROBLEM
from tests.simple_home import g, simple_home

AREA, DEEP, CONDUCTIVITY, DENSITY, HEAT = 60.0, 0.20, 1.8, 2300.0, 1000.0
INSULATED = 5.0
"""Resistance outside of the concrete [m²·K/W]."""
AIR, GLASS, GLASSED = 25.0, 6.0, 8.0
"""Air and glass [W/K], and the glass itself [m²]."""


def by_differences(gains: np.ndarray, sun: np.ndarray, outside: np.ndarray) -> np.ndarray:
    """Air temperature of a room of one concrete wall insulated outside, its layers followed in 40 pieces and steps of six minutes: air and
    surface joined by 3.45 W/(m²·K), half of the gains and the sun on the surface, glass from the surface outward as in the network."""
    pieces, step, each = 40, 360.0, 10
    dx = DEEP / pieces
    between = CONDUCTIVITY / dx * AREA
    mass = DENSITY * HEAT * dx * AREA
    to_outside = AREA / (dx / (2 * CONDUCTIVITY) + INSULATED)
    h_is = SURFACE * AREA
    first = AREA / (dx / (2 * CONDUCTIVITY))
    k = h_is * AIR / (h_is + AIR)  # air node eliminated: surface to outdoor air through it
    surface_sum = first + k + GLASS
    t = np.full(pieces, 20.0)
    air = np.zeros(len(gains))
    diagonal = np.full(pieces, mass / step + 2 * between)
    diagonal[0] = mass / step + between + first - first**2 / surface_sum
    diagonal[-1] = mass / step + between + to_outside
    bands = np.zeros((3, pieces))
    bands[0, 1:], bands[1], bands[2, :-1] = -between, diagonal, -between
    for hour in range(len(gains)):
        both, free = 0.5 * gains[hour] + sun[hour], 0.5 * gains[hour]
        given = both + GLASS * outside[hour] + k * outside[hour] + h_is / (h_is + AIR) * free
        for _ in range(each):
            right = mass / step * t
            right[0] += first * given / surface_sum
            right[-1] += to_outside * outside[hour]
            t = solve_banded((1, 1), bands, right)
        surface = (first * t[0] + given) / surface_sum
        air[hour] = (h_is * surface + AIR * outside[hour] + free) / (h_is + AIR)
    return air


def swing(values: np.ndarray) -> float:
    """Half of what the last day runs through."""
    return float(np.ptp(values[-24:]) / 2)


@pytest.mark.parametrize(("what", "within"), [("gains", 0.25), ("sun", 0.25)])
def test_a_days_wave_against_a_wall_followed_in_time(what: str, within: float) -> None:
    """κ of ISO 13786 in the one capacity: the swing of the air from a day's wave of gains or sun within a quarter (method 11b)."""
    hours = np.arange(HOURS)
    wave = 600 * (1 + np.sin(2 * np.pi * hours / 24))
    none, out = np.zeros(HOURS), np.full(HOURS, 10.0)
    gains, sun = (wave, none) if what == "gains" else (none, wave)
    kappa = 1000 * inner_capacity.function((DEEP / CONDUCTIVITY, INSULATED), (DEEP, 0.175), (DENSITY, 0.0), (HEAT, 0.0))
    n = of_faces(((AREA, kappa),), GLASSED, GLASS, AREA / (1 / MASS + DEEP / CONDUCTIVITY + INSULATED))
    one = np.ones(HOURS)
    made = year(n, Drive(out, out, out, gains, sun, AIR * one, AIR * one, none), Held(None))
    followed = by_differences(gains[: 24 * 60], sun[: 24 * 60], out[: 24 * 60])
    assert swing(made.air) == pytest.approx(swing(followed), rel=within)


def test_odd_weather_gives_a_year_or_a_reason(marrowby: Climate) -> None:
    """No sun at all; one season all year; a home whose set-points cross; a climate by months."""
    home = simple_home()
    weather = marrowby.weather
    dark = changed(
        weather,
        direct_normal=0 * weather.direct_normal,
        diffuse_horizontal=0 * weather.diffuse_horizontal,
        global_horizontal=0 * weather.global_horizontal,
    )
    still = changed(weather, temperature=np.full(8760, 8.0))
    for one in (dark, still):
        a = assess(home, Climate(one, marrowby.sha256))
        assert a.figures["overheating_share"].value == 0.0 and np.isfinite(a[HOURS_SLOT].needs.operative).all()
        assert a.figures["hourly_heating_demand"].value == pytest.approx(a.figures["heating_demand"].value, rel=0.1)
    crossed = replace(home, site=replace(home.site, heating_setpoint=g(26), cooling_setpoint=g(22)))
    b = assess(crossed, marrowby)
    assert np.isfinite(b[HOURS_SLOT].needs.held).all() and any("at once" in q.text for q in b.questions)


def test_an_option_is_judged_by_its_summer(verrin: Climate) -> None:
    """The same trial as for any figure: an outside blind, tried on a warm home, moves the share of the year too warm and nothing is edited."""
    from nuthatch.core.trials import VERDICTS, trial

    home = simple_home("verrin-plain")
    home = replace(
        home,
        sources=tuple(replace(s, cooling_share=None) for s in home.sources),
        openings=(replace(home.openings[0], shade_summer=None), home.openings[1]),
    )
    a = assess(home, verrin)
    tried = trial(a, (SetValue(part="south", field="blind", value="outside"),), only=frozenset({"overheating_share", VERDICTS}))
    share = tried.figures["overheating_share"].value
    summer = next(v for v in tried.verdicts if v.name == "Summer comfort")
    assert (
        summer.ways[0].value is not None and summer.ways[0].value < next(v for v in a.verdicts if v.name == "Summer comfort").ways[0].value
    )
    assert share < a.figures["overheating_share"].value - 0.01
    done = assess(apply(SetValue(part="south", field="blind", value="outside"), home), verrin)
    assert share == pytest.approx(done.figures["overheating_share"].value, abs=1e-9)


@pytest.mark.parametrize("by_hand", ["left out", "counted"])
def test_a_trial_makes_the_run_it_is_judged_by(by_hand: str, verrin: Climate, monkeypatch: pytest.MonkeyPatch) -> None:
    """One of three; each is what it is where all are made, as those are which are asked for later."""
    home = simple_home("verrin-plain")
    assert by_hand in specs(Household)["by_hand"].choices
    home = replace(home, household=replace(home.household, by_hand=by_hand, hand_most=g(1.5)))
    a = assess(home, verrin)
    made: list[Held] = []
    monkeypatch.setattr(problem, "year", lambda *row: (made.append(row[2]), year(*row))[1])
    change = SetValue(part="air", field="n50", value=g(3.37 if by_hand == "counted" else 3.73))
    tried = trial(a, (change,), only=frozenset({"overheating_share"}))
    assert len(made) == 1
    then = assess(apply(change, home), verrin)
    assert tried.figures["overheating_share"].value == then.figures["overheating_share"].value
    assert len(made) >= 3, "all three of the home itself"
    late, whole = LateHours(then[PROBLEM]), then[HOURS_SLOT]
    for run in ("needs", "comfort", "by_hand"):
        assert (getattr(late, run).operative == getattr(whole, run).operative).all() and (
            getattr(late, run).held == getattr(whole, run).held
        ).all()
    assert late.heating == whole.heating and (late.sun == whole.sun).all() and late.area == whole.area
    assert (late.by_hand is late.comfort) == (not then[PROBLEM].by_hand)


def test_a_days_wave_comes_later_and_smaller_through_a_wall() -> None:
    """ISO 13786: outside 10 ± 5 K a day; through the wall f × 5 K, later by its time shift; a part without a build-up at once."""
    build = simple_home().buildups[0]
    day = dynamic(build, "across", "outside air")
    factor, late = float(day.decrement.value), float(day.shift.value)  # type: ignore[arg-type]
    wave = 10 + 5 * np.sin(2 * np.pi * np.arange(HOURS) / 24)
    through = damped(Opaque(1.0, build, "across", "outside air"), wave)[48:96]
    assert np.ptp(through) / 2 == pytest.approx(5 * min(factor, 1.0), rel=0.02)
    later = (int(through[:24].argmax()) - int(wave[48:72].argmax())) % 24
    assert later == round(late) > 0
    assert damped(Opaque(1.0), wave) is wave and damped(Opaque(1.0, months=tuple(range(12))), wave)[-1] == 11


def test_a_unit_without_a_bypass_keeps_its_recovery(marrowby: Climate) -> None:
    home = simple_home()
    opens = assess(home, marrowby)[PROBLEM]
    shut = assess(replace(home, air=replace(home.air, units=(replace(home.air.units[0], bypass=False),))), marrowby)[PROBLEM]
    assert opens.open_air > opens.air + 10 and shut.open_air == pytest.approx(shut.air) == pytest.approx(opens.air)


def test_limits_of_sources_hold_where_all_have_one() -> None:
    """Two boilers of 3 and 2 kW with 10 % lost on the way of the first: 3/1.1 + 2 kW; one without a limit: none."""
    one = HeatSource(id="a", heating_share=g(0.6), power=g(3000), distribution=g(0.1))
    other = HeatSource(id="b", heating_share=g(0.4), power=g(2000))
    assert most_heat((one, other)) == pytest.approx(3000 / 1.1 + 2000)
    assert most_heat((one, replace(other, power=None))) == most_heat(()) == np.inf
    idle = HeatSource(id="c", heating_share=g(0.0))
    assert most_heat((one, other, idle)) == pytest.approx(3000 / 1.1 + 2000)
    assert most_heat((replace(one, takes_over="c"), other, idle)) == np.inf, "what takes over has no limit"


def test_a_home_without_any_floor_asks_for_one(marrowby: Climate) -> None:
    home = simple_home()
    a = assess(replace(home, shape=replace(home.shape, dimensions="internal", measured_area=g(0))), marrowby)
    assert a.figures["overheating_share"].value is None and "floor" in a.figures["overheating_share"].needs[0].text
