"""Upgrades put on a home, in order: what each changes, and why one cannot be put."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from pydantic import TypeAdapter, ValidationError

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, apply
from nuthatch.core.changes.difference import difference
from nuthatch.core.model.home import Home
from nuthatch.core.model.options import ChangeData, Option, Upgrade

_CHANGES: TypeAdapter[Change] = TypeAdapter(Change)
SAME = "it is so already"


@dataclass(frozen=True)
class Put:
    """An upgrade on a home: the home after it, or as it was and why."""

    upgrade: Upgrade
    home: Home
    why: str = ""


def written(change: Change) -> ChangeData:
    """A change as an upgrade keeps it."""
    if isinstance(change, Batch):
        raise ValueError("a batch is kept as the changes it is made of")
    data = change.model_dump(mode="json", exclude_none=isinstance(change, Insert))
    return json.loads(json.dumps(data))  # type: ignore[no-any-return]


def flat(changes: Iterable[Change]) -> Iterator[Change]:
    """Changes without batches."""
    for change in changes:
        if isinstance(change, Batch):
            yield from flat(change.changes)
        else:
            yield change


@lru_cache(maxsize=4096)
def _read(text: str) -> Change:
    return _CHANGES.validate_python(json.loads(text))


def changes_of(upgrade: Upgrade) -> tuple[Change, ...]:
    """The changes of an upgrade. Raises ChangeRefused for one that cannot be read."""
    try:
        return tuple(_read(json.dumps(c, sort_keys=True)) for c in upgrade.changes)
    except ValidationError as fault:
        raise ChangeRefused(f"{upgrade.name} has a change that cannot be read: {fault.errors()[0]['msg']}") from None


def put(home: Home, upgrade: Upgrade) -> Put:
    """One upgrade on a home: all of it, or none."""
    try:
        made = apply(Batch(label=upgrade.name, changes=changes_of(upgrade)), home)
    except ChangeRefused as reason:
        return Put(upgrade, home, str(reason))
    if made is home or made == home:
        return Put(upgrade, home, SAME if upgrade.changes else "it changes nothing yet")
    return Put(upgrade, made)


def put_all(home: Home, upgrades: Iterable[Upgrade]) -> tuple[Put, ...]:
    """Upgrades one after the other; one that cannot be put is left out and says why."""
    found = []
    for upgrade in upgrades:
        one = put(home, upgrade)
        home = one.home
        found.append(one)
    return tuple(found)


def all_on(home: Home, upgrades: Sequence[Upgrade]) -> Home | None:
    """Upgrades at once; None where one of them cannot be put."""
    try:
        return apply(Batch(label="upgrades", changes=tuple(c for u in upgrades for c in changes_of(u))), home)
    except ChangeRefused:
        return None


def in_order(home: Home, option: Option) -> tuple[Upgrade, ...]:
    """The upgrades of an option: those of the option it builds on first, each once."""
    options: Mapping[str, Option] = {o.id: o for o in home.options}
    upgrades = {u.id: u for u in home.upgrades}
    chain: list[Option] = []
    at: Option | None = option
    while at is not None and at not in chain:  # one that builds on itself builds on nothing
        chain.insert(0, at)
        at = options.get(at.after)
    ids = dict.fromkeys(i for o in chain for i in o.upgrades if i in upgrades)
    return tuple(upgrades[i] for i in ids)


def home_with(home: Home, option: Option) -> Home:
    """The home with an option on it."""
    made = put_all(home, in_order(home, option))
    return made[-1].home if made else home


def captured(before: Home, after: Home) -> tuple[ChangeData, ...]:
    """What was done between two states of a home, as an upgrade keeps it."""
    return tuple(written(c) for c in flat(difference(before, after)))
