"""Openings with what of the sun they let in: factors in winter and summer, typed and worked out told apart; hours of sun, beam, gain."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.fabric.stages import SUN
from nuthatch.core.results.figure import Array, Known
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.stages import LET_IN
from nuthatch.core.views.openings.shaded_by import Taken
from nuthatch.core.views.openings.sun_drawn import why_none
from nuthatch.core.views.shape.tinting import direction
from nuthatch.core.views.sheets.sheet import Column, Head, Sheet, sheet

WINTER, SUMMER = (9, 10, 11, 0, 1, 2, 3), (4, 5, 6, 7, 8)
"""Months of a year north of the equator; south of it the other way round, as near as it matters for a list."""


@dataclass(frozen=True)
class SunRow:
    """An opening's sun: winter and summer factor as they count and as worked out, hours with more than half of its glass in the sun, beam that
    reaches it [kWh/(m²·a)], what it lets in for heating [kWh/a]; None where that is not known, with why."""

    id: str
    name: str
    looks: str
    winter: float | None = None
    summer: float | None = None
    worked: tuple[float, float] | None = None
    typed: str = ""
    sunlit: float | None = None
    direct: float | None = None
    gain: float | None = None
    why: str = ""
    most: str = ""


def mean_over(share: Array, let_in: LetIn, months: tuple[int, ...]) -> float:
    """The mean factor of some months, weighed by what falls on the plane."""
    falls = let_in.falls.sum(axis=0)[list(months)]
    return float((share[list(months)] * falls).sum() / falls.sum()) if falls.sum() > 0 else float(np.mean(share[list(months)]))


def sun_rows(a: Assessment, taken: Mapping[str, tuple[Taken, ...]] | None = None) -> tuple[SunRow, ...]:
    """All rows of openings in their order. taken: what takes their sun, as far as it is worked out."""
    found, faces, suns = a.all_of(LET_IN), a.all_of(BOUNDARY), a.all_of(SUN)
    made = []
    for o in a.home.openings:
        let_in, face = found.get(o.id), faces.get(o.face)
        looks = direction(face) if face is not None else ""
        if not isinstance(let_in, LetIn):
            made.append(SunRow(o.id, o.name, looks, why=why_none(a, o)))
            continue
        south = a.station is not None and a.station.weather.latitude < 0
        cold, warm = (SUMMER, WINTER) if south else (WINTER, SUMMER)
        gain = suns[o.id].months
        typed = " and ".join(s for s, v in (("winter", o.shade_winter), ("summer", o.shade_summer)) if v is not None)
        made.append(
            SunRow(
                o.id, o.name, looks, mean_over(let_in.heating.share, let_in, cold), mean_over(let_in.cooling.share, let_in, warm),
                (mean_over(let_in.worked[0], let_in, cold), mean_over(let_in.worked[1], let_in, warm)), typed, let_in.sunlit, let_in.direct,
                float(np.sum(gain.value)) if isinstance(gain, Known) else None, most=_most(o.id, taken),
            )
        )  # fmt: skip
    return tuple(made)


def _most(ident: str, taken: Mapping[str, tuple[Taken, ...]] | None) -> str:
    """“Birch −12 %”; '' where nothing takes any, or it is not known."""
    first = next(iter((taken or {}).get(ident, ())), None)
    return f"{first.name} −{100 * first.share:.0f} %" if first is not None and first.share >= 0.005 else ""


_COLUMNS: tuple[Column[SunRow], ...] = (
    Column("Opening", lambda r: r.name),
    Column("Looks", lambda r: r.looks),
    Column("Winter", lambda r: r.winter if r.winter is not None else r.why, "fraction"),
    Column("Summer", lambda r: r.summer, "fraction"),
    Column("Worked out", lambda r: f"{r.worked[0]:.2f} · {r.worked[1]:.2f}" if r.worked is not None and r.typed else ""),
    Column("Sunlit", lambda r: r.sunlit, "hours"),
    Column("Beam", lambda r: r.direct, "irradiation"),
    Column("Let in", lambda r: r.gain, "energy"),
    Column("Shaded most by", lambda r: r.most),
)
SUN_HEADS = tuple(Head(c.label, c.kind) for c in _COLUMNS)


def sun_sheet(a: Assessment, taken: Mapping[str, tuple[Taken, ...]] | None = None) -> Sheet:
    """The sun on openings, as a sheet: what is typed is followed by what would be worked out."""
    return sheet("sun", "Sun on openings", _COLUMNS, sun_rows(a, taken))
