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

from nuthatch.core.airtest.readings import DEPRESSURISING, PRESSURISING, WAYS, Instrument, Measurement, Reading, Ring, Series
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.files.located import Fault, parse
from nuthatch.core.model.air_test import AirTest, Fan, FanRing, TestReading
from nuthatch.core.model.part import FieldSpec, specs
from nuthatch.core.reading import BadText, Doubt, mark_of
from nuthatch.core.reading import read as read_number
from nuthatch.core.unit_names import FACTORS
from nuthatch.core.units import KINDS, METRIC, using

MOST_ROWS, MOST_BYTES, MARKED = 100_000, 20_000_000, 300
PLAIN = re.compile(r"[-+]?\d{1,12}(?:\.\d+)?")
SETUP: dict[str, FieldSpec] = {
    **{name.replace("_", " "): specs(AirTest)[name] for name in (
        "volume", "envelope", "floor", "height", "inside", "outside", "humidity_inside", "humidity_outside", "barometer", "wind")},
    "calibrated at": specs(Fan)["calibrated_at"],
}  # fmt: skip
"""What holds for the whole test, by its word in a file, with the units and bounds of the home's own fields."""
DATES = {"tested": "tested", "calibrated": "calibrated", "calibrated until": "until"}
COLUMNS: dict[str, FieldSpec] = {n.replace("_", " "): specs(TestReading)[n] for n in ("pressure", "flow", "fan_pressure", "seconds")}
RINGS: tuple[FieldSpec, ...] = tuple(specs(FanRing)[n] for n in ("coefficient", "exponent", "least", "most"))
TEXTS = ("series", "ring", "left out")
ZEROS = ("zero before", "zero after")
SPELT = {
    "depressurizing": DEPRESSURISING, "depressurisation": DEPRESSURISING, "depressurization": DEPRESSURISING, "pressurizing": PRESSURISING,
    "pressurisation": PRESSURISING, "pressurization": PRESSURISING,
}  # fmt: skip
"""Other spellings of the directions."""
BAROMETERS = {name: FACTORS[name] for name in ("Pa", "hPa", "kPa", "mmHg", "inHg")}
"""Units a bare air pressure may be in [Pa]."""


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
        self.dates: dict[str, date] = {}
        self.rings: dict[str, Ring] = {}
        self.series: list[dict[str, Any]] = []
        self._before: list[Reading] = []
        self._number = 0

    def set(self, key: str, value: object, where: str) -> None:
        """A line of what holds for the whole test."""
        words = key.strip().lower()
        if words in SETUP:
            spec = SETUP[words]
            self.setup[spec.name] = number(value, spec, "", f"{where}, {words}", self.mark)
        elif words in DATES:
            try:
                self.dates[DATES[words]] = date.fromisoformat(str(value).strip())
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
        c, e, low, high = (number(v, spec, "", f"{where}, ring {name}", self.mark) for v, spec in zip(values, RINGS, strict=True))
        if low >= high:
            raise HomeFileError(f"{where}: ring {name}: the least pressure is not below the most")
        self.rings[name] = Ring(name, c, e, low, high)

    def row(self, cells: dict[str, object], units: dict[str, str], where: str) -> None:
        """A reading, or a zero-flow pressure."""
        self._number += 1
        if self._number > MOST_ROWS:
            raise HomeFileError(_too_many(where))
        kind = str(cells.get("series") or "").strip().lower()
        kind = SPELT.get(kind, kind)
        values = {
            c: number(cells[c], spec, units.get(c, ""), f"{where}, {c}", self.marks.get(c, ""))
            for c, spec in COLUMNS.items()
            if _there(cells.get(c))
        }
        left = str(cells.get("left out") or "").strip()
        if "pressure" not in values:
            raise HomeFileError(f"{where}, pressure: a value is wanted")
        if kind == ZEROS[0]:
            self._before.append(Reading(values["pressure"], seconds=values.get("seconds"), left_out=left, place=where))
            return
        if kind == ZEROS[1]:
            if not self.series:
                raise HomeFileError(f"{where}: “zero after” stands before any series")
            self.series[-1]["after"].append(Reading(values["pressure"], seconds=values.get("seconds"), left_out=left, place=where))
            return
        if kind not in WAYS:
            raise HomeFileError(f"{where}, series: “{kind}” is not known; one of {', '.join((*ZEROS, *WAYS))}")
        if not self.series or self.series[-1]["way"] != kind or self._before or self.series[-1]["after"]:
            self.series.append({"way": kind, "before": self._before, "after": [], "readings": []})
            self._before = []
        ring = str(cells.get("ring") or "").strip()
        if "flow" not in values:
            if "fan pressure" not in values or not ring:
                raise HomeFileError(f"{where}: a flow is wanted, or a fan pressure with its ring")
            if ring not in self.rings:
                raise HomeFileError(f"{where}, ring: “{ring}” is not described above; known: {', '.join(self.rings) or 'none'}")
        self.series[-1]["readings"].append(
            Reading(values["pressure"], values.get("flow"), values.get("fan pressure"), ring, values.get("seconds"), left, where)
        )

    def test(self) -> Measurement:
        if self._before:
            raise HomeFileError("“zero before” is followed by no series")
        if not self.series:
            raise HomeFileError("there are no readings")
        runs: dict[str, int] = {}
        made = []
        for s in self.series:
            runs[s["way"]] = runs.get(s["way"], 0) + 1
            made.append(Series(s["way"], tuple(s["readings"]), tuple(s["before"]), tuple(s["after"]), runs[s["way"]]))
        fan = (Instrument("fan", self.dates.get("calibrated"), self.dates.get("until")),) if self.dates.keys() - {"tested"} else ()
        return Measurement(series=tuple(made), rings=self.rings, tested=self.dates.get("tested"), instruments=fan, **self.setup)


