"""Readings of an air test from CSV or JSON, without a home. Values have the unit of their column or their own; the format is described
in docs/file-format.md."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Iterable
from datetime import date
from itertools import islice
from typing import Any

from nuthatch.core.airtest.readings import WAYS, Measurement, Reading, Ring, Series
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.files.located import Fault, parse
from nuthatch.core.reading import BadText, Doubt, mark_of
from nuthatch.core.reading import read as read_number
from nuthatch.core.units import KINDS, METRIC, using

MOST_ROWS, MOST_BYTES, MARKED = 100_000, 20_000_000, 300
PLAIN = re.compile(r"[-+]?\d{1,12}(?:\.\d+)?")
WATER_INCH = 249.0889
"""1 inch of water column at 4 °C [Pa]."""
_WATER = re.compile(r"^(.*?)\s*in\.?\s*(?:w\.?\s?[cg]\.?|h2o)$", re.I)
SETUP = {
    "volume": ("volume", "volume"), "envelope": ("envelope", "area"), "floor": ("floor", "area"), "height": ("height", "length"),
    "inside": ("inside", "temperature"), "outside": ("outside", "temperature"), "humidity inside": ("humidity_inside", "percent"),
    "humidity outside": ("humidity_outside", "percent"), "barometer": ("barometer", "pascal"), "wind": ("wind", "speed"),
    "calibrated at": ("calibrated_at", "temperature"),
}  # fmt: skip
DATES = {"tested": "tested", "calibrated until": "calibrated_until"}
COLUMNS = {"pressure": "pascal", "flow": "flow", "fan pressure": "pascal", "seconds": "count"}
TEXTS = ("series", "ring", "left out")
ZEROS = ("zero before", "zero after")
BOUNDS = {
    "volume": (0.0, 1e6), "area": (0.0, 1e6), "length": (0.0, 500.0), "temperature": (-60.0, 60.0), "percent": (0.0, 1.0),
    "pascal": (-2e5, 2e5), "speed": (0.0, 100.0), "flow": (-1e6, 1e6), "count": (0.0, 1e5),
}  # fmt: skip


def read(data: bytes, name: str) -> Measurement:
    """An air test from a file. Raises HomeFileError with line, column and what would be right."""
    if len(data) > MOST_BYTES:
        raise HomeFileError(f"{name}: a file of readings is at most {MOST_BYTES // 1_000_000} MB")
    try:
        with using(METRIC):
            if name.lower().endswith(".json"):
                return _from_json(data)
            if name.lower().endswith(".csv"):
                return _from_csv(data)
    except HomeFileError as why:
        raise HomeFileError(f"{name}: {why}") from why
    raise HomeFileError(f"{name}: readings are read from .csv or .json")


class _Made:
    """A test as it is put together row by row."""

    def __init__(self, mark: str = "") -> None:
        self.mark, self.marks = mark, {}  # type: str, dict[str, str]
        self.setup: dict[str, Any] = {}
        self.rings: dict[str, Ring] = {}
        self.series: list[dict[str, Any]] = []
        self._before: list[float] = []
        self._number = 0

    def set(self, key: str, value: object, where: str) -> None:
        """A line of what holds for the whole test."""
        words = key.strip().lower()
        if words in SETUP:
            field, kind = SETUP[words]
            self.setup[field] = number(value, kind, "", f"{where}, {words}", self.mark)
        elif words in DATES:
            try:
                self.setup[DATES[words]] = date.fromisoformat(str(value).strip())
            except ValueError:
                raise HomeFileError(f"{where}, {words}: a date such as 2026-11-20 is wanted, found “{value}”") from None
        elif words == "method":
            if str(value).strip() not in ("1", "2", "3"):
                raise HomeFileError(f"{where}, method: 1, 2 or 3 (ISO 9972), found “{value}”")
            self.setup["method"] = int(str(value))
        elif words == "flow is":
            if str(value).strip().lower() not in ("as read", "corrected"):
                raise HomeFileError(f"{where}, flow is: “as read” or “corrected” for the fan's air, found “{value}”")
            self.setup["corrected"] = str(value).strip().lower() == "corrected"
        else:
            known = ", ".join((*SETUP, *DATES, "method", "flow is", "ring NAME"))
            raise HomeFileError(f"{where}: “{key}” is not known; one of {known}")

    def ring(self, name: str, values: list[object], where: str) -> None:
        """coefficient, exponent, least and most fan pressure."""
        if len(values) != 4:
            raise HomeFileError(f"{where}: a ring has coefficient [m³/h], exponent, least and most fan pressure [Pa]")
        kinds = ("flow", "count", "pascal", "pascal")
        c, e, low, high = (number(v, k, "", f"{where}, ring {name}", self.mark) for v, k in zip(values, kinds, strict=True))
        if c <= 0 or not 0 < e <= 2 or not 0 <= low < high:
            raise HomeFileError(
                f"{where}: ring {name}: the coefficient is above 0, the exponent up to 2, the least pressure below the most"
            )
        self.rings[name] = Ring(name, c, e, low, high)

    def row(self, cells: dict[str, object], units: dict[str, str], where: str) -> None:
        """A reading, or a zero-flow pressure."""
        self._number += 1
        if self._number > MOST_ROWS:
            raise HomeFileError(_too_many(where))
        kind = str(cells.get("series") or "").strip().lower()
        values = {
            c: number(cells[c], k, units.get(c, ""), f"{where}, {c}", self.marks.get(c, ""))
            for c, k in COLUMNS.items()
            if _there(cells.get(c))
        }
        if "pressure" not in values:
            raise HomeFileError(f"{where}, pressure: a value is wanted")
        if kind == ZEROS[0]:
            self._before.append(values["pressure"])
            return
        if kind == ZEROS[1]:
            if not self.series:
                raise HomeFileError(f"{where}: “zero after” stands before any series")
            self.series[-1]["zero_after"].append(values["pressure"])
            return
        if kind not in WAYS:
            raise HomeFileError(f"{where}, series: “{kind}” is not known; one of {', '.join((*ZEROS, *WAYS))}")
        if not self.series or self.series[-1]["way"] != kind or self._before or self.series[-1]["zero_after"]:
            self.series.append({"way": kind, "zero_before": self._before, "zero_after": [], "readings": []})
            self._before = []
        ring = str(cells.get("ring") or "").strip()
        if "flow" not in values:
            if "fan pressure" not in values or not ring:
                raise HomeFileError(f"{where}: a flow is wanted, or a fan pressure with its ring")
            if ring not in self.rings:
                raise HomeFileError(f"{where}, ring: “{ring}” is not described above; known: {', '.join(self.rings) or 'none'}")
        left = str(cells.get("left out") or "").strip()
        self.series[-1]["readings"].append(
            Reading(values["pressure"], values.get("flow"), values.get("fan pressure"), ring, values.get("seconds"), left, where)
        )

    def test(self) -> Measurement:
        if self._before:
            raise HomeFileError("“zero before” is followed by no series")
        if not self.series:
            raise HomeFileError("there are no readings")
        made = tuple(Series(s["way"], tuple(s["readings"]), tuple(s["zero_before"]), tuple(s["zero_after"])) for s in self.series)
        return Measurement(series=made, rings=self.rings, **self.setup)


def _there(cell: object) -> bool:
    return cell is not None and str(cell).strip() != ""


def number(cell: object, kind: str, unit: str, where: str, mark: str = "") -> float:
    """A cell as SI (flows m³/h); mark: the decimal mark of its column. Raises HomeFileError with the place."""
    text, mark = str(cell).strip(), "." if isinstance(cell, float) else mark
    value = _plain(text, kind, unit, mark)
    if value is not None:
        return _within(value, text, kind, where)
    water = _WATER.match(text if kind == "pascal" else "") or (_WATER.match(f"{text} {unit}") if unit and kind == "pascal" else None)
    try:
        found = read_number(water[1], "count", None, mark) if water else read_number(_named(text, unit), kind, None, mark)
    except BadText as why:
        raise HomeFileError(f"{where}: {why}") from why
    if isinstance(found, Doubt):
        raise HomeFileError(
            f"{where}: “{text}” may be {' or '.join(words for words, _ in found.readings)}; write it without a thousands mark"
        )
    return _within(found * WATER_INCH if water else found, text, kind, where)


def _plain(text: str, kind: str, unit: str, mark: str) -> float | None:
    """A bare number in the unit of its kind, as nearly all of a long log are; None for others."""
    if kind not in ("pascal", "flow", "count") or unit not in ("", KINDS[kind].unit) or (not mark and ("." in text or "," in text)):
        return None
    if mark == "," and "." in text or mark == "." and "," in text:  # a thousands mark
        return None
    digits = text.replace("−", "-").replace(",", ".")
    return float(digits) if PLAIN.fullmatch(digits) else None


def _within(value: float, text: str, kind: str, where: str) -> float:
    low, high = BOUNDS[kind]
    if not low <= value <= high:
        raise HomeFileError(f"{where}: {text} is out of {low:g} to {high:g}")
    return value


def _named(text: str, unit: str) -> str:
    """A bare number with the unit of its column."""
    return f"{text} {unit}" if unit and re.fullmatch(r"[-−+]?[\d.,\s']+(?:[eE][-+]?\d+)?", text) else text


# CSV


def _from_csv(data: bytes) -> Measurement:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise HomeFileError(f"line {data[: error.start].count(10) + 1}: this is not UTF-8 text") from None
    mark = max(";\t,", key=text[:20_000].count) if not text[:20_000].count(";") else ";"
    rows: list[tuple[str, list[str]]] = []
    reader = csv.reader(io.StringIO(text), delimiter=mark)
    try:
        for cells in reader:
            row = [c.strip() for c in cells]
            if any(row) and not row[0].startswith("#"):
                rows.append((f"line {reader.line_num}", row))
            if len(rows) > MOST_ROWS + 1000:  # settings and heads besides
                raise HomeFileError(_too_many(rows[-1][0]))
    except csv.Error as error:
        raise HomeFileError(f"line {reader.line_num}: {error}") from None
    at = next((n for n, (_, row) in enumerate(rows) if row[0].lower().partition("[")[0].strip() == "series"), None)
    if at is None:
        raise HomeFileError("there is no table: its first line begins with “series” and names the columns pressure, flow …")
    made = _Made(_mark(c for _, row in rows for c in row[1:]))
    for where, row in rows[:at]:
        _setting(made, row, where)
    heads, units = _heads(rows[at][1], rows[at][0])
    for n, head in enumerate(heads):
        made.marks[head] = _mark(row[n] for _, row in rows[at + 1 :] if n < len(row)) or made.mark
    for where, row in rows[at + 1 :]:
        made.row(dict(zip(heads, row, strict=False)), units, where)
    return made.test()


def _mark(cells: Iterable[str]) -> str:
    """The decimal mark that the first cells with a mark show; a later one that cannot be read with it is read by itself."""
    return mark_of(islice((c for c in cells if "." in c or "," in c), MARKED))


def _too_many(where: str) -> str:
    return f"{where}: more than {MOST_ROWS} readings; average a log before"


def _setting(made: _Made, row: list[str], where: str) -> None:
    key, values = row[0], [c for c in row[1:] if c]
    if key.lower().startswith("ring "):
        made.ring(key[5:].strip(), list(values), where)
        return
    if len(values) != 1:
        raise HomeFileError(f"{where}, {key}: one value is wanted, found {len(values)}")
    words, _, unit = key.partition("[")
    made.set(words, _named(values[0], unit.partition("]")[0].strip()), where)


def _heads(row: list[str], where: str) -> tuple[list[str], dict[str, str]]:
    """(what each column is, unit of a column)."""
    heads: list[str] = []
    units: dict[str, str] = {}
    for cell in row:
        words, _, rest = cell.lower().partition("[")
        head = words.strip()
        if head and head not in COLUMNS and head not in TEXTS:
            raise HomeFileError(f"{where}: the column “{cell}” is not known; one of {', '.join((*TEXTS, *COLUMNS))}")
        if head and head in heads:
            raise HomeFileError(f"{where}: the column “{head}” stands twice")
        heads.append(head)
        units[head] = cell.partition("[")[2].partition("]")[0].strip() if rest else ""
    if "pressure" not in heads or not ("flow" in heads or {"fan pressure", "ring"} <= set(heads)):
        raise HomeFileError(f"{where}: the columns “series”, “pressure” and “flow”, or “fan pressure” and “ring”, are needed")
    return heads, units


# JSON


def _from_json(data: bytes) -> Measurement:
    try:
        located = parse(data)
    except Fault as why:
        raise HomeFileError(str(why)) from why
    raw, made = located.data, _Made()
    if not isinstance(raw, dict) or raw.get("nuthatch") != "air test":
        raise HomeFileError("this is no air test of Nuthatch; such a file begins with “nuthatch”: “air test”")
    shape = {"setup": dict, "rings": list, "readings": list}
    for key, kind in shape.items():
        if not isinstance(raw.get(key, kind()), kind):
            raise HomeFileError(f"line {located.line((key,))}: “{key}” is {'an object' if kind is dict else 'a list'}")

    def each(items: Iterable[object], key: str, take: Callable[[dict[str, object], str], None]) -> None:
        for n, item in enumerate(items):
            where = f"line {located.line((key, n))}"
            if not isinstance(item, dict):
                raise HomeFileError(f"{where}: {key}.{n} is an object")
            take(item, where)

    for key, value in raw.get("setup", {}).items():
        made.set(key, value, f"line {located.line(('setup', key))}")
    each(raw.get("rings", []), "rings", lambda r, w: made.ring(
        str(r.get("name", "")), [r[k] for k in ("coefficient", "exponent", "least", "most") if k in r], w))  # fmt: skip
    each(raw.get("readings", []), "readings", lambda r, w: made.row(r, {}, w))
    return made.test()
