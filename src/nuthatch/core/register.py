"""The register: all homes of some folders with their standing. What is known is remembered by content hash."""

from __future__ import annotations

import contextlib
import datetime
import fcntl
import hashlib
import json
import os
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Any

from nuthatch import __version__
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.epw import WeatherFileError
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.revisions import standing_of
from nuthatch.core.exchange import sheet_files
from nuthatch.core.files.autosave import KEPT
from nuthatch.core.files.disk import why
from nuthatch.core.files.homefile import HomeFileError, from_bytes, put, read_bytes
from nuthatch.core.files.lock import locked_by
from nuthatch.core.files.places import beside
from nuthatch.core.graph.memo import IN_MEMORY, Kept
from nuthatch.core.graph.progress import heard_by, tell
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import cache_folder, results_on_disk
from nuthatch.core.targets.verdict import tightest
from nuthatch.core.units import kind_of, show, unit_of
from nuthatch.core.views.sheets.sheet import Column, Sheet, sheet

MARK = f"register 1 {__version__}"
STANDINGS = {"inside": "all met", "over": "some missed", "unknown": "not known yet", "": "not checked", "fault": "cannot be read"}


@dataclass(frozen=True)
class Row:
    """One home file. Values are SI; `tight_*` is the tightest target; `issued` says how its last dossier stands. `fault` says why it could
    not be read."""

    path: str
    sha256: str = ""
    name: str = ""
    client: str = ""
    plot: str = ""
    sets: tuple[str, ...] = ()
    standing: str = ""
    tight_name: str = ""
    tight_kind: str = "fraction"
    tight_value: float | None = None
    tight_limit: float | None = None
    tight_ratio: float | None = None
    questions: int = 0
    figures: dict[str, float | None] = field(default_factory=dict)
    issued: str = ""
    changed: float = 0.0
    fault: str = ""
    locked: str = ""
    unsaved: bool = False

    @property
    def when(self) -> str:
        return datetime.datetime.fromtimestamp(self.changed).strftime("%Y-%m-%d %H:%M") if self.changed else ""

    @property
    def margin(self) -> str:
        """The tightest margin in words."""
        if self.tight_value is None or self.tight_limit is None:
            return ""
        spec = kind_of(self.tight_kind)
        limit = f"{spec.to_shown(self.tight_limit):.4g} {unit_of(self.tight_kind)}".strip()
        return f"{self.tight_name}: {show(self.tight_value, self.tight_kind)} of {limit}"

    @property
    def note(self) -> str:
        """What there is to say about the file."""
        said = [self.fault] if self.fault else []
        said += [f"open elsewhere: {self.locked}"] if self.locked else []
        said += ["work not saved"] if self.unsaved else []
        return "; ".join(said)


KEPT_FIGURES = ("reference_floor_area", "heating_demand", "heating_load", "n50", "primary_energy", "co2")


def summed_up(assessment: Assessment, path: str, sha: str) -> Row:
    """What the register shows of a home."""
    home = assessment.home
    row = Row(path, sha, home.name, home.brief.client, home.brief.plot, tuple(s.name for s in home.target_sets), issued=standing_of(home))
    figures = {k: None if (v := assessment.figures[k].value) is None else float(v) for k in KEPT_FIGURES}
    row = replace(row, standing=assessment.standing, questions=len(assessment.questions), figures=figures)
    found = tightest(assessment.verdicts)
    if found is None:
        return row
    _, way = found
    return replace(row, tight_name=way.label, tight_kind=way.kind, tight_value=way.value, tight_limit=way.limit, tight_ratio=way.ratio)


def check(path: Path, data: bytes, kept: Kept = IN_MEMORY) -> Row:
    """Compute one home file's row; whatever is wrong with it becomes its reason: one bad file never stops the others."""
    sha = hashlib.sha256(data).hexdigest()
    try:
        content = from_bytes(data)
        climate = climate_for(content.home, content.weather)
        made = assess(content.home, climate, stores=Stores(slow=kept))
        return summed_up(made, str(path), sha)
    except (HomeFileError, WeatherFileError) as problem:
        return Row(str(path), sha, path.stem, standing="fault", fault=str(problem))
    except Exception as error:
        text = f"an error of ours, please report it: {type(error).__name__}: {error}"
        return Row(str(path), sha, path.stem, standing="fault", fault=text)


def files(folders: list[Path]) -> list[Path]:
    """All home files below the folders, hidden ones left out, each once."""
    found: dict[Path, None] = {}
    for folder in folders:
        if not folder.is_dir():
            found.setdefault(folder)
            continue
        for at, below, names in os.walk(folder):
            below[:] = sorted(n for n in below if not n.startswith("."))
            for name in sorted(names):
                if name.endswith(".nuthatch") and not name.startswith("."):
                    found.setdefault(Path(at) / name)
    return sorted(found)


def unlisted(folders: list[Path]) -> list[Row]:
    """A row for each folder that cannot be looked into."""
    found: list[Row] = []

    def say(error: OSError) -> None:
        place = str(error.filename)
        found.append(Row(place, name=Path(place).name, standing="fault", fault=f"the folder cannot be listed ({why(error)})"))

    for folder in folders:
        for _, below, _ in os.walk(folder, onerror=say):
            below[:] = [n for n in below if not n.startswith(".")]
    return found


def cache_file() -> Path:
    """Where the register remembers what it found."""
    return cache_folder() / "register.json"


