"""The Air board in the real interface: tests prepared, followed, counted, taken in and run with the practice gauge; rooms, units, paths."""

from __future__ import annotations

from collections.abc import Callable
from math import log
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from nuthatch.core.air.stages import FLOWS
from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.airtest.worked import worked
from nuthatch.core.exchange.readings import read
from nuthatch.core.files.autosave import read_autosave
from nuthatch.core.files.homefile import read as read_home
from nuthatch.core.library import DATA, demo_home
from nuthatch.core.model.home import find
from nuthatch.core.model.part import Basis
from nuthatch.core.sketch import Path as Drawn
from nuthatch.core.sketch import Text
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.air.test_chart import chart
from nuthatch.desktop.document import Document
from nuthatch.desktop.steps.air.board import AirBoard
from nuthatch.desktop.window import MainWindow
from tests.air_home import air_home

Open = Callable[..., MainWindow]

EXAMPLE = DATA / "examples" / "weir-cottage-air-test.csv"


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for kind in ("CONFIG", "DATA", "STATE"):
        monkeypatch.setenv(f"XDG_{kind}_HOME", str(tmp_path / kind.lower()))


def board_of(w: MainWindow) -> AirBoard:
    w.show_step("air")
    board = w.board("air")
    assert isinstance(board, AirBoard)
    return board


def texts(name: str, board: AirBoard) -> list[list[str]]:
    table = getattr(board.tests, name)
    return [[table.item(r, c).text() for c in range(table.columnCount())] for r in range(table.rowCount())]


def bare(name: str = "sail-loft"):  # type: ignore[no-untyped-def]
    """A demo home without tests."""
    home = demo_home(name)
    return home.model_copy(update={"air_tests": (), "air": home.air.model_copy(update={"test": ""})})


