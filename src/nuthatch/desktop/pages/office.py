"""The office profile: company, logo, units, own library, and the starting values of new homes. Kept as it is changed."""

from __future__ import annotations

import contextlib
from html import escape
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QByteArray, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QListWidget,
    QMessageBox,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from nuthatch.core.assess import Snapshot
from nuthatch.core.changes.changes import SetValue
from nuthatch.core.dossier.logo import LogoFault, as_png
from nuthatch.core.edits.desk import Listing
from nuthatch.core.exchange.own_sets import own_sets, sets_folder
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.air_test import FanRing
from nuthatch.core.model.home import Home
from nuthatch.core.office import LARGEST_LOGO, LOGOS, Office, OfficeFile, export_office, import_office, is_logo, load_office, save_office
from nuthatch.core.questions import assumptions
from nuthatch.desktop.desk import Desk, Edit, NoFiles
from nuthatch.desktop.jobs import Jobs, words_of
from nuthatch.desktop.pages.library_row import LibraryFiles
from nuthatch.desktop.pages.office_lists import COLUMNS, LISTS, RINGS
from nuthatch.desktop.shell import Files, Shell
from nuthatch.desktop.steps.board import ListPanel, button
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import ListSpec


class OfficeDocument(NoFiles):
    """The office profile being worked on: written a moment after every change."""

    def __init__(self) -> None:
        self.file, self.problem = load_office()
        self.desk = Desk(self.file.office, self)
        self._timer = QTimer(self.desk)
        self._timer.setSingleShot(True)
        self._timer.setInterval(400)
        self._timer.timeout.connect(self.keep)

    @property
    def home(self) -> Office:
        found = self.desk.home
        assert isinstance(found, Office)
        return found

    @property
    def snapshot(self) -> Snapshot:
        return Snapshot(self.home, None)

    @property
    def content(self) -> OfficeFile:
        """The profile as it is now."""
        return OfficeFile(self.home, self.file.logo, self.file.weather)

    def follow(self, label: str, joined: bool) -> None:
        """The profile has changed."""
        self._timer.start()

    def keep(self) -> None:
        """Write the profile now."""
        self._timer.stop()
        if not self.desk.session.dirty:
            return
        try:
            save_office(self.content)
            self.desk.session.saved()
        except HomeFileError as problem:
            self.desk.failed.emit(str(problem))


