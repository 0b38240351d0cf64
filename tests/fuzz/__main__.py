"""`python -m tests.fuzz 20000 [SEED]`: damaged inputs for every reader; a failing one is written to build/fuzz/."""

from __future__ import annotations

import random
import sys
import time
from pathlib import Path

from tests.fuzz.readers import READERS, mutated, seeds, trial


def main(count: int, seed: int) -> int:
    """Run; returns the number of inputs that were no clean result and no message."""
    rng = random.Random(seed)
    good = {name: seeds(name) for name in READERS}
    names = [n for n in READERS for _ in range(1 if n == "weather file" else 6)]  # a whole weather file takes longest
    tally: dict[str, dict[str, int]] = {name: {} for name in READERS}
    bad = 0
    start = time.monotonic()
    for n in range(count):
        name = names[n % len(names)]
        data = mutated(rng, name, rng.choice(good[name]))
        try:
            outcome = trial(name, data)
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
    print(f"{count} inputs, seed {seed}, {time.monotonic() - start:.0f} s, {bad} crashes or hangs")
    return min(bad, 1)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 20000, int(sys.argv[2]) if len(sys.argv) > 2 else 1))
