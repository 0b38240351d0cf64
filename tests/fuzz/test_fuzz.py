"""A small fixed set of the damaged inputs of `make fuzz`, and inputs that once were or easily are a trap."""

from __future__ import annotations

import random
import zlib

import pytest

from tests.fuzz.readers import ODD, READERS, mutated, seeds, trial


@pytest.mark.parametrize("name", READERS)
def test_damaged_input_gives_a_message(name: str) -> None:
    rng = random.Random(zlib.crc32(name.encode()))
    good = seeds(name)
    assert name == "device" or all(trial(name, data) == "read" for data in good), "undamaged input is read"
    count = {"weather file": 12, "IFC": 20}.get(name, 60)
    outcomes = [trial(name, mutated(rng, name, rng.choice(good))) for _ in range(count)]
    outcomes += [trial(name, data) for data in ODD]
    if name not in ("spreadsheet paste", "typed text", "file name"):
        assert outcomes.count("message") > len(ODD) // 2
