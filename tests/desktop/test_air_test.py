"""The air test on the Air board: a file of readings taken in, its chart, readings and validity, in the real interface."""

from __future__ import annotations

from collections.abc import Callable
from math import log
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from nuthatch.core.airtest.chart import chart
from nuthatch.core.airtest.worked import worked
from nuthatch.core.exchange.homefile import read as read_home
from nuthatch.core.exchange.readings import read
from nuthatch.core.library import DATA, demo_home
from nuthatch.core.model.part import Basis
from nuthatch.core.sketch import Path as Drawn
from nuthatch.core.sketch import Text
from nuthatch.core.units import INCH_POUND, using
from nuthatch.desktop.document import Document
from nuthatch.desktop.window import MainWindow

Open = Callable[..., MainWindow]

EXAMPLE = DATA / "examples" / "weir-cottage-air-test.csv"


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for kind in ("CONFIG", "DATA", "STATE"):
        monkeypatch.setenv(f"XDG_{kind}_HOME", str(tmp_path / kind.lower()))


def texts(name: str, window: MainWindow) -> list[list[str]]:
    table = getattr(window.board("air").test, name)
    return [[table.item(r, c).text() for c in range(table.columnCount())] for r in range(table.rowCount())]


def test_a_file_of_readings_is_taken_in(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    w = open_home(demo_home("weir-cottage"))
    w.show_step("air")
    board = w.board("air")
    before = w.document.home.air.n50
    assert board.test.shown is None and not texts("readings", w)
    board.test.take(EXAMPLE)
    qtbot.waitUntil(w.settled)
    given = w.document.home.air.n50
    volume = float(w.document.assessment.figures["air_volume"].value)  # type: ignore[union-attr,arg-type]
    flow = worked(read(EXAMPLE.read_bytes(), "a.csv")).q50
    assert given is not None and given.value == pytest.approx(flow / volume, abs=5e-4) and volume != 265.4, "the home's own volume counts"
    assert (given.basis, given.source) == (Basis.MEASURED, "air test of 2026-10-14, ISO 9972 method 2")
    assert [e.name for e in w.document.home.evidence if e.id in (given.files or ())] == [EXAMPLE.name]
    rows = texts("readings", w)
    assert len(rows) == 17 and rows[8][4] == "the front door was opened" and rows[0][:2] == ["depressurising", "62.0"]
    assert {r[0] for r in texts("validity", w)} == {"holds"} and "tested: 6.85 ± 0.03" in board.sub.text()
    page, said = tmp_path / "report.html", []
    board.message.connect(said.append)
    board.test.write_report(page)
    qtbot.waitUntil(lambda: any("Written" in s for s in said))
    assert "Weir Cottage" in page.read_text("utf-8") and "The test holds." in page.read_text("utf-8")
    board.test.write_report(tmp_path / "nowhere" / "report.html")
    qtbot.waitUntil(lambda: "nowhere" in said[-1] and "Written" not in said[-1] and "Writing" not in said[-1])
    w.undo()
    qtbot.waitUntil(w.settled)
    assert not board.test.report_button.isEnabled()
    assert w.document.home.air.n50 == before and board.test.shown is None, "one step back"
    w.redo()
    qtbot.waitUntil(w.settled)
    assert board.test.shown is not None
    saved = tmp_path / "weir.nuthatch"
    w.document.save(saved)
    again = open_home(None, Document.of(read_home(saved), saved))
    again.show_step("air")
    qtbot.waitUntil(again.settled)
    assert again.board("air").test.shown is not None, "the readings are in the home file"


def test_a_test_that_does_not_hold_says_so_and_a_bad_file_changes_nothing(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    w = open_home(demo_home("weir-cottage"))
    w.show_step("air")
    board, said = w.board("air"), []
    board.message.connect(said.append)
    before = w.document.home
    for name, text, words in (
        ("a.csv", "nothing", "no table"),
        ("b.csv", "volume;3\nseries;pressure;flow\ndepressurising;-50;400\n", "temperatures inside and outside is wanted"),
        ("c.json", "{}", "no air test"),
    ):
        (tmp_path / name).write_text(text, "utf-8")
        board.test.take(tmp_path / name)
        qtbot.waitUntil(w.settled)
        assert words in said[-1] and w.document.home is before
    board.test.take(tmp_path / "nowhere.csv")
    assert "nowhere.csv" in said[-1] and w.document.home is before
    windy = tmp_path / "windy.csv"
    windy.write_text(EXAMPLE.read_text("utf-8").replace("wind;2,5 m/s", "wind;9 m/s"), "utf-8")
    board.test.take(windy)
    qtbot.waitUntil(w.settled)
    assert w.document.home.air.n50.source.endswith("does not hold: wind")  # type: ignore[union-attr]
    assert texts("validity", w)[0][:2] == ["fails", "wind"] and "1 line of its validity fails" in board.sub.text()


def test_the_chart_draws_points_lines_and_bands_to_scale() -> None:
    """On logarithmic axes the line is straight: its ends, and where 50 Pa stands, by hand."""
    result = worked(read(EXAMPLE.read_bytes(), "a.csv"))
    for made in (chart(result), _inch_pound(result)):
        drawn = [i for i in made.items if isinstance(i, Drawn)]
        bands = [i for i in drawn if i.tip == "95 % confidence"]
        marks = [i for i in drawn if len(i.points) == 12]
        hollow = [i for i in marks if "left out" in i.tip]
        assert (len(bands), len(marks), len(hollow)) == (2, 17, 1) and hollow[0].fill == "white"
        for line in (i for i in drawn if len(i.points) == 25):
            (x0, y0), (x1, y1) = line.points[0], line.points[-1]
            assert all(abs((y - y0) * (x1 - x0) - (y1 - y0) * (x - x0)) < 1e-6 * (x1 - x0) ** 2 for x, y in line.points)
        lines = [i for i in drawn if len(i.points) == 25]
        for half, line, band in zip(result.halves, lines, bands, strict=True):
            per = (line.points[0][1] - line.points[-1][1]) / log(half.fit.at(62.0) / half.fit.at(13.0))  # of a logarithm of the flow
            for at, n in ((13.0, 0), (62.0, 24)):
                above, below = line.points[n][1] - band.points[n][1], band.points[49 - n][1] - line.points[n][1]
                assert (above, below) == pytest.approx((half.fit.band(at) * per,) * 2, rel=0.02)
        fifty = next(i for i in drawn if i.dash)
        assert fifty.points[0][0] == fifty.points[1][0]
        assert {"50", "Pa"} <= {i.text for i in made.items if isinstance(i, Text)}


def _inch_pound(result):  # type: ignore[no-untyped-def]
    with using(INCH_POUND):
        return chart(result)
