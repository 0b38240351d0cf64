"""Rooms: heating loads beside the home's, cooling loads, how warm they grow; as a sheet, and on the plan."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from nuthatch.core.air.stages import DRAWN, FLOWS, INFILTRATION, LOSSES
from nuthatch.core.assess import Assessment
from nuthatch.core.climate.stages import AT_SITE, DENSITY
from nuthatch.core.energy.balance import LOAD_GAINS
from nuthatch.core.energy.stages import COEFFICIENTS, ELEMENTS, LOAD, TO_GROUND
from nuthatch.core.graph.alive import while_alive
from nuthatch.core.results.calculation import total
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Figure, Known, Node, Unknown
from nuthatch.core.sketch import Picture, Sketch
from nuthatch.core.solid.stages import REFERENCE
from nuthatch.core.sun.let_in import Falls
from nuthatch.core.sun.stages import FALLS
from nuthatch.core.units import with_unit
from nuthatch.core.views.room_loads import filled_rooms, tinted_rooms
from nuthatch.core.views.shape.tinting import Tint, by_group
from nuthatch.core.views.sheets.sheet import Column, Sheet, sheet
from nuthatch.core.year.load_of_rooms import LoadedHome, RoomLoad
from nuthatch.core.year.problem import Problem
from nuthatch.core.year.room_hours import RoomsByHour, home_peak, rooms_by_hour
from nuthatch.core.year.room_stages import ROOM_FACES, ROOM_PARTS
from nuthatch.core.year.stages import PROBLEM

BY_HOUR = ("cooling load", "too warm", "bedrooms by night", "temperature")
TINTS = ("heating load by area", "heating load", *BY_HOUR, "used as")
KINDS = {"heating load by area": "heat_flux", "heating load": "power", "cooling load": "power", "too warm": "percent", "bedrooms by night": "percent", "temperature": "temperature"}  # fmt: skip


@while_alive
def loads_of(a: Assessment) -> tuple[RoomLoad, ...]:
    """Heating loads of all drawn rooms: worked out when somebody looks, so that a keystroke elsewhere does not wait for them."""
    rooms, faces, site = a[DRAWN], a[ROOM_FACES], a.home.site
    if not rooms or not faces:
        return ()
    home = LoadedHome(rooms, {
        "faces": faces, "elements": a[ELEMENTS], "ground": a[TO_GROUND], "flows": a[FLOWS], "leaks": a[INFILTRATION], "air": a[LOSSES],
        "climate": a[AT_SITE], "density": a[DENSITY], "warm": need(site, "heating_setpoint"), "kinds": a.home.room_kinds,
        "reheat": site.reheat, "neighbours": site.neighbours,
    })  # fmt: skip
    return tuple(home.load_of(r) for r in rooms)


def together(a: Assessment) -> Figure:
    """Their sum, which is not the home's load: no sun and no gains, reheat, leaks with the wind on one side."""
    parts = tuple(r.load for r in loads_of(a))
    return total("Heating loads of rooms together", "power", parts, "EN 12831-1; without sun and inner gains")


def asked_by_hour(a: Assessment) -> dict[str, Any] | None:
    """What rooms by the hour rest on, for whoever works them out elsewhere; None where something is missing."""
    problem, parts, climate = a[PROBLEM], a[ROOM_PARTS], a.site_climate
    if not isinstance(problem, Problem) or not isinstance(parts, tuple) or not parts or climate is None:
        return None
    falls: Mapping[str, Falls] = {i: f for i, f in a.all_of(FALLS).items() if isinstance(f, Falls)}
    household = a.home.household
    return {
        "problem": problem, "rooms": parts, "falls": falls, "climate": climate, "counted": household.by_hand == "counted",
        "nights": household.night_windows,
    }  # fmt: skip


def worked_out(a: Assessment) -> RoomsByHour | None:
    """Rooms by the hour, here and now."""
    asked = asked_by_hour(a)
    return rooms_by_hour(**asked) if asked is not None else None


def rooms_sheet(a: Assessment, hours: RoomsByHour | None = None) -> Sheet:
    """Every drawn room: its loads, how warm it grows."""
    years = {y.id: y for y in hours.years} if hours is not None else {}
    cool = {c.id: c for c in hours.cooling} if hours is not None else {}
    rows: tuple[RoomLoad, ...] = loads_of(a)
    columns: list[Column[RoomLoad]] = [
        Column("Room", lambda r: r.room.name),
        Column("Storey", lambda r: r.room.storey_name),
        Column("Held at", lambda r: r.inside.value, "temperature"),
        Column("Floor area", lambda r: r.room.area, "area"),
        Column("Heating load", lambda r: r.load.value, "power"),
        Column("By area", lambda r: r.flux, "heat_flux"),
    ]
    if hours is not None:
        columns += [
            Column("Cooling load", lambda r: cool[r.room.id].peak if r.room.id in cool else None, "power"),
            Column("At hour", lambda r: f"{cool[r.room.id].hour}\u00a0h" if r.room.id in cool and cool[r.room.id].peak > 0.5 else ""),
            Column("Too warm", lambda r: years[r.room.id].share if r.room.id in years else None, "percent"),
            Column("Nights", lambda r: years[r.room.id].nights if r.room.id in years and r.room.use == "bedroom" else None, "percent"),
            Column("Warmest", lambda r: years[r.room.id].warmest if r.room.id in years else None, "temperature"),
        ]  # fmt: skip
    made = sheet("rooms-loads", "Loads of rooms", columns, rows, "rooms are drawn in Shape")
    ids = tuple(r.room.id for r in rows)
    return Sheet(made.key, made.title, made.heads, made.rows, ids, made.empty)


