"""Units as people write them: a small grammar of our own, and for each kind the list of what it accepts.

A unit is taken apart into symbols with powers before anything is computed, so `W/(mK)`, `W/mK` and `W·m⁻¹·K⁻¹` are one, and the
`mK` in it is never a thousandth of a kelvin. What a kind does not list is refused. The factor between two listed
units comes from one table.
"""

from __future__ import annotations

import re
from functools import lru_cache
from math import pi

from nuthatch.core.units import BTU_J, FOOT, GALLON_L, POUND

Form = tuple[tuple[str, int], ...]
"""A unit as symbols with their powers, in order."""


# how a symbol may be written → the symbol; long forms first wins, upper and lower case are told apart only where both mean something
_SPELLINGS = {
    "mm": "mm millimeter millimeters millimetre millimetres",
    "cm": "cm centimeter centimeters centimetre centimetres",
    "dm": "dm",
    "km": "km",
    "m": "m meter meters metre metres",
    "in": "in inch inches",
    "ft": "ft foot feet",
    "yd": "yd yard yards",
    "l": "l liter liters litre litres",
    "ml": "ml",
    "gal": "gal gallon gallons",
    "cfm": "cfm",
    "ach": "ach",
    "kg": "kg",
    "g": "g",
    "t": "t",
    "lb": "lb lbs pound pounds",
    "MW": "MW",
    "kW": "kW",
    "mW": "mW",
    "W": "W watt watts",
    "GWh": "GWh",
    "MWh": "MWh",
    "kWh": "kWh",
    "Wh": "Wh",
    "GJ": "GJ",
    "MJ": "MJ",
    "kJ": "kJ",
    "J": "J",
    "MMBtu": "MMBtu",
    "kBtu": "kBtu",
    "Btu": "Btu",
    "therm": "therm therms",
    "K": "K",
    "degC": "°C degC C",
    "degF": "°F degF F",
    "h": "h hr hrs hour hours",
    "min": "min minute minutes",
    "s": "s sec second seconds",
    "d": "d day days",
    "a": "a yr yrs year years annum",
    "kPa": "kPa",
    "hPa": "hPa",
    "Pa": "Pa pascal pascals",
    "mbar": "mbar millibar millibars",
    "bar": "bar",
    "mmHg": "mmHg torr",
    "inHg": "inHg",
    "inwc": "inwc iwc",
    "mmwc": "mmwc",
    "mph": "mph",
    "kn": "kn kt kts knot knots",
    "%": "% percent",
    "deg": "° deg degree degrees",
    "rad": "rad",
    "ct": "ct cent cents",
    "cur": "€ $ £ EUR USD GBP",
}
_SYMBOL = {spelling: symbol for symbol, text in _SPELLINGS.items() for spelling in text.split()}
_LOWER: dict[str, str] = {}
for _spelling, _symbol in _SYMBOL.items():
    _LOWER[_spelling.lower()] = "" if _LOWER.get(_spelling.lower(), _symbol) != _symbol else _symbol

FACTORS = {
    "m": 1.0, "mm": 1e-3, "cm": 1e-2, "dm": 0.1, "km": 1e3, "in": FOOT / 12, "ft": FOOT, "yd": 3 * FOOT, "l": 1e-3, "ml": 1e-6, "gal": GALLON_L * 1e-3,
    "kg": 1.0, "g": 1e-3, "t": 1e3, "lb": POUND, "s": 1.0, "min": 60.0, "h": 3600.0, "d": 86400.0, "a": 1.0, "ach": 1 / 3600,
    "K": 1.0, "degC": 1.0, "degF": 1 / 1.8, "J": 1.0, "kJ": 1e3, "MJ": 1e6, "GJ": 1e9, "mW": 1e-3, "W": 1.0, "kW": 1e3, "MW": 1e6, "Wh": 3600.0, "kWh": 3.6e6,
    "MWh": 3.6e9, "GWh": 3.6e12, "Btu": BTU_J, "kBtu": 1e3 * BTU_J, "MMBtu": 1e6 * BTU_J, "therm": 1e5 * BTU_J, "cfm": FOOT**3 / 60, "Pa": 1.0, "hPa": 1e2,
    "kPa": 1e3, "bar": 1e5, "mbar": 1e2, "mmHg": 133.322387415, "inHg": 3386.38864034, "inwc": 249.08891, "mmwc": 9.80665,
    "mph": 5280 * FOOT / 3600, "kn": 1852 / 3600, "%": 1e-2, "deg": pi / 180, "rad": 1.0, "ct": 0.01, "cur": 1.0,
}  # fmt: skip
"""One of each unit in SI units: SI brochure; NIST SP 811 for foot, pound, gallon and the Btu of the International Table; a year counts as 1,
for what is said by the year is stored so; conventional columns of mercury and water. pint checks the table in the tests."""

