"""Storey plans: areas, rooms and b factors by hand, the quick form as another producer of the same, edits, faults, snapping."""

from __future__ import annotations

from math import hypot, sqrt

import pytest
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, Remove, SetValue, apply
from nuthatch.core.changes.history import Session
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits import plan_edits, plan_storeys
from nuthatch.core.edits.whole_parts import as_list
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.exchange.sheet_files import save
from nuthatch.core.fabric.stages import B
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import GroundSpot, Outline, Plans, Side
from nuthatch.core.plans.ground import Slope
from nuthatch.core.plans.offset import inward
from nuthatch.core.plans.plan_parts import length_of, side_of_face
from nuthatch.core.plans.snapping import Drawn, polar, snap
from nuthatch.core.sketch import Text
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import EDGES, SOLID
from nuthatch.core.views.cutaway import cutaway
from nuthatch.core.views.shape.axonometric import LEVEL, Cut, View, axonometric, beyond
from nuthatch.core.views.shape.cut_view import cut_view
from nuthatch.core.views.shape.plan_table import storey_plan
from nuthatch.core.views.shape.spaces import spaces
from nuthatch.core.views.shape.take_off import amounts, take_off
from tests.plan_home import L, plan_home, sides, storey
from tests.simple_home import g, simple_home

CLIMATE = climate_for(simple_home(), None)


def made(home: Home) -> Assessment:
    return assess(home, CLIMATE)


def with_plans(home: Home, **changed: object) -> Home:
    assert home.shape.plans is not None
    return replace(home, shape=replace(home.shape, plans=replace(home.shape.plans, **changed)))


@pytest.fixture(scope="module")
def house() -> Assessment:
    return made(plan_home())


# by hand


def test_areas_and_volumes_of_an_l_with_a_garage(house: Assessment) -> None:
    """84 m² of plan, twice 3 m high; the loft's volume: 60·3/2, 4·6·3/2 and between the roofs ∫u² du from 0 to 3."""
    area = house[SOLID].areas
    assert area["low.floor"] == pytest.approx(84) and area["up.ceiling.loft"] == pytest.approx(84)
    assert area["low.a"] == pytest.approx(30) and area["low.b.garage"] == pytest.approx(12.5) and area["low.b"] == pytest.approx(5.5)
    assert house.figures["heated_volume"].value == pytest.approx(504)
    assert house.figures["envelope_area"].value == pytest.approx(84 * 2 + 40 * 6)
    volumes = house[BUILT].volumes
    assert volumes["loft"] == pytest.approx(90 + 36 + 9) and volumes["Garage"] == pytest.approx(4 * 5 * 2.5)
    assert not [q for q in house.questions if q.step == "shape"]


def test_rooms_inside_walls_of_thirty_centimetres(house: Assessment) -> None:
    """Inner walls of 10 cm on their lines: Living from x 0.3 to 4.95, y 0.3 to 5.6; the stairs count nothing; clear height 3 m less
    25 cm of slab and 30 cm of floor below, less 32 cm of ceiling above."""
    rooms = {r.id: r for r in house[BUILT].rooms}
    assert len(rooms) == 8
    assert rooms["ground.living"].measure.area == pytest.approx(4.65 * 5.3)
    assert rooms["ground.study"].measure.area == pytest.approx(5.4 * (7.95 - 5.7))
    assert rooms["ground.stairs"].measure.area == pytest.approx(5.4 * (9.7 - 8.05))
    assert rooms["ground.living"].measure.height == pytest.approx(3 - 0.25 - 0.3)
    assert rooms["upper.living"].measure.height == pytest.approx(3 - 0.32)
    counted = 2 * (2 * 4.65 * 5.3 + 5.4 * 2.25)
    assert house.figures["reference_floor_area"].value == pytest.approx(counted)
    net = 2 * 4.65 * 5.3 + 5.4 * 2.25 + 5.4 * 1.65
    assert house.figures["air_volume"].value == pytest.approx(net * (2.45 + 2.68))


def test_the_envelope_inside_in_overall_internal_dimensions(house: Assessment) -> None:
    """ISO 9972:2015, 6.1.2: floors and partitions are not taken off. Inside the walls 9.4 × 5.4 m and 5.4 × 4 m, 6 − 0.25 − 0.32 m high."""
    plan, round_about = 9.4 * 5.4 + 5.4 * 4, 2 * (9.4 + 9.4)
    assert house.figures["inner_envelope_area"].value == pytest.approx(2 * plan + round_about * (6 - 0.57))


