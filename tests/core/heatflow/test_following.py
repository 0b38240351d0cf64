"""Details go with their build-ups: the same as one drawn anew from them, whatever grew, and what was drawn by hand goes along."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.detail_starts import section_for
from nuthatch.core.heatflow.following import drawn_from, followed
from nuthatch.core.heatflow.of_home import detail_of, section_of
from nuthatch.core.heatflow.section import checked
from nuthatch.core.heatflow.stages import FOLLOWED, OUTLINES, UNDER
from nuthatch.core.junctions.found import Found
from nuthatch.core.junctions.stages import FOUND
from nuthatch.core.library import demo_home
from nuthatch.core.model.details import Detail
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from tests.simple_home import g
from tests.undetailed import at_rest

THICKER = {
    "osier-lane-7": {"outer-wall.3": 0.30, "outer-wall.1": 0.05, "pitched-roof.3": 0.22, "slab.1": 0.26, "outer-wall.6": 0.025},
    "weir-cottage": {"brick-wall.2": 0.035, "brick-inside.2": 0.12, "loft-ceiling.1": 0.3, "cellar-floor.1": 0.04},
    "sail-loft": {"starter-m-3m-wall.2": 0.2, "starter-m-3m-roof.4": 0.3, "starter-m-3m-floor.1": 0.02},
}


def made(home: Home) -> Assessment:
    return assess(home, climate_for(home, None))


def drawn(a: Assessment, found: Found) -> Detail:
    of = section_for(a, "x", found)
    return detail_of(of.section, "d", ties=of.ties)


def areas(detail: Detail) -> dict[str, float]:
    return {b.name: shapely.Polygon(b.outline).area for b in detail.blocks}


@pytest.fixture(scope="module", params=list(THICKER))
def before_and_after(request: pytest.FixtureRequest) -> tuple[Assessment, Assessment]:
    home = demo_home(request.param)
    later = home
    for layer, t in THICKER[request.param].items():
        later = apply(SetValue(part=layer, field="thickness", value=g(t)), later)
    layer = next(x for b in later.buildups for x in b.layers if x.id == next(iter(THICKER[request.param])))
    assert layer.conductivity is not None
    later = apply(SetValue(part=layer.id, field="conductivity", value=g(layer.conductivity.value * 1.3)), later)
    return made(home), made(later)


def test_a_detail_that_went_along_is_the_one_drawn_anew(before_and_after: tuple[Assessment, Assessment]) -> None:
    """Every junction of the demo homes that is drawn from its build-ups; what is cut off farther away changes nothing."""
    a, b = before_and_after
    tried = 0
    for f in a[FOUND]:
        try:
            then = drawn(a, f)
        except ValueError:
            continue
        now = next((x for x in b[FOUND] if x.key == f.key), None)
        if now is None:  # a thicker ceiling lies lower: the shape has another junction there
            continue
        went = followed(then, {x.id: x for x in b.home.buildups}, b[UNDER])
        anew = drawn(b, now)
        tried += 1
        assert [x.conductivity and x.conductivity.value for x in went.blocks] == pytest.approx(
            [x.conductivity and x.conductivity.value for x in anew.blocks], rel=1e-5
        ), f.family
        for old, new in zip(went.flanks, anew.flanks, strict=True):
            assert old.u is not None and new.u is not None and old.u.value == pytest.approx(new.u.value, rel=1e-6)
            assert old.inner and old.outer and new.inner and new.outer
            if f.bend != "coplanar" or old.name != went.flanks[-1].name:
                more = old.outer.value - old.inner.value, new.outer.value - new.inner.value
                assert more[0] == pytest.approx(more[1], abs=1e-6), (f.family, old.name)
            assert old.lie is None or (new.lie is not None and dict(old.lie.layers) == pytest.approx(dict(new.lie.layers)))
        checked(section_of(went))
    assert tried >= 5


def test_the_heat_flow_is_that_of_one_drawn_anew() -> None:
    from nuthatch.core.heatflow.solved import solved

    home = demo_home("osier-lane-7")
    later = apply(SetValue(part="outer-wall.3", field="thickness", value=g(0.32)), home)
    a, b = made(home), made(later)
    for family in ("outer corner", "eaves", "ground floor"):
        f, now = (next(x for x in of[FOUND] if x.family == family) for of in (a, b))
        went = followed(drawn(a, f), {x.id: x for x in later.buildups}, b[UNDER])
        one, other = solved(section_of(went)), solved(section_of(drawn(b, now)))
        assert one.psi_internal == pytest.approx(other.psi_internal, abs=1e-3), family
        assert one.psi_external == pytest.approx(other.psi_external, abs=1e-3), family
        assert one.f_rsi == pytest.approx(other.f_rsi, abs=2e-3)


def test_what_was_drawn_by_hand_goes_along_and_keeps_its_size() -> None:
    """A board outside of the corner stays on the wall's face; λ that was typed stays typed."""
    home = demo_home("osier-lane-7")
    a = made(home)
    then = drawn(a, next(f for f in a[FOUND] if f.family == "outer corner"))
    face = max(max(x for x, _ in b.outline) for b in then.blocks)
    outer = min(min(y for _, y in b.outline) for b in then.blocks)
    board = then.blocks[0].model_copy(update={"id": "d.own", "name": "board", "follows": "", "conductivity": g(0.03)})
    corners = ((0.3, outer - 0.04), (0.8, outer - 0.04), (0.8, outer), (0.3, outer))
    board = board.model_copy(update={"outline": corners})
    with_board = replace(then, blocks=(*then.blocks, board))
    later = apply(SetValue(part="outer-wall.3", field="thickness", value=g(0.32)), home)
    now = followed(with_board, {b.id: b for b in later.buildups}, None)
    moved = np.array(now.blocks[-1].outline) - np.array(corners)
    assert np.abs(moved - [0, -0.1]).max() < 1e-6 and now.blocks[-1].conductivity == g(0.03) and face > 0


