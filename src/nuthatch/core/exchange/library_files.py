"""The office library in and out: materials, build-ups, opening types as JSON, which keeps everything, or as a spreadsheet to be worked on."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import zip_longest
from math import isclose
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from nuthatch.core.changes.changes import Batch, ChangeRefused, SetValue, reason
from nuthatch.core.edits.desk import Asked, fresh_ids, read_value
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.files.located import Fault, parse
from nuthatch.core.files.tables import Cell, from_workbook, to_xlsx
from nuthatch.core.model.home import SCHEMA, BuildUp, Layer, OpeningType
from nuthatch.core.model.migrations import NewerSchema, migrate
from nuthatch.core.model.part import Basis, FieldSpec, Given, Part, replace, specs
from nuthatch.core.office import Material, Office
from nuthatch.core.reading import BadText
from nuthatch.core.units import KINDS, METRIC, using

LISTS: dict[str, type[Part]] = {"materials": Material, "buildups": BuildUp, "opening_types": OpeningType}
STEMS = {"materials": "office-material", "buildups": "office-build-up", "opening_types": "office-type"}
SHEETS = {"materials": "Materials", "buildups": "Build-ups", "opening_types": "Opening types"}
WORDS = {"materials": ("material", "materials"), "buildups": ("build-up", "build-ups"), "opening_types": ("opening type", "opening types")}
LARGEST, MOST = 20_000_000, 5000
BUILD, SOURCE = "Build-up", "Source"


@dataclass(frozen=True)
class Library:
    """What a file holds of an office library."""

    materials: tuple[Material, ...] = ()
    buildups: tuple[BuildUp, ...] = ()
    opening_types: tuple[OpeningType, ...] = ()
    columns_only: bool = False
    """From a spreadsheet, whose columns do not hold everything: what they leave out stays as it is."""

    @property
    def said(self) -> str:
        """How many of which, in words."""
        counts = ((len(getattr(self, key)), words) for key, words in WORDS.items())
        return ", ".join(f"{n} {one if n == 1 else many}" for n, (one, many) in counts if n)


def library_of(office: Office) -> Library:
    """The library of an office profile."""
    return Library(office.materials, office.buildups, office.opening_types)


# out


def write(library: Library, path: Path) -> bytes:
    """By the ending of the name. Raises HomeFileError for another than .json or .xlsx."""
    if path.suffix.lower() == ".json":
        rows = {name: [p.model_dump(mode="json", exclude_defaults=True) for p in getattr(library, name)] for name in LISTS}
        return (json.dumps({"nuthatch": "library", "schema": SCHEMA, **rows}, ensure_ascii=False, indent=1) + "\n").encode()
    if path.suffix.lower() == ".xlsx":
        return to_xlsx((SHEETS[name], *_table(name, library)) for name in LISTS)
    raise HomeFileError(f"{path.name}: a library is written as .json or .xlsx")


def _fields(kind: type[Part]) -> list[FieldSpec]:
    return [s for s in specs(kind).values() if s.kind not in ("ref", "note")]


def _head(spec: FieldSpec) -> str:
    unit = KINDS[spec.kind].unit if spec.is_quantity else ""
    return f"{spec.label} ({unit})" if unit else spec.label


def _table(name: str, library: Library) -> tuple[tuple[str, ...], list[tuple[Cell, ...]]]:
    """Heads and rows of a sheet; of build-ups a row for each layer."""
    if name == "buildups":
        fields = _fields(Layer)
        rows = [(b.name, *_cells(layer, fields), _source(layer, fields)) for b in library.buildups for layer in b.layers]
        return (BUILD, *map(_head, fields), SOURCE), rows
    fields = _fields(LISTS[name])
    return (*map(_head, fields), SOURCE), [(*_cells(p, fields), _source(p, fields)) for p in getattr(library, name)]


def _cells(part: Part, fields: list[FieldSpec]) -> tuple[Cell, ...]:
    found: list[Cell] = []
    for spec in fields:
        value = part[spec.name]
        found.append(
            round(KINDS[spec.kind].to_shown(value.value), 9) if isinstance(value, Given) else None if value is None else str(value)
        )
    return tuple(found)


def _source(part: Part, fields: list[FieldSpec]) -> str:
    """Where the values of a row are from, each source once."""
    given = (part[s.name] for s in fields)
    return "; ".join(dict.fromkeys(g.source for g in given if isinstance(g, Given) and g.source))


# in


def read(data: bytes, name: str) -> Library:
    """A library from a file. Raises HomeFileError with the line, or sheet, row and column, and what would be right."""
    if name.lower().endswith(".json"):
        return _from_json(data, name)
    if name.lower().endswith(".xlsx"):
        return _from_xlsx(data, name)
    raise HomeFileError(f"{name}: a library is read from .json or .xlsx")


def _from_json(data: bytes, name: str) -> Library:
    try:
        located = parse(data)
    except Fault as why:
        raise HomeFileError(f"{name}: {why}") from why
    raw = located.data
    if not isinstance(raw, dict) or raw.get("nuthatch") != "library":
        raise HomeFileError(f"{name}: this is no library of Nuthatch; such a file begins with “nuthatch”: “library”")
    found: dict[str, tuple[Part, ...]] = {}
    try:
        rows = {key: raw.get(key, []) for key in LISTS}
        version = raw.get("schema", SCHEMA)
        if not isinstance(version, int) or any(not isinstance(r, list) for r in rows.values()):
            raise HomeFileError(f"{name}: “schema” is a number, materials, buildups and opening_types are lists")
        rows = migrate(rows, version)
        for key, kind in LISTS.items():
            made = []
            for n, row in enumerate(rows[key]):
                try:
                    made.append(kind.model_validate(row))
                except ValidationError as error:
                    raise HomeFileError(f"{name}, line {located.line((key, n))}: {key}.{n}: {reason(error)}") from error
            found[key] = tuple(made)
    except NewerSchema as why:
        raise HomeFileError(f"{name}: {why}") from why
    return Library(**found)  # type: ignore[arg-type]  # each of its kind


def _from_xlsx(data: bytes, name: str) -> Library:
    try:
        sheets = from_workbook(data, LARGEST, MOST, 80)
    except HomeFileError as why:
        raise HomeFileError(f"{name}: {why}") from why
    if not any(SHEETS[key] in sheets for key in LISTS):
        raise HomeFileError(f"{name}: there is no sheet called {', '.join(SHEETS.values())}")
    with using(METRIC):  # the heads name metric units
        materials = tuple(Material(id=f"m-{n}", **v) for n, v in enumerate(_rows(sheets, "materials", Material, name), 1))
        types = tuple(OpeningType(id=f"t-{n}", **v) for n, v in enumerate(_rows(sheets, "opening_types", OpeningType, name), 1))
        builds: dict[str, list[dict[str, Any]]] = {}
        for values in _rows(sheets, "buildups", Layer, name):
            builds.setdefault(values.pop(BUILD), []).append(values)
    made = tuple(
        BuildUp(id=f"b-{n}", name=k, layers=tuple(Layer(id=f"b-{n}.{i}", **row) for i, row in enumerate(rows, 1)))
        for n, (k, rows) in enumerate(builds.items(), 1)
    )
    return Library(materials, made, types, columns_only=True)


def _rows(sheets: dict[str, list[tuple[Any, ...]]], key: str, kind: type[Part], name: str) -> Iterator[dict[str, Any]]:
    """The rows of a sheet as values of fields; a build-up's name comes along with its layer."""
    rows = sheets.get(SHEETS[key], [])
    if not rows:
        return
    known = {_head(s).lower(): s for s in _fields(kind)} | {s.label.lower(): s for s in _fields(kind)}
    heads = [str(h or "").strip() for h in rows[0]]
    first = BUILD if kind is Layer else specs(kind)["name"].label
    if first not in heads:
        raise HomeFileError(f"{name}, sheet {SHEETS[key]}: the first row names the columns, one of them “{first}”")
    if len(rows) >= MOST:
        raise HomeFileError(f"{name}, sheet {SHEETS[key]}: more than {MOST} rows")
    for number, row in enumerate(rows[1:], 2):
        if not any(c not in (None, "") for c in row):
            continue
        cells = dict(zip(heads, row, strict=False))
        source = str(cells.get(SOURCE) or "").strip()
        values: dict[str, object] = {}
        for head, cell in cells.items():
            spec = known.get(head.lower())
            if spec is None or cell in (None, ""):
                continue
            try:
                values[spec.name] = _value(spec, cell, source)
            except (BadText, Asked) as why:
                raise HomeFileError(f"{name}, sheet {SHEETS[key]}, row {number}, {head}: {why}") from why
        if kind is Layer:
            values[BUILD] = str(cells.get(BUILD) or "").strip()
            if not values[BUILD]:
                raise HomeFileError(f"{name}, sheet {SHEETS[key]}, row {number}: every layer names its build-up in the column “{BUILD}”")
        elif not values.get("name"):
            raise HomeFileError(f"{name}, sheet {SHEETS[key]}, row {number}: a name is needed")
        try:
            kind(**{"id": "x", **{k: v for k, v in values.items() if k != BUILD}})
        except ValidationError as error:
            raise HomeFileError(f"{name}, sheet {SHEETS[key]}, row {number}: {reason(error)}") from error
        yield values


