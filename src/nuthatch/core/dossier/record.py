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
from nuthatch.core.dossier.makeup import pages_of
from nuthatch.core.dossier.printing import as_printed
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.dossier.revisions import bare, content_hash
from nuthatch.core.exchange.sheet_files import as_data
from nuthatch.core.files.homefile import HomeFile, to_bytes
from nuthatch.core.library import library_climate, shipped_key
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
    page = to_html(a, made)
    states = {e.sha256 for e in a.home.evidence if e.id in {i.file for i in a.home.issued}}
    held = {sha: data for sha, data in made.files.items() if sha in states}
    file = to_bytes(HomeFile(a.home, made.weather or _of_library(a.home), held), whole=False)
    data = as_printed(page, pdf_variant=VARIANT, pdf_identifier=hashlib.sha256(page.encode()).digest()[:16])
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
    """The digest of each page of a PDF: of what is drawn on it, with the drawings and pictures it calls, and of what lies over it."""
    from pypdf import PdfReader

    return [_page_digest(page) for page in PdfReader(io.BytesIO(data)).pages]


def _page_digest(page: Any) -> str:
    found = hashlib.sha256()
    contents = page.get_contents()
    drawn = contents.get_data() if contents is not None else b""
    found.update(drawn)
    _called(found, drawn, page.get("/Resources"), set())
    for ref in page.get("/Annots") or ():
        note = ref.get_object()
        rect = [f"{float(v):.2f}" for v in note.get("/Rect", ())]
        found.update(f"{note.get('/Subtype')} {rect} {note.get('/AttachedBytes', '')}".encode())
        if "/AP" in note and note.get("/Subtype") != "/Link":
            found.update(b"drawn over")
    return found.hexdigest()


def _called(found: Any, drawn: bytes, resources: Any, seen: set[int]) -> None:
    """What a stream draws by name, and what that draws."""
    objects = (resources.get_object() if resources is not None else {}).get("/XObject") or {}
    objects = objects.get_object() if hasattr(objects, "get_object") else objects
    for name in dict.fromkeys(_DRAWS.findall(drawn)):
        key = "/" + name.decode("latin-1")
        if key not in objects:
            continue
        stream = objects[key].get_object()
        if id(stream) in seen:
            continue
        seen.add(id(stream))
        data = stream.get_data()
        found.update(data)
        if stream.get("/Subtype") == "/Form":
            _called(found, data, stream.get("/Resources") or resources, seen)


def with_files(data: bytes, files: dict[str, bytes]) -> bytes:
    """A PDF with files enclosed, related to it as its source and data (PDF/A-3, ISO 19005-3)."""
    from pypdf import PdfWriter
    from pypdf.generic import ArrayObject, DecodedStreamObject, DictionaryObject, NameObject, NumberObject, TextStringObject

    writer = PdfWriter(io.BytesIO(data), incremental=True)  # what was written stays as it was, byte for byte
    names, related = ArrayObject(), ArrayObject()
    for name, content in sorted(files.items()):
        stream = DecodedStreamObject()
        stream.set_data(content)
        packed = stream.flate_encode()
        kind = "application#2Fjson" if name.endswith(".json") else "application#2Fzip"
        packed |= {
            NameObject("/Type"): NameObject("/EmbeddedFile"),
            NameObject("/Subtype"): NameObject(f"/{kind}"),
            NameObject("/Params"): DictionaryObject(
                {NameObject("/Size"): NumberObject(len(content)), NameObject("/ModDate"): TextStringObject(_WHEN)}
            ),
        }
        held = DictionaryObject({NameObject("/F"): writer._add_object(packed)})
        spec = DictionaryObject(
            {
                NameObject("/Type"): NameObject("/Filespec"),
                NameObject("/F"): TextStringObject(name),
                NameObject("/UF"): TextStringObject(name),
                NameObject("/EF"): held,
                NameObject("/AFRelationship"): NameObject("/Source" if name == HOME else "/Data"),
                NameObject("/Desc"): TextStringObject(
                    "the home this dossier was made from" if name == HOME else "what this dossier printed"
                ),
            }
        )
        ref = writer._add_object(spec)
        names.extend([TextStringObject(name), ref])
        related.append(ref)
    root = writer.root_object
    listed = root.setdefault(NameObject("/Names"), DictionaryObject()).get_object()
    listed[NameObject("/EmbeddedFiles")] = DictionaryObject({NameObject("/Names"): names})
    root[NameObject("/AF")] = related
    out = io.BytesIO()
    writer.write(out)
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
