"""Junctions: list with family, length, ψ, tier; the home with its junctions treated four ways."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import SetValue
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.junction_edits import by_tier
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.model.home import Junction, find
from nuthatch.core.units import with_unit
from nuthatch.core.views.junctions.drawings import junction_ways
from nuthatch.core.views.junctions.four_ways import NAMES, Ways, ways
from nuthatch.desktop.jobs import Jobs
from nuthatch.desktop.steps.board import Board, ListPanel, button, loss_text
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView


class JunctionsBoard(Board):
    key, title = "junctions", "Junctions"
    list_height = 330

    def build(self) -> None:
        self._jobs = Jobs(self)
        self._of: Assessment | None = None
        self._known: Ways | None = None
        self.drawing = SketchView("The home with its junctions treated four ways")
        self.add_drawing("", self.drawing)
        self.list = ListPanel(self, _spec(), add="Add a junction")
        self.list.bar.insertWidget(
            0, button("ψ typical", lambda: self.take("typical"), tip="Take the catalogue's typical ψ for this junction")
        )
        self.list.bar.insertWidget(
            1, button("ψ fallback", lambda: self.take("fallback"), tip="Take the catalogue's fallback ψ, on the safe side")
        )
        self.none = QCheckBox("This home has no junctions to count")
        self.none.clicked.connect(lambda on: self.apply(SetValue(part="home", field="junctions_none", value=bool(on))))
        self.list.bar.insertWidget(2, self.none)
        self.add_list(self.list)

    def refresh(self) -> None:
        home, a = self.home, self.assessment
        loss = sum(e.loss.value for e in a[ELEMENTS] if e.category == "junctions" and e.loss.value is not None) if a else 0.0
        metres = sum(j.length.value for j in home.junctions if j.length)
        self.sub.setText(
            f"{len(home.junctions)} junctions, {with_unit(metres, 'length', 0)}, together {with_unit(loss, 'w_per_k')} · the home uses {home.shape.dimensions} dimensions"
        )
        self.list.refresh(
            "Where walls, floors, roofs and openings meet, heat is lost beyond the faces. Add the first junction, or say there are none."
        )
        self.none.setVisible(not home.junctions)
        self.none.setChecked(home.junctions_none)
        if a is not None and a is not self._of:
            self._of = a
            self._jobs.cancel()
            self._jobs.start("four ways", lambda job: ways(a), lambda known: self._show_ways(a, known))
            if self._known is None:
                self._show_ways(a, tuple((name, None) for name in NAMES))

    def _show_ways(self, a: Assessment, known: Ways) -> None:
        """The comparison of an assessment; while that of the next is worked out, it stays."""
        self._known = known
        self.drawing.show_made(lambda w, h: junction_ways(a, known, w, h))

    @property
    def settled(self) -> bool:
        return not self._jobs.running

    def take(self, tier: str) -> None:
        """Give the current junction the ψ of a tier."""
        junction = find(self.home, self.list.table.current_id())
        if not isinstance(junction, Junction):
            return
        self.apply(by_tier((junction,), tier))

    def focus_field(self, part: str, field: str) -> bool:
        if field == "junctions":
            self.list.add_button.setFocus()
            return True
        return self.list.focus_field(part, field)


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
