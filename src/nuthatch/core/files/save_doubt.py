"""Somebody else's change: whether a file is still the one that was read, before it is written over."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Iterator
from pathlib import Path
from typing import Literal

from nuthatch.core.files.disk import printable
from nuthatch.core.files.homefile import HomeFileError, from_bytes, read_bytes
from nuthatch.core.files.versions import other_names

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


def doubt(path: Path, as_read: str, agreed: Collection[str] = ()) -> SaveDoubt | None:
    """What speaks against writing over a file and is not agreed to yet; as_read: its hash when it was read or written last, ''
    for another name."""
    return next((d for d in _doubts(path, as_read) if d.what not in agreed), None)


def _doubts(path: Path, as_read: str) -> Iterator[SaveDoubt]:
    name = printable(path.name)
    if as_read and not path.exists():
        yield SaveDoubt("gone", f"{name} is no longer there: somebody deleted or moved it.")
        return
    if as_read and hash_of(path) != as_read:
        try:
            from_bytes(read_bytes(path))
            yield SaveDoubt("changed", f"{name} was changed by somebody else since it was opened here.")
        except HomeFileError as problem:
            yield SaveDoubt("no home", f"{name} was replaced by something that is no home file ({problem}).")
    others = other_names(path)
    if others:
        names = "another name" if others == 1 else f"{others} other names"
        yield SaveDoubt("linked", f"The file has {names} (hard links). Saving changes it under this name; there the old content stays.")
