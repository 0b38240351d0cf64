"""Storey plans and roofs as a solid: by hand with plane geometry, by properties, and against shapely's areas and a sum of columns."""

from __future__ import annotations

from math import hypot, sqrt

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.plans.arrangement import GROUND, OUTSIDE, PlanOutline
from nuthatch.core.plans.polygons import area_of, area_vector, volume
from nuthatch.core.plans.roofs import RoofPart, Slopes, roof_part
from nuthatch.core.solid.closure import loose, meetings
from nuthatch.core.solid.massing import Massing, SolidFace, massing

BASE = ((0.0, 0.0), (8.0, 0.0), (8.0, 10.0), (0.0, 10.0))
SQRT2 = sqrt(2)


def home(points: tuple[tuple[float, float], ...], eaves: float) -> tuple[PlanOutline, PlanOutline]:
    """One storey up to the eaves and a room in the roof above it."""
    return PlanOutline("ground", "home", points, 0, eaves), PlanOutline("roof", "home", points, eaves, eaves, under_roof=True)


def areas(made: Massing, **which: str) -> list[float]:
    """Areas of the faces with these properties, largest first."""
    return sorted((area_of(f.polygon) for f in found(made, **which)), reverse=True)


def found(made: Massing, **which: str) -> list[SolidFace]:
    return [f for f in made.faces if all(getattr(f, k) == v for k, v in which.items())]


def shells(made: Massing) -> dict[str, dict[str, tuple]]:
    """Each space's faces, outward from it."""
    spaces = {f.space for f in made.faces}
    return {
        s: {f.id: f.polygon if f.space == s else f.polygon[::-1] for f in made.faces if s in (f.space, f.beyond)} for s in sorted(spaces)
    }


def assert_closed(made: Massing) -> None:
    for space, shell in shells(made).items():
        assert loose(shell) == (), (space, loose(shell))
        total = np.sum([area_vector(p) for p in shell.values()], axis=0)
        assert np.abs(total).max() < 1e-2, (space, total)
        assert volume(shell.values()) > 0


def test_gable_of_eight_by_ten() -> None:
    """Eaves 5.6 m, 45°, ridge along the 10 m: roofs 2 × 10·4√2, gables 8·4/2 each, 8·10·5.6 + 8·10·4/2 = 608 m³."""
    made = massing(home(BASE, 5.6), (roof_part("main", "gable", BASE, 5.6, Slopes(45, 90)),))
    assert areas(made, role="roof") == pytest.approx([40 * SQRT2, 40 * SQRT2])
    assert areas(made, role="wall", outline="roof") == pytest.approx([16, 16])
    assert areas(made, role="wall", outline="ground") == pytest.approx([56, 56, 44.8, 44.8])
    assert areas(made, role="floor", beyond=GROUND) == pytest.approx([80])
    assert volume(made.shell("home")) == pytest.approx(608)
    assert_closed(made)
    ridge = next(m for m in meetings(shells(made)["home"]) if all(f.startswith("roof.main") for f in m.faces))
    assert ridge.length == pytest.approx(10) and ridge.angle == pytest.approx(90)


def test_hip_on_the_same_base() -> None:
    """All four slopes at 45° cover the plan of 80 m²: 80·√2 together; four hips of 4√3, a ridge of 2 m; the volume of a wedge and a
    pyramid: 8·8·4/3 + 2·8·4/2."""
    made = massing(home(BASE, 5.6), (roof_part("main", "hip", BASE, 5.6, Slopes(45, 90)),))
    slopes = areas(made, role="roof")
    assert len(slopes) == 4 and sum(slopes) == pytest.approx(80 * SQRT2)
    assert slopes == pytest.approx([24 * SQRT2, 24 * SQRT2, 16 * SQRT2, 16 * SQRT2])
    assert not found(made, role="wall", outline="roof")
    assert volume(made.shell("home")) == pytest.approx(448 + 256 / 3 + 32)
    assert_closed(made)
    between = sorted(m.length for m in meetings(shells(made)["home"]) if all(f.startswith("roof.main") for f in m.faces))
    assert between == pytest.approx([2, *[4 * sqrt(3)] * 4])


