"""Storey plans and roofs, the drawn way to a shape: corners, outlines, inner walls, rooms, roof parts, the ground. Lengths in m."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, flag, quantity, ref, replace, text

FAR = 1000.0
SideBorders = Literal["as drawn", "outside air", "ground", "unheated space", "neighbour"]
Below = Literal["as drawn", "outside air", "ground", "unheated space", "neighbour", "suspended floor"]
RoomAir = Literal["by its use", "supply", "extract", "transfer", "none"]
RoomUse = Literal["living", "bedroom", "kitchen", "bath", "WC", "hall", "stairs", "storage", "other"]


def _place(label: str, short: str) -> Given | None:
    """A coordinate of the drawing: it is proven by the drawing, not one by one."""
    return quantity("length", label, least=-FAR, most=FAR, short=short, group="Place", whole="yes")  # type: ignore[no-any-return]


class Spot(IdentifiedPart):
    """A point of the plan: x to the right, y up the sheet."""

    x: Given | None = _place("To the right of the origin", "x")
    y: Given | None = _place("Up from the origin", "y")


class Side(Spot):
    """A corner of an outline and the side from it to the next corner; outlines are walked with the inside on their left."""

    borders: SideBorders = choice("Borders on", "as drawn", group="Side from here to the next corner", help="as drawn: what the plans show")
    buildup: str = ref("Build-up of this side", "buildups", short="Build-up")
    b: Given | None = quantity("fraction", "b factor of this side", least=0, most=1, short="b")


class Hole(IdentifiedPart):
    """What is cut out of an outline: a court, or a shaft that belongs to somebody else. Its sides are walls like the others."""

    name: str = text("Opening in the plan", "Court", short="Name")
    sides: tuple[Side, ...] = ()


class Outline(IdentifiedPart):
    """A closed part of a storey."""

    name: str = text("Outline", help="an unheated space is known by this name")
    kind: Literal["heated", "unheated space"] = choice("It is", "heated")
    reaches: Literal["its ceiling", "the roof"] = choice("Reaches up to", "its ceiling")
    height: Given | None = quantity("length", "Height of this outline", above=0, most=20, help="empty: as its storey", short="Height")
    below: Below = choice("Below it", "as drawn", group="Behind floor and top", help="as drawn: what the plans show", short="Below")
    b_below: Given | None = quantity("fraction", "b factor below", least=0, most=1, short="b below")
    crawl_height: Given | None = quantity(
        "length", "Floor above the ground below it", least=0, most=5, short="Floor above it", only="below=suspended floor"
    )
    crawl_u: Given | None = quantity(
        "u", "U of the walls around the space below", above=0, most=10, short="U of its walls", only="below=suspended floor"
    )
    crawl_vents: Given | None = quantity(
        "vent_area", "Vents of the space below, per length of wall", least=0, most=100000, short="Vents", only="below=suspended floor"
    )
    crawl_wind: Given | None = quantity(
        "speed", "Wind speed at 10 m", least=0, most=30, help="the year's mean", short="Wind", only="below=suspended floor"
    )
    crawl_stands: Literal["sheltered", "average", "exposed"] = choice(
        "The space below stands", "average", short="It stands", only="below=suspended floor"
    )
    above: SideBorders = choice("Above it", "as drawn", short="Above")
    b_above: Given | None = quantity("fraction", "b factor above", least=0, most=1, short="b above")
    floor_buildup: str = ref("Floor of this outline", "buildups", group="Build-ups, where they differ", short="Floor")
    top_buildup: str = ref("Top of this outline", "buildups", short="Top")
    wall_buildup: str = ref("Outer walls of an unheated space", "buildups", short="Outer walls", only="kind=unheated space")
    air_change: Given | None = quantity(
        "ach", "Air change of an unheated space", least=0, most=50, group="Unheated space", short="Air change", only="kind=unheated space"
    )
    b: Given | None = quantity(
        "fraction", "b factor of an unheated space", least=0, most=1, help="empty: worked out", short="b, typed", only="kind=unheated space"
    )
    sides: tuple[Side, ...] = ()
    holes: tuple[Hole, ...] = ()


class InnerWall(Spot):
    """A wall that divides an outline into rooms."""

    to_x: Given | None = _place("End, to the right", "to x")
    to_y: Given | None = _place("End, up", "to y")
    thickness: Given | None = quantity(
        "thickness", "Thickness of the inner wall", above=0, most=1, help="empty: as its build-up", short="Thickness"
    )
    buildup: str = ref("Build-up of the inner wall", "buildups", help="its mass counts on both sides", short="Build-up")


OF_THE_AIR = ("people", "per_area", "changes", "flow", "flow_low", "flow_boost", "passes", "unit")
"""Fields of a room that change flows, not the shape; the unit is the last."""


class Room(Spot):
    """A room: the part of a storey its point lies in."""

    name: str = text("Room")
    use: RoomUse = choice("Used as", "living")
    factor: Given | None = quantity("fraction", "Counts by", least=0, most=1, help="empty: 1; stairs 0", short="Counts by")
    height: Given | None = quantity("length", "Clear height of the room", above=0, most=20, help="empty: from the storey", short="Height")
    air: RoomAir = choice(
        "Air of the room", "by its use", group="Air and warmth", help="where the ventilation brings and takes air", short="Air"
    )
    people: Given | None = quantity(
        "count", "People in the room", least=0, most=50, help="empty: bedrooms share the people of the home", short="People"
    )
    per_area: Given | None = quantity("permeability", "Flow by floor area", least=0, most=50, short="By area")
    changes: Given | None = quantity("ach", "Flow by air changes", least=0, most=50, short="Air changes")
    flow: Given | None = quantity("flow", "Flow of the room, fixed", least=0, most=2000, short="Fixed flow", help="measured or planned")
    flow_low: Given | None = quantity("flow", "Flow at low operation", least=0, most=2000, short="at low", help="empty: by the share")
    flow_boost: Given | None = quantity("flow", "Flow at boost", least=0, most=2000, short="at boost", help="empty: by the share")
    unit: str = ref("Ventilation unit of the room", "units", short="Unit", help="none: the first")
    passes: Given | None = quantity(
        "free_area",
        "Opening for air to pass through",
        least=0,
        most=1,
        short="Passes by",
        help="free area of a gap or grille in door or wall",
    )
    temperature: Given | None = quantity(
        "temperature", "Design temperature of the room", least=0, most=40, help="empty: the heating set-point", short="Designed for"
    )

    @property
    def asks(self) -> bool:
        """Whether it says anything of the air it gets."""
        return any(self[name] for name in OF_THE_AIR)

    def drawn_only(self) -> Room:
        """The room without what it asks of the air."""
        return replace(self, **dict.fromkeys(OF_THE_AIR[:-1]), unit="") if self.asks else self


class BackingSheet(Spot):
    """A scan or plan beneath the drawing, to trace from: where its lower left corner lies and how wide it is. The file is among the
    home's evidence."""

    name: str = text("Backing sheet")
    file: str = ref("File", "evidence")
    width: Given | None = quantity("length", "Width of the sheet in the plan", above=0, most=2000, short="Width", whole="yes")
    turned: Given | None = quantity("angle", "Sheet turned about that corner", least=0, most=360, help="counter-clockwise", short="Turned")
    mirrored: bool = flag("Sheet seen from behind", short="From behind")


