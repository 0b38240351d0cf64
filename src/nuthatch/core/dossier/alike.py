"""Rows that are alike stand together: a home of hundreds of alike parts is read in some pages, and written in some seconds."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Hashable, Iterable, Sequence
from typing import Any, TypeVar

Row = TypeVar("Row")
NAMED = 30
"""So many names are listed; of more the first stand, and how many there are. The spreadsheet lists every part."""


def together(rows: Iterable[Row], key: Callable[[Row], Hashable]) -> list[list[Row]]:
    """Rows of the same key as one group, in the order of each key's first row."""
    found: dict[Hashable, list[Row]] = {}
    for row in rows:
        found.setdefault(key(row), []).append(row)
    return list(found.values())


def names(all_names: Sequence[str]) -> str:
    """The names of alike parts in one cell; one that several have stands once, with how many."""
    counted = Counter(all_names)
    said = [name if number == 1 else f"{name} ({number}×)" for name, number in counted.items()]
    between = "; " if any(", " in name for name in said) else ", "
    if len(said) <= NAMED:
        return between.join(said)
    left = sum(list(counted.values())[NAMED - 1 :])
    return f"{between.join(said[: NAMED - 1])} and {left} more ({len(all_names)} in all)"


def questions_together(asked: Sequence[Any]) -> list[dict[str, str]]:
    """Open questions; the same question about several items of a step is one row."""
    groups = together(asked, lambda q: (q.step, q.field, q.text.replace(q.item, "…") if q.item else q.text))
    return [
        {
            "step": g[0].step,
            "item": names([q.item for q in g]),
            "text": g[0].text if len(g) == 1 else " ".join(g[0].text.replace(f" of {g[0].item}", "").replace(g[0].item, "each").split()),
        }
        for g in groups
    ]
