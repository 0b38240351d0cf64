"""A shape taken in from a file: read in the background, with a way to stop; which building where there are several; what was left out."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QInputDialog

from nuthatch.core.changes.changes import ChangeRefused
from nuthatch.core.edits.plan_files import taken_in
from nuthatch.core.exchange.convert import Brought, brought_in
from nuthatch.core.exchange.taken import SeveralBuildings
from nuthatch.core.files import formats
from nuthatch.core.files.disk import printable
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import Shape
from nuthatch.core.workers import LONGEST_READING, Task, WorkerEnded
from nuthatch.desktop.jobs import words_of
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.reading import Reading
from nuthatch.desktop.widgets.workspace import row_of

LEFT_OUT = "left out of the shape"


class TakingIn:
    """Files taken into a home's shape, for the board of the shape. What a file held and the home does not is listed beside the lists
    until it is dismissed."""

    def __init__(self, board: Board, reading: Reading) -> None:
        self.board, self.reading = board, reading
        self._to_show: Shape | None = None
        self.left_out = ReadTable("Left out of the file", ("Left out of the file that was taken in",), (0,))
        dismiss = button("Dismiss", self.dismiss, tip="Take this list away")
        board.work.lists.add("Left out", self.left_out, row_of(dismiss))
        self._index = board.work.lists.stack.indexOf(self.left_out)

    def ask(self) -> None:
        """Ask for a file and take it in."""
        read = " ".join(f"*{s}" for f in formats.of("shape") if f.reads for s in f.suffixes)
        name, _ = QFileDialog.getOpenFileName(self.board, "Take in a shape", "", f"Shapes and faces ({read})")
        if name:
            self.take(Path(name))

    def take(self, path: Path, building: str = "") -> None:
        """Take in a file, as one step; a fault in it is said and nothing changes."""

        def failed(error: Exception) -> None:
            if isinstance(error, SeveralBuildings):
                self._choose(path, error.names)
                return
            if isinstance(error, WorkerEnded):
                self.board.message.emit(f"{printable(path.name)}: reading it broke off, {error}")
                return
            self.board.message.emit(words_of(error, (HomeFileError, ChangeRefused)))

        task = Task(brought_in, {"path": path, "building": building}, LONGEST_READING)
        self.reading.apart(f"Reading {path.name}", task, lambda brought: self._taken(path, brought), failed)

    def _choose(self, path: Path, names: tuple[str, ...]) -> None:
        """Which of the buildings in a file is meant."""
        chosen, ok = QInputDialog.getItem(self.board, "Several buildings", f"{path.name} holds several. Take in:", list(names), 0, False)
        if ok:
            self.take(path, chosen)

    def _taken(self, path: Path, brought: Brought) -> None:
        try:
            change = taken_in(self.board.home, brought.file.home)
        except ChangeRefused as why:
            self.board.message.emit(str(why))
            return
        self.board.desk.under_way[LEFT_OUT] = brought.left_out
        self.board.apply(change)
        self._to_show = self.board.desk.home.shape if brought.left_out else None
        self.show_left_out()
        if brought.left_out:
            number = len(brought.left_out)
            lost = "one thing of it has" if number == 1 else f"{number} things of it have"
            self.board.message.emit(f"{path.name} taken in; {lost} no place in a home: see “Left out”")

    def show_left_out(self) -> None:
        """The list of what was left out, where there is something."""
        rows = tuple(self.board.desk.under_way.get(LEFT_OUT, ()))
        self.left_out.show_rows([(str(n), (words,)) for n, words in enumerate(rows)])
        lists = self.board.work.lists
        lists.buttons[self._index].setVisible(bool(rows))
        if self._to_show is not None and self.board.home.shape is self._to_show:  # the board shows what was taken in
            self._to_show = None
            lists.show_index(self._index)

    def dismiss(self) -> None:
        """The list is read."""
        self.board.desk.under_way.pop(LEFT_OUT, None)
        self.show_left_out()
        self.board.work.lists.show_index(0)
