"""A sheet: a list as data. Numbers stay SI with their kind until they are shown or written; whoever shows them chooses the units."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Generic, NamedTuple, TypeVar

from nuthatch.core.results.figure import Computing, Node, Unknown, state_words
from nuthatch.core.units import beside, kind_of, other, other_unit, show, unit_of, with_unit

Part_ = TypeVar("Part_")


class Amount(NamedTuple):
    """A number [SI] with a kind of its own, in a column whose rows are of different kinds."""

    value: float
    kind: str


Cell = str | float | Amount | None
"""A text, a number [SI] of the column's kind, an amount of its own kind, or nothing."""


@dataclass(frozen=True)
class Head:
    """A column as it is headed: label, the kind of its numbers ('' for texts and for amounts of different kinds), and the field of the
    row's part it shows, where it shows one."""

    label: str
    kind: str = ""
    field: str = ""

    @property
    def text(self) -> str:
        """The label with the unit in use."""
        unit = unit_of(self.kind) if self.kind else ""
        if beside() and self.kind and other_unit(self.kind):
            unit = f"{unit} ({other_unit(self.kind)})"
        return f"{self.label} [{unit}]" if unit else self.label


@dataclass(frozen=True)
class Column(Generic[Part_]):
    """A column of a list of parts: how it is headed, and how a part's cell is got."""

    label: str
    get: Callable[[Part_], Cell]
    kind: str = ""
    field: str = ""


@dataclass(frozen=True)
class Sheet:
    """A list: its title, its columns, its rows, the part each row is of, and what is said where it has none."""

    key: str
    title: str
    heads: tuple[Head, ...]
    rows: tuple[tuple[Cell, ...], ...]
    ids: tuple[str, ...] = ()
    empty: str = "none yet"

    def where(self, ids: Iterable[str]) -> Sheet:
        """The rows of some parts alone."""
        wanted = set(ids)
        kept = [n for n, ident in enumerate(self.ids) if ident in wanted]
        return replace(self, rows=tuple(self.rows[n] for n in kept), ids=tuple(self.ids[n] for n in kept))

    def without_empty(self) -> Sheet:
        """Without the columns in which no row says anything."""
        kept = [c for c in range(len(self.heads)) if c == 0 or any(row[c] not in (None, "") for row in self.rows)]
        return replace(self, heads=tuple(self.heads[c] for c in kept), rows=tuple(tuple(row[c] for c in kept) for row in self.rows))

    def texts(self) -> tuple[tuple[str, ...], ...]:
        """Every cell as it is shown in the units in use; the column's unit stands in its head."""
        return tuple(tuple(text_of(cell, head) for cell, head in zip(row, self.heads, strict=True)) for row in self.rows)

    @property
    def numeric(self) -> tuple[int, ...]:
        """The columns of numbers."""
        return tuple(n for n, head in enumerate(self.heads) if head.kind or any(isinstance(row[n], Amount) for row in self.rows))


def sheet(
    key: str,
    title: str,
    columns: Sequence[Column[Part_]],
    parts: Iterable[Part_],
    empty: str = "none yet",
    ident: Callable[[Part_], str] = lambda part: str(getattr(part, "id", "")),
) -> Sheet:
    """The sheet of some parts; ident: what a row is called by."""
    kept = tuple(parts)
    ids = tuple(ident(part) for part in kept)
    rows = tuple(tuple(column.get(part) for column in columns) for part in kept)
    return Sheet(key, title, tuple(Head(c.label, c.kind, c.field) for c in columns), rows, ids, empty)


def text_of(cell: Cell, head: Head) -> str:
    """A cell as it is shown."""
    if cell is None:
        return ""
    if isinstance(cell, Amount):
        return with_unit(cell.value, cell.kind)
    if isinstance(cell, str):
        return cell
    further = other(cell, head.kind) if beside() else ""
    return f"{show(cell, head.kind)} ({further})" if further else show(cell, head.kind)


def number_of(cell: Cell, head: Head) -> str | float | None:
    """A cell as a spreadsheet holds it: a number in the units in use, or a text."""
    if isinstance(cell, Amount):
        return float(kind_of(cell.kind).to_shown(cell.value))
    if cell is None or isinstance(cell, str):
        return cell
    return float(kind_of(head.kind).to_shown(cell))


def of_node(node: Node | Any | None) -> Cell:
    """A result as a cell of a column of its kind: its number, or why there is none."""
    if node is None:
        return None
    if isinstance(node, Unknown | Computing):
        return state_words(node)
    return float(node.value)


def amount_of(node: Node) -> Cell:
    """A result as a cell with its own kind."""
    found = of_node(node)
    return Amount(found, node.kind) if isinstance(found, float) else found
