"""Options worked out in another process: the ladders of a home one after the other, what closes a gap."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.graph.progress import heard_by, listening
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.home import Home
from nuthatch.core.options.gap import Closed, closed
from nuthatch.core.options.ladder import Ladder, ladder


def _assessed(home: Home, climate: Any, cache: Path | None) -> Assessment:
    return assess(home, climate, stores=Stores(slow=results_on_disk(cache)))


def ladders(home: Home, climate: Any, cache: Path | None = None) -> dict[str, Ladder]:
    """The ladder of every option; each is told as soon as it is there, first without its effects alone and last."""
    say = listening()
    found: dict[str, Ladder] = {}
    with heard_by(lambda _: None):
        a = _assessed(home, climate, cache)
        for effects in (False, True):
            for option in home.options:
                found[option.id] = ladder(a, option, effects)
                say((option.id, found[option.id]))
    return found


def gap(home: Home, climate: Any, key: tuple[str, str], cache: Path | None = None) -> tuple[Closed, ...]:
    """What closes the gap to a target (set, name)."""
    return closed(_assessed(home, climate, cache), key)
