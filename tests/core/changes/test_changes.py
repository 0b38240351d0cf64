"""The home as a value, changes as data, undo without loss."""

from __future__ import annotations

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, Move, Remove, SetValue, apply, declared
from nuthatch.core.changes.history import Session
from nuthatch.core.changes.words import describe
from nuthatch.core.library import DEMO, demo_home, materials, new_home, psi_catalogue, target_sets
from nuthatch.core.model.home import BuildUp, Home, Junction, Layer, Opening, find, fresh_id, walk_parts
from nuthatch.core.model.part import Given, replace, specs

OSIER = demo_home("osier-lane-7")


def test_an_edit_keeps_untouched_parts_the_same_objects() -> None:
    new = apply(SetValue(part="outer-wall.3", field="thickness", value=declared(0.3)), OSIER)
    assert new is not OSIER and new.site is OSIER.site and new.openings is OSIER.openings
    assert new.buildups[1] is OSIER.buildups[1] and new.buildups[0].layers[0] is OSIER.buildups[0].layers[0]
    assert find(new, "outer-wall.3").thickness.value == 0.3


def test_values_may_come_as_plain_json() -> None:
    new = apply(SetValue(part="outer-wall.3", field="thickness", value={"value": 0.3, "basis": "declared"}), OSIER)
    assert find(new, "outer-wall.3").thickness == declared(0.3)
    again = Batch.model_validate_json(
        Batch(label="x", changes=(SetValue(part="air", field="n50", value={"value": 0.5}), Remove(part="j-01"))).model_dump_json()
    )
    assert len(apply(again, OSIER).junctions) == len(OSIER.junctions) - 1


@pytest.mark.parametrize(
    ("part", "field", "value", "says"),
    [
        ("outer-wall.3", "thickness", -0.05, "more than 0.mm; it was −50.mm"),
        ("outer-wall.3", "conductivity", 0.0, "more than 0"),
        ("outer-wall.3", "framing_share", 1.5, "at most 90.0"),
        ("brief", "bedrooms", -1, "at least 0"),
        ("air", "n50", float("inf"), "finite"),
        ("air", "n50", float("nan"), "finite"),
    ],
)
def test_impossible_values_are_refused_and_nothing_changes(part: str, field: str, value: float, says: str) -> None:
    session = Session(OSIER)
    with pytest.raises((ChangeRefused, ValidationError), match=says):
        session.apply(SetValue(part=part, field=field, value={"value": value}))
    assert session.home is OSIER and session.undo_label is None


def test_changes_to_what_is_not_there_are_refused() -> None:
    for change in (
        SetValue(part="nobody", field="name", value="x"),
        SetValue(part="air", field="nothing", value=1),
        Remove(part="nobody"),
        Remove(part="air"),
        Insert(owner="home", field="junctions", value=OSIER.junctions[0]),
        Insert(owner="home", field="junctions", value={"id": "no spaces allowed", "name": "x"}),
    ):
        with pytest.raises(ChangeRefused):
            apply(change, OSIER)


def test_insert_remove_move() -> None:
    added = apply(Insert(owner="outer-wall", field="layers", index=1, value=Layer(id="extra", name="Extra")), OSIER)
    wall = find(added, "outer-wall")
    assert [layer.id for layer in wall.layers][:3] == ["outer-wall.1", "extra", "outer-wall.2"]
    assert wall.layers[0] is OSIER.buildups[0].layers[0]
    moved = apply(Move(part="extra", index=0), added)
    assert find(moved, "outer-wall").layers[0].id == "extra"
    assert apply(Remove(part="extra"), moved) == OSIER


def test_changes_in_words() -> None:
    assert (
        describe(SetValue(part="outer-wall.3", field="thickness", value=declared(0.24)), OSIER)
        == "Mineral wool between studs: thickness 220 → 240\u00a0mm"
    )
    assert describe(SetValue(part="air", field="shielding", value="high"), OSIER) == "Air: wind shielding as the site shows → high"
    assert describe(Remove(part="j-04"), OSIER) == "Eaves removed"
    assert "nothing" in describe(SetValue(part="air", field="n50", value=None), OSIER)


