"""The inside of stepped homes against eroding the outer solid by its build-ups, in small cubes (an integration of our own: the
binary erosion of scipy.ndimage, which knows no faces)."""

from __future__ import annotations

import random

import numpy as np
import pytest
import scipy.ndimage
import scipy.stats
import shapely

from nuthatch.core.plans.arrangement import HEATED, PlanOutline
from nuthatch.core.plans.ground import Slope
from nuthatch.core.plans.polygons import area_of, area_vector, volume
from nuthatch.core.plans.roofs import Slopes, roof_part
from nuthatch.core.solid.closure import loose
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
    warm = [o for o in outlines if o.space == HEATED]
    corners = np.array([p for o in warm for p in o.points])
    low, high = min(o.bottom for o in warm), max(o.top for o in warm)
    xs, ys = (np.arange(a - CUBE / 2, b + CUBE, CUBE) for a, b in zip(corners.min(axis=0), corners.max(axis=0), strict=True))
    zs = np.arange(low - CUBE / 2, high + CUBE, CUBE)
    gx, gy = np.meshgrid(xs, ys, indexing="ij")
    solid = np.zeros((len(xs), len(ys), len(zs)), dtype=np.uint8)
    for o in warm:
        inside = shapely.contains_xy(o.polygon, gx, gy)
        solid[:, :, (zs > o.bottom) & (zs < o.top)] |= inside[:, :, None].astype(np.uint8)
    return solid


