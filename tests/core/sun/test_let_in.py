"""What openings let in by month: typed or worked out, blinds, surroundings of the site, in the balance of whole homes."""

from __future__ import annotations

import numpy as np
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.library import climate_for
from nuthatch.core.climate.sun import MONTH_OF_HOUR
from nuthatch.core.energy.stages import BALANCE, COOLING, SUNS, SUNS_COOLED
from nuthatch.core.fabric.stages import SUN
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.site import HorizonPoint, RingSector, SiteObject
from nuthatch.core.results.figure import Computing
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun import site
from nuthatch.core.sun.edges import Edges
from nuthatch.core.sun.let_in import Blind, Falls, LetIn, Typed, let_in_by
from nuthatch.core.sun.shares import SunPath, shares
from nuthatch.core.sun.stages import FAR, LET_IN, SKYLINE, STOOD
from nuthatch.core.trials import trial
from tests.reference.second_calculation import in_parts, monthly, weather
from tests.simple_home import g, simple_home


def with_openings(home: Home, **fields: object) -> Home:
    return replace(home, openings=tuple(replace(o, **fields) for o in home.openings))


def with_site(home: Home, **fields: object) -> Home:
    return replace(home, site=replace(home.site, **fields))


def of(a: Assessment, opening: str = "south") -> LetIn:
    found = a.all_of(LET_IN)[opening]
    assert isinstance(found, LetIn)
    return found


@pytest.fixture(scope="module")
def free(marrowby: Climate) -> Assessment:
    """The simple home without typed shares, its glass flush with the wall."""
    return assess(with_openings(simple_home(), shade_winter=None, shade_summer=None, reveal=g(0)), marrowby)


def block(ident: str, east: float, north: float, size: tuple[float, float, float], kind: str = "block", **more: object) -> SiteObject:
    return SiteObject(
        id=ident, name=ident, kind=kind, east=g(east), north=g(north), length=g(size[0]), depth=g(size[1]), height=g(size[2]), **more
    )  # type: ignore[arg-type]


def test_nothing_drawn_and_no_reveal_gives_one(free: Assessment) -> None:
    found = of(free)
    assert found.worked[0] == pytest.approx(1.0) and found.heating is found.cooling and free.all_of(FAR)["south"] is None
    assert free[SUNS_COOLED] is free[SUNS]
    parts = np.array(in_parts(weather_of(), 90, 180, 0.2))[:, :3]
    theirs = np.array([monthly(list(parts[:, n])) for n in range(3)]) / 1000
    assert found.falls == pytest.approx(theirs, rel=1e-6)


def weather_of() -> dict:
    from nuthatch.core.library import DATA

    return weather(DATA / "climates" / "marrowby-quay.epw")


def test_the_reveal_follows_the_wall_until_it_is_typed(marrowby: Climate) -> None:
    """(0.3 − 0.08)/2 m deep in a wall of 0.3 m; less sun than with the glass flush; deeper where the wall grows."""
    bare = with_openings(simple_home(), shade_winter=None, shade_summer=None)
    a = assess(bare, marrowby)
    typed = assess(with_openings(bare, reveal=g(0.11)), marrowby)
    assert of(a).heating.share == pytest.approx(of(typed).heating.share) and 0.8 < of(a).heating.share[0] < 1
    thicker = replace(
        bare,
        buildups=tuple(
            replace(b, layers=(replace(b.layers[0], thickness=g(0.4)), *b.layers[1:])) if b.id == "wall" else b for b in bare.buildups
        ),
    )
    assert (of(assess(thicker, marrowby)).heating.share < of(a).heating.share).all()


def test_a_typed_share_wins_and_the_worked_out_one_stays_beside_it(free: Assessment, marrowby: Climate) -> None:
    home = with_openings(free.home, shade_winter=g(0.7), overhang=g(0.5))
    found = of(assess(home, marrowby))
    assert found.heating.share == pytest.approx(0.7) and (found.worked[0] < 1).all() and (found.worked[0] > 0.5).all()
    assert found.heating is found.cooling


def test_a_blind_counts_for_cooling_only(free: Assessment, verrin: Climate) -> None:
    """Down where more than 200 W/m² reach the glass on days above 14 °C: by hand from the hours of the plane."""
    a = assess(free.home, verrin)
    shaded = assess(with_openings(free.home, blind="outside"), verrin)
    found, plain = of(shaded), of(a)
    assert (
        found.heating.factors == pytest.approx(plain.heating.factors)
        and shaded.figures["heating_demand"].value == a.figures["heating_demand"].value
    )
    plane = verrin.plane(90, 180)
    down = (plane.total() > 200) & (np.repeat(verrin.daily, 24) > 14)
    assert found.down == pytest.approx(monthly(list(down.astype(float))))
    by_hand = np.array(monthly(list(np.where(down, 0.25, 1.0) * plane.beam))) / np.array(monthly(list(plane.beam)))
    assert found.cooling.share.min() < 0.5 and found.cooling.factors[0] / plain.heating.factors[0] == pytest.approx(by_hand, abs=0.05)
    assert shaded.figures["cooling_demand"].value < a.figures["cooling_demand"].value  # type: ignore[operator]
    never = assess(with_openings(free.home, blind="outside", blind_sun=g(1400)), verrin)
    cold = assess(with_openings(free.home, blind="inside", blind_warm=g(49)), verrin)
    own = of(assess(with_openings(free.home, blind="outside", blind_passes=g(0.1)), verrin))
    assert never.figures["cooling_demand"].value == cold.figures["cooling_demand"].value == a.figures["cooling_demand"].value
    assert (own.cooling.share <= found.cooling.share).all() and own.cooling.share[6] < found.cooling.share[6]