def test_b_of_the_garage_and_the_loft_by_hand(house: Assessment) -> None:
    """ISO 13789:2017, 9: H_ue/(H_iu + H_ue), each from U·A and 0.34·n·V."""
    wall_r, roof_r = 0.2 / 0.035 + 0.1 / 0.5, 0.3 / 0.04 + 0.02 / 0.13
    inside = 84 / (roof_r + 0.10 + 0.10)
    slopes = 60 * sqrt(2) + (24 + 9) * sqrt(2) - 9 * sqrt(2)  # the wing covers 9 m² of the main roof's plan, and as much of its own
    gables = 2 * 9 + 9
    high = 3 - 0.32 * sqrt(2)  # of the ridges below the roof's inner face; gables of 0.3 m
    air = high**2 * 9.4 + high**3 / 3 + high**2 * (9.7 - 3 - high)  # main prism, what the wing adds up to the valleys, the rest of the wing
    outside = slopes / (roof_r + 0.14) + gables / (wall_r + 0.17) + 0.34 * 3 * air
    assert house.all_of(B)["loft"].value == pytest.approx(outside / (inside + outside), rel=1e-3)

    inside = 12.5 / (wall_r + 0.26)
    free = 2 * 4 * 2.5 + 5 * 2.5
    slab = house.all_of(B)["Garage"].inputs["outside"]
    ground = next(n for n in slab if "Floor on the ground" in n.label)
    area = ground.inputs["area"].value
    walls = sum(n.value for n in slab if "wall" in n.label and "below ground" not in n.label)
    below = sum(n.inputs["area"].value for n in slab if "below ground" in n.label)
    assert area == pytest.approx(20) and below == 0, "the ground lies below the floor"
    assert walls == pytest.approx(free / (wall_r + 0.17))
    air = (4 - 0.3) * (5 - 2 * 0.3) * (2.5 - 0.25 - 0.32)  # the house's wall lies in the house
    outside = walls + 20 / (roof_r + 0.14) + ground.value + 0.34 * 1.5 * air
    assert house.all_of(B)["Garage"].value == pytest.approx(outside / (inside + outside))
    loss = next(e for e in house[ELEMENTS] if e.id == "low.b.garage").loss
    assert loss.value == pytest.approx(inside * house.all_of(B)["Garage"].value)


def test_a_typed_b_wins_and_leads_to_its_field() -> None:
    home = plan_home()
    a = made(apply(SetValue(part="garage", field="b", value=g(0.5)), home))
    loss = next(e for e in a[ELEMENTS] if e.id == "low.b.garage").loss
    b = loss.inputs["b"]  # type: ignore[union-attr]
    assert b.value == 0.5 and (b.part, b.field, b.basis) == ("garage", "b", "declared")
    told = {s.id: (s.known, s.says) for s in spaces(a)}
    assert told["Garage"] == (0.5, "typed") and told["home"] == (None, "")
    assert told["loft"] == (pytest.approx(a.all_of(B)["loft"].value), "worked out")
    assert "unheated · b 0.50, typed" in [i.text for i in storey_plan(a, "ground").items if isinstance(i, Text)]


def test_edges_have_their_two_faces_their_length_and_angle(house: Assessment) -> None:
    found = {e.boundaries: (e.length, e.angle) for e in house[EDGES]}
    assert found["low.a", "low.floor"] == pytest.approx((10, 90))
    assert found["low.c", "low.d"] == pytest.approx((3, 270)), "the inner corner"
    assert found["up.a", "up.ceiling.loft"] == pytest.approx((10, 90))
    assert all(len(e.boundaries) == 2 for e in house[EDGES])


