"""Details that start from the build-ups that meet: published and computed values of corners and eaves (docs/methods: junctions), conversions."""

from __future__ import annotations

from math import log

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, Remove, SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.detail_edits import block_added, with_detail
from nuthatch.core.edits.detail_starts import redrawn, started
from nuthatch.core.edits.detail_starts import section_for as drawn_for
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.moisture_stages import AIRS
from nuthatch.core.heatflow.of_home import detail_of, section_of
from nuthatch.core.heatflow.plies import Ply
from nuthatch.core.heatflow.section import Section
from nuthatch.core.heatflow.solved import Solved, solved
from nuthatch.core.heatflow.stages import FOLLOWED, NEEDS, SOLVED
from nuthatch.core.heatflow.surfaces import Needs
from nuthatch.core.heatflow.worked import worked
from nuthatch.core.junctions.found import Found
from nuthatch.core.junctions.sections import Arm
from nuthatch.core.junctions.sections import two_arms as drawn_arms
from nuthatch.core.junctions.stages import FOUND, JOINED
from nuthatch.core.junctions.valued import longer
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.results.figure import Computing, Known
from nuthatch.core.results.plain import from_plain, to_plain
from nuthatch.core.trials import trial
from nuthatch.core.views.ledger import entries_of, weigh
from tests.core.heatflow.drawn import BRICK, Layers, corner, frame, mitred, u_of
from tests.simple_home import g


def arm(name: str, layers: Layers, rsi: float = 0.13, rse: float = 0.04, **more: object) -> Arm:
    return Arm(name, tuple(Ply("", f"{name} {n}", t, k) for n, (t, k) in enumerate(layers)), u_of(layers, rsi, rse), rse, **more)  # type: ignore[arg-type]


def two_arms(name: str, arms: tuple[Arm, Arm], angle: float, first: float, plan: bool) -> Section:
    return drawn_arms(name, arms, angle, first, plan).section


def section_for(a: Assessment, name: str, met: Found) -> Section:
    return drawn_for(a, name, met).section


def made(home: Home) -> Assessment:
    return assess(home, climate_for(home, None))


def found(a: Assessment, family: str) -> Found:
    return next(f for f in a[FOUND] if f.family == family)


@pytest.mark.parametrize(
    ("section", "internal", "external"),
    [
        (two_arms("corner", (arm("a", BRICK), arm("b", BRICK)), 90, 0.0, True), 0.240, -0.883),
        (two_arms("corner", (arm("a", BRICK), arm("b", BRICK)), 270, 0.0, True), -0.768, 0.354),
        (two_arms("eaves", (arm("wall", BRICK), arm("roof", BRICK, 0.10)), 135, -90.0, False), 0.157, None),
    ],
)
def test_brick_corners_and_eaves(section: Section, internal: float, external: float | None) -> None:
    """Computed beforehand by other means, within 0.003 W/(m·K)."""
    of = worked(section)
    assert of.psi_internal == pytest.approx(internal, abs=0.003)
    assert external is None or of.psi_external == pytest.approx(external, abs=0.003)


def test_the_same_as_sections_drawn_by_hand() -> None:
    a = worked(two_arms("corner", (arm("a", BRICK), arm("b", BRICK)), 90, 0.0, True))
    b = worked(corner(BRICK))
    assert a.psi_internal == pytest.approx(b.psi_internal, abs=5e-4) and a.f_rsi == pytest.approx(b.f_rsi, abs=2e-3)
    for pitch in (20, 45, 67):
        a = worked(two_arms("eaves", (arm("w", BRICK), arm("r", BRICK, 0.10 if pitch < 60 else 0.13)), 90 + pitch, -90.0, False))
        b = worked(mitred(BRICK, BRICK, pitch))
        assert a.psi_internal == pytest.approx(b.psi_internal, abs=1e-3) and a.psi_external == pytest.approx(b.psi_external, abs=1e-3)