def known() -> dict[str, Row]:
    """Rows by content hash, as computed by this version; empty where there are none or the file is damaged."""
    try:
        data = json.loads(cache_file().read_bytes())
        if data["mark"] != MARK:
            return {}
        return {sha: _from_data(raw) for sha, raw in data["rows"].items()}
    except (OSError, ValueError, KeyError, TypeError, AttributeError):
        return {}


def _from_data(raw: dict[str, Any]) -> Row:
    return Row(**{**raw, "sets": tuple(raw.get("sets") or ())})


def remember(rows: list[Row]) -> None:
    """Add rows to what is known; programs that do so together wait for each other."""
    try:
        cache_folder().mkdir(parents=True, exist_ok=True)
        with open(cache_folder() / "register.lock", "w", encoding="utf-8") as gate:
            fcntl.flock(gate, fcntl.LOCK_EX)
            kept = {sha: asdict(row) for sha, row in known().items()}
            kept.update({r.sha256: asdict(replace(r, locked="", unsaved=False)) for r in rows if r.sha256 and not r.fault})
            put(cache_file(), json.dumps({"mark": MARK, "rows": kept}).encode())
    except (OSError, HomeFileError):  # only a memory: without it homes are computed again
        return


class _Hidden:
    """The hidden files of folders, each folder looked into once: a register lists hundreds of homes of one folder."""

    def __init__(self) -> None:
        self._names: dict[Path, list[str]] = {}

    def work_beside(self, path: Path) -> bool:
        """Whether work lies beside a home that nobody has answered."""
        if path.parent not in self._names:
            with contextlib.suppress(OSError):
                self._names[path.parent] = [e.name for e in os.scandir(path.parent) if e.name.startswith(".")]
        found, kept = beside(path, "autosave").name, beside(path, f"{KEPT}-").name
        return any(n == found or n.startswith(kept) for n in self._names.get(path.parent, ()))


def _beside(row: Row, path: Path, hidden: _Hidden) -> Row:
    try:
        changed = path.stat().st_mtime
    except OSError:
        changed = 0.0
    return replace(row, path=str(path), changed=changed, locked=locked_by(path), unsaved=hidden.work_beside(path))


def listed(paths: list[Path]) -> tuple[list[Row], list[Path]]:
    """(rows of all files, those not known yet): nothing is computed."""
    remembered, hidden = known(), _Hidden()
    rows, open_ones = [], []
    for path in paths:
        try:
            data = read_bytes(path)
        except HomeFileError as problem:
            rows.append(_beside(Row(str(path), name=path.stem, standing="fault", fault=str(problem)), path, hidden))
            continue
        row = remembered.get(hashlib.sha256(data).hexdigest())
        if row is None:
            open_ones.append(path)
            row = Row(str(path), name=path.stem)
        rows.append(_beside(row, path, hidden))
    return rows, open_ones


def of_folders(folders: list[Path]) -> tuple[list[Row], list[Path]]:
    """The same for all files below folders; a folder that cannot be looked into is a row with its reason."""
    rows, open_ones = listed(files(folders))
    return rows + unlisted(folders), open_ones


def check_files(paths: list[Path], cache: Path | None = None) -> int:
    """Compute homes one after the other, each row told as it is there; how many there were."""
    hidden, kept = _Hidden(), results_on_disk(cache)
    for path in paths:
        try:
            row = check(path, read_bytes(path), kept)
        except HomeFileError as problem:
            row = Row(str(path), name=path.stem, standing="fault", fault=str(problem))
        tell(_beside(row, path, hidden))
    return len(paths)


def checked(paths: list[Path], cache: Path | None = None) -> tuple[Row, ...]:
    """The same here and now; what was computed is remembered."""
    rows: list[Row] = []
    with heard_by(rows.append):
        check_files(paths, cache)
    remember(rows)
    return tuple(rows)


TABLE: tuple[Column[Row], ...] = (
    Column("home", lambda r: r.name),
    Column("client", lambda r: r.client),
    Column("plot", lambda r: r.plot),
    Column("target sets", lambda r: ", ".join(r.sets)),
    Column("standing", lambda r: STANDINGS[r.standing]),
    Column("tightest", lambda r: r.margin),
    Column("margin %", lambda r: None if r.tight_ratio is None else round(100 * (1 - r.tight_ratio), 1), "factor"),
    Column("open questions", lambda r: None if r.questions is None else float(r.questions), "count"),
    Column("dossier", lambda r: r.issued),
    Column("last change", lambda r: r.when),
    Column("file", lambda r: r.path),
    Column("note", lambda r: r.note),
)


def table(rows: list[Row]) -> Sheet:
    """The register as a sheet."""
    return sheet("homes", "Homes", TABLE, rows)


def as_csv_file(rows: list[Row]) -> bytes:
    """The table as a CSV file that spreadsheets read as UTF-8."""
    return as_csv(rows).encode("utf-8-sig")


def as_spreadsheet(rows: list[Row]) -> bytes:
    """The table as a spreadsheet."""
    return sheet_files.as_xlsx([table(rows)])


def as_csv(rows: list[Row]) -> str:
    """The table as CSV."""
    return sheet_files.as_csv(table(rows))


def as_data(rows: list[Row]) -> list[dict[str, object]]:
    """The table as plain data, SI values."""
    return [{**asdict(r), "sets": list(r.sets), "changed": r.when, "standing": r.standing or "unchecked"} for r in rows]
