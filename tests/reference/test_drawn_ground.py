"""Heat to the ground of drawn plans, ISO 13370:2017 (forms from memory): suspended floor, unheated and heated cellar, a part cellar by parts."""

from __future__ import annotations

from math import log, pi, sqrt

import numpy as np
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.library import climate_for
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.ground import ground_months
from nuthatch.core.fabric.stages import B
from nuthatch.core.model.home import BuildUp, Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import GroundSpot, Hole, Outline, Plans, StoreyPlan
from nuthatch.core.results.figure import Known
from nuthatch.core.solid.stages import SOLID
from tests.plan_home import sides
from tests.simple_home import g, simple_home

SLAB_R = 0.15 / 0.036 + 0.1 / 2.0
WALL_R = 0.2 / 0.035 + 0.1 / 0.5
SOIL = 2.0
"""λ of the simple home's soil; its walls are 0.3 m thick."""
DELTA = sqrt(3.15e7 * SOIL / (pi * 2.0e6))
PLAN = ((0.0, 0.0), (10.0, 0.0), (10.0, 8.0), (0.0, 8.0))
LEFT = ((0.0, 0.0), (5.0, 0.0), (5.0, 8.0), (0.0, 8.0))


def drawn(*storeys: StoreyPlan, ground: float = 0.0, more: tuple[BuildUp, ...] = ()) -> Assessment:
    home: Home = simple_home()
    home = replace(home, buildups=(*home.buildups, *more))
    plans = Plans(
        north=g(0), ground=g(ground), wall_buildup="wall", earth_buildup="wall", inner_buildup="wall", roof_buildup="roof",
        ceiling_buildup="roof", ground_buildup="slab", cellar_buildup="slab", air_buildup="slab", storeys=storeys,
    )  # fmt: skip
    home = replace(home, shape=replace(home.shape, form=None, plans=plans), openings=())
    return assess(home, climate_for(home, None))


def floor(ident: str, points: tuple[tuple[float, float], ...], level: float, height: float, **more: object) -> StoreyPlan:
    outline = Outline(id=ident, name=ident.capitalize(), sides=sides(ident, points), **more)  # type: ignore[arg-type]
    return StoreyPlan(id=f"{ident}-storey", name=ident.capitalize(), level=g(level), height=g(height), outlines=(outline,))


def u_of(a: Assessment, ident: str) -> float:
    return float(next(e for e in a[ELEMENTS] if e.id == ident).u.value)  # type: ignore[union-attr, arg-type]


def slab(width: float, d: float) -> float:
    """7.1: U of a slab of equivalent thickness d [m] and characteristic dimension B′ [m]."""
    return 2 * SOIL / (pi * width + d) * log(pi * width / d + 1) if d < width else SOIL / (0.457 * width + d)


def test_a_suspended_floor() -> None:
    """7.4, by hand: 0.5 m above the ground, walls of U 1.5, vents of 1500 mm²/m, 4 m/s, average shelter 0.05."""
    below = {"below": "suspended floor", "crawl_height": g(0.5), "crawl_u": g(1.5), "crawl_vents": g(1500), "crawl_wind": g(4)}
    a = drawn(floor("low", PLAN, 0, 3, **below))
    width = 80 / (0.5 * 36)
    u_f = 1 / (0.17 + SLAB_R + 0.17)
    u_g = slab(width, 0.3 + SOIL * (0.17 + 0.04))
    u_x = 2 * 0.5 * 1.5 / width + 1450 * 0.0015 * 4 * 0.05 / width
    assert u_of(a, "low.floor") == pytest.approx(1 / (1 / u_f + 1 / (u_g + u_x)))
    element = next(e for e in a[ELEMENTS] if e.id == "low.floor")
    d_g = 0.3 + SOIL * 0.21
    h_pe = u_f * (0.37 * 36 * SOIL * log(DELTA / d_g + 1) + u_x * 80) / (SOIL / DELTA + u_x + u_f)
    assert element.periodic is not None and element.periodic.value == pytest.approx(h_pe) and element.lag == 0


def test_a_suspended_floor_asks_for_what_it_needs() -> None:
    a = drawn(floor("low", PLAN, 0, 3, below="suspended floor"))
    assert any(q.part == "low" and q.field == "crawl_vents" for q in a.questions)


