"""The rows of a list of the home as Qt sees them: what a cell shows, how it sorts, how an edit is handed on."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal

from nuthatch.core.assess import Assessment, Snapshot
from nuthatch.core.edits.desk import Asked, Listing
from nuthatch.core.model.home import find
from nuthatch.core.model.part import Given, IdentifiedPart, specs
from nuthatch.core.reading import BadText
from nuthatch.core.units import head_unit, show
from nuthatch.core.views.working import MARKS
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.widgets.quantity_field import LONGEST_BESIDE


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

    def rows(self, root: IdentifiedPart) -> tuple[Any, ...]:
        """The parts of the list, empty where its owner is not there."""
        owner = find(root, self.where.owner) if self.where.owner else None
        return owner[self.where.field] if owner is not None else ()


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

    def _key(self, row: object, column: int) -> tuple[int, float, str]:
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

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            column = self.spec.columns[section]
            field = self.field_specs.get(column.field)
            kind = field.kind if field is not None and field.is_quantity else column.kind
            unit = head_unit(kind) if kind else ""
            return f"{column.title}{chr(10) if len(unit) > LONGEST_BESIDE else ' '}{unit}".strip()
        if role == Qt.ItemDataRole.TextAlignmentRole and orientation == Qt.Orientation.Horizontal:
            return int(
                (Qt.AlignmentFlag.AlignRight if self.right_aligned(section) else Qt.AlignmentFlag.AlignLeft) | Qt.AlignmentFlag.AlignVCenter
            )
        if role == Qt.ItemDataRole.DisplayRole:
            return str(section + 1)
        return None

    def right_aligned(self, column: int) -> bool:
        """Whether a column holds numbers."""
        spec = self.spec.columns[column]
        field = self.field_specs.get(spec.field)
        return spec.right or bool(spec.kind) or bool(field is not None and field.is_quantity)

    def text(self, row: object, column: int) -> str:
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

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid():
            return None
        row, column = self.rows[index.row()], index.column()
        if role == Qt.ItemDataRole.DisplayRole:
            return self.text(row, column)
        if role == Qt.ItemDataRole.EditRole:
            text = self.text(row, column)
            return text if text == "—" else text.rstrip(" ○●■◐")
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return int(
                (Qt.AlignmentFlag.AlignRight if self.right_aligned(column) else Qt.AlignmentFlag.AlignLeft) | Qt.AlignmentFlag.AlignVCenter
            )
        if role == Qt.ItemDataRole.ToolTipRole:
            value = getattr(row, self.spec.columns[column].field, None) if self.spec.columns[column].field else None
            return f"{value.basis.value}: {value.source}" if isinstance(value, Given) else None
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        flags = super().flags(index)
        return flags | Qt.ItemFlag.ItemIsEditable if index.isValid() and self.spec.columns[index.column()].field else flags

    def setData(self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
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