@pytest.mark.parametrize("name", ["osier-lane-7", "weir-cottage", "sail-loft", "stepped"])
def test_a_split_wall_renames_no_edge_that_did_not_move(name: str) -> None:
    """Every wall of every outline is split once; each edge that lies as before keeps its id, and no id stands twice."""
    home = plan_home() if name == "stepped" else demo_home(name)
    before = assess(home, None)[EDGES]
    lies = {frozenset(tuple(round(c, 6) for c in p) for p in e.ends): e.id for e in before}
    assert len({e.id for e in before}) == len(before) > 10
    for plan in home.shape.plans.storeys:
        for side in (s for o in plan.outlines for s in o.sides):
            after_home = apply(plan_edits.split(home, side.id, 0.4), home)
            after = assess(after_home, None)[EDGES]
            assert len({e.id for e in after}) == len(after)
            kept = [(e, lies[w]) for e in after if (w := frozenset(tuple(round(c, 6) for c in p) for p in e.ends)) in lies]
            assert len(kept) > len(before) / 2, side.id
            new = next(b for b in find(after_home, side.id.partition(".")[0]).sides if find(home, b.id) is None).id
            lost = [
                (e.id, was) for e, was in kept if e.id != was and (name != "stepped" or not any(f.startswith(new) for f in e.boundaries))
            ]
            assert lost == [], (side.id, "where a garage stands beside a part of the wall, that part is another wall now")


def test_sloping_ground_cuts_the_walls_and_says_how_deep() -> None:
    """Level with the floor in the west, 2 m higher in the east: the south wall of 10 × 3 m has a triangle of 10·2/2 in the earth."""
    spots = tuple(
        GroundSpot(id=f"z{n}", x=g(x), y=g(y), z=g(z)) for n, (x, y, z) in enumerate(((0, -1, 0), (0, 11, 0), (10, -1, 2), (10, 11, 2)))
    )
    home = with_plans(plan_home(), ground=None, heights=spots)
    a = made(home)
    assert a[SOLID].areas["low.a.ground"] == pytest.approx(10) and a[SOLID].areas["low.a"] == pytest.approx(20)
    face = next(b for b in a[SOLID].boundaries if b.id == "low.a.ground")
    assert face.depth.given is not None and face.depth.given.value == pytest.approx(1.0)
    assert Slope(((0, 0, 0), (10, 0, 2), (0, 10, 0)))(5, 0) == pytest.approx(1) and Slope(((0, 0, 1.5),))(9, 9) == 1.5


# the quick form is another producer of the same shape


@st.composite
def forms(draw: st.DrawFn) -> Home:
    number = st.integers(400, 1400).map(lambda n: n / 100)
    roof = draw(st.sampled_from(["flat", "mono", "gable"]))
    said = {
        s: draw(st.sampled_from(["outside air", "outside air", "neighbour", "unheated space"])) for s in ("front", "right", "back", "left")
    }
    home = simple_home()
    assert home.shape.form is not None
    form = replace(
        home.shape.form, length=g(draw(number)), depth=g(draw(number)), storeys=g(draw(st.integers(1, 3))), storey_height=g(2.8), roof=roof,
        pitch=g(draw(st.integers(15, 55))), ridge=draw(st.sampled_from(["along the length", "along the depth"])), b_side=g(0.6), b_top=g(0.8),
        under_roof=draw(st.sampled_from(["open to the roof", "insulated ceiling", "room in the roof"])), b_base=g(0.5),
        base=draw(st.sampled_from(["ground", "unheated space", "outside air"])), traced=draw(st.sampled_from(["outer faces", "inner faces"])),
        front_azimuth=g(draw(st.sampled_from([90, 180, 270]))), party_buildup="wall", **said,
    )  # fmt: skip
    dimensions = draw(st.sampled_from(["external", "internal"]))
    return replace(home, shape=replace(home.shape, form=form, dimensions=dimensions), openings=())


KEYS = ("heated_volume", "envelope_area", "transmission_loss_coefficient")


@settings(max_examples=20, deadline=None)
@given(forms())
def test_a_form_written_as_plans_computes_the_same(home: Home) -> None:
    form = home.shape.form
    before, after = made(home), made(apply(plan_edits.as_plans(home), home))
    assert form is not None
    sloped = form.roof != "flat" and form.under_roof != "insulated ceiling"  # clear heights below a slope are means in the form
    keys = KEYS if sloped else (*KEYS, "reference_floor_area", "air_volume", "inner_envelope_area", "heating_load", "heating_demand")
    for key in keys:
        if sloped and form.traced == "inner faces" and key != "transmission_loss_coefficient":
            continue  # a traced inside grows upward in the form, and stays at its eaves in the plans
        was, now = before.figures[key].value, after.figures[key].value
        assert now == pytest.approx(was, rel=1e-6) if was is not None else now is None, key
    assert not [q for q in after.questions if "closed" in q.text]


