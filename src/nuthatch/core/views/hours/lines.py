"""Hours of a year as lines over any of its days: zoomed from the year to a day, read at the pointer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.model.charts import HourChart
from nuthatch.core.results.figure import Array
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import with_unit
from nuthatch.core.views.climate_drawn import ticks
from nuthatch.core.views.hours.quantities import FIRST_DAYS, MONTHS, QUANTITIES, RUNS, Series, date_of, hours_of, series, span_of
from nuthatch.core.year.problem import Hours

LEFT, RIGHT, TOP, FOOT = 46.0, 52.0, 40.0, 24.0
SHORTEST = 12.0
"""Hours that are shown at the least."""


@dataclass(frozen=True)
class Span:
    """Hours that are shown, within 0 and 8760."""

    first: float = 0.0
    last: float = 8760.0

    @property
    def wide(self) -> float:
        return self.last - self.first

    def zoomed(self, by: float, around: float) -> Span:
        """By a factor about an hour; never past the year's ends."""
        wide = min(max(self.wide / by, SHORTEST), 8760.0)
        share = (around - self.first) / self.wide if self.wide > 0 else 0.5
        return Span(around - share * wide, around - share * wide + wide).kept()

    def moved(self, by: float) -> Span:
        """By hours."""
        return Span(self.first + by, self.last + by).kept()

    def kept(self) -> Span:
        wide = min(self.wide, 8760.0)
        first = min(max(self.first, 0.0), 8760.0 - wide)
        return Span(first, first + wide)


@dataclass(frozen=True)
class Plot:
    """Where the drawing lies on its sheet: what turns hours into places and back."""

    span: Span
    left: float
    wide: float

    def x(self, hour: float) -> float:
        return self.left + (hour - self.span.first) / self.span.wide * self.wide

    def hour(self, x: float) -> float:
        return self.span.first + (x - self.left) / self.wide * self.span.wide


def plot_of(size: tuple[float, float], span: Span) -> Plot:
    return Plot(span, LEFT, max(size[0] - LEFT - RIGHT, 10.0))


@dataclass(frozen=True)
class Other:
    """Hours that lie over the home's own, dashed: of an option, say."""

    name: str
    hours: Hours


def line_chart(
    a: Assessment, chart: HourChart, size: tuple[float, float], span: Span | None = None, pointer: float | None = None,
    other: Other | None = None,
) -> Sketch:  # fmt: skip
    """Lines over days; temperatures by the scale on the left, all else by that on the right. pointer: an hour that is read."""
    made = Sketch(*size, chart.name or "Hours of the year")
    h = hours_of(a)
    if isinstance(h, str):
        made.say(h)
        return made
    rows = series(h, chart)
    if not rows:
        made.say("choose what is shown")
        return made
    plot = plot_of(size, span or Span(*span_of(chart)).kept())
    _days(made, plot)
    kinds = list(dict.fromkeys(s.quantity.kind for s in rows))
    left = "temperature" if "temperature" in kinds else kinds[0]
    sides = [left, *(k for k in kinds if k != left)][:2]
    for side, kind in enumerate(sides):
        own = [s for s in rows if s.quantity.kind == kind]
        over = [s for s in series(other.hours, chart) if s.quantity.kind == kind and s.quantity.name != "outdoors"] if other else []
        _lines(made, plot, own, over, side)
    if other is not None:
        made.text(plot.left + plot.wide, 28, f"dashed: {other.name}", size=10.5, color="muted", anchor="end")
    _legend(made, rows, [s for s in rows if s.quantity.kind not in sides], plot, pointer)
    return made


def _range(rows: list[Series], plot: Plot) -> tuple[float, float]:
    """Of the values in view, with 0 where it is near."""
    first, last = int(plot.span.first), int(np.ceil(plot.span.last))
    seen = np.concatenate([s.values[first:last] for s in rows])
    least, most = float(seen.min()), float(seen.max())
    if rows[0].quantity.kind != "temperature":
        least, most = min(least, 0.0), max(most, 1e-6)
    pad = max(most - least, 1.0 if rows[0].quantity.kind == "temperature" else 1e-6) * 0.04
    return least - (pad if least < 0 or rows[0].quantity.kind == "temperature" else 0.0), most + pad


