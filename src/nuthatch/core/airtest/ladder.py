"""What a running test is made of: the ladder of pressures and its rungs, what is to be done at a moment, which ring holds a flow."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import ceil

from nuthatch.core.airtest.readings import Reading, Ring
from nuthatch.core.airtest.validity import LEAST, OVER_ZERO
from nuthatch.core.airtest.worked import Zero

LADDER = (60.0, 50.0, 40.0, 30.0, 22.0, 16.0, 11.0)
"""Pressures aimed at, from the highest down [Pa], where the zero-flow pressure and the fan allow it."""
FEWEST, MARGIN, WIDEST, NARROWEST = 5, 1.0, 9.5, 2.0
"""Fewest points of a series; how far above what the standard asks the lowest rung is aimed [Pa]; widest and narrowest step [Pa]."""
HOLD, ZEROS, ZERO_SECONDS = 30.0, 6, 5.0
"""Seconds a rung is averaged over; zero-flow readings at each end, and the seconds of each."""
SETTLE, STEADY = 5.0, 1.5
"""Seconds looked back on to say whether it is steady, and the spread up to which it is [Pa]."""
DISTURBED, DISTURBED_SHARE = 6.0, 0.3
"""A pressure further from its aim than this, in Pa and as a share of it, begins the reading again."""
TUBE_PRESSURE, TUBE_SECONDS = 0.1, 1.5
"""A pressure that falls below this share of the aim while the fan runs on, for so long, is a tube that came off."""
PATIENCE = 40.0
"""Seconds after which a pressure that is not reached is said to be out of reach."""
PATIENCE_BY_HAND = 180.0
"""The same where a person turns the fan [s]."""
DEAD, DEAD_SPREAD = 0.05, 0.01
"""A zero-flow pressure within this of nothing [Pa] that moves by less than this may be a tube that is off."""


@dataclass(frozen=True)
class Rung:
    """A pressure of the ladder: to come, now, kept or left out; hold: seconds it is averaged over; number: of its reading among all kept."""

    target: float
    state: str = "to come"
    hold: float = HOLD
    number: int = -1


@dataclass(frozen=True)
class Aim:
    """Tell the fan to hold a pressure [Pa]."""

    pressure: float


@dataclass(frozen=True)
class PutRing:
    """Put a ring on the fan; '' covers it."""

    ring: str


@dataclass(frozen=True)
class Keep:
    """Keep a reading."""

    way: str
    moment: str
    reading: Reading


@dataclass(frozen=True)
class SetAside:
    """A reading kept before does not count any more, for a reason; it stays in the record."""

    number: int
    why: str


Act = Aim | PutRing | Keep | SetAside
AGAIN = "taken again"
PHASES = ("zero before", "readings", "zero after")


def lowest_for(zero: Zero | None) -> float:
    """Lowest pressure to aim at [Pa]: the larger of 10 Pa and five times the zero-flow pressure, ISO 9972:2015, 5.3.4 (from memory), with the
    zero-flow pressure and a margin on top, for what counts is the pressure less it."""
    if zero is None:
        return LEAST + MARGIN
    return max(LEAST, OVER_ZERO * zero.largest) + abs(zero.mean) + MARGIN


def ladder_for(lowest: float, highest: float) -> tuple[float, ...]:
    """Pressures to aim at between two [Pa], from the highest down; () where five do not fit."""
    if lowest <= LADDER[-1] + 1 and highest >= LADDER[0]:
        return LADDER
    span = highest - lowest
    if span < NARROWEST * (FEWEST - 1):
        return ()
    number = max(FEWEST, min(len(LADDER), int(span / NARROWEST) + 1), ceil(span / WIDEST) + 1)
    return tuple(round(highest - span * n / (number - 1), 1) for n in range(number))


def ring_for(rings: Mapping[str, Ring], flow: float) -> str | None:
    """The ring that holds a flow with most room on both sides; None where none does."""

    def room(ring: Ring) -> float:
        pressure = (flow / ring.coefficient) ** (1 / ring.exponent)
        return float(min(pressure / max(ring.least, 1e-9), ring.most / max(pressure, 1e-9)))

    fits = {name: room(r) for name, r in rings.items() if room(r) >= 1.05}
    return max(fits, key=lambda n: fits[n]) if fits else None


def most_flow(ring: Ring) -> float:
    return float(ring.coefficient * ring.most**ring.exponent)


def tight(ring: Ring, fan: float) -> bool:
    """Whether a fan pressure lies near the end of a ring's range."""
    return fan < ring.least * 1.1 or fan > ring.most / 1.1
