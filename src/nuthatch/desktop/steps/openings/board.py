"""Openings: windows and doors with their types, drawn."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.model.home import Opening, OpeningType, find
from nuthatch.core.units import show, so_many, unit_of
from nuthatch.core.views.balance.gains import gain_sheet, glazing_sheet
from nuthatch.core.views.openings.drawings import elevation_in, season_bars
from nuthatch.core.views.openings.sun_rows import SUN_HEADS, sun_sheet
from nuthatch.core.views.shape.facade import facade
from nuthatch.desktop.steps.board import Board, ListPanel, loss_text
from nuthatch.desktop.steps.openings.sunny import Sunny
from nuthatch.desktop.steps.shelf import Shelf
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView


class OpeningsBoard(Board):
    key, title = "openings", "Openings"

    def build(self) -> None:
        self.facade = SketchView("The face with its openings")
        self.facade.clicked.connect(self._clicked)
        self.single, self.gains = SketchView("The opening"), SketchView("Loss and sun of the opening")
        both = QWidget()
        beside = QHBoxLayout(both)
        beside.setContentsMargins(0, 0, 0, 0)
        beside.addWidget(self.single, 3)
        beside.addWidget(self.gains, 4)
        self.add_drawing("Face", self.facade)
        self.add_drawing("Opening", both)
        self.sunny = Sunny(self)
        self.let_drag(self.single)
        self.rows = ListPanel(self, _rows_spec(), add="Add an opening")
        self.types = ListPanel(self, _types_spec(), add="Add a type")
        self.rows.table.selected.connect(lambda _: self._draw())
        self.add_list(self.rows)
        self.add_list(self.types, "Types")
        heads = ("Opening", "Looks", f"U {unit_of('u')}", "g", f"Loss {unit_of('energy')}", "Sun", "Net", f"{unit_of('specific_energy')}")
        self.net = ReadTable("What openings win and lose", heads, (0, 50, 86, 36, 84, 48, 48, 88))
        self.net.chosen.connect(self._net_chosen)
        self.work.lists.add("Net gains", self.net)
        self.suns = ReadTable("Sun on openings", tuple(h.text for h in SUN_HEADS), (0, 46, 56, 64, 88, 70, 106, 96, 150))
        self.suns.chosen.connect(self._net_chosen)
        self.work.lists.add("Sun", self.suns)
        self.glass = ReadTable(
            "Glass to floor area", ("Room or direction", f"Glass {unit_of('area')}", f"Floor {unit_of('area')}", "Share"), (0, 96, 96, 80)
        )
        self.work.lists.add("Glass to floor", self.glass)
        self.work.lists.switched.connect(self._fill)
        self.work.drawings.switched.connect(lambda _: self._fill())
        self.work.inspector.add(self.sunny.taken_view)
        self.sunny.taken_view.hide()
        self.desk.ending.connect(self.sunny.taking.close)
        self.work.lists.switched.connect(self._keep_card)
        self.shelf = Shelf(self, self.types, "opening_types", "type")
        self.types.bar.insertWidget(0, self.shelf)

    def _clicked(self, ident: str) -> None:
        self.in_front(self.rows)
        self.rows.table.select(ident)

    def subject(self, picture: str) -> str | None:
        return self.rows.table.current_id() or None

    def refresh(self) -> None:
        number = sum(round(o.count.value) if o.count else 1 for o in self.home.openings)
        whole = sum(1 for t in self.home.opening_types if t.entry == "whole window" and t.use != "door")
        flagged = f" · {whole} type{'s' if whole > 1 else ''} by whole-window values" if whole else ""
        self.sub.setText(
            f"{so_many(number, 'opening')} in {so_many(len(self.home.openings), 'row')}{flagged}"
            if number
            else "Windows and doors. Add a type first, then the openings that use it."
        )
        self.shelf.refresh()
        self.types.refresh("An opening type holds glass, frame and edge values, or whole-window values early on.")
        self.rows.refresh("No openings yet. Add one: face, type, width, height.")
        self._fill()
        self._keep_card()
        self._draw()

    def _net_chosen(self, ident: str) -> None:
        self.rows.table.select(ident)
        self._keep_card()

    def _keep_card(self) -> None:
        """A list read over the home has no card of its own: the opening's stays."""
        if self.work.lists.current in (self.net, self.glass, self.suns):
            self.rows.card.setVisible(bool(self.rows.card.part_id))

    def _fill(self) -> None:
        """Net gains and glazing, while their lists are in front: they are read over the whole home."""
        a = self.assessment
        if a is None:
            return
        if self.net.isVisible():
            self.net.show_sheet(gain_sheet(a))
        looked_at = self.suns.isVisible() or self.sunny.strips.isVisible()
        self.sunny.taken_view.setVisible(looked_at and bool(self.rows.table.current_id()))
        if looked_at:
            self.sunny.follow()
        if self.suns.isVisible():
            self.suns.show_sheet(sun_sheet(a, self.sunny.taking.rows))
        if self.glass.isVisible():
            self.glass.show_sheet(glazing_sheet(a))

    def _draw(self) -> None:
        opening = find(self.home, self.rows.table.current_id())
        a = self.assessment
        shown = isinstance(opening, Opening) and a is not None
        for view in (self.single, self.gains):
            view.setVisible(shown)
        self.facade.setVisible(shown and self.work.drawings.current is self.facade)  # a page of its own: only while it is in front
        self.sunny.draw(opening if isinstance(opening, Opening) and shown else None)
        if not isinstance(opening, Opening) or a is None:
            return
        self.show_drawing(self.facade, lambda a, w, h: facade(a, opening.face, opening.id, (w, h)))
        self.facade.current = opening.id
        self.show_drawing(self.single, lambda a, w, h: elevation_in(a, _of(a, opening), (w, h)))
        self.show_drawing(self.gains, lambda a, w, h: season_bars(a, opening.id, opening.name, (w, h)))

    @property
    def settled(self) -> bool:
        """Nothing of the board's own is being worked out."""
        return self.sunny.taking.settled

    def focus_field(self, part: str, field: str) -> bool:
        return self.rows.focus_field(part, field) or self.types.focus_field(part, field)


def _u(a: Assessment, row: Opening) -> str:
    e = next((e for e in a[ELEMENTS] if e.id == row.id), None)
    return show(e.u.value, "u", 2) if e and e.u and e.u.value is not None else "?"


def _rows_spec() -> ListSpec:
    columns = (
        Column("Opening", "name"),
        Column("Face", "face", width=112),
        Column("Type", "type", width=124),
        Column("Width", "width", width=56),
        Column("Height", "height", width=56),
        Column("No.", "count", width=36),
        Column("U_w", text=_u, right=True, width=46),
        Column("H", text=loss_text, kind="w_per_k", width=54),
    )
    return ListSpec("Openings", Listing("home", "openings", Opening, "w"), columns)


def _types_spec() -> ListSpec:
    columns = (
        Column("Opening type", "name"),
        Column("Use", "use", width=66),
        Column("Entered as", "entry", width=112),
        Column("U_g", "glass_u", width=88),
        Column("g", "glass_g", width=48),
        Column("U_f", "frame_u", width=88),
    )
    return ListSpec("Opening types", Listing("home", "opening_types", OpeningType, "opening-type"), columns)


def _of(a: Assessment, opening: Opening) -> Opening:
    """The opening as it is in a home; as it is here where that has none such."""
    found = find(a.home, opening.id)
    return found if isinstance(found, Opening) else opening
