"""Brief: who and what for, and the target sets the home is judged by."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QLabel, QVBoxLayout

from nuthatch.core.library import target_sets
from nuthatch.core.model.changes import Insert, Remove
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import KINDS
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.sketch_view import SketchView


class BriefBoard(Board):
    key, title = "brief", "Brief"

    def build(self) -> None:
        self.sub.setText("The home, the client, and what it has to meet. The margins on the right follow the target sets chosen here.")
        self.name_card = EditCard(self.document, 4, ("electricity", "junctions_none"))
        self.card = EditCard(self.document, 4)
        self.limits = SketchView("Limits of the chosen sets", 250)
        title = QLabel("Target sets")
        title.setObjectName("sectionTitle")
        self.boxes: dict[str, QCheckBox] = {}
        sets = QVBoxLayout()
        for known in target_sets():
            box = QCheckBox(known.name)
            box.setToolTip(known.source)
            box.clicked.connect(lambda on, ident=known.id: self._choose(ident, on))
            self.boxes[known.id] = box
            sets.addWidget(box)
        for widget in (self.name_card, self.card, title):
            self.column.addWidget(widget)
        self.column.addLayout(sets)
        self.column.addWidget(self.limits)
        self.column.addStretch(1)

    def refresh(self) -> None:
        home = self.document.home
        self.name_card.show_part("home", " ")
        self.card.show_part("brief", "Client and dwelling")
        chosen = {s.id for s in home.target_sets}
        for ident, box in self.boxes.items():
            box.setChecked(ident in chosen)
        self.limits.show_sketch(self._limits())

    def _limits(self) -> Sketch:
        """All limits of the chosen sets in a plain table drawing."""
        a = self.document.assessment
        rows = [(v, w) for v in a.verdicts for w in v.ways] if a else []
        made = Sketch(800, max(60, 30 + 20 * len(rows)), "Limits")
        for x, text in ((0, "Target set"), (200, "Target"), (420, "Result"), (640, "Limit")):
            made.text(x, 14, text, size=11.5, color="muted")
        made.line((0, 20), (800, 20), stroke="line")
        for i, (verdict, way) in enumerate(rows):
            y = 38 + i * 20
            limit = (
                "not known yet"
                if way.limit is None
                else f"{'at most' if way.sense == 'max' else 'at least'} {way.limit * KINDS[way.kind].factor:.4g} {way.unit}"
            )
            for x, text in ((0, verdict.set_name), (200, verdict.name), (420, way.label), (640, limit)):
                made.text(x, y, text, size=12)
        if not rows:
            made.text(0, 40, "Choose at least one target set to see its limits.", size=12, color="muted")
        self.limits.setFixedHeight(int(made.height))
        return made

    def _choose(self, ident: str, on: bool) -> None:
        known = next(s for s in target_sets() if s.id == ident)
        held = [s.id for s in self.document.home.target_sets]
        if on and ident not in held:
            self.apply(Insert(owner="home", field="target_sets", value=known))
        elif not on and ident in held:
            self.apply(Remove(part=ident))

    def focus_field(self, part: str, field: str) -> bool:
        if field == "target_sets":
            next(iter(self.boxes.values())).setFocus()
            return True
        return self.card.focus_field(field) or self.name_card.focus_field(field)
