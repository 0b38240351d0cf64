"""Python's search for circular garbage, put off while much is made at once: it looks through everything again and again, so that
a large home would cost more for each part than a small one. Results hold no circles; what does is collected afterwards."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager

SELDOM = (200_000, 20, 50)


@contextmanager
def put_off() -> Iterator[None]:
    """No search within a with block, and none right after it either: what was made counts as old at once (that search took a tenth
    of an edit). A search through everything, as `gc.collect` does it, finds what is circular; the window makes one when it is left alone."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            if not gc.get_freeze_count():
                gc.freeze()
                gc.unfreeze()  # both only hang lists onto each other: all objects are of the oldest generation now, unsearched
            gc.enable()


@contextmanager
def seldom() -> Iterator[None]:
    """A search only after very many new objects, and none through what was there before: for work that makes circles itself."""
    before = gc.get_threshold()
    gc.freeze()
    gc.set_threshold(*SELDOM)
    try:
        yield
    finally:
        gc.set_threshold(*before)
        gc.unfreeze()
