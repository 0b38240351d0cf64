"""Heat pumps by the points of their data sheet: performance at a source and a flow temperature, and in the mean of the hours of a month.

At each point the share of what Carnot allows is taken; between the points of one flow temperature it is linear in the source, between
flow temperatures linear in the flow, outside the sheet held. Method: docs/methods (heat pumps), common practice, no source.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, CannotKnow

KELVIN = 273.15
LEAST_LIFT = 15.0
"""A lift smaller than this [K] counts as this: common practice, no source."""
MILD, MILD_FLOW = 16.0, 25.0
"""Outdoors [°C] at which a heating curve ends, and its flow temperature there [°C]: common practice, no source."""
NONE = "none"
"""A limit that is not there."""
STORE_ABOVE = 5.0
"""How far above the store the flow lies [K]: common practice, no source."""


def carnot_share(cop: Array, source: Array, flow: Array) -> Array:
    """Of what Carnot allows between two temperatures [°C], the share a performance is."""
    return np.asarray(cop * np.maximum(flow - source, LEAST_LIFT) / (flow + KELVIN))


def share_at(points: Sequence[tuple[float, float, float]], source: Array, flow: Array) -> Array:
    """The share of Carnot at source and flow temperatures. points: (source, flow [°C], COP)."""
    rows: dict[float, list[tuple[float, float]]] = {}
    for s, f, cop in points:
        rows.setdefault(f, []).append((s, float(carnot_share(np.array(cop), np.array(s), np.array(f)))))
    flows = sorted(rows)
    each = [np.interp(source, *np.array(sorted(rows[f])).T) for f in flows]
    at = np.clip(flow, flows[0], flows[-1])
    found = np.broadcast_to(each[0], np.shape(at)).astype(float)
    for n in range(1, len(flows)):
        part = np.clip((at - flows[n - 1]) / (flows[n] - flows[n - 1]), 0.0, 1.0)
        found = found + part * (each[n] - each[n - 1])
    return np.asarray(found)


def performance(points: Sequence[tuple[float, float, float]], source: Array, flow: Array) -> Array:
    """COP at source and flow temperatures [°C]."""
    return np.asarray(share_at(points, source, flow) * (flow + KELVIN) / np.maximum(flow - source, LEAST_LIFT))


def curve(outside: Array, design: float, at_design: float) -> Array:
    """Flow temperature by a heating curve [°C]: as at the design at or below the winter design, falling in a straight line to MILD_FLOW at
    MILD outdoors."""
    least = min(MILD_FLOW, at_design)
    return np.asarray(np.interp(outside, [min(design, MILD - 1e-6), MILD], [at_design, least]))


def ground(months: Array) -> Array:
    """Source temperature of a ground loop by month where nothing is measured [°C]: the year's mean, a quarter of the swing two months late, and
    2 K less: common practice, no source."""
    mean = float((months * MONTH_HOURS).sum() / 8760)
    return np.asarray(mean + 0.25 * (np.roll(months, 2) - mean) - 2.0)


@calculation(
    "Air that leaves the ventilation unit",
    "temperature",
    "θ_s = θ_i − η·(θ_i − θ_e)",
    "mean recovery of all fresh air of the unit; what condenses is left out, on the safe side",
    inside="θ_i: temperature",
    recovery="η: percent",
    outside="θ_e: temperature",
)
def leaving_unit(inside: float, recovery: float, outside: Array) -> Array:
    """By hour [°C]."""
    return np.asarray(inside - recovery * (inside - outside))


def weights(outside: Array, heating: Array, losses: Array, inside: float) -> Array:
    """How a month's heat is parted among its hours, (8760,): by how far it is colder than the month's own base temperature; all hours alike in a
    month without heating."""
    months = np.bincount(MONTH_OF_HOUR, outside, minlength=12) / MONTH_HOURS
    part = np.where(losses > 0, heating / np.where(losses > 0, losses, 1.0), 0.0)
    base = months + part * (inside - months)
    found = np.maximum(base[MONTH_OF_HOUR] - outside, 0.0)
    total = np.bincount(MONTH_OF_HOUR, found, minlength=12)
    return np.asarray(np.where(total[MONTH_OF_HOUR] > 0, found, 1.0))


def hours_made(
    outside: Array,
    heating: Array,
    losses: Array,
    inside: float,
    share: float = 1.0,
    lost: float = 0.0,
    power: float | str = NONE,
    point: float | str = NONE,
    alone: float = 0.0,
) -> Array:
    """Heat a source makes in every hour, (8760,) [kWh]. share: of the heating it is asked for, with what is lost in distribution on top of it;
    power: the most it gives [W], or NONE; point: outdoors [°C], or NONE, below which another source does it alone, or, without a power, the
    source gives no more than at the point."""
    weight = weights(outside, heating, losses, inside)
    whole = np.bincount(MONTH_OF_HOUR, weight, minlength=12)
    asked = share * (1 + lost) * heating / whole
    made = asked[MONTH_OF_HOUR] * weight
    if isinstance(power, float):
        made = np.minimum(made, power / 1000)
    if isinstance(point, str):
        return np.asarray(made)
    if alone:
        return np.asarray(np.where(outside >= point, made, 0.0))
    if isinstance(power, float):
        return np.asarray(made)
    months = np.bincount(MONTH_OF_HOUR, outside, minlength=12) / MONTH_HOURS
    base = months + np.where(losses > 0, heating / np.where(losses > 0, losses, 1.0), 0.0) * (inside - months)
    at_point = asked * np.maximum(base - point, 0.0)
    return np.asarray(np.where(outside >= point, made, np.minimum(made, at_point[MONTH_OF_HOUR])))


@calculation(
    "Heat a source makes for the rooms",
    "energy_month",
    "s·(1 + d)·Q parted among the hours as far as each lies below the month's base temperature, at most P in an hour; below the bivalence point "
    "nothing where another source does it alone, else no more than at the point where P is not given",
    "hours by the balance's own base temperature",
    closed=False,
    outside="θ_e: temperature",
    heating="Q: energy_month",
    losses="Q_l: energy_month",
    inside="θ_i: temperature",
    share="s: percent",
    lost="d: percent",
    power="P: heat_power",
    point="θ_b: temperature",
    alone="a: fraction",
)
def made_months(
    outside: Array,
    heating: Array,
    losses: Array,
    inside: float,
    share: float = 1.0,
    lost: float = 0.0,
    power: float | str = NONE,
    point: float | str = NONE,
    alone: float = 0.0,
) -> Array:
    """(12,) [kWh]; share, lost, power, point, alone: as of `hours_made`."""
    return np.asarray(
        np.bincount(MONTH_OF_HOUR, hours_made(outside, heating, losses, inside, share, lost, power, point, alone), minlength=12)
    )


@calculation(
    "Heat a source is asked for",
    "energy_month",
    "Q = s·Q_d·(1 + d)",
    "share of the source, with what distribution and control lose",
    share="s: percent",
    heat="Q_d: energy_month",
    lost="d: percent",
)
def asked_of(share: float, heat: Array, lost: float) -> Array:
    """(12,) [kWh]."""
    return share * heat * (1 + lost)


@calculation(
    "Heat another source takes over",
    "energy_month",
    "Q = max(Q_a − Q_m, 0 [kWh])",
    "what a source cannot make",
    asked="Q_a: energy_month",
    made="Q_m: energy_month",
)
def left_over(asked: Array, made: Array) -> Array:
    """(12,) [kWh]."""
    return np.maximum(asked - made, 0.0)


@calculation(
    "Hot water a heat pump makes",
    "energy_month",
    "of the heat asked for the part up to 5 K below its hottest flow: (θ_m − 5 K − θ_c)/(θ_k − θ_c), within 0 and 1",
    "up to its hottest flow; what is hotter another source makes",
    closed=False,
    asked="Q_a: energy_month",
    most="θ_m: temperature",
    store="θ_k: temperature",
    cold="θ_c: temperature",
)
def water_made(asked: Array, most: float, store: float, cold: Array) -> Array:
    """(12,) [kWh]."""
    span = np.maximum(store - cold, 1e-9)
    return np.asarray(asked * np.clip((most - STORE_ABOVE - cold) / span, 0.0, 1.0))


def _of_month(weight: Array, cop: Array) -> Array:
    """Heat over electricity by month, heat parted by weights."""
    heat = np.bincount(MONTH_OF_HOUR, weight, minlength=12)
    return np.asarray(heat / np.bincount(MONTH_OF_HOUR, weight / cop, minlength=12))


def _points(sources: Sequence[float], flows: Sequence[float], cops: Sequence[float]) -> list[tuple[float, float, float]]:
    if not sources:
        raise CannotKnow("a point of the data sheet: source, flow and COP")
    return list(zip(sources, flows, cops, strict=True))


@calculation(
    "Performance on heating",
    "factor",
    "heat of the hours over its electricity, by month: COP by Carnot shares of the points at the source and the flow of the heating curve, the "
    "month's heat parted by how far each hour lies below the month's own base temperature, θ̄_e + Q/Q_l·(θ_i − θ̄_e); what is above the limit "
    "of power, or colder than the point from which another source does it alone, left out",
    "data sheet (EN 14511); hours by the balance's own base temperature",
    closed=False,
    sources="θ_q: temperature",
    flows="θ_v: temperature",
    cops="ε: factor",
    source="θ_s: temperature",
    outside="θ_e: temperature",
    design="θ_d: temperature",
    at_design="θ_h: temperature",
    heating="Q: energy_month",
    losses="Q_l: energy_month",
    inside="θ_i: temperature",
    share="s: percent",
    lost="d: percent",
    power="P: heat_power",
    point="θ_b: temperature",
    alone="a: fraction",
)
def on_heating(
    sources: tuple[float, ...],
    flows: tuple[float, ...],
    cops: tuple[float, ...],
    source: Array,
    outside: Array,
    design: float,
    at_design: float,
    heating: Array,
    losses: Array,
    inside: float,
    share: float = 1.0,
    lost: float = 0.0,
    power: float | str = NONE,
    point: float | str = NONE,
    alone: float = 0.0,
) -> Array:
    """(12,). source: its temperature by hour, by month or one for the year [°C]; heating, losses [kWh] by month; share, lost, power, point, alone:
    as of `hours_made`."""
    cold = by_hour(source)
    cop = performance(_points(sources, flows, cops), cold, curve(outside, design, at_design))
    made = hours_made(outside, heating, losses, inside, share, lost, power, point, alone)
    idle = np.bincount(MONTH_OF_HOUR, made, minlength=12) <= 0
    return _of_month(np.where(idle[MONTH_OF_HOUR], 1.0, made), cop)


@calculation(
    "Performance on hot water",
    "factor",
    "heat of the hours over its electricity, by month: COP by Carnot shares of the points at the source, the flow 5 K above the store, at most "
    "the hottest it can give",
    "data sheet (EN 14511); 5 K above the store: common practice, no source",
    closed=False,
    sources="θ_q: temperature",
    flows="θ_v: temperature",
    cops="ε: factor",
    source="θ_s: temperature",
    store="θ_k: temperature",
    most="θ_m: temperature",
)
def on_water(
    sources: tuple[float, ...], flows: tuple[float, ...], cops: tuple[float, ...], source: Array, store: float, most: float | str = NONE
) -> Array:
    """(12,). source: its temperature by hour or by month [°C]; most: its hottest flow."""
    cold = by_hour(source)
    flow = store + STORE_ABOVE if isinstance(most, str) else min(store + STORE_ABOVE, most)
    return _of_month(np.ones(8760), performance(_points(sources, flows, cops), cold, np.full(8760, flow)))


def by_hour(values: Array) -> Array:
    """Hourly values of hours, of months, or of one for all of the year."""
    found = np.asarray(values, float)
    return found if found.shape == (8760,) else np.broadcast_to(found, 12)[MONTH_OF_HOUR]


@calculation(
    "Delivered energy",
    "energy",
    "E = Σ(Q/ε)",
    "ISO 52000-1, delivered energy; month by month",
    months="Q: energy_month",
    factor="ε: factor",
)
def delivered(months: Array, factor: Array | float) -> float:
    """[kWh/a]; heat a source makes by month over how well it makes it."""
    return float(np.sum(months / factor))


@calculation(
    "Delivered energy by month", "energy_month", "E = Q/ε", "ISO 52000-1, delivered energy", months="Q: energy_month", factor="ε: factor"
)
def delivered_months(months: Array, factor: Array) -> Array:
    """(12,) [kWh]: a heat pump takes more of a cold month's heat from the grid than of a mild month's."""
    return np.asarray(months / factor)


@calculation(
    "Seasonal performance",
    "factor",
    "SPF = Σ(Q)/Σ(E)",
    "EN 15316-4-2, seasonal performance: heat of the year over its electricity",
    heat="Q: energy_month",
    energy="E: energy_month",
)
def seasonal(heat: tuple[Array, ...], energy: tuple[Array, ...]) -> float:
    """Of all heat pumps together; heat and electricity (12,) [kWh] of each."""
    made, taken = float(np.sum(heat)), float(np.sum(energy))
    if not taken > 0:
        raise CannotKnow("heat that a heat pump makes: there is none in this year")
    return made / taken
