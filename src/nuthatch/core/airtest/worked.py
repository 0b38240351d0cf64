"""What the readings of an air test give: ISO 9972:2015. Densities, flow through the envelope, the line ln q = ln C + n·ln Δp with its
95 % confidence, the coefficient at standard conditions, flow at 50 Pa and what follows from it."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, log, sqrt

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.airtest.readings import AT_SEA_LEVEL, DEPRESSURISING, Measurement, Reading, Series
from nuthatch.core.climate.humid_air import saturation_pressure
from nuthatch.core.results.figure import CannotKnow

Array = NDArray[np.float64]
AT_50 = 50.0
ONE_PRESSURE = 0.65
"""Flow exponent where only one pressure was measured; common practice, no source."""
CLOSE = 3.0
"""Readings within so many Pa of each other are one pressure, taken several times."""
CONFIDENCE = 0.95


def air_density(temperature: float, pressure: float = AT_SEA_LEVEL, humidity: float = 0.0) -> float:
    """Density of moist air [kg/m³], ISO 9972:2015, annex A: ρ = (p − 0.37802·p_v)/(287.055·T), p_v from relative humidity."""
    vapour = humidity * float(saturation_pressure(temperature))
    return (pressure - 0.37802 * vapour) / (287.055 * (temperature + 273.15))


STANDARD = air_density(20.0)
"""Density at standard conditions, 20 °C and 101 325 Pa: 1.204 kg/m³ (3.10)."""


@dataclass(frozen=True)
class FlowPoint:
    """A reading as it counts: pressure over the envelope less the zero-flow pressure [Pa], flow through the envelope [m³/h]."""

    reading: Reading
    pressure: float
    flow: float

    @property
    def counts(self) -> bool:
        return not self.reading.left_out


@dataclass(frozen=True)
class Zero:
    """Zero-flow pressures at one end of a series [Pa]: mean of all, of the positive, of the negative ones."""

    mean: float
    positive: float
    negative: float

    @property
    def largest(self) -> float:
        return max(abs(self.mean), abs(self.positive), abs(self.negative))


def zero_of(readings: tuple[float, ...]) -> Zero | None:
    """Zero-flow pressures of readings, None for none: ISO 9972:2015, 5.3.3."""
    if not readings:
        return None
    up, down = [p for p in readings if p > 0], [p for p in readings if p < 0]

    def mean(values: list[float]) -> float:
        return sum(values) / len(values) if values else 0.0

    return Zero(mean(list(readings)), mean(up), mean(down))


@dataclass(frozen=True)
class Fit:
    """ln q = ln C + n·ln Δp by least squares over `number` points: ISO 9972:2015, annex C. assumed: n is, from one pressure."""

    exponent: float
    coefficient: float
    r_squared: float
    number: int
    exponent_error: float = 0.0
    mean: float = 0.0
    variance: float = 0.0
    assumed: bool = False

    @property
    def student(self) -> float:
        """Student's t of the two-sided confidence for N − 2 degrees of freedom."""
        from scipy.special import stdtrit  # slow to load, and many homes have no test

        return float(stdtrit(self.number - 2, (1 + CONFIDENCE) / 2)) if self.number > 2 else float("nan")

    def at(self, pressure: float) -> float:
        """Flow at a pressure [m³/h]."""
        return float(self.coefficient * pressure**self.exponent)

    def band(self, pressure: float) -> float:
        """Half the width of the 95 % confidence of ln q at a pressure; NaN for fewer than three points."""
        if self.number < 3 or self.assumed:
            return float("nan")
        n = self.number
        return self.student * self.exponent_error * sqrt((n - 1) / n * self.variance + (log(pressure) - self.mean) ** 2)

    @property
    def exponent_band(self) -> tuple[float, float]:
        """95 % confidence of n."""
        half = self.student * self.exponent_error
        return self.exponent - half, self.exponent + half

    @property
    def coefficient_band(self) -> tuple[float, float]:
        """95 % confidence of C: that of ln q at 1 Pa."""
        half = self.band(1.0)
        return self.coefficient * exp(-half), self.coefficient * exp(half)


STEEPEST = 20.0
"""Exponents beyond this are no leak of any kind, and their flows no numbers any more; what is between them and 1 is told as not valid."""


def fitted(pressures: Array, flows: Array) -> Fit:
    """The line through the points. Raises CannotKnow for fewer than two different pressures that are not one, taken several times."""
    if len(pressures) == 0:
        raise CannotKnow("a point that counts")
    if (pressures <= 0).any() or (flows <= 0).any():
        raise CannotKnow("pressures and flows above zero, the zero-flow pressure taken off")
    x, y = np.log(pressures), np.log(flows)
    if float(pressures.max() - pressures.min()) <= CLOSE:
        return Fit(ONE_PRESSURE, exp(float((y - ONE_PRESSURE * x).mean())), float("nan"), len(x), assumed=True)
    n = len(x)
    sxx, syy, sxy = (
        float(a) / (n - 1) for a in (((x - x.mean()) ** 2).sum(), ((y - y.mean()) ** 2).sum(), ((x - x.mean()) * (y - y.mean())).sum())
    )
    slope = sxy / sxx
    if abs(slope) > STEEPEST:
        raise CannotKnow(f"points whose flow follows the pressure: here it changes with its power of {slope:.0f}")
    rest = y - y.mean() - slope * (x - x.mean())
    error = sqrt(float((rest**2).sum()) / (n - 1) / (n - 2) / sxx) if n > 2 else 0.0
    r_squared = sxy**2 / (sxx * syy) if syy > 0 else float("nan")
    return Fit(slope, exp(float(y.mean()) - slope * float(x.mean())), r_squared, n, error, float(x.mean()), sxx)


