"""A heat pump on its board: made of a source by its kind, its sheet pasted, its performance read, all taken back."""

from __future__ import annotations

from collections.abc import Callable

from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import Batch, SetValue, declared
from nuthatch.core.model.home import Home
from nuthatch.core.sketch import Path, Text
from nuthatch.desktop.steps.heat_power.board import HeatPowerBoard
from nuthatch.desktop.window import MainWindow
from tests.simple_home import simple_home

Open = Callable[[Home], MainWindow]


def words(view: object) -> str:
    return " ".join(i.text for i in view.sketch.items if isinstance(i, Text))  # type: ignore[attr-defined]


def test_a_source_becomes_a_heat_pump_by_its_sheet(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(simple_home())
    w.resize(1280, 800)
    w.go("heat-power")
    board = w.center.board("heat-power")
    assert isinstance(board, HeatPowerBoard)
    board.work.drawings.show_widget(board.pump)
    assert "data sheet" in words(board.pump) and not board.sheet.add_button.isEnabled()
    source = board.home.sources[0].id
    before = w.document.assessment.figures["primary_energy"].value  # type: ignore[union-attr]
    w.document.desk.apply(
        Batch(
            label="a heat pump",
            changes=(
                SetValue(part=source, field="kind", value="heat pump"),
                SetValue(part=source, field="efficiency", value=None),
                SetValue(part=source, field="flow_design", value=declared(38.0)),
            ),
        )
    )
    qtbot.waitUntil(w.settled)
    board.sources.table.select(source)
    board.in_front(board.sheet)
    assert board.sheet.add_button.isEnabled()
    board.sheet.table.paste("7\t35\t4,6\n2\t35\t3,6\n-7\t35\t2,9\n")
    qtbot.waitUntil(w.settled)
    points = board.home.sources[0].points
    assert [(p.source.value, p.flow.value, p.cop.value) for p in points] == [(7, 35, 4.6), (2, 35, 3.6), (-7, 35, 2.9)]
    assert sum(1 for i in board.pump.sketch.items if isinstance(i, Path) and i.id.startswith("bin:")) > 5  # type: ignore[union-attr]
    assert board.by_month.rowCount() == 4 and "COP, heating" in board.by_month.item(0, 0).text()  # type: ignore[union-attr]
    assert w.document.assessment.figures["primary_energy"].value != before  # type: ignore[union-attr]
    assert board.focus_field(points[1].id, "cop") and board.work.lists.current is board.sheet
    board.sheet.add()
    assert len(board.home.sources[0].points) == 4
    w.undo()
    w.undo()
    w.undo()
    qtbot.waitUntil(w.settled)
    assert w.document.assessment.figures["primary_energy"].value == before  # type: ignore[union-attr]
    assert board.by_month.rowCount() == 0
