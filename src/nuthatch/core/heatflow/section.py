"""A cross-section through a detail, as heat sees it: blocks of material, the air around them, the plane parts that meet. Lengths in
metres, y upward in a vertical section.

Pure data; what is wrong with a section is said with the name of its block and the place.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from math import isfinite
from typing import ClassVar, Literal

import numpy as np
import shapely

Point = tuple[float, float]
Line = tuple[Point, Point]
SMALL = 1e-7
"""Lengths below this are none [m]."""
TOUCH = 1e-6
"""Blocks that overlap by less area are drawn beside each other [m²]."""
NEAR = 2e-5
"""Corners nearer than this are one [m]; nothing thinner is drawn."""
LARGEST = 200.0
"""Farther than this no point of a section lies [m]."""
MOST_BLOCKS = 400
HELD = 1e-7
"""A surface held at the temperature of its air has a film of this [m²·K/W]."""


class SectionFault(ValueError):
    """A section that cannot be worked out: which block, and what would be right."""


@dataclass(frozen=True)
class Block:
    """A material. conductivity: λ [W/(m·K)], None for a closed air cavity, whose equivalent λ follows from its size (ISO 10077-2; ISO 6946
    for a long one); glazing: frame or glass, which keeps its film where mould is judged."""

    name: str
    outline: tuple[Point, ...]
    conductivity: float | None
    glazing: bool = False


@dataclass(frozen=True)
class Space:
    """Air of one temperature [°C]. film: surface resistance all over it [m²·K/W], by place where None; b: of an unheated space."""

    name: str
    kind: Literal["inside", "outside", "unheated"]
    outline: tuple[Point, ...]
    temperature: float
    film: float | None = None
    b: float | None = None


@dataclass(frozen=True)
class Flank:
    """A plane part that runs into the junction: its U-value [W/(m²·K)], or a line across it that says it; its lengths by internal and external
    dimensions [m]; the space on its other side."""

    name: str
    inner: float
    outer: float
    u: float | None = None
    across: Line | None = None
    to: str = ""


@dataclass(frozen=True)
class Section:
    """A whole section. plane: a vertical cut, where films go by up and down, or a horizontal one (a corner in plan)."""

    told_once: ClassVar[bool] = True

    name: str
    blocks: tuple[Block, ...]
    spaces: tuple[Space, ...]
    flanks: tuple[Flank, ...] = ()
    plane: Literal["vertical", "horizontal"] = "vertical"

    @cached_property
    def shapes(self) -> tuple[shapely.Polygon, ...]:
        """The outlines of the blocks."""
        return tuple(shapely.Polygon(b.outline) for b in self.blocks)

    @cached_property
    def airs(self) -> tuple[shapely.Polygon, ...]:
        """The outlines of the spaces; where a block lies on one, the block counts."""
        return tuple(shapely.Polygon(s.outline) for s in self.spaces)


def drawn(section: Section) -> list[tuple[str, tuple[Point, ...]]]:
    """Name and outline of everything that is drawn."""
    return [(b.name, b.outline) for b in section.blocks] + [(s.name, s.outline) for s in section.spaces]


def at(p: Point) -> str:
    """“(0.350, 1.200)”."""
    return f"({p[0]:.3f}, {p[1]:.3f})"


def checked(section: Section) -> Section:
    """The section as it is worked out: corners that lie within NEAR of each other or of a side are one. Raises SectionFault with the block and
    what would be right."""
    if not section.blocks:
        raise SectionFault("the section has no blocks: at least one material is needed between two spaces")
    if len(section.blocks) > MOST_BLOCKS:
        raise SectionFault(f"the section has {len(section.blocks)} blocks; at most {MOST_BLOCKS} are worked out")
    for name, outline in drawn(section):
        _outline(name, outline)
    for b in section.blocks:
        if b.conductivity is not None and not (isfinite(b.conductivity) and 1e-4 <= b.conductivity <= 1000):
            raise SectionFault(
                f"“{b.name}” has λ {b.conductivity:g} W/(m·K): it must be between 0.0001 and 1000; an air cavity has none and says so"
            )
    _spaces(section)
    section = _joined(section)
    _beside(section)
    _whole(section)
    _flanks(section)
    return section


def _outline(name: str, outline: tuple[Point, ...]) -> None:
    if len(outline) < 3:
        raise SectionFault(f"“{name}” has {len(outline)} corners: an outline needs at least three")
    for p in outline:
        if not all(isfinite(c) and abs(c) <= LARGEST for c in p):
            raise SectionFault(f"“{name}” has a corner at {p[0]:g}, {p[1]:g}: coordinates are metres, within {LARGEST:g} of 0")
    shape = shapely.Polygon(outline)
    if not shape.is_valid:
        raise SectionFault(f"the outline of “{name}” crosses or touches itself: {shapely.is_valid_reason(shape)}")
    if shape.area < TOUCH:
        raise SectionFault(f"“{name}” is nothing but a line: its outline encloses {shape.area:.1e} m²")


def _spaces(section: Section) -> None:
    kinds = [s.kind for s in section.spaces]
    for kind in ("inside", "outside"):
        if kind not in kinds:
            raise SectionFault(f"the section has no space that is {kind}: heat flows between an inside and an outside")
    names = [s.name for s in section.spaces]
    for s in section.spaces:
        if names.count(s.name) > 1:
            raise SectionFault(f"two spaces are called “{s.name}”: each needs its own name")
        if not (isfinite(s.temperature) and -60 <= s.temperature <= 60):
            raise SectionFault(f"“{s.name}” has {s.temperature:g} °C: air is between −60 and 60 °C")
        if s.film is not None and not (isfinite(s.film) and 0 <= s.film <= 10):
            raise SectionFault(f"“{s.name}” has a film of {s.film:g} m²·K/W: it must be between 0 and 10")
        if s.kind == "unheated" and s.b is not None and not 0 <= s.b <= 1:
            raise SectionFault(f"“{s.name}” has b {s.b:g}: it lies between 0 and 1")
    warm = {s.temperature for s in section.spaces if s.kind == "inside"}
    cold = {s.temperature for s in section.spaces if s.kind == "outside"}
    if len(warm) > 1 or len(cold) > 1:
        raise SectionFault("all inside air has one temperature, and all outside air one: a third temperature is an unheated space's")
    if warm <= cold and warm >= cold:
        raise SectionFault("inside and outside have the same temperature: nothing flows")


def _beside(section: Section) -> None:
    """No block lies on another."""
    tree = shapely.STRtree(section.shapes)
    first, second = tree.query(section.shapes, predicate="intersects")
    for i, j in zip(first, second, strict=True):
        if i < j:
            over = section.shapes[i].intersection(section.shapes[j])
            if over.area > TOUCH:
                p = over.representative_point()
                raise SectionFault(
                    f"“{section.blocks[i].name}” and “{section.blocks[j].name}” lie over each other by {over.area * 1e4:.1f} cm² at {at((p.x, p.y))}: one of them must give way"
                )


def _whole(section: Section) -> None:
    """No hole between blocks and spaces, and every space touches something."""
    blocks = shapely.union_all(section.shapes, grid_size=SMALL)
    every = shapely.union_all([blocks, *section.airs], grid_size=SMALL)
    if isinstance(every, shapely.MultiPolygon):
        p = min(every.geoms, key=lambda g: g.area).representative_point()
        raise SectionFault(
            f"the section falls into {len(every.geoms)} pieces; one of them lies at {at((p.x, p.y))}: heat cannot pass between them"
        )
    for ring in every.interiors:
        hole = shapely.Polygon(ring)
        if hole.area > TOUCH:
            p = hole.representative_point()
            near = section.blocks[int(np.argmin(shapely.distance(section.shapes, p)))].name
            raise SectionFault(
                f"there is a hole of {hole.area * 1e4:.1f} cm² at {at((p.x, p.y))}, beside “{near}”: fill it with a material, an air cavity or a space"
            )
    _bare(section, blocks, every)
    for space, air in zip(section.spaces, section.airs, strict=True):
        if shapely.intersection(air, blocks.boundary, grid_size=SMALL).length < SMALL:
            raise SectionFault(f"“{space.name}” touches no block")


def _bare(section: Section, blocks: shapely.Geometry, every: shapely.Geometry) -> None:
    """Where material ends at no space it is cut off, and nothing flows there: that is at the rim of the drawing only, or somebody left a gap."""
    rim = every.convex_hull.boundary.buffer(10 * SMALL)
    open_to_air = shapely.union_all(section.airs).buffer(10 * SMALL)
    bare = blocks.boundary.difference(open_to_air).difference(rim)
    if bare.length > 100 * SMALL:
        p = bare.interpolate(0.5, normalized=True)
        near = section.blocks[int(np.argmin(shapely.distance(section.shapes, p)))].name
        raise SectionFault(
            f"“{near}” ends at {at((p.x, p.y))} beside no space and not at the rim of the section: let a space reach up to it"
        )


def _flanks(section: Section) -> None:
    names = {s.name for s in section.spaces}
    for f in section.flanks:
        if f.u is None and f.across is None:
            raise SectionFault(f"“{f.name}” needs its U-value, or a line across it from inside to its other side")
        if f.u is not None and not (isfinite(f.u) and 0 <= f.u <= 100):
            raise SectionFault(f"“{f.name}” has U {f.u:g} W/(m²·K): it must be between 0 and 100")
        if not all(isfinite(l) and 0 <= l <= LARGEST for l in (f.inner, f.outer)):
            raise SectionFault(f"“{f.name}” needs an inner and an outer length between 0 and {LARGEST:g} m")
        if f.to and f.to not in names:
            raise SectionFault(f"“{f.name}” leads to “{f.to}”, which is no space of this section; it has {', '.join(sorted(names))}")


def _joined(section: Section) -> Section:
    """The same with every corner that touches a side a corner of that side too, and levels nearer than NEAR made one: what meets in the
    drawing meets in the mesh, and no crack is left along a slope because a number was rounded."""
    rings = [np.array(outline, dtype=float) for _, outline in drawn(section)]
    corners = np.concatenate(rings)
    levels = [_levels(corners[:, i]) for i in (0, 1)]
    made: list[tuple[Point, ...]] = []
    for ring in rings:
        fuller = with_corners(ring, corners)
        fuller = np.column_stack([level[1][np.searchsorted(level[0], fuller[:, i])] for i, level in enumerate(levels)])
        made.append(tuple((float(x), float(y)) for x, y in fuller[(fuller != np.roll(fuller, 1, axis=0)).any(axis=1)]))
    number = len(section.blocks)
    for (name, _), outline in zip(drawn(section), made, strict=True):
        if len(outline) < 3 or shapely.Polygon(outline).area < SMALL:
            raise SectionFault(f"“{name}” is thinner than {NEAR * 1000:g} mm: leave it out")
    blocks = tuple(replace(b, outline=o) for b, o in zip(section.blocks, made[:number], strict=True))
    return replace(section, blocks=blocks, spaces=tuple(replace(s, outline=o) for s, o in zip(section.spaces, made[number:], strict=True)))


def _levels(values: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Every value in order, and the one it becomes: the first of those that lie together."""
    found = np.unique(values)
    begins = np.concatenate(([True], np.diff(found) > NEAR))
    return found, found[np.flatnonzero(begins)[np.cumsum(begins) - 1]]


def with_corners(ring: np.ndarray, corners: np.ndarray) -> np.ndarray:
    """An outline with the corners of others that lie on its sides."""
    runs = np.roll(ring, -1, axis=0) - ring
    lengths = np.hypot(runs[:, 0], runs[:, 1])[:, None]
    x, y = (corners[None, :, i] - ring[:, None, i] for i in (0, 1))
    along = (x * runs[:, :1] + y * runs[:, 1:]) / lengths
    off = np.abs(y * runs[:, :1] - x * runs[:, 1:]) / lengths
    lies = (off < NEAR) & (along > NEAR) & (along < lengths - NEAR)
    parts = []
    for p, run, here in zip(ring, runs, lies, strict=True):
        parts.append(p[None])
        if here.any():
            on = np.unique(corners[here], axis=0)
            parts.append(on[np.argsort((on - p) @ run)])
    return np.concatenate(parts)
