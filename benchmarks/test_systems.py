"""Systems of a home as ratios in one run: one edit of what knows no hours, a year of a heat pump's hours, modules by the hour."""

from __future__ import annotations

import statistics
import time

from benchmarks.test_speed import say
from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.library import demo_home
from tests.simple_home import g


def test_one_edit_of_systems() -> None:
    home = demo_home("osier-lane-7")
    climate = climate_for(home, None)
    a = assess(home, climate)
    for name, part, field, start, target in (
        ("store loss of a heat pump's home", "store", "loss", 1.7, 10),
        ("litres a person", "hot-water", "litres", 25.0, 10),
        ("length of a pipe's rise", "bath-line", "rise", 3.0, 10),
        ("electricity of an appliance", "cooking", "energy", 420.0, 10),
        ("a point of the data sheet: all hours anew", "sheet-1", "cop", 4.6, 10),
        ("limit of power: all hours anew", "heat-pump", "power", 2000.0, 10),
        ("peak power of modules: all hours anew", "roof-modules", "peak", 4200.0, 10),
    ):
        times = []
        for n in range(9):
            changed = apply(SetValue(part=part, field=field, value=g(start * (1.001 + 0.001 * n))), a.home)
            began = time.perf_counter()
            assess(changed, climate, a, wait=False)  # the hours of the year are another process’s
            times.append(time.perf_counter() - began)
        say(name, 1000 * statistics.median(times), target)
