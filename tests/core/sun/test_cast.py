"""Shadows of an hour on faces by hand; ground that rises; what is asked of the surroundings; what is drawn on the site."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.edits.site_edits import horizon_of, horizon_point, object_drawn, plot_drawn, site_bounds
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.site import HorizonPoint, RingSector, SiteObject
from nuthatch.core.sun import site
from nuthatch.core.sun.cast import Casting
from nuthatch.core.sun.edges import toward
from nuthatch.core.sun.site import Lie
from nuthatch.core.sun.stages import LET_IN, SKYLINE
from nuthatch.core.views.shadows import Hour, shadows_on, sun_of
from tests.core.sun.scenes import block
from tests.simple_home import g, simple_home

WALL = np.array([[-5.0, 0, 0], [5, 0, 0], [5, 0, 5], [-5, 0, 5]])
"""10 m wide, 5 m high, looking south."""


def sun(height: float, azimuth: float) -> np.ndarray:
    return toward(np.array(height), np.array(azimuth))


def area(parts: tuple[np.ndarray, ...]) -> float:
    """Area of shadow polygons on a wall that looks south."""
    return float(shapely.union_all([shapely.Polygon(p[:, [0, 2]]) for p in parts]).area) if parts else 0.0


def test_a_block_before_a_wall_by_hand() -> None:
    """2 m wide, 4 m high, its back 3 m before the wall; sun at 45° in the south: it comes 3 m lower, so 1 m of it on 2 m; the body is 1 m
    deep and its front edge, 4 m off, falls below."""
    cast = Casting({"wall": WALL}, (block("b", (0.0, -3.5), (2.0, 1.0, 4.0)),))
    assert area(cast.at(sun(45, 180))["wall"]) == pytest.approx(2.0, abs=1e-6)
    low = cast.at(sun(np.degrees(np.arctan(1 / 3)), 180))["wall"]
    assert area(low) == pytest.approx(2 * 3.0, abs=1e-6), "a lower sun: 1 m lower at the back"
    assert cast.at(sun(70, 180))["wall"] == ()


def test_from_aside_the_shadow_moves_away_from_the_sun() -> None:
    """Sun in the south-west, 30° high: the shadow lies to the east by as much as the block is off the wall."""
    cast = Casting({"wall": WALL}, (block("b", (0.0, -2.5), (1.0, 1.0, 4.0)),))
    parts = cast.at(sun(30, 225))["wall"]
    east = np.concatenate(parts)[:, 0]
    assert east.min() == pytest.approx(-0.5 + 2.0, abs=1e-6) and east.max() == pytest.approx(0.5 + 3.0, abs=1e-6)
    top = np.concatenate(parts)[:, 2].max()
    assert top == pytest.approx(4 - 2 * np.sqrt(2) * np.tan(np.radians(30)), abs=1e-6)


def test_two_blocks_are_joined_and_a_wall_turned_away_is_dark() -> None:
    one, two = block("a", (0.0, -3.5), (2.0, 1.0, 4.0)), block("b", (1.0, -3.5), (2.0, 1.0, 4.0))
    both = Casting({"wall": WALL}, (one, two)).at(sun(45, 180))["wall"]
    assert area(both) == pytest.approx(3.0, abs=1e-6)
    assert area(Casting({"wall": WALL}, ()).at(sun(20, 350))["wall"]) == pytest.approx(50.0)
    assert Casting({"wall": WALL}, ()).at(sun(20, 100))["wall"] == ()


def test_what_hangs_over_casts_below_itself() -> None:
    """A slab 1 m deep at the head of the wall: at a profile angle of 60° it shades tan 60° = 1.732 m, less what its first 2 cm would, which are
    not before the wall."""
    slab = site.Thing("eaves", (np.array([[-5.0, 0, 5], [5, 0, 5], [5, -1, 5], [-5, -1, 5]]),))
    assert area(Casting({"wall": WALL}, (slab,)).at(sun(60, 180))["wall"]) == pytest.approx(0.98 * 10 * np.tan(np.radians(60)), rel=1e-6)


def test_on_a_demo_home_what_is_dark_is_what_the_hours_count(osier_assessed: Assessment) -> None:
    """The drawn shadow on a wall, cut to a window, is the part of it the calculation takes as not sunlit by things before it."""
    from nuthatch.core.solid.opening_places import in_space, stands
    from nuthatch.core.solid.stages import SOLID
    from nuthatch.core.sun.shares import Far, by_hour
    from nuthatch.core.sun.stages import FAR

    a = osier_assessed
    opening = next(o for o in a.home.openings if o.id == "w-01")
    polygon = a[SOLID].outer[opening.face]
    pane = next(in_space(polygon, s) for s in stands(a.home.openings, opening.face, polygon) if s.opening.id == "w-01")
    far = a.all_of(FAR)["w-01"]
    assert isinstance(far, Far)
    lit = by_hour(far).mean(axis=(1, 2))
    checked = 0
    for day in (40, 80, 325):  # days the shade is looked at: every fifth
        for h in range(9, 16):
            hour = Hour(day, h)
            height = sun_of(a, hour)
            if height is None or height[0] < 5:
                continue
            dark = shadows_on(a, hour).get(opening.face, ())
            flat = shapely.union_all([shapely.Polygon([(x, z) for x, _, z in p]).buffer(0) for p in dark])
            window = shapely.Polygon([(x, z) for x, _, z in pane])
            drawn = shapely.intersection(flat, window).area / window.area
            trees = any(o.kind != "block" for o in a.home.site.objects)
            assert trees and lit[hour.of_year] >= 1 - drawn - 0.03, "a tree lets some through"
            if drawn < 0.01:
                assert lit[hour.of_year] == pytest.approx(1.0, abs=0.03)
            checked += drawn > 0.2
    assert checked >= 3


# ground that rises


def test_ground_that_rises_hides_the_sky_behind_it() -> None:
    """By hand: a rise of 1 is 45° straight up the slope, atan(cos 60°) 60° aside, nothing behind."""
    found = site.skyline((), (), (), Lie((0.0, 0.0), 1.0, 90.0))
    assert found is not None
    assert (found.height[90], found.height[270], found.height[0]) == pytest.approx((45.0, 0.0, 0.0), abs=1e-9)
    assert found.height[30] == pytest.approx(np.degrees(np.arctan(0.5))) and set(found.passes) == {0.0}
    low = (HorizonPoint(id="p", azimuth=g(0.0), height=g(20.0)),)
    partly = (RingSector(id="r", start=g(0.0), end=g(360.0), shade="partly"),)
    ring = site.skyline((), partly, (), Lie((0.0, 0.0), 1.0, 90.0))
    assert ring is not None and (ring.passes[90], ring.passes[270]) == (0.0, 0.5), "through the ground no light passes"
    both = site.skyline(low, (), (), Lie((0.0, 0.0), 1.0, 90.0))
    assert both is not None and both.height[90] == pytest.approx(45.0) and both.height[270] == pytest.approx(20.0)


def test_what_stands_up_the_slope_stands_higher(marrowby: Climate) -> None:
    o = SiteObject(id="o", name="Barn", east=g(0.0), north=g(30.0), length=g(8.0), depth=g(6.0), height=g(5.0))
    thing = site.thing_of(o, Lie((0.0, 10.0), 0.1, 0.0))
    assert thing is not None and np.concatenate(thing.faces)[:, 2].min() == pytest.approx(2.0)
    typed = site.thing_of(replace(o, foot=g(-1.0)), Lie((0.0, 10.0), 0.1, 0.0))
    assert typed is not None and np.concatenate(typed.faces)[:, 2].min() == pytest.approx(-1.0)
    free = assess(simple_home(), marrowby)
    steep = assess(replace(free.home, site=replace(free.home.site, rise=g(0.5), rise_to=g(180.0))), marrowby)
    assert steep[SKYLINE] is not None and free[SKYLINE] is None
    assert steep.all_of(LET_IN)["south"].sky[0] < 0.7 * free.all_of(LET_IN)["south"].sky[0]  # type: ignore[union-attr]
    half = assess(replace(free.home, site=replace(free.home.site, rise=g(0.5))), marrowby)
    assert half[SKYLINE] is None, "nobody says whither"


# what is asked


def test_a_block_in_the_home_is_asked_about_and_one_beside_it_is_not(marrowby: Climate) -> None:
    home = simple_home()

    def asked(*objects: SiteObject) -> list[str]:
        a = assess(replace(home, site=replace(home.site, objects=objects)), marrowby)
        return [q.text for q in a.questions if q.step == "site" and q.part.startswith("o")]

    inside = SiteObject(id="o1", name="Shed", east=g(0.0), north=g(0.0), length=g(4.0), depth=g(4.0), height=g(3.0))
    assert len(asked(inside)) == 1 and "stands in the home" in asked(inside)[0]
    assert asked(replace(inside, north=g(-40.0))) == [] and asked(replace(inside, kind="tree")) == []
    tiny = replace(inside, length=g(0.9), depth=g(0.9))
    assert asked(tiny) == [], "a bin that is drawn half in the wall is no question"
    assert "no place or size" in asked(replace(inside, height=None))[0]


def test_odd_horizons_are_asked_about(marrowby: Climate) -> None:
    points = (
        HorizonPoint(id="h1", azimuth=g(90.0), height=g(10.0)),
        HorizonPoint(id="h2", azimuth=g(90.0), height=g(20.0)),
        HorizonPoint(id="h3", azimuth=g(180.0), height=g(75.0)),
        HorizonPoint(id="h4", azimuth=g(270.0)),
        HorizonPoint(id="h5", azimuth=g(360.0), height=g(4.0)),
        HorizonPoint(id="h6", azimuth=g(0.0), height=g(4.0)),
    )
    found = {q.part: q.says for q in site.horizon_asked(points)}
    assert set(found) == {"h2", "h3", "h4"} and "two heights" in found["h2"] and "75°" in found["h3"]


# drawn and read


def test_a_block_is_drawn_by_its_front_and_depth() -> None:
    home = simple_home()
    change = object_drawn(home, "block", ((10.0, 0.0), (10.0, 8.0), (14.0, 3.0)))
    o = change.value
    assert isinstance(o, SiteObject)
    assert (o.east.value, o.north.value, o.length.value, o.depth.value) == (12.0, 4.0, 8.0, 4.0)  # type: ignore[union-attr]
    ring = site.ring_of(o)
    assert (
        ring is not None
        and shapely.Polygon(ring).equals_exact(shapely.Polygon(ring), 0)
        and shapely.Polygon(ring).area == pytest.approx(32.0)
    )
    assert shapely.Polygon(ring).bounds == pytest.approx((10.0, 0.0, 14.0, 8.0))
    aslant = object_drawn(home, "row of trees", ((0.0, -10.0), (6.0, -18.0), (2.0, -20.0))).value
    assert isinstance(aslant, SiteObject) and aslant.length is not None and aslant.length.value == pytest.approx(10.0)
    shape = shapely.Polygon(site.ring_of(aslant))
    assert shape.exterior.distance(shapely.Point(0, -10)) < 0.02 and shape.exterior.distance(shapely.Point(6, -18)) < 0.02
    tree = object_drawn(home, "tree", ((3.0, 4.0),)).value
    assert isinstance(tree, SiteObject) and tree.kind == "tree" and tree.east.value == 3.0  # type: ignore[union-attr]
    with pytest.raises(ChangeRefused, match="no depth"):
        object_drawn(home, "block", ((0.0, 0.0), (8.0, 0.0), (4.0, 0.0)))


def test_the_plot_is_drawn_and_replaced() -> None:
    home = apply(plot_drawn(simple_home(), ((0, 0), (30, 0), (30, 40))), simple_home())
    assert isinstance(home, Home) and len(home.site.plot) == 3 and site_bounds(home)[3] == 40
    again = apply(plot_drawn(home, ((0, 0), (30, 0), (30, 40), (0, 40))), home)
    assert isinstance(again, Home) and len(again.site.plot) == 4
    with pytest.raises(ChangeRefused, match="cross"):
        plot_drawn(home, ((0, 0), (30, 40), (30, 0), (0, 40)))


@pytest.mark.parametrize(
    "text",
    [
        "azimuth;height\n0;4,5\n90;12\n",
        "# seen from the terrace\n0,4.5\n90,12\n",
        "Direction\tHeight\n0\t4.5\n90\t12\n",
        "0 4.5\n90 12",
        "\ufeff90;12\n0;4.5\n".lstrip("\ufeff"),
    ],
)
def test_a_horizon_is_read_from_tables_as_people_write_them(text: str) -> None:
    home = apply(horizon_of(simple_home(), text, "hill.csv"), simple_home())
    assert isinstance(home, Home)
    assert [(p.azimuth.value, p.height.value) for p in home.site.horizon] == [(0.0, 4.5), (90.0, 12.0)]  # type: ignore[union-attr]
    assert home.site.horizon[0].azimuth.source == "hill.csv"  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "no row of two numbers"),
        ("0;4\n10;x\n", "row 2"),
        ("0;4\n400;3\n", "row 2"),
        ("0;4\n10;95\n", "row 2"),
        ("azimuth;height\n", "no row"),
        ("0;4\n10\n", "row 2"),
        ("\n".join(f"{n / 4};1" for n in range(1000)), "at most 720"),
    ],
)
def test_a_broken_horizon_is_refused_with_its_row(text: str, said: str) -> None:
    with pytest.raises(ChangeRefused, match=said):
        horizon_of(simple_home(), text, "hill.csv")


def test_a_point_of_the_horizon_goes_where_its_direction_is() -> None:
    home = apply(horizon_of(simple_home(), "0;4\n180;9", "h"), simple_home())
    assert isinstance(home, Home)
    home = apply(horizon_point(home, 91.04, 12.26), home)
    assert isinstance(home, Home) and [p.azimuth.value for p in home.site.horizon] == [0.0, 91.0, 180.0]  # type: ignore[union-attr]
    assert home.site.horizon[1].height.value == 12.3  # type: ignore[union-attr]
