"""Checks homes in helper processes, one a core, so that the window stays alive; progress and cancel."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.register import Row, row_from_line
from nuthatch.desktop.jobs import Job, Jobs, words_of

MOST = 4


class Checking(QObject):
    """`found(row)` for each home, `moved(done)`, `ended(paths not checked)`."""

    found = pyqtSignal(object)
    moved = pyqtSignal(int)
    ended = pyqtSignal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._jobs = Jobs(self)
        self._running: dict[Job, subprocess.Popen[bytes] | None] = {}
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
        job = self._jobs.start(
            "checking homes",
            lambda job: self._check(job, paths),
            lambda _: self._finished(made[0]),
            lambda error: (words_of(error), self._finished(made[0])),
            self._take,
        )
        made.append(job)
        self._running[job] = None

    def _check(self, job: Job, paths: list[Path]) -> None:
        """On a worker: one helper process, its rows handed over as they come."""
        helper = subprocess.Popen([sys.executable, "-m", "nuthatch.core.register"], stdin=subprocess.PIPE, stdout=subprocess.PIPE)
        self._running[job] = helper
        try:
            assert helper.stdin is not None and helper.stdout is not None
            helper.stdin.write("".join(f"{json.dumps(str(p))}\n" for p in paths).encode())
            helper.stdin.close()
            for line in helper.stdout:
                try:
                    row = row_from_line(line)
                except (ValueError, TypeError):
                    continue
                job.tell(row)
        finally:
            helper.terminate()
            helper.wait()

    def _take(self, row: Row) -> None:
        self._left.pop(row.path, None)
        self._done += 1
        self.found.emit(row)
        self.moved.emit(self._done)

    def _finished(self, job: Job) -> None:
        self._running.pop(job, None)
        if not self._running:
            self.ended.emit(list(self._left.values()))

    def cancel(self) -> None:
        """Stop; what was computed so far is remembered by the helpers."""
        stopped, self._running = self._running, {}
        for job, helper in stopped.items():
            job.cancel()
            if helper is not None:
                helper.terminate()
        if stopped:
            self.ended.emit(list(self._left.values()))
