"""The chance of passing against closed forms (docs/methods: options): P = Φ((limit − μ)/σ) of a linear home, within 0.03."""

from __future__ import annotations

from math import log, sqrt

import numpy as np
import pytest
from scipy.stats import norm, truncnorm

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home, Junction
from nuthatch.core.model.options import Certainty
from nuthatch.core.model.part import Basis, Given, replace, specs
from nuthatch.core.model.target_set import Condition, Target, TargetSet, Way
from nuthatch.core.options.chance import WHOLE, Chance, Judge, Sample, chance_of, keys_of, margin_of, normal, sampled, sobol
from nuthatch.core.options.uncertain import Uncertain, half_width, uncertain, with_values
from tests.simple_home import g, simple_home

STILL = Certainty(assumed=g(0), declared=g(0), measured=g(0), temperature=g(0), psi_assumed=g(0), psi_known=g(0), share=g(0))


def made(home: Home) -> Assessment:
    return assess(home, climate_for(home, None))


def limited(home: Home, figure: str, limit: float, **more: object) -> Home:
    one = TargetSet(
        id="own",
        name="Own",
        source="these tests",
        targets=(Target(id="own.t", name="It", ways=(Way(figure=figure, limit=limit),)),),
        **more,
    )  # type: ignore[arg-type]
    return replace(home, target_sets=(one,))


def given(value: float, basis: Basis = Basis.ASSUMED, half: float | None = None) -> Given:
    return Given(value=value, basis=basis, half=half)


@pytest.mark.parametrize("key", ["weir-cottage", "osier-lane-7", "sail-loft"])
def test_nothing_moved_is_the_home_as_it_is(key: str) -> None:
    """ψ of tiers and details as typed values, nothing else in the home: every verdict as before."""
    a = made(demo_home(key))
    judge = Judge(a)
    same = judge.verdicts(np.zeros(len(judge.rows)))
    for k in keys_of(a.verdicts):
        assert margin_of(same, k) == pytest.approx(margin_of(a.verdicts, k), nan_ok=True, rel=1e-12)
    assert set(judge.at) == {(p.part, p.field) for r in judge.rows for p in r.puts}


def linear() -> tuple[Home, float, float, list[float]]:
    """Junctions of known lengths with ψ of which only σ is known: H = Σψ·L + rest. (home, H, σ, σ of each)."""
    lengths = (30.0, 12.0, 50.0)
    rows = tuple(
        Junction(id=f"j{n}", name=f"j{n}", length=g(x), psi=given(0.1, half=half), b=g(1.0))
        for n, (x, half) in enumerate(zip(lengths, (0.05, 0.1, 0.02), strict=True))
    )
    home = replace(simple_home(), junctions=rows, certainty=STILL)
    h = float(made(home).figures["transmission_loss_coefficient"].value)  # type: ignore[arg-type]
    sigmas = [x * half / 1.96 for x, half in zip(lengths, (0.05, 0.1, 0.02), strict=True)]
    return home, h, sqrt(sum(s * s for s in sigmas)), sigmas


@pytest.mark.parametrize("off", [-1.0, 0.0, 0.7])
def test_a_linear_home_passes_as_often_as_the_normal_distribution_says(off: float) -> None:
    home, h, sigma, sigmas = linear()
    a = made(limited(home, "transmission_loss_coefficient", h + off * sigma))
    sample = sampled(a)
    assert [r.part for r in sample.rows] == ["j0", "j1", "j2"], "nothing else is uncertain"
    found = chance_of(sample, ("own", "It"), a.verdicts)
    assert found is not None and found.chance == pytest.approx(norm.cdf(off), abs=0.03) and 0 < found.error < 0.03
    assert found.limit == pytest.approx(h + off * sigma) and len(found.values) == 512
    assert np.std(found.values) == pytest.approx(sigma, rel=0.03) and np.mean(found.values) == pytest.approx(h, rel=1e-3)
    # what to measure first: the shares of the variance, and the chance without it
    by = {f.part: f for f in found.firsts}
    for n, s in enumerate(sigmas):
        assert by[f"j{n}"].share == pytest.approx(s**2 / sigma**2, abs=0.02)
        left = sqrt(sigma**2 - s**2)
        assert by[f"j{n}"].then == pytest.approx(norm.cdf(off * sigma / left), abs=0.03)
    assert [f.part for f in found.firsts] == [f"j{n}" for n in np.argsort(sigmas)[::-1]]


