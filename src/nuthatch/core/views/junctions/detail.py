"""A detail as a drawing: blocks, isotherms, lines of heat flow, the coldest point; and in words and as data."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import isfinite

import numpy as np
import shapely

from nuthatch import look
from nuthatch.core.heatflow.of_home import section_of
from nuthatch.core.heatflow.reshaped import extent, side_of
from nuthatch.core.heatflow.section import LARGEST, Block, Point, Section, SectionFault, checked
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.surfaces import MOULD_SAFE
from nuthatch.core.model.details import Detail, DetailBlock
from nuthatch.core.results.figure import Computing, Unknown
from nuthatch.core.sketch import Handle, Pull, Sketch, snapping, to_svg
from nuthatch.core.units import kind_of, show, unit_of, with_unit

SIZE = (800.0, 600.0)
HEAVY, NAMED = 10.0, 4.0
"""Which isotherms are drawn heavier, and which have their temperature beside them [°C]."""
Line = Sequence[Point] | np.ndarray
SAFE, OVER, UNKNOWN = 0, 1, 3


STAGGERED = (0.16, 0.24, 0.32)
"""How far along their lines temperatures stand, one after the other: lines lie closest in a corner, in the middle of them."""
CROWD, SEEN = 0.5, 0.95
"""Most happens where most corners lie within this of each other; so much is seen around them [m]."""
NAMES = {"inside": "heated space", "outside": "outside air", "unheated": "unheated"}


@dataclass(frozen=True)
class Frame:
    """Where a section stands on its sheet: metres → points. box: what of it is seen [m]."""

    left: float
    top: float
    scale: float
    box: tuple[float, float, float, float]

    def at(self, p: Point) -> Point:
        return self.left + (p[0] - self.box[0]) * self.scale, self.top + (self.box[3] - p[1]) * self.scale

    def back(self, p: Point) -> Point:
        """A point of the sheet in the section [m]."""
        return self.box[0] + (p[0] - self.left) / self.scale, self.box[3] - (p[1] - self.top) / self.scale

    def area(self, outline: shapely.Polygon) -> Iterator[tuple[Point, ...]]:
        """The part of an area that is seen, on the sheet."""
        for part in shapely.get_parts(shapely.intersection(outline, shapely.box(*self.box))):
            if isinstance(part, shapely.Polygon) and not part.is_empty:
                yield tuple(self.at(c) for c in part.exterior.coords[:-1])

    def line(self, points: Line) -> Iterator[tuple[Point, ...]]:
        """The parts of a line that are seen, on the sheet."""
        if len(points) > 1:
            for part in shapely.get_parts(shapely.intersection(shapely.LineString(points), shapely.box(*self.box))):
                if isinstance(part, shapely.LineString) and not part.is_empty:
                    yield tuple(self.at(c) for c in part.coords)


def framed(section: Section, size: tuple[float, float]) -> Frame:
    """The part of a section where most happens, as large as the sheet has room; far ground and long arms are cut off by its edge."""
    corners = np.array([p for b in section.blocks for p in b.outline])
    near = np.hypot(*(corners[:, None] - corners[None]).transpose(2, 0, 1)) < CROWD
    middle = corners[near[int(near.sum(axis=1).argmax())]].mean(axis=0)
    bounds = np.array([s.bounds for s in (*section.shapes, *section.airs)])
    low = np.maximum(bounds[:, :2].min(axis=0), middle - SEEN)
    high = np.minimum(bounds[:, 2:].max(axis=0), middle + SEEN)
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


def drawing(section: Section, solved: Solved | None, size: tuple[float, float] = SIZE, selected: int | None = None) -> Sketch:
    """The whole section, with its field where it is known; `selected`: the block that is."""
    made = Sketch(*size, title=section.name)
    frame = framed(section, size)
    for air in section.airs:
        for part in frame.area(air):
            made.path(part, fill="paper", stroke="")
    for n, block in enumerate(section.blocks):
        fill, pattern = token(block)
        k = float(solved.conductivity[n]) if solved is not None else block.conductivity
        tip = f"{block.name}, λ {show(k, 'conductivity')} {unit_of('conductivity')}" if k is not None else f"{block.name}, closed air"
        for part in frame.area(section.shapes[n]):
            made.path(part, fill=fill, pattern=pattern, stroke="ink", width=0.8, id=f"{BLOCK}{n}", tip=tip)
    if solved is not None:
        _field(made, solved, frame)
    for part in frame.area(section.shapes[selected]) if selected is not None and selected < len(section.blocks) else ():
        made.path(part, stroke="tide", width=2.4)
    _airs(made, section, frame)
    if solved is not None:
        _coldest(made, solved, frame)
    return made


def of_detail(
    detail: Detail, of: Solved | Unknown | Computing | None, size: tuple[float, float] = SIZE, selected: int | None = None, says: str = ""
) -> Sketch:
    """A detail of a home, with its field where it is worked out; what is wrong with its section, in words. The sides of the block that is
    selected can be dragged; says: what stands beside one while it is."""
    try:
        section = section_of(detail)
        made = drawing(checked(section), of if isinstance(of, Solved) else None, size, selected)
    except SectionFault as fault:
        made = Sketch(*size, title=detail.name)
        made.say(f"This section cannot be worked out: {fault}")
        return made
    if selected is not None and selected < len(detail.blocks):
        _sides(made, detail.blocks[selected], frame_of(section, size), says)
    return made


SIDE = "side."
"""How the id of a side of the selected block begins; its place in the outline follows."""


def frame_of(section: Section, size: tuple[float, float] = SIZE) -> Frame:
    """Where a section stands on its sheet. Raises SectionFault."""
    return framed(checked(section), size)


def _sides(made: Sketch, block: DetailBlock, frame: Frame, says: str) -> None:
    """What can be taken hold of: each side of a block, moved along its normal."""
    step, fine, words = snapping(True)
    left, right, bottom, top = extent(block.outline)
    size = says or f"{with_unit(right - left, 'thickness')} × {with_unit(top - bottom, 'thickness')}"
    for n in range(len(block.outline)):
        p, q, out = side_of(block.outline, n)
        for part in frame.line((p, q)):
            pull = Pull(block.id, "outline", 0.0, (out[0] / frame.scale, -out[1] / frame.scale), step, fine, -LARGEST, LARGEST)
            made.handles.append(Handle(f"{SIDE}{n}", part, (pull,), size))
            made.line(*part, stroke="tide", width=2.4, id=f"{SIDE}{n}")
            break
    made.hint = f"Drag a side · {words}"


BLOCK = "block."
"""How the id of a block begins; its place among the blocks follows."""


def as_svg(section: Section, solved: Solved) -> bytes:
    """The drawing as a file."""
    return to_svg(drawing(section, solved), look.palette(), look.FONT).encode()


def _field(made: Sketch, solved: Solved, frame: Frame) -> None:
    """Lines of heat flow, and isotherms over them."""
    for line in solved.flow:
        for part in frame.line(line):
            made.line(*part, stroke="chestnut_pale", width=0.7)
    longest: dict[float, tuple[Point, ...]] = {}
    for level, line in solved.isotherms:
        heavy = _of(level, HEAVY)
        for part in frame.line(line):
            made.line(*part, stroke="tide", width=1.8 if heavy else 0.8)
            if _of(level, NAMED) or heavy:
                longest[level] = max(longest.get(level, part), part, key=_long)
    for n, level in enumerate(sorted(longest)):
        _label(made, longest[level], show(level, "temperature", 0), STAGGERED[n % len(STAGGERED)])


def _of(level: float, step: float) -> bool:
    return abs(level / step - round(level / step)) < 1e-6


def _long(line: Line) -> float:
    return float(np.hypot(*np.diff(np.array(line), axis=0).T).sum())


def _label(made: Sketch, line: Line, words: str, share: float) -> None:
    """A temperature on its line, this share along it, where it is long enough."""
    run = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(np.array(line), axis=0).T))))
    if run[-1] < 40:
        return
    x, y = (float(np.interp(run[-1] * share, run, np.array(line)[:, i])) for i in (0, 1))
    made.text(x, y + 3.5, words, size=10, color="tide", anchor="middle", halo=True)


def _airs(made: Sketch, section: Section, frame: Frame) -> None:
    """Name and temperature of each space, in the largest part of it that is seen."""
    solid = shapely.union_all(section.shapes)
    taken: list[shapely.Geometry] = []
    for space, air in zip(section.spaces, section.airs, strict=True):
        seen = shapely.intersection(shapely.difference(air, shapely.union_all([solid, *taken])), shapely.box(*frame.box))
        taken.append(air)
        if seen.is_empty:
            continue
        circle = shapely.maximum_inscribed_circle(seen)
        if circle.length * frame.scale < 34:  # a strip of air behind a cladding has no room for words
            continue
        x, y = frame.at(circle.coords[0])
        made.text(x, y - 2, with_unit(space.temperature, "temperature", 0), size=13, color="tide", bold=True, anchor="middle", halo=True)
        made.text(x, y + 13, NAMES[space.kind], size=10, color="muted", anchor="middle", halo=True)


def _coldest(made: Sketch, solved: Solved, frame: Frame) -> None:
    """The coldest point of the inside, with the films that mould is judged with."""
    if solved.coldest is None or solved.coldest_temperature is None:
        return
    x, y = frame.at(solved.coldest)
    made.path(((x, y), (x - 4, y - 9), (x + 4, y - 9)), fill="chestnut", stroke="chestnut")
    left = x > made.width * 0.6
    words = f"coldest {with_unit(solved.coldest_temperature, 'temperature')}, f_Rsi {solved.f_rsi:.2f}"
    made.text(
        x + (-8 if left else 8), y - 10, words, size=11, color="chestnut_text", bold=True, anchor="end" if left else "start", halo=True
    )


# words and data


def code(solved: Solved) -> int:
    """Exit code: 0 mould-safe, 1 not, 3 not fine enough or no surface inside."""
    if solved.f_rsi is None or not solved.grid.enough:
        return UNKNOWN
    return SAFE if solved.f_rsi >= MOULD_SAFE else OVER


def as_text(name: str, solved: Solved) -> str:
    """What a section comes to, line by line, in the units shown."""
    found = [name, f"{'L2D':18} {with_unit(solved.l2d, 'psi')}"]
    for f in solved.flanks:
        b = f", b {f.b:.2f}" if f.b != 1 else ""
        found.append(
            f"{'− U·l':18} {f.name}: U {with_unit(f.u, 'u')}, internal {with_unit(f.inner, 'length')}, external {with_unit(f.outer, 'length')}{b}"
        )
    for name, psi in (("ψ internal", solved.psi_internal), ("ψ external", solved.psi_external)):
        found.append(f"{name:18} {with_unit(psi, 'psi') if psi is not None else 'no flank is named that is to be taken off'}")
    if solved.f_rsi is not None and solved.coldest is not None and solved.coldest_temperature is not None:
        where = ", ".join(f"{kind_of('length').to_shown(c):.3f}" for c in solved.coldest)
        found.append(f"{'coldest inside':18} {with_unit(solved.coldest_temperature, 'temperature')} at {where} {unit_of('length')}")
        found.append(
            f"{'f_Rsi':18} {solved.f_rsi:.3f}, {'mould-safe' if solved.f_rsi >= MOULD_SAFE else 'NOT mould-safe'} (limit {MOULD_SAFE:.2f})"
        )
    else:
        found.append(f"{'f_Rsi':18} no surface of the section is inside")
    g = solved.grid
    moved = (
        f"doubled: flow moves {100 * g.flow:.2f} %, f_Rsi {g.surface:.4f}, ψ {g.psi:.4f} W/(m·K)" if isfinite(g.flow) else "one grid only"
    )
    found.append(f"{'grid':18} {g.cells:,} cells; {moved}; heat kept within {g.kept:.0e}" + ("" if g.enough else "; NOT fine enough"))
    return "\n".join(found) + "\n"


def as_data(name: str, solved: Solved) -> dict[str, object]:
    """The same as JSON, metric: ψ and L2D in W/(m·K), lengths in m, temperatures in °C."""
    g = solved.grid
    return {
        "detail": name,
        "l2d": solved.l2d,
        "psi_internal": solved.psi_internal,
        "psi_external": solved.psi_external,
        "f_rsi": solved.f_rsi,
        "coldest": {"at": solved.coldest, "temperature": solved.coldest_temperature} if solved.coldest else None,
        "mould_safe": None if solved.f_rsi is None else solved.f_rsi >= MOULD_SAFE,
        "flanks": [{"name": f.name, "u": f.u, "inner": f.inner, "outer": f.outer, "b": f.b} for f in solved.flanks],
        "coupling": {f"{a} – {b}": value for a, b, value in solved.coupling},
        "grid": {
            "cells": g.cells,
            "flow_moves": g.flow if isfinite(g.flow) else None,
            "f_rsi_moves": g.surface if isfinite(g.surface) else None,
            "psi_moves": g.psi if isfinite(g.psi) else None,
            "heat_kept": g.kept,
            "fine_enough": g.enough,
        },
    }
