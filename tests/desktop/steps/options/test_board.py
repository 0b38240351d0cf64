"""The options board: upgrades taken from what is at hand, tried on a board, ordered, made of what closes a gap; each one step of undo."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.options.applied import home_with
from nuthatch.desktop.steps.options.board import OptionsBoard
from nuthatch.desktop.trying import give_up, tried
from nuthatch.desktop.window import MainWindow

Open = Callable[[Home], MainWindow]


def shown(w: MainWindow, qtbot: QtBot) -> OptionsBoard:
    w.resize(1500, 900)
    w.show_step("options")
    qtbot.waitUntil(w.settled, timeout=120_000)
    board = w.board("options")
    assert isinstance(board, OptionsBoard)
    return board


def test_from_nothing_to_a_ladder(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    assert board.option.count() == 0 and "0 options" in board.sub.text()
    board.work.lists.show_widget(board.hand)
    first = next(n for n, r in enumerate(board._ready) if r.name.startswith("Over the roof"))
    board._take(str(first))
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert [len(o.upgrades) for o in w.document.home.options] == [1] and board.steps.rowCount() == 1
    assert board.steps.item(0, 7).text().startswith("−")  # type: ignore[union-attr]
    w.undo()
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home.options == () and w.document.home.upgrades == ()


def test_something_is_tried_on_another_board_and_kept(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    home, before = w.document.home, float(w.document.assessment.figures["heating_demand"].value)  # type: ignore[union-attr,arg-type]
    qtbot.mouseClick(board.try_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert tried(w.document.desk) is not None and w.trying.isVisible()
    w.show_step("build-ups")
    w.document.desk.typed("outer-wall.3", "thickness", 0.3)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert "→" in w.trying.text.text() and float(w.document.assessment.figures["heating_demand"].value) < before  # type: ignore[union-attr,arg-type]
    w.trying.name.setText("Thicker wall")
    qtbot.mouseClick(w.trying.keep_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    now = w.document.home
    assert w.step == "options" and not w.trying.isVisible() and now.upgrades[0].name == "Thicker wall"
    assert replace(now, upgrades=(), options=()) == replace(home, upgrades=(), options=())
    assert board.steps.item(0, 0).text() == "Thicker wall"  # type: ignore[union-attr]
    # worked on again, and given up
    board.select(now.upgrades[0].id)
    qtbot.mouseClick(board.work_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.trying.name.text() == "Thicker wall" and w.document.home.buildups != home.buildups
    qtbot.mouseClick(w.trying.up_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home == now and tried(w.document.desk) is None


def test_the_cottage_s_ladders_are_compared_ordered_and_closed(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(demo_home("weir-cottage"))
    board = shown(w, qtbot)
    assert [board.option.itemText(n) for n in range(3)] == ["To the fund", "Retrofit in stages", "Heat pump first"]
    assert board.steps.rowCount() == 7 and board.beside.columnCount() == 5
    board.work.lists.show_widget(board.steps)
    second = w.document.home.options[0].upgrades[1]
    board.select(second)
    assert board.upgrades.card.part_id == second
    board._shift(-1)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home.options[0].upgrades[0] == second
    board._cheapest()
    qtbot.waitUntil(w.settled, timeout=120_000)
    costs = [r.money.per_kwh for r in board.comparing.ladders[board.front].rungs]
    assert costs == sorted(costs, key=lambda c: float("inf") if c is None else c) or len(costs) == 7
    w.undo()
    # what closes the gap of the air change becomes an upgrade
    target = next(
        n for n in range(board.target.count()) if "Airtightness" in board.target.itemText(n) or "Draughts" in board.target.itemText(n)
    )
    board.target.setCurrentIndex(target)
    board.work.lists.show_widget(board.gap)
    qtbot.waitUntil(lambda: w.settled() and board.comparing.gap is not None, timeout=240_000)
    assert board.comparing.gap is not None and board.comparing.gap[0].name == "air change at 50 Pa"
    number = len(w.document.home.upgrades)
    board._take_answer("0")
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert len(w.document.home.upgrades) == number + 1 and w.document.home.upgrades[-1].name.startswith("air change at 50 Pa")
    # deleting what an upgrade changes leaves a question, not an error
    gone = w.document.home.options[0].upgrades[0]
    assert gone in {u.id for u in w.document.home.upgrades}


def test_an_upgrade_goes_on_and_off(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(demo_home("weir-cottage"))
    board = shown(w, qtbot)
    board.in_front(board.upgrades)
    board.upgrades.table.select("upgrade-5")
    qtbot.mouseClick(board.on_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home.options[0].upgrades[-1] == "upgrade-5"
    qtbot.mouseClick(board.on_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert "upgrade-5" not in w.document.home.options[0].upgrades
    with pytest.raises(StopIteration):
        next(r for r in board.comparing.ladders[board.front].rungs if r.upgrade.id == "upgrade-5")


def test_nothing_tried_is_saved_as_the_home_or_lost(osier_window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    """A save waits until it is kept or given up; what is kept aside meanwhile is the home with an upgrade."""
    w = osier_window
    board = shown(w, qtbot)
    home = w.document.home
    board._try()
    w.document.desk.typed("outer-wall.3", "thickness", 0.3)
    qtbot.waitUntil(w.settled, timeout=120_000)
    with pytest.raises(HomeFileError, match="keep it as an upgrade or give it up"):
        w.document.save(tmp_path / "osier.nuthatch")
    assert not (tmp_path / "osier.nuthatch").exists()
    aside = w.document.keeper.kept_as(w.document.home)
    assert aside.buildups == home.buildups and [u.name for u in aside.upgrades] == ["What was being tried"]
    assert home_with(aside, aside.options[0]).buildups == w.document.home.buildups
    give_up(w.document.desk)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home == home and w.document.keeper.kept_as(w.document.home) is w.document.home
