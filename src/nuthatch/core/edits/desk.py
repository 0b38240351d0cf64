"""The edit desk: what an edit means, whoever makes it: card, table, paste, drawing, option.

Each function takes the root (a home, or the office profile) and gives a change. A typed number becomes declared and keeps the
evidence of a declared one; shares of a use always total 100 %; new parts get ids of their own.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import count
from typing import Any

from pydantic import ValidationError

from nuthatch.core.changes.changes import Batch, Change, Insert, Remove, SetValue, reason, refusing
from nuthatch.core.edits.starts import Names, starting
from nuthatch.core.model.home import find, walk_parts
from nuthatch.core.model.part import Basis, FieldSpec, Given, IdentifiedPart, Part, replace, specs
from nuthatch.core.reading import BadText, Doubt, mark_of, read

TYPED, REST = "typed", "the rest to 100 %"


class Asked(ValueError):
    """Typed text with two readings; `doubt` holds them."""

    def __init__(self, doubt: Doubt) -> None:
        self.doubt = doubt
        super().__init__(doubt.question)


@dataclass(frozen=True)
class Listing:
    """A list of parts: whose, in which field, of what kind, and how the ids of new ones begin."""

    owner: str
    field: str
    kind: type[Part]
    stem: str


# one value


def typed_value(old: Given | None, value: float) -> Given:
    """A typed number: declared, with the evidence of a declared one before it."""
    kept = old if old is not None and old.basis is Basis.DECLARED else None
    return Given(
        value=value, basis=Basis.DECLARED, source=TYPED, evidence=kept.evidence if kept else "", files=kept.files if kept else None
    )


def moved_value(old: Given, value: float) -> Given:
    """What was known, elsewhere: a place that moves with the whole drawing is as well proven as before."""
    return Given.model_validate({**dict(old), "value": value})


@refusing
def typed_number(root: IdentifiedPart, part_id: str, field: str, value: float | None) -> Change:
    """A number typed into a field, or taken out of it."""
    part = find(root, part_id)
    spec = specs(type(part)).get(field) if part is not None else None
    if value is None or part is None or spec is None:
        return SetValue(part=part_id, field=field, value=None)
    if spec.totals:
        return share(root, part_id, field, value)
    return SetValue(part=part_id, field=field, value=typed_value(part[field], value))


def looked_up(names: Names) -> dict[str, str]:
    """What a reference may name, by what somebody may write of it; where two are called alike the first counts."""
    found: dict[str, str] = {}
    for ident, name in names:
        found.setdefault(name.lower(), ident)
        found.setdefault(ident, ident)
    return found


def read_value(spec: FieldSpec, text: str, names: Names | Mapping[str, str] = (), mark: str = "") -> Any:
    """Typed or pasted text as a field's value: a float, an id, a choice or text; None for an empty quantity.

    names: what a reference may name, looked up already where many are read. Raises BadText with what would be right, Asked where there are two readings.
    """
    clean = text.strip()
    if spec.is_quantity:
        if clean in ("", "—"):
            return None
        found = read(clean, spec.kind, spec.refuse, mark)
        if isinstance(found, Doubt):
            raise Asked(found)
        reason = spec.refuse(found)
        if reason:
            raise BadText(reason)
        return found
    if spec.kind == "choice":
        match = [c for c in spec.choices if c.lower() == clean.lower()]
        if not match and len(clean) >= 3:  # “Jan” for January, where nothing else begins so
            match = [c for c in spec.choices if c.lower().startswith(clean.lower())]
            match = match if len(match) == 1 else []
        if not match:
            raise BadText(f"{spec.label} “{clean}” is not known; one of: {', '.join(spec.choices)}")
        return match[0]
    if spec.kind == "ref":
        known_as = names if isinstance(names, Mapping) else looked_up(names)
        ident = known_as.get(clean.lower())
        if ident is None and clean:
            raise BadText(f"{spec.label} “{clean[:80]}” is not in this home")
        return ident or ""
    if spec.kind == "flag":
        known = {"yes": True, "no": False, "true": True, "false": False, "1": True, "0": False}
        if clean.lower() not in known:
            raise BadText(f"{spec.label} “{clean}” is not known; yes or no")
        return known[clean.lower()]
    return clean


@refusing
def typed_text(root: IdentifiedPart, part_id: str, field: str, text: str, names: Names = ()) -> Change:
    """The text of a cell as a change. Raises BadText or Asked."""
    part = find(root, part_id)
    if part is None:
        raise BadText("this row is no longer there")
    spec = specs(type(part))[field]
    value = read_value(spec, text, names)
    return typed_number(root, part_id, field, value) if spec.is_quantity else SetValue(part=part_id, field=field, value=value)


@refusing
def proof(root: IdentifiedPart, part_id: str, field: str, **changed: object) -> Change | None:
    """Basis, source, evidence or files of a value changed; None where there is no value or nothing changes."""
    given = getattr(find(root, part_id), field, None)
    if not isinstance(given, Given):
        return None
    new = Given.model_validate({**given.model_dump(), **changed})
    return None if new == given else SetValue(part=part_id, field=field, value=new)


# shares


def siblings(root: IdentifiedPart, part_id: str) -> tuple[Part, ...]:
    """The parts of the list a part stands in, itself included."""
    for part in walk_parts(root):
        for name in type(part).model_fields:
            value = part[name]
            if isinstance(value, tuple) and any(getattr(p, "id", None) == part_id for p in value):
                return value
    return ()


def share(root: IdentifiedPart, part_id: str, field: str, value: float) -> Batch:
    """Set one part's share and let the others make up the rest in proportion: shares always total 100 %."""
    value = min(max(value, 0.0), 1.0)
    rows = siblings(root, part_id)
    part = next(p for p in rows if p.id == part_id)  # type: ignore[attr-defined]
    optional = specs(type(part))[field].totals == "all or none"
    if len(rows) == 1 and not (optional and value == 0):
        value = 1.0
    sets = {part_id: typed_value(part[field], value)}
    changes = [SetValue(part=i, field=field, value=g) for i, g in balanced(rows, field, sets).items()]
    label = specs(type(part))[field].label
    name = getattr(part, "name", part_id)
    return Batch(label=f"{name}: {label[0].lower()}{label[1:]} {value * 100:.0f} %, all total 100 %", changes=tuple(changes))


