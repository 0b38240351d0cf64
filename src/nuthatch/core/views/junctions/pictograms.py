"""Small pictures of what a junction may be: two cut parts and where they meet."""

from __future__ import annotations

from nuthatch.core.sketch import PointXY, Sketch

WIDE, TALL = 58.0, 50.0
Shape = tuple[tuple[PointXY, ...], ...]
"""Closed outlines of cut parts."""


def _box(x0: float, y0: float, x1: float, y1: float) -> tuple[PointXY, ...]:
    return (x0, y0), (x1, y0), (x1, y1), (x0, y1)


WALL = _box(16, 16, 23, 46)
SHAPES: dict[str, tuple[Shape, PointXY]] = {
    "eaves at ceiling": ((WALL, _box(23, 16, 54, 22), ((12, 18), (44, 2), (47, 6), (15, 22))), (20, 17)),
    "gable at ceiling": ((_box(16, 4, 23, 46), _box(23, 18, 54, 24)), (20, 21)),
    "upper floor": ((_box(16, 4, 23, 46), _box(23, 22, 54, 28)), (20, 25)),
    "eaves": ((WALL, ((8, 22), (48, 2), (52, 8), (23, 23))), (20, 17)),
    "parapet": ((_box(16, 4, 23, 46), _box(23, 18, 54, 25)), (20, 18)),
    "flat roof edge": ((WALL, _box(16, 9, 54, 16)), (20, 13)),
    "set-back": ((_box(8, 24, 15, 46), _box(15, 24, 54, 30), _box(30, 4, 37, 24)), (33, 26)),
    "jetty": ((_box(24, 24, 31, 46), _box(8, 18, 54, 24), _box(8, 4, 15, 18)), (12, 21)),
    "other": ((_box(14, 14, 21, 44), _box(28, 14, 35, 44)), (24, 29)),
    "none": ((_box(12, 24, 46, 31),), (-9, -9)),
}
PLAIN: tuple[Shape, PointXY] = ((WALL, _box(23, 16, 54, 22)), (20, 18))


def pictogram(family: str) -> Sketch:
    """The picture of a family with its name below its parts' meeting."""
    made = Sketch(WIDE, TALL, family)
    shapes, (x, y) = SHAPES.get(family, PLAIN)
    made.rect(0, 0, WIDE, TALL, fill="paper", stroke="")
    for shape in shapes:
        made.path(tuple((px, py * 0.72) for px, py in shape), fill="stone" if family != "none" else "", stroke="ink", width=0.9)
    if x > 0:
        made.path(_box(x - 4, y * 0.72 - 4, x + 4, y * 0.72 + 4), fill="", stroke="chestnut", width=1.4)
    words = family.replace(" at ceiling", "").replace("flat roof edge", "flat edge").replace("none", "nothing")
    made.text(WIDE / 2, TALL - 4, words, size=9.5, anchor="middle")
    return made
