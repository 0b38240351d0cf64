"""What is remembered of an object as long as it lives: of frozen things that many ask the same."""

from __future__ import annotations

import weakref
from collections.abc import Callable, Hashable
from functools import wraps
from typing import TypeVar

R = TypeVar("R")


def while_alive(function: Callable[..., R]) -> Callable[..., R]:
    """A function whose results are remembered by its first argument, the very object, as long as that lives; the others are compared."""
    known: dict[int, tuple[weakref.ref[object], dict[Hashable, R]]] = {}

    def forgets(number: int) -> Callable[[weakref.ref[object]], None]:
        def forget(gone: weakref.ref[object]) -> None:
            if number in known and known[number][0] is gone:  # another object may have its number by now
                del known[number]

        return forget

    @wraps(function)
    def remembered(thing: object, /, *others: Hashable) -> R:
        number = id(thing)
        of = known.get(number)
        if of is None or of[0]() is not thing:
            of = known[number] = weakref.ref(thing, forgets(number)), {}
        if others not in of[1]:
            of[1][others] = function(thing, *others)
        return of[1][others]

    return remembered