def test_timber_corner_and_eaves_of_a_home() -> None:
    """Osier Lane 7: wall of 352.5 mm and 24 mm of boarding outside (U 0.1235): corner 0.027 / −0.066, f_Rsi 0.92; eaves at 45° 0.016."""
    a = made(demo_home("osier-lane-7"))
    of = worked(section_for(a, "Corner", found(a, "outer corner")))
    assert of.psi_internal == pytest.approx(0.027, abs=0.003) and of.psi_external == pytest.approx(-0.066, abs=0.003)
    assert of.f_rsi == pytest.approx(0.92, abs=0.01)
    assert worked(section_for(a, "Eaves", found(a, "eaves"))).psi_internal == pytest.approx(0.016, abs=0.003)


@pytest.mark.parametrize("name", ["osier-lane-7", "weir-cottage", "sail-loft"])
def test_both_conventions_part_by_the_geometry_of_the_edge(name: str) -> None:
    """ψ_e = ψ_i − Σ b U Δl, with the whole thicknesses of what meets."""
    a = made(demo_home(name))
    for f in a[FOUND]:
        try:
            section = section_for(a, "x", f)
        except ChangeRefused:
            continue
        of = solved(section)
        off = sum(flank.b * flank.u * (flank.outer - flank.inner) for flank in of.flanks)
        assert of.psi_internal is not None and of.psi_external == pytest.approx(of.psi_internal - off, abs=1e-9), f.family
        assert of.grid.enough and of.f_rsi is not None and 0.4 < of.f_rsi < 1


def test_a_floor_over_a_cellar_knows_three_temperatures() -> None:
    section = two_arms("floor", (arm("wall", BRICK), arm("floor", BRICK, 0.17, 0.17, beyond="unheated", b=0.55)), 90, 90.0, False)
    assert [s.kind for s in section.spaces] == ["inside", "outside", "unheated"]
    assert [f.b for f in worked(section).flanks] == pytest.approx([1.0, 0.55])
    assert all(y >= -1e-6 for b in section.blocks if "wall" in b.name for _, y in b.outline[:1]) or section.blocks
    room = next(s for s in section.spaces if s.kind == "inside")
    assert max(y for _, y in room.outline) > 0.9, "the room lies above its floor"


def test_what_it_cannot_draw_it_says() -> None:
    a = made(demo_home("osier-lane-7"))
    with pytest.raises(ChangeRefused, match="take it in as a file"):
        section_for(a, "This", found(a, "party wall with floor"))


def test_a_junction_takes_its_psi_from_its_detail_and_gives_it_back() -> None:
    home = demo_home("osier-lane-7")
    a = made(home)
    row = next(j for j in home.junctions if j.family == "outer corner")
    corner_found = a[JOINED].of(row)
    assert corner_found is not None
    with_detail = apply(started(a, row, corner_found), home)
    b = made(with_detail)
    of = b.all_of(SOLVED)[with_detail.details[-1].id]
    assert isinstance(of, Solved) and of.psi_external is not None
    loss = next(e.loss.value for e in b[ELEMENTS] if e.id == row.id)
    assert float(loss) == pytest.approx(of.psi_external * 11.4)  # type: ignore[arg-type]
    worse = tuple(replace(x, conductivity=g(0.5)) if "wool" in x.name.lower() else x for x in with_detail.details[-1].blocks)
    c = made(replace(with_detail, details=(*with_detail.details[:-1], replace(with_detail.details[-1], blocks=worse))))
    assert float(next(e.loss.value for e in c[ELEMENTS] if e.id == row.id)) > 5 * float(loss) + 1  # type: ignore[arg-type]
    typed = made(apply(SetValue(part=row.id, field="psi", value=g(-0.05)), with_detail))
    assert float(next(e.loss.value for e in typed[ELEMENTS] if e.id == row.id)) == pytest.approx(-0.05 * 11.4)  # type: ignore[arg-type]


