"""Drawing in a section: whatever is dragged, drawn or taken away, the section stays whole; areas by hand."""

from __future__ import annotations

import random

import pytest
import shapely

from nuthatch.core.changes.changes import ChangeRefused, Remove, SetValue, apply
from nuthatch.core.edits.detail_edits import block_added, block_removed, side_moved, side_typed, with_detail, with_side_moved
from nuthatch.core.heatflow.of_home import detail_of, section_of
from nuthatch.core.heatflow.reshaped import extent, side_of
from nuthatch.core.heatflow.section import SectionFault, checked
from nuthatch.core.library import new_home
from nuthatch.core.model.details import Detail
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from tests.core.heatflow.drawn import BRICK, corner, frame, mitred, plane, slab_edge
from tests.simple_home import g

WALL = detail_of(plane(((0.02, 0.8), (0.1, 0.04), (0.3, 0.77)), 1.0), "d")
"""Outside at the left: brick from 0 to 0.3, wool to 0.4, plaster to 0.42; one metre high."""


def home_with(detail: Detail) -> Home:
    return replace(new_home(), details=(detail,))


def side(detail: Detail, block: int, out: tuple[float, float]) -> int:
    """The side of a block that looks this way."""
    ring = detail.blocks[block].outline
    return next(n for n in range(len(ring)) if abs(side_of(ring, n)[2][0] - out[0]) + abs(side_of(ring, n)[2][1] - out[1]) < 1e-6)


def named(detail: Detail, name: str) -> tuple[float, float, float, float]:
    return extent(next(x.outline for x in (*detail.blocks, *detail.spaces) if x.name == name))


def test_a_side_outward_takes_from_what_lies_there_inward_gives_to_it() -> None:
    made = apply(side_moved(home_with(WALL), WALL, "d.b2", side(WALL, 1, (1, 0)), 0.01), home_with(WALL)).details[0]
    assert named(made, "layer 1") == pytest.approx((0.3, 0.41, 0, 1)) and named(made, "layer 2") == pytest.approx((0.41, 0.42, 0, 1))
    made = apply(side_moved(home_with(WALL), WALL, "d.b2", side(WALL, 1, (1, 0)), -0.03), home_with(WALL)).details[0]
    assert named(made, "layer 1") == pytest.approx((0.3, 0.37, 0, 1)) and named(made, "layer 2") == pytest.approx((0.37, 0.42, 0, 1))
    made = apply(side_moved(home_with(WALL), WALL, "d.b3", side(WALL, 2, (1, 0)), 0.05), home_with(WALL)).details[0]
    assert named(made, "layer 2")[1] == pytest.approx(0.47) and named(made, "inside")[0] == pytest.approx(0.47)
    made = apply(side_moved(home_with(WALL), WALL, "d.b3", side(WALL, 2, (1, 0)), -0.015), home_with(WALL)).details[0]
    assert named(made, "layer 2")[1] == pytest.approx(0.405) and named(made, "inside")[0] == pytest.approx(0.405)


def test_what_is_left_goes_to_what_lay_beyond_each_stretch() -> None:
    """Insulation at a slab's edge, half in the ground, half in air: thinner, the ground takes its lower part and the air its upper."""
    detail = detail_of(slab_edge(), "d")
    home = home_with(detail)
    change, ident = block_added(home, detail, ((-0.43, -0.5), (-0.35, 0.3)), "XPS", g(0.036))
    made = apply(change, home)
    assert named(made.details[0], "XPS") == pytest.approx((-0.43, -0.35, -0.5, 0.3))
    checked(section_of(made.details[0]))
    now = made.details[0]
    n = side(now, [b.id for b in now.blocks].index(ident), (-1, 0))
    thin = apply(side_moved(made, now, ident, n, -0.04), made).details[0]
    checked(section_of(thin))
    ground = shapely.union_all([shapely.Polygon(b.outline) for b in thin.blocks if b.name.startswith("ground")])
    assert ground.covers(shapely.box(-0.43, -0.5, -0.39, 0)) and not shapely.intersects(ground, shapely.box(-0.42, 0.05, -0.4, 0.2))
    air = shapely.union_all([shapely.Polygon(s.outline) for s in thin.spaces if s.kind == "outside"])
    assert air.covers(shapely.box(-0.43, 0.001, -0.39, 0.29))


