"""Junctions found from the shape: families and lengths by hand, and against cubes counted one by one (docs/methods: families)."""

from __future__ import annotations

import random
from collections import Counter, defaultdict

import numpy as np
import pytest
import shapely

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.plan_edits import split
from nuthatch.core.junctions.families import Lying, told
from nuthatch.core.junctions.found import across
from nuthatch.core.junctions.stages import FOUND
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import Outline, Side, StoreyPlan
from nuthatch.core.solid.stages import EDGES
from tests.core.junctions.drawn import boundary
from tests.form_homes import form_home
from tests.plan_home import other_plan_homes, plan_home
from tests.reference.test_inner_faces import random_plan
from tests.simple_home import g


def made(home: Home) -> Assessment:
    return assess(home, climate_for(home, None))


def lengths(a: Assessment, inner: bool = False) -> dict[str, float]:
    """Length of each family, those that are asked by all their answers."""
    found: dict[str, float] = defaultdict(float)
    for f in a[FOUND]:
        found[" | ".join(f.answers)] += f.inner if inner else f.outer
    return {k: round(v, 3) for k, v in found.items()}


def test_a_terraced_house_by_hand() -> None:
    """Osier Lane 7: 7.2 × 9.4 m, eaves at 5.7 m, 45°, a neighbour at one side: 4.7·√2 along each slope."""
    slope = round(2 * 4.7 * 2**0.5, 3)
    assert lengths(made(demo_home("osier-lane-7"))) == {
        "eaves": 14.4, "verge": slope, "ridge": 7.2, "ground floor": 23.8, "outer corner": 11.4, "upper floor": 33.2,
        "party wall with floor": 9.4, "party wall with roof": slope, "party wall with wall": 11.4,
    }  # fmt: skip


def test_a_quick_form_has_the_same_junctions_as_the_drawn_home() -> None:
    assert lengths(made(form_home("osier-lane-7"))) == lengths(made(demo_home("osier-lane-7")))


def test_lengths_inside_are_shorter_by_what_stands_at_the_ends() -> None:
    """Outer wall 0.3765 m, party wall 0.24 m thick: 7.2 − 0.6165 along the street, 9.4 − 0.753 beside the neighbour."""
    inside = lengths(made(demo_home("osier-lane-7")), inner=True)
    assert inside["ridge"] == pytest.approx(7.2 - 0.3765 - 0.24, abs=1e-3) and inside["eaves"] == pytest.approx(
        2 * (7.2 - 0.6165), abs=1e-3
    )
    assert inside["party wall with floor"] == pytest.approx(9.4 - 2 * 0.3765, abs=1e-3)


def test_a_cottage_below_a_cold_loft_and_above_a_cellar() -> None:
    """Weir Cottage, 8.9 × 7.3 m outside: the loft's slopes stand over the long sides, its gables over the short ones."""
    found = lengths(made(demo_home("weir-cottage")))
    assert found["eaves at ceiling"] == 17.8 and found["gable at ceiling"] == 14.6 and found["floor over cold"] == 32.4
    assert found["upper floor"] + found["change of build-up"] == 32.4, "one wall is lined inside upstairs"
    assert found["outer corner"] == pytest.approx(4 * (2.7225 + 2.8225), abs=0.02)


def test_an_l_with_a_garage_below_a_loft() -> None:
    """plan_home: 10 × 6 m with a wing of 6 × 4 m, a garage 5 m deep and 2.5 m high at its side."""
    found = lengths(made(plan_home()))
    assert found["ground floor"] == 40.0 and found["inner corner"] == 6.0 and found["upper floor"] == 40.0
    assert found["eaves at ceiling"] + found["gable at ceiling"] == 40.0 and found["outer corner"] == 30.0
    assert found["change of build-up"] == 7.5, "5 m above the garage and 2.5 m beside it"


def test_hips_valleys_steps_and_part_cellars() -> None:
    _, _, slope, stepped, _ = (lengths(made(h)) for h in other_plan_homes())
    assert {"hip", "valley", "ridge", "verge", "eaves", "cellar floor"} <= set(slope)
    assert stepped["inner edge of an overhang"] == 10.0 and stepped["floor over cold"] == 11.0, (
        "the upper floor 1 m out; a cellar of 5 × 6 m"
    )


# against cubes

HALF = 0.5


