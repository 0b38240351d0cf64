"""Sections of what the shape does not show: a slab that goes on through a wall as a balcony, an inner wall that meets it."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

import shapely

from nuthatch.core.heatflow.of_home import Ties
from nuthatch.core.heatflow.plies import Ply
from nuthatch.core.heatflow.section import Block, Flank, Section, Space
from nuthatch.core.junctions.sections import AIR, COLD, SHORTEST, TIMES, WARM, Arm, Drawn, Stem, carrying, lie_of, ring, stem


class Balcony(NamedTuple):
    """A slab through a wall: thickness [m], how far it reaches beyond the wall's outer face [m], λ [W/(m·K)]; common practice, no source."""

    thickness: float = 0.18
    out: float = 1.2
    conductivity: float = 2.3


def balcony(name: str, wall: Arm, slab: Balcony) -> Drawn:
    """A slab between two rooms that goes on outside through all of the wall; above and below it the wall is as it is."""
    t, deep = wall.thickness, slab.thickness
    long = max(SHORTEST, TIMES * t)
    edge = -t - slab.out
    blocks, follows = [], []
    for y0, y1 in ((0.0, long), (-deep - long, -deep)):
        x = 0.0
        for ply in wall.layers:
            place = "above" if y1 > 0 else "below"
            blocks.append(Block(f"{ply.name}, wall {place}", ring(shapely.box(x - ply.thickness, y0, x, y1)), ply.conductivity))
            follows.append(ply.id)
            x -= ply.thickness
    blocks.append(Block("Balcony slab, concrete", ring(shapely.box(edge, -deep, long, 0.0)), slab.conductivity))
    follows.append("")
    far = edge - AIR
    around = ((far, -deep - long), (-t, -deep - long), (-t, -deep), (edge, -deep), (edge, 0.0), (-t, 0.0), (-t, long), (far, long))
    spaces = (
        Space("heated space", "inside", ring(shapely.box(0.0, 0.0, long, long)), WARM),
        Space("heated space below", "inside", ring(shapely.box(0.0, -deep - long, long, -deep)), WARM),
        Space("outside", "outside", around, COLD, wall.film),
    )
    above, below = f"{wall.name}, above", f"{wall.name}, below"
    flanks = (Flank(above, long, long, u=wall.u), Flank(below, long + deep, long + deep, u=wall.u))
    lies = (lie_of(wall, 90.0, -1, long, False, (-t, 0.0)), lie_of(wall, -90.0, 1, long, False, (-t, -deep)))
    ties = Ties(tuple(follows), lies, assumed=frozenset({len(blocks) - 1}))
    return Drawn(Section(name, tuple(blocks), spaces, flanks), ties)


def inner_wall(wall: tuple[Ply, ...]) -> tuple[Ply, ...]:
    """The inner wall that meets a wall whose layers no plan says: blocks beside a wall that carries, else boards on studs."""
    name, thick, k = ("Inner wall, blocks", 0.115, 0.6) if carrying(wall)[1] else ("Inner wall, studs and boards", 0.1, 0.13)
    return (Ply("", name, thick, k),)


def partition(name: str, wall: Arm) -> Drawn:
    """An inner wall that meets a wall, seen from above: the linings of the wall stop at it."""
    beyond = replace(wall, name=f"{wall.name}, beyond", short="wall beyond")
    return stem(name, wall, Stem(inner_wall(wall.layers), "inside", lower=beyond, short="inner wall", assumed=True), plan=True)
