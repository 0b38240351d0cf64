"""The list of a step: a table over the parts of one list of the home, with the habits of a spreadsheet."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.changes import Batch, Insert, Remove, SetValue
from nuthatch.core.model.home import Home, fresh_id
from nuthatch.core.model.part import Given, Part, specs
from nuthatch.core.units import BadText, Doubt, read, show, unit_of
from nuthatch.desktop.document import Document
from nuthatch.desktop.widgets.edit_card import choices_for
from nuthatch.desktop.widgets.quantity_field import LONGEST_BESIDE, MARKS


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
    """A list of the home: where it lives, its columns, and what a new row starts with."""

    name: str
    owner: Callable[[], str]
    field: str
    rows: Callable[[Home], tuple[Any, ...]]
    columns: tuple[Column, ...]
    stem: Callable[[], str]
    fresh: Callable[[Home], dict[str, Any]]
    sortable: bool = True


class PartsModel(QAbstractTableModel):
    """Rows are parts of the home; an edit becomes a change of the document. `doubtful(row id, field, text)`."""

    doubtful = pyqtSignal(str, str, str)
    refused = pyqtSignal(str)

    def __init__(self, document: Document, spec: ListSpec, kind: type[Part]) -> None:
        super().__init__()
        self.document, self.spec, self.kind = document, spec, kind
        self.rows: list[Any] = []
        self._sort: tuple[int, Qt.SortOrder] | None = None
        self.field_specs = specs(kind)

    def refresh(self) -> None:
        """Take the rows of the home; the view keeps its place where the row count is the same."""
        rows = list(self.spec.rows(self.document.home))
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
            unit = unit_of(kind) if kind else ""
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
            return spec.text(self.document.assessment, row) if self.document.assessment else "…"
        value, field = getattr(row, spec.field), self.field_specs[spec.field]
        if isinstance(value, Given):
            mark = "" if value.basis.value == "declared" else f" {MARKS[value.basis.value]}"
            return show(value.value, field.kind) + mark
        if field.is_quantity:
            return "—"
        if field.kind == "ref":
            return dict(choices_for(self.document, field)).get(value, "none")
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
            change = self.cell_change(row.id, field, str(value))
        except (BadText, _Asked):
            self.doubtful.emit(row.id, field, str(value))
            return False
        reason = self.document.apply(change)
        if reason:
            self.refused.emit(reason)
        return not reason

    def cell_value(self, field: str, text: str) -> Any:
        """Typed or pasted text as the field's value. Raises BadText, or _Asked where it has two readings."""
        spec, clean = self.field_specs[field], text.strip()
        if spec.is_quantity:
            if clean in ("", "—"):
                return None
            found = read(clean, spec.kind)
            if isinstance(found, Doubt):
                raise _Asked(found.question)
            reason = spec.refuse(found)
            if reason:
                raise BadText(reason)
            return Given(value=found, basis="declared", source="typed")
        if spec.kind == "choice":
            match = [c for c in spec.choices if c.lower() == clean.lower()]
            if not match:
                raise BadText(f"{spec.label} “{clean}” is not known; one of: {', '.join(spec.choices)}")
            return match[0]
        if spec.kind == "ref":
            match = [i for i, name in choices_for(self.document, spec) if clean.lower() in (name.lower(), i)]
            if not match and clean:
                raise BadText(f"{spec.label} “{clean}” is not in this home")
            return match[0] if match else ""
        return clean

    def cell_change(self, row_id: str, field: str, text: str) -> SetValue:
        """A cell's text as a change."""
        return SetValue(part=row_id, field=field, value=self.cell_value(field, text))


class _Asked(Exception):
    """Text with two readings."""


def leaves_table(table: QAbstractItemView, event: QKeyEvent) -> bool:
    """Tab past the last cell and Shift+Tab before the first leave the table, Ctrl+Tab at once; the rest goes cell by cell."""
    at, model = table.currentIndex(), table.model()
    assert model is not None
    at_once = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
    if event.key() == Qt.Key.Key_Tab:
        last = not at.isValid() or (at.row(), at.column()) == (model.rowCount() - 1, model.columnCount() - 1)
        return (last or at_once) and _move_focus(table, True)
    if event.key() == Qt.Key.Key_Backtab:
        first = not at.isValid() or (at.row(), at.column()) == (0, 0)
        return (first or at_once) and _move_focus(table, False)
    return False


