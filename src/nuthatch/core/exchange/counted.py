"""Names of one kind in words: how many, and the first of them."""

from __future__ import annotations

SHOWN = 5


def counted(what: str, names: list[str]) -> str:
    """“3 × Schedule: a, b, c”; of many the first four."""
    known = [n for n in dict.fromkeys(names) if n]
    many = len(known) > SHOWN
    shown = ", ".join(known[: SHOWN - 1 if many else SHOWN])
    more = f" and {len(known) - SHOWN + 1} more" if many else ""
    return f"{len(names)} × {what}{f': {shown}{more}' if shown else ''}"
