"""The fabric as ratios in one run: a layer edited with its section and moisture shown, a moisture year, the ledger's weights."""

from __future__ import annotations

import os
import statistics
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np  # noqa: E402
from PyQt6.QtCore import Qt  # noqa: E402
from PyQt6.QtTest import QTest  # noqa: E402
from PyQt6.QtWidgets import QApplication  # noqa: E402

from benchmarks.test_shape import median  # noqa: E402
from benchmarks.test_speed import _wait, say  # noqa: E402
from nuthatch.core.assess import assess  # noqa: E402
from nuthatch.core.climate.library import climate_for  # noqa: E402
from nuthatch.core.fabric.moisture import VapourLayers, year  # noqa: E402
from nuthatch.core.library import demo_home  # noqa: E402
from nuthatch.core.views.ledger import entries, weigh  # noqa: E402
from nuthatch.desktop.app import application  # noqa: E402
from nuthatch.desktop.document import Document  # noqa: E402
from nuthatch.desktop.window import MainWindow  # noqa: E402


def keyed(app, window, drawing, digits: int) -> list[float]:  # type: ignore[no-untyped-def]
    """Twenty keys into the field that has the focus: milliseconds until margins and a drawing are painted."""
    edit = QApplication.focusWidget()
    times = []
    for i in range(20):
        edit.selectAll()
        QTest.keyClick(edit, Qt.Key.Key_Backspace)
        app.processEvents()
        QTest.qWait(80)
        begin = time.perf_counter()
        QTest.keyClick(edit, str(i % digits + 1))
        window.margins.bars.repaint()
        drawing.repaint()
        times.append(1000 * (time.perf_counter() - begin))
        app.processEvents()
    return times


def test_a_layer_edited_in_the_window() -> None:
    """A key in a layer's thickness: the section with its temperatures and moisture, U, and the margins are painted."""
    app = application()
    window = MainWindow(Document(demo_home("weir-cottage")))
    window.resize(1280, 800)
    window.show()
    _wait(app, window)
    build = next(b for b in window.document.home.buildups if "lined" in b.name)
    window.go("build-ups", build.layers[-1].id, "thickness")
    board = window.board("build-ups")
    board.tools.over.setCurrentText("moisture")
    times = keyed(app, window, board.drawing, 9)
    say("a layer edited → section, U, moisture and margins painted", statistics.median(times), 50)
    window.document.session.saved()
    window.close()


def test_a_year_of_moisture() -> None:
    months = np.cos(np.arange(12) * np.pi / 6)
    outside, inside = 8 - 10 * months, np.full(12, 20.0)
    section = VapourLayers(tuple(0.1 * n for n in range(1, 11)), (0.5, 3, 0.1, 8, 0.2, 1, 2, 0.1, 0.4, 0.2))
    say("a year of moisture in 10 layers", median(lambda: year(section, inside, 1400 - 100 * months, outside, 900 - 350 * months)), 5)


def test_what_the_values_of_a_home_weigh() -> None:
    home = demo_home("osier-lane-7")
    climate = climate_for(home, None)
    a = assess(home, climate)
    begin = time.perf_counter()
    rows = entries(home)
    for e in rows:
        weigh(a, e)
    say(f"the weights of {len(rows)} values", 1000 * (time.perf_counter() - begin), 1000)
