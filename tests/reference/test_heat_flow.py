"""Heat flow in two dimensions against what is published, against a finite-element library and against three dimensions.

ISO 10211:2017, annex A (cases 1 and 2); shape factor of a corner: handbook value 0.54 and the exact 0.5591; corners and eaves: computed beforehand
by other means (finite volumes on plain grids, scikit-fem), from docs/methods; films and U: ISO 6946.
"""

from __future__ import annotations

import itertools
from math import sqrt

import numpy as np
import pytest
from scipy import sparse
from scipy.interpolate import LinearNDInterpolator
from scipy.sparse.linalg import cg
from skfem import Basis, BilinearForm, ElementTriP2, FacetBasis, LinearForm, MeshTri, solve

from nuthatch.core.fabric.ground import slab_u
from nuthatch.core.heatflow.plies import Ply
from nuthatch.core.heatflow.section import Block, Flank, Section, Space
from nuthatch.core.heatflow.worked import Worked, worked
from nuthatch.core.junctions.reveals import Frame, reveal
from nuthatch.core.junctions.sections import Arm, Soil, Stem, on_ground, stem
from tests.core.heatflow.drawn import BRICK, Layers, corner, frame, mitred, plane, rect, slab_edge, u_of

TIMBER: Layers = ((0.0125, 0.25), (0.045, 0.0472), (0.015, 0.13), (0.22, 0.0436), (0.06, 0.044))


def field(w: Worked) -> LinearNDInterpolator:
    t = w.temperatures()
    there = ~np.isnan(t)
    return LinearNDInterpolator(w.mesh.points[there], t[there])


def test_case_1_of_iso_10211() -> None:
    """Square column, surfaces held: the printed temperatures within 0.1 K."""
    section = Section(
        "column",
        (Block("stone", rect(0, 0, 1, 2), 1.0),),
        (
            Space("top", "inside", rect(-0.5, 2, 1, 2.5), 20.0, 0.0),
            Space("sides", "outside", ((-0.5, -0.5), (1, -0.5), (1, 0), (0, 0), (0, 2), (-0.5, 2)), 0.0, 0.0),
        ),
    )
    at = field(worked(section, once=True))
    printed = """9.7 13.4 14.7 15.1 / 5.3 8.6 10.3 10.8 / 3.2 5.6 7.0 7.5 / 2.0 3.6 4.7 5.0 / 1.3 2.3 3.0 3.2 / 0.7 1.4 1.8 1.9 / 0.3 0.6 0.8 0.9"""
    for n, row in enumerate(printed.split("/"), 1):
        for m, value in enumerate(row.split(), 1):
            assert at(m / 4, 2 - n / 4) == pytest.approx(float(value), abs=0.1)


def case_2() -> Section:
    def mm(*c: float) -> tuple[tuple[float, float], ...]:
        return rect(*(v / 1000 for v in c))

    filling = tuple((x / 1000, y / 1000) for x, y in ((1.5, 1.5), (500, 1.5), (500, 41.5), (15, 41.5), (15, 35), (1.5, 35)))
    blocks = (
        Block("concrete", mm(0, 41.5, 500, 47.5), 1.15),
        Block("wood", mm(0, 36.5, 15, 41.5), 0.12),
        Block("flange", mm(0, 35, 15, 36.5), 230.0),
        Block("web", mm(0, 1.5, 1.5, 35), 230.0),
        Block("sheet", mm(0, 0, 500, 1.5), 230.0),
        Block("insulation", filling, 0.029),
    )
    spaces = (Space("outside", "outside", mm(0, 47.5, 500, 80), 0.0, 0.06), Space("inside", "inside", mm(0, -30, 500, 0), 20.0, 0.11))
    return Section("case 2", blocks, spaces)


