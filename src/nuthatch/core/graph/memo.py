"""A memory of results bounded in bytes: undo finds a whole assessment again, a slow stage its result."""

from __future__ import annotations

import sys
from collections import OrderedDict
from collections.abc import Hashable
from threading import Lock
from typing import Any, Protocol

import numpy as np

ROOM = 64_000_000
"""Bytes kept for one open home."""


class Memo:
    """The newest results stay, the oldest go when there is no room."""

    def __init__(self, room: int = ROOM) -> None:
        self.room, self.used = room, 0
        self._kept: OrderedDict[Hashable, tuple[object, int]] = OrderedDict()

    def get(self, key: Hashable) -> Any:
        """What is kept under a key, None where nothing is."""
        found = self._kept.get(key)
        if found is None:
            return None
        self._kept.move_to_end(key)
        return found[0]

    def put(self, key: Hashable, value: object, size: int) -> None:
        """Keep a value of about so many bytes; one larger than the room is not kept."""
        old = self._kept.pop(key, None)
        if old is not None:
            self.used -= old[1]
        if size > self.room:
            return
        self._kept[key] = (value, size)
        self.used += size
        while self.used > self.room:
            _, (_, gone) = self._kept.popitem(last=False)
            self.used -= gone

    def __len__(self) -> int:
        return len(self._kept)


class Disk(Protocol):
    """Where results outlive the program."""

    def get(self, key: str) -> object: ...
    def put(self, key: str, value: object) -> None: ...


class Kept:
    """Results of slow stages by the digest of what they were made from: for every home that reads the same, and, with a disk, for the
    next start. A result that only says why there is none is never put on disk."""

    def __init__(self, disk: Disk | None = None, room: int = ROOM) -> None:
        self.disk = disk
        self._memo, self._lock = Memo(room), Lock()

    def get(self, key: str, on_disk: bool = True) -> object:
        """What is kept under a key, None where nothing is."""
        with self._lock:
            found = self._memo.get(key)
        if found is None and on_disk and self.disk is not None:
            found = self.disk.get(key)
            if found is not None:
                self._take(key, found)
        return found

    def put(self, key: str, value: object, lasting: bool = True) -> None:
        """Keep a result; lasting: on disk too."""
        self._take(key, value)
        if lasting and self.disk is not None:
            self.disk.put(key, value)

    def _take(self, key: str, value: object) -> None:
        if not self._memo.room:
            return
        with self._lock:
            self._memo.put(key, value, bytes_of(value))


IN_MEMORY = Kept()
"""Where slow results are kept when nobody says where: in memory, for the whole program."""


LOOKED_AT = 48
"""Parts of a long row whose size is looked at."""


def bytes_of(value: object) -> int:
    """About how many bytes a result holds by itself: its arrays, and a flat sum for its objects; of long rows every so-many-th tells."""
    if isinstance(value, np.ndarray):
        return int(value.nbytes) + 100
    if isinstance(value, dict):
        return 200 + sum(bytes_of(v) for v in value.values())
    if isinstance(value, list | tuple):
        some = value if len(value) <= LOOKED_AT else value[:: len(value) // LOOKED_AT]
        return 80 + sum(bytes_of(v) for v in some) * len(value) // max(len(some), 1)
    fields = getattr(value, "__dict__", None)
    if isinstance(fields, dict):
        return 200 + sum(bytes_of(v) for k, v in fields.items() if k not in ("inputs", "calc"))
    return sys.getsizeof(value)
