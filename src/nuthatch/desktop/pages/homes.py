"""Homes: the register of all homes in hand with their standing; what is not known yet is checked in the background."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QMessageBox,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from nuthatch.core import register
from nuthatch.core.files import formats
from nuthatch.core.files.homefile import HomeFileError, put, read, write
from nuthatch.core.library import demo_folder
from nuthatch.core.model.part import replace
from nuthatch.core.units import so_many
from nuthatch.desktop import settings
from nuthatch.desktop.jobs import Jobs, words_of
from nuthatch.desktop.pages.checking import Checking
from nuthatch.desktop.pages.earlier_work import EarlierWork
from nuthatch.desktop.pages.empty_register import EmptyRegister
from nuthatch.desktop.pages.homes_filter import HomesFilter
from nuthatch.desktop.pages.homes_table import HomesModel, HomesTable
from nuthatch.desktop.shell import Files, Shell
from nuthatch.desktop.steps.board import button


class HomesPage(QWidget):
    """The page of the register."""

    def __init__(self, shell: Shell, files: Files) -> None:
        super().__init__()
        self._shell, self._files = shell, files
        self.setObjectName("board")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.model = HomesModel()
        self.filter = HomesFilter()
        self.filter.setSourceModel(self.model)
        self.filter.setSortRole(Qt.ItemDataRole.UserRole)
        self.table = HomesTable(self.filter)
        self.table.opened.connect(self.open_current)
        self.checking = Checking(self)
        self.checking.found.connect(self.model.take)
        self.checking.moved.connect(self._progress)
        self.checking.ended.connect(self._ended)
        self._jobs = Jobs(self)
        self.still_open: list[Path] = []
        self.listing = False
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 14, 20, 14)
        column.setSpacing(10)
        column.addLayout(self._head())
        self.left = EarlierWork(shell, files)
        column.addWidget(self.left)
        column.addLayout(self._filters())
        self.empty = EmptyRegister(lambda: shell.go("new"), self.ask_folder, lambda: self.add_folder(demo_folder()))
        column.addWidget(self.empty, 1)
        column.addWidget(self.table, 1)
        column.addLayout(self._foot())
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(150)
        self._later.timeout.connect(self._choices)

    def _head(self) -> QHBoxLayout:
        title = QLabel("Homes")
        title.setObjectName("homeName")
        self.summary = QLabel()
        self.summary.setObjectName("muted")
        row = QHBoxLayout()
        row.addWidget(title)
        row.addWidget(self.summary, 1)
        for text, do, tip in (
            ("New home …", lambda: self._shell.go("new"), "Empty, from a starter home, or like another (Ctrl N)"),
            ("Office profile", lambda: self._shell.go("office"), "Your own defaults (Ctrl Shift O)"),
            ("Folders …", self._folders_menu, "Choose the folders listed here"),
        ):
            made = button(text, do, tip=tip)
            row.addWidget(made)
            if text.startswith("Folders"):
                self.folders_button = made
        self.back = button("Back to the home", lambda: self._shell.go("home"), tip="Back to the open home (Esc)")
        row.addWidget(self.back)
        return row

    def _filters(self) -> QHBoxLayout:
        self.search = QLineEdit()
        self.search.setPlaceholderText("search by name, client, plot, file")
        self.search.setAccessibleName("Search homes")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda text: self._set("text", text))
        row = QHBoxLayout()
        row.addWidget(self.search, 2)
        self._over_rows: list[QWidget] = [self.search]
        self.boxes: dict[str, QComboBox] = {}
        for key, name in (("client", "all clients"), ("chosen_set", "all target sets"), ("standing", "any standing")):
            box = QComboBox()
            box.setAccessibleName(f"Show {name}")
            box.addItem(name, "")
            box.setMinimumContentsLength(12)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.currentIndexChanged.connect(lambda _, k=key, b=box: self._set(k, b.currentData() or ""))
            self.boxes[key] = box
            self._over_rows.append(box)
            row.addWidget(box, 1)
        for key, name in register.STANDINGS.items():
            if key:
                self.boxes["standing"].addItem(name, key)
        return row

    def _foot(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.open_button = button("Open", self.open_current, "folder-open", "Open the home (Enter)")
        self.like_button = button("New like this …", self.like_this, "plus", "A new home like this one")
        self.copy_button = button("Duplicate", self.duplicate, "copy", "Duplicate the home file")
        self.out_button = button("Table out …", self._ask_out, tip="Write the table as CSV or spreadsheet")
        for made in (self.open_button, self.like_button, self.copy_button, self.out_button):
            row.addWidget(made)
            self._over_rows.append(made)
        row.addStretch(1)
        self.bar = QProgressBar()
        self.bar.setAccessibleName("Homes checked")
        self.bar.setFixedWidth(220)
        self.bar.setFormat("%v of %m checked")
        self.stop = QPushButton("Cancel")
        self.stop.setAccessibleName("Cancel or go on checking")
        self.stop.clicked.connect(lambda _=False: self._stop_or_go())
        row.addWidget(self.bar)
        row.addWidget(self.stop)
        self.bar.setVisible(False)
        self.stop.setVisible(False)
        return row

    # listing

    def look(self) -> None:
        """List the folders anew; what is not known yet is checked."""
        folders = [Path(f) for f in settings.load().folders]
        self.left.look()
        self.back.setVisible(self._shell.document.assessment is not None)
        if self.listing:
            return
        self.listing = True
        self._jobs.start("listing", lambda job: register.of_folders([f for f in folders if f.exists()]), self._listed, self._not_listed)

    def _not_listed(self, error: Exception) -> None:
        self.listing = False
        self.summary.setText(words_of(error, (OSError,)))

    def _listed(self, found: tuple[list[register.Row], list[Path]]) -> None:
        self.listing = False
        rows, self.still_open = found
        self.model.here = str(self._shell.document.path or "")
        self.model.show(rows)
        self.table.fit()
        self._choices()
        focused = QApplication.focusWidget() or self
        gone = (self.empty,) if rows else (self.table, *self._over_rows)
        lost = any(w is focused or w.isAncestorOf(focused) for w in gone)
        self.empty.setVisible(not rows)
        for widget in (self.table, *self._over_rows):
            widget.setVisible(bool(rows))
        if lost:  # the focus would vanish with what is hidden
            (self.table if rows else self.empty.first).setFocus()
        self._go()

    def _go(self) -> None:
        if self.still_open:
            self.bar.setRange(0, len(self.still_open))
            self.bar.setValue(0)
            self.bar.setVisible(True)
            self.stop.setText("Cancel")
            self.stop.setVisible(True)
            self.checking.start(self.still_open)

    def _stop_or_go(self) -> None:
        if self.checking.running:
            self.checking.cancel()
        else:
            self._go()

    def _progress(self, done: int) -> None:
        self.bar.setValue(done)
        self._later.start()

    def _ended(self, left: list[Path]) -> None:
        self.still_open = left
        self.bar.setVisible(bool(left))
        self.stop.setVisible(bool(left))
        self.stop.setText("Check the rest")
        if self.stop.hasFocus() and not left:
            self.table.setFocus()
        self._choices()

    @property
    def settled(self) -> bool:
        """Whether nothing is listed or checked any more."""
        return not self.listing and not self.checking.running

    def _choices(self) -> None:
        """Clients and target sets to filter by, and the sums."""
        rows = self.model.rows
        for key, names in (("client", {r.client for r in rows}), ("chosen_set", {s for r in rows for s in r.sets})):
            box = self.boxes[key]
            wanted = sorted(n for n in names if n)
            if [box.itemData(i) for i in range(1, box.count())] != wanted:
                kept = box.currentData()
                box.blockSignals(True)
                while box.count() > 1:
                    box.removeItem(1)
                for name in wanted:
                    box.addItem(name, name)
                box.setCurrentIndex(max(box.findData(kept), 0))
                box.blockSignals(False)
        counts = {k: sum(1 for r in rows if r.standing == k) for k in register.STANDINGS}
        self.summary.setText(
            " · ".join([so_many(len(rows), "home"), *(f"{n} {register.STANDINGS[k]}" for k, n in counts.items() if n)]) if rows else ""
        )

    def _set(self, key: str, value: str) -> None:
        setattr(self.filter, key, value)
        self.filter.invalidateFilter()

    # folders

    def _folders_menu(self) -> None:
        menu = QMenu(self)
        menu.addAction("Add a folder …", self.ask_folder)
        menu.addAction("Add the demo homes", lambda: self.add_folder(demo_folder()))
        folders = settings.load().folders
        if folders:
            menu.addSeparator()
        for folder in folders:
            menu.addAction(f"Take away {folder}", lambda folder=folder: self._drop_folder(folder))
        menu.popup(self.folders_button.mapToGlobal(self.folders_button.rect().bottomLeft()))

    def ask_folder(self) -> None:
        """Choose a folder to list."""
        name = QFileDialog.getExistingDirectory(self, "A folder with homes")
        if name:
            self.add_folder(Path(name))

    def add_folder(self, folder: Path) -> None:
        """List a folder from now on."""
        kept = settings.load().folders
        if str(folder) not in kept:
            settings.change(folders=(*kept, str(folder)))
        self.look()

    def _drop_folder(self, folder: str) -> None:
        settings.change(folders=tuple(f for f in settings.load().folders if f != folder))
        self.look()

    # rows

    def current(self) -> register.Row | None:
        """The row the table stands on."""
        index = self.filter.mapToSource(self.table.currentIndex())
        return self.model.rows[index.row()] if index.isValid() else None

    def open_current(self) -> None:
        row = self.current()
        if row is not None and row.fault:
            QMessageBox.warning(self, "Not opened", f"{row.path}: {row.fault}")
        elif row is not None:
            self._files.open_path(Path(row.path))

    def like_this(self) -> None:
        """A new home from the selected one."""
        row = self.current()
        if row is not None and not row.fault:
            try:
                content = read(Path(row.path))
                self._files.new_like(content.home, content.weather)
            except HomeFileError as problem:
                QMessageBox.warning(self, "Not opened", str(problem))

    def duplicate(self) -> None:
        """A copy of the home file beside it, under a name of its own."""
        row = self.current()
        if row is None or row.fault:
            return
        path = Path(row.path)
        number = 1
        while (new := path.with_name(f"{path.stem}-copy{'' if number == 1 else f'-{number}'}.nuthatch")).exists():
            number += 1
        try:
            content = read(path)
            write(new, type(content)(replace(content.home, name=f"{content.home.name}, copy"), content.weather, content.evidence))
        except HomeFileError as problem:
            QMessageBox.warning(self, "Not duplicated", str(problem))
            return
        self.look()

    # out

    def _ask_out(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the table", "homes.xlsx", formats.dialog_filter("table of homes"))
        if name:
            self.write_table(Path(name))

    def shown_rows(self) -> list[register.Row]:
        """The rows as filtered and sorted."""
        return [self.model.rows[self.filter.mapToSource(self.filter.index(i, 0)).row()] for i in range(self.filter.rowCount())]

    def write_table(self, path: Path) -> None:
        """The table as shown, as CSV or spreadsheet."""
        rows = self.shown_rows()
        try:
            put(path, formats.writer("table of homes", path)(rows))
        except HomeFileError as problem:
            QMessageBox.warning(self, "Not written", str(problem))
            return
        self.summary.setText(f"{so_many(len(rows), 'home')} written to {path}")

    def restyle(self) -> None:
        """Texts and colours follow the units and the theme in use."""
        self.model.show(self.model.rows)

    def keyPressEvent(self, event: Any) -> None:
        if event.key() == Qt.Key.Key_Escape and self.back.isVisible():
            self._shell.go("home")
        else:
            super().keyPressEvent(event)

    def end(self) -> None:
        """The window closes."""
        self.checking.cancel()
