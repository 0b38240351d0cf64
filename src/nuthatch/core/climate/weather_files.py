"""Weather files of any kind that is read, told apart by their content: EPW, TMY3, the typical year of PVGIS (both through pvlib)."""

from __future__ import annotations

import io
import re
from dataclasses import replace
from typing import Any

import numpy as np

from nuthatch.core.climate.epw import COLUMNS, HOURS_OF_YEAR, OTHERS, Weather, WeatherFileError, filled, parse_epw, text_of

KINDS = "EPW (.epw), TMY3 (.csv) and the typical year of PVGIS (.csv)"
TMY3, PVGIS = "Date (MM/DD/YYYY)", "Latitude (decimal degrees)"
NAMES = {6: "temp_air", 13: "ghi", 14: "dni", 15: "dhi", 21: "wind_speed"}
"""What pvlib calls the columns that are needed, by their place in an EPW file."""


def parse_weather(data: bytes) -> Weather:
    """A weather file's bytes as Weather. Raises WeatherFileError that names the row and what would be right."""
    text = text_of(data)
    lines = text[:20_000].splitlines()
    if lines and lines[0].lstrip("\ufeff").startswith(PVGIS):
        return _pvgis(text)
    if len(lines) > 1 and lines[1].lstrip("\ufeff").startswith(TMY3):
        return _tmy3(text)
    if not lines or not lines[0].lstrip("\ufeff").upper().startswith("LOCATION"):
        raise WeatherFileError(f"row 1: this is no weather file that is read: {KINDS}")
    return parse_epw(data)


def _tmy3(text: str) -> Weather:
    from pvlib.iotools import read_tmy3

    try:
        table, meta = read_tmy3(io.StringIO(text), map_variables=True)
        where = str(meta["Name"]).strip('" ').title(), float(meta["latitude"]), float(meta["longitude"]), float(meta["TZ"])
        elevation = float(meta["altitude"])
    except Exception as fault:  # whatever a broken file makes its reader raise
        raise WeatherFileError(f"this looks like a TMY3 file, and cannot be read as one: {_plain(fault)}") from None
    rain = table.get("Lprecip depth (mm)")
    wet = _numbers(rain) if rain is not None else None
    if wet is not None:
        wet = np.where(np.isfinite(wet) & (wet >= 0) & (wet < 900), wet, 0.0)
    return _weather(
        table, (*where, elevation), 3, wet if wet is not None and wet.sum() > 0 else None, _numbers(table.get("pressure")) * 100
    )


def _pvgis(text: str) -> Weather:
    from pvlib.iotools import read_pvgis_tmy

    try:
        latitude, longitude, elevation = pvgis_place(text)
        found = read_pvgis_tmy(io.BytesIO(text.encode()), pvgis_format="csv", map_variables=True)
        table = found[0]
    except Exception as fault:
        raise WeatherFileError(f"this looks like a typical year of PVGIS, and cannot be read as one: {_plain(fault)}") from None
    first = next((n for n, line in enumerate(text.splitlines(), 1) if line.startswith("time(UTC)")), 0) + 1
    zone = round(longitude / 15)
    dew = _dew_point(_numbers(table.get("temp_air")), _numbers(table.get("relative_humidity")))
    made = _weather(
        table,
        (f"{latitude:.2f}, {longitude:.2f}", latitude, longitude, float(zone), elevation),
        first,
        None,
        _numbers(table.get("pressure")),
        dew,
    )
    return _local(made, zone)


def pvgis_place(text: str) -> tuple[float, float, float]:
    """Latitude, longitude [°] and elevation [m] a typical year of PVGIS begins with. Raises WeatherFileError."""
    try:
        latitude, longitude, elevation = (
            float(re.findall(rf"^\ufeff?{name}[^:]*:\s*(-?[\d.]+)", text[:2000], re.MULTILINE)[0])
            for name in ("Latitude", "Longitude", "Elevation")
        )
    except (IndexError, ValueError):
        raise WeatherFileError("the first rows must give latitude, longitude and elevation as numbers") from None
    return latitude, longitude, elevation


