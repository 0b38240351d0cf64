"""The quick form, take-off, closed-shape check, hidden faces and drawings."""

from __future__ import annotations

from dataclasses import replace as changed
from math import cos, radians, sqrt, tan

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch import look
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.climate.library import climate_for
from nuthatch.core.energy.stages import BALANCE, ELEMENTS
from nuthatch.core.fabric.elements import reduction
from nuthatch.core.model.home import Face, Home, QuickForm, Shape
from nuthatch.core.model.part import Given, replace
from nuthatch.core.plans.polygons import normal, volume
from nuthatch.core.sketch import Bar, Path, Sketch, bars, hit, to_svg
from nuthatch.core.solid import from_form, from_list, quick
from nuthatch.core.solid.closure import edges_of
from nuthatch.core.solid.cut import section, walls_in_plan
from nuthatch.core.solid.solid import gaps
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.views.balance.account import account
from nuthatch.core.views.cutaway import cutaway, year_account
from nuthatch.core.views.shape.axonometric import View, axonometric
from nuthatch.core.views.shape.hidden import Piece, back_to_front, convex_parts, view_axes
from nuthatch.core.views.shape.plans_and_elevations import plan
from nuthatch.core.views.shape.tinting import TINTS, Tint
from tests.simple_home import g, simple_home

LIGHT = look.palette()
FORM = QuickForm(length=g(10), depth=g(8), storeys=g(2), storey_height=g(2.8), roof="gable", pitch=g(45), ridge="along the length",
                 under_roof="room in the roof", front_azimuth=g(180), partition_share=g(0.06), floor_thickness=g(0.3))  # fmt: skip
GABLE = quick.Dims(10, 8, 2, 2.8, 45, "gable", "along the length", "room in the roof", "outer faces", 0.06, 0.3)
THICK = quick.Thicknesses(front=0.4, right=0.4, back=0.4, left=0.4, top=0.4, base=0.5)


def areas(dims: quick.Dims, box: quick.Box) -> dict[str, float]:
    return {k: float(np.linalg.norm(normal(p))) for k, p in quick.solid(dims, box).items()}


def test_gable_house_with_room_in_the_roof() -> None:
    """8 × 10 m, eaves 5.6 m, pitch 45°, ridge along 10 m: the method's check values; inner areas by hand."""
    outer, inner = quick.boxes(GABLE, THICK)
    found = areas(GABLE, outer)
    assert found["front-roof"] == pytest.approx(56.57, abs=0.005) == found["back-roof"]
    assert found["wall-left"] - 8 * 5.6 == pytest.approx(16.0) == found["wall-right"] - 8 * 5.6
    assert quick.box_volume(GABLE, outer) == pytest.approx(608.0)
    rooms = quick.storeys(GABLE, outer, inner)
    assert rooms[0].area == pytest.approx(9.2 * 7.2 * 0.94) == rooms[1].area
    # under the slope the inner height over the attic floor (level with the eaves) is x − 0.4·√2 at x from the outer face
    two, one = 2 + 0.4 * sqrt(2), 1 + 0.4 * sqrt(2)
    width_two, width_one = 8 - 2 * two, 8 - 2 * one
    by_hand = (width_two + 0.5 * (width_one - width_two)) * 9.2 * 0.94
    assert rooms[2].counted == pytest.approx(by_hand)


def test_every_roof_closes_and_its_volume_is_the_integral_of_its_height() -> None:
    for roof in ("flat", "mono", "gable"):
        for ridge in ("along the length", "along the depth"):
            form = changed(GABLE, roof=roof, ridge=ridge, pitch=30.0)
            outer, inner = quick.boxes(form, THICK)
            for box in (outer, inner):
                polygons = quick.solid(form, box)
                assert np.sum([normal(p) for p in polygons.values()], axis=0) == pytest.approx(np.zeros(3), abs=1e-9)
                span = box.depth if ridge == "along the length" else box.length
                rise = {"flat": 0.0, "mono": span * tan(radians(30)) / 2, "gable": span * tan(radians(30)) / 4}[roof]
                assert volume(list(polygons.values())) == pytest.approx(box.length * box.depth * (box.eaves + rise))


