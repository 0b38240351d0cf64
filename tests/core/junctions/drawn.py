"""Faces for tests of junctions, without a home around them."""

from __future__ import annotations

from nuthatch.core.results.entries import Entry
from nuthatch.core.solid.solid import HEATED, Boundary, Space, SpaceKind

NOWHERE = Entry("", "")


def boundary(tilt: float, azimuth: float, beyond: SpaceKind = "outside", buildup: str = "wall", ident: str = "") -> Boundary:
    """A face that leans so [°], looks so [°] and borders on that."""
    space = Space(beyond, beyond, beyond)
    return Boundary(ident or f"{tilt}-{azimuth}", "Face", "wall", HEATED, space, tilt, azimuth, buildup, NOWHERE, NOWHERE, NOWHERE)
