"""The edit desk: what typing, pasting, filling and converting mean, the same for card, table and option."""

from __future__ import annotations

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, Remove, SetValue, apply, declared
from nuthatch.core.edits import desk
from nuthatch.core.edits import whole_parts as moves
from nuthatch.core.edits.desk import Asked, BadCell, Block, Listing
from nuthatch.core.energy.sources import share_total
from nuthatch.core.library import demo_home
from nuthatch.core.model.details import Detail
from nuthatch.core.model.home import Face, HeatSource, Home, Junction, Layer, Opening, find
from nuthatch.core.model.part import Basis, Given, specs
from nuthatch.core.reading import BadText
from tests.form_homes import form_home
from tests.simple_home import g

OSIER = demo_home("osier-lane-7")
SOURCES = Listing("home", "sources", HeatSource, "source")
JUNCTIONS = Listing("home", "junctions", Junction, "j")


def two_sources() -> Home:
    proven = Given(value=0.7, basis=Basis.DECLARED, source="plan", evidence="sheet 4")
    return Home(
        sources=(
            HeatSource(id="pump", name="Pump", heating_share=proven, water_share=g(1)),
            HeatSource(id="stove", name="Stove", heating_share=g(0.3), water_share=g(0)),
        )
    )


def test_a_share_in_a_cell_balances_as_in_the_card() -> None:
    home = two_sources()
    for change in (desk.typed_number(home, "stove", "heating_share", 0.15), desk.typed_text(home, "stove", "heating_share", "15 %")):
        after = apply(change, home)
        assert [s.heating_share.value for s in after.sources] == [pytest.approx(0.85), pytest.approx(0.15)]
        assert after.sources[0].heating_share.evidence == "sheet 4", "what is moved along keeps its evidence"
    assert after.sources[0].water_share is home.sources[0].water_share, "another use is left alone"


def test_shares_pasted_and_filled_total_a_hundred() -> None:
    home = two_sources()
    home = apply(desk.new_part(home, SOURCES, name="Third"), home)
    block = Block(("pump",), ("name", "heating_share"), (("Pump", "50 %"),))
    after = apply(desk.pasted(home, SOURCES, block, {}), home)
    assert share_total(after.sources, "heating_share") == pytest.approx(1) and after.sources[0].heating_share.value == 0.5
    both = Block(("pump", "stove"), ("heating_share",), (("20 %",), ("30 %",)))
    after = apply(desk.pasted(home, SOURCES, both, {}), home)
    assert [round(s.heating_share.value, 9) for s in after.sources] == [0.2, 0.3, 0.5]
    over = Block(("pump", "stove"), ("heating_share",), (("80 %",), ("60 %",)))
    after = apply(desk.pasted(home, SOURCES, over, {}), home)
    assert [s.heating_share.value for s in after.sources][:2] == [0.8, 0.6], "what cannot be is kept as typed, and asked about"
    assert any("140.0 %" in q.text for q in assess(after, None).questions)
    filled = apply(desk.filled(home, SOURCES, ["stove", home.sources[2].id], ["heating_share"]), home)
    assert share_total(filled.sources, "heating_share") == pytest.approx(1) and filled.sources[2].heating_share.value == 0.3
    cooling = apply(desk.typed_number(home, "pump", "cooling_share", 0.0), home)
    assert all(s.cooling_share is None or s.cooling_share.value == 0 for s in cooling.sources), "nothing need cool"


def test_a_cell_keeps_the_evidence_of_a_declared_value() -> None:
    proven = Given(value=1.2, basis=Basis.DECLARED, source="sheet", evidence="photo 3", files=("evidence-1",))
    home = apply(SetValue(part="w-01", field="width", value=proven), OSIER)
    for change in (desk.typed_text(home, "w-01", "width", "1.3 m"), desk.typed_number(home, "w-01", "width", 1.3)):
        new = find(apply(change, home), "w-01").width
        assert (new.value, new.basis, new.evidence, new.files) == (1.3, Basis.DECLARED, "photo 3", ("evidence-1",))
    listing = Listing("home", "openings", Opening, "w")
    pasted = apply(desk.pasted(home, listing, Block(("w-01",), ("width",), (("1.4",),)), {}), home)
    assert find(pasted, "w-01").width.evidence == "photo 3"
    assumed = apply(desk.typed_number(OSIER, "outer-wall.4", "conductivity", 0.12), OSIER)
    assert find(assumed, "outer-wall.4").conductivity == declared(0.12, "typed")


def test_texts_become_values_or_say_what_would_be_right() -> None:
    spec = specs(Junction)
    assert desk.read_value(spec["length"], "28 ft") == pytest.approx(8.5344) and desk.read_value(spec["length"], " ") is None
    assert desk.read_value(spec["tier"], "Detailed") == "detailed" and desk.read_value(spec["name"], " x ") == "x"
    with pytest.raises(BadText, match="one of: fallback, typical, detailed"):
        desk.read_value(spec["tier"], "great")
    with pytest.raises(BadText, match="at least 0"):
        desk.read_value(spec["length"], "-3")
    with pytest.raises(Asked) as asked:
        desk.read_value(specs(HeatSource)["heating_share"], "0.4")
    assert [label for label, _ in asked.value.doubt.readings] == ["0.4 %", "40 %"]
    opening = specs(Opening)["type"]
    assert desk.read_value(opening, "triple", (("t-1", "Triple"),)) == "t-1" and desk.read_value(opening, "", ()) == ""
    with pytest.raises(BadText, match="is not in this home"):
        desk.read_value(opening, "quadruple", (("t-1", "Triple"),))


