"""The board of each step, found by its folder: a new step is one declaration and one folder."""

from __future__ import annotations

from functools import lru_cache
from importlib import import_module

from nuthatch.desktop.steps.board import Board


@lru_cache(maxsize=64)
def board_of(key: str) -> type[Board]:
    """The class of a step's board: the one in `steps/<key>/board.py` that names the step. Raises ModuleNotFoundError."""
    module = import_module(f"nuthatch.desktop.steps.{key.replace('-', '_')}.board")
    return next(c for c in vars(module).values() if isinstance(c, type) and issubclass(c, Board) and c.key == key)
