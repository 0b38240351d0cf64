"""Runs a plan for a home: only stages whose reads differ from last time, slow ones as jobs unless they are waited for."""

from __future__ import annotations

import logging
import sys
import time
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from nuthatch.core.graph.collector import put_off
from nuthatch.core.graph.digest import code_of, digest
from nuthatch.core.graph.memo import IN_MEMORY, Kept, Memo
from nuthatch.core.graph.plan import Plan, holder, is_quantity, resolve, same
from nuthatch.core.graph.progress import heard_by
from nuthatch.core.graph.stage import ITEM, Family, HomeRead, Member, Named, Read, Slot, Special, Stage, Those
from nuthatch.core.model.part import specs
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import missing

LOG = logging.getLogger("nuthatch")
OF_A_STATE, OF_A_STAGE = 10_000, 6_000
"""About how many bytes a state holds by itself, and a stage that ran for it: the rest it shares with the state before."""


@dataclass(frozen=True, eq=False)
class Pending:
    """A run of a slow stage that is waited for: `key` is the digest of all it reads; `function(**arguments)` gives its result."""

    key: str
    stage: Stage
    arguments: Mapping[str, object]
    since: float

    @property
    def name(self) -> str:
        return self.stage.name

    def work(self) -> object:
        """Its result, worked out here."""
        return self.stage.function(**self.arguments)


@dataclass(frozen=True, eq=False)
class State:
    """What is known of one home: results by name, the reads they were made from, what is still pending, what ran."""

    home: object
    climate: Any
    values: dict[str, Any]
    reads: dict[str, object]
    pending: tuple[Pending, ...]
    ran: tuple[str, ...]
    stores: Stores = field(repr=False)

    @property
    def memo(self) -> Memo:
        return self.stores.memo


@dataclass(frozen=True, eq=False)
class Stores:
    """Where results are found again: states of one home, for undo; results of slow stages. trial: of a home tried differently, where what is
    slow may be as it was before."""

    memo: Memo = field(default_factory=Memo)
    slow: Kept = IN_MEMORY
    trial: bool = False


NOWHERE = Kept(room=0)
"""Where results of trials are not kept."""


class Beside:
    """Results by name with what they were made from, the last `number` of each: what several runs over like homes share."""

    def __init__(self, number: int = 1) -> None:
        self._number = number
        self._known: dict[str, list[tuple[object, object]]] = {}

    def get(self, name: str, reads: tuple[object, ...]) -> tuple[object] | None:
        """The result that was made from the same; None where there is none."""
        rows = self._known.get(name, [])
        for n, (known, made) in enumerate(rows):
            if same(known, reads):
                if n:
                    rows.insert(0, rows.pop(n))
                return (made,)
        return None

    def put(self, name: str, reads: tuple[object, ...], made: object) -> None:
        rows = self._known.setdefault(name, [])
        rows.insert(0, (reads, made))
        del rows[self._number :]


def run(
    plan: Plan,
    home: object,
    climate: object,
    previous: State | None = None,
    stores: Stores | None = None,
    wait: bool = True,
    beside: Beside | None = None,
    also: State | None = None,
) -> State:
    """The state of a home. wait: slow stages run here and now; else what is not there yet is computing and pending. beside: what runs over
    like homes have worked out is taken from there, and put there. also: a second state whose results are taken where they were made from
    the same, such as that of a home under conditions before its last edit."""
    where = stores if stores is not None else previous.stores if previous is not None else Stores()
    kept = where.memo
    token = ("state", id(plan), id(home), id(climate))
    found: State | None = kept.get(token)
    if found is not None and found.home is home and found.climate is climate and not found.pending:
        return replace(found, ran=())
    with put_off():
        made = _Run(plan, home, climate, previous, where, wait, beside, also).state()
    if not made.pending:
        kept.put(token, made, OF_A_STATE + OF_A_STAGE * len(made.ran))
    return made


