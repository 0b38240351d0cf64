"""Basis, source and evidence of the value whose field had the focus last, with the files attached to it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from nuthatch.core.dossier.proof import size_words
from nuthatch.core.edits.half_widths import half_read, half_words
from nuthatch.core.files.disk import printable
from nuthatch.core.model.home import EvidenceFile
from nuthatch.core.model.part import Given, specs
from nuthatch.core.reading import BadText
from nuthatch.desktop.attached_files import open_evidence
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.theme.style import icon

BASES = ("assumed", "declared", "calculated", "measured")


class EvidenceLine(QWidget):
    """The foot of an inspector card. `refused(text)` where a file cannot be taken."""

    refused = pyqtSignal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk, self._part, self._field = desk, "", ""
        self._name = QLabel()
        self._name.setObjectName("muted")
        self.basis_box = QComboBox()
        self.basis_box.setAccessibleName("Basis")
        for basis in BASES:
            self.basis_box.addItem(basis, basis)
        self._source = QLineEdit()
        self._source.setAccessibleName("Source")
        self._source.setPlaceholderText("source")
        self._proof = QLineEdit()
        self._proof.setAccessibleName("Evidence")
        self._proof.setPlaceholderText("evidence: a file, a photo, a reference")
        self._half = QLineEdit()
        self._half.setAccessibleName("Half-width")
        self._half.setPlaceholderText("±")
        self._half.setToolTip("How far it may lie to either side (95 %), as 10 % or in its unit; empty: by its basis")
        self._half.setMaximumWidth(72)
        self.files = QPushButton()
        self.files.setIcon(icon("paperclip"))
        self.files.clicked.connect(lambda _=False: self._menu())
        self._name.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._lay_out()
        self.basis_box.activated.connect(lambda _: self._write(basis=self.basis_box.currentData()))
        self._source.editingFinished.connect(lambda: self._write(source=self._source.text()))
        self._half.editingFinished.connect(self._half_typed)
        self._proof.editingFinished.connect(lambda: self._write(evidence=self._proof.text()))
        self.setVisible(False)

    def _lay_out(self) -> None:
        line = QFrame()
        line.setObjectName("rule")
        line.setFixedHeight(1)
        first, last = QHBoxLayout(), QHBoxLayout()
        first.addWidget(self._name, 1)
        first.addWidget(self.basis_box)
        last.addWidget(self._proof, 1)
        last.addWidget(self.files)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(3)
        column.addWidget(line)
        column.addLayout(first)
        middle = QHBoxLayout()
        middle.addWidget(self._source, 1)
        middle.addWidget(self._half)
        column.addLayout(middle)
        column.addLayout(last)

    def _given(self) -> Given | None:
        part = self._desk.part(self._part)
        value = getattr(part, self._field, None)
        return value if isinstance(value, Given) else None

    def follow(self, part: str, field: str) -> None:
        """Show the basis of this field from now on."""
        self._part, self._field = part, field
        self.refresh()

    def refresh(self) -> None:
        given = self._given()
        self.setVisible(given is not None)
        if given is None:
            return
        part = self._desk.part(self._part)
        assert part is not None
        self._name.setText(f"{specs(type(part))[self._field].label} is")
        self.basis_box.setCurrentIndex(BASES.index(given.basis.value))
        half = half_words(given, self._kind) if given.half is not None else ""
        for edit, text in ((self._source, given.source), (self._proof, given.evidence), (self._half, half)):
            if not edit.hasFocus():
                edit.setText(text)
        number = len(given.files or ())
        self.files.setText(str(number) if number else "")
        self.files.setVisible(self._desk.keeps_evidence)
        said = f"{number} attached file{'' if number == 1 else 's'}; attach or open" if number else "Attach a file as evidence"
        self.files.setToolTip(said)
        self.files.setAccessibleName(said)

    @property
    def _kind(self) -> str:
        part = self._desk.part(self._part)
        assert part is not None
        return specs(type(part))[self._field].kind

    def _half_typed(self) -> None:
        given = self._given()
        if given is None or self._half.text() == (half_words(given, self._kind) if given.half is not None else ""):
            return
        try:
            half = half_read(self._half.text(), given, self._kind)
        except BadText as problem:
            self.refused.emit(f"Half-width: {problem}")
            return
        self._write(half=half)

    def _write(self, **changed: object) -> None:
        reason = self._desk.proof(self._part, self._field, **changed)
        if reason:
            self.refused.emit(reason)

    def _menu(self) -> None:
        given = self._given()
        if given is None:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.addAction("Attach a file …", self._ask)
        held = {e.id: e for e in self._desk.home.evidence}
        for ident in given.files or ():
            if ident in held:
                file = held[ident]
                menu.addAction(f"Open {printable(file.name)} ({size_words(file.size)})", lambda file=file: self._open(file))
        for ident, file in held.items():
            if ident not in (given.files or ()):
                menu.addAction(f"{printable(file.name)} proves this too", lambda ident=ident, given=given: self._also(given, ident))
        menu.popup(self.files.mapToGlobal(self.files.rect().bottomLeft()))

    def _also(self, given: Given, ident: str) -> None:
        self._write(files=(*(given.files or ()), ident))

    def _open(self, file: EvidenceFile) -> None:
        reason = open_evidence(self._desk, file, self)
        if reason:
            self.refused.emit(reason)

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Attach evidence")
        if name:
            self.attach(Path(name))

    def attach(self, path: Path) -> None:
        """Attach a file to the value shown."""
        reason = self._desk.attach(path, self._part, self._field)
        if reason:
            self.refused.emit(reason)
