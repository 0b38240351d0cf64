"""Shares of the light against closed forms, by hand, and against rays; the angle through glass by published numbers."""

from __future__ import annotations

from dataclasses import replace
from math import cos, pi, radians, sin, sqrt, tan

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.sun import shares as shares_of
from nuthatch.core.sun import standing
from nuthatch.core.sun.edges import Edges, axes, lit, slopes, toward
from nuthatch.core.sun.glazing import Glazing, at_angle, diffuse, of_u
from nuthatch.core.sun.shares import Far, Skyline, by_hour, far_of, shares
from nuthatch.core.sun.standing import CELLS, Opened, Thing
from tests.core.sun.scenes import block, path_at, rays

PLAIN = Edges(1.2, 1.5)
SOUTH = (90.0, 180.0)
YEAR = path_at(54.2)


def even(height: float) -> Skyline:
    """A horizon as high all round."""
    return Skyline((height,) * 360, (0.0,) * 360)


def test_light_aslant_through_glass() -> None:
    """The stated values of the formula of Karlsson and Roos 2000: three panes with a coating by angle; even light over straight light."""
    found = at_angle(Glazing(3, 2), np.array([0.0, 30, 45, 60, 70, 80, 90]))
    assert found == pytest.approx([1, 0.983, 0.937, 0.788, 0.586, 0.297, 0], abs=6e-4)
    for (panes, q), even in {(3, 2): 0.847, (2, 2): 0.861, (2, 4): 0.893, (1, 4): 0.907}.items():
        assert diffuse(Glazing(panes, q)) == pytest.approx(even, abs=6e-4)
    assert of_u(0.6) == (3, 2) and of_u(1.1) == (2, 2) and of_u(2.8) == (2, 4) and of_u(5.7) == (1, 4)


@pytest.mark.parametrize(("off", "height", "drop"), [(0.0, 90 - 54.2, 0.577), (0.0, 90 - 54.2 + 23.44, 1.344), (40.0, 30.0, 0.0)])
def test_an_overhang_at_three_hours_by_hand(off: float, height: float, drop: float) -> None:
    """Its shadow falls D·tan(profile angle): at 54.2° N, 0.8 m: 0.577 m at noon of the equinox, 1.344 m on 21 June; at 40° aside by the formula."""
    profile = tan(radians(height)) / cos(radians(off))
    assert not drop or 0.8 * profile == pytest.approx(drop, abs=1e-3)
    edges = replace(PLAIN, overhang=0.8)
    found = shares(edges, SOUTH, path_at(54.2, 180 + off, height)).beam[12]
    assert found == pytest.approx(1 - min(0.8 * profile, 1.5) / 1.5)
    higher = shares(replace(edges, above=0.4), SOUTH, path_at(54.2, 180 + off, height)).beam[12]
    assert higher == pytest.approx(1 - min(max(0.8 * profile - 0.4, 0), 1.5) / 1.5)


@pytest.mark.parametrize(
    ("fins", "off", "lit_share"), [((0.5, 0.0), -45.0, 1 - 0.5 / 1.2), ((0.0, 0.5), -45.0, 1.0), ((0.0, 0.3), 45.0, 1 - 0.3 / 1.2)]
)
def test_fins_by_hand(fins: tuple[float, float], off: float, lit_share: float) -> None:
    """A fin shades as wide as it is deep at 45°. Seen from outside a south wall the west is at the left: the sun in the east, 45° before
    south, comes from the right."""
    sun = path_at(54.2, 180 - off, 20.0)
    assert shares(replace(PLAIN, fins=fins), SOUTH, sun).beam[9] == pytest.approx(lit_share)


@pytest.mark.parametrize(("off", "height"), [(45.0, 0.001), (-45.0, 0.001), (0.0, 45.0)])
def test_a_reveal_shades_from_its_sides_and_its_head(off: float, height: float) -> None:
    """0.2 m deep at 45°: 0.2 m of the glass, at whichever side; a sill never shades what the sun shines down on."""
    found = shares(replace(PLAIN, reveal=0.2), SOUTH, path_at(54.2, 180 + off, height)).beam[12]
    assert found == pytest.approx(1 - 0.2 / (1.2 if off else 1.5), abs=1e-4)
    framed = shares(replace(PLAIN, reveal=0.2, frame=(0.1, 0.1, 0.1, 0.1)), SOUTH, path_at(54.2, 180 + off, height)).beam[12]
    assert framed == pytest.approx(1 - 0.1 / (1.0 if off else 1.3), abs=1e-4), "a frame 0.1 m wide takes the first 0.1 m of the shadow"


