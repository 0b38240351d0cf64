"""Sheets of parts from the parts' own descriptions: every field that holds something other than usual, in their order. The value that
counts stands in its column; what was typed where another counts stands beside it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from nuthatch.core.airtest.stages import N50
from nuthatch.core.assess import Assessment
from nuthatch.core.fabric.glass import glass_u
from nuthatch.core.model.air_test import LoggedReading, TestReading
from nuthatch.core.model.home import Air, Home, OpeningType, find, walk_parts
from nuthatch.core.model.hot_water import PipeCorner
from nuthatch.core.model.part import FieldSpec, Given, Part, specs
from nuthatch.core.model.plans import GroundSpot, Side, Spot
from nuthatch.core.questions import name_of
from nuthatch.core.results.figure import Known
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.steps import STEPS, step_of
from nuthatch.core.views.sheets.sheet import Cell, Column, Sheet, sheet

LEFT_OUT: dict[type[Part], str] = {
    Side: "the corners of outlines are what the plans show, to scale",
    Spot: "points of drawings are what the plans show, to scale",
    GroundSpot: "the heights of the ground are what sections and elevations show, to scale",
    PipeCorner: "the ways of pipes are what their plans show, to scale",
    TestReading: "the readings of an air test stand in its own report, each with its pressure and flow",
    LoggedReading: "the readings of an air test stand in its own report, each with its pressure and flow",
}
"""Parts whose values stand in no sheet, and why."""
TITLES = {
    "ClimateRef": "Weather file",
    "QuickForm": "Quick form",
    "HotWater": "Hot water",
    "PipeRun": "Pipes of hot water",
    "Store": "Stores",
    "WaterMonth": "Months of hot water",
    "DayPattern": "Day patterns",
    "PatternDay": "Days of patterns",
    "HourChart": "Charts of the hours",
    "RoomKind": "Kinds of rooms",
    "FurtherCarrier": "Further carriers of sources",
    "OwnPower": "Own electricity",
    "OpeningType": "Opening types",
    "BuildUp": "Build-ups",
    "HeatSource": "Heat sources",
    "Carrier": "Energy carriers",
    "EvidenceFile": "Attached files",
    "StoreyPlan": "Storeys",
    "RoofPlan": "Roofs",
    "Hole": "Courts",
    "Plans": "Storey plans",
    "InnerWall": "Inner walls",
    "BackingSheet": "Backing sheets",
    "VentilationUnit": "Ventilation units",
    "OperatingHours": "Hours of units",
    "AirTest": "Air tests",
    "FanRing": "Rings of fans",
    "PressureGauge": "Pressure gauges",
    "ZonePressure": "Pressures of zones",
    "Preparation": "Preparation of air tests",
    "Pin": "Pinned drawings and charts",
    "Household": "Household",
    "Appliance": "Appliances",
    "DossierPlan": "Dossier",
    "Chapter": "Chapters of the dossier",
    "Issued": "Revisions issued",
    "Brief": "Brief",
    "Room": "Rooms as drawn",
    "Site": "Site",
    "Air": "Air",
    "Shape": "Shape",
    "Home": "Home",
}


def counts_instead(part: Part, field: str) -> bool:
    """Whether another value may count in the place of one typed into a field."""
    return (isinstance(part, OpeningType) and field == "glass_u") or (isinstance(part, Air) and field == "n50")


def counting(a: Assessment, part: Part, field: str) -> Known | None:
    """The value that counts in the place of a typed one; None where the typed one does."""
    if isinstance(part, OpeningType) and field == "glass_u" and part.glass_from == "panes and gaps":
        found = glass_u(part)
        return found if isinstance(found, Known) else None
    if isinstance(part, Air) and field == "n50" and part.test:
        tested = a[N50]
        return tested if isinstance(tested, Known) else None
    return None


def part_sheet(
    a: Assessment, key: str, title: str, parts: Sequence[Part], more: Sequence[Column[object]] = (), empty: str = "none yet"
) -> Sheet:
    """A list of parts with every field that any of them holds, and further columns."""
    columns: list[Column[Any]] = []
    if parts and "name" not in specs(type(parts[0])):
        columns.append(Column("Of", name_of))
    for name, spec in specs(type(parts[0])).items() if parts else ():
        columns += _columns(a, parts, name, spec)
    return sheet(key, title, (*columns, *more), parts, empty)


def _columns(a: Assessment, parts: Sequence[Part], name: str, spec: FieldSpec) -> list[Column[Any]]:
    """The column of a field; a second one where something typed does not count."""
    if not spec.is_quantity:
        usual = type(parts[0]).model_fields[name].default
        if spec.kind in ("choice", "flag") and all(p[name] == usual for p in parts):
            return []  # as usual: nothing to be said
        return [Column(spec.label, lambda p: _word(a, p, name, spec), field=name)]
    counts = {id(p): found for p in parts if (found := counting(a, p, name)) is not None}

    def typed(p: Part) -> float | None:
        given = p[name]
        return given.value if isinstance(given, Given) and spec.applies(p) else None

    def value(p: Part) -> float | None:
        found = counts.get(id(p))
        return float(found.value) if found is not None else typed(p)

    made: list[Column[Any]] = [Column(spec.label, value, spec.kind, name)]
    if any(typed(p) is not None and id(p) in counts for p in parts):
        made.append(Column(f"{spec.label}, as typed", lambda p: typed(p) if id(p) in counts else None, spec.kind, name))
    return made


def _word(a: Assessment, part: Part, name: str, spec: FieldSpec) -> Cell:
    """A choice, text, flag or reference in words; nothing where it is not asked for."""
    value = part[name]
    if not spec.applies(part) or value in (None, ""):
        return None
    if isinstance(value, bool):
        return "yes" if value else "no"
    if spec.kind == "ref":
        face = a.all_of(BOUNDARY).get(str(value)) if spec.refers == "faces" else None
        found = find(a.home, str(value))
        return face.name if face is not None else name_of(found) if found is not None else str(value)
    return str(value)


def parts_of(home: Home) -> dict[type[Part], tuple[Part, ...]]:
    """The home's parts by kind, in the order of the steps they are worked on in; without those that stand elsewhere."""
    found: dict[type[Part], list[Part]] = {}
    for part in walk_parts(home):
        if type(part) not in LEFT_OUT and specs(type(part)):
            found.setdefault(type(part), []).append(part)
    order = {key: n for n, key in enumerate(STEPS)}
    kinds = sorted(found, key=lambda kind: order[step_of(found[kind][0])])
    return {kind: tuple(found[kind]) for kind in kinds}


def title_of(kind: type[Part]) -> str:
    """What a list of parts is called."""
    return TITLES.get(kind.__name__, f"{kind.__name__}s")
