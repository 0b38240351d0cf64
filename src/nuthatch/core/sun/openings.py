"""Openings as the sun meets them: where they are in space, their own edges, their glass."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.plans.polygons import Point, Polygon, plane_axes
from nuthatch.core.solid.opening_places import stands
from nuthatch.core.sun.edges import Edges, axes
from nuthatch.core.sun.glazing import Glazing, of_u
from nuthatch.core.sun.let_in import BLINDS, STRONG, WARM, Blind, Typed
from nuthatch.core.sun.site import to_compass
from nuthatch.core.sun.standing import Opened

FRAME_DEEP = 0.08
"""How deep a frame is [m], common practice."""
UPRIGHT = 60.0
"""Glass in a plane tilted less [°] lies in its roof without a reveal."""
GLASS_SHARE = 0.7
"""Glass of a whole window where nothing is said, common practice."""


@dataclass(frozen=True)
class Stood:
    """All openings of a row as they stand in space: lower left corners [m], east, north, up; tilt, azimuth [°]; width, height [m]."""

    id: str
    corners: tuple[Point, ...]
    tilt: float
    azimuth: float
    size: tuple[float, float]

    def opened(self) -> tuple[Opened, ...]:
        """Each of them."""
        frame = axes(self.tilt, self.azimuth)
        return tuple(Opened(np.array(c), frame, *self.size) for c in self.corners)


def stood(openings: tuple[Opening, ...], face: str, polygon: Polygon, north: float, plane: tuple[float, float]) -> tuple[Stood, ...]:
    """The openings of a face by row. plane: its tilt and azimuth."""
    corner, right, up = plane_axes(polygon)
    rows: dict[str, list[Point]] = {}
    sizes: dict[str, tuple[float, float]] = {}
    for s in stands(openings, face, polygon):
        at = to_compass(corner + right * s.left + up * s.up, north)
        rows.setdefault(s.opening.id, []).append((round(float(at[0]), 3), round(float(at[1]), 3), round(float(at[2]), 3)))
        sizes[s.opening.id] = s.width, s.height
    return tuple(Stood(i, tuple(c), *plane, sizes[i]) for i, c in rows.items())


def edges_of(opening: Opening, kind: OpeningType, reveal: float) -> Edges | None:
    """The own edges of an opening; None while its size is not given or its frame leaves no glass."""
    if opening.width is None or opening.height is None:
        return None
    width, height = opening.width.value, opening.height.value
    if kind.entry == "glass and frame":
        side, top, low = (g.value if g is not None else 0.0 for g in (kind.frame_side, kind.frame_top, kind.frame_bottom))
        frame = (side, low, side, top)
    else:
        share = kind.glass_share.value if kind.glass_share is not None else GLASS_SHARE
        frame = (_margin(width, height, min(max(share, 0.01), 1.0)),) * 4
    if width <= frame[0] + frame[2] or height <= frame[1] + frame[3]:
        return None
    deep, above, left, right = (
        g.value if g is not None else 0.0 for g in (opening.overhang, opening.overhang_above, opening.fin_left, opening.fin_right)
    )
    return Edges(width, height, frame, reveal, deep, above, (left, right))


def _margin(width: float, height: float, share: float) -> float:
    """How wide a frame alike all round is that leaves a share as glass."""
    half = (width + height) / 2
    return float((half - np.sqrt(half**2 - (1 - share) * width * height)) / 2)


def reveal_of(opening: Opening, tilt: float, thickness: float | None) -> float:
    """How far the glass lies behind the outer face [m]: as entered, else in the middle of its wall, none in a slope."""
    if opening.reveal is not None:
        return opening.reveal.value
    if thickness is None or tilt < UPRIGHT:
        return 0.0
    return max((thickness - FRAME_DEEP) / 2, 0.0)


def glazing_of(kind: OpeningType) -> Glazing:
    """How a type's glass counts the angle."""
    if kind.entry == "glass and frame" and kind.glass_from == "panes and gaps":
        panes = 3 if kind.gap_2 is not None else 2
        coated = any(e is not None and e.value < 0.5 for e in (kind.coat, kind.coat_2))
        return Glazing(float(panes), 2.0 if coated else 4.0)
    u = kind.glass_u if kind.entry == "glass and frame" else kind.whole_u
    return of_u(u.value if u is not None else 1.1)


def blind_of(opening: Opening) -> Blind | None:
    """The blind of an opening; None where it has none."""
    if opening.blind == "none":
        return None
    passes = opening.blind_passes.value if opening.blind_passes is not None else BLINDS[opening.blind]
    sun = opening.blind_sun.value if opening.blind_sun is not None else STRONG
    return Blind(passes, sun, opening.blind_warm.value if opening.blind_warm is not None else WARM)


def typed_of(opening: Opening) -> Typed:
    """Sun let through as entered."""
    winter, summer = (g.value if g is not None else None for g in (opening.shade_winter, opening.shade_summer))
    return Typed(winter, summer)