# edits


def plan_numbers(home: Home) -> list[tuple[float, float]]:
    assert home.shape.plans is not None
    return [(s.x.value, s.y.value) for st_ in home.shape.plans.storeys for o in st_.outlines for s in o.sides if s.x and s.y]


def test_turned_four_times_and_mirrored_twice_is_the_same() -> None:
    home = plan_home()
    whole = made(home).figures["heating_demand"].value
    once = apply(plan_storeys.mirrored(home), home)
    assert made(once)[SOLID].areas["low.b.garage"] == pytest.approx(12.5), "sides keep what they are"
    assert made(once).figures["heated_volume"].value == pytest.approx(504)
    assert plan_numbers(apply(plan_storeys.mirrored(once), once)) == plan_numbers(home)
    turned = home
    for _ in range(4):
        turned = apply(plan_storeys.turned(turned), turned)
        assert made(turned).figures["heating_demand"].value == pytest.approx(whole), "it still looks where it looked"
    assert plan_numbers(turned) == plan_numbers(home)


def test_openings_stand_where_they_stood_in_a_mirrored_home() -> None:
    home = plan_home()
    once = apply(plan_storeys.mirrored(home), home)
    places = {o.id: o.position.value for o in once.openings if o.position}
    assert places["w-1"] == pytest.approx(10 - 1.0 - 1.2) and places["w-2"] == pytest.approx(10 - 6 - 1.2)


def test_a_typed_length_moves_the_wall_at_its_end_and_what_stands_against_it() -> None:
    home = plan_home()
    longer = apply(plan_edits.with_length(home, "low.a", 11.5), home)
    assert length_of(longer, "low.a") == pytest.approx(11.5) and length_of(longer, "low.c") == pytest.approx(5.5)
    corner = find(longer, "low.c")
    assert isinstance(corner, Side) and corner.x is not None and corner.x.value == 11.5
    garage = find(longer, "garage.a")
    assert isinstance(garage, Side) and garage.x is not None and garage.x.value == 11.5, "the garage's corner lies on the moved one"
    with pytest.raises(ChangeRefused, match="longer than nothing"):
        plan_edits.with_length(home, "low.a", 0)


def test_a_wall_split_and_its_corner_taken_out_again() -> None:
    home = plan_home()
    split = apply(plan_edits.split(home, "low.a"), home)
    outline = find(split, "low")
    assert isinstance(outline, Outline) and [s.id for s in outline.sides][:3] == ["low.a", "low.g", "low.b"]
    assert made(split)[SOLID].areas["low.a"] == pytest.approx(15) == made(split)[SOLID].areas["low.g"]
    assert plan_numbers(apply(plan_edits.without_corner(split, "low.g"), split)) == plan_numbers(home)
    three = with_plans(plan_home(), storeys=(storey("s", "S", (Outline(id="o", name="O", sides=sides("o", L[:3])),)),), roofs=())
    with pytest.raises(ChangeRefused, match="at least three corners"):
        plan_edits.without_corner(three, "o.a")


def test_a_storey_copied_up_is_one_more_of_its_kind() -> None:
    home = plan_home(roofs=())
    up = apply(plan_storeys.copied_up(home, "upper"), home)
    assert up.shape.plans is not None and [s.name for s in up.shape.plans.storeys] == ["Ground floor", "Upper floor", "Storey 2"]
    assert made(up).figures["heated_volume"].value == pytest.approx(84 * 9)
    assert len(made(up)[BUILT].rooms) == 12
    session = Session(home)
    session.apply(plan_storeys.copied_up(home, "upper"))
    session.undo()
    assert session.home == home


def test_an_outline_traced_either_way_is_the_same_and_a_crossed_one_is_refused() -> None:
    home = plan_home(storeys=(storey("s", "S", ()),), roofs=(), ground=None)
    one = apply(plan_edits.traced(home, "s", L), home)
    other = apply(plan_edits.traced(home, "s", L[::-1]), home)
    assert made(one).figures["heated_volume"].value == pytest.approx(252) == made(other).figures["heated_volume"].value
    with pytest.raises(ChangeRefused, match="must not cross itself"):
        plan_edits.traced(home, "s", ((0, 0), (4, 4), (4, 0), (0, 4)))


