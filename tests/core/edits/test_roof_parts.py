"""Parts of the roof drawn in plan: at any angle, hung on walls, following them, copied up, mirrored and turned."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np
import pytest
import shapely

from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import Change, ChangeRefused, SetValue, apply
from nuthatch.core.edits import plan_edits, plan_storeys, roof_edits
from nuthatch.core.edits.roof_edits import followed
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import Plans, RoofPlan
from nuthatch.core.plans import reading_plans
from nuthatch.core.plans import roofs as plan_roofs
from nuthatch.core.plans.reading_plans import points_of
from nuthatch.core.results.question import Question
from nuthatch.core.solid.closure import edges_of
from nuthatch.core.solid.solid import open_edges
from nuthatch.core.solid.stages import open_edge
from tests.plan_home import plan_home, sides, spots
from tests.simple_home import g


def plans(home: Home) -> Plans:
    assert home.shape.plans is not None
    return home.shape.plans


def done(home: Home, change: Change | None) -> Home:
    assert change is not None
    made: Home = apply(followed(home, change), home)
    return made


def corners(home: Home, ident: str) -> list[tuple[float, float]]:
    roof = find(home, ident)
    assert isinstance(roof, RoofPlan)
    return [(round(x, 4), round(y, 4)) for x, y in points_of(roof.corners)]


def dormered(corners: tuple[tuple[float, float], ...], turn: float = 0.0, over: str = "up") -> Home:
    """The plan home, all of it turned [°], with a dormer drawn into its roof."""
    c, s = cos(radians(turn)), sin(radians(turn))

    def at(p: tuple[float, float]) -> tuple[float, float]:
        return round(c * p[0] - s * p[1], 6), round(s * p[0] + c * p[1], 6)

    home = plan_home()
    dormer = RoofPlan(id="dormer", name="Dormer", over=over, pitch=g(30), ridge=g(90), eaves=g(7.4), corners=spots("dormer", corners))
    storeys = tuple(
        replace(s, outlines=tuple(replace(o, sides=sides(o.id, tuple(map(at, points_of(o.sides))))) for o in s.outlines))
        for s in plans(home).storeys
    )
    roofs = tuple(replace(r, corners=spots(r.id, tuple(map(at, points_of(r.corners))))) for r in (*plans(home).roofs, dormer))
    return replace(home, shape=replace(home.shape, plans=replace(plans(home), storeys=storeys, roofs=roofs)))


def test_roofs_drawn_over_walls_go_where_the_walls_go() -> None:
    """The main roof lies on four walls of the upper storey, the wing on three: its fourth edge, inside the main roof, stays."""
    home = done(plan_home(), plan_edits.moved(plan_home(), "up.a", (0, -1)))
    assert corners(home, "main") == [(0, -1), (10, -1), (10, 6), (0, 6)] and corners(home, "wing") == corners(plan_home(), "wing")
    home = done(plan_home(), plan_edits.moved(plan_home(), "up.f", (-0.5, 0)))
    assert corners(home, "main")[0] == (-0.5, 0) and corners(home, "wing") == [(-0.5, 3), (6, 3), (6, 10), (-0.5, 10)]
    home = done(plan_home(), plan_edits.moved(plan_home(), "up.d", (1, 0)))
    assert corners(home, "wing") == [(0, 3), (7, 3), (7, 10), (0, 10)] and corners(home, "main") == corners(plan_home(), "main")


def test_a_typed_coordinate_or_length_is_followed_too() -> None:
    home = done(plan_home(), plan_edits.with_length(plan_home(), "up.a", 11))
    assert corners(home, "main") == [(0, 0), (11, 0), (11, 6), (0, 6)]
    two = plan_home()
    for ident in ("up.a", "up.b"):
        two = done(two, SetValue(part=ident, field="y", value=g(-0.4)))
    assert corners(two, "main")[:2] == [(0, -0.4), (10, -0.4)]


def test_only_the_storey_below_the_roof_leads_it() -> None:
    home = done(plan_home(), plan_edits.moved(plan_home(), "low.a", (0, -1)))
    assert corners(home, "main") == corners(plan_home(), "main"), "the storey under the upper one grows a terrace"


@pytest.mark.parametrize("turn", [0.0, 30.0, 200.0])
@pytest.mark.parametrize("front", [0.0, 0.8], ids=["on the wall", "behind it"])
def test_a_dormer_keeps_its_size_and_moves_with_the_wall_it_looks_to(turn: float, front: float) -> None:
    home = dormered(((3, front), (5, front), (5, 3), (3, 3)), turn)
    before = corners(home, "dormer")
    c, s = cos(radians(turn)), sin(radians(turn))
    out = s * 0.7, -c * 0.7
    after = corners(done(home, plan_edits.moved(home, "up.a", out)), "dormer")
    for a, b in zip(before, after, strict=True):
        assert (b[0] - a[0], b[1] - a[1]) == pytest.approx(out, abs=2e-4)
    side = corners(done(home, plan_edits.moved(home, "up.b", (c, s))), "dormer")
    assert side == before, "the gable end moves away, the dormer stays"


def test_a_dormer_turns_with_its_wall() -> None:
    """The wall from (0, 0) to (10, 0) turned about its start by atan 0.1: the dormer is the same rectangle, its front still on the wall."""
    home = dormered(((3, 0), (5, 0), (5, 3), (3, 3)))
    home = done(home, SetValue(part="up.b", field="y", value=g(1)))
    found = corners(home, "dormer")
    shape = shapely.Polygon(found)
    assert shape.area == pytest.approx(6, abs=1e-3) and shapely.minimum_rotated_rectangle(shape).area == pytest.approx(6, abs=2e-3)
    assert all(y == pytest.approx(x * 0.1, abs=1e-3) for x, y in found[:2])
    roof = find(home, "dormer")
    assert isinstance(roof, RoofPlan) and roof.ridge is not None and roof.ridge.value == pytest.approx(90 + 5.7106, abs=1e-3)


def test_what_moves_the_roof_itself_is_left_to_it() -> None:
    """Mirrored and turned plans move their roofs once, not twice."""
    for edit in (plan_storeys.mirrored, plan_storeys.turned):
        home = plan_home()
        assert apply(followed(home, edit(home)), home) == apply(edit(home), home)


def test_a_storey_copied_up_takes_drawn_parts_along() -> None:
    """Eaves that are typed rise with the storey; so do those of a part that names no outline."""
    for over in ("up", ""):
        home = dormered(((3, 1), (5, 1), (5, 3), (3, 3)), over=over)
        made = apply(plan_storeys.copied_up(home, "upper"), home)
        eaves = {r.id: r.eaves.value for r in plans(made).roofs if r.eaves}
        assert eaves == {"main": 9, "wing": 9, "dormer": 10.4}
    below = apply(plan_storeys.copied_up(home, "ground"), home)
    assert {r.id: r.eaves.value for r in plans(below).roofs if r.eaves} == eaves


@pytest.mark.parametrize("turn", [0.0, 17.0, 90.0, 205.0])
@pytest.mark.parametrize("deep", [2.5, -2.5])
def test_a_part_is_drawn_at_any_angle(turn: float, deep: float) -> None:
    """Its front 2 m, its depth 2.5 m to either side: a rectangle walked counter-clockwise, its ridge running back from the front."""
    c, s = cos(radians(turn)), sin(radians(turn))
    a, b = (3.0, 2.0), (3 + 2 * c, 2 + 2 * s)
    third = b[0] - deep * s + 0.4 * c, b[1] + deep * c + 0.4 * s
    made = roof_edits.roof_front(plan_home(roofs=()), "upper", (a, b, third), 6.0).value
    found = points_of(made.corners)
    shape = shapely.Polygon(found)
    assert shape.area == pytest.approx(5) and shapely.is_ccw(shape.exterior) and made.over == "up" and made.eaves is None
    assert made.ridge.value == pytest.approx((turn + 90) % 180, abs=1e-5)
    assert {tuple(round(v, 6) for v in found[0]), tuple(round(v, 6) for v in found[1])} == {tuple(round(v, 6) for v in p) for p in (a, b)}


def test_what_is_no_part_is_refused() -> None:
    with pytest.raises(ChangeRefused, match="larger"):
        roof_edits.roof_front(plan_home(), "upper", ((1, 1), (1, 1), (3, 3)), 6.0)
    with pytest.raises(ChangeRefused, match="larger"):
        roof_edits.roof_front(plan_home(), "upper", ((1, 1), (4, 1), (6, 1)), 6.0)
    beside = roof_edits.roof_part(plan_home(), "upper", (20, 20), (25, 25), 6.0).value
    assert beside.over == "" and beside.eaves.value == 6.0, "over nothing, at the level of the storey"


def asked(home: Home) -> list[str]:
    return [f.says for f in reading_plans.read(plans(home)).faults]


def roof(ident: str, points: tuple[tuple[float, float], ...], **more: object) -> RoofPlan:
    stem = ident.lower().replace("'", "")
    return RoofPlan(id=stem, name=ident, corners=spots(stem, points), **{"kind": "mono", "pitch": g(45), "ridge": g(0), **more})  # type: ignore[arg-type]


def with_roofs(*roofs: RoofPlan, **outline: object) -> Home:
    """A house of 10 × 6 m and two storeys of 3 m, with these roofs; outline: of its upper storey."""
    home = plan_home()
    box = ((0.0, 0.0), (10.0, 0.0), (10.0, 6.0), (0.0, 6.0))
    lower = replace(plans(home).storeys[0].outlines[0], sides=sides("low", box))
    upper = replace(plans(home).storeys[1].outlines[0], sides=sides("up", box), **outline)
    ground, top = plans(home).storeys
    storeys = (replace(ground, outlines=(lower,)), replace(top, outlines=(upper,)))
    return replace(home, shape=replace(home.shape, plans=replace(plans(home), storeys=storeys, roofs=roofs)))


FRONT = ((0.0, 0.0), (10.0, 0.0), (10.0, 2.0), (0.0, 2.0))


def test_a_roof_that_ends_below_its_floor_is_asked_about() -> None:
    """A lean-to at 45° with its eaves half a metre below the upper floor is below it for the first half metre; at the floor it is not."""
    low = roof("Lean-to", FRONT, eaves=g(2.5), over="up")
    assert asked(with_roofs(low, reaches="the roof")) == [
        "Lean-to ends below the floor of House of Upper floor: raise its eaves, or let it end at the wall"
    ]
    assert asked(with_roofs(replace(low, eaves=g(3)), reaches="the roof")) == []
    higher = roof("Main", FRONT, eaves=g(6), over="up")
    (says,) = asked(with_roofs(low, higher))
    assert "shows nowhere" in says, "another part is the roof there"
    half = roof("Half", ((0.0, 0.0), (5.0, 0.0), (5.0, 2.0), (0.0, 2.0)), eaves=g(6), over="up")
    assert len(asked(with_roofs(low, half))) == 1, "not over the other half"


def test_a_roof_that_cuts_the_storey_above_is_asked_about() -> None:
    """A lean-to of the ground storey that reaches into the upper one; a storey cut by its own roof, or reaching up to it, is no question."""
    low = roof("Lean-to", FRONT, over="low")
    assert asked(with_roofs(low)) == [
        "Lean-to goes through House of Upper floor: let it end at the wall, or say that the outline reaches the roof"
    ]
    assert asked(with_roofs(low, reaches="the roof")) == []
    own = roof("Own", FRONT, over="up", eaves=g(3))
    assert asked(with_roofs(own)) == [], "a ceiling cut by slopes"
    nobody = roof("Nobody's", FRONT, eaves=g(2.9))
    assert len(asked(with_roofs(nobody))) == 1 and asked(with_roofs(replace(nobody, eaves=g(3)))) == []
    steep = roof("Steep", FRONT, eaves=g(2.9), pitch=g(80))
    assert "ends below" in asked(with_roofs(steep))[0]


@pytest.mark.parametrize("kind", ["mono", "gable", "hip", "half-hip", "mansard", "flat"])
def test_how_much_of_a_roof_is_low_against_counting(kind: str) -> None:
    """Against points counted on a grid (our own second way), to half a percent of the part."""
    outline = ((0.0, 0.0), (8.0, 1.0), (7.0, 7.0), (-1.0, 6.0))
    part = plan_roofs.roof_part("p", kind, outline, 3.0, plan_roofs.Slopes(40, 20, other=25, upper=15, bend=0.8))  # type: ignore[arg-type]
    other = plan_roofs.roof_part("q", "mono", ((2.0, 2.0), (6.0, 2.0), (6.0, 9.0), (2.0, 9.0)), 2.6, plan_roofs.Slopes(30, 70))
    shape = shapely.box(-0.5, 0.5, 6.5, 6.5)
    xs, ys = np.meshgrid(np.arange(-2, 9, 0.02) + 0.01, np.arange(-1, 9, 0.02) + 0.01)
    here = shapely.contains_xy(shapely.Polygon(outline), xs, ys) & shapely.contains_xy(shape, xs, ys)
    beside = shapely.contains_xy(shapely.Polygon(other.outline), xs, ys)
    for z in (2.9, 3.4, 4.0, 9.0):
        low = here & (np.min([p.a * xs + p.b * ys + p.c for p in part.planes], axis=0) < z)
        low &= ~(beside & (np.min([p.a * xs + p.b * ys + p.c for p in other.planes], axis=0) >= z))
        assert plan_roofs.roof_below(part, (part, other), shape, z) == pytest.approx(low.sum() * 0.0004, abs=0.2)


# storeys in each other


def test_two_storeys_that_both_reach_the_roof_are_said_by_name() -> None:
    home = with_roofs(roof("Top", FRONT, over="up"), reaches="the roof")
    lower = plans(home).storeys[0].outlines[0]
    both = apply(SetValue(part=lower.id, field="reaches", value="the roof"), home)
    assert "House of Ground floor reaches up to the roof through House of Upper floor: only what lies highest does" in asked(both)
    assert not any("not closed" in q.text for q in assess(both, None).questions)
    beside = sides("up", ((20.0, 0.0), (24.0, 0.0), (24.0, 4.0), (20.0, 4.0)))
    apart = apply(SetValue(part="up", field="sides", value=beside), both)
    assert not any("reaches up to the roof through" in s for s in asked(apart)), "beside each other both may"


def test_a_storey_copied_under_one_with_a_typed_level_is_said_by_name() -> None:
    home = with_roofs()
    typed = apply(SetValue(part="upper", field="level", value=g(3)), home)
    made = apply(plan_storeys.copied_up(typed, "ground"), typed)
    (says,) = asked(made)
    assert says == "House of Upper floor begins below the top of House of Storey 1: mend a level or a height"
    texts = [q.text for q in assess(made, None).questions]
    assert says in texts and not any("not closed" in t for t in texts)
    assert asked(apply(SetValue(part="upper", field="level", value=g(6)), made)) == []


def test_an_open_edge_is_said_by_its_faces_and_place() -> None:
    """A box without its lid: four edges of 10 and 6 m at the top are open."""
    walls = {"w": ((0, 0, 0), (10, 0, 0), (10, 0, 3), (0, 0, 3)), "e": ((10, 6, 0), (0, 6, 0), (0, 6, 3), (10, 6, 3)),
             "r": ((10, 0, 0), (10, 6, 0), (10, 6, 3), (10, 0, 3)), "l": ((0, 6, 0), (0, 0, 0), (0, 0, 3), (0, 6, 3)),
             "f": ((0, 0, 0), (0, 6, 0), (10, 6, 0), (10, 0, 0))}  # fmt: skip
    gap = open_edges(edges_of(walls), {"w": "South wall", "e": "North wall"})
    assert len(gap) == 1 and gap[0].amount == 4 and gap[0].longest is not None and gap[0].longest.length == pytest.approx(10)
    assert gap[0].beside in (("South wall",), ("North wall",))
    says, amounts = open_edge(gap[0])
    assert Question("plans", "storeys", says, amounts).text.startswith(
        f"10.00\u00a0m of “{gap[0].beside[0]}” meets nothing, around 5.00\u00a0m to the right"
    )
    assert says.endswith(", and 3 more")


def test_a_dormer_drawn_into_a_roof_stands_out_of_it() -> None:
    """In the slope of 45° from the eaves at 6 m, 0.8 m behind the wall: the roof is at 6.8 m there, its own eaves 1.2 m above."""
    made = roof_edits.roof_front(plan_home(), "upper", ((7, 0.8), (9, 0.8), (9, 3)), 6.0).value
    assert made.eaves.value == pytest.approx(8.0) and made.eaves.basis == "assumed"
    lower = roof_edits.roof_front(plan_home(), "upper", ((7, 0.0), (9, 0.0), (9, 3)), 6.0).value
    assert lower.eaves is None, "at the eaves it begins with them"
    wing = roof_edits.roof_part(plan_home(), "upper", (0, 3), (6, 10), 6.0).value
    assert wing.eaves is None, "a wing that stands on walls has their eaves, though it begins inside the main roof"


def test_a_part_that_shows_nowhere_is_asked_about() -> None:
    main = roof("Main", ((0.0, 0.0), (10.0, 0.0), (10.0, 6.0), (0.0, 6.0)), kind="gable", over="up")
    small = roof("Small", ((4.0, 1.0), (6.0, 1.0), (6.0, 3.0), (4.0, 3.0)), kind="flat", eaves=g(6.5), over="up")
    assert asked(with_roofs(main, small)) == ["Small lies below the rest of the roof and shows nowhere: raise its eaves"]
    assert asked(with_roofs(main, replace(small, eaves=g(7.1)))) == []
    beside = roof("Beside", ((20.0, 1.0), (22.0, 1.0), (22.0, 3.0), (20.0, 3.0)), kind="flat", eaves=g(1), over="up")
    assert asked(with_roofs(main, beside)) == []
