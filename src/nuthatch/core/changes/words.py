"""Each change in words, for the undo list and the change line."""

from __future__ import annotations

import re

from nuthatch.core.changes.changes import Batch, Change, Insert, Move, Remove
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import Given, Part, specs
from nuthatch.core.units import show, with_unit


def _name(home: Home, part_id: str) -> str:
    part = find(home, part_id)
    return str(getattr(part, "name", "") or part_id.replace("-", " ").capitalize()) if part else part_id


def _value_text(part: Part, field: str, value: object, unit: bool) -> str:
    spec = specs(type(part)).get(field)
    if isinstance(value, dict):
        value = value.get("value")
    if isinstance(value, Given):
        value = value.value
    if value is None or value == "":
        return "nothing"
    if spec and spec.is_quantity and isinstance(value, int | float):
        return with_unit(value, spec.kind) if unit else show(value, spec.kind)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(getattr(value, "name", value))


def _kind(value: object) -> str:
    """What a part without a name is: “Operating hours”, “Duct”."""
    if isinstance(value, dict):
        return "Part"
    return re.sub(r"(?<=[a-z])(?=[A-Z])", " ", type(value).__name__).capitalize()


def describe(change: Change, home: Home) -> str:
    """The change in words, for the undo list and the change line; home is the one before it."""
    if isinstance(change, Batch):
        return change.label
    if isinstance(change, Insert):
        value = change.value
        name = value.get("name") if isinstance(value, dict) else getattr(value, "name", "")
        return f"{name or _kind(value)} added"
    if isinstance(change, Remove):
        return f"{_name(home, change.part)} removed"
    if isinstance(change, Move):
        return f"{_name(home, change.part)} moved"
    part = find(home, change.part)
    if part is None:
        return str(change.field)
    spec = specs(type(part)).get(change.field)
    what = spec.label[0].lower() + spec.label[1:] if spec else change.field
    before = part[change.field]
    old = _value_text(part, change.field, before, False)
    new = _value_text(part, change.field, change.value, True)
    if spec is not None and spec.kind == "ref":
        old, new = (_name(home, str(v)) if v else "nothing" for v in (before, change.value))
    if isinstance(before, Given) and isinstance(change.value, Given) and before.value == change.value.value:
        about = f", now {change.value.basis.value}" if before.basis is not change.value.basis else ": what proves it"
        return f"{_name(home, change.part)}: {what} {new}{about}"
    return f"{_name(home, change.part)}: {what} {old} → {new}"
