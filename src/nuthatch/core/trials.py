"""One home differently: the one way to try a change. Options, weights, tiers compared, starter envelopes, inverse questions and the chance of
passing all go through `trial`: the same edits, the same stages, only what is asked for."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field

from nuthatch.core.assess import Assessment, assessed
from nuthatch.core.changes.changes import Change, apply
from nuthatch.core.graph.memo import Memo
from nuthatch.core.graph.plan import narrowed
from nuthatch.core.graph.runner import Beside, State, Stores, published, run
from nuthatch.core.heatflow.following import fixed
from nuthatch.core.heatflow.stages import FOLLOWED
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.figure import Figure
from nuthatch.core.targets import conditions
from nuthatch.core.targets.stages import JUDGED
from nuthatch.core.targets.verdict import Verdict

VERDICTS = "verdicts"
"""Asked for beside keys of figures: every target of every set, under its conditions."""


@dataclass(frozen=True, eq=False)
class Trial:
    """What was asked for of a home with changes on it, and nothing else: figures by key, verdicts, or all there is, `whole`."""

    home: Home
    figures: Mapping[str, Figure] = field(default_factory=dict)
    verdicts: tuple[Verdict, ...] = ()
    whole: Assessment | None = None


def trial(a: Assessment, changes: Iterable[Change], only: frozenset[str] | None = None, beside: Beside | None = None) -> Trial:
    """A home with changes on it; what they do not touch is taken over from `a`. Nothing is kept of it, and nothing slow is run but what is prompt (the
    hours of a year): what rests on another slow result that is not there is computing.

    Details keep the ψ they have: they are slow to solve anew.

    only: keys of figures, and VERDICTS; by default everything. beside: what many trials share, where they have parts in common. Raises ChangeRefused for a change whose target is gone or that the home
    refuses.
    """
    home: Home = a.home
    changes = tuple(changes)
    if changes and home.details:
        home = replace(home, details=tuple(fixed(d) for d in a.all_of(FOLLOWED).values()))
    for change in changes:
        home = apply(change, home)
    if only is None:
        made = home_trial(a, home)
        return Trial(home, made.figures, made.verdicts, made)
    keys = only - {VERDICTS}
    beside = beside if beside is not None else Beside()
    verdicts = tuple(_verdicts(a, home, beside)) if VERDICTS in only else ()
    return Trial(home, _figures(a, home, keys, beside) if keys else {}, verdicts)


def home_trial(a: Assessment, home: Home, wait: bool = False, only: frozenset[str] | None = None) -> Assessment:
    """The same home differently, whole: what does not differ is taken over from `a`; nothing is kept, nothing slow is run unless it is waited
    for. only: keys of figures; verdicts and what these rest on are worked out, all else stays as it was."""
    return a if home is a.home else assessed(a.plan, home, a.state.climate, a, _apart(a), wait, only)


def figures_trial(a: Assessment, home: Home, keys: frozenset[str]) -> Mapping[str, Figure]:
    """Some figures of the home differently, as designed; what is slow is waited for."""
    return _figures(a, home, keys, Beside(), True)


def _apart(a: Assessment) -> Stores:
    """Slow results are found; states of a trial are not kept."""
    return Stores(Memo(0), a.state.stores.slow, True)


def _figures(a: Assessment, home: Home, keys: frozenset[str], beside: Beside, wait: bool = False) -> dict[str, Figure]:
    """Figures of the home as designed."""
    plan = narrowed(a.plan, frozenset(), keys)
    state = run(plan, home, a.state.climate, a.state, _apart(a), wait, beside)
    return {k: f for k, f in published(plan, state.values, "figures").items() if k in keys}


def _verdicts(a: Assessment, home: Home, beside: Beside) -> Iterator[Verdict]:
    """Every target in the order of the sets, each set under its conditions, from what it was under them before."""
    grouped = conditions.groups(home)
    under = {s.id: key for key, sets in grouped.items() for s in sets}
    plain = tuple(s for s in home.target_sets if s.id not in under)
    states = {key: _judged(a, home, sets, a.judged.get(key), beside) for key, sets in grouped.items()}
    designed = _judged(a, home, plain, None, beside) if plain else None
    for chosen in home.target_sets:
        state = states[under[chosen.id]] if chosen.id in under else designed
        assert state is not None
        yield from (v for v in state.values[JUDGED.name].verdicts if v.set_id == chosen.id)


def _judged(a: Assessment, home: Home, sets: tuple[TargetSet, ...], before: Assessment | None, beside: Beside) -> State:
    """The state some sets judge: only what their own limits rest on is worked out."""
    plan = narrowed(a.plan, frozenset({JUDGED.name}), asked_for(sets))
    if conditions.key_of(sets[0], home) == conditions.plain_key(home):
        return run(plan, home, a.state.climate, a.state, _apart(a), False, beside)
    if before is None:
        return run(plan, conditions.as_judged(home, sets), a.state.climate, a.state, _apart(a), False, beside)
    twin = conditions.moved_along(a.home, before.home, home, sets)
    return run(plan, twin, a.state.climate, before.state, _apart(a), False, beside)


def asked_for(sets: Iterable[TargetSet]) -> frozenset[str]:
    """The figures that the limits of sets rest on; cases of a limit ask for the size."""
    ways = [w for s in sets for t in s.targets for w in t.ways]
    limits = {w.limit_figure for w in ways if w.limit_figure} | {w.rise.figure for w in ways if w.rise is not None}
    return frozenset({w.figure for w in ways} | limits | {"reference_floor_area"})
