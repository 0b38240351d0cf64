"""The real program after a crash: it shows the offered work, goes one way on, and ends (or is killed).

Run: after_a_crash.py WAY FILE OTHER  (close, other, save, wait, leave, restore)
"""

from __future__ import annotations

import argparse
import json
import os
import signal
import sys
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QMessageBox

from nuthatch.core.changes.changes import SetValue, declared
from nuthatch.desktop import app as starter
from tests.journeys.by_hand import click, or_end, wait
from tests.journeys.until_killed import window


def go_on(way: str, file: Path, other: Path) -> None:
    w = window()
    wait(w.settled)
    print(json.dumps({"said": w.banner.text.text(), "platform": QApplication.platformName()}), flush=True)
    assert w.banner.isVisible()
    if way == "other":
        assert w.files.open_path(other)
    elif way in ("save", "wait"):
        assert w.document.desk.apply(SetValue(part="air", field="n50", value=declared(0.77))) == ""
        if way == "save":
            assert w.files.save_to(file)
        else:
            w.document.keeper.timer.timeout.emit()
            wait(w.document.keeper.file.exists)
            os.kill(os.getpid(), signal.SIGKILL)
    elif way == "leave":
        click(w.banner.no)
    elif way == "restore":
        click(w.banner.yes)
        wait(w.settled)
        assert w.files.save_to(file)
    wait(w.settled)
    w.close()
    QApplication.quit()


if __name__ == "__main__":
    way, file, other = sys.argv[1], Path(sys.argv[2]), Path(sys.argv[3])
    QMessageBox.question = lambda *a: QMessageBox.StandardButton.Discard  # type: ignore[method-assign,assignment]
    real = starter.application

    def application(dark: bool = False) -> QApplication:
        made = real(dark)
        QTimer.singleShot(200, or_end(lambda: go_on(way, file, other)))
        return made

    starter.application = application
    sys.exit(starter.run(argparse.Namespace(file=str(file), demo=False, picture=None, step="cutaway", dark=False, units=None, size="")))
