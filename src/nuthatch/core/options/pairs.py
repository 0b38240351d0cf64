"""Two levers together: for values of the one the value of the other at which a target is just met, as a curve."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import ChangeRefused
from nuthatch.core.graph.progress import tell
from nuthatch.core.graph.runner import Beside
from nuthatch.core.model.options import ChangeData
from nuthatch.core.options.applied import flat, written
from nuthatch.core.options.gap import ONLY, Key, Lever, NothingKnown, levers, narrowed_to, ratio_of, roots_of
from nuthatch.core.trials import trial

ALONG = 9
"""So many values of the first lever."""


@dataclass(frozen=True)
class Together:
    """Values of two levers that just meet a target; `second` None where no value of the second does: then whether it is met at all of them."""

    first: float
    second: float | None
    met: bool
    changes: tuple[ChangeData, ...] = ()


@dataclass(frozen=True)
class Curve:
    """Two levers against a target: names, kinds of quantity, as they are today, what can be built, and the points of the curve."""

    names: tuple[str, str]
    kinds: tuple[str, str]
    today: tuple[float, float]
    ends: tuple[tuple[float, float], tuple[float, float]]
    points: tuple[Together, ...]


def names_of(a: Assessment) -> tuple[tuple[str, str], ...]:
    """(id, name) of every lever of a home."""
    return tuple((x.id, x.name) for x in levers(a))


def curve(a: Assessment, key: Key, first: str, second: str, part: tuple[int, int] = (0, 1)) -> Curve:
    """Where a target is just met by two levers. Raises KeyError for one the home has not. part: (n, of how many) for several processes."""
    a = narrowed_to(a, key)
    known = {x.id: x for x in levers(a)}
    one, other = known[first], known[second]
    xs = np.unique(np.append(np.linspace(one.low, one.high, ALONG), one.today))[part[0] :: part[1]]
    points = []
    for n, x in enumerate(xs):
        points.append(_at(a, key, one, other, float(x)))
        tell((n + 1) / len(xs))
    return Curve(
        (one.name, other.name),
        (one.kind, other.kind),
        (one.today, other.today),
        ((one.low, one.high), (other.low, other.high)),
        tuple(points),
    )


def _at(a: Assessment, key: Key, one: Lever, other: Lever, x: float) -> Together:
    beside = Beside()

    def margin(y: float) -> float:
        return ratio_of(trial(a, (*one.changes(x), *other.changes(y)), ONLY, beside).verdicts, key)

    try:
        roots, _, best = roots_of(margin, other)
    except (ChangeRefused, NothingKnown):
        return Together(x, None, False)
    if not roots:
        return Together(x, None, margin(best) <= 0)
    y = min(roots, key=lambda v: abs(v - other.today))
    return Together(x, y, True, tuple(written(c) for c in flat((*one.changes(x), *other.changes(y)))))


def joined(found: tuple[Curve, ...]) -> Curve:
    """The parts of several processes in order."""
    first = found[0]
    points = sorted((p for c in found for p in c.points), key=lambda p: p.first)
    return Curve(first.names, first.kinds, first.today, first.ends, tuple(points))
