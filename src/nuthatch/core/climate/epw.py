"""Reading and writing hourly weather files in the open EPW format (8 header lines, 8760 rows)."""

from __future__ import annotations

import calendar
import re
from dataclasses import dataclass
from math import exp

import numpy as np

from nuthatch.core.files.homefile import LARGEST_WEATHER


class WeatherFileError(ValueError):
    """The file is no usable weather file; the message names row and column and what would be right."""


HOURS_OF_YEAR = 8760
# column: (name, missing code, lowest, highest)
COLUMNS = {
    6: ("dry-bulb temperature", 99.9, -90.0, 70.0),
    13: ("global horizontal radiation", 9999.0, 0.0, 2000.0),
    14: ("direct normal radiation", 9999.0, 0.0, 2000.0),
    15: ("diffuse horizontal radiation", 9999.0, 0.0, 1500.0),
    21: ("wind speed", 999.0, 0.0, 90.0),
}
RAIN = 33
OTHERS = {7: (99.9, -90.0, 70.0), 9: (999999.0, 31000.0, 120000.0), 20: (999.0, 0.0, 360.0)}
"""Dew point [°C], pressure [Pa] and where the wind comes from [°]: missing code, lowest, highest. Columns that are used where they are whole, never asked for."""
MONTH_DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)


@dataclass(frozen=True, eq=False)
class Weather:
    """Hourly weather of one year: °C, W/m² over the hour, m/s, mm, Pa; `rain`, `dew_point`, `pressure` and `wind_from` are None where
    the file carries none."""

    place: str
    latitude: float
    longitude: float
    time_zone: float
    elevation: float
    temperature: np.ndarray
    global_horizontal: np.ndarray
    direct_normal: np.ndarray
    diffuse_horizontal: np.ndarray
    wind: np.ndarray
    rain: np.ndarray | None
    notes: tuple[str, ...]
    dew_point: np.ndarray | None = None
    pressure: np.ndarray | None = None
    wind_from: np.ndarray | None = None
    """[°] from north."""
    said_zone: str = ""
    """The climate zone the header names."""
    ground: tuple[tuple[float, tuple[float, ...]], ...] = ()
    """Ground temperatures of the header: depth [m] and its twelve months [°C]."""


def standard_pressure(elevation: float) -> float:
    """Air pressure of the standard atmosphere at an elevation [m] → Pa, ISO 2533."""
    return float(101_325 * (1 - 2.25577e-5 * elevation) ** 5.256)


def located(line: str) -> tuple[str, float, float, float, float]:
    parts = [p.strip() for p in line.split(",")]
    if parts[0].lstrip("\ufeff").upper() != "LOCATION":
        raise WeatherFileError("row 1: the first header line must start with LOCATION; this is no EPW weather file")
    if len(parts) < 10:
        raise WeatherFileError(f"row 1: LOCATION has {len(parts)} entries; latitude, longitude, zone and elevation are entries 7 to 10")
    try:
        latitude, longitude, zone, elevation = (float(p) for p in parts[6:10])
    except ValueError:
        raise WeatherFileError("row 1: latitude, longitude, time zone and elevation (entries 7 to 10) must be numbers") from None
    if not (-90 <= latitude <= 90 and -180 <= longitude <= 180 and -14 <= zone <= 14 and -500 <= elevation <= 9000):
        raise WeatherFileError("row 1: latitude ±90, longitude ±180, time zone ±14 h or elevation −500 to 9000 m is out of range")
    return parts[1] or "unnamed place", latitude, longitude, zone, elevation


def filled(values: np.ndarray, bad: np.ndarray, name: str, first_row: int) -> tuple[np.ndarray, str]:
    """Gaps of up to 6 h interpolated; a longer one is refused with its row."""
    if not bad.any():
        return values, ""
    run = 0
    for index, gap in enumerate(bad):
        run = run + 1 if gap else 0
        if run > 6:
            raise WeatherFileError(f"row {first_row + index - run + 1}: {name} is missing for more than 6 hours; at most 6 can be filled")
    good = np.flatnonzero(~bad)
    return np.interp(np.arange(len(values)), good, values[good]), f"{name}: {int(bad.sum())} missing hours filled by interpolation"


