"""Quantities as people read them; everything inside is SI.

One table of kinds with its inch-pound twin, one way to show a value (`core/reading.py` reads typed text). Which of the two is
shown is a matter of the reader, not of the home: it belongs to the running context (`using`, `use`), never to a value.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from math import gcd
from typing import Any

METRIC, INCH_POUND = "metric", "inch-pound"
SYSTEMS = (METRIC, INCH_POUND)
_system: ContextVar[str] = ContextVar("units", default=METRIC)


@dataclass(frozen=True)
class Kind:
    """How one kind of quantity is shown: shown = stored × factor + offset; `pint` names the shown unit for the library that checks it."""

    unit: str
    pint: str = ""
    factor: float = 1.0
    decimals: int = 2
    example: str = "1"
    trim: bool = False
    offset: float = 0.0

    def to_shown(self, value: Any) -> Any:
        """A stored value, or an array of them, in the unit shown."""
        return value * self.factor + self.offset

    def to_stored(self, number: float) -> float:
        """A number in the unit shown as it is stored."""
        return (number - self.offset) / self.factor


KINDS: dict[str, Kind] = {
    "thickness": Kind("mm", "mm", 1000, 1, "240 mm or 9.5 in", True),
    "width": Kind("mm", "mm", 1000, 1, "110 mm", True),
    "length": Kind("m", "m", 1, 2, "8.5 m or 28 ft"),
    "area": Kind("m²", "m**2", 1, 1, "12.5 m² or 135 ft²"),
    "volume": Kind("m³", "m**3", 1, 0, "350 m³"),
    "litres": Kind("l", "liter", 1, 1, "25 l or 6.6 gal"),
    "angle": Kind("°", "degree", 1, 0, "45"),
    "temperature": Kind("°C", "degC", 1, 1, "60 °C or 140 F"),
    "difference": Kind("K", "delta_degC", 1, 1, "1 K or 1.8 °F"),
    "conductivity": Kind("W/(m·K)", "W/m/delta_degC", 1, 3, "0.035 or 0.24 Btu·in/(h·ft²·°F)"),
    "resistance": Kind("m²·K/W", "m**2*delta_degC/W", 1, 2, "3.7 or R-21"),
    "u": Kind("W/(m²·K)", "W/m**2/delta_degC", 1, 3, "0.13 or 0.023 Btu/(h·ft²·°F)"),
    "psi": Kind("W/(m·K)", "W/m/delta_degC", 1, 3, "0.035"),
    "w_per_k": Kind("W/K", "W/delta_degC", 1, 2, "2.4 W/K or 4.5 Btu/(h·°F)"),
    "density": Kind("kg/m³", "kg/m**3", 1, 0, "500"),
    "specific_heat": Kind("J/(kg·K)", "J/kg/delta_degC", 1, 0, "1600"),
    "heat_capacity": Kind("kJ/(m²·K)", "kJ/m**2/delta_degC", 1, 1, "30"),
    "capacity": Kind("kJ/K", "kJ/delta_degC", 1, 0, "30 000"),
    "percent": Kind("%", "percent", 100, 1, "85 %"),
    "fraction": Kind("", "dimensionless", 1, 2, "0.5"),
    "ach": Kind("1/h", "1/hour", 1, 2, "0.6"),
    "flow": Kind("m³/h", "m**3/hour", 1, 0, "120 m³/h or 70 cfm"),
    "permeability": Kind("m³/(h·m²)", "m/hour", 1, 2, "0.6"),
    "specific_power": Kind("Wh/m³", "Wh/m**3", 1, 2, "0.35"),
    "power": Kind("W", "W", 1, 0, "80 W"),
    "heat_power": Kind("kW", "kW", 1e-3, 1, "6.5 kW or 22 kBtu/h"),
    "electric_power": Kind("kW", "kW", 1e-3, 3, "4.2 kW", True),
    "per_kelvin": Kind("%/K", "percent/delta_degC", 100, 2, "-0.35 %/K"),
    "heat_flux": Kind("W/m²", "W/m**2", 1, 1, "2.1 W/m²"),
    "volumetric_heat": Kind("MJ/(m³·K)", "MJ/m**3/delta_degC", 1, 2, "2.0"),
    "speed": Kind("m/s", "m/s", 1, 1, "4 m/s or 9 mph"),
    "vent_area": Kind("mm²/m", "mm**2/m", 1, 0, "800"),
    "section": Kind("mm²", "mm**2", 1e6, 1, "12.6"),
    "per_area": Kind("1/m²", "1/m**2", 1, 1, "5"),
    "rain": Kind("mm/d", "mm/day", 1, 2, "3"),
    "electricity": Kind("kWh/a", "kWh", 1, 0, "1500 kWh/a"),
    "energy": Kind("kWh/a", "kWh", 1, 0, "1500 kWh/a"),
    "energy_month": Kind("kWh", "kWh", 1, 0, "120 kWh"),
    "specific_energy": Kind("kWh/(m²·a)", "kWh/m**2", 1, 1, "15"),
    "irradiation": Kind("kWh/m²", "kWh/m**2", 1, 0, "120"),
    "sun_month": Kind("kWh/m²", "kWh/m**2", 1, 1, "120.5"),
    "distance": Kind("km", "km", 1e-3, 0, "120 km"),
    "coordinate": Kind("°", "degree", 1, 2, "54.20"),
    "co2": Kind("kg/(m²·a)", "kg/m**2", 1, 1, "10"),
    "co2_factor": Kind("kg/kWh", "kg/kWh", 1, 3, "0.21"),
    "co2_mass": Kind("kg/a", "kg", 1, 0, "800"),
    "price": Kind("per kWh", "1/kWh", 1, 3, "0.28"),
    "money": Kind("a year", "dimensionless", 1, 0, "900"),
    "cost": Kind("", "dimensionless", 1, 0, "9500"),
    "years": Kind("a", "dimensionless", 1, 0, "25"),
    "factor": Kind("", "dimensionless", 1, 2, "1.1"),
    "count": Kind("", "dimensionless", 1, 0, "3"),
    "points": Kind("", "dimensionless", 1, 1, "5", True),
    "hours": Kind("h", "hour", 1, 0, "8 or 22:30"),
    "elevation": Kind("m", "m", 1, 0, "120 m"),
    "degree_days": Kind("K·d", "delta_degC*day", 1, 0, "2800"),
    "condensate": Kind("g/m²", "g/m**2", 1000, 0, "200"),
    "pascal": Kind("Pa", "Pa", 1, 1, "50 or 0.2 in. w.c."),
    "pressure": Kind("kPa", "kPa", 1e-3, 2, "101.3 kPa or 1013 hPa"),
    "calibration": Kind("", "dimensionless", 1, 4, "0.5", True),
    "seconds": Kind("s", "s", 1, 0, "30"),
    "free_area": Kind("cm²", "cm**2", 1e4, 0, "120 cm²"),
    "text": Kind(""),
}


# exact by definition: international foot and avoirdupois pound, Btu of the International Table, US gallon
FOOT, POUND, BTU_J, GALLON_L = 0.3048, 0.45359237, 1055.05585262, 3.785411784
_INCH, _KWH = FOOT / 12, BTU_J / 3.6e6
_FLUX = BTU_J / 3600 / FOOT**2  # W/m² of one Btu/(h·ft²)

INCH_POUND_KINDS: dict[str, Kind] = {
    "thickness": Kind("in", "inch", 1 / _INCH, 2, "9.5 in or 240 mm", True),
    "width": Kind("in", "inch", 1 / _INCH, 2, "4.25 in", True),
    "length": Kind("ft", "foot", 1 / FOOT, 2, "28 ft or 8.5 m"),
    "area": Kind("ft²", "foot**2", 1 / FOOT**2, 1, "135 ft² or 12.5 m²"),
    "volume": Kind("ft³", "foot**3", 1 / FOOT**3, 0, "12 500 ft³"),
    "litres": Kind("gal", "gallon", 1 / GALLON_L, 2, "6.6 gal or 25 l"),
    "temperature": Kind("°F", "degF", 1.8, 1, "140 °F or 60 °C", offset=32),
    "difference": Kind("°F", "delta_degF", 1.8, 1, "1.8 °F or 1 K"),
    "conductivity": Kind("Btu·in/(h·ft²·°F)", "Btu*inch/hour/foot**2/delta_degF", 1 / (_FLUX * 1.8 * _INCH), 3, "0.24"),
    "resistance": Kind("h·ft²·°F/Btu", "hour*foot**2*delta_degF/Btu", _FLUX * 1.8, 1, "R-21"),
    "u": Kind("Btu/(h·ft²·°F)", "Btu/hour/foot**2/delta_degF", 1 / (_FLUX * 1.8), 4, "0.023"),
    "psi": Kind("Btu/(h·ft·°F)", "Btu/hour/foot/delta_degF", 1 / (_FLUX * FOOT * 1.8), 3, "0.02"),
    "w_per_k": Kind("Btu/(h·°F)", "Btu/hour/delta_degF", 3600 / (BTU_J * 1.8), 2, "4.5 Btu/(h·°F)"),
    "density": Kind("lb/ft³", "lb/foot**3", FOOT**3 / POUND, 1, "31"),
    "specific_heat": Kind("Btu/(lb·°F)", "Btu/lb/delta_degF", POUND / (BTU_J * 1.8), 3, "0.38"),
    "heat_capacity": Kind("Btu/(ft²·°F)", "Btu/foot**2/delta_degF", 1000 * FOOT**2 / (BTU_J * 1.8), 2, "1.5"),
    "capacity": Kind("Btu/°F", "Btu/delta_degF", 1000 / (BTU_J * 1.8), 0, "16 000"),
    "volumetric_heat": Kind("Btu/(ft³·°F)", "Btu/foot**3/delta_degF", 1e6 * FOOT**3 / (BTU_J * 1.8), 1, "30"),
    "speed": Kind("mph", "mile/hour", 3600 / (5280 * FOOT), 1, "9 mph or 4 m/s"),
    "pressure": Kind("inHg", "inch_Hg", 1 / 3386.38864034, 2, "29.92 inHg or 101.3 kPa"),
    "section": Kind("in²", "inch**2", 1 / _INCH**2, 4, "0.02"),
    "per_area": Kind("1/ft²", "1/foot**2", FOOT**2, 2, "0.5"),
    "free_area": Kind("in²", "inch**2", 1 / _INCH**2, 1, "19 in²"),
    "rain": Kind("in/d", "inch/day", 1e-3 / _INCH, 3, "0.12"),
    "vent_area": Kind("in²/ft", "inch**2/foot", 1e-6 * FOOT / _INCH**2, 2, "0.4"),
    "flow": Kind("cfm", "cfm", 1 / (FOOT**3 * 60), 0, "70 cfm or 120 m³/h"),
    "permeability": Kind("cfm/ft²", "cfm/foot**2", 1 / (FOOT * 60), 3, "0.03"),
    "specific_power": Kind("W/cfm", "W/cfm", FOOT**3 * 60, 2, "0.6"),
    "power": Kind("Btu/h", "Btu/hour", 3600 / BTU_J, 0, "270 Btu/h or 80 W"),
    "heat_power": Kind("kBtu/h", "kBtu/hour", 3.6 / BTU_J, 1, "22 kBtu/h or 6.5 kW"),
    "per_kelvin": Kind("%/°F", "percent/delta_degF", 100 / 1.8, 3, "-0.2 %/°F"),
    "heat_flux": Kind("Btu/(h·ft²)", "Btu/hour/foot**2", 1 / _FLUX, 2, "0.7"),
    "energy": Kind("kBtu/yr", "kBtu", 1e-3 / _KWH, 0, "5100 kBtu/yr or 1500 kWh"),
    "electricity": Kind("kWh/yr", "kWh", 1, 0, "1500 kWh/yr"),
    "energy_month": Kind("kBtu", "kBtu", 1e-3 / _KWH, 0, "400 kBtu"),
    "specific_energy": Kind("kBtu/(ft²·yr)", "kBtu/foot**2", 1e-3 / _KWH * FOOT**2, 2, "4.75"),
    "irradiation": Kind("kBtu/ft²", "kBtu/foot**2", 1e-3 / _KWH * FOOT**2, 1, "38"),
    "distance": Kind("mi", "mile", 1 / (5280 * FOOT), 0, "75 mi"),
    "sun_month": Kind("kBtu/ft²", "kBtu/foot**2", 1e-3 / _KWH * FOOT**2, 2, "38"),
    "co2": Kind("lb/(ft²·yr)", "lb/foot**2", FOOT**2 / POUND, 2, "2"),
    "co2_factor": Kind("lb/kWh", "lb/kWh", 1 / POUND, 3, "0.46"),
    "co2_mass": Kind("lb/yr", "lb", 1 / POUND, 0, "1800"),
    "condensate": Kind("oz/ft²", "ounce/foot**2", 16 * FOOT**2 / POUND, 2, "0.6"),
    "elevation": Kind("ft", "foot", 1 / FOOT, 0, "390 ft"),
    "degree_days": Kind("°F·d", "delta_degF*day", 1.8, 0, "5000"),
}


def system() -> str:
    """The system of units shown in this context."""
    return _system.get()


def use(name: str) -> None:
    """Show values in this system from now on, in this context."""
    if name not in SYSTEMS:
        raise ValueError(f"units are {' or '.join(SYSTEMS)}, not {name}")
    _system.set(name)


@contextmanager
def using(name: str) -> Iterator[None]:
    """Show values in this system within a with block."""
    before = _system.get()
    use(name)
    try:
        yield
    finally:
        _system.set(before)


_beside: ContextVar[bool] = ContextVar("both units", default=False)


def beside() -> bool:
    """Whether texts say each amount in the other system too."""
    return _beside.get()


@contextmanager
def with_both(wanted: bool = True) -> Iterator[None]:
    """Each amount in both systems within a with block: `with_unit` and the cells of sheets say the other one behind it."""
    token = _beside.set(wanted)
    try:
        yield
    finally:
        _beside.reset(token)


def other(value: float, kind: str) -> str:
    """The number alone in the other system; '' where both are alike."""
    if kind not in INCH_POUND_KINDS or INCH_POUND_KINDS[kind] == KINDS[kind]:
        return ""
    with using(METRIC if system() == INCH_POUND else INCH_POUND):
        return show(value, kind)


def other_unit(kind: str) -> str:
    """The unit of the other system; '' where both are alike, or where its numbers carry their own marks."""
    if kind not in INCH_POUND_KINDS or INCH_POUND_KINDS[kind] == KINDS[kind]:
        return ""
    with using(METRIC if system() == INCH_POUND else INCH_POUND):
        return head_unit(kind)


def in_other_system(value: float, kind: str) -> str:
    """The same amount in the system that is not shown; an R of the inch-pound system as trade writes it, R-21."""
    if system() == INCH_POUND:
        with using(METRIC):
            return with_unit(value, kind)
    with using(INCH_POUND):
        return f"R-{show(value, kind, 1)}" if kind == "resistance" else with_unit(value, kind)


def kind_of(kind: str) -> Kind:
    """How a kind is shown in the system in use."""
    if _system.get() == INCH_POUND:
        return INCH_POUND_KINDS.get(kind) or KINDS[kind]
    return KINDS[kind]


def unit_of(kind: str) -> str:
    """The unit a kind is shown in."""
    return kind_of(kind).unit


SIXTEENTHS = 16


def marked(kind: str) -> bool:
    """Whether a kind is shown with its units in marks, as feet and inches are: no unit stands behind such a number."""
    return kind == "length" and _system.get() == INCH_POUND


def feet_inches(metres: float, parts: int = SIXTEENTHS) -> str:
    """A length as builders write it where feet and inches are the habit: 23′ 7 7/16″, to the nearest sixteenth of an inch."""
    count = round(abs(metres) / FOOT * 12 * parts)
    feet, rest = divmod(count, 12 * parts)
    inches, part = divmod(rest, parts)
    sign = "−" if metres < 0 and count else ""
    fraction = ""
    if part:
        shared = gcd(part, parts)
        fraction = f" {part // shared}/{parts // shared}" if inches else f"{part // shared}/{parts // shared}"
    if not feet and (inches or part):
        return f"{sign}{inches or ''}{fraction}″"
    return f"{sign}{feet}′" + (f" {inches or ''}{fraction}″" if inches or part else "")


def head_unit(kind: str) -> str:
    """The unit in the head of a column; none where every number carries its own marks."""
    return "" if marked(kind) else unit_of(kind)


def so_many(number: int, one: str, many: str = "") -> str:
    """A number of things in words: “1 opening”, “9 openings”. many: where it is not one with an s."""
    return f"{number} {one if number == 1 else many or f'{one}s'}"


def show(value: float | None, kind: str, decimals: int | None = None) -> str:
    """The number alone as shown, thousands set apart by a thin space, a true minus; '—' for None."""
    if value is None:
        return "—"
    if marked(kind):
        return feet_inches(value, SIXTEENTHS if decimals is None or decimals > 1 else 1)
    spec = kind_of(kind)
    places = spec.decimals if decimals is None else decimals
    text = f"{spec.to_shown(value):,.{places}f}".replace(",", "\u202f")
    if spec.trim and "." in text:
        text = text.rstrip("0").rstrip(".")
    if float(text.replace("\u202f", "")) == 0:
        text = text.lstrip("-")
    return text.replace("-", "−")


def show_exact(value: float | None, kind: str) -> str:
    """What an edit field starts with: as few digits as give the stored value back when typed again.

    A value typed in the other system has no short form in this one; it is shown with some digits more than in a list, and
    as an untouched field writes nothing, it stays what it was.
    """
    if value is None:
        return ""
    if marked(kind):
        return feet_inches(value)
    spec = kind_of(kind)
    text = f"{round(spec.to_shown(value), 9):.10g}"
    digits = text.lstrip("-").replace(".", "").lstrip("0")
    if _system.get() == INCH_POUND and len(digits) > 6 and "e" not in text:
        text = f"{spec.to_shown(value):.{spec.decimals + 2}f}".rstrip("0").rstrip(".")
    return text.replace("-", "−")


def with_unit(value: float | None, kind: str, decimals: int | None = None) -> str:
    """Number and unit, as in a sentence."""
    unit = head_unit(kind)
    gap = "" if unit == "°" else "\u00a0"
    said = show(value, kind, decimals) + (gap + unit if unit and value is not None else "")
    if value is None or not _beside.get() or not (further := other(value, kind)):
        return said
    return f"{said} ({further}\u00a0{other_unit(kind)})".replace("\u00a0)", ")")
