"""Rooms of a storey tinted by a load: people, what runs in them, the heat that stays; the legend's range and decimals chosen."""

from __future__ import annotations

from collections.abc import Callable

import shapely

from nuthatch.core.air.stages import FLOWS
from nuthatch.core.assess import Assessment
from nuthatch.core.household.stages import electricity_of
from nuthatch.core.plans.reading_plans import points_of, rings_of
from nuthatch.core.plans.room_shapes import label_spot
from nuthatch.core.sketch import Picture, Sketch
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.shape.plan_frame import frame_of
from nuthatch.core.views.shape.tinting import Fill, Legend, Tint, by_number, tint_legend

LOADS = ("electricity", "heat inside", "people")


def _rooms(a: Assessment) -> list[PlanRoom]:
    return [r.room for r in a[FLOWS].rooms]


def _mean_power(a: Assessment, inside: bool) -> dict[str, float]:
    """Mean power of the appliances of each room [W]; of their heat that stays inside where asked for."""
    found: dict[str, float] = {}
    for x in a.home.household.appliances:
        used = electricity_of(x).value if x.energy is not None else None
        if used is None or not x.room:
            continue
        share = x.inside_share.value if inside and x.inside_share is not None else 1.0
        found[x.room] = found.get(x.room, 0.0) + float(used) / 8.76 * share
    return found


def _flux(a: Assessment, inside: bool) -> dict[str, float]:
    powers = _mean_power(a, inside)
    return {r.id: powers.get(r.id, 0.0) / r.area for r in _rooms(a) if r.area > 0}


def _people(a: Assessment) -> dict[str, float]:
    """People of a room as stated, else those of the home shared by the bedrooms."""
    number, rooms = a.figures["people"].value, _rooms(a)
    beds = [r for r in rooms if r.use == "bedroom"]
    stated = {r.id: r.part.people.value for r in rooms if r.part is not None and r.part.people is not None}
    rest = max(float(number) - sum(stated.values()), 0.0) if number is not None else 0.0
    open_beds = [r.id for r in beds if r.id not in stated]
    shared = {i: rest / len(open_beds) for i in open_beds}
    return {r.id: stated.get(r.id, shared.get(r.id, 0.0)) for r in rooms}


_BY: dict[str, tuple[Callable[[Assessment], dict[str, float]], str]] = {
    "electricity": (lambda a: _flux(a, False), "heat_flux"),
    "heat inside": (lambda a: _flux(a, True), "heat_flux"),
    "people": (_people, "count"),
}


def loads(a: Assessment, by: str) -> tuple[dict[str, float], str]:
    """(load of every room by its id, kind of its unit)."""
    make, kind = _BY[by]
    return make(a), kind


def unplaced(a: Assessment) -> int:
    """How many appliances stand in no room."""
    known = {r.id for r in _rooms(a)}
    return sum(1 for x in a.home.household.appliances if x.energy is not None and x.room not in known)


def room_loads(a: Assessment, storey: str = "", tint: Tint | None = None, size: tuple[float, float] = (560.0, 400.0)) -> Sketch:
    """The rooms of a storey, tinted."""
    tint = tint or Tint(LOADS[0], decimals=1)
    made = Sketch(*size, "Loads of rooms")
    if a.home.shape.plans is None or not _rooms(a):
        made.say("rooms are drawn in Shape; then each appliance says in which it stands")
        return made
    values, kind = loads(a, tint.by)
    tinted_rooms(a, made, storey, tint, ({r.id: values.get(r.id, 0.0) for r in _rooms(a)}, kind))
    without = unplaced(a)
    if without and tint.by != "people":
        made.text(4, 14, f"{without} of the list in no room yet: not counted here", size=11, color="chestnut")
    return made


def tinted_rooms(a: Assessment, made: Sketch, storey: str, tint: Tint, values_of: tuple[dict[str, float], str]) -> None:
    """The rooms of a storey of drawn plans, each tinted by its value, of a kind; one without a value is left white with a question mark."""
    values, kind = values_of
    fills, legend = by_number(values, tint, kind)
    words = {i: (show(v, kind, tint.decimals), with_unit(v, kind, tint.decimals)) for i, v in values.items()}
    filled_rooms(a, made, storey, (fills, legend), words)


def filled_rooms(
    a: Assessment, made: Sketch, storey: str, tints: tuple[dict[str, Fill], Legend], words: dict[str, tuple[str, str]]
) -> None:
    """The rooms of a storey with fills and a legend; words: what stands in each room, and what is read of it."""
    plans, rooms, size = a.home.shape.plans, _rooms(a), (made.width, made.height)
    fills, legend = tints
    assert plans is not None
    floor = next((s for s in plans.storeys if s.id == storey), None) or next(
        s for s in plans.storeys if any(r.storey == s.id for r in rooms)
    )
    frame = frame_of(plans, size)
    for outline in floor.outlines:
        for ring in map(points_of, rings_of(outline)):
            if len(ring) > 2:
                made.path([frame.at(p) for p in ring], fill="stone" if outline.kind == "heated" else "", stroke="ink", width=1.0)
    for room in (r for r in rooms if r.storey == floor.id):
        told, amount = words.get(room.id, ("?", "not known yet"))
        shape = [frame.at(p) for p in room.measure.outline]
        fill = fills.get(room.id, ("white", ""))[0]
        made.path(
            shape, fill=fill, pattern=fills.get(room.id, ("", ""))[1], stroke="ink", width=0.9, id=room.id, tip=f"{room.name}: {amount}"
        )
        spot, broad = label_spot(shapely.Polygon(room.measure.outline))
        (x, y), wide = frame.at(spot), broad * frame.scale
        dark = "white" if fill == "slate" else "ink"
        above = (max(p[1] for p in room.measure.outline) - spot[1]) * frame.scale
        made.name(x, y - 2, room.name, (wide - 6, above - 4), 10.5, anchor="middle", color=dark)
        made.text(x, y + 12, told, size=10.5, anchor="middle", bold=True, color=dark)
    tint_legend(made, legend, 4, size[1] - 36)


PICTURES = (Picture("room-loads", "Loads of rooms", lambda a, of: room_loads(a, of)),)
