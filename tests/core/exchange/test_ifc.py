"""IFC models taken in, made by the library that reads them: IFC4 and IFC2x3, in metres and millimetres."""

from __future__ import annotations

import importlib.util
import os
import signal
from typing import Any

import numpy as np
import pytest

from nuthatch.core.assess import assess
from nuthatch.core.edits.openings_kept import outlines_of
from nuthatch.core.exchange import ifc
from nuthatch.core.exchange.ifc import taken as read_taken
from nuthatch.core.exchange.taken import SeveralBuildings, Taken
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import walk_parts
from nuthatch.core.model.part import Given
from nuthatch.core.model.plans import Plans
from nuthatch.core.plans.reading_plans import points_of
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.opening_places import in_space, stands
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.workers import Worker
from tests.ifc_models import Model, box, house, walls

WORKER = Worker()


def taken(data: bytes, building: str = "") -> Taken:
    """Read in one process for all tests."""
    return read_taken(data, building, WORKER)


def plans(home: Any) -> Plans:
    assert home.shape.plans is not None
    return home.shape.plans  # type: ignore[no-any-return]


@pytest.mark.parametrize(("schema", "metres"), [("IFC4", False), ("IFC4", True), ("IFC2X3", False)])
def test_a_model_becomes_storeys_rooms_a_roof_and_openings(schema: str, metres: bool) -> None:
    """10 × 6 m along the outer faces, from the underside of the slab at −0.25 m to the eaves at 6 m, and the gable of 3 m above them:
    60·6.25 + 10·6·3/2 = 465 m³."""
    got = taken(house(schema, metres).data())
    ground, upper = plans(got.home).storeys
    assert (ground.name, ground.level.value, upper.level.value) == ("Ground floor", pytest.approx(-0.25), pytest.approx(3))  # type: ignore[union-attr]
    (outline,) = ground.outlines
    corners = np.array(sorted(points_of(outline.sides)))
    assert corners == pytest.approx(np.array([(0, 0), (0, 6), (10, 0), (10, 6)]), abs=1e-3)
    assert [r.name for r in ground.rooms] == ["Kitchen", "Living"] and upper.outlines[0].reaches == "the roof"
    (roof,) = plans(got.home).roofs
    assert roof.kind == "gable" and roof.pitch is not None and roof.pitch.value == pytest.approx(45, abs=0.01)
    a = assess(got.home, None)
    built = a[BUILT]
    assert built is not None and sum(built.volumes.values()) == pytest.approx(465, rel=1e-3)
    assert not [q.text for q in a.questions if "not closed" in q.text]
    found = {}
    for o in got.home.openings:
        polygon = outlines_of(got.home)[o.face]
        (stand,) = stands((o,), o.face, polygon)
        spots = np.array(in_space(polygon, stand, 0.0))
        found[o.name] = spots.min(axis=0).round(3).tolist(), spots.max(axis=0).round(3).tolist()
    assert found == {"W1": ([5, 0, 0.9], [6.5, 0, 2.1]), "W2": ([10, 2, 4], [10, 3, 5.2]), "Front door": ([8, 0, 0], [9, 0, 2.1])}
    assert "1 × door or window inside the home: Kitchen door" in got.left_out
    assert any(w.endswith(": Table") for w in got.left_out) and any("unheated" in w for w in got.left_out)


def test_layers_and_u_values_come_along() -> None:
    """The walls' U by hand (ISO 6946): 1/(0.13 + 0.2/0.04 + 0.1/0.13 + 0.04) = 0.1684 W/(m²·K)."""
    home = taken(house().data()).home
    builds = {b.id: b for b in home.buildups}
    wall = builds[plans(home).wall_buildup]
    assert wall.name == "Timber wall" and [(x.name, x.thickness.value, x.conductivity.value) for x in wall.layers] == [  # type: ignore[union-attr]
        ("Wood fibre", pytest.approx(0.2), 0.04),
        ("Solid wood", pytest.approx(0.1), 0.13),
    ]
    a = assess(home, None)
    row = next(b for b in a[SOLID].boundaries if b.role == "wall")
    from nuthatch.core.energy.stages import ELEMENTS

    assert next(e.u.value for e in a[ELEMENTS] if e.id == row.id and e.u is not None) == pytest.approx(
        1 / (0.13 + 5 + 0.1 / 0.13 + 0.04), rel=1e-6
    )
    slab = builds[plans(home).ground_buildup]
    assert slab.u_detailed is not None and slab.u_detailed.value == 0.18
    kinds = {t.id: t for t in home.opening_types}
    first = next(o for o in home.openings if o.name == "W1")
    assert kinds[first.type].whole_u is not None and kinds[first.type].whole_u.value == 0.8  # type: ignore[union-attr]


