"""Sun of cloudless days on planes: the simplified Solis model (Ineichen 2008) through pvlib, aerosol 0.1, water 1.5 cm, the site's pressure."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from nuthatch.core.climate.climate import Climate, PlaneSun
from nuthatch.core.climate.epw import Weather
from nuthatch.core.climate.sun import on_plane, sun_position
from nuthatch.core.results.figure import Array

AEROSOL, WATER = 0.1, 1.5
"""Optical depth at 700 nm, and water in the air [cm]: clear summer air, common practice, no source."""


def clear_sky(height: Array, extra: Array, density_ratio: float) -> tuple[Array, Array, Array]:
    """(direct normal, global, diffuse) [W/m²] by hour. height: of the sun [°]; extra: radiation outside the air [W/m²]; density_ratio: of the air
    at the site over sea level, as its pressure is."""
    from pvlib import clearsky  # imported late: it takes a third of a second

    found = clearsky.simplified_solis(height, aod700=AEROSOL, precipitable_water=WATER, pressure=101325.0 * density_ratio, dni_extra=extra)
    up = np.asarray(height) > 0
    return tuple(np.where(up, np.nan_to_num(np.asarray(found[k])), 0.0) for k in ("dni", "ghi", "dhi"))  # type: ignore[return-value]


def clear_planes(climate: Climate, planes: Iterable[tuple[float, float]]) -> dict[tuple[float, float], PlaneSun]:
    """A year without clouds on planes, by tilt and azimuth [°]."""
    station = climate.station if climate.station is not None else climate
    weather: Weather = station.weather
    sun = sun_position(weather)
    direct, whole, diffuse = clear_sky(90.0 - sun["zenith"], sun["extra"], climate.air_density_ratio)
    bright = replace(weather, direct_normal=direct, global_horizontal=whole, diffuse_horizontal=diffuse)
    return {p: PlaneSun(*on_plane(bright, sun, *p)) for p in dict.fromkeys(planes)}
