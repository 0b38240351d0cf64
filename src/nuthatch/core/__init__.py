"""The core of Nuthatch, without interface code: `load` a home, `assess` it."""

from __future__ import annotations

from pathlib import Path

from nuthatch.core.climate.climate import Climate
from nuthatch.core.model.home import Home


def load(path: str | Path) -> tuple[Home, Climate | None]:
    """A home file's home and its climate. Raises HomeFileError or WeatherFileError."""
    from nuthatch.core.climate.library import climate_for
    from nuthatch.core.files.homefile import read

    content = read(Path(path))
    return content.home, climate_for(content.home, content.weather)


def __getattr__(name: str) -> object:
    if name == "assess":
        from nuthatch.core.assess import assess

        return assess
    raise AttributeError(name)