def stacked(plans: list[tuple[shapely.Polygon, float]]) -> Home:
    """Heated storeys one above the other, flat on top, nothing else."""
    home, first = plan_home(), plan_home().shape.plans
    assert first is not None
    storeys = []
    for n, (plan, high) in enumerate(plans):
        ring = tuple((float(x), float(y)) for x, y in shapely.orient_polygons(plan).exterior.coords[:-1])
        outline = Outline(id=f"o{n}", name="House", sides=tuple(Side(id=f"o{n}.p{m}", x=g(x), y=g(y)) for m, (x, y) in enumerate(ring)))
        storeys.append(
            StoreyPlan(
                id=f"s{n}",
                name=f"Storey {n}",
                height=g(high),
                floor_thickness=g(0.3),
                outlines=(outline,),
                **({"level": g(0)} if n == 0 else {}),
            )
        )
    drawn = replace(first, storeys=tuple(storeys), roofs=(), ground=g(0), loft_roof="", loft_gable="")
    return replace(home, shape=replace(home.shape, plans=drawn), openings=())


def counted(plans: list[tuple[shapely.Polygon, float]]) -> dict[str, float]:
    """The same by cubes: around every edge of the grid, which of the four cubes are full."""
    high = [round(h / HALF) for _, h in plans]
    full = np.zeros((60, 60, sum(high) + 2), dtype=bool)
    at = np.arange(60) * HALF - 8 + HALF / 2
    xs, ys = np.meshgrid(at, at, indexing="ij")
    z = 1
    floors = []
    for (plan, _), n in zip(plans, high, strict=True):
        full[:, :, z : z + n] |= shapely.contains_xy(plan, xs, ys)[:, :, None]
        z += n
        floors.append(z)
    found: dict[str, float] = Counter()
    a, b, c, d = full[:-1, :-1], full[1:, :-1], full[:-1, 1:], full[1:, 1:]
    number = a.astype(int) + b + c + d
    found["outer corner"] += HALF * (number == 1).sum()
    found["inner corner"] += HALF * (number == 3).sum()
    for beside, other in ((full[:-1], full[1:]), (full[:, :-1], full[:, 1:])):
        lo, lp, hi, hp = beside[..., :-1], other[..., :-1], beside[..., 1:], other[..., 1:]
        below, above = lo.astype(int) + lp, hi.astype(int) + hp
        found["parapet | flat roof edge"] += HALF * ((below == 1) & (above == 0)).sum()
        found["abutment, front"] += HALF * ((below == 2) & (above == 1)).sum()
        over = (below == 0) & (above == 1)
        found["ground floor"] += HALF * over[..., 0].sum()
        found["floor over air"] += HALF * over[..., 1:].sum()
        found["inner edge of an overhang"] += HALF * ((below == 1) & (above == 2)).sum()
        along = (lo & hi & ~lp & ~hp) | (lp & hp & ~lo & ~hi)
        found["upper floor"] += HALF * sum(int(along[..., z - 1].sum()) for z in floors[:-1])
    return {k: float(v) for k, v in found.items() if v}


@pytest.mark.parametrize("seed", range(30))
def test_stepped_homes_against_cubes(seed: int) -> None:
    rng = random.Random(900 + seed)
    plans: list[tuple[shapely.Polygon, float]] = []
    for _ in range(rng.randint(1, 4)):
        plan = random_plan(rng)
        while plan.interiors or (plans and plan.intersection(plans[-1][0]).area < 4):
            plan = random_plan(rng)
        plans.append((plan, rng.choice((2.5, 3.0))))
    a = made(stacked(plans))
    wanted = counted(plans)
    if any(len(e.boundaries) != 2 for e in a[EDGES]):  # corners that touch: the shape asks, and so do they
        return
    found = lengths(a)
    assert found == pytest.approx(wanted), set(found) ^ set(wanted)
    places = [p.edge for f in a[FOUND] for p in f.places]
    assert len(places) == len(set(places)), "nothing twice"


def test_what_was_found_stays_named_when_a_wall_is_split() -> None:
    home = demo_home("osier-lane-7")
    before = {f.key: f for f in made(home)[FOUND]}
    after = {f.key: f for f in made(apply(split(home, "low.d", 0.4), home))[FOUND]}
    assert set(before) == set(after) and all(after[k].outer == pytest.approx(before[k].outer) for k in before)


# rules that the homes above do not reach


