"""Outlines that came to cross themselves, as a grown or dragged one may, on sloping ground: no exception, whatever is said of them."""

from __future__ import annotations

import pytest
import shapely

from nuthatch.core.plans.arrangement import PlanOutline
from nuthatch.core.plans.ground import Slope
from nuthatch.core.plans.roofs import RoofPlane
from nuthatch.core.plans.room_shapes import Ceiling, divided, measured
from nuthatch.core.solid.massing import massing

SLOPE = Slope(((-5.0, -5.0, -1.0), (15.0, -5.0, 0.5), (15.0, 15.0, 1.0), (-5.0, 15.0, 0.0)))
BOW = ((0.0, 0.0), (8.0, 6.0), (8.0, 0.0), (0.0, 6.0))
SPIKE = ((0.0, 0.0), (8.0, 0.0), (8.0, 6.0), (4.0, 6.0), (4.0, 9.0), (4.0, 6.0), (0.0, 6.0))
BOX = ((3.0, -2.0), (9.0, -2.0), (9.0, 4.0), (3.0, 4.0))


@pytest.mark.parametrize("crossed", [BOW, SPIKE])
def test_a_crossed_outline_on_sloping_ground_ends_no_program(crossed: tuple[tuple[float, float], ...]) -> None:
    """Found by a random walk of edits: joining an outline that crosses itself with another raised inside the library."""
    outlines = (PlanOutline("a", "home", crossed, 0.0, 3.0), PlanOutline("b", "home", BOX, 0.0, 3.0))
    made = massing(outlines, (), SLOPE)
    assert made is not None


@pytest.mark.parametrize("crossed", [BOW, SPIKE])
def test_a_room_in_or_under_a_crossed_outline_is_measured(crossed: tuple[tuple[float, float], ...]) -> None:
    """The same walk: a room under a ceiling that crosses itself, and walls in an outline that does."""
    level = RoofPlane("level", 0.0, 0.0, 2.5)
    box, odd = shapely.Polygon(BOX), shapely.Polygon(crossed)
    under = measured(box, (Ceiling(odd, level),))
    within = measured(odd, (Ceiling(box, level),))
    assert 0 < under.area < box.area and within.area == pytest.approx(under.area) and under.volume == pytest.approx(2.5 * under.area)
    assert all(p.is_valid for p in divided(odd, (((1.0, -1.0), (1.0, 7.0), 0.2),)))
