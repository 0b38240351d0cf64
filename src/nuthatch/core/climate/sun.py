"""Sun on planes: pvlib's sun position and Perez 1990 sky, hour by hour, then summed by month."""

from __future__ import annotations

import numpy as np

from nuthatch.core.climate.epw import HOURS_OF_YEAR, Weather

MONTH_HOURS = np.array([744, 672, 744, 720, 744, 720, 744, 744, 720, 744, 720, 744])
MONTH_OF_HOUR = np.repeat(np.arange(12), MONTH_HOURS)
LAG = 30  # minutes: position of the sun at mid-hour


def by_month(values: np.ndarray) -> np.ndarray:
    """Sums of 8760 hourly values by month."""
    return np.bincount(MONTH_OF_HOUR, values, minlength=12)


def sun_position(weather: Weather) -> dict[str, np.ndarray]:
    """Apparent zenith and azimuth [°], extraterrestrial normal radiation [W/m²], relative air mass, by hour."""
    import pandas as pd
    import pvlib

    first = pd.Timestamp("2001-01-01") - pd.Timedelta(hours=weather.time_zone) + pd.Timedelta(minutes=LAG)
    times = pd.date_range(first, periods=HOURS_OF_YEAR, freq="h", tz="UTC")
    place = pvlib.solarposition.get_solarposition(times, weather.latitude, weather.longitude, altitude=weather.elevation)
    zenith = place["apparent_zenith"].to_numpy()
    return {
        "zenith": zenith,
        "azimuth": place["azimuth"].to_numpy(),
        "extra": np.asarray(pvlib.irradiance.get_extra_radiation(times.dayofyear.to_numpy())),
        "airmass": np.asarray(pvlib.atmosphere.get_relative_airmass(zenith)),
    }


def on_plane(weather: Weather, sun: dict[str, np.ndarray], tilt: float, azimuth: float, reflectance: float) -> np.ndarray:
    """Hourly radiation on a plane [W/m²]: beam, Perez diffuse, ground; tilt and azimuth in degrees.

    Perez et al. 1990, "Modeling daylight availability and irradiance components", through pvlib.
    """
    from pvlib import irradiance

    incidence = irradiance.aoi(tilt, azimuth, sun["zenith"], sun["azimuth"])
    up = sun["zenith"] < 89.0
    beam = np.where(up, weather.direct_normal * np.maximum(np.cos(np.radians(incidence)), 0.0), 0.0)
    sky = irradiance.perez(
        tilt, azimuth, weather.diffuse_horizontal, weather.direct_normal, sun["extra"], sun["zenith"], sun["azimuth"], sun["airmass"]
    )
    sky = np.where(np.isfinite(sky), sky, weather.diffuse_horizontal * (1 + np.cos(np.radians(tilt))) / 2)
    ground = irradiance.get_ground_diffuse(tilt, weather.global_horizontal, reflectance)
    return np.asarray(beam + sky + ground)
