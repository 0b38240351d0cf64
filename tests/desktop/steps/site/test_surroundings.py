"""Surroundings on the site board: dragged, added, pasted, undone; the hour of the shadows; a home without a climate."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Path, Text
from nuthatch.desktop.steps.openings.board import OpeningsBoard
from nuthatch.desktop.steps.site.board import SiteBoard
from nuthatch.desktop.window import MainWindow
from tests.simple_home import g, simple_home

Open = Callable[[Home], MainWindow]


def shown(w: MainWindow, qtbot: QtBot) -> SiteBoard:
    w.resize(1400, 860)
    w.go("site")
    qtbot.waitUntil(w.settled, timeout=60_000)
    board = w.center.board("site")
    assert isinstance(board, SiteBoard)
    board.work.drawings.show_widget(board.surroundings.plan)
    return board


def heating(w: MainWindow) -> float:
    a = w.document.assessment
    assert a is not None
    return float(a.figures["heating_demand"].value)  # type: ignore[arg-type]


def test_a_tree_is_dragged_with_live_margins_and_undone(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    plan, before = board.surroundings.plan, heating(w)
    place = plan.point_of_handle("no-5")
    assert place is not None
    QTest.mousePress(plan, Qt.MouseButton.LeftButton, pos=place.toPoint())
    for step in (20, 60, 110):
        QTest.mouseMove(plan, (place + QPointF(-step, -step * 0.3)).toPoint())
    QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, pos=(place + QPointF(-110, -33)).toPoint())
    qtbot.waitUntil(w.settled, timeout=60_000)
    moved = next(o for o in w.document.home.site.objects if o.id == "no-5")
    assert moved.east.value < 10 and moved.north.value > -14 and heating(w) > before  # type: ignore[union-attr]
    assert board.surroundings.objects.table.current_id() == "no-5"
    w.undo()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert heating(w) == pytest.approx(before) and next(o for o in w.document.home.site.objects if o.id == "no-5").east.value == 13.5  # type: ignore[union-attr]


def test_shadows_follow_the_hour(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    around = shown(w, qtbot).surroundings

    def shadow() -> set[tuple[tuple[float, float], ...]]:
        sketch = around.plan.sketch
        assert sketch is not None
        return {i.points for i in sketch.items if isinstance(i, Path) and i.id == "shadow"}

    def said() -> str:
        assert around.plan.sketch is not None
        return " ".join(i.text for i in around.plan.sketch.items if isinstance(i, Text))

    at_two = shadow()
    around.hour.setValue(10)
    assert at_two and shadow() and shadow() != at_two and "10:30" in said() and "high" in said()
    around.hour.setValue(1)
    assert not shadow() and "the sun is down" in said()


def test_a_neighbour_a_sector_and_a_horizon_from_nothing(open_home: Open, qtbot: QtBot) -> None:
    home = simple_home()
    w = open_home(replace(home, openings=tuple(replace(o, shade_winter=None, shade_summer=None) for o in home.openings)))
    board = shown(w, qtbot)
    around, free = board.surroundings, heating(w)
    board.in_front(around.objects)
    around.objects.add()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert len(w.document.home.site.objects) == 1 and heating(w) > free
    board.in_front(around.ring)
    around.ring.add()
    around.ring.add()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert [s.start.value for s in w.document.home.site.ring] == [0, 45]  # type: ignore[union-attr]
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setText("90\t5\n180\t25\n270\t5\n")
    board.in_front(around.horizon)
    around.horizon.table.paste_new(clipboard.text())
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert [(p.azimuth.value, p.height.value) for p in w.document.home.site.horizon] == [(90, 5), (180, 25), (270, 5)]  # type: ignore[union-attr]
    assert heating(w) > free
    around.plan.clicked.emit(w.document.home.site.objects[0].id)
    assert around.selected == w.document.home.site.objects[0].id


def test_a_home_without_a_climate_has_its_site_plan_all_the_same(open_home: Open, qtbot: QtBot) -> None:
    home = simple_home()
    w = open_home(replace(home, site=replace(home.site, climate=None)))
    board = shown(w, qtbot)
    assert board.surroundings.plan.sketch is not None
    for view in (board.climates.drawing, board.climates.map, board.surroundings.horizon_view):
        board.work.drawings.show_widget(view)
        qtbot.waitUntil(w.settled, timeout=20_000)
        assert view.sketch is not None
    assert "no climate" in " ".join(i.text for i in board.climates.drawing.sketch.items if isinstance(i, Text))  # type: ignore[union-attr]


def test_the_sun_of_an_opening_on_its_board(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.resize(1400, 860)
    w.go("openings", "w-01", "overhang")
    qtbot.waitUntil(w.settled, timeout=60_000)
    board = w.center.board("openings")
    assert isinstance(board, OpeningsBoard)
    board.work.drawings.show_widget(board.sunny.strips.parentWidget())  # type: ignore[arg-type]
    board.work.lists.show_widget(board.suns)
    assert board.sunny.strips.sketch is not None and {"hour:5:12"} <= {getattr(i, "id", "") for i in board.sunny.strips.sketch.items}
    assert board.sunny.seen.sketch is not None and "birch" in {getattr(i, "id", "") for i in board.sunny.seen.sketch.items}
    assert board.suns.rowCount() == len(w.document.home.openings)
    before = board.suns.item(0, 2).text()  # type: ignore[union-attr]
    w.document.desk.apply(SetValue(part="w-01", field="overhang", value=g(1.5)))
    w.go("openings", "w-01", "overhang")
    qtbot.waitUntil(w.settled, timeout=60_000)
    after = board.suns.item(0, 2).text()  # type: ignore[union-attr]
    assert float(after.replace(",", ".")) < float(before.replace(",", "."))
    w.undo()
