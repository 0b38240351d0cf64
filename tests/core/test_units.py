"""Both unit systems: conversions against pint and published values; no value changes by being shown."""

from __future__ import annotations

import re

import pint
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.exchange.summary import as_data
from nuthatch.core.files.homefile import canonical
from nuthatch.core.reading import BadText, read
from nuthatch.core.sketch import Text
from nuthatch.core.units import INCH_POUND, INCH_POUND_KINDS, KINDS, METRIC, show, show_exact, system, unit_of, use, using, with_unit
from nuthatch.core.views.cutaway import cutaway
from nuthatch.core.views.pictures import PICTURES
from tests.fuzz.readers import deadline


def test_every_conversion_agrees_with_pint() -> None:
    """pint 0.25 as reference, with the Btu of the International Table (ISO 80000-5, 1055.05585262 J)."""
    registry = pint.UnitRegistry()
    registry.define("Btu = 1055.05585262 * joule")
    registry.define("cfm = foot**3/minute")
    for kind, inch in INCH_POUND_KINDS.items():
        metric = KINDS[kind]
        if kind == "temperature":
            continue
        ratio = registry.Quantity(1.0, metric.pint).to(inch.pint).magnitude * metric.factor
        assert inch.factor == pytest.approx(ratio, rel=1e-9), kind
    for celsius in (-40.0, 0.0, 20.0, 100.0):
        with using(INCH_POUND):
            shown = float(show(celsius, "temperature", 6).replace("−", "-"))
        assert shown == pytest.approx(registry.Quantity(celsius, "degC").to("degF").magnitude)


@pytest.mark.parametrize(
    ("text", "kind", "metric"),
    [
        ("21", "resistance", 3.698),  # R-21 in SI, ASHRAE Handbook of Fundamentals conversion table, from memory
        ("R-38", "resistance", 6.692),
        ("0.1761", "u", 1.0),  # 1 W/(m²·K) = 0.1761 Btu/(h·ft²·°F), ASHRAE conversion table, from memory
        ("4.755", "specific_energy", 15.0),  # 15 kWh/(m²·a) = 4.75 kBtu/(ft²·yr), published passive-house criteria
        ("3.17", "heat_flux", 10.0),  # 10 W/m² = 3.17 Btu/(h·ft²), published passive-house criteria
        ("68", "temperature", 20.0),
        ("9.5", "thickness", 0.2413),
        ("70", "flow", 118.9),
        ("50 gal", "litres", 189.27),
        ("120 m³/h", "flow", 120.0),
        ("240 mm", "thickness", 0.24),
        ("140 F", "temperature", 60.0),
        ("60 C", "temperature", 60.0),
    ],
)
def test_typed_values_in_inch_pound(text: str, kind: str, metric: float) -> None:
    with using(INCH_POUND):
        assert read(text, kind) == pytest.approx(metric, rel=4e-4)


@settings(max_examples=200, deadline=None)
@given(st.sampled_from(sorted(KINDS)), st.floats(0.01, 5000))
def test_shown_units_are_understood_when_typed_in_either_system(kind: str, value: float) -> None:
    for shown in (METRIC, INCH_POUND):
        with using(shown):
            text = f"{value:.6g} {unit_of(kind)}".strip()
            first = read(text, kind, mark=".") if kind != "text" else value
        for other in (METRIC, INCH_POUND):
            if unit_of(kind) and kind not in ("text", "money", "price"):
                with using(other):
                    assert read(text, kind, mark=".") == pytest.approx(first, rel=1e-9), (kind, text, other)


@settings(max_examples=200, deadline=None)
@given(st.sampled_from(sorted(set(KINDS) - {"text", "percent"})), st.floats(0.001, 900))
def test_a_field_gives_back_what_it_shows(kind: str, typed: float) -> None:
    for name in (METRIC, INCH_POUND):
        with using(name):
            stored = read(f"{typed:.3f}", kind, mark=".")
            shown = show_exact(stored, kind)
            if kind == "length" and name == INCH_POUND:  # to the nearest sixteenth of an inch
                assert read(shown, kind) == pytest.approx(stored, abs=0.0254 / 32 + 1e-9) and show_exact(read(shown, kind), kind) == shown
                continue
            assert float(shown.replace("−", "-")) == pytest.approx(float(f"{typed:.3f}"), abs=2e-4)


