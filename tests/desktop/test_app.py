"""The program is dressed once: to style every widget there is again takes a second."""

from __future__ import annotations

import subprocess
import sys

import pytest
from PyQt6.QtWidgets import QApplication

from nuthatch.desktop import app as starter
from nuthatch.desktop.theme.style import FONT


def test_a_dressed_program_is_dressed_again_only_for_the_dark(qapp: QApplication, monkeypatch: pytest.MonkeyPatch) -> None:
    made = starter.application()
    assert made.styleSheet() and made.font().family() == FONT and made.applicationName() == "Nuthatch"
    dressed: list[bool] = []
    monkeypatch.setattr(starter, "apply_theme", dressed.append)
    assert starter.application() is made and dressed == []
    starter.application(dark=True)
    assert dressed == [True]


STARTED = """
import argparse, sys, time
from nuthatch.core.changes.changes import Insert
from nuthatch.core.model.part import Given
from nuthatch.core.model.site import ClimateMonth
from nuthatch.core.results.figure import Computing
from nuthatch.desktop.app import _document, application
from nuthatch.desktop.window import MainWindow
app = application()
window = MainWindow(_document(argparse.Namespace(file=None, demo=True)))
window.show()
def settled():
    end = time.time() + 120
    while not window.settled() and time.time() < end:
        app.processEvents()
    return window.settled(), *sorted({"pandas", "pvlib", "scipy"} & set(sys.modules))
print("start", *settled())
demand = lambda: window.document.assessment.figures["heating_demand"].value
first = demand()
window.document.desk.apply(Insert(owner="site", field="months", value=ClimateMonth(id="new", month="January", sun_flat=Given(value=40))))
print("months", demand(), isinstance(window.document.assessment.state.climate, Computing), *settled(), demand() < first)
window.show_step("site")
print("site", *settled())
print(*[item.text for item in window.board("site").climates.drawing.sketch.items if hasattr(item, "text")], sep="|")
window.document.session.saved()
window.close()
"""


def test_a_window_reads_no_library_that_takes_a_second() -> None:
    """The sun is worked out in other processes: its libraries would stop the window and take a third of its memory."""
    done = subprocess.run([sys.executable, "-c", STARTED], capture_output=True, text=True, timeout=400)
    *told, drawn = done.stdout.splitlines()
    assert told == ["start True", "months None True True True", "site True"], done.stderr[-2000:]
    assert "air, °C" in drawn and "computing" not in drawn
