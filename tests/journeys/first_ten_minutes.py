"""From the first start, nothing known, to a verdict of a detached house in a real window, counting what a person does, and on to the
certifier's dossier of it as a file; then a layer's edge and a window are dragged, and a working is followed three levels down to its field.
Prints what came of it. Run: with a folder."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QWidget

from nuthatch.core.library import new_home
from nuthatch.core.model.home import find
from nuthatch.core.results.figure import Entered, Known
from nuthatch.desktop.app import application, finish
from nuthatch.desktop.document import Document
from nuthatch.desktop.weights import IDLE, Weighing
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, answer_with, wait


class Hand:
    """A person at the window: every press, every word typed and every drag is one action."""

    def __init__(self) -> None:
        self.actions = 0

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        self.actions += 1
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=at if at is not None else widget.rect().center())
        QApplication.processEvents()

    def type(self, text: str) -> None:
        """Type into what has the focus and press Enter: two actions."""
        self.actions += 2
        target = QApplication.focusWidget()
        assert target is not None, text
        QTest.keyClicks(target, text)
        QTest.keyClick(target, Qt.Key.Key_Return)
        QApplication.processEvents()

    def key(self, key: Qt.Key) -> None:
        self.actions += 1
        target = QApplication.focusWidget()
        assert target is not None
        QTest.keyClick(target, key)
        QApplication.processEvents()

    def drag(self, view: SketchView, start: QPointF, by: QPointF) -> None:
        """Press, move in steps, let go: one action."""
        self.actions += 1
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for n in range(1, 9):
            QTest.mouseMove(view, (start + by * n / 8).toPoint())
            QApplication.processEvents()
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=(start + by).toPoint())
        QApplication.processEvents()


def first_verdict(w: MainWindow, hand: Hand) -> dict[str, object]:
    """The register's empty page, a starter home, then whatever “next” asks, and the home's own sizes."""
    w.go("homes")
    page = w.homes
    assert page is not None
    wait(lambda: page.settled and page.empty.isVisible())
    hand.click(next(b for b in page.empty.findChildren(QWidget) if b.accessibleName().startswith("Empty, from a starter")))
    beginning = w.beginning
    assert beginning is not None and beginning.isVisible()
    hand.click(next(c.start for c in beginning.cards if c.starter.key == "detached-new"))
    wait(w.settled)
    asked = []
    while w.change_line.next.isVisible() and len(asked) < 10:
        asked.append(w.change_line.next.accessibleName())
        hand.click(w.change_line.next)
        if "climate" in asked[-1]:
            hand.key(Qt.Key.Key_Return)  # the first of the library
            wait(lambda: w.document.climate is not None)
        else:
            assert isinstance(QApplication.focusWidget(), QLineEdit), asked[-1]
            hand.type("3")
        wait(w.settled)
    hand.click(w.route, w.route.point_of("shape").toPoint())
    board = w.board("shape")
    for name, text in (("length", "9.4 m"), ("depth", "28 ft"), ("storey_height", "2,7"), ("front_azimuth", "165")):
        hand.click(board.form_card.fields[name].edit)
        board.form_card.fields[name].edit.selectAll()
        hand.type(text)
    wait(w.settled)
    a = w.document.assessment
    assert a is not None
    known = {way.key: way.value for v in a.verdicts for way in v.ways}
    return {"asked": asked, "actions": hand.actions, "known": known, "questions": len(a.questions), "margins": len(w.margins.bars.rows)}


def dossier_written(w: MainWindow, hand: Hand, path: Path) -> dict[str, object]:
    """The pages as they are seen, then written: the step, the button, the name."""
    hand.click(w.route, w.route.point_of("dossier").toPoint())
    board = w.board("dossier")
    wait(lambda: board.reader.pages > 1, 180)
    seen = board.reader.pages
    answer_with(path)
    hand.click(board.write_button)
    hand.actions += 2  # the name and Enter, in the dialog
    wait(lambda: path.exists() and board.write_button.isEnabled(), 180)
    activate(w)  # the dialog was in front, and there is no window manager
    return {"actions": hand.actions, "pages": seen, "chapters": len(w.document.home.dossier.chapters)}


def drawings_worked_on(w: MainWindow, hand: Hand) -> dict[str, object]:
    """A layer's edge dragged, a window moved, each one step of undo."""
    seen: dict[str, object] = {}
    w.show_step("build-ups")
    board = w.board("build-ups")
    wait(w.settled)
    board.in_front(board.layers)
    layer = find(w.document.home, "wall").layers[2]
    before, steps = layer.thickness.value, len(w.document.session.unsaved)
    demand = w.document.assessment.figures["heating_demand"].value
    point = board.drawing.point_of_handle(layer.id)
    assert point is not None
    hand.drag(board.drawing, point, QPointF(60, 0))
    wait(w.settled)
    seen["layer"] = (before, find(w.document.home, layer.id).thickness.value, layer.id == board.layers.table.current_id())
    seen["demand"] = (demand, w.document.assessment.figures["heating_demand"].value)
    seen["layer steps"] = len(w.document.session.unsaved) - steps
    w.show_step("openings")
    board = w.board("openings")
    wait(w.settled)
    opening = find(w.document.home, "w-02")
    old = (opening.position.value, opening.sill.value)
    point = board.facade.point_of_handle("w-02")
    assert point is not None
    steps = len(w.document.session.unsaved)
    hand.drag(board.facade, point, QPointF(34, -20))
    wait(w.settled)
    opening = find(w.document.home, "w-02")
    seen["window"] = (old, (opening.position.value, opening.sill.value))
    seen["window steps"] = len(w.document.session.unsaved) - steps
    w.undo()
    opening = find(w.document.home, "w-02")
    seen["undone"] = (opening.position.value, opening.sill.value)
    return seen


