"""How the climate hangs in the graph: the station's with months given by hand, at the site; the months' temperature, air density, zone."""

from __future__ import annotations

from typing import TypedDict, Unpack

import numpy as np

from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.generator import year_of
from nuthatch.core.climate.months import months_of, wanting
from nuthatch.core.graph.stage import CLIMATE, Slot, Stages, field, part
from nuthatch.core.model.home import Site
from nuthatch.core.model.part import Given
from nuthatch.core.model.site import ClimateMonth
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.figure import Computing, Entered, Need, Node, Unknown, because
from nuthatch.core.results.question import Question
from nuthatch.core.units import with_unit

Weathered = Climate | Unknown | Computing
"""The climate, or why it is not there."""

STAGES = Stages()
MADE: Slot[object] = Slot("year made of months")
"""A Climate, or why there is none."""
STATION: Slot[Weathered] = Slot("climate of the station")
"""The weather file's with what is given by hand, or a year made of twelve months."""
AT_SITE: Slot[Weathered] = Slot("climate at the site")
FAR = 100.0
"""Metres between station and site above which the correction is asked about."""
OUTSIDE: Slot[Node] = Slot("outdoor temperature")
DENSITY: Slot[Node] = Slot("air density")
ZONE: Slot[str | Computing] = Slot("climate zone")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the site", asks=True)


def _waiting(since: float) -> Computing:
    return Computing("Climate", "text", since, "the climate of the months")


class Where(TypedDict):
    """Where a year of months is."""

    longitude: Given | None
    elevation: Given | None


def _no_year(climate: Weathered, months: tuple[ClimateMonth, ...], latitude: Given | None, **_: Unpack[Where]) -> bool:
    """Whether there is nothing to make a year of, or no need."""
    found = months_of(months) if isinstance(climate, Unknown) and latitude is not None else None
    return found is None or not found.whole


@STAGES.slow(
    MADE,
    _waiting,
    at_hand=_no_year,
    climate=CLIMATE,
    months=part("site.months"),
    latitude=part("site.latitude"),
    longitude=part("site.longitude"),
    elevation=part("site.elevation"),
)
def made_year(climate: Weathered, months: tuple[ClimateMonth, ...], latitude: Given | None, **at: Unpack[Where]) -> Weathered | None:
    """Where there is no weather file: a year whose months are those given by hand; None while they are not all there."""
    found = months_of(months)
    if latitude is None or found is None or not found.whole or not isinstance(climate, Unknown):
        return None
    longitude, elevation = (given.value if given is not None else 0.0 for given in (at["longitude"], at["elevation"]))
    flat, *walls = found.sun
    weather = year_of(
        "months by hand", (latitude.value, longitude, elevation), tuple(found.temperature.tolist()), tuple(flat.tolist()), np.array(walls)
    )
    return Climate(weather, f"made of months {latitude.value} {longitude} {found.content()}", made=True)


@STAGES.stage(STATION, climate=CLIMATE, made=MADE, months=part("site.months"), latitude=part("site.latitude"))
def station(climate: Weathered, made: object, months: tuple[ClimateMonth, ...], latitude: Given | None) -> Weathered:
    """The climate the home is computed with, as at its station."""
    if isinstance(climate, Computing):
        return climate
    if isinstance(made, Computing | Unknown):
        return made
    base = made if isinstance(made, Climate) else climate
    if isinstance(base, Climate):
        return base.corrected(months_of(months))
    if not months:
        return climate
    where = (Need("the latitude of the site", "site", "latitude"),) if latitude is None else ()
    return Unknown("climate", "text", (*where, *wanting(months)))


@STAGES.stage(AT_SITE, climate=STATION, elevation=part("site.elevation"))
def at_site(climate: Weathered, elevation: Given | None) -> Weathered:
    """The station's climate, corrected to the elevation of the site where that is given."""
    return climate.at(elevation.value) if isinstance(climate, Climate) and elevation is not None else climate


@STAGES.stage(OUTSIDE, climate=AT_SITE)
def outside(climate: Weathered) -> Node:
    """Outdoor temperature by month."""
    if not isinstance(climate, Climate):
        return because("outdoor temperature", "temperature", climate)
    source = climate.name
    if climate.station is not None:
        source = f"{source}, {with_unit(climate.weather.elevation - climate.station.weather.elevation, 'elevation')} higher, −6.5 K per km"
    return Entered("outdoor temperature by month", climate.temperature, "temperature", "calculated", source)


@STAGES.stage(DENSITY, climate=AT_SITE)
def density(climate: Weathered) -> Node:
    """Air density at the site over that at sea level."""
    if not isinstance(climate, Climate):
        return because("air density", "fraction", climate)
    return Entered("air density ratio at the site", climate.air_density_ratio, "fraction", "calculated", "ISO 2533")


@STAGES.stage(ZONE, climate=AT_SITE, moisture=field("site.moisture"))
def zone(climate: Weathered, moisture: str) -> str | Computing:
    """Climate zone with its moisture letter, '' without a climate."""
    if isinstance(climate, Computing):
        return climate
    return climate.zone("" if moisture.startswith("from") else moisture[0]) if isinstance(climate, Climate) else ""


@STAGES.stage(ASKS, climate=STATION, site=part("site"), sets=part("target_sets"))
def asks(climate: Weathered, site: Site, sets: tuple[TargetSet, ...]) -> tuple[Question, ...]:
    """The moisture regime, where the weather file has no rain and a target set asks for the zone; set-points that cross."""
    found = []
    if isinstance(climate, Climate) and climate.moisture is None and site.moisture.startswith("from") and any(s.ua_table for s in sets):
        found.append(Question("site", "moisture", "The weather file carries no rain: which moisture regime?"))
    if isinstance(climate, Climate) and site.elevation is not None and abs(site.elevation.value - climate.weather.elevation) > FAR:
        moved = ((climate.weather.elevation, "elevation"), (site.elevation.value, "elevation"))
        says = "The weather station lies at {0}, the site at {1}: is its temperature, less 6.5 K per km, the climate here?"
        found.append(Question("site", "elevation", says, moved))
    found += _of_months(site)
    if isinstance(climate, Climate) and not climate.made:
        found += _of_header(climate)
    low, high = site.heating_setpoint, site.cooling_setpoint
    if low is not None and high is not None and low.value > high.value:
        amounts = ((low.value, "temperature"), (high.value, "temperature"))
        found.append(Question("site", "heating_setpoint", "Heating to {0} and cooling to {1} at once cannot be", amounts))
    return tuple(found)


def _of_months(site: Site) -> list[Question]:
    """Months by hand that are there twice, or have more sun than there can be."""
    found, seen = [], set[str]()
    for row in site.months:
        if row.month in seen:
            found.append(Question(row.id, "month", f"{row.month} is there twice by hand; the first of them counts"))
        seen.add(row.month)
    return found


def _of_header(climate: Climate) -> list[Question]:
    """A header that names another climate zone than its hours give."""
    weather = climate.weather
    if not weather.said_zone or weather.said_zone[0] == climate.zone()[0]:
        return []
    text = (
        f"The header of the weather file names climate zone {weather.said_zone}, its hours give {climate.zone()}: is it the place it says?"
    )
    return [Question("site", "climate", text)]
