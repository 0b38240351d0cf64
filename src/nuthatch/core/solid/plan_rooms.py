"""The rooms of drawn plans: what inner walls leave of each heated outline, below floors, ceilings and slopes."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from nuthatch.core.model.plans import InnerWall, Plans, Room
from nuthatch.core.plans.arrangement import HEATED as HOME
from nuthatch.core.plans.arrangement import PlanOutline, SpaceLayer
from nuthatch.core.plans.reading_plans import Drawing, number, walls_of
from nuthatch.core.plans.roofs import RoofPlane, level
from nuthatch.core.plans.room_shapes import Ceiling, Measure, divided, lowered, measured
from nuthatch.core.solid.massing import Massing
from nuthatch.core.solid.plan_layout import Layout

AIR = {
    "living": "supply",
    "bedroom": "supply",
    "kitchen": "extract",
    "bath": "extract",
    "WC": "extract",
    "hall": "transfer",
    "stairs": "transfer",
}
"""What the ventilation does in a room of a use, where nothing else is said (common practice, no source)."""


@dataclass(frozen=True)
class PlanRoom:
    """A room of the plans: which outline and storey it is of, how it counts, and what it measures."""

    id: str
    name: str
    storey: str
    outline: str
    use: str
    measure: Measure
    factor: float
    share: float
    part: Room | None = None
    storey_name: str = ""

    @property
    def air(self) -> str:
        """Whether it gets supply or extract air, or air only passes through it; “none” where neither is said nor follows from its use."""
        said = self.part.air if self.part is not None else "by its use"
        return AIR.get(self.use, "none") if said == "by its use" else said

    @property
    def area(self) -> float:
        """Floor area without partitions that are not drawn [m²]."""
        return self.measure.area * self.share

    @property
    def counted(self) -> float:
        """What of it counts as reference floor area [m²]: the value of its working, for lists."""
        return (self.measure.high + 0.5 * self.measure.half) * self.share * self.factor


def rooms_of(plans: Plans, drawing: Drawing, outer: Massing, layout: Layout, within: tuple[PlanOutline, ...]) -> tuple[PlanRoom, ...]:
    """The rooms of all heated outlines."""
    inside = {o.id: o.polygon for o in within}
    found: list[PlanRoom] = []
    for floor in drawing.floors:
        walls = walls_of(floor.plan.inner_walls, layout.known)
        named = {r.id: shapely.Point(r.x.value, r.y.value) for r in floor.plan.rooms if r.x and r.y}
        for o in floor.plan.outlines:
            if o.kind != "heated" or o.id not in inside:
                continue
            ceilings = _ceilings(drawing, outer, layout, o.id)
            own = tuple(w for w in walls if shapely.LineString(w[:2]).intersects(inside[o.id]))
            for n, piece in enumerate(divided(inside[o.id], own), 1):
                room = next((r for r in floor.plan.rooms if r.id in named and piece.contains(named[r.id])), None)
                fixed = room.height.value if room is not None and room.height is not None else None
                use = room.use if room is not None else "other"
                found.append(
                    PlanRoom(
                        room.id if room is not None else f"{o.id}.room-{n}",
                        room.name if room is not None and room.name else f"Room {n}" if own else o.name or floor.plan.name,
                        floor.plan.id,
                        o.id,
                        use,
                        measured(piece, ceilings, fixed),
                        room.factor.value if room is not None and room.factor is not None else 0.0 if use == "stairs" else 1.0,
                        1.0 if own else 1 - number(plans.partition_share),
                        room,
                        floor.plan.name,
                    )
                )
    return tuple(found)


@dataclass(frozen=True)
class Partition:
    """An inner wall with a build-up, as far as it stands in a heated outline: its area on one side [m²]."""

    wall: InnerWall
    area: float


def partitions(drawing: Drawing, outer: Massing, layout: Layout, within: tuple[PlanOutline, ...]) -> tuple[Partition, ...]:
    """The inner walls whose mass counts, up to the ceilings above them."""
    found = []
    for floor in drawing.floors:
        warm = [o for o in within if o.space == HOME and any(p.id == o.id for p in floor.plan.outlines)]
        for wall in floor.plan.inner_walls:
            for a, b, _ in walls_of((wall,)) if wall.buildup else ():
                line = shapely.LineString((a, b))
                area = sum(_under(line.intersection(o.polygon), c) for o in warm for c in _ceilings(drawing, outer, layout, o.id))
                found.append(Partition(wall, area))
    return tuple(found)


def _under(line: shapely.Geometry, ceiling: Ceiling) -> float:
    """The area of a wall along a line below a ceiling [m²]; below a slope it is as high as in its middle."""
    pieces = [p for p in shapely.get_parts(shapely.intersection(line, ceiling.polygon)) if p.geom_type == "LineString" and p.length > 0]
    middles = [p.interpolate(0.5, normalized=True) for p in pieces]
    return float(sum(p.length * max(ceiling.height.at(m.x, m.y), 0.0) for p, m in zip(pieces, middles, strict=True)))


def _ceilings(drawing: Drawing, outer: Massing, layout: Layout, outline: str) -> tuple[Ceiling, ...]:
    """What lies above each piece of an outline, measured from its floor."""
    between = {o.id: number(f.plan.floor_thickness) for f in drawing.floors for o in f.plan.outlines}
    found = []
    for cell in outer.cells:
        for n, layer in enumerate(cell.layers):
            if layer.outline == outline:
                above = cell.layers[n + 1] if n + 1 < len(cell.layers) else None
                base = layer.low.c + (
                    layout.thick.get(f"{outline}.floor", 0.0) if not n or cell.layers[n - 1].space != layer.space else 0.0
                )
                found.append(Ceiling(cell.polygon, _clear(layer, above, base, layout, between)))
    return tuple(found)


def _clear(layer: SpaceLayer, above: SpaceLayer | None, floor: float, layout: Layout, between: dict[str, float]) -> RoofPlane:
    """Clear height over the plan: up to the floor above, the ceiling's build-up, or the roof's inner face."""
    top = layer.high
    if layer.made_by != layer.outline:
        top = lowered(top, layout.thick.get(f"{layer.made_by.partition('.')[0]}.roof", 0.0))
    elif above is not None and above.space == layer.space:
        top = level(top.c - between.get(above.outline, 0.0))
    else:
        top = level(top.c - layout.thick.get(f"{layer.outline}.top", 0.0))
    return RoofPlane("clear", top.a, top.b, top.c - floor)