def test_a_typed_summer_share_counts_in_hours_of_strong_sun_on_warm_days(free: Assessment, marrowby: Climate) -> None:
    found = of(assess(with_openings(free.home, shade_winter=g(0.8), shade_summer=g(0.3)), marrowby))
    assert found.heating.share == pytest.approx(0.8) and found.cooling.share[0] == pytest.approx(0.8), "no warm day in January"
    assert 0.3 < found.cooling.share[6] < 0.8


def test_april_and_may_are_in_order(free: Assessment, verrin: Climate) -> None:
    """Movable shade never dims the balance of heating: May lets in about what April does; cooling rises from month to month."""
    a = assess(with_openings(free.home, shade_winter=g(0.8), shade_summer=g(0.4)), verrin)
    sun, cool = a[SUNS].value, a[COOLING].value
    assert sun[4] > 0.9 * sun[3] and cool[3] <= cool[4] <= cool[5]  # type: ignore[index]
    assert (a[SUNS_COOLED].value <= sun + 1e-9).all() and a[BALANCE].sun is a[SUNS]


def test_a_neighbour_and_a_tree_take_sun(free: Assessment, marrowby: Climate) -> None:
    """A block to the south takes more of the winter than of the summer; one behind the window nothing; a tree bare in winter mostly the summer."""
    near = of(assess(with_site(free.home, objects=(block("no-5", 5, -12, (10, 8, 7)),)), marrowby))
    assert near.worked[0][0] < near.worked[0][6] < 1
    behind = assess(with_site(free.home, objects=(block("no-9", 5, 30, (10, 8, 7)),)), marrowby)
    assert behind.all_of(FAR)["south"] is None and behind.all_of(FAR)["north"] is not None
    assert (behind[SUNS].value < free[SUNS].value).all()  # type: ignore[operator,union-attr]  # it hides sky from the north
    tree = block("birch", 5, -6, (8, 8, 9), "tree", light_winter=g(1.0), light_summer=g(0.0))
    leafy = of(assess(with_site(free.home, objects=(tree,)), marrowby))
    assert leafy.worked[0][0] == pytest.approx(1.0) and leafy.worked[0][6] < 0.9
    lifted = of(assess(with_site(free.home, objects=(replace(tree, crown=g(8.5)),)), marrowby))
    assert lifted.worked[0][6] > leafy.worked[0][6]
    unsized = assess(with_site(free.home, objects=(SiteObject(id="x", name="x"),)), marrowby)
    assert of(unsized).worked[0] == pytest.approx(of(free).worked[0])


def test_the_home_turns_and_its_neighbours_stay_where_they_are(free: Assessment, marrowby: Climate) -> None:
    """Places are by the compass from the home's own zero: turned to the west, the front meets what stands in the west."""
    form = free.home.shape.form
    assert form is not None
    west = replace(free.home, shape=replace(free.home.shape, form=replace(form, front_azimuth=g(270))))
    stood = assess(west, marrowby).all_of(STOOD)["south"]
    assert stood.azimuth == 270
    xs = [c[0] for c in stood.corners]
    assert max(xs) - min(xs) < 0.01, "a west wall runs from north to south"
    in_west = assess(with_site(west, objects=(block("barn", xs[0] - 10, stood.corners[0][1], (9, 9, 9)),)), marrowby)
    assert in_west.all_of(FAR)["south"] is not None and in_west.all_of(FAR)["north"] is None


