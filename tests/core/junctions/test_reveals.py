"""Sides of openings: a frame like its wall adds nothing; where frames stand; ψ taken over by the type, asked about until it is."""

from __future__ import annotations

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.opening_details import detail_at, opening_started, psi_taken
from nuthatch.core.fabric.stages import OPENING
from nuthatch.core.heatflow.plies import Ply
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import SOLVED
from nuthatch.core.heatflow.worked import worked
from nuthatch.core.junctions.reveals import DEEP, Frame, reveal, stands
from nuthatch.core.junctions.sections import Arm, mirrored
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from tests.core.heatflow.drawn import BRICK, Layers, u_of
from tests.simple_home import g

INSULATED: Layers = ((0.015, 0.7), (0.24, 0.16), (0.16, 0.035), (0.01, 0.7))
TIMBER: Layers = ((0.0125, 0.25), (0.015, 0.13), (0.24, 0.04), (0.06, 0.044))


def wall(layers: Layers) -> Arm:
    return Arm("wall", tuple(Ply("", f"ply {n}", t, k) for n, (t, k) in enumerate(layers)), u_of(layers), 0.04, short="wall")


@pytest.mark.parametrize("plan", [True, False])
def test_a_frame_like_its_wall_adds_nothing(plan: bool) -> None:
    """As deep as a wall of one material, with the wall's own U: the wall goes on, ψ is 0; in plan exactly, where every film is alike."""
    of = wall(((DEEP, 0.12),))
    drawn = reveal("same", of, Frame(of.u, 0.12), plan)
    found = worked(drawn.section)
    assert found.psi_external == pytest.approx(0.0, abs=2e-4) == found.psi_internal
    assert drawn.section.blocks[-1].conductivity == pytest.approx(0.12)
    assert worked(mirrored(drawn).section).psi_external == pytest.approx(0.0, abs=2e-4)


def test_a_frame_deep_in_a_brick_wall_loses_more_at_its_reveal() -> None:
    """Common practice, no source: installation in a bare brick wall about 0.05 to 0.4 W/(m·K), in insulation outside less."""
    bare, better = (worked(reveal("x", wall(layers), Frame(1.0, 0.11), True).section).psi_external for layers in (BRICK, TIMBER))
    assert bare is not None and better is not None and 0.05 < bare < 0.4 and -0.02 < better < 0.06 < bare


def test_where_a_frame_stands() -> None:
    assert stands(wall(INSULATED)) == pytest.approx((0.255 - DEEP, 0.255)), "behind the outer face of what carries"
    middle = 0.0275 + 0.24 / 2
    assert stands(wall(TIMBER)) == pytest.approx((middle - DEEP / 2, middle + DEEP / 2)), "in the middle of the insulation"
    assert stands(wall(((0.3, 0.5),))) == pytest.approx((0.15 - DEEP / 2, 0.15 + DEEP / 2)) and stands(wall(((0.05, 0.1),))) == (0.0, 0.05)


def made(home: Home) -> Assessment:
    return assess(home, climate_for(home, None))


@pytest.fixture(scope="module")
def osier() -> Assessment:
    home = demo_home("osier-lane-7")
    kinds = tuple(replace(k, install_jamb=g(0.1), install_head=g(0.1), install_sill=g(0.1)) for k in home.opening_types)
    return made(
        replace(home, opening_types=kinds, details=(), junctions=tuple(replace(j, detail="", psi=j.psi or g(0.0)) for j in home.junctions))
    )


@pytest.mark.parametrize("side", ["jamb", "head", "sill"])
def test_the_type_takes_the_psi_of_its_side(osier: Assessment, side: str) -> None:
    row = next(o for o in osier.home.openings if next(k for k in osier.home.opening_types if k.id == o.type).frame_u is not None)
    batch, ident = opening_started(osier, row, side)  # type: ignore[arg-type]
    a = made(apply(batch, osier.home))
    detail = next(d for d in a.home.details if d.id == ident)
    assert detail_at(a, row.type, side) is detail and detail.plane == ("horizontal" if side == "jamb" else "vertical")  # type: ignore[arg-type]
    of = a.all_of(SOLVED)[ident]
    assert isinstance(of, Solved) and of.psi_external is not None and -0.05 < of.psi_external < 0.2
    field = f"install_{side}"
    asked = [q for q in a.questions if q.part == row.type and q.field == field]
    assert len(asked) == 1 and "its detail gives" in asked[0].text
    change = psi_taken(a, detail)
    assert change.field == field and change.value.value == pytest.approx(of.psi_external, abs=1e-4)  # type: ignore[union-attr]
    then = made(apply(change, a.home))
    assert not [q for q in then.questions if q.part == row.type and q.field == field]
    before, after = (x.all_of(OPENING)[row.id].loss.value for x in (a, then))
    kind = next(k for k in a.home.opening_types if k.id == row.type)
    was = (kind[field] or kind.install_psi or g(0)).value
    long = {"jamb": 2 * row.height.value, "head": row.width.value, "sill": row.width.value}[side]  # type: ignore[union-attr]
    count = row.count.value if row.count is not None else 1.0
    assert float(after) - float(before) == pytest.approx(count * long * (change.value.value - was), abs=1e-6)  # type: ignore[union-attr,arg-type]


def test_what_a_detail_of_a_side_lacks_is_said(osier: Assessment) -> None:
    home = osier.home
    row = next(o for o in home.openings if next(k for k in home.opening_types if k.id == o.type).frame_u is not None)
    for value, says in ((None, "no U of its frame"), (g(8.0), "more than its films let through")):
        a = made(apply(SetValue(part=row.type, field="frame_u", value=value), home))
        with pytest.raises(ChangeRefused, match=says):
            opening_started(a, row, "jamb")
    with pytest.raises(ChangeRefused, match="no type yet"):
        opening_started(osier, replace(row, type=""), "jamb")
    other = demo_home("weir-cottage")
    a = made(other)
    with pytest.raises(ChangeRefused, match="is of no opening"):
        psi_taken(a, other.details[0])
