"""Quantities as people type and read them; everything inside is SI.

One table of kinds, one way to show a value, one way to read typed text. pint is loaded only when text carries a
unit other than the one shown, so the first paint does not wait for it.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Any


class BadText(ValueError):
    """Typed text that is no value of its kind; the message says what would be right."""


@dataclass(frozen=True)
class Doubt:
    """Text with two readings: what to ask, and the readings as (label, value in SI)."""

    question: str
    readings: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class Kind:
    """How one kind of quantity is shown: shown = stored × factor + offset; `pint` names the shown unit for pint."""

    unit: str
    pint: str = ""
    factor: float = 1.0
    decimals: int = 2
    example: str = "1"
    trim: bool = False


KINDS: dict[str, Kind] = {
    "thickness": Kind("mm", "mm", 1000, 1, "240 mm or 9.5 in", True),
    "width": Kind("mm", "mm", 1000, 1, "110 mm", True),
    "length": Kind("m", "m", 1, 2, "8.5 m or 28 ft"),
    "area": Kind("m²", "m**2", 1, 1, "12.5 m² or 135 ft²"),
    "volume": Kind("m³", "m**3", 1, 0, "350 m³"),
    "litres": Kind("l", "liter", 1, 1, "25 l or 6.6 gal"),
    "angle": Kind("°", "degree", 1, 0, "45"),
    "temperature": Kind("°C", "degC", 1, 1, "60 °C or 140 F"),
    "conductivity": Kind("W/(m·K)", "W/m/delta_degC", 1, 3, "0.035 or 0.24 Btu·in/(h·ft²·°F)"),
    "resistance": Kind("m²·K/W", "m**2*delta_degC/W", 1, 2, "3.7 or R-21"),
    "u": Kind("W/(m²·K)", "W/m**2/delta_degC", 1, 3, "0.13 or 0.023 Btu/(h·ft²·°F)"),
    "psi": Kind("W/(m·K)", "W/m/delta_degC", 1, 3, "0.035"),
    "w_per_k": Kind("W/K", "W/delta_degC", 1, 2, "2.4 W/K or 4.5 Btu/(h·°F)"),
    "density": Kind("kg/m³", "kg/m**3", 1, 0, "500"),
    "specific_heat": Kind("J/(kg·K)", "J/kg/delta_degC", 1, 0, "1600"),
    "heat_capacity": Kind("kJ/(m²·K)", "kJ/m**2/delta_degC", 1, 1, "30"),
    "percent": Kind("%", "percent", 100, 1, "85 %"),
    "fraction": Kind("", "dimensionless", 1, 2, "0.5"),
    "ach": Kind("1/h", "1/hour", 1, 2, "0.6"),
    "flow": Kind("m³/h", "m**3/hour", 1, 0, "120 m³/h or 70 cfm"),
    "permeability": Kind("m³/(h·m²)", "m/hour", 1, 2, "0.6"),
    "specific_power": Kind("Wh/m³", "Wh/m**3", 1, 2, "0.35"),
    "power": Kind("W", "W", 1, 0, "80 W"),
    "heat_flux": Kind("W/m²", "W/m**2", 1, 1, "2.1 W/m²"),
    "energy": Kind("kWh/a", "kWh", 1, 0, "1500 kWh/a"),
    "energy_month": Kind("kWh", "kWh", 1, 0, "120 kWh"),
    "specific_energy": Kind("kWh/(m²·a)", "kWh/m**2", 1, 1, "15"),
    "irradiation": Kind("kWh/m²", "kWh/m**2", 1, 0, "120"),
    "co2": Kind("kg/(m²·a)", "kg/m**2", 1, 1, "10"),
    "co2_factor": Kind("kg/kWh", "kg/kWh", 1, 3, "0.21"),
    "factor": Kind("", "dimensionless", 1, 2, "1.1"),
    "count": Kind("", "dimensionless", 1, 0, "3"),
    "hours": Kind("h", "hour", 1, 0, "8"),
    "elevation": Kind("m", "m", 1, 0, "120 m"),
    "degree_days": Kind("K·d", "delta_degC*day", 1, 0, "2800"),
    "pascal": Kind("Pa", "Pa", 1, 1, "50"),
    "text": Kind(""),
}


def show(value: float | None, kind: str, decimals: int | None = None) -> str:
    """The number alone as shown, thousands set apart by a thin space, a true minus; '—' for None."""
    if value is None:
        return "—"
    spec = KINDS[kind]
    places = spec.decimals if decimals is None else decimals
    text = f"{value * spec.factor:,.{places}f}".replace(",", "\u202f")
    if spec.trim and "." in text:
        text = text.rstrip("0").rstrip(".")
    if float(text.replace("\u202f", "")) == 0:
        text = text.lstrip("-")
    return text.replace("-", "−")


def show_exact(value: float | None, kind: str) -> str:
    """As few digits as give the stored value back when typed again: what an edit field starts with."""
    if value is None:
        return ""
    return f"{round(value * KINDS[kind].factor, 9):.10g}".replace("-", "−")


def with_unit(value: float | None, kind: str, decimals: int | None = None) -> str:
    """Number and unit, as in a sentence."""
    unit = KINDS[kind].unit
    gap = "" if unit == "°" else "\u00a0"
    return show(value, kind, decimals) + (gap + unit if unit and value is not None else "")


_NUMBER = re.compile(r"^[-+]?(?:\d[\d.,\u2019' \u202f\u00a0]*\d|\d|[.,]\d+|\d+[.,])(?:[eE][-+]?\d+)?")
_GROUPED = re.compile(r"^[-+]?\d{1,3}(?:,\d{3})+$")


def read_number(text: str) -> float | Doubt:
    """One number in any usual way of writing; '1,200' has two readings and is asked about. Raises BadText."""
    plain = re.sub(r"[\s\u202f\u00a0\u2019']", "", text.replace("−", "-"))
    if "," in plain and "." in plain:
        last = max(plain.rfind(","), plain.rfind("."))
        other = "," if plain[last] == "." else "."
        plain = plain.replace(other, "").replace(",", ".")
    elif plain.count(",") > 1:
        plain = plain.replace(",", "")
    elif _GROUPED.match(plain):
        whole, point = float(plain.replace(",", "")), float(plain.replace(",", "."))
        if not plain.lstrip("+-").startswith("0"):
            return Doubt(f"{whole:g} or {point:g}?", ((f"{whole:g}", whole), (f"{point:g}", point)))
        plain = plain.replace(",", ".")
    else:
        plain = plain.replace(",", ".")
    try:
        value = float(plain)
    except ValueError:
        raise BadText(f"“{text.strip()}” is not a number") from None
    if value in (float("inf"), float("-inf")):
        raise BadText(f"“{text.strip()}” is too large")
    return value


@lru_cache(maxsize=1)
def _registry() -> Any:
    import pint

    registry: Any = pint.UnitRegistry()
    for line in ("cfm = foot**3/minute", "R_ip = hour*foot**2*delta_degF/Btu"):
        registry.define(line)
    return registry


_FOLD = [
    ("²", "**2"),
    ("³", "**3"),
    ("^", "**"),
    ("·", "*"),
    ("⋅", "*"),
    ("°F", "delta_degF"),
    ("°C", "delta_degC"),
    ("°", "degree"),
    ("sqft", "foot**2"),
    ("sq ft", "foot**2"),
    ("ft2", "foot**2"),
    ("m2", "m**2"),
    ("m3", "m**3"),
    ("in.", "inch"),
    ('"', "inch"),
    ("″", "inch"),
    ("′", "foot"),
]
_NAMES = {
    "BTU": "Btu",
    "btu": "Btu",
    "K": "delta_degC",
    "F": "delta_degF",
    "C": "delta_degC",
    "hr": "hour",
    "h": "hour",
    "gal": "gallon",
    "in": "inch",
    "ft": "foot",
    "a": "dimensionless",
    "yr": "dimensionless",
    "l": "liter",
    "L": "liter",
}


def _pint_name(unit: str) -> str:
    for old, new in _FOLD:
        unit = unit.replace(old, new)
    return re.sub(r"[A-Za-z_]+", lambda m: _NAMES.get(m.group(), m.group()), unit)


def _convert(number: float, unit: str, kind: str) -> float:
    """number [unit] to SI; the shown unit of the kind is read without pint."""
    spec = KINDS[kind]
    if unit in ("", spec.unit):
        return number / spec.factor
    if kind == "temperature":
        letter = unit.replace("°", "").strip().upper()
        if letter in ("F", "C", "K"):
            return {"F": (number - 32) / 1.8, "C": number, "K": number - 273.15}[letter]
    if kind == "percent" and unit == "%":
        return number / 100
    known = KINDS["resistance"].pint if kind == "resistance" else spec.pint
    try:
        quantity = _registry().Quantity(number, _pint_name(unit))
        return float(quantity.to(known).magnitude) / spec.factor
    except Exception:  # pint raises many kinds; all mean the unit does not fit
        raise BadText(f"“{unit}” does not fit here; type {spec.example}") from None


def read(text: str, kind: str) -> float | Doubt:
    """Typed text to SI. Returns a Doubt where it has two readings; raises BadText with what would be right."""
    clean = text.strip().replace("−", "-")
    if not clean:
        raise BadText(f"nothing typed; type {KINDS[kind].example}")
    ip = re.match(r"^[Rr]\s*-?\s*(\d[\d.,]*)$", clean)
    if kind == "resistance" and ip:
        clean = ip.group(1) + " R_ip"
    match = _NUMBER.match(clean)
    if not match:
        raise BadText(f"“{text.strip()}” is not a number; type {KINDS[kind].example}")
    number, unit = read_number(match.group()), clean[match.end() :].strip()
    if isinstance(number, Doubt):
        return Doubt(number.question, tuple((label, _convert(v, unit, kind)) for label, v in number.readings))
    value = _convert(number, unit, kind)
    if kind == "percent" and unit == "" and 0 < number <= 1:
        return Doubt(f"{number:g} % or {number * 100:g} %?", ((f"{number:g} %", number / 100), (f"{number * 100:g} %", number)))
    return value