def parts_sheet(a: Assessment) -> Sheet:
    """What each heating load is made of, for whoever sizes emitters and ducts."""
    names = ("outside", "ground", "beside", "air", "reheat")
    heads = ("Through outer parts", "To the ground", "Toward rooms beside", "Air", "To warm up again")
    columns: list[Column[RoomLoad]] = [Column("Room", lambda r: r.room.name), Column("Storey", lambda r: r.room.storey_name)]
    columns += [Column(h, lambda r, n=n: dict(r.parts)[n].value, "power") for h, n in zip(heads, names, strict=True)]  # type: ignore[misc]
    columns.append(Column("Heating load", lambda r: r.load.value, "power"))
    rows: tuple[RoomLoad, ...] = loads_of(a)
    return sheet("rooms-parts", "Heating loads in parts", columns, rows, "rooms are drawn in Shape")


def apart(a: Assessment) -> list[tuple[str, float]]:
    """What parts the sum of the rooms from the home's own load [W], named; empty where one is not known."""
    whole, load, h = together(a).value, a[LOAD], a[COEFFICIENTS]
    area, inside = a[REFERENCE].value, a.home.site.heating_setpoint
    rooms = loads_of(a)
    if whole is None or load.load.value is None or not rooms or inside is None or load.temperature is None or load.sun is None:
        return []
    if h.ventilation.value is None or area is None or load.sun.value is None:
        return []
    colder = inside.value - _watts(load.temperature)
    sums = {n: sum(_watts(dict(r.parts)[n]) for r in rooms) for n in ("beside", "air", "reheat")}
    rows = [
        ("inner gains that the home’s load takes off", LOAD_GAINS * float(area)),
        ("sun of those days", float(load.sun.value)),
        ("neighbours, and rooms at another temperature", sums["beside"]),
        ("air: wind on one side, supply as the unit brings it", sums["air"] - float(h.ventilation.value) * colder),
        ("power to warm up again", sums["reheat"]),
    ]
    rest = float(whole) - float(load.load.value) * float(area) - sum(v for _, v in rows)
    rows.append(("other days, other set-points, loads below 0", rest))
    return [(n, v) for n, v in rows if abs(v) >= 0.5]


def _watts(node: Node) -> float:
    return float(node.value) if node.value is not None else 0.0


def told(a: Assessment, hours: RoomsByHour | None = None) -> str:
    """The sums in words."""
    whole, load, area = together(a), a[LOAD].load, a[REFERENCE]
    if not loads_of(a):
        return ""
    if not isinstance(whole, Known):
        return f"needs {whole.needs[0].text}" if isinstance(whole, Unknown) else a.blank
    said = f"Rooms together {with_unit(whole.value, 'power')}"
    if load.value is not None and area.value is not None:
        said += f", the home {with_unit(float(load.value) * float(area.value), 'power')}"
    if hours is not None and hours.cooling:
        peak, hour = home_peak(hours.cooling)
        own = sum(c.peak for c in hours.cooling)
        said += f" · cooling at most {with_unit(peak, 'power')} from {hour} to {hour + 1} h; the rooms’ own peaks {with_unit(own, 'power')}"
    return said


def apart_told(a: Assessment) -> str:
    """What parts the rooms' sum from the home's load, in words."""
    return ", ".join(f"{n} {with_unit(v, 'power')}" for n, v in apart(a))


def values_of(a: Assessment, hours: RoomsByHour | None, by: str, hour: int) -> tuple[dict[str, float], str]:
    """(value of every room it is known of, kind of its unit); none of a tint that is no number."""
    if by not in KINDS:
        return {}, "count"
    if by == "heating load":
        return {r.room.id: float(r.load.value) for r in loads_of(a) if r.load.value is not None}, KINDS[by]
    if by == "heating load by area":
        return {r.room.id: r.flux for r in loads_of(a) if r.flux is not None}, KINDS[by]
    if hours is None:
        return {}, KINDS[by]
    if by == "cooling load":
        return {c.id: c.peak for c in hours.cooling}, KINDS[by]
    if by == "temperature":
        return {y.id: float(y.operative[hour]) for y in hours.years}, KINDS[by]
    if by == "too warm":
        return {y.id: y.share for y in hours.years}, KINDS[by]
    beds = {r.room.id for r in loads_of(a) if r.room.use == "bedroom"}
    return {y.id: y.nights for y in hours.years if y.id in beds}, KINDS[by]


def rooms_drawn(
    a: Assessment,
    hours: RoomsByHour | None,
    storey: str = "",
    tint: Tint | None = None,
    size: tuple[float, float] = (560.0, 400.0),
    hour: int = 0,
) -> Sketch:
    """The rooms of a storey, tinted by a load or by how warm they are."""
    tint = tint or Tint(TINTS[0], decimals=1)
    made = Sketch(*size, f"Rooms: {tint.by}")
    if a.home.shape.plans is None or not loads_of(a):
        made.say("rooms are drawn in Shape; then each has its loads")
        return made
    if tint.by == "used as":
        uses = {r.room.id: r.room.use for r in loads_of(a) if r.room.use != "other"}
        filled_rooms(a, made, storey, by_group(uses), {i: (use, f"used as {use}") for i, use in uses.items()})
        return made
    values, kind = values_of(a, hours, tint.by, hour)
    tinted_rooms(a, made, storey, tint, (values, kind))
    return made


PICTURES = (Picture("rooms-loads", "Heating loads of rooms", lambda a, of: rooms_drawn(a, None, of)),)