class OfficePage(QWidget):
    """The page of the office profile."""

    message = pyqtSignal(str)

    def __init__(self, shell: Shell, files: Files) -> None:
        super().__init__()
        self._shell, self._files = shell, files
        self.setObjectName("board")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._outer = QVBoxLayout(self)
        self._outer.setContentsMargins(0, 0, 0, 0)
        self._body: QWidget | None = None
        self.document = OfficeDocument()
        self.desk = self.document.desk
        self._jobs = Jobs(self)
        self._build()

    def _build(self) -> None:
        body = QWidget()
        body.setObjectName("boardBody")
        column = QVBoxLayout(body)
        column.setContentsMargins(20, 14, 20, 14)
        column.setSpacing(9)
        self.said = QLabel("Your own defaults. A new home starts from them; homes already made stay as they are.")
        self.said.setObjectName("muted")
        self.said.setWordWrap(True)
        self.card = EditCard(self.desk)
        self.card.setMaximumWidth(620)
        self.card.refused.connect(self._say)
        self.files = LibraryFiles(self, self.desk, self.refresh)
        heading = QLabel("Own library")
        heading.setObjectName("muted")
        column.addLayout(self._head())
        column.addWidget(self.said)
        column.addLayout(self.files.headed(heading))
        self.sections = QListWidget()
        self.sections.setAccessibleName("Sections of the office profile")
        self.sections.setObjectName("contents")
        self.sections.setFixedWidth(190)
        self.stack = QStackedWidget()
        self.sections.currentRowChanged.connect(self.stack.setCurrentIndex)
        beside = QHBoxLayout()
        beside.setSpacing(16)
        beside.addWidget(self.sections)
        beside.addWidget(self.stack, 1)
        column.addLayout(beside, 1)
        self._section("Company", self.card, self._logo_row())
        self._section("A new home starts with", self._start_row())
        self._library()
        self.sections.setCurrentRow(0)
        if self._body is not None:
            self._outer.removeWidget(self._body)
            self._body.deleteLater()
        self._body = body
        self._outer.addWidget(body)
        self.desk.changed.connect(lambda text: self.refresh(text))
        self.desk.failed.connect(self._say)
        self.message.connect(self._say)

    def _head(self) -> QHBoxLayout:
        """Title, files in and out, the ways back."""
        title = QLabel("Office profile")
        title.setObjectName("homeName")
        head = QHBoxLayout()
        head.addWidget(title)
        head.addStretch(1)
        for text, do, tip in (
            ("Export …", self._ask_export, "Write the profile, with own target sets, as one file"),
            ("Import …", self._ask_import, "Take a profile from a file"),
            ("Homes", lambda: self._shell.go("homes"), "The register of homes (Ctrl H)"),
            ("Back to the home", lambda: self._shell.go("home"), "Back to the open home (Esc)"),
        ):
            head.addWidget(button(text, do, tip=tip))
        return head

    def _section(self, title: str, *parts: QWidget | QLayout, filled: bool = False) -> None:
        """One section: what stands beside the list when its line is current. filled: its first part takes the room there is."""
        body = QWidget()
        body.setObjectName("boardBody")
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 8, 0)
        for n, part in enumerate(parts):
            stretch = 1 if filled and n == 0 else 0
            column.addWidget(part, stretch) if isinstance(part, QWidget) else column.addLayout(part)
        if not filled:
            column.addStretch(1)
        area = QScrollArea()
        area.setObjectName("boardScroll")
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(body)
        self.stack.addWidget(area)
        self.sections.addItem(title)

    def show_section(self, title: str) -> None:
        """Put a section in front."""
        found = self.sections.findItems(title, Qt.MatchFlag.MatchExactly)
        if found:
            self.sections.setCurrentItem(found[0])

    def _start_row(self) -> QHBoxLayout:
        self.start = QLabel()
        self.start.setWordWrap(True)
        row = QHBoxLayout()
        row.addWidget(self.start, 1)
        row.addWidget(
            button("Work on the starting values", self.edit_start, tip="Target sets, climate, carriers, prices, build-ups of a new home")
        )
        return row

    def _library(self) -> None:
        """The office's own materials, build-ups, opening types and target sets."""
        self.lists = tuple(
            ListPanel(self, ListSpec(name, listing, COLUMNS[listing.field]), add=add)  # type: ignore[arg-type]
            for name, listing, add in LISTS
        )
        self.fans = self.lists[3]
        self.rings = ListPanel(self, ListSpec("Flow rings of the fan", self._rings, RINGS, sortable=False), add="Add a ring")  # type: ignore[arg-type]
        for made_in_homes in self.lists[-2:]:  # details and profiles of dossiers come from homes, where they are made
            made_in_homes.add_button.hide()
        for (name, _, _), panel in zip(LISTS, self.lists, strict=True):
            panel.card.setMaximumWidth(620)
            parts = [panel.headed(), panel.card]
            if panel is self.fans:
                self.rings.card.setMaximumWidth(620)
                parts += [self.rings.headed(), self.rings.card]
            self._section(name, *parts, filled=True)
        self.fans.table.selected.connect(lambda _: self._show_rings())
        self.sets = QLabel()
        self.sets.setWordWrap(True)
        self.sets.setObjectName("muted")
        self.sets.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._section("Target sets", self.sets)

    def _rings(self) -> Listing:
        """The rings of the fan that is current, of the first where none is."""
        known = [f.id for f in self.document.home.fans]
        chosen = self.fans.table.current_id()
        owner = chosen if chosen in known else known[0] if known else ""
        return Listing(owner, "rings", FanRing, f"{owner or 'fan'}.ring")

    def _show_rings(self) -> None:
        has = bool(self.document.home.fans)
        self.rings.refresh("Calibration of each ring: flow = coefficient · (fan pressure)^exponent." if has else "Add a fan first.")
        self.rings.add_button.setEnabled(has)

    def _logo_row(self) -> QHBoxLayout:
        self.logo = QLabel()
        self.logo.setFixedHeight(64)
        row = QHBoxLayout()
        row.addWidget(self.logo)
        row.addWidget(button("Logo …", self._ask_logo, tip="A picture for the dossier: PNG, JPEG or SVG"))
        row.addWidget(button("No logo", lambda: self.set_logo(None, ""), tip="Take the logo away"))
        row.addStretch(1)
        return row

    def apply(self, change: Edit) -> None:
        """Apply a change and say it if it was refused."""
        reason = self.desk.apply(change)
        if reason:
            self._say(reason)

    def _say(self, text: str) -> None:
        self.said.setText(text)

    def open(self) -> None:
        """Show the profile."""
        self.refresh(self.document.problem)
        self.card.focus_field("company")

    def present(self, snapshot: Snapshot) -> None:
        """Show the profile of a snapshot."""
        self.refresh()

    def refresh(self, said: str = "") -> None:
        """Show the profile as it is."""
        office: Office = self.document.home
        if said:
            self._say(said)
        self.card.show_part("office", "Company")
        self.lists[0].refresh("Materials of your own; they stand beside the shipped ones in Build-ups.")
        self.lists[1].refresh("Keep a build-up here with “Keep” on the Build-ups board.")
        self.lists[2].refresh("Keep an opening type here with “Keep” on the Openings board.")
        self.lists[3].refresh("Fans with their flow rings; a test takes a copy. Until then tests are prepared with the practice fan.")
        self.lists[4].refresh("Gauges with serial number and calibration; a test takes a copy.")
        self._show_rings()
        data, ending = self.document.file.logo, office.logo
        if data is None or not ending:
            self._show_logo(b"", "no logo")
        else:
            self._jobs.start(
                "logo", lambda job: as_png(data, ending), self._show_logo, lambda error: self._show_logo(b"", words_of(error, (LogoFault,)))
            )
        start: Home = office.start
        sets = ", ".join(s.name for s in start.target_sets) or "no target set"
        where = start.site.climate.name if start.site.climate else "no climate"
        carriers = ", ".join(c.name for c in start.carriers) or "no carriers"
        self.start.setText(
            f"<b>A new home starts with</b> {escape(sets)}; {escape(where)}; {escape(carriers)}; {len(start.buildups)} build-ups; {sum(1 for _ in assumptions(start))} assumed values."
        )
        own, faults = own_sets()
        lines = [f"Own target sets are kept in {sets_folder()}: " + (", ".join(s.name for s in own) or "none yet; make one in Brief") + "."]
        lines += [f"{f.path.name} cannot be used: {f.text}" for f in faults]
        self.sets.setText("\n".join(lines))

    # logo

    def _show_logo(self, png: bytes, instead: str = "no logo") -> None:
        pixmap = QPixmap()
        pixmap.loadFromData(QByteArray(png))
        self.logo.setText("" if not pixmap.isNull() else instead)
        self.logo.setPixmap(pixmap.scaledToHeight(60, Qt.TransformationMode.SmoothTransformation) if not pixmap.isNull() else pixmap)

    def _ask_logo(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Logo", "", "Pictures (*.png *.jpg *.jpeg *.svg)")
        if name:
            path = Path(name)
            try:
                self.set_logo(read_file(path, LARGEST_LOGO, "logo"), path.suffix.lower().lstrip(".").replace("jpeg", "jpg"))
            except OSError as problem:
                self._say(f"{printable(path.name)}: {why(problem)}")

    def set_logo(self, data: bytes | None, ending: str) -> None:
        """Take a logo, or none."""
        if data is not None and not is_logo(data, ending):
            self._say(f"This is no picture a dossier can show; use {', '.join(k.upper() for k in LOGOS)} of at most 5 MB.")
            return
        try:
            if data is not None:
                as_png(data, ending)
        except LogoFault as fault:
            self._say(f"This logo cannot be taken: {fault}.")
            return
        self.document.file = OfficeFile(self.document.home, data, self.document.file.weather)
        self.apply(SetValue(part="office", field="logo", value=ending))
        try:
            save_office(self.document.content)
            self.desk.session.saved()
        except HomeFileError as problem:
            self._say(str(problem))
        self.refresh()

    # start values, one file

    def edit_start(self) -> None:
        """Open what new homes start from as a home."""
        self.document.keep()
        self._files.edit_start(self.document.content, self.take_start)

    def take_start(self, home: Home) -> None:
        """The starting values as worked on in the window."""
        document = self._shell.document
        ref = home.site.climate
        weather = document.weather.get(ref.sha256) if ref is not None else None
        self.document.file = OfficeFile(self.document.home, self.document.file.logo, weather or self.document.file.weather)
        self.apply(SetValue(part="office", field="start", value=home))
        self.document.keep()

    def _ask_export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Export the profile", "office.nuthatch-office", "Office profile (*.nuthatch-office)")
        if name:
            self.export_to(Path(name))

    def export_to(self, path: Path) -> None:
        """Write the profile as one file."""
        try:
            export_office(self.document.content, path)
            self._say(f"Written: {path}")
        except HomeFileError as problem:
            self._say(str(problem))

    def _ask_import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Import a profile", "", "Office profile (*.nuthatch-office)")
        if name and (
            QMessageBox.question(
                self, "Import a profile", "The profile takes the place of the present one. Export the present one first to keep it."
            )
            == QMessageBox.StandardButton.Yes
        ):
            self.import_from(Path(name))

    def import_from(self, path: Path) -> None:
        """Take a profile from a file; a fault in it is said and nothing changes."""
        try:
            content = import_office(path)
        except HomeFileError as problem:
            self._say(str(problem))
            return
        self.document = OfficeDocument()
        self.desk = self.document.desk
        self.restyle()
        self._say(f"Imported: {content.office.company or path.name}")

    def restyle(self) -> None:
        """Made anew in the units and colours in use."""
        for signal in (self.desk.changed, self.desk.failed, self.message):
            with contextlib.suppress(TypeError):
                signal.disconnect()
        self._build()
        self.refresh()

    def keyPressEvent(self, event: Any) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._shell.go("home")
        else:
            super().keyPressEvent(event)

    def end(self) -> None:
        """The window closes."""
        self.document.keep()