def test_case_2_of_iso_10211() -> None:
    """The printed flow within 0.1 W/m, temperatures within 0.1 K."""
    found = worked(case_2())
    assert 20 * found.l2d == pytest.approx(9.5, abs=0.1) and found.grid.enough
    at, t, points = field(found), found.temperatures(), found.mesh.points
    printed = {
        (0, 47.5): 7.1, (500, 47.5): 0.8, (0, 41.5): 7.9, (15, 41.5): 6.3, (500, 41.5): 0.8, (0, 36.5): 16.4, (15, 36.5): 16.3, (0, 0): 16.8,
        (500, 0): 18.3,
    }  # fmt: skip
    for (x, y), value in printed.items():
        nearest = np.argmin(np.where(np.isnan(t), np.inf, np.hypot(*(points - (x / 1000, y / 1000)).T)))
        assert t[nearest] == pytest.approx(value, abs=0.1), (x, y)
    assert at(0.25, 0.02) > at(0.25, 0.03)


@pytest.mark.parametrize("layers", [BRICK, TIMBER, ((0.1, 2.3), (0.3, 0.03))])
def test_a_plane_wall_has_its_own_u(layers: Layers) -> None:
    """ISO 6946, within 0.1 %; no ψ, and every surface as cold as it is by hand."""
    found = worked(plane(layers))
    assert found.l2d / 0.6 == pytest.approx(u_of(layers), rel=1e-3)
    assert found.psi_internal == pytest.approx(0, abs=1e-6)
    r = 0.25 + 0.04 + sum(t / l for t, l in layers)
    assert found.f_rsi == pytest.approx(1 - 0.25 / r, abs=1e-4)


def test_a_corner_with_its_surfaces_held() -> None:
    """Excess over the inner faces: 0.559 λ (exact by conformal mapping; the handbook's shape factor is 0.54)."""
    t, long, conductivity = 1.0, 6.0, 1.7
    blocks = (Block("stone", ((0, 0), (long, 0), (long, t), (t, t), (t, long), (0, long)), conductivity),)
    spaces = (
        Space("inside", "inside", rect(t, t, long, long), 20.0, 0.0),
        Space("outside", "outside", ((-1, -1), (long, -1), (long, 0), (0, 0), (0, long), (-1, long)), 0.0, 0.0),
    )
    flanks = tuple(Flank(n, long - t, long, u=conductivity / t) for n in "ab")
    found = worked(Section("corner", blocks, spaces, flanks, "horizontal"))
    assert found.psi_internal == pytest.approx(0.559 * conductivity, abs=0.002 * conductivity)


@pytest.mark.parametrize(
    ("section", "internal", "external", "f_rsi"),
    [(corner(BRICK), 0.240, -0.883, 0.52), (corner(BRICK, inner=True), -0.768, 0.354, None), (mitred(BRICK, BRICK, 45), 0.157, None, None)],
)
def test_corners_and_eaves_computed_before(section: Section, internal: float, external: float | None, f_rsi: float | None) -> None:
    found = worked(section)
    assert found.psi_internal == pytest.approx(internal, abs=0.003) and found.grid.enough
    if external is not None:
        assert found.psi_external == pytest.approx(external, abs=0.003)
    if f_rsi is not None:
        assert found.f_rsi == pytest.approx(f_rsi, abs=0.012)


# the same sections by a finite-element library: quadratic triangles on a mesh of its own


