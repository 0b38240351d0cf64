"""What a drag in a drawing does to a size: snapping, bounds, keys; and that every drawing's handles hold to it."""

from __future__ import annotations

import re

import pytest

from nuthatch.core.assess import Assessment
from nuthatch.core.model.home import find
from nuthatch.core.sketch import Handle, Path, Pull, Sketch, Text, distance, handle_at, otherwise, snapping, to_svg, with_room
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.build_ups.section import section_in
from nuthatch.core.views.shape.facade import facade

EDGE = Pull("layer", "thickness", 0.203, (0.002, 0.0), 0.005, 0.001, 0.001, 0.5)


@pytest.mark.parametrize(
    ("dx", "dy", "after"),
    [
        (0, 0, 0.203),  # taken hold of and let go: nothing moves, nothing snaps
        (3, 0, 0.210),  # 0.203 + 0.006 = 0.209, to the nearest 5 mm
        (-3, 50, 0.195),  # 0.197; downward is worth nothing here
        (1000, 0, 0.5),
        (-1000, 0, 0.001),
    ],
)
def test_a_drag_snaps_and_stays_within_bounds(dx: float, dy: float, after: float) -> None:
    assert EDGE.after(dx, dy) == pytest.approx(after, abs=1e-9)


def test_a_key_moves_one_fine_step_the_way_the_value_grows() -> None:
    assert EDGE.nudged(1, 0) == pytest.approx(0.204) and EDGE.nudged(-1, 0) == pytest.approx(0.202)
    assert EDGE.nudged(0, 1) == 0.203, "a key across does nothing"
    up = Pull("w", "sill", 0.9, (0.0, -0.01), 0.05, 0.01)
    assert up.nudged(0, -1) == pytest.approx(0.91) and up.after(0, -20) == pytest.approx(1.1)
    assert up.nudged(0, 1) == pytest.approx(0.89)
    assert Pull("w", "sill", 0.0, (0.0, -0.01), 0.05, 0.01).nudged(0, 1) == 0.0, "never below its least"


def test_steps_are_those_of_the_units_shown() -> None:
    assert snapping(True)[:2] == (0.005, 0.001) and snapping(False)[:2] == (0.05, 0.01)
    with using(INCH_POUND):
        # one inch is 25.4 mm, exact by definition
        assert snapping(True)[:2] == pytest.approx((0.00635, 0.0015875)) and snapping(False)[:2] == pytest.approx((0.0254, 0.00635))


def test_a_line_within_reach_goes_before_an_area_and_the_nearest_line_first() -> None:
    made = Sketch(100, 100)
    area = Handle("area", ((0, 0), (80, 0), (80, 80), (0, 80)), ())
    near, far = Handle("near", ((20, 0), (20, 80)), ()), Handle("far", ((29, 0), (29, 80)), ())
    made.handles += [far, near, area]
    assert handle_at(made, 23, 40) is near and handle_at(made, 27, 40) is far and handle_at(made, 60, 40) is area
    assert handle_at(made, 95, 40) is None
    assert distance(((0, 0), (3, 4)), 3, 4) == 0 and distance(((0, 0), (10, 0)), 13, 4) == 5


def test_handles_of_section_and_face_stand_where_their_sizes_are(form_assessed: Assessment) -> None:
    """Dragging a layer's edge by its own drawn width doubles the layer; a window moved along its face keeps inside it."""
    a = form_assessed
    wall = a.home.buildups[0]
    for handle in section_in(a, wall).handles:
        layer, (pull,) = find(a.home, handle.id), handle.pulls
        assert pull.value == layer.thickness.value
        wide = layer.thickness.value / pull.per[0]
        assert pull.after(wide, 0) == pytest.approx(2 * layer.thickness.value, abs=0.0026)
    handle = next(h for h in facade(a, "wall-front").handles if h.id == "w-01")
    window = find(a.home, "w-01")
    pulls = {p.field: p for p in handle.pulls}
    assert pulls["position"].value == window.position.value and pulls["sill"].value == window.sill.value
    # the front is 7.2 m long: a 2.4 m window can stand at 0 to 4.8 m from the left
    assert pulls["position"].after(-1e6, 0) == 0 and pulls["position"].after(1e6, 0) == pytest.approx(7.2 - 2.4)
    front = a[SOLID].outer["wall-front"]
    assert pulls["sill"].after(0, 1e6) == min(p[2] for p in front)
    assert pulls["sill"].after(0, -1e6) == pytest.approx(max(p[2] for p in front) - window.height.value, abs=1e-6)
    row = next(h for h in facade(a, "wall-front").handles if h.id == "w-03")
    # two of 1.5 m with 0.4 m between them
    assert next(p for p in row.pulls if p.field == "position").after(1e6, 0) == pytest.approx(7.2 - 3.4)


