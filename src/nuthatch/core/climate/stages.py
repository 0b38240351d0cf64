"""How the climate hangs in the graph: the months' temperature, air density and zone."""

from __future__ import annotations

from nuthatch.core.climate.climate import Climate
from nuthatch.core.graph.stage import CLIMATE, Slot, Stages, field, part
from nuthatch.core.model.home import Site
from nuthatch.core.model.part import Given
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.figure import Computing, Entered, Node, Unknown, because
from nuthatch.core.results.question import Question
from nuthatch.core.units import with_unit

Weathered = Climate | Unknown | Computing
"""The climate, or why it is not there."""

STAGES = Stages()
AT_SITE: Slot[Weathered] = Slot("climate at the site")
FAR = 100.0
"""Metres between station and site above which the correction is asked about."""
OUTSIDE: Slot[Node] = Slot("outdoor temperature")
DENSITY: Slot[Node] = Slot("air density")
ZONE: Slot[str | Computing] = Slot("climate zone")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the site", asks=True)


@STAGES.stage(AT_SITE, climate=CLIMATE, elevation=part("site.elevation"))
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


@STAGES.stage(ASKS, climate=CLIMATE, site=part("site"), sets=part("target_sets"))
def asks(climate: Weathered, site: Site, sets: tuple[TargetSet, ...]) -> tuple[Question, ...]:
    """The moisture regime, where the weather file has no rain and a target set asks for the zone; set-points that cross."""
    found = []
    if isinstance(climate, Climate) and climate.moisture is None and site.moisture.startswith("from") and any(s.ua_table for s in sets):
        found.append(Question("site", "moisture", "The weather file carries no rain: which moisture regime?"))
    if isinstance(climate, Climate) and site.elevation is not None and abs(site.elevation.value - climate.weather.elevation) > FAR:
        moved = ((climate.weather.elevation, "elevation"), (site.elevation.value, "elevation"))
        says = "The weather station lies at {0}, the site at {1}: is its temperature, less 6.5 K per km, the climate here?"
        found.append(Question("site", "elevation", says, moved))
    low, high = site.heating_setpoint, site.cooling_setpoint
    if low is not None and high is not None and low.value > high.value:
        amounts = ((low.value, "temperature"), (high.value, "temperature"))
        found.append(Question("site", "heating_setpoint", "Heating to {0} and cooling to {1} at once cannot be", amounts))
    return tuple(found)
