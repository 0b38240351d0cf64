"""Typed values: every text is right, asked about, or refused; none is read wrongly.

The table is written by hand. Factors by definition: foot 0.3048 m, pound 0.45359237 kg, US gallon 3.785411784 l, Btu (IT)
1055.05585262 J, from which 1 Btu/(h·ft²·°F) = 5.678263 W/(m²·K) (NIST SP 811, from memory).
"""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nuthatch.core.edits.desk import AskedColumn, BadCell, Block, Listing, pasted
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Air, Appliance, Carrier, HeatSource, Layer, Opening, Shape, Site, VentilationUnit
from nuthatch.core.model.part import specs
from nuthatch.core.reading import BadText, Doubt, mark_of, read
from nuthatch.core.unit_names import NoUnit, form, listed
from nuthatch.core.units import INCH_POUND, KINDS, using


class Ask(tuple):
    """The readings that are asked about."""


NO = None
FT, IN, GAL, LB = 0.3048, 0.0254, 3.785411784, 0.45359237

FIELDS = {
    "width": specs(Opening)["width"],  # a length up to 30 m
    "thickness": specs(Layer)["thickness"],  # up to 3 m
    "area": specs(Shape)["measured_area"],  # up to 100 000 m²
    "volume": specs(Shape)["volume"],  # up to 1 000 000 m³
    "temperature": specs(Site)["heating_setpoint"],  # 10 to 30 °C
    "conductivity": specs(Layer)["conductivity"],
    "resistance": specs(Layer)["resistance"],  # up to 50
    "density": specs(Layer)["density"],  # up to 25 000
    "n50": specs(Air)["n50"],  # up to 50
    "flow": specs(VentilationUnit)["supply"],  # up to 5000
    "recovery": specs(VentilationUnit)["recovery"],  # up to 100 %
    "fan": specs(VentilationUnit)["power"],
    "efficiency": specs(HeatSource)["efficiency"],  # up to 1000 %
    "co2": specs(Carrier)["co2"],
    "price": specs(Carrier)["price"],
    "electricity": specs(Appliance)["energy"],  # up to 100 000
}