@settings(max_examples=60, deadline=None)
@given(st.floats(4, 30), st.floats(4, 20), st.integers(1, 4), st.floats(5, 70), st.sampled_from(["mono", "gable"]), st.floats(0, 359))
def test_forms_of_any_size_are_closed_and_turn_with_the_front(
    length: float, depth: float, storeys: int, pitch: float, roof: str, front: float
) -> None:
    form = replace(FORM, length=g(length), depth=g(depth), storeys=g(storeys), pitch=g(pitch), roof=roof, front_azimuth=g(front))
    solid = from_form.solid(form, {}, "external")
    edges = edges_of(solid.outer)
    assert gaps(solid, edges) == () and all(len(e.boundaries) == 2 for e in edges)
    by = {f.id: f for f in solid.boundaries}
    assert by["wall-front"].azimuth == pytest.approx(front % 360, abs=1e-5) or abs(by["wall-front"].azimuth - front) == pytest.approx(360)
    assert (by["wall-left"].azimuth - front) % 360 == pytest.approx(90, abs=1e-4)
    assert solid.areas["floor"] == pytest.approx(length * depth)
    sloped = [f for f in solid.boundaries if f.role == "roof"]
    assert all(f.tilt == pytest.approx(pitch, abs=1e-4) for f in sloped)
    assert sum(solid.areas[f.id] for f in sloped) == pytest.approx(length * depth / cos(radians(pitch)))


def test_edges_have_their_faces_length_and_angle() -> None:
    """The gable of 8 × 10 m by hand: ridge 10 m at 90°, four verges of 4·√2 m, upright corners of 5.6 m at 90°."""
    edges = edges_of(from_form.solid(FORM, {}, "external").outer)
    by = {frozenset(e.boundaries): e for e in edges}
    ridge, corner = by[frozenset(("front-roof", "back-roof"))], by[frozenset(("wall-front", "wall-right"))]
    assert (ridge.length, ridge.angle) == (pytest.approx(10), pytest.approx(90)) and corner.length == pytest.approx(5.6)
    assert corner.angle == pytest.approx(90) and by[frozenset(("wall-left", "front-roof"))].length == pytest.approx(4 * sqrt(2))
    assert by[frozenset(("wall-front", "front-roof"))].angle == pytest.approx(135) and len(edges) == 15


def test_spaces_lie_behind_the_faces() -> None:
    form = replace(FORM, left="neighbour", back="unheated space", b_side=Given(value=0.6), base="ground")
    solid = from_form.solid(form, {}, "external")
    kinds = {s.kind for s in solid.spaces}
    assert kinds == {"heated", "outside", "ground", "neighbour", "unheated"}
    back = next(b for b in solid.boundaries if b.id == "wall-back")
    assert back.beyond.kind == "unheated" and back.b.given == Given(value=0.6) and back.borders == "unheated space"
    assert reduction(back).basis == "assumed" and (reduction(back).part, reduction(back).field) == ("form", "b_side")
    listed = Face(id="f", name="Wall to the garage", borders="unheated space", b=Given(value=0.4, basis="calculated", source="sheet 3"))
    leaf = reduction(from_list.solid((listed,)).boundaries[0])
    assert (leaf.value, leaf.basis, leaf.source, leaf.part, leaf.field) == (0.4, "calculated", "sheet 3", "f", "b")


def test_a_section_and_a_plan_come_from_outlines_alone() -> None:
    """Cut by hand: the gable of 8 m depth, eaves 5.6 m, ridge 9.6 m; the plan 10 × 8 m, walls 0.4 m."""
    solid = from_form.solid(replace(FORM, wall_buildup="w", top_buildup="w"), {"w": 0.4}, "external")
    cut = section(solid)
    assert cut is not None and [tuple(round(v, 6) for v in p) for p in cut.outer] == [(0, 0), (0, 5.6), (4, 9.6), (8, 5.6), (8, 0)]
    assert cut.inner[0] == pytest.approx((0.4, 0)) and max(p[1] for p in cut.inner) == pytest.approx(9.6 - 0.4 * sqrt(2))
    assert cut.walls["wall-front"] == pytest.approx((0, 0.4)) and cut.walls["wall-back"] == pytest.approx((8, 7.6))
    walls = {w.id: w for w in walls_in_plan(solid)}
    assert walls["wall-front"].outer == ((0, 0), (10, 0)) and walls["wall-back"].outer == ((10, 8), (0, 8)), "left to right from outside"
    assert walls["wall-right"].inner == (pytest.approx((9.6, 0.4)), pytest.approx((9.6, 7.6)))
    turned = section(from_form.solid(replace(FORM, ridge="along the depth"), {}, "external"))
    assert turned is not None and max(p[1] for p in turned.outer) == pytest.approx(5.6 + 5), "the section shows the slopes"


