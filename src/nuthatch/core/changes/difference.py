"""What turns one home into another, as typed changes."""

from __future__ import annotations

from nuthatch.core.changes.changes import Change, Insert, Remove, SetValue
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import IdentifiedPart

APART = ("upgrades", "options", "economy", "certainty", "evidence", "pins", "dossier", "issued")
"""Fields of a home that no option changes."""


def difference(before: Home, after: Home) -> tuple[Change, ...]:
    """The changes from one home to another, in an order in which they can be applied; what stands in APART is left as it is."""
    gone: list[Change] = []
    made: list[Change] = []
    _part(before, after, gone, made, APART)
    return (*gone, *made)


def _part(before: IdentifiedPart, after: IdentifiedPart, gone: list[Change], made: list[Change], skip: tuple[str, ...] = ()) -> None:
    for name in type(after).model_fields:
        old, new = before[name], after[name]
        if name in skip or name == "id" or old is new or old == new:
            continue
        if name != "target_sets" and _rows(old) and _rows(new) and _same_order(old, new):
            _list(before.id, name, old, new, gone, made)
        elif isinstance(old, IdentifiedPart) and isinstance(new, IdentifiedPart) and type(old) is type(new) and old.id == new.id:
            _part(old, new, gone, made)
        else:
            made.append(SetValue(part=before.id, field=name, value=new))


def _rows(value: object) -> bool:
    return isinstance(value, tuple) and all(isinstance(v, IdentifiedPart) for v in value)


def _same_order(old: tuple[IdentifiedPart, ...], new: tuple[IdentifiedPart, ...]) -> bool:
    """Whether what stays stands in the same order; else the list is set as a whole."""
    ids = {p.id for p in old} & {p.id for p in new}
    return [p.id for p in old if p.id in ids] == [p.id for p in new if p.id in ids]


def _list(
    owner: str, field: str, old: tuple[IdentifiedPart, ...], new: tuple[IdentifiedPart, ...], gone: list[Change], made: list[Change]
) -> None:
    known = {p.id: p for p in old}
    kept = {p.id for p in new if p.id in known and type(p) is type(known[p.id])}
    gone += [Remove(part=p.id) for p in old if p.id not in kept]
    for index, part in enumerate(new):
        if part.id in kept:
            _part(known[part.id], part, gone, made)
        else:
            made.append(Insert(owner=owner, field=field, index=index, value=part))
