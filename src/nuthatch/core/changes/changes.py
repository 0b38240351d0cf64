"""Edits as data: a small union of typed changes, and one `apply`."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from operator import is_
from typing import Annotated, Any, Literal, ParamSpec, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from nuthatch.core.model.part import Basis, Given, Part, inner_fields, replace

Root = TypeVar("Root", bound=Part)
Given_ = ParamSpec("Given_")
Made = TypeVar("Made")


class ChangeRefused(ValueError):
    """The change does not fit the home; the message says why."""


class _Change(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", arbitrary_types_allowed=True)


class SetValue(_Change):
    """Set a field of a part; value as JSON data or as the field's own type."""

    op: Literal["set"] = "set"
    part: str
    field: str
    value: object = None


class Insert(_Change):
    """Insert a new part into a tuple field of its owner; index −1 appends."""

    op: Literal["insert"] = "insert"
    owner: str
    field: str
    index: int = -1
    value: Any


class Remove(_Change):
    """Remove a part from the list it stands in."""

    op: Literal["remove"] = "remove"
    part: str


class Move(_Change):
    """Move a part to another place in its list."""

    op: Literal["move"] = "move"
    part: str
    index: int


class Batch(_Change):
    """Several changes as one step of the history."""

    op: Literal["batch"] = "batch"
    label: str
    changes: tuple[Change, ...]


Change = Annotated[SetValue | Insert | Remove | Move | Batch, Field(discriminator="op")]
Batch.model_rebuild()


def refusing(make: Callable[Given_, Made]) -> Callable[Given_, Made]:
    """A maker of changes whose parts may not be valid: it raises ChangeRefused with the reason."""

    @wraps(make)
    def made(*args: Given_.args, **kwargs: Given_.kwargs) -> Made:
        try:
            return make(*args, **kwargs)
        except ValidationError as error:
            raise ChangeRefused(reason(error)) from error

    return made


def declared(value: float, source: str = "") -> Given:
    """A number a person typed: declared."""
    return Given(value=value, basis=Basis.DECLARED, source=source)


def _rebuilt(part: Part, targets: dict[str, object], edit: Callable[[Part], Part]) -> Part:
    """The same part where no target is at or below it, else a copy along the paths to the targets."""
    if getattr(part, "id", None) in targets:
        part = edit(part)
    changed: dict[str, object] = {}
    for name in inner_fields(type(part)):
        value = part[name]
        if isinstance(value, Part):
            new: object = _rebuilt(value, targets, edit)
        elif isinstance(value, tuple) and value and name != "target_sets":
            deep = bool(inner_fields(type(value[0])))  # type: ignore[arg-type]  # a class can always be hashed
            items = [_rebuilt(item, targets, edit) if deep or getattr(item, "id", None) in targets else item for item in value]
            new = tuple(items) if not all(map(is_, items, value)) else value
        else:
            continue
        if new is not value:
            changed[name] = new
    return replace(part, **changed) if changed else part


def _owner(part: Part, target: str) -> tuple[str, str, int] | None:
    """(owner id, field, index) of the list a part stands in."""
    for name in type(part).model_fields:
        value = part[name]
        if name == "target_sets":
            for index, item in enumerate(value):
                if item.id == target:
                    return "home", name, index
            continue
        children = value if isinstance(value, tuple) else (value,)
        for index, item in enumerate(children):
            if not isinstance(item, Part):
                continue
            if getattr(item, "id", None) == target and isinstance(value, tuple):
                return part.id, name, index  # type: ignore[attr-defined]
            below = _owner(item, target)
            if below:
                return below
    return None


def reason(error: ValidationError) -> str:
    """A validation error as one sentence with its place."""
    first = error.errors()[0]
    place = ".".join(str(p) for p in first["loc"])
    message = first["msg"].removeprefix("Value error, ")
    return f"{place}: {message}" if place else message


