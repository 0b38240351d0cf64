"""The home and all its parts. Lengths in m, areas m², temperatures °C, shares 0–1, everything else as the kind says."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, Self

from pydantic import Field, model_validator

from nuthatch.core.model.air_test import AirTest, Fan, PressureGauge
from nuthatch.core.model.charts import HourChart
from nuthatch.core.model.conditions import fault
from nuthatch.core.model.details import Detail
from nuthatch.core.model.dossier import DossierPlan, Issued
from nuthatch.core.model.fabric import BuildUp, Junction, Layer, Opening, OpeningType, OwnPsi
from nuthatch.core.model.heat import Carrier, HeatSource, OwnPower
from nuthatch.core.model.hot_water import HotWater
from nuthatch.core.model.household import Appliance, Household
from nuthatch.core.model.options import Certainty, Economy, Option, Upgrade
from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, flag, inner_fields, quantity, ref, text
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.model.plans import Plans
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.model.site import ClimateRef, Site
from nuthatch.core.model.target_set import Dwelling, TargetSet
from nuthatch.core.model.ventilation import Air, VentilationUnit

__all__ = [
    "Air", "AirTest", "Appliance", "BuildUp", "Carrier", "ClimateRef", "Detail", "Fan", "HeatSource", "HotWater", "Household", "Junction", "Layer",
    "Opening", "OpeningType", "OwnPsi", "PressureGauge", "Site", "VentilationUnit",
]  # fmt: skip
"""Parts of a home that stand in a module of their own."""

SCHEMA = 10
"""Version of what a home holds: raised with every field added, taken away or changed; an older Nuthatch then says so."""

Borders = Literal["outside air", "ground", "unheated space", "neighbour"]
Beyond = Literal["outside air", "unheated space", "neighbour"]
Role = Literal["wall", "roof", "ceiling", "floor", "party wall"]


class Brief(IdentifiedPart):
    id: Id = "brief"
    client: str = text("Client", group="Client")
    plot: str = text("Plot or address", short="Plot")
    project: Literal["new build", "retrofit"] = choice("Project", "new build", group="Dwelling")
    dwelling: Dwelling = choice("Dwelling", "not given", help="Some target sets ask for it.")
    built: str = text("Built", help="the year, or about when")
    bedrooms: Given | None = quantity("count", "Bedrooms", least=0, most=50, help="A studio has 0 separate bedrooms.")
    visit: str = text("Date of visit", help="as 2026-11-30", group="Visit", short="Date")
    visit_notes: str = text("For the visit", note=True, help="stands on the list of what to collect", short="For it")
    notes: str = text("Notes", note=True, group="Notes", short="Notes")


class QuickForm(IdentifiedPart):
    id: Id = "form"
    length: Given | None = quantity("length", "Length along the front", above=0, most=200, group="Size", short="Length")
    depth: Given | None = quantity("length", "Depth", above=0, most=200)
    storeys: Given | None = quantity("count", "Full storeys", least=1, most=20)
    storey_height: Given | None = quantity("length", "Storey height", above=0, most=10, help="floor to floor")
    roof: Literal["flat", "mono", "gable"] = choice("Roof", "gable", group="Roof", short="Kind")
    pitch: Given | None = quantity("angle", "Roof pitch", least=0, most=75, short="Pitch")
    ridge: Literal["along the length", "along the depth"] = choice("Ridge", "along the length")
    under_roof: Literal["room in the roof", "open to the roof", "insulated ceiling"] = choice(
        "Under the roof", "insulated ceiling", help="An insulated ceiling leaves a cold loft above it.", short="Under it"
    )
    front_azimuth: Given | None = quantity("angle", "Front looks to", least=0, most=360, help="180 = south", group="Borders on")
    front: Beyond = choice("Front borders on", "outside air", short="Front")
    right: Beyond = choice("Right side borders on", "outside air", short="Right")
    back: Beyond = choice("Back borders on", "outside air", short="Back")
    left: Beyond = choice("Left side borders on", "outside air", short="Left")
    base: Borders = choice("Lowest floor borders on", "ground", short="Below")
    traced: Literal["outer faces", "inner faces"] = choice("Dimensions traced along", "outer faces", short="Traced")
    wall_buildup: str = ref("Wall build-up", "buildups", group="Build-ups", short="Wall")
    party_buildup: str = ref("Party wall build-up", "buildups", short="Party wall")
    top_buildup: str = ref("Roof or ceiling build-up", "buildups", short="Roof")
    base_buildup: str = ref("Floor build-up", "buildups", short="Floor")
    b_base: Given | None = quantity("fraction", "b factor below", least=0, most=1, group="Unheated spaces", short="b below")
    b_top: Given | None = quantity("fraction", "b factor of the loft", least=0, most=1, short="b of the loft")
    b_side: Given | None = quantity("fraction", "b factor at the sides", least=0, most=1, short="b at the sides")
    partition_share: Given | None = quantity("percent", "Share of partitions", least=0, most=0.5, group="Inside", short="Partitions")
    floor_thickness: Given | None = quantity("thickness", "Upper floor thickness", above=0, most=1, short="Upper floors")


class Face(IdentifiedPart):
    """A face of the list, for homes that are no simple form."""

    name: str = text("Face")
    role: Role = choice("Kind", "wall")
    area: Given | None = quantity("area", "Gross area", least=0, most=100000, group="Size and direction", short="Area")
    tilt: Given | None = quantity("angle", "Tilt", least=0, most=180, help="0 looks up, 90 is upright, 180 looks down")
    azimuth: Given | None = quantity("angle", "Looks to", least=0, most=360, help="180 = south")
    borders: Borders = choice("Borders on", "outside air", group="Behind it", short="Borders on")
    b: Given | None = quantity("fraction", "b factor", least=0, most=1)
    perimeter: Given | None = quantity("length", "Exposed perimeter", least=0, most=10000, group="On the ground", short="Perimeter")
    depth: Given | None = quantity(
        "length", "Depth below ground", least=0, most=20, help="of a wall or floor against the ground", short="Depth"
    )
    buildup: str = ref("Build-up", "buildups", group="Construction")


class Shape(IdentifiedPart):
    id: Id = "shape"
    dimensions: Literal["external", "internal"] = choice("Dimensions", "external", group="Dimensions", short="Kind")
    form: QuickForm | None = None
    plans: Plans | None = None
    faces: tuple[Face, ...] = ()
    measured_area: Given | None = quantity(
        "area", "Reference floor area, measured", least=0, most=100000, group="Measured, where it is known better", short="Floor area"
    )
    volume: Given | None = quantity("volume", "Heated volume, outside", least=0, most=1000000, short="Volume outside")
    air_volume: Given | None = quantity("volume", "Air volume of the test", least=0, most=1000000, short="Air volume")
    inner_envelope: Given | None = quantity(
        "area",
        "Envelope inside, for q50",
        above=0,
        most=1000000,
        help="in overall internal dimensions; empty: from the shape",
        short="Envelope inside",
    )
    inner_mass: Given | None = quantity("heat_capacity", "Capacity of inner parts", least=0, most=1000, short="Inner capacity")


class EvidenceFile(IdentifiedPart):
    """A file kept in the home file as proof of values; its bytes stand under its hash."""

    name: str
    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    size: int = Field(ge=0, strict=True)


class Pin(IdentifiedPart):
    """A drawing or chart pinned into the dossier, with a caption."""

    name: str = text("Caption")
    picture: str = text("Picture")
    of: str = text("Of")
    chapter: str = ref("Stands in", "chapters", help="the chapter of the dossier it stands at the end of; none: in one for all pinned")


class Home(IdentifiedPart):
    id: Id = "home"
    name: str = text("Home", "New home")
    brief: Brief = Brief()
    target_sets: tuple[TargetSet, ...] = ()
    site: Site = Site()
    shape: Shape = Shape()
    buildups: tuple[BuildUp, ...] = ()
    opening_types: tuple[OpeningType, ...] = ()
    openings: tuple[Opening, ...] = ()
    junctions: tuple[Junction, ...] = ()
    details: tuple[Detail, ...] = ()
    junctions_none: bool = flag("No junctions to count")
    junctions_from: Literal["list", "shape"] = choice("Junctions that count", "list", help="the list alone, or every one the shape has")
    junction_tier: Literal["fallback", "typical"] = choice("ψ tier of those not in the list", "fallback", short="ψ of the rest")
    air: Air = Air()
    air_tests: tuple[AirTest, ...] = ()
    household: Household = Household()
    water: HotWater = HotWater()
    patterns: tuple[DayPattern, ...] = ()
    carriers: tuple[Carrier, ...] = ()
    electricity: str = ref("Carrier of fans and household", "carriers", group="Fans and household", short="Carrier")
    currency: str = text("Currency of prices", short="Currency")
    sources: tuple[HeatSource, ...] = ()
    power: OwnPower = OwnPower()
    room_kinds: tuple[RoomKind, ...] = ()
    charts: tuple[HourChart, ...] = ()
    upgrades: tuple[Upgrade, ...] = ()
    options: tuple[Option, ...] = ()
    economy: Economy = Economy()
    certainty: Certainty = Certainty()
    evidence: tuple[EvidenceFile, ...] = ()
    pins: tuple[Pin, ...] = ()
    dossier: DossierPlan = DossierPlan()
    issued: tuple[Issued, ...] = ()

    @model_validator(mode="after")
    def _ids_once(self) -> Self:
        seen: set[str] = set()
        for part in walk_parts(self):
            if part.id in seen:
                raise ValueError(f"the id “{part.id}” stands twice in the home; every part needs its own")
            seen.add(part.id)
        return self

    @model_validator(mode="after")
    def _conditions_fit(self) -> Self:
        for chosen in self.target_sets:
            for condition in chosen.conditions:
                if why := fault(condition):
                    raise ValueError(f"target set “{chosen.name}”: {why}")
        return self


def walk_parts(part: IdentifiedPart) -> Iterator[IdentifiedPart]:
    """The part and every part below it that has an id, in file order. Target sets are copies of data: not entered."""
    yield part
    for name in inner_fields(type(part)):
        value = part[name]
        if isinstance(value, IdentifiedPart):
            yield from walk_parts(value)
        elif isinstance(value, tuple) and name != "target_sets":
            for item in value:
                if isinstance(item, IdentifiedPart):
                    if inner_fields(type(item)):
                        yield from walk_parts(item)
                    else:
                        yield item


def find(home: IdentifiedPart, part_id: str) -> IdentifiedPart | None:
    """The part with this id, or None."""
    return next((p for p in walk_parts(home) if p.id == part_id), None)


def fresh_id(home: IdentifiedPart, stem: str) -> str:
    """An id not yet used in the home: stem-1, stem-2, …"""
    used = {p.id for p in walk_parts(home)}
    number = 1
    while f"{stem}-{number}" in used:
        number += 1
    return f"{stem}-{number}"
