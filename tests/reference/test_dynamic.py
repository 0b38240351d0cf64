"""Heat stored and let through over a day: ISO 13786:2017 against closed forms and a matrix of the test's own."""

from __future__ import annotations

import cmath
from math import cos, cosh, pi, sin, sinh, sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.fabric.dynamic import DAY, SHALLOW, areal_capacity, dynamic, inner_capacity, layer_matrix, periodic, shift
from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.model.part import replace
from nuthatch.core.results.figure import CannotKnow
from tests.simple_home import g, layer

CONCRETE = layer("c", 200, 1.8, 2400, 1000)
WOOL = replace(layer("i", 160, 0.04, 30, 1030))
PLASTER = layer("p", 15, 0.57, 1300, 1000)


def build(*layers: Layer) -> BuildUp:
    """From the outside to the inside."""
    return BuildUp(id="b", name="B", layers=layers)


def kappa(*layers: Layer) -> float:
    return float(areal_capacity(build(*layers)).value or 0.0)


def by_waves(*layers: tuple[float, float, float, float], films: tuple[float, float] = (0.0, 0.0)) -> list[list[complex]]:
    """Matrix of layers (d, λ, ρ, c) from the inside, each as cosh γ and sinh γ, γ = (1 + i)·d/δ; R of the films."""
    rows = [(films[0], 1.0, 0.0, 0.0), *layers, (films[1], 1.0, 0.0, 0.0)]
    m: list[list[complex]] = [[1, 0], [0, 1]]
    for d, lam, rho, c in rows:
        if rho == 0:
            z: list[list[complex]] = [[1, -d / lam], [0, 1]]
        else:
            gamma = (1 + 1j) * d / sqrt(lam * DAY / (pi * rho * c))
            z = [[cmath.cosh(gamma), -cmath.sinh(gamma) * d / (lam * gamma)], [-lam * gamma / d * cmath.sinh(gamma), cmath.cosh(gamma)]]
        m = [[sum(z[i][k] * m[k][j] for k in range(2)) for j in range(2)] for i in range(2)]
    return m


def test_one_layer_in_closed_form() -> None:
    """Annex of ISO 13786 for one layer: |Z12|² = (R/ξ)²·(sinh²ξ + sin²ξ)/2; κ = T/(2π)·|(cosh γ − 1)/Z12|; a thin one stores half its
    mass from each side, a thick one δ·ρc/√2."""
    d, lam, rho, c = 0.2, 1.8, 2400.0, 1000.0
    x = d / sqrt(lam * DAY / (pi * rho * c))
    z12 = (d / lam / x) * sqrt((sinh(x) ** 2 + sin(x) ** 2) / 2)
    z11 = sqrt((cosh(x) * cos(x) - 1) ** 2 + (sinh(x) * sin(x)) ** 2)
    assert kappa(CONCRETE) == pytest.approx(DAY / (2 * pi) * z11 / z12 / 1000)
    thin = replace(CONCRETE, thickness=g(0.002))
    assert kappa(thin) == pytest.approx(0.001 * 2400, rel=1e-3)
    thick = replace(CONCRETE, thickness=g(3.0))
    assert kappa(thick) == pytest.approx(2400 * sqrt(lam * DAY / (pi * rho * c)) / sqrt(2), rel=1e-6)


def test_a_wall_of_three_layers_by_another_matrix() -> None:
    found = dynamic(build(CONCRETE, WOOL, PLASTER), "across", "outside air")
    rows = ((0.015, 0.57, 1300.0, 1000.0), (0.16, 0.04, 30.0, 1030.0), (0.2, 1.8, 2400.0, 1000.0))
    bare, whole = by_waves(*rows), by_waves(*rows, films=(0.13, 0.04))
    assert found.inner.value == pytest.approx(DAY / (2 * pi) * abs((bare[0][0] - 1) / bare[0][1]) / 1000)
    assert found.periodic.value == pytest.approx(1 / abs(whole[0][1]))
    u = 1 / (0.13 + 0.015 / 0.57 + 4 + 0.2 / 1.8 + 0.04)
    assert found.decrement.value == pytest.approx(1 / abs(whole[0][1]) / u) and 0 < float(found.decrement.value or 0) < 1
    phase = cmath.phase(-whole[0][1]) * DAY / (2 * pi) / 3600
    assert abs((float(found.shift.value or 0) - phase + 12) % 24 - 12) < 1e-6
    assert 8 < float(found.shift.value or 0) < 12, "hours; heavy walls with insulation lie there (common practice, no source)"


def test_the_shift_of_a_very_thick_layer_goes_past_a_day() -> None:
    """Of a layer much thicker than δ the phase is d/δ − π/4, films change it by less than π/4 each; 24 h are 2π."""
    found = float(dynamic(build(replace(CONCRETE, thickness=g(1.5))), "across", "outside air").shift.value or 0)
    x = 1.5 / sqrt(1.8 * DAY / (pi * 2400 * 1000))
    assert found == pytest.approx(x * 24 / (2 * pi), abs=3.0) and found > 24
    phase = cmath.phase(-by_waves((1.5, 1.8, 2400.0, 1000.0), films=(0.13, 0.04))[0][1]) * 24 / (2 * pi)
    assert abs((found - phase + 12) % 24 - 12) < 1e-6


