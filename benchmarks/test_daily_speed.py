"""Speed of daily use: the register, units and theme, autosave. As in test_speed.py: printed with the target and a reference of the same run."""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
for _kind in ("CACHE", "CONFIG", "DATA", "STATE"):
    os.environ[f"XDG_{_kind}_HOME"] = tempfile.mkdtemp(prefix="nuthatch-bench-")

from PyQt6.QtCore import QEvent, Qt  # noqa: E402
from PyQt6.QtTest import QTest  # noqa: E402
from PyQt6.QtWidgets import QApplication  # noqa: E402

from benchmarks.test_speed import say  # noqa: E402
from nuthatch.core import register  # noqa: E402
from nuthatch.core.files.homefile import HomeFile, write  # noqa: E402
from nuthatch.core.library import demo_home, library_climate, scheme  # noqa: E402
from nuthatch.core.model.part import replace  # noqa: E402
from nuthatch.core.steps import STEPS as BOARDS  # noqa: E402
from nuthatch.core.units import INCH_POUND, METRIC  # noqa: E402
from nuthatch.desktop import settings  # noqa: E402
from nuthatch.desktop.app import application, finish  # noqa: E402
from nuthatch.desktop.document import Document  # noqa: E402
from nuthatch.desktop.window import MainWindow  # noqa: E402


def wait(until, seconds: float = 120) -> float:  # type: ignore[no-untyped-def]
    """Process events until it holds; the longest time [s] the window was not alive."""
    end, longest = time.monotonic() + seconds, 0.0
    while not until():
        start = time.perf_counter()
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # as the loop of the application does
        longest = max(longest, time.perf_counter() - start)
        time.sleep(0.001)
        assert time.monotonic() < end
    return longest


def test_five_hundred_homes(tmp_path: Path) -> None:
    """Files as saved by the window: with their weather file. The first check runs in helper processes behind the window."""
    plots = list(scheme().values())
    weather = library_climate("marrowby-quay")
    for n in range(500):
        write(tmp_path / f"plot-{n}.nuthatch", HomeFile(replace(plots[n % 24], name=f"Plot {n}"), weather))
    app = application()
    settings.change(folders=(str(tmp_path),))
    w = MainWindow(Document(demo_home("osier-lane-7")))
    w.show()
    wait(w.settled)
    start = time.perf_counter()
    w.go("homes")
    page = w.homes
    assert page is not None
    longest = wait(lambda: page.settled and page.model.rows and all(r.standing for r in page.model.rows))
    say("first check of 500 homes", 1000 * (time.perf_counter() - start), 60_000)
    say("longest moment the window did not answer meanwhile", 1000 * longest, 100)
    start = time.perf_counter()
    page.look()
    wait(lambda: page.settled)
    say("500 homes listed when known", 1000 * (time.perf_counter() - start), 2000)
    assert len(register.listed(register.files([tmp_path]))[1]) == 0
    finish(w)
    del app


def test_switching_units_and_theme() -> None:
    app = application()
    w = MainWindow(Document(demo_home("osier-lane-7")))
    w.show()
    wait(w.settled)
    for name, switch in (
        ("units", lambda i: w.appearance.units(INCH_POUND if i % 2 == 0 else METRIC)),
        ("theme", lambda i: w.appearance.dark(i % 2 == 0)),
    ):
        worst = (0.0, "")
        for kind in BOARDS:
            w.show_step(kind)
            wait(w.settled)
            times = []
            for i in range(4):
                start = time.perf_counter()
                switch(i)
                w.repaint()
                QApplication.processEvents()
                times.append(time.perf_counter() - start)
                wait(w.settled)
            worst = max(worst, (statistics.median(times), kind))
        say(f"switching the {name}, slowest board ({worst[1]})", 1000 * worst[0], 300)
    finish(w)
    del app


def test_autosave_and_keystrokes(tmp_path: Path) -> None:
    """Keystrokes with an autosave after each against keystrokes without."""
    path = tmp_path / "a.nuthatch"
    write(path, HomeFile(demo_home("osier-lane-7"), None))
    app = application()
    w = MainWindow(Document(demo_home("osier-lane-7"), None, path))
    w.show()
    wait(w.settled)
    w.go("build-ups", "outer-wall.3", "thickness")
    wait(w.settled)
    edit = w.board("build-ups").layers.card.fields["thickness"].edit  # type: ignore[attr-defined]
    found = {}
    for keeping in (False, True, False, True):
        times = []
        for n in range(40):
            edit.setFocus()
            edit.selectAll()
            start = time.perf_counter()
            QTest.keyClicks(edit, str(2 + n % 7))
            w.margins.bars.repaint()
            times.append(time.perf_counter() - start)
            QTest.keyClicks(edit, "00")
            QTest.keyClick(edit, Qt.Key.Key_Return)
            if keeping:
                w.document.keeper._last = 0.0
                w.document.keeper.keep()
        times.sort()
        found.setdefault(keeping, []).append((statistics.median(times), times[-3]))
    plain, kept = (min(m for m, _ in found[k]) for k in (False, True))
    say("keystroke → margins repainted", 1000 * plain, 50)
    say("what an autosave running beside it adds, median", 1000 * (kept - plain), 20)
    say("what it adds, 95th of 100", 1000 * (min(t for _, t in found[True]) - min(t for _, t in found[False])), 20)
    w.document.session.saved()
    finish(w)
    del app
