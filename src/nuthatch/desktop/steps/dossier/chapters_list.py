"""The chapters of the dossier: which are in, in which order, under which heading; made up by a profile, kept as an own one."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QComboBox, QHeaderView, QInputDialog, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from nuthatch.core.dossier.chapters import CHAPTERS
from nuthatch.core.dossier.makeup import as_profile, chapters_of, made_for, profiles, rearranged
from nuthatch.core.model.dossier import Chapter, DossierProfile
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.office import OfficeFile, load_office, save_office
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.steps.board import button
from nuthatch.desktop.widgets.workspace import row_of

OWN = "as arranged here"


class ChaptersList(QWidget):
    """`refused(why)`; `chosen(chapter key)` when a row becomes current."""

    refused = pyqtSignal(str)
    chosen = pyqtSignal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.table = QTableWidget(0, 3)
        self.table.setAccessibleName("Chapters of the dossier")
        self.table.setHorizontalHeaderLabels(["Chapter", "Heading", "What it says"])
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setShowGrid(False)
        self.table.setTabKeyNavigation(False)
        head, side = self.table.horizontalHeader(), self.table.verticalHeader()
        assert head is not None and side is not None
        head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        head.setHighlightSections(False)
        head.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        self.table.setColumnWidth(0, 172)
        self.table.setColumnWidth(1, 150)
        side.setVisible(False)
        side.setDefaultSectionSize(24)
        self.table.itemChanged.connect(self._edited)
        self.table.itemSelectionChanged.connect(self._moved)
        self.profile = QComboBox()
        self.profile.setAccessibleName("Made for")
        self.profile.setMinimumWidth(150)
        self.profile.activated.connect(self._take)
        self.bar = row_of(
            self.profile,
            button("Keep …", self._keep, "", "Keep chapters, paper and units as a profile of the office"),
            button("", lambda: self.shift(-1), "arrow-up", "Move the chapter up"),
            button("", lambda: self.shift(1), "arrow-down", "Move the chapter down"),
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.table)
        self._filling = False

    @property
    def home(self) -> Home:
        found: Home = self.desk.home
        return found

    def rows(self) -> list[Chapter]:
        """Every chapter in the order of the list: those of the dossier, then those that are not in it."""
        own = [c for c in chapters_of(self.home) if c.chapter in CHAPTERS]
        there = {c.chapter for c in own}
        return [*own, *(Chapter(id=f"chapter-{key}", chapter=key, shown=False) for key in CHAPTERS if key not in there)]

    def refresh(self) -> None:
        """Show the chapters as they are by now."""
        self._filling = True
        kept, rows = self.current(), self.rows()
        self.table.setRowCount(len(rows))
        for r, c in enumerate(rows):
            kind = CHAPTERS[c.chapter]
            first, heading, about = QTableWidgetItem(kind.title), QTableWidgetItem(c.name), QTableWidgetItem(kind.about)
            first.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable)
            first.setCheckState(Qt.CheckState.Checked if c.shown else Qt.CheckState.Unchecked)
            first.setData(Qt.ItemDataRole.UserRole, c.chapter)
            about.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
            about.setToolTip(kind.about)
            heading.setToolTip("Another heading; empty: its own")
            for n, item in enumerate((first, heading, about)):
                self.table.setItem(r, n, item)
        self.select(kept)
        self._profiles()
        self._filling = False

    def current(self) -> str:
        """The chapter whose row is current."""
        item = self.table.item(self.table.currentRow(), 0) if self.table.currentRow() >= 0 else None
        return str(item.data(Qt.ItemDataRole.UserRole)) if item is not None else ""

    def select(self, key: str) -> None:
        """Make the row of a chapter current."""
        for r in range(self.table.rowCount()):
            item = self.table.item(r, 0)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == key:
                self.table.setCurrentCell(r, 0)

    def _profiles(self) -> None:
        """The profiles there are; which one the home's make-up is."""
        known = [*profiles(), *load_office()[0].office.dossiers]
        plan, chapters = self.home.dossier, chapters_of(self.home)
        same = next((p for p in known if p.chapters == chapters and p.name == plan.profile), None)
        self.profile.clear()
        if same is None:
            self.profile.addItem(f"{plan.profile}, {OWN}", None)
        for p in known:
            self.profile.addItem(p.name, p)
            self.profile.setItemData(self.profile.count() - 1, p.about, Qt.ItemDataRole.ToolTipRole)
        self.profile.setCurrentIndex(known.index(same) if same is not None else 0)

    def _take(self, index: int) -> None:
        found = self.profile.itemData(index)
        if isinstance(found, DossierProfile):
            self._apply(lambda: made_for(self.home, found))

    def _keep(self) -> None:
        name, agreed = QInputDialog.getText(self, "Keep as a profile", "Name of the profile")
        if agreed and name.strip():
            self.keep(name.strip())

    def keep(self, name: str) -> None:
        """Keep the make-up as a profile of the office; one of the same name is replaced."""
        file = load_office()[0]
        others = tuple(p for p in file.office.dossiers if p.name != name)
        number = next(n for n in range(1, len(others) + 2) if f"dossier-{n}" not in {p.id for p in others})
        made = as_profile(self.home.dossier, f"dossier-{number}", name, tuple(self.rows()))
        save_office(OfficeFile(replace(file.office, dossiers=(*others, made)), file.logo, file.weather, file.sets))
        self._apply(lambda: made_for(self.home, made))

    def shift(self, step: int) -> None:
        """Move the current chapter."""
        rows, at = self.rows(), self.table.currentRow()
        if 0 <= at < len(rows) and 0 <= at + step < len(rows):
            rows[at], rows[at + step] = rows[at + step], rows[at]
            self._apply(lambda: rearranged(self.home, rows))

    def _edited(self, item: QTableWidgetItem) -> None:
        if self._filling:
            return
        rows = self.rows()
        row = rows[item.row()]
        if item.column() == 0:
            rows[item.row()] = replace(row, shown=item.checkState() == Qt.CheckState.Checked)
        elif item.column() == 1:
            rows[item.row()] = replace(row, name=item.text().strip())
        if rows[item.row()] != row:
            self._apply(lambda: rearranged(self.home, rows))

    def _moved(self) -> None:
        if not self._filling and self.current():
            self.chosen.emit(self.current())

    def _apply(self, change: Callable[[], object]) -> None:
        reason = self.desk.apply(change)  # type: ignore[arg-type]
        if reason:
            self.refused.emit(reason)
