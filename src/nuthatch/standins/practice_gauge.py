"""The practice gauge and fan: a simulated house at the other end of a gauge's line, to learn on and to test with.

A house with leaks q = C_L·Δpⁿ, air of two temperatures, a fan that follows its aim in seconds, wind that comes and goes, a zero that
drifts, a tube that can come off. Everything random comes from a seed.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import copysign, exp, sqrt
from random import Random

from nuthatch.core.airtest.readings import Ring
from nuthatch.core.airtest.worked import AT_50, STANDARD, air_density

FOLLOWS = 1.5
"""Time in which the fan comes within a third of its aim [s]."""
GUSTS, SWIRL = 2.0, 8.0
"""Time over which the wind, and the air before the fan, remember themselves [s]."""


@dataclass(frozen=True)
class PracticeHouse:
    """What is true of the simulated house and its weather. coefficient: C_L [m³/(h·Paⁿ)]; wind: size of the gusts at the gauge [Pa];
    scatter: of the fan's flow, as a share; zero: pressure
    without a fan [Pa]; drift of it [Pa/min]."""

    coefficient: float = 17.2
    exponent: float = 0.655
    inside: float = 20.5
    outside: float = 7.0
    barometer: float = 101_200.0
    wind: float = 0.3
    scatter: float = 0.01
    zero: float = -0.8
    drift: float = 0.02
    seed: int = 7


def house_like(n50: float | None, volume: float | None, calm: bool = False) -> PracticeHouse:
    """A practice house that leaks about as a home is thought to: by its n50 [1/h] and air volume [m³], or as an ordinary one."""
    plain = PracticeHouse()
    coefficient = (n50 or 2.0) * (volume or 300.0) / AT_50**plain.exponent
    house = replace(plain, coefficient=coefficient)
    return replace(house, wind=0.0, scatter=0.0, drift=0.0) if calm else house


class PracticeGauge:
    """Answers the lines of a gauge (`core/airtest/instrument.py`); time passes by `advance`."""

    def __init__(self, house: PracticeHouse, rings: Mapping[str, Ring]) -> None:
        self.house, self.rings = house, rings
        self.seconds = 0.0
        self.tube = True
        self.answers = True
        self._ring: str | None = None
        self.aim = self.held = self._gust = self._swirl = 0.0
        self._random = Random(house.seed)
        self._inside = air_density(house.inside, house.barometer)
        self._outside = air_density(house.outside, house.barometer)

    def advance(self, seconds: float) -> None:
        """Let time pass."""
        self.seconds += seconds
        reach = self._reach()
        aim = max(min(self.aim, reach), -reach) if self._ring else 0.0
        self.held += (aim - self.held) * (1 - exp(-seconds / FOLLOWS))
        self._gust = self._wandering(self._gust, self.house.wind, seconds / GUSTS)
        self._swirl = self._wandering(self._swirl, self.house.scatter, seconds / SWIRL)

    def _wandering(self, value: float, size: float, steps: float) -> float:
        """A random value that remembers itself, a while later."""
        keep = exp(-steps)
        return value * keep + self._random.gauss(0.0, size) * sqrt(1 - keep * keep)

    def ask(self, line: str) -> str:
        """The answer to a line."""
        if not self.answers:
            return ""
        word, _, rest = line.strip().partition(" ")
        if word == "RING":
            if rest and rest not in self.rings:
                return f"NO there is no ring {rest}"
            self._ring = rest or None
            return "OK"
        if word == "AIM":
            try:
                self.aim = float(rest)
            except ValueError:
                return "NO an aim is a number"
            return "OK" if abs(self.aim) <= 200 else "NO the aim is at most 200 Pa"
        if word == "READ":
            pressure = self.held + self._zero() + self._gust if self.tube else self._gust * 0.1
            return f"T {self.seconds:.2f} P {pressure:.4f} F {self._fan():.4f}"
        return "NO AIM, RING or READ"

    def _zero(self) -> float:
        return self.house.zero + self.house.drift * self.seconds / 60

    def _flow(self, held: float) -> float:
        """What the fan moves at its own air, as it reads it [m³/h], at a pressure held over the envelope."""
        size, down = abs(held), held < 0
        leaks = self._outside if down else self._inside
        through = self.house.coefficient * (leaks / STANDARD) ** (self.house.exponent - 1) * size**self.house.exponent
        at_fan, other = (self._inside, self._outside) if down else (self._outside, self._inside)
        return float(through * other / at_fan / sqrt(air_density(20.0) / at_fan))

    def _fan(self) -> float:
        """The pressure of the fan for its flow through the ring that is on it."""
        if self._ring is None or abs(self.held) < 1e-6:
            return 0.0
        ring = self.rings[self._ring]
        felt = self.held + copysign(min(abs(self._gust), 0.5 * abs(self.held)), self._gust)  # gusts move the flow as they move the pressure
        return float((self._flow(felt) * (1 + self._swirl) / ring.coefficient) ** (1 / ring.exponent))

    def _reach(self) -> float:
        """The largest pressure the fan reaches with its ring [Pa]."""
        if self._ring is None:
            return 0.0
        ring = self.rings[self._ring]
        most = ring.coefficient * ring.most**ring.exponent * 1.15
        return float((most / max(self._flow(1.0), 1e-9)) ** (1 / self.house.exponent))