def test_half_hip_and_mono() -> None:
    """Half the gable's 4 m stands: the hip starts 2 m above the eaves, so the gable left is a trapezoid of 8 and 4 m by 2 m, and the
    ridge 10 − 2·2 m; a mono roof of 45° over 8 m rises 8 m."""
    made = massing(home(BASE, 3), (roof_part("main", "half-hip", BASE, 3, Slopes(45, 90)),))
    assert areas(made, role="wall", outline="roof") == pytest.approx([12, 12])
    ridge = max(
        m.length
        for m in meetings(shells(made)["home"])
        if m.faces == ("roof.main.slope-1.roof.outside air", "roof.main.slope-2.roof.outside air")
    )
    assert ridge == pytest.approx(6)
    assert_closed(made)
    mono = massing(home(BASE, 3), (roof_part("main", "mono", BASE, 3, Slopes(45, 90)),))
    assert areas(mono, role="roof") == pytest.approx([80 * SQRT2])
    assert areas(mono, role="wall", outline="roof") == pytest.approx([80, 32, 32])
    assert_closed(mono)


def test_hips_of_their_own_pitch_and_a_share_of_the_gable() -> None:
    """Hips of 60° on 45° slopes: each reaches 4/tan 60° in, the ridge 10 − 8/√3 is left; 0.3 of the 4 m of a half-hip's gable stands:
    a trapezoid of 8 and 5.6 m by 1.2 m, the hip above it of 2.8/tan 60°."""
    made = massing(home(BASE, 3), (roof_part("main", "hip", BASE, 3, Slopes(45, 90, ends=60)),))
    ridge = next(
        m for m in meetings(shells(made)["home"]) if {f.split(".")[2] for f in m.faces if f.startswith("roof")} == {"slope-1", "slope-2"}
    )
    assert ridge.length == pytest.approx(10 - 8 / sqrt(3))
    half = massing(home(BASE, 3), (roof_part("main", "half-hip", BASE, 3, Slopes(45, 90, ends=60, cut=0.3)),))
    assert areas(half, role="wall", outline="roof") == pytest.approx([(8 + 5.6) / 2 * 1.2] * 2)
    ridge = next(
        m for m in meetings(shells(half)["home"]) if {f.split(".")[2] for f in m.faces if f.startswith("roof")} == {"slope-1", "slope-2"}
    )
    assert ridge.length == pytest.approx(10 - 2 * 2.8 / sqrt(3))
    assert_closed(half)


def test_a_mansard() -> None:
    """Below 60°, bent 2 m above the eaves, above 30°: bends 2/√3 in from the eaves, the ridge (4 − 2/√3)/√3 above them. By hand, a
    gable of a trapezoid and a triangle."""
    made = massing(home(BASE, 3), (roof_part("main", "mansard", BASE, 3, Slopes(60, 90, upper=30, bend=2)),))
    inset, rise = 2 / sqrt(3), (4 - 2 / sqrt(3)) / sqrt(3)
    gable = (8 + 8 - 2 * inset) / 2 * 2 + (8 - 2 * inset) / 2 * rise
    assert areas(made, role="wall", outline="roof") == pytest.approx([gable, gable])
    assert areas(made, role="roof") == pytest.approx(sorted([10 * 2 / (sqrt(3) / 2)] * 2 + [10 * 2 * rise] * 2, reverse=True))
    assert volume(made.shell("home")) == pytest.approx(240 + 10 * gable)
    assert_closed(made)


