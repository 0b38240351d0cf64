"""From nothing to an L-shaped house of two storeys with a garage, four rooms a storey and eight windows: in at most 45 actions."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from nuthatch.core.library import new_home
from nuthatch.core.model.home import Home
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import GAPS, SOLID
from nuthatch.desktop.steps.shape.plans_part import PlansPart
from nuthatch.desktop.window import MainWindow

K = Qt.Key
MOST = 45


class Person:
    """Somebody at the drawing table; every click, key, typed length and chosen menu entry (two: opened, chosen) is counted."""

    def __init__(self, window: MainWindow, qtbot: QtBot) -> None:
        self.window, self.qtbot, self.actions = window, qtbot, 0

    @property
    def part(self) -> PlansPart:
        part = self.window.board("shape").plans  # type: ignore[attr-defined]
        assert isinstance(part, PlansPart)
        return part

    def settle(self) -> None:
        self.qtbot.waitUntil(self.window.settled)

    def button(self, made: QPushButton) -> None:
        QTest.mouseClick(made, Qt.MouseButton.LeftButton)
        self.actions += 1
        self.settle()

    def key(self, key: Qt.Key, typed: str = "") -> None:
        """A key, after a length where one is typed."""
        QTest.keyClicks(self.part.table.plan, typed)
        QTest.keyClick(self.part.table.plan, key)
        self.actions += 1
        self.settle()

    def click(self, *points: Point2) -> None:
        view = self.part.table.plan
        for point in points:
            view.fit()
            view.zoom(4.0, view.on_screen(point))
            QTest.mouseMove(view, view.on_screen(point).toPoint())
            QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.on_screen(point).toPoint())
            self.actions += 1
            self.settle()
        view.fit()

    def menu(self, words: str) -> None:
        menu = self.part.table.more.menu()
        assert menu is not None
        next(a for a in menu.actions() if a.text() == words).trigger()
        self.actions += 2
        self.settle()


def test_a_house_in_few_actions(open_home: Callable[[Home], MainWindow], qtbot: QtBot) -> None:
    w = open_home(new_home())
    w.resize(1280, 800)
    w.show_step("shape")
    qtbot.waitUntil(w.settled)
    person = Person(w, qtbot)
    person.button(w.board("shape").to_plans)
    qtbot.wait(50)
    person.key(K.Key_O)
    person.key(K.Key_Return)
    for length, way in (("10", K.Key_Right), ("6", K.Key_Up), ("4", K.Key_Left), ("4", K.Key_Up), ("6", K.Key_Left)):
        person.key(way, length)
    person.key(K.Key_Return)
    person.menu("Unheated space: draw its outline")
    person.click((10, 0), (14, 0), (14, 5), (10, 5))
    person.key(K.Key_Return)
    person.key(K.Key_I)
    person.click((5, 0), (5, 6), (0, 6), (6, 6), (0, 8), (6, 8))
    person.key(K.Key_Escape)
    person.menu("Copy this storey up")
    person.menu("Roof over this storey")
    person.key(K.Key_W)
    person.click((2, 0.02), (8, 0.02), (0.02, 3), (3, 9.98))
    person.button(next(b for b in person.part.table.storeys if b.toolTip() == "Ground floor"))
    person.click((2, 0.02), (8, 0.02), (0.02, 3), (3, 9.98))
    a = w.document.assessment
    assert person.actions <= MOST, person.actions
    built = a[BUILT]
    assert len(built.rooms) == 8 and sorted({r.storey for r in built.rooms}) == sorted(s.id for s in a.home.shape.plans.storeys)
    assert len(a.home.openings) == 8 and {o.face.partition(".")[0] for o in a.home.openings} == {"outline-1", "outline-3"}
    assert built.volumes["home"] == pytest.approx(2 * 84 * 2.8) and sum(
        v for k, v in built.volumes.items() if k.startswith("Unheated")
    ) == pytest.approx(20 * 2.8)
    assert a[SOLID].areas["outline-1.floor"] == 84 and not a[GAPS] and a.home.shape.plans.roofs
    assert not [q.text for q in a.questions if "past the edge" in q.text or "not closed" in q.text]