def balanced(rows: Sequence[Part], field: str, sets: dict[str, Given]) -> dict[str, Given]:
    """Shares as set, with the other rows in proportion making up the rest; evidence of what is not touched stays."""
    others = [p for p in rows if p.id not in sets]  # type: ignore[attr-defined]
    rest = 1 - sum(g.value for g in sets.values())
    held = {p.id: (p[field].value if p[field] else 0.0) for p in others}  # type: ignore[attr-defined]
    total = sum(held.values())
    found = dict(sets)
    none = rows and specs(type(rows[0]))[field].totals == "all or none" and total == 0 and abs(rest - 1) < 1e-12
    if rest < -1e-9 or none:  # more than all was set: it is asked about, nothing is moved
        return found
    for p in others:
        part = held[p.id] / total if total > 0 else 1 / len(others)  # type: ignore[attr-defined]
        old: Given | None = p[field]
        new = max(rest, 0.0) * part
        if old is None or abs(old.value - new) > 1e-12:
            found[p.id] = typed_value(old, new).model_copy(update={"source": REST})  # type: ignore[attr-defined]
    return found


# rows


def fresh_ids(root: IdentifiedPart, stem: str, number: int) -> list[str]:
    """So many ids not yet used: stem-1, stem-2, …"""
    used = {p.id for p in walk_parts(root)}
    found: list[str] = []
    at = 0
    while len(found) < number:
        at += 1
        if f"{stem}-{at}" not in used:
            found.append(f"{stem}-{at}")
    return found


@refusing
def new_part(root: IdentifiedPart, listing: Listing, faces: Names = (), **values: object) -> Insert:
    """A new part at the end of a list, with its starting values."""
    ident = fresh_ids(root, listing.stem, 1)[0]
    fields = {**starting(listing.kind, root, faces), **values, "id": ident}
    return Insert(owner=listing.owner, field=listing.field, value=listing.kind(**fields))


