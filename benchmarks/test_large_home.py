"""What a home of 400 faces, 2000 openings and 400 junctions costs, as ratios to the demo home in the same run: the cost for each
part should be at most 1.5 times the demo's. Figures are printed by `make bench`; not part of `make test`."""

from __future__ import annotations

import os
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks.large_home import large, parts_of  # noqa: E402
from nuthatch.core.assess import assess  # noqa: E402
from nuthatch.core.changes.changes import SetValue, apply, declared  # noqa: E402
from nuthatch.core.climate.library import climate_for  # noqa: E402
from nuthatch.core.edits.desk import Block, Listing, pasted  # noqa: E402
from nuthatch.core.files.homefile import HomeFile, write  # noqa: E402
from nuthatch.core.library import demo_home  # noqa: E402
from nuthatch.core.model.home import Home, Opening  # noqa: E402


def seconds(work: Callable[[], object], times: int = 3) -> float:
    """The median of some runs."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def per_part(name: str, demo: tuple[float, Home], big: tuple[float, Home], target: str) -> None:
    ratio = (big[0] / parts_of(big[1])) / (demo[0] / parts_of(demo[1]))
    print(f"\n{name}: {big[0]:.2f} s, target {target}; demo home {demo[0]:.3f} s; cost per part {ratio:.2f} × the demo's (target 1.5)")


def one_edit(home: Home, opening: str) -> float:
    climate = climate_for(home, None)
    a = assess(home, climate)
    times = []
    for n in range(9):
        start = time.perf_counter()
        home = apply(SetValue(part=opening, field="width", value=declared(1.0 + n / 100)), home)
        a = assess(home, climate, a)
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def test_assess_and_edit() -> None:
    demo, big = demo_home("osier-lane-7"), large()
    climate = climate_for(demo, None)
    per_part("assess from nothing", (seconds(lambda: assess(demo, climate), 9), demo), (seconds(lambda: assess(big, climate)), big), "3 s")
    per_part("one edit to its margins", (one_edit(demo, "w-01"), demo), (one_edit(big, "o-7"), big), "0.15 s")


def test_paste() -> None:
    listing = Listing("home", "openings", Opening, "w")
    home = demo_home("osier-lane-7")
    for count in (200, 2000):
        grid = tuple((f"W {n}", "1.2", f"1.{n % 9 + 1}") for n in range(count))
        block = Block((), ("name", "width", "height"), grid)
        new = seconds(lambda block=block: apply(pasted(home, listing, block, {"face": [("wall-front", "Front")]}), home), 1)
        made = apply(pasted(home, listing, block, {"face": [("wall-front", "Front")]}), home)
        over = Block(tuple(o.id for o in made.openings[-count:]), ("name", "width", "height"), grid)
        into = seconds(lambda made=made, over=over: apply(pasted(made, listing, over, {}), made), 1)
        print(f"\n{count} rows pasted as new {new:.2f} s, into existing ones {into:.2f} s (target for 2000: 2 s)")


def test_check_and_dossier(tmp_path: Path) -> None:
    big = tmp_path / "large.nuthatch"
    write(big, HomeFile(large(), None))
    call = [sys.executable, "-m", "nuthatch.cli", "check"]
    demo = seconds(lambda: subprocess.run([*call, "osier-lane-7"], capture_output=True), 3)
    print(
        f"\ncheck of the large home: {seconds(lambda: subprocess.run([*call, str(big)], capture_output=True), 3):.2f} s (target 3 s), demo {demo:.2f} s"
    )
    start = time.perf_counter()
    process = subprocess.Popen([*call, str(big), "--dossier", str(tmp_path / "d.pdf")], stdout=subprocess.DEVNULL)
    process.wait()
    memory = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1000
    print(f"\ndossier of the large home: {time.perf_counter() - start:.1f} s (target 30 s), {memory:.0f} MB (target 600 MB)")
    assert (tmp_path / "d.pdf").stat().st_size > 100_000
