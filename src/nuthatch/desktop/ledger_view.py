"""The ledger of assumptions: one sheet over the whole home, heaviest first, weighed in another process; basis and evidence in bulk."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import ChangeRefused
from nuthatch.core.model.part import Basis
from nuthatch.core.units import so_many, with_unit
from nuthatch.core.views.ledger import LedgerRow, heaviest_first, margins, ranked, with_basis, with_sheet
from nuthatch.desktop.document import Document
from nuthatch.desktop.steps.board import button
from nuthatch.desktop.weights import Weighing
from nuthatch.desktop.widgets.read_table import ReadTable

HEADS = ("Value", "Of", "Is", "Basis", "Used in", "Weighs", "If it is", "Evidence")


class LedgerView(QWidget):
    """`go(step, part, field)` to a value; `left` back to the board; `said(words)`."""

    go = pyqtSignal(str, str, str)
    left = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, document: Document, weighing: Weighing) -> None:
        super().__init__()
        self.setObjectName("board")
        self.document, self.weighing = document, weighing
        self._base: Assessment | None = None
        weighing.moved.connect(self._show)
        title = QLabel("Ledger of assumptions")
        title.setObjectName("boardTitle")
        self.sub = QLabel()
        self.sub.setObjectName("muted")
        self.sub.setWordWrap(True)
        self._tools()
        self.table = ReadTable("Ledger of assumptions", HEADS, (176, 0, 118, 76, 92, 72, 84, 66))
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.table.opened.connect(self.lead)
        head = QHBoxLayout()
        head.addWidget(title)
        head.addStretch(1)
        for widget in (
            self.search,
            self.margin,
            self.basis,
            button("Attach a sheet", self._ask_sheet, "paperclip", "One file as evidence of all chosen values"),
            button("Back", self.left.emit, "", "Back to the board (Esc)"),
        ):
            head.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 12, 10, 8)
        column.addLayout(head)
        column.addWidget(self.sub)
        column.addWidget(self.table, 1)

    def _tools(self) -> None:
        """Finding, the margin weighed against, the basis in bulk."""
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find in the ledger")
        self.search.setAccessibleName("Find in the ledger")
        self.search.setFixedWidth(180)
        self.search.textChanged.connect(lambda _: self._show())
        self.margin = QComboBox()
        self.margin.setAccessibleName("Weighed against")
        self.margin.setToolTip("The margin the values are weighed against")
        self.margin.setMaximumWidth(250)
        self.margin.currentIndexChanged.connect(lambda _: self._show())
        self.basis = QPushButton("Set basis")
        self.basis.setAccessibleName("Set the basis of the chosen values")
        menu = QMenu(self)
        for basis in Basis:
            menu.addAction(str(basis), lambda basis=basis: self.set_basis(basis))
        self.basis.setMenu(menu)

    @property
    def settled(self) -> bool:
        """Whether everything is weighed."""
        return self.weighing.settled

    def follow(self, a: Assessment | None) -> None:
        """Show the home as it is now, and weigh anew what has changed."""
        if a is None or a.computing or a is self._base:
            return
        self._base = a
        self.weighing.follow(0)
        self._fill_margins(a)
        self._show()

    def _fill_margins(self, a: Assessment) -> None:
        """The margins to weigh against; the one chosen stays chosen."""
        kept = self.margin.currentData()
        self.margin.blockSignals(True)
        self.margin.clear()
        self.margin.addItem("tightest that they move", "")
        for name in margins(a):
            self.margin.addItem(name, name)
        self.margin.setCurrentIndex(max(self.margin.findData(kept), 0))
        self.margin.blockSignals(False)

    def hideEvent(self, event: object) -> None:
        self._base = None

    def _show(self) -> None:
        a = self._base
        if a is None or a is not self.weighing.base:
            return
        known = self.weighing.rows
        against = self.margin.currentData() or heaviest_first(margins(a), self.weighing.weights)
        words = self.search.text().lower().split()
        rows = [e for e in known if all(w in f"{e.spec.label} {e.name} {e.given.source}".lower() for w in words)]
        rows = list(ranked(rows, self.weighing.weights, against))
        top = self.table.currentRow() <= 0
        self.table.show_rows([(e.id, self._cells(e, against)) for e in rows], (2, 5))
        what = f"of the margin {against}" if against else "of a margin, and none is known yet"
        if top and rows:  # what comes to stand on top is looked at, not the row that stood there
            self.table.setCurrentCell(0, 0)
            self.table.scrollToTop()
        left = f" · {self.weighing.left} still to be weighed" if self.weighing.left else ""
        self.sub.setText(
            f"{so_many(len(known), 'value')} not measured or declared. What each weighs is the change {what} if it is a tenth worse "
            f"(a temperature 1 K): what to find out first stands on top{left}."
            if known
            else "Nothing here rests on an assumption: every value is measured or declared."
        )

    def _cells(self, e: LedgerRow, against: str) -> tuple[str, ...]:
        w = self.weighing.weights.get(e.id, {}).get(against)
        weighs = "0" if e.id in self.weighing.weights else "…"
        if w is not None and w.change > 1e-9:
            weighs = f"+{100 * w.change:.2f} %" if w.change >= 5e-5 else "< 0.01 %"
        way = w.way if w is not None and w.change > 1e-9 else ""
        proof = e.given.evidence or (f"{len(e.given.files)} file{'s' if len(e.given.files) > 1 else ''}" if e.given.files else "none")
        return (e.spec.label, e.name, with_unit(e.given.value, e.spec.kind), str(e.given.basis), e.used, weighs, way, proof)

    def chosen(self) -> list[LedgerRow]:
        """The values whose rows are selected."""
        ids = {self.table.item(i.row(), 0).data(256) for i in self.table.selectedIndexes()}  # type: ignore[union-attr]  # a row has cells
        return [e for e in self.weighing.rows if e.id in ids]

    def set_basis(self, basis: Basis) -> None:
        """The basis of all chosen values, as one step."""
        self._apply(lambda: with_basis(self.document.home, self.chosen(), basis))

    def _ask_sheet(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A sheet that proves the chosen values", "")
        if name:
            self.attach(Path(name))

    def attach(self, path: Path) -> None:
        """One file as evidence of all chosen values."""
        if not self.chosen():
            self.said.emit("Choose the values the sheet proves first.")
            return
        proof = self.document.taken(path)
        if isinstance(proof, str):
            self.said.emit(proof)
            return
        self._apply(lambda: with_sheet(self.document.home, self.chosen(), proof))

    def _apply(self, make) -> None:  # type: ignore[no-untyped-def]  # makes a change
        try:
            reason = self.document.desk.apply(make())
        except ChangeRefused as why:
            reason = str(why)
        if reason:
            self.said.emit(reason)

    def lead(self, ident: str) -> None:
        """Go to the board and the field of a row."""
        entry = next((e for e in self.weighing.rows if e.id == ident), None)
        if entry is not None:
            self.go.emit(entry.step, entry.part, entry.field)
