"""A fan and a pressure gauge as the test sees them, and the lines of text it speaks with them: a connection of our own.

    AIM -50        the fan is to hold a pressure inside over outside [Pa]; AIM 0 stops it
    RING 2         the ring that is on the fan; RING alone: the fan is covered
    READ           answered by “T 12.5 P -49.8 F 102.4”: seconds, pressure over the envelope, pressure of the fan [Pa]

Every line is answered by one: “OK”, a reading, or “NO” and why.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Protocol

_NUMBER = r"(-?\d+(?:\.\d+)?(?:e-?\d+)?)"
_READ = re.compile(rf"T {_NUMBER} P {_NUMBER} F {_NUMBER}", re.I)
COVERED = ""


class NoAnswer(OSError):
    """The gauge does not answer, or not in a way that can be read."""


@dataclass(frozen=True)
class Sample:
    """What the gauge shows at a moment: seconds since it began, pressure inside over outside, pressure of the fan [Pa]."""

    seconds: float
    pressure: float
    fan_pressure: float


class GaugeLine(Protocol):
    """Whatever carries lines to a gauge and its answers back."""

    def ask(self, line: str) -> str: ...


class Gauge:
    """A gauge and fan at the other end of a line. Raises NoAnswer."""

    def __init__(self, line: GaugeLine) -> None:
        self._line = line

    def aim(self, pressure: float) -> None:
        """Hold a pressure inside over outside [Pa]; 0 stops the fan."""
        self._told(f"AIM {pressure:g}")

    def ring(self, name: str) -> None:
        """Say which ring is on the fan; '' covers it."""
        self._told(f"RING {name}".strip())

    def read(self) -> Sample:
        """What it shows now."""
        answer = self._line.ask("READ")
        found = _READ.fullmatch(answer.strip())
        if found is None:
            raise NoAnswer(f"the gauge answered “{answer[:60]}”")
        return Sample(*(float(v) for v in found.groups()))

    def _told(self, line: str) -> None:
        answer = self._line.ask(line).strip()
        if answer != "OK":
            raise NoAnswer(f"the gauge answered “{answer[:60]}” to “{line}”")
