"""Typed text to values: numbers in every usual way of writing, feet and inches, fractions, any unit a kind accepts.

Nothing is guessed: text with two readings that the bounds of its field allow gives a `Doubt`, what is no value raises `BadText`
with what would be right.
"""

from __future__ import annotations

import contextlib
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from nuthatch.core.unit_names import NoUnit, accepted, factor, form
from nuthatch.core.units import FOOT, INCH_POUND_KINDS, KINDS, kind_of

Refusal = Callable[[float], str]
LENGTHS = ("thickness", "width", "length", "elevation")
LONGEST_TEXT = 200


class BadText(ValueError):
    """Typed text that is no value of its kind; the message says what would be right."""


@dataclass(frozen=True)
class Doubt:
    """Text with two readings: what to ask, and the readings as (label, value in SI). `marks`: the decimal mark of each reading,
    where that is what they differ in; a column answers once for all its cells."""

    question: str
    readings: tuple[tuple[str, float], ...]
    marks: tuple[str, ...] = ()


# numbers

_FRACTIONS = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3"}
_SPACES = "\u00a0\u202f\u2009\u2007"
_APOSTROPHES = "'’"
_BODY = re.compile(
    rf"(?:\d{{1,3}}(?:[ {_SPACES}]\d{{3}})+(?![\d/])|\d{{1,3}}(?:[{_APOSTROPHES}]\d{{3}})+(?!\d))(?:[.,]\d*)?|[\d.,]*\d[\d.,]*"
)
_FRACTION = re.compile(r"(?:(\d+)(?:\s*-\s*|\s+))?(\d{1,4})/(\d{1,4})(?!\d)")
_EXPONENT = re.compile(r"[eE][-+]?\d{1,3}(?![\d.,])")
_MARKS = ((".", ","), (",", "."))


def numbers_by_mark(body: str) -> dict[str, float]:
    """The readings of digits with marks: decimal mark → number. Raises BadText where there is none."""
    plain = re.sub(rf"[ {_SPACES}{_APOSTROPHES}]", "", body)
    found: dict[str, float] = {}
    for decimal, group in _MARKS:
        d, g = re.escape(decimal), re.escape(group)
        if re.fullmatch(rf"(?:\d+|[1-9]\d{{0,2}}(?:{g}\d{{3}})+)(?:{d}\d*)?|{d}\d+", plain):
            found[decimal] = float(plain.replace(group, "").replace(decimal, "."))
    if not found:
        raise BadText(f"“{body}” is not a number")
    return found


@dataclass(frozen=True)
class _Typed:
    """What was typed: readings of the number by decimal mark, and what stands behind it."""

    readings: dict[str, float]
    rest: str


def _number(text: str) -> _Typed:
    """The number a text begins with. Raises BadText."""
    sign = -1.0 if text[:1] == "-" else 1.0
    clean = text[1:].lstrip() if text[:1] in "+-" else text
    fraction = _FRACTION.match(clean)
    if fraction and int(fraction[3]):
        value = int(fraction[1] or 0) + int(fraction[2]) / int(fraction[3])
        return _Typed({".": sign * value}, clean[fraction.end() :].strip())
    body = _BODY.match(clean)
    if body is None:
        raise BadText(f"“{text}” is not a number")
    end, tail = body.end(), ""
    exponent = _EXPONENT.match(clean, end)
    if exponent:
        tail, end = exponent.group(), exponent.end()
    readings = {mark: sign * float(f"{value!r}{tail}" if tail else value) for mark, value in _scaled(body.group(), tail).items()}
    if any(abs(v) == float("inf") for v in readings.values()):
        raise BadText(f"“{text[:40]}” is too large")
    return _Typed(readings, clean[end:].strip())


def _scaled(body: str, tail: str) -> dict[str, float]:
    """The readings; a number with an exponent is never grouped."""
    found = numbers_by_mark(body)
    only = tail or len(set(found.values())) == 1
    return dict(list(found.items())[:1]) if only else found


# feet and inches

