"""The climate in pictures and facts."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.climate import Climate
from nuthatch.core.energy.stages import LOAD
from nuthatch.core.sketch import Picture, Sketch
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.climate_drawn import climate_drawn, soil_of
from nuthatch.core.views.site_plan import shelter_words

Fact = tuple[str, str, str]
"""What, of the home's climate, of the one beside it."""


def facts_of(a: Assessment, climate: Climate, beside: Climate | None = None) -> list[Fact]:
    """What follows from the climate at the site, and from another beside it."""

    def both(name: str, of: object) -> Fact:
        return name, of(climate), of(beside) if beside is not None else ""  # type: ignore[operator]

    rows = [
        (f"Climate zone, {zone_rule(climate)}", a.zone, beside.zone() if beside is not None else ""),
        both("Mean of the year", lambda c: with_unit(c.annual_mean, "temperature")),
        both(
            "Sun on the horizontal, a year",
            lambda c: with_unit(float(c.on_planes[0].sum()), "irradiation") if c.sun_known else "not known yet",
        ),
        both(f"Heating degree days, {with_unit(18.3, 'temperature')}", lambda c: with_unit(c.degree_days(18.3), "degree_days")),
        both(
            f"Heating degree days, {show(12, 'temperature', 0)}/{with_unit(20, 'temperature', 0)}",
            lambda c: with_unit(c.degree_days_12_20, "degree_days"),
        ),
        both(f"Cooling degree days, {with_unit(10, 'temperature', 0)}", lambda c: with_unit(c.degree_days(10, True), "degree_days")),
        both("Winter design, two days", lambda c: _hourly(c, c.winter_design)),
        both("Summer design, three days", lambda c: _hourly(c, c.summer_design)),
        both(
            "Cold water, coldest and warmest month",
            lambda c: f"{show(c.cold_water.min(), 'temperature')} to {with_unit(c.cold_water.max(), 'temperature')}",
        ),
    ]
    said = climate.weather.said_zone
    if said:
        rows.insert(1, ("Climate zone by the file's header", said, beside.weather.said_zone if beside is not None else ""))
    load = a[LOAD]
    if load.temperature is not None and load.load.value is not None:
        sun = with_unit(load.sun.value, "power") if load.sun is not None and load.sun.value is not None else "not known yet"
        rows.append((f"Heating load is of {load.days}, sun {sun}", with_unit(load.temperature.value, "temperature"), ""))
    kept = shelter_words(a)
    if kept:
        rows.append((kept.partition(": ")[2], kept.partition(" ")[0], ""))
    return rows


def _hourly(climate: Climate, value: float) -> str:
    """A value that needs hours."""
    return "needs hours" if climate.made else with_unit(value, "temperature")


def zone_rule(climate: Climate) -> str:
    """Which rule of ASHRAE 169 gave the zone: “by 1510 K·d below 18.3 °C”."""
    warm = climate.degree_days(10, True)
    if warm > 3500:
        return f"by {with_unit(warm, 'degree_days')} above {with_unit(10, 'temperature', 0)}"
    return f"by {with_unit(climate.degree_days(18.3), 'degree_days')} below {with_unit(18.3, 'temperature')}"


def looked_at(a: Assessment, look: str, size: tuple[float, float], beside: Climate | None = None) -> Sketch:
    """The home's climate, and another beside it; a sentence where there is none."""
    shown = shown_of(a, beside)
    if not shown:
        return in_words(
            "computing …" if a.computing else "no climate is chosen yet: choose one from the library, or give twelve months by hand",
            look,
            size,
        )
    return climate_drawn(shown, look, size, soil_of(a.home.site))


def shown_of(a: Assessment, beside: Climate | None = None) -> tuple[Climate, ...]:
    """The climates that are looked at."""
    return tuple(c for c in (a.station, beside) if c is not None)


def in_words(words: str, look: str, size: tuple[float, float]) -> Sketch:
    """A sentence in the place of a drawing."""
    made = Sketch(*size, look)
    made.say(words)
    return made


PICTURES = (
    Picture("climate", "Climate by month", lambda a, _: looked_at(a, "Months", (560.0, 300.0))),
    Picture("climate-hours", "Climate by hour of the day", lambda a, _: looked_at(a, "Hours of the day", (560.0, 250.0))),
)