def test_an_l_with_two_gables_and_a_valley() -> None:
    """Main 10 × 8 m, ridge along the 10; wing 4 m wide, 4 m out, its ridge running into the main roof 2 m behind the wall: two valleys
    from (6, 0, 3) to (8, 2, 5), each 2√3 long; the wing's slopes 4·2√2 and a triangle of half 2·2√2 each."""
    plan = ((0.0, 0.0), (6.0, 0.0), (6.0, -4.0), (10.0, -4.0), (10.0, 8.0), (0.0, 8.0))
    main = roof_part("main", "gable", ((0, 0), (10, 0), (10, 8), (0, 8)), 3, Slopes(45, 0))
    wing = roof_part("wing", "gable", ((6, -4), (10, -4), (10, 4), (6, 4)), 3, Slopes(45, 90))
    made = massing(home(plan, 3), (main, wing))
    assert areas(made, role="roof") == pytest.approx([40 * SQRT2, 40 * SQRT2 - 4 * SQRT2, 10 * SQRT2, 10 * SQRT2])
    assert areas(made, role="wall", outline="roof") == pytest.approx([16, 16, 4])
    valleys = [m for m in meetings(shells(made)["home"]) if len({f.split(".")[1] for f in m.faces if f.startswith("roof.")}) == 2]
    assert [m.length for m in valleys] == pytest.approx([2 * sqrt(3)] * 2)
    assert [m.angle for m in valleys] == pytest.approx([240, 240]), "re-entrant"
    # 96 m² · 3 m, a prism of 16 m² · 10 m, one of 4 m² · 4 m, and between wall and valley a pyramid 4·2/3 on the triangle of 4 m²
    assert volume(made.shell("home")) == pytest.approx(288 + 160 + 16 + 4 * 2 / 3)
    assert_closed(made)


def test_a_flat_dormer() -> None:
    """In a slope of 45° from (y 0, 3 m): front at y 1 up to 5.5 m, so 2 m by 1.5 m of front, cheeks 1.5·1.5/2, 2·1.5 m of its roof, and
    the main roof loses 2·1.5√2."""
    plan = ((0.0, 0.0), (10.0, 0.0), (10.0, 8.0), (0.0, 8.0))
    main = roof_part("main", "gable", plan, 3, Slopes(45, 0))
    dormer = roof_part("dormer", "flat", ((4, 1), (6, 1), (6, 4), (4, 4)), 5.5)
    made = massing(home(plan, 3), (main, dormer))
    own = [f for f in made.faces if f.made_by.startswith("dormer")]
    assert sorted(area_of(f.polygon) for f in own) == pytest.approx([1.125, 1.125, 3, 3])
    assert areas(made, role="roof")[1] == pytest.approx(40 * SQRT2 - 3 * SQRT2)
    assert volume(made.shell("home")) == pytest.approx(240 + 160 + 2 * 1.5 * 1.5 / 2)
    looks = {tuple(np.round(np.array(area_vector(f.polygon)) / area_of(f.polygon), 6)) for f in own}
    assert looks == {(0, -1, 0), (1, 0, 0), (-1, 0, 0), (0, 0, 1)}, "front, cheeks and roof look outward"
    assert_closed(made)


def test_a_ceiling_under_a_loft() -> None:
    """What is left under a roof above a level top is a space of its own, with the gables."""
    made = massing(home(BASE, 5.6)[:1], (roof_part("main", "gable", BASE, 5.6, Slopes(45, 90)),))
    assert areas(made, role="ceiling", space="home", beyond="loft") == pytest.approx([80])
    assert areas(made, role="roof", space="loft") == pytest.approx([40 * SQRT2, 40 * SQRT2])
    assert areas(made, role="wall", space="loft") == pytest.approx([16, 16])
    assert volume(made.shell("loft")) == pytest.approx(160) and volume(made.shell("home")) == pytest.approx(448)
    assert_closed(made)


def test_a_knee_wall() -> None:
    """A room in the roof whose floor lies 1 m below the eaves has a knee wall of 1 m all along."""
    attic = PlanOutline("roof", "home", BASE, 4.6, 4.6, under_roof=True)
    made = massing((PlanOutline("ground", "home", BASE, 0, 4.6), attic), (roof_part("main", "gable", BASE, 5.6, Slopes(45, 90)),))
    assert areas(made, role="wall", outline="roof") == pytest.approx([24, 24, 10, 10])
    assert volume(made.shell("home")) == pytest.approx(608)
    assert_closed(made)


