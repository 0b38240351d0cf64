"""The real program at work on a file until somebody kills it, or looking what it offers at the next start.

Run: until_killed.py work FILE  (prints the number of changes after each)  |  until_killed.py look FILE
"""

from __future__ import annotations

import argparse
import json
import sys

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.model.home import find
from nuthatch.desktop import app as starter
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import click, or_end, wait


def window() -> MainWindow:
    return next(w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow))


def work() -> None:
    """Type thickness after thickness into the wall, as fast as the window takes it."""
    w = window()
    wait(w.settled)
    w.go("build-ups", "wall.1", "thickness")
    wait(w.settled)
    edit = w.board("build-ups").layers.card.fields["thickness"].edit  # type: ignore[attr-defined]
    number = 0

    def again() -> None:
        nonlocal number
        number += 1
        edit.setFocus()
        edit.selectAll()
        QTest.keyClicks(edit, str(100 + number))
        QTest.keyClick(edit, Qt.Key.Key_Return)
        print(number, flush=True)
        QTimer.singleShot(15, again)

    again()


def look() -> None:
    """Take what is offered; print what is there then."""
    w = window()
    wait(w.settled)
    said = w.banner.text.text() if w.banner.isVisible() else ""
    if said:
        click(w.banner.yes)
        wait(w.settled)
    layer = find(w.document.home, "wall.1")
    thickness = round(layer.thickness.value * 1000)  # type: ignore[union-attr]
    seen = {"said": said, "thickness": thickness, "read_only": w.document.read_only, "dirty": w.document.session.dirty}
    w.undo()
    seen["undone"] = round(find(w.document.home, "wall.1").thickness.value * 1000)  # type: ignore[union-attr]
    print(json.dumps(seen), flush=True)
    w.document.session.saved()
    w.document.keeper.ended = True
    QApplication.quit()


if __name__ == "__main__":
    real = starter.application

    def application(dark: bool = False) -> QApplication:
        made = real(dark)
        QTimer.singleShot(200, or_end(work if sys.argv[1] == "work" else look))
        return made

    starter.application = application
    sys.exit(starter.run(argparse.Namespace(file=sys.argv[2], demo=False, picture=None, step="cutaway", dark=False, units=None, size="")))