def test_a_bad_cell_says_where_and_nothing_is_pasted() -> None:
    grid = desk.grid_of("Eaves\t12\r\nVerge\tlong\n")
    with pytest.raises(BadCell, match="“long” is not a number") as problem:
        desk.pasted(OSIER, JUNCTIONS, Block((), ("name", "length"), grid), {})
    assert (problem.value.row, problem.value.field) == (1, "length") and desk.grid_of("  ") == ()


def test_new_rows_start_with_marked_values_and_ids_of_their_own() -> None:
    made = desk.new_part(OSIER, Listing("home", "openings", Opening, "w"), [("wall-back", "Back")])
    assert made.value.shade_winter is None and made.value.face == OSIER.openings[-1].face
    bare = desk.new_part(Home(), Listing("home", "openings", Opening, "w"), [("wall-back", "Back")])
    assert bare.value.face == "wall-back" and bare.value.id == "w-1"
    grid = tuple((f"Row {n}", "1") for n in range(4))
    block = Block(("j-01",), ("name", "length"), grid)
    after = apply(desk.pasted(OSIER, JUNCTIONS, block, {}), OSIER)
    assert len(after.junctions) == len(OSIER.junctions) + 3 and after.junctions[0].name == "Row 0"
    copy = desk.duplicate(OSIER, Listing("home", "buildups", type(OSIER.buildups[0]), "build-up"), "outer-wall")
    assert copy is not None and copy.index == 1 and [x.id for x in copy.value.layers][:2] == [f"{copy.value.id}.1", f"{copy.value.id}.2"]
    assert desk.removed(["j-01"]) == Remove(part="j-01") and len(desk.removed(["j-01", "j-02"]).changes) == 2


def test_form_to_list_keeps_b_with_its_basis_and_what_was_measured(marrowby) -> None:
    home = form_home("weir-cottage")
    a = assess(home, marrowby)
    assumed = {f.id for f in apply(moves.as_list(a), home).shape.faces if f.b is not None and f.b.basis is Basis.ASSUMED}
    given = {b.id for b in a[moves.SOLID].boundaries if b.b.given is not None and b.b.given.basis is Basis.ASSUMED}
    assert given == assumed
    form = apply(SetValue(part="form", field="base", value="unheated space"), form_home("osier-lane-7"))
    form = apply(SetValue(part="form", field="b_base", value=Given(value=0.55, source="library")), form)
    form = apply(SetValue(part="shape", field="measured_area", value=Given(value=130.0, basis=Basis.MEASURED)), form)
    before = assess(form, marrowby)
    listed = apply(moves.as_list(before), form)
    floor = next(f for f in listed.shape.faces if f.id == "floor")
    assert floor.b == Given(value=0.55, source="library") and listed.shape.measured_area == form.shape.measured_area
    after = assess(listed, marrowby)
    for key in ("transmission_loss_coefficient", "heating_demand"):
        assert after.figures[key].value == pytest.approx(before.figures[key].value, rel=1e-6), key
    again = apply(moves.as_form(), listed)
    assert again.shape.form is not None and not again.shape.faces and again.shape.form.partition_share.basis is Basis.ASSUMED


def test_many_changes_go_in_one_pass_and_mean_the_same_one_by_one() -> None:
    changes = (
        SetValue(part="j-01", field="length", value=declared(3)),
        SetValue(part="w-01", field="width", value=declared(1.1)),
        Insert(owner="home", field="junctions", value=Junction(id="x-1", name="X")),
        Insert(owner="home", field="junctions", index=0, value=Junction(id="x-2", name="Y")),
        SetValue(part="x-1", field="length", value=declared(2)),
        Remove(part="j-02"),
    )
    one_by_one = OSIER
    for change in changes:
        one_by_one = apply(change, one_by_one)
    assert apply(Batch(label="all", changes=changes), OSIER) == one_by_one
    gone = (SetValue(part="low.a", field="x", value=declared(9)), SetValue(part="shape", field="plans", value=None))
    assert apply(Batch(label="x", changes=gone), OSIER).shape.plans is None
    with pytest.raises(ChangeRefused, match="no part “nobody”"):
        apply(Batch(label="x", changes=(*changes[:2], SetValue(part="nobody", field="name", value="x"))), OSIER)


def test_evidence_pins_materials_and_psi_are_changes(osier_assessed: Assessment) -> None:
    layer = find(OSIER, "outer-wall.4")
    assert isinstance(layer, Layer)
    lam = Given(value=0.05, source="library")
    after = apply(moves.material_into(layer, "Cork", {"conductivity": lam, "mu": None}, "Wall"), OSIER)
    new = find(after, "outer-wall.4")
    assert new.name == "Cork" and new.conductivity == lam and new.density == layer.density, "what the library lacks stays"
    pinned = apply(moves.pinned(OSIER, "plan", "", "The plan"), OSIER).pins[-1]
    assert (pinned.picture, pinned.name) == ("plan", "The plan")
    assert desk.proof(OSIER, "air", "n50", source=OSIER.air.n50.source) is None and desk.proof(OSIER, "air", "unit", source="x") is None
    assert apply(desk.proof(OSIER, "air", "n50", source="new"), OSIER).air.n50.source == "new"


def test_a_face_starts_named() -> None:
    assert desk.new_part(Home(), Listing("shape", "faces", Face, "face")).value.name == "New face"


def test_a_copy_of_a_part_with_several_lists_has_ids_of_its_own() -> None:
    """A detail has blocks, spaces and flanks: it could not be duplicated."""
    home = demo_home("osier-lane-7")
    made = apply(desk.duplicate(home, desk.Listing("home", "details", Detail, "detail"), "detail-1"), home)  # type: ignore[arg-type]
    inner = [p.id for d in made.details for p in (*d.blocks, *d.spaces, *d.flanks)]
    assert len(made.details) == len(home.details) + 1 and len(inner) == len(set(inner)) and made.details[1].blocks[0].outline