CHANGES = st.one_of(
    st.builds(lambda v: SetValue(part="outer-wall.3", field="thickness", value=declared(v)), st.floats(0.01, 1)),
    st.builds(lambda v: SetValue(part="air", field="n50", value=declared(v)), st.floats(0, 10)),
    st.builds(lambda n: SetValue(part="brief", field="client", value=n), st.text(max_size=20)),
    st.builds(lambda i: Move(part="outer-wall.2", index=i), st.integers(0, 5)),
    st.builds(lambda n: Remove(part=f"j-{n:02d}"), st.integers(1, 10)),
    st.builds(lambda n: Insert(owner="home", field="junctions", value=Junction(id=f"x-{n}", name="new")), st.integers(0, 400)),
    st.builds(lambda v: SetValue(part="low.b", field="x", value=None if v < 4 else declared(v)), st.floats(3, 12)),
)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.one_of(CHANGES, st.just("undo"), st.just("redo")), max_size=25))
def test_undo_to_the_start_is_the_start(steps: list) -> None:
    session = Session(OSIER)
    for step in steps:
        if step == "undo":
            session.undo()
        elif step == "redo":
            session.redo()
        else:
            try:
                session.apply(step)
            except ChangeRefused:
                continue
    last = session.home
    number = 0
    while session.undo() is not None:
        number += 1
    assert session.home is OSIER and not session.dirty
    for _ in range(number):
        session.redo()
    assert session.home is last


def test_keystrokes_of_one_field_are_one_step() -> None:
    session = Session(OSIER)
    for value in (0.002, 0.024, 0.24):
        label = session.apply(SetValue(part="outer-wall.3", field="thickness", value=declared(value)), merge="t")
    assert label == "Mineral wool between studs: thickness 220 → 240\u00a0mm"
    session.settle()
    session.apply(SetValue(part="outer-wall.3", field="thickness", value=declared(0.3)), merge="t")
    session.undo()
    assert find(session.home, "outer-wall.3").thickness.value == 0.24
    session.undo()
    assert session.home is OSIER


def test_typing_back_to_the_old_value_leaves_no_step() -> None:
    session = Session(OSIER)
    old = find(OSIER, "outer-wall.3").thickness
    session.apply(SetValue(part="outer-wall.3", field="thickness", value=declared(0.3)), merge="t")
    session.apply(SetValue(part="outer-wall.3", field="thickness", value=old), merge="t")
    assert session.home == OSIER and session.undo_label is None


def test_ids_stand_once_and_fresh_ones_are_free() -> None:
    with pytest.raises(ValidationError, match="twice"):
        Home(junctions=(Junction(id="a"), Junction(id="a")))
    home = Home(junctions=(Junction(id="j-1"),))
    assert fresh_id(home, "j") == "j-2"


def test_every_field_is_described_for_people() -> None:
    for kind in {type(p) for key in DEMO for p in walk_parts(demo_home(key))} | {BuildUp, Opening}:
        for name, spec in specs(kind).items():
            assert spec.label and spec.name == name
            if spec.kind == "choice":
                assert len(spec.choices) > 1


def test_shipped_data_is_whole() -> None:
    home = new_home("Trial")
    assert home.name == "Trial" and home.shape.form is not None and home.brief.bedrooms is None
    assert all(g.basis.value == "assumed" for p in walk_parts(home) for g in vars(p).values() if isinstance(g, Given)), (
        "defaults are marked as such"
    )
    assert len(target_sets()) == 3 and all(s.source for s in target_sets())
    assert all(m["source"] and m["conductivity"] > 0 for m in materials())
    families = set(specs(Junction)["family"].choices)
    around_openings = {"jamb", "head", "sill", "roof window"}
    assert families | around_openings == set(psi_catalogue())
    assert all(row["typical"] <= row["fallback"] for row in psi_catalogue().values()), "typical is never above the safe side"


def test_a_replaced_part_is_checked() -> None:
    with pytest.raises(ValidationError):
        replace(OSIER.air, shielding="somewhat")
    assert json.loads(OSIER.model_dump_json())["name"] == "Osier Lane 7"