def eroded(solid: np.ndarray, wall: int) -> np.ndarray:
    """What is at least so many cubes away from everything that is not heated: sideways, above and below, so in a box around each cube."""
    for axis, (before, after) in enumerate(((wall, wall), (wall, wall), (FLOOR, TOP))):
        size = before + after + 1
        solid = scipy.ndimage.minimum_filter1d(solid, size, axis=axis, mode="constant", origin=before - size // 2)
    return solid


def faces_of(solid: np.ndarray) -> float:
    """The area of all sides of cubes that have nothing beside them [m²]."""
    return sum(float(np.count_nonzero(np.diff(solid.astype(np.int8), axis=k))) for k in range(3)) * CUBE**2


def inside(outer: Massing, outlines: tuple[PlanOutline, ...], wall: float) -> Massing:
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
    made = inside(massing(outlines, ()), outlines, wall * CUBE)
    small = eroded(cubes(outlines), wall)
    shell = made.shell(HEATED)
    assert volume(shell) == pytest.approx(small.sum() * CUBE**3, rel=1e-6, abs=1e-6)
    assert sum(map(area_of, shell)) == pytest.approx(faces_of(small), rel=1e-6, abs=1e-6)
    assert loose({str(n): p for n, p in enumerate(shell)}) == ()


# below slopes: everything that is at least one thickness away from all faces; only at re-entrant edges, where the planes meet in a corner
# and a ball leaves a rounding of (1 − π/4)·t² a metre, is the ball's erosion larger


BASE = ((0.0, 0.0), (8.0, 0.0), (8.0, 10.0), (0.0, 10.0))


def _distance(points: np.ndarray, polygon: tuple[tuple[float, float, float], ...], most: float) -> np.ndarray:
    """Distance of points to a plane polygon in space [m]; of those farther from its plane than `most` that to the plane."""
    normal = np.array(area_vector(polygon)) / area_of(polygon)
    right = np.cross(normal, [0.0, 0.0, 1.0]) if abs(normal[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
    right = right - normal * (right @ normal)
    right /= np.linalg.norm(right)
    up, corner = np.cross(normal, right), np.array(polygon[0])
    ring = (np.array(polygon) - corner) @ np.stack([right, up], axis=1)
    shape = shapely.make_valid(shapely.Polygon(ring))
    rest = points - corner
    found = np.abs(rest @ normal)
    near = found <= most
    found[near] = np.hypot(found[near], shapely.distance(shape, shapely.points(rest[near] @ right, rest[near] @ up)))
    return found


def _sampled(outer: Massing, *thick: float) -> list[float]:
    """The volumes at least so far from all faces, by 2¹⁶ points of a scrambled Sobol sequence (scipy.stats.qmc) [m³]."""
    faces = outer.shell(HEATED)
    corners = np.array([p for f in faces for p in f])
    low, high = corners.min(axis=0), corners.max(axis=0)
    spots = scipy.stats.qmc.Sobol(3, seed=7).random_base2(16) * (high - low) + low
    xs, ys, zs = spots.T
    keep = np.zeros(len(xs), dtype=bool)
    for cell in outer.cells:
        over = shapely.contains_xy(cell.polygon, xs, ys)
        for layer in cell.layers:
            if layer.space == HEATED:
                low_z, high_z = (p.a * xs + p.b * ys + p.c for p in (layer.low, layer.high))
                keep |= over & (zs > low_z) & (zs < high_z)
    points = spots[keep]
    far = np.full(len(points), np.inf)
    for f in faces:
        far = np.minimum(far, _distance(points, f, max(thick)))
    return [float(np.count_nonzero(far > t)) / len(xs) * float(np.prod(high - low)) for t in thick]


def _storeys(points: tuple[tuple[float, float], ...], eaves: float) -> tuple[PlanOutline, PlanOutline]:
    return PlanOutline("ground", HEATED, points, 0, eaves), PlanOutline("roof", HEATED, points, eaves, eaves, under_roof=True)


L_PLAN = ((0.0, 0.0), (6.0, 0.0), (6.0, -4.0), (10.0, -4.0), (10.0, 8.0), (0.0, 8.0))
WIDE = ((0.0, 0.0), (10.0, 0.0), (10.0, 8.0), (0.0, 8.0))
WING = ((10.0, 2.0), (14.0, 2.0), (14.0, 7.0), (10.0, 7.0))
MAIN = roof_part("main", "gable", WIDE, 3, Slopes(45, 0))
ROOFED = {
    "gable": (_storeys(BASE, 5.6), (roof_part("main", "gable", BASE, 5.6, Slopes(45, 90)),)),
    "unequal gable": (_storeys(BASE, 3), (roof_part("main", "gable", BASE, 3, Slopes(50, 90, other=30)),)),
    "steep gable": (_storeys(BASE, 3), (roof_part("main", "gable", BASE, 3, Slopes(65, 90)),)),
    "hip": (_storeys(BASE, 3), (roof_part("main", "hip", BASE, 3, Slopes(40, 90)),)),
    "half-hip": (_storeys(BASE, 3), (roof_part("main", "half-hip", BASE, 3, Slopes(45, 90)),)),
    "mansard": (_storeys(BASE, 3), (roof_part("main", "mansard", BASE, 3, Slopes(60, 90, upper=30, bend=2)),)),
    "steep hips": (_storeys(BASE, 3), (roof_part("main", "hip", BASE, 3, Slopes(45, 90, ends=70)),)),
    "mono": (_storeys(BASE, 3), (roof_part("main", "mono", BASE, 3, Slopes(20, 90)),)),
    "cross wings": (_storeys(L_PLAN, 3), (MAIN, roof_part("wing", "gable", ((6, -4), (10, -4), (10, 4), (6, 4)), 3, Slopes(45, 90)))),
    "flat dormer": (_storeys(WIDE, 3), (MAIN, roof_part("dormer", "flat", ((4, 1), (6, 1), (6, 4), (4, 4)), 5.5))),
    "gabled dormer": (_storeys(WIDE, 3), (MAIN, roof_part("dormer", "gable", ((4, 1), (6, 1), (6, 4), (4, 4)), 4.6, Slopes(40, 90)))),
    "wing under a lean-to": (
        (*_storeys(WIDE, 5), PlanOutline("wing", HEATED, WING, 0, 2.2, under_roof=True)),
        (roof_part("main", "gable", WIDE, 5, Slopes(45, 0)), roof_part("lean", "mono", WING, 2.2, Slopes(20, 90))),
    ),
    "lean-to along the wall": (
        (*_storeys(WIDE, 5), PlanOutline("wing", HEATED, ((2.0, -3.0), (8.0, -3.0), (8.0, 0.0), (2.0, 0.0)), 0, 2.2, under_roof=True)),
        (roof_part("main", "gable", WIDE, 5, Slopes(45, 0)), roof_part("lean", "mono", ((2, -3), (8, -3), (8, 0), (2, 0)), 2.2, Slopes(25, 0))),
    ),
    "ceiling below a loft, room in the roof beside": (
        (
            PlanOutline("low", HEATED, WIDE, 0, 3),
            PlanOutline("attic", HEATED, ((0.0, 0.0), (5.0, 0.0), (5.0, 8.0), (0.0, 8.0)), 3, 3, under_roof=True),
        ),
        (MAIN,),
    ),
    "upper storey set back on two sides": (
        (
            PlanOutline("low", HEATED, L_PLAN, 0, 3),
            PlanOutline("up", HEATED, ((2.0, 1.0), (9.0, 1.0), (9.0, 8.0), (2.0, 8.0)), 3, 3.8, under_roof=True),
        ),
        (roof_part("main", "gable", ((2, 1), (9, 1), (9, 8), (2, 8)), 3.8, Slopes(35, 0)),),
    ),
    "knee walls cut by a level top": ((PlanOutline("g", HEATED, BASE, 0, 6),), (roof_part("main", "gable", BASE, 4, Slopes(45, 90)),)),
}  # fmt: skip


THICK = 0.25, 0.4


@pytest.mark.parametrize("name", ROOFED)
def test_the_inside_below_slopes(name: str) -> None:
    outlines, parts = ROOFED[name]
    outer = massing(outlines, parts)
    for thick, sampled in zip(THICK, _sampled(outer, *THICK), strict=True):
        made = inner_massing(outer, outlines, parts, None, lambda f, t=thick: t)
        shell = made.shell(HEATED)
        assert volume(shell) == pytest.approx(sampled, rel=5e-3)
        assert loose({str(n): p for n, p in enumerate(shell)}) == ()
        assert not [f for f in made.faces if f.role == "ledge"]
        # what a little more takes away is the area of what it is taken from
        more, less = (inner_massing(outer, outlines, parts, None, lambda f, t=thick + d: t).shell(HEATED) for d in (0.002, -0.002))
        assert sum(map(area_of, shell)) == pytest.approx((volume(less) - volume(more)) / 0.004, rel=1e-3)


def test_a_gable_with_walls_floor_and_roof_each_of_its_own_thickness() -> None:
    """By hand: 8 − 2·0.3 by 10 − 2·0.3 m, floor 0.25, roofs of 45° lowered by 0.4·√2: 5.6 + 0.3 − 0.4√2 at the walls, ridge 9.6 − 0.4√2."""
    outlines, parts = ROOFED["gable"]
    thick = {"wall": 0.3, "floor": 0.25, "roof": 0.4}
    made = inner_massing(massing(outlines, parts), outlines, parts, None, lambda f: thick[f.role])
    wide, long, lower = 7.4, 9.4, 0.4 * 2**0.5
    eaves, ridge = 5.9 - lower - 0.25, 9.6 - lower - 0.25
    assert volume(made.shell(HEATED)) == pytest.approx(wide * long * (eaves + ridge) / 2)
    assert sum(area_of(f.polygon) for f in made.faces if f.role == "roof") == pytest.approx(wide * long * 2**0.5)
    assert sum(area_of(f.polygon) for f in made.faces if f.role == "wall") == pytest.approx(2 * long * eaves + wide * (eaves + ridge))


def test_a_thicker_wall_beside_a_thinner_one() -> None:
    """By hand: 10 × 8 m, two storeys of 3 m; below walls of 0.5 m, above of 0.3: 9·7·2.75 + 9.4·7.4·2.75 m³, a ledge of 9.4·7.4 − 9·7."""
    outlines = (PlanOutline("low", HEATED, WIDE, 0, 3), PlanOutline("up", HEATED, WIDE, 3, 6))
    thick = {"low": 0.5, "up": 0.3}
    outer = massing(outlines, ())
    made = inner_massing(outer, outlines, (), None, lambda f: thick[f.outline] if f.role == "wall" else 0.25)
    assert volume(made.shell(HEATED)) == pytest.approx(9 * 7 * 2.75 + 9.4 * 7.4 * 2.75)
    assert sum(area_of(f.polygon) for f in made.faces if f.role == "ledge") == pytest.approx(9.4 * 7.4 - 63)
    below = [area_of(f.polygon) for f in made.faces if f.role == "wall" and f.outline == "low"]
    assert sum(below) == pytest.approx(2 * (9 + 7) * 2.75), "each storey's walls keep their own area"


def test_one_side_thicker_than_the_others() -> None:
    """By hand: an L whose walls are 0.2 m to the south and 0.4 m elsewhere; at the re-entrant corner the moved planes meet."""
    outer = massing((PlanOutline("low", HEATED, L_PLAN, 0, 3),), ())

    def thick(f: SolidFace) -> float:
        south = f.role == "wall" and area_vector(f.polygon)[1] < -1e-9
        return 0.2 if south else 0.4 if f.role == "wall" else 0.0

    made = inner_massing(outer, (PlanOutline("low", HEATED, L_PLAN, 0, 3),), (), None, thick)
    # x 0.4 to 9.6, y 0.2 to 7.6, and the leg from 6.4 to 9.6 down to −3.8
    assert volume(made.shell(HEATED)) == pytest.approx(3 * (9.2 * 7.4 + 3.2 * 4.0))


@pytest.mark.parametrize("seed", range(40))
def test_homes_on_any_ground_are_closed(seed: int) -> None:
    """Ground through one to six heights anywhere: walls and floors are parted along it, and the parts close."""
    rng = random.Random(5000 + seed)
    outlines = random_home(rng)
    spots = tuple((rng.uniform(-2, 14), rng.uniform(-5, 12), rng.choice((-2.4, -1, 0, 0.6, 1.5))) for _ in range(rng.randint(1, 6)))
    outer, plain = massing(outlines, (), Slope(spots)), massing(outlines, ())
    shell = outer.shell(HEATED)
    assert loose({str(n): p for n, p in enumerate(shell)}) == ()
    assert volume(shell) == pytest.approx(volume(plain.shell(HEATED))), "the ground moves no face"
    assert sum(map(area_of, shell)) == pytest.approx(sum(map(area_of, plain.shell(HEATED))))
