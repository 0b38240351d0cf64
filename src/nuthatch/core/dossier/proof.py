"""The chapter of evidence: what is attached, with pictures of photos; what is lacking; what is asked of whom."""

from __future__ import annotations

import base64

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.alike import names, together
from nuthatch.core.dossier.setting import AttachedBytes, nothing
from nuthatch.core.evidence import Wanted, by_supplier, missing
from nuthatch.core.files.disk import printable
from nuthatch.core.model.home import EvidenceFile, Home
from nuthatch.core.model.part import Basis, specs
from nuthatch.core.questions import name_of, values
from nuthatch.core.units import with_unit

LARGEST_PHOTO, PHOTOS = 8_000_000, (".jpg", ".jpeg", ".png")


def evidence(home: Home, content: AttachedBytes = nothing) -> list[dict[str, object]]:
    """Attached files with their size, hash, the values they prove, and the picture itself where it is one."""
    uses: dict[str, list[str]] = {}
    for _, part, name, given in values(home):
        for ident in given.files or ():
            uses.setdefault(ident, []).append(f"{name_of(part)}: {specs(type(part))[name].label}")
    return [
        {
            "name": printable(e.name),
            "size": size_words(e.size),
            "sha": e.sha256,
            "proves": uses.get(e.id, []),
            "photo": is_photo(e),
            "src": as_picture(content(e.sha256)),
        }
        for e in home.evidence
    ]


def is_photo(file: EvidenceFile) -> bool:
    """Whether a page shows the file as a picture: its place is kept also where its content is not at hand."""
    return file.size <= LARGEST_PHOTO and file.name.lower().endswith(PHOTOS)


def as_picture(data: bytes | None) -> str:
    """A photo as a data address; '' for what is no picture a page shows."""
    if data is None or len(data) > LARGEST_PHOTO:
        return ""
    kind = "jpeg" if data[:3] == b"\xff\xd8\xff" else "png" if data[:8] == b"\x89PNG\r\n\x1a\n" else ""
    return f"data:image/{kind};base64,{base64.b64encode(data).decode()}" if kind else ""


def size_words(size: int) -> str:
    """Bytes as people read them."""
    return f"{size / 1e6:.1f} MB" if size >= 1e6 else f"{max(size / 1e3, 0.1):.1f} kB"


def lacking(home: Home) -> int:
    """How many declared, calculated or measured values lack evidence."""
    return len(missing_evidence(home))


def missing_evidence(home: Home) -> list[tuple[str, str, str]]:
    """Declared, calculated or measured values without evidence: (part, field, value)."""
    found = []
    for _, part, name, given in values(home):
        if given.basis is not Basis.ASSUMED and not given.proven:
            spec = specs(type(part))[name]
            found.append((name_of(part), spec.label, with_unit(given.value, spec.kind)))
    return found


def missing_by_supplier(a: Assessment) -> list[tuple[str, list[dict[str, object]]]]:
    """What is asked of whom, a line for the values of a part that the same would prove; only what a target rests on: the rest is marked
    where values stand by their basis."""
    return [(who, _in_lines(items)) for who, items in by_supplier(w for w in missing(a) if w.targets)]


def _in_lines(items: list[Wanted]) -> list[dict[str, object]]:
    """Values of a part with one proof together, parts with the same values too."""
    parts: dict[tuple[str, str], list[str]] = {}
    for item in items:
        part, _, label = item.name.partition(": ")
        parts.setdefault((part, item.proof), []).append(f"{label} {item.now}")
    groups = together(parts.items(), lambda row: (row[0][1], tuple(row[1])))
    return [{"part": names([key[0] for key, _ in g]), "told": g[0][1], "proof": g[0][0][1]} for g in groups]
