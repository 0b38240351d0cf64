"""The land of the world in outline, for maps and to tell in which country a place lies."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache

import shapely

from nuthatch.core.library import DATA

NEAR = 0.6
"""So far off a coast [°] a place still belongs to a country: the outlines are coarse."""


@dataclass(frozen=True, eq=False)
class Country:
    """A country by its name, the code of ISO 3166 ('' where there is none) and its land, in degrees of longitude and latitude."""

    name: str
    code: str
    land: shapely.Geometry


@lru_cache(maxsize=1)
def countries() -> tuple[Country, ...]:
    """All of them; source and licence stand in the file."""
    rows = json.loads((DATA / "land.json").read_text(encoding="utf-8"))["countries"]
    return tuple(Country(row["name"], row["code"], shapely.union_all(list(map(_ring, row["rings"])))) for row in rows)


def _ring(flat: list[float]) -> shapely.Geometry:
    return shapely.Polygon(zip(flat[::2], flat[1::2], strict=True)).buffer(0)


@lru_cache(maxsize=1)
def _tree() -> shapely.STRtree:
    return shapely.STRtree([c.land for c in countries()])


@lru_cache(maxsize=1)
def _names() -> dict[str, str]:
    return {c.code: c.name for c in countries() if c.code}


def named(code: str) -> str:
    """A country's name by its code; the code itself where it is not known."""
    return _names().get(code.upper(), code)


def country_at(latitude: float, longitude: float) -> str:
    """The country a place lies in, or just off; '' at sea."""
    at = shapely.Point(longitude, latitude)
    found = _tree().query_nearest(at, max_distance=NEAR)
    return countries()[int(found[0])].name if len(found) else ""
