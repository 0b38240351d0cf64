"""Slow stages of the open home, in other processes: at most one live run a stage, the newest wanted, a stale one stopped."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.graph.memo import Kept
from nuthatch.core.graph.runner import Pending, no_result
from nuthatch.core.workers import Part, Stopped, Task, Worker, worked_off
from nuthatch.desktop.error_net import write_log
from nuthatch.desktop.jobs import Cancelled, Job, Jobs


class _Run:
    """What runs of one stage: its process, and which results it is to give."""

    def __init__(self, worker: Worker, rows: tuple[Pending, ...]) -> None:
        self.worker, self.rows = worker, rows
        self.keys = frozenset(p.key for p in rows)
        self.job: Job | None = None
        self.given: set[str] = set()


class SlowResults(QObject):
    """`arrived()` when a result is there; `failed(words)` once for each that is not; `moved()` when something is further than before."""

    arrived = pyqtSignal()
    failed = pyqtSignal(str)
    moved = pyqtSignal()

    def __init__(self, parent: QObject, kept: Kept) -> None:
        super().__init__(parent)
        self._kept, self._jobs = kept, Jobs(self)
        self._runs: dict[str, _Run] = {}
        self.progress: dict[str, float] = {}

    @property
    def running(self) -> tuple[str, ...]:
        """The stages that run now."""
        return tuple(self._runs)

    def want(self, pending: tuple[Pending, ...]) -> None:
        """What is waited for now: start it, stop what no longer is."""
        wanted: dict[str, list[Pending]] = {}
        for p in pending:
            wanted.setdefault(p.name, []).append(p)
        for name in [n for n, run in self._runs.items() if not {p.key for p in wanted.get(n, ())} & (run.keys - run.given)]:
            self._stop(name)
        for name, rows in wanted.items():
            run = self._runs.get(name)
            if run is not None and {p.key for p in rows} <= run.keys:
                continue
            self._stop(name)
            self._start(name, tuple(rows))

    def _start(self, name: str, rows: tuple[Pending, ...]) -> None:
        worker = Worker()
        run = self._runs[name] = _Run(worker, rows)
        stage = rows[0].stage
        task = Task(worked_off, {"function": stage.function, "rows": tuple((p.key, dict(p.arguments)) for p in rows)}, stage.seconds)
        run.job = self._jobs.start(
            name,
            lambda job: worker.run(task, self._listener(job)),
            lambda _: self._ended(name, run),
            lambda error: self._went_wrong(name, run, error),
            lambda news: self._moved(name, run, news),
            stop=worker.stop,
        )

    def _listener(self, job: Job) -> Callable[[Any], None]:
        """On the job's thread: results are kept, on disk too, before the window hears of them."""

        def hear(news: Any) -> None:
            if isinstance(news, Part):
                self._kept.put(news.key, news.value)
                news = news.key
            job.tell(news)

        return hear

    def _moved(self, name: str, run: _Run, news: Any) -> None:
        if isinstance(news, str):
            run.given.add(news)
            self.arrived.emit()
        else:
            self.progress[name] = float(news)
            self.moved.emit()

    def _ended(self, name: str, run: _Run) -> None:
        self._forget(name, run)
        run.worker.stop()

    def _went_wrong(self, name: str, run: _Run, error: Exception) -> None:
        """A run without a result: each it owes is unknown for that reason, until what it reads differs."""
        self._forget(name, run)
        run.worker.stop()
        if isinstance(error, Stopped | Cancelled):
            return
        write_log(error)
        reason = str(error) if type(error).__module__.startswith("nuthatch.") else f"{type(error).__name__}: {error}"
        for p in run.rows:
            if p.key not in run.given:
                self._kept.put(p.key, no_result(p, reason), lasting=False)
        self.failed.emit(f"{name[0].upper()}{name[1:]} could not be worked out: {reason}")
        self.arrived.emit()

    def _forget(self, name: str, run: _Run) -> None:
        if self._runs.get(name) is run:
            del self._runs[name]
        self.progress.pop(name, None)

    def _stop(self, name: str) -> None:
        run = self._runs.pop(name, None)
        self.progress.pop(name, None)
        if run is not None and run.job is not None:
            run.job.cancel()

    def close(self) -> None:
        """The home is closed: nothing runs on."""
        for name in tuple(self._runs):
            self._stop(name)
