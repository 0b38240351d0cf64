"""The inside of stepped homes against eroding the outer solid by its build-ups, in small cubes (an integration of our own: the
binary erosion of scipy.ndimage, which knows no faces)."""

from __future__ import annotations

import random

import numpy as np
import pytest
import scipy.ndimage
import shapely

from nuthatch.core.plans.arrangement import HEATED, PlanOutline
from nuthatch.core.plans.polygons import area_of, volume
from nuthatch.core.solid.closure import edges_of
from nuthatch.core.solid.inner import inner_massing
from nuthatch.core.solid.massing import Massing, SolidFace, massing

CUBE = 0.1
FLOOR, TOP = 3, 2
"""Cubes a floor and a top are thick; walls are 2 to 5."""


def rings(shape: shapely.Polygon) -> tuple[tuple[tuple[float, float], ...], tuple[tuple[tuple[float, float], ...], ...]]:
    shape = shapely.geometry.polygon.orient(shape)
    found = [tuple((round(x, 6), round(y, 6)) for x, y in r.coords[:-1]) for r in (shape.exterior, *shape.interiors)]
    return found[0], tuple(found[1:])


def random_plan(rng: random.Random) -> shapely.Polygon:
    """One to three boxes that hang together, their sides on a grid of half a metre."""
    while True:
        boxes = []
        for _ in range(rng.randint(1, 3)):
            x, y = rng.randint(0, 8) / 2, rng.randint(0, 8) / 2
            boxes.append(shapely.box(x, y, x + rng.randint(5, 14) / 2, y + rng.randint(5, 12) / 2))
        joined = shapely.union_all(boxes).simplify(0)
        if joined.geom_type == "Polygon":
            return joined


def random_home(rng: random.Random) -> tuple[PlanOutline, ...]:
    """One to four storeys of plans that overlap; some have an unheated neighbour beside a heated part."""
    found: list[PlanOutline] = []
    z = rng.choice((0.0, -2.4))
    below: shapely.Polygon | None = None
    for n in range(rng.randint(1, 4)):
        plan = random_plan(rng)
        while below is not None and plan.intersection(below).area < 4:
            plan = random_plan(rng)
        high = rng.choice((2.4, 2.6, 3.0))
        outer, holes = rings(plan)
        found.append(PlanOutline(f"s{n}", HEATED, outer, round(z, 6), round(z + high, 6), holes=holes))
        if rng.random() < 0.4:
            beside = random_plan(rng).difference(plan)
            rest = max(shapely.get_parts(beside), key=lambda p: p.area, default=None)
            if rest is not None and rest.geom_type == "Polygon" and rest.area > 3:
                outer, holes = rings(rest.simplify(0))
                kind = rng.choice((HEATED, "store"))
                found.append(PlanOutline(f"b{n}", kind, outer, round(z, 6), round(z + high - rng.choice((0.0, 0.4)), 6), holes=holes))
        z += high
        below = plan
    return tuple(found)


def cubes(outlines: tuple[PlanOutline, ...]) -> np.ndarray:
    """The heated space in cubes, with nothing around it."""
    far, low, high = 14.0, min(o.bottom for o in outlines) - 1, max(o.top for o in outlines) + 1
    xs = np.arange(-1 + CUBE / 2, far, CUBE)
    zs = np.arange(low + CUBE / 2, high, CUBE)
    gx, gy = np.meshgrid(xs, xs, indexing="ij")
    solid = np.zeros((len(xs), len(xs), len(zs)), dtype=bool)
    for o in outlines:
        if o.space == HEATED:
            inside = shapely.contains_xy(o.polygon, gx, gy)
            solid[:, :, (zs > o.bottom) & (zs < o.top)] |= inside[:, :, None]
    return solid


def eroded(solid: np.ndarray, wall: int) -> np.ndarray:
    """What is at least so many cubes away from everything that is not heated: sideways, above and below."""
    side = np.ones((2 * wall + 1, 2 * wall + 1, 1), dtype=bool)
    whole = np.repeat(side, FLOOR + TOP + 1, axis=2)
    # a cube stays where all of those from FLOOR below to TOP above stay
    return scipy.ndimage.binary_erosion(solid, whole, origin=(0, 0, (FLOOR + TOP + 1) // 2 - (FLOOR)))


def faces_of(solid: np.ndarray) -> float:
    """The area of all sides of cubes that have nothing beside them [m²]."""
    return sum(float(np.count_nonzero(np.diff(solid.astype(np.int8), axis=k))) for k in range(3)) * CUBE**2


def inside(outlines: tuple[PlanOutline, ...], wall: float) -> Massing:
    outer = massing(outlines, ())

    def thick(f: SolidFace) -> float:
        if f.role == "wall":
            return wall
        floor = f.role == "floor" or (f.role == "ceiling" and f.space != HEATED)
        return (FLOOR if floor else TOP) * CUBE

    return inner_massing(outer, outlines, (), None, thick)


@pytest.mark.parametrize("seed", range(300))
def test_the_inside_of_random_stepped_homes(seed: int) -> None:
    rng = random.Random(seed)
    outlines, wall = random_home(rng), rng.randint(2, 5)
    made = inside(outlines, wall * CUBE)
    small = eroded(cubes(outlines), wall)
    shell = made.shell(HEATED)
    assert volume(shell) == pytest.approx(small.sum() * CUBE**3, rel=1e-6, abs=1e-6)
    assert sum(map(area_of, shell)) == pytest.approx(faces_of(small), rel=1e-6, abs=1e-6)
    closed = edges_of({str(n): p for n, p in enumerate(shell)})
    assert all(len(e.boundaries) > 1 for e in closed)