def test_in_a_slope_the_lower_edge_of_a_reveal_shades_too() -> None:
    """Upward on a 45° slope to the north a low sun in the north comes from below: 20° up meets it 65° aslant from below its normal."""
    a, b = slopes(toward(np.array([5.0]), np.array([0.0])) @ axes(45.0, 0.0).T)
    assert b[0] < 0 and a[0] == pytest.approx(0)
    assert lit(replace(PLAIN, reveal=0.1), a, b)[0] == pytest.approx(1 - 0.1 * tan(radians(40)) / 1.5)


def test_the_noon_sun_behind_a_horizon_by_its_declination() -> None:
    """30° to the south at 54.2° N hides the noon sun while the declination is below −5.8°."""
    horizon = even(30.0)
    noon = shares(PLAIN, SOUTH, YEAR, horizon).beam.reshape(365, 24)[:, 11:13].mean(axis=1)
    declination = (YEAR.height.reshape(365, 24)[:, 12] + YEAR.height.reshape(365, 24)[:, 11]) / 2 - (90 - 54.2)
    assert (noon[declination < -6.3] == 0).all() and (noon[declination > -5.2] == 1).all()


@pytest.mark.parametrize("alpha", [5.0, 10.0, 20.0, 30.0, 45.0, 70.0])
def test_sky_under_an_even_horizon(alpha: float) -> None:
    """Closed forms: an upright pane keeps 1 − 2α/π − sin(2α)/π of its sky (30°: 0.391), a level one cos²α (0.75)."""
    horizon, a = even(alpha), radians(alpha)
    upright, level = (shares(PLAIN, p, YEAR, horizon).sky[0] for p in (SOUTH, (0.0, 180.0)))
    assert upright == pytest.approx(1 - 2 * a / pi - sin(2 * a) / pi, abs=0.004)
    assert level == pytest.approx(cos(a) ** 2, abs=0.004)
    assert shares(PLAIN, SOUTH, YEAR, horizon).ground == (1.0, 1.0), "a horizon hides sky only"


@pytest.mark.parametrize(("h", "d"), [(1.5, 0.8), (2.2, 0.3), (1.0, 3.0)])
def test_sky_right_under_an_endless_overhang(h: float, d: float) -> None:
    """Crossed strings: the pane sees the overhang by (h + d − √(h² + d²))/(2h), the sky by 1/2 without it; 1.5 m and 0.8 m leave 0.600."""
    found = shares(Edges(1.0, h, overhang=d), SOUTH, YEAR).sky[0]
    assert found == pytest.approx(1 - (h + d - sqrt(h * h + d * d)) / h, abs=0.003)


def test_sky_before_an_endless_wall_and_what_a_slope_sees() -> None:
    """An endless obstruction of angle α before an upright pane leaves (1 − sin α)/2 of the sky instead of 1/2; nothing before a slope: 1."""
    far, high = 20.0, 20.0 * tan(radians(35))
    wall = Thing("wall", (np.array([(-4000, -far, 0), (4000, -far, 0), (4000, -far, high), (-4000, -far, high)], float),))
    low = Opened(np.array([0.0, 0.0, 0.0]), axes(*SOUTH), 0.05, 0.05)
    found = shares(Edges(0.05, 0.05), SOUTH, YEAR, None, far_of((low,), (wall,), YEAR))
    assert found.sky[0] == pytest.approx(1 - sin(radians(35)), abs=0.006) and found.ground[0] == pytest.approx(1.0, abs=0.004)
    assert shares(PLAIN, (45.0, 180.0), YEAR).sky == (1.0, 1.0) and shares(PLAIN, (0.0, 0.0), YEAR).ground == (1.0, 1.0)


def test_the_shadow_of_a_wing_at_one_hour_by_hand() -> None:
    """A wing 3 m high, its west face 3 m east of the wall's end: at azimuth 120°, 20° high, points of the wall lie in its shadow below
    3 − (3 − x)·tan 20°/sin 120°."""
    wing = tuple(
        np.array(f, float)
        for f in (
            [(3, -4, 0), (3, 0, 0), (3, 0, 3), (3, -4, 3)],
            [(3, -4, 3), (3, 0, 3), (6, 0, 3), (6, -4, 3)],
            [(3, -4, 0), (3, -4, 3), (6, -4, 3), (6, -4, 0)],
        )
    )
    window = Opened(np.array([0.0, 0.0, 1.0]), axes(*SOUTH), 1.0, 1.4)
    sun = path_at(54.2, 120.0, 20.0)
    edge = 3 - (3 - np.linspace(0, 1, 1001)) * tan(radians(20)) / sin(radians(120))
    by_hand = float(np.mean((2.4 - edge) / 1.4))
    for things in ((Thing("wing", wing),), tuple(Thing(f"w{n}", (f,)) for n, f in enumerate(wing))):
        found = shares(Edges(1.0, 1.4), SOUTH, sun, None, far_of((window,), things, sun)).beam[9]
        assert found == pytest.approx(by_hand, abs=3e-3), "a row is 0.03 of the height"
    bay = Thing("bay", (np.array([(3, -4, 0), (3, 0, 0), (3, 0, 3), (3, -2, 3), (3, -2, 2), (3, -4, 2)], float),))
    found = shares(Edges(1.0, 1.4), SOUTH, sun, None, far_of((window,), (bay,), sun)).beam[9]
    assert found == pytest.approx(by_hand, abs=3e-3), "a face that is not convex; its low end is not in the way"


