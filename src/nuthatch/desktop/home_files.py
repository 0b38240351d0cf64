"""What a window does with files: open, save, earlier versions, new homes, the list for the visit."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMenu, QMessageBox, QWidget

from nuthatch.core.files.autosave import LEFT, Autosave, earlier, left_unsaved, readable
from nuthatch.core.files.held import held
from nuthatch.core.files.homefile import HomeFileError, read
from nuthatch.core.files.places import real
from nuthatch.core.files.save_doubt import SaveDoubt
from nuthatch.core.files.versions import versions
from nuthatch.core.library import Starter, demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.office import OfficeFile, from_starter, load_office, start_home
from nuthatch.desktop import settings
from nuthatch.desktop.document import Document
from nuthatch.desktop.shell import Shell

FILTER = "Nuthatch homes (*.nuthatch)"


def plain_name(name: str) -> str:
    """A home's name as a file name."""
    return "".join("-" if c in '/\\:*?"<>|' or ord(c) < 32 else c for c in name).strip(". ") or "home"


class HomeFiles(QObject):
    """What a window does with files. `changed()` when the open home stands otherwise to its file."""

    changed = pyqtSignal()

    def __init__(self, shell: Shell, window: QWidget) -> None:
        super().__init__(window)
        self._shell, self._window = shell, window

    @property
    def document(self) -> Document:
        return self._shell.document

    def confirm(self) -> bool:
        """Ask about unsaved changes; True where it is safe to go on."""
        if not self.document.session.dirty:
            return True
        answer = QMessageBox.question(
            self._window,
            "Unsaved changes",
            f"“{self.document.home.name}” has changes that are not saved.",
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel,
            QMessageBox.StandardButton.Save,
        )
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    # save

    def save(self) -> bool:
        """Save where the home came from, or ask."""
        if self.document.saves_to is not None:
            self.document.saves_to(self.document.home)
            self.document.session.saved()
            self._shell.say("Saved", "the starting values of the office profile")
            self.changed.emit()
            return True
        if self.document.path and not self.document.read_only:
            return self.save_to(self.document.path)
        return self.save_as()

    def save_as(self) -> bool:
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the home", f"{plain_name(self.document.home.name)}.nuthatch", FILTER)
        if not name:
            return False
        return self.save_to(Path(name if name.endswith(".nuthatch") else f"{name}.nuthatch"))

    def save_to(self, path: Path, agreed: frozenset[str] = frozenset()) -> bool:
        """Save; a fault is said and the old file stays; what the person should decide is asked."""
        try:
            self.document.save(path, agreed)
        except HomeFileError as problem:
            QMessageBox.warning(self._window, "Not saved", str(problem))
            return False
        except SaveDoubt as doubt:
            return self._decide(doubt, path, agreed)
        settings.save(settings.load().opened(path))
        self._shell.say("Saved", str(path))
        self.changed.emit()
        return True

    def _decide(self, doubt: SaveDoubt, path: Path, agreed: frozenset[str]) -> bool:
        """Ask what to do with a file that is not as it was; True where the home is safe."""
        box = QMessageBox(QMessageBox.Icon.Question, "Before saving", str(doubt), QMessageBox.StandardButton.Cancel, self._window)
        mine = {"changed": "Save mine over it", "gone": "Save it there again", "no home": "Save mine over it", "linked": "Save"}
        over = box.addButton(mine[doubt.what], QMessageBox.ButtonRole.DestructiveRole)
        other = box.addButton("Keep both: save under another name …", QMessageBox.ButtonRole.AcceptRole)
        theirs = box.addButton("Take theirs", QMessageBox.ButtonRole.ActionRole) if doubt.what == "changed" else None
        told = {"changed": "What is written over stays as an earlier version. Taking theirs leaves yours one undo away."}
        box.setInformativeText(told.get(doubt.what, ""))
        box.exec()
        chosen = box.clickedButton()
        if chosen is over:
            return self.save_to(path, agreed | {doubt.what})
        if chosen is other:
            return self.save_as()
        if theirs is not None and chosen is theirs:
            try:
                self.document.take_theirs()
            except HomeFileError as problem:
                QMessageBox.warning(self._window, "Not opened", str(problem))
                return False
            return True
        return False

    # open

    def open_dialog(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a home", "", FILTER)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> bool:
        """Open a home file; a fault is said and the present home stays."""
        if real(path) == self.document.path and not self.document.read_only:
            self._shell.go("home")
            return True
        try:
            content = read(path)
        except HomeFileError as problem:
            QMessageBox.warning(self._window, "Not opened", str(problem))
            return False
        if not self._shell.open(lambda: Document.of(content, path)):
            return False
        settings.save(settings.load().opened(path))
        return True

    def open_demo(self, key: str) -> None:
        self._shell.open(lambda: Document(demo_home(key)))

    def new(self) -> None:
        """A new home from the office profile."""
        office, problem = load_office()
        note = "New home", problem or "from the office profile"
        self._shell.open(lambda: Document(start_home(office.office), office.weather), "brief", note)

    def new_from(self, starter: Starter) -> None:
        """A new home from a starter home, within the office profile."""
        office, problem = load_office()
        home = from_starter(start_home(office.office), starter.home, "New home")
        note = "New home", problem or f"from “{starter.home.name}”, all assumed"
        self._shell.open(lambda: Document(home, office.weather), "brief", note)

    def new_like(self, other: Home, weather: bytes | None = None) -> None:
        """A new home like another, with the other's weather file: ask what is carried over."""
        from nuthatch.desktop.pages.new_like import NewLike

        dialog = NewLike(other, self._window)
        dialog.made.connect(lambda home: self._take_like(other, home, weather))
        dialog.open()

    def _take_like(self, other: Home, home: Home, weather: bytes | None) -> None:
        kept = weather if home.site.climate == other.site.climate else load_office()[0].weather
        note = "New home", "what was measured in the other home is not carried over"
        self._shell.open(lambda: Document(home, kept), "brief", note)

    def edit_start(self, office: OfficeFile, keep: Any) -> None:
        """Work on the starting values of the office profile as on a home."""

        def made() -> Document:
            document = Document(office.office.start, office.weather)
            document.saves_to = keep
            return document

        self._shell.open(made, "heat-power")

    # earlier work

    def list_versions(self, menu: QMenu) -> None:
        """The last versions of the file and the work that was left, newest first."""
        menu.clear()
        path = self.document.path
        for file, when in versions(path) if path else ():
            menu.addAction(f"as saved {when}", lambda file=file, when=when: self.open_version(file, when))
        for file in earlier(path, LEFT) if path else left_unsaved():
            work = readable(file)
            if work is not None:
                menu.addAction(f"left: {work.home.name}, work of {work.when}", lambda work=work: self.open_left(work))
        if menu.isEmpty():
            none = menu.addAction("none yet: the last three are kept when saving")
            if none is not None:
                none.setEnabled(False)

    def open_version(self, file: Path, when: str) -> None:
        """An earlier version as a home of its own; the present file stays."""
        try:
            content = read(file)
        except HomeFileError as problem:
            QMessageBox.warning(self._window, "Not opened", str(problem))
            return
        self._shell.open(lambda: Document.of(content, None), "", ("Earlier version", f"as saved {when}; save it under a name to keep it"))

    def open_left(self, work: Autosave) -> None:
        """Work that was left as a home of its own; the present file and the work stay."""
        evidence = {e.sha256: data for e in work.home.evidence if (data := held(e.sha256, work.session)) is not None}
        evidence = {**self.document.evidence, **evidence}
        ref = work.home.site.climate
        weather = held(ref.sha256, work.session) if ref is not None else None
        weather = weather or (self.document.weather.get(ref.sha256) if ref is not None else None)
        note = "Work that was left", "save it under a name to keep it"
        self._shell.open(lambda: Document(work.home, weather, None, evidence), "", note)

    # print

    def visit(self) -> None:
        """Show the list of what to collect on site, to print or save."""
        from nuthatch.desktop.pages.visit import VisitList

        assessment = self.document.assessment
        if assessment is not None:
            VisitList(assessment, load_office()[0].office.company, self._window).open()
