"""What a section comes to, as data: handed over between processes, kept on disk, drawn and written without the field it came of."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from nuthatch.core.heatflow.lines import Polyline, flow_lines, isotherms
from nuthatch.core.heatflow.section import Point, Section
from nuthatch.core.heatflow.worked import FlankLoss, Grid, worked

STEP = 2.0
"""Kelvin between two isotherms."""
FLOW_LINES = 16
"""How many lines of heat flow there are, about."""


@dataclass(frozen=True, eq=False)
class Solved:
    """L2D, ψ for both dimensions [W/(m·K)], None without flanks; f_Rsi, the coldest point [m] and its temperature [°C], None where no surface is
    inside; what was taken off; the grid; λ of each block; heat between spaces (their names, W/(m·K)); isotherms (temperature, line) and lines of
    heat flow, lines as (n, 2) arrays [m]."""

    l2d: float
    psi_internal: float | None
    psi_external: float | None
    f_rsi: float | None
    coldest: Point | None
    coldest_temperature: float | None
    flanks: tuple[FlankLoss, ...]
    grid: Grid
    conductivity: np.ndarray
    coupling: tuple[tuple[str, str, float], ...]
    isotherms: tuple[tuple[float, np.ndarray], ...]
    flow: tuple[np.ndarray, ...]

    def psi(self, dimensions: str) -> float | None:
        """ψ for external or internal dimensions [W/(m·K)]."""
        return self.psi_external if dimensions == "external" else self.psi_internal


ROUGH = 0.5
"""Fineness of the grid while a detail is being dragged."""


def solved(section: Section, rough: bool = False) -> Solved:
    """A section worked out on a grid fine enough, or once on a coarse one. Raises SectionFault."""
    found = worked(section, ROUGH, once=True) if rough else worked(section)
    inside, outside = (next(s.temperature for s in section.spaces if s.kind == k) for k in ("inside", "outside"))
    whole = abs(found.l2d * (inside - outside))
    lines = tuple((level, _array(line)) for level, some in isotherms(found, STEP).items() for line in some)
    flow = tuple(map(_array, flow_lines(found, whole / FLOW_LINES))) if whole > 1e-9 else ()
    names = [s.name for s in section.spaces]
    between = tuple((a, b, float(found.field.coupling[i, j])) for i, a in enumerate(names) for j, b in enumerate(names) if i < j)
    return Solved(
        found.l2d,
        found.psi_internal,
        found.psi_external,
        found.f_rsi,
        found.coldest,
        found.coldest_temperature,
        found.flanks,
        found.grid,
        found.field.conductivity,
        between,
        lines,
        flow,
    )


def _array(line: Polyline) -> np.ndarray:
    """A line thinned to what a drawing can show."""
    return np.asarray(shapely.get_coordinates(shapely.simplify(shapely.LineString(line), 2e-4)) if len(line) > 1 else line)
