"""Build-ups, opening types, openings and junctions of a home."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from nuthatch.core.model.part import Given, IdentifiedPart, choice, flag, quantity, ref, text

Beside = Literal["a wall", "another opening", "a listed junction"]


class Layer(IdentifiedPart):
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


class BuildUp(IdentifiedPart):
    told_once: ClassVar[bool] = True
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


class OpeningType(IdentifiedPart):
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
        only="use=rooflight|window",
    )
    opaque_share: Given | None = quantity(
        "percent", "Opaque share of a door", least=0, most=1, group="Door", short="Opaque share", only="use=door"
    )


Blind = Literal["none", "outside", "between the panes", "inside", "awning"]


class Opening(IdentifiedPart):
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
    sill: Given | None = quantity(
        "length", "Level of the sill", least=-100, most=500, help="above the level 0 of the home; below it negative", short="Sill"
    )
    shade_winter: Given | None = quantity(
        "fraction",
        "Sun let through, winter",
        least=0,
        most=1,
        group="Sun let through",
        short="Winter",
        help="empty: worked out from what stands in the way; counts for heating",
    )
    shade_summer: Given | None = quantity(
        "fraction",
        "Sun let through, summer",
        least=0,
        most=1,
        short="Summer",
        help="empty: worked out, with its blind; counts for cooling, in hours of strong sun on warm days",
    )
    reveal: Given | None = quantity(
        "length",
        "Depth of the reveal",
        least=0,
        most=2,
        group="Its own edges",
        short="Reveal",
        help="how far the glass lies behind the outer face; empty: in the middle of its wall",
    )
    overhang: Given | None = quantity(
        "length", "Overhang", least=0, most=10, help="what reaches out above it: a balcony, a canopy; as wide as it matters"
    )
    overhang_above: Given | None = quantity(
        "length", "Overhang above the opening", least=0, most=20, help="empty: right above it", short="Above it"
    )
    fin_left: Given | None = quantity("length", "Fin at its left", least=0, most=10, help="seen from outside", short="Fin left")
    fin_right: Given | None = quantity("length", "Fin at its right", least=0, most=10, short="Fin right")
    blind: Blind = choice("Blind", "none", group="Movable shading", help="never counts for heating, always for cooling")
    blind_passes: Given | None = quantity(
        "fraction",
        "Sun let through by the blind",
        least=0,
        most=1,
        help="empty: outside 0.25, between the panes 0.5, inside 0.7, awning 0.4",
        short="Lets through",
    )
    blind_sun: Given | None = quantity(
        "heat_flux", "Blind is down above this sun", least=0, most=1500, help="what reaches the glass; empty: 200 W/m²", short="Above sun"
    )
    blind_warm: Given | None = quantity(
        "temperature", "Blind is down on days warmer than", least=-50, most=50, help="the day's mean; empty: 14 °C", short="On days over"
    )
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


JunctionFamily = Literal[
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
    "ground floor",
    "cellar floor",
    "step of a part cellar",
    "floor over cold",
    "floor over air",
    "inner edge of an overhang",
    "set-back",
    "jetty",
    "upper floor",
    "eaves",
    "eaves at ceiling",
    "eaves at floor",
    "high edge of a lean-to",
    "verge",
    "gable at ceiling",
    "hip",
    "valley",
    "abutment, front",
    "abutment, side",
    "abutment in the loft",
    "parapet",
    "flat roof edge",
    "slope with ceiling",
    "slope with knee wall",
    "slope with flat roof",
    "party wall with wall",
    "party wall with roof",
    "party wall with ceiling",
    "party wall with floor",
    "balcony slab",
    "partition",
    "change of build-up",
    "none",
]
"""Kinds of junction: the first eleven as typed in homes without a shape of their own, the others as found in a shape."""


class OwnPsi(IdentifiedPart):
    """ψ of a family in a catalogue of one's own, with where it is from."""

    name: str = text("Junction")
    family: JunctionFamily = choice("Family", "other")
    psi: Given | None = quantity("psi", "ψ", least=-1, most=3)
    tier: Literal["fallback", "typical", "detailed"] = choice("ψ tier", "typical")
    dimensions: Literal["external", "internal"] = choice("ψ refers to dimensions", "external", short="Dimensions")


class Junction(IdentifiedPart):
    """A junction that is listed: typed, or one the shape has, by what meets there (`meets`, the key of what was found) and, where it stands for
    some of its places only, by their edges. Where it stands for what was found, length and ψ may be left to shape and catalogue."""

    name: str = text("Junction")
    family: JunctionFamily = choice("Family", "wall · floor")
    length: Given | None = quantity("length", "Length", least=0, most=10000)
    psi: Given | None = quantity("psi", "ψ", least=-1, most=3)
    tier: Literal["fallback", "typical", "detailed"] = choice("ψ tier", "typical", group="Thermal bridge")
    dimensions: Literal["external", "internal"] = choice("ψ refers to dimensions", "external", short="Dimensions")
    b: Given | None = quantity("fraction", "b factor", least=0, most=1, help="1 toward outside air")
    points: Given | None = quantity(
        "count", "Number of point bridges", least=0, most=100000, group="Point bridges", short="Number", help="brackets, columns, anchors"
    )
    chi: Given | None = quantity("w_per_k", "χ of each", least=-10, most=100, short="χ")
    detail: str = ref("Detail", "details", help="its section gives ψ where none is typed and the tier is detailed")
    meets: str = Field(default="", max_length=2000)
    places: tuple[str, ...] = ()
    own: bool = flag("Counts beside what the shape has", help="a balcony, a chimney: nothing the shape shows")
