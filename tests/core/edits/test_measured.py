"""A window put where a wall is clicked; the distance between two points typed."""

from __future__ import annotations

import numpy as np
import pytest

from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import ChangeRefused, apply
from nuthatch.core.edits.measured import apart, window_at
from nuthatch.core.edits.openings_kept import outlines_of
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import InnerWall, Side
from nuthatch.core.solid.opening_places import in_space, misplaced, stands
from tests.plan_home import plan_home


def place(home: Home, ident: str) -> tuple[list[float], list[float]]:
    opening = next(o for o in home.openings if o.id == ident)
    polygon = outlines_of(home)[opening.face]
    stand = next(s for s in stands(home.openings, opening.face, polygon) if s.opening.id == ident)
    corners = np.array(in_space(polygon, stand, 0.0))
    return corners.min(axis=0).round(3).tolist(), corners.max(axis=0).round(3).tolist()


@pytest.mark.parametrize(
    ("storey", "click", "low", "high"),
    [
        ("ground", (8.4, 0.12), (7.8, 0, 0.9), (9.0, 0, 2.1)),
        ("upper", (8.4, 0.12), (7.8, 0, 3.9), (9.0, 0, 5.1)),
        ("ground", (9.9, 5.5), (10, 5.0, 0.9), (10, 5.8, 2.1)),
        ("ground", (0.0, 0.1), (0, 0, 0.9), (0, 1.2, 2.1)),
    ],
)
def test_a_window_stands_where_it_is_clicked(
    storey: str, click: tuple[float, float], low: tuple[float, ...], high: tuple[float, ...]
) -> None:
    """1.2 m wide around the click, 0.9 m above the floor of its storey; shifted where the wall ends; beside the garage as wide as is left."""
    home = replace(plan_home(), openings=())
    if click[0] == 9.9:  # of the wall to the garage one metre is free: a window of 0.8 m
        home = apply(window_at(home, "ground", (5.0, 0.1), outlines_of(home)), home)
        first = home.openings[0]
        home = replace(home, openings=(replace(first, width=replace(first.width, value=0.8)),))  # type: ignore[type-var]
    made = apply(window_at(home, storey, click, outlines_of(home)), home)
    found = place(made, made.openings[-1].id)
    if click == (9.9, 5.5):
        assert found[0][1] >= 5.0 and found[1][1] <= 6.0
    elif click == (0.0, 0.1):
        assert found[1][0] - found[0][0] + found[1][1] - found[0][1] == pytest.approx(1.2), "in one of the two walls that meet there"
    else:
        assert found == (pytest.approx(list(low)), pytest.approx(list(high)))
    assert dict(misplaced(made.openings, outlines_of(made))) == {}


def test_the_next_window_is_like_the_last() -> None:
    home = plan_home()
    made = apply(window_at(home, "ground", (3.5, 0.1), outlines_of(home)), home)
    new, last = made.openings[-1], home.openings[-1]
    assert (new.type, new.width, new.height, new.shade_winter) == (last.type, last.width, last.height, last.shade_winter)
    assert new.sill is not None and new.sill.value == pytest.approx(0.9), "as high above its floor as the last above its own"
    assert {o.id for o in made.openings} > {o.id for o in home.openings} and len({o.name for o in made.openings}) == 9
    a = assess(made, None)
    assert not [q.text for q in a.questions if q.part == new.id]


def test_a_click_beside_every_wall_is_refused() -> None:
    home = plan_home()
    for click in ((5.0, 3.0), (30.0, 0.0)):
        with pytest.raises(ChangeRefused, match="no outer wall here"):
            window_at(home, "ground", click, outlines_of(home))


def test_a_wall_comes_to_its_distance_from_another() -> None:
    """From the west wall to the east wall 10 m; typed 12 m the east wall moves, with what lies on it; the other way round the west one."""
    home = plan_home()
    moved = apply(apart(home, "ground", (0.0, 2.0), (10.0, 2.0), (12.0, 2.0)), home)
    assert find(moved, "low.b").x.value == find(moved, "garage.a").x.value == 12  # type: ignore[union-attr]
    other = apply(apart(home, "ground", (10.0, 2.0), (0.0, 2.0), (-2.0, 2.0)), home)
    assert find(other, "low.a").x.value == -2 and find(other, "low.b").x.value == 10  # type: ignore[union-attr]


def test_a_diagonal_distance_moves_a_corner_or_the_wall_most_across() -> None:
    """Between two corners askew: along the line between them, whatever is typed or clicked beside it."""
    home = plan_home()
    made = apply(apart(home, "ground", (0.0, 0.0), (10.0, 6.0), (20.0, 12.0)), home)
    c = find(made, "low.c")
    assert isinstance(c, Side) and c.x is not None and c.y is not None
    assert (c.x.value, c.y.value) == pytest.approx((20, 12))


def test_an_inner_wall_moves_whole() -> None:
    home = plan_home()
    made = apply(apart(home, "ground", (0.0, 2.0), (5.0, 2.0), (4.5, 2.4)), home)
    wall = find(made, "ground.w1")
    assert isinstance(wall, InnerWall) and (wall.x.value, wall.to_x.value) == (4.5, 4.5)  # type: ignore[union-attr]
    assert (wall.y.value, wall.to_y.value) == (0.3, 5.6), "along the line between the two points alone"  # type: ignore[union-attr]


def test_what_is_no_distance_is_refused() -> None:
    home = plan_home()
    with pytest.raises(ChangeRefused, match="as it was"):
        apart(home, "ground", (0.0, 2.0), (10.0, 2.0), (10.0, 2.0))
    with pytest.raises(ChangeRefused, match="on no wall"):
        apart(home, "ground", (0.0, 2.0), (3.0, 2.0), (4.0, 2.0))
