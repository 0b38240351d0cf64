"""The planes whose sun is asked for: tilt and azimuth, each distinct one once."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.solid.solid import Boundary

REFLECTANCE = 0.2


@dataclass(frozen=True)
class SunPlane:
    """A plane by tilt 0 up, 90 upright, and azimuth from north [°]."""

    tilt: float
    azimuth: float

    @property
    def id(self) -> str:
        return f"{self.tilt:g}/{self.azimuth:g}"


FLAT, SOUTH = SunPlane(0.0, 0.0), SunPlane(90.0, 180.0)
"""Planes shown of every climate."""


def plane_of(face: Boundary) -> SunPlane:
    """The plane of a face."""
    return SunPlane(face.tilt, face.azimuth)
