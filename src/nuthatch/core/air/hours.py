"""The hours of the day the ventilation runs at each operation."""

from __future__ import annotations

from nuthatch.core.model.ventilation import OperatingHours

OPERATIONS = ("normal", "low", "boost", "off")
MINUTES = 24 * 60
WORKING, WEEKEND = 5 / 7, 2 / 7
DAYS = {"every day": ("working", "weekend"), "working days": ("working",), "weekends": ("weekend",)}


def strip(rows: tuple[OperatingHours, ...], day: str) -> list[str]:
    """What runs in every minute of a working or weekend day; what is not said is normal, a later row holds over an earlier one."""
    found = ["normal"] * MINUTES
    for row in rows:
        if row.start is None or row.end is None or day not in DAYS[row.days]:
            continue
        first, last = round(row.start.value * 60) % MINUTES, round(row.end.value * 60)
        last += MINUTES if last <= first else 0  # past midnight, or the whole day round
        for minute in range(first, last):
            found[minute % MINUTES] = row.runs
    return found


def hours_of(rows: tuple[OperatingHours, ...]) -> dict[str, float]:
    """Mean hours a day of each operation [h], days of the week weighted."""
    if not rows:
        return {"normal": 24.0, "low": 0.0, "boost": 0.0, "off": 0.0}
    days = (strip(rows, "working"), WORKING), (strip(rows, "weekend"), WEEKEND)
    return {o: sum(day.count(o) * weight for day, weight in days) / 60 for o in OPERATIONS}
