"""`python -m tests.fuzz 20000 [SEED]`: damaged inputs for every reader; a failing one is written to build/fuzz/."""

from __future__ import annotations

import contextlib
import random
import resource
import sys
import time
from pathlib import Path

from tests.fuzz.readers import READERS, SLOW, mutated, seeds, trial

MOST_MB = 500
"""How much memory all inputs together may ask for at once [MB]."""


def main(count: int, seed: int) -> int:
    """Run; returns the number of inputs that were no clean result and no message."""
    rng = random.Random(seed)
    good = {name: seeds(name) for name in READERS}
    names = [n for n in READERS for _ in range(1 if n == "weather file" else 6)]  # a whole weather file takes longest
    for name, data in good.items():  # what is loaded at the first input is not of the input
        with contextlib.suppress(Exception):  # a fault is told with its input below
            trial(name, data[0])
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    tally: dict[str, dict[str, int]] = {name: {} for name in READERS}
    bad = 0
    start = time.monotonic()
    for n in range(count):
        name = names[n % len(names)]
        data = mutated(rng, name, rng.choice(good[name]))
        began = time.monotonic()
        try:
            outcome = trial(name, data)
            if (took := time.monotonic() - began) > SLOW:
                raise TimeoutError(f"took {took:.1f} s")
        except Exception as problem:
            bad += 1
            outcome = "CRASH"
            folder = Path("build/fuzz")
            folder.mkdir(parents=True, exist_ok=True)
            (folder / f"{seed}-{n}.bin").write_bytes(data)
            print(f"{name}, input {n} of seed {seed}: {type(problem).__name__}: {str(problem)[:200]}")
        tally[name][outcome] = tally[name].get(outcome, 0) + 1
    for name, counts in tally.items():
        print(f"{name:20}", ", ".join(f"{k} {v}" for k, v in sorted(counts.items())))
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    bad += grown > MOST_MB
    print(f"{count} inputs, seed {seed}, {time.monotonic() - start:.0f} s, {grown:.0f} MB more at most, {bad} crashes, hangs or too large")
    return min(bad, 1)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 20000, int(sys.argv[2]) if len(sys.argv) > 2 else 1))
