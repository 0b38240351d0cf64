"""Files of readings: taken in any units and marks, or refused with line, column and what would be right; the command line on them."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from pypdf import PdfReader

from nuthatch import cli
from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.airtest.validity import lines
from nuthatch.core.airtest.worked import worked
from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import apply
from nuthatch.core.edits.air_tests import taken_in
from nuthatch.core.exchange.readings import MOST_ROWS, read
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import DATA
from nuthatch.core.model.home import EvidenceFile
from tests.simple_home import simple_home

EXAMPLE = DATA / "examples" / "weir-cottage-air-test.csv"
SETUP = "volume;300\ninside;21\noutside;5\n"
TABLE = "series;pressure [Pa];flow [m³/h]\n"
ROWS = "".join(f"depressurising;{-p};{30 * p**0.65:.2f}\n" for p in (15, 25, 35, 45, 55))
GOOD = SETUP + TABLE + ROWS


def q50(text: str, name: str = "a.csv") -> float:
    return worked(read(text.encode(), name)).q50


def test_units_marks_and_separators_mean_the_same() -> None:
    """1 cfm = 0.3048³·60 m³/h; 249.0889 Pa to an inch of water; 69.8 °F = 21 °C, 41 °F = 5 °C."""
    base = q50(GOOD)
    comma = SETUP.replace(";", ",") + TABLE.replace(";", ",") + ROWS.replace(";", ",")
    tab = (SETUP + TABLE).replace(";", "\t") + ROWS.replace(";", "\t")
    decimal = SETUP + TABLE + ROWS.replace(".", ",")
    own = "volume [m³];300\ninside;69.8 °F\noutside;41 °F\n" + "series;flow [cfm];pressure [in. w.c.]\n" + "".join(
        f"depressurising;{30 * p**0.65 / (0.3048**3 * 60):.4f};{-p / 249.0889:.6f}\n" for p in (15, 25, 35, 45, 55)
    )  # fmt: skip
    cells = (
        SETUP + "series;pressure;flow\n" + "".join(f"depressurising;{-p} Pa;{30 * p**0.65 / 3.6:.5f} l/s\n" for p in (15, 25, 35, 45, 55))
    )
    for other in (comma, tab, decimal, own, cells, "\ufeff" + GOOD.replace("\n", "\r\n"), "# said\n\n" + GOOD):
        assert q50(other) == pytest.approx(base, rel=1e-4), other


def test_json_and_csv_say_the_same() -> None:
    rows = [{"series": "depressurising", "pressure": -p, "flow": f"{30 * p**0.65:.2f} m³/h"} for p in (15, 25, 35, 45, 55)]
    data = {"nuthatch": "air test", "setup": {"volume": 300, "inside": "21 °C", "outside": 5}, "readings": rows}
    assert q50(json.dumps(data), "a.json") == pytest.approx(q50(GOOD), rel=1e-9)
    exact = data | {"readings": [{"series": "depressurising", "pressure": -50.125, "flow": 174.414}]}
    reading = read(json.dumps(exact).encode(), "a.json").series[0].readings[0]
    assert (reading.pressure, reading.flow) == (-50.125, 174.414), "a number of JSON has a decimal point"
    ring = {"name": "A", "coefficient": 20, "exponent": 0.5, "least": 10, "most": 300}
    by_ring = data | {"rings": [ring], "readings": [{"series": "depressurising", "pressure": -50, "fan pressure": 100, "ring": "A"}]}
    test = read(json.dumps(by_ring).encode(), "a.json")
    assert test.rings["A"].flow(100) == pytest.approx(200) and test.series[0].readings[0].place == "line 1"


def test_series_and_their_zero_flow_pressures() -> None:
    test = read(EXAMPLE.read_bytes(), EXAMPLE.name)
    assert [(s.way, len(s.readings), len(s.zero_before), len(s.zero_after)) for s in test.series] == [
        ("depressurising", 9, 4, 4),
        ("pressurising", 8, 4, 4),
    ]
    assert [r.left_out for r in test.series[0].readings if r.left_out] == ["the front door was opened"]


def test_a_thousands_mark_beside_decimal_commas_and_the_other_way() -> None:
    for flows, expected in ((("987,5", "1.234", "1.234,5"), (987.5, 1234, 1234.5)), (("987.5", "1,234", "1,234.5"), (987.5, 1234, 1234.5))):
        rows = "".join(f"depressurising;-{10 * n};{f}\n" for n, f in enumerate(flows, 2))
        assert tuple(r.flow for r in read((SETUP + TABLE + rows).encode(), "a.csv").series[0].readings) == expected


def test_ten_thousand_readings_of_a_log_are_read_as_the_few() -> None:
    long = SETUP + TABLE + ROWS * 2000
    test = read(long.encode(), "a.csv")
    assert len(test.series[0].readings) == 10_000 and worked(test).q50 == pytest.approx(q50(GOOD), rel=1e-6)


def test_a_zero_flow_pressure_begins_a_series() -> None:
    twice = read((GOOD.replace(ROWS, "zero before;1\n" + ROWS + "zero before;2\n" + ROWS)).encode(), "a.csv").series
    assert [(s.zero_before, len(s.readings)) for s in twice] == [((1.0,), 5), ((2.0,), 5)]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "no table"),
        (SETUP, "no table"),
        (SETUP + TABLE, "no readings"),
        (GOOD.replace("volume", "volumen"), "line 1: “volumen” is not known; one of volume"),
        (GOOD.replace("inside;21", "inside;warm"), "line 2, inside: "),
        (GOOD.replace("inside;21", "inside;210"), "line 2, inside: Air inside must be at most"),
        (GOOD.replace("inside;21", "inside;21;22"), "line 2, inside: one value"),
        (GOOD.replace("flow [m³/h]", "flow [kg]"), "line 5, flow: "),
        (GOOD.replace(";flow [m³/h]", ""), "line 4: the columns “series”, “pressure” and “flow”"),
        (GOOD.replace("flow [m³/h]", "wind [m/s]"), "line 4: the column “wind .* is not known"),
        (GOOD.replace("flow [m³/h]", "pressure"), "line 4: the column “pressure” stands twice"),
        (GOOD.replace("depressurising;-25", "sucking;-25"), "line 6, series: “sucking” is not known; one of zero before"),
        (GOOD.replace("-25;", ";"), "line 6, pressure: a value is wanted"),
        (GOOD.replace("-25;", "minus;"), "line 6, pressure: "),
        (GOOD + "depressurising;-60;\n", "line 10: a flow is wanted, or a fan pressure"),
        (SETUP + "series;pressure;flow\ndepressurising;-60;1,234\n", "line 5, flow: “1,234” may be"),
        (SETUP + TABLE + "zero after;1\n" + ROWS, "line 5: “zero after” stands before any series"),
        (GOOD + "zero before;1\n", "followed by no series"),
        ("tested;20.11.2026\n" + GOOD, "line 1, tested: a date such as 2026-11-20"),
        ("method;4\n" + GOOD, "line 1, method: 1, 2 or 3"),
        ("ring A;20;0.5;10\n" + GOOD, "line 1: a ring has coefficient"),
        ("ring A;20;0.5;300;10\n" + GOOD, "line 1: ring A: .* below the most"),
        (SETUP + "series;pressure;fan pressure;ring\ndepressurising;-50;100;Z\n", "line 5, ring: “Z” is not described above"),
        (GOOD + 'depressurising;"-60;\n', "line 10"),
        ("barometer;760\n" + GOOD, "line 1, barometer: “760” may be 760 hPa or 760 mmHg; write its unit"),
        ("barometer;5\n" + GOOD, "line 1, barometer: “5” is no air pressure in any unit"),
        ("barometer;1013 Pa\n" + GOOD, "line 1, barometer: Air pressure must be at least"),
        ("humidity inside;140 %\n" + GOOD, "line 1, humidity inside: "),
        ("wind;90\n" + GOOD, "line 1, wind: "),
        (GOOD.replace("-25;", "-2500;"), "line 6, pressure: "),
        (GOOD.replace("volume;300", "volume;0"), "line 1, volume: "),
        (GOOD + "depressurising;-60;400;5\n", "line 10, column 4: “5” stands beyond the 3 columns"),
        ((SETUP + TABLE).replace(";", ",") + "depressurising,-25,5,412\n", "line 5, column 4: “412” .*decimal commas"),
        ("volume,265,4\n" + GOOD.replace(";", ","), "line 1, volume: one value is wanted, found 2"),
    ],
)
def test_a_bad_file_says_where_and_what_would_be_right(text: str, said: str) -> None:
    with pytest.raises(HomeFileError, match=said):
        read(text.encode(), "a.csv")


def test_hostile_files() -> None:
    with pytest.raises(HomeFileError, match="UTF-8"):
        read(GOOD.encode() + b"\xff\xfe", "a.csv")
    with pytest.raises(HomeFileError, match=f"more than {MOST_ROWS} readings"):
        read((SETUP + TABLE + "depressurising;-50;400\n" * 110_000).encode(), "a.csv")
    with pytest.raises(HomeFileError, match="at most 20 MB"):
        read(b"x" * 20_000_001, "a.csv")
    for data in (
        b"{}",
        b"[]",
        b"null",
        b'{"nuthatch": "air test", "readings": 3}',
        b'{"nuthatch": "air test", "readings": [3]}',
        b"[" * 3000,
    ):
        with pytest.raises(HomeFileError):
            read(data, "a.json")
    with pytest.raises(HomeFileError, match=r"\.csv or \.json"):
        read(b"", "a.xlsx")


def test_the_report_holds_results_readings_and_every_failed_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    late = tmp_path / "late <b>.csv"
    late.write_text(EXAMPLE.read_text("utf-8").replace("until;2027", "until;2025").replace("wind;2,5", "wind;9"), "utf-8")
    page = tmp_path / "report.html"
    assert cli.main(["air-test", str(late), "--report", str(page)]) == 1
    text = page.read_text("utf-8")
    assert "The test does not hold." in text and "late &lt;b&gt;" in text and "late <b>" not in text
    assert text.count('<td class="fails">fails</td>') == 2 and "the front door was opened" in text
    assert text.index('"fails">fails') < text.index(">holds<"), "what fails stands first"
    bare = tmp_path / "bare.csv"
    bare.write_text(GOOD.replace("inside;21", "wind;9\ninside;21"), "utf-8")
    assert cli.main(["air-test", str(bare), "--report", str(tmp_path / "bare.html")]) == 1
    order = (tmp_path / "bare.html").read_text("utf-8")
    assert order.index('"fails">fails') < order.index(">not known<") < order.index(">holds<")
    result = worked(read(late.read_bytes(), late.name))
    assert f"{result.n50:.2f}" in text and "<svg" in text and text.count("<td>wide</td>") + text.count("<td>narrow</td>") == 17
    printed = tmp_path / "report.pdf"
    assert cli.main(["air-test", str(EXAMPLE), "--report", str(printed), "--units", "inch-pound"]) == 0
    assert "n50" in "".join(p.extract_text() for p in PdfReader(printed).pages)
    assert cli.main(["air-test", str(EXAMPLE), "--report", str(tmp_path / "report.doc")]) == 2
    assert ".pdf" in capsys.readouterr().err


def test_the_command_line_works_a_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert cli.main(["air-test", str(EXAMPLE)]) == 0
    text = capsys.readouterr().out
    assert "the test holds" in text and "1 left out (the front door was opened)" in text and "m³/h" in text
    assert cli.main(["air-test", str(EXAMPLE), "--units", "inch-pound"]) == 0 and "cfm" in capsys.readouterr().out
    assert cli.main(["air-test", str(EXAMPLE), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["valid"] is True and data["n50"] == pytest.approx(data["q50"] / 265.4)
    assert [s["way"] for s in data["series"]] == ["depressurising", "pressurising"]
    assert data["series"][0]["n"] == pytest.approx(0.64, abs=0.01) and data["series"][0]["C_L"] == pytest.approx(148, rel=0.03), (
        "as made up"
    )
    late = tmp_path / "late.csv"
    late.write_text(EXAMPLE.read_text("utf-8").replace("until;2027", "until;2025"), "utf-8")
    assert cli.main(["air-test", str(late)]) == 1 and "FAILS" in capsys.readouterr().out
    bare = tmp_path / "bare.csv"
    bare.write_text(GOOD, "utf-8")
    assert cli.main(["air-test", str(bare), "--json"]) == 3 and json.loads(capsys.readouterr().out)["valid"] is None
    assert cli.main(["air-test", str(tmp_path / "none.csv")]) == 2 and "none.csv" in capsys.readouterr().err
    bare.write_text(GOOD.replace("inside;21\n", ""), "utf-8")
    assert cli.main(["air-test", str(bare)]) == 2 and "temperatures inside and outside is wanted" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("text", "pascal"),
    [("1013", 101_300), ("1013.25", 101_325), ("101325", 101_325), ("101.3", 101_300), ("29.92", 101_320.7), ("1006 hPa", 100_600), ("30.1 inHg", 101_930.3), ("755 mmHg", 100_658.4)],
)  # fmt: skip
def test_a_barometer_is_read_in_the_one_unit_it_can_be(text: str, pascal: float) -> None:
    """A bare number that is an air pressure in one unit only; 1013 was once read as pascals, and q50 came out at a fifth."""
    test = read(f"barometer;{text}\n{GOOD}".encode(), "a.csv")
    assert test.barometer == pytest.approx(pascal, rel=1e-5)
    assert worked(test).q50 == pytest.approx(q50(f"barometer;{pascal} Pa\n{GOOD}"), rel=1e-4)


def test_columns_stand_in_any_order_and_other_spellings_are_known() -> None:
    rows = "".join(f"{30 * p**0.65:.2f};;{-p};depressurizing\n" for p in (15, 25, 35, 45, 55))
    other = SETUP + "Flow (m³/h);left out;Pressure (Pa);Series\n" + rows
    assert q50(other) == pytest.approx(q50(GOOD), rel=1e-9)
    negative = GOOD.replace("depressurising;-15;", "depressurising;-15;-")
    assert q50(negative) == pytest.approx(q50(GOOD)), "a fan that says by the sign which way it blows"
    row = [{"series": "depressurizing", "pressure (hPa)": -p / 100, "flow [l/s]": 30 * p**0.65 / 3.6} for p in (15, 25, 35, 45, 55)]
    data = {"nuthatch": "air test", "setup": {"volume": 300, "inside": 21, "outside": 5}, "readings": row}
    assert q50(json.dumps(data), "a.json") == pytest.approx(q50(GOOD), rel=1e-4)
    data["readings"][0]["presure"] = 3  # type: ignore[index]
    with pytest.raises(HomeFileError, match="“presure” is not known"):
        read(json.dumps(data).encode(), "a.json")


def test_a_file_gives_the_same_in_a_home_with_all_it_says() -> None:
    """Two series of one direction, sizes of its own, zero-flow readings with their times and one left out, dates of the calibration."""
    zeros = "zero before;1,0;;30;\nzero before;3,0;;30;a door\n"
    table = "series;pressure;flow;seconds;left out\n"

    def series(c: float, way: str = "depressurising", sign: int = -1) -> str:
        return zeros + "".join(f"{way};{sign * p};{c * p**0.65:.2f};30;\n" for p in (12, 20, 30, 40, 50)) + "zero after;1;;30;\n"

    head = (
        "tested;2026-11-02\ncalibrated;2026-03-01\ncalibrated until;2028-03-01\nvolume;321\nenvelope;411\nfloor;128\nheight;6\n"
        + SETUP[11:]
    )
    text = head + table + series(30) + series(34) + series(36, "pressurising", 1)
    test = read(text.encode(), "a.csv")
    assert [(s.name, s.zero_before) for s in test.series] == [
        ("depressurising", (1.0,)),
        ("depressurising 2", (1.0,)),
        ("pressurising", (1.0,)),
    ]
    home = simple_home()
    made = apply(taken_in(home, test, EvidenceFile(id="e", name="a.csv", sha256="0" * 64, size=1)), home)
    a = assess(made, None)
    kept = a.all_of(TESTED)[made.air.test]
    assert kept.result is not None
    alone = worked(test)
    for name in ("q50", "n50", "q_e50", "q_f50", "area_4"):
        assert getattr(kept.result, name) == pytest.approx(getattr(alone, name), rel=1e-12), name
    assert a.figures["n50"].value == pytest.approx(alone.n50)
    assert [(line.name, line.holds) for line in kept.lines] == [(line.name, line.holds) for line in lines(test, alone)]
    assert sum(bool(r.left_out) for r in made.air_tests[0].readings) == 3, "what was left out is in the record"