def year_of(edges: Edges, plane: tuple[float, float], far: shares_of.Far | None, horizon: Skyline | None = None) -> float:
    """Share of a year of clear beam, by the cosine on the pane."""
    cosine = np.maximum(toward(YEAR.height, YEAR.azimuth) @ axes(*plane)[2], 0) * (YEAR.height > 0)
    return float((shares(edges, plane, YEAR, horizon, far).beam * cosine).sum() / cosine.sum())


@pytest.mark.parametrize("seed", range(4))
def test_random_scenes_against_rays(seed: int) -> None:
    """Blocks and trees at random before a window with a reveal, an overhang and a fin: within 1 % of the beam of the year by rays."""
    random = np.random.default_rng(seed)
    things = []
    for n in range(9):
        way, off = random.uniform(0, 2 * pi), random.uniform(6, 25)
        size = (random.uniform(2, 9), random.uniform(2, 9), random.uniform(3, 11))
        light = {"summer": 0.2, "winter": 0.7} if n % 3 == 0 else {}
        things.append(block(f"b{n}", (off * sin(way), off * cos(way)), size, random.uniform(0, 90), **light))
    azimuth = random.uniform(0, 360)
    edges = Edges(1.5, 1.4, (0.1, 0.12, 0.1, 0.1), 0.15, 0.5, 0.3, (0.0, 0.25))
    opened = Opened(np.array([0.0, 0.0, 1.0 + seed]), axes(90.0, azimuth), 1.5, 1.4)
    found = shares(edges, (90.0, azimuth), YEAR, None, far_of((opened,), tuple(things), YEAR)).beam
    cosine = toward(YEAR.height, YEAR.azimuth) @ opened.axes[2]
    hours = random.choice(np.flatnonzero((YEAR.height > 1) & (cosine > 0.03)), 700, replace=False)
    by_rays, weight = rays(opened, edges, tuple(things), YEAR, hours, 600)
    assert float((found[hours] * weight).sum()) == pytest.approx(float((by_rays * weight).sum()), rel=0.01, abs=0.002 * weight.sum())


def test_finer_rows_move_the_year_by_less_than_half_a_percent(monkeypatch: pytest.MonkeyPatch) -> None:
    things = (block("a", (2.0, -9.0), (8, 5, 7), 20), block("t", (-5.0, -7.0), (4, 4, 8), summer=0.2, winter=0.7))
    opened = Opened(np.array([0.0, 0.0, 1.0]), axes(*SOUTH), 1.5, 1.4)
    edges = Edges(1.5, 1.4, (0.1,) * 4, 0.15)
    before = year_of(edges, SOUTH, far_of((opened,), things, YEAR))
    monkeypatch.setattr(standing, "ROWS", 64)
    monkeypatch.setattr(standing, "COLUMNS", 128)
    monkeypatch.setattr(standing, "CELLS", 8)
    monkeypatch.setattr(shares_of, "ROWS", 64)
    monkeypatch.setattr(shares_of, "CELLS", 8)
    monkeypatch.setattr(shares_of, "EVERY", 1)
    whole = year_of(edges, SOUTH, far_of((opened,), things, YEAR))
    assert before == pytest.approx(whole, rel=0.005) and before < 0.97


def test_a_horizon_typed_and_the_same_drawn() -> None:
    """A wall of blocks round about, as high as the horizon says: the beam of the year and the sky within 1 %."""
    alpha, far = 18.0, 400.0
    high = far * tan(radians(alpha))
    ring = [
        block(f"r{n}", (far * sin(radians(n)), far * cos(radians(n))), (far * tan(radians(5)) * 2.05, 1.0, high), n)
        for n in range(0, 360, 10)
    ]
    opened = Opened(np.array([0.0, 0.0, 0.0]), axes(*SOUTH), 1.0, 1.0)
    drawn = far_of((opened,), tuple(ring), YEAR)
    edges, typed = Edges(1.0, 1.0), even(alpha)
    assert year_of(edges, SOUTH, drawn) == pytest.approx(year_of(edges, SOUTH, None, typed), rel=0.01)
    assert shares(edges, SOUTH, YEAR, None, drawn).sky[0] == pytest.approx(shares(edges, SOUTH, YEAR, typed).sky[0], rel=0.01)


sizes = st.floats(0, 2)


