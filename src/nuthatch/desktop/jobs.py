"""The only way off the interface's thread: work with progress and cancel, its error shown, its result brought back."""

from __future__ import annotations

import contextvars
from collections.abc import Callable
from typing import Any

from PyQt6 import sip
from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from nuthatch.desktop.error_net import sentence, write_log

THREADS = 8


class Cancelled(Exception):
    """Raised by work that sees it is no longer wanted."""


class Job:
    """One piece of work. The work may call `tell(progress)` and look at `cancelled`; `cancel()` drops its result."""

    def __init__(self, name: str, bridge: _Bridge, stop: Callable[[], None] | None = None) -> None:
        self.name, self.cancelled, self.running = name, False, True
        self._bridge, self._stop = bridge, stop

    def tell(self, progress: object) -> None:
        """Say how far the work is, or hand over a part of its result. Raises Cancelled where nobody wants it any more."""
        if self.cancelled:
            raise Cancelled(self.name)
        self._bridge.send("moved", self, progress)

    def cancel(self) -> None:
        """The result is no longer wanted; what can be stopped is."""
        self.cancelled = True
        if self._stop is not None and self.running:
            self._stop()


class _Bridge(QObject):
    """Brings what happens on a worker's thread to the interface's."""

    moved = pyqtSignal(object, object)
    ended = pyqtSignal(object, object, object)

    def send(self, signal: str, *values: object) -> None:
        try:
            getattr(self, signal).emit(*values)
        except RuntimeError:  # the application is gone
            return


class _Work(QRunnable):
    def __init__(self, job: Job, work: Callable[[Job], object], bridge: _Bridge) -> None:
        super().__init__()
        self._job, self._work, self._bridge = job, work, bridge
        self._context = contextvars.copy_context()  # the units of the moment the work was asked for

    def run(self) -> None:
        result, error = None, None
        try:
            if not self._job.cancelled:
                result = self._context.run(self._work, self._job)
        except Cancelled:
            self._job.cancelled = True
        except Exception as problem:
            error = problem
        self._bridge.send("ended", self._job, result, error)


class Jobs(QObject):
    """Starts work for an owner; when the owner is gone, nobody is told."""

    def __init__(self, owner: QObject) -> None:
        super().__init__(owner)
        self._owner = owner
        self._bridge = _Bridge()
        self._bridge.moved.connect(self._moved)
        self._bridge.ended.connect(self._ended)
        self._calls: dict[Job, tuple[Callable[..., object] | None, Callable[..., object] | None, Callable[..., object] | None]] = {}

    @property
    def running(self) -> int:
        """How many jobs have not ended and are still wanted."""
        return sum(1 for job in self._calls if not job.cancelled)

    def start(
        self,
        name: str,
        work: Callable[[Job], object],
        done: Callable[[Any], object] | None = None,
        failed: Callable[[Exception], object] | None = None,
        moved: Callable[[Any], object] | None = None,
        stop: Callable[[], None] | None = None,
    ) -> Job:
        """Run `work(job)` on a thread; a cancel calls `stop`, which ends what the thread waits for. `done(result)`, `failed(error)`, `moved(progress)` are called on the interface's thread,
        none of them after a cancel. An error nobody asked for is logged and said by the net."""
        job = Job(name, self._bridge, stop)
        self._calls[job] = (done, failed, moved)
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.setMaxThreadCount(max(pool.maxThreadCount(), THREADS))  # some wait for other processes, the rest must not wait for them
        pool.start(_Work(job, work, self._bridge))
        return job

    def cancel(self) -> None:
        """Cancel everything."""
        for job in self._calls:
            job.cancel()

    def _moved(self, job: Job, progress: object) -> None:
        moved = self._calls.get(job, (None, None, None))[2]
        if moved is not None and not job.cancelled and not sip.isdeleted(self._owner):
            moved(progress)

    def _ended(self, job: Job, result: object, error: Exception | None) -> None:
        job.running = False
        done, failed, _ = self._calls.pop(job, (None, None, None))
        if job.cancelled or sip.isdeleted(self._owner):
            return
        if error is None:
            if done is not None:
                done(result)
        elif failed is not None:
            failed(error)
        else:
            raise error


def words_of(error: Exception, expected: tuple[type[Exception], ...] = ()) -> str:
    """An error of a job in words: an expected one as it says, another as an error of ours, with its trace logged."""
    if isinstance(error, expected):
        return str(error)
    write_log(error)
    return sentence(error)
