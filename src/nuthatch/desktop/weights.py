"""What every value that is not known for sure weighs: worked out in another process when the home has been left alone for a moment, anew
when it has changed. Margins and ledger show the same."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nuthatch.core.assess import Assessment, Snapshot
from nuthatch.core.library import cache_folder
from nuthatch.core.views.ledger import LedgerRow, Weight, entries_of, first_to_find_out, margins, weighed
from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.error_net import write_log
from nuthatch.desktop.jobs import Job, Jobs

IDLE = 900
"""Milliseconds a home is left alone before its values are weighed, unless somebody looks at the ledger."""


class Weighing(QObject):
    """`moved()` when more is known of the home that is shown."""

    moved = pyqtSignal()
    idle = IDLE

    def __init__(self, parent: QObject, snapshot: Callable[[], Snapshot]) -> None:
        super().__init__(parent)
        self._snapshot, self._jobs, self._worker = snapshot, Jobs(self), Worker()
        self._job: Job | None = None
        self.base: Assessment | None = None
        self.rows: tuple[LedgerRow, ...] = ()
        self.weights: dict[str, dict[str, Weight]] = {}
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._start)

    @property
    def left(self) -> int:
        """How many values are still to be weighed."""
        return len(self.rows) - len(self.weights) if self.base is not None and margins(self.base) else 0

    @property
    def settled(self) -> bool:
        """Whether everything of the home that is shown is weighed."""
        return self.base is self._snapshot().assessment and not self.left

    @property
    def first(self) -> tuple[LedgerRow, str, Weight] | None:
        """What to find out first, once all are weighed; None where nothing moves a margin."""
        return first_to_find_out(self.base, self.rows, self.weights) if self.base is not None and self.settled else None

    def follow(self, idle: int | None = None) -> None:
        """The home may have changed: weigh it anew after so many milliseconds of rest."""
        idle = self.idle if idle is None else idle
        a = self._snapshot().assessment
        if a is None or a.computing:
            return
        if a is self.base and idle:
            return
        if a is not self.base:
            self._stop()
            self.base, self.rows, self.weights = a, entries_of(a), {}
        if self._job is None and self.left:
            self._soon.start(idle)

    def _start(self) -> None:
        a = self.base
        if a is None or a is not self._snapshot().assessment or self._job is not None:
            return
        task = Task(weighed, {"home": a.home, "climate": a.state.climate, "cache": cache_folder()})
        self._job = self._jobs.start(
            "weights", lambda job: self._worker.run(task, job.tell), lambda _: self._ended(), self._gave_up, self._take, self._worker.stop
        )

    def _take(self, told: dict[str, Any]) -> None:
        self.weights |= told
        self.moved.emit()

    def _gave_up(self, error: Exception) -> None:
        """What is not weighed stays so until the home changes."""
        if not isinstance(error, Stopped):
            write_log(error)
        self.rows = tuple(r for r in self.rows if r.id in self.weights)
        self._ended()

    def _ended(self) -> None:
        self._job = None
        self.moved.emit()

    def _stop(self) -> None:
        self._soon.stop()
        if self._job is not None:
            self._job.cancel()
            self._job = None

    def close(self) -> None:
        """The home is closed: nothing is weighed any more."""
        self._stop()
        self._worker.stop()