def _value(spec: FieldSpec, cell: object, source: str) -> object:
    """A cell as a field's value: a number in the unit of the head, or text as it is typed. Raises BadText or Asked."""
    if spec.is_quantity and isinstance(cell, int | float) and not isinstance(cell, bool):
        value = KINDS[spec.kind].to_stored(float(cell))
        refused = spec.refuse(value)
        if refused:
            raise BadText(refused)
    else:
        value = read_value(spec, str(cell))
    if not spec.is_quantity:
        return value
    return Given(value=value, basis=Basis.DECLARED if source else Basis.ASSUMED, source=source) if value is not None else None


# into the office


def taken_in(office: Office, library: Library) -> Batch:
    """A library into the office's own, as one step: a name that is there already is renewed in its place. Raises ChangeRefused."""
    if not library.said:
        raise ChangeRefused("there is nothing in that library")
    changes = []
    for key in LISTS:
        new: tuple[Any, ...] = getattr(library, key)
        if not new:
            continue
        there = {p.name: p for p in reversed(office[key])}
        rows = {p.id: p for p in office[key]}
        for part, ident in zip(new, fresh_ids(office, STEMS[key], len(new)), strict=True):
            old = there.get(part.name)
            made = _own(_renewed(old, part) if old and library.columns_only else part, old.id if old else ident)
            rows[made.id] = made
        changes.append(SetValue(part="office", field=key, value=tuple(rows.values())))
    return Batch(label=f"library taken in: {library.said}", changes=tuple(changes))


def _renewed(old: Any, new: Any) -> object:
    """What a part was with the fields a spreadsheet names; a value that is still the same keeps its basis, source and evidence."""
    changed: dict[str, object] = {}
    for field in new.model_fields_set - {"id"}:
        was, now = old[field], new[field]
        if field == "layers":
            pairs = zip_longest(was[: len(now)], now)
            changed[field] = tuple(_renewed(w, n) if w and w.name == n.name else n for w, n in pairs)
        elif not (isinstance(was, Given) and isinstance(now, Given) and isclose(was.value, now.value, rel_tol=1e-9)):
            changed[field] = now
    return replace(old, **changed)


def _own(part: Any, ident: str) -> Any:
    """A part under an id of the office."""
    if isinstance(part, BuildUp):
        return replace(part, id=ident, layers=tuple(replace(row, id=f"{ident}.{n}") for n, row in enumerate(part.layers, 1)))
    return replace(part, id=ident)
