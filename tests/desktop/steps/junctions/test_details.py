"""Details on the junctions board: drawn from what meets, read from a file, their blocks worked on with live margins."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.dossier.report import to_html
from nuthatch.core.exchange.summary import as_data
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import SOLVED
from nuthatch.core.library import DATA, demo_home
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Path as Drawn
from nuthatch.desktop.window import MainWindow
from tests.desktop.steps.junctions.test_board import shown
from tests.simple_home import g

Open = Callable[[Home], MainWindow]


def solved(w: MainWindow, ident: str) -> Solved:
    a = w.document.assessment
    assert a is not None
    found = a.all_of(SOLVED)[ident]
    assert isinstance(found, Solved)
    return found


def bare() -> Home:
    """Osier Lane 7 without its details."""
    home = demo_home("osier-lane-7")
    rows = tuple(replace(j, detail="", psi=j.psi or g(-0.05), tier="typical") if j.detail else j for j in home.junctions)
    return replace(home, details=(), junctions=rows)


def test_a_detail_is_drawn_from_what_meets_and_undone(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(bare())
    board = shown(w, qtbot)
    before = w.document.assessment.figures["heating_demand"].value  # type: ignore[union-attr]
    board.select("j-04")
    assert board.facts.draw.text() == "Draw its detail"
    board.facts.draw.click()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert board.work.drawings.current is board.details.sheet and board.details.current == "detail-1"
    of = solved(w, "detail-1")
    assert find(w.document.home, "j-04").detail == "detail-1" and of.psi_external == pytest.approx(-0.025, abs=0.003)  # type: ignore[union-attr]
    assert board.details.view.sketch is not None and any(
        isinstance(i, Drawn) and i.stroke == "tide" for i in board.details.view.sketch.items
    )
    assert "f_Rsi" in board.details.says.text() and board.facts.draw.text() == "Open its detail"
    after = w.document.assessment.figures["heating_demand"].value  # type: ignore[union-attr]
    assert after < before  # type: ignore[operator]
    w.undo()
    qtbot.waitUntil(w.settled)
    assert w.document.home.details == () and w.document.assessment.figures["heating_demand"].value == pytest.approx(before)  # type: ignore[union-attr]


def test_lambda_of_a_block_moves_psi_and_margins(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    board.details.show("detail-1")
    before, heating = solved(w, "detail-1"), w.document.assessment.figures["heating_demand"].value  # type: ignore[union-attr]
    wool = next(b for b in w.document.home.details[0].blocks if "wool" in b.name.lower())
    board.in_front(board.details.blocks)
    board.details.blocks.table.select(wool.id)
    board.apply(SetValue(part=wool.id, field="conductivity", value=g(0.5)))
    qtbot.waitUntil(w.settled, timeout=60_000)
    after = solved(w, "detail-1")
    assert after.psi_external > before.psi_external + 0.1 and after.f_rsi < before.f_rsi  # type: ignore[operator]
    assert w.document.assessment.figures["heating_demand"].value > heating  # type: ignore[union-attr, operator]
    board.details.view.clicked.emit("block.0")
    assert board.details.blocks.table.current_id() == w.document.home.details[0].blocks[0].id


def test_a_detail_comes_from_a_file_and_goes_into_one(open_home: Open, qtbot: QtBot, tmp_path: Path) -> None:
    w = open_home(bare())
    board, said = shown(w, qtbot), []
    board.message.connect(said.append)
    board.details.read(DATA / "examples" / "slab-edge.json")
    assert board.details.reading.waiting.isVisibleTo(board)
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert w.document.home.details[0].name == "Wall on slab, front and back" and solved(w, "detail-1").grid.enough
    board.details.write(tmp_path / "own.json")
    again = json.loads((tmp_path / "own.json").read_text())
    assert [b["name"] for b in again["blocks"]] == [b.name for b in w.document.home.details[0].blocks]
    (tmp_path / "bad.json").write_text('{"nuthatch": "detail", "blocks": []}')
    for name in ("bad.json", "none.json"):
        board.details.read(tmp_path / name)
        qtbot.waitUntil(lambda: not board.details.reading.running, timeout=60_000)
        assert name in said[-1] and len(w.document.home.details) == 1


def test_what_cannot_be_drawn_is_said(osier_window: MainWindow, qtbot: QtBot) -> None:
    board, said = shown(osier_window, qtbot), []
    board.message.connect(said.append)
    board.select("j-01")
    board.facts.draw.click()
    assert "stands on the ground" in said[-1] and len(osier_window.document.home.details) == 3


def test_the_dossier_and_json_have_the_details(osier_window: MainWindow) -> None:
    a = osier_window.document.assessment
    assert a is not None
    page = to_html(a)
    assert page.count("in two dimensions (ISO 10211)") == 3 and "safe from mould" in page
    corner = next(j for j in as_data(a)["junctions"] if j["id"] == "j-07")
    assert corner["f_rsi"] == pytest.approx(0.92, abs=0.01) and corner["psi_internal"] == pytest.approx(0.027, abs=0.003)