def test_an_unheated_cellar_by_its_b() -> None:
    """7.5 and ISO 13789: H_ue = A·U_bf + z·P·U_bw + h·P·U_w + 0.34·n·V, z 1.9 m below ground, 0.5 m above it;
    V between walls of 0.3 m, on a floor of 0.25 m, below the house's floor."""
    kind = {"kind": "unheated space", "air_change": g(0.6), "wall_buildup": "wall", "floor_buildup": "slab"}
    a = drawn(floor("cellar", PLAN, -2.4, 2.4, **kind), floor("low", PLAN, 0, 3), ground=-0.5)
    width, depth = 80 / (0.5 * 36), 1.9
    d_t = 0.3 + SOIL * (0.17 + SLAB_R + 0.04)
    d_w = SOIL * (0.13 + WALL_R + 0.04)
    u_bf = slab(width, d_t + depth / 2)
    assert d_t < d_w, "the cellar's own floor counts"
    u_bw = 2 * SOIL / (pi * depth) * (1 + 0.5 * d_t / (d_t + depth)) * log(depth / d_w + 1)
    above = 0.5 * 36 / (WALL_R + 0.17)
    h_ue = 80 * u_bf + depth * 36 * u_bw + above + 0.34 * 0.6 * 9.4 * 7.4 * (2.4 - 0.25)
    h_iu = 80 / (0.17 + SLAB_R + 0.17)
    assert a.all_of(B)["Cellar"].value == pytest.approx(h_ue / (h_iu + h_ue))


def test_a_part_cellar_heated_by_parts() -> None:
    """7.2: a heated cellar under the left half, slab beside it; B′ of both floors together, each its own depth."""
    a = drawn(floor("cellar", LEFT, -2.4, 2.4), floor("low", PLAN, 0, 3), ground=0.0)
    areas = a[SOLID].areas
    assert areas["cellar.floor"] == pytest.approx(40) and areas["low.floor"] == pytest.approx(40)
    d_t = 0.3 + SOIL * (0.17 + SLAB_R + 0.04)
    exposed = {"cellar.floor": 5 + 8 + 5 + 8, "low.floor": 5 + 8 + 5}  # the cellar's inner side stands against earth too
    width = 80 / (0.5 * sum(exposed.values()))
    assert u_of(a, "cellar.floor") == pytest.approx(slab(width, d_t + 1.2))
    assert u_of(a, "low.floor") == pytest.approx(slab(width, d_t))
    depth, d_w = 2.4, SOIL * (0.13 + WALL_R + 0.04)
    u_bw = 2 * SOIL / (pi * depth) * (1 + 0.5 * min(d_t, d_w) / (min(d_t, d_w) + depth)) * log(depth / d_w + 1)
    assert u_of(a, "cellar.a.ground") == pytest.approx(u_bw) and areas["cellar.a.ground"] == pytest.approx(5 * 2.4)


@pytest.mark.parametrize("lag", [0.0, 1.0])
def test_the_plain_mean_of_the_months_is_the_steady_flow(lag: float) -> None:
    """Annex H: with months of one length the twelve flows average to H_g·(θ_i − mean θ_e)."""
    outside = 8 + 7 * np.cos(2 * pi * (np.arange(12) - 6.3) / 12) + np.array([0, 1, 0, -1, 0.5, 0, 0, 0, 1, 0, 0, -1])
    hours = np.full(12, 730.0)
    flows = ground_months(20.0, 9.0, 20.0, outside, hours, lag)
    assert float(flows.mean()) / 0.73 == pytest.approx(20.0 * (20 - outside.mean()))
    assert int(np.argmax(flows)) == (int(outside.argmin()) + round(lag)) % 12, "the largest flow follows the coldest month"


# each floor by its own walls, each wall by its own floor (method, section 4)


def test_the_walls_that_stand_on_a_floor_are_its_w() -> None:
    """5.2, by hand: one side of 10 m of 0.32 m, the others of 0.3 m; the storey above has other walls that count nothing."""
    thick = tuple(replace(s, buildup="roof") if n == 0 else s for n, s in enumerate(sides("low", PLAN)))
    above = tuple(replace(s, buildup="slab") for s in sides("up", PLAN))
    low = StoreyPlan(id="s", name="S", level=g(0), height=g(3), outlines=(Outline(id="low", name="Low", sides=thick),))
    up = StoreyPlan(id="t", name="T", height=g(3), outlines=(Outline(id="up", name="Up", sides=above),))
    a = drawn(low, up)
    w = (10 * 0.32 + 26 * 0.3) / 36
    assert u_of(a, "low.floor") == pytest.approx(slab(80 / (0.5 * 36), w + SOIL * (0.17 + SLAB_R + 0.04)))


