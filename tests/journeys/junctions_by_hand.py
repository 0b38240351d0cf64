"""In a real window: an ambiguous edge is answered where it is, a detail drawn, an insulation's side dragged and taken back, a wall split.
What came of it is printed. Run: with a folder; with a second name, pictures are kept."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import SOLVED
from nuthatch.core.junctions.stages import FOUND
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.desktop.app import application, finish
from nuthatch.desktop.document import Document
from nuthatch.desktop.steps.junctions.board import JunctionsBoard
from nuthatch.desktop.steps.shape.board import ShapeBoard
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, click, step, wait
from tests.plan_home import plan_home


def flat() -> Home:
    """An L of two storeys under a flat roof, whose edge the rules cannot tell."""
    home = replace(plan_home(), junctions=(), junctions_from="shape", junction_tier="typical")
    assert home.shape.plans is not None
    return replace(home, shape=replace(home.shape, plans=replace(home.shape.plans, roofs=())))


class Person:
    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.pictures = Path(sys.argv[2]) if len(sys.argv) > 2 else None

    @property
    def board(self) -> JunctionsBoard:
        made = self.window.board("junctions")
        assert isinstance(made, JunctionsBoard)
        return made

    def settle(self) -> None:
        wait(lambda: self.window.settled() and self.board.home is self.window.document.home, 60)

    def kept(self, name: str) -> None:
        if self.pictures is not None:
            self.window.grab().save(str(self.pictures / f"{name}.png"))

    def loss(self) -> float:
        a = self.window.document.assessment
        assert a is not None
        return float(a.figures["transmission_loss_coefficient"].value)  # type: ignore[arg-type]

    def solved(self) -> tuple[float, float]:
        a = self.window.document.assessment
        assert a is not None
        of = next(iter(a.all_of(SOLVED).values()))
        assert isinstance(of, Solved) and of.psi_external is not None and of.f_rsi is not None
        return of.psi_external, of.f_rsi

    def answer(self) -> dict[str, object]:
        a, before = self.window.document.assessment, self.loss()
        assert a is not None
        asked = next(f for f in a[FOUND] if len(f.answers) > 1)
        at = self.board.solid.point_of(f"answer:flat roof edge:{asked.key}")
        assert at is not None
        self.kept("asked")
        QTest.mouseClick(self.board.solid, Qt.MouseButton.LeftButton, pos=at.toPoint())
        self.settle()
        return {"families": [j.family for j in self.window.document.home.junctions], "less": before - self.loss(), "outer": asked.outer}

    def detail(self) -> None:
        click(self.board.take_button)
        self.settle()
        row = next(r for r in self.board._rows if r.part is not None and r.part.family == "outer corner")
        self.board.all.chosen.emit(row.id)
        QApplication.processEvents()
        click(self.board.facts.draw)
        self.settle()
        assert self.board.work.drawings.current is self.board.details.sheet

    def drag(self) -> dict[str, object]:
        details = self.board.details
        view, detail = details.view, details.detail
        assert detail is not None
        block = min(
            (n for n, b in enumerate(detail.blocks) if b.conductivity is not None),
            key=lambda n: detail.blocks[n].conductivity.value,  # type: ignore[union-attr]
        )
        at = view.point_of(f"block.{block}")
        assert at is not None
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=at.toPoint())
        self.settle()
        assert details.block is not None and details.block.id == detail.blocks[block].id and view.sketch is not None
        before = (*self.solved(), self.loss())
        handle = max(view.sketch.handles, key=lambda h: h.pulls[0].per[1])  # the side that looks down, outward here
        start = view.point_of_handle(handle.id)
        assert start is not None
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for down in (10, 20, 30):
            QTest.mouseMove(view, (start + QPointF(0, down)).toPoint())
            wait(lambda: not details._jobs.running)
        rough = details.says.text()
        self.kept("dragged")
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=(start + QPointF(0, 30)).toPoint())
        self.settle()
        after = (*self.solved(), self.loss())
        self.kept("let-go")
        home = self.window.document.home
        QTest.keyClick(view, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.settle()
        undone = (*self.solved(), self.loss())
        return {"before": before, "after": after, "undone": undone, "rough": rough, "changed": home is not self.window.document.home}

    def split(self) -> dict[str, object]:
        def decided() -> list[tuple[str, str, str, str]]:
            return [(j.name, j.family, j.tier, j.detail) for j in self.window.document.home.junctions]

        before, loss = decided(), self.loss()
        places = sum(len(r.found.places) for r in self.board._rows if r.found is not None)
        shape = step(self.window, "shape")
        assert isinstance(shape, ShapeBoard) and shape.plans is not None
        assert self.window.document.home.shape.plans is not None
        shape.plans.select(self.window.document.home.shape.plans.storeys[0].outlines[0].sides[0].id)
        click(shape.plans.inspector.split_button)
        wait(lambda: self.window.settled() and shape.home is self.window.document.home)
        step(self.window, "junctions")
        self.settle()
        now = sum(len(r.found.places) for r in self.board._rows if r.found is not None)
        self.kept("split")
        return {
            "same": decided() == before,
            "loss": self.loss() - loss,
            "gone": [r.id for r in self.board._rows if r.found is None],
            "more": now - places,
        }


def main() -> None:
    app = application()
    window = MainWindow(Document(flat()))
    window.resize(1280, 800)
    window.show()
    activate(window)
    wait(window.settled)
    window.show_step("junctions")
    d = Person(window)
    d.settle()
    seen: dict[str, object] = {"platform": app.platformName(), "answered": d.answer()}
    d.detail()
    seen |= {"dragged": d.drag(), "split": d.split()}
    window.document.session.saved()
    finish(window)
    print(json.dumps(seen))


if __name__ == "__main__":
    main()
