"""The heating load of each room from the results of its home: what lies before it, beside it, what air it has."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypedDict

from nuthatch.core.air.flows import Flows, RoomFlow
from nuthatch.core.air.stages import Losses
from nuthatch.core.air.unit import frost_limit
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import Weathered
from nuthatch.core.fabric.elements import Element
from nuthatch.core.model.part import Given
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.results.calculation import total
from nuthatch.core.results.figure import Computing, Entered, Figure, Known, Node, Unknown, because
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.room_faces import RoomFaces
from nuthatch.core.year import room_loads as calc


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


class LoadedHome:
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
        own = next(u for u in self.reads["air"].units if u.unit.id == flow.unit)
        limit, entering = frost_limit(own.unit), self.outside
        if limit is not None and limit.value is not None and entering.value is not None and float(limit.value) > float(entering.value):
            entering = limit
        return flow.normal, none, calc.supplied.figure(entering=entering, recovery=own.recovery)


def _part_of(name: str, whole: Figure, share: float, kind: str = "w_per_k") -> Node:
    """A share of a result as a leaf of a working."""
    if not isinstance(whole, Known):
        return because(name, kind, whole)
    said = name if share > 0.9995 else f"{name}, {100 * share:.0f} % of it"
    return Entered(said, float(whole.value) * share, kind, "calculated")