class _Run:
    """One run over the plan."""

    def __init__(
        self,
        plan: Plan,
        home: object,
        climate: object,
        previous: State | None,
        stores: Stores,
        wait: bool,
        beside: Beside | None,
        also: State | None = None,
    ) -> None:
        self.also, self._also_waits = also, {p.name for p in also.pending} if also is not None else set()
        self.plan, self.home, self.climate, self.previous, self.stores, self.wait = plan, home, climate, previous, stores, wait
        self.values: dict[str, Any] = dict(previous.values) if previous else {}
        self.reads: dict[str, Any] = dict(previous.reads) if previous else {}
        self.pending: list[Pending] = []
        self.ran: list[str] = []
        self.beside = beside
        self._waited = {p.key: p.since for p in previous.pending} if previous else {}
        self._waits = {p.name for p in previous.pending} if previous else set()
        self._by_id: dict[str, dict[str, object]] = {}
        self._told = Told()
        self._naming: dict[tuple[str, str], dict[str, tuple[object, ...]]] = {}

    def state(self) -> State:
        before = self.previous
        if before is None:
            due = {s.name for s in self.plan.order}
        else:
            due = self.plan.changed(before.home, self.home) | {p.name for p in before.pending}
            due.update(s.name for s in self.plan.order if s.name not in before.values)
            if before.climate is not self.climate:
                due.update(self.plan.readers.get("climate", ()))
        for stage in self.plan.order if due else ():
            if stage.name not in due:
                continue
            new = self._each(stage) if stage.each is not None else self._once(stage)
            if stage.name not in self.values or not same(new, self.values[stage.name]):
                self.values[stage.name] = new
                due.update(self.plan.readers.get(stage.name, ()))
        return State(self.home, self.climate, self.values, self.reads, tuple(self.pending), tuple(self.ran), self.stores)

    def _once(self, stage: Stage) -> object:
        reads = tuple([self._read(r, None) for r in stage.reads.values()])
        if self._unchanged(stage, self.reads.get(stage.name), reads):
            return self.values[stage.name]
        self.reads[stage.name] = reads
        return self._result(stage, stage.name, None, reads)

    def _each(self, stage: Stage) -> dict[str, object]:
        assert stage.each is not None
        items = self._read(stage.each, None)
        old_reads, old = self.reads.get(stage.name, {}), self.values.get(stage.name, {})
        reads: dict[str, object] = {}
        made: dict[str, object] = {}
        shared = [None if isinstance(r, OF_THE_ITEM) or r is ITEM else self._read(r, None) for r in stage.reads.values()]
        own = [(i, r) for i, r in enumerate(stage.reads.values()) if isinstance(r, OF_THE_ITEM) or r is ITEM]
        kept = self._as_before(shared, {i for i, _ in own}, next(iter(old_reads.values()), None))
        for item in items.values() if isinstance(items, dict) else items or ():
            ident = item.id
            for i, read in own:
                shared[i] = self._read(read, item)
            now = tuple(shared)
            if kept and ident in old and self._unchanged(stage, old_reads.get(ident), now):
                made[ident], reads[ident] = old[ident], old_reads[ident]
                continue
            reads[ident] = now
            made[ident] = self._result(stage, f"{stage.name}/{ident}", item, now)
        self.reads[stage.name] = reads
        return made

    @staticmethod
    def _as_before(shared: list[object], own: set[int], old: tuple[object, ...] | None) -> bool:
        """Whether what all items of a list read is as last time, compared once for all of them; what is equal becomes the very same."""
        if old is None:
            return True
        for i, value in enumerate(shared):
            if i not in own:
                if not same(old[i], value):
                    return False
                shared[i] = old[i]
        return True

    def _unchanged(self, stage: Stage, old: object, new: tuple[object, ...]) -> bool:
        """Whether the reads are those of last time, and the last time gave a result."""
        return old is not None and same(old, new) and stage.name not in self._waits

    def _in_other(self, stage: Stage, item: object, reads: tuple[object, ...]) -> tuple[object] | None:
        """The result of the second state, where it was made from the same."""
        if self.also is None or stage.name in self._also_waits:
            return None
        old, values = self.also.reads.get(stage.name), self.also.values.get(stage.name)
        if stage.each is not None:
            ident = getattr(item, "id", "")
            if not isinstance(old, dict) or not isinstance(values, dict) or ident not in old or ident not in values:
                return None
            old, values = old[ident], values[ident]
        return (values,) if old is not None and same(old, reads) else None

    def _result(self, stage: Stage, name: str, item: object, reads: tuple[object, ...]) -> object:
        other = self._in_other(stage, item, reads)
        if other is not None:
            return other[0]
        if self.beside is not None:
            known = self.beside.get(name, reads)
            if known is not None:
                return known[0]
            made = self._worked_out(stage, name, item, reads)
            self.beside.put(name, reads, made)
            return made
        return self._worked_out(stage, name, item, reads)

    def _worked_out(self, stage: Stage, name: str, item: object, reads: tuple[object, ...]) -> object:
        arguments = {key: self._argument(r, v, item) for (key, r), v in zip(stage.reads.items(), reads, strict=True)}
        if stage.kept:
            return self._kept(stage, name, arguments, reads)
        if not stage.slow or (stage.at_hand is not None and stage.at_hand(**dict(zip(stage.reads, reads, strict=True)))):
            self.ran.append(name)
            return stage.function(**arguments)
        key = key_of(stage, reads, self._told)
        found = self.stores.slow.get(key)
        if found is not None:
            return found
        pending = Pending(key, stage, arguments, self._waited.get(key, time.monotonic()))
        if self.wait:
            self.ran.append(name)
            return waited_for(pending, self.stores.slow)
        if self.stores.trial and stage.prompt:
            self.ran.append(name)
            at_once = replace(stage, function=stage.prompt) if callable(stage.prompt) else stage
            return waited_for(replace(pending, stage=at_once), NOWHERE)
        if self.stores.trial and stage.near is not None:
            before = self._before(stage, item, reads)
            if before is not None:
                return before[0]
        self.pending.append(pending)
        assert stage.waiting is not None
        return stage.waiting(pending.since)

    def _before(self, stage: Stage, item: object, reads: tuple[object, ...]) -> tuple[object] | None:
        """The result of the home that is tried differently, where what it was made from is near; None where it is not."""
        assert stage.near is not None
        if self.previous is None:
            return None
        old, values = self.previous.reads.get(stage.name), self.previous.values.get(stage.name)
        if stage.each is not None:
            ident = getattr(item, "id", "")
            if not isinstance(old, dict) or not isinstance(values, dict) or ident not in old or ident not in values:
                return None
            old, values = old[ident], values[ident]
        if not isinstance(old, tuple) or not stage.near(
            dict(zip(stage.reads, old, strict=True)), dict(zip(stage.reads, reads, strict=True))
        ):
            return None
        return (values,)

    def _kept(self, stage: Stage, name: str, arguments: dict[str, object], reads: tuple[object, ...]) -> object:
        """A result found by the content of what it is made from, or made and kept."""
        key = key_of(stage, reads, self._told)
        found = self.stores.slow.get(key, on_disk=False)
        if found is None:
            self.ran.append(name)
            found = stage.function(**arguments)
            self.stores.slow.put(key, found, lasting=False)
        return found

    def _read(self, read: Read, item: object) -> Any:
        """What a read gives, raw: compared by value with last time."""
        return _READING[type(read)](self, read, item)

    def _special(self, read: Special, item: object) -> object:
        if read is ITEM:
            return item
        return self.climate if read.what == "climate" else published(self.plan, self.values, "figures")

    def _named(self, read: Named, item: object) -> Any:
        """The part of a list by the id an attribute of the item gives."""
        if read.path not in self._by_id:
            self._by_id[read.path] = {p.id: p for p in resolve(self.home, read.path)}
        return self._by_id[read.path].get(getattr(item, read.attribute))

    def _those(self, read: Those, item: Any) -> tuple[object, ...]:
        """The parts of a list one of whose fields names the item."""
        key = (read.path, read.attribute)
        if key not in self._naming:
            found: dict[str, list[object]] = {}
            for part in resolve(self.home, read.path):
                found.setdefault(getattr(part, read.attribute), []).append(part)
            self._naming[key] = {k: tuple(v) for k, v in found.items()}
        return self._naming[key].get(item.id, ())

    def _argument(self, read: Read, value: object, item: object) -> object:
        """A read as the stage's function takes it: a quantity as the leaf of a working."""
        if type(read) is HomeRead and read.leaf:
            part, name = holder(self.home, read.path)
            if part is None:
                return missing(name, "fraction", name)
            if is_quantity(part, name):
                return need(part, name, specs(type(part))[name].label)
        return value


