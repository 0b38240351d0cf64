"""Slow results kept on disk by the digest of what they were made from: JSON and arrays, never anything that could run; bounded in size.

An entry is one `.npz`: the array “data” holds JSON as bytes, “a0”, “a1” … its arrays. One that is damaged, cut short or of another
program is as if it were not there, and is taken away. Nothing of it is needed: where the folder cannot be written, results are worked out anew.
"""

from __future__ import annotations

import contextlib
import io
import json
import os
import re
import uuid
import zipfile
from pathlib import Path

import numpy as np

from nuthatch.core.results.plain import NotPlain, from_plain, to_plain

ROOM = 200_000_000
"""Bytes the folder may hold; what was used longest ago goes first."""
LARGEST = 50_000_000
_KEY = re.compile(r"^[0-9a-f]{16,128}$")


class ResultStore:
    """A folder of results by key. No method raises: a cache that fails is none."""

    def __init__(self, folder: Path, room: int = ROOM) -> None:
        self.folder, self.room = folder, room
        self._since_swept = room  # sweep once at the first write

    def _path(self, key: str) -> Path:
        if not _KEY.match(key):
            raise ValueError(f"{key!r} is no digest")
        return self.folder / f"{key}.npz"

    def get(self, key: str) -> object:
        """The result of a key, None where there is none that can be read."""
        path = self._path(key)
        try:
            with open(path, "rb") as stream:
                data = stream.read(LARGEST + 1)
        except OSError:
            return None
        try:
            if len(data) > LARGEST:
                raise NotPlain("too large")
            with np.load(io.BytesIO(data), allow_pickle=False) as kept:
                arrays = [kept[f"a{n}"] for n in range(len(kept.files) - 1)]
                found = from_plain(json.loads(kept["data"].tobytes()), arrays)
        except (NotPlain, OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile, MemoryError, RecursionError, NotImplementedError):
            with contextlib.suppress(OSError):
                path.unlink()
            return None
        with contextlib.suppress(OSError):
            os.utime(path)
        return found

    def put(self, key: str, value: object) -> None:
        """Keep a result whole or not at all."""
        path = self._path(key)
        part = path.with_name(f".{uuid.uuid4().hex}.part")
        try:
            plain, arrays = to_plain(value)
            named = {f"a{n}": a for n, a in enumerate(arrays)}
            stream = io.BytesIO()
            text = json.dumps(plain, ensure_ascii=False, allow_nan=False).encode()
            np.savez(stream, allow_pickle=False, data=np.frombuffer(text, np.uint8), **named)
            size = stream.tell()
            if size > min(LARGEST, self.room):
                return
            self.folder.mkdir(parents=True, exist_ok=True)
            part.write_bytes(stream.getvalue())
            part.replace(path)
        except (NotPlain, OSError, ValueError):
            with contextlib.suppress(OSError):
                part.unlink(missing_ok=True)
            return
        self._since_swept += size
        if self._since_swept > self.room // 10:
            self._since_swept = 0
            self._sweep()

    def _sweep(self) -> None:
        """Take away what was used longest ago until the rest has room; and parts of writes that were killed."""
        found = []
        with contextlib.suppress(OSError):
            for entry in os.scandir(self.folder):
                with contextlib.suppress(OSError):
                    known = entry.stat()
                    found.append((known.st_mtime, known.st_size, entry.path))
        used = sum(size for _, size, _ in found)
        for _, size, path in sorted(found):
            if used <= self.room:
                break
            with contextlib.suppress(OSError):
                os.unlink(path)
                used -= size
