"""Questions about a home that take seconds: each parted between two processes, one after the other, forgotten when the home changes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.assess import Assessment
from nuthatch.core.library import cache_folder
from nuthatch.core.options.beside import in_two
from nuthatch.core.workers import Stopped, Worker
from nuthatch.desktop.error_net import write_log
from nuthatch.desktop.jobs import Job, Jobs


@dataclass(frozen=True, eq=False)
class Asked:
    """What is asked: a function of core.options.beside with its arguments, and how the parts of its answer become one."""

    function: Callable[..., Any]
    arguments: Mapping[str, Any]
    joined: Callable[[tuple[Any, ...]], Any]


class Asking(QObject):
    """`moved()` when an answer is there, or further. An answer is found by its name: what was asked, and of what."""

    moved = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._jobs, self._workers = Jobs(self), (Worker(), Worker())
        for worker in self._workers:
            parent.destroyed.connect(worker.stop)  # a board goes with units and colours
        self.answers: dict[object, Any] = {}
        self.failed: dict[object, str] = {}
        self.base: Assessment | None = None
        self.running: object = None
        self.far = 0.0
        self._waiting: dict[object, Asked] = {}
        self._job: Job | None = None

    @property
    def settled(self) -> bool:
        """Whether everything asked is answered."""
        return self._job is None and not self._waiting

    def follow(self, a: Assessment) -> None:
        """The home may have changed: what was answered, or is being worked out, is of another home."""
        if a is not self.base:
            self.forget()
            self.base = a

    def asked(self, name: object) -> bool:
        """Whether a question is answered, being worked out or waiting."""
        return name in self.answers or name in self.failed or name in self._waiting or name == self.running

    def ask(self, name: object, question: Asked) -> None:
        """Ask what is not known yet; the newest question comes first."""
        if self.base is None or self.asked(name):
            return
        self._waiting[name] = question
        if self._job is None:
            self._next()

    def _next(self) -> None:
        a = self.base
        if a is None or not self._waiting:
            return
        self.running, question = self._waiting.popitem()
        self.far = 0.0
        arguments = {"home": a.home, "climate": a.state.climate, "cache": cache_folder(), **question.arguments}
        self._job = self._jobs.start(
            "asked",
            lambda job: question.joined(in_two(self._workers, question.function, arguments, job.tell)),
            self._answered,
            self._gave_up,
            self._told,
            self._stop,
        )

    def _told(self, far: object) -> None:
        if isinstance(far, float) and far - self.far > 0.02:
            self.far = far
            self.moved.emit()

    def _answered(self, found: Any) -> None:
        self.answers[self.running] = found
        self._ended()

    def _gave_up(self, error: Exception) -> None:
        if not isinstance(error, Stopped):
            write_log(error)
            self.failed[self.running] = f"could not be worked out ({type(error).__name__})"
        self._ended()

    def _ended(self) -> None:
        self.running, self._job = None, None
        self._next()
        self.moved.emit()

    def _stop(self) -> None:
        for worker in self._workers:
            worker.stop()

    def cancel(self) -> None:
        """Stop what is worked out, and what waits; answers stay."""
        self._waiting.clear()
        if self._job is not None:
            self._job.cancel()
        self.running, self._job = None, None
        self.moved.emit()

    def forget(self) -> None:
        """Nothing is known any more."""
        self._waiting.clear()
        if self._job is not None:
            self._job.cancel()
        self.running, self._job = None, None
        self.answers, self.failed = {}, {}

    def close(self) -> None:
        """The home is closed: nothing is worked out any more, and no process is left behind."""
        self.forget()
        self._stop()
