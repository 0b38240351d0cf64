"""Sheets written: one writer each for HTML, spreadsheets, CSV and JSON."""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import NamedTuple

from markupsafe import Markup

from nuthatch.core.files.homefile import HomeFileError, put
from nuthatch.core.files.tables import harmless, to_xlsx
from nuthatch.core.units import beside, unit_of
from nuthatch.core.views.sheets.sheet import Amount, Sheet, number_of

WIDE, FEW_ROWS, FEW_COLUMNS = 112, 2, 5
"""Letters a page holds beside each other: a list that is wider goes on in a further table. Few rows of more than few columns are said in lines."""
SQUEEZED = 1.2
"""So much wider than there is room columns of one kind may want to be and still stand together."""


def _spread(sheet: Sheet) -> tuple[tuple[str, ...], list[tuple[str | float | None, ...]]]:
    """(heads, rows) for a spreadsheet: a column of amounts has its units beside it."""
    mixed = {n for n in range(len(sheet.heads)) if any(isinstance(row[n], Amount) for row in sheet.rows)}
    heads: list[str] = []
    for n, head in enumerate(sheet.heads):
        heads += [head.text, "Unit"] if n in mixed else [head.text]
    rows = []
    for row in sheet.rows:
        cells: list[str | float | None] = []
        for n, (cell, head) in enumerate(zip(row, sheet.heads, strict=True)):
            cells.append(number_of(cell, head))
            if n in mixed:
                cells.append(unit_of(cell.kind) if isinstance(cell, Amount) else None)
        rows.append(tuple(cells))
    return tuple(heads), rows


def as_xlsx(sheets: Iterable[Sheet]) -> bytes:
    """Sheets as one workbook; numbers stay numbers."""
    return to_xlsx((s.title, *(_spread(s) if s.rows else ((s.empty,), []))) for s in sheets)


def as_csv(sheet: Sheet) -> str:
    """A sheet as CSV (RFC 4180); a text that a spreadsheet would take for a formula is put behind an apostrophe."""
    heads, rows = _spread(sheet)
    stream = io.StringIO()
    writer = csv.writer(stream)
    writer.writerow(heads)
    writer.writerows(
        [
            ["" if c is None else f"{c:.6g}" if isinstance(c, float) else harmless(c) if isinstance(c, str) else c for c in row]
            for row in rows
        ]
    )
    return stream.getvalue()


def as_data(sheet: Sheet) -> dict[str, object]:
    """A sheet as plain data, SI: its heads with their kinds, its rows with the part each is of."""
    cells = [[{"value": c.value, "kind": c.kind} if isinstance(c, Amount) else c for c in row] for row in sheet.rows]
    rows = [{"id": ident, "cells": row} for ident, row in zip(sheet.ids or ("",) * len(cells), cells, strict=True)]
    return {"key": sheet.key, "title": sheet.title, "columns": [{"label": h.label, "kind": h.kind} for h in sheet.heads], "rows": rows}


def as_json(sheets: Iterable[Sheet]) -> str:
    """Sheets as JSON."""
    return json.dumps([as_data(s) for s in sheets], ensure_ascii=False, allow_nan=False)


def save(sheet: Sheet, path: Path) -> None:
    """A sheet as a file: CSV, XLSX or JSON by the name's ending. Raises HomeFileError for another, or where it cannot be written."""
    made = {".csv": lambda: as_csv(sheet).encode(), ".xlsx": lambda: as_xlsx([sheet]), ".json": lambda: as_json([sheet]).encode()}
    if path.suffix.lower() not in made:
        raise HomeFileError(f"{path.name}: a list is written as .csv, .xlsx or .json")
    put(path, made[path.suffix.lower()]())


CellLink = Callable[[str, str, str], Markup]
"""(part, field, text) as what a page shows of it."""


def _no_link(part: str, field: str, text: str) -> Markup:
    return Markup("{}").format(text)


def as_html(
    sheet: Sheet, alike: bool = False, small: bool = True, left_out: Sequence[str] = (), wide: int = WIDE, link: CellLink = _no_link
) -> Markup:
    """A sheet as a table, one with very many columns as several; few parts of which much is known in lines. alike: rows that differ in
    their first cell alone stand together. left_out: labels of columns that are told elsewhere. wide: letters that stand beside each other."""
    kept = sheet.without_empty()
    if left_out:
        kept = _without(kept, left_out)
    if not kept.rows:
        return Markup('<p class="muted">{}</p>').format(f"{sheet.title}: {sheet.empty}.")
    numeric, rows = (
        set(kept.numeric),
        [_Row(ident, list(row)) for ident, row in zip(kept.ids or ("",) * len(kept.rows), kept.texts(), strict=True)],
    )
    rows = _together(rows) if alike else rows
    if len(rows) <= FEW_ROWS and len(kept.heads) > FEW_COLUMNS:
        return _in_lines(kept, rows, link)
    return Markup("").join(_table(kept, rows, numeric, columns, small, link) for columns in _side_by_side(kept, rows, wide))