TABLE: list[tuple[str, str, object]] = [
    # plain numbers in every habit
    ("1.2", "width", 1.2), ("1,2", "width", 1.2), (" 1.2 ", "width", 1.2), ("+1.2", "width", 1.2), (".5", "width", 0.5), (",5", "width", 0.5),
    ("2.", "width", 2.0), ("1e1", "width", 10.0), ("1.5e-1", "width", 0.15), ("1,5e1", "width", 15.0), ("½", "width", 0.5), ("1½", "width", 1.5),
    ("3/4", "width", 0.75), ("1 1/4", "width", 1.25), ("1-1/4", "width", 1.25), ("−1", "width", -1.0),
    # thousands: what the bounds leave is taken, two readings are asked about
    ("1 200", "volume", 1200.0), ("1\u202f200", "volume", 1200.0), ("1'200", "volume", 1200.0), ("1’200", "volume", 1200.0),
    ("1,200", "volume", Ask((1200.0, 1.2))), ("1.200", "volume", Ask((1.2, 1200.0))), ("1.200,5", "volume", 1200.5), ("1,200.5", "volume", 1200.5),
    ("12.345.678", "electricity", 12345678.0), ("1,234,567", "volume", 1234567.0), ("1 234 567,8", "volume", 1234567.8), ("0,600", "n50", 0.6),
    ("0.035", "conductivity", 0.035), ("1.250", "width", 1.25), ("1,250", "width", 1.25), ("2.000", "n50", 2.0), ("1.500", "electricity", Ask((1.5, 1500.0))),
    ("10.125", "area", Ask((10.125, 10125.0))), ("1.800", "density", Ask((1.8, 1800.0))), ("1,800 kg/m³", "density", Ask((1800.0, 1.8))),
    ("240.000 mm", "thickness", 0.24), ("1.2.3", "volume", NO), ("1,2,3", "volume", NO), ("1,200,5", "volume", NO), ("1.200.5", "volume", NO),
    ("0,,5", "width", NO), ("2,,5", "width", NO), ("2..5", "width", NO), ("1,,200", "volume", NO), ("12,00,000", "volume", NO), ("01,200", "volume", 1.2),
    ("1 20", "volume", NO), ("1'20", "volume", NO), ("12'3456", "volume", NO), ("--1", "width", NO), ("1-", "width", NO), ("1..", "width", NO),
    # no numbers at all, or more than one
    ("", "width", NO), ("abc", "width", NO), ("5 ± 1", "width", NO), ("5±1", "width", NO), ("5-6", "width", NO), ("5–6", "width", NO), ("~5", "width", NO), (">5", "width", NO),
    ("5 m 20", "width", NO), ("1/0", "width", NO), ("nan", "width", NO), ("inf", "width", NO), ("1e999", "width", NO), ("0x10", "width", NO), ("1_000", "volume", NO),
    ("5 m approx", "width", NO), ("=1+1", "width", NO), ("1 2 3", "width", NO), ("5 5 m", "width", NO), ("９", "width", 9.0), ("1٫5", "width", NO),
    # lengths
    ("240 mm", "width", 0.24), ("24 cm", "width", 0.24), ("2,5 m", "width", 2.5), ("0.002 km", "width", 2.0), ("9.5 in", "width", 9.5 * IN), ('9.5"', "width", 9.5 * IN),
    ("9.5″", "width", 9.5 * IN), ("9.5 inches", "width", 9.5 * IN), ("5-1/2 in", "width", 5.5 * IN), ("5 1/2 in", "width", 5.5 * IN), ("5½ in", "width", 5.5 * IN), ('5-1/2"', "width", 5.5 * IN),
    ("28 ft", "width", 28 * FT), ("28′", "width", 28 * FT), ("28'", "width", 28 * FT), ("5' 6\"", "width", 5.5 * FT), ("5'6\"", "width", 5.5 * FT), ("5' - 6\"", "width", 5.5 * FT),
    ("5'6", "width", 5.5 * FT), ("5ft6in", "width", 5.5 * FT), ("5 ft 6 in", "width", 5.5 * FT), ("5 feet 6 inches", "width", 5.5 * FT), ("5' 6 1/2\"", "width", 66.5 * IN), ("5' 6-1/2\"", "width", 66.5 * IN),
    ("5’ 6”", "width", 5.5 * FT), ("5' 13\"", "width", NO), ("12 qm", "width", NO), ("12 m²", "width", NO), ("3 kg", "width", NO), ("4 yd", "width", 4 * 0.9144),
    # areas and volumes
    ("12 sqm", "area", 12.0), ("12 m2", "area", 12.0), ("12 m^2", "area", 12.0), ("12 qm", "area", 12.0), ("12 sq m", "area", 12.0), ("135 sqft", "area", 135 * FT**2),
    ("135 sq ft", "area", 135 * FT**2), ("135 sq. ft.", "area", 135 * FT**2), ("135 ft²", "area", 135 * FT**2), ("12 m", "area", NO), ("350 m³", "volume", 350.0), ("350 cbm", "volume", 350.0),
    ("12500 cu ft", "volume", 12500 * FT**3), ("500 l", "volume", 0.5), ("10 gal", "volume", 10 * GAL / 1000), ("10 m2", "volume", NO),
    # temperatures
    ("20", "temperature", 20.0), ("20 °C", "temperature", 20.0), ("20C", "temperature", 20.0), ("68 F", "temperature", 20.0), ("68 °F", "temperature", 20.0), ("68 deg F", "temperature", 20.0),
    ("293.15 K", "temperature", 20.0), ("20°", "temperature", 20.0), ("20 kelvin per m", "temperature", NO), ("20 W", "temperature", NO),
    # conductivities, resistances, U-values
    ("0.035 W/mK", "conductivity", 0.035), ("0.035 W/(mK)", "conductivity", 0.035), ("0.035 W/(m·K)", "conductivity", 0.035), ("0.035 W/m/K", "conductivity", 0.035), ("0.035 W m-1 K-1", "conductivity", 0.035),
    ("0.035 W·m⁻¹·K⁻¹", "conductivity", 0.035), ("35 mW/(m·K)", "conductivity", 0.035), ("0.035 W/K", "conductivity", NO), ("0.035 W/(m²·K)", "conductivity", NO),
    ("0.24 Btu·in/(h·ft²·°F)", "conductivity", 0.24 * 5.678263 * IN), ("3.7", "resistance", 3.7), ("3.7 m²K/W", "resistance", 3.7), ("R-21", "resistance", 21 / 5.678263), ("R 21", "resistance", 21 / 5.678263),
    ("R21", "resistance", 21 / 5.678263), ("r-13", "resistance", 13 / 5.678263), ("RSI 3.7", "resistance", 3.7), ("R-21 m", "resistance", NO), ("0.13 W/m²K", "u", 0.13), ("0.13 W/(m²K)", "u", 0.13),
    ("0.13 W/m2K", "u", 0.13), ("0.023 Btu/(h·ft²·°F)", "u", 0.023 * 5.678263), ("0.023 Btu/h ft2 F", "u", 0.023 * 5.678263), ("0.023 BTU/(hr ft2 F)", "u", 0.023 * 5.678263), ("0.13 W/mK", "u", NO),
    ("0.035 W/(mK)", "w_per_k", NO), ("2.4 W/K", "w_per_k", 2.4), ("4.5 Btu/(h·°F)", "w_per_k", 4.5 * 0.527528),
    # air
    ("0.6", "n50", 0.6), ("0.6 ACH", "n50", 0.6), ("0.6 ach", "n50", 0.6), ("0.6/h", "n50", 0.6), ("0.6 1/h", "n50", 0.6), ("0.6 h-1", "n50", 0.6), ("0.6 h⁻¹", "n50", 0.6), ("0.6 per hour", "n50", 0.6),
    ("400 CFM", "flow", 400 * FT**3 * 60), ("400 cfm", "flow", 400 * FT**3 * 60), ("120 m³/h", "flow", 120.0), ("120 m3/h", "flow", 120.0), ("30 l/s", "flow", 108.0), ("30 L/s", "flow", 108.0),
    ("0.6 1/h", "flow", NO), ("0.45 Wh/m³", "fan", 0.45), ("0.45 W/(m³/h)", "fan", 0.45), ("1.62 kW/(m³/s)", "fan", 0.45), ("1.62 W/(l/s)", "fan", 0.45),
    # shares and efficiencies
    ("85", "recovery", 0.85), ("85 %", "recovery", 0.85), ("85%", "recovery", 0.85), ("0.85", "recovery", Ask((0.0085, 0.85))), ("1", "recovery", Ask((0.01, 1.0))), ("0", "recovery", 0.0), ("0.8 %", "recovery", 0.008),
    ("3.2", "efficiency", Ask((0.032, 3.2))), ("320 %", "efficiency", 3.2), ("320", "efficiency", 3.2), ("95", "efficiency", 0.95), ("0.95", "efficiency", Ask((0.0095, 0.95))), ("45°", "fraction", NO), ("30 %", "fraction", 0.3),
    ("80 %", "angle", NO), ("45°", "angle", 45.0), ("45 deg", "angle", 45.0), ("85 m", "recovery", NO),
    # energy, money, carbon
    ("1500 kwh", "electricity", 1500.0), ("1500 kWh/a", "electricity", 1500.0), ("1500 kWh/yr", "electricity", 1500.0), ("1.5 MWh", "electricity", 1500.0), ("5400 MJ", "electricity", 1500.0), ("1500 W", "electricity", NO),
    ("28 ct/kWh", "price", 0.28), ("0.28 €/kWh", "price", 0.28), ("0.28 EUR/kWh", "price", 0.28), ("0.28 per kWh", "price", 0.28), ("28 ct/kWh", "co2", NO), ("210 g/kWh", "co2", 0.21), ("0.21 kg/kWh", "co2", 0.21),
    ("0.46 lb/kWh", "co2", 0.46 * LB), ("0.21 kg/m²", "co2", NO), ("15 kWh/(m²·a)", "specific_energy", 15.0), ("15 kWh/m2a", "specific_energy", 15.0), ("15 kWh/m²", "specific_energy", 15.0), ("15 kWh", "specific_energy", NO),
]  # fmt: skip