@pytest.mark.parametrize("names", [("alpha", "omega"), ("omega", "alpha")])
def test_a_wall_against_the_ground_has_the_floor_it_stands_on(names: tuple[str, str]) -> None:
    """7.2: an insulated cellar and, at its side, a deeper one with a bare floor: each wall's d_t is that of its own, whatever they are called."""
    cellar, deep = names
    right = ((5.0, 0.0), (10.0, 0.0), (10.0, 8.0), (5.0, 8.0))
    home: Home = simple_home()
    rows = tuple(replace(row, id=f"bare.{n}") for n, row in enumerate(home.buildups[2].layers[1:]))
    bare = replace(home.buildups[2], id="bare", name="Bare floor", layers=rows)
    a = drawn(floor(cellar, LEFT, -2.4, 2.4), floor(deep, right, -3.0, 3.0, floor_buildup="bare"), floor("low", PLAN, 0, 3), more=(bare,))
    bare_r = sum(row.thickness.value / row.conductivity.value for row in bare.layers)
    for ident, r, depth in ((cellar, SLAB_R, 2.4), (deep, bare_r, 3.0)):
        d_t, d_w = 0.3 + SOIL * (0.17 + r + 0.04), SOIL * (0.13 + WALL_R + 0.04)
        m = min(d_t, d_w)
        u_bw = 2 * SOIL / (pi * depth) * (1 + 0.5 * m / (m + depth)) * log(depth / d_w + 1)
        assert u_of(a, f"{ident}.a.ground") == pytest.approx(u_bw), ident


def test_the_perimeter_of_an_unheated_floor_with_a_court_beside_the_house() -> None:
    """5.2: P along the garage's own walls, the court's too, once each; not along the house, not along the way to the court."""
    court = ((13.0, 3.0), (13.0, 5.0), (15.0, 5.0), (15.0, 3.0))
    beside = ((10.0, 0.0), (18.0, 0.0), (18.0, 8.0), (10.0, 8.0))
    kind = {"kind": "unheated space", "air_change": g(0.6), "wall_buildup": "wall", "floor_buildup": "slab", "top_buildup": "roof"}
    hole = Hole(id="court", name="Court", sides=sides("court", court))
    garage = Outline(id="garage", name="Garage", sides=sides("garage", beside), holes=(hole,), **kind)  # type: ignore[arg-type]
    house = Outline(id="low", name="Low", sides=sides("low", PLAN))
    a = drawn(StoreyPlan(id="s", name="S", level=g(0), height=g(3), outlines=(house, garage)))
    ground = next(n for n in a.all_of(B)["Garage"].inputs["outside"] if "loor on the ground" in n.label)
    perimeters = ground.inputs["u"].inputs["perimeters"]
    assert [p.value for p in perimeters] == pytest.approx([8 + 8 + 8 + 4 * 2])
    width = (64 - 4) / (0.5 * 32)
    assert ground.inputs["u"].value == pytest.approx(slab(width, 0.3 + SOIL * (0.17 + SLAB_R + 0.04)))


def test_edge_insulation_stays_on_sloping_ground() -> None:
    """Annex B: U = U_0 + 2·ψ_ge/B′ also where the ground beside the slab is a little higher than its floor."""
    home = drawn(floor("low", PLAN, 0, 3)).home
    site = replace(home.site, slab_edge_r=g(2.0), slab_edge_depth=g(1.0), slab_edge_thickness=g(0.07), slab_edge_lies="standing")
    assert home.shape.plans is not None
    spots = tuple(
        GroundSpot(id=f"z.{n}", x=g(x), y=g(y), z=g(z))
        for n, (x, y, z) in enumerate(((-5, -5, 0), (15, -5, 0), (15, 13, 0.3), (-5, 13, 0.3)))
    )
    sloping = replace(home.shape, plans=replace(home.shape.plans, ground=None, heights=spots))
    a, bare = (assess(replace(home, site=s, shape=sloping), climate_for(home, None)) for s in (site, home.site))
    d_t, d_e = 0.3 + SOIL * (0.17 + SLAB_R + 0.04), 2.0 * SOIL - 0.07
    psi = -(SOIL / pi) * (log(2 / d_t + 1) - log(2 / (d_t + d_e) + 1))
    assert u_of(a, "low.floor") - u_of(bare, "low.floor") == pytest.approx(2 * psi / (80 / 18))


