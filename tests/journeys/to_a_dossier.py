"""From a starter home to an issued dossier in a real window: go on as plans, a wall typed, an air test read in, junctions taken, an upgrade
tried and kept, evidence attached, pages read, a revision issued and checked. Counts what a person does, and every question that leads
nowhere. Run: with a folder."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton, QWidget

from nuthatch.core.dossier.links import read
from nuthatch.core.dossier.verify import read_pdf, verify
from nuthatch.core.files.homefile import HomeFile
from nuthatch.core.library import DATA, new_home
from nuthatch.core.questions import values
from nuthatch.desktop.app import application, finish
from nuthatch.desktop.document import Document
from nuthatch.desktop.steps.air.board import AirBoard
from nuthatch.desktop.steps.dossier.board import DossierBoard
from nuthatch.desktop.steps.junctions.board import JunctionsBoard
from nuthatch.desktop.steps.options.board import OptionsBoard
from nuthatch.desktop.steps.shape.board import ShapeBoard
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, answer_with, step, type_into, wait
from tests.journeys.first_ten_minutes import Hand, first_verdict


class Walk:
    """A person on the way, and what they see."""

    def __init__(self, window: MainWindow, folder: Path) -> None:
        self.w, self.folder, self.hand = window, folder, Hand()
        self.seen: dict[str, object] = {"platform": QApplication.platformName()}

    def press(self, widget: QWidget, text: str) -> None:
        """Press the button of a board that is called so: where room is short it shows its icon alone."""
        made = next(b for b in widget.findChildren(QPushButton) if b.accessibleName() == text and b.isVisible())
        self.hand.click(made)

    def drawn(self) -> None:
        """The plain house goes on as plans, and one wall is typed."""
        board = step(self.w, "shape")
        assert isinstance(board, ShapeBoard)
        self.hand.click(board.to_plans)
        wait(self.w.settled, 90)
        plans = self.w.document.home.shape.plans
        assert plans is not None
        self.seen["storeys"] = len(plans.storeys)

    def tested(self) -> None:
        """An air test read in from its file counts."""
        board = step(self.w, "air")
        assert isinstance(board, AirBoard)
        self.hand.click(next(b for b in board.work.drawings.buttons if b.text() == "Tests"))
        answer_with(DATA / "examples" / "weir-cottage-air-test.csv")
        activate(self.w)
        board.work.lists.show_widget(board.tests.tests)
        self.press(board, "An air test as CSV or JSON")
        wait(lambda: bool(self.w.document.home.air_tests), 60)
        wait(self.w.settled, 90)
        if not self.w.document.home.air.test:
            self.press(board, "The n50 of this test counts in the balance")
            wait(self.w.settled, 90)
        self.seen["n50"] = self.w.document.assessment.figures["n50"].value  # type: ignore[union-attr]
        self.seen["counts"] = bool(self.w.document.home.air.test)

    def joined(self) -> None:
        """Every junction of the shape is taken into the list."""
        board = step(self.w, "junctions")
        assert isinstance(board, JunctionsBoard)
        self.hand.click(board.take_button)
        wait(self.w.settled, 90)
        self.seen["junctions"] = len(self.w.document.home.junctions)

    def tried(self) -> None:
        """A better roof tried and kept as an upgrade."""
        board = step(self.w, "options")
        assert isinstance(board, OptionsBoard)
        self.hand.click(board.try_button)
        wait(self.w.settled, 90)
        build = self.w.document.home.buildups[0]
        layer = max((x for x in build.layers if x.thickness is not None), key=lambda x: x.thickness.value)  # type: ignore[union-attr]
        self.w.go("build-ups", layer.id, "thickness")
        wait(self.w.settled, 90)
        assert layer.thickness is not None
        type_into(self.w.board("build-ups").layers.card.fields["thickness"].edit, f"{1000 * layer.thickness.value + 100:.0f}")  # type: ignore[attr-defined]
        self.hand.actions += 2
        wait(self.w.settled, 90)
        type_into(self.w.trying.name, "Thicker")
        self.hand.click(self.w.trying.keep_button)
        wait(lambda: bool(self.w.document.home.upgrades) and self.w.settled(), 120)
        self.seen["upgrades"] = [u.name for u in self.w.document.home.upgrades]

    def dead_ends(self) -> list[str]:
        """Open questions that lead to no field, list or drawing."""
        found = []
        for question in self.w.document.assessment.questions:  # type: ignore[union-attr]
            self.w.go(question.step, question.part, question.field)
            QApplication.processEvents()
            focus = QApplication.focusWidget()
            if self.w.step != question.step or focus is None or not self.w.board(question.step).isAncestorOf(focus):
                found.append(f"{question.step} {question.item}: {question.text}")
        return found

    def issued(self) -> None:
        """Evidence by name, pages read and followed, the revision written, checked, and the home saved."""
        board = step(self.w, "dossier")
        assert isinstance(board, DossierBoard)
        combo = board.chapters.profile
        combo.setFocus()
        while combo.currentText() != "client, short":
            QTest.keyClick(combo, Qt.Key.Key_Down)
            self.hand.actions += 1
        QTest.keyClick(combo, Qt.Key.Key_Return)
        if self.w.document.home.dossier.profile != "client, short":
            combo.activated.emit(combo.currentIndex())
        wait(self.w.settled, 120)
        self.seen["pages"] = board.reader.pages
        sheet = self.folder / f"{self.w.document.home.opening_types[0].name}.pdf"
        sheet.write_bytes(b"%PDF-1.4 invented data sheet")
        board.work.lists.show_widget(board.missing)
        activate(self.w)
        board.missing.attach([sheet])
        self.hand.actions += 1
        wait(self.w.settled, 120)
        self.seen["proven"] = sum(1 for *_, given in values(self.w.document.home) if given.files)
        self.follow(board)
        activate(self.w)
        board = step(self.w, "dossier")  # type: ignore[assignment]
        wait(self.w.settled, 120)
        path = self.folder / "first.pdf"
        answer_with(path)
        self.hand.click(board.issue_button)
        wait(lambda: bool(self.w.document.home.issued), 120)
        wait(self.w.settled, 120)
        found = verify(read_pdf(path), path.name, HomeFile(self.w.document.home, None))
        self.seen["verified"] = [found.standing, [f"{x.what}: {x.says}" for x in found.lines if x.standing != "agrees"]]
        self.seen["standing"] = board.value.text()
        self.w.grab().save(str(self.folder / "issued.png"))

    def follow(self, board: DossierBoard) -> None:
        """A number of a page is clicked: its working opens."""
        view = board.reader.view
        page, link = next((n, x) for n in range(view.pages) for x in view.links(n) if (found := read(x.url)) and found[0] == "result")
        view.go_to_page(page, QPointF(0, max(link.rect.top() - 60, 0)))
        QApplication.processEvents()
        viewport = view.viewport()
        assert viewport is not None
        QTest.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=view.spot_of(page, link).toPoint())
        self.hand.actions += 1
        self.seen["working"] = self.w.center.currentWidget() is self.w.center.working
        self.w.center.close_working()


def walk(folder: Path) -> dict[str, object]:
    """All of it."""
    w = MainWindow(Document(new_home()))
    w.show()
    wait(w.settled)
    activate(w)
    one = Walk(w, folder)
    one.seen["first"] = first_verdict(w, one.hand)["questions"]
    for part in (one.drawn, one.tested, one.joined, one.tried, one.issued):
        part()
        activate(w)
    one.seen["dead ends"] = one.dead_ends()
    one.seen["actions"] = one.hand.actions
    w.document.session.saved()
    finish(w)
    return one.seen


if __name__ == "__main__":
    app = application()
    print(json.dumps(walk(Path(sys.argv[1]))))