def outcome(text: str, field: str) -> object:
    spec = FIELDS.get(field)
    try:
        found = read(text, spec.kind if spec else field, spec.refuse if spec else None)
    except BadText as problem:
        assert "type " in str(problem) or "foot" in str(problem) or "nothing" in str(problem), "it says what would be right"
        return NO
    return Ask(v for _, v in found.readings) if isinstance(found, Doubt) else found


@pytest.mark.parametrize(("text", "field", "expected"), TABLE, ids=[f"{t} as {f}" for t, f, _ in TABLE])
def test_typed_texts(text: str, field: str, expected: object) -> None:
    found = outcome(text, field)
    if expected is NO:
        assert found is NO
    elif isinstance(expected, Ask):
        assert isinstance(found, Ask) and sorted(found) == pytest.approx(sorted(expected))
    else:
        assert not isinstance(found, Ask) and found == pytest.approx(expected, rel=1e-6)


def test_the_table_is_long_enough_and_reaches_every_kind_of_answer() -> None:
    assert len({(t, f) for t, f, _ in TABLE}) >= 150
    assert sum(isinstance(e, Ask) for _, _, e in TABLE) >= 10 and sum(e is NO for _, _, e in TABLE) >= 40


def test_what_the_fields_show_is_understood_in_inch_pound_too() -> None:
    with using(INCH_POUND):
        assert read("9.5", "thickness") == pytest.approx(9.5 * IN)
        assert read("240 mm", "thickness") == pytest.approx(0.24)
        assert read("5' 6\"", "length") == pytest.approx(5.5 * FT)
        assert read("68", "temperature") == pytest.approx(20)


