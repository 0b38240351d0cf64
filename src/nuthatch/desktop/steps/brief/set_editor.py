"""Edits a target set of one's own as a table of lines; the margins follow when a line is whole."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from pydantic import ValidationError
from PyQt6.QtCore import QStringListModel, Qt
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCompleter,
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QStyledItemDelegate,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from nuthatch.core.assess import result_kinds
from nuthatch.core.changes.changes import reason
from nuthatch.core.edits.target_lines import CONDITIONS, DWELLINGS, HEADS, SENSES, LineFault, TargetLine, from_lines, to_lines
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.desktop.steps.board import button
from nuthatch.desktop.steps.brief.own_sets import SetsBoard
from nuthatch.desktop.widgets.table_keys import leaves_table

NAMES = tuple(HEADS)
WIDTHS = (104, 112, 54, 88, 46, 64, 68, 68, 46, 84)


class _Suggest(QStyledItemDelegate):
    """Cells that take one of a list suggest it while typing."""

    def createEditor(self, parent: QWidget | None, option: Any, index: Any) -> QWidget | None:
        editor = super().createEditor(parent, option, index)
        name = NAMES[index.column()]
        words = {
            "result": [label for label, _ in result_kinds().values()],
            "sense": list(SENSES.values()),
            "dwellings": list(DWELLINGS),
            "when": list(CONDITIONS),
        }.get(name)
        if isinstance(editor, QLineEdit) and words:
            completer = QCompleter(editor)
            completer.setModel(QStringListModel(words, completer))
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            completer.setFilterMode(Qt.MatchFlag.MatchContains)
            editor.setCompleter(completer)
        return editor


class LinesTable(QTableWidget):
    """The lines, with block copy and paste."""

    def __init__(self, owner: SetEditor) -> None:
        super().__init__(0, len(NAMES))
        self._owner = owner
        self.setHorizontalHeaderLabels(list(HEADS.values()))
        self.setAccessibleName("Lines of the target set")
        self.setItemDelegate(_Suggest(self))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        self.setShowGrid(False)
        header, side = self.horizontalHeader(), self.verticalHeader()
        assert header is not None and side is not None
        side.setVisible(False)
        side.setDefaultSectionSize(25)
        for i, width in enumerate(WIDTHS):
            self.setColumnWidth(i, width)
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setMinimumSectionSize(40)
        header.setSectionResizeMode(len(WIDTHS), QHeaderView.ResizeMode.Stretch)

    def lines(self) -> list[TargetLine]:
        """The lines as they stand."""
        return [
            TargetLine(**{n: (item.text() if (item := self.item(r, c)) is not None else "") for c, n in enumerate(NAMES)})
            for r in range(self.rowCount())
        ]

    def show_lines(self, lines: tuple[TargetLine, ...]) -> None:
        """Show these lines and one empty one."""
        self.blockSignals(True)
        self.setRowCount(len(lines) + 1)
        for r, line in enumerate((*lines, TargetLine())):
            for c, f in enumerate(fields(TargetLine)):
                text = getattr(line, f.name) if r < len(lines) or f.name == "sense" else ""
                self.setItem(r, c, QTableWidgetItem(text))
        self.blockSignals(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if leaves_table(self, event):
            return
        clipboard = QGuiApplication.clipboard()
        picked = self.selectedIndexes()
        if event.matches(QKeySequence.StandardKey.Copy) and clipboard is not None and picked:
            rows = sorted({i.row() for i in picked})
            columns = sorted({i.column() for i in picked})
            clipboard.setText("\n".join("\t".join(self._text(r, c) for c in columns) for r in rows))
        elif event.matches(QKeySequence.StandardKey.Paste) and clipboard is not None:
            self.paste(clipboard.text())
        elif event.key() == Qt.Key.Key_Delete and picked:
            self.blockSignals(True)
            for index in picked:
                self.setItem(index.row(), index.column(), QTableWidgetItem(""))
            self.blockSignals(False)
            self._owner.changed()
        else:
            super().keyPressEvent(event)

    def _text(self, row: int, column: int) -> str:
        item = self.item(row, column)
        return item.text() if item is not None else ""

    def paste(self, text: str) -> None:
        """A block from a spreadsheet, from the current cell on."""
        grid = [line.split("\t") for line in text.replace("\r\n", "\n").rstrip("\n").split("\n")] if text.strip() else []
        top, left = max(self.currentRow(), 0), max(self.currentColumn(), 0)
        self.blockSignals(True)
        for r, cells in enumerate(grid):
            while top + r >= self.rowCount():
                self.insertRow(self.rowCount())
            for c, cell in enumerate(cells[: len(NAMES) - left]):
                self.setItem(top + r, left + c, QTableWidgetItem(cell.strip()))
        self.blockSignals(False)
        self._owner.changed()


class SetEditor(QFrame):
    """The editor's card below the choice of sets."""

    def __init__(self, board: SetsBoard) -> None:
        super().__init__()
        self.setObjectName("group")
        self._board = board
        self._chosen: TargetSet | None = None
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the target set")
        self.needed = QLineEdit()
        self.needed.setAccessibleName("Points needed")
        self.needed.setPlaceholderText("none")
        self.needed.setFixedWidth(70)
        self.table = LinesTable(self)
        self.table.itemChanged.connect(lambda _: self.changed())
        self.said = QLabel()
        self.said.setWordWrap(True)
        head = QHBoxLayout()
        for text, widget in (("Name", self.name), ("Points needed", self.needed)):
            label = QLabel(text)
            label.setObjectName("muted")
            label.setBuddy(widget)
            head.addWidget(label)
            head.addWidget(widget)
            widget.editingFinished.connect(self.changed)
        head.addWidget(button("", self._drop, "trash-2", "Remove the line"))
        head.addWidget(button("Done", self._close, tip="Close the editor; everything is kept"))
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addWidget(self.table, 1)
        column.addWidget(self.said)

    def open(self, chosen: TargetSet) -> None:
        """Edit this set."""
        self._chosen = chosen
        self._enable()
        self._show()
        self._say(
            "Lines with the same target are ways to meet it. Conditions make a limit hold only for such homes; the first that fits holds."
        )
        self.table.setFocus()
        self.table.setCurrentCell(0, 3)

    def _close(self) -> None:
        self._board.leave_editor()

    def _show(self) -> None:
        assert self._chosen is not None
        self.name.setText(self._chosen.name)
        self.needed.setText("" if self._chosen.points_needed is None else f"{self._chosen.points_needed:g}")
        self.table.show_lines(to_lines(self._chosen))

    def _say(self, text: str, wrong: bool = False) -> None:
        self.said.setText(text)
        self.said.setObjectName("wrong" if wrong else "muted")
        style = self.said.style()
        if style is not None:
            style.unpolish(self.said)
            style.polish(self.said)

    def refresh(self) -> None:
        """Follow the home: an undo may have brought back other limits."""
        if self._chosen is None:
            self._chosen = self._board.first_own()
            if self._chosen is not None:
                self._show()
            self._enable()
            return
        held = next((s for s in self._board.desk.home.target_sets if s.id == self._chosen.id), None)
        if held is None:
            self._chosen = None
            self.table.setRowCount(0)
            self._enable()
        elif held != self._chosen:
            self._chosen = held
            self._show()

    def _enable(self) -> None:
        """There is something to edit once a set of one's own is chosen."""
        for widget in (self.table, self.name, self.needed):
            widget.setEnabled(self._chosen is not None)
        if self._chosen is None:
            self._say("No set of your own is chosen. “Make my own …” beside the target sets starts one from a chosen set.")

    def changed(self) -> None:
        """Take the lines if they are whole; else say what is wrong, and the set stays as it was."""
        if self._chosen is None:
            return
        try:
            text = self.needed.text().strip()
            needed = read(text, "points") if text else None
            if isinstance(needed, Doubt):
                raise BadText(needed.question)
            draft = self._chosen.model_copy(update={"name": self.name.text().strip(), "points_needed": needed})
            made = from_lines(draft, self.table.lines())
        except (LineFault, BadText) as problem:
            self._say(f"Not taken yet: {problem}", True)
            return
        except ValueError as problem:
            self._say(f"Not taken yet: {reason(problem) if isinstance(problem, ValidationError) else problem}", True)
            return
        if made != self._chosen:
            self._chosen = made
            said = self._board.keep_set(made)
            self._say(said or f"Kept in {made.id}.json; the margins follow.", bool(said))
            if not self.table.rowCount() or self.table.lines()[-1].target:
                self.table.show_lines(to_lines(made))

    def _drop(self) -> None:
        row = self.table.currentRow()
        if row >= 0:
            self.table.removeRow(row)
            self.changed()
