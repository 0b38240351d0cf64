"""The hours tried differently, as a sheet."""

from __future__ import annotations

from nuthatch.core.views.sheets.sheet import Head, Sheet
from nuthatch.core.year.what_if import Tried

HEADS = (
    Head("Tried"),
    Head("Too warm", "percent"),
    Head("Warmest", "temperature"),
    Head("Heating", "specific_energy"),
    Head("Cooling", "specific_energy"),
    Head("What takes its place"),
)


def sheet_of(rows: tuple[Tried, ...]) -> Sheet:
    """As it is first, then what changes most."""
    if not rows:
        return Sheet("what-if", "The hours tried differently", HEADS, ())
    base, *rest = rows
    rest.sort(key=lambda t: (-abs(t.share - base.share), -abs(t.warmest - base.warmest)))
    cells = tuple((t.name, t.share, t.warmest, t.heating, t.cooling, t.instead or effect(t, base)) for t in (base, *rest))
    return Sheet("what-if", "The hours tried differently", HEADS, cells, tuple(t.id or "as-it-is" for t in (base, *rest)))


def effect(t: Tried, base: Tried) -> str:
    """“nothing: 3.1 % of the year more is too warm”."""
    if t is base:
        return ""
    more = 100 * (t.share - base.share)
    if t.id in ("air", "fresh air", "leaks", "bypass") and more > 0.05:
        return f"nothing: {more:.1f} % of the year more is too warm"
    if t.id in ("air", "fresh air", "leaks", "bypass") and t.cooling > base.cooling + 0.1:
        return "nothing: cooling grows"
    return ""
