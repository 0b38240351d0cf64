"""Target sets: a certification's or a code's list of limits, as data."""

from __future__ import annotations

from typing import Literal, Self

from pydantic import Field, field_validator, model_validator

from nuthatch.core.model.part import IdentifiedPart, Part

Dwelling = Literal["not given", "detached", "semi-detached", "terraced", "flat"]
CarrierKind = Literal["electricity", "gas", "oil", "wood", "district heat", "other"]


LARGEST_LIMIT = 1e9  # no result that is judged is below zero, so no limit is


LARGEST_U = 20.0


class Case(Part):
    """A limit that holds under conditions: climate zones, reference floor area [m²] over and up to, kinds of dwelling."""

    limit: float = Field(ge=0, le=LARGEST_LIMIT, strict=True)
    zones: tuple[str, ...] = ()
    over_area: float | None = Field(default=None, ge=0, le=1e6, strict=True)
    upto_area: float | None = Field(default=None, ge=0, le=1e6, strict=True)
    dwellings: tuple[Dwelling, ...] = ()

    @model_validator(mode="after")
    def _some_size(self) -> Self:
        if self.over_area is not None and self.upto_area is not None and self.upto_area <= self.over_area:
            raise ValueError(f"no home is over {self.over_area:g} m² and at most {self.upto_area:g} m²")
        return self


class Rise(Part):
    """A limit that grows with another figure: by `factor` for each unit that figure lies above `start`, up to `stop` or without end."""

    figure: str
    factor: float = Field(gt=0, le=1e6, strict=True)
    start: float = Field(ge=0, le=LARGEST_LIMIT, strict=True)
    stop: float | None = Field(default=None, ge=0, le=LARGEST_LIMIT, strict=True)

    @model_validator(mode="after")
    def _upward(self) -> Self:
        if self.stop is not None and self.stop <= self.start:
            raise ValueError(f"a limit rises from the smaller value to the larger; here from {self.start:g} to {self.stop:g}")
        return self


class Way(Part):
    """One way to meet a target: a figure against another figure, against the first case that fits, or else the limit.

    Without a limit and with no case that fits, the target does not apply to the home. `rise`: what the limit grows with. `decimals`: to
    how many decimals of the metric unit its results are rounded, half up, before they are compared; None: compared as they are.
    """

    figure: str
    sense: Literal["max", "min"] = "max"
    limit: float | None = Field(default=None, ge=0, le=LARGEST_LIMIT, strict=True)
    cases: tuple[Case, ...] = ()
    limit_figure: str = ""
    rise: Rise | None = None
    decimals: int | None = Field(default=None, ge=0, le=6, strict=True)


class Target(IdentifiedPart):
    """One line of a set. A line that gives points is voluntary: it counts through the sum the set asks for."""

    name: str
    ways: tuple[Way, ...] = Field(min_length=1)
    when: Literal["always", "slab on ground", "rooflights"] = "always"
    points: float | None = Field(default=None, gt=0, le=1e6, strict=True)
    source: str = ""


class Condition(Part):
    """Something a set fixes before it judges: a field of the home, “site.heating_setpoint” or “carrier.electricity.primary”, and its
    value in SI, or a word where the field is a choice."""

    field: str = Field(min_length=1, max_length=80)
    value: float | str
    source: str = Field(default="", max_length=2000)


FIXED = "fixed by "
"""How the source of a value begins that a target set has fixed."""


class FreshAir(Part):
    """The flow a set counts at normal operation where it fixes one: the larger of so much a person [m³/h] and so much of the reference
    volume [1/h]."""

    per_person: float = Field(ge=0, le=500, strict=True)
    per_volume: float = Field(ge=0, le=10, strict=True)


class TargetSet(IdentifiedPart):
    """A certification's or a code's limits as data, with their source; kept in the home that was judged by it."""

    name: str = Field(min_length=1)
    source: str
    targets: tuple[Target, ...]
    conditions: tuple[Condition, ...] = ()
    scope: str = Field(default="", max_length=200)
    points_needed: float | None = Field(default=None, gt=0, le=1e9, strict=True)
    dimensions: Literal["external", "internal", "any"] = "any"
    needs_glass_and_frame: bool = Field(default=False, strict=True)
    studio_people: int = Field(default=1, ge=1, le=10, strict=True)
    ua_table: dict[str, dict[str, float]] | None = None
    room_air: Literal["largest", "sum"] = "largest"
    fresh_air: FreshAir | None = None

    @field_validator("ua_table", mode="before")
    @classmethod
    def _u_values(cls, table: object) -> object:
        for row in table.values() if isinstance(table, dict) else ():
            for column, value in row.items() if isinstance(row, dict) else ():
                if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= LARGEST_U:
                    raise ValueError(f"the U-value for “{column}” must be a number from 0 to {LARGEST_U:g}; it was {value!r}"[:200])
        return table

    @model_validator(mode="after")
    def _points_add_up(self) -> Self:
        worth = sum(t.points or 0 for t in self.targets)
        if self.points_needed is not None and worth < self.points_needed:
            raise ValueError(f"the set asks for {self.points_needed:g} points, but its lines give {worth:g} together")
        if self.points_needed is None and worth:
            raise ValueError("lines give points, but “points_needed” does not say how many the set asks for")
        seen: set[str] = set()
        for target in self.targets:
            if target.id in seen:
                raise ValueError(f"the target id “{target.id}” stands twice; every line needs its own")
            seen.add(target.id)
        return self
