"""How well a zone beside the home is separated from it: leak areas in series, from two pressure differences."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.model.air_test import AirTest, ZonePressure

EXPONENT = 0.65
"""Flow exponent of both leaks; common practice, no source."""


@dataclass(frozen=True)
class Separation:
    """A zone: its leaks to the home over its leaks to outside, None where it cannot be said; in words."""

    zone: ZonePressure
    ratio: float | None
    says: str


def area_ratio(across: float, out: float) -> float:
    """Leak area home to zone over zone to outside, from the pressures over both [Pa]: (p_zo/p_hz)^0.65. Raises ZeroDivisionError for no
    pressure across."""
    return float((out / across) ** EXPONENT)


def separations(test: AirTest) -> tuple[Separation, ...]:
    """All zones of a test."""
    return tuple(_separation(z) for z in test.zones)


def _separation(zone: ZonePressure) -> Separation:
    if zone.across is None or zone.out is None:
        return Separation(zone, None, "both pressures are wanted")
    across, out = zone.across.value, zone.out.value
    if across + out <= 0:
        return Separation(zone, None, "no pressure: hold the home at 50 Pa and measure again")
    if across == 0:
        return Separation(zone, None, "not separated at all: the zone is part of the home")
    ratio = area_ratio(across, out)
    if ratio < 0.1:
        words = "well separated: it behaves as outside"
    elif ratio > 10:
        words = "hardly separated: it behaves as part of the home"
    else:
        words = "partly separated"
    return Separation(zone, ratio, f"leaks to the home are {ratio:.2f} times those to outside: {words}")