def test_a_block_eaten_up_goes_and_one_cut_in_two_is_two() -> None:
    home = home_with(WALL)
    gone = apply(side_moved(home, WALL, "d.b2", side(WALL, 1, (1, 0)), 0.03), home).details[0]
    assert [b.name for b in gone.blocks] == ["layer 0", "layer 1"] and named(gone, "layer 1")[1] == pytest.approx(0.43)
    change, _ = block_added(home, WALL, ((0.3, 0.4), (0.4, 0.6)), "wood", g(0.13))
    cut = apply(change, home).details[0]
    assert sorted(b.name for b in cut.blocks) == ["layer 0", "layer 1", "layer 1", "layer 2", "wood"]
    assert len({b.id for b in cut.blocks}) == 5
    change, _ = block_added(home, WALL, ((0.1, 0.4), (0.2, 0.6)), "stone", g(2.0))
    inside = apply(change, home).details[0]
    assert sum(shapely.Polygon(b.outline).area for b in inside.blocks) == pytest.approx(0.42)
    checked(section_of(inside))


def test_a_side_goes_where_it_is_typed() -> None:
    made = apply(side_typed(home_with(WALL), WALL, "d.b2", "right", 0.385), home_with(WALL)).details[0]
    assert named(made, "layer 1") == pytest.approx((0.3, 0.385, 0, 1)) and named(made, "layer 2")[0] == pytest.approx(0.385)
    with pytest.raises(ChangeRefused, match="nothing would be left"):
        side_typed(home_with(WALL), WALL, "d.b2", "right", 0.25)
    eaves = detail_of(mitred(BRICK, BRICK, 45), "d")
    slope = next(b for b in eaves.blocks if b.name == "roof 1")
    with pytest.raises(ChangeRefused, match="no straight side at its"):
        side_typed(home_with(eaves), eaves, slope.id, "right", 2.0)


def test_a_block_taken_away_leaves_no_hole() -> None:
    home = home_with(WALL)
    made = apply(block_removed(home, WALL, "d.b2"), home).details[0]
    checked(section_of(made))
    assert len(made.blocks) == 2
    by_list = apply(with_detail(home, Remove(part="d.b2")), home)
    assert by_list.details[0] == made, "also by the key of a list"
    only = replace(WALL, blocks=WALL.blocks[:1])
    with pytest.raises(ChangeRefused, match="the only block"):
        block_removed(home_with(only), only, "d.b1")


def test_a_lambda_typed_for_a_layer_s_block_is_its_own() -> None:
    followed = replace(WALL, blocks=tuple(b.model_copy(update={"follows": "x"}) for b in WALL.blocks))
    home = home_with(followed)
    made = apply(with_detail(home, SetValue(part="d.b2", field="conductivity", value=g(0.05))), home).details[0]
    assert made.blocks[1].follows == "" and made.blocks[1].conductivity == g(0.05) and made.blocks[0].follows == "x"
    assert with_detail(home, SetValue(part="d.b2", field="name", value="y")) == SetValue(part="d.b2", field="name", value="y")


@pytest.mark.parametrize("seed", range(12))
def test_random_drags_leave_a_whole_section(seed: int) -> None:
    """Sections of every kind; no drag, accepted or refused, leaves a hole or an overlap, and all drawn area stays."""
    rnd = random.Random(seed)
    section = (plane(((0.02, 0.8), (0.1, 0.04), (0.3, 0.77)), 1.0), corner(BRICK), mitred(BRICK, BRICK, 35), frame(), slab_edge())[seed % 5]
    now = detail_of(section, "d")
    whole = shapely.union_all([shapely.Polygon(x.outline) for x in (*now.blocks, *now.spaces)], grid_size=1e-7)
    moved = 0
    for _ in range(12):
        block = rnd.choice(now.blocks)
        n = rnd.randrange(len(block.outline))
        p, q, out = side_of(block.outline, n)
        middle = shapely.Point((p[0] + q[0]) / 2 + out[0] * 1e-3, (p[1] + q[1]) / 2 + out[1] * 1e-3)
        if not whole.contains(middle):
            continue  # the rim of the drawing: dragging it changes how far the section reaches
        try:
            made = with_side_moved(now, block.id, n, rnd.choice((-0.02, -0.005, 0.005, 0.015)))
        except ChangeRefused:
            continue
        try:
            checked(section_of(made))
        except SectionFault as fault:
            assert "touches no block" in str(fault) or "no space" in str(fault) or "ends at" in str(fault), fault
            continue
        every = shapely.union_all([shapely.Polygon(x.outline) for x in (*made.blocks, *made.spaces)], grid_size=1e-7)
        assert shapely.symmetric_difference(every, whole).area < 1e-5
        now, moved = made, moved + 1
    assert moved > 2