def test_a_stepped_home_with_overhang_part_cellar_garage_and_sloping_ground() -> None:
    """Ground 0.2 m below the floor in the west, falling 0.1 m a metre to the east; all areas by hand from the plans."""
    outlines = (
        PlanOutline("cellar", "cellar", ((0, 0), (5, 0), (5, 8), (0, 8)), -2.4, 0),
        PlanOutline("ground", "home", ((0, 0), (10, 0), (10, 8), (0, 8)), 0, 3),
        PlanOutline("upper", "home", ((0, -1), (10, -1), (10, 8), (3, 8), (3, 5), (0, 5)), 3, 6),
        PlanOutline("garage", "garage", ((10, 2), (14, 2), (14, 8), (10, 8)), 0, 2.5),
    )
    made = massing(outlines, (), lambda x, y: -0.2 - 0.1 * x)
    assert areas(made, role="ceiling", space="cellar", beyond="home") == pytest.approx([40])
    assert areas(made, role="floor", space="cellar", beyond=GROUND) == pytest.approx([40])
    assert areas(made, role="floor", outline="upper", beyond=OUTSIDE) == pytest.approx([10]), "the overhang"
    assert areas(made, role="roof", outline="ground") == pytest.approx([9]), "the terrace, 3 × 3 m"
    assert areas(made, role="wall", space="home", beyond="garage") == pytest.approx([15])
    # south wall of the cellar, 5 m: ground 2.2 m above its floor in the west, 1.7 m in the east
    assert areas(made, made_by="cellar:0", beyond=GROUND) == pytest.approx([5 * (2.2 + 1.7) / 2])
    assert areas(made, made_by="cellar:0", beyond=OUTSIDE) == pytest.approx([5 * 2.4 - 9.75])
    # east wall of the cellar stands against earth 0.7 m below the floor of the ground storey
    assert areas(made, made_by="cellar:1", beyond=GROUND) == pytest.approx([8 * 1.7])
    # east wall of 8 by 3 m, the garage of 6 by 2.5 m against it
    assert areas(made, made_by="ground:1", beyond=OUTSIDE) == pytest.approx([24 - 6 * 2.5])
    assert volume(made.shell("home")) == pytest.approx(240 + 81 * 3)
    assert volume(made.shell("cellar")) == pytest.approx(96) and volume(made.shell("garage")) == pytest.approx(60)
    assert_closed(made)


def test_a_side_that_borders_on_a_neighbour_says_so() -> None:
    outline = PlanOutline("ground", "home", BASE, 0, 3, beyond=((1, "neighbour"),))
    made = massing((outline,), (), lambda x, y: -0.1)
    assert areas(made, beyond="neighbour") == pytest.approx([30])
    assert areas(made, role="wall", beyond=OUTSIDE) == pytest.approx([30, 24, 24])


def test_a_courtyard_is_a_hole() -> None:
    hole = ((3.0, 3.0), (5.0, 3.0), (5.0, 6.0), (3.0, 6.0))
    made = massing((PlanOutline("ground", "home", BASE, 0, 3, holes=(hole,)),), ())
    assert areas(made, role="floor") == pytest.approx([80 - 6]) and areas(made, role="roof") == pytest.approx([74])
    assert sum(areas(made, role="wall")) == pytest.approx(3 * (36 + 10))
    assert volume(made.shell("home")) == pytest.approx(222)
    assert_closed(made)


# properties


