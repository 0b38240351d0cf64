"""A page made of text into a PDF: its own fonts and what it holds, nothing from elsewhere; without what is not to be read."""

from __future__ import annotations

import base64
import ctypes.util
import re
from functools import lru_cache
from typing import Any

from nuthatch.core.graph.collector import seldom
from nuthatch.look import FONTS

WEIGHTS = ("Regular", "Medium", "SemiBold", "Bold")
_CONTROLS = {
    n: None
    for n in (*range(0x20), *range(0x7F, 0xA0), *range(0x202A, 0x202F), *range(0x2066, 0x206A), 0xFFFE, 0xFFFF)
    if chr(n) not in "\n\t"
}
_SURROGATE = re.compile("[\ud800-\udfff]")


def without_controls(page: str) -> str:
    """A page without control characters, marks that turn the direction of writing, and halves of characters that somebody's texts may hold:
    nothing of it is to be read, and it may hide or reorder what is."""
    return _SURROGATE.sub("\ufffd", page.translate(_CONTROLS))


def fonts_of(alone: bool) -> dict[str, str]:
    """Where a page finds its fonts: inside itself, or beside the program."""
    return {n: _font(n) if alone else f"{FONTS.as_uri()}/Inter-{n}.otf" for n in WEIGHTS}


def _font(name: str) -> str:
    return "data:font/otf;base64," + base64.b64encode((FONTS / f"Inter-{name}.otf").read_bytes()).decode()


@lru_cache(maxsize=1)
def writer() -> Any:
    """The package that sets pages. It asks for each of its libraries by several names, the one of Linux among the last, and for a name that
    is not there Python starts a compiler and a linker: half a second of the first page. The loader itself knows the right one."""
    searched = ctypes.util.find_library
    ctypes.util.find_library = lambda name: None
    try:
        import weasyprint
    finally:
        ctypes.util.find_library = searched
    return weasyprint


def as_printed(page: str, **options: Any) -> bytes:
    """A page as PDF; what it shows it holds. options: of the writer."""
    html = writer().HTML
    with seldom():
        return bytes(html(string=_DRAWN.sub(_as_image, page), url_fetcher=fetcher()).write_pdf(**options))


def printed_apart(page: str, variant: str = "") -> tuple[bytes, list[Any]]:
    """A page as PDF, and what the writer knows of each of its pages: its size, the places on it [pixels of style sheets from its top]."""
    html = writer().HTML
    with seldom():
        made = html(string=_DRAWN.sub(_as_image, page), url_fetcher=fetcher()).render()
        return bytes(made.write_pdf(pdf_variant=variant or None)), made.pages


_DRAWN = re.compile(r"<svg.*?</svg>", re.S)


def _as_image(drawn: re.Match[str]) -> str:
    """A drawing as an image of its own: the writer need not work out styles for each of its lines."""
    data = base64.b64encode(drawn.group().encode()).decode()
    return f'<img class="drawn" alt="" src="data:image/svg+xml;base64,{data}">'


def fetcher() -> object:
    """What the writer of the PDF may read: data inside the page and our own fonts; no other file, no network (ValueError)."""
    writer()
    from weasyprint.urls import URLFetcher

    given = {f"{FONTS.as_uri()}/Inter-{n}.otf" for n in WEIGHTS}

    class OnlyGiven(URLFetcher):  # type: ignore[misc]  # the package ships no types
        def fetch(self, url: str, headers: object = None) -> object:
            if url.partition(":")[0].lower() != "data" and url not in given:
                raise ValueError("a dossier holds everything it shows")
            return super().fetch(url, headers)

    return OnlyGiven(allowed_protocols=("data", "file"))