@dataclass(frozen=True)
class SeriesResult:
    """One series of a test. coefficient: C_L at standard conditions [m³/(h·Paⁿ)]."""

    series: Series
    before: Zero | None
    after: Zero | None
    points: tuple[FlowPoint, ...]
    fit: Fit
    coefficient: float
    zero: float = 0.0
    """Zero-flow pressure taken off every reading [Pa]."""
    fan_factor: float = 1.0
    """What every flow is multiplied by for the density of the air in the fan."""
    leak_factor: float = 1.0
    """What every flow is multiplied by for the same mass at the density of the air in the leaks."""

    @property
    def coefficient_band(self) -> tuple[float, float]:
        """95 % confidence of C_L."""
        low, high = self.fit.coefficient_band
        scale = self.coefficient / self.fit.coefficient
        return low * scale, high * scale

    def at(self, pressure: float) -> float:
        """Flow at a pressure at standard conditions [m³/h]."""
        return float(self.coefficient * pressure**self.fit.exponent)

    def off(self, point: FlowPoint) -> float:
        """How far a point lies off the line, as a share; NaN where it has no place on it."""
        return point.flow / self.fit.at(point.pressure) - 1 if point.pressure > 0 else float("nan")

    def leakage_area(self, pressure: float) -> float:
        """Effective leakage area [m²] at a pressure, no discharge coefficient: C_L/3600·√(ρ₀/2)·Δp^(n − 0.5)."""
        return float(self.coefficient / 3600 * sqrt(STANDARD / 2) * pressure ** (self.fit.exponent - 0.5))


def worked_series(test: Measurement, series: Series) -> SeriesResult:
    """Points, line and coefficient of one half. Raises CannotKnow for a temperature or a ring that is missing, or for too few points."""
    if test.inside is None or test.outside is None:
        raise CannotKnow("temperatures inside and outside")
    before, after = zero_of(series.zero_before), zero_of(series.zero_after)
    zeros = [z.mean for z in (before, after) if z is not None]
    zero = sum(zeros) / len(zeros) if zeros else 0.0
    pressure = test.barometer if test.barometer is not None else AT_SEA_LEVEL
    within = air_density(test.inside, pressure, test.humidity_inside)
    without = air_density(test.outside, pressure, test.humidity_outside)
    down = series.way == DEPRESSURISING
    at_fan = within if down else without  # the air that goes through the fan
    fan = 1.0 if test.corrected else sqrt(air_density(test.calibrated_at) / at_fan)
    through = within / without if down else without / within  # the same mass at the density of the air in the leaks
    sign = -1.0 if down else 1.0
    shown = sign if all(r.pressure >= 0 for r in series.readings) else 1.0  # a gauge without a sign reads the size of the pressure
    points = tuple(FlowPoint(r, sign * (shown * r.pressure - zero), _read(test, r) * fan * through) for r in series.readings)
    counting = [p for p in points if p.counts]
    fit = fitted(np.array([p.pressure for p in counting]), np.array([p.flow for p in counting]))
    leaks = without if down else within
    standard = fit.coefficient * (leaks / STANDARD) ** (1 - fit.exponent)
    return SeriesResult(series, before, after, points, fit, standard, zero, fan, through)


def _read(test: Measurement, reading: Reading) -> float:
    """Flow a reading shows [m³/h]."""
    if reading.flow is not None:
        return abs(reading.flow)
    ring = test.rings.get(reading.ring)
    if ring is None or reading.fan_pressure is None:
        raise CannotKnow(f"a flow, or a fan pressure and its ring{', for ' + reading.place if reading.place else ''}")
    return ring.flow(reading.fan_pressure)


@dataclass(frozen=True)
class Result:
    """A whole test: its halves, and the mean of them [m³/h, 1/h, m³/(h·m²), m²]; None where a size is not known."""

    halves: tuple[SeriesResult, ...]
    q50: float
    q50_band: tuple[float, float] | None
    n50: float | None
    n50_half: float | None
    """Half the width of its 95 % confidence."""
    q_e50: float | None
    q_f50: float | None
    area_4: float
    area_10: float


def weights(series: tuple[Series, ...]) -> list[float]:
    """What each series counts in the mean of both directions: alike within its direction, and the directions alike."""
    ways = [s.way for s in series]
    return [1 / len(set(ways)) / ways.count(way) for way in ways]


def worked(test: Measurement) -> Result:
    """What a test gives. Raises CannotKnow with what is missing."""
    if not test.series:
        raise CannotKnow("a series of readings")
    halves = tuple(worked_series(test, s) for s in test.series)
    flows, shares = [h.at(AT_50) for h in halves], weights(test.series)
    q50 = sum(q * w for q, w in zip(flows, shares, strict=True))
    widths = [h.fit.band(AT_50) * q * w for h, q, w in zip(halves, flows, shares, strict=True)]
    half = sqrt(sum(w * w for w in widths))  # the series err independently
    known = half == half

    def per(size: float | None) -> float | None:
        return q50 / size if size else None

    areas = [sum(h.leakage_area(p) * w for h, w in zip(halves, shares, strict=True)) for p in (4.0, 10.0)]
    spread = half / test.volume if known and test.volume else None
    band = (q50 - half, q50 + half) if known else None
    return Result(halves, q50, band, per(test.volume), spread, per(test.envelope), per(test.floor), *areas)