def test_n50_assumed_is_normal_in_the_logarithm() -> None:
    """×/÷ 1.5 holds 95 %: half of 2.5 % lies above; a test that measured is normal within its own interval."""
    home = replace(simple_home(), certainty=STILL)
    home = apply(SetValue(part="air", field="n50", value=given(0.6)), home)
    for ratio in (0.9, 1.0, 1.3):
        a = made(limited(home, "n50", 0.6 * ratio))
        found = chance_of(sampled(a), ("own", "It"), a.verdicts)
        assert found is not None and found.chance == pytest.approx(norm.cdf(log(ratio) / (log(1.5) / 1.96)), abs=0.03)
    cottage = made(limited(replace(demo_home("weir-cottage"), certainty=STILL), "n50", 6.85))
    row = next(r for r in Judge(cottage).rows if r.field == "n50")
    assert row.basis == "measured" and not row.log and row.half < 0.05 * row.value, "the interval of its test"
    practised = apply(SetValue(part="air", field="n50", value=given(0.6, Basis.MEASURED)), home)
    measured = next(r for r in uncertain(made(replace(practised, certainty=Certainty()))) if r.field == "n50")
    assert measured.half == pytest.approx(0.03) and not measured.log


def test_half_widths_of_the_methods() -> None:
    """Assumed 20 %, declared and calculated 5 %, temperatures 1 K, ψ 0.05 and 0.02, shares 0.1; own and the office's before them."""
    from nuthatch.core.model.home import HeatSource, Layer, Site
    from nuthatch.core.model.ventilation import VentilationUnit

    plain = Certainty()
    table = (
        (Layer, "conductivity", given(0.04), 0.008), (Layer, "conductivity", given(0.04, Basis.DECLARED), 0.002),
        (Layer, "conductivity", given(0.04, Basis.CALCULATED), 0.002), (Site, "heating_setpoint", given(20), 1.0),
        (Junction, "psi", given(0.1), 0.05), (Junction, "psi", given(0.1, Basis.DECLARED), 0.02), (VentilationUnit, "recovery", given(0.8), 0.1),
        (HeatSource, "efficiency", given(3.0), 0.6), (Layer, "conductivity", given(0.04, half=0.001), 0.001),
    )  # fmt: skip
    for part, field, value, half in table:
        assert half_width(value, specs(part)[field], plain) == pytest.approx(half), (field, value)
    assert half_width(given(0.04), specs(Layer)["conductivity"], Certainty(assumed=g(0.1))) == pytest.approx(0.004)


def test_the_same_material_is_one_variable_and_a_thickness_moves_its_resistance() -> None:
    home = simple_home()
    wool = replace(home.buildups[0].layers[0], name="Wool", conductivity=given(0.035))
    roof = replace(home.buildups[1], layers=(replace(wool, id="roof.1", thickness=g(0.3)), home.buildups[1].layers[1]))
    home = replace(home, buildups=(replace(home.buildups[0], layers=(wool, home.buildups[0].layers[1])), roof, home.buildups[2]))
    rows = uncertain(made(home))
    one = next(r for r in rows if r.field == "conductivity" and r.name.startswith("Wool"))
    assert {p.part for p in one.puts} == {"wall.1", "roof.1"} and one.half == pytest.approx(0.007)
    thick = next(r for r in rows if r.part == "wall.1" and r.field == "thickness")
    at = {(p.part, p.field): 0.035 for r in (one, thick) for p in r.puts}
    changed = apply(with_values(home, (one, thick), (1.0, 2.0), at), home)
    wanted = (0.035 + 0.007 / 1.96) / ((0.2 + 2 * 0.01 / 1.96) / 0.2)
    assert changed.buildups[0].layers[0].conductivity.value == pytest.approx(wanted)  # type: ignore[union-attr]
    assert changed.buildups[1].layers[0].conductivity.value == pytest.approx(0.035 + 0.007 / 1.96)  # type: ignore[union-attr]
    moved = [r.field for r in rows]
    assert (
        "count" not in {r.kind for r in rows}
        and "heating_share" not in moved
        and "ground_reflectance" not in moved
        and "width" not in moved
    )


