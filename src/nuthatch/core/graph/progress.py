"""How far a long calculation is: it tells, whoever listens shows; where nobody does, nothing happens."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

_LISTENER: ContextVar[Callable[[object], None] | None] = ContextVar("listener", default=None)


def tell(news: object) -> None:
    """Say how far the work is: a share of 1, or a part of the result."""
    listening()(news)


def listening() -> Callable[[Any], None]:
    """Who listens here; one who forgets where nobody does."""
    return _LISTENER.get() or (lambda _: None)


@contextmanager
def heard_by(listener: Callable[[Any], None]) -> Iterator[None]:
    """Within a with block, what is told goes to a listener."""
    token = _LISTENER.set(listener)
    try:
        yield
    finally:
        _LISTENER.reset(token)
