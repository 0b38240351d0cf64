"""A dossier checked: the home inside it is taken out, everything is worked out anew, and every line says what agrees and what does not.

What is compared: the home with the hash on the pages and in the record; its weather and evidence; every result, target and list with what
was printed; the text of each page with the pages made anew where the version is the same, and what is drawn on each page with its digest.
A dossier is not signed: whoever alters page, record and home alike, and as the program would have printed them, is not found out.
"""

from __future__ import annotations

import hashlib
import io
import json
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from nuthatch import __version__
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.binding import bound
from nuthatch.core.dossier.record import HOME, RECORD, VARIANT, digest, files_in, page_digests, printed
from nuthatch.core.dossier.report import Made, to_book
from nuthatch.core.dossier.revisions import content_hash, judged
from nuthatch.core.dossier.setting import Letterhead
from nuthatch.core.dossier.verified import AGREES, DIFFERS, UNKNOWN, Line, Verified
from nuthatch.core.exchange.sheet_files import as_data
from nuthatch.core.files.homefile import HomeFile, HomeFileError, from_bytes
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.home import SCHEMA
from nuthatch.core.units import SYSTEMS, so_many, system, using, with_unit
from nuthatch.core.views.sheets.of_home import sheets

LARGEST = 200_000_000
CLOSE = 1e-6


# a dossier


@dataclass(frozen=True)
class _Opened:
    """What a dossier carries: its pages, the home file, the record."""

    data: bytes
    file: HomeFile
    file_sha: str
    record: Mapping[str, Any]


def verify(data: bytes, name: str, against: HomeFile | None = None) -> Verified:
    """A dossier's PDF, worked out anew from the home inside it; against: another home it is held beside. Raises HomeFileError for what is
    no dossier, or holds a home that cannot be read."""
    opened = _opened(data)
    printed_in = str(opened.record.get("units"))
    with using(printed_in if printed_in in SYSTEMS else system()):  # “as shown” was the printer's system, whatever the checker's is
        a = _assessed(opened.file)
        lines = [*_home_lines(opened), *_version_lines(opened), *_result_lines(a, opened.record), *_list_lines(a, opened.record)]
        lines += _page_lines(opened, a, _made(opened))
        if against is not None:
            lines += _against(opened, against)
    return Verified(name, tuple(lines), str(opened.record.get("version", "")), opened.file.home)


def _opened(data: bytes) -> _Opened:
    if len(data) > LARGEST:
        raise HomeFileError(f"it is larger than {LARGEST // 1_000_000} MB; a dossier is far smaller")
    try:
        held = files_in(data)
    except ValueError as error:
        raise HomeFileError(str(error)) from None
    if HOME not in held:
        raise HomeFileError(f"it is no dossier that can be checked: there is no {HOME} inside")
    if RECORD not in held:
        raise HomeFileError(f"it is no dossier that can be checked: there is no {RECORD} inside, what it printed is not recorded")
    try:
        record = json.loads(held[RECORD].decode("utf-8"))
    except ValueError as error:
        raise HomeFileError(f"{RECORD} inside it cannot be read ({error})") from None
    if (
        not isinstance(record, dict)
        or record.get("nuthatch") != "dossier"
        or not all(isinstance(record.get(k), kind) for k, kind in _SHAPE.items())
    ):
        raise HomeFileError(f"{RECORD} inside it is no record of a dossier")
    if type(record.get("schema")) is int and record["schema"] > SCHEMA:
        raise HomeFileError(
            f"it was printed by a newer Nuthatch ({record.get('version')}, schema {record['schema']}; this one reads up to {SCHEMA}): update to check it"
        )
    try:
        file = from_bytes(held[HOME])
    except HomeFileError as error:
        raise HomeFileError(f"the home inside it: {error}") from None
    return _Opened(data, file, hashlib.sha256(held[HOME]).hexdigest(), record)


_SHAPE = {"figures": dict, "sheets": dict, "targets": list, "pages": list, "evidence": list, "home": str, "months": dict}


def _assessed(file: HomeFile) -> Assessment:
    return assess(file.home, _climate(file), stores=Stores(slow=results_on_disk()))


def _climate(file: HomeFile) -> Climate | None:
    from nuthatch.core.climate.epw import WeatherFileError

    try:
        return climate_for(file.home, file.weather)
    except WeatherFileError:
        return None


def _made(opened: _Opened) -> Made:
    """How the pages were made."""
    head = opened.record.get("letterhead")
    known = {k: str(v) for k, v in head.items() if k in Letterhead.__dataclass_fields__} if isinstance(head, dict) else {}
    record = opened.record
    return Made(
        Letterhead(**known),
        str(record.get("date", "")),
        str(record.get("state", "")),
        files=opened.file.evidence,
        weather=opened.file.weather,
    )


