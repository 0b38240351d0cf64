"""Who lives in a home and what they use."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, flag, quantity, ref, text


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
    pattern: str = ref("Used by the hours of", "patterns", short="Pattern", help="empty: all hours alike")
    room: str = ref("It stands in", "rooms", short="Room")


class ApplianceSet(IdentifiedPart):
    """Appliances and lights an office uses again and again."""

    name: str = text("Appliances and lights", short="Name")
    appliances: tuple[Appliance, ...] = ()


class Household(IdentifiedPart):
    id: Id = "household"
    people: Given | None = quantity("count", "People, typed", least=0, most=100, help="empty: from bedrooms", group="People", short="Typed")
    floor_per_person: Given | None = quantity(
        "area", "Floor area per person", above=0, most=1000, help="another way to say people", short="Floor area each"
    )
    gains: Literal["simple", "itemised"] = choice("Internal gains", "simple", group="Internal gains", short="They are")
    simple_gains: Given | None = quantity("heat_flux", "Simple gains", least=0, most=30, short="Lump", only="gains=simple")
    person_heat: Given | None = quantity(
        "power", "Heat of a person, mean", least=0, most=200, short="Heat of a person", only="gains=itemised",
        help="over the whole day; with a day pattern while somebody is at home",
    )  # fmt: skip
    presence: str = ref("People are at home by", "patterns", only="gains=itemised", short="Pattern", help="empty: the mean says it")
    electricity: Given | None = quantity(
        "electricity", "Household electricity, typed", least=0, most=100000, group="Electricity", short="Typed"
    )
    by_hand: Literal["left out", "counted"] = choice(
        "Windows opened by hand",
        "left out",
        group="In summer",
        short="Windows",
        help="whether they count in the time that is too warm; a target set may fix it",
    )
    hand_most: Given | None = quantity(
        "ach", "Most air by open windows", least=0, most=20, short="Most air", help="a rate of all rooms; empty: 3 1/h"
    )
    window_hours: str = ref("Windows are opened by the hours of", "patterns", short="Open by", help="empty: from 7 to 22")
    night_windows: bool = flag("Windows of bedrooms open by night", False, short="Bedrooms by night")
    blind_hours: str = ref("Blinds are moved by the hours of", "patterns", short="Blinds by", help="empty: whenever the sun asks for it")
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
