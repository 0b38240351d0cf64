"""Build-ups: the section to scale, layers from outside to inside, the materials library."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QCompleter, QMenu, QVBoxLayout

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import ChangeRefused, Move
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.fabric_edits import from_cavity, layer_beside, swapped
from nuthatch.core.edits.whole_parts import MATERIAL_FIELDS, material_into
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.buildup import framing_error, resistances, transmittance
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import BuildUpUse
from nuthatch.core.library import materials
from nuthatch.core.model.home import BuildUp, Layer, find
from nuthatch.core.model.part import Given
from nuthatch.core.office import load_office
from nuthatch.core.solid.stages import AREA, BOUNDARY
from nuthatch.core.solid.thickness import effective_layers, thickness
from nuthatch.core.units import in_other_system, show, system, unit_of, with_unit
from nuthatch.core.views.build_ups.section import moisture_year, section_in, use_in
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.steps.build_ups.by_r import ByR
from nuthatch.desktop.steps.build_ups.envelope_panel import EnvelopePanel
from nuthatch.desktop.steps.build_ups.section_tools import SectionTools
from nuthatch.desktop.steps.shelf import Shelf
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of


class BuildUpsBoard(Board):
    key, title = "build-ups", "Build-ups"
    tools_height = 8

    def build(self) -> None:
        self.drawing = SketchView("Section of the build-up")
        self.drawing.clicked.connect(self._layer_clicked)
        self.builds = ListPanel(self, _builds_spec(self), add="New")
        self.layers = ListPanel(self, _layers_spec(self), ("framing_name",), add="Add", ordered=True)
        self.builds.table.selected.connect(self._picked)
        self.layers.table.selected.connect(lambda _: self.draw())
        self.library = self._material_finder()
        self._filled: object = None  # the materials and units it lists now
        self.layers.bar.insertWidget(0, self.library)
        self.layers.bar.insertWidget(2, button("Between", self.put_between, "", "Put a layer inside of this one"))
        self.pick = self._picker()
        self.tools = SectionTools(self)
        self.tools.changed.connect(self.draw)
        self.drawing.carried.connect(self._carried)
        self.add_drawing("Section", self.drawing, row_of(*self.tools.widgets, self.pick))
        self.moisture = SketchView("Moisture through the year")
        self.add_drawing("Moisture year", self.moisture)
        self.add_list(self.layers)
        self.add_list(self.builds, "All build-ups")
        self.used = ReadTable("Where it is used", ("Face", "Borders on", f"Area {unit_of('area')}", f"U {unit_of('u')}"), (0, 130, 90, 130))
        self.used.opened.connect(lambda ident: self.go.emit("shape", ident, "buildup"))
        self.work.lists.add("Where used", self.used)
        self._build_up_tools()
        self.envelopes = EnvelopePanel(self)
        self.work.lists.add("Starter envelopes", self.envelopes, self.envelopes.bar)
        self.work.lists.switched.connect(lambda _: self._keep_card())

    def _material_finder(self) -> QComboBox:
        """The library's materials, found as one types."""
        library = QComboBox()
        library.setAccessibleName("Material from the library")
        library.setMaximumWidth(170)
        library.setMinimumContentsLength(4)
        library.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        library.activated.connect(self.take_material)
        library.setEditable(True)
        library.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        line = library.lineEdit()
        assert line is not None
        line.setPlaceholderText("Material …")
        finder = library.completer()
        assert finder is not None
        finder.setFilterMode(Qt.MatchFlag.MatchContains)
        finder.setCompletionMode(QCompleter.CompletionMode.PopupCompletion)
        return library

    def _picker(self) -> QComboBox:
        """Which build-up is shown."""
        pick = QComboBox()
        pick.setAccessibleName("Build-up shown")
        pick.setMinimumContentsLength(18)
        pick.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        pick.activated.connect(lambda _: self.builds.table.select(str(pick.currentData())))
        return pick

    def _build_up_tools(self) -> None:
        """What is done with a whole build-up: kept, swapped, made by R."""
        self.shelf = Shelf(self, self.builds, "buildups", "build-up")
        self.builds.bar.insertWidget(0, self.shelf)
        self.swap_button = button("Swap", self._ask_swap, "", "Put another build-up in its place, everywhere")
        self.builds.bar.addWidget(self.swap_button)
        self.by_r = ByR(self._by_r)
        self.by_r.hide()
        self.builds.bar.addWidget(
            button(
                "By R",
                lambda: self.by_r.setVisible(not self.by_r.isVisible()),
                "",
                "A build-up by cavity R, continuous R and framing share",
            )
        )
        inside = self.builds.layout()
        assert isinstance(inside, QVBoxLayout)
        inside.insertWidget(0, self.by_r)

    def current(self) -> str:
        """The build-up being worked on."""
        return self.builds.table.current_id()

    def _layer_clicked(self, ident: str) -> None:
        self.in_front(self.layers)
        self.layers.table.select(ident)

    def _picked(self, _: str) -> None:
        self.layers.refresh("No layers yet. Add the outermost layer first.")
        self.draw()

    def _use(self, build: BuildUp) -> tuple[BuildUpUse, str]:
        """(how the first face uses it, where it is used)."""
        a = self.assessment
        if a is None:
            return BuildUpUse("", build.id, "across", "outside air"), ""
        use, number = use_in(a, build)
        if not number:
            return use, "not used by any face"
        area = sum(a.all_of(AREA)[f.id].value or 0 for f in a.all_of(BOUNDARY).values() if f.buildup == build.id)
        return use, f"used on {number} face{'s' if number > 1 else ''}, {with_unit(area, 'area', 0)}"

    def subject(self, picture: str) -> str | None:
        return self.current() or None

    def refresh(self) -> None:
        self._fill_library()
        self.shelf.refresh()
        self._fill_pick()
        self.builds.refresh("A build-up is a wall, roof or floor as layers from outside to inside. Make the first one.")
        self.layers.refresh("No layers yet. Add the outermost layer first.")
        self.envelopes.refresh()
        self._keep_card()
        self.draw()

    def _keep_card(self) -> None:
        """A list read over the home has no card of its own: the build-up's stays."""
        if self.work.lists.current in (self.used, self.envelopes):
            self.builds.card.setVisible(bool(self.builds.card.part_id))

    def put_between(self) -> None:
        """A layer inside of the current one."""
        try:
            change = layer_beside(self.home, self.current(), self.layers.table.current_id())
        except ChangeRefused as why:
            self.message.emit(str(why))
            return
        self.apply(change)
        self.present(self.desk.snapshot)
        self.layers.table.select(change.value.id)

    def _carried(self, layer: str, index: int) -> None:
        """A layer dragged to another place."""
        self.apply(Move(part=layer, index=index))
        self.present(self.desk.snapshot)

    def _ask_swap(self) -> None:
        menu = QMenu(self)
        for build in self.home.buildups:
            if build.id != self.current():
                menu.addAction(build.name, lambda new=build.id: self.swap(new))
        if menu.actions():
            menu.popup(self.swap_button.mapToGlobal(self.swap_button.rect().bottomLeft()))

    def swap(self, new: str) -> None:
        """Another build-up in the place of the current one, everywhere."""
        try:
            self.apply(swapped(self.home, self.current(), new))
        except ChangeRefused as why:
            self.message.emit(str(why))
            return
        self.present(self.desk.snapshot)

    def _by_r(self, cavity: float, continuous: float, share: float, depth: float) -> None:
        try:
            change = from_cavity(self.home, cavity, continuous, share, depth)
        except ChangeRefused as why:
            self.message.emit(str(why))
            return
        self.apply(change)
        self.by_r.hide()
        self.present(self.desk.snapshot)
        self.builds.table.select(change.value.id)

    def draw(self) -> None:
        """The section of the build-up that is worked on."""
        build = find(self.home, self.current())
        if not isinstance(build, BuildUp):
            self.heading.setText("Build-ups")
            self.sub.setText("The constructions of the home. Every face of the shape names one.")
            self.value.setText("")
            self.drawing.hide()
            return
        self.drawing.show()
        self.pick.setCurrentIndex(max(self.pick.findData(build.id), 0))
        use, used = self._use(build)
        self.heading.setText(build.name)
        u = transmittance(build, use.direction, use.borders)
        on_ground = use.borders == "ground"
        self.value.setText(f"U {with_unit(u.value, 'u')}" if u.value is not None else "U not known yet")
        error = framing_error(build, use.direction, use.borders)
        parts = [used, with_unit(thickness(build), "thickness")]
        if u.value is not None:
            r = 1 / u.value
            parts.append(f"R {with_unit(r, 'resistance')} ({in_other_system(r, 'resistance')})")
        else:
            parts.append("needs " + u.needs[0].text)  # type: ignore[union-attr]
        if error is not None and error > 1e-9 and build.u_detailed is None:
            parts.append(f"framing error ±{100 * abs(error):.1f} %")
        if on_ground:
            parts.append("toward the ground its U follows ISO 13370, see Shape")
        self.sub.setText(" · ".join(parts))
        a = self.assessment
        if a is not None:
            seen = self.tools.seen(a, build, self.layers.table.current_id())
            self.show_drawing(self.drawing, lambda a, w, h: section_in(a, _of(a, build), seen, (w, h)))
            self.show_drawing(self.moisture, lambda a, w, h: moisture_year(a, _of(a, build), (w, h)))
            self.used.show_rows(self._uses(a, build), (2, 3))

    def _uses(self, a: Assessment, build: BuildUp) -> list[tuple[str, tuple[str, ...]]]:
        """Every face that uses the build-up, with its area and U-value there."""
        areas = a.all_of(AREA)
        faces = {e.id: e for e in a[ELEMENTS] if e.is_face}
        return [
            (f.id, (f.name, f.borders, show(areas[f.id].value, "area"), _u_of(faces.get(f.id))))
            for f in a.all_of(BOUNDARY).values()
            if f.buildup == build.id
        ]

    def _fill_pick(self) -> None:
        names = [(b.name, b.id) for b in self.home.buildups]
        if [(self.pick.itemText(i), self.pick.itemData(i)) for i in range(self.pick.count())] != names:
            self.pick.clear()
            for name, ident in names:
                self.pick.addItem(name, ident)
        self.pick.setVisible(bool(names))

    def take_material(self, _: int) -> None:
        """Copy a library material into the current layer, or into a new one."""
        row = self.library.currentData()
        self.library.setCurrentIndex(-1)
        build = find(self.home, self.current())
        if row is None or not isinstance(build, BuildUp):
            if row is not None:
                self.message.emit("Make a build-up first, then choose its materials.")
            return
        ident = self.layers.table.current_id() if build.layers else self.layers.table.add_row()
        layer = self.desk.part(ident)
        if isinstance(layer, Layer):
            self.apply(material_into(layer, row["name"], row, build.name))

    def _fill_library(self) -> None:
        """Materials of the office, then the shipped ones."""
        office = load_office()[0].office.materials
        if self._filled == (office, system()):
            return
        self._filled = office, system()
        own = [(f"{m.name} (office)", {f: m[f] for f in ("name", *MATERIAL_FIELDS)}) for m in office]
        shipped = [
            (
                f"{row['name']}   λ {show(row['conductivity'], 'conductivity')}   ·   {row['source']}",
                {"name": row["name"], **{f: Given(value=row[f], source=row["source"]) for f in MATERIAL_FIELDS}},
            )
            for row in materials()
        ]
        self.library.clear()
        for title, row in (*own, *shipped):
            self.library.addItem(title, row)
        self.library.setCurrentIndex(-1)

    def focus_field(self, part: str, field: str) -> bool:
        target = find(self.home, part)
        if isinstance(target, Layer):
            owner = next((b.id for b in self.home.buildups if any(layer.id == part for layer in b.layers)), "")
            self.builds.table.select(owner)
            self.in_front(self.layers)
            self.layers.refresh()
            return self.layers.focus_field(part, field)
        if field == "layers":
            self.builds.table.select(part)
            self.in_front(self.layers)
            self.layers.add_button.setFocus()
            return True
        return self.builds.focus_field(part, field)


