"""The steps of the route in working order: one declaration each for window, command line, documents, questions and help."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from nuthatch.core.model.part import Part
from nuthatch.core.model.plans import OF_THE_AIR


@dataclass(frozen=True)
class Step:
    """One step. `parts`: classes of parts worked on here, or “Class.field” for a single field; `drawn`: the pictures that can be
    pinned from its board, by the module of `views` that draws them; `settles`: whether there is something to settle here; `about` and `terms`: the help card."""

    key: str
    name: str
    parts: tuple[str, ...] = ()
    drawn: Mapping[str, tuple[str, ...]] = field(default_factory=dict, hash=False)
    settles: bool = True
    about: str = ""
    terms: Mapping[str, str] = field(default_factory=dict, hash=False)

    @property
    def pictures(self) -> tuple[str, ...]:
        """The keys of what can be pinned from its board."""
        return tuple(key for keys in self.drawn.values() for key in keys)


ROUTE = (
    Step(
        "cutaway",
        "Cutaway",
        drawn={"balance.drawings": ("cutaway", "account")},
        settles=False,
        about="The overview. The home as a section; each part carries a flat band as wide as the heat it loses or gains in the year. Click a part to work on it.",
        terms={
            "band": "its width is an amount of heat in the year, on one scale for all parts",
            "year’s account": "what is lost in the months with heating, and what covers it: sun, people, heating",
        },
    ),
    Step(
        "brief",
        "Brief",
        parts=("Home", "Brief"),
        about="Who the home is for, what it has to meet, and what to collect on site. The margins on the right follow the target sets chosen here.",
        terms={
            "target set": "a certification’s or a code’s list of limits, kept in the home that is judged by it",
            "margin": "how far a result is inside its limit, or over it",
            "points": "some sets ask for a sum of points; a line with points is voluntary and counts through the sum",
            "visit list": "the values the targets rest on that are not proven yet",
        },
    ),
    Step(
        "site",
        "Site",
        parts=("Site", "ClimateRef", "ClimateMonth", "PlotCorner", "SiteSheet", "SiteObject", "HorizonPoint", "RingSector"),
        drawn={"site": ("climate", "climate-hours"), "site_plan": ("site-plan",), "skyline": ("horizon",)},
        about="The climate the home stands in, what stands around it, its ground and its set-points. Everything computed rests on the weather file chosen here; the home keeps it. Neighbours, trees and the horizon take sun from the openings and keep wind off.",
        terms={
            "ring": "what is assumed of the surroundings, direction by direction, until something is drawn there",
            "horizon": "how high the land stands round about: double-click it in the drawing, or take a table of directions and heights; the ring then rests",
            "weather file": "hours of a typical year: EPW, TMY3 or the typical year of PVGIS; drop one on the board, or name a folder in Library",
            "months": "what is given of a month counts instead of the file’s; all twelve, with the latitude, are a climate without hours",
            "library and map": "climates on offer: click a place, see how far and how high it lies, use it or look at it beside the home’s own",
            "heating degree days": "how long and how far it is colder than a base temperature",
            "climate zone": "derived from the weather file by degree days and rain",
            "design day": "the coldest days the heating load is worked out for",
        },
    ),
    Step(
        "shape",
        "Shape",
        parts=(
            "Shape",
            "QuickForm",
            "Face",
            "Plans",
            "StoreyPlan",
            "Outline",
            "Hole",
            "Side",
            "InnerWall",
            "BackingSheet",
            "Room",
            "RoofPlan",
            "Spot",
            "GroundSpot",
        ),
        drawn={"shape.pictures": ("plan", "elevation", "upright", "solid", "below", "faces", "take-off")},
        about="The home’s outer faces: what each borders on, how large it is and where it looks. They follow from storey plans and roofs that are drawn here; a quick form makes a plain house from a few dimensions, to be drawn on; or the faces are a list.",
        terms={
            "outline": "a closed part of a storey, heated or a named unheated space; its sides are the walls",
            "court": "cut out of an outline, open to the sky or somebody else's; its sides are walls too",
            "as drawn": "what a face borders on follows from the plans, the ground line and the storeys",
            "edge": "where two faces meet, with its length and angle",
            "face": "a bounding plane of the home",
            "borders on": "outside air, ground, an unheated space or a heated neighbour",
            "b factor": "how much of the outside cold reaches the face: 1 outside air, 0 a heated neighbour",
            "reference floor area": "the area demands are divided by",
            "take-off": "areas and volumes counted from the shape",
        },
    ),
    Step(
        "build-ups",
        "Build-ups",
        parts=("BuildUp", "Layer"),
        drawn={"openings.drawings": ("section", "moisture")},
        about="The constructions, as layers from outside to inside, with the timber between them. Every face of the shape names one.",
        terms={
            "λ": "conductivity of a material",
            "R": "thermal resistance, of a layer or of all",
            "U": "transmittance: heat through a square of the face for each degree",
            "framing share": "how much of a layer is timber or metal",
            "s_d": "how much still air holds vapour back as well as a layer does",
            "f_Rsi": "how warm the inner surface is between outside, 0, and inside, 1",
            "starter envelope": "build-ups and opening types of a structure, a period and a climate, all assumed",
            "framing error": "how far the upper and lower limit of R lie apart",
        },
    ),
    Step(
        "openings",
        "Openings",
        parts=("Opening", "OpeningType"),
        drawn={"openings.drawings": ("facade", "opening", "sun-hours", "seen", "season")},
        about="Windows and doors: their size, their place and what they are made of. Glass and frame apart, or a whole-window value early on, which is flagged.",
        terms={
            "g": "share of the sun’s heat let in by the glass",
            "SHGC": "the same for the whole window",
            "ψ of the edge": "heat lost along the glass edge",
            "sun let through": "the share that reaches the glass past what stands in the way; typed, it counts instead of what is worked out",
            "blind": "what is moved before an opening on warm sunny hours; it counts for cooling, never for heating",
            "net gain": "sun let in less what is lost, in the months with heating",
            "sash": "what a pane that opens has around it besides the frame",
            "installation ψ": "heat lost along the joint with the wall",
        },
    ),
    Step(
        "junctions",
        "Junctions",
        parts=(
            "Junction",
            "Home.junctions",
            "Home.junctions_none",
            "Home.junctions_from",
            "Home.junction_tier",
            "Detail",
            "DetailBlock",
            "DetailSpace",
            "DetailFlank",
        ),
        drawn={"junctions.drawings": ("junctions", "junctions-on-solid", "detail")},
        about="Where faces meet, heat is lost beyond the faces. The shape shows where: take its junctions into the list, say what it cannot tell, value them by tier.",
        terms={
            "ψ": "heat lost for each length of a junction and degree",
            "tier": "fallback is on the safe side, typical is good practice, detailed is calculated for this very junction",
            "dimensions": "a ψ belongs to external or internal dimensions; where the shape knows what meets, it is converted to the home’s",
            "asked": "an edge that may be one thing or another: the answers that fit stand beside it",
        },
    ),
    Step(
        "air",
        "Air",
        parts=(
            "Air",
            "VentilationUnit",
            "Duct",
            "OperatingHours",
            "AirTest",
            "TestReading",
            "Preparation",
            "Leak",
            "ZonePressure",
            *(f"Room.{name}" for name in OF_THE_AIR),
            "Fan",
            "FanRing",
            "PressureGauge",
        ),
        drawn={"air.drawings": ("air-paths", "flows", "flow-plan"), "air.test_chart": ("air-test",)},
        about="Fresh air room by room, the air test, and every way air crosses the envelope: leaks, ventilation units, windows.",
        terms={
            "n50": "air changes an hour at 50 Pa, from the air test",
            "q50": "the same for each area of the envelope",
            "heat recovery": "share of the exhaust air’s heat given to the fresh air",
            "bypass": "in summer the unit can leave its heat exchanger aside",
            "operation": "normal, low or boost; the hours of a day at each make the mean flow",
            "ladder of pressures": "the readings of an air test, rungs kept or to come",
        },
    ),
    Step(
        "hot-water",
        "Hot water",
        parts=("HotWater", "Store", "PipeRun", "PipeCorner", "DrawOff", "WaterMonth", "SolarField"),
        drawn={"hot_water": ("hot-water",), "pipes": ("pipes",)},
        about="Heat for hot water on its way from the cold main to the taps: what brings it in, what store and pipes lose, what is drawn. Losses inside the envelope count as gains.",
        terms={
            "circulation": "a pipe kept warm all round; at each stop its content cools",
            "unheated space": "what stands in one loses to it: by the b factor of the space, its losses warm nobody",
            "draw-off": "one use of hot water; the pipe’s content cools after it",
            "store loss": "heat a store loses for each degree: W/K, Btu/(h·°F), or kWh/24 h as its sheet says",
            "collectors": "optical and loss value of their sheet; month by month the sun gives a share of the heat, the sources the rest",
        },
    ),
    Step(
        "household",
        "Household",
        parts=("Household", "Appliance", "DayPattern", "PatternDay", "Home.patterns"),
        drawn={"household": ("household",), "day": ("day",), "room_loads": ("room-loads",)},
        about="People, appliances and lights: electricity used and heat given to the home, over the year and through the day.",
        terms={
            "internal gains": "heat from people, appliances and hot-water losses",
            "simple gains": "one value for each floor area",
            "itemised": "people and appliances counted one by one",
            "day pattern": "what share of something is there, or used, in each hour; the balance takes its mean",
        },
    ),
    Step(
        "heat-power",
        "Heat & power",
        parts=(
            "HeatSource",
            "PerformancePoint",
            "FurtherCarrier",
            "Carrier",
            "OwnPower",
            "Modules",
            "Home.sources",
            "Home.carriers",
            "Home.electricity",
            "Home.currency",
        ),
        drawn={"energy_way": ("energy-way",), "balance.drawings": ("delivered",), "heat_power": ("heat-pump",)},
        about="What makes heat and power, with which carrier, at what efficiency and price: the way of the energy from carriers through sources to its uses.",
        terms={
            "share": "how much of a use a source covers; shares of a use always total 100 %",
            "COP": "heat delivered for each unit of electricity",
            "points": "COPs of a heat pump’s data sheet, such as A7/W35: source 7 °C, flow 35 °C; with them its performance follows month by month",
            "flow at design": "how warm the water to the emitters is on the coldest days; the heating curve falls from there to 25 °C at 16 °C outside",
            "takes over": "the source that makes what another cannot: above its limit of power, below its bivalence point, hotter than its hottest flow",
            "further carrier": "a source may burn or draw several; what they do not make of its heat its first carrier makes",
            "own electricity": "what modules on the roof give; what is used at home counts only where a set says so, or you do",
            "primary energy": "delivered energy with what it took to provide it",
        },
    ),
    Step(
        "balance",
        "Balance",
        parts=("HourChart", "RoomKind"),
        drawn={
            "balance.drawings": ("amounts", "shares", "months"),
            "hours.charts": ("hours-lines", "hours-by-day", "hours-duration", "hours-against", "hours-sums", "hours-own"),
            "hours.rooms": ("rooms-loads",),
        },
        settles=False,
        about="Where heat comes from and goes to, month by month and hour by hour. Categories are fixed: a zero stays a zero. Amounts and shares stand apart.",
        terms={
            "too warm": "hours of the year with more than 25 °C; the verdict takes them with windows shut unless the home or its target set counts windows opened by hand",
            "windows shut, by hand": "cooled only where a source cools; by hand: opened above 23 °C while it is cooler outside",
            "needs": "both set-points held, whatever the sources can",
            "operative temperature": "what people feel: three tenths the air, seven tenths the surfaces",
            "what if": "one thing left out or opened at a time, and what takes its place",
            "utilisation": "how much of sun and internal gains helps, by the monthly method",
            "time constant": "how slowly the home cools",
            "heating load": "power needed on the coldest days",
        },
    ),
    Step(
        "options",
        "Options",
        parts=("Upgrade", "Option", "Economy", "Certainty"),
        drawn={"options.ladder_drawn": ("ladder",)},
        settles=False,
        about="What might be done to the home, and what it brings. An option is a list of upgrades in order; an upgrade is a list of changes with cost and life. Nothing is copied: when the home changes, its options follow.",
        terms={
            "alone, in order, last": "an upgrade's effect by itself, where it stands, and after all others; only in order do they add up",
            "net present value": "what the energy saved over the years is worth today, less what it costs and its upkeep",
            "a saved kWh": "yearly cost of an upgrade over its life for each kilowatt hour it saves in the first year",
            "closing the gap": "for each thing that can be chosen, the value at which a target is just met",
            "chance": "how often the home meets a target when every value is varied as far as it may lie from what is entered",
            "carries": "a value's share in how far the results spread; “as entered, it passes”: the chance once it is known for sure",
        },
    ),
    Step(
        "dossier",
        "Dossier",
        parts=("EvidenceFile", "Pin", "DossierPlan", "Chapter", "DossierProfile", "Issued", "Home.evidence", "Home.pins"),
        settles=False,
        about="The documentation of compliance builds itself from the home: its pages stand here as they are by now. A click on a number leads to where it comes from. Write it as PDF, page or spreadsheet, at any time; issue it when it goes out.",
        terms={
            "evidence": "a reference in words or an attached file that proves a value",
            "issued": "a revision that went out: the home remembers what it was then, and the next one says what has changed",
            "profile": "chapters, paper and units for one kind of reader",
            "pinned": "a drawing or chart of your choice; it follows the home",
            "SHA-256": "a number that shows the home has not been changed since",
        },
    ),
)
BY_KEY = {s.key: s for s in ROUTE}
STEPS = tuple(BY_KEY)
NAMES = tuple((s.key, s.name) for s in ROUTE)
PAGES = ("homes", "office", "new", "ledger")
TO_COME: tuple[str, ...] = ()
_OWNERS = {part: s.key for s in ROUTE for part in s.parts}


def step_of(part: Part, field: str = "") -> str:
    """The step a part, or one field of it, is worked on in."""
    kind = type(part).__name__
    return _OWNERS.get(f"{kind}.{field}") or _OWNERS[kind]
