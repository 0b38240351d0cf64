"""Storey plans further on: courts, mass of inner walls, air of rooms, overhangs, spaces beside each other, tints, cuts, drawings to trace."""

from __future__ import annotations

import cmath
import io
from math import cos, pi, radians, sqrt
from pathlib import Path

import ezdxf
import pytest
import shapely

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits import plan_edits, plan_files, plan_storeys
from nuthatch.core.edits.placed import in_place
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.exchange.dxf_lines import MOST, lines_of
from nuthatch.core.exchange.summary import as_data
from nuthatch.core.fabric.stages import CAPACITY, B
from nuthatch.core.files.homefile import HomeFileError, canonical, home_from_json
from nuthatch.core.library import target_sets
from nuthatch.core.model.home import SCHEMA, BuildUp, Home, find
from nuthatch.core.model.part import Basis, replace
from nuthatch.core.model.plans import Hole, InnerWall, Outline, RoofPlan, StoreyPlan
from nuthatch.core.plans.polygons import Polygon, area_of, volume
from nuthatch.core.plans.snapping import BackingLines, Drawn, snap
from nuthatch.core.sketch import Path as Line
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import EDGES, GAPS, SOLID
from nuthatch.core.views.shape.axonometric import LEVEL, Cut, View, axonometric, shown_solid, with_overhang
from nuthatch.core.views.shape.plan_table import storey_plan
from nuthatch.core.views.shape.tinting import BASES, TINTS, Tint, tints
from tests.plan_home import plan_home, sides
from tests.simple_home import g, layer, simple_home

CLIMATE = climate_for(simple_home(), None)
SQUARE = ((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0))
COURT = ((3.0, 3.0), (7.0, 3.0), (7.0, 7.0), (3.0, 7.0))
Ring = tuple[tuple[float, float], ...]


def made(home: Home) -> Assessment:
    return assess(home, CLIMATE)


def home_of(*storeys: StoreyPlan, **more: object) -> Home:
    """The simple home's build-ups (wall 0.3 m, slab 0.25 m, roof 0.32 m) around other plans."""
    home = plan_home()
    assert home.shape.plans is not None
    plans = replace(home.shape.plans, **{"storeys": storeys, "roofs": (), "ground": None, **more})
    return replace(home, shape=replace(home.shape, plans=plans), openings=())


def with_court(ring: Ring = COURT, **court: object) -> Home:
    hole = Hole(id="court", sides=tuple(replace(s, **court) for s in sides("court", ring)))
    outline = Outline(id="low", name="House", sides=sides("low", SQUARE), holes=(hole,))
    return home_of(StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3), outlines=(outline,)))


# courts


@pytest.mark.parametrize("ring", [COURT, COURT[::-1]])
def test_a_court_is_cut_out_of_everything(ring: Ring) -> None:
    """By hand: 100 − 16 m² of floor and roof, walls 4·10·3 and 4·4·3 m², 252 m³, inside 9.4² − 4.6² m²; shapely's area beside it."""
    a = made(with_court(ring))
    areas = a[SOLID].areas
    assert areas["low.floor"] == pytest.approx(84) == shapely.Polygon(SQUARE, [COURT]).area
    assert sum(v for k, v in areas.items() if k.startswith("court.")) == pytest.approx(48)
    assert a.figures["heated_volume"].value == pytest.approx(252) and a.figures["envelope_area"].value == pytest.approx(336)
    assert a[BUILT].rooms[0].measure.area == pytest.approx(9.4**2 - 4.6**2)
    assert volume(a[SOLID].outer.values()) == pytest.approx(252), "closed and outward"
    assert {len(e.boundaries) for e in a[EDGES]} == {2} and not [q for q in a.questions if "closed" in q.text]
    east = next(b for b in a[SOLID].boundaries if b.id.startswith("court.") and b.azimuth == pytest.approx(90))
    assert all(x == pytest.approx(3) for x, _, _ in east.outline or ()), "a wall of the court looks into it"


def test_a_court_side_borders_on_what_is_said() -> None:
    a = made(with_court(borders="neighbour"))
    assert {b.borders for b in a[SOLID].boundaries if b.id.startswith("court.")} == {"neighbour"}


