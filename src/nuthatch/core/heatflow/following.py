"""Details stay tied to the build-ups they were drawn from: where a layer grows, its blocks grow, and what lies beyond it moves along.

Each plane part of a detail knows its layers as they were drawn. Depths across it are stretched from those to the layers as they are now, and
all corners of the section go with them: blocks of the layers, own blocks beside them, spaces. A build-up with other layers than
then is not followed; the detail asks to be drawn anew.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import cos, radians, sin
from typing import TypeVar

import numpy as np

from nuthatch.core.heatflow.plies import Lacking, Plies, plies
from nuthatch.core.heatflow.section import with_corners
from nuthatch.core.model.details import Detail, DetailBlock, DetailFlank, DetailLie, DetailSpace
from nuthatch.core.model.home import BuildUp
from nuthatch.core.model.part import Given, replace

D = TypeVar("D", DetailBlock, DetailSpace)
SAME = 1e-9
BESIDE = "beside "
ROOM = (0.5, 1.0)
"""What lies nearer to a wall that grows into the room goes along; from there to the second it makes room [m]."""
ZONE = 0.3
"""Over so many metres from where two plane parts meet the corners of oblique ones go over into those of one [m]."""
NEAR = 1.0
"""So far around the corner nothing moves when the home grows over the ground and the ground is cut off elsewhere [m]."""


@dataclass(frozen=True)
class Under:
    """The ground below the floors of a home: characteristic width B′ [m], U-value with the ground by build-up [W/(m²·K)]."""

    width: float
    us: Mapping[str, float]


def normal(lie: DetailLie) -> np.ndarray:
    """The way its layers follow each other, a unit vector."""
    a = radians(lie.away)
    return lie.side * np.array((-sin(a), cos(a)))


def along(lie: DetailLie) -> np.ndarray:
    """The way it goes away from the corner, a unit vector."""
    return np.array((cos(radians(lie.away)), sin(radians(lie.away))))


@dataclass(frozen=True)
class _Arm:
    """A plane part and what became of it: depths [m] of its layers' faces then and now."""

    flank: str
    lie: DetailLie
    now: Plies
    then_at: np.ndarray
    now_at: np.ndarray

    @cached_property
    def moved(self) -> bool:
        return bool(np.abs(self.now_at - self.then_at).max() > SAME)

    @cached_property
    def across(self) -> np.ndarray:
        return normal(self.lie)

    @cached_property
    def run(self) -> np.ndarray:
        return along(self.lie)

    def depth(self, depths: np.ndarray) -> np.ndarray:
        """Where depths of then lie now."""
        then, now = self.then_at, self.now_at
        if not self.lie.inside_first:  # it grows into the room: what lies beside it goes along, the far end of the section stays
            then = np.append(then, then[-1] + np.array(ROOM))
            now = np.append(now, (now[-1] + ROOM[0], then[-1]))
        ends = now[[0, -1]] - then[[0, -1]]
        inside = np.interp(depths, then, now)
        return np.asarray(np.where(depths < then[0], depths + ends[0], np.where(depths > then[-1], depths + ends[1], inside)))

    def of(self, points: np.ndarray) -> np.ndarray:
        """How deep points lie in it, as drawn."""
        return np.asarray((points - self.lie.corner) @ self.across)


def drawn_from(detail: Detail) -> set[str]:
    """The build-ups a detail goes along with, by their ids."""
    return {f.lie.buildup for f in detail.flanks if f.lie is not None} | {lie.buildup for lie in detail.beside}


def outlines(detail: Detail) -> tuple[np.ndarray, ...]:
    """The outlines of its blocks and spaces, each (n, 2) [m], with the corners of others on their sides: what lies along a side goes along
    with it, and a mitre bends where layers meet it."""
    drawn = [np.array(o, dtype=float).reshape(-1, 2) for o in (*(b.outline for b in detail.blocks), *(s.outline for s in detail.spaces))]
    corners = np.concatenate(drawn) if drawn else np.empty((0, 2))
    return tuple(with_corners(o, corners) if len(o) else o for o in drawn)