@st.composite
def plans(draw: st.DrawFn) -> tuple[tuple[tuple[float, float], ...], int, float, tuple[RoofPart, ...]]:
    """A rectangle or an L, one to four storeys, with a roof of the list."""
    lengths = st.integers(400, 1500).map(lambda n: n / 100)
    length, depth = draw(lengths), draw(lengths)
    plan = ((0.0, 0.0), (length, 0.0), (length, depth), (0.0, depth))
    parts = [(plan, draw(st.sampled_from([0.0, 90.0])))]
    if draw(st.booleans()):
        wide, out = draw(st.integers(20, 80)) / 100 * length, draw(lengths) / 2
        plan = ((0.0, 0.0), (length - wide, 0.0), (length - wide, -out), (length, -out), (length, depth), (0.0, depth))
        parts.append((((length - wide, -out), (length, -out), (length, depth / 2), (length - wide, depth / 2)), 90.0))
    storeys, eaves = draw(st.integers(1, 4)), 2.8
    kind, pitch = draw(st.sampled_from(["flat", "mono", "gable", "hip", "half-hip"])), float(draw(st.integers(5, 60)))
    turn = draw(st.integers(0, 359))
    slopes = [Slopes(pitch, ridge + turn) for _, ridge in parts]
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))

    def turned(points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        return tuple((float(c * x - s * y), float(s * x + c * y)) for x, y in points)

    roofs = tuple(
        roof_part(f"part-{n}", kind, turned(p), storeys * eaves, sl) for n, ((p, _), sl) in enumerate(zip(parts, slopes, strict=True))
    )
    return turned(plan), storeys, eaves, roofs


def columns(plan: tuple[tuple[float, float], ...], base: float, roofs: tuple[RoofPart, ...], side: int = 500) -> float:
    """Volume as a sum of columns over a grid: how high the highest of the parts over each point is, of each the lowest plane."""
    shape = shapely.Polygon(plan)
    x0, y0, x1, y1 = shape.bounds
    dx, dy = (x1 - x0) / side, (y1 - y0) / side
    xs, ys = np.meshgrid(x0 + (np.arange(side) + 0.5) * dx, y0 + (np.arange(side) + 0.5) * dy)
    top = np.full(xs.shape, -np.inf)
    for part in roofs:
        low = np.min([p.a * xs + p.b * ys + p.c for p in part.planes], axis=0)
        top = np.where(shapely.contains_xy(shapely.Polygon(part.outline), xs, ys), np.maximum(top, low), top)
    inside = shapely.contains_xy(shape, xs, ys)
    return float(np.where(inside & np.isfinite(top), np.maximum(top - base, 0), 0).sum() * dx * dy)


@settings(max_examples=50, deadline=None)
@given(plans())
def test_any_rectangle_or_l_with_any_roof_is_closed_outward_and_as_large_as_its_columns(plan_and_roofs: tuple) -> None:
    plan, storeys, high, roofs = plan_and_roofs
    outlines = tuple(PlanOutline(f"storey-{n}", "home", plan, n * high, (n + 1) * high) for n in range(storeys))
    attic = PlanOutline("attic", "home", plan, storeys * high, storeys * high, under_roof=True)
    made = massing((*outlines, attic), roofs)
    assert_closed(made)
    floor = shapely.Polygon(plan).area
    assert sum(areas(made, role="floor", beyond=GROUND)) == pytest.approx(floor, rel=1e-4)
    under = sum(abs(area_vector(f.polygon)[2]) for f in made.faces if f.role == "roof")
    assert under == pytest.approx(floor, rel=1e-4), "the roof covers the plan once"
    expected = columns(plan, 0.0, roofs)
    assert volume(made.shell("home")) == pytest.approx(expected, rel=0.01)


def test_equal_parts_lie_over_each_other_once() -> None:
    """Two parts that are the same roof: neither covers the other twice."""
    one = roof_part("one", "gable", BASE, 3, Slopes(30, 90))
    two = roof_part("two", "gable", BASE, 3, Slopes(30, 90))
    made = massing(home(BASE, 3), (one, two))
    assert sum(areas(made, role="roof")) == pytest.approx(80 * hypot(1, np.tan(np.radians(30))))
    assert_closed(made)
