"""Whether an air test holds: ISO 9972:2015, line by line, each with what was found and what is asked."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nuthatch.core.airtest.readings import Measurement
from nuthatch.core.airtest.worked import Result, SeriesResult
from nuthatch.core.units import with_unit

ZERO, FEWEST, LEAST, OVER_ZERO, HIGH, LEAST_HIGH, GAP = 5.0, 5, 10.0, 5.0, 50.0, 25.0, 10.5
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
    return (*found, *_of_test(test))


def valid(rows: tuple[Requirement, ...]) -> bool | None:
    """Whether all lines hold; None where one cannot be known and none fails."""
    if any(line.holds is False for line in rows):
        return False
    return None if any(line.holds is None for line in rows) else True


def _of_series(half: SeriesResult) -> Iterator[Requirement]:
    way = half.series.way
    ends = [("before", half.before), ("after", half.after)]
    lost = [name for name, z in ends if z is None]
    largest = max((z.largest for _, z in ends if z is not None), default=0.0)
    says = f"not measured {' and '.join(lost)}" if lost else f"up to {with_unit(largest, 'pascal')}; at most {with_unit(ZERO, 'pascal')}"
    yield Requirement(f"{way}: zero-flow pressure", False if largest > ZERO else None if lost else True, says)
    pressures = sorted(p.pressure for p in half.points if p.counts)
    yield Requirement(f"{way}: points", len(pressures) >= FEWEST, f"{len(pressures)} count; at least {FEWEST}")
    asked = max(LEAST, OVER_ZERO * largest)
    low = with_unit(asked, "pascal")
    yield Requirement(f"{way}: lowest point", pressures[0] >= asked - 1e-9, f"{with_unit(pressures[0], 'pascal')}; at least {low}")
    top = with_unit(pressures[-1], "pascal")
    reached = pressures[-1] >= HIGH
    short = "" if reached else f": 50 Pa was not reached, which the report says; below {with_unit(LEAST_HIGH, 'pascal')} it does not hold"
    yield Requirement(f"{way}: highest point", pressures[-1] >= LEAST_HIGH, f"{top}{short}")
    widest = max((b - a for a, b in zip(pressures, pressures[1:], strict=False)), default=0.0)
    yield Requirement(
        f"{way}: steps", widest <= GAP, f"up to {with_unit(widest, 'pascal')} apart; about {with_unit(10.0, 'pascal')} at most"
    )
    n, r = half.fit.exponent, half.fit.r_squared
    if half.fit.assumed:
        yield Requirement(f"{way}: exponent", None, f"n {n:.2f} is assumed: one pressure was measured")
        yield Requirement(f"{way}: fit", None, "one pressure shows no line")
    else:
        yield Requirement(f"{way}: exponent", EXPONENT[0] <= n <= EXPONENT[1], f"n {n:.3f}; {EXPONENT[0]:g} to {EXPONENT[1]:g}")
        yield Requirement(f"{way}: fit", r >= FITS if r == r else None, f"r² {r:.4f}; at least {FITS:g}")


def _of_test(test: Measurement) -> Iterator[Requirement]:
    if test.height is not None and test.inside is not None and test.outside is not None:
        lift = test.height * abs(test.inside - test.outside)
        yield Requirement("height × temperature difference", lift <= LIFT, f"{lift:.0f} m·K; at most {LIFT:.0f} m·K")
    else:
        yield Requirement("height × temperature difference", None, "the height of the building is not given")
    if test.wind is not None:
        yield Requirement("wind", test.wind <= WIND, f"{with_unit(test.wind, 'speed')}; at most {with_unit(WIND, 'speed')}")
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
    if test.tested is not None and test.calibrated_until is not None:
        yield Requirement("calibration", test.tested <= test.calibrated_until, f"holds until {test.calibrated_until}; tested {test.tested}")
    else:
        yield Requirement("calibration", None, "date of the test and of the calibration's end are not both given")