def with_fresh_ids(root: IdentifiedPart, part: Any, stem: str) -> Any:
    """A copy of a part with an id of its own, and of the parts inside it."""
    ident = fresh_ids(root, stem, 1)[0]
    number = count(1)  # one after the other over all lists: no two of them share an id
    inner = {
        name: tuple(replace(item, id=f"{ident}.{next(number)}") for item in value)
        for name in type(part).model_fields
        if isinstance(value := part[name], tuple) and value and isinstance(value[0], IdentifiedPart)
    }
    return replace(part, id=ident, **inner)


@refusing
def duplicate(root: IdentifiedPart, listing: Listing, part_id: str) -> Insert | None:
    """A copy of a part below it."""
    rows = siblings(root, part_id)
    index = next((i for i, p in enumerate(rows) if p.id == part_id), -1)  # type: ignore[attr-defined]
    if index < 0:
        return None
    copy = with_fresh_ids(root, rows[index], listing.stem)
    changed = {"name": f"{copy.name}, copy"} if hasattr(copy, "name") else {}
    return Insert(owner=listing.owner, field=listing.field, index=index + 1, value=replace(copy, **changed))


def removed(ids: Sequence[str]) -> Change:
    """Parts taken out as one step."""
    changes = tuple(Remove(part=i) for i in ids)
    return changes[0] if len(changes) == 1 else Batch(label=f"{len(changes)} rows removed", changes=changes)


@dataclass(frozen=True)
class Block:
    """A block of texts for a list: the ids of the rows it covers from its first one on, and the field of each column
    ('' for a column that is only shown)."""

    rows: tuple[str, ...]
    fields: tuple[str, ...]
    grid: tuple[tuple[str, ...], ...]


class BadCell(ValueError):
    """A cell of a block that cannot be read: row and field, and why. `every`: of a whole block one such cell of every row that has one."""

    def __init__(self, row: int, field: str, why: str) -> None:
        self.row, self.field, self.why = row, field, why
        self.every: tuple[BadCell, ...] = (self,)
        super().__init__(why)


class AskedColumn(ValueError):
    """Cells of a column that have two readings, first met in `row`: it is asked once for the whole column. An answer is the
    decimal mark, or which of the readings."""

    def __init__(self, row: int, field: str, cell: str, doubt: Doubt) -> None:
        self.row, self.field, self.cell, self.doubt = row, field, cell, doubt
        super().__init__(doubt.question)

    def answer(self, index: int) -> str | int:
        """What choosing one of the readings means for the column."""
        return self.doubt.marks[index] if self.doubt.marks else index


def grid_of(text: str) -> tuple[tuple[str, ...], ...]:
    """Tab-separated text as rows of cells."""
    if not text.strip():
        return ()
    return tuple(tuple(line.split("\t")) for line in text.replace("\r\n", "\n").rstrip("\n").split("\n"))


def _cell(spec: FieldSpec, r: int, cell: str, names: Mapping[str, str], answer: str | int) -> Any:
    """One cell of a block as a value. Raises BadCell or AskedColumn."""
    try:
        return read_value(spec, cell, names, answer if isinstance(answer, str) else "")
    except Asked as asked:
        if not isinstance(answer, int) or answer >= len(asked.doubt.readings):
            raise AskedColumn(r, spec.name, cell, asked.doubt) from None
        value = asked.doubt.readings[answer][1]
        if spec.refuse(value):
            raise BadCell(r, spec.name, spec.refuse(value)) from None
        return value
    except BadText as problem:
        raise BadCell(r, spec.name, str(problem)) from None


def _answers(block: Block, spec: dict[str, FieldSpec], given: Mapping[str, str | int]) -> dict[str, str | int]:
    """How each column is read: as answered, or as another of its cells shows by its decimal mark."""
    found: dict[str, str | int] = {}
    for column, field in enumerate(block.fields):
        if field and spec[field].is_quantity:
            found[field] = mark_of([row[column] for row in block.grid if column < len(row)])
    return found | dict(given)


