"""The climate on its board: library and map, folders, files dropped, two side by side, months typed, pasted and taken back."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nuthatch.core.climate.calendar import NAMES
from nuthatch.core.climate.climate import Climate, climate_from_bytes
from nuthatch.core.library import demo_home, library_climate
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Path as Line
from nuthatch.core.sketch import Text
from nuthatch.core.units import INCH_POUND, METRIC
from nuthatch.core.views.climate_drawn import LOOKS
from nuthatch.desktop import settings, sun_asked
from nuthatch.desktop.steps.site.board import SiteBoard
from nuthatch.desktop.window import MainWindow
from tests.desktop.conftest import shared_window
from tests.simple_home import g, simple_home

Open = Callable[[Home], MainWindow]


@pytest.fixture(scope="module")
def shared() -> Iterator[MainWindow]:
    settings.change(weather_folders=())
    with shared_window() as window:
        yield window


def board_of(w: MainWindow, qtbot: QtBot) -> SiteBoard:
    w.resize(1400, 860)
    w.go("site")
    qtbot.waitUntil(w.settled, timeout=60_000)
    board = w.center.board("site")
    assert isinstance(board, SiteBoard)
    return board


def heating(w: MainWindow) -> float:
    a = w.document.assessment
    assert a is not None
    return float(a.figures["heating_demand"].value)  # type: ignore[arg-type]


def words(view: object) -> str:
    return " ".join(i.text for i in view.sketch.items if isinstance(i, Text))  # type: ignore[attr-defined]


def test_a_climate_is_picked_on_the_map_and_taken_back(shared: MainWindow, qtbot: QtBot) -> None:
    w = shared
    board = board_of(w, qtbot)
    climates, before = board.climates, heating(w)
    board.work.drawings.show_widget(climates.map)
    QTest.qWait(50)
    climates.map.zoom(4.0)
    for _ in range(10):  # nearer, until the two that lie close are told apart
        if climates.map.point_of("shipped:hallin-fell") is not None:
            break
        climates.map.zoom(1.6, climates.map.point_of("shipped:marrowby-quay"))
    place = climates.map.point_of("shipped:hallin-fell")
    assert place is not None
    QTest.mouseClick(climates.map, Qt.MouseButton.LeftButton, pos=place.toPoint())
    assert climates.chosen == "shipped:hallin-fell" and climates.card.isVisible() and board.work.lists.current is climates.table
    assert climates.table.current_id() == "shipped:hallin-fell", "the list is there as soon as it comes in front"
    assert "made up" in climates.card.facts.text() and "from the site" in climates.card.facts.text()
    QTest.mouseClick(climates.card.use_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: w.settled() and w.document.home.site.climate.name == "Hallin Fell", timeout=60_000)
    assert heating(w) > 1.5 * before and climates.card.use_button.text() == "In use"
    w.undo()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert heating(w) == pytest.approx(before)


def test_the_map_is_dragged_zoomed_and_fitted(shared: MainWindow, qtbot: QtBot) -> None:
    board = board_of(shared, qtbot)
    view = board.climates.map
    board.work.drawings.show_widget(view)
    view.fit()
    start = view.window_shown
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=QPoint(300, 40))
    for x in (280, 240, 200):
        QTest.mouseMove(view, QPoint(x, 60))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPoint(200, 60))
    assert view.window_shown.longitude > start.longitude and view.window_shown.latitude > start.latitude
    QTest.keyClick(view, Qt.Key.Key_Plus)
    assert view.window_shown.span < start.span
    QTest.keyClick(view, Qt.Key.Key_Right)
    QTest.keyClick(view, Qt.Key.Key_0)
    assert view.window_shown == start


def test_folders_are_listed_searched_and_taken_away(shared: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    board = board_of(shared, qtbot)
    climates = board.climates
    (tmp_path / "own.epw").write_bytes(library_climate("verrin-plain").replace(b"Verrin Plain", b"Own Place"))
    (tmp_path / "bad.epw").write_text("LOCATION,x\n")
    climates.add_folder(tmp_path)
    qtbot.waitUntil(lambda: not board.reading.running, timeout=20_000)
    names = [climates.table.item(n, 0).text() for n in range(climates.table.rowCount())]  # type: ignore[union-attr]
    assert "Own Place" in names and names[-1] == "bad.epw", "what cannot be read stands last, with its reason"
    assert "entries" in climates.table.item(len(names) - 1, 1).text()  # type: ignore[union-attr]
    climates.words.setText("own")
    qtbot.waitUntil(lambda: climates.table.rowCount() == 1, timeout=5000)
    climates.choose(str(tmp_path / "own.epw"))
    climates.card.beside_button.click()
    qtbot.waitUntil(lambda: board.settled and climates.beside is not None, timeout=20_000)
    assert board.work.drawings.current is climates.drawing
    for n in range(len(LOOKS)):
        climates.look.setCurrentIndex(n)

    assert "Own Place" in words(climates.drawing) and "Marrowby Quay" in words(climates.drawing)
    board.in_front(board.facts)
    assert not board.facts.isColumnHidden(2) and board.facts.horizontalHeaderItem(2).text() == "Own Place"  # type: ignore[union-attr]
    climates.alone.click()
    assert climates.beside is None and board.facts.isColumnHidden(2) and "Own Place" not in words(climates.drawing)
    climates.words.clear()
    climates.drop_folder(str(tmp_path))
    board.in_front(climates.table)
    qtbot.waitUntil(lambda: not board.reading.running, timeout=20_000)
    assert settings.load().weather_folders == () and all(o.key for o in climates.offers)


def dropped(board: SiteBoard, path: Path) -> None:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    event = QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    board.dropEvent(event)


def test_a_file_and_a_folder_are_dropped(shared: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    w = shared
    board = board_of(w, qtbot)
    (tmp_path / "own.epw").write_bytes(library_climate("hallin-fell").replace(b"Hallin Fell", b"Dropped"))
    dropped(board, tmp_path / "own.epw")
    qtbot.waitUntil(lambda: w.document.home.site.climate.name == "Dropped" and w.settled(), timeout=60_000)
    assert board.climates.used_id() == "own" and any(o.country == "in this home" for o in board.climates.offers)
    w.undo()
    qtbot.waitUntil(w.settled, timeout=60_000)
    dropped(board, tmp_path)
    qtbot.waitUntil(lambda: not board.reading.running, timeout=20_000)
    assert settings.load().weather_folders == (str(tmp_path),)
    said: list[str] = []
    board.message.connect(said.append)
    big = tmp_path / "huge.epw"
    big.write_bytes(b"LOCATION,huge,-,-,x,1,50,10,0,0\n")
    with open(big, "r+b") as stream:
        stream.truncate(4 * 1024**3)
    dropped(board, big)
    assert said and "far too large" in said[-1] and w.document.home.site.climate.name == "Marrowby Quay"
    board.climates.drop_folder(str(tmp_path))
    dropped(board, tmp_path / "notes.txt")
    assert w.document.home.site.climate.name == "Marrowby Quay"
    qtbot.waitUntil(lambda: not board.reading.running, timeout=20_000)


def test_twelve_months_are_pasted_into_a_home_without_a_file(open_home: Open, qtbot: QtBot, marrowby) -> None:  # type: ignore[no-untyped-def]
    home = simple_home()
    w = open_home(replace(home, site=replace(home.site, climate=None, latitude=g(54.2))))
    board = board_of(w, qtbot)
    months = board.climates.months
    board.in_front(months)
    rows = []
    for m, name in enumerate(NAMES):
        values = [marrowby.temperature[m], *marrowby.on_planes[:, m]]
        rows.append("\t".join([name[:3], *(f"{v:.2f}".replace(".", ",") for v in values)]))
    months.table.paste("\n".join(rows[:11]))
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert w.document.assessment is not None and w.document.assessment.figures["heating_demand"].value is None
    assert any("December" in q.text for q in w.document.assessment.questions)
    months.table.paste_new(rows[11])
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert [m.month for m in w.document.home.site.months] == list(NAMES)
    with_file = open_home(simple_home())
    assert heating(w) == pytest.approx(heating(with_file), rel=5e-3)
    board.work.drawings.show_widget(board.climates.drawing)
    board.climates.look.setCurrentIndex(1)
    assert "hours are not known" in words(board.climates.drawing)
    w.undo()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert len(w.document.home.site.months) == 11


def test_one_month_is_corrected_by_hand(shared: MainWindow, qtbot: QtBot) -> None:
    w = shared
    board = board_of(w, qtbot)
    before, months = heating(w), board.climates.months
    board.in_front(months)
    months.add()
    ident = months.table.current_id()
    w.document.desk.typed(ident, "temperature", 0.0)
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert heating(w) > before and w.document.home.site.months[0].month == "January"
    w.undo()
    w.undo()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert heating(w) == pytest.approx(before) and w.document.home.site.months == ()


def test_in_inch_pound_distances_are_miles(shared: MainWindow, qtbot: QtBot) -> None:
    w = shared
    w.appearance.units(INCH_POUND)
    try:
        board = board_of(w, qtbot)
        board.in_front(board.climates.table)
        board.climates.choose("shipped:hallin-fell")
        assert "20\xa0mi from the site" in board.climates.card.facts.text() and "034\xa0ft above" in board.climates.card.facts.text()
        board.work.drawings.show_widget(board.climates.drawing)
        assert "°F" in words(board.climates.drawing) and "kBtu/ft²" in words(board.climates.drawing)
    finally:
        w.appearance.units(METRIC)


def test_a_block_is_drawn_on_a_sheet_that_was_scaled(open_home: Open, qtbot: QtBot, tmp_path: Path) -> None:
    from PyQt6.QtGui import QImage

    w = open_home(demo_home("weir-cottage"))
    board = board_of(w, qtbot)
    around = board.surroundings
    image = QImage(200, 200, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.gray)
    image.save(str(tmp_path / "map.png"))
    file = w.document.desk.taken(tmp_path / "map.png")
    from nuthatch.core.edits import plan_files

    assert not isinstance(file, str)
    assert w.document.desk.apply(plan_files.sheet_laid(w.document.home, "site", file)) == ""
    board.present(w.document.desk.snapshot)
    board.work.drawings.show_widget(around.plan)
    QTest.qWait(50)
    assert around.plan.sheet is not None
    wide = w.document.home.site.sheet.width.value

    def click(east: float, north: float) -> None:
        at = around.plan.on_screen((east, north)).toPoint()
        QTest.mouseMove(around.plan, at)
        QTest.mouseClick(around.plan, Qt.MouseButton.LeftButton, pos=at)

    around.draw_with("scale")
    click(-10.0, 0.0)
    click(10.0, 0.0)
    assert around.length.isVisible()
    around._set_scale(30.0)
    assert w.document.home.site.sheet.width.value == pytest.approx(1.5 * wide, rel=0.02)
    around._scale_typed()
    assert not around.length.isVisible()
    number = len(w.document.home.site.objects)
    QTest.keyClick(around.plan, Qt.Key.Key_B)
    click(-16.0, -14.0)
    click(-8.0, -14.0)
    click(-8.0, -18.0)
    made = w.document.home.site.objects[-1]
    assert len(w.document.home.site.objects) == number + 1 and around.selected == made.id
    assert made.length.value == pytest.approx(8.0, abs=0.3) and made.depth.value == pytest.approx(4.0, abs=0.3)
    around.draw_with("tree")
    click(14.0, 10.0)
    around.plan.stop()
    assert w.document.home.site.objects[-1].kind == "tree"
    around.plan.setFocus()
    around.plan.unwanted.emit()
    assert w.document.home.site.objects[-1].id == made.id
    w.undo()
    w.undo()
    w.undo()
    assert len(w.document.home.site.objects) == number
    qtbot.waitUntil(w.settled, timeout=60_000)


def test_a_horizon_is_drawn_dragged_read_and_taken_back(shared: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    w = shared
    board = board_of(w, qtbot)
    around, before = board.surroundings, heating(w)
    view = around.horizon_view
    board.work.drawings.show_widget(view)
    QTest.qWait(50)
    assert view.panorama is not None
    x, y = view.panorama.at(180.0, 20.0)
    QTest.mouseDClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
    (point,) = w.document.home.site.horizon
    assert point.azimuth.value == pytest.approx(180, abs=1) and point.height.value == pytest.approx(20, abs=0.5)
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert heating(w) > before, "one point is a horizon all round"
    place = view.point_of_handle(point.id)
    assert place is not None
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=place.toPoint())
    for dy in (10, 30):
        QTest.mouseMove(view, place.toPoint() + QPoint(0, dy))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=place.toPoint() + QPoint(0, 30))
    assert w.document.home.site.horizon[0].height.value < 18
    view.current = point.id
    QTest.keyClick(view, Qt.Key.Key_Delete)
    assert w.document.home.site.horizon == ()
    (tmp_path / "hill.csv").write_text("direction;height\n0;3\n120;8\n240;5\n")
    around.take_table(tmp_path / "hill.csv")
    assert len(w.document.home.site.horizon) == 3
    said: list[str] = []
    board.message.connect(said.append)
    (tmp_path / "bad.csv").write_text("0;3\n10;steep\n")
    around.take_table(tmp_path / "bad.csv")
    around.take_table(tmp_path / "none.csv")
    assert "row 2" in said[0] and "none.csv" in said[1] and len(w.document.home.site.horizon) == 3
    while w.document.home.site.horizon:
        w.undo()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert heating(w) == pytest.approx(before)
    assert any(isinstance(i, Line) for i in view.sketch.items)  # type: ignore[union-attr]
    assert QApplication.clipboard() is not None


def no_sun(climate: Climate) -> None:
    raise ArithmeticError("no sun")


def test_a_climate_whose_sun_cannot_be_worked_out_says_so(shared: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sun_asked, "on_planes", no_sun)
    board = board_of(shared, qtbot)
    climates = board.climates
    climates.look.setCurrentIndex(0)
    board.in_front(board.facts)
    climates._stand_beside(climate_from_bytes(library_climate("hallin-fell")))
    assert words(climates.drawing) == "computing …"
    qtbot.waitUntil(lambda: board.settled, timeout=60_000)
    assert words(climates.drawing) == "the sun of Hallin Fell could not be worked out"
    assert "not known yet" in [board.facts.item(n, 2).text() for n in range(board.facts.rowCount())]  # type: ignore[union-attr]
    assert climates.sun._worker.pid is None, "no process is left waiting"
    climates._look_alone()
    assert "air, °C" in words(climates.drawing)