def test_courts_are_drawn_moved_copied_and_taken_away() -> None:
    home = plan_home()
    refused = {"lies inside": ((20.0, 20.0), (22.0, 20.0), (22.0, 22.0)), "three corners": ((1.0, 1.0), (2.0, 1.0))}
    for why, ring in refused.items():
        with pytest.raises(ChangeRefused, match=why):
            plan_edits.holed(home, "ground", ring)
    home = apply(plan_edits.holed(home, "ground", ((2.0, 2.0), (4.0, 2.0), (4.0, 4.0), (2.0, 4.0))), home)
    with pytest.raises(ChangeRefused, match="clear of the others"):
        plan_edits.holed(home, "ground", ((3.0, 3.0), (5.0, 3.0), (5.0, 5.0), (3.0, 5.0)))
    wider = plan_edits.with_length(home, "court-1.a", 3.0)
    assert wider is not None
    home = apply(wider, home)
    # the part of the court under the upper storey stays open below it: 6 m² less floor, and a floor above outside air
    a = made(home)
    assert a[SOLID].areas["low.floor"] == pytest.approx(84 - 6) and a[SOLID].areas["up.floor.outside-air"] == pytest.approx(6)
    copied = apply(plan_storeys.copied_up(home, "ground"), home)
    plans = copied.shape.plans
    assert plans is not None and [len(o.holes) for o in plans.storeys[1].outlines] == [1]
    assert find(apply(plan_edits.split(home, "court-1.a"), home), "court-1.e") is not None
    mirrored = apply(plan_storeys.mirrored(home), home)
    assert made(mirrored)[SOLID].areas["low.floor"] == pytest.approx(78)


@pytest.mark.parametrize(
    ("ring", "says"),
    [
        (((3.0, 3.0), (7.0, 3.0)), "three corners at least of Court"),
        (((3.0, 3.0), (7.0, 7.0), (7.0, 3.0), (3.0, 7.0)), "does not cross itself"),
        (((3.0, 3.0), (12.0, 3.0), (12.0, 7.0), (3.0, 7.0)), "clear of its walls"),
    ],
)
def test_a_court_that_is_none_is_asked_about(ring: Ring, says: str) -> None:
    a = made(with_court(ring))
    assert [q for q in a.questions if says.lower() in q.text.lower() and q.part == "court"]
    assert a.figures["heated_volume"].value is None


def test_courts_are_kept_in_the_file_and_drawn() -> None:
    home = with_court()
    document = f'{{"nuthatch": "home", "schema": {SCHEMA}, "home": {canonical(home)}}}'.encode()
    assert home_from_json(document) == home
    a = made(home)
    assert {"court", "court.a", "court.c"} <= storey_plan(a, "ground").ids() and "court.a" in axonometric(a, View(30, 60)).ids()


# rooms and inner walls


def test_inner_walls_with_a_build_up_store_heat_from_both_sides() -> None:
    """ISO 13786 in closed form for one layer, T/(2π)·|(cosh γ − 1)·λγ/d/sinh γ|, γ = (1 + i)·d·√(πρc/(λT)), from each side:
    0.1 m of brick, 3.1 × 2.43 m² a side (the storey's 3 m less slab and roof)."""
    brick = BuildUp(id="brick", name="Brick", layers=(layer("brick.1", 100, 0.7, 1800, 1000),))
    outline = Outline(id="low", name="House", sides=sides("low", SQUARE))
    wall = InnerWall(id="w", x=g(5), y=g(0.3), to_x=g(5), to_y=g(3.4), buildup="brick")
    storey = StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3), outlines=(outline,), inner_walls=(wall,))
    home = replace(home_of(storey), buildups=(*plan_home().buildups, brick))
    bare = apply(SetValue(part="w", field="buildup", value=""), home)
    with_mass, without = made(home), made(bare)
    gamma = (1 + 1j) * 0.1 * sqrt(pi * 1800 * 1000 / (0.7 * 86400))
    kappa = 86400 / (2 * pi) * abs((cmath.cosh(gamma) - 1) * 0.7 * gamma / 0.1 / cmath.sinh(gamma))
    assert kappa == pytest.approx(0.05 * 1800 * 1000, rel=0.02), "nearly half of the wall from each side"
    assert float(with_mass[CAPACITY].value) - float(without[CAPACITY].value) == pytest.approx(2 * 3.1 * 2.43 * kappa / 1000)
    thick = apply(SetValue(part="brick.1", field="thickness", value=g(0.2)), home)
    assert made(thick)[BUILT].rooms[0].measure.area < with_mass[BUILT].rooms[0].measure.area, "as thick as its build-up"


