"""What closes the gap: for every lever of the home the value at which a target is just met, or how far it comes at its bound."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from dataclasses import replace as replaced
from math import isnan, nan

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Change, ChangeRefused, Insert, SetValue, apply
from nuthatch.core.fabric.stages import FACE
from nuthatch.core.graph.progress import tell
from nuthatch.core.graph.runner import Beside
from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.model.options import ChangeData
from nuthatch.core.model.part import replace
from nuthatch.core.options.applied import flat, written
from nuthatch.core.options.ready import given
from nuthatch.core.solid.thickness import effective_layers
from nuthatch.core.targets.verdict import Verdict
from nuthatch.core.trials import VERDICTS, home_trial, trial

POINTS = 17
"""So many values of a lever are tried between its bounds."""
INSULATES = 0.066
"""Layers of less λ insulate [W/(m·K)]."""
MORE, ADDED = 0.4, 0.4
"""How much thicker a layer may become, and how thick a new one [m]."""
PRECISE = 1e-4
WHOLE = ""
"""Instead of the name of a target: every target of the set."""
Key = tuple[str, str]
"""Of a target: its set and its name."""
ONLY = frozenset({VERDICTS})
SOLVES, NEAR = 3, 0.15
"""How often details are solved anew for an answer, and how far from the first one [share of the range] the exact one is sought."""


@dataclass(frozen=True)
class Lever:
    """One value of the home that can be chosen: name, kind of quantity, as it is and what can be built [SI]; the changes for a value."""

    id: str
    name: str
    kind: str
    today: float
    low: float
    high: float
    changes: Callable[[float], tuple[Change, ...]]


@dataclass(frozen=True)
class Answer:
    """A lever against a target: the value at which it is just met, nearest to today's, None where none is; how far over the limit the home is
    left at the better bound, in units of the target's figure (below 0: inside); `jumps`: the target is passed in a step, not met."""

    lever: Lever
    at: float | None
    leaves: float | None
    jumps: bool = False
    unknown: bool = False


def levers(a: Assessment) -> tuple[Lever, ...]:
    """Every lever this home has."""
    return (*_layers(a), *_glass(a), *_air(a), *_sources(a))


def _layers(a: Assessment) -> Iterator[Lever]:
    for build in a.home.buildups:
        used = [
            e for e in a.all_of(FACE).values() if e.boundary is not None and e.boundary.buildup == build.id and e.borders != "neighbour"
        ]
        if not used or build.u_detailed is not None:
            continue
        kept = [
            (x.thickness.value, x) for x in effective_layers(build) if x.thickness and x.conductivity and x.conductivity.value < INSULATES
        ]
        if kept:
            t, best = max(kept, key=lambda k: k[0])
            yield Lever(best.id, f"{best.name}, {build.name}", "thickness", t, min(0.02, t), t + MORE, _set(best.id, "thickness"))
        else:
            yield Lever(f"{build.id}+", f"insulation on {build.name}", "thickness", 0.0, 0.0, ADDED, _added(build))


def _set(part: str, field: str) -> Callable[[float], tuple[Change, ...]]:
    return lambda x: (SetValue(part=part, field=field, value=given(round(x, 6))),)


def _added(build: BuildUp) -> Callable[[float], tuple[Change, ...]]:
    index = len(build.layers) - len(effective_layers(build))

    def change(x: float) -> tuple[Change, ...]:
        if x < 1e-6:
            return ()
        layer = Layer(
            id=f"{build.id}.lever", name="Insulation board, 0.035", thickness=given(round(x, 6)), conductivity=given(0.035), mu=given(1.0)
        )
        return (Insert(owner=build.id, field="layers", index=index, value=layer),)

    return change


def _glass(a: Assessment) -> Iterator[Lever]:
    used = {o.type for o in a.home.openings}
    for kind in a.home.opening_types:
        field = "whole_u" if kind.entry == "whole window" else "glass_u" if kind.glass_from == "U_g as given" else ""
        value = kind[field] if field else None
        if kind.id in used and value is not None:
            name = f"{'U' if field == 'whole_u' else 'U of the glass'}, {kind.name}"
            yield Lever(f"{kind.id}.{field}", name, "u", value.value, 0.5, max(value.value, 0.6), _set(kind.id, field))


