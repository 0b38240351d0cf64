"""Vapour through build-ups: ISO 13788:2012. Saturation pressure, a year of condensation and drying, the temperature factor a surface
needs against mould."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.climate.humid_air import saturation_pressure, temperature_at

Array = NDArray[np.float64]
DELTA_0 = 2e-10
"""Vapour permeability of air [kg/(m·s·Pa)]: ISO 13788, 6.1."""
FINEST_R, MOST_PIECES = 0.25, 200
"""Layers are split into pieces of at most this resistance [m²·K/W]: 5.2; up to R 50, more than any wall has."""
DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
SECONDS = np.array(DAYS) * 86400.0
SURFACE_RSI = 0.25
"""R_si for mould at a surface: 4.4.1, opaque parts."""
CRITICAL = 0.8
"""Relative humidity at a surface that mould needs: 5.3."""
EXCESS = {1: 270.0, 2: 540.0, 3: 810.0, 4: 1080.0, 5: 1360.0}
"""Vapour pressure excess of the humidity classes where it is 0 °C or colder outside [Pa]: annex A (from memory)."""
MARGIN = 1.1


def indoor_pressure(outside: Array, outdoor_pressure: Array, humidity_class: int, inside: float) -> Array:
    """Vapour pressure inside by month [Pa]: that outside and the excess of a humidity class × 1.1, at most saturated: annex A."""
    share = np.clip((20.0 - outside) / 20.0, 0.0, 1.0)
    found: Array = outdoor_pressure + MARGIN * EXCESS[humidity_class] * share
    return np.asarray(np.minimum(found, np.full(12, saturation_pressure(inside))))


def _pieces(resistance: float) -> int:
    """Into how many pieces a layer is split."""
    return int(min(max(np.ceil(resistance / FINEST_R - 1e-9), 1), MOST_PIECES))


@dataclass(frozen=True)
class VapourLayers:
    """Layers from the outside to the inside for the vapour: R [m²·K/W] and s_d [m] of each, and of the films."""

    resistances: tuple[float, ...]
    thicknesses: tuple[float, ...]
    outer: float = 0.04
    inner: float = 0.25

    def fine(self) -> tuple[Array, Array]:
        """R and s_d of the pieces the layers are split into."""
        rs: list[float] = []
        ds: list[float] = []
        for r, s in zip(self.resistances, self.thicknesses, strict=True):
            n = _pieces(r)
            rs += [r / n] * n
            ds += [s / n] * n
        return np.array(rs), np.array(ds)

    def boundaries(self) -> tuple[int, ...]:
        """The numbers of the interfaces that are faces of a layer, from the outer face to the inner one."""
        at, found = 0, [0]
        for r in self.resistances:
            at += _pieces(r)
            found.append(at)
        return tuple(found)


@dataclass(frozen=True)
class Month:
    """One month: temperature, saturation and vapour pressure at every interface from the outer to the inner face [°C, Pa], what
    condenses (above 0) or dries there [kg/m²], and what is there at its end [kg/m²]."""

    temperature: Array
    saturation: Array
    pressure: Array
    change: Array
    held: Array


@dataclass(frozen=True)
class MoistureYear:
    """Twelve months from the first that condenses, as `order` says (0 January). `accumulates`: something is left after a year."""

    order: tuple[int, ...]
    months: tuple[Month, ...]
    depth: Array
    boundaries: tuple[int, ...]
    accumulates: bool

    @property
    def dry(self) -> bool:
        """Whether nothing condenses in any month."""
        return all(float(m.held.max(initial=0.0)) <= 0 for m in self.months)

    @property
    def peak(self) -> float:
        """The most that is held at once [kg/m²]."""
        return max(float(m.held.sum()) for m in self.months)

    @property
    def left(self) -> float:
        """What is held at the end of the year [kg/m²]."""
        return float(self.months[-1].held.sum())

    def shares(self) -> Array:
        """The greatest share of saturation between the layers' outer and inner face, by month from January, as far as vapour has to go
        on from there: 1 where it gathers."""
        found = np.zeros(12)
        for m, month in zip(self.order, self.months, strict=True):
            found[m] = float((month.pressure[1:-1] / month.saturation[1:-1]).max(initial=0.0))
        return found

    def nearest(self) -> tuple[int, int, float]:
        """Where it comes nearest to gathering: (month, 0 January, interface, share of saturation)."""
        m = int(np.argmax(self.shares()))
        month = self.months[self.order.index(m)]
        ratio = month.pressure[1:-1] / month.saturation[1:-1]
        at = int(np.argmax(ratio)) + 1 if len(ratio) else 0
        return m, at, float(ratio.max(initial=0.0))

    def wettest(self) -> int:
        """The interface that holds most at any time."""
        return int(np.argmax(np.max([m.held for m in self.months], axis=0)))


def profile(section: VapourLayers, inside: float, outside: float) -> Array:
    """Temperature at every interface from the outer face to the inner one [°C]."""
    r, _ = section.fine()
    steps = np.concatenate([[section.outer], r, [section.inner]])
    at: Array = outside + (inside - outside) * np.cumsum(steps) / steps.sum()
    return at[:-1]


def tangent(depth: Array, saturation: Array, outer: float, inner: float) -> Array:
    """Vapour pressure by the tangent construction: the line from outside to inside that stays below saturation and is as short as can
    be [Pa]: ISO 13788, 6.3. depth: s_d from the outer face [m]; the first and last values are the air's own."""
    if depth[-1] <= depth[0]:
        return np.linspace(outer, inner, len(depth))
    line: Array = outer + (inner - outer) * (depth - depth[0]) / (depth[-1] - depth[0])
    if (line[1:-1] <= saturation[1:-1]).all():
        return line
    x, p = depth.tolist(), [outer, *saturation[1:-1].tolist(), inner]
    hull: list[int] = []
    for n in range(len(p)):  # a point on or above the line between its neighbours bears nothing
        while len(hull) > 1 and (p[hull[-1]] - p[hull[-2]]) * (x[n] - x[hull[-2]]) >= (p[n] - p[hull[-2]]) * (x[hull[-1]] - x[hull[-2]]):
            hull.pop()
        hull.append(n)
    found = np.empty(len(p))
    for a, b in zip(hull, hull[1:], strict=False):
        span = x[b] - x[a]
        share = (depth[a : b + 1] - x[a]) / span if span > 0 else np.linspace(0, 1, b - a + 1)
        found[a : b + 1] = p[a] + (p[b] - p[a]) * share
    return found


