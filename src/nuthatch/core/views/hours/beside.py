"""The hours of the home with one of its options on it, to lie over its own."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from nuthatch.core.assess import assess
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.home import Home
from nuthatch.core.options.applied import home_with
from nuthatch.core.results.figure import CannotKnow
from nuthatch.core.views.hours.told import hourly
from nuthatch.core.year.problem import Hours


def hours_of_option(home: Home, option: str, climate: Any, cache: Path | None = None) -> Hours | str:
    """In a worker: the hours with an option on the home; why there are none, in words."""
    chosen = next((o for o in home.options if o.id == option), None)
    if chosen is None:
        return "the option is gone"
    try:
        return hourly(assess(home_with(home, chosen), climate, stores=Stores(slow=results_on_disk(cache))))
    except CannotKnow as missing:
        return f"needs {missing}"