def _there(cell: object) -> bool:
    return cell is not None and str(cell).strip() != ""


def number(cell: object, spec: FieldSpec, unit: str, where: str, mark: str = "") -> float:
    """A cell as SI (flows m³/h), within the bounds of the home's field; mark: the decimal mark of its column. Raises HomeFileError with
    the place."""
    text, mark = str(cell).strip(), "." if isinstance(cell, float) else mark
    value = _plain(text, spec.kind, unit, mark)
    if value is None and spec.kind == "pressure" and not unit and _BARE.fullmatch(text):
        value = _barometer(text, where, mark)
    if value is None:
        value = _read(text, spec, unit, where, mark)
    if spec.name == "flow":
        value = abs(value)  # some fans say by the sign which way they blow
    if why := spec.refuse(value):
        raise HomeFileError(f"{where}: {why}")
    return value


_BARE = re.compile(r"[-−+]?[\d.,\s']+(?:[eE][-+]?\d+)?")


def _read(text: str, spec: FieldSpec, unit: str, where: str, mark: str) -> float:
    """A cell by the reader of typed values."""
    try:
        found = read_number(_named(text, unit), spec.kind, None, mark)
    except BadText as why:
        raise HomeFileError(f"{where}: {why}") from why
    if isinstance(found, Doubt):
        raise HomeFileError(
            f"{where}: “{text}” may be {' or '.join(words for words, _ in found.readings)}; write it without a thousands mark"
        )
    return found


def _barometer(text: str, where: str, mark: str) -> float:
    """A bare air pressure [Pa]: in the one unit in which it can be one; asked for where there are several, or none."""
    bare = _read(text, COLUMNS["pressure"], "", where, mark)
    fits = [name for name, factor in BAROMETERS.items() if not SETUP["barometer"].refuse(bare * factor)]
    if len(fits) != 1:
        may = f"may be {' or '.join(f'{text} {n}' for n in fits)}" if fits else "is no air pressure in any unit"
        raise HomeFileError(f"{where}: “{text}” {may}; write its unit, as in 1013 hPa")
    return bare * BAROMETERS[fits[0]]