_GROUPED = re.compile(rf"[-+]?\d{{1,3}}(?:[{_APOSTROPHES}]\d{{3}})+(?:[.,]\d+)?")
"""Feet with three digits behind them, or thousands: asked about."""
_POWER = re.compile(r"[-+]?.*\d\s*(?:ft|foot|feet)\.?[23]", re.I)
"""A number with square or cubic feet, whose power would pass for inches."""
_PIECE = r"(?:\d+(?:\s*-\s*|\s+)\d{1,4}/\d{1,4}|\d{1,4}/\d{1,4}|\d+(?:[.,]\d+)?)"
_FOOT = r"(?:'|′|’|feet|foot|ft\.?)"
_INCH = r"(?:\"|″|”|''|′′|inches|inch|in\.?)"
_FEET_INCHES = re.compile(rf"([-+]?)\s*({_PIECE})\s*{_FOOT}\s*-?\s*({_PIECE})\s*{_INCH}?", re.I)
_FEET = re.compile(rf"([-+]?)\s*({_PIECE})\s*(?:'|′|’)", re.I)
_INCHES = re.compile(rf"([-+]?)\s*({_PIECE})\s*(?:\"|″|”|''|′′|in\.)", re.I)


def _piece(text: str) -> float:
    """A whole number, a decimal one, a fraction, or both: 5-1/2."""
    fraction = _FRACTION.fullmatch(text.strip())
    if fraction:
        if not int(fraction[3]):
            raise BadText(f"“{text}” is not a number")
        return int(fraction[1] or 0) + int(fraction[2]) / int(fraction[3])
    return float(text.replace(",", "."))


def feet_and_inches(text: str) -> float | None:
    """A length written in feet and inches [m], None for other text. Raises BadText where the inches make a foot."""
    both = None if _POWER.fullmatch(text) else _FEET_INCHES.fullmatch(text)
    if both:
        inches = _piece(both[3])
        if inches >= 12:
            return None if _GROUPED.fullmatch(text) else _too_many(text)
        return (-1 if both[1] == "-" else 1) * (_piece(both[2]) * 12 + inches) * FOOT / 12
    for pattern, scale in ((_FEET, FOOT), (_INCHES, FOOT / 12)):
        one = pattern.fullmatch(text)
        if one:
            return (-1 if one[1] == "-" else 1) * _piece(one[2]) * scale
    return None


def _feet_or_thousands(text: str, length: float, kind: str) -> Doubt:
    """2'000 is two feet to one and two thousand to another; the bounds of the field do not settle what somebody means."""
    pieces = re.split(f"[{_APOSTROPHES}]", text.replace(",", "."))
    number = float("".join(pieces))
    stored = kind_of(kind).to_stored(number)
    feet, thousands = f"{pieces[0]} ft {float(pieces[1]):g} in", f"{number:g} {kind_of(kind).unit}"
    return Doubt(f"{thousands} or {feet}?", ((thousands, stored), (feet, length)))


_TIME = re.compile(r"(\d{1,2}):([0-5]\d)(?:\s*h)?|(\d{1,2})(?:[:.]([0-5]\d))?\s*([ap])\.?\s?m\.?", re.I)
_SPAN = re.compile(r"(\d{1,4}):([0-5]\d)")


def clock(text: str) -> float | None:
    """A time of day in hours, written 22:30 or 10:30 pm; None for other text. Raises BadText for an hour no day has."""
    found = _TIME.fullmatch(text)
    if found is None:
        return None
    if found[5] is None:
        hour, minute = int(found[1]), int(found[2])
        if hour > 24 or (hour == 24 and minute):
            raise BadText(f"“{text}” is no time of day; type 8 or 22:30")
        return hour + minute / 60
    hour, minute = int(found[3]), int(found[4] or 0)
    if not 1 <= hour <= 12:
        raise BadText(f"“{text}” is no time of day; type 8 or 22:30")
    return hour % 12 + (12 if found[5].lower() == "p" else 0) + minute / 60