def test_what_lies_behind_insulation_hardly_stores() -> None:
    inside, outside = kappa(WOOL, CONCRETE), kappa(CONCRETE, WOOL)
    assert inside > 60 > 8 > outside, "mass inside of the insulation counts, outside of it does not"
    assert kappa(replace(WOOL, density=None)) == 0 and kappa(replace(WOOL, conductivity=None, resistance=g(4.0), density=None)) == 0
    air = Layer(id="a", name="a", kind="air layer", thickness=g(0.04), density=g(1000), specific_heat=g(1000))
    assert kappa(CONCRETE, air) < kappa(CONCRETE), "an air layer has no mass"
    clad = Layer(id="v", name="v", kind="well ventilated", thickness=g(0.04))
    assert kappa(CONCRETE, clad, PLASTER) == kappa(PLASTER), "nothing outside of ventilation counts"


def test_the_capacity_changes_smoothly_with_conductivity() -> None:
    """The former rule of the inner 10 cm jumped where λ passed 0.065: by the mass of all that lay behind."""
    values = [kappa(CONCRETE, replace(layer("w", 60, lam, 160, 2100)), PLASTER) for lam in (0.060, 0.064, 0.066, 0.070)]
    steps = [abs(b - a) / a for a, b in zip(values, values[1:], strict=False)]
    assert max(steps) < 0.02


def test_a_layer_without_lambda_is_unknown_or_ends_what_is_known() -> None:
    lost = replace(CONCRETE, conductivity=None)
    found = areal_capacity(build(lost, PLASTER))
    assert found.value is None and found.needs[0].part == "c"  # type: ignore[union-attr]
    typed = replace(build(lost, PLASTER), u_detailed=g(0.2))
    assert areal_capacity(typed).value == pytest.approx(kappa(PLASTER))


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.floats(0.01, 0.4), st.floats(0.03, 2.5), st.floats(20, 2500)), min_size=1, max_size=6))
def test_the_matrix_keeps_what_physics_asks(rows: list[tuple[float, float, float]]) -> None:
    """det Z = 1; less comes through a swing than steadily; stored heat is at most what is there."""
    from nuthatch.core.fabric.dynamic import transfer

    r, d, rho = tuple(a / b for a, b, _ in rows), tuple(a for a, _, _ in rows), tuple(c for _, _, c in rows)
    z = transfer(r, d, rho, (1000.0,) * len(rows))
    scale = max(abs(z[0, 0] * z[1, 1]), abs(z[0, 1] * z[1, 0]), 1.0)
    assert abs(z[0, 0] * z[1, 1] - z[0, 1] * z[1, 0] - 1) < 1e-8 * scale
    layers = tuple(layer(f"l{n}", 1000 * a, b, c, 1000) for n, (a, b, c) in enumerate(rows))
    found = dynamic(build(*layers), "across", "outside air")
    assert 0 < float(found.decrement.value or 0) <= 1 + 1e-9 and float(found.shift.value or 0) >= 0


def test_a_swing_that_never_comes_through_has_no_time_shift() -> None:
    """Twice 200 radians deep nothing of it is left: it is said instead of followed without end."""
    with pytest.raises(CannotKnow, match="day"):
        shift(0.13, 0.04, (3e6,), (3.0,), (25000.0,), (10000.0,))
    assert periodic(0.13, 0.04, (3e6,), (3.0,), (25000.0,), (10000.0,)) < 1e-9


@pytest.mark.parametrize("thickness", [0.0, 1e-300, 1e-180, 1e-12, 1e-6, 1e-4])
def test_a_layer_of_next_to_nothing_stores_what_it_weighs(thickness: float) -> None:
    """ISO 13786: where the swing goes right through, the areal capacity of a layer before insulation is its ρ·c·d; no division by what
    vanishes on the way there."""
    insulation, board = (0.1 / 0.04, 0.1, 0.0, 0.0), (thickness / 0.25, thickness, 900.0, 1000.0)
    columns = tuple(zip(board, insulation, strict=True))
    assert inner_capacity(*columns) == pytest.approx(thickness * 900, rel=1e-2, abs=1e-12)


def test_the_series_of_a_thin_layer_meets_the_closed_form() -> None:
    """Either side of where one takes over from the other; the determinant of a transfer matrix is 1."""
    r = 0.02
    for x in (0.99 * SHALLOW, 1.01 * SHALLOW):
        capacity = x * x * DAY / (np.pi * r)
        m = layer_matrix(r, capacity)
        assert np.linalg.det(m) == pytest.approx(1, rel=1e-9)
        assert m[0, 1] == pytest.approx(-r, rel=1e-5) and m[1, 0] == pytest.approx(-2j * np.pi / DAY * capacity, rel=1e-5)
        assert m[0, 0] == pytest.approx(1 + 1j * x * x, rel=1e-9)