def month(section: VapourLayers, climate: tuple[float, float, float, float], seconds: float, held: Array) -> Month:
    """One month, with what is held at its begin [kg/m²]. climate: temperature and vapour pressure inside, then outside [°C, Pa]."""
    inside, p_inside, outside, p_outside = climate
    _, sd = section.fine()
    depth = np.concatenate([[0.0], np.cumsum(sd)])
    temperature = profile(section, inside, outside)
    saturation = np.asarray(saturation_pressure(temperature))
    wet = held > 0
    left, change, pressure = seconds, np.zeros(len(depth)), np.zeros(len(depth))
    now = held.copy()
    for _ in range(len(depth) + 1):  # what has dried out within the month lets the rest go on without it
        pressure = _pressure(depth, saturation, p_outside, p_inside, wet)
        rate = _rates(depth, pressure)
        rate[~wet & (rate < 0)] = 0.0
        dries = np.where((rate < 0) & (now > 0), now / -np.minimum(rate, -1e-300), np.inf)
        step = min(left, float(dries.min(initial=np.inf)))
        change += rate * step
        now = np.maximum(now + rate * step, 0.0)
        done = (dries <= step) & (rate < 0)
        now[done] = 0.0
        wet = wet & ~done
        left -= step
        if left <= 1e-9:
            break
    return Month(temperature, saturation, pressure, now - held, now)


def _pressure(depth: Array, saturation: Array, outer: float, inner: float, wet: NDArray[np.bool_]) -> Array:
    """Vapour pressure where some interfaces are wet: saturated there, by the tangent between them."""
    at = [0, *(n for n in np.flatnonzero(wet).tolist() if 0 < n < len(depth) - 1), len(depth) - 1]
    found = np.empty(len(depth))
    for a, b in zip(at, at[1:], strict=False):
        start = outer if a == 0 else float(saturation[a])
        end = inner if b == len(depth) - 1 else float(saturation[b])
        found[a : b + 1] = tangent(depth[a : b + 1], saturation[a : b + 1], start, end)
    return found


def _rates(depth: Array, pressure: Array) -> Array:
    """What gathers at each interface [kg/(m²·s)]: in from one side less out to the other."""
    span = np.diff(depth)
    with np.errstate(divide="ignore", invalid="ignore"):
        flow = np.where(span > 0, DELTA_0 * np.diff(pressure) / np.where(span > 0, span, 1.0), 0.0)  # toward the outside
    rate = np.zeros(len(depth))
    rate[1:-1] = flow[1:] - flow[:-1]
    rate[np.abs(rate) < 1e-16] = 0.0
    return rate


def year(section: VapourLayers, inside: Array, p_inside: Array, outside: Array, p_outside: Array) -> MoistureYear:
    """A year from the first month that condenses; where every month does, from January, and it accumulates: 6.4 and 6.5."""
    size = len(section.fine()[0]) + 1
    empty = np.zeros(size)

    def air(m: int) -> tuple[float, float, float, float]:
        return float(inside[m]), float(p_inside[m]), float(outside[m]), float(p_outside[m])

    depth = np.concatenate([[0.0], np.cumsum(section.fine()[1])])
    condensing = [m for m in range(12) if _condenses(section, depth, *air(m))]
    start = next((m for m in condensing if (m - 1) % 12 not in condensing), condensing[0] if condensing else 0)
    order = tuple((start + n) % 12 for n in range(12))
    months: list[Month] = []
    held = empty
    for m in order:
        months.append(month(section, air(m), SECONDS[m], held))
        held = months[-1].held
    return MoistureYear(order, tuple(months), depth, section.boundaries(), float(held.sum()) > 1e-9)


def _condenses(section: VapourLayers, depth: Array, inside: float, p_inside: float, outside: float, p_outside: float) -> bool:
    """Whether the straight line of vapour pressure goes above saturation anywhere within the layers."""
    if depth[-1] <= 0:
        return False
    saturation = np.asarray(saturation_pressure(profile(section, inside, outside)))
    line = p_outside + (p_inside - p_outside) * depth / depth[-1]
    return bool((line[1:-1] > saturation[1:-1]).any())


def least_factor(inside: Array, p_inside: Array, outside: Array) -> Array:
    """The least f_Rsi by month against mould: surface temperature at which the air is at 80 %: ISO 13788, 5.3. NaN where it is as warm
    outside as inside, or needs nothing."""
    surface = np.array([temperature_at(p / CRITICAL) for p in p_inside])
    across = inside - outside
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(across > 0.5, (surface - outside) / across, np.nan)


def surface_factor(resistance: float) -> float:
    """f_Rsi of a plane section of resistance without the inner film [m²·K/W], R_si 0.25: 4.4."""
    return resistance / (resistance + SURFACE_RSI)