def _rows(text: str) -> tuple[list[str], list[tuple[int, list[str]]]]:
    lines = text.splitlines()
    if len(lines) < 8:
        raise WeatherFileError(f"the file has {len(lines)} rows; a weather file has 8 header rows and 8760 hours")
    rows = []
    for number, line in enumerate(lines[8:], 9):
        if line.strip():
            row = line.split(",")
            if len(row) < 22:
                raise WeatherFileError(f"row {number}: {len(row)} columns; an hour has at least 22, usually 35")
            rows.append((number, row))
    return lines, rows


def _ordered(rows: list[tuple[int, list[str]]]) -> list[tuple[int, list[str]]]:
    """Rows without 29 February, checked to be the 8760 hours of a year in order."""
    try:
        stamps = [(int(r[1]), int(r[2]), int(r[3])) for _, r in rows]
    except ValueError:
        raise WeatherFileError("month, day and hour (columns 2 to 4) must be whole numbers in every row") from None
    kept = [(stamp, row) for stamp, row in zip(stamps, rows, strict=True) if stamp[:2] != (2, 29)]
    expected = ((m + 1, d, h) for m in range(12) for d in range(1, MONTH_DAYS[m] + 1) for h in range(1, 25))
    for want, got in zip(expected, kept, strict=False):
        if want != got[0]:
            month, day, hour = want
            raise WeatherFileError(
                f"row {got[1][0]}: expected {day} {calendar.month_abbr[month]} hour {hour}, found month {got[0][0]} day {got[0][1]} hour {got[0][2]}"
            )
    if len(kept) != HOURS_OF_YEAR:
        raise WeatherFileError(f"the file has {len(kept)} hours; a year has 8760")
    return [row for _, row in kept]


def text_of(data: bytes) -> str:
    """The text of a weather file. Raises WeatherFileError for what is none."""
    if len(data) > LARGEST_WEATHER:
        raise WeatherFileError(f"the file is {len(data) // 1_000_000} MB; an hourly weather file is about 2 MB")
    if b"\0" in data[:4096]:
        raise WeatherFileError("this is a binary file; a weather file (.epw) is plain text")
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        return data.decode("latin-1")


def parse_epw(data: bytes) -> Weather:
    """A weather file's bytes as Weather. Raises WeatherFileError naming the row and what would be right."""
    lines, rows = _rows(text_of(data))
    place, latitude, longitude, zone, elevation = located(lines[0])
    rows = _ordered(rows)
    notes: list[str] = []
    columns: list[np.ndarray] = []
    for index, (name, code, low, high) in COLUMNS.items():
        try:
            values = np.array([float(row[index]) for _, row in rows])
        except ValueError:
            number = next(n for n, row in rows if not _is_number(row[index]))
            raise WeatherFileError(f"row {number}: {name} (column {index + 1}) is not a number") from None
        missing = ~np.isfinite(values) | (values >= code)
        odd = ~missing & ((values < low) | (values > high))
        if odd.any():
            number = rows[int(np.argmax(odd))][0]
            raise WeatherFileError(
                f"row {number}: {name} (column {index + 1}) is {values[np.argmax(odd)]:g}; {low:g} to {high:g} is possible"
            )
        if name == "wind speed" and missing.all():
            values, missing = np.zeros(HOURS_OF_YEAR), np.zeros(HOURS_OF_YEAR, bool)
            notes.append("wind speed: not in the file")
        elif missing.all():
            raise WeatherFileError(f"{name} (column {index + 1}) is missing in every row; it is needed")
        values, note = filled(values, missing, name, rows[0][0])
        columns.append(values)
        notes += [note] if note else []
    warmth, horizontal, direct, diffuse, wind = columns
    dew, pressure, wind_from = (_other(rows, c) for c in OTHERS)
    where = place, latitude, longitude, zone, elevation
    rain, told = _rain(rows), tuple(notes)
    head = said_zone("\n".join(lines[:8])), _ground(lines[:8])
    return Weather(*where, warmth, horizontal, direct, diffuse, wind, rain, told, dew, pressure, wind_from, *head)


