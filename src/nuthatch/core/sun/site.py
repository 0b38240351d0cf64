"""The surroundings as things in space: blocks and trees of the site, the home itself, the horizon with what is assumed on the ring.

East, north, up [m] from the home's own zero.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from nuthatch.core.model.site import HorizonPoint, RingSector, SiteObject
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.results.figure import Array
from nuthatch.core.results.question import Question
from nuthatch.core.sun.shares import Skyline
from nuthatch.core.sun.standing import Thing

LIGHT_WINTER, LIGHT_SUMMER, CROWN = 0.7, 0.2, 0.2
"""A tree bare in winter, and where its crown begins as a part of its height: common practice, no source."""
ASSUMED = {"open": (0.0, 1.0), "partly": (20.0, 0.5), "mostly": (30.0, 0.2)}
"""How high [°] what is assumed of a direction stands, and what of the light passes it: common practice, no source."""
ROUND = 8
"""Corners of a tree's crown."""


def place_of(o: SiteObject) -> tuple[float, float, float, float, float, float, float] | None:
    """East, north, foot, length, depth, height [m], azimuth of its length [°]; None while a size or a place is not given."""
    needed = (o.east, o.north, o.length, o.height, o.depth if o.kind != "tree" else o.length)
    if any(n is None for n in needed):
        return None
    east, north, length, height, depth = (n.value for n in needed if n is not None)
    return east, north, o.foot.value if o.foot is not None else 0.0, length, depth, height, o.turned.value if o.turned is not None else 90.0


def ring_of(o: SiteObject) -> Array | None:
    """The corners of an object seen from above, (k, 2), counter-clockwise; None while it has no place or size."""
    place = place_of(o)
    if place is None:
        return None
    east, north, _, length, depth, _, turned = place
    if o.kind == "tree":
        way = (np.arange(ROUND) + 0.5) / ROUND * 2 * np.pi
        # as large as the circle
        r = length / 2 * np.sqrt(np.pi / (ROUND / 2 * np.sin(2 * np.pi / ROUND)))
        return np.stack([east + r * np.cos(way), north + r * np.sin(way)], axis=-1)
    along = np.array([np.sin(np.radians(turned)), np.cos(np.radians(turned))])
    across = np.array([-along[1], along[0]])
    corners = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    return np.array([[east, north] + a * length / 2 * along + b * depth / 2 * across for a, b in corners])


@dataclass(frozen=True)
class Lie:
    """How the ground lies about the home's middle: east, north [m]; by how much it rises, as a share, and to which azimuth [°]."""

    middle: tuple[float, float] = (0.0, 0.0)
    rise: float = 0.0
    to: float = 0.0

    def level(self, east: float, north: float) -> float:
        """Level of the ground at a place [m], 0 at the home's middle."""
        way = np.radians(self.to)
        return float(self.rise * ((east - self.middle[0]) * np.sin(way) + (north - self.middle[1]) * np.cos(way)))

    def height(self, azimuth: Array) -> Array:
        """How high the ground stands in each direction [°], as far as it goes: never below 0."""
        return np.asarray(np.degrees(np.arctan(np.maximum(self.rise * np.cos(np.radians(azimuth - self.to)), 0.0))))


LEVEL = Lie()


def thing_of(o: SiteObject, lie: Lie = LEVEL) -> Thing | None:
    """An object as a body; None while it has no place or size. Its foot lies on the ground where no level is given."""
    ring, place = ring_of(o), place_of(o)
    if ring is None or place is None:
        return None
    foot, height = place[2] if o.foot is not None else round(lie.level(place[0], place[1]), 3), place[5]
    low = foot
    if o.kind != "block":
        low = foot + (min(o.crown.value, 0.95 * height) if o.crown is not None else CROWN * height)
    light = [0.0, 0.0]
    if o.kind != "block":
        light = [g.value if g is not None else usual for g, usual in ((o.light_summer, LIGHT_SUMMER), (o.light_winter, LIGHT_WINTER))]
    return Thing(o.id, prism(ring, low, foot + height), True, light[0], light[1])


def prism(ring: Array, low: float, high: float) -> tuple[Array, ...]:
    """The faces of an upright body: its sides, its top, its bottom."""
    top = np.column_stack([ring, np.full(len(ring), high)])
    foot = np.column_stack([ring, np.full(len(ring), low)])
    sides = [np.array([a, b, c, d]) for a, b, c, d in zip(foot, np.roll(foot, -1, 0), np.roll(top, -1, 0), top, strict=True)]
    return (*sides, top, foot)


def turn_of(polygon: Polygon, azimuth: float) -> float:
    """To which azimuth the home's own y looks [°], by an upright face of it."""
    p = np.array(polygon)
    normal = np.sum(np.cross(p - p[0], np.roll(p, -1, axis=0) - p[0]), axis=0)
    return float((azimuth - np.degrees(np.arctan2(normal[0], normal[1]))) % 360)


