"""What keeps a home fresh: how it is aired, its ventilation units with their ducts, the hours they run."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, flag, quantity, ref, text

DuctWay = Literal["outdoor air", "supply air", "extract air", "exhaust air"]
Operation = Literal["normal", "low", "boost", "off"]


class Duct(IdentifiedPart):
    """A piece of one of the four ducts between a unit and the envelope, or through a cold space."""

    way: DuctWay = choice("Duct", "outdoor air", help="outdoor and exhaust air are cold, supply and extract air warm", short="It carries")
    length: Given | None = quantity("length", "Duct length", least=0, most=100, short="Length")
    diameter: Given | None = quantity("width", "Duct diameter", above=0, most=1, short="Diameter")
    insulation: Given | None = quantity("width", "Duct insulation", above=0, most=0.5, short="Insulation")
    conductivity: Given | None = quantity("conductivity", "Duct insulation λ", above=0, most=1, short="Insulation λ")


class VentilationUnit(IdentifiedPart):
    id: Id = "unit"
    name: str = text("Ventilation unit", short="Unit")
    moves: Literal["supply and extract", "extract only", "supply only"] = choice("Moves", "supply and extract")
    stands: Literal["inside the envelope", "outside the envelope"] = choice(
        "Stands", "inside the envelope", help="inside, its cold ducts lose heat; outside, its warm ones"
    )
    recovery: Given | None = quantity(
        "percent", "Heat recovery", least=0, most=1, short="Recovery", group="Recovery and fans", only="moves=supply and extract"
    )
    power: Given | None = quantity("specific_power", "Fan power", least=0, most=5, help="all fans together, at the normal flow")
    power_least: Given | None = quantity("specific_power", "Fan power at the least flow", least=0, most=5, short="at least flow")
    power_most: Given | None = quantity(
        "specific_power", "Fan power at the most flow", least=0, most=5, short="at most flow", help="with both, by the flow between them"
    )
    supply: Given | None = quantity(
        "flow",
        "Supply flow",
        least=0,
        most=5000,
        help="empty: by demand, normal operation",
        group="Flows",
        short="Supply",
        only="moves=supply and extract|supply only",
    )
    extract: Given | None = quantity(
        "flow", "Extract flow", least=0, most=5000, help="empty: as supply", short="Extract", only="moves=supply and extract|extract only"
    )
    least_flow: Given | None = quantity("flow", "Least flow of the unit", least=0, most=5000, short="At least")
    most_flow: Given | None = quantity("flow", "Most flow of the unit", above=0, most=5000, short="At most")
    frost: Literal["none", "electric preheating"] = choice("Frost protection", "none", group="Winter and summer", short="Frost")
    frost_limit: Given | None = quantity(
        "temperature", "Outdoor air warmed to", least=-20, most=10, short="Warmed to", only="frost=electric preheating"
    )
    bypass: bool = flag("Summer bypass", True, short="Bypass", only="moves=supply and extract")
    bypass_from: Given | None = quantity(
        "temperature",
        "Bypass opens from an outdoor mean of",
        least=-20,
        most=35,
        short="Open from",
        only="moves=supply and extract",
        help="the month's mean outside; empty: any month cooler than the cooling set-point",
    )
    ducts: tuple[Duct, ...] = ()


class OperatingHours(IdentifiedPart):
    """Hours of the day in which the ventilation runs other than normally."""

    runs: Operation = choice("Runs", "low")
    start: Given | None = quantity("hours", "From", least=0, most=24)
    end: Given | None = quantity("hours", "To", least=0, most=24)
    days: Literal["every day", "working days", "weekends"] = choice("On", "every day")


class Air(IdentifiedPart):
    id: Id = "air"
    test: str = ref("Air test that counts", "air_tests", help="its n50 is measured; none: n50 as typed", short="Test")
    n50: Given | None = quantity("ach", "Air change at 50 Pa, n50", least=0, most=50, short="n50", help="where no test counts")
    exposed: Literal["several sides", "one side"] = choice("Exposed to wind", "several sides", short="Wind on")
    shielding: Literal["open", "moderate", "high", "as the site shows"] = choice(
        "Wind shielding",
        "moderate",
        short="Shielding",
        help="as the site shows: by the part of the wind that comes from sheltered directions",
    )
    without: Literal["windows opened by hand", "leaks alone"] = choice(
        "Without a unit", "windows opened by hand", help="what brings fresh air where there is no unit", group="Fresh air", short="No unit"
    )
    kitchens: Given | None = quantity("count", "Kitchens", least=0, most=20, help="empty: counted among the drawn rooms", group="Rooms")
    baths: Given | None = quantity("count", "Baths", least=0, most=20)
    wcs: Given | None = quantity("count", "WCs", least=0, most=20)
    low_share: Given | None = quantity(
        "percent", "Low operation, of normal", least=0, most=1, help="empty: 70 %", group="Operation", short="Low"
    )
    boost_share: Given | None = quantity(
        "percent", "Boost, of normal", least=1, most=5, help="empty: as much as the extract rooms ask for", short="Boost"
    )
    units: tuple[VentilationUnit, ...] = ()
    hours: tuple[OperatingHours, ...] = ()
