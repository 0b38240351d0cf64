"""Air: fresh air room by room, the air tests and the test on site, every air path and what it loses."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from nuthatch.core.results.figure import shown
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.air.drawings import air_paths
from nuthatch.core.views.air.paths import paths
from nuthatch.desktop.steps.air.fresh_air import FreshAir
from nuthatch.desktop.steps.air.on_site import OnSite
from nuthatch.desktop.steps.air.tests import AirTests
from nuthatch.desktop.steps.board import Board, ListPanel
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of


class AirBoard(Board):
    key, title = "air", "Air"
    list_height = 240

    def build(self) -> None:
        self._was_on_site = False
        self.fresh = FreshAir(self)
        self.tests = AirTests(self)
        self.site = OnSite(self, self.tests)
        self.add_drawing("On site", self.site, row_of(*self.site.tools()))
        self.drawing = SketchView("Air paths and what they lose")
        self.add_drawing("Air paths", self.drawing)
        heads = ("Air path", unit_of("flow"), f"H {unit_of('w_per_k')}", unit_of("energy"), "Counts in")
        self.paths = ReadTable("Air paths", heads, (0, 76, 90, 90, 110))
        self.work.lists.add("Air paths", self.paths, row_of())
        self.paths.opened.connect(self._explain)
        self.drawing.clicked.connect(self._explain)
        self.card = EditCard(self.desk)
        self.card.refused.connect(self.message)
        self.work.inspector.add(self.card)
        self.work.drawings.switched.connect(lambda _: self._switched())
        self.work.lists.switched.connect(lambda _: self._cards())
        self._switched()

    # which part is in front

    def drawings_to(self, widget: QWidget) -> None:
        """Put a drawing in front."""
        self.work.drawings.show_widget(widget)

    def _switched(self) -> None:
        """The lists that belong to the drawing; on site there are none."""
        front = self.work.drawings.current
        offered = {id(self.fresh.drawing): self.fresh.lists, id(self.tests.drawing): self.tests.lists, id(self.site): self.tests.lists[:1]}
        self.work.lists.offer(offered.get(id(front), (self.paths,)))
        self.work.lists.setVisible(front is not self.site and not self.work.alone)
        self._cards()
        if front is self.site:
            self.site.setFocus()
            self.site.refresh()
        elif self._was_on_site:
            self.refresh()
        self._was_on_site = front is self.site

    def in_front(self, panel: QWidget) -> None:
        """Put a list in front, with the drawing it belongs to."""
        for part in (self.fresh, self.tests):
            if panel in part.lists:
                self.work.drawings.show_widget(part.drawing)
        self.work.lists.show_widget(panel)
        self._cards()

    def _cards(self) -> None:
        super()._cards()
        if not hasattr(self, "card"):
            return
        front = self.work.drawings.current
        testing = front in (self.tests.drawing, self.site)
        self.fresh.in_front(front is self.fresh.drawing)
        self.tests.in_front(testing)
        if testing and not (isinstance(self.work.lists.current, ListPanel) and self.work.lists.current is not self.tests.tests):
            self.tests.tests.card.setVisible(bool(self.tests.tests.card.part_id))  # what is only read has no card of its own
        self.card.setVisible(not testing)

    def _explain(self, path: str) -> None:
        """How a path is worked out: the leaks from n50, a unit from its recovery, what is opened from the flow asked for."""
        a = self.assessment
        if a is not None and path:
            key = {"leaks": "infiltration_rate", "windows": "ventilation_flow", "bypass": "cooling_demand"}.get(
                path, "effective_heat_recovery"
            )
            self.explain.emit(a.figures[key])

    def subject(self, picture: str) -> str | None:
        if picture == "flow-plan":
            return str(self.fresh.storey.currentData() or "") or None
        if picture == "air-test":
            return self.tests.current or None
        return ""

    def refresh(self) -> None:
        a = self.assessment
        on_site = self.work.drawings.current is self.site
        if not on_site:  # what is not in front waits until it is: a point of the gauge has other things to move
            self.card.show_part("air", "Airtightness and fresh air")
            self.fresh.refresh()
        self.tests.refresh(listed=not on_site)
        self._cards()
        if a is None:
            return
        self._say()
        if on_site:
            self.site.refresh()
            return
        self.show_drawing(self.drawing, air_paths)
        rows = []
        for p in paths(a):
            flow = show(float(p.flow.value), "flow") if p.flow is not None and p.flow.value is not None else ""
            loss = show(float(p.loss.value), "w_per_k") if p.loss.value is not None else "?"
            energy = show(p.energy, "energy") if p.energy is not None else "–" if not p.counts else "?"
            rows.append((p.key, (p.name, flow, loss, energy, "the whole year" if p.counts else "summer")))
        self.paths.show_rows(rows, (1, 2, 3))

    @property
    def settled(self) -> bool:
        return self.tests.settled

    def _say(self) -> None:
        a = self.assessment
        if a is None:
            return
        said = [f"infiltration {shown(a.figures['infiltration_rate'], 3)}"]
        recovery = a.figures["effective_heat_recovery"]
        if recovery.value is not None and any(u.moves == "supply and extract" for u in self.home.air.units):
            said.append(f"effective recovery {with_unit(recovery.value, 'percent')} after ducts")
        self.sub.setText(" · ".join((*said, *filter(None, (self.tests.said(),)))))

    def focus_field(self, part: str, field: str) -> bool:
        if part == "air" and field != "units":
            if self.work.drawings.current in (self.tests.drawing, self.site):
                self.work.drawings.show_widget(self.fresh.drawing)
            return self.card.focus_field(field)
        return self.fresh.focus_field(part, field) or self.tests.focus_field(part, field)
