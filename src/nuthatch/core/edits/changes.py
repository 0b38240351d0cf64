"""Edits as data: a small union of typed changes, and one `apply`."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import Basis, Given, Part, replace

Root = TypeVar("Root", bound=Part)


class ChangeRefused(ValueError):
    """The change does not fit the home; the message says why."""


class _Change(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", arbitrary_types_allowed=True)


class SetValue(_Change):
    """Set a field of a part; value as JSON data or as the field's own type."""

    op: Literal["set"] = "set"
    part: str
    field: str
    value: Any = None


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


def typed(value: float, source: str = "") -> Given:
    """A number a person typed: declared."""
    return Given(value=value, basis=Basis.DECLARED, source=source)


def _rebuilt(part: Part, target: str, edit: Callable[[Part], Part]) -> Part:
    """The same part where target is not below it, else a copy along the path to target."""
    if getattr(part, "id", None) == target:
        return edit(part)
    for name in type(part).model_fields:
        value = getattr(part, name)
        if isinstance(value, Part):
            new: Any = _rebuilt(value, target, edit)
        elif isinstance(value, tuple) and value and isinstance(value[0], Part) and name != "target_sets":
            items = [_rebuilt(item, target, edit) for item in value]
            new = tuple(items) if any(a is not b for a, b in zip(items, value, strict=True)) else value
        else:
            continue
        if new is not value:
            return replace(part, **{name: new})
    return part


def _owner(part: Part, target: str) -> tuple[str, str, int] | None:
    """(owner id, field, index) of the list a part stands in."""
    for name in type(part).model_fields:
        value = getattr(part, name)
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


def _edit(home: Root, target: str, edit: Callable[[Part], Part]) -> Root:
    try:
        new = _rebuilt(home, target, edit)
    except ValidationError as error:
        raise ChangeRefused(reason(error)) from error
    if new is home and find(home, target) is None:
        raise ChangeRefused(f"there is no part “{target}” any more")
    assert type(new) is type(home)
    return new


def apply(change: Any, home: Root) -> Root:
    """The home, or the office profile, after the change. Raises ChangeRefused."""
    if isinstance(change, Batch):
        for step in change.changes:
            home = apply(step, home)
        return home
    if isinstance(change, SetValue):

        def put(part: Part) -> Part:
            if change.field not in type(part).model_fields:
                raise ChangeRefused(f"“{change.part}” has no field “{change.field}”")
            if getattr(part, change.field) == change.value and type(getattr(part, change.field)) is type(change.value):
                return part
            return replace(part, **{change.field: change.value})

        return _edit(home, change.part, put)
    if isinstance(change, Insert):

        def insert(part: Part) -> Part:
            items = list(getattr(part, change.field))
            items.insert(len(items) if change.index < 0 else change.index, change.value)
            kept = getattr(part, change.field)
            new = replace(part, **{change.field: tuple(items)})
            same = {item.id: item for item in kept}
            exact = tuple(same.get(item.id, item) for item in getattr(new, change.field))
            new.__dict__[change.field] = exact
            return new

        return _edit(home, change.owner, insert)
    place = _owner(home, change.part)
    if place is None:
        raise ChangeRefused(f"there is no list that holds “{change.part}”")
    owner, field, index = place

    def shift(part: Part) -> Part:
        items = list(getattr(part, field))
        item = items.pop(index)
        if isinstance(change, Move):
            items.insert(change.index, item)
        return replace(part, **{field: tuple(items)})

    return _edit(home, owner, shift)