def test_a_detail_that_cannot_be_worked_out_asks_and_the_tier_below_it_holds() -> None:
    home = demo_home("osier-lane-7")
    a = made(home)
    row = next(j for j in home.junctions if j.family == "outer corner")
    corner_found = a[JOINED].of(row)
    assert corner_found is not None
    home = apply(started(a, row, corner_found), home)
    detail = home.details[-1]
    block = detail.blocks[0].id
    broken = made(apply(with_detail(home, SetValue(part=block, field="conductivity", value=None)), home))
    assert any(q.part == detail.id and "has no λ" in q.text for q in broken.questions)
    wall = 0.1235 * 0.3765 * 2
    assert float(next(e.loss.value for e in broken[ELEMENTS] if e.id == row.id)) == pytest.approx(-0.3 * wall * 11.4, rel=2e-3)  # type: ignore[arg-type]


def test_a_detail_whose_build_up_has_other_layers_asks_and_is_drawn_anew() -> None:
    home = demo_home("osier-lane-7")
    a = made(home)
    assert not any(q.field == "detail" for q in a.questions)
    row = next(j for j in home.junctions if j.family == "outer corner")
    thicker = made(apply(SetValue(part="outer-wall.3", field="thickness", value=g(0.32)), home))
    assert not any(q.field == "detail" for q in thicker.questions), "a layer that grows is followed"
    fewer = apply(Remove(part="outer-wall.5"), home)
    b = made(fewer)
    asked = [q for q in b.questions if q.field == "detail"]
    assert {q.part for q in asked} == {j.id for j in home.junctions if j.detail and j.family != "ridge"}, "the ridge has no wall"
    assert "other layers of Outer wall" in asked[0].text and "draw it anew" in asked[0].text
    met = b[JOINED].of(row)
    assert met is not None
    c = made(apply(redrawn(b, row, met), fewer))
    assert row.id not in {q.part for q in c.questions if q.field == "detail"}
    before, after = (x.all_of(SOLVED)[row.detail] for x in (b, c))
    assert isinstance(before, Solved) and isinstance(after, Solved) and after.flanks[0].u > before.flanks[0].u


def test_what_is_cold_beyond_a_detail_with_three_temperatures_is_not_counted_twice() -> None:
    """docs/methods: a ψ solved with the third temperature in it has b = 1."""
    home = demo_home("sail-loft")
    a = made(home)
    row = next(j for j in home.junctions if j.family == "floor over cold")
    met = a[JOINED].of(row)
    assert met is not None
    home = apply(started(a, row, met), home)
    b = made(home)
    of = b.all_of(SOLVED)[home.details[-1].id]
    assert isinstance(of, Solved) and of.psi_external is not None and min(f.b for f in of.flanks) == pytest.approx(0.8)
    assert float(next(e.loss.value for e in b[ELEMENTS] if e.id == row.id)) == pytest.approx(of.psi_external * met.outer)  # type: ignore[arg-type]
    before = next(e.loss for e in a[ELEMENTS] if e.id == row.id)
    assert isinstance(before, Known) and before.inputs["b"].value == pytest.approx(0.8)  # type: ignore[union-attr]


def test_the_cottage_s_upper_floor_fails_until_the_insulation_turns_back() -> None:
    """The slab lies in the brick and cuts the lining: below what its air needs in December; 30 mm on both sides of it for 0.3 m mend it."""
    home = demo_home("weir-cottage")
    a = made(home)
    detail = a.all_of(FOLLOWED)["detail-1"]
    needed = a[NEEDS]
    of = a.all_of(SOLVED)["detail-1"]
    assert isinstance(of, Solved) and of.f_rsi is not None and 0.68 < of.f_rsi < 0.70 < needed.least and needed.worst == 11
    assert any(q.part == "detail-1" and "in December" in q.text for q in a.questions)
    for low, high in ((-0.23, -0.20), (0.0, 0.03)):
        home = apply(block_added(home, detail, ((0, low), (0.3, high)), "wool turned back", g(0.04))[0], home)
        detail = home.details[0]
    b = made(home)
    after = b.all_of(SOLVED)["detail-1"]
    assert isinstance(after, Solved) and after.f_rsi is not None and after.f_rsi > needed.least + 0.02
    assert after.psi_internal is not None and of.psi_internal is not None and after.psi_internal < of.psi_internal - 0.1
    assert not any(q.part == "detail-1" for q in b.questions)


