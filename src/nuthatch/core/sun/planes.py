"""The planes whose sun is asked for: tilt, azimuth and reflectance of the ground, each distinct one once."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.model.part import Given
from nuthatch.core.solid.solid import Boundary

REFLECTANCE = 0.2


@dataclass(frozen=True)
class SunPlane:
    """A plane by tilt 0 up, 90 upright, azimuth from north [°], and the reflectance of the ground before it."""

    tilt: float
    azimuth: float
    reflectance: float

    @property
    def id(self) -> str:
        return f"{self.tilt:g}/{self.azimuth:g}/{self.reflectance:g}"


FLAT, SOUTH = SunPlane(0.0, 0.0, REFLECTANCE), SunPlane(90.0, 180.0, REFLECTANCE)
"""Planes shown of every climate."""


def plane_of(face: Boundary, reflectance: Given | None) -> SunPlane:
    """The plane of a face."""
    return SunPlane(face.tilt, face.azimuth, reflectance.value if reflectance is not None else REFLECTANCE)
