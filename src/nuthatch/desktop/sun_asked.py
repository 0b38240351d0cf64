"""The sun of climates that are looked at, worked out in another process: with the libraries it takes, it would stop the window for a second."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.climate.climate import Climate, on_planes
from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.error_net import write_log
from nuthatch.desktop.jobs import Jobs


class SunAsked(QObject):
    """`came()` when the sun of one more climate is known."""

    came = pyqtSignal()

    def __init__(self, owner: QObject) -> None:
        super().__init__(owner)
        self._jobs, self._worker = Jobs(self), Worker()
        self._under_way: list[Climate] = []
        self._in_vain: list[Climate] = []

    @property
    def settled(self) -> bool:
        return not self._under_way

    def waits(self, climate: Climate) -> bool:
        """Whether the sun of a climate is under way."""
        return climate in self._under_way

    def lacks(self, climates: Iterable[Climate]) -> str:
        """Why the sun of all of them cannot be shown; '' where it can."""
        unknown = [c for c in climates if not c.sun_known]
        vain = next((c.name for c in unknown if c in self._in_vain), "")
        return f"the sun of {vain} could not be worked out" if vain else "computing …" if unknown else ""

    def ask(self, climates: Iterable[Climate]) -> None:
        """Begin with those of which it is not known."""
        for climate in climates:
            if not climate.sun_known and climate not in (*self._under_way, *self._in_vain):
                self._under_way.append(climate)
                self._begin(climate)

    def _begin(self, climate: Climate) -> None:
        def take(made: np.ndarray) -> None:
            climate.take_sun(made)
            self._ended(climate)

        def failed(error: Exception) -> None:
            self._in_vain.append(climate)
            if not isinstance(error, Stopped):
                write_log(error)
            self._ended(climate)

        task = Task(on_planes, {"climate": climate})
        self._jobs.start("sun of a climate", lambda _: self._worker.run(task), take, failed, stop=self._worker.stop)

    def _ended(self, climate: Climate) -> None:
        self._under_way.remove(climate)
        if not self._under_way:
            self._worker.stop()  # climates are seldom looked at: nothing is left waiting for the next
        self.came.emit()

    def close(self) -> None:
        """The home is closed: no process is left behind."""
        self._jobs.cancel()
        self._worker.stop()
