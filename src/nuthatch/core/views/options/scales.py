"""Round ends of an axis."""

from __future__ import annotations

from math import floor, log10


def ends(low: float, high: float) -> tuple[float, float]:
    """Round ends of an axis in four steps."""
    wide = max(high - low, 1e-9) / 4
    ten = 10 ** floor(log10(wide))
    step = next(m * ten for m in (1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10) if m * ten >= wide - 1e-12)
    first = floor(low / step + 1e-9) * step
    while first + 4 * step < high - 1e-9:
        step *= 1.25
        first = floor(low / step + 1e-9) * step
    return first, first + 4 * step
