"""A dossier bound from gatherings: runs of chapters that are set apart, by two processes at once, kept by what they say, and joined.

A gathering begins on a page of its own and knows nothing of the others: what changes with every edit (the feet of pages with the home's
hash and the page's number, the numbers in contents and index, links from one gathering to another) is put in when they are joined. So an edit
sets only the gatherings anew that say something else.
"""

from __future__ import annotations

import hashlib
import io
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np

from nuthatch.core.dossier.printing import as_printed, printed_apart
from nuthatch.core.graph.digest import code_of
from nuthatch.core.graph.memo import Kept
from nuthatch.core.graph.shared_out import shared_out
from nuthatch.look import FONTS

if TYPE_CHECKING:
    from pikepdf import Pdf

INNER = "page:"
"""Links between pages, until the gatherings are joined: the writer of one gathering would drop those it has no place for."""
ROUNDS = 4
"""So often the numbers of contents and index may change how long they are."""


@dataclass(frozen=True)
class Book:
    """A dossier as one page of text, and what binding it needs to know: its paper with its size [mm], the words at the foot of each page."""

    page: str
    paper: str
    width: float
    height: float
    foot: str


@dataclass(frozen=True)
class Spot:
    """Where something stands: the page of its gathering or of the whole, from 0; points from the left and the foot of the page; a heading's
    level."""

    name: str
    page: int
    x: float
    y: float
    level: int = 0


@dataclass(frozen=True)
class Leaves:
    """A gathering that is set: its leaves as PDF, how many, the places one can be led to, its headings."""

    pdf: bytes
    pages: int
    anchors: tuple[Spot, ...]
    headings: tuple[Spot, ...]


def bound(book: Book, variant: str = "", kept: Kept | None = None) -> bytes:
    """The dossier as PDF. variant: of the standard for archives; kept: where gatherings are found again."""
    pages = gatherings(book.page)
    found: list[Leaves | None] = [None] * len(pages)
    early = [n for n, page in enumerate(pages) if not _counts_pages(page)]
    for n, one in zip(early, _all_set([pages[n] for n in early], variant, kept), strict=True):
        found[n] = one
    lengths = [one.pages if one is not None else 2 if _CONTENTS in page else 1 for one, page in zip(found, pages, strict=True)]
    said: dict[int, str] = {}
    for _ in range(ROUNDS):
        # A list of page numbers may be so long that it moves what it counts: set again until it says what is. The contents come last.
        before = dict(said)
        for n in (n for n in reversed(range(len(pages))) if n not in early):
            page = _with_numbers(pages[n], _numbers(found, lengths))
            if said.get(n) != page:
                found[n], said[n] = (one := _all_set([page], variant, kept)[0]), page
                lengths[n] = one.pages
        if said == before:
            break
    return joined([one for one in found if one is not None], book)


_OPENS = re.compile(r'(?=<section class="chapter opens")')
_SECTION = re.compile(r'<section class="chapter[ "]')


def gatherings(page: str) -> list[str]:
    """The gatherings of a page, each a page of its own whose chapters go on counting. A short dossier, one without contents, is one."""
    head, body = page[: page.index("<body")], page[page.index("<body") : page.rindex("</body>")]
    opened = body[: body.index(">") + 1]
    inner = body[len(opened) :]
    front = next((m.start() for m in _SECTION.finditer(inner)), len(inner))
    parts = [inner[:front], *(p for p in _OPENS.split(inner[front:]) if p.strip())] if _CONTENTS in inner else [inner]
    found, count = [], 0
    for part in parts:
        body = opened.replace("<body", f'<body style="counter-reset: chapter {count}"', 1)
        led = part.replace('href="#', f'href="{INNER}')
        found.append(f"{head}{body}{led}</body></html>")
        count += len(_SECTION.findall(part))
    return found


def _counts_pages(page: str) -> bool:
    """Whether it says on which pages things are."""
    return _CONTENTS in page or 'class="index"' in page


_CONTENTS = '<section class="contents">'


_LEADS = re.compile(rf'href="{INNER}([^"]+)"')


def _with_numbers(page: str, places: Mapping[str, int]) -> str:
    """With the number of the page each link leads to beside it."""
    return _LEADS.sub(lambda m: f'{m[0]} data-page="{places.get(m[1], "")}"', page)


def _numbers(found: Sequence[Leaves | None], lengths: Sequence[int]) -> dict[str, int]:
    """The number of the page of each address."""
    numbers: dict[str, int] = {}
    first = 1
    for one, length in zip(found, lengths, strict=True):
        for place in one.anchors if one is not None else ():
            numbers.setdefault(place.name, first + place.page)
        first += length
    return numbers


# setting


def _all_set(pages: Sequence[str], variant: str, kept: Kept | None) -> list[Leaves]:
    """Gatherings set: those known are found again, the others shared out between two processes, the longest first."""
    keys = [_key(page, variant) for page in pages]
    found = {n: one for n, key in enumerate(keys) if kept is not None and (one := _from_plain(kept.get(key))) is not None}
    missing = sorted((n for n in range(len(pages)) if n not in found), key=lambda n: -len(pages[n]))
    for n, one in zip(missing, shared_out([partial(_set, pages[n], variant) for n in missing]), strict=True):
        found[n] = one
        if kept is not None:
            kept.put(keys[n], _as_plain(one))
    return [found[n] for n in range(len(pages))]


def _key(page: str, variant: str) -> str:
    from importlib.metadata import version

    told = "\0".join((code_of(__file__), version("weasyprint"), variant, page))
    return hashlib.sha256(told.encode()).hexdigest()


