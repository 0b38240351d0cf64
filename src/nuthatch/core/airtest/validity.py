"""Whether an air test holds: ISO 9972:2015, line by line, each with what was found and what is asked."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nuthatch.core.airtest.readings import Measurement, Series
from nuthatch.core.airtest.worked import Result, SeriesResult
from nuthatch.core.units import FOOT, kind_of, unit_of, with_unit

ZERO, FEWEST, LEAST, OVER_ZERO, HIGH, LEAST_HIGH, GAP = 5.0, 5, 10.0, 5.0, 50.0, 25.0, 10.5
ZERO_TIME = 30.0
"""Seconds each zero-flow pressure is averaged over, all its readings together."""
NEAR = 10.0
"""How far above what is asked the lowest point may lie [Pa]: “approximately” in the standard; one step of ours."""
SLACK = 1e-9
EXPONENT, FITS, LIFT, WIND = (0.5, 1.0), 0.98, 250.0, 6.0


@dataclass(frozen=True)
class Requirement:
    """One thing that is asked. holds: None where it cannot be known."""

    name: str
    holds: bool | None
    says: str


def lines(test: Measurement, result: Result) -> tuple[Requirement, ...]:
    """Everything that is asked of a test, series by series, then of the test."""
    found = [line for half in result.halves for line in _of_series(half)]
    return (*found, *_of_test(test), *_of_instruments(test))


def valid(rows: tuple[Requirement, ...]) -> bool | None:
    """Whether all lines hold; None where one cannot be known and none fails."""
    if any(line.holds is False for line in rows):
        return False
    return None if any(line.holds is None for line in rows) else True


def shown(value: float, kind: str, places: int | None = None) -> float:
    """A value as it is shown, in SI: what is printed beside a limit is what is compared with it."""
    spec = kind_of(kind)
    return float(spec.to_stored(round(spec.to_shown(value), spec.decimals if places is None else places)))


def _of_series(half: SeriesResult) -> Iterator[Requirement]:
    way, series = half.series.name, half.series
    ends = [("before", half.before), ("after", half.after)]
    lost = [name for name, z in ends if z is None]
    largest = shown(max((z.largest for _, z in ends if z is not None), default=0.0), "pascal")
    says = f"not measured {' and '.join(lost)}" if lost else f"up to {with_unit(largest, 'pascal')}; at most {with_unit(ZERO, 'pascal')}"
    yield Requirement(f"{way}: zero-flow pressure", False if largest > ZERO + SLACK else None if lost else True, says)
    yield _zero_time(way, series)
    yield _point_time(way, series)
    pressures = sorted(p.pressure for p in half.points if p.counts)
    yield Requirement(f"{way}: points", len(pressures) >= FEWEST, f"{len(pressures)} count; at least {FEWEST}")
    asked = max(LEAST, OVER_ZERO * largest)
    lowest = shown(pressures[0], "pascal")
    low = f"{with_unit(lowest, 'pascal')}; at least {with_unit(asked, 'pascal')}, at most about {with_unit(asked + NEAR, 'pascal')}"
    yield Requirement(f"{way}: lowest point", asked - SLACK <= lowest <= asked + NEAR + SLACK, low)
    highest = shown(pressures[-1], "pascal")
    short = (
        ""
        if highest >= HIGH - SLACK
        else f": 50 Pa was not reached, which the report says; below {with_unit(LEAST_HIGH, 'pascal')} it does not hold"
    )
    yield Requirement(f"{way}: highest point", highest >= LEAST_HIGH - SLACK, f"{with_unit(highest, 'pascal')}{short}")
    widest = shown(max((b - a for a, b in zip(pressures, pressures[1:], strict=False)), default=0.0), "pascal")
    apart = f"up to {with_unit(widest, 'pascal')} apart; about {with_unit(10.0, 'pascal')} at most"
    yield Requirement(f"{way}: steps", widest <= GAP + SLACK, apart)
    n, r = half.fit.exponent, half.fit.r_squared
    if half.fit.assumed:
        yield Requirement(f"{way}: exponent", None, f"n {n:.2f} is assumed: one pressure was measured")
        yield Requirement(f"{way}: fit", None, "one pressure shows no line")
    else:
        holds = EXPONENT[0] <= round(n, 3) <= EXPONENT[1]
        yield Requirement(f"{way}: exponent", holds, f"n {n:.3f}; {EXPONENT[0]:g} to {EXPONENT[1]:g}")
        yield Requirement(f"{way}: fit", round(r, 4) >= FITS if r == r else None, f"r² {r:.4f}; at least {FITS:g}")


def _zero_time(way: str, series: Series) -> Requirement:
    """Whether both zero-flow pressures were averaged long enough: ISO 9972:2015, 5.3.3."""
    name, asked = f"{way}: zero-flow averaging", f"at least {ZERO_TIME:.0f} s at each end"
    times = []
    for end, rows in (("before", series.before), ("after", series.after)):
        counting = [r for r in rows if not r.left_out]
        if not counting or any(r.seconds is None for r in counting):
            return Requirement(name, None, f"averaging time {end} is not given; {asked}")
        times.append(round(sum(r.seconds or 0.0 for r in counting)))
    return Requirement(name, min(times) >= ZERO_TIME, f"{times[0]} s before, {times[1]} s after; {asked}")


def _point_time(way: str, series: Series) -> Requirement:
    """How long the points were averaged: the standard gives no time for them, so that a short one is told and fails nothing."""
    times = [r.seconds for r in series.readings if not r.left_out]
    if any(t is None for t in times):
        return Requirement(f"{way}: time at each pressure", None, "averaging times are not all given")
    least = round(min((t for t in times if t is not None), default=0.0))
    long = least >= ZERO_TIME
    return Requirement(
        f"{way}: time at each pressure",
        True if long else None,
        f"{least} s and more" + ("" if long else ", shorter than 30 s, which the report says"),
    )


def _of_test(test: Measurement) -> Iterator[Requirement]:
    if test.simulated:
        yield Requirement("readings", False, "simulated by the practice gauge: practice, nothing was measured")
    ways = {s.way for s in test.series}
    yield Requirement(
        "both directions", True if len(ways) > 1 else None, "both" if len(ways) > 1 else f"only {min(ways)}, which the report says"
    )
    if test.height is not None and test.inside is not None and test.outside is not None:
        lift = round(test.height * abs(test.inside - test.outside))
        yield Requirement("height × temperature difference", lift <= LIFT, f"{with_lift(lift)}; at most {with_lift(LIFT)}")
    else:
        yield Requirement("height × temperature difference", None, "the height of the building, or a temperature, is not given")
    if test.wind is not None:
        wind = shown(test.wind, "speed")
        yield Requirement("wind", wind <= WIND + SLACK, f"{with_unit(wind, 'speed')}; at most {with_unit(WIND, 'speed')}")
    else:
        yield Requirement("wind", None, "not given")
    read = [(s, r) for s in test.series for r in s.readings if r.flow is None and not r.left_out]
    beyond = [r for _, r in read if r.ring in test.rings and r.fan_pressure is not None and not test.rings[r.ring].holds(r.fan_pressure)]
    if beyond:
        r, ring = beyond[0], test.rings[beyond[0].ring]
        span = f"{with_unit(ring.least, 'pascal')} to {with_unit(ring.most, 'pascal')}"
        what = f"{r.place + ': ' if r.place else ''}fan pressure {with_unit(r.fan_pressure or 0.0, 'pascal')} with ring {ring.name}, which holds from {span}"
        yield Requirement("rings in their range", False, what)
    elif read:
        yield Requirement("rings in their range", True, f"all {len(read)} readings")


def with_lift(value: float) -> str:
    """Height times temperature difference in the units in use: m·K or ft·°F."""
    imperial = unit_of("length") == "ft"
    return f"{value / FOOT * 1.8:.0f} ft·°F" if imperial else f"{value:.0f} m·K"


def _of_instruments(test: Measurement) -> Iterator[Requirement]:
    """The calibration of fan and gauge: given, done before the test, still holding on its day."""
    if not test.instruments:
        yield Requirement("calibration", None, "neither fan nor gauge is named with its calibration")
    for made in test.instruments:
        name = f"calibration of the {made.name}"
        if test.tested is None:
            yield Requirement(name, None, "the date of the test is not given")
        elif made.calibrated is not None and made.calibrated > test.tested:
            yield Requirement(name, False, f"calibrated {made.calibrated}, after the test of {test.tested}")
        elif made.until is not None and test.tested > made.until:
            yield Requirement(name, False, f"holds until {made.until}; tested {test.tested}")
        elif made.calibrated is None or made.until is None:
            lacks = "date of the calibration" if made.calibrated is None else "end of the calibration"
            yield Requirement(name, None, f"the {lacks} is not given")
        else:
            yield Requirement(name, True, f"{made.calibrated}, holds until {made.until}; tested {test.tested}")
