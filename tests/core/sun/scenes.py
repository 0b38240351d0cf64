"""Scenes of the sun for tests: a path over a place, bodies, and a count of rays that shares no code with the program."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pvlib

from nuthatch.core.sun.edges import Edges
from nuthatch.core.sun.shares import SunPath, leaves_out
from nuthatch.core.sun.site import prism
from nuthatch.core.sun.standing import Opened, Thing


def path_at(latitude: float, azimuth: float | None = None, height: float | None = None) -> SunPath:
    """The sun's path of a year by declination and hour angle, or one that stands still."""
    if azimuth is not None and height is not None:
        return SunPath(np.full(8760, height), np.full(8760, azimuth % 360), latitude)
    day, hour = np.repeat(np.arange(365), 24), np.tile(np.arange(24), 365) + 0.5
    declination = pvlib.solarposition.declination_cooper69(day + 1)
    angle, lat = np.radians(15 * (hour - 12)), np.radians(latitude)
    zenith = pvlib.solarposition.solar_zenith_analytical(lat, angle, declination)
    around = pvlib.solarposition.solar_azimuth_analytical(lat, angle, declination, zenith)
    return SunPath(90 - np.degrees(zenith), np.degrees(around) % 360, latitude)


def block(ident: str, middle: tuple[float, float], size: tuple[float, float, float], turned: float = 0.0, **light: float) -> Thing:
    """A body on a rectangle, turned clockwise."""
    c, s = np.cos(np.radians(turned)), np.sin(np.radians(turned))
    ring = np.array([(x * size[0] / 2, y * size[1] / 2) for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
    return Thing(ident, prism(ring @ np.array([[c, -s], [s, c]]) + np.array(middle), 0.0, size[2]), True, **light)


def _hit(points: np.ndarray, way: np.ndarray, thing: Thing) -> np.ndarray:
    """Whether rays from points meet a convex body: by the half spaces of its faces."""
    corners = np.concatenate(thing.faces)
    middle = corners.mean(axis=0)
    first, last = np.zeros(len(points)), np.full(len(points), np.inf)
    for face in thing.faces:
        n = np.cross(face[1] - face[0], face[2] - face[0])
        n = n if n @ (middle - face[0]) < 0 else -n
        along, off = float(n @ way), (face[0] - points) @ n
        if abs(along) < 1e-12:
            last = np.where(off < 0, -1.0, last)
        elif along < 0:
            first = np.maximum(first, off / along)
        else:
            last = np.minimum(last, off / along)
    return np.asarray((first < last) & (last > 1e-9))


def rays(
    opened: Opened, edges: Edges, things: tuple[Thing, ...], path: SunPath, hours: np.ndarray, count: int = 1500
) -> tuple[np.ndarray, np.ndarray]:
    """(sunlit share of the glass, cosine of incidence) at hours, by rays from random points of it."""
    random = np.random.default_rng(11)
    leaves = np.repeat(leaves_out(path.latitude), 24)
    left, low, right, top = edges.frame
    found, cosines = [], []
    for h in hours:
        z, a = np.radians(path.height[h]), np.radians(path.azimuth[h])
        way = np.array([np.cos(z) * np.sin(a), np.cos(z) * np.cos(a), np.sin(z)])
        u, v, n = opened.axes @ way
        cosines.append(n)
        x = left + random.random(count) * (edges.width - left - right)
        y = low + random.random(count) * (edges.height - low - top)
        start = opened.corner + np.stack([x, y, np.full(count, -edges.reveal)], axis=-1) @ opened.axes
        outside = start + way * edges.reveal / n
        at = (outside - opened.corner) @ opened.axes.T
        free = (at[:, 0] >= 0) & (at[:, 0] <= edges.width) & (at[:, 1] >= 0) & (at[:, 1] <= edges.height)
        if edges.overhang and v > 0:  # where the ray rises past the overhang's level
            reach = (edges.height + edges.above - at[:, 1]) / v * n
            free &= reach > edges.overhang
        for side, deep in zip((-1, 1), edges.fins, strict=True):
            if deep and side * u > 0:
                reach = ((edges.width if side > 0 else 0.0) - at[:, 0]) / u * n
                free &= reach > deep
        light = free.astype(float)
        for t in things:
            light *= np.where(_hit(outside, way, t), t.summer if leaves[h] else t.winter, 1.0)
        found.append(light.mean())
    return np.array(found), np.array(cosines)


Scene = Callable[[], tuple[Thing, ...]]
