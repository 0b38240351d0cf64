"""What a written dossier carries inside: its home with weather and the list of its evidence, and what it printed; by both it can be checked.

The home lies inside as an ordinary home file without the contents of attached files but for what revisions keep; the others are named by their hashes. The record says every
result as shown, every list by its digest, and each page by the digest of what is drawn on it.
"""

from __future__ import annotations

import datetime
import hashlib
import io
import json
import re
from dataclasses import asdict, replace
from typing import Any

import numpy as np

from nuthatch import __version__
from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.binding import bound
from nuthatch.core.dossier.makeup import pages_of
from nuthatch.core.dossier.report import Made, to_book
from nuthatch.core.dossier.revisions import bare, content_hash
from nuthatch.core.exchange.sheet_files import as_data
from nuthatch.core.files.homefile import HomeFile, to_bytes
from nuthatch.core.library import library_climate, results_on_disk, shipped_key
from nuthatch.core.model.home import SCHEMA, Home
from nuthatch.core.results.figure import shown
from nuthatch.core.units import using, with_both
from nuthatch.core.views.sheets.of_home import sheets

HOME, RECORD = "home.nuthatch", "printed.json"
VARIANT = "pdf/a-3u"
DIGITS = 9
"""Numbers of lists are compared to so many digits: the last ones may differ between processors."""


def enclosed(a: Assessment, made: Made) -> bytes:
    """The dossier as PDF with its home and its record inside. Its day is said, so that the same pages can be made again."""
    made = replace(made, date=made.date or datetime.date.today().isoformat())
    states = {e.sha256 for e in a.home.evidence if e.id in {i.file for i in a.home.issued}}
    held = {sha: data for sha, data in made.files.items() if sha in states}
    file = to_bytes(HomeFile(a.home, made.weather or _of_library(a.home), held), whole=False)
    data = bound(to_book(a, made), VARIANT, results_on_disk())
    record = {**printed(a, made), "file": hashlib.sha256(file).hexdigest(), "pages": page_digests(data)}
    return with_files(data, {HOME: file, RECORD: json.dumps(record, ensure_ascii=False, allow_nan=False, indent=1).encode()})


def _of_library(home: Home) -> bytes | None:
    """The weather file of a climate of the library."""
    key = shipped_key(home.site.climate.sha256) if home.site.climate is not None else None
    return library_climate(key) if key else None


def printed(a: Assessment, made: Made) -> dict[str, Any]:
    """What a dossier says, as data."""
    pages = pages_of(a.home.dossier)
    with using(pages.units), with_both(pages.both):
        figures = {key: {"value": _plain(f.value), "shown": shown(f)} for key, f in a.figures.items()}
    return {
        "nuthatch": "dossier",
        "version": __version__,
        "schema": SCHEMA,
        "date": made.date,
        "state": made.state,
        "units": pages.units,
        "letterhead": asdict(made.letterhead),
        "home": content_hash(a.home),
        "weather": a.climate.sha256 if a.climate is not None else None,
        "evidence": [{"name": e.name, "sha256": e.sha256, "size": e.size} for e in bare(a.home).evidence],
        "figures": figures,
        "months": {key: _plain(f.value) for key, f in a.months.items()},
        "targets": [{"set": v.set_name, "name": v.name, "standing": v.standing} for v in a.verdicts],
        "sheets": {s.key: digest(as_data(s)) for s in sheets(a)},
    }


def _plain(value: Any) -> Any:
    """A value as JSON holds it."""
    if value is None or isinstance(value, str):
        return value
    found = np.asarray(value, float)
    return float(found) if found.ndim == 0 else [float(v) for v in found.flat] if found.size <= 64 else None


def digest(data: object) -> str:
    """A digest of data whose numbers are rounded to so many digits."""
    return hashlib.sha256(json.dumps(_rounded(data), ensure_ascii=False, sort_keys=True).encode()).hexdigest()


