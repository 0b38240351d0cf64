"""Data sheets of heat pumps: where a source takes its heat from, and what is odd in the points of a sheet."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import Weathered
from nuthatch.core.energy import heat_pump
from nuthatch.core.model.heat import HeatSource
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Entered, Node, because
from nuthatch.core.results.question import Question

MOST_SHARE = 0.65
"""A larger share of Carnot no machine for homes has: common practice, no source."""


def by_points(source: HeatSource) -> bool:
    """Whether a source goes by the points of its sheet: a heat pump whose COP is not typed."""
    return source.kind == "heat pump" and source.efficiency is None and bool(source.points)


def needs_hours(source: HeatSource) -> bool:
    """Whether the hours say what a source makes of the heat it is asked for."""
    return source.power is not None or (source.kind == "heat pump" and source.stops_below is not None)


def source_of(source: HeatSource, climate: Weathered, outside: Node, inside: Node, recovery: Node) -> Node:
    """What a heat pump takes its heat from [°C]: the air by hour, ground or ground water by month, the air of the rooms, the air that leaves a
    ventilation unit of so much recovery."""
    if source.takes_from == "outside air":
        return outside
    if source.takes_from == "exhaust air":
        return inside
    if source.takes_from == "air leaving the unit":
        return heat_pump.leaving_unit.figure(inside=inside, recovery=recovery, outside=outside)
    if source.ground_temperature is not None:
        return need(source, "ground_temperature")
    if not isinstance(climate, Climate):
        return because("ground loop", "temperature", climate)
    if source.takes_from == "ground water":
        return Entered("ground water, the year's mean outdoors", climate.annual_mean, "temperature", "assumed", "from the climate's months")
    return Entered("ground loop by month", heat_pump.ground(climate.temperature), "temperature", "assumed", "from the climate's months")


def sheet_questions(sources: tuple[HeatSource, ...]) -> Iterator[Question]:
    """Points that are not whole, stand there twice, or are better than a machine can be."""
    for s in sources:
        if s.kind != "heat pump":
            continue
        seen: dict[tuple[float, float], float] = {}
        for p in s.points:
            lacking = next((f for f in ("source", "flow", "cop") if p[f] is None), "")
            if lacking:
                yield Question(p.id, lacking, f"A point of {s.name} lacks a number and does not count")
                continue
            at, cop = (p.source.value, p.flow.value), p.cop.value  # type: ignore[union-attr]
            if at in seen and seen[at] != cop:
                yield Question(p.id, "cop", f"{s.name} has two COPs at {{0}} and {{1}}", ((at[0], "temperature"), (at[1], "temperature")))
            seen.setdefault(at, cop)
            share = float(heat_pump.carnot_share(np.array(cop), np.array(at[0]), np.array(at[1])))
            if share > MOST_SHARE:
                amounts = ((at[0], "temperature"), (at[1], "temperature"))
                yield Question(
                    p.id, "cop", f"COP {cop:g} from {{0}} to {{1}} is {100 * share:.0f} % of what Carnot allows: is it right?", amounts
                )