def by_elements(section: Section, conductivity: dict[str, float], step: float, keys: float = 1.0) -> float:
    """Heat out of the inside for each kelvin, blocks and spaces being rectangles or made of such [W/(m·K)]."""
    corners = np.array([p for b in section.blocks for p in b.outline])
    lines = [_graded(np.unique(np.round(corners[:, i], 9)), step) for i in (0, 1)]
    whole = MeshTri.init_tensor(*lines)
    middle = whole.p[:, whole.t].mean(axis=1)
    of = np.full(middle.shape[1], np.nan)
    for b, shape in zip(section.blocks, section.shapes, strict=True):
        import shapely

        of[shapely.contains_xy(shape, *middle)] = conductivity[b.name]
    mesh = whole.restrict(np.flatnonzero(~np.isnan(of)))
    of = of[~np.isnan(of)]
    basis = Basis(mesh, ElementTriP2())
    matrix = BilinearForm(lambda u, v, w: w["k"] * (u.grad * v.grad).sum(axis=0)).assemble(basis, k=np.tile(of[:, None], basis.dx.shape[1]))
    load = np.zeros(matrix.shape[0])
    inside = None
    for n, (space, air) in enumerate(zip(section.spaces, section.airs, strict=True)):
        facets = mesh.boundary_facets()
        ends = mesh.p[:, mesh.facets[:, facets]]
        centre = ends.mean(axis=1)
        near = np.array([air.distance(shapely.Point(p)) < 1e-7 for p in centre.T])
        films = np.array([_film(section, n, e) for e in ends[:, :, near].transpose(2, 0, 1)])
        for film in np.unique(films):
            side = FacetBasis(mesh, ElementTriP2(), facets=facets[near][films == film])
            matrix = matrix + BilinearForm(lambda u, v, _, h=1 / film: h * u * v).assemble(side)
            rest = LinearForm(lambda v, _, h=1 / film: h * v).assemble(side)
            if space.kind == "inside":
                load += rest
                inside = rest if inside is None else inside + rest
    temperature = solve(matrix, load)
    assert inside is not None
    return float(inside.sum() - inside @ temperature)


def _film(section: Section, n: int, ends: np.ndarray) -> float:
    """By hand: outside 0.04; inside walls 0.13, floors 0.17, ceilings 0.10 (a level surface with the room above it is a floor)."""
    space = section.spaces[n]
    if space.film is not None:
        return space.film
    if space.kind == "outside":
        return 0.04
    (x0, x1), (y0, y1) = ends
    if abs(x1 - x0) < abs(y1 - y0) or section.plane == "horizontal":
        return 0.13
    import shapely

    return 0.17 if section.airs[n].contains(shapely.Point((x0 + x1) / 2, (y0 + y1) / 2 + 1e-6)) else 0.10


def _graded(keys: np.ndarray, step: float) -> np.ndarray:
    """Close lines at the keys, wider ones between: each interval split in halves toward its ends until `step`."""
    found = [keys[0]]
    for a, b in zip(keys[:-1], keys[1:], strict=True):
        out, d = [], step
        while 2 * d < (b - a) / 2:
            out.append(d)
            d *= 1.4
        inner = [a + v for v in np.cumsum([step * 1.4**k for k in range(len(out))]) if v < (b - a) / 2]
        found += sorted({*inner, *[a + b - v for v in inner], (a + b) / 2, b})
    return np.array(sorted(set(np.round(found, 12))))


def cavity(width: float, height: float) -> float:
    """ISO 10077-2, 6.4.2 (from memory), heat flowing across the width: h_a max(0.025/d, 1.57), h_r for two sides of ε 0.9 at 10 °C."""
    ratio = width / height
    view = (1 + sqrt(1 + ratio**2) - ratio) / 2
    h_r = 4 * 5.67e-8 * 283.15**3 / (1 / 0.9 + 1 / 0.9 - 2 + 1 / view)
    return width * (max(0.025 / width, 1.57) + h_r)


def test_a_frame_with_a_cavity_against_finite_elements() -> None:
    section = frame()
    found = worked(section)
    of = {b.name: b.conductivity or cavity(0.040, 0.020) for b in section.blocks}
    assert found.field.conductivity[2] == pytest.approx(cavity(0.040, 0.020), rel=1e-3)
    assert found.l2d == pytest.approx(by_elements(section, of, 0.0008), rel=0.01)


def test_a_slab_edge_with_its_ground_against_finite_elements() -> None:
    section = slab_edge()
    of = {b.name: float(b.conductivity or 0) for b in section.blocks}
    assert worked(section).l2d == pytest.approx(by_elements(section, of, 0.008), rel=0.005)