def test_horizon_and_ring(free: Assessment, marrowby: Climate) -> None:
    """Points in a straight line between them; sectors stand for directions in which nothing is drawn, and rest once a horizon is typed."""
    points = tuple(HorizonPoint(id=f"h{n}", azimuth=g(a), height=g(h)) for n, (a, h) in enumerate([(90, 0), (180, 30), (270, 0)]))
    hill = assess(with_site(free.home, horizon=points), marrowby)
    skyline = hill[SKYLINE]
    assert skyline is not None and set(skyline.passes) == {0.0}
    assert (skyline.height[180], skyline.height[0]) == (30, 0) and skyline.height[135] == pytest.approx(15)
    ring = (RingSector(id="r1", start=g(150), end=g(210), shade="mostly"), RingSector(id="r2", start=g(300), end=g(60), shade="partly"))
    assumed = assess(with_site(free.home, ring=ring), marrowby)[SKYLINE]
    assert assumed is not None and [assumed.height[n] for n in (180, 0, 59, 60, 90)] == [30, 20, 20, 0, 0]
    assert (assumed.passes[180], assumed.passes[0]) == (0.2, 0.5)
    drawn = assess(with_site(free.home, ring=ring, objects=(block("no-5", 5, -40, (4, 4, 3)),)), marrowby)[SKYLINE]
    assert drawn is not None and drawn.height[180] == 0 and drawn.height[155] == 30
    both = assess(with_site(free.home, ring=ring, horizon=points[1:2]), marrowby)[SKYLINE]
    assert both is not None and set(both.height) == {30.0}
    assert hill.figures["solar_gains"].value < free.figures["solar_gains"].value  # type: ignore[operator]
    whole = site.within(np.arange(360.0), 0.0, 360.0)
    assert whole.all()


def test_an_l_shaped_home_shades_itself(marrowby: Climate) -> None:
    from tests.plan_home import other_plan_homes, plan_home

    homes = [plan_home(), *other_plan_homes()]
    bare = [replace(h, openings=tuple(replace(o, shade_winter=None, shade_summer=None) for o in h.openings)) for h in homes]
    shaded = [a for a in (assess(h, marrowby) for h in bare) if any(f is not None for f in a.all_of(FAR).values())]
    assert shaded, "one of the drawn homes has a wing or an overhang before a window"


def test_a_home_of_a_list_has_its_own_edges_only(marrowby: Climate) -> None:
    home = with_openings(demo_home("sail-loft"), shade_winter=None, shade_summer=None, overhang=g(0.4))
    a = assess(home, marrowby)
    found = [x for x in a.all_of(LET_IN).values() if isinstance(x, LetIn)]
    assert found and all((x.worked[0] < 1).all() for x in found)
    assert all(s.months.value is not None for s in a.all_of(SUN).values())


def test_a_trial_of_a_thicker_wall_does_not_wait_for_its_shade() -> None:
    """Weir Cottage is traced inside: a thicker wall moves its windows; tried, its eaves shade as before, and set in earnest nearly so."""
    home = demo_home("weir-cottage")
    a = assess(home, climate_for(home, None))
    assert any(f is not None for f in a.all_of(FAR).values())
    walls = [b for b in home.buildups if any(f.buildup == b.id and f.role == "wall" for f in a.all_of(BOUNDARY).values())]
    layer = max(walls[0].layers, key=lambda x: x.thickness.value if x.thickness is not None else 0.0)
    change = SetValue(part=layer.id, field="thickness", value=g(layer.thickness.value + 0.12))  # type: ignore[union-attr]
    tried = trial(a, (change,), frozenset({"heating_demand"})).figures["heating_demand"].value
    real = assess(apply(change, home), a.climate).figures["heating_demand"].value
    assert tried is not None and tried == pytest.approx(real, rel=2e-3)
    neighbour = SetValue(part="site", field="objects", value=(block("n", 0, -12, (9, 9, 9)),))
    assert isinstance(trial(a, (neighbour,), frozenset({"heating_demand"})).figures["heating_demand"], Computing), (
        "a new neighbour is waited for"
    )


def test_what_counts_by_the_hour_is_that_of_the_hours_light(free: Assessment, verrin: Climate) -> None:
    """With a blind, with a typed summer share, with both, with neither: what is added up once counts as if it were added up each time."""
    plane, path = verrin.plane(90, 180), SunPath(*verrin.path(), verrin.weather.latitude)
    seen = shares(Edges(1.2, 1.4, (0.1, 0.1, 0.1, 0.1), 0.15), (90, 180), path)
    for typed in (Typed(), Typed(summer=0.4), Typed(winter=0.8), Typed(winter=0.8, summer=0.4)):
        for blind in (None, Blind(0.25)):
            row = Falls((90, 180), path, seen, 0.85, np.full(12, 0.2), typed, blind)
            light, found = row.light(plane, verrin.daily), let_in_by(row, plane, verrin.daily)
            assert found.hours == pytest.approx(light.at_glass(light.in_summer(typed)), rel=1e-6, abs=1e-3)
            assert (found.bare is None) == (light.passes == 1).all() == (blind is None)
            if found.bare is not None:
                assert found.bare == pytest.approx(light.at_glass(light.fixed), rel=1e-6, abs=1e-3)
            for share, told in zip((light.open_, light.passes * light.open_), found.worked, strict=True):
                by_hand = [(share * light.falls)[:, m == MONTH_OF_HOUR].sum() / light.falls[:, m == MONTH_OF_HOUR].sum() for m in range(12)]
                assert told == pytest.approx(by_hand)