def span(text: str) -> float | None:
    """Minutes and seconds written 1:30, in seconds; None for other text."""
    found = _SPAN.fullmatch(text)
    return int(found[1]) * 60.0 + int(found[2]) if found else None


_CLOCKS: dict[str, Callable[[str], float | None]] = {"hours": clock, "seconds": span}


def _too_many(text: str) -> float:
    raise BadText(f"“{text}”: twelve inches make a foot")


# units

_TEMPERATURES = {"c": "C", "celsius": "C", "f": "F", "fahrenheit": "F", "k": "K", "kelvin": "K"}
_R_VALUE = re.compile(r"(rsi|r)\s*-?\s*(\d.*)", re.I)
_PER_KWH = re.compile(r"(?:([€$£]|EUR|USD|GBP|ct|c|cents?)\s*)?(?:per|/)\s*kWh", re.I)


_PER_DAY = re.compile(r"kWh\s*(?:/|per)\s*(?:24\s*h|d|day)", re.I)
LOSS_AT = 45.0
"""Kelvin a store is warmer than its room where its sheet tells what it loses in a day (EN 12897, from memory)."""


def _wrong(unit: str, kind: str) -> BadText:
    return BadText(f"“{unit[:40]}” does not fit here; type {kind_of(kind).example}")


def convert(number: float, unit: str, kind: str) -> float:
    """A number with a unit as it is stored. Raises BadText for a unit the kind does not accept."""
    spec = kind_of(kind)
    if unit in ("", spec.unit):
        return spec.to_stored(number)
    for twin in (KINDS[kind], INCH_POUND_KINDS.get(kind)):
        if twin is not None and unit == twin.unit:
            return twin.to_stored(number)
    if kind == "temperature":
        return _temperature(number, unit)
    if kind == "w_per_k" and _PER_DAY.fullmatch(unit):
        return number * 1000 / 24 / LOSS_AT
    if kind == "price" and _PER_KWH.fullmatch(unit):
        return number * (0.01 if re.match("ct|c", unit, re.I) else 1.0)
    try:
        found = form(unit)
    except NoUnit:
        raise _wrong(unit, kind) from None
    if found not in accepted(kind):
        raise _wrong(unit, kind)
    if kind in ("percent", "fraction"):
        return number / 100
    base = KINDS[kind]
    return number * factor(found, form(_AS_FORM.get(kind, base.unit))) / base.factor


_AS_FORM = {"price": "1/kWh", "money": "€"}
"""Units of kinds that are shown in words."""


def _temperature(number: float, unit: str) -> float:
    letter = _TEMPERATURES.get(re.sub(r"^(?:°\s*|deg(?:rees?)?\.?\s*)", "", unit.strip().lower()))
    if letter is None:
        raise _wrong(unit, "temperature")
    return {"F": (number - 32) / 1.8, "C": number, "K": number - 273.15}[letter]


# the whole

# beyond what such a value can be: settles whether 1.250 is one and a quarter or a thousand, where the field has no bounds of its own
_BEYOND = {
    "thickness": 20, "width": 20, "length": 1000, "angle": 720, "temperature": 500, "difference": 100, "conductivity": 600, "resistance": 100, "u": 100,
    "psi": 50, "percent": 100, "fraction": 100, "ach": 100, "permeability": 200, "specific_power": 100, "heat_flux": 900,
    "volumetric_heat": 100, "specific_energy": 900, "co2": 900, "co2_factor": 50, "price": 100, "factor": 1e8, "hours": 9000,
}  # fmt: skip