_ZONE = re.compile(r"climate\s+zone\W{0,4}([0-8][ABC]?)\b", re.IGNORECASE)


def said_zone(header: str) -> str:
    """The climate zone a header names in its remarks, such as “4A”; '' where it names none."""
    found = _ZONE.search(header)
    return found.group(1).upper() if found is not None else ""


def _ground(header: list[str]) -> tuple[tuple[float, tuple[float, ...]], ...]:
    """Ground temperatures by depth; what is no number or not of this earth is left out."""
    line = next((x for x in header if x.upper().startswith("GROUND TEMPERATURES")), "")
    entries = line.split(",")[2:]
    found = []
    for at in range(0, len(entries) - 15, 16):
        try:
            depth, *months = (float(entries[at]), *(float(v) for v in entries[at + 4 : at + 16]))
        except ValueError:
            continue
        if 0 < depth < 50 and all(-60 < m < 60 for m in months):
            found.append((depth, tuple(months)))
    return tuple(found)


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def _rain(rows: list[tuple[int, list[str]]]) -> np.ndarray | None:
    """Liquid precipitation [mm], None where the column is absent, empty or all zero."""
    try:
        values = np.array([float(row[RAIN]) for _, row in rows])
    except (IndexError, ValueError):
        return None
    values = np.where((values >= 999) | (values < 0) | ~np.isfinite(values), 0.0, values)
    return values if values.sum() > 0 else None


def _other(rows: list[tuple[int, list[str]]], column: int) -> np.ndarray | None:
    """A column that need not be there; None where an hour of it is missing or impossible."""
    code, low, high = OTHERS[column]
    try:
        values = np.array([float(row[column]) for _, row in rows])
    except ValueError:
        return None
    return values if bool(np.all(np.isfinite(values) & (values < code) & (values >= low) & (values <= high))) else None


def _humidity(temperature: float, dew_point: float) -> float:
    """Relative humidity [%]: saturation pressures of ISO 13788."""

    def saturated(t: float) -> float:
        return 610.5 * exp(17.269 * t / (237.3 + t)) if t >= 0 else 610.5 * exp(21.875 * t / (265.5 + t))

    return min(100 * saturated(dew_point) / saturated(temperature), 100.0)


def write_epw(weather: Weather) -> bytes:
    """Weather as EPW text; fields not known carry the format's missing codes."""
    head = [
        f"LOCATION,{weather.place},-,-,synthetic,0,{weather.latitude:.3f},{weather.longitude:.3f},{weather.time_zone:.1f},{weather.elevation:.1f}",
        "DESIGN CONDITIONS,0",
        "TYPICAL/EXTREME PERIODS,0",
        "GROUND TEMPERATURES,0",
        "HOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0",
        "COMMENTS 1,invented climate made by a seeded generator",
        "COMMENTS 2,",
        "DATA PERIODS,1,1,Data,Sunday,1/1,12/31",
    ]
    rows, hour = [], 0
    rain = weather.rain if weather.rain is not None else np.zeros(HOURS_OF_YEAR)
    dew, pressure, wind = weather.dew_point, weather.pressure, weather.wind_from
    for month in range(12):
        for day in range(1, MONTH_DAYS[month] + 1):
            for h in range(1, 25):
                moist = f"{dew[hour]:.1f},{_humidity(weather.temperature[hour], dew[hour]):.0f}" if dew is not None else "99.9,999"
                weight = f"{pressure[hour]:.0f}" if pressure is not None else "999999"
                way = f"{wind[hour]:.0f}" if wind is not None else "999"
                rows.append(
                    f"2001,{month + 1},{day},{h},60,*,{weather.temperature[hour]:.1f},{moist},{weight},9999,9999,9999,"
                    f"{weather.global_horizontal[hour]:.0f},{weather.direct_normal[hour]:.0f},{weather.diffuse_horizontal[hour]:.0f},"
                    f"999999,999999,999999,9999,{way},{weather.wind[hour]:.1f},99,99,9999,99999,9,999999999,999,.999,999,99,999,{rain[hour]:.1f},1"
                )
                hour += 1
    return ("\n".join(head + rows) + "\n").encode()
