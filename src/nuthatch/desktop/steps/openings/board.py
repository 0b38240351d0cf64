"""Openings: windows and doors with their types, drawn."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.drawings import elevation_in, season_bars
from nuthatch.core.model.home import Opening, OpeningType, find
from nuthatch.core.units import show
from nuthatch.desktop.steps.board import Board, ListPanel, loss_text
from nuthatch.desktop.steps.shelf import Shelf
from nuthatch.desktop.widgets.list_table import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView


class OpeningsBoard(Board):
    key, title = "openings", "Openings"

    def build(self) -> None:
        top = QHBoxLayout()
        self.drawing, self.gains = SketchView("The opening", 230), SketchView("Loss and sun of the opening", 230)
        top.addWidget(self.drawing, 3)
        top.addWidget(self.gains, 5)
        self.column.addLayout(top)
        self.rows = ListPanel(self, _rows_spec(), 6, add="Add an opening")
        self.types = ListPanel(self, _types_spec(), 6, add="Add a type")
        self.rows.table.selected.connect(lambda _: self._draw())
        self.column.addWidget(self.rows)
        self.column.addWidget(self.rows.card)
        self.column.addWidget(self.types)
        self.shelf = Shelf(self, self.types, "opening_types", "type")
        self.column.addWidget(self.shelf)
        self.column.addWidget(self.types.card)
        self.column.addStretch(1)

    def subject(self, picture: str) -> str | None:
        return self.rows.table.current_id() or None

    def refresh(self) -> None:
        number = sum(round(o.count.value) if o.count else 1 for o in self.home.openings)
        whole = sum(1 for t in self.home.opening_types if t.entry == "whole window" and t.use != "door")
        flagged = f" · {whole} type{'s' if whole > 1 else ''} by whole-window values" if whole else ""
        self.sub.setText(
            f"{number} openings in {len(self.home.openings)} rows{flagged}"
            if number
            else "Windows and doors. Add a type first, then the openings that use it."
        )
        self.shelf.refresh()
        self.types.refresh("An opening type holds glass, frame and edge values, or whole-window values early on.")
        self.rows.refresh("No openings yet. Add one: face, type, width, height.")
        self._draw()

    def _draw(self) -> None:
        opening = find(self.home, self.rows.table.current_id())
        a = self.assessment
        if not isinstance(opening, Opening) or a is None:
            self.drawing.hide()
            self.gains.hide()
            return
        self.drawing.show()
        self.gains.show()
        self.drawing.show_sketch(elevation_in(a, opening))
        self.gains.show_sketch(season_bars(a, opening.id, opening.name))

    def focus_field(self, part: str, field: str) -> bool:
        return self.rows.focus_field(part, field) or self.types.focus_field(part, field)


def _u(a: Assessment, row: Opening) -> str:
    e = next((e for e in a[ELEMENTS] if e.id == row.id), None)
    return show(e.u.value, "u", 2) if e and e.u and e.u.value is not None else "?"


def _rows_spec() -> ListSpec:
    columns = (
        Column("Opening", "name"),
        Column("Face", "face", width=92),
        Column("Type", "type", width=140),
        Column("b", "width", width=66),
        Column("h", "height", width=66),
        Column("No.", "count", width=44),
        Column("U_w", text=_u, right=True, width=54),
        Column("H", text=loss_text, kind="w_per_k", width=66),
    )
    return ListSpec("Openings", Listing("home", "openings", Opening, "w"), columns)


def _types_spec() -> ListSpec:
    columns = (
        Column("Opening type", "name"),
        Column("Use", "use", width=80),
        Column("Entered as", "entry", width=120),
        Column("U_g", "glass_u", width=96),
        Column("g", "glass_g", width=60),
        Column("U_f", "frame_u", width=96),
    )
    return ListSpec("Opening types", Listing("home", "opening_types", OpeningType, "opening-type"), columns)
