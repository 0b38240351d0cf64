"""The plan of an assessment: all stages in order, who reads what, and how a read is resolved."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import lru_cache
from graphlib import CycleError, TopologicalSorter
from operator import is_
from typing import Any

import numpy as np

from nuthatch.core.graph.stage import Family, HomeRead, Member, Named, Read, Slot, Special, Stage, Those
from nuthatch.core.graph.wiring import Miswired, check
from nuthatch.core.model.part import Part, specs


@dataclass(frozen=True, eq=False)
class Plan:
    """Stages in an order in which each comes after those it reads, and in the order they were declared in: that of lists and questions;
    `readers` maps a result to the stages that read it."""

    order: tuple[Stage, ...]
    declared: tuple[Stage, ...]
    readers: dict[str, tuple[str, ...]]
    paths: dict[str, dict[str, tuple[str, ...]]] = field(default_factory=dict)
    publishing: tuple[str, ...] = ()

    def changed(self, old: object, new: object) -> set[str]:
        """Names of the stages that read a path whose value differs between two homes."""
        found: set[str] = set()
        for top, below in self.paths.items():
            if getattr(old, top) is getattr(new, top):
                continue
            for path, names in below.items():
                if not same(resolve(old, path), resolve(new, path)):
                    found.update(names)
        return found


def resolve(home: object, path: str) -> Any:
    """The value at a path, None where a part on the way is absent."""
    value = home
    for name in _names(path):
        if value is None:
            return None
        value = getattr(value, name)
    return value


@lru_cache(maxsize=1024)
def _names(path: str) -> tuple[str, ...]:
    return tuple(path.split("."))


def holder(home: Any, path: str) -> tuple[Part | None, str]:
    """(the part that holds the field at a path, the field)."""
    above, _, name = path.rpartition(".")
    return (resolve(home, above) if above else home), name


def is_quantity(part: Part, name: str) -> bool:
    """Whether a field of a part holds a quantity."""
    spec = specs(type(part)).get(name)
    return spec is not None and spec.is_quantity


def same(a: Any, b: Any) -> bool:
    """Equal by value; results of calculations are the same only if they are one object, for their workings may differ."""
    if a is b:
        return True
    if type(a) is not type(b):
        return False
    if type(a) is dict:
        if list(a) != list(b):  # the order too: it is that of the drawings, the lists and the sums
            return False
        return all(map(is_, a.values(), b.values())) or all(map(same, a.values(), map(b.__getitem__, a)))
    if type(a) is tuple:
        return len(a) == len(b) and (all(map(is_, a, b)) or all(map(same, a, b)))
    if isinstance(a, np.ndarray):
        return bool(np.array_equal(a, b))
    return bool(a == b)


def _home_path(read: Read) -> str:
    return read.path if isinstance(read, HomeRead | Named | Those) else ""


def _result(read: Read) -> str:
    if isinstance(read, Slot | Family):
        return read.name
    return read.family if isinstance(read, Member) else ""


def all_reads(stage: Stage) -> tuple[Read, ...]:
    """Everything a stage reads, the list it runs over included."""
    return (*stage.reads.values(), *((stage.each,) if stage.each is not None else ()))


def plan(stages: Iterable[Stage]) -> Plan:
    """Put stages in order, each checked. Raises Miswired."""
    by_name: dict[str, Stage] = {}
    for stage in stages:
        if stage.name in by_name:
            raise Miswired(f"two stages give “{stage.name}”: {by_name[stage.name].place} and {stage.place}")
        check(stage)
        by_name[stage.name] = stage
    publishing = tuple(n for n, s in by_name.items() if isinstance(s.gives, Slot) and s.gives.figures)
    below = {name: dict.fromkeys(_needed(stage, publishing)) for name, stage in by_name.items()}
    for name, needed in below.items():
        for wanted in needed:
            if wanted not in by_name:
                raise Miswired(f"“{name}” ({by_name[name].place}) reads “{wanted}”, which no stage gives")
    try:
        order = tuple(by_name[name] for name in TopologicalSorter(below).static_order())
    except CycleError as circle:
        raise Miswired(f"stages read in a circle: {' → '.join(reversed(circle.args[1]))}") from None
    return Plan(order, tuple(by_name.values()), _readers(order, publishing), _paths(order), publishing)


@lru_cache(maxsize=64)
def narrowed(whole: Plan, stages: frozenset[str], figures: frozenset[str]) -> Plan:
    """The part of a plan that works out the named stages and published figures; who reads all figures reads those only."""
    by_name = {s.name: s for s in whole.order}
    publishing = tuple(n for n in whole.publishing if figures & set(by_name[n].gives.figures))  # type: ignore[union-attr]
    kept: set[str] = set()
    open_ = [*stages, *publishing]
    while open_:
        name = open_.pop()
        if name not in kept:
            kept.add(name)
            open_ += _needed(by_name[name], publishing)
    order, declared = (tuple(s for s in stages if s.name in kept) for stages in (whole.order, whole.declared))
    return Plan(order, declared, _readers(order, publishing), _paths(order), publishing)


def _needed(stage: Stage, publishing: tuple[str, ...]) -> list[str]:
    names = [n for r in all_reads(stage) if (n := _result(r))]
    if any(isinstance(r, Special) and r.what == "figures" for r in all_reads(stage)):
        names += [n for n in publishing if n != stage.name]
    return names


def _readers(stages: Iterable[Stage], publishing: tuple[str, ...]) -> dict[str, tuple[str, ...]]:
    found: dict[str, list[str]] = {}
    for stage in stages:
        names = dict.fromkeys(_needed(stage, publishing))
        if any(isinstance(r, Special) and r.what == "climate" for r in all_reads(stage)):
            names["climate"] = None
        for name in names:
            found.setdefault(name, []).append(stage.name)
    return {k: tuple(v) for k, v in found.items()}


def _paths(stages: Iterable[Stage]) -> dict[str, dict[str, tuple[str, ...]]]:
    found: dict[str, dict[str, tuple[str, ...]]] = {}
    for stage in stages:
        for path in {p for r in all_reads(stage) if (p := _home_path(r))}:
            below = found.setdefault(path.partition(".")[0], {})
            below[path] = (*below.get(path, ()), stage.name)
    return found
