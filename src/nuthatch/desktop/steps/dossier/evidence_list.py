"""What is still missing as proof, the heaviest first: chosen values get a file, dropped files find their values by their names."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent
from PyQt6.QtWidgets import QAbstractItemView, QComboBox, QFileDialog, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.evidence import Wanted, fitting, missing, proving, weighed
from nuthatch.core.library import cache_folder
from nuthatch.core.model.home import EvidenceFile
from nuthatch.core.views.ledger import Weight
from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.error_net import write_log
from nuthatch.desktop.jobs import Jobs
from nuthatch.desktop.steps.board import button
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.workspace import row_of

HEADS = ("Value", "As it is", "Basis", "What would prove it", "From", "Targets", "Weighs")
EVERYBODY = "all without proof"


class EvidenceList(QWidget):
    """`lead(part, field)` to a value, `said(words)` of what was done, `asking()` for the sheets of suppliers."""

    lead = pyqtSignal(str, str)
    said = pyqtSignal(str)
    asking = pyqtSignal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setAcceptDrops(True)
        self.table = ReadTable("Evidence still missing", HEADS, (196, 82, 66, 0, 100, 96, 58))
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.table.opened.connect(self._open)
        self.who = QComboBox()
        self.who.setAccessibleName("From whom")
        self.who.activated.connect(lambda _: self._show())
        self.who.setMinimumWidth(168)
        self.bar = row_of(
            self.who,
            button(
                "Attach …",
                self._ask_files,
                "paperclip",
                "Files as evidence of the values chosen; with none chosen they find theirs by name",
            ),
            button("Ask for it …", self.asking.emit, "", "One sheet for each supplier with what is asked of them"),
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.table)
        self._wanted: tuple[Wanted, ...] = ()
        self._weights: dict[str, dict[str, Weight]] = {}
        self._base: Assessment | None = None
        self._jobs, self._worker = Jobs(self), Worker()
        self._weighed_of: object = None

    def stop(self) -> None:
        """Nothing more is weighed."""
        self._worker.stop()

    def follow(self, a: Assessment) -> None:
        """Show what is missing in a home as it is by now."""
        if a is self._base:
            return
        self._base = a
        self._wanted = missing(a, self._weights)
        self._show()
        if self.isVisible():
            self._weigh()

    def showEvent(self, event: object) -> None:
        self._weigh()

    def hideEvent(self, event: object) -> None:
        self._jobs.cancel()

    def _weigh(self) -> None:
        """Weigh what is missing while somebody looks at it."""
        a = self._base
        if a is None or a.computing or self._weighed_of is a:
            return
        self._jobs.cancel()
        self._weighed_of = a
        task = Task(weighed, {"home": a.home, "climate": a.state.climate, "cache": cache_folder()})
        self._jobs.start(
            "evidence", lambda job: self._worker.run(task, job.tell), lambda _: self._ranked(), self._gave_up, self._take, self._worker.stop
        )

    def _take(self, told: dict[str, dict[str, Weight]]) -> None:
        self._weights |= told

    def _gave_up(self, error: Exception) -> None:
        self._weighed_of = None
        if not isinstance(error, Stopped):
            write_log(error)

    def _ranked(self) -> None:
        if self._base is not None:
            self._wanted = missing(self._base, self._weights)
            self._show()

    def rows(self) -> list[Wanted]:
        """What is shown: of everybody, or of one."""
        who = self.who.currentData()
        return [w for w in self._wanted if not who or w.who == who]

    def _show(self) -> None:
        kept, count = self.who.currentData(), dict.fromkeys((w.who for w in self._wanted), 0)
        for w in self._wanted:
            count[w.who] += 1
        self.who.clear()
        self.who.addItem(f"{EVERYBODY} ({len(self._wanted)})", "")
        for who, number in sorted(count.items()):
            self.who.addItem(f"{who} ({number})", who)
        self.who.setCurrentIndex(max(self.who.findData(kept), 0))
        self.table.show_rows([(w.id, _cells(w)) for w in self.rows()], (1, 6))

    def chosen(self) -> list[Wanted]:
        """The values whose rows are selected."""
        rows = {index.row() for index in self.table.selectedIndexes()}
        ids = {item.data(0x0100) for r in rows if (item := self.table.item(r, 0)) is not None}
        return [w for w in self._wanted if w.id in ids]

    def _open(self, ident: str) -> None:
        found = next((w for w in self._wanted if w.id == ident), None)
        if found is not None:
            self.lead.emit(found.part, found.field)

    # files

    def _ask_files(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self, "Attach as evidence")
        if names:
            self.attach([Path(n) for n in names], self.chosen())

    def attach(self, paths: Sequence[Path], chosen: Sequence[Wanted] = ()) -> None:
        """Files as evidence: of the values chosen, else of those that fit their names."""
        files: dict[str, EvidenceFile] = {}
        proofs: dict[str, Sequence[Wanted]] = {}
        told = []
        ids = iter(fresh_ids(self.desk.home, "evidence", len(paths)))
        for path in paths:
            taken = self.desk.taken(path)
            if isinstance(taken, str):
                told.append(taken)
                continue
            known = next((e for e in self.desk.home.evidence if e.sha256 == taken.sha256), None)
            file = known or taken.model_copy(update={"id": next(ids)})
            files[file.id] = file
            found = tuple(chosen) or fitting(path.name, self._wanted)
            proofs[file.id] = found
            told.append(_told(path.name, found, bool(chosen)))
        if files:
            reason = self.desk.apply(lambda: proving(self.desk.home, proofs, files))
            told = [reason] if reason else told
        self.said.emit(" · ".join(told))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and (data := event.mimeData()) is not None and data.hasUrls():
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        if event is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()] if data is not None else []
        if paths:
            self.attach(paths, chosen if len(chosen := self.chosen()) > 1 else ())


def _cells(w: Wanted) -> tuple[str, ...]:
    weight = "" if w.weight is None else f"{100 * w.weight:.1f} %" if w.weight else "–"
    return w.name, w.now, w.basis, w.proof, w.who, w.rests, weight


def _told(name: str, found: Sequence[Wanted], chosen: bool) -> str:
    """What became of a file."""
    if not found:
        return f"{name}: attached; its name fits no value, choose values and attach it to them"
    parts = list(dict.fromkeys(w.name.partition(": ")[0] for w in found))
    where = ", ".join(parts[:3]) + (" …" if len(parts) > 3 else "")
    by = "chosen" if chosen else "found by its name"
    return f"{name}: proves {len(found)} value{'' if len(found) == 1 else 's'} of {where}, {by}"