@pytest.mark.parametrize(
    ("metres", "shown"),
    [
        (0.3048, "1′"), (0.3048 * 7.5, "7′ 6″"), (0.0254 * 0.5, "1/2″"), (0.0254 * 11.97, "1′"), (0.3048 * 5 + 0.0254 * 3.4375, "5′ 3 7/16″"),
        (-0.3048 * 2 - 0.0254 * 0.25, "−2′ 1/4″"), (0.0, "0′"),
    ],
)  # fmt: skip
def test_lengths_in_feet_inches_and_sixteenths_by_hand(metres: float, shown: str) -> None:
    with using(INCH_POUND):
        assert show(metres, "length") == with_unit(metres, "length") == show_exact(metres, "length") == shown
        assert read(shown, "length") == pytest.approx(metres, abs=0.0254 / 32 + 1e-9)
        assert show(metres, "area") != shown
    assert "′" not in show(metres, "length")
    assert read(shown, "length") == pytest.approx(metres, abs=0.0254 / 32 + 1e-9), "understood in the metric system too"


def test_the_system_belongs_to_the_context() -> None:
    assert system() == METRIC
    with using(INCH_POUND):
        assert unit_of("length") == "ft" and with_unit(1, "length") == "3′ 3 3/8″" and with_unit(1, "elevation") == "3\u00a0ft"
    assert unit_of("length") == "m"
    with pytest.raises(ValueError, match="metric or inch-pound"):
        use("furlongs")


def test_switching_changes_what_is_shown_and_nothing_else(osier_assessed: Assessment) -> None:
    before = canonical(osier_assessed.home)
    metric = as_data(osier_assessed)
    with using(INCH_POUND):
        again = assess(osier_assessed.home, osier_assessed.climate, osier_assessed)
        data = as_data(again)
        page = to_html(again, Made(date="2026-11-23"))
        words = {w for v in again.verdicts for x in v.ways for w in [x.words(True)]}
    assert canonical(again.home) == before
    for key, figure in data["figures"].items():
        assert figure["value"] == metric["figures"][key]["value"] and figure["unit"] == metric["figures"][key]["unit"], "JSON stays metric"
    demand = osier_assessed.figures["heating_demand"].value
    assert f"{demand * 0.316998:.2f}\u00a0kBtu/(ft²·yr)" in page and "limit 4.755 kBtu/(ft²·yr)" in " ".join(words)
    page = re.sub(r"<table[^>]*>(?:(?!</table>).)*in SI</th>.*?</table>", "", page, flags=re.S)  # formulas with their constants
    for metric_unit in ("kWh/(m²·a)", "m²·K/W", "W/(m²·K)", "kWh/a", "m³/h", "°C"):
        at = page.find(metric_unit)
        assert at < 0, page[max(at - 80, 0) : at + 30]


@pytest.mark.parametrize("key", sorted(PICTURES))
def test_no_drawing_mixes_the_systems(osier_assessed: Assessment, key: str) -> None:
    of = {"section": "outer-wall", "opening": "w-01", "season": "w-01"}.get(key, "")
    with using(INCH_POUND):
        made = str(picture(osier_assessed, key, of))
    for unit in ("kWh", "W/K", "m³", "m²", "°C", "W/(m", " mm", "\u00a0m<"):
        assert unit not in made, (key, unit)
    with using(METRIC):
        made = str(picture(osier_assessed, key, of))
    for unit in ("Btu", "ft", "°F", "cfm"):
        assert f"\u00a0{unit}" not in made and f"{unit}/" not in made, (key, unit)


def test_the_cutaway_follows(osier_assessed: Assessment) -> None:
    with using(INCH_POUND):
        texts = [i.text for i in cutaway(osier_assessed).items if isinstance(i, Text)]
    assert any("kBtu/(ft²·yr)" in t for t in texts) and any("ft²" in t for t in texts)


@pytest.mark.parametrize(
    "unit", ["9**99999999", "m**99999", "m**2**3**4**4**4", "(2)**3", "x" * 5000, "(" * 50, "m^9^9^9^9", "**", "4 4 4", "m**4**4"]
)
def test_a_unit_that_is_a_sum_in_disguise_is_refused_at_once(unit: str) -> None:
    """Found by fuzzing: the unit parser of pint would work out such a power for hours."""
    for kind in ("length", "area", "u", "resistance"):
        with deadline(unit[:20]), pytest.raises(BadText, match="does not fit|not a number|far too long"):
            read(f"3 {unit}", kind)


def test_every_way_of_writing_a_unit_is_still_read() -> None:
    for text, kind, value in (
        ("2 W/m2K", "length", None),
        ("12 m^2", "area", 12),
        ("12 m2", "area", 12),
        ("5 ft**2", "area", 0.464515),
        ("1 Btu/(h*ft^2*F)", "u", 5.678263),
        ("0.3 W/(m**2*K)", "u", 0.3),
        ("0.6 1/h", "ach", 0.6),
        ("0.6 h**-1", "ach", 0.6),
    ):
        if value is None:
            with pytest.raises(BadText):
                read(text, kind)
        else:
            assert read(text, kind) == pytest.approx(value, rel=1e-5), text
