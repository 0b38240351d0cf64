"""Brief: who and what for, the target sets the home is judged by with all their limits, and the visit."""

from __future__ import annotations

from collections import Counter
from itertools import pairwise
from textwrap import wrap

from PyQt6.QtWidgets import QCheckBox, QGridLayout, QLabel, QVBoxLayout, QWidget

from nuthatch.core.edits.whole_parts import judged_by, set_replaced
from nuthatch.core.exchange.own_sets import copy_of, own_sets, save_set
from nuthatch.core.library import target_sets
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.sketch import Sketch, fitted
from nuthatch.core.targets.verdict import Verdict, WayResult
from nuthatch.core.units import show
from nuthatch.core.visit import to_collect
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.steps.brief.conditions_panel import ConditionsPanel
from nuthatch.desktop.steps.brief.set_editor import SetEditor
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

COLUMNS = 2


def _common(rows: list[tuple[Verdict, WayResult]], sources: list[str]) -> dict[str, str]:
    """Where most limits of a set come from, by set: said once, beside its name."""
    by_set: dict[str, list[str]] = {}
    for (verdict, _), source in zip(rows, sources, strict=True):
        by_set.setdefault(verdict.set_id, []).append(source)
    most = {ident: Counter(s for s in found if s).most_common(1) for ident, found in by_set.items()}
    return {ident: rows[0][0] for ident, rows in most.items() if rows and rows[0][1] > 1}


def _limit_row(rows: list[tuple[Verdict, WayResult]], i: int) -> tuple[str, str, str, str]:
    """What the line of a way says: target, result, limit, source; the second way of a target says “or”."""
    verdict, way = rows[i]
    name = verdict.name + (f" · {show(verdict.points, 'points')} points" if verdict.voluntary else "")
    again = i > 0 and rows[i - 1][0] is verdict
    return "or" if again else name, way.label, _sign(way), "" if again else verdict.source


def _columns(texts: list[list[str]], width: float) -> list[float]:
    """Where columns begin: as wide as what they hold; where that is too much, sources give way first, then the widest."""
    wide = [max(len(t) for t in column) * 6.3 + 14 for column in texts]
    wide[-1] = max(min(wide[-1], width - sum(wide[:-1])), min(wide[-1], 90.0))
    while sum(wide) > width and max(wide) > 60:
        wide[wide.index(max(wide))] *= 0.97
    return [sum(wide[:n]) for n in range(len(wide))]


def _sign(way: WayResult) -> str:
    """“≤ 15 kWh/(m²·a)”, or why there is no limit."""
    return way.limit_words().replace("at most", "≤").replace("at least", "≥")


