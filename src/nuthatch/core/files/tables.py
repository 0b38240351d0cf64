"""Tables out and in as spreadsheets (Office Open XML, ISO/IEC 29500, by openpyxl)."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable
from typing import Any

from nuthatch.core.files.homefile import HomeFileError

Cell = str | float | int | None


FORMULA = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")
"""What a spreadsheet takes for the beginning of a formula."""


def harmless(text: str) -> str:
    """A text for a cell of a CSV file, without control characters; what would be taken for a formula is put behind an apostrophe."""
    clean = "".join(c if c.isprintable() or c in "\u00a0\u202f" else " " for c in text)
    return f"'{clean}" if _like_a_formula(text) else clean


def as_typed(text: str) -> str:
    """A cell as it was before it was made harmless."""
    return text[1:] if text[:1] == "'" and _like_a_formula(text[1:]) else text


def _like_a_formula(text: str) -> bool:
    """Whether a text begins as a formula, or as one that was made harmless."""
    return text.lstrip(" '")[:1] in FORMULA and bool(text.lstrip(" '"))


def to_xlsx(sheets: Iterable[tuple[str, tuple[str, ...], Iterable[tuple[Cell, ...]]]]) -> bytes:
    """Sheets of (name, heads, rows) as one workbook; numbers stay numbers, texts are never taken for formulas."""
    from openpyxl import Workbook
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book = Workbook()
    book.remove(book.active)
    for name, heads, rows in sheets:
        sheet: Any = book.create_sheet(name[:31])
        widths = [len(h) for h in heads]
        for c, head in enumerate(heads, 1):
            sheet.cell(1, c, head).font = Font(bold=True)
        for r, row in enumerate(rows, 2):
            for c, value in enumerate(row, 1):
                cell = sheet.cell(r, c)
                cell.value = _clean(value) if isinstance(value, str) else value
                if isinstance(value, str):
                    cell.data_type = "s"
                widths[c - 1] = max(widths[c - 1], min(len(str(value or "")), 60))
        for c, width in enumerate(widths, 1):
            sheet.column_dimensions[get_column_letter(c)].width = width + 2
        sheet.freeze_panes = "A2"
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


def _clean(text: str) -> str:
    """Without the control characters XML cannot hold, and within the length of a cell."""
    kept = "".join(c for c in text if (c >= " " and c not in "\ufffe\uffff") or c in "\n\t")[:32000]
    return kept.encode("utf-8", "replace").decode()


def from_workbook(data: bytes, largest: int, rows: int, columns: int) -> dict[str, list[tuple[object, ...]]]:
    """The cells of every sheet by its name, as many as asked for. Raises HomeFileError.

    largest: bytes; a workbook that unpacks to twenty times as much is refused.
    """
    from openpyxl import load_workbook

    if len(data) > largest:
        raise HomeFileError(f"the file is larger than {largest // 1_000_000} MB")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            unpacked = sum(i.file_size for i in archive.infolist())
        if unpacked > 20 * largest:
            raise HomeFileError("the spreadsheet unpacks to more than such a list can hold")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheets = [s for s in book.worksheets if hasattr(s, "iter_rows")]  # a chart is a sheet too
        if not sheets:
            raise HomeFileError("the workbook holds no sheet with cells")
        return {s.title: [tuple(r) for r in s.iter_rows(values_only=True, max_row=rows, max_col=columns)] for s in sheets}
    except HomeFileError:
        raise
    except Exception as error:  # whatever a broken spreadsheet makes its reader raise
        raise HomeFileError(f"this is no spreadsheet that can be read ({type(error).__name__})") from None
