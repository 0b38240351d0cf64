"""Every entered value of every working stands where its link leads, with its own basis; nothing but values is shown."""

from __future__ import annotations

import numpy as np
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.library import demo_home, new_home
from nuthatch.core.model.home import find
from nuthatch.core.model.part import Given, specs
from nuthatch.core.results.figure import Known, Unknown, leaves, shown, walk
from nuthatch.core.steps import STEPS, step_of
from tests.simple_home import simple_home


def all_of(a: Assessment) -> tuple:  # type: ignore[type-arg]
    return (*a.figures.values(), *a.months.values())


def test_a_link_leads_to_the_very_value(demo_assessments: dict[str, Assessment], marrowby) -> None:
    inch = assess(apply(SetValue(part="form", field="left", value="unheated space"), simple_home()), marrowby)
    seen = 0
    for a in (*demo_assessments.values(), inch):
        for leaf in leaves(all_of(a)):
            if not leaf.part:
                continue
            part = find(a.home, leaf.part)
            assert part is not None and leaf.field in type(part).model_fields, leaf
            given = getattr(part, leaf.field)
            if isinstance(given, Given):
                assert np.all(np.asarray(leaf.value) == given.value), (
                    f"{leaf.label}: {leaf.value} is not {leaf.part}.{leaf.field} {given.value}"
                )
                assert (leaf.basis, leaf.source) == (given.basis.value, given.source), leaf.label
                assert leaf.kind == specs(type(part))[leaf.field].kind, leaf.label
                seen += 1
            elif leaf.kind == "text" and isinstance(given, str) and leaf.field not in ("front", "back", "left", "right"):
                assert leaf.value == given, leaf
    assert seen > 400


def test_what_is_missing_leads_to_a_field_that_is_empty() -> None:
    for home in (new_home(), demo_home("sail-loft"), simple_home()):
        a = assess(home, None)
        for node in walk(all_of(a)):
            for need in node.needs if isinstance(node, Unknown) else ():
                if need.part:
                    part = find(home, need.part)
                    assert part is not None, need
                    value = getattr(part, need.field)
                    assert not isinstance(value, Given) or "fit into" in need.text or "total" in need.text, need


def test_a_working_shows_values_and_words_only(demo_assessments: dict[str, Assessment], form_assessed: Assessment) -> None:
    """It once showed a Python object for the quick form, and hid the assumed share of partitions."""
    for a in (*demo_assessments.values(), form_assessed):
        for node in walk(all_of(a)):
            if not isinstance(node, Unknown):
                assert isinstance(node.value, int | float | str | np.ndarray), f"{node.label}: {type(node.value)}"
                assert "object at" not in shown(node) and "Given(" not in shown(node) and "QuickForm" not in node.label
    area = form_assessed.figures["reference_floor_area"]
    assert isinstance(area, Known)
    found = {leaf.field: leaf.basis for leaf in leaves(area)}
    assert found["partition_share"] == "assumed" and {"length", "depth", "roof", "traced", "floor_thickness"} <= set(found)


def test_every_field_belongs_to_a_step_that_has_a_board(demo_assessments: dict[str, Assessment]) -> None:
    from nuthatch.core.model.home import walk_parts

    for a in demo_assessments.values():
        for part in walk_parts(a.home):
            assert all(step_of(part, name) in STEPS for name in type(part).model_fields)
    home = demo_home("osier-lane-7")
    assert step_of(home, "sources") == "heat-power" and step_of(home, "junctions_none") == "junctions" and step_of(home, "name") == "brief"
    assert step_of(home.shape, "inner_mass") == "shape", "where its field is; a question once led to a board without it"


@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage"])
def test_losses_to_unheated_spaces_show_b_with_its_own_basis(key: str, demo_assessments: dict[str, Assessment]) -> None:
    for leaf in leaves(demo_assessments[key].figures["transmission_loss_coefficient"]):
        if leaf.label.startswith("b factor") and leaf.part:
            part = find(demo_assessments[key].home, leaf.part)
            assert leaf.basis == getattr(part, leaf.field).basis.value
