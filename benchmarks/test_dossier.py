"""How long a dossier takes, beside the reference of the same run: the pages of the demo home, made again in a warm process, and the check."""

from __future__ import annotations

import time

import pytest

from benchmarks.test_speed import reference
from nuthatch.core.assess import assess
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.printing import as_printed
from nuthatch.core.dossier.record import enclosed
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.dossier.verify import verify
from nuthatch.core.library import demo_home

TODAY = Made(date="2026-12-01")


@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage", "sail-loft"])
def test_pages(key: str) -> None:
    home = demo_home(key)
    a = assess(home, climate_for(home, None))
    as_printed("<p>warm</p>")
    to_html(a, TODAY)
    before = reference()
    start = time.perf_counter()
    page = to_html(a, TODAY)
    made = time.perf_counter()
    as_printed(page)
    end = time.perf_counter()
    scale = 4.0 / ((before + reference()) / 2)
    print(
        f"\n{key}: page {scale * (made - start):.2f} s, PDF {scale * (end - made):.2f} s, together {scale * (end - start):.2f} s at a reference of 4 ms (3 asked)"
    )


def test_check() -> None:
    home = demo_home("sail-loft")
    data = enclosed(assess(home, climate_for(home, None)), TODAY)
    start = time.perf_counter()
    assert verify(data, "d.pdf").standing == "agrees"
    print(f"\nsail-loft checked in {time.perf_counter() - start:.1f} s")