def test_a_cellar_wall_insulated_outside_makes_no_flat_roof() -> None:
    """Traced along the inner faces, a thicker cellar stands out below the house: the ledge is the wall's own, 0.02 m wide, and asks nothing."""
    home = drawn(floor("cellar", PLAN, -2.4, 2.4), floor("low", PLAN, 0, 3)).home
    plans = home.shape.plans
    assert plans is not None
    thick = tuple(replace(s, buildup="roof") for s in plans.storeys[0].outlines[0].sides)
    cellar = replace(plans.storeys[0], outlines=(replace(plans.storeys[0].outlines[0], sides=thick),))
    low = replace(plans.storeys[1].outlines[0], top_buildup="roof")
    shape = replace(
        home.shape,
        plans=replace(plans, traced="inner faces", roof_buildup="", storeys=(cellar, replace(plans.storeys[1], outlines=(low,)))),
    )
    a = assess(replace(home, shape=shape), climate_for(home, None))
    ledge = next(b for b in a[SOLID].boundaries if b.role == "roof" and b.outline is not None and abs(b.outline[0][2]) < 0.5)
    assert ledge.buildup == "roof" and "ledge" in ledge.name.lower()
    assert isinstance(a.figures["heating_demand"], Known) and not [q for q in a.questions if "roof" in q.text.lower()]


def sloping(*spots: tuple[float, float, float]) -> Assessment:
    home = drawn(floor("low", PLAN, 0, 3)).home
    plans = home.shape.plans
    assert plans is not None
    heights = tuple(GroundSpot(id=f"z.{n}", x=g(x), y=g(y), z=g(z)) for n, (x, y, z) in enumerate(spots))
    shape = replace(home.shape, plans=replace(plans, ground=None, heights=heights))
    return assess(replace(home, shape=shape), climate_for(home, None))


def test_a_floor_over_falling_ground_is_parted_where_it_leaves_it() -> None:
    """By hand: the ground falls from the floor's level at y 0 to −2 m at y 8; up to 0.5 m above it the floor stands on it: 2 of 8 m."""
    areas = sloping((0, 0, 0), (10, 0, 0), (10, 8, -2), (0, 8, -2))[SOLID].areas
    assert areas["low.floor"] == pytest.approx(20) and areas["low.floor.outside-air"] == pytest.approx(60)


def test_walls_in_rising_ground_are_parted_along_it() -> None:
    """By hand: the ground rises from 0 at y 0 to 2 m at y 8, and in a fold only from y 4 on: triangles and a strip below it."""
    plain = sloping((0, 0, 0), (10, 0, 0), (10, 8, 2), (0, 8, 2))[SOLID].areas
    assert plain["low.c.ground"] == pytest.approx(20) and plain["low.b.ground"] == pytest.approx(8) == plain["low.d.ground"]
    folded = sloping((0, 0, 0), (10, 0, 0), (10, 4, 0), (0, 4, 0), (10, 8, 2), (0, 8, 2))[SOLID].areas
    assert folded["low.c.ground"] == pytest.approx(20) and folded["low.b.ground"] == pytest.approx(4) == folded["low.d.ground"]
    assert folded["low.b"] == pytest.approx(20)


def test_ground_goes_on_as_high_as_at_its_border() -> None:
    from nuthatch.core.plans.reading_plans import Slope

    ground = Slope(((0.0, 0.0, 0.0), (10.0, 0.0, 1.0), (10.0, 10.0, 3.0), (0.0, 10.0, 2.0)))
    assert ground(5, 5) == pytest.approx(1.5) and ground(5, 0) == pytest.approx(0.5) and ground(5, -3) == pytest.approx(0.5)
    assert ground(14, 10) == pytest.approx(3) and ground(0, 5) == pytest.approx(1.0)
    line = Slope(((0.0, 0.0, 0.0), (4.0, 0.0, 2.0)))
    assert line(1, 7) == pytest.approx(0.5) and line(9, 0) == pytest.approx(2) and Slope(((1.0, 1.0, 0.7),))(9, 9) == pytest.approx(0.7)