@pytest.mark.parametrize("layers", [BRICK, TIMBER, ((0.015, 0.7), (0.24, 0.16), (0.16, 0.035))])
def test_a_jamb_against_finite_elements(layers: Layers) -> None:
    """A wall that ends at a frame of U_f 1.0, L2D within 1 %."""
    wall = Arm("wall", tuple(Ply("", f"ply {n}", t, k) for n, (t, k) in enumerate(layers)), u_of(layers), 0.04, short="wall")
    section = reveal("jamb", wall, Frame(1.0, 0.11), True).section
    of = {b.name: float(b.conductivity or 0) for b in section.blocks}
    assert worked(section).l2d == pytest.approx(by_elements(section, of, 0.004), rel=0.01)


# three dimensions: an eighth of a box in air


def box_in_air(layers: Layers, inner: tuple[float, float, float], film: float = 0.13, rse: float = 0.04) -> float:
    """Heat loss of a box of one build-up for each kelvin, by finite volumes in three dimensions, every film alike [W/K]."""
    t = sum(d for d, _ in layers)
    edges = np.cumsum([0.0, *(d for d, _ in reversed(layers))])
    axes = []
    for size in inner:
        keys = np.concatenate((edges, [t + size / 2]))
        axes.append(_graded(keys, 0.012))
    middles = [(a[1:] + a[:-1]) / 2 for a in axes]
    widths = [np.diff(a) for a in axes]
    depth = np.minimum.reduce(np.meshgrid(*middles, indexing="ij"))
    k = np.zeros(depth.shape)
    for (_, conductivity), low, high in zip(reversed(layers), edges[:-1], edges[1:], strict=True):
        k[(depth > low) & (depth < high)] = conductivity
    solid = depth < t
    number = np.full(depth.shape, -1)
    number[solid] = np.arange(solid.sum())
    rows, columns, values = [], [], []
    diagonal, load = np.zeros(solid.sum()), np.zeros(solid.sum())
    for axis in range(3):
        w = widths[axis].reshape([-1 if a == axis else 1 for a in range(3)])
        area = np.ones_like(depth)
        for other in range(3):
            if other != axis:
                area = area * widths[other].reshape([-1 if a == other else 1 for a in range(3)])
        half = np.where(solid, w / 2 / np.where(solid, k, 1.0), 0.0)
        here, there = [tuple(slice(None) if a != axis else s for a in range(3)) for s in (slice(None, -1), slice(1, None))]
        both = solid[here] & solid[there]
        g = (area[here] / np.where(both, half[here] + half[there], 1.0))[both]
        i, j = number[here][both], number[there][both]
        rows += [i, j]
        columns += [j, i]
        values += [-g, -g]
        np.add.at(diagonal, i, g)
        np.add.at(diagonal, j, g)
        edge = solid[here] & ~solid[there]
        g = (area[here] / (half[here] + film))[edge]
        np.add.at(diagonal, number[here][edge], g)
        np.add.at(load, number[here][edge], g)
        first = tuple(slice(None) if a != axis else 0 for a in range(3))
        np.add.at(diagonal, number[first], area[first] / (half[first] + rse))
    matrix = sparse.csr_matrix(
        (
            np.concatenate([*values, diagonal]),
            (np.concatenate([*rows, np.arange(len(diagonal))]), np.concatenate([*columns, np.arange(len(diagonal))])),
        )
    )
    scale = sparse.diags(1 / diagonal)
    answer, bad = cg(matrix, load, rtol=1e-9, M=scale, maxiter=5000)
    assert bad == 0
    return 8 * float(load.sum() - load @ answer)


