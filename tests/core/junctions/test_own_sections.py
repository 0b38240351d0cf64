"""Sections of own junctions: a balcony's slab through a wall, an inner wall that meets it; drawn from a wall of the home."""

from __future__ import annotations

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, Insert, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.own_details import own_started, walls_of
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.heatflow.plies import Ply
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import SOLVED
from nuthatch.core.heatflow.worked import worked
from nuthatch.core.junctions.own_sections import Balcony, balcony, partition
from nuthatch.core.junctions.sections import Arm
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home, Junction
from tests.core.heatflow.drawn import BRICK, Layers, u_of
from tests.simple_home import g

OUTSIDE_INSULATED: Layers = ((0.015, 0.7), (0.24, 0.8), (0.16, 0.035), (0.01, 0.7))


def wall(layers: Layers) -> Arm:
    return Arm("wall", tuple(Ply("", f"ply {n}", t, k) for n, (t, k) in enumerate(layers)), u_of(layers), 0.04, short="wall")


def psi(layers: Layers, slab: Balcony) -> float:
    found = worked(balcony("b", wall(layers), slab).section)
    assert found.psi_external is not None and found.psi_external == pytest.approx(found.psi_internal), (
        "between rooms both sides are as long"
    )
    return found.psi_external


def test_a_slab_through_insulation_outside_loses_as_much_as_tables_say() -> None:
    """Default values of ISO 14683 for balconies that go through lie between 0.6 and 1.0 W/(m·K) (from memory)."""
    assert 0.5 < psi(OUTSIDE_INSULATED, Balcony()) < 1.1


def test_more_slab_loses_more_and_a_slab_of_wool_hardly_anything() -> None:
    usual, thick, cut = (psi(OUTSIDE_INSULATED, s) for s in (Balcony(), Balcony(0.25), Balcony(conductivity=0.05)))
    assert cut < 0.05 < usual < thick


def test_in_a_wall_like_itself_only_the_fin_counts() -> None:
    """A slab of the wall's own λ that hardly reaches out is the wall going on, with a fin inside: hardly anything either way."""
    alone: Layers = ((0.3, 0.8),)
    found = psi(alone, Balcony(0.18, 0.01, 0.8))
    assert abs(found) < 0.05 < psi(alone, Balcony(0.18, 1.2, 2.3))


def test_an_inner_wall_matters_only_where_it_cuts_the_lining() -> None:
    """Before insulation outside it adds next to nothing; through insulation inside it is a bridge (common practice, no source)."""
    outside, inside = (worked(partition("p", wall(x)).section) for x in (OUTSIDE_INSULATED, OUTSIDE_INSULATED[::-1]))
    assert outside.psi_external is not None and abs(outside.psi_external) < 0.02
    assert inside.psi_external is not None and inside.psi_external > 0.1
    assert partition("p", wall(BRICK)).section.plane == "horizontal"


@pytest.fixture(scope="module")
def cottage() -> Assessment:
    home = demo_home("weir-cottage")
    made = with_own(home, "balcony slab", "partition", "chimney")
    return assess(made, climate_for(made, None))


def with_own(home: Home, *families: str) -> Home:
    for n, family in enumerate(families):
        row = Junction(id=f"own-{n}", name=f"Own {family}", family=family if family != "chimney" else "other", length=g(3.0), own=True)  # type: ignore[arg-type]
        home = apply(Insert(owner="home", field="junctions", value=row), home)
    return home


@pytest.mark.parametrize(("n", "plane"), [(0, "vertical"), (1, "horizontal")])
def test_a_detail_is_drawn_from_a_wall_of_the_home(cottage: Assessment, n: int, plane: str) -> None:
    a, row = cottage, next(j for j in cottage.home.junctions if j.id == f"own-{n}")
    walls = walls_of(a)
    assert len(walls) == len({w.buildup for w in walls}) >= 1
    home = apply(own_started(a, row, walls[0]), a.home)
    now = next(j for j in home.junctions if j.id == row.id)
    detail = next(d for d in home.details if d.id == now.detail)
    assert now.tier == "detailed" and now.psi is None and detail.plane == plane
    after = assess(home, climate_for(home, None))
    of = after.all_of(SOLVED)[detail.id]
    assert isinstance(of, Solved) and of.psi_external is not None
    element = next(e for e in after[ELEMENTS] if e.id == row.id)
    psi = of.psi_external if home.shape.dimensions == "external" else of.psi_internal
    assert element.loss.value == pytest.approx(3.0 * psi)  # type: ignore[operator]


def test_another_family_is_refused_with_what_to_do(cottage: Assessment) -> None:
    row = next(j for j in cottage.home.junctions if j.id == "own-2")
    with pytest.raises(ChangeRefused, match="balcony slab or a partition"):
        own_started(cottage, row, walls_of(cottage)[0])