def _plain(fault: Exception) -> str:
    words = " ".join(str(fault).split())
    return words[:160] or type(fault).__name__


def _numbers(column: Any) -> np.ndarray:
    """A column as numbers, NaN for what is none."""
    import pandas as pd

    return np.full(HOURS_OF_YEAR, np.nan) if column is None else np.asarray(pd.to_numeric(column, errors="coerce"), float)


def _weather(
    table: Any,
    where: tuple[str, float, float, float, float],
    first: int,
    rain: np.ndarray | None,
    pressure: np.ndarray,
    dew: np.ndarray | None = None,
) -> Weather:
    """Weather of a table as pvlib reads it; first: the row of its first hour."""
    name, latitude, longitude, zone, elevation = where
    if not (-90 <= latitude <= 90 and -180 <= longitude <= 180 and -14 <= zone <= 14 and -500 <= elevation <= 9000):
        raise WeatherFileError("latitude ±90, longitude ±180, time zone ±14 h or elevation −500 to 9000 m is out of range")
    if len(table) != HOURS_OF_YEAR:
        raise WeatherFileError(f"the file has {len(table)} hours; a year has {HOURS_OF_YEAR}")
    notes: list[str] = []
    columns: list[np.ndarray] = []
    for index, (what, _, low, high) in COLUMNS.items():
        values = _numbers(table.get(NAMES[index]))
        missing = ~np.isfinite(values) | (values <= -9000)
        if what == "wind speed" and missing.all():
            values, missing = np.zeros(HOURS_OF_YEAR), np.zeros(HOURS_OF_YEAR, bool)
            notes.append("wind speed: not in the file")
        if missing.all():
            raise WeatherFileError(f"{what} is missing in every row; it is needed")
        odd = ~missing & ((values < low) | (values > high))
        if odd.any():
            at = int(np.argmax(odd))
            raise WeatherFileError(f"row {first + at}: {what} is {values[at]:g}; {low:g} to {high:g} is possible")
        values, note = filled(values, missing, what, first)
        columns.append(values)
        notes += [note] if note else []
    own_dew = dew if dew is not None else _numbers(table.get("temp_dew"))
    found = (_whole(v, code) for v, code in ((own_dew, 7), (pressure, 9), (_numbers(table.get("wind_direction")), 20)))
    dew_point, weight, wind_from = found
    warmth, horizontal, direct, diffuse, wind = columns
    place = name or "unnamed place", latitude, longitude, zone, elevation
    return Weather(*place, warmth, horizontal, direct, diffuse, wind, rain, tuple(notes), dew_point, weight, wind_from)


def _whole(values: np.ndarray, code: int) -> np.ndarray | None:
    """A column that need not be there; None where an hour of it is missing or impossible."""
    _, low, high = OTHERS[code]
    return values if bool(np.all(np.isfinite(values) & (values >= low) & (values <= high))) else None


def _dew_point(temperature: np.ndarray, humidity: np.ndarray) -> np.ndarray:
    """Dew point [°C] of air of a relative humidity [%]: saturation pressure of ISO 13788 over water."""
    with np.errstate(divide="ignore", invalid="ignore"):
        x = np.log(np.clip(humidity, 1, 100) / 100) + 17.269 * temperature / (237.3 + temperature)
        return np.asarray(237.3 * x / (17.269 - x))


def _local(weather: Weather, zone: int) -> Weather:
    """A year in universal time, its values of the full hour, in standard time: rolled by whole hours, the sun taken at the full hour."""

    def rolled(values: np.ndarray | None) -> Any:
        return np.roll(values, zone) if values is not None else None

    w = weather
    return replace(
        w, time_zone=zone + 0.5, temperature=rolled(w.temperature), global_horizontal=rolled(w.global_horizontal), wind=rolled(w.wind),
        direct_normal=rolled(w.direct_normal), diffuse_horizontal=rolled(w.diffuse_horizontal), dew_point=rolled(w.dew_point),
        pressure=rolled(w.pressure), wind_from=rolled(w.wind_from),
    )  # fmt: skip
