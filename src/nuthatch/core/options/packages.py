"""The cheapest set of given upgrades that meets a target: every set in the order of its cost, the first that meets it is the answer.

Up to 16 upgrades all sets are looked at, as far as none cheaper is left; above that a search adds the upgrade that brings most for its
cost until the target is met, and takes off what is not needed: there may be a cheaper one, and it says so.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from dataclasses import replace as replaced
from itertools import combinations
from math import inf, isnan

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, ChangeRefused
from nuthatch.core.graph.progress import tell
from nuthatch.core.graph.runner import Beside
from nuthatch.core.model.options import Upgrade
from nuthatch.core.options.applied import changes_of, put, put_all
from nuthatch.core.options.chance import margin_of, passing
from nuthatch.core.options.gap import Key, narrowed_to
from nuthatch.core.options.ladder import state_of, touches
from nuthatch.core.options.money import cost_of
from nuthatch.core.targets.verdict import Verdict
from nuthatch.core.trials import VERDICTS, home_trial, trial

MOST_WHOLE = 16
"""So many upgrades are looked at in every set."""
KEPT = 48
"""So many results of each calculation are kept from set to set."""


@dataclass(frozen=True)
class Package:
    """What was found: ids of the upgrades, what they cost, how far over the limit the home is with them (at most 0: met) and without any;
    sets looked at; whether every cheaper set was; upgrades that were left out because their cost is not known."""

    upgrades: tuple[str, ...]
    cost: float
    margin: float
    before: float
    met: bool
    tried: int
    exhaustive: bool
    without: tuple[str, ...] = ()
    costs: tuple[float, ...] = ()
    """Of each upgrade."""


@dataclass(frozen=True)
class Within:
    """How many upgrades at most, and how much money; None: no end."""

    most: int | None = None
    budget: float | None = None


def costs(a: Assessment, upgrades: Sequence[Upgrade]) -> dict[str, float | None]:
    """What each costs by itself on this home, or after those before it where it stands on one of them; None where that is not known."""
    base = state_of(a)
    found: dict[str, float | None] = {}
    for n, u in enumerate(upgrades):
        if u.cost is None or u.per in ("lump", "m") or u.amount is not None:
            found[u.id] = cost_of(u, 0.0, 0.0)
            continue
        one, before = put(a.home, u), base
        if one.why:
            rest = put_all(a.home, (*upgrades[:n], u))
            one = rest[-1]
            before = state_of(home_trial(a, rest[-2].home, wait=True)) if n else base
        found[u.id] = cost_of(u, *touches(before, state_of(home_trial(a, one.home, wait=True)))) if not one.why else None
    return found


class _Tries:
    """Sets of upgrades judged by one target."""

    def __init__(self, a: Assessment, key: Key) -> None:
        self.a, self.key, self.tried = narrowed_to(a, key), key, 0
        self._beside = Beside(KEPT)

    def __call__(self, upgrades: Sequence[Upgrade]) -> tuple[float, bool]:
        """(how far over the limit, whether it is met); a set that cannot be put is never met."""
        self.tried += 1
        try:
            changes = tuple(c for u in upgrades for c in changes_of(u))
            found: tuple[Verdict, ...] = trial(self.a, (Batch(label="set", changes=changes),), frozenset({VERDICTS}), self._beside).verdicts
        except ChangeRefused:
            return inf, False
        margin = margin_of(found, self.key)
        return (inf, False) if isnan(margin) else (margin, passing(found, self.key))


def cheapest(a: Assessment, upgrades: Sequence[Upgrade], key: Key, within: Within | None = None, part: tuple[int, int] = (0, 1)) -> Package:
    """The cheapest set that meets a target, or the one that comes nearest. part: (n, of how many): every so manieth set, for one of several
    processes; see `best_of`."""
    within = within or Within()
    known = costs(a, upgrades)
    priced = [u for u in upgrades if known[u.id] is not None]
    without = tuple(u.id for u in upgrades if known[u.id] is None)
    tries = _Tries(a, key)
    before, already = tries(())
    exhaustive = len(priced) <= MOST_WHOLE
    found: tuple[Upgrade, ...] = ()
    margin, met = before, already
    if not already:
        worth = {u.id: known[u.id] or 0.0 for u in priced}
        found, margin, met = (_whole if exhaustive else _searched)(tries, priced, worth, within, part)
    each = tuple(known[u.id] or 0.0 for u in found)
    return Package(tuple(u.id for u in found), sum(each), margin, before, met, tries.tried, exhaustive, without, each)


Found = tuple[tuple[Upgrade, ...], float, bool]


def _whole(tries: _Tries, rows: list[Upgrade], worth: dict[str, float], within: Within, part: tuple[int, int]) -> Found:
    best: tuple[float, tuple[Upgrade, ...]] = (inf, ())
    every = list(sets_by_cost(rows, worth, within))[part[0] :: part[1]]
    for n, chosen in enumerate(every):
        margin, met = tries(chosen)
        if met:
            return chosen, margin, True
        if margin < best[0]:
            best = margin, chosen
        tell((n + 1) / len(every))
    return best[1], best[0], False


def sets_by_cost(rows: Sequence[Upgrade], worth: dict[str, float], within: Within) -> Iterator[tuple[Upgrade, ...]]:
    """Every set but the empty one that may be had, the cheapest first; of equal cost the smaller, then the earlier."""
    most = len(rows) if within.most is None else min(within.most, len(rows))
    sized = ((sum(worth[u.id] for u in some), k, n, some) for k in range(1, most + 1) for n, some in enumerate(combinations(rows, k)))
    allowed = [s for s in sized if within.budget is None or s[0] <= within.budget + 1e-9]
    return (s[3] for s in sorted(allowed, key=lambda s: s[:3]))


def _searched(tries: _Tries, rows: list[Upgrade], worth: dict[str, float], within: Within, part: tuple[int, int]) -> Found:
    """By what brings most for its cost, then without what is not needed."""
    chosen: list[Upgrade] = []
    margin, met = tries(())
    left, budget = list(rows), within.budget if within.budget is not None else inf
    while not met and left and len(chosen) < (within.most if within.most is not None else len(rows)):
        spent = sum(worth[u.id] for u in chosen)
        able = [u for u in left if spent + worth[u.id] <= budget + 1e-9]
        scored = [((margin - tries([*chosen, u])[0]) / max(worth[u.id], 1e-9), -n, u) for n, u in enumerate(able)]
        if not scored or max(scored)[0] <= 0:
            break
        best = max(scored, key=lambda s: s[:2])[2]
        chosen.append(best)
        left.remove(best)
        margin, met = tries(chosen)
        tell(len(chosen) / len(rows))
    for u in sorted(chosen, key=lambda u: -worth[u.id]) if met else ():
        rest = [c for c in chosen if c is not u]
        smaller, still = tries(rest)
        if still:
            chosen, margin = rest, smaller
    return tuple(chosen), margin, met


def best_of(found: Sequence[Package]) -> Package:
    """Of what several processes found: the cheapest that meets it, else the one that comes nearest."""
    best = min(found, key=lambda p: (not p.met, p.cost if p.met else p.margin, len(p.upgrades)))
    return replaced(best, tried=sum(p.tried for p in found))
