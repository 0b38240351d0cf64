"""From an empty home to an L-shaped house of two storeys with a cross gable, a garage, four rooms a storey and eight windows, drawn in a
real window by mouse and keyboard; saved, and what came of it printed. Run: with a file name."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.library import new_home
from nuthatch.core.model.part import replace
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import SOLID
from nuthatch.desktop.app import application, finish
from nuthatch.desktop.document import Document
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, fill, wait
from tests.simple_home import simple_home

K = Qt.Key


class Drawer:
    """A person at the drawing table."""

    def __init__(self, window: MainWindow) -> None:
        self.window, self.board = window, window.board("shape")
        self.part = self.board.plans
        self.table = self.part.table
        self.view = self.table.plan

    def settle(self) -> None:
        wait(self.window.settled)

    def press(self, words: str) -> None:
        """A button of the table, by its words."""
        made = next(b for b in self.table.findChildren(QPushButton) if words in (b.text(), b.toolTip()) and b.isVisible())
        QTest.mouseClick(made, Qt.MouseButton.LeftButton)
        QApplication.processEvents()

    def keys(self, *steps: str | Qt.Key) -> None:
        for step in steps:
            QTest.keyClicks(self.view, step) if isinstance(step, str) else QTest.keyClick(self.view, step)
            QApplication.processEvents()

    def at(self, point: Point2) -> QPoint:
        p = self.view.on_screen(point)
        return QPoint(round(p.x()), round(p.y()))

    def click(self, *points: Point2) -> None:
        for point in points:
            self.view.fit()
            self.view.zoom(4.0, self.view.on_screen(point))
            QTest.mouseMove(self.view, self.at(point))
            QTest.mouseClick(self.view, Qt.MouseButton.LeftButton, pos=self.at(point))
            QApplication.processEvents()

    def menu(self, words: str) -> None:
        """An entry of the table's menu, triggered as its key would."""
        menu = self.table.more.menu()
        assert menu is not None
        next(a for a in menu.actions() if a.text() == words).trigger()
        QApplication.processEvents()

    def storey(self, name: str) -> None:
        self.press(name)


def rooms(d: Drawer) -> None:
    """Three inner walls by mouse, ends snapped to the grid; names typed where the pointer clicks."""
    d.press("Inner wall")
    for a, b in (((5, 0.3), (5, 5.65)), ((0.3, 5.65), (9.7, 5.65)), ((0.3, 8), (5.7, 8))):
        d.click(a, b)
    d.keys(K.Key_Escape)
    for name, at in (("Living", (2, 2)), ("Kitchen", (8, 2)), ("Study", (2, 6.8)), ("Stairs", (2, 8.9))):
        d.press("Name room")
        d.click(at)
        field = d.part.inspector.card.fields["name"].inner
        field.selectAll()
        QTest.keyClicks(field, name)
        QTest.keyClick(field, K.Key_Return)
        QApplication.processEvents()
        if name == "Stairs":
            fill(d.part.inspector.card, use="stairs")
    d.settle()


def windows(d: Drawer, where: list[tuple[str, str, str]]) -> None:
    """Windows added to walls selected in the plan, their size and place typed on the board of openings."""
    for wall, position, sill in where:
        d.window.show_step("shape")
        d.part.select(wall)
        QTest.mouseClick(d.part.inspector.window_button, Qt.MouseButton.LeftButton)
        d.settle()
        card = d.window.board("openings").rows.card
        fill(card, type="Window", width="1.2", height="1.2", position=position, sill=sill, count="1")
    d.window.show_step("shape")


def begin(window: MainWindow) -> Drawer:
    """Build-ups and a window type are the office's; the shape is begun from nothing."""
    given = simple_home()
    for field in ("buildups", "opening_types", "site", "air"):
        window.document.desk.apply(SetValue(part="home", field=field, value=getattr(given, field)))
    window.show_step("shape")
    wait(window.settled)
    d = Drawer(window)
    QTest.mouseClick(d.board.to_plans, Qt.MouseButton.LeftButton)
    d.settle()
    fill(d.part.inspector.card, wall_buildup="Wall", inner_buildup="Wall", earth_buildup="Wall", ground_buildup="Slab", ceiling_buildup="Roof",
         roof_buildup="Roof", loft_roof="Roof", loft_gable="Wall", ground="-0.2")  # fmt: skip
    return d


def draw(d: Drawer) -> None:
    """The house: ground storey by typed lengths, the garage by mouse, copied up, roofs, rooms, windows."""
    d.press("Outline")
    d.keys(K.Key_Return, "10", K.Key_Right, "6", K.Key_Up, "4", K.Key_Left, "4", K.Key_Up, "6", K.Key_Left, K.Key_Return)
    d.settle()
    d.part.select(d.part.plans.storeys[0].id)
    fill(d.part.inspector.card, height="3")
    rooms(d)
    d.press("More")
    QApplication.processEvents()
    menu = d.table.more.menu()
    assert menu is not None
    menu.hide()
    d.menu("Copy this storey up")
    d.settle()
    d.storey("Ground floor")
    d.menu("Unheated space: draw its outline")
    d.click((10, 0), (14, 0), (14, 5), (10, 5))
    d.keys(K.Key_Return)
    d.settle()
    fill(
        d.part.inspector.card, name="Garage", height="2.5", wall_buildup="Wall", top_buildup="Roof", floor_buildup="Slab", air_change="1.5"
    )
    upper = d.part.plans.storeys[1].name
    d.storey(upper)
    for a, b, ridge in (((0, 0), (10, 6), "0"), ((0, 3), (6, 10), "90")):
        d.menu("Part of the roof: draw its rectangle")
        d.click(a, b)
        d.settle()
        fill(d.part.inspector.card, pitch="45", ridge=ridge)
    d.storey("Ground floor")
    ids = [[s.id for s in storey.outlines[0].sides] for storey in d.part.plans.storeys]
    low, up = ids
    places = [(low[0], "1", "0.9"), (low[0], "6", "0.9"), (low[5], "2", "0.9"), (low[4], "1", "0.9"), (low[2], "1", "0.9"), (up[0], "1", "3.9"),
              (up[1], "2", "3.9"), (up[4], "3", "3.9")]  # fmt: skip
    windows(d, places)
    d.settle()


def main() -> None:
    app = application()
    window = MainWindow(Document(replace(new_home(), name="Drawn by hand")))
    window.resize(1280, 800)
    window.show()
    activate(window)
    wait(window.settled)
    d = begin(window)
    draw(d)
    a = window.document.assessment
    assert a is not None and a[BUILT] is not None
    path = Path(sys.argv[1])
    window.document.save(path)
    if len(sys.argv) > 2:
        window.grab().save(sys.argv[2])
    steps = 0
    while window.document.session.undo_label is not None:
        window.undo()
        steps += 1
    empty = window.document.home.shape.plans is None
    found = {
        "platform": app.platformName(),
        "steps": steps,
        "empty": empty,
        "areas": {k: round(v, 6) for k, v in a[SOLID].areas.items()},
        "volumes": {k: round(v, 6) for k, v in a[BUILT].volumes.items()},
        "rooms": {f"{r.storey}/{r.name}": round(r.measure.area, 6) for r in a[BUILT].rooms},
        "openings": [o.face for o in a.home.openings],
        "questions": [q.text for q in a.questions if q.step == "shape"],
    }
    window.document.session.saved()
    finish(window)
    print(json.dumps(found))


if __name__ == "__main__":
    main()
