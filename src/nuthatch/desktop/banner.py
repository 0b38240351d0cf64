"""The strip below the home bar: the home can only be read, or work of an earlier session waits for an answer."""

from __future__ import annotations

import contextlib

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMessageBox, QPushButton, QWidget

from nuthatch.core.files.autosave import Autosave, leave
from nuthatch.core.files.held import drop_session
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.desktop.shell import Shell


class Banner(QWidget):
    """`copy()` where a copy is to be saved; `answered()` where an answer was given."""

    copy = pyqtSignal()
    answered = pyqtSignal()

    def __init__(self, shell: Shell) -> None:
        super().__init__()
        self._shell = shell
        self._works: tuple[Autosave, ...] = ()
        self.setObjectName("banner")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.text = QLabel()
        self.text.setTextFormat(Qt.TextFormat.PlainText)
        self.text.setWordWrap(True)
        self.yes, self.no = QPushButton("Restore"), QPushButton("Leave")
        self.yes.clicked.connect(lambda _=False: self._accept())
        self.no.clicked.connect(lambda _=False: self._refuse())
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 5, 14, 5)
        row.addWidget(self.text, 1)
        row.addWidget(self.yes)
        row.addWidget(self.no)

    def look(self) -> None:
        """Offer work of earlier sessions that lies beside the file; until it is answered nothing overwrites or removes it."""
        document = self._shell.document
        works, faults = document.keeper.found()
        if faults:
            self._shell.say("The kept work of an earlier session cannot be read; it stays where it is", faults[0])
        self._works = tuple(w for w in works if w.home != document.home)
        for same in (w for w in works if w.home == document.home):  # saved, but ended before it could be cleared away
            with contextlib.suppress(OSError):
                same.file.unlink(missing_ok=True)
                drop_session(same.session)
        self.refresh()

    def refresh(self) -> None:
        """Show what there is to say; nothing takes no room."""
        works, reason = self._works, self._shell.document.read_only
        self.setVisible(bool(reason or works))
        more = f" · {len(works) - 1} more to answer after this" if len(works) > 1 else ""
        self.text.setText(
            f"{reason}. Save a copy to work on it." if reason else f"Not saved when Nuthatch ended: {works[0].words}{more}" if works else ""
        )
        self.yes.setText("Save a copy …" if reason else "Restore")
        self.no.setVisible(not reason)

    def _accept(self) -> None:
        """Restore the work, or save a copy of a home that can only be read."""
        if self._shell.document.read_only:
            self.copy.emit()
        elif self._works:
            work, *rest = self._works
            self._works = tuple(rest)
            self.answered.emit()
            self.refresh()
            self._shell.document.restore(work)

    def _refuse(self) -> None:
        """Leave the work of the earlier session: it is put aside and listed among the earlier versions, not deleted."""
        if not self._works:
            return
        work, *rest = self._works
        try:
            leave(work, self._shell.document.path)
        except HomeFileError as problem:
            QMessageBox.warning(self, "Not put aside", str(problem))
            return
        self._works = tuple(rest)
        self.answered.emit()
        self.refresh()
        self._shell.say("Left", "the work is still there, under Home, Earlier versions")
