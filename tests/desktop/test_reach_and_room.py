"""Every control reached by Tab with a visible focus and a name; no text cut, in both unit systems and at 200 %."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QRect, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QScrollArea, QTableView, QWidget
from pytestqt.qtbot import QtBot

from nuthatch.core.library import DATA, demo_folder, demo_home
from nuthatch.core.office import import_office
from nuthatch.core.steps import STEPS as BOARDS
from nuthatch.core.units import INCH_POUND, METRIC, use
from nuthatch.core.units import system as units_now
from nuthatch.desktop import settings
from nuthatch.desktop.steps.board import ListPanel
from nuthatch.desktop.widgets.edit_card import _Labelled
from nuthatch.desktop.widgets.focus_order import in_layout_order
from nuthatch.desktop.window import MainWindow
from tests.desktop.conftest import briefly, shared_window

PLACES = [*BOARDS, "homes", "office"]


@pytest.fixture(scope="module", autouse=True)
def own_folders(tmp_path_factory: pytest.TempPathFactory) -> Iterator[None]:
    folder = tmp_path_factory.mktemp("reach")
    with pytest.MonkeyPatch.context() as patch:
        for kind in ("CONFIG", "DATA", "STATE"):
            patch.setenv(f"XDG_{kind}_HOME", str(folder / kind.lower()))
        import_office(DATA / "examples" / "tidewrack.nuthatch-office")
        settings.change(folders=(str(demo_folder()),))
        yield
    use(METRIC)


@pytest.fixture(scope="module")
def one_window(own_folders: None, qapp: QApplication) -> Iterator[MainWindow]:
    """One window for all that is only looked at."""
    with shared_window(briefly(demo_home("osier-lane-7"))) as window:
        yield window


def place(w: MainWindow, key: str, qtbot: QtBot) -> QWidget:
    """Show a step or page, settled."""
    if key == "homes":
        w.go("homes")
        qtbot.waitUntil(lambda: w.homes is not None and w.homes.settled)
        return w.homes  # type: ignore[return-value]
    if key == "office":
        w.go("office")
        return w.office  # type: ignore[return-value]
    w.show_step(key)
    qtbot.waitUntil(w.settled)
    return w.board(key)


def stops(shown: QWidget) -> list[QWidget]:
    """Controls of a board that take the focus by Tab."""
    return [
        x
        for x in in_layout_order(shown)
        if x.isVisible() and x.isEnabled() and x.focusPolicy() & Qt.FocusPolicy.TabFocus and not isinstance(x, QScrollArea)
    ]


def name_of(widget: QWidget) -> str:
    return widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton | QLabel) else "")


@pytest.mark.parametrize("key", PLACES)
def test_tab_reaches_every_control_of_the_place(one_window: MainWindow, qtbot: QtBot, key: str) -> None:
    w = one_window
    shown = place(w, key, qtbot)
    wanted = stops(shown)
    assert wanted and all(name_of(x) for x in wanted), [type(x).__name__ for x in wanted if not name_of(x)]
    wanted[0].setFocus(Qt.FocusReason.TabFocusReason)
    reached = {id(wanted[0])}
    for _ in range(len(wanted) * 3 + 400):
        now = QApplication.focusWidget()
        assert now is not None
        if isinstance(now, QTableView):
            model = now.model()
            assert model is not None
            QTest.keyClick(now, Qt.Key.Key_Tab, Qt.KeyboardModifier.ControlModifier) if key not in ("homes",) else QTest.keyClick(
                now, Qt.Key.Key_Tab
            )
        else:
            QTest.keyClick(now, Qt.Key.Key_Tab)
        now = QApplication.focusWidget()
        if now is not None:
            reached.add(id(now))
        if reached >= {id(x) for x in wanted}:
            break
    missed = [f"{type(x).__name__} {name_of(x)}" for x in wanted if id(x) not in reached]
    assert not missed, missed


@pytest.mark.parametrize("key", PLACES)
def test_the_focus_is_seen(one_window: MainWindow, qtbot: QtBot, key: str) -> None:
    w = one_window
    shown = place(w, key, qtbot)
    for widget in stops(shown):
        w.route.setFocus() if w.page == "home" else shown.setFocus()
        QApplication.processEvents()
        without = widget.grab().toImage()
        widget.setFocus(Qt.FocusReason.TabFocusReason)
        QApplication.processEvents()
        assert widget.hasFocus() or widget.focusProxy() is not None
        assert widget.grab().toImage() != without, f"{key}: {type(widget).__name__} “{name_of(widget)}” looks the same with focus"


def cut_texts(shown: QWidget) -> list[str]:
    """Texts that have less room than they need."""
    found = []
    for widget in shown.findChildren(QWidget):
        if not widget.isVisible() or widget.visibleRegion().isEmpty() and not isinstance(widget, QLabel):
            continue
        metrics = widget.fontMetrics()
        if isinstance(widget, QLabel) and widget.text() and widget.pixmap().isNull():
            if widget.wordWrap():
                room = QRect(0, 0, max(widget.contentsRect().width(), 1), 10000)
                plain = widget.text() if "<" not in widget.text() else ""
                need = metrics.boundingRect(room, int(Qt.TextFlag.TextWordWrap), plain)
                if plain and (
                    need.height() > widget.height() + 3 or max(metrics.horizontalAdvance(x) for x in plain.split()) > room.width() + 2
                ):
                    found.append(f"label “{plain}” {need.size()} in {widget.size()}")
            elif (
                "<" not in widget.text()
                and metrics.horizontalAdvance(widget.text()) > widget.width() + 2
                and widget.objectName() != "muted"
            ):
                found.append(f"label “{widget.text()}”")
        elif isinstance(widget, QAbstractButton) and widget.text() and metrics.horizontalAdvance(widget.text()) > widget.width():
            found.append(f"button “{widget.text()}”")
        elif isinstance(widget, QComboBox) and metrics.horizontalAdvance(widget.currentText()) > widget.width() - 24:
            found.append(f"choice “{widget.currentText()}” in {widget.width()}")
        elif (
            isinstance(widget, QLineEdit)
            and widget.text().lstrip("−-")[:1].isdigit()
            and metrics.horizontalAdvance(widget.text()) > widget.width() - 12
        ):
            found.append(f"number “{widget.text()}” in {widget.width()}")
    return found


def cut_names(inspector: QWidget) -> list[str]:
    """Names cut in their field although they are not alone on their line."""
    lines = [line for line in inspector.findChildren(QLineEdit) if line.isVisible() and isinstance(line.parent(), _Labelled)]
    return [
        line.text()
        for line in lines
        if line.fontMetrics().horizontalAdvance(line.text()) + 12 > line.width() and line.width() < line.parentWidget().width()
    ]


@pytest.mark.parametrize("system", [METRIC, INCH_POUND])
def test_no_value_of_a_list_or_inspector_is_cut(one_window: MainWindow, qtbot: QtBot, system: str) -> None:
    """Every row of every list in turn: its values in the inspector, its numbers in their cells; at the least size of the window."""
    w = one_window
    if system != units_now():
        w.appearance.units(system)
    size = w.size()
    w.resize(1100, 700)
    for key in ("build-ups", "openings", "junctions", "household", "heat-power", "hot-water", "site", "options"):
        board = place(w, key, qtbot)
        for panel in board.findChildren(ListPanel):
            board.in_front(panel)
            QApplication.processEvents()
            for row in panel.model.rows[:8]:
                panel.table.select(row.id)
                QApplication.processEvents()
                assert cut_texts(board.work.inspector) == [], (key, row.id)
                assert cut_names(board.work.inspector) == [], (key, row.id)
            for r in range(panel.model.rowCount()):
                for c in range(panel.model.columnCount()):
                    if panel.model.right_aligned(c):
                        text = panel.model.text(panel.model.rows[r], c)
                        need = panel.table.fontMetrics().horizontalAdvance(text) + 6
                        assert need <= panel.table.columnWidth(c), (key, text, panel.table.columnWidth(c))
    assert cut_names(place(w, "air", qtbot).work.inspector) == []
    w.resize(size)


@pytest.mark.parametrize("system", [METRIC, INCH_POUND])
@pytest.mark.parametrize("key", PLACES)
def test_no_text_is_cut(one_window: MainWindow, qtbot: QtBot, key: str, system: str) -> None:
    w = one_window
    if system != units_now():
        w.appearance.units(system)
    shown = place(w, key, qtbot)
    qtbot.waitUntil(lambda: cut_texts(shown) == [], timeout=2000)  # a page made anew finds its heights within some rounds of events


def test_at_200_percent_the_window_is_the_same_twice_as_large(tmp_path: Path) -> None:
    """The scaling the user set holds at the next start: the same layout on twice the pixels, for labels and drawings."""
    code = f"""
import json, os
os.environ["XDG_CONFIG_HOME"] = {str(tmp_path)!r}
from nuthatch.desktop import settings
settings.change(scale=200)
import argparse
from nuthatch.desktop import app as starter
def run_and_measure(*_):
    from PyQt6.QtWidgets import QApplication, QLabel
    window = next(w for w in QApplication.topLevelWidgets() if type(w).__name__ == "MainWindow")
    for _ in range(400):
        QApplication.processEvents()
        if window.settled(): break
    window.show_step("air")
    QApplication.processEvents()
    grab = window.grab()
    print(json.dumps([window.devicePixelRatioF(), grab.width() / window.width(), window.board("air").heading.fontMetrics().height()]))
    return 0
starter.QApplication.exec = run_and_measure
options = argparse.Namespace(file=None, demo=True, picture=None, step="cutaway", dark=False, units=None, size="1280x800")
raise SystemExit(starter.run(options))
"""
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, timeout=400, env={**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    )
    assert done.returncode == 0, done.stderr
    ratio, scale, height = json.loads(done.stdout.splitlines()[-1])
    assert ratio == 2 and scale == 2 and 12 < height < 30