def test_traced_side_stays_when_a_wall_gets_thicker() -> None:
    """Outer faces traced: the home stays, rooms shrink. Inner faces traced: rooms stay, the home grows."""
    thicker = replace_thickness(THICK, 0.6)
    outer = [quick.boxes(GABLE, t) for t in (THICK, thicker)]
    assert outer[0][0] == outer[1][0] and outer[1][1].length == pytest.approx(outer[0][1].length - 0.4)
    form = changed(GABLE, traced="inner faces")
    inner = [quick.boxes(form, t) for t in (THICK, thicker)]
    assert inner[0][1].length == pytest.approx(inner[1][1].length) == pytest.approx(10.0)
    assert inner[1][0].length == pytest.approx(inner[0][0].length + 0.4)


def replace_thickness(t: quick.Thicknesses, wall: float) -> quick.Thicknesses:
    return quick.Thicknesses(wall, wall, wall, wall, t.top, t.base)


def test_internal_dimensions_take_the_inner_faces(marrowby) -> None:
    home = simple_home()
    inside = apply(SetValue(part="shape", field="dimensions", value="internal"), home)
    a, b = assess(home, marrowby), assess(inside, marrowby)
    area = {e.id: e.area.value for e in b[ELEMENTS] if e.area}
    assert area["floor"] == pytest.approx(9.4 * 7.4) and area["wall-left"] == pytest.approx(7.4 * (3 - 0.32 - 0.25))
    assert b.figures["reference_floor_area"].value == a.figures["reference_floor_area"].value
    assert any("internal" in q.text or "external" in q.text for q in b.questions), "ψ for other dimensions is an open question"


def test_neighbour_sides_lose_nothing_and_unheated_ones_by_b(marrowby) -> None:
    home = apply(SetValue(part="form", field="left", value="neighbour"), simple_home())
    home = apply(SetValue(part="form", field="party_buildup", value="wall"), home)
    a = assess(home, marrowby)
    assert next(e for e in a[ELEMENTS] if e.id == "wall-left").loss.value == 0.0
    cold = apply(SetValue(part="form", field="left", value="unheated space"), home)
    assert assess(cold, marrowby).figures["heating_demand"].value is None, "b is not given"
    known = apply(SetValue(part="form", field="b_side", value=declared(0.5)), cold)
    e = next(e for e in assess(known, marrowby)[ELEMENTS] if e.id == "wall-left")
    assert e.loss.value == pytest.approx(0.5 * e.u.value * e.area.value) and e.u.value == pytest.approx(1 / (0.26 + 0.2 / 0.035 + 0.2))


def test_shapes_that_are_not_closed_are_told() -> None:
    solid = from_form.solid(FORM, {}, "external")
    open_one = changed(solid, boundaries=solid.boundaries[1:], outer={k: p for k, p in solid.outer.items() if k != "wall-front"})
    found = gaps(open_one, edges_of(open_one.outer))
    assert (found[0].kind, found[0].amount) == ("edges", 4) and found[1].axis == "north–south"
    listed = changed(solid, outer={}, inner={})
    assert gaps(listed, ()) == () and gaps(changed(listed, boundaries=solid.boundaries[1:]), ())[0].kind == "axis"


def test_a_list_of_faces_computes_like_the_form_it_came_from(osier_assessed: Assessment) -> None:
    from nuthatch.core.edits.whole_parts import as_list

    typed = tuple(replace(o, shade_winter=g(0.8), shade_summer=g(0.6)) for o in osier_assessed.home.openings)  # a list knows no place
    drawn = assess(replace(osier_assessed.home, openings=typed), osier_assessed.climate)
    home = apply(as_list(drawn), drawn.home)
    assert isinstance(home, Home) and isinstance(home.shape, Shape) and home.shape.form is None
    again = assess(home, osier_assessed.climate)
    for key in ("heating_demand", "heating_load", "primary_energy", "n50", "ua_proposed"):
        assert again.figures[key].value == pytest.approx(drawn.figures[key].value, rel=1e-6), key