def _plain(text: str, kind: str, unit: str, mark: str) -> float | None:
    """A bare number in the unit of its kind, as nearly all of a long log are; None for others."""
    if (
        kind not in ("pascal", "flow", "calibration", "seconds")
        or unit not in ("", KINDS[kind].unit)
        or (not mark and ("." in text or "," in text))
    ):
        return None
    if mark == "," and "." in text or mark == "." and "," in text:  # a thousands mark
        return None
    digits = text.replace("−", "-").replace(",", ".")
    return float(digits) if PLAIN.fullmatch(digits) else None


def _named(text: str, unit: str) -> str:
    """A bare number with the unit of its column."""
    return f"{text} {unit}" if unit and _BARE.fullmatch(text) else text


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
    at = next((n for n, (_, row) in enumerate(rows) if "series" in {_head(c)[0] for c in row}), None)
    if at is None:
        raise HomeFileError("there is no table: its first line names its columns, “series”, “pressure”, “flow” …")
    made = _Made(_mark(c for _, row in rows for c in row[1:]))
    for where, row in rows[:at]:
        _setting(made, row, where)
    heads, units = _heads(rows[at][1], rows[at][0])
    for n, head in enumerate(heads):
        made.marks[head] = _mark(row[n] for _, row in rows[at + 1 :] if n < len(row)) or made.mark
    for where, row in rows[at + 1 :]:
        if any(row[len(heads) :]):
            raise HomeFileError(_extra(row, heads, where, mark))
        made.row(dict(zip(heads, row, strict=False)), units, where)
    return made.test()


def _extra(row: list[str], heads: list[str], where: str, mark: str) -> str:
    """A row with more cells than the table has columns: which one, and the likely cause."""
    cause = "; with decimal commas the cells are parted by “;”" if mark == "," else ""
    return f"{where}, column {len(heads) + 1}: “{row[len(heads)]}” stands beyond the {len(heads)} columns of the table{cause}"


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
    words, unit = _head(key)
    made.set(words, _named(values[0], unit), where)


_HEAD = re.compile(r"(?P<words>[^\[(]*?)\s*(?:\[(?P<square>.*)\]|\((?P<round>.*)\))?\s*")


def _head(cell: str) -> tuple[str, str]:
    """What a heading is of, and its unit: “pressure [Pa]”, “pressure (Pa)”, “Pressure”."""
    found = _HEAD.fullmatch(cell.strip())
    if found is None:
        return cell.strip().lower(), ""
    return found["words"].strip().lower(), (found["square"] or found["round"] or "").strip()


def _heads(row: list[str], where: str) -> tuple[list[str], dict[str, str]]:
    """(what each column is, unit of a column)."""
    heads: list[str] = []
    units: dict[str, str] = {}
    for cell in row:
        head, unit = _head(cell)
        if head and head not in COLUMNS and head not in TEXTS:
            raise HomeFileError(f"{where}: the column “{cell}” is not known; one of {', '.join((*TEXTS, *COLUMNS))}")
        if head and head in heads:
            raise HomeFileError(f"{where}: the column “{head}” stands twice")
        heads.append(head)
        units[head] = unit
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
    each(raw.get("readings", []), "readings", lambda r, w: made.row(*_named_cells(r, w), w))
    return made.test()


def _named_cells(row: dict[str, object], where: str) -> tuple[dict[str, object], dict[str, str]]:
    """A reading of JSON by the names of its values, with the units behind them; a name that is not known is refused."""
    cells, units = {}, {}
    for key, value in row.items():
        head, unit = _head(key)
        if head not in COLUMNS and head not in TEXTS:
            raise HomeFileError(f"{where}: “{key}” is not known; one of {', '.join((*TEXTS, *COLUMNS))}")
        cells[head], units[head] = value, unit
    return cells, units
