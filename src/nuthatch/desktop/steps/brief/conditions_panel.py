"""What the chosen target sets fix before they judge: read for all of them, edited for one's own."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QStringListModel, Qt
from PyQt6.QtWidgets import (
    QCompleter,
    QHeaderView,
    QLabel,
    QLineEdit,
    QStyledItemDelegate,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.targets.conditions import from_rows, labels, to_rows
from nuthatch.desktop.steps.brief.own_sets import SetsBoard

HEADS = ("Target set", "What it fixes", "Value", "From")


class _Suggest(QStyledItemDelegate):
    """The cell of what is fixed suggests what can be."""

    def createEditor(self, parent: QWidget | None, option: Any, index: Any) -> QWidget | None:
        editor = super().createEditor(parent, option, index)
        if isinstance(editor, QLineEdit) and index.column() == 1:
            completer = QCompleter(editor)
            completer.setModel(QStringListModel(list(labels()), completer))
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            completer.setFilterMode(Qt.MatchFlag.MatchContains)
            editor.setCompleter(completer)
        return editor


class ConditionsPanel(QWidget):
    """One table over all chosen sets; the rows of an own set can be typed into, with an empty one below them."""

    def __init__(self, board: SetsBoard) -> None:
        super().__init__()
        self._board = board
        self._shown: tuple[object, ...] = ()
        self.said = QLabel()
        self.said.setObjectName("muted")
        self.said.setWordWrap(True)
        self.table = QTableWidget(0, len(HEADS))
        self.table.setAccessibleName("Conditions of the target sets")
        self.table.setHorizontalHeaderLabels(list(HEADS))
        self.table.setItemDelegate(_Suggest(self.table))
        self.table.setShowGrid(False)
        header, side = self.table.horizontalHeader(), self.table.verticalHeader()
        assert header is not None and side is not None
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        for column, width in ((0, 130), (2, 120), (3, 150)):
            self.table.setColumnWidth(column, width)
        side.setVisible(False)
        side.setDefaultSectionSize(24)
        self.table.itemChanged.connect(lambda _: self._changed())
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(4)
        whole.addWidget(self.said)
        whole.addWidget(self.table, 1)

    def refresh(self) -> None:
        """Show what the home's sets fix; a row being typed stays."""
        sets, own = self._board.home.target_sets, self._board.own
        shown = (tuple((s.id, to_rows(s)) for s in sets), tuple(own))
        if shown == self._shown:
            return
        self._shown = shown
        self._say(
            "The margins show the home with these; boards show it as designed. " + ("" if own else "A set of your own can fix others.")
        )
        self.table.blockSignals(True)
        rows = [(s, row) for s in sets for row in (*to_rows(s), *((("", "", ""),) if s.id in own else ()))]
        self.table.setRowCount(len(rows))
        for r, (chosen, row) in enumerate(rows):
            for c, text in enumerate((chosen.name, *row)):
                item = QTableWidgetItem(text)
                item.setData(Qt.ItemDataRole.UserRole, chosen.id)
                if c == 0 or chosen.id not in own:
                    item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
                item.setToolTip(text)
                self.table.setItem(r, c, item)
        self.table.blockSignals(False)

    def _text(self, row: int, column: int) -> str:
        item = self.table.item(row, column)
        return item.text() if item is not None else ""

    def _changed(self) -> None:
        """Take the rows of an own set if they are whole; else say what is wrong, and the set stays as it was."""
        chosen: TargetSet | None = self._board.first_own()
        if chosen is None:
            return
        mine = [
            r
            for r in range(self.table.rowCount())
            if (item := self.table.item(r, 0)) is not None and item.data(Qt.ItemDataRole.UserRole) == chosen.id
        ]
        try:
            made = from_rows(chosen, [(self._text(r, 1), self._text(r, 2), self._text(r, 3)) for r in mine])
        except ValueError as problem:
            self._say(f"Not taken yet: {problem}", True)
            return
        if made != chosen:
            said = self._board.keep_set(made)
            self.refresh()
            self._say(said or f"Kept in {made.id}.json; the margins follow.", bool(said))

    def _say(self, text: str, wrong: bool = False) -> None:
        self.said.setText(text)
        self.said.setObjectName("wrong" if wrong else "muted")
        style = self.said.style()
        if style is not None:
            style.unpolish(self.said)
            style.polish(self.said)
