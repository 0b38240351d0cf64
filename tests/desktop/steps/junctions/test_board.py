"""The junctions board in the real interface: what the shape has is seen, selected, answered, taken in and joined."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from nuthatch.core.edits.plan_edits import split
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.junctions.stages import FOUND, JOINED
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home, Junction, find
from nuthatch.core.model.part import replace
from nuthatch.core.views.shape.axonometric import View
from nuthatch.desktop.steps.junctions.board import JunctionsBoard
from nuthatch.desktop.window import MainWindow
from tests.plan_home import plan_home
from tests.simple_home import g

Open = Callable[[Home], MainWindow]


def shown(w: MainWindow, qtbot: QtBot) -> JunctionsBoard:
    w.resize(1500, 900)
    w.show_step("junctions")
    qtbot.waitUntil(w.settled)
    board = w.board("junctions")
    assert isinstance(board, JunctionsBoard)
    return board


def flat() -> Home:
    """An L of two storeys under a flat roof: the edge of the roof is asked about."""
    home = replace(plan_home(), junctions=(), junctions_from="shape", junction_tier="typical")
    assert home.shape.plans is not None
    return replace(home, shape=replace(home.shape, plans=replace(home.shape.plans, roofs=())))


def click(board: JunctionsBoard, ident: str) -> None:
    at = board.solid.point_of(ident)
    assert at is not None, ident
    QTest.mouseClick(board.solid, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()), round(at.y())))


def heating(w: MainWindow) -> float:
    return float(w.document.assessment.figures["transmission_loss_coefficient"].value)  # type: ignore[union-attr, arg-type]


def test_selected_in_drawing_list_and_inspector_alike(osier_window: MainWindow, qtbot: QtBot) -> None:
    board = shown(osier_window, qtbot)
    assert board.solid.sketch is not None and {"j-01", "j-04", "j-07"} <= board.solid.sketch.ids()
    board.select("j-06")
    assert board.all.current_id() == "j-06" and board.list.table.current_id() == "j-06"
    assert board.facts.title.text() == "Ridge" and board.facts.isVisibleTo(board)
    assert board.list.card.part_id == "j-06"
    click(board, "j-01")
    assert board.selected == "j-01" and board.all.current_id() == "j-01"
    board.all.select("j-04")
    assert board.selected == "j-04"


def test_equal_ones_are_a_row_that_opens(osier_window: MainWindow, qtbot: QtBot) -> None:
    board = shown(osier_window, qtbot)
    before = board.all.rowCount()
    board.all.opened.emit("j-07")
    assert board.all.rowCount() == before + 4
    board.select("j-07#2")
    assert board.selected == "j-07"
    board.all.opened.emit("j-07")
    assert board.all.rowCount() == before


def test_a_junction_at_the_back_is_turned_to(osier_window: MainWindow, qtbot: QtBot) -> None:
    board = shown(osier_window, qtbot)
    board.view = View(turn=-60.0, height=26.0)
    board.select("j-03")
    assert board.view.turn != -60.0, "the party wall on the slab lies at the far side from there"


def test_what_is_asked_is_answered_where_it_is_and_undone(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(flat())
    board = shown(w, qtbot)
    a = w.document.assessment
    assert a is not None
    asked = next(f for f in a[FOUND] if len(f.answers) > 1)
    assert any("parapet or flat roof edge" in q.text for q in a.questions)
    before = heating(w)
    click(board, f"answer:flat roof edge:{asked.key}")
    qtbot.waitUntil(w.settled)
    made = w.document.home.junctions
    assert [j.family for j in made] == ["flat roof edge"] and heating(w) == pytest.approx(before - 0.2 * asked.outer)
    w.undo()
    qtbot.waitUntil(w.settled)
    assert w.document.home.junctions == () and heating(w) == pytest.approx(before)
    board.select(asked.key)
    answers = board.facts.answers.findChildren(QPushButton)
    assert [b.text() for b in answers] == ["Parapet", "Flat roof edge", "Nothing to count"]
    qtbot.mouseClick(answers[0], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled)
    assert w.document.home.junctions[0].family == "parapet"


def test_a_typed_list_is_joined_and_nothing_counts_twice(open_home: Open, qtbot: QtBot) -> None:
    row = Junction(id="typed", name="Upper floors", family="wall · upper floor", length=g(47.6), psi=g(0.01))
    w = open_home(replace(demo_home("osier-lane-7"), junctions=(row,), junctions_from="list"))
    board = shown(w, qtbot)
    before = heating(w)
    board.take_in()
    qtbot.waitUntil(w.settled)
    assert w.document.home.junctions_from == "shape" and len(w.document.home.junctions) == 10 and heating(w) > before
    assert board.counts.isChecked() and not board.take_button.isEnabled()
    twice = next(q for q in w.document.assessment.questions if q.part == "typed")  # type: ignore[union-attr]
    assert "counts beside" in twice.text
    w.undo()
    qtbot.waitUntil(w.settled)
    assert heating(w) == pytest.approx(before)
    board.select("typed")
    assert board.facts.joining.isVisibleTo(board) and "33.20\xa0m, typed 47.60" in board.facts.stands.itemText(1)
    board.facts.stands.setCurrentIndex(1)
    board.facts.stands.activated.emit(1)
    qtbot.waitUntil(w.settled)
    assert heating(w) == pytest.approx(before - 0.01 * (47.6 - 33.2))


def test_the_shape_counts_or_not(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(replace(demo_home("osier-lane-7"), junctions=(), junctions_from="list"))
    board = shown(w, qtbot)
    none = heating(w)
    board.counts.click()
    qtbot.waitUntil(w.settled)
    fallback = heating(w)
    assert fallback > none + 20 and board.rest.isVisibleTo(board)
    board.rest.setCurrentIndex(1)
    board.rest.activated.emit(1)
    qtbot.waitUntil(w.settled)
    assert none < heating(w) < fallback


def test_decisions_stay_when_a_wall_is_split(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    before = {r.id: r.loss for r in board._rows}
    w.document.desk.apply(split(w.document.home, "low.d", 0.4))
    qtbot.waitUntil(w.settled)
    board.present(w.document.desk.snapshot)
    assert {r.id: pytest.approx(r.loss) for r in board._rows} == before


def test_tiers_of_one_and_of_all(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    board.select("j-06")
    board.take("fallback")
    qtbot.waitUntil(w.settled)
    ridge = find(w.document.home, "j-06")
    assert (ridge.tier, ridge.psi) == ("fallback", None)  # type: ignore[union-attr]
    a = w.document.assessment
    assert a is not None and float(next(e for e in a[ELEMENTS] if e.id == "j-06").loss.value) == pytest.approx(0.05 * 7.2)  # type: ignore[arg-type]
    board.select("")
    board.take("typical")
    qtbot.waitUntil(w.settled)
    assert {j.tier for j in w.document.home.junctions} == {"typical"}
    w.undo()
    assert {j.tier for j in w.document.home.junctions} != {"typical"}


def test_a_home_without_a_drawing_has_its_list_alone(open_home: Open, qtbot: QtBot) -> None:
    from tests.form_homes import form_home

    w = open_home(form_home("sail-loft"))
    board = shown(w, qtbot)
    a = w.document.assessment
    assert a is not None and a[FOUND] == () and a[JOINED].left == ()
    assert board.all.rowCount() == len(w.document.home.junctions)


def test_seen_in_plan_and_elevation_and_the_four_ways_by_month(osier_window: MainWindow, qtbot: QtBot) -> None:
    board = shown(osier_window, qtbot)
    names = [board.seen.itemText(n) for n in range(board.seen.count())]
    assert names[1] == "plan, from above" and sum(n.startswith("elevation, ") for n in names) == 4
    board.seen.setCurrentIndex(1)
    board.seen.activated.emit(1)
    assert (board.view.turn, board.view.height) == (0.0, 90.0)
    board.work.drawings.show_widget(board.by_month)
    qtbot.waitUntil(lambda: osier_window.settled() and board._whole is not None, timeout=30_000)
    assert board.by_month.sketch is not None and any("fallback" in getattr(i, "text", "") for i in board.by_month.sketch.items)
    board.seen.activated.emit(0)
    board.work.drawings.show_index(0)
