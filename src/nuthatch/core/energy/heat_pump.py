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


def weights(outside: Array, heating: Array, losses: Array, inside: float) -> Array:
    """How a month's heat is parted among its hours, (8760,): by how far it is colder than the month's own base temperature; all hours alike in a
    month without heating."""
    months = np.bincount(MONTH_OF_HOUR, outside, minlength=12) / MONTH_HOURS
    part = np.where(losses > 0, heating / np.where(losses > 0, losses, 1.0), 0.0)
    base = months + part * (inside - months)
    found = np.maximum(base[MONTH_OF_HOUR] - outside, 0.0)
    total = np.bincount(MONTH_OF_HOUR, found, minlength=12)
    return np.asarray(np.where(total[MONTH_OF_HOUR] > 0, found, 1.0))


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
    "month's heat parted by how far each hour lies below the month's own base temperature, θ̄_e + Q/Q_l·(θ_i − θ̄_e)",
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
) -> Array:
    """(12,). source: its temperature by hour or by month [°C]; design: winter design outdoors, at_design: the flow then [°C]."""
    cold = by_hour(source)
    cop = performance(_points(sources, flows, cops), cold, curve(outside, design, at_design))
    return _of_month(weights(outside, heating, losses, inside), cop)


@calculation(
    "Performance on hot water",
    "factor",
    "heat over electricity by month, all hours alike: COP by Carnot shares of the points at the source and a flow 5 K above the store",
    "data sheet (EN 14511); flow above the store common practice, no source",
    closed=False,
    sources="θ_q: temperature",
    flows="θ_v: temperature",
    cops="ε: factor",
    source="θ_s: temperature",
    store="θ_w: temperature",
)
def on_water(sources: tuple[float, ...], flows: tuple[float, ...], cops: tuple[float, ...], source: Array, store: float) -> Array:
    """(12,). source: its temperature by hour or by month [°C]."""
    cold = by_hour(source)
    return _of_month(np.ones(8760), performance(_points(sources, flows, cops), cold, np.full(8760, store + STORE_ABOVE)))


def by_hour(values: Array) -> Array:
    """Hourly values of hours, of months, or of one for all of the year."""
    found = np.asarray(values, float)
    return found if found.shape == (8760,) else np.broadcast_to(found, 12)[MONTH_OF_HOUR]


@calculation(
    "Delivered energy",
    "energy",
    "E = s·Σ(Q/ε)",
    "ISO 52000-1, delivered energy; month by month",
    share="s: percent",
    months="Q: energy_month",
    factor="ε: factor",
)
def delivered(share: float, months: Array, factor: Array) -> float:
    """[kWh/a]."""
    return float(share * np.sum(months / factor))
