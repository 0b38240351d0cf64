"""Flow over pressure of an air test on logarithmic axes: points, line and 95 % band of each series."""

from __future__ import annotations

from collections.abc import Callable
from math import cos, exp, floor, log, log10, pi, sin

from nuthatch.core.airtest.readings import DEPRESSURISING
from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.airtest.worked import AT_50, FlowPoint, Result, SeriesResult, weights
from nuthatch.core.assess import Assessment
from nuthatch.core.sketch import Picture, PointXY, Sketch, fitted
from nuthatch.core.units import kind_of, show, unit_of, with_unit

PRESSURES = (5, 10, 15, 20, 30, 40, 50, 60, 70, 80, 100)
STEPS = (1.0, 1.5, 2.0, 3.0, 4.0, 6.0, 8.0)
LEFT, RIGHT, TOP, FOOT = 58.0, 20.0, 30.0, 40.0
COLORS = {DEPRESSURISING: ("slate", "slate_pale")}
OTHER = ("lichen", "lichen_pale")
MARKS = 300
Place = Callable[[float, float], PointXY]


def chart(result: Result, width: float = 560.0, height: float = 360.0, beside: tuple[str, Result] | None = None) -> Sketch:
    """Both series of a test; what was left out is hollow. beside: another test by its name, as one faint line, to compare with."""
    made = Sketch(width, height, "Flow over pressure")
    points = [p for half in result.halves for p in half.points if p.pressure > 0 and p.flow > 0]
    least, most = min(*(p.pressure for p in points), AT_50) * 0.85, max(*(p.pressure for p in points), AT_50) * 1.15
    flows = [p.flow for p in points] + [half.at(AT_50) for half in result.halves]
    if beside is not None:
        flows += [_mean(beside[1], p) for p in (least, most)]
    low, high = min(flows) * 0.85, max(flows) * 1.15

    def at(pressure: float, flow: float) -> PointXY:
        x = LEFT + (width - LEFT - RIGHT) * log(pressure / least) / log(most / least)
        return x, height - FOOT - (height - TOP - FOOT) * log(flow / low) / log(high / low)

    _grid(made, at, (least, most), (low, high))
    for half in result.halves:
        _series(made, at, half, (least, most), (low, high))
    if beside is not None:
        made.line(at(least, _mean(beside[1], least)), at(most, _mean(beside[1], most)), stroke="muted", width=1.4, dash=True, tip=beside[0])
        x, y = at(most, _mean(beside[1], most))
        says = f"{beside[0]}: {with_unit(beside[1].q50, 'flow')}"
        made.text(x - 6, y + 18, says, size=11.5, color="muted", anchor="end", halo=True)
    _labels(made, result)
    return made


def _labels(made: Sketch, result: Result) -> None:
    """What each series gives at 50 Pa, and that nothing was measured where it was not."""
    if any(p.reading.simulated and p.counts for half in result.halves for p in half.points):
        made.text(
            made.width - RIGHT - 8,
            made.height - FOOT - 10,
            "simulated, not measured",
            size=13,
            bold=True,
            color="chestnut_text",
            anchor="end",
            halo=True,
        )
    for n, half in enumerate(result.halves):
        line, _ = COLORS.get(half.series.way, OTHER)
        made.text(
            LEFT + 10,
            TOP + 16 + 16 * n,
            fitted(f"{half.series.name}: {with_unit(half.at(AT_50), 'flow')} at 50 Pa", made.width - LEFT - RIGHT - 12, 11.5),
            size=11.5,
            color=line,
            halo=True,
        )


def _mean(result: Result, pressure: float) -> float:
    """The mean flow of a test's series at a pressure [m³/h]."""
    shares = weights(tuple(half.series for half in result.halves))
    return sum(half.at(pressure) * share for half, share in zip(result.halves, shares, strict=True))


