"""The home and all its parts. Lengths in m, areas m², temperatures °C, shares 0–1, everything else as the kind says."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, Self

from pydantic import Field, model_validator

from nuthatch.core.model.part import Given, Id, Part, choice, flag, inner_fields, quantity, ref, text
from nuthatch.core.model.plans import Plans
from nuthatch.core.model.services import Air, Appliance, Carrier, HeatSource, HotWater, Household, VentilationUnit
from nuthatch.core.model.target_set import Dwelling, TargetSet

__all__ = ["Air", "Appliance", "Carrier", "HeatSource", "HotWater", "Household", "VentilationUnit"]
"""Parts of a home that stand in a module of their own."""

SCHEMA = 5
"""Version of what a home holds: raised with every field added, taken away or changed; an older Nuthatch then says so."""

Borders = Literal["outside air", "ground", "unheated space", "neighbour"]
Side = Literal["outside air", "unheated space", "neighbour"]
Beside = Literal["a wall", "another opening", "a listed junction"]
Role = Literal["wall", "roof", "ceiling", "floor", "party wall"]


class Brief(Part):
    id: Id = "brief"
    client: str = text("Client", group="Client")
    plot: str = text("Plot or address", short="Plot")
    project: Literal["new build", "retrofit"] = choice("Project", "new build", group="Dwelling")
    dwelling: Dwelling = choice("Dwelling", "not given", help="Some target sets ask for it.")
    bedrooms: Given | None = quantity("count", "Bedrooms", least=0, most=50, help="A studio has 0 separate bedrooms.")
    visit: str = text("Date of visit", help="as 2026-11-30", group="Visit", short="Date")
    visit_notes: str = text("For the visit", note=True, help="stands on the list of what to collect", short="For it")
    notes: str = text("Notes", note=True, group="Notes", short="Notes")


class ClimateRef(Part):
    id: Id = "climate"
    name: str = text("Climate")
    sha256: str = text("Hash of the weather file")


class Site(Part):
    id: Id = "site"
    climate: ClimateRef | None = None
    moisture: Literal["from the weather file", "A moist", "B dry", "C marine"] = choice(
        "Moisture regime",
        "from the weather file",
        help="Asked for where the weather file carries no rain.",
        group="Climate",
        short="Moisture",
    )
    elevation: Given | None = quantity(
        "elevation", "Elevation of the site", least=-450, most=5000, help="empty: as the weather station", short="Elevation"
    )
    heating_setpoint: Given | None = quantity("temperature", "Heating set-point", least=10, most=30, group="Set-points", short="Heating")
    cooling_setpoint: Given | None = quantity("temperature", "Cooling set-point", least=20, most=35, short="Cooling")
    ground_reflectance: Given | None = quantity("fraction", "Ground reflectance", least=0, most=0.9, group="Ground", short="Reflectance")
    soil_conductivity: Given | None = quantity("conductivity", "Soil conductivity", above=0, most=10, short="Soil λ")
    soil_capacity: Given | None = quantity(
        "volumetric_heat",
        "Soil heat capacity",
        above=0,
        most=6,
        help="MJ/(m³·K): clay or silt 3.0, sand, gravel, rock 2.0",
        short="Soil heat capacity",
    )
    slab_edge_r: Given | None = quantity("resistance", "Slab edge insulation R", least=0, most=20, group="Slab edge insulation", short="R")
    slab_edge_depth: Given | None = quantity(
        "length", "Slab edge insulation depth", least=0, most=5, help="or width, where it lies flat", short="Depth"
    )
    slab_edge_thickness: Given | None = quantity("thickness", "Slab edge insulation thickness", least=0, most=1, short="Thickness")
    slab_edge_lies: Literal["standing", "lying"] = choice("Slab edge insulation is", "standing", short="It is")


class QuickForm(Part):
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
    front: Side = choice("Front borders on", "outside air", short="Front")
    right: Side = choice("Right side borders on", "outside air", short="Right")
    back: Side = choice("Back borders on", "outside air", short="Back")
    left: Side = choice("Left side borders on", "outside air", short="Left")
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


class Face(Part):
    """A face of the list, for homes that are no simple form."""

    id: Id
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


class Shape(Part):
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


class Layer(Part):
    id: Id
    name: str = text("Layer")
    kind: Literal["solid", "air layer", "well ventilated"] = choice("Kind of layer", "solid", short="Kind")
    thickness: Given | None = quantity("thickness", "Thickness", above=0, most=3)
    conductivity: Given | None = quantity("conductivity", "Conductivity λ", above=0, most=500, short="λ")
    resistance: Given | None = quantity("resistance", "Resistance R", above=0, most=50, help="instead of λ", short="R")
    opening_area: Given | None = quantity(
        "vent_area",
        "Ventilation openings",
        least=0,
        most=100000,
        help="500 to 1500 mm²/m: slightly ventilated",
        short="Openings",
        only="kind=air layer",
    )
    framing_share: Given | None = quantity("percent", "Framing share", least=0, most=0.9, group="Framing", short="Share")
    framing_conductivity: Given | None = quantity("conductivity", "Framing λ", above=0, most=500, short="λ")
    framing_name: str = text("Framing", short="Of")
    density: Given | None = quantity("density", "Density", above=0, most=25000, group="Heat and moisture")
    specific_heat: Given | None = quantity("specific_heat", "Specific heat", above=0, most=10000)
    mu: Given | None = quantity("factor", "Vapour resistance μ", above=0, most=1e7, short="Vapour μ")
    sd: Given | None = quantity("length", "Vapour: s_d", least=0, most=100000, help="of a membrane; instead of μ", short="Vapour s_d")


class BuildUp(Part):
    id: Id
    name: str = text("Build-up", short="Name")
    layers: tuple[Layer, ...] = ()
    u_detailed: Given | None = quantity("u", "U-value from a detailed calculation", above=0, most=20, group="U-value", short="U, detailed")
    gap_level: Literal["0", "1", "2"] = choice("Gaps in the insulation", "0", help="ISO 6946 annex F, levels 0, 1, 2", short="Gaps, level")
    fasteners: Given | None = quantity("u", "Fasteners ΔU", least=0, most=1, help="or by what they are, below", short="Fasteners ΔU")
    fastener_count: Given | None = quantity("per_area", "Fasteners per area", least=0, most=100, group="Fasteners", short="Number")
    fastener_section: Given | None = quantity("section", "Section of a fastener", above=0, most=0.01, short="Section")
    fastener_conductivity: Given | None = quantity("conductivity", "Conductivity of a fastener", above=0, most=500, short="λ")
    fastener_depth: Given | None = quantity(
        "thickness", "How deep a fastener goes into the insulation", above=0, most=1, help="empty: right through", short="Depth"
    )
    inverted_rain: Given | None = quantity(
        "rain", "Rain on an inverted roof", least=0, most=30, group="Inverted roof", help="mean of the heating season", short="Rain"
    )


class OpeningType(Part):
    id: Id
    name: str = text("Opening type", short="Type")
    use: Literal["window", "door", "rooflight"] = choice("Use", "window")
    entry: Literal["glass and frame", "whole window"] = choice("Entered as", "glass and frame", short="Entered")
    glass_from: Literal["U_g as given", "panes and gaps"] = choice(
        "Glass known by", "U_g as given", group="Glass", short="Known by", only="entry=glass and frame"
    )
    glass_u: Given | None = quantity("u", "Glass U_g", above=0, most=7, help="of upright glass", short="U_g", only="entry=glass and frame")
    glass_g: Given | None = quantity("fraction", "Solar factor g", least=0, most=1, short="g", only="entry=glass and frame")
    pane: Given | None = quantity(
        "width", "Thickness of each pane", above=0, most=0.05, short="Each pane", group="Panes and gaps", only="glass_from=panes and gaps"
    )
    gap: Given | None = quantity("width", "First gap, from outside", above=0, most=0.1, short="First gap", only="glass_from=panes and gaps")
    gap_2: Given | None = quantity(
        "width", "Second gap", above=0, most=0.1, help="empty: two panes", short="Second gap", only="glass_from=panes and gaps"
    )
    coat: Given | None = quantity(
        "fraction",
        "Emissivity in the first gap",
        above=0,
        most=0.95,
        help="corrected; empty: 0.837, uncoated",
        short="ε, first gap",
        only="glass_from=panes and gaps",
    )
    coat_2: Given | None = quantity(
        "fraction",
        "Emissivity in the second gap",
        above=0,
        most=0.95,
        help="corrected; empty: 0.837, uncoated",
        short="ε, second gap",
        only="glass_from=panes and gaps",
    )
    gas: Literal["air", "argon", "krypton"] = choice("Gas in the gaps", "air", short="Gas", only="glass_from=panes and gaps")
    gas_share: Given | None = quantity(
        "percent", "Share of the gas", above=0, most=1, help="the rest is air; empty: 90 %", short="Share", only="glass_from=panes and gaps"
    )
    frame_u: Given | None = quantity("u", "Frame U_f", above=0, most=10, group="Frame", short="U_f", only="entry=glass and frame")
    frame_side: Given | None = quantity("width", "Frame width, sides", above=0, most=0.5, short="Sides", only="entry=glass and frame")
    frame_top: Given | None = quantity("width", "Frame width, top", above=0, most=0.5, short="Top", only="entry=glass and frame")
    frame_bottom: Given | None = quantity("width", "Frame width, bottom", above=0, most=0.5, short="Bottom", only="entry=glass and frame")
    mullion: Given | None = quantity(
        "width", "Width of a mullion", above=0, most=0.5, help="upright, between panes", short="Mullion", only="entry=glass and frame"
    )
    transom: Given | None = quantity(
        "width", "Width of a transom", above=0, most=0.5, help="lying, between panes", short="Transom", only="entry=glass and frame"
    )
    sash: Given | None = quantity(
        "width", "Further width around a pane that opens", least=0, most=0.3, help="empty: none", short="Sash", only="entry=glass and frame"
    )
    panel_u: Given | None = quantity("u", "U of an opaque panel", above=0, most=7, short="U_p of panels", only="entry=glass and frame")
    panel_psi: Given | None = quantity(
        "psi", "Edge of an opaque panel ψ_p", least=0, most=1, help="empty: none", short="Panel edge ψ_p", only="entry=glass and frame"
    )
    edge_psi: Given | None = quantity(
        "psi", "Glass edge ψ_g", least=0, most=1, group="Edges", short="Glass edge ψ_g", only="entry=glass and frame"
    )
    install_psi: Given | None = quantity("psi", "Installation ψ", least=-0.2, most=1, short="Installation ψ")
    install_head: Given | None = quantity(
        "psi", "Installation ψ at the head", least=-0.2, most=1, help="empty: as all round", short="ψ head"
    )
    install_jamb: Given | None = quantity(
        "psi", "Installation ψ at the jambs", least=-0.2, most=1, help="empty: as all round", short="ψ jambs"
    )
    install_sill: Given | None = quantity(
        "psi", "Installation ψ at the sill", least=-0.2, most=1, help="empty: as all round", short="ψ sill"
    )
    whole_u: Given | None = quantity(
        "u", "Whole-window U_w", above=0, most=10, group="Whole window", short="U_w", only="entry=whole window"
    )
    whole_solar: Given | None = quantity("fraction", "Solar value", least=0, most=1, only="entry=whole window")
    solar_kind: Literal["g of the glass", "SHGC of the window"] = choice(
        "Solar value is", "g of the glass", short="it is", only="entry=whole window"
    )
    glass_share: Given | None = quantity(
        "percent", "Glass share", least=0, most=1, help="only for whole-window entry", only="entry=whole window"
    )
    u_tilt: Given | None = quantity(
        "angle",
        "Tilt its U holds at",
        least=0,
        most=90,
        help="empty: 90, upright",
        group="On a slope",
        short="U holds at",
        only="use=rooflight",
    )
    opaque_share: Given | None = quantity(
        "percent", "Opaque share of a door", least=0, most=1, group="Door", short="Opaque share", only="use=door"
    )


class Opening(Part):
    id: Id
    name: str = text("Opening")
    face: str = ref("Face", "faces")
    type: str = ref("Opening type", "opening_types", short="Type")
    width: Given | None = quantity("length", "Width", above=0, most=30, group="Size")
    height: Given | None = quantity("length", "Height", above=0, most=15)
    count: Given | None = quantity("count", "Number", least=1, most=500, short="Number")
    apart: Given | None = quantity(
        "length", "Between those of a row", least=0, most=100, help="empty: drawn a little apart", short="Between"
    )
    position: Given | None = quantity("length", "From the left edge", least=0, most=200, group="Place in its face", short="From left")
    sill: Given | None = quantity("length", "Sill above the base", least=0, most=100, short="Sill")
    shade_winter: Given | None = quantity("fraction", "Sun let through, winter", least=0, most=1, group="Sun let through", short="Winter")
    shade_summer: Given | None = quantity("fraction", "Sun let through, summer", least=0, most=1, short="Summer")
    columns: Given | None = quantity(
        "count", "Panes side by side", least=1, most=20, help="empty: one", group="Division", short="Side by side"
    )
    rows: Given | None = quantity("count", "Panes above each other", least=1, most=20, help="empty: one", short="On each other")
    opens: Given | None = quantity(
        "count", "Panes that open", least=0, most=400, help="empty: none beside the frame's own widths", short="Open"
    )
    panels: Given | None = quantity("count", "Fields that are opaque panels", least=0, most=400, help="empty: none", short="Panels")
    left: Beside = choice("Left side is against", "a wall", group="Its four sides", short="Left")
    right: Beside = choice("Right side is against", "a wall", short="Right")
    head: Beside = choice("Head is against", "a wall", short="Head")
    foot: Beside = choice(
        "Sill is against", "a wall", short="Sill", help="against another opening, or on a listed junction, it has no ψ of its own"
    )


class Junction(Part):
    id: Id
    name: str = text("Junction")
    family: Literal[
        "wall · floor",
        "wall · roof eaves",
        "wall · roof verge",
        "wall · ceiling",
        "ridge",
        "outer corner",
        "inner corner",
        "wall · upper floor",
        "party wall",
        "threshold",
        "other",
    ] = choice("Family", "wall · floor")
    length: Given | None = quantity("length", "Length", least=0, most=10000)
    psi: Given | None = quantity("psi", "ψ", least=-1, most=3)
    tier: Literal["fallback", "typical", "detailed"] = choice("ψ tier", "typical", group="Thermal bridge")
    dimensions: Literal["external", "internal"] = choice("ψ refers to dimensions", "external", short="Dimensions")
    b: Given | None = quantity("fraction", "b factor", least=0, most=1, help="1 toward outside air")


class EvidenceFile(Part):
    """A file kept in the home file as proof of values; its bytes stand under its hash."""

    id: Id
    name: str
    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    size: int = Field(ge=0, strict=True)


class Pin(Part):
    """A drawing or chart pinned into the dossier, with a caption."""

    id: Id
    name: str = text("Caption")
    picture: str = text("Picture")
    of: str = text("Of")


class Home(Part):
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
    junctions_none: bool = flag("No junctions to count")
    air: Air = Air()
    household: Household = Household()
    water: HotWater = HotWater()
    carriers: tuple[Carrier, ...] = ()
    electricity: str = ref("Carrier of fans and household", "carriers", group="Fans and household", short="Carrier")
    currency: str = text("Currency of prices", short="Currency")
    sources: tuple[HeatSource, ...] = ()
    evidence: tuple[EvidenceFile, ...] = ()
    pins: tuple[Pin, ...] = ()

    @model_validator(mode="after")
    def _ids_once(self) -> Self:
        seen: set[str] = set()
        for part in walk_parts(self):
            if part.id in seen:  # type: ignore[attr-defined]
                raise ValueError(f"the id “{part.id}” stands twice in the home; every part needs its own")  # type: ignore[attr-defined]
            seen.add(part.id)  # type: ignore[attr-defined]
        return self

    @model_validator(mode="after")
    def _conditions_fit(self) -> Self:
        from nuthatch.core.model.conditions import fault  # the fields it checks against are of this module

        for chosen in self.target_sets:
            for condition in chosen.conditions:
                if why := fault(condition):
                    raise ValueError(f"target set “{chosen.name}”: {why}")
        return self


def walk_parts(part: Part) -> Iterator[Part]:
    """The part and every part below it that has an id, in file order. Target sets are copies of data: not entered."""
    yield part
    for name in inner_fields(type(part)):
        value = getattr(part, name)
        if isinstance(value, Part) and hasattr(value, "id"):
            yield from walk_parts(value)
        elif isinstance(value, tuple) and name != "target_sets":
            for item in value:
                if isinstance(item, Part) and hasattr(item, "id"):
                    if inner_fields(type(item)):
                        yield from walk_parts(item)
                    else:
                        yield item


def find(home: Part, part_id: str) -> Part | None:
    """The part with this id, or None."""
    return next((p for p in walk_parts(home) if p.id == part_id), None)  # type: ignore[attr-defined]


def fresh_id(home: Part, stem: str) -> str:
    """An id not yet used in the home: stem-1, stem-2, …"""
    used = {p.id for p in walk_parts(home)}  # type: ignore[attr-defined]
    number = 1
    while f"{stem}-{number}" in used:
        number += 1
    return f"{stem}-{number}"