def pasted(
    root: IdentifiedPart, listing: Listing, block: Block, names: dict[str, Names], answers: Mapping[str, str | int] | None = None
) -> Batch:
    """A block put into a list: rows it covers are changed, rows past the end are new. Raises BadCell, with every row that cannot be read,
    or AskedColumn; all or nothing.

    names: field of a reference → what it may name. answers: how a column is read that was asked about.
    """
    known, spec = {p.id: p for p in walk_parts(root)}, specs(listing.kind)
    by_name = {field: looked_up(choice) for field, choice in names.items()}
    reading = _answers(block, spec, answers or {})
    ids = fresh_ids(root, listing.stem, max(len(block.grid) - len(block.rows), 0))
    start = starting(listing.kind, root, names.get("face", ())) if ids else {}
    sets: dict[str, dict[str, object]] = {}
    inserts: list[Change] = []
    bad: list[BadCell] = []
    for r, cells in enumerate(block.grid):
        row = known.get(block.rows[r]) if r < len(block.rows) else None
        try:
            values = _row(r, row, zip(block.fields, cells, strict=False), spec, by_name, reading)
            if row is not None:
                sets[block.rows[r]] = values
                continue
            new = listing.kind(**{**start, **values, "id": ids[r - len(block.rows)]})
        except ValidationError as error:
            bad.append(BadCell(r, str(error.errors()[0]["loc"][0]) if error.errors()[0]["loc"] else "", reason(error)))
            continue
        except BadCell as problem:
            bad.append(problem)
            continue
        inserts.append(Insert(owner=listing.owner, field=listing.field, value=new))
    if bad:
        bad[0].every = tuple(bad)
        raise bad[0]
    changes = [*_settled(root, spec, sets), *inserts]
    return Batch(label=f"{len(block.grid)} rows pasted into {label_of(listing)}", changes=tuple(changes))


def _row(
    r: int,
    row: Part | None,
    cells: Iterable[tuple[str, str]],
    spec: dict[str, FieldSpec],
    names: Mapping[str, Mapping[str, str]],
    reading: Mapping[str, str | int],
) -> dict[str, object]:
    """The values of one row of a block. Raises BadCell or AskedColumn."""
    values: dict[str, object] = {}
    for field, cell in cells:
        if field:
            value = _cell(spec[field], r, cell, names.get(field, {}), reading.get(field, ""))
            quantity = spec[field].is_quantity and value is not None
            values[field] = typed_value(getattr(row, field, None), value) if quantity else value
    return values


def _settled(root: IdentifiedPart, spec: dict[str, FieldSpec], sets: dict[str, dict[str, Any]]) -> Iterator[Change]:
    """Values of several rows as changes; the shares among them balanced over all rows."""
    shared = {f for values in sets.values() for f in values if spec[f].totals}
    for ident, values in sets.items():
        for field, value in values.items():
            if field not in shared or value is None:
                yield SetValue(part=ident, field=field, value=value)
    for field in sorted(shared):
        given = {i: v[field] for i, v in sets.items() if v.get(field) is not None}
        rows = siblings(root, next(iter(sets)))
        for ident, new in balanced(rows, field, given).items():
            yield SetValue(part=ident, field=field, value=new)


@refusing
def filled(root: IdentifiedPart, listing: Listing, ids: Sequence[str], fields: Iterable[str]) -> Batch:
    """The values of the first row put into the rows below it; evidence of what is not changed stays."""
    known = {p.id: p for p in walk_parts(root)}
    source, spec = known[ids[0]], specs(listing.kind)
    sets: dict[str, dict[str, object]] = {i: {f: source[f] for f in fields if f} for i in ids[1:]}
    label = f"{len(ids) - 1} rows filled down in {label_of(listing)}"
    return Batch(label=label, changes=tuple(_settled(root, spec, sets)))


def label_of(listing: Listing) -> str:
    """A list within a sentence."""
    return listing.field.replace("_", " ").replace("buildups", "build-ups")
