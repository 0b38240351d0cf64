"""The inspector of a junction: what it comes to both ways, what it may be, what it stands for; below it the fields of its row."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.edits.own_details import FAMILIES, walls_of
from nuthatch.core.junctions.joined import may_be
from nuthatch.core.junctions.stages import JOINED
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.junctions.rows import Row, both_ways, f_rsi
from nuthatch.desktop.steps.board import button
from nuthatch.desktop.widgets.read_table import ReadTable


class JunctionCard(QWidget):
    """`told(family)`: a person says what it is; `joins(key)`: a typed row stands for what was found; `draws()`: its detail is wanted,
    `anew()`: drawn again from what meets there now."""

    told = pyqtSignal(str)
    joins = pyqtSignal(str)
    draws = pyqtSignal()
    anew = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.title, self.says = QLabel(), QLabel()
        self.title.setObjectName("sectionTitle")
        self.says.setObjectName("muted")
        for label in (self.title, self.says):
            label.setWordWrap(True)
        self.facts = ReadTable("What the junction comes to", ("What it comes to", "Value"), (0, 96))
        self.facts.setFixedHeight(160)
        self.answers = QWidget()
        self._answers = QVBoxLayout(self.answers)
        self._answers.setContentsMargins(0, 0, 0, 0)
        self.stands = QComboBox()
        self.stands.setAccessibleName("Stands for a junction of the shape")
        self.stands.activated.connect(self._join)
        self.joining = QWidget()
        beside = QHBoxLayout(self.joining)
        beside.setContentsMargins(0, 0, 0, 0)
        label = QLabel("Stands for")
        label.setBuddy(self.stands)
        beside.addWidget(label)
        beside.addWidget(self.stands, 1)
        self.wall = QComboBox()
        self.wall.setAccessibleName("In the wall")
        self.in_wall = QWidget()
        walls = QHBoxLayout(self.in_wall)
        walls.setContentsMargins(0, 0, 0, 0)
        of = QLabel("In the wall")
        of.setBuddy(self.wall)
        walls.addWidget(of)
        walls.addWidget(self.wall, 1)
        self.draw = button("Draw its detail", self.draws.emit, tip="A section from the build-ups that meet, worked out in two dimensions")
        self.again = button("Draw it anew", self.anew.emit, tip="From the build-ups as they are now; what was changed in it by hand goes")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        for widget in (self.title, self.says, self.answers, self.joining, self.facts, self.in_wall, self.draw, self.again):
            column.addWidget(widget)

    def show_row(self, a: Assessment, row: Row | None) -> None:
        """The junction that is selected; nothing is shown without one."""
        self.setVisible(row is not None)
        if row is None:
            return
        self.title.setText(row.name)
        self.says.setText(self._words(row))
        self._facts(a, row)
        self._ask(row)
        self._offer(a, row)
        own = row.part is not None and row.found is None and (row.family in FAMILIES or bool(row.part.detail))
        self.draw.setVisible(own or (row.part is not None and row.found is not None))
        self._walls(a, row if own and row.part is not None and not row.part.detail else None)
        self.again.setVisible(row.part is not None and row.found is not None and bool(row.part.detail))
        self.draw.setText("Open its detail" if row.part is not None and row.part.detail else "Draw its detail")

    def _words(self, row: Row) -> str:
        if row.asked:
            return "The shape cannot tell what this is. Until it is said, the largest fallback counts."
        if row.element is None:
            return f"{row.where}. Found in the shape; only the list counts now."
        if row.part is None:
            return f"{row.where}. In no list: it counts by the tier of all such."
        return row.where or ("typed" if not row.part.meets else "gone from the shape")

    def _facts(self, a: Assessment, row: Row) -> None:
        external, internal = both_ways(a, row)
        facts = [
            (f"ψ external, {unit_of('psi')}", show(external, "psi") if external is not None else "?"),
            (f"ψ internal, {unit_of('psi')}", show(internal, "psi") if internal is not None else "?"),
        ]
        for name, label, kind in (("length", "Length", "length"), ("b", "b factor", "fraction")):
            value = row.number(name)
            facts.append((label, with_unit(value, kind) if value is not None else "?"))
        surface = f_rsi(a, row)
        if surface is not None:
            facts.append(("f_Rsi, coldest inside", f"{surface:.2f}"))
        facts.append(("Loss", with_unit(row.loss, "w_per_k") if row.loss is not None else "does not count"))
        self.facts.show_rows([(name, (name, value)) for name, value in facts], (1,))

    def _ask(self, row: Row) -> None:
        while (item := self._answers.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        self.answers.setVisible(row.asked)
        for family in (*(f for f in row.found.answers if f != "none"), "none") if row.asked and row.found is not None else ():
            words = "Nothing to count" if family == "none" else family[0].upper() + family[1:]
            self._answers.addWidget(button(words, partial(self.told.emit, family)))

    def _walls(self, a: Assessment, row: Row | None) -> None:
        """The walls that a junction of one's own may be in, where there is a choice."""
        walls = walls_of(a) if row is not None else ()
        before = self.wall.currentData()
        self.wall.clear()
        names = {b.id: b.name for b in a.home.buildups}
        for face in walls:
            self.wall.addItem(names.get(face.buildup, face.name), face.id)
        self.wall.setCurrentIndex(max(self.wall.findData(before), 0))
        self.in_wall.setVisible(len(walls) > 1)

    def _offer(self, a: Assessment, row: Row) -> None:
        """What a typed row may stand for, with both lengths."""
        part = row.part
        fits = [f for f in a[JOINED].left if part is not None and row.found is None and set(f.answers) & set(may_be(part))]
        self.joining.setVisible(bool(fits))
        self.stands.clear()
        self.stands.addItem("nothing of the shape", "")
        external = a.home.shape.dimensions == "external"
        for f in fits:
            long = f.outer if external else f.inner
            typed = f", typed {show(part.length.value, 'length')}" if part is not None and part.length is not None else ""
            self.stands.addItem(f"{f.family or f.answers[0]}, {with_unit(long, 'length')}{typed}", f.key)

    def _join(self, _: int) -> None:
        key = str(self.stands.currentData() or "")
        if key:
            self.joins.emit(key)
