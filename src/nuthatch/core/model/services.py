"""What keeps a home warm and lit: household, hot water, energy carriers and heat sources."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, flag, quantity, ref, text
from nuthatch.core.model.target_set import CarrierKind


class Appliance(IdentifiedPart):
    name: str = text("Appliance or light", short="Name")
    energy: Given | None = quantity(
        "electricity", "Electricity", least=0, most=100000, help="of a year; of one use where uses a year are given"
    )
    uses: Given | None = quantity(
        "count", "Uses a year", least=0, most=100000, help="empty: the electricity is that of a year", short="Uses a year"
    )
    number: Given | None = quantity("count", "Number of them", least=0, most=10000, help="empty: one", short="Number")
    inside_share: Given | None = quantity("percent", "Heat left in the home", least=0, most=1, short="Heat left inside")


class Household(IdentifiedPart):
    id: Id = "household"
    people: Given | None = quantity("count", "People, typed", least=0, most=100, help="empty: from bedrooms", group="People", short="Typed")
    floor_per_person: Given | None = quantity(
        "area", "Floor area per person", above=0, most=1000, help="another way to say people", short="Floor area each"
    )
    gains: Literal["simple", "itemised"] = choice("Internal gains", "simple", group="Internal gains", short="They are")
    simple_gains: Given | None = quantity("heat_flux", "Simple gains", least=0, most=30, short="Lump", only="gains=simple")
    person_heat: Given | None = quantity(
        "power", "Heat of a person, mean", least=0, most=200, short="Heat of a person", only="gains=itemised"
    )
    electricity: Given | None = quantity(
        "electricity", "Household electricity, typed", least=0, most=100000, group="Electricity", short="Typed"
    )
    humidity: Literal["1", "2", "3", "4", "5"] = choice(
        "Humidity class",
        "3",
        help="ISO 13788: 1 stores; 2 dwellings in normal use with ventilation, offices; 3 buildings of unknown use; 4 kitchens, sports halls; 5 special",
        group="Moisture of the air",
    )
    indoor_humidity: Given | None = quantity(
        "fraction", "Relative humidity inside", above=0, most=1, help="all year; empty: by the class", short="Or measured"
    )
    appliances: tuple[Appliance, ...] = ()


class DrawOff(IdentifiedPart):
    """Water drawn in one way: how much each time, how warm, how often."""

    name: str = text("Draw-off", short="Name")
    litres: Given | None = quantity("litres", "Water each time", least=0, most=1000, short="Each time")
    temperature: Given | None = quantity("temperature", "Drawn at", least=10, most=90, short="At")
    number: Given | None = quantity("factor", "Times a day", least=0, most=200, short="A day")
    per: Literal["the home", "a person"] = choice("Counted for", "a person", short="For")


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
        "litres", "Hot water per person and day", least=0, most=500, only="demand=by person", short="A person and day"
    )
    temperature: Given | None = quantity("temperature", "Hot water", least=20, most=95, short="At")
    cold: Given | None = quantity(
        "temperature", "Cold water, all year", least=0, most=30, help="empty: from the climate", short="Cold water"
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
    store_loss: Given | None = quantity("w_per_k", "Store loss", least=0, most=100, group="Store", short="Loss")
    store_temperature: Given | None = quantity("temperature", "Store", least=20, most=95, short="Temperature")
    store_inside: bool = flag("Store inside the envelope", True, short="Inside")
    circulation_length: Given | None = quantity("length", "Circulation pipe", least=0, most=500, group="Circulation", short="Length")
    circulation_psi: Given | None = quantity(
        "psi", "Pipe loss ψ", least=0, most=2, short="ψ", help="empty: by the pipe and its insulation below"
    )
    circulation_diameter: Given | None = quantity("width", "Circulation pipe, outer diameter", above=0, most=0.5, short="Pipe")
    circulation_insulation: Given | None = quantity("width", "Insulation of the circulation pipe", least=0, most=0.5, short="Insulation")
    circulation_lambda: Given | None = quantity("conductivity", "λ of the pipe's insulation", above=0, most=1, short="λ")
    circulation_hours: Given | None = quantity("hours", "Circulation hours a day", least=0, most=24, short="Hours a day")
    draw_content: Given | None = quantity("litres", "Content of draw-off pipes", least=0, most=50, group="Draw-off pipes", short="Content")
    draws: Given | None = quantity("count", "Draw-offs per person and day", least=0, most=50, short="Draws a day")
    draw_offs: tuple[DrawOff, ...] = ()
    solar: tuple[SolarField, ...] = ()


class Carrier(IdentifiedPart):
    name: str = text("Energy carrier", short="Carrier")
    kind: CarrierKind = choice("Kind of carrier", "other", help="Target sets that fix factors find it by its kind.", short="Kind")
    primary: Given | None = quantity("factor", "Primary energy factor", least=0, most=10, group="Factors", short="Primary energy")
    co2: Given | None = quantity("co2_factor", "CO₂ factor", least=0, most=5, short="CO₂")
    price: Given | None = quantity("price", "Price", least=0, most=100)
    standing: Given | None = quantity(
        "money", "Standing charge", least=0, most=100000, help="a year, where anything of it is used; empty: none"
    )


class PerformancePoint(IdentifiedPart):
    """A point of a heat pump's data sheet, such as A7/W35: COP at a source and a flow temperature."""

    source: Given | None = quantity("temperature", "Source", least=-30, most=40, help="A7: 7 °C outside air", whole="yes")
    flow: Given | None = quantity("temperature", "Flow", least=15, most=90, help="W35: 35 °C", whole="yes")
    cop: Given | None = quantity("factor", "COP", least=0.5, most=15)


class HeatSource(IdentifiedPart):
    name: str = text("Heat source", short="Source")
    kind: Literal["other", "boiler", "stove", "district heat", "direct electric", "heat pump"] = choice(
        "Kind of source", "other", short="Kind"
    )
    carrier: str = ref("Energy carrier", "carriers", short="Carrier")
    heating_share: Given | None = quantity("percent", "Share of heating", least=0, most=1, totals="all", group="Share of", short="Heating")
    water_share: Given | None = quantity("percent", "Share of hot water", least=0, most=1, totals="all", short="Hot water")
    cooling_share: Given | None = quantity("percent", "Share of cooling", least=0, most=1, totals="all or none", short="Cooling")
    efficiency: Given | None = quantity(
        "percent",
        "Efficiency or COP",
        above=0,
        most=10,
        help="a COP of 3.2 is 320 %; of a heat pump empty: by the points of its data sheet",
        group="Efficiency",
        short="Or COP",
    )
    cooling_performance: Given | None = quantity(
        "percent", "Performance in cooling", above=0, most=15, help="empty: as the efficiency; an EER of 3 is 300 %", short="In cooling"
    )
    auxiliary: Given | None = quantity("electricity", "Auxiliary electricity", least=0, most=100000, short="Auxiliary")
    takes_from: Literal["outside air", "ground", "exhaust air"] = choice(
        "Takes heat from", "outside air", only="kind=heat pump", group="Heat pump", short="Takes from"
    )
    flow_design: Given | None = quantity(
        "temperature",
        "Flow at the winter design",
        least=20,
        most=80,
        only="kind=heat pump",
        short="Flow at design",
        help="of the emitters on the coldest two days; it falls to 25 °C at 16 °C outside",
    )
    ground_temperature: Given | None = quantity(
        "temperature",
        "Source of a ground loop, all year",
        least=-15,
        most=25,
        only="kind=heat pump",
        short="Ground loop",
        help="empty: from the climate's months",
    )
    points: tuple[PerformancePoint, ...] = ()