def test_other_layers_are_not_followed() -> None:
    home = demo_home("osier-lane-7")
    a = made(home)
    then = drawn(a, next(f for f in a[FOUND] if f.family == "outer corner"))
    build = next(b for b in home.buildups if b.id == "outer-wall")
    fewer = replace(build, layers=build.layers[:-1])
    assert followed(then, {build.id: fewer}) is then
    assert followed(then, {}) is then and followed(then, {build.id: build}) is then


def test_details_of_a_home_go_along_in_its_results() -> None:
    home = demo_home("osier-lane-7")
    later = apply(SetValue(part="outer-wall.3", field="thickness", value=g(0.32)), home)
    a, b = made(home), made(later)
    corner = next(d for d in home.details if "orner" in d.name)
    assert a.all_of(FOLLOWED)[corner.id] is corner or corner.flanks[0].lie is None
    if corner.flanks[0].lie is not None:
        grown = sum(areas(b.all_of(FOLLOWED)[corner.id]).values()) - sum(areas(corner).values())
        assert grown > 0.15


def test_a_detail_is_drawn_anew_for_its_own_build_ups_only(osier_assessed: Assessment) -> None:
    """A layer of the ceiling is nothing to the detail of a corner of walls: a keystroke there must not draw it again."""
    a = osier_assessed
    mine = {d.id: drawn_from(d) for d in a.home.details}
    build = next(b for b in a.home.buildups if any(b.id in m for m in mine.values()) and not all(b.id in m for m in mine.values()))
    layer = next(x for x in build.layers if x.thickness is not None)
    change = SetValue(part=layer.id, field="thickness", value=declared(layer.thickness.value + 0.01))  # type: ignore[union-attr]
    ran = set(assess(apply(change, a.home), a.climate, a).state.ran)
    again = {name.partition("/")[2] for name in ran if name.startswith(f"{FOLLOWED.name}/")}
    assert again == {ident for ident, own in mine.items() if build.id in own} and 0 < len(again) < len(mine)


def test_what_stands_beside_a_detail_is_followed_too(osier_assessed: Assessment) -> None:
    detail = next(d for d in osier_assessed.home.details if d.flanks and d.flanks[0].lie is not None)
    lie = replace(detail.flanks[0].lie, buildup="another")  # type: ignore[type-var]
    assert "another" not in drawn_from(detail) and "another" in drawn_from(replace(detail, beside=(lie,)))


def test_a_detail_at_rest_has_no_outlines_to_follow() -> None:
    """Trials fix all details: outlines of what goes along with nothing once took a third of the time of each."""
    home = demo_home("osier-lane-7")
    assert all(made(home).all_of(OUTLINES)[d.id] for d in home.details if drawn_from(d))
    assert not any(made(at_rest(home)).all_of(OUTLINES).values()) and len(home.details) > 3


def test_walls_in_line_go_each_with_its_own_build_up() -> None:
    """A floor at a wall: the storey below was built otherwise. The wall above grows, what lies below stays."""
    home = demo_home("osier-lane-7")
    wall = next(b for b in home.buildups if b.id == "outer-wall")
    detail = next(d for d in home.details if d.name == "Upper floors at the wall")
    upper, lower = detail.flanks
    assert upper.lie is not None and lower.lie is not None and upper.lie.away == -lower.lie.away == 90.0
    apart = replace(detail, flanks=(upper, replace(lower, lie=replace(lower.lie, buildup="below"))))
    thick = replace(
        wall, layers=tuple(replace(x, thickness=g(x.thickness.value + 0.1)) if x.id == "outer-wall.3" else x for x in wall.layers)
    )  # type: ignore[union-attr]
    now = followed(apart, {"outer-wall": thick, "below": wall})
    old, new = ({b.id: shapely.Polygon(b.outline) for b in d.blocks} for d in (apart, now))
    below, above = ([i for i, p in old.items() if way(p)] for way in (lambda p: p.bounds[3] <= -0.3 + 1e-6, lambda p: p.bounds[1] >= -1e-6))
    assert len(below) >= 3 and all(new[i].equals(old[i]) for i in below)
    assert len(above) >= 3 and all(new[i].bounds[0] == pytest.approx(old[i].bounds[0] + 0.1) for i in above), "it grows into the room"
