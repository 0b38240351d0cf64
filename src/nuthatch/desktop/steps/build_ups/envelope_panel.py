"""Starter envelopes on the board: chosen by structure, period and climate, looked at face by face, laid over the home."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from nuthatch.core.changes.changes import ChangeRefused
from nuthatch.core.edits.fabric_edits import enveloped, preview, roofs_of
from nuthatch.core.fabric import envelopes
from nuthatch.core.fabric.envelopes import Envelope
from nuthatch.core.units import show, unit_of
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.widgets.read_table import ReadTable


class EnvelopePanel(QWidget):
    """Structure, period, climate; what would change; a button to lay it over."""

    def __init__(self, board: Board) -> None:
        super().__init__()
        self.board = board
        self.structure, self.period, self.climate = QComboBox(), QComboBox(), QComboBox()
        for box, name in ((self.structure, "Structure"), (self.period, "Period"), (self.climate, "Climate")):
            box.setAccessibleName(f"Starter envelope: {name.lower()}")
        self.structure.addItems(envelopes.structures())
        self.climate.addItems(envelopes.climates())
        self._periods()
        self._zone = ""
        self.structure.currentIndexChanged.connect(lambda _: self._periods())
        for box in (self.structure, self.period, self.climate):
            box.currentIndexChanged.connect(lambda _: self.refresh())
        self.apply_button = button(
            "Lay it over this home", self.lay, "", "Take these build-ups and types where nothing was entered or measured"
        )
        self.bar = QHBoxLayout()
        self.bar.setSpacing(4)
        for widget in (self.structure, self.period, self.climate, self.apply_button):
            self.bar.addWidget(widget)
        self.note = QLabel()
        self.note.setObjectName("muted")
        self.note.setWordWrap(True)
        self.table = ReadTable(
            "What the starter envelope would change", ("Face or opening", "Borders on", "U now", "U then", ""), (0, 104, 62, 62, 132)
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.note)
        column.addWidget(self.table, 1)

    def _periods(self) -> None:
        kept = self.period.currentText()
        self.period.blockSignals(True)
        self.period.clear()
        self.period.addItems(envelopes.periods(self.structure.currentText()))
        self.period.setCurrentText(kept if kept else "current code")
        self.period.blockSignals(False)

    def chosen(self) -> Envelope:
        """The envelope looked at."""
        return envelopes.envelope(self.structure.currentText(), self.period.currentText(), self.climate.currentText())

    def refresh(self) -> None:
        """Show what would change; nothing is worked out while the list is not in front."""
        a = self.board.assessment
        if a is None or not self.isVisible():
            return
        if a.zone != self._zone:
            self._zone = a.zone
            self.climate.blockSignals(True)
            self.climate.setCurrentText(envelopes.climate_of(a.zone))
            self.climate.blockSignals(False)
        offers = preview(a, self.chosen())
        rows = []
        for o in offers:
            says = "stays" if o.kept else "as it is" if o.now == o.then else "new"
            rows.append((o.id, (o.name, o.borders, *(show(v, "u") if v is not None else "?" for v in (o.now, o.then)), says)))
        self.table.show_rows(rows, (2, 3))
        changed = sum(1 for o in offers if not o.kept and o.now != o.then)
        stays = sum(1 for o in offers if o.kept)
        self.note.setText(
            f"{changed} of {len(offers)} would change, {stays} stay because somebody entered or measured them. U in {unit_of('u')}, every value assumed and marked so."
            if offers
            else "No faces yet: the envelope is there for the shape when it is drawn."
        )
        self.apply_button.setEnabled(True)

    def showEvent(self, event: object) -> None:
        self.refresh()

    def lay(self) -> None:
        """Lay the envelope over the home, as one step."""
        try:
            a = self.board.assessment
            change = enveloped(self.board.home, self.chosen(), roofs_of(a) if a is not None else ())
        except ChangeRefused as why:
            self.board.message.emit(str(why))
            return
        self.board.apply(change)
        self.board.present(self.board.desk.snapshot)