@pytest.mark.parametrize("kind", sorted(set(KINDS) - {"text"}))
def test_every_unit_of_the_list_is_taken_and_no_other_kinds_units(kind: str) -> None:
    for unit in listed(kind):
        assert not isinstance(read(f"1 {unit}", kind), Doubt) or kind == "percent", unit
    for stranger in ("kg·m", "W·W", "parsec", "m⁵", "K/W/m", "fortnight"):
        with pytest.raises(BadText):
            read(f"1 {stranger}", kind)


@given(st.text(max_size=40))
def test_no_text_is_ever_an_error_of_ours(text: str) -> None:
    for kind in ("length", "percent", "u", "temperature", "price", "volume"):
        try:
            found = read(text, kind)
        except BadText:
            continue
        values = [v for _, v in found.readings] if isinstance(found, Doubt) else [found]
        assert all(v == v and abs(v) != float("inf") for v in values)


@pytest.mark.parametrize("text", ["W//m", "W/", "/", "·W", "W··", "(W", "W)", "W^9", "m^0", "2W", "((((((W))))))", "W/(m(K(h(d(s)))))"])
def test_units_that_are_none(text: str) -> None:
    with pytest.raises(NoUnit):
        form(text)


# a column


FACES = Listing("home", "openings", Opening, "w")


def rows(*cells: str) -> Block:
    return Block((), ("name", "width"), tuple((f"W{n}", c) for n, c in enumerate(cells)))


def test_a_column_shows_by_its_other_cells_how_it_is_read() -> None:
    assert (
        mark_of(["1.200", "2.35"]) == "."
        and mark_of(["1,200", "2,5"]) == ","
        and mark_of(["1.200", "3.400"]) == ""
        and mark_of(["2.5", "2,5"]) == ""
    )
    home = demo_home("osier-lane-7")
    appliances = Listing("household", "appliances", Appliance, "a")
    made = pasted(home, appliances, Block((), ("name", "energy"), (("a", "1.500"), ("b", "1.250,5"))), {})
    assert [c.value.energy.value for c in made.changes] == [1500, 1250.5]  # type: ignore[union-attr]


