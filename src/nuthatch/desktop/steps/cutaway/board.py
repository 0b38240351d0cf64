"""Cutaway: the overview, bands as wide as losses and gains, and the year's account."""

from __future__ import annotations

from nuthatch.core.units import unit_of
from nuthatch.core.views.cutaway import STEP, cutaway, year_account
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.sketch_view import SketchView


class CutawayBoard(Board):
    key, title = "cutaway", "Where the heat goes in a year"
    list_height = 156

    def build(self) -> None:
        self.drawing = SketchView("Cutaway of the home")
        self.account = SketchView("The year’s account")
        for view in (self.drawing, self.account):
            view.clicked.connect(self._clicked)
        self.add_drawing("", self.drawing)
        self.work.lists.add("", self.account)

    def refresh(self) -> None:
        a = self.assessment
        if a is None:
            self.sub.setText("computing …")
            return
        self.sub.setText("section of the home · widths in proportion · " + unit_of("energy") + " · click a part to work on it")
        self.drawing.show_sketch(cutaway(a))
        self.account.show_made(lambda w, h: year_account(a, w))

    def _clicked(self, ident: str) -> None:
        kind, _, name = ident.partition(":")
        if kind == "figure" and self.assessment:
            self.explain.emit(self.assessment.figures[name])
        elif name in STEP:
            self.go.emit(STEP[name], "", "")
