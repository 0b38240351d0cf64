"""ψ by family, tier and dimensions, by hand (docs/methods: junctions); what counts, once; b beside unheated spaces."""

from __future__ import annotations

from itertools import pairwise
from math import cos, radians, sin

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.junction_edits import answered, by_own, by_tier, joined_to, taken_in
from nuthatch.core.edits.plan_edits import split
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.elements import Element, junction_loss
from nuthatch.core.fabric.stages import FACE
from nuthatch.core.junctions.stages import FOUND, JOINED, UNLISTED
from nuthatch.core.junctions.valued import longer
from nuthatch.core.library import demo_home, psi_rows
from nuthatch.core.model.home import Home, Junction, OwnPsi
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.results.figure import Known, Unknown
from nuthatch.core.sketch import Path as Drawn
from nuthatch.core.sketch import Text
from nuthatch.core.views.junctions.drawings import ways_sheet
from nuthatch.core.views.junctions.four_ways import ways, whole_ways
from nuthatch.core.views.junctions.on_solid import junction_solid, seen_from
from nuthatch.core.views.ledger import entries_of, margins, weigh
from tests.plan_home import plan_home
from tests.simple_home import g


def made(home: Home) -> Assessment:
    return assess(home, climate_for(home, None))


def bare(name: str, tier: str = "typical", **more: object) -> Home:
    home = demo_home(name)
    return replace(home, junctions=(), junctions_from="shape", junction_tier=tier, shape=replace(home.shape, **more))


def lost(a: Assessment) -> dict[str, Element]:
    return {e.name: e for e in a[UNLISTED]}


def test_a_handbook_rule_of_thumb() -> None:
    """19 m of wall on the ground at 25.5 K: ψ 0.32 is about 155 W, 0.01 about 5 W (common practice, no source)."""
    assert 25.5 * junction_loss.function(0.32, 19.0, 1.0) == pytest.approx(155, abs=0.5)
    assert 25.5 * junction_loss.function(0.01, 19.0, 1.0) == pytest.approx(5, abs=0.2)


@pytest.mark.parametrize("dimensions", ["external", "internal"])
@pytest.mark.parametrize("name", ["osier-lane-7", "weir-cottage", "sail-loft"])
def test_no_typical_value_is_above_its_fallback(name: str, dimensions: str) -> None:
    typical, fallback = (lost(made(bare(name, tier, dimensions=dimensions))) for tier in ("typical", "fallback"))
    assert typical.keys() == fallback.keys()
    for key, e in typical.items():
        assert float(e.loss.value) <= float(fallback[key].loss.value) + 1e-12, key  # type: ignore[arg-type]
    assert all(
        v.value or v.share or tier == "typical" or family in ("none", "inner corner")
        for family, row in psi_rows().items()
        for of in row.values.values()
        for tier, v in of.items()
    )


def test_corners_by_what_meets_there() -> None:
    """Typical ψ of an outer corner: −0.3 Σ U t of its two walls; of an inner one 0.35 of it."""
    home = replace(plan_home(), junctions=(), junctions_from="shape", junction_tier="typical")
    a = made(home)
    wall = a.all_of(FACE)["up.a"]
    through = 2 * float(wall.u.value) * 0.3  # type: ignore[union-attr, arg-type]
    outer, inner = (
        sum(f.outer for f in a[FOUND] if f.family == k and set(f.borders) == {"outside"}) for k in ("outer corner", "inner corner")
    )
    rows = [e for e in a[UNLISTED] if e.name == "Outer corner"]
    assert float(lost(a)["Inner corner"].loss.value) == pytest.approx(0.35 * through * inner)  # type: ignore[arg-type]
    assert min(float(e.loss.value) for e in rows) == pytest.approx(-0.3 * through * outer)  # type: ignore[arg-type]


def test_by_how_much_a_face_is_longer_outside() -> None:
    """Method: right angle the other's thickness; wall t_w under a slope t_r of pitch φ: (t_r − t_w sin φ)/cos φ, and along the slope
    t_w cos φ − that × sin φ; an inner corner takes it off; one plane adds nothing."""
    assert longer(0.3, 0.5, 90) == pytest.approx(0.5) and longer(0.3, 0.5, 270) == pytest.approx(-0.5) and longer(0.3, 0.3, 180) == 0
    for pitch in (10, 30, 45, 60):
        p, wall, roof = radians(pitch), 0.35, 0.42
        along_wall = (roof - wall * sin(p)) / cos(p)
        assert longer(wall, roof, 90 + pitch) == pytest.approx(along_wall)
        assert longer(roof, wall, 90 + pitch) == pytest.approx(wall * cos(p) - along_wall * sin(p))


