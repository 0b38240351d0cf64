"""Vapour through build-ups: ISO 13788:2012 by hand for a month, conserved over random build-ups; psychrolib beside it."""

from __future__ import annotations

import numpy as np
import psychrolib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.climate.humid_air import saturation_pressure
from nuthatch.core.fabric import moisture
from nuthatch.core.fabric.moisture import DELTA_0, SECONDS, VapourLayers, month, profile, tangent, year

JANUARY = (20.0, 1170.0, 0.0, 500.0)
"""20 °C and 50 %, 0 °C and 82 %."""
OPEN = VapourLayers((1.0, 2.0), (1.0, 1.0), 0.04, 0.13)


def test_a_dry_wall_by_hand() -> None:
    """Vapour-tight inside, open outside: 10 m and 0.1 m of s_d. At the interface R 1.04 of 3.17: 6.56 °C; p = 500 + 670·0.1/10.1."""
    section = VapourLayers((1.0, 2.0), (0.1, 10.0), 0.04, 0.13)
    found = month(section, JANUARY, SECONDS[0], np.zeros(len(section.fine()[0]) + 1))
    face = section.boundaries()[1]
    assert found.temperature[face] == pytest.approx(20 * 1.04 / 3.17)
    assert found.pressure[face] == pytest.approx(500 + 670 * 0.1 / 10.1)
    assert not found.held.any() and (found.pressure <= found.saturation + 1e-9).all()


def test_a_wall_that_condenses_by_hand() -> None:
    """Insulation R 2.0 of s_d 1 m inside of a tight board of R 0.1 and s_d 20 m: at their face θ = 20·0.14/2.27, saturated; what
    gathers is δ0·((p_i − p_s)/1 − (p_s − p_e)/20)·31 days. The insulation below saturation: its tangent is the straight line."""
    section = VapourLayers((0.1, 2.0), (20.0, 1.0), 0.04, 0.13)
    found = month(section, JANUARY, SECONDS[0], np.zeros(len(section.fine()[0]) + 1))
    face = section.boundaries()[1]
    theta = 20 * 0.14 / 2.27
    p_s = 610.5 * np.exp(17.269 * theta / (237.3 + theta))
    by_hand = DELTA_0 * ((1170 - p_s) / 1 - (p_s - 500) / 20) * 31 * 86400
    assert found.held[face] == pytest.approx(by_hand) and found.held.sum() == pytest.approx(by_hand)
    assert found.pressure[face] == pytest.approx(p_s)


def test_what_has_condensed_dries_by_hand() -> None:
    """July, 20 °C inside and out, 1170 Pa both: from the saturated face (2337 Pa) vapour goes to both sides."""
    section = VapourLayers((0.1, 2.0), (20.0, 1.0), 0.04, 0.13)
    held = np.zeros(len(section.fine()[0]) + 1)
    face = section.boundaries()[1]
    held[face] = 5.0
    found = month(section, (20.0, 1170.0, 20.0, 1170.0), SECONDS[6], held)
    p_s = saturation_pressure(20.0)
    by_hand = DELTA_0 * (p_s - 1170) * (1 / 1 + 1 / 20) * 31 * 86400
    assert -found.change[face] == pytest.approx(by_hand) and found.held[face] == pytest.approx(5.0 - by_hand)
    held[face] = 0.01
    assert month(section, (20.0, 1170.0, 20.0, 1170.0), SECONDS[6], held).held.sum() == 0, "not more dries than is there"


TEMPERATURE = np.array([0, 1, 4, 8, 12, 16, 18, 17, 14, 9, 4, 1], dtype=float)
OUTSIDE = np.array([0.85 * float(saturation_pressure(float(t))) for t in TEMPERATURE])
INSIDE = np.full(12, 20.0)
MOIST = moisture.indoor_pressure(TEMPERATURE, OUTSIDE, 3, 20.0)


