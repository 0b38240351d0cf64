"""A climate drawn: its months, the hours of the day by month, the wind, ground and cold water; one, or two side by side on one scale."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil, cos, floor, radians, sin

import numpy as np

from nuthatch.core.climate.calendar import NAMES
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.model.site import Site
from nuthatch.core.results.figure import Array
from nuthatch.core.sketch import Sketch, fitted
from nuthatch.core.sun.shelter import rose
from nuthatch.core.units import kind_of, show, unit_of

Size = tuple[float, float]
COLD_TO_WARM = ("slate", "slate_pale", "glass", "stone", "wood", "chestnut_pale")
DARK_TO_LIGHT = ("stone", "card", "glass", "tide_pale", "tide")
DEPTHS = (0.5, 1.0, 2.0, 4.0)
"""Of the ground [m]."""
DIFFUSIVITY = 1.5 / 3.0e6
"""Of clay or silt [m²/s], where the site says nothing of its soil: ISO 13370, table 7, from memory."""
WHOLE_WAYS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")


@dataclass(frozen=True)
class Frame:
    """Where a drawing of the twelve months lies on its sheet, and its scale."""

    left: float
    top: float
    wide: float
    high: float
    least: float
    most: float

    def x(self, month: float) -> float:
        return self.left + (month + 0.5) * self.wide / 12

    def y(self, value: float) -> float:
        return self.top + (1 - (value - self.least) / max(self.most - self.least, 1e-9)) * self.high


def soil_of(site: Site) -> float:
    """Diffusivity of the soil of a site [m²/s]; that of clay or silt where it is not given."""
    if site.soil_conductivity is None or site.soil_capacity is None:
        return DIFFUSIVITY
    return site.soil_conductivity.value / (site.soil_capacity.value * 1e6)


def hours_by_month(values: Array) -> Array:
    """Mean of 8760 hourly values by month and hour of day, (12, 24)."""
    days = np.concatenate([[0], np.cumsum(MONTH_HOURS)[:-1]]) // 24
    return np.asarray(np.add.reduceat(values.reshape(365, 24), days, axis=0) / (MONTH_HOURS / 24)[:, None])


def steps_of(least: float, most: float, number: int) -> tuple[float, ...]:
    """Bounds between classes, evenly and at round values, one fewer than there are classes."""
    wide = max(most - least, 1e-3) / number
    size = 10.0 ** floor(np.log10(wide))
    step = min((s * size for s in (1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0)), key=lambda s: abs(s - wide))
    first = ceil((least + step / 3) / step) * step
    return tuple(float(f"{first + n * step:.6g}") for n in range(number - 1))


def ticks(least: float, most: float) -> tuple[float, ...]:
    """All round values of an axis, about five of them."""
    first, second = steps_of(least, most, 5)[:2]
    step = second - first
    return tuple(float(f"{n * step:.6g}") for n in range(ceil(least / step - 1e-9), floor(most / step + 1e-9) + 1))


def _months(made: Sketch, climates: tuple[Climate, ...], place: tuple[float, ...], at: int, _: float) -> None:
    """Sun on the horizontal and on a south wall as bars, the air as a line."""
    x0, y0, wide, high = place
    sun, warm = kind_of("sun_month"), kind_of("temperature")
    bars = [sun.to_shown(c.on_planes) for c in climates]
    airs = [np.asarray(warm.to_shown(c.temperature)) for c in climates]
    upper, lower = _frame((x0, y0 + 14, wide, high * 0.52 - 14), [0.0, *(b[[0, 3]].max() for b in bars)]), None
    lower = _frame((x0, y0 + high * 0.56 + 14, wide, high * 0.44 - 30), [v for a in airs for v in (a.min(), a.max())])
    made.text(x0, y0 + 6, f"sun a month, {sun.unit}: flat, south wall", size=10, color="muted")
    _axis(made, upper, months=False)
    for m in range(12):
        for n, (plane, fill) in enumerate(((0, "tide_pale"), (3, "wood"))):
            top, width = upper.y(float(bars[at][plane, m])), upper.wide / 12 * 0.36
            tip = f"{NAMES[m]}, {('on the horizontal', 'on a south wall')[n]}: {show(float(climates[at].on_planes[plane, m]), 'sun_month')} {sun.unit}"
            made.rect(
                upper.x(m) + (n - 1) * width, top, width, upper.y(0.0) - top, fill=fill, stroke="", tip=tip, id=f"sun:{at}:{plane}:{m}"
            )
    made.text(x0, lower.top - 8, f"air, {warm.unit}", size=10, color="muted")
    _axis(made, lower)
    _line(
        made,
        lower,
        airs[at],
        "ink",
        [f"{NAMES[m]}: {show(float(climates[at].temperature[m]), 'temperature')} {warm.unit}" for m in range(12)],
    )


def _frame(place: tuple[float, ...], values: list[float]) -> Frame:
    x0, y0, wide, high = place
    least, most = min(values), max(values)
    spare = 0.06 * max(most - least, 1e-6)
    return Frame(x0 + 30, y0, wide - 36, high, least if least == 0 else least - spare, most + spare)


def _axis(made: Sketch, frame: Frame, months: bool = True) -> None:
    for b in ticks(frame.least, frame.most):
        made.line((frame.left, frame.y(b)), (frame.left + frame.wide, frame.y(b)), stroke="grid" if b else "line")
        made.text(frame.left - 4, frame.y(b) + 3.5, f"{b:g}".replace("-", "−"), size=9.5, color="muted", anchor="end")
    if months:
        for m in range(12):
            made.text(frame.x(m), frame.top + frame.high + 13, NAMES[m][0], size=10, color="muted", anchor="middle")


def _line(made: Sketch, frame: Frame, values: Array, stroke: str, tips: list[str], dash: bool = False) -> None:
    points = [(frame.x(m), frame.y(float(v))) for m, v in enumerate(values)]
    made.line(*points, stroke=stroke, width=1.7, dash=dash)
    for (x, y), tip in zip(points, tips, strict=True):
        made.path(((x - 2.2, y - 2.2), (x + 2.2, y - 2.2), (x + 2.2, y + 2.2), (x - 2.2, y + 2.2)), fill=stroke, stroke="", tip=tip)


def _hours(made: Sketch, climates: tuple[Climate, ...], place: tuple[float, ...], at: int, _: float) -> None:
    """Air and sun by hour of day and month, tinted."""
    x0, y0, wide, high = place
    upright = wide < 330  # side by side there is room for one above the other only
    for n, (title, kind, of) in enumerate(
        (("air", "temperature", "temperature"), ("sun on the horizontal", "heat_flux", "global_horizontal"))
    ):
        each = [hours_by_month(getattr(c.weather, of)) for c in climates]
        tints = COLD_TO_WARM if kind == "temperature" else DARK_TO_LIGHT
        field = (x0, y0 + n * high / 2, wide, high / 2 - 6) if upright else (x0 + n * wide / 2, y0, wide / 2 - 8, high)
        _tinted(made, f"{title}, {unit_of(kind)}", np.asarray(kind_of(kind).to_shown(np.stack(each))), at, tints, field)


def _tinted(made: Sketch, title: str, values: Array, at: int, tints: tuple[str, ...], place: tuple[float, ...]) -> None:
    """values: (climates, 12, 24) in the unit shown."""
    x0, y0, wide, high = place
    bounds = steps_of(float(values.min()), float(values.max()), len(tints))
    left, top, cell, row = x0 + 22, y0 + 14, (wide - 26) / 12, (high - 52) / 24
    made.text(x0, y0 + 6, title, size=10, color="muted")
    for m in range(12):
        made.text(left + (m + 0.5) * cell, top + 24 * row + 12, NAMES[m][0], size=10, color="muted", anchor="middle")
        for h in range(24):
            value = float(values[at, m, h])
            tip = f"{NAMES[m]}, {h} to {h + 1} h: {value:.1f}".replace("-", "−")
            tint = tints[sum(value >= b for b in bounds)]
            made.rect(left + m * cell, top + h * row, cell + 0.4, row + 0.4, fill=tint, stroke="", tip=tip, id=f"{title[:3]}:{at}:{m}:{h}")
    made.rect(left, top, 12 * cell, 24 * row, stroke="line", width=0.8)
    for h in range(0, 25, 6):
        made.text(left - 4, top + h * row + 4, str(h), size=9.5, color="muted", anchor="end")
    part = 12 * cell / len(tints)
    for n, tint in enumerate(tints):
        made.rect(left + n * part, top + 24 * row + 18, part, 6, fill=tint, stroke="line", width=0.6)
    for n, b in enumerate(bounds, 1):
        made.text(left + n * part, top + 24 * row + 34, f"{b:g}".replace("-", "−"), size=9.5, color="muted", anchor="middle")


def _wind(made: Sketch, climates: tuple[Climate, ...], place: tuple[float, ...], at: int, _: float) -> None:
    """Where the wind comes from, by how far it blows."""
    x0, y0, wide, high = place
    weather = climates[at].weather
    if weather.wind_from is None:
        _nothing(made, place, "where the wind comes from is not in this file")
        return
    radius = min(wide, high - 16) / 2 - 20
    middle = x0 + wide / 2, y0 + 8 + high / 2
    told = [rose(c.weather.wind, c.weather.wind_from) for c in climates if c.weather.wind_from is not None]
    most = max(float(t.max()) for t in told)
    parts = rose(weather.wind, weather.wind_from)

    def way(azimuth: float, r: float) -> tuple[float, float]:
        return middle[0] + r * sin(radians(azimuth)), middle[1] - r * cos(radians(azimuth))

    for share in steps_of(0.0, most, 4):
        if share < most * 1.02:
            made.path([way(d, radius * share / most) for d in range(0, 360, 6)], stroke="grid")
            made.text(*way(22, radius * share / most), f"{100 * share:.0f} %", size=9.5, color="muted", halo=True)
    for n, (share, name) in enumerate(zip(parts, WHOLE_WAYS, strict=True)):
        towards, r = n * 360 / len(parts), radius * float(share) / most
        speed = float(weather.wind[np.round(weather.wind_from / 45).astype(int) % 8 == n].mean()) if share > 0 else 0.0
        tip = f"{name}: {100 * share:.0f} % of the wind, mean {show(speed, 'speed')} {unit_of('speed')}"
        made.path(
            (middle, way(towards - 15, r), way(towards, r * 1.02), way(towards + 15, r)),
            fill="tide_pale",
            stroke="tide",
            width=0.8,
            tip=tip,
            id=f"wind:{at}:{n}",
        )
        made.text(*_below(way(towards, radius + 11)), name, size=10.5, bold=n == 0, anchor="middle", color="ink" if n % 2 == 0 else "muted")
    made.text(x0, y0 + 6, f"mean {show(float(weather.wind.mean()), 'speed')} {unit_of('speed')}", size=10, color="muted")


def _below(at: tuple[float, float]) -> tuple[float, float]:
    return at[0], at[1] + 4


def _ground(made: Sketch, climates: tuple[Climate, ...], place: tuple[float, ...], at: int, diffusivity: float) -> None:
    """Ground by depth, cold water, and the air above them."""
    warm, long = kind_of("temperature"), kind_of("length")

    def lines(c: Climate) -> list[tuple[str, Array, str, bool]]:
        deep = [
            (f"{with_depth(d)} deep", c.ground_at(d, diffusivity), stroke, False)
            for d, stroke in zip(DEPTHS, ("wood", "chestnut_pale", "chestnut", "slate"), strict=True)
        ]
        return [("air", c.temperature, "muted", True), *deep, ("cold water", c.cold_water, "tide", False)]

    def with_depth(depth: float) -> str:
        return f"{long.to_shown(depth):.3g} {long.unit}"

    values = [float(warm.to_shown(v)) for c in climates for _, months, _, _ in lines(c) for v in (months.min(), months.max())]
    x0, y0, wide, high = place
    frame = _frame((x0, y0 + 14, wide, high - 60), values)
    made.text(x0, y0 + 6, f"by month, {warm.unit}", size=10, color="muted")
    _axis(made, frame)
    column = (wide - 20) / 3
    for n, (name, months, stroke, dash) in enumerate(lines(climates[at])):
        tips = [f"{NAMES[m]}, {name}: {show(float(months[m]), 'temperature')} {warm.unit}" for m in range(12)]
        _line(made, frame, np.asarray(warm.to_shown(months)), stroke, tips, dash)
        x, y = x0 + 20 + n % 3 * column, y0 + high - 22 + n // 3 * 15
        made.line((x, y), (x + 14, y), stroke=stroke, width=1.7, dash=dash)
        made.text(x + 18, y + 4, fitted(name, column - 20, 10), size=10)


Draw = Callable[[Sketch, tuple[Climate, ...], tuple[float, ...], int, float], None]
LOOKS: dict[str, Draw] = {"Months": _months, "Hours of the day": _hours, "Wind": _wind, "Ground and water": _ground}
"""What of a climate can be looked at."""


def climate_drawn(climates: tuple[Climate, ...], look: str, size: Size = (560.0, 320.0), diffusivity: float = DIFFUSIVITY) -> Sketch:
    """One climate, or several side by side, alike in scale."""
    made = Sketch(size[0], size[1], look)
    wide = size[0] / len(climates)
    for n, climate in enumerate(climates):
        x0 = n * wide
        if len(climates) > 1:
            made.text(x0 + 4, 12, fitted(climate.name, wide - 12, 12), size=12, bold=True)
        top = 20.0 if len(climates) > 1 else 4.0
        place = (x0 + 4, top + 4, wide - 12, size[1] - top - 10)
        if climate.made and look == "Hours of the day":
            _nothing(made, place, "hours are not known: the climate is given by months")
        else:
            LOOKS[look](made, climates, place, n, diffusivity)
    return made


def _nothing(made: Sketch, place: tuple[float, ...], why: str) -> None:
    made.text(place[0] + place[2] / 2, place[1] + place[3] / 2, fitted(why, place[2], 11), size=11, color="muted", anchor="middle")
