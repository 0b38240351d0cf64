"""A detail as a drawing: blocks, isotherms, lines of heat flow, the coldest point; and in words and as data."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import isfinite

import numpy as np
import shapely

from nuthatch import look
from nuthatch.core.heatflow.lines import Polyline, flow_lines, isotherms
from nuthatch.core.heatflow.section import Block, Point, Section
from nuthatch.core.heatflow.worked import MOULD_SAFE, Worked
from nuthatch.core.sketch import Sketch, to_svg
from nuthatch.core.units import kind_of, show, unit_of, with_unit

SIZE = (800.0, 600.0)
STEP, HEAVY = 2.0, 10.0
"""Kelvin between two isotherms, and which are drawn heavier [°C]."""
FLOW_LINES = 16
"""How many lines of heat flow there are, about."""
SAFE, OVER, UNKNOWN = 0, 1, 3


FAR = 3.5
"""What is larger than this is ground that goes on; the sheet shows its beginning [m]."""
AROUND = 0.35
"""How much of it, and of the air, is shown around the rest [m]."""


@dataclass(frozen=True)
class Frame:
    """Where a section stands on its sheet: metres → points. box: what of it is seen [m]."""

    left: float
    top: float
    scale: float
    box: tuple[float, float, float, float]

    def at(self, p: Point) -> Point:
        return self.left + (p[0] - self.box[0]) * self.scale, self.top + (self.box[3] - p[1]) * self.scale

    def area(self, outline: shapely.Polygon) -> Iterator[tuple[Point, ...]]:
        """The part of an area that is seen, on the sheet."""
        for part in shapely.get_parts(shapely.intersection(outline, shapely.box(*self.box))):
            if isinstance(part, shapely.Polygon) and not part.is_empty:
                yield tuple(self.at(c) for c in part.exterior.coords[:-1])

    def line(self, points: Polyline) -> Iterator[tuple[Point, ...]]:
        """The parts of a line that are seen, on the sheet."""
        if len(points) > 1:
            for part in shapely.get_parts(shapely.intersection(shapely.LineString(points), shapely.box(*self.box))):
                if isinstance(part, shapely.LineString) and not part.is_empty:
                    yield tuple(self.at(c) for c in part.coords)


def framed(section: Section, size: tuple[float, float]) -> Frame:
    """The section as large as the sheet has room, with the beginning of the ground."""
    bounds = np.array([s.bounds for s in section.shapes])
    near = (bounds[:, 2:] - bounds[:, :2]).max(axis=1) <= FAR
    whole = np.concatenate((bounds[:, :2].min(axis=0), bounds[:, 2:].max(axis=0)))
    shown = bounds[near] if near.any() else bounds
    low, high = shown[:, :2].min(axis=0), shown[:, 2:].max(axis=0)
    around = min(AROUND, 0.25 * float((high - low).max()))
    airs = np.array([a.bounds for a in section.airs])
    low = np.maximum(low - around, np.minimum(whole[:2], airs[:, :2].min(axis=0)))
    high = np.minimum(high + around, np.maximum(whole[2:], airs[:, 2:].max(axis=0)))
    wide, tall = high - low
    scale = min(size[0] / wide, size[1] / tall)
    return Frame(
        (size[0] - wide * scale) / 2,
        (size[1] - tall * scale) / 2,
        float(scale),
        (float(low[0]), float(low[1]), float(high[0]), float(high[1])),
    )


def token(block: Block) -> tuple[str, str]:
    """(fill, pattern) of a material by what it is to heat."""
    k = block.conductivity
    if k is None:
        return "tide_pale", "dots"
    if k < 0.065:
        return "white", ""
    if k < 0.22:
        return "wood", ""
    return ("stone", "") if k < 10 else ("slate_pale", "")


def drawing(worked: Worked, size: tuple[float, float] = SIZE, flow: bool = True) -> Sketch:
    """The whole section with its field."""
    section = worked.section
    made = Sketch(*size, title=section.name)
    frame = framed(section, size)
    for space in section.spaces:
        for part in frame.area(shapely.Polygon(space.outline)):
            made.path(part, fill="paper", stroke="", id=space.name)
    for n, block in enumerate(section.blocks):
        fill, pattern = token(block)
        k = worked.field.conductivity[n]
        tip = f"{block.name}, λ {show(float(k), 'conductivity')} {unit_of('conductivity')}"
        for part in frame.area(section.shapes[n]):
            made.path(part, fill=fill, pattern=pattern, stroke="ink", width=0.8, id=f"block.{n}", tip=tip)
    if flow:
        _flow(made, worked, frame)
    for level, lines in isotherms(worked, STEP).items():
        heavy = abs(level / HEAVY - round(level / HEAVY)) < 1e-6
        seen = [part for line in lines for part in frame.line(line)]
        for part in seen:
            made.line(*part, stroke="tide", width=1.8 if heavy else 0.8)
        if seen and (heavy or abs(level / 4 - round(level / 4)) < 1e-6):
            _label(made, max(seen, key=_long), show(level, "temperature", 0))
    _airs(made, worked, frame)
    _coldest(made, worked, frame)
    return made


def as_svg(worked: Worked) -> bytes:
    """The drawing as a file."""
    return to_svg(drawing(worked), look.palette(), look.FONT).encode()


def _flow(made: Sketch, worked: Worked, frame: Frame) -> None:
    inside, outside = (next(s.temperature for s in worked.section.spaces if s.kind == k) for k in ("inside", "outside"))
    whole = abs(worked.l2d * (inside - outside))
    if isfinite(whole) and whole > 1e-9:
        for line in flow_lines(worked, whole / FLOW_LINES):
            for part in frame.line(line):
                made.line(*part, stroke="chestnut_pale", width=0.7)


def _long(line: Polyline) -> float:
    return float(np.hypot(*np.diff(np.array(line), axis=0).T).sum())


def _label(made: Sketch, line: Polyline, words: str) -> None:
    """A temperature in the middle of its line, where it is long enough."""
    run = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(np.array(line), axis=0).T))))
    if run[-1] < 40:
        return
    x, y = (float(np.interp(run[-1] / 2, run, np.array(line)[:, i])) for i in (0, 1))
    made.text(x, y + 3.5, words, size=10, color="tide", anchor="middle", halo=True)


def _airs(made: Sketch, worked: Worked, frame: Frame) -> None:
    """Name and temperature of each space, in the largest part of it that is seen."""
    solid = shapely.union_all(worked.section.shapes)
    taken: list[shapely.Geometry] = []
    for space, air in zip(worked.section.spaces, worked.section.airs, strict=True):
        seen = shapely.intersection(shapely.difference(air, shapely.union_all([solid, *taken])), shapely.box(*frame.box))
        taken.append(air)
        if seen.is_empty:
            continue
        circle = shapely.maximum_inscribed_circle(seen)
        if circle.length * frame.scale < 22:  # a strip of air behind a cladding has no room for words
            continue
        x, y = frame.at(circle.coords[0])
        made.text(x, y - 2, with_unit(space.temperature, "temperature", 0), size=13, color="tide", bold=True, anchor="middle", halo=True)
        made.text(x, y + 13, space.name, size=10, color="muted", anchor="middle", halo=True)


def _coldest(made: Sketch, worked: Worked, frame: Frame) -> None:
    """The coldest point of the inside, with the films that mould is judged with."""
    if worked.coldest is None or worked.coldest_temperature is None:
        return
    x, y = frame.at(worked.coldest)
    made.path(((x, y), (x - 4, y - 9), (x + 4, y - 9)), fill="chestnut", stroke="chestnut")
    left = x > made.width * 0.6
    words = f"coldest {with_unit(worked.coldest_temperature, 'temperature')}, f_Rsi {worked.f_rsi:.2f}"
    made.text(
        x + (-8 if left else 8), y - 10, words, size=11, color="chestnut_text", bold=True, anchor="end" if left else "start", halo=True
    )


# words and data


def code(worked: Worked) -> int:
    """Exit code: 0 mould-safe, 1 not, 3 not fine enough or no surface inside."""
    if worked.f_rsi is None or not worked.grid.enough:
        return UNKNOWN
    return SAFE if worked.f_rsi >= MOULD_SAFE else OVER


def as_text(worked: Worked) -> str:
    """What a section comes to, line by line, in the units shown."""
    found = [worked.section.name, f"{'L2D':18} {with_unit(worked.l2d, 'psi')}"]
    for f in worked.flanks:
        b = f", b {f.b:.2f}" if f.b != 1 else ""
        found.append(
            f"{'− U·l':18} {f.name}: U {with_unit(f.u, 'u')}, internal {with_unit(f.inner, 'length')}, external {with_unit(f.outer, 'length')}{b}"
        )
    for name, psi in (("ψ internal", worked.psi_internal), ("ψ external", worked.psi_external)):
        found.append(f"{name:18} {with_unit(psi, 'psi') if psi is not None else 'no flank is named that is to be taken off'}")
    if worked.f_rsi is not None and worked.coldest is not None and worked.coldest_temperature is not None:
        where = ", ".join(f"{kind_of('length').to_shown(c):.3f}" for c in worked.coldest)
        found.append(f"{'coldest inside':18} {with_unit(worked.coldest_temperature, 'temperature')} at {where} {unit_of('length')}")
        found.append(
            f"{'f_Rsi':18} {worked.f_rsi:.3f}, {'mould-safe' if worked.f_rsi >= MOULD_SAFE else 'NOT mould-safe'} (limit {MOULD_SAFE:.2f})"
        )
    else:
        found.append(f"{'f_Rsi':18} no surface of the section is inside")
    g = worked.grid
    moved = (
        f"doubled: flow moves {100 * g.flow:.2f} %, f_Rsi {g.surface:.4f}, ψ {g.psi:.4f} W/(m·K)" if isfinite(g.flow) else "one grid only"
    )
    found.append(f"{'grid':18} {g.cells:,} cells; {moved}; heat kept within {g.kept:.0e}" + ("" if g.enough else "; NOT fine enough"))
    return "\n".join(found) + "\n"


def as_data(worked: Worked) -> dict[str, object]:
    """The same as JSON, metric: ψ and L2D in W/(m·K), lengths in m, temperatures in °C."""
    g = worked.grid
    return {
        "detail": worked.section.name,
        "l2d": worked.l2d,
        "psi_internal": worked.psi_internal,
        "psi_external": worked.psi_external,
        "f_rsi": worked.f_rsi,
        "coldest": {"at": worked.coldest, "temperature": worked.coldest_temperature} if worked.coldest else None,
        "mould_safe": None if worked.f_rsi is None else worked.f_rsi >= MOULD_SAFE,
        "flanks": [{"name": f.name, "u": f.u, "inner": f.inner, "outer": f.outer, "b": f.b} for f in worked.flanks],
        "coupling": {
            f"{a.name} – {b.name}": float(worked.field.coupling[i, j])
            for i, a in enumerate(worked.section.spaces)
            for j, b in enumerate(worked.section.spaces)
            if i < j
        },
        "grid": {
            "cells": g.cells,
            "flow_moves": g.flow if isfinite(g.flow) else None,
            "f_rsi_moves": g.surface if isfinite(g.surface) else None,
            "psi_moves": g.psi if isfinite(g.psi) else None,
            "heat_kept": g.kept,
            "fine_enough": g.enough,
        },
    }