_SUPERSCRIPT = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
_SQUARE = re.compile(r"\b(?:sq\.?\s*|square\s+)(ft|feet|foot|m|in|inches|inch|yd)\b\.?", re.I)
_CUBIC = re.compile(r"\b(?:cu\.?\s*|cubic\s+)(ft|feet|foot|m|in|inches|inch|yd)\b\.?", re.I)
_WHOLE = {"sqm": "m2", "qm": "m2", "sqft": "ft2", "sf": "ft2", "cbm": "m3", "cuft": "ft3", "cf": "ft3"}
_TOKEN = re.compile(
    r"\s*(?:(?P<times>\*\*|\^)|(?P<over>/|\bper\b)|(?P<dot>[·⋅×*])|(?P<open>\()|(?P<close>\))|(?P<power>-?\d+)|(?P<word>[^\W\d_]+|[°%€$£]+[^\W\d_]*))"
)
LONGEST = 60


class NoUnit(ValueError):
    """The text is no unit."""


def form(text: str) -> Form:
    """A unit's symbols and powers. Raises NoUnit."""
    clean = _tidied(text)
    if len(clean) > LONGEST:
        raise NoUnit(text)
    found: dict[str, int] = {}
    at = _product(_tokens(clean), 0, 1, found, 0)
    if at != len(_tokens(clean)):
        raise NoUnit(text)
    return tuple(sorted((s, p) for s, p in found.items() if p))


_COLUMN = re.compile(r"^(in|inch|inches|mm)\b\.?\s*(?:of\s+)?(?:(w\.?\s?[cg]\.?|h2o|h₂o|water|wc|wg|ws)|(hg|mercury))\.?$", re.I)
_GLUED = re.compile(r"^(in|mm)(?:(h2o|h₂o|w[cg]|ws)|(hg))$", re.I)


def _tidied(text: str) -> str:
    clean = text.strip()
    column = _COLUMN.match(clean) or _GLUED.match(clean)
    if column:  # a column of water or of mercury, as gauges and weather reports say it
        return f"{'mm' if column[1].lower() == 'mm' else 'in'}{'wc' if column[2] else 'Hg'}"
    marks = re.search("[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]", clean)
    clean = re.sub("([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)", lambda m: m.group(1).translate(_SUPERSCRIPT), clean) if marks else clean
    clean = _CUBIC.sub(r"\g<1>3", _SQUARE.sub(r"\g<1>2", clean))
    return re.sub(r"[A-Za-z]+", lambda m: _WHOLE.get(m.group().lower(), m.group()), clean)


def _tokens(text: str) -> list[tuple[str, str]]:
    found, at = [], 0
    while at < len(text):
        match = _TOKEN.match(text, at)
        if match is None:
            if not text[at:].strip():
                break
            raise NoUnit(text)
        found.append((str(match.lastgroup), match.group(match.lastgroup or 0)))
        at = match.end()
    return found


def _product(tokens: list[tuple[str, str]], at: int, sign: int, found: dict[str, int], depth: int) -> int:
    """Factors one after the other; all that follows a stroke on its level stands below it, as people write W/m²K."""
    if depth > 4:
        raise NoUnit("")
    side, start = sign, at
    while at < len(tokens):
        what, text = tokens[at]
        if what == "close":
            break
        if what == "over":
            if at > start and tokens[at - 1][0] in ("over", "dot"):
                raise NoUnit(text)
            side = -sign
        elif what == "dot":
            if at == start:
                raise NoUnit(text)
        elif what == "open":
            at = _product(tokens, at + 1, side, found, depth + 1)
            if at >= len(tokens) or tokens[at][0] != "close":
                raise NoUnit(text)
        elif what == "word":
            at = _word(tokens, at, side, found)
        elif not (what == "power" and text == "1" and at == start):  # a bare number only as in 1/h
            raise NoUnit(text)
        at += 1
    if at == start or tokens[at - 1][0] in ("over", "dot", "times"):
        raise NoUnit("")
    return at


def _word(tokens: list[tuple[str, str]], at: int, side: int, found: dict[str, int]) -> int:
    """Symbols written together, with a power behind the last one; gives the place of the last token used."""
    symbols = _split(tokens[at][1])
    power, last = 1, at
    following = [t[0] for t in tokens[at + 1 : at + 3]]
    if following[:2] == ["times", "power"]:
        power, last = int(tokens[at + 2][1]), at + 2
    elif following[:1] == ["power"]:
        power, last = int(tokens[at + 1][1]), at + 1
    if not -4 <= power <= 4 or power == 0:
        raise NoUnit(tokens[at][1])
    for symbol in symbols[:-1]:
        found[symbol] = found.get(symbol, 0) + side
    found[symbols[-1]] = found.get(symbols[-1], 0) + side * power
    return last


@lru_cache(maxsize=512)
def _split(word: str) -> tuple[str, ...]:
    """A word as symbols: whole, or the longest ones one after the other (mK is m and K). Raises NoUnit."""
    whole = _SYMBOL.get(word) or _LOWER.get(word.lower())
    if whole:
        return (whole,)
    for length in range(len(word) - 1, 0, -1):
        head = _SYMBOL.get(word[:length])
        if head:
            try:
                return (head, *_split(word[length:]))
            except NoUnit:
                continue
    raise NoUnit(word)