def to_compass(points: Array, north: float) -> Array:
    """Points of the home (…, 3) in east, north, up."""
    c, s = np.cos(np.radians(north)), np.sin(np.radians(north))
    return np.stack([points[..., 0] * c + points[..., 1] * s, points[..., 1] * c - points[..., 0] * s, points[..., 2]], axis=-1)


def own_things(outlines: Mapping[str, Polygon], north: float) -> tuple[Thing, ...]:
    """The faces of the home itself."""
    return tuple(Thing(k, (to_compass(np.array(p), north),)) for k, p in outlines.items())


def skyline(points: Iterable[HorizonPoint], ring: Iterable[RingSector], objects: Iterable[SiteObject], lie: Lie = LEVEL) -> Skyline | None:
    """What stands round about by whole degree of azimuth: the points of a horizon in a straight line from one to the next; where there is
    none, what is assumed of those directions in which nothing is drawn; ground that rises hides what lies behind it. None where all is open."""
    azimuth = np.arange(360.0)
    known = sorted((p.azimuth.value % 360, p.height.value) for p in points if p.azimuth is not None and p.height is not None)
    height, passes = np.zeros(360), np.zeros(360)
    if known:
        at, high = (np.array(v) for v in zip(*known, strict=True))
        height = np.interp(azimuth, at, high, period=360) if len(known) > 1 else np.full(360, high[0])
    else:
        drawn = drawn_ways(objects, lie.middle)
        for sector in ring:
            if sector.start is not None and sector.end is not None:
                assumed, light = ASSUMED[sector.shade]
                inside = within(azimuth, sector.start.value, sector.end.value) & ~drawn & (height < assumed)
                height[inside], passes[inside] = assumed, light
    ground = lie.height(azimuth)
    passes = np.where(ground > height, 0.0, passes)
    height = np.maximum(height, ground)
    return Skyline(tuple(height.tolist()), tuple(passes.tolist())) if height.any() else None


def within(azimuth: Array, start: float, end: float) -> NDArray[np.bool_]:
    """Whether directions lie in a sector, clockwise; from 0 to 360 all do."""
    wide = (end - start) % 360 or (360.0 if end != start else 0.0)
    return np.asarray((azimuth - start) % 360 < wide)


def drawn_ways(objects: Iterable[SiteObject], middle: tuple[float, float]) -> NDArray[np.bool_]:
    """Directions (360,) in which an object is drawn, seen from the middle of the home."""
    found = np.zeros(360, bool)
    for o in objects:
        ring = ring_of(o)
        if ring is not None:
            found |= directions(ring, middle)
    return found


def directions(ring: Array, middle: tuple[float, float]) -> NDArray[np.bool_]:
    """The whole degrees (360,) in which something stands, seen from a place."""
    rel = ring - np.array(middle)
    way = np.degrees(np.arctan2(rel[:, 0], rel[:, 1]))
    spread = (way - way[0] + 180) % 360 - 180
    return within(np.arange(360.0), way[0] + spread.min(), way[0] + spread.max())


INSIDE, SHARE = 1.0, 0.1
"""A block that lies in the home by more than this [m²], and this part of the smaller of the two, is asked about."""
STEEP = 60.0
"""A horizon higher than this [°] is asked about."""


def objects_asked(objects: Iterable[SiteObject], home: Iterable[Array]) -> Iterator[Question]:
    """Blocks that stand in the home, given as its faces, and objects without a place or a size."""
    flat = (shapely.Polygon(p[:, :2]).buffer(0) for p in home)
    whole = shapely.union_all([f for f in flat if f.area > 1e-4])
    for o in objects:
        ring = ring_of(o)
        if ring is None:
            field = next((f for f in ("height", "length", "depth", "east", "north") if o[f] is None), "height")
            yield Question(o.id, field, f"{o.name or o.kind} has no place or size yet and takes no sun")
        elif o.kind == "block":
            own = shapely.Polygon(ring)
            common = shapely.intersection(own, whole).area
            if common > INSIDE and common > SHARE * min(own.area, whole.area):
                yield Question(o.id, "east", f"{o.name or 'A block'} stands in the home by {{0}}: is its place right?", ((common, "area"),))


def horizon_asked(points: Iterable[HorizonPoint]) -> Iterator[Question]:
    """Points of a horizon that lack a number, stand in one direction twice, or higher than land does."""
    seen: dict[float, HorizonPoint] = {}
    for p in points:
        if p.azimuth is None or p.height is None:
            yield Question(p.id, "azimuth" if p.azimuth is None else "height", "A point of the horizon lacks a number and does not count")
            continue
        way = p.azimuth.value % 360
        other = seen.setdefault(way, p)
        if other is not p and other.height is not None and other.height.value != p.height.value:
            yield Question(p.id, "height", f"The horizon has two heights at {way:g}°: {other.height.value:g}° and {p.height.value:g}°")
        if p.height.value > STEEP:
            yield Question(p.id, "height", f"The horizon stands {p.height.value:g}° high at {way:g}°: is that land?")
