"""A pipe drawn on the plan of a storey: its length follows, a corner dragged, its way drawn anew, all taken back."""

from __future__ import annotations

from collections.abc import Callable
from math import hypot

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue, declared
from nuthatch.core.model.home import Home
from nuthatch.core.sketch import Text
from nuthatch.desktop.steps.hot_water.board import HotWaterBoard
from nuthatch.desktop.window import MainWindow
from tests.plan_home import plan_home
from tests.simple_home import simple_home

Open = Callable[[Home], MainWindow]


def board_of(w: MainWindow) -> HotWaterBoard:
    w.resize(1280, 800)
    w.go("hot-water")
    board = w.center.board("hot-water")
    assert isinstance(board, HotWaterBoard)
    return board


def click(board: HotWaterBoard, x: float, y: float) -> None:
    view = board.pipes.plan
    at = view.on_screen((x, y))
    point = QPoint(round(at.x()), round(at.y()))
    QTest.mouseMove(view, point)
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, point)


def test_a_pipe_drawn_on_the_plan(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(plan_home())
    board = board_of(w)
    start = w.document.home
    board.work.drawings.show_widget(board.pipes.plan)
    qtbot.waitUntil(lambda: board.pipes.plan.frame is not None)
    board.pipes.draw_button.click()
    assert board.pipes.plan.tool == "pipe"
    click(board, 1.0, 1.0)
    click(board, 4.0, 1.0)
    click(board, 4.0, 3.0)
    QTest.keyClick(board.pipes.plan, Qt.Key.Key_Return)
    qtbot.waitUntil(w.settled)
    assert len(board.home.water.runs) == len(start.water.runs) + 1 and board.pipes.plan.tool == ""
    run = board.home.water.runs[-1]
    at = [(c.x.value, c.y.value) for c in run.corners]
    assert len(at) == 3 and at[0] == pytest.approx((1.0, 1.0), abs=0.1) and at[2] == pytest.approx((4.0, 3.0), abs=0.1)
    drawn = sum(hypot(b[0] - a[0], b[1] - a[1]) for a, b in zip(at[:-1], at[1:], strict=True))
    assert board.pipes.list.table.current_id() == run.id and run.storey == board.pipes.storey.currentData()
    row = next(n for n in range(board.pipes.list.model.rowCount()) if board.pipes.list.model.rows[n].id == run.id)
    assert board.pipes.list.model.index(row, 2).data() == f"{drawn:.2f}\u00a0m"
    handle = next(h for h in board.pipes.plan.sketch.handles if h.id == run.corners[2].id)  # type: ignore[union-attr]
    board.pipes.plan.dragged.emit(handle, (6.0, 3.0))
    board.pipes.plan.dropped.emit(handle)
    qtbot.waitUntil(w.settled)
    assert board.home.water.runs[-1].corners[2].x.value == pytest.approx(6.0)
    board.pipes.way_button.click()
    click(board, 1.0, 1.0)
    click(board, 3.0, 1.0)
    QTest.keyClick(board.pipes.plan, Qt.Key.Key_Return)
    qtbot.waitUntil(w.settled)
    assert len(board.home.water.runs) == len(start.water.runs) + 1 and len(board.home.water.runs[-1].corners) == 2
    board.pipes.plan.clicked.emit(run.id)
    assert board.work.lists.current is board.pipes.list and board.focus_field(run.corners[0].id, "x")
    for _ in range(3):
        w.undo()
    qtbot.waitUntil(w.settled)
    assert w.document.home == start


def test_one_point_is_no_pipe_and_without_plans_it_is_said(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(simple_home())
    board = board_of(w)
    assert not board.pipes.draw_button.isEnabled()
    words = " ".join(i.text for i in board.pipes.plan.sketch.items if isinstance(i, Text)) if board.pipes.plan.sketch else ""
    board.work.drawings.show_widget(board.pipes.plan)
    qtbot.waitUntil(lambda: board.pipes.plan.sketch is not None)
    words = " ".join(i.text for i in board.pipes.plan.sketch.items if isinstance(i, Text))  # type: ignore[union-attr]
    assert "storey plans" in words


def test_stores_and_months_on_the_board(open_home: Open, qtbot: QtBot) -> None:
    """A store typed as its sheet says it in Btu; a month away; the drawing's station leads to the list."""
    w = open_home(simple_home())
    board = board_of(w)
    board.in_front(board.stores)
    board.stores.add()
    ident = board.home.water.stores[-1].id
    assert board.home.water.stores[-1].volume is not None and board.home.water.stores[-1].loss is None
    assert w.document.desk.entered(ident, "loss", "7.58 Btu/(h·°F)") == ""
    qtbot.waitUntil(w.settled)
    assert board.home.water.stores[-1].loss.value == pytest.approx(4.0, abs=2e-3)
    board.drawing.clicked.emit("circulation")
    assert board.work.lists.current is board.pipes.list and board.pipes.list.table.current_id() == "ring"
    board.in_front(board.away)
    board.away.add()
    month = board.home.water.months[0]
    before = w.document.assessment.figures["hot_water_demand"].value  # type: ignore[union-attr]
    w.document.desk.apply(SetValue(part=month.id, field="share", value=declared(0.0)))
    qtbot.waitUntil(w.settled)
    assert w.document.assessment.figures["hot_water_demand"].value < before  # type: ignore[union-attr, operator]
    for field in ("stores", "runs", "months"):
        assert board.focus_field("hot-water", field)
