"""The details of the junctions board: their drawing, their list, the blocks of the one that is current; files in and out."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QLabel, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Insert
from nuthatch.core.edits.desk import Listing, fresh_ids
from nuthatch.core.exchange import detail_files
from nuthatch.core.files import formats
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.homefile import HomeFileError, put
from nuthatch.core.heatflow.of_home import detail_of, section_of
from nuthatch.core.heatflow.section import Section, SectionFault
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import SOLVED
from nuthatch.core.model.details import Detail, DetailBlock
from nuthatch.core.results.figure import Computing
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.junctions.detail import BLOCK, of_detail
from nuthatch.core.workers import LONGEST_READING, Task
from nuthatch.desktop.jobs import words_of
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.reading import Reading
from nuthatch.desktop.widgets.sketch_view import SketchView


class DetailsPart:
    """What the board shows of details; `current` is the one in view."""

    def __init__(self, board: Board) -> None:
        self.board, self.current = board, ""
        self.reading = Reading(board)
        self.view = SketchView("Detail with isotherms")
        self.view.clicked.connect(self._block_clicked)
        self.says = QLabel()
        self.says.setObjectName("muted")
        self.says.setWordWrap(True)
        self.sheet = QWidget()
        column = QVBoxLayout(self.sheet)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.says)
        column.addWidget(self.view, 1)
        self.list = ListPanel(board, ListSpec("Details", Listing("home", "details", Detail, "detail"), self._columns()), add="Add a detail")
        self.list.add_button.hide()  # a detail is drawn from a junction or read from a file, never begun empty
        self.list.bar.insertWidget(0, button("Read …", self._ask_read, "folder-open", "Take in a detail from a file"))
        self.list.bar.insertWidget(1, button("Write …", self._ask_write, "save", "Write the detail as a file"))
        self.list.table.selected.connect(lambda _: self.show(self.list.table.current_id()))
        self.blocks = ListPanel(board, ListSpec("Blocks", self._blocks, BLOCKS, sortable=False), add="Add a block")
        self.blocks.copy_button.hide()
        self.blocks.add_button.hide()  # blocks come with the section; their λ is worked on here
        self.blocks.table.selected.connect(lambda _: self._draw())

    def _columns(self) -> tuple[Column, ...]:
        def number(of: Callable[[Solved], float | None], kind: str) -> Callable[[Assessment, Detail], str]:
            def text(a: Assessment, d: Detail) -> str:
                found = a.all_of(SOLVED).get(d.id)
                if isinstance(found, Computing):
                    return "…"
                value = of(found) if isinstance(found, Solved) else None
                return "?" if value is None else f"{value:.2f}" if not kind else show(value, kind)

            return text

        return (
            Column("Detail", "name"),
            Column("Section", "plane", width=80),
            Column("ψ ext.", text=number(lambda s: s.psi_external, "psi"), kind="psi", width=84),
            Column("ψ int.", text=number(lambda s: s.psi_internal, "psi"), kind="psi", width=84),
            Column("f_Rsi", text=number(lambda s: s.f_rsi, ""), width=60),
        )

    def _blocks(self) -> Listing:
        return Listing(self.current, "blocks", DetailBlock, f"{self.current}.b")

    @property
    def detail(self) -> Detail | None:
        """The one in view."""
        return next((d for d in self.board.desk.home.details if d.id == self.current), None)

    def refresh(self) -> None:
        """Show the home as it is now."""
        details = self.board.desk.home.details
        if self.detail is None:
            self.current = details[0].id if details else ""
        self.list.refresh("A detail is the drawn section of a junction: select one, “Draw its detail”; or read one from a file.")
        self.blocks.refresh("The blocks of the detail in view: their λ is worked on here.")
        self._draw()

    def show(self, ident: str) -> None:
        """Have a detail in view."""
        if ident and ident != self.current and any(d.id == ident for d in self.board.desk.home.details):
            self.current = ident
            self.list.table.select(ident)
            self.blocks.refresh()
            self._draw()

    def _draw(self) -> None:
        a, detail = self.board.assessment, self.detail
        if a is None or detail is None:
            self.says.setText("No detail is drawn yet: select a junction and “Draw its detail”, or read one from a file.")
            self.view.hide()
            return
        self.view.show()
        of = a.all_of(SOLVED).get(detail.id)
        self.says.setText(f"{detail.name} · {_sentence(of)}")
        ids = [b.id for b in detail.blocks]
        chosen = self.blocks.table.current_id()
        selected = ids.index(chosen) if chosen in ids else None
        self.view.show_made(lambda w, h: of_detail(detail, of, (w, h), selected))

    def _block_clicked(self, ident: str) -> None:
        detail = self.detail
        if detail is not None and ident.startswith(BLOCK):
            self.board.in_front(self.blocks)
            self.blocks.table.select(detail.blocks[int(ident.removeprefix(BLOCK))].id)
            self.blocks.show_card()

    # files

    def _ask_read(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.board, "Read a detail", "", formats.dialog_filter("detail"))
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """A detail from a file becomes one of the home's; a fault in it is said and nothing changes."""
        try:
            data = read_file(path, detail_files.LARGEST, "detail")
        except OSError as fault:
            self.board.message.emit(f"{printable(path.name)}: {why(fault)}")
            return

        def use(section: Section) -> None:
            ident = fresh_ids(self.board.home, "detail", 1)[0]
            self.board.apply(Insert(owner="home", field="details", value=detail_of(section, ident, source=path.name)))
            self.show(ident)

        def failed(error: Exception) -> None:
            self.board.message.emit(words_of(error, (HomeFileError,)))

        task = Task(detail_files.read, {"data": data, "name": path.name}, LONGEST_READING)
        self.reading.apart(f"Reading {printable(path.name)}", task, use, failed)

    def _ask_write(self) -> None:
        if self.detail is None:
            return
        name, chosen = QFileDialog.getSaveFileName(
            self.board, "Write the detail", f"{self.detail.name}.json", formats.dialog_filter("detail")
        )
        if name:
            self.write(formats.named("detail", name, chosen))

    def write(self, path: Path) -> None:
        """The detail in view as a file."""
        detail = self.detail
        if detail is None:
            return
        try:
            put(path, detail_files.to_bytes(section_of(detail)))
        except (HomeFileError, SectionFault) as fault:
            self.board.message.emit(str(fault))
        else:
            self.board.message.emit(f"Written: {path}")


BLOCKS = (Column("Block", "name"), Column("λ", "conductivity", width=110))


def _sentence(of: object) -> str:
    """What a detail comes to, in one line."""
    if isinstance(of, Computing):
        return "is being worked out …"
    if not isinstance(of, Solved):
        return "cannot be worked out"
    words = (
        [f"ψ {show(of.psi_external, 'psi')} external, {with_unit(of.psi_internal, 'psi')} internal"]
        if of.psi_external is not None and of.psi_internal is not None
        else []
    )
    if of.f_rsi is not None and of.coldest_temperature is not None:
        words.append(f"f_Rsi {of.f_rsi:.2f}, coldest inside {with_unit(of.coldest_temperature, 'temperature')}")
    words.append(f"{of.grid.cells:,} cells".replace(",", "\u202f"))
    return " · ".join(words)