@pytest.mark.parametrize("layers", [BRICK, ((0.015, 0.13), (0.3, 0.04))])
def test_both_conventions_meet_a_solve_in_three_dimensions(layers: Layers) -> None:
    """A box of one build-up in air: Σ A_i U + ψ_i Σ l_i within 0.5 % of three dimensions; external minus internal is 24 t (ψ_i − U t)
    within 0.1 % of the loss (each of twelve edges is 2 t longer outside; eight points are counted otherwise)."""
    inner, t, u = (8.0, 6.0, 5.5), sum(d for d, _ in layers), u_of(layers)
    found = worked(corner(layers))
    assert found.psi_internal is not None and found.psi_external is not None

    def total(size: tuple[float, ...], psi: float) -> float:
        a, b, c = size
        return 2 * (a * b + b * c + a * c) * u + 4 * (a + b + c) * psi

    internal, external = total(inner, found.psi_internal), total(tuple(s + 2 * t for s in inner), found.psi_external)
    assert internal == pytest.approx(box_in_air(layers, inner), rel=0.005)
    assert external - internal == pytest.approx(24 * t * (found.psi_internal - u * t), abs=0.001 * internal)
    assert found.psi_external == pytest.approx(found.psi_internal - 2 * u * t, abs=1e-9)


def corner_on_ground(inner: tuple[float, float], height: float, wall: float, slab: float, k: tuple[float, float, float]) -> float:
    """Heat loss of the lower part of a house on a bare slab for each kelvin [W/K], cut off level at a height, by finite volumes in three
    dimensions: a quarter of it, ground to 2.5 characteristic widths around and below. k: λ of wall, slab, soil."""
    far = 2.5 * inner[0] * inner[1] / (inner[0] + inner[1])
    axes = [_from_corner((0.0, s / 2, s / 2 + wall, s / 2 + wall + far), (s / 2, s / 2 + wall)) for s in inner]
    axes.append(_from_corner((-slab - far, -slab, 0.0, height), (-slab, 0.0)))
    x, y, z = np.meshgrid(*((a[1:] + a[:-1]) / 2 for a in axes), indexing="ij")
    within = (x < inner[0] / 2) & (y < inner[1] / 2)
    house = (x < inner[0] / 2 + wall) & (y < inner[1] / 2 + wall)
    conductivity = np.where((z < -slab) | ((z < 0) & ~house), k[2], np.where(z < 0, k[1], k[0]))
    warm, cold = (z > 0) & within, (z > 0) & ~house
    solid = ~(warm | cold)
    number = np.full(solid.shape, -1)
    number[solid] = np.arange(solid.sum())
    diagonal, load = np.zeros(solid.sum()), np.zeros(solid.sum())
    rows, columns, values = [], [], []
    widths = [np.diff(a) for a in axes]
    for axis in range(3):
        w = widths[axis].reshape([-1 if a == axis else 1 for a in range(3)])
        area = np.ones(solid.shape)
        for other in range(3):
            if other != axis:
                area = area * widths[other].reshape([-1 if a == other else 1 for a in range(3)])
        half = w / 2 / conductivity
        here, there = [tuple(slice(None) if a != axis else s for a in range(3)) for s in (slice(None, -1), slice(1, None))]
        both = solid[here] & solid[there]
        g = (area[here] / (half[here] + half[there]))[both]
        i, j = number[here][both], number[there][both]
        rows, columns, values = [*rows, i, j], [*columns, j, i], [*values, -g, -g]
        np.add.at(diagonal, i, g)
        np.add.at(diagonal, j, g)
        inside_film = 0.17 if axis == 2 else 0.13
        for air, film, share in ((warm, inside_film, 1.0), (cold, 0.04, 0.0)):
            for one, other in ((here, there), (there, here)):
                touch = solid[one] & air[other]
                g = (area[one] / (half[one] + film))[touch]
                np.add.at(diagonal, number[one][touch], g)
                np.add.at(load, number[one][touch], g * share)
    at = np.arange(len(diagonal))
    matrix = sparse.csr_matrix((np.concatenate([*values, diagonal]), (np.concatenate([*rows, at]), np.concatenate([*columns, at]))))
    answer, bad = cg(matrix, load, rtol=1e-9, M=sparse.diags(1 / diagonal), maxiter=9000)
    assert bad == 0
    return 4 * float(load.sum() - load @ answer)


