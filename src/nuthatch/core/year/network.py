"""The home as five resistances and one capacity: ISO 13790:2008, annex C (from memory), with which the hours of a year are worked out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nuthatch.core.results.figure import CannotKnow

SURFACE, MASS = 3.45, 9.1
"""Between air and surface, and between surface and mass [W/(m²·K)]: ISO 13790:2008, 7.2.2.2 and 12.2.2."""
AIR_SHARE = 0.3
"""How much of the operative temperature is the air's; the rest is the surfaces': EN ISO 13790, annex C.3."""
FACES_PER_FLOOR = 4.5
"""Inner faces of a home without inner walls drawn, for each m² of floor: ISO 13790:2008, 7.2.2.2."""


@dataclass(frozen=True)
class Network:
    """Capacity of the mass [J/K], its effective area A_m and the area of all inner faces A_t [m²]; what windows and doors, and all other
    parts, let through [W/K]."""

    capacity: float
    mass_area: float
    faces: float
    windows: float
    opaque: float

    @property
    def h_is(self) -> float:
        """Between air and surfaces [W/K]."""
        return SURFACE * self.faces

    @property
    def h_ms(self) -> float:
        """Between surfaces and mass [W/K]."""
        return MASS * self.mass_area

    @property
    def h_em(self) -> float:
        """Between the mass and what lies beyond opaque parts [W/K]. Raises CannotKnow where these let through more than the mass takes."""
        if self.opaque <= 0:
            return 0.0
        if self.opaque >= self.h_ms:
            raise CannotKnow("opaque parts that let through less than the mass takes up: more mass, or less loss")
        return 1 / (1 / self.opaque - 1 / self.h_ms)

    @property
    def out(self) -> float:
        """Which part of the sun, and of half of the inner gains, goes out again through the glass."""
        return self.windows / (MASS * self.faces)

    @property
    def to_mass(self) -> float:
        """Which part of them goes to the mass."""
        return self.mass_area / self.faces

    @property
    def to_surface(self) -> float:
        """Which part of them goes to the surfaces."""
        return 1 - self.to_mass - self.out


def of_faces(rows: Sequence[tuple[float, float]], other: float, windows: float, opaque: float) -> Network:
    """The network of inner faces with mass, (area [m²], heat capacity [J/(m²·K)]), others without it [m²], and what parts let through [W/K].
    Raises CannotKnow where nothing has mass, or parts let through more than can be."""
    capacity = sum(a * k for a, k in rows)
    squares = sum(a * k * k for a, k in rows)
    if capacity <= 0 or squares <= 0:
        raise CannotKnow("a build-up with mass: layers with density and specific heat")
    faces = sum(a for a, _ in rows) + other
    made = Network(capacity, capacity**2 / squares, faces, windows, opaque)
    if made.to_surface < 0:
        raise CannotKnow("windows that are smaller than the faces around them")
    _ = made.h_em
    return made
