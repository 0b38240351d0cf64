"""Properties of the heat-flow solve: heat is kept, symmetry, λ up flow up, slopes, cavities, a third temperature."""

from __future__ import annotations

from dataclasses import replace
from math import cos, radians, sin

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.heatflow.lines import contours, flow_lines, isotherms
from nuthatch.core.heatflow.section import Block, Flank, Section, Space
from nuthatch.core.heatflow.worked import worked
from tests.core.heatflow.drawn import BRICK, Layers, corner, frame, mitred, plane, rect, slab_edge, u_of

EVERY = (corner(BRICK), corner(BRICK, inner=True), mitred(BRICK, BRICK, 45), mitred(BRICK, BRICK, 67), slab_edge(), frame())


@pytest.mark.parametrize("section", EVERY, ids=lambda s: s.name)
def test_heat_is_kept_and_the_grid_is_fine_enough(section: Section) -> None:
    found = worked(section)
    assert found.grid.kept < 1e-6 and found.grid.enough and found.grid.psi < 0.002
    t = found.temperatures()
    air = [s.temperature for s in section.spaces]
    assert min(air) - 1e-9 <= np.nanmin(t) and np.nanmax(t) <= max(air) + 1e-9, "nothing is warmer or colder than the air around"


def test_a_symmetric_section_has_a_symmetric_field() -> None:
    found = worked(corner(BRICK), once=True)
    t = found.temperatures()[: len(found.mesh.x) * len(found.mesh.y)].reshape(len(found.mesh.y), len(found.mesh.x))
    assert np.allclose(t, t.T, atol=1e-9, equal_nan=True)


@settings(max_examples=20, deadline=None)
@given(n=st.integers(0, 5), factor=st.floats(1.01, 30))
def test_more_conductivity_never_lets_through_less(n: int, factor: float) -> None:
    section = slab_edge()
    blocks = tuple(replace(b, conductivity=b.conductivity * factor) if i == n else b for i, b in enumerate(section.blocks))  # type: ignore[operator]
    assert worked(replace(section, blocks=blocks), once=True).l2d > worked(section, once=True).l2d


@settings(max_examples=15, deadline=None)
@given(angle=st.floats(5, 85), layers=st.sampled_from([BRICK, ((0.1, 2.3), (0.3, 0.03)), ((0.02, 0.25), (0.002, 160.0), (0.2, 0.04))]))
def test_a_leaning_wall_loses_what_an_upright_one_does(angle: float, layers: Layers) -> None:
    """A slope has neither steps nor more surface than it has: U by hand within 0.1 % at every angle, whatever its layers."""
    a, long = radians(angle), 1.5
    ends = np.concatenate(([0.0], np.cumsum([d for d, _ in layers])))
    run, up = np.array([cos(a), sin(a)]), np.array([-sin(a), cos(a)])

    def strip(low: float, high: float) -> tuple[tuple[float, float], ...]:
        return tuple(map(tuple, (low * up, low * up + long * run, high * up + long * run, high * up)))  # type: ignore[arg-type]

    blocks = tuple(Block(f"layer {n}", strip(ends[n], ends[n + 1]), k) for n, (_, k) in enumerate(layers))
    spaces = (Space("inside", "inside", strip(-0.2, 0), 20.0, 0.13), Space("outside", "outside", strip(ends[-1], ends[-1] + 0.2), 0.0))
    assert worked(Section("leaning", blocks, spaces), once=True).l2d == pytest.approx(long * u_of(layers), rel=1e-3)


def test_which_film_holds_goes_by_the_way_heat_flows() -> None:
    """ISO 6946, table 7: floor 0.17, wall 0.13, ceiling 0.10; up to 30° from the horizontal it is a wall."""
    layers = ((0.2, 0.5),)
    for turn, rsi in ((0, 0.13), (29, 0.13), (31, 0.10), (90, 0.10), (-29, 0.13), (-31, 0.17), (-90, 0.17)):
        a = radians(turn)
        way, along = np.array([cos(a), sin(a)]), np.array([-sin(a), cos(a)])

        def strip(low: float, high: float, way: np.ndarray = way, along: np.ndarray = along) -> tuple[tuple[float, float], ...]:
            return tuple(map(tuple, (low * way, high * way, high * way + along, low * way + along)))  # type: ignore[arg-type]

        spaces = (Space("inside", "inside", strip(-0.2, 0), 20.0), Space("outside", "outside", strip(0.2, 0.4), 0.0))
        section = Section("turned", (Block("a", strip(0, 0.2), 0.5),), spaces)
        assert worked(section, once=True).l2d == pytest.approx(u_of(layers, rsi), rel=1e-4), turn
        assert worked(replace(section, plane="horizontal"), once=True).l2d == pytest.approx(u_of(layers), rel=1e-4)


