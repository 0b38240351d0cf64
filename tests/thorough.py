"""How much of a sweep one run takes. A sweep asks the same of very many things; a run takes every so-many-th of them, beginning with another
one each day, so that all have their turn; `make sweep` takes them all."""

from __future__ import annotations

import os
from collections.abc import Iterable
from datetime import date
from typing import TypeVar

T = TypeVar("T")
THOROUGH = bool(os.environ.get("NUTHATCH_THOROUGH"))
# said once for all processes of a run, which may go on past midnight
TODAY = int(os.environ.setdefault("NUTHATCH_DAY", str(date.today().toordinal())))


def some(things: Iterable[T], every: int) -> list[T]:
    """Every so-many-th of things; all of them in a sweep."""
    found = list(things)
    return found if THOROUGH else found[TODAY % every :: every]


def often(number: int, less: int) -> int:
    """How often something is done: so often in a sweep, else less."""
    return number if THOROUGH else less
