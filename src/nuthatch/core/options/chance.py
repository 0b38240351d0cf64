"""The chance that a home meets its targets, given how far its values may lie from what is entered, and what to measure first.

Eight scrambled Sobol sets of 64 homes (scipy.stats.qmc), each home judged as every other; docs/methods: options, chance of passing.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import isnan, nan, sqrt

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import ChangeRefused
from nuthatch.core.graph.progress import tell
from nuthatch.core.options.gap import WHOLE, Key, narrowed_to, ratio_of
from nuthatch.core.options.uncertain import Uncertain, as_entered, plain, uncertain, with_values
from nuthatch.core.targets.verdict import Verdict, WayResult
from nuthatch.core.trials import VERDICTS, trial

SETS, OF = 8, 64
"""So many sets of so many homes."""
MOST, VARIANCE = 250, 0.999
"""Above so many variables those that carry so much of the variance."""
FIRST = 6
"""So many values are named that are worth measuring."""
LEAST = 0.005
"""A share of the variance worth naming."""
ONLY = frozenset({VERDICTS})


@dataclass(frozen=True, eq=False)
class Sample:
    """Homes of one or more Sobol sets. z: (n, variables) standard deviations off; margins: by (set, target) how far over its limit (n), nan
    where it is not known; passes: whether it is met, by rounding too; values: what the target's first way comes to; sets: which set each home is of."""

    rows: tuple[Uncertain, ...]
    z: np.ndarray
    margins: Mapping[Key, np.ndarray]
    passes: Mapping[Key, np.ndarray]
    values: Mapping[Key, np.ndarray]
    sets: np.ndarray

    def joined(self, other: Sample) -> Sample:
        """Both, of the same variables."""
        return Sample(
            self.rows, np.concatenate((self.z, other.z)), _both(self.margins, other.margins),
            _both(self.passes, other.passes), _both(self.values, other.values), np.concatenate((self.sets, other.sets)),
        )  # fmt: skip


def _both(a: Mapping[Key, np.ndarray], b: Mapping[Key, np.ndarray]) -> dict[Key, np.ndarray]:
    return {k: np.concatenate((a[k], b[k])) for k in a}


@dataclass(frozen=True)
class First:
    """A value worth measuring: what it is, the share of the variance it carries, the chance if it turns out as entered."""

    name: str
    part: str
    field: str
    basis: str
    share: float
    then: float


@dataclass(frozen=True)
class Chance:
    """The chance of one target, or of a whole set, with its error; `values` of the homes, their limit; what to measure first."""

    key: Key
    chance: float
    error: float
    firsts: tuple[First, ...]
    values: tuple[float, ...] = ()
    limit: float | None = None
    figure: str = ""
    kind: str = ""
    homes: int = SETS * OF
    unknown: tuple[str, ...] = ()
    """Targets of the set that are not known, and not counted."""

    passes: tuple[bool, ...] = ()
    """Of the homes of `values`, by any way."""
    other_way: bool = False

    @property
    def words(self) -> str:
        """“64 %”; none or all of so many homes: “under 0.6 %”, “over 99.4 %”."""
        least = 300.0 / self.homes  # none of n: below 3/n with 95 %
        if self.chance <= 0:
            return f"under {least:.1f} %"
        if self.chance >= 1:
            return f"over {100 - least:.1f} %"
        return f"{100 * self.chance:.0f} %"


def keys_of(verdicts: Iterable[Verdict]) -> tuple[Key, ...]:
    """Every set as a whole, then every target that is more than voluntary."""
    rows = [v for v in verdicts if not v.voluntary]
    return (*dict.fromkeys((v.set_id, WHOLE) for v in rows), *((v.set_id, v.name) for v in rows))


def margin_of(verdicts: Sequence[Verdict], key: Key) -> float:
    """How far over its limit a target is, or the worst target of a set of those that are known; nan where none is."""
    if key[1] != WHOLE:
        return ratio_of(verdicts, key)
    known = [r for v in verdicts if v.set_id == key[0] and not v.voluntary and not isnan(r := ratio_of(verdicts, (v.set_id, v.name)))]
    return max(known, default=nan)


def passing(verdicts: Sequence[Verdict], key: Key) -> bool:
    """Whether a target is met, or every target of a set that is known."""
    rows = [v for v in verdicts if v.set_id == key[0] and (v.name == key[1] or (key[1] == WHOLE and not v.voluntary))]
    return all(v.standing == "inside" for v in rows if not isnan(ratio_of(verdicts, (v.set_id, v.name))))


def _value(verdicts: Iterable[Verdict], key: Key) -> float:
    """What the first way of a target comes to."""
    for v in verdicts:
        if (v.set_id, v.name) == key and v.ways and v.ways[0].value is not None:
            return float(v.ways[0].value)
    return nan


def sobol(variables: int, seed: int, homes: int = OF) -> np.ndarray:
    """One scrambled set in (0, 1) of shape (homes, variables), the same for the same seed."""
    from scipy.stats import qmc  # a slow library: only where it is used

    found: np.ndarray = qmc.Sobol(max(variables, 1), scramble=True, rng=np.random.default_rng(seed)).random(homes)
    return found[:, :variables]


def normal(rows: Sequence[Uncertain], u: np.ndarray) -> np.ndarray:
    """Standard deviations off for shares in (0, 1): a normal distribution cut at what can be."""
    from scipy.special import ndtri

    ends = np.array([r.shares for r in rows]).reshape(len(rows), 2)
    return ndtri(ends[:, 0] + u * (ends[:, 1] - ends[:, 0]))  # type: ignore[no-any-return]


