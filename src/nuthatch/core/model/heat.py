"""Where heat and power come from: carriers, heat sources, modules on the roof."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, flag, quantity, ref, text
from nuthatch.core.model.target_set import CarrierKind


class Carrier(IdentifiedPart):
    name: str = text("Energy carrier", short="Carrier")
    kind: CarrierKind = choice("Kind of carrier", "other", help="Target sets that fix factors find it by its kind.", short="Kind")
    primary: Given | None = quantity("factor", "Primary energy factor", least=0, most=10, group="Factors", short="Primary energy")
    co2: Given | None = quantity("co2_factor", "CO₂ factor", least=0, most=5, short="CO₂")
    billed: Literal["kWh", "m³", "therm", "l", "kg", "stacked m³"] = choice("Billed by the", "kWh", group="Price", short="Billed by the")
    price: Given | None = quantity("price", "Price", least=0, most=100, only="billed=kWh")
    unit_price: Given | None = quantity(
        "factor", "Price of a unit", least=0, most=100000, only="billed=m³|therm|l|kg|stacked m³", short="Price", help="of what is billed"
    )
    unit_energy: Given | None = quantity(
        "energy_month",
        "Energy in a unit",
        above=0,
        most=100000,
        only="billed=m³|l|kg|stacked m³",
        short="Energy",
        help="empty: usual of its kind",
    )
    standing: Given | None = quantity(
        "money", "Standing charge", least=0, most=100000, help="a year, where anything of it is used; empty: none"
    )


class PerformancePoint(IdentifiedPart):
    """A point of a heat pump's data sheet, such as A7/W35: COP at a source and a flow temperature."""

    source: Given | None = quantity("temperature", "Source", least=-30, most=40, help="A7: 7 °C outside air", whole="yes")
    flow: Given | None = quantity("temperature", "Flow", least=15, most=90, help="W35: 35 °C", whole="yes")
    cop: Given | None = quantity("factor", "COP", least=0.5, most=15)


class FurtherCarrier(IdentifiedPart):
    """Another carrier of a source: it makes so much of the source's heat, the source's own carrier the rest."""

    carrier: str = ref("Energy carrier", "carriers", short="Carrier")
    share: Given | None = quantity(
        "percent", "Share of the source's heat", least=0, most=1, short="Share", help="the first carrier makes the rest"
    )
    efficiency: Given | None = quantity("percent", "Efficiency with it", above=0, most=10, short="Efficiency", help="empty: as the source")


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
    distribution: Given | None = quantity(
        "percent",
        "Lost in distribution and control",
        least=0,
        most=2,
        help="of the heat for the rooms, on top of it; empty: none",
        short="Distribution",
    )
    auxiliary: Given | None = quantity(
        "electricity",
        "Auxiliary electricity",
        least=0,
        most=100000,
        group="Pumps and standby",
        short="Pumps, fans",
        help="pumps, fans, control",
    )
    standby: Given | None = quantity("electric_power", "Standby", least=0, most=5000, help="all hours of the year", short="Standby")
    power: Given | None = quantity(
        "heat_power", "Most heat it gives", above=0, most=1e6, group="Limits", short="At most", help="of the rooms; empty: enough"
    )
    stops_below: Given | None = quantity(
        "temperature",
        "Bivalence point",
        least=-40,
        most=30,
        short="Bivalence",
        only="kind=heat pump",
        help="outdoors; below it another source helps, or does it alone",
    )
    below: Literal["both together", "the other alone"] = choice(
        "Below it", "both together", only="kind=heat pump", help="where there is a bivalence point"
    )
    takes_over: str = ref("What takes over", "sources", short="Rest by", help="what this source cannot give")
    stove_air: Literal["outside air", "room air"] = choice(
        "Air to burn comes from", "outside air", only="kind=stove", group="Stove", short="Air"
    )
    takes_from: Literal["outside air", "ground", "ground water", "exhaust air", "air leaving the unit"] = choice(
        "Takes heat from", "outside air", only="kind=heat pump", group="Heat pump", short="Takes from",
        help="air leaving the unit: of a compact unit, behind its heat exchanger",
    )  # fmt: skip
    flow_design: Given | None = quantity(
        "temperature",
        "Flow at the winter design",
        least=20,
        most=80,
        only="kind=heat pump",
        short="Flow at design",
        help="of the emitters on the coldest two days; it falls to 25 °C at 16 °C outside",
    )
    flow_most: Given | None = quantity(
        "temperature",
        "Hottest flow",
        least=25,
        most=95,
        only="kind=heat pump",
        help="for hot water; what is hotter another source makes",
        short="Hottest flow",
    )
    ground_temperature: Given | None = quantity(
        "temperature",
        "Source in the ground, all year",
        least=-15,
        most=25,
        only="kind=heat pump",
        short="In the ground",
        help="of a loop, or of ground water; empty: from the climate's months",
    )
    points: tuple[PerformancePoint, ...] = ()
    further: tuple[FurtherCarrier, ...] = ()


class Modules(IdentifiedPart):
    """Modules that turn sun into electricity, all in one plane."""

    name: str = text("Modules", short="Name")
    peak: Given | None = quantity(
        "electric_power", "Peak power of the modules", least=0, most=1e6, short="Peak", help="all of them, at 1000 W/m² and 25 °C"
    )
    tilt: Given | None = quantity(
        "angle", "Tilt of the modules", least=0, most=90, group="Where they lie", short="Tilt", help="empty: as their face"
    )
    azimuth: Given | None = quantity(
        "angle", "Direction of the modules", least=0, most=360, short="Direction", help="180 south; empty: as their face"
    )
    face: str = ref("On the face", "faces", short="Face")
    mounted: Literal["on the roof", "free standing"] = choice("Mounted", "on the roof", help="air behind keeps them cooler")
    sunlit: Given | None = quantity(
        "fraction",
        "Sun that reaches the modules",
        least=0,
        most=1,
        short="Sunlit",
        help="past what stands near; the horizon counts by itself; empty: all",
    )
    warm: Given | None = quantity(
        "per_kelvin", "Change of power with warmth", least=-0.02, most=0, group="Sheet", short="Warmth", help="empty: −0.40 %/K"
    )
    losses: Given | None = quantity(
        "percent", "Losses of the modules", least=0, most=0.9, short="Losses", help="dirt, wires, mismatch, age; empty: 14 %"
    )
    inverter: Given | None = quantity("percent", "Inverter", above=0, most=1, help="empty: 96 %")


class OwnPower(IdentifiedPart):
    """Electricity a home makes itself."""

    id: Id = "own-power"
    counted: Literal["not counted", "counted"] = choice(
        "Own electricity in the results",
        "not counted",
        short="In the results",
        help="what is used at home, off what is bought; sets say it for their targets",
    )
    battery: bool = flag("A battery keeps some of it", False, short="Battery")
    own_use: Given | None = quantity(
        "percent", "Used at home", least=0, most=1, help="of the smaller of yield and use; empty: 30 %, 60 % with a battery"
    )
    feed_in: Given | None = quantity("price", "Paid for what is fed in", least=0, most=100, short="Fed in")
    modules: tuple[Modules, ...] = ()