def _from_corner(ends: tuple[float, ...], fine: tuple[float, ...]) -> np.ndarray:
    """Lines of a grid between ends, 15 mm at the places named and wider by 1.3 away from them."""
    found = [ends[0]]
    for low, high in itertools.pairwise(ends):
        at, lines = 0.0, [0.0]
        step, long = 0.015, high - low
        sides = (low in fine, high in fine)
        reach = long / 2 if all(sides) else long
        while at + step * 1.6 < reach:
            at += step
            lines.append(at)
            step *= 1.3
        left = np.array(lines + [reach])
        if all(sides):
            left = np.unique(np.concatenate((left, long - left)))
        elif sides[1]:
            left = np.sort(long - left)
        found += [low + float(v) for v in left if v > 1e-9]
    return np.array(found)


@pytest.mark.parametrize(("wall", "slab"), [((0.35, 0.77), (0.15, 1.35)), ((0.3, 0.12), (0.25, 0.1))])
def test_both_conventions_meet_three_dimensions_on_the_ground(wall: tuple[float, float], slab: tuple[float, float]) -> None:
    """8 × 6 m inside on a slab: floor with U_g, walls, the slab's edge all round and four corners, by solved details. docs/methods: from inside
    −0.3 to +1.7 %, from outside −3.3 to +6.3 %."""
    (t, k), (d, kf), height, soil = wall, slab, 1.3, 2.0
    a, b = 8.0, 6.0
    inner, outer = ((x * y, 2 * (x + y)) for x, y in ((a, b), (a + 2 * t, b + 2 * t)))
    whole = corner_on_ground((a, b), height, t, d, (k, kf, soil))
    u_w = u_of(((t, k),))
    u_g = slab_u((inner[0],), (inner[1],), (t, d / kf), soil, 0.0)
    arms = Arm("wall", (Ply("", "wall", t, k),), u_w, 0.04), Arm("floor", (Ply("", "slab", d, kf),), u_g, 0.04, "ground")
    edge = worked(on_ground("edge", *arms, Soil(inner[0] / (0.5 * inner[1]), u_g, 0.0, soil)).section)
    corners = worked(corner(((t, k),)))
    assert edge.psi_internal is not None and corners.psi_internal is not None
    assert edge.psi_external is not None and corners.psi_external is not None
    internal = inner[0] * u_g + inner[1] * (height * u_w + edge.psi_internal) + 4 * height * corners.psi_internal
    external = outer[0] * u_g + outer[1] * ((height + d) * u_w + edge.psi_external) + 4 * (height + d) * corners.psi_external
    assert -0.004 < internal / whole - 1 < 0.018, (internal, external, whole)
    assert -0.034 < external / whole - 1 < 0.064, (internal, external, whole)
    assert edge.psi_external == pytest.approx(edge.psi_internal - d * u_w - t * u_g, abs=1e-9)


def test_a_brick_wall_past_a_boarded_floor_over_a_cellar() -> None:
    """docs/methods: b 0.55, three temperatures in the section: 0.127 inside, −0.279 outside, within 0.003 W/(m·K)."""
    brick = Arm("wall", (Ply("", "plaster", 0.02, 0.8), Ply("", "brick", 0.33, 0.77)), u_of(BRICK), 0.04)
    boards = (Ply("", "linoleum", 0.003, 0.17), Ply("", "boards", 0.022, 0.13))
    floor = Arm("floor", boards, 1 / (0.34 + 0.003 / 0.17 + 0.022 / 0.13), 0.17, "unheated", 0.55)
    of = worked(stem("past", brick, Stem(boards, "unheated", floor, brick)).section)
    assert of.psi_internal == pytest.approx(0.127, abs=0.003) and of.psi_external == pytest.approx(-0.279, abs=0.003)
