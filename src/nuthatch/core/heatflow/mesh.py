"""A mesh of a section: the cells of a graded grid, and where a slope cuts cells, triangles fitted to it.

Unknowns stand at the corners of cells, so that every edge of a block, sloping ones too, runs along the mesh: a slope has neither steps nor
more surface than it has. In whole cells this is the five-point finite-volume scheme, in triangles linear elements; both are the same
scheme where they meet.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from nuthatch.core.heatflow import grid
from nuthatch.core.heatflow.section import SMALL, Section, SectionFault

MOST_CELLS = 400_000
"""More cells are not worked out."""


@dataclass(frozen=True, eq=False)
class Surface:
    """Pieces of surface: nodes at both ends (n, 2), length [m], outward normal (n, 2), the block, the space (−1 at a cut plane)."""

    nodes: np.ndarray
    length: np.ndarray
    normal: np.ndarray
    block: np.ndarray
    space: np.ndarray

    def only(self, which: np.ndarray) -> Surface:
        """Some of the pieces."""
        return Surface(self.nodes[which], self.length[which], self.normal[which], self.block[which], self.space[which])


@dataclass(frozen=True, eq=False)
class Mesh:
    """x, y: grid lines [m]; cell: block of each whole cell (rows upward), −1 for none; points (n, 2) [m], those of the grid first; triangles
    (m, 3) anticlockwise and their blocks; the surface."""

    x: np.ndarray
    y: np.ndarray
    cell: np.ndarray
    points: np.ndarray
    triangles: np.ndarray
    of_triangle: np.ndarray
    surface: Surface

    @property
    def cells(self) -> int:
        """How many cells and triangles there are."""
        return int((self.cell >= 0).sum()) + len(self.triangles)


def mesh(section: Section, fineness: float = 1.0) -> Mesh:
    """The mesh of a section. Raises SectionFault where it would have more than MOST_CELLS cells."""
    x, y = grid.lines(section, fineness)
    if (len(x) - 1) * (len(y) - 1) > MOST_CELLS:
        raise SectionFault(
            f"the section would need {(len(x) - 1) * (len(y) - 1):,} cells, more than {MOST_CELLS:,}: take off what is far away, or very thin layers"
        )
    cell = _whole_cells(section, x, y)
    cut = _cut_cells(section, x, y)
    cell[cut] = -1
    rings, points = _rings(*_pieces(section, x, y, cut), x, y)
    triangles, centres = _fans(rings, points)
    surface = _surface(section, (x, y), cell, rings, points)
    return Mesh(x, y, cell, np.concatenate((points, centres)), triangles, rings.block[rings.ring], surface)


@dataclass(frozen=True, eq=False)
class Rings:
    """The pieces of cut cells, one behind the other: the node at each of their corners, anticlockwise, and which piece it is of; the block of
    each piece."""

    node: np.ndarray
    ring: np.ndarray
    block: np.ndarray

    @cached_property
    def after(self) -> np.ndarray:
        """Where the next corner of the same piece stands."""
        found = np.arange(1, len(self.node) + 1)
        begins = np.flatnonzero(np.diff(self.ring, prepend=-1))
        if len(begins):
            found[np.append(begins[1:], len(self.node)) - 1] = begins
        return found

    @property
    def sides(self) -> np.ndarray:
        """Nodes at both ends of every side (n, 2)."""
        return np.column_stack((self.node, self.node[self.after]))

    def only(self, corners: np.ndarray) -> Rings:
        """Some of the corners; pieces without any are gone."""
        kept, ring = np.unique(self.ring[corners], return_inverse=True)
        return Rings(self.node[corners], ring, self.block[kept])


def _whole_cells(section: Section, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """The block of every cell by its middle."""
    cell = np.full((len(y) - 1, len(x) - 1), -1, dtype=np.int32)
    middle_x, middle_y = (x[1:] + x[:-1]) / 2, (y[1:] + y[:-1]) / 2
    for n, shape in enumerate(section.shapes):
        left, low, right, high = shape.bounds
        columns = slice(*np.searchsorted(middle_x, (left, right)))
        rows = slice(*np.searchsorted(middle_y, (low, high)))
        if abs(shape.area - (right - left) * (high - low)) < SMALL * SMALL:
            cell[rows, columns] = n
        else:
            inside = shapely.contains_xy(shape, *np.meshgrid(middle_x[columns], middle_y[rows]))
            cell[rows, columns][inside] = n
    return cell


def _cut_cells(section: Section, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Which cells a sloping edge runs through."""
    cut = np.zeros((len(y) - 1, len(x) - 1), dtype=bool)
    for block in section.blocks:
        ends = np.array(block.outline, dtype=float)
        for p, q in zip(ends, np.roll(ends, -1, axis=0), strict=True):
            run = q - p
            if np.abs(run).min() < SMALL:
                continue
            across = [(line - p[i]) / run[i] for i, line in ((0, x), (1, y))]
            t = np.sort(np.clip(np.concatenate((*across, [0.0, 1.0])), 0, 1))
            whole = np.diff(t) * np.hypot(*run) > SMALL
            middle = p + np.outer(((t[1:] + t[:-1]) / 2)[whole], run)
            row, column = (np.clip(np.searchsorted(line, middle[:, i]) - 1, 0, len(line) - 2) for i, line in ((1, y), (0, x)))
            cut[row, column] = True
    return cut


