"""What a section comes to: L2D, ψ by both conventions, f_Rsi and the coldest point, on a grid fine enough."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, inf, sqrt

import numpy as np
import shapely

from nuthatch.core.graph.progress import tell
from nuthatch.core.heatflow.films import film_of
from nuthatch.core.heatflow.mesh import Mesh, mesh
from nuthatch.core.heatflow.section import SMALL, Flank, Line, Point, Section, SectionFault, Space, at, checked
from nuthatch.core.heatflow.solve import Field, solve

FLOW, SURFACE, PSI = 0.01, 0.005, 0.0005
"""By how much doubling the cells may move the flow (share), f_Rsi and ψ [W/(m·K)] at most, ISO 10211:2017, 7.4 and annex A. The standard lets
ψ move by 0.002; where a corner points into the material the error left is several times the last step."""
FINER = sqrt(2.0)
"""Doubles the cells."""
FINEST = 32.0


@dataclass(frozen=True)
class FlankLoss:
    """A flank as it is taken off: U [W/(m²·K)], lengths [m], b of the space on its other side."""

    name: str
    u: float
    inner: float
    outer: float
    b: float


@dataclass(frozen=True)
class Grid:
    """How fine: cells; what doubling them from half as many moved: flow (share), f_Rsi, ψ [W/(m·K)]; heat not accounted for (share); whether
    that is fine enough."""

    cells: int
    flow: float
    surface: float
    psi: float
    kept: float
    enough: bool


@dataclass(frozen=True, eq=False)
class Worked:
    """What a section comes to. l2d: heat out of the inside for each kelvin between inside and outside, unheated spaces at their b [W/(m·K)];
    ψ [W/(m·K)], None without flanks; f_Rsi and where it is coldest, None where no inside surface is; the fields on the mesh, for ψ and for
    mould."""

    section: Section
    l2d: float
    psi_internal: float | None
    psi_external: float | None
    f_rsi: float | None
    coldest: Point | None
    flanks: tuple[FlankLoss, ...]
    grid: Grid
    mesh: Mesh
    field: Field
    mould: Field

    @property
    def shares(self) -> np.ndarray:
        """Inside 1, outside 0, unheated 1 − b."""
        return shares(self.section)

    def temperatures(self, mould: bool = False) -> np.ndarray:
        """Of every node [°C], with the spaces as they are; nan where there is no material."""
        return (self.mould if mould else self.field).at(np.array([s.temperature for s in self.section.spaces]))

    @property
    def coldest_temperature(self) -> float | None:
        """Of the coldest point inside [°C], with the spaces at their temperatures and unheated ones at their b."""
        if self.f_rsi is None:
            return None
        inside, outside = (next(s.temperature for s in self.section.spaces if s.kind == k) for k in ("inside", "outside"))
        return outside + self.f_rsi * (inside - outside)


def shares(section: Section) -> np.ndarray:
    """Temperature of each space, inside 1 and outside 0: an unheated one 1 − b, or by its own temperature where it says no b."""
    inside, outside = (next(s.temperature for s in section.spaces if s.kind == k) for k in ("inside", "outside"))
    return np.array([_share(s, inside, outside) for s in section.spaces])


def _share(space: Space, inside: float, outside: float) -> float:
    if space.kind != "unheated":
        return float(space.kind == "inside")
    return 1 - space.b if space.b is not None else (space.temperature - outside) / (inside - outside)


def worked(section: Section, fineness: float = 1.0, once: bool = False) -> Worked:
    """The result of a section, refined until doubling the cells moves nothing any more, or at one fineness only. Raises SectionFault."""
    section = checked(section)
    if once:
        return _at(section, fineness, None)
    before = _at(section, fineness, None)
    while fineness < FINEST:
        fineness *= FINER
        try:
            now = _at(section, fineness, before)
        except SectionFault:  # more cells than are worked out: what is there is not fine enough, and says so
            return before
        if now.grid.enough:
            return now
        before = now
        tell(min(now.grid.cells / 400_000, 1.0))
    return before


def _at(section: Section, fineness: float, before: Worked | None) -> Worked:
    made = mesh(section, fineness)
    field = solve(section, made)
    mould = solve(section, made, mould=True)
    flanks = tuple(_flank(section, f, field) for f in section.flanks)
    of = shares(section)
    l2d = _from_inside(section, field, of)
    inner, outer = (l2d - sum(f.b * f.u * length(f) for f in flanks) if flanks else None for length in (_inner, _outer))
    f_rsi, coldest = _coldest(section, made, mould, of)
    grid = _grid(made, field, before, l2d, inner, f_rsi)
    return Worked(section, l2d, inner, outer, f_rsi, coldest, flanks, grid, made, field, mould)


def _inner(flank: FlankLoss) -> float:
    return flank.inner


def _outer(flank: FlankLoss) -> float:
    return flank.outer


def _from_inside(section: Section, field: Field, of: np.ndarray) -> float:
    inside = [n for n, s in enumerate(section.spaces) if s.kind == "inside"]
    return float(sum(field.coupling[n] @ (of[n] - of) for n in inside))


def _coldest(section: Section, made: Mesh, mould: Field, of: np.ndarray) -> tuple[float | None, Point | None]:
    """f_Rsi of the coldest point of the surfaces inside, and where it is."""
    kinds = np.array([s.kind == "inside" for s in section.spaces] + [False])
    nodes = np.unique(made.surface.nodes[kinds[made.surface.space]])
    if not len(nodes):
        return None, None
    least = nodes[np.argmin(mould.at(of)[nodes])]
    x, y = made.points[least]
    return float(mould.at(of)[least]), (float(x), float(y))


def _grid(made: Mesh, field: Field, before: Worked | None, l2d: float, psi: float | None, f_rsi: float | None) -> Grid:
    if before is None:
        return Grid(made.cells, inf, inf, inf, field.kept, False)
    flow = abs(l2d - before.l2d) / max(abs(l2d), 1e-12)
    surface = abs(f_rsi - before.f_rsi) if f_rsi is not None and before.f_rsi is not None else 0.0
    moved = abs(psi - before.psi_internal) if psi is not None and before.psi_internal is not None else 0.0
    return Grid(made.cells, flow, surface, moved, field.kept, flow < FLOW and surface < SURFACE and moved < PSI)


def _flank(section: Section, flank: Flank, field: Field) -> FlankLoss:
    to = next((s for s in section.spaces if s.name == flank.to), None)
    b = 1.0
    if to is not None:
        of = shares(section)
        b = float(1 - of[section.spaces.index(to)])
    return FlankLoss(flank.name, flank.u if flank.u is not None else u_across(section, flank, field), flank.inner, flank.outer, b)


def u_across(section: Section, flank: Flank, field: Field) -> float:
    """U of a plane part from the layers a line across it passes [W/(m²·K)]; its films by the surfaces at which it ends."""
    assert flank.across is not None
    passed, ends = _passed(section, flank.name, flank.across)
    r = sum(length / field.conductivity[n] for n, length in passed)
    return float(1 / (r + sum(_film_at(section, flank.name, point, way) for point, way in ends)))


def _passed(section: Section, name: str, line: Line) -> tuple[list[tuple[int, float]], tuple[tuple[Point, Point], tuple[Point, Point]]]:
    """Blocks the line passes, with the length in each; where it leaves them at both ends, and the way it goes there."""
    (x0, y0), (x1, y1) = line
    length = hypot(x1 - x0, y1 - y0)
    if length < SMALL:
        raise SectionFault(f"the line across “{name}” is only a point: it goes from one space to the other")
    drawn = shapely.LineString(line)
    passed = [(n, float(shapely.intersection(s, drawn).length)) for n, s in enumerate(section.shapes)]
    passed = [(n, l) for n, l in passed if l > SMALL]
    inside = [shapely.intersection(section.shapes[n], drawn) for n, _ in passed]
    if not inside:
        raise SectionFault(f"the line across “{name}” passes no block")
    along = sorted(drawn.project(shapely.Point(c)) for g in inside for c in shapely.get_coordinates(g))
    if abs(along[-1] - along[0] - sum(l for _, l in passed)) > 1e-5:
        raise SectionFault(f"the line across “{name}” runs through a gap, or along an edge between blocks: lay it through whole layers")
    way = (x1 - x0) / length, (y1 - y0) / length
    first, last = (drawn.interpolate(along[n]) for n in (0, -1))
    return passed, (((first.x, first.y), (-way[0], -way[1])), ((last.x, last.y), way))


def _film_at(section: Section, name: str, point: Point, way: Point) -> float:
    """R_s where a line leaves the blocks."""
    beyond = shapely.Point(point[0] + 10 * SMALL * way[0], point[1] + 10 * SMALL * way[1])
    space = next((s for s, air in zip(section.spaces, section.airs, strict=True) if air.contains(beyond)), None)
    if space is None:
        raise SectionFault(f"the line across “{name}” ends in no space, at {at(point)}: it goes from one space to the other")
    return float(film_of(space, np.array([way[1] if section.plane == "vertical" else 0.0]))[0])