def followed(
    detail: Detail, buildups: Mapping[str, BuildUp], under: Under | None = None, full: tuple[np.ndarray, ...] | None = None
) -> Detail:
    """The detail as its build-ups are now; itself where nothing of them changed. full: its outlines, where they are known."""
    lies = [(f.id, f.lie) for f in detail.flanks] + [(f"{BESIDE}{n}", lie) for n, lie in enumerate(detail.beside)]
    arms = [a for ident, lie in lies if lie is not None and (a := _arm(ident, lie, buildups)) is not None]
    scale = under.width / detail.ground_width if under is not None and detail.ground_width > 0 else 1.0
    floor = next((f.lie for f in detail.flanks if f.lie is not None and f.lie.borders == "ground"), None)
    ground = _Ground(floor, scale, detail) if floor is not None and abs(scale - 1) > SAME else None
    conductivity = {p.id: p.conductivity for a in arms for p in a.now.layers}
    us = {a.flank: a.now.u for a in arms if a.lie.borders != "ground"}
    us |= {
        f.id: under.us[f.lie.buildup] for f in detail.flanks if under and f.lie and f.lie.borders == "ground" and f.lie.buildup in under.us
    }
    blocks = tuple(_block(b, conductivity) for b in detail.blocks)
    flanks = tuple(replace(f, u=_valued(f.u, us[f.id])) if f.id in us and _differs(f.u, us[f.id]) else f for f in detail.flanks)
    moves = _Moves(tuple(arms), ground)
    if moves.any:
        rings = iter(moves.rings(outlines(detail) if full is None else full))
        blocks = tuple(_drawn(b, next(rings)) for b in blocks)
        spaces = tuple(_drawn(s, next(rings)) for s in detail.spaces)
        flanks = tuple(moves.flank(f) for f in flanks)
        width = detail.ground_width * scale if ground is not None else detail.ground_width
        beside = tuple(moves.lie(f"{BESIDE}{n}", lie) for n, lie in enumerate(detail.beside))
        return replace(detail, blocks=blocks, flanks=flanks, spaces=spaces, beside=beside, ground_width=width)
    if all(a is b for a, b in zip((*blocks, *flanks), (*detail.blocks, *detail.flanks), strict=True)):
        return detail
    return replace(detail, blocks=blocks, flanks=flanks)


def fixed(detail: Detail) -> Detail:
    """A detail that follows nothing any more: it stays as it is, whatever becomes of its build-ups."""
    if not any(f.lie for f in detail.flanks) and not any(b.follows for b in detail.blocks):
        return detail
    blocks = tuple(replace(b, follows="") for b in detail.blocks)
    return replace(detail, blocks=blocks, flanks=tuple(replace(f, lie=None) for f in detail.flanks), beside=(), ground_width=0.0)


def follows(flank: DetailFlank, buildups: Mapping[str, BuildUp]) -> bool:
    """Whether a plane part has the layers of a build-up of the home, in their order."""
    return flank.lie is not None and _arm(flank.id, flank.lie, buildups) is not None


def _arm(ident: str, lie: DetailLie, buildups: Mapping[str, BuildUp]) -> _Arm | None:
    build = buildups.get(lie.buildup)
    if build is None:
        return None
    try:
        now = plies(build, lie.direction, lie.borders)
    except Lacking:
        return None
    thick = [(p.id, p.thickness) for p in now.layers] + list(now.cladding)
    if not lie.inside_first:
        thick.reverse()
    if [n for n, _ in thick] != [n for n, _ in lie.layers] or any(t <= 0 for _, t in (*thick, *lie.layers)):
        return None
    then_at = lie.start + np.concatenate(([0.0], np.cumsum([t for _, t in lie.layers])))
    outside = sum(t for (_, t), end in zip(thick, then_at[1:], strict=True) if end <= SAME)
    now_at = -outside + np.concatenate(([0.0], np.cumsum([t for _, t in thick])))
    if not lie.inside_first and now_at[-1] - then_at[-1] > ROOM[1] - ROOM[0] - 0.05:
        return None  # more than the room of the section: it is drawn anew
    return _Arm(ident, lie, now, then_at, now_at)


def _differs(given: Given | None, value: float) -> bool:
    return given is None or abs(given.value - value) > SAME * max(1.0, abs(value))


def _valued(given: Given | None, value: float) -> Given:
    return given.model_copy(update={"value": value}) if given is not None else Given(value=value)


def _block(block: DetailBlock, conductivity: Mapping[str, float]) -> DetailBlock:
    k = conductivity.get(block.follows)
    if k is None or not _differs(block.conductivity, k):
        return block
    return replace(block, conductivity=_valued(block.conductivity, k))


@dataclass(frozen=True)
class _Ground:
    """The ground is cut off farther away, or nearer: what lies more than NEAR from the corner along the floor or below it moves."""

    floor: DetailLie
    scale: float
    detail: Detail

    def __call__(self, points: np.ndarray) -> np.ndarray:
        origin = np.array(self.floor.corner)
        drawn = [*(b.outline for b in self.detail.blocks), *(s.outline for s in self.detail.spaces)]
        every = np.concatenate([np.array(o) for o in drawn if o]) - origin
        found = points - origin
        for way, both in ((along(self.floor), True), (normal(self.floor), False)):
            s = found @ way
            reach = every @ way
            new = np.where(s > NEAR, _stretched(s, reach.max(), self.scale), s)
            if both:
                new = np.where(s < -NEAR, -_stretched(-s, -reach.min(), self.scale), new)
            found = found + np.outer(new - s, way)
        return np.asarray(found + origin)


def _stretched(s: np.ndarray, far: float, scale: float) -> np.ndarray:
    """From NEAR on, so that what lay at `far` lies at that times the scale."""
    return np.asarray(NEAR + (s - NEAR) * max(far * scale - NEAR, NEAR) / max(far - NEAR, SAME))


