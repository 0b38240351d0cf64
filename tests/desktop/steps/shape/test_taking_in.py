"""A shape taken in from a file: in the background, which building asked, what was left out read on the screen."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QInputDialog
from pytestqt.qtbot import QtBot

from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.workers import Task
from nuthatch.desktop.steps.shape import taking_in
from nuthatch.desktop.window import MainWindow
from tests.core.exchange.test_gbxml_plans import COLD, FLAT, two
from tests.plan_home import plan_home
from tests.rooms_as_gbxml import document

Open = Callable[[Home], MainWindow]
MORE = '<Schedule id="s1"><Name>Occupied</Name></Schedule><Zone id="z"><Name>Upstairs</Name></Zone>'


@pytest.fixture
def shape(open_home: Open, qtbot: QtBot) -> MainWindow:
    w = open_home(plan_home())
    w.show_step("shape")
    qtbot.waitUntil(w.settled)
    return w


def taking(w: MainWindow) -> taking_in.TakingIn:
    return w.board("shape").taking  # type: ignore[attr-defined, no-any-return]


def test_a_file_becomes_plans_and_what_was_left_out_is_listed(shape: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "rooms.xml"
    path.write_bytes(document(FLAT, cold=COLD, more=MORE))
    before = shape.document.home
    taking(shape).take(path)
    assert taking(shape).reading.waiting.isVisibleTo(shape.board("shape")), "it is said that it is being read"
    qtbot.waitUntil(lambda: not taking(shape).reading.running)
    qtbot.waitUntil(shape.settled)
    plans = shape.document.home.shape.plans
    assert [r.name for r in plans.storeys[0].rooms] == ["Kitchen", "Living", "Study"]
    lists = shape.board("shape").work.lists
    table = taking(shape).left_out
    assert lists.current is table and not lists.buttons[lists.stack.indexOf(table)].isHidden()
    assert [table.item(r, 0).text() for r in range(table.rowCount())] == ["1 × Schedule: Occupied", "1 × Zone: Upstairs"]
    assert taking(shape).reading.waiting.isHidden()
    shape.commands["units"].trigger()
    qtbot.waitUntil(shape.settled)
    assert taking(shape).left_out.rowCount() == 2, "it stays when the units change"
    shape.commands["units"].trigger()
    qtbot.waitUntil(shape.settled)
    taking(shape).dismiss()
    assert taking(shape).left_out.rowCount() == 0 and shape.board("shape").work.lists.current is not taking(shape).left_out
    shape.undo()
    assert shape.document.home == before, "one step"


def test_which_building_is_asked(shape: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[list[str]] = []

    def choose(_p: object, _t: str, _l: str, names: list[str], *_: object) -> tuple[str, bool]:
        asked.append(names)
        return ("Rooms", True) if len(asked) > 1 else ("", False)

    monkeypatch.setattr(QInputDialog, "getItem", choose)
    path = tmp_path / "two.xml"
    path.write_bytes(two())
    before = shape.document.home
    for n in (1, 2):
        taking(shape).take(path)
        qtbot.waitUntil(lambda n=n: len(asked) == n and not taking(shape).reading.running)
        qtbot.waitUntil(shape.settled)
        assert (shape.document.home is before) == (n == 1), "given up, nothing happens; chosen, it is taken in"
    assert asked == [["Rooms", "Barn"]] * 2 and len(shape.document.home.shape.plans.storeys) == 2


def test_reading_can_be_stopped_and_a_fault_is_said(
    shape: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "rooms.xml"
    path.write_bytes(document(FLAT, cold=COLD))
    before = shape.document.home
    taking(shape).take(path)
    taking(shape).reading.waiting.button.click()
    qtbot.wait(400)
    assert shape.document.home is before and taking(shape).reading.waiting.isHidden()
    said: list[str] = []
    shape.board("shape").message.connect(said.append)
    path.write_bytes(b"<gbXML")
    taking(shape).take(path)
    qtbot.waitUntil(lambda: bool(said))
    assert "line 1" in said[-1] and "rooms.xml" in said[-1] and shape.document.home is before and taking(shape).reading.waiting.isHidden()


def test_a_file_is_read_in_a_process_of_its_own_and_stopped_with_it(open_home: Open, qtbot: QtBot) -> None:
    """The window answers while it is read; a stop ends the process, a reader that dies is a sentence."""
    w = open_home(demo_home("sail-loft"))
    w.show_step("shape")
    board = w.board("shape")
    said: list[str] = []
    board.message.connect(said.append)
    done: list[object] = []
    for task, words in (
        (Task(os._exit, {"status": 3}), "its process ended"),
        (Task(_sleeping, {"seconds": 30}, 0.5), "took longer than 0.5 s"),
    ):
        board.reading.apart("Reading", task, done.append, lambda error: said.append(str(error)))
        qtbot.waitUntil(lambda w_=words: any(w_ in s for s in said), timeout=30_000)
        assert not board.reading.running
    board.reading.apart("Reading", Task(_sleeping, {"seconds": 60}, 100.0), done.append, lambda error: said.append(str(error)))
    qtbot.waitUntil(lambda: board.reading._worker.pid is not None, timeout=30_000)
    number = len(said)
    board.reading._jobs.cancel()
    qtbot.waitUntil(lambda: board.reading._worker.pid is None, timeout=10_000)
    qtbot.wait(100)
    assert len(said) == number and not done


def _sleeping(seconds: float) -> None:
    time.sleep(seconds)
