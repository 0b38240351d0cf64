"""A list that is only read: rows worked out from the home, sorted, copied, each leading to its part."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from nuthatch.core.views.sheets.sheet import Sheet
from nuthatch.desktop.widgets.table_keys import leaves_table


class _Cell(QTableWidgetItem):
    """A cell that sorts by its number where it has one."""

    def __lt__(self, other: QTableWidgetItem) -> bool:
        try:
            return float(self.text().replace("\u202f", "").replace("−", "-")) < float(other.text().replace("\u202f", "").replace("−", "-"))
        except ValueError:
            return self.text() < other.text()


class ReadTable(QTableWidget):
    """`chosen(id)` when a row becomes current, `opened(id)` on Enter or a double click."""

    chosen = pyqtSignal(str)
    opened = pyqtSignal(str)

    def __init__(self, name: str, heads: Sequence[str], widths: Sequence[int] = ()) -> None:
        super().__init__(0, len(heads))
        self.setAccessibleName(name)
        self.setHorizontalHeaderLabels(list(heads))
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setShowGrid(False)
        self.setWordWrap(False)
        header, side = self.horizontalHeader(), self.verticalHeader()
        assert header is not None and side is not None
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setHighlightSections(False)
        header.setMinimumSectionSize(min([40, *(w for w in widths if w)]))
        for n, width in enumerate(widths):
            header.setSectionResizeMode(n, QHeaderView.ResizeMode.Interactive if width else QHeaderView.ResizeMode.Stretch)
            if width:
                self.setColumnWidth(n, width)
        side.setVisible(False)
        side.setDefaultSectionSize(24)
        self._shown: tuple[object, ...] = ()
        self.itemSelectionChanged.connect(self._moved)
        self.itemDoubleClicked.connect(lambda _: self.opened.emit(self.current_id()))

    def show_sheet(self, sheet: Sheet) -> None:
        """The rows of a sheet, under the heads this table was made with."""
        ids = sheet.ids if any(sheet.ids) else tuple(str(n) for n in range(len(sheet.rows)))
        self.show_rows(list(zip(ids, sheet.texts(), strict=True)), sheet.numeric)

    def show_rows(self, rows: Sequence[tuple[str, Sequence[str]]], right: Sequence[int] = ()) -> None:
        """Rows of (id, cells); the row that was current stays so. right: columns of numbers."""
        if tuple(rows) == self._shown:
            return
        self._shown = tuple(rows)
        kept = self.current_id()
        self.setSortingEnabled(False)
        self.blockSignals(True)
        self.setRowCount(len(rows))
        for r, (ident, cells) in enumerate(rows):
            for c, text in enumerate(cells):
                item = _Cell(text)
                item.setData(Qt.ItemDataRole.UserRole, ident)
                item.setToolTip(text)
                side = Qt.AlignmentFlag.AlignRight if c in right else Qt.AlignmentFlag.AlignLeft
                item.setTextAlignment(int(side | Qt.AlignmentFlag.AlignVCenter))
                self.setItem(r, c, item)
        for c in right:
            if self.columnWidth(c) < self.sizeHintForColumn(c):  # a number is never cut: what is left of it would be another one
                self.setColumnWidth(c, self.sizeHintForColumn(c))
            head = self.horizontalHeaderItem(c)
            if head is not None:
                head.setTextAlignment(int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter))
        self.select(kept, quiet=True)
        self.blockSignals(False)

    def current_id(self) -> str:
        item = self.item(self.currentRow(), 0) if self.currentRow() >= 0 else None
        return str(item.data(Qt.ItemDataRole.UserRole)) if item is not None else ""

    def select(self, ident: str, quiet: bool = False) -> bool:
        """Make the row of a part current; False where there is none."""
        for row in range(self.rowCount()):
            item = self.item(row, 0)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == ident:
                before = self.blockSignals(quiet or self.signalsBlocked())
                self.setCurrentCell(row, max(self.currentColumn(), 0))
                self.blockSignals(before)
                return True
        return False

    def _moved(self) -> None:
        if self.current_id():
            self.chosen.emit(self.current_id())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if leaves_table(self, event):
            return
        clipboard = QGuiApplication.clipboard()
        if event.matches(QKeySequence.StandardKey.Copy) and clipboard is not None:
            rows = sorted({i.row() for i in self.selectedIndexes()})
            cells = [[item.text() if (item := self.item(r, c)) is not None else "" for c in range(self.columnCount())] for r in rows]
            clipboard.setText("\n".join("\t".join(row) for row in cells))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(self.current_id())
        else:
            super().keyPressEvent(event)
