"""The chance of passing on the board: of the home as it is and of the option in front, and what to measure first."""

from __future__ import annotations

from functools import reduce

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QComboBox

from nuthatch.core.assess import Assessment
from nuthatch.core.model.home import find
from nuthatch.core.options import beside
from nuthatch.core.options.chance import Chance, First, Sample, chance_of, keys_of
from nuthatch.core.options.gap import Key
from nuthatch.core.sketch import Sketch
from nuthatch.core.steps import step_of
from nuthatch.core.views.options.odds_drawn import name_of_target, odds_drawing
from nuthatch.core.views.options.rows import FIRST_HEADS, first_cells
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.steps.options.asked import Asked, Asking
from nuthatch.desktop.steps.options.closing import fill
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of


class Chances(QObject):
    """The drawing “Chance”, and the list “Measure first”."""

    def __init__(self, board: Board, asking: Asking) -> None:
        super().__init__(board)
        self.board, self.asking = board, asking
        self.front = ""
        self._fields: dict[str, First] = {}
        self.target = QComboBox()
        self.target.setAccessibleName("Target whose chance is shown")
        self.target.setMinimumWidth(220)
        self.target.activated.connect(lambda _: self.look())
        self.drawing = SketchView("Chance of passing")
        self.stop_button = button("Stop", asking.cancel, "", "Stop what is being worked out")
        board.add_drawing("Chance", self.drawing, row_of(self.target, self.stop_button))
        self.firsts = ReadTable("What to measure first", FIRST_HEADS, (0, 90, 80, 170))
        self.firsts.opened.connect(self._go)
        go = button("Go to it", lambda: self._go(self.firsts.current_id()), "", "The field where the value is entered")
        board.work.lists.add("Measure first", self.firsts, row_of(go))
        board.work.lists.switched.connect(lambda _: self.look())
        board.work.drawings.switched.connect(lambda _: self.look())

    def follow(self, a: Assessment, front: str) -> None:
        """The home, and the option in front, may have changed."""
        self.front = front
        known = list(keys_of(a.verdicts))
        fill(self.target, [(k, name_of_target(a, k)) for k in known])
        self.look()

    @property
    def key(self) -> Key | None:
        """The target that is chosen."""
        found = self.target.currentData()
        return tuple(found) if found is not None else None

    @property
    def shown(self) -> bool:
        """Whether somebody looks."""
        return self.board.work.drawings.current is self.drawing or self.board.work.lists.current is self.firsts

    def look(self) -> None:
        """Ask where somebody looks: the option in front, then the home as it is."""
        if self.shown and self.key is not None:
            for option in dict.fromkeys(("", self.front)):  # the newest question comes first
                question = Asked(beside.sample, {"option": option, "of": self.key[0]}, _together)
                self.asking.ask(self._name(option), question)
        self.show_known()

    def _name(self, option: str) -> object:
        return "sample", option, self.key[0] if self.key is not None else ""

    def of(self, option: str) -> Chance | None:
        """The chance of the home with an option, '' for as it is; None where it is not known."""
        sample: Sample | None = self.asking.answers.get(self._name(option))
        a, key = self.board.assessment, self.key
        return chance_of(sample, key, a.verdicts) if sample is not None and a is not None and key in sample.margins else None  # type: ignore[arg-type]

    def show_known(self) -> None:
        """Drawing and list from what is known by now."""
        a, key = self.board.assessment, self.key
        if a is None or key is None:
            self.drawing.show_made(_nothing)
            return
        names = {o.id: o.name for o in a.home.options}
        asked = [o for o in dict.fromkeys(("", self.front)) if not o or o in names]
        rows = [(names.get(o, "As it is"), self.of(o)) for o in asked]
        far = self.asking.far if self.asking.running in [self._name(o) for o in asked] else None
        self.drawing.show_made(lambda w, h: odds_drawing(a, key, rows, far, (w, h)))
        chance = self.of(self.front) or self.of("")
        self._fields = {str(n): f for n, f in enumerate(chance.firsts)} if chance is not None else {}
        cells = [(n, first_cells(f)) for n, f in self._fields.items()]
        said = "Nothing moves it." if chance is not None else "Being worked out …" if far is not None else "Not known yet."
        self.firsts.show_rows(cells or [("", (said, "", "", ""))], (2, 3))

    def _go(self, row: str) -> None:
        first = self._fields.get(row)
        if first is not None:
            part = find(self.board.home, first.part)
            self.board.go.emit(step_of(part, first.field) if part is not None else "junctions", first.part, first.field)


def _nothing(width: float, height: float) -> Sketch:
    made = Sketch(width, height, title="Chance of passing")
    made.say("No target set chosen: choose one in Brief.")
    return made


def _together(parts: tuple[Sample, ...]) -> Sample:
    return reduce(Sample.joined, parts)
