"""Rooms as parts of a home: the network of each from its part of the faces, mass, openings and air."""

from __future__ import annotations

from dataclasses import replace

from nuthatch.core.air.flows import Flows
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.patterns import days_named
from nuthatch.core.fabric.elements import Element
from nuthatch.core.model.home import BuildUp
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.results.figure import CannotKnow, Figure, Known, Node
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.room_faces import RoomFaces
from nuthatch.core.year.network import FACES_PER_FLOOR, of_faces
from nuthatch.core.year.of_home import known, walls_of
from nuthatch.core.year.problem import Opaque
from nuthatch.core.year.room_hours import RoomPart


def room_parts(
    rooms: tuple[PlanRoom, ...], climate: Climate, faces: tuple[RoomFaces, ...], elements: tuple[Element, ...], capacity: Figure,
    buildups: tuple[BuildUp, ...], flows: Flows, warm: Node, kinds: tuple[RoomKind, ...], patterns: tuple[DayPattern, ...],
) -> tuple[RoomPart, ...]:  # fmt: skip
    """Raises Missing, or CannotKnow where a room has no mass."""
    held, of = known(warm), {f.room: f for f in faces}
    by_id = {e.id: e for e in elements}
    known(capacity)
    assert isinstance(capacity, Known)
    areas, kappas = ([float(n.value) for n in capacity.inputs[k]] for k in ("areas", "capacities"))
    listed = [e for e in elements if e.boundary is not None and e.category != "openings"]
    kappa = {e.id: 1000 * k for e, k in zip(listed, kappas, strict=False)}
    floor = float(capacity.inputs["floor"].value)
    inner = [(a, 1000 * k) for a, k in zip(areas[len(listed) :], kappas[len(listed) :], strict=True)]
    lump = 1000 * float(capacity.inputs["inner"].value)
    each = {e.id: walls_of((e,), buildups, held, climate) for e in elements if e.category != "openings"}
    outer = {r.id: sum(s * _outside(by_id.get(f)) for f, s in of[r.id].faces) for r in rooms}
    whole_outer, whole_floor = sum(outer.values()), sum(r.area for r in rooms)
    supply = {f.room.id: float(f.normal.value) for f in flows.rooms if f.role == "supply" and f.normal is not None and f.normal.value}
    whole_supply = sum(supply.values())
    counts: dict[str, float] = {}
    for f in faces:
        for ident, n in f.openings:
            counts[ident] = counts.get(ident, 0.0) + n
    found = []
    for r in rooms:
        share_floor = r.area / whole_floor if whole_floor > 0 else 0.0
        leaks = outer[r.id] / whole_outer if whole_outer > 0 else share_floor
        rows = [(s * known(e.area), kappa.get(f, 0.0)) for f, s in of[r.id].faces if (e := by_id.get(f)) is not None and e.area is not None]
        own = tuple((i, n / counts[i]) for i, n in of[r.id].openings)
        holes = sum((s * _area(by_id.get(i)) for i, s in own), 0.0)
        windows = sum(s * known(by_id[i].loss) for i, s in own if i in by_id)
        walls = [replace(w, loss=w.loss * s) for f, s in of[r.id].faces for w in each.get(f, ())]
        walls += [replace(w, loss=w.loss * leaks) for e in elements if e.category == "junctions" for w in each.get(e.id, ())]
        mass = [(a, k) for a, k in rows if k > 0] + [(a * share_floor, k) for a, k in inner if k > 0]
        bare = sum(a for a, k in rows if k <= 0) + sum(a * share_floor for a, k in inner if k <= 0)
        within = max(
            FACES_PER_FLOOR * r.area - sum(a for a, _ in rows) - holes - sum(a * share_floor for a, _ in inner), r.area if lump > 0 else 0.0
        )
        if lump > 0 and within > 0:
            mass.append((within, lump * floor * share_floor / within))
        else:
            bare += within
        opaque = sum(w.loss for w in walls)
        try:
            network = of_faces(mass, bare + holes, windows, opaque)
        except CannotKnow as why:
            raise CannotKnow(f"{r.name}: {why}") from None
        kind = next((k for k in kinds if k.use == r.use), RoomKind(id="usual"))
        own_held = r.part.temperature if r.part is not None else None
        told = own_held if own_held is not None else kind.temperature
        temperature = told.value if told is not None else held
        weight = kind.weight.value if kind.weight is not None else 1.0
        by = next((p for p in patterns if p.id == kind.pattern and days_named(p)), None)
        fresh = supply.get(r.id, 0.0) / whole_supply if whole_supply > 0 else share_floor
        found.append(
            RoomPart(
                r.id,
                r.name,
                r.use,
                r.area,
                network,
                _together(walls),
                own,
                leaks,
                fresh,
                share_floor,
                temperature,
                weight,
                by,
                climate.weather.latitude < 0,
            )
        )
    return tuple(found)


def _area(e: Element | None) -> float:
    return known(e.area) if e is not None and e.area is not None else 0.0


def _outside(e: Element | None) -> float:
    """Area of a face toward outside air [m²]."""
    if e is None or e.boundary is None or e.boundary.beyond.kind != "outside" or e.area is None:
        return 0.0
    return known(e.area)


def _together(walls: list[Opaque]) -> tuple[Opaque, ...]:
    """Parts alike as one; what nets to nothing or less is left to the others."""
    sums: dict[Opaque, float] = {}
    for w in walls:
        kind = replace(w, loss=0.0)
        sums[kind] = sums.get(kind, 0.0) + w.loss
    return tuple(replace(kind, loss=h) for kind, h in sums.items())