def read(text: str, kind: str, refuse: Refusal | None = None, mark: str = "") -> float | Doubt:
    """Typed text to SI. Returns a Doubt where two readings remain that `refuse` (why a value is out of bounds, or '') allows.

    mark: the decimal mark where it is known, as for the column of a table. Raises BadText with what would be right.
    """
    clean = _tidy(text, kind)
    if kind in LENGTHS:
        length = feet_and_inches(clean)
        if length is not None and _GROUPED.fullmatch(clean):
            return _feet_or_thousands(clean, length, kind)
        if length is not None:
            return length
    if kind in _CLOCKS and (clock := _CLOCKS[kind](clean)) is not None:
        return clock
    resistance = _R_VALUE.fullmatch(clean) if kind == "resistance" else None
    typed = _first(resistance[2] if resistance else clean, kind)
    unit = typed.rest
    if resistance:
        if unit:
            raise _wrong(unit, kind)
        unit = KINDS[kind].unit if resistance[1].lower() == "rsi" else INCH_POUND_KINDS[kind].unit
    marks = {mark: typed.readings[mark]} if mark in typed.readings else typed.readings
    if kind == "temperature" and unit == "°":
        return _settled([(f"{n:g} °{u}", _temperature(n, u), "") for n in marks.values() for u in ("C", "F")], refuse)
    readings = [(f"{n:g}", convert(n, unit, kind), m) for m, n in marks.items()]
    if kind == "temperature" and not unit and refuse is not None and all(refuse(v) for _, v, _ in readings):
        other = _in_the_other(marks, refuse)
        if other is not None:
            return other
    if kind == "percent" and not unit:
        readings = [r for n in marks.values() for r in ((f"{n:g} %", n / 100, ""), *(((f"{n * 100:g} %", n, ""),) if 0 < n < 10 else ()))]
        if refuse is None:
            readings = [r for r in readings if r[1] <= 1] or readings[:1]
    return _settled(readings, refuse or (lambda v: "far too large" if abs(v) > _BEYOND.get(kind, float("inf")) else ""))


def _in_the_other(marks: dict[str, float], refuse: Refusal) -> Doubt | None:
    """A temperature that cannot be in the unit shown, and can be in the other: asked, never taken."""
    shown = "F" if kind_of("temperature").unit == "°F" else "C"
    twin = "C" if shown == "F" else "F"
    found = [(f"{n:g} °{twin}", _temperature(n, twin)) for n in marks.values() if not refuse(_temperature(n, twin))]
    if not found:
        return None
    number = next(iter(marks.values()))
    return Doubt(f"{number:g} °{shown} cannot be here; {found[0][0]}?", tuple(found))


def _tidy(text: str, kind: str) -> str:
    clean = text.strip().replace("−", "-")
    if not clean:
        raise BadText(f"nothing typed; type {kind_of(kind).example}")
    if len(clean) > LONGEST_TEXT:
        raise BadText(f"“{clean[:20]}…” is far too long for a value; type {kind_of(kind).example}")
    for sign, written in _FRACTIONS.items():
        if sign in clean:
            clean = re.sub(rf"(?<=\d){sign}", f" {written}", clean).replace(sign, written)
    return clean


def _first(text: str, kind: str) -> _Typed:
    try:
        return _number(text)
    except BadText as problem:
        raise BadText(f"{problem}; type {kind_of(kind).example}") from None


def _settled(readings: list[tuple[str, float, str]], refuse: Refusal | None) -> float | Doubt:
    """The one reading, or a question."""
    allowed = [r for r in readings if refuse is None or not refuse(r[1])] or readings[:1]
    values = {r[1] for r in allowed}
    if len(values) == 1:
        return allowed[0][1]
    labels = " or ".join(r[0] for r in allowed)
    marks = tuple(r[2] for r in allowed)
    return Doubt(f"{labels}?", tuple((label, value) for label, value, _ in allowed), marks if all(marks) else ())


def mark_of(cells: Iterable[str]) -> str:
    """The decimal mark that the cells of a column show, where those that leave no choice agree; else ''."""
    found: set[str] = set()
    for cell in cells:
        with contextlib.suppress(BadText):
            body = _BODY.match(cell.strip().replace("−", "-").lstrip("+-").lstrip())
            marks = numbers_by_mark(body.group()) if body and re.search("[.,]", body.group()) else {}
            if len(marks) == 1:
                found |= set(marks)
    return found.pop() if len(found) == 1 else ""
