"""The lock of an open home: one window works on a file, others read it."""

from __future__ import annotations

import contextlib
import datetime
import fcntl
import os
import platform
from pathlib import Path
from typing import Any

from nuthatch.core.keeping.places import beside


class Lock:
    """Holds a home file open for one window. The kernel drops it when the process ends, however it ends."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.holder = ""
        self._stream: Any = None
        self.held = self._take()

    def _take(self) -> bool:
        file = beside(self.path, "lock")
        try:
            stream = open(file, "a+", encoding="utf-8")  # noqa: SIM115 - kept open while the lock is held
        except OSError as error:
            self.holder = f"its folder cannot be written to ({error.strerror or error})"
            return False
        try:
            fcntl.flock(stream, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            stream.seek(0)
            self.holder = stream.read(400).strip() or "another window"
            stream.close()
            return False
        stream.truncate(0)
        when = datetime.datetime.now().strftime("%Y-%m-%d %H:%M")
        who = os.environ.get("USER") or os.environ.get("LOGNAME") or "somebody"
        stream.write(f"{who} on {platform.node()}, since {when}")
        stream.flush()
        self._stream = stream
        return True

    def release(self) -> None:
        """Let the file go."""
        if self._stream is not None:
            with contextlib.suppress(OSError):
                beside(self.path, "lock").unlink(missing_ok=True)
            self._stream.close()
            self._stream = None
        self.held = False