@settings(max_examples=25, deadline=None)
@given(st.floats(0, 360), st.floats(30, 90), sizes, sizes, sizes, sizes, st.floats(0, 60))
def test_more_in_the_way_never_gives_more(
    azimuth: float, tilt: float, reveal: float, overhang: float, left: float, right: float, high: float
) -> None:
    """Within 0 and 1 always; each edge, and a horizon, takes or leaves; nothing at all is 1."""
    path = replace(YEAR, height=YEAR.height[::1], azimuth=YEAR.azimuth[::1])
    edges = Edges(1.2, 1.5, (0.1,) * 4, reveal, overhang, 0.2, (left, right))
    whole = shares(edges, (tilt, azimuth), path, even(high))
    assert ((whole.beam >= 0) & (whole.beam <= 1)).all() and 0 <= whole.sky[0] <= 1 and 0 <= whole.ground[0] <= 1
    for less in (replace(edges, reveal=0.0), replace(edges, overhang=0.0), replace(edges, fins=(0.0, right))):
        other = shares(less, (tilt, azimuth), path, even(high))
        assert (other.beam >= whole.beam - 1e-12).all() and other.sky[0] >= whole.sky[0] - 1e-12
    lower = shares(edges, (tilt, azimuth), path)
    assert (lower.beam >= whole.beam - 1e-12).all() and lower.sky[0] >= whole.sky[0] - 1e-12
    free = shares(Edges(1.2, 1.5), (tilt, azimuth), path)
    shone = (path.height > 0) & (toward(path.height, path.azimuth) @ axes(tilt, azimuth)[2] > 0)
    assert (free.beam == shone).all() and free.sky == (1.0, 1.0)


def test_turned_with_its_site_and_the_sun_nothing_changes() -> None:
    things = [((3.0, -9.0), (8.0, 5.0, 7.0), 20.0), ((-7.0, -6.0), (4.0, 4.0, 9.0), 0.0)]
    found = []
    for turn in (0.0, 77.0):
        c, s = cos(radians(turn)), sin(radians(turn))
        placed = tuple(block(f"b{n}", (x * c + y * s, y * c - x * s), size, own + turn) for n, ((x, y), size, own) in enumerate(things))
        plane, path = (90.0, 180.0 + turn), replace(YEAR, azimuth=(YEAR.azimuth + turn) % 360)
        opened = Opened(np.array([0.0, 0.0, 1.0]), axes(*plane), 1.5, 1.4)
        found.append(shares(Edges(1.5, 1.4, reveal=0.1), plane, path, None, far_of((opened,), placed, path)))
    assert found[0].beam == pytest.approx(found[1].beam, abs=1e-4) and found[0].sky == pytest.approx(found[1].sky, abs=1e-3)


def test_several_trees_multiply_and_leaves_come_and_go() -> None:
    """Two walls of leaves right before the window, each lets 0.5 through in winter, 0.2 in summer."""
    trees = tuple(block(f"t{n}", (0.0, -5.0 - 3 * n), (400, 1, 90), summer=0.2, winter=0.5) for n in range(2))
    opened = Opened(np.array([0.0, 0.0, 1.0]), axes(*SOUTH), 1.0, 1.0)
    beam = shares(Edges(1.0, 1.0), SOUTH, YEAR, None, far_of((opened,), trees, YEAR)).beam.reshape(365, 24)
    assert beam[15, 12] == pytest.approx(0.25) and beam[196, 12] == pytest.approx(0.04)
    south = replace(YEAR, latitude=-54.2)
    there = shares(Edges(1.0, 1.0), SOUTH, south, None, far_of((opened,), trees, south)).beam.reshape(365, 24)
    assert there[15, 12] == pytest.approx(0.04), "south of the equator they have leaves in January"
    assert far_of((opened,), (block("behind", (0, 9), (5, 5, 9)),), YEAR) is None


def test_between_two_days_looked_at_shadows_go_over_in_a_straight_line() -> None:
    """Days 0 and 5 are looked at: on day 2 at noon two fifths of the second count; where the sun is not up on one of them, the other alone."""
    beam = np.zeros((73, 24, CELLS, CELLS), np.float32)
    beam[1] = 1.0
    up = np.ones((73, 24), bool)
    up[0, 8] = False
    far = Far(beam, up, np.ones((2, 1, CELLS, CELLS), np.float32))
    whole = by_hour(far)
    assert whole.shape == (8760, CELLS, CELLS)
    assert whole[2 * 24 + 12] == pytest.approx(0.4) and whole[12] == pytest.approx(0.0) and whole[5 * 24 + 12] == pytest.approx(1.0)
    assert whole[2 * 24 + 8] == pytest.approx(1.0), "the sun is up at eight on the second of the two only"
    some = np.array([8, 12, 60, 8759])
    assert by_hour(far, some) == pytest.approx(whole[some])