def test_rooms_say_what_their_air_does_and_what_they_are_warmed_to() -> None:
    """By use (common practice, no source), else as said; the heating set-point where nothing is typed."""
    home = plan_home()
    home = apply(SetValue(part="ground.kitchen", field="use", value="kitchen"), home)
    home = apply(SetValue(part="upper.kitchen", field="air", value="none"), home)
    home = apply(SetValue(part="ground.study", field="temperature", value=g(18)), home)
    rooms = {r["id"]: r for r in as_data(made(home))["rooms"]}
    assert [rooms[f"ground.{n}"]["air"] for n in ("living", "kitchen", "stairs")] == ["supply", "extract", "transfer"]
    assert rooms["upper.kitchen"]["air"] == "none" and rooms["ground.study"]["temperature"] == 18
    assert rooms["ground.living"]["temperature"] == home.site.heating_setpoint.value  # type: ignore[union-attr]


# roofs


def test_a_roof_reaches_over_its_walls_in_the_drawing_only() -> None:
    """45°, 0.5 m over on 8 × 10 m: each slope (4 + 0.5)·√2 × 11 m; the envelope stays."""
    outline = Outline(id="low", name="House", sides=sides("low", ((0, 0), (10, 0), (10, 8), (0, 8))))
    roof = RoofPlan(id="top", name="Roof", over="low", pitch=g(45), ridge=g(0), overhang=g(0.5))
    home = home_of(StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3), outlines=(outline,)), roofs=(roof,))
    a, plain = made(home), made(apply(SetValue(part="top", field="overhang", value=None), home))
    drawn = with_overhang(shown_solid(a[SOLID]), home.shape.plans)
    assert area_of(drawn["top.slope-1.loft"]) == pytest.approx(4.5 / cos(radians(45)) * 11)
    assert min(z for _, _, z in drawn["top.slope-1.loft"]) == pytest.approx(2.5), "half a metre below the eaves"
    assert a.figures["envelope_area"].value == plain.figures["envelope_area"].value


def test_what_a_roof_borders_on_is_said() -> None:
    """A slope under a neighbour's floor loses nothing; one to an unheated space takes its typed b."""
    outline = Outline(id="low", name="House", reaches="the roof", sides=sides("low", SQUARE))
    roof = RoofPlan(id="top", name="Roof", kind="mono", over="low", pitch=g(10), eaves=g(2.5), borders="neighbour")
    home = home_of(StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3), outlines=(outline,)), roofs=(roof,))
    loss = {e.borders: e.loss.value for e in made(home)[ELEMENTS]}
    assert loss["neighbour"] == 0
    cold = apply(SetValue(part="top", field="borders", value="unheated space"), home)
    assert any(q.part == "top" and q.field == "b" for q in made(cold).questions)
    half, whole = (made(apply(SetValue(part="top", field="b", value=g(b)), cold)) for b in (0.5, 1.0))
    lost = [next(e.loss.value for e in a[ELEMENTS] if e.borders == "unheated space") for a in (half, whole)]
    assert lost[0] == pytest.approx(lost[1] / 2)


# spaces beside each other


def test_unheated_spaces_beside_each_other_share_their_balances() -> None:
    """ISO 13789, by hand: garage G and store S side by side, S away from the house. θ of both from two equations: b_S·(H_Se + H_SG) =
    H_Se + H_SG·b_G, b_G·(H_iG + H_Ge + H_SG) = H_Ge + H_SG·b_S. Walls 0.3 m of U 1/(0.13 + R + 0.13) inside, 1/(0.13 + R + 0.04) out."""
    cold = {"kind": "unheated space", "air_change": g(1.0), "wall_buildup": "wall", "top_buildup": "roof", "floor_buildup": "slab"}
    house = Outline(id="low", name="House", sides=sides("low", SQUARE))
    garage = Outline(id="garage", name="Garage", sides=sides("garage", ((10, 0), (14, 0), (14, 10), (10, 10))), **cold)  # type: ignore[arg-type]
    store = Outline(id="store-room", name="Store", sides=sides("store-room", ((14, 0), (17, 0), (17, 10), (14, 10))), **cold)  # type: ignore[arg-type]
    storey = StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3), outlines=(house, garage, store))
    # all on outside air below, so that the ground stays out of the sum
    air = tuple(replace(o, below="outside air") for o in storey.outlines)
    a = made(home_of(replace(storey, outlines=air)))
    wall, roof, slab = (sum(r) for r in ((0.2 / 0.035, 0.1 / 0.5), (0.3 / 0.04, 0.02 / 0.13), (0.15 / 0.036, 0.1 / 2.0)))
    u_out, u_in = 1 / (0.13 + wall + 0.04), 1 / (0.13 + wall + 0.13)
    per = 1 / (0.10 + roof + 0.04) + 1 / (0.17 + slab + 0.04)  # of each m² of plan
    # air between floors of 0.25 m, roofs of 0.32 and walls of 0.3; the house's wall lies in the house, the one between in the garage
    g_air, s_air = ((wide - 0.3) * 9.4 * (3 - 0.25 - 0.32) for wide in (4, 3))
    g_e, s_e, between = 24 * u_out + 40 * per + 0.34 * g_air, (2 * 9 + 30) * u_out + 30 * per + 0.34 * s_air, 30 * u_in
    inside = 30 * u_in
    b_g = (g_e + between * s_e / (s_e + between)) / (inside + g_e + between - between**2 / (s_e + between))
    assert a.all_of(B)["Garage"].value == pytest.approx(b_g)
    alone = (g_e + 0) / (inside + g_e)
    assert b_g != pytest.approx(alone), "what flows on into the store counts"
    typed = made(apply(SetValue(part="store-room", field="b", value=g(0.9)), a.home))
    assert typed.all_of(B)["Garage"].value == pytest.approx(b_g), "a b typed of a space the home does not touch is not asked for"