def _grid(made: Sketch, at: Place, across: tuple[float, float], up: tuple[float, float]) -> None:
    """Lines and numbers of both axes; 50 Pa stands out."""
    to_shown = kind_of("flow").to_shown
    for p in PRESSURES:
        if across[0] <= p <= across[1]:
            made.line(at(p, up[0]), at(p, up[1]), stroke="ink" if p == AT_50 else "line", width=1.0, dash=p == AT_50)
            made.text(at(p, up[0])[0], at(p, up[0])[1] + 16, str(p), size=11, color="muted", anchor="middle")
    shown = to_shown(up[0]), to_shown(up[1])
    for power in range(floor(log10(shown[0])), floor(log10(shown[1])) + 1):
        for step in STEPS:
            value = step * 10**power
            if shown[0] <= value <= shown[1]:
                flow = up[0] * value / shown[0]  # both are proportional
                made.line(at(across[0], flow), at(across[1], flow), stroke="line", width=1.0)
                made.text(at(across[0], flow)[0] - 8, at(across[0], flow)[1] + 4, show(flow, "flow"), size=11, color="muted", anchor="end")
    made.path((at(across[0], up[0]), at(across[1], up[0]), at(across[1], up[1]), at(across[0], up[1])), stroke="muted", width=1.0)
    made.text(at(across[0], up[1])[0] - 8, at(across[0], up[1])[1] - 10, unit_of("flow"), size=11, color="muted", anchor="end")
    made.text(
        (at(across[0], up[0])[0] + at(across[1], up[0])[0]) / 2, at(across[0], up[0])[1] + 32, "Pa", size=11, color="muted", anchor="middle"
    )


def _series(made: Sketch, at: Place, half: SeriesResult, across: tuple[float, float], up: tuple[float, float]) -> None:
    color, pale = COLORS.get(half.series.way, OTHER)
    fit = half.fit
    counting = [p.pressure for p in half.points if p.counts]
    ends = min(counting), max(*counting, AT_50)
    steps = [ends[0] * (ends[1] / ends[0]) ** (n / 24) for n in range(25)]

    def within(pressure: float, flow: float) -> PointXY:
        return at(pressure, min(max(flow, up[0]), up[1]))

    if fit.band(AT_50) == fit.band(AT_50):
        upper = [within(p, fit.at(p) * exp(fit.band(p))) for p in steps]
        lower = [within(p, fit.at(p) * exp(-fit.band(p))) for p in reversed(steps)]
        made.path((*upper, *lower), fill=pale, stroke="", tip="95 % confidence")
    made.line(*(within(p, fit.at(p)) for p in steps), stroke=color, width=1.8, dash=fit.assumed)
    for p in half.points[:: max(len(half.points) // MARKS, 1)]:  # of a long log only some are drawn
        if p.pressure > 0 and p.flow > 0:
            _mark(made, at(p.pressure, p.flow), p, color)


def _mark(made: Sketch, place: PointXY, point: FlowPoint, color: str) -> None:
    x, y = place
    ring = [(x + 4.5 * cos(n * pi / 6), y + 4.5 * sin(n * pi / 6)) for n in range(12)]
    says = f"{with_unit(point.pressure, 'pascal')}, {with_unit(point.flow, 'flow')}"
    tip = f"{says}, left out: {point.reading.left_out}" if point.reading.left_out else says
    made.path(ring, fill="white" if point.reading.left_out else color, stroke=color, width=1.4, tip=tip)


def picture(a: Assessment, of: str = "") -> Sketch:
    """The chart of a test of the home, of the one that counts where none is named. Raises KeyError where it is gone."""
    found = a.all_of(TESTED)
    test = found[of or a.home.air.test or next(iter(found))] if found else None
    made = Sketch(560.0, 120.0, "Flow over pressure")
    if test is None or test.result is None:
        made.say("no air test yet" if test is None else f"wanted: {test.lacks}")
        return made
    return chart(test.result)


PICTURES = (Picture("air-test", "Air test: flow over pressure", picture),)
