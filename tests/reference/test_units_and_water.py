"""Units as people type them, hot water and air against hand calculations and the method's published check values."""

from __future__ import annotations

from math import exp

import numpy as np
import pytest

from nuthatch.core.air import ventilation as air
from nuthatch.core.household import people
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import show, show_exact, with_unit
from nuthatch.core.water import hot_water as water

HOURS = np.array([744, 672, 744, 720, 744, 720, 744, 744, 720, 744, 720, 744], float)


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("240", "thickness", 0.24),
        ("24 cm", "thickness", 0.24),
        ("9.5 in", "thickness", 0.2413),
        ('9.5"', "thickness", 0.2413),
        ("2,5 m", "length", 2.5),
        ("28 ft", "length", 8.5344),
        ("28′", "length", 8.5344),
        ("140 F", "temperature", 60.0),
        ("140 °F", "temperature", 60.0),
        ("60 °C", "temperature", 60.0),
        ("333.15 K", "temperature", 60.0),
        ("−5", "temperature", -5.0),
        ("R-21", "resistance", 21 / 5.678263),
        ("r 13", "resistance", 13 / 5.678263),
        ("3.7", "resistance", 3.7),
        ("85 %", "percent", 0.85),
        ("85", "percent", 0.85),
        ("1.200,5", "energy", 1200.5),
        ("1 200", "energy", 1200.0),
        ("1,200.5", "energy", 1200.5),
        ("4.5 Btu/(h·°F)", "w_per_k", 4.5 * 0.527528),
        ("0.023 Btu/(h·ft²·°F)", "u", 0.023 * 5.678263),
        ("0.24 Btu·in/(h·ft²·°F)", "conductivity", 0.24 * 0.1442279),
        ("135 sqft", "area", 12.541911),
        ("70 cfm", "flow", 118.930757),
        ("6.6 gal", "litres", 24.98372),
        ("5 MJ", "energy", 5 / 3.6),
        ("45°", "angle", 45.0),
    ],
)
def test_typed_quantities(text: str, kind: str, value: float) -> None:
    """Conversions from the definitions of foot, pound and Btu (IT): NIST SP 811, from memory."""
    assert read(text, kind) == pytest.approx(value, rel=1e-5)


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("abc", "thickness"),
        ("", "length"),
        ("12 kg", "length"),
        ("5 furlongs of", "area"),
        ("--3", "u"),
        ("1e999", "u"),
        ("3 %", "length"),
        ("nan", "u"),
        ("inf", "u"),
    ],
)
def test_text_that_is_no_value_says_what_would_be_right(text: str, kind: str) -> None:
    with pytest.raises(BadText) as problem:
        read(text, kind)
    assert len(str(problem.value)) > 10


def test_two_readings_are_asked_about() -> None:
    share = read("0.8", "percent")
    assert isinstance(share, Doubt) and share.question == "0.8 % or 80 %?"
    assert [v for _, v in share.readings] == pytest.approx([0.008, 0.8])
    grouped = read("1,200", "energy")
    assert isinstance(grouped, Doubt) and [v for _, v in grouped.readings] == [1200.0, 1.2]
    assert read("0 %", "percent") == 0.0 and read("0.8 %", "percent") == pytest.approx(0.008)


def test_shown_numbers() -> None:
    assert show(-0.0001, "u") == "0.000" and show(-0.012, "psi") == "−0.012" and show(1234567.0, "energy") == "1\u202f234\u202f567"
    assert with_unit(0.0125, "thickness") == "12.5\u00a0mm" and show(0.24, "thickness") == "240" and with_unit(None, "u") == "—"
    for value in (0.2413, 0.0125, 1 / 3, 123456.789):
        assert read(show_exact(value, "length"), "length") == pytest.approx(value, rel=1e-9)


