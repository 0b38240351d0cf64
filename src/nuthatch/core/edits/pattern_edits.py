"""Hours of a day pattern, dragged, typed or pasted, as changes."""

from __future__ import annotations

import re

from nuthatch.core.changes.changes import Batch, ChangeRefused, SetValue, refusing
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.patterns import PatternDay

HOURS = 24
STEP = 0.05
"""Shares are dragged in steps of this."""


def _day(home: Home, ident: str) -> PatternDay:
    day = find(home, ident)
    if not isinstance(day, PatternDay):
        raise ChangeRefused("this day of the pattern is no longer there")
    return day


def _set(day: PatternDay, hours: list[float], label: str) -> Batch:
    return Batch(label=label, changes=(SetValue(part=day.id, field="hours", value=tuple(round(min(max(h, 0.0), 1.0), 4) for h in hours)),))


@refusing
def hours_painted(home: Home, ident: str, start: int, end: int, share: float, snapped: bool = True) -> Batch | None:
    """The hours from start to end at a share, in steps of 5 %; None where nothing changes."""
    day = _day(home, ident)
    value = round(share / STEP) * STEP if snapped else share
    hours = list(day.hours)
    for hour in range(min(start, end), max(start, end) + 1):
        hours[hour] = value
    made = _set(day, hours, "hours of a day pattern")
    return None if made.changes[0].value == day.hours else made  # type: ignore[union-attr]


@refusing
def hours_pasted(home: Home, ident: str, text: str) -> Batch:
    """24 numbers as they come from a spreadsheet: shares, or per cent. Raises ChangeRefused with what would be right."""
    day = _day(home, ident)
    return _set(day, hours_of(text), "24 hours pasted")


def hours_of(text: str) -> list[float]:
    """24 shares of text: in one row or one column, 0 to 1, or 0 to 100 where one is above 1 or there are signs of per cent."""
    words = [w for w in re.split(r"[\t\n\r;]+| (?=[\d.,])", text.strip()) if w.strip()]
    found = []
    for n, word in enumerate(words, 1):
        clean = word.replace("%", "").replace(",", ".").strip()
        try:
            found.append(float(clean))
        except ValueError:
            raise ChangeRefused(f"number {n}, “{word.strip()[:40]}”, is no number; 24 shares are wanted, such as 0.3 or 30 %") from None
    if len(found) != HOURS:
        raise ChangeRefused(f"{len(found)} numbers were pasted; a day has 24 hours, from 0 to 24")
    hundred = "%" in text or max(found) > 1
    shares = [f / 100 if hundred else f for f in found]
    wrong = next((n for n, s in enumerate(shares) if not 0 <= s <= 1), None)
    if wrong is not None:
        raise ChangeRefused(f"hour {wrong} to {wrong + 1} has {found[wrong]:g}; shares lie between 0 and 1, or 0 and 100 %")
    return shares
