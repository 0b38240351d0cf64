"""Hot water: how much is drawn, how it is kept and led, what the sun gives of it."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, quantity, ref, text
from nuthatch.core.model.site import MonthName

Stands = Literal["inside the envelope", "unheated space", "outside air"]


class DrawOff(IdentifiedPart):
    """Water drawn in one way: how much each time, how warm, how often."""

    name: str = text("Draw-off", short="Name")
    litres: Given | None = quantity("litres", "Water each time", least=0, most=1000, short="Each time")
    temperature: Given | None = quantity("temperature", "Drawn at", least=10, most=90, short="At")
    number: Given | None = quantity("factor", "Times a day", least=0, most=200, short="A day")
    per: Literal["the home", "a person"] = choice("Counted for", "a person", short="For")
    pattern: str = ref("Drawn by the hours of", "patterns", short="Pattern", help="empty: all hours alike")


class WaterMonth(IdentifiedPart):
    """A month in which more or less hot water is drawn than in the others, or whose cold water is known."""

    month: MonthName = choice("Month", "January")
    share: Given | None = quantity(
        "percent", "Hot water of the usual", least=0, most=3, short="Of the usual", help="0 % while nobody is there"
    )
    cold: Given | None = quantity("temperature", "Cold water of the month", least=0, most=35, short="Cold water", help="empty: as else")


class Store(IdentifiedPart):
    """What keeps water warm."""

    name: str = text("Store", short="Name")
    volume: Given | None = quantity("litres", "Volume of the store", least=0, most=20000, short="Volume")
    loss: Given | None = quantity(
        "w_per_k", "Store loss", least=0, most=100, short="Loss", help="W/K, Btu/(h·°F), or kWh/24 h; empty: by its volume, assumed"
    )
    temperature: Given | None = quantity("temperature", "Kept at", least=20, most=95, help="empty: as the hot water", short="Kept at")
    place: Stands = choice("It stands", "inside the envelope", short="Stands")
    space: str = ref("In which unheated space", "spaces", only="place=unheated space", short="Space", help="empty: the first of the home")


class PipeCorner(IdentifiedPart):
    """A point of a pipe drawn on a plan, from the plans' own zero."""

    x: Given | None = quantity("length", "Across", least=-1000, most=1000, whole="yes")
    y: Given | None = quantity("length", "Upward on the plan", least=-1000, most=1000, whole="yes")


class PipeRun(IdentifiedPart):
    """A pipe of hot water: one that is kept warm all round, or one to a tap that cools after each draw-off."""

    name: str = text("Pipe", short="Name")
    kind: Literal["circulation", "to a tap"] = choice("Kind of pipe", "circulation", short="Kind")
    length: Given | None = quantity("length", "Length of the pipe", least=0, most=500, short="Length", help="empty: as drawn")
    psi: Given | None = quantity(
        "psi", "Pipe loss ψ", least=0, most=2, short="ψ", only="kind=circulation", help="empty: by the pipe and its insulation"
    )
    diameter: Given | None = quantity("width", "Outer diameter of the pipe", above=0, most=0.5, short="Pipe", group="Pipe and insulation")
    insulation: Given | None = quantity("width", "Insulation of the pipe", least=0, most=0.5, short="Insulation", only="kind=circulation")
    conductivity: Given | None = quantity("conductivity", "λ of the pipe's insulation", above=0, most=1, short="λ", only="kind=circulation")
    content: Given | None = quantity(
        "litres", "Content of the pipe", least=0, most=200, short="Content", help="empty: by its length and diameter"
    )
    hours: Given | None = quantity(
        "hours", "Hours a day it runs", least=0, most=24, short="Hours a day", only="kind=circulation", group="Use"
    )
    pattern: str = ref("It runs by", "patterns", only="kind=circulation", short="Pattern", help="a pattern counts in the place of hours")
    stops: Given | None = quantity(
        "count", "Stops a day", least=0, most=96, short="Stops", only="kind=circulation", help="empty: one, where it does not run all day"
    )
    draws: Given | None = quantity("count", "Draws per person and day", least=0, most=100, short="Draws a day", only="kind=to a tap")
    place: Stands = choice("It lies", "inside the envelope", group="Place", short="Lies")
    space: str = ref("In which unheated space", "spaces", only="place=unheated space", short="Space", help="empty: the first of the home")
    storey: str = ref("Drawn on the storey", "storeys", short="Storey")
    rise: Given | None = quantity(
        "length", "Up and down", least=0, most=100, short="Up and down", help="what the plan does not show; added to what is drawn"
    )
    corners: tuple[PipeCorner, ...] = ()


class SolarField(IdentifiedPart):
    """Collectors that heat the water."""

    name: str = text("Collectors", short="Name")
    area: Given | None = quantity("area", "Collector area", least=0, most=500, help="the area its sheet refers to", short="Area")
    values: Literal["at the mean", "at the inlet"] = choice(
        "Its values hold", "at the mean", help="at the mean: η₀, a₁, a₂ of a sheet; at the inlet: F_R(τα), F_R·U_L", short="Values"
    )
    optical: Given | None = quantity("fraction", "Optical value", least=0, most=1, help="η₀ or F_R(τα)", short="Optical")
    loss: Given | None = quantity("u", "Loss value", least=0, most=20, help="a₁ or F_R·U_L", short="Loss")
    loss_second: Given | None = quantity(
        "u", "Second loss value a₂", least=0, most=1, only="values=at the mean", short="a₂", help="W/(m²·K²)"
    )
    tilt: Given | None = quantity("angle", "Tilt", least=0, most=90, group="Where it lies", help="0 flat, 90 upright; empty: as its face")
    azimuth: Given | None = quantity("angle", "Direction", least=0, most=360, help="180 south; empty: as its face")
    face: str = ref("On the face", "faces", short="Face")
    sunlit: Given | None = quantity(
        "fraction",
        "Sun that reaches it",
        least=0,
        most=1,
        help="past what stands near; the horizon counts by itself; empty: all",
        short="Sunlit",
    )
    volume: Given | None = quantity("litres", "Store it heats", least=0, most=20000, group="Store and pump", short="Store")
    pump: Given | None = quantity("electricity", "Electricity of its pump", least=0, most=10000, short="Pump")


class HotWater(IdentifiedPart):
    id: Id = "hot-water"
    demand: Literal["by person", "by draw-offs"] = choice("Hot water is told", "by person", group="Drawn", short="Told")
    litres: Given | None = quantity(
        "litres", "Hot water per person and day", least=0, most=500, only="demand=by person", short="A person a day"
    )
    temperature: Given | None = quantity("temperature", "Hot water", least=20, most=95, short="At")
    pattern: str = ref("Drawn by the hours of", "patterns", only="demand=by person", short="Pattern", help="empty: all hours alike")
    days_a_week: Given | None = quantity("factor", "Days a week", least=0, most=7, help="on which hot water is drawn; empty: 7")
    cold: Given | None = quantity(
        "temperature", "Cold water, all year", least=0, most=30, help="empty: from the climate", short="All year", group="Cold water"
    )
    cold_least: Given | None = quantity(
        "temperature",
        "Cold water in its coldest month",
        least=0,
        most=30,
        help="with its warmest: in between by the climate",
        short="Coldest",
    )
    cold_most: Given | None = quantity("temperature", "Cold water in its warmest month", least=0, most=35, short="Warmest")
    stores: tuple[Store, ...] = ()
    runs: tuple[PipeRun, ...] = ()
    draw_offs: tuple[DrawOff, ...] = ()
    months: tuple[WaterMonth, ...] = ()
    solar: tuple[SolarField, ...] = ()
