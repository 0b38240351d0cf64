"""Lines over a section: isotherms, and the lines along which heat flows."""

from __future__ import annotations

import numpy as np
import shapely

from nuthatch.core.heatflow.mesh import Mesh
from nuthatch.core.heatflow.solve import links
from nuthatch.core.heatflow.worked import Worked

Polyline = tuple[tuple[float, float], ...]


def triangles(mesh: Mesh) -> np.ndarray:
    """Every cell as two triangles, and those fitted to slopes (n, 3)."""
    rows, columns = np.nonzero(mesh.cell >= 0)
    low = rows * len(mesh.x) + columns
    high = low + len(mesh.x)
    return np.concatenate((np.column_stack((low, low + 1, high + 1)), np.column_stack((low, high + 1, high)), mesh.triangles))


def contours(mesh: Mesh, values: np.ndarray, levels: np.ndarray) -> dict[float, tuple[Polyline, ...]]:
    """Where a quantity given at the nodes has a level, as lines [m]."""
    corners = triangles(mesh)
    of = values[corners]
    low, high = np.nanmin(of, axis=1), np.nanmax(of, axis=1)
    found: dict[float, tuple[Polyline, ...]] = {}
    for level in levels:
        here = (low < level) & (high >= level)
        ends = _crossings(mesh.points[corners[here]], of[here], float(level))
        ends = ends[np.abs(ends[:, 0] - ends[:, 1]).sum(axis=1) > 1e-9]
        if len(ends):
            merged = shapely.line_merge(shapely.multilinestrings(shapely.linestrings(np.round(ends, 9))))
            found[float(level)] = tuple(tuple(map(tuple, shapely.get_coordinates(part))) for part in shapely.get_parts(merged))
    return found


def _crossings(points: np.ndarray, values: np.ndarray, level: float) -> np.ndarray:
    """In each triangle, the two points of its sides at the level (n, 2, 2)."""
    above = values >= level
    alone = np.where(above.sum(axis=1) == 1, np.argmax(above, axis=1), np.argmin(above, axis=1))
    row = np.arange(len(points))
    tip, value = points[row, alone], values[row, alone]
    ends = []
    for other in (1, 2):
        n = (alone + other) % 3
        t = (level - value) / (values[row, n] - value)
        ends.append(tip + t[:, None] * (points[row, n] - tip))
    return np.stack(ends, axis=1)


def isotherms(worked: Worked, step: float = 2.0, mould: bool = False) -> dict[float, tuple[Polyline, ...]]:
    """Lines of equal temperature, every `step` K, with the spaces at their temperatures."""
    t = worked.temperatures(mould)
    levels = np.arange(np.ceil(np.nanmin(t) / step + 1e-6), np.floor(np.nanmax(t) / step - 1e-6) + 1) * step
    return contours(worked.mesh, t, levels)


def flow_lines(worked: Worked, step: float) -> tuple[Polyline, ...]:
    """Lines along which heat flows, `step` W/m between two; none where a space lies within the material, so that flow has no one name."""
    mesh = worked.mesh
    rim = _rim(mesh)
    if rim is None:
        return ()
    flow = _crossed(worked)[rim[1]]
    known = np.concatenate(([0.0], np.cumsum(flow)[:-1]))
    stream = _conjugate(mesh, worked.field.conductivity, rim[0], known)
    least, most = known.min(), known.max()
    levels = least + step * (np.arange(round((most - least) / step)) + 0.5)
    return tuple(line for lines in contours(mesh, stream, levels).values() for line in lines)


def _rim(mesh: Mesh) -> tuple[np.ndarray, np.ndarray] | None:
    """Nodes around the material in order, and the piece of surface after each; None where it has more than one rim, or one that touches
    itself."""
    nodes = mesh.surface.nodes
    if len(np.unique(nodes[:, 0])) != len(nodes):
        return None
    after = dict(zip(nodes[:, 0].tolist(), range(len(nodes)), strict=True))
    at = int(nodes[0, 0])
    order: list[int] = []
    for _ in range(len(nodes)):
        piece = after.get(at)
        if piece is None:
            return None
        order.append(piece)
        at = int(nodes[piece, 1])
        if at == nodes[0, 0]:
            break
    return (nodes[order, 0], np.array(order)) if len(order) == len(nodes) else None


def _crossed(worked: Worked) -> np.ndarray:
    """Heat out through each piece of surface [W/m], none through cut planes; what is not accounted for is shared out."""
    from nuthatch.core.heatflow.films import films

    s = worked.mesh.surface
    air = np.array([*(space.temperature for space in worked.section.spaces), 0.0])[s.space]
    at = worked.temperatures()[s.nodes].mean(axis=1)
    flow = np.where(s.space >= 0, s.length * (at - air) / films(worked.section, s), 0.0)
    return np.asarray(flow - np.abs(flow) * flow.sum() / max(np.abs(flow).sum(), 1e-300))


def _conjugate(mesh: Mesh, conductivity: np.ndarray, rim: np.ndarray, known: np.ndarray) -> np.ndarray:
    """What is constant along the flow: the field with 1/λ for λ, held at the rim."""
    from scipy import sparse  # a slow library: only where it is used
    from scipy.sparse.linalg import splu

    first, second, between = links(mesh, 1 / conductivity)
    number = len(mesh.points)
    whole = sparse.coo_matrix(
        (np.concatenate((-between, -between)), (np.concatenate((first, second)), np.concatenate((second, first)))), (number, number)
    )
    matrix = (whole - sparse.diags(np.asarray(whole.sum(axis=1)).ravel())).tocsr()
    used = np.flatnonzero(matrix.diagonal() > 0)
    values = np.full(number, np.nan)
    values[rim] = known
    free = np.setdiff1d(used, rim)
    values[free] = splu(matrix[free][:, free].tocsc(), permc_spec="MMD_AT_PLUS_A").solve(-matrix[free][:, rim] @ known)
    return values
