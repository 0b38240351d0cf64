"""Lists of faces as CSV and XLSX, out and in: name, kind, area, tilt, direction, what they border on, build-up, b, perimeter, depth."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import ChangeRefused, apply
from nuthatch.core.edits.desk import AskedColumn, BadCell, Block, Listing, pasted
from nuthatch.core.fabric.stages import B
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.files.tables import Cell, as_typed, from_workbook, harmless, to_xlsx
from nuthatch.core.library import new_home
from nuthatch.core.model.home import BuildUp, Face, Home
from nuthatch.core.model.part import Given, replace, specs
from nuthatch.core.results.figure import Node
from nuthatch.core.solid.plan_faces import slug
from nuthatch.core.solid.stages import AREA, PERIMETER, SOLID
from nuthatch.core.units import METRIC, kind_of, system, unit_of

FIELDS = ("name", "role", "area", "tilt", "azimuth", "borders", "buildup", "b", "perimeter", "depth")
MOST_ROWS, MOST_BYTES = 20_000, 20_000_000
LISTING = Listing("shape", "faces", Face, "face")


# out


def heads() -> tuple[str, ...]:
    """The heads of the columns, units in brackets."""
    found = []
    for name in FIELDS:
        spec = specs(Face)[name]
        unit = unit_of(spec.kind) if spec.is_quantity else ""
        found.append(f"{spec.label} [{unit}]" if unit else spec.label)
    return tuple(found)


def rows(a: Assessment) -> list[tuple[Cell, ...]]:
    """The faces of a home as rows, in the units shown; gross areas; b, perimeter and depth as they count, typed or worked out."""
    names = {b.id: b.name for b in a.home.buildups}
    areas, perimeters, bs = a.all_of(AREA), a.all_of(PERIMETER), a.all_of(B)
    found: list[tuple[Cell, ...]] = []
    for f in a[SOLID].boundaries:
        on_ground = f.beyond.kind == "ground"
        perimeter = perimeters.get(f.id) if on_ground and f.role == "floor" else None
        found.append(
            (
                f.name,
                f.role,
                _size(areas.get(f.id), "area"),
                round(f.tilt, 4),
                round(f.azimuth, 4),
                f.borders,
                names.get(f.buildup, ""),
                _number(f.b.given or bs.get(f.beyond.id)) if f.beyond.kind == "unheated" else None,
                _size(perimeter, "length"),
                _size(f.depth.given, "length") if on_ground else None,
            )
        )
    return found


def _number(value: Node | Given | None) -> float | None:
    return round(float(value.value), 6) if value is not None and value.value is not None else None


def _size(value: Node | Given | None, kind: str) -> float | None:
    """A size in the units shown; None where it is not known."""
    if value is None or value.value is None:
        return None
    shown: float = round(kind_of(kind).to_shown(float(value.value)), 6)
    return shown


def as_csv(a: Assessment) -> bytes:
    """The faces as CSV."""
    stream = io.StringIO()
    writer = csv.writer(stream)
    writer.writerow(heads())
    writer.writerows(["" if c is None else harmless(c) if isinstance(c, str) else c for c in row] for row in rows(a))
    return stream.getvalue().encode()


def as_xlsx(a: Assessment) -> bytes:
    """The faces as a spreadsheet."""
    return to_xlsx([("Faces", heads(), rows(a))])


# in


def from_csv(data: bytes) -> Home:
    """A home with the faces of a CSV file. Raises HomeFileError with row and reason."""
    if len(data) > MOST_BYTES:
        raise HomeFileError(f"the file is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise HomeFileError(f"byte {error.start}: the file is not UTF-8 text") from None
    first = text.partition("\n")[0]
    mark = max(",;\t", key=first.count)
    try:
        return _home([tuple(map(as_typed, row)) for row in csv.reader(io.StringIO(text), delimiter=mark)])
    except csv.Error as error:
        raise HomeFileError(f"this is no table: {error}") from None


def from_xlsx(data: bytes) -> Home:
    """A home with the faces of the first sheet of a spreadsheet. Raises HomeFileError with row and reason."""
    sheets = from_workbook(data, MOST_BYTES, MOST_ROWS + 2, 40)
    grid = [tuple("" if c is None else str(c) for c in row) for row in next(iter(sheets.values()))]
    return _home(grid)


def _home(grid: list[tuple[str, ...]]) -> Home:
    table = [row for row in grid if any(cell.strip() for cell in row)]
    if len(table) < 2:
        raise HomeFileError("there is no table here: the first row names the columns, faces follow below")
    if len(table) > MOST_ROWS:
        raise HomeFileError(f"row {MOST_ROWS}: more faces than a dwelling has")
    columns, units = _columns(table[0])
    home = new_home()
    cells = [[_with_unit(c, units[n]) for n, c in enumerate(row[: len(columns)])] for row in table[1:]]
    at = columns.index("buildup") if "buildup" in columns else -1
    named = dict.fromkeys(row[at].strip() for row in cells if 0 <= at < len(row) and row[at].strip())
    builds = list(home.buildups)
    names, ids = {b.name for b in builds}, _Ids(b.id for b in builds)
    for name in named:
        if name not in names:
            names.add(name)
            builds.append(BuildUp(id=ids.free(slug(name) or "build-up"), name=name))
    home = replace(home, buildups=tuple(builds), shape=replace(home.shape, form=None))
    block = Block((), tuple(columns), tuple(tuple(row) for row in cells))
    try:
        return apply(pasted(home, LISTING, block, {"buildup": [(b.id, b.name) for b in builds]}), home)
    except BadCell as bad:
        label = specs(Face)[bad.field].label if bad.field in specs(Face) else "row"
        raise HomeFileError(f"row {bad.row + 2}, {label}: {bad.why}") from None
    except AskedColumn as asked:
        label = specs(Face)[asked.field].label
        raise HomeFileError(f"row {asked.row + 2}, {label}: “{asked.cell}”: {asked.doubt.question}") from None
    except ChangeRefused as why:
        raise HomeFileError(str(why)) from None


def _columns(first: tuple[str, ...]) -> tuple[list[str], list[str]]:
    """(field of each column, '' for one that is not known; unit in its brackets)."""
    known: dict[str, str] = {}
    for name in FIELDS:
        spec = specs(Face)[name]
        known |= {spec.label.lower(): name, spec.brief.lower(): name, name: name}
    known |= {"area": "area", "name": "name"}
    fields, units = [], []
    for head in first:
        words, _, rest = head.partition("[")
        fields.append(known.get(words.strip().lower(), ""))
        units.append(rest.partition("]")[0].strip())
    if "name" not in fields or "area" not in fields:
        raise HomeFileError(f"row 1: the columns “Face” and “Gross area” are needed; found {', '.join(h for h in first if h) or 'none'}")
    return fields, units


def _with_unit(cell: str, unit: str) -> str:
    """A number with the unit of its column's head."""
    text = cell.strip()
    plain = text.replace(".", "").replace(",", "").replace("-", "").replace(" ", "").isdigit()
    return f"{text} {unit}" if unit and plain and (system() != METRIC or unit not in ("m²", "°", "m")) else text


class _Ids:
    """Ids that are free, each given once."""

    def __init__(self, taken: Iterable[str]) -> None:
        self._taken, self._last = set(taken), dict[str, int]()

    def free(self, stem: str) -> str:
        """A stem, or the stem with the next number that nothing has."""
        found, n = stem[:50], self._last.get(stem[:50], 1)
        while found in self._taken:
            n += 1
            found = f"{stem[:50]}-{n}"
        self._last[stem[:50]] = n
        self._taken.add(found)
        return found
