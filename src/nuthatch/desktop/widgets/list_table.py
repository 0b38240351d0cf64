"""The list of a step: a table over the parts of one list of the home, with the habits of a spreadsheet."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView

from nuthatch.core.assess import Assessment, Snapshot
from nuthatch.core.edits.desk import Asked, Listing
from nuthatch.core.model.home import find
from nuthatch.core.model.part import Given, specs
from nuthatch.core.reading import BadText
from nuthatch.core.units import head_unit, marked, show
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.widgets.pasting import block_of, paste_into
from nuthatch.desktop.widgets.quantity_field import LONGEST_BESIDE, MARKS
from nuthatch.desktop.widgets.table_keys import leaves_table


@dataclass(frozen=True)
class Column:
    """One column: a field of the part, or a text worked out from the assessment."""

    title: str
    field: str = ""
    text: Callable[[Assessment, Any], str] | None = None
    right: bool = False
    width: int = 0
    kind: str = ""


@dataclass(frozen=True)
class ListSpec:
    """A list on a board: its name, which list of the root it is, and its columns. `listing` may depend on what is chosen."""

    name: str
    listing: Listing | Callable[[], Listing]
    columns: tuple[Column, ...]
    sortable: bool = True

    @property
    def where(self) -> Listing:
        return self.listing if isinstance(self.listing, Listing) else self.listing()

    def rows(self, root: Any) -> tuple[Any, ...]:
        """The parts of the list, empty where its owner is not there."""
        owner = find(root, self.where.owner) if self.where.owner else None
        return getattr(owner, self.where.field) if owner is not None else ()


class PartsModel(QAbstractTableModel):
    """Rows are parts of a snapshot's root; an edit goes to the desk. `doubtful(row id, field, text)`."""

    doubtful = pyqtSignal(str, str, str)
    refused = pyqtSignal(str)

    def __init__(self, desk: Desk, spec: ListSpec) -> None:
        super().__init__()
        self.desk, self.spec = desk, spec
        self.snapshot: Snapshot = desk.snapshot
        self.rows: list[Any] = []
        self._sort: tuple[int, Qt.SortOrder] | None = None
        self.field_specs = specs(spec.where.kind)

    def refresh(self) -> None:
        """Take the rows of the home; the view keeps its place where the row count is the same."""
        self.snapshot = self.desk.snapshot
        rows = list(self.spec.rows(self.snapshot.home))
        if self._sort is not None and self.spec.sortable:
            column, order = self._sort
            rows.sort(key=lambda r: self._key(r, column), reverse=order == Qt.SortOrder.DescendingOrder)
        if [r.id for r in rows] != [r.id for r in self.rows]:
            self.beginResetModel()
            self.rows = rows
            self.endResetModel()
            return
        self.rows = rows
        if rows:
            self.dataChanged.emit(self.index(0, 0), self.index(len(rows) - 1, len(self.spec.columns) - 1))

    def _key(self, row: Any, column: int) -> tuple[int, float, str]:
        spec = self.spec.columns[column]
        value = getattr(row, spec.field, None) if spec.field else None
        if isinstance(value, Given):
            return 0, value.value, ""
        text = self.text(row, column)
        try:
            return 0, float(text.replace("\u202f", "").replace("−", "-")), ""
        except ValueError:
            return 1, 0.0, text

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        if self.spec.sortable and column >= 0:
            self._sort = (column, order)
            self.refresh()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.spec.columns)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            column = self.spec.columns[section]
            field = self.field_specs.get(column.field)
            kind = field.kind if field is not None and field.is_quantity else column.kind
            unit = head_unit(kind) if kind else ""
            return f"{column.title}{chr(10) if len(unit) > LONGEST_BESIDE else ' '}{unit}".strip()
        if role == Qt.ItemDataRole.TextAlignmentRole and orientation == Qt.Orientation.Horizontal:
            return int(
                (Qt.AlignmentFlag.AlignRight if self._right(section) else Qt.AlignmentFlag.AlignLeft) | Qt.AlignmentFlag.AlignVCenter
            )
        if role == Qt.ItemDataRole.DisplayRole:
            return str(section + 1)
        return None

    def _right(self, column: int) -> bool:
        spec = self.spec.columns[column]
        field = self.field_specs.get(spec.field)
        return spec.right or bool(spec.kind) or bool(field is not None and field.is_quantity)

    def text(self, row: Any, column: int) -> str:
        """What a cell shows."""
        spec = self.spec.columns[column]
        if spec.text is not None:
            return spec.text(self.snapshot.assessment, row) if self.snapshot.assessment else "…"
        value, field = getattr(row, spec.field), self.field_specs[spec.field]
        if isinstance(value, Given):
            mark = "" if value.basis.value == "declared" else f" {MARKS[value.basis.value]}"
            return show(value.value, field.kind) + mark
        if field.is_quantity:
            return "—"
        if field.kind == "ref":
            return dict(self.desk.names(field)).get(value, "none")
        return str(value)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        row, column = self.rows[index.row()], index.column()
        if role == Qt.ItemDataRole.DisplayRole:
            return self.text(row, column)
        if role == Qt.ItemDataRole.EditRole:
            text = self.text(row, column)
            return text if text == "—" else text.rstrip(" ○●■◐")
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return int((Qt.AlignmentFlag.AlignRight if self._right(column) else Qt.AlignmentFlag.AlignLeft) | Qt.AlignmentFlag.AlignVCenter)
        if role == Qt.ItemDataRole.ToolTipRole:
            value = getattr(row, self.spec.columns[column].field, None) if self.spec.columns[column].field else None
            return f"{value.basis.value}: {value.source}" if isinstance(value, Given) else None
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        flags = super().flags(index)
        return flags | Qt.ItemFlag.ItemIsEditable if index.isValid() and self.spec.columns[index.column()].field else flags

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        row, field = self.rows[index.row()], self.spec.columns[index.column()].field
        if str(value) == str(self.data(index, Qt.ItemDataRole.EditRole)):
            return False
        try:
            reason = self.desk.entered(row.id, field, str(value))
        except (BadText, Asked):
            self.doubtful.emit(row.id, field, str(value))
            return False
        if reason:
            self.refused.emit(reason)
        return not reason


MARKED = 100
"""Width of a column of feet, inches and sixteenths."""
NAME = 104
"""Least width of the column of names."""


class ListTable(QTableView):
    """The table; `selected(id)` when the current row changes."""

    selected = pyqtSignal(str)

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
        self._kept = ""
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
        if ident and self.current_id() != ident:
            self.select(ident)
        if not self.currentIndex().isValid() and self.parts.rows:
            self.setCurrentIndex(self.parts.index(0, 0))

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
        """A block from a spreadsheet, from the current cell on; rows past the end are new. All or nothing, one step of undo."""
        at, spec = self.currentIndex(), self.parts.spec
        top, left = (at.row(), at.column()) if at.isValid() else (0, 0)
        columns = spec.columns[left:]
        block = block_of(text, [r.id for r in self.parts.rows[top:]], [c.field for c in columns])
        if block is None:
            return
        refused = paste_into(self.parts.desk, spec.where, block, {c.field: c.title for c in columns}, self)
        if refused:
            self.parts.refused.emit(f"Nothing pasted. {refused}")
        self.refresh()

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

    def add_row(self, **values: Any) -> str:
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
