"""Sections of the sides of an opening: a wall that ends at its reveal, and the frame that stands there. Lengths in metres; 0, 0 is the inner
edge of the reveal, the wall goes up from there.

The frame is one block whose λ gives it its U_f with the films of ISO 10077-1; glass is left out, with an adiabatic cut at the frame's edge, for
its loss and its edge count with the window: ψ = L2D − U·l of the wall − U_f·b_f (ISO 10211:2017, 10; common practice for installation).
"""

from __future__ import annotations

from typing import NamedTuple

import shapely

from nuthatch.core.heatflow.of_home import Ties
from nuthatch.core.heatflow.section import Block, Flank, Section, Space
from nuthatch.core.junctions.sections import AIR, COLD, SHORTEST, TIMES, WARM, Arm, Drawn, carrying, lie_of, ring

FILMS = 0.13, 0.04
"""Inside and outside of a frame [m²·K/W], ISO 10077-1."""
DEEP, WIDE = 0.09, 0.1
"""How deep a frame is, and how wide one nobody has measured [m]: common practice, no source."""
INSULATES, OUTSIDE = 0.066, 0.04
"""A layer of less λ insulates [W/(m·K)]; from this thickness on [m] insulation outside of what carries."""


class Frame(NamedTuple):
    """A frame: U_f [W/(m²·K)], how wide it is seen [m]."""

    u: float
    wide: float


def stands(wall: Arm) -> tuple[float, float]:
    """(inner, outer) depth of the frame in a wall [m from inside]: behind the outer face of what carries where that is insulated outside, else in
    the middle of the thickest insulation, else of the wall."""
    deep = min(DEEP, wall.thickness)
    n, _ = carrying(wall.layers)
    edges = [0.0]
    for ply in wall.layers:
        edges.append(edges[-1] + ply.thickness)
    if sum(p.thickness for p in wall.layers[n + 1 :] if p.conductivity < INSULATES) >= OUTSIDE and wall.layers[n].conductivity >= INSULATES:
        outer = max(edges[n + 1], deep)
        return outer - deep, outer
    soft = [m for m, p in enumerate(wall.layers) if p.conductivity < INSULATES]
    m = max(soft, key=lambda m: wall.layers[m].thickness) if soft else None
    middle = (edges[m] + edges[m + 1]) / 2 if m is not None else wall.thickness / 2
    inner = min(max(middle - deep / 2, 0.0), wall.thickness - deep)
    return inner, inner + deep


def reveal(name: str, wall: Arm, frame: Frame, plan: bool) -> Drawn:
    """A wall at the left of the room that ends at its opening below, with the frame in it. plan: a jamb; else a head. Raises ValueError for a
    frame that no block can be as well as its U says."""
    inner, outer = stands(wall)
    r = 1 / frame.u - sum(FILMS)
    if r <= 0 or outer - inner <= 0:
        raise ValueError(f"a frame of U_f {frame.u:g} W/(m²·K) is more than its films let through")
    t, long, wide = wall.thickness, max(SHORTEST, TIMES * wall.thickness), frame.wide
    blocks, follows, depth = [], [], 0.0
    for ply in wall.layers:
        blocks.append(Block(wall.called(ply), ring(shapely.box(-depth - ply.thickness, 0, -depth, long)), ply.conductivity))
        follows.append(ply.id)
        depth += ply.thickness
    blocks.append(Block("Frame", ring(shapely.box(-outer, -wide, -inner, 0)), (outer - inner) / r, glazing=True))
    follows.append("")
    room = (
        shapely.union(shapely.box(0, -wide, long, long), shapely.box(-inner, -wide, 0, 0))
        if inner > 0
        else shapely.box(0, -wide, long, long)
    )
    spaces = (
        Space("heated space", "inside", ring(room), WARM),
        Space("outside", "outside", ring(shapely.box(-t - AIR, 0, -t, long)), COLD, wall.film),
        Space("outside, at the frame", "outside", ring(shapely.box(-t - AIR, -wide, -outer, 0)), COLD, FILMS[1]),
    )
    flanks = (Flank(wall.name, long, long, u=wall.u), Flank("Frame", wide, wide, u=frame.u))
    section = Section(name, tuple(blocks), spaces, flanks, "horizontal" if plan else "vertical")
    return Drawn(section, Ties(tuple(follows), (lie_of(wall, 90.0, 1, long), None)))