def _rounded(data: object) -> object:
    if isinstance(data, float):
        return float(f"{data:.{DIGITS}g}")
    if isinstance(data, dict):
        return {k: _rounded(v) for k, v in data.items()}
    return [_rounded(v) for v in data] if isinstance(data, list | tuple) else data


_DRAWS = re.compile(rb"/(\S+)\s+Do\b")


def page_digests(data: bytes) -> list[str]:
    """The digest of each page of a PDF: of what is drawn on it, with the drawings and pictures it calls, and of what lies over it. Raises
    ValueError for what cannot be read."""
    import pikepdf

    try:
        with pikepdf.open(io.BytesIO(data)) as held:
            return [_page_digest(page.obj) for page in held.pages]
    except (pikepdf.PdfError, AttributeError, TypeError) as error:
        raise ValueError(f"its pages cannot be read ({error})") from None


def _page_digest(page: Any) -> str:
    found = hashlib.sha256()
    drawn = _contents(page.get("/Contents"))
    found.update(drawn)
    _called(found, drawn, page.get("/Resources"), set())
    for note in page.get("/Annots", []):
        rect = [f"{float(v):.2f}" for v in note.get("/Rect", [])]
        found.update(f"{note.get('/Subtype')} {rect}".encode())
        if "/AP" in note:  # ours have none, links neither
            found.update(b"drawn over")
    return found.hexdigest()


def _contents(held: Any) -> bytes:
    """What is drawn on a page: one stream, or several in a row (ISO 32000-1, 7.8.2)."""
    import pikepdf

    if held is None:
        return b""
    streams = list(held) if isinstance(held, pikepdf.Array) else [held]
    return b"\n".join(stream.read_bytes() for stream in streams)


def _called(found: Any, drawn: bytes, resources: Any, seen: set[tuple[int, int]]) -> None:
    """What a stream draws by name, and what that draws."""
    objects = resources.get("/XObject") if resources is not None else None
    for name in dict.fromkeys(_DRAWS.findall(drawn)):
        key = "/" + name.decode("latin-1")
        if objects is None or key not in objects:
            continue
        stream = objects[key]
        if stream.objgen in seen:
            continue
        seen.add(stream.objgen)
        form = str(stream.get("/Subtype")) == "/Form"
        data = stream.read_bytes() if form else stream.read_raw_bytes()
        found.update(data)
        if form:
            _called(found, data, stream.get("/Resources", resources), seen)


def with_files(data: bytes, files: dict[str, bytes]) -> bytes:
    """A PDF with files enclosed, related to it as its source and data (PDF/A-3, ISO 19005-3, 6.8)."""
    import pikepdf

    with pikepdf.open(io.BytesIO(data)) as held:
        related = []
        for name, content in sorted(files.items()):
            spec = pikepdf.AttachedFileSpec(
                held,
                content,
                filename=name,
                mime_type="application/json" if name.endswith(".json") else "application/zip",
                description="the home this dossier was made from" if name == HOME else "what this dossier printed",
                relationship=pikepdf.Name.Source if name == HOME else pikepdf.Name.Data,
                mod_date=_WHEN,
            )
            held.attachments[name] = spec
            related.append(spec.obj)
        held.Root.AF = held.make_indirect(pikepdf.Array(related))
        out = io.BytesIO()
        held.save(out, deterministic_id=True)
    return out.getvalue()


_WHEN = "D:20260101000000Z"


def files_in(data: bytes) -> dict[str, bytes]:
    """The files a PDF encloses, by name; one that stands twice is not given. Raises ValueError for what is no PDF."""
    from pypdf import PdfReader
    from pypdf.errors import PyPdfError

    try:
        reader = PdfReader(io.BytesIO(data))
        return {name: found[0] for name, found in reader.attachments.items() if len(found) == 1}
    except (PyPdfError, KeyError, TypeError, ValueError, AttributeError, OSError) as error:
        raise ValueError(f"it is no PDF that can be read ({error})") from None
