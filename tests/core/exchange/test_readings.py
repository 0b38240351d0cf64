"""Files of readings: taken in any units and marks, or refused with line, column and what would be right; the command line on them."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from pypdf import PdfReader

from nuthatch import cli
from nuthatch.core.airtest.worked import worked
from nuthatch.core.exchange.readings import MOST_ROWS, read
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import DATA

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
        (GOOD.replace("inside;21", "inside;210"), "line 2, inside: 210 is out of"),
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