def test_a_third_temperature_counts_by_its_b() -> None:
    """Method: ψ = Φ_inside − Σ b U l, inside 1, unheated 1 − b, outside 0; by superposition of the couplings."""
    blocks = (Block("wall", rect(0, 0, 0.3, 2), 0.5), Block("floor", rect(0.3, 0.9, 2.3, 1.1), 1.0))
    spaces = (
        Space("outside", "outside", rect(-0.3, 0, 0, 2), -5.0),
        Space("room", "inside", rect(0.3, 1.1, 2.3, 2), 20.0),
        Space("cellar", "unheated", rect(0.3, 0, 2.3, 0.9), 8.0, b=0.55),
    )
    flanks = (
        Flank("wall", 0.9, 1.1, across=((-0.1, 1.9), (0.4, 1.9))),
        Flank("floor", 2.0, 2.3, across=((1.5, 1.5), (1.5, 0.5)), to="cellar"),
    )
    found = worked(Section("cellar ceiling", blocks, spaces, flanks))
    wall, floor = 1 / (0.17 + 0.3 / 0.5), 1 / (0.17 + 0.17 + 0.2)
    assert [f.u for f in found.flanks] == pytest.approx([wall, floor], rel=1e-9) and found.flanks[1].b == pytest.approx(0.55)
    coupling = found.field.coupling
    assert found.l2d == pytest.approx(coupling[1, 0] + 0.55 * coupling[1, 2], rel=1e-9)
    assert found.psi_internal == pytest.approx(found.l2d - 0.9 * wall - 0.55 * 2.0 * floor, abs=1e-9)
    assert found.psi_external == pytest.approx(found.l2d - 1.1 * wall - 0.55 * 2.3 * floor, abs=1e-9)
    assert found.psi_internal > 0


def test_the_films_toward_an_unheated_space_go_by_the_way_heat_flows_too() -> None:
    """A floor over a cellar: 0.17 on both sides; a ceiling under a loft: 0.10 on both."""
    for below, film in ((True, 0.17), (False, 0.10)):
        room, cold = rect(0, 0.2, 1, 1), rect(0, -1, 1, 0)
        spaces = (
            Space("room", "inside", room if below else cold, 20.0),
            Space("cold", "unheated", cold if below else room, 5.0, b=0.5),
            Space("outside", "outside", rect(1, -1, 1.5, 1), -5.0),
        )
        found = worked(Section("between", (Block("a", rect(0, 0, 1, 0.2), 0.5),), spaces), once=True)
        beside = worked(
            Section("between", (Block("a", rect(0, 0, 1, 0.2), 0.5),), (spaces[0], replace(spaces[1], film=film), spaces[2])), once=True
        )
        assert found.field.coupling[0, 1] == pytest.approx(beside.field.coupling[0, 1], rel=1e-12)


def test_mould_is_judged_with_its_own_films() -> None:
    """ISO 13788: 0.25 inside, frames and glass 0.13; ψ keeps those of the U-values."""
    found = worked(plane(BRICK), once=True)
    r = sum(t / l for t, l in BRICK)
    assert found.f_rsi == pytest.approx(1 - 0.25 / (0.25 + 0.04 + r), abs=1e-6)
    glazed = replace(plane(BRICK), blocks=tuple(replace(b, glazing=True) for b in plane(BRICK).blocks))
    assert worked(glazed, once=True).f_rsi == pytest.approx(1 - 0.13 / (0.13 + 0.04 + r), abs=1e-6)
    assert found.l2d == pytest.approx(0.6 * u_of(BRICK), rel=1e-6)