def working_followed(w: MainWindow, hand: Hand) -> dict[str, object]:
    """From a margin three levels down, then to the field of a value."""
    bars, view = w.margins.bars, w.center.working
    wait(w.settled)
    row = next(i for i, (_, way) in enumerate(bars.rows) if way.key == "heating_demand")
    hand.click(bars, QPoint(30, bars.top_of(row) + 10))

    def open_by_name(wanted: str) -> None:
        assert isinstance(view.trail[-1], Known), view.trail[-1]
        items = [item for _, item in view.trail[-1].rows()]
        index = next(n for n, item in enumerate(items) if item.label.startswith(wanted))
        point = view.inputs.point_of(f"input:{index}")
        assert point is not None
        hand.click(view.inputs, point.toPoint())

    for wanted in ("Heating by month", "Losses", "Loss, fresh air"):
        open_by_name(wanted)
    trail = [n.label for n in view.trail]
    for wanted in ("Ventilation loss of ", "Effective heat recovery"):
        open_by_name(wanted)
    items = [item for _, item in view.trail[-1].rows()]
    leaf = next(n for n, item in enumerate(items) if isinstance(item, Entered) and item.field == "recovery")
    name = items[leaf].field
    view.open_input(leaf)
    focus = QApplication.focusWidget()
    return {"trail": trail, "formula": view.formula.accessibleDescription(), "step": w.step, "field": name, "focus": focus.accessibleName()}


def main() -> None:
    app = application()
    assert app is not None
    Weighing.idle = IDLE  # as for a person
    w = MainWindow(Document(new_home()))
    w.show()
    wait(w.settled)
    activate(w)
    hand = Hand()
    seen: dict[str, object] = {"platform": QApplication.platformName()}
    seen["first"] = first_verdict(w, hand)
    seen["dossier"] = dossier_written(w, hand, Path(sys.argv[1]) / "first.pdf")
    seen["drawn"] = drawings_worked_on(w, hand)
    seen["working"] = working_followed(w, hand)
    w.document.session.saved()
    finish(w)
    print(json.dumps(seen))


if __name__ == "__main__":
    main()
    sys.stdout.flush()