def test_what_is_otherwise_shows_and_a_drawing_at_another_scale_does_not() -> None:
    def of(*lefts: float) -> Sketch:
        made = Sketch(100, 100)
        for x in lefts:
            made.line((x, 0), (x, 50))
        return made

    assert [p.points[0][0] for p in otherwise(of(1, 2, 3), of(1, 2, 4))] == [3]
    assert otherwise(of(1, 2, 3), of(4, 5, 6)) == () == otherwise(of(1, 2), of(1, 2))


def test_neighbours_of_one_style_are_written_as_one_and_nothing_is_cut_out() -> None:
    """Areas that overlap run the same way round, else the nonzero rule of SVG would leave a hole; what lies above stays above."""
    made = Sketch(100, 100, "t")
    made.path([(0, 0), (10, 0), (10, 10), (0, 10)], fill="stone", stroke="")
    made.path([(5, 5), (5, 15), (15, 15), (15, 5)], fill="stone", stroke="")  # the other way round
    made.path([(0, 0), (9, 0), (9, 9)], fill="wood", stroke="")
    made.path([(1, 1), (2, 2)], closed=False)
    made.path([(3, 3), (4, 4)], closed=False)
    made.path([(20, 20), (30, 20), (30, 30)], fill="stone", stroke="ink")
    made.path([(22, 20), (32, 20), (32, 30)], fill="stone", stroke="ink")
    svg = to_svg(made, {t: f"#{n:06x}" for n, t in enumerate(("stone", "wood", "ink", "chestnut", "lichen", "white"))}, "Inter")
    paths = re.findall(r'<path d="([^"]*)" fill="([^"]*)"', svg)
    assert [len(d.split("M")) - 1 for d, _ in paths] == [2, 1, 2, 1, 1], "with a line around them areas stay apart: each lies over the last"
    turns = []
    for ring in paths[0][0].split("M")[1:]:
        points = [tuple(map(float, p.split())) for p in ring.replace("Z", "").split("L")]
        turns.append(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, points[1:] + points[:1], strict=True)) > 0)
    assert turns[0] == turns[1]


def test_a_drawing_is_as_wide_as_its_texts_ask_for() -> None:
    """Amounts in both units once were cut at the sides of the energy's way."""
    made = Sketch(100, 40, "a way")
    made.rect(20, 10, 60, 20, fill="lichen", id="bar")
    made.text(18, 20, "4 123 kWh/a (14 069 kBtu/yr)", size=10, bold=True, anchor="end")
    made.text(82, 20, "heating 1 436 kWh/a", size=10)
    wide = with_room(made)
    bar, left, right = wide.items
    assert isinstance(bar, Path) and isinstance(left, Text) and isinstance(right, Text)
    assert left.x - 0.5 * 10 * len(left.text) > 0 and right.x + 0.5 * 10 * len(right.text) < wide.width
    assert (
        bar.points[1][0] - bar.points[0][0] == 60
        and bar.id == "bar"
        and left.x - bar.points[0][0] == -2
        and right.x - bar.points[0][0] == 62
    )
    assert made.width == 100 and with_room(wide) is wide
    plain = Sketch(100, 40)
    plain.text(50, 20, "none", size=10, anchor="middle")
    assert with_room(plain) is plain