def test_the_published_conversions() -> None:
    """300 l = 79.3 US gal; 4 W/K = 7.58 Btu/(h·°F); 1 m²·K/W = 5.678 h·ft²·°F/Btu."""
    assert read("79.3 gal", "litres") == pytest.approx(300, abs=0.3)
    assert read("7.58 Btu/(h·°F)", "w_per_k") == pytest.approx(4.0, abs=0.005)
    assert read("R-5.678", "resistance") == pytest.approx(1.0, abs=1e-4)


@pytest.mark.parametrize(("cold_f", "million_btu"), [(50, 8.5), (46, 9.0)])
def test_forty_gallons_a_day(cold_f: float, million_btu: float) -> None:
    """40 US gal a day from 50 °F (46 °F) to 120 °F all year = 8.5 (9.0) million Btu a year: the method's check values."""
    litres, hot, cold = read("40 gal", "litres"), read("120 F", "temperature"), read(f"{cold_f} F", "temperature")
    months = water.useful_heat(1.0, litres, hot, np.full(12, cold), HOURS)
    assert months.sum() * 3412.142 / 1e6 == pytest.approx(million_btu, abs=0.06)


def test_water_losses_by_hand() -> None:
    assert water.store_loss(2.0, 55.0, 20.0, HOURS).sum() == pytest.approx(2.0 * 35 * 8.76)
    assert water.store_loss(2.0, 10.0, 20.0, HOURS).sum() == 0.0
    assert water.circulation_loss(0.2, 10.0, 60.0, 20.0, 6.0, 0.0, 2.0, HOURS).sum() == pytest.approx(0.2 * 10 * 40 * 2.19)
    assert water.draw_off_loss(4.0, 6.0, 0.5, 60.0, 20.0, HOURS).sum() == pytest.approx(4 * 6 * 365 * 0.5 * 4186 / 3.6e6 * 40)


@pytest.mark.parametrize(
    ("sides", "shield", "e"), [("several sides", "open", 0.10), ("several sides", "high", 0.04), ("one side", "moderate", 0.02)]
)
def test_infiltration_balanced(sides: str, shield: str, e: float) -> None:
    """ISO 13789:2007, annex C (from memory): n50 · e · V_test/V_ref."""
    assert air.SHIELD[(sides, shield)] == e
    assert air.infiltration(0.6, e, air.WIND_F[sides], 350.0, 300.0, (100, 100)) == pytest.approx(0.6 * e * 350 / 300)
    # the flow through the leaks by the surplus over n50·V_test, both flows of the same volume (method 8): in m³/h, then on V_ref
    f, at_50 = air.WIND_F[sides], 0.6 * 350.0
    expected = at_50 * e / (1 + f / e * (30.0 / at_50) ** 2) / 300.0
    assert air.infiltration(0.6, e, f, 350.0, 300.0, (130, 100)) == pytest.approx(expected)
    assert air.infiltration(0.6, e, f, 350.0, 300.0, (100, 130)) == pytest.approx(expected)


def test_ventilation_by_hand() -> None:
    assert air.normal_flow(4, 300.0, 30.0, 0.3) == 120.0 and air.normal_flow(1, 600.0, 30.0, 0.3) == 180.0
    assert air.boost_flow(90.0, 1, 1, 1, ()) == 120.0 and air.boost_flow(60.0, 1, 2, 0, ()) == 140.0
    assert air.boost_flow(200.0, 1, 1, 1, (60.0, 40.0)) == 200.0 and air.boost_flow(60.0, 0, 0, 0, (60.0, 45.0)) == 105.0
    assert air.effective_recovery(0.9, air.ducts_loss((0.3, 0.3), (2.0, 3.0)), 120.0, 0.9) == pytest.approx(
        0.9 * exp(-0.3 * 5 / (0.34 * 0.9 * 120))
    )
    assert air.unit_loss(120, 120, 0.8, 1.0, 120, 120) == pytest.approx(0.34 * 24) and air.unit_loss(
        120, 100, 0.8, 1.0, 120, 100
    ) == pytest.approx(0.34 * (20 + 20))
    assert people.people_from_bedrooms(3, 1) == 4 and people.people_from_bedrooms(0, 2) == 2