def _side_by_side(sheet: Sheet, rows: list[_Row], wide: int) -> list[list[int]]:
    """The columns of each table: the first in all of them, then as many as have room. Columns of one kind, as of months, stay
    together, or are parted evenly where they are far too wide."""
    further = list(range(1, len(sheet.heads)))
    widths = _widths([[head.text, *(row.cells[n] for row in rows)] for n, head in enumerate(sheet.heads)])
    kinds = {h.kind for h in sheet.heads[1:]}
    if len(kinds) == 1:
        parts = math.ceil(sum(widths) / (SQUEEZED * wide)) if all(kinds) else 1  # months in both units have room for half a year
        size = math.ceil(len(further) / parts)
        return [[0, *further[n : n + size]] for n in range(0, len(further), size)]
    found: list[list[int]] = [[0]]
    taken = widths[0]
    for n in further:
        if taken + widths[n] > wide and len(found[-1]) > 1:
            found.append([0])
            taken = widths[0]
        found[-1].append(n)
        taken += widths[n]
    return found


class _Row(NamedTuple):
    """A row of texts, and the part it is of; '' where it stands for several."""

    ident: str
    cells: list[str]


def _table(sheet: Sheet, rows: list[_Row], numeric: set[int], columns: list[int], small: bool, link: CellLink) -> Markup:
    """Some columns of a sheet as a table whose columns are as wide as what they hold asks for."""
    shares = _shares([[sheet.heads[n].text, *(row.cells[n] for row in rows)] for n in columns])
    heads = Markup("").join(
        Markup('<th{} style="width: {:.1f}%">{}</th>').format(_side(n in numeric), share, sheet.heads[n].text)
        for n, share in zip(columns, shares, strict=True)
    )
    body = Markup("").join(
        Markup("<tr>{}</tr>").format(
            Markup("").join(
                Markup("<td{}>{}</td>").format(
                    _side(n in numeric),
                    link(row.ident, sheet.heads[n].field, row.cells[n]) if n == 0 or sheet.heads[n].field else row.cells[n],
                )
                for n in columns
            )
        )
        for row in rows
    )
    return Markup('<table class="sheet fixed{}"><thead><tr>{}</tr></thead>{}</table>').format(" small" if small else "", heads, body)


NARROWEST, WIDEST = 4, 34


def _shares(columns: list[list[str]]) -> list[float]:
    """How wide columns of texts are to be [%]."""
    widths = _widths(columns)
    return [100 * w / sum(widths) for w in widths]


def _widths(columns: list[list[str]]) -> list[float]:
    """How wide columns of texts want to be [letters]: the head on two or three lines, the longest word whole; texts on one line up to a width."""
    widths = []
    for head, *texts in columns:
        words = max((len(w) for t in (head, *texts) for w in t.replace("[", " [").split(" ")), default=0)
        longest = max((len(t) for t in texts), default=0)
        widths.append(min(max(words, longest, len(head) / 3, NARROWEST), max(WIDEST, words)) + 1.5)
    return widths


def _side(number: bool) -> Markup:
    return Markup(' class="n"') if number else Markup("")


def _without(sheet: Sheet, labels: Sequence[str]) -> Sheet:
    kept = [n for n, h in enumerate(sheet.heads) if h.label not in labels]
    rows = tuple(tuple(row[n] for n in kept) for row in sheet.rows)
    return Sheet(sheet.key, sheet.title, tuple(sheet.heads[n] for n in kept), rows, sheet.ids, sheet.empty)


def _in_lines(sheet: Sheet, rows: list[_Row], link: CellLink) -> Markup:
    """Each part with what is said of it, one after the other."""
    found = []
    for row in rows:
        said = [
            Markup('<span class="said">{} <b>{}</b></span>').format(
                h.text if beside() else h.label, link(row.ident, h.field, f"{text} {_unit(h.kind)}".strip() if h.kind else text)
            )
            for h, text in zip(sheet.heads[1:], row.cells[1:], strict=True)
            if text
        ]
        found.append(Markup('<p class="part small"><b>{}</b>: {}</p>').format(link(row.ident, "", row.cells[0]), Markup("; ").join(said)))
    return Markup("").join(found)


def _unit(kind: str) -> str:
    """The unit behind a number said in a line; where numbers carry both, the units stand with the label."""
    return "" if beside() else unit_of(kind)


def _together(rows: list[_Row]) -> list[_Row]:
    """Rows that differ in their first cell alone, as one; how many they are stands behind their names."""
    found: dict[tuple[str, ...], list[_Row]] = {}
    for row in rows:
        found.setdefault(tuple(row.cells[1:]), []).append(row)
    return [_Row(same[0].ident if len(same) == 1 else "", [named([r.cells[0] for r in same]), *rest]) for rest, same in found.items()]


NAMED = 30
"""So many names are listed; of more the first stand, and how many there are. The spreadsheet lists every part."""


def named(names: Sequence[str]) -> str:
    """The names of alike parts in one cell."""
    shown = ", ".join(names) if len(names) <= NAMED else f"{', '.join(names[: NAMED - 1])} and {len(names) - NAMED + 1} more"
    return f"{shown} ({len(names)}, each)" if len(names) > 1 else shown


__all__ = ["as_csv", "as_data", "as_html", "as_json", "as_xlsx", "named", "save"]