def test_parts_of_a_home_that_touch_along_an_edge_are_closed() -> None:
    """Two boxes that meet in one upright edge: four walls share it, and nothing is open."""
    one = Outline(id="low", name="House", sides=sides("low", SQUARE))
    other = Outline(id="wing", name="Wing", sides=sides("wing", ((10, 10), (14, 10), (14, 14), (10, 14))))
    a = made(home_of(StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3), outlines=(one, other))))
    assert any(len(e.boundaries) == 4 for e in a[EDGES]) and not a[GAPS]
    assert not [q for q in a.questions if "closed" in q.text]


# the code's columns


def test_a_suspended_floor_stands_in_the_codes_floor_or_crawl_wall_column() -> None:
    """Vented: the floor with its own U; not vented: the walls around it instead, P·h (IECC 2021, R402.2.10, from memory)."""
    below = {"below": "suspended floor", "crawl_height": g(0.6), "crawl_u": g(0.3), "crawl_vents": g(1500), "crawl_wind": g(4)}
    outline = Outline(id="low", name="House", sides=sides("low", SQUARE), **below)  # type: ignore[arg-type]
    home = home_of(StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3), outlines=(outline,)))
    home = replace(home, target_sets=tuple(s for s in target_sets() if s.ua_table))
    shut = apply(SetValue(part="low", field="crawl_vents", value=g(0.0)), home)
    slab = apply(SetValue(part="low", field="below", value="as drawn"), home)
    ua, limit = ([float(made(h).figures[k].value) for h in (home, shut, slab)] for k in ("ua_proposed", "ua_limit"))  # type: ignore[arg-type]
    floor = 100 / (0.17 + 0.15 / 0.036 + 0.1 / 2.0 + 0.17)
    assert ua[0] - ua[2] == pytest.approx(floor) and ua[1] - ua[2] == pytest.approx(40 * 0.6 * 0.3)
    zone = "5"  # the simple home's climate lies in 5A
    table = next(s.ua_table for s in home.target_sets if s.ua_table)
    ip = 5.678263337
    assert limit[0] - limit[2] == pytest.approx(100 * table[zone]["floor"] * ip)  # type: ignore[index]
    assert limit[1] - limit[2] == pytest.approx(24 * table[zone]["crawl wall"] * ip)  # type: ignore[index]


# openings


def test_a_typed_place_without_room_is_refused_with_what_would_fit() -> None:
    home = plan_home()
    outlines = made(home)[SOLID].outer

    def typed(field: str, value: float, part: str = "w-1") -> str:
        try:
            in_place(home, SetValue(part=part, field=field, value=g(value)), outlines)
        except ChangeRefused as why:
            return str(why)
        return ""

    assert typed("position", 9.2) == "W1 stands past the edge of its face; at most 8.80\u00a0m from the left fits"
    assert typed("width", 9.5) == "W1 stands past the edge of its face; at most 9.00\u00a0m wide fits"
    assert typed("sill", 2.5) == "W1 stands past the edge of its face; at most 1.80\u00a0m above level 0 fits"
    assert typed("height", 3.0).endswith("at most 2.10\u00a0m high fits")
    assert typed("position", 5.5) == "W1 stands over W2" or "stands over" in typed("position", 5.5)
    assert typed("position", 8.8) == typed("sill", 1.8) == typed("count", 2) == "", "what fits is taken"
    assert "past the edge" in typed("count", 8) or "stands over" in typed("count", 8)
    askew = apply(SetValue(part="w-1", field="position", value=g(9.5)), home)
    wrong = SetValue(part="w-1", field="position", value=g(9.4))
    assert in_place(askew, wrong, outlines) is wrong, "what stands wrongly already may be moved"


