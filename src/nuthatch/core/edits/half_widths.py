"""A value's own half-width as it is typed: a share of the value, or a difference in its unit."""

from __future__ import annotations

from nuthatch.core.model.part import Given
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import with_unit

SHARES = ("percent", "fraction")


def half_read(text: str, given: Given, kind: str) -> float | None:
    """The half-width [SI] of a text such as “10 %”, “0.004” or “1.8 °F”; None for an empty one. Raises BadText with what would be right."""
    text = text.strip().removeprefix("±").strip()
    if not text:
        return None
    of = "difference" if kind == "temperature" else kind
    if text.endswith("%") and kind not in SHARES:
        found = read(text, "percent")
        half = found * abs(given.value) if not isinstance(found, Doubt) else found
    else:
        half = read(text, of)
    if isinstance(half, Doubt):
        raise BadText(f"{half.question} Write it with its unit")
    if half < 0:
        raise BadText("it lies to either side: write it without a sign")
    return half


def half_words(given: Given, kind: str) -> str:
    """“± 0.004 W/(m·K)” as it is shown; '' where it has none of its own."""
    return f"± {with_unit(given.half, 'difference' if kind == 'temperature' else kind)}" if given.half is not None else ""
