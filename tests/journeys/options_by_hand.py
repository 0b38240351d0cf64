"""In a real window: an upgrade tried on a board and put on a ladder, base and option seen, steps moved, what closes a gap taken as an upgrade,
the layer one changes removed and its question answered, all taken back. What came of it is printed. Run: with a folder; a second keeps pictures."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.desktop.app import application
from nuthatch.desktop.document import Document
from nuthatch.desktop.steps.build_ups.board import BuildUpsBoard
from nuthatch.desktop.steps.options.board import OptionsBoard
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, all_taken_back, click, step, type_into, wait
from tests.simple_home import simple_home


class Person:
    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.pictures = Path(sys.argv[2]) if len(sys.argv) > 2 else None

    @property
    def board(self) -> OptionsBoard:
        made = self.window.board("options")
        assert isinstance(made, OptionsBoard)
        return made

    @property
    def home(self) -> Home:
        return self.window.document.home

    def settle(self) -> None:
        wait(lambda: self.window.settled() and self.board.home is self.home, 120)

    def kept(self, name: str) -> None:
        if self.pictures is not None:
            self.window.grab().save(str(self.pictures / f"{name}.png"))

    def demand(self) -> float:
        a = self.window.document.assessment
        assert a is not None
        return float(a.figures["heating_demand"].value)  # type: ignore[arg-type]

    def tried(self) -> dict[str, object]:
        """A thicker layer typed on its board while something is tried; kept under a name."""
        before = self.demand()
        click(self.board.try_button)
        self.settle()
        board = step(self.window, "build-ups")
        assert isinstance(board, BuildUpsBoard)
        self.window.go("build-ups", "wall.1", "thickness")
        wait(self.window.settled)
        type_into(board.layers.card.fields["thickness"].edit, "300")  # type: ignore[attr-defined]
        wait(self.window.settled)
        during, strip = self.demand(), self.window.trying.text.text()
        ghosts = len(self.window.margins.bars.ghosts)
        self.kept("tried")
        type_into(self.window.trying.name, "Thicker wall")
        click(self.window.trying.keep_button)
        self.settle()
        return {
            "demand": [before, during, self.demand()],
            "strip": strip,
            "ghosts": ghosts,
            "upgrades": [u.name for u in self.home.upgrades],
        }

    def taken(self) -> list[str]:
        """Two upgrades at hand put on the option as well."""
        self.board.work.lists.show_widget(self.board.hand)
        for _ in range(2):
            self.board.hand.setFocus()
            self.board.hand.setCurrentCell(0, 0)
            QTest.keyClick(self.board.hand, Qt.Key.Key_Return)
            self.settle()
        return [u.name for u in self.home.upgrades]

    def seen(self) -> dict[str, object]:
        """Base and option side by side, and every board with the option."""
        end = self.board.comparing.ladders[self.board.front].end.figures["heating_demand"]
        click(self.board.see_button)
        self.settle()
        during = self.demand()
        self.kept("seen")
        click(self.window.trying.up_button)
        self.settle()
        return {"ladder": end, "seen": during, "after": self.demand()}

    def moved(self) -> list[list[str]]:
        """The first step moved down the ladder."""
        front = lambda: next(o for o in self.home.options if o.id == self.board.front)  # noqa: E731
        before = list(front().upgrades)
        self.board.work.lists.show_widget(self.board.steps)
        self.board.steps.setCurrentCell(0, 0)
        self.board.select(before[0])
        QTest.qWait(50)
        self.board._shift(1)
        self.settle()
        self.kept("ladder")
        return [before, list(front().upgrades)]

    def answered(self) -> dict[str, object]:
        """A lever's answer to the home as it is taken as an upgrade."""
        part = self.board.closing
        part.on.setCurrentIndex(part.on.findText("as it is"))
        self.board.work.lists.show_widget(part.gap)
        part.target.setCurrentIndex(next(n for n in range(part.target.count()) if "Airtightness" in part.target.itemText(n)))
        part.look()
        wait(lambda: self.window.settled() and part.answers is not None, 120)
        part.gap.setFocus()
        part.gap.setCurrentCell(0, 0)
        self.kept("gap")
        click(part.gap_button)
        self.settle()
        made = self.home.upgrades[-1]
        return {"name": made.name, "value": made.changes[-1]["value"]["value"]}  # type: ignore[index,call-overload]

    def gone(self) -> dict[str, object]:
        """The layer the first upgrade changes is removed: a question, which taking the upgrade away answers."""
        board = step(self.window, "build-ups")
        assert isinstance(board, BuildUpsBoard)
        self.window.go("build-ups", "wall.1", "thickness")
        wait(self.window.settled)
        board.layers.table.remove_selected()
        wait(self.window.settled)
        asked = [q.text for q in self.window.document.assessment.questions if q.step == "options"]  # type: ignore[union-attr]
        step(self.window, "options")
        self.settle()
        self.kept("gone")
        why = [r.why for r in self.board.comparing.ladders[self.board.front].rungs if r.why]
        self.board.in_front(self.board.upgrades)
        self.board.upgrades.table.select(next(u.id for u in self.home.upgrades if u.name == "Thicker wall"))
        self.board.upgrades.table.remove_selected()
        self.settle()
        left = [q.text for q in self.window.document.assessment.questions if q.step == "options"]  # type: ignore[union-attr]
        return {"asked": asked, "why": why, "left": left, "upgrades": [u.name for u in self.home.upgrades]}


def main() -> None:
    app = application()
    start = replace(simple_home(), upgrades=(), options=())
    window = MainWindow(Document(start))
    window.resize(1280, 800)
    window.show()
    activate(window)
    wait(window.settled)
    window.show_step("options")
    d = Person(window)
    d.settle()
    seen: dict[str, object] = {"platform": app.platformName(), "tried": d.tried(), "taken": d.taken(), "seen": d.seen(), "moved": d.moved()}
    seen |= {"answered": d.answered(), "gone": d.gone()}
    print(json.dumps(seen | all_taken_back(window, start)))


if __name__ == "__main__":
    main()
