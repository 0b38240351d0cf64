"""Everything can be reached and worked with the keyboard alone."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox, QLineEdit, QPushButton, QSlider, QTableView, QWidget
from pytestqt.qtbot import QtBot

from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.steps import NAMES as STEPS
from nuthatch.desktop.margins import LinkLabel
from nuthatch.desktop.window import MainWindow
from tests.desktop.conftest import briefly

CONTROLS = (QLineEdit, QComboBox, QPushButton, QCheckBox, QTableView, QSlider)


def wanted(window: MainWindow) -> set[QWidget]:
    """Controls of the board in view that a person may want to use."""
    board = window.board(window.step)
    found = set()
    for widget in board.findChildren(QWidget):
        inside = isinstance(widget.parent(), QComboBox) or type(widget.parent()).__name__.endswith("SpinBox")
        if (
            isinstance(widget, CONTROLS)
            and widget.isVisible()
            and widget.isEnabled()
            and not inside
            and widget.focusPolicy() != Qt.FocusPolicy.NoFocus
        ):
            found.add(widget)
    return found


@pytest.mark.parametrize("step", [k for k, _ in STEPS])
def test_tab_reaches_every_control_of_the_board(open_home: Callable[[Home], MainWindow], qtbot: QtBot, step: str) -> None:
    w = open_home(briefly(demo_home("osier-lane-7")))
    w.show_step(step)
    qtbot.waitUntil(w.settled)
    seen: list[QWidget] = []
    w.route.setFocus()
    at: QWidget | None = w.route
    for _ in range(2000):
        at = at.nextInFocusChain() if at is not None else None
        if at is None or at is w.route:
            break
        seen.append(at)
    missed = [x for x in wanted(w) if x not in seen]
    assert not missed, [(type(x).__name__, x.accessibleName()) for x in missed]
    assert w.margins.bars in seen, "the margins too"


def test_tab_moves_through_a_card(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.go("air", "air", "n50")
    names = []
    for _ in range(6):
        focus = QApplication.focusWidget()
        assert focus is not None
        names.append(focus.accessibleName())
        qtbot.keyClick(focus, Qt.Key.Key_Tab)
    assert names[0] == "Air change at 50 Pa, n50" and {"Exposed to wind", "Wind shielding", "Kitchens"} <= set(names)


def test_margins_and_questions_by_keyboard(form_window: MainWindow, qtbot: QtBot) -> None:
    w = form_window
    bars = w.margins.bars
    bars.setFocus()
    qtbot.keyClick(bars, Qt.Key.Key_Down)
    qtbot.keyClick(bars, Qt.Key.Key_Return)
    assert w.center.working.isVisible() and w.center.working.trail[0].label == "Heating load"
    qtbot.keyClick(w.center.working, Qt.Key.Key_Escape)
    assert not w.center.working.isVisible()
    shown = f"Heating demand {w.document.assessment.figures['heating_demand'].value:.1f}"
    assert shown in bars.accessibleDescription() and "inside" in bars.accessibleDescription()
    links = [x for x in w.margins.findChildren(LinkLabel) if "Threshold" in x.accessibleName()]
    links[0].setFocus()
    qtbot.keyClick(links[0], Qt.Key.Key_Space)
    assert w.step == "junctions" and w.board("junctions").list.table.current_id() == "j-10"


def test_steps_by_keys(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    keys = [k for k, _ in STEPS]
    for key in keys[1:4]:
        w.activateWindow()
        qtbot.keyClick(w, Qt.Key.Key_PageDown, Qt.KeyboardModifier.ControlModifier)
        assert w.step == key
    qtbot.keyClick(w, Qt.Key.Key_PageUp, Qt.KeyboardModifier.ControlModifier)
    assert w.step == keys[2]


def test_escape_leaves_the_jump_box(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.jump.setFocus()
    qtbot.keyClicks(w.jump, "zzz")
    assert w.jump.list.item(0).text().startswith("nothing here is called"), "it says so"
    qtbot.keyClick(w.jump, Qt.Key.Key_Return)
    assert w.jump.text() and w.jump.list.isVisible(), "there is nowhere to go"
    w.jump.clear()
    qtbot.keyClicks(w.jump, "wall")
    names = [w.jump.list.item(i).text() for i in range(w.jump.list.count())]
    assert any("Outer wall, timber frame" in n for n in names) and any("Party wall on slab" in n for n in names)
    first = w.jump.list.currentRow()
    qtbot.keyClick(w.jump, Qt.Key.Key_Down)
    assert w.jump.list.currentRow() == first + 1
    qtbot.keyClick(w.jump, Qt.Key.Key_Escape)
    assert not w.jump.list.isVisible() and w.jump.text() == ""


def test_drawings_tell_a_screen_reader_what_they_show(open_home) -> None:
    w = open_home(demo_home("weir-cottage"))
    text = w.board("cutaway").drawing.accessibleDescription()
    assert "Walls" in text and "kWh/(m²·a) heating demand" in text