def _pieces(section: Section, x: np.ndarray, y: np.ndarray, cut: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """What the blocks fill of the cells that are cut, as polygons, and which block it is."""
    rows, columns = np.nonzero(cut)
    boxes = shapely.box(x[columns], y[rows], x[columns + 1], y[rows + 1])
    box, block = shapely.STRtree(section.shapes).query(boxes, predicate="intersects")
    found, of = shapely.get_parts(shapely.intersection(boxes[box], np.array(section.shapes)[block]), return_index=True)
    kept = shapely.area(found) > SMALL * SMALL
    return shapely.orient_polygons(found[kept]), block[of[kept]].astype(np.int32)


def _rings(pieces: np.ndarray, blocks: np.ndarray, x: np.ndarray, y: np.ndarray) -> tuple[Rings, np.ndarray]:
    """The pieces by their nodes, and the place of every node: the grid's first, then where slopes cross its lines."""
    across, up = np.meshgrid(x, y)
    points = np.column_stack((across.ravel(), up.ravel()))
    if not len(pieces):
        none = np.empty(0, dtype=int)
        return Rings(none, none, blocks), points
    corners, of = shapely.get_coordinates(pieces, return_index=True)
    column, row = (_nearest(line, corners[:, i]) for i, line in ((0, x), (1, y)))
    on = [np.abs(line[n] - corners[:, i]) < SMALL for i, (line, n) in enumerate(((x, column), (y, row)))]
    corners = np.column_stack((np.where(on[0], x[column], corners[:, 0]), np.where(on[1], y[row], corners[:, 1])))
    node = row * len(x) + column
    new = ~(on[0] & on[1])
    if new.any():
        places, same = _merged(corners[new])
        node[new] = len(points) + same
        points = np.concatenate((points, places))
    whole = Rings(node, of, blocks)
    rings = whole.only(node != node[whole.after])
    return rings.only(_wide(rings, points)[rings.ring]), points


def _wide(rings: Rings, points: np.ndarray) -> np.ndarray:
    """Which pieces have not shrunk to a line where their corners were made one with others."""
    (x0, y0), (x1, y1) = points[rings.node].T, points[rings.node[rings.after]].T
    return np.asarray(np.abs(np.bincount(rings.ring, x0 * y1 - x1 * y0)) > SMALL * SMALL)


def _nearest(line: np.ndarray, values: np.ndarray) -> np.ndarray:
    """Which line is nearest."""
    after = np.clip(np.searchsorted(line, values), 1, len(line) - 1)
    return np.asarray(after - (values - line[after - 1] < line[after] - values))


def _merged(places: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Places that are the same, once each, and which of them each was."""
    from scipy.spatial import cKDTree  # a slow library: only where it is used

    first = np.arange(len(places))
    for i, j in sorted(map(tuple, np.sort(cKDTree(places).query_pairs(2 * SMALL, output_type="ndarray"), axis=1))):
        first[j] = min(first[i], first[j])
    kept, same = np.unique(first, return_inverse=True)
    return places[kept], same


def _fans(rings: Rings, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Triangles from the middle of each piece to its sides, and the middles."""
    if not len(rings.node):
        return np.empty((0, 3), dtype=int), np.empty((0, 2))
    number = np.bincount(rings.ring)
    middles = np.column_stack([np.bincount(rings.ring, points[rings.node, i]) / number for i in (0, 1)])
    return np.column_stack((rings.sides, len(points) + rings.ring)), middles


def _surface(section: Section, lines: tuple[np.ndarray, np.ndarray], cell: np.ndarray, rings: Rings, points: np.ndarray) -> Surface:
    """Every side of a cell or piece that no other shares."""
    whole, of_whole = _sides(cell, len(lines[0]))
    nodes, block = np.concatenate((whole, rings.sides)), np.concatenate((of_whole, rings.block[rings.ring]))
    key = np.sort(nodes, axis=1)
    _, which, count = np.unique(key[:, 0].astype(np.int64) * len(points) + key[:, 1], return_index=True, return_counts=True)
    once = which[count == 1]
    nodes, block = nodes[once], block[once]
    along = points[nodes[:, 1]] - points[nodes[:, 0]]
    length = np.hypot(*along.T)
    normal = np.column_stack((along[:, 1], -along[:, 0])) / length[:, None]
    beyond = points[nodes].mean(axis=1) + 5 * SMALL * normal
    space = np.full(len(nodes), -1, dtype=np.int32)
    for n in reversed(range(len(section.airs))):
        space[shapely.contains_xy(section.airs[n], *beyond.T)] = n
    return Surface(nodes, length, normal, block, space)


def _sides(cell: np.ndarray, width: int) -> tuple[np.ndarray, np.ndarray]:
    """The sides of whole cells at which something else begins, anticlockwise around their own cell, and its block."""
    padded = np.pad(cell, 1, constant_values=-1)
    here = padded[1:-1, 1:-1]
    found: list[tuple[np.ndarray, np.ndarray]] = []
    for (dy, dx), (first, second) in {
        (-1, 0): ((0, 0), (0, 1)), (0, 1): ((0, 1), (1, 1)), (1, 0): ((1, 1), (1, 0)), (0, -1): ((1, 0), (0, 0)),
    }.items():  # fmt: skip
        beside = padded[1 + dy : padded.shape[0] - 1 + dy, 1 + dx : padded.shape[1] - 1 + dx]
        rows, columns = np.nonzero((here >= 0) & (beside < 0))
        ends = [(rows + up) * width + columns + right for up, right in (first, second)]
        found.append((np.column_stack(ends), here[rows, columns]))
    return np.concatenate([f[0] for f in found]), np.concatenate([f[1] for f in found])
