"""Speed as ratios against a reference measured in the same run: a fixed NumPy and Python load (about 10 ms on the first machine).

Targets in milliseconds stand beside each; `make bench` prints them. Not part of `make test`.
"""

from __future__ import annotations

import os
import resource
import statistics
import subprocess
import sys
import time

import numpy as np

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from nuthatch.core.assess import assess  # noqa: E402
from nuthatch.core.climate.climate import climate_from_bytes  # noqa: E402
from nuthatch.core.edits.changes import SetValue, apply, typed  # noqa: E402
from nuthatch.core.library import climate_for, demo_home, library_climate  # noqa: E402


def reference() -> float:
    """Milliseconds of a fixed load."""
    times = []
    for _ in range(7):
        start = time.perf_counter()
        values = np.linspace(0.0, 1.0, 200_000)
        for _ in range(5):
            values = np.sqrt(values * values + 1e-3)
        total = 0
        for i in range(60_000):
            total += i % 7
        times.append(time.perf_counter() - start)
    return 1000 * statistics.median(times)


def say(name: str, milliseconds: float, target: float) -> None:
    base = reference()
    print(f"\n{name}: {milliseconds:.1f} ms, target {target:g} ms, {milliseconds / base:.2f} × the reference of {base:.1f} ms")


def test_one_edit() -> None:
    home = demo_home("osier-lane-7")
    climate = climate_for(home, None)
    a = assess(home, climate)
    for name, part, field, start in (
        ("wall thickness", "outer-wall.3", "thickness", 0.2),
        ("window width", "w-01", "width", 1.5),
        ("n50", "air", "n50", 0.4),
    ):
        times = []
        for i in range(40):
            home = apply(SetValue(part=part, field=field, value=typed(start + i * 0.002)), home)
            begin = time.perf_counter()
            a = assess(home, climate, a)
            times.append(time.perf_counter() - begin)
        say(f"one edit → assess, {name}", 1000 * statistics.median(times), 10)


def test_from_nothing() -> None:
    home = demo_home("osier-lane-7")
    climate = climate_for(home, None)
    assess(home, climate)
    times = []
    for _ in range(15):
        begin = time.perf_counter()
        assess(home, climate)
        times.append(time.perf_counter() - begin)
    say("assess from nothing", 1000 * statistics.median(times), 60)


def test_weather_and_eight_planes() -> None:
    data = library_climate("marrowby-quay")
    climate_from_bytes(data).plane(90, 0)
    times = []
    for _ in range(5):
        begin = time.perf_counter()
        climate = climate_from_bytes(data)
        for azimuth in range(0, 360, 45):
            climate.plane(90, azimuth)
        times.append(time.perf_counter() - begin)
    say("EPW and radiation for 8 planes", 1000 * statistics.median(times), 500)


def test_keystroke_to_repainted_margins() -> None:
    from PyQt6.QtCore import Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

    from nuthatch.desktop.app import application
    from nuthatch.desktop.document import Document
    from nuthatch.desktop.window import MainWindow

    app = application()
    window = MainWindow(Document(demo_home("osier-lane-7")))
    window.show()
    end = time.monotonic() + 20
    while not window.settled() and time.monotonic() < end:
        app.processEvents()
    window.activateWindow()
    window.go("build-ups", "outer-wall.3", "thickness")
    edit = QApplication.focusWidget()
    times = []
    for i in range(20):
        edit.selectAll()
        QTest.keyClick(edit, Qt.Key.Key_Backspace)
        app.processEvents()
        painted = window.margins.bars.painted
        begin = time.perf_counter()
        QTest.keyClick(edit, str(i % 9 + 1))
        window.margins.bars.repaint()
        times.append(time.perf_counter() - begin)
        assert window.margins.bars.painted > painted
        app.processEvents()
    window.document.session.saved()
    window.close()
    say("keystroke → repainted margins", 1000 * statistics.median(times), 50)


STARTED = """
import time, os, sys
import argparse
from nuthatch.desktop.app import application, _document
from nuthatch.desktop.window import MainWindow
app = application()
window = MainWindow(_document(argparse.Namespace(file=None, demo=True)))
window.show()
while not window.margins.bars.painted and not window.grab().isNull() and time.time() < float(sys.argv[1]) + 20:
    app.processEvents()
    break
print(time.time() - float(sys.argv[1]))
end = time.time() + 20
while not window.settled() and time.time() < end:
    app.processEvents()
print(time.time() - float(sys.argv[1]))
import resource
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
window.document.session.saved()
"""


def test_start_and_memory() -> None:
    out = subprocess.run([sys.executable, "-c", STARTED, str(time.time())], capture_output=True, text=True, timeout=60)
    painted, ready, megabytes = (float(v) for v in out.stdout.split())
    say("process start → window painted", 1000 * painted, 2000)
    say("process start → everything computed", 1000 * ready, 4000)
    print(
        f"largest memory: {megabytes:.0f} MB, target 350 MB (this process {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB)"
    )
