"""The field of temperatures in a section, ISO 10211:2017: one sparse direct solve, one answer a space."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.heatflow.films import cavity_conductivity, films
from nuthatch.core.heatflow.mesh import Mesh
from nuthatch.core.heatflow.section import Section

TURNS = 4
"""How often the way heat flows in cavities is looked at again."""


@dataclass(frozen=True, eq=False)
class Field:
    """share: temperature of each node with one space at 1 and the others at 0 (spaces, nodes), nan where there is no material; coupling: heat
    that flows from space k to space j for each kelvin between them [W/(m·K)] (spaces, spaces); conductivity of each block [W/(m·K)]; kept: how
    much of the flow is unaccounted for."""

    share: np.ndarray
    coupling: np.ndarray
    conductivity: np.ndarray
    kept: float

    def at(self, temperatures: np.ndarray) -> np.ndarray:
        """Temperature of each node, with the spaces at these."""
        return np.asarray(temperatures @ self.share)


def solve(section: Section, mesh: Mesh, mould: bool = False) -> Field:
    """The field of a section on a mesh. mould: with the films that mould is judged with."""
    conductivity = np.array([b.conductivity if b.conductivity is not None else np.nan for b in section.blocks])
    cavities = np.flatnonzero(np.isnan(conductivity))
    along = {int(n): _narrow(section, int(n)) for n in cavities}
    for _ in range(TURNS if len(cavities) else 1):
        for n, way in along.items():
            left, low, right, high = section.shapes[n].bounds
            conductivity[n] = cavity_conductivity(section.shapes[n].area, right - left, high - low, way, section.plane == "vertical")
        found = _solved(mesh, conductivity, films(section, mesh.surface, mould), len(section.spaces))
        now = {n: _way(section, mesh, found, n) for n in along}
        if now == along:
            break
        along = now
    return found


def _solved(mesh: Mesh, conductivity: np.ndarray, film: np.ndarray, spaces: int) -> Field:
    from scipy import sparse  # a slow library: only where it is used
    from scipy.sparse.linalg import splu

    number = len(mesh.points)
    to_air = np.zeros((spaces, number))
    lies = mesh.surface.space >= 0
    s, conductance = mesh.surface.only(lies), (mesh.surface.length[lies] / film[lies] / 2)
    for end in (0, 1):
        np.add.at(to_air, (s.space, s.nodes[:, end]), conductance)
    first, second, between = links(mesh, conductivity)
    diagonal = np.bincount(first, between, number) + np.bincount(second, between, number) + to_air.sum(axis=0)
    used = np.flatnonzero(diagonal > 0)
    place = np.full(number, -1)
    place[used] = np.arange(len(used))
    i, j = place[first], place[second]
    rows, columns = np.concatenate((i, j, place[used])), np.concatenate((j, i, place[used]))
    matrix = sparse.csc_matrix((np.concatenate((-between, -between, diagonal[used])), (rows, columns)), shape=(len(used), len(used)))
    factor = splu(matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True})
    answer = factor.solve(np.ascontiguousarray(to_air[:, used].T)).T
    share = np.full((spaces, number), np.nan)
    share[:, used] = answer
    flow = np.diag(to_air.sum(axis=1)) - to_air[:, used] @ answer.T
    coupling = -(flow + flow.T) / 2
    np.fill_diagonal(coupling, 0.0)
    return Field(share, coupling, conductivity.copy(), float(np.abs(flow.sum(axis=0)).max() / max(np.abs(flow).max(), 1e-300)))


def links(mesh: Mesh, conductivity: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Pairs of nodes and the conductance between them [W/(m·K)]."""
    of_cell = np.append(conductivity, 0.0)[mesh.cell]
    width, height = np.diff(mesh.x), np.diff(mesh.y)
    node = np.arange(len(mesh.x) * len(mesh.y)).reshape(len(mesh.y), len(mesh.x))
    half = np.pad(of_cell * height[:, None] / 2, ((1, 1), (0, 0)))
    across = (half[1:] + half[:-1]) / width
    half = np.pad(of_cell * width / 2, ((0, 0), (1, 1)))
    upward = (half[:, 1:] + half[:, :-1]) / height[:, None]
    pairs = [(node[:, :-1], node[:, 1:], across), (node[:-1], node[1:], upward)]
    t, p = mesh.triangles, mesh.points
    for a, b, c in ((0, 1, 2), (1, 2, 0), (2, 0, 1)):
        u, v = p[t[:, a]] - p[t[:, c]], p[t[:, b]] - p[t[:, c]]
        area = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
        pairs.append((t[:, a], t[:, b], conductivity[mesh.of_triangle] * (u * v).sum(axis=1) / area / 2))
    first, second, between = (np.concatenate([np.ravel(pair[n]) for pair in pairs]) for n in range(3))
    there = between != 0
    return first[there], second[there], between[there]


def _narrow(section: Section, block: int) -> str:
    """The way across the narrow side of a cavity."""
    left, low, right, high = section.shapes[block].bounds
    return "across" if right - left <= high - low else "up"


def _way(section: Section, mesh: Mesh, field: Field, block: int) -> str:
    """Which way heat flows in a cavity: that of its mean gradient, inside against everything else."""
    warm = np.array([float(s.kind == "inside") for s in section.spaces])
    at = field.at(warm)
    rows, columns = np.nonzero(mesh.cell == block)
    width = len(mesh.x)
    corner = rows * width + columns
    low, high, left, right = (
        at[corner] + at[corner + 1], at[corner + width] + at[corner + width + 1], at[corner] + at[corner + width], at[corner + 1] + at[corner + width + 1],
    )  # fmt: skip
    dx, dy = np.diff(mesh.x)[columns], np.diff(mesh.y)[rows]
    gradient = np.array([((right - left) / 2 * dy).sum(), ((high - low) / 2 * dx).sum()])
    for triangle in mesh.triangles[mesh.of_triangle == block]:
        p, q, r = mesh.points[triangle]
        a, b, c = at[triangle]
        gradient += 0.5 * np.array(
            [a * (q[1] - r[1]) + b * (r[1] - p[1]) + c * (p[1] - q[1]), a * (r[0] - q[0]) + b * (p[0] - r[0]) + c * (q[0] - p[0])]
        )
    if np.hypot(*gradient) < 1e-12:
        return _narrow(section, block)
    if abs(gradient[0]) >= abs(gradient[1]):
        return "across"
    return "down" if gradient[1] > 0 else "up"