def test_the_coldest_point_of_a_corner_is_in_the_corner() -> None:
    section = corner(BRICK)
    found = worked(section)
    assert found.coldest == pytest.approx((0.35, 0.35), abs=1e-6)
    assert found.coldest_temperature == pytest.approx(0 + 20 * (found.f_rsi or 0))


@pytest.mark.parametrize("section", EVERY, ids=lambda s: s.name)
def test_isotherms_lie_where_the_temperature_is_theirs_and_flow_runs_from_air_to_air(section: Section) -> None:
    found = worked(section, once=True)
    for level, lines in isotherms(found).items():
        assert lines and level % 2 == 0
    inside, outside = max(s.temperature for s in section.spaces), min(s.temperature for s in section.spaces)
    whole = abs(found.l2d) * (inside - outside)
    lines = flow_lines(found, whole / 10)
    assert 9 <= len(lines) <= 11, "each carries a tenth"
    heights = contours(found.mesh, found.mesh.points[:, 1], np.array([0.1]))
    assert all(abs(y - 0.1) < 1e-6 for run in heights.values() for line in run for _, y in line)


def test_a_number_rounded_in_the_drawing_leaves_no_crack_along_a_slope() -> None:
    """Three blocks meet at a corner on a leaning side, a hundredth of a millimetre off it: heat crosses as if it lay on it."""
    a, b = (0.0, 0.0), (1.0, 0.7)

    def section(off: float) -> Section:
        t = (0.5 + off, 0.35 - off)
        blocks = (
            Block("above", (a, b, (0.0, 0.7)), 1.0),
            Block("left below", (a, (0.5, 0.0), t), 1.0),
            Block("right below", ((0.5, 0.0), (1.0, 0.0), b, t), 1.0),
        )
        spaces = (Space("inside", "inside", rect(0, -0.3, 1, 0), 20.0, 0.13), Space("outside", "outside", rect(0, 0.7, 1, 1), 0.0))
        return Section("three", blocks, spaces)

    for off in (0.0, 1e-9, 3e-7, 5e-6, -5e-6):
        assert worked(section(off), once=True).l2d == pytest.approx(1 / (0.13 + 0.04 + 0.7), rel=1e-4), off


def test_flow_lines_share_the_heat() -> None:
    """Two columns beside each other, one three times as conductive, films nearly none: three quarters of the lines run through it."""
    blocks = (Block("good", rect(0, 0, 0.5, 1), 3.0), Block("poor", rect(0.5, 0, 1, 1), 1.0))
    spaces = (Space("inside", "inside", rect(0, -0.3, 1, 0), 20.0, 0.0), Space("outside", "outside", rect(0, 1, 1, 1.3), 0.0, 0.0))
    found = worked(Section("columns", blocks, spaces), once=True)
    assert found.l2d == pytest.approx(2.0, rel=1e-4)
    lines = flow_lines(found, 40.0 / 16)
    through = [np.mean([x for x, _ in line]) < 0.5 for line in lines]
    assert len(lines) == 16 and sum(through) == 12


@pytest.mark.parametrize(("warm_below", "flows"), [(True, "up"), (False, "down")])
def test_long_air_lets_through_by_the_way_heat_flows(warm_below: bool, flows: str) -> None:
    """ISO 6946, table 8: a lying layer of 50 mm has R 0.16 upward and 0.21 downward, an upright one 0.18."""
    blocks = (Block("low", rect(0, 0, 1, 0.1), 1.0), Block("air", rect(0, 0.1, 1, 0.15), None), Block("top", rect(0, 0.15, 1, 0.25), 1.0))
    low, high = rect(0, -0.3, 1, 0), rect(0, 0.25, 1, 0.5)
    spaces = (
        Space("inside", "inside", low if warm_below else high, 20.0, 0.1),
        Space("outside", "outside", high if warm_below else low, 0.0, 0.1),
    )
    r = {"up": 0.16, "down": 0.21}[flows]
    section = Section("layer", blocks, spaces)
    assert worked(section, once=True).l2d == pytest.approx(1 / (0.4 + r), rel=1e-4)
    assert worked(replace(section, plane="horizontal"), once=True).l2d == pytest.approx(1 / (0.4 + 0.18), rel=1e-4)
