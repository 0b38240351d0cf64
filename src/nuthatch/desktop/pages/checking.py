"""Checks homes in other processes, one a core, so that the window stays alive; progress and cancel."""

from __future__ import annotations

import os
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.library import cache_folder
from nuthatch.core.register import Row, check_files, remember
from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.jobs import Cancelled, Job, Jobs, words_of

MOST = 4
LONGEST = 60.0
"""Seconds a home may take: the rest of its batch is left unchecked where it takes longer."""


class Checking(QObject):
    """`found(row)` for each home, `moved(done)`, `ended(paths not checked)`."""

    found = pyqtSignal(object)
    moved = pyqtSignal(int)
    ended = pyqtSignal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._jobs = Jobs(self)
        self._running: set[Job] = set()
        self._left: dict[str, Path] = {}
        self._done = 0

    @property
    def running(self) -> bool:
        return bool(self._running)

    def start(self, paths: list[Path]) -> None:
        """Check these files."""
        self.cancel()
        self._left = {str(p): p for p in paths}
        self._done = 0
        cores = max(1, min(os.cpu_count() or 1, MOST, len(paths)))
        for n in range(cores):
            self._start(paths[n::cores])

    def _start(self, paths: list[Path]) -> None:
        made: list[Job] = []
        worker = Worker()
        job = self._jobs.start(
            "checking homes",
            lambda job: _check(job, worker, paths),
            lambda _: self._finished(made[0]),
            lambda error: self._failed(made[0], error),
            self._take,
            worker.stop,
        )
        made.append(job)
        self._running.add(job)

    def _take(self, row: Row) -> None:
        self._left.pop(row.path, None)
        self._done += 1
        self.found.emit(row)
        self.moved.emit(self._done)

    def _failed(self, job: Job, error: Exception) -> None:
        words_of(error)  # logs it
        self._finished(job)

    def _finished(self, job: Job) -> None:
        self._running.discard(job)
        if not self._running:
            self.ended.emit(list(self._left.values()))

    def cancel(self) -> None:
        """Stop; what was computed so far is remembered."""
        stopped, self._running = self._running, set()
        for job in stopped:
            job.cancel()
        if stopped:
            self.ended.emit(list(self._left.values()))


def _check(job: Job, worker: Worker, paths: list[Path]) -> None:
    """On a thread: one worker, its rows handed over as they come; what was computed is remembered, also of a run that was stopped."""
    rows: list[Row] = []

    def take(row: Row) -> None:
        rows.append(row)
        job.tell(row)

    try:
        worker.run(Task(check_files, {"paths": paths, "cache": cache_folder()}, LONGEST * len(paths)), take)
    except Stopped:
        raise Cancelled(job.name) from None
    finally:
        worker.stop()
        remember(rows)