def test_what_stood_before_openings_is_typed_in_a_list_of_faces(osier_assessed: Assessment) -> None:
    """The mean share of a season in the place of one for each month: the demand moves by less than 2 %, not by the fifth it lost before."""
    from nuthatch.core.edits.whole_parts import as_list

    home = apply(as_list(osier_assessed), osier_assessed.home)
    assert isinstance(home, Home)
    again, before = (x.figures["heating_demand"].value for x in (assess(home, osier_assessed.climate), osier_assessed))
    assert again == pytest.approx(before, rel=0.02)
    typed = [o for o in home.openings if o.shade_winter is not None]
    assert typed and all(o.shade_winter.basis.value == "calculated" for o in typed)  # type: ignore[union-attr]
    free = [o.id for o in home.openings if o.shade_winter is None]
    assert len(free) < len(home.openings)


def overlap_order(pieces: list[Piece], turn: float, height: float) -> None:
    """Paint the pieces in order into a coarse raster and compare each pixel with a brute-force depth buffer."""
    right, up, toward = view_axes(turn, height)
    n = 70
    flat = [np.array([[np.asarray(p) @ right, np.asarray(p) @ up] for p in piece.polygon]) for piece in pieces]
    low, high = np.min([f.min(axis=0) for f in flat], axis=0), np.max([f.max(axis=0) for f in flat], axis=0)
    xs, ys = np.meshgrid(np.linspace(low[0], high[0], n), np.linspace(low[1], high[1], n))
    painted = np.full((n, n), -1)
    depth = np.full((n, n), -np.inf)
    nearest = np.full((n, n), -1)
    margin = np.full((n, n), np.inf)
    names = sorted({p.id for p in pieces})
    for piece, f in zip(pieces, flat, strict=True):
        vector = normal(piece.polygon)
        if abs(vector @ toward) < 1e-9:
            continue
        signs = [
            (f[(i + 1) % len(f), 0] - f[i, 0]) * (ys - f[i, 1]) - (f[(i + 1) % len(f), 1] - f[i, 1]) * (xs - f[i, 0]) for i in range(len(f))
        ]
        cover = np.all([s > 1e-9 for s in signs], axis=0) | np.all([s < -1e-9 for s in signs], axis=0)
        number = names.index(piece.id)
        painted[cover] = number
        base = np.asarray(piece.polygon[0])
        z = (vector @ base - (xs * (vector @ right) + ys * (vector @ up))) / (vector @ toward)
        closer = cover & (z > depth)
        margin = np.where(cover, np.minimum(margin, np.where(np.isfinite(depth), np.abs(z - depth), np.inf)), margin)
        depth[closer], nearest[closer] = z[closer], number
    clear = (nearest >= 0) & (margin > 1e-6)
    assert clear.sum() > 300
    assert (painted[clear] == nearest[clear]).all()


@pytest.mark.parametrize("turn", [-150, -70, -20, 15, 60, 130])
@pytest.mark.parametrize("height", [-35, 10, 40])
def test_hidden_faces_against_a_depth_buffer(turn: float, height: float) -> None:
    """Two houses through each other, so that faces cut faces: painting order against brute force."""
    pieces = [Piece(k, p) for k, p in quick.solid(GABLE, quick.boxes(GABLE, THICK)[0]).items()]
    second = changed(GABLE, length=6.0, depth=6.0, storeys=1, ridge="along the depth")
    for k, p in quick.solid(second, quick.Box(6, 6, 4.0, 7.0, -2.0, 0.5)).items():
        pieces.append(Piece(f"b-{k}", p))
    convex = [q for p in pieces for q in convex_parts(p)]
    overlap_order(back_to_front(convex, view_axes(turn, height)[2]), turn, height)


def test_convex_parts_keep_the_area() -> None:
    ell = ((0.0, 0.0, 0.0), (4.0, 0.0, 0.0), (4.0, 1.0, 0.0), (1.0, 1.0, 0.0), (1.0, 3.0, 0.0), (0.0, 3.0, 0.0))
    parts = convex_parts(Piece("l", ell))
    assert len(parts) > 1 and sum(float(np.linalg.norm(normal(p.polygon))) for p in parts) == pytest.approx(6.0)


