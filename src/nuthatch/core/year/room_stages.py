"""How rooms hang in the graph: what lies before each, heating loads, rooms by the hour, cooling loads on the design day (slow)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, TypedDict, Unpack

from nuthatch.core.air.flows import Flows, RoomFlow
from nuthatch.core.air.stages import DRAWN, FLOWS, INFILTRATION, LOSSES, Losses
from nuthatch.core.air.unit import frost_limit
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, DENSITY, Weathered
from nuthatch.core.energy.stages import ELEMENTS, TO_GROUND
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import CAPACITY
from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.model.home import BuildUp, Opening
from nuthatch.core.model.part import Given
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.plans.reading_plans import Drawing
from nuthatch.core.results.calculation import total
from nuthatch.core.results.figure import CannotKnow, Computing, Entered, Figure, Known, Need, Node, Unknown, because, missing
from nuthatch.core.solid.from_plans import Built
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.room_faces import RoomFaces, room_faces
from nuthatch.core.solid.stages import BUILT, DRAWING, OUTLINES
from nuthatch.core.year import comfort
from nuthatch.core.year import room_loads as calc
from nuthatch.core.year.of_home import Missing
from nuthatch.core.year.of_rooms import room_parts
from nuthatch.core.year.problem import Problem
from nuthatch.core.year.room_hours import RoomPart, RoomYear, rooms_through_the_year
from nuthatch.core.year.stages import PROBLEM

STAGES = Stages()
ROOM_FACES: Slot[tuple[RoomFaces, ...]] = Slot("what of the faces lies before each room")


@dataclass(frozen=True, eq=False)
class RoomLoad:
    """Heating load of a room and its parts [W]; temperature it is held at, floor area [m²], loss to outside [W/K]."""

    room: PlanRoom
    inside: Node
    load: Figure
    parts: tuple[tuple[str, Figure | Node], ...]

    @property
    def flux(self) -> float | None:
        """[W/m²]"""
        return float(self.load.value) / self.room.area if self.load.value is not None and self.room.area > 0 else None


ROOM_PARTS: Slot[tuple[RoomPart, ...] | Unknown | Computing] = Slot("rooms as parts of the home")
NIGHTS: Slot[Any] = Slot("nights of bedrooms")
"""RoomYears of the bedrooms, or why there are none."""
BEDROOM_NIGHTS: Slot[Figure] = Slot("bedrooms too warm by night", {"bedroom_night_share": ""})
ROOM_LOADS: Slot[tuple[RoomLoad, ...]] = Slot("heating loads of rooms")
ROOMS_TOGETHER: Slot[Figure] = Slot("heating loads of rooms together")


@STAGES.stage(ROOM_FACES, built=BUILT, drawing=DRAWING, outlines=OUTLINES, openings=part("openings"))
def faces_of_rooms(
    built: Built | None, drawing: Drawing | None, outlines: Mapping[str, Polygon], openings: tuple[Opening, ...]
) -> tuple[RoomFaces, ...]:
    """Shares of faces and openings by room; none where no rooms are drawn. The highest storey reaches up to its roof."""
    if built is None or drawing is None or not built.rooms:
        return ()
    levels = {f.plan.id: f.level for f in drawing.floors}
    above = {i: min((v for v in levels.values() if v > level + 0.05), default=float("inf")) for i, level in levels.items()}
    return room_faces(built.rooms, {i: (level, above[i]) for i, level in levels.items()}, outlines, openings)


class LoadReads(TypedDict):
    """What the loads of rooms rest on."""

    faces: tuple[RoomFaces, ...]
    elements: tuple[Element, ...]
    ground: tuple[Figure, Figure]
    flows: Flows
    leaks: Figure
    air: Losses
    climate: Weathered
    density: Node
    warm: Node
    kinds: tuple[RoomKind, ...]
    reheat: Given | None
    neighbours: Given | None


@STAGES.stage(
    ROOM_LOADS,
    rooms=DRAWN,
    faces=ROOM_FACES,
    elements=ELEMENTS,
    ground=TO_GROUND,
    flows=FLOWS,
    leaks=INFILTRATION,
    air=LOSSES,
    climate=AT_SITE,
    density=DENSITY,
    warm=field("site.heating_setpoint"),
    kinds=part("room_kinds"),
    reheat=part("site.reheat"),
    neighbours=part("site.neighbours"),
)
def loads_of_rooms(rooms: tuple[PlanRoom, ...], **reads: Unpack[LoadReads]) -> tuple[RoomLoad, ...]:
    """Every drawn room by itself."""
    if not rooms or not reads["faces"]:
        return ()
    home = _Home(rooms, reads)
    return tuple(home.load_of(r) for r in rooms)


@STAGES.stage(ROOMS_TOGETHER, loads=ROOM_LOADS)
def together(loads: tuple[RoomLoad, ...]) -> Figure:
    """Their sum, which is not the home's load: no sun and no gains, reheat, leaks with the wind on one side."""
    return total("Heating loads of rooms together", "power", tuple(r.load for r in loads), "EN 12831-1; without sun and inner gains")