def _lines(made: Sketch, plot: Plot, rows: list[Series], over: list[Series], side: int) -> None:
    least, most = _range([*rows, *over], plot)
    high = made.height - TOP - FOOT

    def y(value: float) -> float:
        return TOP + high * (1 - (value - least) / (most - least))

    edge = plot.left - 6 if side == 0 else plot.left + plot.wide + 6
    for t in ticks(least, most):
        if side == 0:
            made.line((plot.left, y(t)), (plot.left + plot.wide, y(t)), stroke="grid", width=0.7)
        made.text(edge, y(t) + 4, f"{t:g}".replace("-", "−"), size=10, color="muted", anchor="end" if side == 0 else "start")
    made.text(edge, TOP - 8, rows[0].unit, size=10, color="muted", anchor="end" if side == 0 else "start")
    for s in rows:
        made.line(*((plot.x(hour), y(v)) for hour, v in thinned(s.values, plot)), stroke=s.token, width=1.1)
    for s in over:
        made.line(*((plot.x(hour), y(v)) for hour, v in thinned(s.values, plot)), stroke=s.token, width=1.1, dash=True)


def thinned(values: Array, plot: Plot) -> list[tuple[float, float]]:
    """(hour, value) of what is in view: every hour where there is room, else the least and the most of what falls on each place."""
    first, last = int(plot.span.first), min(int(np.ceil(plot.span.last)), len(values))
    seen = values[first:last]
    places = max(int(plot.wide), 1)
    if len(seen) <= 2 * places:
        return [(min(max(first + n + 0.5, plot.span.first), plot.span.last), float(v)) for n, v in enumerate(seen)]
    each = int(np.ceil(len(seen) / places))
    whole = len(seen) // each * each
    blocks = seen[:whole].reshape(-1, each)
    low, high = blocks.argmin(axis=1), blocks.argmax(axis=1)
    found = []
    for n, (i, j) in enumerate(zip(low.tolist(), high.tolist(), strict=True)):
        for k in (min(i, j), max(i, j)):
            found.append((first + n * each + k + 0.5, float(blocks[n, k])))
    return found


def _days(made: Sketch, plot: Plot) -> None:
    """Months, days or hours below, as they have room."""
    bottom = made.height - FOOT
    made.line((plot.left, bottom), (plot.left + plot.wide, bottom), stroke="ink", width=0.8)
    days = plot.span.wide / 24
    marks: list[tuple[float, str]] = []
    if days > 75:
        marks = [((d - 1) * 24.0, m) for d, m in zip(FIRST_DAYS, MONTHS, strict=True)]
    elif days > 2.2:
        step = max(1, round(days / 9))
        first = int(plot.span.first // 24)
        marks = [(d * 24.0, date_of(d * 24.0, False)) for d in range(first, int(plot.span.last // 24) + 1, step)]
    else:
        step = 3 if days > 1.1 else 2
        marks = [(float(n), f"{n % 24} h") for n in range(int(plot.span.first) // step * step, int(plot.span.last) + 1, step)]
    for hour, words in marks:
        if plot.span.first <= hour <= plot.span.last:
            x = plot.x(hour)
            made.line((x, TOP), (x, bottom + 4), stroke="grid", width=0.7)
            room = plot.x(min(hour + (30 * 24 if days > 75 else 24), plot.span.last)) - x
            middle = days > 75 and room > 24
            made.text(x + (room / 2 if middle else 0), bottom + 16, words, size=10, color="muted", anchor="middle" if middle else "start")


def _legend(made: Sketch, rows: list[Series], left_out: list[Series], plot: Plot, pointer: float | None) -> None:
    """What each line is, with its value at the pointer, or the days that are shown."""
    x, y = plot.left, 13.0
    hour = min(max(pointer, plot.span.first), min(plot.span.last, 8759.0)) if pointer is not None else None
    for s in rows:
        said = s.quantity.name
        if hour is not None:
            value = float(s.values[int(hour)])
            said += f" {value:.{1 if s.quantity.kind == 'temperature' else 0}f} {s.unit}".replace("-", "−")
        if s in left_out:
            said += " (no third scale)"
        made.line((x, y - 4), (x + 14, y - 4), stroke=s.token, width=2.2)
        made.text(x + 19, y, said, size=11)
        x += 19 + 6.3 * len(said) + 16
    when = date_of(hour) if hour is not None else f"{date_of(plot.span.first, False)} to {date_of(plot.span.last - 1, False)}"
    made.text(plot.left, 28, when, size=10.5, color="muted")
    if hour is not None:
        made.line((plot.x(hour), TOP), (plot.x(hour), made.height - FOOT), stroke="muted", width=0.8, dash=True)


def hour_words(a: Assessment, hour: int, names: tuple[str, ...] = ("operative", "outdoors"), run: str = "windows shut") -> str:
    """Values of an hour in words, for who does not see the lines."""
    h = hours_of(a)
    if isinstance(h, str):
        return h
    year = getattr(h, RUNS[run])
    told = (f"{n} {with_unit(float(QUANTITIES[n].get(h, year)[hour]), QUANTITIES[n].kind)}" for n in names)
    return f"{date_of(hour)}: {', '.join(told)}"