def test_drawings_hold_every_face_and_part(form_assessed: Assessment) -> None:
    for by in TINTS:
        assert {"wall-front", "wall-right", "wall-back", "wall-left", "floor", "w-01"} <= plan(form_assessed, Tint(by)).ids()
        openings = {o.id for o in form_assessed.home.openings}
        drawn_ids = axonometric(form_assessed, tint=Tint(by)).ids()
        assert drawn_ids - openings == set(form_assessed[SOLID].outer) and drawn_ids & openings
    hidden = axonometric(form_assessed, View(see_through=True))
    assert any(isinstance(i, Path) and i.dash for i in hidden.items)
    drawn = cutaway(form_assessed)
    assert {
        "part:walls",
        "part:roof",
        "part:floor",
        "part:openings",
        "part:junctions",
        "part:fresh air",
        "part:leaks",
        "part:sun",
        "part:inside",
    } <= drawn.ids()


def test_cutaway_bands_are_as_wide_as_their_losses(osier_assessed: Assessment) -> None:
    book = account(osier_assessed[BALANCE])
    widths = {}
    for item in cutaway(osier_assessed).items:
        if isinstance(item, Path) and item.id.startswith("part:") and item.fill in ("chestnut_pale", "tide_pale") and not item.stroke:
            a, b = np.array(item.points[0]), np.array(item.points[3])
            widths[item.id] = float(np.linalg.norm(a - b))
    assert widths["part:walls"] / widths["part:floor"] == pytest.approx(book.losses["walls"] / book.losses["floor"], rel=1e-6)
    assert widths["part:sun"] / widths["part:roof"] == pytest.approx(book.sun / book.losses["roof"], rel=1e-6)


def test_the_years_account_balances(demo_assessments: dict[str, Assessment]) -> None:
    for a in demo_assessments.values():
        book = account(a[BALANCE])
        if book is None:
            assert a.figures["heating_demand"].value is None
            continue
        assert sum(book.losses.values()) == pytest.approx(book.heating + book.sun_used + book.inside_used)
        assert book.sun + book.inside == pytest.approx(book.sun_used + book.inside_used + book.unused)
        assert set(book.losses) == {"walls", "roof", "floor", "openings", "junctions", "fresh air", "leaks"}, "a zero stays, at zero"


def test_an_unknown_balance_is_drawn_as_such(demo_assessments: dict[str, Assessment]) -> None:
    texts = [i.text for i in cutaway(demo_assessments["sail-loft"]).items if hasattr(i, "text")]
    assert any("not known yet" in t for t in texts) and any(t.startswith("it needs") for t in texts)
    assert any("not known yet" in getattr(i, "text", "") for i in year_account(demo_assessments["sail-loft"]).items)


def test_svg_escapes_and_hits_find_the_topmost() -> None:
    made = Sketch(100, 100, "a <b> & c")
    made.rect(0, 0, 50, 50, fill="paper", id="one", pattern="hatch")
    made.rect(20, 20, 50, 50, fill="slate", id="two", pattern="dots", dash=True)
    made.text(5, 95, "5 < 6 & “x”", id="words", halo=True)
    text = to_svg(made, LIGHT, "Inter")
    assert "5 &lt; 6 &amp;" in text and "<b>" not in text and LIGHT["slate"] in text
    assert (hit(made, 30, 30), hit(made, 5, 5), hit(made, 90, 10), hit(made, 10, 92)) == ("two", "one", "", "words")


def test_bars_share_one_scale_and_mark_what_is_over() -> None:
    made = bars("t", [Bar("a", 10.0, "10", "slate"), Bar("b", 20.0, "20", "slate"), Bar("c", None, "not known yet", "slate")], limit=15)
    boxes = [i for i in made.items if isinstance(i, Path) and i.closed]
    width = [b.points[1][0] - b.points[0][0] for b in boxes]
    assert width[1] == pytest.approx(2 * width[0]) and [b.pattern for b in boxes] == ["", "hatch"]


def test_climate_is_found_again(osier) -> None:
    assert climate_for(osier, None).name == "Marrowby Quay"
