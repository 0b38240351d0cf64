"""The office library out and in: two buttons over its lists."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QWidget

from nuthatch.core.changes.changes import ChangeRefused
from nuthatch.core.exchange import library_files
from nuthatch.core.files import formats
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.homefile import HomeFileError, put
from nuthatch.core.workers import LONGEST_READING, Task
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.jobs import words_of
from nuthatch.desktop.steps.board import button
from nuthatch.desktop.widgets.reading import Reading


class LibraryFiles:
    """Asks for a file, takes a library into a desk or writes its own; `told` shows it anew with what was done, or what is wrong."""

    def __init__(self, parent: QWidget, desk: Desk, told: Callable[[str], None]) -> None:
        self.parent, self.desk, self.told = parent, desk, told
        self.reading = Reading(parent)

    def headed(self, heading: QLabel) -> QHBoxLayout:
        """The heading with the two buttons beside it."""
        row = QHBoxLayout()
        row.addWidget(heading)
        row.addWidget(self.reading.waiting)
        row.addStretch(1)
        row.addWidget(
            button("Take in …", self._ask_take, "folder-open", "Materials, build-ups and types from a library: JSON or spreadsheet")
        )
        row.addWidget(button("Write …", self._ask_write, "save", "The library as JSON, which keeps everything, or as a spreadsheet"))
        return row

    def _ask_take(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.parent, "Take in a library", "", formats.dialog_filter("library"))
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> None:
        """A library into the office's own, as one step; a fault in it is said and nothing changes."""
        try:
            data = read_file(path, library_files.LARGEST, "library")
        except OSError as fault:
            self.told(f"{path.name}: {why(fault)}")
            return

        def use(library: library_files.Library) -> None:
            try:
                refused = self.desk.apply(library_files.taken_in(self.desk.home, library))
            except ChangeRefused as fault:
                self.told(str(fault))
            else:
                self.told(refused or f"Taken in from {path.name}: {library.said}. Ctrl+Z takes it back.")

        def failed(error: Exception) -> None:
            self.told(words_of(error, (HomeFileError,)))

        task = Task(library_files.read, {"data": data, "name": path.name}, LONGEST_READING)
        self.reading.apart(f"Reading {printable(path.name)}", task, use, failed)

    def _ask_write(self) -> None:
        name, chosen = QFileDialog.getSaveFileName(self.parent, "Write the library", "library.xlsx", formats.dialog_filter("library"))
        if name:
            self.write(formats.named("library", name, chosen))

    def write(self, path: Path) -> None:
        """The library as JSON or spreadsheet."""
        try:
            put(path, library_files.write(library_files.library_of(self.desk.home), path))
        except HomeFileError as fault:
            self.told(str(fault))
        else:
            self.told(f"Written: {path}")