class _Home:
    """What all rooms share."""

    def __init__(self, rooms: tuple[PlanRoom, ...], reads: LoadReads) -> None:
        self.reads, self.rooms = reads, {r.id: r for r in rooms}
        self.of = {f.room: f for f in reads["faces"]}
        self.elements = {e.id: e for e in reads["elements"]}
        climate = reads["climate"]
        label = "winter design, two days"
        self.outside: Node = (
            Entered(label, climate.winter_design, "temperature", "calculated", climate.name)
            if isinstance(climate, Climate)
            else because(label, "temperature", climate)
        )
        self.outer = {r.id: sum(s * a for f, s in self.of[r.id].faces if (a := self._outer_area(f)) > 0) for r in rooms if r.id in self.of}
        self.flow = {f.room.id: f for f in reads["flows"].rooms}
        self.junctions = [e for e in reads["elements"] if e.category == "junctions"]
        self.beside: dict[str, list[tuple[str, float, float]]] = {r.id: [] for r in rooms}
        for f in reads["faces"]:
            for other, area, u in [(o, a, calc.INNER_WALL) for o, a in f.beside] + [(o, a, calc.INNER_FLOOR) for o, a in f.above]:
                self.beside[f.room].append((other, area, u))
                self.beside[other].append((f.room, area, u))

    def _outer_area(self, face: str) -> float:
        e = self.elements.get(face)
        outside = e is not None and e.boundary is not None and e.boundary.beyond.kind == "outside"
        return float(e.area.value) if outside and e is not None and e.area is not None and e.area.value is not None else 0.0

    def inside(self, room: PlanRoom) -> Node:
        own = room.part.temperature if room.part is not None else None
        kind = next((k for k in self.reads["kinds"] if k.use == room.use), None)
        if own is None and kind is not None and kind.temperature is not None:
            held = kind.temperature
            return Entered(
                f"rooms used as {kind.use}, held at", held.value, "temperature", held.basis.value, held.source, kind.id, "temperature"
            )
        if own is None:
            return self.reads["warm"]
        return Entered(f"{room.name}, designed for", own.value, "temperature", own.basis.value, own.source, room.id, "temperature")

    def load_of(self, room: PlanRoom) -> RoomLoad:
        inside = self.inside(room)
        losses = self.losses(room)
        outside = calc.through_outside.figure(f"Through outer parts of {room.name}", loss=losses, inside=inside, outside=self.outside)
        reheat = self.reads["reheat"]
        warm_up = (reheat.value if reheat is not None else 0.0) * room.area
        parts: dict[str, Any] = {
            "outside": outside,
            "ground": self.to_ground(room),
            "beside": self.toward(room, inside),
            "air": self.air(room, inside),
            "reheat": Entered("power to warm up again", warm_up, "power", "declared" if reheat else "rule", "", "site", "reheat"),
        }
        return RoomLoad(room, inside, calc.load_of.figure(f"Heating load of {room.name}", **parts), tuple(parts.items()))

    def losses(self, room: PlanRoom) -> Figure:
        """To outside and unheated spaces [W/K]: its part of each face, its openings, junctions by its outer faces."""
        rows: list[Node] = []
        for face, share in self.of[room.id].faces:
            e = self.elements.get(face)
            if e is None or e.boundary is None or e.periodic is not None or e.boundary.beyond.kind == "neighbour":
                continue
            rows.append(_part_of(e.name, e.loss, share))
        for ident, number in self.of[room.id].openings:
            e = self.elements.get(ident)
            whole = sum(n for f in self.of.values() for o, n in f.openings if o == ident)
            if e is not None and whole > 0:
                rows.append(_part_of(e.name, e.loss, number / whole))
        whole = sum(self.outer.values())
        if self.junctions and whole > 0 and self.outer.get(room.id, 0.0) > 0:
            share = self.outer[room.id] / whole
            rows += [_part_of(f"{e.name}, by outer faces", e.loss, share) for e in self.junctions]
        return total(f"Loss of {room.name} to outside", "w_per_k", tuple(rows), "its parts of faces, openings and junctions")

    def to_ground(self, room: PlanRoom) -> Node:
        """Its part of the largest monthly flow, by area on the ground."""
        flow = self.reads["ground"][1]
        faces = {
            e.id: float(e.area.value) for e in self.reads["elements"] if e.periodic is not None and e.area is not None and e.area.value
        }
        whole = sum(faces.values())
        own = sum(s * faces[f] for f, s in self.of[room.id].faces if f in faces)
        if whole <= 0 or own <= 0:
            return Entered("nothing of it lies on the ground", 0.0, "power", "rule")
        return _part_of("largest flow to the ground, by area", flow, own / whole, "power")

    def toward(self, room: PlanRoom, inside: Node) -> Figure:
        """Rooms designed for another temperature, and neighbours."""
        losses: list[Node] = []
        others: list[Node] = []
        for other, area, u in self.beside[room.id]:
            there = self.inside(self.rooms[other])
            if there.value is not None and inside.value is not None and abs(float(there.value) - float(inside.value)) > 1e-9:
                losses.append(
                    Entered(f"toward {self.rooms[other].name}", area * u, "w_per_k", "assumed", f"U {u:g} W/(m²·K), common practice")
                )
                others.append(there)
        cold = self.reads["neighbours"]
        at = Entered(
            "neighbours kept at",
            cold.value if cold else calc.NEIGHBOUR,
            "temperature",
            cold.basis.value if cold else "assumed",
            "",
            "site",
            "neighbours",
        )
        for face, share in self.of[room.id].faces:
            e = self.elements.get(face)
            if e is None or e.boundary is None or e.boundary.beyond.kind != "neighbour" or e.u is None or e.area is None:
                continue
            if e.u.value is not None and e.area.value is not None:
                h = share * float(e.u.value) * float(e.area.value)
                losses.append(Entered(f"toward the neighbour through {e.name}", h, "w_per_k", "calculated"))
                others.append(at)
        return calc.toward_rooms.figure(f"Toward rooms beside {room.name}", losses=tuple(losses), inside=inside, others=tuple(others))

    def air(self, room: PlanRoom, inside: Node) -> Figure:
        """With a unit what it brings, what passes from other rooms, and leaks; without one the larger of leaks and the least that is healthy."""
        r = self.reads
        rate, volume = r["leaks"], r["flows"].volume
        if isinstance(rate, Unknown | Computing) or isinstance(volume, Unknown | Computing):
            gap = rate if isinstance(rate, Unknown | Computing) else volume
            return because(f"Load of the air in {room.name}", "power", gap)  # type: ignore[arg-type]
        home = Entered("infiltration of the home", float(rate.value) * float(volume.value), "flow", "calculated")
        leaks: Node = calc.leaks_of.figure(
            f"Leaks of {room.name}",
            home=home,
            area=Entered("its outer faces", self.outer.get(room.id, 0.0), "area", "calculated"),
            whole=Entered("all outer faces", max(sum(self.outer.values()), 1e-9), "area", "calculated"),
        )
        none = Entered("no other air", 0.0, "flow", "rule")
        brought: Node = none
        passed: Node = none
        supplied: Node = self.outside
        flow = self.flow.get(room.id)
        if r["flows"].units:
            brought, passed, supplied = self._by_unit(flow, none)
        elif room.use in ("living", "bedroom"):
            least = calc.LEAST_AIR * room.measure.volume
            if leaks.value is not None and least > float(leaks.value):
                leaks = Entered(f"{calc.LEAST_AIR:g} 1/h of its air", least, "flow", "rule", "EN 12831-1, annex B, from memory")
        return calc.of_the_air.figure(
            f"Load of the air in {room.name}", density=r["density"], leaks=leaks, brought=brought, passed=passed, inside=inside,
            outside=self.outside, supplied=supplied, other=r["warm"],
        )  # fmt: skip

    def _by_unit(self, flow: RoomFlow | None, none: Node) -> tuple[Node, Node, Node]:
        """(air brought, air passed from other rooms, temperature of what is brought)."""
        if flow is None or flow.normal is None:
            return none, none, self.outside
        if flow.way == "inlets":
            return flow.normal, none, self.outside
        if flow.role != "supply":
            return none, flow.normal, self.outside
        limits = [n for u in self.reads["flows"].units if (n := frost_limit(u.unit)) is not None]
        entering: Node = self.outside
        if limits and limits[0].value is not None and self.outside.value is not None and float(limits[0].value) > float(self.outside.value):
            entering = limits[0]
        return flow.normal, none, calc.supplied.figure(entering=entering, recovery=self.reads["air"].recovery)


class PartReads(TypedDict):
    """What parts of a home rooms are rests on."""

    faces: tuple[RoomFaces, ...]
    elements: tuple[Element, ...]
    capacity: Figure
    buildups: tuple[BuildUp, ...]
    flows: Flows
    warm: Node
    kinds: tuple[RoomKind, ...]
    patterns: tuple[DayPattern, ...]


@STAGES.stage(
    ROOM_PARTS,
    rooms=DRAWN,
    faces=ROOM_FACES,
    elements=ELEMENTS,
    capacity=CAPACITY,
    buildups=part("buildups"),
    climate=AT_SITE,
    flows=FLOWS,
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
        return room_parts(rooms, climate, **reads)
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


def _part_of(name: str, whole: Figure, share: float, kind: str = "w_per_k") -> Node:
    """A share of a result as a leaf of a working."""
    if not isinstance(whole, Known):
        return because(name, kind, whole)
    said = name if share > 0.9995 else f"{name}, {100 * share:.0f} % of it"
    return Entered(said, float(whole.value) * share, kind, "calculated")
