"""Ground that slopes, in plan and section."""

from __future__ import annotations

import shapely

from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.edits import plan_storeys
from nuthatch.core.model.home import Home
from nuthatch.core.sketch import Path, Text
from nuthatch.core.units import with_unit
from nuthatch.core.views.shape.cut_view import cut_view
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
