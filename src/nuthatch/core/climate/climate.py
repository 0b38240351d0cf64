"""One place's climate as calculations use it: months, degree days, zone, design days, sun on planes."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, fields, replace
from functools import cached_property

import numpy as np

from nuthatch.core.climate.epw import Weather
from nuthatch.core.climate.humid_air import saturation_pressure
from nuthatch.core.climate.months import PLANES, Months, factors
from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR, by_month, on_plane, sun_position
from nuthatch.core.climate.weather_files import parse_weather

LAPSE = 6.5e-3  # K/m
COMPASS_PLANES = [(0.0, 0.0)] + [(90.0, a) for a in range(0, 360, 45)]


def two_days(hourly: np.ndarray) -> np.ndarray:
    """Means of every window of two calendar days, by its first day, (365,); 31 December lies next to 1 January."""
    days = hourly.reshape(365, 24).mean(axis=1)
    return np.asarray((days + np.roll(days, -1)) / 2)


@dataclass(frozen=True, eq=False)
class PlaneSun:
    """Radiation on one plane by hour, (8760,) [W/m²]: beam with what lies around the sun, the rest of the sky, the ground's at a reflectance
    of 1."""

    told_once = True
    beam: np.ndarray
    sky: np.ndarray
    ground: np.ndarray

    def total(self, reflectance: float = 0.2) -> np.ndarray:
        """All of it by hour [W/m²]."""
        return np.asarray(self.beam + self.sky + reflectance * self.ground)

    def months(self, reflectance: float = 0.2) -> np.ndarray:
        """Sums by month [kWh/m²]."""
        return by_month(self.total(reflectance)) / 1000


@dataclass(frozen=True, eq=False)
class Climate:
    """Derived once from a weather file, or from a year made of twelve months: `made`, whose single hours nobody measured. `months`: what is
    given by hand in the place of `plain`, the climate without."""

    weather: Weather
    sha256: str
    station: Climate | None = None
    made: bool = False
    months: Months | None = None
    plain: Climate | None = None

    @property
    def name(self) -> str:
        return self.weather.place

    def content(self) -> tuple[object, ...]:
        """What tells it from another: its file, its elevation and what is given by hand."""
        return self.sha256, self.weather.elevation, self.months.content() if self.months is not None else ()

    def __getstate__(self) -> dict[str, object]:
        """Without what is derived: that is worked out anew where it is needed."""
        return {f.name: getattr(self, f.name) for f in fields(self)}

    def at(self, elevation: float) -> Climate:
        """The climate of a site at another elevation [m]: air 6.5 K colder a kilometre higher, the sun as at the station."""
        if elevation == self.weather.elevation:
            return self
        moved = self.weather.temperature - LAPSE * (elevation - self.weather.elevation)
        return replace(self, weather=replace(self.weather, temperature=moved, elevation=elevation), station=self)

    def corrected(self, months: Months | None) -> Climate:
        """This climate with months given by hand."""
        if months is None:
            return self
        gap = np.where(np.isfinite(months.temperature), months.temperature - self.temperature, 0.0)
        w, more = self.weather, np.ones(len(self.weather.temperature))
        if np.isfinite(months.sun).any() and not self.made:  # a year made of months has their sun on the horizontal
            more = factors(months.sun, self.on_planes, 0.0, 0.0)[MONTH_OF_HOUR]
        weather = replace(
            w,
            temperature=w.temperature + gap[MONTH_OF_HOUR],
            global_horizontal=w.global_horizontal * more,
            direct_normal=w.direct_normal * more,
            diffuse_horizontal=w.diffuse_horizontal * more,
        )
        return replace(self, weather=weather, months=months, plain=self)

    @cached_property
    def on_planes(self) -> np.ndarray:
        """What falls on the horizontal and on walls to north, east, south, west by month, (5, 12) [kWh/m²]."""
        if self.station is not None:
            return self.station.on_planes
        if self.plain is None or self.months is None:
            return np.stack([self.plane(tilt, azimuth).months() for _, tilt, azimuth in PLANES])
        if np.isfinite(self.months.sun).all():
            return self.months.sun
        known = self.plain.on_planes
        more = np.stack([factors(self.months.sun, known, tilt, azimuth) for _, tilt, azimuth in PLANES])
        return np.asarray(known * more)

    @property
    def sun_known(self) -> bool:
        """Whether `on_planes` is there already: it takes a second, and large libraries, to work it out."""
        return "on_planes" in self.__dict__

    def take_sun(self, on_planes: np.ndarray) -> None:
        """What another process worked out of this climate: `on_planes`."""
        self.__dict__["on_planes"] = on_planes

    @cached_property
    def temperature(self) -> np.ndarray:
        """Monthly mean air temperature [°C]."""
        return np.asarray(by_month(self.weather.temperature) / MONTH_HOURS)

    @cached_property
    def vapour_pressure(self) -> np.ndarray | None:
        """Monthly mean vapour pressure [Pa], None where the file carries no dew point; at a colder site no more than saturated."""
        dew = self.weather.dew_point
        if dew is None:
            return None
        return np.asarray(by_month(np.asarray(saturation_pressure(np.minimum(dew, self.weather.temperature)))) / MONTH_HOURS)

    @cached_property
    def annual_mean(self) -> float:
        return float(self.weather.temperature.mean())

    @cached_property
    def daily(self) -> np.ndarray:
        """Daily mean temperature [°C], 365."""
        return np.asarray(self.weather.temperature.reshape(365, 24).mean(axis=1))

    def degree_days(self, base: float, cooling: bool = False) -> float:
        """Σ over days of base − mean (heating) or mean − base (cooling), positive part [K·d]."""
        step = self.daily - base if cooling else base - self.daily
        return float(np.maximum(step, 0).sum())

    @cached_property
    def degree_days_12_20(self) -> float:
        """Heating degree days by the 12/20 °C rule: days below 12 °C count 20 − mean [K·d]."""
        return float((20 - self.daily[self.daily < 12]).sum())

    @cached_property
    def thermal_zone(self) -> int:
        """Thermal zone 0–8 by the criteria of ASHRAE 169 / the IECC (limits from memory)."""
        cooling, heating = self.degree_days(10, True), self.degree_days(18.3)
        for zone, limit in ((0, 6000), (1, 5000), (2, 3500)):
            if cooling > limit:
                return zone
        return next((zone for zone, limit in ((3, 2000), (4, 3000), (5, 4000), (6, 5000), (7, 7000)) if heating <= limit), 8)

    @cached_property
    def moisture(self) -> str | None:
        """'A', 'B' or 'C', None where the file has no rain (criteria from memory)."""
        rain = self.weather.rain
        months = self.temperature
        if rain is None:
            return None
        wet = by_month(rain)
        cold = [9, 10, 11, 0, 1, 2] if self.weather.latitude >= 0 else [3, 4, 5, 6, 7, 8]
        marine = -3 <= months.min() <= 18 and months.max() < 22 and (months > 10).sum() >= 4
        other = [m for m in range(12) if m not in cold]
        if marine and wet[cold].max() >= 3 * wet[other].min():
            return "C"
        warm = wet[other].sum() / wet.sum() if wet.sum() else 0.5
        extra = 14 if warm >= 0.7 else 0 if warm <= 0.3 else 7
        return "B" if wet.sum() < 20 * (self.annual_mean + extra) else "A"

    def zone(self, moisture: str = "") -> str:
        """Zone with its moisture letter, such as '5A'; without a letter where it is not known."""
        letter = moisture or self.moisture or ""
        return f"{self.thermal_zone}{letter if self.thermal_zone < 7 else ''}"

    @cached_property
    def winter_design(self) -> float:
        """Lowest mean of two calendar days [°C]."""
        return float(self.two_days.min())

    @cached_property
    def summer_design(self) -> float:
        """Mean of the hottest three calendar days in a row [°C]."""
        return float(((self.daily + np.roll(self.daily, -1) + np.roll(self.daily, -2)) / 3).max())

    @cached_property
    def two_days(self) -> np.ndarray:
        """Mean temperature of every window of two calendar days, by its first day, (365,) [°C]."""
        return two_days(self.weather.temperature)

    @cached_property
    def cold_water(self) -> np.ndarray:
        """Monthly cold-water temperature [°C]: annual mean + 0.35 × (last month's mean − annual mean), at least 3."""
        return np.maximum(self.annual_mean + 0.35 * (np.roll(self.temperature, 1) - self.annual_mean), 3.0)

    def light_gap(self, height: np.ndarray) -> float:
        """By how many hours the middle of the file's light lies after the middle of its days: far from 0 where the time zone or the longitude
        of its header is not that of its hours. height: of the sun above the horizon, (8760,) [°]."""
        hour = np.arange(len(height)) % 24 + 0.5
        light, stands = self.weather.global_horizontal, np.maximum(np.sin(np.radians(height)), 0.0)
        if not light.sum() > 0 or not stands.sum() > 0:
            return 0.0
        return float((light * hour).sum() / light.sum() - (stands * hour).sum() / stands.sum())

    def ground_at(self, depth: float, diffusivity: float) -> np.ndarray:
        """Undisturbed ground by month, (12,) [°C]: the year's first harmonic of the air, damped and late by depth [m]; diffusivity [m²/s].

        Kusuda and Achenbach 1965, from memory."""
        when = (np.cumsum(MONTH_HOURS) - MONTH_HOURS / 2) / 8760 * 2 * np.pi
        wave = (self.temperature * np.exp(-1j * when) * MONTH_HOURS).sum() * 2 / 8760
        deep = depth * np.sqrt(np.pi / (diffusivity * 8760 * 3600))
        return np.asarray(self.annual_mean + np.exp(-deep) * (wave * np.exp(1j * (when - deep))).real)

    @cached_property
    def air_density_ratio(self) -> float:
        """Air density at the elevation over that at sea level: that of the pressures (ISO 2533), for the temperature is the air's own."""
        return float((1 - 2.25577e-5 * self.weather.elevation) ** 5.256)

    @cached_property
    def _sun(self) -> dict[str, np.ndarray]:
        return sun_position(self.weather)

    def plane(self, tilt: float, azimuth: float) -> PlaneSun:
        """Radiation on a plane; tilt 0 up, 90 upright; azimuth from north."""
        if self.station is not None:
            return self.station.plane(tilt, azimuth)  # the sun is that of the station
        if self.plain is not None and self.months is not None:
            known = self.plain.plane(tilt, azimuth)
            more = factors(self.months.sun, self.plain.on_planes, tilt, azimuth)[MONTH_OF_HOUR]
            return PlaneSun(known.beam * more, known.sky * more, known.ground * more)
        parts = on_plane(self.weather, self._sun, tilt, azimuth)
        for part in parts:
            part.flags.writeable = False
        return PlaneSun(*parts)

    def path(self) -> tuple[np.ndarray, np.ndarray]:
        """Where the sun is at mid-hour, (8760,): height above the horizon, azimuth from north [°]."""
        if self.station is not None:
            return self.station.path()
        return 90.0 - self._sun["zenith"], self._sun["azimuth"]


def on_planes(climate: Climate) -> np.ndarray:
    """See Climate.on_planes: for another process."""
    return climate.on_planes


def climate_from_bytes(data: bytes) -> Climate:
    """Climate of a weather file. Raises WeatherFileError."""
    return Climate(parse_weather(data), hashlib.sha256(data).hexdigest())
