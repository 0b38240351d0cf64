"""Junctions: the solid with each as a line, all of them in a list, the one that is selected; the home with them treated four ways."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QComboBox, QLabel, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, SetValue
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.detail_starts import redrawn, started
from nuthatch.core.edits.junction_edits import answered, by_own, by_tier, joined_to, taken_in
from nuthatch.core.edits.opening_details import Side, detail_at, opening_started
from nuthatch.core.edits.own_details import own_started, walls_of
from nuthatch.core.junctions.stages import JOINED
from nuthatch.core.model.home import Junction, find
from nuthatch.core.office import load_office
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.junctions.drawings import ways_band, ways_sheet
from nuthatch.core.views.junctions.four_ways import NAMES, Way, Ways, ways, whole_ways
from nuthatch.core.views.junctions.on_solid import answer_of, junction_solid, seen_from, turned_toward
from nuthatch.core.views.junctions.rows import Row, installed, places, rows
from nuthatch.core.views.shape.axonometric import View
from nuthatch.desktop.jobs import Jobs
from nuthatch.desktop.steps.board import Board, ListPanel, button, loss_text
from nuthatch.desktop.steps.junctions.card import JunctionCard
from nuthatch.desktop.steps.junctions.details_part import DetailsPart
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

TIERS = ("fallback", "typical")
BAND = 66


class JunctionsBoard(Board):
    key, title = "junctions", "Junctions"
    list_height = 190

    def build(self) -> None:
        self._jobs = Jobs(self)
        self._of: Assessment | None = None
        self._known: Ways | None = None
        self._whole: tuple[Assessment, tuple[Way, ...]] | None = None
        self._rows: tuple[Row, ...] = ()
        self._open: set[str] = set()
        self.view, self.selected = View(turn=35.0, height=26.0), ""
        self._drawings()
        self.details = DetailsPart(self)
        self.add_drawing("Detail", self.details.sheet)
        self.by_month = SketchView("The four ways in demand, load and month by month")
        self.add_drawing("Four ways", self.by_month)
        self.work.drawings.switched.connect(lambda _: self._show_whole_ways())
        self._lists()
        self.column.insertWidget(self.column.indexOf(self.work), self.details.reading.waiting)
        self.facts = JunctionCard()
        self.facts.told.connect(lambda family: self._answer(self.selected, family))
        self.facts.joins.connect(self._join)
        self.facts.draws.connect(self._draw_detail)
        self.facts.anew.connect(self._draw_anew)
        self.work.inspector.add(self.facts)
        self.work.lists.switched.connect(lambda _: self._inspect())
        self.work.lists.switched.connect(lambda _: self.details.fronted())
        self.list.table.selected.connect(lambda _: self._from_list())

    def _drawings(self) -> None:
        self.solid = SketchView("The solid with its junctions", turns=True)
        self.solid.clicked.connect(self._clicked)
        self.solid.emptied.connect(lambda: self.select(""))
        self.solid.turned.connect(self._turned)
        self.drawing = SketchView("The home with its junctions treated four ways", height=BAND)
        both = QWidget()
        column = QVBoxLayout(both)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(self.solid, 1)
        column.addWidget(self.drawing)
        self.through = QCheckBox("See through")
        self.through.toggled.connect(lambda _: self._draw())
        self.counts = QCheckBox("The shape counts")
        self.counts.setToolTip("Every junction the shape has counts, also those in no list")
        self.counts.clicked.connect(self._count)
        self.rest = QComboBox()
        self.rest.setAccessibleName("Tier of junctions in no list")
        self.rest.addItems(TIERS)
        self.rest.activated.connect(lambda n: self.apply(SetValue(part="home", field="junction_tier", value=TIERS[n])))
        self.take_button = button(
            "Take from the shape", self.take_in, "plus", "Every junction the shape tells becomes a row; typed rows are joined"
        )
        self.seen = QComboBox()
        self.seen.setAccessibleName("Seen from")
        self.seen.activated.connect(self._look)
        self.add_drawing("Solid", both, row_of(self.seen, self.through, self.counts, self.rest, self.take_button))

    def _lists(self) -> None:
        self.all = ReadTable("All junctions", ("Junction", "Where", "L", "ψ", "Tier", "H"), (190, 0, 92, 66, 84, 62))
        self.all.chosen.connect(self.select)
        self.all.opened.connect(self._opened)
        tiers = row_of(
            QLabel("ψ of the selected, or of all:"),
            button("typical", lambda: self.take("typical"), tip="Take the catalogue's typical ψ"),
            button("fallback", lambda: self.take("fallback"), tip="Take the catalogue's fallback ψ, on the safe side"),
            button("office", self.take_own, tip="Take the ψ of the office's own catalogue"),
        )
        self.work.lists.add("All", self.all, tiers)
        self.list = ListPanel(self, _spec(), add="Add a junction")
        self.none = QCheckBox("This home has no junctions to count")
        self.none.clicked.connect(lambda on: self.apply(SetValue(part="home", field="junctions_none", value=bool(on))))
        self.list.bar.insertWidget(0, self.none)
        self.add_list(self.list, "List")
        self.add_list(self.details.list)
        self.add_list(self.details.blocks)
        self.openings = ReadTable("Installation of openings", ("Opening", "Family", "L", "ψ"), (0, 90, 80, 90))
        draw = button("Draw its detail", self._draw_reveal, "", "A section of this side, from the wall and the frame that meet there")
        self.work.lists.add("With openings", self.openings, row_of(draw))

    def refresh(self) -> None:
        home, a = self.home, self.assessment
        self.list.refresh(
            "Where walls, floors, roofs and openings meet, heat is lost beyond the faces. Take them from the shape, add one, or say there are none."
        )
        self.none.setVisible(not home.junctions)
        self.none.setChecked(home.junctions_none)
        self.counts.setChecked(home.junctions_from == "shape")
        self.rest.setVisible(home.junctions_from == "shape")
        self.rest.setCurrentText(home.junction_tier)
        self._rows = rows(a) if a is not None else ()
        if a is not None:
            self._name_views(a)
        self.take_button.setEnabled(any(r.part is None and not r.asked for r in self._rows))
        self.sub.setText(self._sentence())
        self._fill()
        self._draw()
        self._inspect()
        self.details.refresh()
        if a is not None and a is not self._of:
            self._of = a
            self._jobs.cancel()
            self._jobs.start("four ways", lambda job: ways(a), lambda known: self._show_ways(a, known))
            self._show_whole_ways()
            if self._known is None:
                self._show_ways(a, tuple((name, None) for name in NAMES))

    def _sentence(self) -> str:
        counted = [r for r in self._rows if r.element is not None]
        loss, metres = sum(r.loss or 0.0 for r in counted), sum(r.number("length") or 0.0 for r in counted)
        where = sum(len(r.found.places) for r in self._rows if r.found is not None)
        found = f"the shape has {sum(r.found is not None for r in self._rows)} in {where} places · " if where else ""
        dimensions = f"{self.home.shape.dimensions} dimensions"
        return f"{found}{len(counted)} count, {with_unit(metres, 'length', 0)}, together {with_unit(loss, 'w_per_k')} · {dimensions}"

    def _fill(self) -> None:
        a = self.assessment
        shown: list[tuple[str, tuple[str, ...]]] = []
        for r in self._rows:
            several = r.found is not None and len(r.found.places) > 1
            mark = ("⌄ " if r.id in self._open else "› ") if several else ""
            cells = (_cell(r.number("length"), "length"), _cell(r.number("psi"), "psi"), r.tier, _cell(r.loss, "w_per_k"))
            shown.append(
                (r.id, (mark + r.name, r.where or "typed", *(cells if r.element is not None else (*cells[:2], "not counted", ""))))
            )
            if several and r.id in self._open and a is not None and r.found is not None:
                shown += [(f"{r.id}#{n}", ("", w, show(long, "length"), "equal", "", "")) for n, (w, long) in enumerate(places(a, r.found))]
        self.all.show_rows(shown, (2, 3, 5))
        self.all.select(self.selected, quiet=True)
        rest = [(i.id, (i.name, i.family, show(i.length, "length"), _cell(i.psi, "psi"))) for i in installed(a)] if a is not None else []
        self.openings.show_rows(rest, (2, 3))

    def _draw(self) -> None:
        a, selected = self.assessment, self.selected
        if a is not None:
            view = View(self.view.turn, self.view.height, self.through.isChecked())
            self.solid.show_made(lambda w, h: junction_solid(a, view, selected, (w, h)))

    def _inspect(self) -> None:
        """The junction that is selected, above the fields of its row where it has one."""
        a, row = self.assessment, self._row(self.selected)
        front = self.work.lists.current
        if a is not None:
            self.facts.show_row(a, row if front is not self.openings else None)
        if front is self.all:
            self.list.card.show_part(row.part.id if row is not None and row.part is not None else "")
            self.list.card.setVisible(row is not None and row.part is not None)

    def _row(self, ident: str) -> Row | None:
        return next((r for r in self._rows if r.id == ident), None)

    # selecting, everywhere alike

    def select(self, ident: str) -> None:
        """A junction is selected, in drawing, list and inspector alike."""
        ident = ident.partition("#")[0] if self._row(ident) is None else ident
        a, row = self.assessment, self._row(ident)
        self.selected = ident if row is not None else ""
        if row is not None and a is not None:
            self.view = turned_toward(a, row, self.view)
        self.all.select(self.selected, quiet=True)
        if row is not None and row.part is not None and self.list.table.current_id() != row.part.id:
            self.list.table.select(row.part.id)
        self._draw()
        self._inspect()

    def _from_list(self) -> None:
        ident = self.list.table.current_id()
        if ident and ident != self.selected and self.work.lists.current is self.list:
            self.select(ident)

    def _clicked(self, ident: str) -> None:
        answer = answer_of(ident)
        if answer is not None:
            self._answer(answer[1], answer[0])
        elif self._row(ident) is not None:
            self.work.lists.show_widget(self.all)
            self.select(ident)

    def _turned(self, dx: float, dy: float) -> None:
        self.view = self.view.dragged(dx, dy)
        self._draw()

    def _look(self, index: int) -> None:
        """In plan, in an elevation, or aslant."""
        a = self.assessment
        if a is not None:
            self.view = seen_from(a)[index][1]
            self._draw()

    def _name_views(self, a: Assessment) -> None:
        names = [name for name, _ in seen_from(a)]
        if [self.seen.itemText(n) for n in range(self.seen.count())] != names:
            self.seen.clear()
            self.seen.addItems(names)

    def _opened(self, ident: str) -> None:
        """Show or hide the places of a row."""
        self._open ^= {ident}
        self._fill()

    # edits

    def take_in(self) -> None:
        """From now on what the shape has counts."""
        if self.assessment is not None:
            self.apply(taken_in(self.assessment))

    def _count(self, on: bool) -> None:
        self.apply(SetValue(part="home", field="junctions_from", value="shape" if on else "list"))

    def _answer(self, key: str, family: str) -> None:
        a, row = self.assessment, self._row(key)
        if a is not None and row is not None and row.found is not None and row.part is None:
            self.apply(answered(a, row.found, family))

    def _join(self, key: str) -> None:
        a, row = self.assessment, self._row(self.selected)
        found = next((f for f in a[JOINED].left if f.key == key), None) if a is not None else None
        if row is not None and row.part is not None and found is not None:
            self.apply(joined_to(row.part, found))

    def _draw_detail(self) -> None:
        """The detail of the junction that is selected: drawn from its build-ups where it has none yet, and brought in view."""
        a, row = self.assessment, self._row(self.selected)
        if a is None or row is None or row.part is None:
            return
        part, found = row.part, row.found
        if not part.detail and found is not None:
            self.apply(lambda: started(a, part, found))
        elif not part.detail:
            wall = next((w for w in walls_of(a) if w.id == self.facts.wall.currentData()), None)
            if wall is None:
                self.message.emit("No outer wall has a build-up yet: a detail is drawn from one.")
                return
            self.apply(lambda: own_started(a, part, wall))
        now = find(self.desk.home, part.id)
        if isinstance(now, Junction) and now.detail:
            self.present(self.desk.snapshot)
            self.details.refresh()
            self.details.show(now.detail)
            self.work.drawings.show_widget(self.details.sheet)

    def _draw_reveal(self) -> None:
        """The detail of a side of the openings that are selected: drawn from wall and frame where its type has none yet, and brought in view."""
        a, (row, _, side) = self.assessment, self.openings.current_id().partition(".")
        of = next((o for o in self.home.openings if o.id == row), None)
        if a is None or of is None:
            self.message.emit("Select a side of an opening in the list first.")
            return
        which: Side = "head" if side.startswith("head") else "sill" if side.startswith("sill") else "jamb"
        drawn = detail_at(a, of.type, which)
        ident = drawn.id if drawn is not None else ""

        def change() -> Batch:
            nonlocal ident
            made, ident = opening_started(a, of, which)
            return made

        if drawn is None:
            self.apply(change)
        if ident:
            self.present(self.desk.snapshot)
            self.details.refresh()
            self.details.show(ident)
            self.work.drawings.show_widget(self.details.sheet)

    def _draw_anew(self) -> None:
        """The detail of the junction that is selected, from its build-ups as they are now."""
        a, row = self.assessment, self._row(self.selected)
        if a is not None and row is not None and row.part is not None and row.found is not None and row.part.detail:
            part, found = row.part, row.found
            self.apply(lambda: redrawn(a, part, found))

    def subject(self, picture: str) -> str | None:
        if picture == "detail":
            return self.details.current or None
        return ""

    def take(self, tier: str) -> None:
        """The ψ of a tier for the junction that is selected, or for all of the list."""
        row = self._row(self.selected)
        if row is not None and row.part is not None:
            self.apply(by_tier((row.part,), tier))
        elif row is None and self.home.junctions:
            self.apply(by_tier(self.home.junctions, tier))

    def take_own(self) -> None:
        """The ψ of the office's catalogue for the junction that is selected, or for all of the list."""
        row = self._row(self.selected)
        rows = (row.part,) if row is not None and row.part is not None else self.home.junctions if row is None else ()
        if rows:
            self.apply(lambda: by_own(rows, load_office()[0].office.psis))

    def _show_whole_ways(self) -> None:
        """Load and months of the four ways, worked out when somebody looks at them."""
        a = self.assessment
        if a is None or self.work.drawings.current is not self.by_month:
            return
        known = self._whole[1] if self._whole is not None and self._whole[0] is a else tuple(Way(n) for n in NAMES)
        self.by_month.show_made(lambda w, h: ways_sheet(a, known, (w, h)))
        if self._whole is None or self._whole[0] is not a:
            self._jobs.start("four ways, whole", lambda job: whole_ways(a), lambda found: self._put_whole_ways(a, found))

    def _put_whole_ways(self, a: Assessment, found: tuple[Way, ...]) -> None:
        if a is self.assessment:
            self._whole = (a, found)
            self._show_whole_ways()

    def _show_ways(self, a: Assessment, known: Ways) -> None:
        """The comparison of an assessment; while that of the next is worked out, it stays."""
        self._known = known
        self.drawing.show_made(lambda w, h: ways_band(a, known, w, h))

    @property
    def settled(self) -> bool:
        return not self._jobs.running and self.details.settled

    def focus_field(self, part: str, field: str) -> bool:
        if part == "home" and field == "junctions":
            asked = next((r for r in self._rows if r.asked), None)
            self.work.lists.show_widget(self.all if self._rows else self.list)
            if asked is not None:
                self.select(asked.id)
            (self.all if self._rows else self.list.add_button).setFocus()
            return True
        if field == "meets":
            self.work.lists.show_widget(self.all)
            self.select(part)
            self.facts.stands.setFocus()
            return self._row(part) is not None
        return (
            self.list.focus_field(part, field) or self.details.list.focus_field(part, field) or self.details.blocks.focus_field(part, field)
        )


def _cell(value: float | None, kind: str) -> str:
    return show(value, kind) if value is not None else "?"


def _spec() -> ListSpec:
    columns = (
        Column("Junction", "name"),
        Column("Family", "family", width=80),
        Column("L", "length", width=72),
        Column("ψ", "psi", width=84),
        Column("Tier", "tier", width=62),
        Column("Dimensions", "dimensions", width=70),
        Column("H", text=loss_text, kind="w_per_k", width=58),
    )
    return ListSpec("Junctions", Listing("home", "junctions", Junction, "j"), columns)