def test_a_file_of_readings_is_taken_in(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    w = open_home(bare("weir-cottage"))
    board = board_of(w)
    before = w.document.home
    assert board.tests.shown is None and not texts("off", board)
    board.tests.files.take(EXAMPLE)
    qtbot.waitUntil(w.settled)
    a = w.document.assessment
    assert a is not None
    flow = worked(read(EXAMPLE.read_bytes(), "a.csv")).q50
    assert a.figures["n50"].value == pytest.approx(flow / 265.4), "the volume the file says counts"
    test = w.document.home.air_tests[0]
    assert w.document.home.air.test == test.id and test.tested == "2026-10-14" and test.readings[0].pressure.basis is Basis.MEASURED  # type: ignore[union-attr]
    assert [e.name for e in w.document.home.evidence if e.id == test.file] == [EXAMPLE.name]
    rows = texts("off", board)
    assert len(rows) == 17 and rows[8][4] == "the front door was opened" and rows[0][:2] == ["depressurising", "62.0"]
    assert {r[0] for r in texts("validity", board)} == {"holds"} and "tested: 6.85" in board.sub.text()
    page, said = tmp_path / "report.html", []
    board.message.connect(said.append)
    board.tests.files.write_report(page)
    qtbot.waitUntil(lambda: any("Written" in s for s in said))
    text = page.read_text("utf-8")
    assert "Weir Cottage" in text and "The test holds." in text and "Osier Lane Housing Co-operative" in text
    board.tests.files.write_report(tmp_path / "nowhere" / "report.html")
    qtbot.waitUntil(lambda: "nowhere" in said[-1] and "Written" not in said[-1] and "Writing" not in said[-1])
    w.undo()
    qtbot.waitUntil(w.settled)
    assert w.document.home == before and board.tests.shown is None and not board.tests.report_button.isEnabled(), "one step back"
    w.redo()
    qtbot.waitUntil(w.settled)
    saved = tmp_path / "weir.nuthatch"
    w.document.save(saved)
    again = board_of(open_home(None, Document.of(read_home(saved), saved)))
    assert again.tests.shown is not None, "the readings are in the home file"


def test_a_test_that_does_not_hold_says_so_and_a_bad_file_changes_nothing(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    w = open_home(bare("weir-cottage"))
    board, said = board_of(w), []
    board.message.connect(said.append)
    before = w.document.home
    ring = "ring 2;4;0.5;20;400\ninside;20\noutside;5\nseries;pressure;fan pressure;ring\n"
    for name, text, words in (
        ("a.csv", "nothing", "no table"),
        ("b.csv", "volume;3\nseries;pressure;flow\ndepressurising;-50;400\n", "temperatures inside and outside is wanted"),
        ("c.json", "{}", "no air test"),
        ("d.csv", f"{ring}depressurising;-50;5;2\ndepressurising;-30;3;2\n", "not for ring 2"),
    ):
        (tmp_path / name).write_text(text, "utf-8")
        board.tests.files.take(tmp_path / name)
        qtbot.waitUntil(w.settled)
        assert words in said[-1] and name in said[-1] and w.document.home is before
    board.tests.files.take(tmp_path / "nowhere.csv")
    assert "nowhere.csv" in said[-1] and w.document.home is before
    windy = tmp_path / "windy.csv"
    windy.write_text(EXAMPLE.read_text("utf-8").replace("wind;2,5 m/s", "wind;9 m/s"), "utf-8")
    board.tests.files.take(windy)
    qtbot.waitUntil(w.settled)
    assert texts("validity", board)[0][:2] == ["fails", "wind"] and "1 line of its validity fails" in board.sub.text()


def test_a_test_is_prepared_followed_and_counted_by_hand(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    w = open_home(bare())
    board = board_of(w)
    board.tests.tests.add_button.click()
    qtbot.waitUntil(w.settled)
    first = w.document.home.air_tests[0]
    assert first.fan is not None and first.fan.name == "Practice fan" and len(first.preparations) == 10 and board.tests.fan_card.isVisible()
    board.in_front(board.tests.prepared)
    board.tests.prepared.table.select(first.preparations[0].id)
    photo = tmp_path / "window.png"
    photo.write_bytes(b"\x89PNG made up")
    board.tests.files.take_photo(first.preparations[0].id, photo)
    done = w.document.home.air_tests[0].preparations[0]
    assert [e.name for e in w.document.home.evidence if e.id == done.photo] == ["window.png"]
    board.in_front(board.tests.readings)
    board.tests.readings.add()
    card = board.tests.readings.card
    QTest.keyClicks(card.fields["pressure"].edit, "-50")  # type: ignore[attr-defined]
    QTest.keyClick(card.fields["pressure"].edit, Qt.Key.Key_Return)  # type: ignore[attr-defined]
    reading = w.document.home.air_tests[0].readings[0]
    assert reading.pressure is not None and reading.pressure.value == -50
    w.document.desk.choose(reading.id, "ring", "open")
    refused = w.document.desk.typed(reading.id, "fan_pressure", 3.0)
    assert "not for ring open" in refused and "ring" in refused and w.document.home.air_tests[0].readings[0].fan_pressure is None
    board.in_front(board.tests.tests)
    board.tests.follow()
    board.tests.count()
    qtbot.waitUntil(w.settled)
    home = w.document.home
    assert len(home.air_tests) == 2 and home.air_tests[0].readings and not home.air_tests[1].readings
    assert home.air.test == home.air_tests[1].id and home.air_tests[1].follows == first.id
    assert any(q.part == home.air.test for q in w.document.assessment.questions)  # type: ignore[union-attr]
    assert w.document.desk.refusal() == "" and board.focus_field(home.air.test, "readings")
    board.tests.leaks.add()
    assert w.document.home.air_tests[1].leaks[0].name == "New leak"


def test_a_whole_test_with_the_practice_gauge_by_keys_alone(open_home: Open, qtbot: QtBot) -> None:
    """Space starts, a tube comes off (T) and is put back, Space goes on; both series; n50 within 1 % of the practice house's truth."""
    w = open_home(bare())
    w.document.desk.typed("air", "n50", 4.0)
    qtbot.waitUntil(w.settled)
    board = board_of(w)
    board.drawings_to(board.site)
    site = board.site
    site.quiet = True
    assert not board.work.lists.isVisible() and site.hasFocus()
    volume = float(w.document.assessment.figures["air_volume"].value)  # type: ignore[union-attr,arg-type]
    QTest.keyClick(site, Qt.Key.Key_Space)
    running = site.running
    assert running is not None and running.running and w.document.home.air_tests, "a test is prepared where there is none"
    running.timer.stop()
    running.speed = 20

    def on(until: Callable[[], bool]) -> None:
        for _ in range(600):
            if until():
                return
            running.tick()
        raise AssertionError(running.run.say)

    def kept() -> int:
        return sum(r.moment == "point" for r in w.document.home.air_tests[0].readings)

    on(lambda: kept() == 2)
    QTest.keyClick(site, Qt.Key.Key_T)
    on(lambda: bool(running.run.paused))
    assert "tube" in running.run.paused and site.main.text().startswith("Go on") and kept() == 2
    QTest.keyClick(site, Qt.Key.Key_T)
    QTest.keyClick(site, Qt.Key.Key_Space)
    running.timer.stop()
    assert not running.run.paused and running.practice.tube
    QTest.keyClick(site, Qt.Key.Key_L)
    assert running.run.now is not None and running.run.now.hold == 60
    on(lambda: kept() == 3)
    QTest.keyClick(site, Qt.Key.Key_A)
    QTest.keyClick(site, Qt.Key.Key_P)
    assert running.run.paused and site.pause.isEnabled()
    QTest.keyClick(site, Qt.Key.Key_P)
    running.timer.stop()
    on(lambda: running.run.done)
    qtbot.waitUntil(w.settled)
    found = site.shown
    assert found is not None and found.result is not None and found.result.n50 == pytest.approx(4.0, rel=0.01)
    assert found.result.q50 == pytest.approx(4.0 * volume, rel=0.01) and kept() >= 14
    assert site.main.text().startswith("Start") and not site.stop.isEnabled()
    assert w.document.home.air.test == "", "which test counts is chosen by a person"
    board.drawings_to(board.tests.drawing)
    assert board.work.lists.isVisible() and len(texts("off", board)) == kept()


def test_a_point_kept_is_on_disk_at_once(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    saved = tmp_path / "loft.nuthatch"
    w = open_home(bare())
    w.document.save(saved)
    board = board_of(w)
    board.drawings_to(board.site)
    board.site.start()
    running = board.site.running
    assert running is not None
    running.timer.stop()
    running.speed = 20
    while not any(r.moment == "point" for r in w.document.home.air_tests[0].readings):
        running.tick()
    number = len(w.document.home.air_tests[0].readings)
    kept = read_autosave(w.document.keeper.file)
    assert kept is not None and len(kept.home.air_tests[0].readings) == number, "before anything else happens"
    running.end()
    assert running.run.done and not running.running


def test_a_second_run_lets_go_of_the_gauge_of_the_first(open_home: Open) -> None:
    """A serial port is had by one at a time."""
    w = open_home(bare())
    site = board_of(w).site
    board_of(w).drawings_to(site)
    site.start()
    first = site.running
    assert first is not None and first.running
    site.start()
    assert site.running is not first and not first.running and not first.timer.isActive()
    assert site.running is not None
    site.running.end()


def test_a_gauge_that_falls_silent_pauses_the_test(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(bare())
    board, said = board_of(w), []
    board.message.connect(said.append)
    board.drawings_to(board.site)
    board.site.start()
    running = board.site.running
    assert running is not None
    running.timer.stop()
    running.practice.answers = False
    running.tick()
    assert "cable" in running.run.paused and any("does not answer" in s for s in said)
    running.practice.answers = True
    board.site.go_on()
    assert not running.run.paused
    running.end()


def test_rooms_units_ducts_and_hours_are_worked_on(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(air_home())
    board = board_of(w)
    fresh = board.fresh
    assert fresh.rooms.rowCount() == 8 and fresh.storey.count() == 2
    fresh.choose_room("upper.living")
    assert fresh.storey.currentText() == "Upper floor" and fresh.room_card.isVisible() and "x" not in fresh.room_card.fields
    edit = fresh.room_card.fields["people"].edit  # type: ignore[attr-defined]
    edit.selectAll()
    QTest.keyClicks(edit, "1")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    qtbot.waitUntil(w.settled)
    room = next(r for r in w.document.assessment[FLOWS].rooms if r.room.id == "upper.living")  # type: ignore[index]
    assert room.asked is not None and room.asked.value == 30
    drawn = [i for i in fresh.drawing.sketch.items if isinstance(i, Drawn) and i.id == "upper.living"]  # type: ignore[union-attr]
    assert drawn and any(i.stroke == "tide" for i in drawn)
    board.in_front(fresh.units)
    fresh.units.table.select("second")
    fresh.ducts.refresh()
    assert [r.id for r in fresh.ducts.model.rows] == ["second.1", "second.2", "second.3", "second.4"]
    fresh.template.setCurrentIndex(fresh.template.findData("extract"))
    fresh.use_template()
    qtbot.waitUntil(w.settled)
    assert w.document.home.air.units[-1].moves == "extract only" and len(fresh.units.model.rows) == 3
    fresh.units.table.select(w.document.home.air.units[-1].id)
    fresh.units.table.remove_selected()
    qtbot.waitUntil(w.settled)
    assert len(w.document.home.air.units) == 2
    board.in_front(fresh.hours)
    fresh.hours.add()
    assert w.document.home.air.hours[-1].start.value == 22  # type: ignore[union-attr]
    for part, name in (("ground.living", "passes"), ("unit.2", "diameter"), ("night", "start"), ("test", "wind"), ("leak-1", "kind"), ("zone-1", "across"), ("air", "n50")):  # fmt: skip
        w.go("air", part, name)
        assert find(w.document.home, part) is not None and board.focus_field(part, name), part
    board.drawings_to(board.drawing)
    assert board.paths.rowCount() == 5 and board.paths.isVisible() and not fresh.rooms.isVisible()
    board.paths.select("leaks")
    board.paths.opened.emit("leaks")
    assert w.center.working.isVisible() and w.center.working.trail[0].label == "Infiltration"
    w.show_step("air")
    assert {k for k, _ in board.pictures()} == {"air-paths", "flows", "flow-plan", "air-test"}


def test_arrows_are_as_wide_as_their_flow(open_home: Open) -> None:
    """On the plan of a storey, in dots: half the flow, half the width; the legend says how wide half of the largest is."""
    from nuthatch.core.assess import assess
    from nuthatch.core.climate.library import climate_for
    from nuthatch.core.views.air.drawings import WIDEST, flow_plan

    home = demo_home("osier-lane-7")
    a = assess(home, climate_for(home, None))
    rooms = {r.room.id: r for r in a[FLOWS].rooms if r.normal is not None}
    most = max(float(r.normal.value) for r in rooms.values())  # type: ignore[union-attr,arg-type]
    seen = 0
    for storey in {r.room.storey for r in rooms.values()}:
        made = flow_plan(a, storey, (700.0, 620.0))
        for item in made.items:
            if isinstance(item, Drawn) and len(item.points) == 7 and item.id in rooms:
                (x0, y0), (x1, y1) = item.points[0], item.points[-1]
                wide = ((x0 - x1) ** 2 + (y0 - y1) ** 2) ** 0.5
                assert wide == pytest.approx(WIDEST * float(rooms[item.id].normal.value) / most)  # type: ignore[union-attr,arg-type]
                seen += 1
    assert seen >= 8


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


def test_a_test_goes_on_while_units_and_colours_change_and_ends_with_its_home(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(bare())
    board = board_of(w)
    board.drawings_to(board.site)
    board.site.start()
    running = board.site.running
    assert running is not None
    running.timer.stop()
    running.speed = 20
    running.tick()
    w.appearance.units(INCH_POUND)
    try:
        again = board_of(w)
        assert again is not board and again.site.running is running and not running.run.done
        again.drawings_to(again.site)
        running.tick()
        assert again.site.main.text().startswith("Keep")
        while not any(r.state == "kept" for r in running.run.rungs):
            running.tick()
        first = w.document.home.air_tests[0].readings[-1]
        again.site.rung_clicked("rung-0")
        left = find(w.document.home, first.id)
        assert left is not None and left.left_out == "taken again" and running.run.rungs[0].state == "now"  # type: ignore[attr-defined]
        w.document.close()
        assert running.run.done and not running.running and running.practice.aim == 0.0
    finally:
        w.appearance.units("metric")


def test_the_test_before_stands_faint_beside_the_one_after(open_home: Open) -> None:
    """Its line passes through its own q50 at 50 Pa on the axes of the chart."""
    w = open_home(demo_home("weir-cottage"))
    board = board_of(w)
    board.in_front(board.tests.tests)
    board.tests.tests.table.select("air-test-2")
    board.tests.refresh()
    made = board.tests.drawing.sketch
    assert made is not None
    faint = [i for i in made.items if isinstance(i, Drawn) and i.dash and i.tip == "Before works"]
    fifty = next(i for i in made.items if isinstance(i, Drawn) and i.dash and i.stroke == "ink")
    own = [i for i in made.items if isinstance(i, Drawn) and len(i.points) == 25 and i.stroke in ("slate", "lichen")]
    assert len(faint) == 1 and len(own) == 2 and any("Before works: 1\u202f817" in i.text for i in made.items if isinstance(i, Text))
    (x0, y0), (x1, y1) = faint[0].points
    x = fifty.points[0][0]
    before = y0 + (y1 - y0) * (x - x0) / (x1 - x0)
    first, second = (board.assessment.all_of(TESTED)[i].result for i in ("air-test-1", "air-test-2"))  # type: ignore[union-attr]
    assert first is not None and second is not None
    half = second.halves[0]
    (ax, ay), (bx, by) = own[0].points[0], own[0].points[-1]
    pressures = [p.pressure for p in half.points if p.counts]
    dots = (ay - by) / (half.fit.exponent * log(max(pressures) / min(pressures)))  # of a logarithm of the flow
    after = ay + (by - ay) * (x - ax) / (bx - ax)
    assert after - before == pytest.approx(dots * log(first.q50 / half.fit.at(50.0)), abs=0.01) and after - before > 20


def test_a_chart_is_pinned_from_a_board_that_is_a_step_behind(open_home: Open) -> None:
    w = open_home(demo_home("weir-cottage"))
    board, other = board_of(w), w.board("balance")
    other.pin("balance", "", "The year")
    board.pin("air-test", "air-test-1", "Before works")
    assert [(p.picture, p.of) for p in w.document.home.pins] == [("balance", ""), ("air-test", "air-test-1")]


def test_a_test_that_is_measured_is_not_measured_again_by_a_stray_key(open_home: Open) -> None:
    w = open_home(demo_home("weir-cottage"))
    board, said = board_of(w), []
    board.message.connect(said.append)
    board.drawings_to(board.site)
    before = w.document.home
    QTest.keyClick(board.site, Qt.Key.Key_Space)
    assert board.site.running is None and w.document.home is before and "holds 17 readings" in said[-1]
    QTest.keyClick(board.site, Qt.Key.Key_Space)
    running = board.site.running
    assert running is not None and running.test == "air-test-1"
    running.end()


def test_a_file_that_proves_n50_becomes_a_test(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    """As homes kept a test before tests were parts of them."""
    w = open_home(bare("weir-cottage"))
    board = board_of(w)
    assert board.tests.of_evidence.isHidden()
    copy = tmp_path / "readings.csv"
    copy.write_bytes(EXAMPLE.read_bytes())
    w.document.desk.attach(copy, "air", "n50")
    qtbot.waitUntil(w.settled)
    board.in_front(board.tests.tests)
    assert board.tests.of_evidence.isVisible()
    board.tests.of_evidence.click()
    qtbot.waitUntil(w.settled)
    home = w.document.home
    assert len(home.air_tests) == 1 and home.air.test == home.air_tests[0].id and len(home.evidence) == 1
    assert home.air_tests[0].file == home.evidence[0].id and board.tests.of_evidence.isHidden()
