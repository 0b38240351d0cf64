"""Speed as ratios against a reference measured in the same run: a fixed NumPy and Python load (about 10 ms on the first machine).

Targets in milliseconds stand beside each; `make bench` prints them. Not part of `make test`.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import time

import numpy as np

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import Qt  # noqa: E402
from PyQt6.QtTest import QTest  # noqa: E402
from PyQt6.QtWidgets import QApplication  # noqa: E402

from nuthatch.core.assess import assess  # noqa: E402
from nuthatch.core.changes.changes import SetValue, apply, declared  # noqa: E402
from nuthatch.core.climate.climate import climate_from_bytes  # noqa: E402
from nuthatch.core.climate.library import climate_for  # noqa: E402
from nuthatch.core.library import demo_home, library_climate  # noqa: E402
from nuthatch.core.model.home import Home  # noqa: E402
from nuthatch.core.model.part import replace  # noqa: E402
from nuthatch.desktop.app import application  # noqa: E402
from nuthatch.desktop.document import Document  # noqa: E402
from nuthatch.desktop.window import MainWindow  # noqa: E402


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
            home = apply(SetValue(part=part, field=field, value=declared(start + i * 0.002)), home)
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


def _window(home: Home) -> tuple[QApplication, MainWindow]:
    app = application()
    window = MainWindow(Document(home))
    window.show()
    _wait(app, window)
    return app, window


def _wait(app: QApplication, window: MainWindow) -> None:
    end = time.monotonic() + 20
    while not window.settled() and time.monotonic() < end:
        app.processEvents()


def _keystrokes(home: Home) -> float:
    """Median of a keystroke in a layer's thickness to the margins painted [s]."""
    app, window = _window(home)
    window.activateWindow()
    window.go("build-ups", "outer-wall.3", "thickness")
    edit = QApplication.focusWidget()
    times = []
    for i in range(20):
        edit.selectAll()
        QTest.keyClick(edit, Qt.Key.Key_Backspace)
        app.processEvents()
        QTest.qWait(60)  # a fast typist; else what was still to be painted from the stroke before counts for this one
        painted = window.margins.bars.painted
        begin = time.perf_counter()
        QTest.keyClick(edit, str(i % 9 + 1))
        window.margins.bars.repaint()
        times.append(time.perf_counter() - begin)
        assert window.margins.bars.painted > painted
        app.processEvents()
    window.document.session.saved()
    window.close()
    return statistics.median(times)


def test_keystroke_to_repainted_margins() -> None:
    home = demo_home("osier-lane-7")
    assert sum(1 for s in home.target_sets if s.conditions) == 1
    say("keystroke → repainted margins", 1000 * _keystrokes(home), 50)


def test_keystroke_with_two_sets_of_conditions() -> None:
    home = demo_home("osier-lane-7")
    warmer = next(s for s in home.target_sets if s.conditions)
    conditions = tuple(replace(c, value=22.0) if c.field == "site.heating_setpoint" else c for c in warmer.conditions)
    home = replace(home, target_sets=(*home.target_sets, replace(warmer, id="warmer", name="Warmer", conditions=conditions)))
    assert conditions != warmer.conditions
    say("keystroke → margins, two sets with conditions", 1000 * _keystrokes(home), 50)


def test_a_working_is_shown() -> None:
    app, window = _window(demo_home("osier-lane-7"))
    QTest.qWait(2000)  # the start is measured below
    times = []
    for key in ("heating_demand", "primary_energy", "heating_load") * 4:
        begin = time.perf_counter()
        window.center.explain(key)
        window.center.working.repaint()
        times.append(time.perf_counter() - begin)
        window.center.close_working()
        app.processEvents()
    window.document.session.saved()
    window.close()
    say("click → working shown, first", 1000 * times[0], 100)
    say("click → working shown", 1000 * statistics.median(times), 100)


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
print(next(int(line.split()[1]) / 1024 for line in open("/proc/self/status") if line.startswith("VmHWM")))
window.document.session.saved()
"""


def test_start_and_memory() -> None:
    out = subprocess.run([sys.executable, "-c", STARTED, str(time.time())], capture_output=True, text=True, timeout=60)
    painted, ready, megabytes = (float(v) for v in out.stdout.split())
    say("process start → window painted", 1000 * painted, 1000)
    say("process start → everything computed", 1000 * ready, 2000)
    print(f"largest memory: {megabytes:.0f} MB, target 200 MB")
