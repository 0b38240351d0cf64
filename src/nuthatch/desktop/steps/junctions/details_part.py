"""The details of the junctions board: their drawing, their list, the blocks of the one that is current; files in and out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QFileDialog, QLabel, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert
from nuthatch.core.edits.desk import Listing, fresh_ids
from nuthatch.core.edits.detail_edits import block_added, side_moved, side_typed, with_side_moved
from nuthatch.core.edits.opening_details import psi_taken
from nuthatch.core.exchange import detail_files
from nuthatch.core.files import formats
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.homefile import HomeFileError, put
from nuthatch.core.heatflow.of_home import detail_of, section_of
from nuthatch.core.heatflow.section import Section, SectionFault
from nuthatch.core.heatflow.solved import Solved, solved
from nuthatch.core.heatflow.stages import FOLLOWED, SOLVED
from nuthatch.core.library import materials
from nuthatch.core.model.details import Detail, DetailBlock
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.results.figure import Computing
from nuthatch.core.sketch import Handle, snapping
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.junctions.detail import BLOCK, SIDE, frame_of, of_detail
from nuthatch.core.workers import LONGEST_READING, Task
from nuthatch.desktop.jobs import Jobs, words_of
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.steps.junctions.detail_facts import DetailFacts
from nuthatch.desktop.steps.junctions.detail_view import DetailView
from nuthatch.desktop.steps.junctions.sides_card import SidesCard
from nuthatch.desktop.steps.shelf import Shelf
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.reading import Reading


class DetailsPart:
    """What the board shows of details; `current` is the one in view."""

    def __init__(self, board: Board) -> None:
        self.board, self.current = board, ""
        self.reading = Reading(board)
        self._trial: Trial | None = None
        self._jobs = Jobs(board)
        self.view = DetailView("Detail with isotherms")
        self.view.clicked.connect(self._block_clicked)
        self.view.emptied.connect(lambda: self.blocks.table.clearSelection())
        self.view.dragged.connect(self._pulled)
        self.view.dropped.connect(self._let_go)
        self.view.let_be.connect(lambda _: self._give_up())
        self.view.drawn.connect(self._block_drawn)
        self.view.gave_up.connect(lambda: self.draw_button.setChecked(False))
        self.says = QLabel()
        self.says.setObjectName("muted")
        self.says.setWordWrap(True)
        self.sheet = QWidget()
        column = QVBoxLayout(self.sheet)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.says)
        column.addWidget(self.view, 1)
        self._lists(board)

    def _lists(self, board: Board) -> None:
        """The details, the blocks of the one in view, and what stands beside them."""
        self.list = ListPanel(board, ListSpec("Details", Listing("home", "details", Detail, "detail"), self._columns()), add="Add a detail")
        self.list.add_button.hide()  # a detail is drawn from a junction or read from a file, never begun empty
        self.list.bar.insertWidget(0, button("Read …", self._ask_read, "folder-open", "Take in a detail from a file"))
        self.list.bar.insertWidget(1, button("Write …", self._ask_write, "save", "Write the detail as a file"))
        self.shelf = Shelf(board, self.list, "details", "detail")
        self.list.bar.insertWidget(2, self.shelf)
        taken = button("Take its ψ", self._take_psi, "", "The type of opening a detail is drawn for takes its ψ")
        self.list.bar.insertWidget(3, taken)
        self.list.table.selected.connect(lambda _: self.show(self.list.table.current_id()))
        columns = (*BLOCKS, Column("Follows", text=self._followed, width=190))
        self.blocks = ListPanel(board, ListSpec("Blocks", self._blocks, columns, sortable=False), hide=("follows",), add="Add a block")
        self.blocks.copy_button.hide()
        self.blocks.add_button.hide()  # a block is drawn where it lies
        self.blocks.table.selected.connect(lambda _: self._chosen())
        self.material = QComboBox()
        self.material.setAccessibleName("Material of a block that is drawn")
        self.material.addItems([str(m["name"]) for m in materials() if m.get("conductivity")])
        self.material.setCurrentText(FIRST)
        self.draw_button = button("Draw a block", lambda: None, "plus", "Then drag a rectangle in the drawing; what it takes gives way")
        self.draw_button.setCheckable(True)
        self.draw_button.toggled.connect(self._to_draw)
        self.blocks.bar.insertWidget(0, self.draw_button)
        self.blocks.bar.insertWidget(1, self.material)
        self.sides = SidesCard(self._side_typed, board.message.emit)
        self.facts = DetailFacts()
        board.work.inspector.add(self.facts)
        board.work.inspector.add(self.sides)

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
        """The one in view, as its build-ups are now."""
        a = self.board.assessment
        kept = next((d for d in self.board.desk.home.details if d.id == self.current), None)
        return a.all_of(FOLLOWED).get(self.current, kept) if a is not None and kept is not None and a.home is self.board.desk.home else kept

    @property
    def block(self) -> DetailBlock | None:
        """The block that is selected."""
        detail, chosen = self.detail, self.blocks.table.current_id()
        return next((b for b in detail.blocks if b.id == chosen), None) if detail is not None else None

    def _followed(self, a: Assessment, block: DetailBlock) -> str:
        """Which layer a block follows, in words."""
        if not block.follows:
            return "own to this detail"
        return next((b.name for b in a.home.buildups for x in b.layers if x.id == block.follows), "a layer that is gone")

    def refresh(self) -> None:
        """Show the home as it is now."""
        details = self.board.desk.home.details
        if self.detail is None:
            self.current = details[0].id if details else ""
        self.list.refresh("A detail is the drawn section of a junction: select one, “Draw its detail”; or read one from a file.")
        self.blocks.refresh("The blocks of the detail in view: drag their sides in the drawing, type their λ here.")
        self._show_sides()
        self.shelf.refresh()
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

    def _chosen(self) -> None:
        self._show_sides()
        self._draw()

    def fronted(self) -> None:
        """Another list has come to the front."""
        self._show_sides()

    @property
    def settled(self) -> bool:
        return not self.reading.running and not self._jobs.running

    def _show_sides(self) -> None:
        front, a, detail = self.board.work.lists.current, self.board.assessment, self.detail
        self.sides.show_block(self.block if front is self.blocks else None)
        shown = detail if front in (self.blocks, self.list) else None
        self.facts.show_detail(a, shown, a.all_of(SOLVED).get(shown.id) if a is not None and shown is not None else None)

    def _take_psi(self) -> None:
        a, detail = self.board.assessment, self.detail
        if a is not None and detail is not None:
            self.board.apply(lambda: psi_taken(a, detail))

    # drawing in the section

    def _pulled(self, handle: Handle, values: tuple[float, ...]) -> None:
        """A side is dragged: the section as it would be, its heat flow on a coarse grid while the drag goes on."""
        detail = self.detail
        if detail is None or not handle.id.startswith(SIDE):
            return
        n = int(handle.id.removeprefix(SIDE))
        try:
            made = with_side_moved(detail, handle.pulls[0].part, n, values[0]) if values[0] else detail
        except ChangeRefused as reason:
            self.board.message.emit(str(reason))
            return
        before = self._trial.rough if self._trial is not None else None
        self._trial = Trial(made, handle.pulls[0].part, n, values[0], before)
        self._draw_trial()
        if not self._jobs.running:
            self._rough()

    def _rough(self) -> None:
        """Work the drag out roughly; what is dragged meanwhile comes next."""
        trial = self._trial
        if trial is None:
            return

        def done(found: Solved | None) -> None:
            now = self._trial
            if now is None:
                return
            self._trial = replace(now, rough=found)
            self._draw_trial()
            if now.detail is not trial.detail:
                self._rough()

        self._jobs.start("rough heat flow", lambda job: roughly(trial.detail), done)

    def _draw_trial(self) -> None:
        trial = self._trial
        if trial is None:
            return
        ids = [b.id for b in trial.detail.blocks]
        selected = ids.index(trial.block) if trial.block in ids else None
        self.view.show_made(lambda w, h: of_detail(trial.detail, trial.rough, (w, h), selected))
        if trial.rough is not None:
            self.says.setText(f"{trial.detail.name} · {_sentence(trial.rough)} · roughly")

    def _let_go(self, handle: Handle) -> None:
        """The drag is over: it becomes one step."""
        trial, detail = self._trial, self.detail
        self._trial = None
        self._jobs.cancel()
        if trial is not None and detail is not None and trial.by:
            self.board.apply(lambda: side_moved(self.board.desk.home, detail, trial.block, trial.side, trial.by))
        self._draw()

    def _give_up(self) -> None:
        self._trial = None
        self._jobs.cancel()
        self._draw()

    def _side_typed(self, side: str, to: float) -> None:
        detail, block = self.detail, self.block
        if detail is not None and block is not None:
            self.board.apply(lambda: side_typed(self.board.desk.home, detail, block.id, side, to))
            self._show_sides()

    def _to_draw(self, on: bool) -> None:
        self.view.drawing = on and self.detail is not None
        if on and self.detail is None:
            self.draw_button.setChecked(False)
        elif on:
            self.board.work.drawings.show_widget(self.sheet)
            self.view.setFocus()

    def _block_drawn(self, a: tuple[float, float], b: tuple[float, float]) -> None:
        """A rectangle becomes a block of the chosen material."""
        self.draw_button.setChecked(False)
        detail, sketch = self.detail, self.view.sketch
        if detail is None or sketch is None:
            return
        step = snapping(True)[0]
        made = next(m for m in materials() if m["name"] == self.material.currentText())
        given = Given(value=float(made["conductivity"]), basis=Basis.DECLARED, source=str(made["source"]))
        ident = ""

        def change() -> Batch:
            nonlocal ident
            frame = frame_of(section_of(detail), (sketch.width, sketch.height))
            corners = tuple(tuple(round(c / step) * step for c in frame.back(p)) for p in (a, b))
            batch, ident = block_added(self.board.desk.home, detail, corners, str(made["name"]), given)  # type: ignore[arg-type]
            return batch

        self.board.apply(change)
        if ident:
            self.board.in_front(self.blocks)
            self.board.present(self.board.desk.snapshot)
            self.blocks.table.select(ident)

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
FIRST = "XPS, 0.036"
"""The material a block has at first."""


@dataclass(frozen=True)
class Trial:
    """A side that is being dragged: the detail as it would be, which block and side, by how much [m], and its heat flow, roughly."""

    detail: Detail
    block: str
    side: int
    by: float
    rough: Solved | None = None


def roughly(detail: Detail) -> Solved | None:
    """A detail worked out on a coarse grid; None where it cannot be."""
    try:
        return solved(section_of(detail), rough=True)
    except SectionFault:
        return None


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
