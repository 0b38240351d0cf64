"""The last versions of a home file, hard links made when saving."""

from __future__ import annotations

import contextlib
import datetime
import os
from pathlib import Path

from nuthatch.core.files.places import beside

VERSIONS = 3


def keep_version(path: Path) -> None:
    """Before a save: the file as it is becomes version 1, older ones move on, the oldest goes."""
    if not path.exists():
        return
    with contextlib.suppress(OSError):  # a file system without hard links or a full disk must not stop the save
        first = beside(path, "1")
        if first.exists() and first.samefile(path):
            return
        for number in range(VERSIONS, 1, -1):
            older = beside(path, str(number - 1))
            if older.exists():
                os.replace(older, beside(path, str(number)))
        os.link(path, first)


def other_names(path: Path) -> int:
    """How many other names (hard links) a file has, its own kept versions left out."""
    try:
        known = path.stat()
        own = 0
        for number in range(1, VERSIONS + 1):
            with contextlib.suppress(OSError):
                own += beside(path, str(number)).samefile(path)
        return max(known.st_nlink - 1 - own, 0)
    except OSError:
        return 0


def versions(path: Path) -> tuple[tuple[Path, str], ...]:
    """(file, when it was saved) of the last versions, newest first."""
    found = []
    for number in range(1, VERSIONS + 1):
        file = beside(path, str(number))
        with contextlib.suppress(OSError):
            when = datetime.datetime.fromtimestamp(file.stat().st_mtime)
            found.append((file, when.strftime("%Y-%m-%d %H:%M")))
    return tuple(found)
