"""The real program on site: a test prepared, zero, both series by the practice gauge, a tube off and on again, the report; or until killed.

Run: air_on_site.py whole FILE REPORT  |  air_on_site.py work FILE (prints the readings kept after each)  |  air_on_site.py look FILE
|  air_on_site.py lines FILE (the gauge as a program of its own, over the network)
"""

from __future__ import annotations

import argparse
import json
import socket
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.model.part import Given
from nuthatch.desktop import app as starter
from nuthatch.desktop.steps.air import gauge_link
from nuthatch.desktop.steps.air.board import AirBoard
from nuthatch.desktop.steps.air.on_site import OnSite
from tests.journeys.by_hand import click, or_end, wait
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
    assert running.practice is not None
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


class Program:
    """The practice gauge as a program of its own, at a port of this machine."""

    def __init__(self, *options: str, port: int = 0) -> None:
        command = [sys.executable, "-m", "nuthatch.standins.gauge", "--port", str(port), "--speed", "40", *options]
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        assert self.process.stdout is not None
        self.port = int(self.process.stdout.readline().rpartition(":")[2])

    def say(self, line: str) -> str:
        """A line of somebody standing beside it."""
        with socket.create_connection(("127.0.0.1", self.port), 5) as beside:
            beside.sendall(f"{line}\n".encode())
            return beside.makefile().readline().strip()

    def end(self) -> None:
        self.process.kill()
        self.process.wait()


def over_lines(program: Program) -> OnSite:
    """A new test on site with the gauge of a program, one series; what nobody measured is typed."""
    w = window()
    w.show_step("air")
    board = w.board("air")
    assert isinstance(board, AirBoard)
    board.tests.prepare()
    wait(w.settled)
    site = board.site
    click(next(b for b in board.work.drawings.buttons if b.text() == "On site"))
    site.gauge.setCurrentIndex(site.gauge.findData("network"))
    site.address.setText(f"127.0.0.1:{program.port}")
    site.series.setCurrentText("depressurising")
    for name, value in (("inside", 20.5), ("outside", 7.0), ("barometer", 101_200.0)):
        board.apply(SetValue(part=board.tests.current, field=name, value=Given(value=value, basis="measured")))
    QTest.keyClick(site, Qt.Key.Key_Space)
    assert site.running is not None
    return site


def through(site: OnSite, done: Callable[[], bool], beside: Callable[[], None] = lambda: None) -> list[str]:
    """Space wherever it waits for hands; what it waited for. beside: what somebody else does meanwhile."""
    running, asked = site.running, []
    assert running is not None
    for _ in range(6000):
        if done():
            return asked
        if running.run.paused and running.link.who is not None and not running.link.away:  # contact a busy machine lost is found again
            asked.append(running.run.paused)
            QTest.keyClick(site, Qt.Key.Key_Space)
        beside()
        QTest.qWait(20)
    raise AssertionError(running.run.say)


def lines(file: Path) -> None:
    """Three tests over the network: a windy leaky house whose gauge goes away and comes back, a fan turned by hand, a cable out at the end."""
    gauge_link.TICK_MS = 8  # time passes forty times as fast there: as often in its seconds as on site
    w = window()
    wait(w.settled)
    leaky = ("--coefficient", "170", "--exponent", "0.62", "--wind", "0.3")
    program = Program(*leaky)
    site = over_lines(program)
    running = site.running
    assert running is not None
    asked = through(site, lambda: sum(r.state == "kept" for r in running.run.rungs) >= 2)
    kept = len(w.document.home.air_tests[-1].readings)
    program.end()
    asked += through(site, lambda: "cable" in running.run.paused)
    lost = running.run.paused
    program = Program(*leaky, port=program.port)
    wait(lambda: running.link.who is not None and program.say("READ").startswith("T"))
    stayed = len(w.document.home.air_tests[-1].readings) == kept
    QTest.qWait(3000)
    QTest.keyClick(site, Qt.Key.Key_Space)
    asked += through(site, lambda: running.run.done)
    wait(w.settled)
    found = site.shown
    assert found is not None and found.result is not None
    said: dict[str, object] = {
        "asked": asked,
        "lost": lost,
        "stayed": stayed,
        "leaky": found.result.q50,
        "points": len(found.result.halves[0].points),
    }
    said["top"] = max(p.pressure for p in found.result.halves[0].points)
    said["simulated"] = all(r.simulated for r in w.document.home.air_tests[-1].readings)
    program.end()

    program = Program("--by-hand", "--wind", "0.1")
    site = over_lines(program)
    running = site.running
    assert running is not None
    turned: list[float] = []

    def turn() -> None:
        now = running.run.now
        aim = -now.target - 1.5 if now is not None and not running.run.paused else 0.0
        if not turned or turned[-1] != aim:
            turned.append(aim)
            ring = running.run.ring
            program.say(f"RING {ring}".strip())
            program.say(f"HAND {aim:g}")

    through(site, lambda: running.run.done, turn)
    wait(w.settled)
    found = site.shown
    assert found is not None and found.result is not None
    said |= {"by hand": found.result.q50, "by hand points": len(found.result.halves[0].points)}
    program.end()

    program = Program()
    site = over_lines(program)
    running = site.running
    assert running is not None
    heard: list[str] = []
    running.failed.connect(heard.append)
    through(site, lambda: running.run.now is not None and running.run.held > 1)
    program.end()
    wait(lambda: any("cannot be told" in h for h in heard))
    QTest.keyClick(site, Qt.Key.Key_Escape)
    said["fan"] = heard[-1] if heard else ""
    print(json.dumps({"platform": QApplication.platformName(), **said}), flush=True)
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
        ways = {"whole": lambda: whole(Path(file), Path(sys.argv[3])), "work": work, "look": look, "lines": lambda: lines(Path(file))}
        QTimer.singleShot(200, or_end(ways[way]))
        return made

    starter.application = application
    sys.exit(starter.run(argparse.Namespace(file=file, demo=False, picture=None, step="cutaway", dark=False, units=None, size="")))
