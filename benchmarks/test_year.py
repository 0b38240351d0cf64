"""The year by the hour as ratios in one run: a home's year once its inputs are there, rooms, their loads, one frame of zooming, one edit."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

from benchmarks.test_speed import say
from nuthatch.core.assess import assess
from nuthatch.core.climate.library import climate_for
from nuthatch.core.library import demo_home
from nuthatch.core.model.part import replace
from nuthatch.core.views.hours.charts import STANDARD
from nuthatch.core.views.hours.lines import Span, line_chart
from nuthatch.core.views.hours.rooms import asked_by_hour
from nuthatch.core.year.problem import drive_of, worked
from nuthatch.core.year.room_hours import cooling_loads, rooms_through_the_year
from nuthatch.core.year.run import Held, year
from nuthatch.core.year.stages import PROBLEM

HOME = demo_home("osier-lane-7")
ASSESSED = assess(HOME, climate_for(HOME, None))


def median(do: Callable[[], object]) -> float:
    """Milliseconds of seven."""
    times = []
    for _ in range(7):
        began = time.perf_counter()
        do()
        times.append(time.perf_counter() - began)
    return 1000 * statistics.median(times)


def test_a_year() -> None:
    p = ASSESSED[PROBLEM]
    drive = drive_of(p)
    say("one run of a year", median(lambda: year(p.network, drive, Held(p.warm, p.cold))), 60)
    say("needs, comfort and windows by hand", median(lambda: worked(p, drive)), 60)
    made = worked(p, drive)
    held = sum(
        getattr(run, f).nbytes
        for run in (made.needs, made.comfort, made.by_hand)
        for f in run.__dataclass_fields__
        if hasattr(getattr(run, f), "nbytes")
    )
    print(f"\na home's hours hold {held / 1e6:.1f} MB, at most 15")


def test_rooms() -> None:
    asked = asked_by_hour(ASSESSED)
    assert asked is not None
    rooms = asked["rooms"]
    twenty = (rooms * 2)[:20]
    say("twenty rooms through the year", median(lambda: rooms_through_the_year(asked["problem"], twenty, False, False)), 600)
    say(
        f"cooling loads of {len(rooms)} rooms",
        median(lambda: cooling_loads(asked["problem"], rooms, asked["falls"], asked["climate"])),
        300,
    )


def test_a_frame_of_zooming() -> None:
    chart = replace(STANDARD["hours-lines"], third="sun")
    for wide in (8760.0, 700.0, 24.0):
        say(f"a frame of {wide:.0f} hours", median(lambda wide=wide: line_chart(ASSESSED, chart, (900.0, 420.0), Span(0, wide))), 33)
