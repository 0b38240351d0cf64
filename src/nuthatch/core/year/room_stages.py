"""How rooms hang in the graph: what lies before each, heating loads, rooms by the hour, cooling loads on the design day (slow)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Unpack

from nuthatch.core.air.flows import Flows
from nuthatch.core.air.stages import DRAWN, FLOWS, LOSSES, Losses
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, Weathered
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.stages import CAPACITY
from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.model.home import Opening
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.plans.reading_plans import Drawing
from nuthatch.core.results.figure import CannotKnow, Computing, Entered, Figure, Need, Unknown, because, missing
from nuthatch.core.solid.built_stages import BUILT, DRAWING
from nuthatch.core.solid.from_plans import Built
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.room_faces import Behind, RoomFaces, behind, room_faces
from nuthatch.core.solid.stages import OUTLINES
from nuthatch.core.year import comfort
from nuthatch.core.year.of_home import Missing, free_loss, known
from nuthatch.core.year.of_rooms import PartReads, room_parts
from nuthatch.core.year.problem import Problem
from nuthatch.core.year.room_hours import RoomPart, RoomYear, rooms_through_the_year
from nuthatch.core.year.stages import PROBLEM

STAGES = Stages()
BEHIND: Slot[Behind | None] = Slot("rooms behind faces")
ROOM_FACES: Slot[tuple[RoomFaces, ...]] = Slot("what of the faces lies before each room")


ROOM_PARTS: Slot[tuple[RoomPart, ...] | Unknown | Computing] = Slot("rooms as parts of the home")
NIGHTS: Slot[Any] = Slot("nights of bedrooms")
"""RoomYears of the bedrooms, or why there are none."""
BEDROOM_NIGHTS: Slot[Figure] = Slot("bedrooms too warm by night", {"bedroom_night_share": ""})
SUPPLY: Slot[tuple[tuple[str, float, float], ...]] = Slot("air brought to rooms")


@STAGES.stage(BEHIND, built=BUILT, drawing=DRAWING, outlines=OUTLINES)
def rooms_behind(built: Built | None, drawing: Drawing | None, outlines: Mapping[str, Polygon]) -> Behind | None:
    """Shares of faces by room, rooms beside and above; None where no rooms are drawn. The highest storey reaches up to its roof."""
    if built is None or drawing is None or not built.rooms:
        return None
    levels = {f.plan.id: f.level for f in drawing.floors}
    above = {i: min((v for v in levels.values() if v > level + 0.05), default=float("inf")) for i, level in levels.items()}
    return behind(built.rooms, {i: (level, above[i]) for i, level in levels.items()}, outlines)


@STAGES.stage(ROOM_FACES, rooms=BEHIND, outlines=OUTLINES, openings=part("openings"))
def faces_of_rooms(rooms: Behind | None, outlines: Mapping[str, Polygon], openings: tuple[Opening, ...]) -> tuple[RoomFaces, ...]:
    """What lies before each room; none where no rooms are drawn."""
    return room_faces(rooms, outlines, openings) if rooms is not None else ()


@STAGES.stage(SUPPLY, flows=FLOWS, air=LOSSES)
def supply_of_rooms(flows: Flows, air: Losses) -> tuple[tuple[str, float, float], ...]:
    """(room, its share of what the air of all units loses, and of that with every bypass open) as plain values: other leaks change no room. Each
    unit's loss goes to the rooms it brings air to, by their flows at normal operation; that of a unit which serves none is nobody's."""
    try:
        own = {u.unit.id: (known(u.loss), free_loss(u)) for u in air.units}
    except Missing:
        return ()
    shut, free = (float(sum(rows)) or 1.0 for rows in zip(*own.values(), strict=True)) if own else (1.0, 1.0)
    served = [
        (f.unit, f.room.id, float(f.normal.value)) for f in flows.rooms if f.role == "supply" and f.normal is not None and f.normal.value
    ]
    brought = {unit: sum(flow for u, _, flow in served if u == unit) for unit in own}
    found = [(room, flow / brought[u] * own[u][0] / shut, flow / brought[u] * own[u][1] / free) for u, room, flow in served if u in own]
    return tuple(found)


@STAGES.stage(
    ROOM_PARTS,
    rooms=DRAWN,
    faces=ROOM_FACES,
    elements=ELEMENTS,
    capacity=CAPACITY,
    buildups=part("buildups"),
    climate=AT_SITE,
    supply=SUPPLY,
    warm=field("site.heating_setpoint"),
    kinds=part("room_kinds"),
    patterns=part("patterns"),
)
def parts_of_rooms(
    rooms: tuple[PlanRoom, ...], climate: Weathered, **reads: Unpack[PartReads]
) -> tuple[RoomPart, ...] | Unknown | Computing:
    """Each room with its part of what acts on the home; none where no rooms are drawn."""
    if not rooms or not reads["faces"]:
        return ()
    if not isinstance(climate, Climate):
        return climate
    try:
        return room_parts(rooms, climate, reads)
    except Missing as missing:
        return missing.why
    except CannotKnow as why:
        return Unknown("rooms by the hour", "text", (Need(str(why), "home", "buildups"),))


def _waiting(since: float) -> Computing:
    return Computing("Bedrooms too warm, of the nights", "percent", since, "the nights of the bedrooms")


def _no_bedrooms(problem: object, parts: object, by_hand: str, nights: bool) -> bool:
    return not isinstance(problem, Problem) or not isinstance(parts, tuple) or not any(r.use == "bedroom" for r in parts)


@STAGES.slow(
    NIGHTS,
    _waiting,
    at_hand=_no_bedrooms,
    prompt=True,
    problem=PROBLEM,
    parts=ROOM_PARTS,
    by_hand=part("household.by_hand"),
    nights=part("household.night_windows"),
)
def nights_of_bedrooms(
    problem: Problem | Unknown | Computing, parts: tuple[RoomPart, ...] | Unknown | Computing, by_hand: str, nights: bool
) -> tuple[RoomYear, ...] | Unknown | Computing:
    """The year of each bedroom."""
    if not isinstance(problem, Problem):
        return problem
    if not isinstance(parts, tuple):
        return parts
    return rooms_through_the_year(problem, parts, by_hand == "counted", nights, frozenset({"bedroom"}))


@STAGES.stage(BEDROOM_NIGHTS, nights=NIGHTS, rooms=DRAWN)
def bedroom_nights(nights: tuple[RoomYear, ...] | Unknown | Computing, rooms: tuple[PlanRoom, ...]) -> Figure:
    """Of the worst of them."""
    label = "Bedrooms too warm, of the nights"
    if not isinstance(nights, tuple):
        return because(label, "percent", nights)
    if not nights:
        return missing(label, "percent", "bedrooms drawn in the plans", "plans", "storeys")
    names = {r.id: r.name for r in rooms}
    felt = tuple(
        Entered(
            f"operative temperature in {names.get(n.id, n.id)} by hour", n.operative, "temperature", "calculated", "ISO 13790:2008, annex C"
        )
        for n in nights
    )
    limit = Entered("too warm above", comfort.BEDROOM_LIMIT, "temperature", "rule", "common practice")
    return comfort.bedroom_nights.figure(operative=felt, limit=limit)
