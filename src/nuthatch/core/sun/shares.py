"""Shares of the light that reach a glass, hour by hour: through its own edges, past what stands before it, above the horizon.

Method: docs/methods (sun). Beam by the sunlit share of the glass, sky and ground by the part of each that the glass sees, weighted by
the cosine on it. What stands in the way reflects nothing.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import NamedTuple

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
    one, other = first * 24 + hour, (first + 1) % len(far.up) * 24 + hour
    w, up = (day % EVERY) / EVERY, far.up.ravel()
    weights = np.stack([(1 - w) * up[one], w * up[other]])
    total = weights.sum(0)
    weights = np.where(total > 0, weights / np.where(total > 0, total, 1.0), np.array([1.0, 0.0])[:, None])
    cells = far.beam.reshape(far.up.size, -1)
    made = weights[0][:, None] * cells.take(one, axis=0)
    made += weights[1][:, None] * cells.take(other, axis=0)
    return np.asarray(made.reshape(-1, *far.beam.shape[2:]))


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


class Seen(NamedTuple):
    """What a plane sees, whatever the edges of an opening in it: the hours in which the sun shines on it and its slopes then; slopes of all
    directions, which of them lie above the horizon, what of their light passes the skyline."""

    shines: NDArray[np.intp]
    beam: tuple[Array, Array]
    even: tuple[Array, Array]
    above: NDArray[np.bool_]
    clear: Array


@lru_cache(maxsize=64)
def _seen(plane: tuple[float, float], path: SunPath, skyline: Skyline | None) -> Seen:
    frame = axes(*plane)
    own = path.ways @ frame.T
    shines = np.flatnonzero((path.height > 0) & (own[:, 2] > 0))
    world = DIRECTIONS @ frame
    above = world[:, 2] > 0
    clear = np.ones(len(DIRECTIONS))
    if skyline is not None:  # a direction stands for a part of the sky, which the horizon may cut
        elevation = np.degrees(np.arcsin(np.clip(world[:, 2], -1, 1)))
        high, passes = skyline.at(np.degrees(np.arctan2(world[:, 0], world[:, 1])))
        over = np.clip((elevation - high) / WIDE + 0.5, 0.0, 1.0) / np.clip(elevation / WIDE + 0.5, 0.5, 1.0)
        clear = np.where(above, over + passes * (1 - over), 1.0)
    return Seen(shines, slopes(own[shines]), slopes(DIRECTIONS), above, clear)


@lru_cache(maxsize=16)
def _cells(far: Far, plane: tuple[float, float], path: SunPath) -> Array:
    """Cells in the light in the hours in which the sun shines on the plane: the same whatever becomes of the edges. Half a megabyte each."""
    return by_hour(far, _seen(plane, path, None).shines)


@lru_cache(maxsize=64)
def shares(edges: Edges, plane: tuple[float, float], path: SunPath, skyline: Skyline | None = None, far: Far | None = None) -> Shares:
    """What reaches the glass. plane: tilt and azimuth [°]. Those worked out last are kept: a home as judged asks for the same again."""
    seen = _seen(plane, path, skyline)
    beam = np.zeros(len(path.height))
    beam[seen.shines] = lit(edges, *seen.beam) if far is None else _overlap(edges, *seen.beam, _cells(far, plane, path))
    if skyline is not None:
        beam = beam * _over(skyline, path)
    cells = [lit(edges, *seen.even)] * 2 if far is None else [_overlap(edges, *seen.even, e) for e in far.even]
    sky = [float(np.mean((s * seen.clear)[seen.above])) for s in cells]
    ground = [float(np.mean(s[~seen.above])) if not seen.above.all() else 1.0 for s in cells]
    return Shares(beam, (sky[0], sky[1]), (ground[0], ground[1]))
