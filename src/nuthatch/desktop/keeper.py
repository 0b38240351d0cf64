"""Keeps the work of an open home: its lock, its autosave every minute and after 20 changes, off the interface's thread."""

from __future__ import annotations

import itertools
import os
import threading
import time
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nuthatch.core.exchange.homefile import HomeFileError
from nuthatch.core.keeping.autosave import Autosave, autosave_file, read_autosave, write_autosave
from nuthatch.core.keeping.lock import Lock
from nuthatch.core.session import Session
from nuthatch.desktop.jobs import Jobs, words_of

EVERY_MS, AFTER_CHANGES = 60_000, 20
STILL = 2.0  # seconds without a keystroke after which what stands in a field is meant
_number = itertools.count(1)


class Keeper(QObject):
    """One for each open home. `failed(text)` where the autosave cannot be written."""

    failed = pyqtSignal(str)

    def __init__(self, session: Session, path: Path | None) -> None:
        super().__init__()
        self.guard = threading.Lock()
        self.ended = False
        self.clean_home: Any = session.home
        self._session, self._changes, self._kept = session, 0, session.home
        self._last = 0.0
        self._jobs = Jobs(self)
        self._id = f"{os.getpid()}-{next(_number)}"
        self.path = path
        self.lock = Lock(path) if path is not None else None
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY_MS)
        self._timer.timeout.connect(self.keep)

    def watch(self) -> None:
        """Begin the minutes; needs the application."""
        self._timer.start()

    @property
    def reason(self) -> str:
        """Why the home can only be read, '' where it can be worked on."""
        if self.lock is None or self.lock.held:
            return ""
        return f"Read only: {self.lock.holder}" if "folder" in self.lock.holder else f"Read only: open elsewhere ({self.lock.holder})"

    @property
    def file(self) -> Path:
        return autosave_file(self.path, self._id)

    def found(self) -> Autosave | None:
        """Work of an earlier session beside the file. Raises HomeFileError where it is damaged."""
        return read_autosave(self.file) if self.path is not None and not self.reason else None

    def changed(self, joined: bool = False) -> None:
        """A change was made; a keystroke that joins the one before is no change of its own."""
        self._last = time.monotonic()
        self._changes += 0 if joined else 1
        if self._changes >= AFTER_CHANGES:
            self.keep()

    def keep(self) -> None:
        """Write the autosave in the background where there is work not saved; never a value half typed."""
        self._changes = 0
        busy = time.monotonic() - self._last < STILL
        home, labels = self._session.whole() if busy else (self._session.home, self._session.unsaved)
        if self.reason or self.ended or home is self._kept or not labels:
            return
        self._kept = home
        file, path = self.file, self.path
        self._jobs.start("autosave", lambda job: self._write(home, labels, file, path), failed=self._not_written)

    def _write(self, home: Any, labels: tuple[str, ...], file: Path, path: Path | None) -> None:
        """On a worker: keep the work, unless it was saved or given up meanwhile."""
        with self.guard:
            if not self.ended and self.clean_home is not home:
                write_autosave(file, home, path, labels)

    def _not_written(self, problem: Exception) -> None:
        self.failed.emit(f"The work could not be kept aside: {words_of(problem, (HomeFileError,))}")

    def saved(self, path: Path) -> None:
        """The home is safe in its file: the autosave goes."""
        with self.guard:
            self.clean_home = self._kept = self._session.home
            self.file.unlink(missing_ok=True)
            self.path = path

    def take(self, path: Path) -> str:
        """Hold another file, before saving there; returns why that cannot be, or ''."""
        if self.lock is not None and self.lock.held and self.lock.path == path:
            return ""
        lock = Lock(path)
        if not lock.held and "folder" in lock.holder:
            return f"{path}: could not be saved, {lock.holder}"
        if not lock.held:
            return f"{path} is open elsewhere ({lock.holder}); save under another name"
        if self.lock is not None:
            self.lock.release()
        self.lock = lock
        return ""

    def end(self) -> None:
        """The window closes and the user decided: nothing is left behind."""
        self._timer.stop()
        with self.guard:
            self.ended = True
            if not self.reason:
                self.file.unlink(missing_ok=True)
        if self.lock is not None:
            self.lock.release()
