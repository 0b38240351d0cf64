"""Upgrades whose changes name what the home has no longer, or what is so already: open questions, not errors."""

from __future__ import annotations

from collections.abc import Iterator

from nuthatch.core.model.home import Home, walk_parts
from nuthatch.core.model.options import ChangeData, Upgrade
from nuthatch.core.model.part import Part
from nuthatch.core.results.question import Question


def stale(home: Home) -> tuple[Question, ...]:
    """What is asked about the upgrades of a home; those on no option are not looked at."""
    used = {i for o in home.options for i in o.upgrades}
    rows = [u for u in home.upgrades if u.id in used and u.changes]
    if not rows:
        return ()
    parts: dict[str, Part] = {p.id: p for p in walk_parts(home)}
    brought = {i for u in home.upgrades for c in u.changes for i in _brought(c.get("value"))}
    return tuple(_asked(parts, brought, rows))


def _asked(parts: dict[str, Part], brought: set[str], rows: list[Upgrade]) -> Iterator[Question]:
    for u in rows:
        named = [str(c.get("owner") if c.get("op") == "insert" else c.get("part") or "") for c in u.changes]
        gone = [n for n in named if n not in parts and n not in brought]
        if gone:
            yield Question(u.id, "changes", f"{u.name} changes “{gone[0]}”, which the home has no longer: work on it, or take it away")
        elif all(_so(parts, c) for c in u.changes):
            yield Question(u.id, "changes", f"{u.name} is so already in the home: take it off its option, or change it")


def _brought(value: object) -> Iterator[str]:
    """The ids of what a change brings."""
    if isinstance(value, dict):
        if isinstance(value.get("id"), str):
            yield str(value["id"])
        for inner in value.values():
            yield from _brought(inner)
    elif isinstance(value, list):
        for inner in value:
            yield from _brought(inner)


def _so(parts: dict[str, Part], change: ChangeData) -> bool:
    """Whether a value that is set is that already; whatever else a change does is something."""
    part = parts.get(str(change.get("part")))
    field = str(change.get("field"))
    if change.get("op") != "set" or part is None or field not in type(part).model_fields:
        return False
    now, then = part[field], change.get("value")
    value = getattr(now, "value", now)
    wanted = then.get("value") if isinstance(then, dict) and "value" in then else then
    return not isinstance(value, tuple) and bool(value == wanted)