def _edit(home: Root, targets: dict[str, Any], edit: Callable[[Part], Part]) -> Root:
    try:
        new = _rebuilt(home, targets, edit)
    except ValidationError as error:
        raise ChangeRefused(reason(error)) from error
    assert type(new) is type(home)
    return new


def apply(change: Change, home: Root) -> Root:
    """The home, or the office profile, after the change. Raises ChangeRefused."""
    if isinstance(change, Batch):
        try:
            return _batch(change, home)
        except ChangeRefused:  # one change may have taken away what an earlier one set: one by one says it exactly
            for step in change.changes:
                home = apply(step, home)
            return home
    if isinstance(change, SetValue):
        return _set_all({change.part: {change.field: change.value}}, home)
    if isinstance(change, Insert):
        return _insert_all(change.owner, change.field, [(change.index, change.value)], home)
    return _shift(change, home)


def _batch(batch: Batch, home: Root) -> Root:
    """Changes in order; values set one after the other, and parts inserted into one list, go in one pass over the home."""
    values: dict[str, dict[str, object]] = {}
    inserts: list[tuple[int, object]] = []
    place = ("", "")

    def settle(root: Root) -> Root:
        made = _set_all(values, root) if values else root
        made = _insert_all(*place, inserts, made) if inserts else made
        values.clear()
        inserts.clear()
        return made

    for change in batch.changes:
        if isinstance(change, SetValue) and not inserts:
            values.setdefault(change.part, {})[change.field] = change.value
        elif isinstance(change, Insert) and (not inserts or place == (change.owner, change.field)):
            place = (change.owner, change.field)
            inserts.append((change.index, change.value))
        else:
            home = settle(home)
            if isinstance(change, SetValue):
                values.setdefault(change.part, {})[change.field] = change.value
            elif isinstance(change, Insert):
                place = (change.owner, change.field)
                inserts.append((change.index, change.value))
            else:
                home = apply(change, home)
    return settle(home)


def _set_all(values: dict[str, dict[str, object]], home: Root) -> Root:
    """Fields of several parts set in one pass."""
    left = set(values)

    def put(part: Part) -> Part:
        ident: str = part.id  # type: ignore[attr-defined]  # only parts with an id are asked for
        left.discard(ident)
        changed = {}
        for field, value in values[ident].items():
            if field not in type(part).model_fields:
                raise ChangeRefused(f"“{ident}” has no field “{field}”")
            old = part[field]
            if not (old == value and type(old) is type(value)):
                changed[field] = value
        return replace(part, **changed) if changed else part

    made = _edit(home, values, put)
    if left:
        raise ChangeRefused(f"there is no part “{min(left)}” any more")
    return made


def _insert_all(owner: str, field: str, new: list[tuple[int, object]], home: Root) -> Root:
    """Parts put into one list of their owner, in order."""
    found = False

    def insert(part: Part) -> Part:
        nonlocal found
        found = True
        kept = getattr(part, field, None)
        if not isinstance(kept, tuple):
            raise ChangeRefused(f"“{owner}” has no list “{field}”")
        items = list(kept)
        for index, value in new:
            items.insert(len(items) if index < 0 else index, value)
        made = replace(part, **{field: tuple(items)})
        same = {item.id: item for item in kept}
        made.__dict__[field] = tuple(same.get(item.id, item) for item in made[field])
        return made

    made = _edit(home, {owner: {}}, insert)
    if not found:
        raise ChangeRefused(f"there is no part “{owner}” any more")
    return made


def _shift(change: Remove | Move, home: Root) -> Root:
    """A part taken out of its list, or put elsewhere in it."""
    place = _owner(home, change.part)
    if place is None:
        raise ChangeRefused(f"there is no list that holds “{change.part}”")
    owner, field, index = place

    def shift(part: Part) -> Part:
        items = list(part[field])
        item = items.pop(index)
        if isinstance(change, Move):
            items.insert(change.index, item)
        return replace(part, **{field: tuple(items)})

    return _edit(home, {owner: {}}, shift)