def test_a_column_that_says_nothing_is_asked_about_once() -> None:
    home = demo_home("osier-lane-7")
    appliances = Listing("household", "appliances", Appliance, "a")
    block = Block((), ("name", "energy"), (("a", "1.500"), ("b", "2.250"), ("c", "7")))
    with pytest.raises(AskedColumn) as asked:
        pasted(home, appliances, block, {})
    assert (asked.value.row, asked.value.field) == (0, "energy")
    whole = [label for label, _ in asked.value.doubt.readings].index("1500")
    made = pasted(home, appliances, block, {}, {"energy": asked.value.answer(whole)})
    assert [c.value.energy.value for c in made.changes] == [1500, 2250, 7]  # type: ignore[union-attr]
    made = pasted(home, appliances, block, {}, {"energy": asked.value.answer(1 - whole)})
    assert [c.value.energy.value for c in made.changes] == [1.5, 2.25, 7]  # type: ignore[union-attr]


def test_shares_without_a_sign_are_asked_about_once() -> None:
    home = demo_home("osier-lane-7")
    appliances = Listing("household", "appliances", Appliance, "a")
    block = Block((), ("name", "inside_share"), (("a", "0.8"), ("b", "0.55"), ("c", "85 %")))
    with pytest.raises(AskedColumn) as asked:
        pasted(home, appliances, block, {})
    made = pasted(home, appliances, block, {}, {"inside_share": asked.value.answer(1)})
    assert [c.value.inside_share.value for c in made.changes] == pytest.approx([0.8, 0.55, 0.85])  # type: ignore[union-attr]


def test_a_row_that_cannot_be_made_names_its_row() -> None:
    with pytest.raises(BadCell) as bad:
        pasted(demo_home("osier-lane-7"), FACES, Block((), ("name",), (("short",), ("x" * 20001,))), {})
    assert bad.value.row == 1 and "20000" in str(bad.value)


CULTURES = {
    "1,234.5": (",", "."), "1.234,5": (".", ","), "1\u202f234,5": ("\u202f", ","), "1 234.5": (" ", "."), "1\u2009234,5": ("\u2009", ","),
    "1'234.5": ("'", "."), "1’234.5": ("’", "."), "1’234,5": ("’", ","), "1234.5": ("", "."), "1234,5": ("", ","),
}  # fmt: skip
"""Thousands and decimal marks as countries write them; common practice, no source."""
VALUES = (0.5, 1.25, 2.0, 20.0, 250.0, 1000.0, 2000.0, 1234.5, 12500.0, 1234567.25)
KINDS_TYPED = ("width", "thickness", "area", "volume", "flow")


def _written(value: float, group: str, mark: str) -> str:
    whole, _, part = f"{value:.2f}".rstrip("0").rstrip(".").partition(".")
    digits = f"{int(whole):,}".replace(",", group)
    return f"{digits}{mark}{part}" if part else digits


TYPED = [(_written(v, *marks), field, v) for marks in CULTURES.values() for v in VALUES for field in KINDS_TYPED]


def test_numbers_of_other_cultures_are_never_misread() -> None:
    """Each is what was meant, or a question that offers what was meant; one that neither is would be a misreading."""
    assert len(TYPED) >= 480
    asked = 0
    for text, field, value in TYPED:
        meant = value / 1000 if field == "thickness" else value
        found = outcome(text, field)
        if isinstance(found, Ask):
            asked += 1
            assert any(v == pytest.approx(meant) for v in found), (text, field, found)
            continue
        refused = bool(FIELDS[field].refuse(meant))  # then what the bounds leave may be all that is meant
        assert found == pytest.approx(meant) or refused and FIELDS[field].refuse(found) == "" and not text.count("'"), (text, field, found)
    assert 20 < asked < len(TYPED) / 4


