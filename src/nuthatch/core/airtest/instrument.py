"""A fan and a pressure gauge as the test sees them, and the lines of text it speaks with them: docs/gauge-lines.md.

    WHO            answered by “WHO 1 simulated=no fan=held name=…”: version, whether it is a practice gauge, how the fan is driven
    AIM -50        the fan is to hold a pressure inside over outside [Pa]; AIM 0 stops it
    RING 2         the ring that is on the fan; RING alone: the fan is covered
    READ           answered by “T 12.5 P -49.8 F 102.4”: seconds, pressure over the envelope, pressure of the fan [Pa]

Every line is answered by one: “OK”, what was asked for, or “NO” and why.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from math import isfinite
from typing import Protocol

_NUMBER = r"([-+]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[-+]?\d+)?)"
_READ = re.compile(rf"T\s+{_NUMBER}\s+P\s+{_NUMBER}\s+F\s+{_NUMBER}", re.I)
_WHO = re.compile(r"WHO\s+(\d+)\s+simulated=(yes|no)\s+fan=(held|hand)(?:\s+name=(.*))?", re.I)
COVERED = ""
VERSION = 1
LONGEST_LINE = 400
"""Characters of an answer; more without an end of line is no answer."""


class NoAnswer(OSError):
    """The gauge does not answer, or not in a way that can be read."""


@dataclass(frozen=True)
class Sample:
    """What the gauge shows at a moment: seconds since it began, pressure inside over outside, pressure of the fan [Pa]."""

    seconds: float
    pressure: float
    fan_pressure: float


@dataclass(frozen=True)
class Who:
    """What is at the other end: a practice gauge or a real one, a fan that holds a pressure by itself or one turned by hand, its name."""

    simulated: bool
    held: bool
    name: str = ""


class GaugeLine(Protocol):
    """Whatever carries lines to a gauge and its answers back."""

    def ask(self, line: str) -> str: ...


def said(answer: str) -> str:
    """An answer within a sentence, without what cannot be shown."""
    shown = "".join(c if c.isprintable() else "·" for c in answer.strip())
    return f"the gauge answered “{shown[:60]}”" if shown else "the gauge does not answer"


def reading_of(answer: str) -> Sample:
    """What the gauge shows, from its answer to READ. Raises NoAnswer for anything else, and for what is no finite number."""
    found = _READ.fullmatch(answer.strip())
    values = [float(v) for v in found.groups()] if found is not None else []
    if not values or not all(map(isfinite, values)):
        raise NoAnswer(said(answer))
    return Sample(*values)


def who_of(answer: str) -> Who:
    """Who is at the other end, from its answer to WHO. Raises NoAnswer for anything else, and for lines of another version."""
    found = _WHO.fullmatch(answer.strip())
    if found is None:
        raise NoAnswer(f"{said(answer)} and does not say who it is")
    if int(found[1]) != VERSION:
        raise NoAnswer(f"the gauge speaks lines of version {found[1]}, this Nuthatch those of version {VERSION}")
    return Who(found[2].lower() == "yes", found[3].lower() == "held", (found[4] or "").strip()[:80])


def taken(answer: str, line: str) -> None:
    """Raises NoAnswer unless a line was answered by OK."""
    if answer.strip() != "OK":
        raise NoAnswer(f"{said(answer)} to “{line}”" if answer.strip() else said(answer))


def aim_line(pressure: float) -> str:
    """Hold a pressure inside over outside [Pa]; 0 stops the fan."""
    return f"AIM {pressure:g}"


def ring_line(name: str) -> str:
    """Say which ring is on the fan; '' covers it."""
    return f"RING {name}".strip()


class Gauge:
    """A gauge and fan at the other end of a line that answers at once. Raises NoAnswer."""

    def __init__(self, line: GaugeLine) -> None:
        self._line = line

    def aim(self, pressure: float) -> None:
        """Hold a pressure inside over outside [Pa]; 0 stops the fan."""
        self._told(aim_line(pressure))

    def ring(self, name: str) -> None:
        """Say which ring is on the fan; '' covers it."""
        self._told(ring_line(name))

    def read(self) -> Sample:
        """What it shows now."""
        return reading_of(self._line.ask("READ"))

    def who(self) -> Who:
        """Who it is."""
        return who_of(self._line.ask("WHO"))

    def _told(self, line: str) -> None:
        taken(self._line.ask(line), line)