def _home_lines(o: _Opened) -> Iterator[Line]:
    """The home, its weather, its evidence."""
    found, said = content_hash(o.file.home), str(o.record["home"])
    if o.file_sha != o.record.get("file"):
        yield Line("home file inside", DIFFERS, "it is not the file that was enclosed when the dossier was printed")
    if found != said:
        yield Line("home inside", DIFFERS, f"it is home {found[:12]}, the dossier was printed of home {said[:12]}")
    else:
        yield Line("home inside", AGREES, f"home {found[:12]}")
    wanted = o.record.get("weather")
    own = hashlib.sha256(o.file.weather).hexdigest() if o.file.weather is not None else None
    if wanted is None:
        yield Line("weather", AGREES, "none is chosen")
    elif own is None:
        there = _climate(o.file)
        at_hand = there is not None and there.sha256 == wanted
        yield Line("weather", DIFFERS, f"the weather file is missing from it{'; the library has the same one' if at_hand else ''}")
    elif o.file.home.site.climate is not None and own != o.file.home.site.climate.sha256:
        yield Line("weather", DIFFERS, "the weather file inside is not the one the home names")
    else:
        yield Line("weather", AGREES)
    yield _evidence_line(o)


def _evidence_line(o: _Opened) -> Line:
    said = {(e.get("name"), e.get("sha256")) for e in o.record["evidence"] if isinstance(e, dict)}
    held = {(e.name, e.sha256) for e in o.file.home.evidence}
    kept = {i.file for i in o.file.home.issued}
    held -= {(e.name, e.sha256) for e in o.file.home.evidence if e.id in kept}
    if said == held:
        return Line("evidence", AGREES, f"{len(held)} file{'' if len(held) == 1 else 's'} listed")
    odd = sorted({str(name) for name, _ in said ^ held})
    return Line("evidence", DIFFERS, f"listed otherwise than in the home inside: {', '.join(odd)}")


_FOOT = re.compile(r"\bhome ([0-9a-f]{12}) ·")


class _Texts:
    """The words of the pages of a PDF, read where they are asked for."""

    def __init__(self, data: bytes) -> None:
        from pypdf import PdfReader

        self._pages = PdfReader(io.BytesIO(data)).pages if data else ()
        self._known: dict[int, str] = {}

    def __len__(self) -> int:
        return len(self._pages)

    def __getitem__(self, n: int) -> str:
        if n not in self._known:
            self._known[n] = self._pages[n].extract_text()
        return self._known[n]


def _version_lines(o: _Opened) -> Iterator[Line]:
    said = str(o.record.get("version", ""))
    if said == __version__:
        yield Line("version", AGREES, f"Nuthatch {said}")
    else:
        why = "methods may have changed since; results that differ below do so for that reason, unless something else is named"
        yield Line("version", UNKNOWN, f"printed by Nuthatch {said or 'unknown'}, checked by {__version__}: {why}")


def _result_lines(a: Assessment, record: Mapping[str, Any]) -> Iterator[Line]:
    """Every result and target."""
    now = printed(a, Made())
    other = str(record.get("version")) != __version__
    why = f" (Nuthatch {record.get('version')} then, {__version__} now)" if other else ""
    wrong = 0
    for key, said in record["figures"].items():
        found = now["figures"].get(key)
        label = a.figures[key].label if key in a.figures else key
        if found is None:
            yield Line(label, UNKNOWN, "this version knows no such result")
            wrong += 1
        elif not _alike(said.get("value"), found["value"]) or said.get("shown") != found["shown"]:
            yield Line(label, DIFFERS, f"printed {said.get('shown')}, worked out {found['shown']}{why}")
            wrong += 1
    for key in (k for k in now["figures"] if k not in record["figures"]):
        yield Line(a.figures[key].label, UNKNOWN if other else DIFFERS, "it was not printed")
        wrong += 1
    if not wrong:
        yield Line("results", AGREES, f"{len(record['figures'])} of them")
    odd = [key for key, said in record["months"].items() if not _alike(said, now["months"].get(key))]
    yield Line("months", DIFFERS, f"{', '.join(odd)}{why}") if odd else Line("months", AGREES, f"{len(record['months'])} rows")
    if record["targets"] == now["targets"]:
        yield Line("targets", AGREES, f"{len(now['targets'])} of them")
    else:
        names = [f"{t.get('name')}: printed {t.get('standing')}" for t in record["targets"] if t not in now["targets"]]
        yield Line("targets", DIFFERS, ("; ".join(names) or "some were not printed") + why)


def _alike(said: Any, found: Any) -> bool:
    if isinstance(said, list) and isinstance(found, list):
        return len(said) == len(found) and all(map(_alike, said, found))
    if isinstance(said, int | float) and isinstance(found, int | float):
        return abs(said - found) <= CLOSE * max(abs(said), abs(found), 1e-9)
    return bool(said == found)


def _list_lines(a: Assessment, record: Mapping[str, Any]) -> Iterator[Line]:
    """Every list, by its digest."""
    now = {s.key: s for s in sheets(a)}
    odd = [now[key].title for key, said in record["sheets"].items() if key in now and digest(as_data(now[key])) != said]
    gone = [key for key in record["sheets"] if key not in now]
    if odd or gone:
        yield Line("lists", DIFFERS, ", ".join([*odd, *(f"{g} (not there any more)" for g in gone)]))
    else:
        yield Line("lists", AGREES, f"{len(record['sheets'])} of them")