@dataclass(frozen=True)
class _Moves:
    """Where everything of a section goes."""

    arms: tuple[_Arm, ...]
    ground: _Ground | None

    @property
    def any(self) -> bool:
        return self.ground is not None or any(a.moved for a in self.arms)

    def _groups(self, middle: np.ndarray) -> list[_Arm]:
        """One arm for each direction of layers: of those that lie in line, the one that the middle of a block lies in, else the first."""
        found: list[_Arm] = []
        for arm in self.arms:
            same = next((n for n, a in enumerate(found) if abs(a.across @ arm.across) > 1 - 1e-6), None)
            if same is None:
                found.append(arm)
            elif (middle - arm.lie.corner) @ arm.run > SAME:
                found[same] = arm
        return found[:2]

    def rings(self, full: Sequence[np.ndarray]) -> list[np.ndarray]:
        """Corners of outlines where they are now; those that go with the same plane parts at once."""
        found = list(full)
        alike: dict[tuple[int, ...], tuple[list[_Arm], list[int]]] = {}
        for n, ring in enumerate(full):
            if len(ring):
                arms = self._groups((ring.min(axis=0) + ring.max(axis=0)) / 2)
                alike.setdefault(tuple(id(a) for a in arms), (arms, []))[1].append(n)
        for arms, which in alike.values():
            ends = np.cumsum([len(full[n]) for n in which])[:-1]
            for n, moved in zip(which, np.split(self._moved(np.concatenate([full[n] for n in which]), arms), ends), strict=True):
                found[n] = moved
        return found

    def points(self, points: np.ndarray, middle: np.ndarray) -> np.ndarray:
        """Places on a plane part."""
        return self._moved(points, self._groups(middle))

    def _moved(self, points: np.ndarray, groups: Sequence[_Arm]) -> np.ndarray:
        arms = [a for a in groups if a.moved or len(self.arms) > 1]
        found = points
        for n, arm in enumerate(arms):
            deep = arm.of(points)
            found = found + (arm.depth(deep) - deep)[:, None] * _way(arm, arms[1 - n] if len(arms) == 2 else None, points)
        return self.ground(found) if self.ground is not None else found

    def flank(self, flank: DetailFlank) -> DetailFlank:
        """A plane part with its lengths and layers of now."""
        lie = flank.lie
        if lie is None or flank.inner is None or flank.outer is None:
            return flank
        thick = np.cumsum([0.0, *(t for _, t in lie.layers)]) + lie.start
        deep = (0.0, float(thick[-1])) if lie.inside_first else (float(thick[-1]), float(lie.start))
        way, off, corner = along(lie), normal(lie), np.array(lie.corner)
        middle = corner + way * lie.cut / 2
        cut = float((self.points((corner + way * lie.cut)[None], middle)[0] - corner) @ way) if self.ground is not None else lie.cut
        ends = [corner + way * (lie.cut - given.value) + off * depth for given, depth in ((flank.inner, deep[0]), (flank.outer, deep[1]))]
        lengths = [cut - float((self.points(p[None], middle)[0] - corner) @ way) for p in ends]
        return replace(
            flank,
            inner=_valued(flank.inner, round(lengths[0], 9)),
            outer=_valued(flank.outer, round(lengths[1], 9)),
            lie=replace(self.lie(flank.id, lie), cut=round(cut, 9)),
        )

    def lie(self, ident: str, lie: DetailLie) -> DetailLie:
        """A plane part with its layers of now."""
        arm = next((a for a in self.arms if a.flank == ident), None)
        if arm is None:
            return lie
        layers = tuple((n, round(float(t), 9)) for (n, _), t in zip(lie.layers, np.diff(arm.now_at), strict=True))
        return replace(lie, layers=layers, start=round(float(arm.now_at[0]), 9) + 0.0)


def _way(arm: _Arm, other: _Arm | None, points: np.ndarray) -> np.ndarray:
    """Which way points go for each metre a plane part grows: along its normal; where another part meets it, so that they stay as deep in
    that one; between the two over a short way."""
    across, run = arm.across, arm.run
    if other is None or abs(run @ other.across) < 1e-6:
        return np.broadcast_to(across, points.shape)
    lean = -float(across @ other.across) / float(run @ other.across)
    return np.asarray(across + lean * np.outer(np.clip(1 + other.of(points) / ZONE, 0, 1), run))


def _drawn(part: D, ring: np.ndarray) -> D:
    """A block or a space with its corners where they are now."""
    if not part.outline:
        return part
    return replace(part, outline=tuple((round(x, 7) + 0.0, round(y, 7) + 0.0) for x, y in _needed(ring).tolist()))


def _needed(ring: np.ndarray) -> np.ndarray:
    """Corners that turn."""
    round_about = np.arange(-1, len(ring) + 1) % len(ring)
    sides = np.diff(ring[round_about], axis=0)
    before, after = sides[:-1], sides[1:]
    return np.asarray(ring[np.abs(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]) > SAME])
