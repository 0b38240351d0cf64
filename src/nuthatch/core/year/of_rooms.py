"""Rooms as parts of a home: the network of each from its part of the faces, mass, openings and air."""

from __future__ import annotations

from dataclasses import replace
from typing import TypedDict

from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.patterns import days_named
from nuthatch.core.fabric.elements import Element
from nuthatch.core.model.home import BuildUp
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.results.figure import CannotKnow, Figure, Known, Node
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.room_faces import RoomFaces
from nuthatch.core.year.network import FACES_PER_FLOOR, Network, of_faces
from nuthatch.core.year.of_home import known, walls_of
from nuthatch.core.year.problem import Opaque, put_together
from nuthatch.core.year.room_hours import RoomPart


class PartReads(TypedDict):
    """What parts of a home rooms are rests on."""

    faces: tuple[RoomFaces, ...]
    elements: tuple[Element, ...]
    capacity: Figure
    buildups: tuple[BuildUp, ...]
    supply: tuple[tuple[str, float, float], ...]
    warm: Node
    kinds: tuple[RoomKind, ...]
    patterns: tuple[DayPattern, ...]


def room_parts(rooms: tuple[PlanRoom, ...], climate: Climate, reads: PartReads) -> tuple[RoomPart, ...]:
    """Raises Missing, or CannotKnow where a room has no mass."""
    home = _Parted(rooms, climate, reads)
    return tuple(home.part_of(r) for r in rooms)


class _Parted:
    """What all rooms share."""

    def __init__(self, rooms: tuple[PlanRoom, ...], climate: Climate, reads: PartReads) -> None:
        self.reads, self.held, self.of = reads, known(reads["warm"]), {f.room: f for f in reads["faces"]}
        self.southern = climate.weather.latitude < 0
        elements, capacity = reads["elements"], reads["capacity"]
        self.by_id = {e.id: e for e in elements}
        known(capacity)
        assert isinstance(capacity, Known)
        areas, kappas = ([float(n.value) for n in capacity.inputs[k]] for k in ("areas", "capacities"))
        listed = [e for e in elements if e.boundary is not None and e.category != "openings"]
        self.kappa = {e.id: 1000 * k for e, k in zip(listed, kappas, strict=False)}
        self.inner = [(a, 1000 * k) for a, k in zip(areas[len(listed) :], kappas[len(listed) :], strict=True)]
        self.lump = 1000 * float(capacity.inputs["inner"].value) * float(capacity.inputs["floor"].value)
        self.walls = {e.id: walls_of((e,), reads["buildups"], self.held, climate) for e in elements if e.category != "openings"}
        self.junctions = [w for e in elements if e.category == "junctions" for w in self.walls[e.id]]
        self.outer = {r.id: sum(s * _outside(self.by_id.get(f)) for f, s in self.of[r.id].faces) for r in rooms}
        self.floor = sum(r.area for r in rooms)
        self.supply = {room: (shut, free) for room, shut, free in reads["supply"]}
        self.unserved = [1 - sum(shares[k] for shares in self.supply.values()) for k in (0, 1)]
        self.counts: dict[str, float] = {}
        for f in reads["faces"]:
            for ident, n in f.openings:
                self.counts[ident] = self.counts.get(ident, 0.0) + n

    def part_of(self, r: PlanRoom) -> RoomPart:
        floor = r.area / self.floor if self.floor > 0 else 0.0
        whole = sum(self.outer.values())
        leaks = self.outer[r.id] / whole if whole > 0 else floor
        fresh, free = (own + rest * floor for own, rest in zip(self.supply.get(r.id, (0.0, 0.0)), self.unserved, strict=True))
        own = tuple((i, n / self.counts[i]) for i, n in self.of[r.id].openings)
        walls = [replace(w, loss=w.loss * s) for f, s in self.of[r.id].faces for w in self.walls.get(f, ())]
        walls += [replace(w, loss=w.loss * leaks) for w in self.junctions]
        kind = next((k for k in self.reads["kinds"] if k.use == r.use), RoomKind(id="usual"))
        own_held = r.part.temperature if r.part is not None else None
        told = own_held if own_held is not None else kind.temperature
        return RoomPart(
            r.id, r.name, r.use, r.area, self._network(r, floor, own, sum(w.loss for w in walls)), _together(walls), own, leaks, fresh, free, floor,
            told.value if told is not None else self.held,
            kind.weight.value if kind.weight is not None else 1.0,
            next((p for p in self.reads["patterns"] if p.id == kind.pattern and days_named(p)), None),
            self.southern,
        )  # fmt: skip

    def _network(self, r: PlanRoom, floor: float, openings: tuple[tuple[str, float], ...], opaque: float) -> Network:
        """Its faces, its part of the inner mass by floor area, its openings."""
        faces = [(f, s) for f, s in self.of[r.id].faces if f in self.by_id]
        rows = [(s * _area(self.by_id[f]), self.kappa.get(f, 0.0)) for f, s in faces]
        rows += [(a * floor, k) for a, k in self.inner]
        holes = sum((s * _area(self.by_id.get(i)) for i, s in openings), 0.0)
        windows = sum(s * known(self.by_id[i].loss) for i, s in openings if i in self.by_id)
        mass, bare = [(a, k) for a, k in rows if k > 0], sum(a for a, k in rows if k <= 0)
        within = max(FACES_PER_FLOOR * r.area - sum(a for a, _ in rows) - holes, r.area if self.lump > 0 else 0.0)
        if self.lump > 0 and within > 0:
            mass.append((within, self.lump * floor / within))
        else:
            bare += within
        try:
            return of_faces(mass, bare + holes, windows, opaque)
        except CannotKnow as why:
            raise CannotKnow(f"{r.name}: {why}") from None


def _area(e: Element | None) -> float:
    return known(e.area) if e is not None and e.area is not None else 0.0


def _outside(e: Element | None) -> float:
    """Area of a face toward outside air [m²]."""
    if e is None or e.boundary is None or e.boundary.beyond.kind != "outside" or e.area is None:
        return 0.0
    return known(e.area)


def _together(walls: list[Opaque]) -> tuple[Opaque, ...]:
    """Parts alike as one."""
    found: dict[object, Opaque] = {}
    for w in walls:
        put_together(found, w)
    return tuple(found.values())
