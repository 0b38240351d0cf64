"""What an air test records: circumstances, fan rings, series of readings. Plain data, as they come from a file or a gauge."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date

DEPRESSURISING, PRESSURISING = "depressurising", "pressurising"
WAYS = (DEPRESSURISING, PRESSURISING)
AT_SEA_LEVEL = 101_325.0


@dataclass(frozen=True)
class Ring:
    """A flow ring of a fan: flow = coefficient · p^exponent [m³/h] for a fan pressure p between least and most [Pa]."""

    name: str
    coefficient: float
    exponent: float
    least: float
    most: float

    def flow(self, fan_pressure: float) -> float:
        """Flow at a fan pressure [m³/h]."""
        return float(self.coefficient * abs(fan_pressure) ** self.exponent)

    def holds(self, fan_pressure: float) -> bool:
        """Whether a fan pressure lies in the range the ring is calibrated for."""
        return self.least <= abs(fan_pressure) <= self.most


@dataclass(frozen=True)
class Reading:
    """One pressure inside over outside [Pa] and the flow the fan shows [m³/h], or its pressure and ring; averaged over so many seconds.
    left_out: the reason why it does not count; place: where it stands in a file; simulated: a practice gauge gave it, nobody measured."""

    pressure: float
    flow: float | None = None
    fan_pressure: float | None = None
    ring: str = ""
    seconds: float | None = None
    left_out: str = ""
    place: str = ""
    simulated: bool = False


def at_zero(*pressures: float, seconds: float | None = None) -> tuple[Reading, ...]:
    """Zero-flow readings [Pa], each averaged over so many seconds."""
    return tuple(Reading(p, seconds=seconds) for p in pressures)


@dataclass(frozen=True)
class Series:
    """One series of a test with its zero-flow readings before and after. run: of several series of one direction, which."""

    way: str
    readings: tuple[Reading, ...]
    before: tuple[Reading, ...] = ()
    after: tuple[Reading, ...] = ()
    run: int = 1

    @property
    def name(self) -> str:
        """“depressurising”, “depressurising 2”."""
        return self.way if self.run == 1 else f"{self.way} {self.run}"

    @property
    def zero_before(self) -> tuple[float, ...]:
        """Zero-flow pressures that count [Pa]."""
        return tuple(r.pressure for r in self.before if not r.left_out)

    @property
    def zero_after(self) -> tuple[float, ...]:
        """Zero-flow pressures that count [Pa]."""
        return tuple(r.pressure for r in self.after if not r.left_out)


@dataclass(frozen=True)
class Instrument:
    """A fan or a gauge by what its calibration says: when it was calibrated, until when that holds; None where it is not said."""

    name: str
    calibrated: date | None = None
    until: date | None = None


@dataclass(frozen=True)
class Measurement:
    """One test. Sizes [m³, m², m² and m]; temperatures [°C], relative humidities, pressure of the air [Pa], wind [m/s].

    method: 1 the building in use, 2 its envelope, 3 as a rule says (ISO 9972:2015, 5.2.3). corrected: the flows are those through the
    fan at its own air already. calibrated_at: temperature of the air the rings were calibrated with."""

    series: tuple[Series, ...] = ()
    rings: dict[str, Ring] = field(default_factory=dict)
    volume: float | None = None
    envelope: float | None = None
    floor: float | None = None
    height: float | None = None
    inside: float | None = None
    outside: float | None = None
    humidity_inside: float = 0.0
    humidity_outside: float = 0.0
    barometer: float | None = None
    wind: float | None = None
    method: int = 2
    corrected: bool = False
    calibrated_at: float = 20.0
    tested: date | None = None
    instruments: tuple[Instrument, ...] = ()

    @property
    def simulated(self) -> bool:
        """Whether a reading that counts came from a practice gauge: then nothing of it was measured."""
        return any(r.simulated for s in self.series for r in (*s.readings, *s.before, *s.after) if not r.left_out)
