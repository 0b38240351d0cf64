"""Sections drawn for the tests, by hand: corners, eaves, a slab edge, a box of blocks."""

from __future__ import annotations

from math import cos, radians, sin, tan

import numpy as np

from nuthatch.core.heatflow.section import Block, Flank, Point, Section, Space

Layers = tuple[tuple[float, float], ...]
"""Thickness [m] and λ [W/(m·K)], from inside to outside."""
BRICK: Layers = ((0.02, 0.8), (0.33, 0.77))
"""U 1.604 W/(m²·K)."""


def rect(x0: float, y0: float, x1: float, y1: float) -> tuple[Point, ...]:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def u_of(layers: Layers, rsi: float = 0.13, rse: float = 0.04) -> float:
    return 1 / (rsi + rse + sum(t / l for t, l in layers))


def plane(layers: Layers, height: float = 0.6) -> Section:
    """A plane wall, outside at the left."""
    blocks, x = [], 0.0
    for n, (t, l) in enumerate(reversed(layers)):
        blocks.append(Block(f"layer {n}", rect(x, 0, x + t, height), l))
        x += t
    spaces = (Space("outside", "outside", rect(-0.2, 0, 0, height), -5.0), Space("inside", "inside", rect(x, 0, x + 0.2, height), 20.0))
    return Section("plane wall", tuple(blocks), spaces, (Flank("wall", height, height, across=((-0.1, 0.3), (x + 0.1, 0.3))),))


def corner(layers: Layers, rse: float = 0.04, inner: bool = False, length: float | None = None) -> Section:
    """A corner of two equal walls in plan; inner: the room goes around it."""
    t = sum(d for d, _ in layers)
    long = (length or max(1.0, 3 * t)) + t
    blocks, o = [], 0.0
    for n, (d, l) in enumerate(layers if inner else tuple(reversed(layers))):
        i = o + d
        blocks.append(Block(f"layer {n}", ((o, o), (long, o), (long, i), (i, i), (i, long), (o, long)), l))
        o = i
    around: tuple[Point, ...] = ((-0.5, -0.5), (long, -0.5), (long, 0), (0, 0), (0, long), (-0.5, long))
    within = rect(t, t, long, long)
    kinds = (within, around) if not inner else (around, within)
    spaces = (Space("inside", "inside", kinds[0], 20.0), Space("outside", "outside", kinds[1], 0.0, rse))
    lengths = (long, long - t) if inner else (long - t, long)
    flanks = tuple(Flank(f"wall {n}", *lengths, u=u_of(layers, rse=rse)) for n in "ab")
    return Section("corner", tuple(blocks), spaces, flanks, "horizontal")


def mitred(wall: Layers, roof: Layers, pitch: float, rse: float = 0.04, long: float = 2.0) -> Section:
    """Eaves: a wall under a slope, layer meeting layer; the inner faces meet at 0, 0, the room to the right."""
    p = radians(pitch)
    a, c = (np.concatenate(([0.0], np.cumsum([d for d, _ in layers]))) for layers in (wall, roof))
    cut = [(long * cos(p) - d * sin(p), long * sin(p) + d * cos(p)) for d in c]
    meet = [(-x, -x * tan(p) + d / cos(p)) for x, d in zip(a, c, strict=True)]
    blocks = []
    for n in range(len(wall)):
        blocks.append(Block(f"wall {n}", ((-a[n + 1], -long), (-a[n], -long), meet[n], meet[n + 1]), wall[n][1]))
        blocks.append(Block(f"roof {n}", (meet[n], cut[n], cut[n + 1], meet[n + 1]), roof[n][1]))
    tw, tr = float(a[-1]), float(c[-1])
    end = cut[-1]
    inside = Space("inside", "inside", ((0, -long), (0, 0), cut[0], (cut[0][0], -long)), 20.0)
    over = (end[0] - 0.3 * sin(p), end[1] + 0.3 * cos(p))
    outside = Space("outside", "outside", ((-tw - 0.3, -long), (-tw, -long), meet[-1], end, over, (-tw - 0.3, meet[-1][1] + 0.3)), 0.0, rse)
    grown = (tr - tw * sin(p)) / cos(p)
    flanks = (
        Flank("wall", long, long + grown, u=u_of(wall, 0.13, rse)),
        Flank("roof", long, long + tw * cos(p) - grown * sin(p), u=u_of(roof, 0.10 if pitch < 60 else 0.13, rse)),
    )
    return Section("eaves", tuple(blocks), (inside, outside), flanks)


def slab_edge(half: float = 2.0, far: float = 10.0) -> Section:
    """A brick wall on a bare slab on the ground, the room to the right; the cut half a characteristic width from the wall's inner face."""
    w = 0.35
    blocks = (
        Block("plaster", rect(-0.02, 0, 0, 1.2), 0.8),
        Block("brick", rect(-w, 0, -0.02, 1.2), 0.77),
        Block("foot", rect(-w, -0.15, 0, 0), 1.35),
        Block("slab", rect(0, -0.15, half, 0), 1.35),
        Block("ground outside", rect(-w - far, -far, -w, 0), 2.0),
        Block("ground", rect(-w, -far, half, -0.15), 2.0),
    )
    spaces = (Space("inside", "inside", rect(0, 0, half, 1.2), 20.0), Space("outside", "outside", rect(-w - far, 0, -w, 1.2), -5.0))
    return Section("slab edge", blocks, spaces, (Flank("wall", 1.2, 1.35, across=((-1, 0.9), (1, 0.9))),))


def frame() -> Section:
    """Like a frame of a window: softwood, a rebate of air, an aluminium shell, a glass unit in it; in millimetres."""

    def mm(*c: float) -> tuple[Point, ...]:
        return rect(*(v / 1000 for v in c))

    blocks = (
        Block("softwood", mm(0, 0, 70, 25), 0.13, True),
        Block("rebate, inside", mm(50, 25, 70, 50), 0.13, True),
        Block("rebate of air", mm(10, 25, 50, 45), None),
        Block("softwood, outside", mm(0, 25, 10, 50), 0.13, True),
        Block("aluminium", mm(-2, 0, 0, 50), 160.0, True),
        Block("spacer and unit", mm(10, 45, 50, 120), 0.04, True),
    )
    spaces = (
        Space(
            "outside",
            "outside",
            tuple((x / 1000, y / 1000) for x, y in ((-30, 0), (-2, 0), (-2, 50), (10, 50), (10, 120), (-30, 120))),
            0.0,
        ),
        Space(
            "inside", "inside", tuple((x / 1000, y / 1000) for x, y in ((70, 0), (100, 0), (100, 120), (50, 120), (50, 50), (70, 50))), 20.0
        ),
    )
    return Section("frame", blocks, spaces)
