"""A slow stage of the tests' own: what it does for every n50 stands in the home. The household's electricity waits for it.

The home's plot names a folder: each run that ends adds its n50 to the file “ran” there, each that begins to “begun”. Its client says
what a run does: a number of seconds to take; “gate”, wait for the file “gate”; “raise”, “die”, “hang”, “eat”: fail in this way.
"""

from __future__ import annotations

import os
import signal
import time
from dataclasses import replace
from pathlib import Path

import numpy as np

from nuthatch.core.changes.changes import Batch, SetValue, apply
from nuthatch.core.graph.progress import tell
from nuthatch.core.graph.stage import Slot, Stage, Stages, field, part
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Air, Home
from nuthatch.core.model.target_set import Target, TargetSet, Way
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Computing, Figure
from tests.undetailed import at_rest

SLOW: Slot[Figure] = Slot("slow trial", {"slow_trial": ""})
STAGES = Stages()


@calculation("Slow trial", "ach", "n = 2·n50", "a trial", n50="n50: ach")
def twice(n50: float) -> float:
    """Twice the n50."""
    return 2 * n50


def _waits(since: float) -> Computing:
    return Computing("Slow trial", "ach", since, "the slow trial")


@STAGES.slow(SLOW, _waits, air=part("air"), does=field("brief.client"), folder=field("brief.plot"))
def slow(air: Air, does: str, folder: str) -> Figure:
    """Twice the n50, in its own time."""
    n50 = air.n50.value if air.n50 else -1.0
    _note(Path(folder) / "begun", n50)
    if does == "raise":
        raise ZeroDivisionError("on purpose")
    if does == "die":
        os.kill(os.getpid(), signal.SIGKILL)
    if does == "eat":  # asked for, never touched: what others have is theirs
        eaten = [np.empty(500_000_000, np.uint8) for _ in range(100)]
        raise AssertionError(len(eaten))
    while does == "gate" and not (Path(folder) / "gate").exists():
        time.sleep(0.01)
        tell(0.25)
    until = time.monotonic() + (float(does) if does.replace(".", "").isdigit() else 3600.0 if does == "hang" else 0.0)
    while time.monotonic() < until:
        time.sleep(0.01)
    _note(Path(folder) / "ran", n50)
    return twice.figure(n50=need(air, "n50"))


def _note(path: Path, n50: float) -> None:
    with open(path, "a", encoding="utf-8") as stream:
        stream.write(f"{n50}\n")


def stages(seconds: float = 600.0) -> tuple[Stage, ...]:
    """The stage; the longest it may take."""
    return tuple(replace(s, seconds=seconds) for s in STAGES)


def noted(folder: Path, what: str = "ran") -> list[float]:
    """The n50 of every run that ended, or began."""
    path = folder / what
    return [float(line) for line in path.read_text(encoding="utf-8").split()] if path.exists() else []


def slow_home(folder: Path, does: str | float = 0, base: Home | None = None) -> Home:
    """Osier Lane 7, its details as they are, judged by the slow result alone."""
    line = Target(id="t", name="Slow", ways=(Way(figure="slow_trial", limit=1.0),))
    chosen = (TargetSet(id="s", name="S", source="test", targets=(line,)),)
    rows = (("home", "target_sets", chosen), ("brief", "plot", str(folder)), ("brief", "client", str(does)))
    changes = tuple(SetValue(part=p, field=f, value=v) for p, f, v in rows)
    return apply(Batch(label="slow", changes=changes), base or at_rest(demo_home("osier-lane-7")))
