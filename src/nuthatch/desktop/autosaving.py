"""Keeps the work of an open home: its lock, its autosave every minute and after 20 changes, off the interface's thread."""

from __future__ import annotations

import contextlib
import threading
import time
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nuthatch.core.changes.history import Session
from nuthatch.core.files.autosave import Alive, Autosave, autosave_file, found_beside, new_session, write_autosave
from nuthatch.core.files.disk import printable
from nuthatch.core.files.held import drop_session, hold
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.files.lock import Lock
from nuthatch.core.model.home import Home
from nuthatch.desktop.jobs import Jobs, words_of

EVERY_MS, AFTER_CHANGES = 60_000, 20
STILL = 2.0  # seconds without a keystroke after which what stands in a field is meant


class Keeper(QObject):
    """One for each open home. `failed(text)` where the autosave cannot be written. file_hash: of the file as read or written last."""

    failed = pyqtSignal(str)

    def __init__(self, session: Session, path: Path | None, file_hash: str = "") -> None:
        super().__init__()
        self.guard = threading.Lock()
        self.ended = False
        self.clean_home: object = session.home
        self.file_hash = file_hash
        self._session, self._changes, self._kept = session, 0, session.home
        self._last, self.turn = 0.0, 0
        self._jobs = Jobs(self)
        self.id = new_session()
        self.path = path
        self.lock = Lock(path) if path is not None else None
        self.restored: list[Autosave] = []
        self.belongings: Callable[[Any], Iterable[bytes]] = lambda home: ()
        self.kept_as: Callable[[Any], Any] = lambda home: home
        """What is written of a home: another where something is only tried on it."""
        self.signs = [Alive(self.id)] if path is None else []
        self.timer = QTimer(self)
        self.timer.setInterval(EVERY_MS)
        self.timer.timeout.connect(self.keep)

    def watch(self) -> None:
        """Begin the minutes; needs the application."""
        self.timer.start()

    @property
    def reason(self) -> str:
        """Why the home can only be read, '' where it can be worked on."""
        if self.lock is None or self.lock.held:
            return ""
        holder = printable(self.lock.holder)
        return f"Read only: {holder}" if self.lock.unwritable else f"Read only: open elsewhere ({holder})"

    @property
    def file(self) -> Path:
        return autosave_file(self.path, self.id)

    # work of earlier sessions

    def found(self) -> tuple[tuple[Autosave, ...], tuple[str, ...]]:
        """(work of earlier sessions beside the file, newest first, under names of its own; faults of what cannot be read)."""
        return found_beside(self.path, self.file_hash) if self.path is not None and not self.reason else ((), ())

    def claim(self, work: Autosave) -> None:
        """Restored work belongs to this session: nobody else offers it, and it goes once its restored state is saved."""
        self.restored.append(work)
        if self.path is None:
            self.signs.append(Alive(work.file.stem))

    @property
    def sessions(self) -> tuple[str, ...]:
        """The sessions whose held files may belong to the home."""
        return (self.id, *(w.session for w in self.restored))

    # keeping

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
        turn, aside = self.turn, self.kept_as(home)
        self._jobs.start("autosave", lambda job: self.write(aside, labels, turn), failed=self._not_written)

    def keep_at_once(self) -> None:
        """Write the autosave now, here: what was measured is on disk before it is said to be kept."""
        home, labels = self._session.home, self._session.unsaved
        if self.reason or self.ended or not labels:
            return
        self._kept, self._changes, self.turn = home, 0, self.turn + 1
        try:
            self.write(self.kept_as(home), labels)
        except HomeFileError as problem:
            self._not_written(problem)

    def write(self, home: Home, labels: tuple[str, ...], turn: int | None = None) -> None:
        """On a worker: keep the work, unless it was saved or given up meanwhile."""
        with self.guard:
            newest = turn is None or turn == self.turn  # else newer work was kept at once meanwhile
            if not self.ended and self.clean_home is not home and newest:
                for data in self.belongings(home):  # the file may lose them before this work is answered
                    hold(data, self.id)
                write_autosave(self.file, home, self.path, labels, self.id, self.file_hash)

    def _not_written(self, problem: Exception) -> None:
        self._kept = None  # tried again at the next occasion
        self.failed.emit(f"The work could not be kept aside: {words_of(problem, (HomeFileError,))}")

    # saving

    def may_take(self, path: Path) -> tuple[Lock | None, str]:
        """(the lock of a file to save to, why it cannot be had). The lock held stays; see `saved` and `give_back`."""
        if self.lock is not None and self.lock.held and self.lock.path == path:
            return self.lock, ""
        lock = Lock(path)
        if lock.held:
            return lock, ""
        if lock.unwritable:
            return None, f"{printable(str(path))}: could not be saved, {printable(lock.holder)}"
        return None, f"{printable(str(path))} is open elsewhere ({printable(lock.holder)}); save under another name"

    def give_back(self, lock: Lock | None) -> None:
        """A lock that was taken for a save that did not happen."""
        if lock is not None and lock is not self.lock:
            lock.release()

    def saved(self, path: Path, lock: Lock | None, file_hash: str) -> None:
        """The home is safe in its file: its autosave goes, and the earlier work it was restored from."""
        if self.lock is not None and lock is not self.lock:
            self.lock.release()
        with self.guard:
            self.clean_home = self._kept = self._session.home
            with contextlib.suppress(OSError):
                self.file.unlink(missing_ok=True)
            self.lock, self.path, self.file_hash = lock, path, file_hash
        for work in [w for w in self.restored if self._session.rests_on(w.home)]:
            with contextlib.suppress(OSError):
                work.file.unlink(missing_ok=True)
            drop_session(work.session)
            self.restored.remove(work)
        self._let_go()

    def _let_go(self) -> None:
        for sign in self.signs:
            sign.end()
        self.signs = []

    def end(self) -> None:
        """The window closes and the person decided: of this session nothing is left behind; earlier work not answered stays."""
        self.timer.stop()
        with self.guard:
            self.ended = True
            if not self.reason:
                with contextlib.suppress(OSError):
                    self.file.unlink(missing_ok=True)
        drop_session(self.id)
        self._let_go()
        if self.lock is not None:
            self.lock.release()
