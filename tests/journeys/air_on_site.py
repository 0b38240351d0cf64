"""The real program on site: a test prepared, zero, both series by the practice gauge, a tube off and on again, the report; or until killed.

Run: air_on_site.py whole FILE REPORT  |  air_on_site.py work FILE (prints the readings kept after each)  |  air_on_site.py look FILE
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.desktop import app as starter
from nuthatch.desktop.steps.air.board import AirBoard
from tests.journeys.by_hand import click, wait
from tests.journeys.until_killed import window


def started(calm: bool) -> AirBoard:
    """The Air board with a test that runs, hundreds of times as fast as on site."""
    w = window()
    wait(w.settled)
    w.show_step("air")
    board = w.board("air")
    assert isinstance(board, AirBoard)
    click(next(b for b in board.work.drawings.buttons if b.text() == "On site"))
    board.site.quiet = calm
    board.site.speed.setCurrentIndex(2)
    QTest.keyClick(board.site, Qt.Key.Key_Space)
    assert board.site.running is not None
    board.site.running.speed = 50  # a test should not take as long as a test
    board.site.running.timer.setInterval(20)
    return board


def measured(calm: bool) -> dict[str, object]:
    """One whole test by keys, a tube off and on again: what came out and what is true of the practice house."""
    w, board = window(), started(calm)
    site = board.site
    running = site.running
    assert running is not None and running.running
    wait(lambda: sum(r.moment == "point" for r in w.document.home.air_tests[-1].readings) >= 2)
    QTest.keyClick(site, Qt.Key.Key_T)
    wait(lambda: "tube" in running.run.paused)
    QTest.keyClick(site, Qt.Key.Key_T)
    QTest.keyClick(site, Qt.Key.Key_Space)
    wait(lambda: running.run.done)
    wait(w.settled)
    found = site.shown
    assert found is not None and found.result is not None
    house = running.practice.house
    return {
        "q50": found.result.q50,
        "band": found.result.q50_band,
        "truth": house.coefficient * 50.0**house.exponent,
        "failing": [line.name for line in found.lines if line.holds is False],
        "points": len([r for r in w.document.home.air_tests[-1].readings if r.moment == "point"]),
    }


def whole(file: Path, report: Path) -> None:
    """A test in calm air, another in wind, prepared anew; the second counts, its report is written, the home is saved."""
    w = window()
    first = measured(True)
    board = w.board("air")
    assert isinstance(board, AirBoard)
    board.tests.prepare()
    second = measured(False)
    board.tests.count()
    board.tests.files.write_report(report)
    wait(lambda: board.tests.settled and report.exists())
    wait(w.settled)
    n50 = w.document.assessment.figures["n50"].value  # type: ignore[union-attr]
    print(json.dumps({"platform": QApplication.platformName(), "calm": first, "windy": second, "n50": n50}), flush=True)
    assert w.files.save_to(file)
    w.document.keeper.ended = True
    QApplication.quit()


def work() -> None:
    """Measure until somebody kills it."""
    w, board = window(), started(False)
    running = board.site.running
    assert running is not None
    running.kept.connect(lambda _: print(len(w.document.home.air_tests[-1].readings), flush=True))


def look() -> None:
    """Take what is offered; print the readings that are there."""
    w = window()
    wait(w.settled)
    said = w.banner.text.text() if w.banner.isVisible() else ""
    if said:
        click(w.banner.yes)
        wait(w.settled)
    tests = w.document.home.air_tests
    print(json.dumps({"said": said, "readings": len(tests[-1].readings) if tests else 0}), flush=True)
    w.document.session.saved()
    w.document.keeper.ended = True
    QApplication.quit()


if __name__ == "__main__":
    real = starter.application
    way, file = sys.argv[1], sys.argv[2]

    def application(dark: bool = False) -> QApplication:
        made = real(dark)
        ways = {"whole": lambda: whole(Path(file), Path(sys.argv[3])), "work": work, "look": look}
        QTimer.singleShot(200, ways[way])
        return made

    starter.application = application
    sys.exit(starter.run(argparse.Namespace(file=file, demo=False, picture=None, step="cutaway", dark=False, units=None, size="")))
