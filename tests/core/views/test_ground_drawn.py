"""Ground that slopes, in plan and section."""

from __future__ import annotations

import pytest
import shapely

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.edits import plan_storeys, roof_edits
from nuthatch.core.model.home import Home
from nuthatch.core.plans.polygons import Point, sides
from nuthatch.core.sketch import Path, Text
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import using, with_unit
from nuthatch.core.views.shape.axonometric import View, axonometric, shown_solid
from nuthatch.core.views.shape.cut_view import cut_view
from nuthatch.core.views.shape.pictures import ELEVATIONS
from nuthatch.core.views.shape.plan_table import storey_plan
from tests.plan_home import plan_home
from tests.simple_home import g


def sloping() -> Home:
    home = apply(plan_storeys.ground_heights(plan_home()), plan_home())
    assert home.shape.plans is not None
    for spot, z in zip(home.shape.plans.heights, (-0.2, 1.2, 0.9, 0.3, -0.2), strict=True):
        home = apply(SetValue(part=spot.id, field="z", value=g(z)), home)
    return home


def test_heights_of_the_ground_stand_in_the_plan_of_the_lowest_storey_alone() -> None:
    a = assess(sloping(), None)
    spots = {s.id: s for s in a.home.shape.plans.heights}  # type: ignore[union-attr]
    for storey, there in (("ground", True), ("upper", False)):
        made = storey_plan(a, storey, size=(640, 440))
        texts = {i.id: i for i in made.items if isinstance(i, Text) and i.id in spots}
        assert (texts.keys() == spots.keys()) == there and ({h.id for h in made.handles} >= spots.keys()) == there
        for ident, text in texts.items():
            assert text.text == with_unit(spots[ident].z.value, "length")  # type: ignore[union-attr]
            long = 5.5 * len(text.text)
            left = text.x - (long if text.anchor == "end" else 0)
            assert left > 0 and left + long < 640, "the level stands on the sheet"


def test_no_earth_is_drawn_inside_the_home() -> None:
    """The ground rises through the section: the home is drawn over it, free of it."""
    made = cut_view(assess(sloping(), None), 0, 0.5)
    shapes = [(i.fill, shapely.Polygon(i.points)) for i in made.items if isinstance(i, Path) and i.fill and len(i.points) > 2]
    earth = next(n for n, (fill, _) in enumerate(shapes) if fill == "chestnut_pale")
    inside = [s for fill, s in shapes[earth + 1 :] if fill == "paper"]
    assert inside and shapes[earth][1].intersects(shapely.union_all(inside)), "they lie over each other, the home above"


def grounds(a: Assessment, view: View) -> list[Path]:
    made = axonometric(a, view, size=(640, 440))
    return [i for i in made.items if isinstance(i, Path) and i.stroke == "chestnut"]


def test_the_ground_lies_around_the_solid_seen_from_above() -> None:
    a = assess(sloping(), None)
    surface, *net = grounds(a, View())
    assert surface.fill == "chestnut_pale" and len(net) > 6, "ground that slopes has a net over it"
    assert len(grounds(assess(plan_home(), None), View())) == 1, "level ground has none"
    assert grounds(a, View(height=-20)) == [], "from below it would hide the home"
    assert grounds(assess(plan_home(ground=None), None), View()) == [], "nothing is said of it"
    assert all(0 <= x <= 640 and 0 <= y <= 440 for x, y in surface.points)


def test_an_elevation_shows_the_ground_line_of_its_side_to_scale() -> None:
    """Seen from the south the ground is level at −0.20 m; from the west it rises from there to 1.20 m and more, over 10 m."""
    a = assess(sloping(), None)
    (south,), (west,) = (grounds(a, View(turn, 0.0)) for turn in (ELEVATIONS["south"], ELEVATIONS["west"]))
    assert max(y for _, y in south.points) - min(y for _, y in south.points) < 1e-6
    rise = max(y for _, y in west.points) - min(y for _, y in west.points)
    wide = max(x for x, _ in west.points) - min(x for x, _ in west.points)
    assert rise / wide == pytest.approx(1.4 / 13.2, rel=1e-6)


def test_the_way_to_a_hole_in_a_face_is_no_edge() -> None:
    """A dormer in the middle of a slope makes a hole in it: the ring of the slope walks to the hole and back."""
    home = plan_home()
    part = roof_edits.roof_front(home, "upper", ((7, 1), (8, 1), (8, 2)), 6.0)
    a = assess(apply(part, home), None)
    outline = next(p for k, p in shown_solid(a[SOLID]).items() if k.startswith("main.slope-1") and len(set(p)) < len(p))
    twice = {(p, q) for p, q in sides(outline) if (q, p) in set(sides(outline))}
    assert twice
    made = axonometric(a, View(0.0, 0.0), size=(640, 440))
    drawn = {frozenset(i.points) for i in made.items if isinstance(i, Path) and i.stroke == "ink" and len(i.points) == 2}
    assert len(drawn) >= len(outline) - len(twice), "its edges are drawn one by one"
    wall = next(i for i in made.items if isinstance(i, Path) and i.id == "up.a")  # from x 0 to 10 m, from z 3 to 6 m
    (left, right), (top, low) = ([f(p[n] for p in wall.points) for f in (min, max)] for n in (0, 1))

    def at(p: Point) -> tuple[float, float]:
        return left + p[0] * (right - left) / 10, low - (p[2] - 3) * (low - top) / 3

    def there(p: Point, q: Point) -> bool:
        ends = shapely.MultiPoint([at(p), at(q)])
        return any(shapely.hausdorff_distance(ends, shapely.MultiPoint(list(line))) < 0.1 for line in drawn)

    assert not any(there(p, q) for p, q in twice)
    assert all(there(p, q) for p, q in sides(outline) if (p, q) not in twice), "the others are there"


def test_walls_come_out_of_the_ground_along_a_line() -> None:
    """Ground one metre above the floor: along each wall that is seen, 10 m and 6 m long and more, at that level."""
    a = assess(plan_home(ground=g(1.0)), None)
    lines = [i for i in grounds(a, View()) if i.width == 2.0]
    assert len(lines) >= 3 and all(len(i.points) == 2 for i in lines)
    assert not [i for i in grounds(assess(plan_home(), None), View()) if i.width == 2.0], "floors above the ground have none"


def test_levels_do_not_stand_over_lengths() -> None:
    """Narrow, in feet: the level of the corner between two lengths goes to its other side."""
    with using("inch-pound"):
        made = storey_plan(assess(sloping(), None), "ground", size=(480, 420))
    ids = {h.id for h in made.handles}
    texts = [i for i in made.items if isinstance(i, Text) and (i.id in ids or i.id.startswith("length:")) and i.text]
    levels = [t for t in texts if t.color == "chestnut"]
    assert len(levels) == 5
    for level in levels:
        assert not [t.text for t in texts if t is not level and _over(level, t)]


def _over(a: Text, b: Text) -> bool:
    boxes = []
    for t in (a, b):
        wide = 0.5 * t.size * len(t.text)
        left = t.x - {"start": 0.0, "middle": wide / 2, "end": wide}[t.anchor]
        boxes.append(shapely.box(left, t.y - t.size * 0.8, left + wide, t.y))
    return bool(boxes[0].intersects(boxes[1]))
