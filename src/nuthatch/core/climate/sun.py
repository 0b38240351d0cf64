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


def on_plane(weather: Weather, sun: dict[str, np.ndarray], tilt: float, azimuth: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Hourly radiation on a plane [W/m²] in three parts, tilt and azimuth in degrees: beam with the circumsolar part of the sky; the rest of
    the sky, never below 0; the ground's at a reflectance of 1. Light while the mid-hour sun is down is even sky.

    Perez et al. 1990, "Modeling daylight availability and irradiance components", through pvlib.
    """
    from pvlib import irradiance

    cosine = np.cos(np.radians(irradiance.aoi(tilt, azimuth, sun["zenith"], sun["azimuth"])))
    up = sun["zenith"] < 89.0
    beam = np.where(up, weather.direct_normal * np.maximum(cosine, 0.0), 0.0)
    parts = irradiance.perez(
        tilt,
        azimuth,
        weather.diffuse_horizontal,
        weather.direct_normal,
        sun["extra"],
        sun["zenith"],
        sun["azimuth"],
        sun["airmass"],
        return_components=True,
    )
    whole, around = np.asarray(parts["poa_sky_diffuse"]), np.asarray(parts["poa_circumsolar"])
    known = np.isfinite(whole) & np.isfinite(around) & np.isfinite(sun["airmass"]) & (sun["zenith"] < 90.0)
    even = weather.diffuse_horizontal * (1 + np.cos(np.radians(tilt))) / 2
    around = np.where(known & up, around, 0.0)
    sky = np.where(known, np.maximum(np.where(known, whole, 0.0) - around, 0.0), even)
    ground = np.asarray(irradiance.get_ground_diffuse(tilt, weather.global_horizontal, 1.0))
    return np.asarray(beam + around), np.asarray(sky), ground
