"""Where a number of a page leads: on paper to the page that says what it is and how it came about; in the window to its field or working."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from urllib.parse import quote, unquote

from markupsafe import Markup

SCHEME = "nuthatch"
_PLAIN = re.compile(r"[^A-Za-z0-9_-]+")


def anchor(*words: str) -> str:
    """An address inside a page: letters, digits, dashes."""
    return "-".join(_PLAIN.sub("_", w) for w in words)


@dataclass
class Links:
    """`live`: for the window; `results`, `fields`: what a printed page has a place for. `named` counts where each result is shown."""

    live: bool = False
    results: frozenset[str] = frozenset()
    fields: frozenset[tuple[str, str]] = frozenset()
    chapter: str = ""
    shown: dict[str, list[str]] = field(default_factory=dict)

    def result(self, key: str, text: str) -> Markup:
        """A result's number; the first time in a chapter it is noted for the index."""
        where = ""
        if self.chapter and self.chapter != "results":
            place = anchor("m", key, self.chapter)
            if place not in self.shown.setdefault(key, []):
                self.shown[key].append(place)
                where = place
        if self.live:
            return _to(f"{SCHEME}:result/{quote(key)}", text, where)
        if key in self.results:
            return _to(f"#{anchor('r', key)}", text, where)
        return Markup('<span id="{}">{}</span>').format(where, text) if where else Markup("{}").format(text)

    def value(self, part: str, name: str, text: str) -> Markup:
        """A value somebody entered; `name` empty: the part itself."""
        if not text or not part:
            return Markup("{}").format(text)
        if self.live:
            return _to(f"{SCHEME}:field/{quote(part)}/{quote(name)}", text)
        if (part, name) in self.fields:
            return _to(f"#{anchor('v', part, name)}", text)
        return Markup("{}").format(text)


def _to(target: str, text: str, ident: str = "") -> Markup:
    named = Markup(' id="{}"').format(ident) if ident else Markup("")
    return Markup('<a class="q" href="{}"{}>{}</a>').format(target, named, text)


def read(address: str) -> tuple[str, str, str] | None:
    """(“result” or “field”, key or part, field) of an address of a live page; None for another."""
    scheme, _, rest = address.partition(":")
    words = [unquote(w) for w in rest.lstrip("/").split("/")]
    if scheme != SCHEME or words[0] not in ("result", "field") or len(words) < 2:
        return None
    return words[0], words[1], words[2] if len(words) > 2 else ""
