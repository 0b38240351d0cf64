"""Whether the light of a weather file comes when the sun does: asked once the path of the sun is known."""

from __future__ import annotations

from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import STATION, Weathered
from nuthatch.core.graph.stage import Slot, Stages
from nuthatch.core.results.figure import Computing, Unknown
from nuthatch.core.results.question import Question
from nuthatch.core.sun.shares import SunPath
from nuthatch.core.sun.stages import PATH

LATE = 0.75
"""Hours the middle of the light may lie off that of the day before it is asked about."""
STAGES = Stages()
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the light in the weather file", asks=True)


@STAGES.stage(ASKS, climate=STATION, path=PATH)
def asks(climate: Weathered, path: SunPath | Unknown | Computing) -> tuple[Question, ...]:
    """A time zone or longitude of the weather file that does not fit its hours. (Hours made from months fit by themselves.)"""
    if not isinstance(climate, Climate) or not isinstance(path, SunPath):
        return ()
    gap = climate.light_gap(path.height)
    if abs(gap) <= LATE:
        return ()
    weather = climate.weather
    text = (
        f"The light in the weather file comes {abs(gap):.1f} h {'later' if gap > 0 else 'earlier'} than the sun does at its "
        f"longitude {weather.longitude:.1f}° in its time zone {weather.time_zone:+g} h: are both right in its first row?"
    )
    return (Question("site", "climate", text),)