def _air(a: Assessment) -> Iterator[Lever]:
    n50 = a.figures["n50"].value
    if n50 is not None and float(n50) > 0:

        def sealed(x: float) -> tuple[Change, ...]:
            return SetValue(part="air", field="test", value=""), SetValue(part="air", field="n50", value=given(round(x, 6)))

        yield Lever("air.n50", "air change at 50 Pa", "ach", float(n50), 0.2, max(float(n50), 0.6), sealed)
    for unit in a.home.air.units:
        if unit.recovery is not None:
            yield Lever(
                f"{unit.id}.recovery", f"heat recovery, {unit.name}", "percent", unit.recovery.value, 0.0, 0.95, _set(unit.id, "recovery")
            )


def _sources(a: Assessment) -> Iterator[Lever]:
    for source in a.home.sources:
        if source.efficiency is not None:
            most = max(5.0 if source.efficiency.value > 1.2 else 1.0, source.efficiency.value)
            yield Lever(
                f"{source.id}.efficiency",
                f"efficiency, {source.name}",
                "percent",
                source.efficiency.value,
                0.5,
                most,
                _set(source.id, "efficiency"),
            )


def ratio_of(verdicts: Iterable[Verdict], key: Key) -> float:
    """How far a target is over its limit, as a share of it: 0 at the limit, its best way's; nan where it is not known."""
    for v in verdicts:
        if (v.set_id, v.name) == key:
            known = [w.ratio for w in v.ways if w.ratio is not None]
            return min(known) - 1.0 if known else nan
    return nan


def over_by(verdicts: Iterable[Verdict], key: Key) -> tuple[float, str] | None:
    """(how far over its limit, kind) of the better way of a target; None where it is not known."""
    for v in verdicts:
        if (v.set_id, v.name) == key:
            known = [w for w in v.ways if w.ratio is not None and w.value is not None and w.limit is not None]
            if known:
                best = min(known, key=lambda w: w.ratio or 0.0)
                return float(best.value) - float(best.limit), best.key  # type: ignore[arg-type]
    return None


@dataclass(frozen=True)
class Closed:
    """An answer as data, with the changes that make it an upgrade; `figure`: the key of what the target limits."""

    name: str
    kind: str
    today: float
    at: float | None
    leaves: float | None
    figure: str
    jumps: bool
    unknown: bool
    changes: tuple[ChangeData, ...] = ()
    reach: float = 0.0
    """How far the answer lies from today's value, as a share of what can be built."""


def closed(a: Assessment, key: Key, part: tuple[int, int] = (0, 1)) -> tuple[Closed, ...]:
    """What closes the gap to a target, as data. part: (n, of how many): every so manieth lever, for one of several processes."""
    figure = next((v.ways[0].key for v in a.verdicts if (v.set_id, v.name) == key and v.ways), "")
    found = []
    for x in closing(a, key, part):
        changes = tuple(written(c) for c in flat(x.lever.changes(x.at))) if x.at is not None else ()
        reach = abs(x.at - x.lever.today) / max(x.lever.high - x.lever.low, 1e-9) if x.at is not None else 0.0
        found.append(Closed(x.lever.name, x.lever.kind, x.lever.today, x.at, x.leaves, figure, x.jumps, x.unknown, changes, reach))
    return nearest_first(found)


def nearest_first(rows: Iterable[Closed]) -> tuple[Closed, ...]:
    """Those that close it first, the one first that moves least of what can be built; then those that come nearest."""
    return tuple(sorted(rows, key=lambda x: (x.at is None, (x.leaves if x.leaves is not None else 1e9) if x.at is None else x.reach)))