def _u_of(element: Element | None) -> str:
    return show(element.u.value, "u") if element is not None and element.u is not None and element.u.value is not None else "?"


def _builds_spec(board: BuildUpsBoard) -> ListSpec:
    def u(a: Assessment, row: BuildUp) -> str:
        use, _ = use_in(a, row)
        value = transmittance(row, use.direction, use.borders).value
        return show(value, "u") if value is not None else "?"

    columns = (Column("Build-up", "name"), Column("U", text=u, kind="u", width=130))
    return ListSpec("Build-ups", Listing("home", "buildups", BuildUp, "build-up"), columns)


def _layers_spec(board: BuildUpsBoard) -> ListSpec:
    def r(a: Assessment, row: Layer) -> str:
        build = find(a.home, board.current())
        if not isinstance(build, BuildUp):
            return ""
        counted = [layer.id for layer in effective_layers(build)]
        if row.id not in counted:
            return "· left out"
        use, _ = use_in(a, build)
        node = resistances(build, use.direction)[0][counted.index(row.id)]
        return show(node.value, "resistance") if node.value is not None else "?"

    columns = (
        Column("Layer, outside to inside", "name"),
        Column("d", "thickness", width=60),
        Column("λ", "conductivity", width=92),
        Column("R", text=r, kind="resistance", width=72),
        Column("Frame", "framing_share", width=66),
    )
    return ListSpec("Layers", lambda: Listing(board.current(), "layers", Layer, f"{board.current()}.layer"), columns, sortable=False)


def _of(a: Assessment, build: BuildUp) -> BuildUp:
    """The build-up as it is in a home; as it is here where that has none such."""
    found = find(a.home, build.id)
    return found if isinstance(found, BuildUp) else build