def _move_focus(table: QAbstractItemView, forward: bool) -> bool:
    """To the next widget in the order of focus."""
    widget: QWidget | None = table
    while widget is not None:
        widget = widget.nextInFocusChain() if forward else widget.previousInFocusChain()
        if widget is table or widget is None:
            return False
        inside = table.isAncestorOf(widget)
        if not inside and widget.isVisible() and widget.isEnabled() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
            widget.setFocus(Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason)
            return True
    return False


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
                self.setColumnWidth(i, max(column.width, needs + 14))
        side.setDefaultSectionSize(25)
        side.setVisible(False)
        self._kept = ""
        model.modelAboutToBeReset.connect(self._keep)
        model.modelReset.connect(lambda: self.select(self._kept))
        selection = self.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._moved)

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
        grid = [line.split("\t") for line in text.replace("\r\n", "\n").rstrip("\n").split("\n")] if text.strip() else []
        if not grid:
            return
        at = self.currentIndex()
        top, left = (at.row(), at.column()) if at.isValid() else (0, 0)
        columns = self.parts.spec.columns
        changes: list[Any] = []
        home = self.parts.document.home
        made = 0
        for r, cells in enumerate(grid):
            values: dict[str, Any] = {}
            for c, cell in enumerate(cells):
                column = columns[left + c] if left + c < len(columns) else None
                if column is None or not column.field:
                    continue
                try:
                    values[column.field] = self.parts.cell_value(column.field, cell)
                except (BadText, _Asked) as problem:
                    self.parts.refused.emit(f"Nothing pasted. Row {r + 1}, {column.title}: {problem}")
                    return
            if top + r < len(self.parts.rows):
                ident = self.parts.rows[top + r].id
                changes += [SetValue(part=ident, field=f, value=v) for f, v in values.items()]
            else:
                made += 1
                changes.append(self._new_row(home, values, made))
        reason = self.parts.document.apply(
            Batch(label=f"{len(grid)} rows pasted into {self.parts.spec.name.lower()}", changes=tuple(changes))
        )
        if reason:
            self.parts.refused.emit(f"Nothing pasted. {reason}")
        self.refresh()

    def fill_down(self) -> None:
        """The top cells of the selected block into all rows below them, as one step."""
        block = self._selection()
        if block is None or block[0] == block[1]:
            self.parts.refused.emit("Select the cell to repeat and the cells below it, then fill down")
            return
        top, bottom, left, right = block
        source = self.parts.rows[top]
        fields = [c.field for c in self.parts.spec.columns[left : right + 1] if c.field]
        changes = tuple(
            SetValue(part=self.parts.rows[r].id, field=f, value=getattr(source, f)) for r in range(top + 1, bottom + 1) for f in fields
        )
        reason = self.parts.document.apply(
            Batch(label=f"{bottom - top} rows filled down in {self.parts.spec.name.lower()}", changes=changes)
        )
        if reason:
            self.parts.refused.emit(f"Nothing filled down. {reason}")
        self.refresh()

    def _new_row(self, home: Home, values: dict[str, Any], number: int) -> Insert:
        spec = self.parts.spec
        stem, ident = spec.stem(), fresh_id(home, spec.stem())
        ident = f"{stem}-{int(ident.rsplit('-', 1)[1]) + number - 1}"
        while any(r.id == ident for r in self.parts.rows):
            ident += "x"
        fields = {**spec.fresh(home), **values, "id": ident}
        return Insert(owner=spec.owner(), field=spec.field, value=self.parts.kind(**fields))

    def add_row(self, **values: Any) -> str:
        """Append a new part; returns its id."""
        change = self._new_row(self.parts.document.home, values, 1)
        reason = self.parts.document.apply(change)
        if reason:
            self.parts.refused.emit(reason)
            return ""
        self.refresh()
        self.select(change.value.id)
        return str(change.value.id)

    def duplicate_row(self) -> None:
        """A copy of the current row below it."""
        ident = self.current_id()
        source = next((r for r in self.parts.rows if r.id == ident), None)
        if source is None:
            return
        spec = self.parts.spec
        new = fresh_id(self.parts.document.home, spec.stem())
        copied = source.model_dump()
        copied.update(id=new, name=f"{source.name}, copy")
        for key, value in copied.items():  # parts inside a part need ids of their own
            if isinstance(value, list | tuple) and value and isinstance(value[0], dict) and "id" in value[0]:
                copied[key] = tuple({**v, "id": f"{new}.{n}"} for n, v in enumerate(value, 1))
        place = next(i for i, r in enumerate(spec.rows(self.parts.document.home)) if r.id == ident)
        reason = self.parts.document.apply(Insert(owner=spec.owner(), field=spec.field, index=place + 1, value=copied))
        if reason:
            self.parts.refused.emit(reason)
        self.refresh()
        self.select(new)

    def remove_selected(self) -> None:
        """Remove the selected rows as one step."""
        block = self._selection()
        if block is None:
            return
        idents = [self.parts.rows[r].id for r in range(block[0], block[1] + 1)]
        changes = tuple(Remove(part=i) for i in idents)
        change: Any = changes[0] if len(changes) == 1 else Batch(label=f"{len(changes)} rows removed", changes=changes)
        reason = self.parts.document.apply(change)
        if reason:
            self.parts.refused.emit(reason)
        self.refresh()
        if self.parts.rows:
            self.setCurrentIndex(self.parts.index(min(block[0], len(self.parts.rows) - 1), max(block[2], 0)))
