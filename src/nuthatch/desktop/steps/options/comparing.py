"""Ladders of the options worked out in another process; anew when the home has changed."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.assess import Assessment
from nuthatch.core.library import cache_folder
from nuthatch.core.options import beside
from nuthatch.core.options.ladder import Ladder
from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.error_net import write_log
from nuthatch.desktop.jobs import Job, Jobs


class Comparing(QObject):
    """`moved()` when more is known of the home that is shown."""

    moved = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._jobs, self._worker = Jobs(self), Worker()
        parent.destroyed.connect(self._worker.stop)  # a board goes with units and colours
        self.base: Assessment | None = None
        self.ladders: dict[str, Ladder] = {}
        self.done = True
        self._job: Job | None = None

    @property
    def settled(self) -> bool:
        """Whether all that was asked for is there."""
        return self._job is None

    def follow(self, a: Assessment) -> None:
        """The home may have changed: its ladders are worked out anew; what was known stays in view meanwhile."""
        if a is self.base or a.computing:
            return
        self.base, self.done = a, not a.home.options
        self.ladders = {k: v for k, v in self.ladders.items() if any(o.id == k for o in a.home.options)}
        self.close_jobs()
        if a.home.options:
            task = Task(beside.ladders, {"home": a.home, "climate": a.state.climate, "cache": cache_folder()})
            self._job = self._jobs.start(
                "ladders", lambda job: self._worker.run(task, job.tell), self._all, self._gave_up, self._take, self._worker.stop
            )

    def _take(self, told: object) -> None:
        if isinstance(told, tuple):
            ident, made = told
            self.ladders[ident] = made
            self.moved.emit()

    def _all(self, found: dict[str, Ladder]) -> None:
        self.ladders, self.done, self._job = found, True, None
        self.moved.emit()

    def _gave_up(self, error: Exception) -> None:
        self._job, self.done = None, True
        if not isinstance(error, Stopped):
            write_log(error)
        self.moved.emit()

    def close_jobs(self) -> None:
        """What is no longer wanted is stopped."""
        if self._job is not None:
            self._job.cancel()
        self._job = None

    def close(self) -> None:
        """The home is closed: nothing is worked out any more, and no process is left behind."""
        self.close_jobs()
        self._worker.stop()
