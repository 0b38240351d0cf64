"""The day of a household: who is at home, what runs, what hot water is drawn, hour by hour; a day pattern as bars to be dragged."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.patterns import day_of, mean
from nuthatch.core.household.stages import electricity_of
from nuthatch.core.model.patterns import EVEN, DayPattern, PatternDay
from nuthatch.core.sketch import Picture, Sketch, fitted
from nuthatch.core.units import kind_of, show, unit_of, with_unit
from nuthatch.core.views.climate_drawn import ticks

HOURS = 24
FILLS = ("slate_pale", "wood", "lichen_pale", "tide_pale", "chestnut_pale", "stone", "glass")


@dataclass(frozen=True)
class KindOfDay:
    """Which day is shown: of the weekend, of winter."""

    weekend: bool = False
    winter: bool = True

    @property
    def words(self) -> str:
        return f"{'weekend' if self.weekend else 'working day'} in {'winter' if self.winter else 'summer'}"


@dataclass(frozen=True)
class Strip:
    """One amount by the hour: id and name of what it is, 24 amounts, the pattern it goes by ('' for none)."""

    id: str
    name: str
    hours: tuple[float, ...]
    pattern: str


def _southern(a: Assessment) -> bool:
    return a.site_climate is not None and a.site_climate.weather.latitude < 0


def shares_of(a: Assessment, ident: str, day: KindOfDay) -> tuple[tuple[float, ...], float, str]:
    """(shares of the 24 hours, their mean over the year, the pattern that says it); even where none does."""
    pattern = next((p for p in a.home.patterns if p.id == ident and p.days), None)
    if pattern is None:
        return EVEN, 1.0, ""
    return day_of(pattern, day.weekend, day.winter), mean(pattern, _southern(a)), pattern.id


def _spread(a: Assessment, amount: float, ident: str, day: KindOfDay) -> tuple[tuple[float, ...], str]:
    """A mean amount by the hour as its pattern parts it."""
    shares, middle, by = shares_of(a, ident, day)
    if middle <= 0:
        return (0.0,) * HOURS, by
    return tuple(amount * s / middle for s in shares), by


def people(a: Assessment, day: KindOfDay) -> list[Strip]:
    """How many are at home."""
    number = a.figures["people"].value
    if number is None:
        return []
    shares, _, by = shares_of(a, a.home.household.presence, day)
    return [Strip("household", "people at home", tuple(float(number) * s for s in shares), by)]


def running(a: Assessment, day: KindOfDay) -> list[Strip]:
    """What of electricity runs [W], appliance by appliance, the largest first."""
    found = []
    for x in a.home.household.appliances:
        used = electricity_of(x).value if x.energy is not None else None
        if used is not None and float(used) > 0:
            hours, by = _spread(a, float(used) / 8.76, x.pattern, day)
            found.append(Strip(x.id, x.name, hours, by))
    return sorted(found, key=lambda s: -sum(s.hours))


def drawn_water(a: Assessment, day: KindOfDay) -> list[Strip]:
    """Hot water drawn [l/h] at its own temperature."""
    water, number = a.home.water, a.figures["people"].value
    if number is None:
        return []
    if water.demand == "by person":
        if water.litres is None:
            return []
        hours, by = _spread(a, float(number) * water.litres.value / HOURS, water.pattern, day)
        return [Strip("hot-water", "hot water", hours, by)]
    found = []
    for d in water.draw_offs:
        if d.litres is not None and d.number is not None:
            times = d.litres.value * d.number.value * (float(number) if d.per == "a person" else 1.0)
            hours, by = _spread(a, times / HOURS, d.pattern, day)
            found.append(Strip(d.id, d.name, hours, by))
    return found


def the_day(a: Assessment, day: KindOfDay | None = None, size: tuple[float, float] = (620.0, 320.0)) -> Sketch:
    """Who, what and when: people, electricity and hot water by the hour, one above the other."""
    day = day or KindOfDay()
    made = Sketch(*size, "The day of the household")
    made.text(0, 13, f"A {day.words}", size=13, bold=True)
    rows = (
        ("at home", "count", people(a, day)),
        ("electricity", "power_drawn", running(a, day)),
        ("hot water", "litres", drawn_water(a, day)),
    )
    top, foot, gap = 26.0, 20.0, 12.0
    high = (size[1] - top - foot - 2 * gap) / 3
    left, wide = 92.0, size[0] - 92.0 - 118.0
    for n, (name, kind, strips) in enumerate(rows):
        _row(made, (left, top + n * (high + gap), wide, high), name, kind, strips)
    for hour in (0, 6, 12, 18, 24):
        made.text(left + wide * hour / HOURS, size[1] - 5, f"{hour}", size=10, color="muted", anchor="middle")
    return made


UNITS = {"count": "", "power_drawn": "W", "litres": ""}


def _row(made: Sketch, place: tuple[float, float, float, float], name: str, kind: str, strips: list[Strip]) -> None:
    left, top, wide, high = place
    made.text(0, top + 12, name, size=11.5)
    unit = UNITS[kind] or (f"{unit_of('litres')}/h" if kind == "litres" else "people")
    if unit:
        made.text(0, top + 26, unit, size=10.5, color="muted")
    made.line((left, top + high), (left + wide, top + high), stroke="ink", width=0.8)
    if not strips:
        made.text(left + 6, top + high / 2 + 4, "not known yet" if kind == "count" else "nothing listed", size=11, color="muted")
        return
    scale = _shown(kind)
    stacked = np.cumsum([np.array(s.hours) * scale for s in strips], axis=0)
    most = max(float(stacked[-1].max()), 1e-9)
    for t in ticks(0.0, most):
        y = top + high * (1 - t / most)
        made.line((left, y), (left + wide, y), stroke="grid", width=0.7)
        made.text(left - 5, y + 4, f"{t:g}", size=9.5, color="muted", anchor="end")
    step = wide / HOURS
    for n, strip in enumerate(strips):
        fill = FILLS[n % len(FILLS)]
        below = stacked[n - 1] if n else np.zeros(HOURS)
        for hour in range(HOURS):
            value = strip.hours[hour] * scale
            tall = high * value / most
            if tall > 0.05:
                y = top + high * (1 - (below[hour] + value) / most)
                tip = f"{strip.name}, {hour} to {hour + 1}: {_amount(strip.hours[hour], kind)}"
                made.rect(left + hour * step + 0.6, y, step - 1.2, tall, fill=fill, stroke="", tip=tip, id=strip.id)
    _names(made, strips, (left + wide + 8, top, high))


def _names(made: Sketch, strips: list[Strip], place: tuple[float, float, float]) -> None:
    x, top, high = place
    lines = max(int(high // 14), 1)
    shown = strips if len(strips) <= lines else strips[: lines - 1]
    for n, strip in enumerate(shown):
        y = top + 11 + 14 * n
        made.rect(x, y - 9, 9, 9, fill=FILLS[n % len(FILLS)], stroke="muted", width=0.6, id=strip.id)
        words = strip.name if strip.pattern else f"{strip.name}, even"
        made.text(x + 13, y, fitted(words, 104, 10.5), size=10.5, id=strip.id)
    if len(shown) < len(strips):
        made.text(x + 13, top + 11 + 14 * len(shown), f"and {len(strips) - len(shown)} more", size=10.5, color="muted")


def _shown(kind: str) -> float:
    return kind_of("litres").factor if kind == "litres" else 1.0


def _amount(value: float, kind: str) -> str:
    if kind == "power_drawn":
        return f"{value:.0f} W"
    return with_unit(value, "litres") if kind == "litres" else f"{show(value, 'count', 1)}"


# one day of a pattern


@dataclass(frozen=True)
class PatternFrame:
    """Where the bars of a pattern lie on the sheet."""

    left: float
    top: float
    wide: float
    high: float

    def back(self, x: float, y: float) -> tuple[int, float]:
        """(hour, share) at a point of the sheet, within the day and within 0 and 1."""
        hour = int(np.clip((x - self.left) / self.wide * HOURS, 0, HOURS - 1e-9))
        return hour, float(np.clip(1 - (y - self.top) / self.high, 0.0, 1.0))


def pattern_frame(size: tuple[float, float]) -> PatternFrame:
    """For a sheet of a size."""
    return PatternFrame(40.0, 34.0, max(size[0] - 56.0, 60.0), max(size[1] - 62.0, 30.0))


def pattern_drawn(pattern: DayPattern | None, day: PatternDay | None, size: tuple[float, float] = (480.0, 220.0), hour: int = -1) -> Sketch:
    """The 24 shares of one day of a pattern as bars. hour: the one the keys change."""
    made = Sketch(*size, "Day pattern")
    if pattern is None or day is None:
        made.say("choose a day pattern below, or add one: its hours are dragged here")
        return made
    at = pattern_frame(size)
    made.text(0, 14, f"{pattern.name}: {day.days}, {day.season}", size=13, bold=True)
    average = sum(day.hours) / HOURS
    made.text(size[0] - 4, 14, f"mean {100 * average:.0f} %", size=12, color="muted", anchor="end")
    for t in (0.0, 0.5, 1.0):
        y = at.top + at.high * (1 - t)
        made.line((at.left, y), (at.left + at.wide, y), stroke="grid" if t else "ink", width=0.8)
        made.text(at.left - 5, y + 4, f"{100 * t:.0f} %", size=9.5, color="muted", anchor="end")
    step = at.wide / HOURS
    for n, share in enumerate(day.hours):
        tall = at.high * share
        x = at.left + n * step + 1
        tip = f"{n} to {n + 1}: {100 * share:.0f} %"
        made.rect(x, at.top, step - 2, at.high, fill="", stroke="", tip=tip, id=f"hour:{n}")
        made.rect(
            x,
            at.top + at.high - tall,
            step - 2,
            tall,
            fill="tide_pale" if n == hour else "slate_pale",
            stroke="slate",
            width=0.8,
            tip=tip,
            id=f"hour:{n}",
        )
    y = at.top + at.high * (1 - average)
    made.line((at.left, y), (at.left + at.wide, y), stroke="chestnut", width=1.2)
    for n in range(0, HOURS + 1, 3):
        made.text(at.left + n * step, at.top + at.high + 14, f"{n}", size=10, color="muted", anchor="middle")
    return made


PICTURES = (Picture("day", "The day of the household", lambda a, _: the_day(a)),)
