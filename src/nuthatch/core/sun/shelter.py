"""How sheltered a home lies from the wind: by what is drawn and said of its surroundings, weighed by where the wind comes from."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.model.site import RingSector, SiteObject
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, Figure
from nuthatch.core.sun.site import directions, place_of, ring_of, within

WAYS = 8
"""Directions a wind rose is told in."""
NEAR = 10.0
"""An object shelters up to so many times its height away: common practice, no source."""
OPEN_BELOW, HIGH_FROM = 1 / 3, 2 / 3
"""Shares of the wind from sheltered directions: common practice, no source."""
Shielding = Literal["open", "moderate", "high"]


@dataclass(frozen=True, eq=False)
class Shelter:
    """Part of the wind from each of WAYS directions and how much of that direction is sheltered, (WAYS,) each; whether the file says where the
    wind comes from; the part of all wind that comes from sheltered directions; the class that follows."""

    wind: Array
    sheltered: Array
    told: bool
    share: Figure
    shielding: Shielding


@calculation(
    "Part of the wind that comes from sheltered directions",
    "fraction",
    "s = Σ(w·d)",
    "common practice, no source: open below a third, high from two thirds on",
    wind="w: fraction",
    sheltered="d: fraction",
)
def sheltered_share(wind: Array, sheltered: Array) -> float:
    """wind: part of it from each direction; sheltered: how much of that direction is."""
    return float(np.sum(wind * sheltered))


def shielding_of(share: float) -> Shielding:
    """The class by the part of the wind that is kept off."""
    return "open" if share < OPEN_BELOW else "high" if share >= HIGH_FROM else "moderate"


def rose(speed: Array, wind_from: Array | None) -> Array:
    """Part of the wind, by how far it blows, from each of WAYS directions; the same from all where nobody says."""
    if wind_from is None or not speed.sum() > 0:
        return np.full(WAYS, 1 / WAYS)
    way = np.round(np.asarray(wind_from) / (360 / WAYS)).astype(int) % WAYS
    return np.asarray(np.bincount(way, speed, minlength=WAYS) / speed.sum())


def sheltered(ring: Iterable[RingSector], objects: Iterable[SiteObject], middle: tuple[float, float]) -> Array:
    """How much of each of WAYS directions is sheltered: by what the ring says, and by objects that are near for their height."""
    degrees: NDArray[np.bool_] = np.zeros(360, bool)
    for sector in ring:
        if sector.sheltered and sector.start is not None and sector.end is not None:
            degrees |= within(np.arange(360.0), sector.start.value, sector.end.value)
    for o in objects:
        place, corners = place_of(o), ring_of(o)
        if place is not None and corners is not None:
            off = np.hypot(*(corners - np.array(middle)).T).min()
            if off <= NEAR * place[5]:
                degrees |= directions(corners, middle)
    half = 180 // WAYS
    return np.asarray(np.roll(degrees, half).reshape(WAYS, -1).mean(axis=1))
