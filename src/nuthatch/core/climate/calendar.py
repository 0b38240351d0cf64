"""The months by their hours, as a leaf of workings."""

from __future__ import annotations

from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.results.figure import Entered

MONTH_HOURS_LEAF = Entered("hours of the month", MONTH_HOURS.astype(float), "hours", "rule", "8760 h")
