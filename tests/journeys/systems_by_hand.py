"""In a real window, from an empty home: an outline drawn, people, a day pattern dragged, a store typed from a sheet in Btu, a pipe drawn,
collectors, a heat pump by three points, modules; all taken back. What came of it is printed."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.energy.use_stages import OWN, PERFORMS
from nuthatch.core.library import new_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.views.day import pattern_frame
from nuthatch.core.views.heat_power import season
from nuthatch.desktop.app import application
from nuthatch.desktop.document import Document
from nuthatch.desktop.steps.heat_power.board import HeatPowerBoard
from nuthatch.desktop.steps.hot_water.board import HotWaterBoard
from nuthatch.desktop.steps.household.board import HouseholdBoard
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, all_taken_back, click, fill, step, wait
from tests.journeys.draw_a_home import K, begin


class Person:
    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.pictures = Path(sys.argv[1]) if len(sys.argv) > 1 else None

    @property
    def home(self) -> Home:
        return self.window.document.home

    def settle(self) -> None:
        wait(self.window.settled, 120)

    def kept(self, name: str) -> None:
        if self.pictures is not None:
            QTest.qWait(200)
            self.window.grab().save(str(self.pictures / f"{name}.png"))

    def figure(self, key: str) -> float | None:
        a = self.window.document.assessment
        assert a is not None
        value = a.figures[key].value
        return None if value is None else float(value)

    def front(self, board: object, words: str) -> None:
        """A drawing or list brought in front by its tab."""
        work = board.work  # type: ignore[attr-defined]
        click(next(b for b in (*work.drawings.buttons, *work.lists.buttons) if b.text() == words))
        QTest.qWait(30)

    def people(self) -> dict[str, object]:
        """People typed, gains itemised, what is usual put in; who is at home by the bars."""
        board = step(self.window, "household")
        assert isinstance(board, HouseholdBoard)
        fill(board.card, people="4", gains="itemised", person_heat="80")
        board.sets.usual()
        self.settle()
        before = self.figure("internal_gains")
        self.front(board, "Day patterns")
        click(board.patterns.patterns.add_button)
        self.settle()
        fill(board.card, presence=self.home.patterns[0].name)
        self.settle()
        self.front(board, "Day pattern")
        view, steps = board.patterns.bars, len(self.window.document.session.past)
        frame = pattern_frame((view.sketch.width, view.sketch.height))  # type: ignore[union-attr]
        scale, dx, dy = view._place()

        def at(hour: int, share: float) -> QPoint:
            x, y = frame.left + (hour + 0.5) / 24 * frame.wide, frame.top + (1 - share) * frame.high
            return QPointF(dx + x * scale, dy + y * scale).toPoint()

        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at(8, 0.0))
        for hour in range(9, 17):
            QTest.mouseMove(view, at(hour, 0.0))
            QApplication.processEvents()
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at(16, 0.0))
        self.settle()
        self.kept("pattern")
        hours = self.home.patterns[0].days[0].hours
        return {
            "before": before,
            "after": self.figure("internal_gains"),
            "hours": hours[8:17],
            "one": len(self.window.document.session.past) - steps,
        }

    def store(self) -> dict[str, object]:
        board = step(self.window, "hot-water")
        assert isinstance(board, HotWaterBoard)
        fill(board.card, litres="25", temperature="60")
        self.front(board, "Stores")
        click(board.stores.add_button)
        self.settle()
        fill(board.stores.card, loss="7.58 Btu/(h·°F)", temperature="60")
        self.settle()
        (made,) = self.home.water.stores
        return {"loss": made.loss.value, "demand": self.figure("hot_water_demand")}

    def pipe(self) -> dict[str, object]:
        """P, three corners, Enter."""
        board = step(self.window, "hot-water")
        assert isinstance(board, HotWaterBoard)
        before = self.figure("hot_water_demand")
        self.front(board, "Pipes")
        view = board.pipes.plan
        wait(lambda: view.isVisible() and view.frame is not None)
        view.setFocus()
        QTest.keyClick(view, Qt.Key.Key_P)
        for x, y in ((1.0, 1.0), (4.0, 1.0), (4.0, 3.0)):
            at = view.on_screen((x, y)).toPoint()
            QTest.mouseMove(view, at)
            QApplication.processEvents()
            QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=at)
        QTest.keyClick(view, Qt.Key.Key_Return)
        self.settle()
        self.kept("pipe")
        (made,) = self.home.water.runs
        return {"corners": [(c.x.value, c.y.value) for c in made.corners], "before": before, "after": self.figure("hot_water_demand")}

    def sun(self) -> dict[str, object]:
        board = step(self.window, "hot-water")
        assert isinstance(board, HotWaterBoard)
        self.front(board, "Sun")
        click(board.solar.add_button)
        self.settle()
        self.kept("sun")
        return {"says": board.sub.text(), "area": self.home.water.solar[0].area.value}

    def heat_pump(self) -> dict[str, object]:
        """A source, its kind, three points pasted from a sheet; modules on the roof that count."""
        board = step(self.window, "heat-power")
        assert isinstance(board, HeatPowerBoard)
        before = self.figure("primary_energy")
        self.front(board, "Sources")
        click(board.sources.add_button)
        self.settle()
        fill(board.sources.card, kind="heat pump", flow_design="38", cooling_performance="300", cooling_share="100")
        self.front(board, "Data sheet")
        QGuiApplication.clipboard().setText("7\t35\t4,6\n2\t35\t3,6\n-7\t35\t2,9\n")  # type: ignore[union-attr]
        board.sheet.table.setFocus()
        QTest.keyClick(board.sheet.table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.settle()
        a = self.window.document.assessment
        assert a is not None
        source = self.home.sources[0]
        after = self.figure("primary_energy")
        self.front(board, "Modules")
        click(board.modules.add_button)
        self.settle()
        fill(board.own, counted="counted")
        self.settle()
        self.front(board, "The way")
        self.kept("heat-pump")
        b = self.window.document.assessment
        assert b is not None and b[OWN] is not None
        return {
            "before": before,
            "after": after,
            "points": [(p.source.value, p.flow.value, p.cop.value) for p in source.points],
            "season": season(a[PERFORMS][(source.id, "heating_share")]),
            "own": float(b[OWN].made.value.sum()),  # type: ignore[union-attr]
            "counted": self.figure("primary_energy"),
        }


def drawn(window: MainWindow) -> None:
    """One storey of 10 × 6 m under a flat roof, sides typed; the office's build-ups, site and test of air."""
    at = begin(window)
    at.press("Outline")
    at.keys(K.Key_Return, "10", K.Key_Right, "6", K.Key_Up, "10", K.Key_Left, K.Key_Return)
    at.settle()
    at.part.select(at.part.plans.storeys[0].id)
    fill(at.part.inspector.card, height="3")
    at.settle()


def main() -> None:
    app = application()
    start = replace(new_home(), name="Systems by hand")
    window = MainWindow(Document(start))
    window.resize(1380, 860)
    window.show()
    activate(window)
    wait(window.settled)
    drawn(window)
    d = Person(window)
    seen: dict[str, object] = {"platform": app.platformName()}
    seen |= {"people": d.people(), "store": d.store(), "pipe": d.pipe(), "sun": d.sun(), "pump": d.heat_pump()}
    print(json.dumps(seen | all_taken_back(window, start)))


if __name__ == "__main__":
    main()
