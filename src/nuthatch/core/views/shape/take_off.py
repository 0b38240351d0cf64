"""The take-off: areas by face, direction, build-up and storey, rooms, volumes, glazing; as a sheet."""

from __future__ import annotations

from collections import defaultdict

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.model.home import Opening
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.views.shape.tinting import direction
from nuthatch.core.views.sheets.sheet import Amount, Column, Sheet, sheet


def amounts(a: Assessment) -> list[tuple[str, str, float, str]]:
    """(of, what, amount in SI, kind of unit)."""
    solid = a[SOLID]
    gross = {f.id: solid.areas.get(f.id, 0.0) for f in solid.boundaries}
    net = {e.id: float(e.area.value) for e in a[ELEMENTS] if e.is_face and e.area is not None and e.area.value is not None}
    found: list[tuple[str, str, float, str]] = []
    for key, name in (
        ("reference_floor_area", "Reference floor area"),
        ("envelope_area", "Envelope"),
        ("inner_envelope_area", "Envelope inside"),
        ("heated_volume", "Heated volume, outside"),
        ("air_volume", "Air volume, inside"),
    ):
        figure = a.figures[key]
        if figure.value is not None:
            found.append(("home", name, float(figure.value), figure.kind))
    shell, volume = a.figures["envelope_area"].value, a.figures["heated_volume"].value
    if shell is not None and volume:
        found.append(("home", "Envelope / volume", float(shell) / float(volume), "factor"))
    found += _sums(a, gross, net)
    found += [("face", f"{f.name}, {f.borders}: gross", gross[f.id], "area") for f in solid.boundaries]
    found += [("face", f"{f.name}: net", net[f.id], "area") for f in solid.boundaries if f.id in net]
    built = a[BUILT]
    for room in built.rooms if built is not None else ():
        found.append(("room", f"{room.name}, {room.storey_name}: floor area", room.area, "area"))
    return found


def _sums(a: Assessment, gross: dict[str, float], net: dict[str, float]) -> list[tuple[str, str, float, str]]:
    solid = a[SOLID]
    names = {b.id: b.name for b in a.home.buildups}
    by: dict[tuple[str, str], float] = defaultdict(float)
    for f in solid.boundaries:
        by["direction", f"faces looking {direction(f)}"] += gross[f.id]
        by["borders on", f.borders] += gross[f.id]
        by["build-up", names.get(f.buildup, "no build-up")] += net.get(f.id, gross[f.id])
    built = a[BUILT]
    for storey in solid.storeys if built is not None else ():
        by["storey", f"{storey.name}: floor area"] += storey.area
    rows = [(of, what, amount, "area") for (of, what), amount in sorted(by.items(), key=lambda r: r[0][0])]
    glazed: dict[str, float] = defaultdict(float)
    walls: dict[str, float] = defaultdict(float)
    faces = {f.id: f for f in solid.boundaries}
    for f in solid.boundaries:
        if f.borders == "outside air" and f.role in ("wall", "roof"):
            walls[direction(f)] += gross[f.id]
    for o in a.home.openings:
        if o.face in faces:
            glazed[direction(faces[o.face])] += _area(o)
    rows += [("glazing", f"openings of faces looking {d}", glazed[d], "area") for d in sorted(glazed)]
    rows += [("glazing", f"share of faces looking {d}", glazed[d] / walls[d], "percent") for d in sorted(glazed) if walls.get(d)]
    return rows


def _area(o: Opening) -> float:
    if o.width is None or o.height is None:
        return 0.0
    return o.width.value * o.height.value * (o.count.value if o.count is not None else 1.0)


def take_off(a: Assessment) -> Sheet:
    """The take-off as a sheet."""
    columns: tuple[Column[tuple[str, str, float, str]], ...] = (
        Column("Of", lambda r: r[0]),
        Column("What", lambda r: r[1]),
        Column("Amount", lambda r: Amount(r[2], r[3])),
    )
    return sheet("take-off", "Take-off", columns, amounts(a))