@pytest.mark.parametrize(
    ("first", "second", "lying", "answers"),
    [
        (boundary(90, 0), boundary(30, 180), Lying("level", "convex", 60), ("high edge of a lean-to",)),
        (boundary(90, 0), boundary(30, 0), Lying("level", "convex", 120), ("eaves",)),
        (boundary(90, 0), boundary(30, 0), Lying("level", "re-entrant", 240), ("abutment, front",)),
        (boundary(90, 90), boundary(30, 0), Lying("rising", "convex", 90), ("verge",)),
        (boundary(90, 90), boundary(30, 0), Lying("rising", "re-entrant", 270), ("abutment, side",)),
        (boundary(90, 0, "unheated"), boundary(30, 0), Lying("level", "convex", 120), ("slope with knee wall",)),
        (boundary(90, 0), boundary(0, 0), Lying("level", "convex", 90), ("parapet", "flat roof edge")),
        (boundary(90, 0), boundary(0, 0, "unheated"), Lying("level", "re-entrant", 270), ("abutment in the loft",)),
        (boundary(90, 0), boundary(0, 0, "unheated"), Lying("level", "convex", 90), ("eaves at ceiling", "gable at ceiling", "upper floor")),
        (boundary(30, 0), boundary(30, 180), Lying("level", "re-entrant", 240), ("valley",)),
        (boundary(30, 0), boundary(30, 90), Lying("rising", "convex", 120), ("hip",)),
        (boundary(30, 0), boundary(0, 0, "unheated"), Lying("level", "convex", 150), ("slope with ceiling",)),
        (boundary(30, 0), boundary(0, 0), Lying("level", "re-entrant", 210), ("abutment, front",)),
        (boundary(30, 0), boundary(180, 0, "ground"), Lying("level", "convex", 30), ("eaves at floor",)),
        (boundary(90, 0, "ground"), boundary(180, 0, "ground"), Lying("level", "convex", 90), ("cellar floor",)),
        (boundary(90, 0), boundary(180, 0, "ground"), Lying("level", "re-entrant", 270), ("step of a part cellar",)),
        (boundary(90, 0), boundary(90, 180), Lying("level", "convex", 90), ("set-back", "jetty", "other")),
        (boundary(90, 0), boundary(90, 0), Lying("upright", "coplanar", 180), ("",)),
        (boundary(90, 0), boundary(90, 0, buildup="other"), Lying("upright", "coplanar", 180), ("change of build-up",)),
        (boundary(90, 0, "ground"), boundary(90, 0), Lying("level", "coplanar", 180), ("",)),
        (boundary(90, 0, "ground"), boundary(90, 0), Lying("level", "coplanar", 180, storey=True), ("upper floor",)),
        (boundary(90, 0), boundary(90, 0), Lying("level", "coplanar", 180), ("",)),
        (boundary(90, 0, "neighbour"), boundary(90, 0, "neighbour"), Lying("level", "coplanar", 180), ("",)),
        (boundary(90, 0, "neighbour"), boundary(0, 0, "unheated"), Lying("level", "convex", 90), ("party wall with ceiling",)),
        (boundary(30, 0), boundary(30, 0), Lying("level", "coplanar", 180), ("",)),
        (boundary(90, 0), boundary(180, 0), Lying("rising", "convex", 90), ("other", "none")),
    ],
)  # fmt: skip
def test_each_rule(first: object, second: object, lying: Lying, answers: tuple[str, ...]) -> None:
    assert told((first, second), lying).answers == answers and told((second, first), lying).answers == answers  # type: ignore[arg-type]


def test_three_faces_are_asked_about() -> None:
    assert told((boundary(90, 0),) * 3, Lying("level", "convex", 0)).asked


def test_an_open_edge_is_the_shape_s_question_not_one_of_junctions() -> None:
    """The second of the other homes has faces without a partner along some edges."""
    a = made(other_plan_homes()[1])
    single = {e.id for e in a[EDGES] if len(e.boundaries) == 1}
    assert single and not single & {p.edge for f in a[FOUND] for p in f.places}


def test_a_storey_passes_through_a_gable_where_it_is() -> None:
    """A gable 8 m wide and 4 m high at its middle, on a wall of 3 m: at 5 m it is half as wide."""
    gable = ((0.0, 0.0, 0.0), (8.0, 0.0, 0.0), (8.0, 0.0, 3.0), (4.0, 0.0, 7.0), (0.0, 0.0, 3.0))
    assert list(across(gable, 5.0)) == [((2.0, 0.0, 5.0), (6.0, 0.0, 5.0))] and list(across(gable, 0.0)) == []
