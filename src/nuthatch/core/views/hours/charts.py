"""Other ways to see the hours of a year: hour of day by day of year, as a duration, against outdoors, as sums of causes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.sun import MONTH_OF_HOUR
from nuthatch.core.model.charts import HourChart
from nuthatch.core.model.home import find
from nuthatch.core.results.figure import Array
from nuthatch.core.sketch import Picture, Sketch
from nuthatch.core.units import kind_of, show
from nuthatch.core.views.climate_drawn import ticks
from nuthatch.core.views.hours.lines import Other, Span, line_chart
from nuthatch.core.views.hours.quantities import FIRST_DAYS, MONTHS, QUANTITIES, RUNS, Series, date_of, hours_of, series, span_of
from nuthatch.core.year.comfort import LIMIT
from nuthatch.core.year.problem import Hours

WARM = ("slate", "slate_pale", "glass", "white", "wood", "chestnut_pale", "chestnut")
AMOUNT = ("white", "glass", "tide_pale", "slate_pale", "slate")
LEFT, RIGHT, TOP, FOOT = 46.0, 16.0, 40.0, 24.0
Place = Callable[[float], float]


def chart_of(
    a: Assessment,
    chart: HourChart,
    size: tuple[float, float],
    span: Span | None = None,
    pointer: float | None = None,
    other: Other | None = None,
) -> Sketch:
    """A chart of any kind; span: which hours lines show; pointer: an hour that is read; other: what lies over the lines, or the duration."""
    if chart.kind == "lines":
        return line_chart(a, chart, size, span, pointer, other)
    made = Sketch(*size, chart.name or "Hours of the year")
    h = hours_of(a)
    if isinstance(h, str):
        made.say(h)
        return made
    if chart.kind == "sums of causes":
        _sums(made, h, chart)
    elif chart.kind == "against outdoors":
        _against(made, h, chart)
    else:
        rows = series(h, chart)
        if not rows:
            made.say("choose what is shown")
        elif chart.kind == "duration":
            _duration(made, rows, chart, other)
        else:
            _by_day(made, rows[0], chart, pointer)
    return made


# hour by day


@dataclass(frozen=True)
class Grid:
    """Where the hours of days lie on a sheet: days to the right, hours of the day upward."""

    left: float
    top: float
    wide: float
    high: float
    first: int
    last: int

    def at(self, x: float, y: float) -> int | None:
        """The hour of the year at a place; None beside the grid."""
        if not (self.left <= x < self.left + self.wide and self.top <= y < self.top + self.high):
            return None
        day = self.first + int((x - self.left) / self.wide * (self.last - self.first))
        return day * 24 + min(int((1 - (y - self.top) / self.high) * 24), 23)


def grid_of(size: tuple[float, float], chart: HourChart) -> Grid:
    first, last = (round(v / 24) for v in span_of(chart))
    return Grid(LEFT, TOP, max(size[0] - LEFT - RIGHT, 10.0), max(size[1] - TOP - FOOT, 10.0), first, max(last, first + 1))


def steps_for(s: Series, values: Array) -> tuple[tuple[float, ...], tuple[str, ...]]:
    """(bounds between steps, their colours): temperatures about 20 °C, with the limit of comfort among them; amounts from 0."""
    if s.quantity.kind == "temperature":
        shown = kind_of("temperature").to_shown
        outdoors = s.quantity.name == "outdoors"
        return tuple(float(shown(v)) for v in ((-5, 0, 5, 10, 15, 20) if outdoors else (18, 20, 21, 22, 23.5, LIMIT + 0.01))), WARM
    most = max(float(values.max()), 1e-9)
    return tuple(most * n / 5 + 1e-9 for n in range(4)), AMOUNT


def _by_day(made: Sketch, s: Series, chart: HourChart, pointer: float | None) -> None:
    grid = grid_of((made.width, made.height), chart)
    days = s.values.reshape(365, 24)[grid.first : grid.last]
    bounds, tokens = steps_for(s, days)
    level = np.searchsorted(np.array(bounds), days, side="right")
    wide, high = grid.wide / len(days), grid.high / 24
    made.rect(grid.left, grid.top, grid.wide, grid.high, fill=tokens[0], stroke="")
    cells: list[list[tuple[float, float, float]]] = [[] for _ in tokens]
    for hour in range(24):
        row = level[:, hour]
        starts = np.concatenate([[0], np.flatnonzero(np.diff(row)) + 1, [len(row)]])
        y = grid.top + grid.high - (hour + 1) * high
        for i, j in zip(starts[:-1].tolist(), starts[1:].tolist(), strict=True):
            cells[int(row[i])].append((grid.left + i * wide, y, (j - i) * wide + 0.6))
    for token, of_one in zip(tokens[1:], cells[1:], strict=True):  # tint by tint: a writer draws those of one as one
        for x, y, long in of_one:
            made.rect(x, y, long, high + 0.8, fill=token, stroke="")
    made.rect(grid.left, grid.top, grid.wide, grid.high, stroke="ink", width=0.8)
    for hour in (0, 6, 12, 18, 24):
        made.text(grid.left - 6, grid.top + grid.high * (1 - hour / 24) + 4, f"{hour}", size=10, color="muted", anchor="end")
    made.text(grid.left - 6, grid.top - 8, "h", size=10, color="muted", anchor="end")
    for first, name in zip(FIRST_DAYS, MONTHS, strict=True):
        if grid.first < first <= grid.last:
            made.text(grid.left + (first - 1 - grid.first) * wide, made.height - 8, name, size=10, color="muted")
    x = LEFT
    made.text(x, 13, f"{s.quantity.name}, {s.unit}", size=11.5, bold=True)
    if pointer is not None:
        read = f"{date_of(pointer)}: {s.values[int(pointer)]:.1f} {s.unit}".replace("-", "−")
        made.text(made.width - RIGHT, 13, read, size=11, anchor="end")
    for n, token in enumerate(tokens):
        low = show_plain(float(f"{bounds[n - 1]:.3g}")) if n else ""
        made.rect(x, 20, 22, 10, fill=token, stroke="line", width=0.6)
        made.text(x + 26, 29, f"{low} on" if n else f"below {show_plain(bounds[0])}", size=10, color="muted")
        x += 92 if n == 0 else 70


def show_plain(value: float) -> str:
    return f"{value:.5g}".replace("-", "−")


# duration


def _above_the_limit(made: Sketch, own: list[Series], parts: list[Array], across: tuple[float, float], y: Place) -> None:
    """The limit of comfort across sorted temperatures, and how many hours lie above it: of what is felt inside, else of the first, named."""
    limit = float(kind_of("temperature").to_shown(LIMIT))
    if not min(p[-1] for p in parts) < limit < max(p[0] for p in parts):
        return
    made.line((across[0], y(limit)), (across[1], y(limit)), stroke="chestnut", width=1.0, dash=True)
    n = next((n for n, s in enumerate(own) if s.quantity.name == "operative"), 0)
    words = f"{own[n].quantity.name}: {int((parts[n] > limit + 0.01).sum())} h above {limit:g} {own[n].unit}"
    made.text(across[1], y(limit) - 5, words, size=10.5, color="chestnut_text", anchor="end")


def _duration(made: Sketch, rows: list[Series], chart: HourChart, other: Other | None) -> None:
    """Each sorted from its most to its least, of the days shown: so many hours it is above a value."""
    first, last = (int(v) for v in span_of(chart))
    own = [s for s in rows if s.quantity.kind == rows[0].quantity.kind]
    parts = [np.sort(s.values[first:last])[::-1] for s in own]
    kind, theirs = own[0].quantity.kind, series(other.hours, chart) if other is not None else []
    over = [(s, np.sort(s.values[first:last])[::-1]) for s in theirs if s.quantity.kind == kind and s.quantity.name != "outdoors"]
    whole = [*parts, *(p for _, p in over)]
    least, most = min(float(p[-1]) for p in whole), max(float(p[0]) for p in whole)
    if kind != "temperature":
        least = min(least, 0.0)
    most = max(most, least + 1e-6)
    x, y = _frame(made, (0.0, float(last - first)), (least, most), own[0].unit, "hours")
    step = max((last - first) // 400, 1)
    for s, part, width, dash in [*((s, p, 1.4, False) for s, p in zip(own, parts, strict=True)), *((s, p, 1.2, True) for s, p in over)]:
        made.line(*((x(n + 0.5), y(float(part[n]))) for n in range(0, len(part), step)), stroke=s.token, width=width, dash=dash)
    if other is not None:
        made.text(made.width - RIGHT, 13, f"dashed: {other.name}", size=10.5, color="muted", anchor="end")
    if kind == "temperature":
        _above_the_limit(made, own, parts, (x(0), x(last - first)), y)
    names = own + [s for s in rows if s not in own]
    at = LEFT
    for s in names:
        words = s.quantity.name if s in own else f"{s.quantity.name}: not on this scale"
        made.line((at, 9), (at + 14, 9), stroke=s.token, width=2.2)
        made.text(at + 19, 13, words, size=11)
        at += 19 + 6.3 * len(words) + 16


def _frame(made: Sketch, across: tuple[float, float] | None, up: tuple[float, float], unit: str, below: str) -> tuple[Place, Place]:
    """Axes with their numbers; what turns values into places."""
    wide, high = made.width - LEFT - RIGHT, made.height - TOP - FOOT - 8

    first, last = across or (0.0, 1.0)

    def x(v: float) -> float:
        return LEFT + wide * (v - first) / max(last - first, 1e-9)

    def y(v: float) -> float:
        return TOP + high * (1 - (v - up[0]) / max(up[1] - up[0], 1e-9))

    for t in ticks(*up):
        made.line((LEFT, y(t)), (LEFT + wide, y(t)), stroke="grid", width=0.7)
        made.text(LEFT - 6, y(t) + 4, show_plain(t), size=10, color="muted", anchor="end")
    for t in ticks(first, last) if across is not None else ():
        made.line((x(t), TOP + high), (x(t), TOP + high + 4), stroke="ink", width=0.8)
        made.text(x(t), TOP + high + 16, f"{t:g}".replace("-", "−"), size=10, color="muted", anchor="middle")
    if across is not None:
        made.line((LEFT, TOP + high), (LEFT + wide, TOP + high), stroke="ink", width=0.8)
    made.text(LEFT - 6, TOP - 8, unit, size=10, color="muted", anchor="end")
    made.text(LEFT + wide, made.height - 4, below, size=10, color="muted", anchor="end")
    return x, y


# against outdoors


def meter_line(outside: Array, heating: Array) -> tuple[float, float]:
    """(slope [W/K], level at 0 °C [W]) through days with heating: the line a heat meter would show."""
    on = heating > 1.0
    if on.sum() < 3 or float(np.ptp(outside[on])) < 0.5:
        return 0.0, 0.0
    slope, level = np.polyfit(outside[on], heating[on], 1)
    return float(slope), float(level)


def _against(made: Sketch, h: Hours, chart: HourChart) -> None:
    """Heating of each day by its mean outdoors, and the line through them."""
    first, last = (int(v) for v in span_of(chart))
    year = getattr(h, RUNS[chart.run])
    outside = np.asarray(h.outside[first:last], float).reshape(-1, 24).mean(axis=1)
    heat = np.maximum(np.asarray(year.held[first:last], float), 0).reshape(-1, 24).mean(axis=1)
    warm, power = kind_of("temperature"), kind_of("power")
    low, high = float(outside.min()) - 1, float(outside.max()) + 1
    x, y = _frame(
        made,
        (float(warm.to_shown(low)), float(warm.to_shown(high))),
        (0.0, max(float(power.to_shown(heat.max())) * 1.05, 1.0)),
        power.unit,
        f"mean of the day outdoors, {warm.unit}",
    )
    for t, q in zip(np.asarray(warm.to_shown(outside)).tolist(), np.asarray(power.to_shown(heat)).tolist(), strict=True):
        px, py = x(t), y(q)
        made.path(((px - 2, py), (px, py - 2), (px + 2, py), (px, py + 2)), fill="slate_pale", stroke="slate", width=0.5)
    slope, level = meter_line(outside, heat)
    if slope < 0:
        end = -level / slope
        start = float(outside.min())
        made.line(
            (x(float(warm.to_shown(start))), y(float(power.to_shown(level + slope * start)))),
            (x(float(warm.to_shown(end))), y(0.0)),
            stroke="chestnut",
            width=1.6,
        )
        made.text(
            LEFT,
            13,
            f"{show(-slope, 'w_per_k')} {kind_of('w_per_k').unit}, none above {show(end, 'temperature')} {warm.unit}",
            size=11.5,
            bold=True,
        )
        made.text(LEFT, 28, "heating of each day, in the mean; the line a heat meter would show", size=10.5, color="muted")
    else:
        made.text(LEFT, 13, "hardly a day with heating", size=11.5, bold=True)


# sums of causes

GAINS = (("heating", "chestnut"), ("sun", "wood"), ("inner gains", "lichen_pale"))
LOSSES = (("by windows and doors", "slate_pale"), ("by opaque parts", "chestnut_pale"), ("by the air", "glass"), ("cooling", "tide"))
HATCHED = {"by opaque parts", "heating"}


def sums_by_month(h: Hours, run: str) -> dict[str, Array]:
    """What comes and goes by month [kWh], fixed categories."""
    year = getattr(h, RUNS[run])
    names = [n for n, _ in (*GAINS, *LOSSES)]
    return {n: np.bincount(MONTH_OF_HOUR, np.asarray(QUANTITIES[n].get(h, year), float), minlength=12) / 1000 for n in names}


def _sums(made: Sketch, h: Hours, chart: HourChart) -> None:
    sums, kind = sums_by_month(h, chart.run), kind_of("energy_month")
    shown = {n: np.asarray(kind.to_shown(v)) for n, v in sums.items()}
    share = made.width * 0.34
    made_wide, made.width = made.width, made.width - share
    up = [sum(max(float(shown[n][m]), 0) for n, _ in LOSSES) + sum(max(-float(shown[n][m]), 0) for n, _ in GAINS) for m in range(12)]
    down = [sum(max(float(shown[n][m]), 0) for n, _ in GAINS) + sum(max(-float(shown[n][m]), 0) for n, _ in LOSSES) for m in range(12)]
    _, y = _frame(made, None, (-max(*down, 1.0) * 1.02, max(*up, 1.0) * 1.02), kind.unit, "")
    wide = (made.width - LEFT - RIGHT) / 12
    for m in range(12):
        x, high, low = LEFT + m * wide + wide * 0.16, 0.0, 0.0
        for n, token, sign in [(n, t, 1) for n, t in LOSSES] + [(n, t, -1) for n, t in GAINS]:
            v = sign * float(shown[n][m])
            base = high if v >= 0 else low
            a, b = y(base), y(base + v)
            made.rect(
                x,
                min(a, b),
                wide * 0.68,
                max(abs(a - b), 0.0),
                fill=token,
                stroke="paper",
                width=0.5,
                pattern="hatch" if n in HATCHED else "",
                tip=f"{n}, {MONTHS[m]}: {show(sums[n][m], 'energy_month')} {kind.unit}",
            )
            high, low = (base + v, low) if v >= 0 else (high, base + v)
        made.text(x + wide * 0.34, made.height - 8, MONTHS[m][:1], size=10, color="muted", anchor="middle")
    made.line((LEFT, y(0)), (made.width - RIGHT, y(0)), stroke="ink", width=0.9)
    made.text(LEFT, 13, "what goes, up; what comes, down", size=11, color="muted")
    made.width = made_wide
    _year_of_sums(made, sums, made_wide - share + 8, share - 8)


def _year_of_sums(made: Sketch, sums: dict[str, Array], left: float, wide: float) -> None:
    """The year's sums beside: amounts, and shares of all that goes or comes, in fixed rows."""
    y = 20.0
    step = min((made.height - 40) / 10, 26.0)
    for title, rows in (("goes", LOSSES), ("comes", GAINS)):
        totals = {n: float(sums[n].sum()) for n, _ in rows}
        whole = sum(max(v, 0.0) for v in totals.values()) or 1.0
        made.text(left, y, title, size=11, color="muted")
        made.text(left + wide, y, kind_of("energy_month").unit, size=10, color="muted", anchor="end")
        for n, token in rows:
            y += step
            made.rect(left, y - 10, 12, 11, fill=token, stroke="line", width=0.6, pattern="hatch" if n in HATCHED else "")
            made.text(left + 18, y, n, size=11)
            made.text(left + wide - 44, y, show(totals[n], "energy_month"), size=11, anchor="end", bold=True)
            made.text(left + wide, y, f"{100 * max(totals[n], 0) / whole:.0f} %", size=11, anchor="end", color="muted")
        y += step * 1.3


STANDARD = {
    "hours-lines": HourChart(id="hours-lines", name="The year in lines"),
    "hours-by-day": HourChart(id="hours-by-day", name="Hour by day", kind="hour by day"),
    "hours-duration": HourChart(id="hours-duration", name="So many hours", kind="duration"),
    "hours-against": HourChart(id="hours-against", name="Heating against outdoors", kind="against outdoors", run="needs"),
    "hours-sums": HourChart(id="hours-sums", name="Sums of causes", kind="sums of causes", run="needs"),
}


def _own(a: Assessment, of: str) -> Sketch:
    """A chart kept in the home. Raises KeyError where it is gone."""
    part = find(a.home, of)
    if not isinstance(part, HourChart):
        raise KeyError(of)
    return chart_of(a, part, (640.0, 300.0))


PICTURES = (
    *(Picture(k, c.name, lambda a, _, c=c: chart_of(a, c, (640.0, 300.0))) for k, c in STANDARD.items()),  # type: ignore[misc]
    Picture("hours-own", "Chart of the hours", _own),
)