OF_THE_ITEM = (Member, Named, Those)
"""Reads that differ from part to part in an `each` stage, as the part itself does."""

_READING: dict[type[Read], Callable[[_Run, Any, object], object]] = {
    Slot: lambda run, read, _: run.values.get(read.name),
    Family: lambda run, read, _: run.values.get(read.name),
    HomeRead: lambda run, read, _: resolve(run.home, read.path),
    Member: lambda run, read, item: run.values[read.family].get(read.by(item)),
    Named: _Run._named,
    Those: _Run._those,
    Special: _Run._special,
}


def published(plan: Plan, values: dict[str, object], which: str) -> dict[str, Any]:
    """The published results by key, as far as they are there: `figures` or `months`."""
    found: dict[str, object] = {}
    for stage in plan.declared:
        if isinstance(stage.gives, Slot) and stage.name in values:
            for key, attribute in getattr(stage.gives, which).items():
                value = values[stage.name]
                found[key] = getattr(value, attribute) if attribute else value
    return found


def slots(plan: Plan, wanted: Callable[[Slot[object]], bool]) -> Iterator[Slot[Any]]:
    """The slots of a plan that are wanted, in order."""
    return (s.gives for s in plan.declared if isinstance(s.gives, Slot) and wanted(s.gives))


def key_of(stage: Stage, reads: tuple[object, ...], told: Told | None = None) -> str:
    """The digest of all that makes a slow result: the stage, its code, what it reads. told: where digests of reads are found again."""
    module = sys.modules.get(stage.function.__module__)
    code = code_of(module.__file__) if module is not None and module.__file__ else ""
    known = told if told is not None else Told()
    return digest(stage.name, code, stage.function, *[known.of(read) for read in reads])


class Told:
    """Digests of what several runs of a stage read, the very same objects."""

    def __init__(self) -> None:
        self._known: dict[int, tuple[object, str]] = {}

    def of(self, thing: object) -> str:
        """The digest of an object."""
        found = self._known.get(id(thing))
        if found is None:
            found = self._known[id(thing)] = thing, digest(thing)  # held, so that no other object gets its number
        return found[1]


def waited_for(pending: Pending, kept: Kept) -> object:
    """A slow result worked out here and kept; one that fails is said, and kept as what it is until its reads differ."""
    try:
        with heard_by(lambda _: None):  # whoever listens here waits for the whole, not for how far one of its results is
            value, lasting = pending.work(), True
    except Exception as error:
        value, lasting = no_result(pending, f"{type(error).__name__}: {error}"), False
        LOG.error("%s could not be worked out", pending.name, exc_info=error)
    kept.put(pending.key, value, lasting)
    return value


def no_result(pending: Pending, reason: str) -> object:
    """What stands for a slow result that there is none of, and why."""
    assert pending.stage.failed is not None
    return pending.stage.failed(f"a calculation that ends: {pending.name} did not ({reason})")
