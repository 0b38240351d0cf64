"""A test as it lies in a home, as what was measured: with the home's sizes where it says none of its own."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from nuthatch.core.airtest.readings import WAYS, Instrument, Measurement, Reading, Ring, Series
from nuthatch.core.model import air_test as model
from nuthatch.core.model.part import Given

METHODS = {"building in use": 1, "envelope": 2, "as a rule says": 3}
PURPOSES = {number: name for name, number in METHODS.items()}


def number(given: Given | None) -> float | None:
    """The value of a field, None where it is empty."""
    return given.value if given is not None else None


def day(text: str) -> date | None:
    """A date written as 2026-11-23; None for anything else."""
    try:
        return date.fromisoformat(text.strip())
    except ValueError:
        return None


def rings_of(fan: model.Fan | None) -> dict[str, Ring]:
    """The rings of a fan whose calibration is whole, by name."""
    found = {}
    for r in fan.rings if fan is not None else ():
        values = [number(v) for v in (r.coefficient, r.exponent, r.least, r.most)]
        if all(v is not None for v in values):
            found[r.name] = Ring(r.name, *(v for v in values if v is not None))
    return found


@dataclass(frozen=True)
class Sizes:
    """What a test takes from its home: air volume [m³], envelope inside and floor [m²], height [m]; None where not known."""

    volume: float | None = None
    envelope: float | None = None
    floor: float | None = None
    height: float | None = None


def measured(test: model.AirTest, home: Sizes = Sizes()) -> Measurement:
    """What was measured [SI], with the home's sizes where the test has none of its own."""
    own = {name: number(getattr(test, name)) or getattr(home, name) for name in ("volume", "envelope", "floor", "height")}
    made_by = [(name, x) for name, x in (("fan", test.fan), ("gauge", test.gauge)) if x is not None]
    return Measurement(
        series=tuple(s for way in WAYS for s in _series(test, way) if s.readings),
        rings=rings_of(test.fan),
        **own,
        inside=_mean(test.inside, test.inside_end),
        outside=_mean(test.outside, test.outside_end),
        humidity_inside=number(test.humidity_inside) or 0.0,
        humidity_outside=number(test.humidity_outside) or 0.0,
        barometer=number(test.barometer),
        wind=number(test.wind),
        method=METHODS[test.purpose],
        corrected=test.corrected,
        **({"calibrated_at": test.fan.calibrated_at.value} if test.fan is not None and test.fan.calibrated_at is not None else {}),
        tested=day(test.tested),
        instruments=tuple(Instrument(name, day(x.calibrated), day(x.until)) for name, x in made_by),
    )


def _mean(start: Given | None, end: Given | None) -> float | None:
    """A temperature of the test, the mean of start and end where both are given; the one at the start is always wanted."""
    if start is None or end is None:
        return number(start)
    return (start.value + end.value) / 2


def run_of(reading: model.TestReading | model.LoggedReading) -> int:
    """Which series of its direction a reading is of, 1 where it does not say."""
    given = reading.run
    return int(given.value) if isinstance(given, Given) else int(given or 1)


def _series(test: model.AirTest, way: str) -> Iterator[Series]:
    """Every series of a direction, run by run."""
    runs = {*map(run_of, (r for r in test.readings if r.way == way)), *map(run_of, (r for r in test.log if r.way == way))}
    return (_one_series(test, way, run) for run in sorted(runs))


def _one_series(test: model.AirTest, way: str, run: int) -> Series:
    rows: dict[str, list[Reading]] = {"zero before": [], "point": [], "zero after": []}
    for n, r in enumerate(test.readings, 1):
        aside = r.left_out and r.flow is None and r.fan_pressure is None  # it has no place on the chart either
        aside = aside and r.moment == "point"
        if r.way == way and run_of(r) == run and r.pressure is not None and not aside:
            values = (r.pressure.value, number(r.flow), number(r.fan_pressure), r.ring, number(r.seconds), r.left_out)
            rows[r.moment].append(Reading(*values, place=f"reading {n}", simulated=r.simulated))
    for n, logged in enumerate(test.log, 1):
        if logged.way == way and run_of(logged) == run:
            said = (logged.pressure, logged.flow, logged.fan_pressure, logged.ring, logged.seconds, logged.left_out)
            rows[logged.moment].append(Reading(*said, place=f"logged reading {n}", simulated=logged.simulated))
    return Series(way, tuple(rows["point"]), tuple(rows["zero before"]), tuple(rows["zero after"]), run)
