"""Shape: storey plans, the quick form or a list of faces; drawings tinted, lists, inspector."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QStackedWidget, QWidget

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.plan_edits import as_plans
from nuthatch.core.edits.whole_parts import as_form, as_list
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.exchange.convert import taken_out
from nuthatch.core.files import formats
from nuthatch.core.files.homefile import HomeFile, HomeFileError, put
from nuthatch.core.model.home import Face
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import show, unit_of
from nuthatch.core.views.shadows import Hour
from nuthatch.core.views.shape.axonometric import View, axonometric
from nuthatch.core.views.shape.facade import facade
from nuthatch.core.views.shape.plans_and_elevations import face_losses, plan, take_off, take_off_line
from nuthatch.desktop.steps.board import Board, ListPanel, button, loss_text
from nuthatch.desktop.steps.shape.drawing_table import SOLID_VIEW
from nuthatch.desktop.steps.shape.look_menu import LookMenu
from nuthatch.desktop.steps.shape.plans_part import PlansPart
from nuthatch.desktop.steps.shape.taking_in import TakingIn
from nuthatch.desktop.steps.shape.tint_row import TintRow
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.reading import Reading
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

SAYS = {
    "plans": "Storey plans and roofs: faces, edges, rooms, areas and volumes follow from them.",
    "form": "A plain house from a few dimensions; everything is drawn and measured from them.",
    "list": "A list of faces. Type it, or paste rows from a spreadsheet: name, kind, area, tilt, looks to, borders on, build-up, b.",
}
HEADS = (("Net area", "area"), ("U", "u"), ("H", "w_per_k"))


class ShapeBoard(Board):
    tools_height = 36
    key, title = "shape", "Shape"

    _way = ""

    def build(self) -> None:
        self.reading = Reading(self)
        self.plans = PlansPart(self, self.reading, {"list": self._to_list, "save": self.save_shape, "take in": self.take_in})
        self.plans.chosen.connect(self._also_in_list)
        self.plans.redraw.connect(self._draw)
        self.plan_view = SketchView("Plan")
        self.solid_view = SketchView("Axonometric", turns=True)
        self.facade_view = SketchView("The face that is chosen, from outside")
        self.losses_view = SketchView("Loss by face")
        for view in (self.plan_view, self.solid_view, self.facade_view, self.losses_view):
            view.clicked.connect(self._clicked)
        self.solid_view.turned.connect(self._turned)
        both = QWidget()
        beside = QHBoxLayout(both)
        beside.setContentsMargins(0, 0, 0, 0)
        beside.addWidget(self.plan_view, 4)
        beside.addWidget(self.solid_view, 5)
        self.tint = TintRow(self)
        self.tint.changed.connect(self._draw)
        self.tint.fits_anew.connect(self.work.drawings.refit)
        self.looks = LookMenu(self)
        self.looks.looked.connect(self._look)
        self.looks.cut.connect(self._cut_open)
        self.looks.changed.connect(self._draw)
        self.sheets = QStackedWidget()
        self.sheets.addWidget(both)
        self.sheets.addWidget(self.plans.table)
        self.add_drawing("Plan and solid", self.sheets, row_of(self.tint.range, QLabel("Tint by"), self.tint.by, self.looks))
        self.add_drawing("Face", self.facade_view)
        self.add_drawing("Losses", self.losses_view)
        self._face_lists()
        self._below()
        self.column.insertWidget(self.column.indexOf(self.work), self.reading.waiting)
        self.taking = TakingIn(self, self.reading)

    def _below(self) -> None:
        """The take-off above the workspace, lists, and the cards of the inspector."""
        self.takeoff = SketchView("Take-off", 56)
        self.takeoff.clicked.connect(self._clicked)
        self.column.insertWidget(self.column.indexOf(self.work), self.takeoff)
        self.work.lists.add("Faces", self.drawn_faces, row_of(self.to_plans, self.to_list))
        self.add_list(self.faces, "List of faces")
        self.plans.declare()
        self.form_card = EditCard(self.desk)
        self.form_card.setAccessibleName("Quick form")
        self.shape_card = EditCard(self.desk)
        self.work.inspector.add(self.form_card)
        self.work.inspector.add(self.shape_card)

    def _face_lists(self) -> None:
        """The list of faces, those of a form to read, and the ways from one to another."""
        self.faces = ListPanel(self, _faces_spec(), add="Add a face")
        self.faces.table.selected.connect(lambda _: self._draw())
        self.drawn_faces = ReadTable(
            "Faces of the form", ("Face", "Borders on", *(f"{n} {unit_of(k)}" for n, k in HEADS)), (0, 112, 92, 100, 78)
        )
        self.drawn_faces.chosen.connect(self._face_chosen)
        self.to_list = button(
            "Edit as a list of faces", self._to_list, tip="Turn the form into a list of faces, for a home that is no simple form"
        )
        self.to_plans = button("Go on as storey plans", self._to_plans, tip="Draw on: storeys, outlines, rooms and roofs from the form")
        self.to_form = button("Start a quick form", self._to_form)
        self.draw_plans = button("Draw storey plans", self._to_plans)
        self.faces.bar.insertWidget(0, button("", self.take_in, "folder-open", "Take in gbXML, or faces as CSV or XLSX"))
        self.faces.bar.insertWidget(0, button("", self.save_shape, "save", "Save the faces as CSV or XLSX"))
        self.faces.bar.insertWidget(0, self.draw_plans)
        self.faces.bar.insertWidget(0, self.to_form)

    def _clicked(self, ident: str) -> None:
        """A face, an opening, a result, or an entry the drawing still needs."""
        a = self.assessment
        if self.home.shape.plans is not None and not ident.startswith("field:") and (a is None or ident not in a.figures):
            self.plans.select(ident)
            return
        if ident.startswith("field:"):
            _, part, field = ident.split(":")
            self.focus_field(part, field)
        elif a is not None and ident in a.figures:
            self.explain.emit(a.figures[ident])
        elif any(o.id == ident for o in self.home.openings):
            self.go.emit("openings", ident, "position")
        elif not self.drawn_faces.select(ident):
            self.faces.table.select(ident)
        self._draw()

    def _face_chosen(self, ident: str) -> None:
        if self.home.shape.plans is not None:
            self.plans.select(ident)
        else:
            self._draw()

    def subject(self, picture: str) -> str | None:
        planned = self.home.shape.plans is not None
        return self.plans.table.storey if picture == "plan" and planned else ""

    def _also_in_list(self, ident: str) -> None:
        """The face selected in the plans, in the list of faces too."""
        self.drawn_faces.blockSignals(True)
        self.drawn_faces.select(ident)
        self.drawn_faces.blockSignals(False)

    @property
    def settled(self) -> bool:
        return not self.reading.running

    def own_steps(self) -> tuple[str, str]:
        return self.plans.table.plan.own_steps() if self.home.shape.plans is not None else ("", "")

    def take_back(self) -> bool:
        return self.plans.table.plan.take_back()

    def bring_back(self) -> bool:
        return self.plans.table.plan.bring_back()

    def _turned(self, dx: float, dy: float) -> None:
        self.plans.table.look = self.plans.table.look.dragged(dx, dy)
        self._draw()

    def _cut_open(self, axis: int | None) -> None:
        """Look into the home: what lies on this side of a plane taken away."""
        self.plans.table.cut_open(axis)
        self._draw()

    def _look(self, turn: float, lift: float) -> None:
        table = self.plans.table
        table.look = View(turn, lift)
        if self.home.shape.plans is not None and table.in_front != SOLID_VIEW:
            table.show_large(SOLID_VIEW)
        self._draw()

    def _draw(self, *_: object) -> None:
        a = self.assessment
        if a is None:
            return
        tint = self.tint.chosen()
        chosen = self.desk.under_way.get("hour", Hour())
        self.plans.table.hour = chosen if self.looks.shadows.isChecked() else None
        table = self.plans.table
        view = replace(table.look, see_through=self.looks.see_through, cut=table.cut, hour=table.hour)
        planned = a.home.shape.plans is not None
        self.plans.show(planned, tint, view.see_through)
        face = self._face()
        self.show_drawing(self.facade_view, lambda a, w, h: facade(a, face, "", (w, h)))
        self.show_drawing(self.losses_view, face_losses)
        self.takeoff.setFixedHeight(22 if planned else 56)
        self.takeoff.show_made(lambda w, h: take_off_line(a, w) if planned else take_off(a, w))
        if planned:
            return
        self.show_drawing(self.plan_view, lambda a, w, h: plan(a, tint, (w, h)))
        self.show_drawing(self.solid_view, lambda a, w, h: axonometric(a, view, tint, (w, h)))

    def _face(self) -> str:
        """The face being looked at: the chosen one, or the first with openings."""
        known = self.assessment[SOLID].outer if self.assessment is not None else {}
        chosen = self.drawn_faces.current_id()
        return chosen if chosen in known else next((o.face for o in self.home.openings if o.face in known), next(iter(known), ""))

    def refresh(self) -> None:
        shape = self.home.shape
        way = "plans" if shape.plans is not None else "form" if shape.form is not None else "list"
        self.sub.setText(SAYS[way])
        self.sub.setVisible(way != "plans")
        for made, ways in ((self.to_form, ("list",)), (self.draw_plans, ("list",)), (self.to_plans, ("form",)), (self.to_list, ("form",))):
            made.setVisible(way in ways)
        drawn = way != "list"
        self.work.lists.buttons[0].setVisible(drawn)
        self.work.lists.buttons[self.work.lists.stack.indexOf(self.faces)].setVisible(not drawn)
        self.sheets.setCurrentIndex(1 if way == "plans" else 0)
        for n, on in enumerate((drawn, drawn, True)):
            self.work.drawings.buttons[n].setVisible(on)
        if way != self._way:
            self._another_way(way)
        self.form_card.setVisible(way == "form")
        if way == "form":
            self.form_card.show_part("form", "Quick form")
        self.shape_card.show_part("shape", "Whole shape")
        self.faces.refresh("No faces yet. Paste rows from a spreadsheet, or add the first face.")
        self.drawn_faces.show_rows(self._rows(), (2, 3, 4))
        self.taking.show_left_out()
        self._draw()

    def _another_way(self, way: str) -> None:
        """The shape is entered another way than before: what belongs to it comes to the front."""
        drawn = way != "list"
        self.work.lists.show_index(0 if drawn else self.work.lists.stack.indexOf(self.faces))
        if not drawn:
            self.work.drawings.show_index(2)  # a list has areas, no outlines to draw
        elif self._way in ("list", ""):
            self.work.drawings.show_index(0)
        self._way = way

    def _rows(self) -> list[tuple[str, tuple[str, ...]]]:
        a = self.assessment
        if a is None or (a.home.shape.form is None and a.home.shape.plans is None):
            return []
        found = []
        for e in a[ELEMENTS]:
            if e.is_face and e.area is not None:
                numbers = ((e.area, "area"), (e.u, "u"), (e.loss, "w_per_k"))
                cells = (show(n.value, k) if n is not None and n.value is not None else "?" for n, k in numbers)
                found.append((e.id, (e.name, e.borders, *cells)))
        return found

    def _to_list(self) -> None:
        a = self.assessment
        if a is None or not a[SOLID].boundaries:
            self.apply(SetValue(part="shape", field="form", value=None))
            return
        self.apply(as_list(a))

    def save_shape(self) -> None:
        """The shape as gbXML, DXF, SVG, or a table of its faces."""
        a = self.assessment
        if a is None:
            return
        name, chosen = QFileDialog.getSaveFileName(self, "Save the shape", a.home.name, formats.dialog_filter("shape"))
        if not name:
            return
        path = formats.named("shape", name, chosen)
        try:
            put(path, taken_out(HomeFile(a.home, None), path, a))
            self.message.emit(f"Saved: {path.name}")
        except HomeFileError as why:
            self.message.emit(str(why))

    def take_in(self) -> None:
        """The shape of a file in place of the home's own; it can be undone."""
        self.taking.ask()

    def _to_plans(self) -> None:
        self.apply(as_plans(self.home))

    def _to_form(self) -> None:
        self.apply(as_form())

    def focus_field(self, part: str, field: str) -> bool:
        if self.home.shape.plans is not None and self.plans.focus_field(part, field):
            return True
        if part == "form":
            return self.form_card.focus_field(field)
        if part == "shape":
            if field == "faces":
                self.work.lists.show_widget(self.faces)
                self.faces.table.setFocus()
                return True
            return self.shape_card.focus_field(field)
        return self.faces.focus_field(part, field)


def _faces_spec() -> ListSpec:
    columns = (
        Column("Face", "name"),
        Column("Kind", "role", width=58),
        Column("Area", "area", width=62),
        Column("Tilt", "tilt", width=46),
        Column("Looks to", "azimuth", width=66),
        Column("Borders on", "borders", width=88),
        Column("Build-up", "buildup", width=104),
        Column("b", "b", width=42),
        Column("H", text=loss_text, kind="w_per_k", width=56),
    )
    return ListSpec("Faces", Listing("shape", "faces", Face, "face"), columns)