def test_a_year_begins_with_the_first_month_that_condenses_and_dries_or_accumulates() -> None:
    dries = year(VapourLayers((0.1, 2.0), (0.4, 1.0), 0.04, 0.13), INSIDE, MOIST, TEMPERATURE, OUTSIDE)
    assert dries.order[0] in (9, 10, 11) and not dries.accumulates and dries.left == pytest.approx(0, abs=1e-12)
    assert 0.05 < dries.peak < 2 and not dries.dry and dries.wettest() == dries.boundaries[1]
    keeps = year(VapourLayers((0.1, 2.0), (1500.0, 1.0), 0.04, 0.13), INSIDE, MOIST, TEMPERATURE, OUTSIDE)
    assert keeps.accumulates and keeps.left > 0
    tight = year(VapourLayers((0.1, 2.0), (0.5, 100.0), 0.04, 0.13), INSIDE, MOIST, TEMPERATURE, OUTSIDE)
    assert tight.dry and not tight.accumulates and tight.peak == 0


def test_the_tangent_touches_where_saturation_is_lowest() -> None:
    """Three faces by hand: the line from 500 to 1170 Pa over equal steps would pass 835 in the middle; saturated there at 700."""
    depth = np.array([0.0, 1.0, 2.0])
    assert tangent(depth, np.array([2000.0, 700.0, 2000.0]), 500, 1170) == pytest.approx([500, 700, 1170])
    assert tangent(depth, np.array([2000.0, 900.0, 2000.0]), 500, 1170) == pytest.approx([500, 835, 1170])
    four = tangent(np.array([0.0, 1.0, 2.0, 3.0]), np.array([2000.0, 600.0, 640.0, 2000.0]), 500, 1170)
    assert four == pytest.approx([500, 570, 640, 1170]), "the face at 600 does not touch: the line to 640 passes below it"


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.floats(0.02, 4.0), st.floats(0.01, 300.0)), min_size=1, max_size=8), st.floats(-15, 15), st.integers(1, 5))
def test_vapour_is_conserved_and_never_above_saturation(rows: list[tuple[float, float]], outside: float, humid: int) -> None:
    """In from inside less out to outside is what gathers: over any build-up and month."""
    section = VapourLayers(tuple(r for r, _ in rows), tuple(s for _, s in rows), 0.04, 0.13)
    p_e = 0.85 * float(saturation_pressure(outside))
    p_i = float(moisture.indoor_pressure(np.full(12, outside), np.full(12, p_e), humid, 20.0)[0])
    found = month(section, (20.0, p_i, outside, p_e), SECONDS[0], np.zeros(len(section.fine()[0]) + 1))
    sd = section.fine()[1]
    into = DELTA_0 * (found.pressure[-1] - found.pressure[-2]) / sd[-1]
    out = DELTA_0 * (found.pressure[1] - found.pressure[0]) / sd[0]
    assert found.held.sum() == pytest.approx((into - out) * SECONDS[0], rel=1e-9, abs=1e-12)
    assert (found.pressure[1:-1] <= found.saturation[1:-1] * (1 + 1e-9)).all() and (found.held >= 0).all()


def test_humidity_classes_and_the_surface() -> None:
    """Annex A (from memory): class 3 has 810 Pa · 1.1 at 0 °C, none at 20 °C; 5.3: at 0 °C and that air 80 % at the surface."""
    p = moisture.indoor_pressure(np.array([0.0, -10.0, 10.0, 20.0] + [20.0] * 8), np.full(12, 500.0), 3, 20.0)
    assert p[:4] == pytest.approx([500 + 891, 500 + 891, 500 + 445.5, 500])
    least = moisture.least_factor(np.full(12, 20.0), np.full(12, 1391.0), np.full(12, 0.0))
    surface = moisture.temperature_at(1391 / 0.8)
    assert least == pytest.approx(surface / 20) and 0.7 < least[0] < 0.8
    assert saturation_pressure(surface) == pytest.approx(1391 / 0.8)
    for t in (-12.0, -0.001, 0.0, 7.0, 33.0):
        assert moisture.temperature_at(float(saturation_pressure(t))) == pytest.approx(t, abs=1e-9)
    assert moisture.surface_factor(4.75) == pytest.approx(0.95)
    assert np.isnan(moisture.least_factor(np.full(12, 20.0), np.full(12, 1391.0), np.full(12, 20.0))).all()