def test_sides_drawn_clockwise_keep_what_they_border_on() -> None:
    """The same outline, its corners in the other order, each side beginning at what was its end: the same faces by name."""
    way = [L[n] for n in (0, 5, 4, 3, 2, 1)]
    drawn = tuple(Side(id=f"c.{n}", x=g(x), y=g(y), borders="neighbour" if n == 5 else "as drawn") for n, (x, y) in enumerate(way))
    home = plan_home(storeys=(storey("s", "S", (Outline(id="c", name="C", sides=drawn),)),), roofs=(), ground=None)
    a = made(home)
    assert a[SOLID].areas["c.5.neighbour"] == pytest.approx(30), "from (10, 0) to (0, 0)"
    assert a[SOLID].areas["c.0"] == pytest.approx(30), "from (0, 0) to (0, 10)"


def test_plans_become_a_list_of_faces_with_the_same_areas(house: Assessment) -> None:
    listed = apply(as_list(house), house.home)
    assert listed.shape.plans is None and {f.id: f.area.value for f in listed.shape.faces if f.area}["low.a"] == pytest.approx(30)
    assert side_of_face(house.home, "low.b.garage") == "low.b" and side_of_face(house.home, "up.ceiling.loft") == ""


# what is asked


@pytest.mark.parametrize(
    ("changed", "part", "words"),
    [
        ({"north": None}, "plans", "Where the top of the sheet looks to"),
        ({"storeys": ()}, "plans", "The outline of a storey"),
        ({"storeys": (storey("s", "S", (Outline(id="o", name="O", sides=sides("o", ((0, 0), (4, 4), (4, 0), (0, 4)))),)),)}, "o", "cross itself"),
        ({"storeys": (replace(storey("s", "S", (Outline(id="o", name="O", sides=sides("o", L)),)), height=None),)}, "s", "The height of S"),
        ({"storeys": (storey("s", "S", (Outline(id="o", name="O", sides=sides("o", L)), Outline(id="p", name="P", sides=sides("p", L)))),)}, "p", "lies over another"),
        ({"storeys": (storey("s", "S", (Outline(id="o", name="O", reaches="the roof", sides=sides("o", L)),)),), "roofs": ()}, "plans", "there is none"),
    ],
)  # fmt: skip
def test_what_is_missing_or_wrong_is_asked_for_at_its_place(changed: dict, part: str, words: str) -> None:
    a = made(plan_home(**changed))
    assert any(q.part == part and words in q.text for q in a.questions), [(q.part, q.text) for q in a.questions]


def test_a_storey_that_stands_on_nothing_is_named() -> None:
    away = tuple((x + 30, y) for x, y in L)
    home = plan_home(
        storeys=(
            storey("s", "S", (Outline(id="o", name="O", sides=sides("o", L)),)),
            storey("t", "Tower", (Outline(id="p", name="P", sides=sides("p", away)),)),
        ),
        roofs=(),
    )
    assert any("Tower stands on nothing" in q.text for q in made(home).questions)


# snapping


def test_a_point_snaps_to_corners_lines_middles_and_the_grid() -> None:
    drawn = Drawn(corners=(((0, 0), "a corner"), ((10, 0), "a corner of the house")), sides=((((0, 0), (10, 0)), "a wall"),), square=False)
    assert snap((9.9, 0.1), drawn).at == (10, 0)
    assert snap((5.1, 0.1), drawn).says == "middle of a wall"
    assert snap((3.02, 0.1), drawn) == snap((3.02, 0.05), drawn) and snap((3.02, 0.1), drawn).at == (3.0, 0.0)
    held = snap((9.9, 6.02), drawn)
    assert held.at == (10, 6.0) and "in line with a corner of the house" in held.says and held.guides == (((10, 0), (10, 6.0)),)
    square = Drawn(corners=drawn.corners, square=True)
    assert snap((4.0, 0.9), square, last=(0, 0.5)).at == (4.0, 0.5), "level"
    assert snap((0.1, 0.1), square, last=(3, 0), first=(0, 0)).says == "closes the outline"
    foot = snap((4.05, 0.1), drawn, last=(4.1, 3))
    assert foot.says == "square to a wall" and foot.at == pytest.approx((4.1, 0))
    assert polar((1, 1), 2, 90) == (1, 3)