def narrowed_to(a: Assessment, key: Key) -> Assessment:
    """The home with the set of a target alone, and with that target alone where its set gives no points: the others need not be judged."""
    chosen = next((s for s in a.home.target_sets if s.id == key[0]), None)
    if chosen is None:
        return a
    if key[1] != WHOLE and chosen.points_needed is None:
        chosen = replace(chosen, targets=tuple(t for t in chosen.targets if t.name == key[1]) or chosen.targets)
    return home_trial(a, replace(a.home, target_sets=(chosen,)), wait=True)


def closing(a: Assessment, key: Key, part: tuple[int, int] = (0, 1)) -> tuple[Answer, ...]:
    """Every lever against one target (set, name): what would just meet it, the nearest to today's value. Details keep their ψ until the value
    is found (see trial)."""
    whole = a = narrowed_to(a, key)
    known = levers(a)[part[0] :: part[1]]
    found = []
    for n, lever in enumerate(known):
        answer = _tried(a, lever, key)
        found.append(_exact(whole, answer, key) if a.home.details else answer)
        tell((n + 1) / len(known))
    return tuple(found)


def _exact(whole: Assessment, answer: Answer, key: Key) -> Answer:
    """The same with details that follow what is tried: solved anew near the value that was found without, until what they add no longer
    moves it."""
    from scipy.optimize import brentq  # a slow library: only where it is used

    lever = answer.lever
    if answer.at is None or answer.jumps or lever.kind != "thickness":
        return answer

    def solved(x: float) -> float:
        home = whole.home
        for change in lever.changes(x):
            home = apply(change, home)
        return ratio_of(home_trial(whole, home, wait=True).verdicts, key)

    def quick(x: float) -> float:
        return ratio_of(trial(whole, lever.changes(x), ONLY).verdicts, key)

    x = answer.at
    for _ in range(SOLVES):
        here = solved(x)
        if abs(here) < 5e-4 or isnan(here):
            break
        added = here - quick(x)
        low, high = max(lever.low, x - NEAR * (lever.high - lever.low)), min(lever.high, x + NEAR * (lever.high - lever.low))
        ends = quick(low) + added, quick(high) + added
        if not ends[0] * ends[1] < 0:
            break
        x = float(brentq(lambda v: quick(v) + added, low, high, xtol=1e-4))  # noqa: B023  # used here and now
    return replaced(answer, at=x)


def _tried(a: Assessment, lever: Lever, key: tuple[str, str]) -> Answer:
    beside = Beside()

    def verdicts(x: float) -> tuple[Verdict, ...]:
        return trial(a, lever.changes(x), ONLY, beside).verdicts

    try:
        roots, jumps, best = roots_of(lambda x: ratio_of(verdicts(x), key), lever)
    except (ChangeRefused, NothingKnown):
        return Answer(lever, None, None, unknown=True)
    at = min(roots, key=lambda x: abs(x - lever.today), default=None)
    over = over_by(verdicts(best), key)
    return Answer(lever, at, over[0] if over is not None else None, jumps and at is not None)


class NothingKnown(ValueError):
    """The target is known at no value of a lever."""


def roots_of(margin: Callable[[float], float], lever: Lever) -> tuple[list[float], bool, float]:
    """(values at which a target is just met, whether one is a jump, the best value tried): at 17 points within what can be built, every change
    of sign refined. Raises NothingKnown."""
    from scipy.optimize import brentq  # a slow library: only where it is used

    grid = np.unique(np.append(np.linspace(lever.low, lever.high, POINTS), lever.today))
    values = np.array([margin(float(x)) for x in grid])
    if np.isnan(values).all():
        raise NothingKnown
    roots, jumps = [], False
    for n in range(len(grid) - 1):
        u, v = values[n], values[n + 1]
        if np.isnan(u) or np.isnan(v) or (u > 0) == (v > 0):
            continue
        x = (
            float(brentq(margin, grid[n], grid[n + 1], xtol=PRECISE * (lever.high - lever.low), rtol=1e-10))
            if u * v < 0
            else float(grid[n] if u == 0 else grid[n + 1])
        )
        jumps = jumps or abs(margin(x)) > 0.02
        roots.append(x)
    return roots, jumps, float(grid[int(np.nanargmin(values))])
