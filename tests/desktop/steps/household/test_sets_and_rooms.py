"""The office's own sets of appliances and the rooms' loads, on the household board."""

from __future__ import annotations

from collections.abc import Callable

from pytestqt.qtbot import QtBot

from nuthatch.core.model.home import Home
from nuthatch.core.office import load_office
from nuthatch.core.sketch import Text
from nuthatch.desktop.steps.household.board import HouseholdBoard
from nuthatch.desktop.window import MainWindow
from tests.plan_home import plan_home

Open = Callable[[Home], MainWindow]


def test_a_set_kept_and_taken_and_rooms_tinted(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(plan_home())
    w.resize(1280, 800)
    w.go("household")
    board = w.center.board("household")
    assert isinstance(board, HouseholdBoard)
    board.sets.fill()
    assert not board.sets.menu.actions()[-1].isEnabled() or board.home.household.appliances
    board.sets.usual()
    qtbot.waitUntil(w.settled)
    count = len(board.home.household.appliances)
    assert count >= 8
    board.sets.keep()
    board.sets.keep()
    kept = [s for s in load_office()[0].office.appliance_sets if s.name == f"As in {board.home.name}"]
    assert len(kept) == 1 and len(kept[0].appliances) == count, "kept again it takes the place of the first"
    w.undo()
    qtbot.waitUntil(w.settled)
    board.sets.fill()
    action = next(x for x in board.sets.menu.actions() if x.text() == kept[0].name)
    action.trigger()
    qtbot.waitUntil(w.settled)
    assert len(board.home.household.appliances) == count
    board.work.drawings.show_widget(board.rooms)
    qtbot.waitUntil(lambda: board.rooms.sketch is not None)
    assert f"{count} of the list in no room yet" in " ".join(i.text for i in board.rooms.sketch.items if isinstance(i, Text))  # type: ignore[union-attr]
    board.tint.by.setCurrentText("people")
    qtbot.waitUntil(w.settled)
    assert "of the list" not in " ".join(i.text for i in board.rooms.sketch.items if isinstance(i, Text))  # type: ignore[union-attr]
    assert board.tint.chosen().high == 4.0
