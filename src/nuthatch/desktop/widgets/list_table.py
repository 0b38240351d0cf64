"""The list of a step: a table over the parts of one list of the home, with the habits of a spreadsheet."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView

from nuthatch.core.units import marked
from nuthatch.desktop.widgets.parts_model import PartsModel
from nuthatch.desktop.widgets.pasting import Pasted, block_of, paste_into
from nuthatch.desktop.widgets.table_keys import leaves_table

MARKED = 100
"""Width of a column of feet, inches and sixteenths."""
LOOKED_AT = 60
"""So many rows of a list say how wide its amounts are."""
NAME = 104
"""Least width of the column of names."""


class ListTable(QTableView):
    """The table; `selected(id)` when the current row changes, `aside(rows)` of a paste that could not be read."""

    selected = pyqtSignal(str)
    aside = pyqtSignal(object)

    def __init__(self, model: PartsModel) -> None:
        super().__init__()
        self.parts = model
        model.setParent(self)  # lives as long as the table that shows it
        self.setModel(model)
        self.setAccessibleName(model.spec.name)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        self.setEditTriggers(
            QAbstractItemView.EditTrigger.AnyKeyPressed
            | QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.EditKeyPressed
        )
        self.setShowGrid(False)
        self.setTabKeyNavigation(True)
        self.setWordWrap(False)
        header, side = self.horizontalHeader(), self.verticalHeader()
        assert header is not None and side is not None
        header.setHighlightSections(False)
        header.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        self.setSortingEnabled(model.spec.sortable)
        header.setMinimumSectionSize(40)
        for i, column in enumerate(model.spec.columns):
            stretch = not column.width
            header.setSectionResizeMode(i, QHeaderView.ResizeMode.Stretch if stretch else QHeaderView.ResizeMode.Interactive)
            if column.width:
                needs = max(
                    header.fontMetrics().horizontalAdvance(t) for t in str(model.headerData(i, Qt.Orientation.Horizontal)).split("\n")
                )
                spec = model.field_specs.get(column.field)
                marks = MARKED if spec is not None and marked(spec.kind) else 0
                self.setColumnWidth(i, max(column.width, needs + 14, marks))
        side.setDefaultSectionSize(25)
        side.setVisible(False)
        self._kept, self.from_row = "", 0
        model.modelAboutToBeReset.connect(self._keep)
        model.modelReset.connect(lambda: self.select(self._kept))
        selection = self.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._moved)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The column of names takes what is left; where that is too little it keeps what a name needs, and the list scrolls."""
        super().resizeEvent(event)
        header, view = self.horizontalHeader(), self.viewport()
        wide = next((i for i, c in enumerate(self.parts.spec.columns) if not c.width), -1)
        if header is None or view is None or wide < 0:
            return
        rest = sum(header.sectionSize(i) for i in range(header.count()) if i != wide)
        narrow = view.width() - rest < NAME
        mode = QHeaderView.ResizeMode.Interactive if narrow else QHeaderView.ResizeMode.Stretch
        if header.sectionResizeMode(wide) != mode:
            header.setSectionResizeMode(wide, mode)
            if narrow:
                header.resizeSection(wide, NAME)

    def _keep(self) -> None:
        self._kept = self.current_id()

    def current_id(self) -> str:
        index = self.currentIndex()
        return self.parts.rows[index.row()].id if index.isValid() and index.row() < len(self.parts.rows) else ""

    def select(self, ident: str) -> None:
        """Make the row of a part current."""
        for i, row in enumerate(self.parts.rows):
            if row.id == ident:
                column = max(self.currentIndex().column(), 0)
                self.setCurrentIndex(self.parts.index(i, column))
                return

    def refresh(self) -> None:
        """Take the home's rows and keep the current part."""
        ident = self.current_id()
        self.parts.refresh()
        self._grow()
        if ident and self.current_id() != ident:
            self.select(ident)
        if not self.currentIndex().isValid() and self.parts.rows:
            self.setCurrentIndex(self.parts.index(0, 0))

    def _grow(self) -> None:
        """Columns of worked-out amounts are as wide as these: a number is never cut."""
        for i, column in enumerate(self.parts.spec.columns):
            if column.width and column.text is not None and self.parts.right_aligned(i):
                advance = self.fontMetrics().horizontalAdvance
                needs = max((advance(self.parts.text(row, i)) for row in self.parts.rows[:LOOKED_AT]), default=0) + 10
                if needs > self.columnWidth(i):
                    self.setColumnWidth(i, needs)

    def _moved(self, current: QModelIndex, _: QModelIndex) -> None:
        if current.isValid():
            self.selected.emit(self.parts.rows[current.row()].id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if leaves_table(self, event):
            return
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        elif event.matches(QKeySequence.StandardKey.Paste):
            clipboard = QGuiApplication.clipboard()
            self.paste(clipboard.text() if clipboard else "")
        elif event.matches(QKeySequence.StandardKey.Cut):
            self.copy()
            self.remove_selected()
        elif event.key() == Qt.Key.Key_D and event.modifiers() == Qt.KeyboardModifier.ControlModifier:
            self.fill_down()
        elif event.key() == Qt.Key.Key_Delete:
            self.remove_selected()
        else:
            super().keyPressEvent(event)

    def _selection(self) -> tuple[int, int, int, int] | None:
        indexes = self.selectedIndexes()
        if not indexes:
            return None
        rows, columns = [i.row() for i in indexes], [i.column() for i in indexes]
        return min(rows), max(rows), min(columns), max(columns)

    def copy(self) -> None:
        """The selected block as tab-separated text."""
        block = self._selection()
        clipboard = QGuiApplication.clipboard()
        if block is None or clipboard is None:
            return
        top, bottom, left, right = block
        lines = [
            "\t".join(str(self.parts.data(self.parts.index(r, c), Qt.ItemDataRole.EditRole)) for c in range(left, right + 1))
            for r in range(top, bottom + 1)
        ]
        clipboard.setText("\n".join(lines))

    def paste(self, text: str) -> None:
        """A block from a spreadsheet, from the current cell on; rows past the end are new. One step of undo; of several rows those that
        cannot be read are kept aside."""
        at, spec = self.currentIndex(), self.parts.spec
        top, left = (at.row(), at.column()) if at.isValid() else (0, 0)
        columns = spec.columns[left:]
        self.from_row = left
        block = block_of(text, [r.id for r in self.parts.rows[top:]], [c.field for c in columns])
        if block is None:
            return
        self._came(paste_into(self.parts.desk, spec.where, block, {c.field: c.title for c in columns}, self))

    def paste_new(self, text: str) -> None:
        """Rows that were mended, as new ones at the end."""
        columns = self.parts.spec.columns
        block = block_of(text, (), [c.field for c in columns[self.from_row :]])
        if block is not None:
            self._came(paste_into(self.parts.desk, self.parts.spec.where, block, {c.field: c.title for c in columns}, self))

    def _came(self, pasted: Pasted) -> None:
        """Say what came of a paste, and hand over what is to be mended."""
        if pasted.refused:
            self.parts.refused.emit(f"Nothing pasted. {pasted.refused}")
        elif pasted.aside:
            self.parts.refused.emit(f"{pasted.taken} rows pasted, {len(pasted.aside)} kept as text to be mended.")
        self.refresh()
        self.aside.emit(pasted.aside)

    def fill_down(self) -> None:
        """The top cells of the selected block into all rows below them, as one step."""
        block = self._selection()
        if block is None or block[0] == block[1]:
            self.parts.refused.emit("Select the cell to repeat and the cells below it, then fill down")
            return
        top, bottom, left, right = block
        fields = [c.field for c in self.parts.spec.columns[left : right + 1] if c.field]
        reason = self.parts.desk.fill(self.parts.spec.where, [self.parts.rows[r].id for r in range(top, bottom + 1)], fields)
        if reason:
            self.parts.refused.emit(f"Nothing filled down. {reason}")
        self.refresh()

    def add_row(self, **values: object) -> str:
        """Append a new part; returns its id."""
        return self._made(*self.parts.desk.add(self.parts.spec.where, **values))

    def duplicate_row(self) -> None:
        """A copy of the current row below it."""
        ident = self.current_id()
        if ident:
            self._made(*self.parts.desk.duplicate(self.parts.spec.where, ident))

    def _made(self, ident: str, reason: str) -> str:
        """Show a new row, or say why it was refused."""
        if reason:
            self.parts.refused.emit(reason)
            return ""
        self.refresh()
        self.select(ident)
        return ident

    def remove_selected(self) -> None:
        """Remove the selected rows as one step."""
        block = self._selection()
        if block is None:
            return
        idents = [self.parts.rows[r].id for r in range(block[0], block[1] + 1)]
        reason = self.parts.desk.remove(idents)
        if reason:
            self.parts.refused.emit(reason)
        self.refresh()
        if self.parts.rows:
            self.setCurrentIndex(self.parts.index(min(block[0], len(self.parts.rows) - 1), max(block[2], 0)))
