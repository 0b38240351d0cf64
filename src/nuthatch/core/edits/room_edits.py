"""Kinds of rooms as they are usual, or as an office keeps them, put into a home."""

from __future__ import annotations

import json
from collections.abc import Iterable

from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.library import DATA
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Given, replace
from nuthatch.core.model.rooms import RoomKind

SOURCE = "usual of such rooms: common practice; a bath by EN 12831-1, annex B, from memory"


def usual_kinds() -> tuple[RoomKind, ...]:
    """Of the library."""
    found = []
    for n, row in enumerate(json.loads((DATA / "room_kinds.json").read_text(encoding="utf-8")), 1):
        held, weight = (Given(value=row[f], source=SOURCE) if f in row else None for f in ("temperature", "weight"))
        found.append(RoomKind(id=f"kind-{n}", use=row["use"], temperature=held, weight=weight))
    return tuple(found)


@refusing
def kinds_put_in(home: Home, kinds: Iterable[RoomKind], name: str) -> Batch:
    """Those of uses the home says nothing of. Raises ChangeRefused."""
    there = {k.use for k in home.room_kinds}
    rows = [k for k in kinds if k.use not in there]
    if not rows:
        raise ChangeRefused("every kind of room is there already")
    known = {p.id for p in home.patterns}
    ids = fresh_ids(home, "room-kind", len(rows))
    made = (replace(k, id=i, pattern=k.pattern if k.pattern in known else "") for i, k in zip(ids, rows, strict=True))
    return Batch(label=f"Kinds of rooms: {name}", changes=tuple(Insert(owner="home", field="room_kinds", value=k) for k in made))
