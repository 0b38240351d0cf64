"""Openings: windows and doors with their types, drawn."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout

from nuthatch.core.assess import Assessment
from nuthatch.core.fabric.drawings import elevation
from nuthatch.core.fabric.opening_year import season_bars
from nuthatch.core.model.home import Home, Opening, OpeningType, find
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
        self.rows = ListPanel(self, _rows_spec(), Opening, 6, add="Add an opening")
        self.types = ListPanel(self, _types_spec(), OpeningType, 6, add="Add a type")
        self.rows.table.selected.connect(lambda _: self._draw())
        self.column.addWidget(self.rows)
        self.column.addWidget(self.rows.card)
        self.column.addWidget(self.types)
        self.shelf = Shelf(self, self.types, "opening_types", "type")
        self.column.addWidget(self.shelf)
        self.column.addWidget(self.types.card)
        self.column.addStretch(1)

    def pictures(self) -> list[tuple[str, str]]:
        return [(k, i) for k in ("opening", "season")] if (i := self.rows.table.current_id()) else []

    def refresh(self) -> None:
        number = sum(round(o.count.value) if o.count else 1 for o in self.document.home.openings)
        whole = sum(1 for t in self.document.home.opening_types if t.entry == "whole window" and t.use != "door")
        flagged = f" · {whole} type{'s' if whole > 1 else ''} by whole-window values" if whole else ""
        self.sub.setText(
            f"{number} openings in {len(self.document.home.openings)} rows{flagged}"
            if number
            else "Windows and doors. Add a type first, then the openings that use it."
        )
        self.shelf.refresh()
        self.types.refresh("An opening type holds glass, frame and edge values, or whole-window values early on.")
        self.rows.refresh("No openings yet. Add one: face, type, width, height.")
        self._draw()

    def _draw(self) -> None:
        opening = find(self.document.home, self.rows.table.current_id())
        a = self.document.assessment
        if not isinstance(opening, Opening) or a is None:
            self.drawing.hide()
            self.gains.hide()
            return
        self.drawing.show()
        self.gains.show()
        kind = find(self.document.home, opening.type)
        self.drawing.show_sketch(elevation(opening, kind if isinstance(kind, OpeningType) else None))
        self.gains.show_sketch(season_bars(a, opening.id, opening.name))

    def focus_field(self, part: str, field: str) -> bool:
        return self.rows.focus_field(part, field) or self.types.focus_field(part, field)


def _u(a: Assessment, row: Opening) -> str:
    e = next((e for e in a.elements if e.id == row.id), None)
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

    def fresh(home: Home) -> dict[str, Any]:
        shade = {"value": 0.8, "basis": "assumed", "source": "until horizon and reveal are given"}
        kind = home.opening_types[0].id if home.opening_types else ""
        return {
            "name": f"W-{len(home.openings) + 1:02d}",
            "type": kind,
            "face": "wall-front" if home.shape.form else "",
            "shade_winter": shade,
            "shade_summer": shade,
        }

    return ListSpec("Openings", lambda: "home", "openings", lambda h: h.openings, columns, lambda: "w", fresh)


def _types_spec() -> ListSpec:
    columns = (
        Column("Opening type", "name"),
        Column("Use", "use", width=80),
        Column("Entered as", "entry", width=120),
        Column("U_g", "glass_u", width=96),
        Column("g", "glass_g", width=60),
        Column("U_f", "frame_u", width=96),
    )
    return ListSpec(
        "Opening types",
        lambda: "home",
        "opening_types",
        lambda h: h.opening_types,
        columns,
        lambda: "opening-type",
        lambda h: {"name": "New type"},
    )
