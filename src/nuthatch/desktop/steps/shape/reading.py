"""Files read in the background for the board of the shape: said what is read, how far it is, and a way to stop it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from nuthatch.desktop.jobs import Job, Jobs
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.waiting import Waiting


class Reading:
    """One line above the workspace for whatever is being read."""

    def __init__(self, board: Board) -> None:
        self._jobs = Jobs(board)
        self.waiting = Waiting(self._jobs.cancel)

    @property
    def running(self) -> bool:
        return bool(self._jobs.running)

    def start(
        self, words: str, work: Callable[[Job], object], done: Callable[[Any], object], failed: Callable[[Exception], object]
    ) -> None:
        """Read on another thread; `work` may tell how far it is, 0 to 1."""

        def ended(what: Callable[[Any], object], result: Any) -> None:
            self.waiting.hide()
            what(result)

        self.waiting.begin(words)
        self._jobs.start(words, work, lambda r: ended(done, r), lambda e: ended(failed, e), self.waiting.tell)
