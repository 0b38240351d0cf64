"""How long a dossier takes, beside the reference of the same run: the pages of the demo homes and of a large one in a warm process, and
the check."""

from __future__ import annotations

import time

import pytest

from benchmarks.large_home import large
from benchmarks.test_speed import reference
from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.binding import bound
from nuthatch.core.dossier.printing import as_printed
from nuthatch.core.dossier.record import enclosed
from nuthatch.core.dossier.report import Made, to_book
from nuthatch.core.dossier.verify import verify
from nuthatch.core.graph.memo import Kept
from nuthatch.core.library import demo_home

TODAY = Made(date="2026-12-01")


@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage", "sail-loft", "large"])
def test_pages(key: str) -> None:
    """Set for the first time, by two processors where there are two; again; and after a change of the air change at 50 Pa."""
    home = large(60, 150, 60) if key == "large" else demo_home(key)
    a = assess(home, climate_for(home, None))
    n50 = SetValue(part="air", field="n50", value=declared(0.9))
    other = assess(apply(n50, home), a.climate, a)
    as_printed("<p>warm</p>")
    to_book(a, TODAY)
    kept, told = Kept(), []
    for name, of in (("first", a), ("again", a), ("after an edit", other)):
        before, start = reference(), time.perf_counter()
        bound(to_book(of, TODAY), kept=kept)
        took = time.perf_counter() - start
        told.append(f"{name} {took * 4.0 / ((before + reference()) / 2):.2f} s")
    print(f"\n{key}: {', '.join(told)} at a reference of 4 ms ({8 if key == 'large' else 3} asked for the first)")


def test_check() -> None:
    home = demo_home("sail-loft")
    data = enclosed(assess(home, climate_for(home, None)), TODAY)
    start = time.perf_counter()
    assert verify(data, "d.pdf").standing == "agrees"
    print(f"\nsail-loft checked in {time.perf_counter() - start:.1f} s")
