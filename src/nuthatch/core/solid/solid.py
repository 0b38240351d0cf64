"""A home as spaces, the boundaries between them, and the edges where boundaries meet, whoever made them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from nuthatch.core.plans.polygons import Point, Polygon
from nuthatch.core.results.entries import Entry

SpaceKind = Literal["heated", "unheated", "outside", "ground", "neighbour"]
BEYOND: dict[str, SpaceKind] = {"outside air": "outside", "ground": "ground", "unheated space": "unheated", "neighbour": "neighbour"}
WORDS = {kind: words for words, kind in BEYOND.items()}


@dataclass(frozen=True)
class Space:
    """A heated or named unheated part of the home, or what lies around it."""

    id: str
    name: str
    kind: SpaceKind


@dataclass(frozen=True)
class Boundary:
    """A plane face between the heated space and another one, in the home's dimensions.

    tilt 0 up, 90 upright, 180 down; azimuth from north [°]. The entries say where area, build-up, b and exposed perimeter were,
    or would be, entered; an area or perimeter worked out from a polygon has no entry. `outline` is the polygon in these
    dimensions, None for a face that is only listed; `crawl` the outline whose suspended floor it is.
    """

    id: str
    name: str
    role: str
    inside: Space
    beyond: Space
    tilt: float
    azimuth: float
    buildup: str
    buildup_at: Entry
    b: Entry
    perimeter: Entry
    area: Entry | None = None
    depth: Entry = Entry("", "")
    outline: Polygon | None = None
    crawl: str = ""

    @property
    def borders(self) -> str:
        """What lies behind it, in words."""
        return WORDS[self.beyond.kind]


@dataclass(frozen=True)
class Edge:
    """Where boundaries meet: their ids (two on a closed shape), length [m], the angle between them measured inside [°]: above 180 it is
    re-entrant. The id comes from what meets there."""

    id: str
    boundaries: tuple[str, ...]
    length: float
    angle: float
    ends: tuple[Point, Point]


@dataclass(frozen=True)
class Storey:
    """Rooms of one storey: net internal area, the part counting by height, clear height, level of its floor [m², m², m, m]."""

    name: str
    area: float
    counted: float
    height: float
    level: float = 0.0


@dataclass(frozen=True)
class Gap:
    """Where the shape is not closed: how many edges are without a partner, with the longest of them, and the names of the faces beside
    it; or area [m²] more on one side along an axis."""

    kind: Literal["edges", "axis"]
    axis: str
    amount: float
    longest: Edge | None = None
    beside: tuple[str, ...] = ()


@dataclass(frozen=True)
class Solid:
    """All of a home's shape. `outer` and `inner` are outlines by boundary id for drawings; plan y looks to azimuth `north`;
    `areas` is the gross area of each face as drawn, or listed [m²];
    `around` are the faces of unheated spaces toward what is around the home."""

    spaces: tuple[Space, ...] = ()
    boundaries: tuple[Boundary, ...] = ()
    outer: Mapping[str, Polygon] = field(default_factory=dict)
    inner: Mapping[str, Polygon] = field(default_factory=dict)
    storeys: tuple[Storey, ...] = ()
    north: float = 0.0
    areas: dict[str, float] = field(default_factory=dict)
    around: tuple[Boundary, ...] = ()

    @property
    def drawn(self) -> bool:
        return bool(self.outer)


HEATED = Space("home", "Heated space", "heated")


def space_beyond(borders: str, name: str = "") -> Space:
    """The space behind a face; each unheated one has a name of its own."""
    kind = BEYOND[borders]
    ident = {"outside": "outside", "ground": "ground"}.get(kind, f"{kind}-{name}" if name else kind)
    return Space(ident, name or borders, kind)


def spaces_of(boundaries: tuple[Boundary, ...]) -> tuple[Space, ...]:
    """Every space the boundaries stand between, once."""
    return tuple(dict.fromkeys(s for b in boundaries for s in (b.inside, b.beyond)))


def open_edges(edges: tuple[Edge, ...], names: Mapping[str, str]) -> list[Gap]:
    """The edges that are not shared by two faces, or four, as one gap; names of faces by id."""
    loose = [e for e in edges if len(e.boundaries) % 2]
    if not loose:
        return []
    longest = max(loose, key=lambda e: e.length)
    return [Gap("edges", "", float(len(loose)), longest, tuple(dict.fromkeys(names.get(b, b) for b in longest.boundaries)))]


def gaps(solid: Solid, edges: tuple[Edge, ...]) -> tuple[Gap, ...]:
    """What keeps the shape from being closed. With outlines every edge is shared by two faces, or by four where two parts of the home
    touch along it, and Σ A·n = 0 within 0.5 %; listed areas are checked by Σ A·n along each axis alone, which is weaker."""
    found = open_edges(edges, {f.id: f.name for f in solid.boundaries})
    vectors = np.zeros(3)
    for f in solid.boundaries:
        t, a = np.radians(f.tilt), np.radians(f.azimuth)
        vectors += solid.areas[f.id] * np.array([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)])
    envelope = sum(solid.areas.values())
    for axis, amount in zip(("east–west", "north–south", "up–down"), vectors, strict=True):
        if envelope and abs(amount) > 0.005 * envelope:
            found.append(Gap("axis", axis, abs(float(amount))))
    return tuple(found)