@given(st.floats(-20, 20), st.floats(-20, 20))
def test_nothing_snaps_farther_than_its_reach_or_grid(x: float, y: float) -> None:
    drawn = Drawn(
        corners=tuple((p, "a corner") for p in L), sides=tuple(((a, b), "a wall") for a, b in zip(L, L[1:], strict=False)), square=False
    )
    at = snap((x, y), drawn).at
    assert hypot(at[0] - x, at[1] - y) <= 0.3 + 0.05


def test_an_outline_moves_in_by_its_walls() -> None:
    moved = inward(((0, 0), (4, 0), (4, 3), (0, 3)), (0.1, 0.2, 0.3, 0.4))
    assert [p for q in moved for p in q] == pytest.approx([0.4, 0.1, 3.8, 0.1, 3.8, 2.7, 0.4, 2.7])
    back = inward(moved, (-0.1, -0.2, -0.3, -0.4))
    assert [p for q in back for p in q] == pytest.approx([0, 0, 4, 0, 4, 3, 0, 3])


# take-off


def test_the_take_off_sums_and_is_saved(house: Assessment, tmp_path) -> None:
    rows = {(of, what): amount for of, what, amount, _ in amounts(house)}
    assert rows["direction", "faces looking south"] == pytest.approx(60) and rows["borders on", "ground"] == pytest.approx(84)
    assert rows["glazing", "share of faces looking south"] == pytest.approx(3 * 1.44 / 60)
    assert rows["home", "Envelope / volume"] == pytest.approx(408 / 504)
    save(take_off(house), tmp_path / "t.csv")
    lines = (tmp_path / "t.csv").read_text(encoding="utf-8").splitlines()
    assert lines[0] == "Of,What,Amount,Unit" and len(lines) == len(rows) + 1
    save(take_off(house), tmp_path / "t.xlsx")
    assert (tmp_path / "t.xlsx").stat().st_size > 2000
    with pytest.raises(HomeFileError, match="written as .csv, .xlsx or .json"):
        save(take_off(house), tmp_path / "t.doc")


def test_demo_homes_of_the_form_go_on_as_plans() -> None:
    """Openings stay in their walls: the losses of the demo home stay."""
    for key in ("osier-lane-7", "weir-cottage"):
        home = demo_home(key)
        if home.shape.form is None:
            continue
        was = assess(home, climate_for(home, None)).figures["transmission_loss_coefficient"].value
        now = assess(apply(plan_edits.as_plans(home), home), climate_for(home, None)).figures["transmission_loss_coefficient"].value
        assert now == pytest.approx(was, rel=1e-9)


def test_first_plans_are_empty_and_say_what_they_need() -> None:
    home = replace(simple_home(), shape=replace(simple_home().shape, form=None), openings=())
    begun = apply(plan_edits.as_plans(home), home)
    assert isinstance(begun.shape.plans, Plans)
    assert any("outline of a storey" in q.text for q in made(begun).questions)


def test_openings_past_their_wall_or_over_each_other_are_asked_about() -> None:
    home = plan_home()
    far = apply(SetValue(part="w-1", field="position", value=g(9.2)), home)
    assert [(q.part, q.text) for q in made(far).questions if q.step == "openings"] == [("w-1", "W1 stands past the edge of its face")]
    over = apply(SetValue(part="w-2", field="position", value=g(1.5)), home)
    assert [q.text for q in made(over).questions if q.step == "openings"] == ["W2 stands over W1"]
    assert not [q for q in made(home).questions if q.step == "openings"]


def test_the_drawings_of_plans_are_made_for_any_room_there_is(house: Assessment) -> None:
    """A view a few pixels high once drew grid lines for ever."""
    for size in ((4.0, 3.0), (400.0, 20.0), (61.0, 300.0)):
        assert storey_plan(house, "ground", size=size).items and cut_view(house, 0, 0.5, size).items


WALLS = {"low.a": (0, 1), "low.b": (1, 0), "low.d": (1, 0), "up.c": (0, 1), "up.f": (1, 0), "garage.b": (1, 0)}
"""Walls and the way they are dragged: square to themselves."""