class BriefBoard(Board):
    key, title = "brief", "Brief"
    fields_first = True

    def build(self) -> None:
        self.sub.setText("The home, the client, and what it has to meet. The margins on the right follow the target sets chosen here.")
        self.name_card = EditCard(self.desk, ("electricity", "currency", "junctions_none"))
        self.card = EditCard(self.desk)
        self.card.refused.connect(self.message)
        self.limits = SketchView("Limits of the chosen sets")
        self.limits.clicked.connect(self._open_result)
        self.visit_button = button("List for the visit …", self._visit, "file-text", "What to collect on site, to print (Ctrl L)")
        self.add_drawing("Limits and where they come from", self.limits)
        self.own_button = button("Make my own …", self._make_own, "plus", "A target set of my own, starting from the first chosen one")
        self.editor_button = button("Edit my own", self._edit, tip="Edit the limits of the first chosen set of my own")
        self.boxes: dict[str, QCheckBox] = {}
        self._choices = QWidget()
        whole = QVBoxLayout(self._choices)
        whole.setContentsMargins(0, 4, 0, 0)
        self._grid = QGridLayout()
        whole.addLayout(self._grid)
        self.faults = QLabel()
        self.faults.setObjectName("wrong")
        self.faults.setWordWrap(True)
        whole.addWidget(self.faults)
        whole.addStretch(1)
        self.editor = SetEditor(self)
        self.conditions = ConditionsPanel(self)
        self.work.lists.add("Target sets", self._choices, row_of(self.own_button, self.editor_button))
        self.work.lists.add("Conditions", self.conditions)
        self.work.lists.add("Limits of my own", self.editor)
        self.visit = QLabel()
        self.visit.setWordWrap(True)
        for widget in (self.name_card, self.card, self.visit, self.visit_button):
            self.work.inspector.add(widget)
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
        self.card.show_part("brief", " ")
        self._show_boxes()
        self.editor_button.setEnabled(self.first_own() is not None)
        self.editor.refresh()
        self.conditions.refresh()
        self.limits.show_made(lambda w, h: self._limits(w))
        rows = to_collect(a) if a is not None else ()
        lacking = sum(1 for r in rows if r.now == "not given")
        self.visit.setText(
            f"<b>To collect</b>: {len(rows)} values the targets rest on are not proven yet, {lacking} of them not given at all."
        )

    def _limits(self, width: float) -> Sketch:
        """All limits of the chosen sets, set by set: what each result is, and where each limit comes from; columns as wide as what they hold."""
        a = self.assessment
        rows = [(v, w) for v in a.verdicts for w in v.ways] if a else []
        heads = ("Target", "Result", "Limit", "Source")
        texts = [_limit_row(rows, i) for i in range(len(rows))]
        common = _common(rows, [t[3] for t in texts])
        texts = [(*t[:3], "" if t[3] == common.get(v.set_id) else t[3]) for (v, _), t in zip(rows, texts, strict=True)]
        at = _columns([[heads[n], *(t[n] for t in texts)] for n in range(4)], width)
        rooms = [b - a - 10 for a, b in pairwise((*at, width + 10))]
        sets = {v.set_id: v.set_name for v, _ in rows}
        told = {ident: wrap(common[ident], max(int(width / 5.8), 20)) for ident in sets if ident in common}
        made = Sketch(width, max(60, 30 + 19 * len(rows) + 26 * len(sets) + 16 * sum(map(len, told.values()))), "Limits")
        for x, text in zip(at, heads, strict=True):
            made.text(x, 14, text, size=11, color="muted")
        made.line((0, 20), (width, 20), stroke="line")
        y = 20.0
        for i, ((verdict, way), row) in enumerate(zip(rows, texts, strict=True)):
            if i == 0 or rows[i - 1][0].set_id != verdict.set_id:
                y += 24
                made.text(0, y, verdict.set_name, size=12, bold=True)
                for line in told.get(verdict.set_id, ()):
                    y += 16
                    made.text(0, y, line, size=11, color="muted")
            y += 19
            key = f"{verdict.set_id}/{way.key}"
            made.rect(0, y - 14, width, 19, stroke="", id=key, tip=f"{verdict.name}: {verdict.source}")
            for n, (x, text, room) in enumerate(zip(at, row, rooms, strict=True)):
                color = "chestnut_text" if n == 2 and way.standing == "over" else "ink"
                made.text(x, y, fitted(text, room, 11.5), size=11.5, id=key, color=color)
        if not rows:
            made.text(0, 40, "Choose at least one target set to see its limits.", size=12, color="muted")
        return made

    def _open_result(self, key: str) -> None:
        a = self.assessment
        set_id, _, name = key.partition("/")
        way = next((w for v in a.verdicts if v.set_id == set_id for w in v.ways if w.key == name), None) if a is not None else None
        if way is not None and way.node is not None:
            self.explain.emit(way.node)

    def _choose(self, ident: str, on: bool) -> None:
        chosen = self.known.get(ident) or next((s for s in self.home.target_sets if s.id == ident), None)
        change = judged_by(self.desk.home, chosen, on) if chosen is not None else None
        if change is not None:
            self.apply(change)

    # own sets

    def first_own(self) -> TargetSet | None:
        """The first chosen set that is one's own."""
        return next((s for s in self.desk.home.target_sets if s.id in self.own), None)

    def _make_own(self) -> None:
        start = next(iter(self.home.target_sets), next(iter(self.known.values())))
        self.keep_set(copy_of(start, set(self.known)))
        self._edit()

    def keep_set(self, chosen: TargetSet) -> str:
        """Keep an own set in the user's folder and let the home follow it; returns why that cannot be, or ''."""
        from nuthatch.core.files.homefile import HomeFileError

        try:
            save_set(chosen)
        except HomeFileError as problem:
            self.message.emit(str(problem))
            return str(problem)
        self.reload()
        self.apply(set_replaced(self.desk.home, chosen))
        return ""

    def _edit(self) -> None:
        chosen = self.first_own()
        if chosen is not None:
            self.work.lists.show_widget(self.editor)
            self.editor.open(chosen)

    def leave_editor(self) -> None:
        """Back from the editor."""
        self.work.lists.show_index(0)
        self.editor_button.setFocus()

    def _visit(self) -> None:
        self.go.emit("visit", "", "")

    def focus_field(self, part: str, field: str) -> bool:
        if field == "target_sets":
            next(iter(self.boxes.values())).setFocus()
            return True
        return self.card.focus_field(field) or self.name_card.focus_field(field)