def _set(page: str, variant: str) -> Leaves:
    pdf, pages = printed_apart(page, variant)
    anchors: list[Spot] = []
    headings: list[Spot] = []
    for n, told in enumerate(pages):
        anchors += [Spot(name, n, x * POINT, (told.height - y) * POINT) for name, (x, y, *_) in told.anchors.items()]
        headings += [Spot(label, n, x * POINT, (told.height - y) * POINT, level) for level, label, (x, y), _ in told.bookmarks]
    return Leaves(pdf, len(pages), tuple(anchors), tuple(headings))


POINT = 0.75
"""Points of a pixel of style sheets (CSS Values 4, 6.2)."""


def _as_plain(one: Leaves) -> object:
    return np.frombuffer(one.pdf, np.uint8), one.pages, one.anchors, one.headings


def _from_plain(kept: object) -> Leaves | None:
    """A gathering found again; None for anything else."""
    match kept:
        case (np.ndarray() as pdf, int(pages), tuple(anchors), tuple(headings)) if pages > 0:
            return Leaves(pdf.tobytes(), pages, anchors, headings)
    return None


# joining


def joined(parts: Sequence[Leaves], book: Book) -> bytes:
    """Gatherings as one PDF: links lead from one to another, each page but the first has its foot."""
    import pikepdf

    whole = pikepdf.open(io.BytesIO(parts[0].pdf))
    others = [pikepdf.open(io.BytesIO(part.pdf)) for part in parts[1:]]
    for other in others:
        whole.pages.extend(other.pages)
    _lead(whole, _placed(parts, lambda one: one.anchors))
    _outline(whole, _placed(parts, lambda one: one.headings))
    if len(whole.pages) > 1:
        _feet(whole, pikepdf.open(io.BytesIO(as_printed(_feet_page(book, len(whole.pages))))))
    out = io.BytesIO()
    whole.save(out, deterministic_id=True)
    return out.getvalue()


def _placed(parts: Sequence[Leaves], which: Callable[[Leaves], tuple[Spot, ...]]) -> list[Spot]:
    """Places with their pages of the whole."""
    found, first = [], 0
    for part in parts:
        found += [replace(place, page=first + place.page) for place in which(part)]
        first += part.pages
    return found


def _lead(whole: Pdf, anchors: Sequence[Spot]) -> None:
    """Links by name to the places of all gatherings; one that leads nowhere is left out."""
    from pikepdf import Array, Dictionary, Name, String

    places = {p.name: p for p in reversed(anchors)}
    used: set[str] = set()
    for page in whole.pages:
        kept = []
        for note in page.obj.get("/Annots", []):
            address = str(note.A.URI) if "/A" in note and "/URI" in note.A else ""
            name = address.removeprefix(INNER)
            if address.startswith(INNER):
                if name not in places:
                    continue
                del note["/A"]
                note.Dest = String(name)
                used.add(name)
            kept.append(note)
        if "/Annots" in page.obj:
            page.obj.Annots = Array(kept)
    named: list[Any] = []
    for place in (places[name] for name in sorted(used)):  # a name tree is in order (ISO 32000-1, 7.9.6)
        named += [String(place.name), Array([whole.pages[place.page].obj, Name.XYZ, round(place.x, 2), round(place.y, 2), None])]
    if named:
        names = whole.Root.get("/Names", Dictionary())
        names.Dests = Dictionary(Names=Array(named))
        whole.Root.Names = names


def _outline(whole: Pdf, headings: Sequence[Spot]) -> None:
    """The document's own list of contents."""
    from pikepdf import OutlineItem

    with whole.open_outline() as outline:
        outline.root.clear()
        above: list[tuple[int, Any]] = []
        for h in headings:
            while above and above[-1][0] >= h.level:
                above.pop()
            item = OutlineItem(h.name, h.page, "XYZ", left=h.x, top=h.y)
            (above[-1][1].children if above else outline.root).append(item)
            above.append((h.level, item))


def _feet(whole: Pdf, feet: Pdf) -> None:
    """The foot of each page but the first: a drawing of its own that the page calls."""
    from pikepdf import Array, Dictionary

    before = whole.make_stream(b"q")
    for n, (page, foot) in enumerate(zip(list(whole.pages)[1:], feet.pages, strict=True), 2):
        if "/XObject" not in page.obj.Resources:
            page.obj.Resources.XObject = Dictionary()
        page.obj.Resources.XObject[f"/foot{n}"] = whole.copy_foreign(foot.as_form_xobject())
        page.obj.Contents = Array([before, page.obj.Contents, whole.make_stream(f"Q q /foot{n} Do Q".encode())])


def _feet_page(book: Book, count: int) -> str:
    """A page of text whose pages hold nothing but the feet of the others."""
    from markupsafe import escape

    face = "".join(
        f'@font-face {{ font-family: Inter; font-weight: {weight}; src: url("{FONTS.as_uri()}/Inter-{name}.otf") }}'
        for weight, name in ((400, "Regular"), (500, "Medium"))
    )
    style = (
        f"{face} @page {{ size: {book.paper}; margin: 0 }} body {{ margin: 0; font: 7.5pt Inter; color: #5C666D; font-feature-settings: 'tnum' }}"
        f" div {{ height: {book.height - 0.2}mm; position: relative; break-after: page }} p {{ position: absolute; margin: 0; top: {book.height - 15}mm }}"
        " .left { left: 24mm } .right { right: 16mm; font: 500 8.5pt Inter; color: #1F2A33 }"
    )
    left = escape(book.foot)
    feet = "".join(f'<div><p class="left">{left}</p><p class="right">{n} / {count}</p></div>' for n in range(2, count + 1))
    return f"<!DOCTYPE html><html><head><style>{style}</style></head><body>{feet}</body></html>"
