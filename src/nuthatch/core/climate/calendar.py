"""The months by their hours, as a leaf of workings."""

from __future__ import annotations

from datetime import date, timedelta

from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.results.figure import Axis, Entered

MONTH_HOURS_LEAF = Entered("hours of the month", MONTH_HOURS.astype(float), "hours", "rule", "8760 h")

TWO_DAYS = Axis("two days from", 365)
"""Every window of two calendar days of the year, by its first day."""
NAMES = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December")


def day_name(day: int) -> str:
    """Date of a day of the year, 0 is 1 January, 365 the same again: “14 January”."""
    of_year = date(2001, 1, 1) + timedelta(day % 365)  # any year without a 29 February
    return f"{of_year.day} {NAMES[of_year.month - 1]}"


def window_name(first: int) -> str:
    """Dates of a window of two days: “14 and 15 January”, “31 December and 1 January”."""
    one, two = day_name(first), day_name(first + 1)
    return f"{one.partition(' ')[0]} and {two}" if one.partition(" ")[2] == two.partition(" ")[2] else f"{one} and {two}"