def test_what_a_surface_needs_by_month_follows_from_the_air_of_the_home() -> None:
    """ISO 13788: 80 % at the surface. By hand for January: p_i over p_sat at the surface."""
    a = made(demo_home("weir-cottage"))
    airs, needed = a[AIRS], a[NEEDS]
    inside, p, outside = float(airs.inside.value), float(airs.p_inside.value[0]), float(airs.outside.value[0])  # type: ignore[arg-type,index]
    for share, months in ((0.8, needed.mould), (1.0, needed.dew)):
        x = log(p / share / 610.5)
        surface = 237.3 * x / (17.269 - x)  # ISO 13788:2012, annex E
        assert months[0] == pytest.approx((surface - outside) / (inside - outside), abs=2e-3)
    assert needed.mouldy(0.725) == tuple(n for n, v in enumerate(needed.mould) if v is not None and v > 0.725) != ()
    assert Needs().least == 0.70 and Needs().worst is None


def test_mould_in_a_detail_is_an_open_question() -> None:
    home = demo_home("weir-cottage")
    a = made(home)
    f = found(a, "outer corner")
    detail = detail_of(section_for(a, "Corner", f), "d")
    asked = made(replace(home, details=(detail,)))
    assert any(q.part == "d" and "grows mould" in q.text for q in asked.questions)


@pytest.mark.parametrize("section", [corner(BRICK), mitred(BRICK, BRICK, 30), frame()], ids=lambda s: s.name)
def test_a_section_is_the_same_after_it_was_a_detail_and_a_result_after_it_was_kept(section: Section) -> None:
    assert section_of(detail_of(section, "d")) == section
    of = solved(section)
    again = from_plain(*to_plain(of))
    assert isinstance(again, Solved) and again.l2d == of.l2d and len(again.isotherms) == len(of.isotherms) > 3


def test_by_how_much_outer_faces_are_longer_is_what_the_drawing_says() -> None:
    for angle in (60, 90, 120, 150):
        section = two_arms("any", (arm("a", BRICK), arm("b", ((0.1, 1.0), (0.12, 0.04)))), angle, 0.0, True)
        for flank, own, other in zip(section.flanks, (0.35, 0.22), (0.22, 0.35), strict=True):
            assert flank.outer - flank.inner == pytest.approx(longer(own, other, angle))


def test_a_layer_that_a_detail_follows_weighs_as_any_other() -> None:
    """What is tried does not wait for a detail to be solved: it keeps its ψ, and the margin is known."""
    a = made(demo_home("osier-lane-7"))
    row = next(e for e in entries_of(a) if e.part == "outer-wall.3")
    assert any(w.change > 1e-4 for w in weigh(a, row).values())
    thicker = trial(a, [SetValue(part="outer-wall.3", field="thickness", value=g(0.3))], frozenset({"heating_demand"}))
    fresh = made(apply(SetValue(part="outer-wall.3", field="thickness", value=g(0.3)), a.home)).figures["heating_demand"].value
    assert thicker.figures["heating_demand"].value == pytest.approx(float(fresh), rel=0.02)  # type: ignore[arg-type]


def test_margins_do_not_wait_while_a_detail_is_worked_out_anew() -> None:
    """ψ as it was drawn holds meanwhile; the detail itself is computing."""
    a = made(demo_home("osier-lane-7"))
    thicker = apply(SetValue(part="outer-wall.3", field="thickness", value=g(0.2871)), a.home)
    b = assess(thicker, a.climate, a, wait=False)
    assert isinstance(b.all_of(SOLVED)["detail-1"], Computing) and b.computing
    assert b.figures["heating_demand"].value is not None
    psi = [next(e.loss.inputs["psi"].value for e in x[ELEMENTS] if e.id == "j-07") for x in (a, b)]  # type: ignore[union-attr]
    assert psi[0] == psi[1]
    c = assess(thicker, a.climate, b)
    assert not c.computing and next(e.loss.inputs["psi"].value for e in c[ELEMENTS] if e.id == "j-07") != psi[0]  # type: ignore[union-attr]
