"""Files read in the background for a board or page: said what is read, how far it is, and a way to stop it. A file somebody else
made is read in a process of its own, with so much time and memory and no more."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject

from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.jobs import Job, Jobs
from nuthatch.desktop.widgets.waiting import Waiting


class Reading:
    """One line above a workspace for whatever is being read."""

    def __init__(self, owner: QObject) -> None:
        self._jobs, self._worker = Jobs(owner), Worker()
        self.waiting = Waiting(self._jobs.cancel)

    @property
    def running(self) -> bool:
        return bool(self._jobs.running)

    def start(
        self, words: str, work: Callable[[Job], object], done: Callable[[Any], object], failed: Callable[[Exception], object]
    ) -> None:
        """Read on another thread; `work` may tell how far it is, 0 to 1."""
        self._begin(words, work, done, failed, None)

    def apart(self, words: str, task: Task, done: Callable[[Any], object], failed: Callable[[Exception], object]) -> None:
        """Read in another process; what the task tells is how far it is, 0 to 1. Stopping it ends the process."""

        def work(job: Job) -> object:
            try:
                return self._worker.run(task, job.tell)
            finally:
                self._worker.stop()  # files are seldom read: nothing is left waiting for the next

        self._begin(words, work, done, lambda e: None if isinstance(e, Stopped) else failed(e), self._worker.stop)

    def _begin(
        self,
        words: str,
        work: Callable[[Job], object],
        done: Callable[[Any], object],
        failed: Callable[[Exception], object],
        stop: Callable[[], None] | None,
    ) -> None:
        def ended(what: Callable[[Any], object], result: Any) -> None:
            self.waiting.hide()
            what(result)

        self.waiting.begin(words)
        self._jobs.start(words, work, lambda r: ended(done, r), lambda e: ended(failed, e), self.waiting.tell, stop)
