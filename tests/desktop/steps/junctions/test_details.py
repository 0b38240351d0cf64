"""Details on the junctions board: drawn from what meets, read from a file, their blocks worked on with live margins."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.dossier.report import to_html
from nuthatch.core.exchange.summary import as_data
from nuthatch.core.heatflow.of_home import section_of
from nuthatch.core.heatflow.reshaped import extent
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import SOLVED
from nuthatch.core.library import DATA, demo_home
from nuthatch.core.model.home import Home, Junction, find
from nuthatch.core.model.part import replace
from nuthatch.core.office import load_office
from nuthatch.core.sketch import Path as Drawn
from nuthatch.core.views.junctions.detail import frame_of
from nuthatch.desktop.steps.junctions.board import JunctionsBoard
from nuthatch.desktop.steps.junctions.detail_view import DetailView
from nuthatch.desktop.steps.junctions.details_part import DetailsPart
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
    rows = tuple(replace(j, detail="", psi=j.psi or g(0.0), tier="typical") if j.detail else j for j in home.junctions)
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


def test_a_balcony_of_ones_own_is_drawn_in_the_wall_it_is_in(open_home: Open, qtbot: QtBot) -> None:
    own = Junction(id="j-own", name="Balcony to the garden", family="balcony slab", length=g(3.0), own=True)
    home = bare()
    w = open_home(replace(home, junctions=(*home.junctions, own)))
    board = shown(w, qtbot)
    board.select("j-own")
    card = board.facts
    assert card.draw.text() == "Draw its detail" and not card.draw.isHidden() and card.in_wall.isHidden() == (card.wall.count() < 2)
    wall = card.wall.itemText(card.wall.count() - 1)
    card.wall.setCurrentIndex(card.wall.count() - 1)
    card.draw.click()
    qtbot.waitUntil(w.settled, timeout=60_000)
    row = find(w.document.home, "j-own")
    assert isinstance(row, Junction) and row.detail and board.details.current == row.detail
    detail = next(d for d in w.document.home.details if d.id == row.detail)
    used = next(b for b in w.document.home.buildups if b.name == wall)
    assert used.id in str(detail.model_dump())
    assert solved(w, row.detail).psi_external > 0.3  # type: ignore[operator]


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
    board.select("j-03")
    board.facts.draw.click()
    assert "take it in as a file" in said[-1] and len(osier_window.document.home.details) == 6


def test_the_dossier_and_json_have_the_details(osier_window: MainWindow) -> None:
    a = osier_window.document.assessment
    assert a is not None
    page = to_html(a)
    assert page.count("in two dimensions (ISO 10211)") == 6 and "safe from mould" in page
    corner = next(j for j in as_data(a)["junctions"] if j["id"] == "j-07")
    assert corner["f_rsi"] == pytest.approx(0.92, abs=0.01) and corner["psi_internal"] == pytest.approx(0.027, abs=0.003)


def in_view(board: JunctionsBoard, row: str) -> tuple[DetailsPart, DetailView]:
    """The detail of a junction with its blocks in front."""
    board.select(row)
    board.facts.draw.click()
    board.in_front(board.details.blocks)
    return board.details, board.details.view


def test_a_side_is_dragged_typed_and_nudged_and_each_is_one_step(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    details, view = in_view(board, "j-07")
    wool = next(b for b in details.detail.blocks if b.name.startswith("Mineral wool"))
    details.blocks.table.select(wool.id)
    qtbot.waitUntil(lambda: bool(view.sketch and view.sketch.handles) and w.settled(), timeout=60_000)
    before, home, redo = details.board.assessment.all_of(SOLVED)["detail-1"].psi_external, w.document.home, w.document.session.undo_label
    handle = next(h for h in view.sketch.handles if abs(h.pulls[0].per[1]) > abs(h.pulls[0].per[0]) and h.pulls[0].per[1] > 0)
    start = view.point_of_handle(handle.id)
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for down in (12, 24, 36):
        QTest.mouseMove(view, (start + QPointF(0, down)).toPoint())
        qtbot.waitUntil(lambda: not details._jobs.running, timeout=20_000)
    assert "roughly" in details.says.text() and details.detail.blocks[3] == wool, "nothing is changed before it is let go"
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=(start + QPointF(0, 36)).toPoint())
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert w.document.session.undo_label == f"{wool.name}: side moved" != redo
    after = details.board.assessment.all_of(SOLVED)["detail-1"].psi_external
    assert after < before - 0.005, "more insulation outside of the corner"
    w.undo()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert (
        w.document.home is home
        and details.detail == w.document.home.details[0]
        and next(b for b in details.detail.blocks if b.id == wool.id).outline == wool.outline
    )
    # typed
    details.blocks.table.select(wool.id)
    bottom = details.sides.edits["bottom"]
    bottom.setText("-330")
    bottom.editingFinished.emit()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert extent(next(b for b in details.detail.blocks if b.id == wool.id).outline)[2] == pytest.approx(-0.33)
    said: list[str] = []
    board.message.connect(said.append)
    bottom.setText("much")
    bottom.editingFinished.emit()
    assert said and "Bottom side" in said[-1]
    w.undo()
    # a drag given up leaves nothing
    qtbot.waitUntil(w.settled, timeout=60_000)
    now = w.document.home
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=view.point_of_handle(handle.id).toPoint())
    QTest.mouseMove(view, (start + QPointF(0, 12)).toPoint())
    QTest.keyClick(view, Qt.Key.Key_Escape)
    qtbot.waitUntil(w.settled, timeout=20_000)
    assert w.document.home is now
    # by keyboard: the side is current, an arrow moves it by a millimetre
    view.current = handle.id
    QTest.keyClick(view, Qt.Key.Key_Down)
    qtbot.waitUntil(w.settled, timeout=60_000)
    moved = extent(next(b for b in details.detail.blocks if b.id == wool.id).outline)[2] - extent(wool.outline)[2]
    assert moved == pytest.approx(-0.001)


def test_a_block_is_drawn_in_the_window_and_taken_away(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    details, view = in_view(board, "j-08")
    qtbot.waitUntil(w.settled, timeout=60_000)
    number = len(details.detail.blocks)
    details.material.setCurrentText("XPS, 0.036")
    details.draw_button.click()
    assert view.drawing
    frame = frame_of(section_of(details.detail), (view.sketch.width, view.sketch.height))
    scale, left, top = view._place()
    a, b = (QPointF(left + x * scale, top + y * scale) for x, y in (frame.at((0.0, 0.0)), frame.at((0.3, 0.05))))
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=a.toPoint())
    QTest.mouseMove(view, b.toPoint())
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=b.toPoint())
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert not view.drawing and len(details.detail.blocks) == number + 1
    block = details.detail.blocks[-1]
    assert block.name == "XPS, 0.036" and block.conductivity.value == 0.036 and block.conductivity.source
    assert extent(block.outline) == pytest.approx((0.0, 0.3, 0.0, 0.05), abs=0.006) and details.block == block
    details.blocks.table.setFocus()
    details.blocks.table.remove_selected()
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert len(details.detail.blocks) == number and isinstance(board.assessment.all_of(SOLVED)[details.current], Solved)
    details.draw_button.click()
    QTest.keyClick(view, Qt.Key.Key_Escape)
    assert not view.drawing and not details.draw_button.isChecked()


def test_a_detail_is_kept_in_the_office_and_taken_into_another_home(
    osier_window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    board = shown(osier_window, qtbot)
    details = board.details
    details.list.table.select("detail-2")
    details.shelf.keep()
    kept = load_office()[0].office.details
    assert [d.name for d in kept] == ["Verge"] and kept[0].id != "detail-2"
    before = len(osier_window.document.home.details)
    details.shelf.box.setCurrentIndex(1)
    details.shelf.box.activated.emit(1)
    qtbot.waitUntil(osier_window.settled, timeout=60_000)
    made = osier_window.document.home.details
    assert len(made) == before + 1 and made[-1].blocks[0].outline == made[1].blocks[0].outline


def test_a_side_of_an_opening_is_drawn_and_its_type_takes_the_psi(osier_window: MainWindow, qtbot: QtBot) -> None:
    """From the list of openings; drawn once for its type; ψ taken over moves the window's loss; each one step of undo."""
    w = osier_window
    board = shown(w, qtbot)
    home = w.document.home
    row = next(o for o in home.openings if o.left == "a wall" and next(k for k in home.opening_types if k.id == o.type).frame_u is not None)
    board._draw_reveal()
    assert w.document.home == home, "nothing is selected"
    board.work.lists.show_widget(board.openings)
    assert board.openings.select(f"{row.id}.sill")
    board._draw_reveal()
    qtbot.waitUntil(w.settled, timeout=60_000)
    made = w.document.home.details[-1]
    assert made.of_type == row.type and made.side == "sill" and board.details.current == made.id
    assert board.work.drawings.current is board.details.sheet and board.details.detail is not None
    board._draw_reveal()
    assert len(w.document.home.details) == len(home.details) + 1, "its type has one already"
    found = solved(w, made.id)
    board.details._take_psi()
    qtbot.waitUntil(w.settled, timeout=60_000)
    kind = next(k for k in w.document.home.opening_types if k.id == row.type)
    assert kind.install_sill is not None and kind.install_sill.value == pytest.approx(found.psi_external, abs=1e-4)
    w.undo()
    w.undo()
    assert w.document.home == home
