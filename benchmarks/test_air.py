"""The air as ratios in one run: a point of the gauge to chart and validity, a long log, an edit in a home of forty rooms."""

from __future__ import annotations

import os
import statistics
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks.test_fabric import keyed  # noqa: E402
from benchmarks.test_shape import median  # noqa: E402
from benchmarks.test_speed import _wait, say  # noqa: E402
from nuthatch.core.airtest.stages import TESTED, work  # noqa: E402
from nuthatch.core.assess import assess  # noqa: E402
from nuthatch.core.changes.changes import SetValue, apply, declared  # noqa: E402
from nuthatch.core.climate.library import climate_for  # noqa: E402
from nuthatch.core.edits.air_tests import taken_in  # noqa: E402
from nuthatch.core.exchange import readings  # noqa: E402
from nuthatch.core.library import demo_home  # noqa: E402
from nuthatch.core.model.home import EvidenceFile, Home  # noqa: E402
from nuthatch.core.model.part import replace  # noqa: E402
from nuthatch.core.model.plans import Room  # noqa: E402
from nuthatch.core.views.air.test_chart import chart  # noqa: E402
from nuthatch.desktop.app import application  # noqa: E402
from nuthatch.desktop.document import Document  # noqa: E402
from nuthatch.desktop.window import MainWindow  # noqa: E402
from tests.air_home import air_home, unit  # noqa: E402
from tests.plan_home import inner  # noqa: E402
from tests.simple_home import g  # noqa: E402


def forty_rooms() -> Home:
    """The drawn home with walls a metre and a half apart: twenty rooms a storey."""
    home = air_home()
    plans = home.shape.plans
    assert plans is not None
    storeys = []
    for s in plans.storeys:
        walls = [inner(f"{s.id}.x{n}", (1.5 + 1.1 * n, 0.3), (1.5 + 1.1 * n, 5.7)) for n in range(7)]
        walls += [inner(f"{s.id}.y{n}", (0.3, 2.0 + 1.8 * n), (9.7, 2.0 + 1.8 * n)) for n in range(2)]
        rooms = tuple(
            Room(id=f"{s.id}.r{m}-{n}", name=f"Room {m}-{n}", x=g(0.9 + 1.1 * m), y=g(1.1 + 1.8 * n), use=("bedroom", "bath", "hall")[(m + n) % 3])
            for m in range(8)
            for n in range(3)
        )  # fmt: skip
        storeys.append(replace(s, inner_walls=tuple(walls), rooms=rooms))
    air = replace(home.air, units=(unit("unit", supply=None),), test="")
    return replace(home, shape=replace(home.shape, plans=replace(plans, storeys=tuple(storeys))), air=air, air_tests=())


def test_a_point_of_the_gauge() -> None:
    """A reading kept: written, assessed, chart and validity painted."""
    app = application()
    window = MainWindow(Document(demo_home("osier-lane-7")))
    window.resize(1280, 800)
    window.show()
    _wait(app, window)
    window.show_step("air")
    board = window.board("air")
    board.drawings_to(board.site)
    board.site.start()
    running = board.site.running
    running.timer.stop()
    times = []
    while not running.run.done:
        before = len(window.document.home.air_tests[-1].readings)
        begin = time.perf_counter()
        running.tick()
        for view in (board.site.chart, board.site.results, board.site.figures):
            view.repaint()
        spent = 1000 * (time.perf_counter() - begin)
        if len(window.document.home.air_tests[-1].readings) > before:
            times.append(spent)
            begin = time.perf_counter()
            app.processEvents()
            times[-1] += 1000 * (time.perf_counter() - begin)
    say(f"a point kept → on disk, assessed, chart and validity painted, {len(times)} of them", statistics.median(times), 50)
    say("the same, slowest of ten", sorted(times)[int(0.9 * len(times))], 50)
    window.document.session.saved()
    window.close()


def test_a_log_of_ten_thousand_readings() -> None:
    rows = "\n".join(f"pressurising;{10 + n % 500 / 10:.1f};{30 * (10 + n % 500 / 10) ** 0.65:.2f}" for n in range(10_000))
    data = f"volume;300\ninside;20\noutside;5\nseries;pressure [Pa];flow [m³/h]\n{rows}\n".encode()
    say("10 000 readings read (off the interface's thread)", median(lambda: readings.read(data, "log.csv")), 500)
    test = readings.read(data, "log.csv")
    say("10 000 readings worked out", median(lambda: work(test)), 100)
    result = work(test).result
    assert result is not None
    say("10 000 readings drawn", median(lambda: chart(result)), 100)
    home = demo_home("sail-loft")
    climate = climate_for(home, None)
    proof = EvidenceFile(id="file", name="log.csv", sha256="a" * 64, size=len(data))
    say("10 000 readings into a home", median(lambda: apply(taken_in(home, test, proof), home)), 500)
    full = apply(taken_in(home, test, proof), home)
    a = assess(full, climate)
    assert a.all_of(TESTED)
    sizes = iter(range(10, 10_000))

    def edit() -> None:
        assess(apply(SetValue(part="site", field="ground_reflectance", value=declared(next(sizes) / 1e5)), full), climate, a)

    say("another value edited in the home with the log", median(edit), 50)


def test_an_edit_in_a_home_of_forty_rooms() -> None:
    """A key in a room's people: flows of all rooms, the plan with its arrows and the margins are painted."""
    app = application()
    window = MainWindow(Document(forty_rooms()))
    window.resize(1280, 800)
    window.show()
    _wait(app, window)
    window.show_step("air")
    board = window.board("air")
    number = board.fresh.rooms.rowCount()
    assert number >= 40, number
    ident = next(r.room.id for r in board.fresh._flows() if r.role == "supply" and r.room.part is not None)
    board.fresh.choose_room(ident)
    board.fresh.room_card.focus_field("people")
    times = keyed(app, window, board.fresh.drawing, 4)
    say(f"an edit in a home of {number} rooms → flows, plan and margins painted", statistics.median(times), 50)
    window.document.session.saved()
    window.close()
