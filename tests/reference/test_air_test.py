"""The air test against known answers: made-up tests whose C and n are known, scipy's regression, psychrolib's air, figures by hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from math import exp, log, sqrt
from typing import Any

import numpy as np
import psychrolib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import linregress, t

from nuthatch.core.airtest.readings import DEPRESSURISING, PRESSURISING, WAYS, Instrument, Measurement, Reading, Ring, Series, at_zero
from nuthatch.core.airtest.validity import Requirement, lines, valid
from nuthatch.core.airtest.worked import STANDARD, air_density, fitted, worked, zero_of
from nuthatch.core.exchange.readings import COLUMNS, SETUP, number
from nuthatch.core.results.figure import CannotKnow
from nuthatch.core.units import METRIC, using

RING = Ring("B", 18.0, 0.5, 20.0, 900.0)
LADDER = (12.0, 20.0, 28.0, 36.0, 44.0, 52.0, 60.0)
INSIDE, OUTSIDE, BAROMETER = 21.0, 3.0, 98_000.0


def dry(temperature: float) -> float:
    """Density of dry air by the gas law, R 287.055 J/(kg·K)."""
    return BAROMETER / (287.055 * (temperature + 273.15))


def series_of(
    way: str, c: float, n: float, zeros: tuple[float, float], noise: tuple[float, ...] = (0.0,) * 7, flows: bool = False
) -> Series:
    """What fan and gauge would read of an envelope with C_L = c at standard conditions: ISO 9972:2015, 6, turned round."""
    down = way == DEPRESSURISING
    leaks, fan = (dry(OUTSIDE), dry(INSIDE)) if down else (dry(INSIDE), dry(OUTSIDE))
    readings = []
    for p, e in zip(LADDER, noise, strict=True):
        envelope = c * (leaks / 1.20411) ** (n - 1) * p**n * exp(e)  # ρ₀ = 101 325/(287.055·293.15) = 1.20411
        through = envelope * leaks / fan  # the same mass
        read = through / sqrt(1.20411 / fan)
        shown = (-p if down else p) + sum(zeros) / 2
        at_ring = (read / RING.coefficient) ** (1 / RING.exponent)
        readings.append(Reading(shown, read, seconds=30.0) if flows else Reading(shown, fan_pressure=at_ring, ring="B", seconds=30.0))
    return Series(way, tuple(readings), at_zero(zeros[0], seconds=30), at_zero(zeros[1], seconds=30))


def a_test(c: float = 40.0, n: float = 0.62, **changes: Any) -> Measurement:
    made: dict[str, Any] = dict(
        series=tuple(series_of(way, c, n, (0.8, -0.4)) for way in WAYS), rings={"B": RING}, volume=310.0, envelope=400.0, floor=120.0,
        height=6.0, inside=INSIDE, outside=OUTSIDE, barometer=BAROMETER, wind=2.0, tested=date(2026, 11, 20), 
        instruments=(Instrument("fan", date(2026, 3, 1), date(2027, 3, 1)),),
    )  # fmt: skip
    return Measurement(**(made | changes))


@given(c=st.floats(5, 60), n=st.floats(0.5, 1.0), a=st.floats(-4, 4), b=st.floats(-4, 4))
@settings(max_examples=40, deadline=None)
def test_a_known_envelope_comes_back(c: float, n: float, a: float, b: float) -> None:
    for flows in (False, True):
        test = a_test(series=tuple(series_of(way, c, n, (a, b), flows=flows) for way in WAYS))
        result = worked(test)
        for half in result.halves:
            assert (half.fit.exponent, half.coefficient) == (pytest.approx(n, rel=1e-6), pytest.approx(c, rel=1e-5))
        assert result.q50 == pytest.approx(c * 50**n, rel=1e-5)
        assert (result.n50, result.q_e50, result.q_f50) == tuple(pytest.approx(result.q50 / v) for v in (310, 400, 120))


def test_flows_corrected_for_the_fans_air_are_not_corrected_again() -> None:
    read = a_test(series=(series_of(DEPRESSURISING, 40, 0.62, (0, 0), flows=True),))
    ratio = worked(read).q50 / worked(Measurement(**{**read.__dict__, "corrected": True})).q50
    assert ratio == pytest.approx(sqrt(1.20411 / dry(INSIDE)), rel=1e-5)


def test_a_gauge_without_a_sign_reads_the_same() -> None:
    test = a_test()
    plain = tuple(
        Series(s.way, tuple(Reading(abs(r.pressure), fan_pressure=r.fan_pressure, ring="B") for r in s.readings), s.before, s.after)
        for s in test.series
    )
    assert worked(a_test(series=plain)).q50 == pytest.approx(worked(test).q50)


@given(st.lists(st.floats(-0.05, 0.05), min_size=7, max_size=7))
@settings(max_examples=40, deadline=None)
def test_line_and_confidence_are_scipys(noise: list[float]) -> None:
    """scipy.stats.linregress; the band at a pressure is the error of the intercept with that pressure moved to 0. Its errors come from
    1 − r², which leaves 2e-8 of rounding where the points lie on a line: so much is allowed."""
    x = np.log(LADDER)
    y = log(30) + 0.63 * x + np.array(noise)
    fit = fitted(np.exp(x), np.exp(y))
    other = linregress(x, y)
    assert (fit.exponent, log(fit.coefficient), fit.exponent_error) == pytest.approx((other.slope, other.intercept, other.stderr), abs=2e-7)
    assert fit.r_squared == pytest.approx(other.rvalue**2, abs=2e-7)
    student = t.ppf(0.975, 5)
    for at in (1.0, 4.0, 50.0):
        assert fit.band(at) == pytest.approx(student * linregress(x - log(at), y).intercept_stderr, abs=2e-7)
    assert fit.exponent_band[1] - fit.exponent == pytest.approx(student * other.stderr, abs=2e-7)


def test_the_mean_of_both_series_and_its_band() -> None:
    """Half the root of the sum of squares: the series err independently."""
    noise = (0.01, -0.012, 0.004, 0.0, -0.006, 0.009, -0.003)
    test = a_test(series=(series_of(DEPRESSURISING, 40, 0.6, (0, 0), noise), series_of(PRESSURISING, 44, 0.64, (0, 0), noise)))
    result = worked(test)
    flows = [40 * 50**0.6, 44 * 50**0.64]
    assert result.q50 == pytest.approx(sum(flows) / 2, rel=0.02) and result.q50_band is not None
    halves = [h.fit.band(50) * h.at(50) for h in result.halves]
    assert result.q50_band[1] - result.q50 == pytest.approx(sqrt(halves[0] ** 2 + halves[1] ** 2) / 2)
    assert result.q50_band[0] < result.q50 < result.q50_band[1]


@pytest.mark.parametrize(("temperature", "humidity"), [(-10, 0.8), (5, 0.5), (20, 0.0), (21, 0.6), (30, 0.9)])
def test_density_is_psychrolibs(temperature: float, humidity: float) -> None:
    psychrolib.SetUnitSystem(psychrolib.SI)
    ratio = psychrolib.GetHumRatioFromRelHum(temperature, humidity, BAROMETER)
    other = psychrolib.GetMoistAirDensity(temperature, ratio, BAROMETER)
    assert air_density(temperature, BAROMETER, humidity) == pytest.approx(other, rel=3e-4)


def test_standard_conditions_and_leakage_area_by_hand() -> None:
    """1.2041 kg/m³ at 20 °C and 101 325 Pa (ISO 9972:2015, 3.10, from memory); 40/3600·√(0.60206)·4^0.12 = 0.010181 m²."""
    assert pytest.approx(1.2041, abs=5e-5) == STANDARD
    result = worked(a_test())
    assert result.area_4 == pytest.approx(40 / 3600 * sqrt(1.20411 / 2) * 4**0.12, rel=1e-4)
    assert result.area_4 == pytest.approx(0.010181, abs=2e-6) and result.area_10 == pytest.approx(0.010181 * 2.5**0.12, rel=1e-3)


def test_zero_flow_pressures_by_hand() -> None:
    zero = zero_of((1.0, 3.0, -2.0))
    assert zero is not None and (zero.mean, zero.positive, zero.negative) == (pytest.approx(2 / 3), 2.0, -2.0) and zero.largest == 2.0
    assert zero_of(()) is None


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("100 cfm", "flow", 100 * 60 * 0.3048**3),  # 1 ft = 0.3048 m exactly
        ("50 l/s", "flow", 180.0),
        ("0.2 in. w.c.", "pascal", 0.2 * 249.0889),
        ("0,2 inH2O", "pascal", 49.81778),
        ("-52,5", "pascal", -52.5),
        ("1008 hPa", "pressure", 100_800.0),
        ("70 °F", "temperature", 21.1111111),
    ],
)
def test_units_of_readings(text: str, kind: str, value: float) -> None:
    spec = {"flow": COLUMNS["flow"], "pascal": COLUMNS["pressure"], "pressure": SETUP["barometer"], "temperature": SETUP["inside"]}[kind]
    with using(METRIC):
        assert number(text, spec, "", "here") == pytest.approx(value)


# validity


def line_of(test: Measurement, name: str) -> Requirement:
    return next(line for line in lines(test, worked(test)) if name in line.name)


def test_a_good_test_holds() -> None:
    test = a_test()
    rows = lines(test, worked(test))
    assert valid(rows) is True and len(rows) == 23, [r for r in rows if not r.holds]


def cut(keep: slice, **changes: Any) -> Measurement:
    made = tuple(Series(s.way, s.readings[keep], s.before, s.after) for s in a_test().series)
    return a_test(**({"series": made} | changes))


def zeros(before: tuple[float, ...], after: tuple[float, ...]) -> Measurement:
    return a_test(
        series=tuple(Series(s.way, s.readings, at_zero(*before, seconds=30), at_zero(*after, seconds=30)) for s in a_test().series)
    )


def timed(seconds: float | None) -> Measurement:
    return a_test(series=tuple(Series(s.way, s.readings, at_zero(0.5, seconds=seconds), at_zero(0.5, seconds=60)) for s in a_test().series))


def replaced(series: Series, **changes: Any) -> Series:
    return Series(series.way, tuple(replace(r, **changes) for r in series.readings), series.before, series.after)


BENT = tuple(0.2 * (-1) ** n for n in range(7))


@pytest.mark.parametrize(
    ("name", "test", "holds"),
    [
        ("zero-flow", zeros((6.0, -5.9), (0.1,)), False),
        ("zero-flow", zeros((), (0.1,)), None),
        ("points", cut(slice(0, 4)), False),
        ("lowest point", zeros((3.0,), (3.0,)), False),
        ("highest point", cut(slice(0, 2)), False),
        ("highest point", cut(slice(0, 5)), True),
        ("steps", cut(slice(0, None, 2)), False),
        ("exponent", a_test(n=0.45), False),
        ("exponent", a_test(n=1.05), False),
        ("fit", a_test(series=tuple(series_of(w, 40, 0.62, (0, 0), BENT) for w in WAYS)), False),
        ("height ×", a_test(height=14.0), False),
        ("height ×", a_test(height=13.0), True),
        ("height ×", a_test(height=None), None),
        ("wind", a_test(wind=6.5), False),
        ("wind", a_test(wind=None), None),
        ("rings", a_test(rings={"B": Ring("B", 18.0, 0.5, 20.0, 60.0)}), False),
        ("calibration", a_test(instruments=(Instrument("fan", date(2025, 3, 1), date(2026, 11, 19)),)), False),
        ("calibration", a_test(tested=None), None),
        ("calibration", a_test(instruments=()), None),
        ("calibration", a_test(instruments=(Instrument("fan", None, date(2027, 3, 1)),)), None),
        ("calibration", a_test(instruments=(Instrument("fan", date(2026, 3, 1), None),)), None),
        ("calibration", a_test(instruments=(Instrument("fan", date(2026, 11, 21), date(2028, 3, 1)),)), False),  # after the test
        ("calibration", a_test(instruments=(Instrument("fan", date(2026, 11, 20), date(2026, 11, 20)),)), True),  # on its day
        ("zero-flow averaging", timed(10.0), False),
        ("zero-flow averaging", timed(29.4), False),
        ("zero-flow averaging", timed(29.6), True),
        ("zero-flow averaging", timed(None), None),
        ("lowest point", cut(slice(1, None)), True),
        ("lowest point", cut(slice(2, None)), False),  # 24 Pa is not about 10
        ("time at each pressure", a_test(series=tuple(replaced(s, seconds=12.0) for s in a_test().series)), None),
        ("time at each pressure", a_test(series=tuple(replaced(s, seconds=None) for s in a_test().series)), None),
        ("both directions", a_test(series=a_test().series[:1]), None),
        ("readings", a_test(series=tuple(replaced(s, simulated=True) for s in a_test().series)), False),
    ],
)
def test_each_line_of_validity_can_fail(name: str, test: Measurement, holds: bool | None) -> None:
    assert line_of(test, name).holds is holds, line_of(test, name)
    if holds is False:
        assert valid(lines(test, worked(test))) is False
    if name != "readings":
        assert line_of(a_test(), name).holds is True


@pytest.mark.parametrize(
    ("name", "test", "holds"),
    [
        ("zero-flow pressure", zeros((5.0,), (5.0,)), True),
        ("zero-flow pressure", zeros((5.06,), (5.0,)), False),
        ("points", cut(slice(0, 5)), True),
        ("wind", a_test(wind=6.0), True),
        ("wind", a_test(wind=6.06), False),
        ("height ×", a_test(height=250 / 18), True),
        ("height ×", a_test(height=250.6 / 18), False),
        ("rings", a_test(rings={"B": Ring("B", RING.coefficient, RING.exponent, RING.least, 1e9)}), True),
        ("both directions", a_test(), True),
    ],
)
def test_limits_hold_at_equality(name: str, test: Measurement, holds: bool) -> None:
    assert line_of(test, name).holds is holds, line_of(test, name)


@pytest.mark.parametrize(("lowest", "holds"), [(10.0, True), (9.94, False), (20.0, True), (20.06, False)])
def test_the_lowest_point_at_its_limits(lowest: float, holds: bool) -> None:
    rows = tuple(Reading(-p, 40 * p**0.62, seconds=30) for p in (lowest, 30.0, 38.0, 46.0, 55.0))
    test = a_test(series=(Series(DEPRESSURISING, rows, at_zero(0.0, seconds=30), at_zero(0.0, seconds=30)),), corrected=True)
    assert line_of(test, "lowest point").holds is holds


@pytest.mark.parametrize(("highest", "holds"), [(25.0, True), (24.94, False)])
def test_the_highest_point_at_its_limit(highest: float, holds: bool) -> None:
    rows = tuple(Reading(-p, 40 * p**0.62, seconds=30) for p in (10.0, 13.0, 16.0, 20.0, highest))
    test = a_test(series=(Series(DEPRESSURISING, rows, at_zero(0.0, seconds=30), at_zero(0.0, seconds=30)),), corrected=True)
    assert line_of(test, "highest point").holds is holds


@pytest.mark.parametrize(("n", "holds"), [(0.5, True), (1.0, True), (0.4996, True), (0.49949, False), (1.0004, True), (1.0006, False)])
def test_values_are_compared_as_they_are_shown(n: float, holds: bool) -> None:
    """n 0.500 and “0.5 to 1” beside each other do not fail."""
    line = line_of(a_test(n=n), "exponent")
    assert line.holds is holds and f"n {n:.3f}" in line.says


def test_several_series_of_one_direction_count_as_one_direction() -> None:
    """The mean of both directions, each the mean of its series: (2·a + b)/… would weigh one twice."""
    first, other = (series_of(w, c, 0.62, (0.8, -0.4)) for w, c in ((WAYS[0], 40.0), (WAYS[0], 44.0)))
    up = series_of(WAYS[1], 50.0, 0.62, (0.8, -0.4))
    whole = worked(a_test(series=(first, Series(other.way, other.readings, other.before, other.after, 2), up)))
    assert whole.q50 == pytest.approx((42.0 + 50.0) / 2 * 50**0.62, rel=1e-5)
    assert [h.series.name for h in whole.halves] == ["depressurising", "depressurising 2", "pressurising"]
    assert len({line.name for line in lines(a_test(), whole)}) == len(lines(a_test(), whole))


def test_fifty_pascal_not_reached_is_said() -> None:
    assert "not reached" in line_of(cut(slice(0, 5)), "highest").says and "not reached" not in line_of(a_test(), "highest").says


def test_a_point_left_out_stays_in_the_record_and_does_not_count() -> None:
    series = a_test().series[0]
    spoilt = Reading(-44.0, fan_pressure=300.0, ring="B", left_out="a door opened")
    kept = Series(series.way, (*series.readings, spoilt), series.before, series.after)
    half = worked(a_test(series=(kept,))).halves[0]
    assert len(half.points) == 8 and half.fit.number == 7 and half.fit.exponent == pytest.approx(0.62, rel=1e-6)


def test_one_pressure_taken_several_times() -> None:
    """n is assumed as 0.65 (common practice, no source): 1000 m³/h at 50 Pa, the mean of the logarithms."""
    readings = tuple(Reading(-p, q) for p, q in ((50.0, 990.0), (50.0, 1010.1), (50.0, 1000.0)))
    test = a_test(series=(Series(DEPRESSURISING, readings, at_zero(0.0), at_zero(0.0)),), inside=20.0, outside=20.0, barometer=101_325.0)
    result = worked(test)
    assert result.q50 == pytest.approx(1000.0, rel=1e-4) and result.halves[0].fit.assumed and result.q50_band is None
    assert line_of(test, "exponent").holds is None and "assumed" in line_of(test, "exponent").says


@pytest.mark.parametrize(
    ("changes", "says"),
    [({"inside": None}, "temperatures"), ({"rings": {}}, "ring"), ({"series": ()}, "series"), ({"series": (Series(DEPRESSURISING, (Reading(-3, 400.0), Reading(5, 500.0))),)}, "above zero")],
)  # fmt: skip
def test_what_is_missing_is_named(changes: dict[str, Any], says: str) -> None:
    with pytest.raises(CannotKnow, match=says):
        worked(a_test(**changes))
