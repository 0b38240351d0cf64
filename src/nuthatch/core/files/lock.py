"""The lock of an open home: one window works on a file, others read it."""

from __future__ import annotations

import contextlib
import datetime
import fcntl
import os
import platform
import time
from pathlib import Path
from typing import Any

from nuthatch.core.files.disk import beside, mode_of, why

TRIES, PAUSE = 6, 0.02  # somebody who only looks who holds a lock keeps it for a moment


class Lock:
    """Holds a home file open for one window. The kernel drops it when the process ends, however it ends.

    A lock counts only while the file locked is the one that lies there: whoever lets go removes it, and one who waited with the
    removed file open must not believe to hold anything.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self.holder = ""
        self.unwritable = False
        self.stream: Any = None
        self.held = self._take()

    def _take(self) -> bool:
        file = beside(self.path, "lock")
        for attempt in range(TRIES):
            if attempt:
                time.sleep(PAUSE)
            try:
                handle = os.open(file, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NOFOLLOW, mode_of(self.path) or 0o644)
            except (OSError, ValueError) as error:
                self.unwritable = True
                reason = why(error) if isinstance(error, OSError) else str(error)
                self.holder = f"its folder cannot be written to ({reason})"
                return False
            stream = os.fdopen(handle, "r+", encoding="utf-8", errors="replace")
            try:
                fcntl.flock(stream, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                self.holder = stream.read(400).strip() or "another window"
                stream.close()
                continue
            if _lies_there(handle, file):
                self._sign(stream)
                self.stream = stream
                return True
            stream.close()  # removed between opening and locking: the file there now is another one
        return False

    @staticmethod
    def _sign(stream: Any) -> None:
        """Say who holds it; a full disk is no reason not to work."""
        when = datetime.datetime.now().strftime("%Y-%m-%d %H:%M")
        who = os.environ.get("USER") or os.environ.get("LOGNAME") or "somebody"
        with contextlib.suppress(OSError):
            stream.truncate(0)
            stream.write(f"{who} on {platform.node()}, since {when}")
            stream.flush()

    def release(self) -> None:
        """Let the file go."""
        if self.stream is not None:
            file = beside(self.path, "lock")
            with contextlib.suppress(OSError):
                if _lies_there(self.stream.fileno(), file):
                    file.unlink()
            with contextlib.suppress(OSError):
                self.stream.close()
            self.stream = None
        self.held = False


def _lies_there(handle: int, file: Path) -> bool:
    """Whether the open file is the one of this name."""
    try:
        there = os.stat(file, follow_symlinks=False)
    except OSError:
        return False
    mine = os.fstat(handle)
    return (there.st_dev, there.st_ino) == (mine.st_dev, mine.st_ino)


def locked_by(path: Path) -> str:
    """Who holds a file open, '' for nobody."""
    try:
        handle = os.open(beside(path, "lock"), os.O_RDONLY | os.O_CLOEXEC | os.O_NOFOLLOW)
    except (OSError, ValueError):
        return ""
    with os.fdopen(handle, encoding="utf-8", errors="replace") as stream:
        try:
            fcntl.flock(stream, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except OSError:
            return stream.read(400).strip() or "another window"
    return ""
