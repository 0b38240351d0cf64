"""Shares of the light that reach a glass, hour by hour: through its own edges, past what stands before it, above the horizon.

Method: docs/methods (sun). Beam by the sunlit share of the glass, sky and ground by the part of each that the glass sees, weighted by
the cosine on it. What stands in the way reflects nothing.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.results.figure import Array
from nuthatch.core.sun.edges import DIRECTIONS, GRAZING, WIDE, Edges, axes, lit, slopes, toward, window
from nuthatch.core.sun.standing import CELLS, ROWS, Opened, Thing, before, cells_lit

EVERY = 5
"""What stands before an opening is looked at on every fifth day; between them by hour of day."""
DAYS = 365


@dataclass(frozen=True, eq=False)
class SunPath:
    """Where the sun is at mid-hour, (8760,): height above the horizon, refraction counted, and azimuth from north [°]."""

    told_once = True
    height: Array
    azimuth: Array
    latitude: float

    @cached_property
    def ways(self) -> Array:
        """Unit vectors toward the sun, (8760, 3): every opening asks for the same ones."""
        return toward(self.height, self.azimuth)


@dataclass(frozen=True)
class Skyline:
    """What stands round about, by whole degree of azimuth, (360,): how high [°], and what of the light below that passes."""

    height: tuple[float, ...]
    passes: tuple[float, ...]

    def at(self, azimuth: Array) -> tuple[Array, Array]:
        """Height and what passes at azimuths: the height between whole degrees in a straight line."""
        way = np.asarray(azimuth) % 360
        height = np.interp(way, np.arange(361), [*self.height, self.height[0]])
        return height, np.asarray(self.passes)[np.rint(way).astype(int) % 360]


@dataclass(frozen=True, eq=False)
class Far:
    """What things before an opening leave of the light in each of its cells: of the beam on every fifth day by hour, (73, 24, v, u), where
    `up` says the sun is before the opening; of each of DIRECTIONS without leaves and with them, (2, k, v, u)."""

    told_once = True
    beam: Array
    up: NDArray[np.bool_]
    even: Array


@dataclass(frozen=True, eq=False)
class Shares:
    """Shares of the light that reach the glass: of the beam by hour (8760,), of the sky without leaves and with them, of the ground likewise."""

    beam: Array
    sky: tuple[float, float]
    ground: tuple[float, float]


def leaves_out(latitude: float) -> NDArray[np.bool_]:
    """Whether trees have their leaves, by day of the year (365,): from May to October north of the equator, November to April south of it;
    common practice, no source."""
    day = np.arange(DAYS)
    summer = (day >= 120) & (day < 304)
    return summer if latitude >= 0 else ~summer


def far_of(opened: tuple[Opened, ...], things: tuple[Thing, ...], path: SunPath) -> Far | None:
    """What things leave of the light of one or several openings alike, in the mean; None where nothing stands before any of them."""
    pieces = [(o, before(o, things)) for o in opened]
    if not any(p for _, p in pieces):
        return None
    days = np.arange(0, DAYS, EVERY)
    height, azimuth = (x.reshape(DAYS, 24)[days].ravel() for x in (path.height, path.azimuth))
    leaves = np.repeat(leaves_out(path.latitude)[days], 24)
    sun = toward(height, azimuth)
    beam = np.zeros((len(sun), CELLS, CELLS))
    even = np.zeros((2, len(DIRECTIONS), CELLS, CELLS))
    up = np.zeros(len(sun), bool)
    for one, found in pieces:
        own = sun @ one.axes.T
        shines = (height > 0) & (own[:, 2] > GRAZING)
        up |= shines
        winter, summer = (np.array([getattr(p.thing, f) for p in found])[:, None] for f in ("winter", "summer"))
        part = np.ones_like(beam)
        part[shines] = cells_lit(one, found, own[shines], np.where(leaves[shines], summer, winter)[None])[0]
        beam += part / len(pieces)
        always = np.ones(len(DIRECTIONS))
        even += cells_lit(one, found, DIRECTIONS, np.stack([winter * always, summer * always]), ROWS // 4) / len(pieces)
    shape = (len(days), 24, CELLS, CELLS)
    return Far(beam.reshape(shape).astype(np.float32), up.reshape(len(days), 24), even.astype(np.float32))


def by_hour(far: Far, hours: NDArray[np.int_] | None = None) -> Array:
    """Cells in the light of the beam at every hour of the year, (8760, v, u), or at some of them."""
    at = np.arange(DAYS * 24) if hours is None else hours
    day, hour = at // 24, at % 24
    first = day // EVERY
    second = (first + 1) % len(far.up)
    w = (day % EVERY) / EVERY
    weights = np.stack([(1 - w) * far.up[first, hour], w * far.up[second, hour]])
    total = weights.sum(0)
    weights = np.where(total > 0, weights / np.where(total > 0, total, 1.0), np.array([1.0, 0.0])[:, None])
    made = weights[0][:, None, None] * far.beam[first, hour] + weights[1][:, None, None] * far.beam[second, hour]
    return np.asarray(made)


def _overlap(edges: Edges, a: Array, b: Array, cells: Array) -> Array:
    """Share of the glass in the light where the cells of the opening let through what they do."""
    u0, v0, u1, v1 = window(edges, a, b)
    across, upward = (np.arange(CELLS) * s / CELLS for s in (edges.width, edges.height))
    wide, high = edges.width / CELLS, edges.height / CELLS
    wu = np.maximum(np.minimum(u1[:, None], across + wide) - np.maximum(u0[:, None], across), 0.0)
    wv = np.maximum(np.minimum(v1[:, None], upward + high) - np.maximum(v0[:, None], upward), 0.0)
    return np.asarray(np.clip(np.einsum("hvu,hv,hu->h", cells, wv, wu) / edges.glass, 0.0, 1.0))


@lru_cache(maxsize=4)
def _over(skyline: Skyline, path: SunPath) -> Array:
    """What of the beam passes the horizon at every hour, (8760,): the same for all openings of a home."""
    height, passes = skyline.at(path.azimuth)
    return np.where(path.height >= height, 1.0, passes)


@lru_cache(maxsize=64)
def shares(edges: Edges, plane: tuple[float, float], path: SunPath, skyline: Skyline | None = None, far: Far | None = None) -> Shares:
    """What reaches the glass. plane: tilt and azimuth [°]. Those worked out last are kept: a home as judged asks for the same again."""
    frame = axes(*plane)
    own = path.ways @ frame.T
    shines = np.flatnonzero((path.height > 0) & (own[:, 2] > 0))
    a, b = slopes(own[shines])
    beam = np.zeros(len(own))
    beam[shines] = lit(edges, a, b) if far is None else _overlap(edges, a, b, by_hour(far, shines))
    if skyline is not None:
        beam = beam * _over(skyline, path)
    a, b = slopes(DIRECTIONS)
    world = DIRECTIONS @ frame
    above = world[:, 2] > 0
    clear = np.ones(len(DIRECTIONS))
    if skyline is not None:  # a direction stands for a part of the sky, which the horizon may cut
        elevation = np.degrees(np.arcsin(np.clip(world[:, 2], -1, 1)))
        high, passes = skyline.at(np.degrees(np.arctan2(world[:, 0], world[:, 1])))
        over = np.clip((elevation - high) / WIDE + 0.5, 0.0, 1.0) / np.clip(elevation / WIDE + 0.5, 0.5, 1.0)
        clear = np.where(above, over + passes * (1 - over), 1.0)
    seen = [lit(edges, a, b)] * 2 if far is None else [_overlap(edges, a, b, e) for e in far.even]
    sky = [float(np.mean((s * clear)[above])) for s in seen]
    ground = [float(np.mean(s[~above])) if not above.all() else 1.0 for s in seen]
    return Shares(beam, (sky[0], sky[1]), (ground[0], ground[1]))