def test_internal_dimensions_take_their_own_table_or_what_follows_from_the_other() -> None:
    """Ground floor 0.32 internal (published, from memory) × inner length; a ridge has no internal value: 0.05 external, longer outside at both
    slopes by t·(1 + cos 90°)/sin 90° = t at a right angle."""
    a = made(bare("osier-lane-7", "fallback", dimensions="internal"))
    rows, found = lost(a), {f.family: f for f in a[FOUND]}
    assert float(rows["Ground floor"].loss.value) == pytest.approx(0.32 * found["ground floor"].inner)  # type: ignore[arg-type]
    roof = a.all_of(FACE)["main-roof.slope-1"]
    thick = sum(l.thickness.value for b in a.home.buildups if b.id == "pitched-roof" for l in b.layers)
    psi = 0.05 + 2 * float(roof.u.value) * thick  # type: ignore[union-attr, arg-type]
    assert float(rows["Ridge"].loss.value) == pytest.approx(psi * found["ridge"].inner)  # type: ignore[arg-type]


def test_beside_a_cold_loft_or_cellar_the_b_of_that_counts() -> None:
    a = made(bare("weir-cottage", "fallback"))
    b = {
        f: float(a.all_of(FACE)[f].loss.value) / float(a.all_of(FACE)[f].u.value) / float(a.all_of(FACE)[f].area.value)
        for f in ("low.floor.cellar", "up.ceiling.loft")
    }  # type: ignore[union-attr, arg-type]
    assert float(lost(a)["Floor over cold"].loss.value) == pytest.approx(0.15 * 32.4 * b["low.floor.cellar"])  # type: ignore[arg-type]
    assert float(lost(a)["Eaves at ceiling"].loss.value) == pytest.approx(0.15 * 17.8 * b["up.ceiling.loft"])  # type: ignore[arg-type]


def test_a_list_alone_counts_alone() -> None:
    home = demo_home("osier-lane-7")
    a = made(replace(home, junctions_from="list"))
    assert a[UNLISTED] == () and {e.id for e in a[ELEMENTS] if e.category == "junctions"} == {j.id for j in home.junctions}


def typed_list(*rows: tuple[str, float, float]) -> Home:
    junctions = tuple(Junction(id=f"t{n}", name=f, family=f, length=g(l), psi=g(p)) for n, (f, l, p) in enumerate(rows))  # type: ignore[arg-type]
    return replace(demo_home("osier-lane-7"), junctions=junctions, junctions_from="list")


def test_typed_rows_are_joined_where_their_length_says_so_and_nothing_counts_twice() -> None:
    """Two rows for the ground floor's three places, one for the party wall at wall and roof together, one that fits nothing."""
    home = typed_list(
        ("wall · floor", 14.4, -0.012), ("wall · floor", 9.4, -0.01), ("party wall", 24.69, 0.04), ("wall · upper floor", 47.6, 0.01),
        ("outer corner", 11.4, -0.05), ("threshold", 1.05, 0.11),
    )  # fmt: skip
    before = made(home)
    after = made(apply(taken_in(before), home))
    rows = {j.id: j for j in after.home.junctions}
    assert len(rows["t0"].places) == 2 and len(rows["t1"].places) == 1 and rows["t0"].length is None
    assert rows["t2"].family == "party wall with roof" or rows["t2"].family == "party wall with wall"
    copies = [j for j in after.home.junctions if j.psi is not None and j.psi.value == 0.04]
    assert {j.family for j in copies} == {"party wall with roof", "party wall with wall"}
    assert rows["t3"].meets == "" and rows["t3"].length is not None, "47.6 m is none of the shape's"
    assert any(q.part == "t3" and "counts beside" in q.text for q in after.questions)
    assert not any(q.part == "t5" and "counts beside" in q.text for q in after.questions), "a threshold is an opening's"
    loss = {e.id: float(e.loss.value) for e in after[ELEMENTS] if e.category == "junctions"}  # type: ignore[arg-type]
    assert loss["t0"] == pytest.approx(-0.012 * 14.4) and loss["t4"] == pytest.approx(-0.05 * 11.4)
    places = [p.edge for f in (*after[JOINED].rows.values(), *after[JOINED].left) for p in f.places]
    assert sorted(places) == sorted(p.edge for f in after[FOUND] for p in f.places), "each place belongs to one"