class StoreyPlan(IdentifiedPart):
    name: str = text("Storey")
    level: Given | None = quantity("length", "Level", least=-100, most=500, help="empty: on top of the storey before")
    height: Given | None = quantity("length", "Height", above=0, most=20, help="floor to floor")
    floor_thickness: Given | None = quantity("thickness", "Floor between storeys", above=0, most=2, help="below this storey", short="Floor")
    outlines: tuple[Outline, ...] = ()
    inner_walls: tuple[InnerWall, ...] = ()
    rooms: tuple[Room, ...] = ()
    sheet: BackingSheet | None = None


class RoofPlan(IdentifiedPart):
    """A part of the roof: the lowest of its planes; where parts overlap, the highest counts."""

    name: str = text("Roof")
    kind: Literal["flat", "mono", "gable", "hip", "half-hip", "mansard"] = choice("Kind of roof", "gable", short="Kind")
    over: str = ref("Over the outline", "outlines", short="Over")
    pitch: Given | None = quantity("angle", "Pitch", least=0, most=80)
    other_pitch: Given | None = quantity("angle", "Pitch of the other slope", least=0, most=80, help="empty: as the first", short="Other")
    end_pitch: Given | None = quantity(
        "angle", "Pitch of the hips", above=0, most=80, help="of hip and half-hip; empty: as the first slope", short="Hips"
    )
    hip_share: Given | None = quantity(
        "percent", "Share of the gable left standing", least=0, most=1, help="empty: half", short="Gable left", only="kind=half-hip"
    )
    upper_pitch: Given | None = quantity("angle", "Pitch above the bend", least=0, most=80, short="Above the bend", only="kind=mansard")
    bend: Given | None = quantity("length", "Bend above the eaves", above=0, most=20, short="Bend", only="kind=mansard")
    ridge: Given | None = quantity(
        "angle", "Ridge, turned from x", least=0, most=360, help="empty: along the longer side; counter-clockwise", short="Ridge"
    )
    eaves: Given | None = quantity("length", "Level of the eaves", least=-100, most=500, help="empty: top of its storey", short="Eaves")
    overhang: Given | None = quantity(
        "length",
        "How far the roof reaches over its walls",
        least=0,
        most=10,
        help="level; drawn, no part of the envelope",
        short="Overhang",
    )
    borders: SideBorders = choice("Borders on", "as drawn", group="Behind the slope", help="as drawn: outside air")
    b: Given | None = quantity("fraction", "b factor of this roof", least=0, most=1, short="b")
    corners: tuple[Spot, ...] = ()


