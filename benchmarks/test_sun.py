"""Place and sun as ratios in one run: a year of forty openings, one object moved, one reveal changed, a new weather file, the sun dragged, a
folder of five thousand files."""

from __future__ import annotations

import os
import statistics
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks.test_speed import _wait, say  # noqa: E402
from nuthatch.core.assess import assess  # noqa: E402
from nuthatch.core.changes.changes import SetValue, apply  # noqa: E402
from nuthatch.core.climate import shelf  # noqa: E402
from nuthatch.core.climate.climate import climate_from_bytes  # noqa: E402
from nuthatch.core.climate.library import climate_for  # noqa: E402
from nuthatch.core.library import demo_home, library_climate  # noqa: E402
from nuthatch.core.model.home import Home  # noqa: E402
from nuthatch.core.model.part import replace  # noqa: E402
from nuthatch.core.model.site import SiteObject  # noqa: E402
from nuthatch.core.sun.stages import LET_IN  # noqa: E402
from nuthatch.core.views.shadows import Hour  # noqa: E402
from nuthatch.desktop.app import application  # noqa: E402
from nuthatch.desktop.document import Document  # noqa: E402
from nuthatch.desktop.window import MainWindow  # noqa: E402
from tests.simple_home import g  # noqa: E402


def forty() -> Home:
    """Osier Lane 7 with forty rows of openings and twelve objects around it."""
    home = demo_home("osier-lane-7")
    small = {"width": g(0.4), "height": g(0.5), "count": None, "position": None}
    rows = tuple(replace(home.openings[n % 6], id=f"o-{n}", name=f"O {n}", **small) for n in range(40))
    around = tuple(
        SiteObject(id=f"b-{n}", name=f"B {n}", kind=("block", "tree")[n % 2], east=g(-30 + 5.5 * n), north=g(-18 - 2 * (n % 4)),
                   length=g(5.0), depth=g(4.0), height=g(6.0 + n % 5))  # type: ignore[arg-type]
        for n in range(12)
    )  # fmt: skip
    return replace(home, openings=rows, junctions=(), site=replace(home.site, objects=around))


def test_a_year_of_forty_openings() -> None:
    home = forty()
    climate = climate_for(home, None)
    began = time.perf_counter()
    a = assess(home, climate)
    whole = time.perf_counter() - began
    assert sum(1 for x in a.all_of(LET_IN).values() if x is not None) == 40
    began = time.perf_counter()
    moved = assess(apply(SetValue(part="b-3", field="east", value=g(-10.0)), home), climate, a)
    one = time.perf_counter() - began
    began = time.perf_counter()
    assess(apply(SetValue(part="o-1", field="reveal", value=g(0.05)), moved.home), climate, moved)
    reveal = time.perf_counter() - began
    say("forty openings, twelve objects, a year of sun and all else from nothing", 1000 * whole, 2000)
    say("one object moved", 1000 * one, 700)
    say("one reveal changed", 1000 * reveal, 300)


def test_a_new_weather_file_to_first_margins() -> None:
    home, data = demo_home("osier-lane-7"), library_climate("hallin-fell")
    first = assess(home, climate_for(home, None))
    began = time.perf_counter()
    climate = climate_from_bytes(data.replace(b"Hallin Fell", b"Another"))
    climate.warm()
    read = time.perf_counter() - began
    began = time.perf_counter()
    assess(home, climate, first, wait=False)
    margins = time.perf_counter() - began
    say("a new weather file, read", 1000 * read, 500)
    say("then to the first margins", 1000 * margins, 100)
    began = time.perf_counter()
    assess(home, climate, first)
    say("then to all of them", 1000 * (time.perf_counter() - began), 2000)


def test_the_sun_is_dragged() -> None:
    app = application()
    window = MainWindow(Document(demo_home("osier-lane-7")))
    window.resize(1280, 800)
    window.show()
    _wait(app, window)
    window.show_step("openings")
    board = window.board("openings")
    board.rows.table.select("w-01")
    board.work.drawings.show_widget(board.sunny.strips.parentWidget())
    _wait(app, window)
    times = []
    for n in range(40):
        began = time.perf_counter()
        board.sunny._set_hour(Hour(79 + n, 8 + n % 9))
        for view in (board.sunny.strips, board.sunny.seen, board.sunny.solid):
            view.grab()
        times.append(time.perf_counter() - began)
    say("the sun dragged, strips, skyline and solid painted", 1000 * statistics.median(times), 33)
    window.document.session.saved()
    window.close()


def test_a_folder_of_five_thousand_files(tmp_path: Path) -> None:
    for n in range(5000):
        (tmp_path / f"{n}.epw").write_text(f"LOCATION,P {n},-,-,TMY,1,{-60 + n % 120},{-180 + n * 0.07:.2f},0,5\n")
    began = time.perf_counter()
    found = shelf.of_folders((tmp_path,))
    took = time.perf_counter() - began
    began = time.perf_counter()
    shelf.search(found, "p 12", (50.0, 8.0))
    say("5 000 weather files listed", 1000 * took, 2000)
    say("and searched", 1000 * (time.perf_counter() - began), 50)