def test_a_typed_row_a_person_joins_takes_the_length_of_the_shape() -> None:
    home = typed_list(("wall · upper floor", 47.6, 0.01))
    a = made(home)
    upper = next(f for f in a[FOUND] if f.family == "upper floor")
    joined = made(apply(joined_to(home.junctions[0], upper), home))
    assert float(next(e for e in joined[ELEMENTS] if e.id == "t0").loss.value) == pytest.approx(0.01 * 33.2)  # type: ignore[arg-type]


def test_decisions_stay_when_a_wall_is_split_and_what_is_gone_is_said() -> None:
    home = bare("osier-lane-7")
    home = apply(taken_in(made(home)), home)
    ridge = next(j for j in home.junctions if j.family == "ridge")
    home = apply(SetValue(part=ridge.id, field="psi", value=g(-0.03)), home)
    before = made(home)
    loss = {e.id: float(e.loss.value) for e in before[ELEMENTS] if e.category == "junctions"}  # type: ignore[arg-type]
    after = made(apply(split(home, "low.d", 0.4), home))
    assert {e.id: pytest.approx(float(e.loss.value)) for e in after[ELEMENTS] if e.category == "junctions"} == loss  # type: ignore[arg-type]
    assert home.shape.plans is not None
    flat = replace(home, shape=replace(home.shape, plans=replace(home.shape.plans, roofs=())))
    gone = made(flat)
    assert any(q.part == ridge.id and "no longer" in q.text for q in gone.questions)
    assert float(next(e for e in gone[ELEMENTS] if e.id == ridge.id).loss.value) == 0  # type: ignore[arg-type]
    assert gone.home.junctions == flat.junctions, "kept until somebody takes it out"


def test_what_the_shape_cannot_tell_counts_at_its_largest_fallback_until_it_is_answered() -> None:
    home = replace(plan_home(), junctions=(), junctions_from="shape", junction_tier="typical")
    assert home.shape.plans is not None
    flat = replace(home, shape=replace(home.shape, plans=replace(home.shape.plans, roofs=())))
    a = made(flat)
    asked = next(f for f in a[FOUND] if f.answers == ("parapet", "flat roof edge"))
    assert any("parapet or flat roof edge" in q.text for q in a.questions if q.field == "junctions")
    assert sum(float(e.loss.value) for e in a[UNLISTED] if e.id == asked.key) == pytest.approx(0.30 * asked.outer)  # type: ignore[arg-type]
    told = made(apply(answered(a, asked, "parapet"), flat))
    row = next(j for j in told.home.junctions if j.family == "parapet")
    assert float(next(e for e in told[ELEMENTS] if e.id == row.id).loss.value) == pytest.approx(0.10 * asked.outer)  # type: ignore[arg-type]
    none = made(apply(answered(a, asked, "none"), flat))
    assert float(next(e for e in none[ELEMENTS] if e.id == none.home.junctions[0].id).loss.value) == 0  # type: ignore[arg-type]


def test_a_psi_of_other_dimensions_is_converted_by_what_meets() -> None:
    """An outer corner solved for internal dimensions: ψ_e = ψ_i − 2·U·t."""
    home = bare("osier-lane-7")
    home = apply(taken_in(made(home)), home)
    corner = next(j for j in home.junctions if j.family == "outer corner")
    home = replace(home, junctions=tuple(replace(j, psi=g(0.027), dimensions="internal") if j is corner else j for j in home.junctions))
    a = made(home)
    wall = a.all_of(FACE)["low.d"]
    psi = 0.027 - 2 * float(wall.u.value) * 0.3765  # type: ignore[union-attr, arg-type]
    assert float(next(e for e in a[ELEMENTS] if e.id == corner.id).loss.value) == pytest.approx(psi * 11.4)  # type: ignore[arg-type]


def test_the_four_ways_know_what_the_shape_has() -> None:
    home = bare("osier-lane-7")
    home = apply(taken_in(made(home)), home)
    known = dict(ways(made(home)))
    assert known["left out"] is not None and known["typical"] == pytest.approx(known["as listed"])
    assert known["fallback"] > 1.5 * known["typical"], "at the fallback a good home's demand nearly doubles (common practice)"  # type: ignore[operator]
    some = made(apply(by_tier(home.junctions[:2], "fallback"), home))
    assert {j.tier for j in some.home.junctions[:2]} == {"fallback"} and {j.tier for j in some.home.junctions[2:]} == {"typical"}


