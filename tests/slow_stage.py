"""A slow stage of the tests' own: it takes its time for every n50, and the household's electricity waits for it."""

from __future__ import annotations

import threading
import time

from nuthatch.core.graph.stage import Slot, Stages, part
from nuthatch.core.model.home import Air
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Computing, Figure

SLOW: Slot[Figure] = Slot("slow trial", {"slow_trial": ""})
RAN: list[float] = []
"""The n50 of every run that ended."""


@calculation("Slow trial", "ach", "n = 2·n50", "a trial", n50="n50: ach")
def twice(n50: float) -> float:
    """Twice the n50."""
    return 2 * n50


def stages(seconds: float, gate: threading.Event | None = None):  # type: ignore[no-untyped-def]
    """The stage as a tuple; with a gate it waits for it instead of sleeping."""
    made = Stages()

    @made.slow(SLOW, lambda since: Computing("Slow trial", "ach", since, "the slow trial"), air=part("air"))
    def slow(air: Air) -> Figure:
        if gate is not None:
            gate.wait(20)
        else:
            time.sleep(seconds)
        RAN.append(air.n50.value if air.n50 else -1.0)
        return twice.figure(n50=need(air, "n50"))

    return tuple(made)
