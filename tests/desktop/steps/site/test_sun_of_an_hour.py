"""The sun of an hour on the boards: dragged on the skyline, clicked in the strips, its shadows on plan and solid; what takes the sun."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from nuthatch.core.sketch import Path, Text
from nuthatch.core.views.openings.sun_drawn import SUN
from nuthatch.core.views.shadows import Hour
from nuthatch.desktop.steps.openings.board import OpeningsBoard
from nuthatch.desktop.steps.shape.board import ShapeBoard
from nuthatch.desktop.window import MainWindow
from tests.desktop.conftest import shared_window


@pytest.fixture(scope="module")
def shared() -> Iterator[MainWindow]:
    with shared_window() as window:
        yield window


def sunny(w: MainWindow, qtbot: QtBot) -> OpeningsBoard:
    w.resize(1500, 900)
    w.go("openings", "w-01", "overhang")
    board = w.center.board("openings")
    assert isinstance(board, OpeningsBoard)
    board.work.drawings.show_widget(board.sunny.strips.parentWidget())  # type: ignore[arg-type]
    qtbot.waitUntil(w.settled, timeout=60_000)
    return board


def dark(view) -> int:  # type: ignore[no-untyped-def]
    return sum(1 for i in view.sketch.items if isinstance(i, Path) and i.fill in ("stone", "slate_pale") and not i.stroke)


def test_the_sun_is_dragged_and_its_shadow_follows(shared: MainWindow, qtbot: QtBot) -> None:
    w = shared
    board = sunny(w, qtbot)
    s = board.sunny
    s._set_hour(Hour(79, 14))
    assert s.hour == Hour(79, 14) and dark(s.solid) > 0 and "14:30" in s.reading.text()
    place = s.seen.point_of_handle(SUN)
    assert place is not None
    at = place.toPoint()
    steps = len(w.document.session.past) if hasattr(w.document.session, "past") else None
    QTest.mousePress(s.seen, Qt.MouseButton.LeftButton, pos=at)
    for dx in (-20, -60, -120):
        QTest.mouseMove(s.seen, at + QPoint(dx, 0))
    QTest.mouseRelease(s.seen, Qt.MouseButton.LeftButton, pos=at + QPoint(-120, 0))
    assert s.hour.hour < 13 and s.hour.day == 79 and f"{s.hour.hour}:30" in s.reading.text()
    assert steps is None or len(w.document.session.past) == steps, "the home is what it was"
    place = s.seen.point_of_handle(SUN)
    assert place is not None
    at = place.toPoint()
    QTest.mousePress(s.seen, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(s.seen, at + QPoint(0, -20))
    QTest.mouseMove(s.seen, at + QPoint(0, -50))
    QTest.mouseRelease(s.seen, Qt.MouseButton.LeftButton, pos=at + QPoint(0, -50))
    assert 100 < s.hour.day <= 172, "higher is nearer to midsummer"


def test_an_hour_is_clicked_and_the_heat_shown(shared: MainWindow, qtbot: QtBot) -> None:
    board = sunny(shared, qtbot)
    s = board.sunny
    place = s.strips.point_of("hour:9:11")
    assert place is not None
    QTest.mouseClick(s.strips, Qt.MouseButton.LeftButton, pos=place.toPoint())
    assert s.hour == Hour(288, 11)
    fills = {i.id: i.fill for i in s.strips.sketch.items if isinstance(i, Path) and i.id.startswith("hour:")}  # type: ignore[union-attr]
    s.heat.setChecked(True)
    heat = {i.id: i.fill for i in s.strips.sketch.items if isinstance(i, Path) and i.id.startswith("hour:")}  # type: ignore[union-attr]
    assert heat.keys() == fills.keys() and heat != fills
    assert "beam let in" in " ".join(i.text for i in s.strips.sketch.items if isinstance(i, Text))  # type: ignore[union-attr]
    s.heat.setChecked(False)


def test_what_takes_the_sun_is_listed_and_drawn(shared: MainWindow, qtbot: QtBot) -> None:
    w = shared
    board = sunny(w, qtbot)
    board.work.lists.show_widget(board.suns)
    qtbot.waitUntil(lambda: w.settled() and len(board.sunny.taking.rows) == len(w.document.home.openings), timeout=60_000)
    column = board.suns.columnCount() - 1
    assert "%" in board.suns.item(0, column).text()  # type: ignore[union-attr]
    drawn = " ".join(i.text for i in board.sunny.taken_view.sketch.items if isinstance(i, Text))  # type: ignore[union-attr]
    assert "What takes the winter sun" in drawn and "No. 5" in drawn and "kWh" in drawn


def test_the_hour_is_the_same_on_the_site_and_on_the_solid(shared: MainWindow, qtbot: QtBot) -> None:
    w = shared
    board = sunny(w, qtbot)
    board.sunny._set_hour(Hour(79, 15))
    w.go("site")
    qtbot.waitUntil(w.settled, timeout=60_000)
    around = w.center.board("site").surroundings
    assert (around.day.value(), around.hour.value()) == (79, 15)
    w.go("shape")
    qtbot.waitUntil(w.settled, timeout=60_000)
    shape = w.center.board("shape")
    assert isinstance(shape, ShapeBoard)
    shape.plans.table.show_large(3)
    before = dark(shape.plans.table.solid)
    shape.looks.shadows.setChecked(True)
    assert dark(shape.plans.table.solid) > before
    shape.looks.shadows.setChecked(False)
    assert dark(shape.plans.table.solid) == before


def test_an_opening_without_sun_says_why(shared: MainWindow, qtbot: QtBot) -> None:
    board = sunny(shared, qtbot)
    board.rows.table.clearSelection()
    board.sunny.draw(None)
    assert not board.sunny.strips.isVisible() and not board.sunny.reading.isVisible()
    board.sunny.draw(board.home.openings[0])
    assert board.sunny.strips.isVisible()
