"""What a person does in a real window: click, type, choose, answer a file dialog."""

from __future__ import annotations

import os
import time
import traceback
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QDialogButtonBox, QFileDialog, QLineEdit, QMenu, QWidget

from nuthatch.core.model.home import Home
from nuthatch.desktop.app import finish
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.window import MainWindow


def wait(until: Callable[[], object], seconds: float = 180) -> None:
    seconds = max(seconds, 180)  # a busy machine is no failure
    end = time.monotonic() + seconds
    while not until():
        QApplication.processEvents()
        time.sleep(0.005)
        if time.monotonic() > end:
            said = [w.change_line.text for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow)]
            raise TimeoutError(f"waited {seconds} s; the window says {said}")


def or_end(do: Callable[[], object]) -> Callable[[], None]:
    """What a timer calls: where it fails, the program ends with its trace, instead of a sentence nobody reads."""

    def called() -> None:
        try:
            do()
        except Exception:
            traceback.print_exc()
            os._exit(1)

    return called


def click(widget: QWidget) -> None:
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


def type_into(edit: QLineEdit, text: str) -> None:
    click(edit)
    edit.selectAll()
    QTest.keyClicks(edit, text)
    QTest.keyClick(edit, Qt.Key.Key_Return)


def choose(box: QComboBox, text: str) -> None:
    """Go to an entry of a closed list with the arrow keys."""
    box.setFocus()
    target = next(i for i in range(box.count()) if box.itemText(i).lower().startswith(text.lower()))
    while box.currentIndex() != target:
        QTest.keyClick(box, Qt.Key.Key_Down if box.currentIndex() < target else Qt.Key.Key_Up)
    assert box.currentText().lower().startswith(text.lower()), (box.accessibleName(), text, box.currentText())


def fill(card: EditCard, **values: str) -> None:
    for name, text in values.items():
        widget = card.fields[name]
        inner = getattr(widget, "edit", None) or getattr(widget, "inner", None)
        if isinstance(inner, QComboBox):
            choose(inner, text)
        else:
            assert isinstance(inner, QLineEdit)
            type_into(inner, text)
        QApplication.processEvents()


def step(window: MainWindow, key: str) -> object:
    QTest.mouseClick(window.route, Qt.MouseButton.LeftButton, pos=window.route.point_of(key).toPoint())
    wait(lambda: window.step == key and window.settled(), 120)  # the pages of a whole dossier take a while
    return window.board(key)


def activate(window: QWidget) -> None:
    """Bring a window to the front; a virtual display has no window manager that would."""
    handle = window.windowHandle()
    assert handle is not None
    handle.requestActivate()
    wait(window.isActiveWindow)


def all_taken_back(window: MainWindow, start: Home) -> dict[str, object]:
    """Every step undone: how many there were, and whether the home is what it was. Closes the window."""
    steps = 0
    while window.document.session.undo() is not None:
        steps += 1
    back = window.document.home == start
    window.document.session.saved()
    finish(window)
    return {"steps": steps, "back": back}


_ASKED: list[Path] = []


def answer_with(path: Path) -> None:
    """Before a click that asks for a file: types the name into the dialog when it is there, and Enter."""
    tries = {"left": 600}
    _ASKED.append(path)

    def look() -> None:
        tries["left"] -= 1
        if _ASKED[-1] is not path:  # nobody asked for it, and another answer is meant for what is asked now
            return
        dialog = next((d for d in QApplication.topLevelWidgets() if isinstance(d, QFileDialog) and d.isVisible()), None)
        if dialog is None:
            if tries["left"]:
                QTimer.singleShot(50, look)
            return
        line, box = dialog.findChild(QLineEdit, "fileNameEdit"), dialog.findChild(QDialogButtonBox)
        assert line is not None and box is not None
        line.selectAll()
        QTest.keyClicks(line, str(path))
        completer = line.completer()
        popup = completer.popup() if completer is not None else None
        if popup is not None:
            popup.hide()
        yes = box.button(QDialogButtonBox.StandardButton.Save) or box.button(QDialogButtonBox.StandardButton.Open)
        no = box.button(QDialogButtonBox.StandardButton.Cancel)
        chosen = yes if tries["left"] > 0 else no
        assert chosen is not None
        click(chosen)
        if dialog.isVisible():  # the list of suggestions took the first click
            QTimer.singleShot(50, look)

    QTimer.singleShot(100, look)


def pick(words: str) -> None:
    """Choose the entry of the open menu that begins so, with the arrow keys."""
    wait(lambda: isinstance(QApplication.activePopupWidget(), QMenu))
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    for _ in range(len(menu.actions()) + 1):
        QTest.keyClick(menu, Qt.Key.Key_Down)
        active = menu.activeAction()
        if active is not None and active.text().startswith(words):
            QTest.keyClick(menu, Qt.Key.Key_Return)
            return
    raise LookupError(f"no entry “{words}” in {[a.text() for a in menu.actions()]}")
