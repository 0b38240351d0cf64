"""Pipes drawn on the plan of a storey, beside their list."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.pipe_edits import pipe_drawn, pipe_redrawn
from nuthatch.core.model.hot_water import PipeRun
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import with_unit
from nuthatch.core.views.pipes import pipe_plan, storey_shown
from nuthatch.core.views.shape.plan_frame import frame_of, to_snap
from nuthatch.core.water.led import length_of
from nuthatch.core.water.stages import WATER
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.steps.table.plan_view import PlanView
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.workspace import row_of

KEYS = {Qt.Key.Key_P: "pipe"}


class PipesPart:
    """Declares its drawing and its list on the board and keeps them up to date."""

    def __init__(self, board: Board) -> None:
        self.board, self.desk = board, board.desk
        self.plan = PlanView("Pipes on the plan", KEYS)
        self.plan.half_drawn = self.desk.under_way.setdefault("drawing pipes", {})
        self.plan.clicked.connect(self._clicked)
        self.plan.drawn.connect(self._drawn)
        self.plan.said.connect(lambda words: board.message.emit(words) if words else None)
        self.plan.unwanted.connect(lambda: self.list.table.remove_selected())
        self.storey = QComboBox()
        self.storey.setAccessibleName("Storey of the pipes")
        self.storey.activated.connect(lambda _: self.draw())
        self.draw_button = button("Draw a pipe", partial(self.draw_with, ""), "plus", "Click its corners on the plan, Enter ends it (P)")
        self.way_button = button("Draw its way", self._draw_chosen, "", "The way of the pipe chosen in the list; its length then follows")
        board.add_drawing("Pipes", self.plan, row_of(self.storey, self.draw_button, self.way_button))
        self.list = ListPanel(board, _runs(), add="Add a pipe")
        board.add_list(self.list, "Pipes")
        self.list.table.selected.connect(lambda _: self.draw())
        self._for = ""

    def refresh(self) -> None:
        """Show the snapshot."""
        self.list.refresh("No pipes: a ring that is kept warm, pipes to taps. Draw them on the plan, or list them with their lengths.")
        plans = self.board.home.shape.plans
        rows = [(s.id, s.name) for s in plans.storeys] if plans is not None else []
        held = self.storey.currentData()
        if [self.storey.itemData(n) for n in range(self.storey.count())] != [i for i, _ in rows]:
            self.storey.clear()
            for ident, name in rows:
                self.storey.addItem(name, ident)
            a = self.board.assessment
            first = storey_shown(a, held or "") if a is not None else ""
            self.storey.setCurrentIndex(max(self.storey.findData(first), 0))
        for widget in (self.storey, self.draw_button):
            widget.setEnabled(bool(rows))
        self.way_button.setEnabled(bool(rows) and bool(self.list.table.current_id()))
        self.draw()

    def draw(self) -> None:
        """The plan of the storey in front."""
        storey, chosen = str(self.storey.currentData() or ""), self.list.table.current_id()
        self.way_button.setEnabled(self.draw_button.isEnabled() and bool(chosen))

        def drawn(a: Assessment, w: float, h: float) -> Sketch:
            plans = a.home.shape.plans
            if plans is not None and plans.storeys:
                self.plan.frame = frame_of(plans, (w, h))
                self.plan.targets = to_snap(plans, storey_shown(a, storey), self.plan.frame)
            return pipe_plan(a, storey, (w, h), chosen)

        self.plan.on_storey(storey)
        self.board.show_drawing(self.plan, drawn)

    def draw_with(self, run: str) -> None:
        """Take the pipe in hand, the plan in front; run: whose way it is to be, '' for a new one."""
        self._for = run
        self.board.work.drawings.show_widget(self.plan)
        self.plan.stop()
        self.plan.start("pipe")

    def _draw_chosen(self) -> None:
        self.draw_with(self.list.table.current_id())

    def _drawn(self, tool: str, points: tuple[Point2, ...]) -> None:
        """What was drawn becomes a pipe; what is refused stays on the plan, with why."""
        storey, run = str(self.storey.currentData() or ""), self._for
        home = self.board.home
        known = any(r.id == run for r in home.water.runs)
        refused = self.desk.apply(lambda: pipe_redrawn(home, run, storey, points) if known else pipe_drawn(home, storey, points))
        if refused:
            self.plan.refuse(tool, points, refused)
            return
        self._for = ""
        self.board.present(self.desk.snapshot)
        self.board.in_front(self.list)
        self.list.table.select(run if known else self.board.home.water.runs[-1].id)

    def _clicked(self, ident: str) -> None:
        if any(r.id == ident for r in self.board.home.water.runs):
            self.board.in_front(self.list)
            self.list.table.select(ident)
            self.draw()

    def focus_field(self, part: str, field: str) -> bool:
        """Lead to a field of a pipe, or of a corner of one."""
        owner = next((r.id for r in self.board.home.water.runs if any(c.id == part for c in r.corners)), "")
        if owner:
            return self.list.focus_field(owner, "length")
        return self.list.focus_field(part, field)


def _long(_: Assessment, run: PipeRun) -> str:
    """Its length as it counts: drawn where it is not typed."""
    value = length_of(run).value
    return with_unit(float(value), "length") if value is not None else ""


def _runs_for(a: Assessment, run: PipeRun) -> str:
    """Hours a day it runs, by its pattern or as typed."""
    if run.kind == "to a tap":
        return ""
    value = next((k.hours for k in a[WATER].kept if k.id == run.id and k.hours is not None), None)
    return f"{value:.3g}" if value is not None else "—"


def _loses(a: Assessment, run: PipeRun) -> str:
    """What it loses in a year."""
    loss = next((k.loss.value for k in a[WATER].kept if k.id == run.id), None)
    return with_unit(float(loss.sum()), "energy") if loss is not None else ""


def _runs() -> ListSpec:
    columns = (
        Column("Pipe", "name"),
        Column("Kind", "kind", width=82),
        Column("Length", text=_long, right=True, width=74),
        Column("Hours", text=_runs_for, right=True, width=52),
        Column("Lies", "place", width=100),
        Column("Loses", text=_loses, right=True, width=98),
    )
    return ListSpec("Pipes", Listing("hot-water", "runs", PipeRun, "pipe"), columns)