def test_every_value_says_it_is_from_the_model() -> None:
    """Places, levels, pitches, sizes: none is marked as of another kind of file."""
    home = taken(house().data()).home
    rows = [*walk_parts(plans(home)), *home.openings]
    sources = {value.source for part in rows for value in dict(part).values() if isinstance(value, Given)}
    assert sources == {"IFC"}


def test_a_court_and_an_l_of_walls() -> None:
    """An inner court of 2 × 2 m whose walls stand outside it is a hole of the outline; rooms are not."""
    m = Model()
    storey = m.storey("Ground floor", 0.0)
    walls(m, storey, 0, 3)
    for name, b in {"s": (4, 2, 0, 6, 2.2, 3), "n": (4, 4, 0, 6, 4.2, 3), "w": (3.8, 2, 0, 4, 4.2, 3), "e": (6, 2, 0, 6.2, 4.2, 3)}.items():
        m.add(storey, "IfcWall", f"court {name}", box(*b))
    m.add(storey, "IfcSpace", "Hall", box(0.3, 0.3, 0, 3.7, 5.7, 2.5))
    (outline,) = plans(taken(m.data()).home).storeys[0].outlines
    (court,) = outline.holes
    xs, ys = zip(*points_of(court.sides), strict=True)
    assert (min(xs), max(xs), min(ys), max(ys)) == pytest.approx((4, 6, 2.2, 4), abs=1e-3)


def test_rooms_alone_make_an_outline() -> None:
    """Without walls: around both rooms and the 0.3 m between them, and it is said."""
    m = Model()
    storey = m.storey("Flat", 0.0)
    m.add(storey, "IfcSpace", "A", box(0, 0, 0, 4, 5, 2.5))
    m.add(storey, "IfcSpace", "B", box(4.3, 0, 0, 9, 5, 2.5))
    got = taken(m.data())
    (outline,) = plans(got.home).storeys[0].outlines
    xs, _ = zip(*points_of(outline.sides), strict=True)
    assert (min(xs), max(xs)) == pytest.approx((0, 9), abs=1e-3) and len(outline.sides) == 4
    assert any("outer walls of a storey that has none" in w for w in got.left_out)


def test_of_several_buildings_one_is_chosen() -> None:
    m = Model(buildings=("House", "Barn"))
    for n in (0, 1):
        walls(m, m.storey("Ground floor", 0.0, n), 0, 3 + n)
    with pytest.raises(SeveralBuildings, match="“House”, “Barn”"):
        taken(m.data())
    got = plans(taken(m.data(), "Barn").home)
    assert got.storeys[0].height is not None and got.storeys[0].height.value == pytest.approx(4)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no IFC model"),
        (b"hello", "no IFC model"),
        (house().data()[:4000], "cut off"),
        (Model().data(), "no storeys"),
        (b"ISO-10303-21;\nEND-ISO-10303-21;", "no IFC model"),
    ],
)
def test_what_cannot_be_read_is_said(data: bytes, says: str) -> None:
    with pytest.raises(HomeFileError, match=says):
        taken(data)
    m = Model()
    m.storey("Empty", 0.0)
    with pytest.raises(HomeFileError, match="no storey of this model has walls or spaces"):
        taken(m.data())


def test_without_the_extra_it_says_how_to_get_it(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(importlib.util, "find_spec", lambda name: None)
    with pytest.raises(HomeFileError, match=r"pip install 'nuthatch\[ifc\]'"):
        taken(Model().data())


def test_a_model_that_ends_the_process_that_reads_it_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    """What the library dies of ends a process of its own, not ours."""
    monkeypatch.setattr(ifc, "_read", _died)
    with pytest.raises(HomeFileError, match="reading it broke off"):
        taken(Model().data())


def _died(data: bytes, building: str) -> None:
    os.kill(os.getpid(), signal.SIGSEGV)