@pytest.mark.parametrize("text", ["2'000", "2’000", "2'000.5", "5'006", "10'000", "1'000'000"])
@pytest.mark.parametrize("field", ["width", "thickness"])
def test_a_mark_between_groups_of_three_is_asked_about_in_a_length(text: str, field: str) -> None:
    found = outcome(text, field)
    number = float(text.replace("'", "").replace("’", "")) / (1000 if field == "thickness" else 1)
    if text.count("'") == 2:  # no feet and inches
        assert found == pytest.approx(number)
        return
    assert isinstance(found, Ask) and any(v == pytest.approx(number) for v in found)
    feet, inches = (float(p) for p in text.replace("’", "'").split("'"))
    assert any(v == pytest.approx((feet * 12 + inches) * IN) for v in found)


@pytest.mark.parametrize("text", ["2.5 ft2", "2.5 ft3", "2.5ft2", "12 sq ft", "12 feet2", "3 m2", "2 ft^2", "2 ft²"])
@pytest.mark.parametrize("field", ["width", "thickness"])
def test_an_area_in_a_length_field_is_refused(text: str, field: str) -> None:
    assert outcome(text, field) is NO


def test_feet_and_inches_beside_powers_stay() -> None:
    assert outcome("2 ft 2 in", "width") == pytest.approx(26 * IN) and outcome("2ft 3", "width") == pytest.approx(27 * IN)
    assert outcome("2'3", "width") == pytest.approx(27 * IN) and outcome("2.5 ft2", "area") == pytest.approx(2.5 * FT**2)


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        # pascals of one: NIST SP 811, appendix B.8, conventional columns; mile 1609.344 m, nautical mile 1852 m
        ("0.2 in. w.c.", "pascal", 0.2 * 249.08891), ("0.2 in w.c.", "pascal", 49.817782), ("0.2 in.w.g.", "pascal", 49.817782),
        ("0.2 inH2O", "pascal", 49.817782), ("0.2 in H2O", "pascal", 49.817782), ("0.2 inches of water", "pascal", 49.817782), ("5 mmH2O", "pascal", 49.03325),
        ("0.5 mbar", "pascal", 50.0), ("0.5 hPa", "pascal", 50.0), ("50 Pa", "pascal", 50.0), ("0.05 kPa", "pascal", 50.0),
        ("1013 mbar", "pressure", 101_300.0), ("1013 hPa", "pressure", 101_300.0), ("29.92 inHg", "pressure", 101_320.7), ("29.92 in Hg", "pressure", 101_320.7),
        ("29.92 in. Hg", "pressure", 101_320.7), ("760 mmHg", "pressure", 101_325.0), ("760 mm Hg", "pressure", 101_325.0), ("1.01 bar", "pressure", 101_000.0),
        ("10 mph", "speed", 4.4704), ("18 km/h", "speed", 5.0), ("10 kn", "speed", 5.14444), ("10 kt", "speed", 5.14444), ("196.85 ft/min", "speed", 1.0),
        ("120 cm²", "free_area", 0.012), ("120 cm2", "free_area", 0.012), ("10 in²", "free_area", 10 * IN**2), ("1 sq in", "free_area", IN**2),
        ("22:30", "hours", 22.5), ("6:05", "hours", 6 + 5 / 60), ("24:00", "hours", 24.0), ("10 pm", "hours", 22.0), ("10:30 p.m.", "hours", 22.5),
        ("12 am", "hours", 0.0), ("12:15 PM", "hours", 12.25), ("90 min", "hours", 1.5), ("1:30", "seconds", 90.0), ("2 min", "seconds", 120.0), ("30 s", "seconds", 30.0),
        ("100 cfm", "flow", 100 * 60 * FT**3), ("30 l/s", "flow", 108.0),
    ],
)  # fmt: skip
def test_what_consultants_write_of_pressure_wind_area_and_time(text: str, kind: str, value: float) -> None:
    assert read(text, kind) == pytest.approx(value, rel=2e-6)


@pytest.mark.parametrize(("text", "kind"), [("25:00", "hours"), ("24:30", "hours"), ("13 pm", "hours"), ("22:75", "hours"), ("5 in", "pascal"), ("5 mm", "pressure"), ("30 l/s", "speed")])  # fmt: skip
def test_what_is_no_time_and_no_pressure_is_refused(text: str, kind: str) -> None:
    with pytest.raises(BadText):
        read(text, kind)
