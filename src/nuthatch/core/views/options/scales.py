"""Round ends of an axis."""

from __future__ import annotations

from math import floor, log10

from nuthatch.core.units import kind_of


def ends(low: float, high: float, kind: str = "") -> tuple[float, float]:
    """Ends of an axis in four steps [as stored], round in the unit that is shown."""
    if kind:
        of = kind_of(kind)
        first, last = _round(of.to_shown(low), of.to_shown(high))
        return of.to_stored(first), of.to_stored(last)
    return _round(low, high)


def _round(low: float, high: float) -> tuple[float, float]:
    wide = max(high - low, 1e-9) / 4
    ten = 10 ** floor(log10(wide))
    step = next(m * ten for m in (1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10) if m * ten >= wide - 1e-12)
    first = floor(low / step + 1e-9) * step
    while first + 4 * step < high - 1e-9:
        step *= 1.25
        first = floor(low / step + 1e-9) * step
    return first, first + 4 * step
