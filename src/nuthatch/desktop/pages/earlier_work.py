"""Work of an earlier session that was not saved: offered above the register, kept until it is answered."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from nuthatch.core.files.autosave import Autosave, leave, left_behind, waiting
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.files.lock import locked_by
from nuthatch.core.office import load_office, start_home
from nuthatch.desktop import settings
from nuthatch.desktop.document import Document
from nuthatch.desktop.shell import Files, Shell
from nuthatch.desktop.steps.board import button


class EarlierWork(QWidget):
    """A strip for each piece of kept work."""

    def __init__(self, shell: Shell, files: Files) -> None:
        super().__init__()
        self._shell, self._files = shell, files
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)

    def count(self) -> int:
        """How many pieces are offered."""
        return self._column.count()

    def look(self) -> None:
        """Offer what there is now."""
        while self._column.count():
            item = self._column.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()
        for path in (Path(p) for p in settings.load().recent):
            if path != self._shell.document.path and path.exists() and not locked_by(path):
                work = waiting(path)
                if work is not None:
                    said = f"Not saved when Nuthatch ended: {work.words}"
                    self._strip(said, ("Open", partial(self._files.open_path, path)))
        for kept in left_behind():
            said = f"Never saved when Nuthatch ended: {kept.words}"
            self._strip(said, ("Restore", partial(self.restore, kept)), ("Leave", partial(self._leave, kept)))

    def _strip(self, said: str, *buttons: tuple[str, Callable[[], object]]) -> None:
        """A line about work of an earlier session."""
        strip = QWidget()
        strip.setObjectName("banner")
        strip.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(strip)
        row.setContentsMargins(12, 5, 8, 5)
        label = QLabel(said)
        label.setTextFormat(Qt.TextFormat.PlainText)
        label.setWordWrap(True)
        row.addWidget(label, 1)
        for text, do in buttons:
            row.addWidget(button(text, do))
        self._column.addWidget(strip)

    def restore(self, kept: Autosave) -> None:
        """Open work that was never saved."""

        def made() -> Document:
            document = Document(start_home(load_office()[0].office))
            document.restore(kept)
            return document

        if self._shell.open(made, "", ("Restored", kept.words)):
            self._shell.document.keeper.keep()

    def _leave(self, kept: Autosave) -> None:
        try:
            leave(kept, None)
        except HomeFileError as problem:
            self._shell.say(str(problem))
        self.look()
