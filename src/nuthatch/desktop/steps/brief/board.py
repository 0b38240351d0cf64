"""Brief: who and what for, the target sets the home is judged by with all their limits, and the visit."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLabel, QWidget

from nuthatch.core.edits.moves import judged_by, set_replaced
from nuthatch.core.library import target_sets
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.sketch import Sketch
from nuthatch.core.targets.own import copy_of, own_sets, save_set
from nuthatch.core.units import show
from nuthatch.core.visit import to_collect
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.steps.brief.set_editor import SetEditor
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.sketch_view import SketchView

COLUMNS = 3


def short(text: str, most: int) -> str:
    """A text cut to what its column holds."""
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


class BriefBoard(Board):
    key, title = "brief", "Brief"

    def build(self) -> None:
        self.sub.setText("The home, the client, and what it has to meet. The margins on the right follow the target sets chosen here.")
        self.name_card = EditCard(self.desk, 6, ("electricity", "currency", "junctions_none"))
        self.card = EditCard(self.desk, 6)
        self.card.refused.connect(self.message)
        self.limits = SketchView("Limits of the chosen sets", 250)
        self.limits.clicked.connect(self._open_result)
        title = QLabel("Target sets")
        title.setObjectName("sectionTitle")
        head = QHBoxLayout()
        head.addWidget(title)
        head.addStretch(1)
        self.own_button = button("Make my own …", self._make_own, "plus", "A target set of my own, starting from the first chosen one")
        self.editor_button = button("Edit my own", self._edit, tip="Edit the limits of the first chosen set of my own")
        head.addWidget(self.own_button)
        head.addWidget(self.editor_button)
        self.boxes: dict[str, QCheckBox] = {}
        self._choices = QWidget()
        self._grid = QGridLayout(self._choices)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self.faults = QLabel()
        self.faults.setObjectName("wrong")
        self.faults.setWordWrap(True)
        self.editor = SetEditor(self)
        self.editor.setVisible(False)
        self.visit = QLabel()
        self.visit.setWordWrap(True)
        self.visit_button = button("List for the visit …", self._visit, "file-text", "What to collect on site, to print (Ctrl L)")
        line = QHBoxLayout()
        line.addWidget(self.visit, 1)
        line.addWidget(self.visit_button)
        self.column.addWidget(self.name_card)
        self.column.addWidget(self.card)
        self.column.addLayout(line)
        self.column.addLayout(head)
        for widget in (self._choices, self.faults, self.editor, self.limits):
            self.column.addWidget(widget)
        self.column.addStretch(1)
        self.known: dict[str, TargetSet] = {}
        self.reload()

    def reload(self) -> None:
        """Read the own target sets again."""
        own, faults = own_sets()
        self.own = {s.id for s in own}
        self.known = {s.id: s for s in (*target_sets(), *own)}
        self.faults.setText("\n".join(f"{f.path.name}: {f.text}" for f in faults))
        self.faults.setVisible(bool(faults))

    def _show_boxes(self) -> None:
        held = {s.id: s for s in self.home.target_sets}
        wanted = {**self.known, **{k: v for k, v in held.items() if k not in self.known}}
        if list(self.boxes) != list(wanted):
            focused = next((k for k, b in self.boxes.items() if b.hasFocus()), "")
            for box in self.boxes.values():
                self._grid.removeWidget(box)
                box.deleteLater()
            self.boxes = {}
            for n, (ident, known) in enumerate(wanted.items()):
                box = QCheckBox(known.name, self._choices)
                box.clicked.connect(lambda on, ident=ident: self._choose(ident, on))
                self.boxes[ident] = box
                self._grid.addWidget(box, n // COLUMNS, n % COLUMNS)
            if focused in self.boxes:
                self.boxes[focused].setFocus()
        for ident, box in self.boxes.items():
            known = wanted[ident]
            box.setChecked(ident in held)
            differs = ident in held and ident in self.known and held[ident] != self.known[ident]
            mine = " (own)" if ident in self.own else "" if ident in self.known else " (kept in this home)"
            box.setText(known.name + mine + ("; changed since" if differs else ""))
            box.setToolTip(
                "The home keeps the limits it was judged by; choose the set again to take the present ones." if differs else known.source
            )

    def refresh(self) -> None:
        a = self.assessment
        self.name_card.show_part("home", " ")
        self.card.show_part("brief", "Client, dwelling, visit")
        self._show_boxes()
        self.editor_button.setEnabled(self._first_own() is not None)
        self.editor.refresh()
        self.limits.show_sketch(self._limits())
        rows = to_collect(a) if a is not None else ()
        lacking = sum(1 for r in rows if r.now == "not given")
        self.visit.setText(
            f"<b>To collect</b>: {len(rows)} values the targets rest on are not proven yet, {lacking} of them not given at all."
        )

    def _limits(self) -> Sketch:
        """All limits of the chosen sets, what each result is, and where each limit comes from."""
        a = self.assessment
        rows = [(v, w) for v in a.verdicts for w in v.ways] if a else []
        made = Sketch(800, max(60, 30 + 20 * len(rows)), "Limits")
        for x, text in ((0, "Target set"), (140, "Target"), (308, "Result"), (452, "Limit"), (640, "Where it comes from")):
            made.text(x, 14, text, size=11.5, color="muted")
        made.line((0, 20), (800, 20), stroke="line")
        for i, (verdict, way) in enumerate(rows):
            y = 38 + i * 20
            name = verdict.name + (f" · {show(verdict.points, 'points')} points" if verdict.voluntary else "")
            again = i > 0 and rows[i - 1][0] is verdict
            texts = (
                (0, "" if again else short(verdict.set_name, 21)),
                (140, "or" if again else short(name, 27)),
                (308, short(way.label, 23)),
                (452, short(way.limit_words(), 31)),
                (640, "" if again else short(verdict.source, 27)),
            )
            made.rect(0, y - 14, 800, 20, stroke="", id=way.key, tip=f"{verdict.name}: {verdict.source}")
            for x, text in texts:
                made.text(x, y, text, size=12, id=way.key, color="chestnut_text" if x == 452 and way.standing == "over" else "ink")
        if not rows:
            made.text(0, 40, "Choose at least one target set to see its limits.", size=12, color="muted")
        self.limits.setFixedHeight(int(made.height))
        return made

    def _open_result(self, key: str) -> None:
        a = self.assessment
        if a is not None and key in a.figures:
            self.explain.emit(a.figures[key])

    def _choose(self, ident: str, on: bool) -> None:
        chosen = self.known.get(ident) or next((s for s in self.home.target_sets if s.id == ident), None)
        change = judged_by(self.desk.home, chosen, on) if chosen is not None else None
        if change is not None:
            self.apply(change)

    # own sets

    def _first_own(self) -> TargetSet | None:
        return next((s for s in self.desk.home.target_sets if s.id in self.own), None)

    def _make_own(self) -> None:
        start = next(iter(self.home.target_sets), next(iter(self.known.values())))
        self.keep_set(copy_of(start, set(self.known)))
        self._edit()

    def keep_set(self, chosen: TargetSet) -> str:
        """Keep an own set in the user's folder and let the home follow it; returns why that cannot be, or ''."""
        from nuthatch.core.exchange.homefile import HomeFileError

        try:
            save_set(chosen)
        except HomeFileError as problem:
            self.message.emit(str(problem))
            return str(problem)
        self.reload()
        self.apply(set_replaced(self.desk.home, chosen))
        return ""

    def _edit(self) -> None:
        chosen = self._first_own()
        if chosen is not None:
            self.editor.open(chosen)

    def _visit(self) -> None:
        window = self.window()
        if hasattr(window, "visit"):
            window.visit()

    def focus_field(self, part: str, field: str) -> bool:
        if field == "target_sets":
            next(iter(self.boxes.values())).setFocus()
            return True
        return self.card.focus_field(field) or self.name_card.focus_field(field)