class Judge:
    """One home differently, again and again: its verdicts with its values so many standard deviations off."""

    def __init__(self, a: Assessment) -> None:
        self.base = plain(a)
        self.rows = uncertain(self.base)
        self.keys = keys_of(a.verdicts)
        self.at = as_entered(self.base, self.rows)

    def verdicts(self, z: Iterable[float]) -> tuple[Verdict, ...]:
        return trial(self.base, (with_values(self.base.home, self.rows, z, self.at),), ONLY).verdicts

    def carrying(self) -> Judge:
        """Above MOST variables with those alone that carry nearly all of the variance of any target."""
        if len(self.rows) <= MOST:
            return self
        start = np.array([margin_of(self.base.verdicts, k) for k in self.keys])
        found = np.zeros((len(self.rows), len(self.keys)))
        for n in range(len(self.rows)):
            z = np.zeros(len(self.rows))
            low, high = self.rows[n].cut
            z[n] = min(1.0, high) or max(-1.0, low)  # where it can only be less, less
            found[n] = [margin_of(self.verdicts(z), k) for k in self.keys]
        moved = np.nan_to_num(found - start) ** 2
        kept: set[int] = set()
        for column in moved.T:
            order, whole = np.argsort(-column), float(column.sum())
            if whole > 0:
                kept.update(int(i) for i in order[: int(np.searchsorted(np.cumsum(column[order]), VARIANCE * whole)) + 1])
        self.rows = tuple(r for n, r in enumerate(self.rows) if n in kept)
        self.at = as_entered(self.base, self.rows)
        return self


def sampled(a: Assessment, seeds: Sequence[int] = range(SETS), homes: int = OF, of: str = "") -> Sample:
    """The home so many times differently. of: judged by this target set alone."""
    judge = Judge(narrowed_to(a, (of, WHOLE)) if of else a).carrying()
    rows, keys = judge.rows, judge.keys
    z = np.concatenate([normal(rows, sobol(len(rows), seed, homes)) for seed in seeds])
    margins = {k: np.full(len(z), nan) for k in keys}
    passes = {k: np.zeros(len(z), bool) for k in keys}
    values = {k: np.full(len(z), nan) for k in keys if k[1] != WHOLE}
    for n, row in enumerate(z):
        try:
            verdicts = judge.verdicts(row)
        except ChangeRefused:  # what cannot be built is not known
            continue
        for k in keys:
            margins[k][n], passes[k][n] = margin_of(verdicts, k), passing(verdicts, k)
        for k in values:
            values[k][n] = _value(verdicts, k)
        if n % 8 == 7:
            tell((n + 1) / len(z))
    return Sample(rows, z, margins, passes, values, np.repeat(np.asarray(seeds), homes))


def chance_of(sample: Sample, key: Key, verdicts: Sequence[Verdict] = ()) -> Chance | None:
    """The chance of a target, or a set, of a sample; None where it is not known for any home. A home it is not known for does not pass."""
    margins = sample.margins[key]
    known = ~np.isnan(margins)
    if not known.any():
        return None
    passes = sample.passes[key] & known
    means = np.array([passes[sample.sets == s].mean() for s in np.unique(sample.sets)])
    error = float(means.std(ddof=1) / sqrt(len(means))) if len(means) > 1 else 0.0
    way = next((v.ways[0] for v in verdicts if (v.set_id, v.name) == key and v.ways), None)
    values = sample.values.get(key)
    return Chance(
        key, float(means.mean()), error, tuple(_firsts(sample, margins, known, passes)),
        tuple(float(v) for v in values[~np.isnan(values)]) if values is not None else (),
        float(way.limit) if way is not None and way.limit is not None else None,
        way.key if way is not None else "", way.kind if way is not None else "", len(margins), _unknown(sample, key),
        tuple(bool(p) for p in passes[~np.isnan(values)]) if values is not None else (), _other_way(values, passes, way),
    )  # fmt: skip


def _other_way(values: np.ndarray | None, passes: np.ndarray, way: WayResult | None) -> bool:
    """Whether some homes miss the first way of a target and meet it by another."""
    if values is None or way is None or way.limit is None:
        return False
    over = values > way.limit if way.sense == "max" else values < way.limit
    return bool((passes & over).any())


def _unknown(sample: Sample, key: Key) -> tuple[str, ...]:
    if key[1] != WHOLE:
        return ()
    return tuple(name for (of, name), m in sample.margins.items() if of == key[0] and name != WHOLE and np.isnan(m).all())


def _firsts(sample: Sample, margins: np.ndarray, known: np.ndarray, passes: np.ndarray) -> Iterable[First]:
    """What moves the margin most, by linear regression on the sample, and the chance if it turned out as entered."""
    z, y = sample.z[known], margins[known]
    met = max(float(y[passes[known]].max(initial=0.0)), 0.0)  # by rounding a little over the limit
    if len(y) < 3 or not z.shape[1]:
        return
    whole = float(y.var())
    if whole < 1e-12:
        return  # nothing moves it
    columns = np.column_stack((np.ones(len(z)), z))
    found = np.linalg.lstsq(columns, y, rcond=None)[0]
    slopes, left = found[1:], float(np.sum((y - columns @ found) ** 2)) / max(len(y) - len(found), 1)
    spread = slopes**2 * z.var(axis=0)
    for n in np.argsort(-spread)[:FIRST]:
        share = float(spread[n]) / whole
        if share < max(LEAST, 9 * left / len(y) / whole):
            return  # what regression finds in a value that moves nothing
        row = sample.rows[n]
        yield First(row.name, row.part, row.field, row.basis, min(share, 1.0), float(np.mean(y - slopes[n] * z[:, n] <= met)))