def test_a_value_of_zero_with_a_half_width_of_its_own_varies_by_it() -> None:
    home = replace(simple_home(), certainty=STILL)
    stores = (replace(home.water.stores[0], loss=given(0.0, half=0.5)),)
    home = replace(home, water=replace(home.water, stores=stores))
    judge = Judge(made(home))
    row = next(r for r in judge.rows if (r.part, r.field) == ("store", "loss"))
    changed = apply(with_values(judge.base.home, (row,), (1.0,), judge.at), judge.base.home)
    assert changed.water.stores[0].loss is not None and changed.water.stores[0].loss.value == pytest.approx(0.5 / 1.96)


def test_distributions_are_cut_at_three_sigma_and_at_what_can_be() -> None:
    share = Uncertain("x", "p", "f", "fraction", "assumed", 0.95, 0.1, 0.0, 1.0, ())
    z = normal((share,), sobol(1, 3, 512))[:, 0]
    assert z.max() <= 0.05 / (0.1 / 1.96) + 1e-9 and z.min() >= -3
    wanted = truncnorm(-3, 0.98)
    assert np.mean(z) == pytest.approx(wanted.mean(), abs=0.02) and np.std(z) == pytest.approx(wanted.std(), abs=0.02)
    assert np.array_equal(sobol(5, 1), sobol(5, 1)) and not np.array_equal(sobol(5, 1), sobol(5, 2))


def test_what_a_set_fixes_does_not_vary() -> None:
    home = replace(simple_home(), certainty=replace(STILL, temperature=g(1.0)))
    free, fixed = (
        limited(home, "heating_demand", 15.0),
        limited(home, "heating_demand", 15.0, conditions=(Condition(field="site.heating_setpoint", value=20.0),)),
    )
    spread = [np.nanstd(sampled(made(h), (0,), 16).margins[("own", "It")]) for h in (free, fixed)]
    assert spread[0] > 0.02 and spread[1] == pytest.approx(0.0, abs=1e-9)


def test_two_halves_are_the_whole_and_none_or_all_are_said() -> None:
    home, h, sigma, _ = linear()
    a = made(limited(home, "transmission_loss_coefficient", h + 9 * sigma))
    whole = sampled(a, homes=16)
    halves = sampled(a, range(4), 16).joined(sampled(a, range(4, 8), 16))
    assert np.array_equal(whole.z, halves.z) and np.array_equal(whole.margins[("own", "It")], halves.margins[("own", "It")])
    found = chance_of(whole, ("own", WHOLE), a.verdicts)
    assert found is not None and found.chance == 1
    words = [Chance(("a", "b"), p, 0.0, ()).words for p in (0.0, 1.0, 0.64)]
    assert words == ["under 0.6 %", "over 99.4 %", "64 %"]


def test_a_home_without_anything_known_has_no_chance_and_one_by_rounding_passes() -> None:
    a = made(limited(simple_home(), "solar_share", 0.1))
    assert chance_of(sampled(a, (0,), 8), ("own", "It"), a.verdicts) is None
    home, h, _, _ = linear()
    still = replace(home, junctions=tuple(replace(j, psi=given(0.1, half=1e-9)) for j in home.junctions))
    places = next(d for d in range(6) if h - round(h, d) > 10.0 ** -(d + 2))
    way = Way(figure="transmission_loss_coefficient", limit=round(h, places), decimals=places)
    rounded = replace(
        still, target_sets=(TargetSet(id="own", name="Own", source="x", targets=(Target(id="own.t", name="It", ways=(way,)),)),)
    )
    b = made(rounded)
    assert b.verdicts[0].standing == "inside" and margin_of(b.verdicts, ("own", "It")) > 0, "inside by rounding only"
    found = chance_of(sampled(b, (0,), 8), ("own", "It"), b.verdicts)
    assert found is not None and found.chance == 1.0


def test_above_so_many_variables_those_that_carry_the_variance(monkeypatch: pytest.MonkeyPatch) -> None:
    home, h, _, _ = linear()
    tiny = replace(home.junctions[2], psi=given(0.1, half=1e-5))
    a = made(limited(replace(home, junctions=(*home.junctions[:2], tiny)), "transmission_loss_coefficient", h))
    monkeypatch.setattr("nuthatch.core.options.chance.MOST", 2)
    sample: Sample = sampled(a, (0,), 8)
    assert [r.part for r in sample.rows] == ["j0", "j1"]
