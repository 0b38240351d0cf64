"""In a real window: a climate picked on the map, a neighbour drawn, the sun dragged, a blind set, margins seen to move, all taken back. What
came of it is printed. Run: with a folder for pictures, or without."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Path as Line
from nuthatch.core.views.openings.sun_drawn import SUN
from nuthatch.desktop.app import application
from nuthatch.desktop.document import Document
from nuthatch.desktop.steps.openings.board import OpeningsBoard
from nuthatch.desktop.steps.site.board import SiteBoard
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, all_taken_back, click, fill, step, wait
from tests.simple_home import simple_home


class Person:
    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.pictures = Path(sys.argv[1]) if len(sys.argv) > 1 else None

    def settle(self) -> None:
        wait(self.window.settled, 120)

    def kept(self, name: str) -> None:
        if self.pictures is not None:
            QTest.qWait(200)
            self.window.grab().save(str(self.pictures / f"{name}.png"))

    def figures(self) -> dict[str, float]:
        a = self.window.document.assessment
        assert a is not None
        return {k: float(a.figures[k].value or 0.0) for k in ("heating_demand", "cooling_demand")}

    def climate(self) -> dict[str, object]:
        """The map zoomed and dragged until the place is in view, clicked, taken."""
        board = step(self.window, "site")
        assert isinstance(board, SiteBoard)
        part, before = board.climates, self.figures()
        click(next(b for b in board.work.drawings.buttons if b.text() == "Map"))
        QTest.qWait(50)
        for _ in range(12):
            if part.map.point_of("shipped:verrin-plain") is not None:
                break
            QTest.keyClick(part.map, Qt.Key.Key_Minus)
        place = part.map.point_of("shipped:verrin-plain")
        assert place is not None
        QTest.mouseClick(part.map, Qt.MouseButton.LeftButton, pos=place.toPoint())
        self.kept("map")
        click(part.card.use_button)
        wait(lambda: self.window.settled() and self.window.document.home.site.climate.name == "Verrin Plain", 60)
        return {"before": before, "after": self.figures(), "away": part.card.facts.text()}

    def neighbour(self) -> dict[str, object]:
        """Three clicks on the plan; length and depth are those of the clicks."""
        board = step(self.window, "site")
        assert isinstance(board, SiteBoard)
        part, before = board.surroundings, self.figures()
        click(next(b for b in board.work.drawings.buttons if b.text() == "Place"))
        part.plan.setFocus()
        QTest.keyClick(part.plan, Qt.Key.Key_B)
        for east, north in ((-6.0, -9.0), (6.0, -9.0), (6.0, -15.0)):
            at = part.plan.on_screen((east, north)).toPoint()
            QTest.mouseMove(part.plan, at)
            QApplication.processEvents()
            QTest.mouseClick(part.plan, Qt.MouseButton.LeftButton, pos=at)
        self.settle()
        self.kept("neighbour")
        (made,) = self.window.document.home.site.objects
        return {"before": before, "after": self.figures(), "length": made.length.value, "depth": made.depth.value}

    def sun(self) -> dict[str, object]:
        """The sun dragged along its arc: reading and shadow follow."""
        board = step(self.window, "openings")
        assert isinstance(board, OpeningsBoard)
        self.window.go("openings", "south", "width")
        click(next(b for b in board.work.drawings.buttons if b.text() == "Sun"))
        self.settle()
        part = board.sunny

        def dark() -> set[tuple[tuple[float, float], ...]]:
            assert part.solid.sketch is not None
            return {i.points for i in part.solid.sketch.items if isinstance(i, Line) and i.fill == "stone" and not i.stroke}

        said, shade = [part.reading.text()], [dark()]
        place = part.seen.point_of_handle(SUN)
        assert place is not None
        at = place.toPoint()
        QTest.mousePress(part.seen, Qt.MouseButton.LeftButton, pos=at)
        for dx in (-20, -50, -90):
            QTest.mouseMove(part.seen, at + QPoint(dx, 0))
            QApplication.processEvents()
        QTest.mouseRelease(part.seen, Qt.MouseButton.LeftButton, pos=at + QPoint(-90, 0))
        said.append(part.reading.text())
        shade.append(dark())
        self.kept("sun")
        return {"said": said, "moved": shade[0] != shade[1] and bool(shade[0])}

    def blind(self) -> dict[str, object]:
        board = step(self.window, "openings")
        assert isinstance(board, OpeningsBoard)
        before = self.figures()
        self.window.go("openings", "south", "blind")
        self.settle()
        fill(board.rows.card, blind="outside")
        self.settle()
        self.kept("blind")
        return {"before": before, "after": self.figures()}


def main() -> None:
    app = application()
    home = simple_home()
    free = tuple(replace(o, shade_winter=None, shade_summer=None) for o in home.openings)
    start: Home = replace(home, openings=free)
    window = MainWindow(Document(start))
    window.resize(1380, 860)
    window.show()
    activate(window)
    wait(window.settled)
    d = Person(window)
    seen: dict[str, object] = {"platform": app.platformName()}
    seen |= {"climate": d.climate(), "neighbour": d.neighbour(), "sun": d.sun(), "blind": d.blind()}
    print(json.dumps(seen | all_taken_back(window, start)))


if __name__ == "__main__":
    main()
