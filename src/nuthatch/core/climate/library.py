"""Climates of homes: from the file's own weather, or one that ships."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
from functools import lru_cache

from nuthatch.core.climate.climate import Climate, climate_from_bytes
from nuthatch.core.climate.epw import WeatherFileError
from nuthatch.core.library import library_climate, shipped_key
from nuthatch.core.model.home import Home


@lru_cache(maxsize=4)
def shipped_climate(key: str) -> Climate:
    """A shipped climate, read once."""
    return climate_from_bytes(library_climate(key))


@dataclass(frozen=True)
class _Content:
    """A weather file, told by its hash."""

    sha: str
    data: bytes = field(compare=False, repr=False)


@lru_cache(maxsize=4)
def _read_once(content: _Content) -> Climate:
    """The homes of a scheme carry the same weather file each: it is read once."""
    return climate_from_bytes(content.data)


def climate_named(sha: str, weather: bytes) -> Climate:
    """A climate from bytes that must be those a home names. Raises WeatherFileError."""
    if hashlib.sha256(weather).hexdigest() != sha:
        raise WeatherFileError("its content is not what the home was computed with; choose the climate again in Site")
    return _read_once(_Content(sha, weather))


def climate_for(home: Home, weather: bytes | None) -> Climate | None:
    """The home's climate: from its own file's weather, or from the library by its hash. Raises WeatherFileError, also where the
    weather inside a home file is not the one the home names."""
    if home.site.climate is None:
        return None
    if weather is not None:
        return climate_named(home.site.climate.sha256, weather)
    key = shipped_key(home.site.climate.sha256)
    return shipped_climate(key) if key else None