def test_point_bridges_count_by_their_number() -> None:
    """χ·N·b, alone or on a junction that has a length: 12 brackets of 0.05 W/K and 10 m of 0.1 W/(m·K)."""
    home = plan_home()
    alone = Junction(id="p", name="Brackets", own=True, points=g(12), chi=g(0.05), b=g(0.5))
    both = Junction(id="q", name="Rail", own=True, length=g(10), psi=g(0.1), points=g(12), chi=g(0.05))
    lacking = Junction(id="r", name="Columns", own=True, length=g(10), psi=g(0.1), points=g(3))
    a = assess(replace(home, junctions=(alone, both, lacking)), climate_for(home, None))
    loss = {e.id: e.loss for e in a[ELEMENTS]}
    assert loss["p"].value == pytest.approx(0.3) and loss["q"].value == pytest.approx(1.6)
    assert isinstance(loss["r"], Unknown) and any("χ of each" in n.text for n in loss["r"].needs)


def test_a_psi_left_to_the_catalogue_stands_in_the_ledger_and_weighs() -> None:
    a = assess(demo_home("sail-loft"), climate_for(demo_home("sail-loft"), None))
    rows = {e.part: e for e in entries_of(a) if e.field == "psi" and e.part.startswith("j-")}
    assert {"j-2", "j-3", "j-8"} <= set(rows), sorted(rows)
    corner = next(e.loss for e in a[ELEMENTS] if e.id == "j-3")
    assert isinstance(corner, Known) and rows["j-3"].given.value == pytest.approx(float(corner.inputs["psi"].value), abs=1e-5)  # type: ignore[union-attr,arg-type]
    home = demo_home("osier-lane-7")
    a = made(replace(home, junctions=tuple(replace(j, psi=None) if j.id == "j-09" else j for j in home.junctions)))
    row = next(e for e in entries_of(a) if e.part == "j-09" and e.field == "psi")
    weight = weigh(a, row)
    assert margins(a) and any(w.change > 0 for w in weight.values()) and row.used == "typical", "more ψ at the party wall costs"


def test_the_four_ways_by_month_add_up_to_the_year_and_lie_in_order() -> None:
    """Demand is the sum of its months over the floor area; with external dimensions, what is left out lies where it may."""
    home = replace(demo_home("weir-cottage"), junctions=(), junctions_from="shape", junction_tier="typical")
    a = made(home)
    known = {w.name: w for w in whole_ways(a)}
    area = float(a.figures["reference_floor_area"].value)  # type: ignore[arg-type]
    for way in known.values():
        assert way.months is not None and sum(way.months) / area == pytest.approx(way.demand, rel=1e-6) and way.load is not None
    assert known["as listed"].demand == pytest.approx(float(a.figures["heating_demand"].value))  # type: ignore[arg-type]
    assert known["as listed"].demand == pytest.approx(known["typical"].demand)
    assert known["fallback"].load > known["typical"].load and known["fallback"].months[0] > known["typical"].months[0]  # type: ignore[operator,index]
    sketch = ways_sheet(a, tuple(known.values()))
    words = [i.text for i in sketch.items if isinstance(i, Text)]
    assert "fallback" in words and sum(w.startswith("limit") for w in words) == 2
    spans = sorted((i.x - 2.9 * len(i.text), i.x + 2.9 * len(i.text)) for i in sketch.items if isinstance(i, Text) and i.y == 20)
    assert all(a[1] <= b[0] + 0.01 for a, b in pairwise(spans)) and len(spans) == 3


def test_junctions_are_seen_in_plan_and_in_every_elevation() -> None:
    """A line lies where the edge is: from above the upper floor around, square on the one wall as long as it is."""
    a = made(bare("osier-lane-7"))
    ways_to_look = dict(seen_from(a))
    assert list(ways_to_look)[:2] == ["aslant", "plan, from above"] and "elevation, south" in ways_to_look
    found = next(f for f in a[FOUND] if f.family == "eaves")
    for name, view in ways_to_look.items():
        sketch = junction_solid(a, view, size=(800, 600))
        assert sum(isinstance(i, Drawn) and i.id == found.key for i in sketch.items) >= (0 if "west" in name or "east" in name else 2), name


def test_the_office_s_own_catalogue_by_family() -> None:
    home = demo_home("sail-loft")
    own = (OwnPsi(id="o", family="eaves", psi=Given(value=0.033, basis=Basis.CALCULATED, source="2024 details"), dimensions="internal"),)
    later = apply(by_own(home.junctions, own), home)
    eaves = next(j for j in later.junctions if j.family == "eaves")
    assert (
        eaves.psi == Given(value=0.033, basis=Basis.CALCULATED, source="office catalogue, 2024 details") and eaves.dimensions == "internal"
    )
    assert [j for j in later.junctions if j.family != "eaves"] == [j for j in home.junctions if j.family != "eaves"]
    with pytest.raises(ChangeRefused, match="has no ψ of outer corner"):
        by_own([j for j in home.junctions if j.family == "outer corner"], own)