@settings(max_examples=20, deadline=None)
@example([("low.b", -1, False), ("up.c", -1, False)])  # two walls of a loft in parallel planes once took each other's corners
@given(st.lists(st.tuples(st.sampled_from(sorted(WALLS)), st.integers(-8, 8), st.booleans()), max_size=5))
def test_walls_moved_keep_the_shape_closed_and_undoing_restores_it(moves: list[tuple[str, int, bool]]) -> None:
    """Whole walls moved by tenths of a metre, or split; shapely's area of the plan as a second opinion."""
    start = plan_home()
    session = Session(start)
    for wall, tenths, split in moves:
        change = (
            plan_edits.split(session.home, wall)
            if split
            else plan_edits.moved(session.home, wall, (WALLS[wall][0] * tenths / 10, WALLS[wall][1] * tenths / 10))
        )
        session.apply(change)
    a = made(session.home)
    if not a[BUILT].faults:
        assert not [q.text for q in a.questions if "not closed" in q.text]
        plans = session.home.shape.plans
        assert plans is not None
        low = shapely.Polygon([(s.x.value, s.y.value) for s in plans.storeys[0].outlines[0].sides if s.x and s.y])
        assert a[SOLID].areas["low.floor"] == pytest.approx(low.area, rel=1e-3)
    while session.undo() is not None:
        pass
    assert session.home is start


@pytest.mark.parametrize("name", ["home", "Outside air", "ground", "Loft", "neighbour"])
def test_an_unheated_space_may_have_any_name(name: str) -> None:
    """A garage called “home” is no heated space, and one called “ground” is not earth."""
    a = made(apply(SetValue(part="garage", field="name", value=name), plan_home()))
    assert a.figures["heated_volume"].value == pytest.approx(504) and f"{name} (unheated)" in a[BUILT].volumes
    assert a.all_of(B)[f"{name} (unheated)"].value == pytest.approx(made(plan_home()).all_of(B)["Garage"].value)


@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage", "sail-loft"])
def test_the_cutaway_of_drawn_homes_is_their_own_section(key: str, demo_assessments: dict[str, Assessment]) -> None:
    """The inner face of a slope is one surface over two storeys; it once kept the section from closing."""
    texts = [i.text for i in cutaway(demo_assessments[key]).items if isinstance(i, Text)]
    assert texts and not [t for t in texts if "drawn as a plain one" in t or "needs the sizes" in t]


def test_the_solid_is_cut_open_above_a_storey(house: Assessment) -> None:
    """1.3 m above the upper floor: nothing higher is drawn, and the rooms of that storey are its floor."""
    whole, cut = axonometric(house, View(30, 40)), axonometric(house, View(30, 40, cut=Cut(LEVEL, at=4.3)))
    assert "main.slope-1.loft" in whole.ids() and "main.slope-1.loft" not in cut.ids()
    assert {"upper.living", "upper.kitchen", "up.a", "low.a"} <= cut.ids() and "ground.living" not in cut.ids()
    assert beyond(((0, 0, 0), (2, 0, 0), (2, 0, 4), (0, 0, 4)), LEVEL, 1, 1) == ((0, 0, 0), (2, 0, 0), (2, 0, 1), (0, 0, 1))


def test_an_outline_without_room_inside_is_the_same_after_a_change_beside_it() -> None:
    """A home narrower than its walls, whose inner wall is taken away: what was worked out before says what a fresh look says."""
    home = demo_home("osier-lane-7")
    plans = home.shape.plans
    assert plans is not None
    narrow = (
        Side(id="n1", x=g(0), y=g(0)),
        Side(id="n2", x=g(6), y=g(0)),
        Side(id="n3", x=g(6), y=g(0.3)),
        Side(id="n4", x=g(0), y=g(0.3)),
    )
    ground, *rest = plans.storeys
    outline = replace(ground.outlines[0], sides=narrow, reaches="its ceiling")
    first = replace(ground, outlines=(outline,), rooms=ground.rooms[:1])
    home = replace(
        home, shape=replace(home.shape, plans=replace(plans, storeys=(first, *(replace(s, outlines=()) for s in rest)), roofs=()))
    )
    before = assess(home, climate_for(home, None))
    later = apply(Remove(part=first.inner_walls[0].id), home)
    went, fresh = assess(later, before.climate, before), assess(later, before.climate)
    assert went[BUILT] is not None and fresh[BUILT] is not None and [f.part for f in fresh[BUILT].faults] == [outline.id]
    assert went[BUILT].faults == fresh[BUILT].faults and went[BUILT].rooms == fresh[BUILT].rooms
    assert {k: f.value for k, f in went.figures.items()} == {k: f.value for k, f in fresh.figures.items()}
