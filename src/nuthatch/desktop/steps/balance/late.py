"""Something a board shows that is worked out in another process only while somebody looks at it, and anew when what it rests on is another."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.error_net import write_log
from nuthatch.desktop.jobs import Job, Jobs
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.waiting import Waiting


class Late(QObject):
    """`came()` when there is a result, or there is none any more. words: what is said while it is worked out."""

    came = pyqtSignal()

    def __init__(self, board: Board, name: str, words: str) -> None:
        super().__init__(board)
        self.board, self._name, self._words = board, name, words
        self._jobs, self._worker = Jobs(self), Worker()
        self._job: Job | None = None
        self._of: object = None
        self._failed_of: object = None
        self.found: Any = None
        self.waiting = Waiting(self.give_up)

    @property
    def settled(self) -> bool:
        return self._job is None

    def follow(self, rests_on: object) -> None:
        """What it rests on may be another: what was worked out for that is no longer wanted."""
        if rests_on is not self._of:
            self.stop()
            self.waiting.hide()
            self._of, self.found = rests_on, None
            self.came.emit()

    def look(self, task: Task) -> None:
        """Somebody looks: begin where nothing is known, under way, given up or failed."""
        if self.found is not None or self._job is not None or self._of is None or self._failed_of is self._of:
            return
        self.waiting.begin(self._words)
        run = self._worker.run
        self._job = self._jobs.start(
            self._name, lambda job: run(task, job.tell), self._take, self._failed, self.waiting.tell, self._worker.stop
        )

    def _take(self, found: object) -> None:
        self._job, self.found = None, found
        self.waiting.hide()
        self.came.emit()

    def _failed(self, error: Exception) -> None:
        self._job, self._failed_of = None, self._of
        self.waiting.hide()
        if not isinstance(error, Stopped):
            write_log(error)
            self.board.message.emit(f"{self._words}: it could not be worked out")

    def give_up(self) -> None:
        """Stopped by whoever looks: begun again when the home is another."""
        self._failed_of = self._of
        self.stop()

    def stop(self) -> None:
        if self._job is not None:
            self._job.cancel()
            self._job = None