def test_the_distance_in_a_row_is_its_own() -> None:
    home = apply(SetValue(part="w-1", field="count", value=g(2)), plan_home())
    home = apply(SetValue(part="w-1", field="apart", value=g(2.6)), home)
    lefts = sorted({round(x, 6) for i in _panes(made(home)) for x in i})
    assert lefts == [1.0, 2.2, 4.8, 6.0], "1.2 m wide, 2.6 m between them"


def _panes(a: Assessment) -> list[tuple[float, float]]:
    from nuthatch.core.solid.opening_places import stands

    return [(s.left, s.left + s.width) for s in stands(a.home.openings, "low.a", a[SOLID].outer["low.a"]) if s.opening.id == "w-1"]


# tints and cuts


def test_tints_by_storey_direction_basis_and_net_gain(demo_assessments: dict[str, Assessment]) -> None:
    a = demo_assessments["osier-lane-7"]
    by = {name: tints(a, Tint(name)) for name in TINTS}
    faces = {f.id for f in a[SOLID].boundaries}
    for name in ("borders on", "build-up", "storey", "direction"):
        assert set(by[name][0]) == faces, name
    for fills, legend in by.values():
        assert set(fills.values()) <= {(f, p) for f, p, _ in legend}, "every tint stands in the legend"
    storeys = [text for _, _, text in by["storey"][1]]
    assert storeys == [s.name for s in sorted(a[SOLID].storeys, key=lambda s: s.level)]
    assert {"south", "down"} <= {text for _, _, text in by["direction"][1]}
    weakest = by["basis"][0]
    assert weakest["w-01"] in BASES.values() and len({text for _, _, text in by["basis"][1]}) >= 1
    assert set(by["net gain"][0]) == {o.id for o in a.home.openings}
    glass = {
        i.id: i.fill for i in axonometric(a, View(30, 28), Tint("net gain")).items if isinstance(i, Line) and i.id in by["net gain"][0]
    }
    assert glass and all(by["net gain"][0][k][0] == fill for k, fill in glass.items())


def test_a_value_assumed_anywhere_makes_its_face_assumed() -> None:
    """The simple home is declared throughout; one layer's λ assumed colours what it is in."""
    home = plan_home()
    assert tints(made(home), Tint("basis"))[0]["low.a"] != BASES["assumed"]
    unsure = apply(SetValue(part="wall.1", field="conductivity", value=g(0.035).model_copy(update={"basis": Basis.ASSUMED})), home)
    fills = tints(made(unsure), Tint("basis"))[0]
    assert fills["low.a"] == BASES["assumed"] != fills["main.slope-1.loft" if "main.slope-1.loft" in fills else "low.floor"]


@pytest.mark.parametrize(("axis", "share"), [(0, 0.5), (1, 0.3), (LEVEL, 0.4)])
@pytest.mark.parametrize(("turn", "height"), [(30, 28), (200, 28), (30, -30)])
def test_a_cut_takes_away_what_lies_before_it(axis: int, share: float, turn: float, height: float) -> None:
    """Nothing drawn lies on the viewer's side of the plane, and what lies behind it stays."""
    from nuthatch.core.views.shape import axonometric as view_of
    from nuthatch.core.views.shape.hidden import view_axes

    a = made(plan_home())
    whole = shown_solid(a[SOLID])
    way = tuple(float(v) for v in view_axes(turn, height)[2])
    at, sign = view_of.plane_of(Cut(axis, share), whole, way)  # type: ignore[arg-type]
    assert sign == (1 if way[axis] >= 0 else -1)
    low, high = (pick(p[axis] for polygon in whole.values() for p in polygon) for pick in (min, max))
    assert at == pytest.approx(low + share * (high - low), abs=1e-3)
    kept: dict[str, Polygon] = {k: view_of.beyond(p, axis, at, sign) for k, p in whole.items()}
    assert all(sign * (q[axis] - at) <= 1e-9 for p in kept.values() for q in p)
    area = {k: area_of(p) for k, p in kept.items() if len(p) > 2}
    rest = {k: area_of(view_of.beyond(p, axis, at, -sign)) for k, p in whole.items()}
    assert all(area.get(k, 0.0) + rest[k] == pytest.approx(area_of(p)) for k, p in whole.items()), "two halves make the whole"
    assert axonometric(a, View(turn, height, cut=Cut(axis, share))).ids() >= {k for k, v in area.items() if v > 1} & {"low.floor"}


