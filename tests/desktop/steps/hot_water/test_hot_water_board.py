"""Hot water on its board: draw-offs pasted, collectors added, the drawing clicked, a store typed as its sheet says, all taken back."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.model.home import Home
from nuthatch.core.sketch import Path
from nuthatch.desktop.steps.hot_water.board import HotWaterBoard
from nuthatch.desktop.window import MainWindow
from tests.simple_home import simple_home

Open = Callable[[Home], MainWindow]


def shown(w: MainWindow) -> HotWaterBoard:
    w.resize(1280, 800)
    w.go("hot-water")
    board = w.center.board("hot-water")
    assert isinstance(board, HotWaterBoard)
    return board


def test_draw_offs_collectors_and_a_store(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(simple_home())
    board = shown(w)
    start = w.document.home

    def demand() -> float:
        return float(w.document.assessment.figures["hot_water_demand"].value)  # type: ignore[union-attr,arg-type]

    before, primary = demand(), w.document.assessment.figures["primary_energy"].value  # type: ignore[union-attr]
    board.in_front(board.draw_offs)
    board.draw_offs.table.paste("Shower\t35\t40\t1\ta person\nMachine\t12\t50\t1\tthe home\n")
    qtbot.waitUntil(w.settled)
    assert [(d.litres.value, d.per) for d in board.home.water.draw_offs] == [(35, "a person"), (12, "the home")] and demand() == before
    w.document.desk.apply(SetValue(part="hot-water", field="demand", value="by draw-offs"))
    qtbot.waitUntil(w.settled)
    assert demand() != before
    board.in_front(board.solar)
    board.solar.add()
    qtbot.waitUntil(w.settled)
    ident = board.home.water.solar[0].id
    assert "the sun gives" in board.sub.text() and w.document.assessment.figures["primary_energy"].value < primary  # type: ignore[union-attr,operator]
    assert board.drawing.sketch is not None and ident in {i.id for i in board.drawing.sketch.items if isinstance(i, Path)}
    board.in_front(board.months)
    names = [board.months.item(n, 0).text() for n in range(board.months.rowCount())]  # type: ignore[union-attr]
    assert names[-2:] == ["From the sun", "By sources"]
    board.drawing.clicked.emit(ident)
    assert board.work.lists.current is board.solar
    assert w.document.desk.entered("store", "loss", "1.5 kWh/24h") == ""
    assert w.document.home.water.stores[0].loss.value == pytest.approx(1500 / 24 / 45)
    source = next(s for s in board.home.sources if s.water_share is not None and s.water_share.value > 0)
    board.drawing.clicked.emit(source.id)
    assert w.step == "heat-power"
    for _ in range(4):
        w.undo()
    qtbot.waitUntil(w.settled)
    assert w.document.home == start


def test_nothing_drawn_says_so(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(simple_home())
    board = shown(w)
    w.document.desk.apply(SetValue(part="hot-water", field="litres", value=None))
    qtbot.waitUntil(w.settled)
    assert board.sub.text().startswith("Needs") and board.focus_field("hot-water", "draw_offs") and board.focus_field("hot-water", "solar")
