"""Day patterns: what share of something is there, or used, in each hour of a day."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nuthatch.core.model.part import IdentifiedPart, Number, choice, text

Share = Annotated[Number, Field(ge=0, le=1)]
Hours = Annotated[tuple[Share, ...], Field(min_length=24, max_length=24)]
EVEN = (1.0,) * 24


class PatternDay(IdentifiedPart):
    """The 24 hours of one kind of day; where several kinds fit a day, the one that says most of it counts."""

    days: Literal["every day", "working days", "weekends"] = choice("On", "every day")
    season: Literal["all year", "winter", "summer"] = choice("In", "all year", help="winter: October to April north of the equator")
    hours: Hours = EVEN


class DayPattern(IdentifiedPart):
    """Shares of an installed amount by the hour; one pattern may serve many uses."""

    name: str = text("Day pattern", short="Name")
    kind: Literal["people", "lights", "appliances", "draw-off", "circulation", "heating", "windows", "blinds"] = choice(
        "Kind of pattern", "people", short="For", help="how it is drawn; any use may go by it"
    )
    days: tuple[PatternDay, ...] = ()
