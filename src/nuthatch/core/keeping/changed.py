"""Somebody else's change: whether a file is still the one that was read, before it is written over."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Literal

from nuthatch.core.exchange.disk import printable
from nuthatch.core.exchange.homefile import HomeFileError, from_bytes, read_bytes
from nuthatch.core.keeping.versions import other_names

What = Literal["changed", "gone", "no home", "linked"]


class SaveDoubt(Exception):
    """Saving would do something the person should decide. `what` is to be agreed to, `str()` says it."""

    def __init__(self, what: What, text: str) -> None:
        self.what: What = what
        super().__init__(text)


def hash_of(path: Path) -> str:
    """The hash of a file's bytes, '' where there is none to read."""
    try:
        return hashlib.sha256(read_bytes(path)).hexdigest()
    except HomeFileError:
        return ""


def doubt(path: Path, as_read: str) -> SaveDoubt | None:
    """What speaks against writing over a file; as_read: its hash when it was read or written last, '' for another name."""
    name = printable(path.name)
    if as_read and not path.exists():
        return SaveDoubt("gone", f"{name} is no longer there: somebody deleted or moved it.")
    now = hash_of(path) if as_read else ""
    if as_read and now != as_read:
        try:
            from_bytes(read_bytes(path))
        except HomeFileError as problem:
            return SaveDoubt("no home", f"{name} was replaced by something that is no home file ({problem}).")
        return SaveDoubt("changed", f"{name} was changed by somebody else since it was opened here.")
    others = other_names(path)
    if others:
        names = "another name" if others == 1 else f"{others} other names"
        return SaveDoubt("linked", f"The file has {names} (hard links). Saving changes it under this name; there the old content stays.")
    return None
