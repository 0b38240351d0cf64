"""Random edits of drawn homes; the long walks are run by hand: `python -m tests.random_edits SEED STEPS`."""

from __future__ import annotations

import pytest

from tests.random_edits import Walk


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_a_walk_of_random_edits_loses_nothing(seed: int) -> None:
    """Points, walls, roofs, storeys, mirror, turn, ground: no exception, no opening lost, each undo the same home, closed or asked."""
    walk = Walk(seed)
    while sum(walk.done.values()) < 20:
        walk.step()
        assert not walk.open_unsaid, "what is open has a reason that is said"
    assert walk.faults == [] and len(walk.done) > 7