def _page_lines(o: _Opened, a: Assessment, made: Made) -> Iterator[Line]:
    """Each page: what is drawn on it, and its words beside the page made anew. Pages drawn alike say the same: their words are not read."""
    said = [str(p) for p in o.record["pages"]]
    same = str(o.record.get("version")) == __version__
    fresh = (
        bound(to_book(a, made), VARIANT, results_on_disk())
        if same and content_hash(o.file.home) == o.record["home"] and not a.computing
        else b""
    )
    digests, anew = page_digests(o.data), page_digests(fresh) if fresh else []
    texts, new = _Texts(o.data), _Texts(fresh)
    altered = [n for n, (found, was) in enumerate(zip(digests, said, strict=False)) if found != was]
    if len(digests) != len(said):
        yield Line("pages", DIFFERS, f"{so_many(len(digests), 'page')}, {len(said)} were printed")
    if digests != anew:
        named = {m for n in range(1, len(texts)) for m in _FOOT.findall(texts[n])}
        if named != {str(o.record["home"])[:12]}:
            what = ", ".join(sorted(named)) or "none"
            yield Line("home named on the pages", DIFFERS, f"pages name {what}, the record {str(o.record['home'])[:12]}")
    odd = [n for n, (found, was) in enumerate(zip(digests, anew, strict=False)) if found != was and _words(texts[n]) != _words(new[n])]
    for n in sorted({*altered, *odd}):
        yield Line(f"page {n + 1}", DIFFERS, _first_odd(texts[n], new[n]) if n in odd else _OVER)
    if not altered and not odd and len(digests) == len(said):
        yield Line("pages", AGREES, f"{so_many(len(said), 'page')}{'' if fresh else ', by their digests'}")


_OVER = "what is drawn on it was changed after it was printed"


def _words(text: str) -> list[str]:
    return text.split()


def _first_odd(found: str, new: str) -> str:
    """The first words that differ, with what stands around them."""
    ours, theirs = _words(new), _words(found)
    at = next((i for i, (x, y) in enumerate(zip(theirs, ours, strict=False)) if x != y), min(len(ours), len(theirs)))
    return f"it says “{' '.join(theirs[max(at - 3, 0) : at + 3])}”, worked out it says “{' '.join(ours[max(at - 3, 0) : at + 3])}”"


def _against(o: _Opened, home: HomeFile) -> Iterator[Line]:
    """Another home beside the one inside."""
    from nuthatch.core.dossier.revisions import told

    mine, inside = content_hash(home.home), content_hash(o.file.home)
    if mine == inside:
        yield Line("the home beside it", AGREES, f"it is the home the dossier was printed of, {mine[:12]}")
        return
    changes = told(o.file.home, home.home)
    yield Line(
        "the home beside it",
        DIFFERS,
        f"{so_many(len(changes), 'change')} since: {'; '.join(changes[:6])}{' …' if len(changes) > 6 else ''}",
    )


# a home against what was issued of it


def verify_home(file: HomeFile, name: str) -> Verified:
    """A home against the last revision of its dossier: whether it is still the same, and whether its results are. Raises HomeFileError
    where none was issued."""
    if not file.home.issued:
        raise HomeFileError("no dossier of this home was issued yet; check a dossier’s PDF, or issue one")
    last, a = file.home.issued[-1], _assessed(file)
    now = content_hash(file.home)
    title = f"revision {len(file.home.issued)} of {last.date}"
    if now == last.sha256:
        lines = [Line(title, AGREES, f"the home has not changed since, {now[:12]}")]
    else:
        lines = [Line(title, DIFFERS, f"the home is {now[:12]} now, it was {last.sha256[:12]}")]
    if last.version != __version__:
        lines.append(Line("version", UNKNOWN, f"issued by Nuthatch {last.version}, checked by {__version__}"))
    values = judged(a)
    kinds = {f"{v.set_name}: {w.label}": w.kind for v in a.verdicts for w in v.ways}
    for row in last.results:
        found = values.get(row.key)
        kind = kinds.get(row.key, "factor")
        if row.key not in values:
            lines.append(Line(row.key, DIFFERS, "it is no target any more"))
        elif not _alike(row.value, found):
            lines.append(Line(row.key, DIFFERS, f"issued {with_unit(row.value, kind)}, now {with_unit(found, kind)}"))
    if not any(line.standing == DIFFERS and line.what in kinds for line in lines):
        lines.append(Line("results of the targets", AGREES, f"{len(last.results)} of them"))
    return Verified(name, tuple(lines), last.version, file.home)


def read_pdf(path: Path) -> bytes:
    """A dossier's bytes. Raises HomeFileError."""
    from nuthatch.core.files.disk import read_file, why

    try:
        return read_file(path, LARGEST, "dossier")
    except OSError as error:
        raise HomeFileError(why(error)) from None
