"""The list of contents: chapters and the headings in them, with their addresses, as many as have room on a page."""

from __future__ import annotations

import re
from dataclasses import dataclass

from markupsafe import Markup

_HEADING = re.compile(r"<h([23])>(.*?)</h\1>", re.S)


@dataclass(frozen=True)
class ContentsLine:
    level: int
    ident: str
    text: Markup
    number: str


def entries(body: Markup) -> list[ContentsLine]:
    """Chapters and what stands under a heading of its own in them, for the list of contents; headings get their addresses with `addressed`."""
    found: list[ContentsLine] = []
    number = 0
    for n, match in enumerate(_HEADING.finditer(body)):
        level = int(match[1])
        number += level == 2
        text = Markup(re.sub(r"<[^>]*>", "", match[2]).strip())
        found.append(ContentsLine(level, f"h-{n}", text, str(number) if level == 2 else ""))
    return found


def that_fit(entries: list[ContentsLine], height: float = 297.0) -> list[ContentsLine]:
    """Entries that have room on a page so high [mm]: of chapters with very many headings only the chapter."""
    room = LINES - int((297.0 - height) / 5.0 * 2 + 0.999) - (8 if height < 297.0 else 0)
    for most in (99, 8, 5, 0):
        below: dict[int, int] = {}
        chapter = -1
        for n, e in enumerate(entries):
            chapter = n if e.level == 2 else chapter
            below[chapter] = below.get(chapter, 0) + (e.level == 3)
        kept, chapter = [], -1
        for n, e in enumerate(entries):
            chapter = n if e.level == 2 else chapter
            if e.level == 2 or below[chapter] <= most:
                kept.append(e)
        if sum(1 + len(e.text) // LETTERS for e in kept) <= room:
            break
    return kept


LINES, LETTERS = 84, 42
"""Lines of contents that have room on a page of A4, in two columns; a line takes 5 mm, a longer text two."""


def addressed(page: str) -> str:
    """Each heading of the body with its address."""
    count = iter(range(10**6))
    return _HEADING.sub(lambda m: f'<h{m[1]} id="h-{next(count)}">{m[2]}</h{m[1]}>', page)