def test_temperatures_fall_in_the_proportion_of_resistances() -> None:
    assert profile(VapourLayers((1.0,), (1.0,), 0.04, 0.13), 20, 0)[[0, -1]] == pytest.approx([20 * 0.04 / 1.17, 20 * 1.04 / 1.17])
    assert len(VapourLayers((1.0, 0.2), (1.0, 1.0)).fine()[0]) == 5, "split above 0.25 m²·K/W"


def test_dew_points_against_psychrolib() -> None:
    psychrolib.SetUnitSystem(psychrolib.SI)
    for t, rh in ((20.0, 0.5), (24.0, 0.65), (10.0, 0.9)):
        ours = moisture.temperature_at(rh * float(saturation_pressure(t)))
        assert ours == pytest.approx(psychrolib.GetTDewPointFromRelHum(t, rh), abs=0.1)


def test_a_layer_of_an_impossible_resistance_is_not_split_without_end() -> None:
    """Pieces of R 0.25 up to R 50; what is beyond any wall is split no finer, and the year comes back at once."""
    assert len(VapourLayers((50.0, 0.2), (1.0, 1.0)).fine()[0]) == 201
    section = VapourLayers((1e6, 0.2, 1e5), (1.0, 5.0, 1.0))
    r, sd = section.fine()
    assert len(r) == 401 == section.boundaries()[-1] and (r.sum(), sd.sum()) == (pytest.approx(1.1e6 + 0.2), pytest.approx(7.0))
    cold, warm = np.full(12, -5.0), np.full(12, 20.0)
    found = year(section, warm, np.full(12, 1400.0), cold, np.full(12, 300.0))
    assert np.isfinite(found.peak)


def test_how_near_a_dry_wall_comes_to_gathering_by_hand() -> None:
    """Vapour-tight inside: at the interface R 1.04 of 3.17 the share of saturation of the coldest month, p by the straight line over 10.1 m of
    s_d; months from January, also where the year begins elsewhere."""
    section = VapourLayers((1.0, 2.0), (0.1, 10.0), 0.04, 0.13)
    outside = np.array([0.0, 1.0, 4.0, 8.0, 12.0, 15.0, 17.0, 16.0, 13.0, 9.0, 5.0, -2.0])
    p_outside = np.asarray(saturation_pressure(outside)) * 0.8
    found = year(section, np.full(12, 20.0), np.full(12, 1170.0), outside, p_outside)
    assert found.dry
    face = section.boundaries()[1]
    theta = outside + (20 - outside) * 1.04 / 3.17
    p = p_outside + (1170 - p_outside) * 0.1 / 10.1
    at_face = p / np.asarray(saturation_pressure(theta))
    assert (found.shares() >= at_face - 1e-9).all()
    m, at, share = found.nearest()
    assert share == pytest.approx(found.shares().max()) and share == pytest.approx(found.shares()[m]) and 0 < share < 1
    held = found.months[found.order.index(m)]
    assert held.pressure[at] / held.saturation[at] == pytest.approx(share)
    theta_at = outside[m] + (20 - outside[m]) * (0.04 + 1.0 * min(at, face) / face) / 3.17 if at <= face else None
    if theta_at is not None:
        assert held.temperature[at] == pytest.approx(theta_at)
    wet = year(VapourLayers((0.1, 2.0), (20.0, 1.0), 0.04, 0.13), np.full(12, 20.0), np.full(12, 1170.0), outside, p_outside)
    assert not wet.dry and wet.shares().max() == pytest.approx(1.0)
