"""The table of the register; the margin is drawn against a plumb line as in the rail of a home."""

from __future__ import annotations

import re

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, QRectF, QSortFilterProxyModel, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QGuiApplication, QKeyEvent, QKeySequence, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QStyledItemDelegate, QStyleOptionViewItem, QTableView

from nuthatch.core.dossier.revisions import OUT_OF_DATE
from nuthatch.core.register import STANDINGS, Row
from nuthatch.desktop.theme.style import theme

HEADS = ("Home", "Client", "Plot", "Target sets", "Standing", "Margin", "Tightest target", "Open", "Dossier", "Last change", "Note")
MARGIN = HEADS.index("Margin")
WIDTHS = (110, 124, 118, 126, 96, 124, 230, 44, 112, 134, 0)
WIDEST = 1.3


def natural(text: str) -> tuple[tuple[int, int, str], ...]:
    """Plot 9 before plot 10."""
    return tuple((0, int(p), "") if p.isdigit() else (1, 0, p.lower()) for p in re.split(r"(\d+)", text) if p)


class HomesModel(QAbstractTableModel):
    """Rows of the register."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[Row] = []
        self._place: dict[str, int] = {}
        self.here = ""

    def show(self, rows: list[Row]) -> None:
        """Show these rows."""
        self.beginResetModel()
        self.rows = sorted(rows, key=lambda r: natural(r.name or r.path))
        self._place = {r.path: i for i, r in enumerate(self.rows)}
        self.endResetModel()

    def take(self, row: Row) -> None:
        """A home that was checked."""
        at = self._place.get(row.path)
        if at is not None:
            self.rows[at] = row
            self.dataChanged.emit(self.index(at, 0), self.index(at, len(HEADS) - 1))

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(HEADS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return HEADS[section]
        if role == Qt.ItemDataRole.TextAlignmentRole and orientation == Qt.Orientation.Horizontal:
            return int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        return None

    def _cells(self, r: Row) -> tuple[str, ...]:
        margin = "" if r.tight_ratio is None else f"{100 * (1 - r.tight_ratio):+.0f} %".replace("-", "−")
        note = r.note if r.path != self.here else "open here"
        opened = str(r.questions) if r.standing not in ("", "fault") else ""
        return r.name, r.client, r.plot, ", ".join(r.sets), STANDINGS[r.standing], margin, r.margin, opened, r.issued, r.when, note

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid():
            return None
        row, column = self.rows[index.row()], index.column()
        if role == Qt.ItemDataRole.DisplayRole:
            return self._cells(row)[column]
        if role == Qt.ItemDataRole.UserRole:  # what sorting goes by
            if column == MARGIN:
                return -9e9 if row.tight_ratio is None else 1 - row.tight_ratio
            if HEADS[column] == "Open":
                return row.questions
            text = self._cells(row)[column]
            return "".join(f"{n:012d}" if kind == 0 else t for kind, n, t in natural(text))
        if role == Qt.ItemDataRole.ToolTipRole:
            text = self._cells(row)[column]
            return f"{text}\n{row.path}" if column == 0 else text or None
        if role == Qt.ItemDataRole.ForegroundRole and (
            row.fault or _out_of_date(row, column) or (HEADS[column] == "Standing" and row.standing == "over")
        ):
            return theme.color("chestnut_text")
        if role == Qt.ItemDataRole.ForegroundRole and column in (1, 2, 3, 8, 9) and not _out_of_date(row, column):
            return theme.color("muted")
        return None


def _out_of_date(row: Row, column: int) -> bool:
    """Whether a cell says that a dossier is of a home that has changed since."""
    return HEADS[column] == "Dossier" and row.issued.endswith(OUT_OF_DATE)


class MarginDelegate(QStyledItemDelegate):
    """The tightest margin as a bar against the plumb line."""

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        if option.state & option.state.State_Selected:
            painter.fillRect(option.rect, theme.color("select"))
        value = index.data(Qt.ItemDataRole.UserRole)
        if value is None or value < -8e9:
            return
        box = QRectF(option.rect).adjusted(6, 0, -48, 0)
        plumb = box.left() + box.width() / WIDEST
        ratio = min(1 - value, WIDEST)
        bar = QRectF(box.left(), box.center().y() - 4, max(ratio, 0) * box.width() / WIDEST, 8)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        over = value < 0
        painter.setPen(QPen(theme.color("chestnut"), 1) if over else Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("chestnut_pale" if over else "slate"))
        painter.drawRect(bar)
        if over:
            painter.setBrush(QBrush(theme.color("chestnut"), Qt.BrushStyle.BDiagPattern))
            painter.drawRect(bar)
        painter.setPen(QPen(theme.color("ink"), 1.4))
        painter.drawLine(QPointF(plumb, box.top() + 1), QPointF(plumb, box.bottom()))
        painter.setPen(theme.color("chestnut_text" if over else "muted"))
        text = str(index.data()) if value > -9.99 else "far over"
        painter.drawText(QRectF(box.right() + 3, box.top(), 45, box.height()), int(Qt.AlignmentFlag.AlignVCenter), text)
        painter.restore()


class HomesTable(QTableView):
    """The table; `opened()` on Enter or double click."""

    opened = pyqtSignal()

    def __init__(self, model: QSortFilterProxyModel) -> None:
        super().__init__()
        self.setModel(model)
        self.setAccessibleName("Homes")
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setTabKeyNavigation(False)
        self.setSortingEnabled(True)
        self.setStyleSheet("QTableView { outline: 0; }")  # the whole row is chosen, not a cell
        self.setItemDelegateForColumn(MARGIN, MarginDelegate(self))
        header, side = self.horizontalHeader(), self.verticalHeader()
        assert header is not None and side is not None
        header.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        header.setHighlightSections(False)
        side.setVisible(False)
        side.setDefaultSectionSize(27)
        for i, width in enumerate(WIDTHS):
            header.setSectionResizeMode(i, QHeaderView.ResizeMode.Interactive if width else QHeaderView.ResizeMode.Stretch)
            if width:
                self.setColumnWidth(i, width)
        self.doubleClicked.connect(lambda _: self.opened.emit())

    def fit(self) -> None:
        """Stand on the first row where none is current."""
        model = self.model()
        if model is not None and not self.currentIndex().isValid() and model.rowCount():
            self.setCurrentIndex(model.index(0, 0))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit()
        elif event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        else:
            super().keyPressEvent(event)

    def copy(self) -> None:
        """The selected rows as tab-separated text."""
        model, selection, clipboard = self.model(), self.selectionModel(), QGuiApplication.clipboard()
        if model is not None and selection is not None and clipboard is not None:
            rows = sorted(i.row() for i in selection.selectedRows())
            lines = ["\t".join(str(model.index(r, c).data()) for c in range(len(HEADS))) for r in rows]
            clipboard.setText("\n".join(lines))
