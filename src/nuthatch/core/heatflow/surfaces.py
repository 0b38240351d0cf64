"""What the coldest surface of a detail needs by month in the air of its home: mould at 80 %, condensation at 100 % there (ISO 13788)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.fabric.moisture import CRITICAL, least_factor
from nuthatch.core.fabric.vapour import Airs

MOULD_SAFE = 0.70
"""f_Rsi of a surface that stays free of mould at standard indoor climate: common practice, no source."""


@dataclass(frozen=True)
class Needs:
    """The least f_Rsi of each month against mould and against condensation; None where nothing is needed, or the air is not known."""

    mould: tuple[float | None, ...] = (None,) * 12
    dew: tuple[float | None, ...] = (None,) * 12

    @property
    def known(self) -> bool:
        return any(v is not None for v in self.mould)

    @property
    def least(self) -> float:
        """What no surface may be below: 0.70, or more where the air of the home asks for more."""
        return max([MOULD_SAFE, *(v for v in self.mould if v is not None)])

    @property
    def worst(self) -> int | None:
        """The month that asks for most, 0 January; None where the standard indoor climate decides."""
        months = [(v, n) for n, v in enumerate(self.mould) if v is not None]
        return max(months)[1] if months and max(months)[0] >= MOULD_SAFE else None

    def mouldy(self, f_rsi: float) -> tuple[int, ...]:
        """The months in which mould may grow on a surface."""
        return tuple(n for n, v in enumerate(self.mould) if v is not None and f_rsi < v)

    def wet(self, f_rsi: float) -> tuple[int, ...]:
        """The months in which water condenses on it."""
        return tuple(n for n, v in enumerate(self.dew) if v is not None and f_rsi < v)


def needs(airs: Airs) -> Needs:
    """By the air of a home, month by month."""
    values = [n.value for n in (airs.inside, airs.p_inside, airs.outside)]
    if any(v is None for v in values):
        return Needs()
    inside, pressure, outside = (np.broadcast_to(np.asarray(v, dtype=float), (12,)) for v in values)
    return Needs(_months(least_factor(inside, pressure, outside)), _months(least_factor(inside, pressure * CRITICAL, outside)))


def _months(values: np.ndarray) -> tuple[float | None, ...]:
    return tuple(None if np.isnan(v) else float(v) for v in values)