# drawings to trace


def drawing(units: int = 4, size: float = 8000.0, **more: bool) -> bytes:
    """A plan in millimetres: an outline of 8 × 6 m, a room in it, a line, a door in a block."""
    document = ezdxf.new("R2010")  # type: ignore[attr-defined]
    document.units = units
    space = document.modelspace()
    k = size / 8
    space.add_lwpolyline([(0, 0), (8 * k, 0), (8 * k, 6 * k), (0, 6 * k)], close=True)
    space.add_lwpolyline([(k, k), (3 * k, k), (3 * k, 3 * k), (k, 3 * k)], close=True)
    space.add_line((0, 3 * k), (8 * k, 3 * k))
    block = document.blocks.new("door")
    block.add_arc((0, 0), 0.9 * k, 0, 90)
    space.add_blockref("door", (2 * k, 0))
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


@pytest.mark.parametrize(("units", "size"), [(4, 8000.0), (6, 8.0), (5, 800.0), (0, 8000.0), (0, 8.0), (2, 8 / 0.3048)])
def test_lines_of_a_drawing_are_in_metres(units: int, size: float) -> None:
    """$INSUNITS 4 millimetres, 6 metres, 5 centimetres, 2 feet (DXF reference); without a unit by what a plan can be."""
    found = lines_of(drawing(units, size))
    assert found.width == pytest.approx(8.0) and [len(r) for r in found.closed] == [4, 4]
    assert shapely.Polygon(found.closed[0]).area == pytest.approx(48)
    moved = found.laid(10.0, 5.0, 16.0)
    assert shapely.Polygon(moved.closed[0]).bounds == pytest.approx((10, 5, 26, 17))


def test_closed_lines_become_outlines_the_outermost_of_them() -> None:
    home = home_of(StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3)))
    home = apply(plan_files.outlined(home, "ground", lines_of(drawing()).closed), home)
    assert home.shape.plans is not None and len(home.shape.plans.storeys[0].outlines) == 1, "the room inside is none"
    assert made(home)[SOLID].areas["outline-1.floor"] == pytest.approx(48)
    with pytest.raises(ChangeRefused, match="no closed lines"):
        plan_files.outlined(home, "ground", lines_of(drawing()).closed)


def test_what_is_drawn_snaps_to_lines_of_the_sheet() -> None:
    drawn = Drawn(reach=0.1, square=False, sheet=BackingLines(lines_of(drawing()).pieces))
    assert snap((8.04, 5.97), drawn).at == pytest.approx((8, 6)) and "sheet" in snap((8.04, 5.97), drawn).says
    assert snap((5.0, 3.03), drawn).says == "on a line of the sheet" and snap((5.02, 3.03), drawn).at[1] == pytest.approx(3)
    assert "sheet" not in snap((5.0, 4.5), drawn).says


def _many() -> bytes:
    document = ezdxf.new("R2010")  # type: ignore[attr-defined]
    block = document.blocks.new("b0")
    for n in range(60):
        block.add_line((n, 0), (n, 1))
    for n in range(1, 5):  # blocks of blocks of blocks: 60·30⁴ lines
        outer = document.blocks.new(f"b{n}")
        for k in range(30):
            outer.add_blockref(f"b{n - 1}", (k, 0))
    document.modelspace().add_blockref("b4", (0, 0))
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no lines"),
        (b"hello", "no DXF drawing"),
        (bytes(100), "no DXF drawing"),
        (b"%PDF-1.7 nothing", "no lines"),
        (_many(), f"more than {MOST} lines"),
    ],
)
def test_other_files_are_no_drawings(data: bytes, says: str) -> None:
    with pytest.raises(HomeFileError, match=says):
        lines_of(data)


def test_a_drawing_of_our_own_comes_back(tmp_path: Path) -> None:
    """Plans written as DXF are traced again: the unheated garage and the rooms are closed polylines in it."""
    from nuthatch.core.exchange.drawn import as_dxf

    found = lines_of(as_dxf(made(plan_home())))
    areas = sorted(round(shapely.Polygon(r).area, 3) for r in found.closed)
    assert 20.0 in areas, "the garage of 4 × 5 m"