_PRESSURES = "Pa, hPa, kPa, mbar, in. w.c., mm H2O, mmHg, inHg"
_LENGTH = "mm, cm, dm, m, km, in, ft, yd"
_ENERGY = "kWh, MWh, Wh, GWh, MJ, GJ, kJ, kBtu, Btu, MMBtu, therm"
_YEARLY = ", ".join(f"{u}/a" for u in _ENERGY.split(", "))
_PER_AREA = "kWh/m², Wh/m², MWh/m², MJ/m², kBtu/ft², Btu/ft²"
_LISTED = {
    "thickness": _LENGTH,
    "width": _LENGTH,
    "length": _LENGTH,
    "elevation": _LENGTH,
    "area": "m², cm², mm², ft², in², yd²",
    "volume": "m³, l, dm³, ft³, yd³, gal",
    "litres": "l, ml, m³, dm³, gal, ft³",
    "angle": "°, rad",
    "difference": "K, °C, °F",
    "conductivity": "W/(m·K), mW/(m·K), W/(m·°C), Btu·in/(h·ft²·°F), Btu/(h·ft·°F)",
    "resistance": "m²·K/W, m²·°C/W, h·ft²·°F/Btu",
    "u": "W/(m²·K), W/(m²·°C), Btu/(h·ft²·°F)",
    "psi": "W/(m·K), mW/(m·K), W/(m·°C), Btu/(h·ft·°F)",
    "w_per_k": "W/K, kW/K, W/°C, Btu/(h·°F)",
    "density": "kg/m³, g/cm³, kg/l, kg/dm³, t/m³, lb/ft³",
    "specific_heat": "J/(kg·K), kJ/(kg·K), Wh/(kg·K), Btu/(lb·°F)",
    "heat_capacity": "kJ/(m²·K), J/(m²·K), Wh/(m²·K), Btu/(ft²·°F)",
    "capacity": "kJ/K, J/K, MJ/K, Wh/K, kWh/K, Btu/°F",
    "percent": "%",
    "fraction": "%",
    "ach": "1/h, ach",
    "flow": "m³/h, m³/s, l/s, l/min, l/h, cfm, ft³/min",
    "permeability": "m³/(h·m²), m/h, l/(s·m²), cfm/ft²",
    "specific_power": "Wh/m³, W/(m³/h), W/(l/s), kW/(m³/s), W/cfm",
    "power": "W, kW, MW, Btu/h, kBtu/h",
    "heat_power": "kW, W, MW, kBtu/h, Btu/h",
    "electric_power": "kW, W, MW",
    "per_kelvin": "%/K, 1/K, %/°C, %/°F",
    "heat_flux": "W/m², kW/m², Btu/(h·ft²)",
    "volumetric_heat": "MJ/(m³·K), kJ/(m³·K), J/(m³·K), Wh/(m³·K), Btu/(ft³·°F)",
    "speed": "m/s, km/h, ft/s, ft/min, mph, kn",
    "vent_area": "mm²/m, cm²/m, in²/ft",
    "section": "mm², cm², m², in²",
    "per_area": "1/m², 1/ft²",
    "rain": "mm/d, in/d",
    "electricity": f"{_ENERGY}, {_YEARLY}",
    "energy": f"{_ENERGY}, {_YEARLY}",
    "energy_month": _ENERGY,
    "specific_energy": f"{_PER_AREA}, " + ", ".join(f"{u.replace('/', '/(')}·a)" for u in _PER_AREA.split(", ")),
    "irradiation": _PER_AREA,
    "co2": "kg/m², kg/(m²·a), t/(m²·a), g/(m²·a), lb/ft², lb/(ft²·a)",
    "co2_factor": "kg/kWh, g/kWh, t/MWh, lb/kWh",
    "co2_mass": "kg, kg/a, t, t/a, lb, lb/a",
    "price": "1/kWh, €/kWh, ct/kWh, €/MWh, 1/MWh",
    "money": "€, 1/a, €/a",
    "hours": "h, min",
    "seconds": "s, min, h",
    "degree_days": "K·d, °C·d, °F·d",
    "pascal": f"{_PRESSURES}",
    "pressure": f"{_PRESSURES}, bar",
    "free_area": "cm², mm², m², in², ft²",
    "condensate": "g/m², kg/m²",
}


@lru_cache(maxsize=64)
def accepted(kind: str) -> frozenset[Form]:
    """What a kind accepts."""
    return frozenset(form(u) for u in _LISTED[kind].split(", ")) if kind in _LISTED else frozenset()


def listed(kind: str) -> tuple[str, ...]:
    """The units a kind accepts, as they are written."""
    return tuple(_LISTED[kind].split(", ")) if kind in _LISTED else ()


@lru_cache(maxsize=512)
def factor(unit: Form, target: Form) -> float:
    """How many of the target unit one of this unit is; both are of the same dimension."""
    return _size(unit) / _size(target)


def _size(unit: Form) -> float:
    """One of a unit in SI units."""
    size = 1.0
    for symbol, power in unit:
        size *= FACTORS[symbol] ** power
    return size