class GroundSpot(Spot):
    """A height of the ground at a point of the plan."""

    z: Given | None = quantity("length", "Level of the ground here", least=-100, most=500, short="Level")


class Plans(IdentifiedPart):
    id: Id = "plans"
    north: Given | None = quantity("angle", "Top of the sheet looks to", least=0, most=360, help="0 = north", group="Plans", short="Up is")
    traced: Literal["outer faces", "inner faces"] = choice("Plans traced along", "outer faces", short="Traced")
    ground: Given | None = quantity(
        "length", "Level of the ground", least=-100, most=500, help="empty: at the lowest floor", short="Ground"
    )
    partition_share: Given | None = quantity("percent", "Partitions where none are drawn", least=0, most=0.5, short="Partitions")
    wall_buildup: str = ref("Outer walls", "buildups", group="Walls", short="Outer")
    earth_buildup: str = ref("Walls against the ground", "buildups", short="In earth")
    party_buildup: str = ref("Walls to neighbours", "buildups", short="Party")
    inner_buildup: str = ref("Walls to unheated spaces", "buildups", short="To cold")
    roof_buildup: str = ref("Roofs", "buildups", group="Roofs, ceilings, floors", short="Roof")
    ceiling_buildup: str = ref("Ceilings below unheated spaces", "buildups", short="Ceiling")
    ground_buildup: str = ref("Floors on the ground", "buildups", short="Ground")
    cellar_buildup: str = ref("Floors above unheated spaces", "buildups", short="To cold")
    air_buildup: str = ref("Floors above outside air", "buildups", short="To air")
    loft_roof: str = ref("Roof of a loft", "buildups", group="Loft left under a roof", short="Roof")
    loft_gable: str = ref("Gables of a loft", "buildups", short="Gables")
    loft_air: Given | None = quantity("ach", "Air change of a loft", least=0, most=50, short="Air change")
    loft_b: Given | None = quantity("fraction", "b factor of a loft, typed", least=0, most=1, help="empty: worked out", short="b, typed")
    storeys: tuple[StoreyPlan, ...] = ()
    roofs: tuple[RoofPlan, ...] = ()
    heights: tuple[GroundSpot, ...] = ()
