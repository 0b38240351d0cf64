"""The boards, each found by its folder and made when first shown: a new step is one declaration and one folder."""

from __future__ import annotations

from functools import lru_cache
from importlib import import_module

from PyQt6 import sip
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from nuthatch.desktop.desk import Desk
from nuthatch.desktop.steps.board import Board


@lru_cache(maxsize=64)
def board_of(key: str) -> type[Board]:
    """The class of a step's board: the one in `steps/<key>/board.py` that names the step. Raises ModuleNotFoundError."""
    module = import_module(f"nuthatch.desktop.steps.{key.replace('-', '_')}.board")
    return next(c for c in vars(module).values() if isinstance(c, type) and issubclass(c, Board) and c.key == key)


class BoardStack(QStackedWidget):
    """`go(step, part, field)`, `explain(result)`, `said(text, detail)` from whichever board says it."""

    go = pyqtSignal(str, str, str)
    explain = pyqtSignal(object)
    said = pyqtSignal(str, str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self.boards: dict[str, Board] = {}

    def board(self, key: str) -> Board:
        """The board of a step, made when first needed."""
        if key not in self.boards:
            board = board_of(key)(self._desk)
            board.go.connect(self.go)
            board.explain.connect(self.explain)
            board.message.connect(lambda text: self.said.emit(text, ""))
            board.pinned.connect(lambda text: self.said.emit("Pinned to the dossier", text))
            self.boards[key] = board
            self.addWidget(board)
        return self.boards[key]

    def take_down(self) -> None:
        """Remove the boards; each is made again when it is shown."""
        boards, self.boards = self.boards, {}
        for board in boards.values():
            self.removeWidget(board)
            sip.delete(board)
